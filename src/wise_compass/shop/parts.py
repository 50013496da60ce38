"""The parts of a pattern as they were drawn: every edge with the course that the hand lined in, and every fold with its
angle."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Developed, Edge
from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Role, nominal
from wise_compass.drafting.run import Run
from wise_compass.geometry.fair import along_curve
from wise_compass.geometry.unfold import Pattern
from wise_compass.geometry.vectors import Array, angle_of, cross, distance, length, polar

NEAR = 1e-7
"""Of the drawing's size: two places that are nearer are one."""
OFF_GRID = 0.2718
"""Keeps round numbers off the borders between two places."""
SAG = 0.004
"""mm that a chord of a cut edge may stay off the curve that was drawn."""
WHOLE = 360.0 - 1e-6
"""Degrees from which on an arc is a whole circle."""
STRAIGHT = 1e-9
"""Two edges that turn by less, as a sine, run on straight."""


class Side(NamedTuple):
    """A line of the outline that runs on without a corner: what it is, the keys along it, and its course (m, 2), the
    part on its left.

    ``stations`` tells how far along the course each key lies, in mm.
    """

    kind: str
    keys: tuple[str, ...]
    course: Array
    stations: tuple[float, ...]

    @property
    def long(self) -> float:
        """Its length along the course."""
        return _long(self.course)

    @property
    def called(self) -> str:
        return f"{self.keys[0]} {self.keys[-1]}"


class Fold(NamedTuple):
    """A fold line: the vertices at its ends, where they lie (2, 2), and the angle in degrees to which it is folded from
    the flat.

    It is less than 0 where the skin is folded towards whoever looks at its outside.
    """

    name: str
    ends: Array
    angle: float


class CutPart(NamedTuple):
    """A part to be cut out, ``copies`` of it."""

    title: str
    copies: int
    sides: tuple[Side, ...]

    @property
    def outline(self) -> Array:
        """Its corners and the points of its curves in order, (m, 2), anticlockwise."""
        return np.concatenate([side.course[:-1] for side in self.sides])

    @property
    def area(self) -> float:
        """By the shoelace formula."""
        at = self.outline
        return float(cross(at, np.roll(at, -1, axis=0)).sum()) / 2


def cuts_of(run: Run) -> list[CutPart]:
    """Every part of a run's pattern; none where it has no pattern."""
    parts = run.parts
    if not parts:
        return []
    lines = _Lined(run)
    folded = {key for mark in lines.folds for key in _ends(mark, lines.size)}
    found = []
    for part in parts:
        if part.outline is not None:
            corners = np.vstack([part.outline, part.outline[:1]])
            sides = [
                Side("cut", ("", ""), corners[k : k + 2], (0.0, _long(corners[k : k + 2])))
                for k in range(len(part.outline))
            ]
            found.append(CutPart(part.title, part.copies, tuple(sides)))
            continue
        sides = []
        for edge in part.edges:
            a, b = run.found[edge.start], run.found[edge.end]
            course = lines.course(edge, a, b)
            if _long(course) > lines.near:
                sides.append(Side(edge.kind, (edge.start, edge.end), course, (0.0, _long(course))))
        sides = _joined(_anticlockwise(sides), folded, lines.size)
        found.append(CutPart(part.title, part.copies, tuple(sides)))
    if isinstance(run.figure, Developed) and run.figure.pierced:
        found += [CutPart("Hole", 1, (hole,)) for hole in lines.holes()]
    return found


def _long(course: Array) -> float:
    return float(np.asarray(length(course[1:] - course[:-1])).sum())


def _anticlockwise(sides: list[Side]) -> list[Side]:
    at = np.concatenate([side.course[:-1] for side in sides])
    if float(cross(at, np.roll(at, -1, axis=0)).sum()) >= 0:
        return sides
    return [side._replace(keys=side.keys[::-1], course=side.course[::-1]) for side in reversed(sides)]


def _place(at: Array, size: float) -> tuple[int, int]:
    x, y = np.round(at / (NEAR * size) + OFF_GRID).astype(int).tolist()
    return x, y


def _ends(mark: LineMark | CurveMark, size: float) -> list[tuple[int, int]]:
    ends = mark.drawn() if isinstance(mark, LineMark) else mark.course()[[0, -1]]
    return [_place(end, size) for end in ends]


def _joined(sides: list[Side], folded: set[tuple[int, int]], size: float) -> list[Side]:
    """Neighbours that run on into each other as one: on a curve, or straight where no fold line ends between them."""
    found: list[Side] = []
    for side in sides:
        if found and found[-1].kind == side.kind and _runs_on(found[-1], side, folded, size):
            last = found[-1]
            straight = len(last.course) == len(side.course) == 2
            course = (last.course[:1], side.course[1:]) if straight else (last.course, side.course[1:])
            stations = (*last.stations, last.stations[-1] + side.stations[-1])
            found[-1] = Side(side.kind, last.keys + side.keys[1:], np.concatenate(course), stations)
        else:
            found.append(side)
    return found


def _runs_on(one: Side, other: Side, folded: set[tuple[int, int]], size: float) -> bool:
    if _place(other.course[0], size) in folded:
        return False
    u, v = one.course[-1] - one.course[-2], other.course[1] - other.course[0]
    sine = abs(float(cross(u, v))) / float(length(u) * length(v))
    curved = len(one.course) > 2 and len(other.course) > 2
    return sine < (0.1 if curved else STRAIGHT) and float(u @ v) > 0


