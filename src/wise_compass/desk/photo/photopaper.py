"""A photograph as the paper of the board: squared up, the exact figure over it and a ring at each point that was
found; or what was drawn over what is exact."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QObject, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QPainter, QPen, QPolygonF

from wise_compass.camera.finding import snapped
from wise_compass.camera.judging import judged
from wise_compass.camera.laid import LINED, courses_of
from wise_compass.camera.reading import Reading
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, INK, PAPER, SOFT, TEAL, font, on_paper
from wise_compass.desk.parts.work import Later
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Taken
from wise_compass.study.verdicts import Checked

RING, GRASP = 7.0, 11.0
"""Pixels of a ring, and within which it is taken hold of."""
LOUPE, LOUPE_TIMES = 130, 4.0
NUDGE = 0.1
"""mm that an arrow key moves a ring."""
EDGE = 14.0
"""mm from the paper's edge that what is drawn tenfold keeps."""
NUDGES: dict[int, tuple[int, int]] = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}
"""The way in which each key nudges a point."""


class PhotoPaper(QObject):
    """A reading with who judges it. ``changed`` asks for a paint, ``judgement`` tells that it is judged anew,
    a ring having been put elsewhere by hand, ``measured`` what the dividers or the protractor took."""

    changed = Signal()
    judgement = Signal()
    measured = Signal(str)

    def __init__(self, reading: Reading, judge: Judge, style: Style) -> None:
        super().__init__()
        self.reading, self.judge, self.style = reading, judge, style
        self.also: dict[str, Taken] = {}
        """What was measured on the paper by hand besides, by name."""
        self.checked: Checked | None = None
        self.refusal: Refused | None = None
        self.over = False
        self.times = 1.0
        self.picked = ""
        self.taking: list[Array] = []
        flat = np.ascontiguousarray(reading.flat)
        grey = QImage.Format.Format_Grayscale8
        self._image = QImage(flat.data, flat.shape[1], flat.shape[0], flat.shape[1], grey).copy()
        self.width = flat.shape[1] / reading.fine
        self.height = flat.shape[0] / reading.fine
        self._judging = Later(self)
        self._held = ""
        self._at = QPointF()
        self._glass = Glass(1.0, 0.0, 0.0, self.height)

    @property
    def astray(self) -> list[Array]:
        """Pieces of the outline that are not where they should be, in mm of the paper."""
        return [one.at for one in self.checked.outline] if self.checked is not None else []

    def judge_now(self) -> None:
        """Judge what the rings, and the rule beside them, tell, beside the window's own work; ``judgement`` says
        when."""
        reading, also = self.reading, dict(self.also)
        self._judging.ask(lambda: judged(reading, self.judge, also), self._take_checked, self._take_refusal, held=0.0)

    def _take_checked(self, checked: Checked) -> None:
        self.checked, self.refusal = checked, None
        self.changed.emit()
        self.judgement.emit()

    def _take_refusal(self, refusal: Refused) -> None:
        self.checked, self.refusal = None, refusal
        self.changed.emit()
        self.judgement.emit()

    def settle(self) -> None:
        """Until it is judged."""
        self._judging.settle()

    def show_over(self, over: bool, times: float) -> None:
        """Show what was drawn over what is exact, its misses so many times as large; or the photograph."""
        self.over, self.times = over, times
        self.changed.emit()

    # what is drawn

    def paint(self, painter: QPainter, glass: Glass, size: QSize) -> None:
        self._glass = glass
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        corner = glass.xy(np.array([0.0, self.height]))
        target = QRectF(corner.x(), corner.y(), self.width * glass.zoom, self.height * glass.zoom)
        if self.over:
            painter.fillRect(target, on_paper(PAPER))
        else:
            painter.drawImage(target, self._image)
        painter.save()
        painter.setClipRect(target)
        self._paint_lines(painter)
        self._paint_rings(painter)
        painter.restore()
        if self.over:
            painter.setPen(on_paper(SOFT))
            painter.setFont(font(12))
            times = f", misses × {self._times:.1f}".replace(".0", "") if self.times > 1 else ""
            painter.drawText(target.adjusted(14, 8, -8, -8), f"exact: teal;  drawn: dashed{times}")
        if self._held and not self.over:
            self._paint_loupe(painter, size)

    def _paint_lines(self, painter: QPainter) -> None:
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
            place = self._glass.xy(at)
            painter.drawLine(place - QPointF(6, 0), place + QPointF(6, 0))
            painter.drawLine(place - QPointF(0, 6), place + QPointF(0, 6))
        if len(self.taking) > 1:
            painter.drawPolyline(self._polygon(np.array(self.taking)))

    def _polygon(self, places: Array) -> QPolygonF:
        return QPolygonF([self._glass.xy(place) for place in places])

    def _misses(self) -> tuple[Array, Array]:
        """Where the points that were found should be, and how far off each is, (n, 2) in mm of the paper."""
        laid = self.reading.laid
        names = [name for name in self.reading.points if name in laid.run.spots]
        exact = np.array([laid.on_paper(laid.run.spots[name].here) for name in names]).reshape(-1, 2)
        return exact, np.array([self.reading.points[name] for name in names]).reshape(-1, 2) - exact

    @property
    def _times(self) -> float:
        """How many times the misses are shown: as asked, but no more than the paper has room for."""
        exact, off = self._misses()
        if not len(exact) or self.times <= 1:
            return self.times
        with np.errstate(divide="ignore", invalid="ignore"):
            room = np.where(off > 0, np.array([self.width, self.height]) - exact, exact) - EDGE
            most = np.where(np.abs(off) > 1e-6, room / np.abs(off), np.inf)
        return float(max(1.0, min(self.times, most.min())))

    def _drawn(self, line: Array) -> Array:
        """A course of the exact drawing as it was drawn: moved as the points near it were, so many times."""
        exact, off = self._misses()
        if not len(exact):
            return line
        weight = 1.0 / (((line[:, None] - exact[None]) ** 2).sum(axis=2) + 0.5) ** 1.5
        moved: Array = line + (weight @ (off * self._times)) / weight.sum(axis=1, keepdims=True)
        return moved

    def _paint_rings(self, painter: QPainter) -> None:
        laid = self.reading.laid
        painter.setFont(font(12, True))
        times = self._times
        for name, at in self.reading.points.items():
            if self.over and name in laid.run.spots:
                exact = laid.on_paper(laid.run.spots[name].here)
                at = exact + (at - exact) * times
            place, size = self._glass.xy(at), RING + 3 * (name == self.picked)
            painter.setPen(QPen(on_paper(COPPER), 2.4 if name == self.picked else 1.5))
            painter.drawEllipse(place, size, size)
            painter.setPen(on_paper(INK))
            painter.drawText(place + QPointF(size + 2, -size + 2), self.style.lettered(name))

    def _paint_loupe(self, painter: QPainter, size: QSize) -> None:
        at, zoom = self._glass.sheet(self._at), self._glass.zoom * LOUPE_TIMES
        half, fine = LOUPE / 2 / zoom, self.reading.fine
        source = QRectF((at[0] - half) * fine, (self.height - at[1] - half) * fine, 2 * half * fine, 2 * half * fine)
        target = QRectF(size.width() - LOUPE - 12, 12, LOUPE, LOUPE)
        painter.drawImage(target, self._image, source)
        painter.setPen(QPen(on_paper(COPPER), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(target)
        painter.drawLine(target.center() - QPointF(12, 0), target.center() + QPointF(12, 0))
        painter.drawLine(target.center() - QPointF(0, 12), target.center() + QPointF(0, 12))

    # hands

    def ring_at(self, at: QPointF, glass: Glass) -> str:
        """The ring under a place of the window; empty for none."""
        if self.over:
            return ""
        near = {name: (glass.xy(place) - at).manhattanLength() for name, place in self.reading.points.items()}
        name = min(near, key=near.__getitem__, default="")
        return name if name and near[name] < GRASP else ""

    def press(self, at: QPointF, glass: Glass) -> bool:
        self._held, self._at = self.ring_at(at, glass), at
        if self._held:
            self.picked = self._held
            self.changed.emit()
        return bool(self._held)

    def move(self, at: QPointF, glass: Glass) -> bool:
        if self._held:
            self._at = at
            self.reading = self.reading.moved(self._held, glass.sheet(at))
            self.changed.emit()
        return bool(self._held)

    def release(self, at: QPointF, glass: Glass) -> bool:
        name, self._held = self._held, ""
        if name:
            self.put(name, glass.sheet(at))
        return bool(name)

    def click(self, at: QPointF, glass: Glass) -> None:
        """A click off the rings sets a point of the dividers; two are a distance, three an angle at the second."""
        here = glass.sheet(at)
        self.taking = [*self.taking, here] if len(self.taking) < 3 else [here]
        if len(self.taking) == 2:
            self.measured.emit(f"{float(np.hypot(*(self.taking[1] - self.taking[0]))):.2f} mm on the paper")
        elif len(self.taking) == 3:
            one, other = self.taking[0] - self.taking[1], self.taking[2] - self.taking[1]
            cosine = float(one @ other) / max(float(np.hypot(*one) * np.hypot(*other)), 1e-9)
            self.measured.emit(f"{float(np.degrees(np.arccos(np.clip(cosine, -1, 1)))):.2f}° at the second place")
        self.changed.emit()

    def put(self, name: str, at: Array) -> None:
        """Put a ring down: it snaps to the crossing that is near."""
        reading = self.reading
        self._take(reading.moved(name, snapped(reading.ink, reading.laid, reading.finding.slip, name, at)))

    def _take(self, reading: Reading) -> None:
        """The same photograph with points elsewhere, judged anew."""
        self.reading = reading
        self.changed.emit()
        self.judge_now()

    def takes(self, event: QKeyEvent) -> bool:
        return bool(self.picked) and event.key() in NUDGES

    def key(self, event: QKeyEvent) -> bool:
        names = list(self.reading.points)
        by = NUDGES.get(event.key())
        if event.key() in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp) and names:
            step = 1 if event.key() == Qt.Key.Key_PageDown else -1
            self.picked = names[(names.index(self.picked) + step) % len(names)] if self.picked in names else names[0]
            self.changed.emit()
        elif event.key() == Qt.Key.Key_Escape and (self.picked or self.taking):
            self.picked, self.taking = "", []
            self.changed.emit()
        elif self.picked not in names:
            return False
        elif by is not None:
            self._take(self.reading.moved(self.picked, self.reading.points[self.picked] + NUDGE * np.array(by)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.put(self.picked, self.reading.points[self.picked])
        elif event.key() == Qt.Key.Key_Delete:
            name, self.picked = self.picked, ""
            self._take(self.reading.left_out(name))
        else:
            return False
        return True
