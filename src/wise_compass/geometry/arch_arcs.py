"""The arcs that an arch is put together of."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, angle_of


class ArchArc(NamedTuple):
    """An arc of an arch: centre, radius, where it begins and ends, from the left, and whether it is round (its centre
    below it) or hollow."""

    centre: Array
    radius: float
    start: Array
    end: Array
    round: bool

    @property
    def first(self) -> float:
        """The direction of its beginning from its centre, in degrees."""
        return float(angle_of(self.start - self.centre))

    @property
    def sweep(self) -> float:
        """How far it turns, in degrees: a round one clockwise, a hollow one the other way."""
        turn = float(angle_of(self.end - self.centre)) - self.first
        return (-turn if self.round else turn) % 360.0

    @property
    def length(self) -> float:
        return self.radius * float(np.deg2rad(self.sweep))

    def at(self, share: float) -> Array:
        """The place so far along it."""
        turn = share * self.sweep * (-1 if self.round else 1)
        angle = np.deg2rad(self.first + turn)
        return self.centre + self.radius * np.array([np.cos(angle), np.sin(angle)])

    def outward(self, at: Array) -> float:
        """The direction of its normal away from the opening, in degrees over −90 to 270."""
        angle = float(angle_of((at - self.centre) * (1 if self.round else -1)))
        return angle + 360.0 if angle <= -90.0 else angle
