"""Dimensions: what a figure wants written on the drawing, in figure millimetres; the sheet decides where exactly.

A figure says each of its lengths and angles once, in the view in which it shows truly, between places of the drawing:
:func:`level`, :func:`upright`, :func:`angle_at` and :func:`running` are what views mostly need. What the drawing has
no line for is told by a :class:`Leader`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Number, angle_of, direction, dot, left_of


class Linear(NamedTuple):
    """The distance from ``p`` to ``q``, its line set off by ``rank`` rows to the ``side`` (+1 left of p→q), its
    figures ``share`` of the way along.

    It is measured in the direction ``along``, in degrees, where that is not the one from p to q, and ``side`` is taken
    of that; extension lines run in the direction ``out`` where they are not to be square to it. A ``running`` one is
    told at q, of a row of them that share their datum p (ISO 129-1, running dimensions). What is ``derived`` follows
    from the givens, and is told in brackets where all is wanted. Its line lies beyond the place ``past``, where that is
    told: what is drawn about the places that it measures.
    """

    p: Array
    q: Array
    given: str
    value: float
    side: int = -1
    rank: int = 1
    prefix: str = ""
    share: float = 0.5
    along: float | None = None
    out: float | None = None
    running: bool = False
    derived: bool = False
    past: Array | None = None

    @property
    def way(self) -> Array:
        """The unit vector that it is measured along, from p to q."""
        if self.along is None:
            return np.asarray(direction(float(angle_of(self.q - self.p))))
        u = direction(self.along)
        return np.asarray(u if float(dot(self.q - self.p, u)) >= 0 else -u)

    @property
    def outward(self) -> Array:
        """The unit vector that its extension lines run along."""
        if self.out is not None:
            return np.asarray(direction(self.out) * (1 if self.side >= 0 else -1))
        u = self.way if self.along is None else direction(self.along)
        return np.asarray(left_of(u) * self.side)


class Radial(NamedTuple):
    """A radius or, with ``diameter``, a diameter, written along the ray at ``angle`` degrees, ``off`` mm further out on
    the paper than it need be. Of a circle that is not there whole ``half`` the line of its diameter is drawn."""

    centre: Array
    radius: float
    given: str
    value: float
    angle: float = 45.0
    diameter: bool = False
    off: float = 0.0
    prefix: str = ""
    half: bool = False
    derived: bool = False


class Angular(NamedTuple):
    """The angle at ``vertex`` from the direction ``start`` over ``sweep`` degrees, its arc ``reach`` mm off on the
    paper and its figures ``share`` of the way along it."""

    vertex: Array
    start: float
    sweep: float
    given: str
    value: float
    reach: float = 18.0
    share: float = 0.5
    prefix: str = ""
    derived: bool = False


class Leader(NamedTuple):
    """A value told at a place, by a line that leads there from ``angle`` degrees, ``reach`` mm long on the paper: what
    the drawing has no line for. ``unit`` is mm or °, or nothing where it is a count."""

    at: Array
    given: str
    value: float
    prefix: str = ""
    unit: str = "mm"
    angle: float = 45.0
    reach: float = 10.0
    derived: bool = False


Dimension = Linear | Radial | Angular | Leader


def level(p: Array, q: Array, given: str, value: float, side: int = -1, **more: Any) -> Linear:
    """A distance measured level, its row below (or with ``side`` 1 above) both places."""
    return Linear(p, q, given, value, side, along=0.0)._replace(**more)


def upright(p: Array, q: Array, given: str, value: float, side: int = 1, **more: Any) -> Linear:
    """A distance measured upright, its row to the left of (or with ``side`` -1 to the right of) both places."""
    return Linear(p, q, given, value, side, along=90.0)._replace(**more)


def angle_at(vertex: Array, one: Array, other: Array, given: str, value: float, **more: Any) -> Angular:
    """The angle at a vertex from the ray through one place to that through another, the lesser way round."""
    start, end = (float(angle_of(at - vertex)) for at in (one, other))
    sweep = (end - start) % 360
    if sweep > 180:
        start, sweep = end, 360 - sweep
    return Angular(vertex, start, sweep, given, value)._replace(**more)


def outside(corners: Sequence[Array], p: Array, q: Array) -> int:
    """Which side of p→q, +1 left of it, lies away from the middle of the corners."""
    middle = np.mean(np.array(corners), axis=0)
    return -1 if float(dot(middle - p, left_of(q - p))) > 0 else 1


def running(
    given: str, datum: Array, places: Iterable[Array], along: float, side: int, least: float = 1e-9
) -> Iterator[Linear]:
    """Distances of places from one datum in one direction, each told once, in a row that they share."""
    u = direction(along)
    seen: list[float] = []
    for at in places:
        value = float(dot(at - datum, u))
        if abs(value) > least and all(abs(value - other) > least for other in seen):
            seen.append(value)
            yield Linear(datum, at, given, abs(value), side, along=along, running=True)


def told(dimensions: Iterable[Dimension]) -> Iterator[Dimension]:
    """Those whose value is not nothing: what is 0 needs no dimension."""
    return (one for one in dimensions if abs(one.value) > 1e-9)


def sized(value: Number) -> float:
    """A value of the steady hand as a plain number."""
    return float(np.ravel(value)[0])


def edge_of(corners: Sequence[Array], given: str, value: float) -> Linear:
    """The side of a regular ring of corners that lies lowest, told outside of it."""
    n = len(corners)
    k = min(range(n), key=lambda i: (round(float(corners[i][1] + corners[(i + 1) % n][1]), 6), i))
    p, q = corners[k], corners[(k + 1) % n]
    return Linear(p, q, given, value, outside(corners, p, q))


def from_level(vertex: Array, turn: float, given: str, start: float = 0.0, **more: Any) -> Angular:
    """An angle that is turned, anticlockwise or with a minus clockwise, from ``start``, the right."""
    return Angular(vertex, start + min(turn, 0.0), abs(turn), given, abs(turn))._replace(**more)


def row(found: Mapping[str, Array], letter: str, first: int, count: int, view: str = "") -> list[Array]:
    """The corners of a numbered row, in order."""
    return [found[f"{letter}{k}{view}"] for k in range(first, first + count)]


def corner_dimensions(corners: Sequence[Array], given: str | Sequence[str]) -> Iterator[Linear]:
    """Corners by how far each lies to the right of the leftmost and above the lowest, in a row below and one beside;
    where each is a given of its own, they are told in the order of the corners."""
    names = [given] * len(corners) if isinstance(given, str) else given
    for k, along, side in ((0, 0.0, -1), (1, 90.0, 1)):
        order = sorted(range(len(corners)), key=lambda i: (round(float(corners[i][k]), 6), float(corners[i][1 - k])))
        levels: list[float] = []
        for i in order:
            level = float(corners[i][k])
            if not levels or level - levels[-1] > 1e-6:
                if levels:
                    yield from running(names[i], corners[order[0]], [corners[i]], along, side)
                levels.append(level)
