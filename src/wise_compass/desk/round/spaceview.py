"""The space view: the run of the board in the round, its planes standing up or folding flat into the sheet."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QElapsedTimer, QEvent, QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QShowEvent, QWheelEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSlider, QVBoxLayout, QWidget

from wise_compass.desk.paper import reading
from wise_compass.desk.paper.facelight import face_in_space, light
from wise_compass.desk.paper.notes import draw_note
from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import COPPER, PAPER, SETTLE_MS, SOFT, font, on_paper
from wise_compass.desk.round.posing import Pose
from wise_compass.desk.round.roundmodes import WORDS, Modes, SlipChoice, draw_gap, modes_of, shape_of
from wise_compass.desk.session.session import Session
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array
from wise_compass.scene.model import FoldedSheet, Lifted
from wise_compass.scene.picture import Shown, Viewer, extent, picture
from wise_compass.scene.scene import Scene
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.drawing import Item, Line, Text
from wise_compass.sheet.inks import INKS

FOLD_MS, ROLL_MS, FRAME_MS = 1100, 2600, 15
"""How long the planes take to fold, a pattern to roll up, and the time between two frames."""
LETTER_PX, PENS = 12.5, 2.8
"""Pixels of a letter, and to a millimetre of a line's width, however near the scene is."""
REACH = 8.0
TOP, FOOT = 40, 46


