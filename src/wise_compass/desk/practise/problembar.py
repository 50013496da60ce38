"""The sentence of practice: the problem as a teacher would set it, what it needs, and the clock."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from wise_compass.desk.parts.labels import button, wrapped
from wise_compass.desk.practise.practising import Practising
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.wording import scale_name
from wise_compass.plan.pace import SPREAD, minutes_of

NOTHING = "Set me a problem: it fits your paper and your kit, its numbers are unround, and its answers stay hidden."


class ProblemBar(QWidget):
    """Follows the problem in hand."""

    def __init__(self, session: Practising) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("brief")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("The problem")
        self.words = wrapped("The problem", "problem")
        self.room, self.clock = wrapped("What it needs", "room"), wrapped("How long you have drawn", "shown")
        self.clock.setWordWrap(False)
        self.stop = button("Stop the clock", self._turn)
        self.stop.setObjectName("link")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(20, 12, 16, 8)
        inside.setSpacing(6)
        inside.addWidget(self.words)
        line = QHBoxLayout()
        line.addWidget(self.room, 1)
        line.addWidget(self.clock)
        line.addWidget(self.stop)
        inside.addLayout(line)
        session.selected.connect(self.fill)
        session.job_changed.connect(self.fill)
        session.ticked.connect(self.tell_time)
        self.fill()

    def fill(self) -> None:
        """Say the problem in hand."""
        hand, made = self.session.hand, self.session.run
        if hand is None or made is None:
            self.words.setText(NOTHING)
            self.room.setText("")
        else:
            problem = hand.problem
            self.words.setText(problem.words(self.session.style))
            kit = (
                "fits your kit"
                if not lacks(made.steps, made.conventions.drafter.kit, problem.scale)
                else "not your kit"
            )
            minutes = minutes_of(made.steps[made.printed_steps :], problem.scale)
            least, most = (minutes * math.exp(way * SPREAD) for way in (-1, 1))
            self.room.setText(
                f"{scale_name(problem.scale)} on {problem.paper}, {problem.lie} · {kit} · "
                f"{least:.0f} to {most:.0f} minutes"
            )
        self.tell_time()

    def tell_time(self) -> None:
        """The time that was drawn, and whether it runs."""
        hand = self.session.hand
        self.clock.setVisible(hand is not None)
        self.stop.setVisible(hand is not None and not hand.mark)
        if hand is not None:
            seconds = int(self.session.seconds)
            self.clock.setText(f"{seconds // 60}:{seconds % 60:02d}")
            self.stop.setText("Stop the clock" if hand.running else "Start the clock")

    def _turn(self) -> None:
        hand = self.session.hand
        if hand is not None:
            self.session.stop_clock() if hand.running else self.session.start_clock()
