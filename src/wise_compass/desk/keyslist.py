"""The list of keys, made from the actions themselves: those of the place at hand first, and all of them to be
searched."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from wise_compass.desk.parts.edged import Dialog
from wise_compass.desk.parts.labels import heading
from wise_compass.desk.parts.theme import TEAL, px, shade, wide

PLAIN: Mapping[str, Sequence[tuple[str, str]]] = {
    "Set out": (
        ("Left, Right", "walk a step back or on"),
        ("Home, End on the rule", "blank paper, finished drawing"),
        ("Space", "play the steps, or stop"),
        ("H", "hide the construction"),
        ("E", "the scatter of the last view"),
        ("V", "the space view, or the sheet"),
        ("G in the space view", "its planes, the solid, its pattern"),
        ("F in the space view", "fold or unfold; lift the solid’s upper part off"),
        ("drag, or Shift + arrows, in space", "turn the eye; a double click or Home puts it back"),
        ("Up, Down in a slot", "nudge the given"),
        ("Shift + Up, Down", "ten times as far"),
        ("Alt + Up, Down", "a tenth as far"),
        ("Tab", "on to the next slot or panel"),
        ("wheel on the board", "zoom to the pointer"),
        ("drag the board", "pan"),
        ("Shift + drag the board", "move the figure on its sheet"),
        ("two clicks on the board", "measure with the dividers"),
        ("Escape", "lift the dividers"),
        ("Ctrl + C on a value or a step", "copy it"),
    ),
    "Practise": (
        ("Ctrl + Return", "a hint: the next step"),
        ("M", "to the fields for what was measured"),
        ("P", "a photograph of the worksheet"),
        ("Left, Right", "walk what was revealed"),
        ("Delete in the list", "put a problem away"),
    ),
    "A photograph on the board": (
        ("Page Down, Page Up", "pick the next ring, or the one before"),
        ("arrows", "move the picked ring by a tenth of a millimetre"),
        ("Return", "snap it to the crossing near it"),
        ("Delete", "leave it out"),
        ("Escape", "let it go"),
    ),
    "Plan": (
        ("Left, Right on the strip", "choose a sheet"),
        ("Ctrl + Left, Right on the strip", "draw it earlier or later"),
    ),
    "Anywhere": (("Alt", "the menu bar, or none"), ("Tab, Shift + Tab", "on to the next control, or back")),
}
"""What has no action of its own, by place."""


class KeysDialog(Dialog):
    """Every key; what is typed on top leaves those that have the words."""

    def __init__(self, parent: QWidget, groups: Mapping[str, Sequence[QAction]], place: str) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        self.resize(min(wide(640), parent.width() - 40), min(px(680), parent.height() - 60))
        self.sought = QLineEdit()
        self.sought.setPlaceholderText("Find a key, or what it does …")
        self.sought.setAccessibleName("Find a key, or what it does")
        self.sought.textChanged.connect(self._filter)
        self.parts: list[tuple[QLabel, list[tuple[QLabel, QLabel]]]] = []
        body = QWidget()
        grid = QGridLayout(body)
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(5)
        grid.setColumnStretch(1, 1)
        actions = {
            name: [(self._keys(a), a.text().rstrip("…")) for a in group if a.shortcuts()]
            for name, group in groups.items()
        }
        order = sorted(PLAIN, key=lambda name: name != place)
        for name, rows in [*((name, PLAIN[name]) for name in order), *actions.items()]:
            self._add(grid, name, rows)
        grid.setRowStretch(grid.rowCount(), 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setAccessibleName("Keys and what they do")
        scroll.setWidget(body)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(22, 18, 22, 14)
        inside.addWidget(self.sought)
        inside.addWidget(scroll, 1)
        inside.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.sought.setFocus()

    @staticmethod
    def _keys(action: QAction) -> str:
        return ", ".join(key.toString() for key in action.shortcuts())

    def _add(self, grid: QGridLayout, name: str, rows: Sequence[tuple[str, str]]) -> None:
        head, row = heading(name), grid.rowCount()
        grid.addWidget(head, row, 0, 1, 2)
        labels = []
        for place, (keys, says) in enumerate(rows, row + 1):
            pair = QLabel(keys), QLabel(says)
            pair[0].setStyleSheet(f"font-weight: bold; color: {shade(TEAL)};")
            for column, label in enumerate(pair):
                grid.addWidget(label, place, column)
            labels.append(pair)
        self.parts.append((head, labels))

    def _filter(self, words: str) -> None:
        """Leave what has all the words."""
        wanted = words.lower().split()
        for head, labels in self.parts:
            shown = [all(word in f"{a.text()} {b.text()}".lower() for word in wanted) for a, b in labels]
            head.setVisible(any(shown))
            for pair, there in zip(labels, shown):
                for label in pair:
                    label.setVisible(there)
