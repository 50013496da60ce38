"""The frame of a sheet, its centring marks, its title strip and the bar that tells whether a print is at true scale."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.wording import scale_name
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.lettering import SMALL, TITLE, fitted
from wise_compass.sheet.paper import Paper


class TitleStrip(NamedTuple):
    """What the title strip tells; the symbol of the projection where the sheet has views."""

    project: str
    title: str
    number: str
    scale: float
    units: str
    projection: str = ""


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
    left, bottom, right, top = paper.strip
    yield _box(left, bottom, right, top, "strip")
    cells = [
        (left + 92, "Scale", scale_name(strip.scale)),
        (left + 114, "Paper", paper.size),
        (left + 132, "Sheet", strip.number),
        (left + 150, "Projection" if strip.projection else "Unit", "" if strip.projection else strip.units),
    ]
    for x, caption, words in cells:
        yield Line("frame", 0, "", "strip", np.array([[x, bottom], [x, top]]))
        yield Text("frame", 0, "", "dimension", np.array([x + 2, top - 4.6]), caption, SMALL - 0.4)
        yield Text("frame", 0, "", "frame", np.array([x + 2, bottom + 3.6]), words, TITLE, bold=True)
    yield Text("frame", 0, "", "dimension", np.array([left + 3, top - 5.0]), fitted(strip.project, SMALL, 87), SMALL)
    title = fitted(strip.title, TITLE, 86)
    yield Text("frame", 0, "", "frame", np.array([left + 3, bottom + 3.6]), title, TITLE, bold=True)
    if strip.projection:
        yield from _projection_symbol(left + 153, bottom + 5.4, strip.projection)


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
