"""How much several holes together take of a block, where no closed form tells it: by slices of it, and lines across
those.

A slice is parted where a side of a hole or of the block begins, ends, or meets another, so that what is summed up
within a part is smooth (Gauss's rule); slices are summed up by an adaptive Gauss–Kronrod rule.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from itertools import combinations

import numpy as np

from wise_compass.geometry.block_shapes import Block, Packed
from wise_compass.geometry.blocks import as_cylinder
from wise_compass.geometry.borders import borders
from wise_compass.geometry.vectors import Array, Bools, Ints

LOOKS, HALVINGS = 32, 28
"""Places across a slice at which it is looked what lies there; bisections by which it is found where that changes."""
UNEVEN = 0.3718
"""Of a step: where such places begin, so that what is symmetrical meets at none of them."""
BESIDE = 1e-9
"""Of a size: how far within its ends it is looked too."""
PEAKS, NARROWINGS = 8, 8
"""Into how many parts a stretch is cut to find where two overlap most, and how often."""
SLICES = 64
"""Slices at which it is looked into how many parts they fall."""
NODES = 32
"""Of Gauss's rule, in a part of a slice."""
TRUE, DEEPEST = 1e-12, 40
"""Of the whole volume: by how much the two rules of a stretch may differ; how often one is halved at most."""
KRONROD = np.array(
    [
        (0.991455371120812639206854697526329, 0.022935322010529224963732008058970, 0.0),
        (0.949107912342758524526189684047851, 0.063092092629978553290700663189204, 0.129484966168869693270611432679082),
        (0.864864423359769072789712788640926, 0.104790010322250183839876322541518, 0.0),
        (0.741531185599394439863864773280788, 0.140653259715525918745189590510238, 0.279705391489276667901467771423780),
        (0.586087235467691130294144691693013, 0.169004726639267902826583426598550, 0.0),
        (0.405845151377397166906606412076961, 0.190350578064785409913256402421014, 0.381830050505118944950369775488975),
        (0.207784955007898467600689403773245, 0.204432940075298892414161999234649, 0.0),
        (0.0, 0.209482141084727828012999174891714, 0.417959183673469387755102040816327),
    ]
)
"""The rule of fifteen places from −1 to 1 and that of seven within it (Kronrod): from the outermost to the middle, each
place with its two weights."""


@lru_cache(maxsize=256)
def taken_together(holes: tuple[Block, ...], block: Block) -> float:
    """The volume of what round holes take together of a convex block, in mm³.

    >>> box = Block("box", (0, 0, 0), (20, 20, 20))
    >>> bores = (Block("hole", (5, 5, 0), (10, 10, 20)), Block("hole-front", (0, 5, 5), (20, 10, 10)))
    >>> both = 2 * np.pi * 25 * 20 - 16 * 125 / 3  # less what two equal bores have in common
    >>> abs(taken_together(bores, box) - both) < 1e-8
    True
    """
    slices = _Slices(holes, block)
    return _adaptive(slices.area, slices.stretches, block.volume)


