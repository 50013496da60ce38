"""Which paper and scale a sheet takes, and where its figures stand: in rows, each in the middle of its room; those that
stand on a point of another go with that one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, scale_name
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.gaps import gap_words
from wise_compass.sheet.lettering import SMALL, fitted, text_width
from wise_compass.sheet.paper import SCALES, SIZES, Paper, papers, scale_named
from wise_compass.sheet.piece import Piece, Wishes
from wise_compass.sheet.render import LABEL_PAD, ScaledFace
from wise_compass.sheet.standing import offsets, roots
from wise_compass.sheet.tables import table_size

MOST_WORDS = 600
"""Letters of a line of notes that are read at all."""
HEAD = 6
"""Lines that a problem may take above its figure."""
LEADING = 5.0
BETWEEN = 6.0
"""Free room between two figures of a sheet."""


class Layout(NamedTuple):
    origins: list[Array]
    boxes: list[tuple[Array, Array]]
    room: tuple[float, float]

    @property
    def fits(self) -> bool:
        return self.room[0] >= 0 and self.room[1] >= 0


def _arrange(boxes: list[tuple[Array, Array]], paper: Paper) -> Layout:
    """Figures in rows from the upper left, each row as full as it goes, the rows spread evenly over the field."""
    left, bottom, right, top = paper.field
    width, height = right - left, top - bottom
    sizes = [high - low for low, high in boxes]
    rows: list[list[int]] = [[]]
    used = 0.0
    for i, size in enumerate(sizes):
        if rows[-1] and used + size[0] + BETWEEN > width:
            rows.append([])
            used = 0.0
        rows[-1].append(i)
        used += size[0] + BETWEEN
    row_width = [sum(float(sizes[i][0]) for i in row) + BETWEEN * (len(row) - 1) for row in rows]
    row_height = [max(float(sizes[i][1]) for i in row) for row in rows]
    room = (width - max(row_width), height - sum(row_height) - BETWEEN * (len(rows) - 1))
    origins: list[Array] = [np.zeros(2)] * len(boxes)
    y = top - max(room[1], 0) / (len(rows) + 1)
    for row, wide, high in zip(rows, row_width, row_height):
        gap = max(width - wide, 0) / (len(row) + 1)
        x = left + gap
        for i in row:
            low = boxes[i][0]
            corner = np.array([x, y - high / 2 - sizes[i][1] / 2])
            origins[i] = corner - low
            x += float(sizes[i][0]) + BETWEEN + gap
        y -= high + BETWEEN + max(room[1], 0) / (len(rows) + 1)
    return Layout(origins, boxes, room)


def caption_lines(piece: Piece, count: int, scale: float, style: Style, paper: Paper, wide: float) -> list[str]:
    """Under its figure: the title where several share a sheet, the notes, and what a gap plot shows.

    Words never spoil a sheet: what is wider than its figure, ``wide``, and than half the field is wrapped, and after so
    many lines cut.
    """
    left, _, right, _ = paper.field
    room = (right - left) * 0.9 if count == 1 else max((right - left) * 0.42, min(wide, (right - left) * 0.9))
    lines = [fitted(piece.title, SMALL, room)] if count > 1 and piece.title else []
    notes = [part for line in piece.notes.splitlines()[:2] for part in _wrapped(line, room)]
    if len(notes) > piece.lines:
        notes = [*notes[: piece.lines - 1], fitted(notes[piece.lines - 1] + "…", SMALL, room)]
    lines += notes
    for words in _shop_words(piece):
        lines += _wrapped(style.say(words), room)
    plot = gap_words(piece.gaps, scale, style)
    return [*lines, plot] if plot else lines


def head_lines(piece: Piece, count: int, paper: Paper, wide: float) -> list[str]:
    """Above its figure: the problem as it was set, where it is wanted, wrapped as what stands under it is."""
    left, _, right, _ = paper.field
    room = (right - left) * 0.9 if count == 1 else max((right - left) * 0.42, min(wide, (right - left) * 0.9))
    lines = list(_wrapped(piece.problem, room)) if piece.problem else []
    return lines if len(lines) <= HEAD else [*lines[: HEAD - 1], fitted(lines[HEAD - 1] + "…", SMALL, room)]


def _shop_words(piece: Piece) -> Iterator[str]:
    """What is asked of its pattern, and once what whoever cuts it is to be warned of."""
    if piece.shop is not None:
        yield from piece.shop.says()
    yield from piece.run.hazards


@lru_cache(maxsize=256)
def _wrapped(words: str, room: float) -> tuple[str, ...]:
    """Words in lines no wider than ``room`` mm; a single word that is wider is cut."""
    lines: list[str] = []
    for word in words[:MOST_WORDS].split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(longer, SMALL) <= room:
            lines[-1] = longer
        else:
            lines.append(fitted(word, SMALL, room))
    return tuple(lines)


def table_room(paper: Paper) -> float:
    """The height that a table may take."""
    _, bottom, _, top = paper.field
    return 0.9 * (top - bottom)


class Before(NamedTuple):
    """The figures of a sheet as they were drawn last. While one is ``changing`` its dimensions keep their ways."""

    faces: Sequence[ScaledFace]
    changing: bool = False

    def of(self, k: int, face: ScaledFace) -> ScaledFace:
        """What was drawn, where the figure is the same by now; else it, which knows how it was dimensioned."""
        was = self.faces[k] if k < len(self.faces) else None
        if was is None:
            return face
        if was.as_before(face) and not was.dimensioned.kept:
            return was
        if self.changing and was.run.method is face.run.method:
            face.before = was.dimensioned
        return face


class Faces:
    """The pieces of a sheet at each scale that is tried: each is measured once for a scale, and no further than need
    be."""

    def __init__(self, pieces: Sequence[Piece], style: Style, before: Before | None = None) -> None:
        self.pieces, self.style, self.before = pieces, style, before or Before([])
        self.roots = roots(pieces)
        self.sizes = [
            tuple((high - low).tolist()) for low, high in (piece.run.extent for piece in pieces if not piece.turn)
        ]
        self._at: dict[float, list[ScaledFace]] = {}

    def at(self, scale: float) -> list[ScaledFace]:
        if scale not in self._at:
            faces = [
                ScaledFace(piece.run, scale, self.style, piece.reach, piece.dimensions, piece.turn)
                for piece in self.pieces
            ]
            off = offsets(self.pieces, scale)
            for k, face in enumerate(faces):
                face.beside = [(faces[j], off[j] - off[k], j < k) for j in self.group(k) if j != k]
            self._at[scale] = [self.before.of(k, face) for k, face in enumerate(faces)]
        return self._at[scale]

    def group(self, k: int) -> list[int]:
        """The pieces that stand with one, itself among them."""
        return [j for j, root in enumerate(self.roots) if root == self.roots[k]]

    def hopeless(self, paper: Paper, scale: float) -> bool:
        """Whether the lines of one piece alone are larger than the field: then nothing need be laid out."""
        left, bottom, right, top = paper.field
        pad = 2 * LABEL_PAD
        return any(wide * scale + pad > right - left or high * scale + pad > top - bottom for wide, high in self.sizes)

    def table_corner(self, k: int, scale: float, room: float) -> Array:
        """Where a table's upper left corner lies from the figure's origin: to the right, level with its middle."""
        table = self.pieces[k].table
        assert table is not None
        low, high = self.at(scale)[k].box
        return np.array([high[0] + BETWEEN, (low[1] + high[1] + table_size(table, room)[1]) / 2])

    def width(self, k: int, paper: Paper, scale: float) -> float:
        """How wide a group is, tables with it."""
        low, high = self._group_box(k, paper, scale)
        return float(high[0] - low[0])

    def _extent(self, k: int, paper: Paper, scale: float) -> tuple[Array, Array]:
        """The box of a piece about its origin, its table with it, no caption yet."""
        table, room = self.pieces[k].table, table_room(paper)
        low, high = self.at(scale)[k].box
        if table is not None:
            corner, size = self.table_corner(k, scale, room), table_size(table, room)
            low = np.minimum(low, [low[0], corner[1] - size[1]])
            high = np.maximum(high, [corner[0] + size[0], corner[1]])
        return low, high

    def words(self, k: int, paper: Paper, scale: float) -> tuple[list[str], list[str]]:
        """What stands above a group, and under it: of the piece that it is arranged by first; none of the others."""
        if self.roots[k] != k:
            return [], []
        count, wide = len(self.pieces), self.width(k, paper, scale)
        mine = [self.pieces[j] for j in self.group(k)]
        head = [line for piece in mine for line in head_lines(piece, count, paper, wide)]
        return head, [line for piece in mine for line in caption_lines(piece, count, scale, self.style, paper, wide)]

    def _group_box(self, k: int, paper: Paper, scale: float) -> tuple[Array, Array]:
        """The box of a group about the origin of the piece that it is arranged by."""
        off = offsets(self.pieces, scale)
        boxes = [(low + off[j], high + off[j]) for j in self.group(k) for low, high in [self._extent(j, paper, scale)]]
        lows, highs = zip(*boxes)
        return np.min(lows, axis=0), np.max(highs, axis=0)

    def layout(self, paper: Paper, scale: float) -> Layout:
        """Everything arranged on a paper at a scale; the box of a piece that stands on another is its own."""
        arranged = [k for k, root in enumerate(self.roots) if root == k]
        boxes = []
        for k in arranged:
            low, high = self._group_box(k, paper, scale)
            head, lines = self.words(k, paper, scale)
            wide = max((text_width(line, SMALL) for line in (*lines, *head)), default=0.0)
            side = max(wide - float(high[0] - low[0]), 0.0) / 2
            above = LEADING * len(head) + (BETWEEN / 2 if head else 0.0)
            boxes.append((low - np.array([side, LEADING * len(lines)]), high + np.array([side, above])))
        found = _arrange(boxes, paper)
        at, box = dict(zip(arranged, found.origins)), dict(zip(arranged, boxes))
        off = offsets(self.pieces, scale)
        origins = [at[root] + off[k] for k, root in enumerate(self.roots)]
        own = [box[k] if k in box else self._extent(k, paper, scale) for k in range(len(self.pieces))]
        return Layout(origins, own, found.room)


def choose(faces: Faces, wishes: Wishes) -> tuple[Paper, float, Layout]:
    """The smallest paper, then the largest standard scale on it, that leave room for everything; raises
    :class:`Refused` where none does.

    With the paper free, true size or larger on a larger paper goes before a reduction on a smaller one, since
    instruments are set at true size; only what not even A0 takes so is reduced, on the smallest paper for its scale. A
    scale to measure by is drawn no larger than true.
    """
    chosen = _chosen(faces, wishes)
    if chosen is None:
        raise _no_room(faces, wishes)
    return chosen


def has_room(pieces: Sequence[Piece], wishes: Wishes) -> bool:
    """Whether a sheet takes pieces with their tables beside them, as :func:`choose` finds it; nothing is drawn."""
    return _chosen(Faces(pieces, wishes.style), wishes) is not None


def _scales(faces: Faces, wishes: Wishes) -> Sequence[float]:
    wanted = scale_named(wishes.scale)
    if wanted is not None:
        return (wanted,)
    if any(piece.run.figure.true_size for piece in faces.pieces):
        return tuple(one for one in SCALES if one <= 1)
    return SCALES


def _chosen(faces: Faces, wishes: Wishes) -> tuple[Paper, float, Layout] | None:
    allowed, scales = papers(wishes.paper, wishes.lie, len(wishes.told)), _scales(faces, wishes)
    by_paper = [[p for p in allowed if p.size == size] for size in SIZES if any(p.size == size for p in allowed)]
    groups: list[tuple[list[Paper], Sequence[float]]]
    if len(by_paper) == 1 or len(scales) == 1:
        groups = [(same, scales) for same in by_paper]
    else:
        groups = [(same, [s for s in scales if s >= 1]) for same in by_paper]
        groups += [(same, [s]) for s in scales if s < 1 for same in by_paper]
    for same, tried in groups:
        for scale in tried:
            for paper in same:  # lying down where that serves, as a drawing board does
                if not faces.hopeless(paper, scale) and (layout := faces.layout(paper, scale)).fits:
                    return paper, scale, layout
    return None


def _no_room(faces: Faces, wishes: Wishes) -> Refused:
    allowed = papers(wishes.paper, wishes.lie, len(wishes.told))
    paper, scale, pieces = allowed[-1], _scales(faces, wishes)[-1], faces.pieces
    layout = min((faces.layout(p, scale) for p in allowed[-2:]), key=lambda one: -min(one.room))
    over = " and ".join(f"{-gap:.0f} mm in {way}" for gap, way in zip(layout.room, ("width", "height")) if gap < 0)
    says = f"At {scale_name(scale)} this runs off {paper.size} by {over}."
    if wishes.scale != "auto":
        fits = _chosen(faces, Wishes(wishes.paper, wishes.lie, told=wishes.told))
        if fits is not None:
            return Refused(
                "scale", f"{says} The largest scale that fits is {scale_name(fits[1])}; take it or larger paper."
            )
    remedies = ["Take larger paper"]
    if any(piece.table for piece in pieces):
        remedies.append("raise the step of the curve table")
    if len(pieces) > 1:
        remedies.append("split the sheet")
    return Refused("paper", f"{says} {' or '.join(remedies)}.")
