"""What of a shadow the solid itself hides in a view: there its line is a hidden one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, cross

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

    def holds(self, at: Array) -> Array:
        """Whether places (n, 2) lie under it."""
        sides = np.roll(self.ring, -1, axis=0) - self.ring
        size = float(np.ptp(self.ring, axis=0).max())
        deep = cross(sides[:, None], at[None] - self.ring[:, None]) / np.hypot(*sides.T)[:, None]
        return np.asarray((deep > DEEP * size).all(axis=0))

    def stretches(self, at: Callable[[float], Array], first: float, last: float) -> Sequence[Stretch]:
        """A line, by its places from ``first`` to ``last``, in what is hidden and what is not."""

        def held(t: float) -> bool:
            return bool(self.holds(at(t)[None])[0])

        places = np.linspace(first, last, LOOKED)
        inside = [held(t) for t in ((places[:-1] + places[1:]) / 2).tolist()]
        marks = [first]
        for k, (one, other) in enumerate(zip(inside, inside[1:])):
            if one != other:
                a, b = float(places[k] + places[k + 1]) / 2, float(places[k + 1] + places[k + 2]) / 2
                for _ in range(HALVINGS):
                    middle = (a + b) / 2
                    a, b = (middle, b) if held(middle) == one else (a, middle)
                marks.append((a + b) / 2)
        marks.append(last)
        state = inside[0]
        found = []
        for a, b in zip(marks, marks[1:]):
            found.append(Stretch(a, b, state))
            state = not state
        return found
