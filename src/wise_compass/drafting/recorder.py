"""What every run records: phases, steps, spots and the places where hands slip.

A method tells its own slips by ``Draft.choice``. Those that a hand makes with a move whatever the figure are told once,
with the move (``Recorder.usual_slip``): the other of two crossings, the compass left as it stood, the diameter for the
radius, the protractor's other scale, the set square's other corner, marks counted for spaces, the rule read a
centimetre off, a distance from the wrong view or laid off on the wrong side. Each is offered at the first such move
that is a step of its own; ``Run.slips`` keeps those that break a truth, leave a mark and let the hand come to an end.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, NamedTuple, TypeVar

from wise_compass.drafting.instruments import SteadyHand
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.marks import Mark, Spot, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting, Step
from wise_compass.geometry.vectors import Array, Number

T = TypeVar("T")


class NoMeet(Refused):
    """A hand cannot go on: two lines of a construction that have to meet do not."""

    def __init__(self, step: Step) -> None:
        super().__init__("", f"Step {step.n} finds no crossing: {step.says or step.instrument}")


class Conventions(NamedTuple):
    """The choices where schools differ: first or third angle, how views are lettered, and how a length is divided.

    ``dividing`` is auto, trial, parallels or rule. ``sides`` are auto, usual or other for each auxiliary view in order;
    ``printed`` tells that what a problem gives drawn stands on the paper already, exactly;
    ``fields`` the width and height in mm that a drawing may take at true size, for each way up of the paper, empty for
    any paper. ``hidden`` tells whether a picture's hidden edges are ``shown``, left ``out``, or drawn as is ``usual``
    for its kind. ``drafter`` is whose kit and hand draw.
    """

    projection: str = "first"
    lettering: str = "primes"
    dividing: str = "auto"
    sides: tuple[str, ...] = ()
    fields: tuple[tuple[float, float], ...] = ()
    hidden: str = "usual"
    drafter: Drafter = Drafter()
    printed: bool = False

    def shows_hidden(self, usual: bool) -> bool:
        """Whether a picture draws its hidden edges, where it does so or not as ``usual``."""
        return {"shown": True, "out": False}.get(self.hidden, usual)


class Strip(NamedTuple):
    """A trammel's strip: how far M and N are marked from P, errors and all."""

    to_m: Number
    to_n: Number


@dataclass(eq=False, repr=False)
class Opening:
    """A distance taken off the drawing, to be set again elsewhere."""

    value: Number
    words: str

    @property
    def nominal(self) -> float:
        return float(nominal(self.value, 0))


class ChoicePoint(NamedTuple):
    """A place where a hand is known to slip."""

    id: str
    says: str


EVERYWHERE = frozenset(("other-crossing", "compass-not-reset", "marks-for-spaces"))
"""Slips of a move that are known at every place where it stands: they change what is drawn from there on. Numbers that
are read amiss are known everywhere by the misreadings of a setting."""


