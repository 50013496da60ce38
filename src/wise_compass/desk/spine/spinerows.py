"""What the spine lists: a line for every sheet, the figures of those that are open, and, while something is sought,
what matches it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from typing import NamedTuple

from wise_compass.figures.catalogue import ENTERED
from wise_compass.job.model import Entry, Job

MOST_COMMANDS = 12


class SpineCommand(NamedTuple):
    """Something that can be done, by its words and its keys."""

    words: str
    keys: str
    do: Callable[[], object]


class SpineRow(NamedTuple):
    """A line: a ``sheet`` by its number from 0, a ``figure`` of it, or a ``command``. A sheet's line says whether it is
    open."""

    kind: str
    title: str
    below: str = ""
    sheet: int = -1
    entry: Entry | None = None
    open: bool = False
    command: SpineCommand | None = None

    @property
    def key(self) -> tuple[object, ...]:
        """What tells it from others, and what its size hangs on."""
        return self.kind, self.sheet, self.entry.id if self.entry else "", self.title, self.open

    @property
    def spoken(self) -> str:
        """As a screen reader has it."""
        if self.kind == "sheet":
            return f"Sheet {self.sheet + 1}, {self.title}, {'open' if self.open else 'folded'}"
        return f"{self.title}, {self.below}"


def figure_title(entry: Entry) -> str:
    known = ENTERED.get(entry.figure)
    return known.title if known else entry.figure


def sheet_key(job: Job, sheet: int) -> str:
    """What a sheet is remembered by while it is moved about: its first figure."""
    entries = job.sheets[sheet].entries
    return entries[0].id if entries else ""


def rows_of(
    job: Job, selected: str, opened: Collection[str], sought: str = "", commands: Sequence[SpineCommand] = ()
) -> list[SpineRow]:
    """The lines of a job. The sheet with the selected figure is open, as are those ``opened``; all that match are while
    one seeks."""
    words = sought.lower().split()
    rows: list[SpineRow] = []
    for number, plan in enumerate(job.sheets):
        head = f"sheet {number + 1} {plan.title}".lower()
        shown = [
            entry for entry in plan.entries if _matches(words, f"{head} {entry.title} {figure_title(entry)}".lower())
        ]
        if words and not shown:
            continue
        is_open = bool(words) or sheet_key(job, number) in opened or any(entry.id == selected for entry in plan.entries)
        rows.append(SpineRow("sheet", plan.title, f"Sheet {number + 1}", number, None, is_open))
        if is_open:
            for entry in shown:
                typed = "! " if entry.typed else ""
                rows.append(SpineRow("figure", entry.title, typed + figure_title(entry).lower(), number, entry))
    if words:
        found = [command for command in commands if _matches(words, command.words.lower())]
        rows += [SpineRow("command", one.words.rstrip("…"), one.keys, command=one) for one in found[:MOST_COMMANDS]]
    return rows


def _matches(words: Sequence[str], text: str) -> bool:
    return all(word in text for word in words)


def dropped(job: Job, rows: Sequence[SpineRow], moved: int, before: int) -> Job:
    """The job after a line was dragged to stand before another, or behind all with ``before`` their number.

    A figure goes onto the sheet under whose line it is dropped; a sheet goes before the sheet that the place belongs
    to.
    """
    row = rows[moved]
    if row.kind == "figure" and row.entry is not None:
        above = next((one for one in reversed(rows[:before]) if one.kind in ("sheet", "figure")), None)
        if above is None:
            return job.put_on(row.entry.id, 0, 0)
        place = 0
        if above.kind == "figure" and above.entry is not None:
            at = job.find(above.entry.id)
            place = at[1] + 1 if at else 0
        elif not above.open:
            place = len(job.sheets[above.sheet].entries)
        return job.put_on(row.entry.id, above.sheet, place)
    if row.kind == "sheet":
        below = next((one for one in rows[before:] if one.kind == "sheet"), None)
        return job.sheet_put(row.sheet, below.sheet if below else len(job.sheets))
    return job
