"""Places for labels: beside their points, crossing neither each other nor an outline, and few other lines.

Lines are entered into a coarse grid of cells. Its running sums tell for any box how many cells it covers are taken, so
that all candidate places of all labels are weighed at once; they are then given out greedily, most hemmed in first.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from wise_compass.geometry.vectors import Array, distance

Cells = npt.NDArray[np.uint32]
_ANGLES = np.deg2rad(np.array([45, 135, -45, -135, 0, 90, 180, -90, 22, 68, 112, 158, -22, -68, -112, -158]))
_GAPS = np.array([1.3, 2.6, 4.5, 7.0, 10.0, 14.0, 19.0, 25.0])
LED = 12.0
"""mm off its point from which a label is led to it by a line."""
"""Left, bottom, right and top."""
HARD, SOFT = 1000.0, 2.0
HIGH = 1 << 16
"""More than a grid has cells, so that both counts fit one number; where sums wrap round, their differences do not."""


class Label(NamedTuple):
    """Words to stand beside a point."""

    words: str
    at: Array
    width: float
    height: float


class Ground:
    """The grid: hard cells bear outlines, rings and lettering, soft ones construction."""

    def __init__(self, box: tuple[float, float, float, float]) -> None:
        left, bottom, right, top = box
        pad = 22.0
        self.origin = np.array([left - pad, bottom - pad])
        extent = np.array([right - left, top - bottom]) + 2 * pad
        self.cell = max(0.8, float(extent.max()) / 180)
        self.shape = tuple((np.ceil(extent / self.cell).astype(int) + 1).tolist())
        self.hard: Cells = np.zeros(self.shape, dtype=np.uint32)
        self.soft: Cells = np.zeros(self.shape, dtype=np.uint32)

    def enter(self, lines: Sequence[Array], hard: bool) -> None:
        """Enter polylines (n, 2) of sheet millimetres."""
        if not lines:
            return
        starts = np.concatenate([line[:-1] for line in lines])
        ends = np.concatenate([line[1:] for line in lines])
        counts = np.maximum(np.ceil(distance(starts, ends) / (0.7 * self.cell)).astype(int), 1) + 1
        first = np.cumsum(counts) - counts
        k = np.arange(int(counts.sum())) - np.repeat(first, counts)
        steps = (ends - starts) / (counts - 1)[:, None]
        self._cells(
            np.repeat(starts, counts, axis=0) + k[:, None] * np.repeat(steps, counts, axis=0),
            self.hard if hard else self.soft,
        )

    def enter_boxes(self, boxes: Sequence[tuple[Array, Array]]) -> None:
        """Enter filled boxes, each by its lowest and highest corner, as hard."""
        if not boxes:
            return
        corners = self._index(np.array(boxes)).tolist()
        for (left, bottom), (right, top) in corners:
            self.hard[left : right + 1, bottom : top + 1] = 1

    def _index(self, at: Array) -> npt.NDArray[np.int64]:
        index = np.floor((at - self.origin) / self.cell).astype(np.int64)
        return np.asarray(np.clip(index, 0, np.array(self.shape) - 1))

    def _cells(self, points: Array, grid: Cells) -> None:
        wide, high = self.shape
        x, y = np.floor((points.T - self.origin[:, None]) / self.cell)
        inside = (x >= 0) & (x < wide) & (y >= 0) & (y < high)
        grid.ravel()[(x[inside] * high + y[inside]).astype(np.int64)] = 1

    def sums(self) -> Cells:
        """Running sums over the grid, soft cells in the low bits and hard ones in the high."""
        sums = np.zeros((self.shape[0] + 1, self.shape[1] + 1), dtype=np.uint32)
        np.cumsum(self.hard * np.uint32(HIGH) + self.soft, axis=0, dtype=np.uint32, out=sums[1:, 1:])
        return np.cumsum(sums, axis=1, out=sums)

    def taken(self, sums: Cells, low: Array, high: Array) -> tuple[Array, Array]:
        """How many hard and soft cells each box covers; ``low`` and ``high`` have shape (…, 2)."""
        a, b = self._index(low), self._index(high) + 1
        wide = sums.shape[1]
        left, right = a[..., 0] * wide, b[..., 0] * wide
        flat = sums.ravel()
        count = flat[right + b[..., 1]] - flat[left + b[..., 1]] - flat[right + a[..., 1]] + flat[left + a[..., 1]]
        return (count // HIGH).astype(float), (count % HIGH).astype(float)


def place_labels(labels: Sequence[Label], ground: Ground, within: tuple[Array, Array]) -> list[Array | None]:
    """The lower left corner of each label, or None where no place within a box is free of outlines and other labels.

    Places close by are weighed first, and those further off only for what finds none there; the furthest are those that
    are led to their points by a line.
    """
    if not labels:
        return []
    at = np.array([label.at for label in labels])
    size = np.array([[label.width, label.height] for label in labels])
    sums = ground.sums()
    low, cost = _weighed(at, size, ground, sums, within, slice(0, NEAR))
    order = np.argsort(-(cost >= HARD).sum(axis=1))
    placed: list[Array | None] = [None] * len(labels)
    taken = _Taken(len(labels))
    further: tuple[Array, Array] | None = None
    for i in order.tolist():
        places, best = low[i], _free(low[i], cost[i], size[i], taken)
        if best < 0:
            further = further or _weighed(at, size, ground, sums, within, slice(NEAR, None))
            places, best = further[0][i], _free(further[0][i], further[1][i], size[i], taken)
        if best >= 0:
            placed[i] = places[best]
            taken.add(places[best], places[best] + size[i])
    return placed


_WAYS = np.tile(np.stack([np.cos(_ANGLES), np.sin(_ANGLES)], axis=-1), (len(_GAPS), 1))
_OFF = np.repeat(_GAPS, len(_ANGLES))
NEAR = 2 * len(_ANGLES)
"""How many places, the nearest, are weighed for all labels at once."""
MARGIN = 0.25
SINGLY = 4
"""How many places of a label are tried one by one, before the others are at once."""


def _weighed(
    at: Array, size: Array, ground: Ground, sums: Cells, within: tuple[Array, Array], which: slice
) -> tuple[Array, Array]:
    """The lower left corners of candidate places, (labels, places, 2), and what each costs."""
    ways, gaps = _WAYS[which], _OFF[which]
    # the box's near side or corner stands the gap away from the point
    half = size[:, None, :] / 2
    centre = at[:, None, :] + ways * gaps[:, None] + np.clip(ways * 1.5, -1, 1) * half
    low, high = centre - half, centre + half
    hard, soft = ground.taken(sums, low - MARGIN, high + MARGIN)
    cost = HARD * hard + SOFT * soft + 1.2 * gaps + 0.02 * np.arange(len(gaps))
    cost += HARD * ((low < within[0]) | (high > within[1])).any(axis=2)
    return low, cost


def leader(label: Label, corner: Array) -> Array | None:
    """The line (2, 2) that leads from a label's point to its place; None where it stands beside the point."""
    near = np.clip(label.at, corner, corner + np.array([label.width, label.height]))
    way = near - label.at
    long = float(np.hypot(*way))
    if long < LED:
        return None
    u = way / long
    return np.array([label.at + u * CLEAR_OF_POINT, near - u * CLEAR_OF_WORDS])


