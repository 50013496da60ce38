"""Every command of the window, by groups: its words, its keys, and where it is of use. Menus, the keys' list and the
field that finds are made from these."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence, QShortcut
from PySide6.QtWidgets import QApplication, QLineEdit

from wise_compass.desk.figureactions import FigureActions
from wise_compass.desk.places.place import PLACES, Place
from wise_compass.desk.session.session import Session
from wise_compass.desk.spine.spinerows import SpineCommand
from wise_compass.drafting.figure import OWN_WAY
from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import Entry

if TYPE_CHECKING:
    from wise_compass.desk.drafter.drafter import DrafterTools
    from wise_compass.desk.leaving.papers import Papers
    from wise_compass.desk.paper.board import Board
    from wise_compass.desk.paper.steprule import StepRule
    from wise_compass.desk.places.stage import Stage
    from wise_compass.desk.side.panels import Panels

PANELS = ("Steps", "Values", "Proofs", "Compare", "Curve", "Check", "Shop", "My way")
HIDDEN = {
    "Curve": "This figure has no curve.",
    "Shop": "This figure has no pattern to be cut out.",
    "My way": "This figure is drawn by a method of the catalogue. Ctrl+Alt+W draws it by a way of your own.",
}
"""Why a panel is not there."""
ELSEWHERE = "This is done at Set out"


class Commanding(FigureActions):
    """A window with commands; what they do to its parts stands in :mod:`wise_compass.desk.window`."""

    stage: Stage
    board: Board
    clean: QAction

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.groups: dict[str, list[QAction]] = {}
        self._at_set_out: list[QAction] = []
        self._at_sheets: list[QAction] = []

    @property
    @abstractmethod
    def panels(self) -> Panels:
        """Steps, values and proofs of the job's figure."""

    @property
    @abstractmethod
    def papers(self) -> Papers:
        """What leaves the desk, as a file or on paper."""

    @property
    @abstractmethod
    def drafter(self) -> DrafterTools:
        """What belongs to the drafter and not to the job."""

    @property
    @abstractmethod
    def place(self) -> Place:
        """The place that is shown."""

    @abstractmethod
    def go(self, number: int) -> None:
        """Show a place, by its number from 0."""

    def _action(self, words: str, keys: list[str], do: Callable[[], object]) -> QAction:
        action = QAction(words, self)
        action.setShortcuts([QKeySequence(key) for key in keys])
        action.triggered.connect(lambda _=False: do())
        self.addAction(action)
        return action

    def _on_stage(self, do: Callable[[Stage], object]) -> None:
        """Something for the sheet of the place that is shown, where it has one."""
        if self.place.stage is not None:
            do(self.place.stage)

    def _on_rule(self, do: Callable[[StepRule], object]) -> None:
        """Something for the walk of the place that is shown, where it has one."""
        if self.place.rule is not None:
            do(self.place.rule)

    def _on_figure(self) -> list[QAction]:
        session = self.session
        return [
            self._action("Set a problem…", ["Ctrl+N"], self.add_figure),
            self._action("Set the problem that was copied…", ["Ctrl+V"], self.paste_problem),
            self._action("Read its problem anew…", ["Ctrl+Alt+N"], self.read_anew),
            self._action("Duplicate the figure", ["Ctrl+D"], self.duplicate),
            self._action("Rename the figure", ["F2"], self._rename),
            self._action("Notes under the figure…", ["Ctrl+Shift+N"], self._notes),
            self._action("Draw it by a way of my own", ["Ctrl+Alt+W"], lambda: session.set_method(OWN_WAY)),
            self._action("Copy the drawing", ["Ctrl+Shift+C"], lambda: self.papers.copy_drawing()),
            self._action("Copy the values", ["Ctrl+Alt+C"], lambda: self.papers.copy_values()),
            self._action("Copy the table", ["Ctrl+Alt+T"], lambda: self.papers.copy_table()),
            self._action("Delete the figure", ["Ctrl+Backspace"], self.delete),
            self._action("Move it up", ["Ctrl+Shift+Up"], lambda: self._reorder(-1)),
            self._action("Move it down", ["Ctrl+Shift+Down"], lambda: self._reorder(1)),
            self._action("Put it on the sheet before", ["Ctrl+Shift+PgUp"], lambda: self._to_sheet(-1)),
            self._action("Put it on the sheet after", ["Ctrl+Shift+PgDown"], lambda: self._to_sheet(1)),
            self._action("Put it on the sheet before, or on its own", ["Ctrl+Shift+H"], self._rehouse),
            self._action("Move its sheet up", ["Ctrl+Alt+PgUp"], lambda: self._move_sheet(-1)),
            self._action("Move its sheet down", ["Ctrl+Alt+PgDown"], lambda: self._move_sheet(1)),
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
            self._action("Its problem above it on the sheet, or not", ["Ctrl+Alt+P"], self.problem_above),
            self._action(
                "Gap plot, or none", ["Ctrl+G"], lambda: self._on_curve(lambda e: session.set_gaps(not e.gaps))
            ),
            self._action("Curve table, or true lengths, on the sheet or not", ["Ctrl+T"], self._table_on_sheet),
            self._action("Dimensions: given, all or none", ["Ctrl+Alt+D"], self.turn_dimensions),
            self._action("Hatch or tone its faces, or not", ["Ctrl+Alt+H"], self.stage.hatch),
            self._action("Hidden edges of a picture, or not", ["Ctrl+Alt+J"], self.stage.hidden_edges),
            self._action("Isometric grid under a picture, or none", ["Ctrl+Alt+G"], self.stage.grid),
            self._action("Space view on the sheet, or not", ["Ctrl+Alt+V"], self.stage.put_on_sheet),
        ]

    def _on_job(self) -> list[QAction]:
        return [
            self._action("New job", ["Ctrl+Shift+J"], self.new_job),
            self._action("Open…", ["Ctrl+O"], self.open_file),
            self._action("Open the demo", [], self.open_demo),
            self._action("Save", ["Ctrl+S"], self.save),
            self._action("Save as…", ["Ctrl+Shift+S"], self.save_as),
            self._action("Save this sheet as a drawing…", ["Ctrl+E"], lambda: self.papers.export()),
            self._action("Save the figure in stages…", ["Ctrl+Alt+S"], lambda: self.papers.save_stages()),
            self._action("Print…", ["Ctrl+P"], self._print),
            self._action("Save the job as PDF…", ["Ctrl+Shift+P"], lambda: self.papers.print_job()),
            self._action("Print a blank isometric grid…", [], lambda: self.papers.print_grid()),
            self._action("Settings…", ["Ctrl+,"], self.settings),
            self._action("Leave", ["Ctrl+Q"], self.close),
        ]

    def _print(self) -> None:
        """What the place shows: a sheet of the job, a worksheet, the plan."""
        if not self.place.print_out():
            self.papers.print_sheets()

    def _on_view(self) -> list[QAction]:
        stage = self.stage
        self.clean = self._action(
            "Hide the construction", ["Ctrl+H"], lambda: self._on_stage(lambda s: s.set_clean(self.clean.isChecked()))
        )
        self.clean.setCheckable(True)
        sheets = [
            self._action("Whole sheet", ["Ctrl+0"], lambda: self._on_stage(lambda s: s.board.fit())),
            self._action("True size", ["Ctrl+1"], lambda: self._on_stage(lambda s: s.board.true_size())),
            self._action("Zoom in", ["Ctrl++", "Ctrl+="], lambda: self._on_stage(lambda s: s.zoom_by(1.25))),
            self._action("Zoom out", ["Ctrl+-"], lambda: self._on_stage(lambda s: s.zoom_by(0.8))),
            self.clean,
        ]
        own = [
            self._action("Measure between two points…", ["Ctrl+M"], self.measure),
            self._action("Scatter of the last view", ["Ctrl+Shift+E"], stage.show_scatter),
            self._action("An honest edge…", ["Ctrl+Alt+E"], stage.ask_edge),
            self._action("Space view, or the sheet", ["Ctrl+Shift+V"], stage.turn_over),
            self._action("All sheets…", ["Ctrl+Shift+O"], self.overview),
            self._action("Find figures, sheets and commands", ["Ctrl+K"], self.spine.seek),
            self._action("Fold all sheets of the list, or open them", ["Ctrl+Shift+K"], self.spine.fold_all),
        ]
        panels = [
            self._action(words, [f"Alt+{number + 1}"], partial(self._panel, number))
            for number, words in enumerate(PANELS)
        ]
        places = [
            self._action(f"{one.title} (place)", [f"Alt+Shift+{n + 1}"], partial(self.go, n))
            for n, one in enumerate(PLACES)
        ]
        look = [
            self._action("This desk…", ["Ctrl+Shift+,"], self.look),
            self._action("Larger text", ["Ctrl+Shift++", "Ctrl+Shift+="], lambda: self._text(1)),
            self._action("Smaller text", ["Ctrl+Shift+-", "Ctrl+Shift+_"], lambda: self._text(-1)),
            self._action("Check the screen…", [], lambda: self.papers.check_screen()),
        ]
        self._at_sheets += sheets
        self._at_set_out += own + panels
        return [*places, *sheets, *own, *panels, *look]

    def _make_actions(self) -> None:
        on_figure, session = self._on_figure(), self.session
        on_edit = [
            self._action("Undo", ["Ctrl+Z"], session.undo),
            self._action("Redo", ["Ctrl+Shift+Z", "Ctrl+Y"], session.redo),
            self._action("Dimensions of the job…", ["Ctrl+Shift+D"], self.dimensions),
        ]
        self._at_set_out += [*on_figure[2:], *on_edit]  # to set a problem leads there from anywhere
        on_job, on_view = self._on_job(), self._on_view()
        on_drafter = [self._action(words, keys, do) for words, keys, do in self.drafter.actions()]
        on_drafter.append(self._action("Check my printer…", [], lambda: self.papers.check_printer()))
        on_help = [
            self._action("First lesson", ["Ctrl+F1"], lambda: self.lesson("first")),
            self._action("All lessons…", ["Shift+F1"], self.lessons),
            self._action("Handbook", ["F1"], self.handbook),
            self._action("Keys…", ["Ctrl+Shift+F1"], self.keys),
            self._action("Menu bar always, or by Alt", [], self.bar_always),
            self._action("About this program…", [], self.about),
        ]
        self.groups = {
            "Job": on_job,
            "Edit": on_edit,
            "Figure": on_figure,
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
        self._plain_keys()

    def _plain_keys(self) -> None:
        """Keys without Ctrl or Alt, for whatever place is shown, unless one types."""
        for key, do in (
            ("Left", lambda: self._on_rule(lambda rule: rule.walk(-1))),
            ("Right", lambda: self._on_rule(lambda rule: rule.walk(1))),
            ("Space", lambda: self._on_rule(lambda rule: rule.play())),
            ("H", lambda: self.clean.trigger()),
            ("V", lambda: self._on_stage(lambda s: s.turn_over())),
            ("F", lambda: self._on_stage(lambda s: s.play())),
            ("G", lambda: self._on_stage(lambda s: s.next_mode())),
            ("E", lambda: self._on_stage(lambda s: s.show_scatter())),
        ):
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.activated.connect(lambda do=do: self._unless_typing(do))

    def _unless_typing(self, do: Callable[[], object]) -> None:
        if not isinstance(QApplication.focusWidget(), QLineEdit):
            do()

    def _offer_commands(self, set_out: bool) -> None:
        """What another place has no use of cannot be asked for there, and says so."""
        has_sheet = self.place.stage is not None
        for action in self._at_set_out:
            action.setEnabled(set_out)
            action.setToolTip(action.text() if set_out else f"{ELSEWHERE} (Alt+Shift+1)")
        for action in self._at_sheets:
            action.setEnabled(has_sheet)
            action.setToolTip(action.text() if has_sheet else "This place shows no sheet")

    # what several commands share

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
            self.session.said.emit(HIDDEN[PANELS[number]])
            return
        self.panels.setCurrentIndex(number)
        self.panels.currentWidget().setFocus()

    @abstractmethod
    def measure(self) -> None: ...
    @abstractmethod
    def overview(self) -> None: ...
    @abstractmethod
    def settings(self) -> None: ...
    @abstractmethod
    def look(self) -> None: ...
    @abstractmethod
    def _text(self, by: int) -> None: ...
    @abstractmethod
    def handbook(self) -> None: ...
    @abstractmethod
    def keys(self) -> None: ...
    @abstractmethod
    def about(self) -> None: ...
    @abstractmethod
    def bar_always(self) -> None: ...
    @abstractmethod
    def lesson(self, id: str) -> None: ...
    @abstractmethod
    def lessons(self) -> None: ...
