"""What the hand of one lane draws, as polylines."""

from __future__ import annotations

from typing import Any

import numpy as np

from wise_compass.drafting.marks import ArcMark, CurveMark, Mark
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.vectors import Array, polar


def in_lane(mark: Mark, lane: int) -> list[Array]:
    """What the hand of one lane draws of a mark."""

    def of(value: Any, axes: int) -> Array:
        array = np.asarray(value, dtype=float)
        return array if array.ndim == axes else array[lane]

    if isinstance(mark, CurveMark):
        points = np.array([of(point, 1) for point in mark.points])
        if mark.fair and len(points) > 2:
            return [along_curve(fair_curve(points, mark.closed), 4)]
        return [np.concatenate([points, points[:1]]) if mark.closed else points]
    if isinstance(mark, ArcMark):
        angles = [np.linspace(start, start + sweep, max(int(sweep / 6), 2)) for start, sweep in mark.spans()]
        return [polar(of(mark.centre, 1), float(of(mark.radius, 0)), each) for each in angles]
    p, u = of(mark.p, 1), of(mark.u, 1)
    return [np.array([p + mark.lo * u, p + mark.hi * u])]
