"""The order of a job's figures that needs the fewest changes of instrument and of opening, within what has to wait for
what."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

EXACT = 11
"""Figures up to which every order is weighed (Held and Karp); beyond, orders are improved until no move makes one
better."""
SAME = 1e-6
MOST_MOVES, MOST_STEPS = 25_000, 2_500_000
"""Orders that are tried to make one better, and figures that are passed in all of them."""


class PlanItem(NamedTuple):
    """A figure to be drawn: which sheet it is on, the instrument it begins and ends with, the compass's first and last
    opening in mm on the paper (0 where none is set), and the figures, by their places, that have to be done before."""

    sheet: int
    first_tool: str
    last_tool: str
    first_opening: float
    last_opening: float
    after: frozenset[int] = frozenset()


def _added(items: Sequence[PlanItem], last: int, opening: float, k: int) -> tuple[int, float]:
    """What figure ``k`` has changed after another, -1 for none, with an opening standing; and the opening that stands
    then."""
    item = items[k]
    changed = int(last >= 0 and items[last].last_tool != item.first_tool)
    if not item.first_opening:
        return changed, opening  # an opening is kept through figures that set none
    return changed + int(last >= 0 and abs(opening - item.first_opening) > SAME), item.last_opening


def cost(items: Sequence[PlanItem], order: Sequence[int]) -> int:
    """All changes of an order; what :func:`_added` tells of each figure, without the calls: thousands of orders are
    weighed."""
    if not order:
        return 0
    first = items[order[0]]
    whole, tool, opening = 0, first.last_tool, first.last_opening if first.first_opening else 0.0
    for k in order[1:]:
        _, first_tool, last_tool, first_opening, last_opening, _ = items[k]
        whole += tool != first_tool
        tool = last_tool
        if first_opening:
            whole += abs(opening - first_opening) > SAME
            opening = last_opening
    return whole


def allowed(items: Sequence[PlanItem], order: Sequence[int]) -> bool:
    """Whether nothing is done before what it waits for, and no sheet is left for another while something of it can be
    done."""
    return all(k in _next(items, frozenset(order[:n]), order[n - 1] if n else -1) for n, k in enumerate(order))


def best_order(items: Sequence[PlanItem]) -> list[int]:
    """The order with the fewest changes; of equals, the one nearest to how the job stands. Sheets are finished once
    begun where that can be."""
    if not items:
        return []
    return _exact(items) if len(items) <= EXACT else _improved(items)


class _Reached(NamedTuple):
    cost: int
    order: tuple[int, ...]


def _exact(items: Sequence[PlanItem]) -> list[int]:
    """Dynamic programming over sets (Held and Karp): every set of figures done, by the last of them and the opening
    that stands, kept with its cheapest order."""
    reached: dict[tuple[frozenset[int], int, float], _Reached] = {(frozenset(), -1, 0.0): _Reached(0, ())}
    for _ in items:
        further: dict[tuple[frozenset[int], int, float], _Reached] = {}
        for (done, last, opening), have in reached.items():
            for k in _next(items, done, last):
                more, stands = _added(items, last, opening, k)
                key, found = (done | {k}, k, stands), _Reached(have.cost + more, (*have.order, k))
                if key not in further or found < further[key]:
                    further[key] = found
        reached = further
    return list(min(reached.values()).order)


def _next(items: Sequence[PlanItem], done: frozenset[int], last: int) -> list[int]:
    """What may be done next: what waits for nothing, of the sheet that is begun where there is any of it."""
    free = [k for k in range(len(items)) if k not in done and items[k].after <= done]
    same = [k for k in free if last >= 0 and items[k].sheet == items[last].sheet]
    return same or free


def _improved(items: Sequence[PlanItem]) -> list[int]:
    """Local search from a greedy order: whole sheets, and figures within their sheets, are moved while that saves a
    change and not too many were tried."""
    order: list[int] = []
    opening = 0.0
    while len(order) < len(items):
        last = order[-1] if order else -1
        choices = _next(items, frozenset(order), last)
        k = min(choices, key=lambda k: (_added(items, last, opening, k)[0], k)) if order else choices[0]
        opening = _added(items, last, opening, k)[1]
        order.append(k)
    best, better = cost(items, order), True
    left = min(MOST_MOVES, MOST_STEPS // len(items))
    while better:
        better = False
        for moved in _moves(items, order):
            left -= 1
            if left < 0:
                return order
            found = cost(items, moved)
            if found < best and allowed(items, moved):
                order, best, better = moved, found, True
                break
    return order


def _moves(items: Sequence[PlanItem], order: Sequence[int]) -> Iterator[list[int]]:
    """Every order with one sheet elsewhere, or one figure elsewhere on its sheet."""
    runs: list[list[int]] = []
    for k in order:
        if runs and items[runs[-1][-1]].sheet == items[k].sheet:
            runs[-1].append(k)
        else:
            runs.append([k])
    for a, mine in enumerate(runs):
        rest = [*runs[:a], *runs[a + 1 :]]
        for b in range(len(rest) + 1):
            if b != a:
                yield [k for run in (*rest[:b], mine, *rest[b:]) for k in run]
        for i in range(len(mine)):
            for j in range(len(mine)):
                if i != j:
                    other = [*mine[:i], *mine[i + 1 :]]
                    other.insert(j, mine[i])
                    yield [k for run in (*runs[:a], other, *runs[a + 1 :]) for k in run]
