"""A drawing as PNG with its resolution set."""

from __future__ import annotations

import os

from PySide6.QtCore import QBuffer, QIODevice
from PySide6.QtGui import QGuiApplication, QImage, QPainter

from wise_compass.desk.paper.glass import Glass
from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.theme import load_fonts
from wise_compass.drafting.refusals import Refused
from wise_compass.sheet.drawing import Drawing

MOST_PIXELS = 300_000_000


def png_bytes(drawing: Drawing, clean: bool = False, dpi: int = 300) -> bytes:
    """A drawing as PNG; raises :class:`Refused` for a picture too large."""
    zoom = dpi / 25.4
    width, height = round(drawing.width * zoom), round(drawing.height * zoom)
    if width * height > MOST_PIXELS:
        fits = int(dpi * (MOST_PIXELS / (width * height)) ** 0.5)
        raise Refused(
            "dpi", f"At {dpi} dpi this sheet is {width} × {height} pixels, too many; take dpi {fits} or less."
        )
    app = QGuiApplication.instance()
    if app is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        app = QGuiApplication(["wise-compass"])
    load_fonts()
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    image.setDotsPerMeterX(round(dpi / 0.0254))
    image.setDotsPerMeterY(round(dpi / 0.0254))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    drawing.put(PainterSurface(painter, Glass(zoom, 0.0, 0.0, drawing.height), least=1.0), clean)
    painter.end()
    out = QBuffer()
    out.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(out, "PNG")  # type: ignore[call-overload]  # the binding takes words where its stubs tell bytes
    return bytes(out.data().data())
