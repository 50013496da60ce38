"""What moves between the steps, over the board: a rolling circle, the trammel's strip, a string, a turning vector."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, INK, PAPER, TEAL, on_paper
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.piece import Placed

if TYPE_CHECKING:
    from wise_compass.study.motion import Motion


class MovingParts:
    """Draws a motion's parts where the walk stands, for a figure in its place on the sheet."""

    def __init__(self, painter: QPainter, placed: Placed, scale: float, glass: Glass) -> None:
        self.painter, self.placed, self.scale, self.glass = painter, placed, scale, glass

    def _places(self, points: Array) -> list[QPointF]:
        return self.glass.points(self.placed.at(points, self.scale))

    def draw(self, motion: Motion, place: float) -> None:
        """The parts, and the curve as far as it is traced."""
        painter, frame = self.painter, motion.frame(place)
        painter.setBrush(on_paper(TEAL, 0.07))
        painter.setPen(QPen(on_paper(COPPER), 1.6))
        for centre, radius in frame.circles:
            reach = radius * self.scale * self.glass.zoom
            painter.drawEllipse(self._places(centre[None, :])[0], reach, reach)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for line in frame.lines:
            painter.drawPolyline(QPolygonF(self._places(line)))
        painter.setPen(QPen(on_paper(INK), 2.4))
        painter.drawPolyline(QPolygonF(self._places(motion.trace(place))))
        painter.setPen(QPen(on_paper(COPPER), 1.6))
        painter.setBrush(on_paper(PAPER))
        for spot in self._places(np.array(frame.points)):
            painter.drawEllipse(spot, 3.6, 3.6)
