"""A drawing: a few primitives in sheet millimetres (origin at the lower left, y upward) and the surface they go on.

One small protocol stands between what is drawn and every surface: an output is a class with these six methods.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np

from wise_compass.geometry.fair import along_curve
from wise_compass.geometry.vectors import Array, polar
from wise_compass.sheet.inks import INKS, Ink

NOT_CLEAN = ("construction", "points", "gap")
"""The layers that are gone once the construction is cleaned away."""


class Surface(Protocol):
    """What can be drawn on. Lengths are sheet mm, angles degrees anticlockwise."""

    def line(self, points: Array, ink: Ink, closed: bool, filled: bool) -> None:
        """A polyline, shape (n, 2); ``filled`` in the ink's colour without an edge."""

    def arc(self, centre: Array, radius: float, start: float, sweep: float, ink: Ink, filled: str) -> None:
        """An arc, a full circle at a sweep of 360; ``filled`` is a colour or empty, and empty for all but full
        circles."""

    def path(self, segments: Array, ink: Ink, closed: bool) -> None:
        """Cubic Bézier segments, shape (n, 4, 2)."""

    def dots(self, points: Array, radius: float, colour: str) -> None:
        """Round dots, shape (n, 2): many at a stroke."""

    def boxes(self, corners: Array, colour: str) -> None:
        """Filled boxes by their lowest and highest corners, shape (n, 2, 2): many at a stroke."""

    def text(self, at: Array, words: str, size: float, anchor: float, turn: float, colour: str, bold: bool) -> None:
        """Words with their baseline at ``at``, ``size`` mm high to the em; anchor 0 is left, 0.5 middle, 1 right."""


@dataclass(slots=True, eq=False, repr=False)
class Item(ABC):
    """A primitive with what it belongs to: its step (0 is always there), its layer and, for hovering, its owner.

    ``owner`` is a spot's name, "given:<name>" for a dimension, or the number of a mark as "#3".
    """

    layer: str
    step: int
    owner: str
    ink: str

    @abstractmethod
    def put(self, on: Surface) -> None: ...

    @abstractmethod
    def moved(self, by: Array) -> Item:
        """The same item moved by sheet millimetres."""

    def polyline(self) -> Array | None:
        """Its course as points (n, 2), to keep clear of or to measure a distance to; None for lettering."""
        return None

    @property
    def pen(self) -> Ink:
        return INKS[self.ink]


@dataclass(slots=True, eq=False, repr=False)
class Line(Item):
    points: Array
    closed: bool = False
    filled: bool = False

    def put(self, on: Surface) -> None:
        on.line(self.points, self.pen, self.closed, self.filled)

    def moved(self, by: Array) -> Line:
        return replace(self, points=self.points + by)

    def polyline(self) -> Array:
        return np.concatenate([self.points, self.points[:1]]) if self.closed else self.points


@dataclass(slots=True, eq=False, repr=False)
class Arc(Item):
    centre: Array
    radius: float
    start: float = 0.0
    sweep: float = 360.0
    filled: str = ""

    def put(self, on: Surface) -> None:
        on.arc(self.centre, self.radius, self.start, self.sweep, self.pen, self.filled if self.sweep >= 360 else "")

    def moved(self, by: Array) -> Arc:
        return replace(self, centre=self.centre + by)

    def polyline(self) -> Array:
        count = max(4, int(self.sweep / 6))
        return polar(self.centre, self.radius, np.linspace(self.start, self.start + self.sweep, count + 1))


@dataclass(slots=True, eq=False, repr=False)
class Dots(Item):
    """Many dots of one size, shape (n, 2)."""

    points: Array
    radius: float

    def put(self, on: Surface) -> None:
        on.dots(self.points, self.radius, self.pen.colour)

    def moved(self, by: Array) -> Dots:
        return replace(self, points=self.points + by)


@dataclass(slots=True, eq=False, repr=False)
class Boxes(Item):
    """Many filled boxes by their lowest and highest corners, shape (n, 2, 2)."""

    corners: Array

    def put(self, on: Surface) -> None:
        on.boxes(self.corners, self.pen.colour)

    def moved(self, by: Array) -> Boxes:
        return replace(self, corners=self.corners + by)


@dataclass(slots=True, eq=False, repr=False)
class Path(Item):
    segments: Array
    closed: bool = False

    def put(self, on: Surface) -> None:
        on.path(self.segments, self.pen, self.closed)

    def moved(self, by: Array) -> Path:
        return replace(self, segments=self.segments + by)

    def polyline(self) -> Array:
        return along_curve(self.segments, 6)


@dataclass(slots=True, eq=False, repr=False)
class Text(Item):
    at: Array
    words: str
    size: float = 3.5
    anchor: float = 0.0
    turn: float = 0.0
    bold: bool = False

    def put(self, on: Surface) -> None:
        on.text(self.at, self.words, self.size, self.anchor, self.turn, self.pen.colour, self.bold)

    def moved(self, by: Array) -> Text:
        return replace(self, at=self.at + by)


@dataclass(eq=False, repr=False)
class Drawing:
    """A sheet ready to be put on any surface. ``about`` is what its files carry as metadata."""

    width: float
    height: float
    items: list[Item] = field(default_factory=list)
    about: dict[str, object] = field(default_factory=dict)

    def put(self, on: Surface, clean: bool = False) -> None:
        """Put every item on a surface; ``clean`` leaves the construction away, its points and its gap plot."""
        for item in self.items:
            if not (clean and item.layer in NOT_CLEAN):
                item.put(on)
