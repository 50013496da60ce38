"""Pages that fill from the top: blocks one under the other, each whole on its page."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.geometry.vectors import point
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.frame import frame_items
from wise_compass.sheet.lettering import SMALL, TEXT, fitted, text_width
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.stepsheet import wrapped_to

LEAD = 4.4
"""From line to line."""
INSET, HEAD = 4.0, 12.0
"""What is left inside the frame, and what the head of a page takes."""
NEAR = 1e-6
"""mm: blocks that share a page out evenly fit it, whatever their sum rounds to."""


class Flow:
    """Upright A4 pages under one title. ``y`` is how far down the page is filled."""

    def __init__(self, title: str) -> None:
        self.title = title
        self.paper = Paper("A4", "portrait")
        frame = self.paper.frame
        self.left, self.right = frame[0] + INSET, frame[2] - INSET
        self.bottom, self.top = frame[1] + INSET, frame[3] - INSET
        self.pages: list[Drawing] = []
        self.y = 0.0
        self.turn()

    @property
    def wide(self) -> float:
        return self.right - self.left

    @property
    def left_over(self) -> float:
        """What is left of the page, in mm."""
        return self.y - self.bottom

    def turn(self) -> None:
        """Begin a new page."""
        drawing = Drawing(self.paper.width, self.paper.height, list(frame_items(self.paper)))
        self.pages.append(drawing)
        self.y = self.top
        self.put(text(self.left, self.y - 3.5, fitted(self.title, TEXT, self.wide - 20.0), TEXT, bold=True))
        self.y -= HEAD

    def put(self, *items: Item) -> None:
        self.pages[-1].items += items

    def take(self, high: float) -> float:
        """Room for a block so high, on the next page where this has none; the level of its top."""
        if high > self.left_over + NEAR and self.y < self.top - HEAD:
            self.turn()
        top = self.y
        self.y -= high
        return top

    def heading(self, words: str, with_block: float = 0.0) -> None:
        """A heading, on one page with a block so high below it."""
        if 8.0 + with_block > self.left_over + NEAR:
            self.turn()
        top = self.take(8.0)
        self.put(text(self.left, top - 5.0, words, SMALL + 0.3, bold=True))
        line = np.array([point(self.left, top - 6.4), point(self.right, top - 6.4)])
        self.put(Line("lettering", 0, "", "stage_before", line))

    def words(self, said: str, indent: float = 0.0, most: int = 12) -> None:
        """Words in lines as wide as the page."""
        for line in cut_to(said, self.wide - indent, most):
            self.put(text(self.left + indent, self.take(LEAD) - 3.2, line))

    def numbered(self, first: int = 1) -> list[Drawing]:
        """The pages with their numbers, from ``first``."""
        for k, page in enumerate(self.pages, first):
            words = str(k)
            page.items.append(text(self.right - text_width(words, SMALL), self.top - 3.5, words))
        return self.pages


def cut_to(said: str, room: float, most: int) -> list[str]:
    """Words in lines that keep to ``room`` mm, ``most`` of them; the last says that there was more."""
    lines = wrapped_to(said, room)
    return lines if len(lines) <= most else [*lines[: most - 1], fitted(lines[most - 1] + " …", SMALL, room)]


def text(x: float, y: float, words: str, size: float = SMALL, bold: bool = False, ink: str = "frame") -> Text:
    return Text("lettering", 0, "", ink, point(x, y), words, size, bold=bold)


def columns(flow: Flow, count: int, gap: float) -> tuple[Sequence[float], float]:
    """Where so many columns begin, and how wide each is."""
    wide = (flow.wide - gap * (count - 1)) / count
    return [flow.left + k * (wide + gap) for k in range(count)], wide
