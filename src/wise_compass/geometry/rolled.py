"""A round skin rolled up by strips: as many flat sides as it has divisions, each as wide as the chord of its part.

What was drawn as wide as the arc is squeezed to its chords (:func:`squeezed_pipe`, :func:`squeezed_cone`), so that
every division comes to lie on the round skin itself; a skin that was drawn too wide or too narrow gapes at the seam.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.unfold import FlatPiece, Placing, resting, turns_between
from wise_compass.geometry.vectors import Array, cosd, cross, dot, sind, turned, unit

BACK = 1e-6
"""Radians by which a place on the first ray may lie before it."""


class Rolled(NamedTuple):
    """A cylinder or cone of ``count`` strips about an axis: its ``end`` ring, (count, 3), and the unit vectors along
    its edges from there, (count, 3)."""

    end: Array
    ways: Array

    def at(self, k: int, far: float) -> Array:
        """A place on edge ``k``, ``far`` from the end."""
        j = k % len(self.end)
        return np.asarray(self.end[j] + far * self.ways[j])

    @property
    def fold(self) -> float:
        """The angle between two strips, in degrees."""
        normals = [np.cross(self.end[k + 1] - self.end[k], self.ways[k] + self.ways[k + 1]) for k in (0, 1)]
        return float(turns_between(normals[0], normals[1]))


def rolled_pipe(outward: Array, middle: Array, along: Array, radius: float) -> Rolled:
    """Of a cylinder: ``outward`` are the unit vectors to its divisions, (n, 3), its elements run along ``along``.

    >>> ring = np.array([[1.0, 0, 0], [0, 1, 0], [-1, 0, 0], [0, -1, 0]])
    >>> round(rolled_pipe(ring, np.zeros(3), np.array([0.0, 0, 1]), 5.0).fold, 9)
    90.0
    """
    return Rolled(middle + radius * outward, np.broadcast_to(along, outward.shape))


def rolled_cone(outward: Array, apex: Array, along: Array, far: float, lean: float) -> Rolled:
    """Of a cone whose elements run from its ``apex`` along ``along`` and out by ``lean`` degrees: from ``far`` on.

    >>> ring = np.array([[1.0, 0, 0], [0, 1, 0], [-1, 0, 0], [0, -1, 0]])
    >>> rolled_cone(ring, np.zeros(3), np.array([0.0, 0, -1]), 2.0, 30.0).end.round(9).tolist()[0]
    [1.0, 0.0, -1.732050808]
    """
    ways = float(sind(lean)) * outward + float(cosd(lean)) * along
    return Rolled(apex + far * ways, ways)


def squeezed_pipe(start: Array, end: Array, count: int) -> Callable[[Array], Array]:
    """Places of a pattern stretched out from ``start`` to ``end``, squeezed to the chords of ``count`` parts.

    >>> to = squeezed_pipe(np.zeros(2), np.array([2 * np.pi, 0.0]), 4)
    >>> to(np.array([np.pi / 2, 3.0])).round(9).tolist()
    [1.414213562, 3.0]
    """
    u = unit(end - start)
    share = float(np.sin(np.pi / count) / (np.pi / count))
    return lambda at: np.asarray(at - ((1 - share) * dot(at - start, u))[..., None] * u)


def squeezed_cone(apex: Array, start: Array, lean: float, count: int) -> Callable[[Array], Array]:
    """Places of a sector about its ``apex`` from ``start`` on, squeezed to the chords of ``count`` parts.

    >>> to = squeezed_cone(np.zeros(2), np.array([1.0, 0.0]), 30.0, 4)
    >>> float(np.hypot(*(to(np.array([np.cos(np.pi / 4), np.sin(np.pi / 4)])) - [1.0, 0.0])).round(9))
    0.707106781
    """
    part = 2 * np.pi * float(sind(lean)) / count
    share = float(2 * np.arcsin(float(sind(lean)) * np.sin(np.pi / count)) / part)
    first = start - apex

    def squeeze(at: Array) -> Array:
        off = at - apex
        swept = np.arctan2(cross(first, off), dot(first, off))
        swept = np.where(swept < -BACK, swept + 2 * np.pi, swept)
        return np.asarray(apex + turned(off, np.rad2deg((share - 1) * swept)))

    return squeeze


def strips(
    places: Mapping[str, Array],
    feet: Sequence[str],
    rows: Sequence[Sequence[str]],
    upward: bool,
    fold: float,
    before: int,
) -> list[FlatPiece]:
    """The strips of a rolled skin: between feet k and k + 1, its far rim by the keys of ``rows`` k, from k to k + 1.

    ``upward`` tells that on the flat the far rim lies to the left of the row of feet; ``before`` is how many pieces of
    other parts go before. Keys are names too, but for the last foot and the last of the far rim, which are the first.

    >>> flat = {"A": (0, 0), "B": (1, 0), "C": (2, 0), "R": (0, 1), "S": (1, 1), "T": (2, 1)}
    >>> flat = {name: np.array(at, dtype=float) for name, at in flat.items()}
    >>> [piece.names for piece in strips(flat, "ABC", [["R", "S"], ["S", "T"]], True, 180.0, 0)]
    [('A', 'B', 'S', 'R'), ('B', 'A', 'R', 'S')]
    """
    count = len(rows)
    alias = {feet[-1]: feet[0], rows[-1][-1]: rows[0][0]}
    pieces = []
    for k in range(count):
        rim = list(rows[k])
        keys = [feet[k], feet[k + 1], *rim[::-1]]
        hinge = np.array([places[feet[k]], places[rim[0]]])
        if not upward:
            keys = keys[::-1]  # drawn inside up: it rolls towards the eye
        names = tuple(alias.get(key, key) for key in keys)
        parent = before + k - 1 if k else -1
        pieces.append(
            FlatPiece(names, np.array([places[key] for key in keys]), parent, fold if k else 0.0, hinge, hinge)
        )
    return pieces


def standing(places: Mapping[str, Array], keys: tuple[str, str, str], solid: Rolled, far: float) -> Placing:
    """Where the first strip stands: two feet and the far end of the first edge.

    >>> pipe = Rolled(np.array([[1.0, 0, 0], [0, 1, 0], [-1, 0, 0]]), np.array([[0.0, 0, 1]] * 3))
    >>> flat = {"A": np.zeros(2), "B": np.array([2**0.5, 0.0]), "R": np.array([0.0, 5.0])}
    >>> standing(flat, ("A", "B", "R"), pipe, 5.0).at(flat["R"]).round(9).tolist()
    [1.0, 0.0, 5.0]
    """
    flat = np.array([places[key] for key in keys])
    return resting(flat, np.array([solid.end[0], solid.end[1], solid.at(0, far)]))
