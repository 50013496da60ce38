"""How a hand cuts a sphere, and sets out spheres in contact."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.solids.spheres import PLACES, SphereCut, SpheresInContact
from wise_compass.geometry.vectors import Array, distance, point

GAP, BEYOND = 16.0, 5.0


class CutHand:
    """A cut sphere on the way: both views, the plane on edge."""

    def __init__(self, g: SphereCut, d: Draft) -> None:
        self.g, self.d = g, d
        self.views = Views.stacked(d, 0.0, g.diameter, g.radius, GAP)
        x, y = self.views.top.origin.tolist()
        reach = g.radius + BEYOND
        with d.phase("The sphere"):
            self.plan = d.start_at("O.top", x, y, "Mark O, the centre, in the plan.", "plain")
            d.level_from(self.plan, "Draw the centre line level.", Role.CENTRE).extent(-reach, reach)
            self.axis = d.upright_from(self.plan, "And upright, into the elevation.", Role.CENTRE)
            self.circle = d.compass(self.plan, g.radius, "Centre O, draw the sphere in the plan.", "half the diameter")
            lift = float(self.views.front.at(g.centre)[1] - y)
            self.centre = d.lay_off(
                self.axis, self.plan, lift, "O.front", "On the axis mark O in the elevation.", kind="plain"
            )
            level = d.level_from(
                self.centre, "Draw level through it: the height of the outline that the plan shows.", Role.CENTRE
            )
            self.level = level.extent(-reach, reach)
            touch = d.meet(self.circle, self.axis, where="above")
            self.outline = d.compass(
                self.centre, d.opening(self.plan, touch), "As large draw the sphere in the elevation."
            )
            self.ground = d.lay_off(
                self.axis, self.centre, -g.radius, "", "Straight below it stands on the ground.", kind="plain"
            )
        with d.phase("The plane"):
            start = self.ground
            if abs(g.cut_height) > 1e-9:
                start = d.lay_off(
                    self.axis, self.ground, g.cut_height, "", "Measure up the axis where it is cut.", kind="plain"
                )
            self.cut = d.ray(
                start, -g.cut_angle, f"Draw the plane on edge, falling to the right by {trim(g.cut_angle)}°."
            )
            half = PLACES // 2
            with d.as_one("Pencil", "Where it cuts the outline the section’s chord ends."):
                for k in (half, 0):
                    d.meet(self.cut, self.outline, f"P{k}.front", near=self.views.front.at(g.place(360.0 * k / PLACES)))

    def at(self, k: int) -> Array:
        """A place of the section in space."""
        return self.g.place(360.0 * k / PLACES)

    def ends_in_plan(self) -> None:
        d, half = self.d, PLACES // 2
        with d.as_one("Set square", "Drop the chord’s ends to the centre line of the plan."):
            line = d.level_from(self.plan)
            for k in (half, 0):
                d.meet(d.upright_from(d.spots[f"P{k}.front"], role=Role.PROJECTOR), line, f"P{k}.top")

    def outline_places(self) -> None:
        """K1 and K2, where the section crosses the level of the centre."""
        g, d = self.g, self.d
        if g.outline is None:
            return
        with d.phase("Where it touches the outline"):
            with d.as_one(
                "Set square", "Where the plane crosses the level of the centre drop to the outline: K1 and K2."
            ):
                on = d.meet(self.cut, self.level)
                drop = d.upright_from(on, role=Role.PROJECTOR)
                for name, at in zip(("K1", "K2"), g.outline):
                    d.also(f"{name}.front", on, "plain")
                    d.meet(drop, self.circle, f"{name}.top", near=self.views.top.at(at))
            for name in ("K1", "K2"):
                d.in_space(name, self.views.solid(d.spots[f"{name}.front"].at, d.spots[f"{name}.top"].at))

    def finish(self) -> None:
        g, d, views = self.g, self.d, self.views
        for k in range(PLACES):
            d.in_space(f"P{k}", views.solid(d.spots[f"P{k}.front"].at, d.spots[f"P{k}.top"].at))
        self.outline_places()
        half = PLACES // 2
        with d.phase("Line in"):
            with d.as_one("Compass", "Line in what stays of the sphere in the elevation.", Setting(g.radius, "mm")):
                d.arc_in(self.centre, g.radius, d.spots[f"P{half}.front"], d.spots["P0.front"])
            d.line_in([d.spots[f"P{half}.front"], d.spots["P0.front"]], says="Line in the section, seen on edge.")
            if g.outline is not None:
                with d.as_one("Compass", "Line in the outline that stays in the plan.", Setting(g.radius, "mm")):
                    front, back = d.spots["K1.top"], d.spots["K2.top"]
                    d.arc_in(self.plan, g.radius, back, front)
            elif g.off > 0:
                d.circle_in(self.plan, g.radius, "Line in the outline in the plan.")
            if g.cut_angle < 1e-9:
                d.circle_in(self.plan, d.opening(self.plan, d.spots["P0.top"]), "Line in the circle of the section.")
            else:
                d.curve(
                    [d.spots[f"P{k}.top"] for k in range(PLACES)], closed=True, says="Line in the section in the plan."
                )


@method(
    SphereCut,
    "level-cuts",
    about="Level planes cut the sphere in circles and the plane in lines: in the plan they cross.",
    source="Auxiliary cutting planes (Monge)",
)
def sphere_by_levels(g: SphereCut, d: Draft) -> None:
    hand = CutHand(g, d)
    with d.phase("Places of the section"):
        hand.ends_in_plan()
        mistaken = d.choice(
            "radius-of-the-level-before",
            right=False,
            slip=True,
            says="The circle of one level is drawn with the radius of the centre’s level.",
        )
        for k in range(1, PLACES // 2):
            mate, at = PLACES - k, hand.at(k)
            says = (
                f"At level {k} take the half chord of the outline; with it about O cut the line dropped from the plane."
            )
            with d.as_one("Set square", says):
                front = _on_cut(hand, k)
                d.also(f"P{mate}.front", front, "plain")
                level = d.level_from(front)
                middle = d.meet(level, hand.axis)
                rim = d.meet(
                    level, hand.outline, near=hand.views.front.at(g.centre + np.array([1e3, 0.0, at[2] - g.radius]))
                )
                radius: Opening | float = d.opening(middle, rim)
                if mistaken and k == PLACES // 4:
                    radius = g.radius
                circle = d.compass(hand.plan, radius, whole=False)
                drop = d.upright_from(front, role=Role.PROJECTOR)
                for j in (k, mate):
                    d.meet(drop, circle, f"P{j}.top", near=hand.views.top.at(hand.at(j)))
    hand.finish()


def _on_cut(hand: CutHand, k: int) -> Spot:
    """A place of the section on the plane's edge: by its share of the chord, from its middle."""
    d = hand.d
    half = PLACES // 2
    ends = d.spots["P0.front"], d.spots[f"P{half}.front"]
    share = (1 - float(np.cos(2 * np.pi * k / PLACES))) / 2
    return d.between(*ends, share, f"P{k}.front", "plain")


