"""Where dimensions go: each of many ways is weighed, and the one that costs least is taken, the nearest first.

Figures on a dark line or on other figures cost most, then lines through figures, then lines that cross lines; a row
further out or the other side costs a little. Short ones go in before long ones, so that rows do not cross. It is
deterministic: the same drawing gets the same dimensions.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear, Radial
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.clear import BAD, Clear, steps_of
from wise_compass.sheet.dimensions import INK, Drawn, drawn, reaching
from wise_compass.sheet.drawing import Item, Line

ORIGIN = np.zeros(2)
ROW_COST, SIDE_COST, SHARE_COST, TURN_COST = 0.2, 0.5, 0.1, 0.02
MOST_ROWS = 7


class Placed(NamedTuple):
    """The dimensions of a figure about its origin, and the givens whose figures found no free place."""

    items: list[Item]
    crowded: list[str]


def place_dimensions(
    dimensions: Iterable[Dimension], scale: float, style: Style, clear: Clear, straight: Sequence[Array]
) -> Placed:
    """All dimensions about the origin; ``straight`` are all straight lines that are drawn, (2, 2) each."""
    legs = steps_of(straight)
    found: list[Item] = []
    crowded: list[str] = []
    for group in _ordered(dimensions):
        best: tuple[float, Drawn] | None = None
        for extra, way in _ways(group):
            if best is not None and extra >= best[0]:
                break
            one = _complete(way, scale, style, legs)
            cost = extra + clear.cost(one, np.inf if best is None else best[0] - extra)
            if best is None or cost < best[0]:
                best = cost, one
        assert best is not None
        if best[0] >= BAD:
            crowded += [dim.given for dim in group]
        clear.take(best[1])
        found += best[1].items
    return Placed(found, crowded)


def _complete(way: Sequence[Dimension], scale: float, style: Style, legs: Array) -> Drawn:
    """A way as it is drawn, the legs of an angle as far as its arc."""
    one = drawn(way, scale, ORIGIN, style)
    first = way[0]
    if isinstance(first, Angular):
        for leg in reaching(first, scale, legs):
            one.extensions.append(leg)
            one.items.append(Line("dimension", 0, f"given:{first.given}", INK, leg))
    return one


def _ordered(dimensions: Iterable[Dimension]) -> list[list[Dimension]]:
    """Angles first, which have least choice; then lengths, short before long; rows from one datum; circles; leaders."""
    rows: dict[tuple[object, ...], list[Dimension]] = {}
    single: list[Dimension] = []
    for one in dimensions:
        if isinstance(one, Linear) and one.running:
            key = (*np.round(one.p, 9).tolist(), one.along, one.side)
            rows.setdefault(key, []).append(one)
        else:
            single.append(one)
    kinds = (Angular, Linear, Radial, Leader)

    def rank(one: Dimension) -> tuple[int, float]:
        span = float(np.hypot(*(one.q - one.p))) if isinstance(one, Linear) else 0.0
        return kinds.index(type(one)), round(span, 6)

    single.sort(key=rank)
    lengths = sum(isinstance(one, (Angular, Linear)) for one in single)
    return [*([one] for one in single[:lengths]), *rows.values(), *([one] for one in single[lengths:])]


def _ways(group: Sequence[Dimension]) -> Iterator[tuple[float, Sequence[Dimension]]]:
    """How a dimension or a row of them may be drawn, what each way costs by itself, cheapest first."""
    first = group[0]
    if isinstance(first, Linear):
        yield from _linear_ways([one for one in group if isinstance(one, Linear)])
    elif isinstance(first, Radial):
        yield from (
            (cost, [first._replace(angle=first.angle + by, off=first.off + off)]) for cost, by, off in RADIAL_WAYS
        )
    elif isinstance(first, Leader):
        yield from ((cost, [first._replace(angle=by, reach=reach)]) for cost, by, reach in LEADER_WAYS)
    else:
        yield from ((cost, [first._replace(reach=first.reach * far, share=share)]) for cost, far, share in ANGULAR_WAYS)


def _linear_ways(group: Sequence[Linear]) -> Iterator[tuple[float, Sequence[Dimension]]]:
    for cost, rank, side, share in LINEAR_WAYS:
        yield (
            cost,
            [
                one._replace(rank=one.rank + rank, side=one.side * side, share=one.share if share < 0 else share)
                for one in group
            ],
        )


LINEAR_WAYS = sorted(
    (ROW_COST * rank + (SIDE_COST if side < 0 else 0.0) + (SHARE_COST * k), rank, side, share)
    for rank in range(MOST_ROWS)
    for side in (1, -1)
    for k, share in enumerate((-1.0, 0.35, 0.65, 0.2, 0.8))
)
RADIAL_WAYS = sorted(
    (TURN_COST * abs(by) / 5 + 0.06 * off, by, off)
    for off in (0.0, 6.0, 12.0, 20.0)
    for by in (0.0, *(way * turn for turn in range(15, 181, 15) for way in (1.0, -1.0)))
)
LEADER_WAYS = sorted(
    (0.05 * (reach - 10) + TURN_COST * k, angle, reach)
    for reach in (10.0, 16.0, 24.0, 34.0, 46.0)
    for k, angle in enumerate((45.0, 135.0, -45.0, -135.0, 65.0, 115.0, -65.0, -115.0, 20.0, 160.0, -20.0, -160.0))
)
ANGULAR_WAYS = sorted(
    (0.3 * abs(far - 1) + SHARE_COST * k, far, share)
    for far in (1.0, 1.35, 1.7, 0.7, 2.0, 2.4, 2.8)
    for k, share in enumerate((0.5, 0.25, 0.75))
)
