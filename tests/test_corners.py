"""Corners taken from a figure that is drawn already, and scales of a job's own."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.build import build_sheet
from wise_compass.job.corners import corners_of
from wise_compass.job.drawnscales import drawn_scales
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import job_text, parse_job


def taken(figure: str, **givens: object) -> np.ndarray:
    return np.array([[float(x) for x in row] for row in corners_of(run(make(catalogue()[figure], givens)))])


def area(corners: np.ndarray) -> float:
    x, y = corners.T
    return float(abs(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


class TakenCorners(unittest.TestCase):
    @given(st.integers(3, 12), st.floats(8, 60))
    @settings(max_examples=examples(20), deadline=None)
    def test_a_regular_polygon_is_taken_whole(self, sides: int, side: float) -> None:
        corners = taken("polygon-on-side", sides=sides, side=side)
        self.assertEqual(len(corners), sides)
        steps = np.hypot(*(corners - np.roll(corners, 1, axis=0)).T)
        np.testing.assert_allclose(steps, side, atol=1e-5)
        self.assertAlmostEqual(area(corners) / (sides * side**2 / (4 * np.tan(np.pi / sides))), 1.0, 5)

    def test_a_field_that_is_parted_is_taken_without_its_shares(self) -> None:
        field = make(catalogue()["divide-area"], {})
        corners = taken("divide-area")
        mine = np.array(field.given_values["corners"])
        self.assertEqual(len(corners), len(mine))
        self.assertAlmostEqual(area(corners) / area(mine), 1.0, 6)

    def test_what_has_no_corners_says_so(self) -> None:
        for figure in ("ellipse", "common-tangents"):
            with self.assertRaisesRegex(Refused, "Choose a"):
                taken(figure)


class ScalesOfOnesOwn(unittest.TestCase):
    JOB = Job(
        "Mill",
        (
            SheetPlan("Rule", (Entry("scale-bar", "Miller’s rule", givens={"over": 40}, id="rule"),)),
            SheetPlan("Hall", (Entry("prism", "Hall", givens={"side": 900, "height": 2400}, id="hall"),), scale="1:40"),
        ),
    )

    def test_a_sheet_is_drawn_at_the_scale_of_a_rule_that_the_job_draws(self) -> None:
        self.assertEqual(drawn_scales(self.JOB), {"1:40": "Miller’s rule"})
        self.assertEqual(build_sheet(self.JOB, 1).scale, 1 / 40)
        self.assertEqual(parse_job(job_text(self.JOB)).sheets[1].scale, "1:40")

    def test_no_scale_is_refused(self) -> None:
        for scale in ("1:0", "40", "3:4", "1:00", "0:1", "1:99999"):
            with self.assertRaises(Refused):
                build_sheet(self.JOB._replace(sheets=(self.JOB.sheets[1]._replace(scale=scale),)), 0)


class Strips(unittest.TestCase):
    def test_marks_stand_where_the_scale_reads(self) -> None:
        """Off the strip's own edge, for every mark that bears a number."""
        figure = make(catalogue()["scale-bar"], {"over": 40, "levels": 0, "reading": 3.4, "second_unit": "yard",
                                                 "second_range": 4})  # fmt: skip
        first, second = figure.strips  # type: ignore[attr-defined]
        for strip, unit, edge in ((first, 1000 / 40, 0.0), (second, 914.4 / 40, -6.0)):
            said = [(one.line, one.words) for one in strip.scribes if one.line is not None and one.words]
            self.assertGreater(len(said), 4)
            for line, words in said:
                x = line[0][0]
                self.assertAlmostEqual(abs(x), float(words) * (unit if x >= 0 else unit / 10), 9)
                self.assertAlmostEqual(line[0][1], edge, 9)

    def test_a_vernier_slides_along_the_main_scale(self) -> None:
        main, vernier = make(catalogue()["vernier-scale"], {"lie": "slid", "reading": 1.37}).strips  # type: ignore[attr-defined]
        self.assertGreater(main.part.outline[:, 1].min(), vernier.part.outline[:, 1].max())
        marks = [one.line[0][0] for one in vernier.scribes if one.line is not None]
        self.assertAlmostEqual(marks[-1], 9 * (1000 / 25 / 10), 9)


if __name__ == "__main__":
    unittest.main()
