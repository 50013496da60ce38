"""The painter's algorithm: flat faces as an eye sees them, painted from the farthest to the nearest.

Which of two faces is in front is decided where their pictures overlap; the order is a topological sort of that.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Bools, dot

Numbers = NDArray[np.int64]
Pairs = tuple[Numbers, Numbers]

CLEAR = 1e-7
"""Of the whole's size: nearer than this, a corner is in a plane or two pictures only touch."""


class SeenFaces:
    """Convex flat faces in the eye's frame: to the right, up, and to the eye. All are handled at once.

    ``every`` (n, 3) are the corners of all of them one after another, ``counts`` how many each has. Those of one
    number of ``bulges``, but 0, are faces of one convex body: of these none that the eye sees covers another.
    """

    def __init__(self, every: Array, counts: NDArray[np.int64], bulges: Numbers | None = None) -> None:
        self.every, self.counts = every, counts
        self.bulges = np.zeros(len(counts), dtype=np.int64) if bulges is None else bulges
        ends = np.cumsum(counts)
        self.starts = ends - counts
        self.faces = [every[a:b] for a, b in zip(self.starts.tolist(), ends.tolist())]

    @classmethod
    def of(cls, faces: Sequence[Array], basis: Array) -> SeenFaces:
        """Faces of space, (m, 3) each, for an eye whose ``basis`` (3, 3) is right, up, and to the eye."""
        counts = np.array([len(corners) for corners in faces], dtype=np.int64)
        return cls(np.concatenate(faces) @ basis.T if faces else np.zeros((0, 3)), counts)

    def some(self, mine: NDArray[np.bool_]) -> SeenFaces:
        """Only those faces."""
        return SeenFaces(self.every[np.repeat(mine, self.counts)], self.counts[mine], self.bulges[mine])

    @cached_property
    def normals(self) -> Array:
        """Twice the area of each, square to it, (n, 3): by the right hand round its corners (Newell)."""
        if not self.faces:
            return np.zeros((0, 3))
        after = np.arange(1, len(self.every) + 1)
        after[self.starts + self.counts - 1] = self.starts
        at = self.every - self.every.mean(axis=0)
        return np.asarray(np.add.reduceat(cross3(at, at[after]), self.starts))

    def back_to_front(self) -> list[int]:
        """Numbers of the faces, the farthest first."""
        return [k for layer in self.layers() for k in layer]

    def layers(self) -> list[list[int]]:
        """Numbers of the faces in layers, the farthest layer first: of one layer none covers another.

        Of two whose pictures overlap, that one is nearer which lies wholly on the eye's side of the other's plane, or
        whose own plane has all of the other behind it (Newell, Newell and Sancha). Where neither tells, or faces cover
        each other in a ring, the mean depth does.
        """
        if len(self.faces) < 2:
            return [list(range(len(self.faces)))] if self.faces else []
        every, starts = self.every, self.starts
        clear = CLEAR * float(np.abs(every - every.mean(axis=0)).max())
        one, other = self._beside(clear)
        middles = np.add.reduceat(every, starts) / self.counts[:, None]
        off, back = self._sides(one, other, middles, clear), self._sides(other, one, middles, clear)
        nearer, farther = (off.nearer | back.behind), (off.behind | back.nearer)
        told = nearer ^ farther
        first = np.where(nearer, one, other)[told], np.where(nearer, other, one)[told]
        # where both faces are behind, or before, each other's plane neither covers the other; nor in one plane
        untold = ~(nearer | farther) & ~(off.within & back.within)
        rank = np.argsort(np.argsort(middles[:, 2], kind="stable"))
        deep = rank[one] < rank[other]
        rather = np.where(deep, one, other)[untold], np.where(deep, other, one)[untold]
        return _sorted(len(self.faces), first, rather, middles[:, 2])

    def _beside(self, clear: float) -> tuple[Numbers, Numbers]:
        """The pairs of faces, by number, the boxes of whose pictures overlap by more than ``clear``, and of which one
        may cover the other."""
        low, high = (way.reduceat(self.every[:, :2], self.starts) for way in (np.minimum, np.maximum))
        over = (self.bulges[:, None] != self.bulges) | (self.bulges == 0)
        for k in range(2):
            over &= low[:, None, k] <= high[None, :, k] - clear
            over &= high[:, None, k] >= low[None, :, k] + clear
        one, other = np.nonzero(np.triu(over, 1))
        return one, other

    def _sides(self, planes: Numbers, faces: Numbers, middles: Array, clear: float) -> _Sides:
        """On which side of the plane of one face, each by number, another lies."""
        size = np.sqrt((self.normals**2).sum(axis=1))
        towards = self.normals * (np.where(self.normals[:, 2] >= 0, 1.0, -1.0) / np.where(size > 0, size, 1.0))[:, None]
        many = self.counts[faces]
        begins = np.cumsum(many) - many
        corners = np.arange(int(many.sum())) - np.repeat(begins - self.starts[faces], many)
        offs = dot(self.every[corners], np.repeat(towards[planes], many, axis=0))
        offs -= np.repeat(dot(middles, towards)[planes], many)
        if not len(many):
            return _Sides(*(np.zeros(0, dtype=bool),) * 3)
        above, below = np.minimum.reduceat(offs, begins) > -clear, np.maximum.reduceat(offs, begins) < clear
        return _Sides(above & ~below, below & ~above, above & below)


