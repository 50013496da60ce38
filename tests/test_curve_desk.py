"""The Curve panel, what touches a curve, and the parts that move between the steps, through the real window."""

from __future__ import annotations

import csv
from collections.abc import Callable
from unittest import mock

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QFileDialog, QPushButton

from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.desk.parts.theme import COPPER
from wise_compass.desk.side.curvepanel import CurvePanel
from wise_compass.drafting.capabilities import courses_of
from wise_compass.figures.catalogue import catalogue
from wise_compass.figures.curves.touching import Touching as TouchingFigure
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.study.gaps import gaps


class CurveCase(DeskCase):
    def open_panel(self) -> CurvePanel:
        panels = self.window.panels
        panels.setCurrentWidget(panels.curve)
        APP.processEvents()
        panel = panels._curve
        assert panel is not None
        return panel

    def wait_for(self, holds: Callable[[], bool]) -> None:
        """Let the desk work until something holds."""
        self.assertTrue(comes(holds), "it did not come about")

    def click(self, button: QPushButton) -> None:
        self.window.panels._curve.ensureWidgetVisible(button)  # type: ignore[union-attr]
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        APP.processEvents()


class Panel(CurveCase):
    def test_it_stands_only_where_there_is_a_curve(self) -> None:
        panels = self.window.panels
        index = panels.indexOf(panels.curve)
        self.assertTrue(panels.isTabVisible(index))
        self.session.select("tower")
        self.assertFalse(panels.isTabVisible(index))

    def test_all_tabs_are_in_sight_whatever_they_say(self) -> None:
        self.session.select("arcs")
        APP.processEvents()
        panels = self.window.panels
        bar = panels.tabBar()
        self.assertIn("≈", panels.tabText(2))
        for index in range(panels.count()):
            panels.setCurrentIndex(index)
            self.assertLessEqual(bar.tabRect(panels.count() - 1).right(), panels.width())

    def test_keys_reach_the_panel_the_plot_and_the_table(self) -> None:
        board, panels = self.window.board, self.window.panels
        QTest.keyClick(board, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
        self.assertIs(panels.currentWidget(), panels.curve)
        self.assertTrue(panels._curve.hold.hasFocus())
        QTest.keyClick(board, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.session.entry.gaps)
        QTest.keyClick(board, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.session.entry.table["on_sheet"])
        self.assertTrue(any(item.layer == "table" for item in self.session.sheet.drawing.items))
        panels.setCurrentIndex(0)
        self.session.select("tower")
        for key, modifier in (
            (Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier),
            (Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier),
        ):
            self.window.board.say("")
            QTest.keyClick(board, key, modifier)
            self.assertIn("no curve", board._said)
        self.assertIs(panels.currentWidget(), panels.steps)

    def test_the_pressure_angle_of_a_cam_follows_the_walk(self) -> None:
        cam = next(one for one in self.session.job.entries() if one.figure == "cam")
        self.session.select(cam.id)
        panel = self.open_panel()
        self.assertTrue(panel.plot.isVisible())
        self.assertIn("Pressure angle: at most", panel.plot.accessibleDescription())
        self.assertIsNone(panel.plot.now)
        motion = self.session.motion
        assert motion is not None
        self.session.walk_to(int(motion.steps[3]))
        now = panel.plot.now
        assert now is not None
        self.assertAlmostEqual(float(now[0, 0]), float(motion.stations[3]), 6)
        self.session.set_given("follower", "flat")
        panel.fill()
        self.assertFalse(panel.plot.isVisible())

    def test_taking_the_fewest_divisions_that_hold(self) -> None:
        panel = self.open_panel()
        self.assertIn("12 divisions", panel.says.text())
        panel.hold.setFocus()
        QTest.keyClicks(panel.hold, "0.05 mm")
        self.assertIn("20 would hold 0.05 mm", panel.says.text())
        self.assertIn("8 further points", panel.further.text())
        hints = self.session.hints
        self.assertEqual(len(hints), 8, "crosses on the board")
        for x, y in hints:
            self.assertAlmostEqual((x / 76) ** 2 + (y / 44) ** 2, 1, places=9)
        self.window.panels.setCurrentIndex(0)
        self.assertEqual(self.session.hints, ())
        self.open_panel()
        self.assertEqual(self.session.hints, hints)
        self.click(panel.take)
        self.assertEqual(self.session.run.figure.divisions, 20)
        self.assertIn("With 20 divisions", panel.says.text())
        self.assertIn("within 0.05 mm", panel.says.text())
        self.assertLessEqual(gaps(self.session.run)[0].largest, 0.05)

    def test_space_presses_what_has_the_focus_and_else_plays(self) -> None:
        panel, rule = self.open_panel(), self.window.rule
        panel.gaps.setFocus()
        QTest.keyClick(panel.gaps, Qt.Key.Key_Space)
        self.assertTrue(self.session.entry.gaps)
        self.assertFalse(rule.playing)
        QTest.keyClick(panel.gaps, Qt.Key.Key_Left)
        self.assertEqual(self.session.position, self.session.last_step, "the arrows still walk")
        panel.ordinates.setFocus()
        panel.ordinates.setCurrentCell(2, 0)
        QTest.keyClick(panel.ordinates, Qt.Key.Key_Right)
        self.assertEqual(panel.ordinates.currentColumn(), 1)
        self.assertEqual(self.session.position, self.session.last_step)
        lie = self.window.brief.slots["lie"]
        assert isinstance(lie, QComboBox)
        lie.setFocus()
        QTest.keyClick(lie, Qt.Key.Key_Space)
        self.assertTrue(lie.view().isVisible())
        lie.hidePopup()
        self.window.board.setFocus()
        QTest.keyClick(self.window.board, Qt.Key.Key_Space)
        self.assertTrue(rule.playing)
        rule.play()

    def test_it_follows_a_nudge_when_the_figure_stands_still(self) -> None:
        panel = self.open_panel()
        before = panel.says.text()
        self.type_into("wide", "60")
        self.wait_for(lambda: panel.says.text() != before)
        self.assertNotEqual(panel.says.text(), before)
        self.assertIn(f"{gaps(self.session.run)[0].largest:.3f}", panel.says.text())

    def test_a_gap_that_cannot_be_is_said_and_stays_typed(self) -> None:
        panel = self.open_panel()
        panel.hold.setFocus()
        QTest.keyClicks(panel.hold, "wide")
        self.assertTrue(panel.hold.property("refused"))
        self.assertEqual(panel.hold.text(), "wide")
        panel.hold.selectAll()
        QTest.keyClicks(panel.hold, "0.2")
        self.assertFalse(panel.hold.property("refused"))

    def test_the_gap_plot_comes_and_goes_and_is_undone(self) -> None:
        panel = self.open_panel()

        def plotted() -> bool:
            return any(item.layer == "gap" for item in self.session.sheet.drawing.items)

        self.assertFalse(plotted())
        panel.gaps.click()
        self.assertTrue(plotted())
        self.session.undo()
        self.assertFalse(plotted())
        self.assertFalse(panel.gaps.isChecked())
        self.session.select("arcs")
        self.assertTrue(plotted(), "four centres own up to their gap unasked")
        self.assertFalse(panel.gaps.isEnabled())

    def test_a_table_by_its_step_on_the_sheet_and_as_csv(self) -> None:
        panel = self.open_panel()
        panel.step.setFocus()
        QTest.keyClicks(panel.step, "19 mm")
        self.assertEqual(panel.ordinates.rowCount(), 9)
        self.assertEqual(panel.ordinates.item(4, 1).text(), "44.00")
        panel.step.selectAll()
        QTest.keyClicks(panel.step, "0.001")
        self.assertTrue(panel.step.property("refused"))
        self.assertIn("400 rows", panel.table_says.text())
        self.assertEqual(self.session.entry.table["step"], 0.0, "the last that could be: a step of its own choice")
        panel.step.selectAll()
        QTest.keyClicks(panel.step, "38")
        panel.on_sheet.click()
        self.assertIn("38.00", [getattr(item, "words", "") for item in self.session.sheet.drawing.items])
        path = self.folder / "rib.csv"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.click(next(b for b in panel.findChildren(QPushButton) if b.text().startswith("Save as CSV")))
        rows = list(csv.reader(path.read_text().splitlines()))
        self.assertEqual([row[0] for row in rows[1:]], ["-76.00", "-38.00", "0.00", "38.00", "76.00"])
        self.assertEqual(rows[3][1:], ["44.00", "-44.00"])

    def test_hovering_the_gap_plot_reads_the_gap(self) -> None:
        self.session.select("arcs")
        APP.processEvents()
        board, session = self.window.board, self.session
        placed, sheet = board._placed(), session.sheet
        assert placed is not None and sheet is not None
        (gap,) = placed.piece.gaps
        k = gap.worst
        tips = next(item for item in sheet.drawing.items if item.layer == "gap").points
        middle = (placed.origin + gap.true[k] * sheet.scale) * 0.05 + tips[k] * 0.95
        QTest.mouseMove(board, board.to_window(middle).toPoint())
        APP.processEvents()
        self.assertIsNotNone(board._hover)
        self.assertIn("1.089 mm outside the true curve", board._hover[1])

    def test_inches_reach_the_panel_and_the_table(self) -> None:
        session = self.session
        session.edit(session.job._replace(settings=session.job.settings._replace(units="in", decimals=3)), "Settings")
        panel = self.open_panel()
        self.assertIn(" in,", panel.says.text())
        self.assertEqual(panel.ordinates.horizontalHeaderItem(0).text(), "x in")
        panel.step.setFocus()
        QTest.keyClicks(panel.step, "1")
        self.assertAlmostEqual(session.entry.table["step"], 25.4)
        column = [panel.ordinates.item(r, 0).text() for r in range(panel.ordinates.rowCount())]
        self.assertEqual(column, ["−2.99", "−2.00", "−1.00", "0.00", "1.00", "2.00", "2.99"])

    def test_a_table_by_the_angle(self) -> None:
        self.session.select("cam")
        panel = self.open_panel()
        panel.by.setFocus()
        QTest.keyClick(panel.by, Qt.Key.Key_End)
        APP.processEvents()
        self.assertEqual(self.session.entry.table["by"], "angle")
        heads = [panel.ordinates.horizontalHeaderItem(c).text() for c in range(panel.ordinates.columnCount())]
        self.assertEqual(heads, ["angle turned °", "radius mm", "x mm", "y mm"])

    def test_curves_in_arcs_of_their_own_are_said_to_be_true(self) -> None:
        self.session.select("scrollwork")
        panel = self.open_panel()
        self.assertIn("true curve itself", panel.says.text())
        self.assertTrue(panel.take.isHidden())


class Touching(CurveCase):
    def test_a_method_without_divisions_does_not_ask_for_them(self) -> None:
        self.assertIn("divisions", self.window.brief.slots)
        self.session.set_method("four-centres")
        APP.processEvents()
        self.assertNotIn("divisions", self.window.brief.slots)
        self.session.undo()
        APP.processEvents()
        self.assertIn("divisions", self.window.brief.slots)

    def test_choosing_what_touches_brings_its_slots_and_keeps_the_focus(self) -> None:
        slots = self.window.brief.slots
        self.assertNotIn("at", slots)
        touch = slots["touch"]
        assert isinstance(touch, QComboBox)
        touch.setFocus()
        QTest.keyClick(touch, Qt.Key.Key_End)
        APP.processEvents()
        slots = self.window.brief.slots
        self.assertEqual(self.session.run.figure.touch, "circle-inside")
        self.assertTrue({"at", "circle_radius"} <= set(slots))
        self.assertTrue(slots["touch"].hasFocus())
        self.type_into("circle_radius", "300")
        self.assertIn("radius of curvature", self.window.brief.hint.text())
        self.type_into("circle_radius", "20")
        self.assertNotIn("radius of curvature", self.window.brief.hint.text())

    def test_every_curve_is_walked_with_a_circle_its_gaps_and_its_table(self) -> None:
        session, board = self.session, self.window.board
        session.edit(Job("Wrenfold Mill"), "Empty it")
        for kind in catalogue().values():
            if not courses_of(kind(), next(iter(kind.methods))):
                continue
            for method in kind.methods.values():
                figure = (
                    kind(touch="circle-inside", at=40.0, circle_radius=4.0)
                    if issubclass(kind, TouchingFigure)
                    else kind()
                )
                if method.fits(figure) is not None:
                    continue
                table = {"by": "angle", "on_sheet": True}
                entry = Entry(kind.id, kind.title, method.id, figure.stored(), gaps=True, table=table)
                session.edit(Job("Wrenfold Mill", (SheetPlan(kind.title, (entry,), "auto"),)), "Set it")
                session.select(entry.id)
                APP.processEvents()
                self.assertIsNone(session.refusal, f"{kind.id} {method.id}")
                sheet = session.sheet
                assert sheet is not None
                self.assertTrue(any(item.layer == "table" for item in sheet.drawing.items), kind.id)
                for step in range(0, session.last_step + 2, 4):
                    session.walk_to(step)
                    board.repaint()
                motion = session.motion
                if motion is not None:
                    for share in (0.21, 0.5, 0.83):
                        session.walk_along(float(motion.steps[0] + share * (motion.steps[-1] - motion.steps[0])))
                        board.repaint()


class Gliding(CurveCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("face")
        APP.processEvents()

    def test_dragging_between_divisions_moves_the_circle(self) -> None:
        rule, session = self.window.rule, self.session
        motion = session.motion
        assert motion is not None
        start, end = rule._x(float(motion.steps[2])), rule._x(float(motion.steps[4]))
        QTest.mousePress(rule, Qt.MouseButton.LeftButton, pos=QPoint(round(start), 10))
        places = set()
        for x in range(round(start), round(end) + 1):
            QTest.mouseMove(rule, QPoint(x, 10))
            self.window.rule.mouseMoveEvent(_moved(x))
            places.add(round(session.place, 6))
        QTest.mouseRelease(rule, Qt.MouseButton.LeftButton, pos=QPoint(round(end), 10))
        self.assertGreater(len([p for p in places if p != int(p)]), 5, "it stands between the steps too")
        self.assertGreater(len(places), round(end) - round(start) - 2, "a place for every pixel")

    def test_the_moving_parts_are_on_the_board(self) -> None:
        session, board = self.session, self.window.board
        motion = session.motion
        assert motion is not None
        session.walk_along(float(motion.steps[3]) + 0.5)
        self.assertAlmostEqual(session.between, 0.5)
        APP.processEvents()
        placed, sheet = board._placed(), session.sheet
        assert placed is not None and sheet is not None
        hub, tracer, _ = motion.frame(session.place).points
        middle = board.to_window(placed.origin + (hub + tracer) / 2 * sheet.scale).toPoint()
        picture = board.grab().toImage()
        ratio = picture.width() / board.width()
        near = [
            QColor(picture.pixel(round((middle.x() + i) * ratio), round((middle.y() + j) * ratio)))
            for i in range(-3, 4)
            for j in range(-3, 4)
        ]
        arm = QColor(COPPER)
        closest = min(
            abs(c.red() - arm.red()) + abs(c.green() - arm.green()) + abs(c.blue() - arm.blue()) for c in near
        )
        self.assertLess(closest, 90, "the arm of the tracing point")

    def test_playing_glides_and_walking_snaps(self) -> None:
        rule, session = self.window.rule, self.session
        motion = session.motion
        assert motion is not None
        session.walk_to(int(motion.steps[1]))
        rule.play()
        seen = []
        for _ in range(12):
            QTest.qWait(30)
            seen.append(session.place)
        rule.play()
        self.assertTrue(any(place != int(place) for place in seen))
        self.assertEqual(seen, sorted(seen))
        rule.walk(1)
        self.assertEqual(session.between, 0.0)

    def test_where_nothing_moves_the_marker_snaps(self) -> None:
        self.session.select("arch")
        self.session.walk_along(4.4)
        self.assertEqual((self.session.step, self.session.between), (4, 0.0))


def _moved(x: int) -> object:
    """A mouse event with the left button held, at a pixel of the rule."""
    from PySide6.QtCore import QEvent
    from PySide6.QtGui import QMouseEvent

    at = QPointF(x, 10)
    return QMouseEvent(
        QEvent.Type.MouseMove,
        at,
        at,
        Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
