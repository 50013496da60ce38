"""The desk, driven by real events through the real window."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit, QPushButton

from tests.waiting import comes
from wise_compass.desk.parts.theme import application, dress
from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.session import Session
from wise_compass.desk.side.panels import Panels
from wise_compass.desk.window import DeskWindow
from wise_compass.drafting.refusals import Refused
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Job
from wise_compass.job.person import Person
from wise_compass.job.recovery import Keeper

APP = application()
NEVER_MS = 3_600_000


class DeskCase(unittest.TestCase):
    def setUp(self) -> None:
        dress(APP, Person(theme="light"))  # whatever a test before it had the application look like
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        patient = mock.patch.object(Later, "patient", True)
        patient.start()
        self.addCleanup(patient.stop)
        at_once = mock.patch.object(Panels, "follow_ms", 0)
        at_once.start()
        self.addCleanup(at_once.stop)
        self.folder = Path(folder.name)
        self.session = Session(demo_job(), None, Keeper(self.folder / "kept"))
        self.session._settle_soon.setInterval(NEVER_MS)  # on a busy machine a moment is over before it is looked at
        self.window = DeskWindow(self.session)
        self.window.may_leave = lambda: True  # type: ignore[method-assign]
        self.window.show()
        self.addCleanup(self.window.close)
        self.session.select("arch")
        self.idle()

    def idle(self) -> None:
        """Until the panels are there and the spine's pictures are drawn."""
        pictures = self.window.spine.list.itemDelegate()
        rests = 0
        for _ in range(500):
            APP.processEvents()
            rests = rests + 1 if self.window.set_out.furnished and not pictures._wanted else 0
            if rests > 2:
                return
        self.fail("the desk does not come to rest")

    def slot(self, name: str) -> QLineEdit:
        slot = self.window.brief.slots[name]
        assert isinstance(slot, QLineEdit)
        return slot

    def type_into(self, name: str, words: str) -> None:
        slot = self.slot(name)
        slot.setFocus()
        slot.selectAll()
        QTest.keyClicks(slot, words)

    def shown_at(self, name: str) -> QPoint:
        """Where a spot stands in the board's window."""
        made, placed, sheet = self.session.run, self.window.board._placed(), self.session.sheet
        assert made and placed and sheet
        return self.window.board.to_window(placed.origin + made.spots[name].here * sheet.scale).toPoint()


