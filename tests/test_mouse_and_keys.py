"""What mouse and keys alone reach in corners of the desk: the rule, lists, tables, the loupe, the bar on the screen,
the menu, files by dialog."""

from __future__ import annotations

import csv
import io
import os
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from pypdf import PdfReader
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QKeyEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QTableWidgetItem

from tests.test_desk import APP, DeskCase
from tests.test_photo_desk import PhotoCase
from wise_compass.desk.leaving.trueness import ScreenCheck
from wise_compass.desk.logbook.place import LogbookPlace
from wise_compass.desk.parts.dialogs import SettingsDialog
from wise_compass.desk.parts.theme import COPPER, TEAL, shade
from wise_compass.desk.problem.setproblem import SetProblem
from wise_compass.desk.sentence.dimensiontable import NAME, TYPED, DimensionTable
from wise_compass.desk.sentence.rows import RowsEditor
from wise_compass.desk.sentence.slots import TextSlot
from wise_compass.job.dimensions import with_dimension
from wise_compass.logbook.files import csv_text, read_csv
from wise_compass.logbook.store import Logbook
from wise_compass.study.tables import lengths_table


def near(colour: QColor, name: str) -> bool:
    """Whether a pixel is of a colour, the edge of a line being paler."""
    want = QColor(shade(name))
    return (
        max(abs(colour.red() - want.red()), abs(colour.green() - want.green()), abs(colour.blue() - want.blue())) < 90
    )


def columns_of(image: QImage, name: str, row: int) -> list[int]:
    return [x for x in range(image.width()) if near(image.pixelColor(x, row), name)]


