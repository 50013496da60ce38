"""A whole sheet: which paper and scale, and where each figure stands."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN, Style, scale_name
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.drawing import Drawing, Item, Text
from wise_compass.sheet.frame import TitleStrip, surround
from wise_compass.sheet.gaps import gap_items, gap_words
from wise_compass.sheet.lettering import SMALL, fitted, lacking, text_width
from wise_compass.sheet.paper import SCALES, SIZES, Paper, papers, scale_named
from wise_compass.sheet.render import LABEL_PAD, ScaledFace, render
from wise_compass.sheet.tables import table_items, table_size

if TYPE_CHECKING:
    from wise_compass.shop.shop import Shop
    from wise_compass.study.gaps import Gap
    from wise_compass.study.tables import Table

NOTES, MOST_WORDS = 4, 600
"""Lines that notes take under a figure, and letters of a line that are read at all."""
HEAD = 6
"""Lines that a problem may take above its figure."""
LEADING = 5.0
BETWEEN = 6.0
"""Free room between two figures of a sheet."""


class Piece(NamedTuple):
    """One figure for the sheet; ``shift`` moves it off its automatic place by sheet millimetres.

    ``gaps`` are drawn as a gap plot, ``table`` is set beside the figure; ``shop`` brings laps and plate;
    ``lines`` is how many its notes may take.
    """

    run: Run
    title: str = ""
    shift: tuple[float, float] | None = None
    notes: str = ""
    gaps: tuple[Gap, ...] = ()
    table: Table | None = None
    shop: Shop | None = None
    lines: int = NOTES
    problem: str = ""
    """Its problem as it was set in words, where it is wanted above the figure."""
    dimensions: str = "given"
    """Which dimensions stand on it: none, what is given, or all."""

    @property
    def reach(self) -> tuple[Array, ...]:
        """Places that are drawn beside the run's own marks, in figure mm."""
        return () if self.shop is None else tuple(lap.free for lap in self.shop.laps)


class Wishes(NamedTuple):
    """What is asked of a sheet."""

    paper: str = "A4"
    lie: str = "auto"
    scale: str = "auto"
    project: str = ""
    title: str = ""
    number: str = "1/1"
    style: Style = PLAIN
    labels: bool = True
    told: tuple[tuple[str, str], ...] = ()
    """What else stands in the strip, each with what stands over it."""


class Placed(NamedTuple):
    """A figure on its sheet: where its origin lies and the box it takes, in sheet mm."""

    piece: Piece
    origin: Array
    low: Array
    high: Array


@dataclass(eq=False, repr=False)
class Sheet:
    """A composed sheet. ``spans`` tells which of the drawing's items each placed figure brought, ``captions`` what
    stands under them."""

    paper: Paper
    scale: float
    placed: list[Placed]
    drawing: Drawing
    room: tuple[float, float]
    spans: list[tuple[int, int]]
    warnings: list[str] = field(default_factory=list)
    captions: list[Item] = field(default_factory=list)

    @property
    def says(self) -> str:
        """The room line: scale, paper, and what is left of it."""
        words = f"Scale {scale_name(self.scale)} on {self.paper.size}, {self.paper.lie}"
        return f"{words}. {' '.join(self.warnings)}" if self.warnings else f"{words}; {self.room_says}"

    @property
    def room_says(self) -> str:
        """What is left of the paper."""
        return f"room to spare {self.room[0]:.0f} × {self.room[1]:.0f} mm"


class _Layout(NamedTuple):
    origins: list[Array]
    boxes: list[tuple[Array, Array]]
    room: tuple[float, float]

    @property
    def fits(self) -> bool:
        return self.room[0] >= 0 and self.room[1] >= 0


def _arrange(boxes: list[tuple[Array, Array]], paper: Paper) -> _Layout:
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
    return _Layout(origins, boxes, room)


def _caption_lines(piece: Piece, count: int, scale: float, style: Style, paper: Paper, wide: float) -> list[str]:
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


def _head_lines(piece: Piece, count: int, paper: Paper, wide: float) -> list[str]:
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


def _table_room(paper: Paper) -> float:
    """The height that a table may take."""
    _, bottom, _, top = paper.field
    return 0.9 * (top - bottom)


