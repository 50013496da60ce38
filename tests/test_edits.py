"""One edit makes one figure, one run, one layout; and the desk does what its actions say, in any unit."""

from __future__ import annotations

import sys
import unittest
from contextlib import nullcontext
from typing import Any
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.test_desk import APP, DeskCase
from wise_compass.drafting.capabilities import Curved
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.sheet.drawing import Text

CTRL, SHIFT, ALT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)


class Counting(DeskCase):
    """How often the same thing is made for one edit."""

    def counts(self, edit: Any) -> dict[str, int]:
        """How often figures, runs, layouts and the like are made while ``edit`` is done and painted."""
        import wise_compass.desk.session.session as session
        import wise_compass.desk.session.standing as standing
        import wise_compass.job.build as build
        import wise_compass.sheet.compose as compose
        import wise_compass.sheet.render as render

        made: dict[str, int] = {}

        def counted(module: Any, name: str, label: str) -> Any:
            real = getattr(module, name)

            def call(*args: Any, **kwargs: Any) -> Any:
                made[label] = made.get(label, 0) + 1
                return real(*args, **kwargs)

            return mock.patch.object(module, name, call)

        kind = type(self.session.run.figure)
        with (
            counted(session, "make", "figures"),
            counted(build, "run", "runs"),
            counted(standing, "build_sheet", "sheets"),
            counted(compose, "render", "rendered"),
            counted(build, "compose", "composed"),
            counted(kind, "courses", "courses") if issubclass(kind, Curved) else nullcontext(),
            counted(kind, "dimensions", "dimensions"),
            counted(render, "place_dimensions", "dimension items"),
            counted(render, "place_labels", "labels"),
        ):
            edit()
            APP.processEvents()
        made.setdefault("dimension items", 0)
        return made

    def test_an_edit_makes_each_thing_once(self) -> None:
        """Dimensions are drawn for each scale that is a candidate; everything else is made a single time."""
        for entry in ("arch", "cam", "spindle", "stay", "link", "face"):
            self.session.select(entry)
            self.idle()
            figure = self.session.run.figure
            name = next(name for name, given in figure.givens.items() if given.kind == "length")
            value = float(figure.given_values[name])
            made = self.counts(lambda name=name, value=value: self.session.set_given(name, str(value + 0.1)))
            shared = len(self.session.job.sheets[self.session.sheet_number].entries)
            for label in ("figures", "runs", "sheets", "composed"):
                self.assertEqual(made.get(label), 1, f"{entry}: {label} {made}")
            self.assertEqual(made.get("rendered"), shared, entry)
            self.assertLessEqual(made.get("courses", 0), 1, f"{entry}: {made}")
            self.assertLessEqual(made.get("dimensions", 0), 3 * shared, f"{entry}: {made}")
            self.session.undo()

    def test_laps_find_their_room_once_for_an_edit(self) -> None:
        import wise_compass.shop.shop as shop

        self.session.select("hopper")
        self.idle()
        made: list[int] = []
        real = shop.laps_of

        def once(*args: Any) -> Any:
            made.append(1)
            return real(*args)

        self.window._panel(6)
        typing = lambda: self.type_into("height", "87")  # noqa: E731
        for edit in (typing, lambda: self.session.set_shop(base_lap=11.0)):
            made.clear()
            with mock.patch.object(shop, "laps_of", once):
                edit()
                APP.processEvents()
            typed = 2 if edit is typing else 1  # once a keystroke
            self.assertLessEqual(len(made), typed)

    def test_a_typed_method_runs_once(self) -> None:
        made = self.counts(lambda: self.session.set_method("trammel"))
        self.assertEqual((made.get("runs"), made.get("figures", 0)), (1, 0))
        self.assertEqual(self.session.run.method.id, "trammel")

    def test_reading_the_run_changes_nothing(self) -> None:
        self.session.set_given("wide", "400")
        refusal, before = self.session.refusal, dict(self.session._runs)
        for _ in range(3):
            self.assertEqual(len(self.session.run.steps), self.session.last_step)
            self.assertIsNone(self.session.motion)
        self.assertIs(self.session.refusal, refusal)
        self.assertEqual(self.session._runs, before)


