"""The commands of photographs: read one, and the stand-in for the camera."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING

from wise_compass.drafting.refusals import Refused

if TYPE_CHECKING:
    import argparse

    from wise_compass.camera.laid import Laid
    from wise_compass.camera.reading import Reading
    from wise_compass.practice.problems import Problem


def laid_told(args: argparse.Namespace) -> Laid | None:
    """What a photograph should show, where it is told: by a problem's code, or as a sheet of a job. Raises :class:`Refused`."""
    from wise_compass.camera.laid import laid_by, laid_in

    if args.problem:
        return laid_by(args.problem)
    if args.job is not None:
        from wise_compass.job.store import load

        return laid_in(load(args.job), args.sheet, args.on_sheet)
    return None


def read(args: argparse.Namespace) -> None:
    """Square a photograph up and find its points."""
    from wise_compass.camera.reading import read as read_photo
    from wise_compass.camera.reading import reading_record, reading_text, sides_of

    reading = read_photo(args.photo, laid_told(args), sides_of(args.frame))
    if args.out is not None:
        import cv2

        from wise_compass.outputs.files import write_output
        from wise_compass.outputs.write import ending_of

        ending_of(args.out, ("png", "jpg"))
        good, content = cv2.imencode(args.out.suffix, reading.flat)
        if not good:
            raise Refused("out", f"{args.out.name} could not be made.")
        write_output(args.out, bytes(content.tobytes()))
    print(json.dumps(reading_record(reading), ensure_ascii=False, indent=1) if args.json else reading_text(reading))


def photograph(args: argparse.Namespace) -> None:
    """Draw a sheet as an unsteady hand would, and photograph it."""
    from wise_compass.camera.laid import laid_in
    from wise_compass.camera.pencil import pencilled
    from wise_compass.camera.stand_in import Shot, jpeg, photographed, truth
    from wise_compass.job.store import load
    from wise_compass.outputs.files import write_output
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
    told = truth(penned, shot, laid.code, {"sheet": args.sheet, "hands": args.hands, "slip": args.slip, "off": args.off})
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


HANDLERS = {"read": read, "photograph": photograph}


def options(one: argparse.ArgumentParser, name: str) -> None:
    """What each of these commands takes."""
    if name == "read":
        one.add_argument("photo", type=Path, help="a JPEG or PNG picture of the sheet")
        told_options(one)
        one.add_argument("--out", type=Path, metavar="FILE", help="the sheet squared up, as png or jpg")
        one.add_argument("--json", action="store_true", help="print JSON")
        return
    one.add_argument("job", type=Path)
    _sheet_options(one)
    one.add_argument(
        "--out", required=True, type=Path, metavar="FILE.jpg", help="the truth goes into FILE.truth.json beside it"
    )
    one.add_argument("--hands", type=int, default=1, metavar="N", help="which unsteady hand draws it, by number")
    one.add_argument("--slip", metavar="ID", help="a slip that it makes")
    one.add_argument("--off", metavar="STEP=SDS", help="a step whose setting is so many deviations off")
    for option, usual, says in (
        ("tilt", 10.0, "degrees that the camera is tilted"), ("turn", 4.0, "degrees that the sheet is turned"),
        ("megapixels", 12.0, "millions of pixels"), ("blur", 0.9, "px of blur"), ("curl", 0.0, "mm that the paper's ends stand up"),
        ("fill", 0.88, "how much of the picture the sheet fills"),
    ):  # fmt: skip
        one.add_argument(f"--{option}", type=float, default=usual, help=f"{says}; {usual:g} by default")


def _sheet_options(one: argparse.ArgumentParser) -> None:
    one.add_argument("--sheet", type=int, default=1, metavar="N", help="which sheet of the job")
    one.add_argument("--on-sheet", type=int, default=1, metavar="N", help="which figure of the sheet")


def told_options(one: argparse.ArgumentParser, job: bool = True) -> None:
    """What tells what a photograph shows, where its code does not."""
    one.add_argument("--problem", default="", metavar="CODE", help="a problem's code, as it stands in the key")
    if job:
        one.add_argument("--job", type=Path, metavar="JOB", help="the job whose sheet it is")
    _sheet_options(one)
    one.add_argument(
        "--frame",
        default="",
        metavar="AxB",
        help="what a frame drawn by hand measures, across and up in mm; A4 for the edges of plain paper",
    )


def read_told(args: argparse.Namespace, problem: Problem | None) -> Reading:
    """A photograph read, of a problem where one is told; raises :class:`Refused`."""
    from wise_compass.camera.laid import laid_of
    from wise_compass.camera.reading import read as read_photo
    from wise_compass.camera.reading import sides_of

    laid = laid_of(problem) if problem is not None else laid_told(args)
    return read_photo(args.photo, laid, sides_of(args.frame))
