"""The sheet photographed: squared up, read, judged, and refused where it cannot be, against simulated photographs with
the truth known."""

from __future__ import annotations

import io
import json
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from functools import cache
from pathlib import Path
from unittest import mock

import cv2
import numpy as np
from PIL import Image
from pypdf import PdfReader

from wise_compass.camera.classes import mark_photographs
from wise_compass.camera.finding import crowded_in
from wise_compass.camera.judging import judged, measures_of
from wise_compass.camera.laid import Laid, blank, laid_by, laid_in, laid_of
from wise_compass.camera.pencil import Penned, pencilled
from wise_compass.camera.picture import picture_of, read_picture
from wise_compass.camera.reading import Reading, read_pixels
from wise_compass.camera.squaring import flattened, square_up
from wise_compass.camera.stand_in import Shot, jpeg, photographed
from wise_compass.drafting.refusals import Refused
from wise_compass.job.demo import demo_job
from wise_compass.job.store import save
from wise_compass.outputs.files import write_output
from wise_compass.practice.problems import Problem
from wise_compass.sheet.drawing import Drawing, Line
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.squarecode import joined, parts_of
from wise_compass.terminal.main import main

HEXAGON = Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6})
SHOT = Shot(7.0, (11.0, -8.0), 5.0, 1)


@cache
def penned(problem_code: str, hands: int = 1, slip: str | None = None, off: tuple[int, float] | None = None) -> Penned:
    return pencilled(laid_by(problem_code), hands, slip, off)


def picture(shot: Shot = SHOT, code: str = HEXAGON.code, **how: object) -> np.ndarray:
    return picture_of(jpeg(photographed(penned(code, **how), shot)))


def reading(shot: Shot = SHOT, code: str = HEXAGON.code, told: Laid | None = None, **how: object) -> Reading:
    return read_pixels(picture(shot, code, **how), told)


def misses(found: Reading, truth: Penned) -> np.ndarray:
    return np.array([np.hypot(*(at - truth.points[name])) for name, at in found.points.items()])


class Squaring(unittest.TestCase):
    def test_the_frame_is_found_at_any_turn_and_the_map_holds_at_marks_that_were_not_used(self) -> None:
        for turn in (3.0, 94.0, 182.0, -88.0):
            squared = square_up(picture(SHOT._replace(turn=turn)))
            self.assertEqual(squared.paper, Paper("A4", "landscape"))
            self.assertLess(squared.off, 0.12)
            self.assertLess(squared.rms, 0.05)

    def test_the_sheet_lies_flat_afterwards_as_it_was_printed(self) -> None:
        grey = picture()
        flat = flattened(grey, square_up(grey), 8.0)
        printed = cv2.resize(
            penned(HEXAGON.code).surface.pixels, (flat.shape[1], flat.shape[0]), interpolation=cv2.INTER_AREA
        )
        inner = (slice(100, -100), slice(180, -100))
        score = np.corrcoef(flat[inner].ravel().astype(float), printed[inner].ravel().astype(float))[0, 1]
        self.assertGreater(score, 0.75)

    def test_what_cannot_be_is_refused_with_what_to_do(self) -> None:
        other = laid_of(HEXAGON._replace(givens={"side": 52.0, "sides": 6}))
        for shot, told, part in (
            (SHOT._replace(fill=1.3), None, "No whole frame"),
            (SHOT._replace(blur=6.0), None, ""),
            (Shot(12.0, (14.0, -10.0), 2.0, 4, curl=3.0), None, ""),
            (SHOT._replace(megapixels=0.6), None, ""),
            (SHOT, other, "another drawing"),
        ):
            with self.assertRaises(Refused, msg=str(shot)) as caught:
                reading(shot, told=told)
            self.assertIn(part, caught.exception.says)
            self.assertNotIn("\n", caught.exception.says)
        table = np.random.default_rng(1).normal(110, 25, (900, 1200)).clip(0, 255).astype(np.uint8)
        with self.assertRaises(Refused):
            read_pixels(table)

    def test_a_frame_drawn_by_hand_serves_with_its_sides_told_and_is_less_sure(self) -> None:
        paper = Paper("A4", "landscape")
        own = laid_of(HEXAGON)._replace(code="")
        corners = np.array([[22.0, 14.0], [272.0, 14.0], [272.0, 194.0], [22.0, 194.0]])
        frame = Drawing(paper.width, paper.height, [Line("frame", 0, "", "frame", corners, closed=True)])
        with mock.patch("wise_compass.camera.pencil.blank", lambda laid: frame):
            drawn = pencilled(own, 2)
        found = read_pixels(picture_of(jpeg(photographed(drawn, SHOT))), own, (250.0, 180.0))
        self.assertEqual(found.squared.by, "sides")
        self.assertGreaterEqual(found.squared.sure, 0.2)
        for one, other in (("A", "D"), ("B", "E"), ("C", "F")):
            apart = np.hypot(*(found.points[one] - found.points[other]))
            true = np.hypot(*(drawn.points[one] - drawn.points[other]))
            self.assertLess(abs(apart - true), 0.35)
        with self.assertRaises(Refused):
            read_pixels(picture(), None, (250.0, 180.0))

    def test_plain_paper_serves_by_its_own_edges(self) -> None:
        own = laid_of(HEXAGON)._replace(code="")
        with mock.patch("wise_compass.camera.pencil.blank", lambda laid: Drawing(297.0, 210.0)):
            drawn = pencilled(own, 2)
        found = read_pixels(picture_of(jpeg(photographed(drawn, SHOT))), own, (297.0, 210.0))
        self.assertGreaterEqual(found.squared.sure, 0.2)
        for one, other in (("A", "D"), ("B", "E")):
            apart = np.hypot(*(found.points[one] - found.points[other]))
            self.assertLess(abs(apart - np.hypot(*(drawn.points[one] - drawn.points[other]))), 0.35)


