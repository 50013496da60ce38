"""What an empty job offers: to set a figure, to open a job, the demo, or one of the jobs opened last."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.theme import wide
from wise_compass.job.person import person

WIDE = 340


class Welcome(QWidget):
    """Stands on the empty board, in its middle."""

    def __init__(
        self,
        board: QWidget,
        new: Callable[[], object],
        find: Callable[[], object],
        demo: Callable[[], object],
        open_: Callable[[Path], object],
    ) -> None:
        super().__init__(board)
        self._board, self._open = board, open_
        self.setObjectName("welcome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(wide(WIDE))
        self.inside = QVBoxLayout(self)
        self.inside.setContentsMargins(24, 20, 24, 22)
        self.inside.setSpacing(8)
        self.inside.addWidget(self._words("An empty job", "word"))
        self.buttons = [
            self._button("Set a problem  (Ctrl+N)", new),
            self._button("Open a job  (Ctrl+O)", find),
            self._button("Open the demo: Wrenfold Mill", demo),
        ]
        for button in self.buttons:
            self.inside.addWidget(button)
        self.recent: list[QPushButton] = []
        self._last()

    def _last(self) -> None:
        """The jobs opened last that are still there."""
        there = [Path(name) for name in person().recent if Path(name).is_file()]
        if there:
            self.inside.addSpacing(8)
            self.inside.addWidget(self._words("Opened last", "heading"))
        for path in there:
            button = self._button(
                path.name.removesuffix(".json").removesuffix(".wisecompass"), partial(self._open, path)
            )
            button.setToolTip(str(path))
            self.inside.addWidget(button)
            self.recent.append(button)

    @staticmethod
    def _words(words: str, name: str) -> QLabel:
        label = QLabel(words)
        label.setObjectName(name)
        return label

    @staticmethod
    def _button(words: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(words.replace("&", "&&"))
        keep(button, PRESS)
        button.setAccessibleName(words)
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        button.clicked.connect(lambda _=False: do())
        return button

    def place(self) -> None:
        """In the middle of the board."""
        self.adjustSize()
        board = self._board
        self.move((board.width() - self.width()) // 2, max((board.height() - self.height()) // 2 - 20, 12))
