"""Runs every test on all processors and closes with one line that counts them.

``./run-tests`` runs all of it, ``./run-tests --quick`` draws fewer examples and leaves the longest out, modules named
behind it run alone.
"""

from __future__ import annotations

import doctest
import io
import multiprocessing
import os
import sys
import time
import unittest
from collections import deque
from collections.abc import Iterator
from multiprocessing.connection import Connection, wait
from pathlib import Path
from typing import NamedTuple

from tests import QUICK

APPLICATION: object = None
HERE = Path(__file__).parent
SLOW = (
    "test_house.House.test_types",
    "test_judge",
    "test_wander",
    "test_catalogue",
    "test_solids",
    "test_readme",
    "test_job",
    "test_looks",
    "test_sheet",
    "test_desk",
    "test_curve_desk",
    "test_properties",
    "test_flows",
    "test_ruler",
)
"""What goes first, so that no long one is left for the end."""
LONGEST_S = 900.0
"""After which a test is ended, and named as one that failed: a dialog that waits for somebody would hold all of them up
for ever."""


class Outcome(NamedTuple):
    """What came of one test: its name, how many ran, failed and were skipped, what it printed of failures, its
    seconds."""

    name: str
    ran: int
    failed: int
    skipped: int
    words: str
    seconds: float


def _cases(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from _cases(one)
        else:
            yield one


def _name(case: unittest.TestCase) -> str:
    """A test's own id, or the module of an example in a docstring."""
    if isinstance(case, doctest.DocTestCase):
        return f"doctest {case._dt_test.globs['__name__']}"  # type: ignore[attr-defined]
    return case.id()


def _names(wanted: list[str]) -> list[str]:
    """The ids of the tests to run; those of :data:`SLOW` first. A module that does not import is a test that fails."""
    loader = unittest.TestLoader()
    if wanted:
        names = [name if name.startswith("tests.") else f"tests.{name}" for name in wanted]
        suite = loader.loadTestsFromNames(names)
    else:
        suite = loader.discover(str(HERE), top_level_dir=str(HERE.parent))
    broken = [str(error) for error in loader.errors]
    if broken:
        raise SystemExit("\n".join([*broken, f"0 passed, {len(broken)} failed, 0 skipped"]))
    names = list(dict.fromkeys(_name(case) for case in _cases(suite)))

    def place(name: str) -> int:
        return next((k for k, slow in enumerate(SLOW) if name.startswith(f"tests.{slow}.")), len(SLOW))

    return sorted(names, key=lambda name: place(f"{name}."))


def _run(name: str) -> Outcome:
    """One test in this process."""
    began = time.perf_counter()
    out = io.StringIO()
    kind, _, module = name.rpartition(" ")
    suite = doctest.DocTestSuite(module) if kind == "doctest" else unittest.TestLoader().loadTestsFromName(name)
    result = unittest.TextTestRunner(stream=out, verbosity=0).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    words = out.getvalue() if failed else ""
    return Outcome(name, result.testsRun, failed, len(result.skipped), words, time.perf_counter() - began)


def _work(asked: Connection) -> None:
    """A worker: one application with widgets, before any test could make one without; then a test for each name that
    comes."""
    from wise_compass.desk.parts.theme import application

    global APPLICATION
    APPLICATION = application()
    while True:
        try:
            name = asked.recv()
        except EOFError:  # whoever asked is gone
            return
        if not name:
            return
        asked.send(_run(name))


class Worker:
    """A process of its own that runs one test at a time, and can be ended in the middle of one."""

    def __init__(self) -> None:
        # fresh, since tests of the desk need an application of their own
        context = multiprocessing.get_context("spawn")
        self.pipe, far = context.Pipe()
        self.process = context.Process(target=_work, args=(far,), daemon=True)
        self.process.start()
        far.close()
        self.name, self.began = "", 0.0

    def start(self, name: str) -> None:
        """Have it run a test, or with no name come to its end."""
        self.name, self.began = name, time.monotonic()
        self.pipe.send(name)

    @property
    def late(self) -> bool:
        """Whether its test has had its time."""
        return bool(self.name) and time.monotonic() - self.began > LONGEST_S

    def ended(self, why: str) -> Outcome:
        """What came of a test that its worker did not live to tell."""
        self.process.kill()
        self.process.join()
        words = f"{self.name}: {why}"
        return Outcome(self.name, 1, 1, 0, words, time.monotonic() - self.began)


def _outcomes(names: list[str]) -> Iterator[Outcome]:
    """Every test's, as they come, on all processors."""
    waiting = deque(names)
    workers = [Worker() for _ in range(min(os.cpu_count() or 1, max(len(names), 1)))]
    for worker in workers:
        worker.start(waiting.popleft() if waiting else "")
    while any(worker.name for worker in workers):
        ready = wait([worker.pipe for worker in workers if worker.name], timeout=1.0)
        for k, worker in enumerate(workers):
            if worker.pipe in ready:
                try:
                    yield worker.pipe.recv()
                except (EOFError, OSError):
                    yield worker.ended("its worker died")
                    workers[k] = worker = Worker()
            elif worker.late:
                yield worker.ended(f"it had not come to its end after {LONGEST_S:.0f} s, and was ended")
                workers[k] = worker = Worker()
            else:
                continue
            worker.start(waiting.popleft() if waiting else "")


def main() -> int:
    """Run the modules named on the command line, or all of them."""
    names = _names([word for word in sys.argv[1:] if word != QUICK])
    ran = failed = skipped = 0
    slowest: list[tuple[float, str]] = []
    for outcome in _outcomes(names):
        ran, skipped = ran + outcome.ran, skipped + outcome.skipped
        failed += min(outcome.failed, outcome.ran)  # a test fails once, however many of its cases do
        slowest.append((outcome.seconds, outcome.name))
        print("F" if outcome.failed else "s" if outcome.skipped else ".", end="", file=sys.stderr, flush=True)
        if outcome.words:
            print(f"\n{outcome.words}", file=sys.stderr, flush=True)
    print(file=sys.stderr)
    if os.environ.get("WISE_COMPASS_SLOWEST"):
        for seconds, name in sorted(slowest, reverse=True)[:40]:
            print(f"{seconds:6.1f} s  {name}", file=sys.stderr)
    sys.stderr.flush()
    print(f"{ran - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not ran else 0
