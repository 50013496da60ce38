"""A point by its projectors, and the true length and inclinations of a line from its two views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import bare
from wise_compass.figures.space.folds import fold_along
from wise_compass.figures.space.given_points import GivenPoints, SetOut, is_point
from wise_compass.figures.space.lines import listed
from wise_compass.geometry.space import inclinations, traces
from wise_compass.geometry.vectors import Array, Number, angle_between, distance, length, point, sind

LEVEL = point(1.0, 0.0)


class PointInSpace(GivenPoints, id="point-in-space", family="space", title="Point in space"):
    keys = ("P", "P.front", "P.top", "Q.front")
    brief = "The point P {P} in its views, and its distance from the reference line, with {method}."
    summary = "A point by its two views: in front or behind, above or below, and how far it is from the reference line."
    value_names = ("to_reference_line", "quadrant")

    P = SpacePoint((31.5, 42.3, 27.8), "the point: along, in front of and above the planes")

    @property
    def quadrant(self) -> int:
        """1 in front and above, 2 behind and above, 3 behind and below, 4 in front and below; 0 on a plane."""
        _, y, z = self.P
        if abs(y) <= self.same or abs(z) <= self.same:
            return 0
        return (1 if y > 0 else 2) if z > 0 else (3 if y < 0 else 4)

    def values(self, method: str) -> Iterable[Value]:
        _, y, z = self.P
        both = ("P.front", "P.top")
        yield Value("to_reference_line", float(np.hypot(y, z)), "mm", f"√({bare(abs(y))}² + {bare(abs(z))}²)", both)
        yield Value(
            "quadrant", self.quadrant, "", "by the signs of the distances in front and above; 0 on a plane", both
        )

    def measure(self, found: Found) -> dict[str, Number]:
        if "Q.front" not in found:
            return {}
        return {"to_reference_line": distance(found["Q.front"], found["P.front"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        yield Truth("Both views of P stand on one projector", found["P.front"][..., 0] - found["P.top"][..., 0])
        if "Q.front" in found:
            away = np.hypot(found["P"][..., 1], found["P"][..., 2])
            yield Truth(
                "The slant line is as long as P is far from the reference line in space",
                distance(found["Q.front"], found["P.front"]) - away,
            )


@method(
    PointInSpace,
    "projectors",
    about="Both views on one projector; the two distances as the legs of a right triangle.",
    source="Orthographic projection onto two planes (ISO 5456-2); Pythagoras's theorem",
)
def point_projectors(g: PointInSpace, d: Draft) -> None:
    views, projectors = g.set_out(d)
    front, top = views.spot("P", views.front), views.spot("P", views.top)
    ground, wall = views.top.datum or views.top.fold, views.front.datum or views.front.fold
    assert ground is not None and wall is not None
    if abs(g.P[1]) <= g.same:
        return
    with d.phase("Its distance from the reference line"):
        base = d.meet(projectors["P"], wall)
        foot = d.meet(projectors["P"], ground)
        says = (
            "Take the distance of the top view from its fold line; lay it off level from the foot of the projector: Q."
        )
        q = d.lay_off(ground, foot, d.opening(base, top), "Q.front", says, "the depth turned into the sheet")
        d.rule(
            q, front, "Join Q to the front view of P: as long as P is far from the reference line.", role=Role.OUTLINE
        )


class LineFromViews(GivenPoints, id="line-from-views", family="space", title="True length of a line from its views"):
    keys = ("A", "A.front", "A.top", "B", "B.front", "B.top")
    brief = "The true length and inclinations of the line from A {A} to B {B}, found with {method}."
    summary = "The true length of a brace, rafter or pipe from its two views, and how it leans to both planes."
    stands = ("AB",)
    value_names = ("length", "angle_h", "angle_v", "traces")
    ways = ("rotation", "trapezoid", "auxiliary-view")

    A = SpacePoint((12, 18, 47), "the end A: along, in front of and above the planes")
    B = SpacePoint((71, 39, 14), "the end B: along, in front of and above the planes")

    def refuse(self) -> None:
        self.refuse_same("A", "B")

    def values(self, method: str) -> Iterable[Value]:
        a, b = self.place("A"), self.place("B")
        x, y, z = (bare(abs(float(part))) for part in b - a)
        h, v = (float(angle) for angle in inclinations(a, b))
        both = ("A.front", "B.front", "A.top", "B.top")
        yield Value("length", float(length(b - a)), "mm", f"√({x}² + {y}² + {z}²)", both)
        yield Value("angle_h", h, "°", f"arctan({z} / √({x}² + {y}²))" if h < 90 else "it stands upright", both)
        yield Value(
            "angle_v", v, "°", f"arctan({y} / √({x}² + {z}²))" if v < 90 else "it stands square to that plane", both
        )
        words = "where AB meets the horizontal plane (z = 0), then the vertical plane (y = 0)"
        yield Value("traces", [listed(trace) for trace in traces(a, b)], "mm", words, both)

    def _shown(self, found: Found) -> Iterator[tuple[str, Array, Array]]:
        """The angle that a true length is drawn for, the true length as a vector, and what the angle is measured
        from."""
        x, y, _ = np.abs(self.place("B") - self.place("A"))
        on_end = max(float(x), float(y)) <= self.same  # then nothing is folded off the top view
        for name, view, other, n, aux in (
            ("angle_h", "top", "front", 1, "" if on_end else "3"),
            ("angle_v", "front", "top", 2, "3" if on_end else "4"),
        ):
            level = f"B{n}.{other}"
            base = found[f"B.{view}"] - found[f"A.{view}"]
            if level in found:
                yield name, found[level] - found[f"A.{other}"], LEVEL
            elif f"A{n}.{view}" in found:
                yield name, found[f"B{n}.{view}"] - found[f"A{n}.{view}"], base
            elif f"B.{aux}" in found:
                yield name, found[f"B.{aux}"] - found[f"A.{aux}"], base

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {}
        for name, true, base in self._shown(found):
            angle = angle_between(true, base)
            out.setdefault("length", length(true))
            out[name] = np.minimum(angle, 180.0 - angle)
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        a, b = self.place("A"), self.place("B")
        size = float(length(b - a))
        for name, true, base in self._shown(found):
            given = inclinations(a, b)[0 if name == "angle_h" else 1]
            plane = "horizontal" if name == "angle_h" else "vertical"
            yield Truth(f"The length shown with the {plane} plane is that in space", length(true) - size)
            leans = size * (sind(angle_between(true, base)) - sind(given))
            yield Truth(f"It leans to the {plane} plane as the line in space does", leans)


def _line_in(g: LineFromViews, d: Draft, views: Views) -> None:
    with d.phase("Line in"):
        for view, words in ((views.front, "front"), (views.top, "top")):
            a, b = views.spot("A", view), views.spot("B", view)
            if not is_point(a, b, g.same):
                d.line_in([a, b], says=f"Line in the {words} view.")


def _swing(g: LineFromViews, d: Draft, views: Views, view: View, n: int) -> None:
    """Turn one view of B about that of A until it lies level: the other view then shows the line truly."""
    other = view.before
    words, others = view.id, other.id
    a, b, far_a, far_b = (views.spot(letter, one) for one in (view, other) for letter in "AB")
    if is_point(a, b, g.same) or abs(float(b.here[1] - a.here[1])) <= g.same:
        with d.as_one(
            "Pencil", f"The {words} view is a point or level already: the {others} view shows the true length."
        ):
            d.also(f"B{n}.{others}", far_b)
        return
    level = d.level_from(a, f"Draw level from the {words} view of A.")
    arc = d.compass(
        a, d.opening(a, b), f"Swing the {words} view of B about that of A until it lies level.", whole=False
    )
    turned = d.meet(arc, level, f"B{n}.{words}", where="right" if b.here[0] >= a.here[0] else "left")
    projector = d.upright_from(turned, f"Carry it to the {others} view.", role=Role.PROJECTOR)
    beside = d.level_from(
        far_b, f"Draw level from the {others} view of B: turning about an upright axis keeps its level."
    )
    end = d.meet(projector, beside, f"B{n}.{others}")
    d.rule(
        far_a,
        end,
        "Join A to it: the true length, at its true angle to the "
        f"{'horizontal' if words == 'top' else 'vertical'} plane.",
        role=Role.OUTLINE,
    )


@method(
    LineFromViews,
    "rotation",
    about="One view swung level: the other then shows the line truly.",
    source="Monge's revolution about an axis square to a plane: true lengths keep their inclination",
)
def by_rotation(g: LineFromViews, d: Draft) -> None:
    views, _ = g.set_out(d)
    with d.phase("The angle to the horizontal plane"):
        _swing(g, d, views, views.top, 1)
    with d.phase("The angle to the vertical plane"):
        _swing(g, d, views, views.front, 2)
    _line_in(g, d, views)


def _upright(g: LineFromViews, d: Draft, out: SetOut, view: View, letter: str, base: LineMark) -> Spot:
    """A corner of the trapezoid: the point's distance from the plane of ``view``, square to the view at its end."""
    views, other, level = out.views, view.before, view.id == "top"
    off = float(g.place(letter)[2 if level else 1])
    end, key = views.spot(letter, view), f"{letter}{1 if level else 2}.{view.id}"
    if abs(off) <= g.same:
        with d.as_one("Pencil", f"{letter} lies in the plane: the corner falls on its {view.id} view."):
            return d.also(key, end)
    datum = view.datum or view.fold
    assert datum is not None
    foot = d.meet(out.projectors[letter], datum)
    line = d.square_to(base, end, f"Square to the {view.id} view draw a line from {letter}.")
    says = f"Take the distance of the {other.id} view of {letter} from its fold line; lay it off on it."
    return d.lay_off(line, end, d.opening(views.spot(letter, other), foot), key, says, way=1.0 if off > 0 else -1.0)


