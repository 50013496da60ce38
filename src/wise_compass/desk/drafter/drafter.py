"""What belongs to the drafter and not to a job: practice, the logbook, the day's plan, the kit, the hand."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from wise_compass.desk.session.jobwindow import JobWindow

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

View = TypeVar("View", bound="QWidget")


class DrafterTools:
    """What a window opens for its drafter; each is imported when it is asked for."""

    def __init__(self, window: JobWindow) -> None:
        self.window, self.session = window, window.session
        self._views: dict[str, Any] = {}

    def actions(self) -> list[tuple[str, list[str], Callable[[], None]]]:
        """Words, keys and what they do."""
        return [
            ("A sheet photographed…", ["Ctrl+Shift+F"], self.photograph),
            ("Practice…", ["Ctrl+Shift+R"], self.practice),
            ("Logbook…", ["Ctrl+Shift+L"], self.logbook),
            ("Mark a class…", ["Ctrl+Shift+M"], self.mark_class),
            ("The day’s plan…", ["Ctrl+Shift+Y"], self.plan),
            ("My kit…", ["Ctrl+Shift+T"], self.kit),
            ("Calibrate my hand…", ["Ctrl+Shift+U"], self.hand),
        ]

    def _show(self, name: str, make: Callable[[], View], again: Callable[[View], None] | None = None) -> None:
        """A view of its kind, made once: what is in it stays while the window does, or is read ``again``."""
        view: View | None = self._views.get(name)
        if view is None:
            view = self._views[name] = make()
        elif again is not None:
            again(view)
        view.show()
        view.raise_()
        view.activateWindow()

    def photograph(self) -> None:
        """A photograph of a sheet, squared up, read and judged."""
        from wise_compass.desk.drafter.photoview import PhotoView

        self._show("photograph", lambda: PhotoView(self.window, self.session))

    def practice(self) -> None:
        """A problem set, drawn on paper, marked."""
        from wise_compass.desk.drafter.practiceview import PracticeView

        self._show("practice", lambda: PracticeView(self.window, self.session, self.window.ask_path))

    def logbook(self) -> None:
        """What was checked and practised."""
        from wise_compass.desk.drafter.logbookview import LogbookView

        self._show("logbook", lambda: LogbookView(self.window), LogbookView.again)

    def mark_class(self) -> None:
        """A class's measurements, each against its own numbers."""
        from wise_compass.desk.drafter.classview import ClassView

        self._show("class", lambda: ClassView(self.window, self.window.ask_path))

    def plan(self) -> None:
        """The order of the job's sheets, and how long they take."""
        from wise_compass.desk.drafter.planview import PlanView

        self._show("plan", lambda: PlanView(self.window, self.session, self.window.ask_path), PlanView.again)

    def kit(self) -> None:
        """The instruments that there are."""
        from wise_compass.desk.drafter.kitdialogs import KitDialog

        if KitDialog(self.window).exec():
            self.session.redraw()

    def hand(self) -> None:
        """The exercises, and what comes of them."""
        from wise_compass.desk.drafter.kitdialogs import HandDialog

        if HandDialog(self.window, self.save_exercises).exec():
            self.session.redraw()

    def save_exercises(self) -> None:
        """The sheets of exercises as PDF."""
        from wise_compass.desk.paper.raster import png_bytes
        from wise_compass.outputs.write import Output, write
        from wise_compass.sheet.exercises import exercise_drawings

        name, _ = self.window.ask_path("Save the sheets of exercises", "calibrate my hand.pdf", "PDF (*.pdf)")
        if name:
            path = Path(name if name.endswith(".pdf") else f"{name}.pdf")
            output = Output(exercise_drawings(), None, 1.0, "Calibrate my hand", False, png_bytes)
            if self.window.attempt(lambda: write(path, output, ("pdf",)), "Not written"):
                self.session.said.emit(f"Two sheets of exercises are in {path.name}. Print them at true scale.")
