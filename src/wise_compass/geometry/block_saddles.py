"""Where a round hole meets what is not the same all along it: a round skin, or a bore that crosses it. Its rim there is
no plane curve: two saddles where the narrower of the two runs into the other with its whole round, else one loop.

Every straight line of the hole's skin, and every line within it that runs as its axis does, meets a convex block in one
stretch.
"""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_shapes import Block, Packed
from wise_compass.geometry.vectors import Array

NEAR = 1e-9
"""Of a hole's length: what is nearer is level with it."""
ROOT = 1e-7
"""Of a round one's width: a half chord that is shorter is none."""
LOOKS = 360
RINGS, ROUND = 48, 256
"""Places across a round, by Gauss’s rule, and round a pole, at which lengths are summed up."""


class BoreSaddle(NamedTuple):
    """Where a hole enters a convex block, or, ``far``, leaves it: on its skin."""

    hole: Block
    other: Block
    far: bool

    def at(self, turns: Array) -> Array:
        """Its places, so far round the hole in degrees, (…, 3)."""
        places, axis = self.hole.round_at(turns, 0.0), self.hole.axis
        assert axis is not None
        places[..., axis] += runs(self.hole, self.other, places)[int(self.far)] * self.hole.size[axis]
        return places


class BoreLoop(NamedTuple):
    """Where a round one and a skin that lies across it cut into each other in part: one closed line, over the turns
    within ``half`` of ``middle``, in degrees, there where it runs into the skin and back where it leaves it."""

    hole: Block
    other: Block
    middle: float
    half: float

    def at(self, turns: Array) -> Array:
        """Its places, so far round the loop in degrees, (…, 3)."""
        around = np.deg2rad(turns)
        places, axis = self.hole.round_at(self.middle + self.half * np.cos(around), 0.0), self.hole.axis
        assert axis is not None
        first, last = runs(self.hole, self.other, places)
        places[..., axis] += np.where(np.sin(around) >= 0.0, first, last) * self.hole.size[axis]
        return places


def runs(hole: Block, block: Block, places: Array) -> tuple[Array, Array]:
    """From where to where, in lengths of the hole from its beginning, lines from places there along it are within a
    block.

    They begin at ∞ and end at −∞ where they miss it; those that only touch a round skin begin and end there.

    >>> post, hole = Block("cylinder-front", (0, 0, 0), (40, 20, 20)), Block("hole", (15, 6, 0), (8, 8, 20))
    >>> [at.tolist() for at in runs(hole, post, np.array([[19.0, 10, 0], [19, 31, 0]]))]
    [[0.0, inf], [1.0, -inf]]
    """
    k = hole.axis
    assert k is not None
    if block.axis is None or (block.axis == k and block.shape != "cone"):
        way = np.zeros(3)
        way[k] = hole.size[k]
        (first,), (last,) = Packed((block,)).spans(places, way)
        return np.where(first > last, np.inf, first), np.where(first > last, -np.inf, last)
    own = (places - np.array(block.low)) / np.array(block.size)
    level = own[..., block.axis]
    wide = 0.5 * (1.0 - level) if block.shape == "cone" else np.full(level.shape, 0.5)
    if block.axis == k:
        first, last = np.zeros(level.shape), 1.0 - 2.0 * np.hypot(*(own[..., n] - 0.5 for n in block.plane))
        misses = last < -NEAR
    else:
        across = own[..., sum(block.plane) - k] - 0.5
        half = np.sqrt(np.maximum(wide**2 - across**2, 0.0))
        half = np.where(half < ROOT, 0.0, half)  # of what only touches, rounding alone
        first, last = 0.5 - half, 0.5 + half
        misses = (wide - np.abs(across) < -NEAR) | (level < -NEAR) | (level > 1.0 + NEAR)
    first, last = ((block.low[k] + end * block.size[k] - places[..., k]) / hole.size[k] for end in (first, last))
    return np.where(misses, np.inf, first), np.where(misses, -np.inf, last)


def pierces(hole: Block, block: Block) -> bool:
    """Whether a hole that meets a round block, a cone or a cylinder that lies across it, goes through its skin with its
    whole round, or begins or ends within it with all of it; else it does so in part, runs out over an edge, or ends in
    the skin.

    >>> post, hole = Block("cylinder-front", (0, 0, 0), (40, 20, 20)), Block("hole", (15, 6, 0), (8, 8, 20))
    >>> pierces(hole, post), pierces(hole._replace(low=(15, -3, 0)), post)
    (True, False)
    """
    rim = hole.round_at(np.arange(LOOKS) * 360.0 / LOOKS, 0.0)
    first, last = runs(hole, block, rim)
    meets = (last >= first) & (last > -NEAR) & (first < 1.0 + NEAR)
    if not (meets & (last > NEAR) & (first < 1.0 - NEAR)).any():
        return True
    beyond = ((at < NEAR).all() or (at > 1.0 - NEAR).all() for at in (first, last))  # it begins, or ends, within
    within = ((at > -NEAR).all() and (at < 1.0 + NEAR).all() for at in (first, last))
    return bool(meets.all()) and all(one or other for one, other in zip(beyond, within))


