"""True curves against their derivatives, found points against true curves, and the curve that a hand joins up."""

from __future__ import annotations

import math
import unittest
from collections.abc import Iterator
from typing import Any

import numpy as np

from tests.test_plane_figures import at, gap, solved
from wise_compass.drafting.capabilities import courses_of
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.unrolled import Rim, about_apex, along_elements
from wise_compass.study.gaps import closer, fewest, finer, gaps, stray

OTHERS: dict[str, list[dict[str, Any]]] = {
    "ellipse": [
        {"lie": "upright", "divisions": 8},
        {"long": 100, "wide": 100},
        {"long": 300, "wide": 9, "divisions": 72},
    ],
    "ellipse-conjugate": [{"angle": 118, "divisions": 24}, {"first": 60, "second": 130, "angle": 35}],
    "parabola": [{"base": 20, "axis": 200, "divisions": 12}, {"base": 300, "axis": 12}],
    "hyperbola": [{"foci": 94, "vertices": 12}, {"foci": 94, "vertices": 90, "divisions": 11}],
    "conic-by-eccentricity": [{"eccentricity": e} for e in (0.3, 0.9999, 1.0, 1.0001, 3)],
    "cycloid": [{"turns": 2.25, "divisions": 8}],
    "trochoid": [{"tracing_radius": 9}, {"tracing_radius": 60, "turns": 2}],
    "epicycloid": [{"rolling_diameter": 60, "base_diameter": 60}],
    "hypocycloid": [{"rolling_diameter": 72, "base_diameter": 144}],
    "involute-circle": [{"turns": 2.5, "divisions": 8}],
    "archimedean-spiral": [
        {"inner": 0, "hand": "clockwise", "start": 70, "turns": 31 / 12},
        {"inner": 20, "outer": 24, "turns": 1 / 12},
    ],
    "logarithmic-spiral": [{"ratio": 0.9, "hand": "clockwise"}],
    "helix": [{"hand": "left", "starts": 3, "divisions": 16}],
    "conical-helix": [{"hand": "left", "turns": 2.5}],
    "coil-spring": [{"section": "square", "hand": "left"}, {"pitch": 7.01, "turns": 1.25}],
    "screw-thread": [{"form": "vee", "starts": 2, "lead": 24}, {"starts": 4, "hand": "left", "lead": 40}],
}


def curved() -> Iterator[Figure]:
    """Every figure with a curve, at its defaults and at givens near the edges of what it may be."""
    for id, kind in catalogue().items():
        if courses_of(kind(), next(iter(kind.methods))):
            yield kind()
            for givens in OTHERS.get(id, ()):
                yield make(kind, givens)


def serving(figure: Figure) -> Iterator[Run]:
    for method in figure.methods.values():
        if method.fits(figure) is None:
            yield run(figure, method.id)


def inner_places(curve: Curve, count: int = 41) -> np.ndarray:
    """Places of a curve away from its ends, where it can be approached from both sides."""
    return np.linspace(curve.first, curve.last, count + 2)[1:-1] + 0.0137 * (curve.last - curve.first) / count


