"""The lines along which a solid built of blocks may have edges: straight ones, rims, lips, where a hole runs out
through a side that runs along it, and contours, where a skin turns from an eye."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_cones import Saddle, rims_on_cone
from wise_compass.geometry.block_saddles import saddles_on
from wise_compass.geometry.block_sections import shared, straight_section
from wise_compass.geometry.block_shapes import LINES, SLANTS, Block, Level
from wise_compass.geometry.blocks import Built, as_cylinder, bore, boxes_meet, reach_together, slope_level
from wise_compass.geometry.vectors import Array, unit

SAME = 1e-9
"""Of a round one's length: levels that are nearer are one."""


Rim = Level | Saddle


class EdgeLine(NamedTuple):
    """An edge that may be there: of a block (by number), a straight one by its two letters, a rim by its level or its
    saddle, a lip or a contour of its skin, or, where the flat end of a hole breaks through a side, the chord of that
    side, by number.

    A straight one runs from ``start`` to ``start + one``, as do a chord, and a lip and a contour, which stand at
    ``turn``; a rim runs once round ``start``, from ``one`` over ``other``; one on a saddle does so in the mean.
    """

    block: int
    kind: str
    letters: str
    level: Rim
    turn: float
    start: Array
    one: Array
    other: Array

    def at(self, t: Array) -> Array:
        """Its places (n, 3), from 0 to 1."""
        if self.kind != "rim":
            return np.asarray(self.start + t[:, None] * self.one)
        if isinstance(self.level, Saddle):
            return self.level.at(360.0 * t)
        turn = 2 * np.pi * t[:, None]
        return np.asarray(self.start + np.cos(turn) * self.one + np.sin(turn) * self.other)


def lines_of(built: Built) -> list[EdgeLine]:
    """Every edge that may be there whoever looks.

    >>> len(lines_of(Built((Block("box", (0, 0, 0), (2, 1, 1)),))))
    12
    """
    found: list[EdgeLine] = []
    for number, block in enumerate(built.blocks):
        pairs = LINES.get(block.shape, "").split()
        starts, ends = (block.corners("".join(pair[k] for pair in pairs)) for k in (0, 1))
        found += [
            EdgeLine(number, "line", pair, Level(0.0), 0.0, a, b - a, a) for pair, a, b in zip(pairs, starts, ends)
        ]
        for level in rims_of(built, block):
            one, other, far, near = rim_at(block, level, np.array([0.0, 90.0, 180.0, 270.0]))
            middle = (one + far + other + near) / 4
            found.append(EdgeLine(number, "rim", "", level, 0.0, middle, one - middle, other - middle))
        found += [_along_skin(number, block, "lip", turn) for turn in lips_of(built, block)]
        chords = chords_of(built, block)
        found += [
            EdgeLine(number, "chord", str(k), level, 0.0, a, b - a, a) for k, (level, (a, b)) in enumerate(chords)
        ]
    return found


def _along_skin(number: int, block: Block, kind: str, turn: float) -> EdgeLine:
    """A straight line of a round one's skin, from end to end of it."""
    a, b = (block.round_at(np.array(turn), level) for level in (0.0, 1.0))
    return EdgeLine(number, kind, "", Level(0.0), turn, a, b - a, a)


def lips_of(built: Built, block: Block) -> list[float]:
    """Where round a hole, in degrees, it runs out through the side of a block or of another hole: along its skin it may
    have an edge there.

    >>> box, hole = Block("box", (0, 0, 0), (8, 8, 3)), Block("hole", (2, -2, 0), (4, 4, 3))
    >>> lips_of(Built((box, hole)), hole)
    [0.0, 180.0]
    """
    if not block.is_hole:
        return []
    found, later = set[float](), False
    for other in built.blocks:
        later = later or other is block
        if other is block or reach_together(block, other) is None:
            continue
        section = shared(block, as_cylinder(other))
        if section is None:
            found.update(_beside_faces(block, other))
        elif not (later and other.is_hole):  # an edge of two holes along each other is the later one's
            found.update(section.turns)
    return sorted(found)


