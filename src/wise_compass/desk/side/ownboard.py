"""A step of one's own being made, on the board: what can be taken lights up, and a click takes it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen

from wise_compass.desk.parts.theme import COPPER, PAPER, TEAL, on_paper
from wise_compass.drafting.marks import ArcMark, nominal
from wise_compass.geometry.vectors import Array
from wise_compass.own.making import Making, Mark
from wise_compass.own.writing import Written

FAR = 2000.0
"""mm to which an endless line lights up either way."""
RING, HELD = 5.0, 8.0
ASKED = {"point": "take", "thing": "take", "row": "go on to", "length": "from"}
Seen = Callable[[Array], list[QPointF]]


class Offered:
    """What a step that is being made asks of the board; ``taken`` is told after each click that it took, ``ahead``
    draws what a further line would make."""

    def __init__(self, making: Making, taken: Callable[[], None], ahead: Callable[[str], Written]) -> None:
        self.making, self.taken, self.ahead = making, taken, ahead
        self.under = ""
        self.coming: Written | None = None
        """What stands with the step that a click would make; None where none would."""

    def hover(self, at: Array, reach: float) -> str:
        making = self.making
        self.under = making.named(at, reach)
        line = making.ahead(at, reach)
        self.coming = self.ahead(line) if line else None
        if making.kind == "place":
            return f"mark here: {at[0]:.0f}, {at[1]:.0f}"
        if making.kind == "length" and making.first:
            return f"{making.first}{self.under}" if self.under else ""
        return f"{ASKED.get(making.kind, 'take')} {self.under}" if self.under else ""

    def choose(self, at: Array, reach: float) -> bool:
        if not self.making.wanted or not self.making.take(at, reach):
            return False
        self.taken()
        return True

    def paint(self, painter: QPainter, seen: Seen, zoom: float) -> None:
        making = self.making
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.coming is not None:
            painter.setPen(QPen(on_paper(COPPER), 1.6, Qt.PenStyle.DashLine))
            for name, mark in self.coming.things.items():
                if name not in making.things:
                    _mark(painter, mark, seen, zoom)
            for name, place in self.coming.points.items():
                if name not in making.points:
                    painter.drawEllipse(seen(place[None])[0], RING, RING)
        if making.kind in ("point", "length", "row"):
            for name, place in making.points.items():
                held = name in (self.under, making.first)
                painter.setPen(QPen(on_paper(TEAL, 1.0 if held else 0.55), 2.0 if held else 1.4))
                painter.drawEllipse(seen(place[None])[0], *(2 * (HELD if held else RING,)))
        elif making.kind == "thing":
            for name, mark in making.things.items():
                if name != making.parts.get("one"):
                    painter.setPen(QPen(on_paper(TEAL, 0.9 if name == self.under else 0.35), 3.0))
                    _mark(painter, mark, seen, zoom)
        for place, _ in making.places():
            painter.setPen(QPen(on_paper(COPPER), 2.0))
            painter.setBrush(on_paper(PAPER, 0.7))
            painter.drawEllipse(seen(place[None])[0], HELD, HELD)


def _mark(painter: QPainter, mark: Mark, seen: Seen, zoom: float) -> None:
    """A whole circle, or an endless line."""
    if isinstance(mark, ArcMark):
        reach = float(nominal(mark.radius, 0)) * zoom
        painter.drawEllipse(seen(nominal(mark.centre, 1)[None])[0], reach, reach)
        return
    start, u = nominal(mark.p, 1), nominal(mark.u, 1)
    painter.drawLine(*seen(np.array([start - FAR * u, start + FAR * u])))
