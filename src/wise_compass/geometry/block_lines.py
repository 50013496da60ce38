"""The lines along which a solid built of blocks may have edges: straight ones, rims, and contours, where a skin turns from an eye."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_shapes import LINES, Block, Level
from wise_compass.geometry.blocks import Built, apart_or_within, slope_level
from wise_compass.geometry.vectors import Array, unit


class Line(NamedTuple):
    """An edge that may be there: of a block (by number), a straight one by its two letters, a rim by its level, or a contour of its skin.

    A straight one runs from ``start`` to ``start + one``, as does a contour, which stands at ``turn``; a rim runs once round
    ``start``, from ``one`` over ``other``.
    """

    block: int
    kind: str
    letters: str
    level: Level
    turn: float
    start: Array
    one: Array
    other: Array

    def at(self, t: Array) -> Array:
        """Its places (n, 3), from 0 to 1."""
        if self.kind != "rim":
            return np.asarray(self.start + t[:, None] * self.one)
        turn = 2 * np.pi * t[:, None]
        return np.asarray(self.start + np.cos(turn) * self.one + np.sin(turn) * self.other)


def lines_of(built: Built) -> list[Line]:
    """Every edge that may be there whoever looks.

    >>> len(lines_of(Built((Block("box", (0, 0, 0), (2, 1, 1)),))))
    12
    """
    found: list[Line] = []
    for number, block in enumerate(built.blocks):
        for letters in LINES.get(block.shape, "").split():
            a, b = (block.corner(letter) for letter in letters)
            found.append(Line(number, "line", letters, Level(0.0), 0.0, a, b - a, a))
        for level in levels_of(built, block) if block.axis is not None else ():
            one, other, far = block.round_at(np.array([0.0, 90.0, 180.0]), level)
            middle = (one + far) / 2
            found.append(Line(number, "rim", "", level, 0.0, middle, one - middle, other - middle))
    return found


def contour_lines(built: Built, eye: Eye) -> list[Line]:
    """Where skins turn away from an eye, from end to end of each.

    >>> post = Built((Block("cylinder", (0, 0, 0), (4, 4, 9)),))
    >>> [line.at(np.array([0.0, 1.0])).tolist() for line in contour_lines(post, Eye(np.array([0.0, -1, 0])))][1]
    [[4.0, 2.0, 0.0], [4.0, 2.0, 9.0]]
    """
    found = []
    for number, block in enumerate(built.blocks):
        for turn in contours_of(block, eye) if block.axis is not None else ():
            a, b = (block.round_at(np.array(turn), level) for level in (0.0, 1.0))
            found.append(Line(number, "contour", "", Level(0.0), turn, a, b - a, a))
    return found


def levels_of(built: Built, block: Block) -> list[Level]:
    """Where a round one may have rims: at its ends, and a hole where it enters or leaves a block, aslant where that is a slope.

    >>> box, hole = Block("box", (0, 0, 0), (8, 8, 3)), Block("hole", (2, 2, 0), (4, 4, 6))
    >>> [level.at for level in levels_of(Built((box, hole)), hole)]
    [0.0, 0.5, 1.0]
    """
    axis = block.axis
    assert axis is not None
    if not block.is_hole:
        return [Level(0.0)] if block.shape == "cone" else [Level(0.0), Level(1.0)]
    ends = {Level(0.0), Level(1.0)}
    for other in built.solid:
        for place in (other.low[axis], other.low[axis] + other.size[axis]):
            share = (place - block.low[axis]) / block.size[axis]
            if 1e-9 < share < 1 - 1e-9:
                ends.add(Level(share))
        slope = slope_level(block, other)
        if slope is not None and 0.0 < slope.at < 1.0 and apart_or_within(block, other):
            ends.add(slope)
    return sorted(ends)


class Eye(NamedTuple):
    """Who looks: from far off ``towards`` (3,), or, where ``stands``, from that very place."""

    towards: Array
    stands: bool = False


def contours_of(block: Block, eye: Eye) -> list[float]:
    """Where round a round one its skin turns away from an eye, in degrees: where planes that touch it and hold the eye do so.

    Of a cone they hold its apex too, and meet its base in the tangents from where the line of apex and eye does.

    >>> [round(turn, 9) for turn in contours_of(Block("cylinder", (0, 0, 0), (4, 4, 9)), Eye(np.array([0.0, -1, 0])))]
    [-180.0, 0.0]
    >>> [round(turn, 9) for turn in contours_of(Block("cylinder", (0, 0, 0), (4, 4, 9)), Eye(np.array([6.0, 2, 0]), True))]
    [-60.0, 60.0]
    """
    assert block.axis is not None
    (i, j), k, near = block.plane, block.axis, float(eye.stands)
    x, y = (float(eye.towards[n] - near * (block.low[n] + block.size[n] / 2)) / block.size[n] * 2 for n in (i, j))
    weight = near
    if block.shape == "cone":
        up = float(eye.towards[k] - near * block.low[k])
        x, y, weight = -x, -y, up / block.size[k] - near
    wide = float(np.hypot(x, y))
    if wide < 1e-12 or abs(weight) >= wide * (1 - 1e-9):
        return []
    middle, half = float(np.degrees(np.arctan2(y, x))), float(np.degrees(np.arccos(weight / wide)))
    return [middle - half, middle + half]


def outward(block: Block, turn: float) -> Array:
    """The unit normal of a round one's skin, so far round in degrees.

    >>> outward(Block("cylinder", (0, 0, 0), (4, 4, 9)), 90.0).round(9).tolist()
    [0.0, 1.0, 0.0]
    """
    (i, j), k = block.plane, block.axis
    assert k is not None
    normal = np.zeros(3)
    normal[i], normal[j] = np.cos(np.deg2rad(turn)) / block.size[i], np.sin(np.deg2rad(turn)) / block.size[j]
    if block.shape == "cone":
        normal[k] = 0.5 / block.size[k]
    return np.asarray(unit(normal))
