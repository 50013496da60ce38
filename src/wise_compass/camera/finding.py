"""Finding the named points of a drawing on the squared-up sheet.

The drawing that lies best on the ink is taken first, the honest one or one with a known slip. Then each point is looked for in the order of
the steps, where the hand's own scatter and what was found before say that it lies; where it is not, as far out along each setting's influence
as a blunder would have moved it. What is found is the crossing of the lines there.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from wise_compass.camera.beliefs import Beliefs
from wise_compass.camera.evidence import NEAR, Inked, Seen, lines_seen
from wise_compass.camera.laid import Laid
from wise_compass.camera.pencil import MISS, SLANT, crossing, crossing_of, lines_at, marks_of, marks_through, ticked
from wise_compass.camera.sketches import TRIED, Sketch, sketches_of
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, Mark
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import NO_END, Run, run
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import unheard

PUSHED = tuple(float(x) for x in np.concatenate([np.arange(-26, -5.9, 0.5), np.arange(6, 26.1, 0.5)]))
"""How many deviations a blundered setting may be off."""
READ = 0.08
"""mm by which the crossing of pencil lines may miss the point that they go through, one deviation."""
SAME, CROWDED = 0.05, 2.0
"""mm on the paper within which two points are one, and within which two are too near to each other."""
SNAP = 1.0
"""mm within which a ring that is put down snaps to a crossing."""
PULL, TORN, CLOSE = 0.06, 0.25, 0.02
"""How much a place speaks against itself by each squared deviation from where it is likely, and by how much one has to be better than
another to be taken for it, among blunders and near where it is believed to lie."""
LOST = 12.0
"""mm, one deviation, from which nothing is known of where a point lies by itself, and any crossing could be it."""
SEEN = 0.5
"""Of a drawing's outline: what has to lie on ink for it to be this drawing at all."""


class Found(NamedTuple):
    """A point found: where, mm from the paper's lower left corner, and one deviation of that."""

    at: Array
    sd: float


class Finding(NamedTuple):
    """What was found of a drawing, what was not, the slip with which it was drawn if it lies best so, and how well it lies (0 to 1);
    ``crowded`` are points that lie too near to others to be told from them, which are not looked for."""

    points: dict[str, Found]
    missing: tuple[str, ...]
    slip: str | None
    lies: float
    crowded: tuple[str, ...] = ()


def find(ink: Inked, laid: Laid, hear: Callable[[int, int], None] = unheard) -> Finding:
    """Find the named points; raises :class:`Refused` where the sheet does not show this drawing."""
    sketches = sketches_of(ink, laid, hear)
    lies = max(sketch.lies for sketch in sketches)
    if lies < SEEN:
        raise Refused(
            "photo",
            f"The sheet does not show {laid.run.figure.title.lower()} as it is asked for: {100 * max(lies, 0):.0f} % of its lines are there. "
            "Take its own sheet.",
        )
    best: Finding | None = None
    score = -np.inf
    for k, sketch in enumerate(sketches):
        hear(TRIED + k, 2 * TRIED)
        finding, likely = _followed(ink, laid, sketch)
        if likely > score:
            best, score = finding, likely
    assert best is not None
    return best


def snapped(ink: Inked, laid: Laid, slip: str | None, name: str, at: Array) -> Array:
    """The crossing of a point's lines nearest to where its ring was put; that place itself where there is none."""
    drawn = laid.run if slip is None else run(laid.run.figure, laid.run.method.id, laid.run.conventions, slip)
    through = marks_through(drawn, laid.scale)
    if name not in through:
        return at
    sketch = Sketch(slip, drawn, through, ticked(drawn, laid.scale, through), 1.0)
    found, _ = _crossing(ink, at, _lines(laid, sketch, drawn.marks, name), np.eye(2) * 0.15**2)
    return at if found is None or float(np.hypot(*(found.at - at))) > SNAP else found.at


def crowded_in(drawn: Run | Draft, scale: float) -> list[str]:
    """The named points that lie so near to another, yet not on it, that no photograph tells which lines are whose."""
    spots = {name: spot for name, spot in drawn.spots.items() if spot.kind not in ("plain", "label")}
    at = np.array([spot.here for spot in spots.values()]) * scale
    apart = np.hypot(*np.moveaxis(at[:, None] - at[None], -1, 0))
    near = ((apart > SAME) & (apart < CROWDED)).any(axis=1)
    return [name for name, one in zip(spots, near) if one]


