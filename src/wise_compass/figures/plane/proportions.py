"""Lengths in proportion: roots, means and the golden section."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Leader, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Length, Real
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.plane.lines import base_line
from wise_compass.geometry.vectors import Number, distance, point


class RootLength(Figure, id="root-length", family="lines", title="Square root of a number"):
    keys = ("R", "S")
    brief = "The square root of {number}, with a unit of {unit}, found with {method}."
    summary = "A length that is the root of a number of units: a diagonal, an area turned into a side."
    ways = ("semicircle", "root-spiral")
    value_names = ("root",)

    number = Real(11, "the number", least=0.01, most=1000)
    unit = Length(10, "the unit")

    def values(self, method: str) -> Iterable[Value]:
        yield Value(
            "root",
            self.unit * float(np.sqrt(self.number)),
            "mm",
            f"{bare(self.unit)} × √{trim(self.number)}",
            ("R", "S"),
        )

    def measure(self, found: Found) -> dict[str, Number]:
        return {"root": distance(found["R"], found["S"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        root = distance(found["R"], found["S"])
        yield Truth(
            "The square on RS is the number times the square on the unit",
            root * root / self.unit / np.sqrt(self.number) - self.unit * np.sqrt(self.number),
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        root = float(distance(found["R"], found["S"]))
        yield Linear(found["R"], found["S"], "root", root, derived=True)
        if found.method == "semicircle":
            yield Linear(found["R"], found["B"], "unit", self.unit)
        else:
            yield Leader(found["R"], "unit", self.unit, "unit ")


@method(
    RootLength,
    "semicircle",
    about="The half circle on number + 1 units; the upright at the joint is the root.",
    source="The altitude theorem (Euclid, Elements VI.13)",
)
def root_semicircle(g: RootLength, d: Draft) -> None:
    whole = (g.number + 1) * g.unit
    a, b, line = base_line(d, whole, why="number + 1 units")
    with d.phase("The half circle"):
        joint = d.lay_off(line, a, g.number * g.unit, "R", "Lay off the number of units; one unit is left.")
        _mean_on(d, a, b, line, joint, "S")
    with d.phase("Line in"):
        d.line_in([joint, d.spots["S"]], says="Line in RS, the root.")


def _mean_on(d: Draft, a: Spot, b: Spot, line: LineMark, joint: Spot, name: str) -> Spot:
    """The upright from ``joint`` to the half circle on ``ab``: the mean proportional (Euclid VI.13)."""
    with d.as_one("Dividers", "Halve AB at M."):
        middle = d.midpoint(a, b, "M")
    arc = d.compass(middle, d.opening(middle, a), "Centre M, draw the circle on AB.")
    upright = d.square_to(line, joint, f"Draw upright at {joint.name} to the circle.")
    return d.meet(upright, arc, name, where="above")


def _whole_root(g: RootLength) -> str | None:
    if g.number != int(g.number) or not 2 <= g.number <= 60:
        return (
            f"root-spiral grows by whole numbers from 2 to 60; number is {trim(g.number)}. "
            "Change number or choose semicircle."
        )
    return None


@method(
    RootLength,
    "root-spiral",
    fits=_whole_root,
    fits_given="number",
    about="Right triangles on one another: each long side is the next root.",
    source="Pythagoras's theorem, one right triangle on another",
)
def root_spiral(g: RootLength, d: Draft) -> None:
    with d.phase("The first unit"):
        r = d.start_at("R")
        tip = d.lay_off(
            d.level_from(r, "Draw level from R.", length=g.unit), r, g.unit, "", "Lay off the unit.", kind="plain"
        )
        side = d.rule(r, tip, "This is the root of 1.")
    with d.phase("Grow"):
        for k in range(2, int(g.number) + 1):
            last = k == int(g.number)
            with d.as_one(
                "Set square", f"Square on its end set up one unit; join R: the root of {k}.", Setting(g.unit, "mm")
            ):
                up = d.square_to(side, tip)
                tip = d.lay_off(up, tip, g.unit, "S" if last else "", kind="found" if last else "plain")
                side = d.rule(r, tip)
    with d.phase("Line in"):
        d.line_in([r, tip], says="Line in RS, the root.")


class MeanProportional(Figure, id="mean-proportional", family="lines", title="Mean proportional"):
    keys = ("C", "S")
    brief = "The mean proportional of {first} and {second}, found with {method}."
    summary = "The side of a square as large as a rectangle."
    value_names = ("mean",)

    first = Length(31, "the first length")
    second = Length(68, "the second length")

    def values(self, method: str) -> Iterable[Value]:
        yield Value(
            "mean",
            float(np.sqrt(self.first) * np.sqrt(self.second)),
            "mm",
            f"√({bare(self.first)} × {bare(self.second)})",
            ("C", "S"),
        )

    def measure(self, found: Found) -> dict[str, Number]:
        return {"mean": distance(found["C"], found["S"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        mean = distance(found["C"], found["S"])
        yield Truth(
            "First is to mean as mean is to second",
            (mean * mean - self.first * self.second) / np.sqrt(self.first * self.second),
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.first, 0.0), "first", self.first)
        yield Linear(point(self.first, 0.0), point(self.first + self.second, 0.0), "second", self.second)


@method(MeanProportional, "semicircle", source="Euclid, Elements VI.13")
def mean_semicircle(g: MeanProportional, d: Draft) -> None:
    a, b, line = base_line(d, g.first + g.second, why="both lengths, end to end")
    with d.phase("The half circle"):
        joint = d.lay_off(line, a, g.first, "C", "Lay off the first length AC; CB is the second.")
        _mean_on(d, a, b, line, joint, "S")
    with d.phase("Line in"):
        d.line_in([joint, d.spots["S"]], says="Line in CS, the mean.")


class GoldenSection(Figure, id="golden-section", family="lines", title="Golden section"):
    keys = ("A", "B", "S")
    brief = "A line of {length} cut in extreme and mean ratio with the {method}."
    summary = "The whole is to the longer part as the longer is to the shorter."
    value_names = ("longer", "shorter")

    length = Length(90, "the length")

    def values(self, method: str) -> Iterable[Value]:
        longer = self.length * (np.sqrt(5) - 1) / 2
        yield Value("longer", float(longer), "mm", f"{bare(self.length)} (√5 − 1) / 2", ("A", "S"))
        yield Value(
            "shorter", float(self.length * (3 - np.sqrt(5)) / 2), "mm", f"{bare(self.length)} (3 − √5) / 2", ("S", "B")
        )

    def measure(self, found: Found) -> dict[str, Number]:
        return {"longer": distance(found["A"], found["S"]), "shorter": distance(found["S"], found["B"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        longer, shorter = distance(found["A"], found["S"]), distance(found["S"], found["B"])
        yield Truth(
            "The whole is to the longer part as the longer to the shorter", longer * longer / self.length - shorter
        )
        yield Truth("S lies on AB", longer + shorter - self.length)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.length, 0.0), "length", self.length)


@method(GoldenSection, "compass", source="Euclid, Elements II.11")
def golden_compass(g: GoldenSection, d: Draft) -> None:
    a, b, line = base_line(d, g.length)
    with d.phase("Half, upright"):
        with d.as_one("Dividers", "Halve AB at M."):
            middle = d.midpoint(a, b, "M")
        upright = d.square_to(line, b, "Draw upright at B.")
        top = d.meet(
            upright,
            d.compass(b, d.opening(middle, b), "Centre B, swing half of AB up.", whole=False),
            "C",
            where="above",
        )
    with d.phase("Swing"):
        slope = d.rule(a, top, "Join AC.")
        small = d.compass(top, d.opening(top, b), "Centre C, swing CB on to AC.", whole=False)
        cut = d.meet(slope, small, "D", near=a)
        large = d.compass(a, d.opening(a, cut), "Centre A, swing AD on to AB.", whole=False)
        section = d.meet(line, large, "S", where="right")
    with d.phase("Line in"):
        d.line_in([a, section, b], says="Line in AB; S cuts it in the golden section.")
