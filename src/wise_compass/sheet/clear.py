"""What lettering keeps clear of: dark lines, the rings of points, and other lettering.

What lies further off than a circle round the lettering is told apart first, all of it at once: an edit tries many
places for its dimensions.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Bools, Ints
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.lettering import CAP_HEIGHT, text_width

if TYPE_CHECKING:
    from wise_compass.sheet.dimensions import Shapes

RING = 0.8
"""The radius of the ring round a point."""
BESIDE = 0.3
"""How far two letterings keep from each other."""
BAD, ON_RING, THROUGH_WORDS, CROSSING, ALONG, INSIDE, FAINT, MOST_CROSSINGS = 10.0, 4.0, 6.0, 1.5, 4.0, 1.2, 0.3, 4
"""What it costs: figures on dark lines or on figures; figures on a ring; a line through others' figures; a line across
that of another dimension; a line along a dark one; a row within an outline; figures on a faint line; and how many
crossings of dark lines are counted at most."""
EXACTLY = 1e-6
"""mm: an end so near to a line lies on it, on whatever side of it rounding has it."""
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


class About(NamedTuple):
    """Straight stretches near a dimension, (n, 2, 2): of these end where they are told those that are dark, those of
    other dimensions, and the extension lines of these; what is left is faint."""

    others: Array
    dark: int
    told: int
    placed: int


class Clear:
    """What dimensions keep clear of: the dark lines of a drawing, its rings, and each other."""

    def __init__(self, lines: Sequence[Array], rings: Array, faint: Sequence[Array] = ()) -> None:
        self.lines, self.rings, self.faint = steps_of(lines), rings, steps_of(faint)
        self.low, self.high = self.lines.min(axis=1), self.lines.max(axis=1)
        self.faint_low, self.faint_high = self.faint.min(axis=1), self.faint.max(axis=1)
        self._words = np.zeros((0, 6))
        self._told, self._extensions = np.zeros((0, 2, 2)), np.zeros((0, 2, 2))
        self.left, self.right = -np.inf, np.inf

    def free(self, text: Text) -> bool:
        """Whether words cross no dark line."""
        box = Box.of(text)
        near = self._near(
            np.array([box.cx - box.far, box.cy - box.far]), np.array([box.cx + box.far, box.cy + box.far])
        )
        return not bool(crossed(np.array([box[:6]]), near).any())

    def _near(self, low: Array, high: Array) -> Array:
        """The dark stretches whose boxes meet a box, (n, 2, 2)."""
        return np.asarray(self.lines[((self.low <= high) & (self.high >= low)).all(axis=1)])

    def _faint_near(self, low: Array, high: Array) -> Array:
        """The faint ones."""
        return np.asarray(self.faint[((self.faint_low <= high) & (self.faint_high >= low)).all(axis=1)])

    def about(self, drawn: Shapes) -> About:
        """What is near any of the ways of drawing a dimension."""
        boxes = drawn.boxes
        every = np.concatenate([boxes[:, :2], drawn.lines.reshape(-1, 2)])
        around = float(boxes[:, 4].max()) * 2 + 3.0
        low, high = every.min(axis=0) - around, every.max(axis=0) + around
        near = self._near(low, high)
        others = np.concatenate([near, self._told, self._extensions, self._faint_near(low, high)])
        told = len(near) + len(self._told)
        return About(others, len(near), told, told + len(self._extensions))

    def costs_of_words(self, drawn: Shapes, about: About) -> Array:
        """How hard to read the words of each way of drawing a dimension would be, by what they lie on, (m,), and the
        words of others that its lines run through."""
        m, boxes = len(drawn.at), drawn.boxes
        over = crossed(boxes, about.others)
        found = BAD * over[:, : about.placed].any(axis=1).reshape(m, -1).sum(axis=1).astype(float)
        found += FAINT * over[:, about.placed :].any(axis=1).reshape(m, -1).sum(axis=1)
        if len(self.rings):
            found += ON_RING * _on_rings(boxes, self.rings).reshape(m, -1).sum(axis=1)
        if len(self._words):
            found += BAD * overlapping(boxes, self._words).reshape(m, -1).sum(axis=1)
            lines = np.concatenate([drawn.lines, drawn.extensions], axis=1).reshape(-1, 2, 2)
            hit = crossed(self._words, lines).reshape(len(self._words), m, -1)
            found += THROUGH_WORDS * hit.any(axis=2).sum(axis=0)
        return np.asarray(found)

    def costs_of_lines(self, drawn: Shapes, about: About, ways: Ints) -> Array:
        """How hard to read the lines of some of its ways would be, (ways,): where they cross what is near, and lie
        along it."""
        others, dark, told, placed = about
        own = drawn.lines.shape[1]
        lines = np.concatenate([drawn.lines[ways], drawn.extensions[ways]], axis=1)
        hit, lie = crossed_and_hidden(lines.reshape(-1, 2, 2), others)
        hit, lie = (one.reshape(*lines.shape[:2], -1) for one in (hit, lie))
        found = np.minimum(hit[:, :own, :dark].sum(axis=(1, 2)), MOST_CROSSINGS).astype(float)
        if lie.any():
            found += ALONG * lie[:, :own, :told].any(axis=2).sum(axis=1)
            found += FAINT * lie[:, :own, placed:].any(axis=2).sum(axis=1)
        if len(self._told):
            found += CROSSING * hit[:, :own, dark:placed].sum(axis=(1, 2))
            found += CROSSING * hit[:, own:, dark:told].sum(axis=(1, 2))
        return np.asarray(found)

    def encloses(self, row: Array) -> bool:
        """Whether the middle of a row, (2, 2), has dark lines on all four sides of it: it runs within an outline."""
        middle = row.mean(axis=0)
        way = row[1] - row[0]
        long = float(np.hypot(*way))
        if long < 1e-9:
            return False
        u = way / long
        off = (self.lines - middle) @ np.array([[u[0], -u[1]], [u[1], u[0]]])
        return all(_cut_by_ray(off[..., k], off[..., 1 - k]) for k in (0, 1))

    def take(self, drawn: Shapes, k: int, legs: Sequence[Array]) -> None:
        """Keep clear of a dimension from now on: its way ``k``, and what else its legs were extended by."""
        words = len(drawn.words)
        self._words = np.concatenate([self._words, drawn.boxes[k * words : (k + 1) * words]])
        self._told = np.concatenate([self._told, drawn.lines[k]])
        self._extensions = np.concatenate([self._extensions, drawn.extensions[k], np.reshape(legs, (-1, 2, 2))])


def steps_of(lines: Sequence[Array]) -> Array:
    """The straight stretches of polylines, (n, 2, 2)."""
    if not lines:
        return np.zeros((0, 2, 2))
    every = np.concatenate(lines)
    steps = np.stack([every[:-1], every[1:]], axis=1)
    within = np.ones(len(steps), dtype=bool)
    within[np.cumsum([len(line) for line in lines])[:-1] - 1] = False  # from the end of one line to the next
    return steps[within]


def _in_boxes(boxes: Array, at: Array) -> tuple[Array, Array]:
    """Places (n, 2) as each of the boxes has them: along it from its middle and up from its base line, (boxes, n)."""
    x, y = (at[None, :, k] - boxes[:, k, None] for k in (0, 1))
    ux, uy = boxes[:, 2, None], boxes[:, 3, None]
    return x * ux + y * uy, y * ux - x * uy


def crossed(boxes: Array, steps: Array) -> Bools:
    """Which boxes (b, 6) which straight stretches (n, 2, 2) cross, (b, n): by the slab test, of those whose own boxes
    meet the circle about them."""
    half, high = boxes[:, 4], boxes[:, 5]
    x, y = boxes[:, 0] - boxes[:, 3] * high / 2, boxes[:, 1] + boxes[:, 2] * high / 2
    far = np.hypot(half, high / 2)
    low, top = steps.min(axis=1), steps.max(axis=1)
    found = (low[:, 0] <= (x + far)[:, None]) & (top[:, 0] >= (x - far)[:, None])
    found &= (low[:, 1] <= (y + far)[:, None]) & (top[:, 1] >= (y - far)[:, None])
    b, n = np.nonzero(found)
    if len(b):
        found[b, n] = _through(boxes[b], steps[n])
    return np.asarray(found)


def _through(boxes: Array, steps: Array) -> Bools:
    """Whether boxes are crossed by their stretches, one by one."""
    ends = steps - boxes[:, None, :2]
    ux, uy = boxes[:, 2:3], boxes[:, 3:4]
    along, up = ends[..., 0] * ux + ends[..., 1] * uy, ends[..., 1] * ux - ends[..., 0] * uy
    start = np.stack([along[:, 0], up[:, 0]])
    way = np.stack([along[:, 1], up[:, 1]]) - start
    way = np.where(np.abs(way) < 1e-12, 1e-12, way)
    half, high = boxes[:, 4], boxes[:, 5]
    one = (np.stack([-half, np.zeros(len(half))]) - start) / way
    other = (np.stack([half, high]) - start) / way
    enters = np.maximum(np.minimum(one, other).max(axis=0), 0.0)
    leaves = np.minimum(np.maximum(one, other).min(axis=0), 1.0)
    return np.asarray(enters < leaves)


def _on_rings(boxes: Array, rings: Array) -> Bools:
    """Which boxes lie on which rings."""
    x, y = _in_boxes(boxes, rings)
    return np.asarray((np.abs(x) < boxes[:, 4, None] + RING) & (y > -RING) & (y < boxes[:, 5, None] + RING))


def overlapping(boxes: Array, others: Array) -> Bools:
    """Which boxes lie on which others, or hardly beside them, (b, n): by circles about them, and of those that these
    do not part by separating axes."""
    mine, theirs = (_with_middle(each) for each in (boxes, others))
    far, fars = (np.hypot(each[:, 3, 0], each[:, 3, 1]) for each in (mine, theirs))
    off = theirs[None, :, 0] - mine[:, None, 0]
    found = np.hypot(off[..., 0], off[..., 1]) <= far[:, None] + fars + 2 * BESIDE
    b, n = np.nonzero(found)
    if len(b):
        found[b, n] = _on_each_other(mine[b], theirs[n])
    return np.asarray(found)


def _on_each_other(mine: Array, theirs: Array) -> Bools:
    """Whether boxes, (n, 4, 2), lie on their others, one by one."""
    off = theirs[:, 0] - mine[:, 0]
    apart = np.zeros(len(off), dtype=bool)
    for axis in (mine[:, 1], mine[:, 2], theirs[:, 1], theirs[:, 2]):
        apart |= np.abs(_dot(off, axis)) > _spread(mine, axis) + _spread(theirs, axis) + BESIDE
    return np.asarray(~apart)


def _dot(one: Array, other: Array) -> Array:
    return np.asarray(one[..., 0] * other[..., 0] + one[..., 1] * other[..., 1])


def _spread(boxes: Array, axis: Array) -> Array:
    """How far boxes reach from their middles along an axis."""
    half = boxes[:, 3]
    return np.asarray(np.abs(_dot(boxes[:, 1], axis)) * half[:, 0] + np.abs(_dot(boxes[:, 2], axis)) * half[:, 1])


def _with_middle(boxes: Array) -> Array:
    """Boxes as their middle, the unit vectors along and up them, and half their sizes, (n, 4, 2)."""
    u = boxes[:, 2:4]
    v = np.stack([-u[:, 1], u[:, 0]], axis=1)
    middle = boxes[:, :2] + v * boxes[:, 5:6] / 2
    return np.stack([middle, u, v, np.stack([boxes[:, 4], boxes[:, 5] / 2], axis=1)], axis=1)


def crossed_and_hidden(own: Array, others: Array) -> tuple[Bools, Bools]:
    """Which stretches (m, 2, 2) cross which others (n, 2, 2), and which lie along them, so that one hides the other;
    (m, n) each. What touches with its end does not cross.

    The ends of the others are told along and across each stretch; both questions are asked of these four.
    """
    start, way = own[:, 0], own[:, 1] - own[:, 0]
    long = np.hypot(way[:, 0], way[:, 1])[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        x, y = way[:, :1] / long, way[:, 1:] / long
        (t0, h0), (t1, h1) = (_along_and_across(start, x, y, others[:, k]) for k in (0, 1))
        h0, h1 = (np.where(np.abs(h) < EXACTLY, 0.0, h) for h in (h0, h1))
        crosses = ((h0 < 0) & (h1 > 0)) | ((h0 > 0) & (h1 < 0)) | ((h0 == 0) & (h1 != 0))
    k, n = np.nonzero(crosses)
    t = t0[k, n] + (t1[k, n] - t0[k, n]) * h0[k, n] / (h0[k, n] - h1[k, n])
    edge = np.minimum(long[k, 0], TOUCHES)
    crosses[k, n] = (t > edge) & (t < long[k, 0] - edge)
    hides = (np.abs(h0) < HIDES) & (np.abs(h1) < HIDES) & (long >= 1.0)
    if hides.any():
        hides &= np.minimum(np.maximum(t0, t1), long) - np.maximum(np.minimum(t0, t1), 0.0) > 1.0
    return crosses, hides


def _along_and_across(start: Array, x: Array, y: Array, at: Array) -> tuple[Array, Array]:
    """Places (n, 2) as stretches have them that run from ``start`` in directions (x, y): along and across, (m, n)."""
    dx, dy = at[:, 0] - start[:, :1], at[:, 1] - start[:, 1:]
    return dx * x + dy * y, dy * x - dx * y


def _cut_by_ray(along: Array, across: Array) -> bool:
    """Whether stretches cut a line through the origin on both sides of it; (n, 2) each, from end to end."""
    a, b = across[:, 0], across[:, 1]
    over = (a < 0) != (b < 0)
    if not over.any():
        return False
    share = a[over] / (a[over] - b[over])
    at = along[over, 0] + share * (along[over, 1] - along[over, 0])
    return bool((at > 0).any() and (at < 0).any())
