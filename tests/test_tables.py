"""Curve tables and what moves between the steps, against the curves' own equations; files read back."""

from __future__ import annotations

import csv
import io
import json
import math
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

import numpy as np

from tests.test_plane_figures import gap, solved
from wise_compass.drafting.capabilities import courses_of
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan, from_data, to_data
from wise_compass.outputs.svg import svg_text
from wise_compass.study.motion import motion_of
from wise_compass.study.tables import Table, curve_table
from wise_compass.study.tablewish import TableWish
from wise_compass.terminal.main import main


def table_of(id: str, wish: TableWish, **givens: object) -> Table:
    figure = make(catalogue()[id], givens)
    return curve_table(figure, next(iter(figure.methods)), wish)


class Ordinates(unittest.TestCase):
    def test_of_an_ellipse_by_its_equation(self) -> None:
        table = table_of("ellipse", TableWish("level", 8.0), long=152, wide=88)
        self.assertEqual(table.rows[0][0], -76.0)
        self.assertEqual(table.rows[-1][0], 76.0)
        self.assertEqual([row[0] for row in table.rows[1:-1]], [8.0 * k for k in range(-9, 10)])
        for x, *ordinates in table.rows:
            assert x is not None
            y = 44 * math.sqrt(max(1 - (x / 76) ** 2, 0.0))
            for found, sign in zip(ordinates, (1, -1)):
                if found is not None:
                    self.assertAlmostEqual(found, sign * y, places=6)

    def test_every_ordinate_of_every_curve_lies_on_it(self) -> None:
        for id, kind in catalogue().items():
            figure = kind()
            method = next(iter(kind.methods))
            for number, course in enumerate(courses_of(figure, method)):
                curve = course.curve
                fine = curve.at(np.linspace(curve.first, curve.last, 40001))
                room = 2e-4 * np.ptp(fine, axis=0).max()
                for by in ("level", "upright", "angle"):
                    table = curve_table(figure, method, TableWish(by, curve=number))
                    self.assertGreater(len(table.rows), 3, f"{id} {by}")
                    datum = course.datum
                    for row in table.rows:
                        if by == "angle":
                            places = [(row[-2], row[-1])]
                        else:
                            places = [(row[0], y) if by == "level" else (y, row[0]) for y in row[1:] if y is not None]
                        for x, y in places:
                            off = float(np.hypot(fine[:, 0] - x - datum[0], fine[:, 1] - y - datum[1]).min())
                            self.assertLess(off, room, f"{id} {by} {row}")

    def test_a_spiral_by_the_angle_gives_its_radii(self) -> None:
        table = table_of("archimedean-spiral", TableWish("angle", 30.0), outer=112, inner=24, turns=1.25)
        self.assertEqual(table.columns[:2], ("angle turned", "radius"))
        for angle, radius, x, y in table.rows:
            assert angle is not None and radius is not None and x is not None and y is not None
            self.assertAlmostEqual(radius, 12 + 44 * angle / 450, places=9)
            self.assertAlmostEqual(math.hypot(x, y), radius, places=9)

    def test_a_level_line_meets_a_spiral_many_times(self) -> None:
        table = table_of("archimedean-spiral", TableWish("level", 10.0), outer=112, inner=0, turns=3)
        middle = next(row for row in table.rows if row[0] == 0.0)
        self.assertEqual(len([y for y in middle[1:] if y is not None]), 7, "start, and twice in each of three turns")

    def test_without_a_step_it_is_a_round_one_that_gives_some_twenty_rows(self) -> None:
        for long in np.geomspace(8.0, 4000.0, 60):
            for style in (Style(), Style(units="in")):
                figure = make(catalogue()["ellipse"], {"long": float(long), "wide": float(0.6 * long)})
                table = curve_table(figure, "two-circles", TableWish(), style)
                first = [row[0] for row in table.rows]
                steps = np.diff(np.array(first[1:-1], dtype=float))
                self.assertLess(np.ptp(steps), 1e-9 * long)
                power = math.floor(math.log10(steps[0]) + 1e-9)
                self.assertIn(round(float(steps[0]) / 10.0**power, 6), (1.0, 2.0, 5.0), f"{long} {style.units}")
                self.assertTrue(12 <= len(first) <= 36, f"{long}: {len(first)} rows")

    def test_steps_too_fine_and_figures_without_curves_are_refused(self) -> None:
        with self.assertRaises(Refused) as caught:
            table_of("ellipse", TableWish("level", 0.1))
        self.assertEqual(caught.exception.given, "step")
        self.assertIn("0.38 mm", caught.exception.says)
        for wish, given in ((TableWish(decimals=9), "decimals"), (TableWish(curve=4), "curve")):
            with self.assertRaises(Refused) as caught:
                table_of("ellipse", wish)
            self.assertEqual(caught.exception.given, given)
        with self.assertRaises(Refused):
            table_of("rectangle", TableWish())


