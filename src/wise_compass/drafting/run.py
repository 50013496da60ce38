"""Running a method: exactly, with a slip, or by many unsteady hands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.drafting.catalogue import method_named
from wise_compass.drafting.course import Course, laid
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, Method
from wise_compass.drafting.instruments import Deviation, SteadyHand, UnsteadyHands
from wise_compass.drafting.marks import ArcMark, LineMark, Mark, Role, Spot, all_drawn, nominal
from wise_compass.drafting.recorder import ChoicePoint, Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Step
from wise_compass.drafting.truths import Found, Proof, Value, prove
from wise_compass.geometry.vectors import Array, Number

if TYPE_CHECKING:
    from wise_compass.drafting.views import Views

MOST_HANDS = 100_000
MARKED = 1e-3
"""Of a drawing’s size: what a slip moves a point by at least, to leave a mark."""
NO_END = (ValueError, KeyError, IndexError, ZeroDivisionError, AssertionError)
"""What a method may end in that a slip of a move has led where no hand goes on."""
AT_ONCE = 2_500
"""Hands that are drawn at once: more would take more memory than a small machine has to spare."""


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

    @cached_property
    def slips(self) -> list[ChoicePoint]:
        """Where a hand is known to slip: the method's own, and those of its moves that break a truth, leave a mark and let it come to an end."""
        return [*self.choices, *(one for one in self.usual if self._leaves_a_mark(one))]

    def _leaves_a_mark(self, slip: ChoicePoint) -> bool:
        try:
            other = run(self.figure, self.method.id, self.conventions, slip.id)
        except (Refused, *NO_END):
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
        found = list(self.figure.values(self.method.id))
        if self.given is None:
            return found
        whole = {value.name: value for value in self.given.values(self.method.id) if value.name in self.figure.of_body}
        return [whole.get(value.name, value) for value in found]

    @cached_property
    def proofs(self) -> list[Proof]:
        """Every truth of the figure held against the found points."""
        exact = self.method.exact(self.figure)
        low, high = self.extent
        size = float(np.abs(np.concatenate([high - low, low, high])).max())
        return [prove(truth, exact, size) for truth in self.figure.truths(self.found)]

    @cached_property
    def measured(self) -> dict[str, Number]:
        """The values read off the drawing."""
        return self.figure.measure(self.found)

    @cached_property
    def courses(self) -> Sequence[Course]:
        """The true curves that the found points lie on."""
        return tuple(self._laid(course) for course in self._courses)

    @cached_property
    def _courses(self) -> Sequence[Course]:
        return self.figure.courses(self.method.id)

    @property
    def curved(self) -> bool:
        """Whether there are such curves."""
        return bool(self._courses)

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
        """The lowest and the highest coordinates of everything drawn, in figure mm."""
        lines = [mark for mark in self.marks if isinstance(mark, LineMark)]
        points = [np.array([spot.here for spot in self.spots.values()]), all_drawn(lines, [0.0] * len(lines)).reshape(-1, 2)]
        for mark in self.marks:
            if not isinstance(mark, LineMark):
                points += [mark.outer_points()] if isinstance(mark, ArcMark) else mark.polylines()
        everything = np.concatenate(points)
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


def found_of(draft: Draft, method: Method) -> Found:
    """The points that a draft found, lanes and all."""
    points: dict[str, Array] = {name: spot.at for name, spot in draft.spots.items()}
    points.update(draft.solid)
    return Found(points, method.id)


def run(figure: Figure, method: str | None = None, conventions: Conventions | None = None, slip: str | None = None) -> Run:
    """Run a method exactly, or with the named slip. Raises :class:`Refused` where the method does not serve."""
    chosen = method_named(type(figure), method)
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
    )


class Scatter(NamedTuple):
    """How far one point or value strays over many hands.

    ``sd`` is one standard deviation (of a point: the root mean square distance from where it should be, per axis),
    ``limit`` what 95 hands in 100 stay within, ``most`` the setting that contributes most, ``share`` its part of the
    variance.
    """

    name: str
    unit: str
    sd: float
    limit: float
    bias: float
    most: str
    step: int
    share: float


