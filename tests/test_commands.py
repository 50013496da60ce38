"""The commands of learning and planning, as a teacher types them: every file that they write is read back."""

from __future__ import annotations

import csv
import io
import json
import os
import tempfile
import unittest
from collections.abc import Iterable
from datetime import datetime
from pathlib import Path
from typing import Any
from unittest import mock

from icalendar import Calendar
from pypdf import PdfReader

from tests.test_cli import call, data
from tests.test_plan import small_job
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import many
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.store import save
from wise_compass.practice.problems import problem_of
from wise_compass.study.measures import exactly, named
from wise_compass.terminal.names import names
from wise_compass.terminal.parsing import command


class AtHome(unittest.TestCase):
    """In a house of one's own: what is kept of a person lies in a folder that goes with the test."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        homes = {
            name: str(self.folder / name.lower()) for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME")
        }
        self.enterContext(mock.patch.dict(os.environ, homes))

    def refused(self, *arguments: str) -> str:
        status, out, err = call(*arguments)
        self.assertEqual((status, out, err.count("\n")), (2, "", 1), err)
        return err

    def rows(self, name: str) -> list[dict[str, str]]:
        return list(csv.DictReader(io.StringIO((self.folder / name).read_text(encoding="utf-8-sig"))))


class Classes(AtHome):
    def set_of(self, *more: str) -> Any:
        paths = ("--out", f"{self.folder}/w.pdf", "--key", f"{self.folder}/k.csv", "--sheet", f"{self.folder}/c.csv")
        return data("practice", "rhombus", "--pupils", "4", "--seed", "7", *paths, *more, "--json")["problems"]

    def measured(self, code: str, names: Iterable[str], slip: str | None = None) -> dict[str, str]:
        """What a drawing of a problem measures, in mm on the paper, by a hand that makes a slip or none."""
        problem = problem_of(code)
        made = run(figure_named(problem.figure)(**problem.givens), problem.method, slip=slip)
        names = list(names)
        exact = exactly(made, [named(made, name) for name in names], problem.scale)
        return {name: f"{value:.2f}" for name, value in zip(names, exact)}

    def hand_in(self, slip: str | None = None) -> None:
        """The class's sheet filled in; the first pupil makes a slip."""
        filled = self.rows("c.csv")
        blank = [dict(row) for row in filled]
        for k, row in enumerate(filled):
            row |= self.measured(row["problem"], [name for name in row if "-" in name], slip if k == 0 else None)
        with (self.folder / "c.csv").open("w", encoding="utf-8") as out:
            writer = csv.DictWriter(out, list(blank[0]))
            writer.writeheader()
            writer.writerows(filled)

    def test_a_seed_sets_the_same_again_and_the_codes_hold_the_problems(self) -> None:
        first, again = self.set_of(), self.set_of()
        self.assertEqual(first, again)
        self.assertEqual(len({one["code"] for one in first}), 4)
        for one in first:
            problem = problem_of(one["code"])
            self.assertEqual((problem.figure, problem.words()), ("rhombus", one["words"]))
        self.assertEqual(
            len(PdfReader(self.folder / "w.pdf").pages) // 4, 3
        )  # each with its solution behind it, and its steps

    def test_the_key_is_what_the_figure_comes_to(self) -> None:
        told = self.set_of("--no-solutions")
        self.assertEqual(len(PdfReader(self.folder / "w.pdf").pages), 4)
        for one, row in zip(told, self.rows("k.csv")):
            names = [name for name in row if "-" in name and row[name]]
            self.assertGreater(len(names), 1)
            self.assertEqual({name: row[name] for name in names}, self.measured(one["code"], names))

    def test_words_go_to_everybody_who_is_named(self) -> None:
        (self.folder / "names.txt").write_text("Ada Thorne\n\nBen Holt\n", encoding="utf-8")
        status, out, err = call("practice", "--family", "conics", "--pupils", f"{self.folder}/names.txt", "--seed", "3")
        self.assertEqual((status, err), (0, ""))
        lines = out.splitlines()
        self.assertEqual([line.split(":")[0] for line in lines[::2]], ["Ada Thorne", "Ben Holt"])
        self.assertTrue(all(figure_named(problem_of(line.strip()).figure).family == "conics" for line in lines[1::2]))

    def test_a_class_is_marked_kept_and_practised_from(self) -> None:
        self.set_of()
        self.hand_in("rule-a-centimetre-off")
        status, out, _ = call("mark", f"{self.folder}/c.csv", "--out", f"{self.folder}/m.csv", "--keep")
        self.assertEqual(status, 0)
        marks = self.rows("m.csv")
        self.assertEqual(len(marks), 4)
        self.assertNotEqual(marks[0]["mark"], marks[1]["mark"])
        self.assertEqual({row["mark"] for row in marks[1:]}, {marks[1]["mark"]})
        self.assertIn("Pupil 1", out)
        told = data("mark", f"{self.folder}/c.csv", "--json")
        self.assertEqual(sum(one["count"] for one in told["most"]), 1)
        self.assertEqual([one["verdict"] for one in told["marks"][1:]], ["honest"] * 3)
        # what went wrong lately is what is set next
        code = problem_of(data("practice", "--lately", "--person", "Pupil 1", "--json")["problems"][0]["code"])
        self.assertEqual(code.figure, "rhombus")
        self.assertIn("Nothing has gone wrong", self.refused("practice", "--lately", "--person", "Pupil 2"))

    def test_what_cannot_be_set_or_marked(self) -> None:
        (self.folder / "twice.txt").write_text("Ada\nAda\n", encoding="utf-8")
        (self.folder / "none.txt").write_text("\n\n", encoding="utf-8")
        for words, what in (
            (["practice", "rhombus", "--pupils", f"{self.folder}/twice.txt"], "Ada is named twice"),
            (["practice", "rhombus", "--pupils", f"{self.folder}/none.txt"], "0 pupils"),
            (["practice", "rhombus", "--pupils", "0"], "from 1 to"),
            (["practice", "rhombus", "--out", f"{self.folder}/w.txt"], "pdf"),
            (["practice", "--seed", "-3"], "seed"),
            (["practice", "--family", "weaving"], "weaving"),
            (["mark", f"{self.folder}/nowhere.csv"], "nowhere.csv"),
            (["mark", f"{self.folder}/none.txt"], "pupil"),
        ):
            with self.subTest(words):
                self.assertIn(what, self.refused(*words))
        self.assertEqual(sorted(path.name for path in self.folder.glob("*.*")), ["none.txt", "twice.txt"])


