"""What was read is never written over, what is damaged is kept aside, and what a stranger sends is looked at first."""

from __future__ import annotations

import contextlib
import io
import json
import os
import sqlite3
import stat
import tempfile
import unittest
from pathlib import Path
from unittest import mock
from xml.etree import ElementTree

from tests.test_logbook import entry, ran
from wise_compass.drafting.refusals import Refused
from wise_compass.job.demo import demo_job
from wise_compass.job.dimensions import Names
from wise_compass.job.imports import polyline_from_svg
from wise_compass.job.model import Dimension, Job
from wise_compass.job.person import Person, change_person, keep_person, person, settings_file
from wise_compass.job.recovery import Keeper, left_behind
from wise_compass.job.store import job_text, save, stamp_of
from wise_compass.logbook.files import csv_text, read_csv
from wise_compass.logbook.store import Logbook
from wise_compass.outputs.files import own_folder, read_text, write_output, write_whole
from wise_compass.terminal.main import main


def cli(*words: str) -> tuple[int, str, str]:
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = main(list(words))
    return status, out.getvalue(), err.getvalue()


class InFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name: str, text: str = "") -> Path:
        path = self.folder / name
        path.write_text(text, "utf-8")
        return path


class Outputs(InFolder):
    def refused(self, *words: str) -> str:
        status, _, err = cli(*words)
        self.assertEqual(status, 2, f"{words}: {err}")
        self.assertEqual(len(err.strip().splitlines()), 1)
        return err

    def test_none_replaces_what_it_was_made_from(self) -> None:
        names = self.file("names.csv", "Ada\nBo\n")
        task = ("practice", "bisect-line", "--seed", "1")
        self.assertIn("made from", self.refused(*task, "--pupils", str(names), "--sheet", str(names)))
        self.assertEqual(names.read_text(), "Ada\nBo\n")
        sheet = self.folder / "class.csv"
        self.assertEqual(cli(*task, "--pupils", str(names), "--sheet", str(sheet))[0], 0)
        before = sheet.read_text()
        filled = self.file("filled.csv", before.replace(",\n", ",50\n"))
        self.assertIn("made from", self.refused("mark", str(filled), "--out", str(filled)))
        link = self.folder / "by-another-name.csv"
        link.symlink_to(filled)
        self.assertIn("made from", self.refused("mark", str(filled), "--out", str(link)))
        self.assertEqual(filled.read_text(), before.replace(",\n", ",50\n"))

    def test_two_of_one_command_are_two_files(self) -> None:
        one = self.folder / "both.csv"
        err = self.refused("practice", "bisect-line", "--key", str(one), "--sheet", str(one))
        self.assertIn("twice", err)
        self.assertFalse(one.exists())

    def test_none_replaces_a_job_were_it_a_damaged_one(self) -> None:
        for text in (job_text(demo_job()), job_text(demo_job())[:900], "\ufeff" + job_text(Job())):
            path = self.file("mill.json", text)
            self.assertIn("job file", self.refused("draw", "bisect-line", "--out", str(path)))
            self.assertEqual(path.read_text("utf-8"), text)

    def test_none_replaces_what_is_another_persons_or_no_file(self) -> None:
        theirs = self.file("theirs.svg", "theirs")
        with mock.patch("os.access", return_value=False):
            self.assertIn("read-only", self.refused("draw", "bisect-line", "--out", str(theirs)))
        self.assertEqual(theirs.read_text(), "theirs")
        loop = self.folder / "loop.svg"
        loop.symlink_to(loop)
        self.assertIn("link", self.refused("draw", "bisect-line", "--out", str(loop)))
        self.assertIn("cannot be written", self.refused("draw", "bisect-line", "--out", str(self.folder / "a\0b.svg")))
        self.assertIn(
            "cannot be written", self.refused("draw", "bisect-line", "--out", str(self.folder / f"{'x' * 300}.svg"))
        )

    def test_long_names_are_written(self) -> None:
        path = self.folder / f"{'é' * 125}.svg"  # 254 bytes
        write_whole(path, "drawn")
        write_output(path, "drawn again")
        self.assertEqual(path.read_text(), "drawn again")
        self.assertEqual([one.name for one in self.folder.iterdir()], [path.name])

    def test_only_the_head_of_a_large_file_is_read(self) -> None:
        path = self.folder / "large.svg"
        with path.open("wb") as file:
            file.truncate(40_000_000_000)  # of holes
        write_output(path, "drawn")
        self.assertEqual(path.read_text(), "drawn")

    def test_pipes_and_endless_devices_are_not_read(self) -> None:
        pipe = self.folder / "pipe.svg"
        os.mkfifo(pipe)
        for path in (pipe, Path("/dev/zero"), self.folder):
            with self.assertRaises(Refused):
                read_text(path, "a drawing")

    def test_signs_that_command_a_terminal_are_printed_as_their_escapes(self) -> None:
        status, out, err = cli("solve", "bisect-line", "length=\x1b[31m5\x07")
        self.assertEqual(status, 2)
        self.assertNotIn("\x1b", out + err)
        self.assertIn("\\x1b", err)

    def test_titles_of_any_signs_make_a_drawing_that_is_well_formed(self) -> None:
        from dataclasses import replace

        from wise_compass.job.build import build_sheet
        from wise_compass.outputs.svg import read_about, svg_text

        odd = "Sluice \x01\x1b\ufffe cam"
        job = demo_job()
        sheet = job.sheets[0]
        first = replace(sheet.entries[0], title=odd)
        job = job._replace(title=odd, sheets=(sheet._replace(title=odd, entries=(first, *sheet.entries[1:])),))
        text = svg_text(build_sheet(job, 0).drawing)
        ElementTree.fromstring(text.encode("utf-8"))
        self.assertEqual(read_about(text)["title"], odd, "the job within is as it was")


