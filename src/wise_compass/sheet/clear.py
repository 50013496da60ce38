"""What lettering keeps clear of: dark lines, the rings of points, and other lettering.

What lies further off than a circle round the lettering is told apart first, all of it at once: an edit tries many
places for its dimensions.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
import numpy.typing as npt

from wise_compass.geometry.vectors import Array
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.lettering import CAP_HEIGHT, text_width

if TYPE_CHECKING:
    from wise_compass.sheet.dimensions import Drawn

RING = 0.8
"""The radius of the ring round a point."""
BESIDE = 0.3
"""How far two letterings keep from each other."""
BAD, ON_RING, THROUGH_WORDS, CROSSING, ALONG, INSIDE, MOST_CROSSINGS = 10.0, 4.0, 6.0, 1.5, 4.0, 1.2, 4
"""What it costs: figures on dark lines or on figures; figures on a ring; a line through others' figures; a line across
that of another dimension; a line along a dark one; a row within an outline; and how many crossings of dark lines are
counted at most."""
TOUCHES, HIDES = 0.3, 0.6
"""How near its end, in mm, a line may come to another and still only touch it; how near a line beside another is taken
for it."""


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

    def within(self, low: Array, high: Array) -> Array:
        """The stretches whose boxes meet a box, (n, 2, 2)."""
        return np.asarray(self.steps[((self.low <= high) & (self.high >= low)).all(axis=1)])

    def cross(self, box: Box) -> bool:
        """Whether any of them crosses lettering."""
        near = (self.low[:, 0] <= box.cx + box.far) & (self.high[:, 0] >= box.cx - box.far)
        near &= (self.low[:, 1] <= box.cy + box.far) & (self.high[:, 1] >= box.cy - box.far)
        return bool(near.any()) and crossed(box, self.steps[near])


class Clear:
    """What dimensions keep clear of: the dark lines of a drawing, its rings, and each other."""

    def __init__(self, lines: Sequence[Array], rings: Array) -> None:
        self.lines, self.rings = _Stretches(steps_of(lines)), rings
        self.words: list[Box] = []
        self._circles = np.zeros((3, 0))
        self._told, self._extensions = (_Stretches(steps_of(())) for _ in range(2))
        self.left, self.right = -np.inf, np.inf

    def free(self, text: Text) -> bool:
        """Whether words cross no dark line."""
        return not self.lines.cross(Box.of(text))

    def cost(self, drawn: Drawn, most: float = np.inf) -> float:
        """How much a dimension drawn so would be hard to read, or make others so; at ``most`` it is counted no
        further."""
        found = 0.0
        own, reach = steps_of(drawn.lines), steps_of(drawn.extensions)
        for box in map(Box.of, drawn.words):
            found += BAD * (self.lines.cross(box) or self._told.cross(box) or self._extensions.cross(box))
            found += BAD * sum(overlapping(box, other) for other in self.words) + ON_RING * self._on_rings(box)
            if found >= most:
                return found
        if self.words:
            both = _Stretches(np.concatenate([own, reach]))
            for k in np.flatnonzero(both.near(*self._circles).any(axis=1)).tolist():
                found += THROUGH_WORDS * crossed(self.words[k], both.steps)
        if found < most:
            found += min(crossings(own, self.lines), MOST_CROSSINGS) + ALONG * lying_along(own, self.lines)
            found += CROSSING * (crossings(own, self._told) + crossings(own, self._extensions))
            found += CROSSING * crossings(reach, self._told)
        if drawn.rows and found < most:
            found += INSIDE * sum(self.encloses(row) for row in drawn.rows)
        return found

    def encloses(self, row: Array) -> bool:
        """Whether the middle of a row, (2, 2), has dark lines on all four sides of it: it runs within an outline."""
        middle = row.mean(axis=0)
        way = row[1] - row[0]
        u = way / max(float(np.hypot(*way)), 1e-12)
        off = (self.lines.steps - middle) @ np.array([[u[0], -u[1]], [u[1], u[0]]])
        return all(_cut_by_ray(off[..., k], off[..., 1 - k]) for k in (0, 1))

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

    def take(self, drawn: Drawn) -> None:
        """Keep clear of this dimension from now on."""
        self.words += [Box.of(words) for words in drawn.words]
        self._circles = np.array([(box.cx, box.cy, box.far) for box in self.words]).reshape(-1, 3).T
        self._told = _Stretches(np.concatenate([self._told.steps, steps_of(drawn.lines)]))
        self._extensions = _Stretches(np.concatenate([self._extensions.steps, steps_of(drawn.extensions)]))


def steps_of(lines: Sequence[Array]) -> Array:
    """The straight stretches of polylines, (n, 2, 2)."""
    steps = [np.stack([line[:-1], line[1:]], axis=1) for line in lines if len(line) > 1]
    return np.concatenate(steps) if steps else np.zeros((0, 2, 2))


def _cut_by_ray(along: Array, across: Array) -> bool:
    """Whether stretches cut a line through the origin on both sides of it; (n, 2) each, from end to end."""
    a, b = across[:, 0], across[:, 1]
    over = (a < 0) != (b < 0)
    if not over.any():
        return False
    share = a[over] / (a[over] - b[over])
    at = along[over, 0] + share * (along[over, 1] - along[over, 0])
    return bool((at > 0).any() and (at < 0).any())


def crossings(own: Array, others: _Stretches) -> int:
    """How often stretches (m, 2, 2) cross others; what touches with its end does not cross."""
    found = 0
    for start, end in own:
        near = others.within(np.minimum(start, end), np.maximum(start, end))
        if not len(near):
            continue
        way, theirs = end - start, near[:, 1] - near[:, 0]
        across = way[0] * theirs[:, 1] - way[1] * theirs[:, 0]
        off = near[:, 0] - start
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (off[:, 0] * theirs[:, 1] - off[:, 1] * theirs[:, 0]) / across
            s = (off[:, 0] * way[1] - off[:, 1] * way[0]) / across
        edge = TOUCHES / max(float(np.hypot(*way)), TOUCHES)
        found += int(((t > edge) & (t < 1 - edge) & (s >= 0) & (s < 1)).sum())
    return found


def lying_along(own: Array, others: _Stretches) -> int:
    """How many of the stretches lie along others, so that one hides the other."""
    found = 0
    for start, end in own:
        near = others.within(np.minimum(start, end) - BESIDE, np.maximum(start, end) + BESIDE)
        long = float(np.hypot(*(end - start)))
        if not len(near) or long < 1.0:
            continue
        u = (end - start) / long
        t = (near - start) @ u
        h = (near - start) @ np.array([-u[1], u[0]])
        shared = np.minimum(t.max(axis=1), long) - np.maximum(t.min(axis=1), 0.0)
        found += bool(((np.abs(h) < HIDES).all(axis=1) & (shared > 1.0)).any())
    return found


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
