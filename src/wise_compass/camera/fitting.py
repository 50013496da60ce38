"""How well a drawing accounts for a sheet's ink once its hand's errors are known: what it draws has ink beneath it, and
ink has a line."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.camera.beliefs import Beliefs
from wise_compass.camera.evidence import FAR, INK, Inked
from wise_compass.camera.laid import Laid, courses_of
from wise_compass.camera.pencil import marks_of
from wise_compass.camera.sketches import Sketch, lies_on
from wise_compass.drafting.instruments import ErringHands
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.run import lanes_of
from wise_compass.geometry.vectors import Array

ROOM = 3.0
"""mm beyond the exact drawing where ink is still taken for its own."""
BESIDE = 0.35
"""mm beside a line that are still its own."""


def accounts(ink: Inked, drawn_there: NDArray[np.float32], laid: Laid, sketch: Sketch, beliefs: Beliefs) -> float:
    """How well a sketch, drawn with the errors that its points tell of, lies on the ink and takes up what is drawn
    there (:func:`drawn_ink`): 2 where it does both in full."""
    errors = {label.number: float(mean) * label.sd for label, mean in zip(beliefs.labels, beliefs.mean)}
    if sketch.off is not None:
        number, size = sketch.off
        errors[number] = errors.get(number, 0.0) + size
    run = laid.run
    try:
        drawn = lanes_of(
            run.figure, run.method, 1, 0, run.conventions, laid.scale, sketch.slip, ErringHands(1, errors)
        ).draft
    except NoMeet:
        return 0.0
    lines = [line for mark in marks_of(drawn) for line in courses_of(mark, 0, laid.scale) if np.isfinite(line).all()]
    return lies_on(ink, laid, drawn) + taken_up(ink, drawn_there, laid, lines)


def taken_up(ink: Inked, weight: NDArray[np.float32], laid: Laid, lines: list[Array]) -> float:
    """The share of a sheet's ink that lies by some line, dark ink counting for more."""
    free: NDArray[np.uint8] = np.ones(ink.away.shape, dtype=np.uint8)
    for line in lines:
        x, y = laid.on_paper(line).T
        places = np.stack([x * ink.coarse - 0.5, (ink.high - y) * ink.coarse - 0.5], axis=1)
        cv2.polylines(free, [np.round(np.clip(places, -1e4, 1e4)).astype(np.int32)], False, 0)
    far = cv2.distanceTransform(free, cv2.DIST_L2, 5) / ink.coarse
    near = 1.0 - np.clip(far - BESIDE, 0.0, FAR) / FAR
    return float((weight * near).sum() / max(float(weight.sum()), 1e-9))


def drawn_ink(ink: Inked, laid: Laid) -> NDArray[np.float32]:
    """How dark the ink is where the drawing should be, on the coarser map; nothing beyond, where the sheet's own print
    lies."""
    rows, columns = ink.away.shape
    dark: NDArray[np.float32] = cv2.resize(ink.dark, (columns, rows), interpolation=cv2.INTER_AREA).astype(np.float32)
    dark[(ink.away > 0.0) | (dark < INK / 2)] = 0.0
    (left, bottom), (right, top) = (laid.on_paper(corner) for corner in laid.run.extent)
    x, y = (np.arange(columns) + 0.5) / ink.coarse, ink.high - (np.arange(rows) + 0.5) / ink.coarse
    dark[(y < bottom - ROOM) | (y > top + ROOM)] = 0.0
    dark[:, (x < left - ROOM) | (x > right + ROOM)] = 0.0
    return dark