CLEAR_OF_POINT, CLEAR_OF_WORDS = 1.0, 0.6
"""mm that such a line keeps off the point's ring, and off the words."""


class _Taken:
    """The boxes that labels set already cover."""

    def __init__(self, most: int) -> None:
        self.boxes: list[tuple[float, float, float, float]] = []
        self._low, self._high = np.empty((most, 2)), np.empty((most, 2))

    def add(self, low: Array, high: Array) -> None:
        self._low[len(self.boxes)], self._high[len(self.boxes)] = low, high
        self.boxes.append((*low.tolist(), *high.tolist()))

    def meets(self, left: float, low: float, right: float, high: float) -> bool:
        """Whether a box overlaps one of them."""
        return any(left < r and right > x and low < t and high > y for x, y, r, t in self.boxes)

    def clear(self, low: Array, high: Array) -> npt.NDArray[np.bool_]:
        """Which boxes, (n, 2) each corner, overlap none of them."""
        count = len(self.boxes)
        below = (low[:, None, :] < self._high[:count]).all(axis=2)
        above = (high[:, None, :] > self._low[:count]).all(axis=2)
        return np.asarray(~np.any(below & above, axis=1))


def _free(low: Array, cost: Array, size: Array, taken: _Taken) -> int:
    """The cheapest place that no label set already covers; -1 where there is none. Mostly it is among the first that
    are tried."""
    order = cost.argsort(kind="stable")
    wide, high = (size + MARGIN).tolist()
    for best in order[:SINGLY].tolist():
        if cost[best] >= HARD:
            return -1
        x, y = low[best].tolist()
        if not taken.meets(x - MARGIN, y - MARGIN, x + wide, y + high):
            return int(best)
    order = order[SINGLY:]
    order = order[cost[order] < HARD]
    if not len(order):
        return -1
    clear = taken.clear(low[order] - MARGIN, low[order] + size + MARGIN)
    first = int(clear.argmax())
    return int(order[first]) if clear[first] else -1
