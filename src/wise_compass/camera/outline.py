"""The lined-in outline held against its own ink: where a curve or an edge is not where its points say, missing, or
drawn twice.

The outline is laid through the points as they were found, and looked for along itself; what heavy ink is left over
beside it tells where the line went instead.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.camera.evidence import Inked, lines_seen
from wise_compass.camera.laid import LINED, courses_of
from wise_compass.camera.pencil import nearest_on
from wise_compass.camera.reading import Reading
from wise_compass.drafting.marks import CurveMark, Mark, Role
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import mm
from wise_compass.geometry.vectors import Array

APART = 2.0
"""mm along an outline from one look to the next."""
NEAR, WIDE = 0.9, 2.4
"""mm off its place within which an outline is there, and within which it is looked for."""
LONG, SHARE = 8.0, 0.08
"""mm of an outline that have to be off or missing before anything is said, and the share of that line."""
SHORT, PLAIN = 3.5, 3.0
"""mm of an outline that may be missing unsaid but where a line is seen to leave it, and how far that goes at least."""
BESIDE = 1.3
"""mm to either side of a line that is accounted for in which ink is its own."""
TWICE = (0.9, 4.5)
"""mm from an outline at which a second one may run."""
ALONG = 0.3
"""Of an outline's length: along so much of it a second one has to run."""
HEAVY = 0.6
"""Of how dark outlines are: from there on ink is of one."""
REACH = 5.0
"""mm from where an outline is lost, within which the line that left it begins."""
LETTER = 6.0
"""mm across or up that a letter beside the outline may be, lines that run into it and all."""
MAP = 4.0
"""Pixels to a mm of the map of what is left over."""


class Stray(NamedTuple):
    """A piece of an outline that is not where it should be: ``off``, ``missing`` or ``twice``; between which points,
    by how much at most (mm of the paper; 0 where nothing is there), and how long it is."""

    kind: str
    first: str
    last: str
    by: float
    long: float
    at: Array
    """Where it should be, (n, 2) in mm of the paper."""

    @property
    def says(self) -> str:
        """It in words."""
        if self.first and self.last and self.first != self.last:
            where = f"from {self.first} to {self.last}"
        else:
            where = f"near {self.first or self.last}" if self.first or self.last else f"over {mm(round(self.long))}"
        if self.kind == "twice":
            return f"{where} the outline is drawn twice, {mm(round(self.by, 1))} apart"
        if self.kind == "missing":
            return f"{where} it is not lined in"
        return f"{where} the line leaves the outline by up to {mm(round(self.by, 1 if self.by < 10 else 0))}"


class _Course(NamedTuple):
    """A smooth outline on the paper: places (n, 2), their directions, and the names of points on it with how far along
    each lies."""

    at: Array
    way: Array
    names: list[tuple[float, str]]
    free: tuple[bool, bool]
    """Whether a straight one begins, and ends, where nothing is named: how far it is lined in there is anybody's."""

    @property
    def long(self) -> float:
        return APART * len(self.at)


def strays_of(reading: Reading) -> list[Stray]:
    """Where the outline's ink is not that of the outline, the largest first."""
    laid, ink = reading.laid, reading.ink
    shifts = {
        name: at - laid.on_paper(laid.run.spots[name].here)
        for name, at in reading.points.items()
        if name in laid.run.spots
    }
    if len(shifts) < 2 or reading.finding.slip is not None:
        return []
    marks = [mark for mark in laid.run.marks if mark.role is Role.OUTLINE]
    courses = [one for mark in marks for one in _courses(laid.run, mark, laid.scale, laid.origin, shifts)]
    looked = [_looked(ink, one) for one in courses]
    seen = [off < NEAR for off in looked]
    whole = sum(len(one.at) for one in courses)
    if not whole or sum(int(one.sum()) for one in seen) < 0.3 * whole:
        return []  # drawn so faintly, or so otherwise, that nothing can be said of its outline
    over = _Left(reading, courses, seen, shifts)
    found: list[Stray] = []
    for one, there, off in zip(courses, seen, looked):
        for start, end in _runs(~there):
            if _begins_or_ends(one, start, end):
                continue
            long = APART * (end - start)
            by = over.leaving(one, start, end) if long >= SHORT else 0.0
            beside = off[start:end][np.isfinite(off[start:end])]
            if not by and 2 * len(beside) > end - start:  # it runs on, but not where its points have it
                by = float(beside.max())
            if (long >= LONG and long >= SHARE * one.long) or by >= PLAIN:
                first, last = _between(one, start, end)
                found.append(Stray("off" if by > NEAR else "missing", first, last, by, long, one.at[start:end]))
        twice = over.twice(one)
        if twice is not None:
            found.append(twice)
    return sorted(found, key=lambda one: (-one.by, -one.long))


