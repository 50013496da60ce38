"""Lengths along helices."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Number


def conical_helix_length(base: Number, height: Number, turns: Number) -> Number:
    """Length of the helix on a cone whose radius falls from ``base`` to 0 as the height rises evenly.

    With ρ the radius, ds = √(base² + height² + (2π·turns·ρ)²) dρ / base: the integral over ρ, in closed form.
    """
    slant = np.hypot(base, height)
    k = 2 * np.pi * turns * base / slant
    return slant / 2 * (np.hypot(1.0, k) + np.arcsinh(k) / k)
