"""The order of a job's figures that needs the fewest changes of instrument and of opening, within what has to wait for what."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

EXACT = 11
"""Figures up to which every order is weighed (Held and Karp); beyond, orders are improved until no move makes one better."""
SAME = 1e-6


class Item(NamedTuple):
    """A figure to be drawn: which sheet it is on, the instrument it begins and ends with, the compass's first and last opening in mm on the
    paper (0 where none is set), and the figures, by their places, that have to be done before."""

    sheet: int
    first_tool: str
    last_tool: str
    first_opening: float
    last_opening: float
    after: frozenset[int] = frozenset()


def cost(items: Sequence[Item], order: Sequence[int]) -> int:
    """All changes of an order. An opening is kept through figures that set none."""
    whole, opening = 0, 0.0
    for k, place in enumerate(order):
        item = items[place]
        if k:
            whole += int(items[order[k - 1]].last_tool != item.first_tool)
        if item.first_opening:
            whole += int(k > 0 and abs(opening - item.first_opening) > SAME)
            opening = item.last_opening
    return whole


def allowed(items: Sequence[Item], order: Sequence[int]) -> bool:
    """Whether nothing is done before what it waits for, and no sheet is left for another while something of it can be done."""
    return all(k in _next(items, frozenset(order[:n]), order[n - 1] if n else -1) for n, k in enumerate(order))


def best_order(items: Sequence[Item]) -> list[int]:
    """The order with the fewest changes; of equals, the one nearest to how the job stands. Sheets are finished once begun where that can be."""
    if not items:
        return []
    return _exact(items) if len(items) <= EXACT else _improved(items)


class _Reached(NamedTuple):
    cost: int
    order: tuple[int, ...]


def _exact(items: Sequence[Item]) -> list[int]:
    """Every set of figures done, by the last of them and the opening that stands, kept with its cheapest order."""
    reached: dict[tuple[frozenset[int], int, float], _Reached] = {(frozenset(), -1, 0.0): _Reached(0, ())}
    for _ in items:
        further: dict[tuple[frozenset[int], int, float], _Reached] = {}
        for (done, last, opening), have in reached.items():
            for k in _next(items, done, last):
                item = items[k]
                more = int(last >= 0 and items[last].last_tool != item.first_tool)
                stands = opening
                if item.first_opening:
                    more += int(bool(have.order) and abs(opening - item.first_opening) > SAME)
                    stands = item.last_opening
                key, found = (done | {k}, k, stands), _Reached(have.cost + more, (*have.order, k))
                if key not in further or found < further[key]:
                    further[key] = found
        reached = further
    return list(min(reached.values()).order)


def _next(items: Sequence[Item], done: frozenset[int], last: int) -> list[int]:
    """What may be done next: what waits for nothing, of the sheet that is begun where there is any of it."""
    free = [k for k in range(len(items)) if k not in done and items[k].after <= done]
    same = [k for k in free if last >= 0 and items[k].sheet == items[last].sheet]
    return same or free


def _improved(items: Sequence[Item]) -> list[int]:
    """A greedy order, then whole sheets, and figures within their sheets, moved while that saves a change."""
    order: list[int] = []
    while len(order) < len(items):
        choices = _next(items, frozenset(order), order[-1] if order else -1)
        order.append(min(choices, key=lambda k: (cost(items, [*order, k]), k)) if order else choices[0])
    best = cost(items, order)
    better = True
    while better:
        better = False
        for moved in _moves(items, order):
            found = cost(items, moved)
            if found < best and allowed(items, moved):
                order, best, better = moved, found, True
                break
    return order


def _moves(items: Sequence[Item], order: Sequence[int]) -> list[list[int]]:
    runs: list[list[int]] = []
    for k in order:
        if runs and items[runs[-1][-1]].sheet == items[k].sheet:
            runs[-1].append(k)
        else:
            runs.append([k])
    moved = []
    for a in range(len(runs)):
        rest = [*runs[:a], *runs[a + 1 :]]
        for b in range(len(rest) + 1):
            if b != a:
                moved.append([k for run in (*rest[:b], runs[a], *rest[b:]) for k in run])
        for i in range(len(runs[a])):
            for j in range(len(runs[a])):
                if i != j:
                    mine = [*runs[a][:i], *runs[a][i + 1 :]]
                    mine.insert(j, runs[a][i])
                    moved.append([k for run in (*runs[:a], mine, *runs[a + 1 :]) for k in run])
    return moved
