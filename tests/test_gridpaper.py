"""Blank isometric paper: equal triangles over the whole frame, and every line of it through their corners."""

from __future__ import annotations

import re
import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from tests import examples
from wise_compass.drafting.refusals import Refused
from wise_compass.sheet.drawing import Line
from wise_compass.sheet.gridpaper import crossings, grid_drawing
from wise_compass.sheet.paper import Paper
from wise_compass.terminal.main import main


class GridPaper(unittest.TestCase):
    @settings(deadline=None, max_examples=examples(25))
    @given(st.floats(2, 50), st.sampled_from([Paper("A4", "landscape"), Paper("A3", "portrait")]))
    def test_every_crossing_has_its_neighbours_all_round(self, spacing: float, paper: Paper) -> None:
        at = crossings(paper, spacing)
        left, bottom, right, top = paper.frame
        self.assertTrue((at >= [left - 1e-6, bottom - 1e-6]).all() and (at <= [right + 1e-6, top + 1e-6]).all())
        near = cKDTree(at)
        inner = at[
            (at[:, 0] > left + spacing)
            & (at[:, 0] < right - spacing)
            & (at[:, 1] > bottom + spacing)
            & (at[:, 1] < top - spacing)
        ]
        for one in inner:
            self.assertEqual(len(near.query_ball_point(one, spacing * 1.001)), 7)
            self.assertEqual(len(near.query_ball_point(one, spacing * 0.999)), 1)
        # nothing of the frame is left bare
        probe = np.random.default_rng(1).uniform([left, bottom], [right, top], (200, 2))
        self.assertLess(near.query(probe)[0].max(), spacing)

    def test_lines_run_through_the_crossings_and_end_in_the_frame(self) -> None:
        for paper in (Paper("A4", "landscape"), Paper("A4", "portrait")):
            drawing = grid_drawing(paper, 7.0, "lines")
            lines = [item.points for item in drawing.items if isinstance(item, Line) and item.ink == "construction"]
            left, bottom, right, top = paper.frame
            for one in crossings(paper, 7.0):
                through = set()
                for a, b in lines:
                    way = (b - a) / np.linalg.norm(b - a)
                    off, along = way[0] * (one - a)[1] - way[1] * (one - a)[0], (one - a) @ way
                    if abs(off) < 1e-9 and -1e-9 <= along <= np.linalg.norm(b - a) + 1e-9:
                        through.add(round(float(np.degrees(np.arctan2(way[1], way[0]))) % 180))
                inside = left + 0.01 < one[0] < right - 0.01 and bottom + 0.01 < one[1] < top - 0.01
                self.assertLessEqual(through, {30, 90, 150})
                if inside:
                    self.assertEqual(through, {30, 90, 150}, one)
            ends = np.concatenate(lines)
            self.assertTrue((ends >= [left - 1e-9, bottom - 1e-9]).all() and (ends <= [right + 1e-9, top + 1e-9]).all())

    def test_from_the_command_line(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "grid.svg"
            self.assertEqual(main(["grid", "--out", str(out), "--spacing", "10", "--paper", "A3"]), 0)
            drawn = np.array([one.split() for one in re.findall(r"M([\d.]+ [\d.]+)h0", out.read_text())], dtype=float)
            np.testing.assert_allclose(drawn * [1, -1] + [0, 297], crossings(Paper("A3", "landscape"), 10.0), atol=1e-4)
            self.assertEqual(main(["grid", "--out", str(out), "--spacing", "0"]), 2)
            self.assertEqual(main(["grid", "--out", str(out), "--paper", "A9"]), 2)

    def test_a_spacing_too_close_is_refused_with_the_limit_that_holds(self) -> None:
        for bad in (1.99, 50.1, float("nan")):
            with self.assertRaises(Refused) as caught:
                grid_drawing(Paper("A4", "landscape"), bad)
            self.assertIn("2 to 50", caught.exception.says)
        for limit in (2.0, 50.0):
            self.assertTrue(grid_drawing(Paper("A4", "landscape"), limit).items)


if __name__ == "__main__":
    unittest.main()