class _Slices:
    """Slices of holes and of the block that they are in: square to the axis that the fewest of them run along."""

    def __init__(self, holes: Sequence[Block], block: Block) -> None:
        self.packed = Packed([*map(as_cylinder, holes), block])
        axes = [one.axis for one in (*holes, block)]
        # slices of a cone along its axis are round, others bounded by hyperbolas
        self.up, self.along, self.across = sorted(
            range(3), key=lambda k: (block.shape == "cone" and k != 2, axes.count(k))
        )
        self.way = np.eye(3)[self.across]

    def _levels(self, axis: int) -> list[float]:
        """Where along an axis a box of any of them begins or ends, within the block."""
        low, size = self.packed.low[:, axis], self.packed.size[:, axis]
        ends = np.clip(np.concatenate([low, low + size]), low[-1], low[-1] + size[-1])
        return sorted(set(ends.tolist()))

    @property
    def stretches(self) -> tuple[Array, Array]:
        """From where to where slices lie between such levels, and those at which their number of parts changes: there
        what they hold has a root."""
        levels = np.array(self._levels(self.up))
        whole = levels[-1] - levels[0]
        even = levels[0] + whole * (np.arange(SLICES) + UNEVEN) / SLICES
        ups = np.unique(np.concatenate([even, levels[:-1] + BESIDE * whole, levels[1:] - BESIDE * whole]))
        counts = self._count(ups)
        between = np.searchsorted(levels, ups)
        step = np.flatnonzero((counts[1:] != counts[:-1]) & (between[1:] == between[:-1]))

        def as_below(at: Array, which: Ints) -> Bools:
            return np.asarray(self._count(at) == counts[step[which]])

        turns = borders(as_below, ups[step], ups[step + 1], np.ones(len(step), dtype=bool), HALVINGS)
        levels = np.sort(np.concatenate([levels, turns]))
        return levels[:-1], levels[1:]

    def _count(self, up: Array) -> Ints:
        """Into how many parts each slice falls, (n,)."""
        slices, first, last = self._parts(up)
        wide = last - first > BESIDE * self.packed.size[-1, self.along]
        return np.bincount(slices[wide], minlength=len(up))

    def _sides(self, up: Array, along: Array) -> tuple[Array, Array]:
        """From where to where every one of them, the block last, reaches across a slice, (blocks, n) both; NaN where it
        does not."""
        places = np.zeros((len(up), 3))
        places[:, self.up], places[:, self.along] = up, along
        low, high = self.packed.spans(places, np.broadcast_to(self.way, places.shape))
        there = low < high
        return np.where(there, low, np.nan), np.where(there, high, np.nan)

    def _long(self, up: Array, along: Array) -> Array:
        """How much of lines across slices holes take, (n,)."""
        low, high = self._sides(up, along)
        low, high = np.maximum(low[:-1], low[-1]), np.minimum(high[:-1], high[-1])
        there = low < high  # not where any is no number
        low, high = np.where(there, low, np.inf), np.where(there, high, -np.inf)
        order = np.argsort(low, axis=0)
        low, high = np.take_along_axis(low, order, axis=0), np.take_along_axis(high, order, axis=0)
        reached = np.maximum.accumulate(high, axis=0)
        begins = low.copy()
        begins[1:] = np.maximum(low[1:], reached[:-1])
        with np.errstate(invalid="ignore"):
            return np.asarray(np.where(high > begins, high - begins, 0.0).sum(axis=0))

    def area(self, up: Array) -> Array:
        """What holes take of slices, (n,)."""
        slices, first, last = self._parts(up)
        turns = np.pi / 2 * _gauss()[0]  # round sides end upright: as a half circle's places
        half, middle = (last - first)[:, None] / 2, (first + last)[:, None] / 2
        along = middle + half * np.sin(turns)
        long = self._long(np.repeat(up[slices], NODES), along.ravel()).reshape(along.shape)
        areas = (long * np.cos(turns)) @ _gauss()[1] * half[:, 0] * np.pi / 2
        return np.asarray(np.bincount(slices, areas, len(up)), dtype=float)

    def _parts(self, up: Array) -> tuple[Ints, Array, Array]:
        """The parts of slices within which nothing changes: the number of each one's slice, and from where to where."""
        levels = self._levels(self.along)
        even = levels[0] + (levels[-1] - levels[0]) * (np.arange(LOOKS) + UNEVEN) / LOOKS
        low, size = self.packed.low[:, self.along], self.packed.size[:, self.along]
        # a narrow one has room at its middle; sides meet close to where one of them begins
        inner = np.concatenate([low + share * size for share in (BESIDE, 0.5, 1.0 - BESIDE)])
        same = np.unique(np.concatenate([even, levels, np.clip(inner, levels[0], levels[-1])]))
        marks = np.broadcast_to(same, (len(up), len(same)))
        ends, ended = self._ends(up, marks)
        beside = BESIDE * float(size[-1])
        marks = _marked(marks, np.concatenate([ended, ended]), np.concatenate([ends - beside, ends + beside]))
        marks = self._with_slivers(up, marks)
        at, met = self._meetings(up, marks, self._sides_at(up, marks))
        numbers = np.concatenate([ended, met, np.repeat(np.arange(len(up)), len(levels))])
        at = np.concatenate([ends, at, np.tile(levels, len(up))])
        order = np.lexsort((at, numbers))
        numbers, at = numbers[order], at[order]
        mine = np.flatnonzero((numbers[1:] == numbers[:-1]) & (at[1:] > at[:-1]))
        return numbers[mine], at[mine], at[mine + 1]

    def _ends(self, up: Array, marks: Array) -> tuple[Array, Ints]:
        """Where any begins or ends between two marks, and in which slices."""
        there = np.isfinite(self._sides_at(up, marks)[: len(self.packed.low)])
        which, slices, step = np.nonzero(there[:, :, 1:] != there[:, :, :-1])

        def reaches(at: Array, part: Ints) -> Bools:
            return np.isfinite(self._sides(up[slices[part]], at)[0][which[part], np.arange(len(at))])

        ends = marks[slices, step], marks[slices, step + 1]
        return borders(reaches, *ends, there[which, slices, step], HALVINGS), slices

    def _sides_at(self, up: Array, marks: Array) -> Array:
        """The lower sides of all, then the upper ones, at the marks of slices, (slices, n): (sides, slices, n)."""
        low, high = self._sides(np.repeat(up, marks.shape[1]), marks.ravel())
        return np.concatenate([low, high]).reshape(2 * len(low), *marks.shape)

    def _with_slivers(self, up: Array, marks: Array) -> Array:
        """Marks with one more in a slice for every two that overlap between two marks alone: what two convex ones share
        across it has one peak."""
        sides, count = self._sides_at(up, marks), len(self.packed.low)
        one, other = np.array(list(combinations(range(count), 2))).T
        shared = _shared(sides[one], sides[count + one], sides[other], sides[count + other])
        at = shared.argmax(axis=2)
        peak = np.take_along_axis(shared, at[..., None], axis=2)[..., 0]
        pair, slices = np.nonzero((peak <= 0.0) & np.isfinite(peak))
        if not len(pair):
            return marks
        at, each, shares = at[pair, slices], np.arange(len(pair)), np.arange(PEAKS + 1) / PEAKS
        low, high = marks[slices, np.maximum(at - 1, 0)], marks[slices, np.minimum(at + 1, marks.shape[1] - 1)]
        one, other = one[pair], other[pair]
        for _ in range(NARROWINGS):
            inner = low[:, None] + (high - low)[:, None] * shares
            mine = self._sides_at(up[slices], inner)
            over = _shared(*(mine[side, each] for side in (one, count + one, other, count + other)))
            best = over.argmax(axis=1)
            low, high = inner[each, np.maximum(best - 1, 0)], inner[each, np.minimum(best + 1, PEAKS)]
        found = over[each, best] > 0.0
        return _marked(marks, slices[found], inner[each, best][found])

    def _meetings(self, up: Array, marks: Array, sides: Array) -> tuple[Array, Ints]:
        """Where two sides meet, between two marks each, and in which slices."""
        pairs = np.array(list(combinations(range(len(sides)), 2)))
        gaps = sides[pairs[:, 0]] - sides[pairs[:, 1]]
        with np.errstate(invalid="ignore"):
            pair, slices, step = np.nonzero(gaps[:, :, 1:] * gaps[:, :, :-1] < 0.0)
        one, other = pairs[pair].T

        def below(at: Array, part: Ints) -> Bools:
            both, each = np.concatenate(self._sides(up[slices[part]], at)), np.arange(len(at))
            return np.asarray(both[one[part], each] < both[other[part], each])

        ends = marks[slices, step], marks[slices, step + 1]
        return borders(below, *ends, gaps[pair, slices, step] < 0.0, HALVINGS), slices


