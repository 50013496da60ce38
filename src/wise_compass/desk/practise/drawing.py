"""Your drawing: what was measured on it, or its photograph, and the mark."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QProgressBar,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.labels import button, emptied, heading, wrapped
from wise_compass.desk.parts.theme import COPPER, TEAL, shade, show_refused, wide
from wise_compass.desk.parts.work import Later
from wise_compass.desk.photo.reader import PICTURES, PhotoReader
from wise_compass.desk.practise.practising import Practising
from wise_compass.desk.practise.sketchview import SketchView
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style
from wise_compass.job.person import whoever
from wise_compass.logbook.store import Logbook
from wise_compass.practice.marking import STEADY, Marked, mark, marked_of, noted
from wise_compass.study.measures import Taken, named, taken_as

if TYPE_CHECKING:
    from wise_compass.desk.photo.photopaper import PhotoPaper

BEFORE = "Draw it on paper; then measure what is listed, or photograph it, and have it marked."


class Drawing(QScrollArea):
    """Follows the problem in hand; ``book`` keeps what comes of it."""

    def __init__(self, session: Practising, book: Logbook) -> None:
        super().__init__()
        self.session, self.book = session, book
        self.marked: Marked | None = None
        self.fields: dict[str, QLineEdit] = {}
        self.notes: dict[str, QLabel] = {}
        self._for = ""
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setAccessibleName("Your drawing")
        self.outcome, self.why = wrapped("The mark", "word"), wrapped("Why")
        self.sketch = SketchView(session)
        self.heads = [heading("What you measured"), heading("Which letter is which")]
        self.looked = wrapped("What was not looked at", "hint")
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(8)
        self.progress.hide()
        self._grid = QGridLayout()
        self._grid.setColumnStretch(2, 1)
        self._grid.setVerticalSpacing(4)
        self.mark_it = button("Mark it", self.mark_now)
        self.by_photo = button("Photograph…", self.open_photo)
        self.stop_it = button("Stop", self._stop)
        self.stop_it.hide()
        below = QHBoxLayout()
        for one in (self.mark_it, self.by_photo, self.stop_it):
            below.addWidget(one)
        body = QWidget()
        inside = QVBoxLayout(body)
        inside.setContentsMargins(12, 12, 12, 12)
        inside.setSpacing(8)
        for part in (self.outcome, self.why, self.progress, self.heads[0]):
            inside.addWidget(part)
        inside.addLayout(self._grid)
        inside.addLayout(below)
        inside.addWidget(self.looked)
        inside.addWidget(self.heads[1])
        inside.addWidget(self.sketch)
        inside.addStretch(1)
        self.setWidget(body)
        self._marking, self._of = Later(self), ""
        self.reader = PhotoReader(self)
        self.reader.told.connect(self._tell)
        self.reader.done.connect(self._take_photo)
        self.reader.refused.connect(self._refuse_photo)
        session.selected.connect(self.fill)
        session.watched.connect(self.fill)
        session.laid.connect(self._photo_gone)
        self.fill()

    @property
    def _style(self) -> Style:
        return self.session.style

    def fill(self) -> None:
        """The fields of the problem in hand, with what was typed; kept where they are those that stand."""
        hand, names = self.session.hand, self.session.measures
        there = hand is not None
        for part in (self.mark_it, self.by_photo):
            part.setEnabled(there)
            part.setToolTip("" if there else "Set a problem first")
        for head in self.heads:
            head.setVisible(bool(names))
        if self._of != self.session.entry_id:  # what was begun for another problem is not this one's
            self._of = self.session.entry_id
            self._marking.drop()
            self.reader.stop()
            self._busy(False)
            self.mark_it.setEnabled(there)
        if (key := f"{self.session.entry_id} {names}") != self._for:
            self._for, self.marked = key, None
            self._rows(names, hand.typed if hand is not None else {})
            self._say_standing()
        self.sketch.fill()

    def _say_standing(self) -> None:
        hand = self.session.hand
        if hand is not None and hand.mark:
            self._tell_outcome(hand.mark)
            self.why.setText(hand.why)
        else:
            self.outcome.setText("Not marked yet" if hand is not None else "No problem is set")
            looking = hand is not None and not self.session.measures
            self.why.setText("Looking for what to measure …" if looking else BEFORE if hand is not None else "")
        self.looked.setText("")

    def _rows(self, names: list[str], typed: dict[str, str]) -> None:
        emptied(self._grid)
        self.fields.clear()
        self.notes.clear()
        for row, name in enumerate(dict.fromkeys([*names, *typed])):
            shown = self._style.lettered(name).replace("_", " ")
            field, note = QLineEdit(typed.get(name, "")), wrapped(f"What is held of {shown}", "hint")
            field.setObjectName("field")
            field.setFixedWidth(wide(96))
            field.setAccessibleName(f"{shown} as measured")
            field.textEdited.connect(lambda _: self.session.typed({n: f.text() for n, f in self.fields.items()}))
            field.installEventFilter(self)
            label = QLabel(shown)
            label.setStyleSheet("font-weight: bold;")
            for column, widget in enumerate((label, field, note)):
                self._grid.addWidget(widget, row, column)
            self.fields[name], self.notes[name] = field, note

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """The letters of the field that has the keys, or the pointer, are lit in the sketch."""
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.Enter):
            name = next((name for name, field in self.fields.items() if field is watched), "")
            made = self.session.run
            if name and made is not None:
                self.sketch.light(tuple(made.spots[one].name for one in named(made, name).points))
        return super().eventFilter(watched, event)

    # marked by what was measured

    def _taken(self) -> list[Taken] | None:
        """What is typed; None where something cannot be read, which stays typed and is said."""
        made = self.session.run
        assert made is not None
        taken: list[Taken] = []
        good = True
        for name, field in self.fields.items():
            self.notes[name].setText("")
            show_refused(field, False)
            if field.text().strip():
                try:
                    taken.append(taken_as(made, name, field.text(), "rule", self._style))
                except Refused as refusal:
                    show_refused(field, True)
                    self.notes[name].setText(refusal.words(self._style))
                    good = False
        return taken if good else None

    def mark_now(self) -> None:
        """Mark what is measured, and keep it in the logbook; with a photograph, what that tells beside."""
        judge = self.session.judge
        if judge is None:
            return
        taken = self._taken()
        if taken is None:
            return
        paper = self._paper()
        self.why.setText("It is held against many hands and the slips that are known …")
        if paper is not None:
            paper.also = {one.measure.name: one for one in taken}
            paper.judge_now()
            return
        self._busy(True)
        self.progress.setMaximum(0)
        self._marking.ask(lambda: mark(judge, taken), self._take_mark, self._refuse_photo, held=0.0)

    def _take_mark(self, marked: Marked) -> None:
        self._busy(False)
        self.marked = marked
        self._show_mark("rule")

    def _show_mark(self, instrument: str) -> None:
        marked, made, hand = self.marked, self.session.run, self.session.hand
        assert marked is not None and made is not None and hand is not None
        self._tell_outcome(marked.mark)
        for one in marked.checked.verdict.measured:
            if one.name in self.notes:
                exact = self._style.quantity(one.exact, one.unit)
                self.notes[one.name].setText(f"{marked.each[one.name]}; exactly {exact}")
        left = [*marked.checked.missing, *marked.checked.unmeasured]
        self.looked.setText(f"Not looked at: {', '.join(map(self._style.lettered, left[:8]))}." if left else "")
        seconds = self.session.seconds
        minutes = seconds / 60 if seconds >= 1 else None
        kept = noted(made, hand.problem.scale, marked, "practice", whoever(), minutes, instrument, hand.noted)
        try:
            self.book.note([kept])
            paper = self._paper()
            if paper is not None:
                self.book.attach(hand.noted, paper.reading.jpeg(), "jpg")
            said = "It is noted in the logbook."
        except Refused as refusal:
            said = refusal.words(self._style)
        why = f"{self._style.say(marked.why)} {said}".strip()
        self.why.setText(why)
        self.session.set_mark(marked.mark, why)
        if marked.checked.verdict.verdict in ("slip", "step") and self.session.judge is not None:
            self.session.show_drawn(self.session.judge.lines_drawn(marked.checked.verdict.best), made)

    def _tell_outcome(self, mark: str) -> None:
        colour = TEAL if mark == STEADY else COPPER
        self.outcome.setText(f"<b style='color:{shade(colour)}'>{mark[:1].upper()}{mark[1:]}</b>")

    # marked by its photograph

    def _paper(self) -> PhotoPaper | None:
        from wise_compass.desk.photo.photopaper import PhotoPaper

        lying = self.session.photographed
        return lying if isinstance(lying, PhotoPaper) else None

    def open_photo(self) -> None:
        """A photograph of the worksheet, instead of measurements."""
        name, _ = QFileDialog.getOpenFileName(self, "A photograph of the worksheet", "", PICTURES)
        if name:
            self.read_photo(Path(name))

    def read_photo(self, path: Path) -> None:
        """Read a photograph beside the window's own work; it becomes the board's paper, and is marked."""
        from wise_compass.camera.laid import laid_of

        hand, judge = self.session.hand, self.session.judge
        if hand is None or judge is None:
            return
        self.why.setText(f"{path.name} is squared up and read …")
        self._busy(True)
        self.reader.read(path, lambda: laid_of(hand.problem), "", self._style, judge)

    def settle(self) -> None:
        """Until a photograph is read, or the drawing marked."""
        self.reader.settle()
        self._marking.settle()
        paper = self._paper()
        if paper is not None:
            paper.settle()

    def _busy(self, at_work: bool) -> None:
        self.progress.setVisible(at_work)
        self.stop_it.setVisible(at_work)
        self.by_photo.setVisible(not at_work)
        self.mark_it.setEnabled(not at_work)

    def _tell(self, done: int, whole: int) -> None:
        self.progress.setMaximum(whole)
        self.progress.setValue(done)

    def _stop(self) -> None:
        self.reader.stop()
        self._marking.drop()
        self._busy(False)
        self.why.setText("Stopped; nothing is marked.")

    def _refuse_photo(self, refusal: Refused) -> None:
        self._busy(False)
        self.why.setText(refusal.words(self._style))

    def _take_photo(self, paper: PhotoPaper) -> None:
        self._busy(False)
        self.by_photo.setText("Another photograph…")
        paper.judgement.connect(self._marked_by_photo)
        self.session.lay(paper)
        self._marked_by_photo()

    def _marked_by_photo(self) -> None:
        """A ring moved marks it anew."""
        paper = self._paper()
        if paper is None:
            return
        if paper.checked is None:
            if paper.refusal is not None:
                self.why.setText(paper.refusal.words(self._style))
            return
        self.marked = marked_of(paper.checked)
        self._show_mark("photograph")
        self._show_distances(paper)

    def _show_distances(self, paper: PhotoPaper) -> None:
        """What the photograph measures of the listed measures stands behind them, as long as nothing is typed there."""
        made, found = self.session.run, paper.reading.points
        assert made is not None
        for name, field in self.fields.items():
            ends = named(made, name).points
            there = len(ends) == 2 and all(one in found for one in ends)
            shown = self._style.length(float(np.hypot(*(found[ends[0]] - found[ends[1]])))) if there else "—"
            field.setPlaceholderText(shown)

    def _photo_gone(self) -> None:
        if self.session.photographed is None:
            self.by_photo.setText("Photograph…")
            for field in self.fields.values():
                field.setPlaceholderText("")
