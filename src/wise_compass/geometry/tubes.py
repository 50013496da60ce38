"""A round wire wound on a cylinder: the pipe surface about a helix, cut square at both ends, and what it hides.

Points are x, depth (toward the eye) and z along the axis, as in :mod:`wise_compass.geometry.coils`. The wire is the
union of the spheres about its middle line (a canal surface, Monge), so that a line of sight enters it where the front
of those spheres stands nearest.
"""

from __future__ import annotations

import math
from functools import partial
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.coils import CoilEdge, Flags
from wise_compass.geometry.vectors import Array, Number, cosd, point3, sind

_SPACING = np.deg2rad(4.0)
"""Between the spheres that are asked at first, in the angle turned."""
_APART = 1.5
"""Degrees between a cusp, or an end, and the next place that a contour is found at."""
_TOUCH = 1e-6
"""Of the wire's radius: what stands nearer by less than this, is the same place."""


class Tube(NamedTuple):
    """A wire of ``radius`` about the helix of radius ``mean`` that climbs ``lead`` in a turn; ``sign`` +1 is
    right-handed."""

    mean: float
    radius: float
    lead: float
    turns: float
    sign: int

    @property
    def climb(self) -> float:
        """Rise in a radian."""
        return self.lead / (2 * np.pi)

    @property
    def total(self) -> float:
        """The angle turned from end to end, in degrees."""
        return 360.0 * self.turns

    def middle(self, turned: Number) -> Array:
        """The middle line at an angle turned, in degrees."""
        t = np.asarray(turned, dtype=float)
        return point3(
            self.mean * np.asarray(cosd(t)), -self.sign * self.mean * np.asarray(sind(t)), self.lead * t / 360.0
        )

    def along(self, turned: float) -> Array:
        """The unit direction in which the middle line runs on at an angle turned."""
        across = point3(-self.mean * float(sind(turned)), -self.sign * self.mean * float(cosd(turned)), self.climb)
        return np.asarray(across / np.hypot(self.mean, self.climb))

    def beside(self, turned: Number, side: int) -> Array:
        """The contour above the middle line (+1) or below (−1), square off it as seen from in front."""
        across = -self.mean * np.asarray(sind(turned))
        size = np.hypot(across, self.climb)
        return self.middle(turned) + side * self.radius * point3(-self.climb / size, 0.0 * size, across / size)

    def seen(self, at: Array) -> Flags:
        """Whether nothing of the wire stands between points and the eye."""
        asked = at.reshape(-1, 3)
        seen = (self._front(asked) <= asked[:, 1] + _TOUCH * self.radius) & ~self._behind_an_end(asked)
        return np.asarray(seen.reshape(at.shape[:-1]))

    def _front(self, at: Array) -> Array:
        """Where the surface of the wire is nearest to the eye on the line of sight through each point; −inf where it
        misses it.

        Spheres at even angles are asked, and those between them where the front or the sight's nearness has a maximum.
        One whose front still rises toward an end belongs to a wire that would run on beyond it.
        """
        x, z = at[:, :1], at[:, 2:]
        low = np.clip((z - self.radius) / self.climb, 0.0, np.deg2rad(self.total))
        high = np.clip((z + self.radius) / self.climb, 0.0, np.deg2rad(self.total))
        count = max(int(np.ceil(2 * self.radius / self.climb / _SPACING)), 24) + 1
        step = (high - low) / (count - 1)
        t = low + step * np.arange(count)
        room, front = self._sphere(t, x, z)
        nearest = np.full(len(at), -np.inf)
        for height in (front, room):
            with np.errstate(invalid="ignore"):
                before, here, after = height[:, :-2], height[:, 1:-1], height[:, 2:]
                rows, columns = np.nonzero((here >= before) & (here >= after) & np.isfinite(here))
                a, b, c = (part[rows, columns] for part in (before, here, after))
                bend = a - 2 * b + c
                shift = np.where(np.isfinite(bend) & (bend < 0), (a - c) / (2 * bend), 0.0)
            for moved in (shift, 0.0 * shift):
                places = t[rows, columns + 1] + step[rows, 0] * moved
                _, found = self._sphere(places, x[rows, 0], z[rows, 0])
                np.maximum.at(nearest, rows, found)
        return nearest

    def _sphere(self, t: Array, x: Array, z: Array) -> tuple[Array, Array]:
        """Of the sphere at ``t`` radians: what is left of its radius beside the line of sight, squared, and its front;
        −inf where the sight passes it."""
        room = self.radius**2 - (self.mean * np.cos(t) - x) ** 2 - (self.climb * t - z) ** 2
        front = np.where(room > 0, -self.sign * self.mean * np.sin(t) + np.sqrt(np.maximum(room, 0.0)), -np.inf)
        return room, front

    def _behind_an_end(self, at: Array) -> Flags:
        """Whether the face of a square-cut end stands before points."""
        hidden = np.zeros(len(at), dtype=bool)
        for turned in (0.0, self.total):
            middle, along = self.middle(turned), self.along(turned)
            if abs(along[1]) < 1e-9:
                continue
            off = at - middle
            nearer = -(off @ along) / along[1]
            on_face = off + nearer[:, None] * np.array([0.0, 1.0, 0.0])
            inside = (on_face**2).sum(axis=1) < self.radius**2 * (1 - _TOUCH)
            hidden |= inside & (nearer > _TOUCH * self.radius)
        return hidden


