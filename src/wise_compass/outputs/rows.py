"""Rows as CSV that a table program may open."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

FORMULA = ("=", "+", "@", "\t")
"""What a table program takes for the beginning of a formula."""


def rows_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A head and rows; no cell is taken for a formula, and an empty one stands for None."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    writer.writerows([["" if cell is None else guarded(str(cell)) for cell in row] for row in rows])
    return out.getvalue()


def guarded(cell: str) -> str:
    """A cell that no table program takes for a formula.

    >>> guarded("=1+1"), guarded("Ada")
    ("'=1+1", 'Ada')
    """
    return f"'{cell}" if cell.startswith(FORMULA) else cell


def unguarded(cell: str) -> str:
    """A cell as it was before it was guarded."""
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(FORMULA) else cell
