"""Lengths in ratio: the fourth proportional, and a line divided in a ratio inside and outside."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import LONGEST_LENGTH, Length
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import Numbers
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm, trim
from wise_compass.figures.plane.lines import base_line
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Number, direction, distance, point, polar

LEG = 45.0
"""Degrees between the two legs on which proportionals are laid off: any angle serves."""
SLANT = 30.0
"""Degrees by which the line of handy spaces slants."""
LIKE = 1e-9
"""Of a ratio: within this its two terms are alike, and no place outside has it."""
FAR = 8.0
"""Times the line's own length beyond which a place on it is told and not drawn."""


class FourthProportional(Figure, id="fourth-proportional", family="proportion", title="Fourth proportional"):
    keys = ("A", "B", "C", "D", "E")
    brief = "The fourth proportional of {first}, {second} and {third}, found with {method}."
    summary = "As the first is to the second, so is the third to the one that is found: a size changed in proportion."
    value_names = ("fourth",)

    first = Length(48, "the first length")
    second = Length(64, "the second length")
    third = Length(57, "the third length")

    @property
    def fourth(self) -> float:
        return self.second * self.third / self.first

    def refuse(self) -> None:
        if self.fourth > LONGEST_LENGTH:
            raise Refused(
                "first",
                (
                    f"The fourth proportional would be {mm(self.fourth)}; {most_mm(LONGEST_LENGTH)} "
                    f"are the most. Raise first to {least_mm(self.second * self.third / LONGEST_LENGTH)} or more."
                ),
            )

    def values(self, method: str) -> Iterable[Value]:
        working = f"{bare(self.second)} × {bare(self.third)} / {bare(self.first)}"
        yield Value("fourth", self.fourth, "mm", working, ("A", "E"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"fourth": distance(found["A"], found["E"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        outer, inner = self.first * distance(found["A"], found["E"]), self.second * distance(found["A"], found["D"])
        yield Truth("The product of the outer terms is that of the inner ones", (outer - inner) / self.first)
        yield Truth("E lies on the leg of the third", distance_to_line(found["E"], found["A"], direction(LEG)))
        yield Truth("The third is laid off on its leg", distance(found["A"], found["D"]) - self.third)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], point(self.first, 0.0), "first", self.first)
        yield Linear(found["A"], point(self.second, 0.0), "second", self.second, rank=2)
        yield Linear(found["A"], found["D"], "third", self.third, side=1)


@method(
    FourthProportional,
    "parallels",
    about="Two lengths on one leg of an angle, the third on the other, and a parallel.",
    source="Euclid, Elements VI.12",
)
def proportional_parallels(g: FourthProportional, d: Draft) -> None:
    first, second = d.choice(
        "terms-exchanged",
        right=(g.first, g.second),
        slip=(g.second, g.first),
        when=abs(g.first - g.second) > LIKE * g.first,
        says="The first two terms are exchanged: the parallel is drawn the wrong way.",
    )
    with d.phase("The angle"):
        a = d.start_at("A", says="Mark A, the corner of any handy angle.")
        level = d.level_from(a, "Draw one leg level from A.", length=max(first, second))
        leg = d.ray(a, LEG, "Draw the other leg from A.", length=max(g.third, g.fourth))
    with d.phase("The three lengths"):
        b = d.lay_off(level, a, first, "B", "Lay the first length off along the level leg: AB.")
        c = d.lay_off(level, a, second, "C", "Lay the second off from A too: AC.")
        third = d.lay_off(leg, a, g.third, "D", "Lay the third off along the other leg: AD.")
    with d.phase("The parallel"):
        join = d.rule(b, third, "Join BD.")
        across = d.parallel_to(join, c, "Through C draw parallel to BD.")
        fourth = d.meet(across, leg, "E")
    with d.phase("Line in"):
        d.line_in([a, fourth], says="Line in AE, the fourth proportional.")


class DivideInRatio(Figure, id="divide-in-ratio", family="proportion", title="Divide in a ratio"):
    keys = ("A", "B", "D*")
    brief = "A line of {length} divided in the ratio {ratios}, found with {method}."
    summary = (
        "A line cut into parts that are as given numbers; of two, also the place outside that has the ratio, and the "
        "circle of all such places."
    )
    value_names = ("parts", "marks", "outer", "circle_centre", "circle_radius")

    length = Length(110, "the length")
    ratios = Numbers((2, 3, 4), "the terms of the ratio", 2, 12)

    @cached_property
    def terms(self) -> list[float]:
        return [row[0] for row in self.ratios]

    @property
    def unlike(self) -> bool:
        """Whether there are two terms, and unlike ones: then a place outside has the ratio too."""
        terms = self.terms
        return len(terms) == 2 and abs(terms[0] - terms[1]) > LIKE * max(terms)

    @property
    def outer(self) -> float | None:
        return self.length * self.terms[0] / (self.terms[0] - self.terms[1]) if self.unlike else None

    @property
    def drawn_outside(self) -> bool:
        return self.outer is not None and abs(self.outer) <= FAR * self.length

    @property
    def cuts(self) -> list[float]:
        """How far from A each part ends."""
        whole = sum(self.terms)
        return [self.length * float(x) / whole for x in np.cumsum(self.terms)]

    def cautions(self) -> Iterable[str]:
        if self.outer is not None and not self.drawn_outside:
            yield f"The place outside lies {mm(abs(self.outer))} from A: it is told, and not drawn."

    def values(self, method: str) -> Iterable[Value]:
        whole, terms = sum(self.terms), self.terms
        parts = [self.length * x / whole for x in terms]
        names = tuple(f"D{k}" for k in range(1, len(terms)))
        yield Value("parts", parts, "mm", f"{bare(self.length)} / {trim(whole)} times each term", ("A", *names, "B"))
        yield Value("marks", self.cuts[:-1], "mm", "the parts before each, together", names)
        outer = self.outer
        if outer is None:
            told = "two unlike terms have one" if len(terms) > 2 else "of like terms it lies endlessly far"
            for name in ("outer", "circle_centre", "circle_radius"):
                yield Value(name, None, "mm", told)
            return
        p, q = (trim(x) for x in terms)
        shown = ("A", "Q") if self.drawn_outside else ()
        yield Value("outer", outer, "mm", f"{bare(self.length)} × {p} / ({p} − {q})", shown)
        centre = (self.cuts[0] + outer) / 2
        words = f"({bare(self.cuts[0])} + {bare(outer)}) / 2: midway between both places"
        yield Value("circle_centre", centre, "mm", words, ("A", "K") if self.drawn_outside else ())
        words = f"half of what lies between {bare(self.cuts[0])} and {bare(outer)}"
        yield Value(
            "circle_radius", abs(outer - self.cuts[0]) / 2, "mm", words, ("K", "Q") if self.drawn_outside else ()
        )

    def measure(self, found: Found) -> dict[str, Number]:
        rows = found.together(["A", *found.names("D"), "B"])
        told: dict[str, Number] = {
            "parts": distance(rows[..., :-1, :], rows[..., 1:, :]),
            "marks": distance(rows[..., 1:-1, :], found["A"][..., None, :]),
        }
        if self.drawn_outside and "Q" in found:
            along = found["B"] - found["A"]
            u = along / distance(found["A"], found["B"])[..., None]
            for name, spot in (("outer", "Q"), ("circle_centre", "K")):
                told[name] = ((found[spot] - found["A"]) * u).sum(axis=-1)
            told["circle_radius"] = distance(found["K"], found["Q"])
        return told

    def truths(self, found: Found) -> Iterator[Truth]:
        rows = found.together(["A", *found.names("D"), "B"])
        parts, terms = distance(rows[..., :-1, :], rows[..., 1:, :]), np.array(self.terms)
        yield Truth("The parts are as the terms", parts * terms[0] / terms - parts[..., :1])
        yield Truth("Every mark lies on AB", distance_to_line(rows, found["A"][..., None, :], point(1.0, 0.0)))
        if self.drawn_outside:
            outside = distance(found["A"], found["Q"]) * terms[1] - distance(found["Q"], found["B"]) * terms[0]
            yield Truth("AQ is to QB as the terms", outside / terms.sum())
            for k in range(5):
                place = polar(found["K"], distance(found["K"], found["Q"]), 20.0 + 72.0 * k)
                off = distance(found["A"], place) * terms[1] - distance(place, found["B"]) * terms[0]
                yield Truth(f"The circle’s place at {20 + 72 * k}° keeps the ratio", off / terms.sum())

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], point(self.length, 0.0), "length", self.length, rank=2)