class Logbooks(AtHome):
    def setUp(self) -> None:
        super().setUp()
        self.book = Path(self.folder / "in.csv")
        head = "id,at,kind,person,figure,method,verdict,minutes,measure,unit,exact,measured,sd,share,instrument"
        lines = [
            "a1,2026-11-24T09:00:00+00:00,check,Ada,rhombus,arcs,honest,12,A-C,mm,60,60.1,0.2,0.6,rule",
            "a2,2026-11-25T09:00:00+00:00,check,Ben,ellipse,two-circles,honest,20,,,,,,,",
        ]
        self.book.write_text("\n".join([head, *lines]) + "\n", encoding="utf-8")

    def taken(self) -> None:
        status, out, err = call("logbook", "--take", str(self.book))
        self.assertEqual((status, out, err), (0, "2 entries are taken in.\n", ""), err)

    def test_taken_in_told_written_forgotten_and_taken_in_again(self) -> None:
        self.taken()
        status, out, _ = call("logbook")
        self.assertEqual(status, 0)
        self.assertTrue(out.startswith("2 entries\n"), out)
        everything = data("logbook", "--json")
        status, out, _ = call("logbook", "--out", f"{self.folder}/out.csv")
        self.assertEqual(out, "2 entries are in out.csv.\n")
        self.assertEqual(call("logbook", "--forget", "a1")[1], "1 entry is forgotten.\n")
        self.assertEqual(call("logbook", "--forget", "all")[1], "1 entry is forgotten.\n")
        self.assertTrue(call("logbook")[1].startswith("0 entries\n"))
        self.assertEqual(call("logbook", "--take", f"{self.folder}/out.csv")[0], 0)
        self.assertEqual(data("logbook", "--json"), everything)
        call("logbook", "--out", f"{self.folder}/out.json")
        self.assertEqual(json.loads((self.folder / "out.json").read_text()), everything)

    def test_only_what_is_asked_for(self) -> None:
        self.taken()
        for words, count in (
            (["--person", "Ada"], 1), (["--family", "conics"], 1), (["--since", "2026-11-25"], 1), (["--until",
            "2026-11-25"], 1),
            (["--since", "2026-12-01"], 0),
        ):  # fmt: skip
            self.assertTrue(call("logbook", *words)[1].startswith(f"{many(count, 'entry', 'entries')}\n"), words)

    def test_what_cannot_be(self) -> None:
        self.taken()
        self.assertIn("since is “Tuesday”", self.refused("logbook", "--since", "Tuesday"))
        self.assertIn("There is no entry a9", self.refused("logbook", "--forget", "a9"))
        self.assertIn("csv", self.refused("logbook", "--out", f"{self.folder}/out.pdf"))
        self.assertIn("nowhere.csv", self.refused("logbook", "--take", f"{self.folder}/nowhere.csv"))
        self.assertTrue(call("logbook")[1].startswith("2 entries\n"))


