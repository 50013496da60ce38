"""A construction of one's own drawn by instruments: its lines as operations of ``Draft``, and no more than those."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import nullcontext

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.recorder import NoMeet, Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import angle_of
from wise_compass.own import inviews, known_moves
from wise_compass.own.drawing import MOST_SPACES, Drawing
from wise_compass.own.language import VERBS, Line
from wise_compass.own.program import Program

APART = ", apart"
"""Behind the head of a phase: what is drawn in it lies in none of the views, such as a pattern."""
WHERE = {"upper": "above", "lower": "below", "left": "left", "right": "right"}


def mark(drawing: Drawing, line: Line) -> None:
    x, y = (drawing.number(line, line.parts[part], "length") if part in line.parts else 0.0 for part in "xy")
    key = drawing.key(line.parts["name"])
    start = drawing.d.start_at if not drawing.points else drawing.d.plot
    drawing.name(line, start(key, x, y, line.says))


def rule(drawing: Drawing, line: Line) -> None:
    a, b = drawing.point(line, "a"), drawing.point(line, "b")
    drawing.refuse_one_point(line, a, b)
    drawing.keep(line, drawing.d.rule(a, b, line.says))


def level(drawing: Drawing, line: Line) -> None:
    drawing.keep(line, drawing.d.level_from(drawing.point(line, "at"), line.says))


def upright(drawing: Drawing, line: Line) -> None:
    drawing.keep(line, drawing.d.upright_from(drawing.point(line, "at"), line.says))


def square(drawing: Drawing, line: Line) -> None:
    drawing.keep(line, drawing.d.square_to(drawing.line(line, "on"), drawing.point(line, "at"), line.says))


def parallel(drawing: Drawing, line: Line) -> None:
    drawing.keep(line, drawing.d.parallel_to(drawing.line(line, "on"), drawing.point(line, "at"), line.says))


def ray(drawing: Drawing, line: Line) -> None:
    angle: float | np.ndarray = drawing.number(line, line.parts["angle"], "angle")
    if "a" in line.parts:
        a, b = drawing.point(line, "a"), drawing.point(line, "b")
        drawing.refuse_one_point(line, a, b)
        angle = angle_of(b.at - a.at) + angle
    drawing.keep(line, drawing.d.ray(drawing.point(line, "at"), angle, line.says))


def lay_off(drawing: Drawing, line: Line) -> None:
    length, key, on, at = (
        drawing.length(line),
        drawing.key(line.parts["name"]),
        drawing.line(line, "on"),
        drawing.point(line, "at"),
    )
    way = -1.0 if "back" in line.parts else 1.0
    if isinstance(length, Opening):
        drawing.name(line, drawing.d.lay_off(on, at, length, key, line.says, way=way))
    else:
        drawing.name(line, drawing.d.lay_off(on, at, way * length, key, line.says))


def swing(drawing: Drawing, line: Line) -> None:
    length = drawing.length(line)
    if not isinstance(length, Opening) and length <= 0:
        raise Refused("own", f"Line {line.number}: a compass is opened by more than nothing.")
    drawing.opened = length
    drawing.centres[line.parts["new"]] = drawing.point(line, "at")
    drawing.keep(line, drawing.d.compass(drawing.point(line, "at"), length, line.says, whole=line.verb == "circle"))


def meet(drawing: Drawing, line: Line) -> None:
    one, two = (drawing.things[line.parts[part]] for part in ("one", "two"))
    which = line.parts.get("which", "")
    if one is two:
        raise Refused("own", f"Line {line.number}: {line.parts['one']} does not cross itdrawing.")
    if not which and not (isinstance(one, LineMark) and isinstance(two, LineMark)):
        which = "upper"
    near = drawing.points[line.parts["a"]] if which.startswith("nearest") else None
    far = drawing.points[line.parts["a"]] if which.startswith("other") else None
    key = drawing.key(line.parts["name"])
    if line.says or not drawing.d.steps:
        with drawing.d.as_one("Pencil", line.says or "Mark the crossing."):
            spot = drawing.d.meet(one, two, key, where=WHERE.get(which, ""), near=near, far=far)
    else:
        spot = drawing.d.meet(one, two, key, where=WHERE.get(which, ""), near=near, far=far)
    drawing.name(line, spot)


def middle(drawing: Drawing, line: Line) -> None:
    with drawing.d.as_one("Dividers", line.says or f"Halve {line.parts['a']}{line.parts['b']}."):
        drawing.name(
            line,
            drawing.d.midpoint(drawing.point(line, "a"), drawing.point(line, "b"), drawing.key(line.parts["name"])),
        )


def bisect(drawing: Drawing, line: Line) -> None:
    a, b = drawing.point(line, "a"), drawing.point(line, "b")
    drawing.refuse_one_point(line, a, b)
    drawing.keep(line, moves.perpendicular_bisector(drawing.d, a, b))


def divide(drawing: Drawing, line: Line) -> None:
    a, b, names = drawing.point(line, "a"), drawing.point(line, "b"), line.parts["names"].split()
    count = int(line.parts["count"])
    if not 2 <= count <= MOST_SPACES:
        raise Refused("own", f"Line {line.number}: {count} spaces; divide goes from 2 to {MOST_SPACES}.")
    if len(names) > count - 1:
        raise Refused("own", f"Line {line.number}: {count} spaces have {count - 1} marks between the ends.")
    drawing.refuse_one_point(line, a, b)
    marks = drawing.d.divide(a, b, count, ["", *map(drawing.key, names)], line.says, how=line.parts.get("how", ""))
    drawing.points.update(zip(names, marks[1:]))


def step_round(drawing: Drawing, line: Line) -> None:
    names = line.parts["names"].split()
    spots = drawing.d.step_round(
        drawing.circle(line, "on"),
        drawing.point(line, "at"),
        drawing.length(line),
        [drawing.key(name) for name in names],
        "clock" in line.parts,
        line.says,
    )
    drawing.points.update(zip(names, spots))


def step_along(drawing: Drawing, line: Line) -> None:
    names = line.parts["names"].split()
    way = -1 if "back" in line.parts else 1
    spots = drawing.d.step_along(
        drawing.line(line, "on"),
        drawing.point(line, "at"),
        drawing.length(line),
        way * len(names),
        [drawing.key(name) for name in names],
        line.says,
    )
    drawing.points.update(zip(names, spots[1:]))


def line_in(drawing: Drawing, line: Line) -> None:
    spots, closed = _row(drawing, line)
    says = line.says or f"Line in {', '.join(line.parts['rows'].split())}."
    if "start" in line.parts:
        _piece(drawing, line, says, "Straightedge")
    else:
        drawing.d.line_in(spots, closed, says, _role(line))


def _row(drawing: Drawing, line: Line) -> tuple[list[Spot], bool]:
    """The points of a row, and whether it ends where it began."""
    names = line.parts["rows"].split()
    closed = len(names) > 2 and names[0] == names[-1]
    return [drawing.points[name] for name in (names[:-1] if closed else names)], closed


def _piece(drawing: Drawing, line: Line, says: str, instrument: str) -> None:
    """A piece of what a row is joined up by: from one place of it to a later one, its points being 0, 1, 2 …"""
    spots, closed = _row(drawing, line)
    first, last = (drawing.number(line, line.parts[part], "number") for part in ("start", "end"))
    most = 2 * len(spots) if closed else len(spots) - 1
    if not 0 <= first < last <= most:
        raise Refused(
            "own", f"Line {line.number}: a piece runs from a place of its row to a later one; they go from 0 to {most}."
        )
    with drawing.d.as_one(instrument, says):
        drawing.d.piece(drawing.d.row(spots, closed, instrument == "Curve"), first, last, _role(line))


def circle_in(drawing: Drawing, line: Line) -> None:
    drawn = drawing.d.circle_in(drawing.point(line, "at"), drawing.length(line), line.says or "Line in the circle.")

    if "new" in line.parts:
        drawing.centres[line.parts["new"]] = drawing.point(line, "at")
        drawing.keep(line, drawn)


def arc_in(drawing: Drawing, line: Line) -> None:
    centre, start, end = (drawing.point(line, part) for part in ("at", "a", "b"))
    drawing.refuse_one_point(line, centre, start)
    drawing.d.arc_in(centre, drawing.d.opening(centre, start), start, end, line.says)


def curve(drawing: Drawing, line: Line) -> None:
    spots, closed = _row(drawing, line)
    says = line.says or "Join them by a curve."
    if "start" in line.parts:
        _piece(drawing, line, says, "Curve")
    else:
        drawing.d.curve(spots, closed, says, _role(line))


def _role(line: Line) -> Role:
    return Role.HIDDEN if "hidden" in line.parts else Role.OUTLINE


STEPS: dict[str, Callable[[Drawing, Line], None]] = {
    "mark": mark,
    "line": rule,
    "level": level,
    "upright": upright,
    "square": square,
    "parallel": parallel,
    "ray": ray,
    "lay off": lay_off,
    "circle": swing,
    "arc": swing,
    "meet": meet,
    "middle": middle,
    "bisect": bisect,
    "divide": divide,
    "step round": step_round,
    "step along": step_along,
    "line in": line_in,
    "line in circle": circle_in,
    "line in arc": arc_in,
    "curve": curve,
    **known_moves.STEPS,
    **inviews.STEPS,
}
assert set(STEPS) == set(VERBS)


def draw(program: Program, numbers: Mapping[str, float], d: Draft) -> None:
    """Draw a construction by its own lines; raises :class:`Refused` by the line, and :class:`Unmet` where two lines
    that it has meet do not."""
    drawing_of(program, numbers, d)


def drawing_of(program: Program, numbers: Mapping[str, float], d: Draft) -> Drawing:
    """The same, and what its names stand for in the end."""
    drawing = Drawing(d, numbers, program.letters)
    for line in program.lines:
        draw_line(drawing, line)
    inviews.stood_in_space(drawing)
    return drawing


def draw_line(drawing: Drawing, line: Line) -> None:
    """One line of it; raises :class:`Refused` and :class:`Unmet`."""
    d = drawing.d
    title, apart, _ = line.phase.partition(APART)
    with d.phase(title or "By my own way"), d.apart(title) if apart else nullcontext():
        before = len(d.steps)
        try:
            STEPS[line.verb](drawing, line)
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
