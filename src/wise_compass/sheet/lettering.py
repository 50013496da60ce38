"""Lettering: the shipped type and the room that words take, known without any toolkit.

``fonts/metrics.json`` holds the advance of every sign of both weights, read from the fonts themselves; a test holds it
against them.
"""

from __future__ import annotations

import json
from functools import cache, lru_cache
from pathlib import Path

from wise_compass.drafting.wording import Style

FONTS = Path(__file__).parent.parent / "fonts"
FAMILY = "Wrenfold Sans"
CAP_HEIGHT = 0.7
DESCENT = 0.21
TEXT, SMALL, TITLE = 5.0, 3.6, 5.0
"""Sizes to the em in mm: capitals of 3.5 mm and 2.5 mm (ISO 3098-1)."""
LARGER = TEXT * 5.0 / 3.5
"""Of the letters and figures of drawings that are wanted a step larger: capitals of 5 mm."""


def text_size(style: Style) -> float:
    """Of the letters and figures of drawings, mm to the em."""
    return LARGER if style.larger else TEXT


def font_file(bold: bool = False) -> Path:
    """The file of a weight."""
    return FONTS / f"WrenfoldSans-{'Bold' if bold else 'Regular'}.ttf"


@cache
def _advances() -> dict[str, dict[str, float]]:
    data = json.loads((FONTS / "metrics.json").read_text("utf-8"))
    em = data["units_per_em"]
    return {
        weight: {sign: advance / em for sign, advance in table.items()} for weight, table in data["advances"].items()
    }


def text_width(words: str, size: float, bold: bool = False) -> float:
    """Width in mm of words at a size."""
    return size * _advance(words, bold)


@lru_cache(maxsize=4096)
def _advance(words: str, bold: bool) -> float:
    table = _advances()["bold" if bold else "regular"]
    return sum(table.get(sign, 0.6) for sign in words)


def lacking(words: str) -> str:
    """The signs of words that the shipped type has none for, each once.

    >>> lacking("Mill 風車, 風"), lacking("Ø 3½ mm, A′")
    ('風車', '')
    """
    return "".join(dict.fromkeys(sign for sign in words if not sign.isspace() and sign not in _advances()["regular"]))


def with_signs(words: str) -> str:
    """Words with every sign that the type lacks shown as a question mark, for a surface that has no other type to turn
    to."""
    return "".join("?" if sign in lacking(words) else sign for sign in words) if lacking(words) else words


def fitted(words: str, size: float, room: float) -> str:
    """Words shortened to the room they have."""
    if text_width(words, size, True) <= room:
        return words
    low, high = 0, len(words)
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (
            (middle, high) if text_width(words[:middle].rstrip() + "…", size, True) <= room else (low, middle - 1)
        )
    return words[:low].rstrip() + "…" if low else ""
