"""Where the eye of a two-point perspective stands before a solid whose nearest corner is at the picture plane, and what
it sees."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Picture
from wise_compass.drafting.draft import Draft
from wise_compass.figures.pictorial.axes import Axes, in_space
from wise_compass.geometry.block_edges import EdgePiece
from wise_compass.geometry.vectors import Array, cosd, length, point, sind

PANE = 8.0
"""By how much the pane in space is larger than the picture on it."""


def right_side_at(d: Draft, angle: float) -> float:
    """The angle of the right side to the picture plane, or by a slip that of the left."""
    says = "The angle set off at the left side instead of the right."
    return d.choice("angles-exchanged", right=angle, slip=90.0 - angle, says=says, when=abs(angle - 45.0) > 1e-9)


class Station(NamedTuple):
    """The eye ``distance`` before the nearest corner and ``eye_height`` over its ground; the right side stands at
    ``angle`` to the plane.

    Places are (…, 3) along front, right and height; ``low`` is the nearest lowest corner of the whole.
    """

    angle: float
    distance: float
    eye_height: float
    low: Array

    @property
    def plan(self) -> Axes:
        """How front and right lie as seen from above, the picture plane being level."""
        return Axes((90.0 + self.angle, self.angle, 90.0), (1.0, 1.0, 0.0))

    @property
    def eye(self) -> tuple[float, float, float]:
        """Where the eye is, along front, right and height."""
        back, aside = float(cosd(self.angle)) * self.distance, float(sind(self.angle)) * self.distance
        x, y, z = self.low.tolist()
        return x - back, y - aside, z + self.eye_height

    def seen(self, places: Array) -> Array:
        """Where places are drawn, from the centre of vision on the horizon: the ray to the eye meets the plane."""
        off = places - self.low
        flat = off[..., :2] @ self.plan.vectors[:2]
        near = self.distance / (self.distance + flat[..., 1])
        return np.stack([flat[..., 0] * near, (off[..., 2] - self.eye_height) * near], axis=-1)

    def in_space(self, corners: Array, pieces: Sequence[EdgePiece]) -> list[Array]:
        """The pane that is the picture plane, a ray from the eye to every corner, and on the pane the picture of what
        is seen."""
        eye, level = np.array(self.eye), point(0.0, self.eye_height)
        drawn = [
            self.seen(piece.line.at(np.linspace(piece.start, piece.end, 13))) + level for piece in pieces if piece.seen
        ]
        every = np.concatenate([*drawn, self.seen(corners) + level, [level]])
        (left, low), (right, high) = every.min(axis=0) - PANE, every.max(axis=0) + PANE
        pane = np.array([(left, low), (right, low), (right, high), (left, high), (left, low)])
        rays = [in_space(np.array([eye, corner])) for corner in corners]
        return [in_space(self._on_plane(pane)), *rays, *(in_space(self._on_plane(line)) for line in drawn)]

    def _on_plane(self, at: Array) -> Array:
        """Places of the picture plane, by how far they are to the right and over the ground."""
        along = self.plan.vectors[:2, 0]
        return np.concatenate([at[:, :1] * along, at[:, 1:]], axis=1) + self.low

    def picture(self, horizon: float) -> Picture:
        """How places of the space view are pictured, the horizon being at a level of the sheet."""
        place = in_space(np.array(self.eye))

        def at(places: Array) -> Array:
            own = np.stack([-places[..., 1], places[..., 0], places[..., 2]], axis=-1)
            return self.seen(own) + point(0.0, horizon)

        return Picture(at, lambda p: np.asarray(place - p), lambda p: -np.asarray(length(place - p)))
