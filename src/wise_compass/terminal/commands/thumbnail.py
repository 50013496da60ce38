"""The first sheet of a job as a small picture, for a file manager."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.shared.saying import pixels

SAYS = "The first sheet of a job as a small PNG, as a file manager shows it."
LEAST, MOST = 16, 2048


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("job", type=Path, help="a job file")
    one.add_argument("out", type=Path, help="the picture; PNG whatever its name")
    one.add_argument("--size", type=int, default=256, metavar="PIXELS", help="of its longer side; 256 by default")


def handle(args: argparse.Namespace) -> None:
    """Draw it."""
    from wise_compass.job.build import build_sheet
    from wise_compass.job.store import load
    from wise_compass.outputs.files import write_output

    if not LEAST <= args.size <= MOST:
        raise Refused("size", f"size is {args.size}; it can be {LEAST} to {MOST} pixels. Take one of those.")
    job = load(args.job)
    if not job.sheets:
        raise Refused("job", f"{args.job.name} has no sheet yet; there is nothing to show.")
    drawing = build_sheet(job, 0).drawing
    inches = max(drawing.width, drawing.height) / 25.4
    write_output(args.out, pixels(max(int(args.size / inches), 1))(drawing, True))
