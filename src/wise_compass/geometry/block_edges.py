"""Which edges a solid built of blocks has, and which of them an eye sees: no line is where faces run flush.

``geometry/block_shapes.py`` has convex blocks with their rays in closed form, all blocks of a solid at once
(``Packed``); ``block_lines.py`` tells every edge that may be there; ``block_edges.py`` asks along each whether matter
turns an angle round it, once for all views, and whether a ray just beside it, on either side, is open to the ``Eye``,
far off or at a place, so that faces that run flush or lie in one plane with the sight decide nothing by rounding. Lines
change only where they cross another in the picture, all views looked at together: ``block_crossings.py`` finds where,
straight lines and plane rims in closed form; only two rims on saddles are looked for by steps. Where a block stands
among the same ones as before, its edges are known (``_kept``). Where a hole breaks out of a block it has *lips* along
its skin, and *chords* across its flat ends; ``block_sections.py`` tells which share of its round lies within a block,
in closed form, and decides once what only touches; ``block_saddles.py`` where a round skin or another hole lies across
it, whose rim is no plane curve, and ``block_cones.py`` where that skin is a cone's; ``block_volumes.py`` what several
take together. ``block_rings.py`` looks round an
edge: where matter meets in an edge alone, a line is seen only from where its faces do not run flush. ``block_faces.py``
cuts holes out of the faces (``Face.pieces``), for the space view and the tones.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_cones import Saddle
from wise_compass.geometry.block_crossings import ONE, DrawnLines, Numbers, Places, crossings
from wise_compass.geometry.block_lines import EdgeLine, Eye, contour_lines, lines_of, outward
from wise_compass.geometry.block_rings import ROUND, Ring
from wise_compass.geometry.block_shapes import Level
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Bools, length, unit

SAMPLES, LOOKS = 48, 48
"""Places of a round edge that are looked at for whether it is there, and for whether it is seen."""
PARTS, NARROWINGS = 24, 5
"""Into how many parts a stretch is cut to find where it changes, and how often."""
AHEAD = 1e-3
"""Degrees on either side by which the way of a rim on a saddle is told."""
AT_ONCE = 1e-3
"""Of a line: how far beside a crossing it is looked whether it changes just there."""
FEW = 1000
"""Places up to which both sides of an edge are asked for at once."""
BESIDE = 1e-6
"""Of the whole's size: how far beside an edge a ray begins."""


class EdgePiece(NamedTuple):
    """What is there of an edge from one place of it to another, seen or not."""

    line: EdgeLine
    start: float
    end: float
    seen: bool


def pieces_of(built: Built, eye: Eye) -> list[EdgePiece]:
    """Every piece of an edge that is there, seen or hidden; flush faces have no edge.

    >>> from wise_compass.geometry.block_shapes import Block
    >>> box = Built((Block("box", (0, 0, 0), (2, 1, 1)),))
    >>> [piece.line.letters for piece in pieces_of(box, Eye(np.array([-1.0, -1, 1]))) if not piece.seen]
    ['BC', 'CD', 'CG']
    """
    return pieces_for(built, [eye])[0]


def pieces_for(built: Built, eyes: Sequence[Eye]) -> list[list[EdgePiece]]:
    """The same for several eyes, which are quicker asked for together: what is there is there for all of them.

    >>> from wise_compass.geometry.block_shapes import Block
    >>> box = Built((Block("box", (0, 0, 0), (2, 1, 1)),))
    >>> [len(pieces) for pieces in pieces_for(box, [Eye(np.array([-1.0, -1, 1])), Eye(np.array([0.0, -1, 0]))])]
    [12, 12]
    """
    fixed, there, meeting = _fixed(built)
    lines, whose, parts = list[EdgeLine](), list[int](), list[Parts]()
    contours, meet = list[int](), list[bool]()
    for k, eye in enumerate(eyes):
        parts.append(there._replace(lines=there.lines + len(lines)))
        mine = contour_lines(built, eye)
        contours += range(len(lines) + len(fixed), len(lines) + len(fixed) + len(mine))
        lines += [*fixed, *mine]
        whose += [k] * (len(fixed) + len(mine))
        meet += [*meeting, *(False for _ in mine)]
    look = _SideLook(built, lines, eyes, np.array(whose))
    look.meeting |= meet
    parts.append(look.there(look.on_skin, np.array(contours, dtype=np.int64)))
    return look.shown(Parts(*(np.concatenate(each) for each in zip(*parts))))


