"""Was it the hand, a slip or a blunder? What a drafter measured, held against what hands, slips and single wrong
settings make.

Every explanation is a normal distribution of the very measures that were taken, found from simulated hands, and weighed
by likelihood and prior (Bayes): a steady hand's mean and joint covariance, each slip's own, a single setting far off
(``blunders.py``: any size of it is run and weighed, ``pushes.py``, with what people make of a number, ``misreads.py``),
a print out of scale, and anything else. ``looked.py`` tells what was not measured, ``measures.py``
reads what was measured, ``watch.py`` chooses what to measure and what next, ``verdicts.py`` puts it into words.
``study/edges.py`` is the same thought for three points that should lie in a line. ``python -m bench.judgement``
simulates drawings over the whole catalogue and counts what comes of them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.instruments import ErringHands, SteadyHand
from wise_compass.drafting.marks import Role
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Error, Lanes, Run, found_of, lanes_of, measured_of, spots_of
from wise_compass.drafting.wording import bare
from wise_compass.geometry.vectors import Array
from wise_compass.study.blunders import SEEN, blunder_says, blunders
from wise_compass.study.elsewhere import STEADY, runs_elsewhere, samples_elsewhere, share_elsewhere
from wise_compass.study.inlane import in_lane
from wise_compass.study.looked import results, slip_step
from wise_compass.study.measures import Measurable, Taken, exactly
from wise_compass.study.misreads import Misread, misreads
from wise_compass.study.pushes import Metric
from wise_compass.study.samples import Sample, log_of, log_of_any_hand, regression, sample_of

HANDS = 600
PRIORS = {"honest": 0.70, "slip": 0.145, "step": 0.15, "scale": 0.005, "other": 0.001}
"""How likely each kind is held to be before anything is measured; slips and steps share theirs."""
STRETCH = 0.03
"""One standard deviation of the ratio in which a print may be out of scale."""
WILD = 20.0
"""How many times a steady hand's scatter a drawing has of which nothing else that is known could be said."""
SURE, FAINT = 0.5, 0.01
"""The weight over which an explanation is said, and under which it is not worth a word."""
PLAIN_BLUNDER = 50.0
"""Deviations of a plain blunder: some 7 mm of an opening. A step at which none would show was not looked at."""
FURTHEST = 4000
"""Hands that tell how far out the furthest of several measures is."""
BOTH = 0.2
"""The weight from which a print out of scale is named beside a setting that leaves the same mark, and the other way."""
ALIKE = 0.98
"""The cosine, in the scatter's own measure, from which two explanations leave the same mark."""


class Explanation(NamedTuple):
    """What may have made the drawing. ``off`` is by how much a setting was wrong, in its unit; ``draw`` the error it
    came by; ``misread`` what a person may have made of the number, where that is likelier than any other size."""

    kind: str
    id: str | None
    step: int | None
    says: str
    weight: float
    off: float | None = None
    draw: int = -1
    misread: str = ""


class Held(NamedTuple):
    """One measurement held against a steady hand: its exact size, one standard deviation of both, the share of hands
    as far out in it, and the share of hands as far out in any of the measures taken."""

    name: str
    unit: str
    exact: float
    measured: float
    sd: float
    share: float
    among: float


class Verdict(NamedTuple):
    """What is held of the drawing: the verdict, its explanations best first, and each measurement.

    ``alike`` are the steps that leave the same mark as the best; ``unseen`` those at which a plain blunder would not
    show in what was measured. ``print_first`` tells that a setting and the print's own scale leave the same mark.
    """

    verdict: str
    explanations: tuple[Explanation, ...]
    measured: tuple[Held, ...]
    alike: tuple[int, ...] = ()
    unseen: tuple[int, ...] = ()
    print_first: bool = False

    @property
    def best(self) -> Explanation:
        return self.explanations[0]


FEWER = 200
"""Hands that slip with a move in a way that is usual for it."""


class _Candidate(NamedTuple):
    """What may have made a drawing, weighed by Bayes's rule: how likely it is beforehand, and the log-likelihood of
    what was measured under it."""

    kind: str
    says: str
    prior: float
    likelihood: float
    id: str | None = None
    step: int | None = None
    off: float | None = None
    draw: int = -1
    misread: str = ""


def unheard(done: int, whole: int) -> None:
    """Nobody asks how far the work is."""


