"""Values with their working, truths that a figure must satisfy, and the proofs that come of holding a run to them.

A figure states its **values** by formula, its **truths** by definition, and its **measure** by reading the found
points. None may use the steps of a method. The tests hold them against each other for every method of the catalogue. A
truth's limit is a part of the figure's size (``drafting/truths.py``), near the rounding of doubles.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Number

LIMIT = 1e-11
"""The largest miss that an exact method is allowed, as a part of the figure's size: some ten thousand roundings of a
double."""
ANGLE_LIMIT = 1e-9
"""The same for an angle, in degrees."""


class Value(NamedTuple):
    """A derived quantity. ``value`` is a number, or a list of numbers where the figure has several of one kind.

    ``working`` is the formula with this figure's numbers put in; ``marks`` names the spots it belongs to. ``drawn``
    says that it belongs to the drawing an approximate method makes, not to the exact figure.
    """

    name: str
    value: Any
    unit: str
    working: str
    marks: tuple[str, ...] = ()
    drawn: bool = False


class Truth(NamedTuple):
    """A statement that defines the figure, with how far the found points are from it (mm or degrees, any shape)."""

    says: str
    misses: Number
    unit: str = "mm"


class Proof(NamedTuple):
    """A truth held against one run."""

    says: str
    miss: float
    unit: str
    limit: float
    holds: bool
    by_design: bool


def prove(truth: Truth, exact: bool, size: float) -> Proof:
    """Hold a truth of a figure ``size`` mm large: the largest miss against the limit. A miss that is not a number holds
    nothing."""
    misses = np.abs(np.asarray(truth.misses, dtype=float))
    miss = float(misses.max()) if misses.size else 0.0
    limit = LIMIT * max(size, 1.0) if truth.unit == "mm" else ANGLE_LIMIT
    holds = bool(miss <= limit)
    return Proof(truth.says, miss, truth.unit, limit, holds, by_design=not holds and not exact)


class Found(Mapping[str, Array]):
    """The points that a run found, by name; leading axes are hands. ``method`` is the id of the method that found
    them."""

    def __init__(self, points: dict[str, Array], method: str = "") -> None:
        self._points, self.method = points, method
        self._groups: dict[str, Array] = {}
        self._numbered: dict[str, list[str]] = {}

    def __getitem__(self, name: str) -> Array:
        return self._points[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._points)

    def __len__(self) -> int:
        return len(self._points)

    def names(self, prefix: str) -> list[str]:
        """The names made of ``prefix`` and a number, in the order of the numbers."""
        if not self._numbered:
            for name in self._points:
                stem = name.rstrip("0123456789")
                if stem != name:
                    self._numbered.setdefault(stem, []).append(name)
        have = [
            name
            for name in self._numbered.get(prefix.rstrip("0123456789"), ())
            if name.startswith(prefix) and name != prefix
        ]
        return sorted(have, key=lambda name: int(name[len(prefix) :]))

    def group(self, prefix: str) -> Array:
        """The points ``prefix0, prefix1 …`` stacked on the axis before the last."""
        if prefix not in self._groups:
            self._groups[prefix] = self.together(self.names(prefix))
        return self._groups[prefix]

    def together(self, names: list[str]) -> Array:
        """The named points stacked on the axis before the last."""
        return np.stack(np.broadcast_arrays(*(self._points[name] for name in names)), axis=-2)
