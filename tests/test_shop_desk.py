"""The shop through the real window: a hopper stated, its seam moved, laps added, printed in tiles and read back."""

from __future__ import annotations

import json
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QLabel, QPushButton

from tests.surfaces import pdf_lines
from tests.test_desk import APP, DeskCase
from tests.test_flows import during_next_dialog
from wise_compass.desk.paper.facelight import face_in_space, face_now, faces_on_paper
from wise_compass.desk.side.shoppanel import ShopPanel
from wise_compass.sheet.tiles import EDGE, OVERLAP


class ShopDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("hopper")
        self.session.edit(self.session.job.with_entry("hopper", lambda entry: replace(entry, shop={})), "Plain")
        self.idle()
        self.window.board.setFocus()
        self.press(Qt.Key.Key_7, Qt.KeyboardModifier.AltModifier)
        panel = self.window.panels._shop
        assert isinstance(panel, ShopPanel)
        self.panel = panel

    def press(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(QApplication.focusWidget() or self.window, key, modifier)
        APP.processEvents()

    def field(self, name: str, words: str) -> None:
        field = self.panel.fields[name]
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, words) if words else QTest.keyClick(field, Qt.Key.Key_Backspace)
        APP.processEvents()

    def told(self) -> str:
        return "\n".join(
            label.text() for row in self.panel._rows if not row.isHidden() for label in row.findChildren(QLabel)
        )

    def click(self, words: str) -> None:
        button = next(one for one in self.panel.findChildren(QPushButton) if one.text() == words)
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        APP.processEvents()

    def test_a_templet_is_asked_for_no_laps_nor_plate_and_what_was_wished_stays_in_sight(self) -> None:
        self.assertFalse(self.panel.for_plate.isHidden())
        stones = next(one.id for one in self.session.job.entries() if one.figure == "arch")
        self.session.select(stones)
        self.idle()
        self.panel.settle()
        self.assertTrue(self.panel.for_plate.isHidden())
        self.assertIn("blank", self.told())
        for word in ("seams", "on a sheet"):
            self.assertNotIn(word, self.told())
        self.session.set_shop(thickness=3.0)
        self.idle()
        self.assertFalse(self.panel.for_plate.isHidden())

    def test_a_whole_job_from_the_givens_to_the_joined_tiles(self) -> None:
        def choose(dialog: QDialog) -> None:
            QTest.keyClicks(dialog.search, "grain hopper")  # type: ignore[attr-defined]
            QTest.keyClick(dialog.search, Qt.Key.Key_Return)  # type: ignore[attr-defined]

        during_next_dialog(choose)
        self.window.groups["Figure"][0].trigger()
        self.idle()
        self.assertNotEqual(self.session.entry_id, "hopper", "a figure of its own")
        self.assertEqual(self.session.entry.figure, "rect-to-rect")
        for name, words in (
            ("length", "360"),
            ("width", "280"),
            ("top_length", "200"),
            ("top_width", "160"),
            ("height", "220"),
        ):
            self.type_into(name, words)
        self.session.set_sheet(paper="auto")
        self.type_into("seam", "3")
        self.assertEqual(self.session.run.figure.seam, 3)
        for name, words in (("seam_lap", "20"), ("base_lap", "25"), ("thickness", "1.5")):
            self.field(name, words)
        self.assertEqual(len([item for item in self.session.sheet.drawing.items if item.ink == "lap"]), 5)
        path = self.folder / "hopper.pdf"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.click("Tiles…")
        self.measure_across_a_joint(path)
        self.window.groups["Edit"][0].trigger()
        self.assertNotIn("thickness", {k for k, v in self.session.entry.shop.items() if v})

    def measure_across_a_joint(self, path: Path) -> None:
        """Two tiles laid cross on cross: from a corner that only one shows to a corner that only the other shows."""
        content = path.read_bytes()
        from pypdf import PdfReader

        count = len(PdfReader(str(path)).pages) - 1
        self.assertGreater(count, 2)
        pages = [pdf_lines(content, number) for number in range(1, count + 1)]
        sizes = [[float(x) * 25.4 / 72 for x in page.mediabox[2:]] for page in PdfReader(str(path)).pages[1:]]
        outlines = [max((line for line in page if len(line) > 12), key=len) for page in pages]
        made = self.session.run
        whole = self.panel.shop()
        assert whole is not None
        measured = 0
        words = [page.extract_text() for page in PdfReader(str(path)).pages[1:]]
        for k in range(count - 1):
            if words[k].split("column")[0] != words[k + 1].split("column")[0]:
                continue  # a row ends here
            shown = []
            for page, size, right in ((pages[k], sizes[k], True), (pages[k + 1], sizes[k + 1], False)):
                crosses = {tuple(np.round(line.mean(axis=0), 3)) for line in page if self.is_arm(line)}
                inner = (size[0] - EDGE - OVERLAP, size[0]) if right else (0.0, EDGE + OVERLAP)
                mine = [at for at in crosses if self.on_page(at, size) and inner[0] < at[0] < inner[1]]
                shown.append(np.array(sorted(mine)))
            off = self.cross_on_cross(*shown)
            self.assertIsNotNone(off, "two crosses on either tile of a joint")
            corners = [[at for at in outlines[n] if self.on_page(at, sizes[n])] for n in (k, k + 1)]
            for a in corners[0]:
                i = int(np.abs(outlines[k] - a).sum(axis=1).argmin())
                for b in corners[1]:
                    j = int(np.abs(outlines[k + 1] - b).sum(axis=1).argmin())
                    if i != j:
                        true = float(np.hypot(*(outlines[0][i] - outlines[0][j])))
                        self.assertAlmostEqual(float(np.hypot(*(a - (b + off)))), true, delta=0.2)
                        measured += 1
        self.assertGreater(measured, 2)
        keys = [side.keys[0] for side in whole.cuts[0].sides]
        longest = max(float(np.hypot(*(made.found[a] - made.found[b]))) for a in keys for b in keys)
        reach = max(float(np.hypot(*(a - b))) for a in outlines[0] for b in outlines[0])
        self.assertGreaterEqual(reach, longest - 0.2, "at true size")

    @staticmethod
    def is_arm(line: np.ndarray) -> bool:
        return len(line) == 2 and abs(float(np.abs(line[1] - line[0]).max()) - 6.0) < 0.01

    @staticmethod
    def on_page(at: np.ndarray, size: list[float]) -> bool:
        return bool(EDGE < at[0] < size[0] - EDGE and EDGE < at[1] < size[1] - EDGE)

    @staticmethod
    def cross_on_cross(one: np.ndarray, other: np.ndarray) -> np.ndarray | None:
        """The shift that brings two crosses of one tile onto two of the other; None where no two belong together."""
        shifts = [tuple(np.round(a - b, 2)) for a in one for b in other]
        best = max(shifts, key=shifts.count, default=None)
        return np.array(best) if best is not None and shifts.count(best) >= 2 else None

    def test_figures_follow_what_is_typed(self) -> None:
        self.assertIn("blank", self.told())
        self.assertNotIn("weight", self.told())
        self.field("thickness", "2")
        self.assertIn("weight", self.told())
        self.assertIn("B1 T1", self.told())
        before = self.told()
        self.field("base_lap", "12")
        self.assertNotEqual(before, self.told())
        self.field("base_lap", "")
        self.assertEqual(self.session.entry.shop["base_lap"], 0.0)
        self.assertEqual(before, self.told())

    def test_what_finds_no_room_stays_typed_and_is_said(self) -> None:
        self.field("base_lap", "9")
        self.field("base_lap", "900")
        self.assertEqual(
            self.session.entry.shop["base_lap"], 9, "the last that could be, while typing: 90 finds no room"
        )
        self.assertIn("Lower base_lap to", self.panel.says.text())
        self.assertEqual(self.panel.fields["base_lap"].text(), "900")
        self.assertTrue(self.panel.fields["base_lap"].property("refused"))
        self.session.select("flue")
        self.idle()
        self.session.select("hopper")
        self.idle()
        self.assertEqual(self.panel.fields["base_lap"].text(), "900", "what was typed is there again")
        self.field("base_lap", "x")
        self.assertIn("cannot be read", self.panel.says.text())
        self.field("base_lap", "8")
        self.assertEqual(self.panel.says.text(), "")
        self.assertFalse(self.panel.fields["base_lap"].property("refused"))

    def test_the_plates_middle_is_drawn_and_the_givens_stay(self) -> None:
        self.field("thickness", "4")
        self.panel.size_is.setCurrentIndex(self.panel.size_is.findData("inside"))
        self.panel.size_is.activated.emit(0)
        APP.processEvents()
        self.assertEqual(self.session.run.figure.length, self.session.entry.givens["length"] + 4)
        self.assertEqual(self.slot("length").text(), "118 mm")
        self.type_into("length", "120")
        self.assertEqual(self.session.run.figure.length, 124)
        words = " ".join(getattr(item, "words", "") for item in self.session.sheet.drawing.items)
        self.assertIn("drawn to the middle of the plate", words)
        self.assertIn("shop’s own table", words)

    def test_files_are_written_or_it_is_said_why_not(self) -> None:
        for ending, part in ((".svg", '<g id="cut">'), (".csv", "part,copies"), (".json", '"folds"')):
            path = self.folder / f"hopper{ending}"
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
                self.click("Save…")
            self.assertIn(part, path.read_text("utf-8"))
        self.assertEqual(json.loads(path.read_text("utf-8"))["figure"], "rect-to-rect")
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=("/nowhere/a.svg", "")):
            self.click("Save…")
        self.assertIn("cannot be written", self.window.board._said)

    def test_it_is_offered_where_there_is_a_pattern(self) -> None:
        tab = self.window.panels.indexOf(self.window.panels.shop)
        self.assertTrue(self.window.panels.isTabVisible(tab))
        self.session.select("arch")
        self.idle()
        self.assertFalse(self.window.panels.isTabVisible(tab))
        next(action for action in self.window.groups["View"] if action.text() == "Shop").trigger()
        self.assertIn("no pattern", self.window.board._said)

    def test_warnings_stand_under_the_steps_once(self) -> None:
        self.window._panel(0)
        APP.processEvents()
        cards = self.window.panels.steps.cards
        bodies = [card.body for card in cards if "sharp" in card.body or "local codes" in card.body]
        self.assertEqual(len(bodies), 2)
        self.assertEqual(cards[-2].heading, "Before you cut")
        self.window.panels._choose_step(len(cards) - 1)
        self.assertTrue(self.session.finished, "a warning is no step to walk to")


