"""Rows of numbers from elsewhere: pasted from a table, or the corners of a polyline in an SVG file."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from xml.etree import ElementTree

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import Array

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_COMMAND = re.compile(rf"([A-DF-Za-df-z])|({_NUMBER.pattern})")
_LENGTH = re.compile(rf"({_NUMBER.pattern})\s*(mm|cm|in|pt|pc|px|)")
UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "px": 25.4 / 96, "": 25.4 / 96}
"""Millimetres of a unit of length in SVG."""
LARGEST = 5_000_000


def rows_from_text(text: str) -> list[list[str]]:
    """Rows as pasted: a row a line, cells parted by tabs, semicolons or commas; a heading without digits is passed
    over."""
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


NOT_DRAWN = ("defs", "clipPath", "symbol", "marker", "pattern")
FARTHEST = 1e12
"""What a number of a transform is less than."""


def polyline_from_svg(text: str) -> list[list[str]]:
    """The corners of the first polyline, polygon or path of straight lines, in mm, y upward, the first at 0, 0.

    Transforms of the element and of the groups about it are obeyed; of a path with several pieces the first is read.
    """
    if len(text) > LARGEST or "<!ENTITY" in text:
        raise Refused("", "This SVG is too large or refers elsewhere; save the polyline alone and read that.")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError:
        raise Refused("", "This file is no readable SVG; choose another.") from None
    with np.errstate(over="ignore", invalid="ignore"):  # what lies beyond all numbers is told below
        return _first_polyline(root, _scale(root))


def _first_polyline(root: ElementTree.Element, scale: float) -> list[list[str]]:
    for element, matrix in _elements(root, np.eye(3)):
        kind = element.tag.rpartition("}")[2]
        points: list[tuple[float, float]] = []
        if kind in ("polyline", "polygon"):
            numbers = [float(n) for n in _NUMBER.findall(element.get("points") or "")]
            points = list(zip(numbers[::2], numbers[1::2]))
        elif kind == "path":
            points = _path_points(element.get("d") or "")
        if len(points) >= 2:
            placed = (matrix @ np.column_stack([points, np.ones(len(points))]).T)[:2].T * scale
            if not np.isfinite(placed).all():
                raise Refused("", "This SVG’s polyline lies beyond all numbers; draw it again and read that.")
            return [[f"{x:.6g}", f"{y:.6g}"] for x, y in (placed - placed[0]) * (1, -1) + 0.0]
    raise Refused("", "This SVG has no polyline, nor a path of straight lines; draw one and read it again.")


def _elements(element: ElementTree.Element, matrix: Array) -> Iterator[tuple[ElementTree.Element, Array]]:
    """Every element below with the transform that applies to it."""
    todo = [(element, matrix)]
    while todo:  # groups may stand in groups deeper than calls may in calls
        one, outer = todo.pop()
        own = outer @ _transform(one.get("transform") or "")
        yield one, own
        inner = [child for child in one if child.tag.rpartition("}")[2] not in NOT_DRAWN]
        todo += [(child, own) for child in reversed(inner)]


def _transform(words: str) -> Array:
    """The matrix of a transform attribute; raises :class:`Refused` for one that cannot be read."""
    matrix = np.eye(3)
    for name, inside in re.findall(r"(\w+)\s*\(([^)]*)\)", words):
        n = [float(x) for x in _NUMBER.findall(inside)]
        if not all(abs(x) < FARTHEST for x in n):
            raise Refused("", f"This SVG has a transform “{name}” beyond all numbers; save it without transforms.")
        try:
            matrix = matrix @ _matrix(name, n)
        except (IndexError, KeyError):
            raise Refused(
                "", f"This SVG has a transform “{name}” that cannot be read; save it without transforms."
            ) from None
    return matrix


def _matrix(name: str, n: list[float]) -> Array:
    turn = math.radians(n[0]) if name in ("rotate", "skewX", "skewY") else 0.0
    if name == "rotate" and len(n) > 2:
        about = np.array([[1, 0, n[1]], [0, 1, n[2]], [0, 0, 1.0]])
        return np.asarray(about @ _matrix("rotate", n[:1]) @ np.linalg.inv(about))
    rows: dict[str, Callable[[], tuple[float, ...]]] = {
        "matrix": lambda: (n[0], n[2], n[4], n[1], n[3], n[5]),
        "translate": lambda: (1, 0, n[0], 0, 1, n[1] if len(n) > 1 else 0),
        "scale": lambda: (n[0], 0, 0, 0, n[1] if len(n) > 1 else n[0], 0),
        "rotate": lambda: (math.cos(turn), -math.sin(turn), 0, math.sin(turn), math.cos(turn), 0),
        "skewX": lambda: (1, math.tan(turn), 0, 0, 1, 0),
        "skewY": lambda: (1, 0, 0, math.tan(turn), 1, 0),
    }
    row = rows[name]()
    return np.array([row[:3], row[3:], (0, 0, 1)], dtype=float)


def _scale(root: ElementTree.Element) -> float:
    """Millimetres of a user unit (SVG 2, 8): a pixel of 1/96 inch, or, with a view box, as much as the sizes that are
    given let it be at most; a millimetre where none is.

    Raises :class:`Refused` for a size or a view box that is no number.
    """
    words = (root.get("viewBox") or "").replace(",", " ").split()
    if not words:
        return UNITS["px"]
    box = [float(word) if _NUMBER.fullmatch(word) else math.nan for word in words]
    scales = []
    for name, k in (("width", 2), ("height", 3)):
        told = (root.get(name) or "").strip()
        if told and not told.endswith("%"):
            found = _LENGTH.fullmatch(told)
            size = float(found.group(1)) * UNITS[found.group(2)] if found else math.nan
            if not (len(box) == 4 and size > 0 and box[k] > 0 and math.isfinite(size / box[k])):
                raise Refused(
                    "", f"This SVG’s {name} “{told}” or its view box cannot be read; save it with a {name} in mm."
                )
            scales.append(size / box[k])
    return min(scales, default=1.0)


def _path_points(course: str) -> list[tuple[float, float]]:
    """The corners of the first piece of a path that has straight pieces alone; empty for any other."""
    points: list[tuple[float, float]] = []
    x = y = 0.0
    command = ""
    numbers: list[float] = []
    tokens = _COMMAND.findall(course)
    for name, number in [*tokens, ("", "")]:
        if number:
            numbers.append(float(number))
            continue
        if command:
            kind, relative = command.upper(), command.islower()
            if kind == "M" and points:
                return points
            if kind not in "MLHVZ":
                return []
            step = 2 if kind in "ML" else 1
            for k in range(0, len(numbers) - step + 1, step):
                dx, dy = (
                    (numbers[k], numbers[k + 1])
                    if step == 2
                    else (numbers[k], 0.0)
                    if kind == "H"
                    else (0.0, numbers[k])
                )
                if relative:
                    x, y = x + dx, y + dy
                else:
                    x, y = (dx, dy) if step == 2 else (dx, y) if kind == "H" else (x, dy)
                points.append((x, y))
        command, numbers = name, []
    return points
