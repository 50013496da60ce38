"""What springs and threads share: a section wound on a cylinder, drawn with the edges that are seen from in front."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from wise_compass.drafting.course import evenly
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Count
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.wording import trim
from wise_compass.figures.wound.helices import Coil
from wise_compass.geometry.coils import Edge, Winding, visible_pieces
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, distance, point

FINEST = 7.5
"""Degrees between the places of an edge at which it is asked whether it is seen."""


class Wound(Coil):
    """What springs and threads share: a section wound on a cylinder, its edges, and which stretches of them are seen."""

    curve_says = "the middle line of the coil"
    divisions = Count(12, "the divisions of a turn", 8, 36, multiple=4)

    @property
    def pitch_of(self) -> float:
        """Rise of the coil in a turn."""
        raise NotImplementedError

    @property
    def coil_radius(self) -> float:
        """Of the line that the points P lie on."""
        raise NotImplementedError

    @property
    def winding(self) -> Winding:
        raise NotImplementedError

    def helix_lines(self) -> list[tuple[str, float, float]]:
        """The helical edges of the section: a letter, the radius, and the height above the middle."""
        raise NotImplementedError

    def radius_at(self, k: Number) -> Number:
        return self.coil_radius + 0.0 * np.asarray(k, dtype=float)

    def height_at(self, k: Number) -> Number:
        return self.pitch_of * np.asarray(k, dtype=float) / self.divisions

    @property
    def rise(self) -> float:
        return self.pitch_of * self.whole_turns

    @property
    def total(self) -> float:
        return 360.0 * self.whole_turns

    def turned_at(self) -> Array:
        """The angle turned at each division."""
        return evenly(360.0 / self.divisions, self.spaces + 1)

    def flat(self, at: Array) -> Array:
        """A point in space as the elevation shows it."""
        return point(at[..., 0], at[..., 2] + self.lift)

    def helix_edge(self, radius: float, up: float, start: int, last: float | None = None) -> Edge:
        winding = self.winding
        stations = tuple(self.turned_at())
        return Edge(lambda t: winding.on(radius, t, up, start), 0.0, self.total if last is None else last, stations)

    def end_edges(self, start: int, upright: Sequence[float]) -> list[Edge]:
        """The edges of both end faces: the flanks by the radius, and uprights at the radii ``upright``."""
        winding, made = self.winding, []
        for turned in (0.0, self.total):
            for sign in (1, -1):
                made.append(
                    Edge(
                        lambda r, t=turned, s=sign: winding.on(r, t, s * np.asarray(winding.half(r)), start),  # type: ignore[misc]
                        winding.inner,
                        winding.outer,
                    )
                )
            for radius in upright:
                half = float(winding.half(radius))
                made.append(Edge(lambda z, t=turned, r=radius: winding.on(r, t, z, start), -half, half))  # type: ignore[misc]
        return made

    def side_edges(self, start: int, radii: Sequence[float]) -> list[Edge]:
        """Uprights at the sides, where a cylinder of the section turns away from the eye."""
        winding, made = self.winding, []
        shift = winding.sign * 360.0 * start / winding.starts
        for k in range(-2, int(2 * winding.turns) + 3):
            turned = 180.0 * k - shift
            if 1e-6 < turned < self.total - 1e-6:
                for radius in radii:
                    half = float(winding.half(radius))
                    made.append(Edge(lambda z, t=turned, r=radius: winding.on(r, t, z, start), -half, half))  # type: ignore[misc]
        return made

    def edge_truths(self, found: Found) -> Iterator[Truth]:
        """The edges stand where their radius and height belong."""
        turned = self.turned_at()
        for letter, radius, up in self.helix_lines():
            exact = self.flat(self.winding.on(radius, turned, up))
            level = (
                f"{trim(abs(up))} mm {'over' if up > 0 else 'under'} the middle of its coil" if up else "level with its coil"
            )
            words = f"Edge {letter} keeps {trim(radius)} mm from the axis, {level}"
            yield Truth(words, distance(found.group(letter), exact))


def line_in_edges(g: Wound, d: Draft, edges: Sequence[Edge], says: str) -> None:
    """The stretches of edges that are seen."""
    pieces = visible_pieces(g.winding, edges, FINEST)
    with d.as_one("Curve", says):
        for edge, stretches in zip(edges, pieces):
            for a, b in stretches:
                course = g.flat(edge.at(np.array(edge.places(a, b))))
                spots = [d.also("", at, "plain") for at in course]
                if len(spots) > 2:
                    d.curve(spots)
                else:
                    d.line_in(spots)


def edges_by_hand(
    g: Wound, d: Draft, centre: Spot, plan: Sequence[Spot], points: Sequence[Spot], phase: str, says: str
) -> None:
    """The points of the helical edges of the first start, from the plan's divisions and the coil's levels."""
    bearings = [angle_of(spot.at - centre.at) for spot in plan]
    with d.phase(phase), d.as_one("Dividers", says):
        for letter, radius, up in g.helix_lines():
            for k, (bearing, level) in enumerate(zip(bearings, points)):
                d.also(f"{letter}{k}", point(radius * cosd(bearing), level.at[..., 1] + up), "plain")
