"""The instruments: how far each reaches and how far an ordinary, careful hand strays with it.

Every error is one standard deviation. None of them comes from a standard, since no standard fixes a hand; each is an
assumption, stated in :attr:`Tolerance.basis`, and anyone who has measured a hand may put their own number there.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Number


class Tolerance(NamedTuple):
    """One way in which a hand strays: by ``sd`` (mm or degrees), for the stated reason."""

    id: str
    sd: float
    unit: str
    basis: str


TOLERANCES = {
    tolerance.id: tolerance
    for tolerance in (
        Tolerance(
            "compass setting",
            0.15,
            "mm",
            "Assumed: a setting read off a millimetre rule to a third of a space, taken as a 95 % limit of 0.3 mm.",
        ),
        Tolerance(
            "compass prick",
            0.10,
            "mm",
            "Assumed: a needle set by eye on a crossing of two 0.25 mm lines, within a line's width at 95 %, each way.",
        ),
        Tolerance(
            "pencil mark",
            0.08,
            "mm",
            "Assumed: a crossing of two 0.25 mm lines read to half their width at 95 %, with a little for a shallow crossing.",
        ),
        Tolerance("rule mark", 0.15, "mm", "Assumed: the same reading of a millimetre rule as for the compass."),
        Tolerance("straightedge", 0.10, "mm", "Assumed: the line passes each of its two points within a line's width."),
        Tolerance("set square", 0.05, "°", "Assumed: a good square true to 0.1 mm over 120 mm; its sliding included."),
        Tolerance("protractor", 0.25, "°", "Assumed: a protractor of half degrees read to the nearest division at 95 %."),
        Tolerance("dividers taken", 0.08, "mm", "Assumed: two points pricked up, each within half a line's width."),
        Tolerance("dividers stepped", 0.06, "mm", "Assumed: one prick set down for each step taken."),
        Tolerance("trammel", 0.15, "mm", "Assumed: a strip's mark laid on a line by eye, as a rule's is."),
    )
}

COMPASS_REACH = 160.0
"""The opening, in mm, above which a common bow compass gives way to a beam compass."""


class Deviation(NamedTuple):
    """One draw of one tolerance: at which step, by how much each hand strayed, shape (hands + 1,) or (…, 2), and the standard
    deviation at true size."""

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
    """Many hands at once, on a sheet at ``scale``. Lane 0 never strays, so that it carries the exact figure beside the others."""

    def __init__(self, count: int, seed: int | None, scale: float = 1.0) -> None:
        self.lanes, self.scale = (count + 1,), scale
        self.made: list[Deviation] = []
        self._random = np.random.default_rng(seed)

    def _drawn(self, tolerance: str, step: int, shape: tuple[int, ...]) -> Array:
        known = TOLERANCES[tolerance]
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
