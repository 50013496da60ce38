"""Autosave: what is being edited, kept aside after every edit until it is saved, and found again after a kill."""

from __future__ import annotations

import fcntl
import json
import os
import time
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Job
from wise_compass.job.store import job_text, parse_job
from wise_compass.outputs.files import own_folder, read_text, sweep_parts, write_whole

MOST_KEPT = 50_000_000
"""Bytes of work that is kept aside: a job as text within JSON."""


KEPT_DAMAGED = 30 * 24 * 3600.0
"""Seconds after which what was set aside as damaged is taken away."""


def state_folder() -> Path:
    """Where unsaved work is kept (XDG state directory)."""
    return own_folder("XDG_STATE_HOME", ".local", "state") / "recovery"


class Recovered(NamedTuple):
    """Work that a process left behind: the job, the file it belongs to, if it had one, and what it was kept in.

    ``held`` is the lock on it: no other window offers the same work. ``stamp`` is what told its file from others when
    the work was begun: where it is another now, somebody has saved since.
    """

    job: Job
    path: Path | None
    kept_in: Path
    held: int = -1
    stamp: tuple[int, int, int] | None = None

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

    def keep(self, job: Job, path: Path | None, stamp: tuple[int, int, int] | None = None) -> None:
        """Keep the job as it stands, with what tells its file as it was read. A folder that cannot be written is no
        reason to stop the work; :attr:`fault` says so."""
        text = json.dumps(
            {"path": str(path) if path else None, "stamp": stamp, "job": job_text(job)}, ensure_ascii=False
        )
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
    folder = folder or state_folder()
    _sweep(folder)
    for file in sorted(folder.glob("*.json"), key=_age):
        held = -1
        try:
            held = _locked(_lock_of(file))
            if held >= 0:
                found.append(_kept(file, held))
        except Refused:
            _set_aside(file, held)
        except OSError:
            _unlock(file, held)
    return found


def _kept(file: Path, held: int) -> Recovered:
    """What a file keeps; raises :class:`Refused` for one that is damaged."""
    text = read_text(file, "kept work", MOST_KEPT, replaced=True)
    try:
        data = json.loads(text)
        job = parse_job(data["job"], "The work kept aside")
        path = str(data["path"]) if data.get("path") else ""
        stamp = data.get("stamp")
        known = isinstance(stamp, list) and len(stamp) == 3 and all(isinstance(one, int) for one in stamp)
        whole = "\0" not in path and path.isprintable()
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise Refused("", f"{file.name} is damaged.") from None
    if not whole:
        raise Refused("", f"{file.name} is damaged.")
    return Recovered(job, Path(path) if path else None, file, held, tuple(stamp) if known else None)


def _set_aside(file: Path, held: int) -> None:
    """What is damaged is kept under another name, so that it is not asked for at every start; it goes after a month."""
    with suppress(OSError):
        if file.is_file():
            os.replace(file, file.with_suffix(".damaged"))
    _unlock(file, held)


def _unlock(file: Path, held: int) -> None:
    if held >= 0:
        os.close(held)
        with suppress(OSError):
            _lock_of(file).unlink()


def _sweep(folder: Path) -> None:
    """Take away what dead processes left beside the work that they kept: locks that nobody holds, halves of files a day
    old, and what was set aside a month ago."""
    for lock in folder.glob("*.lock"):
        with suppress(OSError):
            if not lock.with_suffix(".json").exists() and (held := _locked(lock)) >= 0:
                _unlock(lock, held)
    sweep_parts(folder)
    for file in folder.glob("*.damaged"):
        with suppress(OSError):
            if time.time() - file.stat().st_mtime > KEPT_DAMAGED:
                file.unlink()


def _age(file: Path) -> float:
    """Seconds since a file was written; of one that is gone meanwhile, the longest of all."""
    try:
        return -file.stat().st_mtime
    except OSError:
        return 0.0
