"""Givens: what a figure is told. Each knows its kind, unit and bounds; bounds may depend on other givens.

A figure declares them as class attributes::

    class Ellipse(Figure):
        long = Length(152, "the long axis")
        wide = Length(88, "the short axis", most="long")

A bound is a number, the name of another given, or a function of the figure.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, Generic, Protocol, TypeVar, overload

from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style, trim

T = TypeVar("T")


class Figure(Protocol):
    """What givens know of the figure that they belong to."""

    given_values: dict[str, Any]

    @property
    def givens(self) -> Mapping[str, Given[Any]]: ...


Bound = float | str | Callable[[Any], float] | None
SHORTEST_LENGTH = 0.1
FLATTEST_ANGLE = 0.05
LONGEST_LENGTH = 20000.0
"""No sheet holds more: 20 m is twenty times what A0 takes at 1:20."""


class Given(Generic[T]):
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
    def __get__(self, figure: Figure, owner: type) -> T: ...
    def __get__(self, figure: Figure | None, owner: type) -> Given[T] | T:
        if figure is None:
            return self
        value: T = figure.given_values[self.name]
        return value

    def read(self, typed: object, style: Style = PLAIN) -> T:
        """The value of what was typed or found in a file; raises :class:`Refused`."""
        raise NotImplementedError

    def check(self, figure: Figure) -> None:
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


class Measure(Given[float]):
    """A number on a scale, between ``limits``: ``over`` and ``under`` exclude the limit, ``least`` and ``most`` admit it."""

    step = 1.0
    BOUNDS = ("least", "over", "most", "under")

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
                return parse_quantity(typed, self.kind, 25.4 if style.units == "in" else 1.0)
            except Refused as refusal:
                raise Refused(self.name, refusal.says) from None
        if isinstance(typed, bool) or not isinstance(typed, (int, float)):
            raise Refused(self.name, f"{self.says} must be a number; write one such as {trim(self.default)}.")
        if not abs(typed) < 1e300:
            raise Refused(self.name, f"{self.says} must be a finite number; write one such as {trim(self.default)}.")
        return float(typed)

    def limit(self, which: str, figure: Figure) -> float | None:
        """The value of a bound for this figure's numbers, or None."""
        bound = self.limits[which]
        if isinstance(bound, str):
            return float(figure.given_values[bound])
        if callable(bound):
            return float(bound(figure))
        return bound

    def check(self, figure: Figure) -> None:
        value = figure.given_values[self.name]
        tests: dict[str, tuple[Callable[[float, float], bool], str]] = {
            "least": (lambda v, b: v >= b, "must be at least"),
            "over": (lambda v, b: v > b, "must be more than"),
            "most": (lambda v, b: v <= b, "must be at most"),
            "under": (lambda v, b: v < b, "must stay under"),
        }
        for which, (holds, words) in tests.items():
            bound = self.limit(which, figure)
            if bound is not None and not holds(value, bound):
                raise Refused(self.name, self._refusal(figure, which, words, value, bound))

    def _refusal(self, figure: Figure, which: str, words: str, value: float, bound: float) -> str:
        says = self.says[0].upper() + self.says[1:]
        other = self.limits[which]
        whose = f", {figure.givens[other].says}" if isinstance(other, str) else ""
        upward = which in ("least", "over")
        remedy = f"{'Raise' if upward else 'Lower'} {self.name}"
        if isinstance(other, str):
            remedy += f" or {'lower' if upward else 'raise'} {other}"
        return f"{says} is {self.text(value)}; it {words} {self.exact_text(bound)}{whose}. {remedy}."

    def exact_text(self, value: float) -> str:
        return f"{trim(value)} {self.unit}".strip()

    def bounds_text(self) -> Any:
        def shown(bound: Bound) -> Any:
            if callable(bound):
                return (bound.__doc__ or "depends on the other givens").strip()
            return bound

        return {which: shown(bound) for which, bound in self.limits.items() if bound is not None}


