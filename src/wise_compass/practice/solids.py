"""Solids of blocks drawn at random, to be read off two views: a base, blocks side by side on it, a hole through all."""

from __future__ import annotations

from typing import Any

import numpy as np

SHAPES = ("box", "ramp", "wedge", "cylinder", "box", "ramp")
"""What stands on the base; boxes and ramps oftener."""
GRID = 2
"""mm to which sizes are given: no habit helps, and a view is read off easily."""
LEAST = 12
"""mm that a block is long at least."""


def _even(low: float, high: float, random: np.random.Generator) -> int:
    """A size between two, on the grid."""
    return GRID * int(random.integers(int(np.ceil(low / GRID)), max(int(high // GRID), int(np.ceil(low / GRID))) + 1))


def drawn_blocks(random: np.random.Generator) -> list[list[Any]]:
    """Rows of a solid; whether they can be built is the figure's to say."""
    wide, deep, base = _even(56, 80, random), _even(34, 48, random), _even(8, 16, random)
    rows: list[list[Any]] = [["box", 0, 0, 0, wide, deep, base]]
    at = float(_even(0, 10, random))
    count = int(random.integers(2, 4))
    for k in range(count):
        room = (wide - at) / (count - k)
        if room < LEAST:
            break
        long = _even(LEAST, max(room, LEAST), random)
        shape = SHAPES[int(random.integers(len(SHAPES)))]
        across = _even(LEAST, deep, random)
        if shape == "cylinder":
            long = across = min(long, across)
        off = (0, deep - across, GRID * ((deep - across) // (2 * GRID)))[int(random.integers(3))]
        tall = _even(10, 30, random)
        rows.append([shape, at, off, base, long, across, tall])
        at += long + _even(0, max(room - long, 0), random)
    if wide - at >= LEAST:
        size = _even(6, min(wide - at, deep) - 4, random)
        left = at + GRID * ((wide - at - size) // (2 * GRID))
        rows.append(["hole", left, GRID * ((deep - size) // (2 * GRID)), 0, size, size, base])
    return [[row[0], *(float(x) for x in row[1:])] for row in rows]
