"""Figures that stand on a point of another: where they come to lie, turned, and what becomes of them."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.vectors import distance
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.standing import may_stand_on, on_their_sheets
from wise_compass.job.store import job_text, parse_job
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.drawing import Line, Text
from wise_compass.sheet.piece import Piece


def entry(id: str, figure: str, on: str = "", turned: float = 0.0, **givens: Any) -> Entry:
    made = figure_named(figure)(**givens)
    return Entry(figure, id.title(), "", made.stored(), on=on, turned=turned, id=id)


def bracket(turned: float = 0.0) -> Job:
    """A tower's plan, a window on its middle, and a scroll on the window's end."""
    return Job(
        "Wrenfold Mill",
        (
            SheetPlan(
                "Bracket",
                (
                    entry("keep", "polygon-on-side", side=60.0),
                    entry("oculus", "ellipse", "keep.O", turned, long=90.0, wide=50.0),
                    entry("curl", "arc-volute", "oculus.P0", side=4.0),
                ),
            ),
        ),
    )


def place(sheet: Sheet, k: int, key: str) -> np.ndarray:
    placed = sheet.placed[k]
    return placed.at(placed.piece.run.spots[key].here, sheet.scale)


class Standing(unittest.TestCase):
    def test_first_point_lies_on_the_point_it_stands_on_whatever_the_turn(self) -> None:
        for turned in (0.0, 20.0, -133.0, 360.0):
            sheet = build_sheet(bracket(turned), 0)
            np.testing.assert_allclose(place(sheet, 1, "O"), place(sheet, 0, "O"), atol=1e-9)
            np.testing.assert_allclose(place(sheet, 2, "C1"), place(sheet, 1, "P0"), atol=1e-9)
            along = place(sheet, 1, "P0") - place(sheet, 1, "O")
            self.assertAlmostEqual(float(np.rad2deg(np.arctan2(along[1], along[0]))) % 360.0, turned % 360.0, places=9)

    def test_what_is_turned_is_as_large_and_its_items_lie_where_its_points_do(self) -> None:
        sheet = build_sheet(bracket(35.0), 0)
        start, end = sheet.spans[1]
        placed = sheet.placed[1]
        long = distance(place(sheet, 1, "P0"), place(sheet, 1, "P6")) / sheet.scale
        self.assertAlmostEqual(float(long), 90.0, places=9)
        rings = {item.owner: item for item in sheet.drawing.items[start:end] if item.layer == "points"}
        for name in ("P0", "P3"):
            self.assertIn(name, rings)
        curve = next(item for item in sheet.drawing.items[start:end] if item.ink == "outline")
        course = curve.polyline()
        assert course is not None
        for key in ("P1", "P5", "P9"):
            gap = float(np.hypot(*(course - placed.at(placed.piece.run.spots[key].here, sheet.scale)).T).min())
            self.assertLess(gap, 0.6)
        for item in sheet.drawing.items[start:end]:
            if isinstance(item, Text):
                self.assertTrue(-90.0 < item.turn <= 90.0 + 1e-6, item.words)

    def test_its_dimensions_are_turned_with_it_and_stay_true(self) -> None:
        sheet = build_sheet(bracket(35.0), 0)
        start, end = sheet.spans[1]
        tips = [
            item.points[0]
            for item in sheet.drawing.items[start:end]
            if isinstance(item, Line) and item.filled and item.owner == "given:long"
        ]
        self.assertEqual(len(tips), 2)
        way = tips[0] - tips[1]
        self.assertAlmostEqual(float(np.hypot(*way)) / sheet.scale, 90.0, places=9)
        self.assertAlmostEqual(float(np.rad2deg(np.arctan2(way[1], way[0]))) % 180.0, 35.0, places=9)

    def test_the_group_keeps_within_the_frame_and_moves_as_one(self) -> None:
        job = bracket(35.0)
        sheet = build_sheet(job, 0)
        left, bottom, right, top = sheet.paper.field
        for placed in sheet.placed:
            self.assertTrue((placed.low >= [left, bottom]).all() and (placed.high <= [right, top]).all())
        from dataclasses import replace

        moved = build_sheet(job.with_entry("keep", lambda e: replace(e, shift=(7.0, -3.0))), 0)
        for one, other in zip(sheet.placed, moved.placed):
            np.testing.assert_allclose(other.origin - one.origin, [7.0, -3.0], atol=1e-9)

    def test_a_circle_of_places_is_refused_and_not_offered(self) -> None:
        one, other = (run(figure_named("square-on-side")(side=30.0)) for _ in range(2))
        with self.assertRaises(Refused) as caught:
            compose([Piece(one, "Kerb", on=(1, "A")), Piece(other, "Sill", on=(0, "A"))])
        self.assertIn("in a circle", caught.exception.says)
        job = bracket()
        self.assertFalse(may_stand_on(job, "keep", "curl"))
        self.assertFalse(may_stand_on(job, "keep", "keep"))
        self.assertTrue(may_stand_on(job, "curl", "keep"))

    def test_a_point_that_is_gone_leaves_it_in_its_own_place_and_says_so(self) -> None:
        from dataclasses import replace

        job = bracket().with_entry("oculus", lambda e: replace(e, on="keep.Z"))
        sheet = build_sheet(job, 0)
        self.assertIn("Oculus is in its own place: Keep has no point Z now.", " ".join(sheet.warnings))
        self.assertIsNone(sheet.placed[1].piece.on)

    def test_on_another_sheet_it_stands_in_its_own_place_again(self) -> None:
        job = bracket(20.0)
        apart = on_their_sheets(job.rehoused("oculus"))
        window, scroll = apart.entry("oculus"), apart.entry("curl")
        assert window is not None and scroll is not None
        self.assertEqual((window.on, window.turned), ("", 0.0))
        self.assertEqual(scroll.on, "", "what stood on it is left behind")
        build_sheet(apart, 0)

    def test_a_file_keeps_it(self) -> None:
        self.assertEqual(parse_job(job_text(bracket(-20.0))), bracket(-20.0))


if __name__ == "__main__":
    unittest.main()
