"""Lining in what an eye sees of a solid of blocks, between places that stand on the sheet.

``lining.py`` lines in; in plans and orthographic views only the foremost of edges behind one another, and a rim on edge
as the straight line that it is, from its two furthest places. ``two_point.py`` draws a solid of blocks from a
``Station`` (``stations.py``) by rays in plan and side view. ``Figure.own_edges`` gives a solid's edges where they are
not those of its faces. ``Figure.pictured`` tells how a drawing pictures the faces of its solid; ``scene/tones.py`` lays
tones under it. ``scene/projection.py`` reads the projection off it, so that the space view opens as it is pictured and
glides from one to the next (``desk/round/posing.py``). ``Figure.beside`` gives lines that stand beside the solid in
space, such as rays to an eye. ``sheet/gridpaper.py`` is blank isometric paper, ``scene/grid.py`` the grid under a
picture. Hidden edges on request are a convention of the run (``Conventions.shows_hidden``).
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import Role, Row, Spot
from wise_compass.figures.pictorial.block_views import EYES
from wise_compass.figures.pictorial.of_blocks import OfBlocks
from wise_compass.geometry.block_cones import Hyperbola
from wise_compass.geometry.block_edges import EdgePiece
from wise_compass.geometry.block_lines import EdgeLine, Rim
from wise_compass.geometry.block_saddles import BoreLoop, BoreSaddle
from wise_compass.geometry.block_shapes import Level
from wise_compass.geometry.vectors import Array

NEAR = 1e-9
"""Of the whole's size: what is nearer is one in a view."""
LEAST = 1e-6
"""mm, or of a turn: what is left of a line and shorter is not drawn."""
LOOKS, ALIKE = 24, 1e-9
"""Places of half a rim at which it is looked whether the other half covers it; of the whole's size, how nearly."""
SAME = 6
"""Decimals of the whole's size to which two lines of a view are one."""


class Stroke(NamedTuple):
    """A stretch of an edge in a view: the line of the sheet that it lies on, from where to where along that, the edge,
    by a piece of it, and where along the line of the sheet the edge's own line begins and ends."""

    on: Hashable
    low: float
    high: float
    piece: EdgePiece
    start: float = 0.0
    end: float = 1.0

    def part(self, low: float, high: float) -> EdgePiece:
        """The part of the edge that lies from one place of that line to another."""
        shares = [(at - self.start) / (self.end - self.start) for at in (low, high)]
        return self.piece._replace(start=min(shares), end=max(shares))


def line_of(start: Sequence[float], way: Sequence[float], span: float) -> tuple[Hashable, float, float] | None:
    """The line of the sheet that a stretch from ``start`` over ``way`` lies on, where along it that begins, and how far
    it runs, less than 0 backward; None where it is a point. ``span`` is the size of the whole."""
    (x, y), (u, v), near = start, way, NEAR * span
    size = math.hypot(u, v)
    if size < near:
        return None
    turned = -size if u < -near or (abs(u) <= near and v < 0) else size
    u, v = u / turned, v / turned
    on = (round(u, SAME) + 0.0, round(v, SAME) + 0.0, round((u * y - v * x) / span, SAME) + 0.0)
    return on, u * x + v * y, turned


