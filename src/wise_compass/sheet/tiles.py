"""A sheet larger than the printer's paper, parted into tiles that overlap.

``sheet/tiles.py: pages_of`` parts a drawing into pages; ``outputs/pdf.py`` and ``desk/leaving/printing.py`` put the
same pages on a PDF and on a printer, which is never asked to fit them. ``sheet/reach.py`` names what a printer’s
margins would cut off. What is kept of a person (``job/person.py``: stretches of printers, pixels of screens, text,
colours, jobs opened last) lies in the XDG configuration folder. ``desk/parts/theme.py`` maps every colour of the desk
by day or at night (``colour``), but what lies on paper keeps its own (``on_paper``); ``px`` and ``wide`` grow with the
text. A change of look makes the window anew for the same session (``desk/parts/looks.py``). Every process that imports
``tests`` has XDG folders of its own; the session is read in parts: ``walking.py``, ``scattering.py``, ``filing.py``.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, point
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.lettering import SMALL, TEXT
from wise_compass.sheet.paper import SIZES, Paper

EDGE, OVERLAP = 8.0, 12.0
"""mm that a printer may not reach at an edge, and by which two tiles show the same."""
CROSS = 3.0
"""Half the length of a register mark's arms."""


class Layer(NamedTuple):
    """Something put on a page: its origin there in mm, its scale, and the box that is seen of it, lowest and highest
    corner."""

    content: Drawing
    origin: Array
    scale: float = 1.0
    window: tuple[Array, Array] | None = None


class Page(NamedTuple):
    """A page of print, in mm, with what is put on it."""

    width: float
    height: float
    layers: tuple[Layer, ...]


class Tile(NamedTuple):
    """A tile: its row from above and its column, from 1, and the place of the sheet that lies at its lower left corner
    of print."""

    row: int
    column: int
    corner: Array


class Tiling(NamedTuple):
    """How a sheet of so many mm is parted: over ``rows`` and ``columns`` of a paper, each showing ``shown`` mm of
    it."""

    width: float
    height: float
    paper: Paper
    rows: int
    columns: int

    @property
    def shown(self) -> Array:
        """What fits on a tile, without the edge that is left free."""
        return np.array([self.paper.width, self.paper.height]) - 2 * EDGE

    @property
    def step(self) -> Array:
        """From a tile to the next."""
        return np.asarray(self.shown - OVERLAP)

    @property
    def first(self) -> Array:
        """The place of the sheet at the lower left corner of the lowest row's first tile: the sheet lies in the middle
        of all."""
        whole = np.array([self.columns, self.rows]) * self.step + OVERLAP
        return np.asarray((np.array([self.width, self.height]) - whole) / 2)

    def tiles(self) -> Iterator[Tile]:
        """Row by row from above, each from the left."""
        for row in range(self.rows):
            for column in range(self.columns):
                yield Tile(row + 1, column + 1, self.first + np.array([column, self.rows - 1 - row]) * self.step)


def tiling(width: float, height: float, size: str) -> Tiling | None:
    """The tiling of a sheet on paper of a size with the fewest tiles; None where a single piece of it holds the sheet.

    >>> two = tiling(420.0, 297.0, "A4")
    >>> two.rows * two.columns, tiling(297.0, 210.0, "A4")
    (4, None)
    """
    if min(SIZES[size]) >= min(width, height) and max(SIZES[size]) >= max(width, height):
        return None
    found = []
    for lie in ("landscape", "portrait"):
        paper = Paper(size, lie)
        step = np.array([paper.width, paper.height]) - 2 * EDGE - OVERLAP
        columns, rows = np.ceil((np.array([width, height]) - OVERLAP) / step).astype(int).tolist()
        found.append(Tiling(width, height, paper, rows, columns))
    return min(found, key=lambda one: one.rows * one.columns)