def laid_in_ratio(
    d: Draft, line: LineMark, a: Spot, b: Spot, terms: Sequence[float], names: Sequence[str], aslant: float = SLANT
) -> tuple[list[Spot], LineMark, LineMark, float]:
    """The marks that part ``ab`` as ``terms``, by parallels from a slanting line; that line, the one that joins its
    last mark to ``b``, and the length of its unit."""
    whole, span = sum(terms), float(distance(a.here, b.here))
    unit = 0.85 * span / whole
    unit = round(unit / 5) * 5.0 or round(unit, 1) or unit
    words = f"From {a.name} draw a line aslant." if a.name else "From its end draw a line aslant."
    slant = d.ray(a, float(angle_between_spots(a, b)) + aslant, words, length=unit * whole)
    ends = [float(x) * unit for x in np.cumsum(terms)]
    steps = [
        d.lay_off(slant, a, end, "", f"On it lay off {trim(float(total))} units of {mm(unit)}.", kind="plain")
        for end, total in zip(ends, np.cumsum(terms))
    ]
    last = d.rule(steps[-1], b, f"Join the last mark to {b.name or 'the other end'}.")
    marks = []
    with d.as_one("Set square", "Slide to each mark in turn and draw parallel, cutting the line."):
        for k, step in enumerate(steps[:-1]):
            marks.append(d.meet(d.parallel_to(last, step), line, names[k] if k < len(names) else ""))
    return marks, slant, last, unit


