"""The command line. Qt is imported only to open the desk or to make a PNG."""

from __future__ import annotations

import builtins
import gc
import io
import json
import os
import sys
from collections.abc import Sequence
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wise_compass import commands, papercommands, photocommands
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import Style, are
from wise_compass.papercommands import pixels

if TYPE_CHECKING:
    import argparse


def _givens(pairs: Sequence[str]) -> dict[str, str]:
    typed: dict[str, str] = {}
    for pair in pairs:
        name, equals, value = pair.partition("=")
        name = name.strip()
        if not equals:
            raise Refused("", f"“{pair}” is no given; write name=value, such as long=152.")
        if name in typed:
            raise Refused(name, f"{name} is told twice, {typed[name]} and {value}; tell it once.")
        typed[name] = value
    return typed


def _style(args: argparse.Namespace) -> Style:
    return Style(args.units, lettering=args.lettering)


def _scale(args: argparse.Namespace) -> float:
    """The scale that a sheet is drawn at; raises :class:`Refused` for one that is not standard."""
    from wise_compass.sheet.paper import scale_named

    return scale_named("1:1" if args.scale == "auto" else args.scale) or 1.0


def _conventions(args: argparse.Namespace) -> Any:
    from wise_compass.drafting.recorder import Conventions
    from wise_compass.job.person import own_drafter

    sides = tuple(side.strip() for side in args.sides.split(",")) if args.sides else ()
    for side in sides:
        if side not in ("auto", "usual", "other"):
            raise Refused(
                "sides", f"“{side}” is no side of a view; --sides takes auto, usual or other, one for each auxiliary view."
            )
    return Conventions(args.projection, args.lettering, args.dividing, sides, hidden=args.hidden, drafter=own_drafter())


def _run(args: argparse.Namespace) -> Any:
    from wise_compass.drafting.run import run

    return run(_figure(args), args.method, _conventions(args))


def _figure(args: argparse.Namespace) -> Any:
    from wise_compass.drafting.catalogue import figure_named
    from wise_compass.drafting.figure import make

    kind = figure_named(args.figure)
    typed: dict[str, object] = dict(_givens(args.givens))
    if args.job is not None:
        from wise_compass.job.dimensions import Names, link_of
        from wise_compass.job.store import load

        names, style = Names(load(args.job)), _style(args)
        for name, words in _givens(args.givens).items():
            given = kind.givens.get(name)
            link = link_of(names, given, words, style) if given is not None else None
            if given is not None and link is not None:
                typed[name] = names.linked(given, link)
    return make(kind, typed, _style(args))


def _list(args: argparse.Namespace) -> None:
    from wise_compass import report

    print(json.dumps(report.listing(), ensure_ascii=False, indent=1) if args.json else report.listing_text())


def _solve(args: argparse.Namespace) -> None:
    from wise_compass.outputs.record import record

    scale = _scale(args)
    made = _run(args)
    if args.json:
        print(json.dumps(record(made, scale), ensure_ascii=False, indent=1))
    else:
        from wise_compass.report import run_text

        print(run_text(made, _style(args), scale))


def _hands(args: argparse.Namespace) -> None:
    from wise_compass import report
    from wise_compass.drafting.run import run_hands

    scale = _scale(args)
    made = _run(args)
    if args.seed < 0:
        raise Refused("seed", f"seed is {args.seed}; it is a whole number from 0 up. Raise seed to 0.")
    result = run_hands(made.figure, made.method.id, args.hands, args.seed, made.conventions, scale)
    data = report.hands_record(made, result, args.seed)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else report.hands_text(made, result, _style(args)))


def _slips(args: argparse.Namespace) -> None:
    from wise_compass import report
    from wise_compass.drafting.run import run_slips

    made = _run(args)
    slips = run_slips(made.figure, made.method.id, made.conventions, usual=True)
    data = report.slips_record(made, slips)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else report.slips_text(data))


def _check(args: argparse.Namespace) -> None:
    from wise_compass.study import verdicts
    from wise_compass.study.judge import Judge
    from wise_compass.study.measures import INSTRUMENTS, read_measured
    from wise_compass.study.watch import what_to_measure

    scale, style = _scale(args), _style(args)
    if args.instrument not in INSTRUMENTS or args.instrument == "photograph":
        raise Refused(
            "instrument",
            f"“{args.instrument}” measures nothing here; take {', '.join(one for one in INSTRUMENTS if one != 'photograph')}.",
        )
    if args.photo is not None:
        from wise_compass.camera.judging import judged
        from wise_compass.photocommands import read_told

        if args.measured is not None:
            raise Refused("photo", "A check takes measurements or a photograph; leave one of them away.")
        reading = read_told(args, _problem(args) if args.figure else None)
        _tell_check(args, reading.laid.run, reading.laid.scale, judged(reading), "photograph")
        return
    if not args.figure:
        raise Refused("figure", "Name the figure that is checked, or a photograph of its sheet with --photo.")
    made = _run(args)
    judge = Judge(made, scale)
    if args.measured is not None:
        taken = read_measured(made, args.measured, args.instrument, style)
        _tell_check(args, made, scale, verdicts.check(judge, taken, args.instrument), args.instrument)
        return
    watch = what_to_measure(judge, args.instrument)
    data = verdicts.watch_record(watch)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else verdicts.watch_text(watch, style))


