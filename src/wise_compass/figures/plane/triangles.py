"""Triangles. AB is the base, level, with A at the left; C stands above it."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import ClassVar

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Angular, Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import LONGEST_LENGTH, Angle, Choice, Length
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, bare_area, least_mm, mm, most_mm, trim
from wise_compass.figures.plane.lines import base_line
from wise_compass.geometry import triangles
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.vectors import Number, cosd, cross, distance, sind

SIDES = ("ab", "bc", "ca")
ANGLES = ("angle_A", "angle_B", "angle_C")
VALUES = (*SIDES, *ANGLES, "area", "perimeter", "circumradius", "inradius")
FLATTEST = 1e-9
"""By what part of the longest side the other two must exceed it together: less is rounding alone."""
ROUNDED = 1e-12
"""Below this part of the square of the base, the square of a half chord is rounding alone: an arc touches there."""
NEAREST_CORNER = 0.01
"""The shortest side CA, in mm, that is told from none."""


class Triangle(Figure):
    """What all triangles share. A subclass gives :attr:`sides` from its givens, and its own truths."""

    value_names: ClassVar[Sequence[str]] = VALUES

    @property
    @abstractmethod
    def sides(self) -> tuple[float, float, float]:
        """AB, BC and CA."""

    @property
    def angles(self) -> tuple[float, float, float]:
        """The angles at A, B and C."""
        ab, bc, ca = self.sides
        triples = ((bc, ca, ab), (ca, ab, bc), (ab, bc, ca))
        a, b, c = (float(triangles.angle_opposite(*three)) for three in triples)
        return a, b, c

    def workings(self) -> dict[str, str]:
        """Workings of the sides and angles that differ from those by the cosine rule."""
        return {}

    def values(self, method: str) -> Iterable[Value]:
        ab, bc, ca = self.sides
        words = {name: bare(side) for name, side in zip(SIDES, self.sides)}
        given = {name: "given" for name in (*SIDES, *ANGLES) if name in self.givens}
        cosine = "arccos(({1}² + {2}² − {0}²) / (2 × {1} × {2}))".format
        worked = {
            "ab": f"√({words['bc']}² + {words['ca']}² − 2 × {words['bc']} × {words['ca']} cos C)",
            "bc": f"√({words['ab']}² + {words['ca']}² − 2 × {words['ab']} × {words['ca']} cos A)",
            "ca": f"√({words['ab']}² + {words['bc']}² − 2 × {words['ab']} × {words['bc']} cos B)",
            "angle_A": cosine(words["bc"], words["ab"], words["ca"]),
            "angle_B": cosine(words["ca"], words["ab"], words["bc"]),
            "angle_C": cosine(words["ab"], words["bc"], words["ca"]),
            **self.workings(),
            **given,
        }
        for name, side, ends in zip(SIDES, self.sides, ("AB", "BC", "CA")):
            yield Value(name, side, "mm", worked[name], tuple(ends))
        for name, angle in zip(ANGLES, self.angles):
            yield Value(name, angle, "°", worked[name], (name[-1],))
        # by an angle: in a needle the sides alone do not hold the digits (Heron)
        area = ab * ca * float(sind(self.angles[0])) / 2
        s = bare((ab + bc + ca) / 2)
        yield Value("area", area, "mm²", f"½ × {words['ab']} × {words['ca']} sin {trim(self.angles[0], 6)}°")
        yield Value("perimeter", ab + bc + ca, "mm", f"{words['ab']} + {words['bc']} + {words['ca']}", ("A", "B", "C"))
        radius = ab / (2 * float(sind(self.angles[2])))
        yield Value("circumradius", radius, "mm", f"{words['ab']} / (2 sin {trim(self.angles[2], 6)}°)")
        yield Value("inradius", 2 * area / (ab + bc + ca), "mm", f"{bare_area(area)} / {s}")

    def measure(self, found: Found) -> dict[str, Number]:
        a, b, c = found["A"], found["B"], found["C"]
        ab, bc, ca = distance(a, b), distance(b, c), distance(c, a)
        area = np.abs(shoelace(found.together(["A", "B", "C"]) - a[..., None, :]))
        return {
            "ab": ab,
            "bc": bc,
            "ca": ca,
            "angle_A": triangles.angle_opposite(bc, ca, ab),
            "angle_B": triangles.angle_opposite(ca, ab, bc),
            "angle_C": triangles.angle_opposite(ab, bc, ca),
            "area": area,
            "perimeter": ab + bc + ca,
            "circumradius": ab * bc * ca / (4 * area),
            "inradius": 2 * area / (ab + bc + ca),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        corners = {name: found[name] for name in "ABC"}
        for name in self.givens:
            if name in SIDES:
                p, q = (corners[letter] for letter in name.upper())
                yield Truth(
                    f"{name.upper()} measures {mm(self.given_values[name])}", distance(p, q) - self.given_values[name]
                )
            elif name in ANGLES:
                yield self.angle_truth(found, name[-1], self.given_values[name])
        yield Truth("C stands above AB", np.minimum(cross(found["B"] - found["A"], found["C"] - found["A"]), 0.0))

    def angle_truth(self, found: Found, corner: str, angle: float) -> Truth:
        """That a corner has an angle, as how far the next side's end lies off it, in mm."""
        order = "ABC"
        k = order.index(corner)
        v, p, q = found[corner], found[order[(k + 1) % 3]], found[order[(k + 2) % 3]]
        u, w = p - v, q - v
        along = u[..., 0] * w[..., 0] + u[..., 1] * w[..., 1]
        off = np.abs(cross(u, w)) * cosd(angle) - along * sind(angle)
        return Truth(f"The angle at {corner} is {trim(angle)}°", off / np.hypot(u[..., 0], u[..., 1]))

    def refuse_angles(self, names: tuple[str, str] = ("angle_A", "angle_B")) -> None:
        """Refuse two angles that leave nothing for the third."""
        one, two = (float(self.given_values[name]) for name in names)
        if one + two > 179.9:
            raise Refused(
                names[1],
                f"The angles sum to {trim(one + two)}°; those of a triangle leave at least 0.1° of 180° for the "
                f"third. Lower {names[0]} or {names[1]} by {trim(one + two - 179.9)}°.",
            )

    def refuse_giant(self, name: str) -> None:
        """Refuse angles so flat that a side outgrows every sheet."""
        longest = max(self.sides)
        if longest > LONGEST_LENGTH:
            most = float(self.given_values[name]) * LONGEST_LENGTH / longest
            raise Refused(
                name,
                f"The longest side would be {mm(longest)}; {mm(LONGEST_LENGTH)} is the most. "
                f"Lower {name} to {most_mm(most)}, or choose angles that are less flat.",
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        ends = {"ab": "AB", "bc": "BC", "ca": "CA"}
        for name in self.givens:
            if name in SIDES:
                p, q = (found[letter] for letter in ends[name])
                yield Linear(p, q, name, self.given_values[name])
        if "angle_A" in self.givens:
            yield Angular(found["A"], 0.0, self.given_values["angle_A"], "angle_A", self.given_values["angle_A"])
        if "angle_B" in self.givens:
            angle = self.given_values["angle_B"]
            yield Angular(found["B"], 180.0 - angle, angle, "angle_B", angle)


def from_side_and_angles(ab: float, angle_a: float, angle_b: float) -> tuple[float, float, float]:
    """The sides by the sine rule."""
    third = float(sind(angle_a + angle_b))
    return ab, ab * float(sind(angle_a)) / third, ab * float(sind(angle_b)) / third


def line_in(d: Draft, *spots: Spot) -> None:
    with d.phase("Line in"):
        d.line_in(spots, closed=True, says="Line in the triangle.")


def both_ways(figure: type[Triangle], source: str, about: str = "") -> Callable[[Callable[..., None]], None]:
    """Enter a construction twice: its angles set by protractor, and by their tangents."""

    def enter(draw: Callable[..., None]) -> None:
        method(figure, "protractor", about=about, source=source)(lambda g, d: draw(g, d, "protractor"))
        by_tangents = "The same, each angle set by its tangent over a long base."
        method(figure, "tangent", "tangents", about=by_tangents, source=f"{source}; each angle by its tangent")(
            lambda g, d: draw(g, d, "tangent")
        )

    return enter


class ThreeSides(Triangle, id="triangle-three-sides", family="triangles", title="Triangle on three sides"):
    keys = ("A", "B", "C")
    brief = "A triangle with sides of {ab}, {bc} and {ca}, found with {method}."
    summary = "Three sides: two arcs from the ends of the base."

    ab = Length(71, "the base AB")
    bc = Length(58, "the side BC")
    ca = Length(44, "the side CA")

    @property
    def sides(self) -> tuple[float, float, float]:
        return self.ab, self.bc, self.ca

    def refuse(self) -> None:
        names = sorted(SIDES, key=lambda name: -float(self.given_values[name]))
        longest, one, two = (float(self.given_values[name]) for name in names)
        if longest > (one + two) * (1 - FLATTEST):
            raise Refused(
                names[0],
                f"{names[0]} is {mm(longest)}; it must stay under the other two together, {mm(one + two)}, and is "
                f"{mm(longest - one - two)} too long. Lower {names[0]} to {most_mm((one + two) * (1 - 2 * FLATTEST))}, "
                f"or raise {names[1]} or {names[2]}.",
            )


@method(ThreeSides, "arcs", source="Euclid, Elements I.22")
def three_sides(g: ThreeSides, d: Draft) -> None:
    a, b, _ = base_line(d, g.ab, "The base")
    with d.phase("The third corner"):
        one = d.compass(a, g.ca, "Centre A, opening CA: swing above the base.", whole=False)
        two = d.compass(b, g.bc, "Centre B, opening BC: cross it at C.", whole=False)
        c = d.meet(one, two, "C", where="above")
    line_in(d, a, b, c)


class TwoSidesAngle(
    Triangle, id="triangle-two-sides-angle", family="triangles", title="Triangle on two sides and their angle"
):
    keys = ("A", "B", "C")
    brief = "A triangle on a base of {ab} with an arm of {arm} at {angle} from its {corner} end, by {method}."
    summary = "Two sides and the angle between them."
    ways = ("protractor", "tangent")

    ab = Length(77, "the base AB")
    arm = Length(53, "the arm")
    angle = Angle(38, "the angle between them")
    corner = Choice("left", "the corner of the angle", ("left", "right"))

    @property
    def sides(self) -> tuple[float, float, float]:
        third = np.hypot(self.ab - self.arm, 2 * np.sqrt(self.ab * self.arm) * sind(self.angle / 2))
        return (self.ab, float(third), self.arm) if self.corner == "left" else (self.ab, self.arm, float(third))

    def workings(self) -> dict[str, str]:
        third, arm = ("bc", "ca") if self.corner == "left" else ("ca", "bc")
        a, b = bare(self.ab), bare(self.arm)
        return {arm: "given", third: f"√({a}² + {b}² − 2 × {a} × {b} cos {trim(self.angle)}°)"}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        corner = "A" if self.corner == "left" else "B"
        yield Truth(f"The arm measures {mm(self.arm)}", distance(found[corner], found["C"]) - self.arm)
        yield self.angle_truth(found, corner, self.angle)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield from super().dimensions(found)
        left = self.corner == "left"
        yield (
            Linear(found["C"], found["A"], "arm", self.arm) if left else Linear(found["B"], found["C"], "arm", self.arm)
        )
        vertex, start = (found["A"], 0.0) if left else (found["B"], 180.0 - self.angle)
        yield Angular(vertex, start, self.angle, "angle", self.angle)


@both_ways(TwoSidesAngle, "Euclid, Elements I.4")
def two_sides_angle(g: TwoSidesAngle, d: Draft, how: str) -> None:
    a, b, base = base_line(d, g.ab, "The base")
    with d.phase("The arm"):
        corner = d.choice(
            "other-corner",
            right=g.corner,
            slip="right" if g.corner == "left" else "left",
            says="The angle is measured at the other corner.",
        )
        start = a if corner == "left" else b
        arm = moves.set_angle(d, base, start, g.angle, how, leftward=corner == "right")
        c = d.lay_off(arm, start, g.arm, "C", f"Measure the arm from {start.name}.")
    line_in(d, a, b, c)


class SideTwoAngles(
    Triangle, id="triangle-side-two-angles", family="triangles", title="Triangle on a side and two angles"
):
    keys = ("A", "B", "C")
    brief = "A triangle on a base of {ab} with {angle_A} at its left end and {angle_B} at its right, by {method}."
    summary = "A side and the angles at its ends."
    ways = ("protractor", "tangent")

    ab = Length(69, "the base AB")
    angle_A = Angle(48, "the angle at A")
    angle_B = Angle(71, "the angle at B")

    def refuse(self) -> None:
        self.refuse_angles()
        self.refuse_giant("ab")

    @property
    def sides(self) -> tuple[float, float, float]:
        return from_side_and_angles(self.ab, self.angle_A, self.angle_B)

    @property
    def angles(self) -> tuple[float, float, float]:
        return self.angle_A, self.angle_B, 180.0 - self.angle_A - self.angle_B

    def workings(self) -> dict[str, str]:
        return sine_workings(bare(self.ab), *(trim(x) for x in self.angles))


def sine_workings(ab: str, a: str, b: str, c: str) -> dict[str, str]:
    """Workings by the sine rule, from AB and the angles."""
    return {"bc": f"{ab} sin {a}° / sin {c}°", "ca": f"{ab} sin {b}° / sin {c}°", "angle_C": f"180° − {a}° − {b}°"}


def two_rays(
    d: Draft, base: LineMark, a: Spot, b: Spot, angle_a: float, angle_b: float, how: str, name: str = "C"
) -> Spot:
    left = moves.set_angle(d, base, a, angle_a, how)
    right = moves.set_angle(d, base, b, angle_b, how, leftward=True)
    return d.meet(left, right, name)


@both_ways(SideTwoAngles, "Euclid, Elements I.26")
def side_two_angles(g: SideTwoAngles, d: Draft, how: str) -> None:
    a, b, base = base_line(d, g.ab, "The base")
    with d.phase("The arms"):
        c = two_rays(d, base, a, b, g.angle_A, g.angle_B, how)
    line_in(d, a, b, c)


class SideSideAngle(Triangle, id="triangle-side-side-angle", family="triangles", title="Triangle, angle beside"):
    keys = ("A", "B", "C", "C*")
    brief = "A triangle on a base of {ab} with BC of {bc} and {angle_A} at A, by {method}: one answer or two."
    summary = "Two sides and an angle that is not between them: none, one or two triangles."
    ways = ("protractor", "tangent")
    value_names: ClassVar[Sequence[str]] = (*VALUES, "solutions")

    ab = Length(80, "the base AB")
    bc = Length(56, "the side BC")
    angle_A = Angle(34, "the angle at A")

    @property
    def height(self) -> float:
        """Distance of B from the line of the arm."""
        return self.ab * float(sind(self.angle_A))

    @property
    def half_chord(self) -> float:
        """Half of what the arc about B cuts off the arm; 0 where it touches, to within rounding of the sizes."""
        square = (self.bc - self.height) * (self.bc + self.height)
        return 0.0 if square < ROUNDED * self.ab**2 else float(np.sqrt(square))

    @property
    def solutions(self) -> int:
        return 2 if self.half_chord > 0 and self.angle_A < 90 and self.other_ca > NEAREST_CORNER else 1

    @property
    def other_ca(self) -> float:
        """CA of the second triangle."""
        return self.ab * float(cosd(self.angle_A)) - self.half_chord

    @property
    def sides(self) -> tuple[float, float, float]:
        return self.ab, self.bc, self.ab * float(cosd(self.angle_A)) + self.half_chord

    def refuse(self) -> None:
        if (self.bc - self.height) * (self.bc + self.height) < -ROUNDED * self.ab**2:
            short = self.height - self.bc
            raise Refused(
                "bc",
                f"bc is {mm(self.bc)} and does not reach the arm, which passes B at {mm(self.height)}: it is "
                f"{mm(short)} too short. Raise bc to at least {least_mm(self.height)}, or lower angle_A.",
            )
        if self.sides[2] < NEAREST_CORNER * (1 - 1e-9):
            far = float(np.hypot(self.ab * sind(self.angle_A), NEAREST_CORNER - self.ab * float(cosd(self.angle_A))))
            whose = (
                f"With {trim(self.angle_A)}° at A, BC must be longer than AB, {mm(self.ab)}"
                if self.angle_A >= 90
                else "C falls on A"
            )
            raise Refused(
                "bc", f"{whose}; bc is {mm(self.bc)}. Raise bc to at least {least_mm(far)}, or lower ab or angle_A."
            )

    def workings(self) -> dict[str, str]:
        ab, bc, angle = bare(self.ab), bare(self.bc), trim(self.angle_A)
        return {"ca": f"{ab} cos {angle}° + √({bc}² − ({ab} sin {angle}°)²)"}

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        words = (
            f"{bare(self.bc)} against {bare(self.ab)} sin {trim(self.angle_A)}° "
            f"= {bare(self.height)} and {bare(self.ab)}"
        )
        yield Value("solutions", float(self.solutions), "", words, ("C",))
        if self.solutions == 2:
            ab, bc, angle = bare(self.ab), bare(self.bc), trim(self.angle_A)
            yield Value(
                "second_ca", self.other_ca, "mm", f"{ab} cos {angle}° − √({bc}² − ({ab} sin {angle}°)²)", ("A", "C2")
            )

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        out["solutions"] = 0 * out["ab"] + (2.0 if "C2" in found else 1.0)
        if "C2" in found:
            out["second_ca"] = distance(found["A"], found["C2"])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        if "C2" in found:
            yield Truth(f"BC2 measures {mm(self.bc)} too", distance(found["B"], found["C2"]) - self.bc)
            yield Truth("C2 stands on the same arm", distance_to_line(found["C2"], found["A"], found["C"] - found["A"]))


@both_ways(
    SideSideAngle, "The arc of one side cuts the leg twice, once or not at all (the ambiguous case of the sine rule)"
)
def side_side_angle(g: SideSideAngle, d: Draft, how: str) -> None:
    a, b, base = base_line(d, g.ab, "The base")
    with d.phase("The arm"):
        arm = moves.set_angle(d, base, a, g.angle_A, how)
    with d.phase("The third corner"):
        arc = d.compass(b, g.bc, "Centre B, opening BC: cut the arm, once or twice.", whole=False)
        c = d.meet(arm, arc, "C", near=moves.towards(a, arm, 10 * g.sides[2]))
        nearer = d.meet(arm, arc, "C2", far=moves.towards(a, arm, 10 * g.sides[2])) if g.solutions == 2 else None
    with d.phase("Line in"):
        d.line_in((a, b, c), closed=True, says="Line in the triangle.")
        if nearer is not None:
            d.line_in((b, nearer), says="Line in BC2: the second triangle shares the other two sides; both are right.")
