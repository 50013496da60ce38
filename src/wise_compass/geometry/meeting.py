"""The curves of two cylinders that meet: from the side, in the branch's pattern, and round the hole of the main's.

All go by how far round the branch a point stands, from the end of the branch's width that lies to the right, in
degrees.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.curves import Curve
from wise_compass.geometry.vectors import Array, Number, cosd, point, sind

FLOOR = 1e-9
"""Of the main's radius: how low a height is taken at least, where slopes are divided by it."""


TOUCH = 1e-9
"""Of the main's radius: a branch that comes so near to the main's side touches it."""


def rooms(main: float, branch: float, offset: float, t: Number) -> tuple[Array, Array]:
    """How far a point of the branch stands inside the main's front and inside its back, main ∓ (offset + branch sin t).

    Written as a slack and a square (1 − sin t = 2 sin² (45° − t/2)), so that nothing cancels where the branch touches
    the side: there the height is as steep on either side of its 0 as it is in truth.

    >>> [float(part) for part in rooms(30.0, 20.0, 10.0, 90.0)]
    [0.0, 60.0]
    """
    t = np.asarray(t, dtype=float)
    front, back = main - offset - branch, main + offset - branch
    front, back = (0.0 if abs(slack) <= TOUCH * main else slack for slack in (front, back))
    return front + 2 * branch * sind(45.0 - t / 2) ** 2, back + 2 * branch * sind(45.0 + t / 2) ** 2


class Meeting(NamedTuple):
    """A branch of radius ``branch`` on a level main of radius ``main``, at ``angle`` degrees, its axis ``offset`` in
    front."""

    main: float
    branch: float
    angle: float
    offset: float

    def aside(self, t: Number) -> tuple[Number, Number, Number]:
        """How far a point stands across the branch's width, with its first two derivatives by the radian."""
        c, s = np.asarray(cosd(t)), np.asarray(sind(t))
        return self.branch * c, -self.branch * s, -self.branch * c

    def depth(self, t: Number) -> tuple[Number, Number, Number]:
        """How far it stands in front of the main's axis, with its derivatives."""
        c, s = np.asarray(cosd(t)), np.asarray(sind(t))
        return self.offset + self.branch * s, self.branch * c, -self.branch * s

    def height(self, t: Number) -> tuple[Number, Number, Number]:
        """How high it stands over the main's axis (the circle's equation), with its derivatives."""
        y, slope, bend = self.depth(t)
        front, back = rooms(self.main, self.branch, self.offset, t)
        h = np.sqrt(np.maximum(front * back, 0.0))
        under = np.maximum(h, FLOOR * self.main)
        rise = -y * slope / under
        return h, rise, -(slope**2 + y * bend + rise**2) / under

    def along(self, t: Number) -> tuple[Number, Number, Number]:
        """How far along the main it stands from where the axes come nearest, with its derivatives."""
        cos, sin = float(cosd(self.angle)), float(sind(self.angle))
        one, two, three = ((u + h * cos) / sin for u, h in zip(self.aside(t), self.height(t)))
        return one, two, three

    def reached(self, t: Number) -> tuple[Number, Number, Number]:
        """How far along the branch's axis, from there, with its derivatives."""
        cos, sin = float(cosd(self.angle)), float(sind(self.angle))
        one, two, three = ((h + u * cos) / sin for u, h in zip(self.aside(t), self.height(t)))
        return one, two, three

    def side_curve(self) -> Curve:
        """The curve as it is seen square to both axes."""
        return _curve(self.along, self.height)

    def branch_edge(self, length: float) -> Curve:
        """The edge of the branch's pattern over its stretched-out end, for a branch ``length`` long."""

        def girth(t: Number) -> tuple[Number, Number, Number]:
            none = 0.0 * np.asarray(t, dtype=float)
            return self.branch * np.deg2rad(t), self.branch + none, none

        def left(t: Number) -> tuple[Number, Number, Number]:
            far, slope, bend = self.reached(t)
            return length - far, -slope, -bend

        return _curve(girth, left)

    def hole(self) -> Curve:
        """The rim of the hole in the main's pattern, along the main and round it from its top; the front is below."""

        def arc(t: Number) -> tuple[Number, Number, Number]:
            y, slope, bend = self.depth(t)
            h, rise, _ = self.height(t)
            under = np.maximum(h, FLOOR * self.main)
            turn = np.arcsin(np.clip(y / self.main, -1.0, 1.0))
            return -self.main * turn, -self.main * slope / under, -self.main * (bend * h - slope * rise) / under**2

        return _curve(self.along, arc)


def _curve(
    x: Callable[[Number], tuple[Number, Number, Number]], y: Callable[[Number], tuple[Number, Number, Number]]
) -> Curve:
    at, slope, bend = (lambda t, k=k: point(x(t)[k], y(t)[k]) for k in range(3))
    return Curve(at, slope, bend, 0.0, 360.0, closed=True)
