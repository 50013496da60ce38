"""Lines in space against the planes of projection: x along the reference line, y forward, z upward."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array, Number, along, length


def inclinations(a: Array, b: Array) -> tuple[Number, Number]:
    """Angles of ``ab`` to the horizontal and to the vertical plane, in degrees, each in [0, 90].

    >>> from wise_compass.geometry.vectors import point3
    >>> [round(float(x), 9) for x in inclinations(point3(0, 0, 0), point3(0, 1, 1))]
    [45.0, 45.0]
    """
    x, y, z = np.moveaxis(b - a, -1, 0)
    return np.rad2deg(np.arctan2(np.abs(z), np.hypot(x, y))), np.rad2deg(np.arctan2(np.abs(y), np.hypot(x, z)))


def traces(a: Array, b: Array) -> tuple[Array, Array]:
    """Where the line through ``a`` and ``b`` meets the horizontal plane (z = 0) and the vertical plane (y = 0).

    NaN where the line runs parallel to the plane.

    >>> from wise_compass.geometry.vectors import point3
    >>> [t.tolist() for t in traces(point3(0, 10, 10), point3(20, 30, 20))]
    [[-20.0, -10.0, 0.0], [-10.0, 0.0, 5.0]]
    """
    u = b - a
    tiny = 1e-12 * length(u)
    with np.errstate(invalid="ignore", divide="ignore"):
        level, upright = (
            along(a, u, np.where(np.abs(u[..., k]) <= tiny, np.nan, -a[..., k] / u[..., k])) for k in (2, 1)
        )
    return level, upright