def _beside_faces(block: Block, other: Block) -> Iterator[float]:
    """Where round a hole it runs through flat faces that it runs along, of a block that is not the same all along
    it."""
    for n in block.plane:
        for level in _flat_levels(other, n):
            c = 2 * (level - block.low[n]) / block.size[n] - 1.0
            beside = sum(block.plane) - n
            meets = other.low[beside] < block.low[beside] + block.size[beside]
            meets = meets and block.low[beside] < other.low[beside] + other.size[beside]
            if abs(c) < 1.0 - SAME and meets:
                turn = math.degrees(math.acos(c) if n == block.plane[0] else math.asin(c))
                yield from (turn % 360.0, (-turn if n == block.plane[0] else 180.0 - turn) % 360.0)


def _flat_levels(block: Block, axis: int) -> list[float]:
    """Where along an axis a block has flat faces square to it."""
    low, high = block.low[axis], block.low[axis] + block.size[axis]
    if block.axis is not None:
        ends = [low] if block.shape == "cone" else [low, high]
        return ends if block.axis == axis else []
    return [low] if block.shape in SLANTS and axis in (0, SLANTS[block.shape]) else [low, high]


def chords_of(built: Built, block: Block) -> list[tuple[Level, Array]]:
    """Where the flat ends of a hole lie within blocks or other holes: the stretches, (2, 3), of their straight sides
    within its round.

    >>> box, hole = Block("box", (0, 0, 0), (8, 8, 3)), Block("hole", (2, -2, 1), (4, 4, 3))
    >>> [(level.at, chord.tolist()) for level, chord in chords_of(Built((box, hole)), hole)]
    [(0.0, [[2.0, 0.0, 1.0], [6.0, 0.0, 1.0]])]
    """
    found, k, earlier = [], block.axis, True
    if not block.is_hole or k is None:
        return []
    for other in built.blocks:
        earlier = earlier and other is not block
        if other is block:
            continue
        for end in _ends_within(block, other):
            # where two holes end in each other that edge is the later one's
            chords = straight_section(block, other, end, ends=earlier or not other.is_hole)
            for chord in chords:
                at = np.full((2, 3), block.low[k] + end * block.size[k])
                at[:, block.plane] = chord
                found.append((Level(end), at))
    return found


def _ends_within(hole: Block, block: Block) -> list[float]:
    """Which ends of a hole, 0 or 1, lie between those of a block."""
    k = hole.axis
    assert k is not None
    shares = [((place - hole.low[k]) / hole.size[k]) for place in (block.low[k], block.low[k] + block.size[k])]
    return [end for end in (0.0, 1.0) if shares[0] < end - SAME and end + SAME < shares[1]]


def contour_lines(built: Built, eye: Eye) -> list[EdgeLine]:
    """Where skins turn away from an eye, from end to end of each.

    >>> post = Built((Block("cylinder", (0, 0, 0), (4, 4, 9)),))
    >>> [line.at(np.array([0.0, 1.0])).tolist() for line in contour_lines(post, Eye(np.array([0.0, -1, 0])))][1]
    [[4.0, 2.0, 0.0], [4.0, 2.0, 9.0]]
    """
    found = []
    for number, block in enumerate(built.blocks):
        found += [
            _along_skin(number, block, "contour", turn)
            for turn in (contours_of(block, eye) if block.axis is not None else ())
        ]
    return found


def rims_of(built: Built, block: Block) -> list[Rim]:
    """Every rim that a block may have: plane ones, then those on saddles, where a hole enters a round skin or another
    hole.

    >>> post, hole = Block("cylinder-front", (0, 0, 0), (40, 20, 20)), Block("hole", (15, 6, 0), (8, 8, 20))
    >>> [type(rim).__name__ for rim in rims_of(Built((post, hole)), hole)]
    ['Level', 'Level', 'BoreSaddle', 'BoreSaddle']
    """
    if block.axis is None:
        return []
    saddles: list[Rim] = []
    for other in built.blocks:
        if other.axis is None or not (block.is_hole or other.is_hole) or not boxes_meet(block, other):
            continue
        if "cone" not in (block.shape, other.shape):
            saddles += saddles_on(block, other) if block.axis != other.axis else ()
        elif block.is_hole:
            saddles += rims_on_cone(block, other)
    return [*levels_of(built, block), *saddles]