class _Lined:
    """What was lined in of a run, to find the course of an edge between two of its points."""

    def __init__(self, run: Run) -> None:
        low, high = run.extent
        self.size = float(np.abs(high - low).max())
        self.near = NEAR * self.size
        self.arcs: list[tuple[Array, float, float, float]] = []
        self.pieces: dict[tuple[tuple[int, int], tuple[int, int]], Array] = {}
        self.folds: list[LineMark | CurveMark] = []
        for mark in run.marks:
            if mark.role is Role.FOLD and not isinstance(mark, ArcMark):
                self.folds.append(mark)
            elif mark.role is not Role.OUTLINE:
                continue
            elif isinstance(mark, ArcMark):
                arc = (nominal(mark.centre, 1), float(nominal(mark.radius, 0)))
                self.arcs += [(*arc, start, sweep) for start, sweep in mark.spans()]
            elif isinstance(mark, CurveMark) and mark.fair:
                self._enter(mark)

    def _enter(self, mark: CurveMark) -> None:
        for segment in mark.segments():
            self.pieces[_place(segment[0], self.size), _place(segment[3], self.size)] = segment

    def course(self, edge: Edge, a: Array, b: Array) -> Array:
        """The course from one end of an edge to the other as it was lined in: on a curve, on an arc, else straight."""
        start, end = _place(a, self.size), _place(b, self.size)
        for ends, way in (((start, end), 1), ((end, start), -1)):
            if ends in self.pieces:
                return self._ended(_bent(self.pieces[ends])[::way], a, b)
        if edge.kind not in ("seam", "side"):
            for centre, radius, begin, sweep in self._arcs_through(a, b):
                ends_of = polar(centre, radius, np.array([begin, begin + sweep]))
                for way in (1, -1):  # a whole arc, though it be nearly a full turn
                    if float(distance(ends_of[::way][0], a) + distance(ends_of[::way][1], b)) <= self.near:
                        steps = begin + np.linspace(0.0, sweep, _chords(radius, sweep) + 1)[::way]
                        return self._ended(polar(centre, radius, steps), a, b)
                turns = [(float(angle_of(at - centre)) - begin + 1e-6) % 360.0 for at in (a, b)]
                off = max(abs(float(distance(at, centre)) - radius) for at in (a, b))
                if off <= self.near and max(turns) <= sweep + 2e-6:
                    steps = (
                        np.linspace(turns[0], turns[1], _chords(radius, abs(turns[1] - turns[0])) + 1) + begin - 1e-6
                    )
                    return self._ended(polar(centre, radius, steps), a, b)
        return np.array([a, b])

    def _arcs_through(self, a: Array, b: Array) -> Iterator[tuple[Array, float, float, float]]:
        """The arcs on whose circles two places lie: of the many that a wheel has few are worth a closer look."""
        centres, radii = self._circles
        off = np.abs([distance(centres, at) - radii for at in (a, b)]).max(axis=0)
        yield from (self.arcs[k] for k in np.flatnonzero(off <= 2 * self.near).tolist())

    @cached_property
    def _circles(self) -> tuple[Array, Array]:
        """The middles and the radii of all arcs, (n, 2) and (n,)."""
        middles = np.array([centre for centre, *_ in self.arcs]).reshape(-1, 2)
        return middles, np.array([radius for _, radius, *_ in self.arcs])

    def holes(self) -> Iterator[Side]:
        """Whole circles, as they are cut."""
        for centre, radius, begin, sweep in self.arcs:
            if sweep >= WHOLE:
                course = polar(centre, radius, begin + np.linspace(0.0, 360.0, _chords(radius, 360.0) + 1))
                yield Side("hole", ("", ""), course, (0.0, _long(course)))

    @staticmethod
    def _ended(course: Array, a: Array, b: Array) -> Array:
        return np.concatenate([[a], course[1:-1], [b]])


def _chords(radius: float, sweep: float) -> int:
    """How many chords of an arc keep within ``SAG`` of it."""
    step = 2 * float(np.degrees(np.arccos(max(1 - SAG / max(radius, SAG), 0.0))))
    return max(2, int(np.ceil(sweep / max(step, 0.05))))


def _bent(segment: Array) -> Array:
    """A piece of a drawn curve as so many chords as keep within ``SAG`` of it."""
    long = float(distance(segment[0], segment[3]))
    bow = max(float(distance(segment[k], segment[0] + (segment[3] - segment[0]) * k / 3)) for k in (1, 2))
    return along_curve(segment[None], max(2, min(64, int(np.ceil(np.sqrt(max(bow, long * 1e-6) / SAG))))))


def folds_of(run: Run) -> list[Fold]:
    """Every fold line that was drawn, with the angle to which it is folded."""
    parts = run.parts
    pattern = run.pattern if parts else None
    if pattern is None:
        return []
    lines = _Lined(run)
    angles = _hinges(pattern, lines.size)
    found = []
    for mark in lines.folds:
        one, other = _ends(mark, lines.size)
        told = angles.get((one, other), angles.get((other, one)))
        if told is not None:
            ends = mark.drawn() if isinstance(mark, LineMark) else mark.course()[[0, -1]]
            found.append(Fold(told[0], ends, told[1]))
    return found


def _hinges(pattern: Pattern, size: float) -> dict[tuple[tuple[int, int], tuple[int, int]], tuple[str, float]]:
    """The edges at which pieces hang on their parents: the names of their ends, and the fold."""
    found = {}
    for piece in pattern.pieces:
        if piece.parent < 0 or not piece.fold:
            continue
        parent = set(pattern.pieces[piece.parent].names)
        names = [(name, at) for name, at in zip(piece.names, piece.flat) if name in parent]
        if len(names) == 2:
            (one, a), (other, b) = names
            found[_place(a, size), _place(b, size)] = (f"{one} {other}", piece.fold)
    return found
