"""Givens of rows that name each other: what is fixed, what is found from it, and the path through them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from wise_compass.drafting.givens import LONGEST_LENGTH, Angle, Given, HasGivens, Length, length_number
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style, trim

TURNS = ("left", "right")
LENGTH, REF, PLACE = "length", "name", "place"
FORMS: dict[str, tuple[tuple[str, ...], int]] = {
    "circle": (("x", "y", "r", "turn"), 4),
    "point": (("x", "y"), 2),
    "line": (("x1", "y1", "x2", "y2"), 4),
    "on": (("of", "place"), 2),
    "tangent": (("first", "second"), 2),
    "arc": (("r", "turn", "first", "second", "side"), 4),
    "cross": (("first", "second", "side"), 2),
    "touch": (("turn", "first", "second", "third", "which"), 4),
    "mirror": (("axis",), 1),
}
"""What a row of each kind takes behind its name, and how much of it has to be there."""
WORDS = {"turn": TURNS, "side": ("left", "right", "back", "on"), "which": ("small", "large")}
ROW_WORDS = frozenset((*FORMS, *(word for words in WORDS.values() for word in words)))
"""Words of a row that are no names."""
REFS = ("first", "second", "third", "of", "axis")
IMAGE = "m"
"""What the name of a row has behind it where its mirror image is meant."""
NAME = re.compile(r"[A-Za-z][A-Za-z0-9]{0,5}")
SEPARATE = re.compile(r"[\s,;]+")


def entries(row: Sequence[Any]) -> dict[str, Any]:
    """What a row holds behind its kind and name, by what it is."""
    return dict(zip(FORMS[row[0]][0], row[2:]))


def kinds_of(rows: Sequence[Sequence[Any]]) -> dict[str, str]:
    """What kind everything is that later rows may name: rows, and behind a mirror the images of those before it."""
    kinds: dict[str, str] = {}
    for kind, name, *_ in rows:
        if kind == "mirror":
            kinds |= {f"{one}{IMAGE}": of for one, of in kinds.items() if of != "mirror"}
        kinds[name] = kind
    return kinds


def takes(kind: str) -> str:
    """How a row of a kind is written."""
    what, least = FORMS[kind]
    return ", ".join(
        ["name", *("|".join(WORDS.get(one, (one,))) + ("" if k < least else " (if two)") for k, one in enumerate(what))]
    )


class NamedRows(Rows):
    """A table of named circles, points, lines, tangents and arcs, each naming earlier ones only: typed
    ``circle,A,0,0,24,left; arc,F,60,right,B,A,right; …``. Rows are as long as their kind asks."""

    def __init__(self, default: Sequence[Sequence[Any]], says: str, most: int) -> None:
        super().__init__((), says, ("row", "name", "·", "··", "···", "····", "·····"), 2, most)
        self.default: Any = tuple(tuple(x if isinstance(x, str) else float(x) for x in row) for row in default)

    def _read(self, typed: object, style: Style) -> Any:
        rows: Any = super()._read(typed, style)
        out: list[Any] = []
        for k, row in enumerate(rows, 1):
            kind, name, kinds = row[0], row[1], kinds_of(out)
            self._refs(k, row, kinds)
            if name in kinds:
                raise Refused(self.name, f"Row {k} of {self.name}: there is a row {name} already. Name it otherwise.")
            if kind == "on":
                row = (*row[:3], self._place(k, row[3], kinds[row[2]], style))
            out.append(row)
        return tuple(out)

    def _refs(self, k: int, row: Sequence[Any], kinds: dict[str, str]) -> None:
        named = [value for what, value in entries(row).items() if what in REFS]
        for ref in named:
            if kinds.get(ref, "mirror") == "mirror":
                known = ", ".join(one for one, kind in kinds.items() if kind != "mirror") or "none"
                raise Refused(
                    self.name,
                    f"Row {k} of {self.name}: there is no {ref} in the rows before it; they are {known}. Name one of "
                    f"them, or move {row[1]} further down.",
                )
        if len(set(named)) < len(named):
            raise Refused(self.name, f"Row {k} of {self.name} names {named[0]} twice. Name different ones.")

    def _place(self, k: int, typed: Any, of: str, style: Style) -> float:
        reader: Length | Angle = (
            Length(0.0, "the place", least=-LONGEST_LENGTH)
            if of in ("line", "tangent")
            else Angle(0.0, "the place", least=-360.0, most=360.0)
        )
        return self._with(k, reader, typed, style)

    def _with(self, k: int, reader: Length | Angle, typed: Any, style: Style) -> float:
        reader.name = self.name
        try:
            return reader.read(typed, style)
        except Refused as refusal:
            raise Refused(self.name, f"Row {k} of {self.name}: {refusal.template}") from None

    def _row(self, k: int, row: Any, style: Style) -> Any:
        parts = row.split(",") if isinstance(row, str) else list(row) if isinstance(row, (list, tuple)) else [row]
        parts = [part.strip() if isinstance(part, str) else part for part in parts]
        while parts and parts[-1] in ("", None):
            parts.pop()
        kind = str(parts[0]).lower() if parts else ""
        if kind not in FORMS:
            raise Refused(
                self.name,
                f"Row {k} of {self.name} is no “{parts[0] if parts else ''}”; a row is "
                f"{', '.join(FORMS)}. Change its first entry.",
            )
        what, least = FORMS[kind]
        if not least <= len(parts) - 2 <= len(what):
            raise Refused(
                self.name, f"Row {k} of {self.name} is a {kind} of {len(parts) - 1} entries; it takes {takes(kind)}."
            )
        name = str(parts[1])
        if NAME.fullmatch(name) is None:
            raise Refused(
                self.name,
                f"Row {k} of {self.name} is named “{name}”; a name is a letter and up to five letters or digits. "
                "Name it so.",
            )
        return (kind, name, *(self._entry(k, one, value, style) for one, value in zip(what, parts[2:])))

    def _entry(self, k: int, what: str, value: Any, style: Style) -> Any:
        if what in REFS:
            return str(value)
        if what == "place":
            return value
        if what in WORDS:
            word = str(value).lower()
            if word not in WORDS[what]:
                words = " or ".join(WORDS[what])
                raise Refused(self.name, f"Row {k} of {self.name}: its {what} is “{value}”; write {words}.")
            return word
        return self._with(k, Length(0.0, self.says, least=-LONGEST_LENGTH), value, style)

    def check(self, figure: HasGivens) -> None:
        for k, row in enumerate(self._counted(figure), 1):
            held = entries(row)
            self._near(k, [0.0, *(x for x in held.values() if isinstance(x, float))])
            if "r" in held and held["r"] < 0.1:
                raise Refused(
                    self.name,
                    f"Row {k} of {self.name}, {row[1]}, has a radius of {trim(held['r'])} mm; it must be at least "
                    "0.1 mm. Raise it, or set a point.",
                )

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return "; ".join(", ".join(self._cells(row, value, style)) for row in value)

    def _cells(self, row: Sequence[Any], rows: Sequence[Sequence[Any]], style: Style) -> list[str]:
        kinds = kinds_of(rows)
        turned = row[0] == "on" and kinds.get(row[2]) not in ("line", "tangent")
        return [x if isinstance(x, str) else f"{trim(x, 6)}°" if turned else length_number(x, style) for x in row]

    def scaled(self, rows: Sequence[Sequence[Any]], by: float) -> list[list[Any]]:
        """The same profile larger or smaller; directions of places stay."""
        kinds = kinds_of(rows)
        return [
            [
                round(x * by, 2)
                if not isinstance(x, str) and not (row[0] == "on" and kinds[row[2]] not in ("line", "tangent"))
                else x
                for x in row
            ]
            for row in rows
        ]


class Path(Given[tuple[str, ...]]):
    """Names of rows in the order in which they follow each other: typed ``A, T, B, F``."""

    kind = "path"

    def __init__(self, default: Sequence[str], says: str, most: int) -> None:
        super().__init__(tuple(default), says)
        self.most = most

    def read(self, typed: object, style: Style = PLAIN) -> tuple[str, ...]:
        if isinstance(typed, str):
            names: Sequence[Any] = [part for part in SEPARATE.split(typed.strip()) if part]
        elif isinstance(typed, (list, tuple)):
            names = typed
        else:
            raise Refused(self.name, f"{self.name} must be a list of names; write A, B, C.")
        return tuple(str(name).strip() for name in names)

    def check(self, figure: HasGivens) -> None:
        names = self.read(figure.given_values[self.name])
        if not 2 <= len(names) <= self.most:
            more = "Add some" if len(names) < 2 else "Take some away"
            raise Refused(self.name, f"{self.name} has {len(names)} names; it takes 2 to {self.most}. {more}.")

    def text(self, value: Any, style: Style = PLAIN) -> str:
        return ", ".join(value)

    def stored(self, value: tuple[str, ...]) -> Any:
        return list(value)

    def bounds_text(self) -> Any:
        return {"fewest": 2, "most": self.most}
