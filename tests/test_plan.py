"""The day's plan: its order against brute force, times with breaks and nights, one's own pace, and what is written of
it."""

from __future__ import annotations

import csv
import io
import itertools
import tempfile
import unittest
from datetime import date, datetime, timedelta
from pathlib import Path

import numpy as np
from icalendar import Calendar
from pypdf import PdfReader

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import scale_name
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import build_sheet, style_of
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Entry, Job, Link, SheetPlan
from wise_compass.logbook.store import Logbook, Noted
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.plan.day import LEADS, Hours, plan_of
from wise_compass.plan.order import PlanItem, allowed, best_order, cost
from wise_compass.plan.pace import ENOUGH, Pace, minutes_of, own_pace
from wise_compass.plan.told import plan_calendar, plan_csv, plan_drawings, plan_record, plan_text

MORNING = datetime(2026, 11, 26, 8, 0)


def entry(figure: str, title: str, **givens: object) -> Entry:
    kind = figure_named(figure)
    return Entry(
        figure, title, next(iter(kind.methods)), {**kind().stored(), **givens}, id=title.lower().replace(" ", "-")
    )


def small_job() -> Job:
    floor, lid = entry("polygon-on-side", "Floor", side=44.0, sides=6), entry("square-on-side", "Lid", side=60.0)
    hoop = entry("polygon-in-circle", "Hoop", sides=6)
    given = next(iter(figure_named("polygon-in-circle").givens))
    hoop = Entry(
        hoop.figure, hoop.title, hoop.method, hoop.givens, links={given: Link("2*Floor.circumradius")}, id=hoop.id
    )
    return Job("Wrenfold Mill", (SheetPlan("Hoop", (hoop,)), SheetPlan("Lid", (lid,)), SheetPlan("Floor", (floor,))))


def after(start: datetime) -> list[date]:
    """That day and those that follow."""
    return [(start + timedelta(days=k)).date() for k in range(400)]


class Order(unittest.TestCase):
    def test_no_order_of_up_to_seven_figures_is_better(self) -> None:
        random = np.random.default_rng(8)
        tools = ["Compass", "Rule", "Set square", "Pencil"]
        for _ in range(60):
            count = int(random.integers(1, 8))
            items = []
            for k in range(count):
                first, last = (float(random.integers(0, 4)) * 10.0 for _ in range(2))
                after = frozenset(int(n) for n in range(k) if random.random() < 0.2)
                tool = [tools[int(random.integers(4))] for _ in range(2)]
                items.append(
                    PlanItem(
                        int(random.integers(0, 4)),
                        tool[0],
                        tool[1],
                        first if last else 0.0,
                        last if first else 0.0,
                        after,
                    )
                )
            found = best_order(items)
            self.assertEqual(sorted(found), list(range(count)))
            self.assertTrue(allowed(items, found))
            least = min(cost(items, order) for order in itertools.permutations(range(count)) if allowed(items, order))
            self.assertEqual(cost(items, found), least)

    def test_of_many_figures_the_order_waits_for_what_it_must_and_is_no_worse_than_the_jobs(self) -> None:
        random = np.random.default_rng(9)
        items = [
            PlanItem(k // 2, "Compass", ["Rule", "Compass"][int(random.integers(2))], float(random.integers(1, 5)),
            float(random.integers(1, 5)),
                 frozenset([k - 3]) if k % 5 == 4 else frozenset())
            for k in range(24)
        ]  # fmt: skip
        found = best_order(items)
        self.assertTrue(allowed(items, found))
        self.assertLessEqual(cost(items, found), cost(items, range(24)))

    def test_no_sheet_and_no_figure_within_its_sheet_is_better_elsewhere(self) -> None:
        random = np.random.default_rng(4)
        tools = ["Compass", "Rule", "Set square"]
        sheet_of = [0, 1, 2, 3, 4, 5, 6, 7, 7, 7, 7, 8, 8, 8, 8]
        for _ in range(25):
            items = [PlanItem(sheet, *random.choice(tools, 2).tolist(), 0.0, 0.0) for sheet in sheet_of]
            found = best_order(items)
            least = cost(items, found)
            runs = [[k for k in found if sheet_of[k] == sheet] for sheet in dict.fromkeys(sheet_of[k] for k in found)]
            self.assertEqual(list(itertools.chain(*runs)), found)
            for run, to in itertools.product(runs, range(len(runs))):
                rest = [one for one in runs if one is not run]
                self.assertGreaterEqual(cost(items, list(itertools.chain(*rest[:to], run, *rest[to:]))), least)
            for at, to in itertools.product(range(len(found)), repeat=2):
                rest = [k for k in found if k != found[at]]
                moved = [*rest[:to], found[at], *rest[to:]]
                if [sheet_of[k] for k in moved] == [sheet_of[k] for k in found]:
                    self.assertGreaterEqual(cost(items, moved), least)

    def test_a_job_of_two_hundred_figures_is_ordered_with_far_fewer_changes(self) -> None:
        random = np.random.default_rng(3)
        tools = ("Compass", "Rule", "Pencil")
        items = [
            PlanItem(
                k,
                tools[int(random.integers(3))],
                tools[int(random.integers(2))],
                float(random.integers(1, 9)),
                float(random.integers(1, 9)),
            )
            for k in range(200)
        ]
        found = best_order(items)
        self.assertEqual(sorted(found), list(range(200)))
        self.assertLess(cost(items, found), 0.5 * cost(items, range(200)))


