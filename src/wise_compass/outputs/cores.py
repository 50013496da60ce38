"""Work of many alike parts, shared out among the processors."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import TypeVar

T = TypeVar("T")
R = TypeVar("R")
THREADS = "OPENBLAS_NUM_THREADS"
FEWEST = 24
"""Parts from which on it is worth while to begin further processes."""


@contextmanager
def _single_threads() -> Iterator[None]:
    """Processes that are begun meanwhile reckon with one thread each: more would be in each other's way."""
    before = os.environ.get(THREADS)
    os.environ[THREADS] = "1"
    try:
        yield
    finally:
        if before is None:
            del os.environ[THREADS]
        else:
            os.environ[THREADS] = before


def on_all_cores(
    do: Callable[[T], R], parts: Sequence[T], hear: Callable[[int, int], None] | None = None, fewest: int = FEWEST
) -> list[R]:
    """What ``do`` makes of every part, in order; ``hear`` is told how many are done, of how many.

    ``do`` is a function of a module and, like parts and results, goes from process to process. Few parts, or a machine
    on which no process can be begun, are worked through here.
    """
    found: list[R] = []
    count = os.cpu_count() or 1
    if len(parts) >= fewest and count > 1 and not multiprocessing.current_process().daemon:
        from concurrent.futures import ProcessPoolExecutor
        from concurrent.futures.process import BrokenProcessPool

        try:
            with _single_threads(), ProcessPoolExecutor(count, multiprocessing.get_context("spawn")) as pool:
                for result in pool.map(do, parts, chunksize=max(len(parts) // (8 * count), 1)):
                    found.append(result)
                    if hear is not None:
                        hear(len(found), len(parts))
            return found
        except (BrokenProcessPool, OSError):
            pass
    for part in parts[len(found) :]:
        found.append(do(part))
        if hear is not None:
            hear(len(found), len(parts))
    return found
