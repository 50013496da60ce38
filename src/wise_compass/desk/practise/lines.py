"""The problems in hand as lines of the spine: what each is, and how it stands."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QPainter
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QStyledItemDelegate, QStyleOptionViewItem

from wise_compass.desk.parts.indexes import Index
from wise_compass.desk.parts.keys import TABLE, keep
from wise_compass.desk.parts.theme import INK, PANEL, PINE_SOFT, PINE_TEXT, SOFT, colour, font, px, wide
from wise_compass.desk.practise.practising import Practising
from wise_compass.desk.spine.spinelist import WIDTH

ROW = 44
STATE = int(Qt.ItemDataRole.UserRole) + 1


class ProblemLines(QListWidget):
    """``dropped`` tells that the problem at hand is to be put away."""

    dropped = Signal()

    def __init__(self, session: Practising) -> None:
        super().__init__()
        self.session = session
        self.setAccessibleName("Problems set and done; Delete puts one away")
        self.setItemDelegate(_LinePainter(self))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        keep(self, TABLE)
        self._filling = False
        self.currentRowChanged.connect(self._chosen)
        session.job_changed.connect(self.fill)
        session.selected.connect(self.fill)
        self.fill()

    def fill(self) -> None:
        """A line a problem, the newest first."""
        self._filling = True
        self.clear()
        for one in self.session.problems:
            title = one.problem.kind.title
            item = QListWidgetItem(f"{one.pupil}: {title}" if one.pupil else title)
            state = "now" if one.noted == self.session.entry_id and not one.mark else one.state
            item.setData(STATE, state)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{item.text()}, {state}")
            item.setToolTip(one.problem.words(self.session.style))
            self.addItem(item)
            if one.noted == self.session.entry_id:
                self.setCurrentItem(item)
        self._filling = False

    def _chosen(self, row: int) -> None:
        if not self._filling and 0 <= row < len(self.session.problems):
            self.session.select(self.session.problems[row].noted)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Delete:
            self.dropped.emit()
        else:
            super().keyPressEvent(event)


class _LinePainter(QStyledItemDelegate):
    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return QSize(wide(WIDTH) - 20, px(ROW))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        lines, box = self.parent(), option.rect
        assert isinstance(lines, ProblemLines)
        chosen = lines.currentRow() == index.row()
        painter.save()
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(PANEL))
            painter.drawRect(QRectF(8, box.top() + 1, wide(WIDTH) - 17, box.height() - 3))
        room = wide(WIDTH) - 36
        for words, dark, soft, bold, y in (
            (str(index.data()), INK, PINE_TEXT, True, 18),
            (str(index.data(STATE)), SOFT, PINE_SOFT, False, 35),
        ):
            shown = font(13 if bold else 12, bold)
            painter.setFont(shown)
            painter.setPen(colour(dark if chosen else soft))
            fits = QFontMetrics(shown).elidedText(words, Qt.TextElideMode.ElideRight, room)
            painter.drawText(16, box.top() + px(y), fits)
        painter.restore()
