"""Triangles from their sides, in forms that keep their digits in needle-shaped ones (Kahan)."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Number


def area(ab: Number, bc: Number, ca: Number) -> Number:
    """Area from the three sides (Heron's formula, arranged after Kahan).

    >>> float(area(3.0, 4.0, 5.0))
    6.0
    """
    c, b, a = np.sort(np.stack(np.broadcast_arrays(ab, bc, ca), axis=-1), axis=-1).T
    found: Number = np.sqrt(np.maximum((a + (b + c)) * (c - (a - b)) * (c + (a - b)) * (a + (b - c)), 0.0)).T / 4
    return found


def angle_opposite(side: Number, p: Number, q: Number) -> Number:
    """Angle opposite ``side``, between the sides ``p`` and ``q``, in degrees (the half-angle formula, after Kahan).

    >>> round(float(angle_opposite(5, 3, 4)), 9)
    90.0
    """
    p, q = np.maximum(p, q), np.minimum(p, q)
    mu = np.where(q >= side, side - (p - q), q - (p - side))
    top = ((p - q) + side) * mu
    under = (p + (q + side)) * ((p - side) + q)
    found: Number = np.rad2deg(2 * np.arctan2(np.sqrt(np.maximum(top, 0.0)), np.sqrt(np.maximum(under, 0.0))))
    return found


def circumradius(ab: Number, bc: Number, ca: Number) -> Number:
    """Radius of the circle through the three corners: the product of the sides over four times the area.

    >>> float(circumradius(3, 4, 5))
    2.5
    """
    return ab * bc * ca / (4 * area(ab, bc, ca))


def inradius(ab: Number, bc: Number, ca: Number) -> Number:
    """Radius of the circle that touches the three sides: the area over half the perimeter.

    >>> float(inradius(3, 4, 5))
    1.0
    """
    return 2 * area(ab, bc, ca) / (ab + bc + ca)
