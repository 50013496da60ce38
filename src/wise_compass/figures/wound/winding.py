"""What springs and threads share: a section wound on a cylinder, drawn with the edges that are seen from in front."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.course import evenly
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Count
from wise_compass.drafting.marks import Row, Spot
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.wording import mm
from wise_compass.figures.wound.coils import Coil
from wise_compass.geometry.coils import Body, CoilEdge, Winding, visible_pieces
from wise_compass.geometry.vectors import Array, Number, distance, point

FINEST = 7.5
"""Degrees between the places of an edge at which it is asked whether it is seen."""


class Wound(Coil):
    """What springs and threads share: a section wound on a cylinder, its edges, and which stretches of them are
    seen."""

    curve_says = "the middle line of the coil"
    divisions = Count(12, "the divisions of a turn", 8, 36, multiple=4)

    @property
    @abstractmethod
    def pitch_of(self) -> float:
        """Rise of the coil in a turn."""

    @property
    @abstractmethod
    def coil_radius(self) -> float:
        """Of the line that the points P lie on."""

    @cached_property
    @abstractmethod
    def winding(self) -> Winding: ...

    @property
    def hides(self) -> Body:
        """The body as it hides its own edges."""
        return self.winding

    @abstractmethod
    def helix_lines(self) -> list[tuple[str, float, float]]:
        """The helical edges of the section: a letter, the radius, and the height above the middle."""

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

    def edge_truths(self, found: Found) -> Iterator[Truth]:
        """The edges stand where their radius and height belong."""
        turned = self.turned_at()
        for letter, radius, up in self.helix_lines():
            exact = self.flat(self.winding.on(radius, turned, up))
            level = (
                f"{mm(abs(up))} {'over' if up > 0 else 'under'} the middle of its coil" if up else "level with its coil"
            )
            words = f"Edge {letter} keeps {mm(radius)} from the axis, {level}"
            yield Truth(words, distance(found.group(letter), exact))


class CoilStretch(NamedTuple):
    """An edge that a hand can draw: the true edge, which tells how far it is seen, and the row that the hand joins up.

    ``stations`` are the edge's parameters at the row's points.
    """

    edge: CoilEdge
    row: Row
    stations: Array

    def place(self, t: float) -> float:
        """The place of the row at a parameter of the edge."""
        return float(np.interp(t, self.stations, np.arange(len(self.stations))))

    def at(self, t: float) -> Array:
        """Where the hand's line stands at a parameter of the edge."""
        return self.row.at(self.place(t))


Edges = Mapping[str, CoilStretch]
"""The helical edges of one start by their letters."""


def straight(edge: CoilEdge, one: Array, other: Array) -> CoilStretch:
    """An edge ruled from one found place to another."""
    return CoilStretch(edge, Row([one, other], smooth=False), np.array([edge.first, edge.last]))


def helical_edges(
    g: Wound, d: Draft, rings: Mapping[float, Sequence[Spot]], points: Sequence[Spot], start: int = 0, says: str = ""
) -> dict[str, CoilStretch]:
    """The helical edges of a start: each plan point of its circle carried up to the coil's level, and the section laid
    off.

    ``rings`` are the plan points by the radius of their circle, ``points`` the found points of the coil, which give the
    levels.
    """
    winding, turned = g.winding, g.turned_at()
    made = {}
    with d.as_one("Dividers", says):
        for letter, radius, up in g.helix_lines():
            names = [f"{letter}{k}" if start == 0 else "" for k in range(len(points))]
            spots = [
                d.project(name, spot, level, up, kind="plain")
                for name, spot, level in zip(names, rings[radius], points)
            ]
            edge = CoilEdge(lambda t, r=radius, z=up: winding.on(r, t, z, start), 0.0, g.total, tuple(turned))  # type: ignore[misc]
            made[letter] = CoilStretch(edge, d.row(spots), turned)
    return made


def end_edges(
    g: Wound, edges: Edges, start: int, pairs: Sequence[tuple[str, str]], uprights: Sequence[tuple[str, str]]
) -> list[CoilStretch]:
    """The edges of both end faces: ``pairs`` from the inner edge to the outer one, ``uprights`` from the lower to the
    upper."""
    winding, heights = g.winding, {letter: (radius, up) for letter, radius, up in g.helix_lines()}
    made = []
    for turned in (0.0, g.total):
        for inner, outer in pairs:
            sign = 1.0 if heights[outer][1] + heights[inner][1] >= 0 else -1.0
            edge = CoilEdge(
                lambda r, t=turned, s=sign: winding.on(r, t, s * np.asarray(winding.half(r)), start),  # type: ignore[misc]
                winding.inner,
                winding.outer,
            )
            made.append(straight(edge, edges[inner].at(turned), edges[outer].at(turned)))
        made += [upright(g, edges, start, lower, upper, turned) for lower, upper in uprights]
    return made


def upright(g: Wound, edges: Edges, start: int, lower: str, upper: str, turned: float) -> CoilStretch:
    """The upright from one edge to another over it, at an angle turned."""
    winding = g.winding
    (radius, low), (_, high) = (
        (r, up) for name in (lower, upper) for letter, r, up in g.helix_lines() if letter == name
    )
    edge = CoilEdge(lambda z: winding.on(radius, turned, z, start), low, high)
    return straight(edge, edges[lower].at(turned), edges[upper].at(turned))


def side_edges(g: Wound, edges: Edges, start: int, pairs: Sequence[tuple[str, str]]) -> list[CoilStretch]:
    """Uprights at the sides, where a cylinder of the section turns away from the eye."""
    winding, made = g.winding, []
    shift = winding.sign * 360.0 * start / winding.starts
    for k in range(-2, int(2 * winding.turns) + 3):
        turned = 180.0 * k - shift
        if 1e-6 < turned < g.total - 1e-6:
            made += [upright(g, edges, start, lower, upper, turned) for lower, upper in pairs]
    return made


def line_in_edges(g: Wound, d: Draft, stretches: Sequence[CoilStretch], says: str) -> None:
    """What is seen of edges, lined in along the hand's own lines."""
    pieces = visible_pieces(g.hides, [one.edge for one in stretches], FINEST)
    with d.as_one("Curve", says):
        for one, seen in zip(stretches, pieces):
            for a, b in seen:
                start, end = one.place(a), one.place(b)
                if end - start > 1e-9:
                    d.piece(one.row, start, end)