class _Faces:
    """The pieces of a sheet at each scale that is tried: each is measured once for a scale, and no further than need
    be."""

    def __init__(self, pieces: Sequence[Piece], style: Style) -> None:
        self.pieces, self.style = pieces, style
        self.sizes = [tuple((high - low).tolist()) for low, high in (piece.run.extent for piece in pieces)]
        self._at: dict[float, list[ScaledFace]] = {}

    def at(self, scale: float) -> list[ScaledFace]:
        if scale not in self._at:
            self._at[scale] = [
                ScaledFace(piece.run, scale, self.style, piece.reach, piece.dimensions) for piece in self.pieces
            ]
        return self._at[scale]

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
        """How wide a piece is, its table with it."""
        low, high = self._extent(k, paper, scale)
        return float(high[0] - low[0])

    def _extent(self, k: int, paper: Paper, scale: float) -> tuple[Array, Array]:
        """The box of a piece about its origin, its table with it, no caption yet."""
        table, room = self.pieces[k].table, _table_room(paper)
        low, high = self.at(scale)[k].box
        if table is not None:
            corner, size = self.table_corner(k, scale, room), table_size(table, room)
            low = np.minimum(low, [low[0], corner[1] - size[1]])
            high = np.maximum(high, [corner[0] + size[0], corner[1]])
        return low, high

    def layout(self, paper: Paper, scale: float) -> _Layout:
        """Everything arranged on a paper at a scale."""
        boxes = []
        for k, piece in enumerate(self.pieces):
            low, high = self._extent(k, paper, scale)
            lines = _caption_lines(piece, len(self.pieces), scale, self.style, paper, float(high[0] - low[0]))
            head = _head_lines(piece, len(self.pieces), paper, float(high[0] - low[0]))
            wide = max((text_width(line, SMALL) for line in (*lines, *head)), default=0.0)
            side = max(wide - float(high[0] - low[0]), 0.0) / 2
            above = LEADING * len(head) + (BETWEEN / 2 if head else 0.0)
            boxes.append((low - np.array([side, LEADING * len(lines)]), high + np.array([side, above])))
        return _arrange(boxes, paper)


def _choose(faces: _Faces, wishes: Wishes) -> tuple[Paper, float, _Layout]:
    """The smallest paper, then the largest standard scale on it, that leave room for everything.

    With the paper free, true size or larger on a larger paper goes before a reduction on a smaller one, since
    instruments are set at true size; only what not even A0 takes so is reduced, on the smallest paper for its scale. A
    scale to measure by is drawn no larger than true.
    """
    allowed = papers(wishes.paper, wishes.lie, len(wishes.told))
    wanted = scale_named(wishes.scale)
    scales: Sequence[float] = SCALES if wanted is None else (wanted,)
    if wanted is None and any(piece.run.figure.true_size for piece in faces.pieces):
        scales = tuple(one for one in SCALES if one <= 1)
    by_paper = [[p for p in allowed if p.size == size] for size in SIZES if any(p.size == size for p in allowed)]
    groups: list[tuple[list[Paper], Sequence[float]]]
    if len(by_paper) == 1 or wanted is not None:
        groups = [(same, scales) for same in by_paper]
    else:
        groups = [(same, [s for s in scales if s >= 1]) for same in by_paper]
        groups += [(same, [s]) for s in scales if s < 1 for same in by_paper]
    for same, tried in groups:
        for scale in tried:
            for paper in same:  # lying down where that serves, as a drawing board does
                if not faces.hopeless(paper, scale) and (layout := faces.layout(paper, scale)).fits:
                    return paper, scale, layout
    raise _no_room(faces, wishes, allowed, scales)


def _no_room(faces: _Faces, wishes: Wishes, allowed: list[Paper], scales: Sequence[float]) -> Refused:
    paper, scale, pieces = allowed[-1], scales[-1], faces.pieces
    layout = min((faces.layout(p, scale) for p in allowed[-2:]), key=lambda one: -min(one.room))
    over = " and ".join(f"{-gap:.0f} mm in {way}" for gap, way in zip(layout.room, ("width", "height")) if gap < 0)
    says = f"At {scale_name(scale)} this runs off {paper.size} by {over}."
    if wishes.scale != "auto":
        try:
            _, best, _ = _choose(faces, Wishes(wishes.paper, wishes.lie, told=wishes.told))
            return Refused(
                "scale", f"{says} The largest scale that fits is {scale_name(best)}; take it or larger paper."
            )
        except Refused:
            pass
    remedies = ["Take larger paper"]
    if any(piece.table for piece in pieces):
        remedies.append("raise the step of the curve table")
    if len(pieces) > 1:
        remedies.append("split the sheet")
    return Refused("paper", f"{says} {' or '.join(remedies)}.")


