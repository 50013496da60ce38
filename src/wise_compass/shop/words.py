"""What a shop is told of a pattern, row by row: for the desk's panel and for the command line."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from wise_compass.drafting.wording import PLAIN, Style, trim
from wise_compass.shop.shop import Shop
from wise_compass.shop.takings import Blank, TakingRows

BEYOND = "A plain count of one way round, edge to edge: leave what your tool takes away."


class ToldSize(NamedTuple):
    """One thing that is told: what it is, its figure, how it comes about, and the group that it opens."""

    title: str
    shown: str
    working: str = ""
    heading: str = ""


def told_of(shop: Shop, style: Style = PLAIN) -> Iterator[ToldSize]:
    """Blanks, lengths, weight and counts, then every fold."""
    takings, wish = shop.takings, shop.wish
    heading = "What it takes"
    for blank, rows in zip(takings.blanks, takings.rows):
        yield _blank_told(blank, style)._replace(heading=heading)
        heading = ""
        if not shop.templet:
            yield _rows_told(blank, rows, wish.sheet_long, wish.sheet_wide, style)
    parts = "all parts together" if shop.templet else "all parts with their laps, less their holes"
    yield ToldSize("area", style.quantity(takings.area, "mm²"), parts)
    yield ToldSize(
        "cuts",
        style.quantity(takings.cuts, "mm"),
        "round every part, notches and all; what parts two pieces is cut once",
    )
    if not shop.templet:
        seams = "where it was opened, and where parts meet, each once"
        yield ToldSize("seams", style.quantity(takings.seams, "mm"), seams)
    if wish.thickness:
        density = f"area × {style.bare(wish.thickness, 'mm')} × {_density(wish.material)} kg/m³, {wish.material}"
        yield ToldSize("weight", f"{trim(takings.mass, 3 if takings.mass >= 0.1 else 4)} kg", density)
    heading = "Folds, by the angle from the flat"
    for fold in shop.folds:
        way = "away from the outside" if fold.angle > 0 else "towards the outside"
        inside = f"{trim(180.0 - abs(fold.angle), 2)}° between its faces, {way}"
        yield ToldSize(fold.name, style.angle(abs(fold.angle)), inside, heading)
        heading = ""


def _density(material: str) -> str:
    from wise_compass.shop.wish import MATERIALS

    return trim(MATERIALS[material])


def _size(long: float, high: float, style: Style) -> str:
    return f"{style.bare(long, 'mm')} × {style.quantity(high, 'mm')}"


def _blank_told(blank: Blank, style: Style) -> ToldSize:
    many = f", {blank.copies} of them" if blank.copies > 1 else ""
    says = f"{blank.title}{many}: the smallest level rectangle round it; {trim(100 * blank.waste, 1)} % of it is waste"
    if blank.turned:
        long, high, lean = blank.turned
        says += (
            f". Turned by {trim(abs(lean), 1)}° {'back' if lean > 0 else 'on'} it takes only {_size(long, high, style)}"
        )
    return ToldSize("blank", _size(blank.long, blank.high, style), says)


def _rows_told(blank: Blank, rows: TakingRows, long: float, wide: float, style: Style) -> ToldSize:
    says = (
        f"of {_size(long, wide, style)}, in straight rows; {rows.shifted} with every other row shifted by half a space"
    )
    if not max(rows):
        says = f"of {_size(long, wide, style)}: it is too small for one"
    return ToldSize("on a sheet", str(rows.straight), f"{says}. {BEYOND}" if max(rows) else says)
