"""What the board is asked to offer: drawn within the paper, and found under the pointer."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.session.asked import Asked
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.compose import Sheet
from wise_compass.sheet.piece import Placed


def paint(painter: QPainter, asked: Asked, placed: Placed, sheet: Sheet, glass: Glass) -> None:
    """Draw what is to be chosen from, at its figure's seat on the sheet."""
    painter.save()
    wide, high = sheet.paper.width * glass.zoom, sheet.paper.height * glass.zoom
    painter.setClipRect(QRectF(glass.left, glass.top, wide, high))
    asked.paint(painter, lambda at: glass.points(placed.at(at, sheet.scale)), sheet.scale * glass.zoom)
    painter.restore()


def place(placed: Placed, sheet: Sheet, glass: Glass, at: QPointF, pixels: float) -> tuple[Array, float]:
    """The figure's place under a pixel, and how many of its mm so many pixels are."""
    return placed.of(glass.sheet(at), sheet.scale), pixels / (glass.zoom * sheet.scale)
