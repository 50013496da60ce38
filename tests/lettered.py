"""What stands on what in a drawing as it was written: lettering on lettering, and dark lines through lettering, read
from the SVG."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from typing import NamedTuple
from xml.etree import ElementTree

import numpy as np
from shapely import LineString, Polygon
from shapely.strtree import STRtree

from wise_compass.sheet.lettering import text_width

SVG = "{http://www.w3.org/2000/svg}"
DARK = "#1F2A30"
CAP = 0.7
"""Of the size of lettering: how high its capitals and figures stand."""
ROOM = 0.12
"""mm by which lettering may be touched."""


class Clash(NamedTuple):
    """Two words that lie on each other, or a word and what crosses it."""

    words: str
    other: str

    def __str__(self) -> str:
        return f"“{self.words}” on {self.other}"


def clashes(svg: str) -> list[Clash]:
    """Everything in a drawing that makes some of its lettering hard to read."""
    root = ElementTree.fromstring(svg)
    letters = [
        (element.text or "", _box(element)) for element in root.iter(f"{SVG}text") if (element.text or "").strip()
    ]
    lines = list(_dark(root))
    found = []
    tree = STRtree([box for _, box in letters])
    for k, (words, box) in enumerate(letters):
        for j in tree.query(box).tolist():
            if j > k and box.intersection(letters[j][1]).area > 0.05:
                found.append(Clash(words, f"“{letters[j][0]}”"))
    over = STRtree(lines)
    for words, box in letters:
        if any(lines[j].intersection(box).length > 0.2 for j in over.query(box).tolist()):
            found.append(Clash(words, "a dark line"))
    return found


def _box(element: ElementTree.Element) -> Polygon:
    x, y, size = (float(element.get(name) or 0) for name in ("x", "y", "font-size"))
    words = element.text or ""
    wide = text_width(words, size, element.get("font-weight") == "bold")
    left = x - wide * {"start": 0.0, "middle": 0.5, "end": 1.0}[element.get("text-anchor") or "start"]
    box = Polygon(
        [
            (left + ROOM, y - ROOM),
            (left + wide - ROOM, y - ROOM),
            (left + wide - ROOM, y - CAP * size + ROOM),
            (left + ROOM, y - CAP * size + ROOM),
        ]
    )
    turned = re.match(r"rotate\((\S+)", element.get("transform") or "")
    if turned is None:
        return box
    a = math.radians(float(turned[1]))
    at = np.array(box.exterior.coords) - [x, y]
    return Polygon(at @ np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]]) + [x, y])


def _dark(root: ElementTree.Element) -> Iterator[LineString]:
    """Outlines: the dark strokes of paths and circles that are not filled."""
    for element in root.iter():
        if (
            element.get("stroke") != DARK
            or float(element.get("stroke-width") or 0) < 0.3
            or element.get("fill") != "none"
        ):
            continue
        if element.tag == f"{SVG}circle":
            x, y, r = (float(element.get(name) or 0) for name in ("cx", "cy", "r"))
            t = np.linspace(0, 2 * np.pi, 97)
            yield LineString(np.stack([x + r * np.cos(t), y + r * np.sin(t)], axis=1))
        elif element.tag == f"{SVG}path":
            yield from _strokes(element.get("d") or "")


def _strokes(d: str) -> Iterator[LineString]:
    at: list[tuple[float, float]] = []
    for sign, inside in re.findall(r"([MLACZ])([^MLACZ]*)", d):
        n = [float(part) for part in inside.split()]
        if sign == "M":
            if len(at) > 1:
                yield LineString(at)
            at = [(n[0], n[1])]
        elif sign == "L":
            at.append((n[0], n[1]))
        elif sign == "C":
            for k in range(0, len(n), 6):
                p = np.array([at[-1], *zip(n[k : k + 6 : 2], n[k + 1 : k + 6 : 2])])
                for t in np.linspace(0, 1, 9)[1:]:
                    s = 1 - t
                    q = s**3 * p[0] + 3 * s * s * t * p[1] + 3 * s * t * t * p[2] + t**3 * p[3]
                    at.append((float(q[0]), float(q[1])))
        elif sign == "A":
            at += _arc(at[-1], n)
        elif sign == "Z":
            at.append(at[0])
    if len(at) > 1:
        yield LineString(at)


def _arc(start: tuple[float, float], n: list[float]) -> list[tuple[float, float]]:
    """The chords of a circular arc as SVG has it: radius, which of the two, and the end."""
    r, large, sweep, end = n[0], bool(n[3]), bool(n[4]), (n[5], n[6])
    half = math.dist(start, end) / 2
    if half < 1e-9:
        return [end]
    r = max(r, half)
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    off = math.sqrt(max(r * r - half * half, 0.0)) / (2 * half)
    way = -1 if large == sweep else 1
    hub = (middle[0] - way * off * (end[1] - start[1]) * 1, middle[1] + way * off * (end[0] - start[0]))
    first = math.atan2(start[1] - hub[1], start[0] - hub[0])
    last = math.atan2(end[1] - hub[1], end[0] - hub[0])
    turn = (last - first) % (2 * math.pi) if sweep else -((first - last) % (2 * math.pi))
    return [
        (hub[0] + r * math.cos(first + turn * k / 24), hub[1] + r * math.sin(first + turn * k / 24))
        for k in range(1, 25)
    ]
