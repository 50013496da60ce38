"""Profiles of lines and arcs: rows as a table has them, or a lever said in a sentence."""

from __future__ import annotations

import re

from wise_compass.drafting.named_rows import FORMS
from wise_compass.words.filled import Filled
from wise_compass.words.statement import Statement

_CELL = r"\s*[-\w.°]+\s*"
_ROW = re.compile(rf"\b({'|'.join(FORMS)})\s*,({_CELL}(?:,{_CELL})+)", re.IGNORECASE)
_PATH = re.compile(r"\bpath\b\s*:?((?:\s*[A-Za-z]\w*\s*,)+\s*[A-Za-z]\w*)")
_N = r"(\d+(?:\.\d+)?)(?:\s*mm)?"
_TWO = rf"\b[^.;]*?\b(rad(?:ius|ii)?|dia(?:meter)?s?)\s*(?:of\s*)?{_N}\s*and\s*{_N}"
_BOSSES = re.compile(rf"\b(?:bosses|ends|eyes|circles){_TWO}")
_APART = re.compile(rf"{_N}\s*(?:apart|between\s+(?:the\s+)?cent)")
_ARC = re.compile(rf"\barcs?\s+(?:of\s+)?(?:radius\s+)?(?:of\s+)?{_N}(?:\s+and\s+{_N})?")
_HOLES = re.compile(rf"\bholes{_TWO}")


def profile(statement: Statement, found: Filled, names: list[str]) -> None:
    """Rows and the path through them, in the letters that they are written in; open where a word says so."""
    text = statement.text
    rows, spans = [], []
    for row in _ROW.finditer(text):
        cells = [row[1].lower(), *(cell.strip() for cell in row[2].split(","))]
        rows.append(cells[: 2 + len(FORMS[cells[0]][0])])
        spans.append(row.span())
    if rows:
        found.put(names[0], [[_number(cell) for cell in row] for row in rows], (spans[0][0], spans[-1][1]), "place")
        found.taken.update(id(one) for one in statement.quantities)
    elif (lever := _lever(statement)) is not None:
        made, names_of_path = lever
        found.put(names[0], made, (0, len(text)), "place")
        found.put(names[1], names_of_path, (0, len(text)), "place")
        found.taken.update(id(one) for one in statement.quantities)
        return
    path = _PATH.search(text)
    if path is not None:
        found.put(names[1], [name.strip() for name in path[1].split(",")], path.span(), "place")


def _number(cell: str) -> object:
    """A cell as a number where it is one."""
    try:
        return float(cell)
    except ValueError:
        return cell


def _lever(statement: Statement) -> tuple[list[list[object]], list[str]] | None:
    """Two bosses so far apart with an arc on each side, or one above and a straight below; their holes in them."""
    low = statement.low
    bosses, apart, arcs = _BOSSES.search(low), _APART.search(low), _ARC.findall(low)
    hollow = [float(radius) for pair in arcs for radius in pair if radius]
    if bosses is None or apart is None or not 1 <= len(hollow) <= 2:
        return None
    span = float(apart[1])
    rows: list[list[object]] = [
        ["circle", name, x, 0.0, radius, "left"] for name, x, radius in zip("AB", (0.0, span), _radii(bosses))
    ]
    rows.append(["arc", "F", hollow[0], "right", "B", "A", "right"])
    rows.append(["arc", "G", hollow[1], "right", "A", "B", "right"] if hollow[1:] else ["tangent", "S", "A", "B"])
    if holes := _HOLES.search(low):
        rows += [["circle", name, x, 0.0, radius, "left"] for name, x, radius in zip("PQ", (0.0, span), _radii(holes))]
    return rows, ["A", str(rows[3][1]), "B", "F"]


def _radii(told: re.Match[str]) -> list[float]:
    """Two radii, as they are told or as the halves of diameters."""
    by = 2.0 if told[1].startswith("d") else 1.0
    return [float(told[2]) / by, float(told[3]) / by]
