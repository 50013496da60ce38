"""A photograph through the real window: opened, a ring dragged, the verdict seen; by keys; noted with its picture."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from tests.test_camera import HEXAGON, SHOT, penned
from tests.test_desk import APP, DeskCase
from wise_compass.camera.stand_in import jpeg, photographed
from wise_compass.desk.drafter.photoview import PhotoView
from wise_compass.logbook.store import Logbook


class Photo(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.photo = self.folder / "sheet.jpg"
        self.photo.write_bytes(jpeg(photographed(penned(HEXAGON.code), SHOT)))
        self.view = PhotoView(self.window, self.session, Logbook(self.folder / "data"))
        self.addCleanup(self.view.close)
        self.view.show()
        APP.processEvents()

    def read(self, path: Path) -> None:
        self.view.read(path)
        self.view.settle()
        for _ in range(5):
            APP.processEvents()

    def test_open_drag_one_ring_and_see_the_verdict(self) -> None:
        self.read(self.photo)
        self.assertEqual(self.view.title.text(), "An honest drawing")
        board = self.view.board
        assert board.reading is not None
        start = board.to_widget(board.reading.points["D"]).toPoint()
        end = start + QPoint(40, 14)
        QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(board, end)
        QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=end)
        self.assertGreater(float(np.hypot(*(board.reading.points["D"] - board.to_paper(QPointF(start))))), 5.0)
        self.assertNotEqual(self.view.title.text(), "An honest drawing")
        # put down near its crossing it snaps to it, and all is well again
        back = start + QPoint(1, 1)
        QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=end)
        QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=back)
        self.assertLess(float(np.hypot(*(board.reading.points["D"] - penned(HEXAGON.code).points["D"]))), 0.2)
        self.assertEqual(self.view.title.text(), "An honest drawing")

    def test_rings_go_by_keys_and_dividers_measure(self) -> None:
        self.read(self.photo)
        board = self.view.board
        assert board.reading is not None
        QTest.keyClick(board, Qt.Key.Key_PageDown)
        name, before = board.picked, board.reading.points[board.picked]
        QTest.keyClick(board, Qt.Key.Key_Right)
        np.testing.assert_allclose(board.reading.points[name] - before, [0.1, 0.0])
        QTest.keyClick(board, Qt.Key.Key_Delete)
        self.assertNotIn(name, board.reading.points)
        for at in ((40.0, 40.0), (40.0, 90.0)):
            QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=board.to_widget(np.array(at)).toPoint())
        self.assertIn("mm on the paper", self.view.measure.text())
        self.assertAlmostEqual(float(self.view.measure.text().split()[1]), 50.0, delta=0.8)
        self.view.over.setChecked(True)
        self.view.tenfold.setChecked(True)
        self.assertEqual((board.over, board.times), (True, 10.0))
        self.assertFalse(board.grab().isNull())

    def test_the_demos_photographs_show_a_step_a_slip_and_a_steady_hand(self) -> None:
        told = {"tower": "The print’s scale, or step 3", "gable": "A known slip", "arch": "An honest drawing"}
        for name, says in told.items():
            self.view.tries.setCurrentIndex(self.view.tries.findData(name))
            self.view.tries.activated.emit(self.view.tries.currentIndex())
            self.view.settle()
            for _ in range(5):
                APP.processEvents()
            self.assertEqual(self.view.title.text(), says)

    def test_it_is_noted_with_its_picture_and_what_cannot_be_read_is_said(self) -> None:
        self.read(self.photo)
        self.view.note.click()
        (kept,) = Logbook(self.folder / "data").entries()
        self.assertEqual(
            (kept.kind, kept.figure, kept.measures[0].instrument), ("check", "polygon-on-side", "photograph")
        )
        self.assertTrue((self.folder / "data" / "pictures" / str(kept.picture)).exists())
        self.read(self.folder / "data" / "logbook.sqlite")
        self.assertEqual(self.view.title.text(), "Not read")
        self.view.frame.setText("big")
        self.view.read(self.photo)
        self.assertIn("267x190", self.view.says.text())
        self.view.frame.clear()
        self.view.read(self.photo)
        self.view.stop_it.click()
        self.view.settle()
        APP.processEvents()
        self.assertTrue(self.view.open_it.isVisible())


if __name__ == "__main__":
    unittest.main()