@method(
    SphereCut,
    "axes",
    about="The section's own circle seen aslant: its long axis true, its short one dropped; then by two circles.",
    source="A circle seen aslant is an ellipse on its axes; two concentric circles",
)
def sphere_by_axes(g: SphereCut, d: Draft) -> None:
    hand = CutHand(g, d)
    half, quarter = PLACES // 2, PLACES // 4
    with d.phase("The axes"):
        hand.ends_in_plan()
        square = d.square_to(hand.cut, hand.centre, "From O draw square to the plane: the centre of the section.")
        middle = d.meet(square, hand.cut)
        drop = d.upright_from(middle, "Drop it to the plan.", Role.PROJECTOR)
        centre = d.meet(drop, d.level_from(hand.plan, "On the centre line it stands."), "")
        rho = d.opening(middle, d.spots["P0.front"])
        short_for_long = d.choice(
            "short-axis-for-radius",
            right=False,
            slip=True,
            when=g.cut_angle > 1.0,
            says="The section’s radius is read off the short axis in the plan.",
        )
        if short_for_long:
            rho = d.opening(centre, d.spots["P0.top"])
        with d.as_one("Dividers", "Lay the section’s radius off both ways, upright: the long axis."):
            for k, way in ((quarter, 1.0), (3 * quarter, -1.0)):
                d.lay_off(drop, centre, rho, f"P{k}.top", way=way)
                d.also(f"P{k}.front", middle, "plain")
    with d.phase("Places of the section"):
        outer = d.compass(centre, rho, "About the centre draw the circle over the long axis.")
        inner = d.compass(centre, d.opening(centre, d.spots["P0.top"]), "And that over the short one.")
        for k in range(1, PLACES):
            if k % quarter == 0:
                continue
            turn = 360.0 * k / PLACES
            with d.as_one("Set square", f"Place {k} by both circles, and up to the plane’s edge."):
                ray = d.ray(centre, turn, instrument="Set square")
                far = d.meet(ray, outer, near=centre.here + 1e3 * _way(turn))
                near = d.meet(ray, inner, near=centre.here + 1e3 * _way(turn))
                top = d.meet(d.upright_from(near), d.level_from(far), f"P{k}.top")
                if k < half:
                    d.meet(d.upright_from(top, role=Role.PROJECTOR), hand.cut, f"P{k}.front", kind="plain")
                else:
                    d.also(f"P{k}.front", d.spots[f"P{PLACES - k}.front"], "plain")
    hand.finish()


