"""Set out, the place of the job: its figures in the spine, the brief, the board or the space view, panels, step
rule."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QVBoxLayout, QWidget

from wise_compass.desk.paper.board import Board
from wise_compass.desk.paper.steprule import StepRule
from wise_compass.desk.places.place import Place, laid_out
from wise_compass.desk.places.stage import Stage
from wise_compass.desk.sentence.brief import Brief
from wise_compass.desk.session.session import Session
from wise_compass.desk.spine.spine import Spine

if TYPE_CHECKING:
    from wise_compass.desk.sentence.drawnup import DrawnUp
    from wise_compass.desk.side.panels import Panels

PAGES = {"Check": "check", "Shop": "pattern", "My way": "own-way", "Curve": "curves"}
"""Pages of the handbook about panels; the others show the figure."""


class SetOut(Place):
    """The place of the job. ``board`` paints first; the panels are made once it has."""

    stage: Stage
    rule: StepRule

    def __init__(self, session: Session, photograph: Callable[[Path], None]) -> None:
        super().__init__()
        self.session, self._photograph = session, photograph
        self.spine: Spine = Spine(session)
        self.brief, self.board = Brief(session), Board(session)
        self.stage, self.rule = Stage(session, self.board), StepRule(session)
        side = QWidget()
        self._side = QVBoxLayout(side)
        self._side.setContentsMargins(0, 0, 0, 0)
        self.body = laid_out(self.brief, [self.stage, self.rule], side)
        self._panels: Panels | None = None
        self._drawn_up: DrawnUp | None = None
        self.brief.drawn_up.connect(self._draw_up)

    @property
    def page(self) -> str:
        """About the photograph that lies on the board, the panel that is used, or else the figure."""
        entry = self.session.entry
        if entry is None:
            return "first-drawing"
        if self.session.photographed is not None:
            return "photograph"
        at_hand = self.panels.tabText(self.panels.currentIndex())
        return PAGES.get(at_hand, f"figures/{entry.figure}")

    @property
    def panels(self) -> Panels:
        """Steps, values and proofs, made once the board has been painted, or when they are first asked for."""
        if self._panels is None:
            from wise_compass.desk.side.panels import Panels

            self._panels = Panels(self.session)
            self._side.addWidget(self._panels)
        return self._panels

    def _draw_up(self) -> None:
        """The rows of a profile as sentences, between the board and the step rule."""
        if self._drawn_up is None:
            from wise_compass.desk.sentence.drawnup import DrawnUp

            self._drawn_up = DrawnUp(self.session)
            self.stage.lay_below(self._drawn_up)
        self._drawn_up.draw_up()

    @property
    def furnished(self) -> bool:
        """Whether the panels are there."""
        return self._panels is not None

    def focus(self) -> None:
        self.board.setFocus(Qt.FocusReason.OtherFocusReason)

    def take_photograph(self, path: Path) -> bool:
        self._photograph(path)
        return True
