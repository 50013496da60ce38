"""A whole sheet: which paper and scale, and where each figure stands."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import scale_name
from wise_compass.sheet.drawing import Drawing, Item, Text
from wise_compass.sheet.frame import TitleStrip, surround
from wise_compass.sheet.free import free_place
from wise_compass.sheet.gaps import gap_items
from wise_compass.sheet.layout import LEADING, Before, Faces, Layout, choose, table_room
from wise_compass.sheet.lettering import SMALL, lacking
from wise_compass.sheet.paper import SCALES, Paper, papers
from wise_compass.sheet.piece import Piece, Placed, Wishes
from wise_compass.sheet.render import ScaledFace, render
from wise_compass.sheet.tables import table_items, table_size
from wise_compass.sheet.turning import turned_items


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
    hint: str = ""
    faces: list[ScaledFace] = field(default_factory=list)

    @property
    def says(self) -> str:
        """The room line: scale, paper, and what is left of it."""
        words = f"Scale {scale_name(self.scale)} on {self.paper.size}, {self.paper.lie}"
        return f"{words}. {' '.join(self.warnings)}" if self.warnings else f"{words}; {self.room_says}"

    @property
    def provisional(self) -> bool:
        """Whether some dimensions keep the ways that they had before, and are still to be weighed."""
        return any(face.dimensioned.kept for face in self.faces)

    def dimensioned_as(self, other: Sheet) -> bool:
        """Whether another sheet of the same figures has their dimensions in the same places."""
        return (self.paper, self.scale) == (other.paper, other.scale) and all(
            mine.dimensioned.same_ways(theirs.dimensioned) for mine, theirs in zip(self.faces, other.faces, strict=True)
        )

    @property
    def room_says(self) -> str:
        """What is left of the paper."""
        return f"room to spare {self.room[0]:.0f} × {self.room[1]:.0f} mm{self.hint}"


def compose(pieces: Sequence[Piece], wishes: Wishes | None = None, before: Before | None = None) -> Sheet:
    """Lay out figures on a sheet, their tables in free corners of it, or beside them where there is none; raises
    :class:`Refused` where they cannot fit, saying by how much. What was drawn ``before`` spares work."""
    wishes = wishes or Wishes()
    if any(piece.table is not None for piece in pieces):
        try:
            sheet = _composed([piece._replace(table=None) for piece in pieces], wishes, before)
        except Refused:  # what is refused is told with the tables that it has
            return _composed(pieces, wishes, before)
        if _in_corners(sheet, pieces):
            return sheet
    return _composed(pieces, wishes, before)


def _in_corners(sheet: Sheet, pieces: Sequence[Piece]) -> bool:
    """Put the tables of pieces into free corners of their sheet, as tall as they go; False where one finds none, and
    nothing is put."""
    items: list[Item] = []
    for table in (piece.table for piece in pieces if piece.table is not None):
        for share in TABLE_SHARES:
            room = share * table_room(sheet.paper)
            size = table_size(table, room)
            low = free_place([*sheet.drawing.items, *items], sheet.paper, size + 2 * TABLE_PAD)
            if low is not None:
                break
        else:
            return False
        items += table_items(table, low + TABLE_PAD + np.array([0.0, size[1]]), room)
    sheet.drawing.items += items
    sheet.placed = [placed._replace(piece=piece) for placed, piece in zip(sheet.placed, pieces)]
    return True


def _composed(pieces: Sequence[Piece], wishes: Wishes, before: Before | None) -> Sheet:
    """Figures on a sheet, their tables beside them."""
    faces = Faces(pieces, wishes.style, before)
    if pieces:
        paper, scale, layout = choose(faces, wishes)
    else:
        paper, scale = papers("A4" if wishes.paper == "auto" else wishes.paper, wishes.lie, len(wishes.told))[0], 1.0
        layout = Layout([], [], (paper.field[2] - paper.field[0], paper.field[3] - paper.field[1]))
    drawing = Drawing(paper.width, paper.height)
    sheet = Sheet(paper, scale, [], drawing, layout.room, [], faces=faces.at(scale))
    for k in range(len(pieces)):
        _put(sheet, faces, layout, wishes, k)
    views = any(isinstance(piece.run.figure, InViews) for piece in pieces)
    projection = pieces[0].run.conventions.projection if views else ""
    drawing.items += surround(
        paper,
        TitleStrip(wishes.project, wishes.title, wishes.number, scale, wishes.style.units, projection, wishes.told),
    )
    sheet.warnings += [
        *_collisions(sheet.placed, faces, paper),
        *_strange_signs(pieces, wishes),
        *_crowded(faces.at(scale)),
    ]
    sheet.hint = _lost(layout, wishes, paper, scale)
    return sheet


def _put(sheet: Sheet, faces: Faces, layout: Layout, wishes: Wishes, k: int) -> None:
    """Put a piece where it is laid out, moved as its group is, with what stands above it, under it and beside it."""
    piece, scale, drawing = faces.pieces[k], sheet.scale, sheet.drawing
    low, high = layout.boxes[k]
    shift = faces.pieces[faces.roots[k]].shift
    at = layout.origins[k] if shift is None else layout.origins[k] + np.array(shift)
    placed = Placed(piece, at, at + low, at + high)
    sheet.placed.append(placed)
    first = len(drawing.items)
    head, lines = faces.words(k, sheet.paper, scale)
    under = [*_caption(placed, lines), *_head(placed, head)]
    sheet.captions += under
    own = [*gap_items(piece.gaps, scale, np.zeros(2), len(piece.run.steps))]
    if piece.shop is not None:
        from wise_compass.sheet.cutting import lap_items

        own += lap_items(piece.shop, wishes.style, scale, np.zeros(2))
    if piece.turn:
        own = list(turned_items(own, piece.turn))
    also = [*(item.moved(at) for item in own), *under]
    field = sheet.paper.field if wishes.labels else None
    beside = [item for j in faces.group(k) if j < k for item in drawing.items[slice(*sheet.spans[j])]]
    drawing.items += render(faces.at(scale)[k], at, field, also, beside)
    sheet.spans.append((first, len(drawing.items)))
    if piece.table is not None:
        room = table_room(sheet.paper)
        drawing.items += table_items(piece.table, at + faces.table_corner(k, scale, room), room)


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


TABLE_SHARES = 1.0, 0.6, 0.35, 0.2
TABLE_PAD = 3.0
"""Heights of a table that are tried for a free corner, as parts of what it may take; and what is left round it."""
LOST = 1 / 3
"""Of its field: what a drawing fills at least, where a larger scale would fit."""


def _lost(layout: Layout, wishes: Wishes, paper: Paper, scale: float) -> str:
    """Which larger scale fits a drawing that hardly fills its sheet; letters do not grow with it."""
    if wishes.scale == "auto" or not layout.boxes:
        return ""
    left, bottom, right, top = paper.field
    wide, high = right - left - layout.room[0], top - bottom - layout.room[1]
    if wide * high >= LOST * (right - left) * (top - bottom):
        return ""
    fits = [one for one in SCALES if wide * one / scale <= right - left and high * one / scale <= top - bottom]
    return f"; it fills little of its sheet, and {scale_name(max(fits))} fits" if fits and max(fits) > scale else ""


def _collisions(placed: Sequence[Placed], faces: Faces, paper: Paper) -> list[str]:
    left, bottom, right, top = paper.field
    warnings = []
    for i, one in enumerate(placed):
        if one.piece.shift is None or faces.roots[i] != i:
            continue
        if (one.low < np.array([left, bottom]) - 0.5).any() or (one.high > np.array([right, top]) + 0.5).any():
            warnings.append(f"{one.piece.title or one.piece.run.figure.title} runs off the sheet; move it inward.")
        for j, other in enumerate(placed):
            apart = faces.roots[j] != i
            if apart and (one.low < other.high).all() and (other.low < one.high).all():
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
