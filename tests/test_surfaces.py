"""Every surface shows the same drawing, files are written whole, dimensions say and span what they should."""

from __future__ import annotations

import os
import signal
import stat
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

import numpy as np

from tests.surfaces import DPI, blurred, ink, pdf_ink, svg_ink, without_text
from wise_compass.desk.paper.raster import png_bytes
from wise_compass.drafting.dimensions import Angular, Linear, Radial
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.build import build_sheet
from wise_compass.job.demo import demo_job
from wise_compass.job.store import load, save
from wise_compass.outputs.files import write_output, write_whole
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.outputs.svg import svg_text
from wise_compass.sheet.bounds import bounds, text_box
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.dimensions import ARROW, dimension_items
from wise_compass.sheet.drawing import Arc, Drawing, Line, Text
from wise_compass.sheet.paper import SCALES
from wise_compass.sheet.piece import Piece
from wise_compass.sheet.render import ScaledFace

ROOT = Path(__file__).parent.parent


def figure_sheet(id: str, method: str | None = None) -> Sheet:
    return compose([Piece(run(figure_named(id)(), method))])


class ThreeSurfaces(unittest.TestCase):
    SHEETS = (
        ("ellipse", "four-centres"),
        ("ellipse", "two-circles"),
        ("screw-thread", None),
        ("polygon-about-circle", None),
        ("arc-two-circles", None),
        ("line-in-space", None),
    )

    def test_svg_pdf_and_png_show_the_same_ink(self) -> None:
        for id, method in self.SHEETS:
            drawing = without_text(figure_sheet(id, method).drawing)
            with self.subTest(figure=id, method=method):
                self.compare(drawing)

    def test_filled_and_part_arcs_mean_the_same_on_all(self) -> None:
        items = [
            Arc("points", 0, "", "outline", np.array([40.0, 60.0]), 15.0, 20.0, 250.0, filled="#FFFFFF"),
            Arc("points", 0, "", "outline", np.array([90.0, 60.0]), 15.0, filled="ring"),
            Line("points", 0, "", "outline", np.array([[120.0, 40], [150, 40], [135, 70]]), closed=True, filled=True),
            Line("points", 0, "", "outline", np.array([[160.0, 40], [190, 40], [175, 70]]), closed=True),
        ]
        drawing = Drawing(200.0, 120.0, items)
        dark = self.compare(drawing)
        centre = [
            (int((120 - y) / 25.4 * DPI), int(x / 25.4 * DPI)) for x, y in ((40, 60), (90, 60), (135, 48), (175, 48))
        ]
        self.assertEqual([bool(dark[at] > 0.5) for at in centre], [False, True, True, False])

    def compare(self, drawing: Drawing) -> np.ndarray:
        """Hold the three against each other; returns the ink of the SVG."""
        svg = svg_ink(svg_text(drawing), drawing.width, drawing.height)
        pdf = pdf_ink(pdf_bytes([drawing]))
        from PySide6.QtGui import QImage

        png = ink(QImage.fromData(png_bytes(drawing, dpi=int(DPI)))) if int(DPI) >= 72 else svg
        for name, other in (("pdf", pdf), ("png", png)):
            self.assertEqual(svg.shape, other.shape, name)
            for one, two, words in ((svg, other, f"missing from the {name}"), (other, svg, f"only in the {name}")):
                stray = (one > 0.45) & (blurred(two) < 0.12)
                self.assertLess(int(stray.sum()), 12, words)
            self.assertAlmostEqual(float(other.sum() / svg.sum()), 1.0, delta=0.35 if name == "png" else 0.06, msg=name)
        return svg


