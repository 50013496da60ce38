"""Where holes cut into a cone, with their whole round or in part: rims on its skin, and the hyperbolas in which flat
ends that stand upright cut through it.

In a cone's own coordinates, from 0 to 1 in its box, its skin is where the distance from its axis is half of what is
left to its apex.
"""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_saddles import NEAR, BoreLoop, BoreSaddle, within_ends
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.borders import borders
from wise_compass.geometry.vectors import Array, Bools

LEAST = 1e-6
"""Degrees of a round, and share of a cone's width: what is less is none."""
LOOKS, HALVINGS = 360, 42


class Hyperbola(NamedTuple):
    """Where an upright plane square to an axis cuts a cone's skin, so far ``off`` the cone's axis as a share of its
    width: over the places between ``first`` and ``last`` in the curve's own parameter, 0 at its crown."""

    cone: Block
    axis: int
    off: float
    first: float
    last: float

    def at(self, turns: Array) -> Array:
        """Its places, from 0 to 360 from the one end to the other, (…, 3)."""
        along = self.first + np.asarray(turns) / 360.0 * (self.last - self.first)
        own = np.zeros((*np.shape(turns), 3))
        own[..., self.axis], own[..., 1 - self.axis] = 0.5 + self.off, 0.5 + abs(self.off) * np.sinh(along)
        own[..., 2] = 1.0 - 2.0 * abs(self.off) * np.cosh(along)
        return np.asarray(np.array(self.cone.low) + own * np.array(self.cone.size))


def through_axis(cone: Block, axis: int, at: float) -> bool:
    """Whether a plane that stands ``at`` along an axis cuts a cone through its own.

    >>> cone = Block("cone", (0, 0, 0), (40, 40, 60))
    >>> through_axis(cone, 0, 20.0), through_axis(cone, 0, 21.0)
    (True, False)
    """
    return abs((at - cone.low[axis]) / cone.size[axis] - 0.5) <= LEAST


def hyperbola_between(cone: Block, axis: int, at: float, first: float, last: float) -> Hyperbola | None:
    """What a plane that stands ``at`` along an axis cuts of a cone's skin between two places along the other; None
    through its axis, where that is straight.

    >>> cone = Block("cone", (0, 0, 0), (40, 40, 60))
    >>> hyperbola_between(cone, 0, 30.0, 20.0, 30.0).at(np.array([0.0, 360.0])).round(6).tolist()
    [[30.0, 20.0, 30.0], [30.0, 30.0, 17.573593]]
    """
    if through_axis(cone, axis, at):
        return None
    off = (at - cone.low[axis]) / cone.size[axis] - 0.5
    beside = ((place - cone.low[1 - axis]) / cone.size[1 - axis] - 0.5 for place in (first, last))
    return Hyperbola(cone, axis, off, *(float(np.arcsinh(each / abs(off))) for each in beside))


Saddle = BoreSaddle | BoreLoop | Hyperbola


@lru_cache(maxsize=256)
def rims_on_cone(hole: Block, cone: Block) -> tuple[Saddle, ...]:
    """The rims of a hole on a cone's skin, as if both were longer at the cone's foot: one on a saddle where an upright
    hole comes out; two where one that runs level goes through, or a loop for every arc of its round within the cone;
    and the hyperbolas of its flat ends.

    >>> cone = Block("cone", (0, 0, 0), (40, 40, 60))
    >>> def kinds(hole):
    ...     return [type(rim).__name__ for rim in rims_on_cone(hole, cone)]
    >>> kinds(Block("hole", (30, 16, 0), (20, 8, 60))), kinds(Block("hole-front", (0, 2, 20), (40, 16, 16)))
    (['BoreSaddle'], ['BoreLoop'])
    >>> kinds(Block("hole-front", (0, 16, 30), (15, 8, 20)))
    ['BoreSaddle', 'Hyperbola', 'Hyperbola']
    """
    if any(hole.low[n] >= cone.low[n] + cone.size[n] or hole.low[n] + hole.size[n] <= cone.low[n] for n in hole.plane):
        return ()
    larger = _down_past(cone, hole)
    if hole.axis == cone.axis:
        found: list[BoreSaddle | BoreLoop] = [BoreSaddle(hole, larger, True)]
        return tuple(rim for rim in found if within_ends(rim))
    arcs = _arcs_within(hole, cone)
    if arcs == [(0.0, 360.0)]:
        found = [BoreSaddle(hole, larger, far) for far in (False, True)]
    else:
        found = [BoreLoop(hole, larger, (a + b) / 2, (b - a) / 2) for a, b in arcs]
    curves = [curve for end in (0.0, 1.0) for curve in _end_curves(hole, cone, end)]
    return (*(rim for rim in found if within_ends(rim)), *curves)