class Recovering(InFolder):
    def left(self, path: Path | None = None) -> None:
        keeper = Keeper(self.folder / "kept")
        keeper.keep(demo_job(), path, stamp_of(path))
        os.close(keeper._held)

    def test_what_was_saved_since_is_asked_about(self) -> None:
        from wise_compass.desk.session.session import Session

        path = self.folder / "mill.json"
        save(demo_job(), path)
        self.left(path)
        save(demo_job()._replace(title="Saved since"), path)
        (work,) = left_behind(self.folder / "kept")
        session = Session(Job(), None, Keeper(self.folder / "mine"))
        session.start_recovered(work)
        self.assertEqual(session.on_disk, "changed")
        self.assertTrue(session.history.unsaved)
        self.assertEqual(list((self.folder / "kept").iterdir()), [])

    def test_with_a_full_disk_the_only_copy_stays(self) -> None:
        from wise_compass.desk.session.session import Session

        self.left()
        (work,) = left_behind(self.folder / "kept")
        blocked = self.file("blocked")
        session = Session(Job(), None, Keeper(blocked / "recovery"))
        session.start_recovered(work)
        self.assertEqual(session.job.title, demo_job().title)
        self.assertEqual(len(left_behind(self.folder / "kept")), 1)

    def test_strays_are_taken_away_and_what_is_damaged_is_told_once(self) -> None:
        kept = self.folder / "kept"
        kept.mkdir()
        for name, text in (
            ("a.json", "half"),
            ("b.json", json.dumps({"path": "\0", "job": job_text(Job())})),
            ("dead.lock", ""),
            (".c.json.x.part", "half"),
        ):
            (kept / name).write_text(text)
        os.mkfifo(kept / "pipe.json")
        os.utime(kept / ".c.json.x.part", (0, 0))
        self.assertEqual(left_behind(kept), [])
        self.assertEqual({one.name for one in kept.iterdir()}, {"a.damaged", "b.damaged", "pipe.json"})
        for one in kept.glob("*.damaged"):
            os.utime(one, (0, 0))
        left_behind(kept)
        self.assertEqual({one.name for one in kept.iterdir()}, {"pipe.json"})


SCREENS = """
import os
from wise_compass.job.person import change_person, person
children = []
for who in range(2):
    child = os.fork()
    if child == 0:
        for k in range(25):
            change_person(lambda now: now.with_screen(f"{who}-{k}", 4.0))
        os._exit(0)
    children.append(child)
for child in children:
    os.waitpid(child, 0)
print(len(person().screens))
"""
MIGRATED = """
import os, sys
from contextlib import closing
from pathlib import Path
import sqlite3
from tests.test_logbook import entry, ran
from wise_compass.logbook.store import STEPS, Logbook
for k in range(12):
    folder = Path(sys.argv[1]) / str(k)
    folder.mkdir()
    with closing(sqlite3.connect(folder / "logbook.sqlite")) as connection:
        for statement in STEPS[1]:
            connection.execute(statement)
        connection.execute("PRAGMA user_version = 1")
        connection.commit()
    children = []
    for who in range(2):
        child = os.fork()
        if child == 0:
            for n in range(10):
                Logbook(folder).note([entry(n, id=f"{who}-{n}")])
            os._exit(0)
        children.append(child)
    print([os.waitpid(child, 0)[1] for child in children], len(Logbook(folder).entries()))
"""


