"""Work beside the window: quick work is there at once, long work leaves the window free, and what nobody waits for any
longer is dropped."""

from __future__ import annotations

import threading
import unittest

from PySide6.QtCore import QObject
from PySide6.QtTest import QTest

from tests.waiting import comes
from wise_compass.desk.parts.theme import application
from wise_compass.desk.parts.work import Later
from wise_compass.drafting.refusals import Refused

APP = application()


class Waiting(unittest.TestCase):
    def setUp(self) -> None:
        self.owner = QObject()
        self.later = Later(self.owner)
        self.made: list[object] = []
        self.gate = threading.Event()
        self.addCleanup(self.gate.set)

    def slow(self) -> str:
        self.gate.wait(10)
        return "slow"

    def test_quick_work_is_handed_over_at_once_and_only_once(self) -> None:
        self.later.ask(lambda: 7, self.made.append)
        self.assertEqual(self.made, [7])
        for _ in range(5):
            APP.processEvents()
        self.assertEqual(self.made, [7])
        self.assertFalse(self.later.busy)
        self.assertEqual([one.made for one in self.later.children()], [None], "nothing of it is left behind")

    def test_slow_work_leaves_the_window_free_and_comes_when_it_is_done(self) -> None:
        self.later.ask(self.slow, self.made.append)
        APP.processEvents()
        self.assertEqual((self.made, self.later.busy), ([], True))
        self.gate.set()
        self.assertTrue(comes(lambda: self.made))
        self.assertEqual(self.made, ["slow"])

    def test_what_is_asked_anew_drops_what_was_asked_before(self) -> None:
        self.later.ask(self.slow, self.made.append)
        self.later.ask(lambda: "new", self.made.append)
        self.gate.set()
        self.assertTrue(comes(lambda: self.made))
        QTest.qWait(50)
        self.assertEqual(self.made, ["new"])

    def test_what_is_refused_is_told_to_who_asked_and_a_fault_is_not_hidden(self) -> None:
        def refused() -> None:
            raise Refused("long", "no")

        def wrong() -> None:
            raise ValueError("no")

        self.later.ask(refused, self.made.append, lambda refusal: self.made.append(refusal.says))
        self.assertEqual(self.made, ["no"])
        for do, kind in ((wrong, ValueError), (refused, Refused)):
            with self.assertRaises(kind):
                self.later.ask(do, self.made.append, self.made.append if do is wrong else None)
        self.assertEqual(self.made, ["no"])

    def test_who_cannot_go_on_without_it_waits(self) -> None:
        self.later.ask(self.slow, self.made.append, held=0.0)
        threading.Timer(0.1, self.gate.set).start()
        self.later.settle()
        self.assertEqual(self.made, ["slow"])


if __name__ == "__main__":
    unittest.main()
