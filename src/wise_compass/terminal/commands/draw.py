"""A figure drawn at true scale into a file."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wishes import declared
from wise_compass.job.model import Entry
from wise_compass.job.settings import STRIP, Settings
from wise_compass.terminal.shared.figures import figure_options, run_of, settings_of
from wise_compass.terminal.shared.saying import pixels
from wise_compass.terminal.shared.tables import table_options, table_wish
from wise_compass.terminal.shared.wishes import wish_options

SAYS = "Draw a figure at true scale into a file."

ON_SHEET = ("gaps", "space", "hatched", "grid", "dimensions")
"""What may be wished for on the sheet, and is an option of its own here."""


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one)
    one.add_argument("--out", required=True, type=Path, metavar="FILE", help="svg, pdf, png, csv or json")
    one.add_argument("--paper", default="A4", help="auto, A4 to A0, Letter or Tabloid")
    one.add_argument("--lie", default="auto", help="auto, landscape or portrait")
    one.add_argument("--clean", action="store_true", help="leave the construction away")
    one.add_argument("--dpi", type=int, default=300, help="resolution of a PNG (72 to 1200)")
    wish_options(one, Entry, *ON_SHEET)
    wish_options(one, Settings, *STRIP)
    one.add_argument("--stages", action="store_true", help="in stages: small pictures, each with its settings")
    one.add_argument(
        "--table", action="store_true", help="with a curve table, or one of true lengths, beside the figure"
    )
    table_options(one)


def handle(args: argparse.Namespace) -> None:
    from wise_compass.job.build import build_sheet
    from wise_compass.job.model import Job, SheetPlan
    from wise_compass.outputs.write import Output, ending_of, write

    ending_of(args.out)
    if not 72 <= args.dpi <= 1200:
        raise Refused(
            "dpi", f"dpi is {args.dpi}; it goes from 72 to 1200. {'Raise' if args.dpi < 72 else 'Lower'} dpi."
        )
    wishes: dict[str, Any] = {name: getattr(args, name) for name in (*ON_SHEET, "hidden")}
    for name, value in wishes.items():
        declared(Entry)[name].check(value)
    made = run_of(args)
    figure = made.figure
    table = table_wish(args)._asdict() if args.table else {}
    if args.table or args.gaps:
        from wise_compass.study.tables import NO_CURVE

        if not made.courses and (args.gaps or not made.true_lines):
            raise Refused("figure", NO_CURVE.format(title=figure.title))
    kept = {**wishes, "sides": made.conventions.sides, "table": table}
    entry = Entry(figure.id, figure.title, made.method.id, figure.stored(), id="drawn", **kept)
    plan = SheetPlan(figure.title, (entry,), args.paper, args.lie, args.scale)
    settings = settings_of(args)._replace(**{name: getattr(args, name) for name in STRIP})
    for name in STRIP:
        declared(Settings)[name].check(getattr(args, name))
    sheet = build_sheet(Job("Wise Compass", (plan,), settings), 0, {entry.id: made})
    drawings = [sheet.drawing]
    if args.stages:
        from wise_compass.booklet.pages import stage_drawings
        from wise_compass.job.build import style_of

        drawings = stage_drawings(made, figure.title, style_of(settings), sheet.scale)
    write(args.out, Output(drawings, made, sheet.scale, figure.title, args.clean, pixels(args.dpi)))
    if ending_of(args.out) not in ("csv", "json"):
        print(sheet.says)
