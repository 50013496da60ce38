"""Keys that a control has a use of its own for, though the window's walk has one too."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

PRESS = (Qt.Key.Key_Space,)
TABLE = (Qt.Key.Key_Left, Qt.Key.Key_Right)


class _Keeper(QObject):
    """Tells Qt, which asks the control with the focus before it runs a shortcut, that the key is spoken for."""

    def __init__(self, control: QWidget, keys: tuple[Qt.Key, ...]) -> None:
        super().__init__(control)
        self.keys = keys

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() in self.keys:
            event.accept()
            return True
        return False


def keep(control: QWidget, keys: tuple[Qt.Key, ...]) -> None:
    """While ``control`` has the focus, ``keys`` go to it."""
    control.installEventFilter(_Keeper(control, keys))
