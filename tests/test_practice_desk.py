"""Practice as a place of the real window, by keys alone too; a class; what was in hand is there again."""

from __future__ import annotations

import json
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.desk.parts.work import Later
from wise_compass.desk.practise.place import PractisePlace
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.logbook.store import Logbook
from wise_compass.practice.kept import InHand, keep_in_hand, read_in_hand
from wise_compass.practice.marking import STEADY, mark
from wise_compass.practice.problems import Problem, problem_of, sheet_of
from wise_compass.practice.sketch import SIZES, sketch_of
from wise_compass.practice.worksheet import Task, as_worksheet, class_sheet, to_measure
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.drawing import Line, Text
from wise_compass.study.measures import exactly, named


class PractiseCase(DeskCase):
    """The window with a place to practise of its own: its numbers are drawn from a seed."""

    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.own = Path(folder.name)
        self.book = Logbook(self.own / "data")
        self.saved = mock.patch.object(self.window, "ask_path", lambda *_: (str(self.own / "sheet.pdf"), ""))
        self.saved.start()
        self.addCleanup(self.saved.stop)
        self.place = self.practising(4)

    def practising(self, seed: int) -> PractisePlace:
        place = PractisePlace(self.window, self.book, seed, self.own / "practice.json")
        self.window._made[1] = place
        self.window.go(1)
        APP.processEvents()
        return place

    def set(self, family: str = "") -> Problem:
        self.place.source.setCurrentIndex(self.place.source.findData(family))
        self.place.set_it.click()
        self.place.settle()
        APP.processEvents()
        hand = self.place.session.hand
        assert hand is not None
        return hand.problem

    def exact(self, name: str, by: float = 1.0) -> str:
        made, hand = self.place.session.run, self.place.session.hand
        assert made is not None and hand is not None
        return f"{by * float(exactly(made, [named(made, name)], hand.problem.scale)[0]):.2f}"


