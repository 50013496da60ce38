"""Which edges a solid built of blocks has, and which of them an eye sees: no line is where faces run flush."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.blocks import LINES, Block, Bools, Built
from wise_compass.geometry.hidden import across as across_of
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, length, unit

SAMPLES, LOOKS = 48, 24
"""Places of a round edge that are looked at for whether it is there, and of a straight one for whether it is seen."""
HALVINGS = 30
ROUND, BESIDE = 1e-5, 1e-6
"""Of the whole's size: how far round an edge it is looked for matter, and how far beside it a ray begins."""
WAYS = 48
FLAT = 0.05
"""Degrees by which two faces turn at least, to make an edge."""


class Line(NamedTuple):
    """An edge that may be there: of a block (by number), a straight one by its two letters, a rim by its level, or a contour of its skin.

    ``at`` gives its places from 0 to 1; a rim runs round once from its first axis on. A contour stands at ``turn``.
    """

    block: int
    kind: str
    letters: str
    level: float
    turn: float
    at: Callable[[Array], Array]


class Piece(NamedTuple):
    """What is there of an edge from one place of it to another, seen or not."""

    line: Line
    start: float
    end: float
    seen: bool


def lines_of(built: Built, sight: Array) -> list[Line]:
    """Every edge that may be there, and the contours for an eye that looks against ``sight``.

    >>> len(lines_of(Built((Block("box", (0, 0, 0), (2, 1, 1)),)), np.array([-1.0, -1, 1])))
    12
    """
    found: list[Line] = []
    for number, block in enumerate(built.blocks):
        for letters in LINES.get(block.shape, "").split():
            a, b = (block.corner(letter) for letter in letters)
            found.append(Line(number, "line", letters, 0.0, 0.0, _straight(a, b)))
        if block.axis is None:
            continue
        for level in levels_of(built, block):
            found.append(Line(number, "rim", "", level, 0.0, _rim(block, level)))
        for turn in contours_of(block, sight):
            a, b = (block.round_at(np.array(turn), level) for level in (0.0, 1.0))
            found.append(Line(number, "contour", "", 0.0, turn, _straight(a, b)))
    return found


def _straight(a: Array, b: Array) -> Callable[[Array], Array]:
    return lambda t: a + t[:, None] * (b - a)


def _rim(block: Block, level: float) -> Callable[[Array], Array]:
    return lambda t: block.round_at(360.0 * t, level)


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


def contours_of(block: Block, sight: Array) -> list[float]:
    """Where round a round one its skin turns away from the eye, in degrees.

    >>> [round(turn, 9) for turn in contours_of(Block("cylinder", (0, 0, 0), (4, 4, 9)), np.array([0.0, -1, 0]))]
    [-180.0, 0.0]
    """
    assert block.axis is not None
    (i, j), k = block.plane, block.axis
    x, y = sight[i] / block.size[i], sight[j] / block.size[j]
    wide = float(np.hypot(x, y))
    lean = float(sight[k]) / block.size[k] / 2 if block.shape == "cone" else 0.0
    if wide < 1e-12 or abs(lean) >= wide * (1 - 1e-9):
        return []
    middle, half = float(np.degrees(np.arctan2(y, x))), float(np.degrees(np.arccos(-lean / wide)))
    return [middle - half, middle + half]


def pieces_of(built: Built, sight: Array) -> list[Piece]:
    """Every piece of an edge that is there, seen or hidden. ``sight`` points towards the eye; flush faces have no edge.

    >>> box = Built((Block("box", (0, 0, 0), (2, 1, 1)),))
    >>> [piece.line.letters for piece in pieces_of(box, np.array([-1.0, -1, 1])) if not piece.seen]
    ['BC', 'CD', 'CG']
    """
    look = _Look(built, sight)
    there = look.there()
    return look.shown(there)


Stretch = tuple[int, float, float]
"""A line by its number, and from where to where on it."""


