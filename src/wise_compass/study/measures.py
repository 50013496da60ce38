"""What can be measured on a drawing: values, distances of two points, angles at three; read from words, with the
measuring's error."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.truths import Found
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array, angle_between, distance

PLAIN_DIGITS = str.maketrans("₀₁₂₃₄₅₆₇₈₉′", "0123456789'")
"""Names as a keyboard has them."""


class Instrument(NamedTuple):
    """What measures, and one standard deviation of its error: in mm of the paper, in degrees."""

    id: str
    length: float
    angle: float
    basis: str


INSTRUMENTS = {
    one.id: one
    for one in (
        Instrument(
            "rule", 0.2, 0.4, "Assumed: a millimetre rule read to a fifth; angles by a protractor of half degrees."
        ),
        Instrument(
            "dividers", 0.12, 0.4, "Assumed: points pricked up, held to a rule; angles by a protractor of half degrees."
        ),
        Instrument(
            "photograph", 0.11, 0.2, "Assumed: crossings of pencil lines read off a photograph squared up by its frame."
        ),
        Instrument("protractor", 0.2, 0.25, "Assumed: a large protractor read to a quarter degree; lengths by a rule."),
    )
}


class Measurable(NamedTuple):
    """A quantity of the drawing: how it is called, what kind it is, and the points it is taken between, or the value it
    is."""

    name: str
    unit: str
    points: tuple[str, ...] = ()

    def of(self, found: Found, values: Mapping[str, Array], scale: float) -> Array:
        """It, on paper at a scale, for every hand."""
        if not self.points:
            told = np.asarray(values[self.name], dtype=float)
            return told * scale if self.unit == "mm" else told
        at = [found[name] for name in self.points]
        if len(at) == 2:
            return np.asarray(distance(at[0], at[1])) * scale
        return np.asarray(np.abs(angle_between(at[0] - at[1], at[2] - at[1])))


class Taken(NamedTuple):
    """A measurement: what, how much it came to on the paper, and one standard deviation of the measuring."""

    measure: Measurable
    value: float
    sd: float


def points_of(run: Run) -> dict[str, str]:
    """Every point that can be named: its key by the key and by its letters in either school."""
    names: dict[str, str] = {}
    for name, spot in run.spots.items():
        if spot.kind == "label" or not name:
            continue
        for style in (PLAIN, PLAIN._replace(lettering="numbers")):
            lettered = style.lettered(name)
            names.setdefault(lettered, name)
            names.setdefault(lettered.translate(PLAIN_DIGITS), name)
        names[name] = name
    return names


def scalar_values(run: Run) -> dict[str, str]:
    """The values that a rule or a protractor could take, with their units."""
    measured = run.measured
    return {
        value.name: value.unit
        for value in run.values
        if value.unit in ("mm", "°") and np.ndim(measured.get(value.name, [])) == 0
    }


def named(run: Run, name: str) -> Measurable:
    """What a name means: a value, X-Y, X-Y-Z at Y, or two capital letters; raises :class:`Refused`."""
    values, points = scalar_values(run), points_of(run)
    if name in values:
        return Measurable(name, values[name])
    parts = name.split("-") if "-" in name else list(name) if re.fullmatch(r"[A-Z]{2}", name) else []
    if not 2 <= len(parts) <= 3:
        raise Refused(
            name,
            f"“{name}” is nothing that can be measured here; take a value such as "
            f"{_some(values)}, X-Y or X-Y-Z of points.",
        )
    for part in parts:
        if part not in points:
            raise Refused(
                name,
                f"There is no point {part} here; the points are "
                f"{', '.join(list(dict.fromkeys(points.values()))[:14])}.",
            )
    keys = tuple(points[part] for part in parts)
    if len(set(keys)) < len(keys):
        raise Refused(name, f"“{name}” names one point twice; take points that differ.")
    return Measurable(name, "mm" if len(keys) == 2 else "°", keys)


def _some(values: Mapping[str, str]) -> str:
    return ", ".join(list(values)[:4]) or "none of this figure's"


def read_measured(run: Run, text: str, instrument: str = "rule", style: Style = PLAIN) -> list[Taken]:
    """Measurements from words such as ``AB=71.4 angle_C=62 O-P3=44.1``; raises :class:`Refused` naming the one that
    cannot be."""
    if instrument not in INSTRUMENTS:
        raise Refused("instrument", f"“{instrument}” is no instrument to measure with; take {', '.join(INSTRUMENTS)}.")
    taken: list[Taken] = []
    for word in re.split(r"[\s;]+", re.sub(r"\s*=\s*", "=", text.strip())):
        name, equals, value = word.partition("=")
        if not equals or not value:
            raise Refused("measured", f"“{word}” is no measurement; write what and how much, such as AB=71.4.")
        taken.append(taken_as(run, name, value, instrument, style))
        if any(one.measure.name == name for one in taken[:-1]):
            raise Refused(name, f"{name} is told twice; tell it once.")
    return taken


def taken_as(run: Run, name: str, value: str, instrument: str = "rule", style: Style = PLAIN) -> Taken:
    """One measurement from its name and what was read; raises :class:`Refused`."""
    measure, by = named(run, name), INSTRUMENTS[instrument]
    length = measure.unit == "mm"
    number = parse_quantity(value, "length" if length else "angle", style.size if length else 1.0)
    if number < 0 or (length and number == 0):
        raise Refused(name, f"{name} is told as {value}; what is measured is more than 0.")
    return Taken(measure, number, by.length if length else by.angle)


def exactly(run: Run, measures: Sequence[Measurable], scale: float) -> Array:
    """What each would be on an exact drawing."""
    values = {name: np.asarray(value, dtype=float) for name, value in run.measured.items() if np.ndim(value) == 0}
    return np.array([float(one.of(run.found, values, scale)) for one in measures])
