"""The spine: the job's title and its figures, by sheet, each with a little picture."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from PySide6.QtCore import QAbstractListModel, QModelIndex, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QCursor, QPainter
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

from wise_compass.desk.keys import PRESS, keep
from wise_compass.desk.pictures import courses, paint_picture
from wise_compass.desk.session import Session
from wise_compass.desk.theme import INK, PANEL, PINE_LIGHT, PINE_SOFT, PINE_TEXT, SOFT, colour, font
from wise_compass.drafting.catalogue import entered
from wise_compass.job.model import Entry

WIDTH = 196
ROW, HEAD = 54, 20


class Row(NamedTuple):
    """An entry with the head of its sheet, where it is the first of it."""

    entry: Entry
    head: str


class _Model(QAbstractListModel):
    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Row] = []

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.rows)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEditable

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return row.entry.title
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return f"{row.entry.title}, {figure_title(row.entry)}. {row.head}"
        return None

    renamed = Signal(str, str)

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        self.renamed.emit(self.rows[index.row()].entry.id, str(value))
        return True


def figure_title(entry: Entry) -> str:
    known = entered().get(entry.figure)
    return known.title if known else entry.figure


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
        return QSize(WIDTH, ROW + (HEAD if index.model().rows[index.row()].head else 0))

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
        top = box.top()
        if row.head:
            painter.setFont(font(11))
            painter.setPen(colour(PINE_SOFT))
            painter.drawText(16, top + 14, row.head)
            top += HEAD
        chosen = self.view.selectionModel().isSelected(index)
        hovered = self.view.underMouse() and self.view.indexAt(self.view.viewport().mapFromGlobal(QCursor.pos())) == index
        ink, soft = (INK, SOFT) if chosen else (PINE_TEXT, PINE_SOFT)
        if chosen or hovered:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour(PANEL if chosen else PINE_LIGHT))
            painter.drawRect(QRectF(8, top + 1, box.width() - 8, ROW - 3))
        paint_picture(painter, self._courses(row.entry), QRectF(17, top + 10, 32, 32), ink)
        room = box.width() - 70
        painter.setFont(font(13, True))
        painter.setPen(colour(ink))
        painter.drawText(60, top + 23, painter.fontMetrics().elidedText(row.entry.title, Qt.TextElideMode.ElideRight, room))
        painter.setFont(font(12))
        painter.setPen(colour(soft))
        words = figure_title(row.entry).lower()
        if row.entry.typed:
            words = "! " + words
        painter.drawText(60, top + 41, painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room))
        painter.restore()

    def updateEditorGeometry(self, editor: QWidget, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        head = HEAD if index.model().rows[index.row()].head else 0
        editor.setGeometry(56, option.rect.top() + head + 6, WIDTH - 64, 28)


class Spine(QWidget):
    """The left side of the desk."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("spine")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(WIDTH)
        self.title = QLineEdit()
        self.title.setObjectName("jobtitle")
        self.title.setAccessibleName("Title of the job")
        self.title.setPlaceholderText("Title of the job")
        self.title.editingFinished.connect(self._retitle)
        self.state = QLabel()
        self.state.setObjectName("jobstate")
        self.list = QListView()
        self.model = _Model()
        self.list.setModel(self.model)
        self.list.setItemDelegate(_Painter(self.list, session))
        self.list.setAccessibleName("Figures of the job")
        self.list.setMouseTracking(True)
        self.list.setEditTriggers(QAbstractItemView.EditTrigger.EditKeyPressed | QAbstractItemView.EditTrigger.DoubleClicked)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        self.model.renamed.connect(self.rename)
        self.list.selectionModel().currentChanged.connect(self._chosen)
        self.add = self._button("+  New figure", "Set a new figure (Ctrl+N)")
        self.menu = self._button("Job", "Open, save, print and set up the job (F10)")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 14, 0, 10)
        inside.setSpacing(2)
        for widget, left in ((self.title, 12), (self.state, 16)):
            widget.setContentsMargins(left - 4 if widget is self.title else left, 0, 8, 0)
            inside.addWidget(widget)
        inside.addSpacing(8)
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
        rows = []
        for number, sheet in enumerate(job.sheets, 1):
            for place, entry in enumerate(sheet.entries):
                head = f"Sheet {number}" + (f"  {sheet.title}" if len(sheet.entries) > 1 else "")
                rows.append(Row(entry, head if place == 0 else ""))
        self._filling = True
        same = [(r.entry.id, r.head) for r in rows] == [(r.entry.id, r.head) for r in self.model.rows]
        if same:
            changed = [n for n, (old, new) in enumerate(zip(self.model.rows, rows)) if old.entry is not new.entry]
            self.model.rows = rows
            for n in changed:  # rows keep their size, so that nothing has to be laid out anew
                self.list.viewport().update(self.list.visualRect(self.model.index(n)))
        else:
            self.model.beginResetModel()
            self.model.rows = rows
            self.model.endResetModel()
        for place, row in enumerate(rows):
            if row.entry.id == self.session.entry_id and place != self.list.currentIndex().row():
                self.list.setCurrentIndex(self.model.index(place))
        self._filling = False
        if not self.title.hasFocus() and self.title.text() != job.title:
            self.title.setText(job.title)
        path = self.session.path
        saved = "not saved yet" if path is None else path.name
        self.state.setText(saved + (" · changed" if self.session.history.unsaved and path is not None else ""))

    def _chosen(self, index: QModelIndex) -> None:
        if not self._filling and index.isValid():
            self.session.select(self.model.rows[index.row()].entry.id)

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
