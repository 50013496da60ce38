"""What coils share: a plan beside an elevation, points from a divided circle and a divided rise, the hidden half
hidden."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, InViews, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Angle, Choice, Count, Real
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot, nominal
from wise_compass.drafting.places import parts_of_turns
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.curves.touching import Touching
from wise_compass.geometry.curves import Curve, coil_curve
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    direction,
    distance,
    left_of,
    point,
    point3,
    polar,
    sind,
)

ORIGIN = point(0.0, 0.0)
BESIDE = 5.0
"""How far beside the elevation the rise is divided, in mm."""
GAP = 14.0
"""Between the plan and the elevation, in mm."""


class Coil(Curved, Moving, InViews, Touching):
    """What helices share: points found from a divided plan circle and a divided rise. The plan lies below the
    elevation."""

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
    @abstractmethod
    def widest(self) -> float: ...

    @property
    @abstractmethod
    def crown(self) -> float:
        """From the foot of the elevation up to its top."""

    @property
    def root(self) -> float:
        """From the foot of the elevation down to its bottom."""
        return 0.0

    @property
    def lift(self) -> float:
        """From the sheet's origin up to the foot of the elevation."""
        return self.widest + GAP + self.root

    def body(self, names: Sequence[str]) -> Sequence[Sequence[str]]:
        return [[name for name in names if name[0] == "H" and name[1:].isdigit()]]

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
        p, q, past = centre + point(left, 0.0), centre + point(right, 0.0), centre + point(0.0, side * self.widest)
        return Linear(p, q, given, value, side=side, rank=rank, prefix=prefix, past=past)

    @abstractmethod
    def radius_at(self, k: Number) -> Number:
        """The radius at space ``k``."""

    @abstractmethod
    def height_at(self, k: Number) -> Number: ...

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
        return coil_curve(
            lambda t: self.radius_at(self.place_at(t)), self._shrink, climb, start, self.sign, self.lift, total
        )

    @cached_property
    def touched(self) -> Curve:
        return self.elevation()

    def courses(self, method: str) -> Sequence[Course]:
        stations = evenly(360.0 / self.divisions, self.spaces + 1)
        names = tuple(f"P{k}" for k in range(self.spaces + 1))
        marks = [(90.0 * k, "the axis" if k % 2 else "the side") for k in range(int(4 * self.whole_turns) + 1)]
        return (
            Course(
                self.curve_says,
                self.touched,
                stations,
                names,
                landmarks=tuple(marks),
                turn="angle turned",
                datum=(0.0, self.lift),
            ),
        )

    def mechanism(self, found: Found, t: float) -> Frame:
        """The radius turning in the plan, and the projector that carries its end across."""
        centre = nominal(found["O"], 1)
        end, high = polar(centre, float(self.radius_at(self.place_at(t))), self.sign * t), self.elevation().at(t)
        return Frame((np.array([centre, end]), np.array([end, high])), (), (end, high))

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        """The tangent in space is drawn in plan and elevation over the run of a radian; its elevation is the
        tangent."""
        k = self.place_at(self.at)
        radius = float(self.radius_at(k))
        words = (
            f"Set off {trim(self.at)}° in the plan; carry its end to its own height, "
            f"this far from the foot: {self.letter}."
        )
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


def find_points(
    d: Draft, levels: Sequence[LineMark], plan: Sequence[Spot], marked: int = 1, per_turn: int = 0
) -> list[Spot]:
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
    """The rise cut into equal spaces beside the elevation, where nothing is in the way, with a level through each
    mark."""
    d.upright_from(foot, "Draw the axis upright.", role=Role.CENTRE, length=total)
    beside = g.widest + BESIDE
    with d.as_one(
        "Set square", "Draw level from the foot to the left of the elevation, and upright there.", Setting(beside, "mm")
    ):
        start = d.lay_off(d.level_from(foot), foot, -beside, "", kind="plain")
        post = d.upright_from(start)
    top = d.lay_off(post, start, total, "", "Lay off the rise on it.", kind="plain")
    says = f"Cut it into {g.spaces} equal spaces: {g.spaces} spaces, {g.spaces + 1} marks."
    marks = d.divide(start, top, g.spaces, says=says, aslant=15.0)
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


def development(d: Draft, corner: Array, around: float, turns: float, rise: float) -> None:
    """The triangle that the unrolled helix is, from its lower left corner; ``around`` is the circumference of a
    turn."""
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
            f"Line in the triangle: D0D2 is the true length{' of one turn' if whole else ''}, "
            "the angle at D0 the lead angle."
        )
        d.line_in([start, end, top], closed=True, says=words)


def measured_development(found: Found) -> dict[str, Number]:
    """Lead angle and length as the development shows them."""
    around, up = distance(found["D0"], found["D1"]), distance(found["D1"], found["D2"])
    return {"lead_angle": np.rad2deg(np.arctan2(up, around)), "length": distance(found["D0"], found["D2"])}


def plan_points(
    g: Coil, d: Draft, centre: Spot, circle: ArcMark, says: str = "Number the divisions: G0, G1 …"
) -> list[Spot]:
    """The divisions of the plan circle, as many as the turns have."""
    rays = d.divide_turn(centre, g.divisions, clockwise=g.sign < 0, length=float(nominal(circle.radius, 0)))
    with d.as_one("Pencil", says):
        ring = on_circle(d, rays, circle)
        # later turns pass over the same places, which bear their first numbers
        return [
            d.also(f"G{k}", ring[k % g.divisions], "found" if k < g.divisions else "plain") for k in range(g.spaces + 1)
        ]


def on_circle(d: Draft, rays: Sequence[LineMark], circle: ArcMark) -> list[Spot]:
    """Where rays from its centre cut a circle."""
    far = 2 * float(nominal(circle.radius, 0))
    return [d.meet(ray, circle, near=ray.at_length(far)) for ray in rays]


def further_ring(g: Coil, d: Draft, centre: Spot, circle: ArcMark, shift: float = 0.0) -> list[Spot]:
    """The plan points of a circle divided from ``shift`` degrees on, as many as the turns have: a circle within,
    another start."""
    rays = d.divide_turn(centre, g.divisions, shift, clockwise=g.sign < 0, length=float(nominal(circle.radius, 0)))
    ring = on_circle(d, rays, circle)
    return [ring[k % g.divisions] for k in range(g.spaces + 1)]
