"""What to measure: a few sizes that together see the most steps, and the one more that would tell explanations
apart."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from itertools import combinations
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import Explanation, Judge, Verdict
from wise_compass.study.looked import touched
from wise_compass.study.measures import INSTRUMENTS, Measurable, Taken, exactly, points_of, scalar_values

MOST = 6
"""How many measurements are proposed."""
MOST_POINTS = 16
OUT = (4.0, 2.0, 1.0)
"""Deviations of the joint scatter that a push of ten of an error's own makes, for the step to be seen; less where that
sees none."""
TELLS = 3.0
"""Deviations by which two explanations differ in a measure that tells them apart."""
SHORTEST = 8.0
"""mm on the paper that are worth measuring."""
FEW = 24
"""Points of a result that are looked at for one more distance."""


class Proposed(NamedTuple):
    """A measurement worth taking: what it is on an exact drawing, the steps that it sees beyond those before it, and
    the points of the result that it is taken for."""

    measure: Measurable
    exact: float
    sees: tuple[int, ...]
    reaches: tuple[str, ...] = ()

    @property
    def for_what(self) -> str:
        """What it tells of, in a few words."""
        if self.sees:
            return f"sees step {', '.join(map(str, self.sees))}"
        return f"for {' and '.join(self.reaches)}" if self.reaches else ""


class Watch(NamedTuple):
    """What to measure, and the steps that nothing of it sees."""

    proposed: tuple[Proposed, ...]
    unseen: tuple[int, ...]


class Next(NamedTuple):
    """The one further measurement that would best tell what is left apart."""

    measure: str
    says: str


def candidates(judge: Judge, among: Collection[str] | None = None) -> list[Measurable]:
    """What a rule or a protractor could take of this drawing: distances of marked points, and angles that are values;
    with ``among``, the keys of points that are known, their distances alone."""
    run = judge.run
    keys = [
        key
        for key in dict.fromkeys(points_of(run).values())
        if run.spots[key].kind != "plain" and run.spots[key].at.ndim == 1 and run.spots[key].step > run.printed_steps
    ]
    if among is not None:
        keys = [key for key in keys if key in among]
    if len(keys) > MOST_POINTS:  # spread over them all, as they were found
        keys = [keys[k] for k in sorted({round(k * (len(keys) - 1) / (MOST_POINTS - 1)) for k in range(MOST_POINTS)})]
    both = [(a, b) for a, b in combinations(keys, 2) if _same_view(a, b)]
    both += _from_given(run, keys)
    told = _told(run)
    if among is not None:
        told = [pair for pair in told if set(pair) <= set(among)]
    both += [pair for pair in told if pair not in both and pair[::-1] not in both]
    pairs = [Measurable(f"{a}-{b}", "mm", (a, b)) for a, b in both]
    angles = (
        []
        if among is not None
        else [Measurable(name, unit) for name, unit in scalar_values(run).items() if unit == "°"]
    )
    sizes = exactly(run, pairs, judge.scale) if pairs else np.zeros(0)
    return [pair for pair, size in zip(pairs, sizes) if size > SHORTEST] + angles


def _from_given(run: Run, keys: Sequence[str]) -> list[tuple[str, str]]:
    """Corners of a view that was found, from the same in a view that stood on the paper: a view that is turned about
    has all its own distances right."""
    found = []
    for key in keys if run.printed_steps else ():
        corner, _, view = key.partition(" ")
        other = f"{corner} front"
        if view and other in run.spots and run.spots[other].kind != "plain":
            found.append((other, key))
    return found


def _told(run: Run) -> list[tuple[str, str]]:
    """Pairs of points whose distance is a value of the figure."""
    known = points_of(run)
    return [
        (known[value.marks[0]], known[value.marks[1]])
        for value in run.values
        if value.unit == "mm" and len(value.marks) == 2 and all(mark in known for mark in value.marks)
    ]


def _same_view(a: str, b: str) -> bool:
    return a.partition(".")[2] == b.partition(".")[2]


class _Table(NamedTuple):
    """All candidates at once: their scatter, the influence of every error on each, and the errors' steps."""

    measures: list[Measurable]
    mean: Array
    cover: Array
    move: Array
    steps: Array


def _table(judge: Judge, instrument: str, among: Collection[str] | None = None) -> _Table:
    measures = candidates(judge, among)
    by = INSTRUMENTS[instrument]
    sds = np.array([by.length if one.unit == "mm" else by.angle for one in measures])
    honest = judge.honest(measures, sds)
    move, steps = judge.influence(measures)
    return _Table(measures, honest.mean, honest.cover, move, steps)


def _seen(table: _Table, chosen: Sequence[int], out: float) -> set[int]:
    """The steps that measures see together: a push of ten deviations stands ``out`` of them out of the joint
    scatter."""
    if not chosen:
        return set()
    k = list(chosen)
    weigh = np.linalg.inv(table.cover[np.ix_(k, k)])
    move = table.move[:, k]
    power = ((move @ weigh) * move).sum(axis=1)
    return set(table.steps[100.0 * power >= out**2].tolist())


def what_to_measure(
    judge: Judge, instrument: str = "rule", most: int = MOST, among: Collection[str] | None = None, least: int = 0
) -> Watch:
    """Greedy set cover: a short list, chosen one after another so that each sees the most steps not yet seen; of equals
    the longest first.

    ``least`` are wanted at any rate, the longest besides, though they may see nothing more.
    """
    watch = Watch((), ())
    if not candidates(judge, among):  # nothing that has a name can be measured
        return watch
    table = _table(judge, instrument, among)
    for out in OUT:  # where every step is one of many and none is seen clearly, what is seen at all
        watch = _watch(judge, table, most, out, least)
        if watch.proposed:
            break
    if among is None:  # where points are looked for on a photograph, all that were found are brought in by it
        further = _of_results(judge, [one.measure for one in watch.proposed], most - len(watch.proposed))
        ordered = sorted((*watch.proposed, *further), key=lambda one: (one.measure.unit != "mm", -one.exact))
        watch = watch._replace(proposed=tuple(ordered))
    return watch


