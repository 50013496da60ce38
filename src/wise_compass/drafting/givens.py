"""Givens: what a figure is told. Each knows its kind, unit and bounds; bounds may depend on other givens.

A figure declares them as class attributes::

    class Ellipse(Figure):
        long = Length(152, "the long axis")
        wide = Length(88, "the short axis", most="long")

A bound is a number, the name of another given, or a function of the figure.
"""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction
from typing import Any, Generic, Protocol, TypeVar, overload

from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import (
    INCH,
    PLAIN,
    Style,
    as_read,
    least_mm,
    mm,
    most_mm,
    sixty_fourths,
    trim,
    trim_down,
    trim_up,
)

T = TypeVar("T")


class HasGivens(Protocol):
    """What givens know of the figure that they belong to."""

    given_values: dict[str, Any]

    @property
    def givens(self) -> Mapping[str, Given[Any]]: ...


Bound = float | str | Callable[[Any], float] | None
SHORTEST_LENGTH = 0.1
FLATTEST_ANGLE = 0.05
ROOM = 1e-9
"""By what part of a limit a value may miss it and still count as on it: rounding alone."""
TINY = 5e-5
"""mm: a length under it would be told as 0, which it is not."""
STRICT = 0.01
"""How far beside a limit that is not admitted the advice stays, in mm or degrees."""
LONGEST_LENGTH = 20000.0
"""No sheet holds more: 20 m is twenty times what A0 takes at 1:20."""


class Given(ABC, Generic[T]):
    """One given of a figure. ``says`` is how a sentence names it, such as "the long axis"."""

    kind = "number"
    unit = ""

    def __init__(self, default: T, says: str) -> None:
        self.default = default
        self.says = says
        self.name = ""

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

    @overload
    def __get__(self, figure: None, owner: type) -> Given[T]: ...
    @overload
    def __get__(self, figure: HasGivens, owner: type) -> T: ...
    def __get__(self, figure: HasGivens | None, owner: type) -> Given[T] | T:
        if figure is None:
            return self
        value: T = figure.given_values[self.name]
        return value

    @abstractmethod
    def read(self, typed: object, style: Style = PLAIN) -> T:
        """The value of what was typed or found in a file; raises :class:`Refused`."""

    def check(self, figure: HasGivens) -> None:
        """Raise :class:`Refused` when the figure's value lies outside the bounds."""

    def text(self, value: Any, style: Style = PLAIN) -> str:
        """The value as a slot of the brief shows it."""
        return str(value)

    def stored(self, value: T) -> Any:
        """The value as JSON holds it."""
        return value

    def describe(self) -> dict[str, Any]:
        """The given as ``list --json`` publishes it."""
        return {
            "name": self.name,
            "kind": self.kind,
            "unit": self.unit,
            "default": self.stored(self.default),
            "says": self.says,
            "bounds": self.bounds_text(),
        }

    def bounds_text(self) -> Any:
        return {}


_EXPLAINED = re.compile(r"(.*)(?:, (?=0 for )|; )(.*)")
_MANY = re.compile(r"the \w+s\b")
"""What a count is said to be, where it is said in the plural."""


def told(says: str, value: str, verb: str = " is") -> str:
    """What a given is and which value it has, as a sentence begins.

    >>> told("the radius", "3 mm"), told("how far off it is", "3 mm"), told("the roller, 0 for none", "3 mm")
    ('The radius is 3 mm', 'How far off it is: 3 mm', 'The roller (0 for none) is 3 mm')
    """
    says = says[0].upper() + says[1:]
    if (explained := _EXPLAINED.fullmatch(says)) is not None:
        says = f"{explained[1]} ({explained[2]})"
    return f"{says}: {value}" if says.endswith(" is") else f"{says}{verb} {value}"


def typed(stored: Any) -> str:
    """A given, as it is stored, as the command line takes it: points ``0,0``, rows ``0,0; 70,0``."""
    if not isinstance(stored, list):
        return str(stored)
    if stored and isinstance(stored[0], list):
        return "; ".join(typed(row) for row in stored)
    return ",".join(x if isinstance(x, str) else trim(x, 6).replace("−", "-") for x in stored)


