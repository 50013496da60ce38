"""Labels of the panels: the heading of a group, and words that wrap."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel


def heading(words: str) -> QLabel:
    """The heading of a group, underlined over the whole width."""
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