class HeldKeys(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.held = next(slot for slot in self.window.brief.slots.values() if isinstance(slot, TextSlot))
        self.name = self.held.given.name
        self.before = float(self.session.entry.givens[self.name])
        self.held.setFocus()

    def hold(self, times: int) -> None:
        """A press and so many repeats of it, all sent before the first is taken."""
        for repeat in (False, *([True] * times)):
            for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
                APP.postEvent(self.held, QKeyEvent(kind, Qt.Key.Key_Up, Qt.KeyboardModifier.NoModifier, "", repeat))
        APP.sendPostedEvents(self.held)

    def stands(self) -> float:
        return float(self.session.entry.givens[self.name]) - self.before

    def test_a_held_key_draws_the_last_of_what_it_sent_and_not_each(self) -> None:
        """A figure that takes longer to draw than the key repeats must not go on after it is let go."""
        drawn: list[object] = []
        self.session.drawn.connect(lambda: drawn.append(1))
        self.hold(20)
        self.assertEqual(len(drawn), 1)  # the first press, at once
        self.assertEqual(float(self.held.given.read(self.held.text())), self.before + 21)
        APP.processEvents()
        self.assertEqual((self.stands(), len(drawn)), (21, 2))
        self.assertEqual(float(self.held.given.read(self.held.text())), self.before + 21)

    def test_what_it_sent_is_told_before_another_figure_is_chosen_and_never_of_that_one(self) -> None:
        self.hold(5)
        self.assertEqual(self.stands(), 1)
        self.held.clearFocus()
        self.assertEqual(self.stands(), 6)
        entry = self.session.entry
        other = replace(entry, id="another")
        self.session.edit(self.session.job.added(other), "New")
        self.session.select(entry.id)
        self.held = self.window.brief.slots[self.name]
        self.held.setFocus()
        self.hold(5)
        self.session.select(other.id)
        APP.processEvents()
        self.assertEqual(self.session.entry.id, other.id)
        self.assertEqual(self.session.entry.givens, other.givens)


class Rule(DeskCase):
    def test_home_and_end_go_to_blank_paper_and_to_the_finished_drawing(self) -> None:
        rule = self.window.rule
        rule.setFocus()
        QTest.keyClick(rule, Qt.Key.Key_Home)
        self.assertEqual((self.session.step, self.session.finished), (0, False))
        QTest.keyClick(rule, Qt.Key.Key_End)
        self.assertTrue(self.session.finished)

    def test_a_click_goes_to_the_step_under_it(self) -> None:
        rule, stops = self.window.rule, self.session.last_step + 1
        steps = []
        for share in (0.1, 0.5, 0.9):
            QTest.mouseClick(rule, Qt.MouseButton.LeftButton, pos=QPoint(round(rule.width() * share), 12))
            steps.append(self.session.step)
        self.assertEqual(steps, sorted(steps))
        for share, step in zip((0.1, 0.5, 0.9), steps):
            self.assertAlmostEqual(step, share * stops, delta=0.08 * stops + 1)


class Lists(DeskCase):
    def test_the_chooser_is_searched_walked_and_answered_by_keys(self) -> None:
        chooser = SetProblem(self.window, True)
        self.addCleanup(chooser.close)
        chooser.show()
        QTest.keyClicks(chooser.search, "root")
        chooser.read()
        APP.processEvents()
        first = chooser.list.currentItem().text() if chooser.list.currentItem() else ""
        QTest.keyClick(chooser.search, Qt.Key.Key_Down)
        QTest.keyClick(chooser.search, Qt.Key.Key_Up)
        self.assertEqual(chooser.list.currentItem().text(), first)
        QTest.keyClick(chooser.search, Qt.Key.Key_Return)
        self.assertIsNotNone(chooser.picked)
        self.assertIn("root", f"{chooser.picked.id} {chooser.picked.summary}".lower())  # type: ignore[union-attr]

    def test_its_cards_show_the_figure_and_what_it_is(self) -> None:
        chooser = SetProblem(self.window, True)
        self.addCleanup(chooser.close)
        chooser.show()
        APP.processEvents()
        rect = chooser.list.visualItemRect(chooser.list.currentItem())
        image = chooser.list.viewport().grab(rect).toImage()
        foot = rect.height() - 66
        dark = [image.pixelColor(x, y).lightness() < 90 for x in range(16, rect.width() - 16) for y in range(12, foot)]
        words = [image.pixelColor(x, y).lightness() < 120 for x in range(12, 160) for y in range(foot, foot + 20)]
        self.assertGreater(sum(dark), 60, "the picture of the figure")
        self.assertGreater(sum(words), 60, "its name")
        self.assertTrue(any(near(image.pixelColor(5, y), TEAL) for y in range(rect.height())), "marked as chosen")

    def test_nothing_that_answers_is_said(self) -> None:
        chooser = SetProblem(self.window, True)
        self.addCleanup(chooser.close)
        chooser.show()
        QTest.keyClicks(chooser.search, "weaving loom")
        chooser.read()
        self.assertTrue(chooser.none.isVisible())
        chooser.accept()
        self.assertIsNone(chooser.picked)


class Tables(DeskCase):
    def test_a_row_goes_by_delete_and_a_polyline_is_read_from_a_file(self) -> None:
        self.session.select("bracket")
        editor = RowsEditor(self.window, self.session)
        self.addCleanup(editor.close)
        editor.show()
        editor.table.setCurrentCell(1, 0)
        before = self.session.entry.givens["corners"]
        QTest.keyClick(editor, Qt.Key.Key_Delete)
        self.assertEqual(len(self.session.entry.givens["corners"]), len(before) - 1)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "outline.svg"
            path.write_text(
                '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 200"><path d="M0 90H90V30L150 20"/></svg>',
                "utf-8",
            )
            with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
                editor.read_svg()
            self.assertEqual(
                self.session.entry.givens["corners"], [[0.0, 0.0], [90.0, 0.0], [90.0, 60.0], [150.0, 70.0]]
            )
            stands = self.session.entry.givens["corners"]
            for bad in (path, Path(folder) / "nowhere.svg"):
                path.write_text("no drawing", "utf-8")
                with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(bad), "")):
                    editor.read_svg()
                self.assertTrue(editor.says.text().startswith("! "))
                self.assertEqual(self.session.entry.givens["corners"], stands, "nothing is lost")

    def test_lists_that_do_not_belong_together_are_edited_apart_and_corners_are_taken_from_another_figure(self) -> None:
        field, boss = (
            next(one for one in self.session.job.entries() if one.figure == figure)
            for figure in ("divide-area", "polygon-on-side")
        )
        self.session.select(field.id)
        self.idle()
        for name, columns in (("shares", ["number"]), ("corners", ["x", "y"])):
            QTest.mouseClick(self.window.brief.slots[name], Qt.MouseButton.LeftButton)
            APP.processEvents()
            editor = self.window.findChildren(RowsEditor)[-1]
            self.addCleanup(editor.close)
            heads = [editor.table.horizontalHeaderItem(k).text() for k in range(editor.table.columnCount())]
            self.assertEqual(heads, columns)
        shares = self.session.entry.givens["shares"]
        editor.others.setCurrentIndex(editor.others.findData(boss.id))
        editor.others.activated.emit(editor.others.currentIndex())
        sides = self.session.run_for(boss).figure.given_values["sides"]
        self.assertEqual(len(editor.rows()), sides)
        self.assertEqual(self.session.entry.givens["shares"], shares)

    def test_a_slot_of_rows_opens_its_table(self) -> None:
        self.session.select("stool")
        self.idle()
        QTest.mouseClick(self.window.brief.slots["rows"], Qt.MouseButton.LeftButton)
        APP.processEvents()
        (editor,) = self.window.findChildren(RowsEditor)
        self.addCleanup(editor.close)
        self.assertEqual(editor.table.rowCount(), len(self.session.entry.givens["rows"]))
        editor.table.setItem(0, editor.table.columnCount() - 1, QTableWidgetItem("-4"))
        self.assertIn("Row 1", editor.says.text())

    def test_a_dimension_is_deleted_only_where_nothing_uses_it(self) -> None:
        job = with_dimension(self.session.job, "", "race", "150 mm", "mm")
        self.session.edit(with_dimension(job, "", "spare", "30", "mm"), "Dimensions")
        self.window.brief.slots["long"].typed.emit("long", "race + 2")
        table = DimensionTable(self.window, self.session)
        self.addCleanup(table.close)
        table.show()
        table.table.setCurrentCell(table.table.rowCount() - 1, NAME)
        table.delete_row()
        self.assertIn("Choose the row", table.says.text())
        table.table.setCurrentCell(0, TYPED)
        table.delete_row()
        self.assertIn("Arch over the race", table.says.text())
        self.assertEqual(len(self.session.job.dimensions), 2)
        table.table.setCurrentCell(1, NAME)
        table.delete_row()
        self.assertEqual([one.name for one in self.session.job.dimensions], ["race"])
        self.session.undo()
        self.assertEqual(len(self.session.job.dimensions), 2)

    def test_true_lengths_are_saved_as_they_stand(self) -> None:
        self.session.select("hopper")
        self.idle()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "lengths.csv"
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
                self.window.panels.setCurrentIndex(1)
                self.window.panels.lengths._save()
            rows = list(csv.reader(io.StringIO(path.read_text("utf-8-sig"))))
        table = lengths_table(self.session.run.figure)
        self.assertEqual(len(rows) - 1, len(table.rows))
        self.assertEqual(rows[1][0], str(table.rows[0][0]))