def _followed(ink: Inked, laid: Laid, sketch: Sketch) -> tuple[Finding, float]:
    """Every point of a drawing looked for, step by step; and how likely it all is, to tell one drawing from another."""
    try:
        beliefs = Beliefs(laid, sketch.slip, sketch.drawn)
    except (Refused, *NO_END):
        return Finding({}, tuple(sketch.through), sketch.slip, sketch.lies), -np.inf
    marks = marks_of(sketch.drawn)
    order = sorted(range(len(beliefs.names)), key=lambda k: sketch.drawn.spots[beliefs.names[k]].step)
    points: dict[str, Found] = {}
    likely = 0.0
    crowded = crowded_in(laid.run, laid.scale)
    for k in order:
        name = beliefs.names[k]
        if name not in sketch.through or name in crowded:
            continue
        found, blunder = _looked_for(ink, laid, sketch, marks, beliefs, k)
        if found is None:
            likely -= 6.0
            continue
        where, cover = beliefs.place(k)
        off = found.at - laid.origin - where
        if blunder < 0:
            likely -= 0.5 * float(off @ np.linalg.solve(cover + np.eye(2) * READ**2, off))
        else:
            likely -= 9.0
        points[name] = found
        beliefs.learn(k, found.at - laid.origin, float(np.hypot(READ, found.sd)), blunder)
    missing = tuple(name for name in beliefs.names if name in sketch.through and name not in points and name not in crowded)
    return Finding(points, missing, sketch.slip, sketch.lies, tuple(crowded)), likely + 40.0 * sketch.lies


def _looked_for(
    ink: Inked, laid: Laid, sketch: Sketch, marks: list[Mark], beliefs: Beliefs, k: int
) -> tuple[Found | None, int]:
    """Point number k where it is believed to lie; else as far out as a blunder of one setting would have it, with that setting."""
    where, cover = beliefs.place(k)
    lines = _lines(laid, sketch, marks, beliefs.names[k])
    if float(np.linalg.eigvalsh(cover)[-1]) > LOST**2:  # it is where the whole drawing has it, or nowhere
        return _crossing(ink, laid.origin + beliefs.exact[k], lines, np.eye(2), certain=True)[0], -1
    found, _ = _crossing(ink, laid.origin + where, lines, cover)
    if found is not None:
        return found, -1
    hits: list[tuple[float, Found, int]] = []
    for error in beliefs.settings_of(k):
        tried = laid.origin + where + np.outer(np.array(PUSHED) - beliefs.mean[error], beliefs.move[error, k])
        for push in np.flatnonzero(_dark_there(ink, lines, tried) >= 0.75).tolist():
            hit, score = _crossing(ink, tried[push], lines, np.eye(2) * 0.15**2, certain=True)
            if hit is not None:
                hits.append((score - 0.02 * abs(PUSHED[push]), hit, error))
    if not hits:
        return None, -1
    score, best, error = max(hits, key=lambda one: one[0])
    if any(float(np.hypot(*(other.at - best.at))) > 0.6 and other_score > score - TORN for other_score, other, _ in hits):
        return None, -1  # it may be here or there: better none than a wrong one
    return best, error


class _Line(NamedTuple):
    """A line through a point: its direction there, how far it is drawn either way in mm of the paper, its curvature, how much it counts,
    and from how far off the crossing it is looked at."""

    way: Array
    reach: tuple[float, float]
    bent: float
    weight: float
    near: float = NEAR


def _lines(laid: Laid, sketch: Sketch, marks: list[Mark], name: str) -> list[_Line]:
    made = []
    for one in lines_at(sketch.drawn, name, sketch.through[name], sketch.ticks.get(name, ()), laid.scale):
        whole = float(np.hypot(*np.diff(one.course, axis=0).T).sum())
        reach = (one.along * laid.scale, (whole - one.along) * laid.scale)
        if one.mark >= 0:
            mark = marks[one.mark]
            if isinstance(mark, ArcMark) and mark.whole and mark.span is None:
                reach = (9.0, 9.0)
        made.append(_Line(one.way, reach, _bent(one.course, one.along) / laid.scale, one.weight))
    return [line._replace(near=_clear_of(line, made)) for line in made]


def _clear_of(line: _Line, lines: list[_Line]) -> float:
    """How far from the crossing a line stands clear of the others that cross it aslant."""
    sines = [abs(float(line.way[0] * other.way[1] - line.way[1] * other.way[0])) for other in lines if other is not line]
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


