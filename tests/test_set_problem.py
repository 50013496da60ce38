"""Setting a problem through the window: pasted, put right, set; by keys only; several at once."""

from __future__ import annotations

import unittest

from PySide6.QtCore import QMimeData, Qt, QUrl
from PySide6.QtGui import QGuiApplication, QTextCharFormat
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog

from tests.test_desk import APP, DeskCase
from tests.test_flows import during_next_dialog
from tests.test_statements import CUT_PRISM
from wise_compass.desk.problem.field import DOUBTED, TOLD, UNUSED
from wise_compass.desk.problem.setproblem import SetProblem
from wise_compass.figures.index import INDEX


class ByWords(DeskCase):
    def asked(self, text: str = "") -> SetProblem:
        dialog = SetProblem(self.window, True, self.session.job.settings)
        self.addCleanup(dialog.close)
        dialog.show()
        if text:
            QGuiApplication.clipboard().setText(text)
            dialog.search.setFocus()
            QTest.keyClick(dialog.search, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
            dialog.read()
        APP.processEvents()
        return dialog

    def do(self, key: str) -> None:
        """Press a key of the window’s, which is not the active one here after a dialog was open."""
        next(one for one in self.window.actions() if key in [k.toString() for k in one.shortcuts()]).trigger()

    def test_pasted_put_right_and_set(self) -> None:
        def paste(dialog: QDialog) -> None:
            assert isinstance(dialog, SetProblem)
            QGuiApplication.clipboard().setText(CUT_PRISM)
            QTest.keyClick(dialog.search, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
            dialog.read()
            slot = dialog.brief.slots["side"]
            self.assertEqual(slot.text(), "30 mm")
            slot.setFocus()
            slot.selectAll()
            QTest.keyClicks(slot, "32")
            QTest.keyClick(dialog.search, Qt.Key.Key_Return)

        during_next_dialog(paste)
        QTest.keyClick(self.window.board, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        entry = self.session.entry
        self.assertEqual((entry.figure, entry.stated), ("prism", CUT_PRISM))
        self.assertEqual([entry.givens[name] for name in ("sides", "side", "cut_height")], [6, 32.0, 50.0])
        self.session.undo()
        self.assertNotIn(CUT_PRISM, [one.stated for one in self.session.job.entries()])

    def test_words_are_marked_and_light_their_slot(self) -> None:
        dialog = self.asked("A cone of 60 mm diameter with a splendid hat, 75 mm.")
        kinds = {mark.kind for mark in dialog.search._marker.marks}
        self.assertEqual(kinds, {TOLD, DOUBTED, UNUSED})
        self.assertTrue(dialog.brief.slots["height"].property("refused"), "what remains is doubtful")
        self.assertIn("Not used: splendid", dialog.says.text())
        dialog.brief.pointed.emit("diameter")
        formats = dialog.search.document().firstBlock().layout().formats()
        lit = [one for one in formats if one.format.background().style() != Qt.BrushStyle.NoBrush]
        self.assertEqual(len(lit), 1)
        dashed = QTextCharFormat.UnderlineStyle.DashUnderline
        self.assertTrue(any(one.format.underlineStyle() == dashed for one in formats))
        dialog.search.pointed.emit("diameter")
        self.assertTrue(dialog.brief.slots["diameter"].property("lit"))

    def test_what_is_missing_has_the_keys_next_and_is_told(self) -> None:
        dialog = self.asked("Develop a cone of 60 mm diameter.")
        QTest.keyClick(dialog.search, Qt.Key.Key_Return)
        self.assertTrue(dialog.isVisible(), "nothing is set that is not told")
        slot = dialog.brief.slots["height"]
        self.assertEqual((slot.text(), slot.hasFocus()), ("", True))
        QTest.keyClicks(slot, "80")
        QTest.keyClick(slot, Qt.Key.Key_Return)
        self.assertEqual(dialog.sheets[0].entries[0].givens["height"], 80.0)

    def test_what_waits_for_a_missing_given_follows_it(self) -> None:
        dialog = self.asked("Develop a cone of 60 mm diameter, cut at 40° by a plane 25 mm below its apex.")
        self.assertIn("waits for what is missing", dialog.says.text())
        slot = dialog.brief.slots["height"]
        slot.setFocus()
        QTest.keyClicks(slot, "80")
        self.assertEqual(dialog.brief.slots["cut_height"].text(), "55 mm")
        dialog.accept()
        self.assertEqual(dialog.sheets[0].entries[0].givens["cut_height"], 55.0)

    def test_two_values_are_asked_for(self) -> None:
        dialog = self.asked("Draw a square of side 40 mm and side 45 mm.")
        self.assertIn("told twice, 40 and 45", dialog.says.text())
        dialog.accept()
        self.assertEqual(dialog.sheets, [])

    def test_several_are_set_a_sheet_each_and_the_rest_is_kept(self) -> None:
        problems = ("A rhombus with diagonals of 70 and 40 mm.", "Draw a cone of 60 dia.", "Bisect an angle of 74°.")
        dialog = self.asked("\n".join(f"{n}. {problem}" for n, problem in enumerate(problems, 1)))
        self.assertIn("3 problems", dialog.set_it.text())
        QTest.keyClick(dialog.search, Qt.Key.Key_Return)
        self.assertTrue(dialog.isVisible())
        self.assertEqual([sheet.entries[0].figure for sheet in dialog.sheets], ["rhombus", "bisect-angle"])
        self.assertEqual(dialog.search.toPlainText(), "Draw a cone of 60 dia.")
        self.assertIn("lacks height", dialog.says.text())
        dialog.search.setPlainText("Draw a cone of 60 dia, 80 mm high.")
        dialog.accept()
        self.assertEqual([s.entries[0].figure for s in dialog.sheets], ["rhombus", "bisect-angle", "cone"])

    def test_a_text_longer_than_any_problem_sets_nothing(self) -> None:
        dialog = self.asked("A square of side 40 mm.")
        dialog.search.setPlainText("A square of side 40 mm. " * 400)
        dialog.accept()
        self.assertEqual(dialog.sheets, [])
        self.assertIn("signs long", dialog.says.text())

    def test_a_job_in_inches(self) -> None:
        settings = self.session.job.settings._replace(units="in")
        dialog = SetProblem(self.window, False, settings, "A square of side 2.")
        self.addCleanup(dialog.close)
        dialog.accept()
        self.assertEqual(dialog.sheets[0].entries[0].givens["side"], 50.8)

    def test_a_file_of_problems_is_dropped(self) -> None:
        file = self.folder / "problems.txt"
        file.write_text("A square of side 40 mm.\n")
        dropped = QMimeData()
        dropped.setUrls([QUrl.fromLocalFile(str(file))])
        dialog = self.asked()
        self.assertTrue(dialog.search.canInsertFromMimeData(dropped))
        dialog.search.insertFromMimeData(dropped)
        dialog.read()
        self.assertEqual(dialog.list.kind().id, "square-on-side")
        dropped.setUrls([QUrl.fromLocalFile(str(self.folder))])
        dialog.search.insertFromMimeData(dropped)
        self.assertIn("no file that problems could be read from", dialog.says.text())

    def test_by_keys_only(self) -> None:
        dialog = self.asked()
        QTest.keyClicks(dialog.search, "hexagonal prism cut")
        dialog.read()
        self.assertEqual(dialog.list.kind().id, "prism")
        QTest.keyClick(dialog.search, Qt.Key.Key_Down)
        self.assertNotEqual(dialog.list.kind().id, "")
        QTest.keyClick(dialog.search, Qt.Key.Key_Escape)
        self.assertEqual((dialog.isVisible(), dialog.sheets), (False, []))

    def test_the_problem_is_printed_above_and_read_anew(self) -> None:
        def paste(dialog: QDialog) -> None:
            QTest.keyClick(dialog.search, Qt.Key.Key_Return)  # type: ignore[attr-defined]

        QGuiApplication.clipboard().setText("A square of side 40 mm.")
        during_next_dialog(paste)
        QTest.keyClick(self.window.board, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.entry.figure, "square-on-side")
        self.do("Ctrl+Alt+P")
        self.assertTrue(self.session.entry.problem)
        sheet = self.session.sheet
        (words,) = [one for one in sheet.drawing.items if getattr(one, "words", "") == "A square of side 40 mm."]
        outline = [mark for mark in self.session.run.marks if mark.role.value == "outline"]
        top = max(line[:, 1].max() for mark in outline for line in mark.polylines())
        self.assertGreater(words.at[1], sheet.placed[0].origin[1] + top * sheet.scale)

        def change(dialog: QDialog) -> None:
            dialog.search.setPlainText("A square of side 55 mm.")  # type: ignore[attr-defined]
            QTest.keyClick(dialog.search, Qt.Key.Key_Return)  # type: ignore[attr-defined]

        before = self.session.entry.id
        during_next_dialog(change)
        self.do("Ctrl+Alt+N")
        entry = self.session.entry
        self.assertEqual((entry.id, entry.givens["side"], entry.stated), (before, 55.0, "A square of side 55 mm."))

    def test_a_family_narrows_the_grid(self) -> None:
        dialog = self.asked()
        self.assertEqual(dialog.list.count(), len(INDEX))
        dialog.families.setCurrentRow(1)
        self.assertLess(dialog.list.count(), 12)
        self.assertEqual({dialog.list.item(row).data(Qt.ItemDataRole.UserRole).family for row in range(5)}, {"lines"})

    def test_signs_beyond_the_plane_keep_the_marks_in_place(self) -> None:
        dialog = self.asked("𝔸 square, side 40 mm.")
        block = dialog.search.document().firstBlock()
        told = [block.text()[one.start : one.start + one.length] for one in block.layout().formats()]
        utf16 = block.text().encode("utf-16-le")
        spans = [
            utf16[2 * one.start : 2 * (one.start + one.length)].decode("utf-16-le") for one in block.layout().formats()
        ]
        self.assertIn("side 40 mm", spans, told)


if __name__ == "__main__":
    unittest.main()
