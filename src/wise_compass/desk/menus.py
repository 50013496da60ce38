"""The menus: the bar that is shown by Alt or always, and the same over the button at the foot of the spine."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from PySide6.QtCore import QPoint
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QMenuBar, QPushButton


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
