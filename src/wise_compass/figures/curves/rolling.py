"""Rolling curves: cycloids and trochoids on a line, outside a circle and inside one."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Angle, Choice, Count, Length, Real
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import parts_of_turns
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.curves.touching import WORDS, Touching
from wise_compass.geometry.curves import Curve, roll_curve
from wise_compass.geometry.rolling import CircleRoll, LineRoll, Roll, roll_length
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, cross, distance, dot, left_of, length, point

NEAREST = 2e-3
"""The shortest chord, in arms of the tracing point, that a normal is drawn by."""


class RollingCurve(Curved, Moving, Touching):
    """What rolling curves share. A subclass gives :attr:`roll` and :attr:`total`, the whole angle rolled."""

    divisions = Count(12, "the divisions of the rolling circle", 8, 72, multiple=4)
    touch = Choice("tangent", "what touches it at a point", tuple(WORDS), WORDS)
    at = Angle(75, "the turning angle of the point of touch", least=0, most=3600)

    @cached_property
    @abstractmethod
    def roll(self) -> Roll: ...

    @property
    @abstractmethod
    def tracing(self) -> float:
        """From the rolling centre to the tracing point."""

    def tracing_dimension(self, found: Found) -> Iterator[Dimension]:
        """How far the tracing point lies from the rolling centre, where that is given."""
        if "tracing_radius" in self.givens:
            yield Linear(found["C"], found["P0"], "tracing_radius", self.tracing)

    @property
    def total(self) -> float:
        """The angle rolled, in degrees."""
        return 360.0

    @property
    def spaces(self) -> int:
        return round(self.total / 360.0 * self.divisions)

    @cached_property
    def touched(self) -> Curve:
        return roll_curve(self.roll, self.total)

    @property
    def breaks(self) -> tuple[int, ...]:
        """The found points at which a rim point has a cusp and a hand lifts the curve."""
        rim = self.tracing == self.roll.r
        return tuple(range(self.divisions, self.spaces, self.divisions)) if rim else ()

    def courses(self, method: str) -> Sequence[Course]:
        names = tuple(f"P{k}" for k in range(self.spaces + 1))
        rim = self.tracing == self.roll.r
        ends = np.arange(0.0, self.total + 1.0, 360.0)
        marks = [(float(t), "a cusp" if rim else "where it comes down") for t in ends]
        marks += [(float(t) + 180.0, "the top of the arch") for t in ends if t + 180.0 <= self.total]
        pole = self.roll.pole
        words = "turning angle"
        return (
            Course("the curve", self.touched, self.turned(), names, self.breaks, tuple(marks), turn=words, pole=pole),
        )

    def mechanism(self, found: Found, t: float) -> Frame:
        """The circle rolled by ``t`` degrees, its arm and its contact."""
        roll = self.roll
        hub, tracer, contact = roll.centre(t), roll.tracer(t), roll.contact(t)
        circles = ((hub, roll.r),) if roll.a == roll.r else ((hub, roll.r), (hub, roll.a))
        lines = (np.array([hub, tracer]), np.array([contact, hub]))
        return Frame(lines, circles, (hub, tracer, contact))

    def turned(self) -> Array:
        """The rolled angle of each found point, shape (spaces + 1,)."""
        return evenly(360.0 / self.divisions, self.spaces + 1)

    def truths(self, found: Found) -> Iterator[Truth]:
        p, roll = found.group("P"), self.roll
        angles = self.turned()
        yield Truth(
            "Every point stands its tracing radius from the rolling centre", distance(p, roll.centre(angles)) - roll.a
        )
        yield Truth("Every point stands where rolling without slipping carries it", distance(p, roll.tracer(angles)))
        yield from self.touch_truths(found)

    def _chord(self) -> float:
        """From the contact to the point of touch."""
        return float(distance(self.roll.contact(self.at), self.roll.tracer(self.at)))

    @abstractmethod
    def stand_at(self, d: Draft) -> tuple[Spot, Spot]:
        """The contact I and the rolling centre where the circle has turned to the point of touch, found by hand."""

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        roll, name = self.roll, self.letter
        contact, hub = self.stand_at(d)
        says = (
            f"At the centre set off the turning angle {trim(self.at)}° from the contact; "
            f"the tracing radius there ends in {name}."
        )
        with d.as_one("Protractor", says, Setting(self.at, "°"), Setting(roll.a, "mm")):
            arm = d.ray(hub, angle_of(roll.tracer(self.at) - roll.centre(self.at)), instrument="Protractor")
            q = d.lay_off(arm, hub, roll.a, name, kind="tangent")
        if self._chord() > NEAREST * roll.a:
            words = f"Join {name} to the contact I, the instant centre: the normal."
            return q, d.rule(q, contact, words, why="the circle turns about it")
        if not self._at_cusp():
            facing = float(angle_of(left_of(self._tangent())))
            words = f"At {name} set off the normal by its worked direction."
            with d.as_one(
                "Protractor", words, Setting(facing % 180.0, "°"), why="the instant centre lies too near to be joined"
            ):
                return q, d.ray(q, facing, instrument="Protractor")
        why = "at a cusp the normal has no length; the tangent runs through the rolling centre"
        radius = d.rule(q, hub, f"Join {name} to the rolling centre: the tangent.", why=why)
        return q, d.square_to(radius, q, f"Draw square to it at {name}: the normal.")


def line_in_roll(g: RollingCurve, d: Draft) -> None:
    """What touches the curve, and the curve itself: at a cusp the hand lifts and begins anew."""
    g.touch_in(d)
    points = [d.spots[f"P{k}"] for k in range(g.spaces + 1)]
    cuts = [0, *g.breaks, g.spaces]
    with d.phase("Line in"):
        for a, b in zip(cuts, cuts[1:]):
            d.curve(points[a : b + 1], says=f"Line in the curve through P{a} to P{b}.")


class LineRolling(RollingCurve):
    """Circles that roll on a line."""

    diameter = Length(36, "the diameter of the rolling circle")
    turns = Real(1, "the number of turns", least=0.25, most=6)

    @property
    def tracing(self) -> float:
        return self.diameter / 2

    @cached_property
    def roll(self) -> LineRoll:
        return LineRoll(self.diameter / 2, self.tracing)

    @property
    def total(self) -> float:
        return 360.0 * self.spaces / self.divisions

    @property
    def spaces(self) -> int:
        return round(self.turns * self.divisions)

    def refuse(self) -> None:
        parts_of_turns(self.turns, self.divisions, "divisions of a turn")
        super().refuse()

    def stand_at(self, d: Draft) -> tuple[Spot, Spot]:
        rolled = float(self.roll.contact(self.at)[0])
        says = (
            f"Along the base lay off the length rolled at {trim(self.at)}°: the "
            "contact I; the centre stands straight over it."
        )
        with d.as_one("Rule", says, Setting(rolled, "mm"), why=f"{bare(self.diameter)} × π × {trim(self.at)} / 360"):
            contact = d.lay_off(d.level_from(d.spots["B"]), d.spots["B"], rolled, "I")
            return contact, d.lay_off(d.upright_from(contact), contact, self.roll.r, "", kind="plain")

    def base_value(self) -> Value:
        return Value("base_length", np.pi * self.diameter, "mm", f"π × {bare(self.diameter)}", ("P0",))

    def measure(self, found: Found) -> dict[str, Number]:
        p = found.group("P")
        rolled = p[..., -1, 0] - p[..., 0, 0] + self._lag()
        return {"base_length": rolled * self.divisions / self.spaces, **self.touch_measure(found)}

    def _lag(self) -> float:
        """By how much the last tracing point lies behind its centre."""
        return self.tracing * float(np.sin(np.deg2rad(self.total)))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(
            point(0.0, 0.0),
            point(np.pi * self.diameter * self.spaces / self.divisions, 0.0),
            "turns",
            np.pi * self.diameter * self.spaces / self.divisions,
            derived=True,
        )
        yield Radial(point(0.0, self.diameter / 2), self.diameter / 2, "diameter", self.diameter, 150.0, diameter=True)
        yield from self.tracing_dimension(found)
        yield from self.touch_dimensions(found)


class Cycloid(LineRolling, id="cycloid", family="rolling", title="Cycloid"):
    keys = ("P*",)
    brief = "A cycloid rolled by a circle of {diameter} in {turns} turns, by {method} in {divisions} divisions."
    summary = "The path of a point on the rim of a rolling wheel: a tooth flank, an arch."
    ways = ("divided-circle", "instant-centres")
    value_names = ("base_length", "arch_length", "area")

    def values(self, method: str) -> Iterable[Value]:
        yield self.base_value()
        yield Value("arch_length", 4 * self.diameter, "mm", f"4 × {bare(self.diameter)}")
        yield Value("area", 0.75 * np.pi * self.diameter**2, "mm²", f"3 π × {bare(self.diameter)}² / 4")
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        """Of the curve drawn: the arm from the heights of the points, the advance from the base that was stepped
        off."""
        out = super().measure(found)
        p, c = found.group("P"), np.asarray(cosd(self.turned()))
        c = c - c.mean()
        arm = -(p[..., 1] * c).sum(axis=-1) / (c * c).sum()
        advance = out["base_length"] / (2 * np.pi)
        centre = p[..., 0, 1] + arm
        length = roll_length(advance, arm, 1.0)
        return {**out, "arch_length": length, "area": 2 * np.pi * centre * advance + np.pi * arm * arm}


class Trochoid(LineRolling, id="trochoid", family="rolling", title="Trochoid"):
    keys = ("P*",)
    brief = (
        "A trochoid traced {tracing_radius} from the centre of a circle of {diameter} "
        "in {turns} turns, found with {method} in "
        "{divisions} divisions."
    )
    summary = "The path of a point carried inside or beyond a rolling wheel: a spoke, a paddle."
    ways = ("divided-circle", "instant-centres")
    value_names = ("base_length",)

    tracing_radius = Length(28, "the tracing radius", most=lambda g: 5 * g.diameter)

    @property
    def tracing(self) -> float:
        return self.tracing_radius

    def values(self, method: str) -> Iterable[Value]:
        yield self.base_value()
        yield from self.touch_values()


class CircleRolling(RollingCurve):
    """Circles that roll on a circle for one arch."""

    inside = False
    rolling_diameter = Length(32, "the diameter of the rolling circle", most="base_diameter")
    base_diameter = Length(144, "the diameter of the base circle")

    @property
    def tracing(self) -> float:
        return self.rolling_diameter / 2

    @property
    def turn(self) -> float:
        """At the base centre, for one arch."""
        return 360.0 * self.rolling_diameter / self.base_diameter

    @cached_property
    def roll(self) -> CircleRoll:
        return CircleRoll(
            self.base_diameter / 2, self.rolling_diameter / 2, self.tracing, self.inside, 90.0 + self.turn / 2
        )

    def stand_at(self, d: Draft) -> tuple[Spot, Spot]:
        roll, centre = self.roll, d.spots["O"]
        swept = float(roll.swept(self.at))
        says = (
            f"At O set off the angle that the contact has gone round at {trim(self.at)}°; "
            "on its ray the contact I and the centre."
        )
        why = f"{trim(self.at)}° × {bare(self.rolling_diameter)} / {bare(self.base_diameter)}"
        with d.as_one("Protractor", says, Setting(swept, "°"), why=why):
            ray = d.ray(centre, roll.start - swept, instrument="Protractor")
            hub = d.lay_off(ray, centre, roll.track, "", kind="plain")
            return d.lay_off(ray, centre, roll.base, "I"), hub

    def turn_value(self) -> Value:
        words = f"360° × {bare(self.rolling_diameter)} / {bare(self.base_diameter)}"
        return Value("turn_angle", self.turn, "°", words, ("P0", "O", f"P{self.spaces}"))

    def measure(self, found: Found) -> dict[str, Number]:
        p = found.group("P")
        steps = np.arctan2(cross(p[..., 1:, :], p[..., :-1, :]), dot(p[..., 1:, :], p[..., :-1, :]))
        return {"turn_angle": np.rad2deg(steps.sum(axis=-1)), **self.touch_measure(found)}

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        base, wheel = self.base_diameter, self.rolling_diameter
        out = 90.0 - self.turn / 2 - 12.0
        yield Radial(point(0.0, 0.0), base / 2, "base_diameter", base, out, diameter=True, half=True)
        yield Radial(self.roll.centre(0.0), wheel / 2, "rolling_diameter", wheel, 160.0, diameter=True)
        yield from self.tracing_dimension(found)
        yield from self.touch_dimensions(found)


class Epicycloid(CircleRolling, id="epicycloid", family="rolling", title="Epicycloid"):
    keys = ("P*",)
    brief = (
        "An epicycloid rolled by a circle of {rolling_diameter} outside one of "
        "{base_diameter}, found with {method} in {divisions} "
        "divisions."
    )
    summary = "The rim point of a circle rolling outside another: the face of a clock tooth."
    ways = ("divided-circle", "instant-centres")
    value_names = ("turn_angle", "arch_length")

    def values(self, method: str) -> Iterable[Value]:
        yield self.turn_value()
        r, base = self.rolling_diameter / 2, self.base_diameter / 2
        words = f"8 × {bare(r)} × ({bare(base)} {'−' if self.inside else '+'} {bare(r)}) / {bare(base)}"
        yield Value("arch_length", 8 * r * self.roll.track / base, "mm", words)
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        """Of the curve drawn: track and arm from the nearest and the furthest point, the way round O from their
        angles."""
        out = super().measure(found)
        p = found.group("P")
        near, far = length(p[..., 0, :]), length(p[..., self.spaces // 2, :])
        arm, track = np.abs(far - near) / 2, (far + near) / 2
        round_o = out["turn_angle"] / 360.0
        # the arm turns against the centre's own way round O outside, with it inside
        return {
            **out,
            "arch_length": roll_length(round_o * track, arm, 1.0 - round_o if self.inside else 1.0 + round_o),
        }


class Hypocycloid(Epicycloid, id="hypocycloid", family="rolling", title="Hypocycloid"):
    keys = ("P*",)
    brief = (
        "A hypocycloid rolled by a circle of {rolling_diameter} inside one of "
        "{base_diameter}, found with {method} in {divisions} "
        "divisions."
    )
    summary = "The rim point of a circle rolling inside another: the flank of a clock tooth."
    ways = ("divided-circle", "instant-centres")
    inside = True

    rolling_diameter = Length(32, "the diameter of the rolling circle", most=lambda g: 0.9 * g.base_diameter)


class Epitrochoid(CircleRolling, id="epitrochoid", family="rolling", title="Epitrochoid"):
    keys = ("P*",)
    brief = (
        "An epitrochoid traced {tracing_radius} from the centre of a circle of "
        "{rolling_diameter} rolling outside one of "
        "{base_diameter}, found with {method} in {divisions} divisions."
    )
    summary = "A point carried by a circle rolling outside another."
    ways = ("divided-circle", "instant-centres")
    value_names = ("turn_angle",)

    tracing_radius = Length(
        11, "the tracing radius", most=lambda g: min(0.475 * g.base_diameter, 5 * g.rolling_diameter)
    )

    @property
    def tracing(self) -> float:
        return self.tracing_radius

    def values(self, method: str) -> Iterable[Value]:
        yield self.turn_value()
        yield from self.touch_values()


class Hypotrochoid(Epitrochoid, id="hypotrochoid", family="rolling", title="Hypotrochoid"):
    keys = ("P*",)
    brief = (
        "A hypotrochoid traced {tracing_radius} from the centre of a circle of "
        "{rolling_diameter} rolling inside one of "
        "{base_diameter}, found with {method} in {divisions} divisions."
    )
    summary = "A point carried by a circle rolling inside another."
    ways = ("divided-circle", "instant-centres")
    inside = True

    rolling_diameter = Length(32, "the diameter of the rolling circle", most=lambda g: 0.9 * g.base_diameter)
    tracing_radius = Length(
        11,
        "the tracing radius",
        most=lambda g: min(0.45 * (g.base_diameter - g.rolling_diameter), 5 * g.rolling_diameter),
    )
