"""Figures in space: every method in both angles against vectors, in all quadrants, and in positions that hide a
dimension."""

from __future__ import annotations

import random
import unittest
from collections.abc import Iterator
from typing import Any

import numpy as np
from scipy.optimize import minimize

from tests.test_catalogue import Checked
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.marks import Role
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue, figure_named

ON_POINTS = ("point-in-space", "line-from-views", "true-shape", "point-to-plane", "line-meets-plane", "skew-lines")
ANGLES = ("first", "third")


def positions(kind: type[Figure], count: int, seed: int) -> Iterator[dict[str, Any]]:
    """Points of a coarse grid, where lines run level, upright, end-on and through one another, and points anywhere."""
    draw = random.Random(seed)
    letters = [name for name, given in kind.givens.items() if isinstance(given, SpacePoint)]
    for n in range(count):
        if n % 3:
            yield {letter: tuple(draw.choice((-20.0, 0.0, 20.0, 40.0, 60.0)) for _ in range(3)) for letter in letters}
        else:
            yield {letter: tuple(round(draw.uniform(-90, 90), 2) for _ in range(3)) for letter in letters}


def by_name(made: Run) -> dict[str, Any]:
    return {value.name: value.value for value in made.values}


def vectors(givens: dict[str, Any], letters: str) -> list[np.ndarray]:
    return [np.array(givens[letter], dtype=float) for letter in letters]


class EveryPosition(Checked):
    def test_every_method_proves_or_says_why_it_does_not_serve(self) -> None:
        for id in ON_POINTS:
            kind, proved = figure_named(id), 0
            for givens in positions(kind, 60, 11):
                try:
                    figure = make(kind, givens)
                except Refused as refusal:
                    self.assertIn(refusal.given, kind.givens)
                    self.assertIn(refusal.given, refusal.says)
                    continue
                for method in kind.methods.values():
                    for angle in ANGLES:
                        with self.subTest(figure=id, method=method.id, angle=angle, givens=givens):
                            try:
                                made = run(figure, method.id, Conventions(angle))
                            except Refused as refusal:
                                self.assertIsNotNone(method.fits(figure), refusal.says)
                                continue
                            self.check_run(made)
                            self.check_measured(made)
                            proved += 1
            self.assertGreater(proved, 80, id)

    def check_measured(self, made: Run) -> None:
        values = by_name(made)
        for name, measured in made.measured.items():
            np.testing.assert_allclose(np.asarray(measured, dtype=float), values[name], atol=1e-6, err_msg=name)


class TrueAngles(Checked):
    def test_the_true_angle_of_traces_stands_clear_of_the_views(self) -> None:
        """It is drawn apart on the reference line: to the right of everything else, its leg as long as XH."""
        for traces in ({}, {"trace_h": 20.0, "trace_v": 70.0}, {"trace_h": 80.0, "trace_v": 15.0}):
            made = run(make(figure_named("plane-by-traces"), traces), "cone-of-rotation")
            if "X0" not in made.spots:
                continue
            apart = [made.spots[name].here for name in ("X0", "H0", "V0")]
            others = [spot.here[0] for name, spot in made.spots.items() if name not in ("X0", "H0", "V0") and spot.name]
            self.assertGreater(min(at[0] for at in apart), max(others) + 5.0)
            leg = float(np.linalg.norm(made.spots["H.top"].here - made.spots["X"].here))
            self.assertAlmostEqual(float(np.linalg.norm(apart[1] - apart[0])), leg, places=6)


