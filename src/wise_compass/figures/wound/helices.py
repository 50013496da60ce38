"""Helices: a plan beside an elevation, the hidden half hidden, and the development that gives lead angle and true length."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Choice, Count, Length, Real
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot, nominal
from wise_compass.drafting.places import parts_of_turns
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.curves.touching import Touching
from wise_compass.geometry.curves import Curve, coil_curve
from wise_compass.geometry.helices import conical_helix_length
from wise_compass.geometry.vectors import Array, Number, angle_of, direction, distance, left_of, point, point3, polar, sind

ORIGIN = point(0.0, 0.0)
GAP = 14.0
"""Between the plan and the elevation, in mm."""


class Coil(Touching):
    """What helices share: points found from a divided plan circle and a divided rise. The plan lies below the elevation."""

    in_views = True
    curve_says = "the elevation"
    turns = Real(1.5, "the number of turns", least=0.25, most=12)
    hand = Choice("right", "the hand", ("right", "left"))
    divisions = Count(12, "the divisions of a turn", 8, 72, multiple=4)
    at = Angle(240, "the angle turned at the point of touch", least=0, most=4320)

    @property
    def spaces(self) -> int:
        return round(self.turns * self.divisions)

    @property
    def whole_turns(self) -> float:
        return self.spaces / self.divisions

    @property
    def sign(self) -> int:
        """A right-hand helix climbs anticlockwise as seen from above."""
        return 1 if self.hand == "right" else -1

    @property
    def widest(self) -> float:
        raise NotImplementedError

    @property
    def crown(self) -> float:
        """From the foot of the elevation up to its top."""
        raise NotImplementedError

    @property
    def root(self) -> float:
        """From the foot of the elevation down to its bottom."""
        return 0.0

    @property
    def lift(self) -> float:
        """From the sheet's origin up to the foot of the elevation."""
        return self.widest + GAP + self.root

    def views(self, d: Draft) -> Views:
        """The plan under the elevation, or over it."""
        return Views.stacked(d, -self.root, self.crown, self.widest, GAP)

    def plan_by_hand(self, d: Draft) -> tuple[Views, Spot]:
        """Both views, and the plan's centre."""
        views = self.views(d)
        return views, d.start_at("O", 0.0, float(views.top.origin[1]), says="Mark the centre O of the plan.")

    def foot_by_hand(self, d: Draft, views: Views) -> Spot:
        """The foot of the elevation, straight over the plan's centre or under it."""
        where = "under" if d.conventions.projection == "third" else "above"
        return d.plot("", 0.0, float(views.front.origin[1]), f"Mark the foot of the elevation {where} O.", kind="plain")

    def plan_width(
        self, found: Found, left: float, right: float, given: str, value: float, rank: int = 1, prefix: str = ""
    ) -> Linear:
        """A dimension across the plan, on the side away from the elevation."""
        centre = found["O"]
        side = 1 if centre[1] > self.lift else -1
        beside = centre + point(0.0, side * self.widest)
        return Linear(beside + point(left, 0.0), beside + point(right, 0.0), given, value, side=side, rank=rank, prefix=prefix)

    def radius_at(self, k: Number) -> Number:
        """The radius at space ``k``."""
        raise NotImplementedError

    def height_at(self, k: Number) -> Number:
        raise NotImplementedError

    def refuse(self) -> None:
        parts_of_turns(self.turns, self.divisions, "divisions of a turn")
        super().refuse()

    def place_at(self, angle: Number) -> Number:
        """The space, whole or not, at an angle turned."""
        return np.asarray(angle, dtype=float) * self.divisions / 360.0

    def elevation(self, start: float = 0.0) -> Curve:
        """The elevation of the coil that begins at ``start`` degrees, by the angle turned."""
        climb = float(self.height_at(1.0) - self.height_at(0.0)) * self.divisions / (2 * np.pi)
        total = 360.0 * self.whole_turns
        return coil_curve(lambda t: self.radius_at(self.place_at(t)), self._shrink, climb, start, self.sign, self.lift, total)

    @property
    def touched(self) -> Curve:
        return self.elevation()

    def courses(self, method: str) -> Sequence[Course]:
        stations = evenly(360.0 / self.divisions, self.spaces + 1)
        names = tuple(f"P{k}" for k in range(self.spaces + 1))
        marks = [(90.0 * k, "the axis" if k % 2 else "the side") for k in range(int(4 * self.whole_turns) + 1)]
        return (Course(self.curve_says, self.touched, stations, names, landmarks=tuple(marks), turn="angle turned"),)

    def mechanism(self, found: Found, t: float) -> Frame:
        """The radius turning in the plan, and the projector that carries its end across."""
        centre = nominal(found["O"], 1)
        end, high = polar(centre, float(self.radius_at(self.place_at(t))), self.sign * t), self.elevation().at(t)
        return Frame((np.array([centre, end]), np.array([end, high])), (), (end, high))

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        """The tangent in space is drawn in plan and elevation over the run of a radian; its elevation is the tangent."""
        k = self.place_at(self.at)
        radius = float(self.radius_at(k))
        words = f"Set off {trim(self.at)}° in the plan; carry its end to its own height, this far from the foot: {self.letter}."
        height = float(self.height_at(k))
        with d.as_one("Protractor", words, Setting(self.at, "°"), Setting(height, "mm")):
            ray = d.ray(d.spots["O"], self.sign * self.at, instrument="Protractor")
            end = d.lay_off(ray, d.spots["O"], radius, "", kind="plain")
            across = d.upright_from(end, role=Role.PROJECTOR)
            q = d.lay_off(across, end, self.lift + height - float(end.here[1]), self.letter, kind="tangent")
        run = self.touched.derivative(self.at)
        out = direction(self.sign * self.at)
        lean = self.sign * radius * left_of(out) - self._shrink * out
        size = float(distance(lean, ORIGIN))
        words = "In the plan lay off the run of one radian along the tangent of the coil, from that end: Z1."
        with d.as_one("Protractor", words, Setting(size, "mm")):
            tangent_there = d.ray(end, float(angle_of(lean)), instrument="Protractor")
            far = d.lay_off(tangent_there, end, size, "Z1")
        words = f"Carry it across, the rise of one radian above {self.letter}: Z2."
        with d.as_one("Set square", words, Setting(float(run[1]), "mm")):
            carried = d.upright_from(far, role=Role.PROJECTOR)
            top = d.lay_off(carried, far, float(q.here[1] + run[1] - far.here[1]), "Z2")
        tangent = d.rule(q, top, f"Join {q.name}Z2: the tangent in the elevation.", role=Role.CENTRE)
        return q, d.square_to(tangent, q, f"Draw square to it at {q.name}: the normal.")

    @property
    def _shrink(self) -> float:
        """What the radius loses in a radian."""
        return float(self.radius_at(0.0) - self.radius_at(1.0)) * self.divisions / (2 * np.pi)

    def exact_points(self, start: float = 0.0) -> Array:
        """The helix's points in space by definition, shape (spaces + 1, 3): angle, radius and height in proportion."""
        k = np.asarray(np.arange(self.spaces + 1), dtype=float)
        plan = polar(ORIGIN, self.radius_at(k), start + self.sign * 360.0 * k / self.divisions)
        return point3(plan[..., 0], -plan[..., 1], self.height_at(k))

    def truths(self, found: Found) -> Iterator[Truth]:
        h = found.group("H")
        yield Truth("Every point stands where its angle, radius and height belong", distance(h, self.exact_points()))
        radii = np.hypot(h[..., 0], h[..., 1])
        yield Truth("Front view and plan show the same point", found.group("P")[..., 0] - found.group("G")[..., 0])
        yield Truth("The radius is as the plan has it", radii - distance(found.group("G"), found["O"][..., None, :]))
        yield from self.touch_truths(found)


