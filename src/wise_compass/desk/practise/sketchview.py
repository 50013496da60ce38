"""The sketch of what is to be measured, beside the fields: a letter that one is about to measure is lit in it."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, PAPER, on_paper, px
from wise_compass.desk.practise.practising import Practising
from wise_compass.practice.sketch import Sketch, sketch_of
from wise_compass.sheet.drawing import Item

SIZE = (75.0, 48.0)
"""mm that it is laid out for."""
HIGH = 190


class SketchView(QWidget):
    """Follows the problem in hand; ``lit`` are the letters that are shown darker, by the names of their points."""

    def __init__(self, session: Practising) -> None:
        super().__init__()
        self.session = session
        self.sketch: Sketch | None = None
        self.lit: tuple[str, ...] = ()
        self._items: list[Item] = []
        self.setFixedHeight(px(HIGH))
        self.setAccessibleName("Sketch of what is to be measured, not to scale")

    def fill(self) -> None:
        """Sketch the problem in hand."""
        made, names = self.session.run, self.session.measures
        self.sketch = sketch_of(made, names, SIZE) if made is not None and names and not made.printed_steps else None
        self._items = self.sketch.items(np.zeros(2), self.session.style) if self.sketch is not None else []
        self.setVisible(self.sketch is not None)
        if self.sketch is not None:
            self.setAccessibleDescription(f"Letters: {', '.join(self.sketch.letters)}")
        self.update()

    def light(self, names: tuple[str, ...]) -> None:
        """Light letters up."""
        self.lit = names
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.sketch is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), on_paper(PAPER))
        zoom = min(self.width() / SIZE[0], self.height() / SIZE[1])
        left, top = (self.width() - SIZE[0] * zoom) / 2, (self.height() - SIZE[1] * zoom) / 2
        plain = PainterSurface(painter, Glass(zoom, left, top, SIZE[1]))
        strong = PainterSurface(painter, Glass(zoom, left, top, SIZE[1]), tint=COPPER, stronger=1.6)
        for item in self._items:
            item.put(strong if item.owner and item.owner in self.lit else plain)
        painter.setPen(on_paper(COPPER))
        for name in self.lit:
            if name in self.sketch.letters:
                at = Glass(zoom, left, top, SIZE[1]).xy(self.sketch.letters[name])
                painter.drawEllipse(at, 6.0, 6.0)
        painter.end()
