"""A plan told: in words, as data, as CSV, as a calendar and as the first page of a print."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

import numpy as np

from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import point
from wise_compass.outputs.rows import rows_csv
from wise_compass.plan.day import DrawnSheet, Plan
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.frame import frame_items
from wise_compass.sheet.lettering import SMALL, TEXT, fitted, text_width
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.stepsheet import wrapped_to

COLUMNS = (
    (2.0, "Sheet"),
    (14.0, "Title and figures"),
    (98.0, "Minutes"),
    (124.0, "From"),
    (140.0, "To"),
    (156.0, "Waits for"),
)
END, LEAD = 178.0, 4.7


def minutes_words(minutes: float) -> str:
    """A time as a person tells it: to the minute, or over an hour to five.

    >>> minutes_words(7.4), minutes_words(83)
    ('7 min', '1 h 25')
    """
    if minutes < 60:
        return f"{minutes:.0f} min"
    whole = 5 * round(minutes / 5)
    return f"{whole // 60} h {whole % 60:02d}"


def kit_lines(plan: Plan, style: Style = PLAIN) -> Iterator[str]:
    """What has to lie on the table."""
    needed = plan.needed
    papers = ", ".join(f"{count} of {size}" for size, count in sorted(needed.papers.items()))
    yield f"Paper: {papers}."
    if needed.opening:
        yield f"Compass: the largest opening is {style.length(needed.opening)} on the paper."
    yield f"Instruments: {', '.join(needed.instruments)}."
    if needed.rules:
        yield f"Scale rules: {', '.join(needed.rules)}."
    yield f"Leads: {', '.join(needed.leads)}."


def order_words(plan: Plan) -> str:
    """What the order saves."""
    if plan.changes >= plan.unordered:
        return (
            f"{plan.changes} changes of opening and instrument between figures; the job’s own order is as good as any."
        )
    return f"{plan.changes} changes of opening and instrument between figures, not {plan.unordered} as the job stands."


def plan_text(plan: Plan, style: Style = PLAIN) -> str:
    """The plan for a person."""
    lines = [
        f"{plan.title}: {minutes_words(plan.minutes)}" + (f", done {_when(plan)}" if plan.end else ""),
        f"  {plan.pace.says}",
    ]
    lines += [f"  {order_words(plan)}", ""]
    day = None
    for one in plan.sheets:
        if plan.days > 1 and one.begin.date() != day and not one.fault:
            day = one.begin.date()
            lines.append(f"{day:%A, %d %B}")
        if one.fault:
            lines.append(f"{one.number:4}  {one.title}: cannot be planned. {style.say(one.fault)}")
            continue
        waits = f"   after sheet {', '.join(map(str, one.waits))}" if one.waits else ""
        lines.append(f"{one.number:4}  {one.title:32} {_minutes(one):>20}   {one.begin:%H:%M} to {_end(one)}{waits}")
    lines += ["", *kit_lines(plan, style)]
    if plan.breaks and plan.days == 1:
        lines.append(f"Breaks: {', '.join(f'{begin:%H:%M} to {end:%H:%M}' for begin, end in plan.breaks)}.")
    return "\n".join(lines)


def _when(plan: Plan) -> str:
    assert plan.end is not None
    return f"at {plan.end:%H:%M}" if plan.days == 1 else f"on {plan.end:%A, %d %B at %H:%M}"


def _end(one: DrawnSheet) -> str:
    """When a sheet is done; with the day where that is another."""
    return f"{one.end:%H:%M}" if one.end.date() == one.begin.date() else f"{one.end:%a %H:%M}"


def _minutes(one: DrawnSheet) -> str:
    return f"{one.minutes:.0f} min ({one.low:.0f} to {one.high:.0f})"


def sheet_line(one: DrawnSheet, style: Style = PLAIN) -> list[str]:
    """A sheet in the plan's list: number, title, minutes, from, to, and what it waits for."""
    if one.fault:
        return [str(one.number), f"{one.title}: cannot be planned. {style.say(one.fault)}", "", "", "", ""]
    waits = f"sheet {', '.join(map(str, one.waits))}" if one.waits else ""
    return [str(one.number), one.title, _minutes(one), f"{one.begin:%a %H:%M}", f"{one.end:%a %H:%M}", waits]


def plan_record(plan: Plan) -> dict[str, Any]:
    """The plan as data."""
    return {
        "title": plan.title,
        "minutes": plan.minutes,
        "end": plan.end.isoformat() if plan.end else None,
        "changes": plan.changes,
        "unordered": plan.unordered,
        "pace": {**plan.pace._asdict(), "says": plan.pace.says},
        "sheets": [
            {**one._asdict(), "begin": one.begin.isoformat(), "end": one.end.isoformat()} for one in plan.sheets
        ],
        "kit": {**plan.needed._asdict(), "papers": dict(plan.needed.papers)},
        "breaks": [[begin.isoformat(), end.isoformat()] for begin, end in plan.breaks],
    }


