"""What a hand leaves on the paper: spots, straight lines, arcs and curves, each with its line role and its step.

In a run of many hands every coordinate has a leading axis of lanes; :func:`nominal` picks the steady one. How far a
construction line is drawn is worked out from what was found on it, as a hand draws no more than it needs.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import Enum
from functools import cached_property

import numpy as np

from wise_compass.geometry.fair import along_curve, cut_curve, fair_curve, on_curve
from wise_compass.geometry.vectors import Array, Number, along, polar

QUARTERS = ((1, 0), (0, 1), (-1, 0), (0, -1))
"""Unit vectors along the quarters of a circle, from the right anticlockwise."""


class Role(Enum):
    """What a line is for; the sheet gives each its ISO 128 type and weight."""

    OUTLINE = "outline"
    CONSTRUCTION = "construction"
    PROJECTOR = "projector"
    CENTRE = "centre"
    HIDDEN = "hidden"
    LOCUS = "locus"
    REFERENCE = "reference"
    FOLD = "fold"


def nominal(value: Number, axes: int) -> Array:
    """The steady hand's part of a value that has ``axes`` axes of its own behind the lanes."""
    array = value if isinstance(value, np.ndarray) else np.asarray(value, dtype=float)
    return array if array.ndim == axes else array[0]


@dataclass(slots=True, eq=False, repr=False)
class Spot:
    """A point on the paper. ``kind``: given, found, tangent, label (no ring), or plain (no ring, no label)."""

    name: str
    at: Array
    step: int
    kind: str = "found"

    @property
    def here(self) -> Array:
        """Where the steady hand has it."""
        return self.at if self.at.ndim == 1 else self.at[0]


@dataclass(slots=True, eq=False, repr=False)
class LineMark:
    """A straight line through ``p`` along the unit vector ``u``, drawn from ``lo`` to ``hi`` (mm along ``u``)."""

    p: Array
    u: Array
    role: Role
    step: int
    lo: float = 0.0
    hi: float = 0.0
    fixed: bool = False
    spots: list[Spot] = field(default_factory=list)

    def reach(self, at: Array) -> None:
        """Draw it as far as the steady hand's point ``at``."""
        if not self.fixed:
            (x, y), (px, py), (ux, uy) = at.tolist(), nominal(self.p, 1).tolist(), nominal(self.u, 1).tolist()
            t = (x - px) * ux + (y - py) * uy
            self.lo, self.hi = min(self.lo, t), max(self.hi, t)

    def extent(self, lo: float, hi: float) -> LineMark:
        """Draw it from ``lo`` to ``hi`` mm along itself at least, and nothing short of what was found on it."""
        self.lo, self.hi = min(self.lo, lo), max(self.hi, hi)
        return self

    def ends(self) -> tuple[Array, Array]:
        """The steady hand's two ends."""
        p, u = nominal(self.p, 1), nominal(self.u, 1)
        return along(p, u, self.lo), along(p, u, self.hi)

    def polylines(self, fine: int = 4) -> list[Array]:
        """What the steady hand draws, as polylines (n, 2): here one of two points."""
        return [self.drawn()]

    def drawn(self, beyond: float = 0.0) -> Array:
        """The steady hand's two ends, each ``beyond`` mm further out; shape (2, 2)."""
        (px, py), (ux, uy) = nominal(self.p, 1).tolist(), nominal(self.u, 1).tolist()
        lo, hi = self.lo - beyond, self.hi + beyond
        return np.array(((px + lo * ux, py + lo * uy), (px + hi * ux, py + hi * uy)))

    @property
    def lanes(self) -> tuple[Array, ...]:
        """What hands move it by: each array has an axis of lanes where an error has reached it."""
        return self.p, self.u

    def at_length(self, t: Number) -> Array:
        """The point ``t`` mm along from where it starts."""
        return along(self.p, self.u, t)


