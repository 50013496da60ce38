"""The dividers on the board: one point set, or two with what lies between."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from wise_compass.desk.paper import reading
from wise_compass.desk.paper.notes import draw_note
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import INK, on_paper
from wise_compass.drafting.wording import Style


def draw_dividers(painter: QPainter, size: QSize, picks: Sequence[reading.Picked], glass: Glass, style: Style) -> None:
    """Draw up to two points of the dividers, and the distance between them in words."""
    if not picks:
        return
    places = [glass.xy(pick.sheet_at) for pick in picks]
    painter.setBrush(on_paper(INK, 0.75))
    painter.setPen(QPen(on_paper(INK, 0.75), 2))
    for place in places:
        painter.drawPolygon(QPolygonF([place, place + QPointF(-3.5, -15), place + QPointF(3.5, -15)]))
    if len(places) == 2:
        painter.setPen(QPen(on_paper(INK, 0.8), 1, Qt.PenStyle.DashLine))
        painter.drawLine(*places)
        draw_note(painter, size, (places[0] + places[1]) / 2, reading.dividers_words(picks[0], picks[1], style))
    else:
        draw_note(painter, size, places[0], "Pick the other point")
