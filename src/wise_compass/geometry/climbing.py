"""The highest and lowest places of two lines that run side by side: many at once, each nearer and nearer about the best
of many."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array

ROUNDS, TRIED = 6, 65
"""To a share of 32⁻⁶ of where one is looked for: less than a place of a corner is told by."""


class Peak(NamedTuple):
    """Between which places, ``low`` and ``high``, the first of two lines, or the second, is highest (``sign`` 1) or
    lowest (−1)."""

    first: bool
    sign: float
    low: float
    high: float


def climbed(both: Callable[[Array], tuple[Array, Array]], peaks: Sequence[Peak]) -> tuple[Array, Array, Array]:
    """The places, (n,), at which the lines are furthest up or down within each peak, and the points of the first and of
    the second there, (n, 3): ``both`` tells them by their places, nan where there is none.

    >>> arch = lambda t: (np.stack([t, 0 * t, 1 - (t - 0.3) ** 2], axis=-1), np.stack([t, 0 * t, t], axis=-1))
    >>> climbed(arch, [Peak(True, 1.0, 0.0, 1.0), Peak(False, -1.0, 0.2, 1.0)])[0].round(6).tolist()
    [0.3, 0.2]
    """
    least, most = np.array([one.low for one in peaks]), np.array([one.high for one in peaks])
    first, sign = np.array([[one.first] for one in peaks]), np.array([[one.sign] for one in peaks])
    low, high, best = least, most, least
    for _ in range(ROUNDS):
        tried = np.linspace(low, high, TRIED, axis=-1)
        one, other = both(tried)
        heights = sign * np.where(first, one[..., 2], other[..., 2])
        heights = np.where(np.isnan(heights), -np.inf, heights)
        finest = np.take_along_axis(tried, heights.argmax(axis=-1)[:, None], axis=-1)[:, 0]
        best = np.where(np.isfinite(heights).any(axis=-1), finest, best)
        step = (high - low) / (TRIED - 1)
        low, high = np.maximum(best - step, least), np.minimum(best + step, most)
    return best, *both(best)
