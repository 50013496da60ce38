"""Free room on a composed sheet: the largest box of given proportions that no line, lettering or strip stands in."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from wise_compass.geometry.vectors import Array
from wise_compass.sheet.bounds import text_box
from wise_compass.sheet.drawing import Item, Text
from wise_compass.sheet.paper import Paper

CELL = 3.0
"""mm of a cell of the grid in which what is taken is entered."""


def _taken(items: Iterable[Item], paper: Paper) -> Array:
    """The grid of the field: 1 where something stands."""
    left, bottom, right, top = paper.field
    grid = np.zeros((int((right - left) / CELL), int((top - bottom) / CELL)))

    def enter(points: Array) -> None:
        index = np.floor((points - (left, bottom)) / CELL).astype(int)
        inside = ((index >= 0) & (index < grid.shape)).all(axis=1)
        grid[index[inside, 0], index[inside, 1]] = 1

    for item in items:
        if item.layer == "frame":
            continue
        if isinstance(item, Text):
            low, high = text_box(item)
            enter(np.array([(x, y) for x in np.arange(low[0], high[0] + CELL, CELL) for y in (low[1], high[1])]))
            continue
        course = item.polyline()
        if course is not None:
            for a, b in zip(course[:-1], course[1:]):
                count = int(np.abs(b - a).max() / (0.5 * CELL)) + 2
                enter(a + (b - a) * np.linspace(0.0, 1.0, count)[:, None])
    return np.asarray(grid, dtype=float)


def free_box(items: Iterable[Item], paper: Paper, aspect: float) -> tuple[Array, float] | None:
    """The lower left corner and the width of the largest free box ``aspect`` times as wide as high; None on a full
    sheet.

    Of several as large the one furthest from the middle of the field is taken: a corner.
    """
    grid = _taken(items, paper)
    sums = np.zeros((grid.shape[0] + 1, grid.shape[1] + 1))
    sums[1:, 1:] = grid.cumsum(axis=0).cumsum(axis=1)
    low, best = 1, None
    high = min(grid.shape[0], int(grid.shape[1] * aspect))
    while low <= high:
        wide = (low + high) // 2
        tall = max(int(np.ceil(wide / aspect)), 1)
        found = None
        if tall <= grid.shape[1]:
            count = sums[wide:, tall:] - sums[:-wide, tall:] - sums[wide:, :-tall] + sums[:-wide, :-tall]
            places = np.argwhere(count == 0)
            if len(places):
                middle = (np.array(grid.shape) - (wide, tall)) / 2
                found = places[np.argmax(np.abs(places - middle).sum(axis=1))]
        if found is None:
            high = wide - 1
        else:
            best, low = (found, wide), wide + 1
    if best is None:
        return None
    left, bottom, _, _ = paper.field
    return np.array([left, bottom]) + best[0] * CELL, best[1] * CELL