def _way(turn: float) -> Array:
    return point(float(np.cos(np.deg2rad(turn))), float(np.sin(np.deg2rad(turn))))


@method(
    SpheresInContact,
    "mean-proportional",
    about="Centres in plan by twice the mean proportional of the radii; the top one by summed radii swung level.",
    source="The mean proportional (Euclid, Elements VI.13); touching spheres",
)
def spheres_set_out(g: SpheresInContact, d: Draft) -> None:
    deep = max(float(at[1]) + r for at, r in zip(g.centres, g.all_radii))
    behind = max(r - float(at[1]) for at, r in zip(g.centres, g.all_radii))
    high = max(float(at[2]) + r for at, r in zip(g.centres, g.all_radii))
    views = Views.stacked(d, 0.0, high, max(deep, behind), GAP)
    x, y = views.top.origin.tolist()
    summed = d.choice(
        "sum-for-plan",
        right=False,
        slip=True,
        when=max(g.radii) - min(g.radii) > 0.5,
        says="The summed radii are taken as the distances in plan.",
    )
    with d.phase("Distances in plan"):
        taken = {
            pair: _proportional(g, d, pair, x - max(g.radii) - 2 * GAP, y, k) for k, pair in enumerate(g.pairs[:3])
        }
        if summed:
            ends = {pair: g.radii[pair[0]] + g.radii[pair[1]] for pair in g.pairs[:3]}
    with d.phase("The centres in plan"):
        first = d.start_at("C1.top", x, y, "Mark C1, the first centre, in the plan.")
        level = d.level_from(first, "Draw level through it.", Role.CENTRE)
        gap: Opening | float = ends[0, 1] if summed else taken[0, 1]
        second = d.lay_off(level, first, gap, "C2.top", "To the right lay off the distance to the second: C2.")
        arcs = [
            d.compass(
                centre, ends[pair] if summed else taken[pair], f"About C{n} swing that to the third.", whole=False
            )
            for centre, pair, n in ((first, (2, 0), 1), (second, (1, 2), 2))
        ]
        d.meet(arcs[0], arcs[1], "C3.top", near=views.top.at(g.centres[2]))
    with d.phase("The elevation"):
        lift = float(views.front.origin[1] - y)
        post = d.upright_from(first, "Carry C1 up.", Role.PROJECTOR)
        foot = d.lay_off(post, first, lift, "", "On it mark the ground.", kind="plain")
        ground = d.level_from(foot, "Draw the ground level.").extent(-g.radii[0], 2 * float(g.centres[1][0]))
        for k, r in enumerate(g.radii, 1):
            with d.as_one("Set square", f"Carry C{k} up, and {mm(r)} over the ground mark it.", Setting(r, "mm")):
                up = d.upright_from(d.spots[f"C{k}.top"], role=Role.PROJECTOR)
                d.lay_off(up, d.meet(up, ground), r, f"C{k}.front")
    if g.top:
        _on_top(g, d, views, ground)
    _contacts(g, d, views)


def _proportional(g: SpheresInContact, d: Draft, pair: tuple[int, int], right: float, y: float, k: int) -> Opening:
    """Twice the mean proportional of two radii, by a semicircle over both."""
    a, b = g.radii[pair[0]], g.radii[pair[1]]
    drop = y - k * (max(g.radii) + GAP)
    with d.move(f"Mean proportional of radii {pair[0] + 1} and {pair[1] + 1}"):
        start = d.plot("", right, drop, f"Beside the plan begin a line for the radii {bare(a)} and {bare(b)}.", "plain")
        line = d.level_from(start, "Draw it level.", length=-(a + b))
        middle = d.lay_off(line, start, -a, "", "Lay off the one radius.", kind="plain")
        end = d.lay_off(line, middle, -b, "", "And from there the other.", kind="plain")
        with d.as_one("Dividers", "Halve both together."):
            centre = d.between(start, end, 0.5)
        arc = d.compass(centre, d.opening(centre, start), "Draw a semicircle over both.", whole=False)
        up = d.upright_from(middle, "Where they meet draw upright.")
        tip = d.meet(up, arc, where="above")
        return d.in_proportion(d.opening(middle, tip), 2.0)


