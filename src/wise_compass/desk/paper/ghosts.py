"""The instrument of the current step, lightly shown where it stands on the paper."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.theme import COPPER, TEAL, on_paper
from wise_compass.drafting.marks import ArcMark, LineMark, Mark, nominal
from wise_compass.drafting.steps import Step
from wise_compass.geometry.vectors import Array, angle_of, direction, left_of, polar


class Ghosts:
    """Draws an instrument in place; sheet position is ``origin + figure · scale``, turned about the origin."""

    def __init__(
        self, painter: QPainter, surface: PainterSurface, origin: Array, scale: float, turn: float = 0.0
    ) -> None:
        self.painter, self.surface, self.origin, self.scale, self.turn = painter, surface, origin, scale, turn

    def draw(self, step: Step) -> None:
        """The instrument that leaves this step's last mark."""
        if not step.marks:
            return
        if self.turn:
            self.painter.save()
            about = self.surface.xy(self.origin)
            self.painter.translate(about)
            self.painter.rotate(-self.turn)
            self.painter.translate(-about)
        self._instrument(step)
        if self.turn:
            self.painter.restore()

    def _instrument(self, step: Step) -> None:
        self.painter.setPen(QPen(on_paper(TEAL, 0.55), 1.0))
        self.painter.setBrush(on_paper(TEAL, 0.09))
        mark = _telling(step.marks)
        if isinstance(mark, ArcMark):
            self._compass(mark)
        elif isinstance(mark, LineMark):
            if step.instrument == "Compass":
                return
            if step.instrument == "Protractor":
                self._protractor(mark)
            elif step.instrument == "Straightedge":
                self._straightedge(*mark.ends())
            else:
                self._set_square(mark)
        elif not mark.fair and len(mark.row.points) > 1:
            self._straightedge(*mark.course()[:2])

    def _at(self, p: Array) -> Array:
        return self.origin + p * self.scale

    def _polygon(self, points: Sequence[Array]) -> None:
        self.painter.drawPolygon(QPolygonF([self.surface.xy(p) for p in points]))

    def _compass(self, arc: ArcMark) -> None:
        centre, radius = self._at(nominal(arc.centre, 1)), float(nominal(arc.radius, 0)) * self.scale
        start, sweep = arc.spans()[-1] if arc.spans() else (60.0, 0.0)
        angle = 60.0 if sweep >= 360 else start + sweep
        pencil = polar(centre, radius, angle)
        middle = (centre + pencil) / 2
        rise = left_of(direction(angle))
        if rise[1] < 0:
            rise = -rise
        hinge = middle + rise * min(max(radius * 0.9, 12.0), 38.0)
        self.painter.setPen(QPen(on_paper(TEAL, 0.6), 2.4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        self.painter.drawLine(self.surface.xy(centre), self.surface.xy(hinge))
        self.painter.drawLine(self.surface.xy(pencil), self.surface.xy(hinge))
        self.painter.setBrush(on_paper(TEAL, 0.5))
        self.painter.drawEllipse(self.surface.xy(hinge), 4.0, 4.0)
        self.painter.setPen(QPen(on_paper(COPPER, 0.8), 1.2, Qt.PenStyle.DashLine))
        self.painter.drawLine(self.surface.xy(centre), self.surface.xy(pencil))

    def _straightedge(self, a: Array, b: Array) -> None:
        p, q = self._at(a), self._at(b)
        span = float(np.hypot(*(q - p)))
        if span < 1e-9:
            return
        u = (q - p) / span
        side = -left_of(u)
        self._polygon([p - u * 12, q + u * 12, q + u * 12 + side * 9, p - u * 12 + side * 9])

    def _set_square(self, line: LineMark) -> None:
        a, b = (self._at(p) for p in line.ends())
        if float(np.hypot(*(b - a))) < 2:
            return
        u = (b - a) / np.hypot(*(b - a))
        steep = abs(u[1]) > abs(u[0])
        side = left_of(u)
        if steep and side[0] > 0 or not steep and side[1] > 0:
            side = -side
        length = min(max(float(np.hypot(*(b - a))) + 14, 30), 80)
        foot = a - u * 7
        self._polygon([foot, foot + u * length, foot + side * length * math.tan(math.radians(30))])

    def _protractor(self, line: LineMark) -> None:
        centre = self._at(nominal(line.p, 1))
        angle = float(angle_of(nominal(line.u, 1)))
        base = 0.0 if angle >= -1e-9 else -180.0
        radius = 26.0
        points = [polar(centre, radius, base + a) for a in range(0, 181, 6)]
        self._polygon(points)
        for a in range(0, 181, 10):
            inner = radius - (4 if a % 30 == 0 else 2)
            self.painter.drawLine(
                self.surface.xy(polar(centre, inner, base + a)), self.surface.xy(polar(centre, radius, base + a))
            )


def _telling(marks: Sequence[Mark]) -> Mark:
    """The mark that shows the instrument best: the last with some length."""
    for mark in reversed(marks):
        if isinstance(mark, ArcMark) or not isinstance(mark, LineMark) or mark.hi - mark.lo > 1:
            return mark
    return marks[-1]
