"""What comes with a package: manual pages, completion, schemas, data for the desktop, pictures of jobs; what is packed
leaves out nothing that is used; what is amiss is told."""

from __future__ import annotations

import contextlib
import json
import os
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from datetime import date
from pathlib import Path
from unittest import mock
from xml.etree import ElementTree

import fastjsonschema
import numpy as np
from PIL import Image
from tools.packing.chroot import NEEDED
from tools.packing.flatpak import FILES, pinned
from tools.packing.manuals import manual_pages
from tools.packing.releases import releases
from tools.packing.tree import UNUSED
from tools.schemas import FOLDER, RUNS, prepared, printed

from tests import quick
from tests.test_cli import call
from tests.test_commands import AtHome
from wise_compass import __version__
from wise_compass.care.doctor import examine
from wise_compass.care.faults import MOST, note_fault, reports
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.job.demo import demo_job
from wise_compass.job.person import change_person, settings_file
from wise_compass.job.store import save
from wise_compass.logbook.store import Logbook
from wise_compass.terminal import main
from wise_compass.terminal.names import names
from wise_compass.terminal.parsing import whole_parser

ROOT = Path(__file__).parent.parent
USED = """
import importlib, json, pkgutil, sys
import wise_compass
for module in pkgutil.walk_packages(wise_compass.__path__, "wise_compass."):
    if not module.name.endswith("__main__"):
        importlib.import_module(module.name)
from wise_compass.terminal.main import main
from wise_compass.figures.catalogue import ENTERED
import contextlib, io, tempfile, os
os.chdir(tempfile.mkdtemp())
with contextlib.redirect_stdout(io.StringIO()):
    for id in ENTERED:
        assert main(["solve", id]) == 0, id
    for line in LINES:
        assert main(line) == 0, line
print(json.dumps(sorted(sys.modules)))
"""
LINES = (
    'LINES = [["draw", "ellipse", "--out", "a.pdf"], ["draw", "cone", "--out", "a.png"], ["calibrate", "--measured", '
    '"opening-1=23.2 angle-17=29.4"], ["practice", "ellipse", "--pupils", "2", "--out", "c.pdf"], ["handbook", '
    '"fillet", "--out", "h.pdf"], ["completion", "bash"], ["check", "fillet"], ["doctor"]]\n'
)


