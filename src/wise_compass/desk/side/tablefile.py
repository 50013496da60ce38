"""A table saved as CSV: where to, and what comes of it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import are
from wise_compass.outputs.files import write_output
from wise_compass.outputs.rows import table_csv
from wise_compass.study.tables import Table


def ask_csv(parent: QWidget, title: str, name: str) -> Path | None:
    """The file that a table is to be saved to; None where it is not to be."""
    chosen, _ = QFileDialog.getSaveFileName(parent, title, f"{name}.csv", "CSV (*.csv)")
    return Path(chosen if chosen.endswith(".csv") else f"{chosen}.csv") if chosen else None


def write_table(session: Session, table: Table, path: Path, row_called: str) -> None:
    """Write a table; says so, or why not."""
    try:
        write_output(path, table_csv(table))
    except Refused as refusal:
        session.said.emit(refusal.words(session.style))
        return
    session.said.emit(f"{are(len(table.rows), row_called)} in {path.name}.")
