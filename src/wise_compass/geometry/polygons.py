"""Regular polygons: radii and areas from the number of sides, by the right triangle over half a side."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array, Number, cosd, cross, distance, multiples, sind, tand


def circumradius(sides: Number, side: Number) -> Number:
    """Radius of the circle through the corners.

    >>> round(float(circumradius(6, 40)), 9)
    40.0
    """
    return side / (2 * sind(180.0 / sides))


def apothem(sides: Number, side: Number) -> Number:
    """Radius of the circle that touches the sides.

    >>> round(float(apothem(6, 20)), 9)
    17.320508076
    """
    return side / (2 * tand(180.0 / sides))


def side_in_circle(sides: Number, radius: Number) -> Number:
    """Side of the polygon whose corners lie on a circle of this radius.

    >>> round(float(side_in_circle(6, 20)), 9)
    20.0
    """
    return 2 * radius * sind(180.0 / sides)


def interior_angle(sides: Number) -> Number:
    """Angle at a corner, in degrees.

    >>> interior_angle(7)
    128.57142857142856
    """
    return 180.0 - 360.0 / sides


def area(sides: Number, side: Number) -> Number:
    """Area of the regular polygon on this side.

    >>> round(float(area(4, 20)), 9)
    400.0
    """
    return sides * side * side / (4 * tand(180.0 / sides))


def closing_gap(sides: Number, chord: Number, radius: Number) -> Number:
    """Straight distance left between start and end when ``chord`` is stepped ``sides`` times round the circle.

    >>> round(float(closing_gap(6, 20, 20)), 9)
    0.0
    """
    turn = sides * 2 * np.arcsin(chord / (2 * radius))
    return 2 * radius * np.abs(np.sin(turn / 2))


def shoelace(corners: Array) -> Array:
    """Area of a polygon from its corners on the axis before the last (Gauss), positive when anticlockwise.

    >>> float(shoelace(regular_corners(4, 20)).round(9))
    400.0
    """
    return np.asarray(cross(corners, np.roll(corners, -1, axis=-2)).sum(axis=-1) / 2)


def edges(corners: Array) -> Array:
    """Lengths of the sides of a closed polygon, from each corner to the next.

    >>> edges(regular_corners(3, 20)).round(9).tolist()
    [20.0, 20.0, 20.0]
    """
    return distance(corners, np.roll(corners, -1, axis=-2))


def corner_angles(corners: Array) -> Array:
    """Interior angles in degrees of a convex anticlockwise polygon at each corner.

    >>> corner_angles(regular_corners(5, 20)).round(9).tolist()
    [108.0, 108.0, 108.0, 108.0, 108.0]
    """
    before = np.roll(corners, 1, axis=-2) - corners
    after = np.roll(corners, -1, axis=-2) - corners
    along = after[..., 0] * before[..., 0] + after[..., 1] * before[..., 1]
    return np.rad2deg(np.arctan2(cross(after, before), along))


def regular_corners(sides: int, side: float) -> Array:
    """The corners of the regular polygon on the base from (0, 0) to (side, 0), anticlockwise; shape (sides, 2).

    >>> regular_corners(4, 20).round(9).tolist()
    [[0.0, 0.0], [20.0, 0.0], [20.0, 20.0], [0.0, 20.0]]
    """
    turn = 360.0 / sides
    steps = np.stack([cosd(multiples(turn, sides)), sind(multiples(turn, sides))], axis=-1) * side
    return np.vstack([np.zeros(2), np.cumsum(steps, axis=0)[:-1]])
