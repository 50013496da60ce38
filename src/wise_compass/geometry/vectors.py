"""Vectors, angles and turns.

A point or a vector is an array whose last axis holds its coordinates (2 in the plane, 3 in space). Leading axes
broadcast, so one call serves a single point and a thousand of them. Angles are degrees, anticlockwise from +x.
"""

from __future__ import annotations

import math
from typing import Any, cast, overload

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.signedinteger[Any]]
Number = float | Array
"""A quantity of one construction, or of each of the leading axes."""


def point(x: Number, y: Number) -> Array:
    """A plane point from its coordinates; ``x`` and ``y`` broadcast to the leading axes.

    >>> point(3, 4)
    array([3., 4.])
    """
    if isinstance(x, float) and isinstance(y, float):  # NumPy's own scalars are floats too
        return np.array((x, y))
    shape = np.broadcast(x, y).shape
    out = np.empty((*shape, 2))
    out[..., 0] = x
    out[..., 1] = y
    return out


def point3(x: Number, y: Number, z: Number) -> Array:
    """A point in space from its coordinates, which broadcast.

    >>> point3(1, 2, 3).tolist()
    [1.0, 2.0, 3.0]
    """
    out = np.empty((*np.broadcast(x, y, z).shape, 3))
    out[..., 0] = x
    out[..., 1] = y
    out[..., 2] = z
    return out


@overload
def sind(angle: float) -> float: ...
@overload
def sind(angle: Array) -> Array: ...
@overload
def sind(angle: Number) -> Number: ...
def sind(angle: Number) -> Number:
    """Sine of an angle in degrees.

    >>> float(sind(30)).__round__(12)
    0.5
    """
    return np.sin(np.deg2rad(angle))


@overload
def cosd(angle: float) -> float: ...
@overload
def cosd(angle: Array) -> Array: ...
@overload
def cosd(angle: Number) -> Number: ...
def cosd(angle: Number) -> Number:
    """Cosine of an angle in degrees, exactly 0 at 90 (as the sine of the complement).

    >>> float(cosd(90))
    0.0
    """
    return np.sin(np.deg2rad(90.0 - angle))


@overload
def tand(angle: float) -> float: ...
@overload
def tand(angle: Array) -> Array: ...
@overload
def tand(angle: Number) -> Number: ...
def tand(angle: Number) -> Number:
    """Tangent of an angle in degrees; infinite, without a warning, at 90.

    >>> float(tand(90))
    inf
    """
    with np.errstate(divide="ignore"):
        return np.divide(sind(angle), cosd(angle))


def dot(u: Array, v: Array) -> Array:
    """Scalar product over the last axis.

    >>> float(dot(point(1, 2), point(3, 4)))
    11.0
    """
    if u.shape[-1] == 2:
        return u[..., 0] * v[..., 0] + u[..., 1] * v[..., 1]
    return np.asarray((u * v).sum(axis=-1))


def cross(u: Array, v: Array) -> Array:
    """Signed area of the parallelogram of two plane vectors: positive when ``v`` lies to the left of ``u``.

    >>> float(cross(point(1, 0), point(0, 2)))
    2.0
    """
    made: Array = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
    return made


def length(u: Array) -> Array:
    """Length of a vector in the plane or in space, without overflow of the squares.

    >>> float(length(point(3, 4)))
    5.0
    """
    if u.shape[-1] == 2:
        if u.ndim == 1:  # a scalar of NumPy does all that an array without axes does, and is made sooner
            return cast(Array, np.float64(math.hypot(u[0], u[1])))
        return np.hypot(u[..., 0], u[..., 1])
    return np.hypot(np.hypot(u[..., 0], u[..., 1]), u[..., 2])


def distance(p: Array, q: Array) -> Array:
    """Distance of two points.

    >>> float(distance(point(0, 0), point(3, 4)))
    5.0
    """
    return length(q - p)


def along(p: Array, u: Array, t: Number) -> Array:
    """The point ``p + t u``; ``t`` broadcasts with the leading axes.

    >>> along(point(1, 0), point(0, 1), 5).tolist()
    [1.0, 5.0]
    """
    if isinstance(t, float):
        return p + t * u
    return p + np.asarray(t)[..., None] * u


def unit(u: Array) -> Array:
    """The vector of length 1 in the direction of ``u``; NaN for a zero vector.

    >>> unit(point(0, 4)).tolist()
    [0.0, 1.0]
    """
    if u.ndim == 1:
        size = float(length(u))
        return u / size if size else np.full(u.shape, np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(u / np.asarray(length(u))[..., None])


def left_of(u: Array) -> Array:
    """``u`` turned by a quarter turn anticlockwise.

    >>> left_of(point(3, 1)).tolist()
    [-1.0, 3.0]
    """
    return point(-u[..., 1], u[..., 0])


def direction(angle: Number) -> Array:
    """The unit vector at ``angle`` degrees.

    >>> direction(90).tolist()
    [0.0, 1.0]
    """
    return point(cosd(angle), sind(angle))


def polar(centre: Array, radius: Number, angle: Number) -> Array:
    """The point ``radius`` away from ``centre`` at ``angle`` degrees.

    >>> polar(point(1, 1), 5, 90).tolist()
    [1.0, 6.0]
    """
    return along(centre, direction(angle), radius)


def angle_of(u: Array) -> Array:
    """Direction of a plane vector in degrees, in (-180, 180].

    >>> float(angle_of(point(-2, 0)))
    180.0
    """
    return np.rad2deg(np.arctan2(u[..., 1], u[..., 0]))


def angle_between(u: Array, v: Array) -> Array:
    """Angle of two vectors in degrees, in [0, 180], accurate at both ends (Kahan's half-angle form).

    >>> float(angle_between(point(1, 0), point(0, 3)))
    90.0
    """
    a, b = unit(u), unit(v)
    return np.rad2deg(2.0 * np.arctan2(length(a - b), length(a + b)))


def turned(p: Array, angle: Number, about: Array | None = None) -> Array:
    """``p`` turned by ``angle`` degrees anticlockwise about the origin or the point ``about``.

    >>> turned(point(2, 1), 90, point(1, 1)).tolist()
    [1.0, 2.0]
    """
    c, s = cosd(angle), sind(angle)
    q = p if about is None else p - about
    out = point(c * q[..., 0] - s * q[..., 1], s * q[..., 0] + c * q[..., 1])
    return out if about is None else out + about


def multiples(by: float, count: int) -> Array:
    """The first ``count`` multiples of ``by`` from 0 on, (count,): the angles of equal parts of a turn, say.

    >>> multiples(90.0, 3).tolist()
    [0.0, 90.0, 180.0]
    """
    return by * np.arange(count, dtype=np.float64)


def mean(*points: Array) -> Array:
    """The centroid of several points.

    >>> mean(point(0, 0), point(6, 0), point(0, 3)).tolist()
    [2.0, 1.0]
    """
    return sum(points[1:], points[0]) / float(len(points))
