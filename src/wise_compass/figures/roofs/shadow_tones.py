"""What is left of a shadow's tone where the solid stands before it."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Array


def less(outline: Array, cover: Array) -> list[Array]:
    """A closed outline (n, 2) less another, in outlines without holes; a hole is reached by a cut."""
    from shapely import Polygon

    rest = Polygon(outline).buffer(0).difference(Polygon(cover).buffer(0))
    parts = [part for part in getattr(rest, "geoms", [rest]) if isinstance(part, Polygon) and part.area > 1e-6]
    return [_cut_open(part) for part in parts]


def _cut_open(part: object) -> Array:
    from shapely import Polygon

    assert isinstance(part, Polygon)
    ring = np.array(part.exterior.coords)
    for inner in part.interiors:
        hole = np.array(inner.coords)
        gaps = np.hypot(*(ring[:, None] - hole[None]).transpose(2, 0, 1))
        k, j = np.unravel_index(int(np.argmin(gaps)), gaps.shape)
        turned = np.vstack([hole[j:-1], hole[: j + 1]])
        ring = np.vstack([ring[: k + 1], turned, ring[k:]])
    return ring
