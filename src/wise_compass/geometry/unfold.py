"""Patterns: flat pieces hinged in a tree, and what comes of them when they are folded (development of surfaces).

A piece is a polygon on the flat, in one frame with all the others; corners carry the names of the vertices of the
solid, so that what bears one name has to come together. Seen from outside the solid, a hinge's right-hand piece folds
away from the eye by its fold angle.

**A pattern is proved in space.** ``geometry/unfold.py`` hinges the flat pieces *as they were found on the paper* in a
tree and folds them by their fold angles alone: ``gap`` is how far corners of one name stay apart, ``stray`` how far
they are from the solid. A flat side folds by the angle of its faces; a round skin rolls by the width of what was drawn,
so that a chord taken for its arc leaves a gap. The same tree, part of the way folded, is what the space view shows.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from types import MappingProxyType
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, angle_of, cosd, dot, left_of, length, sind, unit


class FlatPiece(NamedTuple):
    """A flat piece: the names of its corners and where they lie, (m, 2).

    ``parent`` is the piece that it hangs on (−1 for the one that stands still), ``fold`` the angle in degrees to which
    it is folded. ``own`` is its edge at the hinge and ``on`` the same edge of its parent, (2, 2) each: one and the
    same, or two that meet at a seam. It is folded away where ``own`` runs upward with the piece on its right.
    """

    names: tuple[str, ...]
    flat: Array
    parent: int = -1
    fold: float = 0.0
    own: Array | None = None
    on: Array | None = None


class Placing(NamedTuple):
    """Where the flat goes: ``turn`` (3, 3) and ``shift`` (3,), so that a place (x, y) goes to turn·(x, y, 0) +
    shift."""

    turn: Array
    shift: Array

    def at(self, flat: Array) -> Array:
        """Places in space, (…, 3), of places of the flat, (…, 2)."""
        return np.asarray(flat @ self.turn[:, :2].T + self.shift)


FLAT = Placing(np.eye(3), np.zeros(3))


def resting(flat: Array, places: Array) -> Placing:
    """The placing that lays three corners of the flat, (3, 2), on three places of space, by their first edge and their
    plane.

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


def _about(axes: Array, angles: Array) -> Array:
    """The matrices (m, 3, 3) that turn about unit vectors (m, 3) by so many degrees, by the right hand (Rodrigues)."""
    c, s = np.asarray(cosd(angles))[:, None, None], np.asarray(sind(angles))[:, None, None]
    skew = np.zeros((len(axes), 3, 3))
    x, y, z = axes.T
    skew[:, 0, 1], skew[:, 0, 2], skew[:, 1, 2] = -z, y, -x
    skew -= np.swapaxes(skew, 1, 2)
    return np.asarray(c * np.eye(3) + s * skew + (1 - c) * axes[:, :, None] * axes[:, None, :])


class Pattern:
    """Pieces in the order in which they are folded; the first stands still, ``root`` being where it lies.

    ``lies`` tells where on the solid vertices are, (3,) each, by their name; ``squeezed`` where places (…, 2) of the
    drawing lie among the pieces, where a round skin is folded by its chords. ``roots`` are where further pieces lie
    that hang on none: a pattern of several parts, each with its own first piece.
    """

    def __init__(
        self,
        pieces: Sequence[FlatPiece],
        root: Placing = FLAT,
        lies: Mapping[str, Array] = MappingProxyType({}),
        squeezed: Callable[[Array], Array] = lambda at: at,
        roots: Mapping[int, Placing] = MappingProxyType({}),
    ) -> None:
        self.pieces, self.root, self.lies, self.squeezed, self.roots = tuple(pieces), root, lies, squeezed, roots

    @cached_property
    def _hinged(self) -> tuple[list[int], Array, Array, Array]:
        """The pieces that hang on another: their numbers, their own edges and those of their parents, (m, 2, 2), and
        their folds."""
        hang = [
            k
            for k, piece in enumerate(self.pieces)
            if piece.parent >= 0 and piece.own is not None and piece.on is not None
        ]
        ends = [np.array([self.pieces[k][part] for k in hang], dtype=np.float64).reshape(-1, 2, 2) for part in (4, 5)]
        return hang, ends[0], ends[1], np.array([self.pieces[k].fold for k in hang])

    def placings(self, folded: float) -> list[Placing]:
        """Where each piece lies, from flat (0) to folded up (1), hinge by hinge."""
        hang, own, on, folds = self._hinged
        hinges = max(len(self.pieces) - 1, 1)
        shares = (
            np.clip(folded * hinges - (np.array(hang, dtype=np.float64) - 1), 0.0, 1.0)
            if folded < 1
            else np.ones(len(hang))
        )
        turns, shifts = _hinges(own, on, folds * shares, shares)
        found = [self.roots.get(k, self.root) for k in range(len(self.pieces))]
        for k, turn, shift in zip(hang, turns, shifts):
            parent = found[self.pieces[k].parent]
            found[k] = Placing(parent.turn @ turn, parent.turn @ shift + parent.shift)
        return found

    def folded(self, folded: float) -> list[Array]:
        """The corners of each piece in space, (m, 3)."""
        return [placing.at(piece.flat) for placing, piece in zip(self.placings(folded), self.pieces)]

    @cached_property
    def _closed(self) -> Array:
        """The corners of all pieces once all is folded up, (n, 3)."""
        return np.concatenate(self.folded(1.0))

    def gap(self) -> float:
        """The largest distance between corners of one name once all is folded up."""
        first: dict[str, int] = {}
        names = [name for piece in self.pieces for name in piece.names]
        same = [first.setdefault(name, k) for k, name in enumerate(names)]
        return float(np.asarray(length(self._closed - self._closed[same])).max())

    def stray(self) -> float:
        """The largest distance of a corner from its place on the solid once all is folded up; 0 where no place is
        known."""
        names = [name for piece in self.pieces for name in piece.names]
        known = [k for k, name in enumerate(names) if name in self.lies]
        if not known:
            return 0.0
        return float(np.asarray(length(self._closed[known] - np.array([self.lies[names[k]] for k in known]))).max())

    @property
    def area(self) -> float:
        """Of all pieces (the shoelace formula)."""
        total = 0.0
        for piece in self.pieces:
            x, y = piece.flat.T
            total += abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2
        return total


