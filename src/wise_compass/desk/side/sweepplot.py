"""By how much a construction misses as one of its givens moves: a small plot, with what a line's width hides."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from wise_compass.desk.parts.theme import COPPER, HAIRLINE, INK, SOFT, TEAL, colour, font, px
from wise_compass.drafting.wording import trim
from wise_compass.own.proving import LINE_WIDTH, Sweep

TALL, LEFT, RIGHT, TOP, BELOW = 130, 44, 12, 22, 30


class SweepPlot(QWidget):
    """The sweep of one given; ``here`` is where it stands now. Hidden while there is none."""

    def __init__(self) -> None:
        super().__init__()
        self.sweep: Sweep | None = None
        self.here = 0.0
        self.setFixedHeight(px(TALL))
        self.hide()

    def show_sweep(self, sweep: Sweep | None, here: float = 0.0) -> None:
        """Draw another sweep, or none."""
        self.sweep, self.here = sweep, here
        self.setVisible(sweep is not None)
        if sweep is not None:
            self.setAccessibleName(f"The miss over {sweep.given}")
            self.setAccessibleDescription(self.says)
        self.update()

    @property
    def says(self) -> str:
        """What it shows, in words."""
        assert self.sweep is not None
        within = self.sweep.within_a_line
        if within is None:
            return f"Nowhere over {self.sweep.given} does a line’s width hide the miss."
        low, high = (trim(value, 1) for value in within)
        return f"A line’s width hides the miss with {self.sweep.given} from {low} to {high}."

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.sweep is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(px(LEFT), px(TOP), self.width() - px(LEFT) - px(RIGHT), self.height() - px(TOP) - px(BELOW))
        values, misses = np.array(self.sweep.values), np.array(self.sweep.misses)
        top = max(float(np.nanmax(misses)), 2 * LINE_WIDTH)
        low, wide = float(values.min()), float(np.ptp(values)) or 1.0

        def seat(value: float, miss: float) -> QPointF:
            return QPointF(
                frame.left() + (value - low) / wide * frame.width(), frame.bottom() - miss / top * frame.height()
            )

        painter.setFont(font(px(11)))
        painter.setPen(colour(SOFT))
        painter.drawText(QPointF(px(2), px(13)), f"mm missed, over {self.sweep.given}")
        hidden = QRectF(seat(low, LINE_WIDTH), frame.bottomRight())
        painter.fillRect(hidden, colour(TEAL, 0.13))
        painter.setPen(QPen(colour(HAIRLINE), 1))
        painter.drawLine(frame.bottomLeft(), frame.bottomRight())
        painter.setPen(colour(SOFT))
        for miss in (0.0, top):
            box = QRectF(0, seat(low, miss).y() - px(8), px(LEFT) - 6, px(16))
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, trim(miss, 2))
        for value, align in ((low, Qt.AlignmentFlag.AlignLeft), (low + wide, Qt.AlignmentFlag.AlignRight)):
            box = QRectF(frame.left(), frame.bottom() + 4, frame.width(), px(16))
            painter.drawText(box, align, trim(value, 1))
        painter.setPen(QPen(colour(COPPER), 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(seat(self.here, 0.0), seat(self.here, top))
        painter.setPen(QPen(colour(INK), 2.0))
        good = np.isfinite(misses)
        painter.drawPolyline(QPolygonF([seat(float(v), float(m)) for v, m in zip(values[good], misses[good])]))
