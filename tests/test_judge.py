"""Judging a drawing: verdicts on drawings made wrong on purpose, what to measure, the command line and the panel."""

from __future__ import annotations

import json
import os
import tempfile
import time
import unittest
from unittest import mock

import numpy as np
from bench.judgement import main as judgement
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests import quick
from tests.parted import parted
from tests.test_cli import call
from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.desk.parts.work import Later
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.figures.catalogue import figure_named
from wise_compass.logbook.store import Logbook
from wise_compass.study.judge import Judge
from wise_compass.study.measures import INSTRUMENTS, exactly, named, read_measured
from wise_compass.study.verdicts import check
from wise_compass.study.watch import Watch, what_to_measure

GABLE = {"ab": 96, "bc": 70, "ca": 63}


def gable(scale: float = 1.0) -> Judge:
    return Judge(run(make(figure_named("triangle-three-sides"), GABLE), "arcs"), scale)


def told(judge: Judge, text: str, style: Style = PLAIN) -> object:
    return judge.judge(read_measured(judge.run, text, "rule", style))


class Verdicts(unittest.TestCase):
    def test_one_opening_wrong_is_the_step_that_set_it(self) -> None:
        """On paper: the two arcs cross where their openings say, so a side is off by just what its own compass was."""
        judge = gable()
        for text, step, off in (
            ("AB=96.1 BC=70.2 CA=60.8", 4, -2.2),
            ("AB=96 BC=66.9 CA=63", 5, -3.1),
            ("AB=99 BC=70 CA=63", 3, 3.0),
        ):
            verdict = told(judge, text)
            self.assertEqual((verdict.verdict, verdict.best.step), ("step", step), text)  # type: ignore[attr-defined]
            self.assertAlmostEqual(verdict.best.off, off, delta=0.25)  # type: ignore[attr-defined]
            self.assertIn(f"step {step}", PLAIN.say(verdict.best.says))  # type: ignore[attr-defined]

    @parted(6)
    def test_an_exact_drawing_is_honest_whatever_is_measured(self, kinds: list[type[Figure]]) -> None:
        for kind in kinds:
            id, made = kind.id, run(kind())
            judge = Judge(made)
            watch = what_to_measure(judge)
            measures = [one.measure for one in watch.proposed]
            self.assertTrue(measures, f"{id}: nothing to measure")
            for n in {1, len(measures)}:
                sizes = exactly(made, measures[:n], 1.0)
                text = " ".join(f"{one.name}={size!r}" for one, size in zip(measures, sizes.tolist()))
                verdict = told(judge, text)
                self.assertEqual(verdict.verdict, "honest", f"{id}: {text}")  # type: ignore[attr-defined]

    def test_all_lengths_in_one_ratio_are_the_prints_scale(self) -> None:
        for ratio in (0.97, 1.02, 1.05):
            text = f"AB={96 * ratio} BC={70 * ratio} CA={63 * ratio} angle_A=46.57"
            verdict = told(gable(), text)
            self.assertEqual(verdict.verdict, "scale")  # type: ignore[attr-defined]
            self.assertAlmostEqual(verdict.best.off, ratio - 1, delta=0.002)  # type: ignore[attr-defined]

    def test_a_slip_is_named_from_what_it_measures(self) -> None:
        seen = 0
        for id, method in (
            ("archimedean-spiral", None),
            ("ellipse", "two-circles"),
            ("divide-line", "parallels"),
            ("cycloid", None),
        ):
            made = run(figure_named(id)(), method)
            judge = Judge(made)
            measures = [one.measure for one in what_to_measure(judge).proposed]
            for choice, wrong in run_slips(made.figure, made.method.id):
                if not isinstance(wrong, Run) or any(key not in wrong.found for one in measures for key in one.points):
                    continue
                sizes = exactly(wrong, measures, 1.0)
                honest = judge.honest(measures, np.full(len(measures), 0.2))
                off = sizes - honest.mean
                if off @ np.linalg.solve(honest.cover, off) < 25.0 or sizes.min() < 0.01:
                    continue
                text = " ".join(f"{one.name}={abs(size)!r}" for one, size in zip(measures, sizes.tolist()))
                checked = check(judge, read_measured(made, text))
                self.assertEqual((checked.verdict.verdict, checked.verdict.best.id), ("slip", choice.id), id)
                self.assertTrue(checked.again)
                seen += 1
        self.assertGreaterEqual(seen, 2)

    def test_what_the_blunder_draws_is_shown_and_what_stays_good(self) -> None:
        judge = gable()
        checked = check(judge, read_measured(judge.run, "AB=96 BC=70 CA=60.8"))
        drawn = judge.as_drawn(checked.verdict.best)
        assert drawn is not None
        self.assertAlmostEqual(float(np.linalg.norm(drawn["C"] - drawn["A"])), 60.8, delta=0.15)
        self.assertAlmostEqual(float(np.linalg.norm(drawn["C"] - drawn["B"])), 70.0, delta=0.05)
        self.assertEqual((checked.again, checked.good), (("C",), ("A", "B")))
        lines = judge.lines_drawn(checked.verdict.best)
        self.assertTrue(any(np.abs(line - drawn["C"]).max(axis=1).min() < 1e-6 for line in lines))

    def test_at_a_scale_it_is_the_paper_that_is_measured(self) -> None:
        verdict = told(gable(0.5), "AB=48 BC=35 CA=29.9")
        self.assertEqual((verdict.verdict, verdict.best.step), ("step", 4))  # type: ignore[attr-defined]
        self.assertIn("29.9", PLAIN.say(verdict.best.says))  # type: ignore[attr-defined]
        self.assertAlmostEqual(verdict.measured[0].exact, 48.0)  # type: ignore[attr-defined]

    def test_no_explanation_is_absurd(self) -> None:
        """A measure that a step hardly moves is not explained by that step's being off by metres."""
        made = run(figure_named("ellipse")())
        verdict = Judge(made).judge(read_measured(made, "P0-P6=149.5"))
        self.assertEqual((verdict.verdict, verdict.best.step), ("step", 4))
        for one in verdict.explanations:
            if one.kind == "step":
                assert one.off is not None
                self.assertLess(abs(one.off), 20.0)

    def test_inches_are_read(self) -> None:
        verdict = told(gable(), f"AB={96 / 25.4} BC={70 / 25.4} CA=63mm", Style("in"))
        self.assertEqual(verdict.verdict, "honest")  # type: ignore[attr-defined]

    def test_measuring_more_keeps_a_sure_verdict_right(self) -> None:
        judge = gable()
        fewer = told(judge, "CA=60.8 AB=96")
        more = told(judge, "CA=60.8 AB=96 BC=70.1 angle_A=46.6")
        self.assertEqual((fewer.verdict, fewer.best.step), ("step", 4))  # type: ignore[attr-defined]
        self.assertEqual((more.verdict, more.best.step), ("step", 4))  # type: ignore[attr-defined]

    def test_what_cannot_be_told_apart_says_what_would(self) -> None:
        judge = gable()
        checked = check(judge, read_measured(judge.run, "angle_C=84"))
        self.assertIn(checked.verdict.verdict, ("unclear", "step"))
        assert checked.next is not None
        self.assertIn("tells", checked.next.says)


