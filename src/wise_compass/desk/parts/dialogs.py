"""Settings, notes, and questions."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtGui import QTextCursor
from PySide6.QtWidgets import (
    QComboBox,
    QDialogButtonBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QMessageBox,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.dayfield import DayField
from wise_compass.desk.parts.edged import Dialog, Question
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import px
from wise_compass.drafting.wishes import declared
from wise_compass.job.settings import Settings


class SettingsDialog(Dialog):
    """Settings of the job; read :attr:`settings` after it was accepted."""

    def __init__(self, parent: QWidget | None, settings: Settings) -> None:
        super().__init__(parent)
        self.setWindowTitle("Settings of this job")
        self.setMinimumWidth(400)
        form = QFormLayout()
        form.setVerticalSpacing(10)
        self.boxes: dict[str, QComboBox] = {}
        self.words: dict[str, QLineEdit] = {}
        for name, asked in declared(Settings).items():
            if asked.is_text:
                day = DayField(asked.wish.title, "none") if name == "date" else None
                field = self.words[name] = day.field if day else QLineEdit()
                field.setText(getattr(settings, name))
                field.setMaxLength(int(asked.wish.most or 0))
                field.setAccessibleName(asked.wish.title)
                form.addRow(asked.wish.title, day or field)
                continue
            box = self.boxes[name] = Pick()
            counts = range(int(asked.wish.most or 0) + 1)
            for id, words in asked.wish.options.items() or ((count, f"{0.0:.{count}f}") for count in counts):
                box.addItem(words, id)
            now = getattr(settings, name)
            box.setCurrentIndex(box.findData(now if asked.wish.options else min(now, counts[-1])))
            box.setAccessibleName(asked.wish.title)
            form.addRow(asked.wish.title, box)
        note = QLabel(
            "Lengths are kept in millimetres whatever is shown. “3 7/16 in”, “8.8 "
            "cm” and “37°30'” can be typed into any slot."
        )
        note.setWordWrap(True)
        note.setObjectName("hint")
        inside = QVBoxLayout(self)
        inside.addLayout(form)
        inside.addWidget(note)
        inside.addWidget(two_buttons(self, "Set them"))

    @property
    def settings(self) -> Settings:
        told: dict[str, Any] = {name: box.currentData() for name, box in self.boxes.items()}
        return Settings(**told | {name: field.text().strip() for name, field in self.words.items()})


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


def ask(parent: QWidget, title: str, words: str, answers: Sequence[str]) -> str:
    """Ask; returns the answer picked. The first is the default, the last what Escape gives."""
    box = Question(parent)
    box.setWindowTitle(title)
    box.setText(words)
    accept, reject = QMessageBox.ButtonRole.AcceptRole, QMessageBox.ButtonRole.RejectRole
    buttons = [box.addButton(answer, reject if i else accept) for i, answer in enumerate(answers)]
    box.setDefaultButton(buttons[0])
    box.setEscapeButton(buttons[-1])
    box.exec()
    picked = box.clickedButton()
    return answers[buttons.index(picked)] if isinstance(picked, QPushButton) and picked in buttons else answers[-1]


def tell(parent: QWidget, title: str, words: str) -> None:
    """Say something that has to be read."""
    ask(parent, title, words, ["Close"])
