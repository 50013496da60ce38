"""Ten thousand command lines as a fuzzer would write them, and a thousand damaged files: each ends well or in one line,
and soon."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any

from tests import examples
from tests.damage import lot
from tests.fuzz import command_lines
from tests.test_cli import ROOT, call
from tests.test_desk import APP, DeskCase
from wise_compass.job.model import Entry, SheetPlan

LINES, FILES = (20, 500), (5, 200)
"""A tenth of what ``bench.fuzz`` tries, in so many parts of so many: any processor takes the next."""
SOON = 4.0
"""Seconds of work; alone on a machine none takes two (``python -m bench.fuzz``)."""


class CommandLines(unittest.TestCase):
    def hold(self, part: int) -> None:
        done, count = 0, examples(LINES[1])
        with tempfile.TemporaryDirectory() as folder:
            for words in command_lines(count, 20261125 + part, Path(folder)):
                began = time.process_time()
                status, out, err = call(*words)
                self.assertIn(status, (0, 2), words)
                self.assertLess(time.process_time() - began, SOON, words)
                self.assertLessEqual(len(err.strip().splitlines()), 1, words)
                self.assertNotIn("Traceback", out + err)
                done += status == 0
        self.assertGreater(done, count // 8, "most lines are refused before anything is drawn")

    def test_a_place_that_no_hand_moves_is_no_single_number_of_two_hands(self) -> None:
        status, out, _ = call("hands", "ray-curve", "at=1e-300", "--json", "--hands", "50")
        self.assertEqual(status, 0)
        self.assertIn("tangent_angle", out)

    def test_what_was_found_so_gets_its_line(self) -> None:
        for words, part in (
            (
                ["check", "polygon-about-circle", "across_flats=1/3", "sides=7", "--measured", "B-A-C=33"],
                "larger scale",
            ),
            (["check", "polygon-about-circle", "across_flats=0.1", "--method", "tangents"], "larger scale"),
            (["draw", "pictorial-prism", "--grid", "nan", "--out", "x.svg"], "1 mm to 1000 mm"),
        ):
            status, _, err = call(*words)
            self.assertEqual((status, len(err.strip().splitlines())), (2, 1))
            self.assertIn(part, err)


class DamagedFiles(unittest.TestCase):
    def hold(self, part: int) -> None:
        with tempfile.TemporaryDirectory() as folder:
            told = lot(examples(FILES[1]), 20261201 + part, Path(folder))
        self.assertEqual(told.faults, [])
        self.assertTrue({"job.json refused", "way.txt refused", "log.csv read"} <= set(told.endings), told.endings)


def _parts(case: Any, count: int) -> None:
    """Tests of a case that hold one part each."""
    for part in range(count):
        setattr(case, f"test_part_{part + 1}_of_{count}", lambda self, part=part: self.hold(part))


_parts(CommandLines, LINES[0])
_parts(DamagedFiles, FILES[0])


class OnTheDesk(DeskCase):
    def test_a_figure_too_small_for_any_hand_says_so_in_the_check_panel(self) -> None:
        entry = Entry("polygon-about-circle", "Bead", "tangents", {"across_flats": 0.1}, id="bead")
        plan = SheetPlan("Bead", (entry,), scale="1:1")
        self.session.edit(self.session.job._replace(sheets=(*self.session.job.sheets, plan)), "Add")
        self.session.select("bead")
        self.window._panel(5)
        APP.processEvents()
        self.window.panels.settle()
        self.assertIn("larger scale", self.window.panels._check.says.text())


class Memory(unittest.TestCase):
    def test_very_many_hands_take_no_more_than_some(self) -> None:
        code = (
            "import sys; from wise_compass.terminal.main import main; main(['hands', "
            "'screw-thread', '--hands', '20000', '--json']); "
            "print(next(line for line in open('/proc/self/status') if line.startswith('VmHWM')), file=sys.stderr)"
        )
        env = {"PYTHONPATH": str(ROOT / "src"), "PATH": "/usr/bin:/bin"}
        done = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=True)
        self.assertLess(int(done.stderr.split()[-2]) / 1024, 500, "MB at the most")


if __name__ == "__main__":
    unittest.main()
