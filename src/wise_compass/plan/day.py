"""The plan of a job: the order of its sheets, the kit, minutes with their spread, and when each is begun and done,
breaks included."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple

from wise_compass.drafting.marks import Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import scale_name
from wise_compass.job.build import build_sheet, run_entry
from wise_compass.job.dimensions import figures_used
from wise_compass.job.model import Job
from wise_compass.outputs.cores import on_all_cores
from wise_compass.plan.order import PlanItem, best_order, cost
from wise_compass.plan.pace import Pace, minutes_of

PIN = 3.0
"""Minutes to pin a sheet down, draw its frame in and take it off again."""
LEADS = {
    Role.CONSTRUCTION: "2H for construction",
    Role.OUTLINE: "HB for the outline",
    Role.HIDDEN: "H for hidden lines",
}


YEARS = 1970, 2200
MINUTES_OF = {
    "work": (5.0, 1440.0, ", or 0 for no breaks"),
    "rest": (0.0, 480.0, ""),
    "day": (30.0, 1440.0, ", or 0 for no end of the day"),
}
"""The least and the most minutes of each, and what 0 stands for."""


class Hours(NamedTuple):
    """When work begins, a break of so many minutes after so many of work, and how many minutes a day has, breaks
    included; 0 for none. Of the ``week`` so many days are worked, from Monday on, where days have an end."""

    start: datetime
    work: float = 90.0
    rest: float = 10.0
    day: float = 480.0
    week: int = 7

    def check(self) -> None:
        """Raise :class:`Refused`, naming the one, for hours that nobody could keep."""
        if not YEARS[0] <= self.start.year <= YEARS[1]:
            raise Refused("start", f"start is in {self.start.year}; a plan begins between {YEARS[0]} and {YEARS[1]}.")
        for name, (least, most, none) in MINUTES_OF.items():
            value = getattr(self, name)
            if not (value == 0 or least <= value <= most):
                way = "Lower" if value > most else "Raise"
                raise Refused(
                    name, f"{name} is {value:g} minutes; it goes from {least:g} to {most:g}{none}. {way} {name}."
                )


class DrawnSheet(NamedTuple):
    """A sheet as it is planned: its number in the job, title, figures in order, minutes with their spread, beginning
    and end, the sheets, by number, that it waits for, why it cannot be planned (empty where it can), and the changes of
    opening and instrument that coming to it and drawing its figures takes."""

    number: int
    title: str
    figures: tuple[str, ...]
    minutes: float
    low: float
    high: float
    begin: datetime
    end: datetime
    waits: tuple[int, ...]
    fault: str = ""
    changes: int = 0


class Needed(NamedTuple):
    """The kit that a job needs: the largest opening on the paper, scale rules, leads, sheets of each paper, and the
    other instruments."""

    opening: float
    rules: tuple[str, ...]
    leads: tuple[str, ...]
    papers: Mapping[str, int]
    instruments: tuple[str, ...]


class Plan(NamedTuple):
    """A job's plan. ``changes`` are those of opening and instrument between figures, ``unordered`` what they would be
    as the job stands; ``nights`` go from the end of a day's work to the next."""

    title: str
    sheets: tuple[DrawnSheet, ...]
    needed: Needed
    pace: Pace
    changes: int
    unordered: int
    breaks: tuple[tuple[datetime, datetime], ...]
    nights: tuple[tuple[datetime, datetime], ...] = ()

    @property
    def end(self) -> datetime | None:
        return max((one.end for one in self.sheets), default=None)

    @property
    def days(self) -> int:
        """How many days it takes."""
        times = [one for sheet in self.sheets if not sheet.fault for one in (sheet.begin, sheet.end)]
        return len({one.date() for one in times})

    @property
    def minutes(self) -> float:
        return sum(one.minutes for one in self.sheets)


class _Figure(NamedTuple):
    """What a plan has to know of a figure of the job, as it is drawn on its sheet: the minutes that it is assumed to
    take, its instruments, the compass's openings in mm on the paper in order, and what lines it has."""

    sheet: int
    id: str
    title: str
    scale: float
    minutes: float
    tools: tuple[str, ...]
    openings: tuple[float, ...]
    roles: frozenset[Role]


class _Looked(NamedTuple):
    """A sheet that was looked at: the size of its paper and its figures, or why it cannot be drawn."""

    paper: str
    figures: tuple[_Figure, ...]
    fault: str = ""


