"""Practice, the logbook, a class and the plan through the real window; a whole practice by keys alone."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path
from unittest import mock

from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.test_desk import APP, DeskCase
from tests.test_logbook import NOW, entry
from tests.waiting import comes
from wise_compass.desk.drafter.classview import ClassView
from wise_compass.desk.drafter.logbookview import LogbookView
from wise_compass.desk.drafter.planview import PlanView
from wise_compass.desk.drafter.practiceview import PracticeView
from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.store import Logbook
from wise_compass.practice.marking import STEADY
from wise_compass.practice.problems import Problem
from wise_compass.practice.worksheet import Task, class_sheet
from wise_compass.study.measures import exactly, named


class Views(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.book = Logbook(self.folder / "data")

    def path(self, name: str) -> object:
        return lambda *_: (str(self.folder / name), "")

    def exact(self, view: PracticeView, name: str, by: float = 1.0) -> str:
        assert view.made is not None and view.problem is not None
        return f"{by * float(exactly(view.made, [named(view.made, name)], view.problem.scale)[0]):.2f}"

    def test_a_whole_practice_from_problem_to_mark_by_keys_alone(self) -> None:
        view = PracticeView(self.window, self.session, self.path("sheet.pdf"), self.book, 4)
        self.addCleanup(view.close)
        view.show()

        def active() -> bool:  # keys reach the window that is
            view.activateWindow()
            return QApplication.activeWindow() is view

        self.assertTrue(comes(active))
        view.source.setFocus()

        def to(widget: object) -> None:
            for _ in range(40):
                if view.focusWidget() is widget:
                    return
                QTest.keyClick(view.focusWidget(), Qt.Key.Key_Tab)
            self.fail(f"no way by Tab to {widget}")

        for letter in "Tan":
            QTest.keyClick(view.source, letter)
        self.assertEqual(view.source.currentData(), "tangency")
        to(view.set_it)
        QTest.keyClick(view.set_it, Qt.Key.Key_Space)
        APP.processEvents()
        assert view.problem is not None and view.made is not None
        self.assertIn(view.problem.words().split(".")[0], view.words.text())
        to(view.sheet)
        QTest.keyClick(view.sheet, Qt.Key.Key_Space)
        self.assertGreater(len(PdfReader(self.folder / "sheet.pdf").pages), 1)
        to(view.hint)
        QTest.keyClick(view.hint, Qt.Key.Key_Space)
        self.assertGreater(len(view.steps.item(0).text()), len("step 1   "))
        self.assertEqual(view.steps.item(1).text(), "step 2")
        for name, field in view.fields.items():
            to(field)
            QTest.keyClicks(field, self.exact(view, name))
        to(view.mark_it)
        QTest.keyClick(view.mark_it, Qt.Key.Key_Space)
        assert view.marked is not None
        self.assertEqual(view.marked.mark, STEADY)
        (kept,) = self.book.entries()
        self.assertEqual((kept.kind, kept.figure, kept.mark), ("practice", view.problem.figure, STEADY))
        self.assertGreaterEqual(kept.minutes or -1, 0)

    def test_answers_are_hidden_until_it_is_marked_and_what_is_wrong_says_why(self) -> None:
        view = PracticeView(self.window, self.session, self.path("x.pdf"), self.book, 5)
        self.addCleanup(view.close)
        view.show()
        view.set_it.click()
        self.assertEqual({note.text() for note in view.notes.values()}, {""})
        first = next(iter(view.fields))
        view.fields[first].setText("much")
        view.mark_it.click()
        self.assertTrue(view.notes[first].text())
        self.assertEqual((view.fields[first].text(), self.book.entries()), ("much", []))
        for name, field in view.fields.items():
            field.setText(self.exact(view, name, 1.2))
        view.mark_it.click()
        assert view.marked is not None
        self.assertNotEqual(view.marked.mark, STEADY)
        self.assertIn("exactly", view.notes[first].text())
        view.source.setCurrentIndex(view.source.findData("lately"))
        view.set_it.click()
        assert view.problem is not None
        self.assertEqual(view.problem.figure, self.book.entries()[0].figure)

    def test_a_class_set_is_written_and_a_photograph_of_the_sheet_is_marked(self) -> None:
        from wise_compass.camera.laid import laid_of
        from wise_compass.camera.pencil import pencilled
        from wise_compass.camera.stand_in import Shot, jpeg, photographed

        view = PracticeView(self.window, self.session, self.path("x.pdf"), self.book, 7)
        self.addCleanup(view.close)
        view.show()
        view.source.setCurrentIndex(view.source.findData("triangles"))
        view.set_it.click()
        assert view.problem is not None
        view.write_class(self.folder / "set.pdf", 3)
        self.assertEqual(len(PdfReader(self.folder / "set.pdf").pages), 3)
        self.assertEqual(len((self.folder / "set, key.csv").read_text().splitlines()), 4)
        self.assertEqual(len((self.folder / "set, measured.csv").read_text().splitlines()), 4)
        photo = self.folder / "mine.jpg"
        photo.write_bytes(jpeg(photographed(pencilled(laid_of(view.problem), 2), Shot(7.0, (7.0, 5.0), 3.0, 2))))
        view.mark_photo(photo)
        view.settle()
        for _ in range(5):
            APP.processEvents()
        assert view.marked is not None
        self.assertEqual(self.book.entries()[0].measures[0].instrument, "photograph")
        self.assertEqual(view.marked.checked.verdict.verdict, "honest")
        view.mark_photo(self.folder / "set.pdf")
        view.settle()
        for _ in range(5):
            APP.processEvents()
        self.assertIn("neither a JPEG", view.why.text())

    def test_what_is_typed_is_not_lost_to_another_problem_and_marking_again_replaces_the_entry(self) -> None:
        view = PracticeView(self.window, self.session, self.path("x.pdf"), self.book, 9)
        self.addCleanup(view.close)
        view.show()
        view.set_it.click()
        before = view.problem
        name, field = next(iter(view.fields.items()))
        field.setText(self.exact(view, name, 1.3))
        with mock.patch("wise_compass.desk.drafter.practiceview.ask", lambda *_: "Stay"):
            view.set_it.click()
        self.assertEqual((view.problem, view.fields[name].text()), (before, field.text()))
        view.mark_it.click()
        view.fields[name].setText(self.exact(view, name))
        view.mark_it.click()
        (kept,) = self.book.entries()
        self.assertEqual(kept.mark, STEADY)
        view.set_it.click()
        self.assertNotEqual(view.problem, before)

    def test_each_view_opens_from_the_menu_and_is_the_same_again(self) -> None:
        tools = self.window.drafter
        for name, do in (
            ("photograph", tools.photograph), ("practice", tools.practice), ("logbook", tools.logbook), ("class",
            tools.mark_class),
            ("plan", tools.plan),
        ):  # fmt: skip
            do()
            view = tools._views[name]
            self.addCleanup(view.close)
            self.assertTrue(view.isVisible())
            view.close()
            do()
            self.assertIs(tools._views[name], view)
            self.assertTrue(view.isVisible())
            if hasattr(view, "settle"):
                view.settle()
        APP.processEvents()
        keys = [
            action.shortcut().toString()
            for group in self.window.groups.values()
            for action in group
            if action.shortcut()
        ]
        told = [key for key in keys if key]
        self.assertEqual(len(told), len(set(told)), "no key does two things")

    def test_the_logbook_shows_filters_deletes_and_takes_in(self) -> None:
        wrong = {"verdict": "slip", "slip": "other-crossing", "says": "The other of two crossings."}
        self.book.note([*(entry(k) for k in range(3)), *(entry(k, person="Ben", **wrong) for k in range(3, 8))])
        view = LogbookView(self.window, self.book)
        self.addCleanup(view.close)
        view.show()
        view.settle()
        APP.processEvents()
        self.assertFalse(view.plots["slips"].pixmap().isNull())
        self.assertEqual(view.entries.rows.rowCount(), 8)
        view.person.setCurrentIndex(view.person.findData("Ada"))
        self.assertEqual(view.entries.rows.rowCount(), 3)
        self.assertEqual(view.lists["slips"].rows.rowCount(), 0)
        view.person.setCurrentIndex(0)
        QTest.keyClicks(view.since, "never")
        view.show_chosen()
        self.assertIn("is no day", view.says.text())
        view.since.clear()
        view.show_chosen()
        view.entries.selectRow(0)
        with mock.patch("wise_compass.desk.drafter.logbookview.ask", lambda *_: "Delete"):
            view.buttons["Delete it"].click()
        self.assertEqual(len(self.book.entries()), 7)
        view.save_to(self.folder / "out.csv")
        with mock.patch("wise_compass.desk.drafter.logbookview.ask", lambda *_: "Delete all"):
            view.buttons["Delete all…"].click()
        self.assertEqual(self.book.entries(), [])
        with mock.patch("PySide6.QtWidgets.QFileDialog.getOpenFileName", lambda *_: (str(self.folder / "out.csv"), "")):
            view.buttons["Take in CSV…"].click()
        self.assertEqual(len(self.book.entries()), 7)
        (self.folder / "no.png").write_bytes(b"words")
        with self.assertRaises(Refused):
            view.attach_to("entry-1", self.folder / "no.png")
        (self.folder / "yes.png").write_bytes(b"\x89PNG and so on")
        view.attach_to("entry-1", self.folder / "yes.png")
        self.assertEqual(sum(1 for row in view.shown if row.picture), 1)
        view.settle()

    def test_a_check_is_noted_on_request(self) -> None:
        self.window.panels.setCurrentIndex(5)
        panel = self.window.panels._check_panel()
        panel.settle()
        field = next(iter(panel.fields.values()))
        field.setText("50")
        panel.judge_now()
        before = len(Logbook().entries())
        panel.note.click()
        self.assertEqual(len(Logbook().entries()), before + 1)
        self.assertEqual(Logbook().entries()[0].kind, "check")

    def test_a_class_is_opened_marked_and_saved(self) -> None:
        problem = Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6})
        lines = class_sheet([Task("Ada", problem)]).splitlines()
        names = lines[0].split(",")[2:]
        made = problem.run()
        sizes = [f"{float(exactly(made, [named(made, name)], 1.0)[0]):.1f}" for name in names]
        (self.folder / "class.csv").write_text(f"{lines[0]}\nAda,{problem.code},{','.join(sizes)}\n")
        view = ClassView(self.window, self.path("marks.csv"), self.book)
        self.addCleanup(view.close)
        view.show()
        view.keep.setChecked(True)
        view.mark(self.folder / "class.csv")
        view.settle()
        APP.processEvents()
        self.assertEqual(view.list.rows.rowCount(), 1)
        self.assertEqual(self.book.entries()[0].person, "Ada")
        view.buttons["Save the marks…"].click()
        self.assertIn(STEADY, (self.folder / "marks.csv").read_text())
        view.mark(self.folder / "marks.csv")
        self.assertIn(
            "Nothing was marked",
            view.says.text() + str(view.settle() or "") + (APP.processEvents() or "") + view.says.text(),
        )

    def test_the_plan_follows_its_hours_and_is_saved(self) -> None:
        view = PlanView(self.window, self.session, self.path("plan.ics"), self.book)
        self.addCleanup(view.close)
        view.show()
        view.fields["start"].setText("2026-11-26 08:00")
        view.draw_up()
        view.settle()
        APP.processEvents()
        assert view.plan is not None
        self.assertEqual(view.list.rows.rowCount(), len(view.plan.sheets))
        self.assertIn("Paper:", view.kit.text())
        view.save()
        self.assertIn("BEGIN:VEVENT", (self.folder / "plan.ics").read_text())
        view.fields["rest"].setText("often")
        view.draw_up()
        self.assertIn("often", view.says.text())
        self.assertGreater(NOW, 0)


if __name__ == "__main__":
    unittest.main()