class Packed(unittest.TestCase):
    def test_nothing_that_is_used_is_left_out(self) -> None:
        env = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run(
            [sys.executable, "-c", LINES + USED], env=env, capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        imported = set(json.loads(done.stdout))
        self.assertIn("scipy.optimize", imported)
        for name in UNUSED:
            module = name.replace("/", ".")
            self.assertEqual({one for one in imported if one == module or one.startswith(f"{module}.")}, set())

    def test_every_pin_has_its_hashes(self) -> None:
        pins = pinned()
        self.assertGreater(len(pins), 20)
        for pin, hashes in pins.items():
            self.assertTrue(all(re.fullmatch(r"[0-9a-f]{64}", one) for one in hashes) and hashes, pin)

    def test_the_data_for_the_desktop_is_there(self) -> None:
        for name in FILES:
            self.assertTrue((ROOT / "data" / name).is_file(), name)

    @unittest.skipUnless(
        os.geteuid() == 0 and all(map(shutil.which, NEEDED)) and not quick,
        "for root, where debootstrap is: the Debian package in a bare Debian",
    )
    def test_the_debian_package_in_a_bare_debian(self) -> None:
        with tempfile.TemporaryDirectory() as out:
            done = subprocess.run(
                [ROOT / "tools" / "package", "check", "--out", out], capture_output=True, text=True, check=False
            )
        self.assertEqual(done.returncode, 0, f"{done.stdout}{done.stderr}"[-3000:])


class Told(unittest.TestCase):
    def test_releases_are_told_alike_everywhere(self) -> None:
        self.assertEqual(releases()[0][0], __version__)
        told = ElementTree.parse(ROOT / "data" / "org.wisecompass.WiseCompass.metainfo.xml")
        found = [(one.get("version"), one.get("date")) for one in told.iter("release")]
        self.assertEqual(found, releases())
        self.assertIn(f'version = "{__version__}"', (ROOT / "pyproject.toml").read_text("utf-8"))
        install = (ROOT / "docs" / "handbook" / "install.md").read_text("utf-8")
        self.assertIn(f"wise-compass_{__version__}_amd64.deb", install)

    @unittest.skipUnless(shutil.which("appstreamcli"), "appstreamcli is not here")
    def test_the_store_takes_what_is_told(self) -> None:
        file = ROOT / "data" / "org.wisecompass.WiseCompass.metainfo.xml"
        done = subprocess.run(
            ["appstreamcli", "validate", "--strict", "--no-net", file], capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stdout)

    def test_a_manual_page_for_every_command_names_every_option(self) -> None:
        pages = manual_pages(date(2026, 11, 30))
        self.assertEqual(set(pages), {"wise-compass.1", *(f"wise-compass-{name}.1" for name in names())})
        for command, one in whole_parser(figures=False)._subparsers._group_actions[0].choices.items():  # type: ignore
            page = pages[f"wise-compass-{command}.1"]
            for action in one._actions:
                for option in action.option_strings:
                    self.assertIn(option.replace("-", "\\-"), page, command)
        for page in pages.values():
            for line in page.splitlines():
                self.assertRegex(line, r"^(\.(TH|SH|TP|B|BR|br)\b|[^.'])", line)

    @unittest.skipUnless(shutil.which("man"), "man is not here")
    def test_manual_pages_are_set_without_a_complaint(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for name, text in manual_pages(date(2026, 11, 30)).items():
                file = Path(folder) / name
                file.write_text(text, "utf-8")
                env = {**os.environ, "MANROFFSEQ": "", "MANWIDTH": "80", "LC_ALL": "C.UTF-8"}
                done = subprocess.run(
                    ["man", "--warnings", "-l", str(file)], env=env, capture_output=True, text=True, check=False
                )
                self.assertEqual((done.returncode, done.stderr), (0, ""), name)

    def test_the_shell_completes_commands_and_figures(self) -> None:
        for shell in ("bash", "zsh", "fish"):
            status, out, err = call("completion", shell)
            self.assertEqual(status, 0, err)
            for word in ("solve", "booklet", "two-laminae", "gear-pair", "--method"):
                self.assertIn(word.removeprefix("--") if shell == "fish" else word, out, shell)
        self.assertGreater(len(ENTERED), 130)

    @unittest.skipUnless(shutil.which("bash"), "bash is not here")
    def test_bash_completes_a_figure(self) -> None:
        _, out, _ = call("completion", "bash")
        asks = "COMP_WORDS=(wise-compass solve elli); COMP_CWORD=2; _shtab_wise_compass; echo ${COMPREPLY[@]}"
        done = subprocess.run(["bash", "-c", f"{out}\n{asks}"], capture_output=True, text=True, check=False)
        self.assertEqual(set(done.stdout.split()), {"ellipse", "ellipse-tangent", "ellipse-conjugate"}, done.stderr)


class Schemas(AtHome):
    def test_every_command_with_json_keeps_to_its_schema(self) -> None:
        with_json = {
            name
            for name, one in whole_parser(figures=False)._subparsers._group_actions[0].choices.items()  # type: ignore
            if any("--json" in action.option_strings for action in one._actions)
        }
        self.assertEqual({file.stem for file in FOLDER.glob("*.json")}, with_json)
        with prepared():
            for name, lines in RUNS.items():
                checked = fastjsonschema.compile(json.loads((FOLDER / f"{name}.json").read_text("utf-8")))
                for line in lines:
                    checked(printed(f"{name} {line}"))

    def test_so_does_every_figure_by_its_other_methods_and_in_inches(self) -> None:
        solved = fastjsonschema.compile(json.loads((FOLDER / "solve.json").read_text("utf-8")))
        slipped = fastjsonschema.compile(json.loads((FOLDER / "slips.json").read_text("utf-8")))
        for id in ENTERED:
            with self.subTest(id):
                *_, method = figure_named(id).methods.values()
                by = f"--method {method.id}" if method.fits(figure_named(id)()) is None else ""
                solved(printed(f"solve {id} {by} --units in --projection third --lettering numbers"))
                slipped(printed(f"slips {id} {by}"))

    def test_what_is_another_thing_does_not_keep_to_it(self) -> None:
        checked = fastjsonschema.compile(json.loads((FOLDER / "solve.json").read_text("utf-8")))
        record = printed("solve fillet")
        for wrong in ({**record, "figure": 3}, {**record, "points": [1]}, [record]):
            with self.assertRaises(fastjsonschema.JsonSchemaException):
                checked(wrong)


class Pictured(AtHome):
    def test_a_file_manager_sees_the_first_sheet_of_a_job(self) -> None:
        with contextlib.chdir(self.folder):
            save(demo_job(), Path("mill.json"))
            self.assertEqual(call("thumbnail", "mill.json", "seen", "--size", "128")[0], 0)
            with Image.open("seen") as picture:
                self.assertLessEqual(max(picture.size), 130)
                self.assertGreater(max(picture.size), 110)
                self.assertGreater(np.asarray(picture.convert("L")).std(), 3)
            status, _, err = call("thumbnail", "mill.json", "seen", "--size", "9000")
            self.assertEqual(status, 2)
            self.assertIn("2048", err)
            before = Path("mill.json").read_bytes()
            self.assertEqual(call("thumbnail", "mill.json", "mill.json")[0], 2)
            self.assertEqual(Path("mill.json").read_bytes(), before)


class Amiss(AtHome):
    def found(self) -> dict[str, tuple[bool, str]]:
        return {one.what: (one.good, f"{one.says} {one.remedy}") for one in examine()}

    def test_what_is_amiss_is_told_with_its_remedy(self) -> None:
        self.assertTrue(self.found()["logbook"][0])
        measured = "AB=96.1 BC=70.2 CA=60.8"
        call("check", "triangle-three-sides", "ab=96", "bc=70", "ca=63", "--measured", measured, "--keep")
        self.assertEqual(self.found()["logbook"], (True, "1 entry "))
        self.assertEqual(self.found()["your settings"][0], True)
        change_person(lambda kept: kept._replace(text=1.15))
        self.assertEqual(self.found()["your settings"], (True, "read "))
        settings_file().write_text("{ not settings any more")
        self.assertFalse(self.found()["your settings"][0])
        logbook = Logbook()
        logbook.folder.mkdir(parents=True, exist_ok=True)
        logbook.file.write_bytes(b"no logbook at all, but some words that fill more than a page" * 40)
        good, says = self.found()["logbook"]
        self.assertFalse(good)
        self.assertIn("set aside", says)
        with mock.patch.dict(os.environ, {"QT_QPA_PLATFORM": "", "DISPLAY": ":987", "WAYLAND_DISPLAY": ""}):
            good, says = self.found()["screen"]
        self.assertFalse(good)
        self.assertIn(":987", says)
        with mock.patch("wise_compass.care.doctor.font_file", return_value=Path("/etc/hostname")):
            self.assertFalse(self.found()["fonts"][0])
        with mock.patch("wise_compass.care.doctor.version_of", return_value=""):
            self.assertIn("numpy", self.found()["packages"][1])

    def test_a_fault_is_noted_in_a_report_that_says_where_it_is(self) -> None:
        with mock.patch("wise_compass.terminal.parsing.command", side_effect=ZeroDivisionError("a sluice jammed")):
            status, _, err = call("list")
        self.assertEqual(status, 70)
        (report,) = reports().glob("*.txt")
        self.assertIn(str(report), err)
        text = report.read_text("utf-8")
        for told in ("a sluice jammed", f"Wise Compass: {__version__}", "Traceback", "Nothing was sent", "list"):
            self.assertIn(told, text)
        self.assertNotIn("Traceback", err)

    def test_reports_do_not_pile_up_and_none_is_no_fault_of_its_own(self) -> None:
        reports().mkdir(parents=True)
        for k in range(MOST + 5):
            (reports() / f"2026-01-01-{k:06}-Error.txt").write_text("old")
        self.assertIsNotNone(note_fault(ValueError("new"), "trying"))
        self.assertEqual(len(list(reports().glob("*.txt"))), MOST)
        shutil.rmtree(reports())
        reports().write_text("a file in the folder’s place")
        self.assertIsNone(note_fault(ValueError("nowhere"), "trying"))
        self.assertTrue(main.main)


if __name__ == "__main__":
    unittest.main()