def _marked(marks: Array, slices: Ints, at: Array) -> Array:
    """The marks of slices, (slices, n), in order, with more of them ``at`` places of some slices, (m,)."""
    if not len(at):
        return marks
    order = np.argsort(slices, kind="stable")
    slices, at = slices[order], at[order]
    place = np.arange(len(at)) - np.searchsorted(slices, slices)
    more = np.full((len(marks), int(place.max()) + 1), marks[:, :1])
    more[slices, place] = np.clip(at, marks[slices, 0], marks[slices, -1])
    return np.sort(np.concatenate([marks, more], axis=1), axis=1)


def _shared(low: Array, high: Array, other_low: Array, other_high: Array) -> Array:
    """How much two stretches share; less than 0 where they do not, −∞ where one is none."""
    over = np.minimum(high, other_high) - np.maximum(low, other_low)
    return np.asarray(np.where(np.isnan(over), -np.inf, over))


@lru_cache(maxsize=1)
def _gauss() -> tuple[Array, Array]:
    nodes, weights = np.polynomial.legendre.leggauss(NODES)
    return nodes, weights


def _adaptive(of: Callable[[Array], Array], stretches: tuple[Array, Array], whole: float) -> float:
    """The integral of a function over stretches whose ends may be roots of it: by the angle of a half circle, each
    halved until both rules agree to a share of the ``whole``."""
    first, last = stretches
    low, high = np.full(len(first), -np.pi / 2), np.full(len(first), np.pi / 2)
    nodes = np.concatenate([-KRONROD[:, 0], KRONROD[-2::-1, 0]])
    weights = np.concatenate([KRONROD[:, 1:], KRONROD[-2::-1, 1:]])
    total = 0.0
    for depth in range(DEEPEST):
        if not len(low):
            break
        turns = (low + high)[:, None] / 2 + (high - low)[:, None] / 2 * nodes
        half = (last - first)[:, None] / 2
        at = (first + last)[:, None] / 2 + half * np.sin(turns)
        values = of(at.ravel()).reshape(at.shape) * np.cos(turns) * half * (high - low)[:, None] / 2
        fine, coarse = (values @ weights).T
        good = np.abs(fine - coarse) <= TRUE * whole
        if depth == DEEPEST - 1:
            good[:] = True
        total += float(fine[good].sum())
        middle = (low + high)[~good] / 2
        first, last = (np.tile(each[~good], 2) for each in (first, last))
        low, high = np.concatenate([low[~good], middle]), np.concatenate([middle, high[~good]])
    return total
