"""The scatter of a steady hand on the board: an ellipse about each point of the last view, enlarged."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, TEAL, font, on_paper
from wise_compass.desk.session.session import Session
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.piece import Placed

TIMES = 5.0
"""How many times as large as life the ellipses are drawn."""


def draw_scatter(painter: QPainter, session: Session, placed: Placed, scale: float, glass: Glass) -> None:
    """What 95 steady hands in 100 stay within, about every spot of the last view, and what it is."""
    from wise_compass.study.edges import ellipses

    hands = session.hands
    if hands is None:
        return
    painter.setPen(QPen(on_paper(TEAL), 1.6))
    painter.setBrush(on_paper(TEAL, 0.10))
    low = 0.0
    for one in ellipses(hands):
        place = glass.xy(placed.at(one.at, scale))
        painter.save()
        painter.translate(place)
        painter.rotate(-one.turn)
        half = [TIMES * size * scale * glass.zoom for size in (one.long, one.short)]
        painter.drawEllipse(QPointF(0, 0), *half)
        painter.restore()
        low = max(low, place.y())
    painter.setFont(font(13))
    painter.setPen(on_paper(TEAL))
    words = f"Scatter of 95 steady hands in 100, {TIMES:.0f} times as large (E takes it away)"
    box = painter.viewport().adjusted(16, 0, -16, -7)
    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, words)


def draw_wrong(painter: QPainter, lines: list[Array], placed: Placed, scale: float, glass: Glass) -> None:
    """A drawing as something gone wrong would have it, dashed over the exact one."""
    painter.setPen(QPen(on_paper(COPPER), 2.0, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for line in lines:
        painter.drawPolyline(QPolygonF(glass.points(placed.at(line, scale))))


def scatter_words(session: Session, name: str) -> str:
    """What the scatter of a spot is and which distance moves it most; empty where none is shown."""
    hands = session.hands if session.scatter else None
    if hands is None:
        return ""
    from wise_compass.study.edges import ellipses

    return next((one.says for one in ellipses(hands) if one.key == name), "")
