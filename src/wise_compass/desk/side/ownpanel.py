"""A way of one's own: its steps, chosen on the board or typed, what is wrong with each, and what it turns out to be."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSignalBlocker, QTimer
from PySide6.QtGui import QKeyEvent, QKeySequence, QTextCursor, QTextFormat
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QTextEdit,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.labels import heading, wrapped
from wise_compass.desk.parts.theme import COPPER, SETTLE_MS, TEAL, colour, show_refused
from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.session import Session
from wise_compass.desk.side.instruments import Instruments, choice
from wise_compass.desk.side.ownboard import Offered
from wise_compass.desk.side.ownfiles import OwnFiles
from wise_compass.desk.side.sweepplot import SweepPlot
from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.figure import OWN_WAY, Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import many
from wise_compass.own.claims import Lacking
from wise_compass.own.making import ROWS, TYPED, Making
from wise_compass.own.program import Program, program_of
from wise_compass.own.proving import Verdict, judge
from wise_compass.own.writing import Written, as_far_as

WRITE_MS = 150
"""How long the board waits for the next letter."""
KINDS = {"exact": "exact", "here": "for these numbers only", "near": "approximate", "wrong": "not what it claims"}
SUCH = {"length": "34, side/2, AB", "angle": "60", "part": "2/5", "along": "40", "letter": "P"}
"""What is written where something is typed, as an example."""


class Steps(QPlainTextEdit):
    """The lines; going back is the job's."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setUndoRedoEnabled(False)
        self.setTabChangesFocus(True)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Undo):
            self.session.undo()
        elif event.matches(QKeySequence.StandardKey.Redo):
            self.session.redo()
        else:
            super().keyPressEvent(event)