class SpaceView(QWidget):
    """Draws the selected run's scene. Drag turns the eye, a double click puts it back, the wheel zooms, F folds."""

    painted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.eye, self.folded, self.nearer, self.clean = Viewer(), 0.0, 1.0, False
        self._scene: tuple[Run, Scene] | None = None
        self._grip: QPointF | None = None
        self._shown: list[Item] = []
        self._glass = Glass(1.0, 0.0, 0.0, 0.0)
        self._hover: tuple[QPointF, str, str] | None = None
        self._clock, self._timer = QElapsedTimer(), QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._glide)
        self._from, self._to = 0.0, 1.0
        self.swing = 1.0
        self.moved = {"solid": 0.0, "pattern": 0.0}
        self._shape: tuple[object, Lifted | FoldedSheet] | None = None
        self.pose = Pose(self, self.update)
        self._before: tuple[object, ...] = ()
        """What was looked at last: which scene or solid, how far it is moved, whence."""
        self._resting = QTimer(self)
        self._resting.setSingleShot(True)
        self._resting.timeout.connect(self.update)
        self._swinging, self._since = QTimer(self), QElapsedTimer()
        self._swinging.timeout.connect(self._swing_on)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The space view")
        self._controls()
        session.drawn.connect(self._drawn)
        session.stepped.connect(self._stepped)
        session.lit.connect(self.update)

    def _controls(self) -> None:
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 1000)
        self.slider.setAccessibleName("How far the planes are folded into the sheet")
        self.slider.valueChanged.connect(lambda value: self.move_to(value / 1000))
        self.fold = QPushButton("Fold flat")
        self.fold.setToolTip("Fold the planes about their fold lines until they lie in the sheet, or stand them up (F)")
        self.fold.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.fold.clicked.connect(self.play)
        line = QHBoxLayout()
        line.setContentsMargins(16, 0, 16, 8)
        self.choose = Modes(self)
        self.choose.chosen.connect(self.show_mode)
        line.addWidget(self.choose)
        self.ends = QLabel(), QLabel()
        for part in (self.ends[0], self.slider, self.ends[1]):
            if isinstance(part, QLabel):
                part.setObjectName("hint")
            line.addWidget(part, 1 if part is self.slider else 0)
        line.addStretch(0)
        line.addWidget(self.fold)
        self.slips = SlipChoice(self)
        self.slips.activated.connect(self.update)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addStretch(1)
        whole.addLayout(line)

    # what stands

    @property
    def scene(self) -> Scene | None:
        """The scene of the selected run, made once; None where it draws no views."""
        made = self.session.run
        if made is None or made.views is None:
            return None
        if self._scene is None or self._scene[0] is not made:
            self._scene = (made, Scene(made))
        return self._scene[1]

    @property
    def mode(self) -> str:
        """What stands on the stage: the planes, the solid alone, or its pattern."""
        return self.choose.mode

    @property
    def shape(self) -> Lifted | FoldedSheet | None:
        """The solid or the pattern that is shown, made once for a run; None where the planes are, or there is none."""
        made, entry = self.session.run, self.session.entry
        if made is None or entry is None or self.mode == "planes":
            return None
        pattern = self.mode == "pattern"
        key = (made, self.mode, self.slips.slip if pattern else "", entry.shop if pattern else {})
        if self._shape is None or self._shape[0] != key:
            self._shape = (key, shape_of(made, self.mode, key[2], entry))
        return self._shape[1]

    def _modes(self) -> None:
        """The modes that the selected run has, and the slips that its pattern can be folded with."""
        made = self.session.run
        if made is None:
            return
        self.choose.offer(modes_of(made))
        self.slips.offer(made)
        self._mode_words()

    def show_mode(self, mode: str) -> None:
        """Show the planes, the solid or the pattern."""
        self._timer.stop()
        self.choose.take(mode)
        self._mode_words()
        self.move_to(self.folded if mode == "planes" else self.moved[mode])

    def next_mode(self) -> None:
        """From the planes to the solid, the pattern, and round."""
        self._modes()
        self.show_mode(self.choose.after())

    def _mode_words(self) -> None:
        words = WORDS[self.mode]
        for label, end in zip(self.ends, words[:2]):
            label.setText(end)
        self.fold.setText(words[3] if self.place > 0.5 else words[2])
        self.slider.setAccessibleName(words[4])
        shape = self.shape
        moves = not isinstance(shape, Lifted) or bool(shape.off.faces)
        for part in (*self.ends, self.slider, self.fold):
            part.setVisible(moves)
        self.slips.setVisible(self.mode == "pattern" and self.slips.count() > 1)
        self.slips.place(self.width())

    @property
    def place(self) -> float:
        """How far the slider of this mode is."""
        return self.folded if self.mode == "planes" else self.moved[self.mode]

    def move_to(self, place: float) -> None:
        """Move what this mode moves: 0 as it stands at first, 1 all the way."""
        if self.mode == "planes":
            self.fold_to(place)
            return
        self.moved[self.mode] = min(max(place, 0.0), 1.0)
        self._settle_slider()

    def fold_to(self, folded: float) -> None:
        """Fold the planes so far: 0 standing, 1 flat in the sheet."""
        self.folded = min(max(folded, 0.0), 1.0)
        self._settle_slider()

    def _settle_slider(self) -> None:
        words = WORDS[self.mode]
        self.fold.setText(words[3] if self.place > 0.5 else words[2])
        if self.slider.value() != round(self.place * 1000):
            self.slider.blockSignals(True)
            self.slider.setValue(round(self.place * 1000))
            self.slider.blockSignals(False)
        self.update()

    def play(self) -> None:
        """Fold flat if the planes stand, stand them up if they lie flat; lift the upper part; fold the pattern up."""
        if self.slider.isHidden():
            return
        self._from, self._to = self.place, 0.0 if self.place > 0.5 else 1.0
        self._clock.start()
        self._timer.start(FRAME_MS)

    def _glide(self) -> None:
        share = min(self._clock.elapsed() / (FOLD_MS if self.mode == "planes" else ROLL_MS), 1.0)
        eased = share * share * (3 - 2 * share)
        self.move_to(self._from + (self._to - self._from) * eased)
        if share >= 1.0:
            self._timer.stop()

    def _stepped(self) -> None:
        """At a step that swings a view level, the line turns in space with it."""
        scene = self.scene if self.isVisible() else None
        if scene is not None and not self.session.finished and self.session.step in scene.turnings:
            self._since.start()
            self._swinging.start(FRAME_MS)
        self.update()

    def _swing_on(self) -> None:
        self.swing = min(self._since.elapsed() / FOLD_MS, 1.0)
        if self.swing >= 1.0:
            self._swinging.stop()
        self.update()

    def front(self) -> None:
        """The eye back where it stood at first."""
        self.eye, self.nearer = Viewer(), 1.0
        self.pose.settle()
        self.update()

    @property
    def turned(self) -> bool:
        """Whether the eye stands elsewhere than at first."""
        return self.eye != Viewer()

    def set_clean(self, clean: bool) -> None:
        self.clean = clean
        self.update()

    # drawing

    def _lay(self, scene: Scene) -> None:
        """The picture, and the glass through which it fills the widget; letters keep their size on the screen."""
        step = 0 if self.session.finished else max(self.session.step, 1)
        style = self.session.style
        quick = self._moves((scene, self.folded, self.eye))
        shown = Shown(self.folded, step, style, self.clean, lettered=False, swing=self.swing, quick=quick)
        low, high = extent(scene, self.eye, self.folded)
        room = np.array([self.width() - 80.0, self.height() - 60.0 - FOOT])
        zoom = float((room / np.maximum(high - low, 1e-6)).min()) * self.nearer
        middle = (low + high) / 2
        left = self.width() / 2 - float(middle[0]) * zoom
        top = (self.height() - FOOT + TOP / 2) / 2 + float(middle[1]) * zoom
        self._glass = Glass(zoom, left, top, 0.0)
        self._shown = picture(scene, self.eye, shown._replace(lettered=True), LETTER_PX / zoom)

    def _moves(self, now: tuple[object, ...]) -> bool:
        """Whether something else is looked at than at the last frame: at rest it is drawn again, with care."""
        if now == self._before:
            return False
        self._before = now
        self._resting.start(SETTLE_MS)
        return True

    def basis(self) -> Array:
        """Right, up and towards the eye: a picture's solid stands as it is pictured until it is turned."""
        posed = self.pose.basis() if self.mode == "solid" else None
        return self.eye.basis() if posed is None else posed

    def _posed(self) -> None:
        entry = self.session.entry
        self.pose.take(self.session.run, entry.id if entry else "", self.eye)

    def _drawn(self) -> None:
        if self.isVisible():
            self._modes()
            self._posed()
        self.update()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._modes()
        self._posed()

    def _lay_shape(self, shape: Lifted | FoldedSheet) -> None:
        """The solid or the pattern, filling the widget whatever of it is moved."""
        basis = self.basis()
        self._shown = shape.items(self.place, basis, self._moves((shape, self.place, basis.tobytes())))
        # a pattern is in the middle, and as large as it goes, however far it is folded
        low, high = bounds(self._shown) if isinstance(shape, FoldedSheet) else shape.extent(basis)
        room = np.array([self.width() - 80.0, self.height() - 110.0 - FOOT])
        zoom = float((room / np.maximum(high - low, 1e-6)).min()) * self.nearer
        middle = (low + high) / 2
        left = self.width() / 2 - float(middle[0]) * zoom
        self._glass = Glass(zoom, left, (self.height() - FOOT + TOP) / 2 + float(middle[1]) * zoom, 0.0)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), on_paper(PAPER))
        shape, scene = self.shape, self.scene
        if shape is not None:
            self._lay_shape(shape)
            self._draw(painter)
            if isinstance(shape, FoldedSheet):
                draw_gap(painter, self.rect(), shape, self.session.style)
        elif scene is None:
            painter.setFont(font(15))
            painter.setPen(on_paper(SOFT))
            painter.drawText(
                self.rect(), Qt.AlignmentFlag.AlignCenter, "This figure lies in one plane; V goes back to the sheet."
            )
        else:
            self._lay(scene)
            self._draw(painter)
        painter.end()
        self.painted.emit()

    def _draw(self, painter: QPainter) -> None:
        zoom = self._glass.zoom
        plain = PainterSurface(painter, self._glass, pens=PENS)
        lit = PainterSurface(painter, self._glass, tint=COPPER, stronger=1.6, pens=PENS)
        step, named = 0 if self.session.finished else self.session.step, self.session.marks_lit
        alike: list[Array] = []
        before: tuple[PainterSurface, str, bool] | None = None

        def stroke() -> None:  # what is of one ink and follows each other is drawn at once
            if alike and before is not None:
                surface, ink, filled = before
                (surface.patches if filled else surface.segments)(alike, INKS[ink])
                alike.clear()

        for item in self._shown:
            mine = step and item.step == step and item.layer not in ("glass", "body")
            surface = lit if mine or item.owner in named else plain
            plainly = isinstance(item, Line) and (item.filled if item.layer == "skin" else len(item.points) == 2)
            kind = surface, item.ink, item.layer == "skin"
            if not plainly or before != kind:
                stroke()
            if plainly and isinstance(item, Line):
                alike.append(item.points)
                before = kind
            else:
                item.put(surface)
        stroke()
        basis, entry = self.basis()[:2], self.session.entry
        corners = [self._glass.xy(basis @ at) for at in face_in_space(self.session, self.shape, self.place)]
        light(painter, corners, entry is not None and entry.hatched)
        if self._hover is not None and zoom:
            draw_note(painter, self.size(), *self._hover[:2])

    # reading

    def _hover_at(self, at: QPointF) -> None:
        before, self._hover = self._hover, None
        item = self._item_at(self._glass.sheet(at), REACH / max(self._glass.zoom, 1e-9))
        words = self._words(item) if item is not None else ""
        if words and item is not None:
            self._hover = (at, words, item.owner)
        self.session.light((item.owner,) if item is not None and words and item.owner[0] != "#" else ())
        if before is not None or self._hover is not None:
            self.update()

    def _item_at(self, at: Array, reach: float) -> Item | None:
        """A letter under a place of the picture, else the line next to it; the planes last."""
        best, gap = None, reach
        for item in self._shown:
            if isinstance(item, Text):
                far = float(np.abs(item.at + 0.4 * item.size - at).max()) * 0.7
            else:
                course = item.polyline()
                if course is None or item.layer == "glass" and item.ink != "pane":
                    continue
                far = reading.course_gap(course, at) * (1.0 if item.layer != "glass" else 1.5)
            if far < gap:
                best, gap = item, far
        return best

    def _words(self, item: Item) -> str:
        made, style = self.session.run, self.session.style
        if made is None:
            return ""
        if item.owner.startswith("plane:"):
            scene = self.scene
            names = {glass.view: glass.name for glass in scene.glass} if scene else {}
            return f"the {names.get(item.owner.partition(':')[2], 'plane')}"
        if item.owner.startswith("#"):
            return reading.mark_words(made, item.owner, style, 1.0)
        if item.owner in made.spots:
            return reading.spot_words(made, item.owner, style)
        return reading.space_words(made, item.owner, style)

    # the pointer and the keys

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._grip = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._grip is None:
            self._hover_at(at)
            return
        shift, self._grip = at - self._grip, at
        self.turn(-0.4 * shift.x(), 0.4 * shift.y())

    def turn(self, by: float, rise: float) -> None:
        """Turn the eye about the upright, and raise it, by so many degrees."""
        if self.mode == "solid":
            self.eye = self.pose.let_go() or self.eye
        self.eye = Viewer((self.eye.turn + by + 180.0) % 360.0 - 180.0, min(max(self.eye.rise + rise, -89.0), 89.0))
        self._hover = None
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grip = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.front()

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = None
        self.session.light(())
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom_by(1.0015 ** event.angleDelta().y())

    def zoom_by(self, factor: float) -> None:
        self.nearer = min(max(self.nearer * factor, 0.3), 12.0)
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._hover = None
        self.slips.place(self.width())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        turns: dict[int, tuple[int, int]] = {
            Qt.Key.Key_Left: (-5, 0),
            Qt.Key.Key_Right: (5, 0),
            Qt.Key.Key_Up: (0, 5),
            Qt.Key.Key_Down: (0, -5),
        }
        if event.key() in turns and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.turn(*turns[event.key()])
        elif event.key() == Qt.Key.Key_Home:
            self.front()
        else:
            super().keyPressEvent(event)
