"""The shapes that solids are built of, and where places and rays lie in them, for all blocks of a solid at once.

Places are (…, 3) along front, right and height. Every block is convex and fills its own box; inside it a place has
coordinates from 0 to 1.
"""

from __future__ import annotations

from collections.abc import Sequence, Set
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.vectors import Array, Bools

AXES = {"cylinder": 2, "cone": 2, "hole": 2, "cylinder-front": 0, "hole-front": 0, "cylinder-right": 1, "hole-right": 1}
"""The axis of every round shape."""
SLANTS = {"wedge": 1, "ramp": 2}
"""The axis along which a shape with a slant runs out, besides that to the front."""
CORNERS = np.array(
    [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [0, 0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]], dtype=float
)
"""A to D below, E to H above them."""
LINES = {
    "box": "AB BC CD DA EF FG GH HE AE BF CG DH",
    "wedge": "AB BD DA EF FH HE AE BF DH",
    "ramp": "AB BC CD DA AE DH EH EB HC",
}
"""The straight edges of the shapes that have some, by the letters of their box."""


class Level(NamedTuple):
    """Where a round one is cut across: how far along its axis in the middle, as a share of its length, and by how much
    further at the turns of 0° and of 90°, where the cut is aslant."""

    at: float
    one: float = 0.0
    other: float = 0.0


class Block(NamedTuple):
    """A block: its shape, its nearest lowest corner and its sizes."""

    shape: str
    low: tuple[float, float, float]
    size: tuple[float, float, float]

    @property
    def is_hole(self) -> bool:
        return self.shape.startswith("hole")

    @property
    def axis(self) -> int | None:
        """The axis of a round one."""
        return AXES.get(self.shape)

    @property
    def plane(self) -> tuple[int, int]:
        """The two axes of a round one's ends."""
        assert self.axis is not None
        one, other = (k for k in range(3) if k != self.axis)
        return one, other

    @property
    def volume(self) -> float:
        """Of the whole block."""
        share = {"box": 1.0, "wedge": 0.5, "ramp": 0.5, "cone": np.pi / 12}.get(self.shape, np.pi / 4)
        return float(share * np.prod(self.size))

    def corners(self, letters: str) -> Array:
        """Some corners of its box, (n, 3)."""
        return np.asarray(
            np.array(self.low) + CORNERS[[ord(letter) - ord("A") for letter in letters]] * np.array(self.size)
        )

    def corner(self, letter: str) -> Array:
        """A corner of its box."""
        return np.asarray(np.array(self.low) + CORNERS[ord(letter) - ord("A")] * np.array(self.size))

    def round_at(self, turn: Array, level: Level | float) -> Array:
        """Places round a round one, so far round in degrees, at a level along its axis, from 0 to 1; a cone narrows to
        its apex."""
        (i, j), k = self.plane, self.axis
        assert k is not None
        cut = level if isinstance(level, Level) else Level(level)
        wide = 0.5 * (1 - cut.at) if self.shape == "cone" else 0.5
        c, s = np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))
        at = np.zeros((*np.shape(turn), 3))
        at[..., i] = 0.5 + wide * c
        at[..., j] = 0.5 + wide * s
        at[..., k] = cut.at + cut.one * c + cut.other * s
        return np.asarray(np.array(self.low) + at * np.array(self.size))


