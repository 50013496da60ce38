"""The commands that print: a job, blank grids, and the exercises by which a hand is calibrated."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused

if TYPE_CHECKING:
    import argparse


def pixels(dpi: int) -> Any:
    """What makes the pixels of a PNG; the toolkit comes in only when it is asked for some."""

    def png(drawing: Any, clean: bool) -> bytes:
        from wise_compass.desk.raster import png_bytes

        content: bytes = png_bytes(drawing, clean, dpi)
        return content

    return png


def print_job(args: argparse.Namespace) -> None:
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
    drawings = [page for sheet in sheets for page in (sheet_pages(sheet, style) if args.steps else [sheet.drawing])]
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


def grid(args: argparse.Namespace) -> None:
    """A blank sheet of isometric grid."""
    from wise_compass.outputs.write import DRAWINGS, Output, ending_of, write
    from wise_compass.sheet.gridpaper import grid_drawing
    from wise_compass.sheet.paper import papers

    ending_of(args.out, DRAWINGS)
    paper = papers(args.paper, args.lie)[0]
    drawing = grid_drawing(paper, args.spacing, args.kind)
    write(args.out, Output([drawing], None, 1.0, "Isometric grid", False, pixels(300)), DRAWINGS)
    print(f"A sheet of {paper.size} with a grid of {args.spacing:g} mm is in {args.out.name}.")


def calibrate(args: argparse.Namespace) -> None:
    """The exercises, or what was measured on them."""
    from wise_compass.job.person import keep_person, person
    from wise_compass.study.calibration import calibrated, own_words, read_exercises

    if args.out is not None:
        from wise_compass.outputs.write import Output, write
        from wise_compass.sheet.exercises import exercise_drawings

        write(args.out, Output(exercise_drawings(), None, 1.0, "Calibrate my hand", False, pixels(300)), ("pdf",))
        if args.measured is None and not args.json:
            print(f"The exercises are in {args.out.name}. Print them at true scale.")
    known = person()
    owns = list(known.hand.values()) if args.measured is None else calibrated(read_exercises(args.measured), args.instrument)
    if args.measured is not None and args.keep:
        keep_person(known.with_hand(owns))
    if args.json:
        print(json.dumps({"hand": [own._asdict() for own in owns]}, ensure_ascii=False, indent=1))
    elif args.measured is not None or args.out is None:
        print(
            "\n".join(f"{own.tolerance}: {own_words(own)}" for own in owns)
            or "Nothing is measured of this hand; its scatter is as assumed."
        )


HANDLERS = {"print": print_job, "grid": grid, "calibrate": calibrate}
