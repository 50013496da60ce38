"""The painter's algorithm: flat faces as an eye sees them, painted from the farthest to the nearest.

Which of two faces is in front is decided where their pictures overlap; the order is a topological sort of that.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array

CLEAR = 1e-7
"""Of the whole's size: nearer than this, a corner is in a plane or two pictures only touch."""


class SeenFaces:
    """Convex flat faces in the eye's frame: to the right, up, and to the eye. All are handled at once.

    ``every`` (n, 3) are the corners of all of them one after another, ``counts`` how many each has.
    """

    def __init__(self, every: Array, counts: NDArray[np.int64]) -> None:
        self.every, self.counts = every, counts
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
        return SeenFaces(self.every[np.repeat(mine, self.counts)], self.counts[mine])

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
        """Numbers of the faces, the farthest first.

        Of two whose pictures overlap, that one is nearer which lies wholly on the eye's side of the other's plane, or
        whose own plane has all of the other behind it (Newell, Newell and Sancha). Where neither tells, or faces cover
        each other in a ring, the mean depth does.
        """
        if len(self.faces) < 2:
            return list(range(len(self.faces)))
        every, starts = self.every, self.starts
        clear = CLEAR * float(np.abs(every - every.mean(axis=0)).max())
        low, high = np.minimum.reduceat(every, starts), np.maximum.reduceat(every, starts)
        apart = ((low[:, None, :2] > high[None, :, :2] - clear) | (high[:, None, :2] < low[None, :, :2] + clear)).any(
            axis=2
        )
        size = np.sqrt((self.normals**2).sum(axis=1))
        towards = (
            self.normals
            / np.where(size > 0, size, 1.0)[:, None]
            * np.where(self.normals[:, 2] >= 0, 1.0, -1.0)[:, None]
        )
        middles = np.add.reduceat(every, starts) / self.counts[:, None]
        offs = every @ towards.T - (middles * towards).sum(axis=1)
        above = (np.minimum.reduceat(offs, starts) > -clear).T  # [i, j]: j lies on the eye's side of i's plane
        below = (np.maximum.reduceat(offs, starts) < clear).T
        nearer, behind = above & ~below, below & ~above
        first = (nearer | behind.T) & ~(behind | nearer.T) & ~apart  # [i, j]: i is painted before j
        return _sorted(first, middles[:, 2])


def _sorted(first: NDArray[np.bool_], depth: Array) -> list[int]:
    """Topological sort: an order that keeps ``first[i, j]``, i before j; of several the deepest, and where there is a
    cycle the deepest too."""
    waits = first.sum(axis=0).tolist()
    after = [np.flatnonzero(row).tolist() for row in first]
    deepest = np.argsort(depth, kind="stable").tolist()
    left, order = dict.fromkeys(deepest), []
    while left:
        k = next((k for k in left if not waits[k]), next(iter(left)))
        order.append(k)
        del left[k]
        for j in after[k]:
            waits[j] -= 1
    return order
