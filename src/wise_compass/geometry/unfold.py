"""Patterns: flat pieces hinged in a tree, and what comes of them when they are folded (development of surfaces).

A piece is a polygon on the flat, in one frame with all the others; corners carry the names of the vertices of the solid, so that what
bears one name has to come together. Seen from outside the solid, a hinge's right-hand piece folds away from the eye by its fold angle.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, angle_of, cosd, dot, length, sind, unit


class Piece(NamedTuple):
    """A flat piece: the names of its corners and where they lie, (m, 2).

    ``parent`` is the piece that it hangs on (−1 for the one that stands still), ``fold`` the angle in degrees to which it is folded. ``own``
    is its edge at the hinge and ``on`` the same edge of its parent, (2, 2) each: one and the same, or two that meet at a seam. It is
    folded away where ``own`` runs upward with the piece on its right.
    """

    names: tuple[str, ...]
    flat: Array
    parent: int = -1
    fold: float = 0.0
    own: Array | None = None
    on: Array | None = None


class Placing(NamedTuple):
    """Where the flat goes: ``turn`` (3, 3) and ``shift`` (3,), so that a place (x, y) goes to turn·(x, y, 0) + shift."""

    turn: Array
    shift: Array

    def at(self, flat: Array) -> Array:
        """Places in space, (…, 3), of places of the flat, (…, 2)."""
        return np.asarray(flat @ self.turn[:, :2].T + self.shift)


FLAT = Placing(np.eye(3), np.zeros(3))


def resting(flat: Array, places: Array) -> Placing:
    """The placing that lays three corners of the flat, (3, 2), on three places of space, by their first edge and their plane.

    Space has y to the front, which makes it left-handed; the flat is seen from outside, its near side to the eye.

    >>> wall = np.array([[0.0, 5, 0], [1, 5, 0], [1, 5, 1]])  # before the eye, upright
    >>> resting(np.array([[0.0, 0], [1, 0], [1, 1]]), wall).at(np.array([0.0, 2.0])).round(9).tolist()
    [0.0, 5.0, 2.0]
    """
    ends = []
    for p, hand in ((np.concatenate([flat, np.zeros((len(flat), 1))], axis=1), 1.0), (places, -1.0)):
        u = unit(p[1] - p[0])
        n = unit(cross3(p[1] - p[0], p[2] - p[0]))
        ends.append(np.stack([u, cross3(n, u), hand * n], axis=1))
    turn = ends[1] @ ends[0].T
    return Placing(turn, places[0] - turn[:, :2] @ flat[0])


def _about(axis: Array, angle: float) -> Array:
    """The matrix that turns about a unit vector by the right hand (Rodrigues)."""
    (x, y, z), c, s = axis.tolist(), float(cosd(angle)), float(sind(angle))
    skew = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    return np.asarray(c * np.eye(3) + s * skew + (1 - c) * np.outer(axis, axis))


class Pattern:
    """Pieces in the order in which they are folded; the first stands still, ``root`` being where it lies.

    ``lies`` tells where on the solid vertices are, (3,) each, by their name.
    """

    def __init__(self, pieces: Sequence[Piece], root: Placing = FLAT, lies: Mapping[str, Array] = MappingProxyType({})) -> None:
        self.pieces, self.root, self.lies = tuple(pieces), root, lies

    def placings(self, folded: float) -> list[Placing]:
        """Where each piece lies, from flat (0) to folded up (1), hinge by hinge."""
        hinges = max(len(self.pieces) - 1, 1)
        found: list[Placing] = []
        for k, piece in enumerate(self.pieces):
            if piece.parent < 0 or piece.own is None or piece.on is None:
                found.append(self.root)
                continue
            share = min(max(folded * hinges - (k - 1), 0.0), 1.0) if folded < 1 else 1.0
            found.append(_hinged(found[piece.parent], piece.own, piece.on, piece.fold, share))
        return found

    def folded(self, folded: float) -> list[Array]:
        """The corners of each piece in space, (m, 3)."""
        return [placing.at(piece.flat) for placing, piece in zip(self.placings(folded), self.pieces)]

    def gap(self) -> float:
        """The largest distance between corners of one name once all is folded up."""
        together: dict[str, list[Array]] = {}
        for piece, corners in zip(self.pieces, self.folded(1.0)):
            for name, at in zip(piece.names, corners):
                together.setdefault(name, []).append(at)
        return max((float(length(at - places[0])) for places in together.values() for at in places[1:]), default=0.0)

    def stray(self) -> float:
        """The largest distance of a corner from its place on the solid once all is folded up."""
        return max(
            (
                float(length(at - self.lies[name]))
                for piece, corners in zip(self.pieces, self.folded(1.0))
                for name, at in zip(piece.names, corners)
                if name in self.lies
            ),
            default=0.0,
        )

    @property
    def area(self) -> float:
        """Of all pieces (the shoelace formula)."""
        total = 0.0
        for piece in self.pieces:
            x, y = piece.flat.T
            total += abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2
        return total


def _hinged(parent: Placing, own: Array, on: Array, fold: float, share: float) -> Placing:
    """A piece's placing, its hinge brought to its parent's edge and folded, ``share`` of the way."""
    lean = (float(angle_of(on[1] - on[0]) - angle_of(own[1] - own[0])) + 180.0) % 360.0 - 180.0
    spin = _about(np.array([0.0, 0.0, 1.0]), lean * share)
    start = np.append(own[0] + (on[0] - own[0]) * share, 0.0)
    shift = start - spin @ np.append(own[0], 0.0)
    axis = unit(spin @ np.append(own[1] - own[0], 0.0))
    turn = _about(axis, fold * share)
    inner = Placing(turn @ spin, turn @ (shift - start) + start)
    return Placing(parent.turn @ inner.turn, parent.turn @ inner.shift + parent.shift)


def fold_angle(one: Array, other: Array) -> float:
    """The angle in degrees between two flat faces' outward sides, (n, 3) each in order: to which their common edge is folded.

    >>> floor = np.array([[0.0, 0, 0], [1, 0, 0], [1, 1, 0]])
    >>> round(fold_angle(floor, np.array([[1.0, 0, 0], [1, 0, -1], [1, 1, 0]])), 9)
    90.0
    """
    n, m = normal_of(one), normal_of(other)
    return float(np.rad2deg(np.arctan2(length(cross3(n, m)), dot(n, m))))


def normal_of(face: Array) -> Array:
    """The unit normal of a flat face in space, by the right hand round its corners.

    >>> normal_of(np.array([[0.0, 0, 0], [1, 0, 0], [1, 1, 0]])).tolist()
    [0.0, 0.0, 1.0]
    """
    spokes = face[1:] - face[0]
    return unit(cross3(spokes[:-1], spokes[1:]).sum(axis=0))
