"""A photograph of a sheet: opened, squared up and read beside the window's own work; its rings put right; judged,
marked and noted."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLabel, QLineEdit, QProgressBar, QVBoxLayout, QWidget

from wise_compass import camera
from wise_compass.camera.judging import judged
from wise_compass.camera.laid import Laid, laid_by, laid_in
from wise_compass.camera.reading import Reading, fit_words, read, sides_of
from wise_compass.desk.drafter.photoboard import PhotoBoard
from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import button, heading, wrapped
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import wide
from wise_compass.desk.parts.work import Work
from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, many
from wise_compass.job.person import whoever
from wise_compass.logbook.store import Logbook
from wise_compass.practice.marking import marked_of, noted
from wise_compass.study.judge import Judge, unheard
from wise_compass.study.verdicts import Checked, headline, sentence

PICTURES = "Photographs (*.jpg *.jpeg *.png)"
DEMO_FOLDER = Path(camera.__file__).parent / "demo"
DEMO = {"tower": "the tower’s plan", "gable": "the gable", "arch": "the arch over the race"}
"""The photographs of the demo, simulated: a step far off, a slip, a steady hand."""
CODE, SHEET, TOLD = "code", "sheet", "told"


class PhotoView(Dialog):
    """``book`` keeps what came of it."""

    def __init__(self, parent: QWidget | None, session: Session, book: Logbook | None = None) -> None:
        super().__init__(parent)
        self.session, self.book = session, book or Logbook()
        self.checked: Checked | None = None
        self._judge: Judge | None = None
        self._work: Work | None = None
        self.setWindowTitle("A sheet photographed")
        self.resize(wide(1060), 700)
        self.board = PhotoBoard()
        self.board.moved.connect(self.judge_now)
        self.board.measured.connect(self._tell_measured)
        self.open_it, self.stop_it = button("Open a photograph…", self.open), button("Stop", self.stop)
        self.tries = Pick()
        self.tries.setAccessibleName("Photographs of the demo")
        self.tries.addItem("or try one of the demo’s …", "")
        for name, words in DEMO.items():
            self.tries.addItem(words, name)
        self.tries.activated.connect(self._try)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(8)
        self.shows = Pick()
        self.shows.setAccessibleName("What the photograph shows")
        for words, id in (
            ("what its code says", CODE),
            ("the sheet now shown", SHEET),
            ("a problem, by its code", TOLD),
        ):
            self.shows.addItem(words, id)
        self.code, self.frame = QLineEdit(), QLineEdit()
        self.code.setPlaceholderText("WC1/…")
        self.code.setAccessibleName("The problem's code")
        self.frame.setPlaceholderText("267x190")
        self.frame.setAccessibleName("Sides of a frame drawn by hand, across and up in mm; empty for a printed one")
        self.title, self.says = wrapped("The verdict", "word"), wrapped("What it comes to")
        self.title.setText("Is the drawing right?")
        self.says.setText("Open a photograph of a worksheet, of a printed frame, or of a sheet of this job.")
        self.fit, self.missing = wrapped("How it was squared up", "hint"), wrapped("What was not found", "hint")
        self.over, self.tenfold = QCheckBox("Drawn over exact"), QCheckBox("tenfold")
        self.over.toggled.connect(self._show_over)
        self.tenfold.toggled.connect(self._show_over)
        self.causes, self.measure = wrapped("What may have made this drawing"), wrapped("Dividers", "hint")
        self.measure.setText("Dividers: click two places, or three for an angle.")
        self.note = button("Note it in the logbook", self.note_it)
        side = QVBoxLayout()
        side.setSpacing(8)
        first: tuple[QWidget, ...] = (self.open_it, self.tries, self.progress, self.stop_it)
        for widget in first:
            side.addWidget(widget)
        for words, field in (("It shows", self.shows), ("", self.code), ("Its frame, if drawn by hand", self.frame)):
            if words:
                side.addWidget(QLabel(words))
            side.addWidget(field)
        for widget in (self.title, self.says, self.note):
            side.addWidget(widget)
        side.addWidget(heading("What may have made this drawing"))
        side.addWidget(self.causes)
        side.addWidget(heading("How it is read"))
        for widget in (self.fit, self.missing, self.over, self.tenfold, self.measure):
            side.addWidget(widget)
        side.addStretch(1)
        column = QWidget()
        column.setFixedWidth(wide(320))
        column.setLayout(side)
        inside = QHBoxLayout(self)
        inside.setContentsMargins(16, 14, 16, 14)
        inside.addWidget(self.board, 1)
        inside.addWidget(column)
        self.shows.currentIndexChanged.connect(lambda _: self.code.setVisible(self.shows.currentData() == TOLD))
        self.code.hide()
        self._busy(False)
        self._offer()

    def _tell_measured(self, words: str) -> None:
        self.measure.setText(f"Dividers: {words}")

    @property
    def _style(self) -> Style:
        return self.session.style

    def _busy(self, at_work: bool) -> None:
        self.progress.setVisible(at_work)
        self.stop_it.setVisible(at_work)
        self.open_it.setVisible(not at_work)
        self.tries.setVisible(not at_work)

    def _offer(self) -> None:
        for widget in (self.over, self.tenfold, self.note):
            widget.setEnabled(self.checked is not None)

    # reading

    def open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a photograph of a sheet", "", PICTURES)
        if name:
            self.read(Path(name))

    def _try(self) -> None:
        """One of the photographs that ship with the demo."""
        if name := self.tries.currentData():
            self.tries.setCurrentIndex(0)
            self.shows.setCurrentIndex(0)
            self.read(DEMO_FOLDER / f"{name}.jpg")

    def _told(self) -> Laid | None:
        """What the photograph should show, where that is told; raises :class:`Refused`."""
        shows = self.shows.currentData()
        if shows == TOLD:
            return laid_by(self.code.text())
        if shows == SHEET:
            at = self.session.job.find(self.session.entry_id)
            if at is None:
                raise Refused("", "No sheet is shown; let the photograph's code tell.")
            return laid_in(self.session.job, at[0] + 1, at[1] + 1)
        return None

    def read(self, path: Path) -> None:
        """Read a photograph in a thread of its own."""
        try:
            told, sides = self._told(), sides_of(self.frame.text().strip())
        except Refused as refusal:
            self._refuse(refusal)
            return
        self.stop()
        self._busy(True)
        self.says.setText(f"{path.name} is squared up and read …")

        def work(hear: Callable[[int, int], None]) -> tuple[Reading, Judge, Checked | Refused]:
            reading = read(path, told, sides, hear)
            judge = Judge(reading.laid.run, reading.laid.scale)
            judge.hear = lambda done, whole: hear(9, 10)
            try:
                return reading, judge, judged(reading, judge)
            except Refused as refusal:
                return reading, judge, refusal

        self._work = Work(work, self)
        self._work.told.connect(self._tell)
        self._work.done.connect(self._take)
        self._work.failed.connect(self._refuse)
        self._work.start()

    def _tell(self, done: int, whole: int) -> None:
        self.progress.setMaximum(whole)
        self.progress.setValue(done)

    def stop(self) -> None:
        """Leave off reading."""
        if self._work is not None:
            self._work.stop()
        self._busy(False)

    def settle(self) -> None:
        """Until it is read."""
        if self._work is not None:
            self._work.wait(120)

    def _refuse(self, error: Exception) -> None:
        self._busy(False)
        self.title.setText("Not read")
        self.says.setText(error.words(self._style) if isinstance(error, Refused) else f"A fault of its own: {error}.")

    def _take(self, found: tuple[Reading, Judge, Checked | Refused]) -> None:
        reading, self._judge, checked = found
        self._judge.hear = unheard
        self._busy(False)
        self.board.show_reading(reading)
        self._show(checked)
        self.board.setFocus(Qt.FocusReason.OtherFocusReason)

    def judge_now(self) -> None:
        """Judge anew what the rings tell."""
        if self.board.reading is not None and self._judge is not None:
            try:
                self._show(judged(self.board.reading, self._judge))
            except Refused as refusal:
                self._show(refusal)

    # what is told

    def _show(self, checked: Checked | Refused) -> None:
        style, reading = self._style, self.board.reading
        assert reading is not None
        self.checked = checked if isinstance(checked, Checked) else None
        self.board.astray = [one.at for one in self.checked.outline] if self.checked is not None else []
        if isinstance(checked, Refused):
            self.title.setText("Not judged")
            self.says.setText(checked.words(style))
            self.causes.setText("")
        else:
            verdict = checked.verdict
            self.title.setText(style.lettered(headline(checked)))
            again = ", ".join(style.lettered(name) for name in checked.again)
            self.says.setText(style.say(sentence(checked)) + (f" To draw again: {again}." if again else ""))
            told = [one for one in verdict.explanations if one.weight >= 0.01][:4]
            self.causes.setText("\n".join(f"{one.weight * 100:.0f} %  {style.say(one.says)}" for one in told))
        squared, finding = reading.squared, reading.finding
        self.fit.setText(f"{many(len(finding.points), 'point')} found. {fit_words(squared)}")
        words = [f"Not found: {', '.join(map(style.lettered, finding.missing))}." if finding.missing else ""]
        words.append(
            f"Too near to each other: {', '.join(map(style.lettered, finding.crowded))}." if finding.crowded else ""
        )
        words.append(
            f"No steady hand keeps them near: {', '.join(map(style.lettered, finding.adrift))}."
            if finding.adrift
            else ""
        )
        self.missing.setText(" ".join(word for word in words if word))
        self.note.setText("Note it in the logbook")
        self._offer()

    def _show_over(self) -> None:
        self.board.over = self.over.isChecked()
        self.board.times = 10.0 if self.tenfold.isChecked() else 1.0
        self.board.update()

    def note_it(self) -> None:
        """Keep the check in the logbook, the squared-up picture with it."""
        reading, checked = self.board.reading, self.checked
        if reading is None or checked is None:
            return
        entry = noted(reading.laid.run, reading.laid.scale, marked_of(checked), "check", whoever(), None, "photograph")
        try:
            self.book.note([entry])
            self.book.attach(entry.id, reading.jpeg(), "jpg")
        except Refused as refusal:
            self.says.setText(refusal.words(self._style))
            return
        self.note.setText("Noted")
        self.note.setEnabled(False)
