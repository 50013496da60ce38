"""Where lines and circles meet.

A line is a point ``p`` and a direction ``u`` of any length; a circle a centre ``c`` and a radius ``r``. Where nothing
meets, the answer is NaN in that lane alone, so that one hand of a thousand that misses does not stop the rest.
Touching within :data:`TOUCH` of the radius counts as one meet, given twice.
"""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array, Number, along, cross, distance, dot, left_of, length, unit

TOUCH = 1e-12
"""Two curves that miss by less than this part of the larger radius, squared, are taken to touch."""
ROUNDING = 2e-15
"""Below this part of the radius squared the square of a half chord is rounding alone: they touch too."""
ENDS = np.array([[-1.0], [1.0]])


def meet_lines(p: Array, u: Array, q: Array, v: Array) -> Array:
    """The common point of two lines; NaN where they are parallel (or one has no direction).

    >>> meet_lines(np.array([0., 0]), np.array([1., 1]), np.array([4., 0]), np.array([0., 1]))
    array([4., 4.])
    """
    turn = np.asarray(cross(u, v))
    flat = np.abs(turn) <= TOUCH * length(u) * length(v)
    if flat.any():
        turn = np.where(flat, np.nan, turn)
    return along(p, u, cross(q - p, v) / turn)


def foot(p: Array, q: Array, v: Array) -> Array:
    """The foot of the perpendicular from ``p`` on the line through ``q`` along ``v``; NaN for no direction."""
    with np.errstate(invalid="ignore", divide="ignore"):
        return along(q, v, dot(p - q, v) / np.asarray(dot(v, v)))


def distance_to_line(p: Array, q: Array, v: Array) -> Number:
    """Signed distance of ``p`` from the line through ``q`` along ``v``: positive to the left of ``v``."""
    return cross(unit(v), p - q)


def _half_chord(radius: Number, off: Number) -> Number:
    """Half the chord that a line ``off`` from the centre cuts; 0 when touching, NaN when missing."""
    square = np.asarray((radius - off) * (radius + off))
    whole = np.asarray(radius) ** 2
    small = square < ROUNDING * whole
    if small.any():
        square = np.where(small & (square > -TOUCH * whole), 0.0, square)
    with np.errstate(invalid="ignore"):
        return np.sqrt(square)


def meet_line_circle(p: Array, u: Array, c: Array, r: Number) -> Array:
    """The two meets of a line with a circle, shape (..., 2, 2): first the one further back along ``u``.

    NaN where the line misses the circle; the same point twice where it touches.
    """
    w = unit(u)
    gap = c - p
    base = along(p, w, dot(gap, w))
    half = np.asarray(_half_chord(r, np.abs(cross(w, gap))))[..., None, None] * ENDS
    return np.asarray(base[..., None, :] + half * w[..., None, :])


def meet_circles(c1: Array, r1: Number, c2: Array, r2: Number) -> Array:
    """The two meets of two circles, shape (..., 2, 2): first the one to the left of the line from ``c1`` to ``c2``.

    NaN where they are apart, one inside the other, or have the same centre; the same point twice where they touch.
    """
    gap = np.asarray(distance(c1, c2))
    if (gap == 0).any():
        gap = np.where(gap == 0, np.nan, gap)
    w = (c2 - c1) / gap[..., None]
    # taken from the centre of the smaller circle, the crossing keeps its digits beside a much larger one
    small, large = np.minimum(r1, r2), np.maximum(r1, r2)
    reach = 0.5 * ((gap - large) * (gap + large) + small * small) / gap
    half = _half_chord(small, np.abs(reach))
    first = np.asarray(r1 <= r2)[..., None]
    base = np.where(first, along(c1, w, reach), along(c2, w, -reach))
    return np.asarray(base[..., None, :] - np.asarray(half)[..., None, None] * ENDS * left_of(w)[..., None, :])
