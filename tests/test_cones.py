"""Holes that cut into a cone in part: rims, volumes and sections against closed forms and the definition of a cone."""

from __future__ import annotations

import math
import unittest

import numpy as np
from scipy.integrate import quad

from tests.test_breaking_out import built_of
from tests.test_cli import call
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.block_cones import Hyperbola, rims_on_cone
from wise_compass.geometry.block_cuts import Cut
from wise_compass.geometry.block_saddles import BoreLoop, BoreSaddle
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.fair import along_curve

CONE = Block("cone", (2.0, -3.0, 4.0), (40.0, 30.0, 60.0))
HOLES = (
    Block("hole", (30.0, 6.0, -3.0), (20.0, 9.0, 80.0)),
    Block("hole-front", (-2.0, -5.0, 20.0), (60.0, 16.0, 17.0)),
    Block("hole-front", (-2.0, -8.0, 30.0), (60.0, 40.0, 9.0)),
    Block("hole-right", (10.0, -8.0, 50.0), (24.0, 17.0, 40.0)),
    Block("hole-front", (-2.0, 4.0, 30.0), (19.0, 16.0, 40.0)),
)


def lens(r: float, other: float, apart: float) -> float:
    """The area that two circles share."""
    if apart >= r + other:
        return 0.0
    if apart <= abs(r - other):
        return math.pi * min(r, other) ** 2
    one, two = (math.acos((apart**2 + a**2 - b**2) / (2 * apart * a)) for a, b in ((r, other), (other, r)))
    return r * r * (one - math.sin(2 * one) / 2) + other**2 * (two - math.sin(2 * two) / 2)


class Rims(unittest.TestCase):
    def test_they_lie_on_the_cone_and_on_the_hole(self) -> None:
        kinds = set()
        for hole in HOLES:
            for rim in rims_on_cone(hole, CONE):
                kinds.add(type(rim))
                places = rim.at(np.linspace(0.0, 360.0, 41))
                x, y, z = ((places - np.array(CONE.low)) / np.array(CONE.size)).T
                np.testing.assert_allclose(np.hypot(x - 0.5, y - 0.5), 0.5 * (1.0 - z), atol=1e-9)
                round_ = (places - np.array(hole.low)) / np.array(hole.size) - 0.5
                off = np.hypot(*(round_[:, n] for n in hole.plane))
                if isinstance(rim, Hyperbola):
                    assert hole.axis is not None
                    np.testing.assert_allclose(np.abs(round_[:, hole.axis]), 0.5, atol=1e-12)
                    self.assertTrue((off < 0.5 + 1e-9).all())
                else:
                    np.testing.assert_allclose(off, 0.5, atol=1e-9)
        self.assertEqual(kinds, {BoreSaddle, BoreLoop, Hyperbola})

    def test_what_covers_itself_in_a_view_is_drawn_once(self) -> None:
        """The dark ink of the front view of a shaft with a bore, whose saddles are covered by their own other halves,
        and of a cone cut off upright, whose hyperbola is seen on edge twice."""
        bore = np.linspace(-4.0, 4.0, 4001)
        saddle = np.stack([bore, np.sqrt(100.0 - (16.0 - bore**2))], axis=1)
        long = float(np.hypot(*np.diff(saddle, axis=0).T).sum())
        shaft = "cylinder-front,0,0,0,40,20,20; hole,15,6,0,8,8,20"
        self.assertAlmostEqual(dark_ink(shaft, "front"), 2 * 20 + 2 * 32 + 2 * long, delta=0.05)
        cone = "cone,0,0,0,40,40,60; hole-front,-2,-60,-100,17,160,159"
        self.assertAlmostEqual(dark_ink(cone, "front"), 25 + 45 + math.hypot(5, 15) + math.hypot(20, 60), delta=0.01)

    def test_a_hyperbola_on_edge_is_drawn_as_far_as_it_is_seen(self) -> None:
        """What stands over the apex hides a part of it from above."""
        cone = "cone,0,0,0,40,40,60; hole-front,-2,8,40,17,24,19.9; box,0,0,60,40,18,10"
        along = [
            np.array(mark.points)[:, 1] for mark in dark(cone, "top") if np.ptp(np.array(mark.points)[:, 0]) < 1e-9
        ]
        at = run(built_of(cone)).found["O.top"][1]
        low = {round(float(y.min() - at), 6) for y in along}
        self.assertEqual(low, {0.0, 18.0})


def dark(rows: str, view: str) -> list[CurveMark]:
    """The outlines of a view."""
    made = run(built_of(rows))
    step = next(step.n for step in made.steps if view in step.phase.lower() and step.says == "Line in what is seen.")
    return [mark for mark in made.marks if isinstance(mark, CurveMark) and mark.step == step]


def dark_ink(rows: str, view: str) -> float:
    """How long the outlines of a view are altogether."""
    return sum(float(np.hypot(*np.diff(np.array(mark.points), axis=0).T).sum()) for mark in dark(rows, view))


class Told(unittest.TestCase):
    def test_parts_of_curves_are_not_said_to_be_none(self) -> None:
        rows = "rows=cylinder,0,0,0,40,40,20; hole,-6,14,-1,52,12,22"  # no rim is drawn all round
        status, _, err = call("stray", "section-view", rows, "stretches=0,40,30")
        self.assertEqual(status, 2)
        self.assertIn("only parts are drawn", err)


