"""A sheet as an unsteady hand draws it: pencil widths, faint construction, overshoots, rubbed-out places; and where its
points came to lie."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.camera.laid import LINED, Laid, blank, courses_of
from wise_compass.camera.raster import GreySurface, printed
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.instruments import ErringHands, SteadyHand, errors_of
from wise_compass.drafting.marks import ArcMark, LineMark, Mark
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, lanes_of
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import Judge

FINE = 16.0
"""Pixels to a mm of the paper."""
OUTLINE, FAINT = (0.45, 55), (0.22, 128)
"""Width in mm and grey of what is lined in with a soft lead and of what is drawn with a hard one."""
OVER = (0.6, 2.2)
"""mm that straight lines are drawn over their ends."""
SHORT = 4.0
"""mm of a line under which it is hardly seen for what it is."""
MISS = 0.22
"""mm by which a line that goes through a point may miss the crossing of the others there."""
TICK = 1.3
"""mm each way of the tick by which a place on a line is marked."""
TOUCH = 0.02
"""mm on the paper within which a mark goes through a point."""
ENDS = 0.5
"""mm along a curve from its end to a point that counts as its end."""
LOW = 0.16
"""The same of a line by which a point was found."""
ALONGSIDE = 0.3
"""Sine of the angle under which two lines through a point are taken for one."""
KINK = 0.97
"""Cosine of the turn from which a course has a corner."""
OPTIONAL = 0.4
"""How much a tick counts where two lines show the place without it."""
SLANT, PLAIN_SLANT = 0.3, 0.5
"""Sine of the angle from which two lines cross well enough to show a place, and from which a hand sees no need of a
tick."""


class Penned(NamedTuple):
    """A sheet drawn: its pixels, where each named point shows on the paper, in mm from the lower left corner, and where
    the hand had it. The two part where a blunder makes lines miss a point that others had found before."""

    surface: GreySurface
    points: dict[str, Array]
    had: dict[str, Array]


class Through(NamedTuple):
    """Which marks go through a spot: by their numbers, those that found it first, and the place on each."""

    marks: tuple[int, ...]
    finding: tuple[int, ...]


def marks_through(drawn: Run | Draft, scale: float) -> dict[str, Through]:
    """For every named spot the marks of the steady hand's drawing that go through it."""
    marks = marks_of(drawn)
    courses = [courses_of(mark, 0, scale) for mark in marks]
    boxes = [
        [(line.min(axis=0), line.max(axis=0)) for line in lines] or [(np.full(2, np.inf), np.full(2, -np.inf))]
        for lines in courses
    ]
    low, high = (
        np.array([extreme([box[k] for box in mine], axis=0) for mine in boxes])
        for k, extreme in enumerate((np.min, np.max))
    )
    near, found = TOUCH / scale, {}
    for name, spot in drawn.spots.items():
        if spot.kind in ("plain", "label"):
            continue
        close = np.flatnonzero(((spot.here >= low - near) & (spot.here <= high + near)).all(axis=1)).tolist()
        mine = [k for k in close if any(_off(line, spot.here) < near for line in courses[k])]
        found[name] = Through(tuple(mine), tuple(k for k in mine if marks[k].step <= spot.step))
    return found


def marks_of(drawn: Run | Draft) -> list[Mark]:
    """Every mark in the order in which it is drawn."""
    return [mark for step in drawn.steps for mark in step.marks]


def pieces_of(mark: Mark, lane: int, scale: float) -> list[tuple[Array, Array]]:
    """The smooth pieces of a mark's courses between its corners: as the steady hand draws each, and as the hand of a
    lane does."""
    made = []
    for steady, drawn in zip(courses_of(mark, 0, scale), courses_of(mark, lane, scale)):
        if len(steady) != len(drawn) or len(steady) < 3:
            made.append((steady, drawn))
            continue
        way = np.diff(steady, axis=0)
        way /= np.maximum(np.hypot(*way.T), 1e-12)[:, None]
        kinks = np.flatnonzero((way[1:] * way[:-1]).sum(axis=1) < KINK) + 1
        cuts = [0, *kinks.tolist(), len(steady) - 1]
        made += [(steady[a : b + 1], drawn[a : b + 1]) for a, b in zip(cuts, cuts[1:])]
    return made


