"""The problems in hand as a session of their own: the board shows each as its worksheet, with no more of the
construction than was revealed, until it is marked."""

from __future__ import annotations

import time
from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QTimer, Signal

from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.session import Session
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style, scale_name
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.person import own_drafter
from wise_compass.job.recovery import Keeper
from wise_compass.logbook.store import new_noted_id
from wise_compass.practice.kept import InHand, in_hand_file, keep_in_hand, read_in_hand
from wise_compass.practice.problems import Problem, sheet_of
from wise_compass.practice.worksheet import as_worksheet
from wise_compass.sheet.compose import Sheet
from wise_compass.study.judge import Judge
from wise_compass.study.watch import Watch, what_to_measure

if TYPE_CHECKING:
    from wise_compass.desk.session.lying import Lying

LEAST = 3
"""How many fields there are for what was measured, at least."""


class Ready(NamedTuple):
    """What takes a while to make of a problem: its run, and its solution on its sheet."""

    made: Run
    sheet: Sheet


def made_ready(problem: Problem, style: Style) -> Ready:
    """Run a problem and lay it out; raises :class:`Refused`."""
    made = problem.run(own_drafter())
    return Ready(made, sheet_of(problem, made, style))


class _Unkept(Keeper):
    """Problems are kept in a file of their own, not as a job."""

    def keep(self, job: Job, path: Path | None, stamp: tuple[int, int, int] | None = None) -> None: ...
    def drop(self) -> None: ...