class Plans(AtHome):
    START = "2026-11-26T08:00"

    def setUp(self) -> None:
        super().setUp()
        self.job = self.folder / "job.json"
        save(small_job(), self.job)

    def test_every_form_of_it_tells_the_same_times(self) -> None:
        made = data("plan", str(self.job), "--start", self.START, "--json")
        sheets = made["sheets"]
        self.assertEqual(len(sheets), 3)
        for ending in ("csv", "ics", "pdf", "json"):
            status, out, err = call(
                "plan", str(self.job), "--start", self.START, "--out", f"{self.folder}/plan.{ending}"
            )
            self.assertEqual((status, out, err), (0, f"The plan is in plan.{ending}.\n", ""))
        self.assertEqual(json.loads((self.folder / "plan.json").read_text()), made)
        self.assertEqual([row["title"] for row in self.rows("plan.csv")], [one["title"] for one in sheets])
        events = [
            part for part in Calendar.from_ical((self.folder / "plan.ics").read_text()).walk() if part.name == "VEVENT"
        ]
        self.assertEqual(events[0]["DTSTART"].dt, datetime.fromisoformat(self.START))
        page = PdfReader(self.folder / "plan.pdf").pages[0].extract_text()
        words = call("plan", str(self.job), "--start", self.START)[1]
        for one in sheets:
            self.assertIn(one["title"], page)
            self.assertIn(one["title"], words)

    def test_breaks_and_the_end_of_a_day_are_kept(self) -> None:
        long = data("plan", str(self.job), "--start", self.START, "--work", "10", "--rest", "5", "--json")
        none = data("plan", str(self.job), "--start", self.START, "--work", "0", "--json")
        self.assertGreater(long["sheets"][-1]["end"], none["sheets"][-1]["end"])
        days = data(
            "plan", str(self.job), "--start", self.START, "--day", "30", "--work", "5", "--rest", "20", "--json"
        )
        self.assertGreater(len({one["begin"][:10] for one in days["sheets"]}), 1)

    def test_what_cannot_be(self) -> None:
        for words, what in (
            (["--start", "tomorrow"], "start is “tomorrow”"), (["--work", "-1"], "Raise work"), (["--rest", "481"],
            "Lower rest"),
            (["--day", "9999"], "Lower day"), (["--week", "8"], "--week"), (["--out", f"{self.folder}/plan.svg"],
            "csv"),
        ):  # fmt: skip
            self.assertIn(what, self.refused("plan", str(self.job), *words))
        self.assertIn("nowhere.json", self.refused("plan", f"{self.folder}/nowhere.json"))


class Help(unittest.TestCase):
    def asked(self, *words: str) -> str:
        with self.assertRaises(SystemExit) as caught, mock.patch("sys.stdout", new_callable=io.StringIO) as out:
            call_bare(*words)
        self.assertEqual(caught.exception.code, 0)
        return out.getvalue()

    def test_every_command_tells_what_it_takes(self) -> None:
        whole = self.asked("--help")
        for name, says in ((name, command(name).SAYS) for name in names()):
            self.assertIn(name, whole)
            told = self.asked(name, "--help")
            self.assertTrue(told.startswith(f"usage: wise-compass {name} "), told)
            self.assertIn(says.split(":")[0].split(",")[0][:30], " ".join(told.split()))

    def test_it_is_as_wide_as_the_terminal(self) -> None:
        for wide in (70, 120):
            with mock.patch.dict(os.environ, {"COLUMNS": str(wide)}):
                lines = self.asked("draw", "--help").splitlines()
            self.assertLessEqual(max(map(len, lines)), wide)
            self.assertGreater(max(map(len, lines)), wide - 20)


def call_bare(*words: str) -> None:
    from wise_compass.terminal.main import main

    main(list(words))


if __name__ == "__main__":
    unittest.main()
