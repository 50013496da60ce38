"""The window: spine, brief, board, panels and step rule, and the actions that keys and menus reach.

Dialogs are imported where they are opened: the binding makes every class it is asked for, and start-up pays for each.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction, QCloseEvent, QKeySequence, QResizeEvent, QShortcut, QShowEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from wise_compass.desk.figureactions import FigureActions
from wise_compass.desk.paper.board import Board
from wise_compass.desk.paper.steprule import StepRule
from wise_compass.desk.parts.theme import wide
from wise_compass.desk.sentence.brief import Brief
from wise_compass.desk.session.session import Session
from wise_compass.desk.spine.spine import Spine
from wise_compass.desk.spine.spinerows import SpineCommand
from wise_compass.desk.stage import Stage
from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Entry

if TYPE_CHECKING:
    from wise_compass.desk.drafter.drafter import DrafterTools
    from wise_compass.desk.leaving.papers import Papers
    from wise_compass.desk.side.panels import Panels
    from wise_compass.desk.spine.overview import SheetPictures
    from wise_compass.desk.welcome import Welcome


class DeskWindow(FigureActions):
    """The desk of one session."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.setWindowTitle("Wise Compass")
        self.resize(1280, 800)
        self.spine, self.brief, self.board = Spine(session), Brief(session), Board(session)
        self.stage, self.rule = Stage(session, self.board), StepRule(session)
        self._side = QVBoxLayout()
        self._papers_drawn: SheetPictures | None = None
        self._furnished = self._gives_way = False
        self._lay_out()
        self._make_actions()
        session.said.connect(self.board.say)
        session.job_changed.connect(self._retitle)
        session.job_changed.connect(self._offer)
        self._retitle()
        self._welcome: Welcome | None = None
        self._offer()
        self.board.painted.connect(self._furnish, Qt.ConnectionType.QueuedConnection)

    @cached_property
    def panels(self) -> Panels:
        """Steps, values and proofs, made once the board has been painted, or when they are first asked for."""
        from wise_compass.desk.side.panels import Panels

        made = Panels(self.session)
        self._side.addWidget(made)
        return made

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

    def _lay_out(self) -> None:
        middle = QVBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.stage, 1)
        middle.addWidget(self.rule)
        below = QHBoxLayout()
        below.setSpacing(0)
        below.addLayout(middle, 1)
        side = QWidget()
        side.setFixedWidth(wide(330))  # seven tabs, for a pattern with curves
        self._side.setContentsMargins(0, 0, 0, 0)
        side.setLayout(self._side)
        below.addWidget(side)
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self.brief)
        right.addLayout(below, 1)
        whole = QHBoxLayout()
        whole.setSpacing(0)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.spine)
        whole.addLayout(right, 1)
        body = QWidget()
        body.setLayout(whole)
        self.setCentralWidget(body)

    def _retitle(self) -> None:
        star = "*" if self.session.history.unsaved else ""
        self.setWindowTitle(f"{star}{self.session.job.title} · Wise Compass")

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

            self._welcome = Welcome(self.board, self.add_figure, self.open_file, self.open_demo, self.open_path)
            self._welcome.place()
            self._welcome.show()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._welcome is not None:
            self._welcome.place()

    # actions

    def _action(self, words: str, keys: list[str], do: Callable[[], object]) -> QAction:
        action = QAction(words, self)
        action.setShortcuts([QKeySequence(key) for key in keys])
        action.triggered.connect(lambda _=False: do())
        self.addAction(action)
        return action

    def _make_actions(self) -> None:
        session, board = self.session, self.board
        on_figure = [
            self._action("Set a problem…", ["Ctrl+N"], self.add_figure),
            self._action("Set the problem that was copied…", ["Ctrl+V"], self.paste_problem),
            self._action("Read its problem anew…", ["Ctrl+Alt+N"], self.read_anew),
            self._action("Its problem above it on the sheet, or not", ["Ctrl+Alt+P"], self.problem_above),
            self._action("Duplicate the figure", ["Ctrl+D"], self.duplicate),
            self._action("Rename the figure", ["F2"], self._rename),
            self._action("Move it up", ["Ctrl+Shift+Up"], lambda: self._reorder(-1)),
            self._action("Move it down", ["Ctrl+Shift+Down"], lambda: self._reorder(1)),
            self._action("Put it on the sheet before", ["Ctrl+Shift+PgUp"], lambda: self._to_sheet(-1)),
            self._action("Put it on the sheet after", ["Ctrl+Shift+PgDown"], lambda: self._to_sheet(1)),
            self._action("Move its sheet up", ["Ctrl+Alt+PgUp"], lambda: self._move_sheet(-1)),
            self._action("Move its sheet down", ["Ctrl+Alt+PgDown"], lambda: self._move_sheet(1)),
            self._action("Put it on the sheet before, or on its own", ["Ctrl+Shift+H"], self._rehouse),
            *(
                self._action(f"Move it {way} on its sheet", [f"Ctrl+Alt+{key}"], partial(session.shift_figure, by))
                for way, key, by in (
                    ("left", "Left", (-5.0, 0.0)),
                    ("right", "Right", (5.0, 0.0)),
                    ("up", "Up", (0.0, 5.0)),
                    ("down", "Down", (0.0, -5.0)),
                )
            ),
            self._action("Put it back in its place", ["Ctrl+Alt+Home"], lambda: session.shift_figure(None)),
            self._action("Notes under the figure…", ["Ctrl+Shift+N"], self._notes),
            self._action(
                "Gap plot, or none", ["Ctrl+G"], lambda: self._on_curve(lambda e: session.set_gaps(not e.gaps))
            ),
            self._action("Curve table, or true lengths, on the sheet or not", ["Ctrl+T"], self._table_on_sheet),
            self._action("Hatch or tone its faces, or not", ["Ctrl+Alt+H"], self.stage.hatch),
            self._action("Hidden edges of a picture, or not", ["Ctrl+Alt+J"], self.stage.hidden_edges),
            self._action("Isometric grid under a picture, or none", ["Ctrl+Alt+G"], self.stage.grid),
            self._action("Space view on the sheet, or not", ["Ctrl+Alt+V"], self.stage.put_on_sheet),
            self._action("Delete the figure", ["Ctrl+Backspace"], self.delete),
        ]
        on_edit = [
            self._action("Undo", ["Ctrl+Z"], session.undo),
            self._action("Redo", ["Ctrl+Shift+Z", "Ctrl+Y"], session.redo),
            self._action("Dimensions of the job…", ["Ctrl+Shift+D"], self.dimensions),
            self._action("Copy the drawing", ["Ctrl+Shift+C"], lambda: self.papers.copy_drawing()),
            self._action("Copy the values", ["Ctrl+Alt+C"], lambda: self.papers.copy_values()),
            self._action("Copy the table", ["Ctrl+Alt+T"], lambda: self.papers.copy_table()),
        ]
        on_file = [
            self._action("New job", ["Ctrl+Shift+J"], self.new_job),
            self._action("Open…", ["Ctrl+O"], self.open_file),
            self._action("Open the demo", [], self.open_demo),
            self._action("Save", ["Ctrl+S"], self.save),
            self._action("Save as…", ["Ctrl+Shift+S"], self.save_as),
            self._action("Save this sheet as a drawing…", ["Ctrl+E"], lambda: self.papers.export()),
            self._action("Print…", ["Ctrl+P"], lambda: self.papers.print_sheets()),
            self._action("Save the job as PDF…", ["Ctrl+Shift+P"], lambda: self.papers.print_job()),
            self._action("Print a blank isometric grid…", [], lambda: self.papers.print_grid()),
            self._action("Check my printer…", [], lambda: self.papers.check_printer()),
            self._action("Check the screen…", [], lambda: self.papers.check_screen()),
        ]
        on_view = [
            self._action("Whole sheet", ["Ctrl+0"], board.fit),
            self._action("True size", ["Ctrl+1"], board.true_size),
            self._action("Measure between two points…", ["Ctrl+M"], self.measure),
            self._action("Zoom in", ["Ctrl++", "Ctrl+="], lambda: self.stage.zoom_by(1.25)),
            self._action("Zoom out", ["Ctrl+-"], lambda: self.stage.zoom_by(0.8)),
            self._action("Scatter of the last view", ["Ctrl+Shift+E"], self.stage.show_scatter),
            self._action("An honest edge…", ["Ctrl+Alt+E"], self.stage.ask_edge),
            self._action("Space view, or the sheet", ["Ctrl+Shift+V"], self.stage.turn_over),
            self._action("All sheets…", ["Ctrl+Shift+O"], self.overview),
            self._action("Find figures, sheets and commands", ["Ctrl+K"], self.spine.seek),
            self._action("Fold all sheets of the list, or open them", ["Ctrl+Shift+K"], self.spine.fold_all),
        ]
        self.clean = self._action(
            "Hide the construction", ["Ctrl+H"], lambda: self.stage.set_clean(self.clean.isChecked())
        )
        self.clean.setCheckable(True)
        on_view.append(self.clean)
        for number, words in enumerate(("Steps", "Values", "Proofs", "Compare", "Curve", "Check", "Shop")):
            on_view.append(self._action(words, [f"Alt+{number + 1}"], partial(self._panel, number)))
        on_drafter = [self._action(words, keys, do) for words, keys, do in self.drafter.actions()]
        on_help = [
            self._action("Settings…", ["Ctrl+,"], self.settings),
            self._action("This desk…", ["Ctrl+Shift+,"], self.look),
            self._action("Larger text", ["Ctrl+Shift++", "Ctrl+Shift+="], lambda: self._text(1)),
            self._action("Smaller text", ["Ctrl+Shift+-", "Ctrl+Shift+_"], lambda: self._text(-1)),
            self._action("Keys…", ["F1"], self.keys),
            self._action("Leave", ["Ctrl+Q"], self.close),
        ]
        self.groups = {
            "Figure": on_figure,
            "Edit": on_edit,
            "Job": on_file,
            "View": on_view,
            "Drafter": on_drafter,
            "Help": on_help,
        }
        self.spine.list.addActions(on_figure)
        self.spine.commands = [
            SpineCommand(action.text(), ", ".join(key.toString() for key in action.shortcuts()), action.trigger)
            for group in self.groups.values()
            for action in group
        ]
        self.spine.left.connect(self.board.setFocus)
        self.spine.add.clicked.connect(self.add_figure)
        self.spine.menu.clicked.connect(self._menu)
        self._action("Menu", ["F10"], self._menu)
        for key, do in (
            ("Left", lambda: self.rule.walk(-1)),
            ("Right", lambda: self.rule.walk(1)),
            ("Space", self.rule.play),
            ("H", self.clean.trigger),
            ("V", self.stage.turn_over),
            ("F", self.stage.play),
            ("G", self.stage.next_mode),
            ("E", self.stage.show_scatter),
        ):
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.activated.connect(lambda do=do, key=key: self._unless_typing(do))

    def _unless_typing(self, do: Callable[[], object]) -> None:
        if not isinstance(QApplication.focusWidget(), QLineEdit):
            do()

    def _menu(self) -> None:
        from PySide6.QtWidgets import QMenu

        menu = QMenu(self)
        for name in ("Job", "Edit", "Figure", "View", "Drafter", "Help"):
            if name in ("Figure", "View", "Drafter"):
                menu.addMenu(name).addActions(self.groups[name])
            else:
                menu.addActions(self.groups[name])
            menu.addSeparator()
        menu.popup(self.spine.menu.mapToGlobal(QPoint(0, -menu.sizeHint().height())))

    def _on_curve(self, do: Callable[[Entry], object]) -> None:
        """Something for the curve of the selected figure; said where it has none."""
        entry, made = self.session.entry, self.session.run
        if entry is None or made is None or not made.courses:
            self.session.said.emit("This figure has no curve.")
            return
        try:
            do(entry)
        except Refused as refusal:
            self.session.said.emit(refusal.words(self.session.style))

    def _table_on_sheet(self) -> None:
        """The curve table, or the true lengths of a solid without a curve, onto the sheet or off it."""
        made = self.session.run
        if made is not None and not made.courses and made.true_lines and self.session.entry is not None:
            self.session.set_table(on_sheet=not self.session.entry.table.get("on_sheet", False))
            return
        self._on_curve(lambda entry: self.session.set_table(on_sheet=not entry.table.get("on_sheet", False)))

    def _panel(self, number: int) -> None:
        if not self.panels.isTabVisible(number):
            none = "This figure has no curve." if number == 4 else "This figure has no pattern to be cut out."
            self.session.said.emit(none)
            return
        self.panels.setCurrentIndex(number)
        self.panels.currentWidget().setFocus()

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
        self.give_way()
        return fresh

    def give_way(self) -> None:
        """Close in favour of a window that shows the same session."""
        self._gives_way = True
        self.close()
        self.deleteLater()

    def keys(self) -> None:
        from wise_compass.desk.parts.dialogs import KeysDialog

        KeysDialog(self, [action for group in self.groups.values() for action in group]).exec()

    def closeEvent(self, event: QCloseEvent) -> None:
        if self._gives_way:
            event.accept()
        elif self.may_leave():
            self.session.keeper.drop()
            event.accept()
        else:
            event.ignore()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.board.setFocus(Qt.FocusReason.OtherFocusReason)