class OfAPerson(unittest.TestCase):
    def setUp(self) -> None:
        keep_person(Person())
        self.addCleanup(keep_person, Person())

    def test_two_processes_at_once_lose_nothing(self) -> None:
        self.assertEqual(ran(SCREENS).strip(), "50")

    def test_a_newer_versions_keys_stay_and_a_damaged_file_is_kept(self) -> None:
        file = settings_file()
        file.write_text(json.dumps({**json.loads(file.read_text()), "ink": "green"}))
        change_person(lambda now: now._replace(theme="dark"))
        self.assertEqual(json.loads(file.read_text())["ink"], "green")
        file.write_text('{"theme": "dark", ')
        self.assertEqual(person(), Person())
        change_person(lambda now: now._replace(text=1.3))
        self.assertEqual(person().text, 1.3)
        self.assertEqual(file.with_suffix(".damaged").read_text(), '{"theme": "dark", ')

    def test_hostile_settings_are_left_away_one_by_one(self) -> None:
        settings_file().write_text(
            '{"theme": "dark", "kit": {"squares": ["x"], "compass_most": 1' + "0" * 400 + "}, "
            '"screens": {"a": 1'
            + "0" * 400
            + '}, "recent": ["'
            + "x" * 5000
            + '", "\\ud800", "a\\u0000b", "/mill.json"]}'
        )
        self.assertEqual(person(), Person(theme="dark", recent=("/mill.json",)))

    def test_nobodys_home_is_no_folder_of_the_program(self) -> None:
        with mock.patch.dict(os.environ, clear=True), mock.patch("os.path.expanduser", return_value="~"):
            self.assertTrue(own_folder("XDG_STATE_HOME", ".local").is_absolute())


class OfALogbook(InFolder):
    def test_what_no_entry_could_have_is_not_taken(self) -> None:
        good = csv_text([entry(1)])
        self.assertEqual(read_csv(good), [entry(1)])
        head, first, *_ = good.splitlines()
        place = head.split(",").index
        for name, value in (
            ("at", "9999-12-31T23:59:59-14:00"),
            ("at", "0001-01-01"),
            ("scale", "0"),
            ("scale", "-1"),
            ("steps", "-5"),
            ("step", "1e9"),
            ("id", "all"),
            ("id", "a b"),
            ("exact", "nan"),
            ("measured", "1e300"),
            ("person", "x" * 5000),
            ("givens", '"{""side"": NaN}"'),
        ):
            import csv

            row = next(csv.reader([first]))
            row[place(name)] = value.strip('"').replace('""', '"')
            out = io.StringIO()
            csv.writer(out).writerows([head.split(","), row])
            with self.subTest(name=name, value=value[:20]), self.assertRaises(Refused) as refused:
                read_csv(out.getvalue())
            self.assertIn("Row 2", refused.exception.says)

    def test_ten_thousand_measures_of_one_entry_are_read_at_once(self) -> None:
        head, first, *_ = csv_text([entry(1)]).splitlines()
        (one,) = read_csv("\n".join([head, *[first] * 10_000]))
        self.assertEqual(len(one.measures), 10_000)

    def test_a_bad_row_bars_no_other_and_can_be_forgotten(self) -> None:
        book = Logbook(self.folder)
        book.note([entry(1), entry(2), entry(3)])
        with sqlite3.connect(book.file) as connection:
            connection.execute("UPDATE entries SET at = 'noon' WHERE id = 'entry-1'")
            connection.execute("UPDATE entries SET givens = CAST(X'ff7b' AS TEXT) WHERE id = 'entry-2'")
        self.assertEqual([one.id for one in book.entries()], ["entry-3"])
        self.assertIn("entry-1", book.said)
        self.assertIn("entry-2", book.said)
        self.assertEqual(book.forget(["entry-1", "entry-2"]), 2)
        again = Logbook(self.folder)
        self.assertEqual([one.id for one in again.entries()], ["entry-3"])
        self.assertEqual(again.said, "")

    def test_a_damaged_one_is_set_aside_and_what_can_be_read_brought_over(self) -> None:
        for k, harm in enumerate(
            ("PRAGMA user_version = -5", "DROP TABLE measures", "ALTER TABLE entries DROP COLUMN says")
        ):
            book = Logbook(self.folder / str(k))
            book.note([entry(1), entry(2)])
            with sqlite3.connect(book.file) as connection:
                connection.execute(harm)
            kept = {one.id for one in book.entries()}
            self.assertIn("kept aside", book.said)
            self.assertEqual(kept, {"entry-1", "entry-2"} if "DROP COLUMN" not in harm else set())
            self.assertEqual(len(list(book.folder.glob("logbook-damaged-*"))), 1)
            book.note([entry(3)])
            self.assertEqual({one.id for one in Logbook(book.folder).entries()}, kept | {"entry-3"})

    def test_two_that_bring_an_old_one_up_to_date_at_once_both_write(self) -> None:
        self.assertEqual(ran(MIGRATED, self.folder).splitlines(), ["[0, 0] 20"] * 12)

    def test_it_is_its_owners_alone(self) -> None:
        before = os.umask(0o022)
        self.addCleanup(os.umask, before)
        book = Logbook(self.folder / "data")
        book.note([entry(1)])
        self.assertEqual([stat.S_IMODE(one.stat().st_mode) for one in (book.folder, book.file)], [0o700, 0o600])

    def test_a_verdict_that_cannot_be_noted_is_shown(self) -> None:
        with mock.patch.object(Logbook, "note", side_effect=Refused("", "Another window is writing the logbook.")):
            status, out, err = cli("check", "bisect-line", "--measured", "AM=38", "--keep")
        self.assertEqual(status, 2)
        self.assertIn("Another window", err)
        self.assertGreater(len(out), 40)


