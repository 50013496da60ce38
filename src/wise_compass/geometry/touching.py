"""Circles and lines with a way of travel, and what touches them: what runs along with each where they meet.

A circle that is run round to the left has a radius above 0, to the right one under 0, and a point has 0. Two of them
touch where their centres lie the difference of these apart (same way: one within the other; other way: side by side);
a circle touches a line where its centre stands its radius to the line's left. Every rule below is that one, so none
asks of which kind a contact is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wise_compass.geometry.meets import meet_lines
from wise_compass.geometry.vectors import Array, cross, distance, dot, left_of, unit

MEETS = 1e-6
"""mm by which two may miss and still touch."""
ALIKE = 1e-12
"""Of the numbers at hand: below this a difference is rounding."""
CLOSES = 1e-9
"""Degrees from 0 or from a full turn within which an arc is none."""


@dataclass(frozen=True)
class Round:
    """A circle about ``centre`` (2,) of signed radius ``rho``: + left about, − right about, 0 a point."""

    centre: Array
    rho: float

    def off(self, rho: float) -> float:
        """How far from the centre that of an arc of ``rho`` lies which touches this one."""
        return abs(rho - self.rho)


@dataclass(frozen=True)
class Straight:
    """A line from ``start`` on towards ``end``, endless both ways."""

    start: Array
    end: Array

    @cached_property
    def u(self) -> Array:
        return unit(self.end - self.start)

    @cached_property
    def left(self) -> Array:
        return left_of(self.u)

    def stands(self, at: Array) -> float:
        """How far a place lies to the left."""
        return float(dot(at - self.start, self.left))

    def along(self, at: Array) -> float:
        """How far along the line, from ``start``, the foot of a place lies."""
        return float(dot(at - self.start, self.u))

    def foot(self, at: Array) -> Array:
        return self.start + self.along(at) * self.u


Thing = Round | Straight


def centres_touching(one: Thing, other: Thing, rho: float) -> list[Array]:
    """The centres of the arcs of ``rho`` that touch both: none, one or two.

    Of a line and a circle the one further back along the line comes first; of two circles the one to the left of the
    way from the first to the second.

    >>> one, other = Round(np.array([0.0, 0.0]), 10.0), Round(np.array([48.0, 0.0]), 10.0)
    >>> [at.tolist() for at in centres_touching(one, other, -15.0)]
    [[24.0, 7.0], [24.0, -7.0]]
    """
    if isinstance(one, Straight) and isinstance(other, Straight):
        if abs(float(cross(one.u, other.u))) < ALIKE:
            return []
        return [meet_lines(one.start + rho * one.left, one.u, other.start + rho * other.left, other.u)]
    if isinstance(one, Straight) or isinstance(other, Straight):
        line, ring = (one, other) if isinstance(one, Straight) else (other, one)
        assert isinstance(line, Straight) and isinstance(ring, Round)
        half = _leg(ring.off(rho), line.stands(ring.centre) - rho)
        middle = line.foot(ring.centre) + rho * line.left
        return [] if half is None else _both(middle, half * line.u)
    span = float(distance(one.centre, other.centre))
    if span < ALIKE * max(abs(one.rho), abs(other.rho), 1.0):
        return []
    u = (other.centre - one.centre) / span
    near, far = one.off(rho), other.off(rho)
    reach = (span + (near - far) * (near + far) / span) / 2
    half = _leg(near, reach)
    return [] if half is None else _both(one.centre + reach * u, -half * left_of(u))


def _both(middle: Array, half: Array) -> list[Array]:
    return [middle - half, middle + half] if np.any(half) else [middle]


def _leg(long: float, short: float) -> float | None:
    """√(long² − short²): 0 where both are one to within rounding, None where there is none."""
    square = (long - short) * (long + short)
    room = 4 * ALIKE * max(long, abs(short)) ** 2
    if square < -room:
        return None
    return 0.0 if square < room else float(np.sqrt(square))


def common_tangent(first: Round, second: Round) -> Straight | None:
    """The line that leaves ``first`` and reaches ``second``, each in its turn, from touch to touch; None where one lies
    in the other.

    >>> line = common_tangent(Round(np.array([0.0, 0.0]), 10.0), Round(np.array([60.0, 0.0]), 10.0))
    >>> line.start.tolist(), line.end.tolist()
    ([0.0, -10.0], [60.0, -10.0])
    """
    span = float(distance(first.centre, second.centre))
    step = second.rho - first.rho
    run = _leg(span, step)
    if run is None or span == 0.0 or run == 0.0:
        return None
    along = (second.centre - first.centre) / span
    u = (run * along - step * left_of(along)) / span
    return Straight(first.centre - first.rho * left_of(u), second.centre - second.rho * left_of(u))


def arcs_touching(things: Sequence[Thing]) -> list[Round]:
    """All arcs that touch three things, the smallest first; turns of both ways are among them.

    The centre and the signed radius of each hold one equation a thing (the problem of Apollonius with every turn
    told): those of lines are linear, and so are the differences of those of circles.

    >>> rings = [Round(np.array(at), 10.0) for at in ([30.0, 0.0], [-30.0, 0.0], [0.0, 30.0])]
    >>> [round(arc.rho, 6) for arc in arcs_touching(rings)]
    [-20.0, 40.0]
    """
    pinned = _pinned(things)
    if pinned is not None:
        return pinned
    lines = [t for t in things if isinstance(t, Straight)]
    rings = [t for t in things if isinstance(t, Round)]
    rows = [[*line.left, -1.0] for line in lines]
    sides = [float(dot(line.left, line.start)) for line in lines]
    for ring in rings[1:]:
        base = rings[0]
        rows.append([*(2 * (ring.centre - base.centre)), -2 * (ring.rho - base.rho)])
        apart = float(dot(ring.centre, ring.centre) - dot(base.centre, base.centre))
        sides.append(apart - ring.rho**2 + base.rho**2)
    matrix, right = np.array(rows), np.array(sides)
    matrix, right = matrix / (size := np.linalg.norm(matrix, axis=1))[:, None], right / size
    _, strengths, turned = np.linalg.svd(matrix)
    if strengths[-1] < 1e-9:
        return []
    start = np.linalg.lstsq(matrix, right, rcond=None)[0]
    found = [start] if not rings else _on_cone(start, turned[-1], rings[0])
    arcs = [Round(at[:2], float(at[2])) for at in found]
    return sorted((arc for arc in arcs if abs(arc.rho) > MEETS), key=lambda arc: abs(arc.rho))


def _on_cone(start: Array, way: Array, ring: Round) -> list[Array]:
    """Where the line ``start`` + t ``way`` of (x, y, ρ) meets the cone of what touches ``ring``."""
    weigh = np.array([1.0, 1.0, -1.0])
    out = start - np.array([*ring.centre, ring.rho])
    a, b, c = (float(x) for x in ((weigh * way * way).sum(), (weigh * way * out).sum(), (weigh * out * out).sum()))
    if abs(a) < ALIKE:
        return [start - c / (2 * b) * way] if abs(b) > ALIKE else []
    half = b * b - a * c
    if half < -ALIKE * b * b:
        return []
    q = -(b + np.copysign(np.sqrt(max(half, 0.0)), b))
    roots = [q / a] if q == 0.0 or half <= 0.0 else [q / a, c / q]
    return [start + t * way for t in roots]


def _pinned(things: Sequence[Thing]) -> list[Round] | None:
    """The arc where one of three is a point on another, which is touched there; None where there is no such point."""
    for k, at in enumerate(things):
        if not isinstance(at, Round) or at.rho:
            continue
        for j, on in enumerate(things):
            if j != k and runs_through(on, at.centre):
                left = on.left if isinstance(on, Straight) else unit(on.centre - at.centre) * np.sign(on.rho)
                return _touching_there(at.centre, left, things[3 - j - k])
    return None


def runs_through(thing: Thing, at: Array) -> bool:
    """Whether a line or a circle (a point does not) runs through a place.

    >>> runs_through(Round(np.array([0.0, 0.0]), -5.0), np.array([3.0, 4.0]))
    True
    """
    if isinstance(thing, Straight):
        return abs(thing.stands(at)) < MEETS
    return thing.rho != 0.0 and abs(float(distance(thing.centre, at)) - abs(thing.rho)) < MEETS


def _touching_there(at: Array, left: Array, third: Thing) -> list[Round]:
    """The arc through ``at`` that has ``left`` to its left there and touches ``third``."""
    if isinstance(third, Straight):
        below = 1.0 - float(dot(third.left, left))
        rho = third.stands(at) / below if abs(below) > ALIKE else 0.0
    else:
        out = at - third.centre
        below = 2 * (float(dot(left, out)) + third.rho)
        rho = (third.rho**2 - float(dot(out, out))) / below if abs(below) > ALIKE else 0.0
    return [Round(at + rho * left, rho)] if abs(rho) > MEETS else []


def touching_place(one: Thing, other: Thing) -> Array | None:
    """Where two that touch to within 1e-6 mm do so; None where they do not, or all along.

    >>> touching_place(Round(np.array([0.0, 0.0]), 10.0), Round(np.array([25.0, 0.0]), -15.0)).tolist()
    [10.0, 0.0]
    """
    if isinstance(one, Straight):
        return None if isinstance(other, Straight) else touching_place(other, one)
    if isinstance(other, Straight):
        return other.foot(one.centre) if abs(other.stands(one.centre) - one.rho) <= MEETS else None
    step = one.rho - other.rho
    if abs(step) < MEETS or abs(float(distance(one.centre, other.centre)) - abs(step)) > MEETS:
        return None
    return one.centre + (other.centre - one.centre) * (one.rho / step)


def swept(ring: Round, start: Array, end: Array) -> float:
    """Degrees that an arc goes, its own way about, from one place of it to another: under 360.

    >>> swept(Round(np.array([0.0, 0.0]), -10.0), np.array([10.0, 0.0]), np.array([0.0, 10.0]))
    270.0
    """
    if ring.rho == 0.0:
        return 0.0
    one, two = start - ring.centre, end - ring.centre
    turn = float(np.degrees(np.arctan2(cross(one, two), dot(one, two)))) * float(np.sign(ring.rho)) % 360.0
    return 0.0 if turn < CLOSES or turn > 360.0 - CLOSES else turn
