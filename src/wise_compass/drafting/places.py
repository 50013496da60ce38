"""Givens of several lengths: points, segments, circles, and rows of numbers; and turns that go by parts."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from wise_compass.drafting.givens import (
    LONGEST_LENGTH,
    ROOM,
    SHORTEST_LENGTH,
    Given,
    HasGivens,
    Length,
    Real,
    length_number,
    within,
)
from wise_compass.drafting.parse import parts_of
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style, least_mm, mm, most_mm, trim

FEWEST_PART, MOST_PARTS = 0.01, 1000.0
"""What a term of a ratio may be, at least and at most."""


def read_lengths(given: Given[Any], typed: object, style: Style, columns: Sequence[str]) -> tuple[float, ...]:
    """Lengths typed as ``12,18,47`` or found in a file as a list, one for each of ``columns``."""
    how = ", ".join(columns)
    if isinstance(typed, str):
        parts: Sequence[Any] = parts_of(typed.strip().strip("()[]"), len(columns))
    elif isinstance(typed, (list, tuple)):
        parts = typed
    else:
        raise Refused(given.name, f"{given.name} must be {given.says.split(':')[0]}; write its {how}.")
    if len(parts) != len(columns):
        raise Refused(given.name, f"{given.name} has {len(parts)} numbers; write {how}.")
    reader = Length(0.0, given.says, least=-LONGEST_LENGTH)
    reader.name = given.name
    return tuple(reader.read(part, style) for part in parts)


class Lengths(Given[tuple[float, ...]]):
    """A few lengths that belong together: the coordinates of a point, a segment, or a circle."""

    kind = "point"
    unit = "mm"
    columns: tuple[str, ...] = ()

    def __init__(self, default: Sequence[float], says: str) -> None:
        super().__init__(tuple(float(x) for x in default), says)

    def read(self, typed: object, style: Style = PLAIN) -> tuple[float, ...]:
        return read_lengths(self, typed, style, self.columns)

    def check(self, figure: HasGivens) -> None:
        worst = max((abs(x) for x in self.read(figure.given_values[self.name])), default=0.0)
        if not worst <= LONGEST_LENGTH * (1 + ROOM):
            raise Refused(
                self.name,
                f"{self.name}, {self.says}, lies {mm(worst)} out; it must stay within "
                f"{most_mm(LONGEST_LENGTH)}. Lower that "
                "coordinate.",
            )

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return ", ".join(length_number(x, style) for x in value)

    def stored(self, value: tuple[float, ...]) -> Any:
        return list(value)

    def bounds_text(self) -> Any:
        bounds = {"coordinates": len(self.columns), "least": -LONGEST_LENGTH, "most": LONGEST_LENGTH}
        return {**bounds, "columns": list(self.columns)}


class Point(Lengths):
    """A point of the plane by its two coordinates."""

    columns = ("x", "y")


class SpacePoint(Lengths):
    """A point in space: along the reference line, in front of the vertical plane, above the horizontal plane."""

    columns = ("x", "y", "z")


class Segment(Lengths):
    """A straight line by two of its points."""

    columns = ("x1", "y1", "x2", "y2")


class Circle(Lengths):
    """A circle by its centre and its radius; a radius of 0 is a point."""

    columns = ("x", "y", "radius")

    def check(self, figure: HasGivens) -> None:
        super().check(figure)
        radius = figure.given_values[self.name][2]
        if radius < 0 or not (radius == 0 or within("least", radius, SHORTEST_LENGTH)):
            raise Refused(
                self.name,
                f"The radius of {self.name} is {mm(radius)}; it must be 0 (a point) "
                f"or at least {least_mm(SHORTEST_LENGTH)}. "
                "Change its third number.",
            )


class Rows(Given[tuple[tuple[float, ...], ...]]):
    """A list of rows of lengths, such as corners: typed ``0,0; 60,0; 90,40``, edited as a table.

    ``columns`` names the coordinates; a list of one column may be typed with commas alone. ``inner_of`` names a list
    of which this one tells something of every row but the first and the last: they are edited as one table.
    """

    kind = "rows"
    unit = "mm"

    def __init__(
        self,
        default: Sequence[Sequence[float]],
        says: str,
        columns: Sequence[str],
        fewest: int,
        most: int = 60,
        inner_of: str = "",
    ) -> None:
        self.inner_of = inner_of
        super().__init__(tuple(tuple(float(x) for x in row) for row in default), says)
        self.columns, self.fewest, self.most = tuple(columns), fewest, most
        self._known: tuple[object, Style, tuple[tuple[float, ...], ...]] = (None, PLAIN, ())

    def read(self, typed: object, style: Style = PLAIN) -> tuple[tuple[float, ...], ...]:
        """The rows; what it has just made itself it takes as it is, and what it has just read it knows."""
        words, told, made = self._known
        if typed is made and made or (isinstance(typed, str) and typed == words and style == told):
            return made
        made = self._read(typed, style)
        self._known = typed if isinstance(typed, str) else None, style, made
        return made

    def _read(self, typed: object, style: Style) -> tuple[tuple[float, ...], ...]:
        if isinstance(typed, str):
            text = typed.strip().strip(";")
            marks = text.replace("\n", ";")
            if len(self.columns) == 1:
                marks = re.sub(r",\s" if ";" in text else ",", ";", marks)
            rows: Sequence[Any] = [part for part in marks.split(";") if part.strip()]
        elif isinstance(typed, (list, tuple)):
            rows = typed
        else:
            raise Refused(self.name, f"{self.name} must be a list of rows; write {', '.join(self.columns)}; and so on.")
        return tuple(self._row(k, row, style) for k, row in enumerate(rows, 1))

    def _row(self, k: int, row: Any, style: Style) -> tuple[float, ...]:
        parts = (
            parts_of(row, len(self.columns))
            if isinstance(row, str)
            else row
            if isinstance(row, (list, tuple))
            else [row]
        )
        if len(parts) != len(self.columns):
            raise Refused(
                self.name,
                f"Row {k} of {self.name} has {len(parts)} numbers; it takes "
                f"{', '.join(self.columns)}. Change that row.",
            )
        return self._lengths(k, parts, style)

    def _lengths(self, k: int, parts: Sequence[Any], style: Style) -> tuple[float, ...]:
        reader = Length(0.0, self.says, least=-LONGEST_LENGTH)
        reader.name = self.name
        try:
            return tuple(reader.read(part, style) for part in parts)
        except Refused as refusal:
            raise Refused(self.name, f"Row {k} of {self.name}: {refusal.template}") from None

    def _counted(self, figure: HasGivens) -> Any:
        """The rows of a figure; raises :class:`Refused` where there are too few or too many."""
        rows = self.read(figure.given_values[self.name])
        if not self.fewest <= len(rows) <= self.most:
            more = "Add some" if len(rows) < self.fewest else "Take some away"
            raise Refused(
                self.name, f"{self.name} has {len(rows)} rows; it takes {self.fewest} to {self.most}. {more}."
            )
        return rows

    def _near(self, k: int, numbers: Sequence[float]) -> None:
        if max(abs(x) for x in numbers) > LONGEST_LENGTH:
            raise Refused(
                self.name, f"Row {k} of {self.name} lies beyond {most_mm(LONGEST_LENGTH)}; lower its numbers."
            )

    def check(self, figure: HasGivens) -> None:
        for k, row in enumerate(self._counted(figure), 1):
            self._near(k, row)

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return "; ".join(", ".join(length_number(x, style) for x in row) for row in value)

    def stored(self, value: tuple[tuple[float, ...], ...]) -> Any:
        return [list(row) for row in value]

    def bounds_text(self) -> Any:
        return {"columns": list(self.columns), "fewest": self.fewest, "most": self.most}


class Numbers(Rows):
    """A list of plain numbers above 0, such as the terms of a ratio: typed ``2, 3, 4``."""

    unit = ""

    def __init__(self, default: Sequence[float], says: str, fewest: int, most: int) -> None:
        super().__init__([(x,) for x in default], says, ("number",), fewest, most)

    def _lengths(self, k: int, parts: Sequence[Any], style: Style) -> tuple[float, ...]:
        reader = Real(1.0, self.says)
        reader.name = self.name
        try:
            return tuple(reader.read(part, style) for part in parts)
        except Refused as refusal:
            raise Refused(self.name, f"Row {k} of {self.name}: {refusal.template}") from None

    def check(self, figure: HasGivens) -> None:
        for k, (number,) in enumerate(self._counted(figure), 1):
            if not FEWEST_PART <= number <= MOST_PARTS:
                raise Refused(
                    self.name,
                    f"Row {k} of {self.name} is {trim(number)}; it must be from {trim(FEWEST_PART)} to "
                    f"{trim(MOST_PARTS)}. Change that row.",
                )

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return ", ".join(trim(row[0], 6) for row in value)


class Blocks(Rows):
    """A table of blocks: rows of a shape, where its nearest lowest corner is, and its sizes, typed
    ``box,0,0,0,40,30,20; hole,…``."""

    def __init__(self, default: Sequence[Sequence[Any]], says: str, shapes: Sequence[str], most: int) -> None:
        columns = ("shape", "x", "y", "z", "front", "right", "height")
        super().__init__((), says, columns, 1, most)
        self.shapes = tuple(shapes)
        self.default = tuple((row[0], *(float(x) for x in row[1:])) for row in default)

    def _row(self, k: int, row: Any, style: Style) -> Any:
        parts = [
            part.strip() if isinstance(part, str) else part
            for part in (row.split(",") if isinstance(row, str) else row)
        ]
        if len(parts) != len(self.columns):
            raise Refused(
                self.name,
                f"Row {k} of {self.name} has {len(parts)} entries; it takes "
                f"{', '.join(self.columns)}. Change that row.",
            )
        shape = str(parts[0]).lower()
        if shape not in self.shapes:
            raise Refused(
                self.name,
                f"Row {k} of {self.name} is no “{parts[0]}”; its shape is {', '.join(self.shapes)}. Change that row.",
            )
        return (shape, *self._lengths(k, parts[1:], style))

    def check(self, figure: HasGivens) -> None:
        for k, row in enumerate(self._counted(figure), 1):
            for column, size in zip(self.columns[4:], row[4:]):
                if size < SHORTEST_LENGTH * (1 - ROOM):
                    least = least_mm(SHORTEST_LENGTH)
                    raise Refused(
                        self.name,
                        f"Row {k} of {self.name} has a {column} of {mm(size)}; it must be at least {least}. Raise it.",
                    )
            self._near(k, row[1:])

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return "; ".join(", ".join((row[0], *(length_number(x, style) for x in row[1:]))) for row in value)


def parts_of_turns(turns: float, parts: int, what: str) -> int:
    """How many parts a number of turns holds, ``parts`` to a turn; raises :class:`Refused` where it is no whole
    number."""
    count = round(turns * parts)
    if count < 1 or abs(turns * parts - count) > 1e-6:
        low = max(int(turns * parts), 1)
        says = f"turns goes by {what}, {parts} to a turn; it is {trim(turns)}. Take {low}/{parts} or {low + 1}/{parts}."
        raise Refused("turns", says)
    return count
