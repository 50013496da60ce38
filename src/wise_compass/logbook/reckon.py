"""What the logbook tells: which slips recur, how far a hand scatters with each instrument against what is stated,
minutes a step."""

from __future__ import annotations

import math
import time
from collections import Counter
from collections.abc import Sequence
from functools import cached_property
from typing import Any, NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import figure_named
from wise_compass.logbook.store import Logbook

DAY = 86400.0


class Filter(NamedTuple):
    """Which entries count: from a moment to another (seconds since 1970; 0 for any), of a family, of a person."""

    since: float = 0.0
    until: float = 0.0
    family: str = ""
    person: str = ""

    def lets(self, row: LogbookRow) -> bool:
        """Whether an entry counts."""
        return (
            row.at >= self.since
            and (not self.until or row.at < self.until)
            and self.family in ("", row.family)
            and self.person in ("", row.person)
        )

    @property
    def where(self) -> tuple[str, list[object]]:
        """The condition in SQL over the entries, and its values."""
        parts: list[tuple[str, object]] = []
        if self.since:
            parts.append(("at >= ?", self.since))
        if self.until:
            parts.append(("at < ?", self.until))
        if self.family:
            parts.append(("family = ?", self.family))
        if self.person:
            parts.append(("person = ?", self.person))
        return " AND ".join(part for part, _ in parts) or "1", [value for _, value in parts]


class Wrong(NamedTuple):
    """A slip or a step that went wrong: of which figure and method, how often, out of how many entries of them, when
    last, in words."""

    figure: str
    method: str
    slip: str | None
    step: int | None
    times: int
    of: int
    last: float
    says: str


class Spread(NamedTuple):
    """How far measurements by an instrument scattered in a month, in the deviations that were stated: 1 is as
    stated."""

    instrument: str
    month: str
    ratio: float
    times: int


class FigurePace(NamedTuple):
    """Minutes a step of a figure, from so many entries that tell their time, and how far they spread (one
    deviation)."""

    figure: str
    minutes: float
    spread: float
    times: int


class ToldLogbook(NamedTuple):
    """Everything that the logbook tells of a filter."""

    entries: int
    wrongs: tuple[Wrong, ...]
    spreads: tuple[Spread, ...]
    paces: tuple[FigurePace, ...]


class LogbookRow(NamedTuple):
    """An entry as the view lists it, with the month it was made in."""

    id: str
    at: float
    kind: str
    person: str
    family: str
    figure: str
    method: str
    verdict: str
    slip: str | None
    step: int | None
    says: str
    mark: str
    minutes: float | None
    steps: int
    picture: str | None
    month: str


class Snapshot:
    """The logbook as it stands now, read once: filters then cost no more than a look through it. Raises
    :class:`Refused`."""

    def __init__(self, book: Logbook) -> None:
        self._book = book
        columns = ", ".join(LogbookRow._fields[:-1])
        with book.opened() as connection:
            query = f"SELECT {columns}, strftime('%Y-%m', at, 'unixepoch') FROM entries ORDER BY at DESC, id"
            self.rows = [LogbookRow(*row) for row in connection.execute(query)]

    @cached_property
    def _scatter(self) -> list[tuple[str, str, float, int]]:
        """By entry and instrument, the sum of squares in stated deviations, and of how many; asked for when a plot
        wants it."""
        with self._book.opened() as connection:
            return connection.execute(
                "SELECT entry, instrument, sum((measured - exact) * (measured - "
                "exact) / (sd * sd)), count(*) FROM measures "
                "WHERE sd > 0 GROUP BY entry, instrument"
            ).fetchall()

    @property
    def people(self) -> list[str]:
        """Everybody that it has an entry of."""
        return sorted({row.person for row in self.rows if row.person})

    def chosen(self, by: Filter) -> list[LogbookRow]:
        """The entries that a filter lets through, the latest first."""
        return [row for row in self.rows if by.lets(row)]

    def told(self, by: Filter | None = None) -> ToldLogbook:
        """Everything that it tells of a filter."""
        rows = self.rows if by is None else self.chosen(by)
        return without_scatter(rows)._replace(spreads=self.spreads(rows))

    def spreads(self, rows: Sequence[LogbookRow]) -> tuple[Spread, ...]:
        months = {row.id: row.month for row in rows if row.verdict == "honest"}
        sums: dict[tuple[str, str], list[float]] = {}
        for entry, tool, squares, count in self._scatter:
            if entry in months:
                have = sums.setdefault((tool, months[entry]), [0.0, 0.0])
                have[0] += squares
                have[1] += count
        return tuple(
            Spread(tool, month, math.sqrt(squares / count), int(count))
            for (tool, month), (squares, count) in sorted(sums.items())
        )


