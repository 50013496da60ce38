"""A construction of one's own drawn by instruments: its lines as operations of ``Draft``, and no more than those."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, LineMark, Spot
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.recorder import NoMeet, Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import angle_of, distance
from wise_compass.own.language import POINT, Line
from wise_compass.own.program import Program

LARGEST = 1e6
"""mm: no hand draws further, and no number is larger."""
SMALLEST = 1e-9
MOST_SPACES = 60
"""That are divided into in one step."""
_TAKEN = re.compile(rf"(?:(\d+(?:\.\d+)?(?:/\d+)?)\s*\*\s*)?({POINT})\s*({POINT})(?:\s*/\s*(\d+(?:\.\d+)?))?")
_PAIR = re.compile(rf"(?<![A-Za-z_])({POINT})\s*({POINT})(?![A-Za-z0-9])")
_WORD = re.compile(r"[a-z][A-Za-z_0-9]*")
WHERE = {"upper": "above", "lower": "below", "left": "left", "right": "right"}


class Drawing:
    """A program on a draft: what its names stand for so far."""

    def __init__(self, d: Draft, numbers: Mapping[str, float], letters: Mapping[str, str]) -> None:
        self.d, self.numbers = d, numbers
        self._theirs = {theirs for theirs, own in letters.items() if theirs != own}
        self.keys: dict[str, list[str]] = {}
        for theirs, own in letters.items():
            self.keys.setdefault(own, []).append(theirs)
        self.points: dict[str, Spot] = {}
        self.things: dict[str, LineMark | ArcMark] = {}

    # what a line speaks of

    def key(self, name: str) -> str:
        """The key that a point of the program has among the drawing's spots: its name, that of the claim, or another
        where the claim has its name for a point that is called otherwise."""
        if name in self.keys:
            return self.keys[name][0]
        return f"{name}₀" if name in self._theirs else name

    def name_again(self, own: str) -> None:
        """The further names that the claim has for a point."""
        for theirs in self.keys.get(own, ())[1:]:
            self.d.also(theirs, self.points[own], "plain")

    def point(self, line: Line, part: str) -> Spot:
        return self.points[line.parts[part]]

    def line(self, line: Line, part: str) -> LineMark:
        thing = self.things[line.parts[part]]
        if not isinstance(thing, LineMark):
            raise Refused("own", f"Line {line.number}: {line.parts[part]} is a circle, where a line is wanted.")
        return thing

    def circle(self, line: Line, part: str) -> ArcMark:
        thing = self.things[line.parts[part]]
        if not isinstance(thing, ArcMark):
            raise Refused("own", f"Line {line.number}: {line.parts[part]} is a line, where a circle is wanted.")
        return thing

    def length(self, line: Line, part: str = "length") -> float | Opening:
        """A length: between points as an opening, which the instrument takes off; else a number."""
        words = line.parts[part]
        taken = _TAKEN.fullmatch(words.strip())
        if taken is None:
            return self.number(line, words, "length")
        times, one, other, parts = taken.groups()
        self._known(line, one, other)
        opening = self.d.opening(self.points[one], self.points[other])
        if not 0 < opening.nominal < LARGEST:
            raise Refused("own", f"Line {line.number}: {one} and {other} fall on one point; nothing can be taken off.")
        factor = parse_quantity(times, "number", 1.0) if times else 1.0
        return self.d.in_proportion(opening, float(factor) / float(parts or 1.0))

    def _known(self, line: Line, *names: str) -> None:
        for name in names:
            if name not in self.points:
                raise Refused("own", f"Line {line.number} speaks of {name}, which no step before it marks.")

    def number(self, line: Line, words: str, kind: str) -> float:
        """The value of arithmetic with numbers, givens, and distances of points as the steady hand has them."""

        def between(found: re.Match[str]) -> str:
            self._known(line, found[1], found[2])
            return f"({float(distance(self.points[found[1]].here, self.points[found[2]].here))!r})"

        def named(found: re.Match[str]) -> str:
            return f"({self.numbers[found[0]]!r})" if found[0] in self.numbers else found[0]

        told = _WORD.sub(named, _PAIR.sub(between, words))
        try:
            value = float(parse_quantity(told, kind, 1.0))
        except Refused as refusal:
            raise Refused("own", f"Line {line.number}, “{words}”: {refusal.template}") from None
        if not math.isfinite(value) or abs(value) > LARGEST:
            raise Refused("own", f"Line {line.number}: “{words}” comes to no length that can be drawn.")
        return value

    # its steps

    def draw(self, line: Line) -> None:
        """One step; raises :class:`Refused` and :class:`NoMeet`."""
        STEPS[line.verb](self, line)

    def name(self, line: Line, spot: Spot, part: str = "name") -> None:
        self.points[line.parts[part]] = spot

    def keep(self, line: Line, thing: LineMark | ArcMark) -> None:
        self.things[line.parts["new"]] = thing

    def mark(self, line: Line) -> None:
        x, y = (self.number(line, line.parts[part], "length") if part in line.parts else 0.0 for part in "xy")
        key = self.key(line.parts["name"])
        start = self.d.start_at if not self.points else self.d.plot
        self.name(line, start(key, x, y, line.says))

    def rule(self, line: Line) -> None:
        a, b = self.point(line, "a"), self.point(line, "b")
        self._apart(line, a, b)
        self.keep(line, self.d.rule(a, b, line.says))

    def _apart(self, line: Line, a: Spot, b: Spot) -> None:
        if float(distance(a.here, b.here)) < SMALLEST:
            names = f"{line.parts['a']} and {line.parts['b']}"
            raise Refused("own", f"Line {line.number}: {names} fall on one point, and no line runs through one point.")

    def level(self, line: Line) -> None:
        self.keep(line, self.d.level_from(self.point(line, "at"), line.says))

    def upright(self, line: Line) -> None:
        self.keep(line, self.d.upright_from(self.point(line, "at"), line.says))

    def square(self, line: Line) -> None:
        self.keep(line, self.d.square_to(self.line(line, "on"), self.point(line, "at"), line.says))

    def parallel(self, line: Line) -> None:
        self.keep(line, self.d.parallel_to(self.line(line, "on"), self.point(line, "at"), line.says))

    def ray(self, line: Line) -> None:
        angle: float | np.ndarray = self.number(line, line.parts["angle"], "angle")
        if "a" in line.parts:
            a, b = self.point(line, "a"), self.point(line, "b")
            self._apart(line, a, b)
            angle = angle_of(b.at - a.at) + angle
        self.keep(line, self.d.ray(self.point(line, "at"), angle, line.says))

    def lay_off(self, line: Line) -> None:
        length, key, on, at = (
            self.length(line),
            self.key(line.parts["name"]),
            self.line(line, "on"),
            self.point(line, "at"),
        )
        way = -1.0 if "back" in line.parts else 1.0
        if isinstance(length, Opening):
            self.name(line, self.d.lay_off(on, at, length, key, line.says, way=way))
        else:
            self.name(line, self.d.lay_off(on, at, way * length, key, line.says))

    def swing(self, line: Line) -> None:
        length = self.length(line)
        if not isinstance(length, Opening) and length <= 0:
            raise Refused("own", f"Line {line.number}: a compass is opened by more than nothing.")
        self.keep(line, self.d.compass(self.point(line, "at"), length, line.says, whole=line.verb == "circle"))

    def meet(self, line: Line) -> None:
        one, two = (self.things[line.parts[part]] for part in ("one", "two"))
        which = line.parts.get("which", "")
        if one is two:
            raise Refused("own", f"Line {line.number}: {line.parts['one']} does not cross itself.")
        if not which and not (isinstance(one, LineMark) and isinstance(two, LineMark)):
            which = "upper"
        near = self.points[line.parts["a"]] if which.startswith("nearest") else None
        far = self.points[line.parts["a"]] if which.startswith("other") else None
        key = self.key(line.parts["name"])
        if line.says or not self.d.steps:
            with self.d.as_one("Pencil", line.says or "Mark the crossing."):
                spot = self.d.meet(one, two, key, where=WHERE.get(which, ""), near=near, far=far)
        else:
            spot = self.d.meet(one, two, key, where=WHERE.get(which, ""), near=near, far=far)
        self.name(line, spot)

    def middle(self, line: Line) -> None:
        with self.d.as_one("Dividers", line.says or f"Halve {line.parts['a']}{line.parts['b']}."):
            self.name(line, self.d.midpoint(self.point(line, "a"), self.point(line, "b"), self.key(line.parts["name"])))

    def bisect(self, line: Line) -> None:
        a, b = self.point(line, "a"), self.point(line, "b")
        self._apart(line, a, b)
        self.keep(line, moves.perpendicular_bisector(self.d, a, b))

    def divide(self, line: Line) -> None:
        a, b, names = self.point(line, "a"), self.point(line, "b"), line.parts["names"].split()
        count = int(line.parts["count"])
        if not 2 <= count <= MOST_SPACES:
            raise Refused("own", f"Line {line.number}: {count} spaces; divide goes from 2 to {MOST_SPACES}.")
        if len(names) > count - 1:
            raise Refused("own", f"Line {line.number}: {count} spaces have {count - 1} marks between the ends.")
        self._apart(line, a, b)
        marks = self.d.divide(a, b, count, ["", *map(self.key, names)], line.says)
        self.points.update(zip(names, marks[1:]))

    def step_round(self, line: Line) -> None:
        names = line.parts["names"].split()
        spots = self.d.step_round(
            self.circle(line, "on"),
            self.point(line, "at"),
            self.length(line),
            [self.key(name) for name in names],
            "clock" in line.parts,
            line.says,
        )
        self.points.update(zip(names, spots))

    def step_along(self, line: Line) -> None:
        names = line.parts["names"].split()
        way = -1 if "back" in line.parts else 1
        spots = self.d.step_along(
            self.line(line, "on"),
            self.point(line, "at"),
            self.length(line),
            way * len(names),
            [self.key(name) for name in names],
            line.says,
        )
        self.points.update(zip(names, spots[1:]))

    def line_in(self, line: Line) -> None:
        names = line.parts["rows"].split()
        closed = len(names) > 2 and names[0] == names[-1]
        spots = [self.points[name] for name in (names[:-1] if closed else names)]
        self.d.line_in(spots, closed=closed, says=line.says or f"Line in {', '.join(names)}.")

    def circle_in(self, line: Line) -> None:
        self.d.circle_in(self.point(line, "at"), self.length(line), line.says or "Line in the circle.")

    def arc_in(self, line: Line) -> None:
        centre, start, end = (self.point(line, part) for part in ("at", "a", "b"))
        self._apart(line, centre, start)
        self.d.arc_in(centre, self.d.opening(centre, start), start, end)

    def curve(self, line: Line) -> None:
        names = line.parts["rows"].split()
        closed = names[0] == names[-1]
        spots = [self.points[name] for name in (names[:-1] if closed else names)]
        self.d.curve(spots, closed=closed, says=line.says or "Join them by a curve.")


STEPS: dict[str, Callable[[Drawing, Line], None]] = {
    "mark": Drawing.mark,
    "line": Drawing.rule,
    "level": Drawing.level,
    "upright": Drawing.upright,
    "square": Drawing.square,
    "parallel": Drawing.parallel,
    "ray": Drawing.ray,
    "lay off": Drawing.lay_off,
    "circle": Drawing.swing,
    "arc": Drawing.swing,
    "meet": Drawing.meet,
    "middle": Drawing.middle,
    "bisect": Drawing.bisect,
    "divide": Drawing.divide,
    "step round": Drawing.step_round,
    "step along": Drawing.step_along,
    "line in": Drawing.line_in,
    "line in circle": Drawing.circle_in,
    "line in arc": Drawing.arc_in,
    "curve": Drawing.curve,
}


def draw(program: Program, numbers: Mapping[str, float], d: Draft) -> None:
    """Draw a construction by its own lines; raises :class:`Refused` by the line, and :class:`Unmet` where two lines
    that it has meet do not."""
    drawing_of(program, numbers, d)


def drawing_of(program: Program, numbers: Mapping[str, float], d: Draft) -> Drawing:
    """The same, and what its names stand for in the end."""
    drawing = Drawing(d, numbers, program.letters)
    for line in program.lines:
        draw_line(drawing, line)
    return drawing


def draw_line(drawing: Drawing, line: Line) -> None:
    """One line of it; raises :class:`Refused` and :class:`Unmet`."""
    d = drawing.d
    with d.phase(line.phase or "By my own way"):
        before = len(d.steps)
        try:
            drawing.draw(line)
        except NoMeet as missed:
            what = f"{line.parts['one']} and {line.parts['two']}" if line.verb == "meet" else "what it needs"
            raise Unmet(line, f"Line {line.number}: {what} do not meet with these numbers.") from missed
        for name in line.made:
            drawing.name_again(name)
        if line.says and len(d.steps) > before:
            d.steps[before].says = line.says


class Unmet(Refused):
    """A crossing that is not there with these numbers, with the line that asks for it."""

    def __init__(self, line: Line, says: str) -> None:
        super().__init__("own", says)
        self.line = line
