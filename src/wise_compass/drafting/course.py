"""What a figure tells of its curves: the true curve, the points that a method finds on it, and its moving parts."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, distance, left_of, unit

if TYPE_CHECKING:
    from wise_compass.geometry.curves import Curve


class Course(NamedTuple):
    """A true curve of a figure, and the points that a method finds on it.

    ``stations`` are their parameters in order along the curve and ``names`` their names; without names the method
    draws the curve in arcs of its own: in a single one between the points ``ends``, or in all of its outline.
    ``breaks`` are the places in the row where a hand lifts the curve, such as cusps. ``landmarks`` are parameters
    with words for them. ``turn`` says what the parameter is, where it is an angle; ``pole`` is the point that radii
    are measured from; ``datum`` is the point that the ordinates of a table are measured from. A course that is
    ``afloat`` is told in a frame of its own, as the hand puts it where there is room; :func:`laid` brings it there.
    ``on_it`` is false where the found points only come near it, as those of a skin that is unrolled by triangles
    do.
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
    afloat: bool = False
    on_it: bool = True
    ends: tuple[str, ...] = ()

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


def laid(course: Course, places: Array) -> Course:
    """A course that is afloat where a hand has drawn it, ``places`` (n, 2) being its found points: turned or turned
    over, and shifted.

    It is laid by its first point and the one that is farthest from that.
    """
    from wise_compass.geometry.curves import moved

    own = course.curve.at(course.stations)
    k = int(np.argmax(distance(own, own[0])))
    flat, drawn = unit(own[k] - own[0]), unit(places[k] - places[0])
    frame = np.stack([drawn, left_of(drawn)], axis=1)
    ways = [frame @ np.stack([flat, side * left_of(flat)]) for side in (1.0, -1.0)]
    matrix = min(ways, key=lambda one: float(distance(own @ one.T - places, own[0] @ one.T - places[0]).max()))
    shift = places[0] - matrix @ own[0]
    pole = None if course.pole is None else matrix @ course.pole + shift
    x, y = (matrix @ np.array(course.datum) + shift).tolist()
    return course._replace(curve=moved(course.curve, matrix, shift), pole=pole, datum=(x, y), afloat=False)


def evenly(part: float, count: int) -> Array:
    """The parameters 0, ``part``, 2 ``part`` … of ``count`` stations."""
    return np.asarray(part * np.arange(count), dtype=float)


class Frame(NamedTuple):
    """Moving parts in figure mm: straight ones (n, 2), circles by centre and radius, and the points marked on them."""

    lines: tuple[Array, ...]
    circles: tuple[tuple[Array, float], ...]
    points: tuple[Array, ...]
