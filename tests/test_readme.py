"""What README, handbook and docs tell is true: every command runs as it stands there, every key and menu does
something, every file that is named exists."""

from __future__ import annotations

import contextlib
import re
import shlex
import unittest
from pathlib import Path

from PySide6.QtGui import QKeySequence, QShortcut
from tools.schemas import fill_class

from tests.test_cli import call
from tests.test_commands import AtHome
from tests.test_desk import DeskCase
from wise_compass.desk.menus import MENUS
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.handbook.opening import page
from wise_compass.handbook.pages import FIGURES, contents
from wise_compass.job.demo import demo_job
from wise_compass.job.dimensions import with_dimension
from wise_compass.job.store import save

ROOT = Path(__file__).parent.parent
README = (ROOT / "README.md").read_text("utf-8")
WRITTEN = {name: page(name).text for part in contents().values() for name in part if name != "figures"}
TOLD = "\n".join([README, page("index").text, *WRITTEN.values()])
BEGINS = {".pdf": b"%PDF", ".svg": b"<", ".png": b"\x89PNG", ".jpg": b"\xff\xd8", ".ics": b"BEGIN:VCALENDAR"}


def commands_of(text: str) -> list[list[str]]:
    """The commands that a page shows, as they are typed."""
    lines = (line.strip() for line in text.splitlines() if re.match(r" {4,8}wise-compass ", line))
    return [shlex.split(line, comments=True)[1:] for line in lines]


COMMANDS = [command for command in commands_of(TOLD) if command != ["doctor"]]  # its answer is this machine's


class Commands(AtHome):
    def setUp(self) -> None:
        super().setUp()
        self.enterContext(contextlib.chdir(self.folder))
        save(with_dimension(demo_job(), "", "race", "150 mm", "mm"), Path("mill.json"))

    def named(self, *words: str) -> list[str]:
        """The command that begins so."""
        return next(command for command in COMMANDS if command[: len(words)] == list(words))

    def run_it(self, command: list[str]) -> str:
        status, out, err = call(*command)
        self.assertEqual(status, 0, f"{shlex.join(command)}: {err}")
        for option in ("--out", "--key", "--sheet", "--draw"):
            if option in command and "." in command[command.index(option) + 1]:
                path = Path(command[command.index(option) + 1])
                if option == "--sheet" and command[0] != "practice":
                    continue
                self.assertTrue(path.read_bytes().startswith(BEGINS.get(path.suffix, b"")), path)
                self.assertGreater(path.stat().st_size, 60)
        return out

    def test_every_one_runs_as_it_stands(self) -> None:
        self.assertGreater(len(COMMANDS), 45)
        self.run_it(self.named("photograph"))  # a person has a camera
        for command in COMMANDS:
            with self.subTest(shlex.join(command)):
                if command[0] == "mark":
                    fill_class(Path("key.csv"), Path("class.csv"))
                self.assertTrue(self.run_it(command) or "--out" in command)

    def test_every_figure_and_method_that_is_named_exists(self) -> None:
        for command in COMMANDS:
            if len(command) > 1 and command[0] in ("solve", "draw", "hands", "slips", "table", "stray", "pattern"):
                self.assertIn(command[1], ENTERED)
                if "--method" in command:
                    self.assertIn(command[command.index("--method") + 1], figure_named(command[1]).methods)


class OfTheCatalogue(AtHome):
    def test_every_command_of_a_figures_page_runs_as_it_stands(self) -> None:
        self.enterContext(contextlib.chdir(self.folder))
        for id in ENTERED:
            shown = commands_of(page(FIGURES + id).text)
            self.assertEqual([command[0] for command in shown], ["solve", "draw"], id)
            for command in shown:
                status, _, err = call(*command)
                self.assertEqual(status, 0, f"{shlex.join(command)}: {err}")


class Keys(DeskCase):
    def test_every_key_that_is_told_does_something(self) -> None:
        told = set(re.findall(r"`((?:(?:Ctrl|Alt|Shift)\+)+(?:PgUp|PgDown|Up|Down|F?\d+|[A-Z,+-])|F\d+)`", TOLD))
        self.assertGreater(len(told), 40)
        known = {
            key.toString() for group in self.window.groups.values() for action in group for key in action.shortcuts()
        } | {one.key().toString() for one in self.window.findChildren(QShortcut)}
        known.add("F10")  # of the button at the foot of the column
        for key in told:
            self.assertIn(QKeySequence(key).toString(), known, key)

    def test_every_menu_that_is_told_has_it(self) -> None:
        there = {
            (title, action.text())
            for title, parts in MENUS.items()
            for part in parts
            for action in self.window.groups[part.group][part.first : part.last]
        }
        told = set(re.findall(r"\*\*(\w+) > ([^*]+)\*\*", " ".join(TOLD.split())))
        self.assertGreater(len(told), 60)
        self.assertEqual(told - there, set())


class Files(unittest.TestCase):
    def test_every_picture_is_linked_and_there(self) -> None:
        linked = set(re.findall(r"\]\((docs/screenshots/[\w-]+\.png)\)", README))
        there = {str(path.relative_to(ROOT)) for path in (ROOT / "docs" / "screenshots").glob("*")}
        self.assertEqual(linked, there)
        self.assertLess(len(there), 20)

    def test_every_link_of_the_readme_leads_somewhere(self) -> None:
        for link in re.findall(r"\]\(([^)]+)\)", README):
            self.assertTrue((ROOT / link).is_file(), link)

    def test_the_readme_is_one_page(self) -> None:
        self.assertLess(len(README.split()), 500)

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