class AgainstVectors(unittest.TestCase):
    """Values by plain algebra that shares nothing with the figures."""

    def each(self, id: str, seed: int = 5) -> Iterator[tuple[dict[str, Any], dict[str, Any]]]:
        kind = figure_named(id)
        for givens in positions(kind, 45, seed):
            try:
                yield givens, by_name(run(make(kind, givens)))
            except Refused:
                continue

    def test_true_lengths_and_traces(self) -> None:
        for givens, values in self.each("line-from-views"):
            a, b = vectors(givens, "AB")
            size = np.sqrt(((b - a) ** 2).sum())
            self.assertAlmostEqual(values["length"], size, places=9)
            self.assertAlmostEqual(np.sin(np.radians(values["angle_h"])), abs(b[2] - a[2]) / size, places=9)
            self.assertAlmostEqual(np.sin(np.radians(values["angle_v"])), abs(b[1] - a[1]) / size, places=9)
            for trace, axis in zip(values["traces"], (2, 1), strict=True):
                if b[axis] == a[axis]:
                    self.assertIsNone(trace)
                    continue
                self.assertAlmostEqual(trace[axis], 0.0, places=9)
                np.testing.assert_allclose(np.cross(np.array(trace) - a, b - a), 0.0, atol=1e-7 * size**2)

    def test_triangles(self) -> None:
        for givens, values in self.each("true-shape"):
            a, b, c = vectors(givens, "ABC")
            self.assertAlmostEqual(
                values["area"], np.linalg.norm(np.cross(b - a, c - a)) / 2, delta=1e-7 * values["area"]
            )
            cosine = (b - a) @ (c - a) / (values["ab"] * values["ca"])
            self.assertAlmostEqual(np.cos(np.radians(values["angle_A"])), cosine, places=9)
            self.assertAlmostEqual(values["angle_A"] + values["angle_B"] + values["angle_C"], 180.0, places=9)

    def test_the_foot_is_the_nearest_point_of_the_plane(self) -> None:
        for givens, values in self.each("point-to-plane"):
            p, a, b, c = vectors(givens, "PABC")
            (s, t), *_ = np.linalg.lstsq(np.stack([b - a, c - a], axis=1), p - a, rcond=None)
            nearest = a + s * (b - a) + t * (c - a)
            np.testing.assert_allclose(values["foot"], nearest, atol=1e-6)
            self.assertAlmostEqual(values["distance"], float(np.linalg.norm(p - nearest)), places=6)
            n = np.cross(b - a, c - a)
            n = np.abs(n / np.linalg.norm(n))
            self.assertAlmostEqual(np.cos(np.radians(values["plane_angle_h"])), n[2], places=9)
            self.assertAlmostEqual(np.cos(np.radians(values["plane_angle_v"])), n[1], places=9)

    def test_the_meet_solves_the_three_equations(self) -> None:
        for givens, values in self.each("line-meets-plane"):
            a, b, c, d, e = vectors(givens, "ABCDE")
            t, _, _ = np.linalg.solve(np.stack([b - a, c - d, c - e], axis=1), c - a)
            np.testing.assert_allclose(values["meets"], a + t * (b - a), atol=1e-6 * max(1.0, abs(t)))
            self.assertAlmostEqual(values["along"], t * float(np.linalg.norm(b - a)), delta=1e-6 * max(1.0, abs(t)))

    def test_no_nearer_pair_of_points_is_found_by_search(self) -> None:
        tried = 0
        for givens, values in self.each("skew-lines"):
            a, b, c, d = vectors(givens, "ABCD")

            def gap(st: np.ndarray, a: Any = a, b: Any = b, c: Any = c, d: Any = d) -> float:
                return float(((a + st[0] * (b - a) - c - st[1] * (d - c)) ** 2).sum())

            found = minimize(gap, np.zeros(2), tol=1e-14)
            self.assertAlmostEqual(values["distance"], float(np.sqrt(found.fun)), delta=2e-4)
            one, other = (np.array(end) for end in values["ends"])
            self.assertAlmostEqual(float(np.linalg.norm(one - other)), values["distance"], places=7)
            np.testing.assert_allclose([(one - other) @ (b - a), (one - other) @ (d - c)], 0.0, atol=1e-5)
            tried += 1
        self.assertGreater(tried, 30)

    def test_a_plane_by_its_traces_is_one_through_three_points(self) -> None:
        for h, v in ((47.5, 38.0), (10.0, 80.0), (60.0, 60.0), (89.0, 1.0)):
            values = by_name(run(figure_named("plane-by-traces")(trace_h=h, trace_v=v)))
            one = np.array([np.cos(np.radians(h)), np.sin(np.radians(h)), 0.0])
            two = np.array([np.cos(np.radians(v)), 0.0, np.sin(np.radians(v))])
            n = np.cross(one, two)
            n = np.abs(n / np.linalg.norm(n))
            self.assertAlmostEqual(values["angle_h"], np.degrees(np.arccos(n[2])), places=7)
            self.assertAlmostEqual(values["angle_v"], np.degrees(np.arccos(n[1])), places=7)
            self.assertAlmostEqual(values["angle_between"], np.degrees(np.arccos(one @ two)), places=7)

    def test_a_lamina_stands_as_told(self) -> None:
        """Its corners turned about the edge and then about the upright, by matrices."""
        for sides, lean, turn in ((3, 20.0, 70.0), (5, 41.0, 28.0), (8, 75.0, 10.0)):
            made = run(figure_named("lamina")(sides=sides, side=30, angle_h=lean, edge_angle_v=turn))
            radius = 15 / np.sin(np.pi / sides)
            t = 2 * np.pi * np.arange(sides) / sides + np.pi + np.pi / sides
            flat = np.stack([radius * np.cos(t), radius * np.sin(t), 0 * t], axis=1)
            flat[:, 0] -= flat[:, 0].min()
            c, s = np.cos(np.radians(lean)), np.sin(np.radians(lean))
            leaned = flat @ np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
            c, s = np.cos(np.radians(90 - turn)), np.sin(np.radians(90 - turn))
            turned = leaned @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]])
            values = by_name(made)
            self.assertAlmostEqual(values["rise"], float(np.ptp(turned[:, 2])), places=8)
            for name, axes in (("top_area", (0, 1)), ("front_area", (0, 2))):
                x, y = turned[:, axes[0]], turned[:, axes[1]]
                area = abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())) / 2
                self.assertAlmostEqual(values[name], area, places=6, msg=name)
            self.assertAlmostEqual(values["front_width"], float(np.ptp(turned[:, 0])), places=8)

    def test_quadrants(self) -> None:
        for p, quadrant in (
            ((1, 2, 3), 1),
            ((1, -2, 3), 2),
            ((1, -2, -3), 3),
            ((1, 2, -3), 4),
            ((1, 0, 3), 0),
            ((1, 2, 0), 0),
        ):
            self.assertEqual(by_name(run(figure_named("point-in-space")(P=p)))["quadrant"], quadrant)


