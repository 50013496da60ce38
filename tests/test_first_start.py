"""The first minute: an environment made beside and moved into place, under a lock, and made anew where it is broken."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent
PYTHON = """#!/bin/sh
# stands for Python: makes "environments" that hold only itself, and counts the installations
flags=
while [ "$1" = -I ] || [ "$1" = -P ]; do flags="$flags$1"; shift; done
[ -n "$flags" ] || { echo "started without -I or -P" >&2; exit 9; }
case "$1 $2" in
"-m venv") mkdir -p "$3/bin" && cp "$FAKE/real" "$3/bin/real-python" && ln -sf real-python "$3/bin/python" ;;
"-m pip") echo pip >>"$FAKE/installed"; sleep "${PIP_TAKES:-0}"; [ -z "${PIP_FAILS:-}" ] ;;
"-m wise_compass") echo "started $3" ;;
"-c import cv2"*) [ -z "${IMPORT_FAILS:-}" ] ;;
*) exit 0 ;;
esac
"""


class FirstStart(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.fake = Path(folder.name) / "fake"
        self.here = Path(folder.name) / "here with a space"
        (self.here / "tools").mkdir(parents=True)
        self.fake.mkdir()
        for name in ("wise-compass", "tools/prepare", "requirements.lock"):
            shutil.copy(ROOT / name, self.here / name)
        for name in ("python3", "real"):
            (self.fake / name).write_text(PYTHON)
            (self.fake / name).chmod(0o755)

    def start(self, *words: str, program: Path | None = None, **extra: str) -> subprocess.Popen[str]:
        path = f"{self.fake}:{os.environ['PATH']}"
        env = {"PATH": path, "FAKE": str(self.fake), "HOME": str(self.fake), **extra}
        command = [str(program or self.here / "wise-compass"), *words]
        return subprocess.Popen(
            command, env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.PIPE, start_new_session=True
        )

    def done(self, process: subprocess.Popen[str]) -> tuple[int, str, str]:
        out, err = process.communicate(timeout=60)
        return process.returncode, out, err

    @property
    def installations(self) -> int:
        file = self.fake / "installed"
        return len(file.read_text().splitlines()) if file.exists() else 0

    def leftovers(self) -> set[str]:
        return {one.name for one in self.here.glob(".venv*")}

    def test_once_and_never_again(self) -> None:
        for _ in range(3):
            self.assertEqual(self.done(self.start("list"))[:2], (0, "started list\n"))
        self.assertEqual(self.installations, 1)
        self.assertEqual(self.leftovers(), {".venv", ".venv.lock"})

    def test_a_kill_leaves_no_half_environment(self) -> None:
        process = self.start("list", PIP_TAKES="30")
        for _ in range(500):
            if self.installations:
                break
            time.sleep(0.02)
        os.killpg(process.pid, signal.SIGKILL)
        process.communicate()
        self.assertNotIn(".venv", self.leftovers())
        self.assertEqual(self.done(self.start("list"))[:2], (0, "started list\n"))
        self.assertEqual(self.leftovers(), {".venv", ".venv.lock"})

    def test_of_two_at_once_one_makes_it_and_both_start(self) -> None:
        both = [self.start("list", PIP_TAKES="1") for _ in range(2)]
        self.assertEqual([self.done(one)[:2] for one in both], [(0, "started list\n")] * 2)
        self.assertEqual(self.installations, 1)

    def test_one_that_is_broken_or_of_another_python_is_made_anew(self) -> None:
        self.done(self.start("list"))
        python = self.here / ".venv" / "bin" / "python"
        for number, target in enumerate(("/nowhere/python", str(self.fake / "python3")), 2):
            python.unlink()
            python.symlink_to(target)
            self.assertEqual(self.done(self.start("list"))[:2], (0, "started list\n"))
            self.assertEqual(self.installations, number)
        lock = self.here / "requirements.lock"
        future = time.time() + 5
        os.utime(lock, (future, future))
        self.done(self.start("list"))
        self.assertEqual(self.installations, 4)

    def test_what_cannot_be_installed_leaves_what_was(self) -> None:
        self.done(self.start("list"))
        os.utime(self.here / "requirements.lock", (time.time() + 5, time.time() + 5))
        status, _, err = self.done(self.start("list", PIP_FAILS="1"))
        self.assertEqual(status, 3)
        self.assertIn("could not be installed", err)
        self.assertTrue((self.here / ".venv" / "bin" / "python").exists())

    def test_what_cannot_be_imported_is_not_stamped_as_good(self) -> None:
        status, _, err = self.done(self.start("list", IMPORT_FAILS="1"))
        self.assertEqual(status, 3)
        self.assertIn("cannot be used", err)
        self.assertEqual(self.leftovers(), {".venv.lock"})

    def test_a_kill_between_the_two_moves_loses_neither_environment(self) -> None:
        self.done(self.start("list"))
        for name in (".venv.old", ".venv.new"):
            (self.here / ".venv").rename(self.here / name)
            self.assertEqual(self.done(self.start("list"))[:2], (0, "started list\n"))
            self.assertEqual(self.installations, 1, f"{name} was thrown away")

    def test_a_folder_that_no_environment_can_be_made_in_is_named(self) -> None:
        odd = self.here.rename(self.here.with_name("mill: drawings"))
        status, _, err = self.done(self.start("list", program=odd / "wise-compass"))
        self.assertEqual(status, 3)
        self.assertIn("“:”", err)

    def test_what_lies_in_the_folder_one_stands_in_is_not_run(self) -> None:
        """The program as it is, started beside modules with the names of those that it imports."""
        for name in ("json", "csv", "argparse", "numpy", "dataclasses"):
            (self.fake / f"{name}.py").write_text("raise SystemExit('code of the folder was run')")
        text = (ROOT / "wise-compass").read_text("utf-8")
        line = next(line for line in text.splitlines() if "exec" in line)
        command = line.replace("$here/.venv/bin/python", sys.executable).replace("$here", str(ROOT))
        done = subprocess.run(
            ["sh", "-c", command, "wise-compass", "solve", "bisect-line", "--json"],
            cwd=self.fake,
            capture_output=True,
            text=True,
            timeout=60,
        )
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_through_a_link(self) -> None:
        link = self.fake / "wc"
        link.symlink_to(self.here / "wise-compass")
        self.assertEqual(self.done(self.start("list", program=link))[:2], (0, "started list\n"))


class NoScreen(unittest.TestCase):
    def desk(self, **extra: str) -> subprocess.CompletedProcess[str]:
        env = {
            name: value
            for name, value in os.environ.items()
            if name not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
        }
        env |= {"PYTHONPATH": str(ROOT / "src"), **extra}
        return subprocess.run(
            [sys.executable, "-m", "wise_compass"], env=env, capture_output=True, text=True, timeout=60
        )

    def test_without_a_screen_it_says_so_in_one_line(self) -> None:
        for extra in ({}, {"DISPLAY": ":987"}, {"DISPLAY": "nonsense"}, {"WAYLAND_DISPLAY": "wayland-987"}):
            done = self.desk(**extra)
            self.assertEqual(done.returncode, 2, done.stderr)
            self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
            self.assertIn("screen", done.stderr)

    def test_a_screen_that_answers_is_taken_for_one(self) -> None:
        from wise_compass.care.screen import no_screen

        with tempfile.TemporaryDirectory() as folder, socket.socket(socket.AF_UNIX) as server:
            server.bind(f"{folder}/wayland-7")
            server.listen()
            self.assertEqual(no_screen({"XDG_RUNTIME_DIR": folder, "WAYLAND_DISPLAY": "wayland-7"}), "")
        self.assertEqual(no_screen({"QT_QPA_PLATFORM": "offscreen"}), "")
        self.assertIn(":987", no_screen({"DISPLAY": ":987"}))