class ToMeasure(unittest.TestCase):
    def test_each_sees_steps_that_those_before_do_not(self) -> None:
        for id in ("triangle-three-sides", "ellipse", "archimedean-spiral", "true-shape"):
            watch = what_to_measure(Judge(run(figure_named(id)())))
            self.assertTrue(1 <= len(watch.proposed) <= 6)
            seen = [n for one in watch.proposed for n in one.sees]
            self.assertEqual(len(seen), len(set(seen)))
            self.assertEqual(set(seen) & set(watch.unseen), set())
            for one in watch.proposed:
                self.assertIn(one.measure.unit, ("mm", "°"))
                self.assertTrue(one.measure.unit == "°" or one.exact > 8.0)

    def test_so_many_are_proposed_as_are_wanted_at_least_the_longest_besides(self) -> None:
        judge = Judge(run(figure_named("polygon-in-circle")()))
        few, more = what_to_measure(judge), what_to_measure(judge, least=5)
        self.assertGreaterEqual(len(more.proposed), 5)
        self.assertLessEqual({one.measure.name for one in few.proposed}, {one.measure.name for one in more.proposed})
        self.assertEqual(few.unseen, more.unseen)
        among = what_to_measure(judge, among={"A", "B", "O"})
        self.assertTrue(all(set(one.measure.points) <= {"A", "B", "O"} for one in among.proposed))

    def test_a_check_is_noted_where_that_is_asked(self) -> None:
        words = ["check", "rhombus", "--measured", "A-C=104.1", "--keep", "--json"]
        with mock.patch.dict(os.environ, {"XDG_DATA_HOME": tempfile.mkdtemp()}):
            status, out, _ = call(*words)
            (kept,) = Logbook().entries()
        self.assertEqual(status, 0)
        self.assertEqual((kept.kind, kept.figure, kept.measures[0].measured), ("check", "rhombus", 104.1))
        self.assertEqual(json.loads(out)["verdict"], kept.verdict)

    def test_a_drawing_too_small_to_measure_again_is_judged_all_the_same(self) -> None:
        for words in (
            ["golden-section", "length=1/3", "--measured", "A-B=1"],
            ["fourth-proportional", "second=128", "--measured", "B-A-C=33", "--scale", "1:50"],
        ):
            status, out, err = call("check", *words, "--json")
            self.assertEqual((status, err), (0, ""))
            self.assertIsNone(json.loads(out)["next"])

    def test_a_triangle_is_measured_by_its_sides(self) -> None:
        self.assertEqual([one.measure.name for one in what_to_measure(gable()).proposed], ["A-B", "B-C", "A-C"])


