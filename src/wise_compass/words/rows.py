"""What quantities of a statement have in common: units told for all, diameters and radii, rows joined by signs."""

from __future__ import annotations

import re
from collections.abc import Sequence

from wise_compass.words.quantities import Quantity, Token
from wise_compass.words.schools import AFTER, UNITS

WHICH = frozenset(
    ("base", "core", "root", "mean", "outer", "inner", "outside", "inside", "major", "minor", "top", "bottom")
)
"""Words that say which diameter: *60 mm base diameter* is a diameter of 60 mm, whatever comes behind it."""
ALIKE = frozenset(
    ("circle", "circles", "pair", "pulley", "wheel", "disc", "sprocket", "gear", "gears", "roller", "drum", "ball")
    + ("balls", "sphere", "ring", "hole", "holes", "pipe", "cylinder", "frustum", "reducer", "end", "ends")
)
"""Things of which several are told in one row, each by the measure that stands behind the last."""
ROUND = ("circle", "disc", "wheel", "ring", "pulley", "ball", "sphere", "hole")
NEIGHBOURS = ("successive", "consecutive", "adjacent", "neighbouring")
RANGE = frozenset(
    ("greatest", "least", "largest", "smallest", "longest", "shortest", "maximum", "minimum", "outer", "inner")
    + ("outside", "inside", "larger", "smaller", "bigger", "final", "initial", "max", "min", "big", "small", "large")
)
"""Words for the ends of a range."""
JOINS = ("§,", "§and", "§by", "or", "to", "R", "r")
_IN_UNIT = re.compile(
    r"\bin\s+(metres|meters|inches|feet|cm|centimetres|centimeters|millimetres|millimeters|mm)\b(?!\s*(?:and|x|by))"
)


def hold_units(low: str, quantities: Sequence[Quantity], bare: float = 1.0) -> None:
    """Give numbers the unit that a statement tells for all: *dimensions in inches*; where it tells none, a length
    without a unit counts in ``bare`` mm, be it told among others that have one."""
    told = _IN_UNIT.search(low)
    unit = bare
    if told is not None and not any(one.unit for one in quantities if one.kind == "length"):
        unit = UNITS[told[1].rstrip("s")]
        for one in quantities:
            if one.is_size:
                one.value *= unit
                one.kind, one.unit = "length", told[1]
    for one in quantities:
        if one.kind == "place":
            one.place = tuple(number * unit for number in one.place)
        elif not one.unit:
            one.bare = bare


def numbered(tokens: Sequence[Token]) -> None:
    """Tell every quantity its position in the stream."""
    for position, token in enumerate(tokens):
        if isinstance(token, Quantity):
            token.position = position


def measure(tokens: Sequence[Token]) -> list[Token]:
    """The stream without the words for diameter and radius that stand beside a quantity: it tells them itself."""
    gone: set[int] = set()
    for position, token in enumerate(tokens):
        if isinstance(token, Quantity) or token.says not in ("dia", "rad"):
            continue
        if position and tokens[position - 1].says in NEIGHBOURS:
            continue  # "the ratio of successive radii 1.2"
        behind, ahead = _behind(tokens, position, gone), _ahead(tokens, position)
        before = tokens[position - behind] if behind else None
        after = tokens[position + ahead] if ahead else None
        touching = ahead == 1 and behind == 2 and tokens[position - 1].says not in WHICH
        if isinstance(before, Quantity) and before.is_size and not before.measure and not touching:
            before.measure, before.kind, before.measured_behind = token.says, "length", True
            gone.add(position)
        elif isinstance(after, Quantity) and not after.measure:
            after.measure, after.kind = token.says, "length"
            gone.add(position)
    kept = [token for position, token in enumerate(tokens) if position not in gone]
    for position, token in enumerate(kept):
        ways = [one.says if not isinstance(one, Quantity) else "" for one in kept[position + 1 : position + 3]]
        if isinstance(token, Quantity) and token.is_size and not token.measure:
            across = ways[:1] == ["across"] and ways[1:] not in (["flat"], ["corner"])
            if across or ways[:1] and ways[0] in ROUND:  # "a 70 mm circle"
                token.measure = "dia"
        if isinstance(token, Quantity) and token.measured_behind:
            _shared(kept, position)
    _opposed(kept)
    return kept


