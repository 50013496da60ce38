"""A place of the window: its lines in the spine, and its body of sentence, board, panels and step rule."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from wise_compass.desk.parts.theme import wide

if TYPE_CHECKING:
    from pathlib import Path

    from wise_compass.desk.paper.steprule import StepRule
    from wise_compass.desk.places.stage import Stage

SIDE = 330
"""Width of the panels by day's text: seven tabs, for a pattern with curves."""


class PlaceName(NamedTuple):
    """A place by its name in settings, what it is called, and what it is for."""

    id: str
    title: str
    says: str


PLACES = (
    PlaceName("set-out", "Set out", "The job: problems set, drawn and proved"),
    PlaceName("practise", "Practise", "Problems to draw on paper, hints, and the mark; a class"),
    PlaceName("logbook", "Logbook", "What was checked and practised, and what recurs"),
    PlaceName("plan", "Plan", "The day: which sheet when, and what has to lie on the table"),
)


class Place(QObject):
    """What every place has: ``spine`` stands in the column, ``body`` beside it.

    ``stage`` and ``rule`` are those of a place that shows a sheet and walks it.
    """

    spine: QWidget
    body: QWidget
    stage: Stage | None = None
    rule: StepRule | None = None

    @property
    def page(self) -> str:
        """The page of the handbook about what is at hand."""
        return "index"

    def come(self) -> None:
        """It is shown now; what it shows may be other than when it was left."""

    def leave(self) -> None:
        """Another place is shown."""

    def focus(self) -> None:
        """The keys go to where work is gone on with."""
        self.body.setFocus()

    def say(self, words: str) -> None:
        """A short message where one looks: on the board, or in the line of a place that has none."""
        if self.stage is not None:
            self.stage.board.say(words)

    def hand_over(self, other: Place) -> None:
        """Give what is in hand here to the same place of a window that takes this one's."""

    def print_out(self) -> bool:
        """Print what is shown here; False where that is nothing of its own, and a sheet of the job is meant."""
        return False

    def take_photograph(self, path: Path) -> bool:
        """Read a photograph that was dropped or opened; False where this place has no use of it."""
        return False


def sentence_of(title: QWidget, says: QWidget) -> QWidget:
    """The sentence of a place without a problem: what it comes to, and a line below."""
    sentence = QWidget()
    sentence.setObjectName("brief")
    sentence.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    inside = QVBoxLayout(sentence)
    inside.setContentsMargins(20, 12, 16, 10)
    inside.addWidget(title)
    inside.addWidget(says)
    return sentence


def scrolled(part: QWidget, name: str) -> QScrollArea:
    """A part that may be higher than its room; ``name`` is what a screen reader calls it."""
    scroll = QScrollArea()
    scroll.setWidgetResizable(True)
    scroll.setFrameShape(QScrollArea.Shape.NoFrame)
    scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    scroll.setAccessibleName(name)
    scroll.setWidget(part)
    return scroll


def laid_out(sentence: QWidget, middle: list[QWidget], side: QWidget | None) -> QWidget:
    """A body: the sentence on top, the middle with its first part as large as can be, panels at the right."""
    column = QVBoxLayout()
    column.setSpacing(0)
    for place, widget in enumerate(middle):
        column.addWidget(widget, 0 if place else 1)
    below = QHBoxLayout()
    below.setSpacing(0)
    below.addLayout(column, 1)
    if side is not None:
        side.setFixedWidth(wide(SIDE))
        below.addWidget(side)
    body = QWidget()
    whole = QVBoxLayout(body)
    whole.setContentsMargins(0, 0, 0, 0)
    whole.setSpacing(0)
    whole.addWidget(sentence)
    whole.addLayout(below, 1)
    return body
