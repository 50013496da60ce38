"""Givens that are lists: the corners of a polygon, the point beside them, the terms of a ratio; and the sizes of a
scale, which are told by its units."""

from __future__ import annotations

import re
from collections.abc import Sequence

from wise_compass.words.filled import Filled
from wise_compass.words.quantities import Quantity
from wise_compass.words.statement import Statement

SHARES = ("ratio", "as", "proportion", "share", "shares", "ratios")
FAR = 6
"""Words before a row of numbers among which stands that it is a ratio."""
UNITS = {
    "mm": "millimet", "cm": "centimet", "dm": "decimet", "dam": "decamet", "hm": "hectomet", "km": "kilomet",
    "m": "met", "inch": "inch", "foot": "feet|foot", "yard": "yard", "chain": "chain", "furlong": "furlong",
    "mile": "mile",
}  # fmt: skip
FINER = {
    ("m", "dm"): 10, ("dm", "cm"): 10, ("cm", "mm"): 10, ("km", "hm"): 10, ("hm", "dam"): 10, ("dam", "m"): 10,
    ("m", "cm"): 100, ("yard", "foot"): 3, ("foot", "inch"): 12, ("mile", "furlong"): 8, ("furlong", "chain"): 10,
}  # fmt: skip
"""How many of the second unit the first has."""
_COUNT = r"\d+|two|three|four|five|six"
_UNIT = "|".join(f"(?P<{name}>{stem}\\w*)" for name, stem in UNITS.items())
_FRACTION = re.compile(r"\b1\s*(?::|/|to|in)\s*([\d.,]*\d)")
_SIZES = {
    "range": re.compile(
        r"(?:up to|reads?(?:ing)? to|long enough (?:to|for)(?: \w+)?|to measure|range(?: of)?|at most)\s+(\d+)()"
    ),
    "reading": re.compile(
        r"(?:mark|show|indicate|set (?:at|off)?|set it at|reading(?: of)?|a distance of|read off)\s+(\d+(?:[.,]\d+)?)()"
    ),
    "parts": re.compile(r"\b(?:into|in)\s+(\d+)\s*(?:equal )?parts?\b|\beach (?:in|into)\s+(\d+)"),
    "levels": re.compile(r"\binto\s+(\d+)\s*(?:by diagonals?|levels?)\b|\b(\d+)\s*levels?\b"),
    "steps": re.compile(r"\bvernier of\s+(\d+)|\b(\d+)\s*(?:vernier )?divisions?\b"),
}
"""How each number of a scale is told."""
_SHORT = re.compile(r"\s*(mm|cm|dm|km|m)\b")
"""The unit of what a scale reads to, which is its largest."""


def corners(statement: Statement, found: Filled, names: list[str]) -> None:
    """Corners by their coordinates; of several names the last is a point beside them, told by its own word."""
    told = [one for one in statement.quantities if one.kind == "place" and len(one.place) == 2]
    if len(names) > 1:
        beside = _beside(statement, told, names[1])
        if beside is not None:
            found.put(names[1], list(beside.place), (beside.start, beside.end), "place")
            found.taken.add(id(beside))
            told = [one for one in told if one is not beside]
    if len(told) >= 3:
        rows = [list(one.place) for one in told]
        found.put(names[0], rows, (told[0].start, told[-1].end), "place")
        found.taken.update(id(one) for one in told)
    for name in names[2:]:
        ratio(statement, found, [name])


def _beside(statement: Statement, told: Sequence[Quantity], name: str) -> Quantity | None:
    """The place that is no corner: behind its own word, or with its own letter."""
    for one in told:
        words = statement.words(one.position - 3, one.position)
        if one.label == name or name.lower() in words or (name == "P" and "point" in words[-2:]):
            return one
    return None


def ratio(statement: Statement, found: Filled, names: list[str]) -> None:
    """The terms of a ratio: *3 : 2*, *in the ratio 2, 3 and 4*, *three equal areas*."""
    told = next((one for one in statement.quantities if one.kind == "ratio" and id(one) not in found.taken), None)
    if told is not None:
        found.put(names[0], [[x] for x in told.ratio], (told.start, told.end), "ratio")
        found.taken.add(id(told))
        return
    row: list[Quantity] = []
    for one in statement.quantities:
        if one.kind != "number" or id(one) in found.taken:
            continue
        if not row and not set(SHARES) & set(statement.words(one.position - FAR, one.position)):
            continue
        row.append(one)
    if len(row) >= 2:
        found.put(names[0], [[one.value] for one in row], (row[0].start, row[-1].end), "ratio")
        found.taken.update(id(one) for one in row)
        return
    equal = re.search(rf"({_COUNT})\s+(?:\w+\s+){{0,2}}?equal|equal\w*\s+(?:in\s+area\s+)?({_COUNT})\b", statement.low)
    if equal is not None:
        word = equal[1] or equal[2]
        count = {"two": 2, "three": 3, "four": 4, "five": 5, "six": 6}.get(word) or int(word)
        if 2 <= count <= 12:
            found.put(names[0], [[1.0]] * count, equal.span(), "words")
            found.taken.update(id(one) for one in statement.quantities if equal.start() <= one.start < equal.end())


def scale(statement: Statement, found: Filled, names: list[str]) -> None:
    """A scale told by its fraction, its units from the largest down, how far it reads, and what is marked on it."""
    text = statement.low
    fraction = _FRACTION.search(text)
    if fraction is not None:
        found.put("over", float(fraction[1].replace(",", "")), fraction.span(), "ratio")
    units = list(re.finditer(rf"\b(?:{_UNIT})", text))
    told = [next(name for name in UNITS if one[name] is not None) for one in units]
    size = _SIZES["range"].search(text)
    short = _SHORT.match(text, size.end()) if size is not None else None
    row = list(dict.fromkeys([short[1], *told] if short is not None else told))
    if row:
        found.choices["unit"] = row[0]
        found.spans["unit"] = units[told.index(row[0])].span() if short is None else short.span(1)
    if "levels" in names:
        if len(row) > 1 and (row[0], row[1]) in FINER and FINER[row[0], row[1]] <= 20:
            found.put("parts", FINER[row[0], row[1]], None, "words")
        finer = (row[1], row[2]) if len(row) > 2 else None
        if finer in FINER and FINER[finer] <= 20:
            found.put("levels", FINER[finer], None, "words")
        elif "plain" in text or (len(row) == 2 and "diagonal" not in text):
            found.put("levels", 0, None, "words")
    for name, pattern in _SIZES.items():
        size = pattern.search(text) if name in names else None
        if size is not None:
            at = 1 if size[1] else 2
            value = float(size[at].replace(",", "."))
            found.put(name, value if name == "reading" else int(value), size.span(at), "words")
    found.taken.update(
        id(one)
        for one in statement.quantities
        if any(span and span[0] <= one.start < span[1] for span in found.spans.values())
    )
