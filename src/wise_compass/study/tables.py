"""The curve table: ordinates of a curve at equal steps along an axis or an angle, as a templet-maker uses them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import courses_of, true_lines_of
from wise_compass.drafting.course import Course
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wishes import declared
from wise_compass.drafting.wording import INCH, PLAIN, Style, trim
from wise_compass.geometry.curve_places import crossings, turning_points
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.vectors import Array, direction, distance, dot, point
from wise_compass.study.lengths import HEADS, UNITS, lengths_title, true_lengths
from wise_compass.study.tablewish import BY, LENGTHS, TableWish

MOST_ROWS = 400
NO_LENGTHS = "{title} has no lines in space whose true lengths could be listed; the solids have."
NO_CURVE = "{title} has no curve to tabulate; it is made of straight lines and arcs."


class Table(NamedTuple):
    """Columns with their units, and rows of numbers and words; None where a curve has fewer ordinates at a place than
    elsewhere."""

    title: str
    columns: tuple[str, ...]
    units: tuple[str, ...]
    rows: tuple[tuple[float | str | None, ...], ...]
    decimals: int
    step: float

    def texts(self) -> list[list[str]]:
        """The rows as written."""
        return [[_written(x, self.decimals) for x in row] for row in self.rows]

    def in_inches(self) -> Table:
        """The same with its lengths in inches."""
        rows = tuple(
            tuple(x / INCH if isinstance(x, float) and unit == "mm" else x for x, unit in zip(row, self.units))
            for row in self.rows
        )
        return self._replace(rows=rows, units=tuple("in" if unit == "mm" else unit for unit in self.units))


def _written(value: float | str | None, decimals: int) -> str:
    if value is None or isinstance(value, str):
        return value or ""
    text = f"{value:.{decimals}f}"
    return text[1:] if float(text) == 0 and text.startswith("-") else text.replace("-", "−")


def table_of(figure: Figure, method: str, wish: TableWish, style: Style = PLAIN) -> Table:
    """The table of true lengths where it is wished for, or the figure has no curve; else that of one of its curves."""
    if wish.by == LENGTHS or (true_lines_of(figure) and not courses_of(figure, method)):
        return lengths_table(figure, wish.decimals, style)
    return curve_table(figure, method, wish, style)


def lengths_table(figure: Figure, decimals: int = 2, style: Style = PLAIN) -> Table:
    """Plan length, height and true length of a solid's lines. Raises :class:`Refused` for a figure that has none."""
    declared(TableWish)["decimals"].check(decimals)
    lines = true_lengths(figure)
    if not lines:
        raise Refused("figure", NO_LENGTHS.format(title=figure.title))
    table = Table(lengths_title(figure), HEADS, UNITS, tuple(tuple(line) for line in lines), decimals, 0.0)
    return table.in_inches() if style.units == "in" else table


def curve_table(figure: Figure, method: str, wish: TableWish, style: Style = PLAIN) -> Table:
    """The table of one of the figure's curves. Raises :class:`Refused` for a step that makes too many rows."""
    table = _table(figure, method, wish, style)
    return table.in_inches() if style.units == "in" else table


def _table(figure: Figure, method: str, wish: TableWish, style: Style) -> Table:
    courses = courses_of(figure, method)
    if not courses:
        raise Refused("figure", NO_CURVE.format(title=figure.title))
    if not 0 <= wish.curve < len(courses):
        raise Refused(
            "curve", f"curve is {wish.curve + 1}; {figure.title} has {len(courses)}. Lower curve to {len(courses)}."
        )
    declared(TableWish)["decimals"].check(wish.decimals)
    course = courses[wish.curve]
    if wish.by == "angle":
        return _by_turn(course, wish) if course.turn else _by_bearing(course, wish)
    return _by_axis(course, wish, style)


def _places(low: float, high: float, wish: TableWish, unit: str, size: float = 1.0) -> tuple[Array, float]:
    """Both ends, and the multiples of the step between them; ``size`` is the unit's own in mm."""
    span = high - low
    if wish.step and wish.step < span / MOST_ROWS:
        least = span / MOST_ROWS
        shown, bound = (
            trim(step / size, 4) + ("°" if unit == "°" else f" {unit}") for step in (wish.step, least * 1.0001)
        )
        words = f"A step of {shown} gives over {MOST_ROWS} rows; here it must be at least {bound}."
        raise Refused("step", f"{words} Raise step.")
    step = wish.step or size * _round_step(span / 20 / size, unit)
    room = 1e-9 * max(span, 1.0)
    first, last = int(np.ceil((low + room) / step)), int(np.floor((high - room) / step))
    between = step * np.arange(first, last + 1)
    return np.concatenate([[low], between, [high]]), step