class Lining:
    """Lines in what an eye sees; the keys of places end in ``tail``."""

    def __init__(self, g: OfBlocks, d: Draft, view: str, tail: str) -> None:
        self.g, self.d, self.view, self.tail = g, d, view, tail
        self._rims: dict[tuple[int, Rim], Row] = {}
        self.covered: dict[Hashable, list[tuple[float, float]]] = {}
        """Stretches of the view's lines that are drawn already."""

    def draw(self, hidden: bool = True) -> None:
        """What is seen dark, and what is hidden dashed; of edges that lie behind one another in a view the foremost
        alone."""
        d = self.d
        pieces: Sequence[EdgePiece] = self.g.pieces(self.view)
        if self.view in self.g.pictures:  # not in perspective, where lines behind each other hardly ever fall together
            pieces = self._uncovered(pieces)
        for seen, role, words in (
            (True, Role.OUTLINE, "Line in what is seen."),
            (False, Role.HIDDEN, "Line in what is hidden."),
        ):
            mine = [piece for piece in pieces if piece.seen == seen]
            if mine and (seen or hidden):
                with d.as_one("Straightedge", words):
                    for piece in mine:
                        self._piece(piece, role)

    # edges behind one another

    def _uncovered(self, pieces: Sequence[EdgePiece]) -> list[EdgePiece]:
        """The stretches of pieces that lie on no other drawn before them: what is seen goes first, and the longer of
        two."""
        strokes = sorted(self._strokes(pieces), key=lambda stroke: (not stroke.piece.seen, stroke.low - stroke.high))
        found = []
        for stroke in strokes:
            taken = self.covered.setdefault(stroke.on, [])
            found += [stroke.part(*left) for left in _left(stroke.low, stroke.high, taken)]
            taken.append((stroke.low, stroke.high))
        return found

    def _strokes(self, pieces: Sequence[EdgePiece]) -> Iterator[Stroke]:
        """Where pieces lie in the view: none where they are seen as points; a rim on edge runs along its line there and
        back."""
        flat, span = self.g.pictures[self.view].vectors, self.g.built.span
        straight: list[tuple[EdgePiece, float, float]] = []
        for piece in pieces:
            furthest = self._edge_on(piece.line) if piece.line.kind == "rim" else None
            if furthest is not None:
                chord = piece._replace(line=_chord(piece.line, furthest, self.g.round))
                ends = (end - furthest[0] / self.g.round for end in (piece.start, piece.end))
                curved = isinstance(piece.line.level, Hyperbola)
                stretches = [_along(piece, chord.line, flat)] if curved else _there_and_back(*ends)
                straight += [(chord, *stretch) for stretch in stretches]
            elif piece.line.kind == "rim":
                at = np.round(np.array([piece.line.start, piece.line.one, piece.line.other]) @ flat / span, SAME) + 0.0
                for start, end in _folded(piece, _mirror(piece.line, flat, span)):
                    yield Stroke(tuple(at.ravel().tolist()), start, end, piece)
            else:
                straight.append((piece, piece.start, piece.end))
        if not straight:
            return
        near = NEAR * span
        starts, ways = (
            np.array([getattr(piece.line, name) for piece, _, _ in straight]) @ flat for name in ("start", "one")
        )
        for (piece, *stretch), start, way in zip(straight, starts.tolist(), ways.tolist()):
            laid = line_of(start, way, span)
            if laid is None:
                continue
            on, first, turned = laid
            low, high = sorted(first + t * turned for t in stretch)
            if high - low > near:
                yield Stroke(on, low, high, piece, first, first + turned)

    def _edge_on(self, line: EdgeLine) -> tuple[int, int] | None:
        return self.g.edge_on(self.g.built.blocks[line.block], line.level, self.view) if self.view in EYES else None

    # a piece

    def _piece(self, piece: EdgePiece, role: Role) -> None:
        d, line = self.d, piece.line
        if line.kind == "rim":
            start, end = piece.start * self.g.round, piece.end * self.g.round
            d.piece(
                self._rim(line.block + 1, line.level),
                start,
                float(self.g.round) if end - start > self.g.round - 1e-6 else end,
                role,
            )
            return
        ends = self._ends(line)
        if math.dist(ends[0].here.tolist(), ends[1].here.tolist()) < 1e-7:
            return
        if piece.start <= 1e-9 and piece.end >= 1 - 1e-9:
            d.line_in(ends, role=role)
        else:
            d.piece(d.row(ends, smooth=False), piece.start, piece.end, role)

    def _ends(self, line: EdgeLine) -> list[Spot]:
        """Where a straight line begins and ends."""
        number, block = line.block + 1, self.g.built.blocks[line.block]
        rims = self.g.rims[line.block]
        if line.kind == "line":
            return [self._spot(f"{letter}{number}") for letter in line.letters]
        if line.kind == "chord":
            return [self._spot(f"{number}Rz{line.letters}{end}") for end in "ab"]
        if line.kind == "lip":
            k = self.g.lips[line.block].index(line.turn)
            return [self._spot(f"{number}R{n}y{k}") for n in (0, rims.index(Level(1.0)))]
        if line.kind == "on edge":
            n = rims.index(line.level)
            return [self._spot(f"{number}R{n}x{k}") for k in line.letters.split()]
        foot = self._on_rim(line, Level(0.0))
        return [foot, self._spot(f"V{number}") if block.shape == "cone" else self._on_rim(line, Level(1.0))]

    def _on_rim(self, line: EdgeLine, level: Level) -> Spot:
        """Where a contour touches a rim."""
        place = line.turn % 360.0 / 360.0 * self.g.round
        if self._edge_on(line._replace(level=level)) is None:
            return self.d.touched(self._rim(line.block + 1, level), place)
        n = self.g.rims[line.block].index(level)
        return self._spot(f"{line.block + 1}R{n}x{round(place) % self.g.round}")

    def _spot(self, key: str) -> Spot:
        return self.d.spots[f"{key}{self.tail}"]

    def _rim(self, number: int, level: Rim) -> Row:
        """The curve of a rim through its places, faired once for all its pieces."""
        if (number, level) not in self._rims:
            n = self.g.rims[number - 1].index(level)
            self._rims[number, level] = self.d.row(
                [self._spot(f"{number}R{n}x{k}") for k in range(len(self.g.turns_of(level)))],
                closed=not isinstance(level, Hyperbola),
            )
        return self._rims[number, level]


