"""Givens that are rows of a kind of their own: the motions of a cam, the plan of a roof, the stretches of a section."""

from __future__ import annotations

import re

from wise_compass.words.filled import Filled
from wise_compass.words.quantities import Quantity
from wise_compass.words.shaped import corners
from wise_compass.words.statement import Statement

_N = r"\s*(-?\d+(?:\.\d+)?)\s*"
LAWS = "dwell|uniform|harmonic|parabolic|cycloidal"
_MOTION = re.compile(rf"\b({LAWS})\s*,{_N}(?:,{_N})?")
_MOVES = re.compile(
    r"\b(?P<rise>rais\w*|rises?|rising|lifts?|lifting|outstroke|outward stroke|ascends?)\b"
    r"|\b(?P<fall>falls?|falling|lowers?|lowering|returns?|drops?|instroke|return stroke|descends?|comes? down)\b"
    r"|\b(?P<dwell>dwells?|rests?|stays?|remains?)\b"
)
_LIFT = re.compile(r"(\d+(?:\.\d+)?)\s*(mm|cm|m)\b(?!\s*(?:dia|rad|roller|offset|across))")
_OF_ELSE = re.compile(r"\b(?:radius|radii|rad|diameter|dia|circle|roller|shaft|offset|bore)\b\s*(?:of|is|=|:)?\s*$")
_BARE = re.compile(r"^\W*(?:for|of|through|over|during)?\s*(\d+(?:\.\d+)?)\b(?!\s*(?:mm|cm|m)\b)")
_ANGLE = re.compile(r"(\d+(?:\.\d+)?)\s*(?:°|deg\w*)")
_TURN = {"half a turn": 180.0, "half turn": 180.0, "quarter of a turn": 90.0, "quarter turn": 90.0, "third of": 120.0}
_HOW = {
    "uniform": re.compile(
        r"constant\s+(?:velocity|speed|rate)|\buniform(?:ly)?\b(?!\s+(?:accelerat|retard))|\bsteadily\b"
    ),
    "harmonic": re.compile(r"harmonic|\bshm\b"),
    "parabolic": re.compile(r"parabolic|(?:uniform(?:ly)?|constant(?:ly)?|equal)\s+(?:accelerat|retard)|gravity"),
    "cycloidal": re.compile(r"cycloidal"),
}
_BEFORE = re.compile(
    r"(?:\b(?:and|equal|simple|steady|uniform|constant|harmonic|shm|parabolic|cycloidal|gravity|velocity|speed|rate"
    r"|accelerat\w*|retard\w*)\b[\s-]+)+$"
)
"""What tells how it moves before the word of moving: *a uniform rise*."""
UNITS = {"mm": 1.0, "cm": 10.0, "m": 1000.0}
_STRETCH = re.compile(rf"\bfrom{_N}(?:mm)?\s*to{_N}(?:mm)?\s*(?:at|along){_N}")
_STRETCHES = re.compile(rf"\bstretch(?:es)?\s*((?:{_N},{_N},{_N};?)+)")
_GABLED = re.compile(r"\bgable\w*\b")


def motions(statement: Statement, found: Filled, names: list[str]) -> None:
    """The motions of a follower, as rows or as what it does one after the other."""
    told = [(one[1], float(one[2]), float(one[3] or 0.0), one.span()) for one in _MOTION.finditer(statement.low)]
    if told:
        spans = [row[3] for row in told]
        _take(statement, found, names[0], [list(row[:3]) for row in told], (spans[0][0], spans[-1][1]))
        return
    rows, span = _moves(statement.low)
    if rows:
        _take(statement, found, names[0], rows, span)


def _moves(low: str) -> tuple[list[list[object]], tuple[int, int]]:
    """What a follower does, clause by clause; a fall that tells no length comes back down."""
    found = [*_MOVES.finditer(low)]
    nexts = [*(one.start() for one in found[1:]), len(low)]
    marks = [one for one, end in zip(found, nexts) if not _is_noun(low, one) or _ANGLE.search(low[one.end() : end])]
    if len(marks) < 2:
        return [], (0, 0)
    starts = [one.start() if (told := _BEFORE.search(low[: one.start()])) is None else told.start() for one in marks]
    ends = [*starts[1:], len(low)]
    clauses = [low[start:end] for start, end in zip(starts, ends)]
    laws = [next((law for law, way in _HOW.items() if way.search(clause)), "") for clause in clauses]
    every = [law for law in laws if law] or [law for law, way in _HOW.items() if way.search(low)]
    kinds = [one.lastgroup for one in marks]
    lifts = [_lift(clause) for clause in clauses]
    up = sum(float(one[1]) * UNITS[one[2]] for one, kind in zip(lifts, kinds) if one and kind == "rise")
    angles = [_angle(clause, low[one.end() : end]) for clause, one, end in zip(clauses, marks, ends)]
    open_ones = [k for k, angle in enumerate(angles) if angle is None]
    if len(open_ones) == 1:
        angles[open_ones[0]] = 360.0 - sum(angle for angle in angles if angle is not None)
    if not every or not up or any(angle is None or angle <= 0 for angle in angles):
        return [], (0, 0)
    rows: list[list[object]] = []
    down = 0.0
    for k, (kind, lift, angle) in enumerate(zip(kinds, lifts, angles)):
        assert angle is not None
        if kind == "dwell":
            rows.append(["dwell", angle, 0.0])
            continue
        law = laws[k] or next((one for one in laws[k:] if one), every[0])
        size = float(lift[1]) * UNITS[lift[2]] if lift else up if kind == "rise" else up - down
        down += size if kind == "fall" else 0.0
        rows.append([law, angle, size if kind == "rise" else -size])
    return rows, (starts[0], ends[-1])