def _hinges(own: Array, on: Array, folds: Array, shares: Array) -> tuple[Array, Array]:
    """How pieces lie to their parents: edges ``own`` (m, 2, 2) brought to ``on``, ``shares`` of the way, and folded by
    so many degrees."""
    lean = (np.asarray(angle_of(on[:, 1] - on[:, 0]) - angle_of(own[:, 1] - own[:, 0])) + 180.0) % 360.0 - 180.0
    spin = _about(np.broadcast_to([0.0, 0.0, 1.0], (len(own), 3)), lean * shares)
    flat = np.zeros((len(own), 3, 3))  # where the hinge starts, its own start, and its direction
    flat[:, 0, :2] = own[:, 0] + (on[:, 0] - own[:, 0]) * shares[:, None]
    flat[:, 1, :2] = own[:, 0]
    flat[:, 2, :2] = own[:, 1] - own[:, 0]
    start, first, along = (flat[:, k, :, None] for k in range(3))
    turn = _about(unit((spin @ along)[..., 0]), folds)
    return turn @ spin, (turn @ (-spin @ first) + start)[..., 0]


def fold_angle(one: Array, other: Array) -> float:
    """The angle in degrees between two flat faces' outward sides, (n, 3) each in order: to which their common edge is
    folded.

    >>> floor = np.array([[0.0, 0, 0], [1, 0, 0], [1, 1, 0]])
    >>> round(fold_angle(floor, np.array([[1.0, 0, 0], [1, 0, -1], [1, 1, 0]])), 9)
    90.0
    """
    return float(turns_between(normal_of(one), normal_of(other)))


def leaning(one: Array, other: Array) -> float:
    """The fold angle from one flat face to the next, (n, 3) each, anticlockwise from outside in a space whose y runs to
    the front.

    It is less than 0 where the next face leans outward.

    >>> wall = np.array([[0.0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1]])
    >>> lid = np.array([[0.0, 0, 1], [1, 0, 1], [1, -1, 1], [0, -1, 1]])
    >>> leaning(wall, lid), leaning(wall, lid * [1, -1, 1])
    (90.0, -90.0)
    """
    ahead = float(np.abs(dot(other - one[0], normal_of(one))).max())
    behind = float(np.asarray(dot(other - one[0], normal_of(one))).max()) >= ahead
    return fold_angle(one, other) if behind else -fold_angle(one, other)


def overlapping(triangles: Array, touch: float) -> bool:
    """Whether any two triangles of the flat, (n, 3, 2), overlap by more than ``touch`` (the separating axis theorem).

    >>> one = np.array([[0.0, 0], [2, 0], [0, 2]])
    >>> overlapping(np.array([one, one + [2, 0]]), 1e-9), overlapping(np.array([one, one + [0.5, 0]]), 1e-9)
    (False, True)
    """
    sides = np.roll(triangles, -1, axis=1) - triangles
    long = np.asarray(length(sides))
    axes = left_of(sides) / np.where(long > touch, long, np.inf)[..., None]
    spans = np.einsum("nkc,mjc->nkmj", axes, triangles)  # each axis against every triangle's corners
    low, high = spans.min(axis=3), spans.max(axis=3)
    own = np.arange(len(triangles))
    mine_low, mine_high = low[own, :, own][:, :, None], high[own, :, own][:, :, None]
    parted = ((low >= mine_high - touch) | (high <= mine_low + touch)) & (long > touch)[:, :, None]
    apart = parted.any(axis=1)
    clear = apart | apart.T
    np.fill_diagonal(clear, True)
    return not bool(clear.all())


def turns_between(one: Array, other: Array) -> Array:
    """The angles in degrees from 0 to 180 between directions in space, (…, 3) each, of any length.

    >>> float(turns_between(np.array([2.0, 0, 0]), np.array([0.0, 0, 3])))
    90.0
    """
    return np.asarray(np.rad2deg(np.arctan2(length(cross3(one, other)), dot(one, other))))


def normal_of(face: Array) -> Array:
    """The unit normal of a flat face in space, by the right hand round its corners.

    >>> normal_of(np.array([[0.0, 0, 0], [1, 0, 0], [1, 1, 0]])).tolist()
    [0.0, 0.0, 1.0]
    """
    spokes = face[1:] - face[0]
    return unit(cross3(spokes[:-1], spokes[1:]).sum(axis=0))