class Words(unittest.TestCase):
    def test_behind_and_below_are_said_as_such(self) -> None:
        made = run(figure_named("line-from-views")(A=(-22.4, 17.9, -31.6), B=(36.8, -43.5, 27.2)))
        whys = [step.why for step in made.steps]
        for part in ("below the horizontal plane", "in front of the vertical plane", "behind the vertical plane"):
            self.assertTrue(any(part in why for why in whys), part)
        self.assertFalse(any("−" in why for why in whys))

    def test_what_is_read_off_the_drawing_is_lined_in(self) -> None:
        """The true length, the shortest distance and the true shape are outlines, each as long as it is in space."""
        for id, method, wanted in (
            ("line-from-views", "rotation", "length"),
            ("line-from-views", "trapezoid", "length"),
            ("line-from-views", "auxiliary-view", "length"),
            ("skew-lines", "auxiliary-point-view", "distance"),
            ("point-to-plane", "edge-view", "distance"),
            ("true-shape", "two-auxiliary-views", "ab"),
        ):
            made = run(figure_named(id)(), method)
            drawn = []
            for mark in made.marks:
                if mark.role is Role.OUTLINE:
                    for line in mark.polylines():
                        drawn += [float(np.hypot(*part)) for part in np.diff(np.asarray(line), axis=0)]
            value = by_name(made)[wanted]
            self.assertLess(min(abs(one - value) for one in drawn), 1e-6, f"{id} {method}")


class Refusals(unittest.TestCase):
    def says(self, id: str, **givens: Any) -> Refused:
        with self.assertRaises(Refused) as caught:
            make(catalogue()[id], givens)
        return caught.exception

    def test_what_fixes_no_line_or_plane_is_refused_by_the_point(self) -> None:
        refused = self.says("line-from-views", A=(1, 2, 3), B=(1, 2, 3.05))
        self.assertEqual(refused.given, "B")
        self.assertIn("0.1 mm", refused.says)
        for id in ("true-shape", "point-to-plane"):
            refused = self.says(id, A=(0, 0, 0), B=(30, 30, 30), C=(60, 60, 60.01))
            self.assertEqual((refused.given, "one line" in refused.says), ("C", True))
        self.assertEqual(self.says("line-meets-plane", C=(0, 0, 0), D=(9, 9, 9), E=(18, 18, 18)).given, "E")

    def test_parallels_are_refused_by_name(self) -> None:
        self.assertIn(
            "parallel", self.says("skew-lines", A=(0, 0, 0), B=(30, 10, 20), C=(5, 5, 5), D=(65, 25, 45)).says
        )
        level = {"C": (0, 0, 10), "D": (50, 0, 10), "E": (0, 50, 10)}
        self.assertIn("parallel", self.says("line-meets-plane", A=(0, 0, 40), B=(30, 10, 40), **level).says)
        self.assertIn("lies in", self.says("line-meets-plane", A=(0, 0, 10), B=(30, 10, 10), **level).says)

    def test_views_too_short_for_the_length(self) -> None:
        refused = self.says("line-from-length-and-views", length=100, top_length=50, front_length=50)
        self.assertIn("86.6", refused.says)
        limit = 86.6026
        make(catalogue()["line-from-length-and-views"], {"length": 100, "top_length": limit, "front_length": 50})
        self.assertEqual(self.says("plane-by-traces", trace_h=0, trace_v=0).given, "trace_v")

    def test_words_blanks_and_a_fourth_number(self) -> None:
        for typed in ("", "1,2", "1,2,3,4", "a,b,c", "nan,1,2"):
            refused = self.says("point-in-space", P=typed)
            self.assertEqual((refused.given, refused.says.count("\n")), ("P", 0), typed)


if __name__ == "__main__":
    unittest.main()
