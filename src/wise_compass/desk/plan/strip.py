"""The day as a strip: a row a day with its hours, a bar a sheet, breaks left free; a bar is dragged to be drawn
earlier or later."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from wise_compass.desk.parts.keys import TABLE, keep
from wise_compass.desk.parts.theme import COPPER, GROUND, HAIRLINE, INK, PAPER, SOFT, TEAL, colour, font, px
from wise_compass.plan.day import DrawnSheet, Plan

ROW, HEAD, RIGHT = 46, 26, 18
MANY = 6
"""Changes of opening and instrument from which a bar is coloured in full."""


class Bar(NamedTuple):
    """A piece of a sheet's work, from one hour of a day to another."""

    sheet: int
    row: int
    start: float
    end: float


class DayStrip(QWidget):
    """``moved`` tells a sheet, by its place in the plan, and the place before which it was dropped; ``picked`` the
    place of one that was chosen."""

    moved = Signal(int, int)
    picked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.plan: Plan | None = None
        self.worked_week = 7
        self.chosen = -1
        self._bars: list[Bar] = []
        self._days: list[date] = []
        self._hours = (8.0, 17.0)
        self._held = -1
        self._at = QPointF()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(
            "The day as a strip; Left and Right choose a sheet, with Ctrl they move it earlier or later"
        )
        keep(self, TABLE)

    @property
    def sheets(self) -> list[DrawnSheet]:
        return [one for one in self.plan.sheets if not one.fault] if self.plan is not None else []

    def show_plan(self, plan: Plan, week: int) -> None:
        """Show another plan; of the week so many days are worked."""
        self.plan, self.worked_week = plan, week
        sheets = self.sheets
        first, last = min(one.begin.date() for one in sheets), max(one.end.date() for one in sheets)
        self._days = [first + timedelta(days=n) for n in range((last - first).days + 1)]
        self._bars = [bar for place in range(len(sheets)) for bar in self._pieces(place)]
        starts, ends = [bar.start for bar in self._bars], [bar.end for bar in self._bars]
        self._hours = (float(int(min(starts))), float(int(max(ends)) + 1))
        self.setMinimumHeight(px(HEAD + ROW * len(self._days) + 8))
        self.updateGeometry()
        self._tell()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(600, px(HEAD + ROW * max(len(self._days), 1) + 8))

    def _pieces(self, place: int) -> Iterator[Bar]:
        """A sheet's work day by day, its breaks left out."""
        assert self.plan is not None
        one = self.sheets[place]
        nights = [  # whoever works through midnight does so on two rows
            (datetime.combine(day, datetime.max.time()), datetime.combine(day + timedelta(days=1), datetime.min.time()))
            for day in self._days[:-1]
        ]
        rests = sorted([*self.plan.breaks, *self.plan.nights, *nights])
        at = one.begin
        for begin, end in [rest for rest in rests if rest[0] < one.end and rest[1] > one.begin]:
            if begin > at:
                yield self._bar(place, at, begin)
            at = max(at, end)
        if at < one.end:
            yield self._bar(place, at, one.end)

    def _bar(self, place: int, begin: datetime, end: datetime) -> Bar:
        row = self._days.index(begin.date())
        midnight = datetime.combine(begin.date(), datetime.min.time())
        return Bar(place, row, (begin - midnight) / timedelta(hours=1), (end - midnight) / timedelta(hours=1))

    # where things are

    @cached_property
    def _left(self) -> float:
        """Pixels that the names of the days take."""
        return 24.0 + QFontMetrics(font(12, True)).horizontalAdvance("Wed 02 Dec")

    def _x(self, hour: float) -> float:
        low, high = self._hours
        return self._left + (self.width() - self._left - RIGHT) * (hour - low) / (high - low)

    def _box(self, bar: Bar) -> QRectF:
        x, y = self._x(bar.start), px(HEAD + ROW * bar.row + 5)
        return QRectF(x, y, max(self._x(bar.end) - x - 1.5, 2.0), px(ROW - 12))

    def sheet_at(self, at: QPointF) -> int:
        """The place in the plan of the sheet whose bar is there; -1 for none."""
        return next((bar.sheet for bar in self._bars if self._box(bar).contains(at)), -1)

    def box_of(self, place: int) -> QRectF:
        """The first bar of a sheet."""
        return self._box(next(bar for bar in self._bars if bar.sheet == place))

    def _before(self, at: QPointF) -> int:
        """Before which place a sheet that is dropped there would come."""
        row = int((at.y() - px(HEAD)) // px(ROW))
        for bar in self._bars:
            box = self._box(bar)
            if bar.row > row or (bar.row == row and at.x() < box.center().x()):
                return bar.sheet
        return len(self.sheets)

    # what is drawn

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(GROUND))
        if self.plan is None:
            painter.end()
            return
        self._paint_hours(painter)
        for bar in self._bars:
            self._paint_bar(painter, bar)
        if self._held >= 0:
            self._paint_drop(painter)
        painter.end()

    def _paint_hours(self, painter: QPainter) -> None:
        low, high = self._hours
        bottom = px(HEAD + ROW * len(self._days))
        painter.setFont(font(12))
        step = 1 if (self.width() - self._left) / (high - low) > 44 else 2 if high - low < 14 else 4
        for hour in range(int(low), int(high) + 1, step):
            x = self._x(hour)
            painter.setPen(QPen(colour(HAIRLINE), 1))
            painter.drawLine(QPointF(x, px(HEAD - 4)), QPointF(x, bottom))
            painter.setPen(colour(SOFT))
            painter.drawText(QRectF(x - 24, 2, 48, px(HEAD - 8)), Qt.AlignmentFlag.AlignCenter, f"{hour % 24}")
        for row, day in enumerate(self._days):
            y = px(HEAD + ROW * row)
            free = not any(bar.row == row for bar in self._bars)
            painter.setFont(font(12, not free))
            painter.setPen(colour(SOFT if free else INK))
            box = QRectF(10, y, self._left - 14, px(ROW))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, f"{day:%a %d %b}")
            if free:
                painter.setFont(font(12))
                words = "free: not a day that is worked" if day.weekday() >= self.worked_week else "free"
                painter.drawText(QRectF(self._left + 8, y, 400, px(ROW)), Qt.AlignmentFlag.AlignVCenter, words)
            painter.setPen(QPen(colour(HAIRLINE), 1))
            painter.drawLine(QPointF(0, y + px(ROW)), QPointF(self.width(), y + px(ROW)))

    def _paint_bar(self, painter: QPainter, bar: Bar) -> None:
        one, box = self.sheets[bar.sheet], self._box(bar)
        share = min(one.changes / MANY, 1.0)
        painter.setPen(
            QPen(colour(COPPER if bar.sheet == self.chosen else TEAL), 2.2 if bar.sheet == self.chosen else 1)
        )
        painter.setBrush(colour(PAPER))
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(TEAL, 0.10 + 0.42 * share))
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 2, 2)
        painter.setFont(font(12, True))
        painter.setPen(colour(INK))
        number = str(one.number)
        inner = box.adjusted(4, 1, -3, -1)
        if painter.fontMetrics().horizontalAdvance(number) > box.width() - 8:
            return
        painter.drawText(inner, Qt.AlignmentFlag.AlignTop, number)
        painter.setFont(font(12))
        room = int(inner.width())
        if room > 34:
            words = painter.fontMetrics().elidedText(one.title, Qt.TextElideMode.ElideRight, room)
            painter.drawText(inner, Qt.AlignmentFlag.AlignBottom, words)
        if room > 58 and one.changes:
            painter.setPen(colour(SOFT))
            painter.drawText(inner, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight, f"{one.changes}×")

    def _paint_drop(self, painter: QPainter) -> None:
        before = self._before(self._at)
        bars = [bar for bar in self._bars if bar.sheet == before] or [self._bars[-1]]
        box = self._box(bars[0])
        x = box.left() - 1.5 if before < len(self.sheets) else box.right() + 3
        painter.setPen(QPen(colour(COPPER), 2.5))
        painter.drawLine(QPointF(x, box.top() - 4), QPointF(x, box.bottom() + 4))

    # hands

    def _words(self, place: int) -> str:
        one = self.sheets[place]
        changes = f"{one.changes} change{'s' if one.changes != 1 else ''} of opening and instrument"
        return f"Sheet {one.number}: {one.title}\n{one.begin:%a %H:%M} to {one.end:%a %H:%M}, {changes}"

    def _tell(self) -> None:
        if 0 <= self.chosen < len(self.sheets):
            self.setAccessibleDescription(self._words(self.chosen).replace("\n", ". "))

    def choose(self, place: int) -> None:
        """Choose a sheet by its place in the plan."""
        self.chosen = min(max(place, 0), len(self.sheets) - 1)
        self._tell()
        self.picked.emit(self.chosen)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held, self._at = self.sheet_at(event.position()), event.position()
        if self._held >= 0:
            self.choose(self._held)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._at = event.position()
        if self._held >= 0:
            self.update()
            return
        place = self.sheet_at(self._at)
        QToolTip.showText(event.globalPosition().toPoint(), self._words(place) if place >= 0 else "", self)
        self.setCursor(Qt.CursorShape.OpenHandCursor if place >= 0 else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, -1
        if held >= 0 and self.sheet_at(event.position()) != held:
            before = self._before(event.position())
            if before not in (held, held + 1):
                self.moved.emit(held, before)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if way is None or not self.sheets:
            super().keyPressEvent(event)
        elif event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            if 0 <= self.chosen + way < len(self.sheets):
                self.moved.emit(self.chosen, self.chosen + (2 if way > 0 else -1))
        else:
            self.choose(self.chosen + way)
