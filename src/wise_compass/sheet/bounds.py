"""A surface that measures: what is drawn on it leaves nothing but the box that it takes."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from wise_compass.geometry.vectors import Array, polar
from wise_compass.sheet.drawing import Item, Text
from wise_compass.sheet.inks import Ink
from wise_compass.sheet.lettering import CAP_HEIGHT, DESCENT, text_width


class Measuring:
    """Takes primitives as any surface does; :attr:`box` is the lowest and the highest corner of all of them."""

    def __init__(self) -> None:
        self.low, self.high = np.full(2, np.inf), np.full(2, -np.inf)

    @property
    def box(self) -> tuple[Array, Array]:
        return self.low, self.high

    def _take(self, points: Array) -> None:
        self.low = np.minimum(self.low, points.min(axis=0))
        self.high = np.maximum(self.high, points.max(axis=0))

    def line(self, points: Array, ink: Ink, closed: bool, filled: bool) -> None:
        self._take(points)

    def arc(self, centre: Array, radius: float, start: float, sweep: float, ink: Ink, filled: str) -> None:
        quarters = 90.0 * np.arange(np.ceil(start / 90.0), np.floor((start + sweep) / 90.0) + 1)
        self._take(polar(centre, radius, np.concatenate([[start, start + sweep], quarters])))

    def dots(self, points: Array, radius: float, colour: str) -> None:
        self._take(np.array([points.min(axis=0) - radius, points.max(axis=0) + radius]))

    def boxes(self, corners: Array, colour: str) -> None:
        self._take(corners.reshape(-1, 2))

    def path(self, segments: Array, ink: Ink, closed: bool) -> None:
        self._take(segments.reshape(-1, 2))

    def text(self, at: Array, words: str, size: float, anchor: float, turn: float, colour: str, bold: bool) -> None:
        self._take(np.array(lettering_box(at, words, size, anchor, turn, bold)))


def lettering_box(at: Array, words: str, size: float, anchor: float, turn: float, bold: bool) -> tuple[Array, Array]:
    """The box of lettering on the sheet, whichever way it is turned: lowest and highest corner."""
    width = text_width(words, size, bold)
    low, high = (-anchor * width, -DESCENT * size), ((1 - anchor) * width, CAP_HEIGHT * size)
    four = np.array([[low[0], low[1]], [low[0], high[1]], [high[0], low[1]], [high[0], high[1]]])
    if turn:
        c, s = np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))
        four = four @ np.array([[c, s], [-s, c]])
    return at + four.min(axis=0), at + four.max(axis=0)


def text_box(item: Text) -> tuple[Array, Array]:
    """The box of an item of lettering."""
    return lettering_box(item.at, item.words, item.size, item.anchor, item.turn, item.bold)


def bounds(items: Iterable[Item]) -> tuple[Array, Array]:
    """The box that items take: lowest and highest corner; infinitely small for none."""
    surface = Measuring()
    for item in items:
        item.put(surface)
    return surface.box
