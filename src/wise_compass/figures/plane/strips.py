"""Scales as strips to cut out and lay against a drawing: the marks stand on the edge of the paper."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Developed, Part, Scribe
from wise_compass.drafting.truths import Found
from wise_compass.geometry.vectors import point

SIDE, OVER, LETTER = 9.0, 9.0, 2.6
"""mm: beside the first and the last mark, beyond the highest, and from a mark to the middle of its number."""
ROOM = 6.0
"""mm that a number needs along the edge."""
APART = 6.0
"""mm between two strips on one sheet."""
EACH = (1, 2, 5, 10, 20, 25, 50, 100, 200, 500, 1000)


class Graduation(NamedTuple):
    """A mark of a scale: where along it, how long it is, and its number, if it has one."""

    at: float
    high: float
    words: str = ""


class Strip(NamedTuple):
    """A strip that is cut out, and what is marked on it."""

    part: Part
    scribes: tuple[Scribe, ...]


def strip(
    title: str, words: str, marks: Sequence[Graduation], edge: float = 0.0, way: int = 1, more: Iterable[Scribe] = ()
) -> Strip:
    """A strip whose marks stand on its edge, which is level at ``edge``, and run up (``way`` 1) or down (−1) from it.

    ``words`` stand along the far side; ``more`` is marked beside.
    """
    low, high = min(one.at for one in marks) - SIDE, max(one.at for one in marks) + SIDE
    top = max(one.high for one in marks)
    far = edge + way * (top + OVER)
    corners = np.array([[low, edge], [high, edge], [high, far], [low, far]])
    scribes = [
        Scribe(
            np.array([[one.at, edge], [one.at, edge + way * one.high]]),
            one.words,
            point(one.at, edge + way * (top + LETTER)),
        )
        for one in marks
    ]
    said = Scribe(None, words, point((low + high) / 2, far - way * 2.4))
    return Strip(Part(title, (), 1, corners[::way]), (*scribes, *more, said))


class OnStrips(Developed):
    """Its scales are cut out as strips, to be used as they are."""

    templet = True

    @property
    @abstractmethod
    def strips(self) -> Sequence[Strip]:
        """Each cut along the edge on which its marks stand."""

    def pattern(self, found: Found) -> None:
        """A strip is not folded."""

    def cut_out(self, found: Found) -> Sequence[Part]:
        return [one.part for one in self.strips]

    def scribed(self) -> Sequence[Scribe]:
        return [scribe for one in self.strips for scribe in one.scribes]


def numbered(count: int, space: float) -> int:
    """Every how manieth of ``count`` marks, ``space`` mm apart, bears its number.

    >>> numbered(40, 2.0)
    5
    """
    return next((one for one in EACH if one * space >= ROOM), max(count, 1))
