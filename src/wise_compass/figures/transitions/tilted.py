"""Transitions to a round top that is tilted: from a rectangle, and from a circle."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Sequence
from functools import cached_property, partial

import numpy as np

from wise_compass.drafting.course import Course
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.views import View
from wise_compass.drafting.wording import least_mm, mm, trim
from wise_compass.figures.solids.prisms import APART
from wise_compass.figures.transitions.shapes import ABOUT, SOURCE, RectToRound, RoundToRound, named, rectangle
from wise_compass.figures.transitions.triangulation import SAME, Triangulation
from wise_compass.geometry.curves import Curve, sampled
from wise_compass.geometry.solids import ring
from wise_compass.geometry.unrolled import Rim
from wise_compass.geometry.vectors import Array, Number, cosd, distance, multiples, sind

FINE = 3600
"""Triangles into which a skin is parted to find how it truly unrolls."""
EDGE_ON = 1e-6
"""Degrees from 90° from which a tilted circle is a line in the plan."""


def tilted(names: Sequence[str], middle: Array, radius: float, tilt: float) -> dict[str, Array]:
    """Divisions of a circle whose right side has fallen by ``tilt``, from the right anticlockwise."""
    return dict(zip(names, Rim(middle, radius, tilt).at(multiples(360.0 / len(names), len(names)))))


def refuse_dipping(height: float, radius: float, tilt: float) -> None:
    """Refuse a top whose fallen side reaches the base."""
    drop = radius * float(sind(tilt))
    if height - drop <= 1e-9 * height:
        raise Refused(
            "tilt",
            f"Tilted by {trim(tilt)}° the top falls {mm(drop)}, down to the base. Lower tilt, or raise height over "
            f"{least_mm(drop)}.",
        )


class RectToTiltedRound(
    RectToRound, id="rect-to-tilted-round", family="transitions", title="Rectangle to tilted round"
):
    keys = ("B*", "M", "O.front", "T*")
    brief = opens = (
        "A transition from a rectangle {length} by {width} below to a circle {diameter} wide above, tilted {tilt}, in "
        "{divisions} divisions"
    )
    summary = "A hood's mouth to a slanting pipe: true lengths in one diagram, and the pattern triangle by triangle."

    tilt = Angle(25, "by how much the right side of the top has fallen", least=0, under=90)

    def refuse(self) -> None:
        super().refuse()
        refuse_dipping(self.height, self.diameter / 2, self.tilt)

    @cached_property
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        bottom = named("B", rectangle(self.length, self.width), 1)
        if self.seam == 0:
            bottom["M"] = np.array([self.length / 2, self.split, 0.0])
        names = [f"T{k}" for k in range(self.divisions)]
        return bottom, tilted(names, self.top_middle, self.diameter / 2, self.tilt)

    @property
    def top_rim(self) -> Rim:
        return Rim(self.top_middle, self.diameter / 2, self.tilt)


class RoundToTiltedRound(RoundToRound, id="round-to-tilted-round", family="transitions", title="Round to tilted round"):
    keys = ("B*", "O.front", "T*")
    brief = opens = (
        "A transition from a circle {bottom} wide below to one {top} wide above, "
        "tilted {tilt}, in {divisions} divisions"
    )
    summary = "A reducer to a slanting pipe: true lengths in one diagram, and the pattern triangle by triangle."

    tilt = Angle(30, "by how much the right side of the top has fallen", least=0, most=90)

    def refuse(self) -> None:
        super().refuse()
        refuse_dipping(self.height, self.top / 2, self.tilt)

    @cached_property
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        n = self.divisions
        names = [f"T{k}" for k in range(n)]
        return named("B", ring(self.bottom / 2, n)), tilted(names, self.top_middle, self.top / 2, self.tilt)

    def courses(self, method: str) -> Sequence[Course]:
        """Both edges as the skin between the circles unrolls by ever finer triangles."""
        if not self.wants_pattern:
            return ()
        first = 360.0 / self.divisions * self.seam
        low, high = Rim(np.zeros(3), self.bottom / 2), Rim(self.top_middle, self.top / 2, self.tilt)
        edges = unrolled_between(low.at, high.at, first)
        return self.edge_courses(edges, first)


def unrolled_between(
    low: Callable[[Number], Array], high: Callable[[Number], Array], first: float
) -> tuple[Curve, Curve]:
    """The edges of a skin between two closed rims, by degrees from ``first`` on, parted into very many triangles that
    are laid flat one after the other; joined by a cubic spline."""
    from scipy.interpolate import CubicSpline

    turns = first + np.linspace(0.0, 360.0, FINE + 1)
    a, b = low(turns), high(turns)
    base, top, slant = distance(a[1:], a[:-1]), distance(b[1:], b[:-1]), distance(a, b)
    cross = distance(a[:-1], b[1:])
    # each triangle turns and stretches the line between the edges, as complex numbers do in a product
    over, back = _to_third(slant[:-1], cross, top), _to_third(cross, base, slant[1:])
    rungs = 1j * slant[0] * np.cumprod(np.append(1.0, over * (1.0 - back)))
    feet = np.cumsum(np.append(0.0, rungs[:-1] * over * back))
    splines = [CubicSpline(turns, np.column_stack([each.real, each.imag])) for each in (feet, feet + rungs)]
    one, other = (sampled(partial(_along, own), 0.05, first, first + 360.0, False) for own in splines)
    return one, other


def _along(spline: Callable[[Array], Array], turn: Number) -> Array:
    return np.asarray(spline(np.asarray(turn, dtype=float)))


def _to_third(across: Array, near: Array, far: Array) -> Array:
    """By what the line from a corner to a second one, ``across`` long, is multiplied to become the line to the third,
    to its right, ``near`` off the first and ``far`` off the second; places of the plane as complex numbers, (n,)."""
    along = (near**2 - far**2 + across**2) / (2 * across)
    return np.asarray((along - 1j * np.sqrt(np.maximum(near**2 - along**2, 0.0))) / across)


class TiltedTop(Triangulation):
    """A transition on the way whose round top is tilted: its divisions from a circle drawn level, its heights one by
    one."""

    centre: Spot

    def level_circle(self, names: Sequence[str], centre: Spot, radius: float) -> None:
        """The circle of the top as though it lay level, with its divisions."""
        d = self.d
        self.centre = centre
        circle = d.compass(centre, radius, "Draw the circle of the top as though it were level.", "half the diameter")
        rays = d.divide_turn(centre, len(names), length=radius)
        part = 360.0 / len(names)
        self.true_rim = {
            name: d.meet(ray, circle, near=centre.here + radius * np.array([cosd(part * k), sind(part * k)]))
            for k, (ray, name) in enumerate(zip(rays, names))
        }

    def elevation(self) -> None:
        g, d, views = self.g, self.d, self.views
        axis = d.upright_from(d.spots["O.top"], "Carry the middle into the elevation.", role=Role.CENTRE)
        lift = float(views.front.origin[1] - views.top.origin[1])
        words = "On it mark the level of the bottom, clear of the plan."
        self.foot = d.lay_off(axis, d.spots["O.top"], lift, "O.front", words, kind="plain")
        low, high = float(self.low[0]) - 5.0, float(self.high[0]) + 5.0
        self.ground = d.level_from(self.foot, "Draw the ground line level.").extent(low, high)
        crown = d.lay_off(axis, self.foot, g.height, "", "Measure the height up the axis.", kind="plain")
        self.over = d.level_from(crown, "Draw the level of the top’s middle.")
        with d.as_one("Set square", "Carry the bottom’s points up to the ground line."):
            for k, name in enumerate(g.rims[0]):
                rise = d.upright_from(d.spots[f"{name}.top"], role=Role.PROJECTOR)
                d.meet(rise, self.ground, f"{name}.front", kind="plain" if k % 2 else "found")
        with d.as_one("Set square", "And the top’s middle to its level."):
            middle = d.meet(d.upright_from(self.centre, role=Role.PROJECTOR), self.over)
        tilt = d.choice(
            "tilted-the-other-way",
            right=g.given_values["tilt"],
            slip=-g.given_values["tilt"],
            when=g.given_values["tilt"] > 0.5,
            says="The top is tilted up to the right and not down.",
        )
        edge = d.ray(middle, -tilt, f"Through it draw the top, seen on edge, falling to the right by {trim(tilt)}°.")
        with d.as_one("Dividers", "Take from the circle how far right each division is; lay it off along that line."):
            for k, (name, spot) in enumerate(self.true_rim.items()):
                taken = d.opening_along(self.centre, spot, level=True)
                d.lay_off(edge, middle, taken, f"{name}.front", kind="plain" if k % 2 else "found")
        with d.as_one("Set square", "Drop them to the plan, each to the level of its division."):
            for k, (name, spot) in enumerate(self.true_rim.items()):
                drop = d.upright_from(d.spots[f"{name}.front"], role=Role.PROJECTOR)
                d.meet(drop, d.level_from(spot), f"{name}.top", kind="plain" if k % 2 else "found")
        for name in g.places:
            d.in_space(name, views.solid(d.spots[f"{name}.front"].at, d.spots[f"{name}.top"].at))

    def line_in_rims(self, view: View) -> None:
        g, d = self.g, self.d
        bottom, top = g.rims
        ends = [pick(top, key=lambda name: float(top[name][0] - top[name][2])) for pick in (min, max)]
        if view.id == "front":
            if g.is_round(bottom):
                line = [
                    self.views.spot(pick(bottom, key=lambda name: float(bottom[name][0])), view) for pick in (min, max)
                ]
                d.line_in(line, says="Line in the bottom, which is level.")
            d.line_in([self.views.spot(name, view) for name in ends], says="Line in the top, seen on edge.")
            return
        if g.is_round(bottom):
            names = list(bottom)
            seen = [self._open(one, other) for one, other in zip(names, (*names[1:], names[0]))]
            with d.as_one("Compass", "Line in the circle of the bottom."):
                self._arcs(names, seen)
        spots = [self.views.spot(name, view) for name in top]
        if g.given_values["tilt"] > 90.0 - EDGE_ON:
            quarter = len(spots) // 4
            d.line_in([spots[quarter], spots[3 * quarter]], says="Line in the top, which stands on edge.")
        else:
            d.curve(spots, closed=True, says="Line in the ellipse of the top.")

    # true lengths

    def true_lengths(self) -> None:
        """One diagram for all: every top point's own height upright, every plan length level."""
        g, d, top = self.g, self.d, self.views.top
        self.slant: dict[tuple[str, str], tuple[Spot, Spot, str]] = {}
        with d.move("The true-length diagram"):
            with d.as_one("Set square", "Beside the views draw an upright on the ground line."):
                left = min(float(spot.here[0]) for spot in d.spots.values())
                base = d.on(self.ground, left - APART - float(self.foot.here[0]), "L")
                post = d.upright_from(base)
                crown = d.meet(post, self.over)
                self.left = float(base.here[0])
            with d.as_one("Set square", "Carry the top’s points level to it."):
                tips = {name: self._tip(name, post, crown) for name in g.rims[1]}
            feet: list[tuple[float, Spot]] = []
            for low, high in g.slants:
                spot = self._foot(low, high, base, feet, top)
                self.slant[low, high] = (tips[high], spot, "")
            with d.as_one("Straightedge", "Join each to its own level: the true lengths."):
                for tip, spot, _ in self.slant.values():
                    if spot is not base:
                        d.rule(tip, spot)

    def _tip(self, name: str, post: LineMark, crown: Spot) -> Spot:
        """How high a point of the top stands, on the diagram's upright."""
        one_height = self.d.choice(
            "one-height-for-all",
            right=False,
            slip=True,
            when=self.g.given_values["tilt"] > 0.5,
            says="All plan lengths are joined to the level of the top’s middle.",
            at=name,
        )
        return crown if one_height else self.d.meet(self.d.level_from(self.views.spot(name, self.views.front)), post)

    def _foot(self, low: str, high: str, base: Spot, feet: list[tuple[float, Spot]], top: View) -> Spot:
        """Where a plan length ends on the ground line; one that repeats is there already."""
        g, d = self.g, self.d
        plan = g.plan_gap(low, high)
        if plan <= 1e-9 * g.height:
            return base
        place = bisect_left([one for one, _ in feet], plan)
        for one, spot in feet[max(place - 1, 0) : place + 1]:
            if abs(one - plan) <= SAME * max(plan, g.height):
                return spot
        taken = d.opening(self.views.spot(low, top), self.views.spot(high, top))
        says = f"Lay off the plan length of {low} {high} from L, along the ground."
        spot = d.lay_off(self.ground, base, taken, "", says, "height against plan length", "plain", -1)
        feet.insert(place, (plan, spot))
        self.left = min(self.left, float(spot.here[0]))
        return spot

    def opening(self, one: str, other: str) -> tuple[Spot, Spot, str]:
        if one in self.true_rim and other in self.true_rim:
            return self.true_rim[one], self.true_rim[other], ""
        return super().opening(one, other)


class _RectToTilted(TiltedTop):
    g: RectToTiltedRound

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        g = self.g
        if letter == "B":
            self.rectangle([f"B{k}" for k in range(1, 5)], centre, (across, along), g.length, g.width, "bottom’s sides")
            return
        self.level_circle(list(g.rims[1]), centre, g.diameter / 2)
        if g.seam == 0:
            self.split_side(across if g.split == g.offset_y else None)


class _RoundToTilted(TiltedTop):
    g: RoundToTiltedRound

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        g = self.g
        if letter == "B":
            self.circle(list(g.rims[0]), centre, g.bottom / 2, "bottom")
        else:
            self.level_circle(list(g.rims[1]), centre, g.top / 2)


@method(RectToTiltedRound, "triangulation", about=ABOUT, source=SOURCE)
def rect_to_tilted(g: RectToTiltedRound, d: Draft) -> None:
    _RectToTilted(g, d).draw()


@method(RoundToTiltedRound, "triangulation", about=ABOUT, source=SOURCE)
def round_to_tilted(g: RoundToTiltedRound, d: Draft) -> None:
    _RoundToTilted(g, d).draw()
