"""What the drafter's menu leads to, and what of it is a dialog: the kit, the hand."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from wise_compass.desk.session.jobwindow import JobWindow


class DrafterTools:
    """What a window opens for its drafter; each is imported when it is asked for."""

    def __init__(self, window: JobWindow) -> None:
        self.window, self.session = window, window.session

    def actions(self) -> list[tuple[str, list[str], Callable[[], object]]]:
        """Words, keys and what they do."""
        return [
            ("A sheet photographed…", ["Ctrl+Shift+F"], self.window.open_photograph),
            ("Set me a problem to practise", ["Ctrl+Shift+R"], self.window.practise_anew),
            ("Mark a class…", ["Ctrl+Shift+M"], self.window.mark_class),
            ("Logbook", ["Ctrl+Shift+L"], lambda: self.window.go(2)),
            ("The day’s plan", ["Ctrl+Shift+Y"], lambda: self.window.go(3)),
            ("My kit…", ["Ctrl+Shift+T"], self.kit),
            ("Calibrate my hand…", ["Ctrl+Shift+U"], self.hand),
        ]

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
