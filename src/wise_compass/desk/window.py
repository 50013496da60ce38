"""The window: the column of places at the left, the body of the place that is shown, and what its commands do.

Places, and dialogs, are imported where they are first shown: the binding makes every class it is asked for, and
start-up pays for each.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QWidget

from wise_compass.desk.barred import Barred
from wise_compass.desk.places.column import Column
from wise_compass.desk.places.place import PLACES, Place
from wise_compass.desk.session.session import Session
from wise_compass.desk.setout import SetOut

if TYPE_CHECKING:
    from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QResizeEvent, QShowEvent

    from wise_compass.desk.drafter.drafter import DrafterTools
    from wise_compass.desk.handbook.reader import Reader
    from wise_compass.desk.leaving.papers import Papers
    from wise_compass.desk.lessons.lesson import Lessons
    from wise_compass.desk.logbook.place import LogbookPlace
    from wise_compass.desk.paper.steprule import StepRule
    from wise_compass.desk.plan.place import PlanPlace
    from wise_compass.desk.practise.place import PractisePlace
    from wise_compass.desk.side.panels import Panels
    from wise_compass.desk.spine.overview import SheetPictures
    from wise_compass.desk.welcome import Welcome
    from wise_compass.logbook.store import Noted

PHOTOGRAPHS = (".jpg", ".jpeg", ".png")


class DeskWindow(Barred):
    """The desk of one session."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.setWindowTitle("Wise Compass")
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.set_out: SetOut = SetOut(session, self.read_photograph)
        self.spine, self.brief, self.board = self.set_out.spine, self.set_out.brief, self.set_out.board
        self.stage = self.set_out.stage
        self.rule: StepRule = self.set_out.rule
        self.column: Column = Column()
        self.bodies = QStackedWidget()
        self._made: dict[int, Place] = {0: self.set_out}
        self._here = 0
        self._papers_drawn: SheetPictures | None = None
        self._furnished = self._gives_way = False
        self._welcome: Welcome | None = None
        self._lay_out()
        self._make_actions()
        self._show_place()
        self.column.asked.connect(self._go_elsewhere)
        self.column.menu.clicked.connect(self._menu)
        self._action("Menu", ["F10"], self._menu)
        self.spine.left.connect(self.board.setFocus)
        self.spine.add.clicked.connect(self.add_figure)
        session.said.connect(self._say)
        session.job_changed.connect(self._retitle)
        session.job_changed.connect(self._offer)
        self._retitle()
        self._offer()
        self.board.painted.connect(self._furnish, Qt.ConnectionType.QueuedConnection)

    @property
    def panels(self) -> Panels:
        """Steps, values and proofs of the job's figure."""
        return self.set_out.panels

    @cached_property
    def papers(self) -> Papers:
        """What leaves the desk, as a file or on paper."""
        from wise_compass.desk.leaving.papers import Papers

        return Papers(self)

    @cached_property
    def drafter(self) -> DrafterTools:
        """What belongs to the drafter and not to the job."""
        from wise_compass.desk.drafter.drafter import DrafterTools

        return DrafterTools(self)

    def _furnish(self) -> None:
        """What can wait until the drawing is there."""
        if not self._furnished:  # paints that were queued before the first came through tell of it again
            self._furnished = True
            self.board.painted.disconnect(self._furnish)
            self.panels.show()
            self._settle_bar()

    def _lay_out(self) -> None:
        self.body = QWidget()
        whole = QHBoxLayout(self.body)
        whole.setSpacing(0)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.column)
        whole.addWidget(self.bodies, 1)
        self.setCentralWidget(self.body)

    def _retitle(self) -> None:
        star = "*" if self.session.history.unsaved else ""
        self.setWindowTitle(f"{star}{self.session.job.title} · Wise Compass")

    def _say(self, words: str) -> None:
        self.place.say(words)

    # places

    @property
    def place(self) -> Place:
        return self._made[self._here]

    @property
    def is_clean(self) -> bool:
        return self.board.clean

    def _place(self, number: int) -> Place:
        """A place by its number, made when it is first shown."""
        if number not in self._made:
            self._made[number] = self._makers()[number]()
        return self._made[number]

    def _makers(self) -> dict[int, Callable[[], Place]]:
        def practise() -> Place:
            from wise_compass.desk.practise.place import PractisePlace

            return PractisePlace(self)

        def logbook() -> Place:
            from wise_compass.desk.logbook.place import LogbookPlace

            return LogbookPlace(self)

        def plan() -> Place:
            from wise_compass.desk.plan.place import PlanPlace

            return PlanPlace(self)

        return {1: practise, 2: logbook, 3: plan}

    @property
    def practise(self) -> PractisePlace:
        """Where one practises."""
        return cast("PractisePlace", self._place(1))

    @property
    def logbook(self) -> LogbookPlace:
        """The page of the logbook."""
        return cast("LogbookPlace", self._place(2))

    @property
    def plan(self) -> PlanPlace:
        """The day."""
        return cast("PlanPlace", self._place(3))

    def _go_elsewhere(self, number: int) -> None:
        if number != self._here:
            self.go(number)

    def go(self, number: int) -> None:
        """Show a place, by its number from 0; what it shows of the job or the logbook is as it is now."""
        place = self._place(number)
        if number != self._here:
            self.place.leave()
            self._here = number
        self._show_place()
        place.come()
        place.focus()

    def _show_place(self) -> None:
        place = self.place
        if self.bodies.indexOf(place.body) < 0:
            self.bodies.addWidget(place.body)
        self.bodies.setCurrentWidget(place.body)
        self.column.show_lines(place.spine, self._here)
        self._offer_commands(self._here == 0)
        if self._welcome is not None:
            self._welcome.setVisible(self._here == 0)
        if place.stage is not None:
            self.clean.setChecked(place.stage.board.clean)

    def set_problem(self, text: str) -> None:
        self.go(0)
        super().set_problem(text)

    def open_path(self, path: Path) -> None:
        self.go(0)
        super().open_path(path)

    def open_demo(self) -> None:
        self.go(0)
        super().open_demo()

    def new_job(self) -> None:
        self.go(0)
        super().new_job()

    # photographs, files that are dropped

    def read_photograph(self, path: Path) -> None:
        """A photograph of a sheet becomes the paper of the board, at Set out."""
        self.go(0)
        self._panel(5)
        self.panels.photograph(path)

    def open_photograph(self) -> None:
        """Ask for a photograph of a sheet, and read it where one is."""
        from PySide6.QtWidgets import QFileDialog

        from wise_compass.desk.photo.reader import PICTURES

        name, _ = QFileDialog.getOpenFileName(self, "Open a photograph of a sheet", "", PICTURES)
        if name and not self.place.take_photograph(Path(name)):
            self.read_photograph(Path(name))

    # what other places lead to

    def practise_anew(self) -> None:
        """Go to practise, and set a problem."""
        self.go(1)
        self.practise.set_problem()

    def mark_class(self) -> None:
        """Go to practise, and ask for what a class has measured."""
        self.go(1)
        self.practise.panels.setCurrentWidget(self.practise.of_class)
        self.practise.of_class.open()

    def set_noted(self, noted: Noted) -> None:
        """The figure of an entry of the logbook in the job: the one that is there, or set on a sheet of its own."""
        from wise_compass.drafting.figure import make
        from wise_compass.figures.catalogue import figure_named
        from wise_compass.job.model import Entry

        kind = figure_named(noted.figure)
        givens = make(kind, noted.givens).stored()
        there = next(
            (one for one in self.session.job.entries() if (one.figure, one.givens) == (noted.figure, givens)), None
        )
        if there is None:
            there = Entry(noted.figure, kind.title, noted.method if noted.method in kind.methods else "", givens)
            self.session.edit(self.session.job.added(there, self.session.entry_id, True), "Set from the logbook")
        self.session.select(there.id)
        self.go(0)

    def practise_noted(self, noted: Noted) -> None:
        """The problem of an entry of the logbook once more."""
        self.practise.take_noted(noted)
        self.go(1)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if self._dropped(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """A photograph is read where one is, a job opened, a text read as a problem."""
        path = self._dropped(event)
        if path is None:
            return
        event.acceptProposedAction()
        if path.suffix.lower() in PHOTOGRAPHS:
            if not self.place.take_photograph(path):
                self.read_photograph(path)
        elif path.suffix.lower() == ".txt":
            from wise_compass.outputs.files import read_text

            self.attempt(lambda: self.set_problem(read_text(path, "a problem", replaced=True)), "Not read")
        elif self.may_leave():
            self.open_path(path)

    @staticmethod
    def _dropped(event: QDropEvent) -> Path | None:
        """The one file that is dragged, where it is of a kind that the desk takes."""
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        taken = (*PHOTOGRAPHS, ".json", ".svg", ".txt")
        return paths[0] if len(paths) == 1 and paths[0].suffix.lower() in taken else None

    # the first minute

    def _offer(self) -> None:
        """An empty job says what can be done; it goes as soon as there is a figure."""
        if self.session.job.entries():
            if self._welcome is not None:
                self._welcome.hide()
                self._welcome.deleteLater()
                self._welcome = None
            return
        if self._welcome is None:
            from wise_compass.desk.welcome import Welcome

            self._welcome = Welcome(self)
            self._welcome.place()
            self._welcome.setVisible(self._here == 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._welcome is not None:
            self._welcome.place()
        if "_lessons" in self.__dict__:
            self._lessons.place()

    @cached_property
    def _lessons(self) -> Lessons:
        from wise_compass.desk.lessons.lesson import Lessons

        return Lessons(self)

    def lesson(self, id: str) -> None:
        """Begin a lesson, or take it up where it was left."""
        self._lessons.begin(id)

    def lessons(self) -> None:
        """Choose a lesson."""
        from wise_compass.desk.lessons.chooser import LessonChooser

        LessonChooser(self, self.lesson).exec()

    # what is asked in dialogs

    def overview(self) -> None:
        """All sheets as small papers; the one picked is shown."""
        from wise_compass.desk.spine.overview import Overview

        if not self.session.job.sheets:
            self.session.said.emit("There is no sheet yet; set a figure first.")
            return
        shown = Overview(self, self.session, self._papers_drawn)
        self._papers_drawn = shown.model
        shown.exec()

    def measure(self) -> None:
        """Set both dividers on named points, without the pointer."""
        from PySide6.QtWidgets import QInputDialog

        made = self.session.run
        names = [spot.name for spot in made.spots.values() if spot.kind not in ("plain", "label")] if made else []
        for which in ("From", "To"):
            name, good = QInputDialog.getItem(self, "Measure", f"{which} the point:", names, 0, False)
            if not good:
                return
            self.board.pick_spot(name)

    def settings(self) -> None:
        from wise_compass.desk.parts.dialogs import SettingsDialog

        dialog = SettingsDialog(self, self.session.job.settings)
        if dialog.exec():
            self.session.edit(self.session.job._replace(settings=dialog.settings), "Settings")

    def look(self) -> None:
        """Colours and the size of text on this desk."""
        from wise_compass.desk.drafter.looks import LookDialog, restyle

        dialog = LookDialog(self)
        if dialog.exec():
            restyle(self, dialog.kept)
            if self.isVisible():
                self._show_bar(dialog.kept.bar == "always")

    def _text(self, by: int) -> None:
        from wise_compass.desk.drafter.looks import restyle
        from wise_compass.job.person import person

        kept = person()
        if kept.larger(by) == kept:
            self.session.said.emit("Text is as large as it goes." if by > 0 else "Text is as small as it goes.")
        restyle(self, kept.larger(by))

    def anew(self) -> DeskWindow:
        fresh = DeskWindow(self.session)
        fresh.setGeometry(self.geometry())
        fresh.setWindowState(self.windowState())
        fresh.show()
        fresh.panels.setCurrentIndex(self.panels.currentIndex())
        for number, place in self._made.items():
            if number:
                place.hand_over(fresh._place(number))
        fresh.go(self._here)
        self.give_way()
        return fresh

    def give_way(self) -> None:
        """Close in favour of a window that shows the same session."""
        self._gives_way = True
        self.close()
        self.deleteLater()

    @cached_property
    def reader(self) -> Reader:
        """The handbook over the window's right part."""
        from wise_compass.desk.handbook.reader import Reader

        return Reader(self.body)

    def handbook(self) -> None:
        """The handbook at the page of what is at hand, or away again."""
        page = self.place.page
        if "reader" in self.__dict__ and self.reader.isVisible() and self.reader.name == page:
            self.reader.close_it()
        else:
            self.reader.open(page)

    def keys(self) -> None:
        from wise_compass.desk.keyslist import KeysDialog

        KeysDialog(self, self.groups, PLACES[self._here].title).exec()

    def about(self) -> None:
        """What this program is, to be copied."""
        from wise_compass.desk.parts.about import AboutDialog

        AboutDialog(self).exec()

    def closeEvent(self, event: QCloseEvent) -> None:
        if self._gives_way:
            event.accept()
        elif self.may_leave():
            self.session.keeper.drop()
            for place in self._made.values():
                place.leave()
            from wise_compass.desk.remembered import remember

            remember(self, PLACES[self._here].id)
            event.accept()
        else:
            event.ignore()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.place.focus()
