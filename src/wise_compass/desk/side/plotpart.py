"""A plot of what a figure does as it moves, with a mark where the walk stands."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from wise_compass.desk.parts.theme import COPPER, HAIRLINE, INK, PAPER, SOFT, TEAL, colour, font, px
from wise_compass.desk.session.session import Session
from wise_compass.drafting.capabilities import Plot, Plotted
from wise_compass.drafting.wording import trim

TALL = 176
LEFT, RIGHT, TOP, BELOW = 38, 12, 26, 34
"""Pixels about the plot, by day's text."""
QUARTERS = 4
STEPS = (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500)
"""Between two level lines."""


class PlotPart(QWidget):
    """The first plot of the selected figure; hidden where that has none."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.plot: Plot | None = None
        self.setFixedHeight(px(TALL))
        session.stepped.connect(self.update)
        self.fill()

    def sizeHint(self) -> QSize:
        return QSize(px(260), px(TALL))

    def fill(self) -> None:
        """Bring it up to the selected figure."""
        made = self.session.run
        plots = made.figure.plots() if made is not None and isinstance(made.figure, Plotted) else ()
        self.plot = plots[0] if plots else None
        self.setVisible(self.plot is not None)
        if self.plot is not None:
            self.setAccessibleName(self.plot.title)
            self.setAccessibleDescription(self.plot.says)
            self.setToolTip(self.plot.says)
        self.update()

    @property
    def highest(self) -> float:
        """The top of the scale."""
        assert self.plot is not None
        return 1.1 * max(float(np.nanmax(self.plot.at[:, 1])), self.plot.limit or 0.0, 1e-9)

    @property
    def frame(self) -> QRectF:
        """Where the plot is drawn."""
        return QRectF(px(LEFT), px(TOP), self.width() - px(LEFT) - px(RIGHT), self.height() - px(TOP) - px(BELOW))

    def _places(self, at: np.ndarray) -> list[QPointF]:
        assert self.plot is not None
        frame, whole = self.frame, self.plot.at[:, 0]
        low, wide = float(whole.min()), float(np.ptp(whole)) or 1.0
        x = frame.left() + (at[:, 0] - low) / wide * frame.width()
        y = frame.bottom() - at[:, 1] / self.highest * frame.height()
        return [QPointF(float(a), float(b)) for a, b in zip(x, y)]

    @property
    def now(self) -> np.ndarray | None:
        """Where the walk stands, and how much it is there; None where nothing moves."""
        motion = self.session.motion
        if self.plot is None or motion is None or self.session.finished or not motion.covers(self.session.place):
            return None
        place = motion.place(self.session.place)
        return np.array([[place, float(np.interp(place, self.plot.at[:, 0], self.plot.at[:, 1]))]])

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.plot is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._axes(painter, self.plot)
        painter.setPen(QPen(colour(INK), 1.8))
        painter.drawPolyline(QPolygonF(self._places(self.plot.at)))
        now = self.now
        words = self.plot.title
        if now is not None:
            (place,) = self._places(now)
            frame = self.frame
            painter.setPen(QPen(colour(TEAL), 1.2))
            painter.drawLine(QPointF(place.x(), frame.bottom()), QPointF(place.x(), frame.top()))
            painter.setBrush(colour(PAPER))
            painter.setPen(QPen(colour(TEAL), 2.0))
            painter.drawEllipse(place, 4.0, 4.0)
            at, size = now[0]
            words = f"{words} at {trim(at, 1)}{self.plot.along_unit}: {trim(size, 1)}{self.plot.unit}"
        painter.setFont(font(13, True))
        painter.setPen(colour(INK))
        painter.drawText(QPointF(0, px(14)), words)
        painter.end()

    def _axes(self, painter: QPainter, plot: Plot) -> None:
        """Level lines with their sizes, the limit, and quarters of what it runs along."""
        frame = self.frame
        painter.setFont(font(11))
        step = next((one for one in STEPS if one * 5 >= self.highest), STEPS[-1])
        low, high = float(plot.at[:, 0].min()), float(plot.at[:, 0].max())
        level = 0.0
        while level <= self.highest:
            (left, right) = self._places(np.array([[low, level], [high, level]]))
            painter.setPen(QPen(colour(HAIRLINE), 1))
            painter.drawLine(left, right)
            painter.setPen(colour(SOFT))
            box = QRectF(0, left.y() - px(8), px(LEFT - 5), px(16))
            painter.drawText(
                box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{trim(level)}{plot.unit}"
            )
            level += step
        if plot.limit is not None:
            painter.setPen(QPen(colour(COPPER), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(*self._places(np.array([[low, plot.limit], [high, plot.limit]])))
        painter.setPen(colour(SOFT))
        for k in range(QUARTERS + 1):
            at = low + (high - low) * k / QUARTERS
            (place,) = self._places(np.array([[at, 0.0]]))
            box = QRectF(place.x() - px(30), frame.bottom() + px(2), px(60), px(14))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{trim(at, 1)}{plot.along_unit}")
        box = QRectF(frame.left(), frame.bottom() + px(16), frame.width(), px(16))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, plot.along)
