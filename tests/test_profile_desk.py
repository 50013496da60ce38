"""A profile drawn up in words at the desk: sentences with lists, live, with what is refused said by its row."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QLineEdit, QPushButton

from tests.test_desk import DeskCase
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.sentence.drawnup import DrawnUp
from wise_compass.desk.sentence.slots import RowsSlot

HALF = (
    "circle A 0 0 30 left",
    "circle B 0 90 12 left",
    "circle C 44 40 10 left",
    "line X 0 -40 0 100",
    "arc F 25 right A C right",
    "tangent S C B",
)
"""Half of a plate, from the middle of its foot to the middle of its head."""


class RowsAsSentences(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("lever")
        self.idle()
        (slot,) = self.window.findChildren(RowsSlot)
        QTest.mouseClick(slot, Qt.MouseButton.LeftButton)
        (self.editor,) = self.window.findChildren(DrawnUp)
        self.idle()

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

    def pixel(self, x: float, y: float) -> QPoint:
        """The pixel of the board at a place of the figure."""
        board, sheet = self.window.set_out.board, self.session.sheet
        assert sheet is not None
        (placed,) = [one for one in sheet.placed if one.piece.run is self.session.run]
        return board.to_window(placed.origin + np.array([x, y]) * sheet.scale).toPoint()

    def click(self, x: float, y: float) -> None:
        QTest.mouseClick(self.window.set_out.board, Qt.MouseButton.LeftButton, pos=self.pixel(x, y))
        self.idle()

    def test_the_arc_on_the_other_side_is_taken_by_a_click_on_it(self) -> None:
        """Its centre is worked out here: 80 and the radius off either circle, on the other side of B to C."""
        self.slot("F: r").setFocus()
        self.assertIsNotNone(self.session.asked)
        b, c = np.array([104.0, 8.0]), np.array([-18.0, 84.0])
        span = float(np.hypot(*(c - b)))
        along = (94**2 - 96**2 + span**2) / (2 * span)
        u = (c - b) / span
        for side, left in (("left", 1.0), ("right", -1.0)):
            centre = b + along * u + left * np.sqrt(94**2 - along**2) * np.array([-u[1], u[0]])
            touch = np.arctan2(*(b - centre)[::-1])
            on = touch - np.radians(25)  # turning right, from B on
            self.click(*(centre + 80 * np.array([np.cos(on), np.sin(on)])))
            self.assertEqual(self.editor.rows[4][6], side)
        self.assertIsNone(self.session.refusal)
        self.assertEqual(self.window.set_out.board.picks, [])

    def test_an_arc_is_added_by_the_mouse_alone(self) -> None:
        """Added, its circles named by clicks on them, and the one that is wanted chosen."""
        self.editor.add("arc")
        self.idle()
        self.click(104 + 14, 8)
        self.click(-18, 84 + 16)
        self.assertEqual(self.editor.rows[-1][4:6], ["B", "C"])
        self.assertEqual(self.editor.what, "side")
        self.editor.hide()
        self.assertIsNone(self.session.asked)

    def test_a_mirrored_half_is_one_row(self) -> None:
        self.editor.rows = [row.split() for row in HALF]
        self.editor.path = ["A", "F", "C", "S", "B"]
        self.editor.add("mirror")
        self.assertEqual(self.editor.path[-1], self.editor.rows[-1][1])
        self.assertIsNone(self.session.refusal)
        assert self.session.run is not None
        (radii,) = [value.value for value in self.session.run.values if value.name == "radii"]
        self.assertEqual(radii, [30, 25, 10, None, 12, None, 10, 25])

    def test_an_undo_is_followed_and_what_was_typed_otherwise_stays(self) -> None:
        self.type_into("F: r", "9 cm")
        self.assertEqual(self.held()[4][2], 90.0)
        self.assertEqual(self.slot("F: r").text(), "9 cm")
        self.session.undo()
        self.idle()
        self.assertEqual(self.slot("F: r").text(), "80")
        self.session.set_given("path", "A, S, B, F, C, U")
        self.assertEqual(self.editor.path, ["A", "S", "B", "F", "C", "U"])

    def test_it_leaves_another_figure_alone(self) -> None:
        before = self.held()
        self.session.select("link")
        self.editor.put(4, "r", "95")
        self.assertFalse(self.editor.isVisible())
        self.session.select("lever")
        self.assertEqual(self.held(), before)