class OwnPanel(QWidget):
    """The selected figure's own way. Filled when it is in sight."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.making: Making | None = None
        self.verdict: Verdict | None = None
        self._judged: tuple[object, ...] = ()
        self._offered = ""
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(WRITE_MS)
        self._soon.timeout.connect(self.take_typed)
        self._judge_soon = QTimer(self)
        self._judge_soon.setSingleShot(True)
        self._judge_soon.setInterval(SETTLE_MS)
        self._judge_soon.timeout.connect(self._judge)
        self._later = Later(self)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 10, 12, 12)
        inside.setSpacing(6)
        inside.addWidget(heading("What the hand does"))
        self.hand = Instruments()
        self.hand.begun.connect(self.begin)
        self.hand.laid_down.connect(self.lay_down)
        self.hand.named.connect(self._name_on)
        inside.addWidget(self.hand)
        self.says = wrapped("The step that is being made", "hint")
        inside.addWidget(self.says)
        inside.addLayout(self._typing())
        inside.addWidget(heading("Its steps"))
        self.editor = Steps(session)
        self.editor.setAccessibleName("The steps of my own way, a line each")
        self.editor.textChanged.connect(lambda: self._soon.start())
        inside.addWidget(self.editor, 1)
        self.fault = wrapped("What is wrong", "hint")
        self.fault.setProperty("refused", True)
        inside.addWidget(self.fault)
        self.kind = QLabel()
        self.kind.setObjectName("verdict")
        self.told = wrapped("What it turns out to be", "hint")
        self.plot = SweepPlot()
        self.lettering = QPushButton()
        self.lettering.setToolTip("The figure’s letters, and the points of yours that lie where they belong")
        self.lettering.clicked.connect(self.take_letters)
        self.lettering.hide()
        for widget in (self.kind, self.told, self.lettering, self.plot):
            inside.addWidget(widget)
        self.files = OwnFiles(session, self.program, lambda: self.figure)
        inside.addWidget(self.files)

    def _typing(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.typed = QLineEdit()
        self.typed.setAccessibleName("A length, an angle or a number for this step")
        self.typed.returnPressed.connect(self.type)
        self.ended = QPushButton("End the row")
        self.ended.clicked.connect(self.end)
        self.offered_words: list[QToolButton] = []
        self.words_row = QHBoxLayout()
        self.words_row.setSpacing(4)
        line.addLayout(self.words_row)
        line.addWidget(self.typed, 1)
        line.addWidget(self.ended)
        line.addStretch()
        return line

    # what stands

    @property
    def figure(self) -> Figure | None:
        """The figure that is drawn by a way of one's own; None where none is."""
        entry, made = self.session.entry, self.session.run
        return made.figure if entry is not None and made is not None and entry.method == OWN_WAY else None

    @property
    def text(self) -> str:
        entry = self.session.entry
        return entry.own if entry is not None else ""

    @property
    def written(self) -> Written | None:
        """What of it is drawn."""
        return as_far_as(self.text, self.figure) if self.figure is not None else None

    def fill(self) -> None:
        """Bring it up to the job."""
        if not self._soon.isActive() and self.editor.toPlainText() != self.text:
            with QSignalBlocker(self.editor):
                self.editor.setPlainText(self.text)
                self.editor.moveCursor(QTextCursor.MoveOperation.End)
        written = self.written
        self.hand.offer_views(isinstance(self.figure, InViews))
        self._show_faults(written)
        self._ask_on()
        if written is not None and self._key(written) != self._judged:
            self._judge_soon.start()

    def leave(self) -> None:
        """It is out of sight: the board is asked for nothing more."""
        self.lay_down()

    def settle(self) -> None:
        """Until what was typed is drawn and judged."""
        if self._soon.isActive():
            self.take_typed()
        if self._judge_soon.isActive():
            self._judge()
        self._later.settle()

    def take_typed(self) -> None:
        """Draw what stands in the editor."""
        self._soon.stop()
        self.session.set_own(self.editor.toPlainText())

    def _show_faults(self, written: Written | None) -> None:
        faults = written.faults if written is not None else {}
        marks = []
        for row in faults:
            mark = QTextEdit.ExtraSelection()
            mark.cursor = QTextCursor(self.editor.document().findBlockByNumber(row))
            mark.format.setBackground(colour(COPPER, 0.16))
            mark.format.setProperty(QTextFormat.Property.FullWidthSelection, True)
            marks.append(mark)
        self.editor.setExtraSelections(marks)
        told = list(faults.values())
        more = f" And {many(len(told) - 1, 'line')} more." if len(told) > 1 else ""
        self.fault.setText(f"{told[0]}{more} It stays written; the rest is drawn." if told else "")
        self.fault.setVisible(bool(told))

    # a step chosen on the board

    def begin(self, verb: str) -> None:
        """Take up a step: its parts are asked for one after the other."""
        self.hand.show_begun(verb)
        written = self.written
        if written is None:
            return
        folds = sum(line.verb == "fold" for line in written.program.lines)
        self.making = Making(verb, written.points, written.things, folds, self.hand.view)
        self._ask_on()

    def _name_on(self) -> None:
        if self.making is not None:
            self.begin(self.making.verb)

    def lay_down(self) -> None:
        """No step is being made."""
        self.making = None
        self.hand.show_begun("")
        self._ask_on()

    def _ask_on(self) -> None:
        making = self.making
        self.session.ask(None if making is None or not self.isVisible() else Offered(making, self._taken, self._ahead))
        typed = making is not None and making.kind in (*TYPED, "along")
        self.typed.setVisible(typed)
        self._offer_words([] if making is None else making.words)
        self.ended.setVisible(making is not None and making.verb in ROWS)
        if making is None:
            self.says.setText("Choose what to do, then click points and lines on the board; or type lines below.")
            return
        asked = {
            "place": "Click a place.",
            "length": "Click two points that it is taken between, or type it.",
            "angle": "Type the angle.",
            "count": "Type how many.",
            "part": "Type which part of the way it is.",
            "along": "Click a place of it, or type it.",
            "right": "Type how far to the right.",
            "rise": "Type how far up.",
            "long": "Type half the long axis.",
            "short": "Type half the short axis.",
            "letter": "Type the letter that it has in space.",
            "word": "Choose which.",
            "crossing": "Click the crossing that is meant.",
            "way": "Click the way it goes.",
            "row": "Click the points in order; the first again closes the row, the last again ends it.",
            "thing": "Click a line or circle.",
            "point": "Click a point.",
        }
        self.says.setText(f"{making.says}\n{asked.get(making.kind, '')}".strip())
        self.typed.setPlaceholderText(SUCH.get(making.kind, "5"))

    def _offer_words(self, words: list[str]) -> None:
        """A button for each word of which one is chosen."""
        if words == [button.text() for button in self.offered_words]:
            return
        for button in self.offered_words:
            button.deleteLater()
        self.offered_words = []
        for word in words:
            button = choice(word, "Take this", once=True)
            button.clicked.connect(partial(self._type, word))
            self.words_row.addWidget(button)
            self.offered_words.append(button)

    def _with(self, line: str) -> str:
        return f"{self.text.rstrip()}\n{line}\n"

    def _ahead(self, line: str) -> Written:
        """What would stand with one line more."""
        assert self.figure is not None
        return as_far_as(self._with(line), self.figure)

    def type(self) -> None:
        """Take what was typed for the part that is asked for."""
        self._type(self.typed.text())

    def _type(self, words: str, _on: bool = False) -> None:
        if self.making is None:
            return
        try:
            if self.making.type(words):
                self.typed.clear()
                show_refused(self.typed, False)
                self._taken()
        except Refused as refusal:
            show_refused(self.typed, True)
            self.says.setText(self.session.style.say(refusal.template))

    def end(self) -> None:
        """End a row of points."""
        if self.making is not None and self.making.end():
            self._taken()

    def _taken(self) -> None:
        making = self.making
        assert making is not None
        if making.wanted:
            self._ask_on()
            return
        try:
            line = making.text
        except Refused as refusal:
            self.lay_down()
            self.says.setText(self.session.style.say(refusal.template))
            return
        self.session.set_own(self._with(line), "Make a step")
        self.begin(making.verb)

    # what it turns out to be

    def program(self) -> Program:
        """The whole of it, held to the figure that it is drawn as; raises :class:`Refused`."""
        entry = self.session.entry
        assert entry is not None
        program = program_of(self.text)
        return program._replace(figure=entry.figure, givens=dict(entry.givens), truths=())

    def _key(self, written: Written) -> tuple[object, ...]:
        figure = self.figure
        assert figure is not None
        return (self.text, figure.id, tuple(sorted(map(str, figure.stored().items()))), written.whole)

    def _judge(self) -> None:
        self._judge_soon.stop()
        written = self.written
        if written is None:
            return
        self._judged = self._key(written)
        self._tell(None, f"{many(len(written.rows), 'step')} drawn.")
        if not written.whole:
            return
        try:
            program = self.program()
        except Refused as refusal:
            self._tell(None, self.session.style.say(refusal.template))
            return
        self._later.ask_telling(
            lambda hear: judge(program, told=hear), self._show_verdict, self._refuse, self._tell_how_far
        )

    def _tell_how_far(self, done: int, whole: int) -> None:
        if self._later.busy:  # what was told before the verdict may come behind it
            self.told.setText(f"It is held to the figure with other numbers: {done} of {whole}.")

    def _refuse(self, refusal: Refused) -> None:
        if isinstance(refusal, Lacking) and self.written is not None:
            steps, more = many(len(self.written.rows), "step"), ", ".join(refusal.names[:8])
            self._tell(None, f"{steps} drawn. To be held to the figure it still lacks points: {more}.")
            self._offered = " ".join(f"{theirs}={own}" for theirs, own in refusal.letters.items())
            self.lettering.setText(f"Take by their places: {self._offered}")
            self.lettering.setVisible(bool(self._offered))
            return
        self._tell(None, self.session.style.say(refusal.template))

    def _show_verdict(self, verdict: Verdict) -> None:
        causes = "\n".join(cause.says for cause in verdict.causes)
        self._tell(verdict, f"{self.session.style.say(verdict.says)}\n{causes}".strip())

    def take_letters(self) -> None:
        """Say in the head which points are the figure's, as they were offered by their places."""
        rows = self.text.split("\n")
        there = next((k for k, row in enumerate(rows) if row.strip().startswith("letters:")), None)
        if there is not None:
            rows[there] = f"{rows[there].rstrip()} {self._offered}"
        else:
            rows.insert(int(rows[0].strip().startswith("title:")), f"letters: {self._offered}")
        self.session.set_own("\n".join(rows), "Letter the points")

    def _tell(self, verdict: Verdict | None, words: str) -> None:
        self.verdict = verdict
        self.lettering.hide()
        self.kind.setText(KINDS[verdict.kind] if verdict is not None else "half written")
        good = verdict is not None and verdict.kind == "exact"
        self.kind.setStyleSheet(f"color: {colour(TEAL if good else COPPER).name()}; font-weight: bold;")
        self.told.setText(words)
        near = verdict is not None and verdict.kind in ("near", "here") and bool(verdict.sweeps)
        sweep = max(verdict.sweeps, key=lambda one: _spread(one.misses)) if verdict is not None and near else None
        figure = self.figure
        here = figure.given_values.get(sweep.given, 0.0) if sweep is not None and figure is not None else 0.0
        self.plot.show_sweep(sweep, float(here))


def _spread(misses: tuple[float, ...]) -> float:
    good = [miss for miss in misses if miss == miss]
    return max(good, default=0.0) - min(good, default=0.0)
