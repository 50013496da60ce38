"""Where dimensions go: each of many ways is weighed, and the one that costs least is taken, the nearest first.

Figures on a dark line or on other figures cost most, then lines through figures, then lines that cross lines; a row
further out or the other side costs a little. Short ones go in before long ones, so that rows do not cross. It is
deterministic: the same drawing gets the same dimensions.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear, Radial
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.clear import BAD, INSIDE, Clear
from wise_compass.sheet.dimensions import INK, Shapes, reaching, shapes
from wise_compass.sheet.drawing import Item, Line

ROW_COST, SIDE_COST, SHARE_COST, TURN_COST = 0.2, 0.5, 0.1, 0.02
MOST_ROWS = 7
TIE = 6
"""Decimals of costs: what differs by less costs the same, on whatever machine it is worked out."""
AT_ONCE = 6
"""Ways whose lines are weighed at once: the cheapest is mostly among the first."""


Name = tuple[tuple[str, str, int], ...]
"""Which dimension of a figure, or row of them: of each its kind, its given, and the how many-th of these it is."""


class Placed(NamedTuple):
    """The dimensions of a figure about its origin, and the givens whose figures found no free place. ``taken`` is by
    which way each is drawn, None where it is left out; they are ``kept`` where none was weighed."""

    items: list[Item]
    crowded: list[str]
    taken: dict[Name, Array | None]
    kept: bool = False

    def same_ways(self, other: Placed) -> bool:
        """Whether the same dimensions are drawn by the same ways."""
        if self.taken.keys() != other.taken.keys():
            return False
        pairs = ((way, other.taken[name]) for name, way in self.taken.items())
        return all((a is b) if a is None or b is None else np.array_equal(a, b) for a, b in pairs)


class Ways(NamedTuple):
    """Ways of drawing a dimension, (m, 2 to 5), and what each costs by itself."""

    ways: Array
    costs: Array

    @staticmethod
    def of(told: Iterable[tuple[float, tuple[float, ...]]]) -> Ways:
        """From the cost and the way of each; those listed first stay first where they cost the same."""
        rows = list(told)
        return Ways(np.array([way for _, way in rows]), np.array([cost for cost, _ in rows]))

    def parted(self, few: int) -> tuple[Ways, Ways]:
        """The first few, and the others."""
        return Ways(self.ways[:few], self.costs[:few]), Ways(self.ways[few:], self.costs[few:])


def place_dimensions(
    dimensions: Iterable[Dimension], scale: float, style: Style, clear: Clear, straight: Array
) -> Placed:
    """All dimensions about the origin; ``straight`` are all straight lines that are drawn, (n, 2, 2)."""
    found: list[Item] = []
    crowded: list[str] = []
    taken: dict[Name, Array | None] = {}
    for name, group in _named(dimensions):
        best: tuple[float, Shapes, Array, int] | None = None
        for ways in _ways(group):
            if best is not None and best[0] < BAD:
                break
            drawn = shapes(group, scale, style, ways.ways)
            k, cost = _cheapest(clear, drawn, ways.costs)
            if best is None or cost < best[0]:
                best = cost, drawn, ways.ways[k], k
        assert best is not None
        cost, drawn, way, k = best
        taken[name] = None
        if cost >= BAD and all(dim.derived for dim in group):
            continue  # what follows from others can be missed sooner than read
        if cost >= BAD:
            crowded += [dim.given for dim in group]
        taken[name] = way
        legs = _legs(group[0], drawn, k, scale, straight)
        found += [*drawn.items(k, style), *legs]
        clear.take(drawn, k, [leg.points for leg in legs])
    return Placed(found, crowded, taken)


def kept_dimensions(
    dimensions: Iterable[Dimension], scale: float, style: Style, straight: Array, before: Placed
) -> Placed | None:
    """Dimensions by the ways that the same ones had before, where they may lie on what has moved since: for as long as
    a value is being changed. None where they are not the same ones."""
    named = _named(dimensions)
    if {name for name, _ in named} != before.taken.keys():
        return None
    found: list[Item] = []
    for name, group in named:
        if (way := before.taken[name]) is not None:
            drawn = shapes(group, scale, style, way[None])
            found += [*drawn.items(0, style), *_legs(group[0], drawn, 0, scale, straight)]
    return before._replace(items=found, kept=True)


def _legs(first: Dimension, drawn: Shapes, k: int, scale: float, straight: Array) -> list[Line]:
    """The extension lines of an angle whose legs do not reach its arc."""
    if not isinstance(first, Angular) or drawn.arc is None:
        return []
    legs = reaching(first, scale, float(drawn.arc[1][k]), straight)
    return [Line("dimension", 0, f"given:{first.given}", INK, leg) for leg in legs]


def _named(dimensions: Iterable[Dimension]) -> list[tuple[Name, list[Dimension]]]:
    """In the order in which they go in, each dimension or row of them with its name."""
    seen: Counter[tuple[str, str]] = Counter()
    named: list[tuple[Name, list[Dimension]]] = []
    for group in _ordered(dimensions):
        heads = [(type(one).__name__, one.given) for one in group]
        name = []
        for head in heads:
            name.append((*head, seen[head]))
            seen[head] += 1
        named.append((tuple(name), group))
    return named


def _cheapest(clear: Clear, drawn: Shapes, own: Array) -> tuple[int, float]:
    """The way that costs least and what it costs, by branch and bound: a way costs at least what it does by itself and
    for its words. Whether it runs within an outline is asked of the cheapest alone; of those that cost the same the
    one that is cheapest without that is taken, and of these the first."""
    about = clear.about(drawn)
    words = clear.costs_of_words(drawn, about)
    least = np.round(own + words, TIE)
    order = np.argsort(least, kind="stable")
    best = np.inf, np.inf, -1
    for begin in range(0, len(order), AT_ONCE):
        ways = order[begin : begin + AT_ONCE]
        if least[ways[0]] > best[0]:
            break
        costs = np.round(own[ways] + (words[ways] + clear.costs_of_lines(drawn, about, ways)), TIE)
        for cost, k in sorted(zip(costs.tolist(), ways.tolist())):
            if cost > best[0]:
                break
            best = min(best, (cost + INSIDE * clear.encloses(drawn.rows[k]), cost, k))
    return best[2], best[0]


def _ordered(dimensions: Iterable[Dimension]) -> list[list[Dimension]]:
    """Angles first, which have least choice; then lengths, short before long; rows from one datum; circles; leaders."""
    rows: dict[tuple[object, ...], list[Dimension]] = {}
    single: list[Dimension] = []
    for one in dimensions:
        if isinstance(one, Linear) and one.running:
            rows.setdefault((*np.round(one.p, 9).tolist(), one.along, one.side), []).append(one)
        else:
            single.append(one)
    kinds = (Angular, Linear, Radial, Leader)

    def rank(one: Dimension) -> tuple[int, float]:
        span = float(np.hypot(*(one.q - one.p))) if isinstance(one, Linear) else 0.0
        return kinds.index(type(one)), round(span, 6)

    single.sort(key=rank)
    lengths = sum(isinstance(one, (Angular, Linear)) for one in single)
    return [*([one] for one in single[:lengths]), *rows.values(), *([one] for one in single[lengths:])]


def _ways(group: Sequence[Dimension]) -> Iterator[Ways]:
    """How a dimension may be drawn, from how it is told: those ways that are weighed first, then others, for what finds
    no free place by them."""
    first = group[0]
    if isinstance(first, Linear):
        for one in (*LINEAR, LED)[: 2 if first.running else 3]:
            ways = one.ways.copy()
            ways[:, 0] += first.rank
            ways[:, 2] = np.where(ways[:, 2] < 0, first.share, ways[:, 2])
            yield one._replace(ways=ways)
    elif isinstance(first, Radial):
        yield from (one._replace(ways=one.ways + np.array([0.0, first.off])) for one in RADIAL)
    elif isinstance(first, Leader):
        flipped = np.array([-1.0 if first.angle < 0 else 1.0, 1.0])
        yield from (one._replace(ways=one.ways * flipped) for one in LEADER)
    else:
        yield from ANGULAR


ANGLES = (45.0, 135.0, -45.0, -135.0, 65.0, 115.0, -65.0, -115.0, 20.0, 160.0, -20.0, -160.0)
"""How leaders lie, those that are liked best first."""
LINEAR = Ways.of(
    (ROW_COST * rank + (SIDE_COST if side < 0 else 0.0) + SHARE_COST * k, (rank, side, share))
    for k, share in enumerate((-1.0, 0.35, 0.65, 0.2, 0.8))
    for rank in range(MOST_ROWS)
    for side in (1.0, -1.0)
).parted(2 * MOST_ROWS)
LED = Ways.of(
    (1.0 + ROW_COST * rank + (SIDE_COST if side < 0 else 0.0) + 0.05 * (reach - 8) + TURN_COST * k, way)
    for rank in range(3)
    for side in (1.0, -1.0)
    for reach in (8.0, 14.0, 22.0, 32.0)
    for k, angle in enumerate(ANGLES)
    for way in [(rank, side, 0.5, angle, reach)]
)
RADIAL = Ways.of(
    (TURN_COST * abs(by) / 5 + 0.06 * off, (by, off))
    for off in (0.0, 6.0, 12.0, 20.0)
    for by in (0.0, *(way * turn for turn in range(15, 181, 15) for way in (1.0, -1.0)))
).parted(25)
LEADER = Ways.of(
    (0.05 * (reach - 10) + TURN_COST * k, (angle, reach))
    for reach in (10.0, 16.0, 24.0, 34.0, 46.0)
    for k, angle in enumerate(ANGLES)
).parted(24)
ANGULAR = Ways.of(
    (0.3 * abs(far - 1) + SHARE_COST * k, (far, share))
    for far in (1.0, 1.35, 1.7, 0.7, 2.0, 2.4, 2.8)
    for k, share in enumerate((0.5, 0.25, 0.75))
).parted(9)