def bulging(faces: SeenFaces, skins: Sequence[int]) -> Numbers:
    """For every face the number of the convex body that it is one of, 0 for none: all of them are one where no corner
    lies before the plane of any, or else those of a skin, by its number in ``skins``, 0 for none, of which that is so.
    """
    if not faces.faces:
        return np.zeros(0, dtype=np.int64)
    size = np.sqrt((faces.normals**2).sum(axis=1))
    normals = faces.normals / np.where(size > 0, size, 1.0)[:, None]
    reach = dot(faces.every[faces.starts], normals)
    clear = CLEAR * float(np.abs(faces.every - faces.every.mean(axis=0)).max())
    numbers, of = np.asarray(skins, dtype=np.int64), np.repeat(skins, faces.counts)

    def convex(mine: Bools, corners: Bools) -> bool:
        return bool((faces.every[corners] @ normals[mine].T <= reach[mine] + clear).all())

    if convex(np.ones(len(numbers), dtype=bool), np.ones(len(of), dtype=bool)):
        return np.ones(len(numbers), dtype=np.int64)
    bulge = [skin for skin in set(skins) - {0} if convex(numbers == skin, of == skin)]
    return np.where(np.isin(numbers, bulge), numbers, 0)


class _Sides(NamedTuple):
    """Whether faces, (n,), lie wholly on the eye's side of a plane, wholly behind it, or in it."""

    nearer: Bools
    behind: Bools
    within: Bools


def _sorted(count: int, first: Pairs, rather: Pairs, depth: Array) -> list[list[int]]:
    """Topological sort in layers: as many as wait for none that is left at once. The second of each pair of ``first``
    waits for the first of it, of ``rather`` as long as that makes no ring; in a ring the deepest goes before."""
    told, asked = (np.bincount(pairs[1], minlength=count).tolist() for pairs in (first, rather))
    after: list[list[int]] = [[] for _ in range(count)]
    later: list[list[int]] = [[] for _ in range(count)]
    for pairs, mine in ((first, after), (rather, later)):
        for a, b in zip(pairs[0].tolist(), pairs[1].tolist()):
            mine[a].append(b)
    left, layers = dict.fromkeys(np.argsort(depth, kind="stable").tolist()), list[list[int]]()
    while left:
        layer = [k for k in left if not told[k] and not asked[k]]
        layer = layer or [next((k for k in left if not told[k]), next(iter(left)))]
        for k in layer:
            del left[k]
            for j in after[k]:
                told[j] -= 1
            for j in later[k]:
                asked[j] -= 1
        layers.append(layer)
    return layers