class Measure(Given[float]):
    """A number on a scale, between ``limits``: ``over`` and ``under`` exclude the limit, ``least`` and ``most`` admit
    it."""

    step = 1.0
    BOUNDS = ("least", "over", "most", "under")
    WORDS: Mapping[str, str] = {
        "least": "must be at least",
        "over": "must be more than",
        "most": "must be at most",
        "under": "must stay under",
    }

    def __init__(self, default: float, says: str, **limits: Bound) -> None:
        super().__init__(float(default), says)
        unknown = set(limits) - set(self.BOUNDS)
        if unknown:
            raise TypeError(f"a bound is one of {', '.join(self.BOUNDS)}; not {', '.join(sorted(unknown))}")
        self.limits: dict[str, Bound] = {which: limits.get(which) for which in self.BOUNDS}

    def _otherwise(self, low: float, high: float) -> None:
        """Bounds where none were given."""
        if self.limits["least"] is None and self.limits["over"] is None:
            self.limits["least"] = low
        if self.limits["most"] is None and self.limits["under"] is None:
            self.limits["most"] = high

    def read(self, typed: object, style: Style = PLAIN) -> float:
        if isinstance(typed, str):
            try:
                return parse_quantity(typed, self.kind, style.size)
            except Refused as refusal:
                raise Refused(self.name, refusal.template) from None
        if isinstance(typed, bool) or not isinstance(typed, (int, float)):
            raise self._unlike("a number")
        if not abs(typed) < 1e300:
            raise self._unlike("a finite number")
        return float(typed)

    def _unlike(self, what: str) -> Refused:
        return Refused(self.name, f"{self.says} must be {what}; write one such as {self.exact_text(self.default)}.")

    def limit(self, which: str, figure: HasGivens) -> float | None:
        """The value of a bound for this figure's numbers, or None."""
        bound = self.limits[which]
        if isinstance(bound, str):
            return float(figure.given_values[bound])
        if callable(bound):
            return float(bound(figure))
        return bound

    def check(self, figure: HasGivens) -> None:
        value = self.read(figure.given_values[self.name])
        for which in self.BOUNDS:
            bound = self.limit(which, figure)
            if bound is not None and not within(which, value, bound):
                raise Refused(self.name, self._refusal(figure, which, value, bound))

    def _refusal(self, figure: HasGivens, which: str, value: float, bound: float) -> str:
        other = self.limits[which]
        whose = f", {figure.givens[other].says}" if isinstance(other, str) else ""
        upward = which in ("least", "over")
        remedy = f"{'Raise' if upward else 'Lower'} {self.name}"
        if which in ("over", "under"):  # the limit itself is not admitted: name the nearest round number that is
            beside = bound + (STRICT if which == "over" else -STRICT)
            remedy += f" to {self.limit_text('least' if upward else 'most', beside)} or {'more' if upward else 'less'}"
        if isinstance(other, str):
            remedy += f", or {'lower' if upward else 'raise'} {other}"
        return (
            f"{told(self.says, self.exact_text(value))}; it {self.WORDS[which]} "
            f"{self.limit_text(which, bound)}{whose}. {remedy}."
        )

    def exact_text(self, value: float) -> str:
        """The value inside a sentence."""
        return f"{trim(value)} {self.unit}".strip()

    def limit_text(self, which: str, bound: float) -> str:
        """A limit inside a sentence: lower ones rounded upward and upper ones downward, so that they can be typed."""
        rounded = trim_up if which in ("least", "over") else trim_down
        return f"{rounded(bound, 6)}{self.unit}"

    def bounds_text(self) -> Any:
        def shown(bound: Bound) -> Any:
            if callable(bound):
                return (bound.__doc__ or "depends on the other givens").strip()
            return bound

        return {which: shown(bound) for which, bound in self.limits.items() if bound is not None}


def within(which: str, value: float, bound: float) -> bool:
    """Whether a value keeps a bound; what misses an admitted limit by rounding alone counts as on it."""
    room = ROOM * max(abs(bound), 1.0)
    if which == "least":
        return value >= bound - room
    if which == "most":
        return value <= bound + room
    return value > bound + room if which == "over" else value < bound - room


class Length(Measure):
    """A length in millimetres, at least a tenth unless another lower bound is given; ``zero`` admits 0 besides."""

    kind = "length"
    unit = "mm"

    def __init__(self, default: float, says: str, zero: bool = False, **limits: Bound) -> None:
        super().__init__(default, says, **limits)
        self._otherwise(SHORTEST_LENGTH, LONGEST_LENGTH)
        self.zero = zero

    def check(self, figure: HasGivens) -> None:
        if not (self.zero and figure.given_values[self.name] == 0):
            super().check(figure)

    def exact_text(self, value: float) -> str:
        return mm(value) if not 0 < abs(value) < TINY else f"{value:.3g} mm"

    def limit_text(self, which: str, bound: float) -> str:
        text = (least_mm if which in ("least", "over") else most_mm)(bound)
        return text + (" (or 0)" if self.zero and bound == SHORTEST_LENGTH else "")

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return f"{length_number(value, style)} {style.units}"


