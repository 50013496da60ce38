"""Work beside the window: a function run in a thread of its own, its progress told, what comes of it handed back to the window's thread."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Signal

from wise_compass.desk.progress import Stopped


class Work(QObject):
    """One piece of work. ``done`` brings what came of it, ``failed`` what it raised, ``told`` how far it is; stopped, it brings nothing."""

    done = Signal(object)
    failed = Signal(object)
    told = Signal(int, int)

    def __init__(self, do: Callable[[Callable[[int, int], None]], Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._do, self._stop = do, threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)

    def start(self) -> Work:
        self._thread.start()
        return self

    def stop(self) -> None:
        """Ask it to stop; what it brings from now on is dropped."""
        self._stop.set()

    def wait(self, seconds: float = 60.0) -> None:
        """Until the thread has ended; its signals come when events are next seen to."""
        self._thread.join(seconds)

    def _hear(self, done: int, whole: int) -> None:
        if self._stop.is_set():
            raise Stopped
        self.told.emit(done, whole)

    def _run(self) -> None:
        try:
            made = self._do(self._hear)
        except Stopped:
            return
        except Exception as error:  # handed to the window, which says it
            self._hand(self.failed, error)
            return
        self._hand(self.done, made)

    def _hand(self, signal: Any, what: object) -> None:
        if not self._stop.is_set():
            try:
                signal.emit(what)
            except RuntimeError:  # the window that asked is gone
                return
