"""Sheets: room, scales, labels; and files read back from the disk."""

from __future__ import annotations

import csv
import io
import json
import struct
import tempfile
import unittest
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import numpy as np
from pypdf import PdfReader

from wise_compass.desk.paper.raster import png_bytes
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.build import build_sheet
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import parse_job
from wise_compass.outputs import record, svg
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.sheet.bounds import text_box
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.drawing import Path as Curve
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.lettering import font_file, text_width
from wise_compass.sheet.paper import SCALES
from wise_compass.sheet.piece import Piece, Wishes


def arch_sheet() -> Sheet:
    """The demo's sheet of the arch over the race."""
    job = demo_job()
    return build_sheet(job, (job.find("arch") or (0, 0))[0])


SVG = "{http://www.w3.org/2000/svg}"


def sheet_of(figure: str, givens: dict[str, object] | None = None, method: str | None = None, **wishes: str) -> Sheet:
    return compose([Piece(run(make(figure_named(figure), givens or {}), method))], Wishes(**wishes))


class Room(unittest.TestCase):
    def test_everything_stays_in_the_field_at_any_size(self) -> None:
        for kind in catalogue().values():
            for factor in (0.3, 1.0, 6.0):
                givens = {n: g.default * factor for n, g in kind.givens.items() if g.kind == "length"}
                try:
                    figure = kind(**givens)
                except Refused:  # its points in coordinates do not grow along
                    self.assertTrue(any(g.kind == "point" for g in kind.givens.values()), kind.id)
                    continue
                with self.subTest(figure=kind.id, factor=factor):
                    sheet = compose([Piece(run(figure))], Wishes("auto"))
                    left, bottom, right, top = sheet.paper.field
                    for item in sheet.drawing.items[slice(*sheet.spans[0])]:
                        points = np.array(text_box(item)) if isinstance(item, Text) else item.polyline()
                        assert points is not None
                        self.assertTrue((points.min(axis=0) >= (left - 1, bottom - 1)).all(), item)
                        self.assertTrue((points.max(axis=0) <= (right + 1, top + 1)).all(), item)

    def test_the_largest_standard_scale_that_fits_is_taken(self) -> None:
        for long in (20, 60, 152, 400, 1500):
            sheet = sheet_of("ellipse", {"long": long, "wide": long / 2})
            self.assertIn(sheet.scale, SCALES)
            larger = [s for s in SCALES if s > sheet.scale]
            if larger:
                with self.assertRaises(Refused):
                    sheet_of(
                        "ellipse",
                        {"long": long, "wide": long / 2},
                        scale=f"{min(larger):g}:1" if min(larger) >= 1 else f"1:{round(1 / min(larger))}",
                    )

    def test_free_paper_keeps_true_size(self) -> None:
        sheet = sheet_of("ellipse", {"long": 380, "wide": 200}, paper="auto")
        self.assertEqual((sheet.scale, sheet.paper.size), (1.0, "A1"))

    def test_what_cannot_fit_is_refused_with_the_overrun(self) -> None:
        with self.assertRaises(Refused) as caught:
            sheet_of("ellipse", {"long": 19000, "wide": 900}, paper="A4", scale="1:50")
        self.assertIn("runs off A4 by", caught.exception.says)


class Labels(unittest.TestCase):
    def check(self, sheet: Sheet) -> int:
        texts = [i for i in sheet.drawing.items if isinstance(i, Text) and i.layer in ("points", "dimension")]
        labels = [t for t in texts if t.layer == "points"]
        for i, one in enumerate(labels):
            low, high = text_box(one)
            for other in texts:
                if other is not one and not any(other is done for done in labels[:i]):
                    a, b = text_box(other)
                    self.assertFalse((low < b).all() and (a < high).all(), f"{one.words} on {other.words}")
            for item in sheet.drawing.items:
                if item.layer == "result":
                    course = item.polyline()
                    assert course is not None
                    dense = np.concatenate([np.linspace(p, q, 40) for p, q in zip(course[:-1], course[1:])])
                    self.assertFalse(
                        ((dense > low + 0.1) & (dense < high - 0.1)).all(axis=1).any(), f"{one.words} on an outline"
                    )
        return len(labels)

    def test_labels_cross_neither_each_other_nor_an_outline(self) -> None:
        for kind in catalogue().values():
            for method in kind.methods.values():
                if method.fits(kind()) is None:
                    with self.subTest(figure=kind.id, method=method.id):
                        self.assertGreater(self.check(compose([Piece(run(kind(), method.id))])), 0)

    def test_the_demo_sheets_too(self) -> None:
        job = demo_job()
        for index in range(len(job.sheets)):
            self.check(build_sheet(job, index))

    def test_metrics_are_those_of_the_font(self) -> None:
        from reportlab.pdfbase.ttfonts import TTFont

        for bold in (False, True):
            font = TTFont("probe", str(font_file(bold)))
            for words in ("P11 Wrenfold", "⌀152 √3 37°30′ αβθφ×"):
                self.assertAlmostEqual(font.stringWidth(words, 10), text_width(words, 10, bold), delta=0.02)


