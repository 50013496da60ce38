"""Running a method: exactly, with a slip, or by many unsteady hands."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple, TypeVar

import numpy as np

from wise_compass.drafting.capabilities import Developed, Part, Picture, Pictured, Shading, courses_of, true_lines_of
from wise_compass.drafting.course import Course, laid
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, Method, known_way, method_for
from wise_compass.drafting.instruments import Deviation, SteadyHand, UnsteadyHands
from wise_compass.drafting.marks import ArcMark, LineMark, Mark, Role, Spot, all_drawn, nominal
from wise_compass.drafting.recorder import ChoicePoint, Conventions, NoMeet
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Step
from wise_compass.drafting.truths import Found, Proof, Value, prove
from wise_compass.geometry.vectors import Array, Number

if TYPE_CHECKING:
    from wise_compass.drafting.views import Views
    from wise_compass.geometry.unfold import Pattern

T = TypeVar("T")
LACKS = KeyError, IndexError, ValueError, StopIteration, RuntimeError
"""What a figure raises that is told of points which are not there; the last is a generator's StopIteration."""
MARKED = 1e-3
"""Of a drawing’s size: what a slip moves a point by at least, to leave a mark."""


@dataclass(eq=False, repr=False)
class Run:
    """One exact run of a method (or one with a slip): everything that the sheet, the desk and the files show."""

    figure: Figure
    method: Method
    conventions: Conventions
    steps: list[Step]
    spots: dict[str, Spot]
    found: Found
    choices: list[ChoicePoint]
    slip: str | None = None
    views: Views | None = None
    given: Figure | None = None
    """The figure as it was given, where what is drawn is the middle of its plate."""
    usual: list[ChoicePoint] = field(default_factory=list)
    further: list[ChoicePoint] = field(default_factory=list)
    """The slips of its moves at the further places where these stand."""
    given_steps: int = 0
    """How many of its first steps are given drawn where it is set as a problem."""

    @property
    def printed_steps(self) -> int:
        """How many of its first steps stand on the paper already."""
        return self.given_steps if self.conventions.printed else 0

    @cached_property
    def slips(self) -> list[ChoicePoint]:
        """Where a hand is known to slip: the method's own, and those of its moves that break a truth, leave a mark and
        let it come to an end."""
        return [*self.choices, *(one for one in self.usual if self._leaves_a_mark(one))]

    def _leaves_a_mark(self, slip: ChoicePoint) -> bool:
        try:
            other = run(self.figure, self.method, self.conventions, slip.id)
        except NoMeet:
            return False
        if any(name not in other.found or not np.isfinite(other.found[name]).all() for name in self.found):
            return False
        with np.errstate(invalid="ignore", divide="ignore"):
            if all(proof.holds for proof in other.proofs):
                return False
        low, high = self.extent
        mine, theirs = self._lined_in(), other._lined_in()
        if [len(line) for line in mine] != [len(line) for line in theirs]:
            return True
        off = max((float(np.abs(a - b).max()) for a, b in zip(mine, theirs)), default=0.0)
        return off > MARKED * float(np.abs(high - low).max())

    def _lined_in(self) -> list[Array]:
        """The polylines of what is lined in, seen and hidden."""
        return [line for mark in self.marks if mark.role in (Role.OUTLINE, Role.HIDDEN) for line in mark.polylines()]

    @cached_property
    def values(self) -> list[Value]:
        """Every value of the figure, by formula; those of the whole body are of the figure as it was given."""
        found = list(values_of(self.figure, self.method))
        if self.given is None:
            return found
        kept = self.figure.of_body if isinstance(self.figure, Developed) else ()
        whole = {value.name: value for value in values_of(self.given, self.method) if value.name in kept}
        return [whole.get(value.name, value) for value in found]

    @property
    def way(self) -> str:
        """The id of the method by which the figure knows how it is drawn."""
        return known_way(self.figure, self.method)

    @cached_property
    def proofs(self) -> list[Proof]:
        """Every truth of the figure held against the found points."""
        if self.method.proves is not None:
            return self.method.proves(self)
        exact = self.method.exact(self.figure)
        low, high = self.extent
        size = float(np.abs(np.concatenate([high - low, low, high])).max())
        return [prove(truth, exact, size) for truth in self.figure.truths(self.found)]

    @cached_property
    def measured(self) -> dict[str, Number]:
        """The values read off the drawing."""
        return measured_of(self.figure, self.method, self.found)

    @cached_property
    def courses(self) -> Sequence[Course]:
        """The true curves that the found points lie on."""
        return tuple(self._laid(course) for course in self._courses)

    @cached_property
    def _courses(self) -> Sequence[Course]:
        told = courses_of(self.figure, self.way)
        if self.method.proves is None:
            return told
        return [one for one in told if one.names and all(name in self.spots for name in one.names)]

    @property
    def curved(self) -> bool:
        """Whether there are such curves."""
        return bool(self._courses)

    @cached_property
    def parts(self) -> Sequence[Part]:
        """What is to be cut out of sheet; nothing where no pattern was found."""
        figure = self.figure
        if not isinstance(figure, Developed):
            return ()
        nothing: Sequence[Part] = ()
        parts = self.as_found(lambda: figure.cut_out(self.found), nothing)
        return parts if all(end in self.found for part in parts for edge in part.edges for end in edge[:2]) else ()

    @cached_property
    def pattern(self) -> Pattern | None:
        """The pattern as it was found on the paper; None where there is none."""
        figure = self.figure
        return self.as_found(lambda: figure.pattern(self.found), None) if isinstance(figure, Developed) else None

    @property
    def shades(self) -> Sequence[Array]:
        """What is toned on the sheet: closed outlines (m, 2)."""
        figure, nothing = self.figure, tuple[Array, ...]()
        return self.as_found(lambda: tuple(figure.shades(self.found)), nothing) if isinstance(figure, Shading) else ()

    def as_found(self, told: Callable[[], T], nothing: T) -> T:
        """What a figure tells of its found points; ``nothing`` of a person's own that lacks some of them."""
        if self.method.proves is None:
            return told()
        with suppress(*LACKS):
            return told()
        return nothing

    @property
    def hazards(self) -> Sequence[str]:
        """What whoever cuts its pattern out is to be warned of; nothing where there is none."""
        return self.figure.hazards if isinstance(self.figure, Developed) and self.parts else ()

    @property
    def picture(self) -> Picture | None:
        """How the drawing pictures a solid; None where it does not."""
        figure = self.figure
        return self.as_found(lambda: figure.pictured(self.found), None) if isinstance(figure, Pictured) else None

    @property
    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        """The lines whose true lengths are to be known: the name of each, and its ends in space."""
        return true_lines_of(self.figure)

    def _laid(self, course: Course) -> Course:
        if not course.afloat:
            return course
        return laid(course, np.array([nominal(self.found[name], 1) for name in course.names]))

    @property
    def marks(self) -> list[Mark]:
        """Every mark in the order in which it is drawn."""
        return [mark for step in self.steps for mark in step.marks]

    @cached_property
    def extent(self) -> tuple[Array, Array]:
        """The lowest and the highest coordinates of everything drawn, in figure mm; both 0, 0 where nothing is."""
        lines = [mark for mark in self.marks if isinstance(mark, LineMark)]
        points = [
            np.array([spot.here for spot in self.spots.values()]).reshape(-1, 2),
            all_drawn(lines, [0.0] * len(lines)).reshape(-1, 2),
        ]
        for mark in self.marks:
            if not isinstance(mark, LineMark):
                points += [mark.outer_points()] if isinstance(mark, ArcMark) else mark.polylines()
        everything = np.concatenate(points)
        if not len(everything):
            return np.zeros(2), np.zeros(2)
        return everything.min(axis=0), everything.max(axis=0)

    @property
    def phases(self) -> list[tuple[str, int]]:
        """Each phase with the number of its first step."""
        firsts: list[tuple[str, int]] = []
        for step in self.steps:
            if not firsts or firsts[-1][0] != step.phase:
                firsts.append((step.phase, step.n))
        return firsts


