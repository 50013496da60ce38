"""Where a line meets a plane, from their views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import combinations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import LONGEST_LENGTH
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import bare, most_mm
from wise_compass.figures.space.edge_views import (
    SLANTED,
    GivenPlane,
    by_distance,
    carried_back,
    edge_view,
    same_share,
    through,
)
from wise_compass.figures.space.given_points import is_point
from wise_compass.figures.space.visible import SIGHT, SeenEdges
from wise_compass.geometry.hidden import hidden_pieces
from wise_compass.geometry.planes import cross3, distance_to_plane, meet_line_plane
from wise_compass.geometry.vectors import Array, Number, cross, dot, length, unit

EDGES = ("CD", "DE", "EC")
WELL_APART = 1.0
"""mm between two cuts that a line can be drawn through."""
PARALLEL = 1e-9
"""The sine of the angle between line and plane under which they are parallel."""


class LineMeetsPlane(GivenPlane, id="line-meets-plane", family="space", title="Line meets plane"):
    keys = ("A", "B", "C", "D", "E", "M", "M.front", "M.top")
    brief = "Where the line from A {A} to B {B} meets the plane through C {C}, D {D} and E {E}, found with {method}."
    summary = "Where a chute, shaft or pipe goes through a floor, wall or roof, and at what angle."
    stands = ("AB", "CDEC")
    value_names = ("along", "angle", "meets")
    ways = ("cutting-plane", "edge-view")
    corners = ("C", "D", "E")

    A = SpacePoint((9.5, 58, 66.3), "the end A of the line")
    B = SpacePoint((74, 7.7, 5.2), "the end B of the line")
    C = SpacePoint((12.4, 8.8, 19), "a point C of the plane")
    D = SpacePoint((81, 33.5, 61), "a point D of the plane")
    E = SpacePoint((44.6, 69, 4.3), "a point E of the plane")

    def refuse(self) -> None:
        self.refuse_same("A", "B")
        self.refuse_needle()
        sine = abs(float(dot(self.way, self.plane.normal)))
        if sine < PARALLEL:
            off = abs(float(distance_to_plane(self.place("A"), self.plane)))
            what = "lies in the plane" if off <= self.same else "runs parallel to the plane"
            raise Refused("B", f"AB {what}: it meets it nowhere, or everywhere. Move B, or A.")
        if float(np.abs(self.meet).max()) > LONGEST_LENGTH:
            raise Refused(
                "B", f"AB meets the plane beyond {most_mm(LONGEST_LENGTH)}, so flat does it run to it. Move B, or A."
            )

    @property
    def way(self) -> Array:
        """From A towards B, of length 1."""
        return unit(self.place("B") - self.place("A"))

    @property
    def meet(self) -> Array:
        return meet_line_plane(self.place("A"), self.way, self.plane)

    def values(self, method: str) -> Iterable[Value]:
        u, n, marks = self.way, self.plane.normal, ("M.front", "M.top")
        sine = abs(float(dot(u, n)))
        across = float(length(cross3(u, n)))
        off = float(distance_to_plane(self.place("A"), self.plane))
        t = float(dot(self.meet - self.place("A"), u))
        yield Value(
            "along",
            t,
            "mm",
            f"the distance of A from the plane, {bare(abs(off))}, over the sine of the angle, {sine:.9f}",
            marks,
        )
        yield Value("angle", float(np.rad2deg(np.arctan2(sine, across))), "°", f"arcsin({sine:.9f})", marks)
        yield Value("meets", [float(x) for x in self.meet], "mm", "A and its distance along AB", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        return {"along": dot(found["M"] - found["A"], unit(found["B"] - found["A"])), "meets": found["M"]}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        m = found["M"]
        yield Truth("M lies in the plane", distance_to_plane(m, self.plane))
        yield Truth("M lies on the line", length(cross3(m - self.place("A"), self.way)))
        yield Truth("Both views of M stand on one projector", found["M.front"][..., 0] - found["M.top"][..., 0])

    def cuts(self, view: str) -> tuple[str, str] | None:
        """The two edges that a cutting plane through AB, square to ``view``, cuts well apart and least beyond their
        ends; or None."""
        k = [0, 1] if view == "top" else [0, 2]
        a, u = self.place("A"), self.way
        flat = u[k]
        if float(length(flat)) < SLANTED or abs(float(flat[0])) < SLANTED:
            return None
        found, beyond = {}, {}
        for edge in EDGES:
            p, q = (self.place(letter) for letter in edge)
            way = (q - p)[k]
            size = float(length(way))
            sine = float(cross(flat, way)) / (float(length(flat)) * size) if size > self.same else 0.0
            if abs(sine) > SLANTED:
                t = float(cross(a[k] - p[k], flat) / cross(way, flat))
                found[edge], beyond[edge] = p + (q - p) * t, size * max(0.0, -t, t - 1.0)
        apart = [pair for pair in combinations(found, 2) if float(length(found[pair[0]] - found[pair[1]])) > WELL_APART]
        return min(apart, key=lambda pair: (max(beyond[pair[0]], beyond[pair[1]]), pair), default=None)


def _fits(g: LineMeetsPlane) -> str | None:
    if g.cuts("top") or g.cuts("front"):
        return None
    return (
        "No cutting plane through AB cuts two edges well apart, or both its views stand on "
        "one projector. Take the view of the plane on edge."
    )


@method(
    LineMeetsPlane,
    "cutting-plane",
    fits=_fits,
    about="A plane through the line, square to one view, cuts the given plane in a line that meets it.",
    source="The auxiliary cutting plane (Monge): the line, its cutting plane's trace on the other, and their crossing",
)
def by_cutting_plane(g: LineMeetsPlane, d: Draft) -> None:
    out = g.set_out(d)
    views = out.views
    view = views.top if g.cuts("top") else views.front
    edges = g.cuts(view.id)
    assert edges is not None
    other = view.before
    here, there = ([views.spot(letter, one) for letter in "AB"] for one in (view, other))
    with d.phase("The cutting plane"):
        line = d.rule(
            here[0], here[1], f"The cutting plane stands on the {view.id} view of AB: draw that, and produce it."
        )
        cut = []
        for k, edge in enumerate(edges, 1):
            ends, ends_there = ([views.spot(letter, one) for letter in edge] for one in (view, other))
            at = d.meet(line, through(d, ends, f"Draw the edge {edge}: it is cut at {k}."), f"S{k}.{view.id}")
            if abs(float(ends_there[0].here[0] - ends_there[1].here[0])) < 1.0:
                says = f"The edge stands on one projector: divide its {other.id} view as the {view.id} view is divided."
                cut.append(same_share(d, ends, ends_there, at, f"S{k}.{other.id}", says))
                continue
            carried = d.upright_from(at, f"Carry the cut to the {other.id} view of {edge}.", role=Role.PROJECTOR)
            cut.append(d.meet(carried, through(d, ends_there, f"Draw {edge} there."), f"S{k}.{other.id}"))
    with d.phase("The meet"):
        trace = d.rule(cut[0], cut[1], "Join both cuts: the line in which the cutting plane cuts the given plane.")
        at = d.meet(trace, d.rule(there[0], there[1], f"It meets the {other.id} view of AB at M."), f"M.{other.id}")
        back = d.upright_from(at, f"Carry M to the {view.id} view of AB.", role=Role.PROJECTOR)
        d.meet(back, line, f"M.{view.id}")
    _line_in(g, d, views)


@method(
    LineMeetsPlane,
    "edge-view",
    about="Where the plane is seen on edge, the line crosses it in plain sight.",
    source="Change of planes (Monge): a plane seen along one of its lines is an edge",
)
def by_edge_view(g: LineMeetsPlane, d: Draft) -> None:
    out = g.set_out(d)
    views = out.views
    top = [views.spot(letter, views.top) for letter in "AB"]
    if g.level:
        front = [views.spot(letter, views.front) for letter in "AB"]
        with d.phase("The meet"):
            edge = d.level_from(views.spot("C", views.front), "The plane lies level: its front view is one level line.")
            at = d.meet(
                edge, d.rule(front[0], front[1], "Draw the front view of AB: it crosses the edge at M."), "M.front"
            )
            if is_point(top[0], top[1], g.same):
                d.also("M.top", top[0])
            elif abs(float(top[0].here[0] - top[1].here[0])) < SLANTED * float(length(g.place("B") - g.place("A"))):
                says = "AB stands on one projector: divide its top view as M divides the front view."
                same_share(d, front, top, at, "M.top", says)
            else:
                down = d.upright_from(at, "Carry M to the top view of AB.", role=Role.PROJECTOR)
                d.meet(down, d.rule(top[0], top[1], "Draw the top view of AB."), "M.top")
    else:
        with d.phase("The plane on edge"):
            view, edge = edge_view(g, d, out, [*g.corners, "A", "B"])
        with d.phase("The meet"):
            shown = [views.spot(letter, view) for letter in "AB"]
            at = d.meet(edge, d.rule(shown[0], shown[1], "Draw the line: it crosses the edge at M."), view.key("M"))
        with d.phase("M in both views"):
            back = carried_back(d, view, at, top, shown, "M.top", g.same)
            by_distance(d, views, view, at, back, "M.front", g.same)
    _line_in(g, d, views)


def _line_in(g: LineMeetsPlane, d: Draft, views: Views) -> None:
    corners = np.array([g.place(letter) for letter in g.corners])
    with d.phase("Line in"):
        for view in (views.front, views.top):
            lines: dict[str, LineMark] = {}

            def line(edge: str, view: View = view, lines: dict[str, LineMark] = lines) -> LineMark:
                if edge not in lines:
                    ends = [views.spot(letter, view) for letter in edge]
                    lines[edge] = d.rule(ends[0], ends[1], f"Draw {edge} in the {view.id} view, where it is crossed.")
                return lines[edge]

            says = f"Line in the {view.id} view of the plane."
            d.line_in([views.spot(letter, view) for letter in g.corners], closed=True, says=says)
            sight = SeenEdges(g, d, views, view, line, {"M": g.meet})
            hidden = hidden_pieces(g.place("A"), g.place("B"), corners, SIGHT[view.id], g.same)
            seen, behind = sight.pieces("AB", hidden, EDGES)
            beyond = _beyond(g, views, view)
            if seen or behind or beyond:
                sight.line_in(
                    [*seen, *beyond],
                    behind,
                    f"Line in the {view.id} view of the line, through M.",
                    "Draw what lies behind the plane as hidden.",
                )
    d.in_space("M", views.solid(views.spot("M", views.front).at, views.spot("M", views.top).at))


def _beyond(g: LineMeetsPlane, views: Views, view: View) -> list[tuple[Spot, Spot]]:
    """From the nearer end of the line to the meet, where that lies beyond it."""
    a, b, m = (views.spot(letter, view) for letter in "ABM")
    t = float(dot(g.meet - g.place("A"), g.way))
    if t < 0 and not is_point(m, a, g.same):
        return [(m, a)]
    return [(b, m)] if t > float(length(g.place("B") - g.place("A"))) and not is_point(b, m, g.same) else []
