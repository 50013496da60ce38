"""An honest edge, asked: what was measured off the paper goes in, which distance to measure again comes out."""

from __future__ import annotations

from PySide6.QtWidgets import QFormLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.theme import show_refused
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style
from wise_compass.study.edges import EdgeOn, Hands, judge_edge


class EdgeDialog(Dialog):
    """A field for each corner that should lie on the edge; the verdict follows every key."""

    def __init__(self, parent: QWidget | None, hands: Hands, edge: EdgeOn, style: Style) -> None:
        super().__init__(parent)
        self.hands, self.edge, self.style_ = hands, edge, style
        self.setWindowTitle("An honest edge")
        self.setMinimumWidth(460)
        head = QLabel(
            f"The corners should lie in one line in view {edge.view}. Measure with "
            "the dividers how far each stands off the "
            f"line that you drew: to its left with +, to its right with −, 0 on it."
        )
        head.setWordWrap(True)
        form = QFormLayout()
        form.setVerticalSpacing(8)
        self.fields: dict[str, QLineEdit] = {}
        for letter in edge.letters:
            field = QLineEdit("0")
            field.setObjectName("field")
            name = style.lettered(f"{letter}.{edge.view}")
            field.setAccessibleName(f"How far {name} stands off the line")
            field.textChanged.connect(self._judge)
            form.addRow(f"{name} stands off by, in {style.units}", field)
            self.fields[letter] = field
        self.says = QLabel()
        self.says.setWordWrap(True)
        self.says.setMinimumHeight(92)
        self.says.setAccessibleName("What is held of it")
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(12)
        inside.addWidget(head)
        inside.addLayout(form)
        inside.addWidget(self.says)
        inside.addWidget(close)
        self._judge()

    def _judge(self) -> None:
        measured = {}
        for letter, field in self.fields.items():
            show_refused(field, False)
            try:
                measured[letter] = parse_quantity(field.text(), "length", self.style_.size)
            except Refused as refusal:
                show_refused(field, True)
                self.says.setText(refusal.words(self.style_))
                return
        self.says.setText(self.style_.say(judge_edge(self.hands, self.edge, measured).says))
