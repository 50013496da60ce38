"""A square code on a sheet, by which a photograph finds what it is of, and which way up it lies (ISO/IEC 18004)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wise_compass.geometry.vectors import point
from wise_compass.sheet.drawing import Item, Line
from wise_compass.sheet.paper import STRIP_HEIGHT, Paper

QUIET = 2
"""Modules that are left free round it inside its room; the paper beside the room is free too."""
LARGEST_MODULE = 0.5
"""mm of a module: what a photograph of six million pixels shows well."""


def code_items(words: str, paper: Paper) -> Iterator[Item]:
    """The code of some words, left of the title strip, inside the frame."""
    import segno

    matrix = np.array([list(row) for row in segno.make(words, error="m", micro=False).matrix], dtype=bool)
    count = len(matrix)
    module = min(LARGEST_MODULE, (STRIP_HEIGHT - 0.8) / (count + 2 * QUIET))
    left, bottom, _, _ = paper.frame
    corner = point(left + 1.0 + QUIET * module, bottom + 0.6 + (QUIET + count) * module)
    for r, row in enumerate(matrix):
        edges = np.flatnonzero(np.diff(np.concatenate([[False], row, [False]])))
        for start, end in zip(edges[::2], edges[1::2]):
            low = corner + point(start * module, -(r + 1) * module)
            wide = (end - start) * module
            box = low + np.array([[0.0, 0.0], [wide, 0.0], [wide, module], [0.0, module]])
            yield Line("frame", 0, "", "frame", box, closed=True, filled=True)
