"""Tangent and normal at a point of an ellipse, and the circles that touch there."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Leader, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import SHORTEST_LENGTH, Angle, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.figures.curves.touching import by_focal_radii
from wise_compass.geometry import conics
from wise_compass.geometry.curves import ellipse_curve
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    cross,
    distance,
    dot,
    left_of,
    point,
    sind,
    unit,
)

ORIGIN = point(0.0, 0.0)


class EllipseTangent(Curved, Figure, id="ellipse-tangent", family="conics", title="Tangent and normal of an ellipse"):
    keys = ("F*", "K*", "N", "P", "T")
    brief = (
        "The tangent of an ellipse {long} long and {wide} wide at {at}, and the circles "
        "of {circle_radius} touching there, by {method}."
    )
    summary = "The normal halves the angle of the two focal radii: the joints of an arch, a nozzle on a head."
    value_names = ("normal_angle", "to_focus_1", "to_focus_2")

    long = Length(152, "the long axis")
    wide = Length(88, "the short axis", most=lambda g: g.long - 1.0, least=lambda g: max(g.long / 200, SHORTEST_LENGTH))
    at = Angle(60, "the eccentric angle", least=-360, most=360)
    circle_radius = Length(18, "the radius of the touching circles")

    def courses(self, method: str) -> Sequence[Course]:
        a, b, _ = self.axes
        curve = ellipse_curve(point(a, 0.0), point(0.0, b))
        return (Course("the ellipse", curve, np.zeros(0), turn="eccentric angle", pole=ORIGIN),)

    def cautions(self) -> Iterable[str]:
        if self.circle_radius > self.curvature_radius:
            own = most_mm(self.curvature_radius)
            yield (
                f"circle_radius is {mm(self.circle_radius)}, over the curve’s own "
                f"radius of curvature at P, {own}: the inner "
                f"circle crosses the curve beside P. Lower circle_radius to {own}."
            )

    @property
    def axes(self) -> tuple[float, float, float]:
        a, b = self.long / 2, self.wide / 2
        return a, b, float(conics.focal_distance(a, b))

    @property
    def touch(self) -> Array:
        a, b, _ = self.axes
        return point(a * float(cosd(self.at)), b * float(sind(self.at)))

    @property
    def normal(self) -> Array:
        """The outward normal, from the gradient of the ellipse's equation."""
        a, b, _ = self.axes
        return unit(point(float(cosd(self.at)) / a, float(sind(self.at)) / b))

    @property
    def curvature_radius(self) -> float:
        a, b, _ = self.axes
        return float(np.hypot(a * sind(self.at), b * cosd(self.at))) ** 3 / (a * b)

    def values(self, method: str) -> Iterable[Value]:
        a, b, c = self.axes
        x = float(self.touch[0])
        yield Value(
            "normal_angle",
            float(angle_of(self.normal)),
            "°",
            f"arctan({bare(a)} sin {trim(self.at)}° / ({bare(b)} cos {trim(self.at)}°))",
            ("P", "N"),
        )
        e = trim(c / a, 6)
        yield Value("to_focus_1", a + c / a * x, "mm", f"{bare(a)} + {e} × {bare(x)}", ("P", "F1"))
        yield Value("to_focus_2", a - c / a * x, "mm", f"{bare(a)} − {e} × {bare(x)}", ("P", "F2"))
        at = trim(self.at)
        words = f"√(({bare(a)} sin {at}°)² + ({bare(b)} cos {at}°)²)³ / ({bare(a)} × {bare(b)})"
        yield Value("curvature_radius", self.curvature_radius, "mm", words, ("P",))
        over = self.circle_radius - self.curvature_radius
        says = f"{bare(self.circle_radius)} − {bare(self.curvature_radius)}: "
        says += "the inner circle crosses the curve beside P" if over > 0 else "the inner circle stays inside"
        yield Value("over_curvature", over, "mm", says, ("P", "K2"))

    def measure(self, found: Found) -> dict[str, Number]:
        p = found["P"]
        return {
            "normal_angle": angle_of(found["N"] - p),
            "to_focus_1": distance(p, found["F1"]),
            "to_focus_2": distance(p, found["F2"]),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        a, _, c = self.axes
        p = found["P"]
        one, two = point(-c, 0.0), point(c, 0.0)
        yield Truth(
            f"The two focal distances at P sum to {mm(self.long)}", distance(p, one) + distance(p, two) - self.long
        )
        heading = left_of(self.normal)
        yield Truth("The normal is square to the curve's own derivative", dot(unit(found["N"] - p), heading) * a)
        yield Truth("The tangent runs along the derivative", cross(unit(found["T"] - p), heading) * a)
        for k, sign in ((1, 1), (2, -1)):
            centre = found[f"K{k}"]
            yield Truth(f"Circle {k} touches at P", distance(centre, p) - self.circle_radius)
            yield Truth(
                f"Circle {k} has its centre on the normal",
                distance(centre, self.touch + sign * self.circle_radius * self.normal),
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        a, b, _ = self.axes
        yield Linear(point(-a, 0.0), point(a, 0.0), "long", self.long, past=point(0.0, -b))
        yield Linear(point(0.0, -b), point(0.0, b), "wide", self.wide, past=point(a, 0.0))
        yield Leader(found["P"], "at", abs(self.at), "eccentric angle ", "°")
        yield Radial(found["K1"], self.circle_radius, "circle_radius", self.circle_radius, 200.0)


@method(
    EllipseTangent,
    "bisect-focal-angle",
    "halving the focal angle",
    source="The reflection property of the foci (Apollonius, Conics III.48)",
)
def bisect_focal_angle(g: EllipseTangent, d: Draft) -> None:
    a, b, c = g.axes
    with d.phase("The ellipse"):
        centre = d.start_at("O", says="Mark the centre O.")
        axis = d.level_from(centre, "Draw the long axis level.", role=Role.CENTRE)
        axis.extent(-a, a)
        two = d.lay_off(axis, centre, c, "F2", "Lay off the focal distance: F2.", why=f"√({bare(a)}² − {bare(b)}²)")
        one = d.lay_off(axis, centre, -c, "F1", "And to the left: F1.")
        strip = d.strip(
            a, b, "On the edge of a strip mark P, then M and N: half the long axis and half the short one from P."
        )

        def mark(turn: float, name: str, says: str, kind: str) -> Spot:
            by_n = abs(float(cosd(turn))) < 0.7
            slide = (a - b) * float(cosd(turn) if by_n else -sind(turn))
            return d.lay_strip(strip, centre, point(1.0, 0.0), turn, name, slide, says, kind)

        with d.as_one(
            "Trammel", "Set out points of the ellipse with the trammel: N on the long axis, M on the short one."
        ):
            ring = [mark(float(turn), "", "", "plain") for turn in range(0, 360, 10)]
        d.curve(ring, closed=True, says="Line in the ellipse.")
        with d.as_one("Trammel", f"Lay the trammel at {trim(g.at)}°: the point P.", Setting(g.at, "°")):
            p = mark(g.at, "P", "", "tangent")
    with d.phase("Tangent and normal"):
        normal = by_focal_radii(d, p, one, two, sum_of_radii=True)
        d.on(normal, 20.0, "N", "found")
        tangent = d.square_to(normal, p, "Draw square to it at P: the tangent.", role=Role.CENTRE).extent(-34.0, 34.0)
        d.on(tangent, 20.0, "T")
    with d.phase("Touching circles"):
        for k, (sign, where) in enumerate(((1, "outside"), (-1, "inside")), 1):
            hub = d.lay_off(normal, p, sign * g.circle_radius, f"K{k}", f"Lay off the radius from P, {where}: K{k}.")
            d.circle_in(hub, g.circle_radius, f"Centre K{k}, line in the circle that touches at P from {where}.")
