"""Four-sided figures: squares, rectangles, parallelograms, rhombi and trapezia."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import ClassVar

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Angular, Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.polygons import circle_about
from wise_compass.geometry import triangles
from wise_compass.geometry.polygons import corner_angles, edges, shoelace
from wise_compass.geometry.vectors import Array, Number, angle_between, cosd, cross, distance, dot, point, sind


def corners(found: Found) -> Array:
    """A, B, C and D, anticlockwise; shape (…, 4, 2)."""
    return found.together(list("ABCD"))


def line_in(d: Draft, *spots: Spot) -> None:
    with d.phase("Line in"):
        d.line_in(spots, closed=True, says="Line in the four sides.")


class Square(Figure):
    """What squares share. A subclass gives :attr:`true_side`."""

    value_names: ClassVar[Sequence[str]] = ("side", "diagonal", "area")

    @property
    def true_side(self) -> float:
        raise NotImplementedError

    @property
    def side_working(self) -> str:
        raise NotImplementedError

    def values(self, method: str) -> Iterable[Value]:
        side = self.true_side
        yield Value("side", side, "mm", self.side_working, ("A", "B"))
        yield Value("diagonal", side * float(np.sqrt(2)), "mm", f"{bare(side)} √2", ("A", "C"))
        yield Value("area", side * side, "mm²", f"{bare(side)}²", tuple("ABCD"))

    def measure(self, found: Found) -> dict[str, Number]:
        four = corners(found)
        return {"side": edges(four).mean(axis=-1), "diagonal": distance(found["A"], found["C"]), "area": shoelace(four)}

    def truths(self, found: Found) -> Iterator[Truth]:
        four = corners(found)
        yield Truth(f"All four sides measure {mm(self.true_side)}", edges(four) - self.true_side)
        yield Truth("The diagonals are equal", distance(found["A"], found["C"]) - distance(found["B"], found["D"]))
        yield Truth("All four corners are right angles", corner_angles(four) - 90.0, "°")


class SquareOnSide(Square, id="square-on-side", family="polygons", title="Square on a side"):
    brief = "A square on a side of {side}, found with {method}."
    summary = "A square of which one side is given."

    side = Length(60, "the side")

    @property
    def true_side(self) -> float:
        return self.side

    @property
    def side_working(self) -> str:
        return "given"

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.side, 0.0), "side", self.side)


@method(SquareOnSide, "four-arcs", about="Compass alone: the right angle at A by four arcs.")
def square_four_arcs(g: SquareOnSide, d: Draft) -> None:
    a, b, base = base_line(d, g.side, "The base")
    with d.phase("The upright"):
        upright = moves.four_arcs(d, base, a, 0.6 * g.side)
        corner = d.meet(upright, d.compass(a, d.opening(a, b), "Centre A, swing AB up to it.", whole=False), "D", where="above")
    with d.phase("The last corner"):
        one = d.compass(b, d.opening(a, b), "Centre B, the same opening.", whole=False)
        two = d.compass(corner, d.opening(a, b), "Centre D, the same opening: cross it at C.", whole=False)
        last = d.meet(one, two, "C", far=a)
    line_in(d, a, b, last, corner)


@method(SquareOnSide, "set-square", about="Two uprights and a line at 45°.")
def square_set_square(g: SquareOnSide, d: Draft) -> None:
    a, b, base = base_line(d, g.side, "The base")
    with d.phase("The corners"):
        left = d.square_to(base, a, "Draw upright at A.")
        right = d.square_to(base, b, "Draw upright at B.")
        c = d.meet(d.ray(a, 45, "From A draw at 45° across."), right, "C")
        top = d.square_to(right, c, "From C draw level back.")
        corner = d.meet(top, left, "D")
    line_in(d, a, b, c, corner)


class SquareInCircle(Square, id="square-in-circle", family="polygons", title="Square in a circle"):
    brief = "A square in a circle of {diameter}, found with {method}."
    summary = "The largest square in a circle: a beam from a log, a square on a shaft."

    diameter = Length(100, "the diameter")

    @property
    def true_side(self) -> float:
        return self.diameter / float(np.sqrt(2))

    @property
    def side_working(self) -> str:
        return f"{bare(self.diameter)} / √2"

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        yield Truth("Every corner lies on the circle", distance(corners(found), point(0.0, 0.0)) - self.diameter / 2)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(point(0.0, 0.0), self.diameter / 2, "diameter", self.diameter, 28.0, diameter=True)


@method(SquareInCircle, "crossing-arcs", about="Equal arcs from the ends of a diameter give the one square to it.")
def square_crossing_arcs(g: SquareInCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    with d.phase("Two diameters"):
        level = d.level_from(centre, "Draw the level diameter.")
        a, c = d.meet(level, circle, "A", where="left"), d.meet(level, circle, "C", where="right")
        bisector = moves.perpendicular_bisector(d, a, c)
        corner, b = d.meet(bisector, circle, "D", where="above"), d.meet(bisector, circle, "B", where="below")
    line_in(d, a, b, c, corner)


@method(
    SquareInCircle, "sixths", about="The radius stepped round; the long chord swung from both ends crosses over the centre."
)
def square_sixths(g: SquareInCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    with d.phase("Sixths"):
        level = d.level_from(centre, "Draw the level diameter.")
        a, c = d.meet(level, circle, "A", where="left"), d.meet(level, circle, "C", where="right")
        radius = d.opening(centre, c)
        sixths = d.step_round(circle, c, radius, ["S1", "S2"], says="Step the radius round from C: two sixths.")
    with d.phase("Swing the long side"):
        long = d.opening(c, sixths[1])
        one = d.compass(c, long, "Centre C, the long side CS2: swing over the top.", whole=False)
        two = d.compass(a, long, "Centre A, the same opening: cross it.", whole=False)
        over = d.meet(one, two, where="above")
        axis = d.rule(centre, over, "Join O to the crossing: the upright diameter.")
        corner, b = d.meet(axis, circle, "D", where="above"), d.meet(axis, circle, "B", where="below")
    line_in(d, a, b, c, corner)


class SquareOnDiagonal(Square, id="square-on-diagonal", family="polygons", title="Square on a diagonal"):
    brief = "A square on a diagonal of {diagonal}, found with {method}."
    summary = "A square of which the diagonal is given."
    value_names: ClassVar[Sequence[str]] = ("side", "area")

    diagonal = Length(90, "the diagonal")

    @property
    def true_side(self) -> float:
        return self.diagonal / float(np.sqrt(2))

    @property
    def side_working(self) -> str:
        return f"{bare(self.diagonal)} / √2"

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], found["C"], "diagonal", self.diagonal)


@method(SquareOnDiagonal, "crossing-arcs")
def diagonal_crossing_arcs(g: SquareOnDiagonal, d: Draft) -> None:
    with d.phase("The diagonal"):
        a = d.start_at("A", says="Mark A at the left.")
        line = d.level_from(a, "Draw level from A.", length=g.diagonal)
        c = d.lay_off(line, a, g.diagonal, "C", "Lay off the diagonal AC.")
    with d.phase("The other diagonal"):
        bisector = moves.perpendicular_bisector(d, a, c)
        middle = d.meet(bisector, line, "M")
        circle = d.compass(middle, d.opening(middle, a), "Centre M, through A and C: cut the bisector.", whole=False)
        corner, b = d.meet(bisector, circle, "D", where="above"), d.meet(bisector, circle, "B", where="below")
    line_in(d, a, b, c, corner)


class Rectangle(Figure, id="rectangle", family="polygons", title="Rectangle"):
    brief = "A rectangle {length} long and {width} wide, found with {method}."
    summary = "Four right angles; equal diagonals prove them."
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


@method(Rectangle, "set-square")
def rectangle_set_square(g: Rectangle, d: Draft) -> None:
    a, b, base = base_line(d, g.length, "The base")
    with d.phase("The corners"):
        left, right = d.square_to(base, a, "Draw upright at A."), d.square_to(base, b, "Draw upright at B.")
        corner = d.lay_off(left, a, g.width, "D", "Lay off the width from A.")
        c = d.meet(d.parallel_to(base, corner, "Draw level from D."), right, "C")
    line_in(d, a, b, c, corner)


@method(Rectangle, "arcs", about="One right angle, then opposite sides by arcs.")
def rectangle_arcs(g: Rectangle, d: Draft) -> None:
    a, b, base = base_line(d, g.length, "The base")
    with d.phase("The upright"):
        upright = moves.four_arcs(d, base, a, 0.5 * g.length)
        corner = d.meet(upright, d.compass(a, g.width, "Centre A, the width: cut it at D.", whole=False), "D", where="above")
    with d.phase("The last corner"):
        one = d.compass(b, g.width, "Centre B, the width.", whole=False)
        two = d.compass(corner, d.opening(a, b), "Centre D, opening AB: cross it at C.", whole=False)
        c = d.meet(one, two, "C", far=a)
    line_in(d, a, b, c, corner)


class Parallelogram(Figure, id="parallelogram", family="polygons", title="Parallelogram"):
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
        yield Value("diagonals", self.diagonals, "mm", f"√({a}² + {b}² ± 2 × {a} × {b} cos {angle}°): AC, BD", tuple("ABCD"))
        yield Value("height", self.ad * float(sind(self.angle_A)), "mm", f"{b} sin {angle}°", ("A", "D"))
        yield Value("area", self.ab * self.ad * float(sind(self.angle_A)), "mm²", f"{a} × {b} sin {angle}°", tuple("ABCD"))

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


@method(Parallelogram, "arcs", about="The angle at A, then the last corner by two arcs.")
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
        yield Value("angles", [self.angle, 180 - self.angle], "°", f"2 arctan({b} / {a}) at A, 180° less that at B", ("A", "B"))
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


@method(Rhombus, "arcs", about="The diagonals halve each other at right angles.")
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
        if spare < 1e-3 * max(self.ab, self.cd):
            raise Refused(
                "cd",
                f"cd is {mm(self.cd)}, as long as ab: the legs then leave the height free. Change cd, or set "
                "out a parallelogram.",
            )
        if short + long <= spare * 1.000001:
            raise Refused(
                names[0],
                f"The legs sum to {mm(short + long)}; they must bridge more than {mm(spare)}, by which "
                f"base and top differ. Raise {names[0]} or {names[1]}, or bring ab and cd together.",
            )
        if long - short >= spare * 0.999999:
            raise Refused(
                names[1],
                f"The legs differ by {mm(long - short)}; that must stay under {mm(spare)}, by which "
                f"base and top differ. Lower {names[1]} or raise {names[0]}.",
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
            "angles", [a, b], "°", f"arctan({h} / {bare(along)}) at A, arctan({h} / {bare(spare - along)}) at B", ("A", "B")
        )
        yield Value(
            "area", (self.ab + self.cd) / 2 * height, "mm²", f"({bare(self.ab)} + {bare(self.cd)}) / 2 × {h}", tuple("ABCD")
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
        yield Truth("The top stands above, and runs the same way", np.minimum(found["C"][..., 0] - found["D"][..., 0], 0.0))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], found["B"], "ab", self.ab)
        yield Linear(found["C"], found["D"], "cd", self.cd)
        yield Linear(found["D"], found["A"], "left_leg", self.left_leg)
        yield Linear(found["B"], found["C"], "right_leg", self.right_leg)


@method(Trapezium, "triangle-shift", about="Shift a leg in by the top: a triangle; then shift it out again.")
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
