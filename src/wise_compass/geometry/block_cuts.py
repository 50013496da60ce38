"""What a plane along two axes cuts of a solid of blocks: its cells, their area, and what bounds them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from itertools import combinations
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_cones import through_axis
from wise_compass.geometry.block_shapes import Packed
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.borders import borders
from wise_compass.geometry.vectors import Array, Bools, Ints

SAMPLES = 481
"""Places of a stretch at which it is looked what lies over them."""
HALVINGS = 42
TOUCH = 1e-9
"""Of the whole's size: what is only so deep in the plane is touched and not cut."""
APART = 1e-7
"""Of the whole's size: levels nearer than this are one."""
NODES = 48
"""Places of Gauss's quadrature in a cell."""


class Bound(NamedTuple):
    """One side of a block in the plane: the block's number, and whether it is the lower or the upper one."""

    block: int
    upper: bool


class Cell(NamedTuple):
    """A piece of the section between two places of ``along``, bounded below and above."""

    first: float
    last: float
    below: Bound
    above: Bound


class Cut:
    """The section of a solid by a plane that stands ``at`` along one axis, between two places along another; levels
    run along the third. Axes are 0 front, 1 right, 2 height."""

    def __init__(self, built: Built, across: int, at: float, along: int, first: float, last: float) -> None:
        self.built, self.across, self.at, self.along = built, across, at, along
        self.first, self.last = first, last
        self.level = 3 - across - along
        self.packed: Packed = built.packed
        span = built.span
        low, size = self.packed.low[:, across], self.packed.size[:, across]
        self.deep = (low + TOUCH * span < at) & (at < low + size - TOUCH * span)
        self.near = APART * span

    def place(self, along: Array, level: Array) -> Array:
        """Places of the plane in space, (…, 3)."""
        at = np.zeros((*np.broadcast(along, level).shape, 3))
        at[..., self.across], at[..., self.along], at[..., self.level] = self.at, along, level
        return at

    def levels(self, along: Array) -> tuple[Array, Array]:
        """From where to where every block reaches over places along the plane, (blocks, n) both; NaN where it does
        not."""
        way = np.eye(3)[self.level]
        low, high = self.packed.spans(self.place(along, np.zeros_like(along)), np.broadcast_to(way, (len(along), 3)))
        there = (low < high) & self.deep[:, None]
        return np.where(there, low, np.nan), np.where(there, high, np.nan)

    def bounds_at(self, cells: Sequence[Cell], along: Array, shut: float = 0.0) -> tuple[Array, Array]:
        """The levels that bound each of several cells below and above, over its own places (cells, n); sides of a block
        that are not ``shut`` apart, as where it begins, are one."""
        lower, upper = (side.reshape(-1, *along.shape) for side in self.levels(along.ravel()))
        with np.errstate(invalid="ignore"):
            middle, one = (lower + upper) / 2, upper - lower < shut
        lower, upper = np.where(one, middle, lower), np.where(one, middle, upper)
        each = np.arange(len(cells))

        def of(bounds: list[Bound]) -> Array:
            blocks = [bound.block for bound in bounds]
            up = np.array([bound.upper for bound in bounds], dtype=bool)[:, None]
            return np.asarray(np.where(up, upper[blocks, each], lower[blocks, each]))

        return of([cell.below for cell in cells]), of([cell.above for cell in cells])

    # where anything changes

    def _breaks(self) -> list[float]:
        """All places at which a side begins, ends, or meets another."""
        low, size = self.packed.low[:, self.along], self.packed.size[:, self.along]
        inset = 1e-7 * self.built.span
        fixed = np.concatenate([low, low + size, low + size / 2, low + inset, low + size - inset])
        grid = np.linspace(self.first, self.last, SAMPLES)
        places = np.unique(np.clip(np.concatenate([grid, fixed]), self.first, self.last))
        lower, upper = self.levels(places)
        found = {self.first, self.last, *np.clip(np.concatenate([low, low + size]), self.first, self.last).tolist()}
        found.update(self._apexes())
        deep = np.flatnonzero(self.deep)
        there = np.isfinite(lower[deep])
        which, i = np.nonzero(there[:, 1:] != there[:, :-1])
        found.update(self._edges_of(deep[which], places[i], places[i + 1], there[which, i]))
        sides = [(k, up) for k in np.flatnonzero(self.deep).tolist() for up in (False, True)]
        pairs: list[tuple[int, bool, int, bool]] = []
        begins: list[int] = []
        for (j, up), (k, other) in combinations(sides, 2):
            gap = (upper if up else lower)[j] - (upper if other else lower)[k]
            with np.errstate(invalid="ignore"):
                flips = np.flatnonzero(gap[1:] * gap[:-1] < 0).tolist()
            pairs += [(j, up, k, other)] * len(flips)
            begins += flips
        if pairs:
            found.update(self._crossings(np.array(pairs), places[begins], places[np.array(begins) + 1]))
        return sorted(found)

    def _apexes(self) -> list[float]:
        """Where the apex of a cone stands that is cut through its axis: its sides are straight on either hand."""
        cones = [block for block in self.built.blocks if block.shape == "cone" and self.level == 2]
        mine = [block for block in cones if through_axis(block, self.across, self.at)]
        places = [block.low[self.along] + block.size[self.along] / 2 for block in mine]
        return [place for place in places if self.first < place < self.last]

    def _edges_of(self, blocks: Ints, a: Array, b: Array, inside: Bools) -> list[float]:
        """Where blocks begin or end between two places each, by halving all of them at once."""

        def reaches(at: Array, which: Ints) -> Bools:
            return np.isfinite(self.levels(at)[0][blocks[which], np.arange(len(at))])

        found: list[float] = borders(reaches, a, b, inside, HALVINGS).tolist()
        return found

    def _crossings(self, pairs: Ints, a: Array, b: Array) -> list[float]:
        """Where two sides of blocks meet between two places each: block, upper or lower, and the other's, (m, 4)."""

        def below(at: Array, which: Ints) -> Bools:
            lower, upper = self.levels(at)
            mine, each = pairs[which], np.arange(len(at))
            one, other = (
                np.where(mine[:, k + 1] > 0, upper[mine[:, k], each], lower[mine[:, k], each]) for k in (0, 2)
            )
            return np.asarray(one < other)

        found: list[float] = borders(below, a, b, below(a, np.arange(len(a))), HALVINGS).tolist()
        return found

    @cached_property
    def _cells(self) -> list[Cell]:
        found = []
        breaks = self._breaks()
        pairs = [(a, b) for a, b in zip(breaks, breaks[1:]) if b - a > self.near * 1e-2]
        lower, upper = self.levels(np.array([(a + b) / 2 for a, b in pairs]))
        for k, (a, b) in enumerate(pairs):
            found += [Cell(a, b, below, above) for below, above in self._stack(lower[:, k], upper[:, k])]
        return found

    def cells(self) -> list[Cell]:
        """The section in cells, from the first place to the last; what is one in a cell is one piece."""
        return self._cells

    def _stack(self, lower: Array, upper: Array) -> list[tuple[Bound, Bound]]:
        """What is solid along a line of levels: blocks joined where they touch, less holes."""
        there = np.isfinite(lower)
        solid = sorted(
            (float(lower[k]), float(upper[k]), k) for k in np.flatnonzero(there & ~self.packed.holes).tolist()
        )
        joined: list[tuple[float, float, Bound, Bound]] = []
        for low, high, k in solid:
            if joined and low <= joined[-1][1] + self.near:
                if high > joined[-1][1]:
                    joined[-1] = (joined[-1][0], high, joined[-1][2], Bound(k, True))
                continue
            joined.append((low, high, Bound(k, False), Bound(k, True)))
        for k in np.flatnonzero(there & self.packed.holes).tolist():
            low, high = float(lower[k]), float(upper[k])
            left = []
            for one in joined:
                if high <= one[0] + self.near or low >= one[1] - self.near:
                    left.append(one)
                    continue
                if low > one[0] + self.near:
                    left.append((one[0], low, one[2], Bound(k, False)))
                if high < one[1] - self.near:
                    left.append((high, one[1], Bound(k, True), one[3]))
            joined = left
        return [(below, above) for _, _, below, above in joined]

    @property
    def area(self) -> float:
        """By Gauss's quadrature in every cell, its places those of a half circle's, as round sides end upright; parted
        at the crowns of hyperbolas, that close to a cone's axis are almost corners."""
        nodes, weights = np.polynomial.legendre.leggauss(NODES)
        turn = nodes * np.pi / 2
        middles = self.packed.low[:, self.along] + self.packed.size[:, self.along] / 2
        cells = [part for cell in self.cells() for part in _parted(cell, middles.tolist())]
        if not cells:
            return 0.0
        ends = np.array([(cell.first, cell.last) for cell in cells])
        half = (ends[:, 1] - ends[:, 0])[:, None] / 2
        low, high = self.bounds_at(cells, ends.mean(axis=1)[:, None] + half * np.sin(turn))
        return float(((np.nan_to_num(high - low) * np.cos(turn)) @ weights) @ half[:, 0]) * np.pi / 2


