"""Dimensions of the job and values of other figures, used in slots: what they come to, what follows them, and what is
refused."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtWidgets import QTableWidgetItem

from tests.test_cli import call
from tests.test_desk import APP, DeskCase
from wise_compass.desk.sentence.dimensiontable import NAME, TYPED, DimensionTable
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.job.dimensions import Names, comes_to, read_typed, settled, users, with_dimension, without_dimension
from wise_compass.job.model import Dimension, Entry, Job, Link, SheetPlan
from wise_compass.job.store import job_text, parse_job, save


def job_of(*dimensions: tuple[str, str]) -> Job:
    job = Job(
        "J",
        (
            SheetPlan(
                "S",
                (
                    Entry("polygon-on-side", "Tower plan", givens={"sides": 6, "side": 40.0}, id="t"),
                    Entry("ellipse", "Arch", id="e"),
                ),
            ),
        ),
    )
    for name, typed in dimensions:
        job = with_dimension(job, "", name, typed, "mm")
    return job


def linked(job: Job, id: str, **typed: str) -> Job:
    entry = job.entry(id)
    assert entry is not None
    found, links = read_typed(job, entry, typed, PLAIN)
    return settled(
        job.with_entry(id, lambda e: Entry(e.figure, e.title, e.method, {**e.givens, **found}, links=links, id=e.id))
    )


class ComeTo(unittest.TestCase):
    def test_names_in_names_with_and_without_units(self) -> None:
        job = job_of(
            ("race", "152 mm"),
            ("half race", "race/2"),
            ("span", "half race + 10"),
            ("lean", "37°30'"),
            ("rise", "race*tan(lean)"),
            ("more", "race + 1 in"),
        )
        names = Names(job)
        told = {one.name: names.told(one.name).value for one in job.dimensions}
        self.assertEqual((told["race"], told["half race"], told["span"]), (152.0, 76.0, 86.0))
        self.assertEqual((told["lean"], job.dimensions[3].kind), (37.5, "angle"))
        self.assertAlmostEqual(told["rise"], 152 * 0.76732698797896)
        self.assertAlmostEqual(told["more"], 177.4)
        self.assertEqual(comes_to(names, "lean", PLAIN), "37.5°")

    def test_numbers_count_in_the_units_they_were_typed_in_for_ever(self) -> None:
        job = with_dimension(job_of(), "", "plank", "2 + 1", "in")
        self.assertAlmostEqual(Names(job).told("plank").value, 76.2)
        job = with_dimension(job, "", "gap", "plank + 1", "mm")
        self.assertAlmostEqual(Names(job).told("gap").value, 77.2)
        self.assertIn("in", comes_to(Names(job), "plank", Style("in")))

    def test_values_of_other_figures_are_taken_by_title(self) -> None:
        job = linked(job_of(), "e", long="Tower plan.circumradius*2", wide="Tower plan.side")
        self.assertAlmostEqual(job.entry("e").givens["long"], 80.0)  # type: ignore[union-attr]
        with self.assertRaises(Refused) as caught:
            linked(job_of(), "e", long="Tower plan.girth")
        self.assertIn("has no value girth; it has", caught.exception.says)

    @given(st.floats(0.1, 5000), st.floats(0.1, 5000))
    def test_any_two_lengths_add_up(self, one: float, other: float) -> None:
        job = job_of(("one", f"{one!r} mm"), ("other", f"{other!r}"), ("sum", "one + other - 0"))
        self.assertAlmostEqual(Names(job).told("sum").value, one + other, places=9)


class Followed(unittest.TestCase):
    def test_changing_one_redraws_all_that_use_it(self) -> None:
        job = job_of(("race", "152"))
        job = linked(linked(job, "e", long="race", wide="race/2 + 10"), "t", side="race/4")
        job = with_dimension(job, "race", "race", "160", "mm")
        self.assertEqual([job.entry("e").givens[name] for name in ("long", "wide")], [160.0, 90.0])  # type: ignore[union-attr]
        self.assertEqual(job.entry("t").givens["side"], 40.0)  # type: ignore[union-attr]

    def test_a_new_name_is_followed_in_dimensions_and_slots(self) -> None:
        job = linked(job_of(("race", "152"), ("racer", "race*2")), "e", long="racer - race")
        job = with_dimension(job, "race", "head race", "152", "mm")
        self.assertEqual([one.typed for one in job.dimensions], ["152", "head race*2"])
        self.assertEqual(job.entry("e").links["long"].typed, "racer - head race")  # type: ignore[union-attr]
        self.assertEqual(job.entry("e").givens["long"], 152.0)  # type: ignore[union-attr]

    def test_a_figure_that_a_change_makes_impossible_keeps_its_last_good_one_and_comes_back(self) -> None:
        job = linked(job_of(("race", "152")), "e", long="race", wide="race/2")
        broken = with_dimension(job, "race", "race", "-5", "mm")
        entry = broken.entry("e")
        assert entry is not None
        self.assertEqual((entry.givens["long"], entry.typed), (152.0, {"long": "race"}))
        mended = with_dimension(broken, "race", "race", "150", "mm").entry("e")
        assert mended is not None
        self.assertEqual((mended.givens["long"], mended.typed), (150.0, {}))

    def test_circles_are_refused_by_name(self) -> None:
        job = job_of(("a", "10"), ("b", "a*2"), ("c", "b + a"))
        with self.assertRaises(Refused) as caught:
            with_dimension(job, "a", "a", "c/2", "mm")
        self.assertRegex(caught.exception.says, r"circle: \w( → \w)+")
        with self.assertRaises(Refused) as caught:
            linked(job_of(), "t", side="Tower plan.circumradius")
        self.assertIn("in a circle: Tower plan.circumradius → ", caught.exception.says)
        both = linked(job_of(), "e", long="Tower plan.circumradius")
        with self.assertRaises(Refused):
            linked(both, "t", side="Arch.area/100")

    def test_bad_names_and_words_are_refused_in_one_line(self) -> None:
        for name, typed, part in (
            ("mm", "5", "is a unit"),
            ("sin", "5", "function"),
            ("9th", "5", "begin with a letter"),
            ("", "5", "no name"),
            ("race", "7", "already"),
            ("x", "", "Nothing is written"),
            ("x", "race +", "stops short"),
            ("x", "rase", "cannot be read"),
            ("x", "race/0", "divides by zero"),
        ):
            with self.assertRaises(Refused) as caught:
                with_dimension(job_of(("race", "152")), "", name, typed, "mm")
            self.assertIn(part, caught.exception.says, (name, typed))
            self.assertNotIn("(152", caught.exception.says, "the words are told as they were typed")

    def test_what_is_used_is_not_deleted(self) -> None:
        job = linked(job_of(("race", "152"), ("half", "race/2")), "e", long="race")
        self.assertEqual(list(users(job, "race")), ["half", "Arch, long"])
        with self.assertRaises(Refused) as caught:
            without_dimension(job, "race")
        self.assertIn("Arch, long", caught.exception.says)
        self.assertEqual([one.name for one in without_dimension(job, "half").dimensions], ["race"])


class Kept(unittest.TestCase):
    def test_files_keep_words_and_older_ones_are_read_and_written_as_before(self) -> None:
        job = linked(job_of(("race", "152")), "e", long="race/2 + 10")
        text = job_text(job)
        self.assertEqual(json.loads(text)["version"], 2)
        self.assertEqual(parse_job(text), job)
        plain = job_of()
        self.assertEqual(json.loads(job_text(plain))["version"], 1)
        self.assertEqual(parse_job(job_text(plain)), plain)

    def test_a_file_changed_by_hand_is_worked_out_anew(self) -> None:
        data = json.loads(job_text(linked(job_of(("race", "152")), "e", long="race")))
        data["dimensions"][0]["typed"] = "170"
        self.assertEqual(parse_job(json.dumps(data)).entry("e").givens["long"], 170.0)  # type: ignore[union-attr]

    def test_damaged_ones_are_refused_by_place(self) -> None:
        data = json.loads(job_text(linked(job_of(("race", "152")), "e", long="race")))

        def damaged(**changes: Any) -> str:
            with self.assertRaises(Refused) as caught:
                parse_job(json.dumps({**data, **changes}), "mill.json")
            return caught.exception.says

        self.assertIn("dimensions", damaged(dimensions=[{"name": "race"}]))
        self.assertIn("no name of one dimension", damaged(dimensions=data["dimensions"] * 2))
        data["sheets"][0]["entries"][1]["links"] = {"girth": ["race", "mm"]}
        self.assertIn("no given “girth” (links)", damaged())
        data["sheets"][0]["entries"][1]["links"] = {"long": ["race", "ells"]}
        self.assertIn("neither mm nor in", damaged())

    def test_a_circle_in_a_file_leaves_the_figures_as_they_are(self) -> None:
        job = job_of()._replace(dimensions=(Dimension("a", "b"), Dimension("b", "a")))
        job = job.with_entry(
            "e", lambda e: Entry(e.figure, e.title, givens={"long": 99.0}, links={"long": Link("a")}, id="e")
        )
        entry = parse_job(job_text(job)).entry("e")
        assert entry is not None
        self.assertEqual((entry.givens["long"], entry.typed), (99.0, {"long": "a"}))

    def test_the_command_line_reads_them(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mill.json"
            save(job_of(("race", "152")), path)
            code, out, _ = call("solve", "ellipse", "long=race", "wide=race/2 + 12", "--job", str(path), "--json")
            self.assertEqual(code, 0)
            self.assertEqual([json.loads(out)["givens"][name] for name in ("long", "wide")], [152.0, 88.0])
            code, _, error = call("solve", "ellipse", "long=rase", "--job", str(path))
            self.assertEqual(code, 2)
            self.assertIn("rase", error)


class OnTheDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.dialog = DimensionTable(self.window, self.session)
        self.dialog.show()
        self.addCleanup(self.dialog.close)

    def put(self, row: int, column: int, words: str) -> None:
        self.dialog.table.setItem(row, column, QTableWidgetItem(words))
        APP.processEvents()

    def add(self, name: str, typed: str) -> None:
        row = self.dialog.table.rowCount() - 1
        self.put(row, NAME, name)
        self.put(row, TYPED, typed)

    def test_a_name_is_set_typed_into_a_slot_changed_and_undone_at_once(self) -> None:
        self.add("race", "150 mm")
        slot = self.window.brief.slots["long"]
        slot.setText("race + 4")
        slot.typed.emit("long", "race + 4")
        APP.processEvents()
        self.assertEqual(self.session.entry.givens["long"], 154.0)
        self.session.select("hopper")
        self.session.select("arch")
        APP.processEvents()
        slot = self.window.brief.slots["long"]
        self.assertEqual(slot.text(), "race + 4", "a slot keeps what was typed")
        self.assertIn("race + 4 = 154 mm", slot.toolTip())
        self.put(0, TYPED, "170")
        self.assertEqual(self.session.entry.givens["long"], 174.0)
        self.session.undo()
        APP.processEvents()
        self.assertEqual((self.session.entry.givens["long"], self.session.job.dimensions[0].typed), (154.0, "150 mm"))
        slot = self.window.brief.slots["long"]
        slot.typed.emit("long", "160")
        self.assertEqual(self.session.entry.links, {})

    def test_what_cannot_be_is_told_stays_typed_and_changes_nothing(self) -> None:
        self.add("race", "150")
        before = self.session.job
        self.put(0, TYPED, "race/2")
        self.assertIn("circle", self.dialog.says.text())
        self.assertEqual(self.session.job, before)
        self.add("mm", "3")
        self.assertIn("is a unit", self.dialog.says.text())
        self.assertEqual(self.dialog.table.item(self.dialog.table.rowCount() - 1, NAME).text(), "mm")

    def test_a_broken_figure_is_marked_in_the_spine_and_says_why(self) -> None:
        self.add("race", "150")
        self.window.brief.slots["long"].typed.emit("long", "race")
        self.put(0, TYPED, "-3")
        row = next(row for row in self.window.spine.model.rows if row.entry and row.entry.id == "arch")
        self.assertTrue(row.below.startswith("! "))
        self.assertIn("long", self.session.refusal.says)
        self.assertEqual(self.session.entry.givens["long"], 150.0)

    def test_a_copied_figure_keeps_its_links_and_a_new_title_is_followed(self) -> None:
        self.add("race", "150")
        self.window.brief.slots["long"].typed.emit("long", "race")
        self.window.duplicate()
        self.assertEqual(self.session.entry.links["long"].typed, "race")
        first = self.session.job.entries()[0]
        self.window.brief.slots["wide"].typed.emit("wide", f"{first.title}.circumradius/50")
        self.window.spine.rename(first.id, "Sill")
        self.assertEqual(self.session.entry.links["wide"].typed, "Sill.circumradius/50")


if __name__ == "__main__":
    unittest.main()