def _off(line: Array, at: Array) -> float:
    """How far a place is from a polyline."""
    return float(nearest_on(line, at)[0])


def nearest_on(line: Array, at: Array) -> tuple[float, Array, Array, float]:
    """The distance of a place from a polyline, the nearest place on it, its direction there, and how far along it that
    is."""
    a, d = line[:-1], np.diff(line, axis=0)
    size = np.maximum((d * d).sum(axis=1), 1e-18)
    t = np.clip(((at - a) * d).sum(axis=1) / size, 0.0, 1.0)
    near = a + t[:, None] * d
    offs = np.hypot(*(near - at).T)
    k = int(np.argmin(offs))
    lengths = np.sqrt(size)
    along = float(lengths[:k].sum() + t[k] * lengths[k])
    return float(offs[k]), near[k], d[k] / lengths[k], along


def ticked(drawn: Run | Draft, scale: float, through: dict[str, Through]) -> dict[str, list[Array]]:
    """The short strokes by which a hand marks points that no two lines show: across the line they lie on, or a small
    cross."""
    ticks, marks = {}, marks_of(drawn)
    for name, one in through.items():
        here = drawn.spots[name].here
        ways = [_way(marks[k], here, scale) for k in one.finding]
        if any(abs(a[0] * b[1] - a[1] * b[0]) > PLAIN_SLANT for a in ways for b in ways):
            continue
        ticks[name] = [np.array([-ways[0][1], ways[0][0]])] if ways else [np.array([1.0, 0.0]), np.array([0.0, 1.0])]
    return ticks


def _way(mark: Mark, at: Array, scale: float, lane: int = 0) -> Array:
    """The direction of a mark where it is nearest to a place."""
    return min((nearest_on(line, at) for line in courses_of(mark, lane, scale)), key=lambda found: found[0])[2]


def drawn_by(
    laid: Laid, hands: int, slip: str | None = None, off: tuple[int, float] | None = None
) -> tuple[Draft, int]:
    """A draft with a hand that draws as asked, and its lane: hand number ``hands``, with a slip, or (step, deviations)
    off.

    Raises :class:`Refused` for a slip or a step that the method has not, and where the hand does not come to an end.
    """
    made, figure, method = laid.run, laid.run.figure, laid.run.method
    if slip is not None and slip not in {one.id for one in made.slips}:
        raise Refused(
            "slip",
            f"{made.method.title} knows no slip “{slip}”; it knows "
            f"{', '.join(one.id for one in made.slips) or 'none'}.",
        )
    hand: SteadyHand | None = None
    if off is not None:
        hand = _off_hand(laid, hands, *off)
    lanes = lanes_of(figure, method, 1, hands, made.conventions, laid.scale, slip, hand)
    at = [spot.at if spot.at.ndim == 1 else spot.at[1] for spot in lanes.draft.spots.values()]
    if not np.isfinite(np.array(at)).all():
        raise Refused(
            "hands", f"Hand {hands} finds no crossing somewhere and does not come to the end. Take another hand."
        )
    return lanes.draft, 1


def _off_hand(laid: Laid, hands: int, step: int, deviations: float) -> SteadyHand:
    judge = Judge(laid.run, laid.scale, 2)
    errors = [error for error in judge.strays[1] if error.step == step]
    if not errors:
        raise Refused("off", f"Step {step} sets nothing that could be off; take another of {len(laid.run.steps)}.")
    worst = max(errors, key=lambda error: (error.tolerance.endswith(("setting", "mark", "taken", "stepped")), error.sd))
    made = lanes_of(laid.run.figure, laid.run.method, 1, hands, laid.run.conventions, laid.scale).made
    return ErringHands(2, {**errors_of(made), worst.number: (0.0, deviations * worst.sd)})