class Whole(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.path = Path(self.folder.name)

    def test_a_write_that_fails_leaves_the_old_file_and_no_part(self) -> None:
        target = self.path / "a.pdf"
        write_whole(target, b"old")
        with self.assertRaises(Refused):
            write_whole(self.path / "none" / "a.pdf", b"new")
        os.chmod(target, 0o640)
        write_whole(target, b"new")
        self.assertEqual((target.read_bytes(), target.stat().st_mode & 0o777), (b"new", 0o640))
        self.assertEqual([one.name for one in self.path.iterdir()], ["a.pdf"])

    def test_only_a_plain_file_that_may_be_written_is_replaced(self) -> None:
        """Links are written through; folders, pipes, devices and read-only files are refused, by root too."""
        real, link, pipe = self.path / "real.csv", self.path / "link.csv", self.path / "pipe.csv"
        real.write_text("old")
        link.symlink_to(real)
        write_whole(link, "new")
        self.assertTrue(link.is_symlink())
        self.assertEqual(real.read_text(), "new")
        os.mkfifo(pipe)
        real.chmod(0o444)
        for path, words in ((pipe, "pipe"), (self.path, "folder"), (Path("/dev/null"), "device"), (real, "read-only")):
            with self.assertRaises(Refused, msg=path) as caught:
                write_whole(path, "worse")
            self.assertIn(words, caught.exception.says)
        self.assertTrue(stat.S_ISFIFO(pipe.stat().st_mode) and stat.S_ISCHR(Path("/dev/null").stat().st_mode))
        self.assertEqual((real.read_text(), real.stat().st_mode & 0o777), ("new", 0o444))

    def test_no_output_replaces_a_job(self) -> None:
        job = self.path / "mine.json"
        save(demo_job(), job)
        before = job.read_bytes()
        for command in (["draw", "ellipse", "--out"], ["table", "ellipse", "--out"], ["print", str(job), "--out"]):
            done = subprocess.run(
                [sys.executable, "-m", "wise_compass", *command, str(job)],
                env={**os.environ, "PYTHONPATH": str(ROOT / "src")},
                capture_output=True,
                text=True,
            )
            self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1), done.stderr)
            self.assertEqual(job.read_bytes(), before, command)
        with self.assertRaises(Refused):
            write_output(job, "{}")
        job.write_bytes(b"\xef\xbb\xbf" + before)
        self.assertEqual(load(job), demo_job(), "a byte-order mark is read")

    def test_what_dead_writers_left_is_swept_and_what_live_ones_hold_is_not(self) -> None:
        old, new, other = (self.path / name for name in (".a.csv.x.part", ".a.csv.y.part", ".b.csv.x.part"))
        for one in (old, new, other):
            one.write_text("half")
        os.utime(old, (0, 0))
        os.utime(other, (0, 0))
        write_whole(self.path / "a.csv", "whole")
        self.assertEqual([one.exists() for one in (old, new, other)], [False, True, True])

    def test_pdf_and_png_killed_at_any_moment_are_old_or_new(self) -> None:
        """The command is killed at many moments of its run; the file is the old one or a whole new one."""
        for ending, head, tail in (("pdf", b"%PDF", b"%%EOF"), ("png", b"\x89PNG", b"IEND\xaeB`\x82")):
            target = self.path / f"a.{ending}"
            command = [sys.executable, "-m", "wise_compass", "draw", "bisect-line", "--out", str(target)]
            environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "QT_QPA_PLATFORM": "offscreen"}
            began = time.monotonic()
            subprocess.run(command, env=environment, check=True, stdout=subprocess.DEVNULL)
            whole = time.monotonic() - began
            replaced = 0
            for part in (0.7, 0.8, 0.9, 1.0):
                target.write_bytes(b"old")
                process = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL)
                time.sleep(part * whole)
                process.send_signal(signal.SIGKILL)
                process.wait()
                content = target.read_bytes()
                replaced += content != b"old"
                self.assertTrue(
                    content == b"old" or (content.startswith(head) and content.rstrip().endswith(tail)),
                    f"{ending} {part}",
                )

    def test_the_ending_picks_the_writer_in_one_place(self) -> None:
        from wise_compass.outputs.write import Output, write

        sheet = figure_sheet("bisect-line")
        output = Output(
            [sheet.drawing], sheet.placed[0].piece.run, sheet.scale, "Line", False, lambda d, c: png_bytes(d, c, 72)
        )
        heads = {"svg": b"<?xml", "pdf": b"%PDF", "png": b"\x89PNG", "csv": b"kind,name", "json": b"{"}
        for ending, head in heads.items():
            write(self.path / f"x.{ending}", output)
            self.assertTrue((self.path / f"x.{ending}").read_bytes().startswith(head), ending)
        with self.assertRaises(Refused) as caught:
            write(self.path / "x.bmp", output)
        self.assertIn("svg, pdf, png, csv, json", caught.exception.says)
        with self.assertRaises(Refused):
            write(self.path / "x.svg", output, ("pdf",))