def _dark_there(ink: Inked, lines: list[_Line], at: Array) -> Array:
    """How much of the lines through a point would lie on ink, were it at each of some places: a quick look before a careful one."""
    shares = np.ones(len(at))
    for line in lines[:4]:
        t = np.linspace(-min(line.reach[0], 3.0), min(line.reach[1], 3.0), 9)
        normal = np.array([-line.way[1], line.way[0]])
        course = t[:, None] * line.way + (0.5 * line.bent * t * t)[:, None] * normal
        shares = np.minimum(shares, (ink.off(at[:, None] + course[None]) < 0.5).mean(axis=1))
    return shares


def _crossing(ink: Inked, at: Array, lines: list[_Line], cover: Array, certain: bool = False) -> tuple[Found | None, float]:
    """Where the lines through a point cross on the paper, near ``at`` where it is believed to lie, and how much speaks for it; None where they
    are not to be seen.

    Of the lines that may be each of them, those are taken that cross in one place, are clear, and lie where they are likely. ``certain`` asks
    for every line that counts to be there without a gap.
    """
    wide = min(3.5 * float(np.sqrt(np.linalg.eigvalsh(cover)[-1])) + 0.6, 4.0)
    likely = np.linalg.inv(cover + np.eye(2) * READ**2)
    seen = [lines_seen(ink, at, line.way, line.reach, wide, line.bent, line.weight > 2, line.near) for line in lines]
    best: list[tuple[_Line, Seen]] = []
    most = -np.inf
    tried: list[tuple[float, Array]] = []
    where = at
    for x in _crossings(at, lines, seen):
        chosen, score = _agreeing(x, at, lines, seen)
        score -= PULL * min(float((x - at) @ likely @ (x - at)), 10.0)
        tried.append((score, x))
        if score > most:
            best, most, where = chosen, score, x
    if any(score > most - CLOSE and float(np.hypot(*(x - where))) > 0.6 for score, x in tried):
        return None, most  # as much speaks for another place: better none than a wrong one
    counting = [line for line in lines if line.weight >= 1]
    there = [line for line, _ in best if line.weight >= 1]
    if len(there) < min(len(counting), 2) or (
        certain and (len(there) < len(counting) or min(one.clear for _, one in best) < 0.9)
    ):
        return None, most
    solved = _solved(at, best)
    if solved is None or float(np.hypot(*(solved.at - at))) > 1.5 * wide + 0.3:
        return None, most
    return solved, most


def _crossings(at: Array, lines: list[_Line], seen: list[list[Seen]]) -> list[Array]:
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


def _placed(at: Array, line: _Line, one: Seen) -> tuple[Array, Array]:
    """A line as it was seen: a place of it, and its direction."""
    normal = np.array([-line.way[1], line.way[0]])
    return at + one.off * normal, line.way + one.lean * normal


def _agreeing(x: Array, at: Array, lines: list[_Line], seen: list[list[Seen]]) -> tuple[list[tuple[_Line, Seen]], float]:
    """The lines that go through a place, and how much speaks for it."""
    chosen: list[tuple[_Line, Seen]] = []
    score = 0.0
    for line, candidates in zip(lines, seen):
        worth = min(line.weight, 1.5)
        misses = []
        for one in candidates:
            place, way = _placed(at, line, one)
            misses.append(abs(float((x - place)[0] * way[1] - (x - place)[1] * way[0])))
        k = int(np.argmin(misses)) if misses else -1
        limit = 0.25 if line.weight >= 1 else 0.5
        if k < 0 or misses[k] > limit:
            score -= 0.5 * worth
            continue
        chosen.append((line, candidates[k]))
        score += worth * (2.0 * candidates[k].clear - 1.0 - misses[k])
    return chosen, score


def _solved(at: Array, seen: list[tuple[_Line, Seen]]) -> Found | None:
    """The crossing of lines that were seen, each worth the more the better it was seen; None where they do not cross well."""
    placed = [_placed(at, line, one) for line, one in seen]
    weights = [line.weight * 0.05 / (one.sd + 0.04) for line, one in seen]
    found = crossing_of([place for place, _ in placed], [way for _, way in placed], weights, MISS)
    if found is None:
        return None
    x, kept = found
    ways = np.array([placed[k][1] for k in kept])
    normals = np.stack([-ways[:, 1], ways[:, 0]], axis=1) / np.hypot(*ways.T)[:, None]
    sds = np.array([seen[k][1].sd + 0.02 for k in kept])
    cover = np.linalg.inv(normals.T @ (normals / (sds**2)[:, None]))
    return Found(x, float(np.sqrt(np.trace(cover) / 2)))
