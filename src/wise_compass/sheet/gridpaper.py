"""Blank isometric paper to draw on: equal triangles, one of their sides upright, as faint dots or lines in the
frame."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import Array, point
from wise_compass.sheet.drawing import Dots, Drawing, Item, Line, Text
from wise_compass.sheet.frame import frame_items
from wise_compass.sheet.lettering import SMALL, text_width
from wise_compass.sheet.paper import Paper

LEAST, MOST = 2.0, 50.0
"""mm that the sides of the triangles can have."""
KINDS = ("dots", "lines")
DOT = 0.3
"""Radius of a dot."""
COLUMN = float(np.sqrt(0.75))
"""From one column of crossings to the next, of the spacing."""


def grid_drawing(paper: Paper, spacing: float, kind: str = "dots") -> Drawing:
    """A sheet of it, ``spacing`` mm from crossing to crossing on all three axes; raises :class:`Refused` for a spacing
    too small or large."""
    if not LEAST <= spacing <= MOST:
        change = "Raise" if spacing < LEAST else "Lower"
        raise Refused("spacing", f"spacing is {spacing:g} mm; it goes from {LEAST:g} to {MOST:g}. {change} spacing.")
    ruled = _dots(paper, spacing) if kind == "dots" else _lines(paper, spacing)
    words = f"Isometric grid, {spacing:g} mm along every axis"
    at = point(paper.width - 10.0 - text_width(words, SMALL), 3.2)
    drawing = Drawing(paper.width, paper.height)
    drawing.items = [*ruled, *frame_items(paper), Text("frame", 0, "", "dimension", at, words, SMALL)]
    return drawing


def crossings(paper: Paper, spacing: float) -> Array:
    """Where the three sets of lines cross within the frame, (n, 2); the lower left corner of the frame is one."""
    left, bottom, right, top = paper.frame
    columns = np.arange(int((right - left) / (spacing * COLUMN) + 1e-9) + 1)
    rows = np.arange(int((top - bottom) / spacing + 1e-9) + 1)
    i, j = np.meshgrid(columns, rows, indexing="ij")
    at = np.stack([left + i * spacing * COLUMN, bottom + (j + i % 2 / 2) * spacing], axis=-1).reshape(-1, 2)
    return np.asarray(at[at[:, 1] <= top + 1e-9])


def _dots(paper: Paper, spacing: float) -> Iterator[Item]:
    yield Dots("frame", 0, "", "construction", crossings(paper, spacing), DOT)


def _lines(paper: Paper, spacing: float) -> Iterator[Item]:
    left, bottom, right, top = paper.frame
    wide, tall = right - left, top - bottom
    for k in range(int(wide / (spacing * COLUMN) + 1e-9) + 1):
        x = left + k * spacing * COLUMN
        yield Line("frame", 0, "", "construction", np.array([[x, bottom], [x, top]]))
    slope = float(np.tan(np.pi / 6))
    for k in range(-int(wide * slope / spacing), int(tall / spacing + 1e-9) + 1):
        # a line that rises from the left side at this height, in the frame from where it comes in to where it goes out
        start = k * spacing
        ends = np.clip([(0.0 - start) / slope, (tall - start) / slope], 0.0, wide)
        if ends[1] - ends[0] > 1e-9:
            yield Line("frame", 0, "", "construction", np.array([[left + x, bottom + start + slope * x] for x in ends]))
    for k in range(int((tall + wide * slope) / spacing + 1e-9) + 1):
        start = k * spacing
        ends = np.clip([(start - tall) / slope, start / slope], 0.0, wide)
        if ends[1] - ends[0] > 1e-9:
            yield Line("frame", 0, "", "construction", np.array([[left + x, bottom + start - slope * x] for x in ends]))
