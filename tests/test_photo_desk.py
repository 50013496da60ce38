"""A photograph as the paper of the board, through the real window: opened, a ring dragged, the verdict seen; by keys;
noted with its picture; put onto the figure that it shows."""

from __future__ import annotations

import os
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.test_camera import HEXAGON, SHOT, penned
from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.camera.stand_in import jpeg, photographed
from wise_compass.desk.parts.work import Later
from wise_compass.desk.photo.photopaper import PhotoPaper
from wise_compass.desk.photo.reader import demo_photograph
from wise_compass.job.model import Job
from wise_compass.logbook.store import Logbook
from wise_compass.study.judge import Judge
from wise_compass.study.watch import what_to_measure


class PhotoCase(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.own = Path(folder.name)
        home = mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(self.own)})
        home.start()
        self.addCleanup(home.stop)
        self.photo = self.own / "sheet.jpg"
        self.photo.write_bytes(jpeg(photographed(penned(HEXAGON.code), SHOT)))
        self.board = self.window.board

    @property
    def panel(self):
        return self.window.panels.check_panel

    @property
    def paper(self) -> PhotoPaper:
        lying = self.session.photographed
        assert isinstance(lying, PhotoPaper)
        return lying

    def read(self, path: Path) -> None:
        self.window.read_photograph(path)
        self.panel.photo.settle()
        for _ in range(8):
            APP.processEvents()

    def lay(self) -> None:
        """The hexagon's photograph, whose figure is not in the demo, set and laid."""
        self.read(self.photo)
        self.panel.photo.set_it.click()
        APP.processEvents()

    def at(self, name: str) -> QPoint:
        return self.board.glass.xy(self.paper.reading.points[name]).toPoint()


class Emptied(DeskCase):
    def test_what_to_measure_comes_too_late_for_a_job_that_was_left(self) -> None:
        held = threading.Event()
        self.addCleanup(held.set)
        looked = "wise_compass.desk.side.checkpanel.what_to_measure"
        faults: list[object] = []
        assert self.session.run is not None
        watch = what_to_measure(Judge(self.session.run, self.session.scale))
        with (
            mock.patch.object(Later, "patient", False),
            mock.patch(looked, lambda judge: held.wait(30) and watch),
            mock.patch("sys.excepthook", lambda *fault: faults.append(fault)),
        ):
            self.window._panel(5)
            panel = self.window.panels.check_panel
            self.assertIn("Looking", panel.says.text())
            self.session.start(Job(), None)
            held.set()
            for _ in range(20):
                QTest.qWait(10)
        self.assertEqual((faults, panel.fields), ([], {}))
        self.assertIn("once a problem is set", panel.says.text())


