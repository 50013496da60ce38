"""The job file: schema, refusals, atomic saves under kills, recovery, undo."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from dataclasses import replace
from pathlib import Path

import fastjsonschema
from hypothesis import given, settings
from hypothesis import strategies as st
from tools import declared as declarations

from tests import examples
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wishes import declared
from wise_compass.job.demo import DEMO_FILE, demo_job
from wise_compass.job.history import DEEPEST, History
from wise_compass.job.model import Entry, Job, SheetPlan, from_data, to_data
from wise_compass.job.recovery import Keeper, left_behind
from wise_compass.job.settings import Settings
from wise_compass.job.store import LARGEST, load, parse_job, save, schema
from wise_compass.shop.wish import ShopWish
from wise_compass.study.tablewish import TableWish

SAVER = """
import sys
from dataclasses import replace
from pathlib import Path
from wise_compass.job.demo import demo_job
from wise_compass.job.store import save
path, job = Path(sys.argv[1]), demo_job()
for n in range(100000):
    save(job._replace(title=f"Wrenfold Mill {n}"), path)
    print(n, flush=True)
"""


class Declared(unittest.TestCase):
    """What may be wished for is declared once; schema, docs and command line say the same."""

    def test_the_schema_and_the_page_about_the_file_are_written_from_it(self) -> None:
        self.assertEqual(declarations.SCHEMA.read_text("utf-8"), declarations.schema_text(), "python -m tools.declared")
        page = declarations.JOB_FORMAT.read_text("utf-8")
        self.assertEqual(page, declarations.job_format_text(page), "python -m tools.declared")

    def test_every_key_of_the_schema_stands_on_the_page(self) -> None:
        def keys(schema: object) -> set[str]:
            if isinstance(schema, list):
                return {key for part in schema for key in keys(part)}
            if not isinstance(schema, dict):
                return set()
            own = set(schema.get("properties", {}))
            return own.union(*(keys(part) for part in schema.values()))

        page = declarations.JOB_FORMAT.read_text("utf-8")
        self.assertEqual({key for key in keys(schema()) if f"`{key}`" not in page}, set())

    def test_a_value_out_of_bounds_is_refused_by_its_limit_and_so_is_it_in_a_file(self) -> None:
        for holder, name, good, bad in (
            (Entry, "grid", 0.0, 0.5),
            (Entry, "grid", 1000.0, 1001.0),
            (Entry, "hidden", "out", "never"),
            (SheetPlan, "scale", "1:50", "1:0"),
            (TableWish, "decimals", 6, 7),
            (ShopWish, "sheet_long", 1.0, 0.0),
            (Settings, "units", "in", "ell"),
        ):
            asked = declared(holder)[name]
            asked.check(good)
            with self.assertRaises(Refused) as refused:
                asked.check(bad)
            self.assertEqual(refused.exception.given, name)
            fastjsonschema.compile(asked.schema())(good)
            if (holder, bad) != (Entry, 0.5):  # a file may hold any grid from none up
                with self.assertRaises(fastjsonschema.JsonSchemaException):
                    fastjsonschema.compile(asked.schema())(bad)


class JobFile(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name)

    def test_what_is_saved_is_what_is_loaded(self) -> None:
        job = demo_job()
        job = job.with_entry(
            job.entries()[1].id, lambda e: replace(e, typed={"length": "200 mm"}, shift=(3.0, -2.5), notes="a\nb")
        )
        save(job, self.path / "job.json")
        self.assertEqual(load(self.path / "job.json"), job)
        self.assertEqual(from_data(to_data(job)), job)

    def test_files_that_are_no_jobs_get_a_clear_answer_and_stay(self) -> None:
        good = to_data(demo_job())
        cases = {
            "{": "damaged",
            "[]": "not a Wise Compass job",
            '{"format": "other"}': "not a Wise Compass job",
            json.dumps({**good, "version": 99}): "newer",
            json.dumps({**good, "sheets": 5}): "damaged",
            "[" * 100000: "damaged",
            json.dumps({**good, "surprise": 1}): "damaged",
        }
        for text, hint in cases.items():
            file = self.path / "bad.json"
            file.write_text(text)
            with self.assertRaises(Refused) as caught:
                load(file)
            self.assertIn(hint, caught.exception.says)
            self.assertEqual(file.read_text(), text)
        (self.path / "bad.json").write_bytes(b"\xff\xfe\x00")
        with self.assertRaises(Refused):
            load(self.path / "bad.json")
        with open(self.path / "huge.json", "wb") as huge:
            huge.truncate(LARGEST + 1)
        with self.assertRaises(Refused) as caught:
            load(self.path / "huge.json")
        self.assertIn("20 MB", caught.exception.says)

    def test_killing_two_hundred_saves_loses_nothing(self) -> None:
        file = self.path / "job.json"
        rng = random.Random(8)
        kills = saves = 0
        while saves < 200:
            process = subprocess.Popen([sys.executable, "-c", SAVER, str(file)], stdout=subprocess.PIPE)
            assert process.stdout is not None
            process.stdout.readline()
            time.sleep(rng.uniform(0.0, 0.12))
            process.send_signal(signal.SIGKILL)
            rest = process.stdout.read().split()
            process.wait()
            process.stdout.close()
            last = int(rest[-1]) if rest else 0
            kills, saves = kills + 1, saves + last + 1
            found = int(load(file).title.split()[-1])
            self.assertIn(
                found, (last, last + 1), "the file holds the last save that was reported, or the one under way"
            )
        self.assertGreaterEqual(kills, 2)

    def test_work_of_a_killed_process_is_found_again(self) -> None:
        keeper = Keeper(self.path)
        keeper.keep(demo_job(), Path("/somewhere/job.json"))
        os.rename(keeper.file, self.path / "999999.json")
        (self.path / "888888.json").write_text("half a fi")
        found = left_behind(self.path)
        self.assertEqual([(one.job, one.path) for one in found], [(demo_job(), Path("/somewhere/job.json"))])
        found[0].forget()
        self.assertEqual(left_behind(self.path), [])

    def test_the_demo_is_a_job_for_which_everything_fits(self) -> None:
        from wise_compass.job.build import build_sheet

        job = load(DEMO_FILE)
        self.assertEqual(job, demo_job())
        self.assertGreaterEqual(len(job.entries()), 6)
        for index in range(len(job.sheets)):
            self.assertEqual(build_sheet(job, index).warnings, [])


class Edits(unittest.TestCase):
    def test_undo_and_redo_every_edit(self) -> None:
        history = History(demo_job())
        states = [history.job]
        arch = history.job.entries()[1].id
        for edit in (
            lambda j: j.added(Entry("ellipse", "Spout"), arch),
            lambda j: j.removed(arch),
            lambda j: j.moved(j.entries()[0].id, 1),
            lambda j: j.with_sheet(0, paper="A3"),
            lambda j: j.rehoused(j.entries()[-1].id),
            lambda j: j._replace(title="Another"),
        ):
            history.edit(edit(history.job), "Edit")
            states.append(history.job)
        self.assertEqual(len({id(s) for s in states}), 7)
        for state in reversed(states[:-1]):
            self.assertTrue(history.undo())
            self.assertEqual(history.job, state)
        self.assertFalse(history.undo())
        self.assertFalse(history.unsaved)
        for state in states[1:]:
            self.assertTrue(history.redo())
            self.assertEqual(history.job, state)

    def test_a_held_nudge_is_one_edit(self) -> None:
        history = History(Job("a"))
        for title in "bcd":
            history.edit(Job(title), "Change", key="same")
        history.undo()
        self.assertEqual(history.job.title, "a")

    @settings(max_examples=examples(200), deadline=None)
    @given(
        st.lists(
            st.tuples(st.sampled_from(["edit", "edit", "nudge", "undo", "redo", "save"]), st.integers(0, 5)),
            max_size=40,
        )
    )
    def test_any_deeds_against_two_plain_stacks(self, deeds: list[tuple[str, int]]) -> None:
        history = History(Job("0"))
        before, now, after = list[str](), "0", list[str]()
        held, saved = False, "0"
        for deed, number in deeds:
            if deed in ("edit", "nudge") and str(number) != now:
                if not (deed == "nudge" and held and before):
                    before.append(now)
                now, after, held = str(number), [], deed == "nudge"
                history.edit(Job(now), f"to {now}", "nudge" if deed == "nudge" else "")
            elif deed in ("edit", "nudge"):
                history.edit(Job(now), "nothing", "nudge" if deed == "nudge" else "")
            elif deed == "save":
                history.mark_saved()
                saved, held = now, False
            else:
                source, target = (before, after) if deed == "undo" else (after, before)
                self.assertEqual(getattr(history, deed)(), bool(source))
                if source:
                    target.append(now)
                    now, held = source.pop(), False
            self.assertEqual(history.job.title, now)
            self.assertEqual(history.unsaved, now != saved)
            self.assertEqual((bool(history.undo_title), bool(history.redo_title)), (bool(before), bool(after)))

    def test_the_deepest_states_are_let_go(self) -> None:
        history = History(Job("0"))
        for k in range(1, DEEPEST + 21):
            history.edit(Job(str(k)), "Edit")
        undone = 0
        while history.undo():
            undone += 1
        self.assertEqual((undone, history.job.title), (DEEPEST, "20"))

    def test_moving_between_sheets_keeps_every_entry(self) -> None:
        job = demo_job()
        ids = {e.id for e in job.entries()}
        for entry in job.entries():
            for made in (job.moved(entry.id, 1), job.moved(entry.id, -1), job.rehoused(entry.id)):
                self.assertEqual({e.id for e in made.entries()}, ids)
        again = parse_job(json.dumps(to_data(job.rehoused("arch"))))
        self.assertEqual(len(again.sheets), len(job.sheets) - 1)
        self.assertEqual(again.find("arch")[1], len(again.sheets[again.find("arch")[0]].entries) - 1)