class Reads(unittest.TestCase):
    def test_points_are_found_where_their_lines_cross(self) -> None:
        errors = []
        for code, hands in (
            (HEXAGON.code, 1),
            (Problem("triangle-three-sides", "arcs", {"base": 91.0, "left": 74.0, "right": 62.0}).code, 3),
            (Problem("rhombus", "arcs", {"long": 121.0, "short": 76.0}).code, 4),
        ):
            try:
                laid = laid_by(code)
            except Refused:
                continue
            truth = penned(code, hands=hands)
            found = reading(SHOT._replace(seed=hands), code, hands=hands)
            looked = set(truth.points) - set(crowded_in(laid.run, laid.scale))
            self.assertEqual(set(found.points), looked, found.finding.missing)
            errors += misses(found, truth).tolist()
        self.assertGreater(len(errors), 6)
        self.assertLess(float(np.median(errors)), 0.1)
        self.assertLess(max(errors), 0.4)

    def test_an_honest_drawing_a_slip_and_a_lone_blunder_are_told_apart(self) -> None:
        self.assertEqual(judged(reading()).verdict.verdict, "honest")
        laid = laid_of(HEXAGON)
        rule = next(step.n for step in laid.run.steps if step.instrument == "Rule")
        off = judged(reading(off=(rule, 14.0))).verdict
        self.assertEqual((off.verdict, rule in (off.best.step, *off.alike)), ("step", True))
        slip = next(one.id for one in laid.run.slips if "centimetre" in one.id)
        found = reading(slip=slip)
        self.assertEqual(found.finding.slip, slip)
        self.assertEqual(judged(found).verdict.best.id, slip)

    def test_distances_are_taken_with_their_joint_error(self) -> None:
        found = reading()
        taken, cover = measures_of(found)
        self.assertEqual(cover.shape, (len(taken), len(taken)))
        self.assertTrue((np.linalg.eigvalsh(cover) > 0).all())
        self.assertGreater(np.abs(cover - np.diag(np.diag(cover))).max(), 0)
        for one in taken:
            a, b = one.measure.points
            self.assertAlmostEqual(one.value, float(np.hypot(*(found.points[a] - found.points[b]))))

    def test_a_ring_put_elsewhere_is_judged_there(self) -> None:
        found = reading()
        far = found.moved("D", found.points["D"] + np.array([4.0, 0.0]))
        self.assertNotEqual(judged(far).verdict.verdict, "honest")
        away = found.left_out("D")
        self.assertNotIn("D", away.points)
        self.assertIn("D", away.finding.missing)

    def test_points_that_lie_on_each_other_are_said_to_be_too_near(self) -> None:
        laid = laid_of(Problem("cycloid", "divided-circle", {"diameter": 20.0, "turns": 1.0, "divisions": 24}))
        self.assertIn("P1", crowded_in(laid.run, laid.scale))
        self.assertEqual(crowded_in(laid_of(HEXAGON).run, 1.0), [])

    def test_the_code_is_parted_and_joined_again(self) -> None:
        for words in ("A", "WC1/" + "9" * 60, "X" * 700):
            parts = parts_of(words)
            self.assertEqual(joined({int(part[0]): part[2:] for part in parts}, int(parts[0][1])), words)
        self.assertEqual(joined({1: "A"}, 2), "")

    def test_a_sheet_of_a_job_carries_its_own_code_and_place(self) -> None:
        laid = laid_in(demo_job(), 1)
        again = laid_by(laid.code)
        np.testing.assert_allclose(again.origin, laid.origin, atol=0.01)
        for name, spot in laid.run.spots.items():
            np.testing.assert_allclose(again.run.spots[name].here, spot.here, atol=1e-6)
        self.assertTrue(blank(laid).items)
        for number, figure in ((0, 1), (99, 1), (1, 9)):
            with self.assertRaises(Refused):
                laid_in(demo_job(), number, figure)


