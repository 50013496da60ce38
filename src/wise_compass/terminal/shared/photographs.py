"""What tells the commands of photographs what a photograph shows."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import argparse

    from wise_compass.camera.laid import Laid
    from wise_compass.camera.reading import Reading
    from wise_compass.practice.problems import Problem


def sheet_options(one: argparse.ArgumentParser) -> None:
    one.add_argument("--sheet", type=int, default=1, metavar="N", help="which sheet of the job")
    one.add_argument("--on-sheet", type=int, default=1, metavar="N", help="which figure of the sheet")


def photo_options(one: argparse.ArgumentParser, job: bool = True) -> None:
    """What tells what a photograph shows, where its code does not."""
    one.add_argument("--problem", default="", metavar="CODE", help="a problem's code, as it stands in the key")
    if job:
        one.add_argument("--job", type=Path, metavar="JOB", help="the job whose sheet it is")
    sheet_options(one)
    one.add_argument(
        "--frame",
        default="",
        metavar="AxB",
        help="what a frame drawn by hand measures, across and up in mm; A4 for the edges of plain paper",
    )


def laid_told(args: argparse.Namespace) -> Laid | None:
    """What a photograph should show, where it is told: by a problem's code, or as a sheet of a job. Raises
    :class:`Refused`."""
    from wise_compass.camera.laid import laid_by, laid_in

    if args.problem:
        return laid_by(args.problem)
    if args.job is not None:
        from wise_compass.job.store import load

        return laid_in(load(args.job), args.sheet, args.on_sheet)
    return None


def read_told(args: argparse.Namespace, problem: Problem | None) -> Reading:
    """A photograph read, of a problem where one is told; raises :class:`Refused`."""
    from wise_compass.camera.laid import laid_of
    from wise_compass.camera.reading import read as read_photo
    from wise_compass.camera.reading import sides_of

    laid = laid_of(problem) if problem is not None else laid_told(args)
    return read_photo(args.photo, laid, sides_of(args.frame))
