"""What is copied: a drawing as SVG, picture and words, values and tables as text that a spreadsheet takes in
columns."""

from __future__ import annotations

from PySide6.QtCore import QMimeData
from PySide6.QtGui import QGuiApplication, QImage

from wise_compass.desk.paper.raster import png_bytes
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.outputs.svg import svg_text
from wise_compass.sheet.drawing import Drawing
from wise_compass.study.tables import Table

DPI = 150


def copy_text(words: str) -> None:
    """Put words on the clipboard."""
    QGuiApplication.clipboard().setText(words)


def copy_drawing(drawing: Drawing, words: str, clean: bool) -> None:
    """Put a drawing there: as SVG at true size, as a picture for what takes none, and what it shows in words."""
    data = QMimeData()
    data.setData("image/svg+xml", svg_text(drawing, clean).encode("utf-8"))
    data.setImageData(QImage.fromData(png_bytes(drawing, clean, DPI)))
    data.setText(words)
    QGuiApplication.clipboard().setMimeData(data)


def values_text(made: Run, style: Style) -> str:
    """A line a value: its name, and its number or numbers with their unit, in columns."""
    lines = []
    for value in made.values:
        rows = value.value if isinstance(value.value, list) else [value.value]
        lines.append("\t".join([value.name, *(style.value(one, value.unit) for one in rows)]))
    return "\n".join(lines) + "\n"


def table_text(table: Table) -> str:
    """A table in columns, its heads with their units first."""
    heads = [f"{name} ({unit})" if unit else name for name, unit in zip(table.columns, table.units)]
    return "\n".join("\t".join(row) for row in [heads, *table.texts()]) + "\n"