def pencilled(laid: Laid, hands: int = 0, slip: str | None = None, off: tuple[int, float] | None = None) -> Penned:
    """A blank sheet of it, drawn upon; raises :class:`Refused`."""
    draft, lane = drawn_by(laid, hands, slip, off)
    through = marks_through(draft, laid.scale)
    swing_far_enough(draft, lane, through)
    surface = printed(blank(laid), FINE)
    random = np.random.default_rng((hands, 77))
    for mark in marks_of(draft):
        width, tone = OUTLINE if mark.role in LINED else FAINT
        for line in courses_of(mark, lane, laid.scale):
            _stroke(surface, laid, mark, line, width, tone, random)
    ticks = ticked(draft, laid.scale, through)
    for name, ways in ticks.items():
        at = laid.on_paper(_in_lane(draft.spots[name].at, lane))
        for way in ways:
            surface.stroke(np.array([at - TICK * way, at + TICK * way]), 0.2, 110)
    _rub_out(surface, laid, random)
    points = {
        name: laid.on_paper(_shown(draft, lane, name, one, ticks.get(name, []), laid.scale))
        for name, one in through.items()
    }
    return Penned(surface, points, {name: laid.on_paper(_in_lane(draft.spots[name].at, lane)) for name in through})


def swing_far_enough(draft: Draft, lane: int, through: dict[str, Through]) -> None:
    """Have short arcs drawn as far as where this hand found something on them, beside where the steady one does."""
    marks = marks_of(draft)
    for name, one in through.items():
        at = _in_lane(draft.spots[name].at, lane)
        for mark in (marks[k] for k in one.finding):
            if isinstance(mark, ArcMark):
                mark.reach(at - _in_lane(mark.centre, lane) + _in_lane(mark.centre, 0))


def _in_lane(value: Array, lane: int) -> Array:
    return value if value.ndim == 1 else np.asarray(value[lane])


def _stroke(
    surface: GreySurface, laid: Laid, mark: Mark, line: Array, width: float, tone: int, random: np.random.Generator
) -> None:
    """One pass of the pencil, over the ends a little where it is a straight line, its weight not quite even."""
    placed = laid.on_paper(line)
    if isinstance(mark, LineMark):
        way = placed[1] - placed[0]
        long = float(np.hypot(*way))
        if long < 1e-6:
            return
        over = random.uniform(*OVER, 2) if mark.role not in LINED else random.uniform(0.0, 0.5, 2)
        placed = np.array([placed[0] - way / long * over[0], placed[1] + way / long * over[1]])
    pieces = max(int(np.hypot(*np.diff(placed, axis=0).T).sum() / 12.0), 1)
    if isinstance(mark, LineMark):
        placed = placed[0] + np.linspace(0.0, 1.0, pieces + 1)[:, None] * (placed[1] - placed[0])
        cuts = list(range(pieces + 1))
    else:
        cuts = [round(k * (len(placed) - 1) / pieces) for k in range(pieces + 1)]
    for a, b in zip(cuts, cuts[1:]):
        surface.stroke(
            placed[a : b + 1], width * random.uniform(0.85, 1.15), int(np.clip(tone + random.normal(0, 12), 20, 200))
        )


def _rub_out(surface: GreySurface, laid: Laid, random: np.random.Generator) -> None:
    """Two places where something was rubbed out: paler, and the paper a little grey."""
    low, high = (laid.on_paper(corner) for corner in laid.run.extent)
    for _ in range(2):
        x, y = random.uniform(low, high)
        half = int(2.0 * surface.fine)
        column, row = round(x * surface.fine), round((surface.height - y) * surface.fine)
        place = surface.pixels[max(row - half, 0) : row + half, max(column - half, 0) : column + half]
        place[:] = (place * 0.35 + 0.65 * 244).astype(np.uint8)


class PencilLine(NamedTuple):
    """A line through a point, as the eye takes it there: which mark it is (-1 for a tick), where it is nearest in
    figure mm, its direction there, how far along its course that is, the course, and how much it counts."""

    mark: int
    near: Array
    way: Array
    along: float
    course: Array
    weight: float