def _begins_or_ends(one: _Course, start: int, end: int) -> bool:
    """Whether a piece that is not there is only the rest of a line of any length."""
    rest = end - start < len(one.at)
    return rest and (one.free[0] and start == 0 or one.free[1] and end == len(one.at))


def _courses(run: Run, mark: Mark, scale: float, origin: Array, shifts: dict[str, Array]) -> list[_Course]:
    """The courses of an outline on the paper, moved with the points that were found on them."""
    made = []
    named = [spot.here for spot in run.spots.values() if spot.kind not in ("plain", "label")]
    for line in courses_of(mark, 0, scale):
        placed = origin + np.asarray(line) * scale
        if len(placed) < 2:
            continue
        on_it = [
            (float(along), name)
            for name in shifts
            for off, _, _, along in [nearest_on(placed, origin + run.spots[name].here * scale)]
            if off < 0.05 + (0.3 if isinstance(mark, CurveMark) else 0.0)
        ]
        steps = np.hypot(*np.diff(placed, axis=0).T)
        reach = np.concatenate([[0.0], np.cumsum(steps)])
        if reach[-1] < LONG:
            continue
        t = np.arange(APART / 2, reach[-1], APART)
        at = np.stack([np.interp(t, reach, placed[:, k]) for k in (0, 1)], axis=1)
        ahead = np.stack([np.interp(np.minimum(t + 0.5, reach[-1]), reach, placed[:, k]) for k in (0, 1)], axis=1)
        back = np.stack([np.interp(np.maximum(t - 0.5, 0.0), reach, placed[:, k]) for k in (0, 1)], axis=1)
        way = (ahead - back) / np.maximum(np.hypot(*(ahead - back).T), 1e-9)[:, None]
        on_it.sort()
        if on_it:
            known = [along for along, _ in on_it]
            by = np.array([shifts[name] for _, name in on_it])
            at = at + np.stack([np.interp(t, known, by[:, k]) for k in (0, 1)], axis=1)
        else:
            at = at + np.median(np.array(list(shifts.values())), axis=0)
        free = [
            len(line) == 2 and not any(float(np.hypot(*(origin + spot * scale - tip))) < 0.05 for spot in named)
            for tip in (placed[0], placed[-1])
        ]
        made.append(_Course(at, way, on_it, (free[0], free[1])))
    return made


def _looked(ink: Inked, one: _Course) -> Array:
    """How far off each place of an outline the nearest line is that runs along it, in mm; infinite where there is
    none."""
    there = np.full(len(one.at), np.inf)
    turn = np.zeros(len(one.at))
    if len(one.at) > 2:
        cross = one.way[:-2, 0] * one.way[2:, 1] - one.way[:-2, 1] * one.way[2:, 0]
        turn[1:-1] = np.arcsin(np.clip(cross, -1, 1)) / (2.0 * APART)
    for k, (at, way) in enumerate(zip(one.at, one.way)):
        ahead, back = min(APART * (len(one.at) - k), 4.0), min(APART * (k + 1), 4.0)
        found = lines_seen(ink, at, way, (back, ahead), WIDE, float(turn[k]), True, 0.0, 0.05)
        there[k] = min((abs(line.off) for line in found), default=np.inf)
    return there