class Written(unittest.TestCase):
    def run_cli(self, *words: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main(words)
        return status, out.getvalue(), err.getvalue()

    def test_csv_holds_the_decimals_asked_for(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "rib.csv"
            status, said, _ = self.run_cli("table", "ellipse", "--step", "20", "--decimals", "3", "--out", str(path))
            self.assertEqual(status, 0)
            self.assertIn("rib.csv", said)
            rows = list(csv.reader(path.read_text().splitlines()))
        self.assertEqual(rows[0], ["x (mm)", "y1 (mm)", "y2 (mm)"])
        self.assertEqual(rows[1][:2], ["-76.000", "0.000"])
        by_x = {row[0]: row for row in rows}
        self.assertEqual(by_x["20.000"][1], f"{44 * math.sqrt(1 - (20 / 76) ** 2):.3f}")

    def test_tables_and_strays_on_the_command_line(self) -> None:
        status, said, _ = self.run_cli("table", "helix", "--by", "angle", "--step", "90", "--json")
        self.assertEqual(status, 0)
        self.assertEqual([row[0] for row in json.loads(said)["rows"]], [0, 90, 180, 270, 360, 450, 540])
        status, said, _ = self.run_cli("stray", "ellipse", "--hold", "0.1", "--json")
        data = json.loads(said)
        self.assertEqual((status, data["fewest_divisions"]), (0, 16))
        self.assertIn("16 would hold 0.1 mm", data["says"])
        self.assertTrue(data["further_points"])
        for words, given in (
            (("stray", "rectangle"), "no curve"),
            (("stray", "ellipse", "--hold", "0"), "hold"),
            (("table", "ellipse", "--step", "-1"), "step"),
            (("draw", "rectangle", "--table", "--out", "x.svg"), "no curve"),
        ):
            status, _, complaint = self.run_cli(*words)
            self.assertEqual(status, 2, words)
            self.assertIn(given, complaint)
            self.assertEqual(len(complaint.splitlines()), 1)

    def test_the_sheet_bears_its_table_and_its_gap_plot(self) -> None:
        kind = catalogue()["ellipse"]
        plain = Entry("ellipse", "Rib", "two-circles", kind().stored())
        full = Entry(
            "ellipse", "Rib", "two-circles", kind().stored(), gaps=True, table={"step": 20.0, "on_sheet": True}
        )
        job = Job("Wrenfold Mill", (SheetPlan("Rib", (full,)), SheetPlan("Rib", (plain,))))
        again = from_data(json.loads(json.dumps(to_data(job))))
        self.assertEqual(again.sheets[0].entries[0].table, full.table)
        with_table, without = (svg_text(build_sheet(again, k).drawing) for k in (0, 1))
        for words in ("along the level axis", f"{44 * math.sqrt(1 - (20 / 76) ** 2):.2f}", "Gap plot, 20 times"):
            self.assertIn(words, with_table)
            self.assertNotIn(words, without)
        sheet = build_sheet(again, 0)
        left, bottom, right, top = sheet.paper.field
        for item in sheet.drawing.items:
            if item.layer == "table" and hasattr(item, "at"):
                self.assertTrue(left <= item.at[0] <= right and bottom <= item.at[1] <= top)

    def test_a_long_table_breaks_into_columns_within_the_field(self) -> None:
        kind = catalogue()["cycloid"]
        entry = Entry("cycloid", "Track", "", kind().stored(), table={"by": "angle", "step": 5.0, "on_sheet": True})
        sheet = build_sheet(Job("Wrenfold Mill", (SheetPlan("Track", (entry,), paper="auto"),)), 0)
        lines = [item for item in sheet.drawing.items if item.layer == "table"]
        self.assertGreater(len({round(float(i.points[0][0]), 3) for i in lines if hasattr(i, "points")}), 1)
        self.assertGreaterEqual(min(sheet.room), 0)

    def test_an_approximate_method_shows_its_gaps_unasked(self) -> None:
        kind = catalogue()["ellipse"]
        entry = Entry("ellipse", "Arch", "four-centres", kind().stored())
        sheet = build_sheet(Job("Wrenfold Mill", (SheetPlan("Arch", (entry,)),)), 0)
        self.assertTrue(any(item.layer == "gap" for item in sheet.drawing.items))
        self.assertIn("1.09", svg_text(sheet.drawing))


class Motion(unittest.TestCase):
    def test_a_rolling_circle_rolls_without_slipping_between_the_divisions(self) -> None:
        motion = motion_of(solved("cycloid", diameter=36))
        assert motion is not None
        for share in np.linspace(0.03, 0.97, 9):
            place = float(motion.steps[0] + share * (motion.steps[-1] - motion.steps[0]))
            hub, tracer, contact = motion.frame(place).points
            rolled = float(contact[0])
            self.assertAlmostEqual(float(hub[0]), rolled)
            self.assertAlmostEqual(gap(tuple(hub), tuple(contact)), 18)
            turned = rolled / 18
            self.assertAlmostEqual(float(tracer[0]), rolled - 18 * math.sin(turned), places=9)
            self.assertAlmostEqual(float(motion.trace(place)[-1][1]), 18 - 18 * math.cos(turned), places=9)

    def test_the_trammel_keeps_its_marks_on_the_axes(self) -> None:
        for lie, long_axis in (("level", 0), ("upright", 1)):
            motion = motion_of(solved("ellipse", "trammel", long=152, wide=88, lie=lie))
            assert motion is not None
            for place in np.linspace(motion.steps[0], motion.steps[-1], 31):
                m, n, p = (tuple(float(x) for x in one) for one in motion.frame(float(place)).points)
                self.assertAlmostEqual(n[1 - long_axis], 0, places=9)
                self.assertAlmostEqual(m[long_axis], 0, places=9)
                self.assertAlmostEqual(gap(m, p), 76, places=9)
                self.assertAlmostEqual(gap(n, p), 44, places=9)

    def test_strings_and_vectors_end_on_the_curve_at_every_found_point(self) -> None:
        for id in (
            "involute-circle",
            "archimedean-spiral",
            "logarithmic-spiral",
            "helix",
            "conical-helix",
            "hypotrochoid",
        ):
            made = solved(id)
            motion = motion_of(made)
            assert motion is not None, id
            for name, step in zip(motion.course.names, motion.steps):
                self.assertTrue(
                    any(gap(tuple(made.found[name]), tuple(spot)) < 1e-7 for spot in motion.frame(float(step)).points),
                    f"{id} {name}",
                )

    def test_methods_without_moving_parts_have_none(self) -> None:
        self.assertIsNone(motion_of(solved("ellipse", "two-circles")))
        self.assertIsNone(motion_of(solved("rectangle")))