class Day(unittest.TestCase):
    def test_what_uses_a_value_of_another_figure_waits_for_its_sheet(self) -> None:
        plan = plan_of(small_job(), Pace(), Hours(MORNING))
        order = [one.number for one in plan.sheets]
        self.assertLess(order.index(3), order.index(1))
        self.assertEqual(next(one.waits for one in plan.sheets if one.number == 1), (3,))
        self.assertEqual(plan.needed.papers, {"A4": 3})
        self.assertLessEqual(plan.changes, cost_of_any(plan.unordered))

    def test_the_clock_adds_up_and_rests_and_goes_home(self) -> None:
        plan = plan_of(demo_job(), Pace(1.5, 0.2, 20), Hours(MORNING, 60.0, 15.0, 240.0))
        for begin, end in plan.breaks:
            self.assertLessEqual(end - begin, timedelta(minutes=15))
        times = [(one.begin, one.end) for one in plan.sheets]
        for (_, end), (begin, _) in itertools.pairwise(times):
            self.assertGreaterEqual(begin, end)
        for begin, end in times:
            for moment in (begin, end):
                self.assertLessEqual(
                    moment - moment.replace(hour=8, minute=0, second=0, microsecond=0), timedelta(minutes=240.01)
                )
        straight = plan_of(demo_job(), Pace(), Hours(MORNING, 0.0, 0.0, 0.0))
        assert straight.end is not None
        self.assertAlmostEqual((straight.end - MORNING) / timedelta(minutes=1), straight.minutes, 3)
        self.assertAlmostEqual(plan.minutes / straight.minutes, 1.5)
        self.assertFalse(straight.breaks)

    def test_days_off_are_not_worked(self) -> None:
        every = plan_of(small_job(), Pace(), Hours(MORNING, 0.0, 0.0, 4.0))
        assert every.end is not None
        whole = (every.end.date() - MORNING.date()).days
        self.assertGreater(whole, 5)
        for week in range(1, 8):
            for start in (MORNING, MORNING + timedelta(days=2), MORNING + timedelta(days=3)):
                plan = plan_of(small_job(), Pace(), Hours(start, 0.0, 0.0, 4.0, week))
                days = sorted({moment.date() for one in plan.sheets for moment in (one.begin, one.end)})
                self.assertTrue(all(day.weekday() < week for day in days), f"{week} {start}")
                worked = [day for day in after(start) if day.weekday() < week]
                self.assertEqual(days[0], worked[0])
                self.assertEqual(worked.index(days[-1]), whole, "as many days as without, and none is left out between")

    def test_the_kit_holds_what_the_sheets_are_drawn_with(self) -> None:
        job = small_job()
        tower = entry("polygon-on-side", "Tower", sides=8, side=2600.0)
        job = job._replace(sheets=(*job.sheets, SheetPlan("Tower", (tower,), scale="1:50")))
        openings, tools, roles = [], set(), set()
        for s, plan in enumerate(job.sheets):
            sheet = build_sheet(job, s)
            for placed in sheet.placed:
                made = placed.piece.run
                roles |= {mark.role for mark in made.marks}
                for step in made.steps:
                    tools.add(step.instrument)
                    if step.instrument == "Compass":
                        openings += [one.value * sheet.scale for one in step.settings if one.unit == "mm"]
            self.assertTrue(plan.entries)
        needed = plan_of(job, Pace(), Hours(MORNING)).needed
        self.assertAlmostEqual(needed.opening, max(openings))
        self.assertEqual(
            set(needed.rules), {scale_name(build_sheet(job, s).scale) for s in range(len(job.sheets))} - {"1:1"}
        )
        self.assertEqual(set(needed.instruments), tools)
        self.assertEqual(set(needed.leads), {words for role, words in LEADS.items() if role in roles})
        self.assertEqual(sum(needed.papers.values()), len(job.sheets))

    def test_a_sheet_that_cannot_be_drawn_is_told_and_the_others_are_planned(self) -> None:
        broken = entry("polygon-on-side", "Broken", sides=6)
        broken = Entry(broken.figure, broken.title, broken.method, {**broken.givens, "side": -4.0}, id="broken")
        job = small_job()
        plan = plan_of(job._replace(sheets=(SheetPlan("Broken", (broken,)), *job.sheets)), Pace(), Hours(MORNING))
        self.assertEqual(len(plan.sheets), 4)
        self.assertTrue(next(one.fault for one in plan.sheets if one.number == 1))
        with self.assertRaises(Refused):
            plan_of(Job("Empty"))

    def test_ten_timed_entries_make_the_pace_ones_own(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            book = Logbook(Path(folder))
            kind = figure_named("rhombus")
            from wise_compass.drafting.run import run

            made = run(kind())
            assumed = minutes_of(made.steps)

            def timed(k: int) -> Noted:
                return Noted(
                    f"e{k}", float(k), "practice", "Ada", "polygons", "rhombus", made.method.id, kind().stored(), 1.0,
                    {}, "honest", None,
                    None, "", "", 2.0 * assumed * (1.1 if k % 2 else 1 / 1.1), len(made.steps),
                )  # fmt: skip

            book.note([timed(k) for k in range(ENOUGH - 1)])
            self.assertEqual(own_pace(book), Pace())
            book.note([timed(ENOUGH)])
            mine = own_pace(book, "Ada")
            self.assertEqual(mine.entries, ENOUGH)
            self.assertAlmostEqual(mine.factor, 2.0, delta=0.21)
            self.assertEqual(own_pace(book, "Ben"), Pace())
            twice = plan_of(small_job(), mine, Hours(MORNING)).minutes
            self.assertAlmostEqual(twice / plan_of(small_job(), Pace(), Hours(MORNING)).minutes, mine.factor)


class Written(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = plan_of(small_job(), Pace(), Hours(MORNING))

    def test_the_calendar_is_read_back_with_every_sheet_at_its_time(self) -> None:
        events = [part for part in Calendar.from_ical(plan_calendar(self.plan)).walk() if part.name == "VEVENT"]
        self.assertEqual(len(events), 3)
        for event, one in zip(events, self.plan.sheets):
            self.assertEqual(event["DTSTART"].dt, one.begin.replace(microsecond=0))
            self.assertIn(one.title, str(event["SUMMARY"]))
        self.assertEqual(len({str(event["UID"]) for event in events}), 3)

    def test_csv_paper_and_words_tell_the_same(self) -> None:
        rows = list(csv.DictReader(io.StringIO(plan_csv(self.plan))))
        self.assertEqual([int(row["sheet"]) for row in rows], [one.number for one in self.plan.sheets])
        style = style_of(small_job().settings)
        page = PdfReader(io.BytesIO(pdf_bytes(plan_drawings(self.plan, style)))).pages[0].extract_text()
        for one in self.plan.sheets:
            for told in (page, plan_text(self.plan)):
                self.assertIn(one.title, told)
                self.assertIn(f"{one.begin:%H:%M}", told)
        self.assertEqual(len(plan_record(self.plan)["sheets"]), 3)

    def test_a_long_plan_takes_pages_and_nothing_leaves_the_frame(self) -> None:
        pages = plan_drawings(plan_of(demo_job(), Pace(), Hours(MORNING)))
        self.assertGreater(len(pages), 1)
        for page in pages:
            for item in page.items:
                if item.layer == "lettering" and hasattr(item, "at"):
                    self.assertTrue(20 < item.at[0] < 200 and 10 < item.at[1] < 287)


def cost_of_any(unordered: int) -> int:
    """An order may have to wait for what the job draws later: then it may cost more than that impossible order."""
    return unordered + 2


if __name__ == "__main__":
    unittest.main()
