"""What was looked at: the points of the result that the measurements touch, and those that nobody measured or
found; and at which step a slip shows."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from wise_compass.drafting.marks import ArcMark, LineMark, Mark, Role, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.steps import Step
from wise_compass.drafting.wording import mm
from wise_compass.geometry.vectors import Array, distance
from wise_compass.study.measures import Measurable, points_of

SHOWS = 1e-6
"""mm from which a slip shows at a step."""
ON_IT = 1e-6
"""Of a drawing's size: how near to an outline a point of it lies."""


def results(run: Run) -> list[str]:
    """The named points that lie on what is lined in, and the named centres of whole circles of it that carry none, in
    the order in which they are found; where nothing named lies on it, every named point that is found. What stood on
    the paper before the work began is none of it."""
    named = [
        name
        for name, spot in run.spots.items()
        if spot.kind not in ("plain", "label") and spot.step > run.printed_steps
    ]
    lines = [line for mark in run.marks if mark.role is Role.OUTLINE for line in mark.polylines()]
    low, high = run.extent
    near = ON_IT * float(np.abs(high - low).max())
    corners = [line for line in lines if len(line) > 1]
    at = [run.spots[name].here for name in named]
    ends = np.concatenate(corners) if corners else np.zeros((0, 2))
    found = [name for name, place in zip(named, at) if _near(place, ends, corners, near)]
    middles = _middles(run, [run.spots[name].here for name in found], near)
    found = [
        name
        for name, place in zip(named, at)
        if name in found or (run.spots[name].kind == "found" and _near(place, middles, (), near))
    ]
    return found or [name for name in named if run.spots[name].kind != "given"] or named


def _middles(run: Run, on: Sequence[Array], near: float) -> Array:
    """The centres of the whole circles of the result that carry no named point: where they lie is measured there."""
    circles = [mark for mark in run.marks if isinstance(mark, ArcMark) and mark.role is Role.OUTLINE]
    bare = [
        nominal(circle.centre, 1)
        for circle in circles
        if circle.whole
        and circle.span is None
        and not any(abs(distance(at, nominal(circle.centre, 1)) - nominal(circle.radius, 0)) <= near for at in on)
    ]
    return np.array(bare).reshape(-1, 2)


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


def slip_step(made: Run, id: str) -> tuple[int, str]:
    """The first step at which a slip shows, and what it makes of that step's number, on the paper of a sheet at true
    size; 0 where it shows at none."""
    try:
        other = run(made.figure, made.method, made.conventions, id)
    except Refused:
        return 0, ""
    for mine, theirs in zip(made.steps, other.steps):
        right, wrong = mine.setting(), theirs.setting()
        if right != wrong and len(mine.settings) == len(theirs.settings) == 1 and mine.settings[0].unit:
            return mine.n, f"{wrong}, not {right}"
        if right != wrong or mine.instrument != theirs.instrument or len(mine.spots) != len(theirs.spots):
            return mine.n, ""
        if any(float(np.abs(a.here - b.here).max()) > SHOWS for a, b in zip(mine.spots, theirs.spots)):
            return mine.n, _read_as(mine, id)
        if len(mine.marks) != len(theirs.marks) or any(map(_elsewhere, mine.marks, theirs.marks)):
            return mine.n, ""
    return 0, ""


def _read_as(step: Step, id: str) -> str:
    """What a rule that is read a centimetre too far makes of a step's number."""
    numbers = [one for one in step.settings if one.unit == "mm" and not one.words]
    if id != "rule-a-centimetre-off" or len(numbers) != 1:
        return ""
    size = numbers[0].value
    return f"{mm(round(size + 10.0, 2))}, not {mm(round(size, 2))}"


def _elsewhere(one: Mark, other: Mark) -> bool:
    """Whether two marks are not of one line or circle; how far they are drawn follows from what is found later."""
    if isinstance(one, LineMark) and isinstance(other, LineMark):
        across = np.array([-one.u[1], one.u[0]])
        return abs(float(across @ (other.p - one.p))) > SHOWS or abs(float(across @ other.u)) > SHOWS
    if isinstance(one, ArcMark) and isinstance(other, ArcMark):
        off = float(np.abs(one.centre - other.centre).max())
        return max(off, abs(float(nominal(one.radius, 0)) - float(nominal(other.radius, 0)))) > SHOWS
    return type(one) is not type(other)
