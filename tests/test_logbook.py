"""The logbook: whole after kills, safe with two writers, damage kept aside, migrated after a backup, and what it
tells."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.files import csv_text, json_text, read_csv
from wise_compass.logbook.plots import plots
from wise_compass.logbook.reckon import Filter, Snapshot, gone_wrong, tables, told
from wise_compass.logbook.store import STEPS, VERSION, Logbook, Noted, NotedMeasure, new_noted_id

NOW = 1_795_600_000.0


def entry(k: int = 0, **changes: object) -> Noted:
    one = Noted(
        f"entry-{k}", NOW + k, "practice", "Ada", "polygons", "polygon-on-side", "circumcentre", {"side": 47.0,
        "sides": 6}, 1.0, {},
        "honest", None, None, "An honest drawing", "within a steady hand", 16.0, 8, None,
        (NotedMeasure("A-D", "mm", 94.0, 94.3, 0.3, 0.3), NotedMeasure("B-E", "mm", 94.0, 93.7, 0.3, 0.3, "dividers")),
    )  # fmt: skip
    return one._replace(**changes)


KILLS = """
import os, random, signal, sys, time
from pathlib import Path
from tests.test_logbook import entry
from wise_compass.logbook.store import Logbook
folder, count = Path(sys.argv[1]), int(sys.argv[2])
random.seed(4)
for k in range(count):
    child = os.fork()
    if child == 0:
        book, n = Logbook(folder), 0
        while True:
            book.note([entry(n, id=f"{k}-{n}"), entry(n, id=f"{k}-{n}-twin")])
            n += 1
    time.sleep(random.uniform(0.0, 0.02))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    ids = {one.id for one in Logbook(folder).entries("id LIKE ?", [f"{k}-%"])}
    assert not Logbook(folder).said
    whole = len(ids) // 2
    assert ids == {f"{k}-{n}" for n in range(whole)} | {f"{k}-{n}-twin" for n in range(whole)}, ids
print(len(Logbook(folder).entries()))
"""
TWO = """
import os, sys
from pathlib import Path
from tests.test_logbook import entry
from wise_compass.logbook.store import Logbook
children = []
for who in range(2):
    child = os.fork()
    if child == 0:
        for n in range(40):
            Logbook(Path(sys.argv[1])).note([entry(n, id=f"{who}-{n}")])
        os._exit(0)
    children.append(child)
print([os.waitpid(child, 0)[1] for child in children], len(Logbook(Path(sys.argv[1])).entries()))
"""
LOCKED = """
import os, sys
from pathlib import Path
from tests.test_logbook import entry
from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.store import Logbook
if os.getuid() == 0:
    os.setgid(65534)
    os.setuid(65534)
book = Logbook(Path(sys.argv[1]))
print(len(book.entries()))
try:
    book.note([entry(9)])
except Refused as refusal:
    print(refusal.says)
