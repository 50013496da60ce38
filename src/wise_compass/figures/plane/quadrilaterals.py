"""Four-sided figures: rectangles, parallelograms, rhombi and trapezia."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Angular, Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.marks import Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm, trim
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.squares import NEAR, corners, line_in
from wise_compass.geometry import triangles
from wise_compass.geometry.polygons import corner_angles, edges, shoelace
from wise_compass.geometry.vectors import Number, angle_between, cosd, cross, distance, dot, point, sind


class Rectangle(Figure, id="rectangle", family="polygons", title="Rectangle"):
    keys = ("A", "B", "C", "D")
    brief = "A rectangle {length} long and {width} wide, found with {method}."
    summary = "Four right angles; equal diagonals prove them."
    ways = ("set-square", "arcs")
    value_names = ("diagonal", "area")

    length = Length(96, "the length")
    width = Length(58, "the width")

    def values(self, method: str) -> Iterable[Value]:
        a, b = bare(self.length), bare(self.width)
        yield Value("diagonal", float(np.hypot(self.length, self.width)), "mm", f"√({a}² + {b}²)", ("A", "C"))
        yield Value("area", self.length * self.width, "mm²", f"{a} × {b}", tuple("ABCD"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"diagonal": distance(found["A"], found["C"]), "area": shoelace(corners(found))}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth("The sides measure as given", edges(corners(found)) - np.array([self.length, self.width] * 2))
        yield Truth("The diagonals are equal", distance(found["A"], found["C"]) - distance(found["B"], found["D"]))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], found["B"], "length", self.length)
        yield Linear(found["B"], found["C"], "width", self.width)


@method(Rectangle, "set-square", source="The definition of the rectangle")
def rectangle_set_square(g: Rectangle, d: Draft) -> None:
    a, b, base = base_line(d, g.length, "The base")
    with d.phase("The corners"):
        left, right = d.square_to(base, a, "Draw upright at A."), d.square_to(base, b, "Draw upright at B.")
        corner = d.lay_off(left, a, g.width, "D", "Lay off the width from A.")
        c = d.meet(d.parallel_to(base, corner, "Draw level from D."), right, "C")
    line_in(d, a, b, c, corner)


@method(
    Rectangle,
    "arcs",
    about="One right angle, then opposite sides by arcs.",
    source="Opposite sides are equal (Euclid, Elements I.34)",
)
def rectangle_arcs(g: Rectangle, d: Draft) -> None:
    a, b, base = base_line(d, g.length, "The base")
    with d.phase("The upright"):
        upright = moves.four_arcs(d, base, a, 0.5 * g.length)
        corner = d.meet(
            upright, d.compass(a, g.width, "Centre A, the width: cut it at D.", whole=False), "D", where="above"
        )
    with d.phase("The last corner"):
        one = d.compass(b, g.width, "Centre B, the width.", whole=False)
        two = d.compass(corner, d.opening(a, b), "Centre D, opening AB: cross it at C.", whole=False)
        c = d.meet(one, two, "C", far=a)
    line_in(d, a, b, c, corner)


class Parallelogram(Figure, id="parallelogram", family="polygons", title="Parallelogram"):
    keys = ("A", "B", "C", "D")
    brief = "A parallelogram with AB of {ab}, AD of {ad} and {angle_A} between them, found with {method}."
    summary = "Opposite sides equal and parallel."
    value_names = ("diagonals", "height", "area")

    ab = Length(88, "the side AB")
    ad = Length(54, "the side AD")
    angle_A = Angle(62, "the angle at A", least=1, most=179)

    @property
    def diagonals(self) -> list[float]:
        root = 2 * np.sqrt(self.ab * self.ad)
        return [
            float(np.hypot(self.ab - self.ad, root * cosd(self.angle_A / 2))),
            float(np.hypot(self.ab - self.ad, root * sind(self.angle_A / 2))),
        ]

    def values(self, method: str) -> Iterable[Value]:
        a, b, angle = bare(self.ab), bare(self.ad), trim(self.angle_A)
        yield Value(
            "diagonals", self.diagonals, "mm", f"√({a}² + {b}² ± 2 × {a} × {b} cos {angle}°): AC, BD", tuple("ABCD")
        )
        yield Value("height", self.ad * float(sind(self.angle_A)), "mm", f"{b} sin {angle}°", ("A", "D"))
        yield Value(
            "area", self.ab * self.ad * float(sind(self.angle_A)), "mm²", f"{a} × {b} sin {angle}°", tuple("ABCD")
        )

    def measure(self, found: Found) -> dict[str, Number]:
        area = shoelace(corners(found))
        both = [distance(found["A"], found["C"]), distance(found["B"], found["D"])]
        return {"diagonals": np.stack(both, axis=-1), "height": area / distance(found["A"], found["B"]), "area": area}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth("Opposite sides measure as given", edges(corners(found)) - np.array([self.ab, self.ad] * 2))
        yield Truth("Opposite sides are parallel", found["B"] - found["A"] - (found["C"] - found["D"]))
        u, w = found["B"] - found["A"], found["D"] - found["A"]
        yield Truth(
            f"The angle at A is {trim(self.angle_A)}°",
            (cross(u, w) * cosd(self.angle_A) - dot(u, w) * sind(self.angle_A)) / self.ab,
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], found["B"], "ab", self.ab)
        yield Linear(found["D"], found["A"], "ad", self.ad)
        yield Angular(found["A"], 0.0, self.angle_A, "angle_A", self.angle_A)


@method(
    Parallelogram,
    "arcs",
    about="The angle at A, then the last corner by two arcs.",
    source="Opposite sides are equal (Euclid, Elements I.34)",
)
def parallelogram_arcs(g: Parallelogram, d: Draft) -> None:
    a, b, base = base_line(d, g.ab, "The base")
    with d.phase("The arm"):
        arm = moves.set_angle(d, base, a, g.angle_A, "protractor")
        corner = d.lay_off(arm, a, g.ad, "D", "Lay off AD.")
    with d.phase("The last corner"):
        one = d.compass(b, d.opening(a, corner), "Centre B, opening AD.", whole=False)
        two = d.compass(corner, d.opening(a, b), "Centre D, opening AB: cross it at C.", whole=False)
        aim = b.here + corner.here - a.here
        c = d.meet(one, two, "C", near=aim)
    line_in(d, a, b, c, corner)


class Rhombus(Figure, id="rhombus", family="polygons", title="Rhombus"):
    keys = ("A", "B", "C", "D")
    brief = "A rhombus with diagonals of {first_diagonal} and {second_diagonal}, found with {method}."
    summary = "Four equal sides, from the two diagonals: a lattice, a lozenge pane."
    value_names = ("side", "angles", "area")

    first_diagonal = Length(104, "the level diagonal")
    second_diagonal = Length(62, "the upright diagonal")

    @property
    def side(self) -> float:
        return float(np.hypot(self.first_diagonal, self.second_diagonal)) / 2

    @property
    def angle(self) -> float:
        """At the ends of the level diagonal."""
        return float(2 * np.rad2deg(np.arctan2(self.second_diagonal, self.first_diagonal)))

    def values(self, method: str) -> Iterable[Value]:
        a, b = bare(self.first_diagonal), bare(self.second_diagonal)
        yield Value("side", self.side, "mm", f"√({a}² + {b}²) / 2", ("A", "B"))
        yield Value(
            "angles", [self.angle, 180 - self.angle], "°", f"2 arctan({b} / {a}) at A, 180° less that at B", ("A", "B")
        )
        yield Value("area", self.first_diagonal * self.second_diagonal / 2, "mm²", f"{a} × {b} / 2", tuple("ABCD"))

    def measure(self, found: Found) -> dict[str, Number]:
        four = corners(found)
        return {"side": edges(four).mean(axis=-1), "angles": corner_angles(four)[..., :2], "area": shoelace(four)}

    def truths(self, found: Found) -> Iterator[Truth]:
        sides = edges(corners(found))
        yield Truth("All four sides are equal", sides - sides.mean(axis=-1, keepdims=True))
        yield Truth("The level diagonal measures as given", distance(found["A"], found["C"]) - self.first_diagonal)
        yield Truth("The upright diagonal measures as given", distance(found["B"], found["D"]) - self.second_diagonal)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = -self.second_diagonal / 2
        lift = point(0.0, low)
        yield Linear(found["A"] + lift, found["C"] + lift, "first_diagonal", self.first_diagonal)
        right = point(self.first_diagonal, 0.0) - found["B"] * np.array([1.0, 0.0])
        yield Linear(found["B"] + right, found["D"] + right, "second_diagonal", self.second_diagonal)


@method(
    Rhombus,
    "arcs",
    about="The diagonals halve each other at right angles.",
    source="Its diagonals halve each other at right angles",
)
def rhombus_arcs(g: Rhombus, d: Draft) -> None:
    with d.phase("The level diagonal"):
        a = d.start_at("A", says="Mark A at the left.")
        line = d.level_from(a, "Draw level from A.", length=g.first_diagonal)
        c = d.lay_off(line, a, g.first_diagonal, "C", "Lay off the first diagonal AC.")
    with d.phase("The upright diagonal"):
        bisector = moves.perpendicular_bisector(d, a, c)
        middle = d.meet(bisector, line, "M")
        half = d.compass(
            middle, g.second_diagonal / 2, "Centre M, half the second diagonal: cut the bisector twice.", whole=False
        )
        corner, b = d.meet(bisector, half, "D", where="above"), d.meet(bisector, half, "B", where="below")
    line_in(d, a, b, c, corner)


class Trapezium(Figure, id="trapezium", family="polygons", title="Trapezium"):
    keys = ("A", "B", "C", "D")
    brief = "A trapezium on a base of {ab} with a top of {cd}, legs of {left_leg} and {right_leg}, found with {method}."
    summary = "Two parallel sides and two legs: a dam, a hopper's side, a keystone."
    value_names = ("height", "angles", "area")

    ab = Length(110, "the base AB")
    cd = Length(62, "the top CD")
    left_leg = Length(48, "the left leg")
    right_leg = Length(40, "the right leg")

    def refuse(self) -> None:
        spare = abs(self.ab - self.cd)
        names = sorted(("left_leg", "right_leg"), key=lambda name: float(self.given_values[name]))
        short, long = (float(self.given_values[name]) for name in names)
        if spare < NEAR * max(self.ab, self.cd):
            raise Refused(
                "cd",
                f"cd is {mm(self.cd)}, as long as ab: the legs then leave the height free. Change cd, or set "
                "out a parallelogram.",
            )
        if short + long < spare * (1 + NEAR):
            raise Refused(
                names[0],
                f"The legs sum to {mm(short + long)}; they must bridge more than {mm(spare)}, by which "
                f"base and top differ. Raise {names[0]} to {least_mm(spare * (1 + 2 * NEAR) - long)} "
                "or more, or bring ab and cd together.",
            )
        if long - short > spare * (1 - NEAR):
            raise Refused(
                names[1],
                f"The legs differ by {mm(long - short)}; that must stay under {mm(spare)}, by which "
                f"base and top differ. Lower {names[1]} to {most_mm(short + spare * (1 - 2 * NEAR))} "
                f"or raise {names[0]}.",
            )

    @property
    def shifted(self) -> tuple[float, float]:
        """Where D stands over the base: the triangle of both legs on the difference of base and top."""
        spare = self.ab - self.cd
        along = (spare + (self.left_leg - self.right_leg) * (self.left_leg + self.right_leg) / spare) / 2
        height = 2 * float(triangles.area(abs(spare), self.left_leg, self.right_leg)) / abs(spare)
        return along, height

    def values(self, method: str) -> Iterable[Value]:
        along, height = self.shifted
        spare = self.ab - self.cd
        a = float(np.rad2deg(np.arctan2(height, along)))
        b = float(np.rad2deg(np.arctan2(height, spare - along)))
        h, s = bare(height), bare(abs(spare))
        words = f"2 × area of the triangle {s}, {bare(self.left_leg)}, {bare(self.right_leg)} / {s}"
        yield Value("height", height, "mm", words, ("A", "D"))
        yield Value(
            "angles",
            [a, b],
            "°",
            f"arctan({h} / {bare(along)}) at A, arctan({h} / {bare(spare - along)}) at B",
            ("A", "B"),
        )
        yield Value(
            "area",
            (self.ab + self.cd) / 2 * height,
            "mm²",
            f"({bare(self.ab)} + {bare(self.cd)}) / 2 × {h}",
            tuple("ABCD"),
        )

    def measure(self, found: Found) -> dict[str, Number]:
        area = shoelace(corners(found))
        height = 2 * area / (distance(found["A"], found["B"]) + distance(found["C"], found["D"]))
        a = angle_between(found["B"] - found["A"], found["D"] - found["A"])
        b = angle_between(found["A"] - found["B"], found["C"] - found["B"])
        return {"height": height, "angles": np.stack([a, b], axis=-1), "area": area}

    def truths(self, found: Found) -> Iterator[Truth]:
        wanted = np.array([self.ab, self.right_leg, self.cd, self.left_leg])
        yield Truth("The four sides measure as given", edges(corners(found)) - wanted)
        yield Truth("The top is parallel to the base", found["C"][..., 1] - found["D"][..., 1])
        yield Truth(
            "The top stands above, and runs the same way", np.minimum(found["C"][..., 0] - found["D"][..., 0], 0.0)
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], found["B"], "ab", self.ab)
        yield Linear(found["C"], found["D"], "cd", self.cd)
        yield Linear(found["D"], found["A"], "left_leg", self.left_leg)
        yield Linear(found["B"], found["C"], "right_leg", self.right_leg)


@method(
    Trapezium,
    "triangle-shift",
    about="Shift a leg in by the top: a triangle; then shift it out again.",
    source="A leg shifted along the parallels by the top leaves a triangle of three "
    "known sides (Euclid, Elements I.22, I.33)",
)
def triangle_shift(g: Trapezium, d: Draft) -> None:
    a, b, base = base_line(d, g.ab, "The base")
    spare = g.ab - g.cd
    with d.phase("The triangle"):
        inner = d.lay_off(base, a, spare, "E", "Lay off AE, by which the base exceeds the top.")
        one = d.compass(a, g.left_leg, "Centre A, the left leg.", whole=False)
        two = d.compass(inner, g.right_leg, "Centre E, the right leg: cross it at D.", whole=False)
        corner = d.meet(one, two, "D", where="above")
        d.rule(inner, corner, "Join ED.", role=Role.CONSTRUCTION)
    with d.phase("Shift it out"):
        top = d.parallel_to(base, corner, "Draw parallel to the base through D.")
        c = d.lay_off(top, corner, g.cd, "C", "Lay off the top DC.")
    line_in(d, a, b, c, corner)