@dataclass(eq=False, repr=False)
class HandsResult:
    """The scatter of every point and value over many hands; ``missed`` hands found no crossing somewhere."""

    count: int
    missed: int
    points: list[Scatter]
    values: list[Scatter]
    steps: list[Step] = field(repr=False, default_factory=list)
    scale: float = 1.0


class Error(NamedTuple):
    """One error of a run of hands: its step, its tolerance's id, one standard deviation and its unit, and its number."""

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
    method: str | None,
    count: int,
    seed: int | tuple[int, int] | None,
    conventions: Conventions | None,
    scale: float,
    slip: str | None = None,
    hand: SteadyHand | None = None,
) -> Lanes:
    """Run a method for ``count`` unsteady hands, lane 0 being the steady one; for whoever asks more than their scatter.

    They may all take a ``slip``; a ``hand`` of one's own may draw instead. Raises :class:`Refused` where the method does not serve.
    """
    conventions = conventions or Conventions()
    hands = UnsteadyHands(count, seed, scale, conventions.drafter)
    draft = _draw(figure, method_named(type(figure), method), hand or hands, slip, conventions)
    return Lanes(draft, hands.made)


def spots_of(draft: Draft) -> dict[str, Array]:
    """The places of a draft's spots, lanes and all."""
    return {name: spot.at for name, spot in draft.spots.items()}


def run_hands(
    figure: Figure,
    method: str | None = None,
    count: int = 1000,
    seed: int | None = 0,
    conventions: Conventions | None = None,
    scale: float = 1.0,
) -> HandsResult:
    """Run a method for ``count`` unsteady hands at once, on a sheet at ``scale``. Raises :class:`Refused` for a count out of bounds."""
    if not 2 <= count <= MOST_HANDS:
        raise Refused(
            "hands",
            f"{count} hands were asked for; hands goes from 2 to {MOST_HANDS}. {'Raise' if count < 2 else 'Lower'} hands.",
        )
    chosen = method_named(type(figure), method)
    tally = _Tally({value.name: value.unit for value in figure.values(chosen.id)})
    for k, begin in enumerate(range(0, count, AT_ONCE)):
        own = seed if k == 0 or seed is None else (seed, k)
        tally.add(figure, chosen, lanes_of(figure, chosen.id, min(AT_ONCE, count - begin), own, conventions, scale))
    scatters = tally.scatters(scale)
    return HandsResult(count, tally.missed, scatters[: tally.points], scatters[tally.points :], tally.steps, scale)


def _off_nominal(at: Array, count: int) -> Array:
    """How far each hand's value lies from the steady hand's; shape (hands, axes)."""
    if at.ndim == 1:  # never touched by any error
        return np.zeros((count, at.shape[-1]))
    return np.asarray(at[1:] - at[0])


