"""Dialogs with a thin edge of their own: where no window manager frames them they would lie on the window like a
stain."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent, QShowEvent
from PySide6.QtWidgets import QDialog, QFrame, QMessageBox, QWidget


def set_edge(dialog: QWidget) -> None:
    """Lay the edge round a dialog as it is now."""
    edge = dialog.findChild(QFrame, "dialogedge")
    if edge is None:
        edge = QFrame(dialog)
        edge.setObjectName("dialogedge")
        edge.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        edge.show()
    edge.setGeometry(dialog.rect())
    edge.raise_()


class Dialog(QDialog):
    """A dialog of the desk: its edge is there when it is shown, and grows with it."""

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        set_edge(self)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        set_edge(self)


class Question(QMessageBox):
    """A question of the desk, edged likewise."""

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        set_edge(self)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        set_edge(self)
