"""Labels and buttons of panels and dialogs: the heading of a group, words that wrap, and buttons that Enter elsewhere
does not press."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QLabel, QLayout, QPushButton


def heading(words: str) -> QLabel:
    """The heading of a group; the style sheet underlines it over the whole width, which an indent of the toolkit's
    would shorten."""
    label = QLabel(words)
    label.setObjectName("heading")
    label.setIndent(0)
    return label


def wrapped(name: str, object_name: str = "") -> QLabel:
    """Words that come later and wrap; ``name`` is what a screen reader calls them."""
    label = QLabel()
    label.setWordWrap(True)
    label.setAccessibleName(name)
    label.setObjectName(object_name)
    return label


def button(words: str, do: Callable[[], object]) -> QPushButton:
    """A button that Enter in a field of its dialog does not press."""
    made = QPushButton(words)
    made.setAutoDefault(False)
    made.clicked.connect(lambda _=False: do())
    return made


def emptied(layout: QLayout) -> None:
    """Take every widget out of a layout, and down."""
    while (item := layout.takeAt(0)) is not None:
        if (widget := item.widget()) is not None:
            widget.hide()
            widget.deleteLater()