def register_marks(parted: Tiling) -> list[Line]:
    """Crosses in the overlaps, two to a joint of two tiles, in sheet mm: laid on each other they join the tiles."""
    found = []
    low, step = parted.first, parted.step
    for k in range(1, parted.columns):
        x = float(low[0] + k * step[0]) + OVERLAP / 2
        for row in range(parted.rows):
            found += [point(x, float(low[1] + (row + share) * step[1])) for share in (0.3, 0.7)]
    for k in range(1, parted.rows):
        y = float(low[1] + k * step[1]) + OVERLAP / 2
        for column in range(parted.columns):
            found += [point(float(low[0] + (column + share) * step[0]), y) for share in (0.3, 0.7)]
    arms = (point(CROSS, 0.0), point(0.0, CROSS))
    return [Line("register", 0, "", "strip", np.array([at - arm, at + arm])) for at in found for arm in arms]


def tile_words(parted: Tiling, tile: Tile, title: str) -> Item:
    """Which tile it is, in the free edge below, in mm of the tile."""
    words = f"{title}: row {tile.row} of {parted.rows}, column {tile.column} of {parted.columns}; join at the crosses"
    return Text("register", 0, "", "frame", point(EDGE, EDGE / 2 - 1.0), words, SMALL)


def map_items(parted: Tiling, title: str) -> tuple[float, Array, list[Item]]:
    """The map of all tiles on a piece of the paper: the sheet's scale and its origin there, and the grid with its
    words."""
    room = parted.shown - point(0.0, 22.0)
    whole = np.array([parted.columns, parted.rows]) * parted.step + OVERLAP
    scale = float((room / whole).min()) * 0.96
    low = point(EDGE, parted.paper.height - EDGE - 18.0 - float(whole[1]) * scale)
    corner = low - parted.first * scale
    items: list[Item] = []
    for tile in parted.tiles():
        low = corner + tile.corner * scale
        high = low + parted.shown * scale
        box = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
        items.append(Line("register", 0, "", "gap", box, closed=True))
        words = f"row {tile.row}, column {tile.column}"
        items.append(Text("register", 0, "", "gap", point(low[0] + 1.5, high[1] - SMALL - 0.5), words, SMALL))
    top = parted.paper.height - EDGE - TEXT
    count, rows = parted.rows * parted.columns, f"{parted.rows} row{'s' if parted.rows > 1 else ''}"
    says = (
        f"{title}: {count} tiles, {rows} of {parted.columns}, each {OVERLAP:.0f} "
        "mm over the next. Print without shrinking."
    )
    items.append(Text("register", 0, "", "frame", point(EDGE, top), says, SMALL))
    items.append(
        Text(
            "register",
            0,
            "",
            "frame",
            point(EDGE, top - 6),
            "Lay crosses on crosses; measure the 100 mm bar before you cut.",
            SMALL,
        )
    )
    return scale, corner, items


def pages_of(drawing: Drawing, size: str = "") -> list[Page]:
    """The pages that a drawing is printed on: its own, or, where it is larger than a paper, a map of tiles and each of
    them."""
    parted = tiling(drawing.width, drawing.height, size) if size else None
    if parted is None:
        return [Page(drawing.width, drawing.height, (Layer(drawing, np.zeros(2)),))]
    paper, title = parted.paper, _title(drawing)
    wide, high = paper.width, paper.height
    scale, corner, words = map_items(parted, title)
    found = [Page(wide, high, (Layer(drawing, corner, scale), Layer(Drawing(wide, high, words), np.zeros(2))))]
    crosses = Drawing(drawing.width, drawing.height, list(register_marks(parted)))
    window = np.full(2, EDGE), EDGE + parted.shown
    for tile in parted.tiles():
        shown = tuple(Layer(one, EDGE - tile.corner, 1.0, window) for one in (drawing, crosses))
        found.append(
            Page(wide, high, (*shown, Layer(Drawing(wide, high, [tile_words(parted, tile, title)]), np.zeros(2))))
        )
    return found


def _title(drawing: Drawing) -> str:
    """The title of a drawing's sheet."""
    sheets = drawing.about.get("sheets")
    return str(sheets[0]["title"]) if isinstance(sheets, list) and sheets else "Sheet"
