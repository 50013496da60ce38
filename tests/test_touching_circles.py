"""Circles that touch true curves, and ovals of four arcs: against their definitions."""

from __future__ import annotations

import math
import unittest
from collections.abc import Iterator

import numpy as np

from tests.test_plane_figures import at, gap, solved, turn, value
from tests.test_true_curves import serving
from wise_compass.drafting.figure import make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.marks import ArcMark, LineMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.figures.curves.touching import Touching
from wise_compass.geometry.curve_places import clear_radius
from wise_compass.study.gaps import gaps


class FourCentres(unittest.TestCase):
    def setUp(self) -> None:
        self.made = solved("ellipse", "four-centres", long=152, wide=88)

    def test_the_arcs_join_on_one_normal_and_pass_the_ends_of_the_axes(self) -> None:
        arcs = [mark for mark in self.made.marks if isinstance(mark, ArcMark) and mark.span is not None]
        self.assertEqual(len(arcs), 4)
        for one, two, joint in zip(arcs, [*arcs[1:], arcs[0]], ("P1", "P3", "P5", "P7")):
            p = at(self.made, joint)
            self.assertAlmostEqual(gap(p, tuple(one.centre)), float(one.radius), places=9)
            self.assertAlmostEqual(gap(p, tuple(two.centre)), float(two.radius), places=9)
            between = turn(tuple(one.centre), p, tuple(two.centre))
            self.assertAlmostEqual(between, 0, places=5, msg="centres and joint stand in one line")
        self.assertAlmostEqual(sum(mark.span[1] for mark in arcs if mark.span), 360, places=9)
        for name, end in (("P0", (76, 0)), ("P2", (0, 44)), ("P4", (-76, 0)), ("P6", (0, -44))):
            self.assertLess(gap(at(self.made, name), end), 1e-9)

    def test_it_owns_up_to_its_largest_miss(self) -> None:
        fine = np.linspace(0, 2 * np.pi, 40001)
        ring = np.stack([76 * np.cos(fine), 44 * np.sin(fine)], axis=-1)
        worst = 0.0
        for hub, start, end in (("C1", -75, 75), ("C4", 45, 135)):
            radius = gap(at(self.made, hub), at(self.made, "P1"))
            joint = math.degrees(math.atan2(*np.subtract(at(self.made, "P1"), at(self.made, hub))[::-1]))
            for angle in np.linspace(start, end, 201):
                if abs(angle) <= joint if hub == "C1" else joint <= angle <= 180 - joint:
                    p = np.add(
                        at(self.made, hub),
                        radius * np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle))]),
                    )
                    worst = max(worst, float(np.hypot(*(ring - p).T).min()))
        (one,) = gaps(self.made)
        self.assertAlmostEqual(one.largest, worst, delta=0.01)
        designed = [proof for proof in self.made.proofs if proof.by_design]
        self.assertTrue(designed)
        self.assertAlmostEqual(max(proof.miss for proof in designed), worst, delta=0.01)
        self.assertAlmostEqual(value(self.made, "end_radius"), gap(at(self.made, "C1"), (76, 0)), places=9)
        self.assertAlmostEqual(value(self.made, "side_radius"), gap(at(self.made, "C4"), (0, 44)), places=9)


PLACES: dict[str, tuple[float, ...]] = {
    "parabola": (-41.0, 0.0, 7.5),
    "hyperbola": (-30.0, 0.0, 12.0),
    "rectangular-hyperbola": (16.0, 36.0, 80.0),
    "conic-by-eccentricity": (12.0, 95.0),
    "involute-circle": (5.0, 200.0),
}


