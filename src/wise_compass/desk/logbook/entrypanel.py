"""The entry that is picked: what it was, its picture, and the ways back to its figure and its problem."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any, Protocol

from PySide6.QtCore import Qt
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.reckon import LogbookRow, title_of
from wise_compass.logbook.store import Logbook, Noted

PICTURE = (300, 200)


class OfEntries(Protocol):
    """The page that the panel stands beside."""

    window: JobWindow | None
    book: Logbook

    def attempt(self, do: Callable[[], Any]) -> None: ...
    def selected(self) -> list[LogbookRow]: ...
    def attach(self) -> None: ...
    def take_in(self) -> None: ...
    def save(self) -> None: ...
    def delete(self) -> None: ...
    def delete_all(self) -> None: ...


class EntryPanel(QWidget):
    """Stands at the right of the page."""

    def __init__(self, place: OfEntries) -> None:
        super().__init__()
        self.place = place
        self.setObjectName("sidepage")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("The entry that is picked")
        self.title, self.says, self.picture = wrapped("Figure", "word"), wrapped("What it was"), QLabel()
        self.picture.setAccessibleName("The picture kept with it")
        self._file: str = ""
        inside = QVBoxLayout(self)
        inside.setContentsMargins(14, 14, 14, 12)
        inside.setSpacing(8)
        for widget in (self.title, self.says, self.picture):
            inside.addWidget(widget)
        self.back = {
            "Show its photograph": button("Show its photograph", self.show_picture),
            "Set its figure out": button("Set its figure out", self.to_figure),
            "Practise it again": button("Practise it again", self.to_problem),
        }
        for one in self.back.values():
            inside.addWidget(one)
        inside.addStretch(1)
        inside.addWidget(heading("Keep, take in, delete"))
        self.buttons: dict[str, QPushButton] = {}
        for words, do in (
            ("Attach a picture…", place.attach),
            ("Take in CSV…", place.take_in),
            ("Save as…", place.save),
            ("Delete it", place.delete),
            ("Delete all…", place.delete_all),
        ):
            self.buttons[words] = button(words, partial(place.attempt, do))
            inside.addWidget(self.buttons[words])
        self.show_row([])

    def show_row(self, rows: Sequence[LogbookRow]) -> None:
        """Show an entry; of several, how many."""
        one = rows[0] if len(rows) == 1 else None
        self._file = one.picture or "" if one is not None else ""
        for name, way in self.back.items():
            way.setEnabled(one is not None and (bool(self._file) or "photograph" not in name))
            way.setToolTip("" if one is not None else "Pick an entry of the list first")
        for name in ("Attach a picture…", "Delete it"):
            self.buttons[name].setEnabled(bool(rows))
            self.buttons[name].setToolTip("" if rows else "Pick an entry of the list first")
        self.picture.setPixmap(QPixmap())
        if one is None:
            self.title.setText(f"{len(rows)} entries" if rows else "No entry is picked")
            self.says.setText("" if rows else "Pick one of the list to read it and to go back to what it is about.")
            return
        self.title.setText(title_of(one.figure))
        when = time.strftime("%A %d %B %Y, %H:%M", time.localtime(one.at))
        took = f"It took {one.minutes:.0f} minutes." if one.minutes is not None else ""
        who = f", {one.person}" if one.person else ""
        self.says.setText(f"{when}{who}.\nBy {one.method}: {one.mark}.\n{one.says}\n{took}".strip())
        if self._file:
            self.picture.setPixmap(self._pixmap().scaled(*PICTURE, Qt.AspectRatioMode.KeepAspectRatio))

    def _pixmap(self) -> QPixmap:
        return QPixmap(str(self.place.book.folder / "pictures" / self._file))

    def show_picture(self) -> None:
        """The picture that was kept, as large as the window."""
        shown = Dialog(self)
        shown.setWindowTitle("The photograph kept with it")
        room = self.window().size() * 0.85
        label = QLabel()
        label.setAccessibleName("The photograph kept with it")
        label.setPixmap(
            self._pixmap().scaled(room, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        )
        QVBoxLayout(shown).addWidget(label)
        shown.exec()

    def _noted(self) -> Noted:
        """The picked entry, whole; raises :class:`Refused` where it is gone."""
        rows = self.place.selected()
        found = self.place.book.entries("id = ?", [rows[0].id]) if rows else []
        if not found:
            raise Refused("", "This entry is no longer in the logbook.")
        return found[0]

    def to_figure(self) -> None:
        """Its figure, in the job: the one that is there, or set anew."""
        window = self.place.window
        if window is not None:
            self.place.attempt(lambda: window.set_noted(self._noted()))

    def to_problem(self) -> None:
        """Its problem, to be drawn once more."""
        window = self.place.window
        if window is not None:
            self.place.attempt(lambda: window.practise_noted(self._noted()))
