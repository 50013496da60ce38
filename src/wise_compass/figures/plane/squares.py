"""Squares, and what four-sided figures share."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from typing import ClassVar

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Length
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.polygons import circle_about
from wise_compass.geometry.polygons import corner_angles, edges, shoelace
from wise_compass.geometry.vectors import Array, Number, distance, point

NEAR = 1e-6
"""By what part of a length two of them must differ to be told apart."""


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
    @abstractmethod
    def true_side(self) -> float: ...

    @property
    @abstractmethod
    def side_working(self) -> str: ...

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
    keys = ("A", "B", "C", "D")
    brief = "A square on a side of {side}, found with {method}."
    summary = "A square of which one side is given."
    ways = ("four-arcs", "set-square")

    side = Length(60, "the side")

    @property
    def true_side(self) -> float:
        return self.side

    @property
    def side_working(self) -> str:
        return "given"

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.side, 0.0), "side", self.side)


@method(
    SquareOnSide,
    "four-arcs",
    about="Compass alone: the right angle at A by four arcs.",
    source="Euclid, Elements I.46, the right angle by the hexagon's arcs",
)
def square_four_arcs(g: SquareOnSide, d: Draft) -> None:
    a, b, base = base_line(d, g.side, "The base")
    with d.phase("The upright"):
        upright = moves.four_arcs(d, base, a, 0.6 * g.side)
        corner = d.meet(
            upright, d.compass(a, d.opening(a, b), "Centre A, swing AB up to it.", whole=False), "D", where="above"
        )
    with d.phase("The last corner"):
        one = d.compass(b, d.opening(a, b), "Centre B, the same opening.", whole=False)
        two = d.compass(corner, d.opening(a, b), "Centre D, the same opening: cross it at C.", whole=False)
        last = d.meet(one, two, "C", far=a)
    line_in(d, a, b, last, corner)


@method(SquareOnSide, "set-square", about="Two uprights and a line at 45°.", source="Euclid, Elements I.46")
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
    keys = ("A", "B", "C", "D")
    brief = "A square in a circle of {diameter}, found with {method}."
    summary = "The largest square in a circle: a beam from a log, a square on a shaft."
    ways = ("crossing-arcs", "sixths")

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


@method(
    SquareInCircle,
    "crossing-arcs",
    about="Equal arcs from the ends of a diameter give the one square to it.",
    source="Euclid, Elements IV.6",
)
def square_crossing_arcs(g: SquareInCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    with d.phase("Two diameters"):
        level = d.level_from(centre, "Draw the level diameter.")
        a, c = d.meet(level, circle, "A", where="left"), d.meet(level, circle, "C", where="right")
        bisector = moves.perpendicular_bisector(d, a, c)
        corner, b = d.meet(bisector, circle, "D", where="above"), d.meet(bisector, circle, "B", where="below")
    line_in(d, a, b, c, corner)


@method(
    SquareInCircle,
    "sixths",
    about="The radius stepped round; the long chord swung from both ends crosses over the centre.",
    source="The hexagon's long chord is √3 radii; swung from both ends it crosses "
    "√2 radii from the centre (Pythagoras)",
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
    keys = ("A", "B", "C", "D")
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


@method(
    SquareOnDiagonal,
    "crossing-arcs",
    source="Its diagonals are equal and halve each other at right angles (Euclid, Elements IV.6)",
)
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
