"""What is asked of a sheet: its figures as pieces, and wishes for the whole; and a piece in its place."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array, turned

if TYPE_CHECKING:
    from wise_compass.shop.shop import Shop
    from wise_compass.study.gaps import Gap
    from wise_compass.study.tables import Table

NOTES = 4
"""Lines that notes take under a figure."""


class Piece(NamedTuple):
    """One figure for the sheet; ``shift`` moves it off its automatic place by sheet millimetres.

    ``gaps`` are drawn as a gap plot, ``table`` is set in a free corner of the sheet or beside the figure; ``shop``
    brings laps and plate; ``lines`` is how many its notes may take.
    """

    run: Run
    title: str = ""
    shift: tuple[float, float] | None = None
    notes: str = ""
    gaps: tuple[Gap, ...] = ()
    table: Table | None = None
    shop: Shop | None = None
    lines: int = NOTES
    problem: str = ""
    """Its problem as it was set in words, where it is wanted above the figure."""
    dimensions: str = "given"
    """Which dimensions stand on it: none, what is given, or all."""
    on: tuple[int, str] | None = None
    """The piece of the sheet, by its number, and the point of it that this one stands on with its first point."""
    turn: float = 0.0
    """How far it is turned on the sheet, in degrees anticlockwise."""

    @property
    def reach(self) -> tuple[Array, ...]:
        """Places that are drawn beside the run's own marks, in figure mm."""
        return () if self.shop is None else tuple(lap.free for lap in self.shop.laps)


class Wishes(NamedTuple):
    """What is asked of a sheet."""

    paper: str = "A4"
    lie: str = "auto"
    scale: str = "auto"
    project: str = ""
    title: str = ""
    number: str = "1/1"
    style: Style = PLAIN
    labels: bool = True
    told: tuple[tuple[str, str], ...] = ()
    """What else stands in the strip, each with what stands over it."""


class Placed(NamedTuple):
    """A figure on its sheet: where its origin lies and the box it takes, in sheet mm."""

    piece: Piece
    origin: Array
    low: Array
    high: Array

    def at(self, places: Array, scale: float) -> Array:
        """Where places of the figure, (…, 2) in its own mm, lie on the sheet."""
        places = np.asarray(places) * scale
        return np.asarray(self.origin + (turned(places, self.piece.turn) if self.piece.turn else places))

    def of(self, there: Array, scale: float) -> Array:
        """Which places of the figure lie at places of the sheet."""
        off = np.asarray(there) - self.origin
        return np.asarray((turned(off, -self.piece.turn) if self.piece.turn else off) / scale)