class Derivatives(unittest.TestCase):
    def test_first_and_second_derivatives_are_those_of_the_points(self) -> None:
        for figure in curved():
            for course in courses_of(figure, next(iter(figure.methods))):
                curve = course.curve
                t = inner_places(curve)
                h = 1e-4 * (curve.last - curve.first) / len(t)
                size = np.ptp(curve.at(t), axis=0).max()
                slope = (curve.at(t + h) - curve.at(t - h)) / (2 * h * curve.per)
                bend = (curve.derivative(t + h) - curve.derivative(t - h)) / (2 * h * curve.per)
                where = f"{figure.id} {figure.stored()}"
                scale = max(size, float(np.abs(curve.derivative(t)).max()))
                np.testing.assert_allclose(curve.derivative(t), slope, atol=2e-5 * scale, err_msg=where)
                steps = "involute-polygon", "arc-volute"  # their second derivative leaps from arc to arc
                if figure.id not in steps:
                    scale = max(size, float(np.abs(curve.second_derivative(t)).max()))
                    np.testing.assert_allclose(curve.second_derivative(t), bend, atol=2e-5 * scale, err_msg=where)

    def test_radius_of_curvature_is_that_of_the_circle_through_three_close_points(self) -> None:
        for id in ("ellipse", "parabola", "cycloid", "involute-circle", "archimedean-spiral", "logarithmic-spiral"):
            curve = catalogue()[id]().courses(next(iter(catalogue()[id].methods)))[0].curve
            for t in inner_places(curve, 7):
                h = 1e-3 * (curve.last - curve.first)
                a, b, c = (tuple(curve.at(t + k * h).tolist()) for k in (-1, 0, 1))
                sides = gap(a, b), gap(b, c), gap(c, a)
                area = abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2
                through = math.prod(sides) / (4 * area)
                self.assertLess(abs(float(curve.curvature_radius(t)) / through - 1), 2e-3, f"{id} at {t}")


