"""The found curve against the true one: how far the line that a hand draws through the found points strays, and where.

A figure of curves tells its :class:`Course` for each: the true curve, where on it a method finds points, and the places
that a sentence may name. What the hand draws is a fair curve through the found points alone.

A method finds points; a hand joins them with a fair curve (``geometry/fair.py``), and that is what is drawn. What is
true is known apart from it (``Figure.courses``, ``geometry/curves.py``). A course that is *afloat* is told in a frame
of its own, and ``Run.courses`` lays it where the hand found room. ``study/gaps.py`` holds one against the other: the
largest gap and where, the fewest divisions that hold a limit, further points where it is sharp. ``study/tables.py``
reads ordinates off the true curve, from the course's own datum; ``study/motion.py`` moves what moves between two steps.
Springs and threads draw only what is seen: ``geometry/coils.py`` asks along the line of sight whether anything stands
in front, and the hand lines in those pieces of the curves through its own points.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import courses_of
from wise_compass.drafting.course import Course
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.marks import ArcMark, Role, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.run import run as run_of
from wise_compass.drafting.wording import PLAIN, Style, mm
from wise_compass.geometry.curve_places import nearest
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.vectors import Array, cross, distance, length, polar

PER_SPACE = 16
"""Samples of the hand's curve between two found points."""
MOST_EXTRA = 60
LEAST_TOLD = 0.0005
"""mm: what strays less is not told by a number."""
FEW = 6
"""Samples of a space in which the nearest place of the true curve is looked for first: it hardly bends in one."""


class Gap(NamedTuple):
    """The hand's curve beside the true one: its points (n, 2), the nearest true ones, and how far to the left each
    lies.

    ``t`` are the true ones' parameters and ``space`` the place in the row that each lies behind; -1 where there is no
    row.
    """

    course: Course
    drawn: Array
    true: Array
    t: Array
    off: Array
    space: Array

    @property
    def worst(self) -> int:
        return int(np.argmax(np.abs(self.off)))

    @property
    def largest(self) -> float:
        return float(np.abs(self.off).max()) if len(self.off) else 0.0

    @property
    def where(self) -> str:
        """Words for where the largest gap lies."""
        k = self.worst
        near, space = self.course.near(float(self.t[k])), int(self.space[k])
        if space < 0 or not self.course.names:
            return near
        names = self.course.names
        between = f"between {names[space]} and {names[(space + 1) % len(names)]}"
        return f"{between}, {near}" if near else between


def _signed(curve: Curve, t: Array, off: Array, drawn: Array, true: Array) -> Array:
    heading = curve.derivative(t)
    side = np.sign(np.asarray(cross(heading, drawn - true)) / np.maximum(length(heading), 1e-300))
    return np.where(side == 0, 1.0, side) * off


def _row_gap(course: Course, points: Array) -> Gap:
    """The fair curve through a row of points, a stroke a piece, held against the true curve between them."""
    curve, stations = course.curve, course.stations
    drawn, low, high, space = [], [], [], []
    if curve.closed:
        bounds = np.append(stations, stations[0] + (curve.last - curve.first) * np.sign(stations[1] - stations[0]))
        strokes = [(fair_curve(points, closed=True), 0, len(points))]
    else:
        bounds = stations
        strokes = [(fair_curve(points[a : b + 1]), a, b) for a, b in course.pieces()]
    for segments, a, b in strokes:
        drawn.append(along_curve(segments, PER_SPACE))
        row = np.append(np.repeat(np.arange(a, b), PER_SPACE), b - 1)
        space.append(row)
        low.append(np.minimum(bounds[row], bounds[row + 1]))
        high.append(np.maximum(bounds[row], bounds[row + 1]))
    line, spaces = np.concatenate(drawn), np.concatenate(space)
    t, off = nearest(curve, line, np.concatenate(low), np.concatenate(high), FEW)
    true = curve.at(t)
    return Gap(course, line, true, t, _signed(curve, t, off, line, true), spaces)


