"""What lettering keeps clear of: dark lines, the rings of points, and other lettering."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from wise_compass.geometry.vectors import Array, direction, left_of
from wise_compass.sheet.drawing import Item, Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, text_width

RING = 0.8
"""The radius of the ring round a point."""


class Clear:
    """What the figures of dimensions keep clear of: the dark lines of a drawing, its rings, and each other."""

    def __init__(self, lines: Sequence[Array], rings: Array) -> None:
        steps = [np.stack([line[:-1], line[1:]], axis=1) for line in lines if len(line) > 1]
        self.steps = np.concatenate(steps) if steps else np.zeros((0, 2, 2))
        self.rings = rings
        self.words: list[Text] = []
        self.left, self.right = -np.inf, np.inf

    def clashes(self, items: Sequence[Item]) -> int:
        """How much a dimension drawn so would be hard to read, or make others so."""
        texts = [item for item in items if isinstance(item, Text)]
        lines = [item.points for item in items if isinstance(item, Line) and not item.filled]
        own = np.concatenate([np.stack([line[:-1], line[1:]], axis=1) for line in lines]) if lines else self.steps[:0]
        found = 0
        for text in texts:
            found += 10 * crossed(text, self.steps)
            found += 4 * int(_within(text, self.rings, RING).sum())
            found += 10 * sum(overlapping(text, other) for other in self.words)
        return found + 3 * sum(crossed(other, own) for other in self.words)

    def take(self, items: Sequence[Item]) -> None:
        """Keep clear of this dimension from now on."""
        self.words += [item for item in items if isinstance(item, Text)]
        lines = [item.points for item in items if isinstance(item, Line) and not item.filled]
        self.steps = np.concatenate([self.steps, *(np.stack([line[:-1], line[1:]], axis=1) for line in lines)])


def _local(text: Text, at: Array) -> Array:
    """Places as lettering has them: along it from its middle, and up from its base line."""
    u = direction(text.turn)
    off = at - (text.at + u * (0.5 - text.anchor) * text_width(text.words, text.size, text.bold))
    return np.stack([off @ u, off @ left_of(u)], axis=-1)


def _reach(text: Text) -> tuple[Array, Array]:
    """The lowest and the highest corner of lettering, as it has them."""
    half = text_width(text.words, text.size, text.bold) / 2
    return np.array([-half, 0.0]), np.array([half, CAP_HEIGHT * text.size])


def crossed(text: Text, steps: Array) -> bool:
    """Whether a straight stretch, of (n, 2, 2), crosses lettering (by the slab test of a box)."""
    if not len(steps):
        return False
    low, high = _reach(text)
    start, end = _local(text, steps[:, 0]), _local(text, steps[:, 1])
    way = np.where(np.abs(end - start) < 1e-12, 1e-12, end - start)
    one, other = (low - start) / way, (high - start) / way
    enters = np.minimum(one, other).max(axis=1).clip(min=0.0)
    leaves = np.maximum(one, other).min(axis=1).clip(max=1.0)
    return bool((enters < leaves).any())


def _within(text: Text, places: Array, beside: float) -> npt.NDArray[np.bool_]:
    low, high = _reach(text)
    at = _local(text, places)
    return np.asarray(((at > low - beside) & (at < high + beside)).all(axis=-1))


def overlapping(one: Text, other: Text) -> bool:
    """Whether two letterings lie on each other: a corner of one in the other, or their middle lines cross."""
    for text, box in ((one, other), (other, one)):
        low, high = _reach(text)
        u, v = direction(text.turn), left_of(direction(text.turn))
        middle = text.at + u * (0.5 - text.anchor) * text_width(text.words, text.size, text.bold)
        corners = np.array(
            [middle + x * u + y * v for x in (low[0], 0.0, high[0]) for y in (0.0, high[1] / 2, high[1])]
        )
        if _within(box, corners, 0.3).any():
            return True
    return False
