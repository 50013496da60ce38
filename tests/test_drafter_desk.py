"""The kit, the hand and the printed steps through the real window."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from pypdf import PdfReader
from PySide6.QtTest import QTest

from tests.waiting import comes
from wise_compass.desk.drafter.kitdialogs import HandDialog, KitDialog
from wise_compass.desk.leaving.papers import PDF_KINDS
from wise_compass.desk.parts.theme import application
from wise_compass.desk.problem.kitwords import kit_words
from wise_compass.desk.session.session import Session
from wise_compass.desk.window import DeskWindow
from wise_compass.drafting.kit import Kit
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.person import Person, keep_person, person
from wise_compass.sheet.stepsheet import step_drawings
from wise_compass.study.judge import Judge
from wise_compass.study.watch import Watch, what_to_measure


class Desk(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.app = application()

    def setUp(self) -> None:
        home = mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": tempfile.mkdtemp()})
        home.start()
        self.addCleanup(home.stop)
        figure = figure_named("polygon-on-side")
        entry = Entry(
            "polygon-on-side", "Floor", next(iter(figure.methods)), {**figure().stored(), "sides": 6, "side": 90.0}
        )
        self.session = Session(Job("Wrenfold Mill", (SheetPlan("Floor", (entry,), "A3"),)))
        self.window = DeskWindow(self.session)
        self.window.show()
        self.addCleanup(self.window.close)
        self.session.history.mark_saved()

    def test_a_kit_typed_in_is_kept_and_told_at_the_step_with_ways_round(self) -> None:
        dialog = KitDialog(self.window)
        dialog.show()
        for name, typed in (("compass_most", "60"), ("beam_most", "0")):
            dialog.fields[name].setFocus()
            dialog.fields[name].selectAll()
            QTest.keyClicks(dialog.fields[name], typed)
        dialog.accept()
        self.assertEqual(person().kit, Kit(compass_most=60.0, beam_most=0.0))
        self.session.redraw()
        cards = self.window.panels.steps.cards
        self.assertIn("What your kit cannot do", [card.heading for card in cards])
        self.assertTrue(any("opens to 60 mm" in card.note for card in cards[:-1]))
        self.assertFalse(any("Ways round" in card.body for card in cards))  # which wait until nothing is being changed
        cards_now = self.window.panels.steps
        self.assertTrue(comes(lambda: any("Ways round" in card.body for card in cards_now.cards)))
        self.window.panels.setCurrentIndex(3)
        self.window.panels.settle()
        self.assertTrue(any("Your kit" in card.note for card in self.window.panels.compare.cards))
        self.assertIn("opens to 60", kit_words(figure_named("polygon-on-side")) or kit_words(figure_named("ellipse")))

    def test_a_size_that_no_instrument_has_is_refused_and_stays_typed(self) -> None:
        dialog = KitDialog(self.window)
        dialog.show()
        dialog.fields["rule_long"].setText("7")
        dialog.accept()
        self.assertTrue(dialog.isVisible())
        self.assertIn("100 to 2000", dialog.says.text())
        self.assertEqual(dialog.fields["rule_long"].text(), "7")
        dialog.reject()

    def test_a_hand_is_calibrated_by_keys_and_forgotten_again(self) -> None:
        dialog = HandDialog(self.window, lambda: None)
        dialog.show()
        QTest.keyClicks(dialog.fields["opening-1"], "24.1")
        QTest.keyClicks(dialog.fields["opening-2"], "38.2")
        self.assertIn("looser than assumed", dialog.told["compass setting"].text())
        QTest.keyClicks(dialog.fields["mark-1"], "x")
        self.assertFalse(dialog.keep.isEnabled())
        dialog.fields["mark-1"].clear()
        dialog.keep.click()
        self.assertGreater(person().hand["compass setting"].limit, 0.5)
        self.session.redraw()
        assert self.session.run is not None
        self.assertTrue(self.session.run.conventions.drafter.limits)
        again = HandDialog(self.window, lambda: None)
        again.forget.click()
        self.assertEqual(person().hand, {})

    def test_exercises_are_saved_and_a_job_is_printed_with_its_steps_and_what_to_measure(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            sheets, job = Path(folder) / "mine.pdf", Path(folder) / "job.pdf"
            with mock.patch.object(self.window, "ask_path", lambda *_: (str(sheets), "")):
                self.window.drafter.save_exercises()
            self.assertEqual(len(PdfReader(sheets).pages), 2)
            kind = next(kind for kind, bound in PDF_KINDS.items() if bound.steps)
            with mock.patch.object(self.window, "ask_path", lambda *_: (str(job), kind)):
                self.window.papers.print_job()
            words = "\n".join(page.extract_text() for page in PdfReader(job).pages)
            kind = next(kind for kind, bound in PDF_KINDS.items() if bound.plan)
            with mock.patch.object(self.window, "ask_path", lambda *_: (str(Path(folder) / "plan.pdf"), kind)):
                self.window.papers.print_job()
            first = PdfReader(Path(folder) / "plan.pdf").pages[0].extract_text()
        self.assertIn("the day’s plan", first)
        made = self.session.run
        assert made is not None
        watch = what_to_measure(Judge(made, self.session.scale))
        for one in watch.proposed:
            self.assertIn(one.measure.name.replace("_", " "), words)
        self.assertIn("Step", words)
        self.assertGreater(len(watch.proposed), 0)

    def test_a_check_that_is_stopped_says_so_and_goes_on_with_the_next_measurement(self) -> None:
        from PySide6.QtWidgets import QProgressDialog

        self.window.panels.setCurrentIndex(5)
        panel = self.window.panels._check_panel()
        panel.settle()
        name, field = next(iter(panel.fields.items()))
        field.setText("12")
        with mock.patch.object(QProgressDialog, "wasCanceled", lambda box: True):
            panel.judge_now()
        self.assertIn("Stopped", panel.says.text())
        self.assertEqual(panel.fields[name].text(), "12")
        panel.judge_now()
        self.assertIsNotNone(panel.checked)

    def test_a_long_figure_takes_as_many_step_pages_as_it_needs(self) -> None:
        keep_person(Person(kit=Kit(compass_most=30.0, beam_most=0.0)))
        made = run(figure_named("polygon-on-side")(), None, Conventions(drafter=person().drafter))
        pages = step_drawings(made, "Floor", PLAIN, 1.0, Watch((), ()))
        told = " ".join(item.words for page in pages for item in page.items if hasattr(item, "words"))
        self.assertIn("opens to 30 mm", told)
        whole = run(figure_named("round-to-round")(), None)
        many = step_drawings(whole, "Stool", PLAIN, 1.0, Watch((), ()))
        numbers = {
            item.words for page in many for item in page.items if hasattr(item, "words") and item.words.isdigit()
        }
        self.assertGreater(len(many), 1)
        self.assertLessEqual({str(step.n) for step in whole.steps}, numbers)
        for page in many:
            self.assertTrue(
                all(item.at[1] > 10.0 for item in page.items if item.layer == "lettering" and hasattr(item, "at"))
            )


if __name__ == "__main__":
    unittest.main()
