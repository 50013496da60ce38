"""The manners of the window: names for a screen reader, the way of the Tab key, contrast, every figure walked."""

from __future__ import annotations

import sys

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit, QPushButton, QWidget

from tests.test_desk import DeskCase
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
)


class Manners(DeskCase):
    def test_painting_leaves_none_alone(self) -> None:
        """A toolkit release once dropped a reference to None at each call and brought the process down in the end."""
        before = sys.getrefcount(None)
        for _ in range(10):
            self.window.grab()
        self.assertGreater(sys.getrefcount(None) - before, -200)

    def test_every_control_has_an_accessible_name(self) -> None:
        for kind in (QLineEdit, QComboBox, QPushButton):
            for control in self.window.findChildren(kind):
                if control.isVisible():
                    self.assertTrue(
                        control.accessibleName() or (isinstance(control, QPushButton) and control.text()), control
                    )
        for widget in (self.window.board, self.window.rule, self.window.panels.steps, self.window.spine.list):
            self.assertTrue(widget.accessibleName())

    def test_so_has_every_control_of_every_panel(self) -> None:
        panels, looked = self.window.panels, set[str]()
        for entry in ("stay", "bucket", "face"):
            self.session.select(entry)
            self.idle()
            for index in range(panels.count()):
                if not panels.isTabVisible(index):
                    continue
                panels.setCurrentIndex(index)
                self.idle()
                for kind in (QLineEdit, QComboBox, QPushButton):
                    for control in panels.currentWidget().findChildren(kind):
                        if control.isVisible():
                            named = control.accessibleName() or (isinstance(control, QPushButton) and control.text())
                            self.assertTrue(named, f"{entry}, {panels.tabText(index)}: {control.objectName()}")
                            looked.add(panels.tabText(index))
        self.assertGreaterEqual(len(looked), 4, looked)

    def test_tab_reaches_the_slots_and_the_panels(self) -> None:
        self.slot("long").setFocus()
        seen: set[QWidget | None] = set()
        for _ in range(40):
            QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
            seen.add(QApplication.focusWidget())
        self.assertIn(self.slot("wide"), seen)
        self.assertIn(self.window.panels.steps, seen)
        self.assertIn(self.window.rule, seen)

    def test_every_figure_can_be_set_and_walked(self) -> None:
        from wise_compass.figures.catalogue import catalogue
        from wise_compass.job.model import Entry

        for kind in catalogue().values():
            for method in kind.methods.values():
                if method.fits(kind()) is None:
                    entry = Entry(kind.id, kind.title, method.id, kind().stored())
                    self.session.edit(self.session.job.added(entry, self.session.entry_id), "New")
                    self.session.select(entry.id)
                    self.assertIsNone(self.session.refusal)
                    for step in (0, 1, self.session.last_step // 2, self.session.last_step):
                        self.session.walk_to(step)
                        self.window.board.grab()

    def test_text_meets_its_contrast(self) -> None:
        def luminance(name: str) -> float:
            parts = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in QColor(name).getRgbF()[:3]]
            return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

        for ink, ground in (
            (INK, PANEL),
            (SOFT, PANEL),
            (TEAL, PANEL),
            (COPPER, PANEL),
            (TEAL, PAPER),
            (COPPER, PAPER),
            (PINE_TEXT, PINE),
            (PINE_SOFT, PINE),
            (BOXWOOD_INK, BOXWOOD),
        ):
            light, dark = sorted((luminance(ink), luminance(ground)), reverse=True)
            self.assertGreaterEqual((light + 0.05) / (dark + 0.05), 4.5, f"{ink} on {ground}")