class Dimensions(unittest.TestCase):
    def every(self) -> list[tuple[object, object]]:
        made = []
        for kind in catalogue().values():
            one = run(kind())
            made += [(one, dim) for dim in one.figure.dimensions(one.found)]
        return made

    def test_each_says_and_spans_its_value(self) -> None:
        counted = 0
        for made, dim in self.every():
            for scale in (2.0, 0.5):
                items = dimension_items(dim, scale, np.zeros(2), PLAIN)  # type: ignore[arg-type]
                words = [item.words for item in items if isinstance(item, Text)]
                self.assertEqual(len(words), 1)
                where = f"{made.figure.id}: {dim}"  # type: ignore[attr-defined]
                if isinstance(dim, Linear):
                    tips = [item.points[0] for item in items if isinstance(item, Line) and item.filled]
                    tips += [item.centre for item in items if isinstance(item, Arc)]  # where running ones begin
                    self.assertEqual(len(tips), 2, where)
                    span = float(np.hypot(*(tips[0] - tips[1])))
                    told = abs(float((dim.q - dim.p) @ dim.way))
                    self.assertAlmostEqual(span, told * scale, places=9, msg=where)
                    if "gap" not in dim.prefix:
                        miss = 1e-6 if dim.out is None else 1.0  # a picture's axis may be drawn shorter
                        self.assertAlmostEqual(told, dim.value, delta=miss * dim.value, msg=where)
                    if not dim.running:
                        arrows = [item.points for item in items if isinstance(item, Line) and item.filled]
                        self.arrows_face(arrows, inside=span > 2 * ARROW + 1, where=where)
                elif isinstance(dim, Radial):
                    arrows = [item.points for item in items if isinstance(item, Line) and item.filled]
                    self.assertEqual(len(arrows), 2 if dim.diameter and not dim.half else 1, where)
                    for arrow in arrows:
                        self.assertAlmostEqual(
                            float(np.hypot(*(arrow[0] - dim.centre * scale))), dim.radius * scale, places=9
                        )
                        out = arrow[0] - arrow[1:].mean(axis=0)
                        self.assertGreater(
                            float(out @ (arrow[0] - dim.centre * scale)), 0, f"{where}: it points at the rim"
                        )
                    self.assertIn("⌀" if dim.diameter else "R", words[0], where)
                elif isinstance(dim, Angular):
                    arcs = [item for item in items if isinstance(item, Arc)]
                    self.assertEqual([(a.start, a.sweep) for a in arcs], [(dim.start, dim.sweep)], where)
                    self.assertAlmostEqual(
                        dim.sweep, dim.value, delta=1e-6 if made.method.exact(made.figure) else 0.1, msg=where
                    )  # type: ignore[attr-defined]
                counted += 1
        self.assertGreater(counted, 150)

    def arrows_face(self, arrows: list[np.ndarray], inside: bool, where: str) -> None:
        """Outward from between the extension lines, or inward from without where there is no room."""
        middle = (arrows[0][0] + arrows[1][0]) / 2
        for arrow in arrows:
            way = arrow[0] - arrow[1:].mean(axis=0)
            self.assertEqual(float(way @ (arrow[0] - middle)) > 0, inside, where)

    def test_they_stay_in_the_box_of_their_figure_at_every_scale(self) -> None:
        for kind in catalogue().values():
            made = run(kind())
            for scale in SCALES:
                for style in (PLAIN, Style("in", 2), Style("in", 2, fractions=True)):
                    face = ScaledFace(made, scale, style)
                    low, high = face.box
                    one, other = bounds(face.dimensions)
                    if face.dimensions:
                        self.assertTrue(
                            (one >= low - 1e-9).all() and (other <= high + 1e-9).all(), f"{kind.id} at {scale}"
                        )

    def test_figures_are_read_from_below_or_from_the_right(self) -> None:
        for _, dim in self.every():
            for item in dimension_items(dim, 1.0, np.zeros(2), PLAIN):  # type: ignore[arg-type]
                if isinstance(item, Text):
                    self.assertTrue(-90.0 < item.turn <= 90.0 + 1e-9, dim)

    def test_inches_are_decimals_or_sixty_fourths(self) -> None:
        dim = Linear(np.zeros(2), np.array([87.3125, 0.0]), "x", 87.3125)

        def words(style: Style) -> str:
            return next(item.words for item in dimension_items(dim, 1.0, np.zeros(2), style) if isinstance(item, Text))

        self.assertEqual(words(Style("in", 2)), "3.438")
        self.assertEqual(words(Style("in", 2, fractions=True)), "3 7/16")
        self.assertEqual(words(PLAIN), "87.31")