def find_points(d: Draft, levels: Sequence[LineMark], plan: Sequence[Spot], marked: int = 1, per_turn: int = 0) -> list[Spot]:
    """Each plan point carried up to the level of its space; every so-many of them is marked with a ring and its name.

    ``per_turn`` points lie on one another in the plan from turn to turn and bear their first numbers there.
    """
    points = []
    for k, (spot, level) in enumerate(zip(plan, levels)):
        says = f"From {f'G{k % per_turn}' if per_turn else spot.name} in the plan draw upright to level {k}: P{k}."
        with d.as_one("Set square", says, Setting(90, "°")):
            kind = "plain" if k % marked else "found"
            points.append(d.meet(d.upright_from(spot, role=Role.PROJECTOR), level, f"P{k}", kind=kind))
    return points


def record_in_space(d: Draft, views: Views, plan: Sequence[Spot], points: Sequence[Spot]) -> None:
    """The points in space that plan and elevation fix: H0, H1 …"""
    for k, (spot, up) in enumerate(zip(plan, points)):
        d.in_space(f"H{k}", views.solid(up.at, spot.at))


def levels_of(g: Coil, d: Draft, foot: Spot, total: float) -> list[LineMark]:
    """The rise cut into equal spaces, with a level through each mark."""
    axis = d.upright_from(foot, "Draw the axis upright.", role=Role.CENTRE)
    top = d.lay_off(axis, foot, total, "", "Lay off the rise on it.", kind="plain")
    marks = d.divide(foot, top, g.spaces, says=f"Cut it into {g.spaces} equal spaces: {g.spaces} spaces, {g.spaces + 1} marks.")
    with d.as_one("Set square", "Draw level through every mark."):
        return [d.level_from(mark) for mark in marks]


