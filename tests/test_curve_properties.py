"""Properties of curves that hold for anything drawn: nearest points, meets with lines, rolling, winding, tables."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.figure import make
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.coils import CoilEdge, Winding, even_half, visible_pieces
from wise_compass.geometry.curve_places import crossings, nearest, turning_points
from wise_compass.geometry.curves import (
    Curve,
    conic_radius,
    ellipse_curve,
    even_radius,
    hyperbola_curve,
    parabola_curve,
    polar_curve,
    reciprocal_curve,
)
from wise_compass.geometry.rolling import CircleRoll, LineRoll
from wise_compass.geometry.vectors import direction, distance, point
from wise_compass.study.gaps import gaps
from wise_compass.study.tables import curve_table
from wise_compass.study.tablewish import TableWish

SIZES = st.floats(5, 200)
ANGLES = st.floats(0, 360)
drawn = settings(max_examples=examples(60), deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))


def beside(curve: Curve, t: float, by: float) -> np.ndarray:
    """The point ``by`` mm to the left of a curve."""
    x, y = curve.derivative(t)
    return curve.at(t) + by * point(-y, x) / math.hypot(x, y)


class Nearest(unittest.TestCase):
    @drawn
    @given(SIZES, st.floats(0.2, 1.0), ANGLES, st.floats(-0.9, 0.9))
    def test_a_point_off_an_ellipse_finds_its_foot(self, a: float, flat: float, t: float, share: float) -> None:
        curve = ellipse_curve(point(a, 0.0), point(0.0, a * flat))
        off = share * a * flat**2  # within the least radius of curvature
        p = beside(curve, t, off)
        found, gap = nearest(curve, p[None, :], np.array([t - 40.0]), np.array([t + 40.0]))
        self.assertAlmostEqual(float(gap[0]), abs(off), delta=1e-6 * a)
        self.assertLess(float(distance(curve.at(float(found[0])), curve.at(t))), 2e-3 * a)

    @drawn
    @given(SIZES, st.floats(0.0, 4.0), ANGLES)
    def test_the_nearest_point_is_no_further_than_any_other(self, first: float, gain: float, where: float) -> None:
        curve = polar_curve(even_radius(first, gain), 0.0, 720.0)
        p = curve.at(where) + point(1.7, -0.9)
        _, gap = nearest(curve, p[None, :], np.array([max(where - 60, 0.0)]), np.array([where + 60]))
        others = distance(curve.at(np.linspace(max(where - 60, 0.0), where + 60, 400)), p)
        self.assertLessEqual(float(gap[0]), float(others.min()) + 1e-9)


class Meets(unittest.TestCase):
    @drawn
    @given(SIZES, st.floats(0.1, 1.0), ANGLES, st.floats(-1.3, 1.3))
    def test_a_line_meets_an_ellipse_where_the_quadratic_says(
        self, a: float, flat: float, angle: float, off: float
    ) -> None:
        b = a * flat
        curve = ellipse_curve(point(a, 0.0), point(0.0, b))
        u = direction(angle)
        reach = math.hypot(
            a * math.sin(math.radians(angle)), b * math.cos(math.radians(angle))
        )  # half the width across u
        assume(abs(abs(off) - 1.0) > 1e-3)
        p = off * reach * point(-float(u[1]), float(u[0]))
        met = crossings(curve, p, u)
        self.assertEqual(len(met), 2 if abs(off) < 1 else 0)
        for t in met:
            x, y = curve.at(t)
            self.assertAlmostEqual((x / a) ** 2 + (y / b) ** 2, 1, places=9)
            self.assertAlmostEqual(float(u[0] * (y - p[1]) - u[1] * (x - p[0])), 0, delta=1e-8 * a)

    @drawn
    @given(st.floats(-0.95, 0.95))
    def test_a_level_line_meets_open_conics_as_often_as_it_should(self, share: float) -> None:
        parabola = parabola_curve(40.0, 60.0, 1600 / 240)
        self.assertEqual(len(crossings(parabola, point(0.0, 30 + 29 * share), point(1.0, 0.0))), 2)
        branch = hyperbola_curve(30.0, 40.0, 1, 50.0)
        self.assertEqual(len(crossings(branch, point(0.0, 48 * share), point(1.0, 0.0))), 1)
        constant = reciprocal_curve(1200.0, 10.0, 90.0)
        self.assertEqual(len(crossings(constant, point(50 + 39 * share, 0.0), point(0.0, 1.0))), 1)
        conic = polar_curve(conic_radius(0.7, 38.0), -150.0, 150.0, 180.0, -1)
        self.assertEqual(len(crossings(conic, point(0.0, 20 * share), point(1.0, 0.0))) % 2, 1)

    @drawn
    @given(st.floats(0.0, 3.0), st.floats(1.0, 3.0), ANGLES)
    def test_no_meet_of_a_spiral_is_missed(self, first: float, turns: float, angle: float) -> None:
        curve = polar_curve(even_radius(10 * first, 4.0), 0.0, 360.0 * turns)
        u = direction(angle)
        p = point(3.1, -2.3)
        fine = curve.at(np.linspace(curve.first, curve.last, 50001))
        side = np.sign(u[0] * (fine[:, 1] - p[1]) - u[1] * (fine[:, 0] - p[0]))
        self.assertEqual(len(crossings(curve, p, u)), int((side[:-1] * side[1:] < 0).sum()))

    @drawn
    @given(SIZES, st.floats(0.1, 1.0), ANGLES)
    def test_an_ellipse_turns_back_twice_along_any_direction(self, a: float, flat: float, angle: float) -> None:
        curve = ellipse_curve(point(a, 0.0), point(0.0, a * flat))
        u = direction(angle)
        turns = [curve.first, *turning_points(curve, u)]
        far = math.hypot(a * math.cos(math.radians(angle)), a * flat * math.sin(math.radians(angle)))
        reached = sorted({round(float(curve.at(t) @ u), 5) for t in turns})
        self.assertLessEqual(len(reached), 3, "its beginning, and two turns")
        self.assertAlmostEqual(reached[-1], far, delta=1e-5)
        self.assertAlmostEqual(reached[0], -far, delta=1e-5)


class Rolls(unittest.TestCase):
    @drawn
    @given(SIZES, st.floats(0.1, 2.0), st.floats(1, 719))
    def test_the_contact_is_the_instant_centre_on_a_line(self, r: float, arm: float, angle: float) -> None:
        roll = LineRoll(r, r * arm)
        self.check_instant_centre(roll, angle, 1.0)

    @drawn
    @given(SIZES, st.floats(0.1, 0.8), st.floats(0.1, 2.0), st.booleans(), st.floats(1, 359))
    def test_and_on_a_circle(self, base: float, part: float, arm: float, inside: bool, angle: float) -> None:
        roll = CircleRoll(base, base * part, base * part * arm, inside, 90.0)
        spin = 1.0 - part if inside else 1.0 + part
        self.check_instant_centre(roll, angle, spin)

    def check_instant_centre(self, roll: LineRoll | CircleRoll, angle: float, spin: float) -> None:
        """The tracing point moves square to the contact, as fast as the turning carries it round the contact."""
        arm = roll.tracer(angle) - roll.contact(angle)
        way = roll.derivative(angle)
        self.assertAlmostEqual(float(arm @ way), 0, delta=1e-9 * float(arm @ arm + way @ way + 1))
        self.assertAlmostEqual(
            float(np.hypot(*way)), spin * float(np.hypot(*arm)), delta=1e-9 * float(np.hypot(*way) + 1)
        )


class Windings(unittest.TestCase):
    def thread(self, lead: float, sign: int, starts: int) -> Winding:
        half = even_half(lead / starts / 4)
        return Winding(20.0, 26.0, lead, 3.0, sign, starts, half, 20.0, -lead, 4 * lead)

    @drawn
    @given(st.floats(6, 60), st.sampled_from((1, -1)), st.integers(1, 4), st.floats(0.05, 0.95), st.floats(0.02, 2.98))
    def test_the_front_of_the_ridge_is_seen_and_the_back_of_the_core_is_not(
        self, lead: float, sign: int, starts: int, part: float, turn: float
    ) -> None:
        winding = self.thread(lead, sign, starts)
        turned = 360.0 * turn
        crest = winding.on(winding.outer, turned, 0.0)
        if crest[1] > 0.1:
            self.assertTrue(bool(winding.seen(crest[None, :])[0]), "nothing stands before the outside in front")
        inside = winding.on(winding.outer * 0.9, turned, winding.lead / starts / 8)
        self.assertTrue(bool(winding.wound(inside[None, :])[0]))
        rear = np.array([winding.core * (part - 0.5), -winding.core, lead * turn])
        self.assertFalse(bool(winding.seen(rear[None, :])[0]))

    @drawn
    @given(st.floats(6, 60), st.sampled_from((1, -1)), st.integers(1, 4))
    def test_pieces_of_an_edge_are_in_order_and_within_it(self, lead: float, sign: int, starts: int) -> None:
        winding = self.thread(lead, sign, starts)
        edge = CoilEdge(lambda t: winding.on(winding.outer, t, lead / starts / 4), 0.0, 1080.0)
        (pieces,) = visible_pieces(winding, [edge], 6.0)
        ends = [end for piece in pieces for end in piece]
        self.assertEqual(ends, sorted(ends))
        self.assertTrue(all(0.0 <= end <= 1080.0 for end in ends))
        shown = sum(b - a for a, b in pieces)
        self.assertGreater(shown, 0.45 * 1080, "the front half at least")
        middles = np.array([(a + b) / 2 for a, b in pieces])
        self.assertTrue(bool(winding.seen(edge.at(middles)).all()))


class Tables(unittest.TestCase):
    @drawn
    @given(st.floats(20, 400), st.floats(0.1, 1.0), st.floats(1.5, 40))
    def test_ordinates_of_an_ellipse_mirror(self, long: float, flat: float, step: float) -> None:
        figure = make(catalogue()["ellipse"], {"long": long, "wide": long * flat})
        table = curve_table(figure, "two-circles", TableWish("level", step))
        by_x = {round(row[0] or 0.0, 6): row[1:] for row in table.rows}
        for x, ordinates in by_x.items():
            mirrored = by_x[round(-x, 6)]
            for one, other in zip(ordinates, mirrored):
                self.assertEqual(one is None, other is None)
                if one is not None and other is not None:
                    self.assertAlmostEqual(one, other, places=5)

    @drawn
    @given(
        st.sampled_from(["cycloid", "epicycloid", "involute-circle", "helix", "archimedean-spiral"]), st.integers(0, 6)
    )
    def test_decimals_are_those_asked_for(self, id: str, decimals: int) -> None:
        kind = catalogue()[id]
        table = curve_table(kind(), next(iter(kind.methods)), TableWish("angle", 45.0, decimals))
        for row in table.texts():
            for words in row:
                self.assertEqual(len(words.partition(".")[2]), decimals)


class Strays(unittest.TestCase):
    @drawn
    @given(st.floats(30, 300), st.floats(0.15, 1.0), st.integers(2, 18))
    def test_twice_the_divisions_stray_less(self, long: float, flat: float, quarter: int) -> None:
        kind = catalogue()["ellipse"]
        few = 4 * min(quarter, 9)
        coarse, fine = (make(kind, {"long": long, "wide": long * flat, "divisions": n}) for n in (few, 2 * few))
        more, less = (max(gap.largest for gap in gaps(run(one, "two-circles"))) for one in (coarse, fine))
        self.assertLess(less, more + 1e-9)

    @drawn
    @given(st.floats(0.2, 5.0))
    def test_gaps_grow_with_the_figure(self, scale: float) -> None:
        kind = catalogue()["ellipse"]
        one = gaps(run(make(kind, {"long": 100, "wide": 60})))[0].largest
        other = gaps(run(make(kind, {"long": 100 * scale, "wide": 60 * scale})))[0].largest
        self.assertAlmostEqual(other / one, scale, delta=0.01 * scale)
