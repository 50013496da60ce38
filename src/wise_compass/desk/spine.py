"""The spine: the job's title and its figures, by sheet, each with a little picture."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import (
    QAbstractListModel,
    QEvent,
    QMimeData,
    QModelIndex,
    QObject,
    QPointF,
    QRect,
    QRectF,
    QSize,
    Qt,
    QTimer,
    Signal,
)
from PySide6.QtGui import QCursor, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import (
    QAbstractItemView,
    QLabel,
    QLineEdit,
    QListView,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.keys import PRESS, TABLE, keep
from wise_compass.desk.pictures import courses, paint_picture
from wise_compass.desk.session import Session
from wise_compass.desk.spinerows import Command, Row, dropped, rows_of, sheet_key
from wise_compass.desk.theme import INK, PANEL, PINE_LIGHT, PINE_SOFT, PINE_TEXT, SOFT, colour, font, px, wide
from wise_compass.job.model import Entry

WIDTH = 196
ROW, HEAD, COMMAND = 54, 26, 42
LINE_HEIGHT = 16
MARK = 28
"""How far from the left the mark of a sheet's line reaches."""
LINE = "application/x-wise-compass-line"
"""What a dragged line is told as."""


def _room() -> int:
    """What a title has of the width beside its picture."""
    return wide(WIDTH) - 70


class _Model(QAbstractListModel):
    """The lines, as the list view wants them; what is dragged is told by its number."""

    renamed = Signal(int, str)
    dragged = Signal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Row] = []

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flag = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        if not index.isValid():
            return Qt.ItemFlag.ItemIsDropEnabled
        if self.rows[index.row()].kind == "command":
            return flag
        return flag | Qt.ItemFlag.ItemIsEditable | Qt.ItemFlag.ItemIsDragEnabled

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return row.title
        return row.spoken if role == Qt.ItemDataRole.AccessibleTextRole else None

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        self.renamed.emit(index.row(), str(value))
        return True

    def supportedDropActions(self) -> Qt.DropAction:
        return Qt.DropAction.MoveAction

    def mimeTypes(self) -> list[str]:
        return [LINE]

    def mimeData(self, indexes: list[QModelIndex]) -> QMimeData:
        data = QMimeData()
        data.setData(LINE, str(indexes[0].row()).encode())
        return data

    def dropMimeData(self, data: QMimeData, action: Qt.DropAction, row: int, column: int, parent: QModelIndex) -> bool:
        number = bytes(data.data(LINE).data())
        if number.isdigit() and int(number) < len(self.rows):
            before = row if row >= 0 else parent.row() + 1 if parent.isValid() else len(self.rows)
            self.dragged.emit(int(number), before)
        return False  # the job is what moves; the list follows it


