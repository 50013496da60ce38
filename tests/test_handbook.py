"""The handbook: its pages lead to each other, what is made of it is as it is made now, it is found by words,
read in the window, and printed."""

from __future__ import annotations

import io
import re
import tempfile
import unittest
from pathlib import Path
from xml.etree import ElementTree

from pypdf import PdfReader
from PySide6.QtCore import Qt, QUrl
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tools.handbook import drawings, keys_page

from tests.test_cli import call
from tests.test_desk import DeskCase
from wise_compass import __version__
from wise_compass.desk.problem.setproblem import SetProblem
from wise_compass.drafting.figure import method_named
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.handbook.figurepages import figure_page
from wise_compass.handbook.finding import find
from wise_compass.handbook.html import body_of
from wise_compass.handbook.opening import page
from wise_compass.handbook.pages import CATALOGUE, FIGURES, FOLDER, contents, names, picture_file
from wise_compass.handbook.pdf import pdf_of
from wise_compass.handbook.site import write_pages
from wise_compass.outputs.svg import svg_text

WRITTEN = ["index", *(name for part in contents().values() for name in part)]


class Pages(unittest.TestCase):
    def test_every_page_is_in_the_contents_and_every_link_and_picture_leads_somewhere(self) -> None:
        self.assertEqual({path.stem for path in FOLDER.glob("*.md")} | {CATALOGUE}, set(WRITTEN))
        for name in WRITTEN:
            one = page(name)
            tree = ElementTree.fromstring(f"<body>{body_of(one)}</body>")
            for link in (part.get("href", "") for part in tree.iter("a")):
                there, place = one.leads_to(link)
                self.assertIn(there, names(), f"{name}: {link}")
                if place:
                    self.assertIn(f'id="{place}"', body_of(page(there)), f"{name}: {link}")
            for picture in tree.iter("img"):
                path, _ = one.leads_to(picture.get("src", ""))
                self.assertIsNotNone(picture_file(path), f"{name}: {path}")
                self.assertGreater(len(picture.get("alt", "")), 5)

    def test_what_is_made_is_as_it_is_made_now(self) -> None:
        made = dict(drawings())
        self.assertGreater(len(made), 1)
        self.assertEqual({path.name for path in (FOLDER / "pictures").glob("*.svg")}, set(made))
        for name, text in made.items():
            self.assertEqual((FOLDER / "pictures" / name).read_text("utf-8"), text, f"{name}: python -m tools.handbook")

    def test_they_are_written_as_files_but_not_over_themselves(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            self.assertEqual(write_pages(Path(folder), ["check", "figures/fillet"]), 2)
            self.assertIn("](screenshots/check.png)", (Path(folder) / "check.md").read_text("utf-8"))
            self.assertTrue((Path(folder) / "screenshots" / "check.png").is_file())
            self.assertTrue((Path(folder) / "figures" / "fillet-swung-arcs.svg").read_text("utf-8").startswith("<?xml"))
        before = (FOLDER / "check.md").read_bytes()
        for own in (FOLDER, FOLDER.resolve(), FOLDER / "pictures"):
            self.assertEqual(call("handbook", "--pages", str(own))[0], 2)
        self.assertEqual((FOLDER / "check.md").read_bytes(), before)

    def test_no_file_but_its_own_is_a_picture_of_it(self) -> None:
        for path in ("../../README.md", "../screenshots/../house.md", "/etc/hostname", "index.md"):
            self.assertIsNone(picture_file(path), path)


class OfFigures(unittest.TestCase):
    def test_every_figure_has_a_page_with_its_methods_its_values_and_pictures(self) -> None:
        for id in ENTERED:
            kind, one = figure_named(id), figure_page(id)
            tree = ElementTree.fromstring(f"<body>{body_of(one)}</body>")
            headings = [("".join(part.itertext())) for part in tree.iter("h2")]
            for method in kind.methods.values():
                self.assertIn(f"By {method.title}", headings, id)
            shown = {one.leads_to(part.get("src", ""))[0] for part in tree.iter("img")}
            self.assertEqual(shown, set(one.pictures), id)
            for given in kind.givens:
                self.assertIn(f"`{given}`", one.text)
            for make in one.pictures.values():
                drawing = make()
                self.assertGreater(len(drawing.items), 2, id)
                self.assertEqual(drawing.width, 150.0)

    def test_the_catalogue_is_of_this_version_and_names_every_figure(self) -> None:
        one = page(CATALOGUE)
        self.assertIn(f"version {__version__}", one.text)
        self.assertEqual(
            {one.leads_to(link)[0] for link in re.findall(r"\]\(([^)]+)\)", one.text)},
            set(names()) & {FIGURES + id for id in ENTERED},
        )

    def test_a_value_and_a_slip_stand_as_they_are_worked_out(self) -> None:
        text = figure_page("fillet").text
        self.assertIn("| `tangent_length` | 29.19 mm | 22 / tan 37° |", text)  # r / tan of half the angle
        kind = figure_named("ellipse")
        method = method_named(kind, "two-circles")
        (choice, wrong), *_ = run_slips(kind(), method, run(kind(), method).conventions, usual=True)
        assert isinstance(wrong, Run)
        self.assertAlmostEqual(float(wrong.measured["upright_extent"]), 152.0)
        self.assertIn(f"{choice.says} (picture 1) It measures upright extent 152.00 mm", figure_page("ellipse").text)

    def test_its_pictures_are_svg_that_can_be_read(self) -> None:
        for make in figure_page("cone").pictures.values():
            tree = ElementTree.fromstring(svg_text(make()).encode())
            self.assertEqual(tree.get("width"), "150mm")
            self.assertGreater(len(list(tree.iter("{http://www.w3.org/2000/svg}text"))), 0)

    def test_a_name_that_is_none_says_what_is_near(self) -> None:
        with self.assertRaises(Refused) as caught:
            page("figures/elipse")
        self.assertIn("figures/ellipse", caught.exception.says)


class Finding(unittest.TestCase):
    def test_words_of_pages_and_of_either_school_find_them(self) -> None:
        for words, name in (
            ("photograph telephone", "photograph"),
            ("hits and misses", "judging"),
            ("screen reader", "keyboard"),
            ("elipse", FIGURES + "ellipse"),
            ("truncated cone", FIGURES + "frustum"),
            ("square to round", FIGURES + "rect-to-round"),
            ("sharpness of a spire", FIGURES + "spire"),
        ):
            self.assertIn(name, [hit.name for hit in find(words)][:4], words)
        self.assertEqual(find("ellipse")[0].name, FIGURES + "ellipse")

    def test_what_no_page_has_is_not_found(self) -> None:
        self.assertEqual(find("zzyzx"), [])
        self.assertEqual(find("  "), [])
        status, _, err = call("handbook", "zzyzx")
        self.assertEqual(status, 2)
        self.assertIn("Try fewer words", err)


class Printed(unittest.TestCase):
    def test_pages_are_printed_with_their_contents_links_and_numbers(self) -> None:
        pages = [page(name) for name in ("index", "first-drawing", "judging", "figures/fillet")]
        read = PdfReader(io.BytesIO(pdf_of(pages)))
        first = read.pages[0].extract_text()
        self.assertIn(f"Version {__version__}", first)
        for one in pages:
            self.assertIn(one.title, first)
        self.assertEqual([entry.title for entry in read.outline], [one.title for one in pages])  # type: ignore[union-attr]
        whole = "\n".join(sheet.extract_text() for sheet in read.pages)
        self.assertIn("29.19 mm", whole)
        self.assertIn("295 of 299", re.sub(r"\s+", " ", whole))
        links = [note for sheet in read.pages for note in sheet.get("/Annots", [])]
        self.assertGreater(len(links), 4)


class InTheWindow(DeskCase):
    def read(self) -> str:
        self.window.reader.later.settle()
        QApplication.processEvents()
        return self.window.reader.view.toPlainText()

    def test_f1_opens_the_page_of_what_is_at_hand_and_puts_it_away(self) -> None:
        window = self.window
        self.session.select("arch")
        QTest.keyClick(window, Qt.Key.Key_F1)
        self.assertTrue(self.read().startswith("Ellipse"))
        self.assertIn("By two circles", self.read())
        QTest.keyClick(window, Qt.Key.Key_F1)
        self.assertFalse(window.reader.isVisible())
        QTest.keyClick(window, Qt.Key.Key_F1)
        before = self.session.step
        for key in (Qt.Key.Key_Left, Qt.Key.Key_Space, Qt.Key.Key_H):
            QTest.keyClick(window.reader.view, key)
        self.assertEqual((self.session.step, window.is_clean), (before, False), "while one reads, the sheet stands")
        QTest.keyClick(window, Qt.Key.Key_F1)
        window.panels.setCurrentWidget(window.panels.check)
        QTest.keyClick(window, Qt.Key.Key_F1)
        self.assertTrue(self.read().startswith("Check a drawing"))
        for number, title in ((1, "Practise"), (2, "Read the logbook"), (3, "Plan a day")):
            window.go(number)
            QTest.keyClick(window, Qt.Key.Key_F1)
            self.assertTrue(self.read().startswith(title), title)
        QTest.keyClick(window.reader.view, Qt.Key.Key_Escape)
        self.assertFalse(window.reader.isVisible())

    def test_links_are_followed_and_gone_back_and_words_found(self) -> None:
        reader = self.window.reader
        reader.open("index")
        self.read()
        reader.view.anchorClicked.emit(QUrl("judging.md"))
        self.assertTrue(self.read().startswith("How it judges"))
        reader.field.setFocus()
        QTest.keyClicks(reader.field, "zzyzx")
        QTest.keyClick(reader.field, Qt.Key.Key_Return)
        self.assertIn("No page has these words", self.read())
        reader.field.clear()
        QTest.keyClicks(reader.field, "cycloid")
        QTest.keyClick(reader.field, Qt.Key.Key_Return)
        self.assertIn("Cycloid", self.read())
        reader.view.anchorClicked.emit(QUrl("figures/cycloid.md"))
        self.assertIn("The problem", self.read())
        for begins in ("Found: cycloid", "How it judges", "The handbook"):
            reader.back.click()
            self.assertTrue(self.read().startswith(begins), begins)

    def test_it_opens_over_the_field_for_problems_too(self) -> None:
        dialog = SetProblem(self.window, True)
        dialog.setModal(True)  # as it is asked
        dialog.show()
        QTest.keyClick(dialog.search, Qt.Key.Key_F1)
        assert dialog.reader is not None
        dialog.reader.later.settle()
        self.assertTrue(dialog.reader.view.toPlainText().startswith("State a problem in words"))
        QTest.keyClick(dialog.reader.view, Qt.Key.Key_Escape)
        self.assertFalse(dialog.reader.isVisible())
        self.assertTrue(dialog.isVisible())
        dialog.close()

    def test_its_page_of_keys_is_that_of_the_window(self) -> None:
        written = (FOLDER / "keys.md").read_text("utf-8")
        self.assertEqual(written, keys_page(self.window.groups), "python -m tools.handbook")

    def test_about_tells_what_this_is(self) -> None:
        from wise_compass.desk.parts.about import AboutDialog

        dialog = AboutDialog(self.window)
        dialog.copy.click()
        told = QApplication.clipboard().text()
        self.assertIn(f"Wise Compass: {__version__}", told)
        self.assertIn("numpy: ", told)
        self.assertNotIn("recent", told)


class Links(unittest.TestCase):
    def test_the_pages_ship_with_the_program(self) -> None:
        inside = Path(__file__).parent.parent / "src" / "wise_compass" / "handbook"
        self.assertTrue((inside / "pages" / "index.md").is_file())
        self.assertTrue((inside / "screenshots" / "walk.png").is_file())


if __name__ == "__main__":
    unittest.main()
