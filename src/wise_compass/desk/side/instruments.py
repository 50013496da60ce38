"""The instruments of a way of one's own, what the hand does with each, and in which view the points are named that it
makes."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from wise_compass.desk.sentence.slots import FlowLayout
from wise_compass.own.language import BY_INSTRUMENT, VERBS

SHORT = {"line in circle": "circle in", "line in arc": "arc in"}
FIRST = next(iter(BY_INSTRUMENT))


class Instruments(QWidget):
    """``begun`` brings the verb of a step that is taken up; ``laid_down`` that none is; ``named`` that points are named
    in another view from now on."""

    begun = Signal(str)
    laid_down = Signal()
    named = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.view = ""
        self.taken: dict[str, QToolButton] = {}
        self.groups: dict[str, QWidget] = {}
        self.verbs: dict[str, QToolButton] = {}
        self.named_in: dict[str, QToolButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        holder = QWidget()
        row = FlowLayout(4, 4)
        holder.setLayout(row)
        column.addWidget(holder)
        for instrument, verbs in BY_INSTRUMENT.items():
            button = choice(instrument, f"What the hand does with it: {', '.join(verbs)}")
            button.setObjectName("instrument")
            button.clicked.connect(partial(self.take_up, instrument))
            row.addWidget(button)
            self.taken[instrument] = button
            column.addWidget(self._group(instrument, verbs))
        column.addWidget(self._views())
        self.take_up(FIRST)

    def _group(self, instrument: str, verbs: tuple[str, ...]) -> QWidget:
        group = self.groups[instrument] = QWidget()
        flow = FlowLayout(4, 4)
        group.setLayout(flow)
        for verb in verbs:
            such = VERBS[verb].such
            button = self.verbs[verb] = choice(SHORT.get(verb, verb), f"Written: {such}", f"{verb}: {such}")
            button.clicked.connect(lambda on, name=verb: self._pressed(name, on))
            flow.addWidget(button)
        return group

    def _pressed(self, verb: str, on: bool) -> None:
        if on:
            self.begun.emit(verb)
        else:
            self.laid_down.emit()

    def _views(self) -> QWidget:
        self.of_views = QWidget()
        line = QHBoxLayout(self.of_views)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(4)
        line.addWidget(QLabel("Points are named"))
        for view, words in {"": "A", "front": "A.front", "top": "A.top"}.items():
            button = choice(words, "Points that are made are named so", f"Points are named {words}")
            button.setChecked(not view)
            button.clicked.connect(partial(self.name_in, view))
            line.addWidget(button)
            self.named_in[view] = button
        line.addStretch(1)
        return self.of_views

    def take_up(self, instrument: str, _on: bool = True) -> None:
        """Show what the hand does with an instrument."""
        for name, group in self.groups.items():
            group.setVisible(name == instrument)
            self.taken[name].setChecked(name == instrument)

    def show_begun(self, verb: str) -> None:
        """Show which step is taken up; "" for none."""
        for name, button in self.verbs.items():
            button.setChecked(name == verb)
        if verb:
            self.take_up(next(name for name, verbs in BY_INSTRUMENT.items() if verb in verbs))

    def name_in(self, view: str, _on: bool = True) -> None:
        """Name the points that are made from now on in a view; the same letter may stand in both."""
        self.view = view
        for name, button in self.named_in.items():
            button.setChecked(name == view)
        self.named.emit()

    def offer_views(self, offered: bool) -> None:
        """Whether the figure stands in views, which have steps of their own."""
        self.of_views.setVisible(offered)
        self.taken["Views"].setVisible(offered)
        if not offered:
            self.view = ""
            if self.taken["Views"].isChecked():
                self.take_up(FIRST)


def choice(words: str, tip: str, name: str = "", once: bool = False) -> QToolButton:
    """A button that stays pressed while what it chooses is chosen; ``once`` for one that does not."""
    button = QToolButton()
    button.setObjectName("verb")
    button.setText(words)
    button.setCheckable(not once)
    button.setToolTip(tip)
    button.setAccessibleName(name or words)
    return button
