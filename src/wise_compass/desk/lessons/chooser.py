"""All lessons, with how far each was done."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.lessons.tasks import LESSONS
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import wrapped
from wise_compass.desk.parts.theme import wide
from wise_compass.job.person import person


class LessonChooser(Dialog):
    """``begin`` is called with the lesson that is picked."""

    def __init__(self, parent: QWidget, begin: Callable[[str], None]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Lessons")
        self.setMinimumWidth(wide(560))
        self._begin = begin
        self.buttons: dict[str, QPushButton] = {}
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(10)
        done = person().lessons
        for row, plan in enumerate(LESSONS.values()):
            says = wrapped(f"What {plan.title} is")
            says.setText(f"<b>{plan.title}</b><br>{plan.says}")
            so_far = done.get(plan.id, 0)
            whole = so_far >= len(plan.tasks)
            state = QLabel("done" if whole else f"{so_far} of {len(plan.tasks)}" if so_far else "")
            state.setObjectName("hint")
            words = "Again" if whole else "Go on" if so_far else "Begin"
            self.buttons[plan.id] = QPushButton(words)
            self.buttons[plan.id].setAccessibleName(f"{words}: {plan.title}")
            self.buttons[plan.id].clicked.connect(partial(self._pick, plan.id))
            for column, part in enumerate((says, state, self.buttons[plan.id])):
                grid.addWidget(part, row, column)
        grid.setColumnStretch(0, 1)
        note = wrapped("On which job", "hint")
        note.setText("A lesson opens a small job of its own; it can be left at any time, and is taken up where it was.")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(14)
        inside.addLayout(grid)
        inside.addWidget(note)

    def _pick(self, id: str, *_: object) -> None:
        self.accept()
        self._begin(id)
