"""Autosave: what is being edited, kept aside after every edit until it is saved, and found again after a kill."""

from __future__ import annotations

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
    """Where unsaved work is kept (XDG state directory; one that is told relative is ignored, as the standard has it)."""
    told = os.environ.get("XDG_STATE_HOME", "")
    root = told if os.path.isabs(told) else os.path.join(os.path.expanduser("~"), ".local", "state")
    return Path(root) / "wise-compass" / "recovery"


class Recovered(NamedTuple):
    """Work that a process left behind: the job, and the file it belongs to, if it had one."""

    job: Job
    path: Path | None
    kept_in: Path

    def forget(self) -> None:
        """Drop it for good."""
        with suppress(OSError):
            self.kept_in.unlink()


class Keeper:
    """Keeps this process's unsaved job aside."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or state_folder()
        self.file = self.folder / f"{os.getpid()}.json"

    def keep(self, job: Job, path: Path | None) -> None:
        """Keep the job as it stands. A folder that cannot be written is no reason to stop the work."""
        text = json.dumps({"path": str(path) if path else None, "job": job_text(job)}, ensure_ascii=False)
        with suppress(OSError, Refused):
            self.folder.mkdir(parents=True, exist_ok=True)
            write_whole(self.file, text)

    def drop(self) -> None:
        """Nothing is unsaved any more."""
        with suppress(OSError):
            self.file.unlink()


def _alive(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def left_behind(folder: Path | None = None) -> list[Recovered]:
    """The work of processes that are gone, newest first; files that are no such work are passed over."""
    found = []
    for file in sorted((folder or state_folder()).glob("*.json"), key=lambda one: -one.stat().st_mtime):
        if not file.stem.isdigit() or (int(file.stem) != os.getpid() and _alive(int(file.stem))):
            continue
        with suppress(OSError, ValueError, KeyError, TypeError, Refused):
            data = json.loads(file.read_text("utf-8"))
            job = parse_job(data["job"], "The work kept aside")
            found.append(Recovered(job, Path(data["path"]) if data.get("path") else None, file))
    return found
