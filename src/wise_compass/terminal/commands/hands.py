"""Many unsteady hands: how far each point and value strays."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import PLAIN, Style, scale_name
from wise_compass.terminal.shared.figures import figure_options, run_of, scale_of, style_of
from wise_compass.terminal.shared.saying import json_option, print_json

if TYPE_CHECKING:
    from wise_compass.drafting.hands import HandsResult, Scatter
    from wise_compass.drafting.run import Run

SAYS = "How far unsteady hands scatter each point and value."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one)
    json_option(one)
    one.add_argument("--hands", type=int, default=1000, help="how many hands")
    one.add_argument("--seed", type=int, default=0, help="for the same hands again")


def handle(args: argparse.Namespace) -> None:
    from wise_compass.drafting.hands import run_hands

    scale = scale_of(args)
    made = run_of(args)
    if args.seed < 0:
        raise Refused("seed", f"seed is {args.seed}; it is a whole number from 0 up. Raise seed to 0.")
    result = run_hands(made.figure, made.method, args.hands, args.seed, made.conventions, scale)
    data = hands_record(made, result, args.seed)
    if args.json:
        print_json(data)
    else:
        print(hands_text(made, result, style_of(args)))


def _scatter(one: Scatter, scale: float) -> dict[str, Any]:
    """Of a point ``sd`` is per axis and ``limit_95`` the distance off; lengths at true size, and as they are on the
    paper."""
    on_paper = scale if one.unit == "mm" else 1.0
    return {
        "unit": one.unit,
        "sd": one.sd,
        "limit_95": one.limit,
        "on_paper": {"sd": one.sd * on_paper, "limit_95": one.limit * on_paper},
        "bias": one.bias,
        "most": one.most,
        "most_step": one.step,
        "most_share": one.share,
    }


def hands_record(run: Run, result: HandsResult, seed: int | None) -> dict[str, Any]:
    """The scatter of many hands as data."""
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored(),
        "hands": result.count,
        "seed": seed,
        "missed": result.missed,
        "scale": scale_name(result.scale),
        "points": {
            one.name: {**_scatter(one, result.scale), "sd_is": "per axis", "limit_is": "radial"}
            for one in result.points
        },
        "values": {one.name: _scatter(one, result.scale) for one in result.values},
    }


def hands_text(run: Run, result: HandsResult, style: Style = PLAIN) -> str:
    """The scatter of many hands for a person."""
    at = "" if result.scale == 1 else f" at {scale_name(result.scale)}"
    lines = [f"{run.figure.title}, by {run.method.title}: {result.count} unsteady hands{at}"]
    if result.missed:
        lines.append(f"{result.missed} of them found no crossing somewhere and are left out.")
    lines.append("Of a point one sd is told per axis, and the distance that 95 hands in 100 stay within.")
    if at:
        lines.append("Lengths on the paper; true sizes in brackets.")
    lines.append(f"{'':24} {'one sd':>12} {'95 in 100 within':>18}   most comes from")
    for one in (*result.points, *result.values):
        paper = result.scale if one.unit == "mm" else 1.0
        texts = [
            style.value(x * paper, one.unit) + (f" ({style.value(x, one.unit)})" if paper != 1 else "")
            for x in (one.sd, one.limit)
        ]
        lines.append(f"{style.lettered(one.name):24} {texts[0]:>12} {texts[1]:>18}   {one.most} ({one.share:.0%})")
    return "\n".join(lines)