class FoundPoints(unittest.TestCase):
    def test_every_exact_method_finds_the_places_of_its_course(self) -> None:
        for figure in curved():
            for made in serving(figure):
                for course in made.courses:
                    if not (course.names and course.on_it and made.method.exact(made.figure)):
                        continue
                    found = np.array([made.found[name] for name in course.names])
                    off = np.abs(course.curve.at(course.stations) - found).max()
                    self.assertLess(off, 1e-7, f"{figure.id} by {made.method.id}, {figure.stored()}")

    def test_every_curve_that_a_hand_joins_up_is_held_against_a_true_one(self) -> None:
        rounds: tuple[tuple[str, dict[str, Any]], ...] = (
            *((id, {}) for id in catalogue()),
            ("tilted-solid", {"kind": "cylinder"}),
            ("tilted-solid", {"kind": "cone"}),
            ("built-up", {"rows": "box,0,0,0,60,60,20; cylinder,5,5,20,50,50,30; hole,20,20,0,20,20,50"}),
            ("pictorial-prism", {"hole": 20}),
        )
        counted = 0
        for id, givens in rounds:
            for made in serving(make(catalogue()[id], givens)):
                if any(isinstance(mark, CurveMark) and mark.fair and mark.role is Role.OUTLINE for mark in made.marks):
                    self.assertTrue(made.courses, f"{id} by {made.method.id}")
                    counted += 1
        self.assertGreater(counted, 60)

    def test_rims_of_pictures_hold_whatever_their_size(self) -> None:
        for drawn in ("isometric", "cabinet", "cavalier", "axonometric"):
            for rows in (
                "cylinder,0,0,0,160,160,40",
                "box,0,0,0,40,40,10; cone,0,0,10,40,40,120; hole,17,8,0,16,16,130",
                "cylinder-front,0,0,0,90,60,60; hole,30,20,0,20,20,60",
            ):
                for made in serving(make(catalogue()["built-up"], {"rows": rows, "drawn": drawn})):
                    if made.method.id != "visual-rays":
                        self.assertLessEqual(max(gap.largest for gap in gaps(made)), 0.15, f"{drawn} {rows}")
        for kind in ("cylinder", "cone"):
            for method in ("three-stages", "auxiliary-plane"):
                tilted = make(catalogue()["tilted-solid"], {"kind": kind, "size": 160, "axis_h": 25})
                self.assertLessEqual(max(gap.largest for gap in gaps(run(tilted, method))), 0.15)

    def test_edges_of_skins_are_as_thousands_of_triangles_have_them(self) -> None:
        """Unrolled rims against the plainest development there is, triangle by triangle."""
        rim, t = Rim(np.array([3.0, -2.0, 0.0]), 29.0), np.linspace(20.0, 380.0, 20001)
        for apex in (np.array([20.0, 5.0, 62.0]), np.array([80.0, 0.0, 30.0])):
            at = rim.at(t)
            r = np.linalg.norm(at - apex, axis=1)
            sides = np.linalg.norm(np.diff(at, axis=0), axis=1)
            steps = np.arccos((r[1:] ** 2 + r[:-1] ** 2 - sides**2) / (2 * r[1:] * r[:-1]))
            angles = np.concatenate([[0.0], np.cumsum(steps)])
            flat = np.stack([r * np.cos(angles), r * np.sin(angles)], axis=1)
            self.assertLess(np.abs(about_apex(rim, apex, 20.0, 380.0).at(t) - flat).max(), 1e-5)
        way = np.array([0.3, -0.2, 0.9]) / math.sqrt(0.94)
        rises = np.diff(rim.at(t) @ way)
        across = np.concatenate(
            [[0.0], np.cumsum(np.sqrt(np.linalg.norm(np.diff(rim.at(t), axis=0), axis=1) ** 2 - rises**2))]
        )
        self.assertLess(np.abs(along_elements(rim, way, 20.0, 380.0).at(t)[:, 0] - across).max(), 1e-5)

    def test_points_that_only_come_near_tell_by_how_much(self) -> None:
        """By triangles an edge falls short by the chords it is stepped in: four times less with twice as many."""
        for id in ("oblique-cone", "rect-to-round", "round-to-round"):
            far = [max(gap.largest for gap in gaps(run(make(catalogue()[id], {"divisions": n})))) for n in (12, 24)]
            self.assertGreater(far[0], 0.5, id)
            self.assertAlmostEqual(far[0] / far[1], 4.0, delta=0.4, msg=id)
            made = stray(run(make(catalogue()[id], {})), 0.5)
            assert made is not None and made.enough is not None
            held = [
                max(gap.largest for gap in gaps(run(make(catalogue()[id], {"divisions": n}))))
                for n in (made.enough, 12)
            ]
            self.assertLessEqual(held[0], 0.5)
            self.assertGreater(held[1], 0.5)

    def test_the_throat_of_a_hyperboloid_holds(self) -> None:
        for twist in (60, 120, 170, 175):
            made = run(make(catalogue()["hyperboloid"], {"twist": twist}))
            self.assertLessEqual(max(gap.largest for gap in gaps(made)), 0.1)

    def test_the_curve_breaks_at_cusps_and_nowhere_else(self) -> None:
        for id, givens, pieces in (
            ("cycloid", {"turns": 3}, 3),
            ("cycloid", {"turns": 2.5}, 3),
            ("trochoid", {"turns": 3, "tracing_radius": 28}, 1),
            ("epicycloid", {}, 1),
        ):
            made = solved(id, **givens)
            strokes = [mark for mark in made.marks if isinstance(mark, CurveMark) and mark.role is Role.OUTLINE]
            self.assertEqual(len(strokes), pieces, f"{id} {givens}")

    def test_one_division_on_either_side_of_a_cusp_mirrors(self) -> None:
        made = solved("cycloid", diameter=36, turns=2, divisions=8)
        cusp, before, after = at(made, "P8"), at(made, "P7"), at(made, "P9")
        self.assertAlmostEqual(cusp[1], 0, places=9)
        self.assertAlmostEqual(cusp[0] - before[0], after[0] - cusp[0], places=9)
        self.assertAlmostEqual(before[1], after[1], places=9)

    def test_a_circle_is_an_ellipse_too(self) -> None:
        for method in ("two-circles", "rectangle"):
            for p in solved("ellipse", method, long=80, wide=80).found.group("P"):
                self.assertAlmostEqual(math.hypot(*p), 40, places=9, msg=method)
        for method in ("trammel", "focus-arcs", "four-centres", "eccentricity"):
            with self.assertRaises(Refused) as caught:
                solved("ellipse", method, long=80, wide=80)
            self.assertIn("wide", caught.exception.says, method)

    def test_a_place_is_named_by_its_landmark_only_near_it(self) -> None:
        """Within a twelfth of the curve; round the join of a closed one as well."""
        ellipse = run(catalogue()["ellipse"]()).courses[0]
        self.assertEqual(len({ellipse.near(t) for t in (2.0, 358.0, 25.0)} - {""}), 1, "both sides of the right end")
        self.assertTrue(ellipse.near(2.0))
        self.assertEqual(ellipse.near(45.0), "", "half-way between two ends of the axes")
        self.assertNotEqual(ellipse.near(90.0), ellipse.near(0.0))