class Names(unittest.TestCase):
    def test_names_mean_what_they_say(self) -> None:
        views = run(figure_named("true-shape")())
        for name, points in (("A.front-B.front", 2), ("a′-b′", 2), ("a4-b4-c4", 3), ("a₃-c₃", 2)):
            self.assertEqual(len(named(views, name).points), points, name)
        self.assertEqual(named(views, "angle_A").unit, "°")
        self.assertEqual(named(gable().run, "AB").points, ("A", "B"))

    def test_bad_measurements_get_one_line(self) -> None:
        made = gable().run
        for text, words in (
            ("", "no measurement"),
            ("AB", "no measurement"),
            ("AB=", "no measurement"),
            ("AQ=3", "no point Q"),
            ("A-A=3", "one point twice"),
            ("AB=-3", "more than 0"),
            ("AB=3 AB=4", "told twice"),
            ("AB=3furlongs", "furlongs"),
            ("weight=3", "nothing that can be measured"),
            ("A-B-C-A=3", "nothing that can be measured"),
        ):
            with self.subTest(text=text), self.assertRaises(Refused) as raised:
                read_measured(made, text)
            self.assertIn(words, raised.exception.says)
            self.assertEqual(len(raised.exception.says.splitlines()), 1)
        with self.assertRaises(Refused):
            read_measured(made, "AB=96", "sextant")
        self.assertTrue(all(one.length > 0 and one.angle > 0 for one in INSTRUMENTS.values()))


class CommandLine(unittest.TestCase):
    GIVENS = ("triangle-three-sides", "ab=96", "bc=70", "ca=63")

    def test_the_record_has_its_shape(self) -> None:
        status, out, err = call("check", *self.GIVENS, "--measured", "AB=96.1 BC=70.2 CA=60.8", "--json")
        self.assertEqual(status, 0, err)
        data = json.loads(out)
        self.assertEqual((data["verdict"], data["slip"], data["step"]), ("step", None, 4))
        weights = [one["weight"] for one in data["explanations"]]
        self.assertEqual(weights, sorted(weights, reverse=True))
        self.assertAlmostEqual(sum(weights), 1.0)
        self.assertEqual(set(data["explanations"][0]), {"kind", "id", "step", "says", "weight", "off", "misread"})
        self.assertEqual(set(data["measured"][0]), {"name", "exact", "measured", "sd", "share", "among"})
        self.assertEqual(data["measured"][2]["name"], "CA")
        self.assertLess(data["measured"][2]["share"], 1e-6)
        self.assertIsNone(data["next"])

    def test_words_for_a_person_and_what_to_measure(self) -> None:
        status, out, err = call("check", *self.GIVENS, "--measured", "AB=96.1 BC=70.2 CA=63.1")
        self.assertEqual(status, 0, err)
        self.assertIn("An honest drawing", out)
        status, out, err = call("check", *self.GIVENS)
        self.assertEqual(status, 0, err)
        self.assertIn("A-B", out)
        status, out, err = call("check", *self.GIVENS, "--json", "--instrument", "dividers")
        self.assertEqual([one["name"] for one in json.loads(out)["measure"]], ["A-B", "B-C", "A-C"])
        status, _, err = call("check", *self.GIVENS, "--measured", "AZ=3")
        self.assertEqual((status, len(err.strip().splitlines())), (2, 1))