def _is_noun(low: str, one: re.Match[str]) -> bool:
    """Whether a word of moving stands for a size, as in *a lift of 30 mm*, or for what is left."""
    before, after = low[: one.start()].rstrip().split(" ")[-1], low[one.end() :].lstrip()
    if one["dwell"]:
        return before == "the" or after.startswith("ing")
    return before in ("a", "the", "its", "of", "maximum", "total") and after.startswith(("of", "is", "=", "in all"))


def _lift(clause: str) -> re.Match[str] | None:
    """The size that is moved; one of something else on the way is none."""
    return next((one for one in _LIFT.finditer(clause) if not _OF_ELSE.search(clause[: one.start()])), None)


def _angle(clause: str, behind: str) -> float | None:
    """Through which angle, by its unit or as a bare number right behind the word."""
    told = _ANGLE.search(clause) or _BARE.search(behind)
    if told:
        return float(told[1])
    return next((turn for words, turn in _TURN.items() if words in clause), None)


def _take(statement: Statement, found: Filled, name: str, rows: object, span: tuple[int, int]) -> None:
    found.put(name, rows, span, "place")
    found.taken.update(id(one) for one in statement.quantities if span[0] <= one.start < span[1])


def roof(statement: Statement, found: Filled, names: list[str]) -> None:
    """A roof's plan by its corners or as a rectangle, and its pitches: one for all, or one a side; gables by their
    word."""
    corners(statement, found, names[:1])
    sizes = [one for one in statement.quantities if one.is_size and id(one) not in found.taken]
    if names[0] not in found.givens and len(sizes) >= 2 and _by(statement, sizes[0], sizes[1]):
        long, wide = sizes[0].value, sizes[1].value
        span = (sizes[0].start, sizes[1].end)
        found.put(names[0], [[0.0, 0.0], [long, 0.0], [long, wide], [0.0, wide]], span, "place")
        found.taken.update(id(one) for one in sizes[:2])
    rows = found.givens.get(names[0])
    if not isinstance(rows, list):
        return
    angles = [one for one in statement.quantities if one.kind == "angle" and id(one) not in found.taken]
    if not angles:
        angles = [
            one
            for one in statement.quantities
            if one.kind == "number"
            and id(one) not in found.taken
            and "pitch" in statement.words(one.position - 14, one.position)
        ]
    values = [one.value for one in angles]
    count = len(rows)
    if len(values) == 1:
        values *= count
        if _GABLED.search(statement.low) and count == 4:
            values[1] = values[3] = 90.0
    if len(values) == 2 and count == 4:
        values *= 2
    if len(values) == count:
        found.put(names[1], [[value] for value in values], (angles[0].start, angles[-1].end), "place")
        found.taken.update(id(one) for one in angles)


def _by(statement: Statement, one: Quantity, other: Quantity) -> bool:
    """Whether two sizes are a length by a width."""
    between = statement.words(one.position + 1, other.position)
    return len(between) <= 3 and bool({"by", "x", "§by", "§x", "§and"} & set(between))


def stretches(statement: Statement, found: Filled, names: list[str]) -> None:
    """From where to where a plane cuts a solid, and at what across."""
    listed = _STRETCHES.search(statement.low)
    if listed is not None:
        numbers = [float(x) for x in re.findall(r"-?\d+(?:\.\d+)?", listed[1])]
        rows = [numbers[k : k + 3] for k in range(0, len(numbers), 3)]
        _take(statement, found, names[0], rows, listed.span())
        return
    told = list(_STRETCH.finditer(statement.low))
    if told:
        rows = [[float(one[k]) for k in (1, 2, 3)] for one in told]
        _take(statement, found, names[0], rows, (told[0].start(), told[-1].end()))


def terms(statement: Statement, found: Filled, names: list[str]) -> None:
    """The terms of a ratio, one for each given."""
    told = next((one for one in statement.quantities if one.kind == "ratio" and len(one.ratio) == len(names)), None)
    if told is None:
        return
    for name, term in zip(names, told.ratio):
        found.put(name, term, (told.start, told.end), "ratio")
    found.taken.add(id(told))
