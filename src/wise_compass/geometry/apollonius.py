"""The circles that touch three given circles (the problem of Apollonius), in every degenerate case."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array, distance

_SIGNS = ((1, 1, 1), (1, 1, -1), (1, -1, 1), (1, -1, -1))


def tangent_circles(centres: Array, radii: Array, largest: float = 1e6) -> tuple[Array, Array, Array]:
    """All circles that touch three circles (radius 0: pass through the point).

    ``centres`` has shape (3, 2), ``radii`` (3,). Returns centres (n, 2), radii (n,) and contacts (n, 3), n at most 8: a contact is
    +1 where the two lie outside each other, −1 where one holds the other. Straight lines, circles of radius 0 and
    circles over ``largest`` are left out, and so is a whole family of them (three circles touching in one point, or two
    that are the same).
    """
    scale = float(np.abs(np.concatenate([centres.ravel(), radii])).max()) or 1.0
    found: list[tuple[Array, float, Array]] = []
    for signs in _SIGNS:
        for x, y, r in _touching(centres / scale, np.array(signs) * radii / scale):
            flip = 1.0 if r >= 0 else -1.0
            kept = _polished(centres, np.array(signs) * flip * radii, np.array([x, y]) * scale, abs(r) * scale)
            if kept is None:
                continue
            centre, radius = kept
            if not 1e-6 * scale < radius < largest:
                continue
            if all(float(distance(centre, c)) + abs(radius - q) > 1e-7 * (scale + radius) for c, q, _ in found):
                found.append((centre, radius, np.array(signs) * flip))
    found.sort(key=lambda one: one[1])
    if not found:
        return np.zeros((0, 2)), np.zeros(0), np.zeros((0, 3))
    return np.array([c for c, _, _ in found]), np.array([r for _, r, _ in found]), np.array([s for _, _, s in found])


def _touching(centres: Array, offsets: Array) -> list[tuple[float, float, float]]:
    """Solutions (x, y, R) of |P − Cᵢ| = |R + offsetᵢ|, R of either sign, by cutting the line of the two differences."""
    (x1, y1), o1 = centres[0], offsets[0]
    rows = np.column_stack([2 * (centres[1:] - centres[0]), 2 * (offsets[1:] - offsets[0])])
    right = (centres[1:] ** 2).sum(axis=1) - (centres[0] ** 2).sum() - offsets[1:] ** 2 + o1**2
    _, singular, turned = np.linalg.svd(rows)
    if singular[1] < 1e-9:
        return []
    base, along = np.linalg.lstsq(rows, right, rcond=None)[0], turned[2]
    start = base - np.array([x1, y1, -o1])
    metric = np.array([1.0, 1.0, -1.0])
    a, b, c = (along * along * metric).sum(), 2 * (along * start * metric).sum(), (start * start * metric).sum()
    if abs(a) < 1e-12:
        times = [-c / b] if abs(b) > 1e-12 else []
    else:
        inside = b * b - 4 * a * c
        if inside < -1e-11:
            return []
        root = np.sqrt(max(inside, 0.0))
        q = -(b + np.copysign(root, b)) / 2
        times = [q / a, c / q] if q != 0 else [0.0]
    return [tuple(float(v) for v in base + t * along) for t in times]  # type: ignore[misc]


def _polished(centres: Array, offsets: Array, centre: Array, radius: float) -> tuple[Array, float] | None:
    """A few Newton steps on |P − Cᵢ| = |R + offsetᵢ|; None where they lead nowhere."""
    state = np.array([*centre, radius])
    for _ in range(4):
        away = distance(centres, state[:2])
        if (away < 1e-12).any():
            break
        reach = state[2] + offsets
        miss = away - np.abs(reach)
        if np.abs(miss).max() < 1e-13 * (1 + np.abs(state).max()):
            break
        slope = np.column_stack([(state[:2] - centres) / away[:, None], -np.where(reach >= 0, 1.0, -1.0)])
        state = state - np.linalg.lstsq(slope, miss, rcond=1e-9)[0]
    miss = np.abs(distance(centres, state[:2]) - np.abs(state[2] + offsets)).max()
    if not np.isfinite(state).all() or state[2] <= 0 or miss > 4e-10:
        return None
    return state[:2], float(state[2])