def rim_at(block: Block, rim: Rim, turns: Array) -> Array:
    """Places of a rim of a block, so far round in degrees, (n, 3).

    >>> rim_at(Block("hole", (2, 2, 0), (4, 4, 6)), Level(0.5), np.array([0.0])).tolist()
    [[6.0, 4.0, 3.0]]
    """
    return rim.at(turns) if isinstance(rim, Saddle) else block.round_at(turns, rim)


def levels_of(built: Built, block: Block) -> list[Level]:
    """Where a round one may have plane rims: at its ends, and a hole where it enters or leaves a block or a wider hole,
    aslant where that is a slope.

    >>> box, hole = Block("box", (0, 0, 0), (8, 8, 3)), Block("hole", (2, 2, 0), (4, 4, 6))
    >>> [level.at for level in levels_of(Built((box, hole)), hole)]
    [0.0, 0.5, 1.0]
    """
    axis = block.axis
    assert axis is not None
    if not block.is_hole:
        ends = {Level(0.0)} if block.shape == "cone" else {Level(0.0), Level(1.0)}
        return sorted({*ends, *_broken(built, block)})
    ends = {Level(0.0), Level(1.0)}
    for other in built.blocks:
        if other is block or other.axis not in (None, axis):
            continue
        taken = bore(block, as_cylinder(other))
        if taken is not None and not taken.volume_share:
            continue
        places = (other.low[axis], other.low[axis] + other.size[axis])
        shares = ((place - block.low[axis]) / block.size[axis] for place in places)
        ends |= {Level(share) for share in shares if SAME < share < 1.0 - SAME}
        slope = slope_level(block, other)
        if slope is not None and -_rise(slope) < slope.at < 1.0 + _rise(slope):
            ends.add(slope)
    levels = sorted(ends)
    return [
        level for k, level in enumerate(levels) if not k or max(abs(a - b) for a, b in zip(level, levels[k - 1])) > SAME
    ]


def _rise(slope: Level) -> float:
    """How far an aslant level reaches up and down from its middle."""
    return abs(slope.one) + abs(slope.other)


def _broken(built: Built, block: Block) -> list[Level]:
    """Where the flat end of a hole breaks through the skin of a cylinder or a cone: its rim runs round there."""
    axis, found = block.axis, []
    assert axis is not None
    for hole in built.blocks:
        if not hole.is_hole or hole.axis != axis or not boxes_meet(hole, block):
            continue
        section = shared(hole, block)
        if section is None or section.turns or SAME < section.share < 1.0 - SAME:  # or all of it is cut off
            ends = (hole.low[axis] + end * hole.size[axis] for end in _ends_within(hole, block))
            found += [Level((place - block.low[axis]) / block.size[axis]) for place in ends]
    return found


class Eye(NamedTuple):
    """Who looks: from far off ``towards`` (3,), or, where ``stands``, from that very place."""

    towards: Array
    stands: bool = False


def contours_of(block: Block, eye: Eye) -> list[float]:
    """Where round a round one its skin turns away from an eye, in degrees: where planes that touch it and hold the eye
    do so.

    Of a cone they hold its apex too, and meet its base in the tangents from where the line of apex and eye does.

    >>> [round(turn, 9) for turn in contours_of(Block("cylinder", (0, 0, 0), (4, 4, 9)), Eye(np.array([0.0, -1, 0])))]
    [-180.0, 0.0]
    >>> upright = Block("cylinder", (0, 0, 0), (4, 4, 9))
    >>> [round(turn, 9) for turn in contours_of(upright, Eye(np.array([6.0, 2, 0]), True))]
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