class Pictures(unittest.TestCase):
    def test_the_cameras_turning_tag_is_obeyed(self) -> None:
        original = Image.fromarray(np.tile(np.arange(0, 250, dtype=np.uint8)[:, None], (2, 600)))
        for tag, turned in (
            (6, Image.Transpose.ROTATE_90),
            (8, Image.Transpose.ROTATE_270),
            (3, Image.Transpose.ROTATE_180),
        ):
            exif = original.getexif()
            exif[0x0112] = tag
            out = io.BytesIO()
            original.transpose(turned).save(out, "PNG", exif=exif)
            self.assertEqual(picture_of(out.getvalue()).shape, (original.height, original.width))
            np.testing.assert_array_equal(picture_of(out.getvalue()), np.asarray(original))

    def test_files_that_are_no_whole_pictures_get_one_line(self) -> None:
        whole = jpeg(photographed(penned(HEXAGON.code), SHOT._replace(megapixels=1.0)))
        huge = io.BytesIO()
        Image.new("1", (20000, 10000)).save(huge, "PNG")
        small = io.BytesIO()
        Image.new("L", (200, 100)).save(small, "PNG")
        for content, part in (
            (b"words, no picture", "neither"),
            (whole[: len(whole) // 3], "cut short"),
            (huge.getvalue(), "pixels"),
            (small.getvalue(), "larger picture"),
            (b"", "neither"),
        ):
            with self.assertRaises(Refused) as caught:
                picture_of(content, "it.jpg")
            self.assertIn(part, caught.exception.says)
        with tempfile.TemporaryDirectory() as folder, self.assertRaises(Refused):
            read_picture(Path(folder))


class Commands(unittest.TestCase):
    def run_main(self, *arguments: object) -> tuple[int, str, str]:
        out, error = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(error):
            status = main([str(one) for one in arguments])
        return status, out.getvalue(), error.getvalue()

    def test_photograph_read_check_and_a_folder_of_a_class(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            save(demo_job(), folder / "job.json")
            photo = folder / "class" / "Ada.jpg"
            photo.parent.mkdir()
            how = ("--sheet", 1, "--hands", 3, "--off", "3=14", "--megapixels", 7, "--out", photo)
            self.assertEqual(self.run_main("photograph", folder / "job.json", *how)[0], 0)
            truth = json.loads((photo.parent / "Ada.truth.json").read_text())
            status, told, _ = self.run_main("read", photo, "--json")
            self.assertEqual(status, 0)
            data = json.loads(told)
            for point, at in data["points"].items():
                self.assertLess(np.hypot(at["x"] - truth["points"][point][0], at["y"] - truth["points"][point][1]), 0.4)
            self.assertEqual(data["code"], truth["code"])
            status, told, _ = self.run_main("check", "--photo", photo, "--json")
            self.assertEqual(json.loads(told)["step"], 3)
            graded, refused = mark_photographs(photo.parent)
            self.assertEqual(([one.handed.pupil for one in graded], refused), (["Ada"], []))
            write_output(photo.parent / "Ben.png", b"\x89PNG\r\nbroken")
            status, told, error = self.run_main("mark", photo.parent, "--out", folder / "marks.csv")
            self.assertEqual(status, 0, error)
            marks = (folder / "marks.csv").read_text()
            self.assertIn("Ada", marks)
            self.assertIn("Ben.png,,not read", marks)
            self.assertIn("Ben.png", error)
            self.assertEqual(
                self.run_main("print", folder / "job.json", "--blank", "--out", folder / "blank.pdf")[0], 0
            )
            self.assertEqual(len(PdfReader(folder / "blank.pdf").pages), len(demo_job().sheets))
            for wrong in (
                ("read", folder / "job.json"),
                ("check", "--photo", photo, "--measured", "AB=3"),
                ("check",),
                ("photograph", folder / "job.json", "--out", folder / "x.png"),
                ("photograph", folder / "job.json", "--off", "3=far", "--out", folder / "x.jpg"),
                ("photograph", folder / "job.json", "--slip", "sleep", "--out", folder / "x.jpg"),
                ("read", photo, "--frame", "big"),
            ):
                status, _, error = self.run_main(*wrong)
                self.assertEqual((status, error.count("\n")), (2, 1), (wrong, error))


if __name__ == "__main__":
    unittest.main()
