"""How a hand draws an upright solid: plan, elevation, the cut seen edge-on, its points carried to the plan, and its
true shape."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import bare
from wise_compass.figures.solids.cut_solids import CutSolid
from wise_compass.figures.space.folds import fold_along
from wise_compass.geometry.vectors import Array, direction, dot

GAP = 16.0
"""What is left between the plan and the elevation."""
BEYOND = 5.0
STEEP = 0.3
"""A line whose plan leans less than this off the projectors, as a cosine, is found by a level line and the compass
instead."""


class Upright:
    """The views of a solid on the way: its lines in both, and the marks that later steps refer to."""

    ground: LineMark
    axis: LineMark
    level: LineMark
    circle: ArcMark
    centre: Spot
    foot: Spot
    cut: LineMark
    upper: LineMark | None = None

    def __init__(self, g: CutSolid, d: Draft) -> None:
        self.g, self.d, self.kept, self.stock = g, d, g.cutting, g.stock
        self.views = Views.stacked(d, 0.0, g.tall, g.reach, GAP)
        self.in_plan: list[LineMark] = []
        self.in_front: list[LineMark] = []
        self._sides: dict[int, LineMark] = {}

    def spot(self, name: str, view: View) -> Spot:
        return self.views.spot(name, view)

    # plan and elevation

    def plan(self) -> None:
        g, d, stock = self.g, self.d, self.stock
        reach = g.reach
        x, y = self.views.top.origin.tolist()
        self.centre = d.start_at("O.top", x, y, says="Mark O, the axis in the plan.", kind="plain")
        with d.as_one("Set square", "Draw the centre lines of the plan through O."):
            self.level = d.level_from(self.centre, role=Role.CENTRE).extent(-reach - BEYOND, reach + BEYOND)
            d.upright_from(self.centre, role=Role.CENTRE).extent(-reach - BEYOND, reach + BEYOND)
        names = [self.views.top.key(stock.lower(k)) for k in range(stock.count)]
        if g.round:
            self.circle = d.compass(self.centre, reach, "Centre O, draw the base circle.", "half the diameter")
            self.in_plan = d.divide_turn(self.centre, stock.count, length=reach)
            for name, line, k in zip(names, self.in_plan, range(stock.count)):
                d.meet(line, self.circle, name, near=self._place(stock.base[k]), kind=self._kind(k, 2))
        else:
            side, turn = g.given_values["side"], g.given_values["turn"]
            why = f"{bare(side)} / (2 sin(180° / {stock.count}))"
            self.circle = d.compass(self.centre, reach, "Centre O, draw the circle that the corners stand on.", why)
            ray = d.ray(self.centre, turn, "Draw the ray to the first corner.", length=reach)
            first = d.meet(ray, self.circle, names[0], near=self._place(stock.base[0]))
            spots = d.step_round(
                self.circle,
                first,
                side,
                names[1:],
                says="Step the side round from there.",
                why="a side takes one corner to the next",
            )
            if stock.pointed:
                with d.as_one("Straightedge", "Join the corners to O: the slant edges from above."):
                    self.in_plan = [d.rule(self.centre, spot) for spot in (first, *spots)]
        if stock.pointed:
            d.also(self.views.top.key("V"), self.centre, "plain")

    def elevation(self) -> None:
        g, d, stock, front = self.g, self.d, self.stock, self.views.front
        self.axis = d.upright_from(self.centre, "Carry the axis into the elevation.", role=Role.CENTRE)
        lift = float(front.origin[1] - self.views.top.origin[1])
        self.foot = d.lay_off(
            self.axis, self.centre, lift, "O.front", "On it mark the foot of the axis, clear of the plan.", kind="plain"
        )
        self.ground = d.level_from(self.foot, "Draw the ground line level.").extent(-g.reach - BEYOND, g.reach + BEYOND)
        name = front.key("V") if stock.pointed else ""
        words = "Measure the height up the axis."
        apex = d.lay_off(self.axis, self.foot, g.tall, name, words, kind="found" if name else "plain")
        if not stock.pointed:
            self.upper = d.level_from(apex, "Draw the top level.").extent(-g.reach, g.reach)
        carried = "divisions" if g.round else "corners"
        with d.as_one(
            "Set square", f"Carry the {carried} up to {'the ground line' if stock.pointed else 'both levels'}."
        ):
            for k in range(stock.count):
                low = self.spot(stock.lower(k), self.views.top)
                line = d.upright_from(low, role=Role.PROJECTOR)
                kind = "found" if self._stands_before(k) and not g.round else "plain"
                d.meet(line, self.ground, front.key(stock.lower(k)), kind=kind)
                if self.upper is not None:
                    d.meet(line, self.upper, front.key(stock.upper(k)), kind=kind)
                    d.also(self.views.top.key(stock.upper(k)), low, "plain")
                self.in_front.append(line)
        if stock.pointed:
            with d.as_one("Straightedge", f"Join them to {apex.name}."):
                self.in_front = [d.rule(self.spot(stock.lower(k), front), apex) for k in range(stock.count)]

    def _place(self, at: Array) -> Array:
        """Where a place of space lies in the plan, to tell which of two crossings is meant."""
        return self.views.top.at(at)

    def _kind(self, k: int, every: int = 0) -> str:
        """Whether line k's point is lettered: all on edges, of generators ``every`` so many."""
        return "plain" if self.g.round and (not every or k % every) else "found"

    def _stands_before(self, k: int) -> bool:
        """Whether it is lettered in the elevation: no other line stands before it there."""
        x, y = self.stock.base[k, 0], self.stock.base[k, 1]
        others = self.stock.base
        return not bool(
            ((np.abs(others[:, 0] - x) <= 1e-6 * self.g.reach) & (others[:, 1] > y + 1e-6 * self.g.reach)).any()
        )

    # the cut

    def cut_through(self) -> None:
        """The plane edge-on, and every point of the cut in both views."""
        g, d, front = self.g, self.d, self.views.front
        start = self.foot
        if g.cut_height > 0:
            start = d.lay_off(
                self.axis, self.foot, g.cut_height, "", "Measure up the axis how high it is cut.", kind="plain"
            )
        self.cut = d.ray(start, -g.cut_angle, "Draw the cutting plane, seen edge-on, falling to the right.")
        crossed = [(k, f"C{number}") for k, number in enumerate(self.stock.numbers) if f"C{number}" in self.kept.places]
        lines = "generators" if g.round else "edges"
        if crossed:
            with d.as_one("Pencil", f"Mark where it crosses the {lines}."):
                for k, name in crossed:
                    kind = "found" if self._stands_before(k) else "plain"
                    d.meet(self.cut, self.in_front[k], front.key(name), kind=kind)
        for letter, line, words in (("E", self.ground, "the ground line"), ("F", self.upper, "the top")):
            exits = [name for name in self.kept.places if name[0] == letter]
            if exits and line is not None:
                with d.as_one("Pencil", f"Mark where it leaves through {words}."):
                    spot = d.meet(self.cut, line, front.key(exits[0]))
                    for name in exits[1:]:
                        d.also(front.key(name), spot, "plain")
                self._exits_in_plan(exits, words)
        if self.stock.pointed:
            self._crossings_in_plan(crossed)
        else:
            with d.as_one("Pencil", f"In the plan they stand on the {lines}, seen from above."):
                for k, name in crossed:
                    d.also(self.views.top.key(name), self.spot(self.stock.lower(k), self.views.top), "plain")

    def _exits_in_plan(self, exits: Sequence[str], words: str) -> None:
        d, top = self.d, self.views.top
        with d.as_one("Set square", f"Carry that across to the plan: there the plane leaves through {words}."):
            drop = d.upright_from(self.spot(exits[0], self.views.front), role=Role.PROJECTOR)
            for name in exits:
                rim = self.circle if self.g.round else self._side(self._side_of(name))
                if isinstance(rim, ArcMark):
                    d.meet(drop, rim, top.key(name), near=self._place(self.kept.places[name]))
                else:
                    d.meet(drop, rim, top.key(name))

    def _side_of(self, name: str) -> int:
        """The side of the base that a corner of the cut stands on or over."""
        for k, loop in enumerate(self.kept.faces):
            if name in loop:
                return k
        raise ValueError(name)

    def _side(self, k: int) -> LineMark:
        if k not in self._sides:
            a, b = (self.spot(self.stock.lower(j), self.views.top) for j in (k, k + 1))
            self._sides[k] = self.d.rule(a, b)
        return self._sides[k]

    def _crossings_in_plan(self, crossed: Sequence[tuple[int, str]]) -> None:
        """Dropped to the plan of their own line; where that runs along the projector, by a level line and the
        compass."""
        d, top, front = self.d, self.views.top, self.views.front
        lean = np.abs(self.stock.base[:, 0]) / self.g.reach
        direct = [(k, name) for k, name in crossed if lean[k] > STEEP]
        if direct:
            with d.as_one("Set square", "Drop them to the plan, each to its own line."):
                for k, name in direct:
                    drop = d.upright_from(self.spot(name, front), role=Role.PROJECTOR)
                    d.meet(drop, self.in_plan[k], top.key(name), kind=self._kind(k))
        other = int(np.argmax(lean))
        for k, name in crossed:
            if lean[k] > STEEP:
                continue
            with d.move(f"{name} in the plan"):
                with d.as_one(
                    "Set square",
                    f"Carry {front.key(name)} level to the line to {self.stock.lower(other)}, and drop it to the plan.",
                    why="its own line runs along the projector there, or nearly; at one "
                    "height all lines are as far from the axis",
                ):
                    beside = d.meet(d.level_from(self.spot(name, front)), self.in_front[other])
                    at = d.meet(d.upright_from(beside, role=Role.PROJECTOR), self.in_plan[other])
                arc = d.compass(
                    self.centre,
                    d.opening(self.centre, at),
                    f"Centre O, swing it to the plan of its own line: {top.key(name)}.",
                    whole=False,
                )
                d.meet(
                    arc, self.in_plan[k], top.key(name), near=self._place(self.kept.places[name]), kind=self._kind(k)
                )

    def enter_space(self) -> None:
        """What both views fix of every corner."""
        for name in self.kept.places:
            front, top = self.spot(name, self.views.front), self.spot(name, self.views.top)
            self.d.in_space(name, self.views.solid(front.at, top.at))

    # what is lined in

    def line_in(self) -> None:
        d, kept, front = self.d, self.kept, self.views.front
        outline = self._hull()
        with d.as_one("Straightedge", "Line in the elevation" + (" up to the cut." if kept.cut_away else ".")):
            d.line_in([self.spot(name, front) for name in outline], closed=True)
            for ends in self._inner(seen=True):
                d.line_in([self.spot(name, front) for name in ends])
        behind = list(self._inner(seen=False))
        if behind:
            with d.as_one("Straightedge", "Line in the edges at the back as hidden."):
                for ends in behind:
                    d.line_in([self.spot(name, front) for name in ends], role=Role.HIDDEN)
        self._line_in_plan()

    def _hull(self) -> list[str]:
        """The corners of what stays that bound it in the elevation, in order."""
        names = [n for n in self.kept.places if self.kept.side(n) <= 0 and self._is_left(n)]
        at = {n: self.kept.places[n][[0, 2]] for n in names}
        order = sorted(names, key=lambda n: (round(float(at[n][0]), 6), float(at[n][1])))
        same = 1e-7 * self.g.cutting.stock.size

        def half(run: Sequence[str]) -> list[str]:
            chain: list[str] = []
            for name in run:
                while len(chain) > 1:
                    a, b, c = at[chain[-2]], at[chain[-1]], at[name]
                    if float((b - a)[0] * (c - a)[1] - (b - a)[1] * (c - a)[0]) > same * same:
                        break
                    chain.pop()
                chain.append(name)
            return chain[:-1]

        return half(order) + half(order[::-1])

    def _is_left(self, name: str) -> bool:
        """Whether a vertex belongs to what stays: an end of a line, or a corner of the cut."""
        return name in self.kept.section or any(
            name in loop for loop in (*self.kept.faces, self.kept.base, self.kept.top)
        )

    def _inner(self, seen: bool) -> Iterator[tuple[str, str]]:
        """Edges within the elevation's outline: those in front, or those at the back that no other covers."""
        if self.g.round:
            return
        n, stock = self.stock.count, self.stock
        xs = stock.base[:, 0]
        edges = np.array([xs.min(), xs.max()])
        near = 1e-6 * self.g.reach
        facing = [float(self._outward(k)[1]) > 1e-9 for k in range(n)]
        in_front = [k for k in range(n) if facing[k] or facing[k - 1]]
        for k in range(n):
            ends = self.kept.line(k)
            if ends is None or ends[0] == ends[1] or np.abs(edges - xs[k]).min() <= near:
                continue
            if (k in in_front) == seen and (seen or not any(abs(xs[j] - xs[k]) <= near for j in in_front)):
                yield ends

    def _outward(self, k: int) -> Array:
        """The level direction out of a lateral face."""
        a, b = self.stock.base[k], self.stock.base[(k + 1) % self.stock.count]
        return np.asarray((a + b) / 2)

    def _line_in_plan(self) -> None:
        d, top, kept = self.d, self.views.top, self.kept

        def at(names: Sequence[str]) -> list[Spot]:
            return [self.spot(name, top) for name in names]

        with d.as_one("Compass" if self.g.round else "Straightedge", "Line in the plan of what stays."):
            if not self.g.round:
                d.line_in(at(kept.base or kept.top), closed=True)
            else:
                exits = sorted(
                    (name for name in kept.base if kept.side(name) == 0), key=lambda n: float(kept.places[n][1])
                )
                if len(exits) < 2:
                    d.circle_in(self.centre, self.g.reach)
                else:
                    back, fore = at((exits[0], exits[-1]))
                    d.arc_in(self.centre, self.g.reach, back, fore)
                    d.line_in((fore, back))
            if self.stock.pointed and not self.g.round:
                for k in range(self.stock.count):
                    if (ends := kept.line(k)) is not None and ends[0] != ends[1]:
                        d.line_in(at(ends))
        if not kept.section:
            return
        chains = [(names, curved) for names, curved in self.g.section_chains if self._shows_in_plan(names)]
        if chains:
            with d.as_one(
                "Curve" if any(curved for _, curved in chains) else "Straightedge",
                "Line in the cut as the plan shows it.",
            ):
                for names, curved in chains:
                    self._join(at(names), curved, closed=names[0] == names[-1])

    def _shows_in_plan(self, names: Sequence[str]) -> bool:
        """Whether a piece of the cut's rim is a line of its own in the plan, not over the base's rim."""
        if {name[0] for name in names} <= {"E", "B"}:
            return False
        return self.stock.pointed or {name[0] for name in names} <= {"F", "T"}

    def _join(self, spots: Sequence[Spot], curved: bool, closed: bool) -> None:
        spots = spots[:-1] if closed else spots
        if curved and len(spots) > 2:
            self.d.curve(spots, closed=closed)
        else:
            self.d.line_in(spots, closed=closed)

    # the true shape of the cut

    def true_section(self) -> None:
        d, kept = self.d, self.kept
        spots = [self.spot(name, self.views.front) for name in kept.section]
        self.views.front.datum = self.level
        offs = [float(kept.places[name][1]) for name in kept.section]
        view = fold_along(
            d,
            self.views,
            self.views.front,
            self.cut,
            spots,
            offs,
            "Draw the centre line of the true section parallel to the cut, clear of the elevation.",
            [spot for key, spot in d.spots.items() if key.endswith(".front")],
        )
        assert view.fold is not None
        view.fold.role = Role.CENTRE
        along = [float(dot(spot.here - view.fold.ends()[0], direction(-self.g.cut_angle))) for spot in spots]
        view.fold.extent(min(along) - BEYOND, max(along) + BEYOND)
        on_axis = [name for name, off in zip(kept.section, offs) if abs(off) <= kept.same]
        if on_axis:
            with d.as_one("Set square", "Carry what stands on the plan’s centre line square across to the new one."):
                for name in on_axis:
                    d.meet(self.views.carry(name, view), view.fold, view.key(name))
        with d.move("Carry the points of the cut across"):
            for name, off in zip(kept.section, offs):
                if name not in on_axis:
                    says = (
                        f"Take {name}.top’s distance from the plan’s centre line; lay it off from the "
                        f"new one, {'in front' if off > 0 else 'behind'}."
                    )
                    self.views.transfer(name, view, says)
        with d.as_one("Curve" if self.g.round else "Straightedge", "Line in the true section."):
            for names, curved in self.g.section_chains:
                self._join([self.spot(name, view) for name in names], curved, closed=names[0] == names[-1])


def views_of(g: CutSolid, d: Draft) -> Upright:
    """Plan, elevation, cut and true section, as far as they are asked for."""
    hand = Upright(g, d)
    with d.phase("The plan"):
        hand.plan()
    with d.phase("The elevation"):
        hand.elevation()
    if g.cut == "plane":
        with d.phase("The cut"):
            hand.cut_through()
    hand.enter_space()
    with d.phase("Line in the views"):
        hand.line_in()
    if g.wanted[0]:
        with d.phase("The true section"):
            hand.true_section()
    return hand