def lines_at(
    drawn: Run | Draft, name: str, through: Through, ticks: Sequence[Array], scale: float, lane: int = 0
) -> list[PencilLine]:
    """The lines by whose crossing the eye knows a point: of those of one direction the heaviest, or the first that was
    there."""
    spot, marks = drawn.spots[name], marks_of(drawn)
    at = _in_lane(spot.at, lane)
    found: list[PencilLine] = []
    for number in through.marks:
        mark = marks[number]
        weight = 3.0 if mark.role in LINED else 1.0 if number in through.finding else 0.3
        for steady, course in pieces_of(mark, lane, scale):
            if _off(steady, spot.here) * scale < TOUCH and np.isfinite(course).all():
                _, near, way, along = nearest_on(course, at)
                long = float(np.hypot(*np.diff(course, axis=0).T).sum()) * scale
                found.append(PencilLine(number, near, way, along, course, weight if long > SHORT else 0.3 * weight))
    stroke, finding = TICK / scale, [one.way for one in found if one.weight >= 1.0]
    shown = any(abs(float(a[0] * b[1] - a[1] * b[0])) > SLANT for a in finding for b in finding)
    # where two lines show the place well enough, many a hand sees no need of a tick
    worth = OPTIONAL if shown else 1.0
    found += [PencilLine(-1, at, way, stroke, np.array([at - stroke * way, at + stroke * way]), worth) for way in ticks]
    kept: list[PencilLine] = []
    # a stroke that stands on a line that is drawn anyway tells nothing that the line does not
    for each in sorted(found, key=lambda one: (one.mark < 0, -one.weight)):
        # of two lines that cross flatly, the outline lies between: both are needed, though it runs alongside either
        finds = each.weight == 1.0 and each.mark >= 0
        least = LOW if finds else ALONGSIDE
        if all(
            abs(float(each.way[0] * one.way[1] - each.way[1] * one.way[0])) > least or finds and _runs_out(one, scale)
            for one in kept
        ):
            kept.append(each)
    return kept


def _runs_out(line: PencilLine, scale: float) -> bool:
    """Whether a curve ends at the point: which way it goes there nobody can tell."""
    if len(line.course) < 3:
        return False
    whole = float(np.hypot(*np.diff(line.course, axis=0).T).sum())
    return min(line.along, whole - line.along) * scale < ENDS


def _shown(draft: Draft, lane: int, name: str, through: Through, ticks: Sequence[Array], scale: float) -> Array:
    """Where a point shows on the paper: where the lines that go through it cross as they were drawn."""
    lines = lines_at(draft, name, through, ticks, scale, lane)
    shown = crossing_of(
        [line.near for line in lines], [line.way for line in lines], [line.weight for line in lines], MISS / scale
    )
    return _in_lane(draft.spots[name].at, lane) if shown is None else shown[0]


def crossing_of(
    places: Sequence[Array], ways: Sequence[Array], weights: Sequence[float], far: float
) -> tuple[Array, list[int]] | None:
    """Where lines cross, by least squares, and which of them: one that misses the crossing of the others by more than
    ``far`` is left out. None where no two of them cross well enough."""
    kept = list(range(len(places)))
    while len(kept) >= 2:
        u = np.array([ways[k] for k in kept])
        u /= np.hypot(*u.T)[:, None]
        if np.abs(u[:, None, 0] * u[None, :, 1] - u[:, None, 1] * u[None, :, 0]).max() < SLANT:
            return None
        normals = np.stack([-u[:, 1], u[:, 0]], axis=1)
        worth = np.array([weights[k] for k in kept])
        target = (normals * np.array([places[k] for k in kept])).sum(axis=1)
        x, *_ = np.linalg.lstsq(normals * worth[:, None], target * worth, rcond=None)
        left = np.abs(normals @ x - target)
        if len(kept) == 2 or left.max() <= far:
            return np.asarray(x), kept
        kept.pop(int(np.argmax(left)))
    return None


def crossing(one: tuple[Array, Array], other: tuple[Array, Array]) -> Array:
    """Where two lines, each a place and a direction, cross."""
    (p, u), (q, v) = one, other
    return np.asarray(p + u * float(((q - p)[0] * v[1] - (q - p)[1] * v[0]) / (u[0] * v[1] - u[1] * v[0])))