class Lit(DeskCase):
    def test_a_triangle_lights_in_both_views_on_the_pattern_and_in_space(self) -> None:
        self.session.select("flue")
        self.idle()
        made = self.session.run
        self.assertEqual(face_now(self.session), ((), ()), "none once it is finished")
        step = next(step for step in made.steps if step.heading.startswith("Triangle 5"))
        self.window.board.repaint()
        self.session.walk_to(step.n)
        self.assertEqual(len(faces_on_paper(self.session)), 3)
        names, keys = face_now(self.session)
        self.assertEqual(names, made.figure.triangles[4].names)
        placed, board = self.window.board._placed(), self.window.board

        def blueness(which: int) -> list[int]:
            found = []
            image = board.grab().toImage()
            for face in faces_on_paper(self.session) or self.faces:
                middle = sum(face[1:], face[0]) / 3
                at = board.to_window(placed.origin + middle * self.session.sheet.scale).toPoint()
                colour = image.pixelColor(at)
                found.append(colour.red() - colour.blue())
            return found

        self.faces = faces_on_paper(self.session)
        lit = blueness(1)
        self.session.walk_to(self.session.last_step + 1)
        plain = blueness(0)
        self.assertEqual(sum(a > b + 10 for a, b in zip(lit, plain)), 3, f"{lit} {plain}")

    def test_in_space_it_folds_with_the_pattern(self) -> None:
        self.session.select("flue")
        self.idle()
        self.window.board.setFocus()
        self.window.stage.turn_over()
        space = self.window.stage.space
        made = self.session.run
        step = next(step for step in made.steps if step.heading.startswith("Triangle 5"))
        self.session.walk_to(step.n)
        body = np.array(face_in_space(self.session, None, 0.0))
        self.assertEqual(body.shape, (3, 3))
        while space.mode != "pattern":
            self.window.stage.next_mode()
        pattern = np.array(face_in_space(self.session, space.shape, 1.0))
        self.assertLess(np.abs(pattern - body).max(), 1e-6)
        self.assertGreater(np.abs(np.array(face_in_space(self.session, space.shape, 0.0)) - body).max(), 1.0)


class Folded(DeskCase):
    def test_the_folded_pattern_has_the_laps_that_are_asked_for(self) -> None:
        self.session.select("hopper")
        self.session.edit(self.session.job.with_entry("hopper", lambda entry: replace(entry, shop={})), "Plain")
        self.idle()
        self.window.stage.turn_over()
        space = self.window.stage.space
        while space.mode != "pattern":
            self.window.stage.next_mode()
        plain = len(space.shape.pattern.pieces)
        self.session.set_shop(seam_lap=6.0, base_lap=5.0)
        APP.processEvents()
        self.assertEqual(len(space.shape.pattern.pieces), plain + 5)
        self.assertLess(space.shape.gap, 1e-9 * 200)


if __name__ == "__main__":
    unittest.main()
