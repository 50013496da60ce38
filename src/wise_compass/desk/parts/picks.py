"""A choice from a list that drops down, in the desk's own clothes."""

from __future__ import annotations

from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox

from wise_compass.desk.parts.theme import TEAL, colour


class Pick(QComboBox):
    """A list of choices with a small hook that tells that it opens."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("pick")

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(TEAL), 1.4))
        x, y = self.width() - 13, self.height() / 2
        painter.drawPolyline([QPointF(x - 4, y - 2), QPointF(x, y + 2), QPointF(x + 4, y - 2)])
        painter.end()
