"""A hundred thousand hostile command lines, ten thousand spoilt jobs and as many damaged files of every kind, from a
fixed seed: what faulted, and what took over two seconds.

``PYTHONPATH=src:. .venv/bin/python -m bench.fuzz [share]``; a share of 0.1 tries a tenth of them.
"""

from __future__ import annotations

import json
import random
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from typing import Any

from tests.damage import lot
from tests.fuzz import command_lines, spoilt_jobs
from tests.test_cli import call

from wise_compass.drafting.refusals import Refused
from wise_compass.job.store import job_text, parse_job

LINES, JOBS, FILES, SOON = 100_000, 10_000, 10_000, 2.0


def main() -> int:
    """Print what came of them as JSON; returns 1 where one faulted or was slow."""
    share = float(sys.argv[1]) if len(sys.argv) > 1 else 1.0
    endings: Counter[Any] = Counter()
    faults: list[Any] = []
    slow: list[Any] = []
    with tempfile.TemporaryDirectory() as folder:
        for words in command_lines(int(LINES * share), 20261125, Path(folder)):
            began = time.perf_counter()
            status, _, _ = call(*words)
            took = time.perf_counter() - began
            endings[status] += 1
            if status not in (0, 2):
                faults.append(words)
            if took > SOON:
                slow.append([round(took, 1), words])
    for text in spoilt_jobs(int(JOBS * share), random.Random(20261125)):
        began = time.perf_counter()
        try:
            job = parse_job(text)
            if parse_job(job_text(job)) != job:
                faults.append("a job that was opened is not the one that is saved")
            endings["opened"] += 1
        except Refused:
            endings["refused"] += 1
        if time.perf_counter() - began > SOON:
            slow.append("a job")
    with tempfile.TemporaryDirectory() as folder:
        told = lot(int(FILES * share), 20261125, Path(folder))
    endings.update(told.endings)
    faults += told.faults
    slow += told.slow
    print(
        json.dumps(
            {"endings": {str(key): count for key, count in endings.items()}, "faults": faults, "slow": slow}, indent=1
        )
    )
    return 1 if faults or slow else 0


if __name__ == "__main__":
    sys.exit(main())
