"""Givens that are places: points by coordinates or by how far they stand from the planes, circles, corners, blocks."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import NamedTuple

from wise_compass.words.filled import Filled
from wise_compass.words.laid_out import motions, roof, stretches, terms
from wise_compass.words.outlined import profile
from wise_compass.words.quantities import Quantity, Word
from wise_compass.words.shaped import corners, ratio, scale
from wise_compass.words.statement import Statement

BLOCKS = "box|wedge|ramp|cylinder(?:-front|-right)?|cone|hole(?:-front|-right)?"
_N = r"\s*(-?\d+(?:\.\d+)?)\s*"
_ROW = re.compile(rf"\b({BLOCKS}),{_N},{_N},{_N},{_N},{_N},{_N}")
_AT, _OF = rf"{_N},{_N},{_N}", rf"{_N}(?:x|by){_N}(?:x|by){_N}"
_SAID = re.compile(
    rf"\b({BLOCKS})\b(?:(?!\b(?:{BLOCKS})\b).)*?(?:at\s*\(?{_AT}\)?\s*of{_OF}|of{_OF}at\s*\(?{_AT}\)?|{_OF}at\s*\(?{_AT}\)?)"
)
IN_PLANE = ("lie", "in", "on", "§and", "point")


class Stand(NamedTuple):
    """Where a point is told to stand: in front of one plane and above the other, None where it is not."""

    front: float | None
    above: float | None
    span: tuple[int, int] | None


def fill_places(statement: Statement, found: Filled) -> None:
    """Fill a figure's givens that are places."""
    if found.words.places is not None:
        kind, names = found.words.places
        _WAYS[kind](statement, found, names)


def _put(found: Filled, name: str, value: object, *told: Quantity) -> None:
    found.put(name, value, (min(one.start for one in told), max(one.end for one in told)), "place")
    found.taken.update(id(one) for one in told)


def _all(statement: Statement, wide: int) -> list[Quantity]:
    return [one for one in statement.quantities if one.kind == "place" and len(one.place) == wide]


def _lettered(wide: int) -> Callable[[Statement, Filled, list[str]], None]:
    def fill(statement: Statement, found: Filled, names: list[str]) -> None:
        """Points by their letters, or in the order told."""
        told = _all(statement, wide)
        by_letter = {one.label: one for one in told if one.label in names}
        if len(by_letter) == len(told):
            for name in names:
                if name in by_letter:
                    _put(found, name, list(by_letter[name].place), by_letter[name])
        elif len(told) == len(names):
            for name, one in zip(names, told):
                _put(found, name, list(one.place), one)
                if by_letter:
                    found.doubts[name] = "in the order told"

    return fill


def _ends(statement: Statement, found: Filled, names: list[str]) -> None:
    """Two ends of a line, by coordinates or by the planes and how far apart their projectors are."""
    _lettered(3)(statement, found, names)
    if _all(statement, 3) or len(found.givens) >= 2:
        return
    second = _second_end(statement)
    if not second:
        return
    one, other = _stand(statement, 0, second, found), _stand(statement, second, len(statement.tokens), found)
    apart = next(
        (
            size
            for size in statement.quantities
            if size.is_size
            and id(size) not in found.taken
            and {"apart", "projector", "between"} & set(statement.words(size.position - 7, size.position + 3))
        ),
        None,
    )
    if apart is None or None in (one.front, one.above, other.front, other.above):
        return
    found.taken.add(id(apart))
    found.put("A", [0.0, one.front, one.above], one.span, "place")
    found.put("B", [apart.value, other.front, other.above], other.span, "place")


def _second_end(statement: Statement) -> int:
    """Where the second end of a line begins to be told; 0 where it is not."""
    for position, token in enumerate(statement.tokens):
        if isinstance(token, Quantity) or position <= 3:
            continue
        before, after = statement.says(position - 1), statement.says(position + 1)
        named = token.says in ("B", "Q") and before in ("end", "point", "§.", "§;", "§and", "§,")
        if named or token.says == "other" and after == "end":
            return position
    return 0


