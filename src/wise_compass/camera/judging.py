"""A photograph judged: distances of the points that were found, chosen so that they see the most steps, with the
reading's own joint error."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from wise_compass.camera.crossings import READ
from wise_compass.camera.outline import strays_of
from wise_compass.camera.reading import Reading
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Measurable, Taken
from wise_compass.study.verdicts import Astray, Checked, check
from wise_compass.study.watch import SHORTEST, what_to_measure

MOST, WHOLE = 12, 26
"""Distances that are judged together: those that see the most steps, and all with those that bring the other points
in."""


def measures_of(reading: Reading, judge: Judge | None = None) -> tuple[list[Taken], Array]:
    """The distances taken from a reading, in mm of the paper, and the covariance of reading them; raises
    :class:`Refused` for too few points."""
    judge = judge or Judge(reading.laid.run, reading.laid.scale)
    points = reading.points
    # what is measured by hand is a few long distances; here all points are known, and each that says something more is
    # taken
    proposed = [one.measure for one in what_to_measure(judge, "photograph", MOST, set(points)).proposed]
    proposed += _others(judge, list(points), proposed)
    if not proposed:
        raise Refused(
            "photo", f"Of {len(points)} points found, no two tell anything of a step. Take the photograph again."
        )
    names = sorted({name for measure in proposed for name in measure.points})
    place = {name: k for k, name in enumerate(names)}
    slope = np.zeros((len(proposed), 2 * len(names)))
    taken = []
    for row, measure in enumerate(proposed):
        a, b = measure.points
        off = points[a] - points[b]
        long = float(np.hypot(*off))
        slope[row, 2 * place[a] : 2 * place[a] + 2] = off / long
        slope[row, 2 * place[b] : 2 * place[b] + 2] = -off / long
        taken.append((measure, long))
    sds = np.array([np.hypot(READ, reading.finding.points[name].sd) for name in names]).repeat(2)
    # the fit of the sheet is off alike for places that lie near each other; it is taken by itself for each distance, as
    # a part of it
    own = np.diag([(reading.squared.sure * min(long / 100.0, 1.0)) ** 2 for _, long in taken])
    cover = slope @ np.diag(sds**2) @ slope.T + own
    return [Taken(measure, long, float(np.sqrt(cover[k, k]))) for k, (measure, long) in enumerate(taken)], cover


def _others(judge: Judge, names: list[str], have: list[Measurable]) -> list[Measurable]:
    """Two distances more for each point that was found and is in none yet, from two points far from it and from each
    other."""
    run = judge.run
    known = [name for name in names if name in run.spots and run.spots[name].at.ndim == 1]
    taken = {name for one in have for name in one.points}
    at = {name: run.spots[name].here * judge.scale for name in known}
    made: list[Measurable] = []
    for name in known:
        same = [other for other in known if other.partition(".")[2] == name.partition(".")[2] and other != name]
        if name in taken or len(same) < 2:
            continue
        if len(have) + len(made) + 2 > WHOLE:
            break
        first = max(same, key=lambda other: float(np.hypot(*(at[other] - at[name]))))
        second = max(same, key=lambda other: _sine(at[first] - at[name], at[other] - at[name]))
        for other in dict.fromkeys((first, second)):
            if float(np.hypot(*(at[other] - at[name]))) > SHORTEST:
                made.append(Measurable(f"{name}-{other}", "mm", (name, other)))
    return made


def _sine(one: Array, other: Array) -> float:
    """How far apart two directions are."""
    size = float(np.hypot(*one) * np.hypot(*other))
    return abs(float(one[0] * other[1] - one[1] * other[0])) / max(size, 1e-9)


def judged(reading: Reading, judge: Judge | None = None, also: Mapping[str, Taken] | None = None) -> Checked:
    """The check of what a photograph shows, and of what was measured on the paper besides, which goes before what the
    photograph tells of the same measure; raises :class:`Refused`."""
    judge = judge or Judge(reading.laid.run, reading.laid.scale)
    taken, cover = measures_of(reading, judge)
    if also:
        own = [k for k, one in enumerate(taken) if one.measure.name not in also]
        sds = np.array([one.sd for one in also.values()])
        rest = cover[np.ix_(own, own)]
        cover = np.block([[rest, np.zeros((len(own), len(sds)))], [np.zeros((len(sds), len(own))), np.diag(sds**2)]])
        taken = [*(taken[k] for k in own), *also.values()]
    # points too near to others are not looked for: there the outline itself is held against its ink
    lost = set(reading.finding.missing)
    astray = [Astray(one.says, one.at) for one in strays_of(reading)]
    return check(judge, taken, "photograph", cover, lost - set(reading.points), astray)