class Loupe(PhotoCase):
    def test_it_is_there_while_a_ring_is_held(self) -> None:
        self.lay()
        free = self.board.grab().toImage()
        start = self.at("D")
        QTest.mousePress(self.board, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.board, start + QPoint(3, 2))
        held = self.board.grab().toImage()
        QTest.mouseRelease(self.board, Qt.MouseButton.LeftButton, pos=start)
        frames = [max(len(columns_of(image, COPPER, row)) for row in range(10, 15)) for image in (free, held)]
        self.assertLess(frames[0], 5)
        self.assertGreater(frames[1], 80, "the upper side of its frame")

    def test_the_wheel_keeps_what_is_under_the_pointer(self) -> None:
        self.lay()
        at = QPointF(self.board.width() * 0.3, self.board.height() * 0.6)
        before = self.board.glass.sheet(at)
        for turn in (240, 120, -120):
            event = QWheelEvent(
                at, self.board.mapToGlobal(at), QPoint(), QPoint(0, turn), Qt.MouseButton.NoButton,
                Qt.KeyboardModifier.NoModifier,
                Qt.ScrollPhase.NoScrollPhase, False,
            )  # fmt: skip
            QApplication.sendEvent(self.board, event)
            np.testing.assert_allclose(self.board.glass.sheet(at), before, atol=1e-9)