def without_scatter(rows: Sequence[LogbookRow]) -> ToldLogbook:
    """What entries tell by themselves, their measurements unread."""
    return ToldLogbook(len(rows), _wrongs(rows), (), _paces(rows))


def _wrongs(rows: Sequence[LogbookRow]) -> tuple[Wrong, ...]:
    of = Counter((row.figure, row.method) for row in rows)
    made: dict[tuple[Any, ...], list[LogbookRow]] = {}
    for row in rows:
        if row.slip is not None or row.step is not None:
            made.setdefault((row.figure, row.method, row.slip, row.step), []).append(row)
    found = [
        Wrong(figure, method, slip, step, len(mine), of[figure, method], mine[0].at, mine[0].says)
        for (figure, method, slip, step), mine in made.items()
    ]
    return tuple(sorted(found, key=lambda one: (-one.times, one.figure, one.method, one.slip or "", one.step or 0)))


def _paces(rows: Sequence[LogbookRow]) -> tuple[FigurePace, ...]:
    by: dict[str, list[float]] = {}
    for row in rows:
        if row.minutes and row.steps:
            by.setdefault(row.figure, []).append(row.minutes / row.steps)
    found = []
    for figure, each in by.items():
        mean = sum(each) / len(each)
        found.append(FigurePace(figure, mean, math.sqrt(sum((one - mean) ** 2 for one in each) / len(each)), len(each)))
    return tuple(sorted(found, key=lambda one: (-one.times, one.figure)))


def told(book: Logbook, by: Filter | None = None) -> ToldLogbook:
    """Everything that the logbook tells of a filter; raises :class:`Refused`."""
    return Snapshot(book).told(by)


def first_sentence(says: str) -> str:
    """What a verdict says first, without how sure that is.

    >>> first_sentence("Step 7: the other of two crossings. This is over 99 % sure.")
    'Step 7: the other of two crossings.'
    """
    head, stop, _ = says.partition(". ")
    return f"{head}." if stop else says


def gone_wrong(book: Logbook, person: str = "", days: float = 60.0, now: float | None = None) -> list[str]:
    """The figures that went wrong lately, the most often wrong first; raises :class:`Refused`."""
    since = (time.time() if now is None else now) - days * DAY
    counts: dict[str, int] = {}
    for wrong in told(book, Filter(since, person=person)).wrongs:
        counts[wrong.figure] = counts.get(wrong.figure, 0) + wrong.times
    known = []
    for figure in sorted(counts, key=lambda one: (-counts[one], one)):
        try:
            figure_named(figure)
        except Refused:  # of a later version, or by hand
            continue
        known.append(figure)
    return known


def title_of(figure: str) -> str:
    """What a figure is called; its id where it is not known here."""
    try:
        return figure_named(figure).title
    except Refused:
        return figure


def tables(all_of_it: ToldLogbook) -> dict[str, tuple[Sequence[str], list[list[Any]]]]:
    """What stands beside each plot: its columns and rows."""
    slips = [
        [
            title_of(one.figure),
            one.method,
            one.says or one.slip or f"step {one.step}",
            one.step or "",
            one.times,
            one.of,
        ]
        for one in all_of_it.wrongs
    ]
    spreads = [[one.instrument, one.month, round(one.ratio, 2), one.times] for one in all_of_it.spreads]
    paces = [[title_of(one.figure), round(one.minutes, 2), round(one.spread, 2), one.times] for one in all_of_it.paces]
    return {
        "slips": (("figure", "method", "what went wrong", "step", "times", "of"), slips),
        "scatter": (("instrument", "month", "scatter, of the stated", "measurements"), spreads),
        "pace": (("figure", "minutes a step", "spread", "entries"), paces),
    }