def _arc_gap(course: Course, run: Run) -> Gap:
    """The method's own arcs that stand for a curve, held against all of it."""
    curve = course.curve
    lines = []
    for mark in run.marks:
        if isinstance(mark, ArcMark) and mark.role is Role.OUTLINE and mark.span is not None:
            start, sweep = mark.span
            count = max(int(sweep / 3), 8)
            lines.append(
                polar(
                    nominal(mark.centre, 1),
                    float(nominal(mark.radius, 0)),
                    start + sweep * np.arange(count + 1) / count,
                )
            )
    if course.ends:
        first, last = (nominal(run.found[name], 1) for name in course.ends)
        lines = [min(lines, key=lambda one: min(_apart(one, first, last), _apart(one, last, first)))]
    line = np.concatenate(lines)
    tried = np.linspace(curve.first, curve.last, 181)
    guess = tried[np.argmin(distance(curve.at(tried), line[:, None, :]), axis=1)]
    reach = tried[1] - tried[0]
    low, high = guess - reach, guess + reach
    if not curve.closed:
        low, high = np.maximum(low, curve.first), np.minimum(high, curve.last)
    t, off = nearest(curve, line, low, high)
    true = curve.at(t)
    return Gap(course, line, true, t, _signed(curve, t, off, line, true), np.full(len(line), -1))


def _apart(line: Array, first: Array, last: Array) -> float:
    """How far the ends of a line are from two places, together."""
    return float(distance(line[0], first) + distance(line[-1], last))


def gaps(run: Run) -> list[Gap]:
    """For each curve of the figure that a hand joins up, what it draws beside what is true."""
    made = []
    for course in run.courses:
        if course.names:
            points = np.array([nominal(run.found[name], 1) for name in course.names])
            made.append(_row_gap(course, points))
        elif not run.method.exact(run.figure):
            made.append(_arc_gap(course, run))
    return made


def counted(figure: Figure) -> str:
    """The given that says how many points are found, or nothing."""
    return "divisions" if "divisions" in figure.givens else ""


def finer(figure: Figure) -> Iterator[tuple[int, Figure]]:
    """The figure with every number of divisions that it can have, fewest first."""
    name = counted(figure)
    if not name:
        return
    given = figure.givens[name]
    least, most, multiple = (getattr(given, which) for which in ("least", "most", "multiple"))
    for n in range(least, most + 1, multiple):
        try:
            yield n, type(figure)(**{**figure.given_values, name: n})
        except Refused:  # turns that these divisions do not fit
            continue


def fewest(figure: Figure, method: str, limit: float) -> int | None:
    """The fewest divisions with which the hand's curve stays within ``limit`` mm of the true one; None if none do."""
    first = 0  # the course that strayed with the last number most often does so with the next: it is asked first
    for n, one in finer(figure):
        strayed = _straying(one, method, limit, first)
        if strayed is None:
            return n
        first = strayed
    return None


def _straying(figure: Figure, method: str, limit: float, first: int) -> int | None:
    """The number of a course from which a hand strays further than ``limit`` mm, the ``first`` looked at before the
    others; None where it holds all: by the courses alone, where their points lie on them."""
    rows = [course for course in courses_of(figure, method) if course.names]
    if not all(course.on_it for course in rows):
        return 0 if max(gap.largest for gap in gaps(run_of(figure, method))) > limit else None
    order = sorted(range(len(rows)), key=lambda k: k != first)
    return next((k for k in order if _row_gap(rows[k], rows[k].curve.at(rows[k].stations)).largest > limit), None)


class Extra(NamedTuple):
    """A further point that holds the hand's curve closer: where it lies, and the found points on either side."""

    course: Course
    t: float
    at: Array
    between: tuple[str, str]