def line_in_coil(g: Coil, d: Draft, points: Sequence[Spot], what: str, shift: float = 0.0) -> None:
    """The curve in pieces: what passes behind the axis is hidden. ``shift`` is where it starts, in degrees."""
    middles = shift + g.sign * 360.0 * (np.arange(len(points) - 1) + 0.5) / g.divisions
    front = sind(middles) < 0  # the plan's lower half is nearer the eye
    if not shift:
        g.touch_in(d)
    row = d.row(points)
    with d.phase("Line in"):
        start = 0
        for k in range(1, len(points)):
            if k == len(points) - 1 or front[k] != front[start]:
                role, words = (Role.OUTLINE, "in front") if front[start] else (Role.HIDDEN, "behind, dashed")
                says = f"Line in {what} from space {start} to {k}, {words}."
                d.curve(points[start : k + 1], role=role, says=says, whole=row, first=start)
                start = k


class Helix(Coil, id="helix", family="helices", title="Helix"):
    brief = (
        "A {hand}-hand helix of radius {radius} and lead {lead}, {turns} turns of {starts} starts, found with {method} in "
        "{divisions} divisions."
    )
    summary = "A point that goes round a cylinder and along it evenly: a screw, a stair, a spring."
    value_names = ("lead_angle", "length", "rise")

    radius = Length(27, "the radius")
    lead = Length(84, "the lead")
    starts = Count(1, "the number of starts", 1, 8)

    @property
    def widest(self) -> float:
        return self.radius

    @property
    def rise(self) -> float:
        return self.lead * self.whole_turns

    @property
    def unrolled(self) -> float:
        """How many turns the development shows: one, or less where there is less; more would only take room."""
        return min(self.whole_turns, 1.0)

    @property
    def crown(self) -> float:
        return self.rise

    def radius_at(self, k: Number) -> Number:
        return self.radius + 0.0 * np.asarray(k, dtype=float)

    def height_at(self, k: Number) -> Number:
        return self.lead * np.asarray(k, dtype=float) / self.divisions

    def values(self, method: str) -> Iterable[Value]:
        r, lead, t = bare(self.radius), bare(self.lead), trim(self.whole_turns)
        around = 2 * np.pi * self.radius
        yield Value(
            "lead_angle", float(np.rad2deg(np.arctan2(self.lead, around))), "°", f"arctan({lead} / (2π × {r}))", ("D0", "D2")
        )
        yield Value(
            "length", self.whole_turns * float(np.hypot(around, self.lead)), "mm", f"{t} √((2π × {r})² + {lead}²)", ("D0", "D2")
        )
        yield Value("rise", self.rise, "mm", f"{lead} × {t}", ("P0", f"P{self.spaces}"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        developed = measured_development(found)
        return {
            **developed,
            "length": developed["length"] * self.whole_turns / self.unrolled,
            "rise": found[f"P{self.spaces}"][..., 1] - found["P0"][..., 1],
            **self.touch_measure(found),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        h = found.group("H")
        flat = np.asarray(distance(h[..., 1:, :2], h[..., :-1, :2]))
        arcs = 2 * self.radius * np.arcsin(np.minimum(flat / (2 * self.radius), 1.0))
        slope = self.lead / (2 * np.pi * self.radius)
        yield Truth("It climbs alike for every arc it goes round", np.diff(h[..., 2], axis=-1) - slope * arcs)
        for s in range(1, self.starts):
            also = found.together(found.names(f"S{s}P"))
            yield Truth(
                f"Start {s + 1} is the first one turned by {trim(360 * s / self.starts)}°",
                np.stack(
                    [
                        also[..., 1] - found.group("P")[..., 1],
                        also[..., 0] - self.exact_points(360.0 * s / self.starts)[..., 0],
                    ],
                    axis=-1,
                ),
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = self.radius
        yield self.plan_width(found, 0.0, right, "radius", self.radius, prefix="R")
        if self.whole_turns >= 1:
            yield Linear(point(right, self.lift), point(right, self.lift + self.lead), "lead", self.lead)


@method(Helix, "divided-circle", about="Plan and rise divided alike; each plan point goes up to its level.")
def helix_divided(g: Helix, d: Draft) -> None:
    with d.phase("Plan"):
        views, centre = g.plan_by_hand(d)
        circle = d.circle_in(centre, g.radius, "Centre O, line in the plan circle.")
        plan = plan_points(g, d, centre, circle)
    with d.phase("Rise"):
        foot = g.foot_by_hand(d, views)
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, per_turn=g.divisions)
    others = []
    for s in range(1, g.starts):
        with d.phase(f"Start {s + 1}"):
            ring = further_ring(g, d, centre, circle, 360.0 * s / g.starts)
            says = f"Its plan points carried up to the same levels: start {s + 1}."
            with d.as_one("Set square", says, Setting(90, "°")):
                others.append([d.project(f"S{s}P{k}", spot, points[k], kind="plain") for k, spot in enumerate(ring)])
    development(d, point(g.radius + 2.2 * GAP, g.lift), 2 * np.pi * g.radius, g.unrolled, g.lead * g.unrolled)
    line_in_coil(g, d, points, "the helix")
    for s, row in enumerate(others, 1):
        line_in_coil(g, d, row, f"start {s + 1}", 360.0 * s / g.starts)
    record_in_space(d, views, plan, points)


def development(d: Draft, corner: Array, around: float, turns: float, rise: float) -> None:
    """The triangle that the unrolled helix is, from its lower left corner; ``around`` is the circumference of a turn."""
    with d.phase("Development"):
        start = d.plot("D0", float(corner[0]), float(corner[1]), "Mark D0 beside the elevation.")
        level = d.level_from(start, "Draw level from D0.")
        whole = turns == 1
        says = "Lay off the circumference of one turn: D1." if whole else "Lay off the circumference for all turns: D1."
        why = "" if whole else f"{bare(around)} × {trim(turns)}"
        end = d.lay_off(level, start, around * turns, "D1", says, why)
        upright = d.square_to(level, end, "Draw upright at D1.")
        top = d.lay_off(upright, end, rise, "D2", f"Lay off the rise{' of one turn' if whole else ''}: D2.")
        words = (
            f"Line in the triangle: D0D2 is the true length{' of one turn' if whole else ''}, the angle at D0 the lead angle."
        )
        d.line_in([start, end, top], closed=True, says=words)


def measured_development(found: Found) -> dict[str, Number]:
    """Lead angle and length as the development shows them."""
    around, up = distance(found["D0"], found["D1"]), distance(found["D1"], found["D2"])
    return {"lead_angle": np.rad2deg(np.arctan2(up, around)), "length": distance(found["D0"], found["D2"])}


def plan_points(g: Coil, d: Draft, centre: Spot, circle: ArcMark, says: str = "Number the divisions: G0, G1 …") -> list[Spot]:
    """The divisions of the plan circle, as many as the turns have."""
    rays = d.divide_turn(centre, g.divisions, clockwise=g.sign < 0, length=float(nominal(circle.radius, 0)))
    with d.as_one("Pencil", says):
        ring = on_circle(d, rays, circle)
        # later turns pass over the same places, which bear their first numbers
        return [d.also(f"G{k}", ring[k % g.divisions], "found" if k < g.divisions else "plain") for k in range(g.spaces + 1)]


def on_circle(d: Draft, rays: Sequence[LineMark], circle: ArcMark) -> list[Spot]:
    """Where rays from its centre cut a circle."""
    far = 2 * float(nominal(circle.radius, 0))
    return [d.meet(ray, circle, near=ray.at_length(far)) for ray in rays]


def further_ring(g: Coil, d: Draft, centre: Spot, circle: ArcMark, shift: float = 0.0) -> list[Spot]:
    """The plan points of a circle divided from ``shift`` degrees on, as many as the turns have: a circle within, another start."""
    rays = d.divide_turn(centre, g.divisions, shift, clockwise=g.sign < 0, length=float(nominal(circle.radius, 0)))
    ring = on_circle(d, rays, circle)
    return [ring[k % g.divisions] for k in range(g.spaces + 1)]


class ConicalHelix(Coil, id="conical-helix", family="helices", title="Conical helix"):
    brief = "A {hand}-hand helix on a cone of base radius {base_radius} and height {height}, {turns} turns, found with {method} in {divisions} divisions."
    summary = "It climbs a cone evenly, its radius falling to nothing: a conveyor, a spire's stair."
    value_names = ("length", "slant")

    base_radius = Length(33, "the base radius")
    height = Length(90, "the height")
    turns = Real(1, "the number of turns", least=0.25, most=12)

    @property
    def widest(self) -> float:
        return self.base_radius

    def radius_at(self, k: Number) -> Number:
        return self.base_radius * (1.0 - np.asarray(k, dtype=float) / self.spaces)

    def height_at(self, k: Number) -> Number:
        return self.height * np.asarray(k, dtype=float) / self.spaces

    @property
    def crown(self) -> float:
        return self.height

    def values(self, method: str) -> Iterable[Value]:
        r, h, t = bare(self.base_radius), bare(self.height), trim(self.whole_turns)
        length = float(conical_helix_length(self.base_radius, self.height, self.whole_turns))
        words = f"∫ √({r}² + {h}² + (2π × {t} × ρ)²) dρ / {r} from 0 to {r}"
        yield Value("length", length, "mm", words, ("P0", f"P{self.spaces}"))
        yield Value("slant", float(np.hypot(self.base_radius, self.height)), "mm", f"√({r}² + {h}²)", ("P0", f"P{self.spaces}"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        base = distance(found["G0"], found["O"])
        height = found[f"P{self.spaces}"][..., 1] - found["P0"][..., 1]
        length = conical_helix_length(base, height, self.whole_turns)
        return {"length": length, "slant": np.hypot(base, height), **self.touch_measure(found)}

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = self.base_radius
        yield self.plan_width(found, -right, 0.0, "base_radius", right)
        yield Linear(point(right, self.lift), point(right, self.lift + self.height), "height", self.height)


@method(ConicalHelix, "divided-circle", about="The plan a spiral of equal spaces, the rise divided alike.")
def conical_divided(g: ConicalHelix, d: Draft) -> None:
    with d.phase("Plan"):
        views, centre = g.plan_by_hand(d)
        d.circle_in(centre, g.base_radius, "Centre O, line in the base circle.")
        rays = d.divide_turn(centre, g.divisions, clockwise=g.sign < 0, length=g.base_radius)
        with d.as_one(
            "Dividers",
            f"Cut the first ray into {g.spaces} equal spaces from the rim; swing each mark to its own ray: G0, G1 …",
            Setting(g.base_radius / g.spaces, "mm"),
        ):
            plan = [d.lay_off(rays[k % g.divisions], centre, float(g.radius_at(k)), f"G{k}") for k in range(g.spaces + 1)]
        d.curve(plan, says="Line in the plan, a spiral.")
    with d.phase("Rise"):
        foot = g.foot_by_hand(d, views)
        levels = levels_of(g, d, foot, g.height)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan)
    with d.phase("The cone"):
        says = "From the foot lay off the base radius both ways."
        with d.as_one("Rule", says, Setting(g.base_radius, "mm")):
            ends = [d.lay_off(levels[0], foot, x, "", kind="plain") for x in (-g.base_radius, g.base_radius)]
        d.line_in([ends[0], ends[1], points[-1]], closed=True, says="Line in the cone.")
    line_in_coil(g, d, points, "the helix")
    record_in_space(d, views, plan, points)
