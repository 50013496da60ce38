"""What a statement was read as, told: as a record for programs, and in words for a person."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from wise_compass.drafting.wording import PLAIN, Style, many
from wise_compass.words.filled import Filled
from wise_compass.words.reading import Reading

FIGURE = "figure"
"""Among the doubts: that the figure itself is not sure."""


def record(reading: Reading) -> dict[str, Any]:
    """A reading as plain values: mm and degrees, spans as signs of the text from the first to behind the last.

    >>> from wise_compass.words.reading import read
    >>> record(read("A cone of 60 dia."))["missing"]
    ['height']
    """
    found, best = reading.statement, reading.best
    told: dict[str, Any] = {
        "figure": None, "givens": {}, "choices": {}, "method": None, "scale": found.scale or None,
        "paper": found.paper or None, "missing": [], "conflicts": {}, "unused": [], "doubts": [], "rivals": [],
        "figures": None, "refuse": reading.refuse or None,
    }  # fmt: skip
    if best is None:
        return told
    doubts = [FIGURE] * bool(reading.doubt) + list(best.doubts)
    return told | {
        "figure": best.id,
        "givens": {name: _given(reading, name) for name in (*best.givens, *best.choices, *best.defaults)},
        "choices": dict(best.choices),
        "method": best.method or None,
        "missing": best.missing,
        "conflicts": best.conflicts,
        "unused": unused(reading),
        "doubts": doubts,
        "rivals": reading.rivals,
        "figures": reading.figures or None,
    }


def _given(reading: Reading, name: str) -> dict[str, Any]:
    best = reading.best
    assert best is not None
    span = best.spans.get(name)
    value = best.givens.get(name, best.choices.get(name, best.defaults.get(name)))
    return {
        "value": value,
        "from": list(span) if span else None,
        "sure": name not in best.doubts,
        "how": how(best, name),
        "says": says(reading, name),
    }


def how(best: Filled, name: str) -> str:
    """Whether a given was told, worked out, or is meant by default."""
    if name in best.workings:
        return "worked out"
    return "told" if name in best.spans or name in best.why else "by default"


def says(reading: Reading, name: str) -> str:
    """What told a given, and what is doubtful of it, in words.

    >>> from wise_compass.words.reading import read
    >>> says(read("A cone of 30 mm radius and 70 mm height."), "diameter")
    '“cone of 30 mm” says so: 2 × 30'
    """
    best = reading.best
    assert best is not None
    span, doubt = best.spans.get(name), best.doubts.get(name, "")
    words = reading.statement.text[slice(*span)].strip() if span else ""
    told = f"“{' '.join(words.split())}” says so" if words else "not told"
    worked = f": {best.workings[name]}" if name in best.workings else ""
    return f"{told}{worked}{f'; doubtful: {doubt}' if doubt else ''}"


def unused(reading: Reading) -> list[str]:
    """Quantities and words of the statement that were not used."""
    best = reading.best
    return [*(best.unused if best else ()), *reading.unknown]


def account(reading: Reading, style: Style = PLAIN) -> Iterator[str]:
    """A reading for a person, line by line."""
    from wise_compass.figures.catalogue import figure_named

    best = reading.best
    if best is None:
        yield reading.refuse
        return
    figure = figure_named(best.id)
    yield f"{figure.title} ({best.id})"
    for name in (*best.givens, *best.choices, *best.defaults):
        value = best.givens.get(name, best.choices.get(name, best.defaults.get(name)))
        given = figure.givens[name]
        mark = "?" if name in best.doubts else " "
        yield f" {mark} {name:18} {given.text(given.read(value), style):>12}  {says(reading, name)}"
    if best.method:
        yield f"   by {figure.methods[best.method].title}"
    for name in best.missing:
        yield f" ! {name:18} {'missing':>12}  {figure.givens[name].says}: tell it"
    for name, values in best.conflicts.items():
        yield f" ! {name:18} {'told twice':>12}  {' and '.join(f'{value:g}' for value in values)}: tell it once"
    if reading.doubt:
        yield f"The figure is not sure: {reading.doubt}."
    if reading.rivals:
        yield f"It may be {' or '.join(reading.rivals)}."
    if reading.figures:
        several = ", ".join(reading.figures)
        yield f"{many(len(reading.figures), 'figure')} in one statement: {several}; set them one by one."
    if left := unused(reading):
        yield f"Not used: {', '.join(left)}."
    if reading.statement.read_as:
        misread = ", ".join(f"“{word}” as “{meant}”" for word, meant in reading.statement.read_as.items())
        yield f"Read {misread}."
