"""Verniers: a main scale, and beside it one whose divisions are a little shorter or longer."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Choice, Count, Real
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim, trim_down
from wise_compass.figures.plane.scales import (
    BELOW,
    FINEST,
    LONGEST,
    UNITS,
    WHOLE,
    in_divisions,
    lined_about,
    ticked,
    too_long,
)
from wise_compass.figures.plane.strips import APART, Graduation, OnStrips, Strip, numbered, strip
from wise_compass.geometry.vectors import Number, distance

MOST_DIVISIONS = 400


class VernierScale(OnStrips, Figure, id="vernier-scale", family="scales", title="Vernier scale"):
    keys = ("O", "E", "L", "R", "V*")
    brief = (
        "A scale of 1:{over} to read {unit} up to {range}, each in {parts} "
        "divisions, with a {sense} vernier of {steps}, "
        "{lie}, set at {reading}; found with {method}."
    )
    summary = "A main scale with a vernier that reads the parts of its divisions."
    true_size = True
    value_names = ("main_division", "vernier_division", "least_count", "read_vernier", "read_main")

    over = Real(25, "how many times smaller than the true size", least=1e-3, most=1e9)
    unit = Choice("m", "the unit", tuple(UNITS))
    range = Count(4, "how many units the main scale has", 1, 200)
    parts = Count(10, "the main divisions of a unit", 1, 20)
    steps = Count(10, "the divisions of the vernier", 2, 60)
    sense = Choice("direct", "the vernier", ("direct", "retrograde"))
    lie = Choice("fixed", "how it lies", ("fixed", "slid"))
    reading = Real(2.39, "the reading in units", least=0, most=200)

    @property
    def division(self) -> float:
        return UNITS[self.unit] / self.over / self.parts

    @property
    def span(self) -> int:
        """The main divisions that the vernier is as long as."""
        return self.steps - 1 if self.sense == "direct" else self.steps + 1

    @property
    def vernier(self) -> float:
        return self.division * self.span / self.steps

    @cached_property
    def read(self) -> tuple[int, int]:
        """Which line of the vernier, and which of the main scale, show the reading."""
        n, direct = self.steps, self.sense == "direct"
        count = in_divisions(self.reading, 1 / (self.parts * n))
        if self.lie == "fixed":
            k = (-count) % n if direct else count % n
            return k, (count - k * self.span) // n
        k = count % n
        return k, (count + k * self.span) // n if direct else (count - k * self.span) // n

    def refuse(self) -> None:
        whole = self.range * self.parts * self.division
        if whole > LONGEST * (1 + WHOLE):
            raise too_long(whole, self.over)
        if self.division < 5 * FINEST:
            raise Refused(
                "over",
                f"A division would be {mm(self.division)}; it needs {mm(5 * FINEST)}. "
                f"Lower over to {trim_down(self.over * self.division / (5 * FINEST), 6)} or less, or lower parts.",
            )
        if self.range * self.parts > MOST_DIVISIONS:
            raise Refused(
                "parts",
                f"The main scale would have {self.range * self.parts} divisions; "
                "400 are the most. Lower parts or range.",
            )
        if self.span > self.range * self.parts:
            raise Refused(
                "steps",
                f"The vernier spans {self.span} divisions; the main scale has {self.range * self.parts}. Lower steps.",
            )
        k, main = self.read
        least = self.span * k / (self.parts * self.steps)
        if main < 0:
            way = f"with line {k} of the vernier the least that can be read is {trim(least, 6)}"
            raise Refused("reading", f"{trim(self.reading)} is too small: {way}. Raise reading.")
        if main > self.range * self.parts:
            raise Refused(
                "reading",
                f"Line {k} of the vernier would meet line {main}; the scale ends at "
                f"{self.range * self.parts}. Lower reading.",
            )

    def values(self, method: str) -> Iterable[Value]:
        k, main = self.read
        yield Value(
            "main_division", self.division, "mm", f"{bare(UNITS[self.unit])} / {trim(self.over)} / {self.parts}"
        )
        words = f"{bare(self.division)} × {self.span} / {self.steps}"
        yield Value("vernier_division", self.vernier, "mm", words, ("V0", "V1"))
        yield Value("vernier_length", self.steps * self.vernier, "mm", f"{self.span} × {bare(self.division)}")
        yield Value("least_count", 1 / (self.parts * self.steps), "", f"1 / ({self.parts} × {self.steps})")
        yield Value(
            "scale_length",
            self.range * self.parts * self.division,
            "mm",
            f"{self.range} × {self.parts} × {bare(self.division)}",
            ("O", "E"),
        )
        yield Value("read_vernier", k, "", "the line of the vernier that shows it")
        yield Value(
            "read_main",
            main,
            "",
            "the line of the main scale that it meets" if self.lie == "slid" else "with it the line of the main scale",
        )
        at = [
            -k * self.vernier if self.lie == "fixed" else self.reading * self.parts * self.division,
            main * self.division,
        ]
        both = "both marks, from 0" if self.lie == "fixed" else "the vernier’s 0, and where the lines meet"
        yield Value("read_at", at, "mm", both, ("L", "R"))

    def measure(self, found: Found) -> dict[str, Number]:
        zero = found["O"][..., 0]
        return {
            "scale_length": distance(found["O"], found["E"]),
            "vernier_division": distance(found["V0"], found["V1"]),
            "read_at": np.stack([found["L"][..., 0] - zero, found["R"][..., 0] - zero], axis=-1),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        k, _ = self.read
        row = found.together(found.names("V"))
        whole = distance(row[..., 0, :], row[..., -1, :])
        yield Truth("The vernier is as long as its main divisions", whole - self.span * self.division)
        asked = self.reading * UNITS[self.unit] / self.over
        if self.lie == "fixed":
            yield Truth("The stroke is the reading, so many times smaller", distance(found["L"], found["R"]) - asked)
        else:
            yield Truth("The vernier’s 0 stands at the reading", found["L"][..., 0] - found["O"][..., 0] - asked)
            yield Truth(f"Its line {k} meets a line of the main scale", row[..., k, 0] - found["R"][..., 0])

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        return ()

    # the strips

    @cached_property
    def strips(self) -> list[Strip]:
        """Main scale and vernier on one strip, or on two of which one slides along the other; a vernier that slides
        has its marks on the other edge."""
        each = numbered(self.range, self.division * self.parts)
        marks = [
            Graduation(
                k * self.division,
                5.0 if k % self.parts == 0 else 3.0,
                f"{k // self.parts}" if k % (self.parts * each) == 0 else "",
            )
            for k in range(self.range * self.parts + 1)
        ]
        slid = self.lie == "slid"
        way = 1.0 if slid and self.sense == "direct" else -1.0
        each = numbered(self.steps, self.vernier)
        beside = [
            Graduation(way * k * self.vernier, 4.0, f"{k}" if k % each == 0 else "")
            for k in range(0 if slid else 1, self.steps + 1)
        ]
        words = f"1:{trim(self.over)}, {self.unit}; the vernier reads {trim(1 / (self.parts * self.steps), 6)}"
        if not slid:
            return [strip("Scale with its vernier", words, [*marks, *beside])]
        return [strip("Main scale", words, marks), strip("Vernier", "vernier", beside, -APART, -1)]


@method(
    VernierScale,
    "parallels",
    about="The main scale divided by parallels; on it one division less, or more, cut into as many as the vernier has.",
    source="The intercept theorem (Euclid, Elements VI.9); the vernier’s own definition",
)
def vernier_parallels(g: VernierScale, d: Draft) -> None:
    k, main = g.read
    count = g.range * g.parts
    with d.phase("The main scale"):
        zero = d.start_at("O", says="Mark O, the 0 of the main scale.")
        line = d.level_from(zero, "Draw level.", length=count * g.division)
        end = d.lay_off(line, zero, count * g.division, "E", "Lay the scale’s whole length off.")
        marks = (
            d.divide_by_parallels(zero, end, g.range, [], None, "Divide it into its units.")
            if g.range > 1
            else [zero, end]
        )
        if g.parts > 1:
            with d.as_one("Dividers", f"Cut each unit into {g.parts} divisions."):
                fine: list[Spot] = []
                for one, other in zip(marks, marks[1:]):
                    fine += [one, *(d.between(one, other, j / g.parts) for j in range(1, g.parts))]
                marks = [*fine, end]
    with d.phase("The vernier"):
        span = d.choice(
            "wrong-span",
            right=g.span,
            slip=2 * g.steps - g.span,
            when=2 * g.steps - g.span <= count,
            says="One division more is taken where it is one less, or the other way.",
        )
        whole = d.opening(marks[0], marks[span])
        names = [f"V{j}" for j in range(1, g.steps)]
        if g.lie == "fixed":
            start = d.also("V0", zero)
            far = d.lay_off(line, zero, whole, f"V{g.steps}", f"Lay {span} divisions off to the left of 0.", way=-1.0)
            aslant = 30.0
        else:
            down = d.lay_off(
                line,
                zero,
                g.reading * g.parts * g.division,
                "L",
                "Lay the reading off from 0: there the vernier’s 0 stands.",
            )
            drop = d.upright_from(down, "Draw down from there.", length=-BELOW)
            start = d.lay_off(drop, down, -BELOW, "V0", "Mark the vernier’s 0 on a line below.")
            low = d.level_from(start, "Draw level.")
            way = 1.0 if g.sense == "direct" else -1.0
            far = d.lay_off(low, start, whole, f"V{g.steps}", f"Lay {span} divisions off from it.", way=way)
            aslant = -30.0 if way > 0 else 30.0
        row = d.divide_by_parallels(
            start, far, g.steps, names, None, "Divide that into the vernier’s divisions.", aslant
        )
    with d.phase("The reading"), d.as_one("Pencil", f"Ring line {k} of the vernier and line {main} of the main scale."):
        if g.lie == "fixed":
            d.also("L", row[k])
        d.also("R", marks[main])
    with d.phase("Line in"):
        if g.lie == "fixed":
            lined_about(d, far, end, (d.spots["L"], d.spots["R"]))
        else:
            d.line_in([zero, end], says="Line in the main scale.")
            d.line_in([start, far], says="Line in the vernier.")
        ticked(d, line, marks, 3.0)
        lay = line if g.lie == "fixed" else d.rule(start, far, "Lay the set square along the vernier.")
        ticked(d, lay, row, 3.0 if g.lie == "slid" else -3.0)
