"""Fillets: arcs that round a corner. Tangent points come before arcs."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Angular, Dimension, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import LONGEST_LENGTH, Angle, Length
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.figures.plane.tangency import ORIGIN, shorter_arc, touching_parallel
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Number, angle_of, distance, dot, point, polar, sind, tand


class Fillet(Figure, id="fillet", family="tangency", title="Fillet"):
    keys = ("K", "T*", "V")
    brief = "A fillet of radius {radius} in a corner of {angle}, found with {method}."
    summary = "An arc that rounds a corner, touching both its sides."
    ways = ("swung-arcs", "perpendicular-offsets")
    value_names = ("tangent_length", "centre_distance", "arc_angle", "arc_length")

    angle = Angle(74, "the angle of the corner")
    radius = Length(22, "the radius")

    @property
    def tangent_length(self) -> float:
        return self.radius / float(tand(self.angle / 2))

    @property
    def arm(self) -> float:
        """How far the sides are drawn."""
        return max(1.35 * self.tangent_length, self.tangent_length + 0.5 * self.radius)

    def refuse(self) -> None:
        if self.arm > LONGEST_LENGTH:
            most = self.radius * LONGEST_LENGTH / self.arm
            raise Refused(
                "radius",
                f"In a corner of {trim(self.angle)}° this fillet touches "
                f"{mm(self.tangent_length)} from the corner, too "
                f"far for the sides. Lower radius to {most_mm(most)} or raise angle.",
            )

    def values(self, method: str) -> Iterable[Value]:
        r, half = bare(self.radius), trim(self.angle / 2)
        yield Value("tangent_length", self.tangent_length, "mm", f"{r} / tan {half}°", ("V", "T1"))
        yield Value(
            "centre_distance", self.radius / float(sind(self.angle / 2)), "mm", f"{r} / sin {half}°", ("V", "K")
        )
        yield Value("arc_angle", 180.0 - self.angle, "°", f"180° − {trim(self.angle)}°", ("T1", "K", "T2"))
        turn = np.deg2rad(180.0 - self.angle)
        yield Value(
            "arc_length", self.radius * float(turn), "mm", f"{r} × {trim(180 - self.angle)} π / 180", ("T1", "T2")
        )

    def measure(self, found: Found) -> dict[str, Number]:
        v, k, one, two = found["V"], found["K"], found["T1"], found["T2"]
        turn = np.remainder(angle_of(two - k) - angle_of(one - k), 360.0)
        turn = np.minimum(turn, 360.0 - turn)
        return {
            "tangent_length": distance(v, one),
            "centre_distance": distance(v, k),
            "arc_angle": turn,
            "arc_length": distance(k, one) * np.deg2rad(turn),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        v, k = found["V"], found["K"]
        away = distance_to_line(k, v, point(1.0, 0.0)), -distance_to_line(k, v, polar(ORIGIN, 1.0, self.angle))
        yield Truth("The centre stands exactly the radius off both sides", np.stack(away, axis=-1) - self.radius)
        for name, u in (("T1", point(1.0, 0.0)), ("T2", polar(ORIGIN, 1.0, self.angle))):
            yield Truth(f"{name} lies on its side, the radius from the centre", distance_to_line(found[name], v, u))
            yield Truth(f"The radius to {name} is square to the side", dot(found[name] - k, u))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Angular(ORIGIN, 0.0, self.angle, "angle", self.angle)
        yield Radial(found["K"], self.radius, "radius", self.radius, 180.0 + self.angle / 2)


def _corner(g: Fillet, d: Draft) -> tuple[Spot, LineMark, LineMark]:
    with d.phase("The corner"):
        v = d.start_at("V", says="Mark the corner V.")
        one = d.level_from(v, "Draw one side level.", length=g.arm)
        two = d.ray(v, g.angle, "Draw the other side at the angle.", length=g.arm)
    return v, one, two


def _finish_fillet(g: Fillet, d: Draft, v: Spot, one: LineMark, two: LineMark, loci: list[LineMark]) -> None:
    with d.phase("The centre"):
        centre = d.meet(loci[0], loci[1], "K")
    with d.phase("Tangent points"):
        first, second = moves.touch_foot(d, centre, one, "T1"), moves.touch_foot(d, centre, two, "T2")
    with d.phase("Line in"):
        shorter_arc(d, centre, g.radius, first, second, "Centre K, line in the arc from T1 exactly to T2.")
        ends = [d.on(line, g.arm) for line in (one, two)]
        d.line_in([first, ends[0]], says="Line in one side from T1.")
        d.line_in([second, ends[1]], says="Line in the other from T2.")


@method(
    Fillet,
    "swung-arcs",
    about="Parallels that touch arcs of the radius swung from both sides.",
    source="A touching circle's centre is a radius away from both lines",
)
def fillet_swung(g: Fillet, d: Draft) -> None:
    v, one, two = _corner(g, d)
    with d.phase("Loci of the centre"):
        stations = (0.35 * g.arm, 0.95 * g.arm)
        loci = [touching_parallel(d, line, g.radius, stations, side) for line, side in ((one, 1), (two, -1))]
    _finish_fillet(g, d, v, one, two, loci)


@method(
    Fillet,
    "perpendicular-offsets",
    about="The radius laid off square to each side, and parallels drawn through.",
    source="A touching circle's centre is a radius away from both lines, square to each",
)
def fillet_offsets(g: Fillet, d: Draft) -> None:
    v, one, two = _corner(g, d)
    with d.phase("Loci of the centre"):
        loci = [moves.parallel_at(d, line, v, side * g.radius) for line, side in ((one, 1), (two, -1))]
    _finish_fillet(g, d, v, one, two, loci)
