"""A reading set: the figure with its givens, and the method that it is drawn by."""

from __future__ import annotations

from typing import Any

from wise_compass.drafting.figure import Figure, make, method_named
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import figure_named
from wise_compass.words.filled import Filled
from wise_compass.words.reading import Reading


def values_of(found: Filled) -> dict[str, Any]:
    """Every given of a filled figure that is told or meant, as a figure takes it."""
    return {**found.defaults, **found.givens, **found.choices}


def figure_of(reading: Reading) -> Figure:
    """The figure that a statement sets; raises :class:`Refused` where there is none, where it lacks something or tells
    it twice, and for givens that cannot be."""
    found = reading.best
    if found is None:
        raise Refused("text", reading.refuse)
    kind = figure_named(found.id)
    if found.missing:
        lacks = ", ".join(f"{name} ({kind.givens[name].says})" for name in found.missing)
        raise Refused(found.missing[0], f"{kind.title} lacks {lacks}. Tell it in the problem.")
    for name, values in found.conflicts.items():
        told = " and ".join(f"{value:g}" for value in values)
        raise Refused(name, f"{kind.title}: {name} is told twice, {told}. Tell it once.")
    figure = make(kind, values_of(found))
    if found.method:
        why = method_named(kind, found.method).fits(figure)
        if why is not None:
            raise Refused("method", why)
    return figure
