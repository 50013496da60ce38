"""The command line. Qt is imported only to open the desk or to make a PNG."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from wise_compass import __version__
from wise_compass.drafting.refusals import Refused

COMMANDS = ("list", "solve", "draw", "hands", "slips", "print")
EXTENSIONS = ("svg", "pdf", "png", "csv", "json")


class _Parser(argparse.ArgumentParser):
    """Complains in one line, like every other refusal."""

    def error(self, message: str) -> Any:
        raise Refused("", f"{message[0].upper()}{message[1:]}. See {self.prog} --help.")


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="wise-compass", description="Derives, walks and proves the constructions of technical drawing.",
                     epilog="Without a command it opens the desk, with JOB (a job file, or an SVG drawn here) if given.")
    parser.add_argument("--version", action="version", version=f"wise-compass {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, says: str) -> argparse.ArgumentParser:
        return commands.add_parser(name, help=says, description=says)

    one = command("list", "List families, figures, givens, methods and values.")
    one.add_argument("--json", action="store_true", help="print JSON")
    for name, says in (("solve", "Derive a figure: points, values, proofs and steps."),
                       ("draw", "Draw a figure at true scale into a file."),
                       ("hands", "How far unsteady hands scatter each point and value."),
                       ("slips", "What each known slip would make of the values.")):
        one = command(name, says)
        one.add_argument("figure", help="a figure's id")
        one.add_argument("givens", nargs="*", metavar="name=value", help="givens; the others take their defaults")
        one.add_argument("--method", help="a method's id")
        one.add_argument("--projection", choices=("first", "third"), default="first", help="angle of projection")
        one.add_argument("--lettering", choices=("primes", "numbers"), default="primes", help="how views are lettered")
        if name == "draw":
            one.add_argument("--out", required=True, type=Path, metavar="FILE", help="svg, pdf, png, csv or json")
            one.add_argument("--paper", default="A4", help="auto, A4, A3, A2, A1 or A0")
            one.add_argument("--lie", default="auto", help="auto, landscape or portrait")
            one.add_argument("--scale", default="auto", help="auto, or a standard scale such as 1:2")
            one.add_argument("--clean", action="store_true", help="leave the construction away")
            one.add_argument("--dpi", type=int, default=300, help="resolution of a PNG (72 to 1200)")
        else:
            one.add_argument("--json", action="store_true", help="print JSON")
        if name == "hands":
            one.add_argument("--hands", type=int, default=1000, help="how many hands")
            one.add_argument("--seed", type=int, default=0, help="for the same hands again")
    one = command("print", "Print a whole job to PDF, a page a sheet.")
    one.add_argument("job", type=Path)
    one.add_argument("--out", required=True, type=Path, metavar="FILE.pdf")
    one.add_argument("--clean", action="store_true", help="leave the construction away")
    return parser


def _givens(pairs: Sequence[str]) -> dict[str, str]:
    typed = {}
    for pair in pairs:
        name, equals, value = pair.partition("=")
        if not equals:
            raise Refused("", f"“{pair}” is no given; write name=value, such as long=152.")
        typed[name.strip()] = value
    return typed


def _run(args: argparse.Namespace) -> Any:
    from wise_compass.drafting.draft import Conventions
    from wise_compass.drafting.figure import figure_named, make
    from wise_compass.drafting.run import run

    figure = make(figure_named(args.figure), _givens(args.givens))
    return run(figure, args.method, Conventions(args.projection, args.lettering))


def _list(args: argparse.Namespace) -> None:
    from wise_compass import report

    print(json.dumps(report.listing(), ensure_ascii=False, indent=1) if args.json else report.listing_text())


def _solve(args: argparse.Namespace) -> None:
    from wise_compass.outputs.record import record

    made = _run(args)
    if args.json:
        print(json.dumps(record(made), ensure_ascii=False, indent=1))
    else:
        from wise_compass.report import run_text

        print(run_text(made))


def _hands(args: argparse.Namespace) -> None:
    from wise_compass import report
    from wise_compass.drafting.run import run_hands

    made = _run(args)
    result = run_hands(made.figure, made.method.id, args.hands, args.seed, made.conventions)
    data = report.hands_record(made, result, args.seed)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else report.hands_text(made, result))


def _slips(args: argparse.Namespace) -> None:
    from wise_compass import report
    from wise_compass.drafting.run import run_slips

    made = _run(args)
    slips = run_slips(made.figure, made.method.id, made.conventions)
    data = report.slips_record(made, slips)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else report.slips_text(data))


def _draw(args: argparse.Namespace) -> None:
    from wise_compass.outputs import record, svg

    extension = args.out.suffix.lower().lstrip(".")
    if extension not in EXTENSIONS:
        raise Refused("out", f"“{args.out.name}” has no ending known here; end it with {', '.join(EXTENSIONS)}.")
    if not 72 <= args.dpi <= 1200:
        raise Refused("dpi", f"dpi is {args.dpi}; it goes from 72 to 1200. {'Raise' if args.dpi < 72 else 'Lower'} dpi.")
    made = _run(args)
    if extension in ("csv", "json"):
        text = record.csv_text(made) if extension == "csv" else json.dumps(record.record(made), ensure_ascii=False,
                                                                           indent=1) + "\n"
        _write(args.out, text)
        return
    from wise_compass.job.build import build_sheet
    from wise_compass.job.model import Entry, Job, Settings, SheetPlan

    figure = made.figure
    entry = Entry(figure.id, figure.title, made.method.id, figure.stored(), id="drawn")
    plan = SheetPlan(figure.title, (entry,), args.paper, args.lie, args.scale)
    job = Job("Wise Compass", (plan,), Settings(args.projection, args.lettering))
    sheet = build_sheet(job, 0, {entry.id: made})
    if extension == "svg":
        _write(args.out, svg.svg_text(sheet.drawing, args.clean))
    elif extension == "pdf":
        _write_pdf(args.out, [sheet.drawing], figure.title, args.clean)
    else:
        from wise_compass.desk.raster import write_png

        write_png(args.out, sheet.drawing, args.dpi, args.clean)
    print(sheet.says)


def _write(path: Path, text: str) -> None:
    from wise_compass.job.store import write_atomically

    write_atomically(path, text)


def _write_pdf(path: Path, drawings: Sequence[Any], title: str, clean: bool) -> None:
    from wise_compass.outputs.pdf import write_pdf

    try:
        write_pdf(path, drawings, title, clean)
    except OSError as error:
        raise Refused("out", f"{path} cannot be written: {(error.strerror or str(error)).lower()}. Choose another "
                             "place.") from None


def _print(args: argparse.Namespace) -> None:
    from wise_compass.job.build import build_sheet
    from wise_compass.job.store import load

    job = load(args.job)
    if not job.sheets:
        raise Refused("job", f"{args.job.name} has no sheets; add a figure to it first.")
    sheets = [build_sheet(job, index) for index in range(len(job.sheets))]
    _write_pdf(args.out, [sheet.drawing for sheet in sheets], job.title, args.clean)
    for plan, sheet in zip(job.sheets, sheets, strict=True):
        print(f"{plan.title}: {sheet.says}")


def _desk(arguments: Sequence[str]) -> int:
    parser = _Parser(prog="wise-compass")
    parser.add_argument("job", nargs="?", type=Path)
    parser.add_argument("--demo", action="store_true")
    parser.add_argument("--until-painted", action="store_true")
    args = parser.parse_args(arguments)
    from wise_compass.desk.start import open_desk

    status: int = open_desk(args.job, args.demo, args.until_painted)
    return status


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; returns the exit status: 2 for input that cannot be, with one line on standard error."""
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    try:
        if not arguments or (arguments[0] not in COMMANDS and not {"-h", "--help", "--version"} & set(arguments)):
            return _desk(arguments)
        args = _parser().parse_args(arguments)
        handlers = {"list": _list, "solve": _solve, "hands": _hands, "slips": _slips, "draw": _draw, "print": _print}
        handlers[args.command](args)
        sys.stdout.flush()
    except Refused as refusal:
        given = refusal.given
        named = f"{given}: " if given and given not in refusal.says.split() else ""
        print(f"wise-compass: {named}{' '.join(refusal.says.split())}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    return 0
