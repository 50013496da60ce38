"""Labels and buttons of panels and dialogs: the heading of a group, words that wrap, and buttons that Enter elsewhere
does not press."""

from __future__ import annotations

import re
from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetrics
from PySide6.QtWidgets import QLabel, QLayout, QPushButton

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.theme import font

TAG = re.compile(r"<[^>]*>")


def heading(words: str) -> QLabel:
    """The heading of a group; the style sheet underlines it over the whole width, which an indent of the toolkit's
    would shorten."""
    label = QLabel(words)
    label.setObjectName("heading")
    label.setIndent(0)
    return label


class Words(QLabel):
    """Words that come later and wrap. A screen reader has what they are about, ``name``, and then the words themselves,
    whenever they change."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self.setWordWrap(True)
        self.setAccessibleName(name)

    def setText(self, words: str) -> None:
        super().setText(words)
        self.setAccessibleName(f"{self._name}: {TAG.sub('', words)}" if words else self._name)


def wrapped(name: str, object_name: str = "") -> Words:
    """Words that come later and wrap; ``name`` is what they are about."""
    label = Words(name)
    label.setObjectName(object_name)
    return label


def button(words: str, do: Callable[[], object]) -> QPushButton:
    """A button that Enter in a field of its dialog does not press."""
    made = QPushButton(words)
    keep(made, PRESS)
    made.setAutoDefault(False)
    made.clicked.connect(lambda _=False: do())
    return made


def switch(words: str, says: str) -> QPushButton:
    """A button that stays pressed in; ``says`` is what it shows, in full. It is as wide as its words in bold."""
    made = QPushButton(words)
    keep(made, PRESS)
    made.setObjectName("switchbutton")
    made.setCheckable(True)
    made.setAutoDefault(False)
    made.setToolTip(says)
    made.setAccessibleDescription(says)
    made.setMinimumWidth(QFontMetrics(font(12, True)).horizontalAdvance(words) + 28)
    return made


def spine_button(words: str, says: str) -> QPushButton:
    """A button on the spine; ``says`` is what it does, in full."""
    made = QPushButton(words)
    keep(made, PRESS)
    made.setObjectName("spinebutton")
    made.setToolTip(says)
    made.setAccessibleName(words.lstrip("+ "))
    made.setAccessibleDescription(says)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    return made


def emptied(layout: QLayout) -> None:
    """Take every widget out of a layout, and down."""
    while (item := layout.takeAt(0)) is not None:
        if (widget := item.widget()) is not None:
            widget.hide()
            widget.deleteLater()
