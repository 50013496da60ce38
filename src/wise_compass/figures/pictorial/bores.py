"""What holes take of a solid of blocks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.block_volumes import taken_together
from wise_compass.geometry.blocks import Bore, Built, as_cylinder, bore, boxes_meet, overlap

TOUCH = 1e-9
"""mm by which two blocks may share space and still only touch."""

SIDED = 3e-3
"""Of its width: by how much a round is drawn larger, that flat sides inscribed in it hold it."""
LEAST = 1e-10
"""Of the blocks: what is less is nothing taken."""


def _narrower(one: Block, other: Block) -> bool:
    return one.size[one.plane[0]] < other.size[one.plane[0]]


def breaks_out_of(hole: Block, built: Built) -> bool:
    """Whether a hole takes only a part of its round of any block."""
    taken = [bore(hole, block) for block in built.solid]
    return any(each is None or 0.0 < each.share < 1.0 for each in taken)


class Taken(NamedTuple):
    """What a hole takes: by the share of its round, and how long it runs; or the ``volume``, in mm³, that the holes of
    some rows take once where they are counted more than once, less than 0, and what one takes whose round no one length
    tells."""

    rows: tuple[int, ...]
    bore: Bore | None
    volume: float


def taken_by(built: Built) -> list[Taken]:
    """Every hole with what it takes of blocks; what a wider one on its axis takes already is left out, and what several
    have in common is told once."""
    found = list[Taken]()
    for rows in _clusters(built):
        holes = [built.blocks[j - 1] for j in rows]
        widened = _widened(built, holes)
        if widened is not None:
            for j, hole, own in zip(rows, holes, widened):
                found += [_taken(j, hole, each) for each in own if each.long]
            continue
        alone = [_alone(built, j, hole) for j, hole in zip(rows, holes)]
        together = sum(taken_together(tuple(holes), block) for block in built.solid if _meets(holes, block))
        found += [each for mine in alone for each in mine]
        if len(holes) > 1:
            common = together - sum(each.volume for mine in alone for each in mine)
            found.append(Taken(rows, None, common))
    return [each for each in found if abs(each.volume) > LEAST * sum(block.volume for block in built.solid)]


def _taken(row: int, hole: Block, taken: Bore) -> Taken:
    one, other = hole.plane
    return Taken((row,), taken, float(np.pi / 4 * hole.size[one] * hole.size[other] * taken.volume_share))


def _clusters(built: Built) -> list[tuple[int, ...]]:
    """The rows of holes that share room with each other, or with one that does."""
    left = [j for j, block in enumerate(built.blocks, 1) if block.is_hole]
    found = list[tuple[int, ...]]()
    while left:
        mine, grown = {left[0]}, True
        while grown:
            more = {k for k in left if k not in mine and any(_near(built, j, k) for j in mine)}
            mine, grown = mine | more, bool(more)
        left = [k for k in left if k not in mine]
        found.append(tuple(sorted(mine)))
    return found


def _near(built: Built, j: int, k: int) -> bool:
    """Whether two holes share room, or nearly do."""
    one, other = (_wider(as_cylinder(built.blocks[row - 1])) for row in (j, k))
    return overlap(one, other, TOUCH)


def _wider(block: Block) -> Block:
    """A round block so much wider that flat sides inscribed in it hold all of it."""
    size = [size * (1.0 + (SIDED if k != block.axis else 0.0)) for k, size in enumerate(block.size)]
    low = [low - (more - size) / 2 for low, more, size in zip(block.low, size, block.size)]
    return block._replace(low=(low[0], low[1], low[2]), size=(size[0], size[1], size[2]))


def _meets(holes: Sequence[Block], block: Block) -> bool:
    return any(boxes_meet(hole, block) for hole in holes)


def _alone(built: Built, row: int, hole: Block) -> list[Taken]:
    """What one hole takes of all blocks."""
    whole, rest = dict[float, float](), 0.0
    for block in built.solid:
        own = bore(hole, block)
        if own is None:
            rest += taken_together((hole,), block)
        elif own.volume_share:
            whole[own.share] = whole.get(own.share, 0.0) + own.long
    found = [_taken(row, hole, Bore(share, long)) for share, long in whole.items()]
    return [*found, Taken((row,), None, rest)] if rest else found


def _widened(built: Built, holes: Sequence[Block]) -> list[list[Bore]] | None:
    """What holes on one axis take that widen each other, by the share of their rounds, without what a wider one takes
    already; None where any is otherwise."""
    found = list[list[Bore]]()
    for j, hole in enumerate(holes):
        own = [bore(hole, block) for block in built.solid]
        for k, wider in enumerate(holes):
            if j == k:
                continue
            if wider.axis != hole.axis or not _within(hole, wider):
                return None
            if _narrower(hole, wider) or (k < j and not _narrower(wider, hole)):
                both = _common(hole, wider)
                less = [bore(both, block) for block in built.solid] if both is not None else []
                own += [None if each is None else Bore(each.share, -each.long) for each in less]
        if None in own:
            return None
        long: dict[float, float] = {}
        for each in own:
            if each is not None and each.share:
                long[each.share] = long.get(each.share, 0.0) + each.long
        found.append([Bore(share, total) for share, total in long.items()])
    return found


def _within(one: Block, other: Block) -> bool:
    """Whether the narrower of two holes on one axis lies within the wider one’s round, or they share no room."""
    narrow, wide = (one, other) if _narrower(one, other) else (other, one)
    within = bore(narrow, as_cylinder(wide))
    return within is not None and within.share in (0.0, 1.0)


def _common(hole: Block, wider: Block) -> Block | None:
    """The stretch of a hole that a wider one on the same axis takes with it."""
    k = hole.axis
    assert k is not None
    both = bore(hole, as_cylinder(wider))
    if both is None or not both.volume_share:
        return None
    start, end = max(hole.low[k], wider.low[k]), min(hole.low[k] + hole.size[k], wider.low[k] + wider.size[k])
    low, size = list(hole.low), list(hole.size)
    low[k], size[k] = start, end - start
    return hole._replace(low=(low[0], low[1], low[2]), size=(size[0], size[1], size[2]))
