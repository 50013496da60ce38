"""How far the curves that a hand joins up stray from the true ones."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, many, trim
from wise_compass.terminal.shared.figures import figure_options, run_of
from wise_compass.terminal.shared.saying import json_option, print_json

if TYPE_CHECKING:
    from wise_compass.drafting.run import Run

SAYS = "How far the curve that a hand joins up strays from the true one, and what would hold it closer."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one)
    json_option(one)
    one.add_argument("--hold", type=float, metavar="MM", help="the gap to stay within; the line's own width by default")


def handle(args: argparse.Namespace) -> None:
    from wise_compass.sheet.inks import INKS

    limit = INKS["outline"].width if args.hold is None else args.hold
    if not 0.0001 <= limit <= 1000:
        raise Refused(
            "hold", f"hold is {limit:g} mm; it goes from 0.0001 to 1000. {'Raise' if limit < 1 else 'Lower'} hold."
        )
    data = stray_record(run_of(args), limit)
    if args.json:
        print_json(data)
    else:
        print(stray_text(data))


def stray_record(run: Run, limit: float) -> dict[str, Any]:
    """The hand's curve against the true one: the largest gap of each curve, and what would hold ``limit`` mm."""
    from wise_compass.drafting.marks import CurveMark
    from wise_compass.outputs.record import coordinates
    from wise_compass.study.gaps import stray

    made = stray(run, limit)
    if made is None:
        parts = any(isinstance(mark, CurveMark) and mark.fair for mark in run.marks)
        why = "of the curves that a hand joins up only parts are drawn, and of a part no gap is told."
        none = "its lines are straight or true arcs, and no curve is joined up by hand."
        raise Refused("figure", f"{run.figure.title}: {why if parts else none}")
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored(),
        "hold": limit,
        "says": made.sentence(),
        "curves": [
            {
                "curve": gap.course.says,
                "largest": gap.largest,
                "at": coordinates(gap.true[gap.worst]),
                "where": gap.where,
            }
            for gap in made.gaps
        ],
        "fewest_divisions": made.enough,
        "further_points": [
            {"at": coordinates(one.at), "between": list(one.between), "parameter": one.t} for one in made.extras or ()
        ],
    }


def stray_text(data: dict[str, Any]) -> str:
    """The same for a person."""
    lines = [data["says"]]
    lines += [
        f"  {one['curve']}: {trim(one['largest'], 4)} mm {PLAIN.lettered(one['where'])}" for one in data["curves"]
    ]
    if data["further_points"]:
        lines.append(f"Or these {many(len(data['further_points']), 'further point')}, where it is sharp:")
    for one in data["further_points"]:
        x, y = one["at"]
        lines.append(f"  between {one['between'][0]} and {one['between'][1]}: x {trim(x, 2)}, y {trim(y, 2)}")
    return "\n".join(lines)
