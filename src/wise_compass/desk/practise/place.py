"""Practise, the place: problems in the spine, the problem as a sentence, the worksheet on the board, hints and the
drawing beside it, a class."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QSizePolicy, QTabWidget, QVBoxLayout, QWidget

from wise_compass.desk.paper.board import Board
from wise_compass.desk.paper.steprule import StepRule
from wise_compass.desk.parts.cards import Card, CardList
from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import button, spine_button, wrapped
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.work import Later
from wise_compass.desk.places.place import Place, laid_out
from wise_compass.desk.places.stage import Stage
from wise_compass.desk.practise.classpanel import ClassPanel
from wise_compass.desk.practise.drawing import Drawing
from wise_compass.desk.practise.hints import Hints
from wise_compass.desk.practise.lines import ProblemLines
from wise_compass.desk.practise.practising import Practising, Ready, made_ready
from wise_compass.desk.practise.problembar import ProblemBar
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.drafting.figure import FAMILIES, OWN_WAY
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import ENTERED
from wise_compass.job.model import Entry
from wise_compass.job.person import own_drafter
from wise_compass.logbook.reckon import gone_wrong
from wise_compass.logbook.store import Logbook, Noted
from wise_compass.outputs.files import write_output
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.practice.problems import Problem, figures_of, fits_paper
from wise_compass.practice.setting import set_problem
from wise_compass.practice.worksheet import Task, set_drawings
from wise_compass.sheet.paper import ISO

LATELY, THIS, THIRD = "lately", "this figure", "third view"
MOST_TRIED = 6
"""Figures of a family that are tried before it is said that none fits."""
PAPERS = ("A4", "A3", "A2", "Letter", "Tabloid")


class PractisePlace(Place):
    """One problem after another. ``random`` sets them, ``book`` keeps what comes of them, ``file`` what is in hand."""

    stage: Stage
    rule: StepRule

    def __init__(
        self, window: JobWindow, book: Logbook | None = None, seed: int | None = None, file: Path | None = None
    ) -> None:
        super().__init__()
        self.window, self.book = window, book or Logbook()
        self.random = np.random.default_rng(seed)
        self.session = session = Practising(window.session, file)
        self._setting = Later(self)
        self.bar, self.board = ProblemBar(session), Board(session)
        self.board.setAccessibleName("The worksheet")
        self.stage, self.rule = Stage(session, self.board), StepRule(session)
        self.hints, self.drawing = Hints(session), Drawing(session, self.book)
        self.of_class = ClassPanel(session, window.ask_path, self.book)
        self.steps, self.values, self.compare = map(CardList, ("Steps", "Values", "Compare"))
        self._comparing = Later(self)
        self.panels = QTabWidget()
        self.panels.setObjectName("side")
        self.panels.setAccessibleName("Hints, your drawing, a class")
        self.panels.setDocumentMode(True)
        self.panels.tabBar().setDrawBase(False)
        self.panels.tabBar().setExpanding(False)
        self.panels.setUsesScrollButtons(False)
        for page, title in (
            (self.hints, "Hints"),
            (self.drawing, "Your drawing"),
            (self.steps, "Steps"),
            (self.values, "Values"),
            (self.compare, "Compare"),
            (self.of_class, "Class"),
        ):
            self.panels.addTab(page, title)
        self.panels.currentChanged.connect(lambda _: self._fill())
        self.steps.chosen.connect(lambda row: session.walk_to(row + 1))
        self.values.over.connect(session.light)
        self.lines = ProblemLines(session)
        self.spine = self._column()
        self.body = laid_out(self.bar, [self._head(), self.rule], self.panels)
        session.said.connect(self.board.say)
        session.selected.connect(self._settle)
        session.drawn.connect(self._settle)
        session.stepped.connect(self._mark_step)
        self.lines.dropped.connect(self._drop)
        self.of_class.came.connect(self._tell_class)
        self._keys()
        self._settle()

    # how it is made up

    def _column(self) -> QWidget:
        self.source, self.paper, self.clocked = Pick(), Pick(), QCheckBox("with the clock")
        self.source.setAccessibleName("From where a problem is taken")
        self.source.addItem("the figure at Set out", THIS)
        self.source.addItem("what went wrong lately", LATELY)
        self.source.addItem("a third view from two", THIRD)
        for id, title in {"": "any family", **FAMILIES}.items():
            self.source.addItem(title, id)
        self.source.setCurrentIndex(3)
        self.paper.setAccessibleName("The paper that a problem has to fit")
        for size in PAPERS:
            self.paper.addItem(size, size)
        self.clocked.setChecked(True)
        keep(self.clocked, PRESS)
        self.set_it = spine_button("+  Set me a problem", "A problem that fits your paper and your kit (Ctrl+Shift+R)")
        self.set_it.clicked.connect(lambda _=False: self.set_problem())
        lines = QWidget()
        inside = QVBoxLayout(lines)
        inside.setContentsMargins(0, 8, 0, 0)
        inside.setSpacing(4)
        inside.addWidget(self.lines, 1)
        below = QVBoxLayout()
        below.setContentsMargins(10, 4, 10, 0)
        below.setSpacing(5)
        below.addWidget(QLabel("From"))
        below.addWidget(self.source)
        line = QHBoxLayout()
        line.addWidget(QLabel("on"))
        line.addWidget(self.paper, 1)
        below.addLayout(line)
        below.addWidget(self.clocked)
        below.addWidget(self.set_it)
        inside.addLayout(below)
        return lines

    def _head(self) -> QWidget:
        """The board, with what leaves it above."""
        head = QWidget()
        line = QHBoxLayout()
        line.setContentsMargins(16, 8, 16, 0)
        line.setSpacing(6)
        self.print_it = button("Print the worksheet…", self.print_sheet)
        self.sheet = button("Save it as PDF…", self.save_sheet)
        for one in (self.print_it, self.sheet):
            one.setObjectName("switchbutton")
            line.addWidget(one)
        self.says = wrapped("What was done", "hint")
        self.says.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        line.addWidget(self.says, 1)
        inside = QVBoxLayout(head)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(0)
        inside.addLayout(line)
        inside.addWidget(self.stage, 1)
        head.setObjectName("boardhead")
        head.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        return head

    def _keys(self) -> None:
        """Keys of this place alone: a hint, to measure, a photograph."""
        for key, do in (("Ctrl+Return", self.session.reveal), ("M", self._to_fields), ("P", self.drawing.open_photo)):
            shortcut = QShortcut(QKeySequence(key), self.body)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(do)

    def _to_fields(self) -> None:
        self.panels.setCurrentWidget(self.drawing)
        first = next(iter(self.drawing.fields.values()), None)
        if first is not None:
            first.setFocus(Qt.FocusReason.ShortcutFocusReason)

    # the place

    @property
    def page(self) -> str:
        """Its page of the handbook."""
        return "class" if self.panels.currentWidget() is self.of_class else "practise"

    def come(self) -> None:
        self.lines.fill()
        self.bar.fill()

    def leave(self) -> None:
        self.session.keep()

    def focus(self) -> None:
        (self.board if self.session.hand is not None else self.set_it).setFocus(Qt.FocusReason.OtherFocusReason)

    def hand_over(self, other: Place) -> None:
        assert isinstance(other, PractisePlace)
        other.session.take_over(self.session)
        other.panels.setCurrentIndex(self.panels.currentIndex())

    def print_out(self) -> bool:
        self.print_sheet()
        return True

    def take_photograph(self, path: Path) -> bool:
        if self.session.hand is None or self.session.hand.pupil:
            return False
        self.panels.setCurrentWidget(self.drawing)
        self.drawing.read_photo(path)
        return True

    def settle(self) -> None:
        """Until whatever is made beside the window is there."""
        self._setting.settle()
        self.session.settle()
        self._comparing.settle()
        self.drawing.settle()
        self.of_class.settle()

    def _settle(self) -> None:
        """Which panels there are, and what can be done."""
        hand, shown = self.session.hand, self.session.opened
        for page in (self.steps, self.values, self.compare):
            self.panels.setTabVisible(self.panels.indexOf(page), shown)
        self.panels.setTabVisible(self.panels.indexOf(self.hints), not shown)
        for one in (self.print_it, self.sheet):
            one.setEnabled(hand is not None)
            one.setToolTip("" if hand is not None else "Set a problem first")
        self._fill()

    def _fill(self) -> None:
        """The panel in sight, of a problem that is marked."""
        made, style = self.session.run, self.session.style
        page = self.panels.currentWidget()
        if made is None or not self.session.opened:
            return
        if page is self.steps:
            from wise_compass.desk.side.figurecards import step_cards

            self.steps.show_cards(step_cards(made, style, self.session.scale))
        elif page is self.values:
            from wise_compass.desk.side.figurecards import value_cards

            self.values.show_cards(value_cards(made, style))
        elif page is self.compare:
            from wise_compass.desk.side.comparecards import compare_cards

            self.compare.show_cards([Card(body="Comparing the methods …")])
            scale = self.session.scale
            self._comparing.ask(lambda: compare_cards(made, style, scale), self.compare.show_cards)
        self._mark_step()

    def _mark_step(self) -> None:
        self.steps.mark(-1 if self.session.finished else self.session.step - 1)

    def _tell_class(self) -> None:
        """How many drawings of the class are in, on its tab."""
        words = f"Class {self.of_class.came_in}" if self.of_class.came_in else "Class"
        self.panels.setTabText(self.panels.indexOf(self.of_class), words)

    def _drop(self) -> None:
        """Put the shown problem away, asked first where it was worked on."""
        from wise_compass.desk.parts.dialogs import ask

        hand = self.session.hand
        if hand is None:
            return
        words = f"“{hand.problem.kind.title}” and what was typed of it go; a mark stays in the logbook."
        if hand.state == "set" or ask(self.body, "Put it away", words, ["Put it away", "Stay"]) == "Put it away":
            self.session.drop(hand)

    # setting

    def _figures(self) -> tuple[list[str], str | None, Entry | None]:
        """What may be set, by which method if that is told, and the figure that is drawn by a person's own; raises
        :class:`Refused`."""
        source = self.source.currentData()
        if source == THIS:
            entry = self.window.session.entry
            if entry is None:
                raise Refused("", "No figure is shown at Set out; take a family.")
            own = entry if entry.method == OWN_WAY else None
            return [entry.figure], None if own else entry.method or None, own
        if source == LATELY:
            found = gone_wrong(self.book)
            if not found:
                raise Refused("", "Nothing has gone wrong lately, by the logbook; take a family.")
            return found[:5], None, None
        if source == THIRD:
            return ["built-up"], "third-view", None
        return figures_of(source) if source else list(ENTERED), None, None

    def set_problem(self) -> None:
        """Another problem, found beside the window's own work; what is in hand stays."""
        self.set_it.setText("Setting a problem …")
        self.set_it.setEnabled(False)
        paper, have = self.paper.currentData(), [one.problem for one in self.session.problems]
        try:
            figures, method, own = self._figures()
        except Refused as refusal:
            self._refuse(refusal)
            return
        tried = [figures[int(n)] for n in self.random.permutation(len(figures))[:MOST_TRIED]]

        angle = self.window.session.job.settings.projection

        style = self.session.style

        def of(figure: str) -> tuple[Problem, Ready]:
            problem = set_problem(figure, self.random, paper, own_drafter(), method, have, angle, own)
            return problem, made_ready(problem, style)

        def one_that_fits() -> tuple[Problem, Ready]:
            for figure in tried[:-1]:
                with suppress(Refused):
                    return of(figure)
            return of(tried[-1])

        self._setting.ask(one_that_fits, self._take, self._refuse, held=0.0)

    def _take(self, found: tuple[Problem, Ready]) -> None:
        self._set_again()
        self.take_problem(*found)

    def _refuse(self, refusal: Refused) -> None:
        self._set_again()
        self.says.setText(refusal.words(self.session.style))

    def _set_again(self) -> None:
        self.set_it.setText("+  Set me a problem")
        self.set_it.setEnabled(True)

    def take_problem(self, problem: Problem, ready: Ready | None = None) -> None:
        """Have a problem in hand; its clock runs where one wants that."""
        self.says.setText("")
        self.session.set_problem(problem, ready)
        if not self.clocked.isChecked():
            self.session.stop_clock()
        self.panels.setCurrentWidget(self.drawing if self.panels.currentWidget() is self.drawing else self.hints)
        self.board.setFocus(Qt.FocusReason.OtherFocusReason)

    def take_noted(self, noted: Noted) -> None:
        """The problem of an entry of the logbook once more; raises :class:`Refused` where it fits no paper."""
        for paper in ISO:
            for lie in ("landscape", "portrait"):
                angle = self.window.session.job.settings.projection
                problem = Problem(
                    noted.figure, noted.method, noted.givens, paper, noted.scale, lie, angle, own=noted.own or ""
                )
                if fits_paper(problem):
                    self.take_problem(problem)
                    return
        raise Refused("", "This entry's figure fits no paper at its scale. Set it out at Set out.")

    # what leaves it

    def _drawings(self) -> list[Task]:
        hand = self.session.hand
        return [] if hand is None else [Task(hand.pupil, hand.problem)]

    def print_sheet(self) -> None:
        """The worksheet on a printer."""
        from wise_compass.desk.leaving.papers import Papers

        if tasks := self._drawings():
            Papers(self.window).print_drawings("Practice", set_drawings(tasks, False, self.session.style))

    def save_sheet(self) -> None:
        """The worksheet, with its solution behind it."""
        tasks = self._drawings()
        if not tasks:
            return
        title = tasks[0].problem.kind.title
        name, _ = self.window.ask_path("Save the worksheet", f"{title}.pdf", "PDF (*.pdf)")
        if name:
            path = Path(name if name.endswith(".pdf") else f"{name}.pdf")
            try:
                write_output(path, pdf_bytes(set_drawings(tasks, True, self.session.style), "Practice"))
            except Refused as refusal:
                self.says.setText(refusal.words(self.session.style))
                return
            self.says.setText(f"The worksheet is in {path.name}; its solution stands behind it.")
