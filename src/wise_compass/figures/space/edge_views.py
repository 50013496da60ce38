"""Planes seen on edge: a level line of the plane, and the auxiliary view in which that line is a point."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import least_mm, mm
from wise_compass.figures.space.folds import fold_along, fold_square
from wise_compass.figures.space.given_points import SAME, GivenPoints, SetOut, is_point
from wise_compass.geometry.planes import Plane, cross3, plane_through
from wise_compass.geometry.vectors import Array, cross, distance, dot, length, unit

NARROWEST = 0.1
"""mm by which the third corner of a plane lies off the line through the others, at least."""
SLANTED = 0.02
"""The sine under which a projector runs along a line rather than across it: a degree and a little."""


class GivenPlane(GivenPoints):
    """A figure with a plane among its givens, by three of its points: :attr:`corners`."""

    corners: Sequence[str] = ("A", "B", "C")

    @property
    def plane(self) -> Plane:
        a, b, c = (self.place(letter) for letter in self.corners)
        return plane_through(a, b, c)

    def refuse_needle(self) -> None:
        """Refuse three points in one line, which no plane is told by."""
        refuse_needle(self, self.corners, "plane")

    @property
    def level(self) -> bool:
        """Whether the plane lies level: then the front view shows its edge, and the top view its shape."""
        heights = [float(self.place(letter)[2]) for letter in self.corners]
        return max(heights) - min(heights) <= self.same


def refuse_needle(g: GivenPoints, corners: Sequence[str], what: str) -> None:
    """Refuse three corners in one line, which no plane or lamina is told by."""
    a, b, c = (g.place(letter) for letter in corners)
    p, q, r = max((a, b, c), (b, c, a), (c, a, b), key=lambda three: float(length(three[1] - three[0])))
    base = float(length(q - p))
    off = float(length(cross3(q - p, r - p))) / base if base else 0.0
    if off < NARROWEST * (1 - SAME):
        raise Refused(
            corners[-1],
            f"{', '.join(corners)} lie in one line but for {mm(off)}; a {what} is told "
            "by three points of which one lies at least "
            f"{least_mm(NARROWEST)} off the line of the others. Move {corners[-1]}.",
        )


def through(d: Draft, ends: Sequence[Spot], says: str) -> LineMark:
    """The straight line through a view's two ends."""
    return d.rule(ends[0], ends[1], says)


def same_share(d: Draft, one: Sequence[Spot], other: Sequence[Spot], at: Spot, name: str, says: str) -> Spot:
    """The place on one view of a line that divides it as ``at`` divides another view: by parallels (intercept
    theorem)."""
    a, b = one
    c, e = other
    if float(distance(c.here, e.here)) <= 1e-9 * max(1.0, float(np.abs(c.here).max())):
        with d.as_one("Pencil", f"The line is a point in this view: {name} falls on {c.name}."):
            return d.also(name, c)
    whole, part = d.opening(a, b), d.opening(a, at)
    way = 1.0 if float(dot(b.here - a.here, at.here - a.here)) >= 0 else -1.0
    lean = float(np.rad2deg(np.arctan2(*(e.here - c.here)[::-1]))) + 35.0
    with d.as_one("Set square", f"{says} Both lengths go on a slant line, and parallels back."):
        slant = d.ray(c, lean)
        far = d.lay_off(slant, c, whole, "", kind="plain")
        near = d.lay_off(slant, c, part, "", kind="plain", way=way)
        base = d.rule(c, e)
        return d.meet(d.parallel_to(d.rule(far, e), near), base, name)


def level_line(g: GivenPlane, d: Draft, out: SetOut) -> LineMark:
    """A line of the plane that runs level, in the top view: there it shows its true length.

    It goes through the corner of middle height, and is the edge itself where two corners stand equally high. The plane
    is not level.
    """
    views = out.views
    low, mid, high = sorted(g.corners, key=lambda letter: float(g.place(letter)[2]))
    for one, other in ((low, mid), (mid, high)):
        if abs(float(g.place(one)[2] - g.place(other)[2])) <= g.same:
            a, b = views.spot(one, views.top), views.spot(other, views.top)
            words = f"The edge {one}{other} runs level: its top view is a true length. Produce it."
            return d.rule(a, b, words)
    front = [views.spot(letter, views.front) for letter in (low, mid, high)]
    level = d.level_from(front[1], f"In the front view draw a level line of the plane through {mid}.")
    edge = d.rule(front[0], front[2], f"Draw the edge {low}{high}.")
    at = d.meet(edge, level, "L.front")
    top = [views.spot(letter, views.top) for letter in (low, mid, high)]
    if abs(float(g.place(low)[0] - g.place(high)[0])) <= g.same:
        says = f"The edge {low}{high} stands on one projector: divide its top view as L divides the front view."
        found = same_share(d, (front[0], front[2]), (top[0], top[2]), at, "L.top", says)
    else:
        carried = d.upright_from(at, "Carry L to the top view of that edge.", role=Role.PROJECTOR)
        found = d.meet(carried, d.rule(top[0], top[2], f"Draw the edge {low}{high} in the top view."), "L.top")
    return d.rule(top[1], found, f"Join {mid} to L in the top view: the level line, seen truly.")


