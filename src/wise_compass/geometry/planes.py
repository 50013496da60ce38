"""Planes in space, and what meets them: arrays whose last axis holds x, y, z; leading axes broadcast.

A plane is the pair (n, d) of its unit normal (…, 3) and its signed distance from the origin: the points p with n·p = d.
Where something does not exist, as the meet of a line with a plane it runs along, the answer is NaN in that lane alone.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Number, along, cosd, dot, length, sind, unit

FLAT = 1e-12
"""Two directions whose sine is below this are parallel."""


class Plane(NamedTuple):
    """The points p with ``normal``·p = ``offset``; ``normal`` has length 1."""

    normal: Array
    offset: Number


def cross3(u: Array, v: Array) -> Array:
    """The vector product in space, (…, 3): square to both, as long as their parallelogram is large, right-handed.

    >>> cross3(np.array([1., 0, 0]), np.array([0., 1, 0]))
    array([0., 0., 1.])
    """
    return np.stack(
        np.broadcast_arrays(
            u[..., 1] * v[..., 2] - u[..., 2] * v[..., 1],
            u[..., 2] * v[..., 0] - u[..., 0] * v[..., 2],
            u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0],
        ),
        axis=-1,
    )


def plane_through(a: Array, b: Array, c: Array) -> Plane:
    """The plane of three points, its normal by the right hand; NaN where they lie in one line.

    >>> plane_through(np.zeros(3), np.array([2., 0, 0]), np.array([0., 2, 0])).normal
    array([0., 0., 1.])
    """
    u, v = b - a, c - a
    product = cross3(u, v)
    size = np.asarray(length(product))
    flat = size <= FLAT * np.asarray(length(u)) * np.asarray(length(v))
    normal = product / np.where(flat, np.nan, size)[..., None]
    return Plane(normal, dot(normal, a))


def distance_to_plane(p: Array, plane: Plane) -> Array:
    """Signed distance of a point from a plane, positive on the side that the normal points to.

    >>> float(distance_to_plane(np.array([1., 2, 5]), Plane(np.array([0., 0, 1]), 3.0)))
    2.0
    """
    return dot(p, plane.normal) - plane.offset


def foot_on_plane(p: Array, plane: Plane) -> Array:
    """The foot of the perpendicular from a point on a plane.

    >>> foot_on_plane(np.array([1., 2, 5]), Plane(np.array([0., 0, 1]), 3.0))
    array([1., 2., 3.])
    """
    return along(p, plane.normal, -np.asarray(distance_to_plane(p, plane)))


def meet_line_plane(p: Array, u: Array, plane: Plane) -> Array:
    """Where the line through ``p`` along ``u`` meets a plane; NaN where it runs parallel to it or within it.

    >>> meet_line_plane(np.array([0., 0, 1]), np.array([1., 0, 1]), Plane(np.array([0., 0, 1]), 3.0))
    array([2., 0., 3.])
    """
    climb = np.asarray(dot(u, plane.normal))
    climb = np.where(np.abs(climb) <= FLAT * np.asarray(length(u)), np.nan, climb)
    return along(p, u, (plane.offset - dot(p, plane.normal)) / climb)


def meet_planes(one: Plane, two: Plane) -> tuple[Array, Array]:
    """The line of two planes: its point nearest to the origin and its unit direction; NaN where they are parallel.

    >>> meet_planes(Plane(np.array([0., 0, 1]), 3.0), Plane(np.array([0., 1, 0]), 2.0))[0]
    array([0., 2., 3.])
    """
    way = cross3(one.normal, two.normal)
    size = np.asarray(length(way))
    way = way / np.where(size <= FLAT, np.nan, size)[..., None]
    c = np.asarray(dot(one.normal, two.normal))
    under = 1.0 - c * c
    under = np.where(under <= FLAT * FLAT, np.nan, under)
    a = (np.asarray(one.offset) - c * np.asarray(two.offset)) / under
    b = (np.asarray(two.offset) - c * np.asarray(one.offset)) / under
    return a[..., None] * one.normal + b[..., None] * two.normal, way


def dihedral_angle(one: Plane, two: Plane) -> Array:
    """The angle of two planes in degrees, in [0, 90] (Kahan's half-angle form on their normals).

    >>> round(float(dihedral_angle(Plane(np.array([0., 0, 1]), 0.0), Plane(np.array([0., 1, 1]) / 2**0.5, 0.0))), 9)
    45.0
    """
    n, m = one.normal, two.normal
    angle = np.rad2deg(2.0 * np.arctan2(length(n - m), length(n + m)))
    return np.minimum(angle, 180.0 - angle)


def turned_about(p: Array, on: Array, axis: Array, angle: Number) -> Array:
    """``p`` turned by ``angle`` degrees about the line through ``on`` along ``axis``, by the right hand (Rodrigues).

    >>> np.round(turned_about(np.array([1., 0, 0]), np.zeros(3), np.array([0., 0, 1]), 90.0), 12)
    array([0., 1., 0.])
    """
    k, off = unit(axis), p - on
    c, s = np.asarray(cosd(angle))[..., None], np.asarray(sind(angle))[..., None]
    return np.asarray(on + c * off + s * cross3(k, off) + (1.0 - c) * np.asarray(dot(k, off))[..., None] * k)
