"""Work that takes longer: its progress shown, and a way to stop it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING, TypeVar

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

SOON_MS = 400
"""How long work may take before its progress is shown."""
Made = TypeVar("Made")


class Stopped(Exception):
    """The person has stopped it."""


@contextmanager
def heard(window: QWidget, title: str) -> Iterator[Callable[[int, int], None]]:
    """What work calls with how much is done of how much; it raises :class:`Stopped` where the person stops it."""
    from PySide6.QtWidgets import QApplication, QProgressDialog

    progress = QProgressDialog(title, "Stop", 0, 1, window)
    progress.setWindowTitle("Wise Compass")
    progress.setMinimumDuration(SOON_MS)
    progress.setModal(True)

    def hear(done: int, whole: int) -> None:
        progress.setMaximum(max(whole, 1))
        progress.setValue(done)
        if progress.isVisible():
            QApplication.processEvents()
        if progress.wasCanceled():
            raise Stopped

    try:
        yield hear
    finally:
        progress.reset()
        progress.deleteLater()


def one_by_one(window: QWidget, title: str, tasks: Sequence[Callable[[], Made]]) -> list[Made] | None:
    """What tasks make, the window breathing between them; None where the person stopped it."""
    made = []
    try:
        with heard(window, title) as hear:
            for number, task in enumerate(tasks):
                hear(number, len(tasks))
                made.append(task())
    except Stopped:
        return None
    return made
