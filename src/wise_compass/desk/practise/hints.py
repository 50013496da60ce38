"""Hints: the steps by their numbers, told one at a time, to be ticked as they are done."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import button, wrapped
from wise_compass.desk.practise.practising import Practising


class Hints(QWidget):
    """Follows the problem in hand."""

    def __init__(self, session: Practising) -> None:
        super().__init__()
        self.session = session
        self.setAccessibleName("Hints")
        self.says = wrapped("What hints are for", "hint")
        self.steps = QListWidget()
        self.steps.setObjectName("ticks")
        self.steps.setAccessibleName("Steps; tick those that are done")
        self.steps.setWordWrap(True)
        keep(self.steps, PRESS)
        self.steps.itemChanged.connect(self._ticked)
        self.steps.itemClicked.connect(lambda item: session.walk_to(self._number(item)))
        self.hint = button("A hint: the next step", session.reveal)
        self.hint.setToolTip("Tells the next step and draws it on the board (Ctrl+Return)")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 12, 12, 12)
        inside.setSpacing(8)
        inside.addWidget(self.says)
        inside.addWidget(self.steps, 1)
        inside.addWidget(self.hint)
        self._filling = False
        session.drawn.connect(self.fill)
        self.fill()

    def fill(self) -> None:
        """A line a step: what was revealed in words, the others by their numbers."""
        made, hand = self.session.run, self.session.hand
        shown = self.session.last_step
        self._filling = True
        self.steps.clear()
        if made is not None and hand is not None:
            style, scale = self.session.style, hand.problem.scale
            for step in made.steps[self._given :]:
                words = f"step {step.n}"
                if step.n <= shown:
                    setting = step.setting(style, scale)
                    told = f"{step.tool(scale)}{'  ' + setting if setting else ''}: {step.sentence(style, scale)}"
                    words = f"{words}   {told}"
                item = QListWidgetItem(words)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                item.setCheckState(Qt.CheckState.Checked if step.n in hand.ticked else Qt.CheckState.Unchecked)
                self.steps.addItem(item)
            if self._given < shown < len(made.steps):
                self.steps.scrollToItem(self.steps.item(shown - self._given - 1))
        self._filling = False
        left = len(made.steps) - shown if made is not None else 0
        self.hint.setEnabled(left > 0)
        self.says.setText(
            "All steps are told." if made is not None and not left
            else "Stuck? A hint tells the next step and draws it; all others stay hidden. Tick what you have drawn."
            if made is not None else "Hints stand here once a problem is set."
        )  # fmt: skip

    @property
    def _given(self) -> int:
        """The steps that stand on the paper already are no hints."""
        return self.session.run.printed_steps if self.session.run is not None else 0

    def _number(self, item: QListWidgetItem) -> int:
        return self.steps.row(item) + 1 + self._given

    def _ticked(self, item: QListWidgetItem) -> None:
        hand = self.session.hand
        if self._filling or hand is None:
            return
        number = self._number(item)
        ticked = item.checkState() == Qt.CheckState.Checked
        hand.ticked = hand.ticked | {number} if ticked else hand.ticked - {number}
        self.session.changed()
