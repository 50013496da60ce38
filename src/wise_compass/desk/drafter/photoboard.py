"""The squared-up photograph with the exact figure over it and a ring at each point that was found; or what was drawn
over what is exact."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QWidget

from wise_compass.camera.finding import snapped
from wise_compass.camera.laid import LINED, courses_of
from wise_compass.camera.reading import Reading
from wise_compass.desk.parts.theme import COPPER, GROUND, INK, PAPER, SOFT, TEAL, colour, font, on_paper
from wise_compass.geometry.vectors import Array

RING, GRASP = 7.0, 11.0
"""Pixels of a ring, and within which it is taken hold of."""
LOUPE, LOUPE_TIMES = 130, 4.0
NUDGE = 0.1
"""mm that an arrow key moves a ring."""
NUDGES: dict[int, tuple[int, int]] = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}
"""The way in which each key nudges a point."""


class PhotoBoard(QWidget):
    """Shows a reading. ``moved`` tells that a ring was put elsewhere by hand, ``measured`` what the dividers or the
    protractor took."""

    moved = Signal()
    measured = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.reading: Reading | None = None
        self.over = False
        self.times = 1.0
        self.picked = ""
        self.taking: list[Array] = []
        self.astray: list[Array] = []
        """Pieces of the outline that are not where they should be, in mm of the paper."""
        self._image = QImage()
        self._held = ""
        self._at = QPointF()
        self._zoom, self._middle = 0.0, np.zeros(2)
        self._pan: tuple[QPointF, Array] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(420, 320)
        self.setAccessibleName(
            "The photograph, squared up; Page Down picks a ring, arrows move it, Enter "
            "snaps it to a crossing, Delete leaves it out"
        )

    def show_reading(self, reading: Reading) -> None:
        """Show another reading, whole."""
        self.reading = reading
        flat = np.ascontiguousarray(reading.flat)
        self._image = QImage(
            flat.data, flat.shape[1], flat.shape[0], flat.shape[1], QImage.Format.Format_Grayscale8
        ).copy()
        self.taking, self.picked, self._zoom = [], "", 0.0
        self.update()

    def take(self, reading: Reading) -> None:
        """The same photograph with points elsewhere."""
        self.reading = reading
        self.update()

    # places

    @property
    def _fine(self) -> float:
        return self.reading.fine if self.reading is not None else 1.0

    def _view(self) -> tuple[float, Array]:
        """Pixels of the widget to a mm, and the mm that lie in its middle."""
        high = self._image.height() / self._fine
        if self._zoom <= 0:
            fit = min(self.width() / (self._image.width() / self._fine), self.height() / high)
            return fit, np.array([self._image.width() / self._fine / 2, high / 2])
        return self._zoom, self._middle

    def to_widget(self, at: Array) -> QPointF:
        """A place of the paper, in mm from its lower left corner, in the widget."""
        zoom, middle = self._view()
        return QPointF(self.width() / 2 + (at[0] - middle[0]) * zoom, self.height() / 2 - (at[1] - middle[1]) * zoom)

    def to_paper(self, at: QPointF) -> Array:
        zoom, middle = self._view()
        return np.array(
            [middle[0] + (at.x() - self.width() / 2) / zoom, middle[1] - (at.y() - self.height() / 2) / zoom]
        )

    # what is drawn

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), colour(GROUND))
        if self.reading is None:
            painter.setPen(colour(SOFT))
            painter.setFont(font(14))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Open a photograph of a sheet.")
            painter.end()
            return
        zoom, _ = self._view()
        corner = self.to_widget(np.array([0.0, self._image.height() / self._fine]))
        target = QRectF(
            corner.x(), corner.y(), self._image.width() / self._fine * zoom, self._image.height() / self._fine * zoom
        )
        if self.over:
            painter.fillRect(target, on_paper(PAPER))
        else:
            painter.drawImage(target, self._image)
        self._paint_lines(painter)
        self._paint_rings(painter)
        if self._held and not self.over:
            self._paint_loupe(painter)
        painter.end()

    def _paint_lines(self, painter: QPainter) -> None:
        assert self.reading is not None
        laid = self.reading.laid
        exact = QPen(on_paper(TEAL), 1.0 if not self.over else 1.6)
        for mark in laid.run.marks:
            if mark.role in LINED:
                for line in courses_of(mark, 0, laid.scale):
                    placed = laid.on_paper(line)
                    painter.setPen(exact)
                    painter.drawPolyline(self._polygon(placed))
                    if self.over:
                        painter.setPen(QPen(on_paper(COPPER), 1.6, Qt.PenStyle.DashLine))
                        painter.drawPolyline(self._polygon(self._drawn(placed)))
        for places in self.astray if not self.over else ():
            painter.setPen(QPen(on_paper(COPPER, 0.45), 7.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
            painter.drawPolyline(self._polygon(places))
        painter.setPen(QPen(on_paper(COPPER), 1.6))
        for at in self.taking:
            place = self.to_widget(at)
            painter.drawLine(place - QPointF(6, 0), place + QPointF(6, 0))
            painter.drawLine(place - QPointF(0, 6), place + QPointF(0, 6))
        if len(self.taking) > 1:
            painter.drawPolyline(self._polygon(np.array(self.taking)))

    def _polygon(self, places: Array) -> QPolygonF:
        return QPolygonF([self.to_widget(place) for place in places])

    def _drawn(self, line: Array) -> Array:
        """A course of the exact drawing as it was drawn: moved as the points near it were, so many times."""
        assert self.reading is not None
        laid = self.reading.laid
        names = [name for name in self.reading.points if name in laid.run.spots]
        if not names:
            return line
        exact = np.array([laid.on_paper(laid.run.spots[name].here) for name in names])
        off = (np.array([self.reading.points[name] for name in names]) - exact) * self.times
        weight = 1.0 / (((line[:, None] - exact[None]) ** 2).sum(axis=2) + 0.5) ** 1.5
        moved: Array = line + (weight @ off) / weight.sum(axis=1, keepdims=True)
        return moved

    def _paint_rings(self, painter: QPainter) -> None:
        assert self.reading is not None
        laid = self.reading.laid
        painter.setFont(font(12, True))
        for name, at in self.reading.points.items():
            if self.over and name in laid.run.spots:
                exact = laid.on_paper(laid.run.spots[name].here)
                at = exact + (at - exact) * self.times
            place, size = self.to_widget(at), RING + 3 * (name == self.picked)
            painter.setPen(QPen(on_paper(COPPER), 2.4 if name == self.picked else 1.5))
            painter.drawEllipse(place, size, size)
            painter.setPen(on_paper(INK))
            painter.drawText(place + QPointF(size + 2, -size + 2), name)

    def _paint_loupe(self, painter: QPainter) -> None:
        at, zoom = self.to_paper(self._at), self._view()[0] * LOUPE_TIMES
        half = LOUPE / 2 / zoom
        high = self._image.height() / self._fine
        source = QRectF(
            (at[0] - half) * self._fine,
            (high - at[1] - half) * self._fine,
            2 * half * self._fine,
            2 * half * self._fine,
        )
        target = QRectF(self.width() - LOUPE - 12, 12, LOUPE, LOUPE)
        painter.drawImage(target, self._image, source)
        painter.setPen(QPen(on_paper(COPPER), 1.4))
        painter.drawRect(target)
        painter.drawLine(target.center() - QPointF(12, 0), target.center() + QPointF(12, 0))
        painter.drawLine(target.center() - QPointF(0, 12), target.center() + QPointF(0, 12))

    # hands

    def ring_at(self, place: QPointF) -> str:
        """The ring under a place; empty for none."""
        if self.reading is None or self.over:
            return ""
        near = {name: (self.to_widget(at) - place).manhattanLength() for name, at in self.reading.points.items()}
        name = min(near, key=near.__getitem__, default="")
        return name if name and near[name] < GRASP else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = event.position()
        self._held = self.ring_at(place)
        self._at = place
        if self._held:
            self.picked = self._held
        else:
            self._pan = (place, self._view()[1])
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        place = event.position()
        if self._held and self.reading is not None:
            self._at = place
            self.take(self.reading.moved(self._held, self.to_paper(place)))
        elif self._pan is not None and (place - self._pan[0]).manhattanLength() > 4:
            zoom, _ = self._view()
            off = place - self._pan[0]
            self._zoom, self._middle = zoom, self._pan[1] - np.array([off.x(), -off.y()]) / zoom
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            name, self._held = self._held, ""
            self.put(name, self.to_paper(event.position()))
        elif self._pan is not None and (event.position() - self._pan[0]).manhattanLength() <= 4:
            self._take_place(self.to_paper(event.position()))
        self._pan = None
        self.update()

    def put(self, name: str, at: Array) -> None:
        """Put a ring down: it snaps to the crossing that is near."""
        if self.reading is not None:
            reading = self.reading
            self.take(reading.moved(name, snapped(reading.ink, reading.laid, reading.finding.slip, name, at)))
            self.moved.emit()

    def _take_place(self, at: Array) -> None:
        """A click off the rings sets a point of the dividers; two are a distance, three an angle at the second."""
        self.taking = [*self.taking, at] if len(self.taking) < 3 else [at]
        if len(self.taking) == 2:
            self.measured.emit(f"{float(np.hypot(*(self.taking[1] - self.taking[0]))):.2f} mm on the paper")
        elif len(self.taking) == 3:
            one, other = self.taking[0] - self.taking[1], self.taking[2] - self.taking[1]
            cosine = float(one @ other) / max(float(np.hypot(*one) * np.hypot(*other)), 1e-9)
            self.measured.emit(f"{float(np.degrees(np.arccos(np.clip(cosine, -1, 1)))):.2f}° at the second place")

    def wheelEvent(self, event: QWheelEvent) -> None:
        before = self.to_paper(event.position())
        zoom, middle = self._view()
        self._zoom = min(max(zoom * 1.2 ** (event.angleDelta().y() / 120), 1.0), 60.0)
        self._middle = middle
        self._middle = middle + before - self.to_paper(event.position())
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        names = list(self.reading.points) if self.reading is not None else []
        by = NUDGES.get(event.key())
        if event.key() in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp) and names:
            step = 1 if event.key() == Qt.Key.Key_PageDown else -1
            self.picked = names[(names.index(self.picked) + step) % len(names)] if self.picked in names else names[0]
        elif by is not None and self.picked in names and self.reading is not None:
            self.take(self.reading.moved(self.picked, self.reading.points[self.picked] + NUDGE * np.array(by)))
            self.moved.emit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.picked in names and self.reading is not None:
            self.put(self.picked, self.reading.points[self.picked])
        elif event.key() == Qt.Key.Key_Delete and self.picked in names and self.reading is not None:
            self.take(self.reading.left_out(self.picked))
            self.picked = ""
            self.moved.emit()
        elif event.key() == Qt.Key.Key_Home:
            self._zoom = 0.0
        else:
            super().keyPressEvent(event)
            return
        self.update()
