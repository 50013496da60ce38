"""Many unsteady hands at a method: how far each point and value scatters, and which setting contributes most."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.drafting.figure import Figure, Method, method_for
from wise_compass.drafting.instruments import Deviation, UnsteadyHands
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Lanes, found_of, lanes_of, measured_of, values_of
from wise_compass.drafting.steps import Step
from wise_compass.geometry.vectors import Array

MOST_HANDS = 100_000
AT_ONCE = 2_500
"""Hands that are drawn at once: more would take more memory than a small machine has to spare."""


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


def run_hands(
    figure: Figure,
    method: str | Method | None = None,
    count: int = 1000,
    seed: int | None = 0,
    conventions: Conventions | None = None,
    scale: float = 1.0,
) -> HandsResult:
    """Run a method for ``count`` unsteady hands at once, on a sheet at ``scale``. Raises :class:`Refused` for a count
    out of bounds."""
    if not 2 <= count <= MOST_HANDS:
        raise Refused(
            "hands",
            f"{count} hands were asked for; hands goes from 2 to {MOST_HANDS}. "
            f"{'Raise' if count < 2 else 'Lower'} hands.",
        )
    chosen = method_for(figure, method)
    every = values_of(figure, chosen)  # places and lists of lengths are no single numbers
    tally = _Tally({value.name: value.unit for value in every if not isinstance(value.value, list)})
    for k, begin in enumerate(range(0, count, AT_ONCE)):
        own = seed if k == 0 or seed is None else (seed, k)
        tally.add(figure, chosen, lanes_of(figure, chosen, min(AT_ONCE, count - begin), own, conventions, scale))
    scatters = tally.scatters(scale)
    return HandsResult(count, tally.missed, scatters[: tally.points], scatters[tally.points :], tally.steps, scale)


def _off_nominal(at: Array, count: int) -> Array:
    """How far each hand's value lies from the steady hand's; shape (hands, axes)."""
    if at.ndim == 1:  # never touched by any error
        return np.zeros((count, at.shape[-1]))
    return np.asarray(at[1:] - at[0])


class _Tally:
    """Hands counted up, so many at once: how far each quantity strays, and from which setting, by the share of variance
    that its error explains.

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
            measured = measured_of(figure, method, found)
        offs = {(name, "mm"): _off_nominal(at, count) for name, at in found.items()}
        self.points = len(offs)
        kept = [(name, value) for name, value in measured.items() if np.ndim(value) == 1 and name in self.units]
        values = [
            (name, self.units[name], _off_nominal(np.asarray(value, dtype=float)[..., None], count))
            for name, value in kept
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
            return [
                Scatter(name, unit, nothing, nothing, nothing, "no hand finishes", 0, 0.0) for name, unit in self.named
            ]
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

    def _cause(
        self, explained: Array, variance: float, steps: Mapping[int, Step], scale: float
    ) -> tuple[str, int, float]:
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
