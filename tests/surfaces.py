"""Independent readers of what was written: an SVG and a PDF turned into ink on a grid, without the code that wrote
them."""

from __future__ import annotations

import io
import math
import os
import re
import xml.etree.ElementTree as ElementTree
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from pypdf import PdfReader
from pypdf.generic import ContentStream
from PySide6.QtCore import QByteArray, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QTransform
from PySide6.QtSvg import QSvgRenderer

from wise_compass.desk.parts.theme import application

DPI = 100.0
SVG = "{http://www.w3.org/2000/svg}"


def blank(width_mm: float, height_mm: float) -> QImage:
    application()
    image = QImage(round(width_mm / 25.4 * DPI), round(height_mm / 25.4 * DPI), QImage.Format.Format_Grayscale8)
    image.fill(255)
    return image


def ink(image: QImage) -> np.ndarray:
    """Darkness from 0 to 1, shape (rows, columns)."""
    image = image.convertToFormat(QImage.Format.Format_Grayscale8)
    rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
    return 1.0 - rows[:, : image.width()] / 255.0


def svg_ink(text: str, width_mm: float, height_mm: float) -> np.ndarray:
    """The ink of an SVG, its lettering left out."""
    root = ElementTree.fromstring(text)
    for parent in root.iter():
        for child in list(parent):
            if child.tag == f"{SVG}text":
                parent.remove(child)
    renderer = QSvgRenderer(QByteArray(ElementTree.tostring(root)))
    image = blank(width_mm, height_mm)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    renderer.render(painter)
    painter.end()
    return ink(image)


def pdf_ink(content: bytes, page: int = 0) -> np.ndarray:
    """The ink of a PDF's page, its lettering left out: a small interpreter of the operators of paths."""
    reader = PdfReader(io.BytesIO(content))
    sheet = reader.pages[page]
    width, height = (float(x) * 25.4 / 72 for x in (sheet.mediabox.width, sheet.mediabox.height))
    image = blank(width, height)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    state = _State()
    stack: list[_State] = []
    scale = DPI / 72
    painter.setTransform(QTransform(scale, 0, 0, -scale, 0, image.height()))
    for operands, operator in ContentStream(sheet.get_contents(), reader).operations:
        _operate(painter, state, stack, operator.decode(), [_plain(x) for x in operands])
        if operator == b"q":
            stack.append(state.copy())
        elif operator == b"Q":
            state = stack.pop()
    painter.end()
    return ink(image)


def _plain(x: Any) -> Any:
    try:
        return float(x)
    except (TypeError, ValueError):
        return [float(v) for v in x] if isinstance(x, list) and all(isinstance(v, (int, float)) for v in x) else x


class _State:
    """What PDF calls the graphics state, as far as lines need it."""

    def __init__(self) -> None:
        self.matrix = QTransform()
        self.stroke, self.fill = QColor("black"), QColor("black")
        self.width, self.dashes = 1.0, []  # type: ignore[var-annotated]
        self.path = QPainterPath()

    def copy(self) -> _State:
        other = _State()
        other.matrix, other.stroke, other.fill = QTransform(self.matrix), QColor(self.stroke), QColor(self.fill)
        other.width, other.dashes = self.width, list(self.dashes)
        return other


def _operate(painter: QPainter, state: _State, stack: list[_State], name: str, n: list[Any]) -> None:
    path = state.path
    if name == "cm":
        state.matrix = QTransform(*n[:4], n[4], n[5]) * state.matrix
    elif name == "w":
        state.width = n[0]
    elif name == "d":
        state.dashes = list(n[0])
    elif name in ("RG", "rg"):
        colour = QColor.fromRgbF(*n[:3])
        state.stroke, state.fill = (colour, state.fill) if name == "RG" else (state.stroke, colour)
    elif name == "m":
        path.moveTo(QPointF(*n))
    elif name == "l":
        path.lineTo(QPointF(*n))
    elif name == "c":
        path.cubicTo(QPointF(*n[:2]), QPointF(*n[2:4]), QPointF(*n[4:]))
    elif name == "re":
        path.addRect(*n)
    elif name == "h":
        path.closeSubpath()
    elif name in ("S", "s", "f", "f*", "B", "B*", "n"):
        _paint(painter, state, name)


def _paint(painter: QPainter, state: _State, name: str) -> None:
    placed = state.matrix.map(state.path)
    size = math.sqrt(abs(state.matrix.determinant()))
    if name[0] in "fB":
        painter.fillPath(placed, state.fill)
    if name[0] in "SsB":
        pen = QPen(
            state.stroke, state.width * size, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.RoundJoin
        )
        if state.dashes:
            pen.setDashPattern([d / state.width for d in state.dashes])
        painter.strokePath(placed, pen)
    state.path = QPainterPath()


def without_text(drawing: Any) -> Any:
    """A drawing of the same items but its lettering."""
    from wise_compass.sheet.drawing import Drawing, Text

    return Drawing(drawing.width, drawing.height, [item for item in drawing.items if not isinstance(item, Text)])


def numbers_in(words: str) -> list[float]:
    """The numbers of a text, minus signs of either kind obeyed."""
    return [float(x.replace("−", "-")) for x in re.findall(r"[−-]?\d+(?:\.\d+)?", words)]


def blurred(image: np.ndarray, reach: int = 1) -> np.ndarray:
    """The darkest ink within ``reach`` pixels, so that a line half a pixel off is still the same line."""
    padded = np.pad(image, reach)
    out = np.zeros_like(image)
    for i in range(2 * reach + 1):
        for j in range(2 * reach + 1):
            out = np.maximum(out, padded[i : i + image.shape[0], j : j + image.shape[1]])
    return out


def pdf_lines(content: bytes, page: int = 0) -> list[np.ndarray]:
    """Every straight line of a PDF's page as its corners on the page in mm, (n, 2), whether it is clipped away or
    not."""
    reader = PdfReader(io.BytesIO(content))
    matrix, stack = QTransform(), []
    found: list[np.ndarray] = []
    at: list[QPointF] = []
    for operands, operator in ContentStream(reader.pages[page].get_contents(), reader).operations:
        name, n = operator.decode(), [_plain(x) for x in operands]
        if name == "q":
            stack.append(QTransform(matrix))
        elif name == "Q":
            matrix = stack.pop()
        elif name == "cm":
            matrix = QTransform(*n) * matrix
        elif name in ("m", "l"):
            if name == "m":
                at = []
            at.append(matrix.map(QPointF(*n)))
        elif name in ("S", "s") and len(at) > 1:
            found.append(np.array([[p.x(), p.y()] for p in at]) * 25.4 / 72)
            at = []
    return found
