"""What lettering keeps clear of: dark lines, the rings of points, and other lettering.

What lies further off than a circle round the lettering is told apart first, all of it at once: an edit tries many
places for its dimensions.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from wise_compass.geometry.vectors import Array
from wise_compass.sheet.drawing import Item, Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, text_width

RING = 0.8
"""The radius of the ring round a point."""
BESIDE = 0.3
"""How far two letterings keep from each other."""


class Box(NamedTuple):
    """Lettering as a box: the middle of its base line, which way it runs, half its width, its height; and the middle
    and the radius of the circle round it. In sheet mm."""

    x: float
    y: float
    ux: float
    uy: float
    half: float
    high: float
    cx: float
    cy: float
    far: float

    @staticmethod
    def of(text: Text) -> Box:
        """The box of some words."""
        turn, wide = math.radians(text.turn), text_width(text.words, text.size, text.bold)
        ux, uy, high = math.cos(turn), math.sin(turn), CAP_HEIGHT * text.size
        off = (0.5 - text.anchor) * wide
        x, y = float(text.at[0]) + ux * off, float(text.at[1]) + uy * off
        return Box(x, y, ux, uy, wide / 2, high, x - uy * high / 2, y + ux * high / 2, math.hypot(wide, high) / 2)

    def local(self, at: Array) -> Array:
        """Places, (…, 2), as lettering has them: along it from its middle, and up from its base line."""
        off = at - np.array([self.x, self.y])
        return np.asarray(off @ np.array([[self.ux, -self.uy], [self.uy, self.ux]]))

    def holds(self, x: float, y: float) -> bool:
        """Whether a place lies in it, or hardly beside it."""
        dx, dy = x - self.x, y - self.y
        along, up = dx * self.ux + dy * self.uy, dy * self.ux - dx * self.uy
        return abs(along) < self.half + BESIDE and -BESIDE < up < self.high + BESIDE

    def corners(self) -> list[tuple[float, float]]:
        """Its corners, the middles of its sides, and its middle."""
        return [
            (self.x + a * self.ux - b * self.uy, self.y + a * self.uy + b * self.ux)
            for a in (-self.half, 0.0, self.half)
            for b in (0.0, self.high / 2, self.high)
        ]


class _Stretches:
    """Straight stretches, (n, 2, 2), with the box of each."""

    def __init__(self, steps: Array) -> None:
        self.steps, self.low, self.high = steps, steps.min(axis=1), steps.max(axis=1)

    def near(self, cx: Array, cy: Array, far: Array) -> npt.NDArray[np.bool_]:
        """Which stretches may come into which circles, (circles, stretches)."""
        return np.asarray(
            (self.low[:, 0] <= (cx + far)[:, None])
            & (self.high[:, 0] >= (cx - far)[:, None])
            & (self.low[:, 1] <= (cy + far)[:, None])
            & (self.high[:, 1] >= (cy - far)[:, None])
        )

    def cross(self, box: Box) -> bool:
        """Whether any of them crosses lettering."""
        near = (self.low[:, 0] <= box.cx + box.far) & (self.high[:, 0] >= box.cx - box.far)
        near &= (self.low[:, 1] <= box.cy + box.far) & (self.high[:, 1] >= box.cy - box.far)
        return bool(near.any()) and crossed(box, self.steps[near])


class Clear:
    """What the figures of dimensions keep clear of: the dark lines of a drawing, its rings, and each other."""

    def __init__(self, lines: Sequence[Array], rings: Array) -> None:
        self.lines, self.rings = _Stretches(_steps(lines)), rings
        self.words: list[Box] = []
        self._circles = np.zeros((3, 0))
        self.left, self.right = -np.inf, np.inf

    def clashes(self, items: Sequence[Item], most: float = np.inf) -> int:
        """How much a dimension drawn so would be hard to read, or make others so; at ``most`` it is counted no
        further."""
        found = 0
        for item in items:
            if isinstance(item, Text):
                box = Box.of(item)
                found += 10 * self.lines.cross(box) + 10 * sum(overlapping(box, other) for other in self.words)
                found += 4 * self._on_rings(box)
            if found >= most:
                return found
        if self.words:
            own = _Stretches(_steps(_drawn(items)))
            for k in np.flatnonzero(own.near(*self._circles).any(axis=1)).tolist():
                found += 3 * crossed(self.words[k], own.steps)
        return found

    def _on_rings(self, box: Box) -> int:
        """On how many rings lettering lies."""
        if not len(self.rings):
            return 0
        off = np.abs(self.rings - np.array([box.cx, box.cy]))
        near = self.rings[(off <= box.far + RING).all(axis=1)]
        if not len(near):
            return 0
        at = box.local(near)
        inside = (np.abs(at[:, 0]) < box.half + RING) & (at[:, 1] > -RING) & (at[:, 1] < box.high + RING)
        return int(inside.sum())

    def take(self, items: Sequence[Item]) -> None:
        """Keep clear of this dimension from now on."""
        self.words += [Box.of(item) for item in items if isinstance(item, Text)]
        self._circles = np.array([(box.cx, box.cy, box.far) for box in self.words]).reshape(-1, 3).T
        self.lines = _Stretches(np.concatenate([self.lines.steps, _steps(_drawn(items))]))


def _drawn(items: Sequence[Item]) -> list[Array]:
    return [item.points for item in items if isinstance(item, Line) and not item.filled]


def _steps(lines: Sequence[Array]) -> Array:
    """The straight stretches of polylines, (n, 2, 2)."""
    steps = [np.stack([line[:-1], line[1:]], axis=1) for line in lines if len(line) > 1]
    return np.concatenate(steps) if steps else np.zeros((0, 2, 2))


def crossed(box: Box, steps: Array) -> bool:
    """Whether a straight stretch, of (n, 2, 2), crosses lettering (by the slab test of a box)."""
    low, high = np.array([-box.half, 0.0]), np.array([box.half, box.high])
    start, end = box.local(steps[:, 0]), box.local(steps[:, 1])
    way = np.where(np.abs(end - start) < 1e-12, 1e-12, end - start)
    one, other = (low - start) / way, (high - start) / way
    enters = np.minimum(one, other).max(axis=1).clip(min=0.0)
    leaves = np.maximum(one, other).min(axis=1).clip(max=1.0)
    return bool((enters < leaves).any())


def overlapping(one: Box, other: Box) -> bool:
    """Whether two letterings lie on each other: a corner or a middle of one in the other."""
    if math.hypot(one.cx - other.cx, one.cy - other.cy) > one.far + other.far + 2 * BESIDE:
        return False
    return any(other.holds(*at) for at in one.corners()) or any(one.holds(*at) for at in other.corners())
