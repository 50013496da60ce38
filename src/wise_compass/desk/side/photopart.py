"""The second way into a check: a photograph of the sheet, opened and read; what it shows, told by its code or by
hand."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QLabel, QLineEdit, QProgressBar, QVBoxLayout, QWidget

from wise_compass.desk.parts.labels import button, wrapped
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.photo.reader import DEMO, PICTURES, PhotoReader, demo_photograph, how_read
from wise_compass.desk.session.session import Session
from wise_compass.drafting.figure import make, method_for
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import scale_name
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.model import Entry, SheetPlan

if TYPE_CHECKING:
    from wise_compass.camera.laid import Laid
    from wise_compass.desk.photo.photopaper import PhotoPaper

CODE, SHEET, TOLD = "code", "sheet", "told"
SHOWS = {CODE: "what its code says, or this sheet", SHEET: "the sheet now shown", TOLD: "a problem, by its code"}


class PhotoPart(QWidget):
    """``laid`` tells that a photograph lies on the board now, ``said`` what is in the way."""

    laid = Signal()
    said = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._waiting: PhotoPaper | None = None
        self.open_it, self.stop_it = button("Open a photograph…", self.open), button("Stop", self.stop)
        self.tries = Pick()
        self.tries.setAccessibleName("Photographs of the demo")
        self.tries.addItem("or try one of the demo’s …", "")
        for name, words in DEMO.items():
            self.tries.addItem(words, name)
        self.tries.activated.connect(lambda _: self._try())
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(8)
        self.shows = Pick()
        self.shows.setAccessibleName("What the photograph shows")
        for id, words in SHOWS.items():
            self.shows.addItem(words, id)
        self.code, self.frame = QLineEdit(), QLineEdit()
        self.code.setPlaceholderText("WC1/…")
        self.code.setAccessibleName("The problem's code")
        self.frame.setPlaceholderText("267x190, if drawn by hand")
        self.frame.setAccessibleName("Sides of a frame drawn by hand, across and up in mm; empty for a printed one")
        self.offered = wrapped("What the photograph shows", "")
        self.set_it = button("Set it in this job", self._set_it)
        self.fit = wrapped("How it was squared up", "hint")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(6)
        parts: tuple[QWidget, ...] = (self.open_it, self.tries, self.progress, self.stop_it, self.offered, self.set_it)
        for part in parts:
            inside.addWidget(part)
        self._told_by = [QLabel("It shows"), self.shows, self.code, QLabel("Its frame"), self.frame]
        for widget in (*self._told_by, self.fit):
            inside.addWidget(widget)
        self.shows.currentIndexChanged.connect(lambda _: self.code.setVisible(self.shows.currentData() == TOLD))
        self.reader = PhotoReader(self)
        self.reader.told.connect(self._tell)
        self.reader.done.connect(self._take)
        self.reader.refused.connect(self._refuse)
        self._busy(False)
        self.settle_words()

    def settle_words(self) -> None:
        """What there is to say and to ask, with a photograph on the board or without."""
        paper = self._paper()
        self.open_it.setText("Another photograph…" if paper is not None else "Open a photograph…")
        for widget in self._told_by:
            widget.setVisible(paper is None)
        self.code.setVisible(paper is None and self.shows.currentData() == TOLD)
        self.fit.setText(how_read(paper, self.session.style) if paper is not None else "")
        waiting = self._waiting is not None
        self.offered.setVisible(waiting)
        self.set_it.setVisible(waiting)

    def _paper(self) -> PhotoPaper | None:
        from wise_compass.desk.photo.photopaper import PhotoPaper

        lying = self.session.photographed
        return lying if isinstance(lying, PhotoPaper) else None

    def _busy(self, at_work: bool) -> None:
        self.progress.setVisible(at_work)
        self.stop_it.setVisible(at_work)
        self.open_it.setVisible(not at_work)
        self.tries.setVisible(not at_work)

    def open(self) -> None:
        """Ask for a photograph, and read it."""
        name, _ = QFileDialog.getOpenFileName(self, "Open a photograph of a sheet", "", PICTURES)
        if name:
            self.read(Path(name))

    def _try(self) -> None:
        """One of the photographs that ship with the demo."""
        if name := self.tries.currentData():
            self.tries.setCurrentIndex(0)
            self.shows.setCurrentIndex(0)
            self.read(demo_photograph(name))

    def read(self, path: Path) -> None:
        """Read a photograph beside the window's own work."""
        self._waiting = None
        self.settle_words()
        self._busy(True)
        self.said.emit(f"{path.name} is squared up and read …")
        shows, code, style = self.shows.currentData(), self.code.text(), self.session.style
        this = self._this_sheet()

        def told() -> Laid | None:
            from wise_compass.camera.laid import laid_by

            return laid_by(code) if shows == TOLD else this() if shows == SHEET else None

        otherwise = this if self.session.entry is not None else None
        self.reader.read(path, told, self.frame.text().strip(), style, None, otherwise)

    def _this_sheet(self) -> Callable[[], Laid]:
        """What brings the sheet now shown, as it is now."""
        job, at = self.session.job, self.session.job.find(self.session.entry_id)

        def this() -> Laid:
            from wise_compass.camera.laid import laid_in

            if at is None:
                raise Refused("", "No sheet is shown; let the photograph's code tell.")
            return laid_in(job, at[0] + 1, at[1] + 1)

        return this

    def stop(self) -> None:
        """Leave off reading."""
        self.reader.stop()
        self._busy(False)

    def settle(self) -> None:
        """Until it is read."""
        self.reader.settle()

    def _tell(self, done: int, whole: int) -> None:
        self.progress.setMaximum(whole)
        self.progress.setValue(done)

    def _refuse(self, refusal: Refused) -> None:
        self._busy(False)
        self.said.emit(refusal.words(self.session.style))

    # whose sheet it is

    def _take(self, paper: PhotoPaper) -> None:
        """It goes onto the board of the figure that it shows; where the job has none such, that is offered."""
        self._busy(False)
        entry = self._entry_of(paper.reading.laid)
        if entry is None:
            figure = paper.reading.laid.run.figure
            self._waiting = paper
            self.offered.setText(
                f"It shows a drawing that is not in this job: {self.session.style.say(figure.title)}. Set it, and the "
                "photograph lies on its sheet."
            )
            self.settle_words()
            self.said.emit("Read; its figure is not in this job.")
            return
        self._lay(paper, entry)

    def _lay(self, paper: PhotoPaper, entry: Entry) -> None:
        self._waiting = None
        self.session.select(entry.id)
        self.session.lay(paper)
        self.settle_words()
        self.laid.emit()

    def _entry_of(self, laid: Laid) -> Entry | None:
        """The figure of the job that a sheet shows, the selected one before all others."""
        figure, method = laid.run.figure, laid.run.method.id
        entries = sorted(self.session.job.entries(), key=lambda one: one.id != self.session.entry_id)
        for entry in entries:
            if entry.figure != figure.id:
                continue
            try:
                made = make(figure_named(entry.figure), entry.givens)
                own = entry.method or method_for(made).id
            except Refused:
                continue
            if own == method and _rounded(made.stored()) == _rounded(figure.stored()):
                return entry
        return None

    def _set_it(self) -> None:
        """Set what the photograph shows, on a sheet of its own, as it was laid out."""
        paper = self._waiting
        if paper is None:
            return
        laid = paper.reading.laid
        figure = laid.run.figure
        entry = Entry(figure.id, figure.title, laid.run.method.id, figure.stored())
        plan = SheetPlan(figure.title, (entry,), laid.paper.size, laid.paper.lie, scale_name(laid.scale))
        job = self.session.job
        self.session.edit(job._replace(sheets=(*job.sheets, plan)), "Set what was photographed")
        self._lay(paper, entry)


def _rounded(givens: object) -> str:
    """Givens to the nine digits that a code holds."""

    def of(value: object) -> object:
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            return [of(one) for one in value] if isinstance(value, (list, tuple)) else value
        return f"{float(value):.9g}"

    assert isinstance(givens, dict)
    return json.dumps({name: of(value) for name, value in givens.items()}, sort_keys=True)
