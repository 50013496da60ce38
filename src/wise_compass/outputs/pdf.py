"""PDF at true scale with the type embedded; one page a sheet. The work is done by ReportLab."""

from __future__ import annotations

import io
import json
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from wise_compass.geometry.vectors import Array
from wise_compass.sheet.drawing import Drawing
from wise_compass.sheet.inks import Ink
from wise_compass.sheet.lettering import FAMILY, font_file, with_signs
from wise_compass.sheet.tiles import Layer, pages_of

POINTS = 72 / 25.4
"""Points in a millimetre."""


class PdfSurface:
    """Puts primitives on the current page of a ReportLab canvas, whose unit is made the millimetre."""

    def __init__(self, canvas: Any) -> None:
        self.canvas = canvas
        self._ink: Ink | None = None
        self._filled = ""

    def begin(self) -> None:
        """Nothing is known of the canvas's state: a page or a layer begins."""
        self._ink, self._filled = None, ""

    def _pen(self, ink: Ink) -> None:
        if ink is self._ink:
            return
        self._ink = ink
        self.canvas.setStrokeColor(_colour(ink.colour))
        self.canvas.setLineWidth(ink.width)
        self.canvas.setDash(*(list(ink.dashes), 0) if ink.dashes else ([], 0))

    def _fill(self, colour: str) -> None:
        if colour != self._filled:
            self._filled = colour
            self.canvas.setFillColor(_colour(colour))

    def line(self, points: Array, ink: Ink, closed: bool, filled: bool) -> None:
        self._pen(ink)
        path = self.canvas.beginPath()
        path.moveTo(*map(float, points[0]))
        for p in points[1:]:
            path.lineTo(*map(float, p))
        if closed:
            path.close()
        if filled:
            self._fill(ink.colour)
        self.canvas.drawPath(path, stroke=0 if filled and not ink.edged else 1, fill=1 if filled else 0)

    def arc(self, centre: Array, radius: float, start: float, sweep: float, ink: Ink, filled: str) -> None:
        self._pen(ink)
        x, y = map(float, centre)
        if filled:
            self._fill(ink.colour if filled == "ring" else filled)
        if sweep >= 360:
            self.canvas.circle(x, y, radius, stroke=1, fill=1 if filled else 0)
        elif sweep:  # of an arc that a slip has left without length nothing is seen, and its curve has no formula
            path = self.canvas.beginPath()
            path.arc(x - radius, y - radius, x + radius, y + radius, start, sweep)
            self.canvas.drawPath(path, stroke=1, fill=0)

    def dots(self, points: Array, radius: float, colour: str) -> None:
        """Lines without length, whose ends are round (ISO 32000, 8.4.3.3)."""
        canvas = self.canvas
        canvas.saveState()
        canvas.setStrokeColor(_colour(colour))
        canvas.setLineWidth(2 * radius)
        canvas.setLineCap(1)
        path = canvas.beginPath()
        for x, y in points.tolist():
            path.moveTo(x, y)
            path.lineTo(x, y)
        canvas.drawPath(path, stroke=1, fill=0)
        canvas.restoreState()

    def boxes(self, corners: Array, colour: str) -> None:
        self._fill(colour)
        path = self.canvas.beginPath()
        for (left, low), (right, high) in corners.tolist():
            path.rect(left, low, right - left, high - low)
        self.canvas.drawPath(path, stroke=0, fill=1)

    def path(self, segments: Array, ink: Ink, closed: bool) -> None:
        self._pen(ink)
        path = self.canvas.beginPath()
        path.moveTo(*map(float, segments[0, 0]))
        for segment in segments:
            path.curveTo(*map(float, segment[1:].ravel()))
        if closed:
            path.close()
        self.canvas.drawPath(path, stroke=1, fill=0)

    def text(self, at: Array, words: str, size: float, anchor: float, turn: float, colour: str, bold: bool) -> None:
        canvas = self.canvas
        draw = {0.0: canvas.drawString, 0.5: canvas.drawCentredString, 1.0: canvas.drawRightString}[anchor]
        self._fill(colour)
        canvas.setFont(FAMILY + (" Bold" if bold else ""), size)
        if not turn:
            draw(*map(float, at), with_signs(words))
            return
        canvas.saveState()
        canvas.translate(*map(float, at))
        canvas.rotate(float(turn))
        draw(0, 0, with_signs(words))
        canvas.restoreState()


@lru_cache(maxsize=256)
def _colour(name: str) -> Any:
    """A colour as ReportLab has it: it reads its name anew each time otherwise."""
    from reportlab.lib.colors import toColor

    return toColor(name)


def register_fonts() -> None:
    """Have PDFs know the shipped type, upright and bold."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    bold = f"{FAMILY} Bold"
    for name in (FAMILY, bold):
        pdfmetrics.registerFont(TTFont(name, str(font_file(name == bold))))
    pdfmetrics.registerFontFamily(FAMILY, FAMILY, bold, FAMILY, bold)


def pdf_bytes(drawings: Sequence[Drawing], title: str = "", clean: bool = False, tiles: str = "") -> bytes:
    """The drawings as pages of one PDF; what they show is kept as JSON in the document's subject.

    With ``tiles``, the name of a paper, a sheet that is larger is parted over several pages of it, after a map of them.
    """
    from reportlab import rl_config
    from reportlab.pdfgen.canvas import Canvas

    rl_config.useA85 = 0  # streams are bytes: told in letters they are a quarter longer, and take their time
    register_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1)
    canvas.setTitle(title or "Wise Compass")
    canvas.setCreator("Wise Compass")
    canvas.setSubject(json.dumps([drawing.about for drawing in drawings], ensure_ascii=True))
    surface = PdfSurface(canvas)
    for drawing in drawings:
        for page in pages_of(drawing, tiles):
            canvas.setPageSize((page.width * POINTS, page.height * POINTS))
            canvas.scale(POINTS, POINTS)
            canvas.setLineJoin(1)
            for layer in page.layers:
                _put(canvas, surface, layer, clean)
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _put(canvas: Any, surface: PdfSurface, layer: Layer, clean: bool) -> None:
    canvas.saveState()
    if layer.window is not None:
        low, high = layer.window
        window = canvas.beginPath()
        window.rect(*low.tolist(), *(high - low).tolist())
        canvas.clipPath(window, stroke=0)
    surface.begin()
    canvas.translate(*layer.origin.tolist())
    canvas.scale(layer.scale, layer.scale)
    layer.content.put(surface, clean)
    canvas.restoreState()
