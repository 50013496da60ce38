"""Square codes on a sheet, by which a photograph finds what it is of, and which way up it lies (ISO/IEC 18004).

The words are parted over a few small codes, so that each has few and large modules, that a photograph of few pixels
still shows.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import lru_cache

import numpy as np

from wise_compass.geometry.vectors import Array, point
from wise_compass.sheet.drawing import Boxes, Item
from wise_compass.sheet.paper import STRIP_HEIGHT, Paper

QUIET = 2
"""Modules that are left free round each inside its cell; the paper beside the cell is free too."""
LARGEST_MODULE = 0.6
"""mm of a module: what a photograph of six million pixels shows well."""
CELLS = 5
HOLDS = {1: 25, 2: 47, 3: 77, 4: 114, 5: 154, 6: 195, 7: 224, 8: 279}
"""How many capital letters and digits a code of each version holds at the lowest correction."""


def code_cells(paper: Paper) -> tuple[list[Array], float]:
    """The lower left corners of the cells that codes stand in, the first to be read first, and the side of a cell, in
    mm.

    They lie left of the title strip; where the strip takes the whole width they stand in the filing margin, one above
    the other.
    """
    left, bottom, _, _ = paper.frame
    strip_left, _, _, _ = paper.strip
    if strip_left - left > CELLS * STRIP_HEIGHT:
        side = STRIP_HEIGHT - 0.6
        return [point(left + 1.0 + k * (side + 0.6), bottom + 0.3) for k in range(CELLS)], side
    return [point(5.0, bottom + 2.0 + k * 14.5) for k in range(CELLS)], 14.0


def fits(words: str) -> bool:
    """Whether the codes of a sheet hold so many words."""
    return len(words) <= CELLS * (max(HOLDS.values()) - 2)


def parts_of(words: str) -> list[str]:
    """The words parted over codes, each begun with its number and how many there are; raises :class:`ValueError` for
    too many words.

    >>> parts_of("ABC"), len(parts_of("A" * 60))
    (['11ABC'], 3)
    """
    for holds in HOLDS.values():
        count = -(-len(words) // (holds - 2))
        if count <= CELLS:
            size = -(-len(words) // count)
            return [f"{k + 1}{count}{words[k * size : (k + 1) * size]}" for k in range(count)]
    raise ValueError(f"{len(words)} signs are too many for a sheet's codes")


def joined(parts: Mapping[int, str], count: int) -> str:
    """The words that parts tell, by number from 1; empty while one is missing."""
    return "".join(parts[k] for k in range(1, count + 1)) if all(k in parts for k in range(1, count + 1)) else ""


def code_items(words: str, paper: Paper) -> Iterator[Item]:
    """The codes of some words."""
    cells, side = code_cells(paper)
    for corner, part in zip(cells, parts_of(words)):
        yield from _one(part, corner, side)


@lru_cache(maxsize=64)
def _modules(words: str) -> tuple[tuple[bool, ...], ...]:
    """The dark modules of a code, row by row: a sheet's solution has the same as its worksheet."""
    import segno

    return tuple(tuple(map(bool, row)) for row in segno.make(words, error="l", micro=False).matrix)


def _one(words: str, cell: Array, side: float) -> Iterator[Item]:
    matrix = np.array(_modules(words))
    count = len(matrix)
    module = min(LARGEST_MODULE, side / (count + 2 * QUIET))
    free = (side - count * module) / 2
    corner = cell + point(free, free + count * module)
    boxes = []
    for r, row in enumerate(matrix):
        edges = np.flatnonzero(np.diff(np.concatenate([[False], row, [False]])))
        for start, end in zip(edges[::2], edges[1::2]):
            low = corner + point(start * module, -(r + 1) * module)
            wide = (end - start) * module
            boxes.append([low, low + point(wide, module)])
    yield Boxes("frame", 0, "", "frame", np.array(boxes))
