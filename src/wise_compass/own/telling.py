"""The names of points and lines of several runs of one method, and its lengths and angles told by the givens that they
come from."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import count

import numpy as np

from wise_compass.drafting.figure import Figure, Method
from wise_compass.drafting.marks import LineMark, Spot, nominal
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, trim
from wise_compass.geometry.vectors import Array, distance
from wise_compass.own.keeping import Kept
from wise_compass.own.language import POINT, Line, read_line, written
from wise_compass.own.numbers import numbers_of
from wise_compass.own.shares import angles_told, of_two, share_of

SAME = 1e-9
LINES = "abcdefghijlmnopqrstuvwxyz"


class Telling:
    """What the points and lines of several runs of one method are called, and the lines that are written so far."""

    def __init__(self, figure: Figure, method: Method, runs: Sequence[tuple[Figure, Kept]]) -> None:
        self.figure, self.method = figure, method
        told = [d.kept for _, d in runs]
        self.runs = [run for run, kept in zip(runs, told) if [one[0] for one in kept] == [one[0] for one in told[0]]]
        self.names: list[dict[int, str]] = [{} for _ in self.runs]
        self.places: list[dict[str, Array]] = [{} for _ in self.runs]
        self.letters: dict[str, str] = {}
        self.lines: list[Line] = []
        self.drawn: dict[str, Sequence[object]] = {}
        self.strips: dict[int, tuple[str, str]] = {}
        self.phase = ""
        self.points = (f"Z{k}" for k in count(1))
        self.things = (letter if not k else f"{letter}{k}" for k in count() for letter in LINES)

    # names

    def _put(self, verb: str, says: str = "", **parts: str) -> None:
        text = written(verb, parts)
        words = PLAIN.say(says).replace("#", "").strip() if says else ""
        line = read_line(text, len(self.lines) + 1, self.phase)
        self.lines.append(line._replace(says="" if len(words) > 200 else words))

    def _point(self, spots: Sequence[Spot], name: str = "") -> str:
        """A name for a point that was found, in every run."""
        own = name if re.fullmatch(POINT, name) and name not in self.names[0].values() else next(self.points)
        if name:
            self.letters[name] = own
        for names, places, spot in zip(self.names, self.places, spots):
            names[id(spot)], places[own] = own, spot.here
        return own

    def _of(self, spot: Spot) -> str:
        if id(spot) not in self.names[0]:
            raise Refused("own", f"{self.method.title} speaks of a point that no step of the language marks.")
        return self.names[0][id(spot)]

    def _thing(self, marks: Sequence[object]) -> str:
        own = next(self.things)
        for names, mark in zip(self.names, marks):
            names[id(mark)] = own
        self.drawn[own] = marks
        return own

    def _along(self, axes: Sequence[Array]) -> str:
        """A drawn line that runs in a direction, in every run."""
        for name, marks in self.drawn.items():
            lines = [mark for mark in marks if isinstance(mark, LineMark)]
            if len(lines) == len(axes) and all(
                float(np.abs(nominal(line.u, 1) - axis).max()) <= SAME for line, axis in zip(lines, axes)
            ):
                return name
        raise Refused("own", f"{self.method.title} lays a strip along no line that is drawn.")

    def _line(self, mark: object) -> str:
        """The name of a line; one that a method has again, without drawing it anew, is that which lies there."""
        if id(mark) in self.names[0]:
            return self.names[0][id(mark)]
        for name, marks in self.drawn.items():
            if isinstance(mark, LineMark) and isinstance(marks[0], LineMark) and _one_line(mark, marks[0]):
                return name
        raise Refused("own", f"{self.method.title} speaks of a line that no step of the language draws.")

    # lengths

    def _length(self, values: Sequence[object]) -> str:
        """A length in every run as one expression."""
        if isinstance(values[0], Opening):
            openings = [value for value in values if isinstance(value, Opening)]
            return self._opening(openings)
        return self._number([float(nominal(value, 0)) for value in values])  # type: ignore[arg-type]

    def _opening(self, openings: Sequence[Opening]) -> str:
        """The two points that an opening was taken from, where they are named."""
        want = [one.nominal for one in openings]
        if not any(want):
            return "0"
        names = self._named()
        if len(names) > 1:
            missed = np.zeros((len(names), len(names)))
            for places, span in zip(self.places, want):
                at = np.array([places[name] for name in names])
                missed = np.maximum(missed, np.abs(distance(at[:, None], at[None]) - span))
            one, other = np.unravel_index(int(np.argmin(missed)), missed.shape)
            if missed[one, other] <= SAME * max(want):
                return f"{names[min(one, other)]}{names[max(one, other)]}"
        return next(self._along_an_axis(want), "") or self._number(want)

    def _along_an_axis(self, want: Sequence[float]) -> Iterator[str]:
        """The two points of which one lies so far to the right of the other, or above it."""
        names = self._named()
        for axis, words in enumerate(("across", "up")):
            missed = np.zeros((len(names), len(names)))
            for places, span in zip(self.places, want):
                at = np.array([places[name][axis] for name in names])
                missed = np.maximum(missed, np.abs(at[None] - at[:, None] - span))
            one, other = np.unravel_index(int(np.argmin(missed)), missed.shape)
            if missed[one, other] <= SAME * max(map(abs, want)):
                yield f"{words} {names[one]}{names[other]}"

    def _named(self) -> list[str]:
        return list(self.places[0])

    def _number(self, values: Sequence[float], unit: str = "length") -> str:
        """A number of every run: by one given, or by two, where it is a share of it; as it is where it does not
        change."""
        if np.ptp(values) <= SAME * max(map(abs, values), default=1.0) and self._still(values):
            return trim(values[0], 12).replace("−", "-")
        told = [numbers_of(figure) for figure, _ in self.runs]
        if unit == "angle":
            return next(angles_told(values, told), trim(values[0], 12).replace("−", "-"))
        for name in told[0]:
            shares = [value / own[name] for value, own in zip(values, told) if own[name]]
            alone = len(shares) == 1 and abs(Fraction(shares[0]).limit_denominator(12) - shares[0]) > SAME
            if len(shares) == len(values) and np.ptp(shares) <= 1e-9 * max(map(abs, shares)) and not alone:
                return share_of(shares[0], name)
        for one, other in _pairs(list(told[0])):
            if expression := of_two(values, told, one, other):
                return expression
        return trim(values[0], 12).replace("−", "-")

    def _still(self, values: Sequence[float]) -> bool:
        return len(values) > 1 or abs(values[0]) < SAME


def _one_line(one: LineMark, other: LineMark) -> bool:
    """Whether two lines begin at one place and run one way."""
    places = float(distance(nominal(one.p, 1), nominal(other.p, 1)))
    return places <= SAME and float(distance(nominal(one.u, 1), nominal(other.u, 1))) <= SAME


def _pairs(names: Sequence[str]) -> Iterator[tuple[str, str]]:
    for k, one in enumerate(names):
        for other in names[:k]:
            yield other, one
