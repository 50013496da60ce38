"""The places of the window: led to by keys and remembered, the logbook's page, the day as a strip, menus, keys,
names."""

from __future__ import annotations

import os
import tempfile
import unittest
from datetime import datetime
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QLineEdit,
    QMenu,
    QMenuBar,
    QScrollBar,
    QTabBar,
    QWidget,
)

from tests.test_desk import APP, DeskCase
from tests.test_logbook import entry
from tests.waiting import comes
from wise_compass.desk.keyslist import KeysDialog
from wise_compass.desk.logbook.place import LogbookPlace
from wise_compass.desk.plan.place import PlanPlace, _morning
from wise_compass.desk.remembered import place_before, stand_as_before
from wise_compass.drafting.refusals import Refused
from wise_compass.job.person import change_person, person
from wise_compass.logbook.store import Logbook
from wise_compass.plan.day import _as_told, drawn_up, looked_through
from wise_compass.plan.order import PlanItem

BOTH = Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ShiftModifier


class PlaceCase(DeskCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.own = Path(folder.name)
        home = mock.patch.dict(
            os.environ, {name: str(self.own / name) for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME")}
        )
        home.start()
        self.addCleanup(home.stop)
        super().setUp()


class Places(PlaceCase):
    def test_each_is_led_to_by_its_keys_and_keeps_its_state(self) -> None:
        self.session.walk_to(4)
        for number, title in enumerate(("Set out", "Practise", "Logbook", "Plan")):
            QTest.keyClick(self.window, Qt.Key(Qt.Key.Key_1 + number), BOTH)
            APP.processEvents()
            self.assertTrue(self.window.column.heads[number].isChecked())
            self.assertIn(title, self.window.column.heads[number].text())
            self.assertTrue(self.window.place.body.isVisible())
            self.assertTrue(self.window.place.spine.isVisible())
        plan = self.window.plan
        plan.settle()
        QTest.mouseClick(self.window.column.heads[0], Qt.MouseButton.LeftButton)
        self.assertEqual((self.session.step, self.session.finished), (4, False))
        self.window.go(3)
        self.assertIs(self.window.plan, plan)
        plan.settle()
        APP.processEvents()

    def test_what_another_place_has_no_use_of_cannot_be_asked_for_there_and_says_so(self) -> None:
        delete = next(one for one in self.window.groups["Figure"] if one.text() == "Delete the figure")
        before = self.session.job
        self.window.go(2)
        self.assertFalse(delete.isEnabled())
        self.assertIn("Set out", delete.toolTip())
        QTest.keyClick(self.window, Qt.Key.Key_Backspace, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClick(self.window, Qt.Key.Key_Left)
        self.assertEqual((self.session.job, self.session.finished), (before, True))
        self.window.go(0)
        self.assertTrue(delete.isEnabled())
        QTest.keyClick(self.window, Qt.Key.Key_Left)
        self.assertFalse(self.session.finished)

    def test_no_key_does_two_things(self) -> None:
        keys = [
            key.toString() for group in self.window.groups.values() for action in group for key in action.shortcuts()
        ]
        self.assertEqual(len(keys), len(set(keys)))

    def test_the_window_remembers_its_place_and_where_it_stood(self) -> None:
        self.window.resize(1100, 720)
        self.window.go(2)
        self.window.close()
        self.assertEqual(place_before(), 2)
        self.assertEqual(person().window[2:4], (1100, 720))
        other = QWidget()
        stand = mock.Mock(wraps=other)
        stand.screen.return_value = self.window.screen()
        stand_as_before(stand)
        stand.setGeometry.assert_called_once()
        change_person(lambda now: now._replace(window=(90_000, 90_000, 300, 300, 0)))
        stand.setGeometry.reset_mock()
        stand_as_before(stand)
        stand.setGeometry.assert_not_called()

    def test_a_restyled_window_shows_the_same_place_and_what_is_in_hand(self) -> None:
        self.window.go(1)
        practise = self.window.practise
        practise.source.setCurrentIndex(practise.source.findData("polygons"))
        practise.set_it.click()
        practise.settle()
        hand = practise.session.hand
        assert hand is not None
        fresh = self.window.anew()
        fresh.may_leave = lambda: True  # type: ignore[method-assign]
        self.addCleanup(fresh.close)
        self.assertIs(fresh.place, fresh.practise)
        again = fresh.practise.session.hand
        assert again is not None
        self.assertEqual(again.problem.code, hand.problem.code)

    def test_every_control_of_every_place_has_a_name_of_what_it_is(self) -> None:
        for number in range(4):
            self.window.go(number)
            place = self.window.place
            if number == 3:
                self.window.plan.settle()
            APP.processEvents()
            for part in (place.spine, place.body, self.window.column):
                for control in part.findChildren(QWidget):
                    if not control.isVisible() or isinstance(control, QScrollBar):
                        continue
                    if isinstance(control, QAbstractButton):
                        self.assertTrue(control.accessibleName() or control.text(), control.objectName())
                    if isinstance(control, (QLineEdit, QComboBox)) and not control.objectName().startswith("qt_"):
                        self.assertTrue(control.accessibleName(), f"{number}: {control.objectName()} {control}")
                    if isinstance(control, QComboBox):
                        shown = control.currentText()
                        self.assertNotEqual(control.accessibleName(), shown, "named by what it is, not by its value")

    def test_tab_reaches_every_control_of_every_place(self) -> None:
        self.window.activateWindow()
        self.assertTrue(comes(self.window.isActiveWindow))
        for number in range(4):
            self.window.go(number)
            if number == 1:
                practise = self.window.practise
                practise.source.setCurrentIndex(practise.source.findData("polygons"))
                practise.set_it.click()
                practise.settle()
                practise.panels.setCurrentWidget(practise.drawing)
            if number == 3:
                self.window.plan.settle()
            APP.processEvents()
            reached: set[QWidget] = set()
            for _ in range(160):
                QTest.keyClick(QApplication.focusWidget() or self.window, Qt.Key.Key_Tab)
                reached.add(QApplication.focusWidget())
            place = self.window.place
            for part in (place.spine, place.body):
                for control in part.findChildren(QWidget):
                    if not isinstance(control, (QAbstractButton, QLineEdit, QComboBox, QAbstractItemView)):
                        continue
                    by_tab = bool(control.focusPolicy() & Qt.FocusPolicy.TabFocus)
                    inner = isinstance(control.parent(), (QAbstractItemView, QTabBar, QLineEdit))
                    if control.isVisible() and control.isEnabled() and by_tab and not inner:
                        told = control.accessibleName() or getattr(control, "text", str)()
                        self.assertIn(control, reached, f"place {number}: {told}")

    def test_what_is_printed_is_what_the_place_shows(self) -> None:
        self.window.go(1)
        practise = self.window.practise
        practise.source.setCurrentIndex(practise.source.findData("polygons"))
        practise.set_it.click()
        practise.settle()
        printed: list[tuple[str, int]] = []
        asked = "wise_compass.desk.leaving.papers.Papers.print_drawings"
        with mock.patch(asked, lambda _, title, drawings: printed.append((title, len(drawings)))):
            QTest.keyClick(self.window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
            self.window.go(3)
            self.window.plan.settle()
            APP.processEvents()
            QTest.keyClick(self.window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(printed[0], ("Practice", 1))
        self.assertEqual(printed[1][0], "Plan")


class Menus(PlaceCase):
    def test_no_menu_is_longer_than_a_small_window_and_all_commands_are_there(self) -> None:
        QTest.keyClick(self.window, Qt.Key.Key_F10)
        APP.processEvents()
        menus = self.window.findChildren(QMenu)
        top = next(one for one in menus if one.isVisible())
        self.addCleanup(top.close)
        self.assertEqual([one.text() for one in top.actions()], ["Job", "Figure", "View", "Drafter", "Help"])
        for menu in menus:
            self.assertLess(menu.sizeHint().height(), 760, menu.title())
        shown = {action.text() for menu in menus for action in menu.actions()}
        for group in self.window.groups.values():
            for action in group:
                self.assertIn(action.text(), shown)

    def test_alt_alone_shows_the_bar_and_hides_it_and_always_keeps_it(self) -> None:
        self.window.activateWindow()
        self.assertTrue(comes(self.window.isActiveWindow))

        def there() -> bool:
            bars = self.window.findChildren(QMenuBar)
            return bool(bars) and bars[0].isVisible()

        self.assertFalse(there())
        QTest.keyClick(self.window, Qt.Key.Key_Alt)
        self.assertTrue(there())
        QTest.keyClick(self.window, Qt.Key.Key_Alt)
        self.assertFalse(there())
        QTest.keyPress(self.window, Qt.Key.Key_Alt)
        QTest.keyClick(self.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
        QTest.keyRelease(self.window, Qt.Key.Key_Alt)
        self.assertFalse(there(), "Alt with another key is that key's")
        self.window.bar_always()
        self.assertTrue(there())
        self.assertEqual(person().bar, "always")
        self.window.bar_always()
        self.assertFalse(there())

    def test_the_list_of_keys_fits_the_screen_begins_with_this_place_and_is_searched(self) -> None:
        dialog = KeysDialog(self.window, self.window.groups, "Practise")
        self.addCleanup(dialog.close)
        dialog.show()
        APP.processEvents()
        self.assertLess(dialog.height(), self.window.height())
        self.assertEqual(dialog.parts[0][0].text(), "Practise")
        told = {keys.text() for _, pairs in dialog.parts for keys, _ in pairs}
        for group in self.window.groups.values():
            for action in group:
                for key in action.shortcuts():
                    self.assertTrue(any(key.toString() in one for one in told), action.text())
        QTest.keyClicks(dialog.sought, "isometric")
        left = [says.text() for _, pairs in dialog.parts for _, says in pairs if not says.isHidden()]
        self.assertTrue(left)
        self.assertTrue(all("sometric" in words for words in left))


class LogbookPage(PlaceCase):
    def setUp(self) -> None:
        super().setUp()
        self.book = Logbook(self.own / "data")
        wrong = {"verdict": "slip", "slip": "other-crossing", "says": "The other of two crossings. It is sure."}
        self.book.note([*(entry(k) for k in range(3)), *(entry(k, person="Ben", **wrong) for k in range(3, 8))])
        self.place = LogbookPlace(self.window, self.book)
        self.window._made[2] = self.place
        self.window.go(2)
        self.place.settle()
        APP.processEvents()

    def test_it_shows_what_recurs_and_filters(self) -> None:
        place = self.place
        self.assertIn("5 of", place.recurs.text())
        self.assertNotIn("sure", place.recurs.text())
        self.assertFalse(place.plots["slips"].pixmap().isNull())
        self.assertEqual(place.entries.rows.rowCount(), 8)
        place.person.setCurrentIndex(place.person.findData("Ada"))
        self.assertEqual(place.entries.rows.rowCount(), 3)
        self.assertEqual(place.lists["slips"].rows.rowCount(), 0)
        self.assertIn("Nothing has gone wrong", place.recurs.text())
        place.person.setCurrentIndex(0)
        QTest.keyClicks(place.since.field, "never")
        place.show_chosen()
        self.assertIn("is no day", place.says.text())
        place.settle()

    def test_a_day_is_picked_from_the_calendar(self) -> None:
        place = self.place
        place.since.open.click()
        calendar = place.since.calendar
        assert calendar is not None
        calendar.setSelectedDate(calendar.selectedDate().fromString("2030-05-06", Qt.DateFormat.ISODate))
        calendar.activated.emit(calendar.selectedDate())
        self.assertEqual(place.since.field.text(), "2030-05-06")
        place.show_chosen()
        self.assertEqual(place.entries.rows.rowCount(), 0)
        place.settle()

    def test_a_plot_turns_into_its_table(self) -> None:
        stack = self.place._stacks["slips"]
        turn = next(one for one in self.place.body.findChildren(QAbstractButton) if one.text() == "as a table")
        turn.click()
        self.assertIs(stack.currentWidget(), self.place.lists["slips"])
        self.assertEqual(turn.text(), "as a plot")

    def test_entries_are_deleted_saved_taken_in_and_given_a_picture(self) -> None:
        place = self.place
        self.assertFalse(place.buttons["Delete it"].isEnabled())
        place.entries.selectRow(0)
        with mock.patch("wise_compass.desk.logbook.place.ask", lambda *_: "Delete"):
            place.buttons["Delete it"].click()
        self.assertEqual(len(self.book.entries()), 7)
        place.save_to(self.own / "out.csv")
        with mock.patch("wise_compass.desk.logbook.place.ask", lambda *_: "Delete all"):
            place.buttons["Delete all…"].click()
        self.assertEqual(self.book.entries(), [])
        with mock.patch("PySide6.QtWidgets.QFileDialog.getOpenFileName", lambda *_: (str(self.own / "out.csv"), "")):
            place.buttons["Take in CSV…"].click()
        self.assertEqual(len(self.book.entries()), 7)
        (self.own / "no.png").write_bytes(b"words")
        with self.assertRaises(Refused):
            place.attach_to("entry-1", self.own / "no.png")
        (self.own / "yes.png").write_bytes(b"\x89PNG and so on")
        place.attach_to("entry-1", self.own / "yes.png")
        self.assertEqual(sum(1 for row in place.shown if row.picture), 1)
        place.settle()

    def test_an_entry_leads_back_to_its_figure_and_to_its_problem(self) -> None:
        place, sheets = self.place, len(self.session.job.sheets)
        place.entries.selectRow(0)
        noted = place.one._noted()
        self.assertFalse(place.one.back["Show its photograph"].isEnabled())
        place.one.back["Set its figure out"].click()
        self.assertIs(self.window.place, self.window.set_out)
        assert self.session.entry is not None
        self.assertEqual(self.session.entry.figure, noted.figure)
        self.assertEqual(len(self.session.job.sheets), sheets + 1)
        self.window.go(2)
        place.entries.selectRow(0)
        place.one.back["Set its figure out"].click()
        self.assertEqual(len(self.session.job.sheets), sheets + 1, "the one that is there is shown")
        self.window.go(2)
        place.entries.selectRow(0)
        place.one.back["Practise it again"].click()
        self.assertIs(self.window.place, self.window.practise)
        hand = self.window.practise.session.hand
        assert hand is not None
        self.assertEqual(hand.problem.figure, noted.figure)


class PlanStrip(PlaceCase):
    def setUp(self) -> None:
        super().setUp()
        job = self.session.job
        self.session.edit(job._replace(sheets=job.sheets[:6]), "Fewer")
        self.place = PlanPlace(self.window, Logbook(self.own / "data"))
        self.window._made[3] = self.place
        self.window.go(3)
        self.place.settle()
        APP.processEvents()
        self.place.fields["start"].setText("2026-11-26 08:00")
        self.place.draw_up()

    def test_every_minute_of_the_plan_lies_in_a_bar_and_no_break_does(self) -> None:
        plan, strip = self.place.plan, self.place.strip
        assert plan is not None
        hours = sum(bar.end - bar.start for bar in strip._bars)
        self.assertAlmostEqual(60 * hours, plan.minutes, delta=0.1)
        for begin, end in plan.breaks:
            day = strip._days.index(begin.date())
            low, high = (one.hour + one.minute / 60 + one.second / 3600 for one in (begin, end))
            for bar in strip._bars:
                self.assertFalse(bar.row == day and bar.start < high - 0.01 and bar.end > low + 0.01)
        self.assertEqual(sum(one.changes for one in plan.sheets), plan.changes)
        self.place.fields["day"].setText("60")  # days of an hour: what is begun goes on the next morning
        self.place.draw_up()
        self.assertGreater(len(strip._days), 1)
        for bar in strip._bars:
            self.assertGreaterEqual(bar.start, 7.99)
            self.assertLessEqual(bar.end, 9.01)

    def test_a_bar_is_dragged_and_what_that_costs_is_told_and_taken_back(self) -> None:
        place, strip = self.place, self.place.strip
        before = [one.number for one in strip.sheets]
        start = strip.box_of(0).center().toPoint()
        end = strip.box_of(3).center().toPoint() + QPoint(-4, 0)
        QTest.mousePress(strip, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(strip, end)
        QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=end)
        moved = [*before[1:3], before[0], *before[3:]]
        self.assertEqual([one.number for one in strip.sheets], moved)
        self.assertIn("Your own order", place.says.text())
        self.assertTrue(place.best.isEnabled())
        strip.setFocus()
        strip.choose(2)
        QTest.keyClick(strip, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClick(strip, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual([one.number for one in strip.sheets], before)
        place.best.click()
        self.assertIsNone(place.order)
        place.strip.choose(2)
        shown = self.session.job.sheets[strip.sheets[2].number - 1].entries[0].id
        place.show_it.click()
        self.assertEqual(self.session.entry_id, shown)
        self.assertIs(self.window.place, self.window.set_out)

    def test_a_sheet_is_not_drawn_before_one_whose_value_it_takes(self) -> None:
        self.session.select("arch")
        self.assertTrue(self.session.set_given("wide", "Gable.ab"))
        looked = looked_through(self.session.job)
        plan = drawn_up(looked, hours=self.place.hours())
        (one,) = [one for one in plan.sheets if one.waits]
        order = [one.number, *(two.number for two in plan.sheets if two.number != one.number)]
        with self.assertRaisesRegex(Refused, f"draw sheet {one.waits[0]} before it"):
            drawn_up(looked, hours=self.place.hours(), sheets=order)
        with self.assertRaisesRegex(Refused, "before"):
            _as_told([PlanItem(0, "a", "a", 0, 0, frozenset({1})), PlanItem(1, "a", "a", 0, 0)], [1, 2])

    def test_what_lies_on_the_table_is_ticked_and_stays_so(self) -> None:
        kit = self.place.kit
        words = [kit.item(n).text() for n in range(kit.count())]
        self.assertIn("Compass", words)
        self.assertTrue(any(one.startswith("Paper: ") for one in words))
        kit.item(words.index("Compass")).setCheckState(Qt.CheckState.Checked)
        self.place.fields["rest"].setText("20")
        self.place.draw_up()
        again = {kit.item(n).text(): kit.item(n).checkState() for n in range(kit.count())}
        self.assertEqual(again["Compass"], Qt.CheckState.Checked)

    def test_it_follows_its_hours_says_what_cannot_be_and_is_saved(self) -> None:
        place = self.place
        place.save_to(self.own / "plan.ics")
        self.assertIn("BEGIN:VEVENT", (self.own / "plan.ics").read_text())
        self.assertEqual(place.list.rows.rowCount(), 6)
        place.fields["rest"].setText("often")
        place.draw_up()
        self.assertIn("often", place.says.text())

    def test_who_asks_by_night_begins_in_the_morning(self) -> None:
        self.assertEqual(_morning(datetime(2026, 11, 25, 21, 40)), datetime(2026, 11, 26, 8))
        self.assertEqual(_morning(datetime(2026, 11, 25, 3, 40)), datetime(2026, 11, 25, 8))
        self.assertEqual(_morning(datetime(2026, 11, 25, 9, 40, 12)), datetime(2026, 11, 25, 9, 40))


if __name__ == "__main__":
    unittest.main()
