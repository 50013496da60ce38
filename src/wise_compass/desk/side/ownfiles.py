"""What a way of one's own begins from, what is kept of it, and how it is examined."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from wise_compass.desk.session.session import Session
from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.own.claims import Claim
from wise_compass.own.language import START, START_IN_VIEWS
from wise_compass.own.program import Program


class OwnFiles(QWidget):
    """A row of buttons. ``program`` is the way as it stands, which may be refused; ``figure`` that which it draws."""

    def __init__(self, session: Session, program: Callable[[], Program], figure: Callable[[], Figure | None]) -> None:
        super().__init__()
        self.session, self.program, self.figure = session, program, figure
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(4)
        self.start = QPushButton("Begin from")
        self.start.setToolTip("Take a method out as steps, or one of the ways that you keep")
        self.start.clicked.connect(self._offer_starts)
        self.keeping = QPushButton("Keep")
        self.keeping.setToolTip("Keep this way from job to job")
        self.keeping.clicked.connect(self.keep)
        self.copying = QPushButton("Copy")
        self.copying.setToolTip("Copy the steps as text")
        self.copying.clicked.connect(lambda: QGuiApplication.clipboard().setText(self._text))
        self.examining = QPushButton("Examine")
        self.examining.setToolTip("Hold it to the instruments and the steps that are allowed")
        self.examining.clicked.connect(self.examine)
        for button in (self.start, self.keeping, self.copying, self.examining):
            line.addWidget(button)

    @property
    def _text(self) -> str:
        entry = self.session.entry
        return entry.own if entry is not None else ""

    def examine(self) -> None:
        """Have it examined; what cannot be is said."""
        from wise_compass.desk.side.examdialog import ExamDialog

        try:
            claim = Claim(self.program())
        except Refused as refusal:
            self.session.said.emit(self.session.style.say(refusal.template))
            return
        ExamDialog(self.window(), claim, self.session.style).exec()

    def _offer_starts(self) -> None:
        figure = self.figure()
        if figure is None:
            return
        from wise_compass.job.ways import kept

        menu = QMenu(self)
        for method in figure.methods.values():
            if method.fits(figure) is None:
                menu.addAction(f"the steps of {method.title}", partial(self.take_out, method.id))
        menu.addSeparator()
        for one in kept(figure.id):
            menu.addAction(f"{one.program.title} (mine)", partial(self._begin_from, one.program.text))
        start = START_IN_VIEWS if isinstance(figure, InViews) else START
        menu.addAction("an empty sheet", partial(self._begin_from, start))
        menu.popup(self.start.mapToGlobal(self.start.rect().bottomLeft()))

    def take_out(self, method: str) -> None:
        """Begin from the steps of a method; what uses more than these steps says so."""
        from wise_compass.own.taking import taken_out

        figure = self.figure()
        if figure is None:
            return
        try:
            program = taken_out(figure, method)
        except Refused as refusal:
            self.session.said.emit(self.session.style.say(refusal.template))
            return
        self._begin_from(program._replace(figure="", givens={}).text)

    def _begin_from(self, text: str) -> None:
        self.session.set_own(text, "Begin from other steps")

    def keep(self) -> None:
        """Keep it from job to job."""
        from wise_compass.job.ways import keep

        try:
            entry = self.session.entry
            assert entry is not None
            givens = {name: str(value) for name, value in entry.givens.items()}
            path = keep(self.program()._replace(givens=givens))
        except Refused as refusal:
            self.session.said.emit(self.session.style.say(refusal.template))
            return
        self.session.said.emit(f"Kept as {path.name}; it is offered under Begin from.")
