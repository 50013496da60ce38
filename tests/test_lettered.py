"""Every letter can be read: over the catalogue at its defaults and at usual scales, and over the demo, read from the
SVG."""

from __future__ import annotations

import unittest

from tests.lettered import clashes
from tests.parted import parted
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.job.build import build_sheet
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.settings import Settings
from wise_compass.outputs.svg import svg_text

FIRST = Settings()
THIRD = Settings(units="in", projection="third", lettering="numbers", inches="fractions", heads="ticks")
"""As schools differ: the one with millimetres, the other with inches to sixty-fourths."""
LARGE = Settings(letters="large")
SCALES = "auto", "1:1", "1:2", "1:5"


class Lettering(unittest.TestCase):
    @parted(6)
    def test_no_letter_lies_on_another_or_on_a_dark_line(self, kinds: list[type[Figure]]) -> None:
        for kind in kinds:
            for way in kind.methods.values():
                if way.fits(kind()) is not None:
                    continue
                entry = Entry(kind.id, kind.title, way.id, kind().stored())
                for scale, settings in (*((scale, FIRST) for scale in SCALES), ("auto", THIRD), ("auto", LARGE)):
                    plan = SheetPlan("Sheet", (entry,), paper="A4" if scale == "auto" else "auto", scale=scale)
                    try:
                        sheet = build_sheet(Job("Job", (plan,), settings), 0)
                    except Refused:  # larger than any paper
                        continue
                    told = clashes(svg_text(sheet.drawing))
                    if settings is THIRD and "no free place" in " ".join(sheet.warnings):
                        continue  # long fractions between lines: the sheet says what would help
                    self.assertEqual([str(one) for one in told], [], f"{kind.id} by {way.id} at {scale}")

    def test_nor_anywhere_in_the_demo(self) -> None:
        job = demo_job()
        for number, plan in enumerate(job.sheets):
            told = clashes(svg_text(build_sheet(job, number).drawing))
            self.assertEqual([str(one) for one in told], [], plan.title)

    def test_what_is_held_is_seen(self) -> None:
        """A drawing with a word on a word, and one with a line through a word."""
        head = '<svg xmlns="http://www.w3.org/2000/svg">'
        word = '<text x="{}" y="20" font-size="5" text-anchor="start">R22</text>'
        line = '<path d="M5 18 L40 18" fill="none" stroke="#1F2A30" stroke-width="0.7"/>'
        for inside, count in (
            (word.format(10) + word.format(14), 1),
            (word.format(10) + word.format(40), 0),
            (word.format(10) + line, 1),
            (word.format(50) + line, 0),
        ):
            self.assertEqual(len(clashes(f"{head}{inside}</svg>")), count)
