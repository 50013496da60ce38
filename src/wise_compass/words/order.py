"""What the catalogue knows of the order of givens: where one may not exceed another, a weak cue is read the other way
round."""

from __future__ import annotations

from typing import Any

from wise_compass.drafting.givens import Measure
from wise_compass.figures.catalogue import figure_named
from wise_compass.words.filled import Filled

FIRM = 1.8
"""What the words that tell a given have to count for, so that it is not read the other way round."""


def put_in_order(found: Filled) -> None:
    """Exchange two givens of a figure that stand the wrong way round, where no firm word tells which is which, and
    doubt both."""
    for name, given in figure_named(found.id).givens.items():
        if not isinstance(given, Measure):
            continue
        other = given.limits["under"] or given.limits["most"]
        if not isinstance(other, str) or name not in found.givens or other not in found.givens:
            continue
        if found.givens[name] > found.givens[other] and _is_loose(found, name, other):
            for held in (found.givens, found.spans, found.workings):
                _exchange(held, name, other)
            found.doubts[name] = found.doubts[other] = f"exchanged, since {name} is at most {other}"


def _is_loose(found: Filled, *names: str) -> bool:
    forms = {found.words.forms.get(name) for name in names}
    return len(forms) == 1 and min(found.weights.get(name, 0.0) for name in names) < FIRM


def _exchange(held: dict[str, Any], one: str, other: str) -> None:
    first, second = held.pop(one, None), held.pop(other, None)
    if second is not None:
        held[one] = second
    if first is not None:
        held[other] = first
