"""A table for givens that are lists: rows added, removed, moved, pasted, read from the polyline of an SVG file, or
taken from another figure of the job."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
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
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.session.session import Session
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.corners import corners_of
from wise_compass.job.imports import polyline_from_svg, rows_from_text
from wise_compass.outputs.files import read_text


class RowsEditor(Dialog):
    """Edits a list of the selected figure, live; the brief's line is repeated under the table.

    A list that tells of the inner rows of another, such as radii of inner corners, stands as a further column of it.
    """

    def __init__(self, parent: QWidget, session: Session, of: str = "") -> None:
        super().__init__(parent)
        self.session = session
        entry = session.entry
        assert entry is not None
        kind = figure_named(entry.figure)
        rows = {name: given for name, given in kind.givens.items() if isinstance(given, Rows)}
        of = rows[of].inner_of or of if of else next(iter(rows))
        self.lists = [(name, given) for name, given in rows.items() if of in (name, given.inner_of)]
        self.setWindowTitle(f"{kind.title}: {' and '.join(name for name, _ in self.lists)}")
        self.resize(420, 420)
        columns = [column for _, given in self.lists for column in given.columns]
        self.table = QTableWidget(0, len(columns))
        self.table.setHorizontalHeaderLabels(columns)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.setAccessibleName("Rows")
        self.says = QLabel()
        self.says.setObjectName("hint")
        self.says.setWordWrap(True)
        inside = QVBoxLayout(self)
        inside.addWidget(self.table, 1)
        inside.addWidget(self.says)
        for row in self._buttons():
            inside.addLayout(row)
        self._filling = False
        self.fill()
        self.table.itemChanged.connect(lambda _: self.send())
        QShortcut(QKeySequence(QKeySequence.StandardKey.Paste), self.table, self.paste)

    def _buttons(self) -> list[QHBoxLayout]:
        rows = []
        for group in (
            (
                ("Add a row", self.add),
                ("Remove it", self.remove),
                ("Up", lambda: self.move_row(-1)),
                ("Down", lambda: self.move_row(1)),
            ),
            (("Paste rows", self.paste), ("Read an SVG polyline…", self.read_svg), ("Close", self.accept)),
        ):
            row = QHBoxLayout()
            for words, do in group:
                row.addWidget(self._button(words, do))
            rows.append(row)
        if any(tuple(given.columns) == ("x", "y") for _, given in self.lists):
            rows.insert(1, self._from_figures())
        return rows

    def _from_figures(self) -> QHBoxLayout:
        """A list of the job's other figures, whose corners may be taken."""
        self.others = Pick()
        self.others.setAccessibleName("Take the corners of another figure")
        self.others.addItem("Take the corners of …", "")
        for entry in self.session.job.entries():
            if entry.id != self.session.entry_id:
                self.others.addItem(entry.title, entry.id)
        self.others.activated.connect(lambda _: self._take_corners(str(self.others.currentData())))
        row = QHBoxLayout()
        row.addWidget(self.others)
        return row

    def _take_corners(self, entry_id: str) -> None:
        self.others.setCurrentIndex(0)
        entry = self.session.job.entry(entry_id)
        made = self.session.run_for(entry) if entry is not None else None
        if made is None:
            self.says.setText("! That figure cannot be drawn as it stands. Choose another.")
            return
        self._take(lambda: corners_of(made))

    def _button(self, words: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setAutoDefault(False)
        button.clicked.connect(lambda _=False: do())
        return button

    # the table and the job

    def fill(self) -> None:
        """Bring the table up to the job: what is typed and refused, or the last good rows."""
        entry = self.session.entry
        if entry is None:
            return
        texts = []
        style = self.session.style
        for name, given in self.lists:
            value = entry.typed.get(name) or given.text(entry.givens.get(name, given.stored(given.default)), style)
            mark = ";" if len(given.columns) > 1 or ";" in value else ","
            texts.append([[cell.strip() for cell in row.split(",")] for row in value.split(mark) if row.strip()])
        self._show(texts)
        self._say()

    def _show(self, texts: Sequence[list[list[str]]]) -> None:
        self._filling = True
        count = max(len(rows) for rows in texts)
        self.table.setRowCount(count)
        column = 0
        for (_, given), rows in zip(self.lists, texts):
            lead = (count - len(rows)) // 2
            for r in range(count):
                for c in range(len(given.columns)):
                    cell = rows[r - lead][c] if 0 <= r - lead < len(rows) and c < len(rows[r - lead]) else ""
                    self.table.setItem(r, column + c, QTableWidgetItem(cell))
            column += len(given.columns)
        self._filling = False

    def rows(self) -> list[list[str]]:
        """The cells as they stand."""
        table = self.table
        return [
            [(item.text().strip() if (item := table.item(r, c)) else "") for c in range(table.columnCount())]
            for r in range(table.rowCount())
        ]

    def send(self) -> None:
        """Take the table into the job."""
        if self._filling:
            return
        rows, column, typed = self.rows(), 0, {}
        for k, (name, given) in enumerate(self.lists):
            wide = len(given.columns)
            part = [row[column : column + wide] for row in rows]
            inner = part[1:-1] if k and len(part) > 2 else part
            typed[name] = "; ".join(", ".join(cell or "0" for cell in row) for row in inner)
            column += wide
        self.session.set_givens(typed)
        self._say()

    def _say(self) -> None:
        refusal = self.session.refusal
        self.says.setText(f"! {refusal.words(self.session.style)}" if refusal else f"{self.table.rowCount()} rows.")

    # what the buttons do

    def _set(self, rows: list[list[str]], current: int) -> None:
        self._filling = True
        self.table.setRowCount(len(rows))
        for r, row in enumerate(rows):
            for c in range(self.table.columnCount()):
                self.table.setItem(r, c, QTableWidgetItem(row[c] if c < len(row) else ""))
        self.table.setCurrentCell(min(max(current, 0), len(rows) - 1), 0)
        self._filling = False
        self.send()

    def add(self) -> None:
        """A row below the current one: half-way to the next, or as far on again behind the last."""
        rows, at = self.rows(), max(self.table.currentRow(), 0)
        if not rows:
            rows = [["0"] * self.table.columnCount()]
        here, there = rows[at], rows[at + 1] if at + 1 < len(rows) else None
        fresh = []
        for c in range(self.table.columnCount()):
            try:
                a = float(here[c] or 0)
                b = float(there[c] or 0) if there else 2 * a - float(rows[at - 1][c] or 0)
                fresh.append(f"{(a + b) / 2:.6g}" if there else f"{b:.6g}")
            except ValueError:  # a word, such as a block's shape
                fresh.append(here[c] if here[c] and not here[c][0].isdigit() else "0")
        if len(self.lists) > 1:
            fresh[-1] = "0"
        self._set([*rows[: at + 1], fresh, *rows[at + 1 :]], at + 1)

    def remove(self) -> None:
        rows, at = self.rows(), self.table.currentRow()
        if rows and at >= 0:
            self._set(rows[:at] + rows[at + 1 :], at)

    def move_row(self, by: int) -> None:
        rows, at = self.rows(), self.table.currentRow()
        if 0 <= at < len(rows) and 0 <= at + by < len(rows):
            rows.insert(at + by, rows.pop(at))
            self._set(rows, at + by)

    def paste(self) -> None:
        """Rows from the clipboard in place of all that stands."""
        self._take(lambda: rows_from_text(QApplication.clipboard().text()))

    def read_svg(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Read a polyline", "", "SVG (*.svg)")
        if name:
            self._take(lambda: polyline_from_svg(read_text(Path(name), "an SVG file")))

    def _take(self, read: Callable[[], list[list[str]]]) -> None:
        try:
            rows = read()
        except (Refused, OSError) as problem:
            self.says.setText(f"! {problem}")
            return
        self._set(rows, 0)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Delete:
            self.remove()
        else:
            super().keyPressEvent(event)
