"""A list of cards: a figure in large type, a caption, a sentence, a small note. Steps, values and proofs are shown
so."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from PySide6.QtCore import QAbstractListModel, QEvent, QModelIndex, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractItemView, QListView, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from wise_compass.desk.parts.indexes import Index
from wise_compass.desk.parts.theme import COPPER, HAIRLINE, INK, PAPER, SOFT, TEAL, colour, font, px

PAD_X, PAD_Y, NUMBER = 12, 7, 24


class Card(NamedTuple):
    """One card. ``heading`` stands above it where it differs from the card before; ``marks`` are spots it is about."""

    number: str = ""
    caption: str = ""
    figure: str = ""
    body: str = ""
    note: str = ""
    heading: str = ""
    marks: tuple[str, ...] = ()
    accent: str = TEAL

    @property
    def copied(self) -> str:
        """What is copied of it: of a value the value alone, else its words."""
        return self.figure or "\n".join(part for part in (self.body.partition("\n")[0], self.note) if part)


class _Model(QAbstractListModel):
    def __init__(self) -> None:
        super().__init__()
        self.cards: list[Card] = []

    def rowCount(self, parent: Index | None = None) -> int:
        return len(self.cards)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        card = self.cards[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return ". ".join(
                part for part in (card.heading, card.number, card.caption, card.figure, card.body, card.note) if part
            )
        return None

    def replace(self, cards: Sequence[Card]) -> None:
        """Take new cards; where their count stays, rows are changed in place, so that nothing jumps."""
        if len(cards) == len(self.cards):
            self.cards = list(cards)
            if cards:
                self.dataChanged.emit(self.index(0), self.index(len(cards) - 1))
            return
        self.beginResetModel()
        self.cards = list(cards)
        self.endResetModel()


class _CardPainter(QStyledItemDelegate):
    def __init__(self, view: CardList) -> None:
        super().__init__(view)
        self.view = view
        self.fonts = {"small": font(12), "figure": font(17, True), "body": font(13), "heading": font(12, True)}
        self.metrics = {name: QFontMetrics(one) for name, one in self.fonts.items()}
        self._heights: dict[tuple[str, int, str], int] = {}
        self._laid: dict[tuple[Card, int], tuple[int, int, int, int]] = {}

    def _left(self, card: Card) -> int:
        return PAD_X + (px(NUMBER) if card.number else 0)

    def _height(self, words: str, width: int, kind: str = "body") -> int:
        if not words:
            return 0
        key = (words, width, kind)
        if key not in self._heights:
            if len(self._heights) > 4000:
                self._heights.clear()
            box = self.metrics[kind].boundingRect(QRect(0, 0, width, 4000), int(Qt.TextFlag.TextWordWrap), words)
            self._heights[key] = box.height()
        return self._heights[key]

    def _parts(self, card: Card, width: int) -> tuple[int, int, int, int]:
        """Heights of heading, top line, body and note."""
        key = (card, width)
        if key not in self._laid:
            if len(self._laid) > 4000:
                self._laid.clear()
            self._laid[key] = self._lay_out(card, width)
        return self._laid[key]

    def _lay_out(self, card: Card, width: int) -> tuple[int, int, int, int]:
        inner = width - self._left(card) - PAD_X
        heading = px(26) if card.heading else 0
        figure_wide = self.metrics["figure"].horizontalAdvance(card.figure)
        caption_wide = self.metrics["small"].horizontalAdvance(card.caption)
        top = px(22) if card.caption or card.figure else 0
        if card.caption and figure_wide + caption_wide + 10 > inner:
            top += px(20)
        return heading, top, self._height(card.body, inner), self._height(card.note, inner, "small")

    def height(self, card: Card, width: int) -> int:
        """The height of a card at a width, in pixels."""
        return sum(self._parts(card, width)) + 2 * PAD_Y + 2

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        width = self.view.card_width
        return QSize(width, self.height(self.view.cards[index.row()], width))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        card: Card = self.view.cards[index.row()]
        width = self.view.card_width
        heading, top, body, note = self._parts(card, width)
        box = option.rect
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = box.top()
        if heading:
            self._write(painter, "heading", SOFT, QRect(PAD_X, y + 5, width - 2 * PAD_X, px(20)), card.heading)
            painter.setPen(colour(HAIRLINE))
            painter.drawLine(PAD_X, y + heading - 1, width - PAD_X, y + heading - 1)
            y += heading
        current = self.view.selectionModel().isSelected(index)
        if current:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(PAPER))
            painter.drawRect(QRectF(0, y, width, box.bottom() - y))
            painter.setBrush(colour(COPPER))
            painter.drawRect(QRectF(0, y, 4, box.bottom() - y))
        y += PAD_Y
        left = self._left(card)
        inner = width - left - PAD_X
        if card.number:
            self._write(painter, "small", SOFT, QRect(PAD_X - 2, y + 2, px(NUMBER), px(18)), card.number)
        self._top(painter, card, QRect(left, y, inner, top), COPPER if current else card.accent)
        y += top
        self._write(painter, "body", INK, QRect(left, y, inner, body + 2), card.body)
        self._write(painter, "small", SOFT, QRect(left, y + body, inner, note + 2), card.note)
        painter.restore()

    def _top(self, painter: QPainter, card: Card, box: QRect, accent: str) -> None:
        self._write(painter, "small", SOFT, QRect(box.left(), box.top() + 2, box.width(), px(18)), card.caption)
        under = px(20) if box.height() > px(30) else 0
        painter.setFont(self.fonts["figure"])
        painter.setPen(colour(accent))
        painter.drawText(
            QRect(box.left(), box.top() + under - 1, box.width(), px(22)),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            card.figure,
        )

    def _write(self, painter: QPainter, kind: str, ink: str, box: QRect, words: str) -> None:
        if words:
            painter.setFont(self.fonts[kind])
            painter.setPen(colour(ink))
            painter.drawText(box, Qt.TextFlag.TextWordWrap, words)


class CardList(QListView):
    """Cards in a column. ``chosen`` tells the row that a person picked, ``over`` the spots of the card under the
    pointer."""

    chosen = Signal(int)
    over = Signal(tuple)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._model, self._painter = _Model(), _CardPainter(self)
        self.setModel(self._model)
        self._heights: list[int] = []
        self.empty = ""
        """What is said where there are no cards: what stands here, and what to do for it."""
        self.setItemDelegate(self._painter)
        self.setAccessibleName(name)
        self.setMouseTracking(True)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.activated.connect(lambda index: self.chosen.emit(index.row()))
        self.clicked.connect(lambda index: self.chosen.emit(index.row()))

    @property
    def card_width(self) -> int:
        """Beside the scroll bar, whether it is shown or not: cards do not break anew when it comes."""
        return self.width() - self.verticalScrollBar().sizeHint().width()

    @property
    def cards(self) -> list[Card]:
        return self._model.cards

    def show_cards(self, cards: Sequence[Card]) -> None:
        """Take new cards; they are laid out anew only where a height has changed."""
        width = self.card_width
        heights = [self._painter.height(card, width) for card in cards]
        if len(self._heights) == len(heights) and self._heights != heights:
            self.scheduleDelayedItemsLayout()
        self._heights = heights
        self._model.replace(cards)

    def mark(self, row: int) -> None:
        """Make a row the current one (-1 for none) without telling anyone, and keep it in sight."""
        if row < 0:
            self.clearSelection()
            self.setCurrentIndex(QModelIndex())
            return
        index = self._model.index(row)
        self.setCurrentIndex(index)
        self.scrollTo(index, QAbstractItemView.ScrollHint.PositionAtCenter)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if not self.cards and self.empty:
            painter = QPainter(self.viewport())
            painter.setFont(font(13))
            painter.setPen(colour(SOFT))
            box = self.viewport().rect().adjusted(PAD_X, 12, -PAD_X, -12)
            painter.drawText(box, int(Qt.TextFlag.TextWordWrap), self.empty)
            painter.end()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Copy) and self.currentIndex().isValid():
            QGuiApplication.clipboard().setText(self.cards[self.currentIndex().row()].copied)
            event.accept()
            return
        super().keyPressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        row = self.indexAt(event.position().toPoint()).row()
        self.over.emit(self.cards[row].marks if row >= 0 else ())
        super().mouseMoveEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        self.over.emit(())

    def currentChanged(self, current: Index, previous: Index) -> None:
        super().currentChanged(current, previous)
        if self.hasFocus() and current.isValid():
            self.over.emit(self.cards[current.row()].marks)
            self.chosen.emit(current.row())
