"""What a window remembers of itself from one day to the next: where it stood, and which place was shown."""

from __future__ import annotations

from contextlib import suppress

from PySide6.QtCore import QRect, Qt
from PySide6.QtWidgets import QMainWindow

from wise_compass.drafting.refusals import Refused
from wise_compass.job.person import PLACE_IDS, change_person, person

LEAST = (640, 480)
"""Pixels of a window's place that the screen has to hold for it to be taken."""


def remember(window: QMainWindow, place: str) -> None:
    """Keep which place is shown, and where the window stands; a folder that cannot be written is no reason to stay."""
    at = window.normalGeometry()
    stood = (at.x(), at.y(), at.width(), at.height(), int(window.isMaximized()))
    with suppress(Refused):
        change_person(lambda now: now._replace(place=place, window=stood))


def stand_as_before(window: QMainWindow) -> None:
    """Stand where it stood, as far as the screen has that place."""
    kept = person().window
    if not kept:
        return
    x, y, wide, high, whole = kept
    there = QRect(x, y, wide, high).intersected(window.screen().availableGeometry())
    if there.width() >= LEAST[0] and there.height() >= LEAST[1]:
        window.setGeometry(there)
    if whole:
        window.setWindowState(Qt.WindowState.WindowMaximized)


def place_before() -> int:
    """The number of the place that was shown last."""
    return PLACE_IDS.index(person().place)
