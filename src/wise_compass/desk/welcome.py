"""What an empty job offers: to state a problem, examples, the jobs opened last, practice, a photograph, a lesson,
the demo."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path

from PySide6.QtCore import QEvent, QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import heading, wrapped
from wise_compass.desk.parts.theme import INK, px, wide
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.desk.spine.spinelist import WIDTH
from wise_compass.geometry.vectors import Array
from wise_compass.job.person import person

WIDE = 660
SAYS = (
    "State a drafting problem, and Wise Compass works out every point, walks "
    "your hand through each step with the setting "
    "of each instrument, proves the result, and judges what you drew."
)
EXAMPLES = (
    "An ellipse, major axis 152 mm, minor axis 88 mm, by the two circles method.",
    "Develop a cone of base diameter 60 mm and height 80 mm.",
    "Draw an arc of radius 22 mm tangent to two lines that meet at 74°.",
)
"""Three problems of unlike kinds, each set as it stands."""


class PictureButton(QPushButton):
    """A job by its name, with a picture of its first figure once that is known."""

    def __init__(self, words: str) -> None:
        super().__init__(words)
        self.setObjectName("picturebutton")
        self.lines: list[Array] = []

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.lines:
            from wise_compass.desk.spine.pictures import paint_picture

            painter = QPainter(self)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            side = self.height() - 12
            paint_picture(painter, self.lines, QRectF(9, 6, side, side), INK, 1.2)
            painter.end()


class Welcome(QWidget):
    """Stands on the empty board of a window, in its middle."""

    def __init__(self, window: JobWindow) -> None:
        super().__init__(window.centralWidget())
        self._window = window
        self.setObjectName("welcome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(wide(WIDE))
        inside = QVBoxLayout(self)
        inside.setContentsMargins(26, 20, 26, 22)
        inside.setSpacing(9)
        what = wrapped("What this program does")
        what.setText(SAYS)
        inside.addWidget(what)
        self.field = QLineEdit()
        self.field.setObjectName("stated")
        self.field.setPlaceholderText("State a problem …  and press Enter")
        self.field.setAccessibleName("State a problem, in words")
        self.field.returnPressed.connect(lambda: window.set_problem(self.field.text()))
        line = QHBoxLayout()
        line.addWidget(self.field, 1)
        line.addWidget(self._button("Set it  (Ctrl+N)", lambda: window.set_problem(self.field.text())))
        inside.addLayout(line)
        self.examples = [self._button(words, partial(window.set_problem, words), "example") for words in EXAMPLES]
        for example in self.examples:
            inside.addWidget(example)
        inside.addSpacing(6)
        grid = QGridLayout()
        grid.setSpacing(8)
        self.buttons = [
            self._button("First lesson: five minutes", lambda: window.lesson("first")),
            self._button("Open the demo: Wrenfold Mill", window.open_demo),
            self._button("Practise", lambda: window.go(1)),
            self._button("A sheet photographed…", window.open_photograph),
            self._button("Open a job…  (Ctrl+O)", window.open_file),
            self._button("All figures, by their pictures", lambda: window.set_problem("")),
        ]
        for place, one in enumerate(self.buttons):
            grid.addWidget(one, place // 2, place % 2)
        inside.addLayout(grid)
        self.recent: list[QPushButton] = []
        self._wanted: list[tuple[PictureButton, Path]] = []
        self._last(inside)

    def _last(self, inside: QVBoxLayout) -> None:
        """The jobs opened last that are still there; their pictures come once the window stands."""
        there = [Path(name) for name in person().recent if Path(name).is_file()][:4]
        if not there:
            return
        inside.addSpacing(4)
        inside.addWidget(heading("Opened last"))
        grid = QGridLayout()
        grid.setSpacing(8)
        for place, path in enumerate(there):
            button = PictureButton(path.name.removesuffix(".json").removesuffix(".wisecompass").replace("&", "&&"))
            self._furnish(button, partial(self._window.open_path, path))
            button.setToolTip(str(path))
            grid.addWidget(button, place // 2, place % 2)
            self.recent.append(button)
            self._wanted.append((button, path))
        inside.addLayout(grid)
        QTimer.singleShot(0, self._picture)

    def _picture(self) -> None:
        """Draw the picture of one job, then let the window breathe."""
        from wise_compass.desk.spine.pictures import courses
        from wise_compass.drafting.refusals import Refused
        from wise_compass.job.build import run_entry
        from wise_compass.job.store import load

        if not self._wanted or not self.isVisible():
            return
        button, path = self._wanted.pop(0)
        with suppress(Refused, OSError):
            job = load(path)
            entries = job.entries()
            if entries:
                button.lines = courses(run_entry(entries[0], job.settings, None))
                button.update()
        QTimer.singleShot(0, self._picture)

    def _button(self, words: str, do: Callable[[], object], name: str = "") -> QPushButton:
        button = QPushButton(words.replace("&", "&&"))
        button.setObjectName(name)
        self._furnish(button, do)
        return button

    @staticmethod
    def _furnish(button: QPushButton, do: Callable[[], object]) -> None:
        keep(button, PRESS)
        button.setAccessibleName(button.text())
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        button.clicked.connect(lambda _=False: do())

    def changeEvent(self, event: QEvent) -> None:
        """The style comes once all of the window is put together, and with it what the buttons need."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.StyleChange:
            QTimer.singleShot(0, self.place)

    def place(self) -> None:
        """In the middle of the room beside the spine."""
        whole = self.parentWidget()
        assert whole is not None
        left = wide(WIDTH)
        self.setMinimumHeight(0)
        self.resize(self.width(), max(self.heightForWidth(self.width()), px(200)))
        self.move(
            left + max((whole.width() - left - self.width()) // 2, 4),
            max((whole.height() - self.height()) // 2 - 20, 8),
        )
        self.raise_()
