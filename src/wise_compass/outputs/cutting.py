"""A pattern for the shop as a file: SVG in layers, PDF whole or in tiles, its points in order as CSV, its record as
JSON."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.outputs.files import write_output
from wise_compass.outputs.rows import rows_csv
from wise_compass.outputs.write import ending_of
from wise_compass.sheet.cutting import LAYERS, cutting_drawing
from wise_compass.shop.shop import Shop

ENDINGS = ("svg", "pdf", "csv", "json")


def write_pattern(path: Path, shop: Shop, title: str, style: Style, about: dict[str, object], tiles: str = "") -> None:
    """Write what the ending of ``path`` asks for, whole; raises :class:`Refused`."""
    ending = ending_of(path, ENDINGS)
    if tiles and ending != "pdf":
        raise Refused(
            "tiles",
            f"{path.name} is no PDF, and only a PDF is parted into tiles. End it with pdf, or leave tiles away.",
        )
    write_output(path, _content(ending, shop, title, style, about, tiles))


def _content(ending: str, shop: Shop, title: str, style: Style, about: dict[str, object], tiles: str) -> str | bytes:
    if ending == "csv":
        return points_csv(shop)
    if ending == "json":
        return json.dumps(shop_record(shop), ensure_ascii=False, indent=1) + "\n"
    drawing = cutting_drawing(shop, title, style)
    drawing.about = about
    if ending == "svg":
        from wise_compass.outputs.svg import layered_svg

        return layered_svg(drawing, LAYERS)
    from wise_compass.outputs.pdf import pdf_bytes

    return pdf_bytes([drawing], title, tiles=tiles)


def points_csv(shop: Shop) -> str:
    """Every corner and point of the outline in the order in which it is cut, anticlockwise, one a row, in mm from the
    lowest left of all."""
    low = (
        min(float(cut.outline[:, 0].min()) for cut in shop.cuts),
        min(float(cut.outline[:, 1].min()) for cut in shop.cuts),
    )
    rows: list[list[object]] = []
    for k, cut in enumerate(shop.cuts):
        n = 0
        widths = {id(lap.side): lap.width for lap in shop.laps if lap.part == k}
        for side in cut.sides:
            # a hole has no points of its own: its chords stand for it
            named = [(name, shop.run.found[name]) for name in side.keys[:-1] if name]
            for name, place in named or [("", place) for place in side.course[:-1]]:
                n += 1
                x, y = (float(at - corner) for at, corner in zip(place, low))
                rows.append([cut.title, cut.copies, n, name, side.kind, x, y, widths.get(id(side), 0.0)])
    return rows_csv(["part", "copies", "n", "point", "edge", "x (mm)", "y (mm)", "lap (mm)"], rows)


def shop_record(shop: Shop) -> dict[str, Any]:
    """What a shop is told, as data."""
    takings, run = shop.takings, shop.run
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored() if run.given is None else run.given.stored(),
        "wish": shop.wish._asdict(),
        "parts": [
            {
                "title": cut.title,
                "copies": cut.copies,
                "area": cut.area,
                "edges": [{"edge": side.kind, "points": list(side.keys), "length": side.long} for side in cut.sides],
            }
            for cut in shop.cuts
        ],
        "blanks": [
            {
                "title": blank.title,
                "copies": blank.copies,
                "long": blank.long,
                "high": blank.high,
                "waste": blank.waste,
                "on_sheet": rows._asdict(),
            }
            for blank, rows in zip(takings.blanks, takings.rows)
        ],
        "area": takings.area,
        "cuts": takings.cuts,
        "seams": takings.seams,
        "mass_kg": takings.mass,
        "folds": [{"fold": fold.name, "angle": fold.angle} for fold in shop.folds],
        "cautions": [PLAIN.say(words) for words in (*shop.says(), *run.figure.cautions(), *run.hazards)],
    }
