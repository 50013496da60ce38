"""Which edges a solid built of blocks has, and which of them an eye sees: no line is where faces run flush."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.block_shapes import LINES, Block, Bools
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, length, unit

SAMPLES, LOOKS = 48, 24
"""Places of a round edge that are looked at for whether it is there, and of a straight one for whether it is seen."""
PARTS, NARROWINGS, TURNINGS = 16, 8, 4
"""Into how many parts a stretch is cut to find where it changes, how often, and how often a turn is."""
ONE = 1e-9
"""Of a line: places of it that are nearer than this are one."""
AT_ONCE = 1e-3
"""Of a line: how far beside a crossing it is looked whether it changes just there."""
ROUND, BESIDE = 1e-5, 1e-6
"""Of the whole's size: how far round an edge it is looked for matter, and how far beside it a ray begins."""
WAYS = 48
FLAT = 0.05
"""Degrees by which two faces turn at least, to make an edge."""


class Line(NamedTuple):
    """An edge that may be there: of a block (by number), a straight one by its two letters, a rim by its level, or a contour of its skin.

    A straight one runs from ``start`` to ``start + one``, as does a contour, which stands at ``turn``; a rim runs once round
    ``start``, from ``one`` over ``other``.
    """

    block: int
    kind: str
    letters: str
    level: float
    turn: float
    start: Array
    one: Array
    other: Array

    def at(self, t: Array) -> Array:
        """Its places (n, 3), from 0 to 1."""
        if self.kind != "rim":
            return np.asarray(self.start + t[:, None] * self.one)
        turn = 2 * np.pi * t[:, None]
        return np.asarray(self.start + np.cos(turn) * self.one + np.sin(turn) * self.other)


class Piece(NamedTuple):
    """What is there of an edge from one place of it to another, seen or not."""

    line: Line
    start: float
    end: float
    seen: bool


def lines_of(built: Built) -> list[Line]:
    """Every edge that may be there whoever looks.

    >>> len(lines_of(Built((Block("box", (0, 0, 0), (2, 1, 1)),))))
    12
    """
    found: list[Line] = []
    for number, block in enumerate(built.blocks):
        for letters in LINES.get(block.shape, "").split():
            a, b = (block.corner(letter) for letter in letters)
            found.append(Line(number, "line", letters, 0.0, 0.0, a, b - a, a))
        for level in levels_of(built, block) if block.axis is not None else ():
            one, other, far = block.round_at(np.array([0.0, 90.0, 180.0]), level)
            middle = (one + far) / 2
            found.append(Line(number, "rim", "", level, 0.0, middle, one - middle, other - middle))
    return found


def contour_lines(built: Built, eye: Eye) -> list[Line]:
    """Where skins turn away from an eye, from end to end of each.

    >>> post = Built((Block("cylinder", (0, 0, 0), (4, 4, 9)),))
    >>> [line.at(np.array([0.0, 1.0])).tolist() for line in contour_lines(post, Eye(np.array([0.0, -1, 0])))][1]
    [[4.0, 2.0, 0.0], [4.0, 2.0, 9.0]]
    """
    found = []
    for number, block in enumerate(built.blocks):
        for turn in contours_of(block, eye) if block.axis is not None else ():
            a, b = (block.round_at(np.array(turn), level) for level in (0.0, 1.0))
            found.append(Line(number, "contour", "", 0.0, turn, a, b - a, a))
    return found


def levels_of(built: Built, block: Block) -> list[float]:
    """Where a round one may have rims, as shares of its length: at its ends, and a hole where it enters or leaves a block.

    >>> box, hole = Block("box", (0, 0, 0), (8, 8, 3)), Block("hole", (2, 2, 0), (4, 4, 6))
    >>> levels_of(Built((box, hole)), hole)
    [0.0, 0.5, 1.0]
    """
    axis = block.axis
    assert axis is not None
    if not block.is_hole:
        return [0.0] if block.shape == "cone" else [0.0, 1.0]
    ends = {0.0, 1.0}
    for other in built.solid:
        for level in (other.low[axis], other.low[axis] + other.size[axis]):
            share = (level - block.low[axis]) / block.size[axis]
            if 1e-9 < share < 1 - 1e-9:
                ends.add(share)
    return sorted(ends)


