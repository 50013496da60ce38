"""What the board is asked to let a person choose from by a click, beside the figure that stands there."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QPainter

    from wise_compass.geometry.vectors import Array


class Asked(Protocol):
    """Places are in mm of the figure; ``reach`` is how near a pointer has to be, in the same."""

    def paint(self, painter: QPainter, seen: Callable[[Array], list[QPointF]], zoom: float) -> None:
        """Draw what is offered; ``seen`` gives the pixels of places (n, 2), ``zoom`` pixels to the figure's mm."""

    def hover(self, at: Array, reach: float) -> str:
        """What stands under the pointer, in words; "" for nothing that is offered."""

    def choose(self, at: Array, reach: float) -> bool:
        """Take what stands there; whether anything does."""