class Practising(Session):
    """``watched`` tells that what to measure is known now, ``ticked`` that the clock went on."""

    watched = Signal()
    ticked = Signal()

    def __init__(self, owner: Session, file: Path | None = None) -> None:
        self.owner = owner
        self.problems: list[InHand] = []
        self.watches: dict[str, Watch] = {}
        self._known: set[str] = set()
        """The ids of all that was ever in hand here: what else is kept is another window's."""
        self._judges: dict[str, Judge] = {}
        self._full: tuple[object, Sheet] | None = None
        super().__init__(Job("Practice", ()), None, _Unkept())
        self._file = file or in_hand_file()
        self._watching = Later(self)
        self._since = time.monotonic()
        self._clock = QTimer(self)
        self._clock.setInterval(1000)
        self._clock.timeout.connect(self._tick)
        self._keep_soon.timeout.disconnect()
        self._keep_soon.timeout.connect(self.keep)
        self._have(read_in_hand(self._file))

    @property
    def style(self) -> Style:
        return self.owner.style

    # what is in hand

    @property
    def hand(self) -> InHand | None:
        """The problem that is shown."""
        return next((one for one in self.problems if one.noted == self.entry_id), None)

    @property
    def opened(self) -> bool:
        """Whether the whole construction may be seen: the problem is marked."""
        return self.hand is not None and bool(self.hand.mark)

    @property
    def judge(self) -> Judge | None:
        """Who judges the problem that is shown."""
        made, hand = self.run, self.hand
        if made is None or hand is None:
            return None
        have = self._judges.get(hand.noted)
        if have is None or have.run is not made:
            have = self._judges[hand.noted] = Judge(made, hand.problem.scale)
        return have

    @property
    def measures(self) -> list[str]:
        """What is to be measured, by name; nothing until it is known."""
        watch = self.watches.get(self.entry_id)
        return [one.measure.name for one in watch.proposed] if watch is not None else []

    def _add(self, hand: InHand) -> None:
        """Put a problem first, as a sheet of the job that holds them all."""
        problem = hand.problem
        entry = Entry(
            problem.figure, problem.kind.title, problem.method, problem.givens, own=problem.own, id=hand.noted
        )
        plan = SheetPlan(problem.kind.title, (entry,), problem.paper, problem.lie, scale_name(problem.scale))
        self.problems.insert(0, hand)
        self._known.add(hand.noted)
        job = self.job._replace(sheets=(plan, *self.job.sheets))
        self.history.edit(job, "A problem")

    def _have(self, hands: list[InHand], shown: str = "") -> None:
        """Have these in hand, and no others; show one of them, or the newest."""
        self.problems = []
        self.history.edit(self.job._replace(sheets=()), "None")
        for one in reversed(hands):
            self._add(one)
        if self.problems:
            self.entry_id = shown or self.problems[0].noted
            self._show_other()
            self.job_changed.emit()

    def take_over(self, other: Practising) -> None:
        """Go on with what another window has in hand."""
        other.stop_clock()
        other.keep()
        self._have(other.problems, other.entry_id)

    def set_problem(self, problem: Problem, ready: Ready | None = None) -> None:
        """Have a problem in hand, and show it; its clock runs. ``ready`` is what was made of it beside the window."""
        self.stop_clock()
        hand = InHand(problem, new_noted_id())
        self._add(hand)
        entry = self.job.entry(hand.noted)
        if ready is not None and entry is not None:
            self._runs[hand.noted] = (self._key(entry), ready.made)
            self._full = ((ready.made, self.style), ready.sheet)
        self.entry_id = ""
        self.job_changed.emit()
        self.select(hand.noted)
        self.start_clock()
        self._keep_soon.start()

    def show_pupil(self, pupil: str, problem: Problem, mark: str, why: str) -> None:
        """A drawing of a class: its problem, all of it to be seen, in the place of the pupil's before."""
        self.stop_clock()
        for one in [one for one in self.problems if one.pupil]:
            self.drop(one)
        hand = InHand(problem, new_noted_id(), mark=mark, why=why, pupil=pupil)
        self._add(hand)
        self.entry_id = ""
        self.job_changed.emit()
        self.select(hand.noted)

    def drop(self, hand: InHand) -> None:
        """Put a problem away for good; what was marked of it stays in the logbook."""
        self.problems.remove(hand)
        self.history.edit(self.job.removed(hand.noted), "A problem away")
        for kept in (self._runs, self._judges, self.watches, self.photographs):
            kept.pop(hand.noted, None)
        self.entry_id = self.problems[0].noted if self.problems else ""
        self._show_other()
        self.job_changed.emit()
        self._keep_soon.start()

    def keep(self) -> None:
        """Keep all that is in hand, for another day."""
        self._count()
        keep_in_hand(self._file, self.problems, self._known)

    def changed(self) -> None:
        """Something of the shown problem is other than it was: it is kept soon."""
        self._keep_soon.start()

    # what is shown

    def _make(self, entry: Entry, figure: Figure | None = None) -> Run:
        hand = next(one for one in self.problems if one.noted == entry.id)
        made = hand.problem.run(own_drafter())
        self._runs[entry.id] = (self._key(entry), made)
        return made

    def _compose(self, changing: bool = False) -> None:
        self._drafter = own_drafter()
        hand, entry = self.hand, self.entry
        if hand is None or entry is None:
            self.shown = None
            return
        try:
            made = self.standing(entry) or self._make(entry)
            key = (made, self.style)
            if self._full is None or self._full[0] != key:
                self._full = (key, sheet_of(hand.problem, made, self.style))
        except Refused as refusal:
            self.refusal, self.shown = refusal, None
            return
        whole = self._full[1]
        names = self.measures
        self.shown = whole if self.opened else as_worksheet(whole, hand.problem, names, self.last_step, self.style)
        if hand.noted not in self.watches:
            self._ask_what_to_measure(hand.noted)

    def _ask_what_to_measure(self, noted: str) -> None:
        judge = self.judge
        if judge is not None:
            take = partial(self._watch, noted)
            self._watching.ask(lambda: what_to_measure(judge, least=LEAST), take, held=0.0)

    def _watch(self, noted: str, watch: Watch) -> None:
        self.watches[noted] = watch
        if noted == self.entry_id:
            self._compose()
            self.drawn.emit()
            self.watched.emit()

    def settle(self) -> None:
        """Until what to measure is known."""
        self._watching.settle()

    def select(self, entry_id: str) -> None:
        if entry_id == self.entry_id or self.job.entry(entry_id) is None:
            return
        self.stop_clock()
        self.entry_id, self.marks_lit, self.aside = entry_id, (), False
        self._show_other()

    def _show_other(self) -> None:
        self.refusal, self.between = None, 0.0
        self._stand()
        self._compose()
        self.selected.emit()
        self.drawn.emit()

    def _stand(self) -> None:
        """The walk stands at what was revealed last, or at the end of what is open."""
        self.finished, self.step = self.opened, 0 if self.opened else self.last_step

    # the walk goes no further than what was revealed

    @property
    def last_step(self) -> int:
        made, hand = self.run, self.hand
        if made is None or hand is None:
            return 0
        if self.opened:
            return len(made.steps)
        return min(made.printed_steps + hand.revealed, len(made.steps)) if hand.revealed else 0

    @property
    def given_steps(self) -> int:
        """How many steps stand on the paper already, and are nobody’s to draw."""
        return self.run.printed_steps if self.run is not None and not self.opened else 0

    @property
    def stops(self) -> int:
        return self.last_step + 1 if self.opened else max(self.last_step, 1)

    @property
    def phases(self) -> list[tuple[str, int]]:
        return [one for one in super().phases if self.given_steps < one[1] <= self.last_step]

    flat_words = "It is seen in the round once it is marked, if there is anything to see."

    @property
    def in_the_round(self) -> bool:
        return self.opened and super().in_the_round

    def walk_to(self, step: int) -> None:
        if self.opened:
            super().walk_to(step)
            return
        given = self.given_steps
        if 0 < step <= given:
            step = given + 1 if step > self.step else 0
        step = max(0, min(step, self.last_step))
        if (step, self.finished) != (self.step, False):
            self.step, self.finished, self.between = step, False, 0.0
            self.stepped.emit()

    def walk_words(self) -> str:
        if self.opened or self.hand is None:
            return super().walk_words()
        if not self.last_step:
            return "Nothing is shown yet; all of it is yours"
        if self.step < self.last_step:
            return f"Step {self.step}, of {self.last_step} that are shown"
        return f"Shown to step {self.last_step}; the rest is yours"

    def walk_hints(self) -> list[str]:
        return (
            super().walk_hints() if self.opened else ["Ctrl+Return a hint", "M measure", "P photograph", "F1 handbook"]
        )

    def reveal(self) -> None:
        """A hint: the next step, on the board too."""
        made, hand = self.run, self.hand
        if made is None or hand is None or self.opened or self.last_step >= len(made.steps):
            return
        hand.revealed += 1
        self.step, self.finished = self.last_step, False
        self._compose()
        self.drawn.emit()
        self.stepped.emit()
        self.changed()

    def light(self, names: tuple[str, ...]) -> None:
        if self.opened:  # or the places of points that are to be found would be told
            super().light(names)

    # the clock

    @property
    def seconds(self) -> float:
        """How long the shown problem was drawn."""
        self._count()
        return self.hand.spent if self.hand is not None else 0.0

    def _count(self) -> None:
        now = time.monotonic()
        for one in self.problems:
            if one.running:
                one.spent += now - self._since
        self._since = now

    def _tick(self) -> None:
        self._count()
        self.ticked.emit()

    def start_clock(self) -> None:
        """The clock of the shown problem runs, unless that is marked."""
        self._count()
        if self.hand is not None and not self.hand.mark:
            self.hand.running = True
            self._clock.start()
            self.ticked.emit()

    def stop_clock(self) -> None:
        """No clock runs."""
        self._count()
        for one in self.problems:
            one.running = False
        self._clock.stop()
        self.ticked.emit()

    # what came of it

    def set_mark(self, mark: str, why: str) -> None:
        """The shown problem is marked: all of its construction may be seen now."""
        hand = self.hand
        if hand is None:
            return
        self.stop_clock()
        was, (hand.mark, hand.why) = self.opened, (mark, why)
        if not was:
            self._stand()
            self._compose()
            self.drawn.emit()
            self.stepped.emit()
        self.job_changed.emit()
        self.changed()

    def typed(self, texts: Mapping[str, str]) -> None:
        """What stands in the fields of the shown problem."""
        if self.hand is not None:
            self.hand.typed = {name: text for name, text in texts.items() if text.strip()}
            self.changed()

    def lay(self, photograph: Lying | None) -> None:
        super().lay(photograph)
        self.changed()