class Eye(NamedTuple):
    """Who looks: from far off ``towards`` (3,), or, where ``stands``, from that very place."""

    towards: Array
    stands: bool = False

    def ways(self, places: Array) -> Array:
        """The unit vectors from places (n, 3) towards it."""
        return np.asarray(unit(self.towards - places) if self.stands else np.broadcast_to(unit(self.towards), places.shape))


def contours_of(block: Block, eye: Eye) -> list[float]:
    """Where round a round one its skin turns away from an eye, in degrees: where planes that touch it and hold the eye do so.

    Of a cone they hold its apex too, and meet its base in the tangents from where the line of apex and eye does.

    >>> [round(turn, 9) for turn in contours_of(Block("cylinder", (0, 0, 0), (4, 4, 9)), Eye(np.array([0.0, -1, 0])))]
    [-180.0, 0.0]
    >>> [round(turn, 9) for turn in contours_of(Block("cylinder", (0, 0, 0), (4, 4, 9)), Eye(np.array([6.0, 2, 0]), True))]
    [-60.0, 60.0]
    """
    assert block.axis is not None
    (i, j), k, near = block.plane, block.axis, float(eye.stands)
    x, y = (float(eye.towards[n] - near * (block.low[n] + block.size[n] / 2)) / block.size[n] * 2 for n in (i, j))
    weight = near
    if block.shape == "cone":
        up = float(eye.towards[k] - near * block.low[k])
        x, y, weight = -x, -y, up / block.size[k] - near
    wide = float(np.hypot(x, y))
    if wide < 1e-12 or abs(weight) >= wide * (1 - 1e-9):
        return []
    middle, half = float(np.degrees(np.arctan2(y, x))), float(np.degrees(np.arccos(weight / wide)))
    return [middle - half, middle + half]


def pieces_of(built: Built, eye: Eye) -> list[Piece]:
    """Every piece of an edge that is there, seen or hidden; flush faces have no edge.

    >>> box = Built((Block("box", (0, 0, 0), (2, 1, 1)),))
    >>> [piece.line.letters for piece in pieces_of(box, Eye(np.array([-1.0, -1, 1]))) if not piece.seen]
    ['BC', 'CD', 'CG']
    """
    fixed, there = _fixed(built)
    contours = contour_lines(built, eye)
    look = _Look(built, [*fixed, *contours], eye)
    bare = look.there(look.on_skin, np.arange(len(fixed), len(look.lines)))
    return look.shown(Parts(*(np.concatenate(both) for both in zip(there, bare))))


def edges_of(built: Built, chords: int) -> list[Array]:
    """The edges of the solid itself, straight pieces (2, 3) of them, rims in ``chords`` to the turn; none where faces run flush.

    >>> two = Built((Block("box", (0, 0, 0), (2, 1, 1)), Block("box", (2, 0, 0), (2, 1, 1))))
    >>> sum(float(np.abs(b - a).sum()) for a, b in edges_of(two, 24))
    24.0
    """
    lines, there = _fixed(built)
    found = []
    for n, a, b in zip(*(column.tolist() for column in there)):
        count = math.ceil((b - a) * chords - ONE) if lines[n].kind == "rim" else 1
        at = lines[n].at(np.linspace(a, b, count + 1))
        found += [at[k : k + 2] for k in range(count)]
    return found


class Parts(NamedTuple):
    """Stretches of lines in their order: the number of each one's line, and from where to where on it, from 0 to 1."""

    lines: Numbers
    low: Array
    high: Array

    @property
    def middles(self) -> Places:
        return self.lines, (self.low + self.high) / 2

    @staticmethod
    def between(lines: Numbers, cuts: Sequence[Sequence[float]]) -> Parts:
        """The stretches between the cuts of each line."""
        low, high = (np.array([t for one in cuts for t in one[k : len(one) - 1 + k]]) for k in (0, 1))
        return Parts(np.repeat(lines, [len(one) - 1 for one in cuts]), low, high)


