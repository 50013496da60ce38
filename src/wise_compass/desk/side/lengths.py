"""The true lengths of a solid under its values: a card for each that is set, and what prints and saves them."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QWidget

from wise_compass.desk.parts.cards import Card
from wise_compass.desk.parts.theme import TEAL
from wise_compass.desk.session.session import Session
from wise_compass.desk.side.tablefile import ask_csv, write_table
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.study.lengths import said, true_lengths
from wise_compass.study.tables import lengths_table
from wise_compass.study.tablewish import LENGTHS


def length_cards(run: Run, style: Style) -> list[Card]:
    """A card for every true length that has to be found; those that repeat it are named on it."""
    lines = true_lengths(run.figure)
    cards: list[Card] = []
    for one in lines:
        if not one.again:
            working, note = said(one, lines, style)
            spots = tuple(name for name in one.name.split() if name in run.found)
            heading = "" if cards else "True lengths, by plan and height"
            cards.append(Card("", one.name, style.quantity(one.true, "mm"), working, note, heading, spots, TEAL))
    return cards


class LengthsBar(QWidget):
    """Under the values of a solid: its true lengths on the sheet, or as CSV."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.on_sheet = QCheckBox("Print them on the sheet")
        self.on_sheet.toggled.connect(self._wish)
        save = QPushButton("Save as CSV…")
        save.setToolTip("Save the table of true lengths")
        save.clicked.connect(self._save)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 12, 8)
        row.addWidget(self.on_sheet, 1)
        row.addWidget(save)

    def fill(self) -> None:
        """Show itself where the selected figure has such lines, ticked where they are printed."""
        entry, made = self.session.entry, self.session.run
        lines = made is not None and bool(made.true_lines)
        self.setVisible(lines)
        if entry is not None and made is not None and lines:
            mine = entry.table.get("by") == LENGTHS or not made.courses
            self.on_sheet.blockSignals(True)
            self.on_sheet.setChecked(bool(mine and entry.table.get("on_sheet")))
            self.on_sheet.blockSignals(False)

    def _wish(self, on: bool) -> None:
        try:
            self.session.set_table(by=LENGTHS, on_sheet=on)
        except Refused as refusal:
            self.session.said.emit(refusal.words(self.session.style))
        self.fill()

    def _save(self) -> None:
        entry = self.session.entry
        path = ask_csv(self, "Save the true lengths", entry.title) if entry is not None else None
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> None:
        """Write the table as CSV; says so, or why not."""
        made = self.session.run
        if made is not None:
            table = lengths_table(made.figure, style=self.session.style)
            write_table(self.session, table, path, "true length")
