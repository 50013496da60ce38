"""The first minute: an empty job offers what can be done, and the jobs opened last."""

from __future__ import annotations

import unittest
from pathlib import Path
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from tests.test_desk import APP, DeskCase
from wise_compass.desk.session.session import Session
from wise_compass.desk.window import DeskWindow
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Job
from wise_compass.job.person import Person, keep_person, person
from wise_compass.job.recovery import Keeper
from wise_compass.job.store import save


class Empty(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        keep_person(Person())

    def empty(self) -> DeskWindow:
        window = DeskWindow(Session(Job(), None, Keeper(self.folder / "kept")))
        window.may_leave = lambda: True
        self.addCleanup(window.close)
        window.show()
        APP.processEvents()
        return window

    def press(self, button: QPushButton) -> None:
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        APP.processEvents()

    def test_it_is_there_at_the_first_paint_and_goes_with_the_first_figure(self) -> None:
        window = self.empty()
        self.assertTrue(window._welcome.isVisible())
        self.assertEqual(len(window._welcome.buttons), 6)
        self.assertEqual(len(window._welcome.examples), 3)
        box = window._welcome.geometry()
        self.assertTrue(window.body.rect().contains(box))
        self.press(window._welcome.buttons[1])
        self.assertIsNone(window._welcome)
        self.assertEqual(window.session.job.title, demo_job().title)
        self.assertIsNone(window.session.path)
        window.new_job()
        self.assertTrue(window._welcome.isVisible())

    def test_nothing_of_it_is_squeezed_where_the_style_comes_late(self) -> None:
        sheet = APP.styleSheet()
        self.addCleanup(APP.setStyleSheet, sheet)
        APP.setStyleSheet("")
        window = DeskWindow(Session(Job(), None, Keeper(self.folder / "kept")))
        window.may_leave = lambda: True
        self.addCleanup(window.close)
        APP.setStyleSheet(sheet)  # as a start does
        window.show()
        for _ in range(5):
            APP.processEvents()
        for button in (*window._welcome.buttons, *window._welcome.examples):
            self.assertGreaterEqual(button.height(), button.sizeHint().height(), button.text())

    def test_the_jobs_opened_last_stand_there_newest_first(self) -> None:
        paths = [self.folder / name for name in ("one.json", "two.wisecompass.json", "gone.json")]
        for path in paths:
            save(demo_job(), path)
            self.session.open(path)
        paths[2].unlink()
        window = self.empty()
        self.assertEqual([button.text() for button in window._welcome.recent], ["two", "one"])
        self.press(window._welcome.recent[1])
        self.assertEqual(window.session.path, paths[0])
        self.assertEqual(Path(person().recent[0]), paths[0])

    def test_no_more_than_a_handful_is_kept(self) -> None:
        kept = Person()
        for number in range(20):
            kept = kept.with_recent(Path(f"/jobs/{number}.json"))
        kept = kept.with_recent(Path("/jobs/17.json"))
        self.assertEqual(kept.recent[0], "/jobs/17.json")
        self.assertEqual(len(set(kept.recent)), 6)

    def test_a_damaged_job_picked_there_is_told_and_nothing_changes(self) -> None:
        path, told = self.folder / "bad.json", []
        save(demo_job(), path)
        self.session.open(path)
        path.write_text("{")
        window = self.empty()
        with mock.patch("wise_compass.desk.parts.dialogs.tell", lambda *words: told.append(words[-1])):
            self.press(window._welcome.recent[0])
        self.assertEqual(len(told), 1)
        self.assertTrue(window._welcome.isVisible())


if __name__ == "__main__":
    unittest.main()