HASHED = """
import hashlib
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.outputs.svg import svg_text
from wise_compass.sheet.compose import compose
from wise_compass.sheet.piece import Piece, Wishes
for id in ENTERED:
    figure = figure_named(id)()
    for method in figure.methods.values():
        if method.fits(figure) is None:
            drawing = compose([Piece(run(figure, method))], Wishes("A4")).drawing
            print(id, method.id, hashlib.sha256(svg_text(drawing).encode()).hexdigest())
"""


class EveryProcess(unittest.TestCase):
    def test_every_figure_is_the_same_drawing_in_each(self) -> None:
        """Words fall into sets in an order of every process's own."""
        told = []
        for seed in ("1", "2"):
            env = {**os.environ, "PYTHONHASHSEED": seed}
            done = subprocess.run([sys.executable, "-c", HASHED], env=env, capture_output=True, text=True, check=True)
            told.append(done.stdout.splitlines())
        self.assertGreater(len(told[0]), 200)
        self.assertEqual([pair for pair in zip(*told) if pair[0] != pair[1]], [])


class DemoSheets(unittest.TestCase):
    """Every sheet of the demo as it was looked at: its scale, its paper, where its figures stand and what they are
    lettered."""

    PINNED = Path(__file__).parent / "demo-sheets.json"

    def described(self) -> list[dict[str, object]]:
        job = demo_job()
        made = []
        for number, plan in enumerate(job.sheets):
            sheet = build_sheet(job, number)
            layers: dict[str, int] = {}
            for item in sheet.drawing.items:
                kind = f"{item.layer} {type(item).__name__.lower()}"
                layers[kind] = layers.get(kind, 0) + 1
            points = [item for item in sheet.drawing.items if isinstance(item, Text) and item.layer == "points"]
            words = [
                item.words
                for item in sheet.drawing.items
                if isinstance(item, Text) and item.layer in ("lettering", "dimension")
            ]
            made.append(
                {
                    "title": plan.title,
                    "scale": sheet.scale,
                    "paper": f"{sheet.paper.size} {sheet.paper.lie}",
                    "placed": [
                        [round(float(x), 1) for x in (*one.origin, *one.low, *one.high)] for one in sheet.placed
                    ],
                    "items": dict(sorted(layers.items())),
                    "labels": sorted(item.words for item in points),
                    "words": sorted(words),
                }
            )
        return made

    def test_every_sheet_is_as_it_was_looked_at(self) -> None:
        """Where a sheet changes on purpose: look at it, then write the file anew with ``WISE_COMPASS_PIN=1``."""
        import json

        described = self.described()
        if os.environ.get("WISE_COMPASS_PIN"):
            self.PINNED.write_text(json.dumps(described, ensure_ascii=False, indent=1) + "\n", "utf-8")
        pinned = json.loads(self.PINNED.read_text("utf-8"))
        self.assertEqual([one["title"] for one in pinned], [one["title"] for one in described])
        for was, now in zip(pinned, described):
            self.assertEqual(was, now, now["title"])

    def test_captions_stand_under_their_figures_and_labels_by_their_points(self) -> None:
        job = demo_job()
        for number in range(len(job.sheets)):
            sheet = build_sheet(job, number)
            for placed, (start, end) in zip(sheet.placed, sheet.spans):
                spots, items = placed.piece.run.spots, sheet.drawing.items[start:end]
                led = {item.owner for item in items if isinstance(item, Line) and item.layer == "points"}
                for item in items:
                    if isinstance(item, Text) and item.layer == "points":
                        at = placed.at(spots[item.owner].here, sheet.scale)
                        low, high = text_box(item)
                        off = float(np.hypot(*(np.clip(at, low, high) - at)))
                        self.assertLess(
                            off, 30.0 if item.owner in led else 13.0, f"{job.sheets[number].title}: {item.words}"
                        )
                        self.assertEqual(item.words, PLAIN.lettered(item.owner))
            for item in sheet.drawing.items:
                if isinstance(item, Text) and item.layer == "lettering":
                    under = [one for one in sheet.placed if abs(item.at[0] - (one.low[0] + one.high[0]) / 2) < 0.01]
                    self.assertTrue(any(one.low[1] - 0.1 <= item.at[1] <= one.low[1] + 22 for one in under), item.words)

    def test_made_figures_keep_their_numbers_through_the_json_of_a_job(self) -> None:
        for entry in demo_job().entries():
            figure = make(figure_named(entry.figure), entry.givens)
            self.assertEqual(figure, make(figure_named(entry.figure), figure.stored()))
            self.assertIn(type(figure).__name__, repr(figure))
