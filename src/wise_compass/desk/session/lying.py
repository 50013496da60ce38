"""What may lie on the board in the place of paper: a photograph of a sheet, squared up."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from PySide6.QtCore import QPointF, QSize
    from PySide6.QtGui import QKeyEvent, QPainter

    from wise_compass.desk.parts.glass import Glass


class Lying(Protocol):
    """What the board asks of it. ``width`` and ``height`` are in mm; places in the window go through the board's glass.
    What takes a key or a press to itself says so."""

    width: float
    height: float

    def paint(self, painter: QPainter, glass: Glass, size: QSize) -> None:
        """Draw it, with the exact figure over it and what was found."""

    def press(self, at: QPointF, glass: Glass) -> bool: ...
    def move(self, at: QPointF, glass: Glass) -> bool: ...
    def release(self, at: QPointF, glass: Glass) -> bool: ...
    def click(self, at: QPointF, glass: Glass) -> None:
        """A press that neither took hold of something nor moved."""

    def takes(self, event: QKeyEvent) -> bool:
        """Whether a key that the window has a use of its own for is meant for what lies there."""

    def key(self, event: QKeyEvent) -> bool: ...
