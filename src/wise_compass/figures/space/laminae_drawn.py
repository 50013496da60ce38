"""How a hand finds the line of two laminae, what hides what, and the angle between them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.views import View
from wise_compass.figures.space.cuts import Crossed, Cut
from wise_compass.figures.space.edge_views import SLANTED, by_distance, carried_back, nearly_along, same_share
from wise_compass.figures.space.folds import fold_along, fold_square
from wise_compass.figures.space.given_points import SAME, is_point
from wise_compass.figures.space.laminae import LAMINAE, TwoLaminae, edges_of
from wise_compass.figures.space.visible import SeenEdges
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, cross, distance, dot, length, point, unit

UPRIGHT = point(0.0, 1.0)


class Laminae:
    """Both laminae while they are drawn: their edges in both views, and the points found on their line."""

    def __init__(self, g: TwoLaminae, d: Draft) -> None:
        self.g, self.d = g, d
        self.views = g.set_out(d).views
        self.edges: dict[tuple[str, str], LineMark] = {}
        self.found: list[str] = []
        self.crossed = 0
        self.true: tuple[View, LineMark] | None = None
        with d.phase("The laminae"):
            for letters in LAMINAE:
                for view in (self.views.front, self.views.top):
                    with d.as_one(
                        "Straightedge", f"Join the corners {', '.join(letters)} in the {view.id} view, thin."
                    ):
                        for edge in edges_of(letters):
                            a, b = self.ends(edge, view)
                            if not is_point(a, b, g.same):
                                self.edges[edge, view.id] = d.rule(a, b)

    def ends(self, edge: str, view: View) -> tuple[Spot, Spot]:
        return self.views.spot(edge[0], view), self.views.spot(edge[1], view)

    def edge(self, ends: str, view: View) -> LineMark:
        """An edge in a view, by its letters in either order."""
        return self.edges.get((ends, view.id)) or self.edges[ends[::-1], view.id]

    def other(self, view: View) -> View:
        return self.views.top if view is self.views.front else self.views.front

    # cuts

    def cut(self, cut: Cut) -> None:
        """One cutting plane: both laminae's lines in the other view, their crossing, and that carried back."""
        d, views = self.d, self.views
        view = views.front if cut.view == "front" else views.top
        other, name = self.other(view), f"K{len(self.found) + 1}"
        with d.phase(f"Cut {len(self.found) + 1}"):
            trace = self._trace(cut, view)
            lines = [self._crossing(pair, trace, view) for pair in cut.crossed]
            with d.as_one("Pencil", f"Where both cross stands {name}: it lies in both planes."):
                at = d.meet(lines[0], lines[1], f"{name}.{other.id}")
            back = d.upright_from(at, f"Carry {name} to the {view.id} view, onto the cut.", role=Role.PROJECTOR)
            d.meet(back, trace, f"{name}.{view.id}")
        self.found.append(name)

    def _trace(self, cut: Cut, view: View) -> LineMark:
        d, corner = self.d, cut.corner
        if len(corner) == 2:
            says = f"A cutting plane stands on the {view.id} view of {corner}: that line is its edge; produce it."
            return d.rule(*self.ends(corner, view), says)
        lies = "level" if view is self.views.front else "upright, parallel to the front plane"
        start = self.views.spot(corner, view) if corner else self._place_on_edge(cut, view)
        if abs(float(cut.way[1])) > SAME:
            lean = float(np.rad2deg(np.arctan2(cut.way[1], cut.way[0]))) * float(view.v[1])
            return d.ray(
                start, lean, f"In the {view.id} view draw a cut aslant through {corner}: its plane is seen on edge."
            )
        through = f"through {corner}" if corner else "where it crosses both laminae"
        return d.level_from(start, f"In the {view.id} view draw a cut {through}: its plane is {lies}.")

    def _place_on_edge(self, cut: Cut, view: View) -> Spot:
        """Where a cut through no corner begins: on an edge that it crosses."""
        crossed = next(one for pair in cut.crossed for one in pair if len(one.on) == 2)
        a, b = (self.g.place(letter) for letter in crossed.on)
        share = float(dot(np.array(crossed.at) - a, b - a)) / float(dot(b - a, b - a))
        if (crossed.on, view.id) not in self.edges:
            share = 1.0 - share
        one, other = self.ends(crossed.on, view)
        return self.d.on(self.edge(crossed.on, view), share * float(distance(one.here, other.here)))

    def _crossing(self, pair: tuple[Crossed, Crossed], trace: LineMark, view: View) -> LineMark:
        """The line of a cut on one lamina, in the other view."""
        other = self.other(view)
        names = [one.on for one in pair]
        if all(len(name) == 1 for name in names):
            return self.edge("".join(names), other)
        one, two = (self._carried(crossed, trace, view) for crossed in pair)
        return self.d.rule(one, two, f"Join {one.name} to {two.name}: the cut's line on the lamina.")

    def _carried(self, crossed: Crossed, trace: LineMark, view: View) -> Spot:
        """A place on the cut in the other view."""
        d, other = self.d, self.other(view)
        if len(crossed.on) == 1:
            return self.views.spot(crossed.on, other)
        self.crossed += 1
        name, edge = f"S{self.crossed}", crossed.on
        with d.as_one("Pencil", f"The cut crosses {edge} at {name}."):
            at = d.meet(trace, self.edge(edge, view), f"{name}.{view.id}")
        ends, there = self.ends(edge, view), self.ends(edge, other)
        if is_point(there[0], there[1], self.g.same) or nearly_along(there, UPRIGHT, self.g.same):
            says = f"{edge} stands on one projector: divide its {other.id} view as {name} divides the {view.id} view."
            return same_share(d, ends, there, at, f"{name}.{other.id}", says)
        carried = d.upright_from(at, f"Carry {name} to the {other.id} view of {edge}.", role=Role.PROJECTOR)
        return d.meet(carried, self.edge(edge, other), f"{name}.{other.id}")

    # the line of both

    def line(self, view: View) -> LineMark | None:
        """The line through both found points in a view; None where it is a point there."""
        one, other = (self.views.spot(name, view) for name in self.found)
        if is_point(one, other, self.g.same):
            return None
        return self.d.rule(
            one, other, f"Join {one.name} to {other.name}: the line of both planes, produced as far as it is wanted."
        )

    def reach(self, name: str, at: Array, lines: dict[str, LineMark | None]) -> None:
        """An end of what lies in both: a corner, or where the line crosses an edge, in the view that shows it best."""
        d, g, views = self.d, self.g, self.views
        for letter in g.letters:
            if float(length(g.place(letter) - at)) <= 2 * g.same:
                with d.as_one("Pencil", f"The line ends in the corner {letter}: {name} is {letter}."):
                    for view in (views.front, views.top):
                        d.also(f"{name}.{view.id}", views.spot(letter, view), "plain")
                return
        near = [e for letters in LAMINAE for e in edges_of(letters) if self._off(e, at) <= 1e3 * g.same]
        sure = {(self._sine(e, lines[one.id], one), e, one.id) for e in near for one in (views.front, views.top)}
        worth, edge, best = max(sure)
        view = views.front if best == "front" else views.top
        if worth < SLANTED:  # an edge that lies in the line crosses it nowhere
            self._reach_aside(name, max(near, key=self._across), lines)
            return
        line, other = lines[view.id], self.other(view)
        assert line is not None
        with d.as_one("Pencil", f"In the {view.id} view the line leaves the lamina on {edge}, at {name}."):
            spot = d.meet(line, self.edge(edge, view), f"{name}.{view.id}")
        there, beyond = self.ends(edge, other), lines[other.id]
        if beyond is None:
            with d.as_one("Pencil", f"The line is a point in the {other.id} view: {name} falls on it."):
                d.also(f"{name}.{other.id}", views.spot(self.found[0], other))
            return
        flat_line, flat_edge = abs(float(nominal(beyond.u, 1)[0])), self._flat(there)
        if max(flat_line, flat_edge) < SLANTED:
            says = f"The line stands on one projector: divide its {other.id} view as {name} divides the {view.id} view."
            ks = [[views.spot(found, one) for found in self.found] for one in (view, other)]
            same_share(d, ks[0], ks[1], spot, f"{name}.{other.id}", says)
            return
        onto = beyond if flat_line >= flat_edge else self.edge(edge, other)
        carried = d.upright_from(spot, f"Carry {name} to the {other.id} view.", role=Role.PROJECTOR)
        d.meet(carried, onto, f"{name}.{other.id}")

    def _reach_aside(self, name: str, edge: str, lines: dict[str, LineMark | None]) -> None:
        """The same where line and edge both stand on one projector: by the view that shows the line truly, or by
        sharing."""
        d, g, views = self.d, self.g, self.views
        for view in (views.front, views.top):
            if lines[view.id] is None:
                other = self.other(view)
                with d.as_one("Pencil", f"The line is a point in the {view.id} view: {name} falls on it."):
                    at = d.also(f"{name}.{view.id}", views.spot(self.found[0], view))
                says = (
                    f"{edge} stands on one projector: divide its {other.id} view as {name} divides the {view.id} view."
                )
                same_share(d, self.ends(edge, view), self.ends(edge, other), at, f"{name}.{other.id}", says)
                return
        true, truly = self.true_view(lines)
        for letter in edge:
            if true.key(letter) not in d.spots:
                views.transfer(letter, true)
        across = d.rule(*self.ends(edge, true), f"Draw {edge} there: the line leaves the lamina on it, at {name}.")
        spot = d.meet(truly, across, true.key(name))
        assert true.parent is not None
        ks = [[views.spot(found, one) for found in self.found] for one in (true.parent, true)]
        back = carried_back(d, true, spot, ks[0], ks[1], true.parent.key(name), g.same)
        by_distance(d, views, true, spot, back, true.parent.before.key(name), g.same)

    def _off(self, edge: str, at: Array) -> float:
        """How far a place of space lies off an edge."""
        a, b = (self.g.place(letter) for letter in edge)
        share = min(max(float(dot(at - a, b - a)) / float(dot(b - a, b - a)), 0.0), 1.0)
        return float(distance(at, a + (b - a) * share))

    def _sine(self, edge: str, line: LineMark | None, view: View) -> float:
        a, b = self.ends(edge, view)
        if line is None or is_point(a, b, self.g.same):
            return -1.0
        return abs(float(cross(nominal(line.u, 1), unit(b.here - a.here))))

    def _across(self, edge: str) -> float:
        """The sine of the angle at which an edge crosses the line of both planes."""
        a, b = (self.g.place(letter) for letter in edge)
        one, other = self.g.common
        return float(length(cross3(unit(b - a), unit(other - one))))

    def _flat(self, ends: Sequence[Spot]) -> float:
        way = ends[1].here - ends[0].here
        size = float(length(way))
        return abs(float(way[0])) / size if size > self.g.same else 0.0

    # along the line

    def wings(self) -> list[str]:
        """The corners that both laminae's edges run between where they are seen along the line."""
        return [letter for letters in LAMINAE for letter in self.g.wings(letters)]

    def true_view(self, lines: dict[str, LineMark | None]) -> tuple[View, LineMark]:
        """The view folded along the line, drawn once, and the line there, truly long."""
        if self.true is None:
            d, views = self.d, self.views
            parent = views.top if float(np.hypot(*self.g.line[1][:2])) > 0.4 else views.front
            line, axis = lines[parent.id], 2 if parent is views.top else 1
            assert line is not None
            letters = list(dict.fromkeys([*self.wings(), *self._ends_of_line()]))
            offs = [float(end[axis]) for end in self._places(*letters)]
            says = f"Draw a fold line along the {parent.id} view of the line: the next view shows it truly."
            true = fold_along(d, views, parent, line, [views.spot(letter, parent) for letter in letters], offs, says)
            views.transfer_all(dict.fromkeys([*letters, *self.found]), true)
            ends = [views.spot(name, true) for name in self._ends_of_line()]
            self.true = true, d.rule(ends[0], ends[1], "Draw the line of both, truly long here.")
        return self.true

    def end_on(self, lines: dict[str, LineMark | None]) -> View:
        """The view that looks along the line, in which it is a point and both laminae are edges."""
        g, d, views = self.g, self.d, self.views
        one, other = self._ends_of_line()
        if g.end_view in ("top", "front"):
            view = views.top if g.end_view == "top" else views.front
            with d.as_one("Pencil", f"The line is a point in the {view.id} view: there both laminae are seen on edge."):
                d.also(f"K.{view.id}", views.spot(one, view), "plain")
            return view
        if g.end_view == "3":
            parent = views.top if abs(float(g.line[1][2])) <= SAME else views.front
            line, axis = lines[parent.id], 2 if parent is views.top else 1
            letters, says = [*self.wings(), one], "The line is shown truly here. Draw a fold line square to it"
            offs = [float(end[axis]) for end in self._places(*letters)]
        else:
            parent, line = self.true_view(lines)
            for name in (one, other):  # the view may have been drawn before these ends were found
                if parent.key(name) not in d.spots:
                    views.transfer(name, parent)
            letters, says = [*self.wings(), one, other], "Draw a fold line square to it"
            offs = [0.0]
        assert line is not None
        shown = [views.spot(letter, parent) for letter in dict.fromkeys(letters)]
        view = fold_square(d, views, parent, line, shown, offs, f"{says}: the next view looks along the line.")
        views.transfer_all(dict.fromkeys([*self.wings(), one]), view)
        d.also(f"K.{view.id}", views.spot(one, view), "plain")
        return view

    def _ends_of_line(self) -> tuple[str, str]:
        """The two named points of the line that stand furthest apart."""
        pairs = [(self.found[0], self.found[1])] + ([("P", "Q")] if "Q.top" in self.d.spots else [])
        return max(pairs, key=lambda pair: float(distance(*self._places(*pair))))

    def _places(self, *names: str) -> list[Array]:
        views = self.views
        return [views.solid(views.spot(name, views.front).here, views.spot(name, views.top).here) for name in names]

    # lining in

    def line_in(self, view: View) -> None:
        """Every edge in a view, hidden where the other lamina lies nearer to the eye; an edge that both have once."""
        g = self.g
        named = dict(zip("PQ", g.common)) if g.stretch else {}
        sight = SeenEdges(g, self.d, self.views, view, lambda edge: self.edge(edge, view), named)
        seen: list[tuple[Spot, Spot]] = []
        behind: list[tuple[Spot, Spot]] = []
        done: set[frozenset[str]] = set()
        known = {q: p for p, q in g.shared}
        for letters, others in (LAMINAE, LAMINAE[::-1]):
            for edge in edges_of(letters):
                one = frozenset(known.get(letter, letter) for letter in edge)
                if one not in done:
                    done.add(one)
                    open_, hidden = sight.pieces(edge, g.hidden[view.id][edge], edges_of(others))
                    seen += open_
                    behind += hidden
        says = f"In the {view.id} view line in what is seen: at each crossing the lamina that lies nearer goes on."
        sight.line_in(seen, behind, says, "Draw what lies behind the other lamina as hidden.")


