"""Curves, and a line in its views, written anew from the steps as they are printed; as
:mod:`bench.apart.constructions`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from bench.apart.hand import ORIGIN, Drawn, Hand, along, cross_circles, cross_lines, cut_circle


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
            one, other = hand.mark(far), hand.mark(near)
            ways = hand.square(90.0), hand.square(0.0)
            crossing = cross_lines(one, ways[0], other, ways[1])
            made[f"P{k}"] = hand.mark(crossing)
            hand.pencil.line(o, ray, 0.0, outer[1])
            hand.pencil.joining(one, crossing)
            hand.pencil.joining(other, crossing)
    hand.pencil.line(o, level, -outer[1], outer[1])
    hand.pencil.line(o, upright, -outer[1], outer[1])
    hand.pencil.circle(*outer)
    hand.pencil.circle(*inner)
    hand.pencil.curve(np.array([made[f"P{k}"] for k in range(n)]), True)
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


def cycloid(hand: Hand, g: Mapping[str, Any]) -> Drawn:
    b, level = ORIGIN, hand.square(0.0)
    upright = hand.square(90.0)
    hand.step = 4
    radius = g["diameter"] / 2
    c = hand.mark(along(b, upright, hand.by_rule(radius)))
    hand.step = 5
    circle = hand.needle(c), hand.opening(radius)
    n, path = int(g["divisions"]), hand.square(0.0)
    spaces = round(g["turns"] * n)
    places = [along(c, 270.0 - 360.0 * k / n + hand.stray(0.12), circle[1]) for k in range(n)]
    hand.step = 7
    step = hand.read(np.pi * g["diameter"] / n, 0.02)  # the dividers, tried on a slip of paper
    hand.pencil.line(b, level, -4.0, step * spaces)
    hand.pencil.line(c, path, -2.0, step * spaces)
    hand.pencil.line(b, upright, 0.0, 2 * radius)
    hand.pencil.circle(*circle)
    made: Drawn = {"B": b, "C": c}
    foot, marks = hand.needle(b), []
    for k in range(spaces + 1):
        if k:
            foot = along(foot, level, step) + np.array([hand.stray(0.06), 0.0])
            hand.pencil.tick(foot, level)
        up, over = hand.square(90.0), hand.square(0.0)
        centre = hand.mark(cross_lines(foot, up, c, path))
        hand.pencil.joining(foot, centre)
        place = places[k % n]
        hand.pencil.joining(c, place) if k < n else None
        swung = hand.needle(centre), circle[1]
        if k % n == 0 and abs(float((place - foot)[1])) < 1.5:  # the height is that of the base line itself
            at = hand.mark(foot)
        elif k % n == 0 or 2 * (k % n) == n:  # the height only touches the circle there: it lies straight over the foot
            at = hand.mark(cross_lines(place, over, foot, up))
            hand.pencil.joining(centre, at)
        else:
            near = place + centre - c
            at = hand.mark(cut_circle(place, over, *swung, near))
            hand.pencil.arc(*swung, at, 4.0)
        hand.pencil.joining(place, at) if k % n else None
        made[f"P{k}"] = at
        marks.append(at)
    hand.pencil.curve(np.array(marks), False)
    return made
