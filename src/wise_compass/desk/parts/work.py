"""Work beside the window: a function run in a thread of its own, its progress told, what comes of it handed back to the
window's thread."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any, NamedTuple

from PySide6.QtCore import QObject, Signal, SignalInstance

from wise_compass.desk.parts.progress import Stopped
from wise_compass.drafting.refusals import Refused


class Work(QObject):
    """One piece of work. ``done`` brings what came of it, ``failed`` what it raised, ``told`` how far it is; stopped,
    it brings nothing."""

    done = Signal(object)
    failed = Signal(object)
    told = Signal(int, int)

    def __init__(self, do: Callable[[Callable[[int, int], None]], Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._do: Callable[[Callable[[int, int], None]], Any] | None = do
        self._stop = threading.Event()
        self.made: Any = None
        self.error: Exception | None = None
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

    @property
    def ended(self) -> bool:
        """Whether the thread has ended."""
        return not self._thread.is_alive()

    def _hear(self, done: int, whole: int) -> None:
        if self._stop.is_set():
            raise Stopped
        self.told.emit(done, whole)

    def _run(self) -> None:
        try:
            do, self._do = self._do, None  # what it holds goes with it
            assert do is not None
            made = do(self._hear)
            self.made = None if self._stop.is_set() else made
        except Stopped:
            return
        except Exception as error:  # handed to the window, which says it
            self.error = error
            self._hand(self.failed, error)
            return
        self._hand(self.done, made)

    def _hand(self, signal: SignalInstance, what: object) -> None:
        if not self._stop.is_set():
            try:
                signal.emit(what)
            except RuntimeError:  # the window that asked is gone
                return


HELD_S = 0.06
"""How long the window may be held up by work that is then done at once."""


class Later(QObject):
    """Work that a widget waits for: done at once where it is quick, else beside the window, which goes on; asked anew,
    it drops what it was about."""

    patient = False
    """Whether the window waits after all, for who looks at once at what comes of it."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._asked: _Asked | None = None
        self._number = 0

    @property
    def busy(self) -> bool:
        """Whether something is still being worked on."""
        return self._asked is not None

    def ask(
        self,
        do: Callable[[], Any],
        then: Callable[[Any], None],
        refused: Callable[[Refused], None] | None = None,
        held: float = HELD_S,
    ) -> None:
        """Have something made and handed to ``then``; what it refuses goes to ``refused``, and all else that it raises
        is raised in the window's thread. The window is ``held`` up for so many seconds at most."""
        self.ask_telling(lambda hear: do(), then, refused, None, held)

    def ask_telling(
        self,
        do: Callable[[Callable[[int, int], None]], Any],
        then: Callable[[Any], None],
        refused: Callable[[Refused], None] | None = None,
        told: Callable[[int, int], None] | None = None,
        held: float = HELD_S,
    ) -> None:
        """The same of work that says how far it is, which ``told`` hears while the window goes on."""
        self.drop()
        work = Work(do, self)
        if told is not None:
            work.told.connect(told)
        asked = self._asked = _Asked(work, then, refused)
        self._number += 1
        for signal in (work.done, work.failed):
            signal.connect(lambda _, number=self._number: self._arrived(number))
        work.start().wait(60.0 if self.patient else held)
        if work.ended:
            self._hand(asked)

    def drop(self) -> None:
        """Nobody waits any longer for what is being made."""
        if self._asked is not None:
            self._asked.work.stop()
            self._asked = None

    def settle(self) -> None:
        """Hold the window up until what was asked for is handed over, for who cannot go on without it."""
        while self._asked is not None:
            self._asked.work.wait()
            self._hand(self._asked)

    def _arrived(self, number: int) -> None:
        """The outcome of what was asked for by its number, which keeps nothing of it alive."""
        if self._asked is not None and number == self._number:
            self._hand(self._asked)

    def _hand(self, asked: _Asked) -> None:
        if self._asked is not asked:  # handed already, or dropped
            return
        self._asked = None
        made, asked.work.made = asked.work.made, None  # or every edit would leave behind what it made
        if asked.work.error is None:
            asked.then(made)
        elif asked.refused is not None and isinstance(asked.work.error, Refused):
            asked.refused(asked.work.error)
        else:
            raise asked.work.error


class _Asked(NamedTuple):
    work: Work
    then: Callable[[Any], None]
    refused: Callable[[Refused], None] | None
