"""A class's table as schools have it: any usual delimiter and encoding, decimal commas, headings in any case, pupils
who were away. What cannot be read is told all at once, by row, and then nothing is taken."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN
from wise_compass.outputs.rows import unguarded
from wise_compass.practice.problems import Problem, problem_of
from wise_compass.study.measures import INSTRUMENTS, Taken, points_of, scalar_values, taken_as

NEEDED = ("pupil", "problem")
BESIDE = ("minutes", "instrument")
MOST_ROWS = 5000
MOST_TOLD = 6
"""Faults of a table that are told by row; of more the number is told."""
DELIMITERS = (",", ";", "\t", "|")
AWAY = re.compile(r"[^\W\d_][^\d]*|[-–—/.?*]+")
"""What a cell has that holds no number: a word such as absent, or a dash."""
_DECIMAL_COMMA = re.compile(r"([-+]?\d+),(\d+)(\s*(?:mm|cm|°)?)")


class Handed(NamedTuple):
    """What a pupil handed in: the row it stands in, who, the problem, and each measurement as it was written; nothing
    measured where the pupil was away, with what stands there instead."""

    row: int
    pupil: str
    problem: Problem
    measured: Mapping[str, str]
    minutes: float | None
    instrument: str
    away: str = ""


def read_class(text: str) -> list[Handed]:
    """The rows of a class's table; raises :class:`Refused` naming every row and column that cannot be. None is half
    taken."""
    delimiter, text = _dialect(text.lstrip("\ufeff"))
    rows = csv.reader(io.StringIO(text), delimiter=delimiter)
    handed: list[Handed] = []
    faults: list[str] = []
    seen: dict[tuple[str, str], int] = {}
    try:
        head = _head(next(rows, []))
        for cells in rows:
            if rows.line_num > MOST_ROWS:
                raise Refused("csv", f"There are more than {MOST_ROWS} rows; mark a part of them at a time.")
            if not any(cell.strip() for cell in cells):
                continue
            try:
                handed.append(_handed(_row(head, cells, delimiter), rows.line_num, seen))
            except Refused as refusal:
                faults.append(f"Row {rows.line_num}{refusal.says}")
    except csv.Error as error:
        faults.append(f"Row {rows.line_num} cannot be read as CSV ({error}).")
    tell(faults)
    if not handed:
        raise Refused("csv", "There is no row of a pupil. Nothing was marked.")
    return handed


def tell(faults: Sequence[str]) -> None:
    """Raise :class:`Refused` with all faults that a table has, if it has any."""
    if faults:
        more = len(faults) - MOST_TOLD
        rest = f" {more} more rows have faults." if more > 1 else " One more row has a fault." if more == 1 else ""
        raise Refused("csv", f"{' '.join(faults[:MOST_TOLD])}{rest} Nothing was marked; mend that first.")


def _dialect(text: str) -> tuple[str, str]:
    """What parts the cells, told by a first line such as ``sep=;`` or by the heading, and the text without that
    line."""
    first, _, rest = text.partition("\n")
    told = re.fullmatch(r"\s*\"?sep=(.)\"?\s*", first, re.I)
    if told:
        return told.group(1), rest
    counts = {one: first.count(one) for one in DELIMITERS}
    return max(DELIMITERS, key=lambda one: counts[one]), text


def _head(cells: Sequence[str]) -> list[str]:
    """The names of the columns as they are known here; raises :class:`Refused`."""
    names = [cell.strip() for cell in cells]
    head = [name.casefold() if name.casefold() in (*NEEDED, *BESIDE) else _squeezed(name) for name in names]
    for name in NEEDED:
        if name not in head:
            raise Refused(
                "csv",
                f"The column {name} is missing; a class has {' and '.join(NEEDED)}, "
                "and a column a measure. Nothing was marked.",
            )
    if twice := [name for name, count in Counter(head).items() if count > 1 and name]:
        raise Refused("csv", f"The column {twice[0]} is there twice. Nothing was marked; take one of them away.")
    return head


def _squeezed(name: str) -> str:
    """A measure's name without idle spaces.

    >>> _squeezed(" A – D "), _squeezed("angle  C")
    ('A-D', 'angle_C')
    """
    return re.sub(r"\s+", "_", re.sub(r"\s*[-–—−]\s*", "-", name.strip()))


def _row(head: Sequence[str], cells: Sequence[str], delimiter: str) -> dict[str, str]:
    """A row by its columns, decimal commas made points; raises :class:`Refused`, the words to follow the row's
    number."""
    if any(cell.strip() for cell in cells[len(head) :]):
        more = " A decimal comma stands between quotation marks, or ; between cells." if delimiter == "," else ""
        raise Refused("csv", f" has more cells than there are columns.{more}")
    told = dict(zip(head, (*(cell.strip() for cell in cells), *[""] * len(head))))
    return {
        name: _DECIMAL_COMMA.sub(r"\1.\2\3", cell) if name not in NEEDED and _DECIMAL_COMMA.fullmatch(cell) else cell
        for name, cell in told.items()
        if name
    }


def _handed(cells: Mapping[str, str], number: int, seen: dict[tuple[str, str], int]) -> Handed:
    """A row taken; raises :class:`Refused`, the words to follow the row's number."""
    pupil, code = unguarded(cells["pupil"]), cells["problem"]
    if not pupil:
        raise Refused("csv", " names no pupil.")
    if (pupil, code) in seen:
        raise Refused("csv", f": {pupil} is there twice with this problem, first in row {seen[pupil, code]}.")
    seen[pupil, code] = number
    try:
        problem = problem_of(code)
        problem.made()
    except Refused as refusal:
        raise Refused("csv", f": {PLAIN.say(refusal.says)}") from None
    measured = {name: cell for name, cell in cells.items() if name not in (*NEEDED, *BESIDE) and cell}
    words = [cell for cell in measured.values() if AWAY.fullmatch(cell)]
    if len(words) == len(measured):
        return Handed(number, pupil, problem, {}, None, "rule", next(iter(words), "") or "nothing measured")
    instrument = cells.get("instrument", "").casefold() or "rule"
    if instrument not in INSTRUMENTS:
        raise Refused("csv", f": instrument “{instrument[:20]}” measures nothing; it is {', '.join(INSTRUMENTS)}.")
    return Handed(number, pupil, problem, measured, _minutes(cells.get("minutes", "")), instrument)


def _minutes(told: str) -> float | None:
    if not told:
        return None
    try:
        minutes = float(told)
    except ValueError:
        minutes = float("nan")
    if not 0 <= minutes < 1e5:
        raise Refused("csv", f": minutes is {told[:20]}; it is a number from 0 up.")
    return minutes


def taken_of(one: Handed) -> tuple[Run, list[Taken], str]:
    """What a row measures of its problem, and its faults in words."""
    made = one.problem.run()
    known = {name.casefold(): name for name in (*scalar_values(made), *points_of(made))}
    taken: list[Taken] = []
    faults: list[str] = []
    for name, value in one.measured.items():
        try:
            taken.append(taken_as(made, name, value, one.instrument))
            continue
        except Refused as refusal:
            says = PLAIN.say(refusal.says)
        meant = "-".join(known.get(part.casefold(), part) for part in name.split("-"))
        if meant != name:
            try:
                taken.append(taken_as(made, meant, value, one.instrument))
                continue
            except Refused as refusal:
                says = PLAIN.say(refusal.says)
        faults.append(f"{name}: {says}")
    return made, taken, f"Row {one.row}, {' '.join(faults)}" if faults else ""
