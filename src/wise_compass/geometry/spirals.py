"""Spirals: lengths along them."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Number


def archimedean_length(first: Number, last: Number, turns: Number) -> Number:
    """Arc length of r = first + (last − first)·θ/(2π·turns), the integral of √(r² + r′²) over θ in closed form.

    Where first = last it is the arc of a circle.

    >>> round(float(archimedean_length(12, 48, 1.25)), 6)
    238.758849
    """
    rate = np.asarray((last - first) / (2 * np.pi * turns), dtype=float)
    flat = rate == 0
    rate = np.where(flat, 1.0, rate)

    def primitive(r: Number) -> Number:
        found: Number = (r * np.hypot(r, rate) / rate + rate * np.arcsinh(r / rate)) / 2
        return found

    return np.where(flat, 2 * np.pi * turns * first, primitive(last) - primitive(first))[()]
