"""The one way in which rows become CSV (RFC 4180), such as a table program may open: none of their words is taken for a
formula."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from wise_compass.study.tables import Table

FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a table program takes for the beginning of a formula."""
NUMBER = re.compile(r"-?\d+(\.\d*)?(e[-+]?\d+)?", re.I)


def rows_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A head and rows; no cell is taken for a formula, and an empty one stands for None.

    >>> rows_csv(["who", "mm"], [["=1+1", -2.5], ["Ada", None]]).splitlines()
    ['who,mm', "'=1+1,-2.5", 'Ada,']
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for row in (head, *rows):
        writer.writerow(["" if cell is None else guarded(cell) if isinstance(cell, str) else cell for cell in row])
    return out.getvalue()


def table_csv(table: Table) -> str:
    """A curve table, or one of true lengths, with a line of column names."""
    head = [f"{name} ({unit})" if unit else name for name, unit in zip(table.columns, table.units)]
    return rows_csv(head, ([text.replace("−", "-") for text in row] for row in table.texts()))


def guarded(cell: str) -> str:
    """A cell of words that no table program takes for a formula; a number stays one.

    >>> guarded("=1+1"), guarded("-2.5"), guarded("-A1"), guarded("Ada")
    ("'=1+1", '-2.5', "'-A1", 'Ada')
    """
    return f"'{cell}" if cell.startswith(FORMULA) and NUMBER.fullmatch(cell) is None else cell


def unguarded(cell: str) -> str:
    """A cell as it was before it was guarded."""
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(FORMULA) else cell
