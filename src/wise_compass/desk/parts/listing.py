"""Rows in a table that can be long: only what is in sight is asked for."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import QAbstractTableModel, Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from wise_compass.desk.parts.indexes import Index


class TableRows(QAbstractTableModel):
    """Columns with their heads, and rows of cells."""

    def __init__(self) -> None:
        super().__init__()
        self.heads: Sequence[str] = ()
        self.rows: Sequence[Sequence[Any]] = ()

    def fill(self, heads: Sequence[str], rows: Sequence[Sequence[Any]]) -> None:
        self.beginResetModel()
        self.heads, self.rows = heads, rows
        self.endResetModel()

    def rowCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.heads)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        cell = self.rows[index.row()][index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            return "" if cell is None else str(cell)
        if role == Qt.ItemDataRole.TextAlignmentRole and isinstance(cell, (int, float)):
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return None

    def headerData(self, section: int, way: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and way == Qt.Orientation.Horizontal:
            return self.heads[section]
        return None


class Listing(QTableView):
    """A table of rows; ``widths`` of its columns but the one that stretches."""

    def __init__(self, name: str, heads: Sequence[str], stretch: int = 0, widths: Sequence[int] = ()) -> None:
        super().__init__()
        self.rows = TableRows()
        self.rows.fill(heads, ())
        self.setModel(self.rows)
        self.setObjectName("ordinates")
        self.setAccessibleName(name)
        self.verticalHeader().hide()
        self.setWordWrap(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setTabKeyNavigation(False)
        for column, width in enumerate(widths):
            self.setColumnWidth(column, width)
        self.horizontalHeader().setSectionResizeMode(stretch, QHeaderView.ResizeMode.Stretch)

    def fill(self, heads: Sequence[str], rows: Sequence[Sequence[Any]]) -> None:
        self.rows.fill(heads, rows)