class Brief(DeskCase):
    def test_typing_redraws_at_once(self) -> None:
        self.type_into("wide", "9.6 cm")
        self.assertEqual(self.session.entry.givens["wide"], 96)
        self.assertEqual(self.session.run.figure.wide, 96)
        self.assertEqual(self.slot("wide").text(), "9.6 cm")

    def test_nudging(self) -> None:
        slot = self.slot("wide")
        slot.setFocus()
        for modifier, value in (
            (Qt.KeyboardModifier.NoModifier, 89),
            (Qt.KeyboardModifier.ShiftModifier, 99),
            (Qt.KeyboardModifier.AltModifier, 99.1),
        ):
            QTest.keyClick(slot, Qt.Key.Key_Up, modifier)
            self.assertAlmostEqual(self.session.run.figure.wide, value)
        self.session.undo()
        self.assertEqual(self.session.run.figure.wide, 88, "a held nudge is one edit")

    def test_what_cannot_be_stays_typed_and_the_last_good_figure_stays(self) -> None:
        self.type_into("wide", "200")
        self.assertEqual(self.session.run.figure.wide, 20, "the last that could be, while typing")
        self.assertIn("152 mm", self.window.brief.hint.text())
        self.assertEqual(self.slot("wide").text(), "200")
        self.session.select("cam")
        self.session.select("arch")
        self.assertEqual(self.slot("wide").text(), "200", "nothing typed is lost")
        self.assertIn("152 mm", self.window.brief.hint.text())
        self.type_into("long", "300")
        self.assertEqual((self.session.run.figure.long, self.session.run.figure.wide), (300, 200), "both can be now")
        self.assertIsNone(self.session.refusal)

    def test_choices(self) -> None:
        lie = self.window.brief.slots["lie"]
        assert isinstance(lie, QComboBox)
        lie.setFocus()
        QTest.keyClick(lie, Qt.Key.Key_Down)
        self.assertEqual(self.session.run.figure.lie, "upright")
        method = self.window.brief.slots["method"]
        assert isinstance(method, QComboBox)
        QTest.keyClick(method, Qt.Key.Key_Down)
        self.assertEqual(self.session.run.method.id, "trammel")
        self.session.select("tower")
        method = self.window.brief.slots["method"]
        assert isinstance(method, QComboBox)
        method.setCurrentIndex(method.findData("pentagon-arcs"))
        method.activated.emit(method.currentIndex())
        self.assertEqual(self.session.run.method.id, "circumcentre", "five sides only: refused")
        self.assertIn("5 sides", self.window.brief.hint.text())
        QTest.keyClick(method, Qt.Key.Key_End)
        self.assertEqual(self.session.run.method.id, "own", "a way of one's own is the last")
        QTest.keyClick(method, Qt.Key.Key_Up)
        self.assertEqual(self.session.run.method.id, "protractor")

    def test_undo_brings_the_text_back(self) -> None:
        self.type_into("long", "170")
        QTest.keyClick(self.window.board, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        APP.processEvents()
        self.assertEqual(self.slot("long").text(), "152 mm")
        QTest.keyClick(self.window.board, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.slot("long").text(), "170 mm")


class Walking(DeskCase):
    def test_keys_walk_and_space_plays(self) -> None:
        board = self.window.board
        board.setFocus()
        QTest.keyClick(board, Qt.Key.Key_Left)
        self.assertEqual(self.session.position, self.session.last_step)
        QTest.keyClick(board, Qt.Key.Key_Right)
        self.assertTrue(self.session.finished)
        QTest.keyClick(board, Qt.Key.Key_Space)
        self.assertTrue(self.window.rule.playing)
        self.assertEqual(self.session.position, 0)
        QTest.keyClick(board, Qt.Key.Key_Space)
        self.assertFalse(self.window.rule.playing)

    def test_dragging_the_marker(self) -> None:
        rule = self.window.rule
        QTest.mouseClick(rule, Qt.MouseButton.LeftButton, pos=QPoint(round(rule._x(7)), 10))
        self.assertEqual(self.session.step, 7)
        self.assertEqual(self.window.panels.steps.currentIndex().row(), self.window.panels.folds.row_of(7))

    def test_choosing_a_step_card(self) -> None:
        steps = self.window.panels.steps
        box = steps.visualRect(steps.model().index(2))
        QTest.mouseClick(steps.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
        self.assertEqual(self.session.step, 3)

    def test_the_current_step_stands_out_and_the_rest_waits(self) -> None:
        self.session.walk_to(4)
        picture = self.window.board.grab().toImage()
        at = self.shown_at("P0")
        near = [QColor(picture.pixel(at.x() + dx, at.y() + dy)) for dx in range(-4, 5) for dy in range(-4, 5)]
        self.assertTrue(any(c.red() > 140 and c.blue() < 90 for c in near), "the outer circle in copper")


class Reading(DeskCase):
    def test_hovering_a_spot_reads_it_and_lights_it(self) -> None:
        QTest.mouseMove(self.window.board, self.shown_at("P3"))
        APP.processEvents()
        self.assertEqual(self.session.marks_lit, ("P3",))
        self.assertIn("44.00 mm", self.window.board._hover[1])

    def test_hovering_a_value_lights_its_marks(self) -> None:
        self.session.select("tower")
        self.window.panels.setCurrentIndex(1)
        APP.processEvents()
        values = self.window.panels.values
        QTest.mouseMove(values.viewport(), values.visualRect(values.model().index(1)).center())
        APP.processEvents()
        self.assertEqual(set(self.session.marks_lit), {"O", "A"})

    def test_two_picks_are_the_dividers(self) -> None:
        board = self.window.board
        for name in ("P0", "P6"):
            QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=self.shown_at(name))
        self.assertEqual([pick.name for pick in board.picks], ["P0", "P6"])
        from wise_compass.desk.paper.reading import dividers_words
        from wise_compass.drafting.wording import PLAIN

        self.assertIn("152.00 mm", dividers_words(*board.picks, PLAIN))
        QTest.keyClick(board, Qt.Key.Key_Escape)
        self.assertEqual(board.picks, [])

    def test_zoom_keeps_what_is_under_the_pointer(self) -> None:
        board, at = self.window.board, QPointF(200, 150)
        before = board.to_sheet(at)
        wheel = QWheelEvent(
            at,
            board.mapToGlobal(at),
            QPoint(),
            QPoint(0, 240),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        APP.sendEvent(board, wheel)
        self.assertLess(abs(board.to_sheet(at) - before).max(), 1e-9)
        board.true_size()
        self.assertAlmostEqual(board.zoom, board.screen().physicalDotsPerInch() / 25.4)

    def test_a_figure_is_moved_on_its_sheet_and_put_back(self) -> None:
        self.session.select("window")
        board, before = self.window.board, self.shown_at("P0")
        QTest.mousePress(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, QPoint(300, 200))
        for x in (310, 320):
            move = QMouseEvent(
                QMouseEvent.Type.MouseMove,
                QPointF(x, 200),
                board.mapToGlobal(QPointF(x, 200)),
                Qt.MouseButton.NoButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.ShiftModifier,
            )
            APP.sendEvent(board, move)
        QTest.mouseRelease(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, QPoint(320, 200))
        self.assertAlmostEqual(self.shown_at("P0").x() - before.x(), 20, delta=1)
        self.assertAlmostEqual(self.session.entry.shift[0], 20 / board.zoom, places=2)
        for _ in range(40):
            QTest.keyClick(
                board, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier
            )
        self.assertIn("runs off the sheet", self.window.brief.room.text())
        QTest.keyClick(board, Qt.Key.Key_Home, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.assertIsNone(self.session.entry.shift)
        self.assertEqual(self.shown_at("P0"), before)

    def test_clean_hides_the_construction_only(self) -> None:
        at = self.shown_at("P3") + QPoint(0, -1)
        with_it = self.window.board.grab().toImage()
        QTest.keyClick(self.window.board, Qt.Key.Key_H)
        clean = self.window.board.grab().toImage()
        self.assertTrue(self.window.clean.isChecked())
        self.assertNotEqual(with_it, clean)
        self.assertLess(min(QColor(clean.pixel(at.x(), at.y() + d)).lightness() for d in range(-3, 4)), 110)


class Lists(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("bracket")
        from wise_compass.desk.sentence.rows import RowsEditor

        self.editor = RowsEditor(self.window, self.session)
        self.editor.show()
        self.addCleanup(self.editor.close)

    def test_corners_are_added_moved_and_removed_live(self) -> None:
        self.editor.table.setCurrentCell(1, 0)
        QTest.mouseClick(self.editor.findChildren(QPushButton)[0], Qt.MouseButton.LeftButton)
        self.assertEqual(len(self.session.entry.givens["corners"]), 5)
        self.assertEqual(len(self.session.entry.givens["radii"]), 3)
        self.editor.move_row(1)
        self.editor.remove()
        self.assertEqual(len(self.session.entry.givens["corners"]), 4)
        self.session.undo()

    def test_a_refused_row_says_which_and_why(self) -> None:
        self.editor.table.item(1, 2).setText("120")
        self.assertIn("corner B", self.editor.says.text())
        self.assertIn("largest that fits", self.editor.says.text())
        self.assertEqual(self.session.entry.givens["radii"], [[20.0], [26.0]], "the last good list stays")
        self.editor.table.item(1, 2).setText("2o")
        self.assertIn("Row 1 of radii", self.editor.says.text())

    def test_rows_are_pasted_and_read_from_svg(self) -> None:
        QApplication.clipboard().setText("x\ty\tradius\n0\t0\n80\t0\t12\n80\t60\t9\n140\t60")
        self.editor.paste()
        self.assertEqual(self.session.entry.givens["corners"][2], [80.0, 60.0])
        self.assertEqual(self.session.entry.givens["radii"], [[12.0], [9.0]])
        from wise_compass.job.imports import polyline_from_svg

        head = '<svg xmlns="http://www.w3.org/2000/svg" width="10cm" viewBox="0 0 200 100">'
        text = f'{head}<path d="M10 80 h40 v-20 l10,0"/></svg>'
        self.assertEqual(polyline_from_svg(text), [["0", "0"], ["20", "0"], ["20", "10"], ["25", "10"]])
        for bad in ("", "<svg/>", "<svg xmlns='x'><path d='M0 0 C1 1 2 2 3 3'/></svg>"):
            with self.assertRaises(Refused):
                polyline_from_svg(bad)


class Comparing(DeskCase):
    def test_the_comparison_comes_from_running_and_takes_a_method(self) -> None:
        self.session.select("boss9")
        self.window.panels.setCurrentIndex(3)
        self.window.panels.settle()
        cards = self.window.panels.compare.cards
        self.assertIn(" suits this case: exact", cards[0].body)
        ladder = next(card for card in cards if card.caption.startswith("centre ladder"))
        self.assertIn("≈", ladder.figure)
        self.assertIn("does not serve", next(card for card in cards if "pentagon" in card.caption).figure)
        self.window.panels.compare.chosen.emit(1)
        self.assertEqual(self.session.run.method.id, "circumcentre")

    def test_moves_fold_and_open(self) -> None:
        self.session.select("quoin")
        panels = self.window.panels
        folded = len(panels.steps.cards)
        row = next(k for k, (first, last) in enumerate(panels.folds.rows) if last > first)
        self.assertIn("four arcs", panels.steps.cards[row].caption)
        panels.steps.chosen.emit(row)
        self.assertGreater(len(panels.steps.cards), folded)
        panels.steps.chosen.emit(row)
        self.assertEqual(len(panels.steps.cards), folded)
        self.session.walk_to(panels.folds.rows[row][0] + 1)
        self.assertGreater(panels.steps.currentIndex().row(), row, "walking into a move opens it")


class JobList(DeskCase):
    def test_add_duplicate_move_delete_and_undo(self) -> None:
        from wise_compass.desk.problem.setproblem import SetProblem

        chooser = SetProblem(self.window, True)
        chooser.show()
        QTest.keyClicks(chooser.search, "cam scroll")
        QTest.keyClick(chooser.search, Qt.Key.Key_Return)
        self.assertEqual(chooser.picked.id, "archimedean-spiral")
        count = len(self.session.job.entries())
        for key, mods, change in (
            (Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier, 1),
            (Qt.Key.Key_Backspace, Qt.KeyboardModifier.ControlModifier, -1),
            (Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier, 1),
        ):
            QTest.keyClick(self.window.board, key, mods)
            count += change
            self.assertEqual(len(self.session.job.entries()), count)

    def test_rename_in_place(self) -> None:
        self.window.spine.rename("arch", "Race arch")
        self.assertEqual(self.session.entry.title, "Race arch")
        self.assertEqual(self.session.job.sheets[self.session.sheet_number].title, "Race arch")

    def test_save_open_and_refuse(self) -> None:
        path = self.folder / "mill.json"
        self.session.save_as(path)
        self.assertFalse(self.session.history.unsaved)
        self.type_into("wide", "60")
        self.assertTrue(self.session.history.unsaved)
        self.assertTrue(comes(lambda: list((self.folder / "kept").glob("*.json"))), "autosaved")
        self.window.papers.write_sheet(self.folder / "arch.svg")
        bad = self.folder / "bad.json"
        bad.write_text("{}")
        with self.assertRaises(Refused):
            self.session.open(bad)
        self.assertEqual(self.session.path, path, "a refused file takes nothing away")
        self.session.open(self.folder / "arch.svg")
        self.assertEqual(self.session.entry.givens["wide"], 60)
        self.assertIsNone(self.session.path)
        self.session.open(path)
        self.assertEqual(len(self.session.job.entries()), len(demo_job().entries()))
        for ending in ("pdf", "png", "csv", "json"):
            self.window.papers.write_sheet(self.folder / f"out.{ending}")
            self.assertGreater((self.folder / f"out.{ending}").stat().st_size, 300)

    def test_an_empty_job_is_no_trouble(self) -> None:
        self.session.start(Job(), None)
        APP.processEvents()
        self.window.board.grab()
        for name in ("Edit", "Figure"):  # those of the view make the window anew, or lead elsewhere
            for action in self.window.groups[name]:
                if not action.text().endswith("…"):
                    action.trigger()
                    APP.processEvents()
        self.assertEqual(self.session.job, Job())
