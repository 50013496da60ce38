"""Solids built of blocks: boxes, wedges, ramps, cylinders and cones that touch, less holes; which of their edges are there, and which are seen.

Places are (…, 3) along front, right and height. Every block is convex and fills its own box; inside it a place has coordinates from 0 to 1.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, dot, length, unit

Bools = NDArray[np.bool_]
AXES = {"cylinder": 2, "cone": 2, "hole": 2, "cylinder-front": 0, "hole-front": 0, "cylinder-right": 1, "hole-right": 1}
"""The axis of every round shape."""
CORNERS = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [0, 0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]], dtype=float)
"""A to D below, E to H above them."""
LINES = {
    "box": "AB BC CD DA EF FG GH HE AE BF CG DH",
    "wedge": "AB BD DA EF FH HE AE BF DH",
    "ramp": "AB BC CD DA AE DH EH EB HC",
}
"""The straight edges of the shapes that have some, by the letters of their box."""
OVER = 1e-4
"""Of the whole's size: how far towards the eye a ray begins."""


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

    def corner(self, letter: str) -> Array:
        """A corner of its box."""
        return np.asarray(np.array(self.low) + CORNERS[ord(letter) - ord("A")] * np.array(self.size))

    def round_at(self, turn: Array, level: float) -> Array:
        """Places round a round one, so far round in degrees, at a level from 0 to 1 along its axis; a cone narrows to its apex."""
        (i, j), k = self.plane, self.axis
        assert k is not None
        wide = 0.5 * (1 - level) if self.shape == "cone" else 0.5
        at = np.zeros((*np.shape(turn), 3))
        at[..., i] = 0.5 + wide * np.cos(np.deg2rad(turn))
        at[..., j] = 0.5 + wide * np.sin(np.deg2rad(turn))
        at[..., k] = level
        return np.asarray(np.array(self.low) + at * np.array(self.size))

    def holds(self, places: Array) -> Bools:
        """Which places lie in it."""
        q = (places - np.array(self.low)) / np.array(self.size)
        found = ((q >= 0) & (q <= 1)).all(axis=-1)
        if self.shape == "wedge":
            found &= q[..., 0] + q[..., 1] <= 1
        elif self.shape == "ramp":
            found &= q[..., 2] <= 1 - q[..., 0]
        elif self.axis is not None:
            i, j = self.plane
            wide = 0.5 * (1 - q[..., 2]) if self.shape == "cone" else 0.5
            found &= (q[..., i] - 0.5) ** 2 + (q[..., j] - 0.5) ** 2 <= wide**2
        return np.asarray(found)

    def spans(self, places: Array, way: Array) -> tuple[Array, Array]:
        """From where to where rays along ``way`` run within it, (…,) each; the first is not less than the second where they miss."""
        size = np.array(self.size)
        q, v = (places - np.array(self.low)) / size, way / size
        first, last = np.full(places.shape[:-1], -np.inf), np.full(places.shape[:-1], np.inf)
        planes = [(axis, sign) for axis in range(3) for sign in (1.0, -1.0)]
        tests = [(sign * q[..., axis] - (sign > 0), float(sign * v[axis])) for axis, sign in planes]  # each ≤ 0 within
        if self.shape == "wedge":
            tests.append((q[..., 0] + q[..., 1] - 1, float(v[0] + v[1])))
        elif self.shape == "ramp":
            tests.append((q[..., 0] + q[..., 2] - 1, float(v[0] + v[2])))
        for off, slope in tests:
            if slope == 0.0:
                first, last = np.where(off > 0, np.inf, first), np.where(off > 0, -np.inf, last)
            elif slope > 0:
                last = np.minimum(last, -off / slope)
            else:
                first = np.maximum(first, -off / slope)
        if self.axis is None:
            return first, last
        return self._round_spans(q, v, first, last)

    def _round_spans(self, q: Array, v: Array, first: Array, last: Array) -> tuple[Array, Array]:
        i, j = self.plane
        x, y, u, w = q[..., i] - 0.5, q[..., j] - 0.5, float(v[i]), float(v[j])
        wide, slope = (0.5 * (1 - q[..., 2]), -0.5 * float(v[2])) if self.shape == "cone" else (np.full(x.shape, 0.5), 0.0)
        a, b, c = u * u + w * w - slope**2, x * u + y * w - wide * slope, x * x + y * y - wide**2
        with np.errstate(invalid="ignore", divide="ignore"):
            if abs(a) < 1e-300:
                at = -c / (2 * b)
                first, last = np.where(b < 0, np.maximum(first, at), first), np.where(b > 0, np.minimum(last, at), last)
                miss = (b == 0) & (c > 0)
            else:
                root = np.sqrt(np.maximum(b * b - a * c, 0.0))
                low, high = np.minimum((-b - root) / a, (-b + root) / a), np.maximum((-b - root) / a, (-b + root) / a)
                if a > 0:
                    first, last = np.maximum(first, low), np.minimum(last, high)
                    miss = b * b < a * c
                else:  # steeper than the cone: it runs out at one end only, in the half that is the cone
                    under = float(v[2]) < 0
                    first, last = (np.maximum(first, high), last) if under else (first, np.minimum(last, low))
                    miss = np.zeros(x.shape, dtype=bool)
        return np.where(miss, np.inf, first), np.where(miss, -np.inf, last)