class Picks(DeskCase):
    def test_a_list_of_a_dialog_tells_that_it_opens_and_is_set_by_keys(self) -> None:
        dialog = SettingsDialog(self.window, self.session.job.settings)
        self.addCleanup(dialog.close)
        dialog.show()
        APP.processEvents()
        for name, box in dialog.boxes.items():
            image = box.grab().toImage()
            hook = [x for row in range(image.height()) for x in columns_of(image, TEAL, row) if x > image.width() - 24]
            self.assertGreater(len(hook), 6, f"{name}: the hook at its right end")
        box = dialog.boxes["projection"]
        box.setFocus()
        first = box.currentIndex()
        QTest.keyClick(box, Qt.Key.Key_Down)
        self.assertEqual(box.currentIndex(), first + 1)
        QTest.keyClick(box, Qt.Key.Key_Up)
        dialog.boxes["decimals"].setFocus()
        QTest.keyClick(dialog.boxes["decimals"], Qt.Key.Key_End)
        self.assertEqual(dialog.settings, self.session.job.settings._replace(decimals=6))

    def test_more_decimals_than_it_offers_are_no_fault(self) -> None:
        dialog = SettingsDialog(self.window, self.session.job.settings._replace(decimals=9))
        self.addCleanup(dialog.close)
        self.assertEqual(dialog.settings.decimals, 6)


class Elsewhere(DeskCase):
    def test_the_bar_on_the_screen_is_as_long_as_it_says(self) -> None:
        dialog = ScreenCheck(self.window, self.window.screen())
        self.addCleanup(dialog.close)
        dialog.show()
        for held in range(dialog.held.count()):
            dialog.held.setCurrentIndex(held)
            APP.processEvents()
            image = dialog.bar.grab().toImage()
            uprights = [x for x in range(image.width()) if image.pixelColor(x, 20).lightness() < 225]
            long = dialog.pixels * dialog.held.currentData()
            self.assertAlmostEqual(uprights[-1] - uprights[0], long, delta=2.5)

    def test_blank_frames_are_written_a_page_a_sheet(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "blank.pdf"
            self.window.papers._write_blanks(path)
            pages = PdfReader(path).pages
            self.assertEqual(len(pages), len(self.session.job.sheets))
            self.assertIn("100 mm on a true print", pages[0].extract_text())

    def test_the_logbook_is_saved_as_it_is_shown_and_read_again(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            book = Logbook(folder / "data")
            from tests.test_logbook import entry

            book.note([entry(k, person="Ada" if k % 2 else "Ben") for k in range(6)])
            view = LogbookPlace(self.window, book)
            for ending in (".csv", ""):
                path = folder / f"log{ending}"
                with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "CSV (*.csv)")):
                    view.save()
                self.assertEqual(view.says.text(), "6 entries are in log.csv.")
            back = read_csv((folder / "log.csv").read_text("utf-8-sig"))
            self.assertEqual(
                csv_text(sorted(back, key=lambda one: one.id)), csv_text(sorted(book.entries(), key=lambda one: one.id))
            )


if __name__ == "__main__":
    unittest.main()