class Judge:
    """Everything that is known of a run before it is measured: hands, their errors, and what the slips make."""

    def __init__(self, run: Run, scale: float = 1.0, count: int = HANDS) -> None:
        self.run, self.scale, self.count = run, scale, count
        self._told: dict[str, str] = {}
        self.hear: Callable[[int, int], None] = unheard
        """Told before each slip is drawn, how many are done of how many; what it raises stops the work."""

    @cached_property
    def results(self) -> list[str]:
        """The points of the result, by their keys."""
        return results(self.run)

    @cached_property
    def lanes(self) -> Lanes:
        return self._drawn_by(self.count, 0)

    def _drawn_by(self, count: int, seed: int, slip: str | None = None, hand: SteadyHand | None = None) -> Lanes:
        """The run drawn again by so many hands, with a slip or by a hand of one's own."""
        made = self.run
        return lanes_of(made.figure, made.method, count, seed, made.conventions, self.scale, slip, hand)

    @cached_property
    def strays(self) -> tuple[Array, list[Error]]:
        """Every error of the hands, a column each, and what each is."""
        return self.lanes.errors()

    def sizes(self, lanes: Lanes, measures: Sequence[Measurable]) -> Array:
        """The measures of every hand, on the paper, (hands, m); lane 0 is not among them."""
        return self.table_of(lanes, measures)[1:]

    def table_of(self, lanes: Lanes, measures: Sequence[Measurable]) -> Array:
        with np.errstate(invalid="ignore", divide="ignore"):
            found = found_of(lanes.draft, self.run.method)
            values: Mapping[str, Any] = (
                measured_of(self.run.figure, self.run.method, found) if any(not one.points for one in measures) else {}
            )
            count = (lanes.draft.hand.lanes or (2,))[0]
            return np.stack([np.broadcast_to(one.of(found, values, self.scale), (count,)) for one in measures], axis=1)

    @cached_property
    def slips(self) -> dict[str, tuple[str, Lanes]]:
        """The hands of each slip that a hand could finish with it; of a move's usual slips fewer, since there are more
        of them."""
        made = {}
        own = {choice.id for choice in self.run.choices}
        for k, choice in enumerate(self.run.slips):
            self.hear(k, len(self.run.slips))
            count = self.count if choice.id in own else min(self.count, FEWER)
            try:
                lanes = self._drawn_by(count, 1, choice.id)
            except NoMeet:
                continue
            made[choice.id] = choice.says, lanes
        return made

    @cached_property
    def elsewhere(self) -> dict[str, tuple[str, Run]]:
        return runs_elsewhere(self.run)

    # the distributions

    def honest(self, measures: Sequence[Measurable], sds: Array) -> Sample:
        """The scatter of steady hands; raises :class:`Refused` where too few of them come to the end of the figure."""
        sample = sample_of(self.sizes(self.lanes, measures), sds)
        if sample is None:
            raise Refused(
                "scale",
                "On the paper this figure is so small that hardly a hand comes to its end: "
                "nothing can be told of one. Take a larger scale.",
            )
        return sample

    def influence(self, measures: Sequence[Measurable]) -> tuple[Array, Array]:
        """Linear regression of the measures on the hands' errors: how much each error, by one of its deviations, moves
        each measure, (errors, m); and the number of each error's step."""
        sizes = self.sizes(self.lanes, measures)
        good = np.isfinite(sizes).all(axis=1)
        matrix, labels = self.strays
        return regression(matrix[good], sizes[good]), np.array([label[0] for label in labels])

    def judge(self, taken: Sequence[Taken], cover: Array | None = None) -> Verdict:
        """The verdict on what was measured; raises :class:`Refused` where nothing was. ``cover`` is the covariance of
        the measuring, where its errors are not each for itself."""
        if not taken:
            raise Refused("measured", "Nothing is measured yet; tell one measurement at least, such as AB=71.4.")
        measures = [one.measure for one in taken]
        sds = np.array([one.sd for one in taken]) if cover is None else cover
        seen = np.array([one.value for one in taken])
        honest = self.honest(measures, sds)
        metric = Metric(honest.cover)
        found = [_Candidate("honest", "a steady hand", PRIORS["honest"], log_of_any_hand(honest, sds, seen))]
        slips = self._slip_samples(measures, sds, honest)
        for id, says, sample in slips:
            found.append(_Candidate("slip", says, PRIORS["slip"] / len(slips), log_of(sample, seen), id))
        further: list[tuple[str, str, Sample]] = []
        if metric.form(seen - honest.mean, seen - honest.mean) >= STEADY:
            further = samples_elsewhere(self.elsewhere, measures, self.scale, honest)
        for id, says, sample in further:
            prior = PRIORS["slip"] * share_elsewhere(id, self.run, len(further))
            found.append(_Candidate("slip", says, prior, log_of(sample, seen), id))
        move, steps = self.influence(measures)
        found += self._blunders(measures, move, seen, metric, honest.mean)
        lengths = np.array([one.unit == "mm" for one in measures])
        if lengths.sum() > 1:
            found.append(_out_of_scale(honest, lengths, seen))
        wild = Sample(honest.mean, honest.cover * WILD**2)
        says = "more than one thing, or a measure of something else"
        found.append(_Candidate("other", says, PRIORS["other"], log_of(wild, seen)))
        logs = np.array([np.log(one.prior) + one.likelihood for one in found])
        weights = np.exp(logs - logs.max())
        weights /= weights.sum()
        explanations = sorted(
            (
                Explanation(
                    one.kind,
                    one.id,
                    one.step,
                    self._says(one, float(weight)),
                    float(weight),
                    one.off,
                    one.draw,
                    one.misread,
                )
                for one, weight in zip(found, weights)
            ),
            key=lambda one: -one.weight,
        )
        far = np.sqrt(np.maximum(metric.form(move, move), 0.0)) * PLAIN_BLUNDER
        seen_steps = {int(n) for n, one in zip(steps, far) if one >= SEEN}
        held = self._held(taken, honest, exactly(self.run, measures, self.scale))
        unseen = tuple(sorted({int(n) for n in steps} - seen_steps))
        return self._verdict(tuple(explanations), held, measures, honest, metric, unseen)

    def _blunders(
        self, measures: Sequence[Measurable], move: Array, seen: Array, metric: Metric, mean: Array
    ) -> list[_Candidate]:
        """Every step that the measures see, as the one whose setting was far off."""
        _, errors = self.strays

        def run(told: dict[int, Array]) -> Array:
            return self.table_of(self._erring(told), measures)[1:]

        found = blunders(errors, self._misreads, move, run, seen, metric, mean)
        return [
            _Candidate(
                "step",
                blunder_says(self.run, errors, one, self.scale),
                PRIORS["step"] / len(found),
                one.log,
                step=one.step,
                off=one.off,
                draw=one.error,
                misread=one.misread,
            )
            for one in found
        ]

    @cached_property
    def _misreads(self) -> list[Misread]:
        return misreads(self.run.steps, self.strays[1], self.scale)

    def _erring(self, told: Mapping[int, Array]) -> Lanes:
        """Hands whose errors are told by their numbers, each an array of all lanes; lane 0 is the steady one."""
        hand = ErringHands(len(next(iter(told.values()))), told)
        return self._drawn_by(1, 0, hand=hand)

    def under(self, explanations: Sequence[Explanation], measures: Sequence[Measurable]) -> Array:
        """What each of some blunders makes of measures, (explanations, m)."""
        told: dict[int, Array] = {}
        for lane, one in enumerate(explanations, 1):
            number = self.strays[1][one.draw].number
            told.setdefault(number, np.zeros(1 + len(explanations)))[lane] = one.off or 0.0
        return self.table_of(self._erring(told), measures)[1:] if told else np.zeros((0, len(measures)))

    def _held(self, taken: Sequence[Taken], honest: Sample, exact: Array) -> tuple[Held, ...]:
        """Each measurement against steady hands, by itself and among all that were measured."""
        sd = np.sqrt(np.diag(honest.cover))
        out = np.abs(np.array([one.value for one in taken]) - honest.mean) / sd
        # the furthest of several measures is out more often than one: the distribution of the largest, by hands drawn
        draw = np.random.default_rng(5).standard_normal((FURTHEST, len(taken)))
        drawn = draw @ np.linalg.cholesky(honest.cover / np.outer(sd, sd) + 1e-9 * np.eye(len(taken))).T
        furthest = np.sort(np.abs(drawn).max(axis=1))
        return tuple(
            Held(
                one.measure.name,
                one.measure.unit,
                float(exact[k]),
                one.value,
                float(sd[k]),
                math.erfc(float(out[k]) / math.sqrt(2.0)),
                float(1.0 - np.searchsorted(furthest, out[k]) / FURTHEST)
                if len(taken) > 1
                else math.erfc(float(out[k]) / math.sqrt(2.0)),
            )
            for k, one in enumerate(taken)
        )

    def _says(self, one: _Candidate, weight: float) -> str:
        """An explanation in words; a slip that is worth a word with the step at which it shows."""
        if one.kind != "slip" or one.id is None or weight < FAINT or not isinstance(self.run, Run):
            return one.says
        if one.id not in self._told:
            n, sizes = slip_step(self.run, one.id) if self.scale == 1 else (slip_step(self.run, one.id)[0], "")
            told = f"{one.says.rstrip('.')}: {sizes}." if sizes else one.says
            self._told[one.id] = f"step {n}: {told[:1].lower()}{told[1:]}" if n else told
        return self._told[one.id]

    def with_slip(self, id: str, measures: Sequence[Measurable]) -> Array:
        """What hands measure at the mean that slip so; raises :class:`KeyError` or :class:`Refused` where they
        cannot."""
        if id in self.elsewhere:
            return exactly(self.elsewhere[id][1], measures, self.scale)
        return np.asarray(np.nanmean(self.sizes(self.slips[id][1], measures), axis=0))

    def _slip_samples(
        self, measures: Sequence[Measurable], sds: Array, honest: Sample
    ) -> list[tuple[str, str, Sample]]:
        """Each slip that leaves a mark on these measures and that most hands could finish."""
        made = []
        weigh = np.linalg.inv(honest.cover)
        for id, (says, lanes) in self.slips.items():
            try:
                sample = sample_of(self.sizes(lanes, measures), sds)
            except (KeyError, Refused):
                continue
            if sample is not None:
                off = sample.mean - honest.mean
                if float(off @ weigh @ off) > 4.0:
                    made.append((id, says, sample))
        return made

    def _verdict(
        self,
        explanations: tuple[Explanation, ...],
        held: tuple[Held, ...],
        measures: Sequence[Measurable],
        honest: Sample,
        metric: Metric,
        unseen: tuple[int, ...],
    ) -> Verdict:
        best = explanations[0]
        if best.kind not in ("step", "scale"):
            sure = best.weight > SURE and best.kind != "other"
            return Verdict(best.kind if sure else "unclear", explanations, held, unseen=unseen)
        left = [one for one in explanations if one.kind == "step" and one.weight > FAINT]
        shifts = dict(zip(left, self.under(left, measures) - honest.mean))
        for one in explanations:
            if one.kind == "scale" and one.weight > FAINT and one.off is not None:
                shifts[one] = np.array([m.unit == "mm" for m in measures]) * honest.mean * one.off
        mine = shifts[best]
        alike = [
            one
            for one, shift in shifts.items()
            if abs(metric.form(shift, mine)) > ALIKE * np.sqrt(metric.form(shift, shift) * metric.form(mine, mine))
        ]
        total = sum(one.weight for one in alike)
        prints = sum(one.weight for one in alike if one.kind == "scale")
        steps = tuple(sorted(one.step for one in alike if one.step is not None and one.weight > FAINT))
        if total <= SURE:
            return Verdict("unclear", explanations, held, steps, unseen)
        both = min(prints, total - prints) > BOTH
        return Verdict(best.kind, explanations, held, steps if both or best.kind == "step" else (), unseen, both)

    # what it would look like

    def _draft(self, explanation: Explanation) -> tuple[Draft, int] | None:
        """A draft that an explanation would have drawn, and in which of its lanes."""
        if explanation.kind == "slip" and explanation.id in self.slips:
            return self.slips[explanation.id][1].draft, 0
        if explanation.kind == "slip":
            return self._drawn_by(1, 0, explanation.id, SteadyHand()).draft, 0
        if explanation.kind == "step" and explanation.off is not None:
            wrong = np.array([0.0, explanation.off])
            return self._erring({self.strays[1][explanation.draw].number: wrong}).draft, 1
        return None

    def as_drawn(self, explanation: Explanation) -> dict[str, Array] | None:
        """Every spot as the explanation would have drawn it; None for a steady hand and for the print's scale."""
        made = self._draft(explanation)
        if made is None:
            return None
        return {name: at if at.ndim == 1 else at[made[1]] for name, at in spots_of(made[0]).items()}

    def lines_drawn(self, explanation: Explanation) -> list[Array]:
        """What the explanation would have lined in, as polylines in figure mm."""
        made = self._draft(explanation)
        lines: list[Array] = []
        for mark in [mark for step in made[0].steps for mark in step.marks] if made else ():
            if mark.role is Role.OUTLINE:
                lines += in_lane(mark, made[1] if made else 0)
        return [line for line in lines if np.isfinite(line).all()]


def _out_of_scale(honest: Sample, lengths: Array, seen: Array) -> _Candidate:
    """A print on which all lengths are off in one ratio, estimated by generalized least squares."""
    stretch = np.where(lengths, honest.mean, 0.0)
    wide = Sample(honest.mean, honest.cover + STRETCH**2 * np.outer(stretch, stretch))
    weigh = np.linalg.inv(honest.cover)
    ratio = float(stretch @ weigh @ (seen - honest.mean)) / float(stretch @ weigh @ stretch)
    says = f"the print is out of scale: all lengths are {bare(round(100 * (1 + ratio), 1))} % of what they should be"
    return _Candidate("scale", says, PRIORS["scale"], log_of(wide, seen), off=ratio)