@lru_cache(maxsize=256)
def saddles_on(one: Block, other: Block) -> tuple[BoreSaddle | BoreLoop, ...]:
    """The rims of one of two cylinders or holes that lie across each other, on the other's skin: on the one that runs
    into the other with its whole round; of two as wide, and of two that cut into each other in part, on the hole, or on
    the later of front, right and upright; none on the other of the two.

    >>> wide, narrow = Block("hole-front", (0, 10, 10), (40, 20, 20)), Block("hole", (15, 16, 20), (8, 8, 20))
    >>> [type(rim).__name__ for rim in saddles_on(narrow, wide)], saddles_on(wide, narrow)
    (['BoreSaddle'], ())
    >>> [rim.half for rim in saddles_on(narrow._replace(low=(15, 26, 0), size=(8, 8, 40)), wide)]
    [90.0]
    """
    assert one.axis is not None and other.axis is not None and one.axis != other.axis
    n = 3 - one.axis - other.axis
    low, high = (max(one.low[n], other.low[n]), min(one.low[n] + one.size[n], other.low[n] + other.size[n]))
    near = NEAR * max(one.size[n], other.size[n])
    mine, its = (high - low > each.size[n] - near for each in (one, other))
    if high - low <= near or (its and not mine):
        return ()
    if mine == its and (one.is_hole, one.axis) < (other.is_hole, other.axis):
        return ()
    endless = _past(other, one)
    if mine:
        found: list[BoreSaddle | BoreLoop] = [BoreSaddle(one, endless, far) for far in (False, True)]
    else:
        c, past = (2 * (end - one.low[n]) / one.size[n] - 1.0 for end in (low, high))
        middle = (0.0 if n == one.plane[0] else 90.0) + (0.0 if past > 1.0 - NEAR else 180.0)
        found = [BoreLoop(one, endless, middle, float(np.degrees(np.arccos(c if past > 1.0 - NEAR else -past))))]
    return tuple(saddle for saddle in found if within_ends(saddle))


def _past(other: Block, one: Block) -> Block:
    """The same round skin, as long as to reach past another block at both ends."""
    k, low, size = other.axis, list(other.low), list(other.size)
    assert k is not None
    low[k] = min(other.low[k], one.low[k] - one.size[k])
    size[k] = max(other.low[k] + other.size[k], one.low[k] + 2 * one.size[k]) - low[k]
    return other._replace(low=(low[0], low[1], low[2]), size=(size[0], size[1], size[2]))


def within_ends(saddle: BoreSaddle | BoreLoop) -> bool:
    """Whether any of it lies between the ends of the round one that it is on.

    >>> post, hole = Block("cylinder-front", (0, 0, 0), (40, 20, 20)), Block("hole", (15, 6, 0), (8, 8, 10))
    >>> [within_ends(BoreSaddle(hole, post, far)) for far in (False, True)]
    [True, False]
    """
    axis = saddle.hole.axis
    assert axis is not None
    along = (saddle.at(np.arange(LOOKS) * 360.0 / LOOKS)[:, axis] - saddle.hole.low[axis]) / saddle.hole.size[axis]
    return bool((along > NEAR).any() and (along < 1.0 - NEAR).any())


def mean_run(hole: Block, block: Block) -> float | None:
    """How long lines along a hole are, in the mean over its round, within a convex block and itself; None where the
    block bounds them in one part of the round and the hole's own end in another.

    >>> post, hole = Block("cylinder-front", (0, 0, 0), (40, 20, 20)), Block("hole", (15, 6, 0), (8, 8, 20))
    >>> round(mean_run(hole, post), 6)
    19.591569
    """
    assert hole.axis is not None
    places, weights = _round(hole, block)
    begins, ends = runs(hole, block, places)
    firsts, lasts = np.stack([np.zeros(len(places)), begins]), np.stack([np.ones(len(places)), ends])
    first, last = firsts.max(axis=0), lasts.min(axis=0)
    if (last < first + NEAR).all():
        return 0.0
    if not (np.isfinite(first) & np.isfinite(last)).all() or (last < first - NEAR).any():
        return None
    for every, bound in ((firsts, first), (lasts, last)):
        if not (np.abs(every - bound) < NEAR).all(axis=1).any():
            return None
    return float(weights @ (last - first)) * hole.size[hole.axis]


@lru_cache(maxsize=1)
def _gauss() -> tuple[Array, Array]:
    """Gauss’s places from −1 to 1, and what each counts for."""
    nodes, shares = np.polynomial.legendre.leggauss(RINGS)
    return nodes, shares


def _round(hole: Block, block: Block) -> tuple[Array, Array]:
    """Places of a hole's round, and what each counts for.

    In strips across the block where it crosses it, by the angle at which each ends on the rim, so that lengths are
    smooth up to where a skin is only touched; or outward from the apex of a cone that stands over it, where they have a
    kink.
    """
    k = hole.axis
    assert k is not None
    nodes, shares = _gauss()
    if block.shape == "cone" and block.axis == k:
        x, y = ((block.low[n] + block.size[n] / 2 - hole.low[n]) / hole.size[n] * 2 - 1 for n in hole.plane)
        x, y = (x, y) if np.hypot(x, y) < 1.0 else (0.0, 0.0)
        turn = 2 * np.pi * (np.arange(ROUND) + 0.5) / ROUND
        c, s = np.cos(turn)[:, None], np.sin(turn)[:, None]
        reach = np.sqrt(1.0 - (x * s - y * c) ** 2) - (x * c + y * s)
        out = reach * (nodes + 1) / 2
        flat = {hole.plane[0]: x + out * c, hole.plane[1]: y + out * s}
        weights = out * reach * shares / ROUND
    else:
        across = hole.plane[0] if block.axis in (None, k) else sum(block.plane) - k
        ends = np.pi / 2 * nodes[:, None]
        flat = {across: np.sin(ends) + 0.0 * nodes, sum(hole.plane) - across: np.cos(ends) * nodes}
        weights = np.cos(ends) ** 2 * shares[:, None] * shares / 2
    places = np.zeros((weights.size, 3))
    for n, at in flat.items():
        places[:, n] = hole.low[n] + (at.ravel() + 1) / 2 * hole.size[n]
    places[:, k] = hole.low[k]
    return places, weights.ravel()
