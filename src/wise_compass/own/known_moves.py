"""The steps of a construction of one's own that are a known move, or a place that a hand takes: halving an angle,
perpendiculars with the compass, a tangent point, a share of a length, the trammel."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.marks import LineMark, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import cross, distance
from wise_compass.own.drawing import MOST_SPACES, SMALLEST, Drawing
from wise_compass.own.language import Line

HANDY = 25.0
"""mm that a compass is opened by where any opening serves."""


def share(drawing: Drawing, line: Line) -> None:
    a, b = drawing.point(line, "a"), drawing.point(line, "b")
    part = drawing.number(line, line.parts["part"], "number")
    drawing.refuse_one_point(line, a, b)
    with drawing.d.as_one("Dividers", line.says or f"Divide {a.name}{b.name} in this ratio, by trial."):
        drawing.name(line, drawing.d.between(a, b, part, drawing.key(line.parts["name"])))


def place(drawing: Drawing, line: Line) -> None:
    """A place of a line, so far along from where it begins; of a circle, at so many degrees."""
    on, name = drawing.things[line.parts["on"]], drawing.key(line.parts["name"])
    along = drawing.number(line, line.parts["along"], "length" if isinstance(on, LineMark) else "angle")
    with drawing.d.as_one("Pencil", line.says or f"Take {name} on it."):
        d = drawing.d
        spot = d.on(on, along, name, "found") if isinstance(on, LineMark) else d.on_arc(on, along, name, "found")
        drawing.name(line, spot)


def measure(drawing: Drawing, line: Line) -> None:
    by = np.array([drawing.number(line, line.parts[part], "length") for part in ("right", "rise")])
    start, name = drawing.point(line, "at"), drawing.key(line.parts["name"])
    drawing.name(line, drawing.d.measure_off(start, by, name, line.says))


def mirror(drawing: Drawing, line: Line) -> None:
    spot, centre = drawing.point(line, "a"), drawing.point(line, "at")
    with drawing.d.as_one("Dividers", line.says or f"Carry {spot.name} as far beyond {centre.name}."):
        drawing.name(line, drawing.d.mirror(spot, centre, drawing.key(line.parts["name"])))


def halve(drawing: Drawing, line: Line) -> None:
    a, at, b = (drawing.point(line, part) for part in ("a", "at", "b"))
    for arm in (a, b):
        drawing.refuse_one_point(line, at, arm)
    drawing.keep(line, moves.angle_bisector(drawing.d, at, a, b))


def erect(drawing: Drawing, line: Line) -> None:
    drawing.keep(line, moves.erect(drawing.d, drawing.line(line, "on"), drawing.point(line, "at"), HANDY))


def drop(drawing: Drawing, line: Line) -> None:
    on, start = drawing.line(line, "on"), drawing.point(line, "at")
    off = abs(float(cross(nominal(on.u, 1), start.here - nominal(on.p, 1))))
    if off < SMALLEST:
        raise Refused("own", f"Line {line.number}: {line.parts['at']} lies on {line.parts['on']}; nothing is dropped.")
    key = drawing.key(line.parts["name"])
    drawing.name(line, moves.drop(drawing.d, on, start, off + max(0.4 * off, 0.3 * HANDY), key))


def beside(drawing: Drawing, line: Line) -> None:
    """A parallel at a distance, to the left of the line as it runs (less than 0: right)."""
    off = drawing.number(line, line.parts["length"], "length")
    drawing.keep(
        line, moves.parallel_at(drawing.d, drawing.line(line, "on"), drawing.point(line, "at"), off, line.says)
    )


def touch(drawing: Drawing, line: Line) -> None:
    """The point in which a line from outside touches a circle, on its left or right seen from there."""
    circle, start = drawing.circle(line, "on"), drawing.point(line, "at")
    if float(distance(start.here, nominal(circle.centre, 1))) <= float(nominal(circle.radius, 0)) + SMALLEST:
        raise Refused(
            "own",
            f"Line {line.number}: {line.parts['at']} lies within {line.parts['on']}; no line from there touches it.",
        )
    key = drawing.key(line.parts["name"])
    drawing.name(
        line,
        moves.touch_from(
            drawing.d, circle, drawing.centres[line.parts["on"]], start, key, line.parts["side"] == "left"
        ),
    )


def crown(drawing: Drawing, line: Line) -> None:
    """Where a straightedge laid along a line touches a circle, on the left or right of the line as it runs."""
    circle, along = drawing.circle(line, "one"), drawing.line(line, "on")
    with drawing.d.as_one("Set square", line.says or "Lay the straightedge to touch the circle; mark where."):
        side = 1 if line.parts["side"] == "left" else -1
        drawing.name(line, drawing.d.crown(circle, along, side, drawing.key(line.parts["name"])))


def trammel(drawing: Drawing, line: Line) -> None:
    """P of a strip laid with its marks on two axes; the strip that is marked already is laid again."""
    centre, along = drawing.point(line, "at"), drawing.line(line, "on")
    turn = drawing.number(line, line.parts["angle"], "angle")
    long, short = (drawing.number(line, line.parts[part], "length") for part in ("long", "short"))
    if not long > short > 0:
        raise Refused("own", f"Line {line.number}: the strip’s first mark stands further from P than the second.")
    if drawing.strip is None or drawing.strip[0] != (long, short):
        says = "On the edge of a strip mark P, M and N: the half axes from P."
        drawing.strip = (long, short), drawing.d.strip(long, short, says)
    c, s = np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))
    slide = float((long - short) * (c if abs(c) < 0.7 else -s))
    says = line.says or "Lay the strip with M on the short axis and N on the long one; mark P."
    key, axis = drawing.key(line.parts["name"]), np.array(nominal(along.u, 1))
    drawing.name(line, drawing.d.lay_strip(drawing.strip[1], centre, axis, turn, key, slide, says))


def divide_arc(drawing: Drawing, line: Line) -> None:
    arc, names = drawing.circle(line, "on"), line.parts["names"].split()
    a, b, count = drawing.point(line, "a"), drawing.point(line, "b"), int(line.parts["count"])
    if not 2 <= count <= MOST_SPACES or len(names) != count - 1:
        raise Refused(
            "own", f"Line {line.number}: {count} parts have {count - 1} marks, and go from 2 to {MOST_SPACES}."
        )
    marks = drawing.d.divide_arc(arc, a, b, count, ["", *map(drawing.key, names)], line.says)
    drawing.points.update(zip(names, marks[1:]))


STEPS: dict[str, Callable[[Drawing, Line], None]] = {
    "share": share,
    "place": place,
    "measure": measure,
    "mirror": mirror,
    "halve": halve,
    "erect": erect,
    "drop": drop,
    "beside": beside,
    "touch": touch,
    "crown": crown,
    "trammel": trammel,
    "divide arc": divide_arc,
}
