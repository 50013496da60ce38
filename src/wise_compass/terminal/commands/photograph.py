"""A stand-in for the camera."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import write_output
from wise_compass.terminal.shared.photographs import sheet_options

SAYS = "A stand-in for the camera: a sheet drawn by an unsteady hand, and photographed."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("job", type=Path)
    sheet_options(one)
    one.add_argument(
        "--out", required=True, type=Path, metavar="FILE.jpg", help="the truth goes into FILE.truth.json beside it"
    )
    one.add_argument("--hands", type=int, default=1, metavar="N", help="which unsteady hand draws it, by number")
    one.add_argument("--slip", metavar="ID", help="a slip that it makes")
    one.add_argument("--off", metavar="STEP=SDS", help="a step whose setting is so many deviations off")
    for option, usual, says in (
        ("tilt", 10.0, "degrees that the camera is tilted"), ("turn", 4.0, "degrees that the sheet is turned"),
        ("megapixels", 12.0, "millions of pixels"), ("blur", 0.9, "px of blur"), ("curl", 0.0,
        "mm that the paper's ends stand up"),
        ("fill", 0.88, "how much of the picture the sheet fills"),
    ):  # fmt: skip
        one.add_argument(f"--{option}", type=float, default=usual, help=f"{says}; {usual:g} by default")


def handle(args: argparse.Namespace) -> None:
    """Draw a sheet as an unsteady hand would, and photograph it."""
    from wise_compass.camera.laid import laid_in
    from wise_compass.camera.pencil import pencilled
    from wise_compass.camera.stand_in import Shot, jpeg, photographed, truth
    from wise_compass.job.store import load
    from wise_compass.outputs.write import ending_of

    ending_of(args.out, ("jpg", "jpeg"))
    if not 0 <= args.hands < 2**31:
        raise Refused("hands", f"hands is {args.hands}; it is the number of a hand, from 0 up.")
    for name, value, low, high in (
        ("tilt", args.tilt, 0.0, 40.0), ("turn", args.turn, -360.0, 360.0), ("megapixels", args.megapixels, 0.5, 24.0),
        ("blur", args.blur, 0.0, 30.0), ("curl", args.curl, 0.0, 30.0), ("fill", args.fill, 0.2, 2.0),
    ):  # fmt: skip
        if not low <= value <= high:
            raise Refused(name, f"{name} is {value:g}; it goes from {low:g} to {high:g}.")
    laid = laid_in(load(args.job), args.sheet, args.on_sheet)
    penned = pencilled(laid, args.hands, args.slip, _off(args.off))
    shot = Shot(args.megapixels, (args.tilt, -0.6 * args.tilt), args.turn, args.hands, args.blur, args.curl, args.fill)
    write_output(args.out, jpeg(photographed(penned, shot)))
    beside = args.out.with_suffix(".truth.json")
    told = truth(
        penned, shot, laid.code, {"sheet": args.sheet, "hands": args.hands, "slip": args.slip, "off": args.off}
    )
    write_output(beside, json.dumps(told, ensure_ascii=False, indent=1) + "\n")
    print(f"The photograph is in {args.out.name}, the truth of it in {beside.name}.")


def _off(words: str | None) -> tuple[int, float] | None:
    """A step and by how many deviations it is off, from STEP=SDS; raises :class:`Refused`."""
    if words is None:
        return None
    step, _, deviations = words.partition("=")
    try:
        told = int(step), float(deviations)
    except ValueError:
        told = 0, 0.0
    if told[0] < 1 or not 0 < abs(told[1]) <= 60:
        raise Refused("off", f"off is “{words[:20]}”; write a step and by how many deviations it is off, such as 7=12.")
    return told
