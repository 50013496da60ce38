"""A class marked, from its measurements or from photographs."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from wise_compass.outputs.files import read_table, write_output
from wise_compass.terminal.shared.saying import json_option, print_json, progress

SAYS = "Mark a class's measurements, each against its own numbers; what was done wrong most often."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument(
        "sheet",
        type=Path,
        metavar="CLASS",
        help="a CSV of pupil, problem and a column a measure; or a folder of photographs of worksheets",
    )
    one.add_argument("--out", type=Path, metavar="FILE.csv", help="write the marks")
    one.add_argument("--keep", action="store_true", help="note them in the logbook")
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    """Mark a class's sheet of measurements."""
    from wise_compass.logbook.store import Logbook
    from wise_compass.outputs.write import ending_of
    from wise_compass.practice.classes import absent, class_text, mark_class, marks_csv, most_made
    from wise_compass.practice.classtable import read_class

    if args.out is not None:
        ending_of(args.out, ("csv",))
    if args.sheet.is_dir():
        from wise_compass.camera.classes import mark_photographs

        graded, unmarked = mark_photographs(args.sheet, progress)
        for one in unmarked:
            print(f"{one.pupil}: {one.why}", file=sys.stderr)
    else:
        handed = read_class(read_table(args.sheet, "measurements"))
        graded, unmarked = mark_class(handed), absent(handed)
    if args.out is not None:
        write_output(args.out, marks_csv(graded, unmarked))
    if args.json:
        rows = [
            {"pupil": one.handed.pupil, **one.noted._asdict(), "measures": [m._asdict() for m in one.noted.measures]}
            for one in graded
        ]
        most = [{"says": says, "count": count} for says, count in most_made(graded)]
        print_json({"marks": rows, "unmarked": [one._asdict() for one in unmarked], "most": most})
    else:
        print(class_text(graded, unmarked))
    if args.keep:  # last, so that marks which cannot be noted are still told
        sys.stdout.flush()
        Logbook().note([one.noted for one in graded])
