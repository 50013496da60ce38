"""Lengths along helices."""

from __future__ import annotations

import numpy as np

from wise_compass.geometry.vectors import Number


def conical_helix_length(base: Number, height: Number, turns: Number) -> Number:
    """Length of the helix on a cone whose radius falls from ``base`` to 0 as the height rises evenly.

    With ρ the radius, ds = √(base² + height² + (2π·turns·ρ)²) dρ / base: the integral over ρ, in closed form.

    >>> round(float(conical_helix_length(33, 90, 1)), 6)
    147.769599
    """
    slant = np.hypot(base, height)
    k = 2 * np.pi * turns * base / slant
    return slant / 2 * (np.hypot(1.0, k) + np.arcsinh(k) / k)


def nearest_coils(radius: Number, pitch: Number) -> Number:
    """The shortest distance from a helix to its next turn: the least of √(4r² sin²(φ/2) + (p (1 + φ/2π))²) over φ about
    0.

    Broadcasts; found by golden section over a turn, on either side of which it only grows.

    >>> round(float(nearest_coils(24.0, 18.0)), 3)
    17.873
    """
    r, p = np.broadcast_arrays(np.asarray(radius, dtype=float), np.asarray(pitch, dtype=float))

    def square(phi: Number) -> Number:
        found: Number = 4 * r * r * np.sin(phi / 2) ** 2 + (p * (1 + phi / (2 * np.pi))) ** 2
        return found

    low, high = np.full(r.shape, -np.pi), np.zeros(r.shape)
    golden = (np.sqrt(5) - 1) / 2
    for _ in range(42):  # the angle to 1e-8, whose square the distance is wrong by
        one, two = high - golden * (high - low), low + golden * (high - low)
        nearer = square(one) < square(two)
        low, high = np.where(nearer, low, one), np.where(nearer, two, high)
    # where a long lead makes the next turn pass far off, the way round is never shorter than straight along the axis
    found: Number = np.minimum(np.sqrt(square((low + high) / 2)), p)
    return found
