"""The Check panel: what was measured on the paper goes in, by a rule or from a photograph, the verdict comes out, and
what to measure next."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.labels import emptied, heading, switch, wrapped
from wise_compass.desk.parts.progress import Stopped, heard
from wise_compass.desk.parts.theme import SETTLE_MS, show_refused, wide
from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.job.person import whoever
from wise_compass.study.judge import Judge, unheard
from wise_compass.study.measures import Taken, exactly, named, taken_as
from wise_compass.study.verdicts import Checked, check, headline, held_words, sentence
from wise_compass.study.watch import Watch, what_to_measure

if TYPE_CHECKING:
    from wise_compass.desk.photo.photopaper import PhotoPaper
    from wise_compass.desk.side.photopart import PhotoPart


class CheckPanel(QScrollArea):
    """A field for each measurement, proposed or added; the verdict follows what is typed."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._judge: Judge | None = None
        self._why_not = ""
        self._watch = Watch((), ())
        self.checked: Checked | None = None
        self.fields: dict[str, QLineEdit] = {}
        self.notes: dict[str, QLabel] = {}
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SETTLE_MS)
        self._soon.timeout.connect(self.judge_now)
        self._later = Later(self)
        self.photo: PhotoPart | None = None
        self._paper: PhotoPaper | None = None
        self._by_hand: set[str] = set()
        """Of a photograph's measures those that were typed over."""
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Check")
        self.title = wrapped("The verdict", "word")
        self.says = wrapped("What it comes to")
        self.again = wrapped("What to draw again", "hint")
        self.go = QPushButton()
        self.go.hide()
        self.go.clicked.connect(self._go)
        self.note = QPushButton("Note it in the logbook")
        self.note.hide()
        self.note.clicked.connect(self._note)
        self.causes = wrapped("What may have made this drawing")
        self.next = wrapped("Measure next")
        self.unseen = wrapped("What nothing here sees", "hint")
        self.more = QLineEdit()
        self.more.setObjectName("field")
        self.more.setPlaceholderText("another: P0-P3, A-B-C or a value")
        self.more.setAccessibleName("Another measurement, by its name")
        self.more.returnPressed.connect(self._add)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(2)
        self._grid.setColumnStretch(1, 1)
        body = QWidget()
        inside = QVBoxLayout(body)
        inside.setContentsMargins(12, 12, 12, 12)
        inside.setSpacing(8)
        self._inside = inside
        inside.addLayout(self._ways_in())
        for widget in (self.title, self.says, self.again, self.go, self.note):
            inside.addWidget(widget)
        inside.addWidget(heading("What was measured, on the paper"))
        inside.addLayout(self._grid)
        inside.addWidget(self.more)
        self._answers = []
        for head, widget in (("What may have made this drawing", self.causes), ("Measure next", self.next)):
            self._answers.append(heading(head))
            inside.addWidget(self._answers[-1])
            inside.addWidget(widget)
        inside.addWidget(self.unseen)
        inside.addStretch(1)
        self.setWidget(body)
        session.laid.connect(self._laid)

    @property
    def _style(self) -> Style:
        return self.session.style

    # the two ways in

    def _ways_in(self) -> QHBoxLayout:
        """By the rule, or by a photograph."""
        line, only = QHBoxLayout(), QButtonGroup(self)
        line.setSpacing(6)
        self.ways: dict[str, QPushButton] = {}
        for name, words, says in (
            ("rule", "Measure", "Measure on the paper, and type what it comes to"),
            ("photograph", "Photograph", "Read a photograph of the sheet, which becomes the board's paper"),
        ):
            way = self.ways[name] = switch(words, says)
            only.addButton(way)
            line.addWidget(way)
            way.toggled.connect(lambda _: self._show_way())
        self.ways["rule"].setChecked(True)
        line.addStretch(1)
        return line

    def _show_way(self) -> None:
        if self.ways["photograph"].isChecked():
            self.photo_part().show()
        elif self.photo is not None:
            self.photo.hide()

    def photo_part(self) -> PhotoPart:
        """What opens and reads photographs, made when it is first asked for."""
        if self.photo is None:
            from wise_compass.desk.side.photopart import PhotoPart

            self.photo = PhotoPart(self.session)
            self._inside.insertWidget(1, self.photo)
            self.photo.said.connect(self._say_of_photo)
        return self.photo

    def photograph(self, path: Path) -> None:
        """Read a photograph, which becomes the board's paper."""
        self.ways["photograph"].setChecked(True)
        self._show_way()
        self.photo_part().read(path)

    def _say_of_photo(self, words: str) -> None:
        if self._paper is None:
            self.title.setText("A photograph")
        self.says.setText(words)

    def _laid(self) -> None:
        """A photograph lies on the board, or no more; where another figure was selected, its own or none."""
        if self.photo is not None:
            self.photo.settle_words()
        if self.isVisible():
            self.fill()

    def _fill_from(self, paper: PhotoPaper) -> None:
        """Rows for what is measured on a photograph; a ring that is moved changes its own."""
        if paper is not self._paper:
            self._paper, self._judge, self._by_hand = paper, paper.judge, set(paper.also)
            self._later.drop()
            self._watch, self._why_not = Watch((), ()), ""
            paper.judgement.connect(lambda: self._follow(paper))
            self._rows(
                [], {name: self._style.quantity(one.value, one.measure.unit) for name, one in paper.also.items()}
            )
            self.unseen.clear()
        self._follow(paper)

    def _follow(self, paper: PhotoPaper) -> None:
        """Bring rows and verdict up to the rings."""
        if paper is not self._paper or paper is not self.session.photographed:
            return
        self.checked = paper.checked
        self._why_not = paper.refusal.words(self._style) if paper.refusal is not None else ""
        told = {one.name: one for one in paper.checked.verdict.measured} if paper.checked is not None else {}
        if paper.checked is not None and set(self.fields) != set(told) | self._by_hand:
            self._rows(list(told), {name: self.fields[name].text() for name in self._by_hand if name in self.fields})
        for name, one in told.items():
            if name not in self._by_hand and not self.fields[name].hasFocus():
                self.fields[name].blockSignals(True)
                self.fields[name].setText(self._style.quantity(one.measured, one.unit))
                self.fields[name].blockSignals(False)
        self._show()

    def _type_over(self, name: str, text: str) -> None:
        """What is typed into a row of a photograph goes before what that shows; emptied, that holds again."""
        if self._paper is not None:
            self._by_hand = self._by_hand | {name} if text.strip() else self._by_hand - {name}

    # what is asked

    def fill(self) -> None:
        """Propose what to measure of the selected figure, once for each run; what was typed for it stays while it
        does."""
        made, lying = self.session.run, self.session.photographed
        if made is None:
            self._clear()
            return
        if lying is not None:
            from wise_compass.desk.photo.photopaper import PhotoPaper

            if isinstance(lying, PhotoPaper):
                self._fill_from(lying)
            return
        if self._paper is not None:
            self._paper, self._judge = None, None
            self._by_hand.clear()
            self.fields.clear()
        if self._judge is None or self._judge.run is not made or self._judge.scale != self.session.scale:
            typed = (
                {name: field.text() for name, field in self.fields.items() if field.text()} if self._alike(made) else {}
            )
            judge = self._judge = Judge(made, self.session.scale)
            self._watch, self._why_not = Watch((), ()), "Looking for what to measure …"
            self._rows([], typed)
            self.unseen.clear()
            self._show_nothing()
            self._later.ask(lambda: what_to_measure(judge), lambda watch: self._propose(watch, typed), self._refuse)

    def _clear(self) -> None:
        """There is no figure to check, and nobody waits for what to measure of the last one."""
        self._later.drop()
        self._judge, self._paper, self.checked = None, None, None
        self._by_hand.clear()
        self._rows([], {})
        self.unseen.clear()
        self._why_not = "What you measured on your drawing is judged here, once a problem is set (Ctrl+N)."
        self._show_nothing()
        self._why_not = ""

    def leave(self) -> None:
        """Another panel is looked at: nothing is judged late, and nothing shown over the figure."""
        self._soon.stop()
        self.session.show_drawn([])

    def settle(self) -> None:
        """Until what to measure is proposed."""
        self._later.settle()

    def _propose(self, watch: Watch, typed: dict[str, str]) -> None:
        """Rows for what is worth measuring, beside what was typed meanwhile."""
        typed = {**typed, **{name: field.text() for name, field in self.fields.items()}}
        self._watch, self._why_not = watch, ""
        self._rows([one.measure.name for one in watch.proposed], typed)
        self.judge_now()

    def _refuse(self, refusal: Refused) -> None:
        self._why_not = refusal.words(self._style)
        self.judge_now()

    def _alike(self, made: Run) -> bool:
        return self._judge is not None and type(self._judge.run.figure) is type(made.figure)

    def _rows(self, names: list[str], typed: dict[str, str]) -> None:
        emptied(self._grid)
        self.fields.clear()
        self.notes.clear()
        for name in dict.fromkeys([*names, *typed]):
            self._row(name, typed.get(name, ""))

    def _row(self, name: str, text: str = "") -> None:
        row = 2 * len(self.fields)
        shown = self._style.lettered(name)
        field = QLineEdit(text)
        field.setObjectName("field")
        field.setFixedWidth(wide(86))
        field.setAccessibleName(f"{shown} as measured")
        field.textChanged.connect(lambda _: self._soon.start())
        field.textEdited.connect(lambda text: self._type_over(name, text))
        label = QLabel(shown)
        label.setStyleSheet("font-weight: bold;")
        exact = QLabel(self._exact(name))
        exact.setObjectName("hint")
        note = wrapped(f"What is held of {shown}", "hint")
        for place, widget in enumerate((label, field, exact)):
            self._grid.addWidget(widget, row, place)
        self._grid.addWidget(note, row + 1, 0, 1, 3)
        self.fields[name], self.notes[name] = field, note

    def _exact(self, name: str) -> str:
        assert self._judge is not None
        measure = named(self._judge.run, name)
        return self._style.quantity(float(exactly(self._judge.run, [measure], self._judge.scale)[0]), measure.unit)

    def _add(self) -> None:
        """One more row, by its name or as name=value."""
        name, _, value = self.more.text().strip().partition("=")
        try:
            if self._judge is None:
                return
            named(self._judge.run, name.strip())
        except Refused as refusal:
            show_refused(self.more, True)
            self.next.setText(refusal.words(self._style))
            return
        show_refused(self.more, False)
        self.more.clear()
        if name.strip() not in self.fields:
            self._row(name.strip(), value.strip())
        QTimer.singleShot(0, self.fields[name.strip()].setFocus)
        self._soon.start()

    # what is answered

    def _watches(self, name: str) -> str:
        """Which steps a proposed measure sees, as long as nothing is told of it."""
        words = next((one.for_what for one in self._watch.proposed if one.measure.name == name), "")
        return self._style.lettered(words)

    def judge_now(self) -> None:
        """Judge whatever is told and can be read."""
        if self._judge is None or self._later.busy:  # it is judged once what to measure is known
            return
        taken: list[Taken] = []
        for name, field in self.fields.items():
            if self._paper is not None and name not in self._by_hand:
                continue
            self.notes[name].setText("" if field.text().strip() else self._watches(name))
            show_refused(field, False)
            if field.text().strip():
                try:
                    taken.append(taken_as(self._judge.run, name, field.text(), "rule", self._style))
                except Refused as refusal:
                    show_refused(field, True)
                    self.notes[name].setText(refusal.words(self._style))
        self.checked = None
        try:
            with heard(self.window(), "The known slips are drawn by many hands") as self._judge.hear:
                if self._paper is not None:
                    self._paper.also = {one.measure.name: one for one in taken}
                    self._paper.judge_now()
                    return
                self.checked = check(self._judge, taken) if taken else None
        except Refused as refusal:
            self._why_not = refusal.words(self._style)
        except Stopped:
            self._why_not = "Stopped. Change a measurement to go on."
        finally:
            self._judge.hear = unheard
        self._show()

    def _show(self) -> None:
        style, checked, judge = self._style, self.checked, self._judge
        unseen = ", ".join(map(str, self._watch.unseen))
        word = "steps" if len(self._watch.unseen) > 1 else "step"
        self.unseen.setText(f"Nothing proposed here sees {word} {unseen}." if unseen else "")
        if checked is None or judge is None:
            self._show_nothing()
            return
        for widget in (self.note, *self._answers):
            widget.show()
        verdict = checked.verdict
        self.title.setText(style.lettered(headline(checked)))
        self.says.setText(style.say(sentence(checked)))
        letters = ", ".join(style.lettered(name) for name in checked.again)
        self.again.setText(f"To draw again: {letters}." if letters else "")
        blamed = verdict.verdict == "step"
        self.go.setVisible(blamed)
        if blamed:
            self.go.setText(f"Go to step {verdict.best.step}")
        for one in verdict.measured:
            if one.name in self.notes:
                self.notes[one.name].setText(held_words(one, style))
        told = [one for one in verdict.explanations if one.weight >= 0.01][:5]
        self.causes.setText("\n".join(f"{one.weight * 100:.0f} %  {style.say(one.says)}" for one in told))
        none = "Nothing more would tell them apart." if verdict.verdict == "unclear" else "Nothing more is needed."
        self.next.setText(style.lettered(checked.next.says) + "." if checked.next else none)
        drawn = verdict.verdict in ("slip", "step") and self._paper is None
        self.session.show_drawn(judge.lines_drawn(verdict.best) if drawn else [], judge.run)

    def _show_nothing(self) -> None:
        """No verdict yet: what to do, or why there is none."""
        self.title.setText("Is the drawing right?")
        usual = "Measure what is listed below on the paper and enter it; as many as you like."
        self.says.setText(self._why_not or usual)
        for label in (self.again, self.causes, self.next):
            label.setText("")
        for widget in (self.go, self.note, *self._answers):
            widget.hide()
        self.session.show_drawn([])

    def _note(self) -> None:
        """Keep the check in the logbook."""
        from wise_compass.logbook.store import Logbook
        from wise_compass.practice.marking import marked_of, noted

        judge, checked, paper = self._judge, self.checked, self._paper
        if judge is None or checked is None:
            return
        by = "rule" if paper is None else "photograph"
        try:
            entry = noted(judge.run, judge.scale, marked_of(checked), "check", whoever(), None, by)
            Logbook().note([entry])
            if paper is not None:
                Logbook().attach(entry.id, paper.reading.jpeg(), "jpg")
            self.note.hide()
            self.session.said.emit("The check is noted in the logbook.")
        except Refused as refusal:
            self.session.said.emit(refusal.words(self.session.style))

    def _go(self) -> None:
        if self.checked is not None and self.checked.verdict.best.step is not None:
            self.session.walk_to(self.checked.verdict.best.step)
