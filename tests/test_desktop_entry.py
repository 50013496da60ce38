"""At home on a desk: what the installer puts there, that a job is known by name and by content, and that a wheel holds
all of it."""

from __future__ import annotations

import configparser
import os
import shlex
import shutil
import subprocess
import sys
import tempfile
import unittest
import zipfile
from pathlib import Path

from wise_compass.job.demo import demo_job
from wise_compass.job.store import save

ROOT = Path(__file__).parent.parent
MIME = "application/vnd.wisecompass.job+json"
ASK = """
import sys
from PySide6.QtCore import QMimeDatabase
print(*(QMimeDatabase().mimeTypeForFile(path).name() for path in sys.argv[1:]), sep="\\n")
"""


class Installed(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name)
        self.data = self.home / "data with a space"
        self.env = {**os.environ, "XDG_DATA_HOME": str(self.data), "PYTHONPATH": str(ROOT / "src")}

    def install(self, *options: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, str(ROOT / "tools" / "install-desktop"), *options]
        return subprocess.run(command, env=self.env, capture_output=True, text=True, check=False)

    def types(self, *paths: Path) -> list[str]:
        done = subprocess.run(
            [sys.executable, "-c", ASK, *map(str, paths)], env=self.env, capture_output=True, text=True, check=True
        )
        return done.stdout.split()

    def test_it_is_put_there_and_taken_away_again(self) -> None:
        self.assertEqual(self.install().returncode, 0)
        entry = configparser.RawConfigParser()
        entry.optionxform = str  # type: ignore[assignment, method-assign]
        entry.read(self.data / "applications" / "wise-compass.desktop", "utf-8")
        words = shlex.split(entry["Desktop Entry"]["Exec"])
        self.assertEqual(words, [str(ROOT / "wise-compass"), "%f"])
        self.assertEqual(entry["Desktop Entry"]["MimeType"], f"{MIME};", "it claims its own files, and no others")
        self.assertTrue((self.data / "icons/hicolor/scalable/apps/wise-compass.svg").read_text().startswith("<"))
        done = self.install("--undo")
        self.assertEqual(done.returncode, 0)
        left = [path for path in self.data.rglob("*wise*") if path.is_file()]
        self.assertEqual(left, [])

    def test_the_line_that_opens_a_job_works_from_a_folder_with_odd_signs(self) -> None:
        odd = self.home / 'a $place `with` 100% "odd" signs'
        shutil.copytree(ROOT / "tools", odd / "tools")
        shutil.copytree(ROOT / "data", odd / "data")
        subprocess.run(
            [sys.executable, str(odd / "tools" / "install-desktop")], env=self.env, check=True, capture_output=True
        )
        text = (self.data / "applications" / "wise-compass.desktop").read_text()
        line = next(one for one in text.splitlines() if one.startswith("Exec=")).removeprefix("Exec=")
        line = line.replace("\\\\", "\\")  # a string of the file
        inner = line[1 : line.rindex('"')]
        for sign in '"`$\\':
            inner = inner.replace("\\" + sign, sign)
        self.assertEqual(inner.replace("%%", "%"), str(odd / "wise-compass"))

    def test_a_job_is_known_by_name_and_by_content_and_other_json_is_not(self) -> None:
        self.assertIsNotNone(
            shutil.which("update-mime-database"), "shared-mime-info is installed by the desktop itself"
        )
        self.install()
        bare, named, other = (self.home / name for name in ("mill", "x.wisecompass.json", "other.json"))
        save(demo_job(), bare)
        named.write_text("{}")
        other.write_text('{"format": "something else"}\n')
        self.assertEqual(self.types(bare, named, other), [MIME, MIME, "application/json"])

    def test_a_folder_that_cannot_be_written_gets_one_line(self) -> None:
        self.data.write_text("a file")
        done = self.install()
        self.assertEqual(done.returncode, 2)
        self.assertEqual(len(done.stderr.splitlines()), 1)


class Checked(unittest.TestCase):
    def test_the_desktops_own_checkers_pass(self) -> None:
        ran = 0
        for command, *rest in (
            ("appstreamcli", "validate", "--no-net", "data/org.wisecompass.WiseCompass.metainfo.xml"),
            ("desktop-file-validate", "data/wise-compass.desktop"),
        ):
            if shutil.which(command):
                done = subprocess.run([command, *rest], cwd=ROOT, capture_output=True, text=True, check=False)
                self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
                ran += 1
        entry = (ROOT / "data" / "wise-compass.desktop").read_text().splitlines()
        self.assertEqual(entry[0], "[Desktop Entry]")
        self.assertLessEqual({"Type=Application", "Name=Wise Compass", "Icon=wise-compass"}, set(entry))
        self.assertLess(ran, 3)


class Wheel(unittest.TestCase):
    def test_a_wheel_holds_code_data_and_what_the_desktop_wants(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "copy"
            for name in ("src", "data", "docs"):
                shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
            for name in ("pyproject.toml", "README.md", "LICENSE"):
                shutil.copy(ROOT / name, copy / name)
            build = "from setuptools.build_meta import build_wheel; import sys; print(build_wheel(sys.argv[1]))"
            done = subprocess.run(
                [sys.executable, "-c", build, folder], cwd=copy, capture_output=True, text=True, check=False
            )
            self.assertEqual(done.returncode, 0, done.stderr[-2000:])
            (wheel,) = Path(folder).glob("*.whl")
            names = zipfile.ZipFile(wheel).namelist()
        held = {name.split(".data/data/")[-1] for name in names}
        wanted = {
            str(path.relative_to(ROOT / "src"))
            for path in (ROOT / "src").rglob("*")
            if path.suffix in (".py", ".json", ".ttf", ".txt", ".words")
        }
        wanted = {name for name in wanted if "egg-info" not in name}
        self.assertEqual(wanted - held, set())
        shared = {
            "applications/wise-compass.desktop",
            "icons/hicolor/scalable/apps/wise-compass.svg",
            "icons/hicolor/symbolic/apps/wise-compass-symbolic.svg",
            "thumbnailers/wise-compass.thumbnailer",
            "mime/packages/wise-compass-mime.xml",
        }
        self.assertLessEqual({f"share/{name}" for name in shared}, held)
        pages = {f"wise_compass/handbook/pages/{file.name}" for file in (ROOT / "docs" / "handbook").glob("*.md")}
        self.assertGreater(len(pages), 20)
        self.assertLessEqual({*pages, "wise_compass/handbook/screenshots/walk.png"}, held)


if __name__ == "__main__":
    unittest.main()
