"""Printing as it leaves the desk: true lengths read back from the file, what is out of reach told, printers and screens
made true."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from pypdf import PdfReader
from pypdf.generic import ContentStream
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtTest import QTest

from tests.test_desk import APP, DeskCase
from wise_compass.desk.leaving.printing import (
    Options,
    chosen_sheets,
    pages_to_print,
    paper_of,
    put_pages,
    set_page,
    unreached,
)
from wise_compass.desk.leaving.trueness import PrinterCheck, ScreenCheck
from wise_compass.drafting.refusals import Refused
from wise_compass.job.build import build_sheet
from wise_compass.job.demo import demo_job
from wise_compass.job.person import Person, Stretch, keep_person, person, settings_file, stretch_for
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.reach import Margins, check_drawing, lost
from wise_compass.sheet.tiles import pages_of

POINT = 25.4 / 72


def printer_to(path: Path) -> QPrinter:
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(path))
    return printer


def lines_of(path: Path, number: int = 0) -> np.ndarray:
    """Every straight line of a page by its two ends in mm, (n, 2, 2), its matrices multiplied out anew."""
    reader = PdfReader(path)
    matrix, stack, at, found = np.eye(3), [], np.zeros(2), []
    for operands, operator in ContentStream(reader.pages[number].get_contents(), reader).operations:
        name = operator.decode()
        if name == "q":
            stack.append(matrix)
        elif name == "Q":
            matrix = stack.pop()
        elif name == "cm":
            a, b, c, d, e, f = (float(x) for x in operands)
            matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
        elif name in ("m", "l"):
            here = (np.array([float(operands[0]), float(operands[1]), 1.0]) @ matrix)[:2] * POINT
            if name == "l":
                found.append((at, here))
            at = here
    return np.array(found)


def lengths(lines: np.ndarray) -> np.ndarray:
    return np.sqrt(((lines[:, 1] - lines[:, 0]) ** 2).sum(axis=1))


class TrueScale(DeskCase):
    def test_the_bar_of_every_sheet_measures_100_mm(self) -> None:
        job, path = demo_job(), self.folder / "p.pdf"
        drawings = [build_sheet(job, n).drawing for n in (0, 44)]
        pages, stretch = pages_to_print(drawings, "", "Any", "A4")
        printer = printer_to(path)
        self.assertEqual(unreached(printer, pages), [])
        put_pages(printer, pages, False, stretch)
        for number, drawing in enumerate(drawings):
            box = PdfReader(path).pages[number].mediabox
            self.assertAlmostEqual(float(box.width) * POINT, drawing.width, delta=0.4)
            lines = lines_of(path, number)
            level = lines[np.abs(lines[:, 0, 1] - lines[:, 1, 1]) < 1e-6]
            low = level[np.abs(level[:, 0, 1] - 3.2) < 0.4]
            self.assertAlmostEqual(lengths(low).max(), 100.0, delta=1e-3)

    def test_a_stretch_is_applied_both_ways_and_said(self) -> None:
        path = self.folder / "p.pdf"
        drawing = check_drawing(Paper("A4", "portrait"), "Old Faithful")
        keep_person(Person().with_print("Old Faithful", "A4", Stretch(1.01, 0.99)))
        pages, stretch = pages_to_print([drawing], "", "Old Faithful", "A4")
        self.assertEqual(stretch, Stretch(1.01, 0.99))
        put_pages(printer_to(path), pages, False, stretch)
        long = lengths(lines_of(path))
        self.assertTrue((np.abs(long - 101.0) < 1e-3).any() and (np.abs(long - 99.0) < 1e-3).any())
        self.assertFalse((np.abs(long - 100.0) < 1e-3).any())
        self.assertIn("1.0100 across", json.dumps([item.words for item in pages[0].layers[-1].content.items]))
        other, none = pages_to_print([drawing], "", "Old Faithful", "A3")
        self.assertEqual((none, len(other[0].layers)), (Stretch(), 1))

    def test_tiles_keep_true_lengths_and_are_cut_to_their_window(self) -> None:
        job, path = demo_job(), self.folder / "t.pdf"
        number = next(n for n, sheet in enumerate(job.sheets) if sheet.entries[0].id == "road")
        drawing = build_sheet(job, number).drawing
        pages = pages_of(drawing, "A3")
        self.assertGreater(len(pages), 2)
        put_pages(printer_to(path), pages, False)
        read = PdfReader(path)
        self.assertEqual(len(read.pages), len(pages))
        for page in read.pages:
            self.assertAlmostEqual(
                float(page.mediabox.width) * float(page.mediabox.height) * POINT**2, 420 * 297, delta=300
            )

    def test_what_the_printer_does_not_reach_is_named(self) -> None:
        drawing = build_sheet(demo_job(), 0).drawing
        self.assertEqual(lost(drawing, Margins(2, 2, 2, 2)), [])
        self.assertEqual(lost(drawing, Margins(0, 4, 0, 0)), ["the bar of 100 mm"])
        self.assertEqual(lost(drawing, Margins(6, 0, 6, 6)), ["the centring marks"])
        self.assertIn("the frame", lost(drawing, Margins(12, 12, 12, 12)))
        self.assertIn("part of the drawing", lost(drawing, Margins(120, 0, 0, 0)))

    def test_sheets_are_chosen_as_the_dialog_has_them(self) -> None:
        printer = printer_to(self.folder / "p.pdf")
        printer.setPrintRange(QPrinter.PrintRange.CurrentPage)
        self.assertEqual(chosen_sheets(printer, 9, 4), [4])
        printer.setPrintRange(QPrinter.PrintRange.PageRange)
        printer.setFromTo(2, 5)
        self.assertEqual(chosen_sheets(printer, 9, 4), [2, 3, 4, 5])
        printer.setPrintRange(QPrinter.PrintRange.AllPages)
        self.assertEqual(chosen_sheets(printer, 3, 1), [1, 2, 3])


class ThroughTheDialog(DeskCase):
    def accept(self, path: Path, tiles: str = "") -> object:
        def run(dialog: QPrintDialog) -> int:
            dialog.printer().setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            dialog.printer().setOutputFileName(str(path))
            box = dialog.findChild(Options).tiles
            box.setCurrentIndex(box.findData(tiles))
            return 1

        return mock.patch.object(QPrintDialog, "exec", run)

    def test_ctrl_p_prints_the_shown_sheet(self) -> None:
        path, said = self.folder / "shown.pdf", []
        self.session.said.connect(said.append)
        with self.accept(path):
            QTest.keyClick(self.window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
            APP.processEvents()
        self.assertEqual(len(PdfReader(path).pages), 1)
        self.assertIn("1 sheet is printed at true scale", said[-1])

    def test_printed_to_a_file_it_replaces_no_job(self) -> None:
        from wise_compass.job.store import save

        path, told = self.folder / "mill.pdf", []
        save(demo_job(), path)
        before = path.read_bytes()
        with (
            self.accept(path),
            mock.patch("wise_compass.desk.parts.dialogs.tell", lambda *words: told.append(words[-1])),
        ):
            self.window.papers.print_sheets()
        self.assertIn("is a job file", told[0])
        self.assertEqual(path.read_bytes(), before)

    def test_what_falls_off_is_asked_before_and_nothing_is_shrunk(self) -> None:
        path, asked = self.folder / "p.pdf", []

        def answer(parent: object, title: str, words: str, answers: list[str]) -> str:
            asked.append(words)
            return answers[-1]

        margins = mock.patch("wise_compass.desk.leaving.printing.margins_of", return_value=Margins(5, 5, 5, 5))
        with self.accept(path), margins, mock.patch("wise_compass.desk.parts.dialogs.ask", answer):
            self.window.papers.print_sheets()
        self.assertIn("the bar of 100 mm would fall off", asked[0])
        self.assertFalse(path.exists(), "it was cancelled")

    def test_paper_that_the_printer_lacks_is_refused_with_a_way_out(self) -> None:
        printer = printer_to(self.folder / "p.pdf")
        page = pages_of(build_sheet(demo_job(), 0).drawing)[0]._replace(width=9000.0)
        with mock.patch.object(printer, "pageLayout", wraps=printer.pageLayout) as layout:
            layout.return_value = printer.pageLayout()
            with self.assertRaises(Refused) as caught:
                set_page(printer, page)
        self.assertIn("tiles", caught.exception.says)

    def test_a_job_as_pdf_can_be_stopped_and_then_writes_nothing(self) -> None:
        from PySide6.QtWidgets import QProgressDialog

        path, said = self.folder / "job.pdf", []
        self.session.said.connect(said.append)
        self.window.ask_path = lambda *asked: (str(path), "")
        with mock.patch.object(QProgressDialog, "wasCanceled", lambda box: box.value() >= 3):
            self.window.papers.print_job()
        self.assertFalse(path.exists())
        self.assertEqual(said[-1], "Stopped; nothing was written.")


class Checks(DeskCase):
    def test_a_printer_is_measured_and_kept(self) -> None:
        keep_person(Person())
        dialog = PrinterCheck(self.window)
        self.addCleanup(dialog.close)
        dialog.printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        dialog.printer.setOutputFileName(str(self.folder / "square.pdf"))
        dialog.print_square()
        long = lengths(lines_of(self.folder / "square.pdf"))
        self.assertGreaterEqual(
            (np.abs(long - 100.0) < 1e-3).sum(), 5, "three sides of the square, the fourth closes it, and two bars"
        )
        dialog.fields["across"].setText("99.2")
        dialog.fields["up"].setText("10.04 cm")
        self.assertIn("0.81 % longer across and 0.40 % shorter up", dialog.says.text())
        QTest.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)
        kept = person().stretch(dialog.printer.printerName(), paper_of(dialog.printer))
        self.assertAlmostEqual(kept.across, 100 / 99.2)
        self.assertAlmostEqual(kept.up, 100 / 100.4)

    def test_what_is_no_printer_is_refused_by_its_limits_and_stays_typed(self) -> None:
        dialog = PrinterCheck(self.window)
        self.addCleanup(dialog.close)
        for typed, good in (
            ("96.9", False),
            ("97", True),
            ("103", True),
            ("103.1", False),
            ("wide", False),
            ("", False),
        ):
            dialog.fields["across"].setText(typed)
            self.assertEqual(dialog.keep.isEnabled(), good, typed)
            self.assertEqual(dialog.fields["across"].text(), typed)
        dialog.fields["across"].setText("96.9")
        self.assertIn("97 … 103 mm", dialog.says.text())

    def test_a_screen_is_checked_and_true_size_follows(self) -> None:
        keep_person(Person())
        dialog = ScreenCheck(self.window, self.window.screen())
        self.addCleanup(dialog.close)
        dialog.held.setCurrentIndex(1)
        dialog.slider.setValue(512)
        self.assertAlmostEqual(dialog.bar.long, 5.12 * 85.6)
        dialog._keep()
        self.window.board.true_size()
        self.assertAlmostEqual(self.window.board.zoom, 5.12)


class Kept(unittest.TestCase):
    def test_what_is_damaged_is_left_away_by_itself(self) -> None:
        good = Person({"X, A4": Stretch(1.002, 1.0)}, {"HDMI-1": 3.7}, 1.15, "dark", ("/a.json",))
        keep_person(good)
        self.assertEqual(person(), good)
        file = settings_file()
        data = json.loads(file.read_text())
        for name, bad in (
            ("prints", {"X": [9, 1], "Y": "?"}),
            ("screens", [1]),
            ("text", "big"),
            ("theme", 3),
            ("recent", {"a": 1}),
        ):
            file.write_text(json.dumps({**data, name: bad}))
            self.assertEqual(person(), good._replace(**{name: getattr(Person(), name)}), name)
        for text in ("", "{", "[]", "\x00", "[" * 4000):
            file.write_text(text)
            self.assertEqual(person(), Person())

    def test_limits_of_a_stretch(self) -> None:
        for good in (97.0, 103.0):
            stretch_for(good, 100.0)
        for bad in (96.99, 103.01):
            with self.assertRaises(Refused) as caught:
                stretch_for(100.0, bad)
            self.assertEqual(caught.exception.given, "up")

    def test_text_goes_up_and_down_by_sizes(self) -> None:
        one = Person()
        self.assertEqual(one.larger(1).text, 1.15)
        self.assertEqual(one.larger(-9).text, 0.85)
        self.assertEqual(one.larger(9).larger(-1).text, 1.3)


if __name__ == "__main__":
    unittest.main()
