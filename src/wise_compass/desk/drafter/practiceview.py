"""Practice: a problem set, the clock, hints one step at a time, what was measured, and the mark."""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.dialogs import ask
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, emptied, heading, wrapped
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.progress import Stopped, heard
from wise_compass.desk.parts.theme import COPPER, TEAL, shade, show_refused, wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.session.jobwindow import AskPath
from wise_compass.desk.session.session import Session
from wise_compass.drafting.figure import FAMILIES, OWN_WAY
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style, are
from wise_compass.figures.catalogue import ENTERED
from wise_compass.job.person import own_drafter, whoever
from wise_compass.logbook.reckon import gone_wrong
from wise_compass.logbook.store import Logbook, new_noted_id
from wise_compass.outputs.files import write_output
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.practice.marking import STEADY, Marked, mark, marked_of, noted
from wise_compass.practice.problems import Problem, figures_of, set_problem
from wise_compass.practice.worksheet import MOST_PUPILS, Task, class_key, class_sheet, measures_of, set_drawings
from wise_compass.study.judge import Judge, unheard
from wise_compass.study.measures import Taken, taken_as
from wise_compass.study.watch import what_to_measure

if TYPE_CHECKING:
    from wise_compass.camera.reading import Reading

LEAST = 3
"""How many fields there are for what was measured, at least."""
LATELY, THIS = "lately", "this figure"


