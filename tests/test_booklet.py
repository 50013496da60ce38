"""A construction in stages and a booklet of methods: what is on the pages, read back from the files."""

from __future__ import annotations

import contextlib
import io
import re
import tempfile
import unittest
from pathlib import Path

from pypdf import PdfReader

from tests.parted import parted
from wise_compass.booklet.pages import Chapter, booklet_drawings, stage_drawings
from wise_compass.booklet.pictures import Box, stage_items
from wise_compass.booklet.stages import FEWEST, MOST, stages_of
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.drawing import Text
from wise_compass.terminal.main import main


class Stages(unittest.TestCase):
    @parted(2)
    def test_every_step_is_in_one_stage_and_every_picture_in_its_box(self, kinds: list[type[Figure]]) -> None:
        box = Box(10.0, 20.0, 56.0, 40.0)
        for kind in kinds:
            figure = kind()
            for method in kind.methods.values():
                if method.fits(figure) is not None:
                    continue
                with self.subTest(kind.id, method=method.id):
                    made = run(figure, method.id)
                    stages = stages_of(made)
                    told = [step.n for stage in stages for step in stage.steps]
                    self.assertEqual(told, [step.n for step in made.steps])
                    self.assertTrue(min(FEWEST, len(told)) <= len(stages) <= MOST)
                    for stage in stages:
                        items = stage_items(made, stage, box, PLAIN)
                        if items:
                            low, high = bounds(items)
                            self.assertTrue((low > [9.0, 19.0]).all() and (high < [67.0, 61.0]).all(), stage.title)
                        drawn = {item.step for item in items if item.ink.startswith(("stage_new", "stage_result"))}
                        self.assertLessEqual(drawn, {step.n for step in stage.steps})

    def test_what_a_stage_draws_is_dark_and_what_stood_before_is_faint(self) -> None:
        made = run(figure_named("ellipse")())
        first, second = stages_of(made)[:2]
        box = Box(0.0, 0.0, 80.0, 60.0)
        dark = sum(item.ink.startswith("stage_new") for item in stage_items(made, first, box, PLAIN))
        faint = sum(item.ink == "stage_before" for item in stage_items(made, second, box, PLAIN))
        self.assertEqual(dark, 2, "both axes")
        self.assertEqual(faint, dark)

    def test_up_to_six_stages_share_out_one_page(self) -> None:
        for id in ("ellipse", "parabola", "polygon-in-circle", "prism", "tangents-from-point"):
            made = run(figure_named(id)())
            if len(stages_of(made)) <= 6:
                self.assertEqual(len(stage_drawings(made, "Mill", PLAIN)), 1, id)

    def test_settings_are_those_of_the_sheet(self) -> None:
        made = run(figure_named("ellipse")(long=3040.0, wide=1760.0))
        words = " ".join(
            item.words
            for page in stage_drawings(made, "Vault", PLAIN, 0.05)
            for item in page.items
            if hasattr(item, "words")
        )
        self.assertIn("1:20", words)
        self.assertIn("Compass 76.00 mm, 44.00 mm", words)

    def test_what_is_worked_out_stands_out_among_the_values(self) -> None:
        made = run(figure_named("rhombus")())
        pages = booklet_drawings([Chapter(made, 1.0, "")], "Notes", PLAIN)
        words = [item for page in pages for item in page.items if isinstance(item, Text)]
        (area,) = (value for value in made.values if value.name == "area")
        self.assertEqual([one.bold for one in words if one.words == "area"], [False])
        self.assertEqual([one.bold for one in words if one.words == PLAIN.value(area.value, area.unit)], [True])


class Command(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name)

    def said(self, *arguments: str) -> tuple[int, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main([*arguments])
        return code, out.getvalue() + err.getvalue()

    def test_a_booklet_has_a_contents_page_and_each_method_where_it_says(self) -> None:
        out = self.path / "notes.pdf"
        code, words = self.said("booklet", "bisect-line", "parabola:rectangle", "--out", str(out), "--title", "Handout")
        self.assertEqual(code, 0, words)
        pages = [page.extract_text() for page in PdfReader(out).pages]
        self.assertIn("Handout", pages[0])
        listed = re.findall(r"(.+), (.+)\n(\d+)\n", pages[0] + "\n")
        self.assertGreaterEqual(len(listed), 2, pages[0])
        for title, method, number in listed:
            self.assertIn(f"{title.splitlines()[-1]}: {method}", pages[int(number) - 1])
        whole = "\n".join(pages)
        for part in ("In stages", "Values", "What may go wrong", "How sure a hand is"):
            self.assertIn(part, whole)

    def test_a_sheet_prints_with_its_stages_and_a_drawing_is_its_stages(self) -> None:
        job = self.path / "mill.json"
        from wise_compass.job.demo import demo_job
        from wise_compass.job.store import save

        demo = demo_job()
        save(demo._replace(sheets=demo.sheets[:1]), job)
        out = self.path / "mill.pdf"
        self.assertEqual(self.said("print", str(job), "--stages", "--out", str(out))[0], 0)
        pages = [page.extract_text() for page in PdfReader(out).pages]
        self.assertEqual(len(pages), 2)
        self.assertIn("in stages", pages[1])
        drawn = self.path / "line.svg"
        self.assertEqual(self.said("draw", "bisect-line", "--stages", "--out", str(drawn))[0], 0)
        self.assertIn("in stages", drawn.read_text("utf-8"))

    def test_what_is_no_figure_or_no_method_is_told(self) -> None:
        out = str(self.path / "x.pdf")
        for told, part in ((("ellips",), "ellips"), (("ellipse:by-magic",), "by-magic"), ((), "no figure yet")):
            code, words = self.said("booklet", *told, "--out", out)
            self.assertEqual(code, 2)
            self.assertIn(part, words)
            self.assertFalse(Path(out).exists())
