"""A single setting far off, as explanations of what was measured: every step that the measures see, by how much its
setting was off, and what a person may have read instead."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.run import Error, Run
from wise_compass.drafting.wording import bare, mm
from wise_compass.geometry.vectors import Array
from wise_compass.study.misreads import Misread
from wise_compass.study.pushes import MOST, MOST_OF_PLACES, Metric, Pushable, Runner, pushed

SETTINGS = ("compass setting", "rule mark", "dividers taken", "dividers stepped", "protractor", "set square", "trammel")
"""The errors that are of a setting, which a blunder is more likely to be of than of where a needle stands."""
OF_PLACES = 0.2
"""How likely a needle, a pencil or a straightedge is to be set down far off, against a setting."""
MISREAD = 0.35
"""The share of blunders at a number that are one of the ways in which people misread it."""
WIDEST = 45.0
"""Degrees by which an angle may be off at most."""
SEEN = 4.0
"""Deviations of the joint scatter that the largest blunder makes at least, for a step to be seen at all."""


class Blunder(NamedTuple):
    """A step with its setting far off: the log of the evidence, by which error, by how much (its unit, figure mm) and
    one deviation of that; and what was read, where that is likelier than any other size."""

    step: int
    log: float
    error: int
    off: float
    sd: float
    misread: str


def blunders(
    errors: Sequence[Error], ways: Sequence[Misread], move: Array, run: Runner, seen: Array, metric: Metric, mean: Array
) -> list[Blunder]:
    """Every step that the measures see, as the one that was blundered at.

    ``move`` (errors, m) is the influence of each error by one deviation, ``run`` draws hands with errors told, ``seen``
    (m,) is what was measured, ``metric`` and ``mean`` (m,) are those of steady hands.
    """
    loud = [k for k, one in enumerate(errors) if _most(one) * math.sqrt(float(metric.form(move[k], move[k]))) >= SEEN]
    by_size = pushed(
        [Pushable(errors[k].number, errors[k].sd, _most(errors[k])) for k in loud], run, seen, metric, mean
    )
    read = _misread(
        errors, [one for one in ways if any(errors[k].number == one.number for k in loud)], run, seen, metric
    )
    found = []
    for n in sorted({errors[k].step for k in loud}):
        mine = [(k, one) for k, one in zip(loud, by_size) if errors[k].step == n]
        told = read.get(n, [])
        worth = [1.0 if errors[k].tolerance in SETTINGS else OF_PLACES for k, _ in mine]
        less = math.log1p(-MISREAD) if told else 0.0
        parts = [
            (one.log + math.log(w / len(worth)) + less, k, one.off, one.sd, "") for w, (k, one) in zip(worth, mine)
        ]
        settings = len({k for _, k, _, _ in told})
        parts += [(log + math.log(MISREAD / settings), k, off, 0.0, says) for log, k, off, says in told]
        best = max(parts, key=lambda part: part[0])
        if best[0] > -math.inf:
            log = best[0] + math.log(sum(math.exp(part[0] - best[0]) for part in parts))
            found.append(Blunder(n, log, *best[1:]))
    return found


def _most(error: Error) -> float:
    if error.unit == "°":
        return max(MOST, WIDEST / error.sd)
    return MOST if error.tolerance in SETTINGS else MOST_OF_PLACES


def _misread(
    errors: Sequence[Error], ways: Sequence[Misread], run: Runner, seen: Array, metric: Metric
) -> dict[int, list[tuple[float, int, float, str]]]:
    """By step, each way in which a number of it may have been misread: the log of its evidence, the error, by how much
    it is off, and in words."""
    if not ways:
        return {}
    told: dict[int, Array] = {}
    for lane, one in enumerate(ways, 1):
        told.setdefault(one.number, np.zeros(1 + len(ways)))[lane] = one.off
    sizes = run(told)
    place = {error.number: k for k, error in enumerate(errors)}
    by: dict[int, list[tuple[float, int, float, str]]] = {}
    for one, log, size in zip(ways, metric.log(seen - sizes).tolist(), sizes):
        if np.isfinite(size).all():
            by.setdefault(one.step, []).append((log + math.log(one.share), place[one.number], one.off, one.says))
    return by


def blunder_says(run: Run, errors: Sequence[Error], one: Blunder, scale: float) -> str:
    """A blunder in words: what stood where, what it should have been, and by how much it was off, with as many digits
    as are sure."""
    step, error = run.steps[one.step - 1], errors[one.error]
    unit, head = error.unit, f"step {one.step}: "
    paper = scale if unit == "mm" else 1.0
    off, sd = one.off * paper, max(one.sd * paper, 0.005)
    settings = [each for each in step.settings if not each.words and each.unit == unit]
    if len(settings) == 1 and error.tolerance in SETTINGS:
        right = settings[0].on_paper(scale)
        size = _size(abs(off), unit, sd)
        tool = _TOOLS.get(error.tolerance, step.tool(scale).lower())
        stood = f"the {tool} stood {'at' if one.misread else 'near'} {_size(right + off, unit, sd)}"
        way = ("too much" if off > 0 else "too little") if unit == "°" else ("too far" if off > 0 else "too short")
        told = f" ({one.misread})" if one.misread else ""
        return f"{head}{stood}, not {_size(right, unit, 0.005)}: {size} {way}{told}"
    size = _size(abs(off), unit, sd)
    return head + _PLACED[error.tolerance].format(size=size, way="more" if off > 0 else "less")


_TOOLS = {"compass setting": "compass", "dividers taken": "dividers", "trammel": "strip"}
_PLACED = {
    "compass setting": "the compass was set to {size} {way} than it should be",
    "compass prick": "the compass needle stood {size} beside its point",
    "pencil mark": "the point was marked {size} beside where it is",
    "rule mark": "the mark off the rule stood at {size} {way} than it should",
    "straightedge": "the straightedge lay {size} beside its point",
    "set square": "the line along the set square is {size} out of its direction",
    "protractor": "the angle was laid off with {size} {way} than it should have",
    "dividers taken": "the dividers took {size} {way} than the distance",
    "dividers stepped": "a prick of the dividers stands {size} beside its place",
    "trammel": "a mark of the strip stood {size} {way} along than it should",
}


def _size(value: float, unit: str, sd: float) -> str:
    """A size in words, with the digits that an estimate of such a deviation is sure of."""
    places = min(max(-math.floor(math.log10(2.0 * sd)), 0), 2)
    number = round(value, places)
    return mm(number) if unit == "mm" else f"{bare(number)}°"
