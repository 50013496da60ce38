"""Little pictures of figures: the result alone, in a small square."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from wise_compass.desk.parts.theme import colour
from wise_compass.drafting.marks import Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.vectors import Array

THIN = 0.01
"""Of how far it spreads along: a result that spreads no further across is one line, which tells nothing by itself."""
SHOWN = (Role.OUTLINE, Role.HIDDEN, Role.REFERENCE)


def courses(made: Run) -> list[Array]:
    """The result as polylines in figure mm; of one that is a single straight line, what it was found by too."""
    lines = [line for mark in made.marks if mark.role in SHOWN for line in mark.polylines()]
    if lines and _is_one_line(np.concatenate(lines)):
        lines = [line for mark in made.marks for line in mark.polylines()]
    return lines


def _is_one_line(points: Array) -> bool:
    """Whether points lie along one straight line, by the spread across and along it."""
    along, across = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
    return bool(across <= THIN * along)


@lru_cache(maxsize=256)
def default_courses(figure: str) -> tuple[Array, ...]:
    """The result of a figure at its defaults."""
    try:
        return tuple(courses(run(figure_named(figure)())))
    except Refused:
        return ()


def paint_picture(
    painter: QPainter, lines: tuple[Array, ...] | list[Array], box: QRectF, ink: str, width: float = 1.4
) -> None:
    """Draw polylines fitted into a box."""
    if not lines:
        return
    points = np.concatenate(lines)
    low, high = points.min(axis=0), points.max(axis=0)
    extent = np.maximum(high - low, 1e-9)
    zoom = min(box.width() / extent[0], box.height() / extent[1])
    centre = (low + high) / 2
    painter.setPen(QPen(colour(ink), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    middle = box.center()
    for line in lines:
        shifted = (line - centre) * (zoom, -zoom) + (middle.x(), middle.y())
        painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in shifted.tolist()]))
