"""Pictures square to their plane: how the three axes of a thing are turned, shortened and drawn (Gauss, Weisbach).

Axes are told in the order *front* (back to the left), *right* (back to the right), *height* (upright on the paper).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.geometry.vectors import cosd, sind

Three = tuple[float, float, float]


def scales_as(terms: Sequence[float]) -> Three:
    """The scales of three axes in a ratio: the part of a true length that is seen. Their squares sum to 2 (Gauss), so
    that each square has to be under the sum of the other two.

    >>> [round(one, 6) for one in scales_as((1, 2, 2))]
    [0.471405, 0.942809, 0.942809]
    """
    told = np.asarray(terms, dtype=float)
    front, right, height = (told * np.sqrt(2 / (told @ told))).tolist()
    return front, right, height


def scales_seen(turn: float, tilt: float) -> Three:
    """The scales where *right* stands ``turn`` ° to the picture plane in plan, seen from ``tilt`` ° over level.

    >>> [round(one, 6) for one in scales_seen(30.0, 25.0)]
    [0.619641, 0.891432, 0.906308]
    """
    c, s, up = float(cosd(turn)), float(sind(turn)), float(sind(tilt))
    return float(np.hypot(s, c * up)), float(np.hypot(c, s * up)), float(cosd(tilt))


def led_in(scales: Three) -> Three:
    """The part of each axis that leads into the picture.

    >>> [round(one, 6) for one in led_in((0.6, 0.8, 1.0))]
    [0.8, 0.6, 0.0]
    """
    front, right, height = (float(np.sqrt(max((1 - one) * (1 + one), 0.0))) for one in scales)
    return front, right, height


def turn_and_tilt(scales: Three) -> tuple[float, float]:
    """Turn and tilt, in degrees, from which axes are seen at their scales.

    >>> turn, tilt = turn_and_tilt(scales_as((1, 1, 1)))
    >>> round(turn, 6), round(tilt, 6)
    (45.0, 35.26439)
    """
    front, right, height = led_in(scales)
    # into the picture leads cos turn of front and sin turn of right, each times the cosine of the tilt
    return float(np.degrees(np.arctan2(right, front))), float(np.degrees(np.arcsin(height)))


def axis_angles(turn: float, tilt: float) -> Three:
    """The directions of the axes on the paper, in degrees anticlockwise from level right.

    >>> [round(one, 4) for one in axis_angles(*turn_and_tilt(scales_as((1, 1, 1))))]
    [150.0, 30.0, 90.0]
    """
    up = float(sind(tilt))
    right = float(np.degrees(np.arctan2(sind(turn) * up, cosd(turn))))
    front = float(np.degrees(np.arctan2(cosd(turn) * up, sind(turn))))
    return 180.0 - front, right, 90.0