class PracticeView(Dialog):
    """One problem after another. ``random`` sets them, ``book`` keeps what came of them."""

    def __init__(
        self,
        parent: QWidget | None,
        session: Session,
        save_path: AskPath,
        book: Logbook | None = None,
        seed: int | None = None,
    ) -> None:
        super().__init__(parent)
        self.session, self._save_path, self.book = session, save_path, book or Logbook()
        self.random = np.random.default_rng(seed)
        self.problem: Problem | None = None
        self.made: Run | None = None
        self.marked: Marked | None = None
        self._judge: Judge | None = None
        self._work: Work | None = None
        self._set: list[Problem] = []
        self._hints = 0
        self._began = 0.0
        self._noted = ""
        self._took: float | None = None
        self.setWindowTitle("Practice")
        self.resize(wide(760), 700)
        self.source, self.paper, self.clocked = Pick(), Pick(), QCheckBox("with the clock")
        self.source.setAccessibleName("From where a problem is taken")
        for id, title in {"": "any family", **FAMILIES}.items():
            self.source.addItem(title, id)
        self.source.insertItem(0, "what went wrong lately", LATELY)
        self.source.insertItem(0, "the figure now shown", THIS)
        self.source.setCurrentIndex(2)
        self.paper.setAccessibleName("What it has to fit")
        for size in ("A4", "A3", "A2", "Letter", "Tabloid"):
            self.paper.addItem(size, size)
        self.clocked.setChecked(True)
        self.set_it = button("Set me a problem", self.set_problem)
        top = QHBoxLayout()
        for widget in (QLabel("From"), self.source, QLabel("on"), self.paper, self.clocked, self.set_it):
            top.addWidget(widget, 1 if widget is self.source else 0)
        self.words = wrapped("The problem", "word")
        self.words.setText(
            "A problem fits your paper and your kit; its numbers are unround, and "
            "its answers stay hidden until it is marked."
        )
        self.sheet, self.again = button("Save the worksheet…", self.save_sheet), QLabel()
        self.again.setObjectName("hint")
        row = QHBoxLayout()
        self.of_class = button("A set for a class…", self.save_class)
        row.addWidget(self.sheet)
        row.addWidget(self.of_class)
        row.addWidget(self.again, 1)
        self.steps = QListWidget()
        self.steps.setAccessibleName("Steps; tick those that are done")
        self.steps.setMinimumHeight(150)
        self.steps.setWordWrap(True)
        self.hint = button("A hint: the next step", self.show_hint)
        self.fields: dict[str, QLineEdit] = {}
        self.notes: dict[str, QLabel] = {}
        self._grid = QGridLayout()
        self._grid.setColumnStretch(2, 1)
        self.mark_it = button("Mark it", self.mark_now)
        self.outcome, self.why = wrapped("The mark", "word"), wrapped("Why")
        below = QHBoxLayout()
        self.by_photo = button("Mark a photograph of it…", self.open_photo)
        below.addWidget(self.mark_it)
        below.addWidget(self.by_photo)
        below.addWidget(self.outcome, 1)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(9)
        inside.addLayout(top)
        inside.addWidget(self.words)
        inside.addLayout(row)
        inside.addWidget(heading("Steps: tick what is done, or ask for the next"))
        inside.addWidget(self.steps, 1)
        inside.addWidget(self.hint)
        inside.addWidget(heading("What you measured on your drawing; as many as you like"))
        inside.addLayout(self._grid)
        inside.addLayout(below)
        inside.addWidget(self.why)
        self._tick = QTimer(self)
        self._tick.setInterval(1000)
        self._tick.timeout.connect(self._show_clock)
        self._offer()

    @property
    def _style(self) -> Style:
        return self.session.style

    def _offer(self) -> None:
        for widget in (self.sheet, self.of_class, self.hint, self.mark_it, self.by_photo):
            widget.setEnabled(self.problem is not None)

    # setting

    def _figures(self) -> tuple[list[str], str | None]:
        """What may be set, and by which method if that is told; raises :class:`Refused`."""
        source = self.source.currentData()
        if source == THIS:
            entry = self.session.entry
            if entry is None:
                raise Refused("", "No figure is shown; take a family.")
            return [entry.figure], entry.method if entry.method not in ("", OWN_WAY) else None
        if source == LATELY:
            found = gone_wrong(self.book)
            if not found:
                raise Refused("", "Nothing has gone wrong lately, by the logbook; take a family.")
            return found[:5], None
        return figures_of(source) if source else list(ENTERED), None

    def set_problem(self) -> None:
        """Another problem; asked first where what was typed for the last one is not marked."""
        typed = any(field.text().strip() for field in self.fields.values())
        words = "What you measured on the last drawing is not marked yet; another problem takes its place."
        if typed and self.marked is None and ask(self, "Not marked", words, ["Set another", "Stay"]) == "Stay":
            return
        if self._work is not None:
            self._work.stop()  # a photograph of the last one
        try:
            figures, method = self._figures()
            figure = figures[int(self.random.integers(len(figures)))]
            self.problem = set_problem(figure, self.random, self.paper.currentData(), own_drafter(), method, self._set)
        except Refused as refusal:
            self.words.setText(refusal.words(self._style))
            return
        self._set.append(self.problem)
        drafter: Drafter = own_drafter()
        self.made = self.problem.run(drafter)
        self._judge = Judge(self.made, self.problem.scale)
        self.marked, self._hints, self._began, self._noted = None, 0, time.monotonic(), new_noted_id()
        self.words.setText(self.problem.words(self._style))
        self.steps.clear()
        for step in self.made.steps:
            item = QListWidgetItem(f"step {step.n}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Unchecked)
            self.steps.addItem(item)
        self._rows([one.measure.name for one in what_to_measure(self._judge, least=LEAST).proposed])
        self._took = None
        self.outcome.setText("")
        self.why.setText("")
        self._show_clock()
        if self.clocked.isChecked():
            self._tick.start()
        self._offer()

    def _rows(self, names: list[str]) -> None:
        emptied(self._grid)
        self.fields.clear()
        self.notes.clear()
        for row, name in enumerate(names):
            shown = self._style.lettered(name).replace("_", " ")
            field, note = QLineEdit(), QLabel()
            field.setObjectName("field")
            field.setFixedWidth(wide(90))
            field.setAccessibleName(f"{shown} as measured")
            note.setObjectName("hint")
            for column, widget in enumerate((QLabel(shown), field, note)):
                self._grid.addWidget(widget, row, column)
            self.fields[name], self.notes[name] = field, note
        walked = [self.hint, *self.fields.values(), self.mark_it]
        for one, other in itertools.pairwise(walked):
            self.setTabOrder(one, other)

    def save_sheet(self) -> None:
        """The worksheet, with its solution behind it."""
        if self.problem is None:
            return
        name, _ = self._save_path("Save the worksheet", f"{self.problem.kind.title}.pdf", "PDF (*.pdf)")
        if name:
            path = Path(name if name.endswith(".pdf") else f"{name}.pdf")
            try:
                write_output(path, pdf_bytes(set_drawings([Task("", self.problem)], True, self._style), "Practice"))
            except Refused as refusal:
                self.why.setText(refusal.words(self._style))
                return
            self.why.setText(f"The worksheet is in {path.name}; its solution stands behind it.")

    def save_class(self) -> None:
        """A class set of the same figure with different numbers: the worksheets, and beside them the key and the sheet
        for what is measured."""
        if self.problem is None:
            return
        count, good = QInputDialog.getInt(self, "A set for a class", "How many pupils?", 20, 1, MOST_PUPILS)
        name, _ = (
            self._save_path("Save the class set", f"{self.problem.kind.title}, class.pdf", "PDF (*.pdf)")
            if good
            else ("", "")
        )
        if name:
            path = Path(name if name.endswith(".pdf") else f"{name}.pdf")
            try:
                self.why.setText(self.write_class(path, count))
            except Refused as refusal:
                self.why.setText(refusal.words(self._style))

    def write_class(self, path: Path, count: int) -> str:
        """Write a class set; returns what was written. Raises :class:`Refused`."""
        assert self.problem is not None
        tasks: list[Task] = []
        for k in range(count):
            given = [task.problem for task in tasks]
            made = set_problem(
                self.problem.figure, self.random, self.problem.paper, own_drafter(), self.problem.method, given
            )
            tasks.append(Task(f"Pupil {k + 1}", made))
        key, sheet = path.with_name(f"{path.stem}, key.csv"), path.with_name(f"{path.stem}, measured.csv")
        write_output(path, pdf_bytes(set_drawings(tasks, False, self._style), "Practice"))
        measures = measures_of(tasks)
        write_output(key, class_key(tasks, measures))
        write_output(sheet, class_sheet(tasks, measures))
        return (
            f"{are(count, 'worksheet')} in {path.name}, the key in {key.name}; what is measured goes into {sheet.name}."
        )

    # at work

    def _minutes(self) -> float | None:
        return (time.monotonic() - self._began) / 60 if self.problem is not None and self.clocked.isChecked() else None

    def _show_clock(self) -> None:
        minutes = self._minutes()
        if minutes is None or self.marked is not None:
            self._tick.stop()
        self.again.setText("" if minutes is None else f"{int(minutes)}:{int(minutes * 60) % 60:02d}")

    def show_hint(self) -> None:
        """The next step that is not told yet, in words."""
        if self.made is None or self._hints >= len(self.made.steps) or self.problem is None:
            return
        step, scale = self.made.steps[self._hints], self.problem.scale
        setting = step.setting(self._style, scale)
        words = f"{step.tool(scale)}{'  ' + setting if setting else ''}: {step.sentence(self._style, scale)}"
        self.steps.item(self._hints).setText(f"step {step.n}   {words}")
        self.steps.scrollToItem(self.steps.item(self._hints))
        self._hints += 1

    def mark_now(self) -> None:
        """Mark what is measured, and keep it in the logbook; what cannot be read stays typed and is said."""
        if self.made is None or self._judge is None or self.problem is None:
            return
        taken: list[Taken] = []
        refused = False
        for name, field in self.fields.items():
            self.notes[name].setText("")
            show_refused(field, False)
            if field.text().strip():
                try:
                    taken.append(taken_as(self.made, name, field.text(), "rule", self._style))
                except Refused as refusal:
                    show_refused(field, True)
                    self.notes[name].setText(refusal.words(self._style))
                    refused = True
        if refused:
            return
        try:
            with heard(self.window(), "The known slips are drawn by many hands") as self._judge.hear:
                self.marked = mark(self._judge, taken)
        except Refused as refusal:
            self.why.setText(refusal.words(self._style))
            return
        except Stopped:
            self.why.setText("Stopped; nothing is marked.")
            return
        finally:
            self._judge.hear = unheard
        self._show_mark()

    def open_photo(self) -> None:
        """A photograph of the worksheet, instead of measurements."""
        name, _ = QFileDialog.getOpenFileName(
            self, "A photograph of the worksheet", "", "Photographs (*.jpg *.jpeg *.png)"
        )
        if name:
            self.mark_photo(Path(name))

    def mark_photo(self, path: Path) -> None:
        """Mark a photograph, read beside the window's own work."""
        from wise_compass.camera.judging import judged
        from wise_compass.camera.laid import laid_of
        from wise_compass.camera.reading import read

        problem, judge = self.problem, self._judge
        if problem is None or judge is None:
            return
        self.why.setText(f"{path.name} is squared up and read …")

        def work(hear: Callable[[int, int], None]) -> tuple[Reading, Marked]:
            reading = read(path, laid_of(problem), None, hear)
            return reading, marked_of(judged(reading, judge))

        self._work = Work(work, self)
        self._work.done.connect(self._take_photo)
        self._work.failed.connect(self._refuse_photo)
        self._work.start()

    def settle(self) -> None:
        """Until a photograph is read."""
        if self._work is not None:
            self._work.wait()

    def _refuse_photo(self, error: Exception) -> None:
        self.why.setText(error.words(self._style) if isinstance(error, Refused) else f"A fault of its own: {error}.")

    def _take_photo(self, found: tuple[Reading, Marked]) -> None:
        reading, self.marked = found
        self._show_mark("photograph")
        try:
            self.book.attach(self._noted, reading.jpeg(), "jpg")
        except Refused as refusal:
            self.why.setText(refusal.words(self._style))

    def _show_mark(self, instrument: str = "rule") -> None:
        marked, made, problem = self.marked, self.made, self.problem
        assert marked is not None and made is not None and problem is not None
        minutes = self._minutes() if self._tick.isActive() or self._took is None else self._took
        self._took = minutes
        self._tick.stop()
        colour = TEAL if marked.mark == STEADY else COPPER
        self.outcome.setText(f"<b style='color:{shade(colour)}'>{marked.mark}</b>")
        for one in marked.checked.verdict.measured:
            exact = self._style.quantity(one.exact, one.unit)
            if one.name in self.notes:
                self.notes[one.name].setText(f"{marked.each[one.name]}; exactly {exact}")
        kept = noted(made, problem.scale, marked, "practice", whoever(), minutes, instrument, self._noted)
        try:
            self.book.note([kept])
            said = "It is noted in the logbook."
        except Refused as refusal:
            said = refusal.words(self._style)
        self.why.setText(f"{marked.why} {said}".strip())
