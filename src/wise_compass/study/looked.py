"""What was looked at: the points of the result that the measurements touch, and those that nobody measured or found."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from wise_compass.drafting.marks import Role
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array
from wise_compass.study.measures import Measurable, points_of

ON_IT = 1e-6
"""Of a drawing's size: how near to an outline a point of it lies."""


def results(run: Run) -> list[str]:
    """The named points that lie on what is lined in, in the order in which they are found; where nothing named lies on
    it, every named point that is found."""
    named = [name for name, spot in run.spots.items() if spot.kind not in ("plain", "label")]
    lines = [line for mark in run.marks if mark.role is Role.OUTLINE for line in mark.polylines()]
    low, high = run.extent
    near = ON_IT * float(np.abs(high - low).max())
    corners = [line for line in lines if len(line) > 1]
    at = [run.spots[name].here for name in named]
    ends = np.concatenate(corners) if corners else np.zeros((0, 2))
    found = [name for name, place in zip(named, at) if _near(place, ends, corners, near)]
    return found or [name for name in named if run.spots[name].kind != "given"] or named


def _near(at: Array, ends: Array, lines: Sequence[Array], near: float) -> bool:
    if len(ends) and float(np.abs(ends - at).max(axis=1).min()) <= near:
        return True
    return any(_distance(line, at) <= max(near, _sagitta(line)) for line in lines)


def _distance(line: Array, at: Array) -> float:
    """The distance of a place from a polyline."""
    a, d = line[:-1], np.diff(line, axis=0)
    t = np.clip(((at - a) * d).sum(axis=1) / np.maximum((d * d).sum(axis=1), 1e-18), 0.0, 1.0)
    return float(np.hypot(*(a + t[:, None] * d - at).T).min())


def _sagitta(line: Array) -> float:
    """How far a curve lies off the chords that stand for it, at most."""
    if len(line) < 4:
        return 0.0
    return float(np.abs(line[2:] - 2.0 * line[1:-1] + line[:-2]).max()) / 6.0


def touched(run: Run, measures: Iterable[Measurable]) -> set[str]:
    """The points that measurements are taken at."""
    known, marks = points_of(run), {value.name: value.marks for value in run.values}
    found: set[str] = set()
    for one in measures:
        found |= set(one.points) or {known[mark] for mark in marks.get(one.name, ()) if mark in known}
    return found