class Packed:
    """Blocks side by side in arrays; every answer has an axis of blocks first.

    >>> packed = Packed([Block("box", (0, 0, 0), (2, 2, 2)), Block("cylinder", (2, 0, 0), (2, 2, 2))])
    >>> packed.holds(np.array([[1.0, 1, 1], [3, 1, 1], [3.9, 1.9, 1]])).tolist()
    [[True, False, False], [False, True, False]]
    """

    def __init__(self, blocks: Sequence[Block]) -> None:
        self.low = np.array([block.low for block in blocks], dtype=float).reshape(-1, 3)
        self.size = np.array([block.size for block in blocks], dtype=float).reshape(-1, 3)
        self.holes = np.array([block.is_hole for block in blocks], dtype=bool)
        shapes = [block.shape for block in blocks]
        self._slants = [(_where(shapes, {shape}), axis) for shape, axis in SLANTS.items() if shape in shapes]
        alike = dict.fromkeys((AXES[shape], shape == "cone") for shape in shapes if shape in AXES)
        self._rounds = [
            (_where(shapes, {one for one in AXES if (AXES[one], one == "cone") == (axis, cone)}), _plane(axis), cone)
            for axis, cone in alike
        ]

    @cached_property
    def extent(self) -> tuple[Array, Array]:
        """The lowest and the highest corner of all that is no hole."""
        low, high = self.low[~self.holes], (self.low + self.size)[~self.holes]
        return low.min(axis=0), high.max(axis=0)

    def _own(self, places: Array) -> list[Array]:
        """Coordinates of places within every block, the three apart."""
        lead = (slice(None), *(None,) * (places.ndim - 1))
        return [(places[..., k] - self.low[:, k][lead]) / self.size[:, k][lead] for k in range(3)]

    def holds(self, places: Array) -> Bools:
        """Which places, (…, 3), lie in which block, (blocks, …); a block's skin is its own."""
        x, y, z = q = self._own(places)
        found = (x >= 0) & (x <= 1) & (y >= 0) & (y <= 1) & (z >= 0) & (z <= 1)
        for rows, axis in self._slants:
            found[rows] &= x[rows] + q[axis][rows] <= 1
        for rows, (i, j), narrows in self._rounds:
            wide = 0.5 * (1 - z[rows]) if narrows else 0.5
            found[rows] &= (q[i][rows] - 0.5) ** 2 + (q[j][rows] - 0.5) ** 2 <= wide**2
        return np.asarray(found)

    def spans(self, places: Array, way: Array) -> tuple[Array, Array]:
        """From where to where rays from places along ``way``, (3,) or one for each, run within every block, (blocks, …)
        both; the first is not less than the last where they miss."""
        q = self._own(places)
        lead = (slice(None), *(None,) * (places.ndim - 1))
        v = [way[..., k] / self.size[:, k][lead] for k in range(3)]
        first, last = np.full(q[0].shape, -np.inf), np.full(q[0].shape, np.inf)
        with np.errstate(divide="ignore", invalid="ignore"):
            for at, slope in zip(q, v):
                first, last = _between(at, slope, first, last)
            for rows, axis in self._slants:
                sloping = _cut(q[0][rows] + q[axis][rows] - 1, v[0][rows] + v[axis][rows], first[rows], last[rows])
                first[rows], last[rows] = sloping
            for rows, (i, j), narrows in self._rounds:
                mine = [(q[k][rows], v[k][rows]) for k in (i, j, 2)]
                first[rows], last[rows] = _cut_round(mine, narrows, first[rows], last[rows])
        return first, last

    def planes(self, places: Array, way: Array) -> list[Array]:
        """Where lines from places along ways, (n, 3) both, cross the planes of the flat faces; inf or NaN where they
        run along one."""
        q, v = self._own(places), [way[:, k] / self.size[:, k, None] for k in range(3)]
        with np.errstate(divide="ignore", invalid="ignore"):
            found = [(level - at) / slope for at, slope in zip(q, v) for level in (0.0, 1.0)]
            found += [(1 - q[0][rows] - q[axis][rows]) / (v[0][rows] + v[axis][rows]) for rows, axis in self._slants]
        return found


def _where(shapes: Sequence[str], wanted: Set[str]) -> NDArray[np.int64]:
    return np.flatnonzero([one in wanted for one in shapes])


def _plane(axis: int) -> tuple[int, int]:
    one, other = (k for k in range(3) if k != axis)
    return one, other


def _between(at: Array, slope: Array, first: Array, last: Array) -> tuple[Array, Array]:
    """Spans narrowed to where ``at`` + t · ``slope`` is from 0 to 1."""
    one, other = -at / slope, (1 - at) / slope
    near, far = np.minimum(one, other), np.maximum(one, other)
    level = slope == 0
    if level.any():
        out = (at < 0) | (at > 1)
        near = np.where(level, np.where(out, np.inf, -np.inf), near)
        far = np.where(level, np.where(out, -np.inf, np.inf), far)
    return np.maximum(first, near), np.minimum(last, far)


def _cut(off: Array, slope: Array, first: Array, last: Array) -> tuple[Array, Array]:
    """Spans narrowed to where ``off`` + t · ``slope`` is not above 0."""
    at, beside = -off / slope, np.where(off > 0, np.inf, -np.inf)
    first = np.maximum(first, np.where(slope < 0, at, np.where(slope == 0, beside, -np.inf)))
    return first, np.minimum(last, np.where(slope > 0, at, np.where(slope == 0, -beside, np.inf)))


def _cut_round(own: Sequence[tuple[Array, Array]], narrows: bool, first: Array, last: Array) -> tuple[Array, Array]:
    """Spans narrowed to a round shape: its two coordinates across and its height, each with its slope."""
    (x, u), (y, w), (z, rise) = own
    x, y = x - 0.5, y - 0.5
    wide, slope = (0.5 * (1 - z), -0.5 * rise) if narrows else (np.full(x.shape, 0.5), np.zeros(np.shape(rise)))
    a, b, c = u * u + w * w - slope**2, x * u + y * w - wide * slope, x * x + y * y - wide**2
    a = np.broadcast_to(a, b.shape)
    root = np.sqrt(np.maximum(b * b - a * c, 0.0))
    one, other = (-b - root) / a, (-b + root) / a
    low, high, at = np.minimum(one, other), np.maximum(one, other), -c / (2 * b)
    level, over = np.abs(a) < 1e-300, a > 0
    under = np.broadcast_to(rise, b.shape) < 0
    steep = ~level & ~over  # steeper than the cone: it runs out at one end only, in the half that is the cone
    first = np.where(level & (b < 0), np.maximum(first, at), first)
    last = np.where(level & (b > 0), np.minimum(last, at), last)
    first = np.where(over & ~level, np.maximum(first, low), np.where(steep & under, np.maximum(first, high), first))
    last = np.where(over & ~level, np.minimum(last, high), np.where(steep & ~under, np.minimum(last, low), last))
    miss = np.where(level, (b == 0) & (c > 0), over & (b * b < a * c))
    return np.where(miss, np.inf, first), np.where(miss, -np.inf, last)