class Practise(PractiseCase):
    def test_a_whole_practice_from_problem_to_mark_by_keys_alone(self) -> None:
        place, session = self.place, self.place.session
        self.window.activateWindow()
        self.assertTrue(comes(self.window.isActiveWindow))
        QTest.keyClick(self.window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ShiftModifier)
        self.assertIs(self.window.place, self.window.set_out)
        QTest.keyClick(self.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ShiftModifier)
        self.assertIs(self.window.place, place)

        def to(widget: QWidget) -> None:
            for _ in range(60):
                if self.window.focusWidget() is widget:
                    return
                QTest.keyClick(self.window.focusWidget(), Qt.Key.Key_Tab)
            self.fail(f"no way by Tab to {widget.accessibleName()}")

        to(place.source)
        for letter in "Tan":
            QTest.keyClick(place.source, letter)
        self.assertEqual(place.source.currentData(), "tangency")
        to(place.set_it)
        QTest.keyClick(place.set_it, Qt.Key.Key_Space)
        place.settle()
        APP.processEvents()
        hand = session.hand
        assert hand is not None
        self.assertIn(hand.problem.words().split(".")[0], place.bar.words.text())
        QTest.keyClick(place.board, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(hand.revealed, 1)
        self.assertGreater(len(place.hints.steps.item(0).text()), len("step 1   "))
        self.assertEqual(place.hints.steps.item(1).text(), "step 2")
        QTest.keyClick(place.board, Qt.Key.Key_M)
        for name, field in place.drawing.fields.items():
            to(field)
            QTest.keyClicks(field, self.exact(name))
        to(place.drawing.mark_it)
        QTest.keyClick(place.drawing.mark_it, Qt.Key.Key_Space)
        (kept,) = self.book.entries()
        self.assertEqual((kept.kind, kept.figure, kept.mark), ("practice", hand.problem.figure, STEADY))
        self.assertTrue(session.opened)

    def test_no_more_of_the_construction_is_shown_than_was_revealed(self) -> None:
        problem = self.set("polygons")
        session = self.place.session
        assert session.sheet is not None and session.run is not None
        span = slice(*session.sheet.spans[0])
        self.assertEqual(session.sheet.drawing.items[span], [])
        self.assertFalse(self.place.panels.isTabVisible(self.place.panels.indexOf(self.place.values)))
        session.reveal()
        session.reveal()
        shown = session.sheet.drawing.items[slice(*session.sheet.spans[0])]
        self.assertEqual({item.step for item in shown} - {1, 2}, set())
        self.assertTrue(shown)
        session.walk_to(99)
        self.assertEqual((session.step, session.finished, session.stops), (2, False, 2))
        session.light(tuple(session.run.spots))
        self.assertEqual(session.marks_lit, (), "the places that are to be found are not lit")
        # the letters that are to be measured stand in the sketch, and nowhere else
        words = [
            item.words for item in session.sheet.drawing.items if isinstance(item, Text) and item.layer == "sketch"
        ]
        for name in (one for measure in session.measures for one in named(session.run, measure).points):
            self.assertIn(session.style.lettered(session.run.spots[name].name), words)
        whole = sheet_of(problem)
        self.assertGreater(whole.spans[0][1] - whole.spans[0][0], len(shown))

    def test_answers_are_hidden_until_it_is_marked_and_what_is_wrong_says_why(self) -> None:
        self.set()
        drawing = self.place.drawing
        self.assertEqual({note.text() for note in drawing.notes.values()}, {""})
        first = next(iter(drawing.fields))
        QTest.keyClicks(drawing.fields[first], "much")
        drawing.mark_it.click()
        self.assertTrue(drawing.notes[first].text())
        self.assertEqual((drawing.fields[first].text(), self.book.entries()), ("much", []))
        for name, field in drawing.fields.items():
            field.setText(self.exact(name, 1.2))
        drawing.mark_it.click()
        assert drawing.marked is not None
        self.assertNotEqual(drawing.marked.mark, STEADY)
        self.assertIn("exactly", drawing.notes[first].text())
        self.assertEqual(self.set("lately").figure, self.book.entries()[0].figure)

    def test_what_is_in_hand_is_there_again_with_what_was_typed_and_how_long_was_drawn(self) -> None:
        first = self.set("polygons")
        drawing, session = self.place.drawing, self.place.session
        name, field = next(iter(drawing.fields.items()))
        QTest.keyClicks(field, "12.5")
        session.reveal()
        hand = session.hand
        assert hand is not None
        hand.spent = 321.0
        second = self.set("triangles")
        self.assertFalse(hand.running, "one clock at a time")
        self.window.go(0)
        again = self.practising(5)
        self.assertEqual([one.problem.code for one in again.session.problems], [second.code, first.code])
        again.session.select(again.session.problems[1].noted)
        again.settle()
        APP.processEvents()
        back = again.session.hand
        assert back is not None
        self.assertEqual((again.drawing.fields[name].text(), back.revealed), ("12.5", 1))
        self.assertGreaterEqual(back.spent, 321.0)
        self.assertEqual(again.lines.count(), 2)

    def test_the_clock_stops_and_marking_again_replaces_the_entry(self) -> None:
        self.set("polygons")
        place, session = self.place, self.place.session
        hand = session.hand
        assert hand is not None
        self.assertTrue(hand.running)
        place.bar.stop.click()
        self.assertFalse(hand.running)
        self.assertEqual(place.bar.stop.text(), "Start the clock")
        hand.spent = 600.0
        name, field = next(iter(place.drawing.fields.items()))
        field.setText(self.exact(name, 1.3))
        place.drawing.mark_it.click()
        field.setText(self.exact(name))
        place.drawing.mark_it.click()
        (kept,) = self.book.entries()
        self.assertEqual((kept.mark, round(kept.minutes or 0)), (STEADY, 10))

    def test_a_photograph_of_the_worksheet_becomes_the_paper_and_is_marked(self) -> None:
        from wise_compass.camera.laid import laid_of
        from wise_compass.camera.pencil import pencilled
        from wise_compass.camera.stand_in import Shot, jpeg, photographed

        problem = self.set("triangles")
        photo = self.own / "mine.jpg"
        photo.write_bytes(jpeg(photographed(pencilled(laid_of(problem), 2), Shot(7.0, (7.0, 5.0), 3.0, 2))))
        self.assertTrue(self.place.take_photograph(photo))
        self.place.settle()
        self.assertTrue(comes(lambda: self.place.session.lying is not None))
        marked = self.place.drawing.marked
        assert marked is not None
        self.assertEqual(self.book.entries()[0].measures[0].instrument, "photograph")
        self.assertTrue(self.book.entries()[0].picture)
        self.assertEqual(marked.checked.verdict.verdict, "honest")
        self.place.drawing.read_photo(self.own / "none.pdf")
        self.place.settle()
        self.assertTrue(comes(lambda: "none.pdf" in self.place.drawing.why.text()))

    def test_what_is_to_be_found_is_not_seen_in_the_round_and_closing_loses_nothing(self) -> None:
        from wise_compass.practice.setting import set_problem

        self.place.take_problem(set_problem("prism", self.place.random, "A2"))
        self.place.settle()
        self.assertFalse(self.place.stage.switch.isVisible())
        QTest.keyClick(self.place.board, Qt.Key.Key_V)
        self.assertFalse(self.place.stage.in_space)
        field = next(iter(self.place.drawing.fields.values()))
        QTest.keyClicks(field, "7")
        self.window.close()
        (kept,) = read_in_hand(self.own / "practice.json")
        self.assertEqual(list(kept.typed.values()), ["7"])
        self.place.session.set_mark("loose", "")
        self.assertTrue(self.place.session.in_the_round)

    def test_a_mark_that_comes_late_is_not_given_to_another_problem(self) -> None:
        first = self.set("polygons")
        drawing, session = self.place.drawing, self.place.session
        name, field = next(iter(drawing.fields.items()))
        field.setText(self.exact(name))
        held, marked = threading.Event(), mark(session.judge, drawing._taken())
        self.addCleanup(held.set)
        late = mock.patch("wise_compass.desk.practise.drawing.mark", lambda *_: held.wait(30) and marked)
        with mock.patch.object(Later, "patient", False), late:
            drawing.mark_it.click()
            self.assertFalse(drawing.mark_it.isEnabled())
            self.place.take_problem(Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6}))
            held.set()
            for _ in range(20):
                QTest.qWait(10)
        self.assertEqual([one.mark for one in session.problems], ["", ""])
        self.assertTrue(drawing.mark_it.isEnabled())
        self.assertEqual(self.book.entries(), [])
        self.assertNotEqual(session.hand.problem.code, first.code)

    def test_what_was_not_looked_at_is_told_of_that_problem_alone(self) -> None:
        self.set("polygons")
        drawing = self.place.drawing
        name, field = next(iter(drawing.fields.items()))
        field.setText(self.exact(name))
        drawing.mark_it.click()
        self.assertIn("Not looked at: ", drawing.looked.text())
        self.place.take_problem(Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6}))
        self.place.settle()
        self.assertEqual((drawing.looked.text(), drawing.outcome.text()), ("", "Not marked yet"))

    def test_the_worksheet_is_saved_with_its_solution(self) -> None:
        self.set("polygons")
        self.place.sheet.click()
        self.assertGreater(len(PdfReader(self.own / "sheet.pdf").pages), 1)
        self.assertIn("solution", self.place.says.text())

    def test_a_problem_is_put_away(self) -> None:
        self.set("polygons")
        self.place.lines.setFocus()
        with mock.patch("wise_compass.desk.parts.dialogs.ask", lambda *_: "Put it away"):
            QTest.keyClick(self.place.lines, Qt.Key.Key_Delete)
        self.assertIsNone(self.place.session.hand)
        self.assertFalse(self.place.sheet.isEnabled())
        self.assertTrue(self.place.sheet.toolTip(), "what cannot be done says why")