@method(
    LineFromViews,
    "trapezoid",
    about="The line folded into the sheet about its own view: a trapezoid with square uprights.",
    source="The projecting plane turned about the view into the sheet: a trapezoid with two right angles",
)
def by_trapezoid(g: LineFromViews, d: Draft) -> None:
    out = g.set_out(d)
    views = out.views
    for view, plane in ((views.top, "horizontal"), (views.front, "vertical")):
        a, b = views.spot("A", view), views.spot("B", view)
        if is_point(a, b, g.same):
            continue
        with d.phase(f"The angle to the {plane} plane"):
            base = d.rule(a, b, f"Join the {view.id} views.")
            ends = [_upright(g, d, out, view, letter, base) for letter in "AB"]
            d.rule(
                ends[0],
                ends[1],
                "Join both corners: the true length, leaning to the view by the true angle.",
                role=Role.OUTLINE,
            )
    _line_in(g, d, views)


@method(
    LineFromViews,
    "auxiliary-view",
    about="A further view along each view shows the line truly.",
    source="Change of planes: a plane of projection set along a view shows the line truly",
)
def by_auxiliary_view(g: LineFromViews, d: Draft) -> None:
    views, _ = g.set_out(d)
    for view, k, plane in ((views.top, 2, "horizontal"), (views.front, 1, "vertical")):
        a, b = views.spot("A", view), views.spot("B", view)
        if is_point(a, b, g.same):
            continue
        with d.phase(f"The angle to the {plane} plane"):
            base = d.rule(a, b, f"Join the {view.id} views.")
            offs = [float(g.place(letter)[k]) for letter in "AB"]
            beside = fold_along(d, views, view, base, [a, b], offs, f"Draw a fold line along the {view.id} view.")
            ends = [views.transfer(letter, beside) for letter in "AB"]
            d.rule(
                ends[0], ends[1], "Join them: the true length, at its true angle to the fold line.", role=Role.OUTLINE
            )
    _line_in(g, d, views)