def closer(figure: Figure, method: str, limit: float) -> list[Extra]:
    """Further points, only where the curve is sharp, that keep the hand's curve within ``limit`` mm.

    Each space that strays too far is halved, and again, until all of them hold. Raises :class:`Refused` where too many
    would be needed.
    """
    extras: list[Extra] = []
    for course in courses_of(figure, method):
        if not course.on_it:
            raise Refused("", "Further points between would lie no nearer.")
        if course.names:
            extras += _closer(course, limit)
    return extras


def _closer(course: Course, limit: float) -> list[Extra]:
    curve, count = course.curve, len(course.stations)
    turn = (curve.last - curve.first) * np.sign(course.stations[1] - course.stations[0])
    stations, owners, breaks = list(course.stations), list(range(count)), set(course.breaks)
    while True:
        row = Course(course.says, curve, np.array(stations), ("",) * len(stations), tuple(sorted(breaks)))
        gap = _row_gap(row, curve.at(row.stations))
        wide = sorted({int(k) for k in gap.space[np.abs(gap.off) > limit]}, reverse=True)
        if not wide:
            break
        if len(stations) - count > MOST_EXTRA:
            raise Refused("", f"More than {MOST_EXTRA} further points would be needed to hold {mm(limit)}.")
        for k in wide:
            after = stations[k + 1] if k + 1 < len(stations) else stations[0] + turn
            stations.insert(k + 1, (stations[k] + after) / 2)
            owners.insert(k + 1, -1)
            breaks = {b + 1 if b > k else b for b in breaks}
    extras, last = [], 0
    for t, owner in zip(stations, owners):
        if owner >= 0:
            last = owner
            continue
        sides = course.names[last], course.names[(last + 1) % count]
        extras.append(Extra(course, t, curve.at(t), sides))
    return extras


class Stray(NamedTuple):
    """How far the hand's curves lie from the true ones, and what would hold them within ``limit`` mm.

    ``enough`` are the fewest divisions that hold, None where none do; ``extras`` the further points that do, None where
    more than :data:`MOST_EXTRA` would be needed.
    """

    run: Run
    limit: float
    gaps: list[Gap]
    enough: int | None
    extras: list[Extra] | None

    @property
    def joined(self) -> bool:
        """Whether a hand joins up points; else the method draws arcs of its own."""
        return any(gap.course.names for gap in self.gaps)

    def sentence(self, style: Style = PLAIN) -> str:
        """How far, where, and what would hold."""
        worst = max(self.gaps, key=lambda one: one.largest)
        name = counted(self.run.figure)
        many = f"With {self.run.figure.given_values[name]} divisions the" if name and self.joined else "The"
        drawn = "hand’s curve" if self.joined else "line drawn in arcs"
        told = worst.largest >= LEAST_TOLD
        most = f"up to {style.short(worst.largest)}" if told else f"less than {style.short(0.001)}"
        far = f"{many} {drawn} strays {most}" + (f", {style.lettered(worst.where)}" if worst.where else "")
        held = style.short(self.limit)
        if not self.joined or self.run.method.proves is not None:  # a way of one's own says itself how many it takes
            return f"{far}."
        if worst.largest <= self.limit:
            return f"{far}: within {held}."
        if self.enough is not None:
            return f"{far}; {self.enough} would hold {held}."
        if self.extras is not None:
            return f"{far}; {len(self.extras)} further points where it is sharp would hold {held}."
        return f"{far}; no number of divisions holds {held}."


def stray(run: Run, limit: float) -> Stray | None:
    """What a run's curves stray, held to ``limit`` mm; None where the figure has no curve, or draws the true one
    itself."""
    made = gaps(run)
    if not made:
        return None
    figure, method = run.figure, run.method.id
    if run.method.proves is not None or not any(gap.course.names for gap in made):
        return Stray(run, limit, made, None, [])
    extras: list[Extra] | None
    try:
        extras = closer(figure, method, limit)
    except Refused:
        extras = None
    return Stray(run, limit, made, fewest(figure, method, limit), extras)
