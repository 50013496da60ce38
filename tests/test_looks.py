"""The looks of the desk: dark and light with enough contrast, text that grows without being cut off, and what is kept
of both."""

from __future__ import annotations

import unittest
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QFrame, QLabel, QLineEdit, QPushButton, QTabBar
from shiboken6 import isValid

from tests.test_desk import APP, DeskCase
from wise_compass.desk.drafter import looks
from wise_compass.desk.drafter.kitdialogs import KitDialog
from wise_compass.desk.drafter.looks import LookDialog
from wise_compass.desk.leaving.trueness import PrinterCheck, ScreenCheck
from wise_compass.desk.parts import theme
from wise_compass.desk.parts.dialogs import NotesDialog, SettingsDialog
from wise_compass.desk.parts.theme import (
    BOXWOOD,
    BOXWOOD_INK,
    COPPER,
    INK,
    PANEL,
    PAPER,
    PINE,
    PINE_SOFT,
    PINE_TEXT,
    SOFT,
    TEAL,
    dress,
    shade,
)
from wise_compass.desk.problem.setproblem import SetProblem
from wise_compass.desk.sentence.dimensiontable import DimensionTable
from wise_compass.job.person import Person, keep_person, person

PAIRS = (
    *((ink, ground) for ink in (INK, SOFT, TEAL, COPPER) for ground in (PANEL, PAPER)),
    (PINE_TEXT, PINE),
    (PINE_SOFT, PINE),
    (INK, BOXWOOD),
    (BOXWOOD_INK, BOXWOOD),
    (PAPER, TEAL),
)


def luminance(name: str) -> float:
    colour = QColor(name)
    parts = [
        part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4
        for part in (colour.redF(), colour.greenF(), colour.blueF())
    ]
    return sum(weight * part for weight, part in zip((0.2126, 0.7152, 0.0722), parts))


def contrast(one: str, other: str) -> float:
    """The ratio of WCAG 2."""
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


