"""Two ways to a solid in any position: three stages of views, or auxiliary planes folded about the solid upright."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.solids.seen import line_in_solid, sight_of
from wise_compass.figures.solids.tilted import DATUM, TiltedSolid
from wise_compass.figures.solids.upright import BEYOND, GAP
from wise_compass.geometry.vectors import direction, dot, left_of, polar


class _Upright:
    """The first stage: the solid upright, in plan and elevation, drawn faint. Spots go by the names of the corners."""

    def __init__(self, g: TiltedSolid, d: Draft, centre: Spot, ground: float) -> None:
        self.g, self.d, self.centre, self.stock = g, d, centre, g.stock
        self.ground_level = ground
        self.top: dict[str, Spot] = {}
        self.front: dict[str, Spot] = {}
        self.level: LineMark
        self.ground: LineMark
        self.foot: Spot

    def draw(self, keys: tuple[str, str] = ("", "")) -> None:
        """Plan, then elevation; the spots get keys of the views ``keys`` where they are given."""
        g, d, stock = self.g, self.d, self.stock
        reach = g.reach
        with d.as_one("Set square", f"Draw the centre lines of the plan through {self.centre.name}."):
            self.level = d.level_from(self.centre, role=Role.CENTRE).extent(-reach - BEYOND, reach + BEYOND)
            axis = d.upright_from(self.centre, role=Role.CENTRE).extent(-reach - BEYOND, reach + BEYOND)
        why = "half the diameter" if g.is_round else f"{bare(g.size)} / (2 sin(180° / {g.sides}))"
        circle = d.compass(
            self.centre, reach, f"Centre {self.centre.name}, draw the circle that the base stands on.", why
        )
        lower = [stock.lower(k) for k in range(g.count)]
        key = dict.fromkeys(stock.places, "") | {name: f"{name}.{keys[0]}" for name in stock.places if keys[0]}
        if g.is_round:
            rays = d.divide_turn(self.centre, g.count, length=reach)
            for k, (name, ray) in enumerate(zip(lower, rays)):
                near = self.centre.here + polar(np.zeros(2), reach, 360.0 * k / g.count)
                self.top[name] = d.meet(ray, circle, key[name], near=near)
        else:
            ray = d.ray(self.centre, g.turn, "Draw the ray to the first corner.", length=reach)
            self.top[lower[0]] = d.meet(ray, circle, key[lower[0]], near=polar(self.centre.here, reach, g.turn))
            names = [key[name] for name in lower[1:]]
            spots = d.step_round(circle, self.top[lower[0]], g.size, names, says="Step the side round from there.")
            self.top.update(zip(lower[1:], spots))
        for k in range(g.count):
            if g.pointed:
                self.top["V"] = (
                    self.centre if not keys[0] else self.top.get("V") or d.also(key["V"], self.centre, "plain")
                )
            else:
                upper, spot = stock.upper(k), self.top[lower[k]]
                self.top[upper] = d.also(key[upper], spot, "plain") if keys[0] else spot
        self._elevation(axis, lower, keys[1])

    def _elevation(self, axis: LineMark, lower: list[str], view: str) -> None:
        g, d, stock = self.g, self.d, self.stock

        def key(name: str) -> str:
            return f"{name}.{view}" if view else ""

        rise = self.ground_level - float(self.centre.here[1])
        self.foot = d.lay_off(
            axis, self.centre, rise, "", "Up the axis mark the ground line, clear of the plan.", kind="plain"
        )
        self.ground = d.level_from(self.foot, "Draw the ground line level.").extent(-g.reach - BEYOND, g.reach + BEYOND)
        crown = d.lay_off(
            axis, self.foot, g.height, key("V") if g.pointed else "", "Measure the length of the axis up from it."
        )
        over = None if g.pointed else d.level_from(crown, "Draw the top level.").extent(-g.reach, g.reach)
        with d.as_one("Set square", "Carry the base up, and draw the solid upright."):
            for k, name in enumerate(lower):
                carry = d.upright_from(self.top[name], role=Role.PROJECTOR)
                self.front[name] = d.meet(carry, self.ground, key(name), kind="plain" if not view else "found")
                if over is not None:
                    upper = stock.upper(k)
                    self.front[upper] = d.meet(carry, over, key(upper))
            if g.pointed:
                self.front["V"] = crown
            for k, name in enumerate(lower):
                d.rule(self.front[name], self.front[stock.upper(k)])
                if not g.is_round:
                    d.rule(self.top[name], self.top[lower[k - 1]])


@method(
    TiltedSolid,
    "three-stages",
    about="Upright; tilted, the elevation copied at its angle; swung, the plan copied "
    "at its angle: every view from two before.",
    source="Monge's revolution of a solid about axes square to the planes of projection",
)
def three_stages(g: TiltedSolid, d: Draft) -> None:
    stock = g.stock
    spans, xs = g.stages
    deep = [(float(s[1].min()), float(s[1].max())) for s in spans]
    depth = max(g.reach + BEYOND, *((hi - lo) / 2 + BEYOND for lo, hi in deep))
    high = max(g.height, max(float(at[2]) for at in g.corners.values()))
    middle = (deep[2][0] + deep[2][1]) / 2
    views = Views.stacked(d, 0.0, high, depth, GAP)
    ground, plan = float(views.front.origin[1]), float(views.top.origin[1])
    views.front.origin = np.array([xs[2], ground])
    views.top.origin = np.array([xs[2], plan + middle])
    with d.phase("Upright"), d.apart("stage"):
        centre = d.start_at("O", xs[0], plan, "Mark O, the axis in the plan.", kind="plain")
        first = _Upright(g, d, centre, ground)
        first.draw()
    with d.phase("Tilted"), d.apart("stage"):
        front2 = _tilted_front(g, d, first, xs[1])
        with d.as_one("Set square", "Below it the plan: down from there, and level from the plan before."):
            top2 = {}
            for name in stock.places:
                drop = d.upright_from(front2[name], role=Role.PROJECTOR)
                top2[name] = d.meet(drop, d.level_from(first.top[name], role=Role.PROJECTOR))
            _faint(d, g, top2)
    with d.phase("Swung"):
        _swung_plan(g, d, first, top2, xs[1], views)
        with d.as_one("Set square", "Carry every corner up, and its height level from the elevation before."):
            for name in stock.places:
                rise = d.upright_from(views.spot(name, views.top), role=Role.PROJECTOR)
                d.meet(rise, d.level_from(front2[name], role=Role.PROJECTOR), views.front.key(name))
        for name in stock.places:
            d.in_space(name, views.solid(views.spot(name, views.front).at, views.spot(name, views.top).at))
    with d.phase("Line in"):
        for k, (view, words) in enumerate(((views.front, "the elevation"), (views.top, "the plan"))):
            line_in_solid(d, stock, g.is_round, g.sight(k), lambda name, view=view: views.spot(name, view), words)  # type: ignore[misc]


def _tilted_front(g: TiltedSolid, d: Draft, first: _Upright, x: float) -> dict[str, Spot]:
    """The elevation copied with its axis at the given angle: the base line, distances along it, and the length square
    to it."""
    stock, n = g.stock, g.count
    lower = [stock.lower(k) for k in range(n)]
    pivot = max(range(n), key=lambda k: float(stock.base[k, 0]))
    at = x + float(g.tilted(stock.base[pivot])[0])
    corner = d.on(first.ground, at - float(first.ground.ends()[0][0]) + first.ground.lo, "", "plain")
    wrong = d.choice(
        "other-angle",
        right=g.axis_h,
        slip=90.0 - g.axis_h,
        says="The base tilted by the axis’s angle instead of by what is left of 90°.",
        when=abs(g.axis_h - 45.0) > 1e-6,
    )
    why = f"the axis stands square to it, at {trim(g.axis_h)}° to the ground"
    base = d.ray(
        corner, 90.0 + wrong, "On the ground line draw the base of the tilted solid.", why=why, length=2 * g.reach
    )
    front: dict[str, Spot] = {}
    with d.as_one("Dividers", "Take the corners of the base from the elevation before, and lay them off along it."):
        for name in lower:
            if name == lower[pivot] or abs(float(stock.places[name][0] - stock.base[pivot, 0])) <= 1e-9 * g.reach:
                front[name] = corner
            else:
                front[name] = d.lay_off(
                    base, corner, d.opening(first.front[lower[pivot]], first.front[name]), "", kind="plain"
                )
        foot = (
            d.lay_off(base, corner, d.opening(first.front[lower[pivot]], first.foot), "", kind="plain")
            if g.pointed
            else corner
        )
    with d.as_one(
        "Set square",
        "Square to the base draw the axis or the edges, and lay off their length.",
        Setting(g.height, "mm"),
    ):
        if g.pointed:
            front["V"] = d.lay_off(d.square_to(base, foot), foot, -g.height, "", kind="plain")
        else:
            for k, name in enumerate(lower):
                front[stock.upper(k)] = d.lay_off(
                    d.square_to(base, front[name]), front[name], -g.height, "", kind="plain"
                )
    with d.as_one("Straightedge", "Join them: the elevation of the tilted solid."):
        _faint(d, g, front)
    return front


def _faint(d: Draft, g: TiltedSolid, spots: dict[str, Spot]) -> None:
    """The edges of a stage that is only on the way."""
    stock, same = g.stock, 1e-7 * g.stock.size
    for k in range(g.count):
        ends = (
            (stock.lower(k), stock.upper(k)),
            (stock.lower(k), stock.lower(k + 1)),
            (stock.upper(k), stock.upper(k + 1)),
        )
        for a, b in dict.fromkeys(ends):
            if a != b and float(np.abs(spots[a].here - spots[b].here).max()) > same:
                d.rule(spots[a], spots[b])


def _swung_plan(g: TiltedSolid, d: Draft, first: _Upright, top2: dict[str, Spot], x: float, views: Views) -> None:
    """The plan copied with the plan of its axis at the given angle: distances along the axis, and square to it."""
    stock = g.stock
    start = d.start_at(
        "P",
        float(views.top.origin[0]),
        float(views.top.origin[1]),
        says="Mark P, the middle of the base in the last plan.",
        kind="plain",
    )
    turn = d.choice(
        "other-end",
        right=g.axis_v,
        slip=180.0 - g.axis_v,
        says="The axis’s plan set off from the other end of the protractor’s scale.",
        when=g.axis_h < 90 and abs((g.axis_v - 90.0) % 180.0) > 1e-6,
    )
    axis = d.ray(start, turn, "From P draw the plan of the axis.", role=Role.CENTRE, length=g.reach)
    middle = d.on(first.level, x - float(first.level.ends()[0][0]) + first.level.lo, "", "plain")
    with d.as_one(
        "Dividers",
        "Take every corner’s distance along the axis and square to it from the plan before; lay them off here.",
    ):
        for name in stock.places:
            at = g.tilted(stock.places[name])
            along = d.opening_along(middle, top2[name], level=True)
            foot = d.lay_off(axis, start, along, "", kind="plain", way=1.0)
            if abs(float(at[1])) <= 1e-9 * g.reach:
                d.also(views.top.key(name), foot)
            else:
                across = d.opening_along(middle, top2[name], level=False)
                d.lay_off(d.square_to(axis, foot), foot, across, views.top.key(name))


@method(
    TiltedSolid,
    "auxiliary-plane",
    about="The solid stays upright: a plane that it stands tilted to gives its plan, one square to that its elevation.",
    source="Change of the planes of projection",
)
def auxiliary_plane(g: TiltedSolid, d: Draft) -> None:
    stock, reach = g.stock, g.reach
    deep = 2 * reach + DATUM
    views = Views.about_line(d, g.height, deep, GAP)
    shift = np.array([0.0, reach + DATUM, 0.0])
    with d.phase("Upright"):
        start = d.start_at("O", says="Mark O, where the axis crosses the reference line.", kind="plain")
        views.reference_line(start, -reach - BEYOND, reach + BEYOND)
        drop = d.upright_from(start, "Draw the axis upright through it.", role=Role.CENTRE)
        centre = d.lay_off(
            drop,
            start,
            float(views.top.at(shift)[1]),
            "O.top",
            "Lay off the middle of the plan, clear of the line.",
            kind="plain",
        )
        first = _Upright(g, d, centre, float(views.front.origin[1]))
        first.draw(("top", "front"))
        for name in stock.places:
            d.in_space(name, views.solid(views.spot(name, views.front).at, views.spot(name, views.top).at))
    with d.phase("The new horizontal plane"):
        lean = 90.0 - g.axis_h
        pivot = max((stock.lower(k) for k in range(g.count)), key=lambda name: float(stock.places[name][0]))
        words = (
            f"Through {views.front.key(pivot)} draw the new ground line: the axis stands at {trim(g.axis_h)}° to it."
        )
        wrong = d.choice(
            "other-angle",
            right=lean,
            slip=g.axis_h,
            says="The ground tilted by the axis’s angle instead of by what is left of 90°.",
            when=abs(g.axis_h - 45.0) > 1e-6,
        )
        ground = d.ray(views.spot(pivot, views.front), wrong, words, length=g.reach)
        view3 = folded_beside(
            d, views, views.front, ground, -1, deep, "Draw the new reference line parallel to it, clear of the views."
        )
        views.transfer_all(stock.places, view3)
    with d.phase("The new vertical plane"):
        at = {name: views.spot(name, view3).here for name in stock.places}
        u = direction(wrong)
        corner = min(at.values(), key=lambda p: float(dot(p, direction(wrong - g.axis_v))))
        spot = next(views.spot(name, view3) for name, p in at.items() if p is corner)
        swing = wrong - g.axis_v
        line = d.ray(spot, swing, f"Draw a line at {trim(g.axis_v)}° to the axis’s plan.", length=g.reach)
        far = max(float(dot(p, u)) for p in at.values())
        assert np.isfinite(far)
        view4 = folded_beside(
            d,
            views,
            view3,
            line,
            1,
            g.height + reach,
            "Draw the last reference line parallel to it, clear of the views.",
        )
        assert view4.fold is not None
        d.on(view4.fold, 0.0, "X", "plain")
        d.on(view4.fold, 10.0, "Y", "plain")
        views.transfer_all(stock.places, view4)
    with d.phase("Line in"):
        for view, words in ((view3, "the new plan"), (view4, "the new elevation")):
            sight = sight_of(view.across, view.away, view.u, view.v)
            line_in_solid(d, stock, g.is_round, sight, lambda name, view=view: views.spot(name, view), words)  # type: ignore[misc]


def folded_beside(d: Draft, views: Views, view: View, line: LineMark, side: int, deep: float, says: str) -> View:
    """A view folded along a line, on one side of it only, as far off as keeps it clear of all that stands."""
    u = line.ends()[1] - line.ends()[0]
    u = u / float(np.hypot(*u))
    out = side * left_of(u)
    base = line.ends()[0]
    mine = np.array([spot.here for key, spot in d.spots.items() if key.endswith(f".{view.id}")])
    span = (mine - base) @ u
    stands = np.array([spot.here for spot in d.spots.values()])
    off, along = (stands - base) @ out, (stands - base) @ u
    strip = (along > span.min() - GAP) & (along < span.max() + GAP)
    gap = max(0.0, float(off[strip].max())) + GAP
    square = d.square_to(line, d.on(line, 0.0), "Square to it draw a line, for the place of the next one.")
    through = d.on(square, side * gap)
    return views.fold_off(view, through, line, says, side=side)
