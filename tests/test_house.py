"""The house in order: imports run downward, Qt stays at the desk, style and types hold, nothing is named that must not
be."""

from __future__ import annotations

import ast
import subprocess
import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "wise_compass"
ROOMS = [
    "geometry",
    "drafting",
    "figures",
    "words",
    "study",
    "own",
    "shop",
    "sheet",
    "booklet",
    "scene",
    "outputs",
    "job",
    "logbook",
    "practice",
    "plan",
    "camera",
    "handbook",
    "care",
    "desk.binding",
    "desk.parts",
    "desk.session",
    "desk.paper",
    "desk.handbook",
    "desk.round",
    "desk.sentence",
    "desk.photo",
    "desk.side",
    "desk.spine",
    "desk.places",
    "desk.problem",
    "desk.drafter",
    "desk.leaving",
    "desk.practise",
    "desk.logbook",
    "desk.plan",
    "desk.lessons",
    "desk",
    "terminal.shared",
    "terminal.commands",
    "terminal",
    "__main__",
]
"""From the ground up; a room imports its own level and those before it. What lies in a room and in none of its rooms,
lies at its door."""


def room_of(module: str) -> str:
    """The innermost room of a module, told without the name of the package."""
    parts = module.split(".")
    return next((name for n in (2, 1) if (name := ".".join(parts[:n])) in ROOMS), "")


def imports(file: Path) -> set[str]:
    """What a module imports, wherever in it, by a statement or by name; what it puts a name together from counts as its
    beginning."""
    names: set[str] = set()
    for node in ast.walk(ast.parse(file.read_text("utf-8"))):
        if isinstance(node, ast.Call) and ast.unparse(node.func) in (
            "import_module",
            "importlib.import_module",
            "__import__",
        ):
            asked = node.args[0].values[0] if isinstance(node.args[0], ast.JoinedStr) else node.args[0]
            if not isinstance(asked, ast.Constant):
                raise AssertionError(f"{file} imports what no reader can tell: {ast.unparse(node)}")
            names.add(str(asked.value).rstrip("."))
        if isinstance(node, ast.Import):
            names |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            names |= {f"{node.module}.{alias.name}" for alias in node.names}
    return names


class House(unittest.TestCase):
    def test_imports_run_downward_and_qt_stays_at_the_desk(self) -> None:
        for file in SOURCE.rglob("*.py"):
            room = room_of(".".join(file.relative_to(SOURCE).with_suffix("").parts))
            for name in imports(file):
                if name.startswith("PySide6"):
                    self.assertEqual(room.partition(".")[0], "desk", file)
                if name.startswith("wise_compass.") and room:
                    other = room_of(name.removeprefix("wise_compass."))
                    if other:
                        self.assertLessEqual(ROOMS.index(other), ROOMS.index(room), f"{file} imports {name}")

    def test_what_is_imported_is_pinned_for_whoever_only_uses_it(self) -> None:
        """A module that the checks bring along and the application's own lock file does not would be missing at the
        desk."""
        brought = {"PySide6": "pyside6-essentials", "PIL": "pillow", "cv2": "opencv-python-headless"}
        pinned = {line.partition("==")[0] for line in (ROOT / "requirements.lock").read_text().split()}
        for file in SOURCE.rglob("*.py"):
            for name in imports(file):
                package = name.split(".")[0]
                if package not in sys.stdlib_module_names and package not in ("wise_compass", "__future__"):
                    self.assertIn(brought.get(package, package), pinned, f"{file} imports {name}")

    def test_no_modules_import_each_other_in_a_circle(self) -> None:
        """Whatever the import is for, types alone included: inside a room too, the house is read from the ground up."""
        names = {
            file: ".".join(("wise_compass", *file.relative_to(SOURCE).with_suffix("").parts))
            for file in SOURCE.rglob("*.py")
        }
        known = set(names.values())
        needs = {}
        for file, name in names.items():
            taken = {one if one in known else one.rpartition(".")[0] for one in imports(file)}
            needs[name] = (taken & known) - {name}
        from graphlib import CycleError, TopologicalSorter

        try:
            tuple(TopologicalSorter(needs).static_order())
        except CycleError as circle:
            self.fail(f"a circle: {' → '.join(circle.args[1])}")

    def test_no_file_outgrows_its_reader(self) -> None:
        for file in SOURCE.rglob("*.py"):
            self.assertLessEqual(len(file.read_text("utf-8").splitlines()), 450, file)

    def test_style(self) -> None:
        done = subprocess.run(
            [sys.executable, "-m", "ruff", "check", "src", "tests", "bench"], cwd=ROOT, capture_output=True, text=True
        )
        self.assertEqual(done.returncode, 0, done.stdout)

    def test_types(self) -> None:
        done = subprocess.run(
            [sys.executable, "-m", "mypy", "src/wise_compass"], cwd=ROOT, capture_output=True, text=True
        )
        self.assertEqual(done.returncode, 0, done.stdout)
