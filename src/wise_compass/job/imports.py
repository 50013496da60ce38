"""Rows of numbers from elsewhere: pasted from a table, or the corners of a polyline in an SVG file."""

from __future__ import annotations

import re
from xml.etree import ElementTree

from wise_compass.drafting.refusals import Refused

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
LARGEST = 5_000_000


def rows_from_text(text: str) -> list[list[str]]:
    """Rows as pasted: a row a line, cells parted by tabs, semicolons or commas; a heading without digits is passed over."""
    rows = []
    for line in text.strip().splitlines():
        mark = "\t" if "\t" in line else ";" if ";" in line else ","
        cells = [cell.strip() for cell in line.split(mark)]
        while cells and not cells[-1]:
            cells.pop()
        if cells and any(ch.isdigit() for cell in cells for ch in cell):
            rows.append(cells)
    if not rows:
        raise Refused("", "There are no rows of numbers to paste; copy them from a table, a row a line.")
    return rows


def polyline_from_svg(text: str) -> list[list[str]]:
    """The corners of the first polyline, polygon or path of straight lines, in mm, y upward, the first at 0, 0."""
    if len(text) > LARGEST or "<!ENTITY" in text:
        raise Refused("", "This SVG is too large or refers elsewhere; save the polyline alone and read that.")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError:
        raise Refused("", "This file is no readable SVG; choose another.") from None
    scale = _scale(root)
    for element in root.iter():
        kind = element.tag.rpartition("}")[2]
        points: list[tuple[float, float]] = []
        if kind in ("polyline", "polygon"):
            numbers = [float(n) for n in _NUMBER.findall(element.get("points") or "")]
            points = list(zip(numbers[::2], numbers[1::2]))
        elif kind == "path":
            points = _path_points(element.get("d") or "")
        if len(points) >= 2:
            x0, y0 = points[0]
            return [[f"{(x - x0) * scale:.6g}", f"{(y0 - y) * scale:.6g}"] for x, y in points]
    raise Refused("", "This SVG has no polyline, nor a path of straight lines; draw one and read it again.")


def _scale(root: ElementTree.Element) -> float:
    """Millimetres of a user unit, from the width in millimetres and the view box; 1 where they are not given."""
    width = re.fullmatch(r"([\d.]+)\s*(mm|cm|in)", (root.get("width") or "").strip())
    box = [float(n) for n in _NUMBER.findall(root.get("viewBox") or "")]
    if not width or len(box) != 4 or box[2] <= 0:
        return 1.0
    return float(width.group(1)) * {"mm": 1.0, "cm": 10.0, "in": 25.4}[width.group(2)] / box[2]


def _path_points(course: str) -> list[tuple[float, float]]:
    """The corners of a path that has straight pieces alone; empty for any other."""
    points: list[tuple[float, float]] = []
    x = y = 0.0
    for command, rest in re.findall(r"([A-Za-z])([^A-Za-z]*)", course):
        if command.upper() not in "MLHVZ":
            return []
        numbers = [float(n) for n in _NUMBER.findall(rest)]
        relative = command.islower()
        if command.upper() in "ML":
            for dx, dy in zip(numbers[::2], numbers[1::2]):
                x, y = (x + dx, y + dy) if relative else (dx, dy)
                points.append((x, y))
        elif command.upper() in "HV":
            for n in numbers:
                if command.upper() == "H":
                    x = x + n if relative else n
                else:
                    y = y + n if relative else n
                points.append((x, y))
    return points
