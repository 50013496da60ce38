"""Where the lines of a solid built of blocks cross in an eye's picture: only there may one begin or cease to hide
another.

Straight ones and plane rims cross each other in closed form. Where two rims do, or a line and a rim on a saddle, it is
looked for by even steps, and found by false position.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Bools

Numbers = NDArray[np.int64]
Places = tuple[Numbers, Array]
"""Lines by their numbers, and where on each, from 0 to 1."""
Found = Iterator[Places]

ONE = 1e-9
"""Of a line: places of it that are nearer than this are one."""
FLAT = 1e-9
"""The sine under which a rim is seen that is on edge; by how little a plane may miss a rim, or cut into it, that
touches it."""
STEPS, NARROWINGS = 96, 8
"""Of a rim: places at which it is looked on which side of another it is; how often a crossing is found anew."""
TRUE = 1e-11
"""Of what a function changes by from step to step: nearer to 0 it is found."""
COVERS = 1e-7
"""Of a rim's size: one that is never further from another in the picture lies on it."""


class DrawnLines(NamedTuple):
    """Lines that one eye looks at: ``towards`` is the way to it, (3,), or, where it ``stands``, its place.

    Each begins at or goes round ``starts``, (n, 3), and goes by ``ones``, (n, 3), those that are ``round`` to
    ``others``, (n, 3), and back; of those on ``saddles``, by number, only ``at`` tells the places.
    """

    towards: Array
    stands: bool
    starts: Array
    ones: Array
    others: Array
    round: Bools
    saddles: Bools
    at: Callable[[Places], Array]

    def sights(self, places: Array) -> Array:
        """The way from places to the eye, as long as it is far where it stands."""
        return np.asarray(self.towards - float(self.stands) * places)


def crossings(drawn: DrawnLines) -> Places:
    """Where they cross, in no order; on rims that are seen on edge, where they turn back too.

    >>> starts, ones = np.array([[0.0, 5, 0], [1.0, 0, 0]]), np.array([[4.0, 0, 0], [0.0, 0, 2]])
    >>> none = np.zeros(2, dtype=bool)
    >>> seen = DrawnLines(np.array([0.0, -1, 0]), False, starts, ones, ones, none, none, lambda at: starts)
    >>> [each.tolist() for each in crossings(seen)]
    [[0], [0.25]]
    """
    looked = _Crossings(drawn)
    found = [*looked.of_straight(), *looked.of_rims(), *looked.of_saddles()]
    if not found:
        return np.zeros(0, dtype=int), np.zeros(0)
    numbers, at = (np.concatenate(each) for each in zip(*found))
    return numbers, at


