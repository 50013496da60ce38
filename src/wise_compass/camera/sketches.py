"""The drawings that a sheet may show: the honest one, those with a slip, and those with one setting far off; the ones
that lie best on its ink."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import NamedTuple

import numpy as np

from wise_compass.camera.evidence import FAR, Inked
from wise_compass.camera.laid import LINED, Laid, courses_of
from wise_compass.camera.pencil import Through, marks_of, marks_through, ticked
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.instruments import ErringHands
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.run import Error, Run, lanes_of, run
from wise_compass.geometry.vectors import Array
from wise_compass.study.blunders import SETTINGS
from wise_compass.study.misreads import READ

COARSELY = (-18.0, -12.0, -7.0, 7.0, 12.0, 18.0)
"""Deviations by which settings are tried first, to see which of them may be far off."""
FURTHER = tuple(sign * push for push in np.arange(25.0, 210.0, 8.0).tolist() for sign in (-1.0, 1.0))
"""The same where no drawing lies well, of numbers that are read: some 30 mm and more."""
LIES = 0.95
"""How well a drawing has to lie for none to be tried that is further off."""
MOST_TRIED = 9000
"""Marks times settings and pushes that are tried; of more, some settings are left out."""
EVERY = 1.5
"""mm of the paper from place to place at which it is asked whether a line lies on ink."""
TRIED = 3
"""How many drawings are followed point by point: the ones that lie best."""
SETTLED = 0.985
"""How well the honest drawing has to lie for no other to be thought of."""


class Sketch(NamedTuple):
    """A drawing as it may be: its draft, and which marks and ticks go through each point; how well it lies on the ink;
    ``off`` is the number and the size of the one error that is far off in it."""

    slip: str | None
    drawn: Run | Draft
    through: dict[str, Through]
    ticks: dict[str, list[Array]]
    lies: float
    off: tuple[int, float] | None = None


def sketches_of(ink: Inked, laid: Laid, hear: Callable[[int, int], None]) -> list[Sketch]:
    """The honest drawing first of all; where it does not lie well, those with a slip or with one setting far off that
    lie better."""
    made = laid.run
    honest = lies_on(ink, laid, made)
    found: list[tuple[float, str | None, Run | Draft, tuple[int, float] | None]] = []
    if honest < SETTLED:
        for k, slip in enumerate(made.slips):
            hear(k, len(made.slips) + 1)
            try:
                other = run(made.figure, made.method, made.conventions, slip.id)
                found.append((lies_on(ink, laid, other), slip.id, other, None))
            except NoMeet:
                continue
        for pushes, well in ((COARSELY, SETTLED), (FURTHER, LIES)):
            if max((honest, *(one[0] for one in found))) < well:
                found += [(lies, None, draft, off) for lies, draft, off in _pushed(ink, laid, pushes)]
    better = sorted((one for one in found if one[0] > honest + 0.02), key=lambda one: -one[0])
    sketches = []
    for lies, slip_id, drawn, off in [(honest, None, made, None), *better[: TRIED - 1]]:
        through = marks_through(drawn, laid.scale)
        sketches.append(Sketch(slip_id, drawn, through, ticked(drawn, laid.scale, through), lies, off))
    return sketches


def _pushed(ink: Inked, laid: Laid, pushes: Sequence[float]) -> list[tuple[float, Draft, tuple[int, float]]]:
    """The drawings with one setting far off, by about so many deviations, that lie best on the ink, one for each of
    the best settings, with its number and size."""
    made = laid.run
    _, errors = lanes_of(made.figure, made.method, 1, 0, made.conventions, laid.scale).errors()
    told = SETTINGS if pushes is COARSELY else READ.keys() - {"set square"}
    settings = [error for error in errors if error.tolerance in told]
    settings = settings[:: max(len(settings) * len(made.marks) * len(pushes) // MOST_TRIED, 1)]
    coarse: list[tuple[float, float, Error]] = []
    for error in settings:
        for lies, off in _pushed_by(ink, laid, error, [push * error.sd for push in pushes]):
            coarse.append((lies, off, error))
    best: list[tuple[float, Draft, tuple[int, float]]] = []
    taken: set[int] = set()
    for _, off, error in sorted(coarse, key=lambda one: -one[0]):
        if error.number in taken or len(taken) == 2:
            continue
        taken.add(error.number)
        for step in (3.0, 1.0, 0.4):
            tried = _pushed_by(ink, laid, error, [off + k * step * error.sd for k in (-2, -1, 0, 1, 2)])
            lies, off = max(tried, key=lambda one: one[0])
        with suppress(NoMeet):  # where only the steady hand of several comes to the end
            best.append((lies, _draft_with(laid, error, [off]), (error.number, off)))
    return best


def _draft_with(laid: Laid, error: Error, offs: Sequence[float]) -> Draft:
    made, hand = laid.run, ErringHands(len(offs), {error.number: offs})
    return lanes_of(made.figure, made.method, 1, 0, made.conventions, laid.scale, None, hand).draft


def _pushed_by(ink: Inked, laid: Laid, error: Error, offs: Sequence[float]) -> list[tuple[float, float]]:
    """How well drawings lie in which one error is so large; one that cannot be drawn to its end lies as badly as can
    be."""
    draft = _draft_with(laid, error, [0.0, *offs])  # the first of several hands has to come to the end
    return [(lies_on(ink, laid, draft, lane), off) for lane, off in enumerate(offs, 1)]


def lies_on(ink: Inked, laid: Laid, drawn: Run | Draft, lane: int = 0) -> float:
    """How well a drawing lies on the ink: 1 where every line has some beneath it, outlines counting as much as all the
    rest."""
    lines, worths = list[Array](), list[float]()
    for mark in marks_of(drawn):
        worth = 1.0 if mark.role in LINED else 0.35
        for line in courses_of(mark, lane, laid.scale):
            if not np.isfinite(line).all():
                return -1.0
            lines.append(line)
            worths.append(worth)
    if not lines:
        return 0.0
    places, weights = _dense(lines, worths, laid.scale)
    off = np.maximum(ink.off(laid.on_paper(places)) - 0.35, 0.0)
    return 2.0 * (float(np.average(1.0 - off / FAR, weights=weights)) - 0.5)


def _dense(lines: Sequence[Array], worths: Sequence[float], scale: float) -> tuple[Array, Array]:
    """Places on polylines every :data:`EVERY` mm of the paper or so, and their weights: all that is between two of
    them, times the line's worth."""
    thinned = [_thinned(line, scale) for line in lines]
    starts, ends = (np.concatenate([line[k : len(line) - 1 + k] for line in thinned]) for k in (0, 1))
    worth = np.repeat(worths, [len(line) - 1 for line in thinned])
    long = np.hypot(*(ends - starts).T) * scale
    counts = np.maximum(np.ceil(long / EVERY), 1).astype(np.int64)
    which = np.repeat(np.arange(len(counts)), counts)
    share = (np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts) + 0.5) / counts[which]
    return starts[which] + share[:, None] * (ends - starts)[which], (worth * long / counts)[which]


def _thinned(line: Array, scale: float) -> Array:
    """A polyline with fewer of its points where they are close."""
    if len(line) < 4:
        return line
    step = float(np.hypot(*(line[1] - line[0]))) * scale
    return line if step > EVERY / 2 else np.concatenate([line[: -1 : max(int(EVERY / max(step, 1e-3)), 1)], line[-1:]])
