"""The shortest distance of two lines that do not meet."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import LONGEST_LENGTH
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import bare, most_mm
from wise_compass.figures.space.edge_views import SLANTED, by_distance, carried_back, nearly_along, same_share, through
from wise_compass.figures.space.folds import fold_along, fold_square
from wise_compass.figures.space.given_points import GivenPoints, is_point
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Number, dot, length, point, unit

PARALLEL = 1e-9
"""The sine under which two lines are parallel."""


class SkewLines(GivenPoints, id="skew-lines", family="space", title="Shortest distance of two lines"):
    keys = ("A", "B", "C", "D", "M", "N")
    brief = "The shortest distance of the line from A {A} to B {B} and that from C {C} to D {D}, found with {method}."
    summary = "The clearance between two rods, shafts or pipes that cross without meeting, and where it is least."
    stands = ("AB", "CD", "MN")
    value_names = ("distance", "angle", "ends")

    A = SpacePoint((5, 12, 48), "a point A of the first line")
    B = SpacePoint((82, 44, 10), "a point B of the first line")
    C = SpacePoint((18, 53, 6), "a point C of the second line")
    D = SpacePoint((70, 9, 25), "a point D of the second line")

    def refuse(self) -> None:
        self.refuse_same("A", "B")
        self.refuse_same("C", "D")
        if float(length(cross3(self.way("AB"), self.way("CD")))) < PARALLEL:
            raise Refused("D", "CD runs parallel to AB: they are equally far apart everywhere. Move D, or C.")
        if max(float(np.abs(end).max()) for end in self.ends) > LONGEST_LENGTH:
            raise Refused(
                "D", f"The lines are so nearly parallel that they pass beyond {most_mm(LONGEST_LENGTH)}. Move D, or C."
            )

    def way(self, line: str) -> Array:
        """The direction of a line, of length 1."""
        return unit(self.place(line[1]) - self.place(line[0]))

    @property
    def ends(self) -> tuple[Array, Array]:
        """The ends of the common perpendicular, on AB and on CD."""
        a, c, u, w = self.place("A"), self.place("C"), self.way("AB"), self.way("CD")
        n = cross3(u, w)
        square = float(dot(n, n))
        return a + u * float(dot(cross3(c - a, w), n)) / square, c + w * float(dot(cross3(c - a, u), n)) / square

    def values(self, method: str) -> Iterable[Value]:
        u, w = self.way("AB"), self.way("CD")
        n = cross3(u, w)
        sine, cosine = float(length(n)), abs(float(dot(u, w)))
        gap = abs(float(dot(self.place("C") - self.place("A"), n))) / sine
        marks = ("M.front", "M.top", "N.front", "N.top")
        yield Value(
            "distance",
            gap,
            "mm",
            f"|AC·(u × w)| / |u × w|, u and w along the lines: {bare(gap * sine)} / {sine:.9f}",
            marks,
        )
        yield Value("angle", float(np.rad2deg(np.arctan2(sine, cosine))), "°", f"arccos({cosine:.9f})", marks)
        ends = [[float(x) for x in end] for end in self.ends]
        yield Value("ends", ends, "mm", "the ends of the line square to both, on AB and on CD", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        return {"distance": length(found["N"] - found["M"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        m, n = found["M"], found["N"]
        for line, at, name in (("AB", m, "M"), ("CD", n, "N")):
            yield Truth(f"{name} lies on {line}", length(cross3(at - self.place(line[0]), self.way(line))))
            yield Truth(f"MN stands square to {line}", dot(n - m, self.way(line)))


def _ends(views: Views, view: View, line: str) -> list[Spot]:
    return [views.spot(letter, view) for letter in line]


def _true_view(g: SkewLines, d: Draft, views: Views) -> View:
    """A view that shows AB truly: the top view of a level line, the front view of a frontal one, or one along the top
    view."""
    x, y, z = np.abs(g.place("B") - g.place("A"))
    if float(z) <= g.same:
        return views.top
    if float(y) <= g.same:
        return views.front
    line = through(d, _ends(views, views.top, "AB"), "Draw the top view of AB.")
    spots = [views.spot(letter, views.top) for letter in "ABCD"]
    heights = [float(g.place(letter)[2]) for letter in "ABCD"]
    says = "Draw a fold line along the top view of AB: the next view shows AB truly."
    view = fold_along(d, views, views.top, line, spots, heights, says)
    views.transfer_all("ABCD", view)
    return view


def _point_view(g: SkewLines, d: Draft, views: Views, true: View) -> View:
    """The view that looks along AB: it is a point there."""
    before = true.before
    if is_point(views.spot("A", before), views.spot("B", before), g.same):
        return before
    a, b = _ends(views, true, "AB")
    line = d.rule(a, b, "Draw AB, truly long here.")
    spots = [views.spot(letter, true) for letter in "ABCD"]
    axis = 2 if true is views.top else 1
    offs = [0.0] if true in views.auxiliary else [float(g.place(letter)[axis]) for letter in "ABCD"]
    says = "Draw a fold line square to it: the next view looks along AB, which is a point."
    view = fold_square(d, views, true, line, spots, offs, says)
    views.transfer_all("ABCD", view)
    return view


def _into_true(g: SkewLines, d: Draft, views: Views, true: View, end_on: View) -> Spot:
    """N on CD in the view that shows AB truly."""
    line, shown = _ends(views, true, "CD"), _ends(views, end_on, "CD")
    n = views.spot("N", end_on)
    if end_on in views.auxiliary:
        return carried_back(d, end_on, n, line, shown, true.key("N"), g.same)
    if nearly_along(line, point(0.0, 1.0), g.same):
        return same_share(
            d, shown, line, n, true.key("N"), "CD stands on one projector: divide it as N divides the other view."
        )
    carried = d.upright_from(n, "Carry N to the other view of CD.", role=Role.PROJECTOR)
    return d.meet(carried, d.rule(line[0], line[1], "Draw CD there."), true.key("N"))


def _short(g: SkewLines, shown: list[Spot]) -> bool:
    """Whether CD is seen so nearly end-on that nothing can be read off along it."""
    true = float(length(g.place("D") - g.place("C")))
    return float(length(shown[1].here - shown[0].here)) < SLANTED * true


@method(
    SkewLines,
    "auxiliary-point-view",
    about="Where one line is seen as a point, the square line from it to the other is the shortest distance.",
    source="Change of planes (Monge): one line truly long, then end-on; a right angle is seen where one leg is true",
)
def by_point_view(g: SkewLines, d: Draft) -> None:
    views = g.set_out(d).views
    with d.phase("AB truly long"):
        true = _true_view(g, d, views)
    with d.phase("AB as a point"):
        end_on = _point_view(g, d, views, true)
        a = views.spot("A", end_on)
        line = through(d, _ends(views, end_on, "CD"), "Draw CD.")
        square = d.square_to(
            line, a, "From AB, a point here, draw square to CD: the shortest distance, truly long. It ends at N."
        )
        n = d.meet(square, line, end_on.key("N"))
        if not is_point(a, n, g.same):
            d.line_in([a, n], says="Line in the shortest distance, truly long.")
        d.also(end_on.key("M"), a)
    with d.phase("Back to the views"):
        n = _into_true(g, d, views, true, end_on)
        ab = _ends(views, true, "AB")
        base = d.rule(ab[0], ab[1], "Draw AB, truly long.")
        m = d.meet(
            d.square_to(base, n, "From N draw square to AB: the right angle is seen truly here. It ends at M."),
            base,
            true.key("M"),
        )
        if true in views.auxiliary:
            for name, spot, ends in (("N", n, "CD"), ("M", m, "AB")):
                there, shown = _ends(views, views.top, ends), _ends(views, true, ends)
                if name == "N" and (_short(g, shown) or nearly_along(there, true.v, g.same)):
                    back = by_distance(d, views, end_on, views.spot("N", end_on), spot, "N.top", g.same)
                else:
                    back = carried_back(d, true, spot, there, shown, f"{name}.top", g.same)
                by_distance(d, views, true, spot, back, f"{name}.front", g.same)
        elif end_on in views.auxiliary:
            for name, known in (("N", n), ("M", m)):
                by_distance(d, views, end_on, views.spot(name, end_on), known, true.before.key(name), g.same)
    with d.phase("Line in"):
        for view in (views.front, views.top):
            for ends in ("AB", "CD", "MN"):
                one, other = _ends(views, view, ends)
                if not is_point(one, other, g.same):
                    d.line_in([one, other], says=f"Line in the {view.id} view of {ends}.")
    for name in "MN":
        d.in_space(name, views.solid(views.spot(name, views.front).at, views.spot(name, views.top).at))
