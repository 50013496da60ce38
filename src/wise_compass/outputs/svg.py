"""SVG 1.1 in millimetres, with real arcs; carries what it shows as metadata, so that it can be opened again."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from html import escape as escape_all
from html import unescape

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import Array, polar
from wise_compass.sheet.drawing import Drawing
from wise_compass.sheet.inks import Ink
from wise_compass.sheet.lettering import FAMILY

NAMESPACE = "urn:wise-compass:sheet"
LARGEST = 20_000_000


NO_XML = re.compile("[^\t\n\r -\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Signs that XML 1.0 has no room for."""


def escape(words: str) -> str:
    """Words as the content of an element."""
    return escape_all(NO_XML.sub("\ufffd", words), quote=False)


def _n(value: float) -> str:
    return (
        f"{value:.5f}".rstrip("0").rstrip(".").replace("-0", "0")
        if abs(value) < 5e-6
        else (f"{value:.5f}".rstrip("0").rstrip("."))
    )


class SvgSurface:
    """Writes primitives as SVG elements; y is turned downward."""

    def __init__(self, height: float) -> None:
        self.height = height
        self.parts: list[str] = []

    def _xy(self, at: Array) -> str:
        return f"{_n(float(at[0]))} {_n(self.height - float(at[1]))}"

    def _pen(self, ink: Ink, filled: str = "none") -> str:
        dashes = f' stroke-dasharray="{" ".join(map(_n, ink.dashes))}"' if ink.dashes else ""
        return f'fill="{filled}" stroke="{ink.colour}" stroke-width="{_n(ink.width)}"{dashes}'

    def line(self, points: Array, ink: Ink, closed: bool, filled: bool) -> None:
        course = "M" + " L".join(self._xy(p) for p in points) + (" Z" if closed else "")
        pen = self._pen(ink, ink.colour if filled else "none")
        if filled and not ink.edged:
            pen = f'fill="{ink.colour}" stroke="none"'
        self.parts.append(f'<path d="{course}" {pen}/>')

    def arc(self, centre: Array, radius: float, start: float, sweep: float, ink: Ink, filled: str) -> None:
        fill = ink.colour if filled == "ring" else filled or "none"
        r = _n(radius)
        if sweep >= 360:
            x, y = self._xy(centre).split()
            self.parts.append(f'<circle cx="{x}" cy="{y}" r="{r}" {self._pen(ink, fill)}/>')
            return
        begin, end = polar(centre, radius, start), polar(centre, radius, start + sweep)
        large = 1 if sweep > 180 else 0
        self.parts.append(f'<path d="M{self._xy(begin)} A{r} {r} 0 {large} 0 {self._xy(end)}" {self._pen(ink)}/>')

    def dots(self, points: Array, radius: float, colour: str) -> None:
        """Lines without length, whose ends are round."""
        course = " ".join(f"M{self._xy(at)}h0" for at in points)
        pen = f'fill="none" stroke="{colour}" stroke-width="{_n(2 * radius)}" stroke-linecap="round"'
        self.parts.append(f'<path d="{course}" {pen}/>')

    def boxes(self, corners: Array, colour: str) -> None:
        course = " ".join(
            f"M{self._xy(np.array([left, high]))}h{_n(right - left)}v{_n(high - low)}h{_n(left - right)}z"
            for (left, low), (right, high) in corners.tolist()
        )
        self.parts.append(f'<path d="{course}" fill="{colour}" stroke="none"/>')

    def path(self, segments: Array, ink: Ink, closed: bool) -> None:
        course = (
            "M"
            + self._xy(segments[0, 0])
            + "".join(" C" + " ".join(self._xy(p) for p in segment[1:]) for segment in segments)
            + (" Z" if closed else "")
        )
        self.parts.append(f'<path d="{course}" {self._pen(ink)}/>')

    def text(self, at: Array, words: str, size: float, anchor: float, turn: float, colour: str, bold: bool) -> None:
        where = {0.0: "start", 0.5: "middle", 1.0: "end"}[anchor]
        x, y = self._xy(at).split()
        spin = f' transform="rotate({_n(-turn)} {x} {y})"' if turn else ""
        weight = ' font-weight="bold"' if bold else ""
        self.parts.append(
            f'<text x="{x}" y="{y}" font-size="{_n(size)}" text-anchor="{where}" fill="{colour}"'
            f"{weight}{spin}>{escape(words)}</text>"
        )


def svg_text(drawing: Drawing, clean: bool = False) -> str:
    """The drawing as an SVG document."""
    surface = SvgSurface(drawing.height)
    drawing.put(surface, clean)
    width, height = _n(drawing.width), _n(drawing.height)
    ground = f'<rect width="{width}" height="{height}" fill="#FFFFFF"/>'
    return "\n".join([*_head(drawing), ground, *surface.parts, "</svg>", ""])


def layered_svg(drawing: Drawing, layers: Sequence[str]) -> str:
    """A drawing whose items stand in so many layers, each a group of that name and nothing outside them: for a machine
    that cuts."""
    groups = []
    for layer in layers:
        surface = SvgSurface(drawing.height)
        for item in drawing.items:
            if item.layer == layer:
                item.put(surface)
        groups += [f'<g id="{layer}">', *surface.parts, "</g>"]
    return "\n".join([*_head(drawing), *groups, "</svg>", ""])


def _head(drawing: Drawing) -> list[str]:
    width, height = _n(drawing.width), _n(drawing.height)
    told = json.dumps(drawing.about, ensure_ascii=False)
    about = escape(NO_XML.sub(lambda sign: f"\\u{ord(sign[0]):04x}", told))  # as JSON has it, so that it is read back
    return [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}" '
        f'font-family="{FAMILY}, sans-serif" stroke-linejoin="round" stroke-linecap="butt">',
        f'<metadata><sheet xmlns="{NAMESPACE}">{about}</sheet></metadata>',
    ]


def read_about(text: str) -> dict[str, object]:
    """The metadata of an SVG that this program wrote; raises :class:`Refused` for any other file."""
    found = re.search(rf'<sheet xmlns="{re.escape(NAMESPACE)}">(.*?)</sheet>', text[:LARGEST], re.DOTALL)
    try:
        about = json.loads(unescape(found.group(1))) if found else None
    except ValueError:
        about = None
    if not isinstance(about, dict):
        raise Refused("", "This SVG carries no Wise Compass sheet; open one that was drawn here, or a job file.")
    return about