def _draw(g: TwoLaminae, d: Draft, cuts: Sequence[Cut]) -> None:
    board = Laminae(g, d)
    views = board.views
    for one, _ in g.shared:
        board.found.append(one)
    for cut in cuts:
        board.cut(cut)
    with d.phase("The line of both"):
        lines = {view.id: board.line(view) for view in (views.front, views.top)}
        if g.stretch:
            for name, end in zip("PQ", g.common):
                board.reach(name, end, lines)
    with d.phase("Along the line"):
        view = board.end_on(lines)
        for letters in LAMINAE:
            wings = [views.spot(letter, view) for letter in g.wings(letters)]
            d.line_in(
                [*wings, views.spot("K", view)][:2],
                says=f"Line in the edge of {letters}: the angle between both edges is the true one.",
            )
    with d.phase("Line in"):
        for view in (views.front, views.top):
            board.line_in(view)
        if g.stretch:
            for view in (views.front, views.top):
                p, q = (views.spot(name, view) for name in "PQ")
                if not is_point(p, q, g.same):
                    d.line_in([p, q], says=f"In the {view.id} view line in the part of the line that lies in both.")
    for name in "PQ" if g.stretch else board.found[:1]:
        d.in_space(
            name if g.stretch else "K", views.solid(views.spot(name, views.front).at, views.spot(name, views.top).at)
        )