def _opposed(kept: Sequence[Token]) -> None:
    """*The greatest radius 72 mm and the least 12 mm*: of two ends of a range the measure of one is the other's too,
    where the other says nothing but which end it is."""
    sizes = [k for k, token in enumerate(kept) if isinstance(token, Quantity) and token.is_size]
    for first, second in zip(sizes, sizes[1:]):
        one, other = kept[first], kept[second]
        before = {token.says for token in kept[max(first - 4, 0) : first] if not isinstance(token, Quantity)}
        between = [token.says for token in kept[first + 1 : second] if not isinstance(token, Quantity)]
        ends = {word for word in between if word not in ("§and", "§,", "§;")}
        assert isinstance(one, Quantity) and isinstance(other, Quantity)
        opposed = len(ends) == 1 and ends <= RANGE and before & RANGE - ends
        if opposed and bool(one.measure) != bool(other.measure):
            one.measure = other.measure = one.measure or other.measure
            one.kind = other.kind = "length"


def _shared(kept: Sequence[Token], position: int) -> None:
    """*Wheels of 80 and 50 mm diameter*: what measures the last of a row measures those before it, where no word of
    its own stands before them."""
    last, first = kept[position], position
    row: list[Quantity] = []
    while first >= 2 and kept[first - 1].says in ("§,", "§and") and isinstance(one := kept[first - 2], Quantity):
        if one.measure or not one.is_size:
            return
        row.append(one)
        first -= 2
    head = kept[first - 1].says if first else ""
    if isinstance(last, Quantity) and head in ALIKE:
        for one in row:
            one.measure, one.kind = last.measure, "length"


def _behind(tokens: Sequence[Token], position: int, gone: set[int]) -> int:
    """How many tokens before a measure's word the quantity stands that it may be of; 0 for none."""
    back = next((k for k in (1, 2) if position >= k and isinstance(tokens[position - k], Quantity)), 0)
    said = [token.says for token in tokens[max(position - 2, 0) : position]]
    if position >= 3 and said[0] == "in" and said[1] in WHICH and isinstance(tokens[position - 3], Quantity):
        return 3  # "75 mm in base diameter"
    if back == 2:
        between = tokens[position - 1].says
        if between.startswith("§") or between in ("high", "long", "length", "height", "side", "circle"):
            return 0
    first = position - back - 1
    if back and first in gone and first >= 0:
        return 0
    return back


def _ahead(tokens: Sequence[Token], position: int) -> int:
    """How many tokens behind a measure's word the quantity stands that it may be of; 0 for none."""
    for k in range(1, min(8, len(tokens) - position)):
        token = tokens[position + k]
        if isinstance(token, Quantity):
            if token.is_count:
                continue
            return k if token.kind in ("length", "number") else 0
        if token.says in ("§,", "§;", "§.", "§and", "§by", "dia", "rad"):
            return 0
    return 0


def group(tokens: Sequence[Token], quantities: Sequence[Quantity]) -> list[list[Quantity]]:
    """Quantities that stand in one row, joined by signs; they share kind, unit and measure."""
    found: dict[int, list[Quantity]] = {}
    before: Quantity | None = None
    number = 0
    for one in quantities:
        if one.is_count and one.value < 3 or one.kind in ("ratio", "place"):
            before = None
            continue
        between = tokens[before.position + 1 : one.position] if before else []
        linked = (
            before is not None
            and bool(between)
            and all(not isinstance(token, Quantity) and token.says in JOINS for token in between)
            and (before.kind == one.kind or "number" in (before.kind, one.kind))
            and not (one.is_count or before.is_count)
        )
        number += not linked
        one.group, one.joins = number, tuple(token.says for token in between) if linked else ()
        found.setdefault(number, []).append(one)
        before = one
    for row in found.values():
        _share(row, tokens)
    return list(found.values())


def _share(row: Sequence[Quantity], tokens: Sequence[Token]) -> None:
    """Give the quantities of a row what only its last, or its first, was told."""
    if len(row) < 2:
        return
    behind = tokens[row[-1].position + 1 : row[-1].position + 2]
    stands = any(not isinstance(token, Quantity) and token.says in AFTER for token in behind)
    pair = len(row) == 2 and row[1].joins == ("§,",) and stands  # "sides 600, 4 m high"
    for one, next_one in zip(row[-2::-1], row[:0:-1]):
        bare = not pair and (one.kind == "number" or one.kind == "length" and not one.unit and bool(next_one.unit))
        if bare and next_one.kind in ("length", "angle"):
            one.value *= UNITS.get(next_one.unit, 1.0) if next_one.kind == "length" else 1.0
            one.kind, one.unit = next_one.kind, next_one.unit
    measures = [one.measure for one in row]
    alone = measures[0] and not any(measures[1:]) or measures[-1] and not any(measures[:-1])
    if measures[0] and row[0].measured_behind:
        return  # "34 mm radius and 69 mm lead": the measure is of the first alone
    first = row[1].joins
    by = len({one.joins[0] for one in row[1:]}) == 1 and "§by" in first
    apart = row[0].measure and len(row) == 2 and "§," in first and "§and" not in first
    if alone and not by and not apart:
        for one in row:
            one.measure = measures[0] or measures[-1]
            one.kind = "length"