def _watch(judge: Judge, table: _Table, most: int, out: float, least: int) -> Watch:
    exact = exactly(judge.run, table.measures, judge.scale) if table.measures else np.zeros(0)
    chosen: list[int] = []
    proposed: list[Proposed] = []
    seen: set[int] = set()
    alone = np.sqrt(np.maximum(np.diag(table.cover), 1e-12)) if table.measures else np.zeros(0)
    loud = (
        100.0 * (table.move / np.where(alone, alone, 1.0)) ** 2 >= out**2 / 4
        if table.measures
        else np.zeros((0, 0), dtype=bool)
    )
    by_itself = [set(table.steps[heard].tolist()) for heard in loud.T]
    while len(chosen) < most:
        gains = {k: len(sees - seen) for k, sees in enumerate(by_itself) if k not in chosen}
        short = sorted(gains, key=lambda k: (-gains[k], -exact[k] if table.measures[k].unit == "mm" else 0.0))[:12]
        best, most_seen = -1, seen
        for k in short:
            together = _seen(table, [*chosen, k], out)
            if len(together) > len(most_seen):
                best, most_seen = k, together
        if best < 0:
            break
        proposed.append(Proposed(table.measures[best], float(exact[best]), tuple(sorted(most_seen - seen))))
        chosen.append(best)
        seen = most_seen
    longest = sorted(
        (k for k in range(len(exact)) if k not in chosen and table.measures[k].unit == "mm"), key=lambda k: -exact[k]
    )
    proposed += [Proposed(table.measures[k], float(exact[k]), ()) for k in longest[: max(least - len(proposed), 0)]]
    proposed.sort(key=lambda one: (one.measure.unit != "mm", -one.exact))
    drawn = {step.n for step in judge.run.steps if step.n > judge.run.printed_steps}
    return Watch(tuple(proposed), tuple(sorted(drawn - seen)))


def _of_results(judge: Judge, have: Sequence[Measurable], most: int) -> list[Proposed]:
    """The longest distances that bring in points of the result which no measure touches yet, two at a time where that
    can be."""
    run = judge.run
    made: list[Proposed] = []
    left = [name for name in judge.results if name not in touched(run, have)]
    known = [name for name in judge.results if run.spots[name].at.ndim == 1] or left
    at = {name: run.spots[name].here * judge.scale for name in known}
    while left and len(made) < most:
        both = [
            (other in left, float(np.hypot(*(at[one] - at[other]))), one, other)
            for one in left[:FEW]
            for other in known
            if one != other and _same_view(one, other)
        ]
        both = [pair for pair in both if pair[1] > SHORTEST]
        if not both:
            break
        _, size, one, other = max(both, key=lambda pair: (pair[0], round(pair[1], 6)))
        reaches = tuple(name for name in (one, other) if name in left)
        made.append(Proposed(Measurable(f"{one}-{other}", "mm", (one, other)), size, (), reaches))
        left = [name for name in left if name not in reaches]
    return made


def next_measure(judge: Judge, taken: Sequence[Taken], verdict: Verdict, instrument: str = "rule") -> Next | None:
    """The one further measurement that would best tell the explanations that are left apart; None where none would."""
    if verdict.print_first:
        return Next("the bar of 100 mm", "measure the bar of 100 mm on the print: it tells a print out of scale apart")
    left = [one for one in verdict.explanations if one.weight > 0.03][:4]
    if len(left) < 2 or not candidates(judge):  # of a drawing that small nothing else can be measured
        return None
    told = {one.measure.points or one.measure.name for one in taken}
    table = _table(judge, instrument)
    fresh = [k for k, one in enumerate(table.measures) if (one.points or one.name) not in told]
    if not fresh:
        return None
    means = [mean if (mean := _mean_under(judge, table, one)) is not None else table.mean for one in left]
    sd = np.sqrt(np.diag(table.cover))
    best, most, pair = -1, TELLS, (0, 1)
    for i, j in combinations(range(len(left)), 2):
        apart = np.abs(means[i] - means[j]) / sd
        k = max(fresh, key=lambda k: float(apart[k]))
        if apart[k] > most:
            best, most, pair = k, float(apart[k]), (i, j)
            break
    if best < 0:
        return None
    one, other = (_short(left[k]) for k in pair)
    return Next(table.measures[best].name, f"measure {table.measures[best].name}: it tells {one} from {other}")


def _mean_under(judge: Judge, table: _Table, one: Explanation) -> Array | None:
    """What the candidates would come to, had this made the drawing."""
    if one.kind == "step" and one.off is not None:
        shift = judge.under([one], table.measures)[0]
        return shift if np.isfinite(shift).all() else None
    if one.kind == "scale" and one.off is not None:
        lengths = np.array([measure.unit == "mm" for measure in table.measures])
        return np.asarray(table.mean * np.where(lengths, 1.0 + one.off, 1.0))
    if one.kind == "slip" and one.id in judge.slips:
        try:
            return judge.with_slip(one.id, table.measures)
        except (KeyError, Refused):
            return None
    return table.mean


def _short(one: Explanation) -> str:
    if one.kind == "step":
        return f"step {one.step}"
    return {"honest": "a steady hand", "scale": "the print's scale", "other": "something else"}.get(
        one.kind, f"the slip {one.id}"
    )