def all_drawn(lines: Sequence[LineMark], beyond: Sequence[float]) -> Array:
    """The ends of many lines as the steady hand draws them, each so far further out; shape (lines, 2, 2)."""
    if not lines:
        return np.zeros((0, 2, 2))
    p, u = (np.array([nominal(at, 1) for at in each])[:, None] for each in ([x.p for x in lines], [x.u for x in lines]))
    out = np.array(beyond)[:, None] * np.array([-1.0, 1.0])
    return np.asarray(p + (np.array([(line.lo, line.hi) for line in lines]) + out)[..., None] * u)


@dataclass(slots=True, eq=False, repr=False)
class ArcMark:
    """A circle or an arc from a compass. ``whole`` is a full circle; else short arcs stand about what was found."""

    centre: Array
    radius: Number
    role: Role
    step: int
    whole: bool = True
    found_at: list[float] = field(default_factory=list)
    span: tuple[float, float] | None = None

    def reach(self, at: Array) -> None:
        """Draw it about the steady hand's point ``at``."""
        if not self.whole and self.span is None:
            (x, y), (cx, cy) = at.tolist(), nominal(self.centre, 1).tolist()
            self.found_at.append(math.degrees(math.atan2(y - cy, x - cx)))

    def swing(self, start: float, sweep: float) -> None:
        """Draw it from ``start`` over ``sweep`` degrees, and no further."""
        self.span = (start, sweep)

    def spans(self) -> list[tuple[float, float]]:
        """The arcs as drawn: start angle and sweep in degrees, each anticlockwise."""
        if self.span is not None:
            return [self.span]
        if self.whole:
            return [(0.0, 360.0)]
        radius = max(float(nominal(self.radius, 0)), 1e-9)
        half = min(max(math.degrees(4.0 / radius), 3.0), 12.0)
        joined: list[list[float]] = []
        for angle in sorted(a % 360.0 for a in self.found_at):
            if joined and angle - half <= joined[-1][1] + 2 * half:
                joined[-1][1] = angle + half
            else:
                joined.append([angle - half, angle + half])
        if len(joined) > 1 and joined[0][0] + 360.0 <= joined[-1][1] + 2 * half:
            joined[-1][1] = joined.pop(0)[1] + 360.0
        return [(lo, hi - lo) for lo, hi in joined]

    def polylines(self, fine: int = 4) -> list[Array]:
        """The steady hand's arcs as polylines; ``fine`` chords to an eighth of a turn. The quarter points are among
        them."""
        centre, radius = nominal(self.centre, 1), float(nominal(self.radius, 0))
        lines = []
        for start, sweep in self.spans():
            step = 45.0 / fine
            inner = step * np.arange(math.floor(start / step) + 1, math.ceil((start + sweep) / step))
            lines.append(polar(centre, radius, np.concatenate([[start], inner, [start + sweep]])))
        return lines

    @property
    def lanes(self) -> tuple[Array, ...]:
        """What hands move it by."""
        return self.centre, np.asarray(self.radius)[..., None]

    def outer_points(self) -> Array:
        """Points of the steady hand's arcs that bound them: their ends and the quarter points they pass."""
        (x, y), radius = nominal(self.centre, 1).tolist(), float(nominal(self.radius, 0))
        points: list[tuple[float, float]] = []
        for start, sweep in self.spans():
            for angle in (math.radians(start), math.radians(start + sweep)):
                points.append((x + radius * math.cos(angle), y + radius * math.sin(angle)))
            for quarter in range(math.ceil(start / 90), math.floor((start + sweep) / 90) + 1):
                across, up = QUARTERS[quarter % 4]
                points.append((x + radius * across, y + radius * up))
        return np.array(points or [(x, y)])

    def point_at(self, angle: Number) -> Array:
        return polar(self.centre, self.radius, angle)


