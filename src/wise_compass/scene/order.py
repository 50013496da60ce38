"""The order in which flat faces are painted, so that what is nearer to the eye covers what is behind it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array

CLEAR = 1e-7
"""Of the whole's size: nearer than this, a corner is in a plane or two pictures only touch."""


def back_to_front(faces: Sequence[Array], basis: Array) -> list[int]:
    """Numbers of convex flat faces, (m, 3) each, the farthest first; ``basis`` (3, 3) is right, up, and to the eye.

    Of two whose pictures overlap, that one is nearer which lies wholly on the eye's side of the other's plane, or whose own plane has
    all of the other behind it (Newell, Newell and Sancha). Where neither tells, or faces cover each other in a ring, the mean depth does.
    """
    if len(faces) < 2:
        return list(range(len(faces)))
    seen = [corners @ basis.T for corners in faces]
    counts = np.array([len(corners) for corners in seen])
    starts = np.concatenate([[0], np.cumsum(counts)[:-1]])
    every = np.concatenate(seen)
    clear = CLEAR * float(np.abs(every - every.mean(axis=0)).max())
    low, high = np.minimum.reduceat(every, starts), np.maximum.reduceat(every, starts)
    apart = ((low[:, None, :2] > high[None, :, :2] - clear) | (high[:, None, :2] < low[None, :, :2] + clear)).any(axis=2)
    normals = np.array([_to_eye(corners) for corners in seen])
    offs = every @ normals.T - np.array([corners.mean(axis=0) @ n for corners, n in zip(seen, normals)])
    above = (np.minimum.reduceat(offs, starts) > -clear).T  # [i, j]: j lies on the eye's side of i's plane
    below = (np.maximum.reduceat(offs, starts) < clear).T
    nearer = above & ~below
    behind = below & ~above
    first = (nearer | behind.T) & ~(behind | nearer.T) & ~apart  # [i, j]: i is painted before j
    depth = np.add.reduceat(every[:, 2], starts) / counts
    return _sorted(first, depth)


def _to_eye(corners: Array) -> Array:
    """A face's unit normal in the eye's frame, turned to the eye."""
    spokes = corners[1:] - corners[0]
    normal = cross3(spokes[:-1], spokes[1:]).sum(axis=0)
    size = float(np.sqrt(normal @ normal))
    return np.asarray(normal / (size if normal[2] >= 0 else -size)) if size > 0 else np.array([0.0, 0.0, 1.0])


def _sorted(first: NDArray[np.bool_], depth: Array) -> list[int]:
    """An order that keeps ``first[i, j]``: i before j; of several the deepest, and where there is a ring the deepest too."""
    waits = first.sum(axis=0).astype(float)
    left = np.ones(len(depth), dtype=bool)
    order: list[int] = []
    for _ in range(len(depth)):
        free = left & (waits <= 0)
        k = int(np.argmin(np.where(free if free.any() else left, depth, np.inf)))
        order.append(k)
        left[k] = False
        waits -= first[k]
    return order
