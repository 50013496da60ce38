"""A statement in small letters, without what a question paper says beside the problem.

Folding keeps the length of the text, so that every span points into what was pasted.
"""

from __future__ import annotations

import re
from typing import NamedTuple

SAME = str.maketrans(
    {
        "″": '"', "”": '"', "“": '"', "′": "'", "’": "'", "‘": "'", "–": "-", "—": "-", "−": "-", "×": "x", "º": "°",
        "\n": " ", "\t": " ", "\r": " ", "\u00a0": " ", "ç": "c", "é": "e", "è": "e",
    }
)  # fmt: skip
NOISE = [
    re.compile(pattern)
    for pattern in (
        r"^\s*(?:q(?:uestion)?\.?\s*\d+\s*[.):]?|\d+\s*[.)])\s",
        r"[\[(]\s*\d+\s*(?:marks?)?\s*[\])]\s*$",
        r"\[\s*\d+\s*marks?\s*\]",
        r"\b\d*h\s+pencils?\b",
        r"(?<=\b[a-z])_?[\d₁-₉](?=\s*=)",
        r"divisions?\s+1\s+to\s+\d+",
        r"number the (?:divisions?|points?)(?:\s+1)?(?:\s+to\s+\d+)?",
        r"\b(?:first|third)[\s-]angle(?:\s+projection)?",
        r"\b(?:full|half)\s+size\b|\ball (?:dimensions|sizes) (?:are )?in mm\b",
    )
]
"""What a question paper says beside the problem."""
SHARES = {
    "two thirds of": "twothird",
    "two-thirds of": "twothird",
    "one third of": "onethird",
    "a third of": "onethird",
    "three quarters of": "threequarter",
    "half of": "half",
}
_PAPER = re.compile(r"\b(?:on\s+(?:an?\s+)?)?(A[0-4])\b(?=\s*(?:sheet|paper))|\bon\s+(?:an?\s+)?(A[0-4])\b")
_INCHES = re.compile(
    r"\d\s*(?:\"|''|inch(?:es)?\b|in\.|in\b(?=\s*(?:$|[,;.)]|and\b|apart\b|long\b|high\b|wide\b|by\b|x\b)))"
)
_IN_WHAT = re.compile(r"(?<=\d )in(?= (?:diameter|dia|radius|length|height|depth|width)\b)")
"""Inches before what they measure, or what a bare number is a measure in."""
_SCALE = re.compile(
    r"\bscale(?:\s+of)?[\s:=]*(?:is\s+)?(\d+\s*:\s*\d+)|(?:\bat\s+)(?:a\s+scale\s+of\s+)?(1\s*:\s*\d+)"
    r"|(?<![\d:])(?<!ratio\s)(?<!ratio of\s)(1\s*:\s*(?:5|10|20|25|50|100|200|500))\b"
)
_SCALE_DRAWN = re.compile(
    r"\b(?:plain|diagonal|comparative|vernier|time|direct|retrograde)\b[\w\s]{0,24}\b(?:scale|vernier|division)"
    r"|\bscale\b[^.;]{0,16}\b(?:to\s+(?:read|show|measure|indicate))\b|\bvernier\b"
)
"""A scale that is itself to be drawn."""
_SHORT = re.compile(r"\b([Dd]iam?|[Rr]ad)\.(?=\s+[a-z\d])")
"""What is cut short, in the middle of a sentence."""


class Folded(NamedTuple):
    """The text in small letters, and the scale and the paper that were taken out of it; empty where none is told."""

    low: str
    scale: str
    paper: str


def folded(text: str) -> Folded:
    """The text in small letters, with scale, paper and what question papers say besides taken out of it.

    >>> folded("Draw a hexagon of 30 mm side, scale 1:2.")
    Folded(low='draw a hexagon of 30 mm side,          .', scale='1:2', paper='')
    """
    scale = paper = ""
    low = _SHORT.sub(r"\1 ", text.translate(SAME))
    if found := _PAPER.search(low):
        paper = found[1] or found[2]
        low = low[: found.start()] + _blank(found) + low[found.end() :]
    low = "".join(sign.lower() if len(sign.lower()) == 1 else sign for sign in low)
    if (found := _SCALE.search(low)) and not _SCALE_DRAWN.search(low):
        scale = re.sub(r"\s", "", found[1] or found[2] or found[3])
        low = low[: found.start()] + _blank(found) + low[found.end() :]
    for noise in NOISE:
        low = noise.sub(_blank, low)
    if _INCHES.search(low):  # what stands in inches beside others that do is no “in diameter”
        low = _IN_WHAT.sub('" ', low)
    for share, word in SHARES.items():
        shared = rf"\b{share}\b(?!\s+an?\s+(?:turn|rev|inch))"
        low = re.sub(shared, word.ljust(len(share)), low)
    return Folded(re.sub(r"\bfour[\s-](?:cent(?:re|er)s?|arcs?)\b", _four, low), scale, paper)


def _blank(found: re.Match[str]) -> str:
    return " " * len(found[0])


def _four(found: re.Match[str]) -> str:
    return ("fourcentre" if len(found[0]) >= len("fourcentre") else "fourarc").ljust(len(found[0]))
