"""The spine: the job's title and its figures, by sheet, each with a little picture."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QEvent, QModelIndex, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QLabel, QLineEdit, QVBoxLayout, QWidget

from wise_compass.desk.parts.keys import TABLE, keep
from wise_compass.desk.parts.labels import spine_button
from wise_compass.desk.session.session import Session
from wise_compass.desk.spine.spinelist import MARK, LineList, LineModel, LinePainter
from wise_compass.desk.spine.spinerows import SpineCommand, dropped, rows_of, sheet_key
from wise_compass.job.dimensions import renamed


class Spine(QWidget):
    """The lines of the job in the spine."""

    left = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.title = QLineEdit()
        self.title.setObjectName("jobtitle")
        self.title.setAccessibleName("Title of the job")
        self.title.setPlaceholderText("Title of the job")
        self.title.editingFinished.connect(self._retitle)
        self.state = QLabel()
        self.state.setObjectName("jobstate")
        self.finder = QLineEdit()
        self.finder.setObjectName("find")
        self.finder.setPlaceholderText("Find…  Ctrl+K")
        self.finder.setAccessibleName("Find figures, sheets and commands (Ctrl+K)")
        self.finder.setClearButtonEnabled(True)
        self.finder.textChanged.connect(self._seek)
        self.finder.installEventFilter(self)
        self.list = LineList()
        self.model = LineModel()
        self.list.setModel(self.model)
        self.list.setItemDelegate(LinePainter(self.list, self.model, session))
        self.list.setAccessibleName("Figures of the job")
        self.list.setMouseTracking(True)
        self.list.setEditTriggers(
            QAbstractItemView.EditTrigger.EditKeyPressed | QAbstractItemView.EditTrigger.DoubleClicked
        )
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
        self.commands: list[SpineCommand] = []
        self.opened: set[str] = set()
        self.add = spine_button("+  Set a problem", "Set a problem, in words or by its picture (Ctrl+N)")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 6, 0, 0)
        inside.setSpacing(2)
        for widget, left in ((self.title, 12), (self.state, 16)):
            widget.setContentsMargins(left - 4 if widget is self.title else left, 0, 8, 0)
            inside.addWidget(widget)
        inside.addSpacing(2)
        seek = QVBoxLayout()
        seek.setContentsMargins(10, 0, 10, 4)
        seek.addWidget(self.finder)
        inside.addLayout(seek)
        inside.addWidget(self.list, 1)
        below = QVBoxLayout()
        below.setContentsMargins(10, 4, 10, 0)
        below.setSpacing(6)
        below.addWidget(self.add)
        inside.addLayout(below)
        self._filling = False
        session.job_changed.connect(self.fill)
        session.selected.connect(self.fill)
        self.fill()

    def fill(self) -> None:
        """Bring the list up to the job; its place and selection stay."""
        job = self.session.job
        rows = rows_of(job, self.session.entry_id, self.opened, self.finder.text(), self.commands)
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
        self.finder.clear()
        if row.command is not None:
            row.command.do()
        elif row.sheet >= 0:
            self.session.select(row.entry.id if row.entry else sheet_key(self.session.job, row.sheet))

    def seek(self) -> None:
        """To the field that finds."""
        self.finder.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.finder.selectAll()

    def _seek(self) -> None:
        self.fill()
        if self.finder.text():
            first = next((n for n, row in enumerate(self.model.rows) if row.kind != "sheet"), -1)
            self._filling = True
            if first >= 0:
                self.list.setCurrentIndex(self.model.index(first))
            self._filling = False

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """In the field that finds, Up and Down go through what was found, Enter does it, and Escape leaves it."""
        if watched is self.finder and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                by = 1 if event.key() == Qt.Key.Key_Down else -1
                place = min(max(self.list.currentIndex().row() + by, 0), len(self.model.rows) - 1)
                self._filling = True
                self.list.setCurrentIndex(self.model.index(place))
                self._filling = False
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if self.finder.text() and self.list.currentIndex().isValid():
                    self.enter(self.list.currentIndex().row())
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.finder.clear()
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
        self.session.edit(renamed(changed, entry.title, title), "Rename")
