"""The Shop panel: laps, plate and sheet of a pattern, what it takes, its folds, and the files to cut it by."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import heading, wrapped
from wise_compass.desk.parts.theme import show_refused, wide
from wise_compass.desk.parts.work import Later
from wise_compass.desk.sentence.slots import ListSlot
from wise_compass.desk.session.session import Session
from wise_compass.drafting.capabilities import Developed
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.job.build import about_sheet, shop_of
from wise_compass.job.model import Entry
from wise_compass.sheet.paper import TILES
from wise_compass.shop.shop import Shop
from wise_compass.shop.wish import MATERIALS, SIZES, ShopWish, wish_of
from wise_compass.shop.words import ToldSize, told_of

FIELDS = {
    "seam_lap": ("Lap of the seam", "The width of the lap along the seam"),
    "base_lap": ("Along the base", "The width of the allowance along the base"),
    "top_lap": ("Along the top", "The width of the allowance along the top or the cut"),
    "thickness": ("Thickness", "The thickness of the plate"),
    "sheet_long": ("Sheet, long", "The length of the sheet that it is cut from"),
    "sheet_wide": ("Sheet, wide", "The width of the sheet that it is cut from"),
}
KINDS = "SVG in layers, to be cut (*.svg);;PDF (*.pdf);;CSV of points in order (*.csv);;JSON (*.json)"


class ShopPanel(QScrollArea):
    """Everything that a shop asks of the selected figure's pattern. Filled when it is in sight."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Shop")
        body = QWidget()
        self.setWidget(body)
        self.inside = QVBoxLayout(body)
        self.inside.setContentsMargins(12, 10, 12, 12)
        self.inside.setSpacing(6)
        self.fields: dict[str, QLineEdit] = {}
        self._typed: dict[tuple[str, str], str] = {}
        self.says = wrapped("What is wrong", "hint")
        self.for_plate = QWidget()
        for_plate = QVBoxLayout(self.for_plate)
        for_plate.setContentsMargins(0, 0, 0, 0)
        for_plate.setSpacing(6)
        self._laps_part(for_plate)
        self._plate_part(for_plate)
        self._sheet_part(for_plate)
        self.inside.addWidget(self.for_plate)
        self.inside.addWidget(self.says)
        self.told = QVBoxLayout()
        self.told.setSpacing(6)
        self.inside.addLayout(self.told)
        self._rows: list[_ShopRow] = []
        self._later = Later(self)
        self._files_part()
        self.inside.addStretch(1)

    # what is asked

    def _laps_part(self, inside: QVBoxLayout) -> None:
        inside.addWidget(heading("Laps, beside the pattern"))
        inside.addWidget(self._grid(("seam_lap", "base_lap", "top_lap")))

    def _plate_part(self, inside: QVBoxLayout) -> None:
        inside.addWidget(heading("Plate"))
        inside.addWidget(self._grid(("thickness",)))
        self.size_is = ListSlot(
            "size_is",
            "Where on the plate the sizes given are measured",
            [(name, name) for name in SIZES],
            "middle",
            True,
        )
        self.material = ListSlot(
            "material", "Of what the plate is", [(name, name) for name in MATERIALS], "steel", True
        )
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        for part in (QLabel("Sizes to its"), self.size_is, QLabel("of"), self.material):
            row.addWidget(part)
        row.addStretch(1)
        inside.addWidget(line)
        for name, slot in (("size_is", self.size_is), ("material", self.material)):
            slot.activated.connect(lambda _, name=name, slot=slot: self._want(name, slot.currentData()))

    def _sheet_part(self, inside: QVBoxLayout) -> None:
        inside.addSpacing(4)
        inside.addWidget(heading("The sheet that it is cut from"))
        inside.addWidget(self._grid(("sheet_long", "sheet_wide")))

    def _grid(self, names: tuple[str, ...]) -> QWidget:
        part = QWidget()
        grid = QGridLayout(part)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(0, 1)
        for row, name in enumerate(names):
            field = QLineEdit()
            field.setObjectName("field")
            field.setFixedWidth(wide(92))
            field.setAccessibleName(FIELDS[name][1])
            field.setToolTip(FIELDS[name][1])
            field.textEdited.connect(partial(self._type, name))
            grid.addWidget(QLabel(FIELDS[name][0]), row, 0)
            grid.addWidget(field, row, 1)
            self.fields[name] = field
        return part

    def _files_part(self) -> None:
        self.inside.addSpacing(4)
        self.inside.addWidget(heading("To cut it by, at true size"))
        row = QHBoxLayout()
        save = QPushButton("Save…")
        save.setToolTip("SVG in layers, PDF, or the points in order as CSV")
        save.clicked.connect(self._save)
        tiles = QPushButton("Tiles…")
        tiles.setToolTip("A PDF over several pieces of this paper, joined at crosses")
        tiles.clicked.connect(self._tiles)
        self.paper = ListSlot("tiles", "The paper of the tiles", [(size, size) for size in TILES], "A4", True)
        for part in (save, tiles, QLabel("on"), self.paper):
            row.addWidget(part)
        row.addStretch(1)
        self.inside.addLayout(row)
        for button in (save, tiles):
            keep(button, PRESS)

    @property
    def _style(self) -> Style:
        return self.session.style

    @property
    def wish(self) -> ShopWish:
        """What is asked of the selected figure."""
        entry = self.session.entry
        return ShopWish(**entry.shop) if entry is not None else ShopWish()

    def _type(self, name: str, words: str) -> None:
        """Follow what is typed; what cannot be stays typed, and nothing changes."""
        key = (self.session.entry_id, name)
        try:
            self._wish(name, self._read(name, words))
        except Refused as refusal:
            self._typed[key] = words
            self._say(name, refusal)
            return
        self._typed.pop(key, None)
        self.fill()

    def _read(self, name: str, words: str) -> float:
        """What is typed for a size, in mm; nothing is none, or for the sheet its usual size."""
        return parse_quantity(words, "length", self._style.size) if words.strip() else ShopWish._field_defaults[name]

    def _means(self, field: QLineEdit, name: str, value: float) -> bool:
        """Whether what stands in a field as it was typed already means the value: then it stays so."""
        try:
            return field.isModified() and self._read(name, field.text()) == value
        except Refused:
            return False

    def _want(self, name: str, value: str) -> None:
        try:
            self._wish(name, value)
        except Refused as refusal:
            self.fill()
            self._say("", refusal)
        else:
            self.fill()

    def _wish(self, name: str, value: object) -> None:
        wish_of({**self.wish._asdict(), name: value})
        self.session.set_shop(**{name: value})

    def _say(self, name: str, refusal: Refused | None) -> None:
        self.says.setText(refusal.words(self._style) if refusal else "")
        self.says.setVisible(refusal is not None)
        show_refused(self.says, refusal is not None)
        if name in self.fields:
            show_refused(self.fields[name], refusal is not None)

    # what is told

    def shop_wanted(self) -> tuple[Entry, Run] | None:
        """The selected figure and its run, of which the pattern is made ready."""
        entry, made = self.session.entry, self.session.run
        if entry is None or made is None:
            return None
        return (entry if entry.shop else replace(entry, shop={"thickness": 0.0})), made

    def shop(self) -> Shop | None:
        """The selected figure's pattern as it is asked for; None where it has none or finds no room."""
        wanted = self.shop_wanted()
        return None if wanted is None else shop_of(*wanted)

    def fill(self) -> None:
        """Bring fields and figures up to the job."""
        wish, style = self.wish, self._style
        self.for_plate.setVisible(self._asks_plate(wish))
        for name, field in self.fields.items():
            typed = self._typed.get((self.session.entry_id, name))
            value = getattr(wish, name)
            if typed is not None:
                field.setText(typed)
            elif not self._means(field, name, value):
                field.setText(style.quantity(value, "mm") if value else "")
            show_refused(field, typed is not None)
            field.setPlaceholderText("none")
        self.size_is.show_value(wish.size_is)
        self.material.show_value(wish.material)
        self._later.ask(partial(self._tell, self.shop_wanted(), style), self._take, self._refuse, held=0.04)

    def _asks_plate(self, wish: ShopWish) -> bool:
        """Whether laps, plate and sheet are asked for: not of a templet, unless they were wished for where they are
        typed."""
        made = self.session.run
        templet = made is not None and isinstance(made.figure, Developed) and made.figure.templet
        return not templet or wish.lapped or bool(wish.thickness)

    def settle(self) -> None:
        """Until the figures of the pattern are told."""
        self._later.settle()

    @staticmethod
    def _tell(wanted: tuple[Entry, Run] | None, style: Style) -> list[ToldSize]:
        shop = shop_of(*wanted) if wanted is not None else None
        return list(told_of(shop, style)) if shop is not None else []

    def _take(self, told: list[ToldSize]) -> None:
        if not any(key[0] == self.session.entry_id for key in self._typed):
            self._say("", None)
        self._show(told)

    def _refuse(self, refusal: Refused) -> None:
        self._say("", refusal)
        self._show([])

    def _show(self, told: list[ToldSize]) -> None:
        for row, one in zip(self._rows, told):
            row.show_told(one)
        for one in told[len(self._rows) :]:
            row = _ShopRow()
            row.show_told(one)
            self._rows.append(row)
            self.told.addWidget(row)
        for row in self._rows[len(told) :]:
            row.hide()

    # files

    def _save(self) -> None:
        self._ask("Save the pattern", ".svg", KINDS, self.save_to)

    def _tiles(self) -> None:
        self._ask(
            "Save the pattern in tiles",
            ".pdf",
            "PDF (*.pdf)",
            lambda path: self.save_to(path, self.paper.currentData()),
        )

    def _ask(self, title: str, ending: str, kinds: str, do: Callable[[Path], None]) -> None:
        entry = self.session.entry
        if entry is None:
            return
        name, _ = QFileDialog.getSaveFileName(self, title, f"{entry.title}{ending}", kinds)
        if name:
            do(Path(name if Path(name).suffix else f"{name}{ending}"))

    def save_to(self, path: Path, tiles: str = "") -> None:
        """Write the pattern; says so, or why not."""
        from wise_compass.outputs.cutting import write_pattern

        entry = self.session.entry
        try:
            shop = self.shop()
            if shop is None or entry is None:
                return
            plan = self.session.job.sheets[self.session.sheet_number]
            about = about_sheet(self.session.job, plan._replace(entries=(entry,)))
            write_pattern(path, shop, entry.title, self._style, about, tiles)
        except Refused as refusal:
            self.session.said.emit(refusal.words(self._style))
            return
        self.session.said.emit(f"The pattern is in {path.name}.")


class _ShopRow(QWidget):
    """One thing that is told: its name and its figure in a line, and how it comes about."""

    def __init__(self) -> None:
        super().__init__()
        self.heading, self.title, self.shown, self.working = heading(""), QLabel(), QLabel(), wrapped("", "hint")
        self.shown.setObjectName("shown")
        line = QHBoxLayout()
        line.addWidget(self.title)
        line.addStretch(1)
        line.addWidget(self.shown)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(1)
        inside.addWidget(self.heading)
        inside.addLayout(line)
        inside.addWidget(self.working)

    def show_told(self, one: ToldSize) -> None:
        self.heading.setText(one.heading)
        self.heading.setVisible(bool(one.heading))
        for label, words in ((self.title, one.title), (self.shown, one.shown), (self.working, one.working)):
            if label.text() != words:
                label.setText(words)
        self.working.setVisible(bool(one.working))
        self.show()
