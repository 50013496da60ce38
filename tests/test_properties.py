"""Properties that hold for any drawn lines, circles, curves and sheets."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry import meets, polygons, triangles
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.rolling import CircleRoll, LineRoll
from wise_compass.geometry.space import inclinations, traces
from wise_compass.geometry.vectors import distance, point, point3, polar, turned
from wise_compass.sheet.labels import Ground, Label, place_labels

ordinate = st.floats(-200, 200)
places = st.tuples(ordinate, ordinate).map(lambda p: point(*p))
radii = st.floats(0.5, 150)
angles = st.floats(-720, 720)
drawn = settings(max_examples=examples(150), deadline=None, derandomize=True)


class Meeting(unittest.TestCase):
    @drawn
    @given(places, places, radii, radii)
    def test_circles_meet_on_both_or_nowhere(self, a: np.ndarray, b: np.ndarray, r: float, s: float) -> None:
        both = meets.meet_circles(a, r, b, s)
        gap = float(distance(a, b))
        if np.isnan(both).any():
            self.assertTrue(gap > r + s - 1e-9 or gap < abs(r - s) + 1e-9)
            return
        tolerance = 1e-6 if min(abs(gap - r - s), abs(gap - abs(r - s))) < 1e-6 else 1e-8
        for p in both:
            self.assertAlmostEqual(float(distance(p, a)), r, delta=tolerance)
            self.assertAlmostEqual(float(distance(p, b)), s, delta=tolerance)
        u = b - a
        self.assertGreaterEqual(
            float(u[0] * (both[0] - a)[1] - u[1] * (both[0] - a)[0]), -1e-6, "the first is on the left"
        )

    @drawn
    @given(places, angles, places, radii)
    def test_a_line_and_a_circle(self, p: np.ndarray, angle: float, c: np.ndarray, r: float) -> None:
        u = polar(point(0.0, 0.0), 3.0, angle)
        both = meets.meet_line_circle(p, u, c, r)
        off = abs(float(meets.distance_to_line(c, p, u)))
        if np.isnan(both).any():
            self.assertGreater(off, r - 1e-9)
            return
        for q in both:
            self.assertAlmostEqual(float(distance(q, c)), r, delta=1e-6)
            self.assertAlmostEqual(float(meets.distance_to_line(q, p, u)), 0.0, delta=1e-8)
        self.assertGreaterEqual(float(((both[1] - both[0]) * u).sum()), -1e-9, "in the order of the line's direction")

    @drawn
    @given(places, angles, places, angles)
    def test_two_lines(self, p: np.ndarray, one: float, q: np.ndarray, two: float) -> None:
        assume(abs(math.sin(math.radians(one - two))) > 1e-3)
        u, v = polar(point(0.0, 0.0), 1.0, one), polar(point(0.0, 0.0), 1.0, two)
        at = meets.meet_lines(p, u, q, v)
        for base, way in ((p, u), (q, v)):
            self.assertAlmostEqual(float(meets.distance_to_line(at, base, way)), 0.0, delta=1e-8)

    @drawn
    @given(places, places, angles)
    def test_turning_keeps_distances(self, p: np.ndarray, q: np.ndarray, angle: float) -> None:
        about = point(17.0, -4.0)
        self.assertAlmostEqual(
            float(distance(turned(p, angle, about), turned(q, angle, about))), float(distance(p, q)), delta=1e-9
        )


class Figures(unittest.TestCase):
    @drawn
    @given(st.floats(1, 200), st.floats(1, 200), st.floats(2, 178))
    def test_a_triangle_agrees_with_itself(self, ab: float, ca: float, angle: float) -> None:
        bc = math.sqrt(ab * ab + ca * ca - 2 * ab * ca * math.cos(math.radians(angle)))
        sides = (ab, bc, ca)
        three = [float(triangles.angle_opposite(*s)) for s in ((bc, ca, ab), (ca, ab, bc), (ab, bc, ca))]
        self.assertAlmostEqual(sum(three), 180, delta=1e-6)
        self.assertAlmostEqual(three[0], angle, delta=1e-5)
        area = float(triangles.area(*sides))
        self.assertAlmostEqual(area / (ab * ca * math.sin(math.radians(angle)) / 2), 1, delta=1e-6)
        self.assertGreaterEqual(
            float(triangles.circumradius(*sides)), 2 * float(triangles.inradius(*sides)) * (1 - 1e-9), "Euler"
        )

    @drawn
    @given(st.integers(3, 24), st.floats(1, 300))
    def test_regular_polygons(self, n: int, side: float) -> None:
        corners = polygons.regular_corners(n, side)
        self.assertAlmostEqual(float(polygons.shoelace(corners)) / float(polygons.area(n, side)), 1, delta=1e-11)
        self.assertLess(float(np.abs(polygons.edges(corners) - side).max()), 1e-9)
        self.assertAlmostEqual(float(polygons.closing_gap(n, side, polygons.circumradius(n, side))), 0, delta=1e-9)

    @drawn
    @given(st.floats(-720, 720), st.floats(2, 60), st.floats(1, 80), st.booleans())
    def test_rolling_is_turning_about_the_contact(self, angle: float, r: float, a: float, inside: bool) -> None:
        for roll in (LineRoll(r, a), CircleRoll(2.5 * r, r, a, inside, 90.0)):
            arm = roll.tracer(angle) - roll.contact(angle)
            heading = roll.derivative(angle)
            scale = float(np.hypot(*heading)) + 1e-9
            self.assertAlmostEqual(
                float((arm * heading).sum()) / scale, 0, delta=1e-7, msg="velocity is square to the arm"
            )
            step = 1e-5
            moved = (roll.tracer(angle + step) - roll.tracer(angle - step)) / (2 * math.radians(step))
            self.assertLess(float(np.abs(moved - heading).max()), 1e-3, "and it is the derivative")

    @drawn
    @given(st.lists(places, min_size=3, max_size=12, unique_by=lambda p: (round(p[0]), round(p[1]))), st.booleans())
    def test_a_fair_curve_passes_all_its_points(self, points: list[np.ndarray], closed: bool) -> None:
        course = np.array(points)
        segments = fair_curve(course, closed)
        self.assertEqual(len(segments), len(course) - (0 if closed else 1))
        np.testing.assert_allclose(segments[:, 0], course[: len(segments)], atol=1e-9)
        self.assertTrue(np.isfinite(along_curve(segments)).all())
        joins = (segments[:-1, 3] - segments[:-1, 2]), (segments[1:, 1] - segments[1:, 0])
        lengths = [np.hypot(*(s[3] - s[0])) for s in segments]
        for k in range(len(segments) - 1):
            np.testing.assert_allclose(joins[0][k] / lengths[k], joins[1][k] / lengths[k + 1], atol=1e-6)

    @drawn
    @given(*[ordinate] * 6)
    def test_lines_in_space(self, a: float, b: float, c: float, d: float, e: float, f: float) -> None:
        p, q = point3(a, b, c), point3(d, e, f)
        assume(float(distance(p, q)) > 1.0)
        h, v = inclinations(p, q)
        self.assertLessEqual(float(h + v), 90 + 1e-9)
        self.assertAlmostEqual(math.sin(math.radians(float(h))) * float(distance(p, q)), abs(f - c), delta=1e-7)
        level, upright = traces(p, q)
        if abs(f - c) > 1:
            self.assertAlmostEqual(float(level[2]), 0, delta=1e-8)
        if abs(e - b) > 1:
            self.assertAlmostEqual(float(upright[1]), 0, delta=1e-8)


class Lettering(unittest.TestCase):
    @drawn
    @given(st.lists(places, min_size=1, max_size=20), st.lists(places, min_size=2, max_size=6))
    def test_labels_never_overlap_or_sit_on_a_line(self, spots: list[np.ndarray], line: list[np.ndarray]) -> None:
        low, high = np.full(2, -205.0), np.full(2, 205.0)
        ground = Ground((-205.0, -205.0, 205.0, 205.0))
        course = np.array(line)
        ground.enter([course], hard=True)
        labels = [Label(f"P{k}", p, 8.0, 4.5) for k, p in enumerate(spots)]
        boxes = [(at, at + np.array([8.0, 4.5])) for at in place_labels(labels, ground, (low, high)) if at is not None]
        dense = np.concatenate([np.linspace(p, q, 400) for p, q in zip(course[:-1], course[1:])])
        for i, (a, b) in enumerate(boxes):
            self.assertTrue((a >= low).all() and (b <= high).all())
            self.assertFalse(((dense > a) & (dense < b)).all(axis=1).any())
            for c, d in boxes[:i]:
                self.assertFalse((a < d).all() and (c < b).all())


class Typing(unittest.TestCase):
    @drawn
    @given(st.floats(0.001, 9999), st.sampled_from(["mm", "cm", "m", "in"]))
    def test_units(self, number: float, unit: str) -> None:
        factor = {"mm": 1, "cm": 10, "m": 1000, "in": 25.4}[unit]
        self.assertAlmostEqual(parse_quantity(f"{number!r} {unit}", "length") / (number * factor), 1, delta=1e-12)

    @drawn
    @given(
        st.text(alphabet="0123456789.+-*/()^√ sqrtpicmn°'\"", max_size=24),
        st.sampled_from(["length", "angle", "number"]),
    )
    def test_any_scribble_is_a_number_or_a_refusal(self, typed: str, kind: str) -> None:
        try:
            self.assertTrue(math.isfinite(parse_quantity(typed, kind)))
        except Refused as refusal:
            self.assertTrue(refusal.says.endswith((".", "'", '"')) or ";" in refusal.says)
