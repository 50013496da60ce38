"""Waiting for what the desk does in its own time: until it is there, however busy the machine, not for so many
milliseconds."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtTest import QTest

PATIENCE_S = 60.0


def comes(holds: Callable[[], object], pause_ms: int = 20) -> bool:
    """Let the desk work until something holds; False where it never does."""
    end = time.monotonic() + PATIENCE_S
    while time.monotonic() < end:
        if holds():
            return True
        QTest.qWait(pause_ms)
    return bool(holds())
