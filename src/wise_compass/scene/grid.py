"""A faint isometric grid under a picture: dots where its three sets of lines cross, one of them at the picture's own
corner."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array, length
from wise_compass.sheet.drawing import Arc, Item
from wise_compass.sheet.gridpaper import DOT, LEAST
from wise_compass.sheet.inks import FAINT
from wise_compass.sheet.piece import Placed

AXIAL = 1e-9
"""Of a length: how near the three axes of a picture are to being seen alike, to be isometric."""


def grid_items(run: Run, placed: Placed, scale: float, spacing: float) -> list[Item]:
    """Dots ``spacing`` mm apart along the axes, over the box that a picture takes on the sheet; none for what is no
    isometric, or too fine."""
    picture = run.picture
    if picture is None:
        return []
    start = picture.at(np.zeros(3))
    axes = (picture.at(spacing * np.eye(3)) - start) * scale
    sizes = np.asarray(length(axes))
    far = picture.at(np.full(3, 2 * spacing)) - start
    if (
        np.ptp(sizes) > AXIAL * sizes[0]
        or abs(np.abs(axes[:, 1]).max() - sizes[0]) > AXIAL * sizes[0]
        or sizes[0] < LEAST
    ):
        return []
    if np.abs(far * scale - 2 * axes.sum(axis=0)).max() > AXIAL * sizes[0]:  # an eye that stands near
        return []
    return [
        Arc("grid", 0, "", "construction", at, DOT, filled=FAINT)
        for at in _crossings(placed, placed.origin + start * scale, sizes[0])
    ]


def _crossings(placed: Placed, corner: Array, side: float) -> Array:
    """The crossings in the box, (n, 2), one of which would be ``corner``."""
    column = side * float(np.sqrt(0.75))
    (left, low), (right, high) = ((at - corner) for at in (placed.low, placed.high))
    found = []
    for i in range(int(np.ceil(left / column)), int(np.floor(right / column)) + 1):
        shift = 0.5 * (i % 2)
        rows = np.arange(np.ceil(low / side - shift), np.floor(high / side - shift) + 1)
        found.append(np.stack([np.full(len(rows), i * column), (rows + shift) * side], axis=1))
    return np.concatenate([np.zeros((0, 2)), *found]) + corner