def angle_between_spots(a: Spot, b: Spot) -> float:
    """The direction from one spot to another as the steady hand has it, in degrees."""
    off = b.here - a.here
    return float(np.degrees(np.arctan2(off[1], off[0])))


@method(
    DivideInRatio,
    "parallels",
    about="A slanting line of as many handy units as the terms together, and parallels back.",
    source="Euclid, Elements VI.10; the circle of a ratio (Apollonius)",
)
def ratio_parallels(g: DivideInRatio, d: Draft) -> None:
    a, b, line = base_line(d, g.length)
    terms = g.terms
    with d.phase("Inside"):
        less = d.choice(
            "one-unit-lost",
            right=0.0,
            slip=1.0,
            when=terms[-1] > 1.0 + LIKE,
            says="Marks are counted for spaces: the last term is one unit short.",
        )
        told = [*terms[:-1], terms[-1] - less]
        marks, slant, last, unit = laid_in_ratio(d, line, a, b, told, [f"D{k}" for k in range(1, len(terms))])
    circle = None
    if g.drawn_outside:
        first, second = terms
        with d.phase("Outside"):
            short = d.lay_off(
                slant, a, abs(first - second) * unit, "", "From A lay off the difference of the terms.", kind="plain"
            )
            says = "Lay off the first term" + (" from A." if first > second else " from A, the other way.")
            long = d.lay_off(slant, a, first * unit if first > second else -first * unit, "", says, kind="plain")
            join = d.rule(short, b, "Join the difference to B.")
            outside = d.meet(d.parallel_to(join, long, "Through the first term draw parallel to it."), line, "Q")
            with d.as_one("Dividers", "Halve the stretch between both places at K."):
                centre = d.midpoint(marks[0], outside, "K")
            circle = (centre, outside)
    with d.phase("Line in"):
        d.line_in([a, *marks, b], says="Line in AB with its marks.")
        if circle is not None:
            d.circle_in(
                circle[0], d.opening(*circle), "Centre K, line in the circle of all places that have the ratio."
            )