@lru_cache(maxsize=16)
def _fixed(built: Built) -> tuple[tuple[Line, ...], Parts]:
    """The lines that do not hang on the eye, and where two faces meet on them at an angle: the same for every view."""
    lines = lines_of(built)
    look = _Look(built, lines, Eye(np.zeros(3)))
    return tuple(lines), look.there(look.turns, np.arange(len(lines)))


class _Look:
    """Lines of a built solid looked at together: where there is an edge, and where an eye sees it."""

    def __init__(self, built: Built, lines: Sequence[Line], eye: Eye) -> None:
        self.built, self.lines, self.eye = built, lines, eye
        self.round = np.array([line.kind == "rim" for line in lines], dtype=bool)
        self.starts, self.ones, self.others = (
            np.array([getattr(line, name) for line in lines]).reshape(-1, 3) for name in ("start", "one", "other")
        )

    # where there is an edge

    def there(self, ask: Asked, among: Numbers) -> Parts:
        """The stretches of some lines on which it is as asked: two faces meet at an angle, or a skin turns from the eye."""
        parts = Parts.between(among, self._breaks(among))
        if not len(among):
            return parts
        merged, states = self._merged(parts, ask(parts.middles), ask, ~self.round[parts.lines])
        return Parts(merged.lines[states], merged.low[states], merged.high[states])

    def _breaks(self, among: Numbers) -> list[list[float]]:
        """Where on lines anything can change: where a straight one crosses a face’s plane or a skin, else at even steps."""
        even, straight = [k / SAMPLES for k in range(SAMPLES + 1)], among[~self.round[among]]
        crossed = dict(zip(straight.tolist(), self._crossed(straight)))
        return [crossed.get(n, even) for n in among.tolist()]

    def _crossed(self, straight: Numbers) -> list[list[float]]:
        at, way = self.starts[straight], self.ones[straight]
        found = np.concatenate([*self.built.packed.planes(at, way), *self.built.packed.spans(at, way)]).T
        inner = np.where((found > ONE) & (found < 1.0 - ONE), found, np.inf)
        return [[0.0, *mine, 1.0] for mine in _in_order(inner)]

    def turns(self, at: Places) -> Bools:
        """Whether two faces meet at an angle at places of lines: how much round the edge is solid."""
        places, ways = self._places(at)
        least = np.eye(3)[np.argmin(np.abs(ways), axis=1)]
        first = unit(cross3(ways, least))
        second = cross3(ways, first)
        reach = ROUND * self.built.span

        def solid(turn: Array, mine: Bools | slice) -> Bools:
            """At angles (n, m) round each place."""
            c, s = np.cos(turn)[..., None], np.sin(turn)[..., None]
            return self.built.holds_about(places[mine], reach * (c * first[mine, None] + s * second[mine, None]), reach)

        turns = (np.arange(WAYS) + 0.3718) * 2 * np.pi / WAYS
        full = solid(np.broadcast_to(turns, (len(places), WAYS)), slice(None))
        count = full.sum(axis=1)
        several = (full & ~np.roll(full, 1, axis=1)).sum(axis=1) > 1
        found = np.asarray((count > 0) & (count < WAYS))
        straight = found & ~several & (np.abs(count - WAYS // 2) <= 1)
        if straight.any():
            found[straight] = _bends(lambda turn: solid(turn, straight), full[straight], turns)
        return found

    def on_skin(self, at: Places) -> Bools:
        """Whether the skin of its block is bare at places of contours."""
        numbers, _ = at
        blocks = [self.built.blocks[line.block] for line in self.lines]
        contours = {n: _outward(blocks[n], self.lines[n].turn) for n in np.unique(numbers).tolist()}
        holes = np.array([block.is_hole for block in blocks], dtype=bool)[numbers]
        places, off = (
            self._places(at)[0],
            np.array([contours[n] for n in numbers.tolist()]).reshape(-1, 3) * ROUND * self.built.span,
        )
        inner, outer = self.built.holds(np.stack([places - off, places + off]))
        return np.asarray(np.where(holes, outer & ~inner, inner & ~outer))

    def _places(self, at: Places) -> tuple[Array, Array]:
        """Places of lines, and the way that each runs there."""
        numbers, t = at
        start, one, other, rim = (each[numbers] for each in (self.starts, self.ones, self.others, self.round))
        turn = 2 * np.pi * t
        c, s = np.cos(turn)[:, None], np.sin(turn)[:, None]
        round_at, straight_at = start + c * one + s * other, start + t[:, None] * one
        ways = np.where(rim[:, None], c * other - s * one, one)
        return np.where(rim[:, None], round_at, straight_at), np.asarray(unit(ways))

    def _merged(self, parts: Parts, states: Bools, ask: Asked, firm: Bools) -> tuple[Parts, Bools]:
        """Neighbours of one state as one. Where it changes at a place that is not ``firm``, it is settled between their middles."""
        lines, middles = parts.middles
        joined = np.concatenate([[False], (lines[1:] == lines[:-1]) & (np.abs(parts.low[1:] - parts.high[:-1]) < 1e-12)])
        changes = np.concatenate([[False], states[1:] != states[:-1]]) & joined
        low, loose = parts.low.copy(), np.flatnonzero(changes & ~firm)
        if len(loose):
            low[loose] = self._settled(lines[loose], middles[loose - 1], middles[loose], states[loose - 1], ask)
        first = np.flatnonzero(changes | ~joined)
        last = np.concatenate([first[1:], [len(lines)]]) - 1
        high = parts.high[last]
        high[:-1] = np.where(changes[first[1:]], low[first[1:]], high[:-1])
        return Parts(lines[first], low[first], high), states[first]

    @staticmethod
    def _settled(lines: Numbers, low: Array, high: Array, below: Bools, ask: Asked) -> Array:
        """Where a state changes between two places of a line, all of them at once, by ever smaller parts."""
        shares = np.arange(1, PARTS)[:, None] / PARTS
        for _ in range(NARROWINGS):
            inner = low + shares * (high - low)
            same = ask((np.tile(lines, PARTS - 1), inner.ravel())).reshape(inner.shape) == below
            places = np.concatenate([low[None], inner, high[None]])
            last = np.argmin(np.concatenate([same, np.zeros_like(same[:1])]), axis=0)  # how many from below are as below
            low, high = (np.take_along_axis(places, (last + k)[None], axis=0)[0] for k in (0, 1))
        return np.asarray((low + high) / 2)

    # where it is seen

    def shown(self, there: Parts) -> list[Piece]:
        """Those stretches, parted into what is seen and what is hidden.

        Straight lines change where they cross another in the picture; where there are round ones, it is looked for by steps too.
        """
        if not len(there.lines):
            return []
        crossings, cuts, by_steps = self._crossings(), [], bool(self.round.any())
        for n, a, b in zip(there.lines.tolist(), there.low.tolist(), there.high.tolist()):
            mine = crossings.get(n, [])
            mine = mine[bisect_right(mine, a + ONE) : bisect_left(mine, b - ONE)]
            if by_steps:
                count = max(3, math.ceil(LOOKS * (b - a) * (3 if self.round[n] else 1)))
                mine = _each_once(np.array([*mine, *np.linspace(a, b, count + 1)[1:-1]])).tolist()
            cuts.append([a, *mine, b])
        parts = Parts.between(there.lines, cuts)
        states = self._seen(parts.middles)
        merged, seen = self._merged(parts, states, self._seen, self._firm(parts, states, crossings))
        pieces = zip(*(column.tolist() for column in merged), seen.tolist())
        return [Piece(self.lines[n], a, b, state) for n, a, b, state in pieces if b - a > 1e-7]

    def _firm(self, parts: Parts, states: Bools, crossings: Mapping[int, Sequence[float]]) -> Bools:
        """Which parts of straight lines begin where it changes just there, at a crossing: as just before and just after it tell."""
        if not self.round.any():
            return np.ones(len(parts.lines), dtype=bool)
        changed = np.flatnonzero(states[1:] != states[:-1]) + 1
        lines, at = parts.lines[changed], parts.low[changed]
        crossed = np.array([t in crossings.get(n, ()) for n, t in zip(lines.tolist(), at.tolist())], dtype=bool)
        changed, lines, at = changed[crossed], lines[crossed], at[crossed]
        firm = np.zeros(len(parts.lines), dtype=bool)
        if len(changed):
            before, after = (self._seen((lines, at + off)) for off in (-AT_ONCE, AT_ONCE))
            firm[changed] = (before == states[changed - 1]) & (after == states[changed])
        return firm

    def _seen(self, at: Places) -> Bools:
        """Whether a ray just beside, on either side, is open to the eye: what lies in one plane with the sight decides nothing."""
        places, ways = self._places(at)
        sights = self.eye.ways(places)
        across = cross3(ways, sights)
        size = np.asarray(length(across))
        beside = np.where(size[:, None] > 1e-9, across / np.maximum(size, 1e-300)[:, None], 0.0) * BESIDE * self.built.span
        both = self.built.open_to(np.concatenate([places + beside, places - beside]), np.concatenate([sights, sights]))
        return np.asarray(both[: len(places)] | both[len(places) :])

    def _crossings(self) -> dict[int, list[float]]:
        """Where straight lines cross each other in the picture, in order from 0 to 1 on each, by its number."""
        straight = np.flatnonzero(~self.round)
        starts, u = self.starts[straight], self.ones[straight]
        normals = cross3(self.eye.ways(starts), u)  # of the plane that a line and the eye are in
        off = ((starts[None, :] - starts[:, None]) * normals[None, :]).sum(axis=2)
        with np.errstate(divide="ignore", invalid="ignore"):
            t = off / (u @ normals.T)
        s = t.T
        good = (t > 0.0) & (t < 1.0) & (s > -1e-9) & (s < 1 + 1e-9)
        return dict(zip(straight.tolist(), _in_order(np.where(good, t, np.inf))))


Numbers = NDArray[np.int64]
Places = tuple[Numbers, Array]
"""Lines by their numbers, and where on each, from 0 to 1."""
Asked = Callable[[Places], Bools]


def _each_once(places: Array) -> Array:
    """Places in order, each once."""
    places = np.sort(places)
    return np.asarray(places[np.diff(places, prepend=-np.inf) > ONE])


def _in_order(rows: Array) -> list[list[float]]:
    """The finite places of each row in order, each once."""
    rows = np.sort(rows, axis=1)
    with np.errstate(invalid="ignore"):
        kept = np.isfinite(rows) & (np.diff(rows, axis=1, prepend=-np.inf) > ONE)
    return [row[mine].tolist() for row, mine in zip(rows, kept)]


def _outward(block: Block, turn: float) -> Array:
    """The unit normal of a round one's skin, so far round in degrees."""
    (i, j), k = block.plane, block.axis
    assert k is not None
    normal = np.zeros(3)
    normal[i], normal[j] = np.cos(np.deg2rad(turn)) / block.size[i], np.sin(np.deg2rad(turn)) / block.size[j]
    if block.shape == "cone":
        normal[k] = 0.5 / block.size[k]
    return np.asarray(unit(normal))


def _bends(solid: Callable[[Array], Bools], full: Bools, turns: Array) -> Bools:
    """Of places that are solid half-way round, or nearly, whether it is not just half."""
    rows, part = np.arange(len(full)), 2 * np.pi / WAYS
    begins = np.argmax(full & ~np.roll(full, 1, axis=1), axis=1), np.argmax(~full & np.roll(full, 1, axis=1), axis=1)
    high = np.stack([turns[k] for k in begins])
    low, shares = high - part, np.arange(1, PARTS) / PARTS
    for _ in range(TURNINGS):
        inner = low[..., None] + shares * (high - low)[..., None]
        both = solid(np.concatenate(list(inner), axis=1)).reshape(len(full), 2, PARTS - 1)
        passed = np.stack([(both[:, 0]).argmax(axis=1), (~both[:, 1]).argmax(axis=1)])
        never = np.stack([~both[:, 0].any(axis=1), both[:, 1].all(axis=1)])
        places = np.concatenate([low[..., None], inner, high[..., None]], axis=2)
        last = np.where(never, PARTS - 1, passed)
        low, high = (np.stack([places[side, rows, last[side] + k] for side in (0, 1)]) for k in (0, 1))
    ends = (low + high) / 2
    wide = np.degrees((ends[1] - ends[0]) % (2 * np.pi))
    return np.asarray(np.abs(wide - 180.0) > FLAT)