def _parted(cell: Cell, at: Sequence[float]) -> list[Cell]:
    """A cell in parts that end at places."""
    marks = [cell.first, *sorted({place for place in at if cell.first < place < cell.last}), cell.last]
    return [cell._replace(first=first, last=last) for first, last in zip(marks, marks[1:])]


def open_until(built: Built, places: Array, way: Array, reach: Array, beside: float) -> Bools:
    """From which places (n, 3) nothing solid stands along a unit vector (3,) for so far (n,); rays begin ``beside`` of
    the place.

    >>> from wise_compass.geometry.block_shapes import Block
    >>> wall = Built((Block("box", (0, 0, 0), (10, 2, 10)),))
    >>> at = np.array([[5.0, 9, 5]] * 2)
    >>> open_until(wall, at, np.array([0.0, -1, 0]), np.array([5.0, 20.0]), 1e-6).tolist()
    [True, False]
    """
    ways = np.broadcast_to(way, places.shape)
    first, last = built.packed.spans(places, ways)
    first, last = np.clip(first, beside, None), np.minimum(last, reach)
    holes = built.packed.holes
    cuts = np.sort(np.concatenate([first, last]), axis=0)  # what is no number comes last
    with np.errstate(invalid="ignore"):  # stretches that are endless
        middles, wide = (cuts[1:] + cuts[:-1]) / 2, cuts[1:] - cuts[:-1] > 1e-9 * built.span
    within = (middles > first[:, None]) & (middles < last[:, None])
    return np.asarray(~(within[~holes].any(axis=0) & ~within[holes].any(axis=0) & wide).any(axis=0))
