"""A sheet printed in tiles, read back from the PDF and joined."""

from __future__ import annotations

import contextlib
import io
import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader
from pypdf.generic import ContentStream

from tests import examples
from tests.surfaces import DPI, pdf_ink
from wise_compass.job.build import build_sheet
from wise_compass.job.demo import demo_job
from wise_compass.job.model import Job
from wise_compass.job.store import save
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.sheet.paper import SIZES
from wise_compass.sheet.tiles import EDGE, OVERLAP, register_marks, tiling
from wise_compass.terminal.main import main


def window(image: np.ndarray, height: float, low: np.ndarray, size: np.ndarray) -> np.ndarray:
    """The part of a page's ink, ``height`` mm high, from a lower left corner on; what is off the page is blank."""
    per = DPI / 25.4
    top, left = round((height - low[1] - size[1]) * per), round(low[0] * per)
    rows, columns = round(size[1] * per), round(size[0] * per)
    found = np.zeros((rows, columns), dtype=bool)
    t, b = max(top, 0), min(top + rows, image.shape[0])
    le, r = max(left, 0), min(left + columns, image.shape[1])
    found[t - top : b - top, le - left : r - left] = image[t:b, le:r]
    return found


def grown(image: np.ndarray, by: int) -> np.ndarray:
    """Every pixel with its neighbours."""
    found = image.copy()
    for axis in (0, 1):
        for shift in range(-by, by + 1):
            found |= np.roll(found if shift == 0 else image, shift, axis=axis)
    return found


class Tiles(unittest.TestCase):
    def setUp(self) -> None:
        job = demo_job()
        plan = next(sheet for sheet in job.sheets if sheet.entries and sheet.entries[0].id == "hopper")
        self.job = Job(job.title, (plan,), job.settings)
        self.drawing = build_sheet(self.job, 0).drawing

    def test_joined_they_are_the_sheet(self) -> None:
        """In every tile the sheet lies where its corner says, and all but ends of dashes is there to two pixels, so
        that sizes hold across the joints."""
        parted = tiling(self.drawing.width, self.drawing.height, "A4")
        assert parted is not None
        content = pdf_bytes([self.drawing], tiles="A4")
        whole = pdf_ink(pdf_bytes([self.drawing])) > 0.3
        pages = PdfReader(io.BytesIO(content)).pages
        self.assertEqual(len(pages), 1 + parted.rows * parted.columns)
        seen = np.zeros_like(whole)
        for number, tile in enumerate(parted.tiles(), 1):
            page = pdf_ink(content, number) > 0.1
            moves = [
                [float(x) for x in operands]
                for operands, operator in ContentStream(pages[number].get_contents(), pages[number].pdf).operations
                if operator == b"cm"
            ]
            scale = next(m[0] for m in moves if abs(m[0] - 72 / 25.4) < 1e-3)
            self.assertAlmostEqual(scale, 72 / 25.4, places=4)
            off = min(
                float(np.abs(np.array(m[4:]) - (EDGE - tile.corner)).max()) for m in moves if m[:4] == [1, 0, 0, 1]
            )
            self.assertLess(off, 0.001)
            height = float(pages[number].mediabox.height) * 25.4 / 72
            self.assertAlmostEqual(height, parted.paper.height, places=2)
            mine = window(page, height, np.array([EDGE, EDGE]), parted.shown)
            here = window(whole, self.drawing.height, tile.corner, parted.shown)
            missing = (here & ~grown(mine, 2))[2:-2, 2:-2]
            self.assertLessEqual(missing.sum(), 0.008 * max(here.sum(), 1), f"tile {tile}")
            self.assertIn(f"row {tile.row} of {parted.rows}, column {tile.column}", pages[number].extract_text())
            per = DPI / 25.4
            top = round((self.drawing.height - tile.corner[1] - parted.shown[1]) * per)
            left = round(tile.corner[0] * per)
            seen[max(top, 0) : top + mine.shape[0], max(left, 0) : left + mine.shape[1]] = True
        self.assertTrue(seen[whole].all(), "every line is on a tile")

    @settings(max_examples=examples(150), deadline=None)
    @given(st.floats(30.0, 2500.0), st.floats(30.0, 2500.0), st.sampled_from(["A4", "A3", "A2", "A1"]))
    def test_it_covers_the_sheet_and_is_none_only_where_one_piece_holds_it(
        self, width: float, height: float, size: str
    ) -> None:
        parted = tiling(width, height, size)
        sides = sorted(SIZES[size])
        holds = any(width <= a and height <= b for a, b in (sides, sides[::-1]))
        self.assertEqual(parted is None, holds)
        if parted is None:
            return
        low = parted.first
        high = low + np.array([parted.columns, parted.rows]) * parted.step + OVERLAP
        self.assertTrue((low <= 1e-9).all() and (high >= np.array([width, height]) - 1e-9).all())
        for count, reach, long in zip((parted.columns, parted.rows), parted.step, (width, height)):
            self.assertTrue(count == 1 or (count - 1) * reach + OVERLAP < long + 1e-9, "none could be left away")
        turned = [tiling(long, wide, size) for long, wide in ((width, height), (height, width))]
        self.assertEqual(*(one.rows * one.columns for one in turned if one is not None))

    def test_every_joint_has_crosses_that_both_tiles_show(self) -> None:
        parted = tiling(self.drawing.width, self.drawing.height, "A4")
        assert parted is not None
        crosses = register_marks(parted)
        joints = (parted.columns - 1) * parted.rows + (parted.rows - 1) * parted.columns
        self.assertEqual(len(crosses), 4 * joints)
        for cross in crosses:
            middle = cross.points.mean(axis=0)
            showing = [
                t for t in parted.tiles() if (t.corner < middle).all() and (middle < t.corner + parted.shown).all()
            ]
            self.assertGreaterEqual(len(showing), 2)
        self.assertGreater(OVERLAP, 2 * 3.0)

    def test_the_map_names_all_and_small_sheets_stay_whole(self) -> None:
        content = pdf_bytes([self.drawing], tiles="A4")
        words = PdfReader(io.BytesIO(content)).pages[0].extract_text()
        parted = tiling(self.drawing.width, self.drawing.height, "A4")
        assert parted is not None
        for tile in parted.tiles():
            self.assertIn(f"row {tile.row}, column {tile.column}", words)
        small = build_sheet(demo_job(), 0).drawing
        self.assertEqual(len(PdfReader(io.BytesIO(pdf_bytes([small], tiles="A4"))).pages), 1)

    def test_from_the_command_line(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path, out = Path(folder) / "mill.json", Path(folder) / "mill.pdf"
            save(self.job, path)
            with contextlib.redirect_stdout(io.StringIO()):
                self.assertEqual(main(["print", str(path), "--out", str(out), "--tiles", "A3"]), 0)
            pages = PdfReader(str(out)).pages
            parted = tiling(self.drawing.width, self.drawing.height, "A3")
            assert parted is not None
            self.assertEqual(len(pages), 1 + parted.rows * parted.columns)


if __name__ == "__main__":
    unittest.main()
