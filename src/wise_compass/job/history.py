"""Undo and redo: every state of the job, since states never change."""

from __future__ import annotations

from wise_compass.job.model import Job

DEEPEST = 500


class History:
    """The job now, what it was, and what was undone. Edits under one ``key`` in a row count as one."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.saved = job
        self._before: list[tuple[str, Job]] = []
        self._after: list[tuple[str, Job]] = []
        self._key = ""

    @property
    def unsaved(self) -> bool:
        return self.job != self.saved

    @property
    def undo_title(self) -> str:
        """What undo would take back, or ""."""
        return self._before[-1][0] if self._before else ""

    @property
    def redo_title(self) -> str:
        return self._after[-1][0] if self._after else ""

    def edit(self, job: Job, title: str, key: str = "") -> None:
        """Take ``job`` as the new state. A nudge held down keeps one ``key``, and is undone in one go."""
        if job == self.job:
            return
        if not (key and key == self._key and self._before):
            self._before.append((title, self.job))
            del self._before[:-DEEPEST]
        self._after.clear()
        self._key = key
        self.job = job

    def undo(self) -> bool:
        """Go back one edit; False where there is none."""
        return self._swap(self._before, self._after)

    def redo(self) -> bool:
        return self._swap(self._after, self._before)

    def _swap(self, source: list[tuple[str, Job]], target: list[tuple[str, Job]]) -> bool:
        if not source:
            return False
        title, job = source.pop()
        target.append((title, self.job))
        self.job, self._key = job, ""
        return True

    def mark_saved(self) -> None:
        self.saved = self.job
        self._key = ""
