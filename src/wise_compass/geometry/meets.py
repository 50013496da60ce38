"""Where lines and circles meet.

A line is a point ``p`` and a direction ``u`` of any length; a circle a centre ``c`` and a radius ``r``. Where nothing
meets, the answer is NaN in that lane alone, so that one hand of a thousand that misses does not stop the rest.
Touching within :data:`TOUCH` of the radius counts as one meet, given twice.

A point is an array whose last axis holds its coordinates. Leading axes broadcast. An exact run has none; a run of N
unsteady hands has one axis of N + 1 lanes, lane 0 being the steady hand, so that the nominal setting of every step is
at hand. ``meets`` answers NaN where nothing meets: one hand that misses does not stop the rest. In an exact run
``Draft.meet`` turns that NaN into a refusal that names the step. Single points take a path of their own through
``meets``, since arrays of one are slow.
"""

from __future__ import annotations

import math

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
    if p.ndim == u.ndim == q.ndim == v.ndim == 1:
        return _meet_two_lines(*p.tolist(), *u.tolist(), *q.tolist(), *v.tolist())
    turn = np.asarray(cross(u, v))
    flat = np.abs(turn) <= TOUCH * length(u) * length(v)
    if flat.any():
        turn = np.where(flat, np.nan, turn)
    return along(p, u, cross(q - p, v) / turn)


def _meet_two_lines(px: float, py: float, ux: float, uy: float, qx: float, qy: float, vx: float, vy: float) -> Array:
    """:func:`meet_lines` of one pair: an exact run asks this hundreds of times, and arrays of one are slow."""
    turn = ux * vy - uy * vx
    if abs(turn) <= TOUCH * math.hypot(ux, uy) * math.hypot(vx, vy):
        return np.full(2, np.nan)
    t = ((qx - px) * vy - (qy - py) * vx) / turn
    return np.array((px + t * ux, py + t * uy))


def foot(p: Array, q: Array, v: Array) -> Array:
    """The foot of the perpendicular from ``p`` on the line through ``q`` along ``v``; NaN for no direction.

    >>> foot(np.array([3., 4]), np.array([0., 0]), np.array([1., 0]))
    array([3., 0.])
    """
    if p.ndim == q.ndim == v.ndim == 1 and p.size == 2:
        (px, py), (qx, qy), (vx, vy) = p.tolist(), q.tolist(), v.tolist()
        square = vx * vx + vy * vy
        t = ((px - qx) * vx + (py - qy) * vy) / square if square else math.nan
        return np.array((qx + t * vx, qy + t * vy))
    with np.errstate(invalid="ignore", divide="ignore"):
        return along(q, v, dot(p - q, v) / np.asarray(dot(v, v)))


def distance_to_line(p: Array, q: Array, v: Array) -> Array:
    """Signed distance of ``p`` from the line through ``q`` along ``v``: positive to the left of ``v``.

    >>> from wise_compass.geometry.vectors import point
    >>> float(distance_to_line(point(0, 3), point(-5, 0), point(2, 0)))
    3.0
    """
    return cross(unit(v), p - q)


def _half_chord(radius: Number, off: Number) -> Number:
    """Half the chord that a line ``off`` from the centre cuts; 0 when touching, NaN when missing."""
    square = np.asarray((radius - off) * (radius + off))
    whole = np.asarray(radius) ** 2
    small = square < ROUNDING * whole
    if small.any():
        square = np.where(small & (square > -TOUCH * whole), 0.0, square)
    with np.errstate(invalid="ignore"):
        root: Number = np.sqrt(square)
        return root


def meet_line_circle(p: Array, u: Array, c: Array, r: Number) -> Array:
    """The two meets of a line with a circle, shape (..., 2, 2): first the one further back along ``u``.

    NaN where the line misses the circle; the same point twice where it touches.

    >>> meet_line_circle(np.array([-9., 0]), np.array([1., 0]), np.array([0., 0]), 5.0)
    array([[-5.,  0.],
           [ 5.,  0.]])
    """
    if p.ndim == u.ndim == c.ndim == 1 and np.ndim(r) == 0:
        return _meet_one_circle(p.tolist(), u.tolist(), c.tolist(), float(r))
    w = unit(u)
    gap = c - p
    base = along(p, w, dot(gap, w))
    half = np.asarray(_half_chord(r, np.abs(cross(w, gap))))[..., None, None] * ENDS
    return np.asarray(base[..., None, :] + half * w[..., None, :])


def _half_of_one(radius: float, off: float) -> float:
    """:func:`_half_chord` of one circle."""
    square, whole = (radius - off) * (radius + off), radius * radius
    if square < ROUNDING * whole:
        return 0.0 if square > -TOUCH * whole else math.nan
    return math.sqrt(square)


def _meet_one_circle(p: list[float], u: list[float], c: list[float], r: float) -> Array:
    (px, py), (ux, uy), (cx, cy) = p, u, c
    size = math.hypot(ux, uy)
    wx, wy = (ux / size, uy / size) if size else (math.nan, math.nan)
    gx, gy = cx - px, cy - py
    t, half = gx * wx + gy * wy, _half_of_one(r, abs(wx * gy - wy * gx))
    bx, by = px + t * wx, py + t * wy
    return np.array(((bx - half * wx, by - half * wy), (bx + half * wx, by + half * wy)))


def meet_circles(c1: Array, r1: Number, c2: Array, r2: Number) -> Array:
    """The two meets of two circles, shape (..., 2, 2): first the one to the left of the line from ``c1`` to ``c2``.

    NaN where they are apart, one inside the other, or have the same centre; the same point twice where they touch.

    >>> meet_circles(np.array([0., 0]), 5.0, np.array([6., 0]), 5.0)
    array([[ 3.,  4.],
           [ 3., -4.]])
    """
    if c1.ndim == c2.ndim == 1 and np.ndim(r1) == np.ndim(r2) == 0:
        return _meet_two_circles(c1.tolist(), float(r1), c2.tolist(), float(r2))
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


def _meet_two_circles(a: list[float], r1: float, b: list[float], r2: float) -> Array:
    """:func:`meet_circles` of one pair."""
    (ax, ay), (bx, by) = a, b
    gap = math.hypot(bx - ax, by - ay)
    if gap == 0:
        return np.full((2, 2), np.nan)
    wx, wy = (bx - ax) / gap, (by - ay) / gap
    small, large = min(r1, r2), max(r1, r2)
    reach = 0.5 * ((gap - large) * (gap + large) + small * small) / gap
    half = _half_of_one(small, abs(reach))
    x, y = (ax + reach * wx, ay + reach * wy) if r1 <= r2 else (bx - reach * wx, by - reach * wy)
    return np.array(((x - half * wy, y + half * wx), (x + half * wy, y - half * wx)))
