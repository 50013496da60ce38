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

Cells = npt.NDArray[np.int64]
_ANGLES = np.deg2rad(np.array([45, 135, -45, -135, 0, 90, 180, -90, 22, 68, 112, 158, -22, -68, -112, -158]))
_GAPS = np.array([1.3, 2.6, 4.5, 7.0, 10.0])
HARD, SOFT = 1000.0, 2.0
HIGH = 1 << 20


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
        self.cell = max(0.7, float(extent.max()) / 320)
        self.shape = tuple((np.ceil(extent / self.cell).astype(int) + 1).tolist())
        self.hard: Cells = np.zeros(self.shape, dtype=np.int64)
        self.soft: Cells = np.zeros(self.shape, dtype=np.int64)

    def enter(self, lines: Sequence[Array], hard: bool) -> None:
        """Enter polylines (n, 2) of sheet millimetres."""
        if not lines:
            return
        starts = np.concatenate([line[:-1] for line in lines])
        ends = np.concatenate([line[1:] for line in lines])
        counts = np.maximum(np.ceil(distance(starts, ends) / (0.7 * self.cell)).astype(int), 1) + 1
        which = np.repeat(np.arange(len(counts)), counts)
        first = np.cumsum(counts) - counts
        t = (np.arange(len(which)) - first[which]) / (counts[which] - 1)
        points = starts[which] + t[:, None] * (ends - starts)[which]
        self._cells(points, self.hard if hard else self.soft)

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
        inside = ((points >= self.origin) & (points < self.origin + np.array(self.shape) * self.cell)).all(axis=1)
        index = self._index(points[inside])
        grid[index[:, 0], index[:, 1]] = 1

    def taken(self, low: Array, high: Array) -> tuple[Array, Array]:
        """How many hard and soft cells each box covers; ``low`` and ``high`` have shape (…, 2)."""
        a, b = self._index(low), self._index(high) + 1
        # both counts in one running sum: hard cells in the high bits, soft ones in the low, which they cannot fill
        sums = np.zeros((self.shape[0] + 1, self.shape[1] + 1), dtype=np.int64)
        np.cumsum(self.hard * HIGH + self.soft, axis=0, out=sums[1:, 1:])
        np.cumsum(sums, axis=1, out=sums)
        count = (
            sums[b[..., 0], b[..., 1]] - sums[a[..., 0], b[..., 1]] - sums[b[..., 0], a[..., 1]] + sums[a[..., 0], a[..., 1]]
        )
        return (count // HIGH).astype(float), (count % HIGH).astype(float)


def place_labels(labels: Sequence[Label], ground: Ground, within: tuple[Array, Array]) -> list[Array | None]:
    """The lower left corner of each label, or None where no place within a box is free of outlines and other labels."""
    if not labels:
        return []
    at = np.array([label.at for label in labels])
    size = np.array([[label.width, label.height] for label in labels])
    ways = np.stack([np.cos(_ANGLES), np.sin(_ANGLES)], axis=-1)
    gaps = np.repeat(_GAPS, len(ways))
    ways = np.tile(ways, (len(_GAPS), 1))
    # the box's near side or corner stands the gap away from the point
    half = size[:, None, :] / 2
    centre = at[:, None, :] + ways * gaps[:, None] + np.clip(ways * 1.5, -1, 1) * half
    low, high = centre - half, centre + half
    margin = 0.25
    hard, soft = ground.taken(low - margin, high + margin)
    cost = HARD * hard + SOFT * soft + 1.2 * gaps + 0.02 * np.arange(len(gaps))
    cost += HARD * ((low < within[0]) | (high > within[1])).any(axis=2)
    order = np.argsort(-(hard > 0).sum(axis=1))
    placed: list[Array | None] = [None] * len(labels)
    lows, highs = np.full((len(labels), 2), np.inf), np.full((len(labels), 2), -np.inf)
    for k, i in enumerate(order):
        if k:
            over = (low[i][:, None] < highs[None, :k] + margin) & (high[i][:, None] > lows[None, :k] - margin)
            cost[i] += HARD * over.all(axis=2).sum(axis=1)
        best = int(np.argmin(cost[i]))
        if cost[i, best] >= HARD:
            continue
        placed[i] = low[i, best]
        lows[k], highs[k] = low[i, best], high[i, best]
    return placed
