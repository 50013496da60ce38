"""A drawing as PNG with its resolution set."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtGui import QGuiApplication, QImage, QPainter

from wise_compass.desk.surface import PainterSurface
from wise_compass.desk.theme import load_fonts
from wise_compass.drafting.refusals import Refused
from wise_compass.sheet.drawing import Drawing

MOST_PIXELS = 300_000_000


def write_png(path: Path, drawing: Drawing, dpi: int = 300, clean: bool = False) -> None:
    """Write a drawing as PNG; raises :class:`Refused` for a picture too large or a place that cannot be written."""
    zoom = dpi / 25.4
    width, height = round(drawing.width * zoom), round(drawing.height * zoom)
    if width * height > MOST_PIXELS:
        fits = int(dpi * (MOST_PIXELS / (width * height)) ** 0.5)
        raise Refused("dpi", f"At {dpi} dpi this sheet is {width} × {height} pixels, too many; take dpi {fits} or less.")
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
    drawing.put(PainterSurface(painter, zoom, 0.0, 0.0, drawing.height, least=1.0), clean)
    painter.end()
    if not image.save(str(path), "PNG"):
        raise Refused("out", f"{path} cannot be written. Choose another place.")
