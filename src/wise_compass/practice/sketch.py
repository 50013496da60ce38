"""The small sketch that tells which letter is which: the outline out of scale, with the points that are to be
measured."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.drafting.marks import Role
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array, point
from wise_compass.sheet.compose import Sheet
from wise_compass.sheet.drawing import Item, Line, Text
from wise_compass.sheet.lettering import SMALL, text_width
from wise_compass.sheet.squarecode import code_cells
from wise_compass.study.inlane import in_lane
from wise_compass.study.measures import named

SIZES = ((62.0, 50.0), (50.0, 40.0), (40.0, 32.0))
"""mm across and up that a sketch takes on a worksheet, the largest that finds room first."""
EDGE, TICK, APART = 4.0, 0.9, 4.0
FARS, LED = np.array([1.0, 1.9, 2.8]), 4.0
"""How far from its point a letter may stand, in usual distances, and from how many mm on a line leads to it."""
SAYS = "not to scale"
WAYS = np.array([[np.cos(turn), np.sin(turn)] for turn in np.radians([45, 135, 225, 315, 0, 90, 180, 270])])


class Sketch(NamedTuple):
    """Lines of the outline and places of letters, in mm from the lower left corner of a box."""

    lines: list[Array]
    letters: dict[str, Array]
    size: tuple[float, float]

    def items(self, corner: Array, style: Style = PLAIN) -> list[Item]:
        """As it is drawn with its box's lower left corner there."""
        _, high = self.size
        # no frame is drawn about it, and it is pale: in a photograph it must not be taken for the sheet's own
        made: list[Item] = [Text("sketch", 0, "", "dimension", corner + point(2.0, high - 4.2), SAYS, SMALL)]
        made += [Line("sketch", 0, "", "mark", line + corner) for line in self.lines if len(line) > 1]
        taken: list[tuple[Array, Array]] = []
        inked, spots = _inked(self.lines), np.array(list(self.letters.values())).reshape(-1, 2)
        for at in self.letters.values():
            for way in (point(TICK, 0.0), point(0.0, TICK)):
                made.append(Line("sketch", 0, "", "strip", np.array([at - way, at + way]) + corner))
        for name, at in self.letters.items():
            shown = style.lettered(name)
            across = text_width(shown, SMALL)
            place = self._beside(at, across, taken, inked, spots)
            middle = place + point(across / 2, 1.2)
            if float(np.hypot(*(middle - at))) > LED + across / 2:
                way = (middle - at) / float(np.hypot(*(middle - at)))
                led = np.array([at + 0.6 * way, middle - (across / 2 + 0.8) * way])
                made.append(Line("sketch", 0, "", "fine", led + corner))
            made.append(Text("sketch", 0, name, "frame", place + corner, shown, SMALL, bold=True))
        return made

    def _beside(self, at: Array, wide: float, taken: list[tuple[Array, Array]], inked: _Inked, spots: Array) -> Array:
        """The lower left corner of a letter: away from others and from lines."""
        size = point(wide, 2.4)
        low = at + (FARS[:, None, None] * WAYS * point(1.6 + wide / 2, 2.6) - size / 2).reshape(-1, 2)
        best: Array = low[int(np.argmin(self._costs(low, low + size, taken, inked, spots)))]
        taken.append((best, best + size))
        return best

    def _costs(
        self, low: Array, high: Array, taken: Sequence[tuple[Array, Array]], inked: _Inked, spots: Array
    ) -> Array:
        """What each of some places of a letter covers, by their corners, (places, 2)."""
        outside = ((low < 1.0) | (high > np.array(self.size) - point(1.0, 5.0))).any(axis=1)
        over = np.zeros(len(low), dtype=int)
        for left, right in taken:
            over += ((low < right + 0.4) & (high > left - 0.4)).all(axis=1)
        points = _within(spots, low - 1.0, high + 1.0).sum(axis=1)
        far = 2 * (np.repeat(FARS, len(WAYS)) - 1)
        return np.asarray(100 * outside + 20 * over + 3 * inked.lines_in(low - 0.3, high + 0.3) + 3 * points + far)


