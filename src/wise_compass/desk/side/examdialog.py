"""A learner's construction examined: with which instruments, and in how many steps, it may be done."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QFormLayout, QGridLayout, QLabel, QPushButton, QSpinBox, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.theme import COPPER, TEAL, colour
from wise_compass.desk.parts.work import Later
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, many
from wise_compass.own.claims import Claim
from wise_compass.own.exam import ALWAYS, INSTRUMENTS, Examined, examine
from wise_compass.own.language import MOST_STEPS


class ExamDialog(Dialog):
    """What is allowed is ticked, and the outcome follows; nothing ticked allows every instrument."""

    def __init__(self, parent: QWidget | None, claim: Claim, style: Style) -> None:
        super().__init__(parent)
        self.claim, self.style_ = claim, style
        self._later = Later(self)
        self.setWindowTitle("Examine a construction")
        self.setMinimumWidth(460)
        head = QLabel(
            "Tick the instruments that are allowed; with none ticked all are. Marking and joining up always are."
        )
        head.setWordWrap(True)
        ticks = QGridLayout()
        self.allowed: dict[str, QCheckBox] = {}
        for k, name in enumerate(one for one in INSTRUMENTS if one not in ALWAYS):
            tick = self.allowed[name] = QCheckBox(name)
            tick.toggled.connect(self._examine)
            ticks.addWidget(tick, k // 3, k % 3)
        self.most = QSpinBox()
        self.most.setRange(0, MOST_STEPS)
        self.most.setSpecialValueText("any number")
        self.most.setAccessibleName("The most steps that are allowed")
        self.most.valueChanged.connect(self._examine)
        form = QFormLayout()
        form.addRow("Steps, at most", self.most)
        self.outcome, self.says = QLabel(), QLabel()
        self.outcome.setObjectName("verdict")
        self.says.setWordWrap(True)
        self.says.setMinimumHeight(96)
        self.says.setAccessibleName("What comes of it")
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(12)
        inside.addWidget(head)
        inside.addLayout(ticks)
        inside.addLayout(form)
        inside.addWidget(self.outcome)
        inside.addWidget(self.says)
        inside.addWidget(close)
        self._examine()

    def settle(self) -> None:
        """Until the outcome stands."""
        self._later.settle()

    def _examine(self) -> None:
        allowed = [name for name, tick in self.allowed.items() if tick.isChecked()]
        most = self.most.value()
        self.outcome.setText("looking …")
        self._later.ask(lambda: examine(self.claim, allowed, most), self._tell, self._refuse)

    def _refuse(self, refusal: Refused) -> None:
        self.outcome.setText("")
        self.says.setText(self.style_.say(refusal.template))

    def _tell(self, found: Examined) -> None:
        self.outcome.setText("passed" if found.passed else "not passed")
        self.outcome.setStyleSheet(f"color: {colour(TEAL if found.passed else COPPER).name()}; font-weight: bold;")
        used = ", ".join(f"{name.lower()} {many(count, 'time')}" for name, count in found.instruments.items())
        told = [self.style_.say(found.verdict.says), *(cause.says for cause in found.verdict.causes), *found.faults]
        self.says.setText("\n".join([*told, f"{many(found.steps, 'step')}: {used}."]))