class Built(NamedTuple):
    """Blocks that touch at most, less holes."""

    blocks: tuple[Block, ...]

    @property
    def solid(self) -> list[Block]:
        return [block for block in self.blocks if not block.is_hole]

    @property
    def extent(self) -> tuple[Array, Array]:
        """The lowest and the highest corner; holes do not count."""
        low = np.array([block.low for block in self.solid])
        return low.min(axis=0), (low + np.array([block.size for block in self.solid])).max(axis=0)

    @property
    def span(self) -> float:
        low, high = self.extent
        return float(np.max(high - low))

    def holds(self, places: Array, among: Sequence[Block] | None = None) -> Bools:
        """Which places are solid."""
        blocks = self.blocks if among is None else among
        found = np.zeros(places.shape[:-1], dtype=bool)
        for block in blocks:
            if not block.is_hole:
                found |= block.holds(places)
        for block in blocks:
            if block.is_hole:
                found &= ~block.holds(places)
        return found

    def open_to(self, places: Array, sight: Array) -> Bools:
        """From which places, (n, 3), nothing solid stands towards the eye, from ``OVER`` of the whole's size on."""
        start = OVER * self.span
        bounds = [block.spans(places, sight) for block in self.blocks]
        cuts = [np.clip(end, start, 1e9) for pair in bounds for end in pair]
        edges = np.sort(np.stack([np.full(len(places), start), *cuts], axis=-1), axis=-1)
        middles = (edges[:, 1:] + edges[:, :-1]) / 2
        wide = edges[:, 1:] - edges[:, :-1] > 1e-9 * self.span
        full, empty = np.zeros(middles.shape, dtype=bool), np.zeros(middles.shape, dtype=bool)
        for block, (first, last) in zip(self.blocks, bounds):
            within = (middles > first[:, None]) & (middles < last[:, None])
            if block.is_hole:
                empty |= within
            else:
                full |= within
        return np.asarray(~(full & ~empty & wide).any(axis=1))


