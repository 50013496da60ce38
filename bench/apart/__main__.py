"""The judge judged by hands of another make: ``PYTHONPATH=src:. .venv/bin/python -m bench.apart [DRAWINGS]``.

Each construction of :mod:`bench.apart.constructions` is drawn so many times honestly, so many times with one reading
off by 1 to 30 mm or degrees, and with one misread (ten more or less, the double, the half); measured as the product
proposes, with a rule of another scatter.
"""

from __future__ import annotations

import json
import sys
from collections import Counter
from collections.abc import Callable
from typing import Any

import numpy as np

from bench.apart.constructions import CONSTRUCTIONS
from bench.apart.hand import Blundered, Drawn, Hand
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Measurable, Taken
from wise_compass.study.verdicts import check
from wise_compass.study.watch import what_to_measure

SEEN = 49.0
"""Squared deviations of the joint scatter from which the measures see what is wrong."""


def measured(drawn: Drawn, measures: list[Measurable], random: np.random.Generator) -> list[Taken]:
    """What somebody measures of a drawing, a rule read to a quarter of a millimetre."""
    taken = []
    for one in measures:
        at = [drawn[name] for name in one.points]
        if len(at) == 2:
            size, sd, step = float(np.hypot(*(at[0] - at[1]))), 0.2, 0.25
        else:
            u, v = at[0] - at[1], at[2] - at[1]
            size = float(np.degrees(abs(np.arctan2(u[0] * v[1] - u[1] * v[0], u @ v))))
            sd, step = 0.4, 0.25
        read = size + float(random.standard_t(5)) * 0.12
        taken.append(Taken(one, max(round(read / step) * step, step), sd))
    return taken


def givens_of(figure: str) -> dict[str, Any]:
    """The usual givens, without what is drawn at a place of a curve when it is done."""
    return {name: "none" if name == "touch" else value for name, value in figure_named(figure)().stored().items()}


def _off(random: np.random.Generator) -> tuple[Callable[[float], float], str]:
    off = float(np.exp(random.uniform(0.0, np.log(30.0)))) * (1 if random.integers(2) else -1)
    return lambda size: size + off, f"by {off:.1f}"


def _misread(random: np.random.Generator) -> tuple[Callable[[float], float], str]:
    """What people make of a number."""
    ways: list[tuple[Callable[[float], float], str]] = [
        (lambda size: size + 10.0, "ten more"),
        (lambda size: size - 10.0 if size > 12.0 else size + 10.0, "ten less"),
        (lambda size: 2.0 * size, "the double"),
        (lambda size: size / 2.0, "the half"),
    ]
    return ways[int(random.integers(len(ways)))]


def main(count: int = 30) -> dict[str, Any]:
    """Judge their drawings, and count what comes of them."""
    tally: Counter[str] = Counter()
    for (figure, method), draw in CONSTRUCTIONS.items():
        givens = givens_of(figure)
        judge = Judge(run(figure_named(figure)(**givens), method))
        measures = [one.measure for one in what_to_measure(judge).proposed if one.measure.points]
        honest = judge.honest(measures, np.array([0.2 if one.unit == "mm" else 0.4 for one in measures]))
        random = np.random.default_rng((len(figure), 7))
        for seed in range(count):
            try:
                taken = measured(draw(Hand(seed), givens), measures, random)
            except Blundered:  # a hand that sees its arcs pass each other by draws them again
                tally["honest, no crossing"] += 1
                continue
            tally[f"honest {check(judge, taken).kind}"] += 1
        readings = Hand(0)
        draw(readings, givens)
        for kind in ("off", "misread"):
            for seed in range(count):
                which = int(random.integers(len(readings.readings)))
                wrong, says = _off(random) if kind == "off" else _misread(random)
                hand = Hand(1000 + seed, (which, wrong))
                try:
                    taken = measured(draw(hand, givens), measures, random)
                except Blundered:
                    continue
                out = np.array([one.value for one in taken]) - honest.mean
                if float(out @ np.linalg.solve(honest.cover, out)) < SEEN:
                    tally[f"{kind}, unseen"] += 1
                    continue
                verdict, step = judge.judge(taken), hand.readings[which]
                right = step in verdict.alike
                told = "right" if right else "a slip" if verdict.verdict == "slip" else verdict.verdict
                tally[f"{kind}, {told}"] += 1
                if not right:
                    best = [(one.kind, one.id or one.step, round(one.weight, 2)) for one in verdict.explanations[:2]]
                    print(f"{figure} step {step} {kind} {says}: {best}", file=sys.stderr)
    return dict(sorted(tally.items()))


if __name__ == "__main__":
    print(json.dumps(main(int(sys.argv[1]) if len(sys.argv) > 1 else 30), indent=1))
