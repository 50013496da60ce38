"""Triangles of which angles are given, with the circle through the corners, the circle in them, or the perimeter."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.triangles import Triangle, both_ways, line_in, two_rays
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import cosd, distance, sind, tand


class CircumradiusAngles(Triangle, id="triangle-circumradius-angles", family="triangles", title="Triangle in a circle"):
    keys = ("A", "B", "C", "O")
    brief = "A triangle in a circle of radius {circumradius} with {angle_A} at A and {angle_B} at B, by {method}."
    summary = "The circle through the corners and two angles; at the centre each angle stands twice."
    ways = ("protractor", "tangent")

    circumradius = Length(47, "the radius of the circle")
    angle_A = Angle(44, "the angle at A")
    angle_B = Angle(79, "the angle at B")

    def refuse(self) -> None:
        self.refuse_angles()
        self.refuse_giant("circumradius")

    @property
    def angles(self) -> tuple[float, float, float]:
        return self.angle_A, self.angle_B, 180.0 - self.angle_A - self.angle_B

    @property
    def sides(self) -> tuple[float, float, float]:
        a, b, c = (2 * self.circumradius * float(sind(angle)) for angle in self.angles)
        return c, a, b

    def workings(self) -> dict[str, str]:
        r = bare(2 * self.circumradius)
        a, b, c = (trim(x) for x in self.angles)
        return {"ab": f"{r} sin {c}°", "bc": f"{r} sin {a}°", "ca": f"{r} sin {b}°", "angle_C": f"180° − {a}° − {b}°"}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        for name in "ABC":
            yield Truth(f"{name} lies on the circle", distance(found["O"], found[name]) - self.circumradius)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["O"], self.circumradius, "circumradius", self.circumradius, 60.0)
        yield from super().dimensions(found)


@both_ways(CircumradiusAngles, "The angle at the centre is twice that on the circle (Euclid, Elements III.20, IV.2)")
def circumradius_angles(g: CircumradiusAngles, d: Draft, how: str) -> None:
    a, b, c = g.angles
    centre_at = (g.sides[0] / 2, g.circumradius * float(cosd(c)))
    with d.phase("The circle"):
        centre = d.start_at("O", *centre_at, says="Mark the centre O.")
        circle = d.compass(centre, g.circumradius, "Centre O, draw the circle.")
    with d.phase("Angles at the centre"):
        times = d.choice(
            "corner-at-centre", right=2.0, slip=1.0, says="The corner angles are used at the centre, not doubled."
        )
        first = _radius_line(d, centre, -90.0 - c, "Draw the radius to A.")
        corner_a = d.meet(first, circle, "A", near=moves.towards(centre, first, 2 * g.circumradius))
        facing = -90.0 - c
        spots = [corner_a]
        for name, turn in (("B", times * c), ("C", times * a)):
            facing += turn
            if how == "tangent" and 0 < turn < 180:
                ray = moves.set_angle(d, _from(spots[-1], centre), centre, turn, how)
            else:
                ray = _radius_line(d, centre, facing, f"At O set off {trim(turn)}°: the radius to {name}.", turn)
            spots.append(d.meet(ray, circle, name, near=moves.towards(centre, ray, 2 * g.circumradius)))
    line_in(d, *spots)


def _from(spot: Spot, centre: Spot) -> LineMark:
    """The radius to a corner as the line that the next angle is set against."""
    u = (spot.at - centre.at) / np.asarray(distance(spot.at, centre.at))[..., None]
    return LineMark(centre.at, u, Role.CONSTRUCTION, spot.step)


def _radius_line(d: Draft, centre: Spot, angle: float, says: str, turn: float | None = None) -> LineMark:
    instrument = "Straightedge" if turn is None else "Protractor"
    settings = () if turn is None else (Setting(turn, "°"),)
    with d.as_one(instrument, says, *settings):
        return d.ray(centre, angle, instrument=instrument)


class InradiusAngles(Triangle, id="triangle-inradius-angles", family="triangles", title="Triangle about a circle"):
    keys = ("A", "B", "C", "O")
    brief = "A triangle about a circle of radius {inradius} with {angle_A} at A and {angle_B} at B, by {method}."
    summary = "The circle that touches the sides and two angles: tangents at three points."
    ways = ("protractor", "tangent")

    inradius = Length(21, "the radius of the circle")
    angle_A = Angle(57, "the angle at A", least=1, most=178)
    angle_B = Angle(49, "the angle at B", least=1, most=178)

    def refuse(self) -> None:
        self.refuse_angles()
        self.refuse_giant("inradius")

    @property
    def angles(self) -> tuple[float, float, float]:
        return self.angle_A, self.angle_B, 180.0 - self.angle_A - self.angle_B

    @property
    def tails(self) -> tuple[float, float, float]:
        """From each corner to the tangent points beside it."""
        x, y, z = (self.inradius / float(tand(angle / 2)) for angle in self.angles)
        return x, y, z

    @property
    def sides(self) -> tuple[float, float, float]:
        x, y, z = self.tails
        return x + y, y + z, z + x

    def workings(self) -> dict[str, str]:
        r = bare(self.inradius)
        a, b, c = (f"{r} / tan {trim(x / 2)}°" for x in self.angles)
        total = f"180° − {trim(self.angle_A)}° − {trim(self.angle_B)}°"
        return {"ab": f"{a} + {b}", "bc": f"{b} + {c}", "ca": f"{c} + {a}", "angle_C": total}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        for p, q in ("AB", "BC", "CA"):
            away = distance_to_line(found["O"], found[p], found[q] - found[p])
            yield Truth(f"{p}{q} passes O at the radius", away - self.inradius)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["O"], self.inradius, "inradius", self.inradius, 100.0)
        yield from super().dimensions(found)


@both_ways(InradiusAngles, "Euclid, Elements IV.3")
def inradius_angles(g: InradiusAngles, d: Draft, how: str) -> None:
    with d.phase("The circle"):
        centre = d.start_at("O", g.tails[0], g.inradius, says="Mark the centre O.")
        circle = d.compass(centre, g.inradius, "Centre O, draw the circle.")
    with d.phase("Tangent points"):
        down = d.upright_from(centre, "Draw straight down: the tangent point of AB.", length=-g.inradius)
        touches = {"T1": d.meet(down, circle, "T1", where="below", kind="tangent")}
        for name, turn, sign in (("T2", 180.0 - g.angle_B, 1), ("T3", 180.0 - g.angle_A, -1)):
            says = f"At O set off {trim(turn)}°, what the angle at {'B' if sign > 0 else 'A'} leaves of 180°."
            if how == "tangent" and sign > 0:
                ray = moves.set_angle(d, _from(touches["T1"], centre), centre, turn, how, says=says)
            else:
                ray = _radius_line(d, centre, -90.0 + sign * turn, says, turn)
            far = moves.towards(centre, ray, 2 * g.inradius)
            touches[name] = d.meet(ray, circle, name, near=far, kind="tangent")
    with d.phase("Tangents"):
        lines = []
        for name, spot in touches.items():
            radius = d.rule(centre, spot, f"Join O{name}.")
            lines.append(d.square_to(radius, spot, f"Draw the tangent square to it at {name}."))
        a, b, c = (d.meet(lines[i], lines[j], letter) for i, j, letter in ((0, 2, "A"), (0, 1, "B"), (1, 2, "C")))
    line_in(d, a, b, c)


class PerimeterAngles(
    Triangle, id="triangle-perimeter-angles", family="triangles", title="Triangle of a given perimeter"
):
    keys = ("A", "B", "C", "P", "Q")
    brief = "A triangle of {perimeter} all round with {angle_A} at A and {angle_B} at B, by {method}."
    summary = "The three sides laid out in one line and folded up again."
    ways = ("protractor", "tangent")

    perimeter = Length(190, "the perimeter")
    angle_A = Angle(52, "the angle at A", least=1, most=178)
    angle_B = Angle(63, "the angle at B", least=1, most=178)

    def refuse(self) -> None:
        self.refuse_angles()
        self.refuse_giant("perimeter")

    @property
    def angles(self) -> tuple[float, float, float]:
        return self.angle_A, self.angle_B, 180.0 - self.angle_A - self.angle_B

    @property
    def sides(self) -> tuple[float, float, float]:
        a, b, c = (float(sind(angle)) for angle in self.angles)
        each = self.perimeter / (a + b + c)
        return c * each, a * each, b * each

    def workings(self) -> dict[str, str]:
        a, b, c = (f"sin {trim(x)}°" for x in self.angles)
        under = f"({a} + {b} + {c})"
        p = bare(self.perimeter)
        total = f"180° − {trim(self.angle_A)}° − {trim(self.angle_B)}°"
        return {"ab": f"{p} {c} / {under}", "bc": f"{p} {a} / {under}", "ca": f"{p} {b} / {under}", "angle_C": total}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        round_ = sum((distance(found[p], found[q]) for p, q in ("AB", "BC", "CA")), np.float64(0.0))
        yield Truth(f"The sides sum to {mm(self.perimeter)}", round_ - self.perimeter)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["P"], found["Q"], "perimeter", self.perimeter)
        yield from super().dimensions(found)


@both_ways(
    PerimeterAngles,
    "Half the angles at both ends of the perimeter: isosceles triangles fold it out (Euclid, Elements I.5, I.32)",
    "Half of each angle from the ends of the perimeter; bisectors fold the sides up.",
)
def perimeter_angles(g: PerimeterAngles, d: Draft, how: str) -> None:
    start = -g.sides[2]
    with d.phase("The perimeter"):
        p = d.start_at("P", start, says="Mark P at the left.")
        line = d.level_from(p, "Draw level from P.", length=g.perimeter)
        q = d.lay_off(line, p, g.perimeter, "Q", "Lay off the perimeter PQ.")
    with d.phase("The top"):
        c = two_rays(d, line, p, q, g.angle_A / 2, g.angle_B / 2, how)
    with d.phase("Fold up"):
        a = d.meet(moves.perpendicular_bisector(d, p, c), line, "A")
        b = d.meet(moves.perpendicular_bisector(d, q, c), line, "B")
    line_in(d, a, b, c)


class HypotenuseLeg(
    Triangle, id="triangle-hypotenuse-leg", family="triangles", title="Right triangle on its hypotenuse"
):
    keys = ("A", "B", "C")
    brief = "A right triangle with a hypotenuse of {hypotenuse} and a leg of {leg}, by {method}."
    summary = "A right angle at A, AB one leg, BC the hypotenuse."
    ways = ("set-square", "four-arcs")

    hypotenuse = Length(91, "the hypotenuse")
    leg = Length(37, "the leg", most=lambda g: g.hypotenuse * (1 - 1e-6))

    @property
    def sides(self) -> tuple[float, float, float]:
        other = np.sqrt((self.hypotenuse - self.leg) * (self.hypotenuse + self.leg))
        return self.leg, self.hypotenuse, float(other)

    @property
    def angles(self) -> tuple[float, float, float]:
        ab, _, ca = self.sides
        at_b = float(np.rad2deg(np.arctan2(ca, ab)))
        return 90.0, at_b, float(np.rad2deg(np.arctan2(ab, ca)))

    def workings(self) -> dict[str, str]:
        h, leg = bare(self.hypotenuse), bare(self.leg)
        return {"ab": "given", "bc": "given", "ca": f"√({h}² − {leg}²)", "angle_A": "the right angle"}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        yield Truth(f"AB measures {mm(self.leg)}", distance(found["A"], found["B"]) - self.leg)
        yield Truth(f"BC measures {mm(self.hypotenuse)}", distance(found["B"], found["C"]) - self.hypotenuse)
        yield self.angle_truth(found, "A", 90.0)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], found["B"], "leg", self.leg)
        yield Linear(found["B"], found["C"], "hypotenuse", self.hypotenuse)


def _hypotenuse(g: HypotenuseLeg, d: Draft, b: Spot) -> ArcMark:
    """The arc that ends the hypotenuse."""
    return d.compass(b, g.hypotenuse, "Centre B, the hypotenuse: cut the upright.", whole=False)


@method(
    HypotenuseLeg,
    "set-square",
    source="The right angle and the circle of the hypotenuse about one end (Euclid, Elements I.11, I.22)",
)
def hypotenuse_leg(g: HypotenuseLeg, d: Draft) -> None:
    a, b, base = base_line(d, g.leg, "The leg")
    with d.phase("The third corner"):
        upright = d.square_to(base, a, "Draw upright from A.")
        c = d.meet(upright, _hypotenuse(g, d, b), "C", where="above")
    line_in(d, a, b, c)


@method(
    HypotenuseLeg,
    "four-arcs",
    about="The right angle by compass alone, at the end of the base.",
    source="The right angle by the hexagon's arcs (Euclid, Elements IV.15)",
)
def hypotenuse_four_arcs(g: HypotenuseLeg, d: Draft) -> None:
    a, b, base = base_line(d, g.leg, "The leg")
    with d.phase("The third corner"):
        upright = moves.four_arcs(d, base, a, 0.5 * g.leg)
        c = d.meet(upright, _hypotenuse(g, d, b), "C", where="above")
    line_in(d, a, b, c)
