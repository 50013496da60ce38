"""What a round hole shares with the section of a block that runs along it, and where its rim runs out through the
block's sides.

In the hole's own plane its rim is taken for the unit circle, so that an ellipse is one too; areas come back as shares
of the whole round.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_cones import straight_in_cone
from wise_compass.geometry.block_shapes import SLANTS, Block
from wise_compass.geometry.borders import borders
from wise_compass.geometry.vectors import Array

NEAR = 1e-8
"""Of the hole's radius: what reaches no further over a side touches it."""
STEP = 1e-3
"""Radians by which a crossing may lie off where it was looked for."""
LOOKS = 720
"""Places of a rim that are looked at for where it crosses a round block."""
SQUARE, TRIANGLE = [[0, 0], [1, 0], [1, 1], [0, 1]], [[0, 0], [1, 0], [0, 1]]
OUTLINES = {("box", 0): SQUARE, ("box", 1): SQUARE, ("box", 2): SQUARE, ("wedge", 2): TRIANGLE, ("ramp", 1): TRIANGLE}
"""The sections, square to an axis, of the flat-sided blocks that are the same all along it."""


class Section(NamedTuple):
    """What a hole shares with the section of a block: which ``share`` of its round, the ``turns`` in degrees at which
    its rim crosses the section's outline, and the ``chords``, (n, 2, 2), the stretches of straight sides within it, in
    mm along the hole's plane."""

    share: float
    turns: tuple[float, ...]
    chords: Array


NOTHING = np.zeros((0, 2, 2))


@lru_cache(maxsize=512)
def shared(hole: Block, block: Block) -> Section | None:
    """What a hole shares with a block that is the same all along it; None where the block is not.

    A rim that only touches a side does not cross it. The area is that of Green's theorem, round all that is within
    both.

    >>> within, half = Block("hole", (2, 2, 0), (4, 4, 6)), Block("hole", (2, -2, 0), (4, 4, 6))
    >>> box = Block("box", (0, 0, 0), (8, 8, 3))
    >>> shared(within, box).share, shared(half, box).share, shared(half, box).turns
    (1.0, 0.5, (0.0, 180.0))
    >>> shared(half, box).chords.tolist()
    [[[2.0, 0.0], [6.0, 0.0]]]
    """
    axis = hole.axis
    assert axis is not None
    if block.axis == axis and block.shape != "cone":
        return _with_round(hole, block)
    outline = OUTLINES.get((block.shape, axis))
    if outline is None:
        return None
    found = _with_flat(_own(hole, np.array(outline, dtype=float), block))
    plane = list(hole.plane)
    low, size = (np.array(each)[plane] for each in (hole.low, hole.size))
    return found._replace(chords=low + (found.chords + 1.0) / 2 * size)


def straight_section(hole: Block, block: Block, end: float, ends: bool) -> Array:
    """Stretches of straight sides that a block, or what fills another hole, has in the plane of a hole's flat end, 0 or
    1, within its round: (n, 2, 2), in mm along the hole's plane. Without ``ends`` those alone that a skin leaves, which
    lies across the hole.

    >>> ramp, hole = Block("ramp", (0, 0, 0), (10, 8, 10)), Block("hole", (3, 2, 0), (4, 4, 5))
    >>> straight_section(hole, ramp, 1.0, True).tolist()
    [[[5.0, 2.0], [5.0, 6.0]]]
    """
    k = hole.axis
    assert k is not None
    share = (hole.low[k] + end * hole.size[k] - block.low[k]) / block.size[k]
    outline = _outline_at(block, k, share)
    if outline is None:
        return NOTHING
    found = _with_flat(_own(hole, np.array(outline, dtype=float), block)).chords
    if not ends and block.axis is not None:
        n = hole.plane.index(block.axis)
        found = found[np.abs(found[:, 0, n] - found[:, 1, n]) > NEAR]
    low, size = (np.array(each)[list(hole.plane)] for each in (hole.low, hole.size))
    found = low + (found + 1.0) / 2 * size
    if block.shape == "cone" and len(outline) > 3:  # else its sides are straight too
        found = found[(np.abs(found[:, :, 1] - block.low[2]) <= NEAR * block.size[2]).all(axis=1)]
    return np.asarray(found)


def _outline_at(block: Block, axis: int, share: float) -> list[list[float]] | None:
    """The straight-sided section of a block, in its box from 0 to 1, so far along an axis; None where it is round."""
    one, other = (k for k in range(3) if k != axis)
    wide = {one: (0.0, 1.0), other: (0.0, 1.0)}
    if (block.shape, axis) in OUTLINES:
        return [[float(x), float(y)] for x, y in OUTLINES[block.shape, axis]]
    if block.axis == axis:
        return None
    if block.shape == "cone":
        return straight_in_cone(share - 0.5)
    if block.axis is not None:
        half = math.sqrt(max(0.25 - (share - 0.5) ** 2, 0.0))
        wide[3 - axis - block.axis] = (0.5 - half, 0.5 + half)
    else:  # a slant that recedes along the axis
        wide[SLANTS[block.shape] if axis == 0 else 0] = (0.0, 1.0 - share)
    (a, b), (c, d) = wide[one], wide[other]
    return [[a, c], [b, c], [b, d], [a, d]]


