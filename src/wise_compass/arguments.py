"""What the command line takes."""

from __future__ import annotations

import argparse
import os
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from wise_compass import __version__
from wise_compass.commands import HANDLERS as LEARNING
from wise_compass.commands import options
from wise_compass.drafting.refusals import Refused
from wise_compass.photocommands import HANDLERS as PHOTOS
from wise_compass.photocommands import options as photo_options
from wise_compass.photocommands import told_options

PROGRAM = "wise-compass"
WIDE = 80
"""Columns of help where no terminal tells."""


class _Help(argparse.HelpFormatter):
    """As wide as the terminal, asked without what its own way of asking would import at every start."""

    def __init__(self, prog: str) -> None:
        try:
            wide = int(os.environ.get("COLUMNS", "") or os.get_terminal_size().columns)
        except (OSError, ValueError):
            wide = WIDE
        super().__init__(prog, width=max(wide, 40) - 2)


class _Parser(argparse.ArgumentParser):
    """Complains in one line, like every other refusal."""

    def __init__(self, **words: Any) -> None:
        super().__init__(**words, formatter_class=_Help)

    def error(self, message: str) -> Any:
        raise Refused("", f"{message[0].upper()}{message[1:]}. See {self.prog} --help.")


def parsed(arguments: Sequence[str]) -> argparse.Namespace:
    """The arguments, givens standing before or behind the options; complains by raising :class:`Refused`."""
    name = arguments[0]
    if name in COMMANDS:
        known: argparse.ArgumentParser = _Parser(prog=f"{PROGRAM} {name}", description=COMMANDS[name])
        _options(known, name)
        args, others = known.parse_known_args(arguments[1:], argparse.Namespace(command=name))
    else:
        known = parser()
        args, others = known.parse_known_args(arguments)
    strays = [word for word in others if word.startswith("-") or "=" not in word or "givens" not in args]
    if strays:
        known.error(f"unrecognized arguments: {' '.join(strays)}")
    if others:
        args.givens = [*args.givens, *others]
    return args


RUNS = {
    "solve": "Derive a figure: points, values, proofs and steps.",
    "draw": "Draw a figure at true scale into a file.",
    "hands": "How far unsteady hands scatter each point and value.",
    "slips": "What each known slip would make of the values.",
    "check": "Was it the hand, a slip or a blunder? Judges what was measured on a drawing.",
    "stray": "How far the curve that a hand joins up strays from the true one, and what would hold it closer.",
    "pattern": "A pattern for the shop: laps, plate, folds, blanks and counts; to be cut at true size.",
    "table": "Ordinates of a curve at equal steps along an axis or an angle; the true lengths of a solid.",
}
"""The commands that run a figure."""
COMMANDS = {
    "list": "List families, figures, givens, methods and values.",
    **RUNS,
    "print": "Print a whole job to PDF, a page a sheet.",
    "calibrate": "Print the exercises by which a hand is calibrated, or take what was measured on them.",
    "practice": "Set a problem, or a class set: worksheets with their solutions, and the key.",
    "mark": "Mark a class's measurements, each against its own numbers; what was done wrong most often.",
    "logbook": "What was checked and practised: slips, scatter and pace; out as CSV or JSON, in from CSV.",
    "read": "A photograph of a sheet, squared up: where its points lie.",
    "photograph": "A stand-in for the camera: a sheet drawn by an unsteady hand, and photographed.",
    "plan": "The day's plan of a job: order, kit, minutes, breaks.",
    "grid": "A blank sheet of isometric grid, as paper to draw on.",
}


def parser() -> argparse.ArgumentParser:
    """The parser of the commands, for help about them; complains by raising :class:`Refused`."""
    whole = _Parser(
        prog=PROGRAM,
        description="Derives, walks and proves the constructions of technical drawing.",
        epilog="Without a command it opens the desk, with JOB (a job file, or an SVG drawn here) if given.",
    )
    whole.add_argument("--version", action="version", version=f"{PROGRAM} {__version__}")
    commands = whole.add_subparsers(dest="command", required=True, parser_class=_Parser)
    for name, says in COMMANDS.items():
        commands.add_parser(name, help=says, description=says)
    return whole


def _options(one: argparse.ArgumentParser, name: str) -> None:
    """What the command of this name takes."""
    if name in RUNS:
        _figure_options(one, name)
    elif name == "list":
        one.add_argument("--json", action="store_true", help="print JSON")
    elif name == "calibrate":
        one.add_argument("--out", type=Path, metavar="FILE.pdf", help="write the sheets of exercises")
        one.add_argument("--measured", metavar="SIZES", help="what was measured on them, as “opening-1=23.2 angle-17=29.4”")
        one.add_argument("--instrument", choices=("rule", "dividers"), default="rule", help="what it was measured with")
        one.add_argument("--keep", action="store_true", help="keep it: scatter and checks are this hand's from then on")
        one.add_argument("--json", action="store_true", help="print JSON")
    elif name in LEARNING:
        options(one, name)
    elif name in PHOTOS:
        photo_options(one, name)
    elif name == "grid":
        one.add_argument("--out", required=True, type=Path, metavar="FILE", help="svg, pdf or png")
        one.add_argument("--spacing", type=float, default=5.0, metavar="MM", help="from crossing to crossing, 5 by default")
        one.add_argument("--kind", choices=("dots", "lines"), default="dots", help="what marks the crossings")
        one.add_argument("--paper", default="A4", help="A4, A3, A2, A1 or A0")
        one.add_argument("--lie", choices=("landscape", "portrait"), default="landscape", help="which way up it lies")
    else:
        one.add_argument("job", type=Path, help="a job file")
        one.add_argument("--out", required=True, type=Path, metavar="FILE.pdf")
        one.add_argument("--clean", action="store_true", help="leave the construction away")
        one.add_argument(
            "--steps", action="store_true", help="with the steps of each figure and what to measure behind its sheet"
        )
        one.add_argument("--blank", action="store_true", help="blank frames to draw on, which a photograph is read by")
        one.add_argument("--plan", action="store_true", help="with the day's plan as the first page")
        says = "part larger sheets into tiles of this paper, that are joined at crosses"
        one.add_argument("--tiles", choices=("A4", "A3", "A2", "A1"), default="", help=says)