def _chord(line: EdgeLine, furthest: tuple[int, int], count: int) -> EdgeLine:
    """A rim on edge as the straight line that it is in the view, from where it reaches furthest to where it does so on
    the other side."""
    first, last = line.at(np.array(furthest) / count)
    return line._replace(kind="on edge", letters=" ".join(map(str, furthest)), start=first, one=last - first)


def _mirror(line: EdgeLine, flat: Array, span: float) -> float | None:
    """Where on a rim on a saddle one half of it begins that covers the other in a view, by what is ``flat`` there; None
    where none does."""
    if not isinstance(line.level, BoreSaddle | BoreLoop):
        return None
    looks = np.arange(1, LOOKS) / (2 * LOOKS)
    for begins in (0.0, 0.25):
        one, other = (line.at((begins + way * looks) % 1.0) @ flat for way in (1.0, -1.0))
        if float(np.abs(one - other).max()) < ALIKE * span:
            return begins
    return None


def _folded(piece: EdgePiece, begins: float | None) -> Iterator[tuple[float, float]]:
    """The stretches of a rim that a piece covers in a view: all of it, or, where one half covers the other, in the half
    that begins there."""
    if begins is None:
        yield piece.start, piece.end
        return
    ends = [piece.start, *(t for t in (begins, begins + 0.5) if piece.start < t < piece.end), piece.end]
    for low, high in zip(ends, ends[1:]):
        if begins <= (low + high) / 2 <= begins + 0.5:
            yield low, high
        else:
            both = 2 * begins + ((low + high) / 2 > begins)
            yield both - high, both - low


def _along(piece: EdgePiece, chord: EdgeLine, flat: Array) -> tuple[float, float]:
    """From where to where along its chord a piece of a plane curve on edge runs, in a view by what is ``flat``
    there."""
    way = chord.one @ flat
    first, last = (piece.line.at(np.array([piece.start, piece.end])) - chord.start) @ flat @ way / (way @ way)
    return float(min(first, last)), float(max(first, last))


def _there_and_back(start: float, end: float) -> Iterator[tuple[float, float]]:
    """From where to where along its chord a rim on edge runs, from one place of it to another."""
    turns = [start, *(t for t in (0.0, 0.5) if start < t < end), end]
    along = [(1.0 - math.cos(2 * math.pi * t)) / 2 for t in turns]
    yield from ((min(pair), max(pair)) for pair in zip(along, along[1:]))


def _left(low: float, high: float, taken: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """What other stretches leave of one."""
    left = [(low, high)]
    for a, b in taken:
        left = [part for x, y in left for part in ((x, min(y, a)), (max(x, b), y)) if part[1] - part[0] > LEAST]
    return left
