"""Pictures through the real window: the table of blocks, tones under the lines, the solid in space, every figure by
every method."""

from __future__ import annotations

import unittest
from unittest import mock

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QTableWidgetItem

from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.desk.sentence.rows import RowsEditor
from wise_compass.drafting.capabilities import Solid
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import job_text, parse_job

PICTURES = [kind for kind in catalogue().values() if kind.family in ("pictorial", "structural")]


class Table(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("stool")
        self.idle()
        self.editor = RowsEditor(self.window, self.session)
        self.editor.show()
        self.addCleanup(self.editor.close)

    def set_cell(self, row: int, column: int, words: str) -> None:
        self.editor.table.setItem(row, column, QTableWidgetItem(words))
        APP.processEvents()

    def test_shapes_stand_beside_their_numbers(self) -> None:
        self.assertEqual(self.editor.table.columnCount(), 7)
        self.assertEqual([row[0] for row in self.editor.rows()], ["box"] * 6)
        self.set_cell(5, 0, "wedge")
        self.assertEqual(self.session.entry.givens["rows"][5][0], "wedge")
        self.assertEqual(self.session.run.figure.built.blocks[5].shape, "wedge")

    def test_a_row_more_keeps_the_shape_and_what_overlaps_is_said_and_stays(self) -> None:
        before = len(self.session.run.figure.built.blocks)
        self.editor.table.setCurrentCell(5, 0)
        self.editor.add()
        self.assertEqual(self.editor.rows()[6][0], "box")
        self.assertIn("Row 7 of rows", self.editor.says.text())
        self.assertIn("must be at least 0.1 mm", self.editor.says.text())
        self.set_cell(6, 0, "blob")
        self.assertIn("its shape is box", self.editor.says.text())
        self.assertEqual(len(self.session.run.figure.built.blocks), before, "the last good solid stays")
        self.assertEqual(self.editor.rows()[6][0], "blob", "and what was typed")


class Tones(DeskCase):
    def test_they_lie_under_the_lines_and_come_and_go(self) -> None:
        self.session.select("sack")
        self.idle()

        def tones() -> list[int]:
            return [k for k, item in enumerate(self.session.sheet.drawing.items) if item.layer == "tone"]

        def first_line() -> int:
            return next(k for k, item in enumerate(self.session.sheet.drawing.items) if item.layer == "result")

        self.assertEqual(len(tones()), 3, "three faces of a block")
        self.assertEqual(len({self.session.sheet.drawing.items[k].ink for k in tones()}), 3, "in three tones")
        self.assertLess(max(tones()), first_line())
        self.window.stage.hatch()
        self.assertEqual(tones(), [])
        self.session.undo()
        self.assertEqual(len(tones()), 3)
        self.session.select("road")
        self.idle()
        items = self.session.sheet.drawing.items
        corners = [len(items[k].points) for k in tones()]
        walls = (
            "two walls of house and tower each, and the tower's floor, which the "
            "house covers; no flat roof from the road"
        )
        self.assertEqual(corners.count(4), 5, walls)
        self.assertGreater(corners.count(3), 4, "and the round cap in bands")

    def test_figures_on_one_sheet_keep_their_own_items(self) -> None:
        hub = Entry("pictorial-round", "Hub", id="a", hatched=True)
        block = Entry("pictorial-block", "Block", id="b", hatched=True)
        sheet = build_sheet(Job("J", (SheetPlan("S", (hub, block), "A3"),)), 0)
        for (start, end), placed in zip(sheet.spans, sheet.placed):
            mine = sheet.drawing.items[start:end]
            tones = [item for item in mine if item.layer == "tone"]
            self.assertTrue(tones)
            low, high = placed.low - 0.1, placed.high + 0.1
            for item in tones:
                at = item.polyline()
                self.assertTrue((at >= low).all() and (at <= high).all())


class Glide(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("stool")
        self.idle()
        self.window.stage.turn_over()
        self.space = self.window.stage.space
        APP.processEvents()

    def stands_as_pictured(self) -> bool:
        """Whether every corner of the solid is where the sheet's picture has it, but for where the whole stands and how
        large."""
        run = self.session.run
        picture = run.figure.pictured(run.found)
        corners = np.concatenate([face.corners for face in run.figure.skin()])
        there, here = picture.at(corners), corners @ self.space.basis()[:2].T
        return bool(np.abs((there - there[0]) - (here - here[0])).max() < 1e-9)

    def test_it_opens_as_pictured_and_glides_to_the_next_projection(self) -> None:
        self.assertTrue(self.space.isVisible())
        self.assertTrue(self.stands_as_pictured())
        isometric = self.space.basis()
        ticks = iter(range(70, 10**6, 70))  # a clock of its own: a busy machine may leave frames out
        self.space.pose._since = mock.Mock(elapsed=lambda: next(ticks))
        self.session.set_given("drawn", "cabinet")
        seen = [self.space.basis()]
        self.assertFalse(self.stands_as_pictured())

        def stands() -> bool:
            seen.append(self.space.basis())
            return self.stands_as_pictured()

        self.assertTrue(comes(stands, 5))
        cabinet = self.space.basis()
        along = [float(np.vdot(one - isometric, cabinet - isometric)) for one in seen]
        self.assertEqual(along, sorted(along))
        self.assertGreater(len({round(one, 6) for one in along}), 3, "by steps, not at a jump")

    def test_turning_takes_it_from_where_it_stands_and_home_puts_it_back(self) -> None:
        before = self.space.basis()
        self.space.turn(5.0, 0.0)
        right = self.space.basis()[0]
        self.assertAlmostEqual(
            float(before[0] @ right) / float(np.linalg.norm(before[0])), float(np.cos(np.radians(5.0)))
        )
        self.assertFalse(self.stands_as_pictured())
        self.space.front()
        self.assertTrue(self.stands_as_pictured())
        self.session.select("brake")
        self.idle()
        self.assertTrue(self.stands_as_pictured())


class Everywhere(DeskCase):
    def test_every_picture_opens_with_its_solid_in_space(self) -> None:
        for kind in PICTURES:
            entry = Entry(kind.id, kind.title, next(iter(kind.methods)), kind().stored(), id=kind.id)
            self.session.edit(self.session.job.added(entry), "Add")
            self.session.select(kind.id)
            self.idle()
            self.assertIsNotNone(self.session.sheet, kind.id)
            self.window._panel(5)
            APP.processEvents()
            self.window.board.setFocus()
            QTest.keyClick(self.window.board, Qt.Key.Key_V)
            APP.processEvents()
            if issubclass(kind, Solid):
                self.window.stage.space.repaint()
                self.assertTrue(self.window.stage.space._shown, kind.id)
            if self.window.stage.in_space:
                self.window.stage.turn_over()

    def test_jobs_keep_tables_of_blocks(self) -> None:
        kind = catalogue()["built-up"]
        job = Job("J", (SheetPlan("S", (Entry(kind.id, "Stool", "stack", kind().stored()),)),))
        self.assertEqual(parse_job(job_text(job)), job)


if __name__ == "__main__":
    unittest.main()
