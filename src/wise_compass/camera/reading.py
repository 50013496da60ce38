"""A photograph read: squared up, recognised by its code, its points found, and judged."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

import cv2
import numpy as np

from wise_compass.camera.crossings import FoundCrossing
from wise_compass.camera.evidence import Inked, inked
from wise_compass.camera.finding import LOST, Finding, find
from wise_compass.camera.laid import Laid, laid_by
from wise_compass.camera.picture import read_picture
from wise_compass.camera.raster import Pixels
from wise_compass.camera.squaring import Squared, flattened, square_up
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.paper import SIZES
from wise_compass.sheet.squarecode import code_cells, joined
from wise_compass.study.judge import unheard

FINE = (7.0, 12.0)
"""Pixels to a mm of the flattened sheet, at least and at most."""
BY_HAND = 0.1
"""mm, one deviation, that a ring is put to by hand."""
Hear = Callable[[int, int], None]


class Reading(NamedTuple):
    """A sheet read: what lies on it, how it was squared up, the sheet flattened with its pixels to a mm, its ink, and
    what was found."""

    laid: Laid
    squared: Squared
    flat: Pixels
    fine: float
    finding: Finding
    ink: Inked

    def jpeg(self) -> bytes:
        """The squared-up sheet as a JPEG file, to be kept."""
        good, content = cv2.imencode(".jpg", self.flat, [cv2.IMWRITE_JPEG_QUALITY, 80])
        assert good
        return bytes(content.tobytes())

    def moved(self, name: str, at: Array) -> Reading:
        """The reading with a point put elsewhere by hand; one that was not found is found then."""
        points = {**self.finding.points, name: FoundCrossing(np.asarray(at, dtype=float), BY_HAND)}
        missing = tuple(one for one in self.finding.missing if one != name)
        return self._replace(finding=self.finding._replace(points=points, missing=missing))

    def left_out(self, name: str) -> Reading:
        """The reading without a point."""
        points = {one: found for one, found in self.finding.points.items() if one != name}
        missing = tuple(dict.fromkeys((*self.finding.missing, name)))
        return self._replace(finding=self.finding._replace(points=points, missing=missing))

    @property
    def points(self) -> dict[str, Array]:
        """Each point that was found, in mm from the paper's lower left corner."""
        return {name: one.at for name, one in self.finding.points.items()}


def read(
    path: Path, laid: Laid | None = None, sides: tuple[float, float] | None = None, hear: Hear = unheard
) -> Reading:
    """Read a photograph's file; raises :class:`Refused` with what to do where it cannot be."""
    return read_pixels(read_picture(path), laid, sides, hear)


def sides_of(words: str) -> tuple[float, float] | None:
    """The sides of a frame drawn by hand, from 267x190, or those of plain paper, from A4; None for none told. Raises
    :class:`Refused`."""
    if not words:
        return None
    known = next((size for name, size in SIZES.items() if name.lower() == words.strip().lower()), None)
    if known is not None:
        return known
    try:
        across, up = (float(part) for part in words.lower().replace("×", "x").split("x"))
    except ValueError:
        across, up = 0.0, 0.0
    if not (20 <= across <= 1200 and 20 <= up <= 1200):
        raise Refused(
            "frame",
            f"frame is “{words[:20]}”; write what the frame measures across and up, 20 to "
            "1200 mm, such as 267x190, or A4 for plain paper.",
        )
    return across, up


