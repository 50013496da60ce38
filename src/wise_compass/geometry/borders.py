"""Where a state changes, by multisection of many stretches at once."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from wise_compass.geometry.vectors import Array, Bools, Ints

PARTS, PLACES = 16, 600
"""Into how many parts a stretch is cut at most, and at how many places at most a state is asked at once: a call costs
more than a place, until there are many."""


def borders(state: Callable[[Array, Ints], Bools], low: Array, high: Array, was: Bools, times: int) -> Array:
    """Places (n,) between ``low`` and ``high`` at which a state that holds or not, ``was`` at ``low``, turns: as near
    as by so many bisections.

    ``state`` is asked of many places at once, (m,), with the number of each one's stretch; not at all where there are
    no stretches.

    >>> low, high, most = np.array([0.0, 3.0]), np.array([2.0, 5.0]), np.array([2.0, 16.0])
    >>> borders(lambda at, which: at * at < most[which], low, high, np.array([True, True]), 40).round(9).tolist()
    [1.414213562, 4.0]
    """
    count = len(low)
    if count == 0:
        return np.zeros(0)
    parts = min(max(PLACES // count, 2), PARTS)
    each, shares = np.arange(count), np.arange(parts + 1) / parts
    which = np.repeat(each, parts - 1)
    for _ in range(math.ceil(times / math.log2(parts))):
        marks = low[:, None] + (high - low)[:, None] * shares
        marks[:, -1] = high
        turned = np.ones((count, parts), dtype=bool)
        turned[:, :-1] = state(marks[:, 1:-1].ravel(), which).reshape(count, -1) != was[:, None]
        first = turned.argmax(axis=1)
        low, high = marks[each, first], marks[each, first + 1]
    return np.asarray((low + high) / 2)
