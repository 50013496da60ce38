"""The projection that a figure pictures its solid by, and what lies between two of them."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array, unit
from wise_compass.scene.picture import Viewer

REACH = 100.0
"""mm along the axes of space at which a picture is asked for its directions."""


def projection_of(run: Run) -> Array | None:
    """What a run's picture does to space, (3, 3): its rows give right and up in the picture, and the direction towards
    the eye.

    None where there is no picture, and for perspective, which has an eye at a place.
    """
    picture = run.picture
    if picture is None:
        return None
    places = np.concatenate([np.zeros((1, 3)), REACH * np.eye(3), np.full((1, 3), REACH)])
    at = picture.at(places)
    axes = (at[1:4] - at[0]) / REACH
    if np.abs(at[4] - at[0] - REACH * axes.sum(axis=0)).max() > 1e-6:
        return None
    return _with_sight(axes.T)


def between(one: Array, other: Array, share: float) -> Array:
    """From ``one`` projection (share 0) to the ``other`` (1): right and up go straight over, parallels stay
    parallel."""
    return _with_sight((one + (other - one) * share)[:2])


def eye_along(projection: Array) -> Viewer:
    """The eye that looks square along the projectors."""
    towards = unit(projection[2])
    turn = float(np.degrees(np.arctan2(towards[0], towards[1])))
    return Viewer(turn, float(np.degrees(np.arcsin(np.clip(towards[2], -1.0, 1.0)))))


def _with_sight(flat: Array) -> Array:
    """Right and up, (2, 3), with the direction that they show as a point: upright space is seen with its front towards
    the eye."""
    return np.concatenate([flat, -np.cross(flat[0], flat[1])[None]])
