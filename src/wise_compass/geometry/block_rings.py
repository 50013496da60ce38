"""How much is solid all round places of edges: whether two faces meet there at an angle, run flush, or touch others."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.blocks import Built
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Bools, unit

ROUND = 1e-5
"""Of the whole's size: how far round an edge it is looked for matter."""
WAYS = 48
"""The ways round an edge that are looked at."""
PARTS, TURNINGS = 24, 2
"""Into how many parts a stretch between two ways is cut to find where it changes, and how often."""
FLAT = 0.05
"""Degrees by which two faces turn at least, to make an edge."""
Numbers = NDArray[np.int64]


class Ring:
    """How much is solid round places of edges, each in the plane square to its edge, of the blocks that are
    ``near``."""

    turns = (np.arange(WAYS) + 0.3718) * 2 * np.pi / WAYS

    def __init__(self, built: Built, places: Array, ways: Array, near: Bools) -> None:
        self.built, self.places, self.near = built, places, near
        self.first = unit(cross3(ways, np.eye(3)[np.argmin(np.abs(ways), axis=1)]))
        self.second = cross3(ways, self.first)
        self.full = self.solid(self.turns[None], np.arange(len(places)))

    def solid(self, turn: Array, mine: Numbers) -> Bools:
        """At angles, (n, m) or (1, m), round some of the places."""
        reach = ROUND * self.built.span
        c, s = reach * np.cos(turn)[..., None], reach * np.sin(turn)[..., None]
        off = c * self.first[mine, None] + s * self.second[mine, None]
        return self.built.holds_about(self.places[mine], off, self.near[:, mine])

    @cached_property
    def several(self) -> Bools:
        """Where what is solid does not hang together."""
        return np.asarray((self.full & ~np.roll(self.full, 1, axis=1)).sum(axis=1) > 1)

    def edges(self) -> Bools:
        """Whether faces meet there at an angle."""
        count = self.full.sum(axis=1)
        found = np.asarray((count > 0) & (count < WAYS))
        straight = np.flatnonzero(found & ~self.several & (np.abs(count - WAYS // 2) <= 1))
        found[straight] = self._bends(straight, self.full[straight])
        return found

    def flush(self, sights: Array) -> Bools:
        """Whether towards the eye, along the unit vectors ``sights``, (n, 3), two faces run flush, whatever lies behind
        them."""
        e = np.arctan2((sights * self.second).sum(axis=1), (sights * self.first).sum(axis=1))
        nearest = np.round(e / (2 * np.pi) * WAYS - 0.3718).astype(np.int64) % WAYS
        turned = (nearest[:, None] + np.arange(WAYS)) % WAYS
        empty = ~np.take_along_axis(self.full, turned, axis=1)
        open_ = np.minimum.accumulate(empty, axis=1) | np.minimum.accumulate(empty[:, ::-1], axis=1)[:, ::-1]
        shut = np.ones_like(open_)
        np.put_along_axis(shut, turned, ~open_, axis=1)
        found = np.asarray(empty[:, 0] & (np.abs(open_.sum(axis=1) - WAYS // 2) <= 1))
        straight = np.flatnonzero(found)
        found[straight] = ~self._bends(straight, shut[straight])
        return found

    def _bends(self, mine: Numbers, full: Bools) -> Bools:
        return _bends(lambda turn: self.solid(turn, mine), full, self.turns)


def _bends(solid: Callable[[Array], Bools], full: Bools, turns: Array) -> Bools:
    """Of places that are solid half-way round, or nearly, whether it is not just half."""
    rows, part = np.arange(len(full)), 2 * np.pi / WAYS
    begins = np.argmax(full & ~np.roll(full, 1, axis=1), axis=1), np.argmax(~full & np.roll(full, 1, axis=1), axis=1)
    high = np.stack([turns[k] for k in begins])
    low, shares = high - part, np.arange(1, PARTS) / PARTS
    for _ in range(TURNINGS):
        inner = low[..., None] + shares * (high - low)[..., None]
        both = solid(np.concatenate(list(inner), axis=1)).reshape(len(full), 2, PARTS - 1)
        passed = np.stack([(both[:, 0]).argmax(axis=1), (~both[:, 1]).argmax(axis=1)])
        never = np.stack([~both[:, 0].any(axis=1), both[:, 1].all(axis=1)])
        places = np.concatenate([low[..., None], inner, high[..., None]], axis=2)
        last = np.where(never, PARTS - 1, passed)
        low, high = (np.stack([places[side, rows, last[side] + k] for side in (0, 1)]) for k in (0, 1))
    ends = (low + high) / 2
    wide = np.degrees((ends[1] - ends[0]) % (2 * np.pi))
    return np.asarray(np.abs(wide - 180.0) > FLAT)