def _draw(figure: Figure, method: Method, hand: SteadyHand, slip: str | None, conventions: Conventions) -> Draft:
    refusal = method.fits(figure)
    if refusal is not None:
        raise Refused(method.fits_given, refusal)
    draft = Draft(hand, slip, conventions)
    # a hand that finds no crossing, or a slip that makes none, gives NaN in its own lane and no warning
    with np.errstate(invalid="ignore", divide="ignore"):
        method.draw(figure, draft)
    return draft


def as_far_as_found(method: Method, told: Callable[[], Iterable[T]]) -> list[T]:
    """What a figure tells of the points that a method found; of a person's own, which may lack some of them, up to the
    first that it has not."""
    if method.proves is None:
        return list(told())
    found: list[T] = []
    with suppress(*LACKS):
        for one in told():
            found.append(one)
    return found


def values_of(figure: Figure, method: Method) -> Iterator[Value]:
    """The values of a figure by one of its methods; of a person's own without those that a method draws amiss."""
    for value in figure.values(known_way(figure, method)):
        if method.proves is None or not value.drawn:
            yield value


def measured_of(figure: Figure, method: Method, found: Found) -> dict[str, Number]:
    """The values read off the points of a method; none where a person's own has not the points for them."""
    if method.proves is None:
        return figure.measure(found)
    with suppress(*LACKS), np.errstate(invalid="ignore", divide="ignore"):
        return figure.measure(found)
    return {}


