"""Conics: quantities of the ellipse, from its semi-axes."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Number


def focal_distance(a: Number, b: Number) -> Number:
    """Distance from the centre to a focus of the ellipse with semi-axes ``a`` and ``b``, in either order.

    >>> float(focal_distance(5, 4))
    3.0
    """
    return np.sqrt(np.abs((a - b) * (a + b)))


def ellipse_perimeter(a: Number, b: Number) -> Number:
    """Perimeter of the ellipse, to the last digits, by the arithmetic-geometric mean (Gauss; Salamin's sum).

    The complete elliptic integral 4a·E(e) equals 2π(a² − Σ 2ⁿ⁻¹cₙ²) / AGM(a, b) with c₀² = a² − b².

    >>> round(float(ellipse_perimeter(76, 44)), 6)
    383.723515
    """
    x, y = np.maximum(a, b) * 1.0, np.minimum(a, b) * 1.0
    total = x * x - 0.5 * (x - y) * (x + y)
    power = 0.5
    for _ in range(12):  # converges quadratically: five rounds serve any ellipse that can be drawn
        x, y, c = (x + y) / 2, np.sqrt(x * y), (x - y) / 2
        power *= 2
        total = total - power * c * c
    return 2 * np.pi * total / x
