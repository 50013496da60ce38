"""The instruments: how far each reaches and how far an ordinary, careful hand strays with it.

Every limit is one that 95 hands in 100 keep. None of them comes from a standard, since no standard fixes a hand; each
is an assumption, stated in :attr:`Tolerance.basis`, and anyone who has measured a hand may put their own number there.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.kit import Drafter
from wise_compass.geometry.vectors import Array, Number


class Tolerance(NamedTuple):
    """One way in which a hand strays: ``limit`` (mm or degrees) is what 95 in 100 stay within, for the stated
    reason."""

    id: str
    limit: float
    unit: str
    basis: str

    @property
    def sd(self) -> float:
        """One standard deviation: 95 in 100 of a normal error lie within two of them."""
        return self.limit / 2


_LINE = 0.25
"""The width of a pencil line, in mm."""
TOLERANCES = {
    tolerance.id: tolerance
    for tolerance in (
        Tolerance("compass setting", 0.3, "mm", "Assumed: a setting read off a millimetre rule to a third of a space."),
        Tolerance(
            "compass prick", _LINE, "mm", "Assumed: a needle set by eye on a crossing, within a line's width each way."
        ),
        Tolerance(
            "pencil mark",
            0.6 * _LINE,
            "mm",
            "Assumed: a crossing read to half a line's width, a little more where it is shallow.",
        ),
        Tolerance("rule mark", 0.3, "mm", "Assumed: the same reading of a millimetre rule as for the compass."),
        Tolerance(
            "straightedge", _LINE, "mm", "Assumed: the line passes each of its two points within a line's width."
        ),
        Tolerance("set square", 0.1, "°", "Assumed: a good square true to 0.2 mm over 120 mm, its sliding included."),
        Tolerance("protractor", 0.25, "°", "Assumed: a protractor of half degrees read to the nearest division."),
        Tolerance(
            "dividers taken", 0.7 * _LINE, "mm", "Assumed: two points pricked up, each within half a line's width."
        ),
        Tolerance(
            "dividers stepped",
            _LINE / 2,
            "mm",
            "Assumed: one prick set down for each step taken, within half a line's width.",
        ),
        Tolerance("trammel", 0.3, "mm", "Assumed: a strip's mark laid on a line by eye, as a rule's is."),
    )
}


FOLLOWING = ("compass prick", "pencil mark", "straightedge", "trammel")
"""Tolerances that no exercise measures: they follow those that are measured, in their assumed ratio."""


def with_following(limits: Mapping[str, float]) -> dict[str, float]:
    """Limits in mm and degrees by tolerance as they were measured, and those that follow: by as much larger than
    assumed as the measured lengths are, at their geometric mean.

    >>> sorted(with_following({"compass setting": 0.6}).items())[:2]
    [('compass prick', 0.5), ('compass setting', 0.6)]
    """
    ratios = [limit / TOLERANCES[name].limit for name, limit in limits.items() if TOLERANCES[name].unit == "mm"]
    if not ratios:
        return dict(limits)
    ratio = math.exp(sum(map(math.log, ratios)) / len(ratios))
    return {**{name: ratio * TOLERANCES[name].limit for name in FOLLOWING}, **limits}


class Deviation(NamedTuple):
    """One draw of one tolerance: at which step, by how much each hand strayed, shape (hands + 1,) or (…, 2), and the
    standard deviation at true size."""

    step: int
    tolerance: Tolerance
    by: Array
    sd: float


class SteadyHand:
    """The exact run: no lanes, no error."""

    lanes: tuple[int, ...] = ()

    def strays(self, tolerance: str, step: int) -> Number:
        return 0.0

    def strays_both_ways(self, tolerance: str, step: int) -> Any:
        return 0.0


class UnsteadyHands(SteadyHand):
    """Many hands at once, on a sheet at ``scale``. Lane 0 never strays, so that it carries the exact figure beside the
    others."""

    def __init__(
        self, count: int, seed: int | tuple[int, int] | None, scale: float = 1.0, drafter: Drafter | None = None
    ) -> None:
        self.lanes, self.scale, self.drafter = (count + 1,), scale, drafter or Drafter()
        self.made: list[Deviation] = []
        self._random = np.random.default_rng(seed)

    def _drawn(self, tolerance: str, step: int, shape: tuple[int, ...]) -> Array:
        known = TOLERANCES[tolerance]
        known = known._replace(limit=self.drafter.limit(known.id, known.limit))
        # a slip of the pencil on the paper is so much more in the field
        sd = known.sd / self.scale if known.unit == "mm" else known.sd
        by = self._random.standard_normal(shape) * sd
        by[0] = 0.0
        self.made.append(Deviation(step, known, by, sd))
        return by

    def strays(self, tolerance: str, step: int) -> Array:
        return self._drawn(tolerance, step, self.lanes)

    def strays_both_ways(self, tolerance: str, step: int) -> Array:
        return self._drawn(tolerance, step, (*self.lanes, 2))


class ErringHands(SteadyHand):
    """Hands whose errors are told by their numbers: draw k has the numbers 2 k, and 2 k + 1 where it strays both ways
    (see ``Error``).

    An error is one number for every lane, or one for each; an error that is not told is none.
    """

    def __init__(self, lanes: int, errors: Mapping[int, float | Sequence[float] | Array]) -> None:
        self.lanes = (lanes,)
        self._errors, self._draws = errors, 0

    def _next(self, ways: int) -> Array:
        first, self._draws = 2 * self._draws, self._draws + 1
        told = [np.asarray(self._errors.get(first + way, 0.0), dtype=float) for way in range(ways)]
        return np.stack([np.broadcast_to(one, self.lanes) for one in told], axis=-1)

    def strays(self, tolerance: str, step: int) -> Array:
        return self._next(1)[:, 0]

    def strays_both_ways(self, tolerance: str, step: int) -> Array:
        return self._next(2)


def errors_of(made: Sequence[Deviation]) -> dict[int, Array]:
    """Every error that hands made by its number, an array of all their lanes each: what :class:`ErringHands` draw
    again."""
    told = [stray.by.reshape(len(stray.by), -1) for stray in made]
    return {2 * k + way: column for k, both in enumerate(told) for way, column in enumerate(both.T)}
