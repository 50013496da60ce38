"""What a figure tells of its curves: the true curve, the points that a method finds on it, and its moving parts."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.geometry.curves import Curve
from wise_compass.geometry.vectors import Array


class Course(NamedTuple):
    """A true curve of a figure, and the points that a method finds on it.

    ``stations`` are their parameters in order along the curve and ``names`` their names; without names the method draws the
    curve in arcs of its own. ``breaks`` are the places in the row where a hand lifts the curve, such as cusps. ``landmarks``
    are parameters with words for them. ``turn`` says what the parameter is, where it is an angle; ``pole`` is the point that
    radii are measured from; ``datum`` is the point that the ordinates of a table are measured from.
    """

    says: str
    curve: Curve
    stations: Array
    names: tuple[str, ...] = ()
    breaks: tuple[int, ...] = ()
    landmarks: tuple[tuple[float, str], ...] = ()
    turn: str = ""
    pole: Array | None = None
    datum: tuple[float, float] = (0.0, 0.0)

    def pieces(self) -> list[tuple[int, int]]:
        """First and last place in the row of each piece that is drawn at a stroke."""
        cuts = [0, *(k for k in self.breaks if 0 < k < len(self.stations) - 1), len(self.stations) - 1]
        return list(zip(cuts[:-1], cuts[1:]))

    def near(self, t: float) -> str:
        """Words for where a parameter lies: the nearest landmark, if it lies near one."""
        span = self.curve.last - self.curve.first
        if not self.landmarks:
            return ""

        def gap(other: float) -> float:
            off = abs(t - other)
            return min(off, span - off) if self.curve.closed else off

        best = min(self.landmarks, key=lambda mark: gap(mark[0]))
        return f"near {best[1]}" if gap(best[0]) <= span / 12 else ""


def evenly(part: float, count: int) -> Array:
    """The parameters 0, ``part``, 2 ``part`` … of ``count`` stations."""
    return np.asarray(part * np.arange(count), dtype=float)


class Frame(NamedTuple):
    """Moving parts in figure mm: straight ones (n, 2), circles by centre and radius, and the points marked on them."""

    lines: tuple[Array, ...]
    circles: tuple[tuple[Array, float], ...]
    points: tuple[Array, ...]
