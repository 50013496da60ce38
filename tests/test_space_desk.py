"""The space view through the real window: keys, slider, pointer, the walk, and what is said."""

from __future__ import annotations

import unittest

import numpy as np
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.desk.paper import reading
from wise_compass.desk.parts.theme import COPPER
from wise_compass.desk.round.spaceview import FOOT, TOP
from wise_compass.drafting.wording import Style
from wise_compass.scene.picture import Viewer


class SpaceDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("stay")
        self.idle()
        self.window.board.setFocus()

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(QApplication.focusWidget() or self.window, key, modifier)
        APP.processEvents()

    def folds_flat(self) -> bool:
        return comes(lambda: self.window.stage.space.folded == 1.0)

    def test_v_shows_it_and_takes_it_away(self) -> None:
        self.assertFalse(self.window.stage.in_space)
        self.assertEqual(self.window.stage.switch.text(), "Space view")
        self.key(Qt.Key.Key_V)
        self.assertTrue(self.window.stage.in_space)
        self.assertTrue(self.window.stage.space.isVisible())
        self.assertEqual(self.window.stage.switch.text(), "Back to the sheet")
        self.key(Qt.Key.Key_V)
        self.assertFalse(self.window.stage.in_space)
        QTest.mouseClick(self.window.stage.switch, Qt.MouseButton.LeftButton)
        self.assertTrue(self.window.stage.in_space)

    def test_a_figure_in_one_plane_has_none(self) -> None:
        self.key(Qt.Key.Key_V)
        self.session.select("arch")
        APP.processEvents()
        self.assertFalse(self.window.stage.in_space)
        self.assertFalse(self.window.stage.switch.isVisible())
        self.window.board.setFocus()
        self.key(Qt.Key.Key_V)
        self.assertFalse(self.window.stage.in_space)
        self.assertIn("one plane", self.window.board._said)

    def test_f_and_the_slider_fold(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        self.key(Qt.Key.Key_F)
        self.assertTrue(self.folds_flat())
        self.assertEqual((space.slider.value(), space.fold.text()), (1000, "Stand up"))
        space.slider.setFocus()
        self.key(Qt.Key.Key_Home)
        self.assertEqual((space.folded, space.fold.text()), (0.0, "Fold flat"))
        space.slider.setValue(400)
        self.assertAlmostEqual(space.folded, 0.4)
        QTest.mouseClick(space.fold, Qt.MouseButton.LeftButton)
        self.assertTrue(self.folds_flat())

    def test_dragging_turns_the_eye_and_a_double_click_puts_it_back(self) -> None:
        self.key(Qt.Key.Key_V)
        space, before = self.window.stage.space, self.window.stage.space.eye
        middle = space.rect().center()
        QTest.mousePress(space, Qt.MouseButton.LeftButton, pos=middle)
        QTest.mouseMove(space, middle + QPoint(50, 25))
        APP.processEvents()
        QTest.mouseRelease(space, Qt.MouseButton.LeftButton, pos=middle + QPoint(50, 25))
        self.assertAlmostEqual(space.eye.turn, before.turn - 20.0)
        self.assertAlmostEqual(space.eye.rise, before.rise + 10.0)
        QTest.mouseDClick(space, Qt.MouseButton.LeftButton, pos=middle)
        self.assertEqual(space.eye, Viewer())
        space.setFocus()
        self.key(Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.key(Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(space.eye, Viewer(Viewer().turn + 5, Viewer().rise + 5))
        for _ in range(40):
            self.key(Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(space.eye.rise, 89.0)
        self.key(Qt.Key.Key_Home)
        self.assertEqual(space.eye, Viewer())

    def test_the_wheel_and_the_keys_zoom(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        at = QPointF(space.rect().center())
        wheel = QWheelEvent(
            at,
            at,
            QPoint(),
            QPoint(0, 240),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        before = space._glass.zoom
        QApplication.sendEvent(space, wheel)
        APP.processEvents()
        space.repaint()
        self.assertAlmostEqual(space._glass.zoom / before, 1.0015**240, places=6)
        self.window.stage.zoom_by(0.5)
        self.assertAlmostEqual(space.nearer, 0.5 * 1.0015**240, places=6)

    def test_what_is_shown_stands_in_the_middle_of_the_view(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        for turn in (Viewer().turn, Viewer().turn + 70, Viewer().turn - 110):
            space.eye = Viewer(turn, Viewer().rise)
            space.update()
            APP.processEvents()
            image = space.grab().toImage().convertToFormat(QImage.Format.Format_Grayscale8)
            rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1)[:, : image.width()]
            paper = int(np.bincount(rows.ravel()).argmax())
            shown = np.abs(rows[TOP : image.height() - FOOT - 8].astype(int) - paper) > 8
            across = np.flatnonzero(shown.any(axis=0))
            self.assertAlmostEqual((across[0] + across[-1]) / 2, image.width() / 2, delta=8)
            self.assertGreater(np.ptp(across) / image.width(), 0.7)

    def test_the_walk_is_the_boards(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        self.session.walk_to(6)
        space.repaint()
        self.assertLessEqual(max(item.step for item in space._shown), 6)
        self.session.walk_to(self.session.last_step)
        space.repaint()
        self.assertGreater(max(item.step for item in space._shown), 15)
        self.session.walk_to(9)
        image = space.grab().toImage()
        copper = sum(
            image.pixelColor(x, y).name().upper() == COPPER
            for x in range(0, image.width(), 2)
            for y in range(image.height())
        )
        self.assertGreater(copper, 5, "the current step is not lit")

    def test_hovering_reads(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        space.repaint()
        made = self.session.run
        for _ in range(50):  # until the view has come to rest, wherever the pointer was before
            letter = next(item for item in space._shown if item.layer == "body" and item.owner == "B")
            at, none = space._glass.xy(np.array(letter.at) + 0.4 * letter.size), Qt.MouseButton.NoButton
            moved = QEvent.Type.MouseMove
            APP.sendEvent(
                space, QMouseEvent(moved, at, space.mapToGlobal(at), none, none, Qt.KeyboardModifier.NoModifier)
            )
            if space._hover is not None:
                break
            QTest.qWait(20)
        self.assertIsNotNone(space._hover)
        words = space._hover[1]
        self.assertIn(Style().length(float(made.found["B"][2]), False), words)
        edge = next(item for item in space._shown if item.owner == "A B" and item.ink == "body")
        self.assertIn(Style().length(86.0), reading.space_words(made, edge.owner, Style()))
        self.assertIn("plane", space._words(next(item for item in space._shown if item.owner == "plane:front")))

    def test_a_name_of_the_other_school_is_told(self) -> None:
        made = self.session.run
        name = next(name for name in made.spots if name.endswith(".front") and len(name) == 7)
        words = reading.spot_words(made, name, Style())
        self.assertIn("′", words.splitlines()[0])
        self.assertIn("₂ in the other school", words)
        numbers = reading.spot_words(made, name, Style(lettering="numbers"))
        self.assertIn("′ in the other school", numbers)
        outline = next(k for k, mark in enumerate(made.marks) if mark.role.value == "outline")
        self.assertIn("in the other school", reading.mark_words(made, f"#{outline}", Style(), 1.0))
        self.session.select("arch")
        arch = self.session.run
        self.assertNotIn("school", reading.spot_words(arch, next(iter(arch.spots)), Style()))

    def test_the_construction_is_hidden_in_both(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        self.key(Qt.Key.Key_H)
        self.assertTrue(space.clean and self.window.board.clean)
        space.repaint()
        self.assertEqual({item.ink for item in space._shown} & {"construction", "projector"}, set())

    def test_it_goes_onto_the_sheet_in_one_undo(self) -> None:
        def there() -> bool:
            return any(item.layer == "space" for item in self.session.sheet.drawing.items)

        self.assertFalse(there())
        self.key(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.assertTrue(self.session.entry.space)
        self.assertTrue(there() or self.session.sheet.warnings)
        self.session.undo()
        self.assertFalse(self.session.entry.space or there())

    def test_an_edit_redraws_it(self) -> None:
        self.key(Qt.Key.Key_V)
        space = self.window.stage.space
        space.repaint()
        before = space.scene
        self.session.set_given("length", "90")
        APP.processEvents()
        self.assertIsNot(space.scene, before)


if __name__ == "__main__":
    unittest.main()
