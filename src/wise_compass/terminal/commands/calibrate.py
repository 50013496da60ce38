"""The exercises by which a hand is calibrated."""

from __future__ import annotations

import argparse
from pathlib import Path

from wise_compass.terminal.shared.saying import pixels, print_json

SAYS = "Print the exercises by which a hand is calibrated, or take what was measured on them."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("--out", type=Path, metavar="FILE.pdf", help="write the sheets of exercises")
    one.add_argument("--measured", metavar="SIZES", help="what was measured on them, as “opening-1=23.2 angle-17=29.4”")
    one.add_argument("--instrument", choices=("rule", "dividers"), default="rule", help="what it was measured with")
    one.add_argument("--keep", action="store_true", help="keep it: scatter and checks are this hand's from then on")
    one.add_argument("--json", action="store_true", help="print JSON")


def handle(args: argparse.Namespace) -> None:
    """The exercises, or what was measured on them."""
    from wise_compass.job.person import change_person, person
    from wise_compass.study.calibration import calibrated, own_words, read_exercises

    if args.out is not None:
        from wise_compass.outputs.write import Output, write
        from wise_compass.sheet.exercises import exercise_drawings

        write(args.out, Output(exercise_drawings(), None, 1.0, "Calibrate my hand", False, pixels(300)), ("pdf",))
        if args.measured is None and not args.json:
            print(f"The exercises are in {args.out.name}. Print them at true scale.")
    known = person()
    owns = (
        list(known.hand.values())
        if args.measured is None
        else calibrated(read_exercises(args.measured), args.instrument)
    )
    if args.measured is not None and args.keep:
        change_person(lambda now: now.with_hand(owns))
    if args.json:
        print_json({"hand": [own._asdict() for own in owns]})
    elif args.measured is not None or args.out is None:
        print(
            "\n".join(f"{own.tolerance}: {own_words(own)}" for own in owns)
            or "Nothing is measured of this hand; its scatter is as assumed."
        )