class Length(Measure):
    """A length in millimetres, at least a tenth unless another lower bound is given; ``zero`` admits 0 besides."""

    kind = "length"
    unit = "mm"

    def __init__(self, default: float, says: str, zero: bool = False, **limits: Bound) -> None:
        super().__init__(default, says, **limits)
        self._otherwise(SHORTEST_LENGTH, LONGEST_LENGTH)
        self.zero = zero

    def check(self, figure: Figure) -> None:
        if not (self.zero and figure.given_values[self.name] == 0):
            super().check(figure)

    def exact_text(self, value: float) -> str:
        return super().exact_text(value) + (" (or 0)" if self.zero and value == SHORTEST_LENGTH else "")

    def text(self, value: Any, style: Style = PLAIN) -> str:
        if style.units == "in":
            return f"{trim(value / 25.4, 5)} in"
        return f"{trim(value, 6)} mm"


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


class Count(Given[int]):
    """A whole number from ``least`` to ``most``, in steps of ``multiple``."""

    kind = "count"
    step = 1.0

    def __init__(self, default: int, says: str, least: int, most: int, multiple: int = 1) -> None:
        super().__init__(default, says)
        self.least, self.most, self.multiple = least, most, multiple

    def read(self, typed: object, style: Style = PLAIN) -> int:
        if isinstance(typed, str):
            try:
                typed = parse_quantity(typed)
            except Refused as refusal:
                raise Refused(self.name, refusal.says) from None
        if isinstance(typed, bool) or not isinstance(typed, (int, float)) or not abs(typed) < 1e15:
            raise Refused(self.name, f"{self.says} must be a whole number from {self.least} to {self.most}.")
        if typed != int(typed):
            raise Refused(
                self.name, f"{self.says} is {trim(typed)}; it must be a whole number. Take {int(typed)} or {int(typed) + 1}."
            )
        return int(typed)

    def check(self, figure: Figure) -> None:
        value: int = figure.given_values[self.name]
        says = self.says[0].upper() + self.says[1:]
        if not self.least <= value <= self.most:
            raise Refused(
                self.name,
                f"{says} is {value}; {self.name} goes from {self.least} to {self.most}. "
                f"{'Raise' if value < self.least else 'Lower'} {self.name}.",
            )
        if value % self.multiple:
            below = value - value % self.multiple
            near = [n for n in (below, below + self.multiple) if self.least <= n <= self.most]
            raise Refused(
                self.name,
                f"{says} is {value}; {self.name} must be a multiple of {self.multiple}. Take {' or '.join(map(str, near))}.",
            )

    def bounds_text(self) -> Any:
        return {"least": self.least, "most": self.most, "multiple": self.multiple}


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

    def _listed(self) -> str:
        return " or ".join((", ".join(self.options[:-1]), self.options[-1])) if self.options[1:] else self.options[0]

    def bounds_text(self) -> Any:
        return {"options": list(self.options)}


def read_numbers(given: Given[Any], typed: object, style: Style, sizes: Iterable[int]) -> tuple[float, ...]:
    """The coordinates of a point typed as ``12,18,47`` or found in a file as a list."""
    sizes = tuple(sizes)
    how = " or ".join(", ".join("xyz"[:size]) for size in sizes)
    if isinstance(typed, str):
        parts: Sequence[Any] = typed.strip().strip("()[]").replace(";", ",").split(",")
    elif isinstance(typed, (list, tuple)):
        parts = typed
    else:
        raise Refused(given.name, f"{given.says} must be a point; write its {how}.")
    if len(parts) not in sizes:
        raise Refused(given.name, f"{given.says} has {len(parts)} coordinates; write {how}.")
    reader = Length(0.0, given.says, least=-LONGEST_LENGTH)
    reader.name = given.name
    return tuple(reader.read(part, style) for part in parts)