class PlannedJob(NamedTuple):
    """What planning has to know of a job: its figures, the papers that they take, and the sheets that cannot be drawn,
    by number from 0, with the reason."""

    job: Job
    figures: tuple[_Figure, ...]
    papers: Mapping[str, int]
    faults: Mapping[int, str]


def plan_of(
    job: Job, pace: Pace | None = None, hours: Hours | None = None, hear: Callable[[int, int], None] | None = None
) -> Plan:
    """The plan; raises :class:`Refused` where there is nothing that can be planned. ``hear`` is told how many sheets
    are looked at."""
    return drawn_up(looked_through(job, hear), pace, hours)


def looked_through(job: Job, hear: Callable[[int, int], None] | None = None) -> PlannedJob:
    """Run every sheet of a job, which takes a while; raises :class:`Refused` where none can be drawn."""
    figures, papers, faults = _figures(job, hear)
    if not figures:
        raise Refused("job", "There is no sheet that could be planned; set a figure first.")
    return PlannedJob(job, tuple(figures), papers, faults)


def drawn_up(
    looked: PlannedJob, pace: Pace | None = None, hours: Hours | None = None, sheets: Sequence[int] | None = None
) -> Plan:
    """The plan of a job that was looked through, its ``sheets`` in an order of one's own (numbers from 1) or in the
    best; raises :class:`Refused` for an order in which a sheet comes before one that it waits for."""
    pace = pace or Pace()
    hours = hours or Hours(datetime.now().replace(second=0, microsecond=0))
    job, figures = looked.job, looked.figures
    items = [_item(one, job, k, figures) for k, one in enumerate(figures)]
    order = best_order(items) if sheets is None else _as_told(items, sheets)
    by_sheet: dict[int, list[int]] = {}
    for k in order:
        by_sheet.setdefault(figures[k].sheet, []).append(k)
    clock = _Clock(hours)
    drawn: list[DrawnSheet] = []
    so_far = passed = 0
    for number, places in by_sheet.items():
        minutes = (PIN + sum(figures[k].minutes for k in places)) * pace.factor
        begin, end = clock.spend(minutes)
        spread = math.exp(pace.spread)
        waits = {figures[n].sheet + 1 for k in places for n in items[k].after if figures[n].sheet != number}
        titles = tuple(figures[k].title for k in places)
        passed += len(places)
        before, so_far = so_far, cost(items, order[:passed])
        times = (minutes, minutes / spread, minutes * spread)
        drawn.append(
            DrawnSheet(
                number + 1,
                job.sheets[number].title,
                titles,
                *times,
                begin,
                end,
                tuple(sorted(waits)),
                changes=so_far - before,
            )
        )
    drawn += [
        DrawnSheet(n + 1, job.sheets[n].title, (), 0.0, 0.0, 0.0, clock.now, clock.now, (), fault)
        for n, fault in looked.faults.items()
    ]
    standing = list(range(len(figures)))
    return Plan(
        job.title,
        tuple(drawn),
        _needed(figures, looked.papers),
        pace,
        so_far,
        cost(items, standing),
        tuple(clock.breaks),
        tuple(clock.nights),
    )


def _as_told(items: Sequence[PlanItem], sheets: Sequence[int]) -> list[int]:
    """The figures with their sheets in a told order, in the job's own within each; sheets that were not told come
    last."""
    place = {number - 1: n for n, number in enumerate(sheets)}
    order = sorted(range(len(items)), key=lambda k: (place.get(items[k].sheet, len(place) + items[k].sheet), k))
    done: set[int] = set()
    for k in order:
        early = next((n for n in items[k].after if n not in done and items[n].sheet != items[k].sheet), None)
        if early is not None:
            first, then = items[early].sheet + 1, items[k].sheet + 1
            raise Refused("sheet", f"Sheet {then} takes a value from sheet {first}: draw sheet {first} before it.")
        done.add(k)
    return order


