"""Planes from their views: the true shape of a triangle, the distance of a point, the meet with a line."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import Role
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare
from wise_compass.figures.plane.triangles import VALUES, Triangle
from wise_compass.figures.space.edge_views import GivenPlane, by_distance, edge_view, true_shape
from wise_compass.geometry.planes import distance_to_plane, foot_on_plane, plane_through
from wise_compass.geometry.vectors import Array, Number, angle_between, distance, dot, length

LETTERS = ("A", "B", "C")
SIDES_OF = (("A", "B"), ("B", "C"), ("C", "A"))


class TrueShape(GivenPlane, Triangle, id="true-shape", family="space", title="True shape of a triangle in space"):
    keys = ("A", "B", "C")
    brief = "The true shape of the triangle A {A}, B {B}, C {C} from its views, found with {method}."
    summary = "The true shape of a sloping pane, gusset or roof corner, for the saw and the shears."
    stands = ("ABCA",)
    value_names = VALUES
    ways = ("two-auxiliary-views", "side-true-lengths")

    A = SpacePoint((10, 22, 15), "the corner A: along, in front of and above the planes")
    B = SpacePoint((58, 8, 49), "the corner B: along, in front of and above the planes")
    C = SpacePoint((81, 46, 20), "the corner C: along, in front of and above the planes")

    def refuse(self) -> None:
        for one, other in (("A", "B"), ("B", "C"), ("A", "C")):
            self.refuse_same(one, other)
        self.refuse_needle()

    @property
    def sides(self) -> tuple[float, float, float]:
        a, b, c = (self.place(letter) for letter in LETTERS)
        return float(length(b - a)), float(length(c - b)), float(length(a - c))

    @property
    def angles(self) -> tuple[float, float, float]:
        a, b, c = (self.place(letter) for letter in LETTERS)
        one, two = float(angle_between(b - a, c - a)), float(angle_between(a - b, c - b))
        return one, two, 180.0 - one - two

    def workings(self) -> dict[str, str]:
        out = {}
        for name, (one, other) in zip(VALUES, SIDES_OF):
            x, y, z = (bare(abs(float(part))) for part in self.place(other) - self.place(one))
            out[name] = f"√({x}² + {y}² + {z}²)"
        return out

    def values(self, method: str) -> Iterable[Value]:
        for value in super().values(method):
            yield value._replace(marks=tuple(f"{letter}.{view}" for letter in value.marks for view in ("front", "top")))

    @staticmethod
    def _shown(found: Found) -> list[str]:
        """The keys of the corners where the true shape is drawn."""
        for names in (["A0", "B0", "C0"], ["A.4", "B.4", "C.4"]):
            if names[0] in found:
                return names
        return ["A.top", "B.top", "C.top"]

    def measure(self, found: Found) -> dict[str, Number]:
        shown = Found(dict(zip(LETTERS, (found[name] for name in self._shown(found)))), found.method)
        return super().measure(shown)

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        corners = dict(zip(LETTERS, (found[name] for name in self._shown(found))))
        for one, other in SIDES_OF:
            true = float(length(self.place(other) - self.place(one)))
            yield Truth(f"{one}{other} is as long as in space", distance(corners[one], corners[other]) - true)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        return GivenPlane.dimensions(self, found)


def _views_in(d: Draft, views: Views) -> None:
    for view, words in ((views.front, "front"), (views.top, "top")):
        d.line_in([views.spot(letter, view) for letter in LETTERS], closed=True, says=f"Line in the {words} view.")


@method(
    TrueShape,
    "two-auxiliary-views",
    about="A level line seen end-on shows the plane on edge; square to the edge stands the true shape.",
    source="Change of planes, twice (Monge): a view along a line of the plane, then one square to its edge",
)
def shape_by_views(g: TrueShape, d: Draft) -> None:
    out = g.set_out(d)
    view = true_shape(g, d, out)
    with d.phase("Line in"):
        _views_in(d, out.views)
        if view is not out.views.top:
            d.line_in([out.views.spot(letter, view) for letter in LETTERS], closed=True, says="Line in the true shape.")


@method(
    TrueShape,
    "side-true-lengths",
    about="Each side's true length from its rise and its top view; the triangle from the three.",
    source="True length as the hypotenuse of rise and top view (Pythagoras); Euclid, Elements I.22",
)
def shape_by_sides(g: TrueShape, d: Draft) -> None:
    out = g.set_out(d)
    views = out.views
    front = {letter: views.spot(letter, views.front) for letter in LETTERS}
    top = {letter: views.spot(letter, views.top) for letter in LETTERS}
    right = max(spot.here[0] for spot in front.values())
    wide = max(float(distance(top[one].here, top[other].here)) for one, other in SIDES_OF)
    with d.phase("True lengths"):
        fold = views.top.fold
        assert fold is not None
        foot = d.on(fold, float(right - fold.p[..., 0].flat[0]) + 24.0)
        axis = d.upright_from(foot, "To the right of the views draw an upright: the rises stand on it.")
        marks = {}
        with d.as_one("Set square", "Carry the levels of the front views to it."):
            for letter in LETTERS:
                marks[letter] = d.meet(d.level_from(front[letter], role=Role.PROJECTOR), axis, f"{letter}2")
        true = {}
        for one, other in SIDES_OF:
            low, high = sorted((one, other), key=lambda letter: float(g.place(letter)[2]))
            start = marks[low]
            if float(distance(top[one].here, top[other].here)) > g.same:
                level = d.level_from(marks[low])
                says = f"Lay off the top view of {one}{other} from the upright, at the level of {low}."
                start = d.lay_off(level, marks[low], d.opening(top[one], top[other]), f"{one}{other}2", says)
                d.rule(start, marks[high], f"Join it to the level of {high}: the true length of {one}{other}.")
            true[one + other] = (start, marks[high])
    with d.phase("The triangle"):
        says = "On a level line clear of the views set the true length of AB."
        place = d.on(fold, float(right - fold.p[..., 0].flat[0]) + 48.0 + wide)
        base = d.level_from(place, says)
        a0 = d.also("A0", place)
        b0 = d.lay_off(base, a0, d.opening(*true["AB"]), "B0", "Lay off the true length of AB.")
        near = d.compass(a0, d.opening(*true["CA"]), "About A0 swing the true length of CA.", whole=False)
        far = d.compass(b0, d.opening(*true["BC"]), "About B0 swing that of BC: they cross at C0.", whole=False)
        c0 = d.meet(near, far, "C0", where="above")
    with d.phase("Line in"):
        _views_in(d, views)
        d.line_in([a0, b0, c0], closed=True, says="Line in the true shape.")


def plane_angles(normal: Array) -> tuple[Number, Number]:
    """The angles of a plane to the horizontal and to the vertical plane, in degrees, by its normal (…, 3)."""
    x, y, z = np.moveaxis(np.abs(normal), -1, 0)
    return np.rad2deg(np.arctan2(np.hypot(x, y), z)), np.rad2deg(np.arctan2(np.hypot(x, z), y))


class PointToPlane(GivenPlane, id="point-to-plane", family="space", title="Distance of a point from a plane"):
    keys = ("A", "B", "C", "F", "P")
    brief = "The distance of P {P} from the plane through A {A}, B {B} and C {C}, found with {method}."
    summary = "How far a point stands off a sloping plane, and the foot of the square line in both views."
    stands = ("ABCA", "PF")
    value_names = ("distance", "plane_angle_h", "plane_angle_v", "foot")

    P = SpacePoint((40, 60, 58), "the point: along, in front of and above the planes")
    A = SpacePoint((10, 22, 15), "a point A of the plane")
    B = SpacePoint((58, 8, 49), "a point B of the plane")
    C = SpacePoint((81, 46, 20), "a point C of the plane")

    def refuse(self) -> None:
        self.refuse_needle()

    def values(self, method: str) -> Iterable[Value]:
        plane, p = self.plane, self.place("P")
        both = ("P.front", "P.top", "F.front", "F.top")
        n = plane.normal
        words = " + ".join(f"{abs(float(c)):.6f} × {bare(abs(float(x)))}" for c, x in zip(n, p))
        off = abs(float(distance_to_plane(p, plane)))
        yield Value("distance", off, "mm", f"|n·P − n·A|, n the unit normal: {words}, each with its sign", both)
        h, v = (float(angle) for angle in plane_angles(n))
        corners = tuple(f"{letter}.{view}" for letter in LETTERS for view in ("front", "top"))
        yield Value("plane_angle_h", h, "°", f"arccos({abs(float(n[2])):.9f})", corners)
        yield Value("plane_angle_v", v, "°", f"arccos({abs(float(n[1])):.9f})", corners)
        yield Value(
            "foot", [float(x) for x in foot_on_plane(p, plane)], "mm", "P less its distance along the unit normal", both
        )

    def measure(self, found: Found) -> dict[str, Number]:
        plane = plane_through(*(found[letter] for letter in LETTERS))
        h, v = plane_angles(plane.normal)
        return {
            "distance": distance(found["P"], found["F"]),
            "plane_angle_h": h,
            "plane_angle_v": v,
            "foot": found["F"],
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        plane, f, p = self.plane, found["F"], self.place("P")
        yield Truth("The foot lies in the plane", distance_to_plane(f, plane))
        for letter in "BC":
            edge = self.place(letter) - self.place("A")
            yield Truth(f"The line from P to the foot stands square to A{letter}", dot(f - p, edge) / length(edge))


@method(
    PointToPlane,
    "edge-view",
    about="The plane on edge shows the distance truly; the foot is brought back into both views.",
    source="Change of planes (Monge): a line square to a plane is seen truly where the plane is an edge",
)
def distance_by_edge(g: PointToPlane, d: Draft) -> None:
    out = g.set_out(d)
    views = out.views
    front, top = views.spot("P", views.front), views.spot("P", views.top)
    if g.level:
        with d.phase("The foot"):
            edge = d.level_from(views.spot("A", views.front), "The plane lies level: its front view is one level line.")
            down = d.upright_from(front, "Drop a line upright from the front view of P.")
            foot_front = d.meet(down, edge, "F.front")
            foot_top = d.also("F.top", top)
    else:
        with d.phase("The plane on edge"):
            view, edge = edge_view(g, d, out, [*LETTERS, "P"])
        with d.phase("The distance"):
            p = views.spot("P", view)
            square = d.square_to(edge, p, "From P draw square to the edge: the distance, seen truly.")
            foot = d.meet(square, edge, view.key("F"))
            if float(distance(p.here, foot.here)) > g.same:
                d.line_in([p, foot], says="Line in the distance, truly long.")
        with d.phase("The foot in both views"):
            assert view.fold is not None
            back = d.square_to(view.fold, foot, "Carry the foot back square across the fold line.", role=Role.PROJECTOR)
            says = "From the top view of P draw along the fold line: the distance lies in that direction."
            foot_top = d.meet(d.parallel_to(view.fold, top, says), back, "F.top")
            foot_front = by_distance(d, views, view, foot, foot_top, "F.front", g.same)
    with d.phase("Line in"):
        _views_in(d, views)
        for ends, words in (((front, foot_front), "front"), ((top, foot_top), "top")):
            if float(distance(ends[0].here, ends[1].here)) > g.same:
                d.line_in(list(ends), says=f"Line in the {words} view of the distance.")
    d.in_space("F", views.solid(foot_front.at, foot_top.at))
