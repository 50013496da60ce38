"""A class: a sheet of measurements, a row a pupil and problem, marked against each one's own numbers."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN
from wise_compass.logbook.store import Noted
from wise_compass.outputs.rows import rows_csv, unguarded
from wise_compass.practice.marking import Marked, mark, noted
from wise_compass.practice.problems import Problem, problem_of
from wise_compass.study.judge import Judge
from wise_compass.study.measures import INSTRUMENTS, Taken, taken_as
from wise_compass.study.verdicts import Checked, headline

NEEDED = ("pupil", "problem")
BESIDE = ("minutes", "instrument")
MOST_ROWS = 5000


class Handed(NamedTuple):
    """What a pupil handed in: the row it stands in, who, the problem, and each measurement as it was written."""

    row: int
    pupil: str
    problem: Problem
    measured: Mapping[str, str]
    minutes: float | None
    instrument: str


class Graded(NamedTuple):
    """What a pupil handed in, marked."""

    handed: Handed
    marked: Marked
    noted: Noted


def read_class(text: str) -> list[Handed]:
    """The rows of a class's CSV; raises :class:`Refused` naming the row and the column that cannot be. None is half
    taken."""
    rows = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    try:
        head = [name or "" for name in rows.fieldnames or []]
    except csv.Error as error:
        raise Refused("csv", f"The line of column names cannot be read as CSV ({error}). Mend that line.") from None
    for name in NEEDED:
        if name not in head:
            raise Refused(
                "csv",
                f"The column {name} is missing; a class has {' and '.join(NEEDED)}, "
                "and a column a measure. Nothing was marked.",
            )
    if twice := [name for name, count in Counter(head).items() if count > 1 and name]:
        raise Refused("csv", f"The column {twice[0]} is there twice. Nothing was marked; take one of them away.")
    handed: list[Handed] = []
    seen: dict[tuple[str, str], int] = {}
    try:
        for row in rows:
            number = rows.line_num
            if number > MOST_ROWS:
                raise Refused("csv", f"There are more than {MOST_ROWS} rows; mark a part of them at a time.")
            if None in row:
                raise Refused(
                    "csv", f"Row {number} has more cells than there are columns. Nothing was marked; mend that row."
                )
            if any((cell or "").strip() for cell in row.values()):
                handed.append(_handed(row, number, seen))
    except csv.Error as error:
        raise Refused("csv", f"Row {rows.line_num} cannot be read as CSV ({error}). Nothing was marked.") from None
    if not handed:
        raise Refused("csv", "There is no row of a pupil. Nothing was marked.")
    return handed


def _handed(row: Mapping[str, str | None], number: int, seen: dict[tuple[str, str], int]) -> Handed:
    cells = {name: (cell or "").strip() for name, cell in row.items() if name}
    pupil, code = unguarded(cells["pupil"]), cells["problem"]
    if not pupil:
        raise Refused("csv", f"Row {number} names no pupil. Nothing was marked; mend that row.")
    if (pupil, code) in seen:
        raise Refused(
            "csv",
            f"Row {number}: {pupil} is there twice with this problem, first in row "
            f"{seen[pupil, code]}. Nothing was marked.",
        )
    seen[pupil, code] = number
    try:
        problem = problem_of(code)
        problem.made()
    except Refused as refusal:
        raise Refused("csv", f"Row {number}: {PLAIN.say(refusal.says)}") from None
    instrument = cells.get("instrument") or "rule"
    if instrument not in INSTRUMENTS:
        raise Refused(
            "csv", f"Row {number}: instrument “{instrument[:20]}” measures nothing; it is {', '.join(INSTRUMENTS)}."
        )
    minutes = None
    if cells.get("minutes"):
        try:
            minutes = float(cells["minutes"])
        except ValueError:
            minutes = float("nan")
        if not 0 <= minutes < 1e5:
            raise Refused(
                "csv",
                f"Row {number}: minutes is {cells['minutes'][:20]}; it is a number from 0 up. Nothing was marked.",
            )
    measured = {name: cell for name, cell in cells.items() if name not in (*NEEDED, *BESIDE) and cell}
    return Handed(number, pupil, problem, measured, minutes, instrument)


def mark_class(
    handed: Sequence[Handed], drafter: Drafter | None = None, hear: Callable[[int, int], None] | None = None
) -> list[Graded]:
    """Mark every row against its own numbers; raises :class:`Refused` with the row where a measure is none of its
    figure's."""
    told = [(one, *_taken(one)) for one in handed]
    graded = []
    for k, (one, made, taken) in enumerate(told):
        if hear is not None:
            hear(k, len(told))
        marked = mark(_judge(one.problem.code, drafter or Drafter()), taken, one.instrument)
        kept = noted(made, one.problem.scale, marked, "mark", one.pupil, one.minutes, one.instrument)
        graded.append(Graded(one, marked, kept))
    return graded