class _Tally:
    """Hands counted up, so many at once: how far each quantity strays, and from which setting, by the share of variance that its error explains.

    Where there are more than are drawn at once, what 95 in 100 stay within is the mean of what the parts tell of it.
    """

    def __init__(self, units: Mapping[str, str]) -> None:
        self.units, self.missed, self.points, self.good = units, 0, 0, 0
        self.steps: list[Step] = []
        self.named: list[tuple[str, str]] = []
        self.widths: list[int] = []
        self.labels: list[tuple[str, int]] = []
        self.groups = np.zeros(0, dtype=np.int64)
        self._sums: list[Array] = []

    def add(self, figure: Figure, method: Method, lanes: Lanes) -> None:
        """Count some hands."""
        draft, count = lanes.draft, _lanes_drawn(lanes)
        with np.errstate(invalid="ignore", divide="ignore"):
            found = found_of(draft, method)
            measured = figure.measure(found)
        offs = {(name, "mm"): _off_nominal(at, count) for name, at in found.items()}
        self.points = len(offs)
        kept = [(name, value) for name, value in measured.items() if np.ndim(value) == 1 and name in self.units]
        values = [
            (name, self.units[name], _off_nominal(np.asarray(value, dtype=float)[..., None], count)) for name, value in kept
        ]
        every = [(name, unit, off) for (name, unit), off in offs.items()] + values
        self.named, self.steps = [(name, unit) for name, unit, _ in every], draft.steps
        good = np.ones(count, dtype=bool)
        for _, _, off in every:
            good &= np.isfinite(off).all(axis=-1)
        self.missed += int((~good).sum())
        if good.any() and every:
            self.widths = [off.shape[1] for _, _, off in every]
            self._count(np.concatenate([off[good] for _, _, off in every], axis=1), self._errors(lanes.made, good))

    def _errors(self, made: Sequence[Deviation], good: Any) -> Array:
        """The good hands' errors in their own deviations, (hands, errors), and which setting each belongs to."""
        columns, labels = [np.zeros((int(np.sum(good)), 0))], []
        for stray in made:
            columns.append(stray.by.reshape(len(stray.by), -1)[1:][good] / stray.sd)
            labels += [(stray.tolerance.id, stray.step)] * columns[-1].shape[1]
        self.labels = list(dict.fromkeys(labels))
        place = {label: k for k, label in enumerate(self.labels)}
        self.groups = np.array([place[label] for label in labels], dtype=np.int64)
        return np.concatenate(columns, axis=1)

    def _count(self, off: Array, errors: Array) -> None:
        starts, squares = self._starts, off * off
        limits = np.quantile(np.sqrt(np.add.reduceat(squares, starts, axis=1)), 0.95, axis=0)
        sums = [squares.sum(axis=0), off.sum(axis=0), errors.T @ off, limits * len(off)]
        self._sums = [one + more for one, more in zip(self._sums, sums)] if self._sums else sums
        self.good += len(off)

    @property
    def _starts(self) -> NDArray[np.int64]:
        return np.cumsum([0, *self.widths[:-1]])

    def scatters(self, scale: float) -> list[Scatter]:
        """The scatter of each quantity."""
        if not self._sums:
            nothing = float("nan")
            return [Scatter(name, unit, nothing, nothing, nothing, "no hand finishes", 0, 0.0) for name, unit in self.named]
        squares, off, products, limits = (one / self.good for one in self._sums)
        variances = np.add.reduceat(squares, self._starts)
        biases = np.sqrt(np.add.reduceat(off**2, self._starts))
        explained = np.add.reduceat(products**2, self._starts, axis=1) if self.labels else None
        steps, made = {step.n: step for step in self.steps}, []
        for k, (name, unit) in enumerate(self.named):
            sd, cause = float(np.sqrt(variances[k] / self.widths[k])), ("nothing: it is where the work starts", 0, 0.0)
            if explained is not None and variances[k] > 1e-24:
                cause = self._cause(explained[:, k], float(variances[k]), steps, scale)
            made.append(Scatter(name, unit, sd, float(limits[k]), float(biases[k]), *cause))
        return made

    def _cause(self, explained: Array, variance: float, steps: Mapping[int, Step], scale: float) -> tuple[str, int, float]:
        """The setting that explains most, its step, and its share of the variance."""
        shares = np.bincount(self.groups, weights=explained)
        most = int(np.argmax(shares))
        tolerance, n = self.labels[most]
        step = steps.get(n)
        at = f" at {step.setting(scale=scale)}" if step and step.settings else ""
        return f"{tolerance}{at}, step {n}", n, min(float(shares[most]) / variance, 1.0)


def _lanes_drawn(lanes: Lanes) -> int:
    """How many hands were drawn at once."""
    hand = lanes.draft.hand
    return int(hand.lanes[0]) - 1 if isinstance(hand, UnsteadyHands) else 0


def run_slips(
    figure: Figure, method: str | None = None, conventions: Conventions | None = None, usual: bool = False
) -> list[tuple[ChoicePoint, Run | Refused]]:
    """A run with each slip that the method tells, and with ``usual`` those of its moves; a refusal where one leaves the hand without a
    crossing."""
    results: list[tuple[ChoicePoint, Run | Refused]] = []
    made = run(figure, method, conventions)
    for choice in made.slips if usual else made.choices:
        try:
            results.append((choice, run(figure, method, conventions, choice.id)))
        except Refused as refusal:
            results.append((choice, refusal))
    return results
