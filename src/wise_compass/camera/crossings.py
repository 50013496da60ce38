"""The lines through a point of a drawing, and where they cross on a sheet's ink."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.camera.evidence import ARM, NEAR, Inked, SeenInk, lines_seen
from wise_compass.camera.pencil import MISS, SLANT, Through, crossing, crossing_of, lines_at
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, Mark
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array

READ = 0.08
"""mm by which the crossing of pencil lines may miss the point that they go through, one deviation."""
PULL, CLOSE = 0.06, 0.02
"""How much a place speaks against itself by each squared deviation from where it is likely, and by how much it has to
be better than another to be taken for the point."""
FARTHEST = 30.0
"""Squared deviations from which a place is no likelier the nearer it lies."""
APART = 0.4
"""mm by which two crossings are two, and not one seen twice."""


class FoundCrossing(NamedTuple):
    """A point found: where, mm from the paper's lower left corner, one deviation of that, the sine of the angle at
    which its lines cross best, and whether no line that is lined in there is missing."""

    at: Array
    sd: float
    sine: float = 1.0
    whole: bool = True


class InkLine(NamedTuple):
    """A line through a point: its direction there, how far it is drawn either way in mm of the paper, its curvature,
    how much it counts, and from how far off the crossing it is looked at."""

    way: Array
    reach: tuple[float, float]
    bent: float
    weight: float
    near: float = NEAR


def lines_of(
    drawn: Run | Draft, through: Through, ticks: Sequence[Array], marks: list[Mark], name: str, scale: float
) -> list[InkLine]:
    """The lines by which a point of a drawing shows."""
    made = []
    for one in lines_at(drawn, name, through, ticks, scale):
        whole = float(np.hypot(*np.diff(one.course, axis=0).T).sum())
        reach = (one.along * scale, (whole - one.along) * scale)
        if one.mark >= 0:
            mark = marks[one.mark]
            if isinstance(mark, ArcMark) and mark.whole and mark.span is None:
                reach = (9.0, 9.0)
        made.append(InkLine(one.way, reach, _bent(one.course, one.along) / scale, one.weight))
    return [line._replace(near=_clear_of(line, made)) for line in made]


def _clear_of(line: InkLine, lines: list[InkLine]) -> float:
    """How far from the crossing a line stands clear of the others that cross it aslant."""
    sines = [
        abs(float(line.way[0] * other.way[1] - line.way[1] * other.way[0])) for other in lines if other is not line
    ]
    return float(np.clip(0.45 / max(min(sines, default=1.0), 0.1), NEAR, 3.0))


def _bent(line: Array, along: float) -> float:
    """The curvature of a polyline about a place, to the left, in 1/mm of its own."""
    if len(line) < 3:
        return 0.0
    lengths = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    step = min(4.0, 0.25 * float(lengths[-1]))
    middle = min(max(along, step), float(lengths[-1]) - step)
    a, b, c = (
        np.array([np.interp(t, lengths, line[:, 0]), np.interp(t, lengths, line[:, 1])])
        for t in (middle - step, middle, middle + step)
    )
    u, v = b - a, c - b
    turn = float(np.arctan2(u[0] * v[1] - u[1] * v[0], u @ v))
    return turn / max(0.5 * float(np.hypot(*u) + np.hypot(*v)), 1e-9)


def dark_there(ink: Inked, lines: list[InkLine], at: Array) -> Array:
    """How much of the lines through a point would lie on ink, were it at each of some places: a quick look before a
    careful one."""
    shares = np.ones(len(at))
    for line in lines[:4]:
        t = np.linspace(-min(line.reach[0], 3.0), min(line.reach[1], 3.0), 9)
        normal = np.array([-line.way[1], line.way[0]])
        course = t[:, None] * line.way + (0.5 * line.bent * t * t)[:, None] * normal
        shares = np.minimum(shares, (ink.off(at[:, None] + course[None]) < 0.5).mean(axis=1))
    return shares


def crossing_seen(
    ink: Inked, at: Array, lines: list[InkLine], cover: Array, certain: bool = False
) -> tuple[FoundCrossing | None, float]:
    """Where the lines through a point cross on the paper, near ``at`` where it is believed to lie, and how much speaks
    for it; None where they are not to be seen.

    Of the lines that may be each of them, those are taken that cross in one place, are clear, and lie where they are
    likely. ``certain`` asks for every line that counts to be there without a gap.
    """
    wide = min(3.5 * float(np.sqrt(np.linalg.eigvalsh(cover)[-1])) + 0.6, 4.0)
    likely = np.linalg.inv(cover + np.eye(2) * READ**2)
    far = float(np.sqrt(np.linalg.eigvalsh(cover)[-1]))
    seen = [
        lines_seen(
            ink,
            at,
            line.way,
            line.reach,
            wide,
            line.bent,
            line.weight > 2,
            line.near,
            2.0 * far / max(sum(line.reach), ARM),
        )
        for line in lines
    ]
    best: list[tuple[InkLine, SeenInk]] = []
    most = -np.inf
    tried: list[tuple[float, Array]] = []
    where = at
    for x in _crossings(at, lines, seen):
        chosen, score = _agreeing(x, at, lines, seen)
        score -= PULL * min(float((x - at) @ likely @ (x - at)), FARTHEST)
        tried.append((score, x))
        if score > most:
            best, most, where = chosen, score, x
    if any(score > most - CLOSE and float(np.hypot(*(x - where))) > 0.6 for score, x in tried):
        return None, most  # as much speaks for another place: better none than a wrong one
    counting = [line for line in lines if line.weight >= 1]
    there = [line for line, _ in best if line.weight >= 1]
    if len(there) < min(len(counting), 2) or (certain and (len(there) < len(counting) or not _clearly(best))):
        return None, most
    solved = _solved(at, best, where)
    if solved is None or float(np.hypot(*(solved.at - at))) > 1.5 * wide + 0.3:
        return None, most
    heavy = [line for line in lines if line.weight > 1]
    return solved._replace(whole=all(any(one is line for one, _ in best) for line in heavy)), most


def _clearly(seen: list[tuple[InkLine, SeenInk]]) -> bool:
    """Whether lines were seen without a gap."""
    return all(one.clear >= 0.9 for _, one in seen)


def _crossings(at: Array, lines: list[InkLine], seen: list[list[SeenInk]]) -> list[Array]:
    """Every place where two of the lines that were seen cross well."""
    found = []
    for i in range(len(lines)):
        for j in range(i):
            if abs(float(lines[i].way[0] * lines[j].way[1] - lines[i].way[1] * lines[j].way[0])) < SLANT:
                continue
            for one in seen[i]:
                for other in seen[j]:
                    found.append(crossing(_placed(at, lines[i], one), _placed(at, lines[j], other)))
    return found


def _placed(at: Array, line: InkLine, one: SeenInk) -> tuple[Array, Array]:
    """A line as it was seen: a place of it, and its direction."""
    normal = np.array([-line.way[1], line.way[0]])
    return at + one.off * normal, line.way + one.lean * normal


def _agreeing(
    x: Array, at: Array, lines: list[InkLine], seen: list[list[SeenInk]]
) -> tuple[list[tuple[InkLine, SeenInk]], float]:
    """The lines that go through a place, and how much speaks for it."""
    chosen: list[tuple[InkLine, SeenInk]] = []
    score = 0.0
    for line, candidates in zip(lines, seen):
        runs_out = line.bent and min(line.reach) < line.near  # how a curve bends at its end nobody knows
        worth = min(line.weight, 1.0 if runs_out else 1.5)
        misses = []
        for one in candidates:
            place, way = _placed(at, line, one)
            misses.append(abs(float((x - place)[0] * way[1] - (x - place)[1] * way[0])))
        k = int(np.argmin(misses)) if misses else -1
        limit = (
            0.4 if line.weight > 1 else 0.25 if line.weight == 1 else 0.5
        )  # a broad line is drawn into one beside it
        if k < 0 or misses[k] > limit:
            score -= 0.5 * worth
            continue
        chosen.append((line, candidates[k]))
        score += worth * (2.0 * candidates[k].clear - 1.0 - misses[k])
    return chosen, score


def _solved(at: Array, seen: list[tuple[InkLine, SeenInk]], where: Array) -> FoundCrossing | None:
    """The crossing of lines that were seen, each worth the more the better it was seen, but no other than that at
    ``where``; None where they do not cross well."""
    placed = [_placed(at, line, one) for line, one in seen]
    weights = [line.weight * 0.05 / (one.sd + 0.04) for line, one in seen]
    found = crossing_of([place for place, _ in placed], [way for _, way in placed], weights, MISS)
    if found is None:
        return None
    x, kept = found
    if float(np.hypot(*(x - where))) > APART:  # of lines that run into each other the crossing is worth little
        x, kept = where, list(range(len(seen)))
    ways = np.array([placed[k][1] for k in kept])
    normals = np.stack([-ways[:, 1], ways[:, 0]], axis=1) / np.hypot(*ways.T)[:, None]
    sds = np.array([seen[k][1].sd + 0.02 for k in kept])
    cover = np.linalg.inv(normals.T @ (normals / (sds**2)[:, None]))
    u = ways / np.hypot(*ways.T)[:, None]
    sine = float(np.abs(u[:, None, 0] * u[None, :, 1] - u[:, None, 1] * u[None, :, 0]).max())
    return FoundCrossing(x, float(np.sqrt(np.trace(cover) / 2)), sine)