def _own(hole: Block, flat: Array, block: Block) -> Array:
    """Places of a block's box, (n, 2) from 0 to 1, in the plane in which the hole's rim is the unit circle."""
    plane = list(hole.plane)
    low, size = (np.array(each)[plane] for each in (block.low, block.size))
    mine, wide = (np.array(each)[plane] for each in (hole.low, hole.size))
    return np.asarray((low + flat * size - mine - wide / 2) / (wide / 2))


def _with_flat(corners: Array) -> Section:
    """The same in the hole's plane for an outline of straight sides, anticlockwise."""
    ways = np.roll(corners, -1, axis=0) - corners
    long = np.hypot(*ways.T)
    ways /= long[:, None]
    normals = np.stack([ways[:, 1], -ways[:, 0]], axis=1)
    over = (corners * normals).sum(axis=1)  # how far the middle is within each side
    if (over <= NEAR - 1.0).any():
        return Section(0.0, (), NOTHING)
    turns, chords, area = list[float](), list[Array](), 0.0
    for corner, way, size, off in zip(corners, ways, long.tolist(), over.tolist()):
        middle, half = -float(corner @ way), math.sqrt(max(1.0 - off * off, 0.0))
        first, last = max(middle - half, 0.0), min(middle + half, size)
        if off >= 1.0 - NEAR or last - first <= NEAR:
            continue
        area += off * (last - first) / 2
        chords.append(np.array([corner + along * way for along in (first, last)]))
        ends = (corner + along * way for along in (middle - half, middle + half) if -NEAR <= along <= size + NEAR)
        turns += [math.degrees(math.atan2(y, x)) for x, y in ends]
    turns = _each_once(turns)
    share = _share(area, turns, lambda at: bool((normals @ at < over + NEAR).all()))
    return Section(share, tuple(turns), np.array(chords).reshape(-1, 2, 2))


def _with_round(hole: Block, block: Block) -> Section:
    """The same for a cylinder that runs as the hole does."""
    (x, y), (far, top) = _own(hole, np.array([[0.5, 0.5], [1.0, 1.0]]), block).tolist()
    p, q = far - x, top - y

    def off(turn: Array) -> Array:
        """How far out of the cylinder's section places of the rim are, as a share of it; below 0 within it."""
        return np.asarray(np.hypot((np.cos(turn) - x) / p, (np.sin(turn) - y) / q) - 1.0)

    looks = np.linspace(0.0, 2 * np.pi, LOOKS + 1)
    away = off(looks) > NEAR
    low, high = (looks[k : len(looks) - 1 + k][away[:-1] != away[1:]] for k in (0, 1))
    found = borders(lambda at, _: off(at) > NEAR, low, high, off(low) > NEAR, 50)
    if len(found):
        middles = (found + np.append(found[1:], found[0] + 2 * np.pi)) / 2
        touches = np.abs(off(middles)) <= NEAR  # between this crossing and the next
        found = found[~(touches | np.roll(touches, 1))]
    turns = _each_once(np.degrees(_at_nothing(found, x, y, p, q)).tolist())
    area, crossings = 0.0, [(math.cos(math.radians(turn)), math.sin(math.radians(turn))) for turn in turns]
    around = sorted(math.atan2((v - y) / q, (u - x) / p) for u, v in crossings) or [0.0]
    for a, b in zip(around, [*around[1:], around[0] + 2 * math.pi]):
        if math.hypot(x + p * math.cos((a + b) / 2), y + q * math.sin((a + b) / 2)) < 1.0 - NEAR:
            area += (p * q * (b - a) + x * q * (math.sin(b) - math.sin(a)) - y * p * (math.cos(b) - math.cos(a))) / 2
    share = _share(area, turns, lambda at: bool(off(np.arctan2(at[1], at[0])) <= NEAR))
    return Section(share, tuple(turns), NOTHING)


def _at_nothing(turns: Array, x: float, y: float, p: float, q: float) -> Array:
    """Turns near which the unit circle crosses an ellipse about (x, y), with half axes p and q, by Newton's method;
    where they all but touch, as they are."""
    for _ in range(3):
        u, v = (np.cos(turns) - x) / p, (np.sin(turns) - y) / q
        slope = 2 * (v * np.cos(turns) / q - u * np.sin(turns) / p)
        with np.errstate(divide="ignore", invalid="ignore"):
            step = (u * u + v * v - 1.0) / slope
        turns = np.where(np.abs(step) < STEP, turns - step, turns)
    return np.asarray(turns)


def _each_once(turns: list[float]) -> list[float]:
    """Turns in order, those of a corner through which two sides run once."""
    kept = list[float]()
    for turn in sorted(round(one, 9) % 360.0 + 0.0 for one in turns):
        if not kept or turn - kept[-1] > 1e-6 and turn - kept[0] < 360.0 - 1e-6:
            kept.append(turn)
    return kept


def _share(area: float, turns: list[float], within: Callable[[Array], bool]) -> float:
    """The share of the whole round: the area that an outline bounds within it, and that of its own arcs between
    crossings that lie within."""
    begins = turns or [37.0]  # of a round that crosses nothing any place tells; not one where it may touch a side
    for a, b in zip(begins, [*begins[1:], begins[0] + 360.0]):
        middle = np.deg2rad((a + b) / 2)
        if within(np.array([np.cos(middle), np.sin(middle)])):
            area += float(np.deg2rad(b - a)) / 2
    return area / np.pi
