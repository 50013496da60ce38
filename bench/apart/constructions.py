"""Constructions written anew from the steps as they are printed, one function a figure.

Each takes a hand and the givens and returns the named points; ``hand.step`` is the printed number of the step that is
being done, so that a reading tells where it was made.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from bench.apart.curves import cycloid, ellipse, hyperbola, line_in_views, spiral
from bench.apart.hand import ORIGIN, Array, Drawn, Hand, along, cross_circles, cross_lines, cut_circle


def _base(hand: Hand, a: Array, b: Array) -> None:
    """A line through the first mark, and the second laid off on it."""
    off = b - a
    hand.pencil.joining(a, b)
    hand.pencil.tick(b, float(np.degrees(np.arctan2(off[1], off[0]))))


def triangle(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a = ORIGIN
    hand.step = 3
    b = hand.mark(along(a, hand.square(0.0), hand.by_rule(g["ab"])))
    hand.step = 4
    one = hand.needle(a), hand.opening(g["ca"])
    hand.step = 5
    two = hand.needle(b), hand.opening(g["bc"])
    crossing = cross_circles(*one, *two)
    c = hand.mark(crossing)
    _base(hand, a, b)
    for arc in (one, two):
        hand.pencil.arc(*arc, crossing)
    hand.pencil.outline(a, b, c, a)
    return {"A": a, "B": b, "C": c}


def rhombus(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    c = hand.mark(along(a, level, hand.by_rule(g["first_diagonal"])))
    any_opening = 0.72 * g["first_diagonal"] + hand.stray(0.15)
    one, two = (hand.needle(a), any_opening), (hand.needle(c), any_opening)
    high, low = hand.mark(cross_circles(*one, *two)), hand.mark(cross_circles(*one, *two, upper=False))
    line = hand.through(low, high)
    m = hand.mark(cross_lines(*line, a, level))
    hand.step = 7
    needle, half = hand.needle(m), hand.opening(g["second_diagonal"] / 2)
    d, b = (hand.mark(cut_circle(*line, needle, half, near)) for near in (high, low))
    _base(hand, a, c)
    for arc in (one, two):
        for towards in (high, low):
            hand.pencil.arc(*arc, towards)
    hand.pencil.joining(low, high)
    for towards in (d, b):
        hand.pencil.arc(needle, half, towards, 4.0)
    hand.pencil.outline(a, b, c, d, a)
    return {"A": a, "C": c, "M": m, "D": d, "B": b}


def square_on_side(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["side"])))
    handy = 0.6 * g["side"] + hand.stray(0.15)
    arc = hand.needle(a), handy
    one = hand.mark(along(arc[0], level, handy))
    two = hand.mark(cross_circles(hand.needle(one), handy, *arc))
    three = hand.mark(
        min(
            (cross_circles(hand.needle(two), handy, *arc, upper=side) for side in (True, False)),
            key=lambda at: float(at[0]),
        )
    )
    top = hand.mark(cross_circles(hand.needle(two), handy, hand.needle(three), handy))
    line = hand.through(a, top)
    side = float(np.hypot(*(hand.needle(b) - hand.needle(a))))
    up_to = hand.needle(a), side
    d = hand.mark(cut_circle(*line, *up_to, top))
    last = (hand.needle(b), side), (hand.needle(d), side)
    c = hand.mark(
        max((cross_circles(*last[0], *last[1], upper=up) for up in (True, False)), key=lambda at: float(at[0]))
    )
    _base(hand, a, b)
    hand.pencil.arc(*arc, two, 1.3 * handy)
    for centre, towards in ((one, two), (two, three), (two, top), (three, top)):
        hand.pencil.arc(centre, handy, towards, 4.0)
    hand.pencil.line(line[0], line[1], 0.0, max(side, float(np.hypot(*(top - a)))))
    for swung, towards in ((up_to, d), (last[0], c), (last[1], c)):
        hand.pencil.arc(*swung, towards)
    hand.pencil.outline(a, b, c, d, a)
    return {"A": a, "B": b, "C": c, "D": d}


def polygon(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    o, n = ORIGIN, int(g["sides"])
    hand.step = 2
    circle = hand.needle(o), hand.opening(g["diameter"] / 2)
    hand.step = 3
    made: Drawn = {"O": o}
    for k in range(n):
        turn = 90.0 + 360.0 * k / n
        out = turn + hand.stray(0.12)
        made["ABCDEFGHJKLMNPQ"[k]] = hand.mark(cut_circle(o, out, *circle, along(o, turn, circle[1])))
        hand.pencil.line(o, out, 0.0, circle[1])
    hand.pencil.circle(*circle)
    corners = [made[name] for name in "ABCDEFGHJKLMNPQ"[:n]]
    hand.pencil.outline(*corners, corners[0])
    return made


def bisected(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    v, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    arm = hand.by_protractor(g["angle"]) + hand.level_out
    handy, larger = 54.0 + hand.stray(0.15), 67.5 + hand.stray(0.15)
    arc = hand.needle(v), handy
    a = hand.mark(cut_circle(v, level, *arc, along(v, level, handy)))
    b = hand.mark(cut_circle(v, arm, *arc, along(v, arm, handy)))
    one, two = (hand.needle(a), larger), (hand.needle(b), larger)
    both = [cross_circles(*one, *two, upper=up) for up in (True, False)]
    m = hand.mark(max(both, key=lambda at: float(np.hypot(*at))))
    for angle, far in ((level, a), (arm, b)):
        hand.pencil.line(v, angle, 0.0, 1.4 * handy)
        hand.pencil.arc(*arc, far)
        hand.pencil.outline(v, along(v, angle, 1.4 * handy))
    for swung in (one, two):
        hand.pencil.arc(*swung, m)
    hand.pencil.outline(v, m)
    return {"V": v, "A": a, "B": b, "M": m}


def fillet(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    v, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    arm = hand.by_protractor(g["angle"]) + hand.level_out
    touching = []
    hand.step = 4
    radius = hand.opening(g["radius"])
    for way, side in ((level, 90.0), (arm, -90.0)):
        tops = []
        for far in (28.0, 62.0):
            centre = hand.needle(along(v, way, far))
            tops.append(along(centre, way + side, radius))
            hand.pencil.arc(centre, radius, tops[-1])
        touching.append(hand.through(*tops))
        hand.pencil.joining(*tops)
    crossing = cross_lines(*touching[0], *touching[1])
    k = hand.mark(crossing)
    feet = []
    for square, way in ((hand.square(90.0), level), (arm + 90.0 + hand.stray(0.05), arm)):
        feet.append(cross_lines(k, square, v, way))
        hand.pencil.line(v, way, 0.0, 90.0)
        hand.pencil.joining(k, feet[-1])
    for line in touching:
        hand.pencil.joining(line[0], crossing)
    t1, t2 = (hand.mark(foot) for foot in feet)
    hand.pencil.lined_arc(k, float(np.hypot(*(hand.needle(t2) - k))), t2, t1)
    hand.pencil.outline(t1, along(v, level, 88.0))
    hand.pencil.outline(t2, along(v, arm, 88.0))
    return {"V": v, "K": k, "T1": t1, "T2": t2}


def rectangle(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["length"])))
    left, right = hand.square(90.0), hand.square(90.0)
    hand.step = 6
    d = hand.mark(along(a, left, hand.by_rule(g["width"])))
    top = hand.square(0.0)
    c = hand.mark(cross_lines(d, top, b, right))
    _base(hand, a, b)
    _base(hand, a, d)
    hand.pencil.line(b, right, 0.0, g["width"])
    hand.pencil.line(d, top, 0.0, g["length"])
    hand.pencil.outline(a, b, c, d, a)
    return {"A": a, "B": b, "D": d, "C": c}


def tangents(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    o = ORIGIN
    hand.step = 2
    circle = hand.needle(o), hand.opening(g["radius"])
    level = hand.square(0.0)
    hand.step = 4
    p = hand.mark(along(o, level, hand.by_rule(g["distance"])))
    middle = hand.mark((o + p) / 2 + hand.stray(0.06))  # by trial, the points set down by eye
    reach = float(np.hypot(*(hand.needle(o) - hand.needle(middle))))
    over = hand.needle(middle), reach
    t1, t2 = (hand.mark(cross_circles(*circle, *over, upper=up)) for up in (True, False))
    hand.pencil.circle(*circle, True)
    _base(hand, o, p)
    hand.pencil.tick(middle, level)
    for at in (t1, t2):
        hand.pencil.arc(*over, at, 9.0)
        hand.pencil.outline(p, at)
    return {"O": o, "P": p, "M": middle, "T1": t1, "T2": t2}


def two_angles(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["ab"])))
    hand.step = 4
    one = hand.by_protractor(g["angle_A"]) + hand.level_out
    hand.step = 5
    two = 180.0 - hand.by_protractor(g["angle_B"]) + hand.level_out
    from_a, from_b = hand.needle(a), hand.needle(b)
    crossing = cross_lines(from_a, one, from_b, two)
    c = hand.mark(crossing)
    _base(hand, a, b)
    hand.pencil.joining(from_a, crossing)
    hand.pencil.joining(from_b, crossing)
    hand.pencil.outline(a, b, c, a)
    return {"A": a, "B": b, "C": c}


def parallelogram(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["ab"])))
    hand.step = 4
    arm = hand.by_protractor(g["angle_A"]) + hand.level_out
    hand.step = 5
    d = hand.mark(along(a, arm, hand.by_rule(g["ad"])))
    across, along_it = (float(np.hypot(*(hand.needle(at) - hand.needle(a)))) for at in (d, b))
    one, two = (hand.needle(b), across), (hand.needle(d), along_it)
    both = [cross_circles(*one, *two, upper=up) for up in (True, False)]
    c = hand.mark(max(both, key=lambda at: float(at[0])))
    _base(hand, a, b)
    _base(hand, a, d)
    for arc in (one, two):
        hand.pencil.arc(*arc, c)
    hand.pencil.outline(a, b, c, d, a)
    return {"A": a, "B": b, "D": d, "C": c}


def three_points(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a = ORIGIN
    found = {"A": a}
    for step, name in ((2, "B"), (3, "C")):
        hand.step = step
        x, y = (hand.by_rule(size) for size in g[name])
        found[name] = hand.mark(along(along(a, hand.square(0.0), x), hand.square(90.0), y))
    lines = []
    for p, q, size in ((a, found["B"], 59.9), (found["B"], found["C"], 49.0)):
        handy = size + hand.stray(0.15)
        one, other = (hand.needle(p), handy), (hand.needle(q), handy)
        lines.append(hand.through(*(hand.mark(cross_circles(*one, *other, upper=up)) for up in (True, False))))
    return {**found, "K": hand.mark(cross_lines(*lines[0], *lines[1]))}


def arc_on_circles(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    o1, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    o2 = hand.mark(along(o1, level, hand.by_rule(g["distance"])))
    circles = []
    for step, at, size in ((4, o1, "radius_1"), (5, o2, "radius_2")):
        hand.step = step
        circles.append((hand.needle(at), hand.opening(g[size])))
    sums = []
    for step, at, size in ((6, o1, "radius_1"), (7, o2, "radius_2")):
        hand.step = step
        sums.append((hand.needle(at), hand.opening(g[size] + g["radius"])))
    made = {"O1": o1, "O2": o2}
    for k, up in ((1, True), (2, False)):
        made[f"K{k}"] = hand.mark(cross_circles(*sums[0], *sums[1], upper=up))
        for name, at, circle in (("S", o1, circles[0]), ("U", o2, circles[1])):
            line = hand.through(at, made[f"K{k}"])
            made[f"{name}{k}"] = hand.mark(cut_circle(*line, *circle, made[f"K{k}"]))
            hand.pencil.joining(at, made[f"K{k}"])
        for swung in sums:
            hand.pencil.arc(*swung, made[f"K{k}"])
        touches = made[f"S{k}"], made[f"U{k}"]
        opening = float(np.hypot(*(hand.needle(touches[0]) - made[f"K{k}"])))
        hand.pencil.lined_arc(made[f"K{k}"], opening, *(touches if up else touches[::-1]))
    _base(hand, o1, o2)
    for circle in circles:
        hand.pencil.circle(*circle, True)
    return made


def trapezium(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["ab"])))
    hand.step = 4
    e = hand.mark(along(a, level, hand.by_rule(g["ab"] - g["cd"])))
    hand.step = 5
    one = hand.needle(a), hand.opening(g["left_leg"])
    hand.step = 6
    two = hand.needle(e), hand.opening(g["right_leg"])
    d = hand.mark(cross_circles(*one, *two))
    hand.step = 9
    c = hand.mark(along(d, hand.square(0.0), hand.by_rule(g["cd"])))
    return {"A": a, "B": b, "E": e, "D": d, "C": c}


CONSTRUCTIONS: dict[tuple[str, str], Callable[[Hand, Mapping[str, Any]], Drawn]] = {
    ("triangle-three-sides", "arcs"): triangle,
    ("rhombus", "arcs"): rhombus,
    ("ellipse", "two-circles"): ellipse,
    ("archimedean-spiral", "divided-radius"): spiral,
    ("square-on-side", "four-arcs"): square_on_side,
    ("polygon-in-circle", "protractor"): polygon,
    ("bisect-angle", "equal-arcs"): bisected,
    ("fillet", "swung-arcs"): fillet,
    ("rectangle", "set-square"): rectangle,
    ("tangents-from-point", "semicircle"): tangents,
    ("triangle-side-two-angles", "protractor"): two_angles,
    ("parallelogram", "arcs"): parallelogram,
    ("circle-three-points", "bisectors"): three_points,
    ("arc-two-circles", "sum-and-difference-arcs"): arc_on_circles,
    ("trapezium", "triangle-shift"): trapezium,
    ("hyperbola", "focus-arcs"): hyperbola,
    ("line-from-views", "auxiliary-view"): line_in_views,
    ("cycloid", "divided-circle"): cycloid,
}
"""By figure and method, at the usual givens."""
