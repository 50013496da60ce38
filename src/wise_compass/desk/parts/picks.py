"""A choice from a list that drops down, in the desk's own clothes."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox, QLabel

from wise_compass.desk.parts.theme import TEAL, colour


class Pick(QComboBox):
    """A list of choices with a small hook that tells that it opens.

    On Linux the toolkit tells a screen reader a list's value as its name, and what it is by a label that it belongs to:
    one that nobody sees stands beside each.
    """

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("pick")
        self._label: QLabel | None = None

    def setAccessibleName(self, name: str) -> None:
        super().setAccessibleName(name)
        if self._label is None:
            self._label = QLabel(self.parentWidget())
            self._label.setBuddy(self)
            self._label.hide()
        self._label.setText(name)

    def event(self, event: QEvent) -> bool:
        label = self.__dict__.get("_label")
        if label is not None and event.type() == QEvent.Type.ParentChange:
            label.setParent(self.parentWidget())
            label.hide()
        return super().event(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(TEAL), 1.4))
        x, y = self.width() - 13, self.height() / 2
        painter.drawPolyline([QPointF(x - 4, y - 2), QPointF(x, y + 2), QPointF(x + 4, y - 2)])
        painter.end()
