"""Which dimensions a run has: what is given, and where all of it is wanted what follows from that, in brackets."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Leader, Linear, angle_at
from wise_compass.drafting.marks import Role
from wise_compass.drafting.run import Run, as_far_as_found
from wise_compass.drafting.truths import Value
from wise_compass.geometry.vectors import Array, distance

SHOWN = 1e-6
"""Of its size: how near what is drawn has to come to a value that is told between two places."""


def dimensions_of(run: Run, told: str = "given") -> list[Dimension]:
    """The dimensions of a run: ``none``, those that are ``given``, or ``all``."""
    if told == "none":
        return []
    if run.method.proves is not None and not any(mark.role is Role.OUTLINE for mark in run.marks):
        return []  # a way of one's own that lines nothing in yet has nothing to be measured
    own = as_far_as_found(run.method, lambda: run.figure.dimensions(run.found))
    if told == "given":
        return [one for one in own if not one.derived]
    return [*own, *_derived(run, own), *_counted(run)]


def _counted(run: Run) -> Iterator[Dimension]:
    """Into how many parts a curve is divided, told at the first point that this finds."""
    divisions = run.figure.given_values.get("divisions")
    names = next((course.names for course in run.courses if len(course.names) > 2), ())
    if divisions and names and names[1] in run.spots:
        yield Leader(run.spots[names[1]].here, "divisions", float(divisions), "divisions ", "", derived=True)


def _derived(run: Run, own: list[Dimension]) -> Iterator[Dimension]:
    """Values that two or three places of the drawing show as they are, and no dimension tells yet."""
    taken = [(one.p, one.q) for one in own if isinstance(one, Linear)]
    for value in run.values:
        places = [run.spots[name].here for name in value.marks if name in run.spots]
        if len(places) != len(value.marks) or not isinstance(value.value, float) or not value.value > 0:
            continue
        one = _between(value, places)
        if isinstance(one, Linear) and any(_same(one, pair) for pair in taken):
            continue
        if one is not None:
            yield one
            taken += [(one.p, one.q)] if isinstance(one, Linear) else []


def _between(value: Value, places: list[Array]) -> Dimension | None:
    if value.unit == "mm" and len(places) == 2:
        one: Dimension = Linear(places[0], places[1], value.name, float(value.value), derived=True)
        shown = float(distance(*places))
    elif value.unit == "°" and len(places) == 3:
        first, vertex, last = places
        one = angle_at(vertex, first, last, value.name, float(value.value), derived=True)
        shown = one.sweep
    else:
        return None
    return one if abs(shown - float(value.value)) <= SHOWN * float(value.value) else None


def _same(one: Linear, pair: tuple[Array, Array]) -> bool:
    """Whether a length runs between the places of another."""
    p, q = pair
    return any(float(np.abs(np.array([one.p - a, one.q - b])).max()) < 1e-6 for a, b in ((p, q), (q, p)))
