"""The glass between the sheet and the window: the one place that turns sheet millimetres into pixels and back."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF

from wise_compass.geometry.vectors import Array

FEW = 64
"""So many points are sooner turned one by one than at once."""


class Glass(NamedTuple):
    """``zoom`` pixels to the millimetre; ``left`` and ``top`` are the paper's upper left corner, ``height`` its height
    in mm."""

    zoom: float
    left: float
    top: float
    height: float

    def xy(self, at: Array) -> QPointF:
        """The pixel of a place on the sheet."""
        return QPointF(self.left + float(at[0]) * self.zoom, self.top + (self.height - float(at[1])) * self.zoom)

    def pixels(self, points: Array) -> Array:
        """The pixels of places (…, 2); what the toolkit takes one by one is quicker told as lists of them."""
        return np.asarray(points * (self.zoom, -self.zoom) + (self.left, self.top + self.height * self.zoom))

    def points(self, points: Array) -> list[QPointF]:
        """The pixels of places (n, 2)."""
        if len(points) > FEW:
            return [QPointF(x, y) for x, y in self.pixels(points).tolist()]
        zoom, left, low = self.zoom, self.left, self.top + self.height * self.zoom
        return [QPointF(left + x * zoom, low - y * zoom) for x, y in points.tolist()]

    def sheet(self, at: QPointF) -> Array:
        """The place on the sheet under a pixel."""
        return np.array([(at.x() - self.left) / self.zoom, self.height - (at.y() - self.top) / self.zoom])
