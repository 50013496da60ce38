"""Walking the steps of the selected figure: where the walk stands, and what moves between two steps."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import SignalInstance

from wise_compass.drafting.run import Run

if TYPE_CHECKING:
    from wise_compass.study.motion import Motion


class Walking:
    """A part of the session, which has the run, its last step, and says when the walk has moved."""

    run: Run | None
    last_step: int
    stepped: SignalInstance
    step = 0
    finished = True
    between = 0.0
    _motion: tuple[Run, Motion | None] | None = None

    def walk_to(self, step: int) -> None:
        """Go to a step: 0 is the blank paper, one past the last is the finished drawing."""
        step = max(0, min(step, self.last_step + 1))
        finished = step > self.last_step
        if (step, finished, 0.0) != (self.position, self.finished, self.between):
            self.step, self.finished, self.between = (0 if finished else step), finished, 0.0
            self.stepped.emit()

    def walk_along(self, place: float) -> None:
        """Go to a place that may lie between two steps: where something moves between them it stays there, else it snaps."""
        motion = self.motion
        step = int(place)
        if motion is None or not (motion.covers(step) and motion.covers(place)) or step == place:
            self.walk_to(round(place))
        elif (step, place - step) != (self.step, self.between):
            self.step, self.finished, self.between = step, False, place - step
            self.stepped.emit()

    @property
    def motion(self) -> Motion | None:
        """What moves between the steps of the selected figure, if anything does."""
        made = self.run
        if made is None:
            return None
        if self._motion is None or self._motion[0] is not made:
            from wise_compass.study.motion import motion_of

            self._motion = (made, motion_of(made))
        return self._motion[1]

    @property
    def position(self) -> int:
        """Where the walk stands, the finished drawing being one past the last step."""
        return self.last_step + 1 if self.finished else self.step

    @property
    def place(self) -> float:
        """Where the walk stands, between two steps too."""
        return self.position + self.between
