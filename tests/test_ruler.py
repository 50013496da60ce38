"""Steps followed literally by a second, small ruler-and-compass hand that knows nothing but what the steps say.

It reads each step's sentence and its settings on the paper, draws on a paper of its own, and must come out where the
method does.
"""

from __future__ import annotations

import math
import re
import unittest
from typing import Any

from tests.test_cli import data

Point = tuple[float, float]
Line = tuple[Point, Point]
Circle = tuple[Point, float]
NAME = r"([A-Z]\d*)"


class Hand:
    """A paper with named points, the lines and circles drawn so far, and where the compass stands."""

    def __init__(self, scale: float) -> None:
        self.scale = scale
        self.points: dict[str, Point] = {}
        self.lines: list[Line] = []
        self.circles: list[Circle] = []
        self.opening = 0.0
        self.unnamed: list[Point] = []

    # what a hand can find

    def crossings(self, one: Line | Circle, two: Line | Circle) -> list[Point]:
        if isinstance(one[1], tuple) and isinstance(two[1], tuple):
            return _line_line(one, two)  # type: ignore[arg-type]
        if isinstance(one[1], tuple):
            return _line_circle(one, two)  # type: ignore[arg-type]
        if isinstance(two[1], tuple):
            return _line_circle(two, one)  # type: ignore[arg-type]
        return _circle_circle(one, two)  # type: ignore[arg-type]

    def follow(self, step: dict[str, Any]) -> None:
        """One step, by its words; fails where they do not suffice."""
        says = step["says"]
        said = {one["unit"]: one["on_paper"] for one in step["settings"]}
        fresh = _fresh(says)
        if found := re.match(rf"Mark {NAME} at the left\.|Mark the (?:left end|centre) {NAME}", says):
            self.points[found.group(1) or found.group(2)] = (0.0, 0.0)
        elif found := re.match(
            rf"Draw (?:a level line|the base level|level|the level diameter)(?: from {NAME})?", says
        ):
            start = self.points[found.group(1) or "O"]
            self.lines.append((start, (start[0] + 1.0, start[1])))
            if "diameter" in says:
                self.name(fresh, sorted(self.crossings(self.lines[-1], self.circles[0])))
        elif says.startswith(("Lay off", "Measure the arm")):
            line = self.lines[-1]
            self.name(fresh or re.findall(rf"the point {NAME}", says), [_along(line, said["mm"])])
        elif found := re.match(rf"(?:At|From) {NAME} (?:set off|draw a line|the same)", says):
            start, angle = self.points[found.group(1)], math.radians(said["°"])
            self.lines.append((start, (start[0] + math.cos(angle), start[1] + math.sin(angle))))
            if fresh:
                self.name(fresh, self.crossings(self.lines[-1], self.lines[-2]))
        elif found := re.match(rf"Centre {NAME},", says):
            self.swing(self.points[found.group(1)], said["mm"], says, fresh)
        elif says.startswith("Join the two crossings"):
            below, above = sorted(self.unnamed or [self.points["C"], self.points["D"]], key=lambda p: p[1])[:2]
            self.lines.append((below, above))
            if len(fresh) == 2:  # the ends of a diameter
                found_two = sorted(self.crossings(self.lines[-1], self.circles[0]), key=lambda p: -p[1])
                self.name(fresh, found_two)
            elif fresh:
                self.name(fresh, self.crossings(self.lines[-1], self.lines[0]))
        elif found := re.match(r"Halve ([A-Z])([A-Z]) at ([A-Z])", says):
            a, b = self.points[found.group(1)], self.points[found.group(2)]
            self.points[found.group(3)] = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        elif found := re.match(r"Step ([A-Z])([A-Z]) on round: (\d+) spaces", says):
            self.step_round(found.group(2), said["mm"], int(found.group(3)))
        elif says.startswith("Line in"):
            pass
        else:
            raise AssertionError(f"the words do not suffice: {says}")

    def swing(self, centre: Point, radius: float, says: str, fresh: list[str]) -> None:
        """An arc or a circle; where the sentence crosses something it marks what is found."""
        self.opening = radius
        circle = (centre, radius)
        if "cross both arcs" in says:
            self.unnamed = sorted(self.crossings(circle, self.circles[-1]), key=lambda p: -p[1])
            self.name(fresh, self.unnamed)
        elif "cross it at" in says:
            self.name(fresh, [max(self.crossings(circle, self.circles[-1]), key=lambda p: p[1])])
        elif "cut the circle twice" in says:
            self.name(fresh, sorted(self.crossings(circle, self.circles[0]), key=lambda p: -p[1]))
        elif "cut the bisector twice" in says:
            self.name(fresh, sorted(self.crossings(self.lines[-1], circle), key=lambda p: -p[1]))
        self.circles.append(circle)

    def step_round(self, start: str, chord: float, count: int) -> None:
        (cx, cy), radius = self.circles[-1]
        turn = 2 * math.asin(chord / (2 * radius))
        x, y = self.points[start]
        angle = math.atan2(y - cy, x - cx)
        for name in "CDEFGHJKLMNPQRSTUVWXYZ"[: count - 2]:
            angle += turn
            self.points[name] = (cx + radius * math.cos(angle), cy + radius * math.sin(angle))

    def name(self, names: list[str], found: list[Point]) -> None:
        if names and len(found) < len(names):
            raise AssertionError(f"{names} are not to be found")
        self.points.update(zip(names, found))


