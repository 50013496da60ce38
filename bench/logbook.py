"""The logbook with 20,000 entries: how long its view takes to open, and to follow a filter. ``PYTHONPATH=src python -m
bench.logbook``."""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np

from wise_compass.desk.logbook.place import LogbookPlace
from wise_compass.desk.parts.theme import application
from wise_compass.figures.catalogue import catalogue
from wise_compass.logbook.store import Logbook, Noted, NotedMeasure

ENTRIES = 20_000
NAMES = [f"Pupil {k}" for k in range(30)]


def filled(folder: Path) -> Logbook:
    """A logbook of so many entries, four measurements each."""
    random, book, kinds = np.random.default_rng(0), Logbook(folder), list(catalogue().values())
    entries = []
    for k in range(ENTRIES):
        kind, chance = kinds[int(random.integers(len(kinds)))], float(random.random())
        measures = tuple(
            NotedMeasure(
                f"A-{j}",
                "mm",
                50.0,
                50.0 + 0.2 * float(random.standard_normal()),
                0.25,
                0.5,
                ("rule", "dividers")[j % 2],
            )
            for j in range(4)
        )
        verdict = "slip" if chance < 0.15 else "step" if chance < 0.3 else "honest"
        entries.append(
            Noted(
                f"e{k}", 1.76e9 + 900 * k, "practice", NAMES[k % 30], kind.family, kind.id, next(iter(kind.methods)),
                {}, 1.0, {}, verdict,
                "other-crossing" if verdict == "slip" else None, 3 if verdict == "step" else None,
                "The other of two crossings.", "loose",
                float(random.uniform(5, 60)), 12, None, measures,
            )
        )  # fmt: skip
    book.note(entries)
    return book


def main() -> None:
    """Print seconds to open and milliseconds to filter."""
    app = application()
    with tempfile.TemporaryDirectory() as folder:
        book = filled(Path(folder))
        times = []
        for _ in range(4):
            start = time.perf_counter()
            view = LogbookPlace(None, book)
            view.come()
            view.body.show()
            app.processEvents()
            times.append(time.perf_counter() - start)
            view.settle()
        print(f"opens in {min(times[1:]):.2f} s, the first time {times[0]:.2f} s (limit 0.5)")
        filters = []
        for k in range(1, 12):
            start = time.perf_counter()
            view.family.setCurrentIndex(k)
            app.processEvents()
            filters.append(time.perf_counter() - start)
            view.settle()
            app.processEvents()
        print(f"filters in {1000 * float(np.median(filters)):.0f} ms, at most {1000 * max(filters):.0f} (limit 100)")


if __name__ == "__main__":
    main()
