"""Lessons in the real window: each task is done by hand, and known to be done; left, and taken up again."""

from __future__ import annotations

import os
import tempfile
import unittest
from collections.abc import Callable
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.desk.lessons.chooser import LessonChooser
from wise_compass.desk.lessons.lesson import lesson_job
from wise_compass.desk.lessons.tasks import LESSONS
from wise_compass.desk.photo.reader import demo_photograph
from wise_compass.job.person import person


class LessonCase(DeskCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        names = ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")
        home = mock.patch.dict(os.environ, {name: f"{folder.name}/{name}" for name in names})
        home.start()
        self.addCleanup(home.stop)
        super().setUp()

    def begin(self, id: str) -> None:
        self.window.lesson(id)
        APP.processEvents()
        self.lessons = self.window._lessons

    def task(self, number: int, do: Callable[[], object]) -> None:
        """Do a task of the lesson, which was not done before and is then known to be."""
        self.assertTrue(comes(lambda: self.lessons.number == number and not self.lessons._praised))
        assert self.lessons.plan is not None
        task = self.lessons.plan.tasks[number]
        self.assertFalse(task.done(self.window), task.says)
        self.assertTrue(comes(lambda: not self.lessons.arrow.goal.isEmpty()), task.says)
        do()
        self.assertTrue(comes(lambda: self.lessons.plan is None or self.lessons.number > number), task.says)


class First(LessonCase):
    def test_every_task_is_done_by_hand_and_known_to_be(self) -> None:
        window = self.window
        self.begin("first")

        def type_sixty() -> None:
            slot = window.brief.slots["wide"]
            slot.setFocus()
            slot.selectAll()
            QTest.keyClicks(slot, "60")
            QTest.keyClick(slot, Qt.Key.Key_Return)

        def name_a_slip() -> None:
            panel = window.panels.check_panel
            panel.settle()
            for name, size in (("A-B", "96.1"), ("B-C", "70.2"), ("A-C", "59.6")):
                QTest.keyClicks(panel.fields[name], size)
            panel.judge_now()

        def fold() -> None:
            for key in (Qt.Key.Key_V, Qt.Key.Key_G, Qt.Key.Key_G, Qt.Key.Key_F):
                QTest.keyClick(window.stage.shown, key)

        def save() -> None:
            with mock.patch.object(window, "ask_path", lambda *_: ("", "")):
                QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)

        self.task(0, type_sixty)
        self.task(1, lambda: QTest.keyClick(window.rule, Qt.Key.Key_Home) or window.rule.walk(1))
        self.task(2, lambda: window._panel(2))
        self.task(3, lambda: self.session.set_method("trammel"))
        self.task(4, name_a_slip)
        self.task(5, fold)
        self.task(6, save)
        self.assertTrue(comes(lambda: self.lessons.plan is None))
        self.assertEqual(person().lessons["first"], 7)
        self.assertFalse(self.lessons.card.isVisible())

    def test_it_is_left_at_any_time_and_taken_up_again(self) -> None:
        self.begin("first")
        self.lessons.card.skip.click()
        self.lessons.card.skip.click()
        self.lessons.card.leave.click()
        self.assertFalse(self.lessons.card.isVisible())
        self.assertEqual(person().lessons, {"first": 2})
        chooser = LessonChooser(self.window, lambda id: None)
        self.addCleanup(chooser.close)
        self.assertEqual(chooser.buttons["first"].text(), "Go on")
        self.assertEqual(chooser.buttons["shop"].text(), "Begin")
        self.begin("first")
        self.assertEqual(self.lessons.number, 2)
        self.assertIn("3 of 7", self.lessons.card.where.text())

    def test_work_that_is_not_saved_is_not_lost_to_it(self) -> None:
        self.window.may_leave = lambda: False  # type: ignore[method-assign]
        before = self.session.job
        self.window.lesson("first")
        self.assertEqual(self.session.job, before)


class Further(LessonCase):
    def test_views(self) -> None:
        window = self.window
        self.begin("views")
        self.task(0, window.stage.turn_over)
        self.task(1, lambda: QTest.keyClick(window.stage.space, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier))
        self.task(2, lambda: window.rule.walk(-1) or self.session.walk_to(4))
        self.task(3, lambda: QTest.keyClick(window.stage.space, Qt.Key.Key_F))
        self.task(4, window.stage.turn_over)

    def test_a_photograph(self) -> None:
        window = self.window
        self.begin("photograph")

        def read() -> None:
            window.read_photograph(demo_photograph("arch"))
            window.panels.check_panel.photo_part().settle()

        self.task(0, read)
        assert window.stage.head is not None
        head = window.stage.head
        self.task(1, head.ways["over"].click)
        self.task(2, head.tenfold.click)
        self.task(3, head.away.click)

    def test_practise(self) -> None:
        window = self.window
        self.begin("practise")
        self.task(0, lambda: window.go(1))
        place = window.practise
        place.source.setCurrentIndex(place.source.findData("polygons"))
        self.task(1, lambda: place.set_it.click() or place.settle())
        self.task(2, place.hints.hint.click)

        def mark() -> None:
            name = next(iter(place.drawing.fields))
            place.drawing.fields[name].setText("50")
            place.drawing.mark_it.click()

        self.task(3, mark)

    def test_every_lesson_stands_on_sheets_that_the_demo_has(self) -> None:
        for plan in LESSONS.values():
            job = lesson_job(plan)
            self.assertEqual({one.id for one in job.entries()} & set(plan.shows), set(plan.shows))
            self.assertEqual(job.entries()[0].id, plan.shows[0])
            for task in plan.tasks:
                for command in task.command.split("|") if task.command else ():
                    words = [action.text() for group in self.window.groups.values() for action in group]
                    self.assertIn(command, words)


if __name__ == "__main__":
    unittest.main()
