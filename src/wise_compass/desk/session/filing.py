"""The files of a session: opened, saved, taken from the disk, and what is kept aside until then."""

from __future__ import annotations

import json
from pathlib import Path

from wise_compass.desk.session.scattering import Scattering
from wise_compass.job.history import History
from wise_compass.job.model import Job
from wise_compass.job.person import note_opened
from wise_compass.job.recovery import Keeper, Recovered
from wise_compass.job.store import load, parse_job, save, stamp_of


class Filing(Scattering):
    """The session with its files."""

    _told_fault = False

    def __init__(self, job: Job, path: Path | None = None, keeper: Keeper | None = None) -> None:
        super().__init__(job, path, keeper)
        self._keep_soon.timeout.connect(self._keep)

    def open(self, path: Path) -> None:
        """Open a job file, or an SVG drawn here; raises :class:`Refused` and leaves everything as it was."""
        if path.suffix.lower() == ".svg":
            from wise_compass.outputs.files import read_text
            from wise_compass.outputs.svg import read_about

            text = read_text(path, "a drawing", replaced=True)
            job, bound = parse_job(json.dumps(read_about(text)), path.name), None
        else:
            job, bound = load(path), path
        self.start(job, bound)
        if bound is not None:
            note_opened(bound)

    def start_recovered(self, work: Recovered) -> None:
        """Begin with work that a process left behind, which is to be saved; what was kept goes once it is kept anew."""
        self.start(work.job, work.path)
        # as the file was when the work on it was begun: whether somebody has saved since is asked against that
        self._stamp = work.stamp if work.path is not None else None
        self.history.saved = Job()
        self.keeper.keep(work.job, work.path, self._stamp)
        if self.keeper.fault:
            work.release()
            self.said.emit(f"It stays kept as it was: {self.keeper.fault}. Save it elsewhere.")
        else:
            work.forget()

    def start(self, job: Job, path: Path | None) -> None:
        """Begin with another job."""
        self.keeper.drop()
        self.history = History(job)
        self.path, self._stamp = path, stamp_of(path)
        self._forget()
        entries = job.entries()
        self.entry_id = entries[0].id if entries else ""
        self._show_other()
        self.job_changed.emit()

    @property
    def on_disk(self) -> str:
        """What became of the job's file since it was opened or saved: nothing (""), "changed" or "gone"."""
        now = stamp_of(self.path)
        return "" if now == self._stamp else "changed" if now else "gone"

    def save_as(self, path: Path) -> None:
        """Save; raises :class:`Refused`."""
        save(self.job, path)
        self.path, self._stamp = path, stamp_of(path)
        self.history.mark_saved()
        self._keep_soon.stop()
        self.keeper.drop()
        self.job_changed.emit()
        note_opened(path)
        self.said.emit(f"Saved as {path.name}.")

    def _keep(self) -> None:
        if self.history.unsaved:
            self.keeper.keep(self.job, self.path, self._stamp)
            if self.keeper.fault and not self._told_fault:
                self._told_fault = True
                self.said.emit(f"What you do cannot be kept aside until you save it: {self.keeper.fault}.")
        else:
            self.keeper.drop()
