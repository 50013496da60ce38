"""Nothing lost: work kept aside whatever the process numbers, files that others change, and jobs that are damaged."""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from tests import kills
from tests.fuzz import spoilt_jobs
from tests.test_desk import APP, DeskCase
from tests.test_flows import during_next_dialog
from wise_compass.drafting.refusals import Refused
from wise_compass.job.demo import DEMO_FILE, demo_job
from wise_compass.job.model import Job
from wise_compass.job.recovery import Keeper, left_behind
from wise_compass.job.store import job_text, load, parse_job, save

ROOT = Path(__file__).parent.parent
HOLDER = """
import sys, time
from pathlib import Path
from wise_compass.job.demo import demo_job
from wise_compass.job.recovery import Keeper
keeper = Keeper(Path(sys.argv[1]))
keeper.keep(demo_job()._replace(title=sys.argv[2]), None)
print("kept", flush=True)
time.sleep(60)
"""


class Recovery(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def holder(self, title: str) -> subprocess.Popen[str]:
        process = subprocess.Popen(
            [sys.executable, "-c", HOLDER, str(self.folder), title],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "PYTHONPATH": str(ROOT / "src")},
        )
        assert process.stdout is not None
        self.assertEqual(process.stdout.readline().strip(), "kept")
        self.addCleanup(process.stdout.close)
        return process

    def test_a_hundred_kills_lose_nothing_and_leave_nothing_lying(self) -> None:
        lost, strays, writings = kills.lot(100)
        self.assertEqual((lost, strays), ([], []))
        self.assertGreater(writings, 200)

    def test_work_of_a_living_window_is_not_offered_that_of_a_dead_one_is(self) -> None:
        living, dead = self.holder("Living"), self.holder("Dead")
        dead.kill()
        dead.wait()
        try:
            found = left_behind(self.folder)
            self.assertEqual([one.job.title for one in found], ["Dead"])
            self.assertEqual(left_behind(self.folder), [], "held by the first who asked")
            found[0].release()
            (again,) = left_behind(self.folder)
            again.forget()
            self.assertEqual(left_behind(self.folder), [])
        finally:
            living.kill()
            living.wait()
        (rest,) = left_behind(self.folder)
        self.assertEqual(rest.job.title, "Living")
        rest.forget()
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_process_numbers_that_come_round_again_lose_nothing(self) -> None:
        """Two processes of one number, as in containers: each keeps its own file."""
        names = {Keeper(self.folder).file.name for _ in range(50)}
        self.assertEqual(len(names), 50)
        with mock.patch("os.getpid", return_value=7):
            one, two = Keeper(self.folder), Keeper(self.folder)
            one.keep(demo_job()._replace(title="One"), None)
            two.keep(demo_job()._replace(title="Two"), None)
            two.drop()
        self.assertTrue(one.file.exists())
        one.drop()
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_newest_first_and_a_damaged_one_hides_none(self) -> None:
        for k, title in enumerate(("Old", "New")):
            keeper = Keeper(self.folder)
            keeper.keep(demo_job()._replace(title=title), Path("/somewhere/job.json"))
            os.close(keeper._held)
            os.utime(keeper.file, (1000.0 + k, 1000.0 + k))
        for name, text in (
            ("a.json", "half a fi"),
            ("b.json", "[1, 2]"),
            ("c.json", '{"job": "{}"}'),
            ("d.json", "[" * 5000),
        ):
            (self.folder / name).write_text(text)
        (self.folder / "e.json").mkdir()
        (self.folder / "f.json").symlink_to(self.folder / "nowhere")
        found = left_behind(self.folder)
        self.assertEqual([one.job.title for one in found], ["New", "Old"])
        self.assertEqual(found[0].path, Path("/somewhere/job.json"))

    def test_a_folder_that_cannot_be_written_is_told(self) -> None:
        blocked = self.folder / "file"
        blocked.write_text("")
        keeper = Keeper(blocked / "recovery")
        keeper.keep(demo_job(), None)
        self.assertIn("cannot be written", keeper.fault)
        keeper.drop()


