"""What a shop is given: drawings to cut from, points, tiles, records, and what is said with them."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import re
import tempfile
import unittest
import xml.etree.ElementTree as ElementTree
from itertools import pairwise
from pathlib import Path

import numpy as np
from pypdf import PdfReader

from tests.test_shop import SHEETS, area_of, developed, shop
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import job_text, parse_job
from wise_compass.shop.parts import folds_of
from wise_compass.terminal.main import main

SVG = "{http://www.w3.org/2000/svg}"


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def cli(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main(["pattern", *arguments])
        return status, out.getvalue(), err.getvalue()

    def test_svg_stands_at_true_size_in_four_groups(self) -> None:
        path = self.folder / "hopper.svg"
        laps = ("--seam-lap", "8", "--base-lap", "6", "--thickness", "1.5")
        self.assertEqual(self.cli("rect-to-rect", "turn=20", *laps, "--out", str(path))[0], 0)
        root = ElementTree.fromstring(path.read_text("utf-8"))
        self.assertEqual(root.get("width"), f"{root.get('viewBox').split()[2]}mm")  # type: ignore[union-attr]
        groups = {group.get("id"): group for group in root.findall(f"{SVG}g")}
        self.assertEqual(list(groups), ["cut", "fold", "mark", "text"])
        self.assertFalse(root.findall(f"{SVG}path") + root.findall(f"{SVG}rect"), "nothing outside the groups")
        (cut,) = groups["cut"].findall(f"{SVG}path")
        course = np.array(
            [[float(x) for x in pair.split()] for pair in re.findall(r"[ML]([^MLZ]+)", cut.get("d") or "")]
        )
        ready = shop("rect-to-rect", {"turn": 20}, seam_lap=8, base_lap=6)
        self.assertAlmostEqual(abs(area_of(course)), ready.takings.area, delta=0.05)
        self.assertEqual(len(groups["fold"].findall(f"{SVG}path")), len(ready.folds) + len(ready.laps))
        words = " ".join(text.text or "" for text in groups["text"].findall(f"{SVG}text"))
        for part in ("1.50 mm steel", "sharp", "licensed practice", "100 mm"):
            self.assertIn(part, words)
        self.assertEqual(words.count("Cut edges of sheet are sharp"), 1)

    def test_a_joint_between_two_pieces_on_one_strip_is_cut_once(self) -> None:
        path = self.folder / "elbow.svg"
        self.assertEqual(self.cli("elbow", "--out", str(path))[0], 0)
        root = ElementTree.fromstring(path.read_text("utf-8"))
        paths = [one.get("d") or "" for one in root.findall(f"{SVG}g[@id='cut']/{SVG}path")]
        self.assertEqual([words.rstrip().endswith("Z") for words in paths], [True, False, False, False])
        steps: list[tuple[tuple[float, ...], ...]] = []
        total = 0.0
        for words in paths:
            at = [tuple(float(x) for x in pair.split()) for pair in re.findall(r"[ML]([^MLZ]+)", words)]
            at += at[:1] if words.rstrip().endswith("Z") else []
            steps += [tuple(sorted(pair)) for pair in zip(at[:-1], at[1:])]
            total += sum(float(np.hypot(*(np.array(b) - np.array(a)))) for a, b in zip(at[:-1], at[1:]))
        self.assertEqual(len(steps), len(set(steps)), "a stretch is cut twice")
        self.assertAlmostEqual(total, shop("elbow").takings.cuts, delta=0.1)

    def test_points_come_in_the_order_in_which_they_are_cut(self) -> None:
        path = self.folder / "finial.csv"
        self.assertEqual(self.cli("pyramid", "sides=5", "--base-lap", "4", "--out", str(path))[0], 0)
        rows = list(csv.DictReader(path.open(encoding="utf-8")))
        at = np.array([[float(row["x (mm)"]), float(row["y (mm)"])] for row in rows])
        self.assertAlmostEqual(area_of(at), shop("pyramid", {"sides": 5}).takings.area, places=3)
        self.assertEqual([int(row["n"]) for row in rows], list(range(1, len(rows) + 1)))
        self.assertEqual({row["lap (mm)"] for row in rows if row["edge"] == "base"}, {"4.0"})
        self.assertEqual(at.min(axis=0).round(9).tolist(), [0.0, 0.0])

    def test_pdf_in_tiles(self) -> None:
        path = self.folder / "hopper.pdf"
        self.assertEqual(self.cli("rect-to-rect", "length=400", "width=300", "--out", str(path), "--tiles", "A4")[0], 0)
        pages = PdfReader(str(path)).pages
        self.assertGreater(len(pages), 4)
        self.assertIn("row 1, column 2", pages[0].extract_text())
        status, _, error = self.cli("prism", "--out", str(self.folder / "a.svg"), "--tiles", "A4")
        self.assertEqual((status, "only a PDF" in error), (2, True))

    def test_the_record_and_the_words(self) -> None:
        told = json.loads(self.cli("elbow", "--thickness", "1", "--material", "copper", "--json")[1])
        self.assertEqual(told["figure"], "elbow")
        self.assertAlmostEqual(told["mass_kg"], told["area"] * 8960e-9)
        self.assertEqual(sum("licensed practice" in words for words in told["cautions"]), 1)
        words = self.cli("rect-to-rect", "turn=20", "--units", "in", "--seam-lap", "0.5", "--sheet-long", "96")[1]
        for part in ("Lap of the seam 0.5 in", "B2 T1", "Folds", "waste", "96.000"):
            self.assertIn(part, words)

    def test_bad_wishes_get_one_line(self) -> None:
        for arguments, part in (
            (("prism", "--base-lap", "90"), "Lower base_lap"),
            (("prism", "--base-lap", "no"), "base_lap"),
            (("ellipse",), "no pattern"),
            (("prism", "show=views"), "no pattern"),
            (("prism", "--out", "a.png"), "svg, pdf, csv, json"),
            (("prism", "--thickness", "-1"), "thickness"),
        ):
            status, _, error = self.cli(*arguments)
            self.assertEqual((status, error.count("\n")), (2, 1), arguments)
            self.assertIn(part, error)

    def test_a_job_keeps_what_is_asked(self) -> None:
        asked = {"seam_lap": 8.0, "thickness": 1.5, "size_is": "inside", "material": "brass"}
        entry = Entry("rect-to-rect", "Hopper", shop=asked, table={"by": "lengths", "on_sheet": True})
        job = Job("J", (SheetPlan("S", (entry,)),))
        self.assertEqual(parse_job(job_text(job)), job)
        with self.assertRaises(Refused):
            parse_job(job_text(job).replace('"brass"', '"gold"'))


class Warnings(unittest.TestCase):
    def test_once_on_the_sheet_and_in_the_record(self) -> None:
        from wise_compass.outputs.record import record

        for id in SHEETS:
            made = developed(id)
            told = record(made)["cautions"]
            self.assertEqual(len(told), len(set(told)), id)
            self.assertTrue(any("sharp" in words for words in told), id)
            self.assertEqual(
                any("local codes" in words for words in told), id not in ("prism", "pyramid", "cylinder", "cone"), id
            )
            sheet = build_sheet(
                Job("J", (SheetPlan("S", (Entry(id, "P", made.method.id, made.figure.stored()),), "A1"),)), 0
            )
            words = " ".join(getattr(item, "words", "") for item in sheet.drawing.items)
            self.assertEqual(words.count("Cut edges of sheet are sharp"), 1, id)
        self.assertNotIn("cautions", record(run(catalogue()["prism"](show="views"))))


class Twists(unittest.TestCase):
    def test_a_side_that_is_not_flat_says_by_how_much(self) -> None:
        def words(figure: Figure) -> str:
            return next(PLAIN.say(step.why) for step in run(figure).steps if step.says == "Draw the fold lines thin.")

        kind = catalogue()["rect-to-rect"]
        self.assertEqual(words(kind(turn=0)), "")
        told = words(kind(turn=20))
        self.assertEqual(told.count("twists"), 4)
        angles = {fold.name: abs(fold.angle) for fold in folds_of(developed("rect-to-rect", {"turn": 20}))}
        self.assertIn(f"B1 B2 T2 T1 twists: along its diagonal it is folded by {angles['B2 T1']:.1f}°", told)

    def test_moves_name_the_triangle_that_they_find(self) -> None:
        for id in ("rect-to-rect", "rect-to-round", "round-to-round"):
            made = developed(id)
            found = []
            for before, step in pairwise(made.steps):
                names, keys = made.figure.face_at(step.heading)
                if names and step.spots:
                    self.assertEqual(step.spots[-1].name, keys[1])
                    self.assertTrue(all(key in made.spots for key in keys))
                    found.append(names)
                elif names:
                    self.assertNotEqual((before.n, names), (step.n, ()))
            self.assertEqual(found, [one.names for one in made.figure.triangles])  # type: ignore[attr-defined]


if __name__ == "__main__":
    unittest.main()