class Place(Given[tuple[float, ...]]):
    """A point by its coordinates in millimetres: two in the plane, three in space."""

    kind = "point"
    unit = "mm"

    def __init__(self, default: Sequence[float], says: str) -> None:
        super().__init__(tuple(float(x) for x in default), says)

    def read(self, typed: object, style: Style = PLAIN) -> tuple[float, ...]:
        return read_numbers(self, typed, style, (len(self.default),))

    def check(self, figure: Figure) -> None:
        worst = max(abs(x) for x in figure.given_values[self.name])
        if worst > LONGEST_LENGTH:
            raise Refused(
                self.name,
                f"{self.says} lies {trim(worst)} mm out; it must stay within {trim(LONGEST_LENGTH)} mm. Lower that coordinate.",
            )

    def text(self, value: Any, style: Style = PLAIN) -> str:
        scale = 25.4 if style.units == "in" else 1.0
        return ", ".join(trim(x / scale, 6) for x in value)

    def stored(self, value: tuple[float, ...]) -> Any:
        return list(value)

    def bounds_text(self) -> Any:
        return {"coordinates": len(self.default), "least": -LONGEST_LENGTH, "most": LONGEST_LENGTH}


class Rows(Given[tuple[tuple[float, ...], ...]]):
    """A list of rows of lengths, such as corners: typed ``0,0; 60,0; 90,40``, edited as a table.

    ``columns`` names the coordinates; a list of one column may be typed with commas alone.
    """

    kind = "rows"
    unit = "mm"

    def __init__(
        self, default: Sequence[Sequence[float]], says: str, columns: Sequence[str], fewest: int, most: int = 60
    ) -> None:
        super().__init__(tuple(tuple(float(x) for x in row) for row in default), says)
        self.columns, self.fewest, self.most = tuple(columns), fewest, most

    def read(self, typed: object, style: Style = PLAIN) -> tuple[tuple[float, ...], ...]:
        if isinstance(typed, str):
            text = typed.strip().strip(";")
            marks = text.replace("\n", ";")
            if len(self.columns) == 1:
                marks = marks.replace(",", ";")
            rows: Sequence[Any] = [part for part in marks.split(";") if part.strip()]
        elif isinstance(typed, (list, tuple)):
            rows = typed
        else:
            raise Refused(self.name, f"{self.name} must be a list of rows; write {', '.join(self.columns)}; and so on.")
        return tuple(self._row(k, row, style) for k, row in enumerate(rows, 1))

    def _row(self, k: int, row: Any, style: Style) -> tuple[float, ...]:
        parts = row.split(",") if isinstance(row, str) else row if isinstance(row, (list, tuple)) else [row]
        if len(parts) != len(self.columns):
            raise Refused(
                self.name,
                f"Row {k} of {self.name} has {len(parts)} numbers; it takes {', '.join(self.columns)}. Change that row.",
            )
        reader = Length(0.0, self.says, least=-LONGEST_LENGTH)
        reader.name = self.name
        try:
            return tuple(reader.read(part, style) for part in parts)
        except Refused as refusal:
            raise Refused(self.name, f"Row {k} of {self.name}: {refusal.says}") from None

    def check(self, figure: Figure) -> None:
        rows = figure.given_values[self.name]
        if not self.fewest <= len(rows) <= self.most:
            more = "Add some" if len(rows) < self.fewest else "Take some away"
            raise Refused(self.name, f"{self.name} has {len(rows)} rows; it takes {self.fewest} to {self.most}. {more}.")
        for k, row in enumerate(rows, 1):
            if max(abs(x) for x in row) > LONGEST_LENGTH:
                raise Refused(self.name, f"Row {k} of {self.name} lies beyond {trim(LONGEST_LENGTH)} mm; lower its numbers.")

    def text(self, value: Any, style: Style = PLAIN) -> str:
        scale = 25.4 if style.units == "in" else 1.0
        return "; ".join(", ".join(trim(x / scale, 6) for x in row) for row in value)

    def stored(self, value: tuple[tuple[float, ...], ...]) -> Any:
        return [list(row) for row in value]

    def bounds_text(self) -> Any:
        return {"columns": list(self.columns), "fewest": self.fewest, "most": self.most}


def parts_of_turns(turns: float, parts: int, what: str) -> int:
    """How many parts a number of turns holds, ``parts`` to a turn; raises :class:`Refused` where it is no whole number."""
    count = round(turns * parts)
    if count < 1 or abs(turns * parts - count) > 1e-6:
        low = max(int(turns * parts), 1)
        says = f"turns goes by {what}, {parts} to a turn; it is {trim(turns)}. Take {low}/{parts} or {low + 1}/{parts}."
        raise Refused("turns", says)
    return count
