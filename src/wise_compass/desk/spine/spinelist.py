"""The list of the spine: its lines as a model, how they are painted, and the keys of their own that they have."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QAbstractListModel, QMimeData, QModelIndex, QPointF, QRect, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QCursor, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QListView, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from wise_compass.desk.parts.indexes import Index
from wise_compass.desk.parts.theme import INK, PANEL, PINE_LIGHT, PINE_SOFT, PINE_TEXT, SOFT, colour, font, px, wide
from wise_compass.desk.session.session import Session
from wise_compass.desk.spine.pictures import courses, paint_picture
from wise_compass.desk.spine.spinerows import SpineRow
from wise_compass.geometry.vectors import Array
from wise_compass.job.model import Entry

WIDTH = 196
ROW, HEAD, COMMAND = 54, 25, 42
LINE_HEIGHT = 16
MARK = 28
"""How far from the left the mark of a sheet's line reaches."""
LINE = "application/x-wise-compass-line"
"""What a dragged line is told as."""


def _room() -> int:
    """What a title has of the width beside its picture."""
    return wide(WIDTH) - 80


class LineModel(QAbstractListModel):
    """The lines, as the list view wants them; what is dragged is told by its number."""

    renamed = Signal(int, str)
    dragged = Signal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[SpineRow] = []

    def rowCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def flags(self, index: Index) -> Qt.ItemFlag:
        flag = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        if not index.isValid():
            return Qt.ItemFlag.ItemIsDropEnabled
        if self.rows[index.row()].kind == "command":
            return flag
        return flag | Qt.ItemFlag.ItemIsEditable | Qt.ItemFlag.ItemIsDragEnabled

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return row.title
        return row.spoken if role == Qt.ItemDataRole.AccessibleTextRole else None

    def setData(self, index: Index, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        self.renamed.emit(index.row(), str(value))
        return True

    def supportedDropActions(self) -> Qt.DropAction:
        return Qt.DropAction.MoveAction

    def mimeTypes(self) -> list[str]:
        return [LINE]

    def mimeData(self, indexes: Sequence[QModelIndex]) -> QMimeData:
        data = QMimeData()
        data.setData(LINE, str(indexes[0].row()).encode())
        return data

    def dropMimeData(self, data: QMimeData, action: Qt.DropAction, row: int, column: int, parent: Index) -> bool:
        number = bytes(data.data(LINE).data())
        if number.isdigit() and int(number) < len(self.rows):
            before = row if row >= 0 else parent.row() + 1 if parent.isValid() else len(self.rows)
            self.dragged.emit(int(number), before)
        return False  # the job is what moves; the list follows it


class LinePainter(QStyledItemDelegate):
    def __init__(self, view: QListView, lines: LineModel, session: Session) -> None:
        super().__init__(view)
        self.view, self.lines, self.session = view, lines, session
        self._pictures: dict[str, tuple[object, list[Array]]] = {}
        self._wanted: dict[str, Entry] = {}
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._draw_one)

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        row = self.lines.rows[index.row()]
        high = {"sheet": HEAD, "command": COMMAND}.get(row.kind, ROW)
        if row.kind == "figure" and len(self._lines(row.title)) > 1:
            high += LINE_HEIGHT
        return QSize(wide(WIDTH), px(high))

    def _lines(self, title: str) -> list[str]:
        """A title in one line or two, the second cut off where it is longer."""
        metrics = QFontMetrics(font(13, True))
        words, first = title.split(), ""
        while words and metrics.horizontalAdvance(f"{first} {words[0]}".strip()) <= _room():
            first = f"{first} {words.pop(0)}".strip()
        if not first:
            return [metrics.elidedText(title, Qt.TextElideMode.ElideRight, _room())]
        rest = metrics.elidedText(" ".join(words), Qt.TextElideMode.ElideRight, _room())
        return [first, rest] if rest else [first]

    def _courses(self, entry: Entry) -> list[Array]:
        """What stands of the entry's picture; one that is still to be run is drawn once the window has been painted."""
        entry = self.session.job.entry(entry.id) or entry  # the list may hold it as it was before an edit
        have = self._pictures.get(entry.id)
        made = self.session.standing(entry)
        if made is None:
            if have is None or have[0] != (entry, self.session.job.settings):
                self._wanted[entry.id] = entry
                self._later.start(0)
            return have[1] if have else []
        if have is None or have[0] is not made:
            have = self._pictures[entry.id] = (made, courses(made))
        return have[1]

    def _draw_one(self) -> None:
        """Run one of the figures whose picture is wanted, then let the window breathe."""
        entry = self._wanted.pop(next(iter(self._wanted)))
        made = self.session.run_for(entry)
        if made is None:
            self._pictures[entry.id] = ((entry, self.session.job.settings), [])
        if self._wanted:
            self._later.start(0)
        self.view.viewport().update()

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        row = self.lines.rows[index.row()]
        box = option.rect
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.view.selectionModel().isSelected(index)
        hovered = (
            self.view.underMouse() and self.view.indexAt(self.view.viewport().mapFromGlobal(QCursor.pos())) == index
        )
        ink, soft = (INK, SOFT) if chosen else (PINE_TEXT, PINE_SOFT)
        if chosen or hovered:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(PANEL if chosen else PINE_LIGHT))
            painter.drawRect(QRectF(8, box.top() + 1, wide(WIDTH) - 17, box.height() - 3))
        if row.kind == "sheet":
            self._paint_sheet(painter, row, box, ink, soft)
        elif row.kind == "command":
            self._paint_command(painter, row, box, ink, soft)
        else:
            self._paint_figure(painter, row, box, ink, soft)
        painter.restore()

    @staticmethod
    def _paint_sheet(painter: QPainter, row: SpineRow, box: QRect, ink: str, soft: str) -> None:
        painter.setPen(QPen(colour(soft), 1.4))
        middle = box.top() + px(HEAD) / 2
        tip = [(13, -3), (17, 1), (21, -3)] if row.open else [(15, -4), (19, 0), (15, 4)]
        painter.drawPolyline(QPolygonF([QPointF(x, middle + y) for x, y in tip]))
        painter.setFont(font(12))
        painter.drawText(28, box.top() + px(18), str(row.sheet + 1))
        painter.setPen(colour(soft if row.open else ink))
        painter.drawText(
            28 + px(22),
            box.top() + px(18),
            painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, wide(WIDTH) - 48 - px(22)),
        )

    @staticmethod
    def _paint_command(painter: QPainter, row: SpineRow, box: QRect, ink: str, soft: str) -> None:
        painter.setFont(font(12))
        painter.setPen(colour(ink))
        painter.drawText(
            16,
            box.top() + px(17),
            painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, wide(WIDTH) - 34),
        )
        painter.setPen(colour(soft))
        painter.drawText(16, box.top() + px(33), row.below or "no key")

    def _paint_figure(self, painter: QPainter, row: SpineRow, box: QRect, ink: str, soft: str) -> None:
        assert row.entry is not None
        lines, top = self._lines(row.title), box.top()
        paint_picture(painter, self._courses(row.entry), QRectF(17, top + (box.height() - 34) / 2, 32, 32), ink)
        painter.setFont(font(13, True))
        painter.setPen(colour(ink))
        for n, words in enumerate(lines):
            painter.drawText(60, top + px(22 + n * LINE_HEIGHT), words)
        painter.setFont(font(12))
        painter.setPen(colour(soft))
        at = top + px(40 + (len(lines) - 1) * LINE_HEIGHT)
        painter.drawText(60, at, painter.fontMetrics().elidedText(row.below, Qt.TextElideMode.ElideRight, _room()))

    def updateEditorGeometry(self, editor: QWidget, option: QStyleOptionViewItem, index: Index) -> None:
        figure = self.lines.rows[index.row()].kind == "figure"
        editor.setGeometry(
            56 if figure else 46,
            option.rect.top() + (6 if figure else -1),
            wide(WIDTH) - (64 if figure else 54),
            px(28),
        )


class LineList(QListView):
    """The list; Left and Right fold the sheet at hand and open it, Enter does what a line is for."""

    folded = Signal(int, bool)
    entered = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.pressed_at = 0.0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.pressed_at = event.position().x()
        super().mousePressEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        row = self.currentIndex().row()
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and row >= 0:
            self.folded.emit(row, event.key() == Qt.Key.Key_Left)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and row >= 0:
            self.entered.emit(row)
        else:
            super().keyPressEvent(event)
