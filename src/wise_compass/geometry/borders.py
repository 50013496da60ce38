"""Where a state changes, by bisection of many stretches at once."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.geometry.vectors import Array, Bools


def borders(state: Callable[[Array], Bools], low: Array, high: Array, was: Bools, times: int) -> Array:
    """Places (n,) between ``low`` and ``high`` at which a state that holds or not, ``was`` at ``low``, turns.

    ``state`` is asked of all places at once, ``times`` times; not at all where there are none.

    >>> low, high = np.array([0.0, 3.0]), np.array([2.0, 5.0])
    >>> borders(lambda at: at * at < np.array([2.0, 16.0]), low, high, np.array([True, True]), 40).round(9).tolist()
    [1.414213562, 4.0]
    """
    for _ in range(times if len(low) else 0):
        middle = (low + high) / 2
        same = state(middle) == was
        low, high = np.where(same, middle, low), np.where(same, high, middle)
    return np.asarray((low + high) / 2)
