"""The kit that lies on the table, and the hand that was calibrated: kept for a person, whatever the job."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.dialogs import two_buttons
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import heading, wrapped
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import show_refused, wide
from wise_compass.drafting.kit import LIMITS, SQUARES, Kit
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.job.person import Person, change_person, person
from wise_compass.sheet.exercises import HOW, TOPICS
from wise_compass.study.calibration import EXERCISES, Own, calibrated, own_words, read_exercise

SIZES = {
    "compass_least": "The compass closes to, mm",
    "compass_most": "and opens to, mm",
    "beam_most": "The beam compass reaches, mm (0: none)",
    "dividers_most": "The dividers open to, mm (0: none)",
    "rule_long": "The rule is long, mm",
    "rule_by": "and graduated by, mm",
    "protractor_by": "The protractor is graduated by, ° (0: none)",
}
SQUARE_WORDS = {"45 and 60": "both, of 45° and of 60°", "45": "of 45° only", "60": "of 60° only", "none": "none"}


class KitDialog(Dialog):
    """What instruments there are; read :attr:`kit` after it was accepted."""

    def __init__(self, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle("My kit")
        self.setMinimumWidth(wide(440))
        now = person().kit
        form = QFormLayout()
        form.setVerticalSpacing(8)
        self.fields: dict[str, QLineEdit] = {}
        for name, words in SIZES.items():
            field = QLineEdit(f"{getattr(now, name):g}")
            field.setObjectName("field")
            field.setAccessibleName(words)
            field.setFixedWidth(wide(90))
            form.addRow(words, field)
            self.fields[name] = field
        self.squares, self.curves = Pick(), QCheckBox("drawing curves")
        for name in SQUARES:
            self.squares.addItem(SQUARE_WORDS[name], name)
        self.squares.setCurrentIndex(self.squares.findData(now.squares))
        self.squares.setAccessibleName("Set squares")
        self.curves.setChecked(now.curves)
        form.addRow("Set squares", self.squares)
        self.scale_rules = QCheckBox("scale rules")
        self.scale_rules.setChecked(now.scale_rules)
        form.addRow("There are", self.curves)
        form.addRow("and", self.scale_rules)
        self.says = wrapped("What is refused", "hint")
        self.says.setText("Steps that this kit cannot do are told under Steps and Compare, with a way round.")
        self.says.setMinimumHeight(44)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(12)
        inside.addLayout(form)
        inside.addWidget(self.says)
        inside.addWidget(two_buttons(self, "Keep it"))

    @property
    def kit(self) -> Kit:
        """The kit as it is told; raises :class:`Refused` for a size that no instrument has."""
        sizes, refused = {}, None
        for name, field in self.fields.items():
            show_refused(field, False)
            low, high = LIMITS[name]
            try:
                size = parse_quantity(field.text(), "angle" if name == "protractor_by" else "length", 1.0)
                if not low <= size <= high:
                    says = f"{SIZES[name].partition(',')[0]} {size:g}; it can be {low:g} to {high:g}."
                    raise Refused(name, f"{says} {'Raise' if size < low else 'Lower'} it.")
                sizes[name] = size
            except Refused as refusal:
                show_refused(field, True)
                refused = refused or refusal
        if refused is None and sizes["compass_least"] >= sizes["compass_most"]:
            refused = Refused("compass_most", "The compass cannot close to more than it opens to.")
        if refused is not None:
            raise refused
        return Kit(
            **sizes,
            squares=self.squares.currentData(),
            curves=self.curves.isChecked(),
            scale_rules=self.scale_rules.isChecked(),
        )

    def accept(self) -> None:
        try:
            change_person(lambda now: now._replace(kit=self.kit))
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        super().accept()


class HandDialog(Dialog):
    """The exercises: print them, type what was measured, keep what comes of it."""

    def __init__(self, parent: QWidget | None, save_sheet: Callable[[], None]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Calibrate my hand")
        self.resize(wide(640), 640)
        head = wrapped("What to do")
        head.setText(
            "Print the two sheets, draw on them as you always do, measure, and type what you "
            "measured in mm; as many as you like. Your own scatter "
            "then takes the place of the assumed one, in checks and everywhere else."
        )
        sheet = QPushButton("Save the sheets of exercises…")
        sheet.clicked.connect(save_sheet)
        body = QWidget()
        grid = QGridLayout(body)
        grid.setColumnStretch(3, 1)
        grid.setHorizontalSpacing(12)
        self.fields: dict[str, QLineEdit] = {}
        self.told: dict[str, QLabel] = {}
        row = 0
        for topic in TOPICS:
            grid.addWidget(heading(TOPICS[topic].partition(".")[0]), row, 0, 1, 4)
            how = wrapped(f"How {topic} is measured", "hint")
            how.setText(HOW[topic])
            grid.addWidget(how, row + 1, 0, 1, 4)
            row += 2
            mine = [one for one in EXERCISES if one.tolerance == topic]
            for k, exercise in enumerate(mine):
                field = QLineEdit()
                field.setObjectName("field")
                field.setFixedWidth(wide(80))
                field.setAccessibleName(f"{exercise.name} as measured, in mm")
                field.textChanged.connect(self._judge)
                grid.addWidget(QLabel(exercise.name), row + k, 0)
                grid.addWidget(field, row + k, 1)
                self.fields[exercise.name] = field
            told = wrapped(f"What is found of {topic}")
            told.setAlignment(Qt.AlignmentFlag.AlignTop)
            grid.addWidget(told, row, 2, len(mine), 2)
            self.told[topic] = told
            row += len(mine)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(body)
        self.says = wrapped("What is refused", "hint")
        self.forget = QPushButton("Forget what was measured")
        self.forget.clicked.connect(self._forget)
        self.keep, leave = QPushButton("Keep it"), QPushButton("Cancel")
        self.keep.setDefault(True)
        self.keep.clicked.connect(self._keep)
        leave.clicked.connect(self.reject)
        below = QHBoxLayout()
        below.addWidget(self.forget)
        below.addStretch(1)
        below.addWidget(self.keep)
        below.addWidget(leave)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 16)
        inside.setSpacing(10)
        for widget in (head, sheet):
            inside.addWidget(widget)
        inside.addWidget(scroll, 1)
        inside.addWidget(self.says)
        inside.addLayout(below)
        self._judge()

    def _judge(self) -> list[Own]:
        """What comes of what is typed, shown beside it; what cannot be read is marked and said."""
        measured, refused = {}, ""
        for name, field in self.fields.items():
            show_refused(field, False)
            if field.text().strip():
                try:
                    measured[name] = read_exercise(name, field.text())
                except Refused as refusal:
                    show_refused(field, True)
                    refused = refused or refusal.says
        owns = calibrated(measured) if measured else []
        have = person().hand
        for topic, label in self.told.items():
            fresh = next((own for own in owns if own.tolerance == topic), None)
            label.setText(
                own_words(fresh) if fresh else f"Kept: {own_words(have[topic])}" if topic in have else "As assumed."
            )
        self.says.setText(refused)
        self.keep.setEnabled(bool(owns) and not refused)
        self.forget.setEnabled(bool(have))
        return owns

    def _keep(self) -> None:
        owns = self._judge()
        self._put(lambda now: now.with_hand(owns))

    def _forget(self) -> None:
        self._put(lambda now: now._replace(hand={}))

    def _put(self, change: Callable[[Person], Person]) -> None:
        try:
            change_person(change)
        except Refused as refusal:
            self.says.setText(refusal.says)
            return
        self.accept()
