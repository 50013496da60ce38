"""Autosave: what is being edited, kept aside after every edit until it is saved, and found again after a kill."""

from __future__ import annotations

import fcntl
import json
import os
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Job
from wise_compass.job.store import job_text, parse_job
from wise_compass.outputs.files import write_whole


def state_folder() -> Path:
    """Where unsaved work is kept (XDG state directory; one that is told relative is ignored, as the standard has
    it)."""
    told = os.environ.get("XDG_STATE_HOME", "")
    root = told if os.path.isabs(told) else os.path.join(os.path.expanduser("~"), ".local", "state")
    return Path(root) / "wise-compass" / "recovery"


class Recovered(NamedTuple):
    """Work that a process left behind: the job, the file it belongs to, if it had one, and what it was kept in.

    ``held`` is the lock on it: no other window offers the same work.
    """

    job: Job
    path: Path | None
    kept_in: Path
    held: int = -1

    def forget(self) -> None:
        """Drop it for good."""
        for file in (self.kept_in, _lock_of(self.kept_in)):
            with suppress(OSError):
                file.unlink()
        self.release()

    def release(self) -> None:
        """Leave it for another time."""
        if self.held >= 0:
            with suppress(OSError):
                os.close(self.held)


class Keeper:
    """Keeps this window's unsaved job aside, in a file of a name of its own that it holds a lock on while it lives.

    Whether a file's owner lives is told by the lock, which the system takes away with the process; numbers of processes
    come round again. ``fault`` says why nothing could be kept, where that is so.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or state_folder()
        self.file = self.folder / f"{os.urandom(8).hex()}.json"
        self.fault = ""
        self._held = -1

    def keep(self, job: Job, path: Path | None) -> None:
        """Keep the job as it stands. A folder that cannot be written is no reason to stop the work; :attr:`fault` says
        so."""
        text = json.dumps({"path": str(path) if path else None, "job": job_text(job)}, ensure_ascii=False)
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            if self._held < 0:
                self._held = _locked(_lock_of(self.file))
            write_whole(self.file, text)
        except OSError as error:
            self.fault = f"{self.folder} cannot be written: {(error.strerror or str(error)).lower()}"
        except Refused as refusal:
            self.fault = refusal.says
        else:
            self.fault = ""

    def drop(self) -> None:
        """Nothing is unsaved any more."""
        for file in (self.file, _lock_of(self.file)):
            with suppress(OSError):
                file.unlink()
        if self._held >= 0:
            with suppress(OSError):
                os.close(self._held)
            self._held = -1


def _lock_of(file: Path) -> Path:
    return file.with_suffix(".lock")


def _locked(file: Path) -> int:
    """Hold a lock file; the handle, or −1 where a living process holds it. Raises OSError where it cannot be made."""
    handle = os.open(file, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        return -1
    return handle


def left_behind(folder: Path | None = None) -> list[Recovered]:
    """The work of processes that are gone, newest first; each kept file by itself, so that a damaged one hides no
    other."""
    found = []
    for file in sorted((folder or state_folder()).glob("*.json"), key=_age):
        held = -1
        with suppress(OSError, ValueError, KeyError, TypeError, RecursionError, Refused):
            held = _locked(_lock_of(file))
            if held < 0:
                continue
            data = json.loads(file.read_text("utf-8"))
            job = parse_job(data["job"], "The work kept aside")
            found.append(Recovered(job, Path(data["path"]) if data.get("path") else None, file, held))
            continue
        if held >= 0:
            os.close(held)
            with suppress(OSError):
                _lock_of(file).unlink()
    return found


def _age(file: Path) -> float:
    """Seconds since a file was written; of one that is gone meanwhile, the longest of all."""
    try:
        return -file.stat().st_mtime
    except OSError:
        return 0.0