class _Look:
    """All lines of a built solid looked at together: where there is an edge, and where it is seen."""

    def __init__(self, built: Built, sight: Array) -> None:
        self.built, self.sight = built, np.asarray(unit(sight))
        self.lines = lines_of(built, sight)

    # where there is an edge

    def there(self) -> list[Stretch]:
        """The stretches of lines where two faces meet at an angle, or a round skin turns from the eye."""
        parts = [(n, a, b) for n, line in enumerate(self.lines) for a, b in pairwise(self._breaks(line))]
        states = self._edges([(n, (a + b) / 2) for n, a, b in parts])
        return [(n, a, b) for n, a, b, state in self._merged(parts, states, self._edges) if state]

    def _breaks(self, line: Line) -> list[float]:
        """Where on a line anything can change: where a straight one crosses a face’s plane, else at even steps."""
        if line.kind != "line":
            return [k / SAMPLES for k in range(SAMPLES + 1)]
        a, b = line.at(np.array([0.0, 1.0]))
        found = [0.0, 1.0]
        for block in self.built.blocks:
            q, v = (a - np.array(block.low)) / np.array(block.size), (b - a) / np.array(block.size)
            tests = [(q[k] - level, v[k]) for k in range(3) for level in (0.0, 1.0)]
            tests += (
                [(q[0] + q[1] - 1, v[0] + v[1])]
                if block.shape == "wedge"
                else [(q[0] + q[2] - 1, v[0] + v[2])]
                if block.shape == "ramp"
                else []
            )
            found += [float(-off / slope) for off, slope in tests if slope]
            if block.axis is not None:
                found += [float(t) for end in block.spans(a[None], b - a) for t in end if np.isfinite(t)]
        kept = sorted(t for t in found if 0.0 <= t <= 1.0)
        return [t for k, t in enumerate(kept) if k == 0 or t - kept[k - 1] > 1e-9]

    def _edges(self, at: Sequence[tuple[int, float]]) -> Bools:
        """Whether there is an edge at places of lines."""
        places, ways = self._places(at)
        contour = np.array([self.lines[n].kind == "contour" for n, _ in at], dtype=bool)
        found = np.zeros(len(at), dtype=bool)
        if (~contour).any():
            found[~contour] = self._turns(places[~contour], ways[~contour])
        for k in np.flatnonzero(contour).tolist():
            found[k] = bool(self._on_skin(self.lines[at[k][0]], places[k : k + 1])[0])
        return found

    def _places(self, at: Sequence[tuple[int, float]]) -> tuple[Array, Array]:
        """Places of lines, and the way that each runs there."""
        places, ways, step = np.zeros((len(at), 3)), np.zeros((len(at), 3)), 1e-4
        numbers = np.array([n for n, _ in at])
        t = np.array([share for _, share in at])
        for n in np.unique(numbers).tolist():
            mine = numbers == n
            line = self.lines[n]
            places[mine] = line.at(t[mine])
            ways[mine] = line.at(np.minimum(t[mine] + step, 1.0)) - line.at(np.maximum(t[mine] - step, 0.0))
        return places, np.asarray(unit(ways)) if len(at) else ways

    def _merged(
        self,
        parts: Sequence[Stretch],
        states: Bools,
        ask: Callable[[Sequence[tuple[int, float]]], Bools],
        crossed: Crossed = None,
    ) -> list[tuple[int, float, float, bool]]:
        """Neighbours of one state as one; where it changes on a line that was looked at by steps, the place is settled."""
        found: list[tuple[int, float, float, bool]] = []
        open_ends: list[tuple[int, float, float, bool]] = []
        for (n, a, b), state in zip(parts, states.tolist()):
            if found and found[-1][0] == n and abs(found[-1][2] - a) < 1e-12:
                if found[-1][3] == state:
                    found[-1] = (n, found[-1][1], b, state)
                    continue
                exact = crossed(n, (found[-1][2] + a) / 2, b - a) if crossed else (a if self.lines[n].kind == "line" else None)
                if exact is None:
                    half = (b - a) / 2
                    open_ends.append((len(found), a - half, a + half, found[-1][3]))
                else:
                    found[-1] = (n, found[-1][1], exact, found[-1][3])
                    a = exact
            found.append((n, a, b, state))
        if open_ends:
            at = self._settled([(found[k][0], low, high, below) for k, low, high, below in open_ends], ask)
            for (k, *_), place in zip(open_ends, at):
                n, a, _, state = found[k - 1]
                found[k - 1] = (n, a, place, state)
                n, _, b, state = found[k]
                found[k] = (n, place, b, state)
        return found

    @staticmethod
    def _settled(
        ends: Sequence[tuple[int, float, float, bool]], ask: Callable[[Sequence[tuple[int, float]]], Bools]
    ) -> list[float]:
        """Where a state changes between two places of a line, all of them at once, by halving."""
        low, high = np.array([end[1] for end in ends]), np.array([end[2] for end in ends])
        below = np.array([end[3] for end in ends], dtype=bool)
        for _ in range(HALVINGS):
            middle = (low + high) / 2
            same = ask([(end[0], float(t)) for end, t in zip(ends, middle)]) == below
            low, high = np.where(same, middle, low), np.where(same, high, middle)
        return [float(t) for t in (low + high) / 2]

    # where it is seen

    def shown(self, there: Sequence[Stretch]) -> list[Piece]:
        """Those stretches, parted into what is seen and what is hidden."""
        parts: list[Stretch] = []
        for n, a, b in there:
            count = max(3, int(np.ceil(LOOKS * (b - a) * (3 if self.lines[n].kind == "rim" else 1))))
            cuts = np.linspace(a, b, count + 1).tolist()
            parts += [(n, low, high) for low, high in pairwise(cuts)]
        if not parts:
            return []
        states = self._seen([(n, (a + b) / 2) for n, a, b in parts])
        merged = self._merged(parts, states, self._seen, self._crossings())
        return [Piece(self.lines[n], a, b, state) for n, a, b, state in merged if b - a > 1e-7]

    def _seen(self, at: Sequence[tuple[int, float]]) -> Bools:
        """Whether a ray just beside, on either side, is open to the eye: what lies in one plane with the sight decides nothing."""
        places, ways = self._places(at)
        across = cross3(ways, np.broadcast_to(self.sight, ways.shape))
        size = np.asarray(length(across))
        beside = np.where(size[:, None] > 1e-9, across / np.maximum(size, 1e-300)[:, None], 0.0) * BESIDE * self.built.span
        both = self.built.open_to(np.concatenate([places + beside, places - beside]), self.sight)
        return np.asarray(both[: len(at)] | both[len(at) :])

    def _crossings(self) -> Crossed:
        """Where straight lines cross in the picture: a straight line that goes behind something does so at such a place."""
        straight = [n for n, line in enumerate(self.lines) if line.kind != "rim"]
        frame = across_of(self.sight)
        ends = np.array([self.lines[n].at(np.array([0.0, 1.0])) @ frame.T for n in straight]).reshape(-1, 2, 2)
        u = ends[:, 1] - ends[:, 0]
        sine = u[:, None, 0] * u[None, :, 1] - u[:, None, 1] * u[None, :, 0]
        off = ends[None, :, 0] - ends[:, None, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (off[..., 0] * u[None, :, 1] - off[..., 1] * u[None, :, 0]) / sine
            s = (off[..., 0] * u[:, None, 1] - off[..., 1] * u[:, None, 0]) / sine
        good = np.isfinite(t) & (s > -1e-9) & (s < 1 + 1e-9)
        places = {n: np.unique(np.round(t[k][good[k]], 12)) for k, n in enumerate(straight)}

        def at(n: int, near: float, reach: float) -> float | None:
            mine = places.get(n)
            if mine is None:
                return None
            close = mine[np.abs(mine - near) <= reach]
            return float(close[0]) if len(close) == 1 else None

        return at

    def _on_skin(self, line: Line, places: Array) -> Bools:
        block = self.built.blocks[line.block]
        (i, j), k = block.plane, block.axis
        assert k is not None
        normal = np.zeros(3)
        normal[i] = np.cos(np.deg2rad(line.turn)) / block.size[i]
        normal[j] = np.sin(np.deg2rad(line.turn)) / block.size[j]
        if block.shape == "cone":
            normal[k] = 0.5 / block.size[k]
        off = unit(normal) * ROUND * self.built.span
        inner, outer = self.built.holds(places - off), self.built.holds(places + off)
        return np.asarray(outer & ~inner if block.is_hole else inner & ~outer)

    def _turns(self, places: Array, ways: Array) -> Bools:
        """Whether two faces meet there at an angle: how much round the edge is solid."""
        least = np.eye(3)[np.argmin(np.abs(ways), axis=1)]
        first = unit(cross3(ways, least))
        second = cross3(ways, first)

        def solid(turn: Array, mine: Bools | None = None) -> Bools:
            """At angles (n, m) round each place."""
            p, u, v = (one if mine is None else one[mine] for one in (places, first, second))
            c, s = np.cos(turn)[..., None], np.sin(turn)[..., None]
            around = p[:, None] + ROUND * self.built.span * (c * u[:, None] + s * v[:, None])
            return self.built.holds(around)

        turns = (np.arange(WAYS) + 0.3718) * 2 * np.pi / WAYS
        full = solid(np.broadcast_to(turns, (len(places), WAYS)))
        count = full.sum(axis=1)
        several = (full & ~np.roll(full, 1, axis=1)).sum(axis=1) > 1
        found = np.asarray((count > 0) & (count < WAYS))
        straight = found & ~several & (np.abs(count - WAYS // 2) <= 1)
        if straight.any():
            found[straight] = _bends(lambda turn: solid(turn, straight), full[straight], turns)
        return found


Crossed = Callable[[int, float, float], float | None] | None


def _bends(solid: Callable[[Array], Bools], full: Bools, turns: Array) -> Bools:
    """Of places that are solid half-way round, or nearly, whether it is not just half."""
    part = 2 * np.pi / WAYS
    ends = []
    for begins in (True, False):
        now = full if begins else ~full
        k = np.argmax(now & ~np.roll(now, 1, axis=1), axis=1)
        low, high = turns[k] - part, turns[k].copy()
        for _ in range(14):
            middle = (low + high) / 2
            inside = solid(middle[:, None])[:, 0] == begins
            low, high = np.where(inside, low, middle), np.where(inside, middle, high)
        ends.append((low + high) / 2)
    wide = np.degrees((ends[1] - ends[0]) % (2 * np.pi))
    return np.asarray(np.abs(wide - 180.0) > FLAT)
