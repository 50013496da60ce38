"""What belongs to the drafter and not to a job: the kit, the hand."""

from __future__ import annotations

from pathlib import Path
from typing import Any


class DrafterTools:
    """What a window opens for its drafter; each is imported when it is asked for."""

    def __init__(self, window: Any) -> None:
        self.window, self.session = window, window.session

    def actions(self) -> list[tuple[str, list[str], Any]]:
        """Words, keys and what they do."""
        return [("My kit…", ["Ctrl+Alt+K"], self.kit), ("Calibrate my hand…", ["Ctrl+Alt+Y"], self.hand)]

    def kit(self) -> None:
        """The instruments that there are."""
        from wise_compass.desk.kitdialogs import KitDialog

        if KitDialog(self.window).exec():
            self.session.redraw()

    def hand(self) -> None:
        """The exercises, and what comes of them."""
        from wise_compass.desk.kitdialogs import HandDialog

        if HandDialog(self.window, self.save_exercises).exec():
            self.session.redraw()

    def save_exercises(self) -> None:
        """The sheets of exercises as PDF."""
        from wise_compass.desk.raster import png_bytes
        from wise_compass.outputs.write import Output, write
        from wise_compass.sheet.exercises import exercise_drawings

        name, _ = self.window.ask_path("Save the sheets of exercises", "calibrate my hand.pdf", "PDF (*.pdf)")
        if name:
            path = Path(name if name.endswith(".pdf") else f"{name}.pdf")
            output = Output(exercise_drawings(), None, 1.0, "Calibrate my hand", False, png_bytes)
            if self.window.attempt(lambda: write(path, output, ("pdf",)), "Not written"):
                self.session.said.emit(f"Two sheets of exercises are in {path.name}. Print them at true scale.")