def found_of(draft: Draft, method: Method) -> Found:
    """The points that a draft found, lanes and all."""
    points: dict[str, Array] = {name: spot.at for name, spot in draft.spots.items()}
    points.update(draft.solid)
    return Found(points, method.id)


def run(
    figure: Figure, method: str | Method | None = None, conventions: Conventions | None = None, slip: str | None = None
) -> Run:
    """Run a method exactly, or with the named slip. Raises :class:`Refused` where the method does not serve."""
    chosen = method_for(figure, method)
    conventions = conventions or Conventions()
    draft = _draw(figure, chosen, SteadyHand(), slip, conventions)
    return Run(
        figure,
        chosen,
        conventions,
        draft.steps,
        draft.spots,
        found_of(draft, chosen),
        draft.choices,
        slip,
        draft.views,
        usual=list(draft.usual.values()),
        further=list(draft.further.values()),
        given_steps=draft.given_steps,
    )


class Error(NamedTuple):
    """One error of a run of hands: its step, its tolerance's id, one standard deviation and its unit, and its
    number."""

    step: int
    tolerance: str
    sd: float
    unit: str
    number: int


class Lanes(NamedTuple):
    """A method run by many hands at once: the draft with its lanes, and every error that they made."""

    draft: Draft
    made: list[Deviation]

    def errors(self) -> tuple[Array, list[Error]]:
        """Every error of the hands in its own deviations, a column each, (hands, errors), and what each is."""
        columns: list[Array] = []
        errors: list[Error] = []
        for number, stray in enumerate(self.made):
            axes = stray.by.reshape(len(stray.by), -1)[1:] / stray.sd
            for axis, column in enumerate(axes.T):
                columns.append(column)
                errors.append(Error(stray.step, stray.tolerance.id, stray.sd, stray.tolerance.unit, 2 * number + axis))
        return np.array(columns).T, errors


def lanes_of(
    figure: Figure,
    method: str | Method | None,
    count: int,
    seed: int | tuple[int, int] | None,
    conventions: Conventions | None,
    scale: float,
    slip: str | None = None,
    hand: SteadyHand | None = None,
) -> Lanes:
    """Run a method for ``count`` unsteady hands, lane 0 being the steady one; for whoever asks more than their scatter.

    They may all take a ``slip``; a ``hand`` of one's own may draw instead. Raises :class:`Refused` where the method
    does not serve.
    """
    conventions = conventions or Conventions()
    hands = UnsteadyHands(count, seed, scale, conventions.drafter)
    draft = _draw(figure, method_for(figure, method), hand or hands, slip, conventions)
    return Lanes(draft, hands.made)


def spots_of(draft: Draft) -> dict[str, Array]:
    """The places of a draft's spots, lanes and all."""
    return {name: spot.at for name, spot in draft.spots.items()}


def run_slips(
    figure: Figure, method: str | Method | None = None, conventions: Conventions | None = None, usual: bool = False
) -> list[tuple[ChoicePoint, Run | Refused]]:
    """A run with each slip that the method tells, and with ``usual`` those of its moves; a refusal where one leaves the
    hand without a crossing."""
    results: list[tuple[ChoicePoint, Run | Refused]] = []
    made = run(figure, method, conventions)
    for choice in made.slips if usual else made.choices:
        try:
            results.append((choice, run(figure, method, conventions, choice.id)))
        except NoMeet as refusal:
            results.append((choice, refusal))
    return results
