"""Solids of blocks drawn at random, to be read off two views: a base, blocks side by side on it, a hole through all;
and where a plane cuts one."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

SHAPES = ("box", "ramp", "wedge", "cylinder", "box", "ramp")
"""What stands on the base; boxes and ramps oftener."""
GRID = 2
"""mm to which sizes are given: no habit helps, and a view is read off easily."""
LEAST = 12
"""mm that a block is long at least."""
ROUND, APART, OFFSETS = ("cylinder", "cone", "hole"), 4.0, 0.4
"""Blocks whose axis is upright; how many mm there are at least between two of them for a plane to step from one to the
other, and how often it does."""


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


def cut_through(rows: Sequence[Sequence[Any]], along: str, random: np.random.Generator) -> list[list[float]]:
    """Stretches of a plane that cuts a solid all along, front or right, through the axis of a round one of its blocks
    as a rule has it, or through two of them with a step between; through its middle where none is round."""
    low, size = np.array([row[1:3] for row in rows], dtype=float), np.array([row[4:6] for row in rows], dtype=float)
    run, across = (0, 1) if along == "front" else (1, 0)
    begin, end = float(low[:, run].min()), float((low + size)[:, run].max())
    upright = [k for k, row in enumerate(rows) if row[0] in ROUND]
    at = {k: round(float(low[k, across] + size[k, across] / 2), 3) for k in upright}
    if not at:
        return [[begin, end, round(float((low[:, across].min() + (low + size)[:, across].max()) / 2), 3)]]
    steps = [
        (round(float(low[then, run] + low[k, run] + size[k, run]) / 2, 3), k, then)
        for k in upright
        for then in upright
        if at[k] != at[then] and low[then, run] - (low[k, run] + size[k, run]) >= APART
    ]
    if steps and random.random() < OFFSETS:
        bend, k, then = steps[int(random.integers(len(steps)))]
        return [[begin, bend, at[k]], [bend, end, at[then]]]
    return [[begin, end, at[upright[int(random.integers(len(upright)))]]]]