@unittest.skipIf(quick, "takes a minute or two by itself")
class HowGood(unittest.TestCase):
    def test_simulated_drawings_are_judged_well(self) -> None:
        """A part of the bench over the whole catalogue, from a fixed start."""
        tally = judgement(0.2, 5)["tally"]

        def part(kind: str, *right: str) -> tuple[int, int]:
            whole = {name: count for name, count in tally.items() if name.startswith(kind) and "seen" not in name}
            return sum(count for name, count in whole.items() if name in right), sum(whole.values())

        good, whole = part("honest", "honest honest", "honest unclear")
        self.assertGreater(whole, 50)
        self.assertGreaterEqual(good / whole, 0.985)
        good, whole = part("slip", "slip right", "slip right, among alike")
        self.assertGreater(whole, 50)
        self.assertGreaterEqual(good / whole, 0.97)
        good, whole = part("blunder", "blunder right", "blunder right, among alike")
        self.assertGreater(whole, 15)
        self.assertGreaterEqual(good / whole, 0.85)


def _slow(judge: Judge) -> Watch:
    time.sleep(0.6)
    return what_to_measure(judge)


class CheckDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("gable")
        self.idle()
        self.window.panels.setCurrentWidget(self.window.panels.check)
        APP.processEvents()
        self.panel = self.window.panels._check
        assert self.panel is not None

    def enter(self, name: str, value: str) -> None:
        field = self.panel.fields[name]
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, value)
        self.assertTrue(comes(lambda: not self.panel._soon.isActive()), "the pause after typing is over")

    def test_what_is_typed_is_judged_and_the_step_is_gone_to(self) -> None:
        self.assertEqual(list(self.panel.fields), ["A-B", "B-C", "A-C"])
        self.assertIn("right?", self.panel.title.text())
        self.enter("A-B", "96.1")
        self.assertIn("honest", self.panel.title.text())
        self.enter("A-C", "59.4")
        self.assertIn("step 4", self.panel.title.text())
        self.assertIn("62", self.panel.says.text())
        self.assertTrue(self.session.lines_drawn)
        QTest.mouseClick(self.panel.go, Qt.MouseButton.LeftButton)
        self.assertEqual(self.session.step, 4)
        self.window.panels.setCurrentIndex(0)
        self.assertEqual(self.session.lines_drawn, [], "it is gone with its panel")
        self.panel.fields["A-C"].setText("59.6")  # judged late, but for a panel that is looked at no more
        self.window.panels.setCurrentIndex(1)
        QTest.qWait(400)
        self.assertEqual(self.session.lines_drawn, [])

    def test_each_proposed_measure_says_which_steps_it_sees_until_it_is_taken(self) -> None:
        for one in self.panel._watch.proposed:
            self.assertEqual(self.panel.notes[one.measure.name].text(), f"sees step {', '.join(map(str, one.sees))}")
        first = self.panel._watch.proposed[0].measure.name
        self.enter(first, "96.0")
        self.assertNotIn("sees", self.panel.notes[first].text())

    def test_while_it_looks_it_tells_nothing_of_the_figure_before(self) -> None:
        self.session.select("tower")
        self.idle()
        self.assertIn("Nothing proposed here sees step", self.panel.unseen.text())
        with (
            mock.patch.object(Later, "patient", False),
            mock.patch("wise_compass.desk.side.checkpanel.what_to_measure", _slow),
        ):
            self.session.select("arch")
            APP.processEvents()
            self.assertIn("Looking for what to measure", self.panel.says.text())
            self.assertEqual(self.panel.unseen.text(), "")
            self.panel.settle()
        self.assertTrue(self.panel.fields)

    def test_another_measurement_is_added_and_bad_ones_stay_typed(self) -> None:
        more = self.panel.more
        more.setFocus()
        QTest.keyClicks(more, "A-Z")
        QTest.keyClick(more, Qt.Key.Key_Return)
        self.assertTrue(more.property("refused"))
        self.assertEqual(more.text(), "A-Z")
        more.clear()
        QTest.keyClicks(more, "angle_A")
        QTest.keyClick(more, Qt.Key.Key_Return)
        APP.processEvents()
        self.assertIn("angle_A", self.panel.fields)
        self.assertIs(QApplication.focusWidget(), self.panel.fields["angle_A"])
        self.enter("angle_A", "many")
        self.assertTrue(self.panel.fields["angle_A"].property("refused"))
        self.assertEqual(self.panel.fields["angle_A"].text(), "many")

    def test_alt_6_shows_it_and_another_figure_asks_its_own(self) -> None:
        self.window.panels.setCurrentIndex(0)
        self.window.board.setFocus()
        QTest.keyClick(self.window.board, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
        self.assertIs(self.window.panels.currentWidget(), self.window.panels.check)
        self.session.select("arch")
        self.idle()
        self.assertNotIn("A-C", self.panel.fields)
        self.assertTrue(self.panel.fields)
