"""What README and docs tell is true: every command runs as it stands there, every key does something, every file that
is named exists."""

from __future__ import annotations

import contextlib
import csv
import re
import shlex
import unittest
from pathlib import Path

from PySide6.QtGui import QKeySequence, QShortcut

from tests.test_cli import call
from tests.test_commands import AtHome
from tests.test_desk import DeskCase
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.job.demo import demo_job
from wise_compass.job.dimensions import with_dimension
from wise_compass.job.store import save

ROOT = Path(__file__).parent.parent
README = (ROOT / "README.md").read_text("utf-8")
COMMANDS = [
    shlex.split(line, comments=True)[1:] for line in README.splitlines() if line.startswith("    wise-compass ")
]
BEGINS = {".pdf": b"%PDF", ".svg": b"<", ".png": b"\x89PNG", ".jpg": b"\xff\xd8", ".ics": b"BEGIN:VCALENDAR"}


class Commands(AtHome):
    def setUp(self) -> None:
        super().setUp()
        self.enterContext(contextlib.chdir(self.folder))
        save(with_dimension(demo_job(), "", "race", "150 mm", "mm"), Path("mill.json"))

    def named(self, *words: str) -> list[str]:
        """The command of the README that begins so."""
        return next(command for command in COMMANDS if command[: len(words)] == list(words))

    def run_it(self, command: list[str]) -> str:
        status, out, err = call(*command)
        self.assertEqual(status, 0, f"{shlex.join(command)}: {err}")
        for option in ("--out", "--key", "--sheet"):
            if option in command and "." in command[command.index(option) + 1]:
                path = Path(command[command.index(option) + 1])
                if option == "--sheet" and command[0] != "practice":
                    continue
                self.assertTrue(path.read_bytes().startswith(BEGINS.get(path.suffix, b"")), path)
                self.assertGreater(path.stat().st_size, 60)
        return out

    def fill_in(self) -> None:
        """The class's sheet, from its key."""
        with open("key.csv", encoding="utf-8-sig") as key, open("class.csv", encoding="utf-8-sig") as blank:
            answers, rows = list(csv.DictReader(key)), list(csv.DictReader(blank))
        with open("class.csv", "w", encoding="utf-8") as out:
            writer = csv.DictWriter(out, list(rows[0]))
            writer.writeheader()
            writer.writerows(
                {name: row[name] or told.get(name, "") for name in row} for row, told in zip(rows, answers)
            )

    def test_every_one_runs_as_it_stands(self) -> None:
        self.assertGreater(len(COMMANDS), 25)
        self.run_it(self.named("photograph"))  # a person has a camera
        for command in COMMANDS:
            with self.subTest(shlex.join(command)):
                if command[0] == "mark":
                    self.fill_in()
                self.assertTrue(self.run_it(command) or "--out" in command)

    def test_every_figure_and_method_that_is_named_exists(self) -> None:
        for command in COMMANDS:
            if len(command) > 1 and command[0] in ("solve", "draw", "hands", "slips", "table", "stray", "pattern"):
                self.assertIn(command[1], ENTERED)
                if "--method" in command:
                    self.assertIn(command[command.index("--method") + 1], figure_named(command[1]).methods)


class Keys(DeskCase):
    def test_every_key_of_the_readme_does_something(self) -> None:
        told = set(re.findall(r"\b(?:Ctrl|Alt)(?:\+(?:Shift|Alt|[A-Z0-9,]|PgUp|PgDown|Up|Down))+(?![\w+])", README))
        self.assertGreater(len(told), 20)
        told.remove("Ctrl+C")  # of the list that has the focus
        known = {
            key.toString() for group in self.window.groups.values() for action in group for key in action.shortcuts()
        } | {one.key().toString() for one in self.window.findChildren(QShortcut)}
        for key in told:
            self.assertIn(QKeySequence(key).toString(), known, key)


class Files(unittest.TestCase):
    def test_every_picture_is_linked_and_there(self) -> None:
        linked = set(re.findall(r"\]\((docs/screenshots/[\w-]+\.png)\)", README))
        there = {str(path.relative_to(ROOT)) for path in (ROOT / "docs" / "screenshots").glob("*")}
        self.assertEqual(linked, there)
        self.assertLess(len(there), 20)

    def test_every_file_that_the_docs_name_is_there(self) -> None:
        names = {path.name for path in ROOT.glob("src/**/*.py")} | {path.name for path in ROOT.glob("t*/*.py")}
        names |= {path.name for path in ROOT.glob("bench/*.py")}
        folders = {path.name for path in ROOT.glob("src/wise_compass/**/") if path.is_dir()} | {
            "docs",
            "bench",
            "tools",
            "tests",
        }
        for document in ("docs/house.md", "docs/adding-a-figure.md", "README.md"):
            text = (ROOT / document).read_text("utf-8")
            for told in re.findall(r"`([\w/]+\.py)`", text):
                self.assertIn(told.rpartition("/")[2], names, f"{document}: {told}")
            for told in re.findall(r"`(\w+)/`", text):
                self.assertIn(told, folders, f"{document}: {told}/")


if __name__ == "__main__":
    unittest.main()
