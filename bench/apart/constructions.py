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


CONSTRUCTIONS: dict[tuple[str, str], Callable[[Hand, Mapping[str, Any]], Drawn]] = {
    ("triangle-three-sides", "arcs"): triangle,
    ("rhombus", "arcs"): rhombus,
    ("ellipse", "two-circles"): ellipse,
    ("archimedean-spiral", "divided-radius"): spiral,
    ("square-on-side", "four-arcs"): square_on_side,
    ("polygon-in-circle", "protractor"): polygon,
    ("bisect-angle", "equal-arcs"): bisected,
}
"""By figure and method, at the usual givens."""
