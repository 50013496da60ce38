"""A construction while it is written: what of its lines can be drawn already, and what is wrong with each of the
others."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, Method
from wise_compass.drafting.instruments import SteadyHand
from wise_compass.drafting.marks import ArcMark, LineMark
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN
from wise_compass.geometry.vectors import Array
from wise_compass.own.claims import method_of
from wise_compass.own.drawing import Drawing
from wise_compass.own.language import MOST_STEPS, MOST_TEXT, Line
from wise_compass.own.numbers import numbers_for
from wise_compass.own.program import Names, Program, Read, read_row
from wise_compass.own.running import draw_line


class Written(NamedTuple):
    """``program`` are the lines that can be drawn, ``faults`` what is wrong with others, by their rows from 0, ``rows``
    those that the lines stand in, ``points`` and ``things`` what is drawn by its name."""

    program: Program
    faults: Mapping[int, str]
    rows: tuple[int, ...]
    points: Mapping[str, Array]
    things: Mapping[str, LineMark | ArcMark]

    @property
    def whole(self) -> bool:
        """Whether nothing of it is left out."""
        return not self.faults


def as_far_as(text: str, figure: Figure) -> Written:
    """What of a text can be drawn of a figure with these numbers; a line that cannot be, and what rests on it, is left
    out and told."""
    return _as_far_as(text, type(figure).id, tuple(sorted(numbers_for(figure).items())))


@lru_cache(maxsize=64)
def _as_far_as(text: str, figure: str, numbers: tuple[tuple[str, float], ...]) -> Written:
    read, faults = Read(), dict[int, str]()
    names, lines, rows = Names(), list[Line](), list[int]()
    drawing = Drawing(Draft(SteadyHand()), dict(numbers), {})
    for row, words in enumerate(text[:MOST_TEXT].split("\n")):
        try:
            line = read_row(read, words, row + 1)
            if line is None:
                continue
            if not lines:  # the head is read: it tells which of its points have further names
                drawing = Drawing(Draft(SteadyHand()), dict(numbers), read.letters)
            if len(lines) >= MOST_STEPS:
                raise Refused("own", f"The construction has over {MOST_STEPS} steps. Part it.")
            line = line._replace(number=row + 1)
            names.check(line)
            with np.errstate(invalid="ignore", divide="ignore"):
                draw_line(drawing, line)
            names.take(line)
        except Refused as refusal:
            faults[row] = PLAIN.say(refusal.template)
            continue
        lines.append(line)
        rows.append(row)
    if not lines:
        lines = [_first()]
    letters = {theirs: own for theirs, own in read.letters.items() if own in names.points}
    program = read.program(lines)._replace(figure=figure, givens={}, letters=letters)
    points = {name: spot.here for name, spot in drawing.points.items() if name in names.points}
    things = {name: mark for name, mark in drawing.things.items() if name in names.things}
    return Written(program, faults, tuple(rows), points, things)


def _first() -> Line:
    line = read_row(Read(), "mark O at 0, 0", 1)
    assert line is not None
    return line


def own_method(text: str, figure: Figure) -> Method:
    """The method that a text is, as far as it can be drawn."""
    return method_of(as_far_as(text, figure).program)
