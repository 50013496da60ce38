"""What the names of a construction of one's own stand for while it is drawn, and its lengths and numbers."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, LineMark, Spot
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.recorder import Opening, Strip
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import distance
from wise_compass.own.language import POINT, Line

LARGEST = 1e6
"""mm: no hand draws further, and no number is larger."""
SMALLEST = 1e-9
MOST_SPACES = 60
"""That are divided into in one step."""
_TAKEN = re.compile(
    rf"(?:(across|up)\s+|(\d+(?:\.\d+)?(?:/\d+)?)\s*\*\s*)?({POINT})\s*({POINT})(?:\s*/\s*(\d+(?:\.\d+)?))?"
)
_PAIR = re.compile(rf"(?<![A-Za-z_])({POINT})\s*({POINT})(?![A-Za-z0-9])")
_WORD = re.compile(r"[a-z][A-Za-z_0-9]*")


AS_BEFORE = "as before"
"""How a compass is told to be left as it stands."""


class Drawing:
    """A program on a draft: what its names stand for so far."""

    def __init__(self, d: Draft, numbers: Mapping[str, float], letters: Mapping[str, str]) -> None:
        self.d, self.numbers = d, numbers
        self._theirs = {theirs for theirs, own in letters.items() if theirs != own}
        self.keys: dict[str, list[str]] = {}
        for theirs, own in letters.items():
            self.keys.setdefault(own, []).append(theirs)
        self.points: dict[str, Spot] = {}
        self.things: dict[str, LineMark | ArcMark] = {}
        self.centres: dict[str, Spot] = {}
        """The centre of each circle."""
        self.opened: float | Opening | None = None
        """What the compass was last set to."""
        self.strip: tuple[tuple[float, float], Strip] | None = None
        """The trammel that is marked, and for which lengths from its end."""

    # what a line speaks of

    def key(self, name: str) -> str:
        """The key that a point of the program has among the drawing's spots: its name, that of the claim, or another
        where the claim has its name for a point that is called otherwise."""
        if name in self.keys:
            return self.keys[name][0]
        return f"{name}₀" if name in self._theirs else name

    def name_again(self, own: str) -> None:
        """The further names that the claim has for a point."""
        for theirs in self.keys.get(own, ())[1:]:
            self.d.also(theirs, self.points[own], "plain")

    def point(self, line: Line, part: str) -> Spot:
        """A point that a step speaks of."""
        return self.points[line.parts[part]]

    def line(self, line: Line, part: str) -> LineMark:
        thing = self.things[line.parts[part]]
        if not isinstance(thing, LineMark):
            raise Refused("own", f"Line {line.number}: {line.parts[part]} is a circle, where a line is wanted.")
        return thing

    def circle(self, line: Line, part: str) -> ArcMark:
        thing = self.things[line.parts[part]]
        if not isinstance(thing, ArcMark):
            raise Refused("own", f"Line {line.number}: {line.parts[part]} is a line, where a circle is wanted.")
        return thing

    def length(self, line: Line, part: str = "length") -> float | Opening:
        """A length: between points as an opening, which the instrument takes off; else a number."""
        words = line.parts[part]
        if words == AS_BEFORE:
            return self._as_before(line)
        taken = _TAKEN.fullmatch(words.strip())
        if taken is None:
            return self.number(line, words, "length")
        axis, times, one, other, parts = taken.groups()
        self._known(line, one, other)
        if axis:
            return self.d.opening_along(self.points[one], self.points[other], axis == "across")
        opening = self.d.opening(self.points[one], self.points[other])
        if not 0 < opening.nominal < LARGEST:
            raise Refused("own", f"Line {line.number}: {one} and {other} fall on one point; nothing can be taken off.")
        factor = parse_quantity(times, "number", 1.0) if times else 1.0
        return self.d.in_proportion(opening, float(factor) / float(parts or 1.0))

    def _as_before(self, line: Line) -> float | Opening:
        """What the compass stands at since it was last set."""
        if self.opened is None:
            raise Refused("own", f"Line {line.number}: the compass was not set before; tell its opening.")
        return self.opened

    def _known(self, line: Line, *names: str) -> None:
        for name in names:
            if name not in self.points:
                raise Refused("own", f"Line {line.number} speaks of {name}, which no step before it marks.")

    def number(self, line: Line, words: str, kind: str) -> float:
        """The value of arithmetic with numbers, givens, and distances of points as the steady hand has them."""

        def between(found: re.Match[str]) -> str:
            self._known(line, found[1], found[2])
            return f"({float(distance(self.points[found[1]].here, self.points[found[2]].here))!r})"

        def named(found: re.Match[str]) -> str:
            return f"({self.numbers[found[0]]!r})" if found[0] in self.numbers else found[0]

        told = _WORD.sub(named, _PAIR.sub(between, words))
        try:
            value = float(parse_quantity(told, kind, 1.0))
        except Refused as refusal:
            raise Refused("own", f"Line {line.number}, “{words}”: {refusal.template}") from None
        if not math.isfinite(value) or abs(value) > LARGEST:
            raise Refused("own", f"Line {line.number}: “{words}” comes to no length that can be drawn.")
        return value

    def name(self, line: Line, spot: Spot, part: str = "name") -> None:
        self.points[line.parts[part]] = spot

    def keep(self, line: Line, thing: LineMark | ArcMark) -> None:
        self.things[line.parts["new"]] = thing

    def refuse_one_point(self, line: Line, a: Spot, b: Spot) -> None:
        if float(distance(a.here, b.here)) < SMALLEST:
            names = f"{line.parts['a']} and {line.parts['b']}"
            raise Refused("own", f"Line {line.number}: {names} fall on one point, and no line runs through one point.")
