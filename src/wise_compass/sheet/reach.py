"""What a printer reaches of a sheet, and the sheet by which a printer is checked."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, point
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.lettering import SMALL, TEXT, TITLE, text_width
from wise_compass.sheet.paper import MARGIN, Paper

SIDE = 100.0
"""mm of the square by which a printer is checked."""
FINE = 0.05
"""mm by which a margin may be overrun unsaid."""


class Margins(NamedTuple):
    """What a printer leaves free at the edges of a paper, in mm."""

    left: float = 0.0
    bottom: float = 0.0
    right: float = 0.0
    top: float = 0.0


def lost(drawing: Drawing, margins: Margins) -> list[str]:
    """What of a drawing a printer would leave away, outermost last; nothing where it reaches all of it.

    >>> from wise_compass.sheet.paper import Paper
    >>> lost(check_drawing(Paper("A4", "landscape"), ""), Margins(5, 5, 5, 5))
    []
    """
    low = point(margins.left, margins.bottom) - FINE
    high = point(drawing.width - margins.right, drawing.height - margins.top) + FINE
    found = set()
    for item in drawing.items:
        one, other = bounds([item])
        if (one < low).any() or (other > high).any():
            found.add(_called(item, one, other, drawing))
    return [
        name
        for name in ("part of the drawing", "the frame", "the centring marks", "the bar of 100 mm")
        if name in found
    ]


def _called(item: Item, low: Array, high: Array, drawing: Drawing) -> str:
    if item.layer != "frame":
        return "part of the drawing"
    if float(high[1]) < MARGIN and (isinstance(item, Text) or float(high[0] - low[0]) > 1.0 or float(low[1]) < 6.0):
        return "the bar of 100 mm"
    inner = (low > MARGIN - 1).all() and (high < np.array([drawing.width, drawing.height]) - MARGIN + 1).all()
    return "the frame" if inner or float((high - low).max()) > 60.0 else "the centring marks"


def check_drawing(paper: Paper, printer: str) -> Drawing:
    """The sheet by which a printer is checked: a square of 100 mm, a ruled bar along two of its sides, and what to do
    with it."""
    drawing = Drawing(paper.width, paper.height)
    corner = point((paper.width - SIDE) / 2, (paper.height - SIDE) / 2 - 5.0)
    square = corner + SIDE * np.array([[0, 0], [1, 0], [1, 1], [0, 1]])
    drawing.items.append(Line("result", 0, "", "outline", square, closed=True))
    for along, out in ((point(1.0, 0.0), point(0.0, -1.0)), (point(0.0, 1.0), point(-1.0, 0.0))):
        start = corner + 6.0 * out
        drawing.items.append(Line("result", 0, "", "strip", np.array([start, start + SIDE * along])))
        for k in range(int(SIDE) + 1):
            long = 3.0 if k % 10 == 0 else 2.2 if k % 5 == 0 else 1.4
            at = start + k * along
            drawing.items.append(Line("result", 0, "", "strip", np.array([at, at + long * out])))
    said = f"Printer check: {printer}" if printer else "Printer check"
    words = (
        (said, TITLE, SIDE + 16.0, True),
        (
            "Measure the square across and up, from the middle of one line to the middle of the other.",
            SMALL,
            SIDE + 10.0,
            False,
        ),
        (
            "Type both in under Job, Check my printer. Printed at true scale, without shrinking to the page.",
            SMALL,
            SIDE + 5.0,
            False,
        ),
        ("across", TEXT, -16.0, False),
    )
    for text, size, up, bold in words:
        at = corner + point(SIDE / 2 - text_width(text, size, bold) / 2, up)
        drawing.items.append(Text("lettering", 0, "", "frame", at, text, size, bold=bold))
    drawing.items.append(
        Text("lettering", 0, "", "frame", corner + point(-13.0, SIDE / 2 - 4.0), "up", TEXT, turn=90.0)
    )
    return drawing