class TwoWindows(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.file = self.folder / "mill.json"
        save(demo_job(), self.file)
        self.session.open(self.file)
        self.session.select("arch")
        self.session.set_given("wide", "70")

    def others_write(self) -> None:
        time.sleep(0.01)
        save(demo_job()._replace(title="Theirs"), self.file)

    def answer(self, words: str) -> None:
        during_next_dialog(lambda box: next(button for button in box.buttons() if button.text() == words).click())

    def test_a_file_that_none_touched_is_saved_unasked(self) -> None:
        self.assertEqual(self.session.on_disk, "")
        self.assertTrue(self.window.save())
        self.assertEqual(load(self.file).entry("arch").givens["wide"], 70)
        self.session.set_given("wide", "71")
        self.assertTrue(self.window.save(), "its own writing is no change")

    def test_keep_mine_take_theirs_or_stay(self) -> None:
        self.others_write()
        self.assertEqual(self.session.on_disk, "changed")
        self.answer("Stay")
        self.assertFalse(self.window.save())
        self.assertEqual(load(self.file).title, "Theirs")
        self.answer("Take theirs")
        self.assertTrue(self.window.save())
        self.assertEqual((self.session.job.title, self.session.on_disk), ("Theirs", ""))
        self.assertFalse(self.session.history.unsaved)
        self.session.undo()
        self.assertEqual(self.session.job.entry("arch").givens["wide"], 70, "mine can be had back")
        self.others_write()
        self.answer("Keep mine")
        self.assertTrue(self.window.save())
        self.assertEqual(load(self.file).entry("arch").givens["wide"], 70)

    def test_save_beside(self) -> None:
        self.others_write()
        beside = self.folder / "mine.json"
        self.window.ask_path = lambda *asked: (str(beside), "")
        self.answer("Save beside…")
        self.assertTrue(self.window.save())
        self.assertEqual(load(self.file).title, "Theirs")
        self.assertEqual(load(beside).entry("arch").givens["wide"], 70)
        self.assertEqual(self.session.path, beside)

    def test_a_file_that_is_gone_is_asked_about(self) -> None:
        self.file.unlink()
        self.assertEqual(self.session.on_disk, "gone")
        self.answer("Stay")
        self.assertFalse(self.window.save())
        self.assertFalse(self.file.exists())
        self.answer("Save it there again")
        self.assertTrue(self.window.save())
        self.assertEqual(load(self.file).entry("arch").givens["wide"], 70)

    def test_what_cannot_be_kept_is_said_once(self) -> None:
        blocked = self.folder / "plain"
        blocked.write_text("")
        self.session.keeper.folder = blocked / "kept"
        said: list[str] = []
        self.session.said.connect(said.append)
        for value in ("72", "73", "74"):
            self.session.set_given("wide", value)
            self.session._keep()
        APP.processEvents()
        self.assertEqual(sum("cannot be kept aside" in words for words in said), 1)

    def test_a_damaged_job_leaves_what_is_open_as_it_is(self) -> None:
        data = json.loads(job_text(demo_job()))
        data["sheets"][0]["entries"][0]["figure"] = "polygon-of-nothing"
        bad = self.folder / "bad.json"
        bad.write_text(json.dumps(data))
        before, path = self.session.job, self.session.path
        with self.assertRaises(Refused) as raised:
            self.session.open(bad)
        self.assertIn("sheet 1, figure 1", raised.exception.says)
        self.assertIn("bad.json", raised.exception.says)
        self.assertIs(self.session.job, before)
        self.assertEqual(self.session.path, path)


class Damaged(unittest.TestCase):
    def spoilt(self, change: Any) -> str:
        data = json.loads(DEMO_FILE.read_text("utf-8"))
        change(data["sheets"][1]["entries"][0])
        return json.dumps(data)

    def test_each_is_refused_in_one_line_that_names_the_place(self) -> None:
        def nested(entry: dict[str, Any]) -> None:
            entry["givens"]["length"] = [[[[[[1]]]]]]

        cases: list[tuple[Any, str]] = [
            (lambda entry: entry.update(figure="no-such"), "no figure"),
            (lambda entry: entry.update(method="by-magic"), "no method"),
            (lambda entry: entry.update(typed={"colour": "red"}), "no given “colour” (typed)"),
            (lambda entry: entry["givens"].update(weight=3), "no given “weight” (givens)"),
            (lambda entry: entry.update(shift=[1e300, 0]), "shift"),
            (lambda entry: entry["givens"].update(length=float("nan")), ""),
            (lambda entry: entry["givens"].update(length={"a": 1}), "neither a number"),
            (nested, "neither a number"),
            (lambda entry: entry.update(title="half a pair \ud83d"), "cannot be written again"),
            (lambda entry: entry.update(sides=["up"]), ""),
        ]
        for change, words in cases:
            with self.subTest(words=words), self.assertRaises(Refused) as raised:
                parse_job(self.spoilt(change), "mill.json")
            says = raised.exception.says
            self.assertIn("mill.json", says)
            self.assertIn(words, says)
            self.assertEqual(len(says.splitlines()), 1)

    def test_levels_without_end_are_refused(self) -> None:
        for levels in (200, 990, 5000, 100_000):
            deep = (
                '{"format": "wise-compass-job", "version": 1, "title": "x", "sheets": '
                + "[" * levels
                + "]" * levels
                + "}"
            )
            with self.assertRaises(Refused):
                parse_job(deep)
            givens = json.loads(DEMO_FILE.read_text("utf-8"))
            text = json.dumps(givens).replace('"length": 118', '"length": ' + "[" * levels + "1" + "]" * levels)
            with self.assertRaises(Refused):
                parse_job(text)

    def test_two_hundred_spoilt_jobs_open_whole_or_not_at_all(self) -> None:
        """Values swapped for hostile ones anywhere in the file: what opens can be saved again, the rest is one line."""
        opened = refused = 0
        for text in spoilt_jobs(200, random.Random(20261125)):
            began = time.monotonic()
            try:
                job = parse_job(text, "mill.json")
            except Refused as refusal:
                self.assertEqual(len(refusal.says.splitlines()), 1)
                refused += 1
            else:
                self.assertIsInstance(job, Job)
                self.assertEqual(parse_job(job_text(job)), job)
                opened += 1
            self.assertLess(time.monotonic() - began, 2.0)
        self.assertGreater(refused, 60)
        self.assertGreater(opened, 5)