def plan_csv(plan: Plan) -> str:
    """A row a sheet."""
    rows = []
    for k, one in enumerate(plan.sheets, 1):
        times = [f"{value:.1f}" for value in (one.minutes, one.low, one.high)]
        row = [k, one.number, one.title, "; ".join(one.figures), *times, one.begin.isoformat(), one.end.isoformat()]
        rows.append([*row, " ".join(map(str, one.waits)), PLAIN.say(one.fault)])
    head = ["order", "sheet", "title", "figures", "minutes", "low", "high", "begin", "end", "waits_for", "fault"]
    return rows_csv(head, rows)


def plan_calendar(plan: Plan, made: datetime | None = None) -> bytes:
    """The sheets as events of a calendar (RFC 5545), the times being those of the place where it is opened."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Wise Compass//plan//EN")
    calendar.add("version", "2.0")
    for one in plan.sheets:
        if one.fault:
            continue
        event = Event()
        name = hashlib.sha256(f"{plan.title}/{one.number}/{one.begin.isoformat()}".encode()).hexdigest()[:24]
        event.add("uid", f"{name}@wise-compass")
        event.add("dtstamp", made or datetime.now(UTC))
        event.add("dtstart", one.begin)
        event.add("dtend", one.end)
        event.add("summary", f"Sheet {one.number}: {one.title}")
        event.add("description", f"{', '.join(one.figures)}. {_minutes(one)}.")
        calendar.add_component(event)
    content: bytes = calendar.to_ical()
    return content


def plan_drawings(plan: Plan, style: Style = PLAIN) -> list[Drawing]:
    """The plan on paper: upright A4 pages, the first of a print."""
    rows = list(_rows(plan, style))
    paper = Paper("A4", "portrait")
    left, bottom, _, top = paper.frame
    each = int((top - bottom - 22.0) / LEAD)
    pages = []
    for number, first in enumerate(range(0, len(rows), each), 1):
        drawing = Drawing(paper.width, paper.height, list(frame_items(paper)))
        title = fitted(f"{plan.title}: the day’s plan", TEXT, END - 24.0)
        drawing.items.append(_text(left + 2.0, top - 8.0, title, True, TEXT))
        count = f"{number}/{-(-len(rows) // each)}"
        drawing.items.append(_text(left + END - text_width(count, SMALL) - 2.0, top - 8.0, count, False))
        y = top - 15.0
        for ruled, cells in rows[first : first + each]:
            if ruled:
                line = np.array([point(left + 2.0, y + 3.6), point(left + END - 1.0, y + 3.6)])
                drawing.items.append(Line("lettering", 0, "", "construction", line))
            drawing.items += [_text(left + x, y, words, bold) for x, words, bold in cells]
            y -= LEAD
        pages.append(drawing)
    return pages


def _rows(plan: Plan, style: Style) -> Iterator[tuple[bool, list[tuple[float, str, bool]]]]:
    whole = f"{minutes_words(plan.minutes)} in all" + (f", done {_when(plan)}" if plan.end else "")
    for words in (whole, order_words(plan), plan.pace.says, *kit_lines(plan, style)):
        yield from ((False, [(2.0, line, words is whole)]) for line in wrapped_to(words, END - 6.0))
    yield False, []
    yield False, [(x, words, True) for x, words in COLUMNS]
    rests, day = list(plan.breaks), None
    for one in plan.sheets:
        while rests and rests[0][0] <= one.begin:
            begin, end = rests.pop(0)
            yield True, [(14.0, "break", False), (124.0, f"{begin:%H:%M}", False), (140.0, f"{end:%H:%M}", False)]
        if plan.days > 1 and one.begin.date() != day and not one.fault:
            day = one.begin.date()
            yield False, [(2.0, f"{day:%A, %d %B}", True)]
        words = one.fault and f"{one.title}: cannot be planned. {style.say(one.fault)}"
        figures = [name for name in one.figures if name != one.title]
        lines = wrapped_to(words or one.title + (f": {', '.join(figures)}" if figures else ""), 80.0)
        cells = [(2.0, str(one.number), True), (14.0, lines[0], False)]
        if not one.fault:
            cells += [(98.0, f"{one.minutes:.0f} ({one.low:.0f}–{one.high:.0f})", False)]
            cells += [(124.0, f"{one.begin:%H:%M}", False), (140.0, _end(one), False)]
            cells += [(156.0, f"sheet {', '.join(map(str, one.waits))}" if one.waits else "", False)]
        yield True, cells
        yield from ((False, [(14.0, line, False)]) for line in lines[1:])


def _text(x: float, y: float, words: str, bold: bool, size: float = SMALL) -> Item:
    return Text("lettering", 0, "", "frame", point(x, y), words, size, bold=bold)
