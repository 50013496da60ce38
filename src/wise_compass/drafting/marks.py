"""What a hand leaves on the paper: spots, straight lines, arcs and curves, each with its line role and its step.

In a run of many hands every coordinate has a leading axis of lanes; :func:`nominal` picks the steady one. How far a
construction line is drawn is worked out from what was found on it, as a hand draws no more than it needs.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import Enum

import numpy as np

from wise_compass.geometry.fair import fair_curve
from wise_compass.geometry.vectors import Array, Number, along, angle_of, dot, polar


class Role(Enum):
    """What a line is for; the sheet gives each its ISO 128 type and weight."""

    OUTLINE = "outline"
    CONSTRUCTION = "construction"
    PROJECTOR = "projector"
    CENTRE = "centre"
    HIDDEN = "hidden"
    LOCUS = "locus"
    REFERENCE = "reference"


def nominal(value: Number, axes: int) -> Array:
    """The steady hand's part of a value that has ``axes`` axes of its own behind the lanes."""
    array = np.asarray(value, dtype=float)
    return array if array.ndim == axes else array[0]


@dataclass(slots=True, eq=False)
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


@dataclass(slots=True, eq=False)
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
            t = float(dot(at - nominal(self.p, 1), nominal(self.u, 1)))
            self.lo, self.hi = min(self.lo, t), max(self.hi, t)

    def ends(self) -> tuple[Array, Array]:
        """The steady hand's two ends."""
        p, u = nominal(self.p, 1), nominal(self.u, 1)
        return along(p, u, self.lo), along(p, u, self.hi)

    def at_length(self, t: Number) -> Array:
        """The point ``t`` mm along from where it starts."""
        return along(self.p, self.u, t)


@dataclass(slots=True, eq=False)
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
            self.found_at.append(float(angle_of(at - nominal(self.centre, 1))))

    def spans(self) -> list[tuple[float, float]]:
        """The arcs as drawn: start angle and sweep in degrees, each anticlockwise."""
        if self.span is not None:
            return [self.span]
        if self.whole:
            return [(0.0, 360.0)]
        radius = max(float(nominal(self.radius, 0)), 1e-9)
        half = min(max(np.degrees(4.0 / radius), 3.0), 12.0)
        joined: list[list[float]] = []
        for angle in sorted(a % 360.0 for a in self.found_at):
            if joined and angle - half <= joined[-1][1] + 2 * half:
                joined[-1][1] = angle + half
            else:
                joined.append([angle - half, angle + half])
        if len(joined) > 1 and joined[0][0] + 360.0 <= joined[-1][1] + 2 * half:
            joined[-1][1] = joined.pop(0)[1] + 360.0
        return [(lo, hi - lo) for lo, hi in joined]

    def outer_points(self) -> Array:
        """Points of the steady hand's arcs that bound them: their ends and the quarter points they pass."""
        centre, radius = nominal(self.centre, 1), float(nominal(self.radius, 0))
        angles: list[float] = []
        for start, sweep in self.spans():
            quarters = range(math.ceil(start / 90), math.floor((start + sweep) / 90) + 1)
            angles += [start, start + sweep, *(90.0 * q for q in quarters)]
        return polar(centre, radius, np.array(angles)) if angles else centre[None, :]

    def point_at(self, angle: Number) -> Array:
        return polar(self.centre, self.radius, angle)


@dataclass(slots=True, eq=False)
class CurveMark:
    """A line through several points: straight from each to the next, or smooth as a hand draws with a curve.

    A smooth piece of a longer curve runs as that does: ``whole`` are the points of all of it, ``first`` where it begins.
    """

    points: Sequence[Array]
    role: Role
    step: int
    closed: bool = False
    smooth: bool = False
    whole: Sequence[Array] | None = None
    first: int = 0
    _segments: Array | None = None

    @property
    def fair(self) -> bool:
        """Whether it is drawn with a curve, for which it takes three points."""
        return self.smooth and len(self.whole or self.points) > 2

    def course(self) -> Array:
        """The steady hand's points, shape (n, 2)."""
        return np.array([nominal(p, 1) for p in self.points])

    def segments(self) -> Array:
        """The steady hand's fair curve through the points as Bézier segments, shape (n, 4, 2)."""
        if self._segments is None:
            whole = self.course() if self.whole is None else np.array([nominal(p, 1) for p in self.whole])
            made = fair_curve(whole, self.closed)
            self._segments = made if self.whole is None else made[self.first : self.first + len(self.points) - 1]
        return self._segments


Mark = LineMark | ArcMark | CurveMark
