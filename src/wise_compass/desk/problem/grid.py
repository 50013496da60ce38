"""The catalogue as pictures in a grid."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QListView, QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from wise_compass.desk.parts.indexes import Index
from wise_compass.desk.parts.theme import HAIRLINE, INK, PAPER, SOFT, TEAL, colour, font, px
from wise_compass.desk.spine.pictures import default_courses, paint_picture
from wise_compass.drafting.figure import Figure

KIND = Qt.ItemDataRole.UserRole
WIDE, HIGH = 178, 168


class _Tile(QStyledItemDelegate):
    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return QSize(px(WIDE), px(HIGH))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        kind: type[Figure] = index.data(KIND)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        card = QRectF(option.rect).adjusted(4, 4, -4, -4)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(colour(PAPER))
        pen = colour(TEAL if chosen else HAIRLINE)
        painter.setPen(pen)
        painter.drawRect(card)
        if chosen:
            painter.drawRect(card.adjusted(1, 1, -1, -1))
        words = px(62)
        picture = card.adjusted(22, 12, -22, -words - 8)
        paint_picture(painter, default_courses(kind.id), picture, INK, 1.4)
        room = QRectF(card.left() + 10, card.bottom() - words, card.width() - 20, words - 6)
        painter.setFont(font(13, True))
        painter.setPen(colour(INK))
        elided = painter.fontMetrics().elidedText(kind.title, Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignTop, elided)
        painter.setFont(font(12))
        painter.setPen(colour(SOFT))
        below = room.adjusted(0, px(19), 0, 0)
        painter.drawText(below, Qt.AlignmentFlag.AlignTop, _two_lines(painter, kind, room.width()))
        painter.restore()


def _two_lines(painter: QPainter, kind: type[Figure], wide: float) -> str:
    """What a figure is for, as far as two lines take it."""
    words, lines = kind.summary.split(), [""]
    while words:
        longer = f"{lines[-1]} {words[0]}".strip()
        if painter.fontMetrics().horizontalAdvance(longer) <= wide:
            lines[-1] = longer
            words.pop(0)
        elif len(lines) == 2:
            rest = " ".join([lines[-1], *words])
            lines[-1] = painter.fontMetrics().elidedText(rest, Qt.TextElideMode.ElideRight, int(wide))
            break
        else:
            lines.append("")
    return "\n".join(lines)


class FigureGrid(QListWidget):
    """Figures as pictures, in rows; the current one is that which would be set."""

    def __init__(self) -> None:
        super().__init__()
        self.setItemDelegate(_Tile(self))
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMovement(QListView.Movement.Static)
        self.setUniformItemSizes(True)
        self.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.setAccessibleName("Figures of the catalogue")
        self.setObjectName("tiles")

    def show_kinds(self, kinds: Sequence[type[Figure]]) -> None:
        """Show some figures, the first of them chosen."""
        if [self.item(row).data(KIND) for row in range(self.count())] == list(kinds):
            return
        self.blockSignals(True)
        self.clear()
        for kind in kinds:
            item = QListWidgetItem(kind.title, self)
            item.setData(KIND, kind)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{kind.title}. {kind.summary}")
            item.setToolTip(kind.summary)
        self.setCurrentRow(0 if kinds else -1)
        self.blockSignals(False)

    def kind(self) -> type[Figure] | None:
        """The chosen figure."""
        item = self.currentItem()
        kind: type[Figure] | None = item.data(KIND) if item is not None else None
        return kind
