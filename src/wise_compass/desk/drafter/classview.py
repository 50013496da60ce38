"""A class marked: a row a pupil and problem, what went wrong most often, and the marks as a file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, wrapped
from wise_compass.desk.parts.listing import Listing
from wise_compass.desk.parts.theme import wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.session.jobwindow import AskPath
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import read_table, write_output
from wise_compass.practice.classes import Graded, Unmarked, absent, mark_class, marks_csv, most_made
from wise_compass.practice.classtable import read_class

HEADS = ("pupil", "problem", "mark", "why")


class ClassView(Dialog):
    """Opens a sheet of measurements, marks it, and saves the marks."""

    def __init__(self, parent: QWidget | None, save_path: AskPath, book: Logbook | None = None) -> None:
        super().__init__(parent)
        self._save_path, self.book = save_path, book or Logbook()
        self.graded: list[Graded] = []
        self.unmarked: list[Unmarked] = []
        self._work: Work | None = None
        self.setWindowTitle("Mark a class")
        self.resize(wide(820), 560)
        self.most = wrapped("What the class does wrong most", "word")
        self.most.setText("Open the sheet of measurements: pupil, problem, and a column a measure.")
        self.list = Listing("Marks", HEADS, 3, [wide(120), wide(170), wide(140)])
        self.says, self.keep = wrapped("What was done", "hint"), QCheckBox("Note them in the logbook")
        self.buttons = {}
        below = QHBoxLayout()
        for words, do in (("Open the sheet…", self.open), ("Save the marks…", self.save), ("Stop", self.stop)):
            self.buttons[words] = button(words, do)
            below.addWidget(self.buttons[words])
        below.addStretch(1)
        below.addWidget(self.keep)
        self.buttons["Stop"].hide()
        self.buttons["Save the marks…"].setEnabled(False)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.addWidget(self.most)
        inside.addWidget(self.list, 1)
        inside.addWidget(self.says)
        inside.addLayout(below)

    def open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a class’s measurements", "", "CSV (*.csv)")
        if name:
            self.mark(Path(name))

    def mark(self, path: Path) -> None:
        """Mark a sheet, beside the window's own work."""
        try:
            handed = read_class(read_table(path, "measurements"))
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        self.stop()
        self.unmarked = absent(handed)
        self._work = Work(lambda hear: mark_class(handed, None, hear), self)
        self._work.told.connect(lambda done, whole: self.says.setText(f"{done} of {whole} are marked …"))
        self._work.done.connect(self._show)
        self._work.failed.connect(self._fail)
        self.buttons["Stop"].show()
        self._work.start()

    def stop(self) -> None:
        """Leave off marking."""
        if self._work is not None:
            self._work.stop()
        self.buttons["Stop"].hide()

    def settle(self) -> None:
        """Until they are marked."""
        if self._work is not None:
            self._work.wait(600)

    def _fail(self, error: Exception) -> None:
        self.buttons["Stop"].hide()
        self.says.setText(error.says if isinstance(error, Refused) else f"A fault of its own: {error}.")

    def _show(self, graded: list[Graded]) -> None:
        self.graded = graded
        self.buttons["Stop"].hide()
        self.buttons["Save the marks…"].setEnabled(True)
        rows = [[one.handed.pupil, one.handed.problem.kind.title, one.marked.mark, one.marked.why] for one in graded]
        rows += [[one.pupil, one.problem, one.mark, one.why] for one in self.unmarked]
        self.list.fill(HEADS, rows)
        made = most_made(graded)
        self.most.setText(
            f"Most often, {made[0][1]} of {len(graded)}: {made[0][0].rstrip('.')}."
            if made
            else "No drawing went wrong."
        )
        self.says.setText(f"{are(len(graded), 'drawing')} marked.")
        if self.keep.isChecked():
            try:
                self.book.note([one.noted for one in graded])
                self.says.setText(f"{are(len(graded), 'drawing')} marked, and noted in the logbook.")
            except Refused as refusal:
                self.says.setText(refusal.says)

    def save(self) -> None:
        name, _ = self._save_path("Save the marks", "marks.csv", "CSV (*.csv)")
        if name:
            path = Path(name if name.endswith(".csv") else f"{name}.csv")
            try:
                write_output(path, marks_csv(self.graded, self.unmarked))
                self.says.setText(f"The marks are in {path.name}.")
            except Refused as refusal:
                self.says.setText(refusal.says)
