"""A surface over QPainter, for the board and for PNG. Maps sheet millimetres to pixels, y turned downward."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import islice

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QPainter, QPainterPath, QPen, QPolygonF

from wise_compass.desk.parts.glass import Glass
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.inks import Ink
from wise_compass.sheet.lettering import FAMILY


@lru_cache(maxsize=256)
def _pen(colour: str, width: float, dashes: tuple[float, ...]) -> QPen:
    pen = QPen(QColor(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.RoundJoin)
    if dashes:
        pen.setDashPattern([max(d, 0.1) for d in dashes])
    return pen


@lru_cache(maxsize=64)
def _brush(colour: str) -> QBrush:
    return QBrush(QColor(colour))


AT_ONCE = 4
"""So many outlines are filled at a stroke: one by one small ones take longer, and many large ones at once do too, since
each row of pixels is looked through for all."""


class PainterSurface:
    """Draws primitives through a glass.

    ``tint`` replaces every ink's colour, as for the current step; ``least`` keeps hairlines visible; ``pens`` are the
    pixels to the millimetre of a line's width, where they are not those of the glass.
    """

    def __init__(
        self,
        painter: QPainter,
        glass: Glass,
        least: float = 0.9,
        tint: str = "",
        stronger: float = 1.0,
        pens: float = 0.0,
    ) -> None:
        self.painter, self.glass, self.zoom, self.xy = painter, glass, glass.zoom, glass.xy
        self.least, self.tint, self.stronger, self.pens = least, tint, stronger, pens or glass.zoom
        self._pens: dict[Ink, QPen] = {}

    def _set(self, ink: Ink, filled: str = "") -> None:
        pen = self._pens.get(ink)
        if pen is None:
            width = max(ink.width * self.pens, self.least) * self.stronger
            dashes = tuple(d * self.pens / width for d in ink.dashes)
            pen = self._pens[ink] = _pen(self.tint or ink.colour, width, dashes)
        self.painter.setPen(pen)
        self.painter.setBrush(_brush(filled) if filled else Qt.BrushStyle.NoBrush)

    def line(self, points: Array, ink: Ink, closed: bool, filled: bool) -> None:
        if len(points) == 2 and not filled:
            self._set(ink)
            self.painter.drawLine(*self.glass.points(points))
            return
        polygon = QPolygonF(self.glass.points(points))
        if filled:
            self._set(ink, self.tint or ink.colour)
            if not ink.edged:
                self.painter.setPen(Qt.PenStyle.NoPen)
            self.painter.drawPolygon(polygon)
            return
        self._set(ink)
        if closed:
            self.painter.drawPolygon(polygon)
        else:
            self.painter.drawPolyline(polygon)

    def patches(self, outlines: Sequence[Array], ink: Ink) -> None:
        """Filled outlines, all turned one way, some at a stroke: where they overlap or meet they are one."""
        self._set(ink, self.tint or ink.colour)
        if not ink.edged:
            self.painter.setPen(Qt.PenStyle.NoPen)
        some = AT_ONCE if ink.edged else len(outlines)
        for first in range(0, len(outlines), some):
            self.painter.drawPath(self._path(outlines[first : first + some]))

    def _path(self, outlines: Sequence[Array]) -> QPainterPath:
        """Closed outlines as a single path."""
        path = QPainterPath()
        path.setFillRule(Qt.FillRule.WindingFill)
        places = iter(self.glass.pixels(np.concatenate(outlines)).tolist())
        for outline in outlines:
            path.moveTo(*next(places))
            for place in islice(places, len(outline) - 1):
                path.lineTo(*place)
            path.closeSubpath()
        return path

    def segments(self, lines: Sequence[Array], ink: Ink) -> None:
        """Straight lines of two ends each, at a stroke; those of a course run into each other."""
        self._set(ink)
        if not ink.dashes:
            pen = self.painter.pen()
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            self.painter.setPen(pen)
        self.painter.drawLines(
            [QLineF(a, b, c, d) for a, b, c, d in self.glass.pixels(np.concatenate(lines)).reshape(-1, 4).tolist()]
        )

    def arc(self, centre: Array, radius: float, start: float, sweep: float, ink: Ink, filled: str) -> None:
        self._set(ink, (self.tint or ink.colour) if filled == "ring" else filled if sweep >= 360 else "")
        middle, r = self.xy(centre), radius * self.zoom
        box = QRectF(middle.x() - r, middle.y() - r, 2 * r, 2 * r)
        if sweep >= 360:
            self.painter.drawEllipse(box)
        elif r < 8000:
            self.painter.drawArc(box, round(start * 16), round(sweep * 16))
        else:  # sixteenths of a degree are too coarse on a very large arc
            path = QPainterPath()
            path.arcMoveTo(box, start)
            path.arcTo(box, start, sweep)
            self.painter.drawPath(path)

    def dots(self, points: Array, radius: float, colour: str) -> None:
        round_pen = QPen(QColor(self.tint or colour), max(2 * radius * self.zoom, self.least))
        round_pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        self.painter.setPen(round_pen)
        for start in range(0, len(points), 4096):
            self.painter.drawPoints(QPolygonF(self.glass.points(points[start : start + 4096])))

    def boxes(self, corners: Array, colour: str) -> None:
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(_brush(self.tint or colour))
        self.painter.drawRects(
            [
                QRectF(QPointF(a, b), QPointF(c, d)).normalized()
                for a, b, c, d in self.glass.pixels(corners).reshape(-1, 4).tolist()
            ]
        )

    def path(self, segments: Array, ink: Ink, closed: bool) -> None:
        self._set(ink)
        scaled = self.glass.pixels(segments).reshape(-1, 8).tolist()
        path = QPainterPath(QPointF(*scaled[0][:2]))
        for _, _, *ends in scaled:
            path.cubicTo(*ends)
        self.painter.drawPath(path)

    def text(self, at: Array, words: str, size: float, anchor: float, turn: float, colour: str, bold: bool) -> None:
        font = QFont(FAMILY)
        font.setBold(bold)
        font.setPixelSize(max(1, round(size * self.zoom)))
        painter = self.painter
        painter.setFont(font)
        painter.setPen(QColor(self.tint or colour))
        place = self.xy(at)
        shift = anchor * painter.fontMetrics().horizontalAdvance(words) if anchor else 0.0
        if not turn:
            painter.drawText(QPointF(place.x() - shift, place.y()), words)
            return
        painter.save()
        painter.translate(place)
        painter.rotate(-turn)
        painter.drawText(QPointF(-shift, 0.0), words)
        painter.restore()