def _figures(job: Job, hear: Callable[[int, int], None] | None) -> tuple[list[_Figure], dict[str, int], dict[int, str]]:
    """Every figure of the sheets that can be drawn, the papers that these take, and why the others cannot."""
    alone = [(number, job._replace(sheets=(plan,))) for number, plan in enumerate(job.sheets)]
    figures: list[_Figure] = []
    papers: dict[str, int] = {}
    faults: dict[int, str] = {}
    for number, looked in enumerate(on_all_cores(_looked_at, alone, hear)):
        if looked.fault:
            faults[number] = looked.fault
            continue
        papers[looked.paper] = papers.get(looked.paper, 0) + 1
        figures += looked.figures
    return figures, papers, faults


def _looked_at(numbered: tuple[int, Job]) -> _Looked:
    """A job's only sheet, by its number in the whole job."""
    number, job = numbered
    (plan,) = job.sheets
    try:
        runs = {entry.id: run_entry(entry, job.settings, plan) for entry in plan.entries}
        sheet = build_sheet(job, 0, runs, {"labels": False})  # its paper and its scale are asked
    except Refused as refusal:
        return _Looked("", (), refusal.says)
    return _Looked(
        sheet.paper.size,
        tuple(_told(number, entry.id, entry.title, runs[entry.id], sheet.scale) for entry in plan.entries),
    )


def _told(sheet: int, id: str, title: str, made: Run, scale: float) -> _Figure:
    openings = (
        size.on_paper(scale)
        for step in made.steps
        if step.instrument == "Compass"
        for size in step.settings
        if size.unit == "mm"
    )
    return _Figure(
        sheet,
        id,
        title,
        scale,
        minutes_of(made.steps, scale),
        tuple(step.tool(scale) for step in made.steps),
        tuple(openings),
        frozenset(mark.role for mark in made.marks),
    )


def _item(one: _Figure, job: Job, place: int, figures: Sequence[_Figure]) -> PlanItem:
    """A figure as the order sees it."""
    tools, openings = one.tools or ("",), one.openings or (0.0,)
    entry = job.entry(one.id)
    used = figures_used(job, entry) if entry is not None and entry.links else set()
    after = frozenset(k for k, other in enumerate(figures) if other.id in used and k != place)
    return PlanItem(one.sheet, tools[0], tools[-1], openings[0], openings[-1], after)


def _needed(figures: Sequence[_Figure], papers: Mapping[str, int]) -> Needed:
    tools = {tool for one in figures for tool in one.tools}
    roles = {role for one in figures for role in one.roles}
    rules = sorted({scale_name(one.scale) for one in figures if one.scale != 1})
    plain = sorted(tool for tool in tools if not tool.startswith("Scale rule"))
    return Needed(
        max((size for one in figures for size in one.openings), default=0.0),
        tuple(rules),
        tuple(words for role, words in LEADS.items() if role in roles),
        dict(papers),
        tuple(plain),
    )


class _Clock:
    """The time of day as work goes on, breaks taken where they fall due."""

    def __init__(self, hours: Hours) -> None:
        self.hours, self._worked = hours, 0.0
        self.now = self._dawn = self._workday(hours.start)
        self.breaks: list[tuple[datetime, datetime]] = []
        self.nights: list[tuple[datetime, datetime]] = []

    def spend(self, minutes: float) -> tuple[datetime, datetime]:
        """Work so long; returns when that begins and ends."""
        self._due()
        begin, left = self.now, minutes
        while left > 1e-9:
            self._due()
            part = min(left, self._till_break(), self._till_night())
            self.now += timedelta(minutes=part)
            self._worked += part
            left -= part
        return begin, self.now

    def _workday(self, day: datetime) -> datetime:
        """That day, or the next that is worked."""
        while self.hours.day and day.weekday() >= self.hours.week:
            day += timedelta(days=1)
        return day

    def _till_break(self) -> float:
        return self.hours.work - self._worked if self.hours.work and self.hours.rest else math.inf

    def _till_night(self) -> float:
        return self.hours.day - (self.now - self._dawn) / timedelta(minutes=1) if self.hours.day else math.inf

    def _due(self) -> None:
        """Go home where the day is over, else rest where a break is due."""
        if self._till_night() < 0.5:
            evening = self.now
            self.now = self._dawn = self._workday(self._dawn + timedelta(days=1))
            self.nights.append((evening, self.now))
            self._worked = 0.0
        elif self._till_break() < 0.5:
            begin = self.now
            self.now += timedelta(minutes=min(self.hours.rest, self._till_night()))
            self.breaks.append((begin, self.now))
            self._worked = 0.0
            if self._till_night() < 0.5:
                self._due()