def _on_top(g: SpheresInContact, d: Draft, views: Views, ground: LineMark) -> None:
    """The sphere on top: at its worked height summed radii swung level give its distances in plan."""
    apex, radius = g.centres[3], g.top / 2
    with d.phase("The one on top"):
        first = d.spots["C1.front"]
        up = d.upright_from(first, "From C1 draw upright.")
        foot = d.meet(up, ground)
        words = f"Lay off how high the top centre stands, as worked: {mm(float(apex[2]))}."
        mark = d.lay_off(up, foot, float(apex[2]), "", words, kind="plain")
        level = d.level_from(mark, "Draw level through it.")
        reaches: list[Opening] = []
        for k, r in enumerate(g.radii[:2], 1):
            centre = d.spots[f"C{k}.front"]
            says = f"About C{k} swing the summed radii, {mm(radius + r)}, to that level: how far it stands off in plan."
            with d.as_one("Compass", says, Setting(radius + r, "mm")):
                arc = d.compass(centre, radius + r, whole=False)
                on = d.meet(level, arc, near=centre.here + point(1e3, 0.0))
                post = d.meet(d.upright_from(centre), level)
                reaches.append(d.opening(post, on))
        arcs = [
            d.compass(d.spots[f"C{k}.top"], reach, f"In the plan swing it about C{k}.", whole=False)
            for k, reach in enumerate(reaches, 1)
        ]
        top = d.meet(arcs[0], arcs[1], "C4.top", near=views.top.at(apex))
        with d.as_one("Set square", "Carry it up to its level: C4."):
            d.meet(d.upright_from(top, role=Role.PROJECTOR), level, "C4.front")


def _contacts(g: SpheresInContact, d: Draft, views: Views) -> None:
    radii = g.all_radii
    with d.phase("Where they touch"):
        for k, (one, other) in enumerate(g.pairs, 1):
            share = radii[one] / (radii[one] + radii[other])
            says = f"Part the line of C{one + 1} and C{other + 1} as their radii are: T{k}."
            with d.as_one("Dividers", says):
                for view in ("front", "top"):
                    ends = d.spots[f"C{one + 1}.{view}"], d.spots[f"C{other + 1}.{view}"]
                    if float(distance(ends[0].here, ends[1].here)) < 1e-9:
                        d.also(f"T{k}.{view}", ends[0])
                    else:
                        d.rule(ends[0], ends[1])
                        d.between(ends[0], ends[1], share, f"T{k}.{view}")
    for k in range(1, len(g.centres) + 1):
        d.in_space(f"C{k}", views.solid(d.spots[f"C{k}.front"].at, d.spots[f"C{k}.top"].at))
    for k in range(1, len(g.pairs) + 1):
        d.in_space(f"T{k}", views.solid(d.spots[f"T{k}.front"].at, d.spots[f"T{k}.top"].at))
    with d.phase("Line in"):
        for view, toward in (("front", 1), ("top", 2)):
            order = sorted(range(len(radii)), key=lambda k: -float(g.centres[k][toward]))
            for place, k in enumerate(order):
                over = [(g.centres[j], radii[j]) for j in order[:place]]
                _circle(d, views, view, d.spots[f"C{k + 1}.{view}"], (g.centres[k], radii[k]), over)


def _circle(
    d: Draft, views: Views, view: str, centre: Spot, ball: tuple[Array, float], over: list[tuple[Array, float]]
) -> None:
    """A ball's outline, dark where no other that is nearer to the eye covers it, dashed where one does."""
    frame = views.front if view == "front" else views.top
    at, radius = ball
    flat = frame.at(at)
    covers = [(frame.at(other), r) for other, r in over]
    cuts = sorted(turn for other, r in covers for turn in _crossings(flat, radius, other, r))
    name = centre.name.partition(".")[0][1:]
    with d.as_one("Compass", f"Line in sphere {name} in this view.", Setting(radius, "mm")):
        if not cuts:
            hidden = any(float(distance(flat, other)) < r for other, r in covers)
            d.compass(centre, radius, role=Role.HIDDEN if hidden else Role.OUTLINE)
            return
        for k, (start, end) in enumerate(zip(cuts, [*cuts[1:], cuts[0] + 360.0]), 1):
            middle = flat + radius * _way((start + end) / 2)
            hidden = any(float(distance(middle, other)) < r for other, r in covers)
            arc: ArcMark = d.compass(centre, radius, role=Role.HIDDEN if hidden else Role.OUTLINE)
            arc.swing(start, end - start)
            x, y = (centre.here + radius * _way(start)).tolist()
            d.plot(f"X{name}{k}.{view}", x, y, kind="plain")


def _crossings(one: Array, r: float, other: Array, q: float) -> list[float]:
    """The directions from the centre of a circle in which another crosses it, in degrees."""
    gap = float(distance(one, other))
    if gap < 1e-9 or not abs(r - q) < gap < r + q:
        return []
    half = float(np.degrees(np.arccos(np.clip((r * r + gap * gap - q * q) / (2 * r * gap), -1.0, 1.0))))
    way = float(np.degrees(np.arctan2(other[1] - one[1], other[0] - one[0])))
    return [(way - half) % 360.0, (way + half) % 360.0]
