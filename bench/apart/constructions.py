"""Constructions written anew from the steps as they are printed, one function a figure.

Each takes a hand and the givens and returns the named points; ``hand.step`` is the printed number of the step that is
being done, so that a reading tells where it was made.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from bench.apart.hand import Array, Hand, along, cross_circles, cross_lines, cut_circle

Drawn = dict[str, Array]
ORIGIN = np.zeros(2)


def triangle(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a = ORIGIN
    hand.step = 3
    b = hand.mark(along(a, hand.square(0.0), hand.by_rule(g["ab"])))
    hand.step = 4
    one = hand.needle(a), hand.opening(g["ca"])
    hand.step = 5
    two = hand.needle(b), hand.opening(g["bc"])
    return {"A": a, "B": b, "C": hand.mark(cross_circles(*one, *two))}


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
    return {"A": a, "C": c, "M": m, "D": d, "B": b}


def ellipse(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    o, level, upright = ORIGIN, hand.square(0.0), hand.square(90.0)
    hand.step = 4
    outer = hand.needle(o), hand.opening(g["long"] / 2)
    hand.step = 5
    inner = hand.needle(o), hand.opening(g["wide"] / 2)
    made: Drawn = {"O": o}
    n = int(g["divisions"])
    for k in range(n):
        turn = 360.0 * k / n
        ray = hand.square(turn)
        if turn % 180 == 0:
            made[f"P{k}"] = hand.mark(cut_circle(o, level, *outer, along(o, turn, outer[1])))
        elif turn % 180 == 90:
            made[f"P{k}"] = hand.mark(cut_circle(o, upright, *inner, along(o, turn, inner[1])))
        else:
            far = cut_circle(o, ray, *outer, along(o, turn, outer[1]))
            near = cut_circle(o, ray, *inner, along(o, turn, inner[1]))
            made[f"P{k}"] = hand.mark(cross_lines(hand.mark(far), hand.square(90.0), hand.mark(near), hand.square(0.0)))
    return made


def spiral(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    o = ORIGIN
    hand.step = 2
    rim = hand.opening(g["outer"] / 2)
    hand.step = 5
    n, spaces = int(g["divisions"]), round(g["turns"] * g["divisions"])
    first = hand.square(g["start"])
    start = hand.by_rule(g["inner"] / 2)
    made: Drawn = {"O": o}
    for k in range(spaces + 1):
        # by trial between two marks that stand: each prick is set down by eye near its place
        at = start + (rim - start) * k / spaces + hand.stray(0.06)
        radius = float(np.hypot(*(hand.needle(along(o, first, at)) - hand.needle(o))))
        ray = hand.square(g["start"] + 360.0 * (k % n) / n)
        made[f"P{k}"] = hand.mark(along(o, ray, radius))
    return made


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
    d = hand.mark(cut_circle(*line, hand.needle(a), side, top))
    c = hand.mark(
        max(
            (cross_circles(hand.needle(b), side, hand.needle(d), side, upper=up) for up in (True, False)),
            key=lambda at: float(at[0]),
        )
    )
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
    return made


def bisected(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    v, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    arm = hand.by_protractor(g["angle"]) + hand.level_out
    handy, larger = 54.0 + hand.stray(0.15), 67.5 + hand.stray(0.15)
    arc = hand.needle(v), handy
    a = hand.mark(cut_circle(v, level, *arc, along(v, level, handy)))
    b = hand.mark(cut_circle(v, arm, *arc, along(v, arm, handy)))
    both = [cross_circles(hand.needle(a), larger, hand.needle(b), larger, upper=up) for up in (True, False)]
    m = hand.mark(max(both, key=lambda at: float(np.hypot(*at))))
    return {"V": v, "A": a, "B": b, "M": m}


def fillet(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    v, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    arm = hand.by_protractor(g["angle"]) + hand.level_out
    touching = []
    for first, way, side in ((4, level, 90.0), (7, arm, -90.0)):
        tops = []
        for k, far in enumerate((28.0, 62.0)):
            hand.step = first + k
            centre = hand.needle(along(v, way, far))
            tops.append(along(centre, way + side, hand.opening(g["radius"])))
        touching.append(hand.through(*tops))
    k = hand.mark(cross_lines(*touching[0], *touching[1]))
    t1 = hand.mark(cross_lines(k, hand.square(90.0), v, level))
    t2 = hand.mark(cross_lines(k, arm + 90.0 + hand.stray(0.05), v, arm))
    return {"V": v, "K": k, "T1": t1, "T2": t2}


def rectangle(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["length"])))
    left, right = hand.square(90.0), hand.square(90.0)
    hand.step = 6
    d = hand.mark(along(a, left, hand.by_rule(g["width"])))
    return {"A": a, "B": b, "D": d, "C": hand.mark(cross_lines(d, hand.square(0.0), b, right))}


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
    return {"O": o, "P": p, "M": middle, "T1": t1, "T2": t2}


def two_angles(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    a, level = ORIGIN, hand.square(0.0)
    hand.step = 3
    b = hand.mark(along(a, level, hand.by_rule(g["ab"])))
    hand.step = 4
    one = hand.by_protractor(g["angle_A"]) + hand.level_out
    hand.step = 5
    two = 180.0 - hand.by_protractor(g["angle_B"]) + hand.level_out
    return {"A": a, "B": b, "C": hand.mark(cross_lines(hand.needle(a), one, hand.needle(b), two))}


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
    return {"A": a, "B": b, "D": d, "C": hand.mark(max(both, key=lambda at: float(at[0])))}


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


def hyperbola(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    o, level = ORIGIN, hand.square(0.0)
    made = {"O": o}
    for step, name, size in (
        (3, "F1", -g["foci"]),
        (4, "F2", g["foci"]),
        (5, "V1", -g["vertices"]),
        (6, "V2", g["vertices"]),
    ):
        hand.step = step
        made[name] = hand.mark(along(o, level if size > 0 else level + 180.0, hand.by_rule(abs(size) / 2)))
    n = int(g["divisions"])
    for k, short in enumerate((18.43, 20.58, 25.07, 31.97, 41.03, 51.86)[:n], 1):
        hand.step = 6 + k
        radii = hand.opening(short), hand.opening(short + g["vertices"])
        for letter, near, far in (("P", "F2", "F1"), ("R", "F1", "F2")):
            one, two = (hand.needle(made[near]), radii[0]), (hand.needle(made[far]), radii[1])
            for up in (True, False):
                made[f"{letter}{k if up else n + k}"] = hand.mark(cross_circles(*one, *two, upper=up))
    return made


def line_in_views(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    reference = hand.square(0.0)
    a, b = g["A"], g["B"]
    made: Drawn = {}
    foot = ORIGIN
    for letter, point, steps in (("A", a, (4, 5)), ("B", b, (8, 9))):
        if letter == "B":
            hand.step = 6
            foot = hand.mark(along(ORIGIN, reference, hand.by_rule(b[0] - a[0])))
        projector = hand.square(90.0)
        hand.step = steps[0]
        made[f"{letter}.front"] = hand.mark(along(foot, projector, hand.by_rule(point[2])))
        hand.step = steps[1]
        made[f"{letter}.top"] = hand.mark(along(foot, projector + 180.0, hand.by_rule(point[1])))
    for view, other, key, side in (("top", "front", "3", -90.0), ("front", "top", "4", 90.0)):
        _, way = hand.through(made[f"A.{view}"], made[f"B.{view}"])
        place = along(made[f"A.{view}"], way + side, 30.0)
        fold = way + hand.stray(0.05)
        for letter in "AB":
            square = way + side + hand.stray(0.05)
            at = cross_lines(made[f"{letter}.{view}"], square, place, fold)
            level = made[f"{letter}.{other}"] - ORIGIN
            taken = abs(float(level @ np.array([-np.sin(np.radians(reference)), np.cos(np.radians(reference))])))
            made[f"{letter}.{key}"] = hand.mark(along(hand.needle(at), square, taken + hand.stray(0.1)))
    return made


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
}
"""By figure and method, at the usual givens."""
