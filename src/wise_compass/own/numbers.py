"""The givens of a figure as numbers by name, which steps use and a claim is varied over; a point's coordinates among
them, as ``x_of_A``."""

from __future__ import annotations

from collections.abc import Mapping

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.places import Point, SpacePoint

AXES = "xyz"


def numbers_of(figure: Figure) -> dict[str, float]:
    """The givens of a figure that are numbers on a scale."""
    told: dict[str, float] = {}
    for name, given in figure.givens.items():
        value = figure.given_values[name]
        if isinstance(given, (Point, SpacePoint)) and value is not None:
            told |= {f"{axis}_of_{name}": float(one) for axis, one in zip(AXES, value)}
        elif given.kind != "count" and isinstance(value, (int, float)):
            told[name] = float(value)
    return told


def numbers_for(figure: Figure) -> dict[str, float]:
    """All givens of a figure that its steps may use by name: those on a scale, and those that are counted."""
    counts = {name: float(value) for name, value in figure.given_values.items() if isinstance(value, int)}
    return {**counts, **numbers_of(figure)}


def with_numbers(figure: Figure, numbers: Mapping[str, float]) -> Figure:
    """The figure with other numbers; raises :class:`Refused` where there is none such."""
    values = dict(figure.given_values)
    for name, number in numbers.items():
        if is_coordinate(name):
            k, point = AXES.index(name[0]), name.partition("_of_")[2]
            values[point] = (*values[point][:k], number, *values[point][k + 1 :])
        else:
            values[name] = number
    return type(figure)(**values)


def kind_of(figure: Figure, name: str) -> str:
    """The kind of given that a number is of; a coordinate is a length."""
    return figure.givens[name].kind if name in figure.givens else "length"


def is_coordinate(name: str) -> bool:
    """Whether a number is a coordinate of a point that is given."""
    return name[:1] in AXES and name[1:5] == "_of_"
