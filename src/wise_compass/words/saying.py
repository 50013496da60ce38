"""Problems said as a teacher would set them: the same words, turned round.

A figure's ``says`` line is a sentence with ``{name}`` for a given; ``{name:gon}`` says a count as a polygon,
``{name:turns}`` a number of turns; ``[name=value: …]`` and ``[name!=value: …]`` are said only where that is so.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from wise_compass.drafting.givens import Choice, Given, length_number
from wise_compass.drafting.wording import PLAIN, Style, trim
from wise_compass.figures.catalogue import figure_named
from wise_compass.words.lexicon import lexicon
from wise_compass.words.schools import NUMBERS

_CONDITION = re.compile(r"\[(\w+)(!?=)([\w.-]+):([^\[\]]*)\]")
_SLOT = re.compile(r"\{(\w+)(?::(\w+))?\}")
_LOOSE = re.compile(r" +([.,;])")
"""A stop that stands off its word, where what is said between them is left out."""
_AN = re.compile(r"\b([Aa]) (?=oct|8-|11-|18-)")
TOUCHED = "It is touched by"
"""How the sentence begins that tells what touches a curve."""
GONS = {3: "triang", 4: "square", 5: "pentag", 6: "hexag", 7: "heptag", 8: "octag", 9: "nonag", 10: "decag"}
GONS |= {12: "dodecag"}
PARTS = {0.25: "a quarter", 0.5: "a half", 0.75: "three quarters"}
NTH = {2: "second", 3: "third", 4: "fourth", 5: "fifth", 6: "sixth", 7: "seventh", 8: "eighth"}
SPELLED = {n: word for word, n in NUMBERS.items() if n <= 12}
LAWS = {
    "uniform": "at constant speed",
    "harmonic": "harmonically",
    "parabolic": "with uniform acceleration",
    "cycloidal": "cycloidally",
}
"""How a follower moves by each law."""
THIRD = {"plan": "top view", "elevation": "front view"}
"""What schools of the third angle call the views."""


def problem_said(id: str, givens: Mapping[str, Any], style: Style = PLAIN, projection: str = "first") -> str:
    """A figure's problem in words, from its givens as they are stored.

    >>> problem_said("helix", {"radius": 34.0, "lead": 69.0, "turns": 1.5, "hand": "left", "divisions": 8})
    'Draw a left-hand helix of radius 34 mm and lead 69 mm, one and a half turns, with 8 divisions.'
    """
    kind = figure_named(id)
    held = {name: given.stored(given.default) for name, given in kind.givens.items()} | dict(givens)

    def condition(found: re.Match[str]) -> str:
        name, sign, value, words = found.groups()
        stored = held[name]
        alike = stored == float(value) if isinstance(stored, int | float) else str(stored) == value
        return words if alike == (sign == "=") else ""

    def slot(found: re.Match[str]) -> str:
        name, way = found[1], found[2]
        if way:
            return _WAYS[way](held[name], style)
        return _plain(kind.givens[name], held[name], style)

    said = _SLOT.sub(slot, _CONDITION.sub(condition, lexicon().figures[id].says))
    if projection == "third":
        said = re.sub(r"\b(plan|elevation)\b", lambda found: THIRD[found[1]], said)
    return _AN.sub(r"\1n ", _LOOSE.sub(r"\1", said))


def rest_said(id: str, givens: Mapping[str, Any], method: str = "", style: Style = PLAIN) -> str:
    """What a problem in words leaves open and its drawing needs, such as where the seam lies or what touches it; empty
    where it is whole.

    >>> rest_said("helix", {}), rest_said("coil-spring", {"divisions": 16})
    ('', 'Take 16 for the divisions of a turn.')
    """
    kind = figure_named(id)
    held = {name: given.stored(given.default) for name, given in kind.givens.items()} | dict(givens)
    told = {*re.findall(r"[{[](\w+)", lexicon().figures[id].says)}
    plain, touched, how = kind.sentence(held, method).partition(TOUCHED)
    takes = [
        f"{_plain(given, held[name], style)} for {_aside(given.says)}"
        for name in re.findall(r"\{(\w+)\}", plain)
        if (given := kind.givens.get(name)) is not None
        and name not in told
        and not (
            held[name] == given.default and (isinstance(given, Choice) or given.kind == "length" and not held[name])
        )
    ]
    said = [f"Take {', '.join(takes[:-1])}{' and ' if takes[1:] else ''}{takes[-1]}."] if takes else []
    if touched and held["touch"] != "none":
        said.append(_SLOT.sub(lambda found: _plain(kind.givens[found[1]], held[found[1]], style), touched + how))
    return " ".join(said)


def _aside(says: str) -> str:
    """What a given is, with what explains it in brackets, so that others can follow.

    >>> _aside("the division; 0 is in the throat")
    'the division (0 is in the throat)'
    """
    what, _, more = says.partition("; ")
    return f"{what} ({more})" if more else what


def _plain(given: Given[Any], stored: Any, style: Style) -> str:
    return given.text(given.read(stored), style)


def _gon(sides: Any, style: Style) -> str:
    """A polygon by its sides: *hexagon*, *polygon of 13 sides*.

    >>> _gon(6, PLAIN), _gon(13, PLAIN), _gonal(3, PLAIN), _gonal(13, PLAIN)
    ('hexagon', '13-sided polygon', 'triangular', '13-sided')
    """
    stem = GONS.get(int(sides))
    if stem is None:
        return f"{int(sides)}-sided polygon"
    return {"triang": "triangle", "square": "square"}.get(stem, f"{stem}on")


def _gonal(sides: Any, style: Style) -> str:
    stem = GONS.get(int(sides))
    if stem is None:
        return f"{int(sides)}-sided"
    return {"triang": "triangular", "square": "square"}.get(stem, f"{stem}onal")


def _turns(turns: Any, style: Style) -> str:
    """A number of turns.

    >>> _turns(1.5, PLAIN), _turns(1.0, PLAIN), _turns(2.3, PLAIN)
    ('one and a half turns', 'one turn', '2.3 turns')
    """
    whole, part = int(turns), turns - int(turns)
    if whole in SPELLED and (not part or part in PARTS):
        return f"{SPELLED[whole]}{f' and {PARTS[part]}' if part else ''} turn{'' if turns == 1 else 's'}"
    return f"{trim(turns)} turns"


def _places(rows: Any, style: Style) -> str:
    return ", ".join(f"({', '.join(trim(one) for one in row)})" for row in rows)


def _list(rows: Any, style: Style) -> str:
    return _in_turn([_length(row[0], style) for row in rows])


def _angles(rows: Any, style: Style) -> str:
    return _in_turn([f"{trim(row[0])}°" for row in rows])


def _blocks(rows: Any, style: Style) -> str:
    return "; ".join(",".join(one if isinstance(one, str) else trim(one) for one in row) for row in rows)


def _solid(rows: Any, style: Style) -> str:
    """Blocks by their sizes and nearest corners.

    >>> _solid([["box", 0, 0, 0, 40, 30, 20], ["hole", 5, 5, 0, 10.5, 10.5, 20]], PLAIN)
    'a box of 40 × 30 × 20 at (0, 0, 0) and a hole of 10.5 × 10.5 × 20 at (5, 5, 0)'
    """
    told = [[trim(one) for one in row[1:]] for row in rows]
    return _in_turn([f"a {row[0]} of {' × '.join(one[3:])} at ({', '.join(one[:3])})" for row, one in zip(rows, told)])


def _motions(rows: Any, style: Style) -> str:
    """What a follower does, one thing after another.

    >>> _motions([["harmonic", 120, 24], ["dwell", 60, 0], ["parabolic", 180, -24]], PLAIN)
    'rises 24 mm harmonically over 120°, dwells for 60° and falls 24 mm with uniform acceleration over 180°'
    """
    return _in_turn(
        [
            f"dwells for {trim(angle)}°"
            if law == "dwell"
            else f"{'rises' if lift > 0 else 'falls'} {_length(abs(lift), style)} {LAWS[law]} over {trim(angle)}°"
            for law, angle, lift in rows
        ]
    )


def _length(size: float, style: Style) -> str:
    return f"{length_number(size, style)} {style.units}"


def _stretches(rows: Any, style: Style) -> str:
    return _in_turn([f"from {trim(start)} to {trim(end)} at {trim(at)}" for start, end, at in rows])


def _in_turn(told: Sequence[str]) -> str:
    return f"{', '.join(told[:-1])} and {told[-1]}" if len(told) > 1 else told[0]


def _part(start: int, end: int) -> Callable[[Any, Style], str]:
    return lambda numbers, style: ", ".join(trim(one) for one in numbers[start:end])


_WAYS: dict[str, Callable[[Any, Style], str]] = {
    "gon": _gon,
    "gonal": _gonal,
    "turns": _turns,
    "nth": lambda count, style: NTH.get(int(count), f"{int(count)}th"),
    "places": _places,
    "list": _list,
    "blocks": _blocks,
    "solid": _solid,
    "motions": _motions,
    "stretches": _stretches,
    "angles": _angles,
    "path": lambda names, style: ", ".join(names),
    "ratio": lambda rows, style: " : ".join(trim(row[0], 6) for row in rows),
    "first": _part(0, 2),
    "second": _part(2, 4),
    "centre": lambda circle, style: f"({trim(circle[0])}, {trim(circle[1])})",
    "radius": lambda circle, style: _length(circle[2], style),
}