class Recorder:
    """One run of a method: its steps, spots and choices, and the hands that draw it."""

    def __init__(
        self, hand: SteadyHand | None = None, slip: str | None = None, conventions: Conventions | None = None
    ) -> None:
        self.hand = hand or SteadyHand()
        self.slip = slip
        self.conventions = conventions or Conventions()
        self.steps: list[Step] = []
        self.spots: dict[str, Spot] = {}
        self.solid: dict[str, Array] = {}
        self.choices: list[ChoicePoint] = []
        self.usual: dict[str, ChoicePoint] = {}
        """Slips that a hand makes with its moves, whatever the figure."""
        self.further: dict[str, ChoicePoint] = {}
        """The same at the further places where such a move stands, of :data:`EVERYWHERE`; each by its number."""
        self._places: dict[str, int] = {}
        self.views: Any = None
        """The tree of views, where the method draws in views."""
        self._phase = ""
        self._heading = ""
        self._apart = ""
        self._whole: Step | None = None
        self._compass: tuple[float, Any] = (-1.0, None)
        self._printing = False
        self.given_steps = 0
        """How many steps stand on the paper before the work begins."""

    def take_views(self, views: Any) -> None:
        """From here on it draws in these views."""
        self.views = views

    # the shape of the work

    @contextmanager
    def phase(self, title: str) -> Iterator[None]:
        """The steps inside belong to the phase ``title``."""
        before, self._phase = self._phase, title
        try:
            yield
        finally:
            self._phase = before

    @contextmanager
    def apart(self, what: str) -> Iterator[None]:
        """The steps inside draw something that lies in none of the views, such as a pattern."""
        before, self._apart = self._apart, what
        try:
            yield
        finally:
            self._apart = before

    @contextmanager
    def move(self, heading: str) -> Iterator[None]:
        """The steps inside are one well-known move, folded under its name."""
        before, self._heading = self._heading, self._heading or heading
        try:
            yield
        finally:
            self._heading = before

    @contextmanager
    def printed(self) -> Iterator[None]:
        """The steps inside are given drawn where the drawing is set as a problem: nobody errs in them then."""
        hand = self.hand
        if self.conventions.printed:
            self.hand, self._printing = SteadyHand(), True
        try:
            yield
        finally:
            self.hand, self._printing = hand, False
            self.given_steps = len(self.steps)

    @contextmanager
    def as_one(self, instrument: str, says: str, *settings: Setting, why: str = "") -> Iterator[Step]:
        """The operations inside are a single step."""
        step = self._begin(instrument, says, why)
        step.settings.extend(settings)
        outer, self._whole = self._whole, self._whole or step
        try:
            yield step
        finally:
            self._whole = outer

    def choice(self, id: str, *, right: T, slip: T, says: str, when: bool = True, at: str = "") -> T:
        """``right``, or ``slip`` in a run that takes this slip. ``says`` tells the mistake in words. Where it is asked
        for each place ``at`` which the hand may err, the run that takes it errs at all of them, as ``id@P4`` at that
        one alone."""
        if not when:
            return right
        if all(known.id != id for known in self.choices):
            self.choices.append(ChoicePoint(id, says))
        return slip if self.slip == id or (at and self._only_at(id, at, says)) else right

    def once(self, id: str, *, right: T, slip: T, says: str, at: str, usual: bool) -> T:
        """The same of a slip that a hand makes at one place of many: ``id`` at the ``usual`` one, ``id@P4`` at
        another."""
        if not usual:
            return slip if self._only_at(id, at, says) else right
        return self.choice(id, right=right, slip=slip, says=says)

    def _only_at(self, id: str, at: str, says: str) -> bool:
        """Note a place of a slip; whether this run slips there alone."""
        there = f"{id}@{at}"
        self.further[there] = ChoicePoint(there, f"At {at} alone: {says[0].lower()}{says[1:]}")
        return self.slip == there

    def usual_slip(self, id: str, right: T, slip: T, says: str, when: bool = True) -> T:
        """``right``, or ``slip`` in a run that takes this slip, which belongs to a move: the first of its kind that is
        a step of its own, or as ``id@3`` the third."""
        if not when or not self._may_slip(id):
            return right
        if id not in self.usual:
            self.usual[id] = ChoicePoint(id, says)
            return slip if self.slip == id else right
        place = self._places[id] = self._places.get(id, 1) + 1
        there = f"{id}@{place}"
        self.further[there] = ChoicePoint(there, says)
        return slip if self.slip == there else right

    def _may_slip(self, id: str) -> bool:
        """Whether a move is a step of its own, and one that this slip may belong to."""
        return self._whole is None and not self._printing and (id not in self.usual or id in EVERYWHERE)

    def _begin(self, instrument: str, says: str, why: str = "") -> Step:
        if self._whole is not None:
            return self._whole
        step = Step(
            len(self.steps) + 1,
            self._phase,
            self._heading,
            instrument,
            says,
            why,
            apart=self._apart,
            reach=self.conventions.drafter.kit.compass_most,
        )
        self.steps.append(step)
        return step

    def _leave(self, step: Step, mark: Mark) -> None:
        step.marks.append(mark)

    # points

    def _spot(self, name: str, at: Array, step: Step, kind: str) -> Spot:
        spot = Spot(name, at, step.n, kind)
        if name:
            if name in self.spots:
                raise ValueError(f"two points have the key {name}")
            self.spots[name] = spot
        step.spots.append(spot)
        return spot

    def in_space(self, name: str, xyz: Array) -> None:
        """Record a point in space that the views fix. Raises :class:`ValueError` where the key is taken."""
        if name in self.spots or name in self.solid:
            raise ValueError(f"two points have the key {name}")
        self.solid[name] = xyz

    def _marked(self, name: str, at: Array, step: Step, kind: str) -> Spot:
        """A point that the pencil marks by eye."""
        x, y = nominal(at, 1).tolist()
        if x != x or y != y:  # not a number
            raise NoMeet(step)
        if self.hand.lanes:
            at = at + self.hand.strays_both_ways("pencil mark", step.n)
        return self._spot(name, at, step, kind)