class Strangers(InFolder):
    def test_svg_of_any_depth_and_number_is_read_or_refused(self) -> None:
        path = '<path d="M0 0L96 0"/>'
        deep = f"<svg>{'<g>' * 5000}{path}{'</g>' * 5000}</svg>"
        self.assertEqual(polyline_from_svg(deep), [["0", "0"], ["25.4", "0"]])
        for transform in ("rotate(1e999)", "scale(1e308)", "skewX(1e400)", "matrix(1 0 0 1e300 0 0)"):
            with self.assertRaises(Refused):
                polyline_from_svg(f'<svg><g transform="{transform}">{path}</g></svg>')

    def test_a_heading_longer_than_csv_has_is_refused(self) -> None:
        wide = self.file("wide.csv", f"pupil,{'x' * 140_000},problem\nAda,1,2\n")
        for words in (("mark", str(wide)), ("logbook", "--take", str(wide))):
            status, _, err = cli(*words)
            self.assertEqual((status, len(err.strip().splitlines())), (2, 1))

    def test_odd_words_of_the_command_line(self) -> None:
        for words, says in (
            (("practice", "bisect-line", "--pupils", "²"), "names"),
            (("pattern", "elbow", "--top-lap", "1e-20"), "top_lap"),
            (("solve", "logarithmic-spiral", "turns=0.7"), "2/3"),
        ):
            status, _, err = cli(*words)
            self.assertEqual(status, 2, words)
            self.assertIn(says, err)
        self.assertEqual(cli("solve", "logarithmic-spiral", "turns=2/3")[0], 0)
        with mock.patch("wise_compass.drafting.run.run", side_effect=KeyboardInterrupt):
            status, _, err = cli("solve", "bisect-line")
        self.assertEqual((status, len(err.strip().splitlines())), (130, 1))


class NamesOfAJob(unittest.TestCase):
    def job(self, *told: tuple[str, str]) -> Job:
        return demo_job()._replace(dimensions=tuple(Dimension(name, words) for name, words in told))

    def test_a_long_chain_and_a_wide_circle_are_told_at_once(self) -> None:
        chain = self.job(("n 0", "10"), *((f"n {k}", f"n {k - 1} + 1") for k in range(1, 1500)))
        self.assertEqual(Names(chain).told("n 1499").value, 1509.0)
        count = 40
        circle = self.job(*((f"c {k}", f"c {(k + 1) % count} + c {(k + 2) % count}") for k in range(count)))
        names = Names(circle)
        for k in range(count):
            with self.assertRaises(Refused) as refused:
                names.told(f"c {k}")
            self.assertIn("circle", refused.exception.says)

    def test_what_cannot_be_read_is_told_in_the_words_typed(self) -> None:
        names = Names(self.job(("race", "76")))
        with self.assertRaises(Refused) as refused:
            names.read("race race", "length", "mm")
        self.assertIn("“race race”", refused.exception.says)
        self.assertNotIn("76.0", refused.exception.says)

    def test_a_name_that_hangs_on_a_circle_is_refused_and_its_neighbour_is_not(self) -> None:
        names = Names(self.job(("a", "b"), ("b", "a"), ("c", "a + 1"), ("d", "3 + e"), ("e", "4")))
        self.assertEqual(names.told("d").value, 7.0)
        for name in "abc":
            with self.assertRaises(Refused):
                names.told(name)
