"""What the steps say is what the marks show: openings, angles, where a point was put and what it lies on."""

from __future__ import annotations

import re
import unittest
from collections.abc import Iterator

import numpy as np

from tests.test_catalogue import every_method, fitting
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import ArcMark, LineMark, Mark, nominal
from wise_compass.drafting.run import Run, run
from wise_compass.figures.curves.touching import Touching

NEAR = 1e-6


def every_run() -> Iterator[Run]:
    """Every method at its defaults, and with a circle touching where a curve can be touched."""
    for kind, method in every_method():
        figure = fitting(kind, method)
        yield run(figure, method.id)
        if issubclass(kind, Touching):
            yield run(make(kind, {**figure.given_values, "touch": "circle-inside", "at": 40.0}), method.id)


def off(mark: Mark, at: np.ndarray) -> float:
    """How far a point lies off a mark, produced as far as need be; off the nearest corner of a traced line."""
    if isinstance(mark, LineMark):
        u, way = nominal(mark.u, 1), at - nominal(mark.p, 1)
        return abs(float(u[0] * way[1] - u[1] * way[0]))
    if isinstance(mark, ArcMark):
        return abs(float(np.hypot(*(at - nominal(mark.centre, 1)))) - float(nominal(mark.radius, 0)))
    return float(np.hypot(*(mark.course() - at).T).min())


class HonestSteps(unittest.TestCase):
    def test_the_compass_is_set_on_a_point_that_is_there(self) -> None:
        for made in every_run():
            there: list[np.ndarray] = []
            for step in made.steps:
                there += [spot.here for spot in step.spots]
                for mark in step.marks:
                    if isinstance(mark, ArcMark):
                        centre = nominal(mark.centre, 1)
                        least = min(float(np.hypot(*(centre - at))) for at in there)
                        self.assertLess(
                            least, NEAR, f"{made.figure.id} by {made.method.id}, step {step.n}: {step.sentence()}"
                        )

    def test_it_stands_at_the_opening_that_the_step_tells(self) -> None:
        told = 0
        for made in every_run():
            for step in made.steps:
                arcs = [mark for mark in step.marks if isinstance(mark, ArcMark)]
                if "ompass" not in step.instrument or not arcs:
                    continue
                lengths = [setting.value for setting in step.settings if setting.unit == "mm"]
                for arc in arcs:
                    radius = float(nominal(arc.radius, 0))
                    where = f"{made.figure.id} by {made.method.id}, step {step.n}: {step.sentence()} {lengths} {radius}"
                    self.assertLess(min((abs(radius - one) for one in lengths), default=np.inf), NEAR, where)
                    told += 1
        self.assertGreater(told, 800)

    def test_lines_at_an_angle_stand_at_it(self) -> None:
        """Where a single line is set off by protractor or set square from the level; not where from another line."""
        checked = 0
        for made in every_run():
            for step in made.steps:
                lines = [mark for mark in step.marks if isinstance(mark, LineMark)]
                if step.instrument not in ("Set square", "Protractor") or len(step.marks) != 1 or len(lines) != 1:
                    continue
                angles = [setting.value for setting in step.settings if setting.unit == "°"]
                relative = "from the vector" in step.says or step.says.startswith(
                    (
                        "At O set off",
                        "At P",
                        "At the centre set off",
                        "At Q set off",
                        "At B set off",
                        "At C",
                        "At D",
                        "At E",
                        "At F",
                        "At G",
                        "At H",
                        "At J",
                    )
                )
                if len(angles) != 1 or relative:
                    continue
                u = nominal(lines[0].u, 1)
                angle = float(np.degrees(np.arctan2(u[1], u[0])))
                least = min(abs((angle - sign * angles[0] + 90) % 180 - 90) for sign in (1, -1))
                self.assertLess(least, NEAR, f"{made.figure.id} by {made.method.id}, step {step.n}: {step.sentence()}")
                checked += 1
        self.assertGreater(checked, 20)

    def test_every_found_point_lies_on_something_drawn(self) -> None:
        """Points of the trammel's strip and points plotted by worked coordinates are found without a line."""
        for made in every_run():
            if (made.figure.id, made.method.id) in (("ellipse", "trammel"), ("three-circle-tangents", "coordinates")):
                continue
            drawn: list[Mark] = []
            for step in made.steps:
                drawn += step.marks
                for spot in step.spots:
                    if spot.name and spot.kind in ("found", "tangent"):
                        least = min((off(mark, spot.here) for mark in drawn), default=np.inf)
                        where = f"{made.figure.id} by {made.method.id}, {spot.name}, step {step.n}: {step.sentence()}"
                        self.assertLess(least, NEAR, where)

    def test_what_is_kept_was_set_before(self) -> None:
        kept = 0
        for made in every_run():
            opening = None
            for step in made.steps:
                for setting in step.settings:
                    if "ompass" in step.instrument and setting.unit == "mm":
                        if step.keep:
                            where = f"{made.figure.id} by {made.method.id}, step {step.n}"
                            self.assertIsNotNone(opening, where)
                            self.assertAlmostEqual(setting.value, opening, places=6, msg=where)
                            kept += 1
                        opening = setting.value
        self.assertGreater(kept, 50)

    def test_rule_and_dividers_lay_off_what_they_are_set_to(self) -> None:
        checked = 0
        for made in every_run():
            there: list[np.ndarray] = []
            for step in made.steps:
                lengths = [setting.value for setting in step.settings if setting.unit == "mm"]
                fresh = [spot.here for spot in step.spots]
                one = step.instrument == "Rule" and len(fresh) == 1 and bool(there)
                if len(lengths) == 1 and fresh and (one or step.instrument == "Dividers"):
                    gaps = [abs(float(np.hypot(*(at - p))) - lengths[0]) for at in fresh for p in [*there, *fresh]]
                    self.assertLess(
                        min(gaps), NEAR, f"{made.figure.id} by {made.method.id}, step {step.n}: {step.sentence()}"
                    )
                    checked += 1
                there += fresh
        self.assertGreater(checked, 300)

    def test_a_sentence_names_only_points_that_are_there(self) -> None:
        for made in every_run():
            known: set[str] = set()
            for step in made.steps:
                known |= {
                    part for spot in step.spots if spot.name for part in re.split(r"[. ]", spot.name)[:1] + [spot.name]
                }
                named = set(re.findall(r"\b[A-Z]\d+\b", step.sentence()))
                self.assertLessEqual(
                    named, known, f"{made.figure.id} by {made.method.id}, step {step.n}: {step.sentence()}"
                )