def edge_view(g: GivenPlane, d: Draft, out: SetOut, letters: Sequence[str]) -> tuple[View, LineMark]:
    """The view along a level line of the plane, in which the plane is one line, with ``letters`` carried into it; and
    that line."""
    views = out.views
    line = level_line(g, d, out)
    spots = [views.spot(letter, views.top) for letter in letters]
    heights = [float(g.place(letter)[2]) for letter in letters]
    says = "Draw a fold line square to the level line: seen along it, the plane is a line."
    view = fold_square(d, views, views.top, line, spots, heights, says)
    views.transfer_all(letters, view)
    return view, edge_in(g, d, views, view)


def edge_in(g: GivenPlane, d: Draft, views: Views, view: View) -> LineMark:
    """The plane's edge: the line through the two corners that lie furthest apart there."""
    spots = [views.spot(letter, view) for letter in g.corners]
    pairs = [(spots[i], spots[j]) for i in range(3) for j in range(i)]
    one, other = max(pairs, key=lambda pair: float(distance(pair[0].here, pair[1].here)))
    return d.rule(one, other, "Join the corners furthest apart: the edge of the plane; the third lies on it.")


def true_shape(g: GivenPlane, d: Draft, out: SetOut) -> View:
    """The view that looks square at the plane."""
    views = out.views
    if g.level:
        return views.top
    with d.phase("The plane on edge"):
        view, edge = edge_view(g, d, out, g.corners)
    with d.phase("Square to the edge"):
        spots = [views.spot(letter, view) for letter in g.corners]
        square = fold_along(
            d, views, view, edge, spots, [0.0], "Draw a fold line along the edge: the next view looks square at it."
        )
        views.transfer_all(g.corners, square)
    return square


def nearly_along(line: Sequence[Spot], u: Array, same: float) -> bool:
    """Whether a view of a line is a point, or runs so nearly along ``u`` that a crossing with ``u`` would be no
    crossing."""
    way = line[1].here - line[0].here
    size = float(length(way))
    return size <= same or abs(float(cross(way / size, unit(u)))) < SLANTED


def carried_back(
    d: Draft, view: View, spot: Spot, line: Sequence[Spot], shown: Sequence[Spot], key: str, same: float
) -> Spot:
    """A spot found on a line in an auxiliary view, brought back onto that line in the view's parent.

    ``line`` are the line's ends in the parent, ``shown`` those in ``view``. Where the projector would run along the
    line it is divided in the same ratio instead; where the line is a point there, the spot is that point.
    """
    if is_point(line[0], line[1], same):
        with d.as_one("Pencil", f"The line is a point there: {key} falls on {line[0].name}."):
            return d.also(key, line[0])
    assert view.fold is not None
    if nearly_along(line, view.v, same):
        says = f"The projector runs along the line: divide it as {spot.name} divides it in the view."
        return same_share(d, shown, line, spot, key, says)
    back = d.square_to(view.fold, spot, f"Carry {spot.name} back square across the fold line.", role=Role.PROJECTOR)
    return d.meet(back, d.rule(line[0], line[1], f"Cut {line[0].name}{line[1].name} with it."), key)


def by_distance(d: Draft, views: Views, view: View, spot: Spot, known: Spot, key: str, same: float) -> Spot:
    """A spot in the view before ``view``'s parent, where it is known in both of these.

    On its projector, as far from the datum there as it stands beyond the fold line in ``view``.
    """
    parent = view.parent
    assert parent is not None and view.fold is not None
    datum = view.taken or parent.datum or parent.fold
    assert datum is not None
    if parent in views.auxiliary:
        assert parent.fold is not None
        facing = -parent.v
        carried = d.square_to(
            parent.fold, known, f"Carry {known.name} back square across the fold line.", role=Role.PROJECTOR
        )
    else:
        facing = parent.before.v
        carried = d.upright_from(known, f"Carry {known.name} to the {parent.before.id} view.", role=Role.PROJECTOR)
    base = d.meet(carried, datum)
    foot = d.meet(
        d.square_to(view.fold, spot, f"Square to the fold line from {spot.name}.", role=Role.PROJECTOR), view.fold
    )
    off = float(dot(spot.here - foot.here, view.v))
    if abs(off) <= same:
        return d.also(key, base)
    origin = "datum" if view.taken else "fold line"
    says = (
        f"Take the distance of {spot.name} from its fold line; lay it off from "
        f"the {origin} in the {parent.before.id} view."
    )
    way = float(np.sign(off)) * float(np.sign(dot(nominal(carried.u, 1), facing)))
    return d.lay_off(carried, base, d.opening(foot, spot), key, says, way=way)
