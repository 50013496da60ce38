"""What the window does with job files: new, opened, saved, and what is lost by none of it."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMainWindow

from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Job

if TYPE_CHECKING:
    from wise_compass.logbook.store import Noted

AskPath = Callable[[str, str, str], tuple[str, str]]
"""Asks for a path to write to, by a title, a path to start with and kinds of file; see :meth:`JobWindow.ask_path`."""
JOB_FILES = "Jobs and sheets (*.json *.svg)"


class JobWindow(QMainWindow):
    """A window on a session, as whoever works for it knows it: what it may ask, save and tell."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session

    @abstractmethod
    def anew(self) -> JobWindow:
        """Another window on the same session in the place of this one, which gives way to it."""

    @property
    @abstractmethod
    def is_clean(self) -> bool:
        """Whether the construction of the job's sheets is hidden."""

    @abstractmethod
    def go(self, number: int) -> None:
        """Show a place, by its number from 0."""

    @abstractmethod
    def set_problem(self, text: str) -> None:
        """Ask for a problem, ``text`` being there to begin with, and set it."""

    @abstractmethod
    def lesson(self, id: str) -> None:
        """Begin a lesson, or take it up where it was left."""

    @abstractmethod
    def open_photograph(self) -> None:
        """Ask for a photograph of a sheet, and read it where one is."""

    @abstractmethod
    def practise_anew(self) -> None:
        """Go to practise, and set a problem."""

    @abstractmethod
    def mark_class(self) -> None:
        """Go to practise, and ask for what a class has measured."""

    @abstractmethod
    def set_noted(self, noted: Noted) -> None:
        """Show the figure of an entry of the logbook in the job; raises :class:`Refused` where it cannot be set."""

    @abstractmethod
    def practise_noted(self, noted: Noted) -> None:
        """Set the problem of an entry of the logbook once more; raises :class:`Refused`."""

    def ask_path(self, title: str, start: str, kinds: str) -> tuple[str, str]:
        """A path to write to and the kind picked for it; both empty where the person thinks better of it."""
        from PySide6.QtWidgets import QFileDialog

        name, kind = QFileDialog.getSaveFileName(self, title, start, kinds)
        return name, kind

    def attempt(self, do: Callable[[], object], title: str) -> bool:
        """Do something that may be refused; a refusal is told."""
        try:
            do()
        except Refused as refusal:
            from wise_compass.desk.parts.dialogs import tell

            tell(self, title, refusal.words(self.session.style))
            return False
        return True

    def may_leave(self) -> bool:
        """Whether the job may be left: it is saved, or is saved now, or the person lets it go."""
        if not self.session.history.unsaved:
            return True
        from wise_compass.desk.parts.dialogs import ask

        answer = ask(
            self,
            "Unsaved work",
            f"“{self.session.job.title}” has changes that are not saved.",
            ["Save", "Let them go", "Stay"],
        )
        return answer == "Let them go" or (answer == "Save" and self.save())

    def new_job(self) -> None:
        if self.may_leave():
            self.session.start(Job(), None)

    def open_file(self) -> None:
        if not self.may_leave():
            return
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self, "Open a job, or a sheet drawn here", "", JOB_FILES)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Open a job in this window."""
        self.attempt(lambda: self.session.open(path), "Not opened")

    def open_demo(self) -> None:
        """The demo, as a job that has no file yet."""
        if self.may_leave():
            from wise_compass.job.demo import demo_job

            self.session.start(demo_job(), None)

    def save(self) -> bool:
        path = self.session.path
        if path is None:
            return self.save_as()
        if self.session.on_disk:
            return self._save_over(path)
        return self.attempt(lambda: self.session.save_as(path), "Not saved")

    def _save_over(self, path: Path) -> bool:
        """The file is not the one that was opened: another has written it, or taken it away. Nothing is lost
        unasked."""
        from wise_compass.desk.parts.dialogs import ask

        gone = self.session.on_disk == "gone"
        words = (
            f"{path.name} is no longer there: it was moved or deleted after you opened it."
            if gone
            else f"{path.name} was changed by someone else, or in another window, after you opened it."
        )
        mine, theirs, beside = "Keep mine", "Take theirs", "Save beside…"
        answers = ["Save it there again", beside, "Stay"] if gone else [mine, theirs, beside, "Stay"]
        answer = ask(self, "The file has changed", words, answers)
        if answer == beside:
            return self.save_as()
        if answer == theirs:
            return self.attempt(self.session.take_theirs, "Not opened")
        return answer in (mine, "Save it there again") and self.attempt(lambda: self.session.save_as(path), "Not saved")

    def save_as(self) -> bool:
        start = str(self.session.path or f"{self.session.job.title}.wisecompass.json")
        name, _ = self.ask_path("Save the job", start, "Job (*.json)")
        if not name:
            return False
        path = Path(name if name.endswith(".json") else f"{name}.wisecompass.json")
        return self.attempt(lambda: self.session.save_as(path), "Not saved")
