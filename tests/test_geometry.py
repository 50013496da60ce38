"""Meets and their degenerate cases, broadcasting, and formulas against integrals done another way."""

from __future__ import annotations

import doctest
import importlib
import inspect
import pkgutil
import unittest

import numpy as np
from scipy.integrate import quad

import wise_compass as house
import wise_compass.geometry as room
from wise_compass.geometry import conics, meets, spirals
from wise_compass.geometry.apollonius import tangent_circles
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.vectors import angle_between, cosd, distance, point, polar, tand, turned


class Meets(unittest.TestCase):
    def test_lines(self) -> None:
        right, up = point(1, 0), point(0, 1)
        np.testing.assert_allclose(meets.meet_lines(point(0, 2), right, point(5, -1), up), [5, 2])
        self.assertTrue(np.isnan(meets.meet_lines(point(0, 0), right, point(0, 1), -3 * right)).all(), "parallel")
        self.assertTrue(np.isnan(meets.meet_lines(point(0, 0), right, point(0, 1), 0 * right)).all(), "no direction")

    def test_line_and_circle(self) -> None:
        centre = point(0, 0)
        both = meets.meet_line_circle(point(-9, 3), point(2, 0), centre, 5)
        np.testing.assert_allclose(both, [[-4, 3], [4, 3]])
        touch = meets.meet_line_circle(point(-9, 5), point(2, 0), centre, 5)
        np.testing.assert_allclose(touch, [[0, 5], [0, 5]], atol=1e-6)
        self.assertTrue(np.isnan(meets.meet_line_circle(point(-9, 5.001), point(2, 0), centre, 5)).all(), "a miss")

    def test_circles(self) -> None:
        both = meets.meet_circles(point(0, 0), 5, point(8, 0), 5)
        np.testing.assert_allclose(both, [[4, 3], [4, -3]])
        inside = meets.meet_circles(point(0, 0), 5, point(2, 0), 3)
        np.testing.assert_allclose(inside, [[5, 0], [5, 0]], atol=1e-6)
        for c2, r2 in ((point(9, 0), 3), (point(1, 0), 2), (point(0, 0), 5)):
            self.assertTrue(np.isnan(meets.meet_circles(point(0, 0), 5, c2, r2)).all(), "apart, within, same centre")

    def test_one_lane_that_misses_leaves_the_others(self) -> None:
        radii = np.array([5.0, 1.0, 5.0])
        both = meets.meet_circles(point(0, 0), radii, point(8, 0), 5)
        self.assertEqual(both.shape, (3, 2, 2))
        self.assertEqual(np.isnan(both).all(axis=(1, 2)).tolist(), [False, True, False])

    def test_everything_broadcasts(self) -> None:
        p = np.random.default_rng(1).normal(size=(4, 3, 2))
        self.assertEqual(meets.meet_lines(p, point(1, 2), point(3, 1), point(-1, 1)).shape, (4, 3, 2))
        self.assertEqual(meets.foot(p, point(0, 0), point(1, 1)).shape, (4, 3, 2))
        self.assertEqual(distance(p, point(0, 0)).shape, (4, 3))


class Angles(unittest.TestCase):
    def test_right_angles_are_exact(self) -> None:
        self.assertEqual(float(cosd(90.0)), 0.0)
        self.assertTrue(np.isinf(tand(90.0)))
        self.assertAlmostEqual(float(angle_between(point(1, 0), point(1, 1e-9))), np.rad2deg(1e-9), places=18)
        np.testing.assert_allclose(turned(point(2, 1), 90, point(1, 1)), [1, 2], atol=1e-15)


class Examples(unittest.TestCase):
    def test_every_public_function_says_what_it_returns_and_shows_it(self) -> None:
        for found in pkgutil.iter_modules(room.__path__):
            module = importlib.import_module(f"{room.__name__}.{found.name}")
            for name, one in vars(module).items():
                if inspect.isfunction(one) and one.__module__ == module.__name__ and not name.startswith("_"):
                    with self.subTest(module=found.name, function=name):
                        self.assertIn(">>>", one.__doc__ or "")


