"""What a profile's row could be, on the board: loci and arcs to choose from, circles and lines to name."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from wise_compass.desk.parts.theme import COPPER, INK, PAPER, TEAL, on_paper
from wise_compass.drafting.named_rows import REFS
from wise_compass.figures.plane.profile_offers import Offer, Served, offer_of, thing_at
from wise_compass.figures.plane.profile_rows import resolved
from wise_compass.geometry.touching import Round, Straight, Thing
from wise_compass.geometry.vectors import Array

FAR = 2000.0
"""mm to which an endless line is drawn either way."""
Seen = Callable[[Array], list[QPointF]]


class Offering:
    """Row ``k`` of read ``rows`` with the cursor in its slot ``what``. A slot that names another row is filled by a
    click on that; in any other the click chooses among the arcs that would serve. ``put`` takes words by their slots.
    """

    def __init__(self, rows: Sequence[Sequence[Any]], k: int, what: str, put: Callable[[dict[str, str]], None]) -> None:
        self.rows, self.k, self.what, self.put = rows, k, what, put
        self.offer: Offer | None = None if self.naming else offer_of(rows, k)
        self.under: Served | str | None = None

    @property
    def naming(self) -> bool:
        """Whether the click names one of the rows before."""
        return self.what in REFS

    def hover(self, at: Array, reach: float) -> str:
        if self.naming:
            self.under = thing_at(self.rows, self.k, at, reach)
            return f"Take {self.under}" if self.under else ""
        self.under = self.offer.nearest(at, reach) if self.offer is not None else None
        return "" if self.under is None else f"An arc {self.under.says}" if self.under.ring.rho else self.under.says

    def choose(self, at: Array, reach: float) -> bool:
        self.hover(at, reach)
        if not self.under:
            return False
        self.put({self.what: self.under} if isinstance(self.under, str) else self.under.words)
        return True

    # on the paper

    def paint(self, painter: QPainter, seen: Seen, zoom: float) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.naming:
            if isinstance(self.under, str) and self.under:
                painter.setPen(QPen(on_paper(TEAL, 0.8), 4.0))
                _thing(painter, resolved(self.rows[: self.k]).things[self.under], seen, zoom)
            return
        if self.offer is None:
            return
        painter.setPen(QPen(on_paper(COPPER), 1.2, Qt.PenStyle.DashDotLine))
        for thing in self.offer.loci:
            _thing(painter, thing, seen, zoom)
        for one in sorted(self.offer.served, key=lambda one: one.chosen):
            self._served(painter, one, seen)

    def _served(self, painter: QPainter, one: Served, seen: Seen) -> None:
        held = isinstance(self.under, Served) and self.under.ring == one.ring
        shade = on_paper(INK) if one.chosen else on_paper(TEAL)
        style = Qt.PenStyle.SolidLine if one.chosen else Qt.PenStyle.DashLine
        painter.setPen(QPen(shade, 3.4 if held else 2.4, style))
        course = seen(one.course())
        if len(course) > 1:
            painter.drawPolyline(QPolygonF(course))
        painter.setPen(QPen(shade, 1.4))
        painter.setBrush(on_paper(PAPER))
        for place in seen(np.array([one.ring.centre])):
            painter.drawEllipse(place, 3.2, 3.2)
        painter.setBrush(Qt.BrushStyle.NoBrush)


def _thing(painter: QPainter, thing: Thing, seen: Seen, zoom: float) -> None:
    """A whole circle, an endless line, or a ring about a point."""
    if isinstance(thing, Straight):
        painter.drawLine(*seen(np.array([thing.start - FAR * thing.u, thing.start + FAR * thing.u])))
        return
    assert isinstance(thing, Round)
    reach = abs(thing.rho) * zoom or 7.0
    painter.drawEllipse(seen(thing.centre[None, :])[0], reach, reach)
