"""The spine: sheets that fold, what is sought, names in two lines, and the order of the job by keys and by dragging."""

from __future__ import annotations

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QPixmap
from PySide6.QtTest import QTest

from tests.test_desk import APP, DeskCase
from wise_compass.desk.spine.overview import Overview
from wise_compass.desk.spine.pictures import default_courses
from wise_compass.desk.spine.spinerows import SpineCommand, dropped, rows_of
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.model import Entry, Job, SheetPlan

CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
ALT = Qt.KeyboardModifier.AltModifier


def entry(id: str) -> Entry:
    return Entry("polygon-on-side", f"Figure {id}", id=id)


def order(job: Job) -> list[list[str]]:
    return [[one.id for one in sheet.entries] for sheet in job.sheets]


JOB = Job(
    "J",
    (SheetPlan("One", (entry("a"), entry("b"))), SheetPlan("Two", (entry("c"),)), SheetPlan("Three", (entry("d"),))),
)


class Lines(unittest.TestCase):
    def titles(self, selected: str = "c", opened: tuple[str, ...] = (), sought: str = "") -> list[str]:
        commands = [SpineCommand("Print…", "Ctrl+P", lambda: None), SpineCommand("Undo", "Ctrl+Z", lambda: None)]
        return [row.title for row in rows_of(JOB, selected, opened, sought, commands)]

    def test_the_sheet_at_hand_is_open_and_others_are_a_line(self) -> None:
        self.assertEqual(self.titles(), ["One", "Two", "Figure c", "Three"])
        self.assertEqual(self.titles(opened=("a",)), ["One", "Figure a", "Figure b", "Two", "Figure c", "Three"])

    def test_all_words_sought_are_found_in_sheet_figure_or_kind(self) -> None:
        self.assertEqual(self.titles(sought="figure b"), ["One", "Figure b"])
        self.assertEqual(self.titles(sought="sheet 3"), ["Three", "Figure d"])
        self.assertEqual(self.titles(sought="POLYGON two"), ["Two", "Figure c"])
        self.assertEqual(self.titles(sought="rin"), ["Print"])
        self.assertEqual(self.titles(sought="nothing of it"), [])

    def test_what_is_dragged_goes_where_it_is_dropped(self) -> None:
        rows = rows_of(JOB, "c", ("a", "d"))
        self.assertEqual(
            [row.title for row in rows], ["One", "Figure a", "Figure b", "Two", "Figure c", "Three", "Figure d"]
        )
        for moved, before, want in (
            (1, 5, [["b"], ["c", "a"], ["d"]]),
            (4, 2, [["a", "c", "b"], ["d"]]),
            (1, 3, [["b", "a"], ["c"], ["d"]]),
            (2, 1, [["b", "a"], ["c"], ["d"]]),
            (6, 4, [["a", "b"], ["d", "c"]]),
            (0, 7, [["c"], ["d"], ["a", "b"]]),
            (5, 0, [["d"], ["a", "b"], ["c"]]),
            (3, 3, [["a", "b"], ["c"], ["d"]]),
        ):
            self.assertEqual(order(dropped(JOB, rows, moved, before)), want, (moved, before))

    def test_every_figure_is_kept_wherever_one_is_put(self) -> None:
        for one in "abcd":
            for sheet in range(-1, 4):
                for place in range(-1, 4):
                    found = sorted(id for ids in order(JOB.put_on(one, sheet, place)) for id in ids)
                    self.assertEqual(found, list("abcd"))


class OnTheDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.spine = self.window.spine
        self.session.select(self.session.job.entries()[0].id)
        APP.processEvents()

    def titles(self) -> list[str]:
        return [row.title for row in self.spine.model.rows]

    def place(self, kind: str, title: str) -> int:
        return next(n for n, row in enumerate(self.spine.model.rows) if row.kind == kind and row.title == title)

    def click(self, number: int, x: int) -> None:
        box = self.spine.list.visualRect(self.spine.model.index(number))
        QTest.mouseClick(self.spine.list.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(x, box.center().y()))
        APP.processEvents()

    def test_a_click_on_a_sheet_shows_it_and_on_its_mark_opens_it_alone(self) -> None:
        job, shown = self.session.job, self.session.entry_id
        self.click(self.place("sheet", job.sheets[4].title), 15)
        self.assertIn(job.sheets[4].entries[0].title, self.titles())
        self.assertEqual(self.session.entry_id, shown)
        self.click(self.place("sheet", job.sheets[6].title), 90)
        self.assertEqual(self.session.entry_id, job.sheets[6].entries[0].id)
        self.click(self.place("sheet", job.sheets[4].title), 15)
        self.assertEqual(
            [row.sheet for row in self.spine.model.rows if row.kind == "figure"], [6] * len(job.sheets[6].entries)
        )

    def test_more_than_twice_as_many_sheets_are_seen_at_once(self) -> None:
        seen = {
            self.spine.list.indexAt(QPoint(90, y)).row() for y in range(2, self.spine.list.viewport().height(), 4)
        } - {-1}
        self.assertGreaterEqual(len(seen), 20)

    def test_left_and_right_fold_and_open(self) -> None:
        number = self.place("sheet", self.session.job.sheets[2].title)
        self.spine.list.setFocus()
        self.spine._filling = True
        self.spine.list.setCurrentIndex(self.spine.model.index(number))
        self.spine._filling = False
        before = len(self.titles())
        QTest.keyClick(self.spine.list, Qt.Key.Key_Right)
        self.assertGreater(len(self.titles()), before)
        QTest.keyClick(self.spine.list, Qt.Key.Key_Left)
        self.assertEqual(len(self.titles()), before)

    def test_ctrl_k_finds_a_figure_and_a_command(self) -> None:
        QTest.keyClick(self.window, Qt.Key.Key_K, CTRL)
        wanted = self.session.job.entry("road")
        QTest.keyClicks(self.spine.finder, "mill road")
        APP.processEvents()
        QTest.keyClick(self.spine.finder, Qt.Key.Key_Return)
        self.assertEqual(self.session.entry_id, wanted.id)
        self.assertEqual(self.spine.finder.text(), "")
        self.spine.seek()
        QTest.keyClicks(self.spine.finder, "hide the constr")
        QTest.keyClick(self.spine.finder, Qt.Key.Key_Return)
        self.assertTrue(self.window.clean.isChecked())
        QTest.keyClicks(self.spine.finder, "zzz")
        self.assertEqual(self.titles(), [])
        QTest.keyClick(self.spine.finder, Qt.Key.Key_Return)
        QTest.keyClick(self.spine.finder, Qt.Key.Key_Escape)
        self.assertGreater(len(self.titles()), 40)

    def test_long_names_take_two_lines_and_are_seen_whole(self) -> None:
        first = self.session.entry_id
        self.spine.rename(first, "Setting out of the tower at sill")
        delegate, index = (
            self.spine.list.itemDelegate(),
            self.spine.model.index(self.place("figure", "Setting out of the tower at sill")),
        )
        self.assertEqual(
            " ".join(delegate._lines("Setting out of the tower at sill")), "Setting out of the tower at sill"
        )
        tall = delegate.sizeHint(None, index).height()
        self.spine.rename(first, "Sill")
        self.assertLess(delegate.sizeHint(None, self.spine.model.index(self.place("figure", "Sill"))).height(), tall)
        self.assertTrue(delegate._lines("Unbreakableandverylongnameofafigurethatnolinewillhold")[0].endswith("…"))

    def test_keys_move_figures_and_sheets_and_undo_puts_them_back(self) -> None:
        before = order(self.session.job)
        self.session.select(before[3][0])
        for key, modifiers, sheet in (
            (Qt.Key.Key_PageUp, CTRL | SHIFT, 2),
            (Qt.Key.Key_PageDown, CTRL | ALT, 3),
            (Qt.Key.Key_PageUp, CTRL | ALT, 2),
            (Qt.Key.Key_PageDown, CTRL | SHIFT, 3),
        ):
            QTest.keyClick(self.window, key, modifiers)
            self.assertEqual(self.session.job.find(before[3][0])[0], sheet)
        while order(self.session.job) != before and self.session.history.undo_title:
            self.session.undo()
        self.assertEqual(order(self.session.job), before)

    def test_a_figure_is_dragged_onto_another_sheet(self) -> None:
        job = self.session.job
        model, moved = self.spine.model, self.place("figure", job.sheets[0].entries[0].title)
        target = self.place("sheet", job.sheets[2].title)
        data = model.mimeData([model.index(moved)])
        model.dropMimeData(data, Qt.DropAction.MoveAction, target + 1, 0, model.index(-1))
        self.assertEqual(len(self.session.job.sheets), len(job.sheets) - 1)
        self.assertEqual(self.session.job.sheets[1].entries[-1].id, job.sheets[0].entries[0].id)

    def test_a_sheet_is_renamed_in_its_line(self) -> None:
        number = self.place("sheet", self.session.job.sheets[1].title)
        self.spine.model.setData(self.spine.model.index(number), "  Sill and plate ")
        self.assertEqual(self.session.job.sheets[1].title, "Sill and plate")
        self.spine.model.setData(self.spine.model.index(number), "   ")
        self.assertEqual(self.session.job.sheets[1].title, "Sill and plate")

    def test_it_speaks(self) -> None:
        row = self.spine.model.index(self.place("sheet", self.session.job.sheets[1].title))
        self.assertIn("folded", row.data(Qt.ItemDataRole.AccessibleTextRole))
        first = self.session.job.sheets[0].entries[0]
        self.session.edit(self.session.job.with_entry(first.id, lambda one: replace(one, typed={"side": "x"})), "Type")
        spoken = self.spine.model.index(self.place("figure", first.title)).data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertIn("!", spoken)