def _tell_check(args: argparse.Namespace, made: Any, scale: float, checked: Any, instrument: str) -> None:
    """Print a check, and note it in the logbook where that is asked."""
    from wise_compass.study import verdicts

    if args.keep:
        from wise_compass.job.person import whoever
        from wise_compass.logbook.store import Logbook
        from wise_compass.practice.marking import marked_of, noted

        Logbook().note([noted(made, scale, marked_of(checked), "check", whoever(), None, instrument)])
    data = verdicts.record(checked)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else verdicts.text(checked, _style(args)))


def _problem(args: argparse.Namespace) -> Any:
    """What a photograph shows, where figure and givens are told."""
    from wise_compass.drafting.catalogue import method_named
    from wise_compass.practice.problems import Problem

    figure = _figure(args)
    method = method_named(type(figure), args.method).id
    return Problem(figure.id, method, figure.stored(), scale=_scale(args), projection=args.projection)


def _stray(args: argparse.Namespace) -> None:
    from wise_compass import report
    from wise_compass.sheet.inks import INKS

    limit = INKS["outline"].width if args.hold is None else args.hold
    if not 0.0001 <= limit <= 1000:
        raise Refused("hold", f"hold is {limit:g} mm; it goes from 0.0001 to 1000. {'Raise' if limit < 1 else 'Lower'} hold.")
    data = report.stray_record(_run(args), limit)
    print(json.dumps(data, ensure_ascii=False, indent=1) if args.json else report.stray_text(data))


def _table_wish(args: argparse.Namespace) -> Any:
    from wise_compass.study.tables import TableWish

    if not 0 <= args.step < 1e6:
        raise Refused("step", f"step is {args.step:g}; it must be a positive number of mm or degrees. Change step.")
    return TableWish(args.by, args.step, args.decimals, args.curve - 1, on_sheet=True)


def _table(args: argparse.Namespace) -> None:
    from wise_compass.outputs.write import ending_of
    from wise_compass.study.tables import table_of

    if args.out is not None:
        ending_of(args.out, ("csv",))
    wish = _table_wish(args)
    made = _run(args)
    table = table_of(made.figure, made.method.id, wish, _style(args))
    if args.out is not None:
        _write(args.out, table.csv())
        print(f"{table.title}: {are(len(table.rows), 'row')} in {args.out.name}.")
    elif args.json:
        print(json.dumps({"title": table.title, "columns": table.columns, "units": table.units, "rows": table.rows}, indent=1))
    else:
        from wise_compass.report import table_text

        print(table_text(table))


def _shop_wish(args: argparse.Namespace) -> dict[str, Any]:
    """What is told of a pattern's laps and plate, as an entry stores it."""
    from wise_compass.drafting.givens import Length
    from wise_compass.shop.wish import ShopWish

    told: dict[str, Any] = {}
    for name in ShopWish._fields:
        value = getattr(args, name)
        if value is None:
            continue
        told[name] = value
        if not isinstance(ShopWish._field_defaults[name], str):
            size = Length(0, name, least=0)
            size.name = name
            told[name] = size.read(value, _style(args))
    return told


def _pattern(args: argparse.Namespace) -> None:
    from wise_compass.job.build import about_sheet, run_entry, shop_of
    from wise_compass.job.model import Entry, Job, Settings, SheetPlan
    from wise_compass.outputs.cutting import ENDINGS, shop_record, write_pattern
    from wise_compass.outputs.write import ending_of
    from wise_compass.shop.shop import NO_PATTERN

    if args.out is not None:
        ending_of(args.out, ENDINGS)
    figure, style = _figure(args), _style(args)
    wish = {"thickness": 0.0, **_shop_wish(args)}
    entry = Entry(figure.id, figure.title, args.method or "", figure.stored(), shop=wish, id="drawn")
    settings = Settings(args.projection, args.lettering, args.units, dividing=args.dividing)
    shop = shop_of(entry, run_entry(entry, settings, None, figure))
    if shop is None:
        raise Refused("figure", NO_PATTERN.format(title=figure.title))
    if args.out is not None:
        about = about_sheet(Job("Wise Compass"), SheetPlan(figure.title, (entry,)))
        write_pattern(args.out, shop, figure.title, style, about, args.tiles)
        print(f"{figure.title}: its pattern is in {args.out.name}.")
    elif args.json:
        print(json.dumps(shop_record(shop), ensure_ascii=False, indent=1))
    else:
        from wise_compass.report import shop_text

        print(shop_text(shop, style))