class Files(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.path = Path(self.folder.name)

    def test_svg_is_true_to_scale_and_opens_again(self) -> None:
        sheet = arch_sheet()
        text = svg.svg_text(sheet.drawing)
        root = ElementTree.fromstring(text)
        self.assertTrue((root.get("width") or "").endswith("mm"))
        sizes = [(root.get(side) or "").removesuffix("mm") for side in ("width", "height")]
        self.assertEqual((root.get("viewBox") or "").split()[2:], sizes)
        radii = {float(c.get("r") or 0) for c in root.iter(f"{SVG}circle")}
        self.assertLessEqual({76.0 * sheet.scale, 44.0 * sheet.scale}, radii)
        again = parse_job(json.dumps(svg.read_about(text)))
        self.assertEqual(again.sheets[0].entries[0].givens["wide"], 88)
        with self.assertRaises(Refused):
            svg.read_about("<svg/>")

    def test_arcs_stay_arcs(self) -> None:
        made = sheet_of("ellipse", {}, "focus-arcs")
        self.assertIn(" A", svg.svg_text(made.drawing))

    def test_the_long_axis_measures_152_mm_in_the_pdf(self) -> None:
        from pypdf import PdfReader
        from pypdf.generic import ContentStream

        sheet = arch_sheet()
        self.assertEqual(sheet.scale, 1.0)
        (self.path / "arch.pdf").write_bytes(pdf_bytes([sheet.drawing], "Arch"))
        reader = PdfReader(self.path / "arch.pdf")
        page = reader.pages[0]
        self.assertAlmostEqual(float(page.mediabox.width), sheet.paper.width * 72 / 25.4, places=2)
        curve = next(i for i in sheet.drawing.items if isinstance(i, Curve))
        scale, xs = 0.0, []
        for operands, operator in ContentStream(page.get_contents(), reader).operations:
            if operator == b"cm" and not scale and float(operands[0]) != 1.0:
                scale = float(operands[0]) * 25.4 / 72
            if operator == b"c":
                xs.append((float(operands[4]) * scale, float(operands[5]) * scale))
        ends = {(round(float(x), 2), round(float(y), 2)) for x, y in curve.segments[:, 3]}
        drawn = [p for p in xs if any(abs(p[0] - x) < 0.02 and abs(p[1] - y) < 0.02 for x, y in ends)]
        self.assertGreaterEqual(len(drawn), 12)
        self.assertAlmostEqual(max(x for x, _ in drawn) - min(x for x, _ in drawn), 152.0, delta=0.01)
        fonts = page["/Resources"]["/Font"]
        files = [
            f.get_object()["/FontDescriptor"].get("/FontFile2")
            for f in fonts.values()
            if "/FontDescriptor" in f.get_object()
        ]
        self.assertTrue(files and all(files), "the type is embedded")
        about = json.loads((reader.metadata or {})["/Subject"])
        self.assertEqual(about[0]["sheets"][0]["entries"][0]["givens"]["long"], 152)
        self.assertIn("100 mm on a true print", page.extract_text())

    def test_png_knows_its_resolution(self) -> None:
        sheet = build_sheet(demo_job(), 0)
        (self.path / "a.png").write_bytes(png_bytes(sheet.drawing, dpi=200))
        raw = (self.path / "a.png").read_bytes()
        width, height = struct.unpack(">II", raw[16:24])
        self.assertEqual(
            (width, height), (round(sheet.paper.width / 25.4 * 200), round(sheet.paper.height / 25.4 * 200))
        )
        at = raw.index(b"pHYs") + 4
        self.assertEqual(struct.unpack(">IIB", raw[at : at + 9]), (7874, 7874, 1))

    def test_csv_holds_points_and_values_in_full(self) -> None:
        made = run(make(figure_named("line-in-space"), {}))
        rows = list(csv.DictReader(io.StringIO(record.csv_text(made))))
        b = next(r for r in rows if r["kind"] == "point" and r["name"] == "B")
        self.assertEqual([float(b[axis]) for axis in "xyz"], made.found["B"].tolist())
        self.assertIn("top_length", {r["name"] for r in rows if r["kind"] == "value"})


class Signs(unittest.TestCase):
    def test_signs_that_the_type_lacks_are_named_and_spoil_nothing(self) -> None:
        plan = SheetPlan("風車 Mühle ½", (Entry("ellipse", "Bogen Ø", notes="水 under it"),))
        sheet = build_sheet(Job("Wrenfold Mill", (plan,)), 0)
        told = " ".join(sheet.warnings)
        for sign in "風車水":
            self.assertIn(sign, told)
        for sign in "ü½Ø":
            self.assertNotIn(sign, told)
        (page,) = PdfReader(io.BytesIO(pdf_bytes([sheet.drawing]))).pages
        self.assertIn("?? Mühle ½", page.extract_text())
        self.assertIn("風車 Mühle ½", svg.svg_text(sheet.drawing))
        self.assertEqual(build_sheet(Job("J", (SheetPlan("S", (Entry("ellipse", "Arch"),)),)), 0).warnings, [])
