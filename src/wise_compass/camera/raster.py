"""Drawings as grey pixels without a toolkit: what is printed, for the stand-in of the camera."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.geometry.fair import along_curve
from wise_compass.geometry.vectors import Array, polar
from wise_compass.sheet.drawing import Drawing
from wise_compass.sheet.inks import Ink
from wise_compass.sheet.lettering import font_file

Pixels = NDArray[np.uint8]
SHIFT = 4
"""Bits of a pixel's fraction that lines are placed to."""


class GreySurface:
    """Puts primitives on grey pixels, white being 255; ``fine`` pixels to a mm, y upward as on the sheet."""

    def __init__(self, width: float, height: float, fine: float) -> None:
        self.fine, self.height = fine, height
        self.pixels: Pixels = np.full((round(height * fine), round(width * fine)), 255, np.uint8)

    def _places(self, points: Array) -> NDArray[np.int32]:
        placed = np.stack([points[..., 0] * self.fine, (self.height - points[..., 1]) * self.fine], axis=-1) - 0.5
        return np.round(placed * (1 << SHIFT)).astype(np.int32)

    def stroke(self, points: Array, width: float, tone: int, closed: bool = False) -> None:
        """A polyline ``width`` mm wide."""
        thick = max(round(width * self.fine), 1)
        cv2.polylines(self.pixels, [self._places(points)], closed, (tone,), thick, cv2.LINE_AA, SHIFT)

    def line(self, points: Array, ink: Ink, closed: bool, filled: bool) -> None:
        if filled:
            cv2.fillPoly(self.pixels, [self._places(points)], (_tone(ink.colour),), cv2.LINE_AA, SHIFT)
        else:
            self.stroke(points, ink.width, _tone(ink.colour), closed)

    def arc(self, centre: Array, radius: float, start: float, sweep: float, ink: Ink, filled: str) -> None:
        points = polar(centre, radius, np.linspace(start, start + sweep, max(int(sweep / 3), 6)))
        self.stroke(points, ink.width, _tone(ink.colour))

    def dots(self, points: Array, radius: float, colour: str) -> None:
        for at in points:
            self.stroke(np.array([at, at]), 2 * radius, _tone(colour))

    def boxes(self, corners: Array, colour: str) -> None:
        for low, high in corners:
            four = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
            cv2.fillPoly(self.pixels, [self._places(four)], (_tone(colour),), cv2.LINE_AA, SHIFT)

    def path(self, segments: Array, ink: Ink, closed: bool) -> None:
        self.stroke(along_curve(segments, 8), ink.width, _tone(ink.colour), closed)

    def text(self, at: Array, words: str, size: float, anchor: float, turn: float, colour: str, bold: bool) -> None:
        if turn or not words:
            return
        from PIL import Image, ImageDraw

        font = _font(bold, max(round(size * self.fine), 4))
        left, top, right, bottom = font.getbbox(words, anchor="ls")
        mask = Image.new("L", (int(right - left) + 2, int(bottom - top) + 2), 0)
        ImageDraw.Draw(mask).text((-left, -top), words, 255, font, anchor="ls")
        x = round(float(at[0]) * self.fine - anchor * (right - left)) + int(left)
        y = round((self.height - float(at[1])) * self.fine) + int(top)
        letters = np.asarray(mask, dtype=float) / 255.0
        high, wide = letters.shape
        if x < 0 or y < 0 or y + high > len(self.pixels) or x + wide > self.pixels.shape[1]:
            return
        under = self.pixels[y : y + high, x : x + wide]
        under[:] = (under * (1 - letters) + _tone(colour) * letters).astype(np.uint8)


@lru_cache(maxsize=16)
def _font(bold: bool, size: int) -> Any:
    from PIL import ImageFont

    return ImageFont.truetype(str(font_file(bold)), size)


def _tone(colour: str) -> int:
    """The grey of a colour (ITU-R BT.601)."""
    red, green, blue = (int(colour[k : k + 2], 16) for k in (1, 3, 5))
    return round(0.299 * red + 0.587 * green + 0.114 * blue)


def printed(drawing: Drawing, fine: float) -> GreySurface:
    """A drawing as it comes from a printer, ``fine`` pixels to a mm."""
    surface = GreySurface(drawing.width, drawing.height, fine)
    drawing.put(surface)
    return surface
