"""Several problems in one text: numbered, as on a worksheet, or parted by blank lines."""

from __future__ import annotations

import re

_NUMBER = re.compile(r"^[ \t]*(?:q(?:uestion)?\.?[ \t]*)?\d{1,2}[.)][ \t]+(?=\S)", re.I | re.M)


def parted(text: str) -> list[str]:
    """The problems of a text, each without its number; one where it has no second.

    >>> parted("1. Bisect a line of 80 mm.\\n2. A square of side 40 mm,\\nin ink.")
    ['Bisect a line of 80 mm.', 'A square of side 40 mm,\\nin ink.']
    >>> parted("A cone.\\n\\nA prism.")
    ['A cone.', 'A prism.']
    """
    starts = [match.span() for match in _NUMBER.finditer(text)]
    if len(starts) > 1:
        ends = [start for start, _ in starts[1:]] + [len(text)]
        parts = [text[begin:end] for (_, begin), end in zip(starts, ends)]
    else:
        parts = re.split(r"\n[ \t]*\n", text)
    return [part.strip() for part in parts if part.strip()]
