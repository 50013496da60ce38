"""What of a shadow the solid itself hides in a view: there its line is a hidden one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.borders import borders
from wise_compass.geometry.vectors import Array, Bools, cross

LOOKED, HALVINGS = 481, 44
"""Places of a line at which it is looked whether it is hidden, and how often a border is halved."""
DEEP = 1e-6
"""Of the solid's size: what lies less deep under it runs along its outline."""


class Stretch(NamedTuple):
    """From where to where a line is hidden, or is not."""

    first: float
    last: float
    hidden: bool


class Cover:
    """The solid's outline in a view: a convex polygon (n, 2), either way round; a circle by many corners."""

    def __init__(self, ring: Array) -> None:
        turn = float(cross(ring, np.roll(ring, -1, axis=0)).sum())
        self.ring = ring if turn > 0 else ring[::-1]

    def holds(self, at: Array) -> Bools:
        """Whether places (n, 2) lie under it."""
        sides = np.roll(self.ring, -1, axis=0) - self.ring
        size = float(np.ptp(self.ring, axis=0).max())
        deep = cross(sides[:, None], at[None] - self.ring[:, None]) / np.hypot(*sides.T)[:, None]
        return np.asarray((deep > DEEP * size).all(axis=0))

    def stretches(self, at: Callable[[Array], Array], first: float, last: float) -> Sequence[Stretch]:
        """A line, by its places (n, 2) from ``first`` to ``last``, in what is hidden and what is not."""
        places = np.linspace(first, last, LOOKED)
        middles = (places[:-1] + places[1:]) / 2
        inside = self.holds(at(middles))
        turns = np.flatnonzero(inside[1:] != inside[:-1])
        hidden = borders(
            lambda here, _: self.holds(at(here)), middles[turns], middles[turns + 1], inside[turns], HALVINGS
        )
        marks = [first, *hidden.tolist(), last]
        state = bool(inside[0])
        found = []
        for a, b in zip(marks, marks[1:]):
            found.append(Stretch(a, b, state))
            state = not state
        return found
