"""A fair curve through given points alone: what a hand draws with a flexible curve."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from wise_compass.geometry.vectors import Array, distance

_FINE, _STEP = 8, 0.01
"""Places that are looked at between two points, and the degrees over which a curve's heading is taken there."""
_OVERLAP = 16
"""Points repeated beyond the join of a closed curve: the influence of an end falls by 0.27 a point, 1e-9 in all."""


def fair_tangents(points: Array) -> Array:
    """Derivatives at the points (n, 2) of the cubic spline over chord length, n at least 2.

    Its end segments are parabolas: a hand lets the curve run out as it bends, and does not straighten it. The system is
    tridiagonal (de Boor); returned per unit of chord length, shape (n, 2).

    >>> fair_tangents(np.array([[0.0, 0.0], [3.0, 4.0], [6.0, 8.0]])).round(9).tolist()
    [[0.6, 0.8], [0.6, 0.8], [0.6, 0.8]]
    """
    n = len(points)
    h = np.maximum(distance(points[:-1], points[1:]), 1e-12)
    slope = (points[1:] - points[:-1]) / h[:, None]
    if n == 2:
        return np.repeat(slope, 2, axis=0)
    low, diagonal, high = np.zeros(n), np.zeros(n), np.zeros(n)
    right = np.zeros((n, 2))
    diagonal[0] = diagonal[-1] = 1.0
    high[0] = low[-1] = 1.0
    right[0], right[-1] = 2 * slope[0], 2 * slope[-1]
    low[1:-1], high[1:-1] = h[1:], h[:-1]
    diagonal[1:-1] = 2 * (h[1:] + h[:-1])
    right[1:-1] = 3 * (h[1:, None] * slope[:-1] + h[:-1, None] * slope[1:])
    a, b, c = low.tolist(), diagonal.tolist(), high.tolist()
    rows = right.tolist()
    for k in range(1, n):
        f = a[k] / b[k - 1]
        b[k] -= f * c[k - 1]
        rows[k][0] -= f * rows[k - 1][0]
        rows[k][1] -= f * rows[k - 1][1]
    rows[-1] = [rows[-1][0] / b[-1], rows[-1][1] / b[-1]]
    for k in range(n - 2, -1, -1):
        rows[k] = [(rows[k][i] - c[k] * rows[k + 1][i]) / b[k] for i in (0, 1)]
    return np.array(rows)


def fair_curve(points: Array, closed: bool = False) -> Array:
    """The fair curve through ``points`` (n, 2) as cubic Bézier segments, shape (segments, 4, 2).

    A closed curve is as smooth at its join as anywhere else.

    >>> fair_curve(np.array([[0.0, 0.0], [3.0, 3.0], [6.0, 0.0]])).shape
    (2, 4, 2)
    """
    n = len(points)
    if not closed:
        tangents = fair_tangents(points)
        ring = points
    else:
        lap = min(_OVERLAP, n)
        wrapped = np.concatenate([points[-lap:], points, points[:lap]])
        tangents = fair_tangents(wrapped)[lap : lap + n]
        ring = np.concatenate([points, points[:1]])
        tangents = np.concatenate([tangents, tangents[:1]])
    h = distance(ring[:-1], ring[1:])[:, None]
    third = h / 3
    return np.stack([ring[:-1], ring[:-1] + third * tangents[:-1], ring[1:] - third * tangents[1:], ring[1:]], axis=1)


def cut_curve(segments: Array, start: float, end: float) -> Array:
    """The piece of Bézier segments (n, 4, 2) from the place ``start`` to ``end``, places counted in segments (de
    Casteljau).

    >>> cut_curve(np.array([[[0.0, 0], [1, 0], [2, 0], [3, 0]]]), 0.5, 1.0)[0, :, 0]
    array([1.5, 2. , 2.5, 3. ])
    """
    count = len(segments)
    first = min(max(int(np.floor(start)), 0), count - 1)
    last = min(max(int(np.ceil(end)) - 1, first), count - 1)
    piece = segments[first : last + 1].copy()
    if end - last < 1.0:
        piece[-1] = _split(piece[-1], end - last)[0]
    if start > first:
        share = (start - first) / (end - last) if first == last and end - last < 1.0 else start - first
        piece[0] = _split(piece[0], min(share, 1.0))[1]
    return np.asarray(piece)


def on_curve(segments: Array, place: float) -> Array:
    """The point at a place of Bézier segments (n, 4, 2), counted in segments; beyond the ends, the ends.

    >>> on_curve(np.array([[[0.0, 0], [1, 0], [2, 0], [3, 0]]]), 0.25).tolist()
    [0.75, 0.0]
    """
    k = min(max(int(place), 0), len(segments) - 1)
    t = min(max(place - k, 0.0), 1.0)
    s = 1 - t
    return np.asarray(np.array([s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]) @ segments[k])


def _split(segment: Array, t: float) -> tuple[Array, Array]:
    """Both parts of a Bézier segment (4, 2) cut at ``t``."""
    a, b, c, d = segment
    ab, bc, cd = a + t * (b - a), b + t * (c - b), c + t * (d - c)
    abc, bcd = ab + t * (bc - ab), bc + t * (cd - bc)
    middle = abc + t * (bcd - abc)
    return np.array([a, ab, abc, middle]), np.array([middle, bcd, cd, d])


def along_curve(segments: Array, per_segment: int = 8) -> Array:
    """Points along Bézier segments, shape (segments · per_segment + 1, 2).

    >>> along_curve(fair_curve(np.array([[0.0, 0.0], [4.0, 0.0]])), 4).round(9).tolist()
    [[0.0, 0.0], [1.0, 0.0], [2.0, 0.0], [3.0, 0.0], [4.0, 0.0]]
    """
    t = np.linspace(0.0, 1.0, per_segment, endpoint=False)[None, :, None]
    a, b, c, d = (segments[:, k, None, :] for k in range(4))
    s = 1 - t
    inner = (s**3 * a + 3 * s * s * t * b + 3 * s * t * t * c + t**3 * d).reshape(-1, 2)
    return np.concatenate([inner, segments[-1:, 3]])


def off_true(true: Callable[[Array], Array], count: int, closed: bool = True) -> float:
    """How far the fair curve through ``count`` places of a closed curve, or over as many parts of an open one, strays
    from it at most, square to it.

    ``true`` takes degrees round, (n,), to places, (n, 2); the places are even in them, an open one's from 0 to 360.

    >>> from wise_compass.geometry.vectors import direction
    >>> 0.004 < off_true(lambda t: 30.0 * direction(t), 12) < 0.01, off_true(lambda t: direction(t), 48) < 1e-6
    (True, True)
    """
    points = true(np.linspace(0.0, 360.0, count + 1)[: count + (not closed)])
    drawn = along_curve(fair_curve(points, closed=closed), _FINE)
    t = np.linspace(0.0, 360.0, count * _FINE + 1)
    way = true(t + _STEP) - true(t - _STEP)
    off = drawn - true(t)
    size = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-300)
    return float(np.abs((off[:, 0] * way[:, 1] - off[:, 1] * way[:, 0]) / size).max())


def enough_places(true: Callable[[Array], Array], counts: Sequence[int], hold: float) -> int:
    """The first of ``counts`` with which a fair curve holds a closed one within ``hold`` mm; the last if none does.

    >>> from wise_compass.geometry.vectors import direction
    >>> enough_places(lambda t: 30.0 * direction(t), (8, 12, 24), 0.01)
    12
    """
    return next((count for count in counts if off_true(true, count) <= hold), counts[-1])
