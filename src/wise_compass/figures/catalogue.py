"""The catalogue: every figure that is entered, told by its index; a figure's modules come in when it is asked for."""

from __future__ import annotations

from functools import cache
from importlib import import_module

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.index import INDEX, Entered

ENTERED: dict[str, Entered] = {one.id: one for one in INDEX}
"""Every figure by id, in the order of the index; none of them is imported for it."""


@cache
def figure_named(id: str) -> type[Figure]:
    """The figure with this id, with all its methods; raises :class:`Refused` naming the nearest ids."""
    if id not in ENTERED:
        from difflib import get_close_matches

        near = get_close_matches(id, ENTERED, 3, 0.4)
        hint = f"Did you mean {' or '.join(near)}?" if near else "See wise-compass list for all of them."
        raise Refused("figure", f"There is no figure “{id}”. {hint}")
    for module in ENTERED[id].modules:
        import_module(f"wise_compass.figures.{module}")
    return Figure.catalogue[id]


@cache
def catalogue() -> dict[str, type[Figure]]:
    """Every figure by id, in the order of the index; imports each of their modules."""
    return {id: figure_named(id) for id in ENTERED}