def _draw(args: argparse.Namespace) -> None:
    from wise_compass.job.build import build_sheet
    from wise_compass.job.model import Entry, Job, Settings, SheetPlan
    from wise_compass.outputs.write import Output, ending_of, write

    ending_of(args.out)
    if not 72 <= args.dpi <= 1200:
        raise Refused("dpi", f"dpi is {args.dpi}; it goes from 72 to 1200. {'Raise' if args.dpi < 72 else 'Lower'} dpi.")
    if not (args.grid == 0 or 1 <= args.grid <= 1000):
        change = "Lower grid." if args.grid > 1000 else "Raise grid, or leave it away."
        raise Refused("grid", f"grid is {args.grid:g}; it goes from 1 to 1000 mm. {change}")
    made = _run(args)
    figure = made.figure
    table = _table_wish(args)._asdict() if args.table else {}
    if args.table or args.gaps:
        from wise_compass.study.tables import NO_CURVE

        if not made.courses and (args.gaps or not figure.true_lines()):
            raise Refused("figure", NO_CURVE.format(title=figure.title))
    wishes: dict[str, Any] = {
        "gaps": args.gaps,
        "space": args.space,
        "hatched": args.hatch,
        "table": table,
        "grid": args.grid,
        "hidden": args.hidden.replace("usual", ""),
    }
    entry = Entry(figure.id, figure.title, made.method.id, figure.stored(), sides=made.conventions.sides, id="drawn", **wishes)
    plan = SheetPlan(figure.title, (entry,), args.paper, args.lie, args.scale)
    settings = Settings(args.projection, args.lettering, args.units, dividing=args.dividing)
    sheet = build_sheet(Job("Wise Compass", (plan,), settings), 0, {entry.id: made})
    write(args.out, Output([sheet.drawing], made, sheet.scale, figure.title, args.clean, pixels(args.dpi)))
    if ending_of(args.out) not in ("csv", "json"):
        print(sheet.says)


def _write(path: Path, text: str) -> None:
    from wise_compass.outputs.files import write_output

    write_output(path, text)


HANDLERS = {
    "list": _list,
    "solve": _solve,
    "draw": _draw,
    "hands": _hands,
    "slips": _slips,
    "check": _check,
    "stray": _stray,
    "table": _table,
    "pattern": _pattern,
    **papercommands.HANDLERS,
    **commands.HANDLERS,
    **photocommands.HANDLERS,
}


def _desk(arguments: Sequence[str]) -> int:
    options = {word for word in arguments if word.startswith("--")}
    jobs = [Path(word) for word in arguments if word not in options]
    if options - {"--demo", "--until-painted"} or len(jobs) > 1:
        raise Refused("", f"“{' '.join(arguments)}” is no way to open the desk. See wise-compass --help.")
    gc.disable()  # nothing is garbage yet; the desk enables it again once it has painted
    for core in ("build", "demo", "history", "recovery"):  # before Qt: the binding reads the source of what comes after it
        import_module(f"wise_compass.job.{core}")
    plain = builtins.__import__
    for part in ("QtCore", "QtGui", "QtWidgets"):
        import_module(f"PySide6.{part}")
    builtins.__import__ = plain  # the binding's own looks in every source for switches of its interface; there are none here
    from wise_compass.desk.start import open_desk

    status: int = open_desk(jobs[0] if jobs else None, "--demo" in options, "--until-painted" in options)
    return status


def _pipe_closed() -> int:
    """Whoever read the output has enough of it."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


def _speak_plainly() -> None:
    """Words go out as UTF-8 whatever the terminal claims, for the JSON is; where output is closed they go nowhere."""
    for name in ("stdout", "stderr"):
        stream = getattr(sys, name)
        if stream is None:
            setattr(sys, name, open(os.devnull, "w", encoding="utf-8"))  # noqa: SIM115
        elif isinstance(stream, io.TextIOWrapper) and stream.encoding.lower().replace("-", "") != "utf8":
            stream.reconfigure(encoding="utf-8", errors="backslashreplace")


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; returns the exit status: 2 for input that cannot be, with one line on standard error."""
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    _speak_plainly()
    args: argparse.Namespace | None = None
    try:
        if not arguments or (arguments[0] not in HANDLERS and not {"-h", "--help", "--version"} & set(arguments)):
            return _desk(arguments)
        from wise_compass.arguments import parsed

        args = parsed(arguments)
        HANDLERS[args.command](args)
        sys.stdout.flush()
    except Refused as refusal:
        given = refusal.given
        says = refusal.words(_style(args)) if args is not None and hasattr(args, "units") else refusal.says
        named = f"{given}: " if given and given not in says.split() else ""
        print(f"wise-compass: {named}{' '.join(says.split())}", file=sys.stderr)
        return 2
    except OSError as error:
        if isinstance(error, BrokenPipeError):
            return _pipe_closed()
        print(
            f"wise-compass: what it has to tell could not be written: {(error.strerror or str(error)).lower()}.",
            file=sys.stderr,
        )
        _pipe_closed()
        return 2
    except Exception as error:  # a fault of the program's own: nobody is shown a traceback who did not ask for one
        if os.environ.get("WISE_COMPASS_TRACE"):
            raise
        words = f"a fault of its own ({type(error).__name__}: {error}); run again with WISE_COMPASS_TRACE=1 to see where."
        print(f"wise-compass: {' '.join(words.split())}", file=sys.stderr)
        return 70
    return 0
