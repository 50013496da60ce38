"""A photograph read: squared up, recognised by its code, its points found, and judged."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

import cv2
import numpy as np

from wise_compass.camera.evidence import inked
from wise_compass.camera.finding import Finding, find
from wise_compass.camera.laid import Laid, laid_by
from wise_compass.camera.picture import read_picture
from wise_compass.camera.raster import Pixels
from wise_compass.camera.squaring import Squared, flattened, square_up
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.paper import STRIP_HEIGHT

FINE = (7.0, 12.0)
"""Pixels to a mm of the flattened sheet, at least and at most."""
Hear = Callable[[int, int], None]


class Reading(NamedTuple):
    """A sheet read: what lies on it, how it was squared up, the sheet flattened with its pixels to a mm, and what was found."""

    laid: Laid
    squared: Squared
    flat: Pixels
    fine: float
    finding: Finding

    @property
    def points(self) -> dict[str, Array]:
        """Each point that was found, in mm from the paper's lower left corner."""
        return {name: one.at for name, one in self.finding.points.items()}


def unheard(done: int, whole: int) -> None:
    """Nobody asks how far it is."""


def read(path: Path, laid: Laid | None = None, sides: tuple[float, float] | None = None, hear: Hear = unheard) -> Reading:
    """Read a photograph's file; raises :class:`Refused` with what to do where it cannot be."""
    return read_pixels(read_picture(path), laid, sides, hear)


def read_pixels(
    grey: Pixels, laid: Laid | None = None, sides: tuple[float, float] | None = None, hear: Hear = unheard
) -> Reading:
    """Read a picture's grey pixels. ``laid`` is what it should show, where its code does not tell; ``sides`` those of a frame drawn by hand."""
    hear(0, 10)
    if sides is not None and laid is None:
        raise Refused(
            "sides", "A frame drawn by hand tells not what it holds. Tell the problem's code, or the job and its sheet."
        )
    squared = square_up(grey, laid.paper if laid is not None and sides is None else None, sides)
    hear(3, 10)
    code = "" if sides is not None else code_on(grey, squared)
    if code and (laid is None or (laid.code and laid.code != code)):
        told = laid_by(code)
        if laid is not None:
            raise Refused(
                "photo",
                f"This is the sheet of another drawing: {PLAIN.say(told.run.figure.title)}, {code[:60]}. Take its own sheet.",
            )
        laid = told
    if laid is None:
        raise Refused("photo", "The sheet bears no code that can be read. Tell the problem's code, or the job and its sheet.")
    if laid.paper != squared.paper and sides is None:
        raise Refused(
            "photo",
            f"The sheet is {squared.paper.size}, {squared.paper.lie}; the drawing was set for {laid.paper.size}, {laid.paper.lie}.",
        )
    fine = float(np.clip(round(squared.fine), *FINE))
    area = None if sides is None else (0.0, 0.0, *sides)
    flat = flattened(grey, squared, fine, area)
    hear(4, 10)
    ink = inked(flat, fine)
    if sides is not None:
        laid = laid._replace(origin=_registered(ink.away, ink.coarse, ink.high, laid))
    finding = find(ink, laid, lambda done, whole: hear(4 + min(int(5 * done / max(whole, 1)), 5), 10))
    hear(10, 10)
    return Reading(laid, squared, flat, fine, finding)


def code_on(grey: Pixels, squared: Squared) -> str:
    """What the sheet's code says; empty where none is read."""
    left, bottom, _, _ = squared.paper.frame
    reader = cv2.QRCodeDetector()
    for fine in (16.0, 24.0, 12.0, 32.0):
        crop = flattened(grey, squared, fine, (left - 1.0, bottom - 1.0, left + 19.0, bottom + STRIP_HEIGHT + 1.5))
        calm = cv2.GaussianBlur(crop, (0, 0), 0.06 * fine)
        sharp = cv2.addWeighted(crop, 2.2, cv2.GaussianBlur(crop, (0, 0), 0.2 * fine), -1.2, 0)
        block = int(1.5 * fine) * 2 + 1
        black = cv2.adaptiveThreshold(calm, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY, block, 4)
        for picture in (crop, sharp, black):
            try:
                words, *_ = reader.detectAndDecode(picture)
            except cv2.error:
                continue
            if words:
                return str(words)
    return ""


def _registered(away: Any, coarse: float, high: float, laid: Laid) -> Array:
    """Where a figure lies that was begun anywhere: the place at which its outline lies best on the ink."""
    from wise_compass.camera.laid import LINED, courses_of

    lines = [line for mark in laid.run.marks if mark.role in LINED for line in courses_of(mark, 0, laid.scale)]
    places = np.concatenate(lines or [spot.here[None] for spot in laid.run.spots.values()]) * laid.scale
    low, high_corner = places.min(axis=0), places.max(axis=0)
    template = np.zeros((int((high_corner - low)[1] * coarse) + 3, int((high_corner - low)[0] * coarse) + 3), np.float32)
    for line in lines:
        placed = np.stack(
            [(line[:, 0] * laid.scale - low[0]) * coarse, (high_corner[1] - line[:, 1] * laid.scale) * coarse], axis=1
        )
        cv2.polylines(template, [np.round(placed).astype(np.int32)], False, (1.0,), 1)
    field = np.minimum(np.asarray(away, dtype=np.float32), 3.0)
    if template.shape[0] > field.shape[0] or template.shape[1] > field.shape[1]:
        raise Refused("sides", "The drawing is larger than the frame that was told. Tell the frame's own sides.")
    cost = cv2.matchTemplate(field, template, cv2.TM_CCORR)
    row, column = np.unravel_index(int(np.argmin(cost)), cost.shape)
    return np.array([column / coarse - low[0], high - row / coarse - high_corner[1]])


def reading_record(reading: Reading) -> dict[str, Any]:
    """A reading as data: points in mm, the fit, what was not found."""
    squared, finding = reading.squared, reading.finding
    return {
        "figure": reading.laid.run.figure.id,
        "method": reading.laid.run.method.id,
        "givens": reading.laid.run.figure.stored(),
        "scale": reading.laid.scale,
        "code": reading.laid.code,
        "paper": {"size": squared.paper.size, "lie": squared.paper.lie},
        "fit": {
            "by": squared.by, "rms": squared.rms, "off": squared.off, "px_per_mm": squared.fine, "blur": squared.blur, "sure": squared.sure,
        },
        "points": {name: {"x": float(one.at[0]), "y": float(one.at[1]), "sd": one.sd} for name, one in finding.points.items()},
        "missing": list(finding.missing),
    }  # fmt: skip


def reading_text(reading: Reading) -> str:
    """A reading for a person."""
    squared, finding, made = reading.squared, reading.finding, reading.laid.run
    by = "its frame" if squared.by == "frame" else "the sides that were told, which is less sure"
    lines = [f"{made.figure.title}, by {made.method.title}"]
    lines.append(f"Squared up by {by}: within {squared.off:.2f} mm at marks that were not used, {squared.fine:.1f} px a mm.")
    for name, one in finding.points.items():
        lines.append(f"  {PLAIN.lettered(name):10} {one.at[0]:8.2f} {one.at[1]:8.2f} mm")
    if finding.missing:
        lines.append(f"Not found: {', '.join(PLAIN.lettered(name) for name in finding.missing)}.")
    return "\n".join(lines)