def edges_of(built: Built, chords: int) -> list[Array]:
    """The edges of the solid itself, straight pieces (2, 3) of them, rims parted where each of ``chords`` to the turn
    ends; none where faces run flush.

    >>> from wise_compass.geometry.block_shapes import Block
    >>> two = Built((Block("box", (0, 0, 0), (2, 1, 1)), Block("box", (2, 0, 0), (2, 1, 1))))
    >>> sum(float(np.abs(b - a).sum()) for a, b in edges_of(two, 24))
    24.0
    """
    lines, there, _ = _fixed(built)
    found = []
    for n, a, b in zip(*(column.tolist() for column in there)):
        even = (
            np.arange(math.floor(a * chords + ONE) + 1, math.ceil(b * chords - ONE)) / chords
            if lines[n].kind == "rim"
            else ()
        )
        at = lines[n].at(np.array([a, *even, b]))
        found += [at[k : k + 2] for k in range(len(at) - 1)]
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
def _fixed(built: Built) -> tuple[tuple[EdgeLine, ...], Parts, list[bool]]:
    """The lines that do not hang on the eye, where two faces meet on them at an angle, and along which more than two
    do: the same for every view.

    Of a block that stands among the same ones as in a solid looked at before it is known.
    """
    lines, keys = lines_of(built), _neighbours(built)
    whose = np.array([line.block for line in lines])
    known = {k: one for k, key in enumerate(keys) if (one := _kept.get(key)) is not None}
    fresh = np.flatnonzero(~np.isin(whose, list(known)))
    look = _SideLook(built, [lines[n] for n in fresh.tolist()], (), np.zeros(len(fresh), dtype=np.int64))
    there = look.there(look.turns, np.arange(len(fresh)))
    if len(_kept) > MANY:
        _kept.clear()
    for k in np.unique(whose[fresh]).tolist():
        mine, first = whose[fresh][there.lines] == k, np.searchsorted(whose[fresh], k)
        known[k] = Parts(there.lines[mine] - first, there.low[mine], there.high[mine]), look.meeting[whose[fresh] == k]
        _kept[keys[k]] = known[k]
    ordered = [(np.searchsorted(whose, k), *known[k]) for k in np.unique(whose).tolist()]
    moved = [parts._replace(lines=parts.lines + first) for first, parts, _ in ordered]
    return (
        tuple(lines),
        Parts(*(np.concatenate(each) for each in zip(*moved))),
        np.concatenate([meeting for _, _, meeting in ordered]).tolist(),
    )


def _neighbours(built: Built) -> list[Hashable]:
    """Of every block what tells where it has edges: itself, those that it touches, and the size of the whole."""
    low, reach = built.packed.low, ROUND * built.span
    high = low + built.packed.size
    near = ((low[:, None] <= high + reach) & (low <= high[:, None] + reach)).all(axis=2)
    return [
        (block, tuple([other for other, close in zip(built.blocks, mine) if close]), built.span)
        for block, mine in zip(built.blocks, near.tolist())
    ]


_kept: dict[Hashable, tuple[Parts, Bools]] = {}
"""Memoized edges of a block among the same neighbours (:func:`_neighbours`)."""
MANY = 500
"""Blocks whose edges are kept."""


