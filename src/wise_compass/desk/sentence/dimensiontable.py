"""The dimensions of the job: a table of names, what is typed for each, and what it comes to. Every change is taken at
once."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.theme import show_refused
from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.job.dimensions import Names, comes_to, users, with_dimension, without_dimension

HEADS = ("Name", "Is", "Comes to", "Used by")
NAME, TYPED, COMES, USED = range(4)


class DimensionTable(Dialog):
    """Names, their words and values; the last row takes a new one."""

    def __init__(self, parent: QWidget | None, session: Session) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle("Dimensions of the job")
        self.resize(620, 420)
        head = QLabel(
            "Lengths and angles by name, for any slot: race, race/2 + 10. A value of another figure serves likewise: "
            "Tower plan.circumradius. What uses a name follows it."
        )
        head.setWordWrap(True)
        self.table = QTableWidget(0, len(HEADS))
        self.table.setObjectName("ordinates")
        self.table.setAccessibleName("Dimensions of the job")
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.verticalHeader().hide()
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        widths = self.table.horizontalHeader()
        for column, wide in enumerate((130, 170, 110)):
            self.table.setColumnWidth(column, wide)
        widths.setSectionResizeMode(USED, QHeaderView.ResizeMode.Stretch)
        self.table.cellChanged.connect(self._changed)
        self.says = QLabel()
        self.says.setObjectName("hint")
        self.says.setWordWrap(True)
        self.says.setMinimumHeight(36)
        self.delete, close = QPushButton("Delete"), QPushButton("Close")
        self.delete.clicked.connect(self.delete_row)
        close.clicked.connect(self.accept)
        self.delete.setAutoDefault(False)
        close.setAutoDefault(False)
        below = QHBoxLayout()
        below.addWidget(self.says, 1)
        below.addWidget(self.delete)
        below.addWidget(close)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(20, 16, 20, 14)
        inside.addWidget(head)
        inside.addWidget(self.table, 1)
        inside.addLayout(below)
        self._filling = False
        session.job_changed.connect(self.fill)
        session.drawn.connect(self.fill)
        self.fill()

    def fill(self) -> None:
        """Bring the table up to the job; what is being typed in the last row stays."""
        job, style = self.session.job, self.session.style
        names = Names(job)
        new = (
            [self._words(self.table.rowCount() - 1, column) for column in (NAME, TYPED)]
            if self.table.rowCount()
            else ["", ""]
        )
        taken = {one.name for one in job.dimensions}
        self._filling = True
        self.table.setRowCount(len(job.dimensions) + 1)
        for row, one in enumerate(job.dimensions):
            try:
                comes = comes_to(names, one.name, style)
            except Refused as refusal:
                comes = f"! {refusal.words(style)}"
            for column, words in enumerate((one.name, one.typed, comes, ", ".join(users(job, one.name)))):
                self._put(row, column, words, column in (NAME, TYPED))
        last = len(job.dimensions)
        kept = new if new[0] not in taken else ["", ""]
        for column, words in enumerate((*kept, "", "")):
            self._put(last, column, words, column in (NAME, TYPED))
        self._filling = False

    def _put(self, row: int, column: int, words: str, editable: bool) -> None:
        item = QTableWidgetItem(words)
        item.setToolTip(words)
        if not editable:
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
        self.table.setItem(row, column, item)

    def _words(self, row: int, column: int) -> str:
        item = self.table.item(row, column)
        return item.text().strip() if item is not None else ""

    def _changed(self, row: int, column: int) -> None:
        if self._filling or column not in (NAME, TYPED):
            return
        job, style = self.session.job, self.session.style
        name, typed = self._words(row, NAME), self._words(row, TYPED)
        old = job.dimensions[row].name if row < len(job.dimensions) else ""
        if not old and not (name and typed):
            self._tell("Write the value too, such as 152 mm or 35°." if name else "Write its name too.", False)
            return
        try:
            changed = with_dimension(job, old, name, typed, style.units)
        except Refused as refusal:
            self._tell(refusal.words(style), True)
            return
        self._tell("", False)
        self.session.edit(changed, f"Set {name}", f"dimension.{name}")
        self.fill()

    def _tell(self, words: str, refused: bool) -> None:
        self.says.setText(words)
        show_refused(self.says, refused)

    def delete_row(self) -> None:
        """Delete the dimension of the row at hand, unless something uses it."""
        row, job = self.table.currentRow(), self.session.job
        if not 0 <= row < len(job.dimensions):
            self._tell("Choose the row of a dimension first.", False)
            return
        try:
            changed = without_dimension(job, job.dimensions[row].name)
        except Refused as refusal:
            self._tell(refusal.words(self.session.style), True)
            return
        self._tell("", False)
        self.session.edit(changed, f"Delete {job.dimensions[row].name}")
        self.fill()
