"""Scales to measure by: plain, diagonal and comparative ones."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Scribe
from wise_compass.drafting.dimensions import Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Choice, Count, Real
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, many, mm, most_mm, trim, trim_down, trim_up
from wise_compass.figures.plane.strips import APART, Graduation, OnStrips, Strip, numbered, strip
from wise_compass.geometry.vectors import Number, distance, point

UNITS = {
    "mm": 1.0, "cm": 10.0, "dm": 100.0, "m": 1e3, "dam": 1e4, "hm": 1e5, "km": 1e6,
    "inch": 25.4, "foot": 304.8, "yard": 914.4, "chain": 20116.8, "furlong": 201168.0, "mile": 1609344.0,
}  # fmt: skip
"""Millimetres of each unit: the metre, and the international yard."""
TIMES = {"second": 1 / 3600, "minute": 1 / 60, "hour": 1.0}
"""Hours of each unit of time."""
WHOLE = 1e-9
"""Of a smallest division: within this a reading is a whole number of them."""
LONGEST, FINEST = 1000.0, 0.1
"""mm: the longest scale, and the finest division, that are drawn."""
RISE = 5.0
"""mm between the level lines of a diagonal scale."""
BELOW = 12.0
"""mm by which a second scale stands below the first."""


def in_divisions(reading: float, smallest: float, name: str = "reading") -> int:
    """How many smallest divisions (in units) a reading is; raises :class:`Refused` with both neighbours where it is no
    whole number.

    >>> in_divisions(3.47, 0.01)
    347
    """
    count = round(reading / smallest)
    if abs(reading / smallest - count) > WHOLE * max(count, 1):
        low = int(np.floor(reading / smallest))
        both = f"{trim(low * smallest, 6)} or {trim((low + 1) * smallest, 6)}"
        raise Refused(
            name, f"{name} {trim(reading, 9)} falls between two marks of {trim(smallest, 6)} each. Take {both}."
        )
    return count


def too_long(whole: float, over: float) -> Refused:
    """Why a scale ``whole`` mm long is none, at so many times smaller than true size."""
    least = trim_up(over * whole / LONGEST, 6)
    return Refused(
        "over", f"The scale would be {mm(whole)} long; {most_mm(LONGEST)} are the most. Raise over to {least} or more."
    )


class ScaleBar(OnStrips, Figure, id="scale-bar", family="scales", title="Scale"):
    keys = ("A", "B", "U*", "L", "R")
    brief = (
        "A scale of 1:{over} to read {unit} up to {range}, the first in {parts} parts and these in {levels} levels, "
        "set at {reading}; second scale {second_unit}. Found with {method}."
    )
    summary = "A plain or diagonal scale, alone or beside one of other units or of time, with a reading set on it."
    true_size = True
    value_names = ("unit_length", "part_length", "level_length", "scale_length", "read_length")

    over = Real(40, "how many times smaller than the true size", least=1e-3, most=1e9)
    unit = Choice("m", "the unit", tuple(UNITS))
    range = Count(5, "how many units the scale has", 2, 100)
    parts = Count(10, "into how many parts the first unit is cut", 2, 20)
    levels = Count(10, "the levels of a diagonal scale, 0 for a plain one", 0, 20)
    reading = Real(3.47, "the reading in units", least=0, most=100)
    second_unit = Choice("none", "the unit of a second scale", ("none", *UNITS, *TIMES))
    second_range = Count(40, "how many of them", 2, 100)
    speed = Real(45, "the speed, in units an hour", least=1e-6, most=1e6)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        """A second scale is told with how far it reads, and one of time with its speed."""
        second = givens.get("second_unit", "none")
        if second == "none":
            return cls.brief
        more = "{second_unit} up to {second_range}" + (" at a speed of {speed}" if second in TIMES else "")
        return cls.brief.replace("{second_unit}", more)

    @property
    def unit_length(self) -> float:
        return UNITS[self.unit] / self.over

    @property
    def part_length(self) -> float:
        return self.unit_length / self.parts

    @property
    def smallest(self) -> float:
        """The smallest division, in units."""
        return 1 / (self.parts * max(self.levels, 1))

    @cached_property
    def read(self) -> tuple[int, int, int]:
        """The reading in units, parts and levels; first units, as far as the scale has them."""
        count, fine = in_divisions(self.reading, self.smallest), max(self.levels, 1)
        units = min(count // (self.parts * fine), self.range - 1)
        rest = count - units * self.parts * fine
        return units, rest // fine, rest % fine

    @property
    def left(self) -> float:
        _, parts, levels = self.read
        return -(parts + levels / max(self.levels, 1)) * self.part_length

    @property
    def second_length(self) -> float | None:
        """How long a unit of the second scale is; of time, the way gone in it."""
        if self.second_unit == "none":
            return None
        if self.second_unit in TIMES:
            return self.speed * TIMES[self.second_unit] * self.unit_length
        return UNITS[self.second_unit] / self.over

    def refuse(self) -> None:
        if self.levels == 1:
            raise Refused(
                "levels", "A diagonal scale has 2 levels at least. Set levels to 0 for a plain scale, or to 2."
            )
        whole = self.range * self.unit_length
        if whole > LONGEST * (1 + WHOLE):
            raise too_long(whole, self.over)
        if self.part_length < FINEST:
            raise Refused(
                "over",
                f"A part would be {mm(self.part_length)}; it needs {mm(FINEST)}. "
                f"Lower over to {trim_down(self.over * self.part_length / FINEST, 6)} or less, or lower parts.",
            )
        if self.reading > self.range * (1 + WHOLE):
            raise Refused("reading", f"The scale reads up to {self.range}; reading is {trim(self.reading)}. Lower it.")
        _ = self.read
        second = self.second_length
        if second is not None:
            if second * self.second_range > LONGEST:
                most = int(LONGEST / second)
                raise Refused(
                    "second_range" if most > 1 else "second_unit",
                    f"The second scale would be {mm(second * self.second_range)} long; {most_mm(LONGEST)} are the "
                    f"most. {f'Lower second_range to {most} or less' if most > 1 else 'Take a smaller second_unit'}.",
                )
            if second < FINEST:
                raise Refused(
                    "second_unit",
                    (f"A unit of second_unit would be {mm(second)}; it needs {mm(FINEST)}. Take a larger one."),
                )

    def values(self, method: str) -> Iterable[Value]:
        units, parts, levels = self.read
        right = units * self.unit_length
        yield Value(
            "unit_length", self.unit_length, "mm", f"{bare(UNITS[self.unit])} / {trim(self.over)}", ("U0", "U1")
        )
        yield Value("part_length", self.part_length, "mm", f"{bare(self.unit_length)} / {self.parts}")
        level = self.part_length / self.levels if self.levels else None
        words = f"{bare(self.part_length)} / {self.levels}" if self.levels else "a plain scale has none"
        yield Value("level_length", level, "mm", words)
        yield Value(
            "scale_length", self.range * self.unit_length, "mm", f"{self.range} × {bare(self.unit_length)}", ("A", "B")
        )
        yield Value("read_units", units, "", "whole units of the reading, right of 0")
        yield Value("read_parts", parts, "", "whole parts of what is left")
        yield Value("read_levels", levels if self.levels else None, "", "what is left then" if self.levels else words)
        yield Value("read_left", self.left, "mm", "parts and levels, left of 0", ("L",))
        yield Value("read_right", right, "mm", f"{units} × {bare(self.unit_length)}", ("R",))
        yield Value("read_length", right - self.left, "mm", f"{bare(right)} + {bare(-self.left)}", ("L", "R"))
        second = self.second_length
        told = "no second scale"
        if second is None:
            for name in ("second_unit_length", "second_scale_length"):
                yield Value(name, None, "mm", told)
            yield Value("second_reading", None, "", told)
            return
        if self.second_unit in TIMES:
            how = (
                f"{trim(self.speed)} × {trim(TIMES[self.second_unit], 6)} × "
                f"{bare(self.unit_length)}: the way gone in it"
            )
        else:
            how = f"{bare(UNITS[self.second_unit])} / {trim(self.over)}"
        yield Value("second_unit_length", second, "mm", how, ("W0", "W1"))
        yield Value("second_scale_length", self.second_range * second, "mm", f"{self.second_range} × {bare(second)}")
        yield Value("second_reading", (right - self.left) / second, "", f"{bare(right - self.left)} / {bare(second)}")

    def measure(self, found: Found) -> dict[str, Number]:
        told: dict[str, Number] = {
            "unit_length": distance(found["U0"], found["U1"]),
            "scale_length": distance(found["A"], found["B"]),
            "read_left": found["L"][..., 0] - found["U0"][..., 0],
            "read_right": found["R"][..., 0] - found["U0"][..., 0],
            "read_length": distance(found["L"], found["R"]),
        }
        if "W1" in found:
            told["second_unit_length"] = distance(found["W0"], found["W1"])
        return told

    def truths(self, found: Found) -> Iterator[Truth]:
        units = found.together(["A", *found.names("U"), "B"])
        spaces = distance(units[..., :-1, :], units[..., 1:, :])
        true = UNITS[self.unit]
        yield Truth("Every unit is so many times smaller than the true one", spaces - true / self.over)
        stroke = distance(found["L"], found["R"])
        yield Truth("The stroke is the reading, so many times smaller", stroke - self.reading * true / self.over)
        yield Truth("It is level", found["L"][..., 1] - found["R"][..., 1])
        second = self.second_length
        if second is not None:
            row = found.together(found.names("W"))
            yield Truth(
                "The second scale’s units are alike and as long as they should be",
                distance(row[..., :-1, :], row[..., 1:, :]) - second,
            )
            yield Truth("Both have one 0", row[..., 0, 0] - found["U0"][..., 0])

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        return ()

    # the strip

    @cached_property
    def strips(self) -> list[Strip]:
        """The scale, and a second one as a strip of its own; cut along the edge on which the marks stand."""
        top = self.levels * RISE
        each = numbered(self.parts, self.part_length)
        units = numbered(self.range, self.unit_length)
        marks = [
            Graduation(k * self.unit_length, top or 5.0, f"{k}" if k % units == 0 else "") for k in range(self.range)
        ]
        for p in range(1, self.parts + 1):
            high = top or (5.0 if p == self.parts else 3.0)
            inner = p % each == 0 and self.parts - p >= each and not top
            said = f"{p}" if inner or p == self.parts else ""
            marks.append(Graduation(-p * self.part_length, high if p == self.parts or not top else 0.0, said))
        fine = f", these in {many(self.levels, 'level')}" if top else ""
        words = f"1:{trim(self.over)}, {self.unit}; the first in {many(self.parts, 'part')}{fine}"
        made = [strip("Scale", words, marks, more=self._diagonals())]
        second = self.second_length
        if second is not None:
            each = numbered(self.second_range, second)
            row = [
                Graduation(k * second, 4.0 if k % each == 0 else 2.5, f"{k}" if k % each == 0 else "")
                for k in range(self.second_range + 1)
            ]
            made.append(
                strip("Second scale", f"{self.second_unit}, with the scale 1:{trim(self.over)}", row, -APART, -1)
            )
        return made

    def _diagonals(self) -> Iterator[Scribe]:
        """The levels, with their numbers, and the diagonals of the first unit."""
        left, right, top = -self.unit_length, (self.range - 1) * self.unit_length, self.levels * RISE
        each = numbered(self.levels, RISE)
        for k in range(1, self.levels + 1):
            said = f"{k}" if k % each == 0 and k < self.levels else ""
            yield Scribe(np.array([[left, k * RISE], [right, k * RISE]]), said, point(left - 3.0, k * RISE))
        for p in range(self.parts if self.levels else 0):
            low = -p * self.part_length
            yield Scribe(np.array([[low, 0.0], [low - self.part_length, top]]))


@method(
    ScaleBar,
    "parallels",
    about="The whole length divided by parallels; the first unit into parts, these by diagonals into levels.",
    source="The intercept theorem (Euclid, Elements VI.2, VI.9)",
)
def scale_parallels(g: ScaleBar, d: Draft) -> None:
    units, parts, levels = g.read
    with d.phase("The units"):
        a = d.start_at("A", -g.unit_length, 0.0, "Mark A, the left end of the scale.")
        line = d.level_from(a, "Draw level.", length=g.range * g.unit_length)
        b = d.lay_off(line, a, g.range * g.unit_length, "B", "Lay the scale’s whole length off.")
        counted = d.choice(
            "units-too-many", right=g.range, slip=g.range + 1, says="Marks are counted for units: each is too short."
        )
        names = [f"U{k}" for k in range(g.range - 1)]
        marks = d.divide_by_parallels(a, b, g.range, names, counted, "Divide it into its units.")
        while len(marks) < g.range + 1:
            marks.append(b)
        zero = marks[1]
    with d.phase("The parts"):
        inner = d.divide_by_parallels(a, zero, g.parts, [], None, "Divide the first unit into parts.", 40.0)
        # numbered leftwards from 0
        ticks = [zero, *inner[-2:0:-1], a]
    at_end = d.choice(
        "zero-at-end",
        right=0,
        slip=1,
        when=units + 1 < g.range,
        says="0 is taken at the left end: the stroke is a unit too long.",
    )
    from_left = d.choice(
        "parts-from-left",
        right=False,
        slip=True,
        when=2 * parts != g.parts and not g.levels,
        says="The parts are counted from the left end instead of from 0.",
    )
    right = marks[1 + units + at_end]
    drawn = None
    if g.levels:
        drawn = _diagonals(g, d, ticks, marks, right, parts, levels)
        read = drawn.read
    else:
        left = ticks[g.parts - parts if from_left else parts]
        with d.phase("The reading"), d.as_one("Pencil", f"Ring {_words(g)}: L and R."):
            read = d.also("L", left), d.also("R", right)
    if g.second_length is not None:
        _second(g, d, zero)
    _lined(d, marks, drawn, levels, read)


def _words(g: ScaleBar) -> str:
    units, parts, levels = g.read
    fine = f", {many(levels, 'level')} up" if g.levels else ""
    return f"{units} to the right of 0 and {many(parts, 'part')} to its left{fine}"


class _Levels(NamedTuple):
    """The level lines of a diagonal scale from below, each by its ends, its diagonals, and the reading on them."""

    rows: list[tuple[Spot, Spot]]
    slants: list[tuple[Spot, Spot]]
    read: tuple[Spot, Spot]


def _diagonals(
    g: ScaleBar, d: Draft, ticks: list[Spot], marks: list[Spot], right: Spot, parts: int, levels: int
) -> _Levels:
    """The level lines, the diagonals of the first unit, and the reading on them."""
    with d.phase("The levels"):
        edge = d.upright_from(ticks[-1], "At A set up an upright.", length=g.levels * RISE)
        steps = d.step_along(edge, ticks[-1], RISE, g.levels, says=f"On it step {g.levels} equal spaces of {mm(RISE)}.")
        with d.as_one("Set square", "Draw level through each, and uprights at the units."):
            rows = [d.level_from(step, length=g.range * g.unit_length) for step in steps[1:]]
            ups = {id(mark): d.upright_from(mark, length=g.levels * RISE) for mark in dict.fromkeys(marks[1:])}
            ends = [d.meet(row, ups[id(marks[-1])]) for row in rows]
    with d.phase("The diagonals"):
        with d.as_one("Set square", "Carry the parts up to the topmost line."):
            tops = [d.meet(d.upright_from(tick, length=g.levels * RISE), rows[-1]) for tick in ticks]
        with d.as_one("Straightedge", "Join each part below to the next one above: the diagonals."):
            slants = [d.rule(low, high) for low, high in zip(ticks, tops[1:])]
    with d.phase("The reading"), d.as_one("Pencil", f"Ring {_words(g)}: L and R."):
        if levels == 0:
            read = d.also("L", ticks[parts]), d.also("R", right)
        else:
            row = rows[levels - 1]
            read = d.meet(slants[parts], row, "L"), d.meet(ups[id(right)], row, "R")
    return _Levels([(ticks[-1], marks[-1]), *zip(steps[1:], ends)], list(zip(ticks, tops[1:])), read)


def _second(g: ScaleBar, d: Draft, zero: Spot) -> None:
    """The second scale below the first, with the same 0."""
    assert g.second_length is not None
    with d.phase("The second scale"):
        down = d.upright_from(zero, "From 0 draw down.", length=-BELOW)
        start = d.lay_off(down, zero, -BELOW, "W0", "Mark the same 0 on a line below.")
        low = d.level_from(start, "Draw level.", length=g.second_range * g.second_length)
        far = d.lay_off(low, start, g.second_range * g.second_length, f"W{g.second_range}", "Lay its whole length off.")
        names = [f"W{k}" for k in range(1, g.second_range)]
        row = d.divide_by_parallels(start, far, g.second_range, names, None, "Divide it into its units.", -30.0)
        d.line_in([start, far], says="Line in the second scale.")
        ticked(d, low, row, -2.0)


def _lined(d: Draft, marks: list[Spot], drawn: _Levels | None, levels: int, read: tuple[Spot, Spot]) -> None:
    with d.phase("Line in"):
        base = d.rule(marks[0], marks[-1], "Lay the set square along the scale.")
        if drawn is None:
            lined_about(d, marks[0], marks[-1], read)
        else:
            with d.as_one("Straightedge", "Line in the level lines and the diagonals."):
                for k, row in enumerate(drawn.rows):
                    if k != levels:
                        d.line_in(row, role=Role.REFERENCE if k else Role.OUTLINE)
                for slant in drawn.slants:
                    d.line_in(slant, role=Role.REFERENCE)
            lined_about(d, *drawn.rows[levels], read, Role.REFERENCE if levels else Role.OUTLINE)
        ticked(d, base, list(dict.fromkeys(marks)), -3.0 if drawn else 3.0)


def lined_about(d: Draft, start: Spot, end: Spot, read: tuple[Spot, Spot], role: Role = Role.OUTLINE) -> None:
    """A scale lined in on both sides of the stroke of its reading, which is drawn thick."""
    left, right = read
    with d.as_one("Straightedge", "Line in the scale; the stroke of the reading thick from L to R."):
        for one, other in ((start, left), (left, right), (right, end)):
            if float(distance(one.here, other.here)) > FINEST / 2:
                d.line_in([one, other], role=Role.OUTLINE if one is left else role)


def ticked(d: Draft, line: LineMark, spots: list[Spot], high: float) -> None:
    """Short strokes across a line at its marks, ``high`` mm up (less than 0: down)."""
    with d.as_one("Set square", "Tick across it at every unit."):
        for spot in spots:
            tick = d.square_to(line, spot, role=Role.OUTLINE)
            tick.extent(min(high, 0.0), max(high, 0.0)).fixed = True
