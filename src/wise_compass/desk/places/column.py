"""The column at the left: the places on top, the lines of the place that is shown, the menu at the foot."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QPushButton, QStackedWidget, QVBoxLayout, QWidget

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import spine_button
from wise_compass.desk.parts.theme import INK, PINE_TEXT, colour, px, wide
from wise_compass.desk.places.place import PLACES, PlaceName
from wise_compass.desk.spine.spinelist import WIDTH

PICTURE = 16.0
"""Pixels across of a place's picture."""


class PlaceButton(QPushButton):
    """Leads to a place: its picture and its name; pressed in while that is shown."""

    def __init__(self, place: PlaceName, number: int) -> None:
        super().__init__(place.title)
        self.place = place
        self.setObjectName("place")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"{place.title}, place {number} of {len(PLACES)}")
        self.setAccessibleDescription(place.says)
        self.setToolTip(f"{place.says} (Alt+Shift+{number})")
        keep(self, PRESS)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(INK if self.isChecked() else PINE_TEXT), 1.5))
        size = px(PICTURE)
        painter.translate(12, (self.height() - size) / 2)
        painter.scale(size / PICTURE, size / PICTURE)
        PICTURES[self.place.id](painter)
        painter.end()


def _set_out(painter: QPainter) -> None:
    """Dividers, opened."""
    painter.drawPolyline([QPointF(2, 15), QPointF(8, 2), QPointF(14, 15)])
    painter.drawEllipse(QPointF(8, 2.5), 1.6, 1.6)
    painter.drawArc(QRectF(1, 2, 14, 12), 225 * 16, 90 * 16)


def _practise(painter: QPainter) -> None:
    """A sheet with a tick."""
    painter.drawRect(QRectF(1.5, 1.5, 13, 13))
    painter.drawPolyline([QPointF(4.5, 8.5), QPointF(7, 11), QPointF(11.5, 5)])


def _logbook(painter: QPainter) -> None:
    """A page with lines."""
    painter.drawRect(QRectF(2.5, 1.5, 11, 13))
    for y in (5.0, 8.0, 11.0):
        painter.drawLine(QPointF(5, y), QPointF(11, y))


def _plan(painter: QPainter) -> None:
    """Bars, one after the other."""
    for x, y, long in ((1.5, 2.5, 6.0), (4.5, 7.0, 7.0), (9.0, 11.5, 5.5)):
        painter.drawRect(QRectF(x, y, long, 2.6))


PICTURES = {"set-out": _set_out, "practise": _practise, "logbook": _logbook, "plan": _plan}


class Column(QWidget):
    """``asked`` tells that a place was asked for by its number, from 0."""

    asked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("spine")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(wide(WIDTH))
        self.heads = [PlaceButton(place, number) for number, place in enumerate(PLACES, 1)]
        self.lines = QStackedWidget()
        self.menu = spine_button("Menu", "All commands, by what they are for (F10)")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 6, 0, 8)
        inside.setSpacing(0)
        top = QVBoxLayout()
        top.setContentsMargins(8, 0, 8, 5)
        top.setSpacing(0)
        for number, button in enumerate(self.heads):
            top.addWidget(button)
            # pressed, or toggled by a screen reader: that one is asked for which is on now
            button.toggled.connect(lambda on, n=number: self.asked.emit(n) if on else None)
        inside.addLayout(top)
        rule = QWidget()
        rule.setObjectName("spinerule")
        rule.setFixedHeight(1)
        inside.addWidget(rule)
        inside.addWidget(self.lines, 1)
        foot = QVBoxLayout()
        foot.setContentsMargins(10, 4, 10, 0)
        foot.addWidget(self.menu)
        inside.addLayout(foot)

    def show_lines(self, lines: QWidget, number: int) -> None:
        """Show the lines of a place."""
        if self.lines.indexOf(lines) < 0:
            self.lines.addWidget(lines)
        self.lines.setCurrentWidget(lines)
        self.heads[number].setChecked(True)
