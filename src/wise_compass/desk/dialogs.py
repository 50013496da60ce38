"""Settings, the sheet of keys, and questions."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QTextCursor
from PySide6.QtWidgets import (
    QComboBox,
    QDialogButtonBox,
    QFormLayout,
    QGridLayout,
    QLabel,
    QMessageBox,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.edged import Dialog, Question
from wise_compass.desk.picks import Pick
from wise_compass.desk.theme import TEAL, px, shade
from wise_compass.job.model import Settings
from wise_compass.sheet.paper import SIZES

CHOICES = {
    "units": ("Units", {"mm": "millimetres", "in": "inches"}),
    "projection": ("Projection", {"first": "first angle: top view below", "third": "third angle: top view above"}),
    "lettering": ("Lettering of views", {"primes": "a′ in front, a from the top", "numbers": "a₂ in front, a₁ from the top"}),
    "inches": ("Inches", {"decimals": "as decimals", "fractions": "to 1/64, with what that leaves out"}),
    "dividing": (
        "A length is divided",
        {
            "auto": "as is least trouble",
            "rule": "with the rule",
            "trial": "by trial with the dividers",
            "parallels": "by parallels to a slant line",
        },
    ),
    "paper": ("Paper of a new sheet", {"auto": "smallest that serves", **{size: size for size in SIZES}}),
}
MOST_DECIMALS = 6
"""That values are shown with."""


class SettingsDialog(Dialog):
    """Settings of the job; read :attr:`settings` after it was accepted."""

    def __init__(self, parent: QWidget | None, settings: Settings) -> None:
        super().__init__(parent)
        self.setWindowTitle("Settings of this job")
        self.setMinimumWidth(400)
        form = QFormLayout()
        form.setVerticalSpacing(10)
        self.boxes: dict[str, QComboBox] = {}
        for name, (caption, options) in CHOICES.items():
            box = Pick()
            for id, words in options.items():
                box.addItem(words, id)
            box.setCurrentIndex(box.findData(getattr(settings, name)))
            box.setAccessibleName(caption)
            form.addRow(caption, box)
            self.boxes[name] = box
        self.decimals = Pick()
        for count in range(MOST_DECIMALS + 1):
            self.decimals.addItem(f"{0.0:.{count}f}", count)
        self.decimals.setCurrentIndex(self.decimals.findData(min(settings.decimals, MOST_DECIMALS)))
        self.decimals.setAccessibleName("Decimals")
        form.addRow("Decimals", self.decimals)
        note = QLabel(
            "Lengths are kept in millimetres whatever is shown. “3 7/16 in”, “8.8 cm” and “37°30'” can be typed into any slot."
        )
        note.setWordWrap(True)
        note.setObjectName("hint")
        inside = QVBoxLayout(self)
        inside.addLayout(form)
        inside.addWidget(note)
        inside.addWidget(two_buttons(self, "Set them"))

    @property
    def settings(self) -> Settings:
        return Settings(decimals=self.decimals.currentData(), **{name: box.currentData() for name, box in self.boxes.items()})


class NotesDialog(Dialog):
    """What is written under a figure; read :attr:`words` after it was accepted."""

    def __init__(self, parent: QWidget | None, notes: str) -> None:
        super().__init__(parent)
        self.setWindowTitle("Notes under the figure")
        self.setMinimumWidth(px(520))
        says = QLabel("Up to two lines stand under the figure on its sheet; longer ones are wrapped.")
        says.setObjectName("hint")
        self.text = QPlainTextEdit(notes)
        self.text.setTabChangesFocus(True)
        self.text.setAccessibleName("Notes")
        self.text.setFixedHeight(px(92))
        self.text.moveCursor(QTextCursor.MoveOperation.End)
        inside = QVBoxLayout(self)
        for part in (says, self.text, two_buttons(self, "Write them")):
            inside.addWidget(part)

    @property
    def words(self) -> str:
        return self.text.toPlainText()


def two_buttons(dialog: Dialog, yes: str) -> QDialogButtonBox:
    """The button that does what a dialog is for, and Cancel."""
    buttons = QDialogButtonBox()
    buttons.addButton(yes, QDialogButtonBox.ButtonRole.AcceptRole).setDefault(True)
    buttons.addButton("Cancel", QDialogButtonBox.ButtonRole.RejectRole)
    buttons.accepted.connect(dialog.accept)
    buttons.rejected.connect(dialog.reject)
    return buttons


class KeysDialog(Dialog):
    """Every key, made from the actions themselves."""

    EXTRA = (
        ("Left, Right", "walk a step back or on"),
        ("Home, End on the rule", "blank paper, finished drawing"),
        ("Space", "play the steps, or stop"),
        ("H", "hide the construction"),
        ("E", "the scatter of the last view"),
        ("V", "the space view, or the sheet"),
        ("G in the space view", "its planes, the solid, its pattern"),
        ("F in the space view", "fold or unfold; lift the solid’s upper part off"),
        ("drag, or Shift + arrows, in space", "turn the eye; a double click or Home puts it back"),
        ("Up, Down in a slot", "nudge the given"),
        ("Shift + Up, Down", "ten times as far"),
        ("Alt + Up, Down", "a tenth as far"),
        ("Tab", "on to the next slot or panel"),
        ("wheel on the board", "zoom to the pointer"),
        ("drag the board", "pan"),
        ("Shift + drag the board", "move the figure on its sheet"),
        ("two clicks on the board", "measure with the dividers"),
        ("Escape", "lift the dividers"),
        ("Ctrl + C on a value or a step", "copy it"),
    )

    def __init__(self, parent: QWidget | None, actions: Sequence[QAction]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        grid = QGridLayout()
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(5)
        rows = [(", ".join(k.toString() for k in a.shortcuts()), a.text().replace("…", "")) for a in actions if a.shortcuts()]
        rows += list(self.EXTRA)
        half = (len(rows) + 1) // 2
        for place, (keys, says) in enumerate(rows):
            column = 3 * (place // half)
            head = QLabel(keys)
            head.setStyleSheet(f"font-weight: bold; color: {shade(TEAL)};")
            grid.addWidget(head, place % half, column)
            grid.addWidget(QLabel(says), place % half, column + 1)
        grid.setColumnMinimumWidth(2, 24)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        close.setDefault(True)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(24, 20, 24, 16)
        inside.addLayout(grid)
        inside.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)


def ask(parent: QWidget, title: str, words: str, answers: Sequence[str]) -> str:
    """Ask; returns the answer picked. The first is the default, the last what Escape gives."""
    box = Question(parent)
    box.setWindowTitle(title)
    box.setText(words)
    buttons = {
        box.addButton(answer, QMessageBox.ButtonRole.AcceptRole if i == 0 else QMessageBox.ButtonRole.RejectRole): answer
        for i, answer in enumerate(answers)
    }
    box.setDefaultButton(next(iter(buttons)))
    box.setEscapeButton(list(buttons)[-1])
    box.exec()
    return buttons.get(box.clickedButton(), answers[-1])


def tell(parent: QWidget, title: str, words: str) -> None:
    """Say something that has to be read."""
    ask(parent, title, words, ["Close"])