def _figure_options(one: argparse.ArgumentParser, name: str) -> None:
    """What every command that runs a figure takes, and what only the one of this name does."""
    if name == "check":
        one.add_argument("figure", nargs="?", default="", help="a figure's id; of a photograph its code tells")
        one.add_argument("--photo", type=Path, help="a photograph of the sheet, instead of measurements")
        told_options(one, job=False)
    else:
        one.add_argument("figure", help="a figure's id")
    one.add_argument("givens", nargs="*", default=[], metavar="name=value", help="givens; the others take their defaults")
    one.add_argument("--method", help="a method's id")
    one.add_argument("--projection", choices=("first", "third"), default="first", help="angle of projection")
    one.add_argument("--lettering", choices=("primes", "numbers"), default="primes", help="how views are lettered")
    one.add_argument("--units", choices=("mm", "in"), default="mm", help="of lengths without a unit, and of what is said")
    one.add_argument(
        "--sides", default="", metavar="SIDES", help="auto, usual or other for each auxiliary view, as in auto,other"
    )
    one.add_argument(
        "--job",
        type=Path,
        metavar="JOB",
        help="a job whose dimensions and figures' values may stand in the givens, as race/2 + 10",
    )
    one.add_argument("--hidden", choices=("usual", "shown", "out"), default="usual", help="hidden edges of a picture")
    ways = ("auto", "trial", "parallels", "rule")
    one.add_argument("--dividing", choices=ways, default="auto", help="how a length is divided into equal spaces")
    if name not in ("table", "pattern"):
        one.add_argument("--scale", default="auto", help="a standard scale such as 1:50; 1:1, or the sheet's own, by default")
    if name == "draw":
        one.add_argument("--out", required=True, type=Path, metavar="FILE", help="svg, pdf, png, csv or json")
        one.add_argument("--paper", default="A4", help="auto, A4, A3, A2, A1 or A0")
        one.add_argument("--lie", default="auto", help="auto, landscape or portrait")
        one.add_argument("--clean", action="store_true", help="leave the construction away")
        one.add_argument("--dpi", type=int, default=300, help="resolution of a PNG (72 to 1200)")
        one.add_argument("--gaps", action="store_true", help="with a gap plot of its curves")
        one.add_argument("--hatch", action="store_true", help="with its faces lightly hatched where they are seen")
        one.add_argument(
            "--grid", type=float, default=0.0, metavar="MM", help="with a faint isometric grid of so many mm under a picture"
        )
        one.add_argument("--space", action="store_true", help="with its space view in a free corner")
        one.add_argument("--table", action="store_true", help="with a curve table, or one of true lengths, beside the figure")
    else:
        one.add_argument("--json", action="store_true", help="print JSON")
    if name == "stray":
        one.add_argument("--hold", type=float, metavar="MM", help="the gap to stay within; the line's own width by default")
    if name in ("table", "draw"):
        one.add_argument(
            "--by",
            choices=("level", "upright", "angle", "lengths"),
            default="level",
            help="what the steps run along, or a solid's true lengths",
        )
        one.add_argument("--step", type=float, default=0.0, help="mm or degrees; one that gives some twenty rows by default")
        one.add_argument("--decimals", type=int, default=2, help="0 to 6")
        one.add_argument("--curve", type=int, default=1, help="which of the figure's curves, from 1")
    if name == "table":
        one.add_argument("--out", type=Path, metavar="FILE.csv", help="write CSV instead of printing")
    if name == "check":
        says = "what was measured on the paper, as “AB=71.4 angle_C=62 O-P3=44.1”; without it: what to measure"
        one.add_argument("--measured", metavar="SIZES", help=says)
        one.add_argument("--keep", action="store_true", help="note the check in the logbook")
        one.add_argument("--instrument", default="rule", help="what it was measured with: rule, dividers or protractor")
    if name == "pattern":
        _shop_options(one)
    if name == "hands":
        one.add_argument("--hands", type=int, default=1000, help="how many hands")
        one.add_argument("--seed", type=int, default=0, help="for the same hands again")


def _shop_options(one: argparse.ArgumentParser) -> None:
    """What is asked of a pattern for the shop."""
    for name, says in (
        ("seam-lap", "width of the lap along the seam"),
        ("base-lap", "width of the allowance along the base"),
        ("top-lap", "width of the allowance along the top or the cut"),
        ("thickness", "of the plate; 0 if not told"),
        ("sheet-long", "length of the sheet to be cut from"),
        ("sheet-wide", "width of the sheet to be cut from"),
    ):
        one.add_argument(f"--{name}", metavar="SIZE", help=says)
    one.add_argument(
        "--size-is", choices=("inside", "middle", "outside"), help="where on the plate the sizes given are measured"
    )
    one.add_argument("--material", choices=("steel", "aluminium", "copper", "brass", "card"), help="for the weight")
    one.add_argument(
        "--out", type=Path, metavar="FILE", help="svg at true size in layers, pdf, csv of points in order, or json"
    )
    one.add_argument("--tiles", choices=("A4", "A3", "A2", "A1"), default="", help="part a PDF into tiles of this paper")
