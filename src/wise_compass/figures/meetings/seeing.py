"""What of two solids that meet is seen from the front or from above: faces that turn away, and what stands before.

Both bodies are convex, so what one hides of a line of the other is found from where the sight ray goes into it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.geometry.borders import borders
from wise_compass.geometry.skins import FlatSkin
from wise_compass.geometry.vectors import Array, Bools, Number, cosd, point3

SIGHTS = {"front": point3(0.0, 1.0, 0.0), "top": point3(0.0, 0.0, 1.0)}
"""Towards the eye; space has y to the front."""
NEAR = 1e-6
TRIED, HALVED = 257, 42
EDGE_ON = 1e-9


class Stretch(NamedTuple):
    """A stretch of a line, as shares of it, and whether it is seen."""

    start: float
    end: float
    seen: bool


class Seeing:
    """What is seen of a figure's two bodies in one view."""

    def __init__(self, g: SolidsThatMeet, view: str) -> None:
        self.g, self.sight = g, SIGHTS[view]

    def main_hides(self, at: Array) -> Bools:
        """Whether the main stands before places (n, 3)."""
        g = self.g
        low, high = g.main_solid.skin.hits(at, self.sight)
        low, high = np.where(np.isnan(low), np.inf, low), np.where(np.isnan(high), -np.inf, high)
        if not g.main_solid.ball:
            low, high = self._clipped(low, high, at[:, 2], float(self.sight[2]), 0.0, g.tall)
        return np.asarray((high - np.maximum(low, 0.0) > NEAR) & (high > NEAR))

    def branch_hides(self, at: Array) -> Bools:
        """Whether the branch stands before places (n, 3)."""
        g = self.g
        low, high = g.branch.skin.hits(at, self.sight)
        low, high = np.where(np.isnan(low), np.inf, low), np.where(np.isnan(high), -np.inf, high)
        far = float(g.branch.axis @ self.sight)
        low, high = self._clipped(
            low, high, g.branch.along(at), far, -g.reach if not g.right_only else -np.inf, g.reach
        )
        start = np.maximum(low, 0.0)
        hides = (high - start > NEAR) & (high > NEAR)
        if not g.right_only or not hides.any():
            return np.asarray(hides)
        # what a branch from the right has beyond the skin that it enters is not there
        beyond = np.zeros(len(at), dtype=bool)
        for share in (0.02, 0.25, 0.5, 0.75, 0.98):
            with np.errstate(invalid="ignore"):
                place = at + np.where(hides, start + (high - start) * share, 0.0)[:, None] * self.sight
            flat = g.branch.flat(place)
            inside = g.branch.at + flat[:, :1] * g.branch.u + flat[:, 1:] * g.branch.v
            _, out = g.main_solid.skin.hits(inside, g.branch.axis)
            beyond |= g.branch.along(place) >= np.where(np.isnan(out), -np.inf, out) - NEAR
        return np.asarray(hides & beyond)

    @staticmethod
    def _clipped(low: Array, high: Array, at: Array, rate: float, least: float, most: float) -> tuple[Array, Array]:
        """A ray's stretch within a body, cut at its two ends; ``at`` is how far along it starts."""
        if abs(rate) <= 1e-12:
            within = (at >= least - NEAR) & (at <= most + NEAR)
            return np.where(within, low, np.inf), np.where(within, high, -np.inf)
        ends = np.sort(np.stack([(least - at) / rate, (most - at) / rate]), axis=0)
        return np.maximum(low, ends[0]), np.minimum(high, ends[1])

    # faces

    def facing(self, normal: Array) -> bool:
        """Whether a face turns to the eye."""
        return bool(float(normal @ self.sight) > EDGE_ON)

    def main_edge_faces(self, k: int) -> bool:
        """Whether a face beside edge k of a flat-sided main turns to the eye."""
        skin = self.g.main_solid.skin
        assert isinstance(skin, FlatSkin)
        return self.facing(skin.normals[k]) or self.facing(skin.normals[k - 1])

    def branch_edge_faces(self, j: int) -> bool:
        """Whether a face beside edge j of a flat-sided branch turns to the eye."""
        skin = self.g.branch.skin
        assert isinstance(skin, FlatSkin)
        return self.facing(skin.normals[j]) or self.facing(skin.normals[j - 1])

    def branch_rim_faces(self, w: float, way: float) -> bool:
        """Whether at place w the skin or the end (``way`` +1 the right one) turns to the eye."""
        return self.facing(way * self.g.branch.axis) or self.facing(self.branch_normal(w))

    def branch_normal(self, w: Number) -> Array:
        """Outward from the branch's skin, (…, 3), at places round it; within a side that of the side."""
        branch = self.g.branch
        if isinstance(branch.skin, FlatSkin):
            return np.asarray(branch.skin.normals[np.floor(w).astype(int) % len(branch.skin.normals)])
        flat = branch.section(w) / branch.radius
        return np.asarray(flat[..., :1] * branch.u + flat[..., 1:] * branch.v)

    def line_seen(self, w: Array, outward: Array, at: Array) -> list[bool | None]:
        """Whether the line is seen at places (n, 3) between two of its points, ``w`` (n,) round the branch, where that
        comes out of the main by ``outward`` (n, 3): both skins face the eye. None where the main is seen on edge, and
        its outline stands there already."""
        main = self.g.main_solid.skin
        normal = main.normals[main.faces(at, outward)] if isinstance(main, FlatSkin) else main.normal(at)
        lean = normal @ self.sight
        seen = (lean > -EDGE_ON) & (self.branch_normal(w) @ self.sight > -1e-7)
        on_edge = (np.abs(lean) <= EDGE_ON) & bool(self.sight[2])
        return [None if edge else one for one, edge in zip(seen.tolist(), on_edge.tolist())]

    # stretches

    def stretches(
        self, places: Callable[[Array], Array], hides: Callable[[Array], Bools], faces: bool
    ) -> list[Stretch]:
        """A line from share 0 to 1 parted where it goes behind the other body; all of it is hidden where its own body
        turns away."""
        if not faces:
            return [Stretch(0.0, 1.0, False)]
        shares = np.linspace(0.0, 1.0, TRIED)
        inner = shares.copy()
        inner[0], inner[-1] = 1e-7, 1 - 1e-7
        behind = hides(places(inner))
        k = np.flatnonzero(behind[1:] != behind[:-1])
        turns = borders(lambda at, _: hides(places(at)), inner[k], inner[k + 1], behind[k], HALVED)
        cuts = np.concatenate([[0.0], turns, [1.0]])
        hidden = hides(places((cuts[:-1] + cuts[1:]) / 2))
        return [
            Stretch(a, b, not away)
            for a, b, away in zip(cuts[:-1].tolist(), cuts[1:].tolist(), hidden.tolist())
            if b - a > 1e-6
        ]


def outline_turns(g: SolidsThatMeet, view: str) -> tuple[float, float]:
    """The places of a round branch at which it is seen on edge."""
    return (0.0, 180.0) if view == "front" or abs(float(cosd(g.rises))) < 1e-12 else (90.0, 270.0)