def overlap(one: Block, other: Block, touch: float) -> bool:
    """Whether two blocks share more than a touch: by the separating axes of the flat-sided solids inscribed in them.

    >>> a, b = Block("box", (0, 0, 0), (10, 10, 10)), Block("box", (10, 0, 0), (5, 5, 5))
    >>> overlap(a, b, 1e-9), overlap(a, b._replace(low=(9.0, 0, 0)), 1e-9)
    (False, True)
    """
    for k in range(3):
        if one.low[k] + one.size[k] <= other.low[k] + touch or other.low[k] + other.size[k] <= one.low[k] + touch:
            return False
    (p, m, e), (q, n, f) = _hull(one), _hull(other)
    crossed = cross3(np.repeat(e, len(f), axis=0), np.tile(f, (len(e), 1)))
    axes = np.concatenate([m, n, crossed])
    size = np.asarray(length(axes))
    axes = axes[size > 1e-9] / size[size > 1e-9][:, None]
    a, b = p @ axes.T, q @ axes.T
    return not bool(((a.max(axis=0) <= b.min(axis=0) + touch) | (b.max(axis=0) <= a.min(axis=0) + touch)).any())


SIDES = 48


def _hull(block: Block) -> tuple[Array, Array, Array]:
    """Corners, face normals and edge directions of a block, a round one as flat sides inscribed in it."""
    size = np.array(block.size)
    flat = {"wedge": [[1.0, 1, 0]], "ramp": [[1.0, 0, 1]]}.get(block.shape, [])
    normals = [*np.eye(3), *(np.array(one) / size for one in flat)]
    if block.axis is None:
        letters = {"wedge": "ABDEFH", "ramp": "ABCDEH"}.get(block.shape, "ABCDEFGH")
        corners = np.array([block.corner(letter) for letter in letters])
        edges = np.array([block.corner(pair[1]) - block.corner(pair[0]) for pair in LINES[block.shape].split()])
        return corners, np.array(normals), edges
    turns: Array = 360.0 / SIDES * np.arange(SIDES, dtype=np.float64)
    ends = [block.round_at(turns, 0.0), block.round_at(turns, 1.0)]
    sides = np.roll(ends[0], -1, axis=0) - ends[0]
    rises = ends[1] - ends[0]
    return np.concatenate(ends), np.concatenate([np.eye(3)[[block.axis]], cross3(sides, rises)]), np.concatenate([sides, rises])


def apart_or_within(hole: Block, block: Block) -> float | None:
    """How long a hole runs within a block that is as wide all along it, if its whole round lies inside it; 0 if none of it does.

    None where it breaks through a side, or the block narrows along the hole.

    >>> apart_or_within(Block("hole", (2, 2, 0), (4, 4, 6.0)), Block("box", (0, 0, 0), (8, 8, 3.0)))
    3.0
    """
    k = hole.axis
    assert k is not None
    start, end = max(hole.low[k], block.low[k]), min(hole.low[k] + hole.size[k], block.low[k] + block.size[k])
    if end - start <= 1e-9:
        return 0.0
    rim = hole.round_at(np.arange(0.0, 360.0, 1.0), 0.0)
    inner = rim.copy()
    inner[:, k] = (start + end) / 2
    within = block.holds(inner)
    if not within.any():
        middle = np.array(hole.low) + np.array(hole.size) / 2
        return None if overlap(_as_cylinder(hole), block, 1e-9) or block.holds(middle[None])[0] else 0.0
    prism = block.shape == "box" or block.axis == k and block.shape != "cone" or (block.shape, k) in (("wedge", 2), ("ramp", 1))
    return end - start if prism and within.all() else None


def _as_cylinder(hole: Block) -> Block:
    return hole._replace(shape=hole.shape.replace("hole", "cylinder"))


def towards(drawn: Array) -> Array:
    """The direction towards the eye of a parallel picture: what it shows as a point. ``drawn`` (3, 2) is a mm along each axis.

    >>> towards(np.array([[-1.0, 0], [0.0, 0], [0.0, 1]])).tolist()  # square at the front
    [0.0, -1.0, 0.0]
    """
    way = unit(cross3(drawn[:, 0], drawn[:, 1]))
    return np.asarray(way if float(dot(way, np.array([-1.0, -1.0, 1.0]))) > 0 else -way) + 0.0