class HandsCurve(unittest.TestCase):
    def test_the_gap_is_the_distance_to_the_true_curve(self) -> None:
        for id, givens in (
            ("ellipse", {"divisions": 8}),
            ("cycloid", {"turns": 2}),
            ("archimedean-spiral", {}),
            ("helix", {}),
        ):
            made = solved(id, **givens)
            (one,) = gaps(made)[:1]
            curve = one.course.curve
            fine = curve.at(np.linspace(curve.first, curve.last, 100001))
            for k in range(0, len(one.drawn), 7):
                nearest = float(np.hypot(*(fine - one.drawn[k]).T).min())
                off = abs(float(one.off[k]))
                self.assertLessEqual(off, nearest + 1e-9, f"{id} {k}")
                self.assertLess(nearest**2 - off**2, 3e-3**2, f"{id} {k}")

    def test_the_hands_curve_passes_the_found_points(self) -> None:
        made = solved("ellipse", divisions=8)
        (one,) = gaps(made)
        for name in one.course.names:
            self.assertLess(float(np.hypot(*(one.drawn - made.found[name]).T).min()), 1e-9)

    def test_the_fewest_divisions_hold_and_fewer_do_not(self) -> None:
        for id, limit in (("ellipse", 0.1), ("ellipse", 0.01), ("hypocycloid", 0.01), ("involute-circle", 0.05)):
            figure = catalogue()[id]()
            method = next(iter(figure.methods))
            enough = fewest(figure, method, limit)
            assert enough is not None
            for n, one in finer(figure):
                if n <= enough:
                    off = max(gap.largest for gap in gaps(run(one, method)))
                    self.assertEqual(off <= limit, n == enough, f"{id} {n} {limit}")
        self.assertIsNone(fewest(catalogue()["ellipse"](), "two-circles", 1e-9))

    def test_further_points_hold_where_it_is_sharp(self) -> None:
        figure = make(catalogue()["ellipse"], {"long": 200, "wide": 40, "divisions": 16})
        extras = closer(figure, "two-circles", 0.02)
        self.assertTrue(extras)
        for extra in extras:
            x, y = extra.at
            self.assertAlmostEqual((x / 100) ** 2 + (y / 20) ** 2, 1, places=9)
        sharp = sum(abs(extra.at[0]) > 50 for extra in extras)
        self.assertGreater(sharp, 0.7 * len(extras), "they stand near the ends of the long axis, where it bends")
        with self.assertRaises(Refused):
            closer(figure, "two-circles", 1e-9)

    def test_the_sentence_says_where_and_what_would_hold(self) -> None:
        made = solved("ellipse", long=152, wide=60)
        found = stray(made, 0.1)
        assert found is not None
        says = found.sentence()
        largest = gaps(made)[0].largest
        self.assertIn("With 12 divisions", says)
        self.assertIn(f"{largest:.3f}".rstrip("0"), says)
        self.assertIn(f"{fewest(made.figure, 'two-circles', 0.1)} would hold 0.1 mm", says)
        loose = stray(made, 5)
        assert loose is not None
        self.assertIn("within 5 mm", loose.sentence())
        self.assertEqual(loose.extras, [])
        self.assertIsNone(stray(solved("arc-volute"), 0.1), "arcs that are the true curve")
        self.assertIsNone(stray(solved("rectangle"), 0.1))


if __name__ == "__main__":
    unittest.main()
