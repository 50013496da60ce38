"""Solids built of blocks: boxes, wedges, ramps, cylinders and cones that touch, less holes."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_saddles import mean_run, pierces
from wise_compass.geometry.block_sections import NEAR, shared
from wise_compass.geometry.block_shapes import LINES, SLANTS, Block, Level, Packed
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Bools, dot, length, multiples, unit

OVER = 1e-4
"""Of the whole's size: how far towards the eye a ray begins."""
_packed = lru_cache(maxsize=64)(Packed)


class Built(NamedTuple):
    """Blocks that touch at most, less holes."""

    blocks: tuple[Block, ...]

    @property
    def solid(self) -> list[Block]:
        return [block for block in self.blocks if not block.is_hole]

    @property
    def extent(self) -> tuple[Array, Array]:
        """The lowest and the highest corner; holes do not count."""
        return self.packed.extent

    @property
    def span(self) -> float:
        low, high = self.extent
        return float(np.max(high - low))

    @property
    def packed(self) -> Packed:
        return _packed(self.blocks)

    def holds(self, places: Array) -> Bools:
        """Which places are solid."""
        within, holes = self.packed.holds(places), self.packed.holes
        return np.asarray(within[~holes].any(axis=0) & ~within[holes].any(axis=0))

    def near(self, places: Array, reach: float) -> Bools:
        """Which blocks have room of their box within ``reach`` of which of some places (n, 3): (blocks, n)."""
        low, high = self.packed.low[:, None] - reach, (self.packed.low + self.packed.size)[:, None] + reach
        return np.asarray(((places >= low) & (places <= high)).all(axis=2))

    def holds_about(self, places: Array, off: Array, near: Bools) -> Bools:
        """Which of the places ``off`` (n, m, 3) every one of ``places`` (n, 3) are solid, of the blocks ``near`` each:
        (n, m)."""
        around = places[:, None] + off
        full, empty = np.zeros(off.shape[:2], dtype=bool), np.zeros(off.shape[:2], dtype=bool)
        for block, mine in zip(self.blocks, near):
            if mine.any():
                found = empty if block.is_hole else full
                found[mine] |= _packed((block,)).holds(around[mine])[0]
        return np.asarray(full & ~empty)

    def open_to(self, places: Array, sights: Array) -> Bools:
        """From which places, (n, 3), nothing solid stands along the unit vectors towards the eye, from ``OVER`` of the
        whole's size on."""
        start, least, holes = OVER * self.span, 1e-9 * self.span, self.packed.holes
        first, last = (np.clip(each, start, 1e9) for each in self.packed.spans(places, sights))
        stands = last - first > least
        shut = stands[~holes].any(axis=0)
        bored = np.flatnonzero(shut & stands[holes].any(axis=0))
        if len(bored):
            shut[bored] = self._through(first[:, bored], last[:, bored], least)
        return np.asarray(~shut)

    def _through(self, first: Array, last: Array, least: float) -> Bools:
        """Whether anything solid is left on rays that pass holes, by the stretches between all places where anything
        begins or ends."""
        edges = np.sort(np.concatenate([first, last]), axis=0)
        middles, wide = (edges[1:] + edges[:-1]) / 2, edges[1:] - edges[:-1] > least
        within = (middles > first[:, None]) & (middles < last[:, None])
        holes = self.packed.holes
        return np.asarray((within[~holes].any(axis=0) & ~within[holes].any(axis=0) & wide).any(axis=0))


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


def boxes_meet(one: Block, other: Block) -> bool:
    """Whether the boxes of two blocks share room.

    >>> a, b = Block("box", (0, 0, 0), (10, 10, 10)), Block("hole", (10, 0, 0), (5, 5, 5))
    >>> boxes_meet(a, b), boxes_meet(a, b._replace(low=(9.0, 0, 0)))
    (False, True)
    """
    return all(one.low[k] + one.size[k] > other.low[k] and other.low[k] + other.size[k] > one.low[k] for k in range(3))


SIDES = 48


def _hull(block: Block) -> tuple[Array, Array, Array]:
    """Corners, face normals and edge directions of a block, a round one as flat sides inscribed in it."""
    size = np.array(block.size)
    flat = {"wedge": [[1.0, 1, 0]], "ramp": [[1.0, 0, 1]]}.get(block.shape, [])
    normals = [*np.eye(3), *(np.array(one) / size for one in flat)]
    if block.axis is None:
        letters = {"wedge": "ABDEFH", "ramp": "ABCDEH"}.get(block.shape, "ABCDEFGH")
        pairs = LINES[block.shape].split()
        first, last = (block.corners("".join(pair[k] for pair in pairs)) for k in (0, 1))
        return block.corners(letters), np.array(normals), last - first
    turns: Array = multiples(360.0 / SIDES, SIDES)
    ends = [block.round_at(turns, 0.0), block.round_at(turns, 1.0)]
    sides = np.roll(ends[0], -1, axis=0) - ends[0]
    rises = ends[1] - ends[0]
    return (
        np.concatenate(ends),
        np.concatenate([np.eye(3)[[block.axis]], cross3(sides, rises)]),
        np.concatenate([sides, rises]),
    )


