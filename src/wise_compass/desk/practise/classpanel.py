"""A class: its worksheets, the table of what was measured, marks as they come in, what the class does wrong most; a
pupil's drawing over the exact one."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QFileDialog, QInputDialog, QProgressBar, QVBoxLayout, QWidget

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.parts.listing import Listing
from wise_compass.desk.parts.theme import wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.practise.practising import Practising
from wise_compass.desk.session.jobwindow import AskPath
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are
from wise_compass.job.person import own_drafter
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import read_table, write_output
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.practice.classes import Graded, Unmarked, absent, mark_class, marks_csv, most_made
from wise_compass.practice.classtable import Handed, read_class
from wise_compass.practice.problems import problem_of
from wise_compass.practice.setting import Asked, set_class
from wise_compass.practice.worksheet import MOST_PUPILS, Task, class_key, class_sheet, set_pages
from wise_compass.study.judge import Judge

HEADS = ("pupil", "problem", "mark")
BEFORE = "A class draws one problem, each pupil with their own numbers."


class ClassPanel(QWidget):
    """``came`` tells that another mark is there; ``book`` keeps them on request."""

    came = Signal()

    def __init__(self, session: Practising, save_path: AskPath, book: Logbook) -> None:
        super().__init__()
        self.session, self._save_path, self.book = session, save_path, book
        self.graded: list[Graded] = []
        self.unmarked: list[Unmarked] = []
        self.name = ""
        self._handed: list[Handed] = []
        self._work: Work | None = None
        self.setAccessibleName("Class")
        self.most, self.says = wrapped("What the class does wrong most", "word"), wrapped("What was done")
        self.most.setText("A class")
        self.says.setText(BEFORE)
        self.list = Listing("Marks; the one that is picked is shown on the board", HEADS, 2, [wide(70), wide(84)])
        self.list.setSelectionMode(Listing.SelectionMode.SingleSelection)
        self.list.selectionModel().selectionChanged.connect(lambda *_: self._show_picked())
        self.why = wrapped("Why this mark", "hint")
        self.keep = QCheckBox("Note them in the logbook")
        keep(self.keep, PRESS)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(8)
        self.progress.hide()
        self.buttons = {
            words: button(words, do)
            for words, do in (
                ("Worksheets for a class…", self.save_class),
                ("Open what was measured…", self.open),
                ("Stop", self.stop),
                ("Save the marks…", self.save),
            )
        }
        self.buttons["Stop"].hide()
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 12, 12, 12)
        inside.setSpacing(8)
        sheets, opens, stops, saves = self.buttons.values()
        above: tuple[QWidget, ...] = (self.most, self.says, sheets, opens, self.progress, stops, heading("Pupils"))
        below: tuple[QWidget, ...] = (self.list, self.why, self.keep, saves)
        for part in (*above, *below):
            inside.addWidget(part, 1 if part is self.list else 0)
        session.selected.connect(self.offer)
        self.offer()

    def offer(self) -> None:
        """What cannot be done yet says why."""
        hand = self.session.hand
        sheets, marks = self.buttons["Worksheets for a class…"], self.buttons["Save the marks…"]
        sheets.setEnabled(hand is not None)
        sheets.setToolTip("" if hand is not None else "Set a problem first: a class is set ones like it")
        there = bool(self.graded or self.unmarked)
        marks.setEnabled(there)
        marks.setToolTip("" if there else "Open what was measured first")

    @property
    def came_in(self) -> str:
        """How many drawings are in, of how many; empty where no class is open."""
        return f"{len(self.graded)}/{len(self._handed)}" if self._handed else ""

    # worksheets

    def save_class(self) -> None:
        """A class set of the same figure with different numbers: the worksheets, and beside them the key and the sheet
        for what is measured."""
        hand = self.session.hand
        if hand is None:
            return
        count, good = QInputDialog.getInt(self, "A set for a class", "How many pupils?", 20, 1, MOST_PUPILS)
        title = hand.problem.kind.title
        name = self._save_path("Save the class set", f"{title}, class.pdf", "PDF (*.pdf)")[0] if good else ""
        if name:
            self.write_class(Path(name if name.endswith(".pdf") else f"{name}.pdf"), count)

    def write_class(self, path: Path, count: int) -> None:
        """Write a class set beside the window's own work; what was written, or why nothing was, is said."""
        import numpy as np

        hand, style = self.session.hand, self.session.style
        if hand is None:
            return
        problem = hand.problem

        def work(hear: object) -> str:
            method, by = (None, problem.entry) if problem.own else (problem.method, None)
            asked = Asked(problem.figure, problem.paper, own_drafter(), method, problem.projection, by)
            made = set_class([asked] * count, np.random.default_rng())
            tasks = [Task(f"Pupil {k}", one) for k, one in enumerate(made, 1)]
            pages = set_pages(tasks, False, style)
            watches = [one.watch for one in pages]
            key, sheet = path.with_name(f"{path.stem}, key.csv"), path.with_name(f"{path.stem}, measured.csv")
            drawings = [drawing for one in pages for drawing in one.drawings]
            write_output(path, pdf_bytes(drawings, "Practice"))
            write_output(key, class_key(tasks, watches))
            write_output(sheet, class_sheet(tasks, watches))
            made_of = are(count, "worksheet")
            return f"{made_of} in {path.name}, the key in {key.name}; what is measured goes into {sheet.name}."

        self.says.setText(f"{count} worksheets are set …")
        self._begin(Work(work, self))
        assert self._work is not None
        self._work.done.connect(self._written)
        self._work.start()

    def _written(self, says: str) -> None:
        self._end()
        self.says.setText(says)

    # marks

    def open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a class’s measurements", "", "CSV (*.csv)")
        if name:
            self.mark(Path(name))

    def mark(self, path: Path) -> None:
        """Mark a sheet, beside the window's own work; marks come in one by one."""
        try:
            handed = read_class(read_table(path, "measurements"))
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        self.stop()
        self.name, self._handed, self.unmarked = path.stem, handed, absent(handed)
        came: list[Graded] = []
        self._begin(Work(lambda hear: mark_class(handed, None, hear, came.append), self))
        assert self._work is not None
        self._work.told.connect(lambda done, whole: self._tell(came, done, whole))
        self._work.done.connect(self._show_all)
        self._work.start()

    def _begin(self, work: Work) -> None:
        self._work = work
        work.failed.connect(self._fail)
        self.progress.setMaximum(0)
        self.progress.show()
        self.buttons["Stop"].show()

    def _end(self) -> None:
        self.progress.hide()
        self.buttons["Stop"].hide()

    def stop(self) -> None:
        """Leave off marking."""
        if self._work is not None:
            self._work.stop()
        self._end()

    def settle(self) -> None:
        """Until they are marked, or written."""
        if self._work is not None:
            self._work.wait(600)

    def _fail(self, error: Exception) -> None:
        self._end()
        self.says.setText(error.says if isinstance(error, Refused) else f"A fault of its own: {error}.")

    def _tell(self, came: list[Graded], done: int, whole: int) -> None:
        self.progress.setMaximum(whole)
        self.progress.setValue(done)
        self.says.setText(f"{done} of {whole} are marked …")
        self._fill(list(came))

    def _fill(self, graded: list[Graded]) -> None:
        self.graded = graded
        rows = [[one.handed.pupil, one.handed.problem.kind.title, one.marked.mark] for one in graded]
        rows += [[one.pupil, problem_of(one.problem).kind.title, one.mark] for one in self.unmarked]
        self.list.fill(HEADS, rows)
        self.offer()
        self.came.emit()

    def _show_all(self, graded: list[Graded]) -> None:
        self._end()
        self._fill(graded)
        made = most_made(graded)
        self.most.setText(
            f"Most often, {made[0][1]} of {len(graded)}: {made[0][0].rstrip('.')}."
            if made
            else "No drawing went wrong."
        )
        more = [f"{count} × {says.rstrip('.')}." for says, count in made[1:4]]
        self.says.setText(" ".join([f"{are(len(graded), 'drawing')} marked.", *more]))
        if self.keep.isChecked():
            try:
                self.book.note([one.noted for one in graded])
                self.says.setText(f"{are(len(graded), 'drawing')} marked, and noted in the logbook.")
            except Refused as refusal:
                self.says.setText(refusal.says)

    def _show_picked(self) -> None:
        """The pupil's drawing, as what was measured tells it, over the exact one."""
        rows = [index.row() for index in self.list.selectionModel().selectedRows()]
        if not rows:
            return
        row = rows[0]
        if row >= len(self.graded):
            other = self.unmarked[row - len(self.graded)]
            self.why.setText(f"{other.pupil}: {other.why or other.mark}.")
            return
        one = self.graded[row]
        self.why.setText(f"{one.handed.pupil}: {one.marked.why or one.marked.mark}")
        problem, verdict = one.handed.problem, one.marked.checked.verdict
        self.session.show_pupil(one.handed.pupil, problem, one.marked.mark, one.marked.why)
        made = self.session.run
        if made is not None and verdict.verdict in ("slip", "step"):
            self.session.show_drawn(Judge(made, problem.scale).lines_drawn(verdict.best), made)

    def save(self) -> None:
        name, _ = self._save_path("Save the marks", "marks.csv", "CSV (*.csv)")
        if name:
            path = Path(name if name.endswith(".csv") else f"{name}.csv")
            try:
                write_output(path, marks_csv(self.graded, self.unmarked))
                self.says.setText(f"The marks are in {path.name}.")
            except Refused as refusal:
                self.says.setText(refusal.says)