def _runs(flags: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Where flags are up, from and to (excluded); a single one down between does not part them.

    >>> _runs(np.array([False, True, True, False, True, False, False, True]))
    [(1, 5), (7, 8)]
    """
    up = flags.copy()
    up[1:-1] |= flags[:-2] & flags[2:]
    edges = np.flatnonzero(np.diff(np.concatenate([[False], up, [False]]).astype(int)))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2])]


def _between(one: _Course, start: int, end: int) -> tuple[str, str]:
    """The named points before and behind a piece of an outline, or the nearest."""
    low, high = APART * start, APART * end
    before = [name for along, name in one.names if along <= low + APART]
    behind = [name for along, name in one.names if along >= high - APART]
    return (before[-1] if before else ""), (behind[0] if behind else "")


class _Left:
    """The heavy ink of a sheet that lies beside every line that is accounted for."""

    def __init__(
        self, reading: Reading, courses: list[_Course], seen: list[NDArray[np.bool_]], shifts: dict[str, Array]
    ) -> None:
        laid, ink = reading.laid, reading.ink
        self.high = ink.high
        factor = MAP / ink.fine
        dark = cv2.resize(ink.dark, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
        places = np.concatenate([one.at[there] for one, there in zip(courses, seen)])
        usual = float(np.median(np.max([self._at(dark, places + np.array(by)) for by in _ROUND], axis=0)))
        heavy = (dark > HEAVY * usual).astype(np.uint8)
        left, bottom, right, top = laid.paper.field
        inside = np.zeros_like(heavy)
        inside[self._row(top) : self._row(bottom), int(left * MAP) : int(right * MAP)] = 1
        own = np.zeros_like(heavy)
        middle = np.median(np.array(list(shifts.values())), axis=0)
        for mark in laid.run.marks:
            for line in courses_of(mark, 0, laid.scale):
                self._draw(own, laid.on_paper(line) + middle, 2.0 * BESIDE + 0.6)
        for one in courses:
            self._draw(own, one.at, 2.0 * NEAR)
        self.rest = heavy * inside * (1 - own)
        beside = np.zeros_like(heavy)
        for mark in laid.run.marks:
            if mark.role not in LINED:
                for line in courses_of(mark, 0, laid.scale):
                    self._draw(beside, laid.on_paper(line) + middle, 2.0 * BESIDE)
        self.second = heavy * inside * (1 - beside)
        joined = cv2.morphologyEx(self.rest, cv2.MORPH_CLOSE, np.ones((7, 7), np.uint8))
        count, self.labels, self.stats, _ = cv2.connectedComponentsWithStats(joined)
        self.count = int(count)

    def _row(self, y: float) -> int:
        return max(int((self.high - y) * MAP), 0)

    def _at(self, field: NDArray[Any], places: Array) -> Array:
        column = np.clip((places[:, 0] * MAP).astype(int), 0, field.shape[1] - 1)
        row = np.clip(((self.high - places[:, 1]) * MAP).astype(int), 0, field.shape[0] - 1)
        return np.asarray(field[row, column], dtype=float)

    def _draw(self, field: NDArray[np.uint8], line: Array, wide: float) -> None:
        pixels = np.stack([line[:, 0] * MAP, (self.high - line[:, 1]) * MAP], axis=1)
        if np.isfinite(pixels).all():
            cv2.polylines(field, [np.round(pixels).astype(np.int32)], False, (1,), max(round(wide * MAP), 1))

    def leaving(self, one: _Course, start: int, end: int) -> float:
        """How far the line that begins where an outline is lost strays from it, at most; 0 where there is none."""
        ends = one.at[[max(start - 1, 0), min(end, len(one.at) - 1)]]
        most = 0.0
        for k in range(1, self.count):
            if max(self.stats[k][cv2.CC_STAT_WIDTH], self.stats[k][cv2.CC_STAT_HEIGHT]) < LETTER * MAP:
                continue
            rows, columns = np.nonzero(self.labels == k)
            at = np.stack([columns / MAP, self.high - rows / MAP], axis=1)
            if min(float(np.hypot(*(at - here).T).min()) for here in (*ends, *one.at[start:end:3])) < REACH:
                some = at[:: max(len(at) // 200, 1)]
                off = np.hypot(*np.moveaxis(some[:, None] - one.at[None], -1, 0)).min(axis=1)
                most = max(most, float(off.max()))
        return most

    def twice(self, one: _Course) -> Stray | None:
        """A second line that runs along an outline; None where there is none."""
        normal = np.stack([-one.way[:, 1], one.way[:, 0]], axis=1)
        best: tuple[int, float] = (0, 0.0)
        for off in np.arange(TWICE[0] + 0.3, TWICE[1], 0.25):
            for side in (1.0, -1.0):
                there = self._at(self.second.astype(np.float32), one.at + side * off * normal) > 0
                between = self._at(self.second.astype(np.float32), one.at + side * off / 2 * normal) > 0
                count = int((there & ~between).sum())
                best = max(best, (count, float(off)))
        count, off = best
        if count < max(ALONG * len(one.at), LONG / APART):
            return None
        first, last = (one.names[0][1], one.names[-1][1]) if one.names else ("", "")
        return Stray("twice", first, last, off, APART * count, one.at)


_ROUND = ((0.0, 0.0), (0.25, 0.0), (-0.25, 0.0), (0.0, 0.25), (0.0, -0.25))