def slope_level(hole: Block, block: Block) -> Level | None:
    """Where along a hole the slope of a wedge or a ramp cuts it, all of it aslant; None where it has none that crosses
    the hole's axis.

    >>> slope_level(Block("hole", (2, 2, 0), (4, 4, 10.0)), Block("ramp", (0, 0, 0), (8, 8, 8.0)))
    Level(at=0.4, one=-0.2, other=0.0)
    """
    aside, k = SLANTS.get(block.shape), hole.axis
    assert k is not None
    if aside is None or k not in (0, aside):
        return None
    across = aside if k == 0 else 0  # along the hole it recedes as it goes that way
    middle, wide = hole.low[across] + hole.size[across] / 2, hole.size[across] / 2
    steep = block.size[k] / block.size[across] / hole.size[k]
    at = (block.low[k] - hole.low[k] + block.size[k]) / hole.size[k] - (middle - block.low[across]) * steep
    return Level(at, *(-wide * steep if across == one else 0.0 for one in hole.plane))


class Bore(NamedTuple):
    """What a hole takes of a block: so much of its whole round, and how long it runs there, in the mean."""

    share: float
    long: float

    @property
    def volume_share(self) -> float:
        """The length of whole round that is as much."""
        return self.share * self.long


def _through_slope(hole: Block, block: Block, slope: Level) -> Bore | None:
    """From a block's foot to its slope, or to the hole's own end before that; None where its end lies partly beyond
    it."""
    k, reach = hole.axis, abs(slope.one) + abs(slope.other)
    assert k is not None
    starts = max((block.low[k] - hole.low[k]) / hole.size[k], 0.0)
    if starts >= slope.at + reach or starts >= 1.0:
        return Bore(1.0, 0.0)
    if not _inside_box(hole, block) or starts > slope.at - reach or slope.at - reach < 1.0 < slope.at + reach:
        return None
    return Bore(1.0, float((min(slope.at, 1.0) - starts) * hole.size[k]))


def _inside_box(hole: Block, block: Block) -> bool:
    """Whether the whole round of a hole lies within the sides of a block's box."""
    room = NEAR * max(hole.size)
    return all(
        block.low[n] - room <= hole.low[n] and hole.low[n] + hole.size[n] <= block.low[n] + block.size[n] + room
        for n in hole.plane
    )


@lru_cache(maxsize=512)
def bore(hole: Block, block: Block) -> Bore | None:
    """What a hole takes of a block that it runs through, into or out of by its ends or along its sides; nothing where
    it misses it.

    None where it ends partly beyond a slope or leaves by a slope and a side, and where only a part of its round enters
    a round skin.

    >>> hole = Block("hole", (2, 2, 0), (4, 4, 6.0))
    >>> bore(hole, Block("box", (0, 0, 0), (8, 8, 3.0))), bore(hole, Block("box", (0, 4, 0), (8, 8, 3.0)))
    (Bore(share=1.0, long=3.0), Bore(share=0.5, long=3.0))
    """
    k, together = hole.axis, reach_together(hole, block)
    beside = any(
        hole.low[n] >= block.low[n] + block.size[n] or hole.low[n] + hole.size[n] <= block.low[n] for n in hole.plane
    )
    if together is None or k is None or beside:
        return Bore(0.0, 0.0)
    start, end = together
    section = shared(hole, block)
    if section is not None:
        return Bore(section.share, float(end - start))
    slope = slope_level(hole, block)
    if slope is not None:
        return _through_slope(hole, block, slope)
    if block.axis is None:
        return None if overlap(as_cylinder(hole), block, 1e-9) else Bore(0.0, 0.0)
    long = mean_run(hole, block) if pierces(hole, block) else None
    return None if long is None else Bore(1.0, long)


def reach_together(hole: Block, block: Block) -> tuple[float, float] | None:
    """From where to where along a hole's axis both it and a block reach; None where they do not.

    >>> reach_together(Block("hole", (2, 2, 1), (4, 4, 6.0)), Block("box", (0, 0, 0), (8, 8, 3.0)))
    (1, 3.0)
    """
    k = hole.axis
    assert k is not None
    start, end = max(hole.low[k], block.low[k]), min(hole.low[k] + hole.size[k], block.low[k] + block.size[k])
    return (start, end) if end - start > 1e-9 else None


def as_cylinder(hole: Block) -> Block:
    """What fills a hole.

    >>> as_cylinder(Block("hole-front", (0, 0, 0), (9, 4, 4))).shape
    'cylinder-front'
    """
    return hole._replace(shape=hole.shape.replace("hole", "cylinder"))


def towards(drawn: Array) -> Array:
    """The direction towards the eye of a parallel picture: what it shows as a point. ``drawn`` (3, 2) is a mm along
    each axis.

    >>> towards(np.array([[-1.0, 0], [0.0, 0], [0.0, 1]])).tolist()  # square at the front
    [0.0, -1.0, 0.0]
    """
    way = unit(cross3(drawn[:, 0], drawn[:, 1]))
    return np.asarray(way if float(dot(way, np.array([-1.0, -1.0, 1.0]))) > 0 else -way) + 0.0
