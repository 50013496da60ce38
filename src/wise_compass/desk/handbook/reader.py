"""The handbook's reader: over the right part of the window, so that what one reads about stays in sight."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from wise_compass.desk.handbook.pageview import PageView, read_page
from wise_compass.desk.parts.keys import keep
from wise_compass.desk.parts.labels import button
from wise_compass.desk.parts.theme import wide
from wise_compass.desk.parts.work import Later
from wise_compass.handbook.finding import find
from wise_compass.handbook.opening import page
from wise_compass.handbook.pages import CATALOGUE, INDEX, Page

WIDE, MOST = 600, 0.72
"""How wide it is, and which part of the window it takes at most."""
TYPED_MS = 200
K = Qt.Key
WALKED = K.Key_Space, K.Key_Left, K.Key_Right, K.Key_H, K.Key_V, K.Key_F, K.Key_G, K.Key_E
"""Keys that walk the sheet, and turn it: while one reads, they are the page's."""
FOUND = "?"
"""Before words that were sought, in the place of a page's name."""


class _Read(NamedTuple):
    """A page that was read, how far it was scrolled."""

    name: str
    scrolled: int


class Reader(QFrame):
    """Shows pages of the handbook; Escape or F1 puts it away."""

    def __init__(self, over: QWidget) -> None:
        super().__init__(over)
        self.over = over
        self.setObjectName("reader")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("Handbook")
        self._read: list[_Read] = []
        self.later = Later(self)
        self.view = PageView(self)
        self.view.followed.connect(self.open)
        keep(self.view, WALKED)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find in the handbook …")
        self.field.setAccessibleName("Find in the handbook")
        self.field.setClearButtonEnabled(True)
        self._typed = QTimer(self)
        self._typed.setSingleShot(True)
        self._typed.setInterval(TYPED_MS)
        self._typed.timeout.connect(self.seek)
        self.field.textEdited.connect(lambda _: self._typed.start())
        self.field.returnPressed.connect(self.seek)
        self.back = button("Back", self.go_back)
        line = QHBoxLayout()
        line.setContentsMargins(14, 10, 10, 8)
        line.setSpacing(6)
        line.addWidget(self.back)
        line.addWidget(button("Contents", lambda: self.open(INDEX)))
        line.addWidget(button("Figures", lambda: self.open(CATALOGUE)))
        line.addWidget(self.field, 1)
        line.addWidget(button("Close", self.close_it))
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(0)
        inside.addLayout(line)
        inside.addWidget(self.view, 1)
        for keys, do in (("Alt+Left", self.go_back), ("Ctrl+F", self.field.setFocus)):
            short = QShortcut(QKeySequence(keys), self)
            short.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            short.activated.connect(do)
        over.installEventFilter(self)
        self.hide()

    @property
    def name(self) -> str:
        """The page that is shown."""
        return self._read[-1].name if self._read else ""

    def open(self, name: str, place: str = "") -> None:
        """Show a page by its name, from a place on it; what takes longer is made beside the window."""
        if self.isHidden():
            self._place()
            self.show()
        self.raise_()
        if self._read:
            self._read[-1] = self._read[-1]._replace(scrolled=self.view.verticalScrollBar().value())
        if name != self.name:
            self._read.append(_Read(name, 0))
        self._show(name, place)

    def _show(self, name: str, place: str = "", scrolled: int = 0) -> None:
        def shown(made: tuple[Page, str]) -> None:
            self.view.show_page(*made, place)
            if scrolled:
                self.view.verticalScrollBar().setValue(scrolled)

        self.back.setEnabled(len(self._read) > 1)
        if name.startswith(FOUND):
            words = name.removeprefix(FOUND)
            self.later.ask(lambda: find(words), lambda hits: self.view.show_hits(words, hits))
            return
        self.later.ask(lambda: read_page(page(name)), shown, lambda refused: self.view.show_hits(refused.says, ()))
        self.view.setFocus()

    def go_back(self) -> None:
        """The page that was read before."""
        if len(self._read) > 1:
            self._read.pop()
            before = self._read[-1]
            self._show(before.name, scrolled=before.scrolled)

    def seek(self) -> None:
        """Show the pages that have the words of the field."""
        self._typed.stop()
        words = self.field.text().strip()
        if words and self.name != FOUND + words:
            if self.name.startswith(FOUND):  # words that are still being typed are one search
                self._read.pop()
            self.open(FOUND + words)

    def close_it(self) -> None:
        """Put it away; the keys go to what is below again."""
        self.later.drop()
        self.hide()
        self.over.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close_it()
        else:
            super().keyPressEvent(event)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and not self.isHidden():
            self._place()
        return False

    def _place(self) -> None:
        across = min(wide(WIDE), round(self.over.width() * MOST))
        self.setGeometry(self.over.width() - across, 0, across, self.over.height())
