"""What each known slip would make of the values."""

from __future__ import annotations

import argparse
import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, many
from wise_compass.terminal.shared.figures import figure_options, run_of
from wise_compass.terminal.shared.saying import json_option, print_json

if TYPE_CHECKING:
    from wise_compass.drafting.recorder import ChoicePoint
    from wise_compass.drafting.run import Run

SAYS = "What each known slip would make of the values."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one)
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    from wise_compass.drafting.run import run_slips

    made = run_of(args)
    slips = run_slips(made.figure, made.method, made.conventions, usual=True)
    data = slips_record(made, slips)
    if args.json:
        print_json(data)
    else:
        print(slips_text(data))


def slips_record(run: Run, slips: Sequence[tuple[ChoicePoint, Run | Refused]]) -> dict[str, Any]:
    """For each slip the values it would give, beside the right ones."""
    import numpy as np

    from wise_compass.outputs.record import coordinates

    units = {value.name: value.unit for value in run.values}
    rows = []
    for choice, made in slips:
        row: dict[str, Any] = {"slip": choice.id, "says": choice.says, "values": {}, "points": {}, "refused": None}
        if isinstance(made, Refused):
            row["refused"] = made.says
        else:
            for name, value in made.measured.items():
                if np.ndim(value) == 0 and name in units:
                    right = run.measured[name]
                    row["values"][name] = {"value": _number(value), "right": _number(right), "unit": units[name]}
            row["points"] = {name: coordinates(at) for name, at in made.found.items()}
            row["proofs"] = [
                {"says": PLAIN.say(p.says), "miss": _number(p.miss), "unit": p.unit, "holds": p.holds}
                for p in made.proofs
            ]
        rows.append(row)
    return {"figure": run.figure.id, "method": run.method.id, "givens": run.figure.stored(), "slips": rows}


def _number(value: Any) -> float | None:
    return float(value) if math.isfinite(value) else None


def slips_text(data: dict[str, Any]) -> str:
    """The slips for a person."""
    lines = [f"{data['figure']} by {data['method']}: {many(len(data['slips']), 'known slip')}"]
    for row in data["slips"]:
        lines += ["", f"{row['slip']}: {row['says']}"]
        if row["refused"]:
            lines.append(f"  The construction comes to a stop: {row['refused']}")
        for name, one in row["values"].items():
            if one["value"] is None or one["right"] is None or abs(one["value"] - one["right"]) > 1e-9:
                lines.append(
                    f"  {name:20} {PLAIN.value(one['value'], one['unit']):>16} instead of "
                    f"{PLAIN.value(one['right'], one['unit'])}"
                )
        lines += [
            f"  missed: {p['says']}, by {PLAIN.value(p['miss'], p['unit'])}"
            for p in row.get("proofs", ())
            if not p["holds"]
        ]
    return "\n".join(lines)
