"""Runs every test on all processors and closes with one line that counts them."""

from __future__ import annotations

import doctest
import io
import multiprocessing
import os
import sys
import time
import unittest
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from typing import NamedTuple

APPLICATION: object = None
HERE = Path(__file__).parent
SLOW = (
    "test_catalogue",
    "test_house",
    "test_readme",
    "test_desk",
    "test_curve_desk",
    "test_properties",
    "test_flows",
    "test_ruler",
)
"""Modules whose tests go first, so that no long one is left for the end."""


class Outcome(NamedTuple):
    """What came of one test: its name, how many ran, failed and were skipped, what it printed of failures, its seconds."""

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
    """The ids of the tests to run; the modules of :data:`SLOW` first. A module that does not import is a test that fails."""
    loader = unittest.TestLoader()
    if wanted:
        suite = loader.loadTestsFromNames([name if name.startswith("tests.") else f"tests.{name}" for name in wanted])
    else:
        suite = loader.discover(str(HERE), top_level_dir=str(HERE.parent))
    broken = [str(error) for error in loader.errors]
    if broken:
        raise SystemExit("\n".join([*broken, f"0 passed, {len(broken)} failed, 0 skipped"]))
    names = list(dict.fromkeys(_name(case) for case in _cases(suite)))
    order = {name: k for k, name in enumerate(SLOW)}
    return sorted(names, key=lambda name: order.get(name.split(".")[-3] if name.count(".") >= 3 else name, len(SLOW)))


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


def _make_application() -> None:
    """The one application of a worker, with widgets, before any test could make one without."""
    from wise_compass.desk.theme import application

    global APPLICATION
    APPLICATION = application()


def main() -> int:
    """Run the modules named on the command line, or all of them."""
    names = _names(sys.argv[1:])
    workers = min(os.cpu_count() or 1, max(len(names), 1))
    ran = failed = skipped = 0
    slowest: list[tuple[float, str]] = []
    # each worker is fresh: tests of the desk need an application of their own; one that dies is a failure, not a wait without end
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(workers, context, _make_application) as pool:
        running = {pool.submit(_run, name): name for name in names}
        for future in as_completed(running):
            try:
                outcome = future.result()
            except BrokenProcessPool:
                outcome = Outcome(
                    running[future], 1, 1, 0, f"{running[future]}: a worker died while this ran, or waited to run", 0.0
                )
            ran, failed, skipped = ran + outcome.ran, failed + outcome.failed, skipped + outcome.skipped
            slowest.append((outcome.seconds, outcome.name))
            print("F" if outcome.failed else "s" if outcome.skipped else ".", end="", file=sys.stderr, flush=True)
            if outcome.words:
                print(f"\n{outcome.words}", file=sys.stderr, flush=True)
    print(file=sys.stderr)
    if os.environ.get("WISE_COMPASS_SLOWEST"):
        for seconds, name in sorted(slowest, reverse=True)[:20]:
            print(f"{seconds:6.1f} s  {name}", file=sys.stderr)
    sys.stderr.flush()
    print(f"{ran - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not ran else 0
