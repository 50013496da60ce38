"""Calibrating a hand: short exercises, what was measured on them, and what 95 in 100 of this person's settings stay
within.

A spread is estimated by its mean square, the measuring's own taken off, and drawn towards the stated assumption as if
that were worth :data:`WORTH` measurements; how sure it is follows from the chi-square distribution of a mean square.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.instruments import TOLERANCES
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.study.measures import INSTRUMENTS

WORTH = 4.0
"""How many measurements the assumption is worth."""
LEAST = 0.1
"""Of the assumption: the steadiest that a hand can be found."""
BLUNDER = 12.0
"""Deviations beyond which a measurement is no scatter but a blunder, and has to be looked at again."""
BASE = 100.0
"""mm of the base lines along which angles and parallels are measured."""
STEPS = 10


class Exercise(NamedTuple):
    """One thing to draw and measure: its name, what to do, the tolerance that it tells of, and what an exact hand would
    measure.

    ``gives`` is by how much the tolerance's own quantity changes where the measure changes by a millimetre, and
    ``asks`` how much is set.
    """

    name: str
    says: str
    tolerance: str
    asks: float
    exact: float
    gives: float = 1.0

    def error(self, measured: float) -> float:
        """The error of the setting, from what was measured."""
        if self.tolerance == "protractor":
            return 2.0 * math.degrees(math.asin(min(measured / (2.0 * BASE), 1.0))) - self.asks
        return (measured - self.exact) * self.gives


def _angle(asks: float) -> Exercise:
    half = math.radians(asks / 2.0)
    chord = 2.0 * BASE * math.sin(half)
    says = (
        f"Set off {asks:g}° by the protractor from the base line and draw to the arc; "
        "measure straight from the end of the base line to it."
    )
    return Exercise(f"angle-{asks:g}", says, "protractor", asks, chord, math.degrees(1.0 / (BASE * math.cos(half))))


EXERCISES: tuple[Exercise, ...] = (
    *(
        Exercise(
            f"opening-{n}",
            f"Set the compass to {size:g} mm off the rule; about the cross, cut the line. Measure from cross to cut.",
            "compass setting",
            size,
            size,
        )
        for n, size in enumerate((23.0, 37.0, 48.0, 61.0, 74.0, 86.0), 1)
    ),
    *(
        Exercise(
            f"mark-{n}",
            f"With the rule mark off {size:g} mm from the cross. Measure from cross to mark.",
            "rule mark",
            size,
            size,
        )
        for n, size in enumerate((27.0, 34.0, 52.0, 68.0, 79.0, 91.0), 1)
    ),
    *(
        Exercise(
            f"carried-{n}",
            "Take the two points between the dividers and prick the opening off from the cross. Measure it.",
            "dividers taken",
            size,
            size,
        )
        for n, size in enumerate((31.3, 44.7, 56.2, 67.9), 1)
    ),
    *(
        Exercise(
            f"parallel-{n}",
            "Slide the set square and draw a parallel through the point. Measure how much further "
            "it is from the line at the far mark than at the "
            "near one, less than 0 for nearer.",
            "set square",
            0.0,
            0.0,
            math.degrees(1.0 / BASE),
        )
        for n in range(1, 5)
    ),
    *(_angle(asks) for asks in (17.0, 29.0, 41.0, 53.0, 67.0)),
    *(
        Exercise(
            f"steps-{n}",
            f"Step the opening {STEPS} times along the line. Measure by how much the first "
            f"{STEPS // 2} steps together are longer than the last "
            f"{STEPS // 2}, less than 0 for shorter.",
            "dividers stepped",
            0.0,
            0.0,
            1.0 / math.sqrt(STEPS),
        )
        for n in range(1, 5)
    ),
)
"""Every exercise of the sheet. Of stepped spaces what is measured does not hang on the opening: ten errors of a step,
added or taken off."""
KNOWN = {one.name: one for one in EXERCISES}


class Own(NamedTuple):
    """A tolerance as measured: what 95 in 100 of this person's settings stay within, from how many, and between which
    limits it lies with 90 in 100; ``off`` is what they are off on the average."""

    tolerance: str
    limit: float
    taken: int
    low: float
    high: float
    off: float = 0.0

    @property
    def bound(self) -> bool:
        """Whether only an upper limit is known: what was measured with scatters as much as what was measured."""
        assumed = TOLERANCES[self.tolerance].limit
        return self.low <= LEAST * assumed * 1.001 and self.limit >= min(assumed, self.high) * 0.999


def read_exercises(text: str) -> dict[str, float]:
    """What was measured, from words such as ``opening-1=23.2 angle-17=29.4``; raises :class:`Refused` naming the one
    that cannot be."""
    measured: dict[str, float] = {}
    for word in re.split(r"[\s;,]+", re.sub(r"\s*=\s*", "=", text.strip())):
        name, equals, value = word.partition("=")
        if not equals or not value:
            raise Refused(
                "measured", f"“{word}” is no measurement; write the exercise and how much, such as opening-1=23.2."
            )
        if name in measured:
            raise Refused(name, f"{name} is told twice; tell it once.")
        measured[name] = read_exercise(name, value)
    return measured


def read_exercise(name: str, value: str) -> float:
    """One measurement in mm; raises :class:`Refused` for one that is no measure of this exercise, or so far off that it
    was a blunder."""
    if name not in KNOWN:
        raise Refused(name, f"There is no exercise {name}; they are {', '.join(KNOWN)}.")
    exercise = KNOWN[name]
    number = parse_quantity(value, "length", 1.0)
    assumed = TOLERANCES[exercise.tolerance]
    reach = BLUNDER * math.hypot(assumed.sd, INSTRUMENTS["rule"].length * exercise.gives)
    if not abs(exercise.error(number)) <= reach:
        low, high = exercise.exact - reach / exercise.gives, exercise.exact + reach / exercise.gives
        raise Refused(
            name,
            f"{name} is told as {value}; a hand is somewhere from {low:.1f} to {high:.1f} mm "
            "there. Measure it again, or draw it again if it is so.",
        )
    return number


def calibrated(measured: Mapping[str, float], instrument: str = "rule") -> list[Own]:
    """This person's tolerances, of every kind of which something was measured; raises :class:`Refused` where nothing
    was."""
    if not measured:
        raise Refused(
            "measured", "Nothing is measured yet; draw the exercises and tell what one of them came to, at least."
        )
    by: dict[str, list[tuple[float, float]]] = {}
    for exercise in EXERCISES:
        if exercise.name in measured:
            error = exercise.error(measured[exercise.name])
            by.setdefault(exercise.tolerance, []).append((error, INSTRUMENTS[instrument].length * exercise.gives))
    return [_own(tolerance, pairs) for tolerance, pairs in by.items()]


def _own(tolerance: str, pairs: Sequence[tuple[float, float]]) -> Own:
    from scipy.special import chdtri

    errors, reading = np.array(pairs).T
    assumed, count = TOLERANCES[tolerance].sd, len(errors)
    square = (WORTH * (assumed**2 + float(np.mean(reading**2))) + float(errors @ errors)) / (WORTH + count)
    ends = [square * (WORTH + count) / float(chdtri(WORTH + count, share)) for share in (0.05, 0.95)]
    sds = [max(one - float(np.mean(reading**2)), (LEAST * assumed) ** 2) ** 0.5 for one in (square, *ends)]
    limit = 2 * sds[0]
    if sds[0] <= LEAST * assumed:  # the reading scatters more than the hand: how steady it is nobody saw
        limit = min(2 * assumed, 2 * sds[2])
    return Own(tolerance, limit, count, 2 * sds[1], 2 * sds[2], float(errors.mean()))


def own_words(own: Own) -> str:
    """A tolerance as measured, in a sentence."""
    assumed = TOLERANCES[own.tolerance]
    unit = "°" if assumed.unit == "°" else " mm"
    than = (
        "steadier than"
        if own.limit < 0.85 * assumed.limit
        else "looser than"
        if own.limit > 1.18 * assumed.limit
        else "about as"
    )
    says = f"{own.limit:.2f}{unit}, {than} assumed ({assumed.limit:.2f}{unit})"
    if own.bound:
        says = f"no worse than {own.limit:.2f}{unit} (assumed {assumed.limit:.2f}{unit}): the reading scatters as much"
    sure = f"from {own.taken} {'measurement' if own.taken == 1 else 'measurements'}" + (
        "" if own.bound else f"; between {own.low:.2f} and {own.high:.2f} with 90 in 100"
    )
    sd = own.limit / 2
    leans = own.taken >= 3 and abs(own.off) > 2 * sd / math.sqrt(own.taken)
    way = (
        f"; on the average {abs(own.off):.2f}{unit} too {'large' if own.off > 0 else 'small'}: look to the instrument"
        if leans
        else ""
    )
    return f"{says}; {sure}{way}"
