"""What stands before what: pieces of straight edges that a flat triangle hides, seen along a direction of space.

Points are (3,), triangles (3, 3) by their corners; ``sight`` is the unit vector towards the eye.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from wise_compass.geometry.planes import FLAT, cross3
from wise_compass.geometry.vectors import Array, dot, length, unit

Span = tuple[float, float]
"""From and to, as shares of an edge."""


def across(sight: Array) -> Array:
    """Two unit vectors square to ``sight`` and to each other, (2, 3).

    >>> across(np.array([0.0, 1.0, 0.0])).tolist()
    [[1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]
    """
    least = np.eye(3)[int(np.argmin(np.abs(sight)))]
    first = unit(least - float(dot(least, sight)) * sight)
    return np.stack([first, cross3(first, sight)])


def crossings_with(a: Array, b: Array, outline: Array, same: float) -> list[float]:
    """Where the segment ab of the plane, (2,) each, crosses or ends at the sides of a closed outline (n, 2), as shares
    of ab.

    >>> crossings_with(np.array([-1.0, 1.0]), np.array([3.0, 1.0]), np.array([[0.0, 0], [2, 0], [2, 2], [0, 2]]), 1e-9)
    [0.25, 0.75]
    """
    (ax, ay), (bx, by), corners = a.tolist(), b.tolist(), outline.tolist()
    wx, wy = bx - ax, by - ay
    way = math.hypot(wx, wy)
    found = set()
    for (px, py), (qx, qy) in zip(corners, [*corners[1:], corners[0]]):
        sx, sy, ox, oy = qx - px, qy - py, px - ax, py - ay
        side, sine = math.hypot(sx, sy), wx * sy - wy * sx
        if abs(sine) <= FLAT * way * side:
            continue
        t, s = (ox * sy - oy * sx) / sine, (ox * wy - oy * wx) / sine
        beside, beyond = same / max(side, same), same / max(way, same)
        if -beside <= s <= 1 + beside and -beyond <= t <= 1 + beyond:
            found.add(min(max(t, 0.0), 1.0))
    return sorted(found)


def inside(at: Array, outline: Array, same: float) -> bool:
    """Whether a point of the plane lies within a convex outline, more than ``same`` from every side; never in one of no
    area.

    >>> inside(np.array([1.0, 1.0]), np.array([[0.0, 0], [2, 0], [2, 2], [0, 2]]), 1e-9)
    True
    """
    (x, y), corners = at.tolist(), outline.tolist()
    turns = []
    for (px, py), (qx, qy) in zip(corners, [*corners[1:], corners[0]]):
        sx, sy = qx - px, qy - py
        turns.append((sx * (y - py) - sy * (x - px)) / max(math.hypot(sx, sy), 1e-300))
    return bool(min(turns) > same or max(turns) < -same)


class Screen:
    """A triangle seen from somewhere: what it hides. One seen on edge hides nothing. ``same`` is the distance under
    which places are one.
    """

    def __init__(self, triangle: Array, sight: Array, same: float) -> None:
        self.frame, self.same, self.corner = across(sight), same, triangle[0]
        self.outline = triangle @ self.frame.T
        self.normal = cross3(triangle[1] - triangle[0], triangle[2] - triangle[0])
        self.lean = float(dot(self.normal, sight))
        self.on_edge = abs(self.lean) <= 1e-9 * float(length(self.normal))

    def hides(self, a: Array, b: Array) -> list[Span]:
        """The pieces of the edge ab that are hidden, as shares of it in order; what lies in the triangle is not."""
        if self.on_edge:
            return []
        p, q = self.frame @ a, self.frame @ b
        places = [
            0.0,
            1.0,
            *(crossings_with(p, q, self.outline, self.same) if float(length(q - p)) > self.same else []),
        ]
        far = float(self.normal @ (a - self.corner)), float(self.normal @ (b - self.corner))
        if far[0] * far[1] < 0:
            places.append(far[0] / (far[0] - far[1]))
        places.sort()
        span = max(float(length(b - a)), self.same)
        pieces: list[Span] = []
        for s, t in zip(places[:-1], places[1:]):
            if (t - s) * span <= 2 * self.same:
                continue
            share = (s + t) / 2
            before = -(far[0] + (far[1] - far[0]) * share) / self.lean
            if before > self.same and inside(p + (q - p) * share, self.outline, self.same):
                if pieces and pieces[-1][1] >= s - self.same / span:
                    pieces[-1] = pieces[-1][0], t
                else:
                    pieces.append((s, t))
        return pieces


def hidden_pieces(a: Array, b: Array, triangle: Array, sight: Array, same: float) -> list[Span]:
    """The pieces of the edge ab that a triangle hides from the eye, as shares of it in order; what lies in it is not
    hidden.

    >>> wall = np.array([[0.0, 5, 0], [4, 5, 0], [2, 5, 4]])
    >>> hidden_pieces(np.array([-2.0, 0, 0.5]), np.array([6.0, 0, 0.5]), wall, np.array([0.0, 1.0, 0.0]), 1e-9)
    [(0.28125, 0.71875)]
    """
    return Screen(triangle, sight, same).hides(a, b)


def within_triangle(p: Array, u: Array, triangle: Array) -> tuple[float, float] | None:
    """From where to where the line through ``p`` along the unit vector ``u``, which lies in the triangle's plane, runs
    inside it.

    Lengths along ``u`` from ``p``; None where it passes by. A line through one corner alone gives that place twice.

    >>> within_triangle(np.array([0.0, 1, 0]), np.array([1.0, 0, 0]), np.array([[0.0, 0, 0], [4, 0, 0], [0, 2, 0]]))
    (0.0, 2.0)
    """
    normal = unit(cross3(triangle[1] - triangle[0], triangle[2] - triangle[0]))
    side = cross3(normal, u)
    off, along = np.asarray(dot(triangle - p, side)), np.asarray(dot(triangle - p, u))
    near = 1e-9 * float(np.abs(off).max() + np.abs(along).max() + 1.0)
    found = [float(along[k]) for k in range(3) if abs(off[k]) <= near]
    for i, j in ((0, 1), (1, 2), (2, 0)):
        if min(abs(off[i]), abs(off[j])) > near and off[i] * off[j] < 0:
            share = off[i] / (off[i] - off[j])
            found.append(float(along[i] + (along[j] - along[i]) * share))
    return (min(found), max(found)) if found else None


def uncovered(line: Array, over: Sequence[Array], near: float) -> list[tuple[float, float]]:
    """The stretches of a straight line (2, 2), as shares of it, that lie on none of others (n of (2, 2)).

    >>> line = np.array([[0.0, 0.0], [10.0, 0.0]])
    >>> uncovered(line, [np.array([[2.0, 0.0], [5.0, 0.0]]), np.array([[0.0, 1.0], [10.0, 1.0]])], 1e-9)
    [(0.0, 0.2), (0.5, 1.0)]
    """
    way = line[1] - line[0]
    size = float(np.hypot(*way))
    left = [(0.0, 1.0)]
    if size <= near or not over:
        return left
    off = np.array(over) - line[0]
    beside = np.abs(off[..., 0] * way[1] - off[..., 1] * way[0]).max(axis=1) / size
    for low, high in np.sort((off[beside <= near] @ way) / size**2, axis=1).tolist():
        parts = [part for a, b in left for part in ((a, min(b, low)), (max(a, high), b))]
        left = [(a, b) for a, b in parts if (b - a) * size > near]
    return left