def cusp_lean(tube: Tube) -> float:
    """How many degrees either side of its turning point a contour has its cusps; 0 where it has none.

    The contour is the offset curve of the middle line's view, a sine, and has a cusp where that curves as the wire
    does: cos θ · radius · mean · climb = (mean² sin² θ + climb²)^(3/2).

    >>> round(cusp_lean(Tube(24.0, 3.5, 18.0, 2.5, 1)), 3), cusp_lean(Tube(12.0, 4.0, 56.0, 2, 1))
    (13.148, 0.0)
    """

    def over(lean: float) -> float:
        bent = float(cosd(lean)) * tube.radius * tube.mean * tube.climb
        return bent - math.hypot(tube.mean * float(sind(lean)), tube.climb) ** 3

    low, high = 0.0, 90.0
    if over(low) <= 0:
        return 0.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if over(middle) > 0 else (low, middle)
    return low


def tube_sides(tube: Tube, side: int, stations: tuple[float, ...]) -> list[CoilEdge]:
    """One contour of a round wire, above its middle line or below: as seen from in front, its outline runs a radius
    beside the middle line. Between two cusps it lies inside the wire, and is left away.

    Where a pipe's surface turns away from the eye its normal is square to the line of sight and to the middle line.

    >>> [(round(e.first), round(e.last)) for e in tube_sides(Tube(24.0, 3.5, 18.0, 1, 1), 1, ())]
    [(13, 347)]
    """

    # at the sides the outline runs round the wire: found where its normal has turned by every so many degrees
    share = np.tan(np.deg2rad(np.arange(15.0, 90.0, 15.0))) * tube.climb / tube.mean
    lean = np.rad2deg(np.arcsin(share[share < 0.95]))
    near_side = np.concatenate([-lean, [0.0], lean])
    sides = (180.0 * np.arange(int(2 * tube.turns) + 1)[:, None] + near_side).ravel()
    places = np.array(sorted({*stations, *(float(t) for t in sides)}))
    edges, begun, cusp = [], 0.0, cusp_lean(tube)
    turning = np.arange(0.0 if side > 0 else 180.0, tube.total + cusp, 360.0) if cusp else ()
    for first, last in (*((t - cusp, t + cusp) for t in turning), (tube.total, np.inf)):
        if first > begun:
            inner = places[(places > begun + _APART) & (places < first - _APART)]
            edges.append(
                CoilEdge(
                    partial(tube.beside, side=side),
                    begun,
                    float(first),
                    (begun, *(float(t) for t in inner), float(first)),
                )
            )
        begun = min(float(last), tube.total)
    return edges


def end_ring(tube: Tube, turned: float) -> CoilEdge:
    """The rim of a round wire's square-cut end.

    >>> end_ring(Tube(20, 2, 12.0, 2, 1), 0.0).at(np.array([0.0])).round(6).tolist()
    [[22.0, 0.0, 0.0]]
    """
    out = point3(float(cosd(turned)), -tube.sign * float(sind(turned)), 0.0)
    third = np.cross(tube.along(turned), out)
    centre = tube.middle(turned)

    def at(t: Number) -> Array:
        return centre + tube.radius * (np.asarray(cosd(t))[..., None] * out + np.asarray(sind(t))[..., None] * third)

    return CoilEdge(at, 0.0, 360.0, tuple(float(t) for t in range(0, 361, 20)))
