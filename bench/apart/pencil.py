"""What a hand of :mod:`bench.apart.hand` leaves on the paper: strokes, pricks and the outline, in mm of the drawing."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


class Stroke(NamedTuple):
    """A pass of the pencil: places (n, 2), and whether it is lined in with a soft lead."""

    places: Array
    lined: bool = False


@dataclass
class Pencil:
    """Strokes and pricks so far. Its chance is its own, so that a hand errs alike whether it is looked at or not."""

    seed: int
    strokes: list[Stroke] = field(default_factory=list)
    pricks: list[Array] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.random = np.random.default_rng((self.seed, 313))

    def line(self, at: Array, angle: float, low: float, high: float) -> None:
        """A faint line by the straightedge, from ``low`` to ``high`` along it and some mm over."""
        way = np.array([np.cos(np.radians(angle)), np.sin(np.radians(angle))])
        over = self.random.uniform(0.5, 6.0, 2)
        self.strokes.append(Stroke(np.array([at + (low - over[0]) * way, at + (high + over[1]) * way])))

    def joining(self, a: Array, b: Array) -> None:
        """A faint line from one mark to another, and over both."""
        off = b - a
        self.line(a, float(np.degrees(np.arctan2(off[1], off[0]))), 0.0, float(np.hypot(*off)))

    def arc(self, centre: Array, radius: float, towards: Array, half: float = 6.0) -> None:
        """A faint arc swung to both sides of a place, ``half`` mm and more."""
        off = towards - centre
        middle, turn = float(np.arctan2(off[1], off[0])), half / radius
        ends = middle + np.array([-1.0, 1.0]) * turn * self.random.uniform(1.0, 1.8, 2)
        self._swung(centre, radius, float(ends[0]), float(ends[1]), False)

    def circle(self, centre: Array, radius: float, lined: bool = False) -> None:
        first = float(self.random.uniform(0.0, 2 * np.pi))
        self._swung(centre, radius, first, first + 2 * np.pi + 0.1, lined)

    def lined_arc(self, centre: Array, radius: float, start: Array, end: Array) -> None:
        """The outline's arc, anticlockwise from one tangent point to another."""
        a, b = (float(np.arctan2(*(at - centre)[::-1])) for at in (start, end))
        self._swung(centre, radius, a, a + (b - a) % (2 * np.pi), True)

    def _swung(self, centre: Array, radius: float, start: float, end: float, lined: bool) -> None:
        turns = np.linspace(start, end, max(int(abs(end - start) * radius / 0.5), 8))
        self.pricks.append(centre)
        self.strokes.append(Stroke(centre + radius * np.stack([np.cos(turns), np.sin(turns)], axis=1), lined))

    def tick(self, at: Array, angle: float) -> None:
        """The short stroke across a line by which a length is laid off."""
        way = np.array([-np.sin(np.radians(angle)), np.cos(np.radians(angle))])
        self.strokes.append(Stroke(np.array([at - way * self.random.uniform(0.8, 1.6), at + way * 1.2])))

    def outline(self, *marks: Array) -> None:
        """Straight sides lined in from mark to mark, each laid by eye anew."""
        for a, b in zip(marks, marks[1:]):
            way = (b - a) / np.hypot(*(b - a))
            left = np.array([-way[1], way[0]])
            one, other = self.random.normal(0.0, 0.06, 2)
            over = self.random.uniform(-0.1, 0.4, 2)
            self.strokes.append(
                Stroke(np.array([a + left * one - way * over[0], b + left * other + way * over[1]]), True)
            )

    def curve(self, marks: Array, closed: bool) -> None:
        """A curve lined in along a French curve, three marks at a time: a parabola's arc a time (Catmull and Rom)."""
        points = (
            np.concatenate([marks[-1:], marks, marks[:2]])
            if closed
            else np.concatenate([2 * marks[:1] - marks[1:2], marks, 2 * marks[-1:] - marks[-2:-1]])
        )
        t = np.linspace(0.0, 1.0, 13)[:, None]
        pieces = [
            0.5 * (2 * q + (r - p) * t + (2 * p - 5 * q + 4 * r - s) * t**2 + (3 * q - p - 3 * r + s) * t**3)
            for p, q, r, s in zip(points, points[1:], points[2:], points[3:])
        ]
        self.strokes.append(Stroke(np.concatenate(pieces), True))
