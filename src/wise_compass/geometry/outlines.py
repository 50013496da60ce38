"""Closed outlines of straight lines and arcs of ellipses: convex hulls of what is cast, and their area over a level."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, cosd, cross, distance, sind

TOUCH = 1e-12


class Straight(NamedTuple):
    """A straight side from one place to another, (2,) each."""

    start: Array
    end: Array

    def at(self, share: Array) -> Array:
        """Places by their share of the way, (…, 2)."""
        return np.asarray(self.start + np.asarray(share)[..., None] * (self.end - self.start))

    def over(self, level: float) -> list[tuple[float, float]]:
        """The shares of the way between which it lies at y ≥ ``level``."""
        a, b = float(self.start[1]) - level, float(self.end[1]) - level
        if a >= 0 and b >= 0:
            return [(0.0, 1.0)]
        if a < 0 and b < 0:
            return []
        cut = a / (a - b)
        return [(0.0, cut)] if a >= 0 else [(cut, 1.0)]

    def twice_area(self, first: float, last: float) -> float:
        """∮ x dy − y dx along a part of it."""
        return float(cross(self.at(np.array(first)), self.at(np.array(last))))


class Arc(NamedTuple):
    """A piece of an ellipse, anticlockwise: ``middle`` + ``one`` cos t + ``other`` sin t from ``first`` to ``last``
    degrees."""

    middle: Array
    one: Array
    other: Array
    first: float
    last: float

    def turn(self, share: Array) -> Array:
        return np.asarray(self.first + np.asarray(share) * (self.last - self.first))

    def at(self, share: Array) -> Array:
        """Places by their share of the way, (…, 2)."""
        t = self.turn(share)[..., None]
        return np.asarray(self.middle + self.one * np.asarray(cosd(t)) + self.other * np.asarray(sind(t)))

    def crossings(self, level: float) -> list[float]:
        """The shares of the way at which it crosses a level."""
        a, b, c = float(self.one[1]), float(self.other[1]), level - float(self.middle[1])
        reach = float(np.hypot(a, b))
        if reach <= TOUCH or abs(c) >= reach:
            return []
        lean, half = float(np.degrees(np.arctan2(b, a))), float(np.degrees(np.arccos(c / reach)))
        found = []
        for turn in (lean - half, lean + half):
            on = (turn - self.first) % 360.0
            if 0.0 < on < self.last - self.first:
                found.append(on / (self.last - self.first))
        return sorted(found)

    def over(self, level: float) -> list[tuple[float, float]]:
        """The shares of the way between which it lies at y ≥ ``level``."""
        cuts = [0.0, *self.crossings(level), 1.0]
        return [(a, b) for a, b in zip(cuts, cuts[1:]) if float(self.at(np.array((a + b) / 2))[1]) >= level]

    def twice_area(self, first: float, last: float) -> float:
        """∮ x dy − y dx along a part of it (Green)."""
        a, b = (float(self.turn(np.array(share))) for share in (first, last))
        swept = float(cross(self.one, self.other)) * float(np.deg2rad(b - a))
        ends = self.one * (float(cosd(b)) - float(cosd(a))) + self.other * (float(sind(b)) - float(sind(a)))
        return swept + float(cross(self.middle, ends))


Side = Straight | Arc


def area_over(sides: Sequence[Side], level: float = 0.0) -> float:
    """The area of what a closed outline, anticlockwise, encloses at y ≥ ``level`` (Green).

    >>> half = Arc(np.zeros(2), np.array([2.0, 0]), np.array([0.0, 2]), 0.0, 360.0)
    >>> round(area_over([half]) / np.pi, 12)
    2.0
    """
    # moved so that the level is y = 0, the line along it adds nothing
    shifted = [_down(side, level) for side in sides]
    return sum(side.twice_area(a, b) for side in shifted for a, b in side.over(0.0)) / 2


def _down(side: Side, level: float) -> Side:
    by = np.array([0.0, level])
    if isinstance(side, Straight):
        return Straight(side.start - by, side.end - by)
    return side._replace(middle=side.middle - by)


def hull_of(places: Array) -> list[int]:
    """The places (n, 2) that span a convex hull, by number, anticlockwise (Andrew's monotone chain).

    >>> hull_of(np.array([[0.0, 0], [2, 0], [1, 1], [2, 2], [0, 2]]))
    [0, 1, 3, 4]
    """
    order = sorted(range(len(places)), key=lambda k: (round(float(places[k, 0]), 10), round(float(places[k, 1]), 10)))
    size = float(np.abs(places - places[0]).max())

    def half(run: Sequence[int]) -> list[int]:
        chain: list[int] = []
        for k in run:
            while len(chain) > 1:
                u, w = places[chain[-1]] - places[chain[-2]], places[k] - places[chain[-2]]
                if float(cross(u, w)) > 1e-10 * size * size:
                    break
                chain.pop()
            if not chain or float(distance(places[chain[-1]], places[k])) > 1e-10 * size:
                chain.append(k)
        return chain[:-1]

    found = half(order) + half(order[::-1])
    return found[found.index(min(found)) :] + found[: found.index(min(found))]


def circle_arc(middle: Array, radius: float, first: float, last: float) -> Arc:
    """An arc of a circle, anticlockwise between two directions in degrees.

    >>> circle_arc(np.zeros(2), 5.0, 0.0, 90.0).at(np.array([0.0, 1.0])).round(9).tolist()
    [[5.0, 0.0], [0.0, 5.0]]
    """
    return Arc(middle, np.array([radius, 0.0]), np.array([0.0, radius]), first, last)
