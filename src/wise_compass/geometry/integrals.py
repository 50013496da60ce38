"""Integrals of what may begin and end with a square root, as widths of round things do."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.geometry.vectors import Array

NODES = 128


def integral(of: Callable[[Array], Array], a: float, b: float) -> float:
    """∫ from a to b by Gauss–Legendre over the sine of an angle, which takes square roots at both ends in its stride.

    >>> round(integral(lambda x: np.sqrt(1 - x * x), -1.0, 1.0), 12) == round(np.pi / 2, 12)
    True
    """
    nodes, weights = np.polynomial.legendre.leggauss(NODES)
    turn = np.pi / 2 * nodes
    x = (a + b) / 2 + (b - a) / 2 * np.sin(turn)
    return float((of(x) * np.cos(turn) * weights).sum() * (b - a) / 2 * np.pi / 2)
