"""The command line, as others build on it."""

from __future__ import annotations

import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from wise_compass.terminal.main import main

ROOT = Path(__file__).parent.parent


def call(*arguments: str) -> tuple[int, str, str]:
    """Exit status, standard output and standard error of a command."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = main(list(arguments))
    return status, out.getvalue(), err.getvalue()


def data(*arguments: str) -> Any:
    status, out, err = call(*arguments)
    assert status == 0, err
    return json.loads(out)


class Solve(unittest.TestCase):
    def test_givens_stand_before_or_behind_the_options(self) -> None:
        before = data("solve", "ellipse", "long=120", "--method", "trammel", "--json")
        behind = data("solve", "ellipse", "--method", "trammel", "--json", "long=120")
        self.assertEqual(before, behind)
        self.assertEqual(behind["givens"]["long"], 120)

    def test_shape_of_the_json(self) -> None:
        made = data("solve", "ellipse", "long=15.2 cm", "wide=88", "--method", "focus-arcs", "--json")
        self.assertEqual(list(made), ["figure", "method", "givens", "points", "values", "proofs", "steps"])
        self.assertEqual(made["givens"]["long"], 152)
        self.assertAlmostEqual(made["values"]["focal_distance"]["value"], 61.96773353931867, places=12)
        self.assertEqual(set(made["values"]["area"]), {"value", "unit", "working"})
        self.assertEqual(set(made["proofs"][0]), {"says", "miss", "unit", "limit", "holds", "by_design"})
        self.assertEqual(set(made["steps"][0]), {"n", "phase", "instrument", "setting", "says", "settings"})
        self.assertEqual(len(made["points"]["P0"]), 2)

    def test_points_in_space_have_three_coordinates(self) -> None:
        made = data("solve", "line-in-space", "--projection", "third", "--json")
        self.assertEqual(len(made["points"]["B"]), 3)
        self.assertEqual(data("solve", "line-in-space", "--json")["values"], made["values"])

    def test_a_person_can_read_it(self) -> None:
        for command in (
            ["solve", "polygon-on-side", "--method", "centre-ladder"],
            ["list"],
            ["slips", "ellipse"],
            ["hands", "ellipse", "--hands", "50"],
        ):
            status, out, _ = call(*command)
            self.assertEqual(status, 0)
            self.assertGreater(len(out.splitlines()), 6)

    def test_list_tells_all_that_others_need(self) -> None:
        figures = {f["figure"]: f for family in data("list", "--json")["families"] for f in family["figures"]}
        ladder = {m["method"]: m["exact"] for m in figures["polygon-on-side"]["methods"]}
        self.assertEqual(
            ladder, {"circumcentre": True, "centre-ladder": False, "pentagon-arcs": True, "protractor": True}
        )
        wide = next(g for g in figures["ellipse"]["givens"] if g["name"] == "wide")
        self.assertEqual(
            (wide["kind"], wide["unit"], wide["bounds"]["most"], wide["default"]), ("length", "mm", "long", 88)
        )

    def test_hands_and_slips(self) -> None:
        hands = data("hands", "polygon-on-side", "--hands", "300", "--seed", "4", "--json")
        self.assertEqual((hands["hands"], hands["seed"]), (300, 4))
        self.assertGreater(hands["points"]["C"]["limit_95"], hands["points"]["C"]["sd"])
        self.assertIn("step", hands["values"]["circumradius"]["most"])
        slips = data("slips", "archimedean-spiral", "--json")["slips"]
        ids = [slip["slip"] for slip in slips] if "slip" in slips[0] else [slip["id"] for slip in slips]
        self.assertGreaterEqual(len(ids), 4, "its own three, and those of its moves")
        self.assertIn("rule-a-centimetre-off", ids)
        self.assertIn("value", slips[0]["values"]["radius_gain"])


class Refusing(unittest.TestCase):
    def test_one_line_and_status_two(self) -> None:
        for arguments, hint in (
            (["solve", "ellipse", "wide=200"], "152 mm"),
            (["solve", "elipse"], "ellipse"),
            (["solve", "ellipse", "tall=3"], "long"),
            (["solve", "ellipse", "wide=1,250"], "1250 or 1.250"),
            (["solve", "ellipse", "--method", "string"], "trammel"),
            (["solve"], "figure"),
            (["solve", "polygon-on-side", "--method", "pentagon-arcs"], "sides"),
            (["draw", "ellipse", "--out", "x.bmp"], "svg"),
            (["hands", "ellipse", "--hands", "1"], "2"),
            (["hands", "ellipse", "--seed", "-1"], "from 0"),
            (["draw", "ellipse", "--scale", "3:7", "--out", "x.svg"], "1:2"),
            (["draw", "ellipse", "--scale", "5:1", "--out", "x.svg"], "1:1"),
            (["draw", "ellipse", "--out", "/nowhere/x.svg"], "/nowhere"),
            (["print", "/nowhere/job.json", "--out", "x.pdf"], "/nowhere"),
            (["/nowhere/x.json"], "x.json"),
            (["solve", "line-in-space", "angle_h=50", "angle_v=47"], "97°"),
        ):
            status, out, err = call(*arguments)
            self.assertEqual(status, 2, arguments)
            self.assertEqual(out, "")
            self.assertEqual(len(err.strip().splitlines()), 1, err)
            self.assertIn(hint, err, arguments)


class Outputs(unittest.TestCase):
    """What the real process does with output that is full, closed or said to be ASCII."""

    def spoken(self, words: str, **extra: str) -> subprocess.CompletedProcess[bytes]:
        environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), **extra}
        command = f"'{sys.executable}' -m wise_compass solve ellipse {words}"
        return subprocess.run(["sh", "-c", command], env=environment, capture_output=True, timeout=60)

    def test_a_full_disk_is_told_in_one_line(self) -> None:
        done = self.spoken("> /dev/full")
        self.assertEqual((done.returncode, done.stderr.count(b"\n")), (2, 1), done.stderr)
        self.assertIn(b"no space", done.stderr)

    def test_closed_output_is_no_fault(self) -> None:
        done = self.spoken(">&-")
        self.assertEqual((done.returncode, done.stderr), (0, b""))

    def test_ascii_terminals_get_the_same_words(self) -> None:
        self.assertEqual(self.spoken("", PYTHONIOENCODING="ascii").stdout, self.spoken("").stdout)
        self.assertIn("°".encode(), self.spoken("", PYTHONIOENCODING="ascii").stdout)


class Faults(unittest.TestCase):
    def test_a_fault_of_its_own_is_one_line_too(self) -> None:
        with mock.patch("wise_compass.outputs.record.record", side_effect=ZeroDivisionError("inside")):
            status, out, err = call("solve", "ellipse", "--json")
        self.assertEqual((status, out, len(err.strip().splitlines())), (70, "", 1))
        self.assertNotIn("Traceback", err)


class NoQt(unittest.TestCase):
    def test_help_needs_no_numbers(self) -> None:
        """Every command's options are told without the arithmetic being loaded."""
        lines = [
            "import sys, pkgutil",
            "from wise_compass.terminal import commands",
            "from wise_compass.terminal.main import main",
            "for one in pkgutil.iter_modules(commands.__path__):",
            "    try: main([one.name, '--help'])",
            "    except SystemExit: pass",
            "    heavy = {'numpy', 'scipy', 'PySide6'} & set(sys.modules)",
            "    assert not heavy, (one.name, heavy)",
        ]
        subprocess.run([sys.executable, "-c", "\n".join(lines)], check=True, stdout=subprocess.DEVNULL)

    def test_only_the_desk_and_png_import_qt(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            lines = ["import sys", "from wise_compass.terminal.main import main"]
            for command in (
                ["list"],
                ["solve", "ellipse"],
                ["hands", "ellipse", "--hands", "9"],
                ["slips", "ellipse"],
                *(["draw", "ellipse", "--out", f"{folder}/x.{e}"] for e in ("svg", "pdf", "csv", "json")),
            ):
                lines.append(f"assert main({command!r}) == 0")
            lines += ["assert not any('PySide6' in m for m in sys.modules)", "assert 'scipy' not in sys.modules"]
            subprocess.run([sys.executable, "-c", "\n".join(lines)], check=True, stdout=subprocess.DEVNULL)
            self.assertEqual(len(list(Path(folder).iterdir())), 4)
