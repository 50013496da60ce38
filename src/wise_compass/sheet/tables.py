"""A curve table as lettering on the sheet, in as many columns beside each other as its rows need."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np

from wise_compass.geometry.vectors import Array
from wise_compass.sheet.drawing import Item, Line, Text
from wise_compass.sheet.lettering import SMALL, text_width

if TYPE_CHECKING:
    from wise_compass.study.tables import Table

ROW = 4.8
COLUMN_GAP, BLOCK_GAP = 4.0, 7.0
TITLE_ROWS = 2


def _columns(table: Table) -> list[float]:
    """Width of each column, the widest of what stands in it."""
    heads = _heads(table)
    rows = table.texts()
    return [max(text_width(row[k], SMALL) for row in [heads, *rows]) for k in range(len(heads))]


def _heads(table: Table) -> list[str]:
    return [f"{name} {unit}".strip() for name, unit in zip(table.columns, table.units)]


def _blocks(table: Table, room: float) -> tuple[int, int]:
    """How many blocks stand beside each other, and the rows of each, in a height of ``room`` mm."""
    fit = max(int(room / ROW) - TITLE_ROWS - 1, 4)
    count = -(-len(table.rows) // fit)
    return count, -(-len(table.rows) // count)


def table_size(table: Table, room: float) -> Array:
    """Width and height in mm where ``room`` mm of height are to be had."""
    count, rows = _blocks(table, room)
    widths = _columns(table)
    block = sum(widths) + COLUMN_GAP * (len(widths) - 1)
    wide = block * count + BLOCK_GAP * (count - 1)
    return np.array([max(wide, text_width(table.title, SMALL)), (rows + TITLE_ROWS + 1) * ROW])


def table_items(table: Table, corner: Array, room: float) -> Iterator[Item]:
    """Title, heads, rows and their lines, from the upper left ``corner`` down."""
    count, rows = _blocks(table, room)
    widths, texts, heads = _columns(table), table.texts(), _heads(table)
    block = sum(widths) + COLUMN_GAP * (len(widths) - 1)
    x, top = float(corner[0]), float(corner[1])
    yield Text("table", 0, "", "frame", np.array([x, top - ROW + 1.3]), table.title, SMALL)
    for b in range(count):
        left = x + b * (block + BLOCK_GAP)
        line = top - TITLE_ROWS * ROW
        yield Line("table", 0, "", "strip", np.array([[left, line], [left + block, line]]))
        mine = texts[b * rows : (b + 1) * rows]
        for r, row in enumerate([heads, *mine]):
            right = left
            base = line + 1.3 if r == 0 else line - r * ROW + 1.0
            for width, words in zip(widths, row):
                right += width
                ink = "dimension" if r == 0 else "frame"
                yield Text("table", 0, "", ink, np.array([right, base]), words, SMALL, 1.0)
                right += COLUMN_GAP
        low = line - len(mine) * ROW - 0.6
        yield Line("table", 0, "", "dimension", np.array([[left, low], [left + block, low]]))