class Units(DeskCase):
    def setUp(self) -> None:
        super().setUp()

        self.session.edit(
            self.session.job._replace(settings=self.session.job.settings._replace(units="in")), "Settings"
        )
        self.session.select("arch")

    def nudged(self, typed: str, key: Qt.Key, modifier: Any = Qt.KeyboardModifier.NoModifier) -> str:
        self.type_into("long", typed)
        QTest.keyClick(self.slot("long"), key, modifier)
        return str(self.slot("long").text())

    def test_up_in_a_slot_of_an_inch_job_is_a_sixteenth(self) -> None:
        self.assertEqual(self.nudged("6 in", Qt.Key.Key_Up), "6.0625 in")
        self.assertAlmostEqual(self.session.run.figure.long, 6.0625 * 25.4)
        self.assertEqual(self.nudged("6", Qt.Key.Key_Down), "5.9375 in")
        self.assertEqual(self.nudged("6", Qt.Key.Key_Up, SHIFT), "6.625 in")
        self.assertEqual(self.nudged("6", Qt.Key.Key_Up, ALT), "6.00625 in")

    def test_refusals_and_limits_are_in_inches(self) -> None:
        self.type_into("long", "6")
        self.type_into("wide", "7")
        words = self.window.brief.hint.text()
        self.assertIn("6 in", words)
        self.assertNotIn("mm", words)
        self.assertEqual(self.slot("wide").text(), "7", "what was typed stays")
        self.slot("long").setFocus()
        self.assertNotIn(" mm", self.window.brief.hint.text())

    def test_panels_are_in_inches(self) -> None:
        for panel in (0, 1, 2):
            self.window.panels.setCurrentIndex(panel)
            words = " ".join(f"{card.figure} {card.body} {card.note}" for card in self.window.panels.shown.cards)
            self.assertNotIn(" mm", words)
            self.assertIn(" in", words)

    def test_a_slot_is_as_wide_as_what_is_typed(self) -> None:
        slot = self.slot("long")
        for words in ("152.4567891 mm", "3 7/16 in", "1"):
            slot.setText("")
            QTest.keyClicks(slot, words)
            room = slot.contentsRect().width() - slot.textMargins().left() - slot.textMargins().right()
            self.assertGreaterEqual(room, slot.fontMetrics().horizontalAdvance(words) + 8, words)


class AtScale(DeskCase):
    def test_steps_tell_what_is_set_on_the_paper(self) -> None:
        self.session.select("tower")
        self.window.panels.setCurrentIndex(0)
        cards = {card.number: card for card in self.window.panels.steps.cards}
        self.assertEqual((cards["3"].caption, cards["3"].figure), ("Scale rule 1:50", "52.00 mm"))
        self.assertIn("true 2600.00 mm", cards["3"].note)
        self.assertEqual((cards["6"].caption, cards["6"].figure), ("Compass", "67.94 mm"))
        self.session.set_sheet(scale="1:20", paper="A2")
        cards = {card.number: card for card in self.window.panels.steps.cards}
        self.assertEqual((cards["6"].caption, cards["6"].figure), ("Beam compass", "169.85 mm"))
        dims = [
            item.words
            for item in self.session.sheet.drawing.items
            if isinstance(item, Text) and item.layer == "dimension"
        ]
        self.assertIn("2600", dims, "dimensions stay true sizes")

    def test_compare_tells_scatter_both_ways(self) -> None:
        self.session.select("tower")
        self.window.panels.setCurrentIndex(3)
        self.window.panels.settle()
        self.assertIn("on the paper", self.window.panels.compare.cards[0].body)
        self.session.select("arch")
        self.window.panels.setCurrentIndex(3)
        self.window.panels.settle()
        self.assertNotIn("on the paper", self.window.panels.compare.cards[0].body)


