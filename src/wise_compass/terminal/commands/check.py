"""A drawing judged by what was measured on it, or by a photograph of it."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.shared.figures import figure_of, figure_options, run_of, scale_of, style_of
from wise_compass.terminal.shared.photographs import photo_options, read_told
from wise_compass.terminal.shared.saying import json_option, print_json

SAYS = "Was it the hand, a slip or a blunder? Judges what was measured on a drawing."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument("figure", nargs="?", default="", help="a figure's id; of a photograph its code tells")
    one.add_argument("--photo", type=Path, help="a photograph of the sheet, instead of measurements")
    photo_options(one, job=False)
    figure_options(one, named=False)
    json_option(one)
    says = "what was measured on the paper, as “AB=71.4 angle_C=62 O-P3=44.1”; without it: what to measure"
    one.add_argument("--measured", metavar="SIZES", help=says)
    one.add_argument("--keep", action="store_true", help="note the check in the logbook")
    one.add_argument("--instrument", default="rule", help="what it was measured with: rule, dividers or protractor")


def handle(args: argparse.Namespace) -> None:
    from wise_compass.study import verdicts
    from wise_compass.study.judge import Judge
    from wise_compass.study.measures import INSTRUMENTS, read_measured
    from wise_compass.study.watch import what_to_measure

    scale, style = scale_of(args), style_of(args)
    if args.instrument not in INSTRUMENTS or args.instrument == "photograph":
        raise Refused(
            "instrument",
            f"“{args.instrument}” measures nothing here; take "
            f"{', '.join(one for one in INSTRUMENTS if one != 'photograph')}.",
        )
    if args.photo is not None:
        from wise_compass.camera.judging import judged

        if args.measured is not None:
            raise Refused("photo", "A check takes measurements or a photograph; leave one of them away.")
        reading = read_told(args, problem_of_args(args) if args.figure else None)
        _tell_check(args, reading.laid.run, reading.laid.scale, judged(reading), "photograph")
        return
    if not args.figure:
        raise Refused("figure", "Name the figure that is checked, or a photograph of its sheet with --photo.")
    made = run_of(args)
    judge = Judge(made, scale)
    if args.measured is not None:
        taken = read_measured(made, args.measured, args.instrument, style)
        _tell_check(args, made, scale, verdicts.check(judge, taken, args.instrument), args.instrument)
        return
    watch = what_to_measure(judge, args.instrument)
    data = verdicts.watch_record(watch)
    if args.json:
        print_json(data)
    else:
        print(verdicts.watch_text(watch, style))


def _tell_check(args: argparse.Namespace, made: Any, scale: float, checked: Any, instrument: str) -> None:
    """Print a check, and note it in the logbook where that is asked; one that cannot be noted is still told."""
    from wise_compass.study import verdicts

    data = verdicts.record(checked)
    if args.json:
        print_json(data)
    else:
        print(verdicts.text(checked, style_of(args)))
    if args.keep:
        from wise_compass.job.person import whoever
        from wise_compass.logbook.store import Logbook
        from wise_compass.practice.marking import marked_of, noted

        sys.stdout.flush()
        Logbook().note([noted(made, scale, marked_of(checked), "check", whoever(), None, instrument)])


def problem_of_args(args: argparse.Namespace) -> Any:
    """What a photograph shows, where figure and givens are told."""
    from wise_compass.drafting.figure import method_for
    from wise_compass.practice.problems import Problem

    figure = figure_of(args)
    method = method_for(figure, args.method).id
    return Problem(figure.id, method, figure.stored(), scale=scale_of(args), projection=args.projection)
