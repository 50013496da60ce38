"""What the space view can show of a solid: its planes, the solid alone, or its pattern, as it is drawn or with a
slip."""

from __future__ import annotations

from contextlib import suppress

from PySide6.QtCore import QRect, Qt, Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import COPPER, INK, font, on_paper
from wise_compass.drafting.capabilities import Developed, Shading, Solid
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import Style
from wise_compass.job.build import shop_of
from wise_compass.job.model import Entry
from wise_compass.scene.model import FoldedSheet, Lifted

TITLES = {"planes": "Planes", "solid": "Solid", "pattern": "Pattern"}
WORDS = {
    "planes": ("standing", "in the sheet", "Fold flat", "Stand up", "How far the planes are folded into the sheet"),
    "solid": ("whole", "lifted off", "Lift off", "Set down", "How far the part that is cut off is lifted"),
    "pattern": ("flat", "folded up", "Fold up", "Lay flat", "How far the pattern is folded up"),
}
"""The ends of the slider, what the button does from either of them, and what the slider is for, to a screen reader."""
CLOSED = 1e-6
"""Of a millimetre: a gap under this is rounding."""


def modes_of(made: Run) -> list[str]:
    """What can be shown of a run."""
    found = ["planes"] if made.views is not None else []
    if isinstance(made.figure, Solid):
        found.append("solid")
    if isinstance(made.figure, Developed) and made.figure.is_developed(made.found) and made.pattern is not None:
        found.append("pattern")
    return found


def shape_of(made: Run, mode: str, slip: str, entry: Entry) -> Lifted | FoldedSheet:
    """The solid with its upper part, or the pattern as it is drawn or would be with a slip, with the laps that its
    entry asks for."""
    figure = made.figure
    assert isinstance(figure, Solid)
    if mode == "solid":
        shaded = figure.shaded() if isinstance(figure, Shading) else ()
        return Lifted(figure.skin(), figure.skin(off=True), figure.beside(made.way), figure.own_edges(), shaded)
    try:
        drawn = run(figure, made.method, made.conventions, slip) if slip else made
    except Refused:
        drawn = made
    pattern = drawn.pattern
    assert pattern is not None
    with suppress(Refused):
        shop = shop_of(entry, drawn)
        if shop is not None and shop.laps:
            from wise_compass.shop.tucked import tucked

            pattern = tucked(pattern, shop)
    return FoldedSheet(pattern, any(face.round for face in figure.skin()))


class Modes(QWidget):
    """The buttons that choose what is shown."""

    chosen = Signal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.mode = "planes"
        self._offered: list[str] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 14, 0)
        row.setSpacing(4)
        self.buttons = {}
        for mode, title in TITLES.items():
            button = QPushButton(title)
            button.setCheckable(True)
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setToolTip(f"Show the {title.lower()} (G goes on to the next)")
            button.clicked.connect(lambda _, mode=mode: self.chosen.emit(mode))
            self.buttons[mode] = button
            row.addWidget(button)

    def offer(self, modes: list[str]) -> None:
        """Show the buttons of what there is; what is shown stays, if there is such a thing."""
        self._offered = modes
        self.setVisible(len(modes) > 1)
        for mode, button in self.buttons.items():
            button.setVisible(mode in modes)
        self.take(self.mode if self.mode in modes or not modes else modes[0])

    def take(self, mode: str) -> None:
        self.mode = mode
        for name, button in self.buttons.items():
            button.setChecked(name == mode)

    def after(self) -> str:
        """The mode after the one that is shown."""
        if self.mode not in self._offered:
            return self.mode
        return self._offered[(self._offered.index(self.mode) + 1) % len(self._offered)]


class SlipChoice(Pick):
    """Which slip the pattern is folded with; none at first."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__()
        self.setParent(parent)
        self.setAccessibleName("The pattern as it is drawn, or with a slip")
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self._ids: tuple[str, ...] = ()
        self.hide()

    @property
    def slip(self) -> str:
        """The id of the slip; empty for none."""
        return str(self.currentData() or "")

    def offer(self, made: Run) -> None:
        """The slips of a run's method; the one that is chosen stays if it is among them."""
        ids = tuple(choice.id for choice in made.choices)
        if ids != self._ids:
            self._ids = ids
            self.clear()
            self.addItem("As it is drawn", "")
            for choice in made.choices:
                self.addItem(choice.says, choice.id)

    def place(self, width: int) -> None:
        """In the upper right corner of a view ``width`` wide."""
        wide = min(self.sizeHint().width(), max(width - 190, 120))
        self.setGeometry(width - wide - 12, 10, wide, self.sizeHint().height())


def draw_gap(painter: QPainter, rect: QRect, sheet: FoldedSheet, style: Style) -> None:
    """Under the head of the view, how far the pattern's edges stay apart once it is folded up, and how far it is from
    the solid."""
    closed, fits = sheet.gap < CLOSED, sheet.stray < CLOSED
    if closed and fits:
        words = f"Folded up, its edges come together: largest gap {style.tiny(sheet.gap, 'mm')}."
    elif closed:
        words = (
            f"Folded up, its edges come together, but it is up to {style.quantity(sheet.stray, 'mm')} off the solid."
        )
    else:
        words = f"Folded up, its edges gape by up to {style.quantity(sheet.gap, 'mm')}."
    painter.setFont(font(14, bold=not (closed and fits)))
    painter.setPen(on_paper(INK if closed and fits else COPPER))
    painter.drawText(rect.adjusted(0, 52, -16, 0), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, words)
