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


COVERS = 1e-8
"""Of the square of the whole's size: a lesser area in which two pictures overlap hides nothing."""
QUICKLY = 60
"""Of so many pairs of faces it is asked at every frame which is nearer where both are painted."""


class Pieces(NamedTuple):
    """What is painted of faces, convex outlines in the eye's frame: the corners of all, (n, 3), how many each has, and
    of which face it is, in the order of the faces."""

    every: Array
    counts: Numbers
    of: Numbers

    def of_some(self, mine: Bools) -> Pieces:
        """Those of some faces, which are numbered anew."""
        kept = mine[self.of]
        return Pieces(self.every[np.repeat(kept, self.counts)], self.counts[kept], (np.cumsum(mine) - 1)[self.of[kept]])


class SeenFaces:
    """Convex flat faces in the eye's frame: to the right, up, and to the eye. All are handled at once.

    ``every`` (n, 3) are the corners of all of them one after another, ``counts`` how many each has. Those of one
    number of ``bulges``, but 0, are faces of one convex body: of these none that the eye sees covers another. Where not
    all of each is there, ``pieces`` are.
    """

    def __init__(
        self, every: Array, counts: Numbers, bulges: Numbers | None = None, pieces: Pieces | None = None
    ) -> None:
        self.every, self.counts = every, counts
        self.pieces = pieces or Pieces(every, counts, np.arange(len(counts)))
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
        corners = self.every[np.repeat(mine, self.counts)]
        return SeenFaces(corners, self.counts[mine], self.bulges[mine], self.pieces.of_some(mine))

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

    def layers(self, quick: bool = False) -> list[list[int]]:
        """Numbers of the faces in layers, the farthest layer first: of one layer none covers another.

        Of two whose pictures overlap, that one is nearer which lies wholly on the eye's side of the other's plane, or
        whose own plane has all of the other behind it (Newell, Newell and Sancha). Where neither tells, the depths of
        what is painted of both do, at a place where both are, or with ``quick`` their mean depths where that would be
        asked of many; where faces cover each other in a ring, the mean depth does.
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
        one, other = one[untold], other[untold]
        rather = one[:0], one[:0]
        if quick and len(one) > QUICKLY:
            rank = np.argsort(np.argsort(middles[:, 2], kind="stable"))
            deep = rank[one] < rank[other]
            rather = np.where(deep, one, other), np.where(deep, other, one)
        else:
            deeper, over = self._by_depth(*self._pieces_beside(one, other, clear), middles, clear)
            first = np.concatenate([first[0], deeper]), np.concatenate([first[1], over])
        return _sorted(len(self.faces), first, rather, middles[:, 2])

    def _pieces_beside(self, one: Numbers, other: Numbers, clear: float) -> tuple[Numbers, Numbers, Numbers]:
        """Of pairs of faces, by number, the pairs of their pieces the boxes of whose pictures overlap: of which pair of
        faces each is, by its place among these, and the pieces by number."""
        starts = np.searchsorted(self.pieces.of, np.arange(len(self.faces) + 1))
        mine, theirs = (np.diff(starts)[faces] for faces in (one, other))
        many = mine * theirs
        pairs = np.repeat(np.arange(len(one)), many)
        place = np.arange(int(many.sum())) - np.repeat(np.cumsum(many) - many, many)
        i, j = starts[one][pairs] + place // theirs[pairs], starts[other][pairs] + place % theirs[pairs]
        if not len(pairs):
            return pairs, i, j
        begins = np.cumsum(self.pieces.counts) - self.pieces.counts
        low, high = (way.reduceat(self.pieces.every[:, :2], begins) for way in (np.minimum, np.maximum))
        near = ((low[i] < high[j] - clear) & (high[i] > low[j] + clear)).all(axis=1)
        return pairs[near], i[near], j[near]

    def _by_depth(self, pairs: Numbers, i: Numbers, j: Numbers, middles: Array, clear: float) -> Pairs:
        """The deeper and the nearer face of each pair of which pieces ``i`` and ``j`` overlap, in the middle of where
        they do most."""
        if not len(pairs):
            return i, j
        import shapely
        from shapely import MultiPoint

        asked, places = np.unique(np.concatenate([i, j]), return_inverse=True)
        begins = np.cumsum(self.pieces.counts) - self.pieces.counts
        spans = zip(begins[asked].tolist(), self.pieces.counts[asked].tolist())
        # what is seen nearly on edge may cross itself by rounding: its hull does not
        outlines = np.array([MultiPoint(self.pieces.every[a : a + n, :2]).convex_hull for a, n in spans])
        common = shapely.intersection(outlines[places[: len(i)]], outlines[places[len(i) :]])
        area = shapely.area(common)
        order = np.lexsort((area, pairs))
        most = order[np.flatnonzero(np.diff(pairs[order], append=-1))]
        most = most[area[most] > COVERS * float(np.ptp(self.every[:, :2], axis=0).max()) ** 2]
        at = shapely.get_coordinates(shapely.centroid(common[most]))
        one, other = self.pieces.of[i[most]], self.pieces.of[j[most]]
        mine, theirs = (
            middles[k, 2] - ((at - middles[k, :2]) * self.normals[k, :2]).sum(axis=1) / self.normals[k, 2]
            for k in (one, other)
        )
        told, deep = np.abs(theirs - mine) > clear, theirs > mine
        return np.where(deep, one, other)[told], np.where(deep, other, one)[told]

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