def _within(points: Array, low: Array, high: Array) -> Array:
    """Which points lie in which boxes, (boxes, points)."""
    return np.asarray(((points > low[:, None]) & (points < high[:, None])).all(axis=2))


class _Inked(NamedTuple):
    """Points close upon all lines of a sketch, (n, 2), and where among them each line begins."""

    at: Array
    begins: NDArray[np.intp]

    def lines_in(self, low: Array, high: Array) -> Array:
        """How many lines go through each of some boxes."""
        if not len(self.at):
            return np.zeros(len(low), dtype=int)
        return np.asarray(np.logical_or.reduceat(_within(self.at, low, high), self.begins, axis=1).sum(axis=1))


def _inked(lines: Sequence[Array]) -> _Inked:
    steps = np.linspace(0.0, 1.0, 12)[:, None, None]
    parts = [(line[:-1] + steps * np.diff(line, axis=0)).reshape(-1, 2) for line in lines if len(line) > 1]
    if not parts:
        return _Inked(np.zeros((0, 2)), np.zeros(0, dtype=np.intp))
    return _Inked(np.concatenate(parts), np.cumsum([0, *(len(part) for part in parts[:-1])], dtype=np.intp))


def sketch_of(made: Run, measures: Sequence[str], size: tuple[float, float] = SIZES[1]) -> Sketch:
    """The sketch of a run with the points of measures, by their names."""
    lines = [
        line
        for mark in made.marks
        if mark.role in (Role.OUTLINE, Role.HIDDEN, Role.REFERENCE)
        for line in in_lane(mark, 0)
        if np.isfinite(line).all()
    ]
    names = list(dict.fromkeys(name for measure in measures for name in named(made, measure).points))
    spots = {name: made.spots[name].here for name in names}
    whole = np.concatenate([*lines, *(at[None] for at in spots.values())]) if lines or spots else np.zeros((1, 2))
    low, high = whole.min(axis=0), whole.max(axis=0)
    room = np.array(size) - np.array([2 * EDGE + 4.0, 2 * EDGE + 6.0])
    scale = float((room / np.maximum(high - low, 1e-6)).min())
    shift = np.array([size[0] / 2, (size[1] - 4.0) / 2]) - scale * (low + high) / 2
    return Sketch(
        [line * scale + shift for line in lines],
        {made.spots[n].name: at * scale + shift for n, at in spots.items()},
        size,
    )


def sketch_on(sheet: Sheet, measures: Sequence[str], coded: str = "", style: Style = PLAIN) -> list[Item]:
    """The sketch in a corner of a sheet that what is to be drawn leaves free; nothing where none is."""
    made = sheet.placed[0].piece.run
    boxes = [box for item in sheet.drawing.items if (box := _box(item)) is not None and item.layer != "frame"]
    if coded:
        cells, side = code_cells(sheet.paper)
        boxes += [(cell, cell + side) for cell in cells]
    left, bottom, right, top = sheet.paper.field
    for size in SIZES:
        for x in (right - APART - size[0], left + APART):
            for y in (top - APART - size[1], bottom + APART):
                low = point(x, y)
                high = low + np.array(size)
                if not any(((low < b + APART) & (high > a - APART)).all() for a, b in boxes):
                    return sketch_of(made, measures, size).items(low, style)
    return []


def _box(item: Item) -> tuple[Array, Array] | None:
    """The box that an item takes."""
    if isinstance(item, Text):
        wide = text_width(item.words, item.size)
        low = item.at - point(item.anchor * wide, 0.0)
        return (low, low + point(wide, item.size)) if not item.turn else (item.at - wide, item.at + wide)
    course = item.polyline()
    return None if course is None or not len(course) else (course.min(axis=0), course.max(axis=0))
