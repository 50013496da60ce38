"""What holes take of a solid of blocks, and which of them no hand could draw here: those whose rims run over an
edge."""

from __future__ import annotations

from itertools import combinations

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import least_mm, most_mm
from wise_compass.figures.pictorial.axes import NAMES
from wise_compass.geometry.block_saddles import mean_run, runs
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Bore, Built, as_cylinder, bore, enters, overlap, slope_level
from wise_compass.geometry.vectors import Array

TRIED = 201
"""Places at which it is asked whether a hole could stand there."""
TOUCH = 1e-9
"""mm by which two blocks may share space and still only touch."""


def refuse_holes(built: Built) -> None:
    """Raise :class:`Refused`, naming rows, for holes that end within a skin, run out over an edge, or cut into each
    other otherwise than by widening or by entering with the whole round."""
    holes = [(j, hole) for j, hole in enumerate(built.blocks, 1) if hole.is_hole]
    for j, hole in holes:
        for k, block in enumerate(built.blocks, 1):
            if not block.is_hole and bore(hole, block) is None:
                raise Refused("rows", f"Row {j} of rows is a hole that {_why(hole, block, k)}")
    crossing = {
        (j, k)
        for (j, one), (k, other) in combinations(holes, 2)
        if overlap(as_cylinder(one), as_cylinder(other), TOUCH)
    }
    for j, k in sorted(crossing):
        if not _goes_into(built, built.blocks[j - 1], built.blocks[k - 1]):
            raise Refused(
                "rows",
                f"Rows {j} and {k} of rows are holes that cut into each other: one may widen "
                "the other, or enter it with its whole round. "
                "Narrow or move one in rows.",
            )
    for i, j, k in combinations([j for j, _ in holes], 3):
        if {(i, j), (i, k), (j, k)} <= crossing and len({built.blocks[n - 1].axis for n in (i, j, k)}) > 1:
            raise Refused(
                "rows",
                f"Rows {i}, {j} and {k} of rows are holes that all cut into each other; two may. Move one in rows.",
            )


def _goes_into(built: Built, one: Block, other: Block) -> bool:
    """Whether one of two holes that share room widens the other, or enters it with its whole round."""
    if one.axis == other.axis:
        narrow, wide = (one, other) if _narrower(one, other) else (other, one)
        within = bore(narrow, as_cylinder(wide))
        return within is not None and within.share == 1.0
    for hole, wide in ((one, other), (other, one)):
        if enters(hole, wide):
            return all(mean_run(hole, (block, as_cylinder(wide))) is not None for block in built.solid)
    return False


def _narrower(one: Block, other: Block) -> bool:
    return one.size[one.plane[0]] < other.size[one.plane[0]]


def _why(hole: Block, block: Block, row: int) -> str:
    """What is wrong with a hole that does not go through a slope or a round skin with its whole round, and what would
    do."""
    k = hole.axis
    assert k is not None
    what = "slope" if block.axis is None else "skin"
    for n in hole.plane:
        least, most = block.low[n], block.low[n] + block.size[n] - hole.size[n]
        if most < least - TOUCH:
            width = most_mm(block.size[n])
            return (
                f"runs out over an edge of row {row}: {NAMES[n]}, that is {width} wide, and only whole "
                f"rounds go through its {what}. Narrow it in rows."
            )
        room = _room(hole, block, n)
        if room is not None:
            stands = f"its corner may stand from {least_mm(room[0])} to {most_mm(room[1])} along {NAMES[n]}"
            return (
                f"runs out over an edge of row {row}, and only whole rounds go through "
                f"its {what}: {stands}. Move it in rows."
            )
    ends = _skin(hole, block)
    if not np.isfinite(ends).all():
        return (
            f"runs out over an edge of row {row}: only whole rounds go through its {what}. Narrow or move it in rows."
        )
    low, high = (hole.low[k] + float(share) * hole.size[k] for share in (ends.min(), ends.max()))
    reach = f"which it meets from {most_mm(low)} to {least_mm(high)} along {NAMES[k]}"
    return f"ends within the {what} of row {row}, {reach}: begin and end it outside of that, in rows."


def _room(hole: Block, block: Block, n: int) -> tuple[float, float] | None:
    """From where to where a hole's corner may stand along axis ``n``, nearest to where it stands now, so that it goes
    through a block with its whole round; None where it may not anywhere."""

    def serves(at: float) -> bool:
        low = [*hole.low]
        low[n] = at
        taken = bore(hole._replace(low=(low[0], low[1], low[2])), block)
        return taken is not None and taken.share == 1.0 and taken.long > TOUCH

    def end(inside: float, outside: float) -> float:
        for _ in range(40):
            middle = (inside + outside) / 2
            inside, outside = (middle, outside) if serves(middle) else (inside, middle)
        return inside

    tried = np.linspace(block.low[n] - hole.size[n], block.low[n] + block.size[n], TRIED).tolist()
    good = [k for k, at in enumerate(tried) if serves(at)]
    if not good:
        return None
    nearest = min(good, key=lambda k: abs(tried[k] - hole.low[n]))
    first = last = nearest
    while first - 1 in good:
        first -= 1
    while last + 1 in good:
        last += 1
    # both ends of what is tried lie beside the block, where nothing serves
    return end(tried[first], tried[first - 1]), end(tried[last], tried[last + 1])


def _skin(hole: Block, block: Block) -> Array:
    """Where a hole's rim meets the slope or the skin that one of its ends lies in, in lengths of the hole."""
    slope = slope_level(hole, block)
    if slope is not None:
        reach = abs(slope.one) + abs(slope.other)
        return np.array([slope.at - reach, slope.at + reach])
    rim = hole.round_at(np.arange(360.0), 0.0)
    first, last = runs(hole, block, rim)
    if block.axis == hole.axis:  # a cone: within the round it may rise to its apex
        apex = np.array(block.low) + np.array(block.size) * [0.5, 0.5, 1.0]
        apex[2] = rim[0, 2]
        last = np.append(last, runs(hole, block, apex[None])[1] if _over(hole, apex) else last[:1])
    within = [side for side in (first, last) if any(side.min() < end < side.max() for end in (0.0, 1.0))]
    return np.asarray(within[0] if within else first)


def _over(hole: Block, place: Array) -> bool:
    """Whether a place lies within a hole's round, as seen along it."""
    off = [(place[n] - hole.low[n]) / hole.size[n] - 0.5 for n in hole.plane]
    return float(np.hypot(*off)) < 0.5


def taken_by(built: Built) -> list[tuple[Block, Bore]]:
    """Every hole with what it takes of blocks, by the share of its round; what a wider one, or one that it enters,
    takes already is left out."""
    found = []
    holes = [(j, block) for j, block in enumerate(built.blocks) if block.is_hole]
    for j, hole in holes:
        own = [bore(hole, block) for block in built.solid]
        for k, wider in holes:
            if j == k:
                continue
            same = wider.axis == hole.axis
            if same and (_narrower(hole, wider) or (k < j and not _narrower(wider, hole))):
                both = _common(hole, wider)
                less = [bore(both, block) for block in built.solid] if both is not None else []
                own += [Bore(each.share, -each.long) for each in less if each is not None]
            elif enters(hole, wider):
                own += [Bore(1.0, -(mean_run(hole, (block, as_cylinder(wider))) or 0.0)) for block in built.solid]
        long: dict[float, float] = {}
        for each in own:
            if each is not None and each.share:
                long[each.share] = long.get(each.share, 0.0) + each.long
        found += [(hole, Bore(share, total)) for share, total in long.items() if total]
    return found


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