class Row:
    """Points in order that a hand joins up, straight or with a curve; several pieces of one curve share it."""

    def __init__(self, points: Sequence[Array], closed: bool = False, smooth: bool = True) -> None:
        self.points, self.closed = list(points), closed
        self.fair = smooth and len(self.points) > 2
        """Whether it is joined with a curve, for which it takes three points."""

    @cached_property
    def here(self) -> Array:
        """The steady hand's points, shape (n, 2)."""
        return np.array([nominal(p, 1) for p in self.points])

    @cached_property
    def segments(self) -> Array:
        """The steady hand's fair curve through the points as Bézier segments, shape (n, 4, 2)."""
        return fair_curve(self.here, self.closed)

    @property
    def last(self) -> float:
        """The place of the last point, counted from 0; one more where the row closes."""
        return float(len(self.points) - (0 if self.closed else 1))

    def places(self, at: Array) -> Array:
        """Where the steady hand's line stands at places that may lie between two points, (n, 2)."""
        k = np.minimum(at.astype(int), int(self.last) - (0 if self.closed else 1))
        share = (at - k)[:, None]
        if not self.fair:
            after = self.here[(k + 1) % len(self.points)]
            return np.asarray(self.here[k] + share * (after - self.here[k]))
        a, b, c, d = (self.segments[k, j] for j in range(4))
        rest = 1.0 - share
        return np.asarray(rest**3 * a + 3 * rest**2 * share * b + 3 * rest * share**2 * c + share**3 * d)

    def at(self, place: float) -> Array:
        """Where the line stands at a place that may lie between two points.

        Between points a hand is off by what it is off at its neighbours, in proportion.
        """
        k = min(int(place), len(self.points) - 1)
        share = place - k
        if share < 1e-12 or k + 1 > self.last:
            return self.points[k]
        after = (k + 1) % len(self.points)
        if self.fair:
            here = on_curve(self.segments, place)
        else:
            here = self.here[k] + share * (self.here[after] - self.here[k])
        if self.points[k].ndim == self.points[after].ndim == 1:  # the steady hand
            return np.asarray(here)
        off = [p - q if p.ndim > 1 else 0.0 * q for p, q in ((self.points[j], self.here[j]) for j in (k, after))]
        return np.asarray(here + (1 - share) * off[0] + share * off[1])


@dataclass(slots=True, eq=False, repr=False)
class CurveMark:
    """A row of points lined in: straight from each to the next, or smooth as a hand draws with a curve.

    A piece of a longer line runs as that does, from ``start`` to ``end``, places in the row that may lie between its
    points.
    """

    row: Row
    role: Role
    step: int
    start: float = 0.0
    end: float | None = None
    _segments: Array | None = field(default=None, init=False)
    _line: Array | None = field(default=None, init=False)
    _course: Array | None = field(default=None, init=False)

    @property
    def closed(self) -> bool:
        """Whether it runs back to where it began."""
        return self.row.closed and self.end is None and not self.start

    @property
    def fair(self) -> bool:
        """Whether it is drawn with a curve."""
        return self.row.fair

    @property
    def whole(self) -> bool:
        return self.end is None and not self.start

    @property
    def points(self) -> list[Array]:
        """The ends, and the points of the row between them, lanes and all."""
        if self.whole:
            return self.row.points
        end = self.row.last if self.end is None else self.end
        between = range(math.floor(self.start + 1e-9) + 1, math.ceil(end - 1e-9))
        return [self.row.at(self.start), *(self.row.points[k] for k in between), self.row.at(end)]

    def course(self) -> Array:
        """The steady hand's points, shape (n, 2)."""
        if self.whole:
            return self.row.here
        if self._course is None:
            self._course = np.array([nominal(p, 1) for p in self.points])
        return self._course

    def segments(self) -> Array:
        """The steady hand's curve as Bézier segments, shape (n, 4, 2)."""
        if self.whole:
            return self.row.segments
        if self._segments is None:
            self._segments = cut_curve(self.row.segments, self.start, self.row.last if self.end is None else self.end)
        return self._segments

    def polylines(self, fine: int = 4) -> list[Array]:
        """What the steady hand draws, as a polyline; ``fine`` chords between two points of a curve."""
        if self.fair:
            if fine != 4:
                return [along_curve(self.segments(), fine)]
            if self._line is None:
                self._line = along_curve(self.segments(), fine)
            return [self._line]
        points = self.course()
        return [np.concatenate([points, points[:1]]) if self.closed else points]

    @property
    def lanes(self) -> tuple[Array, ...]:
        """What hands move it by."""
        return tuple(self.points)


Mark = LineMark | ArcMark | CurveMark
