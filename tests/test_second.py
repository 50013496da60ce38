"""A second start with a file hands it to the window that is open, or opens its own."""

from __future__ import annotations

import os
import socket
import stat
import subprocess
import sys
import tempfile
import threading
import unittest
from pathlib import Path

from tests.test_desk import APP
from tests.waiting import comes
from wise_compass.desk.second import Doorman, handed_over
from wise_compass.job.demo import demo_job
from wise_compass.job.store import save

ROOT = Path(__file__).parent.parent


class Second(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.place = self.folder / "door.socket"
        self.job = self.folder / "job.json"
        save(demo_job(), self.job)
        self.taken: list[Path] = []

    def doorman(self) -> Doorman:
        made = Doorman(self.taken.append, APP, self.place)
        self.addCleanup(made.close)
        return made

    def handed(self, path: Path) -> bool:
        """Hand a file over from another thread, as another process would, while this one sees to its events."""
        answers: list[bool] = []
        talk = threading.Thread(target=lambda: answers.append(handed_over(path, self.place)))
        talk.start()
        self.assertTrue(comes(lambda: bool(answers)))
        talk.join()
        return answers[0]

    def test_a_file_goes_to_the_window_that_is_open_and_nobody_else_can_reach_it(self) -> None:
        self.assertFalse(self.handed(self.job), "there is no window yet")
        doorman = self.doorman()
        self.assertTrue(doorman.open())
        self.assertEqual(stat.S_IMODE(self.place.stat().st_mode) & 0o077, 0)
        self.assertTrue(self.handed(self.job))
        self.assertEqual(self.taken, [self.job])
        self.assertFalse(self.handed(self.folder / "none.json"), "a file that is not there")
        self.assertFalse(self.doorman().open(), "one window is there already")
        self.assertTrue(self.handed(self.job), "and goes on being there")
        doorman.close()
        self.assertFalse(self.place.exists())

    def test_what_is_no_message_is_not_answered_and_harms_nothing(self) -> None:
        doorman = self.doorman()
        self.assertTrue(doorman.open())
        for words in (
            b"",
            b"open",
            b"[1]\n",
            b'{"open": 3}\n',
            b'{"open": "/etc\\u0000"}\n',
            b"x" * 20_000,
            b"\xff\xfe",
        ):
            with socket.socket(socket.AF_UNIX) as talk:
                talk.connect(str(self.place))
                talk.sendall(words)
                talk.shutdown(socket.SHUT_WR)
                for _ in range(5):
                    APP.processEvents()
        self.assertEqual(self.taken, [])
        self.assertTrue(self.handed(self.job))

    def test_a_window_that_was_killed_leaves_no_one_before_the_door(self) -> None:
        with socket.socket(socket.AF_UNIX) as dead:
            dead.bind(str(self.place))
        self.assertTrue(self.doorman().open())
        self.assertTrue(self.handed(self.job))

    def test_a_real_second_start_ends_at_once(self) -> None:
        run = self.folder / "run"
        run.mkdir(mode=0o700)
        doorman = Doorman(self.taken.append, APP, run / "wise-compass.socket")
        self.addCleanup(doorman.close)
        self.assertTrue(doorman.open())
        home = {name: str(self.folder) for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")}
        path = f"{ROOT / 'src'}{os.pathsep}{ROOT}"
        env = {**os.environ, **home, "XDG_RUNTIME_DIR": str(run), "PYTHONPATH": path}
        start = subprocess.Popen(
            [sys.executable, "-m", "wise_compass", str(self.job)], env=env, stdout=subprocess.PIPE, text=True
        )
        self.addCleanup(start.kill)
        self.assertTrue(comes(lambda: start.poll() is not None))
        assert start.stdout is not None
        self.assertIn("in the window that is there", start.stdout.read())
        start.stdout.close()
        self.assertEqual((start.returncode, self.taken), (0, [self.job]))


if __name__ == "__main__":
    unittest.main()
