"""Givens of rows that hold angles: a list of angles, and the motions of a cam."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from wise_compass.drafting.givens import Angle, HasGivens, Length, length_number
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style, trim

MOTION_WORDS = {
    "dwell": "dwell",
    "uniform": "uniform speed",
    "harmonic": "harmonic motion",
    "parabolic": "uniform acceleration",
    "cycloidal": "cycloidal motion",
}
"""The motions of a follower, and how each is called."""


class Angles(Rows):
    """A list of angles in degrees, such as the pitches of a roof: typed ``40, 40, 35``."""

    unit = "°"

    def __init__(self, default: Sequence[float], says: str, fewest: int, most: int) -> None:
        super().__init__([(x,) for x in default], says, ("angle",), fewest, most)

    def _lengths(self, k: int, parts: Sequence[Any], style: Style) -> tuple[float, ...]:
        return (_read(self, k, Angle(0.0, self.says), parts[0], style),)

    def check(self, figure: HasGivens) -> None:
        self._counted(figure)

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return ", ".join(trim(row[0], 6) for row in value)


class Motions(Rows):
    """A table of motions: rows of a law, the angle that it takes and the lift that it brings, typed
    ``harmonic,120,30; dwell,60,0; …``."""

    def __init__(
        self, default: Sequence[tuple[str, float, float]], says: str, laws: Mapping[str, str], most: int
    ) -> None:
        super().__init__((), says, ("motion", "angle", "lift"), 1, most)
        self.laws = dict(laws)
        self.default: Any = tuple((law, float(angle), float(lift)) for law, angle, lift in default)

    def _row(self, k: int, row: Any, style: Style) -> Any:
        parts = [
            part.strip() if isinstance(part, str) else part
            for part in (row.split(",") if isinstance(row, str) else row if isinstance(row, (list, tuple)) else [row])
        ]
        if len(parts) == 2 and str(parts[0]).lower() == "dwell":
            parts.append(0)
        if len(parts) != 3:
            raise Refused(
                self.name,
                f"Row {k} of {self.name} has {len(parts)} entries; it takes motion, angle, lift. Change that row.",
            )
        law = str(parts[0]).lower()
        if law not in self.laws:
            raise Refused(
                self.name,
                f"Row {k} of {self.name} is no “{parts[0]}”; its motion is {', '.join(self.laws)}. Change that row.",
            )
        angle = _read(self, k, Angle(0.0, self.says), parts[1], style)
        return (law, angle, _read(self, k, Length(0.0, self.says, least=-20000), parts[2], style))

    def check(self, figure: HasGivens) -> None:
        for k, (_, angle, lift) in enumerate(self._counted(figure), 1):
            if angle <= 0:
                raise Refused(
                    self.name, f"Row {k} of {self.name} takes {trim(angle)}°; it must take more than 0°. Raise it."
                )
            self._near(k, (lift,))

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return "; ".join(f"{row[0]}, {trim(row[1], 6)}, {length_number(row[2], style)}" for row in value)


def _read(given: Rows, k: int, reader: Angle | Length, typed: Any, style: Style) -> float:
    """One entry of row ``k``; a refusal names the row."""
    reader.name = given.name
    try:
        return reader.read(typed, style)
    except Refused as refusal:
        raise Refused(given.name, f"Row {k} of {given.name}: {refusal.template}") from None