def _own(hole: Block, cone: Block) -> tuple[Array, Array]:
    """The middle and the half widths of a hole in a cone's own coordinates, (3,) both."""
    size = np.array(cone.size)
    return (np.array(hole.low) + np.array(hole.size) / 2 - np.array(cone.low)) / size, np.array(hole.size) / 2 / size


def _down_past(cone: Block, hole: Block) -> Block:
    """The same cone, its foot so far down that it lies beneath and beyond all of a hole's round."""
    middle, half = _own(hole, cone)
    if hole.axis == cone.axis:
        long = 2.0 * float(np.hypot(*(abs(middle[n] - 0.5) + half[n] for n in hole.plane)))
    else:
        long = 1.0 - float(middle[2] - half[2])
    if long <= 1.0:
        return cone
    low, size = np.array(cone.low), np.array(cone.size)
    apex = low + size * [0.5, 0.5, 1.0]
    x, y, z = (apex - long * size * [0.5, 0.5, 1.0]).tolist()
    wide, deep, high = (long * size).tolist()
    return cone._replace(low=(x, y, z), size=(wide, deep, high))


def _arcs_within(hole: Block, cone: Block) -> list[tuple[float, float]]:
    """From where to where, in degrees, the round of a hole that runs level is within a cone that goes on down past its
    foot, as seen along the hole."""
    middle, half = _own(hole, cone)
    (n, _), turns = hole.plane, list[float]()
    x, y, wide, high = middle[n] - 0.5, middle[2], half[n], half[2] / 2
    for side in (-1.0, 1.0):
        room, reach = 0.5 - side * x - y / 2, float(np.hypot(wide, high))
        if abs(room) < reach * (1.0 - NEAR):
            towards, apart = np.arctan2(high, side * wide), np.arccos(room / reach)
            turns += np.degrees([towards - apart, towards + apart]).tolist()
    turns = sorted(turn % 360.0 for turn in turns if y + 2 * high * np.sin(np.deg2rad(turn)) < 1.0 + NEAR)

    def within(turn: float) -> bool:
        c, s = np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))
        return bool(abs(x + wide * c) <= 0.5 - y / 2 - high * s)

    if not turns:
        # where it may touch the skin is none of these
        return [(0.0, 360.0)] if all(within(turn) for turn in (7.0, 97.0, 187.0, 277.0)) else []
    pairs = zip(turns, [*turns[1:], turns[0] + 360.0])
    return [(a, b) for a, b in pairs if b - a > LEAST and within((a + b) / 2)]


def _end_curves(hole: Block, cone: Block, end: float) -> list[Hyperbola]:
    """The hyperbolas of one end within the hole's round, on either side of the crown; none through the axis, where they
    are straight."""
    k = hole.axis
    assert k is not None
    aside = (hole.low[k] + end * hole.size[k] - cone.low[k]) / cone.size[k] - 0.5
    off = abs(aside)
    if not LEAST < off < 0.5 - LEAST:
        return []
    middle, half = _own(hole, cone)
    n = hole.plane[0]

    def within(along: Array) -> Bools:
        x, y = 0.5 + off * np.sinh(along) - middle[n], 1.0 - 2.0 * off * np.cosh(along) - middle[2]
        return np.asarray((x / half[n]) ** 2 + (y / half[2]) ** 2 < 1.0 - NEAR)

    found, foot = list[Hyperbola](), float(np.arccosh(0.5 / off))
    for side in (-1.0, 1.0):
        looks = side * foot * np.arange(LOOKS + 1) / LOOKS
        inside = within(looks)
        step = np.flatnonzero(inside[1:] != inside[:-1])
        turns = borders(lambda at, _: within(at), looks[step], looks[step + 1], inside[step], HALVINGS).tolist()
        ends = [0.0] * bool(inside[0]) + turns + [side * foot] * bool(inside[-1])
        found += [Hyperbola(cone, k, aside, a, b) for a, b in zip(ends[::2], ends[1::2]) if abs(b - a) > LEAST]
    return found


def straight_in_cone(off: float) -> list[list[float]]:
    """The straight sides of a cone's section upright through it, so far off its axis, in its box: those of a triangle
    through the axis, else of a box whose foot alone is one.

    >>> straight_in_cone(0.0), straight_in_cone(0.3)[1:3]
    ([[0.0, 0.0], [1.0, 0.0], [0.5, 1.0]], [[0.9, 0.0], [0.9, 1.0]])
    """
    if abs(off) <= LEAST:
        return [[0.0, 0.0], [1.0, 0.0], [0.5, 1.0]]
    half = float(np.sqrt(max(0.25 - off * off, 0.0)))
    return [[0.5 - half, 0.0], [0.5 + half, 0.0], [0.5 + half, 1.0], [0.5 - half, 1.0]]
