"""How a picture's solid stands in the space view: as its drawing pictures it, until it is turned; from one projection
it glides to the next."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QElapsedTimer, QObject, QTimer

from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array
from wise_compass.scene.picture import Viewer
from wise_compass.scene.projection import between, eye_along, projection_of

GLIDE_MS, FRAME_MS = 700, 16
SAME = 1e-9


class Pose(QObject):
    """The projection in force; None where the eye is wherever it was turned to, or the figure pictures nothing."""

    def __init__(self, parent: QObject, moved: Callable[[], object]) -> None:
        super().__init__(parent)
        self._moved = moved
        self._run: Run | None = None
        self._entry = ""
        self._start: Array | None = None
        self.held: Array | None = None
        self.turned = False
        self.share = 1.0
        self._timer, self._since = QTimer(self), QElapsedTimer()
        self._timer.timeout.connect(self._on)

    def take(self, run: Run | None, entry: str, eye: Viewer) -> None:
        """Another run is shown: of another figure it stands as pictured at once, of the same one it glides from where
        it is now."""
        if run is self._run:
            return
        before = eye.basis() if self.turned else self.basis()
        same, self._run, self._entry = entry == self._entry, run, entry
        was, self.held = self.held, projection_of(run) if run is not None else None
        if not same:
            self.turned, self._start = False, None
            self._timer.stop()
        elif self.held is not None and was is not None and np.abs(self.held - was).max() > SAME:
            self.turned, self._start = False, before
            self.share = 0.0
            self._since.start()
            self._timer.start(FRAME_MS)

    def basis(self) -> Array | None:
        """Right, up and the direction towards the eye as they are just now."""
        if self.turned or self.held is None:
            return None
        return self.held if self._start is None else between(self._start, self.held, self.share)

    def let_go(self) -> Viewer | None:
        """The eye takes over to be turned, from where the projectors come; None where it has already."""
        now = self.basis()
        self._timer.stop()
        self._start, self.turned = None, True
        return None if now is None else eye_along(now)

    def settle(self) -> None:
        """Back to as it is pictured."""
        self.turned, self._start = False, None
        self._timer.stop()

    def _on(self) -> None:
        share = min(self._since.elapsed() / GLIDE_MS, 1.0)
        self.share = share * share * (3 - 2 * share)
        if share >= 1.0:
            self._start = None
            self._timer.stop()
        self._moved()
