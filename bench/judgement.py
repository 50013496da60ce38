"""How good the judgement is: simulated drawings, honest, with a slip and with one setting far off by any size,
measured as proposed.

``PYTHONPATH=src .venv/bin/python -m bench.judgement [share]``; a share of 0.1 draws a tenth of them.
"""

from __future__ import annotations

import json
import sys
from collections import Counter
from typing import Any

import numpy as np

from wise_compass.drafting.instruments import ErringHands, errors_of
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, lanes_of, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.study.blunders import SETTINGS
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Taken
from wise_compass.study.watch import what_to_measure

SEEN = 49.0
"""Squared deviations of the joint scatter from which measures see a blunder: seven at once, where an honest hand comes
to four."""


class Table:
    """One method on trial: the judge, what it proposes to measure, and drawings simulated with fresh hands."""

    def __init__(self, made: Run, draw: np.random.Generator, tally: Counter[str]) -> None:
        self.made, self.draw, self.tally = made, draw, tally
        self.judge = Judge(made)
        watch = what_to_measure(self.judge)
        self.measures = [one.measure for one in watch.proposed]
        self.watched = {n for one in watch.proposed for n in one.sees}
        self.sds = np.array([0.2 if one.unit == "mm" else 0.4 for one in self.measures])

    def drawings(self, count: int, slip: str | None = None, hand: ErringHands | None = None) -> list[list[Taken]]:
        """What drawings come to, with the error of measuring; those that no hand could finish are left out."""
        seed = int(self.draw.integers(1 << 30))
        try:
            lanes = lanes_of(self.made.figure, self.made.method.id, count, seed, None, 1.0, slip, hand)
        except Refused:
            return []
        sizes = self.judge.table_of(lanes, self.measures)[1:]
        return [
            [Taken(one, float(self.draw.normal(size, sd)), sd) for one, size, sd in zip(self.measures, row, self.sds)]
            for row in sizes
            if np.isfinite(row).all()
        ]

    def honest(self, count: int) -> None:
        for taken in self.drawings(count):
            self.tally[f"honest {self.judge.judge(taken).verdict}"] += 1

    def slips(self, count: int) -> None:
        honest = self.judge.honest(self.measures, self.sds)
        weigh = np.linalg.inv(honest.cover)
        for id, _, sample in self.judge._slip_samples(self.measures, self.sds, honest):
            off = sample.mean - honest.mean
            # as of a setting: what it does stands so many deviations out of the joint scatter, or nobody could see it
            seen = float(off @ weigh @ off) >= 16.0
            for taken in self.drawings(count, id):
                verdict = self.judge.judge(taken)
                right = verdict.verdict == "slip" and verdict.best.id == id
                # two slips that leave the same mark are both named, as it should be
                named = [one for one in verdict.explanations if one.weight > 0.05]
                both = all(one.kind == "slip" for one in named) and id in [one.id for one in named]
                told = "right" if right else "right, among alike" if both else verdict.verdict
                self.tally[f"slip{'' if seen else ' hardly seen'} {told}"] += 1
                if seen and not right:
                    best = [(one.kind, one.id or one.step, round(one.weight, 2)) for one in verdict.explanations[:3]]
                    print(f"{self.made.figure.id} {self.made.method.id} {id}: {best}", file=sys.stderr)

    def blunders(self, count: int) -> None:
        labels = [one for one in self.judge.strays[1] if one.tolerance in SETTINGS]
        honest = self.judge.honest(self.measures, self.sds)
        weigh = np.linalg.inv(honest.cover)
        for _ in range(count if labels else 0):
            k = int(self.draw.integers(len(labels)))
            step, number = labels[k].step, labels[k].number
            times = float(np.exp(self.draw.uniform(np.log(8), np.log(200)))) * (1 if self.draw.integers(2) else -1)
            made = lanes_of(self.made.figure, self.made.method.id, 1, int(self.draw.integers(1 << 30)), None, 1.0).made
            hand = ErringHands(2, {**errors_of(made), number: (0.0, times * made[number // 2].sd)})
            for taken in self.drawings(1, hand=hand):
                off = np.array([one.value for one in taken]) - honest.mean
                if float(off @ weigh @ off) < SEEN:
                    self.tally["blunder unseen"] += 1
                    continue
                verdict = self.judge.judge(taken)
                if step in verdict.alike:
                    self.tally["blunder right" if len(verdict.alike) == 1 else "blunder right, among alike"] += 1
                else:
                    self.tally[f"blunder {verdict.verdict}{', another' if verdict.verdict == 'step' else ''}"] += 1


def main(share: float = 1.0, every: int = 1) -> dict[str, Any]:
    """Judge simulated drawings over the whole catalogue, or over ``every`` so manieth method of it."""
    draw = np.random.default_rng(20261125)
    tally: Counter[str] = Counter()
    seen = {}
    served = [(kind, one) for kind in catalogue().values() for one in kind.methods.values() if one.fits(kind()) is None]
    for kind, method in served[::every]:
        table = Table(run(kind(), method.id), draw, tally)
        if table.measures:
            count = max(1, round(10 * share))
            table.honest(count)
            table.slips(max(1, round(3 * share)))
            table.blunders(count)
        seen[f"{kind.id} {method.id}"] = [len(table.watched), len(table.made.steps)]
    return {"tally": dict(sorted(tally.items())), "steps seen": seen}


if __name__ == "__main__":
    print(json.dumps(main(float(sys.argv[1]) if len(sys.argv) > 1 else 1.0), indent=1))
