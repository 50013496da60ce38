"""What a pattern takes of sheet, and laps that are tucked in last: by hand, and against definitions."""

from __future__ import annotations

import math
import unittest
from itertools import combinations

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests import examples
from tests.test_shop import developed, shop
from tests.test_solids import drawn
from wise_compass.figures.catalogue import catalogue
from wise_compass.shop import takings
from wise_compass.shop.takings import rows_on
from wise_compass.shop.tucked import tucked


class Takings(unittest.TestCase):
    def test_of_a_box_worked_by_hand(self) -> None:
        """A tube of 4 × 30 by 50 with a lap of 10 along its seam: 120 by 50, and a lap of 50 and 30 by 10."""
        told = shop(
            "prism", {"sides": 4, "side": 30, "height": 50, "cut": "none"}, seam_lap=10, thickness=2, material="steel"
        ).takings
        (blank,) = told.blanks
        self.assertAlmostEqual(blank.long, 130)
        self.assertAlmostEqual(blank.high, 50)
        self.assertAlmostEqual(told.area, 120 * 50 + (50 + 30) / 2 * 10, places=4)
        self.assertAlmostEqual(blank.waste, 1 - told.area / (130 * 50))
        self.assertAlmostEqual(told.cuts, 120 * 2 + 50 + 30 + 2 * 10 * math.sqrt(2), places=3)
        self.assertAlmostEqual(told.seams, 50)
        self.assertAlmostEqual(told.mass, told.area * 2 * 7850e-9)
        self.assertEqual(told.rows[0].straight, (2000 // 130) * (1000 // 50))

    def test_a_strip_is_parted_without_waste_and_cut_once(self) -> None:
        ready = shop("elbow", {"pieces": 3, "diameter": 60, "bend": 60})
        told = ready.takings
        (blank,) = told.blanks
        self.assertLess(abs(blank.waste), 1e-6)
        joints = sum(side.long for cut in ready.cuts for side in cut.sides if side.kind == "joint") / 2
        self.assertAlmostEqual(told.cuts, 2 * (blank.long + blank.high) + joints, places=3)
        self.assertAlmostEqual(told.seams, blank.high + joints, places=3)

    def test_gores_and_zones_are_counted_as_often_as_they_are_wanted(self) -> None:
        gores = shop("sphere-gores", {"gores": 12}).takings
        self.assertEqual(gores.blanks[0].copies, 12)
        self.assertAlmostEqual(gores.area / (math.pi * 90**2), 1.0, delta=0.01)
        zones = shop("sphere-zones", {"zones": 5}).takings
        self.assertEqual([blank.copies for blank in zones.blanks], [2, 2, 1])

    def test_rows_of_known_outlines(self) -> None:
        """Rectangles; circles, whose shifted rows stand √3 / 2 of a diameter apart; triangles, which stand no closer
        than their height."""
        box = np.array([[0.0, 0], [30, 0], [30, 20], [0, 20]])
        self.assertEqual(rows_on(box, 95, 65).straight, 9)
        self.assertEqual(rows_on(box, 29, 19), (0, 0))
        self.assertEqual(rows_on(box, 30, 20).straight, 1, "what just fits, fits")
        turn = np.linspace(0, 2 * math.pi, 721)[:-1]
        disc = 10 * np.stack([np.cos(turn), np.sin(turn)], axis=1) + 10
        rows = rows_on(disc, 200, 20 + 4 * 20 * math.sqrt(3) / 2 + 0.05)
        self.assertEqual(rows.shifted, 10 + 9 + 10 + 9 + 10)
        self.assertEqual(rows.straight, 10 * 4)
        triangle = np.array([[0.0, 0], [30, 0], [15, 20]])
        self.assertEqual(rows_on(triangle, 100, 100).straight, 3 * 5)

    @drawn
    @given(
        st.lists(st.tuples(st.floats(0, 60), st.floats(0, 40)), min_size=3, max_size=9),
        st.floats(80, 300),
        st.floats(60, 300),
    )
    def test_rows_take_no_more_than_their_areas(
        self, places: list[tuple[float, float]], long: float, wide: float
    ) -> None:
        """No more than their areas allow, whatever the outline, and turned round the sheet the same."""
        from shapely import MultiPoint, Polygon

        hull = MultiPoint(places).convex_hull
        assume(isinstance(hull, Polygon) and hull.area > 20)
        outline = np.array(hull.exterior.coords)[:-1]  # type: ignore[union-attr]
        rows = rows_on(outline, long, wide)
        self.assertLessEqual(max(rows) * hull.area, long * wide * (1 + 1e-9))
        self.assertEqual(rows, rows_on(outline, wide, long))

    @settings(deadline=None, max_examples=examples(60))
    @given(st.lists(st.tuples(st.floats(0, 60), st.floats(0, 40)), min_size=3, max_size=9))
    def test_rows_laid_out_do_not_overlap_and_a_hair_closer_they_do(self, places: list[tuple[float, float]]) -> None:
        from shapely import MultiPoint, Polygon
        from shapely.affinity import translate

        hull = MultiPoint(places).convex_hull
        assume(isinstance(hull, Polygon) and hull.area > 20)
        outline = np.array(hull.exterior.coords)[:-1]  # type: ignore[union-attr]
        space = takings._space(outline[:, ::-1])
        rise = max(takings._rise(outline, space, space / 2), takings._rise(outline, space, 0.0) / 2)
        places = [(x * space + row % 2 * space / 2, row * rise) for row in range(4) for x in range(4)]
        laid = [translate(hull, x, y) for x, y in places]
        for one, other in combinations(laid, 2):
            self.assertLess(one.intersection(other).area, 1e-6 * hull.area)
        self.assertGreater(hull.intersection(translate(hull, 0.99 * space, 0.0)).area, 0.0)


class Tucked(unittest.TestCase):
    def test_laps_lie_inside_what_they_lap_and_take_nothing_from_the_proof(self) -> None:
        for id, givens in (
            ("prism", {"sides": 5, "cut": "none"}),
            ("rect-to-rect", {"turn": 0}),
            ("cylinder", {"cut": "none"}),
            ("elbow", {"pieces": 4}),
        ):
            ready = shop(id, givens, seam_lap=4, base_lap=4, top_lap=4)
            plain = ready.run.figure.pattern(ready.run.found)
            assert plain is not None
            whole = tucked(plain, ready)
            self.assertGreater(len(whole.pieces), len(plain.pieces), id)
            self.assertLess(whole.gap(), 1e-9 * 400)
            self.assertAlmostEqual(whole.stray(), plain.stray(), places=9)
            body = np.concatenate(plain.folded(1.0))
            low, high = body.min(axis=0) - 0.1, body.max(axis=0) + 0.1
            for corners in whole.folded(1.0)[len(plain.pieces) :]:
                self.assertTrue((corners > low).all() and (corners < high).all(), id)
            flat = whole.folded(0.0)
            self.assertTrue(
                all(np.abs(np.ptp(corners @ np.linalg.svd(flat[0] - flat[0][0])[2][2])) < 1e-6 for corners in flat)
            )

    def test_a_seams_lap_lies_against_the_face_beside_it(self) -> None:
        ready = shop("rect-to-rect", {"turn": 0}, seam_lap=6)
        plain = ready.run.figure.pattern(ready.run.found)
        assert plain is not None
        closed = tucked(plain, ready).folded(1.0)
        first, lap = closed[0], closed[-1]
        normal = np.cross(first[1] - first[0], first[2] - first[0])
        off = np.abs((lap - first[0]) @ normal) / np.sqrt(normal @ normal)
        self.assertLess(off.max(), 6 * math.sin(math.radians(1.0)))

    def test_zones_roll_up_to_the_ball_and_a_sector_that_is_off_gapes(self) -> None:
        for zones in (2, 5, 12):
            pattern = catalogue()["sphere-zones"](zones=zones).pattern(
                developed("sphere-zones", {"zones": zones}).found
            )
            assert pattern is not None
            self.assertLess(max(pattern.gap(), pattern.stray()), 1e-9 * 90)
            for name, at in pattern.lies.items():
                self.assertAlmostEqual(float(np.sqrt(((at - [0, 0, 44]) ** 2).sum())), 44.0, places=9, msg=name)
        made = developed("sphere-zones")
        off = dict(made.found)
        off["R2"] = off["R2"] + np.array([0.0, 2.0])
        self.assertGreater(made.figure.pattern(off).gap(), 0.5)  # type: ignore[arg-type, union-attr]


if __name__ == "__main__":
    unittest.main()