def length_number(value: float, style: Style) -> str:
    """A length as a slot shows it, without its unit; one that is not told whole by a fraction of an inch stays
    decimal."""
    if style.units != "in":
        return trim(value, 6)
    inches = value / INCH
    if style.fractions and abs(inches * 64 - round(inches * 64)) < 1e-6:
        return sixty_fourths(inches)
    return trim(inches, 5)


class Angle(Measure):
    """An angle in degrees. Unless told otherwise it is one that two lines on paper can show: 0.05° to 179.95°."""

    kind = "angle"
    unit = "°"

    def __init__(self, default: float, says: str, **limits: Bound) -> None:
        super().__init__(default, says, **limits)
        self._otherwise(FLATTEST_ANGLE, 180.0 - FLATTEST_ANGLE)

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return f"{trim(value, 6)}°"

    def exact_text(self, value: float) -> str:
        return f"{trim(value, 6)}°"


class Real(Measure):
    """A plain number, such as a ratio."""

    step = 0.1

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return trim(value, 6)

    def limit_text(self, which: str, bound: float) -> str:
        """A part such as a twelfth by its fraction, which is read as the same number; others as decimals."""
        part = Fraction(bound).limit_denominator(100)
        if abs(float(part) - bound) < 1e-12 and round(bound, 6) != bound:
            return as_read(part)
        return super().limit_text(which, bound)


class Count(Given[int]):
    """A whole number from ``least`` to ``most``, in steps of ``multiple``; ``why`` says why it goes no further."""

    kind = "count"
    step = 1.0

    def __init__(self, default: int, says: str, least: int, most: int, multiple: int = 1, why: str = "") -> None:
        super().__init__(default, says)
        self.least, self.most, self.multiple, self.why = least, most, multiple, why

    def read(self, typed: object, style: Style = PLAIN) -> int:
        if isinstance(typed, str):
            try:
                typed = parse_quantity(typed)
            except Refused as refusal:
                raise Refused(self.name, refusal.template) from None
        if isinstance(typed, bool) or not isinstance(typed, (int, float)) or not abs(typed) < 1e15:
            raise Refused(self.name, f"{self.says} must be a whole number from {self.least} to {self.most}.")
        if typed != int(typed):
            raise Refused(
                self.name,
                f"{told(self.says, trim(typed))}; it must be a whole number. Take {int(typed)} or {int(typed) + 1}.",
            )
        return int(typed)

    def check(self, figure: HasGivens) -> None:
        value = self.read(figure.given_values[self.name])
        are = " are" if _MANY.match(self.says) else " is"
        if not self.least <= value <= self.most:
            why = f": {self.why}" if self.why else ""
            raise Refused(
                self.name,
                f"{told(self.says, str(value), are)}; {self.name} goes from {self.least} to {self.most}{why}. "
                f"{'Raise' if value < self.least else 'Lower'} {self.name}.",
            )
        if value % self.multiple:
            below = value - value % self.multiple
            near = [n for n in (below, below + self.multiple) if self.least <= n <= self.most]
            raise Refused(
                self.name,
                f"{told(self.says, str(value), are)}; {self.name} must be a multiple of {self.multiple}. "
                f"Take {' or '.join(map(str, near))}.",
            )

    def bounds_text(self) -> Any:
        return {
            "least": self.least,
            "most": self.most,
            "multiple": self.multiple,
            **({"why": self.why} if self.why else {}),
        }


class Choice(Given[str]):
    """One of a few words; ``words`` says how a sentence puts those that it cannot use as they are."""

    kind = "choice"

    def __init__(self, default: str, says: str, options: Sequence[str], words: Mapping[str, str] | None = None) -> None:
        super().__init__(default, says)
        self.options = tuple(options)
        self.words = dict(words or {})

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return self.words.get(value, str(value))

    def read(self, typed: object, style: Style = PLAIN) -> str:
        word = str(typed).strip().lower()
        if word not in self.options:
            raise Refused(self.name, f"{self.says} cannot be “{typed}”; choose {self._listed()}.")
        return word

    def check(self, figure: HasGivens) -> None:
        self.read(figure.given_values[self.name])

    def _listed(self) -> str:
        return " or ".join((", ".join(self.options[:-1]), self.options[-1])) if self.options[1:] else self.options[0]

    def bounds_text(self) -> Any:
        return {"options": list(self.options)}