"""


def ran(script: str, *arguments: object) -> str:
    told = subprocess.run([sys.executable, "-c", script, *map(str, arguments)], capture_output=True, text=True)
    assert told.returncode == 0, told.stderr
    return told.stdout


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "data"
        self.book = Logbook(self.folder)

    def test_what_is_noted_is_read_back_as_it_was(self) -> None:
        self.assertEqual(self.book.entries(), [])
        self.assertFalse(self.folder.exists(), "reading makes nothing")
        self.book.note([entry(1), entry(2, slip="other-crossing", verdict="slip")])
        self.assertEqual(self.book.entries(), [entry(2, slip="other-crossing", verdict="slip"), entry(1)])
        self.book.note([entry(1, mark="loose")])
        self.assertEqual([one.mark for one in self.book.entries()], ["within a steady hand", "loose"])
        self.assertEqual(self.book.forget(["entry-1"]), 1)
        self.assertEqual(self.book.forget(), 1)
        with sqlite3.connect(self.book.file) as connection:
            self.assertEqual(connection.execute("SELECT count(*) FROM measures").fetchone()[0], 0)

    def test_two_hundred_kills_leave_every_entry_whole_or_away(self) -> None:
        self.assertGreater(int(ran(KILLS, self.folder, 200)), 20)

    def test_two_processes_write_and_nothing_is_lost(self) -> None:
        self.assertEqual(ran(TWO, self.folder).strip(), "[0, 0] 80")

    def test_a_folder_that_cannot_be_written_is_read_and_said(self) -> None:
        self.book.note([entry(1)])
        self.folder.parent.chmod(0o755)
        self.folder.chmod(0o555)
        self.book.file.chmod(0o444)
        self.addCleanup(self.folder.chmod, 0o755)
        count, says = ran(LOCKED, self.folder).splitlines()
        self.assertEqual(count, "1")
        self.assertIn("cannot be written: nothing was noted", says)

    def test_a_full_disk_is_said_and_nothing_is_half_written(self) -> None:
        self.book.note([entry(1)])
        reached = Logbook._reached

        def full(book: Logbook, mode: str) -> sqlite3.Connection:
            connection = reached(book, mode)
            connection.execute(f"PRAGMA max_page_count = {connection.execute('PRAGMA page_count').fetchone()[0]}")
            return connection

        with mock.patch.object(Logbook, "_reached", full), self.assertRaises(Refused) as caught:
            self.book.note([entry(k, says="x" * 2000) for k in range(2, 40)])
        self.assertIn("is full: nothing was noted", caught.exception.says)
        self.assertEqual(self.book.entries(), [entry(1)])

    def test_a_damaged_file_is_kept_aside_said_and_a_new_one_begun(self) -> None:
        self.book.note([entry(k) for k in range(200)])
        whole = self.book.file.read_bytes()
        for damaged in (b"no logbook at all, but words" * 400, whole[:4096] + os.urandom(4096) + whole[8192:]):
            self.book.file.write_bytes(damaged)
            book = Logbook(self.folder)
            book.note([entry(7)])
            self.assertIn("kept aside", book.said)
            self.assertEqual(book.entries(), [entry(7)])
            aside = [file.read_bytes() for file in self.folder.glob("logbook-damaged-*")]
            self.assertIn(damaged, aside)

    def test_a_file_of_the_next_version_is_refused_untouched(self) -> None:
        self.book.note([entry(1)])
        with sqlite3.connect(self.book.file) as connection:
            connection.execute(f"PRAGMA user_version = {VERSION + 1}")
        before = self.book.file.read_bytes()
        for do in (self.book.entries, lambda: self.book.note([entry(2)]), self.book.forget):
            with self.assertRaises(Refused) as caught:
                do()
            self.assertIn("newer Wise Compass", caught.exception.says)
        self.assertEqual(self.book.file.read_bytes(), before)

    def test_an_older_file_is_backed_up_and_migrated(self) -> None:
        self.folder.mkdir()
        with sqlite3.connect(self.book.file) as connection:
            for statement in STEPS[1]:
                connection.execute(statement)
            connection.execute(
                "INSERT INTO entries VALUES ('old', 1, 'check', 'Ada', 'polygons', 'rhombus', "
                "'arcs', '{}', 1, '{}', 'honest', NULL, NULL, "
                "'', '', NULL, 3)"
            )
            connection.execute("PRAGMA user_version = 1")
        before = self.book.file.read_bytes()
        self.assertEqual([one.id for one in self.book.entries()], ["old"])
        self.assertEqual(self.book.file.read_bytes(), before, "reading migrates nothing on the disk")
        self.book.note([entry(1)])
        self.assertEqual({one.id for one in self.book.entries()}, {"old", "entry-1"})
        with sqlite3.connect(self.folder / "logbook-version-1.sqlite") as connection:
            self.assertEqual(connection.execute("SELECT id FROM entries").fetchall(), [("old",)])

    def test_pictures_are_kept_by_hash_and_go_with_the_last_entry_that_has_them(self) -> None:
        self.book.note([entry(1), entry(2)])
        name = self.book.attach("entry-1", b"\x89PNG one", "png")
        self.assertEqual(self.book.attach("entry-2", b"\x89PNG one", "png"), name)
        self.assertEqual([file.name for file in (self.folder / "pictures").iterdir()], [name])
        with self.assertRaises(Refused):
            self.book.attach("nobody", b"\x89PNG two", "png")
        self.book.forget(["entry-1"])
        self.assertTrue((self.folder / "pictures" / name).exists())
        self.book.forget(["entry-2"])
        self.assertFalse((self.folder / "pictures" / name).exists())

    @settings(max_examples=examples(80), deadline=None)
    @given(st.text('atfigure,methodverdict"\n-29:.éx', max_size=90), st.booleans())
    def test_no_csv_brings_anything_but_entries_or_one_line(self, words: str, headed: bool) -> None:
        try:
            read_csv(("at,figure,method,verdict,minutes\n" if headed else "") + words)
        except Refused as refusal:
            self.assertEqual(refusal.says.splitlines(), [refusal.says])

    def test_what_a_refusal_repeats_leaves_it_one_line(self) -> None:
        with self.assertRaises(Refused) as caught:
            read_csv('at,figure,method,verdict,minutes\n,"2\n2",a,b,1\n')
        self.assertIn("“2 2” is no figure", str(caught.exception))

    def test_a_picture_is_attached_to_nobody_and_nothing_is_left_of_it(self) -> None:
        self.book.note([entry(1)])
        with self.assertRaises(Refused):
            self.book.attach("nobody", b"\x89PNG one", "png")
        self.assertEqual(list((self.folder / "pictures").glob("*")), [])


class Told(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        wrong = {"verdict": "slip", "slip": "other-crossing", "says": "The other of two crossings."}
        self.book.note(
            [
                *(entry(k) for k in range(4)),
                *(entry(k, **wrong, minutes=24.0) for k in range(4, 7)),
                entry(
                    7,
                    verdict="step",
                    step=4,
                    says="Step 4.",
                    figure="rhombus",
                    method="arcs",
                    person="Ben",
                    minutes=None,
                ),
                entry(8, family="conics", figure="ellipse", method="concentric", at=NOW - 90 * 86400.0),
            ]
        )

    def test_slips_scatter_and_pace_are_as_counted_by_hand(self) -> None:
        every = told(self.book)
        first = every.wrongs[0]
        self.assertEqual((first.slip, first.times, first.of), ("other-crossing", 3, 7))
        self.assertEqual((every.wrongs[1].step, every.wrongs[1].times, every.wrongs[1].of), (4, 1, 1))
        spreads = {(one.instrument, one.month): one for one in every.spreads}
        self.assertEqual(len(spreads), 4)
        for one in spreads.values():
            self.assertAlmostEqual(one.ratio, 1.0)
        paces = {one.figure: one for one in every.paces}
        self.assertAlmostEqual(paces["polygon-on-side"].minutes, (4 * 2 + 3 * 3) / 7)
        self.assertNotIn("rhombus", paces)

    def test_filters_let_through_what_they_say(self) -> None:
        snapshot = Snapshot(self.book)
        for chosen, count in (
            (Filter(), 9), (Filter(person="Ben"), 1), (Filter(family="conics"), 1), (Filter(since=NOW), 8),
            (Filter(until=NOW), 1),
            (Filter(NOW, NOW + 3, "polygons", "Ada"), 3),
        ):  # fmt: skip
            self.assertEqual(snapshot.told(chosen).entries, count, chosen)
            self.assertEqual(len(self.book.entries(*chosen.where)), count, chosen)
        self.assertEqual(snapshot.people, ["Ada", "Ben"])
        self.assertEqual(gone_wrong(self.book, now=NOW + 60), ["polygon-on-side", "rhombus"])

    def test_csv_and_json_hold_everything_and_csv_comes_back(self) -> None:
        entries = [
            *self.book.entries(),
            self.book.entries()[0]._replace(id="formula", person="=1+1", says="-A1 measured", mark="@bad"),
        ]
        self.assertIn(",'=1+1,", csv_text(entries))
        back = {one.id: one for one in read_csv(csv_text(entries))}
        self.assertEqual(set(back), {one.id for one in entries})
        for one in entries:
            self.assertEqual(back[one.id]._replace(picture=one.picture), one)
        self.assertEqual(json_text(entries).count('"id":'), 10)

    def test_csv_that_cannot_be_is_refused_by_row(self) -> None:
        head = "at,figure,method,verdict,minutes\n"
        for text, part in (
            ("at,figure,method\n", "verdict is missing"),
            (head + "2026-11-25,ellipse,x,honest,-4\n", "Row 2: minutes is less than 0"),
            (head + "2026-11-25,ellipse,x,honest,\nyesterday,ellipse,x,honest,\n", "Row 3: at"),
            (head + "2026-11-25,lipse,x,honest,\n", "no figure"),
            (head + "2026-11-25,ellipse,x,perhaps,\n", "verdict is none of"),
            (head + "2026-11-25,ellipse,x,honest,nan\n", "is no number"),
        ):
            with self.assertRaises(Refused) as caught:
                read_csv(text)
            self.assertIn(part, caught.exception.says)

    def test_each_plot_is_a_picture_and_has_its_table(self) -> None:
        every = told(self.book)
        made = plots(every)
        for name, (head, rows) in tables(every).items():
            self.assertTrue(made[name].startswith(b"\x89PNG"), name)
            self.assertTrue(all(len(row) == len(head) for row in rows) and rows, name)
        self.assertEqual(set(plots(told(self.book, Filter(person="Nobody"))).values()), {b""})

    def test_ids_differ(self) -> None:
        self.assertEqual(len({new_noted_id() for _ in range(1000)}), 1000)
        self.assertLess(NOW, time.time() + 366 * 86400)


if __name__ == "__main__":
    unittest.main()