def _taken(one: Handed) -> tuple[Run, list[Taken]]:
    made = one.problem.run()
    taken = []
    for name, value in one.measured.items():
        try:
            taken.append(taken_as(made, name, value, one.instrument))
        except Refused as refusal:
            raise Refused("csv", f"Row {one.row}, {name}: {PLAIN.say(refusal.says)} Nothing was marked.") from None
    if not taken:
        raise Refused(
            "csv",
            f"Row {one.row}: nothing is measured of {one.pupil}’s drawing. Take the row away, or measure something.",
        )
    return made, taken


@lru_cache(maxsize=32)
def _judge(code: str, drafter: Drafter) -> Judge:
    """Who judges a problem: one for all pupils that have the same."""
    problem = problem_of(code)
    return Judge(problem.run(drafter), problem.scale)


def unlooked(checked: Checked) -> list[str]:
    """The points of the result of which a check says nothing."""
    return list(dict.fromkeys((*checked.missing, *checked.unmeasured)))


def marks_csv(graded: Sequence[Graded]) -> str:
    """A row a pupil and problem: the mark, the verdict, the slip or step, why, what was not measured, and
    each measure’s own mark."""
    names = list(dict.fromkeys(name for one in graded for name in one.marked.each))
    rows = []
    for one in graded:
        kept = one.noted
        row = [one.handed.pupil, one.handed.problem.code, kept.mark, kept.verdict, kept.slip, kept.step, one.marked.why]
        minutes = None if kept.minutes is None else f"{kept.minutes:g}"
        left = " ".join(unlooked(one.marked.checked))
        rows.append([*row, minutes, left, *(one.marked.each.get(name) for name in names)])
    return rows_csv(
        ["pupil", "problem", "mark", "verdict", "slip", "step", "why", "minutes", "not_measured", *names], rows
    )


def most_made(graded: Sequence[Graded]) -> list[tuple[str, int]]:
    """What went wrong, the most often made first, and by how many."""
    counts: Counter[str] = Counter()
    for one in graded:
        verdict = one.marked.checked.verdict
        if verdict.verdict == "slip":
            counts[PLAIN.say(verdict.best.says)] += 1
        elif verdict.verdict == "step":
            counts[f"a wrong setting at step {verdict.best.step} of {one.handed.problem.kind.title}"] += 1
        elif verdict.verdict != "honest":
            counts[headline(one.marked.checked).lower()] += 1
    return sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))


def class_text(graded: Sequence[Graded]) -> str:
    """A class's marks for a person."""
    lines = []
    for one in graded:
        lines.append(f"{one.handed.pupil:20} {one.handed.problem.kind.title:28} {one.marked.mark}")
        if one.marked.why:
            lines.append(f"{'':20} {one.marked.why}")
        elif left := unlooked(one.marked.checked):
            lines.append(f"{'':20} Not measured: {', '.join(left)}.")
    made = most_made(graded)
    lines.append("")
    if made:
        says, count = made[0]
        lines.append(f"Most often, {count} of {len(graded)}: {says.rstrip('.')}.")
        lines += [f"  {count} × {says}" for says, count in made[1:]]
    else:
        lines.append("No drawing went wrong.")
    return "\n".join(lines)