class Actions(DeskCase):
    """After each action: the order, the geometry and the properties that it is about."""

    def press(self, key: Qt.Key, modifiers: Any) -> None:
        QTest.keyClick(self.window.board, key, modifiers)
        APP.processEvents()

    def order(self) -> list[list[str]]:
        return [[entry.id for entry in sheet.entries] for sheet in self.session.job.sheets]

    def test_reordering_moves_just_this_figure(self) -> None:
        self.session.start(
            Job("J", tuple(SheetPlan(t, tuple(Entry("bisect-line", e, id=e) for e in t)) for t in ("ab", "c", "d"))),
            None,
        )
        self.session.select("b")
        steps = (
            (Qt.Key.Key_Up, [["b", "a"], ["c"], ["d"]]),
            (Qt.Key.Key_Down, [["a", "b"], ["c"], ["d"]]),
            (Qt.Key.Key_Down, [["c"], ["a", "b"], ["d"]]),
        )
        for key, wanted in steps:
            self.press(key, CTRL | SHIFT)
            self.assertEqual(self.order(), wanted)
        self.press(Qt.Key.Key_H, CTRL | SHIFT)
        self.assertEqual(self.order(), [["c"], ["a"], ["b"], ["d"]])
        self.press(Qt.Key.Key_H, CTRL | SHIFT)
        self.assertEqual(self.order(), [["c"], ["a", "b"], ["d"]])
        self.press(Qt.Key.Key_D, CTRL)
        self.assertEqual([len(sheet) for sheet in self.order()], [1, 2, 1, 1])
        self.assertEqual(self.session.entry.title, "b, again")
        self.press(Qt.Key.Key_Backspace, CTRL)
        self.assertEqual(self.order(), [["c"], ["a", "b"], ["d"]])
        for _ in range(7):
            self.press(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.order(), [["a", "b"], ["c"], ["d"]])

    def test_moving_on_the_sheet_is_by_five_millimetres(self) -> None:
        placed = self.session.sheet.placed[0].origin.copy()
        for key, by in (
            (Qt.Key.Key_Right, (5, 0)),
            (Qt.Key.Key_Up, (5, 5)),
            (Qt.Key.Key_Left, (0, 5)),
            (Qt.Key.Key_Down, (0, 0)),
        ):
            self.press(key, CTRL | ALT)
            got = self.session.sheet.placed[0].origin - placed
            self.assertEqual([round(float(x), 6) for x in got], list(by))
        self.press(Qt.Key.Key_Right, CTRL | ALT)
        self.press(Qt.Key.Key_Home, CTRL | ALT)
        self.assertIsNone(self.session.entry.shift)

    def test_zooming_keeps_the_middle_and_fits_again(self) -> None:
        board = self.window.board
        fitted = (board.zoom, board.left, board.top)
        self.press(Qt.Key.Key_Plus, CTRL)
        self.assertAlmostEqual(board.zoom / fitted[0], 1.25)
        self.press(Qt.Key.Key_Minus, CTRL)
        self.assertAlmostEqual(board.zoom, fitted[0])
        self.assertAlmostEqual(board.left, fitted[1])
        self.press(Qt.Key.Key_1, CTRL)
        self.assertAlmostEqual(board.zoom, board.screen().physicalDotsPerInch() / 25.4)
        self.press(Qt.Key.Key_0, CTRL)
        self.assertEqual((board.zoom, board.left, board.top), fitted)
        sheet = self.session.sheet
        self.assertGreaterEqual(board.top, 10)
        self.assertLessEqual(board.top + sheet.paper.height * board.zoom, board.height() - 10)

    def test_slots_stand_in_the_order_of_the_sentence_and_apart(self) -> None:
        for entry in self.session.job.entries():
            self.session.select(entry.id)
            APP.processEvents()
            sentence = figure_named(entry.figure).sentence(entry.givens, entry.method)
            slots = self.window.brief.slots
            in_order = sorted(slots, key=lambda name: sentence.index("{" + name + "}"))
            self.assertEqual(list(slots), in_order, entry.id)
            boxes = [slots[name].geometry() for name in slots]
            for one, other in zip(boxes, boxes[1:]):
                self.assertFalse(one.intersects(other), f"{entry.id}: slots piled up")
                self.assertTrue(other.top() > one.top() or other.left() > one.right(), entry.id)
            for name, slot in slots.items():
                refused = bool(slot.property("refused"))
                self.assertFalse(refused, f"{entry.id} {name} is good and shown as refused")

    def test_the_marked_figure_is_the_shown_one(self) -> None:
        spine = self.window.spine
        for entry in self.session.job.entries()[:8]:
            self.session.select(entry.id)
            APP.processEvents()
            self.assertEqual(spine.list.currentIndex().data(Qt.ItemDataRole.DisplayRole).split("\n")[0], entry.title)

    def test_a_slot_that_outlives_its_figure_changes_nothing(self) -> None:
        """Typed into the figure that is shown now, a given that it has not would spoil the job's file."""
        before = self.session.job
        self.assertTrue(self.session.set_given("weave", "3"))
        self.session.set_given("wide", "x")
        self.session.set_given("weave", "4")
        self.assertEqual(self.session.entry.typed, {"wide": "x"})
        self.session.undo()
        self.assertEqual(self.session.job, before)

    def test_no_action_faults(self) -> None:
        """Every action that opens no dialog is done once; any exception in a slot or a paint fails the test."""
        faults: list[object] = []
        old, sys.excepthook = sys.excepthook, lambda *fault: faults.append(fault)
        try:
            for group in self.window.groups.values():
                for action in group:
                    if "…" not in action.text() and action.text() not in ("Leave", "Save", "New job"):
                        action.trigger()
                        APP.processEvents()
        finally:
            sys.excepthook = old
        self.assertEqual(faults, [])


class Demo(unittest.TestCase):
    def test_the_tower_is_what_it_is(self) -> None:
        job = demo_job()
        tower = job.entry("tower")
        assert tower is not None
        self.assertEqual((tower.givens["side"], job.sheets[0].scale), (2600, "1:50"))
