"""The board: the paper, the walk through the construction, hovering, and the dividers."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QWheelEvent
from PySide6.QtWidgets import QWidget

from wise_compass.desk.paper import choosing, reading
from wise_compass.desk.paper.dividers import draw_dividers
from wise_compass.desk.paper.facelight import faces_on_paper, light
from wise_compass.desk.paper.ghosts import Ghosts
from wise_compass.desk.paper.moving import MovingParts
from wise_compass.desk.paper.notes import draw_note
from wise_compass.desk.paper.scatter import draw_scatter, draw_wrong, scatter_words
from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, GROUND, PAPER, SOFT, TEAL, colour, font, on_paper, shade
from wise_compass.desk.session.session import Session
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.compose import Sheet
from wise_compass.sheet.drawing import NOT_CLEAN, Item
from wise_compass.sheet.piece import Placed

REACH = 7.0
"""Pixels within which the pointer takes hold of a spot or a line."""
PREVIEW = 0.2


class Board(QWidget):
    """Draws the session's sheet. ``painted`` is emitted after each full paint."""

    painted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.clean = False
        self.zoom, self.left, self.top = 3.0, 0.0, 0.0
        self._fitted = True
        self._grip: QPointF | None = None
        self._moved = self._carrying = False
        self.picks: list[reading.Picked] = []
        self._hover: tuple[QPointF, str, str] | None = None
        self._said = ""
        self._kept: tuple[tuple[object, ...], QPixmap] | None = None
        self._hush = QTimer(self)
        self._hush.setSingleShot(True)
        self._hush.timeout.connect(lambda: self.say(""))
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The board")
        self.setMinimumSize(300, 200)
        session.drawn.connect(self._redrawn)
        session.stepped.connect(self.update)
        session.lit.connect(self.update)
        session.selected.connect(self._other)
        session.laid.connect(self._other)

    def say(self, words: str) -> None:
        """A short message in the corner, for four seconds."""
        self._said = words
        if words:
            self._hush.start(4000)
        self.update()

    # the view

    def _other(self) -> None:
        self.picks.clear()
        self._hover = None
        self.fit()

    def _redrawn(self) -> None:
        sheet = self.session.shown
        if self._fitted and sheet is not None:
            self.fit()
        self._describe()
        self.update()

    def _describe(self) -> None:
        entry, sheet = self.session.entry, self.session.shown
        if entry and sheet:
            self.setAccessibleDescription(f"{entry.title}. {sheet.says}")

    def fit(self) -> None:
        """The whole sheet in the window."""
        self._fitted = True
        wide, high = self._paper_size
        if wide:
            room_x, room_y = self.width() - 36, self.height() - 36
            self.zoom = max(min(room_x / wide, room_y / high), 0.05)
            self.left = (self.width() - wide * self.zoom) / 2
            self.top = (self.height() - high * self.zoom) / 2
        self.update()

    @property
    def _paper_size(self) -> tuple[float, float]:
        """mm across and up of what lies on the board; 0 for nothing."""
        lying, sheet = self.session.lying, self.session.shown
        if lying is not None:
            return lying.width, lying.height
        return (sheet.paper.width, sheet.paper.height) if sheet is not None else (0.0, 0.0)

    def true_size(self) -> None:
        """A millimetre of paper is a millimetre on the screen, as it was checked, or else as far as the screen tells
        its size."""
        from wise_compass.job.person import person

        told = self.screen().physicalDotsPerInch() / 25.4
        self.zoom_to(person().screens.get(self.screen().name(), told), QPointF(self.width() / 2, self.height() / 2))

    def zoom_by(self, factor: float, about: QPointF | None = None) -> None:
        self.zoom_to(self.zoom * factor, about or QPointF(self.width() / 2, self.height() / 2))

    def zoom_to(self, zoom: float, about: QPointF) -> None:
        """Zoom so that what lies under ``about`` stays there."""
        zoom = min(max(zoom, 0.2), 200.0)
        self.left = about.x() - (about.x() - self.left) * zoom / self.zoom
        self.top = about.y() - (about.y() - self.top) * zoom / self.zoom
        self.zoom, self._fitted = zoom, False
        self.update()

    def resizeEvent(self, event: QEvent) -> None:
        if self._fitted:
            self.fit()

    def set_clean(self, clean: bool) -> None:
        """Hide or show the construction."""
        self.clean = clean
        self.update()

    def _placed(self) -> Placed | None:
        sheet, at = self.session.shown, self.session.job.find(self.session.entry_id)
        return reading.placed_at(sheet, at[1]) if sheet and at else None

    @property
    def glass(self) -> Glass:
        """What the sheet is seen through."""
        return Glass(self.zoom, self.left, self.top, self._paper_size[1])

    def to_sheet(self, at: QPointF) -> Array:
        """Sheet millimetres under a place in the window."""
        return self.glass.sheet(at)

    def to_window(self, at: Array) -> QPointF:
        """The place in the window of sheet millimetres."""
        return self.glass.xy(at)

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour(GROUND))
        sheet, lying = self.session.shown, self.session.lying
        if lying is not None:
            lying.paint(painter, self.glass, self.size())
        elif sheet is None:
            self._empty(painter)
        else:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._still(painter, sheet)
            self._moving(painter, sheet)
            placed = self._placed()
            if placed is not None and self.session.asked is not None:
                choosing.paint(painter, self.session.asked, placed, sheet, self.glass)
            if placed is not None and self.session.scatter and self.session.finished:
                draw_scatter(painter, self.session, placed, sheet.scale, self.glass)
            if placed is not None and self.session.lines_drawn:
                draw_wrong(painter, self.session.lines_drawn, placed, sheet.scale, self.glass)
            draw_dividers(painter, self.size(), self.picks, self.glass, self.session.style)
            self._hovering(painter)
            if self.session.refusal is not None:
                self._stale(painter)
        if self._said:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw_note(painter, self.size(), QPointF(0, self.height() - 4), self._said)
        painter.end()
        self.painted.emit()

    def _still(self, painter: QPainter, sheet: Sheet) -> None:
        """Paper and sheet; while something moves over them, painted once and kept."""
        session = self.session
        if not session.between:
            self._kept = None
            self._paper(painter, sheet)
            self._sheet(painter, sheet)
            return
        key = (sheet, session.step, session.marks_lit, self.clean, self.zoom, self.left, self.top, self.size())
        if self._kept is None or self._kept[0] != key:
            ratio = self.devicePixelRatioF()
            kept = QPixmap(self.size() * ratio)
            kept.setDevicePixelRatio(ratio)
            kept.fill(colour(GROUND))
            inner = QPainter(kept)
            inner.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paper(inner, sheet)
            self._sheet(inner, sheet)
            inner.end()
            self._kept = (key, kept)
        painter.drawPixmap(0, 0, self._kept[1])

    def _moving(self, painter: QPainter, sheet: Sheet) -> None:
        """What moves, where the walk stands among the points that it finds."""
        session, placed = self.session, self._placed()
        if session.finished or placed is None or session.refusal is not None:
            return
        motion = session.motion
        if motion is not None and motion.covers(session.place):
            MovingParts(painter, placed, sheet.scale, self.glass).draw(motion, session.place)

    def _empty(self, painter: QPainter) -> None:
        painter.setFont(font(15))
        painter.setPen(colour(SOFT))
        if self.session.entry is not None:
            words = "This figure cannot be drawn yet; the line above says why."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)

    def _paper(self, painter: QPainter, sheet: Sheet) -> None:
        paper = QRectF(self.left, self.top, sheet.paper.width * self.zoom, sheet.paper.height * self.zoom)
        painter.fillRect(paper.translated(4, 4), on_paper("#B9B29F", 0.6 if shade(GROUND) == GROUND else 0.0))
        painter.fillRect(paper, on_paper(PAPER))

    def _surface(self, painter: QPainter, sheet: Sheet, tint: str = "", stronger: float = 1.0) -> PainterSurface:
        return PainterSurface(painter, self.glass, tint=tint, stronger=stronger)

    def _sheet(self, painter: QPainter, sheet: Sheet) -> None:
        """Items of the current entry follow the walk; those of its neighbours are simply there."""
        surface = self._surface(painter, sheet)
        mine, _ = self._split(sheet)
        session = self.session
        walking = not session.finished
        own = {id(item) for item in mine} if walking else set()
        current: list[Item] = []
        for item in sheet.drawing.items:
            if self.clean and item.layer in NOT_CLEAN:
                continue
            if id(item) in own and item.step:
                if item.step == session.step:
                    current.append(item)
                    continue
                if item.step > session.step:
                    if item.layer == "result":
                        painter.setOpacity(PREVIEW)
                        item.put(surface)
                        painter.setOpacity(1.0)
                    continue
            elif walking and item.layer == "dimension":
                painter.setOpacity(0.35)
                item.put(surface)
                painter.setOpacity(1.0)
                continue
            item.put(surface)
        if walking and session.step:
            self._current(painter, sheet, current)
        self._lit(painter, mine)

    def _split(self, sheet: Sheet) -> tuple[list[Item], Placed | None]:
        """The items that the current entry brought to the sheet."""
        placed = self._placed()
        if placed is None:
            return [], None
        index = sheet.placed.index(placed)
        start, end = sheet.spans[index]
        return sheet.drawing.items[start:end], placed

    def _current(self, painter: QPainter, sheet: Sheet, items: list[Item]) -> None:
        placed, made = self._placed(), self.session.run
        if placed is None or made is None:
            return
        step = made.steps[self.session.step - 1]
        motion = self.session.motion
        if motion is None or not motion.covers(self.session.place):
            Ghosts(painter, self._surface(painter, sheet), placed.origin, sheet.scale, placed.piece.turn).draw(step)
        entry = self.session.entry
        for face in faces_on_paper(self.session):
            corners = [self.to_window(placed.at(at, sheet.scale)) for at in face]
            light(painter, corners, entry is not None and entry.hatched)
        strong = self._surface(painter, sheet, tint=COPPER, stronger=1.9)
        for item in items:
            item.put(strong)

    def _lit(self, painter: QPainter, items: list[Item]) -> None:
        """A halo about each spot that a value or the pointer is about, a cross at each place where a point would
        help."""
        names = set(self.session.marks_lit)
        placed, sheet, made = self._placed(), self.session.shown, self.session.run
        if placed is None or sheet is None or made is None:
            return
        painter.setPen(QPen(on_paper(TEAL), 1.8))
        for hint in self.session.hints:
            place = self.to_window(placed.at(np.array(hint), sheet.scale))
            for x, y in ((4.5, 4.5), (4.5, -4.5)):
                painter.drawLine(place + QPointF(x, y), place - QPointF(x, y))
        painter.setPen(QPen(on_paper(TEAL), 2.0))
        painter.setBrush(on_paper(TEAL, 0.18))
        places = [self.to_window(placed.at(made.spots[name].here, sheet.scale)) for name in names if name in made.spots]
        for place in places:
            painter.drawEllipse(place, 9.0, 9.0)

    def _stale(self, painter: QPainter) -> None:
        words = "The last good figure"
        painter.setFont(font(13, bold=True))
        width = painter.fontMetrics().horizontalAdvance(words) + 24
        box = QRectF(self.width() - width - 14, 12, width, 28)
        painter.setPen(QPen(on_paper(COPPER), 1, Qt.PenStyle.DashLine))
        painter.setBrush(on_paper(PAPER))
        painter.drawRect(box)
        painter.setPen(on_paper(COPPER))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    def _hovering(self, painter: QPainter) -> None:
        if self._hover is not None:
            place, words, _ = self._hover
            draw_note(painter, self.size(), place, words)

    # the pointer

    def _pick_at(self, at: QPointF) -> reading.Picked | None:
        sheet, placed = self.session.shown, self._placed()
        if sheet is None or placed is None:
            return None
        there = self.to_sheet(at)
        step = None if self.session.finished else self.session.step
        spot = reading.nearest_spot(sheet, placed, there, REACH / self.zoom, step)
        return spot or reading.Picked(there, placed.of(there, sheet.scale))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            lying = self.session.lying
            if lying is not None and lying.press(event.position(), self.glass):
                return
            self._grip, self._moved = event.position(), False
            self._carrying = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        lying = self.session.lying
        if lying is not None and lying.move(at, self.glass):
            return
        if self._grip is not None:
            shift = at - self._grip
            if self._moved or abs(shift.x()) + abs(shift.y()) > 4:
                self._moved, self._grip = True, at
                if self._carrying and lying is None:
                    self.session.shift_figure((shift.x() / self.zoom, -shift.y() / self.zoom))
                    return
                self._fitted = False
                self.left, self.top = self.left + shift.x(), self.top + shift.y()
                self.setCursor(Qt.CursorShape.ClosedHandCursor)
                self.update()
            return
        if lying is None:
            self._hover_at(at)

    def _hover_at(self, at: QPointF) -> None:
        sheet, placed, made = self.session.shown, self._placed(), self.session.run
        before, self._hover = self._hover, None
        asked = self.session.asked
        if asked is not None and sheet is not None and placed is not None:
            words = asked.hover(*choosing.place(placed, sheet, self.glass, at, REACH))
            self._hover = (at, words, "") if words else None
            self.update()
        elif sheet is not None and placed is not None and made is not None and placed.piece.run is made:
            pick = self._pick_at(at)
            style = self.session.style
            if pick is not None and pick.name:
                more = style.say(scatter_words(self.session, pick.name))
                words = reading.spot_words(made, pick.name, style) + (f"\n{more}" if more else "")
                self._hover = (at, words, pick.name)
            else:
                shown = [
                    item for item in self._split(sheet)[0] if self.session.finished or item.step <= self.session.step
                ]
                item = reading.item_at(shown, self.to_sheet(at), REACH * 0.7 / self.zoom)
                words = "" if item is None else reading.mark_words(made, item.owner, style, sheet.scale)
                if not words:
                    there, reach = self.to_sheet(at), REACH * 0.4 / self.zoom
                    words = reading.gap_at(placed.piece.gaps, placed, sheet.scale, there, reach, style)
                if words:
                    self._hover = (at, words, "")
            self.session.light((self._hover[2],) if self._hover and self._hover[2] else ())
        if before is not None or self._hover is not None:
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        lying, clicked = self.session.lying, self._grip is not None and not self._moved
        if lying is not None:
            if not lying.release(event.position(), self.glass) and clicked:
                lying.click(event.position(), self.glass)
        elif clicked and event.button() == Qt.MouseButton.LeftButton and not self._chosen(event.position()):
            pick = self._pick_at(event.position())
            if pick is not None:
                if len(self.picks) == 2:
                    self.picks.clear()
                self.picks.append(pick)
                self._hover = None
        self._grip = None
        self.setCursor(Qt.CursorShape.CrossCursor if self.session.shown else Qt.CursorShape.ArrowCursor)
        self.update()

    def _chosen(self, at: QPointF) -> bool:
        """Whether the click took what is to be chosen from."""
        sheet, placed, asked = self.session.shown, self._placed(), self.session.asked
        if asked is None or sheet is None or placed is None:
            return False
        self._hover = None
        return asked.choose(*choosing.place(placed, sheet, self.glass, at, REACH))

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = None
        self.session.light(())
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom_by(1.0015 ** event.angleDelta().y(), event.position())

    def event(self, event: QEvent) -> bool:
        lying = self.session.lying
        if (  # the window's walk has the arrows too
            lying is not None
            and isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and lying.takes(event)
        ):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.session.lying is not None and self.session.lying.key(event):
            return
        if event.key() == Qt.Key.Key_Escape and self.picks:
            self.picks.clear()
            self.update()
            return
        super().keyPressEvent(event)

    def pick_spot(self, name: str) -> None:
        """Set the next point of the dividers on a named spot, for the keyboard."""
        made, placed, sheet = self.session.run, self._placed(), self.session.shown
        if made and placed and sheet and name in made.spots:
            here = made.spots[name].here
            if len(self.picks) == 2:
                self.picks.clear()
            self.picks.append(reading.Picked(placed.at(here, sheet.scale), here, name))
            self.update()
