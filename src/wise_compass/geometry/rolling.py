"""Curves traced by a point carried by a circle that rolls without slipping, on a line or on a circle.

``angle`` is the turn of the rolling circle in degrees relative to its line of contact: equal arcs of both have passed.
All functions broadcast. The circle begins with the tracing point on the side of the contact.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from wise_compass.geometry.vectors import Array, Number, along, direction, point, polar


class LineRoll:
    """A circle of radius ``r`` rolling along the x axis above it, from the origin; the tracing point ``a`` from its
    centre."""

    pole = None

    def __init__(self, r: float, a: float) -> None:
        self.r, self.a = r, a

    def centre(self, angle: Number) -> Array:
        return point(self.r * np.deg2rad(angle), self.r)

    def contact(self, angle: Number) -> Array:
        return point(self.r * np.deg2rad(angle), 0.0)

    def tracer(self, angle: Number) -> Array:
        """The tracing point: x = rt − a sin t, y = r − a cos t."""
        return along(self.centre(angle), direction(-90.0 - np.asarray(angle, dtype=float)), self.a)

    def derivative(self, angle: Number) -> Array:
        """The derivative of the tracing point by the angle in radians."""
        t = np.deg2rad(np.asarray(angle, dtype=float))
        return point(self.r - self.a * np.cos(t), self.a * np.sin(t))

    def second_derivative(self, angle: Number) -> Array:
        """The second derivative: the tracing arm's own, as the centre moves straight and evenly."""
        t = np.deg2rad(np.asarray(angle, dtype=float))
        return point(self.a * np.sin(t), self.a * np.cos(t))


class CircleRoll:
    """A circle of radius ``r`` rolling clockwise on one of radius ``base`` about the origin, outside or inside it.

    It begins at the direction ``start`` (degrees) of the base circle.
    """

    pole = point(0.0, 0.0)

    def __init__(self, base: float, r: float, a: float, inside: bool, start: float) -> None:
        self.base, self.r, self.a, self.inside, self.start = base, r, a, inside, start
        self.track = base - r if inside else base + r

    def swept(self, angle: Number) -> Number:
        """How far round the base circle the contact has gone, by equal arcs."""
        return np.asarray(angle, dtype=float) * self.r / self.base

    def centre(self, angle: Number) -> Array:
        return polar(np.zeros(2), self.track, self.start - self.swept(angle))

    def contact(self, angle: Number) -> Array:
        return polar(np.zeros(2), self.base, self.start - self.swept(angle))

    def facing(self, angle: Number) -> Number:
        """Direction from the rolling centre to the tracing point."""
        turned = np.asarray(angle, dtype=float)
        if self.inside:
            return self.start + turned - self.swept(angle)
        return self.start + 180.0 - turned - self.swept(angle)

    def tracer(self, angle: Number) -> Array:
        return along(self.centre(angle), direction(self.facing(angle)), self.a)

    def derivative(self, angle: Number) -> Array:
        """The derivative of the tracing point by the angle in radians, from the two turning vectors."""
        k = self.r / self.base
        spin = 1.0 - k if self.inside else -1.0 - k
        one = direction(self.start - self.swept(angle) + 90.0) * (-k * self.track)
        two = direction(np.asarray(self.facing(angle)) + 90.0) * (spin * self.a)
        return one + two

    def second_derivative(self, angle: Number) -> Array:
        """The second derivative, from the same two turning vectors."""
        k = self.r / self.base
        spin = 1.0 - k if self.inside else -1.0 - k
        return direction(self.start - self.swept(angle)) * (-k * k * self.track) + direction(self.facing(angle)) * (
            -spin * spin * self.a
        )


Roll = LineRoll | CircleRoll


@cache
def _gauss() -> tuple[Array, Array]:
    """Nodes and weights of Gauss's rule, worked out when they are first asked for."""
    nodes, weights = np.polynomial.legendre.leggauss(96)
    return nodes, weights


def roll_length(advance: Number, arm: Number, spin: Number) -> Number:
    """Length of one arch: a point on an ``arm`` that turns ``spin`` against its centre's way of ``advance`` mm a
    radian.

    The integral of √(advance² + (spin·arm)² − 2·advance·spin·arm·cos t) over a turn, by Gauss's rule of 96 nodes: to
    the last digits where the two are equal (a cusp at both ends) and wherever no cusp is near. Broadcasts.

    >>> round(float(roll_length(18.0, 18.0, 1.0)), 9)
    144.0
    """
    nodes, weights = _gauss()
    t = np.pi * (nodes + 1.0)
    a, b = np.asarray(advance)[..., None], np.asarray(spin * arm)[..., None]
    speed = np.sqrt((a - b) ** 2 + 4 * a * b * np.sin(t / 2) ** 2)
    found: Number = (speed * weights).sum(axis=-1) * np.pi
    return found
