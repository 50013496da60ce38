"""What lettering keeps clear of: dark lines, the rings of points, and other lettering.

What lies further off than a circle round the lettering is told apart first, all of it at once: an edit tries many
places for its dimensions.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Bools
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.lettering import CAP_HEIGHT, TEXT, text_width

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

    def costs(self, drawn: Shapes) -> Array:
        """How much each way of drawing a dimension would be hard to read, or make others so."""
        m, boxes = len(drawn.at), boxes_of(drawn)
        k = len(drawn.words)
        own = drawn.lines.reshape(-1, 2, 2)
        every = np.concatenate([boxes[:, :2], own.reshape(-1, 2)])
        around = float(boxes[:, 4].max()) * 2 + 3.0
        low, high = every.min(axis=0) - around, every.max(axis=0) + around
        near = self._near(low, high)
        both = np.concatenate([near, self._told, self._extensions])
        faint = self._faint_near(low, high)
        over = crossed(boxes, np.concatenate([both, faint]))
        found = BAD * over[:, : len(both)].any(axis=1).reshape(m, k).sum(axis=1).astype(float)
        found += FAINT * over[:, len(both) :].any(axis=1).reshape(m, k).sum(axis=1)
        if len(self.rings):
            found += ON_RING * _on_rings(boxes, self.rings).reshape(m, -1).sum(axis=1)
        if len(self._words):
            found += BAD * overlapping(boxes, self._words).reshape(m, -1).sum(axis=1)
            lines = np.concatenate([drawn.lines, drawn.extensions], axis=1)
            hit = crossed(self._words, lines.reshape(-1, 2, 2)).reshape(len(self._words), m, -1)
            found += THROUGH_WORDS * hit.any(axis=2).sum(axis=0)
        dark, lines = len(near), drawn.lines.shape[1]
        hit = crossings(np.concatenate([drawn.lines, drawn.extensions], axis=1).reshape(-1, 2, 2), both)
        hit = hit.reshape(m, lines + drawn.extensions.shape[1], len(both))
        found += np.minimum(hit[:, :lines, :dark].sum(axis=(1, 2)), MOST_CROSSINGS)
        along = lying_along(own, np.concatenate([near, self._told, faint])).reshape(m, lines, -1)
        heavy = dark + len(self._told)
        found += ALONG * along[..., :heavy].any(axis=2).sum(axis=1)
        found += FAINT * along[..., heavy:].any(axis=2).sum(axis=1)
        if len(self._told):
            found += CROSSING * hit[:, :lines, dark:].sum(axis=(1, 2))
            found += CROSSING * hit[:, lines:, dark : dark + len(self._told)].sum(axis=(1, 2))
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

    def take(self, drawn: Shapes, k: int, reach: int) -> None:
        """Keep clear of a dimension from now on: its way ``k``, of its extension lines those of ``reach``."""
        words = len(drawn.words)
        self._words = np.concatenate([self._words, boxes_of(drawn)[k * words : (k + 1) * words]])
        self._told = np.concatenate([self._told, drawn.lines[k]])
        self._extensions = np.concatenate([self._extensions, drawn.extensions[reach]])


def boxes_of(drawn: Shapes) -> Array:
    """The words of every way as boxes, (ways × words, 6): the middle of the base line, the direction, half the width
    and the height."""
    turn = np.deg2rad(drawn.turn)
    u = np.stack([np.cos(turn), np.sin(turn)], axis=-1)
    at = drawn.at + u * ((0.5 - drawn.anchor) * drawn.wide)[..., None]
    half = np.broadcast_to(drawn.wide / 2, drawn.turn.shape)
    high = np.full(drawn.turn.shape, CAP_HEIGHT * TEXT)
    return np.concatenate([at, u, half[..., None], high[..., None]], axis=-1).reshape(-1, 6)


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
    """Which boxes (b, 6) which straight stretches (n, 2, 2) cross, (b, n); by the slab test of a box."""
    a, b = _in_boxes(boxes, steps[:, 0]), _in_boxes(boxes, steps[:, 1])
    half, high = boxes[:, 4, None], boxes[:, 5, None]
    enters, leaves = np.zeros(a[0].shape), np.ones(a[0].shape)
    for start, end, low, top in ((a[0], b[0], -half, half), (a[1], b[1], 0.0, high)):
        way = end - start
        way = np.where(np.abs(way) < 1e-12, 1e-12, way)
        one, other = (low - start) / way, (top - start) / way
        enters = np.maximum(enters, np.minimum(one, other))
        leaves = np.minimum(leaves, np.maximum(one, other))
    return np.asarray(enters < leaves)


def _on_rings(boxes: Array, rings: Array) -> Bools:
    """Which boxes lie on which rings."""
    x, y = _in_boxes(boxes, rings)
    return np.asarray((np.abs(x) < boxes[:, 4, None] + RING) & (y > -RING) & (y < boxes[:, 5, None] + RING))


def overlapping(boxes: Array, others: Array) -> Bools:
    """Which boxes lie on which others, or hardly beside them (separating axes), (b, n)."""
    mine, theirs = (_with_middle(each) for each in (boxes, others))
    off = theirs[None, :, 0] - mine[:, None, 0]
    apart = np.zeros(off.shape[:2], dtype=bool)
    half, halves = mine[:, None, 3], theirs[None, :, 3]
    for axis in (mine[:, None, 1], mine[:, None, 2], theirs[None, :, 1], theirs[None, :, 2]):
        reach = _spread(mine[:, None], half, axis) + _spread(theirs[None], halves, axis)
        apart |= np.abs(_dot(off, axis)) > reach + BESIDE
    return np.asarray(~apart)


def _dot(one: Array, other: Array) -> Array:
    return np.asarray(one[..., 0] * other[..., 0] + one[..., 1] * other[..., 1])


def _spread(boxes: Array, half: Array, axis: Array) -> Array:
    """How far boxes reach from their middles along an axis."""
    return np.asarray(
        np.abs(_dot(boxes[..., 1, :], axis)) * half[..., 0] + np.abs(_dot(boxes[..., 2, :], axis)) * half[..., 1]
    )


def _with_middle(boxes: Array) -> Array:
    """Boxes as their middle, the unit vectors along and up them, and half their sizes, (n, 4, 2)."""
    u = boxes[:, 2:4]
    v = np.stack([-u[:, 1], u[:, 0]], axis=1)
    middle = boxes[:, :2] + v * boxes[:, 5:6] / 2
    return np.stack([middle, u, v, np.stack([boxes[:, 4], boxes[:, 5] / 2], axis=1)], axis=1)


def crossings(own: Array, others: Array) -> Bools:
    """Which stretches (m, 2, 2) cross which others, (m, n); what touches with its end does not cross."""
    start, way = own[:, None, 0], (own[:, 1] - own[:, 0])[:, None]
    theirs = (others[:, 1] - others[:, 0])[None]
    off = others[None, :, 0] - start
    across = way[..., 0] * theirs[..., 1] - way[..., 1] * theirs[..., 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (off[..., 0] * theirs[..., 1] - off[..., 1] * theirs[..., 0]) / across
        s = (off[..., 0] * way[..., 1] - off[..., 1] * way[..., 0]) / across
    edge = TOUCHES / np.maximum(np.hypot(way[..., 0], way[..., 1]), TOUCHES)
    return np.asarray((t > edge) & (t < 1 - edge) & (s >= 0) & (s < 1))


def lying_along(own: Array, others: Array) -> Bools:
    """Which stretches lie along which others, so that one hides the other, (m, n)."""
    way = own[:, 1] - own[:, 0]
    long = np.hypot(way[:, 0], way[:, 1])[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        u = way / long
    ends = others[None] - own[:, None, None, 0]
    t = ends[..., 0] * u[:, None, None, 0] + ends[..., 1] * u[:, None, None, 1]
    h = ends[..., 1] * u[:, None, None, 0] - ends[..., 0] * u[:, None, None, 1]
    shared = np.minimum(t.max(axis=2), long) - np.maximum(t.min(axis=2), 0.0)
    return np.asarray((np.abs(h) < HIDES).all(axis=2) & (shared > 1.0) & (long >= 1.0))


def _cut_by_ray(along: Array, across: Array) -> bool:
    """Whether stretches cut a line through the origin on both sides of it; (n, 2) each, from end to end."""
    a, b = across[:, 0], across[:, 1]
    over = (a < 0) != (b < 0)
    if not over.any():
        return False
    share = a[over] / (a[over] - b[over])
    at = along[over, 0] + share * (along[over, 1] - along[over, 0])
    return bool((at > 0).any() and (at < 0).any())