class Classes(PractiseCase):
    def test_worksheets_for_a_class_are_written(self) -> None:
        self.set("triangles")
        panel = self.place.of_class
        panel.write_class(self.own / "set.pdf", 3)
        panel.settle()
        self.assertTrue(comes(lambda: "3 worksheets" in panel.says.text() and "key" in panel.says.text()))
        self.assertEqual(len(PdfReader(self.own / "set.pdf").pages), 3)
        for name in ("set, key.csv", "set, measured.csv"):
            self.assertEqual(len((self.own / name).read_text().splitlines()), 4)

    def test_marks_come_in_and_a_pupil_is_shown_over_what_is_exact(self) -> None:
        problem = Problem("triangle-three-sides", "arcs", {"ab": 63.0, "bc": 57.0, "ca": 91.0})
        made = problem.run()
        measures = [one.measure for one in to_measure(problem).proposed]
        lines = class_sheet([Task("Ada", problem)]).splitlines()
        names = lines[0].split(",")[2:]
        sizes = [float(exactly(made, [named(made, name)], 1.0)[0]) for name in names]
        rows = [lines[0]]
        for pupil, by in (("Ada", 1.0), ("Ben", 1.25)):
            told = ",".join(f"{size * (by if k == 0 else 1.0):.1f}" for k, size in enumerate(sizes))
            rows.append(f"{pupil},{problem.code},{told}")
        rows.append(f"Cleo,{problem.code},{','.join('away' for _ in sizes)}")
        (self.own / "class.csv").write_text("\n".join(rows) + "\n")
        panel = self.place.of_class
        panel.keep.setChecked(True)
        panel.mark(self.own / "class.csv")
        panel.settle()
        self.assertTrue(comes(lambda: panel.list.rows.rowCount() == 3 and "noted" in panel.says.text()))
        self.assertEqual(self.place.panels.tabText(self.place.panels.indexOf(panel)), "Class 2/3")
        self.assertEqual({one.person for one in self.book.entries()}, {"Ada", "Ben"})
        self.assertGreater(len(measures), 0)
        panel.list.selectRow(1)
        hand = self.place.session.hand
        assert hand is not None
        self.assertEqual((hand.pupil, hand.problem.code), ("Ben", problem.code))
        self.assertTrue(self.place.session.opened)
        panel.list.selectRow(2)
        self.assertIn("Cleo", panel.why.text())
        panel.buttons["Save the marks…"].click()
        self.assertIn(STEADY, (self.own / "sheet.pdf.csv").read_text())
        self.assertEqual(read_in_hand(self.own / "practice.json"), [], "a pupil's drawing is not the person's own")


