"""The drawings that a sheet may show: the honest one, those with a slip, and those with one setting far off; the ones that lie best on its ink."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import NamedTuple

import numpy as np

from wise_compass.camera.evidence import FAR, Inked
from wise_compass.camera.laid import LINED, Laid, courses_of
from wise_compass.camera.pencil import Through, marks_of, marks_through, ticked
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import NO_END, Error, Run, lanes_of, run
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import SETTINGS, Pushed

COARSELY = (-18.0, -12.0, -7.0, 7.0, 12.0, 18.0)
"""Deviations by which settings are tried first, to see which of them may be far off."""
MOST_TRIED = 1500
"""Marks times settings that are tried; of more, some settings are left out."""
TRIED = 3
"""How many drawings are followed point by point: the ones that lie best."""
SETTLED = 0.985
"""How well the honest drawing has to lie for no other to be thought of."""


class Sketch(NamedTuple):
    """A drawing as it may be: its draft, where each point lies, in mm of the paper, and which marks go through each."""

    slip: str | None
    drawn: Run | Draft
    through: dict[str, Through]
    ticks: dict[str, list[Array]]
    lies: float


def sketches_of(ink: Inked, laid: Laid, hear: Callable[[int, int], None]) -> list[Sketch]:
    """The honest drawing first of all; where it does not lie well, those with a slip or with one setting far off that lie better."""
    made = laid.run
    honest = _lies(ink, laid, made)
    found: list[tuple[float, str | None, Run | Draft]] = []
    if honest < SETTLED:
        for k, slip in enumerate(made.slips):
            hear(k, len(made.slips) + 1)
            try:
                other = run(made.figure, made.method.id, made.conventions, slip.id)
                found.append((_lies(ink, laid, other), slip.id, other))
            except (Refused, *NO_END):
                continue
        if max((lies for lies, _, _ in found), default=0.0) < SETTLED:
            found += [(lies, None, draft) for lies, draft in _pushed(ink, laid)]
    better = sorted((one for one in found if one[0] > honest + 0.02), key=lambda one: -one[0])
    sketches = []
    for lies, slip_id, drawn in [(honest, None, made), *better[: TRIED - 1]]:
        through = marks_through(drawn, laid.scale)
        sketches.append(Sketch(slip_id, drawn, through, ticked(drawn, laid.scale, through), lies))
    return sketches


class _OneOff(Pushed):
    """A hand in whose every lane one single error is so large, each lane's own."""

    def __init__(self, number: int, offs: Sequence[float]) -> None:
        super().__init__(number, 0.0)
        self.lanes = (len(offs),)
        self._offs = np.array(offs)

    def strays(self, tolerance: str, step: int) -> Array:
        mine = self._drawn == self.number // 2
        self._drawn += 1
        return self._offs if mine else np.zeros(len(self._offs))

    def strays_both_ways(self, tolerance: str, step: int) -> Array:
        made = np.zeros((len(self._offs), 2))
        if self._drawn == self.number // 2:
            made[:, self.number % 2] = self._offs
        self._drawn += 1
        return made


def _pushed(ink: Inked, laid: Laid) -> list[tuple[float, Draft]]:
    """The drawings with one setting far off that lie best on the ink, one for each of the best settings."""
    made = laid.run
    _, errors = lanes_of(made.figure, made.method.id, 1, 0, made.conventions, laid.scale).errors()
    settings = [error for error in errors if error.tolerance in SETTINGS]
    settings = settings[:: max(len(settings) * len(made.marks) // MOST_TRIED, 1)]
    coarse: list[tuple[float, float, Error]] = []
    for error in settings:
        for lies, off in _pushed_by(ink, laid, error, [push * error.sd for push in COARSELY]):
            coarse.append((lies, off, error))
    best: list[tuple[float, Draft]] = []
    taken: set[int] = set()
    for _, off, error in sorted(coarse, key=lambda one: -one[0]):
        if error.number in taken or len(taken) == 2:
            continue
        taken.add(error.number)
        for step in (3.0, 1.0, 0.4):
            tried = _pushed_by(ink, laid, error, [off + k * step * error.sd for k in (-2, -1, 0, 1, 2)])
            lies, off = max(tried, key=lambda one: one[0])
        with suppress(Refused, *NO_END):  # where only the steady hand of several comes to the end
            best.append((lies, _draft_with(laid, error, [off])))
    return best


def _draft_with(laid: Laid, error: Error, offs: Sequence[float]) -> Draft:
    made, hand = laid.run, _OneOff(error.number, offs)
    return lanes_of(made.figure, made.method.id, 1, 0, made.conventions, laid.scale, None, hand).draft


def _pushed_by(ink: Inked, laid: Laid, error: Error, offs: Sequence[float]) -> list[tuple[float, float]]:
    """How well drawings lie in which one error is so large."""
    try:
        draft = _draft_with(laid, error, offs)
    except (Refused, *NO_END):
        return [(-1.0, off) for off in offs]
    return [(_lies(ink, laid, draft, lane), off) for lane, off in enumerate(offs)]


def _lies(ink: Inked, laid: Laid, drawn: Run | Draft, lane: int = 0) -> float:
    """How well a drawing lies on the ink: 1 where every line has some beneath it, outlines counting as much as all the rest."""
    places, worths = [], []
    for mark in marks_of(drawn):
        for line in courses_of(mark, lane, laid.scale):
            if np.isfinite(line).all():
                dense = _dense(line, laid.scale)
                places.append(dense)
                worths.append(np.full(len(dense), 1.0 if mark.role in LINED else 0.35))
    if not places:
        return 0.0
    off = np.maximum(ink.off(laid.on_paper(np.concatenate(places))) - 0.35, 0.0)
    return 2.0 * (float(np.average(1.0 - off / FAR, weights=np.concatenate(worths))) - 0.5)


def _dense(line: Array, scale: float) -> Array:
    """A polyline with a place every millimetre and a half of the paper or so."""
    lengths = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    count = max(int(lengths[-1] * scale / 1.5), 2)
    t = np.linspace(0.0, lengths[-1], count)
    return np.stack([np.interp(t, lengths, line[:, 0]), np.interp(t, lengths, line[:, 1])], axis=1)
