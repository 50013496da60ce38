"""How a hand draws the ruled saddle: by its elements."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.views import View, Views
from wise_compass.figures.space.folds import fold_along
from wise_compass.figures.structural.saddles import Saddle
from wise_compass.geometry.hidden import uncovered
from wise_compass.geometry.vectors import Array, point, polar

GAP, BEYOND = 18.0, 6.0


class _SaddleHand:
    """The saddle on the way."""

    centre: Spot
    foot: Spot
    axis: LineMark
    ground: LineMark
    level: LineMark
    outer: ArcMark
    inner: ArcMark

    def __init__(self, g: Saddle, d: Draft) -> None:
        self.g, self.d, self.n = g, d, g.elements
        self.views = Views.stacked(d, 0.0, g.height, g.long / 2, GAP)
        self.ends: list[Spot] = []

    # the plan

    def plan(self) -> None:
        g, d = self.g, self.d
        (a, b), top = g.half, self.views.top
        x, y = top.origin.tolist()
        self.centre = d.start_at("O.top", x, y, "Mark O, the middle of the plan.", kind="plain")
        with d.as_one("Set square", "Draw both axes of the plan through O."):
            self.level = d.level_from(self.centre, role=Role.CENTRE).extent(-a - BEYOND, a + BEYOND)
            self.upright = d.upright_from(self.centre, role=Role.CENTRE).extent(-a - BEYOND, a + BEYOND)
        self.outer = d.compass(self.centre, a, "Centre O, the circle on the long axis.", "half the long axis")
        self.inner = d.compass(self.centre, b, "Centre O, the circle on the short axis.", "half the short axis")
        corners: dict[str, Spot] = {}
        with d.as_one("Pencil", "They cut the axes at A, B, C and D."):
            for name, line, circle, way in (
                ("A", self.level, self.outer, point(a, 0.0)),
                ("B", self.upright, self.inner, point(0.0, b)),
                ("C", self.level, self.outer, point(-a, 0.0)),
                ("D", self.upright, self.inner, point(0.0, -b)),
            ):
                corners[name] = d.meet(line, circle, f"{name}.top", near=self.centre.here + way)
            crown, base = (
                d.meet(self.upright, self.outer, near=self.centre.here + point(0.0, way * a)) for way in (1.0, -1.0)
            )
        self._ends_of_elements(corners, crown, base)

    def _ends_of_elements(self, corners: dict[str, Spot], crown: Spot, base: Spot) -> None:
        """On the circle elements lie at 45°; their ends are brought in to the ellipse by the two circles."""
        g, d, n = self.g, self.d, self.n
        a = g.half[0]
        cuts: dict[int, Spot] = {0: corners["A"], n: crown, 2 * n: corners["C"], 3 * n: base}
        counted = d.choice(
            "marks-for-spaces",
            right=n,
            slip=n + 1,
            says="Marks counted for spaces: each edge cut into one part too many.",
        )
        for start, end, first, pair, lean in (
            (corners["A"], crown, 0, 3 * n, 45.0),
            (crown, corners["C"], n, 4 * n, -45.0),
        ):
            words = "the right" if first == 0 else "the left"
            marks = d.divide(
                start,
                end,
                counted,
                says=f"On the circle’s square cut {words} upper side into {n} equal parts.",
                how="trial",
                names=(),
            )
            with d.as_one("Set square", "Through every mark a line at 45° cuts the circle twice."):
                for k in range(1, n):
                    ray = d.ray(marks[k], lean)
                    for number in (first + k, pair - k):
                        cuts[number] = d.meet(ray, self.outer, near=polar(self.centre.here, a, g.rim_turn(number)))
        self.ends = [self.centre] * (4 * n)
        for number, name in ((0, "A"), (n, "B"), (2 * n, "C"), (3 * n, "D")):
            with d.as_one("Pencil", f"{name} is an end of elements itself."):
                self.ends[number] = d.also(f"P{number}.top", corners[name], "plain")
        with d.as_one(
            "Set square",
            "Join each cut to O; level from the inner circle and upright from the cut meet on the ellipse.",
        ):
            for number in range(4 * n):
                if number % n == 0:
                    continue
                ray = d.rule(self.centre, cuts[number])
                inside = d.meet(ray, self.inner, near=cuts[number])
                self.ends[number] = d.meet(
                    d.level_from(inside), d.upright_from(cuts[number]), f"P{number}.top", kind="plain"
                )
        d.curve(self.ends, closed=True, says="Line in the ellipse through the ends.")
        self.elements = [(k, 3 * n - k) for k in range(1, n)] + [(n + k, 4 * n - k) for k in range(1, n)]
        with d.as_one("Straightedge", "Line in the four edges, and thin the elements from end to end."):
            d.line_in([corners[name] for name in "ABCD"], closed=True)
            for one, other in self.elements:
                d.line_in((self.ends[one], self.ends[other]), role=Role.FOLD)
        self.edges = {
            pair: d.rule(corners[pair[0]], corners[pair[1]], f"Take the edge {pair}.")
            for pair in ("AB", "BC", "CD", "DA")
        }

    # the elevation

    def elevation(self) -> None:
        g, d, views = self.g, self.d, self.views
        a = g.half[0]
        self.axis = d.upright_from(self.centre, "Carry the middle into the elevation.", role=Role.CENTRE)
        lift = float(views.front.origin[1] - views.top.origin[1])
        self.foot = d.lay_off(
            self.axis, self.centre, lift, "O.front", "On it mark the ground, clear of the plan.", kind="plain"
        )
        self.ground = d.level_from(self.foot, "Draw the ground line level.").extent(-a - BEYOND, a + BEYOND)
        views.top.datum, views.front.datum = self.ground, self.level
        tall = d.lay_off(
            self.axis, self.foot, g.height, "B.front", "Measure the height up the axis: B, and D behind it."
        )
        with d.as_one("Set square", "Carry A and C up to the ground line."):
            spots = {"B": tall, "D": d.also("D.front", tall, "plain")}
            for name in "AC":
                spots[name] = d.meet(
                    d.upright_from(d.spots[f"{name}.top"], role=Role.PROJECTOR), self.ground, f"{name}.front"
                )
        with d.as_one("Straightedge", "Join them: the edges in the elevation."):
            self.slopes = {pair: d.rule(spots[pair[0]], spots[pair[1]]) for pair in ("AB", "BC", "CD", "DA")}
            d.line_in([spots["A"], tall, spots["C"]])
        for name in "ABCD":
            d.in_space(name, views.solid(d.spots[f"{name}.front"].at, d.spots[f"{name}.top"].at))
        self._elements_up(spots)

    def _elements_up(self, spots: dict[str, Spot]) -> None:
        d, n, views = self.d, self.n, self.views
        for number, name in ((0, "A"), (n, "B"), (2 * n, "C"), (3 * n, "D")):
            with d.as_one("Pencil", f"{name} is an end of elements here too."):
                d.also(f"P{number}.front", spots[name], "plain")
        self.risen: dict[int, tuple[LineMark, LineMark]] = {}
        with d.move("Elements in the elevation"):
            for one, other in self.elements:
                first = other < 3 * n
                pair = ("AB", "CD") if first else ("BC", "DA")
                words = (
                    f"Element {one}: where its plan meets the edges {pair[0]} and {pair[1]} "
                    "goes up to them; join, and produce it to what "
                    "is upright over its ends."
                )
                with d.as_one("Set square", words):
                    plan = d.rule(self.ends[one], self.ends[other])
                    met = []
                    for edge in pair:
                        flat = d.meet(plan, self.edges[edge])
                        met.append(d.meet(d.upright_from(flat, role=Role.PROJECTOR), self.slopes[edge]))
                    front = d.rule(met[0], met[1])
                    for number in (one, other):
                        d.meet(
                            d.upright_from(self.ends[number], role=Role.PROJECTOR),
                            front,
                            f"P{number}.front",
                            kind="plain",
                        )
                    self.risen[one] = (plan, front)
        with d.as_one("Straightedge", "Line them in thin."):
            before: list[Array] = []
            for one, other in self.elements:
                ends = d.spots[f"P{one}.front"], d.spots[f"P{other}.front"]
                line = np.array([end.here for end in ends])
                if uncovered(line, before, 1e-7 * self.g.long):  # one behind another is drawn but once
                    d.line_in(ends, role=Role.FOLD)
                before.append(line)
        for number in range(4 * n):
            d.in_space(f"P{number}", views.solid(d.spots[f"P{number}.front"].at, self.ends[number].at))

    def outlines(self) -> None:
        """The rim as the ends show it, and the curve that the elements wrap."""
        d, n = self.d, self.n
        front = self.d.spots
        rim = [front[f"P{k}.front"] for k in range(n + 1)] + [front[f"P{n + k}.front"] for k in range(1, n + 1)]
        d.curve(rim, says="Line in the rim through the upper ends of all elements.")
        row = [front["A.front"]]
        with d.as_one(
            "Set square",
            "Where the plan of an element crosses the long axis it touches the "
            "curve that all of them wrap: carry that up.",
        ):
            for k in range(1, n):
                plan, rise = self.risen[k]
                flat = d.meet(plan, self.level)
                row.append(d.meet(d.upright_from(flat, role=Role.PROJECTOR), rise, f"W{k}.front", kind="plain"))
        row.append(front["C.front"])
        d.curve(row, says="Line in that curve.")

    # the section, and the shortest distance

    def section(self) -> None:
        """The upright section through B and D in an end view, and the circle of its curvature at the middle."""
        g, d, n, views = self.g, self.d, self.n, self.views
        b = g.half[1]
        names = []
        with d.as_one("Set square", "Where elements cross the short axis mark the section, and carry it up."):
            for k in range(1, n):
                plan, rise = self.risen[k]
                d.meet(plan, self.upright, f"S{k}.top", kind="plain")
                d.meet(rise, self.axis, f"S{k}.front", kind="plain")
                names.append(f"S{k}")
        letters = ["D", *names, "B"]
        spots = [d.spots[f"{name}.front"] for name in ("A", "B", "C")]
        says = "Beside the elevation draw a line upright, where the end view has room: heights come across level."
        view = fold_along(d, views, views.front, self.axis, [spots[1], self.foot, *spots], [b, -b], says)
        with d.move("The section in the end view"):
            for letter in letters:
                views.transfer(letter, view)
        d.curve([d.spots[view.key(letter)] for letter in letters], says="Line in the section: its true curve.")
        self._curvature(view)

    def _curvature(self, view: View) -> None:
        d = self.d
        assert view.fold is not None
        with d.move("The curvature at the middle"):
            with d.as_one(
                "Dividers", "The middle of the saddle is half as high as B: mark V, here and in the elevation."
            ):
                low = d.meet(d.square_to(view.fold, self.foot), view.fold)
                high = d.between(self.foot, d.spots["B.front"], 0.5, "V.front")
                d.square_to(view.fold, low)
            one, other = d.spots[view.key("D")], d.spots[view.key("B")]
            chord = d.rule(one, other, "Join D and B in the end view: the chord of the section.")
            crown = self._middle(one, other)
            line = d.square_to(chord, crown, "Through its middle N draw the axis of the section square to it.")
            vertex = d.meet(line, d.level_from(high), "V", near=crown)
            slant = d.rule(vertex, other, "Join V to B.")
            square = d.square_to(slant, other, "At B draw square to that: it meets the axis at Q.")
            far = d.meet(square, line, "Q", far=vertex)
            with d.as_one(
                "Dividers",
                "Half of NQ is the radius of curvature: lay it off from V, to K.",
                why="the half chord is the mean of the rise and NQ",
            ):
                half = d.between(crown, far, 0.5, "")
                way = (
                    1.0
                    if float((far.here - vertex.here) @ line.ends()[1])
                    >= float((far.here - vertex.here) @ line.ends()[0])
                    else -1.0
                )
                hub = d.lay_off(line, vertex, d.opening(crown, half), "K", way=way)
            d.compass(
                hub, d.opening(hub, vertex), "Centre K, through V: the circle that fits the section there.", whole=False
            )

    def _middle(self, one: Spot, other: Spot) -> Spot:
        with self.d.as_one("Dividers", "Halve it at N."):
            return self.d.between(one, other, 0.5, "N")

    def shortest(self) -> None:
        """The shortest line from AB to CD: seen as a point where both show truly and cross."""
        g, d, views = self.g, self.d, self.views
        flat = [d.spots[f"{name}.top"] for name in "ABCD"]
        says = "AB and CD run side by side in plan: parallel to them draw a line for a view that shows both truly."
        view = fold_along(d, views, views.top, self.edges["AB"], [flat[0], *flat, *self.ends], [0.0, g.height], says)
        views.transfer_all("ABCD", view)
        with d.as_one("Straightedge", "Join AB and CD there: they cross where the shortest line is seen on end."):
            lines = [d.rule(d.spots[view.key(one)], d.spots[view.key(other)]) for one, other in ("AB", "CD")]
            for one, other in ("AB", "CD"):
                d.line_in((d.spots[view.key(one)], d.spots[view.key(other)]))
            cross = d.meet(lines[0], lines[1], "XY")
        assert view.fold is not None
        with d.as_one(
            "Set square", "Carry the crossing back to both edges in plan, X on AB and Y on CD, and up to the elevation."
        ):
            back = d.square_to(view.fold, cross, role=Role.PROJECTOR)
            for name, edge in (("X", "AB"), ("Y", "CD")):
                spot = d.meet(back, self.edges[edge], f"{name}.top")
                d.meet(d.upright_from(spot, role=Role.PROJECTOR), self.slopes[edge], f"{name}.front")
        with d.as_one("Straightedge", "Line in the shortest line in plan, where it is true, and in the elevation."):
            for which in ("top", "front"):
                d.line_in((d.spots[f"X.{which}"], d.spots[f"Y.{which}"]))


@method(
    Saddle,
    "elements",
    about="Elements parallel in plan each way, produced to the ellipse; in the elevation by "
    "two edges each; what is curved comes of the ends.",
    source="The hyperbolic paraboloid as a ruled surface on a skew quadrilateral",
)
def elements(g: Saddle, d: Draft) -> None:
    hand = _SaddleHand(g, d)
    with d.phase("The plan"):
        hand.plan()
    with d.phase("The elevation"):
        hand.elevation()
        hand.outlines()
    with d.phase("The shortest distance"):
        hand.shortest()
    with d.phase("The section"):
        hand.section()