def read_pixels(
    grey: Pixels, laid: Laid | None = None, sides: tuple[float, float] | None = None, hear: Hear = unheard
) -> Reading:
    """Read a picture's grey pixels. ``laid`` is what it should show, where its code does not tell; ``sides`` those of a
    frame drawn by hand."""
    hear(0, 10)
    if sides is not None and laid is None:
        raise Refused(
            "frame", "A frame drawn by hand tells not what it holds. Tell the problem's code, or the job and its sheet."
        )
    squared = square_up(grey, laid.paper if laid is not None and sides is None else None, sides)
    hear(3, 10)
    code = "" if sides is not None else code_on(grey, squared)
    if code and (laid is None or (laid.code and laid.code != code)):
        told = laid_by(code)
        if laid is not None:
            raise Refused(
                "photo",
                f"This is the sheet of another drawing: {PLAIN.say(told.run.figure.title)}, "
                f"{code[:60]}. Take its own sheet.",
            )
        laid = told
    if laid is None:
        raise Refused(
            "photo", "The sheet bears no code that can be read. Tell the problem's code, or the job and its sheet."
        )
    if laid.paper[:2] != squared.paper[:2] and sides is None:
        raise Refused(
            "photo",
            f"The sheet is {squared.paper.size}, {squared.paper.lie}; the drawing was "
            f"set for {laid.paper.size}, {laid.paper.lie}.",
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
    return Reading(laid, squared, flat, fine, finding, ink)


def code_on(grey: Pixels, squared: Squared) -> str:
    """What the sheet's codes say together; empty where one of them is not read."""
    cells, side = code_cells(squared.paper)
    parts: dict[int, str] = {}
    count = 0
    for k, (x, y) in enumerate(cells):
        if count and k >= count:
            break
        words = _decoded(grey, squared, (x - 1.2, y - 1.2, x + side + 1.2, y + side + 1.2))
        if len(words) < 3 or not words[:2].isdigit() or (count and int(words[1]) != count):
            return ""
        count = int(words[1])
        parts[int(words[0])] = words[2:]
    return joined(parts, count) if count else ""


def _decoded(grey: Pixels, squared: Squared, area: tuple[float, float, float, float]) -> str:
    """What one code says, looked at coarsely and finely, as it is and made sharper; empty where nothing is read."""
    reader = cv2.QRCodeDetector()
    for fine in (12.0, 18.0, 26.0):
        crop = flattened(grey, squared, fine, area)
        calm = cv2.GaussianBlur(crop, (0, 0), 0.08 * fine)
        sharp = cv2.addWeighted(crop, 2.4, cv2.GaussianBlur(crop, (0, 0), 0.25 * fine), -1.4, 0)
        black = cv2.adaptiveThreshold(
            calm, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY, int(2.0 * fine) * 2 + 1, 4
        )
        _, hard = cv2.threshold(calm, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)  # squared paper is not black
        for picture in (crop, sharp, black, hard):
            edged = cv2.copyMakeBorder(picture, 12, 12, 12, 12, cv2.BORDER_CONSTANT, value=(255,))
            try:
                words, *_ = reader.detectAndDecode(edged)
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
    template = np.zeros(
        (int((high_corner - low)[1] * coarse) + 3, int((high_corner - low)[0] * coarse) + 3), np.float32
    )
    for line in lines:
        placed = np.stack(
            [(line[:, 0] * laid.scale - low[0]) * coarse, (high_corner[1] - line[:, 1] * laid.scale) * coarse], axis=1
        )
        cv2.polylines(template, [np.round(placed).astype(np.int32)], False, (1.0,), 1)
    field = np.minimum(np.asarray(away, dtype=np.float32), 3.0)
    if template.shape[0] > field.shape[0] or template.shape[1] > field.shape[1]:
        raise Refused("frame", "The drawing is larger than the frame that was told. Tell the frame's own sides.")
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
            "by": squared.by, "rms": squared.rms, "off": squared.off, "px_per_mm": squared.fine, "blur": squared.blur,
            "sure": squared.sure,
        },
        "points": {name: {"x": float(one.at[0]), "y": float(one.at[1]), "sd": one.sd} for name,
        one in finding.points.items()},
        "missing": list(finding.missing),
        "crowded": list(finding.crowded),
        "adrift": list(finding.adrift),
    }  # fmt: skip


def fit_words(squared: Squared) -> str:
    """How well a photograph is squared up."""
    if squared.by == "frame":
        return (
            f"Squared up by its frame, within {squared.off:.2f} mm at marks that "
            f"were not used; {squared.fine:.1f} px a mm."
        )
    return (
        f"Squared up by the sides that were told, which fit within {squared.rms:.2f} "
        f"mm: less sure; {squared.fine:.1f} px a mm."
    )


def reading_text(reading: Reading) -> str:
    """A reading for a person."""
    squared, finding, made = reading.squared, reading.finding, reading.laid.run
    lines = [f"{made.figure.title}, by {made.method.title}"]
    lines.append(fit_words(squared))
    for name, one in finding.points.items():
        lines.append(f"  {PLAIN.lettered(name):10} {one.at[0]:8.2f} {one.at[1]:8.2f} mm")
    if finding.missing:
        lines.append(f"Not found: {', '.join(PLAIN.lettered(name) for name in finding.missing)}.")
    if finding.crowded:
        lines.append(
            f"Too near to each other to be told apart: {', '.join(PLAIN.lettered(name) for name in finding.crowded)}."
        )
    if finding.adrift:
        lines.append(
            f"No steady hand keeps them within {LOST:.0f} mm: "
            f"{', '.join(PLAIN.lettered(name) for name in finding.adrift)}."
        )
    return "\n".join(lines)
