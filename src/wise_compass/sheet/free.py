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

    points, starts, ends = [np.zeros((0, 2))], [np.zeros((0, 2))], [np.zeros((0, 2))]
    for item in items:
        if item.layer == "frame":
            continue
        if isinstance(item, Text):
            low, high = text_box(item)
            points.append(
                np.array([(x, y) for x in np.arange(low[0], high[0] + CELL, CELL) for y in (low[1], high[1])])
            )
            continue
        course = item.polyline()
        if course is not None:
            starts.append(course[:-1])
            ends.append(course[1:])
    first, last = np.concatenate(starts), np.concatenate(ends)
    counts = (np.abs(last - first).max(axis=1, initial=0.0) / (0.5 * CELL)).astype(int) + 2
    line = np.repeat(np.arange(len(counts)), counts)
    step = np.arange(len(line)) - np.repeat(np.cumsum(counts) - counts, counts)
    points.append(first[line] + (last - first)[line] * (step / (counts[line] - 1))[:, None])
    index = np.floor((np.concatenate(points) - (left, bottom)) / CELL).astype(int)
    index = index[((index >= 0) & (index < grid.shape)).all(axis=1)]
    grid[index[:, 0], index[:, 1]] = 1
    return np.asarray(grid, dtype=float)


def free_box(items: Iterable[Item], paper: Paper, aspect: float) -> tuple[Array, float] | None:
    """The lower left corner and the width of the largest free box ``aspect`` times as wide as high; None on a full
    sheet.

    Of several as large the one furthest from the middle of the field is taken: a corner.
    """
    grid = _taken(items, paper)
    low, best = 1, None
    high = min(grid.shape[0], int(grid.shape[1] * aspect))
    sums = _sums(grid)
    while low <= high:
        wide = (low + high) // 2
        found = _outmost(sums, wide, max(int(np.ceil(wide / aspect)), 1))
        if found is None:
            high = wide - 1
        else:
            best, low = (found, wide), wide + 1
    if best is None:
        return None
    return _corner(paper, best[0]), best[1] * CELL


def free_place(items: Iterable[Item], paper: Paper, size: Array) -> Array | None:
    """The lower left corner of a free box of a size in mm, as far out from the middle of the field as it goes; None
    where there is none."""
    wide, tall = (int(np.ceil(each / CELL)) for each in size.tolist())
    found = _outmost(_sums(_taken(items, paper)), wide, tall)
    return None if found is None else _corner(paper, found)


def _sums(grid: Array) -> Array:
    """What is taken below and to the left of every corner of the grid's cells (a summed-area table)."""
    sums = np.zeros((grid.shape[0] + 1, grid.shape[1] + 1))
    sums[1:, 1:] = grid.cumsum(axis=0).cumsum(axis=1)
    return sums


def _outmost(sums: Array, wide: int, tall: int) -> Array | None:
    """The free box of so many cells that lies furthest from the middle, by its lowest cell."""
    across, up = sums.shape[0] - 1, sums.shape[1] - 1
    if wide > across or tall > up:
        return None
    count = sums[wide:, tall:] - sums[:-wide, tall:] - sums[wide:, :-tall] + sums[:-wide, :-tall]
    places = np.argwhere(count == 0)
    if not len(places):
        return None
    middle = (np.array([across, up]) - (wide, tall)) / 2
    return np.asarray(places[np.argmax(np.abs(places - middle).sum(axis=1))])


def _corner(paper: Paper, cell: Array) -> Array:
    left, bottom, _, _ = paper.field
    return np.array([left, bottom]) + cell * CELL
