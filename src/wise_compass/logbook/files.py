"""The logbook as files: CSV and JSON out, CSV in."""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import figure_named
from wise_compass.logbook.store import COLUMNS, Noted, NotedMeasure, fault_of, new_noted_id
from wise_compass.outputs.rows import rows_csv, unguarded

MEASURE_COLUMNS = ("measure", "unit", "exact", "measured", "sd", "share", "instrument", "measure_mark")
NEEDED = ("at", "figure", "method", "verdict")
HEAD = (*COLUMNS, *MEASURE_COLUMNS)
KINDS, VERDICTS = ("check", "practice", "mark"), ("honest", "slip", "step", "scale", "unclear", "partly", "outline")


def iso(at: float) -> str:
    """A moment as ISO 8601 has it, in UTC."""
    return datetime.fromtimestamp(at, UTC).isoformat(timespec="seconds")


def json_text(entries: Sequence[Noted]) -> str:
    """Entries as JSON, their measures inside."""
    rows = [{**one._asdict(), "at": iso(one.at), "measures": [m._asdict() for m in one.measures]} for one in entries]
    return json.dumps({"format": "wise-compass-logbook", "entries": rows}, ensure_ascii=False, indent=1) + "\n"


def csv_text(entries: Sequence[Noted]) -> str:
    """Entries as CSV, a row a measurement; one without any has a row of its own."""
    rows: list[list[object]] = []
    for one in entries:
        fields = {
            **one._asdict(),
            "at": iso(one.at),
            "givens": json.dumps(dict(one.givens)),
            "kit": json.dumps(dict(one.kit)),
        }
        row = [fields[name] for name in COLUMNS]
        for measure in one.measures or (None,):
            rows.append([*row, *(measure or [None] * len(MEASURE_COLUMNS))])
    return rows_csv(HEAD, rows)


def read_csv(text: str) -> list[Noted]:
    """Entries from CSV as it is written here; raises :class:`Refused` naming the row and the column that cannot be.
    None is half taken."""
    rows = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    try:
        head = rows.fieldnames or []
    except csv.Error as error:
        raise Refused("csv", f"The line of column names cannot be read as CSV ({error}). Nothing was taken.") from None
    if missing := [name for name in NEEDED if name not in head]:
        raise Refused(
            "csv", f"The column {missing[0]} is missing; a logbook has {', '.join(NEEDED)} at least. Nothing was taken."
        )
    made: dict[str, Noted] = {}
    first: dict[str, int] = {}
    measures: dict[str, list[NotedMeasure]] = {}
    try:
        for number, guarded in enumerate(rows, 2):
            row = {name: unguarded(cell) if isinstance(cell, str) else cell for name, cell in guarded.items()}
            id = (row.get("id") or "").strip() or new_noted_id()
            if id not in made:
                made[id], first[id] = _entry(row, id, number), number
            if (row.get("measure") or "").strip():
                measures.setdefault(id, []).append(_measure(row, number))
    except csv.Error as error:
        raise Refused("csv", f"Row {rows.line_num} cannot be read as CSV ({error}). Nothing was taken.") from None
    entries = [one._replace(measures=tuple(measures.get(id, ()))) for id, one in made.items()]
    for one in entries:
        if fault := fault_of(one):
            name, _, what = fault.partition(" ")
            raise _wrong(first[one.id], name, what)
    return entries


def _entry(row: Mapping[str, Any], id: str, number: int) -> Noted:
    figure = _word(row, "figure", number)
    try:
        family = figure_named(figure).family
    except Refused:
        raise _wrong(number, "figure", f"“{figure[:40]}” is no figure") from None
    try:
        moment = datetime.fromisoformat(_word(row, "at", number))
        at = (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).timestamp()
    except (ValueError, OverflowError):
        raise _wrong(number, "at", "is no date and time such as 2026-11-25T09:30:00+00:00") from None
    kind, verdict = (row.get("kind") or "check").strip(), _word(row, "verdict", number)
    if kind not in KINDS:
        raise _wrong(number, "kind", f"is none of {', '.join(KINDS)}")
    if verdict not in VERDICTS:
        raise _wrong(number, "verdict", f"is none of {', '.join(VERDICTS)}")
    minutes = _number(row, "minutes", number)
    if minutes is not None and minutes < 0:
        raise _wrong(number, "minutes", "is less than 0")
    step, steps = _number(row, "step", number), _number(row, "steps", number)
    scale = _number(row, "scale", number)
    return Noted(
        id,
        at,
        kind,
        (row.get("person") or "").strip(),
        family,
        figure,
        _word(row, "method", number),
        _json(row, "givens", number),
        1.0 if scale is None else scale,
        _json(row, "kit", number),
        verdict,
        (row.get("slip") or "").strip() or None,
        None if step is None else int(step),
        (row.get("says") or "").strip(),
        (row.get("mark") or "").strip(),
        minutes,
        0 if steps is None else int(steps),
        own=row.get("own") or None,
    )


def _measure(row: Mapping[str, Any], number: int) -> NotedMeasure:
    sizes = {}
    for name in ("exact", "measured", "sd", "share"):
        size = _number(row, name, number)
        if size is None:
            raise _wrong(number, name, "is empty")
        sizes[name] = size
    return NotedMeasure(
        _word(row, "measure", number),
        (row.get("unit") or "mm").strip(),
        **sizes,
        instrument=(row.get("instrument") or "rule").strip(),
        mark=(row.get("measure_mark") or "").strip(),
    )


def _word(row: Mapping[str, Any], name: str, number: int) -> str:
    word = (row.get(name) or "").strip()
    if not word:
        raise _wrong(number, name, "is empty")
    return word


def _number(row: Mapping[str, Any], name: str, number: int) -> float | None:
    word = (row.get(name) or "").strip()
    if not word:
        return None
    try:
        value = float(word)
    except ValueError:
        value = math.nan
    if not math.isfinite(value) or abs(value) > 1e12:
        raise _wrong(number, name, f"“{word[:20]}” is no number")
    return value


def _json(row: Mapping[str, Any], name: str, number: int) -> dict[str, Any]:
    word = (row.get(name) or "").strip() or "{}"
    try:
        value = json.loads(word, parse_constant=_no_number)
    except (ValueError, RecursionError):
        value = None
    if not isinstance(value, dict):
        raise _wrong(number, name, "is no table as JSON has it")
    return value


def _no_number(word: str) -> float:
    raise ValueError(word)  # NaN and Infinity, which JSON has not


def _wrong(number: int, name: str, what: str) -> Refused:
    return Refused("csv", f"Row {number}: {name} {what}. Nothing was taken; mend that row.")
