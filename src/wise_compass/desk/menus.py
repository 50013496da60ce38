"""The menus: the bar that is shown by Alt or always, and the same over the button at the foot of the spine."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QAction, QKeyEvent
from PySide6.QtWidgets import QMenu, QMenuBar, QPushButton

from wise_compass.desk.commanding import Commanding
from wise_compass.desk.places.column import Column
from wise_compass.desk.session.session import Session
from wise_compass.job.person import change_person, person


class Part(NamedTuple):
    """A run of a group's actions, ``first`` to before ``last``; under a heading of its own where it has a ``title``."""

    group: str
    first: int
    last: int | None
    title: str = ""


MENUS: Mapping[str, Sequence[Part]] = {
    "Job": (Part("Job", 0, 5), Part("Edit", 0, None), Part("Job", 5, 9), Part("Job", 9, 10), Part("Job", 10, None)),
    "Figure": (
        Part("Figure", 0, 3),
        Part("Figure", 3, 9),
        Part("Figure", 10, 22, "Move it"),
        Part("Figure", 22, None, "On the sheet"),
        Part("Figure", 9, 10),
    ),
    "View": (
        Part("View", 0, 4, "Places"),
        Part("View", 4, 9),
        Part("View", 9, 16),
        Part("View", 16, 23, "Panels"),
        Part("View", 23, None),
    ),
    "Drafter": (Part("Drafter", 0, None),),
    "Help": (Part("Help", 0, None),),
}
"""Each menu, in the order of the bar; a line parts what belongs together. Long runs open beside it, so that no menu is
longer than a small window."""


def menus(parent: QMenu | QMenuBar, groups: Mapping[str, Sequence[QAction]]) -> list[QMenu]:
    """The five menus, made of the actions of the window."""
    made = []
    for title, parts in MENUS.items():
        menu = parent.addMenu(title)
        menu.setToolTipsVisible(True)
        for number, part in enumerate(parts):
            actions = list(groups[part.group][part.first : part.last])
            if number and not (part.title and parts[number - 1].title):
                menu.addSeparator()
            if part.title:
                beside = menu.addMenu(part.title)
                beside.setToolTipsVisible(True)
                beside.addActions(actions)
            else:
                menu.addActions(actions)
        made.append(menu)
    return made


def over_button(button: QPushButton, groups: Mapping[str, Sequence[QAction]]) -> QMenu:
    """All menus in one, over the button that asks for them."""
    menu = QMenu(button)
    menus(menu, groups)
    menu.popup(button.mapToGlobal(QPoint(0, -menu.sizeHint().height())))
    return menu


class Barred(Commanding):
    """A window whose menu bar comes by Alt, or stays."""

    column: Column

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._alt = False

    def _menu(self) -> None:
        if self._bar_there:
            self.menuBar().setFocus(Qt.FocusReason.MenuBarFocusReason)
            self.menuBar().setActiveAction(self.menuBar().actions()[0])
        else:
            over_button(self.column.menu, self.groups)

    @property
    def _bar_there(self) -> bool:
        bar = self.menuWidget()
        return bar is not None and bar.isVisible()

    def _settle_bar(self) -> None:
        """The menu bar is there where the person wants it always."""
        if person().bar == "always":
            self._show_bar(True)

    def _show_bar(self, shown: bool) -> None:
        if self.menuWidget() is None:
            if not shown:
                return
            menus(self.menuBar(), self.groups)
        self.menuBar().setVisible(shown)

    def bar_always(self) -> None:
        """The menu bar stays, or comes by Alt alone from now on."""
        bar = "alt" if person().bar == "always" else "always"
        self.attempt(lambda: change_person(lambda now: now._replace(bar=bar)), "Not kept")
        self._show_bar(bar == "always")
        self.session.said.emit("The menu bar stays." if bar == "always" else "The menu bar comes by Alt.")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self._alt = event.key() == Qt.Key.Key_Alt and not event.isAutoRepeat()
        super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """Alt alone shows the menu bar, or hides it."""
        if event.key() == Qt.Key.Key_Alt and self._alt:
            there = self._bar_there
            if person().bar != "always":
                self._show_bar(not there)
                if not there:
                    self.menuBar().setActiveAction(self.menuBar().actions()[0])
        self._alt = False
        super().keyReleaseEvent(event)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            self._alt = self._alt and event.key() == Qt.Key.Key_Alt
        return super().event(event)
