"""What the window does with the figures of the job: new ones, their names and notes, their order and their sheets."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtGui import QGuiApplication

from wise_compass.desk.session.jobwindow import JobWindow
from wise_compass.desk.spine.spine import Spine
from wise_compass.job.model import new_id


class FigureActions(JobWindow):
    """A window on a session that has a spine."""

    spine: Spine

    def add_figure(self) -> None:
        self.set_problem("")

    def set_problem(self, text: str) -> None:
        """Ask for a problem, in words or by its picture, ``text`` being there to begin with, and set it."""
        from wise_compass.desk.problem.setproblem import SetProblem

        session = self.session
        asked = SetProblem(self, bool(session.entry), session.job.settings, text)
        asked.exec()
        asked.deleteLater()
        if not asked.sheets:
            return
        if len(asked.sheets) > 1:
            session.edit(session.job._replace(sheets=(*session.job.sheets, *asked.sheets)), "Set problems")
            session.select(asked.sheets[0].entries[0].id)
            return
        (sheet,) = asked.sheets
        (entry,) = sheet.entries
        own = not asked.share.isChecked()
        job = session.job.added(entry, session.entry_id, own)
        at = job.find(entry.id)
        if own and at is not None:
            job = job.with_sheet(at[0], **asked.wishes)
        session.edit(job, "Set a problem")
        session.select(entry.id)

    def paste_problem(self) -> None:
        """Ask for the problem that was copied elsewhere."""
        self.set_problem(QGuiApplication.clipboard().text())

    def read_anew(self) -> None:
        """Ask for the problem of the selected figure again; what is set then takes its place."""
        from wise_compass.desk.problem.setproblem import SetProblem

        entry = self.session.entry
        if entry is None or not entry.stated:
            self.session.said.emit("This figure was not set in words; Ctrl+N sets one that is.")
            return
        asked = SetProblem(self, False, self.session.job.settings, entry.stated)
        asked.exec()
        asked.deleteLater()
        if len(asked.sheets) == 1:
            (fresh,) = asked.sheets[0].entries
            told = {name: getattr(fresh, name) for name in ("figure", "title", "method", "givens", "stated")}
            job = self.session.job.with_entry(entry.id, lambda e: replace(e, **told, typed={}, links={}))
            self.session.edit(job, "Read the problem anew")
            self.session.select(entry.id)

    def problem_above(self) -> None:
        """The problem as it was set, above its figure on the sheet, or not."""
        entry = self.session.entry
        if entry is not None and entry.stated:
            self.session.set_wish("The problem above its figure", problem=not entry.problem)
        else:
            self.session.said.emit("This figure was not set in words; Ctrl+N sets one that is.")

    def turn_dimensions(self) -> None:
        """What is given dimensioned on the sheet, all of it, or nothing, in turn."""
        entry = self.session.entry
        if entry is None:
            self.session.said.emit("There is no figure to dimension; set one first.")
            return
        turn = {"given": "all", "all": "none", "none": "given"}
        self.session.set_wish("Dimensions", dimensions=turn[entry.dimensions or "given"])

    def duplicate(self) -> None:
        entry = self.session.entry
        if entry is not None:
            twin = replace(entry, id=new_id(), title=f"{entry.title}, again")
            self.session.edit(self.session.job.added(twin, entry.id), "Duplicate")
            self.session.select(twin.id)

    def delete(self) -> None:
        entry = self.session.entry
        if entry is not None:
            self.session.edit(self.session.job.removed(entry.id), f"Delete {entry.title}")
            self.session.said.emit(f"{entry.title} is deleted; Ctrl+Z brings it back.")

    def _rename(self) -> None:
        self.spine.list.setFocus()
        self.spine.list.edit(self.spine.list.currentIndex())

    def _reorder(self, by: int) -> None:
        self.session.edit(self.session.job.moved(self.session.entry_id, by), "Reorder")

    def _to_sheet(self, by: int) -> None:
        job, at = self.session.job, self.session.job.find(self.session.entry_id)
        if at is not None:
            place = len(job.sheets[at[0] + by].entries) if by < 0 and at[0] else 0
            self.session.edit(job.put_on(self.session.entry_id, at[0] + by, place), "Move to another sheet")

    def _move_sheet(self, by: int) -> None:
        at = self.session.job.find(self.session.entry_id)
        if at is not None:
            before = at[0] + by if by < 0 else at[0] + by + 1
            self.session.edit(self.session.job.sheet_put(at[0], before), "Move the sheet")

    def _rehouse(self) -> None:
        self.session.edit(self.session.job.rehoused(self.session.entry_id), "Move to another sheet")

    def _notes(self) -> None:
        from wise_compass.desk.parts.dialogs import NotesDialog

        entry = self.session.entry
        if entry is None:
            return
        dialog = NotesDialog(self, entry.notes)
        if dialog.exec():
            words = dialog.words[:4000]
            self.session.edit(self.session.job.with_entry(entry.id, lambda e: replace(e, notes=words)), "Notes")

    def dimensions(self) -> None:
        """The job's lengths and angles by name."""
        from wise_compass.desk.sentence.dimensiontable import DimensionTable

        DimensionTable(self, self.session).show()
