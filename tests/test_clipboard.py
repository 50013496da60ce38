"""What is copied, read back from the clipboard; and what a screen reader is told."""

from __future__ import annotations

import re
import unittest
from xml.etree import ElementTree

from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QGuiApplication
from PySide6.QtTest import QTest

from tests.test_desk import APP, DeskCase
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.build import sentence_of
from wise_compass.job.model import Entry
from wise_compass.job.settings import Settings
from wise_compass.job.stated import said_of

CTRL, SHIFT, ALT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)


class Copied(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.said: list[str] = []
        self.session.said.connect(self.said.append)
        QGuiApplication.clipboard().clear()

    def press(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> str:
        QTest.keyClick(self.window, key, modifiers)
        APP.processEvents()
        return QGuiApplication.clipboard().text()

    def test_the_drawing_as_svg_picture_and_sentence(self) -> None:
        words = self.press(Qt.Key.Key_C, CTRL | SHIFT)
        data = QGuiApplication.clipboard().mimeData()
        self.assertEqual(words, said_of(self.session.entry, self.session.job.settings))
        self.assertIn("Draw an ellipse with a major axis of 152 mm", words)
        root = ElementTree.fromstring(bytes(data.data("image/svg+xml").data()))
        paper = self.session.sheet.paper
        self.assertEqual(root.get("width"), f"{paper.width:g}mm")
        self.assertAlmostEqual(
            data.imageData().width() / data.imageData().height(), paper.width / paper.height, delta=0.01
        )

    def test_values_in_columns_one_line_each(self) -> None:
        lines = [line.split("\t") for line in self.press(Qt.Key.Key_C, CTRL | ALT).splitlines()]
        made = self.session.run
        self.assertEqual([line[0] for line in lines], [value.name for value in made.values])
        for line, value in zip(lines, made.values):
            many = value.value if isinstance(value.value, list) else [value.value]
            self.assertEqual(len(line), 1 + len(many))
            if isinstance(many[0], float) and value.unit == "mm":
                self.assertAlmostEqual(float(line[1].replace(" mm", "")), many[0], delta=0.01)

    def test_a_table_has_its_heads_and_all_its_rows(self) -> None:
        lines = [line.split("\t") for line in self.press(Qt.Key.Key_T, CTRL | ALT).splitlines()]
        self.assertGreater(len(lines), 10)
        self.assertEqual(len({len(line) for line in lines}), 1)
        self.assertRegex(lines[0][0], r"\(mm\)|\(°\)")
        self.session.select(self.session.job.entries()[0].id)
        APP.processEvents()
        QGuiApplication.clipboard().clear()
        self.assertEqual(self.press(Qt.Key.Key_T, CTRL | ALT), "")
        self.assertIn("neither a curve nor true lengths", self.said[-1])

    def test_a_card_is_copied_by_its_value(self) -> None:
        self.window._panel(1)
        APP.processEvents()
        cards = self.window.panels.values
        cards.setCurrentIndex(cards.model().index(0))
        QTest.keyClick(cards, Qt.Key.Key_C, CTRL)
        self.assertEqual(QGuiApplication.clipboard().text(), cards.cards[0].figure)


class Spoken(DeskCase):
    def test_the_brief_is_a_sentence_with_its_values(self) -> None:
        self.session.set_given("wide", "70")
        told = QAccessible.queryAccessibleInterface(self.window.brief).text(QAccessible.Text.Description)
        self.assertIn("70 mm", told)
        self.assertNotIn("{", told)

    def test_the_step_is_told_as_it_is_walked(self) -> None:
        self.session.walk_to(3)
        APP.processEvents()
        told = QAccessible.queryAccessibleInterface(self.window.rule).text(QAccessible.Text.Description)
        self.assertIn("3", told)
        self.assertIn(self.session.run.steps[2].sentence(PLAIN, self.session.scale).split()[0], told)

    def test_every_figure_has_a_sentence_without_gaps(self) -> None:
        for kind in catalogue().values():
            for method in kind.methods:
                for units in ("mm", "in"):
                    entry = Entry(kind.id, kind.title, method)
                    words = sentence_of(entry, Style(units)) + said_of(entry, Settings(units=units))
                    self.assertIsNone(re.search(r"[{}]|  |None", words), f"{kind.id} {method}: {words}")


if __name__ == "__main__":
    unittest.main()
