"""A photograph squared up, and where its points lie."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.shared.photographs import laid_told, photo_options
from wise_compass.terminal.shared.saying import print_json

SAYS = "A photograph of a sheet, squared up: where its points lie."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("photo", type=Path, help="a JPEG or PNG picture of the sheet")
    photo_options(one)
    one.add_argument("--out", type=Path, metavar="FILE", help="the sheet squared up, as png or jpg")
    one.add_argument("--json", action="store_true", help="print JSON")


def handle(args: argparse.Namespace) -> None:
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
    if args.json:
        print_json(reading_record(reading))
    else:
        print(reading_text(reading))