class _Crossings:
    """Rims that are seen on edge count as the straight lines that they are in the picture, from where they turn back to
    where they do so again."""

    def __init__(self, drawn: DrawnLines) -> None:
        self.drawn, self.near = drawn, float(drawn.stands)
        plane = np.flatnonzero(drawn.round & ~drawn.saddles)
        one, other = drawn.ones[plane], drawn.others[plane]
        normals, sights = cross3(one, other), drawn.sights(drawn.starts[plane])
        steep = (normals * sights).sum(axis=1)
        sizes = np.sqrt((normals**2).sum(axis=1) * (sights**2).sum(axis=1))
        flat = np.abs(steep) <= FLAT * sizes
        self.edges, self.rims = plane[flat], plane[~flat]
        self.saddles = np.flatnonzero(drawn.saddles)
        # what tells how far along a rim's own two ways something is, as it is seen: (n, 2, 3)
        square = (normals**2).sum(axis=1)[:, None]
        ways = np.stack([cross3(other, normals) / square, cross3(normals, one) / square], axis=1)
        self.eyes = (ways @ sights[:, :, None])[flat, :, 0]  # the eye, or the way to it, in the plane of a rim on edge
        self.seen = (
            ways[~flat] - (ways @ (sights / np.where(flat, 1.0, steep)[:, None])[:, :, None] * normals[:, None])[~flat]
        )
        self.off = self.near * (normals / np.where(flat, 1.0, steep)[:, None])[~flat]

        towards = np.arctan2(self.eyes[:, 1], self.eyes[:, 0])
        away = np.maximum(np.hypot(self.eyes[:, 0], self.eyes[:, 1]), 1.0)
        half = np.arccos(1.0 / away) if drawn.stands else np.full(len(towards), np.pi / 2)
        self.turned = np.stack([towards - half, towards + half])  # (2, n)
        straight = np.flatnonzero(~drawn.round)
        first, last = self._on_edges(np.cos(self.turned), np.sin(self.turned))
        self.lines = np.concatenate([straight, self.edges])
        self.starts = np.concatenate([drawn.starts[straight], first])
        self.ways = np.concatenate([drawn.ones[straight], last - first])
        self.straight = len(straight)
        self.normals = cross3(drawn.sights(self.starts), self.ways)  # of the plane that a line and the eye are in

    def _on_edges(self, c: Array, s: Array) -> Array:
        middle, one, other = (each[self.edges] for each in (self.drawn.starts, self.drawn.ones, self.drawn.others))
        return np.asarray(middle + c[..., None] * one + s[..., None] * other)

    def _lines_at(self, mine: Numbers, t: Array) -> Found:
        """Places of lines; of rims on edge those of both sides."""
        plain = mine < self.straight
        yield self.lines[mine[plain]], t[plain]
        edges, share = mine[~plain] - self.straight, t[~plain, None]
        if not len(edges):
            return
        first, last = (np.stack([np.cos(turn), np.sin(turn)], axis=1)[edges] for turn in self.turned)
        at = first + share * (last - first)
        sights = self.eyes[edges] - self.near * at
        square, along, out = ((one * other).sum(axis=1) for one, other in ((sights, sights), (at, sights), (at, at)))
        root = np.sqrt(np.maximum(along**2 - square * (out - 1.0), 0.0))
        for by in (-root, root):
            place = at + ((by - along) / square)[:, None] * sights
            yield self.edges[edges], np.arctan2(place[:, 1], place[:, 0]) / (2 * np.pi) % 1.0

    def of_straight(self) -> Found:
        """Of straight lines with each other, and with plane rims: those meet the plane of a line and the eye at two
        turns."""
        for turn in self.turned:
            yield self.edges, turn / (2 * np.pi) % 1.0
        off = (self.starts * self.normals).sum(axis=1) - self.starts @ self.normals.T
        with np.errstate(divide="ignore", invalid="ignore"):
            t = off / (self.ways @ self.normals.T)
        good = (t > 0.0) & (t < 1.0) & (t.T > -ONE) & (t.T < 1 + ONE)
        np.fill_diagonal(good, False)
        yield from self._lines_at(np.nonzero(good)[0], t[good])
        if not len(self.rims):
            return
        middle, one, other = (each[self.rims] for each in (self.drawn.starts, self.drawn.ones, self.drawn.others))
        a, b = self.normals @ one.T, self.normals @ other.T
        c = (self.starts * self.normals).sum(axis=1)[:, None] - self.normals @ middle.T
        with np.errstate(divide="ignore", invalid="ignore"):
            deep = c / np.hypot(a, b)
            half = np.arccos(
                np.where(np.abs(np.abs(deep) - 1.0) < FLAT, np.sign(deep), deep)
            )  # what only touches does so once
        turn = (np.arctan2(b, a) + half * np.array([-1.0, 1.0])[:, None, None]).transpose(1, 2, 0)
        line, rim, _ = each = np.nonzero(np.isfinite(turn))
        places = middle[rim] + np.cos(turn[each])[:, None] * one[rim] + np.sin(turn[each])[:, None] * other[rim]
        yield from self._both(line, self.rims[rim], turn[each] / (2 * np.pi) % 1.0, places)

    def _both(self, line: Numbers, rims: Numbers, at: Array, places: Array) -> Found:
        """On lines and on rims, of places of rims that lie in the plane of a line and the eye, those that the line
        covers."""
        across = cross3(self.drawn.sights(places), self.normals[line])
        with np.errstate(divide="ignore", invalid="ignore"):
            t = ((places - self.starts[line]) * across).sum(axis=1) / (self.ways[line] * across).sum(axis=1)
        good = (t > -ONE) & (t < 1 + ONE)
        yield rims[good], at[good]
        yield from self._lines_at(line[good], t[good])

    @cached_property
    def _stepped(self) -> Array:
        """Places of plane rims and saddles at even steps, (n, steps + 1, 3)."""
        at, rims = np.arange(STEPS + 1) / STEPS, np.concatenate([self.rims, self.saddles])
        places = self.drawn.at((np.repeat(rims, len(at)), np.tile(at, len(rims))))
        return places.reshape(len(rims), -1, 3)

    def of_rims(self) -> Found:
        """Of rims with plane rims: inside one of those in the picture, or outside."""
        if not len(self.rims):
            return
        count, middles = len(self.rims), self.drawn.starts[self.rims]
        flat = self._stepped.reshape(-1, 3)
        x, y, off = (
            way @ flat.T - (way * middles).sum(axis=1)[:, None] for way in (self.seen[:, 0], self.seen[:, 1], self.off)
        )
        weight = 1.0 - off
        sides = (x**2 + y**2 - weight**2).reshape(count, len(self._stepped), -1)
        sides = np.where(np.abs(sides).max(axis=2, keepdims=True) > COVERS, sides, 1.0)
        sides[np.tril_indices(count)] = 1.0  # each pair once
        rim, other, step = np.nonzero((sides[:, :, 1:] < 0.0) != (sides[:, :, :-1] < 0.0))
        if not len(rim):
            return
        others = np.concatenate([self.rims, self.saddles])[other]

        def outside(t: Array) -> Array:
            own = self._own(rim, self.drawn.at((others, t)))
            return np.asarray(own[0] ** 2 + own[1] ** 2 - own[2] ** 2)

        ends = (sides[rim, other, step], sides[rim, other, step + 1])
        at = _root(outside, step / STEPS, (step + 1) / STEPS, ends)
        yield others, at
        own = self._own(rim, self.drawn.at((others, at)))
        yield self.rims[rim], np.arctan2(own[1], own[0]) / (2 * np.pi) % 1.0

    def _own(self, rim: Numbers, places: Array) -> Array:
        """How far along a rim's own two ways places are as the eye sees them, and what that is of, (3, n)."""
        away = places - self.drawn.starts[self.rims[rim]]
        x, y = ((self.seen[rim, k] * away).sum(axis=1) for k in (0, 1))
        return np.stack([x, y, 1.0 - (self.off[rim] * away).sum(axis=1)])

    def of_saddles(self) -> Found:
        """Of straight lines with rims on saddles."""
        if not len(self.saddles) or not len(self.lines):
            return
        flat = self._stepped[len(self.rims) :].reshape(-1, 3)
        level = (self.starts * self.normals).sum(axis=1)
        sides = (self.normals @ flat.T - level[:, None]).reshape(len(self.lines), len(self.saddles), -1)
        line, rim, step = np.nonzero((sides[:, :, 1:] < 0.0) != (sides[:, :, :-1] < 0.0))
        rims, ends = self.saddles[rim], (sides[line, rim, step], sides[line, rim, step + 1])

        def beyond(t: Array) -> Array:
            return np.asarray((self.normals[line] * self.drawn.at((rims, t))).sum(axis=1) - level[line])

        at = _root(beyond, step / STEPS, (step + 1) / STEPS, ends)
        yield from self._both(line, rims, at, self.drawn.at((rims, at)))


def _root(of: Callable[[Array], Array], low: Array, high: Array, ends: tuple[Array, Array]) -> Array:
    """Where functions pass 0, all at once, between places where they have the values ``ends`` of two signs: by false
    position, the end that stays counting half (the Illinois rule)."""
    below, above = ends
    small = TRUE * (np.abs(below) + np.abs(above))
    stayed = np.zeros((2, len(low)), dtype=bool)
    for _ in range(NARROWINGS):
        at = low + (high - low) * below / (below - above)
        value = of(at)
        if (np.abs(value) <= small).all():
            return np.asarray(at)
        left = (value < 0.0) == (below < 0.0)
        below, above = (
            np.where(left, value, below * np.where(stayed[0], 0.5, 1.0)),
            np.where(left, above * np.where(stayed[1], 0.5, 1.0), value),
        )
        low, high = np.where(left, at, low), np.where(left, high, at)
        stayed = np.stack([~left, left])
    return np.asarray(np.where(np.abs(below) < np.abs(above), low, high))