def _fresh(says: str) -> list[str]:
    """The points that a sentence marks at its end, or names as found."""
    if found := re.search(r"Mark ([A-Z]\d*)(?: and ([A-Z]\d*))?\.$", says):
        return [name for name in found.groups() if name]
    if found := re.search(r"(?:cross it at|cut it at) ([A-Z]\d*)", says):
        return [found.group(1)]
    return re.findall(r"the diagonal [A-Z]([A-Z])\.", says)


def _along(line: Line, far: float) -> Point:
    (x, y), (u, v) = line
    size = math.hypot(u - x, v - y)
    return x + far * (u - x) / size, y + far * (v - y) / size


def _line_line(one: Line, two: Line) -> list[Point]:
    (a, b), (c, d) = one, two
    ux, uy, vx, vy = b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]
    t = ((c[0] - a[0]) * vy - (c[1] - a[1]) * vx) / (ux * vy - uy * vx)
    return [(a[0] + t * ux, a[1] + t * uy)]


def _line_circle(line: Line, circle: Circle) -> list[Point]:
    (a, b), (c, r) = line, circle
    size = math.hypot(b[0] - a[0], b[1] - a[1])
    ux, uy = (b[0] - a[0]) / size, (b[1] - a[1]) / size
    t = (c[0] - a[0]) * ux + (c[1] - a[1]) * uy
    off = (c[0] - a[0]) * uy - (c[1] - a[1]) * ux
    half = math.sqrt(r * r - off * off)
    return [(a[0] + s * ux, a[1] + s * uy) for s in (t - half, t + half)]


def _circle_circle(one: Circle, two: Circle) -> list[Point]:
    ((x, y), r), ((u, v), q) = one, two
    gap = math.hypot(u - x, v - y)
    t = (gap * gap + r * r - q * q) / (2 * gap)
    h = math.sqrt(r * r - t * t)
    ex, ey = (u - x) / gap, (v - y) / gap
    return [(x + t * ex - s * h * ey, y + t * ey + s * h * ex) for s in (1, -1)]


CASES = (
    ("bisect-line", None, {"length": 93}),
    ("triangle-three-sides", None, {"ab": 83, "bc": 47, "ca": 61}),
    ("triangle-two-sides-angle", None, {"ab": 71, "arm": 39, "angle": 52}),
    ("square-in-circle", "crossing-arcs", {"diameter": 88}),
    ("rhombus", None, {"first_diagonal": 90, "second_diagonal": 52}),
    ("tangents-from-point", None, {"radius": 24, "distance": 71}),
    ("polygon-on-side", "circumcentre", {"sides": 7, "side": 43}),
    ("polygon-on-side", "circumcentre", {"sides": 12, "side": 21}),
    ("square-on-diagonal", None, {"diagonal": 77}),
)


class Literally(unittest.TestCase):
    def test_a_hand_that_knows_only_the_steps_comes_out_there(self) -> None:
        for id, method, givens in CASES:
            for scale, name in ((1.0, "1:1"), (0.5, "1:2")):
                with self.subTest(figure=id, method=method, scale=name):
                    words = [f"{key}={value}" for key, value in givens.items()]
                    ways = ["--method", method] if method else []
                    made = data("solve", id, *words, *ways, "--scale", name, "--json")
                    self.followed(made, scale)

    def followed(self, made: dict[str, Any], scale: float) -> None:
        hand = Hand(scale)
        for step in made["steps"]:
            hand.follow(step)
        start = next(iter(made["points"].values()))
        checked = 0
        for name, (x, y) in made["points"].items():
            if name in hand.points:
                u, v = hand.points[name]
                at = ((x - start[0]) * scale, (y - start[1]) * scale)
                self.assertLess(math.hypot(u - at[0], v - at[1]), 1e-6, f"{made['figure']}: {name} {(u, v)} {at}")
                checked += 1
        self.assertGreaterEqual(checked, 3)


if __name__ == "__main__":
    unittest.main()