class LittlePictures(unittest.TestCase):
    def test_each_figure_is_told_by_more_than_one_line(self) -> None:
        for kind in catalogue().values():
            lines = default_courses(kind.id)
            points = np.concatenate(lines)
            along, across = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
            self.assertGreater(across, 0.01 * along, kind.id)
            self.assertTrue(np.isfinite(points).all(), kind.id)


class AllSheets(DeskCase):
    def open(self) -> Overview:
        shown = Overview(self.window, self.session)
        self.addCleanup(shown.close)
        shown.show()
        return shown

    def test_papers_are_drawn_one_by_one_and_kept_while_nothing_changes(self) -> None:
        shown = self.open()
        self.assertEqual(len(shown.model.pictures), 0)
        shown._draw_one()
        shown.settle()
        self.assertEqual(len(shown.model.pictures), 1, "the window breathes after each")
        for _ in range(len(self.session.job.sheets)):
            shown._draw_one()
            shown.settle()
        self.assertTrue(all(isinstance(shown.model.picture(n), QPixmap) for n in range(len(self.session.job.sheets))))
        self.session.edit(self.session.job.with_sheet(3, title="Changed"), "Rename")
        self.assertIsNone(shown.model.picture(3))
        self.assertIsNotNone(shown.model.picture(4))

    def test_results_are_seen_on_the_little_paper(self) -> None:
        shown = self.open()
        shown._draw_one()
        shown.settle()
        image = shown.model.picture(0).toImage()
        middle = [
            image.pixelColor(x, y).lightness()
            for x in range(image.width() // 3, 2 * image.width() // 3)
            for y in range(15, image.height() - 25)
        ]
        self.assertLess(min(middle), 90)

    def test_enter_shows_a_sheet_and_one_that_cannot_be_drawn_says_why(self) -> None:
        shown = self.open()
        self.session.edit(self.session.job.with_sheet(2, scale="10:1", paper="A4"), "Scale")
        for _ in range(3):
            shown._draw_one()
            shown.settle()
        self.assertIn("runs off", shown.model.picture(2))
        shown.list.setCurrentIndex(shown.model.index(5))
        QTest.keyClick(shown.list, Qt.Key.Key_Return)
        APP.processEvents()
        self.assertEqual(self.session.entry_id, self.session.job.sheets[5].entries[0].id)
        self.assertFalse(shown.isVisible())

    def test_a_key_opens_it(self) -> None:
        opened: list[object] = []
        with mock.patch.object(Overview, "exec", lambda dialog: opened.append(dialog)):
            QTest.keyClick(self.window, Qt.Key.Key_O, CTRL | SHIFT)
        self.assertEqual(len(opened), 1)


if __name__ == "__main__":
    unittest.main()