def _none_serves(g: TwoLaminae, cuts: Sequence[Cut], others: Callable[[], Sequence[Cut]], other: str) -> str | None:
    if len(cuts) + len(g.shared) >= 2:
        return None
    if len(others()) + len(g.shared) >= 2:
        return f"No two such cuts cross both laminae well apart. Take {other}, or turn the laminae."
    return (
        "Neither level planes nor planes on the edges cut both laminae in lines that cross well apart: they meet too "
        "flatly, or in too short a line, to be found by hand. Turn one of the laminae, or move a corner of it."
    )


@method(
    TwoLaminae,
    "level-cuts",
    fits=lambda g: _none_serves(g, g.level_cuts, lambda: g.edge_cuts, "cutting planes on the edges"),
    about="A level plane cuts both laminae in level lines; where these cross in the top view, both laminae meet.",
    source="Auxiliary cutting planes (Monge): two planes and a third meet in a point",
)
def by_level_cuts(g: TwoLaminae, d: Draft) -> None:
    _draw(g, d, g.level_cuts)


@method(
    TwoLaminae,
    "cutting-planes",
    fits=lambda g: _none_serves(g, g.edge_cuts, lambda: g.level_cuts, "level cuts"),
    about="A plane on an edge, square to one view, cuts the other lamina in a line; "
    "where the edge crosses that, it goes through.",
    source="Auxiliary cutting planes (Monge): where a line meets a plane, twice",
)
def by_cutting_planes(g: TwoLaminae, d: Draft) -> None:
    _draw(g, d, g.edge_cuts)
