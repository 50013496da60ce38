"""A small reading beside a place of the board or of the space view."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter

from wise_compass.desk.parts.theme import INK, PAPER, font, on_paper


def draw_note(painter: QPainter, room: QSize, place: QPointF, words: str) -> None:
    """Words beside a place, kept inside the widget."""
    painter.setFont(font(13))
    lines = words.split("\n")
    metrics = painter.fontMetrics()
    width = max(metrics.horizontalAdvance(line) for line in lines) + 16
    height = metrics.height() * len(lines) + 10
    x = min(place.x() + 14, room.width() - width - 4)
    y = place.y() - height - 10
    box = QRectF(x, y if y > 4 else place.y() + 14, width, height)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(on_paper(INK, 0.94))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(on_paper(PAPER))
    painter.drawText(box.adjusted(8, 5, -8, -5), Qt.AlignmentFlag.AlignLeft, words)
