"""The switches above a board on which a photograph lies: the sheet, the photograph, what was drawn over what is
exact."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.labels import switch, wrapped
from wise_compass.desk.photo.photopaper import PhotoPaper
from wise_compass.desk.session.session import Session

WAYS = {
    "photograph": ("The photograph", "The photograph, squared up, the exact figure over it"),
    "over": ("Drawn over exact", "What was drawn, dashed, over what is exact"),
    "sheet": ("The sheet", "The sheet as it stands; the photograph is laid aside"),
}


class PhotoHead(QWidget):
    """Follows the photograph of the selected figure."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("boardhead")
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("How the photograph is shown")
        self.ways: dict[str, QPushButton] = {}
        self._only = QButtonGroup(self)
        self._settling = True
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 8, 16, 2)
        line.setSpacing(6)
        for name, (words, says) in WAYS.items():
            self.ways[name] = self._switch(words, says)
            self._only.addButton(self.ways[name])
            line.addWidget(self.ways[name])
        self.tenfold = self._switch(
            "Tenfold", "The misses ten times as large, or as far as the paper has room for them"
        )
        line.addWidget(self.tenfold)
        self.took = wrapped("Dividers", "hint")
        self.took.setWordWrap(False)
        self.took.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        line.addWidget(self.took, 1)
        self.away = QPushButton("Take it away")
        self.away.setObjectName("switchbutton")
        self.away.setAutoDefault(False)
        keep(self.away, PRESS)
        self.away.clicked.connect(lambda _=False: session.lay(None))
        line.addWidget(self.away)
        self._heard: PhotoPaper | None = None
        self._settling = False
        session.laid.connect(self.settle)
        session.selected.connect(self.settle)
        self.settle()

    def _switch(self, words: str, says: str) -> QPushButton:
        made = switch(words, says)
        made.toggled.connect(lambda _: self._set())  # a screen reader toggles, and does not click
        return made

    @property
    def paper(self) -> PhotoPaper | None:
        lying = self.session.photographed
        return lying if isinstance(lying, PhotoPaper) else None

    def settle(self) -> None:
        """Bring the switches up to what is shown."""
        paper = self.paper
        if paper is None:
            return
        if paper is not self._heard:
            self._heard = paper
            paper.changed.connect(self.session.lit.emit)
            paper.measured.connect(lambda words: self.took.setText(f"Dividers: {words}"))
            self.took.setText("Drag a ring to its crossing.")
        self._settling = True
        name = "sheet" if self.session.aside else "over" if paper.over else "photograph"
        self.ways[name].setChecked(True)
        self.tenfold.setChecked(paper.times > 1)
        self.tenfold.setEnabled(name == "over")
        self._settling = False

    def _set(self) -> None:
        paper = self.paper
        if paper is None or self._settling or self._only.checkedButton() is None:
            return
        paper.show_over(self.ways["over"].isChecked(), 10.0 if self.tenfold.isChecked() else 1.0)
        self.session.lay_aside(self.ways["sheet"].isChecked())
        self.settle()
