"""A drawing as PNG with its resolution set."""

from __future__ import annotations

import os
import struct
import zlib
from collections.abc import Iterable, Iterator

import numpy as np
from PySide6.QtGui import QGuiApplication, QImage, QPainter

from wise_compass.desk.paper.surface import PainterSurface
from wise_compass.desk.parts.glass import Glass
from wise_compass.desk.parts.theme import load_fonts
from wise_compass.drafting.refusals import Refused
from wise_compass.sheet.drawing import Drawing

MOST_PIXELS = 300_000_000
BAND = 20_000_000
"""Pixels that are drawn at a time."""


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
    return _png(width, height, dpi, (_band(drawing, clean, zoom, width, rows) for rows in _bands(width, height)))


def _bands(width: int, height: int) -> Iterator[range]:
    """The rows of a picture, as many at a time as memory is given for."""
    deep = max(BAND // width, 1)
    return (range(top, min(top + deep, height)) for top in range(0, height, deep))


def _band(drawing: Drawing, clean: bool, zoom: float, width: int, rows: range) -> bytes:
    """A band of the picture, three bytes a pixel, each row after the sign that it is not filtered."""
    image = QImage(width, len(rows), QImage.Format.Format_RGB888)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(0, -rows.start)
    drawing.put(PainterSurface(painter, Glass(zoom, 0.0, 0.0, drawing.height), least=1.0), clean)
    painter.end()
    pixels = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(len(rows), image.bytesPerLine())
    return np.pad(pixels[:, : 3 * width], ((0, 0), (1, 0))).tobytes()


def _png(width: int, height: int, dpi: int, bands: Iterable[bytes]) -> bytes:
    """A PNG (ISO 15948) of rows that come band by band, so that no large picture is ever whole in memory."""
    packed = zlib.compressobj(6)
    content = b"".join(packed.compress(band) for band in bands) + packed.flush()
    dots = round(dpi / 0.0254)
    chunks = (
        (b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)),
        (b"pHYs", struct.pack(">IIB", dots, dots, 1)),
        (b"IDAT", content),
        (b"IEND", b""),
    )
    told = (
        struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data)) for kind, data in chunks
    )
    return b"\x89PNG\r\n\x1a\n" + b"".join(told)
