"""The stage: the board or, in its place, the space view, and the switch between them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.paper.board import Board
from wise_compass.desk.session.session import Session

if TYPE_CHECKING:
    from wise_compass.desk.photo.head import PhotoHead
    from wise_compass.desk.round.spaceview import SpaceView

GRID = 5.0
"""mm along the axes between the dots of a grid that is asked for."""


class Stage(QWidget):
    """Shows the selected figure on its sheet, or in the round where it has views."""

    def __init__(self, session: Session, board: Board) -> None:
        super().__init__()
        self.session, self.board = session, board
        self._inside = QVBoxLayout(self)
        self._inside.setContentsMargins(0, 0, 0, 0)
        self._inside.setSpacing(0)
        self._inside.addWidget(board, 1)
        self.in_space = False
        self._space: SpaceView | None = None
        self.switch = QPushButton("Space view", self)
        self.switch.setObjectName("switch")
        self.switch.setToolTip("The same figure in the round, or on its sheet (V)")
        self.switch.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.switch.clicked.connect(self.turn_over)
        self.head: PhotoHead | None = None
        session.drawn.connect(self._settle)
        session.selected.connect(self._settle)
        session.laid.connect(self._settle)
        self._settle()

    @property
    def space(self) -> SpaceView:
        """The space view, made when it is first looked at."""
        if self._space is None:
            from wise_compass.desk.round.spaceview import SpaceView

            self._space = SpaceView(self.session)
            self._space.set_clean(self.board.clean)
            self._space.hide()
            self._inside.addWidget(self._space, 1)
        return self._space

    @property
    def shown(self) -> Board | SpaceView:
        """What stands on the stage."""
        return self.space if self.in_space else self.board

    def lay_below(self, widget: QWidget) -> None:
        """Something that the board is worked with, below it."""
        self._inside.addWidget(widget)

    def _show(self, in_space: bool) -> None:
        self.shown.hide()
        self.in_space = in_space
        self.shown.show()

    def turn_over(self) -> None:
        """The selected figure in the round, or on its sheet again."""
        if not self.in_space and not self.session.in_the_round:
            self.session.said.emit(self.session.flat_words)
            return
        if not self.in_space and self.session.lying is not None:
            self.session.lay_aside(True)
        self._show(not self.in_space)
        self._settle()
        self.shown.setFocus()

    def play(self) -> None:
        """Fold the planes, or stand them up."""
        if self.in_space:
            self.space.play()

    def next_mode(self) -> None:
        """From the planes to the solid and to its pattern."""
        if self.in_space:
            self.space.next_mode()

    def set_clean(self, clean: bool) -> None:
        """Hide or show the construction, in both."""
        self.board.set_clean(clean)
        if self._space is not None:
            self._space.set_clean(clean)

    def zoom_by(self, factor: float) -> None:
        self.shown.zoom_by(factor)

    def put_on_sheet(self) -> None:
        """The space view on the sheet too, or not."""
        entry = self.session.entry
        if entry is None or not self._has_views:
            self.session.said.emit("This figure lies in one plane: it has no space view.")
        else:
            self.session.set_wish("Space view on the sheet", space=not entry.space)

    def hatch(self) -> None:
        """Hatch the faces where they are seen, or not."""
        entry = self.session.entry
        if entry is None or not (self._has_views or self._is_picture):
            self.session.said.emit("This figure has no faces to hatch.")
        else:
            self.session.set_wish("Hatch", hatched=not entry.hatched)

    @property
    def _is_picture(self) -> bool:
        made = self.session.run
        return made is not None and made.picture is not None

    def hidden_edges(self) -> None:
        """A picture's hidden edges, shown and left out in turn."""
        entry = self.session.entry
        if entry is None or not self._is_picture:
            self.session.said.emit("This figure is no picture of a solid: its hidden edges are part of its views.")
            return
        hidden = "out" if entry.hidden == "shown" else "shown"
        self.session.set_wish("Hidden edges", hidden=hidden)
        self.session.said.emit("Hidden edges are shown." if hidden == "shown" else "Hidden edges are left out.")

    def grid(self) -> None:
        """An isometric grid under a picture, or none."""
        entry = self.session.entry
        if entry is None or not self._is_picture:
            self.session.said.emit("This figure is no picture of a solid: an isometric grid is for those.")
        else:
            self.session.set_wish("Isometric grid", grid=0.0 if entry.grid else GRID)

    def show_scatter(self) -> None:
        """The scatter that a steady hand has in the last view, or not."""
        if not self.session.scatters:
            self.session.said.emit("This figure has no auxiliary view; hands tells its scatter under Compare.")
        else:
            self.session.scatter = not self.session.scatter
            self.session.drawn.emit()

    def ask_edge(self) -> None:
        """Judge how far the corners stand off an edge on the paper."""
        from wise_compass.study.edges import edge_of

        made, hands = self.session.run, self.session.settled_hands()
        edge = edge_of(made) if made is not None else None
        if edge is None or hands is None:
            self.session.said.emit("No plane is seen on edge here: there is no line that its corners should keep.")
            return
        from wise_compass.desk.side.edgedialog import EdgeDialog

        EdgeDialog(self, hands, edge, self.session.style).exec()

    @property
    def _has_views(self) -> bool:
        made = self.session.run
        return made is not None and made.views is not None

    def _settle(self) -> None:
        """The switch names where it leads, and is there where a figure has views."""
        if self.in_space and (not self.session.in_the_round or self.session.lying is not None):
            self._show(False)
        self._settle_head()
        self.switch.setText("Back to the sheet" if self.in_space else "Space view")
        self.switch.adjustSize()
        self.switch.setVisible(self.session.in_the_round)
        self._place()
        self.switch.raise_()

    def _settle_head(self) -> None:
        """The switches of a photograph stand above the board while there is one."""
        there = self.session.photographed is not None and not self.in_space
        if there and self.head is None:
            from wise_compass.desk.photo.head import PhotoHead

            self.head = PhotoHead(self.session)
            self._inside.insertWidget(0, self.head)
        if self.head is not None:
            self.head.setVisible(there)

    def _place(self) -> None:
        """In a corner of its own: over the ground beside the paper, or over the scene's head."""
        size = self.switch.size()
        corner = (12, 10) if self.in_space else (self.width() - size.width() - 12, self.height() - size.height() - 2)
        self.switch.move(*corner)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place()
