"""A way of one's own at the desk: a construction by mouse alone and by keys alone, what is wrong said at its line, and
the verdict."""

from __future__ import annotations

import os
import tempfile
from unittest import mock

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest

from tests import ways
from tests.test_desk import APP, DeskCase
from wise_compass.desk.side.examdialog import ExamDialog
from wise_compass.desk.side.ownboard import Offered
from wise_compass.desk.side.ownpanel import OwnPanel
from wise_compass.drafting.figure import OWN_WAY
from wise_compass.geometry.vectors import Array, point
from wise_compass.job.model import Entry
from wise_compass.own.claims import Claim
from wise_compass.own.language import BY_INSTRUMENT
from wise_compass.own.program import program_of


class OwnCase(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        env = mock.patch.dict(os.environ, {"XDG_DATA_HOME": folder.name})
        env.start()
        self.addCleanup(env.stop)
        figure = Entry("polygon-on-side", "Boss", "pentagon-arcs", {"sides": 3, "side": 60.0}, id="boss")
        self.session.edit(self.session.job.added(figure), "Boss")
        self.session.select("boss")
        APP.processEvents()

    @property
    def own(self) -> OwnPanel:
        return self.window.panels.own_panel

    def take_up(self) -> OwnPanel:
        """Draw it by a way of one's own, chosen in the sentence."""
        slot = self.window.brief.slots["method"]
        slot.setCurrentIndex(slot.findData(OWN_WAY))
        slot.activated.emit(slot.currentIndex())
        APP.processEvents()
        self.assertIs(self.window.panels.currentWidget(), self.window.panels.own)
        return self.own

    def steps(self) -> list[str]:
        return [row for row in self.own.text.split("\n") if row and not row.startswith("title")]

    def settle(self) -> None:
        self.own.settle()
        APP.processEvents()

    def do(self, verb: str) -> None:
        """Press the button of a step."""
        if not self.own.hand.verbs[verb].isVisibleTo(self.window):
            instrument = next(name for name, verbs in BY_INSTRUMENT.items() if verb in verbs)
            QTest.mouseClick(self.own.hand.taken[instrument], Qt.MouseButton.LeftButton)
        QTest.mouseClick(self.own.hand.verbs[verb], Qt.MouseButton.LeftButton)
        APP.processEvents()

    def click(self, *places: Array) -> None:
        """Click places of the figure on the board."""
        board = self.window.board
        for place in places:
            placed, sheet = board._placed(), self.session.sheet
            assert placed is not None and sheet is not None
            (at,) = board.glass.points(placed.at(place[None], sheet.scale))
            where = QPoint(round(at.x()), round(at.y()))
            QTest.mouseMove(board, where)
            QTest.mouseClick(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, where)
            APP.processEvents()


class ByMouse(OwnCase):
    def test_a_construction_of_nine_steps_by_mouse_alone(self) -> None:
        panel = self.take_up()
        a, b, top = point(0, 0), point(60, 0), point(30, 30 * 3**0.5)
        self.do("mark")
        self.click(b)
        self.do("level")
        self.click(a)
        self.do("circle")
        self.click(a, a, b)
        self.click(b, a, b)
        self.do("meet")
        far = point(0, 60)  # clear of the other circle
        self.click(far, point(60, -60), top)
        self.do("line")
        self.click(a, top)
        self.click(b, top)
        self.do("middle")
        self.click(a, b)
        self.do("line in")
        self.click(a, b, top, a)
        self.assertEqual(
            self.steps(),
            [
                "mark A at 0, 0",
                "mark B at 60, 0",
                "level a from A",
                "circle b about A: AB",
                "circle c about B: AB",
                "meet C of b and c, upper",
                "line d through A and C",
                "line e through B and C",
                "middle D of AB",
                "line in A B C A",
            ],
        )
        self.settle()
        assert panel.verdict is not None
        self.assertEqual(panel.verdict.kind, "here")
        self.assertIn("side", panel.told.text())
        for _ in range(9):
            self.session.undo()
        self.assertEqual(self.steps(), ["mark A at 0, 0"])

    def test_what_can_be_taken_lights_up_and_a_click_beside_it_takes_nothing(self) -> None:
        panel = self.take_up()
        self.do("level")
        asked = self.session.asked
        assert isinstance(asked, Offered)
        self.assertEqual(asked.hover(point(0.4, 0.0), 2.0), "take A")
        assert asked.coming is not None
        self.assertEqual(set(asked.coming.things), {"a"}, "the line that a click would draw is shown ahead")
        self.assertEqual(asked.hover(point(25, 40), 2.0), "")
        self.assertIsNone(asked.coming)
        self.click(point(25, 40))
        self.assertEqual(self.steps(), ["mark A at 0, 0"])
        assert panel.making is not None
        self.assertEqual(panel.making.kind, "point")
        self.do("level")
        self.assertIsNone(self.session.asked)

    def test_the_board_is_free_again_where_another_panel_is_shown(self) -> None:
        self.take_up()
        self.do("level")
        self.assertIsNotNone(self.session.asked)
        self.window.panels.setCurrentWidget(self.window.panels.steps)
        APP.processEvents()
        self.assertIsNone(self.session.asked)


class ByKeys(OwnCase):
    def write(self, text: str) -> None:
        self.own.editor.setFocus()
        for line in text.splitlines():
            QTest.keyClicks(self.own.editor, line)
            QTest.keyClick(self.own.editor, Qt.Key.Key_Return)
        self.settle()

    def test_a_construction_typed_is_drawn_proved_and_walked(self) -> None:
        QTest.keyClick(self.window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        APP.processEvents()
        panel = self.own
        QTest.keyClick(panel.editor, Qt.Key.Key_End, Qt.KeyboardModifier.ControlModifier)
        self.write("level a from A\nlay off B on a from A: side\narc k about A: AB\narc m about B: AB\n")
        self.assertEqual(panel.kind.text(), "half written")
        self.write("meet C of k and m, upper\nline in A B C A\n")
        assert panel.verdict is not None
        self.assertEqual(panel.verdict.kind, "exact", panel.told.text())
        self.assertEqual(self.session.last_step, 6)
        made = self.session.run
        assert made is not None
        self.assertTrue(np.allclose(made.spots["C"].here, [30, 30 * 3**0.5]))
        self.session.walk_to(3)
        self.assertFalse(self.session.finished)
        self.session.set_given("side", "44")
        self.settle()
        made = self.session.run
        assert made is not None
        self.assertAlmostEqual(float(made.spots["B"].here[0]), 44.0)

    def test_a_fault_is_said_at_its_line_and_what_is_written_stays(self) -> None:
        panel = self.take_up()
        QTest.keyClick(panel.editor, Qt.Key.Key_End, Qt.KeyboardModifier.ControlModifier)
        self.write("level a from A\ncircle k about A: 20\nparallel b to a through Q\nmark B at 9, 50\n")
        self.assertIn("speaks of Q", panel.fault.text())
        self.assertEqual(len(panel.editor.extraSelections()), 1)
        self.assertIn("parallel b to a through Q", panel.editor.toPlainText())
        made = self.session.run
        assert made is not None
        self.assertIn("B", made.spots)
        self.write("level c from B\nmeet P of c and k, upper\n")
        self.assertEqual(len(panel.editor.extraSelections()), 2)

    def test_a_method_is_taken_out_changed_and_its_cause_named(self) -> None:
        self.session.set_given("sides", "5")
        panel = self.take_up()
        panel.files.take_out("pentagon-arcs")
        self.settle()
        assert panel.verdict is not None
        self.assertEqual(panel.verdict.kind, "exact")
        wrong = panel.text.replace("arc g about B: AB", "arc g about B: AL1")
        self.assertNotEqual(wrong, panel.text)
        self.session.set_own(wrong)
        self.settle()
        self.assertEqual(panel.kind.text(), "not what it claims")
        self.assertIn("line 18, “arc g about B: AL1”, is “arc g about B: side”", panel.told.text())

    def test_an_approximate_one_shows_its_plot_and_is_kept(self) -> None:
        figure = Entry("polygon-in-circle", "Wheel", givens={"sides": 7, "diameter": 100.0}, id="wheel")
        self.session.edit(self.session.job.added(figure), "Wheel")
        self.session.select("wheel")
        panel = self.take_up()
        program = program_of(ways.HEPTAGON)
        self.session.set_own(program._replace(figure="", givens={}).text)
        self.settle()
        self.assertEqual(panel.kind.text(), "approximate")
        self.assertTrue(panel.plot.isVisibleTo(self.window))
        self.assertIn("diameter", panel.plot.says)
        panel.files.keep()
        QTest.mouseClick(panel.files.copying, Qt.MouseButton.LeftButton)
        self.assertIn("step PM round k", QGuiApplication.clipboard().text())
        from wise_compass.job.ways import kept

        self.assertEqual([one.program.figure for one in kept("polygon-in-circle")], ["polygon-in-circle"])
        self.window.panels.setCurrentWidget(self.window.panels.compare)
        self.window.panels.settle()
        self.assertIn("Heptagon by the half side", " ".join(card.caption for card in self.window.panels.compare.cards))

    def test_letters_are_offered_by_their_places_and_taken_by_a_click(self) -> None:
        panel = self.take_up()
        self.session.set_own(
            "title: Boss\nmark A at 0, 0\nlevel a from A\nlay off B on a from A: side\narc k about A: AB\n"
            "arc m about B: AB\nmeet R1 of k and m, upper\nline in A B R1 A\n"
        )
        self.settle()
        self.assertEqual(panel.kind.text(), "half written")
        self.assertTrue(panel.lettering.isVisibleTo(self.window))
        QTest.mouseClick(panel.lettering, Qt.MouseButton.LeftButton)
        self.settle()
        self.assertIn("letters: C=R1", panel.text)
        self.assertEqual(panel.kind.text(), "exact", panel.told.text())
        self.assertFalse(panel.lettering.isVisibleTo(self.window))

    def test_a_construction_of_which_every_step_is_taken_away_is_half_written(self) -> None:
        panel = self.take_up()
        self.session.set_own("title: Boss\n")
        self.settle()
        self.assertEqual(panel.kind.text(), "half written")
        for tab in range(self.window.panels.count()):
            self.window.panels.setCurrentIndex(tab)
            self.window.panels.settle()
        self.settle()


class InViews(OwnCase):
    def test_a_fold_and_a_transfer_by_mouse_alone(self) -> None:
        rafter = Entry("line-from-views", "Rafter", "rotation", {"A": (0, 30, 20), "B": (60, 45, 50)}, id="rafter")
        self.session.edit(self.session.job.added(rafter), "Rafter")
        self.session.select("rafter")
        APP.processEvents()
        panel = self.take_up()
        self.assertEqual(self.steps(), ["mark X at 0, 0", "reference x from X"])
        for view, a, b in (("top", point(0, -30), point(60, -45)), ("front", point(0, 20), point(60, 50))):
            QTest.mouseClick(panel.hand.named_in[view], Qt.MouseButton.LeftButton)
            if view == "top":
                self.do("mark")
            self.click(a, b)
        self.do("line")
        self.click(point(0, -30), point(60, -45))
        self.do("fold")
        words = {button.text(): button for button in panel.offered_words}
        QTest.mouseClick(words["top"], Qt.MouseButton.LeftButton)
        self.click(point(0, 0))
        QTest.mouseClick({b.text(): b for b in panel.offered_words}["along"], Qt.MouseButton.LeftButton)
        self.click(point(28, -37), point(4.9, 19.4))
        self.do("transfer")
        self.click(point(0, -30), point(60, -45))
        QTest.mouseClick(panel.ended, Qt.MouseButton.LeftButton)
        APP.processEvents()
        self.assertEqual(
            self.steps()[2:],
            [
                "mark A.top at 0, -30",
                "mark B.top at 60, -45",
                "mark A.front at 0, 20",
                "mark B.front at 60, 50",
                "line a through A.top and B.top",
                "fold b off top through X along a, left",
                "transfer A.3 B.3",
            ],
        )
        assert panel.written is not None
        at = panel.written.points
        long = float(np.linalg.norm(at["B.3"] - at["A.3"]))
        self.assertAlmostEqual(long, (60**2 + 15**2 + 30**2) ** 0.5, delta=1e-9)

    def test_steps_of_views_are_offered_only_where_a_figure_stands_in_views(self) -> None:
        panel = self.take_up()
        self.assertFalse(panel.hand.taken["Views"].isVisibleTo(self.window))
        self.session.select("newel")
        self.assertTrue(self.session.set_method(OWN_WAY))
        APP.processEvents()
        self.assertTrue(panel.hand.taken["Views"].isVisibleTo(self.window))


class Examined(OwnCase):
    def test_a_learner_s_steps_are_held_to_what_is_allowed(self) -> None:
        self.session.set_given("sides", "5")
        panel = self.take_up()
        self.session.set_own("\n".join(row for row in ways.PENTAGON.strip().splitlines() if "claim" not in row))
        self.settle()
        dialog = ExamDialog(self.window, Claim(panel.program()), self.session.style)
        dialog.settle()
        self.assertEqual(dialog.outcome.text(), "passed", dialog.says.text())
        for name in ("Compass", "Straightedge"):
            dialog.allowed[name].setChecked(True)
        dialog.most.setValue(9)
        dialog.settle()
        self.assertEqual(dialog.outcome.text(), "not passed")
        self.assertIn("uses the set square", dialog.says.text())
        self.assertIn("9 are allowed", dialog.says.text())
        dialog.deleteLater()
