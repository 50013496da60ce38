"""Walking: which figure is selected, where the walk of its steps stands, what moves between two steps, and what is
lit."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_compass.desk.session.standing import Standing
from wise_compass.drafting.capabilities import Solid
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import many
from wise_compass.geometry.vectors import Array

if TYPE_CHECKING:
    from wise_compass.study.motion import Motion


class Walking(Standing):
    """The session walked: over what stands, where the walk is, and what is lit."""

    step = 0
    finished = True
    between = 0.0
    hints: tuple[tuple[float, float], ...] = ()
    marks_lit: tuple[str, ...] = ()
    _wrong: tuple[Run | None, list[Array]] = (None, [])
    _motion: tuple[Run, Motion | None] | None = None

    def walk_to(self, step: int) -> None:
        """Go to a step: 0 is the blank paper, one past the last is the finished drawing."""
        step = max(0, min(step, self.last_step + 1))
        finished = step > self.last_step
        if (step, finished, 0.0) != (self.position, self.finished, self.between):
            self.step, self.finished, self.between = (0 if finished else step), finished, 0.0
            self.stepped.emit()

    def walk_along(self, place: float) -> None:
        """Go to a place that may lie between two steps: where something moves between them it stays there, else it
        snaps."""
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
    def stops(self) -> int:
        """The last place of the walk, the finished drawing: one past the last step."""
        return self.last_step + 1

    @property
    def phases(self) -> list[tuple[str, int]]:
        """The phases that the rule shows, each with its first step."""
        return self.run.phases if self.run is not None else []

    flat_words = "This figure lies in one plane: there is nothing to see in the round."
    """Said where it is asked to be seen in the round and cannot be."""

    @property
    def in_the_round(self) -> bool:
        """Whether the selected figure may be looked at in the round: it is more than plane, and nothing of it is to be
        found yet."""
        made = self.run
        return made is not None and (made.views is not None or isinstance(made.figure, Solid))

    def walk_words(self) -> str:
        """Where the walk stands."""
        if self.run is None:
            return ""
        if self.finished:
            return f"Finished, {many(self.last_step, 'step')}"
        return f"Step {self.step} of {self.last_step}" if self.step else "Blank paper"

    def walk_hints(self) -> list[str]:
        """What can be done at the rule and the board, besides walking."""
        return ["hover to read", "click two points to measure", "H hide construction", "F1 handbook"]

    @property
    def position(self) -> int:
        """Where the walk stands, the finished drawing being one past the last step."""
        return self.last_step + 1 if self.finished else self.step

    @property
    def place(self) -> float:
        """Where the walk stands, between two steps too."""
        return self.position + self.between

    def select(self, entry_id: str) -> None:
        """Show another entry, all of its construction drawn."""
        if entry_id == self.entry_id or self.job.entry(entry_id) is None:
            return
        self.entry_id = entry_id
        self.refusal = None
        self.finished, self.step, self.between = True, 0, 0.0
        self.marks_lit = ()
        self._recheck_typed()
        self._compose()
        self.selected.emit()
        self.drawn.emit()

    @property
    def lines_drawn(self) -> list[Array]:
        """What a wrong drawing of the selected run would look like, where that is shown."""
        made, lines = self._wrong
        return lines if made is self.run else []

    def show_drawn(self, lines: list[Array], made: Run | None = None) -> None:
        """Show over the exact figure what a wrong drawing of that run would look like; nothing for none."""
        before, self._wrong = self.lines_drawn, (made, lines)
        if lines or before:
            self.lit.emit()

    def light(self, names: tuple[str, ...]) -> None:
        """Light up the spots that a value, or the pointer, is about."""
        if names != self.marks_lit:
            self.marks_lit = names
            self.lit.emit()

    def hint(self, places: tuple[tuple[float, float], ...]) -> None:
        """Show places of the figure, in its own mm, where further points would help."""
        if places != self.hints:
            self.hints = places
            self.lit.emit()

    def _show_other(self) -> None:
        self.refusal, self.finished, self.step, self.between = None, True, 0, 0.0
        self._recheck_typed()
        self._compose()
        self.selected.emit()
        self.drawn.emit()
