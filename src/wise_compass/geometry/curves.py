"""Plane curves by a parameter: their points, derivatives and curvature.

A parameter is a length in mm or an angle in degrees; derivatives by an angle are by the radian, and ``per`` is what a
unit of the parameter is in the unit that derivatives are by. All functions of a curve broadcast over it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.rolling import Roll
from wise_compass.geometry.vectors import Array, Number, cosd, cross, direction, left_of, length, point, sind

RADIAN = np.pi / 180.0
ORIGIN = point(0.0, 0.0)


class Polar(NamedTuple):
    """A radius with its first two derivatives by the angle in radians."""

    radius: Callable[[Number], Number]
    gain: Callable[[Number], Number]
    gain_of_gain: Callable[[Number], Number]


class Curve(NamedTuple):
    """``at``, ``derivative`` and ``second_derivative`` are the point and its first two derivatives, from ``first`` to
    ``last``."""

    at: Callable[[Number], Array]
    derivative: Callable[[Number], Array]
    second_derivative: Callable[[Number], Array]
    first: float
    last: float
    closed: bool = False
    per: float = RADIAN

    def curvature_radius(self, t: Number) -> Number:
        """Radius of curvature |C′|³ / |C′ × C″|; infinite where the curve is straight.

        >>> float(ellipse_curve(point(5, 0), point(0, 3)).curvature_radius(0))
        1.8
        """
        derivative = self.derivative(t)
        with np.errstate(divide="ignore", invalid="ignore"):
            return length(derivative) ** 3 / np.abs(cross(derivative, self.second_derivative(t)))

    def concave_side(self, t: float) -> int:
        """+1 where the centre of curvature lies to the left of the derivative, −1 where it lies to the right."""
        return 1 if float(cross(self.derivative(t), self.second_derivative(t))) >= 0 else -1


def _column(value: Number) -> Array:
    return np.asarray(value, dtype=float)[..., None]


def moved(curve: Curve, matrix: Array, shift: Array = ORIGIN) -> Curve:
    """The curve with every place (2,) taken to ``matrix`` (2, 2) · place + ``shift``.

    >>> moved(ellipse_curve(point(1, 0), point(0, 1)), np.diag([3.0, 2.0]), point(1, 1)).at(np.array([0.0])).tolist()
    [[4.0, 1.0]]
    """
    return curve._replace(
        at=lambda t: curve.at(t) @ matrix.T + shift,
        derivative=lambda t: curve.derivative(t) @ matrix.T,
        second_derivative=lambda t: curve.second_derivative(t) @ matrix.T,
    )


def ellipse_curve(u: Array, v: Array) -> Curve:
    """The ellipse about the origin on the conjugate half diameters ``u`` and ``v``, by the eccentric angle.

    >>> ellipse_curve(point(5, 0), point(0, 3)).at(np.array([0.0, 90.0])).round(9).tolist()
    [[5.0, 0.0], [0.0, 3.0]]
    """

    def at(t: Number) -> Array:
        return _column(cosd(t)) * u + _column(sind(t)) * v

    return Curve(at, lambda t: at(np.asarray(t) + 90.0), lambda t: -at(t), 0.0, 360.0, closed=True)


def sampled(
    at: Callable[[Number], Array], step: float = 0.02, first: float = 0.0, last: float = 360.0, closed: bool = True
) -> Curve:
    """A curve by degrees of which only the places are known, a little beyond its ends too: its derivatives are central
    differences, good to some six digits.

    >>> round(float(sampled(lambda t: 5.0 * direction(t)).curvature_radius(30.0)), 4)
    5.0
    """
    half = np.deg2rad(step)
    return Curve(
        at,
        lambda t: np.asarray((at(np.asarray(t) + step) - at(np.asarray(t) - step)) / (2 * half)),
        lambda t: np.asarray((at(np.asarray(t) + step) - 2 * at(np.asarray(t)) + at(np.asarray(t) - step)) / half**2),
        first,
        last,
        closed,
    )


def parabola_curve(half: float, height: float, focal: float) -> Curve:
    """The parabola with its vertex up at ``height``, by the distance off its axis.

    >>> parabola_curve(48, 62, 48**2 / (4 * 62)).at(np.array([0.0, 48.0])).round(9).tolist()
    [[0.0, 62.0], [48.0, 0.0]]
    """

    def flat(t: Number, x: float, y: float) -> Array:
        return point(np.zeros_like(np.asarray(t, dtype=float)) + x, y)

    return Curve(
        lambda t: point(t, height - np.asarray(t) ** 2 / (4 * focal)),
        lambda t: point(np.ones_like(np.asarray(t, dtype=float)), -np.asarray(t) / (2 * focal)),
        lambda t: flat(t, 0.0, -1 / (2 * focal)),
        -half,
        half,
        per=1.0,
    )


def catenary_curve(parameter: float, half: float) -> Curve:
    """The catenary with its lowest place in the origin, by the distance off its axis, ``half`` to either side.

    >>> catenary_curve(50.0, 50.0).at(np.array([0.0, 50.0])).round(6).tolist()
    [[0.0, 0.0], [50.0, 27.154032]]
    """
    c = parameter
    return Curve(
        lambda t: np.stack([np.asarray(t, float), 2 * c * np.sinh(np.asarray(t) / (2 * c)) ** 2], axis=-1),
        lambda t: np.stack([np.ones_like(np.asarray(t, float)), np.sinh(np.asarray(t) / c)], axis=-1),
        lambda t: np.stack([np.zeros_like(np.asarray(t, float)), np.cosh(np.asarray(t) / c) / c], axis=-1),
        -half,
        half,
        per=1.0,
    )


def hyperbola_curve(a: float, b: float, side: int, reach: float) -> Curve:
    """A branch of the hyperbola with half axes ``a`` (level) and ``b``, by the height off the axis; ``side`` +1 is
    right.

    >>> hyperbola_curve(3, 4, 1, 8).at(np.array([0.0])).tolist()
    [[3.0, 0.0]]
    """

    def rise(t: Number) -> Number:
        return np.hypot(1.0, np.asarray(t, dtype=float) / b)

    return Curve(
        lambda t: point(side * a * rise(t), t),
        lambda t: point(side * a * np.asarray(t) / (b * b * rise(t)), np.ones_like(np.asarray(t, dtype=float))),
        lambda t: point(side * a / (b * b * rise(t) ** 3), np.zeros_like(np.asarray(t, dtype=float))),
        -reach,
        reach,
        per=1.0,
    )


def reciprocal_curve(constant: float, first: float, last: float) -> Curve:
    """The rectangular hyperbola x·y = constant, by x.

    >>> reciprocal_curve(12, 1, 6).at(np.array([3.0])).tolist()
    [[3.0, 4.0]]
    """
    return Curve(
        lambda t: point(t, constant / np.asarray(t)),
        lambda t: point(np.ones_like(np.asarray(t, dtype=float)), -constant / np.asarray(t) ** 2),
        lambda t: point(np.zeros_like(np.asarray(t, dtype=float)), 2 * constant / np.asarray(t) ** 3),
        first,
        last,
        per=1.0,
    )


def polar_curve(
    polar: Polar, first: float, last: float, start: float = 0.0, sign: int = 1, pole: Array = ORIGIN
) -> Curve:
    """A curve of radius ``polar`` about ``pole``, by the angle turned from the direction ``start`` in the sense
    ``sign``.

    >>> polar_curve(even_radius(10, 10 / np.pi), 0, 360).at(np.array([0.0, 180.0])).round(9).tolist()
    [[10.0, 0.0], [-20.0, 0.0]]
    """

    def axes(t: Number) -> tuple[Array, Array]:
        out = direction(start + sign * np.asarray(t, dtype=float))
        return out, sign * left_of(out)

    def at(t: Number) -> Array:
        return pole + _column(polar.radius(t)) * axes(t)[0]

    def derivative(t: Number) -> Array:
        out, left = axes(t)
        return _column(polar.gain(t)) * out + _column(polar.radius(t)) * left

    def second_derivative(t: Number) -> Array:
        out, left = axes(t)
        inward = np.asarray(polar.gain_of_gain(t)) - polar.radius(t)
        return _column(inward) * out + _column(2 * np.asarray(polar.gain(t))) * left

    return Curve(at, derivative, second_derivative, first, last)


def conic_radius(e: float, semi_latus: float) -> Polar:
    """The focal radius l / (1 + e cos θ) of a conic, θ from the nearer vertex.

    >>> float(conic_radius(0.5, 30).radius(0.0))
    20.0
    """

    def under(t: Number) -> Number:
        return 1.0 + e * np.asarray(cosd(t))

    return Polar(
        lambda t: semi_latus / under(t),
        lambda t: semi_latus * e * np.asarray(sind(t)) / under(t) ** 2,
        lambda t: (
            semi_latus * (e * np.asarray(cosd(t)) / under(t) ** 2 + 2 * (e * np.asarray(sind(t))) ** 2 / under(t) ** 3)
        ),
    )


def even_radius(first: float, gain: float) -> Polar:
    """A radius that gains ``gain`` mm in each radian.

    >>> float(even_radius(10, 20 / np.pi).radius(90.0))
    20.0
    """
    return Polar(
        lambda t: first + gain * np.deg2rad(t),
        lambda t: gain + 0.0 * np.asarray(t, dtype=float),
        lambda t: 0.0 * np.asarray(t, dtype=float),
    )


def growing_radius(first: float, rate: float) -> Polar:
    """A radius that grows as exp(rate · θ).

    >>> round(float(growing_radius(10, 0.5).radius(180 / np.pi)), 6)
    16.487213
    """

    def radius(t: Number) -> Number:
        return first * np.exp(rate * np.deg2rad(t))

    return Polar(radius, lambda t: rate * radius(t), lambda t: rate * rate * radius(t))


def roll_curve(roll: Roll, total: float) -> Curve:
    """The path of a rolling circle's tracing point, by the angle rolled.

    >>> from wise_compass.geometry.rolling import LineRoll
    >>> roll_curve(LineRoll(10, 10), 360).at(np.array([0.0, 180.0])).round(6).tolist()
    [[0.0, 0.0], [31.415927, 20.0]]
    """
    return Curve(roll.tracer, roll.derivative, roll.second_derivative, 0.0, total)


def involute_curve(r: float, total: float) -> Curve:
    """The end of a string unwound from the circle of radius ``r``, by the angle unwound.

    >>> involute_curve(10, 360).at(np.array([0.0])).tolist()
    [[10.0, 0.0]]
    """

    def string(t: Number) -> Array:
        return _column(r * np.deg2rad(t))

    def at(t: Number) -> Array:
        out = direction(t)
        return r * out - string(t) * left_of(out)

    def second_derivative(t: Number) -> Array:
        out = direction(t)
        return r * out + string(t) * left_of(out)

    return Curve(at, lambda t: string(t) * direction(t), second_derivative, 0.0, total)


def arcs_curve(centres: Array, radii: Array, starts: Array, part: float) -> Curve:
    """Arcs of ``part`` degrees each, run anticlockwise one after another, by the angle turned in all.

    >>> arcs_curve(np.array([[0.0, 0.0]]), np.array([10.0]), np.array([0.0]), 90).at(np.array([0.0, 90.0])).tolist()
    [[10.0, 0.0], [0.0, 10.0]]
    """
    last = len(radii) - 1

    def piece(t: Number) -> tuple[Array, Array, Array]:
        which = np.clip(np.asarray(np.floor(np.asarray(t, dtype=float) / part), dtype=int), 0, last)
        out = direction(starts[which] + np.asarray(t) - which * part)
        return centres[which], _column(radii[which]), out

    def at(t: Number) -> Array:
        centre, radius, out = piece(t)
        return centre + radius * out

    def derivative(t: Number) -> Array:
        _, radius, out = piece(t)
        return radius * left_of(out)

    def second_derivative(t: Number) -> Array:
        _, radius, out = piece(t)
        return -radius * out

    return Curve(at, derivative, second_derivative, 0.0, part * len(radii))


def coil_curve(
    radius: Callable[[Number], Number], shrink: float, climb: float, first: float, sign: int, lift: float, total: float
) -> Curve:
    """The elevation of a coil: x is its plan's, y its height above ``lift``; by the angle turned from ``first``.

    ``shrink`` and ``climb`` are what the radius loses and the height gains in a radian.

    >>> coil_curve(lambda t: 20 + 0 * np.asarray(t), 0, 6 / np.pi, 0, 1, 5, 360).at(np.array([360.0])).round(9).tolist()
    [[20.0, 17.0]]
    """

    def angle(t: Number) -> Number:
        return first + sign * np.asarray(t, dtype=float)

    def derivative(t: Number) -> Array:
        x = -shrink * np.asarray(cosd(angle(t))) - sign * np.asarray(radius(t)) * sind(angle(t))
        return point(x, climb + 0.0 * np.asarray(t, dtype=float))

    def second_derivative(t: Number) -> Array:
        x = 2 * sign * shrink * np.asarray(sind(angle(t))) - np.asarray(radius(t)) * cosd(angle(t))
        return point(x, 0.0 * np.asarray(t, dtype=float))

    return Curve(
        lambda t: point(np.asarray(radius(t)) * cosd(angle(t)), lift + climb * np.deg2rad(t)),
        derivative,
        second_derivative,
        0.0,
        total,
    )
