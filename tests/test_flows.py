"""Whole flows through the real window and real processes: dialogs, files, recovery after a kill, the launcher's
command."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QFileDialog, QMessageBox

from tests.test_desk import APP, DeskCase
from wise_compass.desk.parts.dialogs import NotesDialog, SettingsDialog, ask
from wise_compass.job.demo import demo_job
from wise_compass.job.recovery import Keeper, left_behind
from wise_compass.job.settings import Settings
from wise_compass.job.store import load, save

ROOT = Path(__file__).parent.parent
EDITOR = """
import sys
from wise_compass.desk.parts.theme import application
app = application()
from wise_compass.desk.session.session import Session
from wise_compass.desk.window import DeskWindow
from wise_compass.job.demo import demo_job
session = Session(demo_job())
window = DeskWindow(session)
window.show()
session.select("arch")
for n in range(100, 152):
    session.set_given("wide", str(n))
    app.processEvents()
from PySide6.QtTest import QTest
QTest.qWait(600)
print("kept", flush=True)
QTest.qWait(60000)
"""


def during_next_dialog(do: object) -> None:
    """Run ``do`` on the dialog that opens next, as a person would."""

    def act() -> None:
        dialog = QApplication.activeModalWidget()
        if dialog is None:
            QTimer.singleShot(20, act)
        else:
            do(dialog)  # type: ignore[operator]

    QTimer.singleShot(20, act)


class Dialogs(DeskCase):
    def test_settings_change_units_projection_and_lettering_and_can_be_undone(self) -> None:
        self.session.select("stay")

        def choose(dialog: QDialog) -> None:
            assert isinstance(dialog, SettingsDialog)
            for name, id in (("units", "in"), ("projection", "third"), ("lettering", "numbers")):
                dialog.boxes[name].setCurrentIndex(dialog.boxes[name].findData(id))
            dialog.boxes["decimals"].setCurrentIndex(dialog.boxes["decimals"].findData(3))
            dialog.accept()

        during_next_dialog(choose)
        QTest.keyClick(self.window.board, Qt.Key.Key_Comma, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(
            self.session.job.settings, Settings(projection="third", lettering="numbers", units="in", decimals=3)
        )
        self.assertEqual(self.slot("length").text(), "3.38583 in")
        self.assertIn("b₂", {getattr(item, "words", "") for item in self.session.sheet.drawing.items})
        self.assertTrue(all(proof.holds for proof in self.session.run.proofs))
        self.type_into("length", "3 1/2")
        self.assertAlmostEqual(self.session.run.figure.length, 88.9, msg="a bare number is an inch now")
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.job.settings, Settings())
        self.assertEqual(self.slot("length").text(), "86 mm")

    def test_a_new_figure_from_the_chooser(self) -> None:
        def pick(dialog: QDialog) -> None:
            QTest.keyClicks(dialog.search, "eight circles")
            QTest.keyClick(dialog.search, Qt.Key.Key_Return)

        during_next_dialog(pick)
        QTest.keyClick(self.window.board, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.entry.figure, "three-circle-tangents")
        self.assertEqual(len(self.session.job.sheets), len(demo_job().sheets) + 1)

    def test_the_dividers_by_keyboard(self) -> None:
        from PySide6.QtWidgets import QInputDialog

        with mock.patch.object(QInputDialog, "getItem", side_effect=[("P0", True), ("P6", True)]):
            QTest.keyClick(self.window.board, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual([pick.name for pick in self.window.board.picks], ["P0", "P6"])

    def test_an_approximate_method_says_when_it_is_exact(self) -> None:
        self.session.select("boss9")
        self.window.panels.setCurrentIndex(2)
        self.assertIn("Exact for 4 and 6 sides only", self.window.panels.proofs.cards[-1].body)

    def test_notes_are_written_on_the_sheet(self) -> None:
        def write(dialog: QDialog) -> None:
            assert isinstance(dialog, NotesDialog)
            dialog.text.selectAll()
            QTest.keyClicks(dialog.text, "Stone, not timber.")
            QTest.keyClick(dialog.text, Qt.Key.Key_Return)
            QTest.keyClicks(dialog.text, "Second line.")
            dialog.accept()

        during_next_dialog(write)
        self.window._notes()
        words = [getattr(item, "words", "") for item in self.session.sheet.drawing.items]
        self.assertIn("Stone, not timber.", words)

    def test_questions_answer_escape_with_the_last(self) -> None:
        during_next_dialog(lambda box: QTest.keyClick(box, Qt.Key.Key_Escape))
        self.assertEqual(ask(self.window, "?", "Well?", ["Yes", "No", "Stay"]), "Stay")

    def test_paper_and_scale_are_chosen_beside_the_brief(self) -> None:
        scale = self.window.brief.paper_lists["scale"]
        assert isinstance(scale, QComboBox)
        scale.setCurrentIndex(scale.findData("1:5"))
        scale.activated.emit(scale.currentIndex())
        self.assertEqual(self.session.sheet.scale, 0.2)
        scale.setCurrentIndex(scale.findData("5:1"))
        scale.activated.emit(scale.currentIndex())
        self.assertIn("runs off", self.window.brief.hint.text())
        self.assertEqual(self.session.sheet.scale, 0.2, "the last good sheet stays")


class Files(DeskCase):
    def test_save_as_open_export_and_print_through_the_file_dialogs(self) -> None:
        path = self.folder / "mill"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.assertTrue(self.window.save_as())
        self.assertTrue((self.folder / "mill.wisecompass.json").exists())
        self.session.set_given("wide", "70")
        self.assertTrue(self.window.save())
        self.assertEqual(load(self.folder / "mill.wisecompass.json").entry("arch").givens["wide"], 70)
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(self.folder / "arch"), "PDF (*.pdf)")):
            self.window.papers.export()
        self.assertTrue((self.folder / "arch.pdf").read_bytes().startswith(b"%PDF"))
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(self.folder / "all.pdf"), "")):
            self.window.papers.print_job()
        from pypdf import PdfReader

        self.assertEqual(len(PdfReader(self.folder / "all.pdf").pages), len(self.session.job.sheets))
        kind = "PDF, lines 10 mm apart (*.pdf)"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(self.folder / "blank"), kind)):
            self.window.papers.print_grid()
        (page,) = PdfReader(self.folder / "blank.pdf").pages
        paper = self.session.sheet.paper
        self.assertAlmostEqual(float(page.mediabox.width) * 25.4 / 72, paper.width, delta=0.01)
        self.assertIn("Isometric grid, 10 mm", page.extract_text())
        save(demo_job(), self.folder / "other.json")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(self.folder / "other.json"), "")):
            self.window.open_file()
        self.assertEqual(self.session.path, self.folder / "other.json")

    def test_what_cannot_be_written_or_opened_is_told_and_nothing_is_lost(self) -> None:
        told: list[str] = []
        during_next_dialog(lambda box: (told.append(box.text()), box.close()))
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=("/nowhere/mill.json", "")):
            self.assertFalse(self.window.save_as())
        bad = self.folder / "bad.json"
        bad.write_text("{")
        during_next_dialog(lambda box: (told.append(box.text()), box.close()))
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(bad), "")):
            self.window.open_file()
        self.assertIn("cannot be written", told[0])
        self.assertIn("damaged", told[1])
        self.assertEqual(len(self.session.job.entries()), len(demo_job().entries()))
        self.assertEqual(bad.read_text(), "{")

    def test_leaving_asks_for_unsaved_work(self) -> None:
        del self.window.may_leave
        self.assertTrue(self.window.may_leave(), "nothing is unsaved")
        self.session.set_given("wide", "70")
        for answer, leaves in (("Stay", False), ("Let them go", True)):
            during_next_dialog(lambda box, a=answer: next(b for b in box.buttons() if b.text() == a).click())
            self.assertEqual(self.window.may_leave(), leaves)
        self.window.may_leave = lambda: True


class Recovery(unittest.TestCase):
    def test_a_killed_desk_is_offered_again_with_its_last_edit(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            env = {**os.environ, "XDG_STATE_HOME": folder, "PYTHONPATH": str(ROOT / "src")}
            process = subprocess.Popen(
                [sys.executable, "-c", EDITOR], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=env
            )
            assert process.stdout is not None
            self.assertEqual(process.stdout.readline().strip(), b"kept")
            process.send_signal(signal.SIGKILL)
            process.wait()
            process.stdout.close()
            kept = Path(folder) / "wise-compass" / "recovery"
            (work,) = left_behind(kept)
            self.assertEqual(work.job.entry("arch").givens["wide"], 151)
            self._offered(work, kept)

    def _offered(self, work: object, kept: Path) -> None:
        from wise_compass.desk.session.session import Session
        from wise_compass.desk.start import _offer_recovered
        from wise_compass.desk.window import DeskWindow
        from wise_compass.job.model import Job

        session = Session(Job(), None, Keeper(kept))
        window = DeskWindow(session)
        window.may_leave = lambda: True  # type: ignore[method-assign]
        window.show()
        during_next_dialog(lambda box: isinstance(box, QMessageBox) and box.defaultButton().click())
        with mock.patch("wise_compass.job.recovery.left_behind", return_value=[work]):
            _offer_recovered(window)
        APP.processEvents()
        self.assertEqual(session.job.entry("arch").givens["wide"], 151)
        self.assertTrue(session.history.unsaved, "it still has to be saved")
        window.close()

    def test_the_desk_paints_and_tells_how_long_it_took(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            env = {**os.environ, "XDG_STATE_HOME": folder, "PYTHONPATH": str(ROOT / "src")}
            began = time.monotonic()
            done = subprocess.run(
                [sys.executable, "-m", "wise_compass", "--demo", "--until-painted"],
                env=env,
                capture_output=True,
                text=True,
                timeout=60,
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            told = json.loads(done.stdout)["ms_to_paint"]
            self.assertLess(0, told)
            self.assertLessEqual(told, (time.monotonic() - began) * 1000 + 50)
