"""The circles that touch three given circles (the problem of Apollonius), in every degenerate case.

A circle (P, R) touches (Cᵢ, rᵢ) where |P − Cᵢ| = |R ± rᵢ|. For one choice of signs the differences of the squares are
two planes in (x, y, R); their line cuts the cone of the first in at most two points. Two that coincide to within
rounding are one.
"""

from __future__ import annotations

from decimal import Context, Decimal, localcontext

import numpy as np

from wise_compass.geometry.vectors import Array, distance

_SIGNS = ((1, 1, 1), (1, 1, -1), (1, -1, 1), (1, -1, -1))
ALIKE = 1e-6
"""Circles that differ by less than this part of their sizes are one: closer than a hand could tell them apart."""
_DIGITS = Context(prec=60)
_NOTHING = Decimal(10) ** -30
"""Of what it is made of: a difference that is smaller is the rounding of its sixty digits."""
Triple = tuple[Decimal, Decimal, Decimal]


def tangent_circles(centres: Array, radii: Array, largest: float = 1e6) -> tuple[Array, Array, Array]:
    """All circles that touch three circles (radius 0: pass through the point).

    ``centres`` has shape (3, 2), ``radii`` (3,). Returns centres (n, 2), radii (n,) and contacts (n, 3), n at most 8,
    the smallest first: a contact is +1 where the two lie outside each other, −1 where one holds the other. Straight
    lines, circles of radius 0, circles over ``largest``, the given circles themselves, and whole families of circles
    are left out.

    >>> tangent_circles(np.array([[0.0, 0], [40, 0], [20, 20 * 3**0.5]]), np.array([20.0, 20, 20]))[1].round(6)
    array([ 3.094011, 43.094011])
    """
    span = float(np.abs(centres - centres.mean(axis=0)).max() + radii.max()) or 1.0
    # as the numbers are written, so that circles that are given to touch do
    given = [(_written(x), _written(y), _written(r)) for (x, y), r in zip(centres.tolist(), radii.tolist())]
    found: list[tuple[Array, float, Array]] = []
    with localcontext(_DIGITS):
        for signs in _SIGNS:
            for x, y, r in _touching([(px, py, sign * q) for (px, py, q), sign in zip(given, signs)]):
                centre, radius = np.array([float(x), float(y)]), abs(float(r))
                if not ALIKE * span < radius < largest:
                    continue
                known = [(c, q) for c, q, _ in found] + list(zip(centres, radii))
                if all(not _alike(centre, radius, c, float(q), span) for c, q in known):
                    found.append((centre, radius, np.array(signs, dtype=float) * (1.0 if r >= 0 else -1.0)))
    found.sort(key=lambda one: one[1])
    if not found:
        return np.zeros((0, 2)), np.zeros(0), np.zeros((0, 3))
    return np.array([c for c, _, _ in found]), np.array([r for _, r, _ in found]), np.array([s for _, _, s in found])


def _alike(c: Array, r: float, d: Array, q: float, span: float) -> bool:
    """Whether two circles are one, to within what a double root leaves of the digits."""
    return float(distance(c, d)) + abs(r - q) < ALIKE * (span + r)


def _written(value: float) -> Decimal:
    return Decimal(repr(float(value)))


def _cross(u: Triple, w: Triple) -> Triple:
    return u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]


def _dot(u: Triple, w: Triple) -> Decimal:
    return u[0] * w[0] + u[1] * w[1] + u[2] * w[2]


def _touching(circles: list[Triple]) -> list[Triple]:
    """Solutions (x, y, R) of |P − Cᵢ| = |R + rᵢ|, R and rᵢ of either sign, in the digits of the current context; a
    double root once."""
    first, *others = circles
    normals: list[Triple] = []
    right = []
    for x, y, r in others:
        normals.append((2 * (x - first[0]), 2 * (y - first[1]), 2 * (r - first[2])))
        right.append(x * x + y * y - r * r - first[0] ** 2 - first[1] ** 2 + first[2] ** 2)
    one, other = normals
    along = _cross(one, other)
    bent = _dot(along, along)
    if bent <= _NOTHING * _dot(one, one) * _dot(other, other):
        return []  # the planes are parallel: no circle touches so, or a whole family does
    # the point of both planes that lies nearest to the origin (Cramer's rule on the normals and their product)
    u, w = _cross(other, along), _cross(along, one)
    base = [(right[0] * p + right[1] * q) / bent for p, q in zip(u, w)]
    start = (base[0] - first[0], base[1] - first[1], base[2] + first[2])
    a, b, k = (p[0] * q[0] + p[1] * q[1] - p[2] * q[2] for p, q in ((along, along), (along, start), (start, start)))
    size = _dot(along, along)
    times: list[Decimal]
    if abs(a) <= _NOTHING * size:
        times = [-k / (2 * b)] if abs(b) > _NOTHING * (size * _dot(start, start)).sqrt() else []
    else:
        inside = b * b - a * k
        room = _NOTHING * (b * b + abs(a * k))
        if inside < -room:
            return []
        root = inside.sqrt() if inside > room else Decimal(0)
        times = [(-b - root) / a, (-b + root) / a] if root else [-b / a]
    return [(base[0] + t * along[0], base[1] + t * along[1], base[2] + t * along[2]) for t in times]
