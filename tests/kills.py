"""A thousand kills over all that writes: jobs, unsaved work, a person's settings, ways of one's own, the logbook and
what is written out. What was told as written is there, nothing is half written, and once swept nothing else is left.
"""

from __future__ import annotations

import os
import random
import signal
import tempfile
import time
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import NamedTuple
from unittest import mock

from tests.test_logbook import entry
from tests.ways import PENTAGON

SEED, LONGEST = 20261130, 0.04
"""Of the moments of the kills; and seconds after the first writing at which one comes at most."""
LONG = 400_000
"""Letters of an output."""
HOMES = ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")
ENDINGS = (".json", ".svg", ".sqlite", ".way", ".lock")
"""Of what is kept; a lock beside a person's settings is one for good."""
OLD = 2 * 24 * 3600.0
"""Seconds: what is left of a process so long ago is swept away."""


class Kept(NamedTuple):
    """What writes a number somewhere, whole, and reads it again: −1 where there is none."""

    write: Callable[[int], object]
    read: Callable[[], int]


def kinds(place: Path) -> Mapping[str, Kept]:
    """All that keeps something, in a folder."""
    from wise_compass.job import ways
    from wise_compass.job.demo import demo_job
    from wise_compass.job.person import change_person, person
    from wise_compass.job.recovery import Keeper, left_behind
    from wise_compass.job.store import load, save
    from wise_compass.logbook.store import Logbook
    from wise_compass.outputs.files import write_output
    from wise_compass.own.program import program_of

    job, file, out = demo_job(), place / "job.json", place / "out.svg"
    keeper = Keeper()
    own = program_of(PENTAGON)

    def unsaved() -> int:
        found = left_behind()
        for one in found:
            one.forget()
        return max((int(one.job.title) for one in found), default=-1)

    def noted() -> int:
        ids = {one.id for one in Logbook().entries()}
        numbers = {int(id.split("-")[0]) for id in ids}
        assert ids == {f"{n}-{which}" for n in numbers for which in "ab"}, "half of what was noted together is there"
        return max(numbers, default=-1)

    def output() -> int:
        text = out.read_text() if out.exists() else ""
        head, _, tail = text.partition(" " * LONG)
        assert head == tail, "an output is half written"
        return int(head or -1)

    def way() -> int:
        found = list(ways.kept())
        for one in found:
            one.path.unlink()  # they are not kept without end
        return max((int(one.program.title) for one in found), default=-1)

    return {
        "job": Kept(
            lambda n: save(job._replace(title=str(n)), file), lambda: int(load(file).title) if file.exists() else -1
        ),
        "unsaved work": Kept(lambda n: keeper.keep(job._replace(title=str(n)), file), unsaved),
        "settings": Kept(
            lambda n: change_person(lambda one: one._replace(recent=(str(n),))),
            lambda: int((person().recent or ("-1",))[0]),
        ),
        "logbook": Kept(lambda n: Logbook().note([entry(n, id=f"{n}-{which}") for which in "ab"]), noted),
        "way": Kept(lambda n: ways.keep(own._replace(title=str(n))), way),
        "output": Kept(lambda n: write_output(out, f"{n}{' ' * LONG}{n}"), output),
    }


def killed(kept: Kept, first: int, moment: float) -> int:
    """Have a process write numbers from ``first`` on, kill it a moment after the first is written, and return the last
    that it told as written."""
    told, tells = os.pipe()
    child = os.fork()
    if child == 0:
        n = first
        while True:
            kept.write(n)
            os.write(tells, b".")
            n += 1
    os.close(tells)
    os.read(told, 1)
    time.sleep(moment)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    count = 1
    while more := os.read(told, 4096):
        count += len(more)
    os.close(told)
    return first + count - 1


def lot(count: int) -> tuple[list[str], list[str], int]:
    """What so many kills lost, what they left lying, and how often something was written."""
    draw, lost, first = random.Random(SEED), list[str](), 0
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "jobs"
        place.mkdir()
        with mock.patch.dict(os.environ, {name: str(Path(folder) / name.lower()) for name in HOMES}):
            every = kinds(place)
            for k in range(count):
                name = list(every)[k % len(every)]
                last = killed(every[name], first, draw.uniform(0.0, LONGEST))
                found = every[name].read()
                if found not in (last, last + 1):
                    lost.append(f"{name}: {last} was told as written, {found} is there")
                first = last + 2
            return lost, _strays(Path(folder), every, first), first


def _strays(folder: Path, every: Mapping[str, Kept], n: int) -> list[str]:
    """What is left that nobody would read, a few days later, when each has been written once more."""
    files = [path for path in folder.rglob("*") if path.is_file()]
    for path in files:
        os.utime(path, (time.time() - OLD, time.time() - OLD))
    for name, kept in every.items():
        if name != "unsaved work":  # what this very process keeps would be no stray
            kept.write(n)
        kept.read()
    left = {path.relative_to(folder) for path in folder.rglob("*") if path.is_file()}
    return [str(path) for path in sorted(left) if path.suffix not in ENDINGS or "recovery" in path.parts]
