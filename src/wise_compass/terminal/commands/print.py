"""A whole job as PDF."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.sheet.paper import TILES
from wise_compass.terminal.shared.saying import pixels

SAYS = "Print a whole job to PDF, a page a sheet."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("job", type=Path, help="a job file")
    one.add_argument("--out", required=True, type=Path, metavar="FILE.pdf")
    one.add_argument("--clean", action="store_true", help="leave the construction away")
    one.add_argument(
        "--steps", action="store_true", help="with the steps of each figure and what to measure behind its sheet"
    )
    one.add_argument("--stages", action="store_true", help="with each figure in stages behind its sheet")
    one.add_argument("--blank", action="store_true", help="blank frames to draw on, which a photograph is read by")
    one.add_argument("--plan", action="store_true", help="with the day's plan as the first page")
    says = "part larger sheets into tiles of this paper, that are joined at crosses"
    one.add_argument("--tiles", choices=TILES, default="", help=says)


def handle(args: argparse.Namespace) -> None:
    """Print a whole job to PDF."""
    from wise_compass.job.build import build_sheet, sheet_pages, style_of
    from wise_compass.job.store import load
    from wise_compass.outputs.write import Output, ending_of, write

    ending_of(args.out, ("pdf",))
    job = load(args.job)
    if not job.sheets:
        raise Refused("job", f"{args.job.name} has no sheets; add a figure to it first.")
    sheets = [build_sheet(job, index) for index in range(len(job.sheets))]
    style = style_of(job.settings)
    drawings = [page for sheet in sheets for page in sheet_pages(sheet, style, args.steps, args.stages)]
    if args.blank:
        from wise_compass.camera.laid import blanks

        drawings = blanks(job)
    if args.plan:
        from wise_compass.logbook.store import Logbook
        from wise_compass.plan.day import plan_of
        from wise_compass.plan.pace import own_pace
        from wise_compass.plan.told import plan_drawings

        drawings = [*plan_drawings(plan_of(job, own_pace(Logbook())), style), *drawings]
    write(args.out, Output(drawings, None, 1.0, job.title, args.clean, pixels(300), args.tiles), ("pdf",))
    for plan, sheet in zip(job.sheets, sheets, strict=True):
        print(f"{plan.title}: {sheet.says}")
