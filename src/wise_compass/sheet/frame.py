"""The frame of a sheet, its centring marks, its title strip and the bar that tells whether a print is at true scale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.wording import scale_name
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.lettering import SMALL, TITLE, fitted, text_width
from wise_compass.sheet.paper import IN_A_ROW, STRIP_HEIGHT, STRIP_ROW, Paper


class TitleStrip(NamedTuple):
    """What the title strip tells; the symbol of the projection where the sheet has views."""

    project: str
    title: str
    number: str
    scale: float
    units: str
    projection: str = ""
    told: tuple[tuple[str, str], ...] = ()
    """What else offices ask for, each with what stands over it."""


@lru_cache(maxsize=32)
def surround(paper: Paper, strip: TitleStrip) -> tuple[Item, ...]:
    """The frame and the strip: the same from edit to edit."""
    return (*frame_items(paper), *_strip_items(paper, strip))


def frame_items(paper: Paper) -> Iterator[Item]:
    """The frame, its centring marks (ISO 5457) and the bar that tells whether a print is at true scale."""
    left, bottom, right, top = paper.frame
    yield _box(left, bottom, right, top, "frame")
    for a, b in (
        ((paper.width / 2, 6.0), (paper.width / 2, bottom)),
        ((paper.width / 2, paper.height - 5), (paper.width / 2, top)),
        ((5.0, paper.height / 2), (left, paper.height / 2)),
        ((paper.width - 5, paper.height / 2), (right, paper.height / 2)),
    ):
        yield Line("frame", 0, "", "strip", np.array([a, b]))
    start, y = left, 3.2
    yield Line("frame", 0, "", "strip", np.array([[start, y], [start + 100, y]]))
    for k in range(11):
        yield Line(
            "frame", 0, "", "strip", np.array([[start + 10 * k, y], [start + 10 * k, y + (1 if k % 5 else 1.8)]])
        )
    yield Text("frame", 0, "", "dimension", np.array([start + 102, y]), "100 mm on a true print", SMALL)


def _strip_items(paper: Paper, strip: TitleStrip) -> Iterator[Item]:
    left, bottom, right, whole = paper.strip
    top = bottom + STRIP_HEIGHT
    yield _box(left, bottom, right, whole, "strip")
    yield from _told_cells(strip.told, left, right, top)
    cells = [
        (left + 92, "Scale", scale_name(strip.scale)),
        (left + 114, "Paper", paper.size),
        (left + 132, "Sheet", strip.number),
        (left + 150, "Projection" if strip.projection else "Unit", "" if strip.projection else strip.units),
    ]
    for (x, caption, words), end in zip(cells, [*(cell[0] for cell in cells[1:]), right]):
        size = min(TITLE, TITLE * (end - x - 3.0) / max(text_width(words, TITLE, True), 1e-9))
        yield Line("frame", 0, "", "strip", np.array([[x, bottom], [x, top]]))
        yield Text("frame", 0, "", "dimension", np.array([x + 2, top - 4.6]), caption, SMALL - 0.4)
        yield Text("frame", 0, "", "frame", np.array([x + 2, bottom + 3.6]), words, size, bold=True)
    yield Text("frame", 0, "", "dimension", np.array([left + 3, top - 5.0]), fitted(strip.project, SMALL, 87), SMALL)
    title = fitted(strip.title, TITLE, 86)
    yield Text("frame", 0, "", "frame", np.array([left + 3, bottom + 3.6]), title, TITLE, bold=True)
    if strip.projection:
        yield from _projection_symbol(left + 153, bottom + 5.4, strip.projection)


def _told_cells(told: Sequence[tuple[str, str]], left: float, right: float, low: float) -> Iterator[Item]:
    """Rows of cells over the strip, each row as full as the others where that goes, cells as wide as they need."""
    rows = -(-len(told) // IN_A_ROW)
    each = -(-len(told) // rows) if rows else 0
    for k in range(rows):
        row, y = told[k * each : (k + 1) * each], low + STRIP_ROW * (rows - 1 - k)
        yield Line("frame", 0, "", "strip", np.array([[left, y], [right, y]]))
        asked = [max(text_width(words, SMALL), text_width(title, SMALL - 0.4)) + 5.0 for title, words in row]
        share = (right - left) / sum(asked)
        x = left
        for (title, words), own in zip(row, asked):
            wide = own * share
            if x > left:
                yield Line("frame", 0, "", "strip", np.array([[x, y], [x, y + STRIP_ROW]]))
            yield Text("frame", 0, "", "dimension", np.array([x + 3, y + STRIP_ROW - 3.4]), title, SMALL - 0.4)
            yield Text("frame", 0, "", "frame", np.array([x + 3, y + 1.6]), fitted(words, SMALL, wide - 4.0), SMALL)
            x += wide


def _box(left: float, bottom: float, right: float, top: float, ink: str) -> Line:
    corners = np.array([[left, bottom], [right, bottom], [right, top], [left, top]])
    return Line("frame", 0, "", ink, corners, closed=True)


def _projection_symbol(x: float, y: float, projection: str) -> Iterator[Item]:
    """The truncated cone of ISO 5456-2, small end to the left; its end view right (first angle) or left (third)."""
    cone_x, circle_x = (x, x + 19) if projection == "first" else (x + 11, x + 4)
    low, high, length = 2.0, 3.6, 9.0
    points = np.array([[0, -low], [0, low], [length, high], [length, -high]]) + np.array([cone_x, y])
    yield Line("frame", 0, "", "strip", points, closed=True)
    for radius in (low, high):
        yield Arc("frame", 0, "", "strip", np.array([circle_x, y]), radius)
    yield Line("frame", 0, "", "centre", np.array([[cone_x - 1.5, y], [cone_x + length + 1.5, y]]))
    for way in (np.array([1.0, 0.0]), np.array([0.0, 1.0])):
        centre = np.array([circle_x, y])
        yield Line("frame", 0, "", "centre", np.array([centre - way * 4.6, centre + way * 4.6]))
