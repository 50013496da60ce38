"""How a hand finds the curve of two cylinders: planes parallel to both axes, each of which cuts both in straight
lines."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Row, Spot
from wise_compass.drafting.wording import bare
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.solids.meeting import MeetingCylinders, MeetingStation
from wise_compass.geometry.vectors import polar

APART, BEYOND = 20.0, 6.0
"""What is left between views, and how far centre lines run beyond what they are the middle of."""


class _MeetingHand:
    """The two cylinders on the way."""

    o: Spot
    end: Spot
    main_axis: LineMark
    branch_axis: LineMark
    end_line: LineMark
    top_line: LineMark
    first = 0

    def __init__(self, g: MeetingCylinders, d: Draft) -> None:
        self.g, self.d = g, d
        self.elements: dict[str, LineMark] = {}
        self.ends: dict[str, Spot] = {}
        self.points: dict[str, Spot] = {}

    # the elevation and the end view

    def elevation(self) -> None:
        g, d = self.g, self.d
        left, right = g.stub
        self.o = d.start_at("O", says="Mark O, where the axes cross in the elevation.")
        self.main_axis = d.level_from(self.o, "Draw the main’s axis level.", role=Role.CENTRE).extent(
            left - BEYOND, right + BEYOND
        )
        self.branch_axis = d.ray(
            self.o, g.angle, "Draw the branch’s axis.", role=Role.CENTRE, length=g.branch_length + BEYOND
        )
        up = d.upright_from(self.o, "Draw the upright through O.").extent(-g.main, g.main)
        with d.as_one(
            "Rule", "Lay off the main’s radius up and down, and draw its top and bottom level.", why="half its diameter"
        ):
            high = d.lay_off(up, self.o, g.main, "", kind="plain")
            low = d.lay_off(up, self.o, -g.main, "", kind="plain")
            self.top_line = d.level_from(high).extent(left, right)
            self.bottom_line = d.level_from(low).extent(left, right)
        self.end = d.lay_off(
            self.branch_axis, self.o, g.branch_length, "E", "Lay off the branch’s length along its axis."
        )
        self.end_line = d.square_to(self.branch_axis, self.end, "Draw its end square to the axis.").extent(
            -g.branch, g.branch
        )
        circle = d.compass(
            self.end, g.branch, "Centre E, draw the branch’s circle turned into the paper.", "half its diameter"
        )
        rays = self._rays(self.end, g.angle - 90.0)
        with d.as_one("Set square", "From every division draw an element parallel to the branch’s axis."):
            for one, ray in zip(g.stations, rays):
                near = self.end.here + polar(np.zeros(2), g.branch, g.angle - 90.0 + one.turn)
                mark = d.meet(ray, circle, "", near=near)
                line = d.parallel_to(self.branch_axis, mark)
                self.ends[one.name] = d.meet(line, self.end_line, f"G{one.name}", kind="plain")
                self.elements[one.name] = line

    def _rays(self, centre: Spot, first: float) -> list[LineMark]:
        """The divisions about a centre, and those of the highest and lowest points among them."""
        g, d = self.g, self.d
        drawn = iter(d.divide_turn(centre, g.divisions, first % 360.0, length=g.branch))
        extra = [one for one in g.stations if one.division is None]
        more: dict[str, LineMark] = {}
        if extra:
            words = (
                "highest and lowest points"
                if len(extra) > 1 and any(one.name[0] == "H" for one in extra)
                else "lowest points"
            )
            with d.as_one(
                "Protractor",
                f"Add the rays of the curve’s {words}.",
                why="planes through the main’s axis, and those that touch the branch",
            ):
                more = {
                    one.name: d.ray(centre, first + one.turn, length=g.branch, instrument="Protractor") for one in extra
                }
        return [more[one.name] if one.division is None else next(drawn) for one in g.stations]

    def end_view(self) -> None:
        """The main seen from its right end: there each cutting plane is an upright, and cuts its circle at its own
        height."""
        g, d = self.g, self.d
        left, right = g.stub
        far = left - APART - g.main if d.conventions.projection == "first" else self._rightmost() + APART + g.main
        with d.as_one(
            "Set square", "Beside the elevation mark M on the main’s axis, and draw the centre line of its end view."
        ):
            m = d.on(self.main_axis, far, "M", "found")
            upright = d.upright_from(m, role=Role.CENTRE).extent(-g.main - BEYOND, g.main + BEYOND)
        circle = d.circle_in(m, g.main, "Centre M, line in the main’s circle, seen from the right.")
        above = g.main + g.branch + APART / 2
        top = d.lay_off(
            upright,
            m,
            above,
            "" if g.offset else "N",
            "Up the centre line mark a level clear of the circle.",
            kind="plain",
        )
        n = top
        if g.offset:
            side = d.level_from(top, "Draw level from it.")
            n = d.lay_off(
                side, top, -g.offset, "N", "Lay off the offset of the axes, the front being at the left.", kind="plain"
            )
        small = d.compass(n, g.branch, "Centre N, draw the branch’s circle again.", "the same opening")
        rays = self._rays(n, 90.0)
        with d.as_one(
            "Set square",
            "From every division draw upright down to the main’s circle: the cutting planes, seen edge-on.",
        ):
            for one, ray in zip(g.stations, rays):
                mark = d.meet(ray, small, "", near=n.here + polar(np.zeros(2), g.branch, 90.0 + one.turn))
                line = d.upright_from(mark)
                self.points["Z" + one.name] = self._on_main(line, circle, one)

    def _on_main(self, line: LineMark, circle: ArcMark, one: MeetingStation) -> Spot:
        """Where a plane meets the main's upper skin; one that only touches it does so on its level diameter."""
        d, g = self.d, self.g
        if g.is_corner(one):
            return d.meet(line, self.main_axis, f"Z{one.name}", kind="plain")
        return d.meet(line, circle, f"Z{one.name}", where="above", kind="plain")

    def _rightmost(self) -> float:
        g = self.g
        return max(g.stub[1], float(self.end.here[0]) + g.branch)

    def curve(self) -> None:
        d, g = self.d, self.g
        shift = d.choice("one-on", right=0, slip=1, says="Heights carried to the wrong element, one on.")
        names = [one.name for one in g.stations]
        with d.as_one(
            "Set square", "Carry every height level from the end view to its own element: points of the curve."
        ):
            for k, name in enumerate(names):
                level = d.level_from(self.points["Z" + names[(k + shift) % len(names)]], role=Role.PROJECTOR)
                kind = (
                    "found"
                    if name[0] != "P" or g.offset or float(np.sin(np.deg2rad(g.stations[k].turn))) >= 0
                    else "plain"
                )
                self.points[name] = d.meet(level, self.elements[name], name, kind=kind)

    # lined in

    def line_in(self) -> None:
        g, d = self.g, self.d
        left, right = g.stub
        stations = g.stations
        points = [self.points[one.name] for one in stations]
        self.first = stations.index(g.at(g.corners[0])) if g.corners else 0
        row = d.row([*points[self.first :], *points[: self.first + 1]]) if g.corners else d.row(points, closed=True)
        with d.as_one("Straightedge", "Line in the main and the branch as far as they are seen."):
            ends = {}
            for key, line in (("top", self.top_line), ("bottom", self.bottom_line)):
                ends[key] = [d.on(line, x) for x in (left, right)]
            d.line_in([ends["bottom"][0], ends["bottom"][1]])
            for k in (0, 1):
                d.line_in([ends["bottom"][k], ends["top"][k]])
            right_end, left_end = (self.ends[g.at(turn).name] for turn in (0.0, 180.0))
            d.line_in([left_end, right_end])
            hidden = self._top_and_sides(ends["top"])
        with d.as_one("Straightedge" if g.equal else "Curve", "Line in the curve where it is seen."):
            behind = self._curve_pieces(row)
        if hidden or behind:
            with d.as_one("Curve", "Line in as hidden what lies behind."):
                for pair in hidden:
                    d.line_in(pair, role=Role.HIDDEN)
                for start, end in behind:
                    self._piece(row, start, end, Role.HIDDEN)

    def _piece(self, row: Row, start: float, end: float, role: Role = Role.OUTLINE) -> None:
        """A piece of the curve lined in between two places counted from division 0; in two where it has a corner."""
        first, count = self.first, len(self.g.stations)
        parts = [(start, float(first)), (float(first), end)] if start < first < end else [(start, end)]
        for a, b in parts:
            if not self.g.corners:
                self.d.piece(row, a, b, role)
            else:
                self.d.piece(row, (a - first) % count, (a - first) % count + b - a, role)

    def _top_and_sides(self, top: list[Spot]) -> list[tuple[Spot, Spot]]:
        """The main's top line and the branch's contour lines; what of them lies behind is returned."""
        g, d = self.g, self.d
        hidden: list[tuple[Spot, Spot]] = []
        near = 1e-6 * g.main
        sides = {turn: g.at(turn).name for turn in (180.0, 0.0)}
        crossing = {}
        for turn, name in sides.items():
            if g.offset < -near:
                crossing[turn] = d.meet(self.elements[name], self.top_line)
                d.line_in([self.ends[name], crossing[turn]])
                hidden.append((crossing[turn], self.points[name]))
            else:
                d.line_in([self.ends[name], self.points[name]])
        if g.offset <= -g.branch + near:
            d.line_in(top)
            return hidden
        high = [g.at(g_turn).name for g_turn in self._highest()]
        for k, name in enumerate(sides.values()):
            if abs(g.offset) <= near:
                d.line_in([top[k], self.points[name]])
            elif g.offset < 0:
                d.line_in([top[k], self.points[high[k]]])
            else:
                passes = d.meet(self.elements[name], self.top_line)
                d.line_in([top[k], passes])
                if high:
                    hidden.append((passes, self.points[high[k]]))
                elif k == 0:
                    hidden.append((passes, d.meet(self.elements[sides[0.0]], self.top_line)))
        return hidden

    def _highest(self) -> list[float]:
        """The division angles at which the curve is as high as the main, the left one first."""
        g = self.g
        if abs(g.offset) >= g.branch * (1 - 1e-6):
            return []
        high = float(np.rad2deg(np.arcsin(-g.offset / g.branch)))
        return [180.0 - high, high % 360.0]

    def _curve_pieces(self, row: Row) -> list[tuple[float, float]]:
        """Lines in what is seen of the curve; the stretches of the row that are hidden are returned."""
        g, d = self.g, self.d
        names = [one.name for one in g.stations]
        count = len(names)
        if g.equal:
            for turn in (0.0, 180.0):
                d.line_in([self.points[g.at(turn).name], self.points[g.at(90.0).name]])
            return []
        near = 1e-6 * g.main
        high = self._highest()
        if g.offset >= -near:
            start, end = 0.0, float(names.index(g.at(180.0).name))
        elif high:
            start, end = (float(names.index(g.at(turn).name)) for turn in (high[1], high[0]))
        else:
            start = end = 0.0
        if end > start:
            self._piece(row, start, end)
        if abs(g.offset) <= near:
            return []
        rest = [(end, float(count)), (0.0, start)]
        return [(a, b) for a, b in rest if b - a > 1e-9]

    # the patterns

    def branch_pattern(self) -> None:
        g, d, n = self.g, self.d, self.g.divisions
        girth = 2 * np.pi * g.branch
        left = min(float(spot.here[0]) for spot in d.spots.values()) - g.main
        high = float(g.lengths.max())
        y = -g.main - APART - high
        right = g.stub[0] - APART
        keys = [*(f"Q{k}" for k in range(n)), "Qn"]
        start = d.start_at("Q0", min(left, right - girth), y, "Mark Q0, where the branch’s pattern has room.")
        base = d.level_from(start, "Draw its stretch-out line level.", length=girth)
        wide = d.choice(
            "diameter", right=girth, slip=2 * g.branch, says="The diameter laid off instead of the circumference."
        )
        end = d.lay_off(base, start, wide, "Qn", "Lay off the girth of the branch.", f"π × {bare(2 * g.branch)}")
        spots = d.divide(
            start, end, n, keys, says=f"Cut it into {n} equal spaces, the seam on division 0.", how="trial"
        )
        with d.as_one("Set square", "Draw an upright at every mark."):
            uprights = [d.upright_from(spot) for spot in spots]
        with d.as_one(
            "Dividers",
            "Take every element from the elevation, which shows it truly, and lay it off on its own upright.",
        ):
            tops = []
            for one in g.opened:
                tops.append(
                    self._element(one, spots, uprights, f"S{one.division if one.division is not None else one.name}")
                )
            tops.append(self._element(g.stations[0], spots[n:], uprights[n:], "Sn"))
        with d.as_one("Straightedge", "Line in the branch’s end and both sides of the seam.", why=ALLOWANCES):
            d.line_in([tops[0], spots[0], spots[-1], tops[-1]])
        places = [k for k, one in enumerate(g.opened) if g.is_corner(one)]
        if places:
            with d.as_one("Curve", f"Line in the curve in pieces: it has a corner where {self._why_corner}."):
                for a, b in pairwise([0, *places, len(tops) - 1]):
                    d.curve(tops[a : b + 1])
        else:
            d.curve(tops, says="Line in the curve through the points.")

    @property
    def _why_corner(self) -> str:
        return "the two ellipses cross" if self.g.equal else "the branch touches the main’s side"

    def _element(self, one: MeetingStation, spots: Sequence[Spot], uprights: Sequence[LineMark], key: str) -> Spot:
        """The upper end of an element in the branch's pattern; that of a corner stands between two divisions."""
        d, taken = self.d, self.d.opening(self.ends[one.name], self.points[one.name])
        if one.division is not None:
            return d.lay_off(uprights[one.division], spots[one.division], taken, key)
        foot = d.between(spots[0], spots[-1], one.turn / 360.0)
        return d.lay_off(d.upright_from(foot), foot, taken, key)

    def hole_pattern(self) -> None:
        g, d = self.g, self.d
        reach = max(abs(float(g.arc(90.0))), abs(float(g.arc(270.0))))
        with d.as_one(
            "Set square",
            "Below the elevation draw the main’s top line level, as it lies in the pattern, with T under O.",
        ):
            drop = d.upright_from(self.o, role=Role.PROJECTOR)
            t = d.on(drop, -g.main - APART - reach, "T", "found")
            level = d.level_from(t, role=Role.CENTRE).extent(*g.stub)
        girth = d.upright_from(t, "Through T draw the girth upright.").extent(-reach, reach)
        arcs: dict[float, LineMark] = {}
        with d.as_one(
            "Rule",
            "Lay off on it how far round the main every cutting plane is from the top: the arc in the end view.",
            why="radius × angle in radians; the front is below",
        ):
            for one in g.stations:
                arc = float(g.arc(one.turn))
                if _key(arc) not in arcs:
                    flat = not _key(arc)
                    mark = t if flat else d.lay_off(girth, t, -arc, "", kind="plain")
                    arcs[_key(arc)] = level if flat else d.level_from(mark).extent(*g.hole)
        rim = []
        with d.as_one("Set square", "Drop every point of the curve to its own plane: the rim of the hole."):
            for one in g.stations:
                line = d.upright_from(self.points[one.name], role=Role.PROJECTOR)
                rim.append(d.meet(line, arcs[_key(float(g.arc(one.turn)))], f"J{one.name}", kind="plain"))
        places = [k for k, one in enumerate(g.stations) if g.is_corner(one)]
        if places:
            with d.as_one("Curve", f"Line in the hole; it has a corner where {self._why_corner}."):
                for a, b in pairwise([*places, places[0] + len(rim)]):
                    d.curve([rim[k % len(rim)] for k in range(a, b + 1)])
        else:
            d.curve(rim, closed=True, says="Line in the hole through the points.")


def _key(arc: float) -> float:
    """Planes that cut the main at one place of its girth share a line of the pattern."""
    return round(arc, 7) + 0.0


@method(
    MeetingCylinders,
    "cutting-planes",
    about="Planes parallel to both axes cut both cylinders in straight lines; "
    "where those cross are points of the curve.",
    source="Intersection of surfaces by auxiliary cutting planes (Monge)",
)
def cutting_planes(g: MeetingCylinders, d: Draft) -> None:
    hand = _MeetingHand(g, d)
    with d.phase("The elevation"):
        hand.elevation()
    with d.phase("The end view"):
        hand.end_view()
    with d.phase("The curve"):
        hand.curve()
    with d.phase("Line in"):
        hand.line_in()
    if g.wants_patterns:
        with d.phase("The branch’s pattern"):
            hand.branch_pattern()
        with d.phase("The hole in the main"):
            hand.hole_pattern()