class Looks(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        keep_person(Person())
        self.addCleanup(self.by_day)
        self.current = self.window
        kept = mock.patch.object(
            type(self.window), "deleteLater", lambda window: None
        )  # the case closes its first window itself
        kept.start()
        self.addCleanup(kept.stop)

    def by_day(self) -> None:
        for window in looks._OPEN:
            if isValid(window):
                window.give_way()
        looks._OPEN.clear()
        dress(APP, Person(theme="light"))

    def restyle(self, kept: Person) -> None:
        before = list(looks._OPEN)
        looks.restyle(self.current, kept)
        fresh = [window for window in looks._OPEN if window not in before]
        if fresh:
            self.current = fresh[0]
        for _ in range(4):
            APP.processEvents()

    def test_contrast_is_enough_by_day_and_at_night(self) -> None:
        for dark in ("light", "dark"):
            dress(APP, Person(theme=dark))
            for ink, ground in PAIRS:
                ratio = contrast(shade(ink), shade(ground))
                self.assertGreaterEqual(ratio, 4.5, f"{dark}: {ink} on {ground} is {ratio:.2f}")

    def test_at_night_the_desk_is_dark_and_the_paper_white(self) -> None:
        self.restyle(Person(theme="dark"))
        image = self.current.grab().toImage()
        board = self.current.board
        corner = board.mapTo(self.current, QPoint(round(board.left) + 12, round(board.top) + 8))
        self.assertGreater(image.pixelColor(corner).lightness(), 240)
        left = self.current.panels.mapTo(self.current, QPoint(0, 0))
        side = [image.pixelColor(left + QPoint(x, y)).lightness() for x in range(4, 320, 7) for y in range(50, 600, 11)]
        self.assertLess(sorted(side)[len(side) // 2], 80)
        self.assertEqual(person().theme, "dark")

    def test_at_night_every_dialog_is_dark(self) -> None:
        """Median lightness of what each shows, and no part of it that is as light as by day, but for paper."""
        self.restyle(Person(theme="dark"))
        window = self.current
        dialogs = {
            "chooser": SetProblem(window, True), "settings": SettingsDialog(window, self.session.job.settings),
            "look": LookDialog(window),
            "notes": NotesDialog(window, "Stone."), "dimensions": DimensionTable(window, self.session),
            "kit": KitDialog(window), "screen": ScreenCheck(window, window.screen()), "printer": PrinterCheck(window),
        }  # fmt: skip
        for name, dialog in dialogs.items():
            dialog.show()
            for _ in range(4):
                APP.processEvents()
            image = dialog.grab().toImage()
            light = sorted(
                image.pixelColor(x, y).lightness()
                for x in range(3, image.width(), 6)
                for y in range(3, image.height(), 6)
            )
            self.assertLess(light[len(light) // 2], 90, name)
            self.assertLess(sum(one > 200 for one in light), 0.1 * len(light), name)
            dialog.close()

    def test_the_session_goes_on_in_the_window_made_anew(self) -> None:
        self.session.set_given("wide", "71")
        self.window._panel(1)
        self.restyle(Person(theme="dark", text=1.15))
        self.assertIs(self.current.session, self.session)
        self.assertEqual(self.current.panels.currentIndex(), 1)
        self.assertEqual(self.current.brief.slots["wide"].text(), "71 mm")
        self.session.undo()
        APP.processEvents()
        self.assertEqual(self.current.brief.slots["wide"].text(), "88 mm")
        self.assertFalse(self.window.isVisible())

    def test_keys_make_text_larger_and_smaller(self) -> None:
        both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        QTest.keyClick(self.current, Qt.Key.Key_Plus, both)
        APP.processEvents()
        self.current = looks._OPEN[-1]
        self.assertEqual(person().text, 1.15)
        self.assertEqual(theme.px(100), 115)
        QTest.keyClick(self.current, Qt.Key.Key_Minus, both)
        APP.processEvents()
        self.current = looks._OPEN[-1]
        self.assertEqual((person().text, theme.px(100)), (1.0, 100))

    def test_at_the_largest_nothing_in_sight_is_cut_off(self) -> None:
        self.restyle(Person(text=1.5))
        self.current.resize(1280, 800)
        for id in ("arch", "hopper", "road"):
            self.session.select(id)
            for _ in range(4):
                APP.processEvents()
            self.assertEqual(
                (self.current.width(), self.current.height()), (1280, 800), f"{id}: the window has to grow"
            )
            for widget in (
                one for kind in (QLabel, QPushButton, QLineEdit, QComboBox) for one in self.current.findChildren(kind)
            ):
                if not widget.isVisible() or not (words := self._words(widget)):
                    continue
                self.assertLessEqual(widget.fontMetrics().height(), widget.height() + 1, f"{id}: {words}")
                if not (isinstance(widget, QLabel) and widget.wordWrap()):
                    self.assertLessEqual(
                        widget.fontMetrics().horizontalAdvance(words), widget.width() + 1, f"{id}: {words}"
                    )
                corner = widget.mapTo(self.current, QPoint(widget.width(), widget.height()))
                self.assertLessEqual(corner.x(), 1281, f"{id}: {words}")
                self.assertLessEqual(corner.y(), 801, f"{id}: {words}")
            tabs = self.current.panels.findChild(QTabBar)
            self.assertLessEqual(
                sum(tabs.tabRect(n).width() for n in range(tabs.count())), self.current.panels.width() + 1
            )

    @staticmethod
    def _words(widget: object) -> str:
        return widget.currentText() if isinstance(widget, QComboBox) else widget.text()

    def test_the_system_is_followed_where_a_person_wants_it(self) -> None:
        with mock.patch.object(theme, "system_is_dark", return_value=True):
            looks.made_anew(self.current)
            self.current = looks._OPEN[-1]
            self.assertNotEqual(shade(PANEL), PANEL)
        keep_person(Person(theme="light"))
        with mock.patch.object(theme, "system_is_dark", return_value=True):
            looks.made_anew(self.current)
            self.current = looks._OPEN[-1]
            self.assertEqual(shade(PANEL), PANEL)

    def test_the_dialog_has_what_is_kept_and_gives_what_is_chosen(self) -> None:
        keep_person(Person(theme="dark", text=1.3))
        dialog = looks.LookDialog(self.current)
        self.addCleanup(dialog.close)
        self.assertEqual(dialog.kept, Person(theme="dark", text=1.3))
        dialog.text.setCurrentIndex(0)
        self.assertEqual(dialog.kept.text, 0.85)

    def test_a_system_with_large_text_is_followed_on_top_of_what_a_person_wants(self) -> None:
        with mock.patch.object(theme._Look, "system", 1.3):
            dress(APP, Person())
            self.assertEqual(theme.px(100), 130)
            dress(APP, Person(text=1.15))
            self.assertEqual(theme.px(100), 150)
            dress(APP, Person(text=0.85))
            self.assertEqual(theme.px(100), 115)

    def test_a_dialog_has_an_edge_of_its_own_that_grows_with_it(self) -> None:
        dialog = looks.LookDialog(self.current)
        self.addCleanup(dialog.close)
        dialog.show()
        dialog.resize(500, 300)
        APP.processEvents()
        edge = dialog.findChild(QFrame, "dialogedge")
        self.assertEqual(edge.geometry(), dialog.rect())
        image = dialog.grab().toImage()
        self.assertNotEqual(image.pixelColor(0, 150), image.pixelColor(4, 150))


if __name__ == "__main__":
    unittest.main()
