"""What stands on a sheet, chosen at the desk: dimensions, a place on another figure, the strip, stages and a
booklet."""

from __future__ import annotations

import tempfile
from pathlib import Path
from unittest import mock

import numpy as np
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.test_desk import APP, DeskCase
from tests.test_standing import bracket
from wise_compass.desk.leaving.papers import PDF_KINDS
from wise_compass.desk.parts.dialogs import SettingsDialog
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.piece import Placed


class OnTheSheet(DeskCase):
    def told(self) -> list[str]:
        """The figures of the dimensions on the shown sheet."""
        sheet = self.session.sheet
        assert sheet is not None
        return [one.words for one in sheet.drawing.items if isinstance(one, Text) and one.layer == "dimension"]

    def key(self, widget: object, key: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(widget, key, held)  # type: ignore[call-overload]
        APP.processEvents()

    def test_dimensions_are_given_all_or_none_by_their_list_and_by_key(self) -> None:
        self.session.select("newel")
        given = self.told()
        choice = self.window.brief.dimensioned
        self.assertEqual(choice.currentText(), "dimensions given")
        choice.setFocus()
        self.key(choice, Qt.Key.Key_Down)
        choice.activated.emit(choice.currentIndex())
        APP.processEvents()
        self.assertTrue(set(given) <= set(self.told()))
        self.assertTrue(any(words.startswith("(") for words in self.told()), "what follows stands in brackets")
        self.window.turn_dimensions()
        self.assertEqual(self.told(), [])
        self.assertEqual(choice.currentText(), "no dimensions")
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.told(), given)

    def test_a_figure_is_stood_on_a_point_and_turned(self) -> None:
        (sheet,) = bracket().sheets
        tower, window, _ = sheet.entries
        apart = sheet._replace(entries=(tower, window.__class__(**vars(window) | {"on": ""})))
        self.session.edit(self.session.job._replace(sheets=(*self.session.job.sheets, apart)), "Bracket")
        self.session.select("oculus")
        APP.processEvents()
        stands = self.window.brief.stands_on
        self.assertTrue(stands.isVisibleTo(self.window))
        self.assertFalse(stands.turned.isVisibleTo(self.window), "what stands by itself is not turned here")
        self.assertIn("on Keep.O", [stands.list.itemText(k) for k in range(stands.list.count())])
        stands.list.setCurrentIndex(stands.list.findData("keep.O"))
        stands.list.activated.emit(stands.list.currentIndex())
        APP.processEvents()
        one, other = self.places()
        np.testing.assert_allclose(self.at(one, "O"), self.at(other, "O"), atol=1e-9)
        stands.turned.setFocus()
        stands.turned.selectAll()
        QTest.keyClicks(stands.turned, "25")
        self.key(stands.turned, Qt.Key.Key_Return)
        long = self.at(self.places()[1], "P0") - self.at(self.places()[1], "O")
        self.assertAlmostEqual(float(np.rad2deg(np.arctan2(long[1], long[0]))), 25.0, places=9)
        stands.turned.selectAll()
        QTest.keyClicks(stands.turned, "4000")
        self.key(stands.turned, Qt.Key.Key_Return)
        entry = self.session.job.entry("oculus")
        assert entry is not None
        self.assertEqual(entry.turned, 25.0, "what cannot be is not taken")
        self.assertEqual(stands.turned.text(), "4000", "and stays written")
        self.session.select("keep")
        APP.processEvents()
        offered = [stands.list.itemData(k) for k in range(stands.list.count())]
        self.assertEqual(offered, [""], "nothing stands on what stands on it")
        for id, on in (("oculus", "keep.O"), ("keep", ""), ("oculus", "keep.O")):
            self.session.select(id)
            APP.processEvents()
            self.assertEqual(stands.list.currentData(), on, "the list shows where the chosen figure stands")

    def places(self) -> list[Placed]:
        sheet = self.session.sheet
        assert sheet is not None
        return sheet.placed

    def at(self, placed: Placed, key: str) -> np.ndarray:
        return placed.at(placed.piece.run.spots[key].here, self.session.scale)

    def test_the_strip_tells_what_is_set(self) -> None:
        dialog = SettingsDialog(self.window, self.session.job.settings)
        for name, words in (("firm", "Wrenfold Mill"), ("drawn_by", "E. M."), ("revision", "B")):
            QTest.keyClicks(dialog.words[name], words)
        before = self.session.sheet
        self.session.edit(self.session.job._replace(settings=dialog.settings), "Settings")
        sheet = self.session.sheet
        assert sheet is not None and before is not None
        words = {one.words for one in sheet.drawing.items if isinstance(one, Text)}
        self.assertTrue({"School or firm", "Drawn by", "E. M.", "Revision", "B"} <= words)
        self.assertNotIn("Material", words, "what is empty leaves no hole")
        self.assertGreater(sheet.paper.field[1], before.paper.field[1])

    def test_a_figure_is_saved_in_stages_and_the_job_as_a_booklet(self) -> None:
        job = self.session.job
        self.session.edit(job._replace(sheets=job.sheets[:2]), "Fewer")
        with tempfile.TemporaryDirectory() as folder:
            stages, notes = Path(folder) / "stages.pdf", Path(folder) / "notes.pdf"
            with mock.patch.object(self.window, "ask_path", lambda *_: (str(stages), "")):
                self.window.papers.save_stages()
            self.assertIn("in stages", PdfReader(stages).pages[0].extract_text())
            kind = next(kind for kind, bound in PDF_KINDS.items() if bound.booklet)
            with mock.patch.object(self.window, "ask_path", lambda *_: (str(notes), kind)):
                self.window.papers.print_job()
            pages = [page.extract_text() for page in PdfReader(notes).pages]
        self.assertIn("Contents", pages[0])
        entries = self.session.job.entries()
        for entry in entries:
            self.assertTrue(any("In stages" in page for page in pages[1:]), entry.title)
        self.assertGreaterEqual(len(pages), 1 + len(entries))
