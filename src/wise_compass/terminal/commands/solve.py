"""A figure derived: givens, steps, values and proofs."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from typing import TYPE_CHECKING

from wise_compass.drafting.wording import PLAIN, Style, scale_name
from wise_compass.terminal.shared.figures import figure_options, run_of, scale_of, style_of
from wise_compass.terminal.shared.saying import json_option, print_json

if TYPE_CHECKING:
    from wise_compass.drafting.run import Run

SAYS = "Derive a figure: points, values, proofs and steps."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    figure_options(one)
    json_option(one)


def handle(args: argparse.Namespace) -> None:
    from wise_compass.outputs.record import record

    scale = scale_of(args)
    made = run_of(args)
    if args.json:
        print_json(record(made, scale))
    else:
        print(run_text(made, style_of(args), scale))


def run_text(run: Run, style: Style = PLAIN, scale: float = 1.0) -> str:
    """A run for a person: givens, steps as they are done on a sheet at ``scale``, values and proofs."""
    return "\n".join(_run_lines(run, style, scale))


def _run_lines(run: Run, style: Style, scale: float) -> Iterator[str]:
    figure = run.figure
    yield f"{figure.title}, by {run.method.title}: " + ", ".join(
        f"{n} {t}" for n, t in figure.says_givens(style).items()
    )
    if scale != 1:
        yield f"Settings on the paper, at {scale_name(scale)}; true sizes in brackets."
    phase = None
    for step in run.steps:
        if step.phase != phase:
            phase = step.phase
            yield f"\n{phase}"
        keep = "keep " if step.keep else ""
        true = step.true_setting(style, scale)
        setting = keep + step.setting(style, scale) + (f" ({true})" if true else "")
        yield f"{step.n:4}  {step.tool(scale):12} {setting:>16}  {step.sentence(style, scale)}"
    yield "\nValues"
    for value in run.values:
        yield f"  {value.name:20} {style.value(value.value, value.unit):>18}   = {style.say(value.working)}"
    yield "\nProofs"
    for proof in run.proofs:
        state = "holds" if proof.holds else ("by design" if proof.by_design else "FAILS")
        yield f"  {state:10} {style.say(proof.says)}; largest miss {style.tiny(proof.miss, proof.unit)}"
    for caution in (*figure.cautions(), *run.hazards):
        yield f"\nCaution: {style.say(caution)}"
