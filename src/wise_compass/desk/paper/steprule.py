"""The step rule: a graduated boxwood rule, a tick a step, a long tick a phase."""

from __future__ import annotations

from PySide6.QtCore import QElapsedTimer, QLineF, QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from wise_compass.desk.parts.theme import BOXWOOD, BOXWOOD_INK, COPPER, INK, colour, font, px
from wise_compass.desk.session.session import Session

SIDE = 26
PLAY_MS = 700
FRAME_MS = 15


class StepRule(QWidget):
    """Walks the construction: drag the marker, Left and Right, Home and End; Space plays."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setFixedHeight(px(82))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The step rule")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._play_on)
        self._clock = QElapsedTimer()
        self._shown: tuple[object, ...] = ()
        session.stepped.connect(self._moved)
        session.drawn.connect(self._moved)

    @property
    def playing(self) -> bool:
        return self._timer.isActive()

    def play(self) -> None:
        """Walk on by itself, from the start if it stands at the end; or stop."""
        if self.playing:
            self._timer.stop()
        else:
            if self.session.finished:
                self.session.walk_to(0)
            self._clock.start()
            self._timer.start(FRAME_MS if self._glides() else PLAY_MS)
        self.update()

    def _glides(self) -> bool:
        """Whether something moves from the present step to the next."""
        session, motion = self.session, self.session.motion
        return (
            motion is not None
            and not session.finished
            and motion.covers(session.step)
            and motion.covers(session.step + 1)
        )

    def _play_on(self) -> None:
        session = self.session
        if self._glides():
            # as far as the time since the last frame goes, so that a slow frame does not slow the motion
            session.walk_along(min(session.place + self._clock.restart() / PLAY_MS, session.step + 1.0))
        else:
            session.walk_to(session.position + 1)
            self._clock.restart()
        self._timer.setInterval(FRAME_MS if self._glides() else PLAY_MS)
        if session.finished:
            self._timer.stop()
            self.update()

    def walk(self, by: int) -> None:
        self._timer.stop()
        self.session.walk_to(self.session.position + by)

    def _moved(self) -> None:
        self.setAccessibleDescription(self._spoken())
        from PySide6.QtGui import QAccessible, QAccessibleValueChangeEvent  # made late: see window.py

        if QAccessible.isActive():
            QAccessible.updateAccessibility(QAccessibleValueChangeEvent(self, self.session.position))
        if self._shows() != self._shown:  # most edits change no step's place
            self.update()

    def _shows(self) -> tuple[object, ...]:
        """What it is painted from."""
        session, made = self.session, self.session.run
        return () if made is None else (session.phases, session.stops, session.place, session.finished)

    def _spoken(self) -> str:
        """Where the walk stands, with the step's instrument, setting and sentence, as a screen reader has it."""
        session, made = self.session, self.session.run
        if session.finished or not session.step or made is None:
            return session.walk_words()
        step, style, scale = made.steps[session.step - 1], session.style, session.scale
        parts = [step.tool(scale), step.setting(style, scale), step.sentence(style, scale)]
        return f"{session.walk_words()}. " + ". ".join(part.rstrip(".") for part in parts if part) + "."

    def _x(self, position: float, stops: int = 0) -> float:
        """Where a place of the walk stands; ``stops`` spares asking how long the walk is."""
        return SIDE + (self.width() - 2 * SIDE) * position / (stops or self.session.stops)

    def paintEvent(self, event: QPaintEvent) -> None:
        self._shown = self._shows()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(BOXWOOD))
        painter.setPen(colour(BOXWOOD_INK, 0.3))
        painter.drawLine(0, 0, self.width(), 0)
        made = self.session.run
        if made is not None:
            self._ticks(painter, self.session.phases)
            self._marker(painter)
        self._words_below(painter)
        painter.end()

    def _ticks(self, painter: QPainter, phases: list[tuple[str, int]]) -> None:
        firsts = {first for _, first in phases}
        position = self.session.position
        ticks: dict[tuple[bool, bool], list[QLineF]] = {}
        stops = self.session.stops
        for stop in range(stops + 1):
            long = stop in firsts or stop in (0, stops)
            x = self._x(stop, stops)
            ticks.setdefault((stop <= position, long), []).append(QLineF(x, 1, x, 22 if long else 12))
        for (done, long), lines in ticks.items():
            painter.setPen(QPen(colour(BOXWOOD_INK, 1.0 if done else 0.5), 1.4 if long else 1.0))
            painter.drawLines(lines)
        painter.setFont(font(12))
        painter.setPen(colour(BOXWOOD_INK))
        metrics = painter.fontMetrics()
        ends = [0.0, 0.0]
        for title, first in phases:
            wide = metrics.horizontalAdvance(title)
            x = min(self._x(first, stops) - 3, self.width() - wide - 6)
            row = 0 if x >= ends[0] else 1
            if x >= ends[row]:
                painter.drawText(QPointF(x, px(36 + 13 * row)), title)
                ends[row] = x + wide + 10

    def _marker(self, painter: QPainter) -> None:
        x = self._x(self.session.place)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(COPPER))
        painter.drawPolygon(
            QPolygonF([QPointF(x, 3), QPointF(x + 6, 11), QPointF(x + 6, 25), QPointF(x - 6, 25), QPointF(x - 6, 11)])
        )
        if self.hasFocus():
            painter.setPen(QPen(colour(INK), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(x - 8.5, 0.5, 17, 27))

    def _words_below(self, painter: QPainter) -> None:
        painter.setFont(font(13, True))
        painter.setPen(colour(INK))
        session = self.session
        words = session.walk_words()
        painter.drawText(QPointF(18, px(71)), words)
        x = 18 + painter.fontMetrics().horizontalAdvance(words) + 26
        painter.setFont(font(12))
        painter.setPen(colour(BOXWOOD_INK))
        state = "stop" if self.playing else "play"
        hints = ["← → walk", f"Space {state}", *session.walk_hints()] if session.run is not None else []
        for hint in hints:
            wide = painter.fontMetrics().horizontalAdvance(hint)
            if x + wide > self.width() - 8:
                break
            painter.drawText(QPointF(x, px(71)), hint)
            x += wide + 20

    def _go(self, x: float) -> None:
        stops = self.session.stops
        self._timer.stop()
        place = (x - SIDE) / max(self.width() - 2 * SIDE, 1) * stops
        self.session.walk_along(min(max(place, 0.0), float(stops)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._go(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._go(event.position().x())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        goals = {Qt.Key.Key_Home: 0, Qt.Key.Key_End: self.session.stops}
        if event.key() in goals:
            self._timer.stop()
            self.session.walk_to(goals[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)
