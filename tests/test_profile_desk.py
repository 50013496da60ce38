"""A profile drawn up in words at the desk: sentences with lists, live, with what is refused said by its row."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QLineEdit, QPushButton

from tests.test_desk import DeskCase
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.sentence.drawnup import DrawnUp
from wise_compass.desk.sentence.slots import RowsSlot


class RowsAsSentences(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("lever")
        self.idle()
        (slot,) = self.window.findChildren(RowsSlot)
        QTest.mouseClick(slot, Qt.MouseButton.LeftButton)
        (self.editor,) = self.window.findChildren(DrawnUp)
        self.addCleanup(self.editor.close)

    def held(self) -> list[list[object]]:
        assert self.session.entry is not None
        return [list(row) for row in self.session.entry.givens["rows"]]

    def slot(self, name: str) -> QLineEdit:
        found = [one for one in self.editor.findChildren(QLineEdit) if one.accessibleName() == name]
        return [one for one in found if one.isVisible()][-1]

    def type_into(self, name: str, words: str) -> None:
        text = self.slot(name)
        text.selectAll()
        QTest.keyClicks(text, words)
        QTest.keyClick(text, Qt.Key.Key_Return)
        self.idle()

    def test_a_radius_that_reaches_nothing_is_told_by_its_row_and_kept(self) -> None:
        self.type_into("F: r", "40")
        self.assertIn("Row 5 of rows", self.editor.says.text())
        self.assertIn("would do", self.editor.says.text())
        marked = [one.text() for one in self.editor.findChildren(QLabel, "hint") if one.property("refused") == "true"]
        self.assertIn("5", marked)
        self.assertEqual(self.held()[4][2], 80.0)
        self.assertEqual(self.slot("F: r").text(), "40")
        self.type_into("F: r", "90")
        self.assertEqual(self.held()[4][2], 90.0)

    def test_another_name_is_taken_wherever_the_row_is_named(self) -> None:
        self.type_into("B: name", "E")
        self.assertEqual(self.held()[3], ["tangent", "S", "A", "E"])
        assert self.session.entry is not None
        self.assertIn("E", self.session.entry.givens["path"])
        self.assertIsNone(self.session.refusal)

    def test_a_list_offers_the_rows_before(self) -> None:
        (pick,) = [
            one for one in self.editor.findChildren(Pick) if one.accessibleName() == "F: second" and one.isVisible()
        ]
        self.assertEqual([pick.itemText(k) for k in range(pick.count())], ["A", "B", "C", "S"])
        pick.setCurrentIndex(0)
        pick.activated.emit(0)
        self.assertIn("do not run into each other", self.editor.says.text())
        self.assertEqual(self.editor.rows[4][5], "A")

    def test_rows_are_added_moved_removed_and_come_back_from_the_clipboard(self) -> None:
        before = self.held()
        press = {one.text(): one for one in self.editor.findChildren(QPushButton)}
        QTest.mouseClick(press["Copy rows"], Qt.MouseButton.LeftButton)
        self.assertEqual(len(QApplication.clipboard().text().splitlines()), len(before))
        self.editor.add("circle")
        self.assertEqual(len(self.held()), len(before) + 1)
        QTest.mouseClick(press["Up"], Qt.MouseButton.LeftButton)
        self.assertEqual(self.held()[-1][1], before[-1][1])
        QTest.mouseClick(press["Remove"], Qt.MouseButton.LeftButton)
        self.assertEqual(self.held(), before)
        self.editor.add("point")
        QTest.mouseClick(press["Paste rows"], Qt.MouseButton.LeftButton)
        self.assertEqual(self.held(), before)

    def test_it_leaves_another_figure_alone(self) -> None:
        before = self.held()
        self.session.select("link")
        self.editor.put(4, "r", "95")
        self.assertFalse(self.editor.isVisible())
        self.session.select("lever")
        self.assertEqual(self.held(), before)