class Touched(unittest.TestCase):
    def touching(self) -> Iterator[tuple[type[Touching], float]]:
        for kind in catalogue().values():
            if issubclass(kind, Touching):
                for place in PLACES.get(kind.id, (0.0, 37.0, 90.0, 203.0)):
                    yield kind, place

    def test_tangent_normal_and_circles_prove_on_every_curve(self) -> None:
        seen = set()
        for kind, place in self.touching():
            for touch in ("tangent", "circle-outside", "circle-inside"):
                figure = make(kind, {"touch": touch, "at": place, "circle_radius": 6})
                for made in serving(figure):
                    where = f"{kind.id} by {made.method.id}: {touch} at {place}"
                    for proof in made.proofs:
                        self.assertTrue(proof.holds or proof.by_design, f"{where}: {proof}")
                    self.assertIn(figure.letter, made.spots, where)
                    seen.add(kind.id)
        self.assertGreaterEqual(len(seen), 19, "every curve of four families")

    def test_unsteady_hands_touch_every_curve(self) -> None:
        """What touches scatters more than the point it touches at, and no hand loses its way."""
        for kind in catalogue().values():
            if not issubclass(kind, Touching):
                continue
            figure = make(kind, {"touch": "circle-inside", "at": 40, "circle_radius": 5})
            for method in figure.methods.values():
                if method.fits(figure) is not None:
                    continue
                result = run_hands(figure, method.id, 200, seed=3)
                limits = {one.name: one.limit for one in result.points}
                where = f"{kind.id} by {method.id}"
                self.assertLess(result.missed, 40, where)
                self.assertLess(limits[f"{figure.letter}k"], 5.0, where)
                self.assertGreater(limits[f"{figure.letter}k"], 0.0, where)

    def test_the_normal_is_square_to_the_way_the_points_go(self) -> None:
        for kind, place in self.touching():
            figure = make(kind, {"touch": "tangent", "at": place})
            curve = figure.touched
            h = 1e-5 * (curve.last - curve.first)
            low, high = max(place - h, curve.first), min(place + h, curve.last)
            way = curve.at(high) - curve.at(low)
            if kind.family == "rolling" and place == 0:
                continue  # a cusp, or the very start of a string
            made = run(figure)
            normal = made.found[f"{figure.letter}n"] - made.found[figure.letter]
            cosine = float(way @ normal / (np.hypot(*way) * np.hypot(*normal)))
            self.assertLess(abs(cosine), 2e-3, f"{kind.id} at {place}")

    def test_a_circle_too_large_for_the_hollow_side_is_warned_of_and_crosses(self) -> None:
        for id, place in (("ellipse", 10.0), ("cycloid", 120.0), ("parabola", 5.0), ("archimedean-spiral", 200.0)):
            kind = catalogue()[id]
            own = value(run(make(kind, {"touch": "tangent", "at": place})), "curvature_radius")
            for factor, crosses in ((0.9, False), (1.1, True)):
                figure = make(kind, {"touch": "circle-inside", "at": place, "circle_radius": own * factor})
                assert isinstance(figure, Touching)
                warned = any("radius of curvature" in caution for caution in figure.cautions())
                self.assertEqual(warned, crosses, id)
                beside = figure.touched.at(place + 0.002 * (figure.touched.last - figure.touched.first))
                inside = float(np.hypot(*(beside - figure.circle_centre))) < figure.circle_radius
                self.assertEqual(inside, crosses, f"{id} {factor}")
            outside = make(kind, {"touch": "circle-outside", "at": place, "circle_radius": own * 3})
            self.assertFalse(any("radius of curvature" in caution for caution in outside.cautions()))

    def test_the_largest_circle_that_clears_the_whole_curve(self) -> None:
        for id, place, touch in (
            ("ellipse", 80.0, "circle-inside"),
            ("ellipse", 5.0, "circle-inside"),
            ("archimedean-spiral", 200.0, "circle-inside"),
            ("archimedean-spiral", 100.0, "circle-outside"),
            ("cycloid", 100.0, "circle-inside"),
            ("parabola", 40.0, "circle-inside"),
        ):
            kind = catalogue()[id]
            first = make(kind, {"touch": touch, "at": place, "circle_radius": 3000})
            assert isinstance(first, Touching)
            side = first.touched.concave_side(place) * (1 if touch == "circle-inside" else -1)
            clear, _ = clear_radius(first.touched, place, side)
            for factor, crosses in ((0.999, False), (1.01, True)):
                figure = make(kind, {"touch": touch, "at": place, "circle_radius": clear * factor})
                assert isinstance(figure, Touching)
                curve = figure.touched
                course = curve.at(np.linspace(curve.first, curve.last, 40001))
                least = float(np.hypot(*(course - figure.circle_centre).T).min())
                self.assertEqual(least < figure.circle_radius * (1 - 1e-7), crosses, f"{id} at {place}, {factor}")
                self.assertEqual(bool(list(figure.cautions())), crosses, f"{id} at {place}, {factor}")

    def test_constructions_are_the_proper_ones(self) -> None:
        made = solved("ellipse", touch="tangent", at=130)
        q, back = at(made, "Q"), tuple(2 * np.array(at(made, "Q")) - at(made, "Qn"))
        self.assertAlmostEqual(turn(at(made, "F1"), q, back), turn(at(made, "F2"), q, back), places=6)
        made = solved("hyperbola", touch="tangent", at=20)
        q, t = at(made, "Q"), at(made, "Qt")
        one, two = turn(at(made, "F1"), q, t), turn(at(made, "F2"), q, t)
        self.assertAlmostEqual(min(one, 180 - one), min(two, 180 - two), places=6)
        made = solved("archimedean-spiral", touch="tangent", at=100)
        gain = value(made, "radius_gain") / (2 * math.pi)
        self.assertAlmostEqual(gap(at(made, "O"), at(made, "Z")), gain, places=9)
        made = solved("cycloid", touch="tangent", at=75)
        self.assertAlmostEqual(turn(at(made, "I"), at(made, "Q"), at(made, "Qt")), 90, places=6)

    def test_places_off_the_curve_are_refused_by_name_only_when_touched(self) -> None:
        kind = catalogue()["parabola"]
        make(kind, {"at": 80})
        with self.assertRaises(Refused) as caught:
            make(kind, {"at": 80, "touch": "tangent"})
        self.assertEqual(caught.exception.given, "at")
        self.assertIn("48 mm", caught.exception.says)
        for tracing in (18, 18.001, 17.9999):  # beside a cusp the normal is set off by its worked direction
            for place in (0, 0.01, 360):
                made = run(make(catalogue()["trochoid"], {"tracing_radius": tracing, "at": place}))
                self.assertTrue(all(proof.holds for proof in made.proofs), f"{tracing} {place}")

    def test_a_place_nobody_asked_for_gives_way_to_a_short_curve(self) -> None:
        for id, givens in (
            ("involute-circle", {"turns": 0.25}),
            ("involute-polygon", {"turns": 1 / 6}),
            ("cycloid", {"turns": 0.25, "divisions": 12}),
            ("conic-by-eccentricity", {"eccentricity": 5}),
            ("logarithmic-spiral", {"turns": 1 / 12}),
        ):
            made = solved(id, **givens)
            self.assertTrue(all(proof.holds for proof in made.proofs), id)
        with self.assertRaises(Refused) as caught:
            solved("involute-circle", turns=0.25, at=210)
        self.assertIn("90°", caught.exception.says)

    def test_nothing_is_drawn_where_nothing_is_asked(self) -> None:
        made = solved("ellipse")
        self.assertNotIn("Q", made.spots)
        self.assertNotIn("{at}", made.figure.sentence(made.figure.given_values))
        asked = make(catalogue()["ellipse"], {"touch": "circle-inside"})
        self.assertIn("{circle_radius}", asked.sentence(asked.given_values))

    def test_lines_stand_at_the_axes_of_conjugate_diameters(self) -> None:
        made = solved("ellipse-conjugate", "rotated-triangle", first=124, second=78, angle=64)
        axes = [mark for mark in made.marks if isinstance(mark, LineMark) and mark.role is Role.CENTRE]
        self.assertGreaterEqual(len(axes), 4)
        x, y = at(made, "X"), at(made, "Y")
        self.assertAlmostEqual(2 * math.hypot(*x), value(made, "long"), places=9)
        self.assertAlmostEqual(2 * math.hypot(*y), value(made, "wide"), places=9)
        self.assertAlmostEqual(math.degrees(math.atan2(x[1], x[0])), value(made, "tilt"), places=9)


if __name__ == "__main__":
    unittest.main()