class Volumes(unittest.TestCase):
    def test_a_hole_down_along_a_cone(self) -> None:
        """Every slice of it is the lens of two circles."""
        figure = built_of("cone,0,0,0,38,38,47; hole,-1,4,-1,11,11,49")
        apart = math.hypot(4.5 - 19, 9.5 - 19)
        ends = 47 * (1 - (apart - 5.5) / 19)  # from here up they share nothing: put so that its root is none
        taken, _ = quad(
            lambda t: lens(19 * (1 - ends * (1 - t * t) / 47), 5.5, apart) * 2 * t * ends, 0, 1, epsabs=1e-12
        )
        self.assertAlmostEqual(figure.volume, math.pi * 19**2 * 47 / 3 - taken, delta=1e-8)

    def test_its_top_taken_off_leaves_a_frustum(self) -> None:
        figure = built_of("cone,0,0,0,40,40,60; hole,-5,-5,42,50,50,50")
        self.assertAlmostEqual(figure.volume, math.pi * 400 * 60 / 3 * (1 - 0.3**3), delta=1e-8)

    def test_half_of_it_taken_off_by_a_flat_end(self) -> None:
        figure = built_of("cone,0,0,0,40,40,60; hole-front,-2,-40,-40,22,120,140")
        self.assertAlmostEqual(figure.volume, math.pi * 400 * 60 / 6, delta=1e-7)

    def test_a_bore_beside_the_axis_lies_in_part_without(self) -> None:
        """Level lines of it, by their length in the cone at each height."""
        figure = built_of("cone,0,0,0,40,40,60; hole-front,0,2,20,40,16,16")

        def long(y: float, z: float) -> float:
            return 2 * math.sqrt(max((20 * (1 - z / 60)) ** 2 - (y - 20) ** 2, 0.0))

        def level(z: float) -> float:
            half = math.sqrt(64 - (z - 28) ** 2)
            first = max(10 - half, 20 - 20 * (1 - z / 60))
            of = quad(lambda t: long(first + (10 + half - first) * t * t, z) * 2 * t, 0, 1, epsabs=1e-11)[0]
            return float(of * (10 + half - first)) if first < 10 + half else 0.0

        taken, _ = quad(lambda t: level(28 + 8 * math.sin(t)) * 8 * math.cos(t), -math.pi / 2, math.pi / 2, limit=200)
        self.assertAlmostEqual(figure.volume, math.pi * 400 * 60 / 3 - taken, delta=1e-5)


class Sections(unittest.TestCase):
    def test_upright_ones_close_to_the_axis(self) -> None:
        """The area under a hyperbola, z = 1 − 2 √(off² + y²), from foot to foot."""
        for off in (0.001, 0.01, 0.1, 0.3):
            half = math.sqrt(0.25 - off * off)
            under = 2 * half - 2 * half * 0.5 - 2 * off * off * math.asinh(half / off)
            cut = Cut(Built((CONE,)), 0, CONE.low[0] + (0.5 + off) * 40.0, 1, CONE.low[1], CONE.low[1] + 30.0)
            self.assertAlmostEqual(cut.area, under * 30.0 * 60.0, delta=1e-6 * 1800)

    def test_what_is_drawn_of_one_lies_on_the_hyperbola_all_along(self) -> None:
        """Between the points too, close to the axis as well; through the axis it is two straight lines, and the foot
        is one always."""
        for off in (0.0, 0.02, 0.5, 1.0, 4.0, 10.0, 17.0):
            rows = {"rows": "cone,0,0,0,40,40,60", "stretches": f"0,40,{20 + off}"}
            made = run(make(figure_named("section-view"), rows))
            self.assertTrue(all(proof.holds for proof in made.proofs))
            at = made.found["O.front"]
            drawn = [mark for mark in made.marks if isinstance(mark, CurveMark) and mark.role is Role.OUTLINE]
            lines = [mark.course() if not mark.fair else along_curve(mark.segments(), 16) for mark in drawn]
            mine = [line - at for line in lines if (line[:, 1] > at[1] - 1e-9).all()]
            half = math.sqrt(400 - off * off)
            foot = [line for line in mine if np.ptp(line[:, 1]) < 1e-9]
            self.assertAlmostEqual(sum(float(np.ptp(line[:, 0])) for line in foot), 2 * half, delta=1e-4)
            upper = [line for line in mine if np.ptp(line[:, 1]) > 1e-9]
            self.assertEqual(len(upper), 1 if off else 2)
            for line in upper:
                x, z = -line[:, 0] - 20.0, line[:, 1]
                true = 60.0 - 3.0 * np.hypot(off, x)
                steep = 3.0 * x / np.maximum(np.hypot(off, x), 1e-9)
                self.assertLess(float((np.abs(z - true) / np.hypot(1.0, steep)).max()), 0.16, off)
            told = [course.says for course in made.courses if "cut" in course.says]
            self.assertEqual(told, ["curve 1 of what is cut"] * bool(off))


if __name__ == "__main__":
    unittest.main()