def _round_step(about: float, unit: str) -> float:
    """A round number near ``about``: 1, 2 or 5 times a power of ten, or an angle that divides the turn."""
    if unit == "°":
        return min((1.0, 2.0, 5.0, 7.5, 10.0, 15.0, 30.0, 45.0, 90.0), key=lambda one: abs(np.log(one / about)))
    power = 10.0 ** np.floor(np.log10(about))
    return float(min((power * k for k in (1, 2, 5, 10)), key=lambda one: abs(np.log(one / about))))


def _bounds(curve: Curve, u: Array) -> tuple[float, float]:
    """The least and greatest distance of the curve along ``u``: at its ends or where it runs square to ``u``."""
    far = np.asarray(dot(curve.at(np.array([curve.first, curve.last, *turning_points(curve, u)])), u))
    return float(far.min()), float(far.max())


def _by_axis(course: Course, wish: TableWish, style: Style) -> Table:
    level = wish.by == "level"
    u = point(1.0, 0.0) if level else point(0.0, 1.0)
    across = point(0.0, 1.0) if level else point(1.0, 0.0)
    low, high = _bounds(course.curve, u)
    datum = np.array(course.datum)
    zero, other = float(dot(datum, u)), float(dot(datum, across))
    size = INCH if style.units == "in" else 1.0
    places, step = _places(low - zero, high - zero, wish, style.units, size)
    found = []
    touches = turning_points(course.curve, u)
    for x in places:
        meets = course.curve.at(
            np.array(crossings(course.curve, (x + zero) * u, across, touches) or [course.curve.first])
        )
        found.append(_distinct(np.asarray(dot(meets, across)) - other))
    most = max(len(one) for one in found)
    rows = tuple((float(x), *one, *[None] * (most - len(one))) for x, one in zip(places, found))
    names = ("x", "y") if level else ("y", "x")
    ordinates = (names[1],) if most == 1 else tuple(f"{names[1]}{k + 1}" for k in range(most))
    title = f"{_capital(course.says)} {BY[wish.by]}, every {trim(step / size, 6)} {style.units}"
    return Table(title, (names[0], *ordinates), ("mm",) * (most + 1), rows, wish.decimals, step)


def _capital(words: str) -> str:
    return words[0].upper() + words[1:]


def _distinct(values: Array) -> list[float]:
    """From the largest down, each once."""
    kept: list[float] = []
    for value in sorted((float(v) for v in values), reverse=True):
        if not kept or kept[-1] - value > 1e-6:
            kept.append(value)
    return kept


def _by_turn(course: Course, wish: TableWish) -> Table:
    curve = course.curve
    places, step = _places(curve.first, curve.last, wish, "°")
    at = curve.at(places) - np.array(course.datum)
    columns, units = (course.turn, "x", "y"), ("°", "mm", "mm")
    rows = [(float(t), float(p[0]), float(p[1])) for t, p in zip(places, at)]
    title = f"{_capital(course.says)} by the {course.turn}, every {trim(step, 6)}°"
    if course.pole is None:
        return Table(title, columns, units, tuple(rows), wish.decimals, step)
    radii = np.asarray(distance(at, course.pole))
    full = tuple((t, float(radius), x, y) for (t, x, y), radius in zip(rows, radii))
    return Table(title, (columns[0], "radius", "x", "y"), ("°", "mm", "mm", "mm"), full, wish.decimals, step)


def _by_bearing(course: Course, wish: TableWish) -> Table:
    """Radii about the pole at equal angles from the level direction, where the curve is met in front."""
    pole = np.zeros(2) if course.pole is None else course.pole
    places, step = _places(0.0, 360.0, wish, "°")
    rows = []
    for angle in places[:-1]:
        u = direction(angle)
        for p in course.curve.at(np.array(crossings(course.curve, pole, u) or [np.nan])):
            far = float(dot(p - pole, u))
            if far > 0:
                x, y = (float(v) for v in p - np.array(course.datum))
                rows.append((float(angle), far, x, y))
    where = ", ".join(trim(float(x), 2) for x in pole)
    title = f"{_capital(course.says)} by the angle about {where}, every {trim(step, 6)}°"
    return Table(title, ("angle", "radius", "x", "y"), ("°", "mm", "mm", "mm"), tuple(rows), wish.decimals, step)
