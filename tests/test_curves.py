"""Conics, rolling curves, spirals and helices held to their definitions, by plain arithmetic and by integrals."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from scipy.integrate import quad

from tests.test_plane_figures import at, gap, off_line, solved, turn, value
from wise_compass.drafting.figure import make
from wise_compass.drafting.run import Run, run_slips
from wise_compass.figures.catalogue import catalogue


def row(made: Run, letter: str = "P") -> list[tuple[float, ...]]:
    """The numbered points of a letter."""
    return [tuple(float(x) for x in made.found[name]) for name in made.found.names(letter)]


class Conics(unittest.TestCase):
    def test_every_method_of_the_ellipse_keeps_the_focal_sum(self) -> None:
        for lie in ("level", "upright"):
            for method in set(catalogue()["ellipse"].methods) - {"four-centres"}:
                made = solved("ellipse", method, long=120, wide=70, lie=lie, divisions=24)
                c = math.sqrt(60**2 - 35**2)
                foci = ((-c, 0.0), (c, 0.0)) if lie == "level" else ((0.0, -c), (0.0, c))
                for p in row(made):
                    self.assertAlmostEqual(gap(p, foci[0]) + gap(p, foci[1]), 120, places=9, msg=method)

    def test_parabola_by_focus_and_directrix_and_by_integral(self) -> None:
        focal = 96**2 / (16 * 62)
        for method in catalogue()["parabola"].methods:
            made = solved("parabola", method, base=96, axis=62, divisions=8)
            for x, y in row(made):
                self.assertAlmostEqual(gap((x, y), (0, 62 - focal)), 62 + focal - y, places=9, msg=method)
        arc = 2 * quad(lambda x: math.hypot(1, x / (2 * focal)), 0, 48, epsabs=0, epsrel=1e-13)[0]
        self.assertAlmostEqual(value(made, "arc_length") / arc, 1, places=11)

    def test_hyperbolas(self) -> None:
        for method in catalogue()["hyperbola"].methods:
            made = solved("hyperbola", method, foci=94, vertices=58)
            for p in row(made) + row(made, "R"):
                self.assertAlmostEqual(abs(gap(p, (-47, 0)) - gap(p, (47, 0))), 58, places=8, msg=method)
        made = solved("rectangular-hyperbola", x=30, y=44)
        for x, y in row(made):
            self.assertAlmostEqual(x * y, 30 * 44, places=7)

    def test_one_rule_for_all_conics(self) -> None:
        for e in (0.5, 0.99, 1.0, 1.01, 1.6):
            made = solved("conic-by-eccentricity", eccentricity=e, focus_distance=54)
            for x, y in row(made):
                self.assertAlmostEqual(gap((x, y), (54, 0)), e * x, places=8, msg=str(e))

    def test_the_normal_halves_the_angle_of_the_focal_radii(self) -> None:
        made = solved("ellipse-tangent", long=152, wide=88, at=130)
        p, n = at(made, "P"), at(made, "N")
        back = (2 * p[0] - n[0], 2 * p[1] - n[1])
        self.assertAlmostEqual(turn(at(made, "F1"), p, back), turn(at(made, "F2"), p, back), places=8)
        self.assertAlmostEqual(turn(at(made, "T"), p, n), 90, places=8)

    def test_conjugate_diameters_give_one_ellipse(self) -> None:
        made = solved("ellipse-conjugate", first=124, second=78, angle=64)
        a, b, tilt = value(made, "long") / 2, value(made, "wide") / 2, math.radians(value(made, "tilt"))
        for method in catalogue()["ellipse-conjugate"].methods:
            for x, y in row(solved("ellipse-conjugate", method, first=124, second=78, angle=64)):
                along, across = x * math.cos(tilt) + y * math.sin(tilt), y * math.cos(tilt) - x * math.sin(tilt)
                self.assertAlmostEqual((along / a) ** 2 + (across / b) ** 2, 1, places=10, msg=method)
        self.assertAlmostEqual(a * b, 62 * 39 * math.sin(math.radians(64)), places=8)


class Rolling(unittest.TestCase):
    def test_a_cycloid_by_its_equation(self) -> None:
        for method in catalogue()["cycloid"].methods:
            made = solved("cycloid", method, diameter=36, divisions=16)
            for k, (x, y) in enumerate(row(made)):
                t = 2 * math.pi * k / 16
                self.assertAlmostEqual(x, 18 * (t - math.sin(t)), places=8)
                self.assertAlmostEqual(y, 18 * (1 - math.cos(t)), places=8)

    def test_arches_are_as_long_as_walking_along_them(self) -> None:
        for id, sign in (("epicycloid", 1), ("hypocycloid", -1)):
            made = solved(id, rolling_diameter=32, base_diameter=144)
            base, r = 72, 16
            track = base + sign * r

            def speed(t: float, track: float = track, r: float = r, sign: int = sign) -> float:
                k = track / r
                return (
                    track * math.sqrt(2 - 2 * math.cos((k - sign) * t))
                    if sign > 0
                    else track * math.sqrt(2 - 2 * math.cos((k + 1) * t))
                )

            walked = quad(speed, 0, 2 * math.pi * r / base, epsabs=0, epsrel=1e-12)[0]
            self.assertAlmostEqual(value(made, "arch_length") / walked, 1, places=9, msg=id)
            self.assertAlmostEqual(value(made, "turn_angle"), 80, places=9)

    def test_rim_points_begin_and_end_on_the_base_circle(self) -> None:
        for id in ("epicycloid", "hypocycloid"):
            for method in catalogue()[id].methods:
                points = row(solved(id, method))
                for p in (points[0], points[-1]):
                    self.assertAlmostEqual(math.hypot(*p), 72, places=8, msg=f"{id} {method}")
                middle = points[len(points) // 2]
                self.assertAlmostEqual(math.hypot(*middle), 72 + (32 if id == "epicycloid" else -32), places=8)

    def test_dividing_the_base_by_the_diameter_shows_in_its_length(self) -> None:
        ((_, made),) = run_slips(make(catalogue()["cycloid"], {"diameter": 36}))
        assert isinstance(made, Run)
        self.assertAlmostEqual(float(made.measured["base_length"]), 36)

    def test_the_string_of_an_involute_is_tangent_and_as_long_as_its_arc(self) -> None:
        made = solved("involute-circle", diameter=28, turns=1, divisions=12)
        for k, p in enumerate(row(made)):
            t = 2 * math.pi * k / 12
            contact = (14 * math.cos(t), 14 * math.sin(t))
            self.assertAlmostEqual(gap(p, contact), 14 * t, places=8)
            if k:
                self.assertAlmostEqual(turn(p, contact, (0, 0)), 90, places=7)

    def test_polygon_strings_and_volutes_join_smoothly(self) -> None:
        for made, side, count in (
            (solved("involute-polygon", sides=5, side=16, turns=1.4), 16, 7),
            (solved("arc-volute", centres=2, side=6, turns=2.5), 6, 5),
            (solved("arc-volute", centres=6, side=4, turns=2), 4, 12),
        ):
            arcs = [mark for mark in made.marks if getattr(mark, "span", None)]
            self.assertEqual(len(arcs), count)
            for k, arc in enumerate(arcs, 1):
                self.assertAlmostEqual(float(arc.radius), k * side, places=8)
            for one, two, joint in zip(arcs, arcs[1:], row(made)[1:]):
                self.assertLess(off_line(joint, tuple(one.centre), tuple(two.centre)), 1e-8, "one normal for both arcs")


class Growing(unittest.TestCase):
    def test_a_logarithmic_spiral_cuts_every_vector_alike(self) -> None:
        givens: dict[str, Any] = {"start_radius": 14, "ratio": 1.13, "vector_angle": 30, "turns": 1.5}
        for method in catalogue()["logarithmic-spiral"].methods:
            for hand in ("clockwise", "anticlockwise"):
                points = row(solved("logarithmic-spiral", method, hand=hand, **givens))
                for p, q in zip(points, points[1:]):
                    self.assertAlmostEqual(math.hypot(*q) / math.hypot(*p), 1.13, places=9)
                    self.assertAlmostEqual(turn(p, (0, 0), q), 30, places=7)
        rate = math.log(1.13) / math.radians(30)
        arc = quad(lambda t: 14 * math.exp(rate * t) * math.hypot(1, rate), 0, 3 * math.pi, epsabs=0, epsrel=1e-13)[0]
        self.assertAlmostEqual(value(solved("logarithmic-spiral", **givens), "arc_length") / arc, 1, places=11)


class Helices(unittest.TestCase):
    def test_a_helix_climbs_evenly_in_the_hand_it_says(self) -> None:
        for hand, sign in (("right", 1), ("left", -1)):
            points = row(solved("helix", radius=27, lead=84, turns=1.5, hand=hand, divisions=12), "H")
            for k, (x, y, z) in enumerate(points):
                t = sign * 2 * math.pi * k / 12
                np.testing.assert_allclose((x, -y, z), (27 * math.cos(t), 27 * math.sin(t), 84 * k / 12), atol=1e-8)

    def test_what_passes_behind_is_hidden(self) -> None:
        made = solved("helix", radius=27, lead=84, turns=1, hand="right", divisions=12)
        by_role = {}
        for mark in made.marks:
            if getattr(mark, "fair", False):
                by_role[mark.role.value] = [tuple(float(x) for x in p) for p in mark.points]
        self.assertEqual(set(by_role), {"outline", "hidden"})
        depth = {at(made, f"P{k}"): float(made.found[f"H{k}"][1]) for k in range(13)}
        self.assertTrue(all(depth[p] >= -1e-9 for p in by_role["outline"]), "in front of the axis")
        self.assertTrue(all(depth[p] <= 1e-9 for p in by_role["hidden"]))

    def test_lengths_by_development_and_by_integral(self) -> None:
        made = solved("helix", radius=27, lead=84, turns=1.5)
        self.assertAlmostEqual(1.5 * gap(at(made, "D0"), at(made, "D2")), value(made, "length"), places=8)
        half = solved("helix", radius=27, lead=84, turns=0.5)
        self.assertAlmostEqual(gap(at(half, "D0"), at(half, "D2")), value(half, "length"), places=8)
        cone = solved("conical-helix", base_radius=33, height=90, turns=1)

        def speed(u: float) -> float:
            radius = 33 * (1 - u)
            return math.sqrt(33**2 + 90**2 + (2 * math.pi * radius) ** 2)

        self.assertAlmostEqual(value(cone, "length") / quad(speed, 0, 1, epsabs=0, epsrel=1e-13)[0], 1, places=11)