def _stand(statement: Statement, start: int, end: int, found: Filled) -> Stand:
    """How high and how far in front a point is told to be, between two positions of the stream."""
    above: float | None = None
    front: float | None = None
    spans = []
    for position in range(start, end):
        token = statement.tokens[position]
        if isinstance(token, Quantity):
            way = next(iter(statement.words(position + 1, position + 3)), "")
            if not token.is_size or way not in ("above", "below", "front", "behind"):
                continue
            if way in ("above", "below"):
                above = token.value if way == "above" else -token.value
            else:
                front = token.value if way == "front" else -token.value
            found.taken.add(id(token))
            spans.append((token.start, token.end))
        elif token.says in ("HP", "VP"):
            before = statement.tokens[position - 1] if position else None
            if isinstance(before, Word) and before.says in IN_PLANE:
                if token.says == "HP" and above is None:
                    above = 0.0
                elif token.says == "VP" and front is None:
                    front = 0.0
    return Stand(front, above, (spans[0][0], spans[-1][1]) if spans else None)


def _by_planes(statement: Statement, found: Filled, names: list[str]) -> None:
    stand = _stand(statement, 0, len(statement.tokens), found)
    if stand.front is not None and stand.above is not None:
        found.put(names[0], [0.0, stand.front, stand.above], stand.span, "place")
    told = [one for one in statement.quantities if one.kind == "place"]
    if told and len(told[0].place) == 3:
        _put(found, names[0], list(told[0].place), told[0])


def _point_and_line(statement: Statement, found: Filled, names: list[str]) -> None:
    told = [one for one in statement.quantities if one.kind == "place"]
    flat = [one for one in told if len(one.place) == 2]
    if len(told) != 3:
        return
    for one, other in zip(flat, flat[1:]):
        if "line" in statement.words(one.position - 4, one.position) and other.position - one.position <= 3:
            point = next(place for place in flat if place not in (one, other))
            _put(found, "line", [*one.place, *other.place], one, other)
            _put(found, "point", list(point.place), point)
            return


def _circles(statement: Statement, found: Filled, names: list[str]) -> None:
    """Three circles, each by its centre and its radius, told beside it or behind them all."""
    told = _all(statement, 2)
    radii = [one for one in statement.quantities if one.measure and one.kind == "length"]
    if len(told) != 3 or len(radii) != 3:
        return
    for name, centre, radius in zip(names, told, radii):
        size = radius.value / (2 if radius.measure == "dia" else 1)
        _put(found, name, [*centre.place, size], centre, radius)


def _chain(statement: Statement, found: Filled, names: list[str]) -> None:
    """The corners of a chain, and the radii of all but its ends."""
    told = [one for one in statement.quantities if one.kind == "place"]
    if len(told) < 3:
        return
    _put(found, "corners", [list(one.place) for one in told], *told)
    radii = [one for one in statement.quantities if one.is_size and one.start > told[0].start or one.measure == "rad"]
    if len(radii) == len(told) - 2:
        _put(found, "radii", [[one.value] for one in radii], *radii)


def _blocks(statement: Statement, found: Filled, names: list[str]) -> None:
    """Rows of blocks, as a table has them or as they are said: *a box of 40 x 30 x 20 at 0,0,0*."""
    rows: list[list[object]] = [[row[1], *_numbers(row.groups()[1:])] for row in _ROW.finditer(statement.low)]
    ends = [row.span() for row in _ROW.finditer(statement.low)]
    if not rows:
        for row in _SAID.finditer(statement.low):
            first, second, third = (row.groups()[k : k + 6] for k in (1, 7, 13))
            numbers = (
                _numbers(first) if first[0] else _turned(second) if second[0] else _turned(third)
            )  # fmt: skip
            rows.append([row[1], *numbers])
            ends.append(row.span())
    if rows:
        found.put(names[0], rows, (ends[0][0], ends[-1][1]), "place")
        found.taken.update(id(one) for one in statement.quantities)


def _numbers(texts: Sequence[str]) -> list[float]:
    return [float(text) for text in texts]


def _stretches(statement: Statement, found: Filled, names: list[str]) -> None:
    _blocks(statement, found, names[:1])
    stretches(statement, found, names[1:])


def _turned(texts: Sequence[str]) -> list[float]:
    """Size before place: the place first."""
    return _numbers([*texts[3:], *texts[:3]])


_WAYS: dict[str, Callable[[Statement, Filled, list[str]], None]] = {
    "points2": _lettered(2),
    "points3": _lettered(3),
    "pointsAB": _ends,
    "hpvp": _by_planes,
    "point_line": _point_and_line,
    "circles3": _circles,
    "chain": _chain,
    "blocks": _blocks,
    "polygon": corners,
    "polepolygon": corners,
    "plot": corners,
    "ratio": ratio,
    "scale": scale,
    "profile": profile,
    "motions": motions,
    "roof": roof,
    "stretches": _stretches,
    "terms": terms,
}