class Lengths(unittest.TestCase):
    def test_ellipse_perimeter_against_the_integral(self) -> None:
        for a, b in ((76, 44), (50, 50), (100, 0.5), (44, 76)):
            arc = quad(
                lambda t, a=a, b=b: np.hypot(a * np.sin(t), b * np.cos(t)),
                0,
                np.pi / 2,
                epsabs=0,
                epsrel=1e-13,
                limit=400,
            )[0]
            self.assertAlmostEqual(float(conics.ellipse_perimeter(a, b)) / (4 * arc), 1.0, delta=1e-11)

    def test_spiral_length_against_the_integral(self) -> None:
        for first, last, turns in ((12, 48, 1.25), (0, 56, 2), (30, 30, 1)):
            rate = (last - first) / (2 * np.pi * turns)
            arc = quad(
                lambda t, first=first, rate=rate: np.hypot(first + rate * t, rate),
                0,
                2 * np.pi * turns,
                epsabs=0,
                epsrel=1e-13,
            )[0]
            self.assertAlmostEqual(float(spirals.archimedean_length(first, last, turns)) / arc, 1.0, delta=1e-12)


class FairCurve(unittest.TestCase):
    def test_passes_its_points_and_is_as_smooth_at_the_join(self) -> None:
        ring = polar(point(0, 0), 40.0, np.arange(0, 360, 30.0))
        segments = fair_curve(ring, closed=True)
        np.testing.assert_allclose(segments[:, 0], ring)
        radii = distance(along_curve(segments, 16), point(0, 0))
        self.assertLess(float(np.ptp(radii)), 0.02)
        before, after = segments[-1, 3] - segments[-1, 2], segments[0, 1] - segments[0, 0]
        np.testing.assert_allclose(before, after, atol=1e-9)


class Apollonius(unittest.TestCase):
    """The circles that touch three others, in every degenerate case."""

    def count(self, *rows: tuple[float, float, float]) -> int:
        circles = np.array(rows)
        centres, radii, _ = tangent_circles(circles[:, :2], circles[:, 2])
        for c, r in zip(centres, radii):
            for x, y, q in rows:
                away = float(np.hypot(c[0] - x, c[1] - y))
                self.assertLess(min(abs(away - (r + q)), abs(away - abs(r - q))), 1e-9)
        for i in range(len(radii)):
            for j in range(i):
                self.assertGreater(float(distance(centres[i], centres[j])) + abs(radii[i] - radii[j]), 1e-6)
        return len(radii)

    def test_counts_that_geometry_knows(self) -> None:
        self.assertEqual(self.count((0, 0, 18), (74, 6, 13), (30, 62, 10)), 8, "apart: all eight")
        self.assertEqual(self.count((0, 0, 0), (80, 0, 0), (30, 60, 0)), 1, "three points: the one circle through them")
        self.assertEqual(self.count((0, 0, 20), (80, 0, 0), (30, 60, 0)), 2, "two points and a circle")
        self.assertEqual(self.count((0, 0, 10), (50, 0, 10), (25, 50, 10)), 8, "equal circles")
        self.assertEqual(self.count((0, 0, 60), (0, 0, 20), (40, 0, 5)), 8, "a ring and a circle in it")
        self.assertEqual(
            self.count((0, 0, 60), (10, 5, 20), (200, 0, 5)), 0, "the second in the first, the third outside"
        )

    def test_touching_and_collinear_circles_have_some(self) -> None:
        self.assertGreaterEqual(self.count((0, 0, 20), (40, 0, 20), (20, 40, 12)), 5, "two that touch")
        self.assertGreaterEqual(self.count((0, 0, 12), (40, 0, 9), (90, 0, 15)), 4, "centres in one line")
        self.assertGreaterEqual(
            self.count((0, 0, 20), (40.000001, 0, 20), (20, 40, 12)), 6, "a micrometre from touching"
        )


def load_tests(loader: unittest.TestLoader, tests: unittest.TestSuite, pattern: str | None) -> unittest.TestSuite:
    """The worked examples of the docstrings are tests too, in every room that knows no interface."""
    for module in pkgutil.walk_packages(house.__path__, f"{house.__name__}."):
        if ".desk" not in module.name and not module.name.endswith("__main__"):
            tests.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return tests
