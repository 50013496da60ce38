"""The circles that touch three given circles (the problem of Apollonius), in every degenerate case.

A circle (P, R) touches (Cᵢ, rᵢ) where |P − Cᵢ| = |R ± rᵢ|. For one choice of signs the differences of the squares are
two planes in (x, y, R); their line cuts the cone of the first in at most two points. Two that coincide to within
rounding are one.
"""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array, distance

_SIGNS = ((1, 1, 1), (1, 1, -1), (1, -1, 1), (1, -1, -1))
ALIKE = 1e-6
"""Circles that differ by less than this part of their sizes are one: what tells them apart is the rounding of a double
root."""
PARALLEL = 1e-10
"""Two planes whose normals have a sine below this are parallel: no circle touches so, or a whole family does."""
_Wide = np.longdouble


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
    middle = centres.mean(axis=0)
    found: list[tuple[Array, float, Array]] = []
    for signs in np.array(_SIGNS, dtype=float):
        for x, y, r in _touching((centres - middle) / span, signs * radii / span):
            contacts = signs if r >= 0 else -signs
            kept = _polished((centres - middle) / span, contacts * radii / span, np.array([x, y]), abs(r))
            if kept is None:
                continue
            centre, radius = kept[0] * span + middle, kept[1] * span
            if not ALIKE * span < radius < largest:
                continue
            known = [(c, q) for c, q, _ in found] + list(zip(centres, radii))
            if all(not _alike(centre, radius, c, float(q), span) for c, q in known):
                found.append((centre, radius, contacts))
    found.sort(key=lambda one: one[1])
    if not found:
        return np.zeros((0, 2)), np.zeros(0), np.zeros((0, 3))
    return np.array([c for c, _, _ in found]), np.array([r for _, r, _ in found]), np.array([s for _, _, s in found])


def _alike(c: Array, r: float, d: Array, q: float, span: float) -> bool:
    """Whether two circles are one, to within what a double root leaves of the digits."""
    return float(distance(c, d)) + abs(r - q) < ALIKE * (span + r)


def _touching(centres: Array, offsets: Array) -> list[tuple[float, float, float]]:
    """Solutions (x, y, R) of |P − Cᵢ| = |R + offsetᵢ|, R of either sign; in long doubles, as the differences lose
    digits."""
    c, o = centres.astype(_Wide), offsets.astype(_Wide)
    rows = np.column_stack([2 * (c[1:] - c[0]), 2 * (o[1:] - o[0])])
    right = (c[1:] ** 2).sum(axis=1) - (c[0] ** 2).sum() - o[1:] ** 2 + o[0] ** 2
    sizes = np.sqrt((rows**2).sum(axis=1))
    if sizes.min() < PARALLEL:
        return []
    along = np.cross(rows[0], rows[1])
    bent = np.sqrt((along**2).sum())
    if bent < PARALLEL * sizes[0] * sizes[1]:
        return []
    # the point of both planes that lies nearest to the origin (Cramer's rule on the normals and their product)
    base = (right[0] * np.cross(rows[1], along) + right[1] * np.cross(along, rows[0])) / bent**2
    along = along / bent
    start = base - np.array([*c[0], -o[0]])
    metric = np.array([1, 1, -1], dtype=_Wide)
    a, b, k = (along * along * metric).sum(), (along * start * metric).sum(), (start * start * metric).sum()
    if abs(a) < 1e-13:
        times = [-k / (2 * b)] if abs(b) > 1e-13 else []
    else:
        inside = b * b - a * k
        room = 1e-14 * (b * b + abs(a * k) + abs(a))
        if inside < -room:
            return []
        if inside < room:
            times = [-b / a]
        else:
            q = -(b + np.copysign(np.sqrt(inside), b))
            times = [q / a, k / q]
    return [tuple(float(v) for v in base + t * along) for t in times]  # type: ignore[misc]


def _polished(centres: Array, offsets: Array, centre: Array, radius: float) -> tuple[Array, float] | None:
    """A few Newton steps on |P − Cᵢ| = |R + offsetᵢ|; None where they lead nowhere. A step that is no better is not
    taken."""
    state = np.array([*centre, radius])

    def misses(state: Array) -> Array:
        return np.asarray(distance(centres, state[:2]) - np.abs(state[2] + offsets))

    for _ in range(4):
        away, miss = distance(centres, state[:2]), misses(state)
        if (away < 1e-12).any() or np.abs(miss).max() < 1e-16:
            break
        slope = np.column_stack([(state[:2] - centres) / away[:, None], -np.where(state[2] + offsets >= 0, 1.0, -1.0)])
        moved = state - np.linalg.lstsq(slope, miss, rcond=1e-9)[0]
        if not np.isfinite(moved).all() or np.abs(misses(moved)).max() >= np.abs(miss).max():
            break
        state = moved
    if state[2] <= 0 or np.abs(misses(state)).max() > 1e-12 * (1 + abs(state[2])):
        return None
    return state[:2], float(state[2])