class Photo(PhotoCase):
    def test_a_figure_that_is_not_in_the_job_is_offered_and_set_as_it_was_laid_out(self) -> None:
        before = len(self.session.job.sheets)
        self.read(self.photo)
        self.assertIsNone(self.session.photographed)
        self.assertTrue(self.panel.photo.set_it.isVisible())
        self.assertIn("not in this job", self.panel.photo.offered.text())
        self.panel.photo.set_it.click()
        APP.processEvents()
        self.assertEqual(len(self.session.job.sheets), before + 1)
        assert self.session.entry is not None
        self.assertEqual((self.session.entry.figure, self.session.entry.givens["side"]), ("polygon-on-side", 47.0))
        self.assertIs(self.session.lying, self.paper)
        self.read(self.photo)  # now it is there, and no second one is set
        self.assertEqual(len(self.session.job.sheets), before + 1)
        self.session.select("arch")
        self.assertIsNone(self.session.lying, "it lies on its own figure alone")

    def test_drag_one_ring_and_its_row_and_the_verdict_follow(self) -> None:
        self.lay()
        self.assertEqual(self.panel.title.text(), "An honest drawing")
        name = next(one for one in self.panel.fields if "D" in one.split("-"))
        row = self.panel.fields[name].text()
        start = self.at("D")
        end = start + QPoint(40, 14)
        QTest.mousePress(self.board, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.board, end)
        QTest.mouseRelease(self.board, Qt.MouseButton.LeftButton, pos=end)
        away = self.paper.reading.points["D"] - self.board.glass.sheet(QPointF(start))
        self.assertGreater(float(np.hypot(*away)), 5.0)
        self.assertNotEqual(self.panel.title.text(), "An honest drawing")
        self.assertNotEqual(self.panel.fields[name].text(), row)
        # put down near its crossing it snaps to it, and all is well again
        QTest.mousePress(self.board, Qt.MouseButton.LeftButton, pos=end)
        QTest.mouseRelease(self.board, Qt.MouseButton.LeftButton, pos=start + QPoint(1, 1))
        self.assertLess(float(np.hypot(*(self.paper.reading.points["D"] - penned(HEXAGON.code).points["D"]))), 0.2)
        self.assertEqual(self.panel.title.text(), "An honest drawing")

    def test_what_is_measured_by_the_rule_goes_before_the_photograph(self) -> None:
        self.lay()
        name, field = next(iter(self.panel.fields.items()))
        was = field.text()
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, "12")
        self.panel.judge_now()
        self.assertEqual(self.paper.also[name].value, 12.0)
        self.assertNotEqual(self.panel.title.text(), "An honest drawing")
        self.assertEqual(self.panel.fields[name].text(), "12", "what was typed stays")
        field = self.panel.fields[name]
        field.selectAll()
        QTest.keyClick(field, Qt.Key.Key_Delete)
        self.panel.judge_now()
        self.assertEqual(self.panel.title.text(), "An honest drawing")
        self.board.setFocus()
        self.panel._follow(self.paper)
        self.assertEqual(self.panel.fields[name].text(), was)

    def test_rings_go_by_keys_and_dividers_measure(self) -> None:
        self.lay()
        self.board.setFocus()
        QTest.keyClick(self.board, Qt.Key.Key_PageDown)
        name = self.paper.picked
        before = self.paper.reading.points[name]
        QTest.keyClick(self.board, Qt.Key.Key_Right)
        np.testing.assert_allclose(self.paper.reading.points[name] - before, [0.1, 0.0])
        self.assertTrue(self.session.finished, "the arrow moved the ring, and did not walk")
        QTest.keyClick(self.board, Qt.Key.Key_Delete)
        self.assertNotIn(name, self.paper.reading.points)
        for at in ((40.0, 40.0), (40.0, 90.0)):
            QTest.mouseClick(self.board, Qt.MouseButton.LeftButton, pos=self.board.glass.xy(np.array(at)).toPoint())
        head = self.window.stage.head
        assert head is not None
        self.assertIn("mm on the paper", head.took.text())
        between = self.board.glass.xy(np.array((40.0, 65.0))).toPoint()
        ink = self.board.grab().toImage().pixelColor(between * self.board.devicePixelRatioF())
        self.assertGreater(ink.red() - ink.blue(), 40, "a copper line from the one place to the other")
        self.assertAlmostEqual(float(head.took.text().split()[1]), 50.0, delta=0.8)
        place = self.board.glass.xy(np.array((90.0, 90.0))).toPoint()
        QTest.mouseClick(self.board, Qt.MouseButton.LeftButton, pos=place)
        self.assertAlmostEqual(float(head.took.text().split()[1].rstrip("°")), 90.0, delta=1.5)

    def test_the_switches_show_the_sheet_and_what_was_drawn_within_the_paper(self) -> None:
        self.lay()
        head, paper = self.window.stage.head, self.paper
        assert head is not None
        self.assertFalse(head.tenfold.isEnabled())
        head.ways["over"].click()
        head.tenfold.click()
        self.assertEqual((paper.over, paper.times), (True, 10.0))
        head.ways["sheet"].click()
        self.assertIsNone(self.session.lying)
        head.ways["photograph"].click()
        self.assertEqual((self.session.lying, paper.over), (paper, False))
        # a point far off is shown no further than the paper reaches
        for name in ("A", "B"):
            paper.reading = paper.reading.moved(name, np.array([30.0, 30.0]))
        paper.show_over(True, 10.0)
        exact, off = paper._misses()
        shown = exact + off * paper._times
        self.assertTrue(bool((shown > 0).all() and (shown < [paper.width, paper.height]).all()))
        self.assertGreaterEqual(paper._times, 1.0)
        head.away.click()
        self.assertIsNone(self.session.photographed)
        self.assertFalse(head.isVisible())
        self.assertEqual(self.panel.title.text(), "Is the drawing right?")

    def test_the_demos_photographs_show_a_step_a_slip_and_a_steady_hand_on_their_own_sheets(self) -> None:
        told = {"tower": "The print’s scale, or step 3", "gable": "A known slip", "arch": "An honest drawing"}
        self.window._panel(5)
        part = self.panel.photo_part()
        for name, says in told.items():
            part.tries.setCurrentIndex(part.tries.findData(name))
            part.tries.activated.emit(part.tries.currentIndex())
            part.settle()
            self.assertTrue(comes(lambda says=says: self.panel.title.text() == says), self.panel.title.text())
            self.assertEqual(self.session.entry_id, name)

    def test_it_is_noted_with_its_picture_and_what_cannot_be_read_is_said(self) -> None:
        self.lay()
        self.panel.note.click()
        (kept,) = Logbook().entries()
        self.assertEqual(
            (kept.kind, kept.figure, kept.measures[0].instrument), ("check", "polygon-on-side", "photograph")
        )
        self.assertTrue((Logbook().folder / "pictures" / str(kept.picture)).exists())
        self.session.lay(None)
        self.read(Logbook().file)
        self.assertIn("neither a JPEG", self.panel.says.text())
        part = self.panel.photo_part()
        part.frame.setText("big")
        part.read(self.photo)
        part.settle()
        self.assertTrue(comes(lambda: "267x190" in self.panel.says.text()))
        part.frame.clear()
        part.read(self.photo)
        part.stop_it.click()
        part.settle()
        APP.processEvents()
        self.assertFalse(part.open_it.isHidden())

    def test_a_figure_that_is_changed_lays_its_photograph_aside(self) -> None:
        self.lay()
        self.session.set_given("side", "48")
        self.assertIsNone(self.session.lying)
        self.assertIsNotNone(self.session.photographed)
        head = self.window.stage.head
        assert head is not None
        self.assertTrue(head.ways["sheet"].isChecked())

    def test_a_photograph_is_dropped_anywhere(self) -> None:
        self.window.go(3)
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(demo_photograph("arch")))])
        enter = QDragEnterEvent(
            QPoint(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        QApplication.sendEvent(self.window, enter)
        self.assertTrue(enter.isAccepted())
        drop = QDropEvent(
            QPointF(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        QApplication.sendEvent(self.window, drop)
        self.panel.photo.settle()
        self.assertTrue(comes(lambda: self.session.photographed is not None))
        self.assertIs(self.window.place, self.window.set_out)
        other = QMimeData()
        other.setUrls([QUrl.fromLocalFile("/etc/hostname")])
        refused = QDragEnterEvent(
            QPoint(300, 300), Qt.DropAction.CopyAction, other, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        refused.ignore()
        QApplication.sendEvent(self.window, refused)
        self.assertFalse(refused.isAccepted())


if __name__ == "__main__":
    unittest.main()
