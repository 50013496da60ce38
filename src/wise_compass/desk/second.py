"""A second start with a file: it is handed to the window that is open, through a socket that only this user can
reach."""

from __future__ import annotations

import json
import os
import socket
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QObject, QSocketNotifier

from wise_compass.outputs.files import own_folder

LONGEST = 8192
"""Bytes of a message: a path, as JSON."""
WAIT_S = 0.5


def meeting_place() -> Path:
    """The socket's file: in the folder of the session, else of the user's state."""
    told = os.environ.get("XDG_RUNTIME_DIR", "")
    folder = Path(told) if told and Path(told).is_dir() else own_folder("XDG_STATE_HOME", ".local", "state")
    return folder / "wise-compass.socket"


def handed_over(path: Path, place: Path | None = None) -> bool:
    """Hand a file to the window that is open; False where there is none that takes it."""
    with suppress(OSError, ValueError), socket.socket(socket.AF_UNIX) as talk:
        talk.settimeout(WAIT_S)
        talk.connect(str(place or meeting_place()))
        talk.sendall(json.dumps({"open": str(path.absolute())}).encode() + b"\n")
        return talk.recv(16).strip() == b"taken"
    return False


class Doorman(QObject):
    """Takes files that later starts hand over, as long as this window is open."""

    def __init__(self, take: Callable[[Path], None], parent: QObject, place: Path | None = None) -> None:
        super().__init__(parent)
        self._take, self.place = take, place or meeting_place()
        self._door: socket.socket | None = None
        self._notifier: QSocketNotifier | None = None

    def open(self) -> bool:
        """Be there for later starts; False where another window is, or where there is no place for it."""
        door = socket.socket(socket.AF_UNIX)
        with suppress(OSError):
            self.place.parent.mkdir(parents=True, exist_ok=True)
            if self.place.is_socket() and not _answered(self.place):
                self.place.unlink()  # of a window that was killed
            before = os.umask(0o177)
            try:
                door.bind(str(self.place))
            finally:
                os.umask(before)
            door.listen(4)
            door.setblocking(False)
            self._door = door
            self._notifier = QSocketNotifier(door.fileno(), QSocketNotifier.Type.Read, self)
            self._notifier.activated.connect(lambda *_: self._hear())
            return True
        door.close()
        return False

    def _hear(self) -> None:
        """One message: a path to a file that is there; anything else is not answered."""
        assert self._door is not None
        path: Path | None = None
        with suppress(OSError, ValueError):
            talk, _ = self._door.accept()
            with talk:
                talk.settimeout(WAIT_S)
                told = json.loads(talk.recv(LONGEST))
                name = told.get("open") if isinstance(told, dict) else None
                if isinstance(name, str) and "\0" not in name and Path(name).is_file():
                    talk.sendall(b"taken\n")  # who has not waited for it has opened it by now
                    path = Path(name)
        if path is not None:
            self._take(path)

    def close(self) -> None:
        """No longer be there."""
        if self._door is not None:
            if self._notifier is not None:
                self._notifier.setEnabled(False)
            self._door.close()
            self._door = None
            with suppress(OSError):
                self.place.unlink()


def _answered(place: Path) -> bool:
    """Whether a window listens there."""
    with suppress(OSError), socket.socket(socket.AF_UNIX) as talk:
        talk.settimeout(WAIT_S)
        talk.connect(str(place))
        return True
    return False