class Kept(unittest.TestCase):
    def test_what_is_kept_survives_damage_and_strangers(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "practice.json"
            for text in ("", "[", "{}", "[1]", '[{"problem": "WC1/none/x/A4/1:1", "noted": "a"}]', '[{"problem": 3}]'):
                file.write_text(text)
                self.assertEqual(read_in_hand(file), [])
            code = Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6}).code
            row = {"problem": code, "noted": "n", "revealed": -4, "spent": "long", "typed": {"A-B": 3, "B-C": "4"}}
            file.write_text(json.dumps([row]))
            (one,) = read_in_hand(file)
            self.assertEqual((one.revealed, one.spent, one.typed), (0, 0.0, {"B-C": "4"}))
            one.why = "x" * 5000
            keep_in_hand(file, [one] * 90)
            back = read_in_hand(file)
            self.assertEqual((len(back), len(back[0].why)), (60, 2000))
            file.write_text(json.dumps([row | {"noted": "../../etc"}, row | {"noted": ""}]))
            self.assertEqual(read_in_hand(file), [])

    def test_two_windows_keep_what_both_have_in_hand(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "practice.json"
            problem = Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6})
            one, other = InHand(problem, "one"), InHand(problem, "other")
            keep_in_hand(file, [one], {"one"})
            keep_in_hand(file, [other], {"other"})
            self.assertEqual({hand.noted for hand in read_in_hand(file)}, {"one", "other"})
            keep_in_hand(file, [], {"one"})  # put away in the window that had it
            self.assertEqual([hand.noted for hand in read_in_hand(file)], ["other"])


class Sketches(unittest.TestCase):
    def test_it_stands_clear_of_what_will_be_drawn_and_its_letters_apart(self) -> None:
        for code in (
            Problem("polygon-on-side", "circumcentre", {"side": 37.0, "sides": 6}).code,
            Problem("triangle-three-sides", "arcs", {"ab": 63.0, "bc": 57.0, "ca": 91.0}).code,
        ):
            problem = problem_of(code)
            whole, made = sheet_of(problem), problem.run()
            names = [one.measure.name for one in to_measure(problem).proposed]
            sheet = as_worksheet(whole, problem, names, 0)
            sketch = [item for item in sheet.drawing.items if item.layer == "sketch"]
            self.assertTrue(sketch)
            low, high = bounds(sketch)
            for spot in made.spots.values():
                at = whole.placed[0].origin + spot.here * whole.scale
                self.assertFalse(bool(((at > low) & (at < high)).all()))
            letters = [item for item in sketch_of(made, names, SIZES[0]).items(low * 0) if isinstance(item, Text)][1:]
            self.assertEqual(len({item.words for item in letters}), len(letters))
            for k, one in enumerate(letters):
                for other in letters[k + 1 :]:
                    apart = abs(one.at - other.at)
                    self.assertTrue(bool(apart[0] > 1.5 or apart[1] > 2.0), (one.words, other.words))

    def test_it_shows_the_outline_in_its_shape_with_ticks_where_its_letters_are(self) -> None:
        made = run(figure_named("rhombus")())
        items = sketch_of(made, ["A-C"], SIZES[0]).items(np.zeros(2))
        (outline,) = (item.points for item in items if isinstance(item, Line) and item.ink == "mark")
        true = np.array([made.spots[name].here for name in "ABCD"])
        self.assertEqual(len(outline), 5)
        self.assertGreater(np.ptp(outline, axis=0).max(), 15.0, "as large as goes into its box")
        for k in range(1, 5):  # alike: every length in one ratio to the true one
            ratio = np.hypot(*(outline[k] - outline[k - 1])) / np.hypot(*(true[k % 4] - true[k - 1]))
            self.assertAlmostEqual(ratio, np.hypot(*(outline[2] - outline[0])) / np.hypot(*(true[2] - true[0])), 9)
        ticks = [item.points.mean(axis=0) for item in items if isinstance(item, Line) and item.ink == "strip"]
        for corner in (outline[0], outline[2]):
            self.assertEqual(sum(bool(np.hypot(*(tick - corner)) < 1e-9) for tick in ticks), 2)


if __name__ == "__main__":
    unittest.main()
