"""Places of a plane curve: points nearest to others, meets with lines, where it turns, and circles that touch it
clear."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.geometry.curves import Curve
from wise_compass.geometry.vectors import Array, Number, cross, distance, dot, left_of, length

_SAMPLES = 24
"""Samples between neighbouring guesses when the nearest point of a curve is looked for."""


def clear_radius(curve: Curve, t: float, side: int) -> tuple[float, float]:
    """The largest circle that touches at ``t`` on the ``side`` (+1 left of the derivative) and crosses the curve
    nowhere.

    With the parameter of the place that bounds it; ``t`` itself where that is the curvature there. A circle through the
    place p that touches at q has the radius |p − q|² / (2 n·(p − q)), n the normal; infinite where no place bounds it.

    >>> from wise_compass.geometry.curves import ellipse_curve
    >>> from wise_compass.geometry.vectors import point
    >>> [round(x, 6) for x in clear_radius(ellipse_curve(point(5, 0), point(0, 3)), 0.0, 1)]
    [1.8, 0.0]
    """
    q, derivative = curve.at(t), curve.derivative(t)
    normal = side * left_of(derivative / length(derivative))

    def through(s: Array) -> Array:
        off = curve.at(s) - q
        ahead = np.asarray(dot(off, normal))
        return np.where(ahead > 1e-12, np.asarray(dot(off, off)) / np.maximum(2 * ahead, 1e-300), np.inf)

    span = curve.last - curve.first
    hollow = curve.concave_side(t) == side
    bound, place = (float(curve.curvature_radius(t)), t) if hollow else (np.inf, t)
    low, high = curve.first, curve.last
    for _ in range(3):
        tried = np.linspace(low, high, 1441)
        gap = np.abs(tried - t)
        gap = np.minimum(gap, span - gap) if curve.closed else gap
        radii = np.where(gap > 1e-3 * span, through(tried), np.inf)
        k = int(np.argmin(radii))
        if radii[k] < bound * (1 - 1e-6):
            bound, place = float(radii[k]), float(tried[k])
        reach = (high - low) / 1440
        low, high = max(tried[k] - reach, curve.first), min(tried[k] + reach, curve.last)
    return bound, place


def nearest(curve: Curve, points: Array, low: Array, high: Array, samples: int = _SAMPLES) -> tuple[Array, Array]:
    """The parameters of the curve's points nearest to ``points`` (n, 2) between ``low`` and ``high`` (n,), and how far.

    Looked for among so many samples, fewer of which serve where the curve hardly bends between the bounds, then settled
    by Newton's method on (C − p)·C′ = 0.

    >>> from wise_compass.geometry.curves import ellipse_curve
    >>> from wise_compass.geometry.vectors import point
    >>> oval, right = ellipse_curve(point(5, 0), point(0, 3)), np.array([90.0])
    >>> nearest(oval, point(9, 0)[None], -right, right)[0].round(6).tolist()
    [0.0]
    """
    share = np.linspace(0.0, 1.0, samples + 1)
    tried = low[:, None] + (high - low)[:, None] * share
    gaps = distance(curve.at(tried), points[:, None, :])
    best = np.argmin(gaps, axis=1)
    rows = np.arange(len(points))
    t, least = tried[rows, best], np.asarray(gaps)[rows, best]
    room = (high - low) / samples
    settled = t.copy()
    for _ in range(4):
        off, derivative = curve.at(settled) - points, curve.derivative(settled)
        slope = dot(derivative, derivative) + dot(off, curve.second_derivative(settled))
        with np.errstate(divide="ignore", invalid="ignore"):
            move = np.where(slope > 0, dot(off, derivative) / slope, 0.0) / curve.per
        settled = np.clip(settled - np.clip(np.nan_to_num(move), -room, room), low, high)
    found = distance(curve.at(settled), points)
    better = np.asarray(found) < least
    return np.where(better, settled, t), np.where(better, found, least)


def crossings(curve: Curve, p: Array, u: Array, touches: Array | None = None) -> list[float]:
    """Parameters at which the curve meets the straight line through ``p`` along ``u``, in order.

    A line that touches the curve without crossing it counts where it comes within 1e-9 mm. ``touches`` are the places
    where the curve runs along ``u`` (:func:`turning_points` of what is square to ``u``), if they are known already.

    >>> from wise_compass.geometry.curves import ellipse_curve
    >>> from wise_compass.geometry.vectors import point
    >>> [round(t, 6) for t in crossings(ellipse_curve(point(5, 0), point(0, 3)), point(0, 0), point(0, 1))]
    [90.0, 270.0]
    """

    def off(t: Number) -> Array:
        return np.asarray(cross(u, curve.at(t) - p))

    turns = turning_points(curve, left_of(u)) if touches is None else touches
    # between neighbours of these the curve goes one way across the line: it meets it once or not at all
    ends = np.unique(np.concatenate([[curve.first], turns, [curve.last]]))
    gaps = off(ends)
    gaps[np.abs(gaps) < 1e-9] = 0.0
    apart = np.flatnonzero(gaps[:-1] * gaps[1:] < 0)
    found = np.concatenate([ends[gaps == 0.0], _bisected(off, ends[apart], ends[apart + 1])])
    if curve.closed:  # where it closes it begins
        found = found[found < curve.last]
    return sorted(float(t) for t in found)


def turning_points(curve: Curve, u: Array, per_turn: int = 720) -> Array:
    """Parameters inside the curve at which it runs square to ``u``: where its distance along ``u`` is greatest or
    least.

    >>> from wise_compass.geometry.curves import ellipse_curve
    >>> from wise_compass.geometry.vectors import point
    >>> turning_points(ellipse_curve(point(5, 0), point(0, 3)), point(0, 1)).round(6).tolist()
    [90.0, 270.0]
    """
    spans = max((curve.last - curve.first) / 360.0 if curve.per != 1.0 else 1.0, 0.25)
    tried = np.linspace(curve.first, curve.last, int(per_turn * spans) + 1)

    def run(t: Number) -> Array:
        return np.asarray(dot(curve.derivative(t), u))

    runs = run(tried)
    changes = np.flatnonzero(runs[:-1] * runs[1:] < 0)
    return np.concatenate([tried[runs == 0.0], _bisected(run, tried[changes], tried[changes + 1])])


def _bisected(off: Callable[[Number], Array], low: Array, high: Array) -> Array:
    """Roots between values of opposite sign, to the last digits, all at once: by inverse quadratic interpolation where
    that is safe, else by halves (Chandrupatla's rule)."""
    if not len(low):
        return low
    x1, x2, f1, f2 = low, high, off(low), off(high)
    share = np.full(len(low), 0.5)
    for _ in range(120):
        x = x1 + share * (x2 - x1)
        f = off(x)
        same = f * f1 > 0
        x3, f3 = np.where(same, x1, x2), np.where(same, f1, f2)
        x2, f2 = np.where(same, x2, x1), np.where(same, f2, f1)
        x1, f1 = x, f
        best = np.where(np.abs(f1) < np.abs(f2), x1, x2)
        wide = np.abs(x2 - x1)
        least = (4e-16 * np.abs(best) + 1e-300) / np.maximum(wide, 1e-300)
        if ((least > 0.5) | (f1 == 0.0) | (f2 == 0.0)).all():
            break
        with np.errstate(divide="ignore", invalid="ignore"):
            xi, phi = (x1 - x2) / (x3 - x2), (f1 - f2) / (f3 - f2)
            curved = f1 / (f2 - f1) * f3 / (f2 - f3) + (x3 - x1) / (x2 - x1) * f1 / (f3 - f1) * f2 / (f3 - f2)
        safe = (phi**2 < xi) & ((1 - phi) ** 2 < 1 - xi) & np.isfinite(curved)
        share = np.clip(np.where(safe, curved, 0.5), np.minimum(least, 0.5), np.maximum(1 - least, 0.5))
    return np.asarray(np.where(f2 == 0.0, x2, best))
