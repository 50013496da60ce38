"""The field that a problem is typed, pasted or dropped into; what was read of it is marked in its text."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

from PySide6.QtCore import QMimeData, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QSyntaxHighlighter, QTextCharFormat, QTextDocument
from PySide6.QtWidgets import QPlainTextEdit

from wise_compass.desk.parts.theme import BOXWOOD, COPPER, SOFT, TEAL, colour, font, px
from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import read_text
from wise_compass.words.reading import LONGEST

TOLD, DOUBTED, UNUSED = "told", "doubted", "unused"
LINES = 3


class Marked(NamedTuple):
    """A part of the text, from one sign to behind another, and how it is marked."""

    start: int
    end: int
    kind: str
    name: str = ""
    """Of the given that it tells."""


def _ink(kind: str, lit: bool) -> QTextCharFormat:
    ink = QTextCharFormat()
    if kind == UNUSED:
        ink.setFontStrikeOut(True)
        ink.setForeground(colour(SOFT))
    else:
        styles = QTextCharFormat.UnderlineStyle
        ink.setUnderlineStyle(styles.SingleUnderline if kind == TOLD else styles.DashUnderline)
        ink.setUnderlineColor(colour(TEAL if kind == TOLD else COPPER))
        ink.setForeground(colour(TEAL if kind == TOLD else COPPER))
    if lit:
        ink.setBackground(colour(BOXWOOD))
    return ink


class _Marker(QSyntaxHighlighter):
    """Puts the marks on the text."""

    def __init__(self, document: QTextDocument) -> None:
        super().__init__(document)
        self.marks: list[Marked] = []
        self.lit = ""

    def highlightBlock(self, text: str) -> None:
        first = self.currentBlock().position()
        for mark in self.marks:
            start, end = max(mark.start - first, 0), min(mark.end - first, len(text))
            if start < end:
                self.setFormat(start, end - start, _ink(mark.kind, bool(self.lit) and mark.name == self.lit))


class StatementField(QPlainTextEdit):
    """A few lines for a problem in words. Enter sets it, Shift+Enter begins a line; the arrows walk through what was
    found while the problem is one line."""

    entered = Signal()
    walked = Signal(QKeyEvent)
    pointed = Signal(str)
    refused = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFont(font(17))
        self.setPlaceholderText("Type or paste the problem in words, or a name, a use, a given …")
        self.setAccessibleName("The problem in words")
        self.setTabChangesFocus(True)
        self.setMouseTracking(True)
        self.setFixedHeight(px(24) * LINES + 20)
        self._marker = _Marker(self.document())

    def mark(self, marks: Sequence[Marked]) -> None:
        """Mark what was read; spans are signs of the text, which counts some signs for two."""
        text = self.toPlainText()
        if not text.isascii():
            wide = [len(text[:k].encode("utf-16-le")) // 2 for k in range(len(text) + 1)]
            marks = [mark._replace(start=wide[mark.start], end=wide[mark.end]) for mark in marks]
        if list(marks) != self._marker.marks:
            self._marker.marks = list(marks)
            self._rehighlight()

    def light(self, name: str) -> None:
        """Light the words that tell a given."""
        if name != self._marker.lit:
            self._marker.lit = name
            self._rehighlight()

    def _rehighlight(self) -> None:
        self.blockSignals(True)  # the text is as it was
        self._marker.rehighlight()
        self.blockSignals(False)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        shifted = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        arrow = event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.blockCount() == 1
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not shifted:
            self.entered.emit()
        elif arrow or event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.walked.emit(event)
        else:
            super().keyPressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        super().mouseMoveEvent(event)
        at = self.cursorForPosition(event.position().toPoint()).position()
        self.pointed.emit(next((mark.name for mark in self._marker.marks if mark.start <= at <= mark.end), ""))

    def canInsertFromMimeData(self, source: QMimeData) -> bool:
        return source.hasUrls() or super().canInsertFromMimeData(source)

    def insertFromMimeData(self, source: QMimeData) -> None:
        """What is pasted or dropped: words, or a file of them."""
        files = [Path(url.toLocalFile()) for url in source.urls() if url.isLocalFile()]
        try:
            words = "\n\n".join(read_text(file, "problems", replaced=True) for file in files) or source.text()
        except Refused as refusal:
            self.refused.emit(refusal.says)
            return
        if len(words) > 10 * LONGEST:
            self.refused.emit(f"That is {len(words)} signs long; paste {10 * LONGEST} at most.")
            return
        self.insertPlainText(words.strip())