def compose(pieces: Sequence[Piece], wishes: Wishes | None = None) -> Sheet:
    """Lay out figures on a sheet; raises :class:`Refused` where they cannot fit, saying by how much."""
    wishes = wishes or Wishes()
    faces = _Faces(pieces, wishes.style)
    if pieces:
        paper, scale, layout = _choose(faces, wishes)
    else:
        paper, scale = papers("A4" if wishes.paper == "auto" else wishes.paper, wishes.lie, len(wishes.told))[0], 1.0
        layout = _Layout([], [], (paper.field[2] - paper.field[0], paper.field[3] - paper.field[1]))
    drawing = Drawing(paper.width, paper.height)
    placed: list[Placed] = []
    spans: list[tuple[int, int]] = []
    captions: list[Item] = []
    for k, (piece, origin, (low, high)) in enumerate(zip(pieces, layout.origins, layout.boxes)):
        at = origin if piece.shift is None else origin + np.array(piece.shift)
        placed.append(Placed(piece, at, at + low, at + high))
        first = len(drawing.items)
        lines = _caption_lines(piece, len(pieces), scale, wishes.style, paper, faces.width(k, paper, scale))
        head = _head_lines(piece, len(pieces), paper, faces.width(k, paper, scale))
        under = [*_caption(placed[-1], lines), *_head(placed[-1], head)]
        captions += under
        also = [*gap_items(piece.gaps, scale, at, len(piece.run.steps)), *under]
        if piece.shop is not None:
            from wise_compass.sheet.cutting import lap_items

            also += lap_items(piece.shop, wishes.style, scale, at)
        drawing.items += render(faces.at(scale)[k], at, paper.field if wishes.labels else None, also)
        spans.append((first, len(drawing.items)))
        if piece.table is not None:
            room = _table_room(paper)
            drawing.items += table_items(piece.table, at + faces.table_corner(k, scale, room), room)
    views = any(isinstance(piece.run.figure, InViews) for piece in pieces)
    projection = pieces[0].run.conventions.projection if views else ""
    drawing.items += surround(
        paper,
        TitleStrip(wishes.project, wishes.title, wishes.number, scale, wishes.style.units, projection, wishes.told),
    )
    return Sheet(
        paper,
        scale,
        placed,
        drawing,
        layout.room,
        spans,
        [*_collisions(placed, paper), *_strange_signs(pieces, wishes), *_crowded(faces.at(scale))],
        captions,
    )


def _strange_signs(pieces: Sequence[Piece], wishes: Wishes) -> list[str]:
    """Which signs of titles and notes the type of the sheet lacks."""
    words = " ".join([wishes.project, wishes.title, *(f"{piece.title} {piece.notes}" for piece in pieces)])
    signs = lacking(words)[:12]
    return [f"The sheet’s type has no sign for {' '.join(signs)}: in a PDF each is a question mark."] if signs else []


def _crowded(faces: Sequence[ScaledFace]) -> Iterator[str]:
    """Which dimensions stand on lines or letters, since none of their places is free."""
    for face in faces:
        if names := list(dict.fromkeys(face.dimensioned.crowded)):
            stands = f"the dimension of {names[0]} finds" if len(names) == 1 else f"{', '.join(names)} find"
            title = face.run.figure.title
            yield f"In {title} {stands} no free place; take larger paper, a larger scale, or no dimensions."


def _collisions(placed: Sequence[Placed], paper: Paper) -> list[str]:
    left, bottom, right, top = paper.field
    warnings = []
    for i, one in enumerate(placed):
        if one.piece.shift is None:
            continue
        if (one.low < np.array([left, bottom]) - 0.5).any() or (one.high > np.array([right, top]) + 0.5).any():
            warnings.append(f"{one.piece.title or one.piece.run.figure.title} runs off the sheet; move it inward.")
        for j, other in enumerate(placed):
            if i != j and (one.low < other.high).all() and (other.low < one.high).all():
                warnings.append(f"{one.piece.title} and {other.piece.title} overlap; move one of them.")
    return warnings


def _caption(placed: Placed, lines: Sequence[str]) -> Iterator[Item]:
    middle = float(placed.low[0] + placed.high[0]) / 2
    for k, line in enumerate(lines):
        at = np.array([middle, placed.low[1] + LEADING * (len(lines) - 1 - k) + 1.0])
        yield Text("lettering", 0, "", "dimension", at, line, SMALL, 0.5)


def _head(placed: Placed, lines: Sequence[str]) -> Iterator[Item]:
    middle = float(placed.low[0] + placed.high[0]) / 2
    for k, line in enumerate(lines):
        at = np.array([middle, placed.high[1] - LEADING * (k + 1) + 1.0])
        yield Text("lettering", 0, "", "dimension", at, line, SMALL, 0.5)