class _Painter(QStyledItemDelegate):
    def __init__(self, view: QListView, session: Session) -> None:
        super().__init__(view)
        self.view, self.session = view, session
        self._pictures: dict[str, tuple[object, list]] = {}
        self._wanted: dict[str, Entry] = {}
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._draw_one)

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        row: Row = index.model().rows[index.row()]
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

    def _courses(self, entry: Entry) -> list:
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

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        row: Row = index.model().rows[index.row()]
        box = option.rect
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.view.selectionModel().isSelected(index)
        hovered = self.view.underMouse() and self.view.indexAt(self.view.viewport().mapFromGlobal(QCursor.pos())) == index
        ink, soft = (INK, SOFT) if chosen else (PINE_TEXT, PINE_SOFT)
        if chosen or hovered:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(PANEL if chosen else PINE_LIGHT))
            painter.drawRect(QRectF(8, box.top() + 1, box.width() - 8, box.height() - 3))
        if row.kind == "sheet":
            self._paint_sheet(painter, row, box, ink, soft)
        elif row.kind == "command":
            self._paint_command(painter, row, box, ink, soft)
        else:
            self._paint_figure(painter, row, box, ink, soft)
        painter.restore()

    @staticmethod
    def _paint_sheet(painter: QPainter, row: Row, box: QRect, ink: str, soft: str) -> None:
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
            painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, box.width() - 36 - px(22)),
        )

    @staticmethod
    def _paint_command(painter: QPainter, row: Row, box: QRect, ink: str, soft: str) -> None:
        painter.setFont(font(12))
        painter.setPen(colour(ink))
        painter.drawText(
            16, box.top() + px(17), painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, box.width() - 24)
        )
        painter.setPen(colour(soft))
        painter.drawText(16, box.top() + px(33), row.below or "no key")

    def _paint_figure(self, painter: QPainter, row: Row, box: QRect, ink: str, soft: str) -> None:
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

    def updateEditorGeometry(self, editor: QWidget, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        figure = index.model().rows[index.row()].kind == "figure"
        editor.setGeometry(
            56 if figure else 46, option.rect.top() + (6 if figure else -1), wide(WIDTH) - (64 if figure else 54), px(28)
        )


class _List(QListView):
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


class Spine(QWidget):
    """The left side of the desk."""

    left = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("spine")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(wide(WIDTH))
        self.title = QLineEdit()
        self.title.setObjectName("jobtitle")
        self.title.setAccessibleName("Title of the job")
        self.title.setPlaceholderText("Title of the job")
        self.title.editingFinished.connect(self._retitle)
        self.state = QLabel()
        self.state.setObjectName("jobstate")
        self.find = QLineEdit()
        self.find.setObjectName("find")
        self.find.setPlaceholderText("Find…  Ctrl+K")
        self.find.setAccessibleName("Find figures, sheets and commands (Ctrl+K)")
        self.find.setClearButtonEnabled(True)
        self.find.textChanged.connect(self._seek)
        self.find.installEventFilter(self)
        self.list = _List()
        self.model = _Model()
        self.list.setModel(self.model)
        self.list.setItemDelegate(_Painter(self.list, session))
        self.list.setAccessibleName("Figures of the job")
        self.list.setMouseTracking(True)
        self.list.setEditTriggers(QAbstractItemView.EditTrigger.EditKeyPressed | QAbstractItemView.EditTrigger.DoubleClicked)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        self.list.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.list.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.list.setDropIndicatorShown(True)
        keep(self.list, TABLE)
        self.model.renamed.connect(self._renamed)
        self.model.dragged.connect(self._dragged)
        self.list.folded.connect(self.fold)
        self.list.entered.connect(self.enter)
        self.list.clicked.connect(lambda index: self._clicked(index.row()))
        self.list.selectionModel().currentChanged.connect(self._chosen)
        self.commands: list[Command] = []
        self.opened: set[str] = set()
        self.add = self._button("+  New figure", "Set a new figure (Ctrl+N)")
        self.menu = self._button("Job", "Open, save, print and set up the job (F10)")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 14, 0, 10)
        inside.setSpacing(2)
        for widget, left in ((self.title, 12), (self.state, 16)):
            widget.setContentsMargins(left - 4 if widget is self.title else left, 0, 8, 0)
            inside.addWidget(widget)
        inside.addSpacing(6)
        seek = QVBoxLayout()
        seek.setContentsMargins(10, 0, 10, 4)
        seek.addWidget(self.find)
        inside.addLayout(seek)
        inside.addWidget(self.list, 1)
        below = QVBoxLayout()
        below.setContentsMargins(10, 8, 10, 0)
        below.setSpacing(6)
        below.addWidget(self.add)
        below.addWidget(self.menu)
        inside.addLayout(below)
        self._filling = False
        session.job_changed.connect(self.fill)
        session.selected.connect(self.fill)
        self.fill()

    def _button(self, words: str, says: str) -> QPushButton:
        button = QPushButton(words)
        keep(button, PRESS)
        button.setObjectName("spinebutton")
        button.setToolTip(says)
        button.setAccessibleName(says)
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        return button

    def fill(self) -> None:
        """Bring the list up to the job; its place and selection stay."""
        job = self.session.job
        rows = rows_of(job, self.session.entry_id, self.opened, self.find.text(), self.commands)
        self._filling = True
        if [row.key for row in rows] == [row.key for row in self.model.rows]:
            changed = [n for n, (old, new) in enumerate(zip(self.model.rows, rows)) if old.entry is not new.entry]
            self.model.rows = rows
            for n in changed:  # rows keep their size, so that nothing has to be laid out anew
                self.list.viewport().update(self.list.visualRect(self.model.index(n)))
        else:
            place = self.list.verticalScrollBar().value()
            self.model.beginResetModel()
            self.model.rows = rows
            self.model.endResetModel()
            self.list.doItemsLayout()
            self.list.verticalScrollBar().setValue(place)
        here = next((n for n, row in enumerate(rows) if row.entry and row.entry.id == self.session.entry_id), -1)
        if here >= 0 and here != self.list.currentIndex().row():
            self.list.setCurrentIndex(self.model.index(here))
        self._filling = False
        if not self.title.hasFocus() and self.title.text() != job.title:
            self.title.setText(job.title)
        path = self.session.path
        saved = "not saved yet" if path is None else path.name
        self.state.setText(saved + (" · changed" if self.session.history.unsaved and path is not None else ""))

    def _chosen(self, index: QModelIndex) -> None:
        if not self._filling and index.isValid():
            entry = self.model.rows[index.row()].entry
            if entry is not None:
                self.session.select(entry.id)

    # folding and finding

    def fold(self, number: int, shut: bool) -> None:
        """Fold the sheet of a line, or open it; the one with the shown figure stays open."""
        row = self.model.rows[number]
        if row.sheet < 0:
            return
        key = sheet_key(self.session.job, row.sheet)
        self.opened = self.opened - {key} if shut else self.opened | {key}
        self.fill()
        head = next((n for n, one in enumerate(self.model.rows) if one.kind == "sheet" and one.sheet == row.sheet), -1)
        if head >= 0 and row.kind == "sheet":
            self._filling = True
            self.list.setCurrentIndex(self.model.index(head))
            self._filling = False

    def fold_all(self) -> None:
        """Fold every sheet, or open all where all are folded."""
        keys = {sheet_key(self.session.job, n) for n in range(len(self.session.job.sheets))}
        self.opened = set() if self.opened else keys
        self.fill()

    def _clicked(self, number: int) -> None:
        """A sheet's line shows it, but for its mark, which folds or opens it; a command is done."""
        row = self.model.rows[number] if 0 <= number < len(self.model.rows) else None
        if row is not None and row.kind == "sheet" and self.list.pressed_at < MARK:
            self.fold(number, row.open)
        elif row is not None and row.kind != "figure":
            self.enter(number)

    def enter(self, number: int) -> None:
        """Do what a line is for: show the figure, or the first of the sheet, or do the command."""
        row = self.model.rows[number]
        self.find.clear()
        if row.command is not None:
            row.command.do()
        elif row.sheet >= 0:
            self.session.select(row.entry.id if row.entry else sheet_key(self.session.job, row.sheet))

    def seek(self) -> None:
        """To the field that finds."""
        self.find.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.find.selectAll()

    def _seek(self) -> None:
        self.fill()
        if self.find.text():
            first = next((n for n, row in enumerate(self.model.rows) if row.kind != "sheet"), -1)
            self._filling = True
            if first >= 0:
                self.list.setCurrentIndex(self.model.index(first))
            self._filling = False

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """In the field that finds, Up and Down go through what was found, Enter does it, and Escape leaves it."""
        if watched is self.find and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                by = 1 if event.key() == Qt.Key.Key_Down else -1
                place = min(max(self.list.currentIndex().row() + by, 0), len(self.model.rows) - 1)
                self._filling = True
                self.list.setCurrentIndex(self.model.index(place))
                self._filling = False
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if self.find.text() and self.list.currentIndex().isValid():
                    self.enter(self.list.currentIndex().row())
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.find.clear()
                self.left.emit()
                return True
        return super().eventFilter(watched, event)

    # the order of the job

    def _dragged(self, moved: int, before: int) -> None:
        changed = dropped(self.session.job, self.model.rows, moved, before)
        if changed != self.session.job:
            self.session.edit(changed, "Move")

    def _renamed(self, number: int, title: str) -> None:
        row = self.model.rows[number]
        if row.entry is not None:
            self.rename(row.entry.id, title)
        elif row.sheet >= 0 and title.strip():
            self.session.edit(self.session.job.with_sheet(row.sheet, title=title.strip()[:200]), "Rename the sheet")

    def _retitle(self) -> None:
        job = self.session.job
        words = self.title.text().strip() or job.title
        self.session.edit(job._replace(title=words[:200]), "Rename the job")

    def rename(self, entry_id: str, title: str) -> None:
        """Give an entry another title; a sheet that bears the entry's title follows."""
        title = title.strip()[:200]
        job = self.session.job
        entry, at = job.entry(entry_id), job.find(entry_id)
        if not title or entry is None or at is None:
            return
        changed = job.with_entry(entry_id, lambda e: replace(e, title=title))
        if job.sheets[at[0]].title == entry.title:
            changed = changed.with_sheet(at[0], title=title)
        self.session.edit(changed, "Rename")