class _SideLook:
    """Lines of a built solid looked at together: where there is an edge, and where the eye sees it that each is looked
    at with."""

    def __init__(self, built: Built, lines: Sequence[EdgeLine], eyes: Sequence[Eye], whose: Numbers) -> None:
        self.built, self.lines, self.eyes, self.whose = built, lines, eyes, whose
        self.stand = np.array([eye.stands for eye in eyes], dtype=bool)
        self.towards = np.array([eye.towards if eye.stands else unit(eye.towards) for eye in eyes]).reshape(-1, 3)
        self.round = np.array([line.kind == "rim" for line in lines], dtype=bool)
        self.meeting = np.zeros(len(lines), dtype=bool)
        self.saddles = {n: line.level for n, line in enumerate(lines) if isinstance(line.level, Saddle)}
        self.on_saddle = np.isin(np.arange(len(lines)), list(self.saddles))
        self.loose = self.on_saddle | self._along_their_skins()
        self.ends = np.array(
            [line.kind != "rim" or line.level in (Level(0.0), Level(1.0)) for line in lines], dtype=bool
        )
        self.starts, self.ones, self.others = (
            np.array([getattr(line, name) for line in lines]).reshape(-1, 3) for name in ("start", "one", "other")
        )

    def _along_their_skins(self) -> Bools:
        """Which plane rims an eye far off looks at along the skin that they are on, where others end on that skin that
        are no plane rims: those cover them in the picture, and cross them nowhere."""
        blocks = {self.lines[n].block for n in self.saddles}
        found = np.zeros(len(self.lines), dtype=bool)
        for n, line in enumerate(self.lines):
            axis = self.built.blocks[line.block].axis
            if line.kind == "rim" and line.block in blocks and axis is not None and len(self.eyes):
                eye = self.whose[n]
                found[n] = not self.stand[eye] and abs(self.towards[eye][axis]) > 1.0 - ONE
        return found

    # where there is an edge

    def there(self, ask: Asked, among: Numbers) -> Parts:
        """The stretches of some lines on which it is as asked: two faces meet at an angle, or a skin turns from the
        eye."""
        parts = Parts.between(among, self._breaks(among))
        if not len(among):
            return parts
        merged, states = self._merged(parts, ask(parts.middles), ask, ~self.round[parts.lines])
        return Parts(merged.lines[states], merged.low[states], merged.high[states])

    def _breaks(self, among: Numbers) -> list[list[float]]:
        """Where on lines anything can change: where a straight one crosses a face’s plane or a skin, of rims at even
        steps and where lips begin."""
        even, straight = [k / SAMPLES for k in range(SAMPLES + 1)], among[~self.round[among]]
        crossed = dict(zip(straight.tolist(), self._crossed(straight)))
        for line in self.lines:
            if line.kind == "lip":
                rims = (n for n in among.tolist() if self.round[n] and self.lines[n].block == line.block)
                crossed |= {n: sorted({*crossed.get(n, even), line.turn / 360.0}) for n in rims}
        return [crossed.get(n, even) for n in among.tolist()]

    def _crossed(self, straight: Numbers) -> list[list[float]]:
        at, way = self.starts[straight], self.ones[straight]
        found = np.concatenate([*self.built.packed.planes(at, way), *self.built.packed.spans(at, way)]).T
        inner = np.where((found > ONE) & (found < 1.0 - ONE), found, np.inf)
        return [[0.0, *mine, 1.0] for mine in _in_order(inner)]

    def turns(self, at: Places) -> Bools:
        """Whether two faces meet at an angle at places of lines: how much round the edge is solid.

        Where nothing else is near, a convex block has its edges, but none along its skin.
        """
        places, ways = self._places(at)
        near = self.built.near(places, ROUND * self.built.span)
        alone = near.sum(axis=0) == 1
        found = alone & ~self.built.packed.holes[near.argmax(axis=0)] & self.ends[at[0]]
        if not alone.all():
            others = Ring(self.built, places[~alone], ways[~alone], near[:, ~alone])
            found[~alone] = others.edges()
            self.meeting[at[0][~alone][others.several]] = True
        return np.asarray(found)

    def on_skin(self, at: Places) -> Bools:
        """Whether the skin of its block is bare at places of contours."""
        numbers, _ = at
        blocks = [self.built.blocks[line.block] for line in self.lines]
        contours = {n: outward(blocks[n], self.lines[n].turn) for n in np.unique(numbers).tolist()}
        holes = np.array([block.is_hole for block in blocks], dtype=bool)[numbers]
        places, off = (
            self._at(at),
            np.array([contours[n] for n in numbers.tolist()]).reshape(-1, 3) * ROUND * self.built.span,
        )
        inner, outer = self.built.holds(np.stack([places - off, places + off]))
        return np.asarray(np.where(holes, outer & ~inner, inner & ~outer))

    def _at(self, at: Places) -> Array:
        """Places of lines, (n, 3)."""
        (numbers, t), rim = at, self.round[at[0]]
        turn = 2 * np.pi * t
        along = np.where(rim, np.cos(turn), t)[:, None] * self.ones[numbers]
        places = self.starts[numbers] + along + np.where(rim, np.sin(turn), 0.0)[:, None] * self.others[numbers]
        for saddle, mine in self._on_saddles(numbers):
            places[mine] = saddle.at(360.0 * t[mine])
        return np.asarray(places)

    def _places(self, at: Places) -> tuple[Array, Array]:
        """Places of lines, and the way that each runs there."""
        (numbers, t), rim = at, self.round[at[0]]
        turn = 2 * np.pi * t
        ahead = np.where(rim, np.cos(turn), 0.0)[:, None] * self.others[numbers]
        ways = np.where(rim, -np.sin(turn), 1.0)[:, None] * self.ones[numbers] + ahead
        for saddle, mine in self._on_saddles(numbers):
            ways[mine] = saddle.at(360.0 * t[mine] + AHEAD) - saddle.at(360.0 * t[mine] - AHEAD)
        return self._at(at), np.asarray(unit(ways))

    def _on_saddles(self, numbers: Numbers) -> Iterator[tuple[Saddle, Numbers]]:
        """The saddles that some of the lines are on, and which of them each."""
        for n, saddle in self.saddles.items():
            mine = np.flatnonzero(numbers == n)
            if len(mine):
                yield saddle, mine

    def _merged(self, parts: Parts, states: Bools, ask: Asked, firm: Bools) -> tuple[Parts, Bools]:
        """Neighbours of one state as one. Where it changes at a place that is not ``firm``, it is settled between their
        middles."""
        lines, middles = parts.middles
        joined = np.concatenate(
            [[False], (lines[1:] == lines[:-1]) & (np.abs(parts.low[1:] - parts.high[:-1]) < 1e-12)]
        )
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
            last = np.argmin(
                np.concatenate([same, np.zeros_like(same[:1])]), axis=0
            )  # how many from below are as below
            low, high = (np.take_along_axis(places, (last + k)[None], axis=0)[0] for k in (0, 1))
        return np.asarray((low + high) / 2)

    # where it is seen

    def shown(self, there: Parts) -> list[list[EdgePiece]]:
        """Those stretches, parted into what is seen and what is hidden, for every eye.

        Lines change where they cross another in the picture. Where two on saddles do, it is looked for by steps.
        """
        found: list[list[EdgePiece]] = [[] for _ in self.eyes]
        if not len(there.lines):
            return found
        order = np.argsort(there.lines, kind="stable")
        crossings = self._crossings()
        parts = self._cut(Parts(there.lines[order], there.low[order], there.high[order]), crossings)
        states = self._seen(parts.middles)
        merged, seen = self._merged(parts, states, self._seen, self._firm(parts, states, crossings))
        for n, a, b, state in zip(*(column.tolist() for column in merged), seen.tolist()):
            if b - a > 1e-7:
                found[self.whose[n]].append(EdgePiece(self.lines[n], a, b, state))
        return found

    def _cut(self, there: Parts, crossings: Places) -> Parts:
        """Stretches, in the order of their lines, cut where their lines cross others; loose ones at even steps too."""
        (lines, at), begins, ends = crossings, _along(there.lines, there.low), _along(there.lines, there.high)
        own = np.searchsorted(begins, _along(lines, at) - ONE) - 1
        inner = (own >= 0) & (_along(lines, at) < ends[own] - ONE)
        counts = np.where(self.loose[there.lines], np.maximum(3, np.ceil(LOOKS * (there.high - there.low))), 1).astype(
            np.int64
        )
        part = np.repeat(np.arange(len(counts)), counts)
        step = np.arange(len(part)) - np.repeat(np.cumsum(counts) - counts, counts)
        even = (
            there.low[part] + (there.high - there.low)[part] * step / counts[part]
        )  # the first of each is where it begins
        part, cuts = np.concatenate([part, own[inner]]), np.concatenate([even, at[inner]])
        order = np.lexsort((cuts, part))
        part, cuts = part[order], cuts[order]
        apart = np.diff(cuts, prepend=-np.inf) > ONE
        apart[1:] |= part[1:] != part[:-1]
        part, cuts = part[apart], cuts[apart]
        last = np.concatenate([part[1:] != part[:-1], [True]])
        return Parts(there.lines[part], cuts, np.where(last, there.high[part], np.roll(cuts, -1)))

    def _firm(self, parts: Parts, states: Bools, crossings: Places) -> Bools:
        """Which parts begin where it changes just there, at a crossing: of loose ones as just before and just after it
        tell."""
        firm = ~self.loose[parts.lines]
        changed = np.flatnonzero((states[1:] != states[:-1]) & ~firm[1:]) + 1
        changed = changed[np.isin(_along(parts.lines[changed], parts.low[changed]), _along(*crossings))]
        if len(changed):
            lines, at = parts.lines[changed], parts.low[changed]
            before, after = (self._seen((lines, at + off)) for off in (-AT_ONCE, AT_ONCE))
            firm[changed] = (before == states[changed - 1]) & (after == states[changed])
        return firm

    def _seen(self, at: Places) -> Bools:
        """Whether a ray just beside, on either side, is open to the eye: what lies in one plane with the sight decides
        nothing."""
        places, ways = self._places(at)
        sights = self._sights(at[0], places)
        across = cross3(ways, sights)
        size = np.asarray(length(across))
        beside = (
            np.where(size[:, None] > 1e-9, across / np.maximum(size, 1e-300)[:, None], 0.0) * BESIDE * self.built.span
        )
        sides = [places + beside, places - beside]
        if len(places) < FEW:
            both = self.built.open_to(np.concatenate(sides), np.concatenate([sights, sights]))
            seen = np.asarray(both[: len(places)] | both[len(places) :])
        else:
            seen = self.built.open_to(sides[0], sights)
            shut = np.flatnonzero(~seen)
            seen[shut] = self.built.open_to(sides[1][shut], sights[shut])
        if self.meeting.any():
            mine = np.flatnonzero(seen & self.meeting[at[0]])
            near = self.built.near(places[mine], ROUND * self.built.span)
            seen[mine] = ~Ring(self.built, places[mine], ways[mine], near).flush(sights[mine])
        return seen

    def _sights(self, numbers: Numbers, places: Array) -> Array:
        """The unit vectors from places of lines, (n, 3), towards the eye of each."""
        whose = self.whose[numbers]
        sights = self.towards[whose]
        near = self.stand[whose]
        if near.any():
            sights[near] = unit(sights[near] - places[near])
        return np.asarray(sights)

    def _crossings(self) -> Places:
        """Where lines cross in an eye’s picture, in the order of lines and along each."""
        at = list[Places]()
        for k, eye in enumerate(self.eyes):
            mine = np.flatnonzero(self.whose == k)

            def places(there: Places, mine: Numbers = mine) -> Array:
                return self._at((mine[there[0]], there[1]))

            along = (self.starts[mine], self.ones[mine], self.others[mine])
            lines, t = crossings(
                DrawnLines(self.towards[k], eye.stands, *along, self.round[mine], self.on_saddle[mine], places)
            )
            at.append((mine[lines], t))
        lines, t = (np.concatenate(each) for each in zip(*at))
        order = np.lexsort((t, lines))
        return lines[order], t[order]


Asked = Callable[[Places], Bools]


def _along(lines: Numbers, at: Array) -> Array:
    """Places of lines as numbers that grow from line to line and along each."""
    return np.asarray(2.0 * lines + at)


def _in_order(rows: Array) -> list[list[float]]:
    """The finite places of each row in order, each once."""
    rows = np.sort(rows, axis=1)
    with np.errstate(invalid="ignore"):
        kept = np.isfinite(rows) & (np.diff(rows, axis=1, prepend=-np.inf) > ONE)
    return [row[mine].tolist() for row, mine in zip(rows, kept)]
