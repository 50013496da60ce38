"""What every command takes that runs a figure: which, its givens, and the conventions that it follows."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wishes import Asked
from wise_compass.drafting.wording import Style
from wise_compass.job.settings import HIDDEN_EDGES, SIDES, Settings
from wise_compass.terminal.shared.wishes import wish_option, wish_options

if TYPE_CHECKING:
    import argparse

    from wise_compass.drafting.figure import Figure
    from wise_compass.drafting.recorder import Conventions
    from wise_compass.drafting.run import Run


def figure_options(one: argparse.ArgumentParser, named: bool = True, scaled: bool = True) -> None:
    """The figure, its givens and conventions; ``named`` where the figure cannot be left away, ``scaled`` where a scale
    matters."""
    if named:
        one.add_argument("figure", help="a figure's id")
    one.add_argument(
        "givens", nargs="*", default=[], metavar="name=value", help="givens; the others take their defaults"
    )
    one.add_argument("--method", help="a method's id")
    wish_options(one, Settings, "projection", "lettering", "units", "dividing")
    wish_option(one, Asked("hidden", str, "", HIDDEN_EDGES))
    one.add_argument(
        "--sides", default="", metavar="SIDES", help="auto, usual or other for each auxiliary view, as in auto,other"
    )
    one.add_argument(
        "--job",
        type=Path,
        metavar="JOB",
        help="a job whose dimensions and figures' values may stand in the givens, as race/2 + 10",
    )
    if scaled:
        says = "a scale such as 1:50 or 1:40; 1:1, or the sheet's own, by default"
        one.add_argument("--scale", default="auto", help=says)


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


def style_of(args: argparse.Namespace) -> Style:
    return Style(args.units, lettering=args.lettering)


def settings_of(args: argparse.Namespace) -> Settings:
    """The settings of a job that is made for this one drawing."""
    return Settings(projection=args.projection, lettering=args.lettering, units=args.units, dividing=args.dividing)


def scale_of(args: argparse.Namespace) -> float:
    """The scale that a sheet is drawn at; raises :class:`Refused` for what is none."""
    from wise_compass.sheet.paper import scale_named

    return scale_named("1:1" if args.scale == "auto" else args.scale) or 1.0


def conventions_of(args: argparse.Namespace) -> Conventions:
    from wise_compass.drafting.recorder import Conventions
    from wise_compass.job.person import own_drafter

    sides = tuple(side.strip() for side in args.sides.split(",")) if args.sides else ()
    for side in sides:
        if side not in SIDES:
            *most, last = SIDES
            ways = f"{', '.join(most)} or {last}"
            raise Refused("sides", f"“{side}” is no side of a view; --sides takes {ways}, one for each auxiliary view.")
    return Conventions(
        args.projection, args.lettering, args.dividing, sides, hidden=args.hidden or "usual", drafter=own_drafter()
    )


def figure_of(args: argparse.Namespace) -> Figure:
    from wise_compass.drafting.figure import make
    from wise_compass.figures.catalogue import figure_named

    kind = figure_named(args.figure)
    typed: dict[str, object] = dict(_givens(args.givens))
    if args.job is not None:
        from wise_compass.job.dimensions import Names, link_of
        from wise_compass.job.store import load

        names, style = Names(load(args.job)), style_of(args)
        for name, words in _givens(args.givens).items():
            given = kind.givens.get(name)
            link = link_of(names, given, words, style) if given is not None else None
            if given is not None and link is not None:
                typed[name] = names.linked(given, link)
    return make(kind, typed, style_of(args))


def run_of(args: argparse.Namespace) -> Run:
    from wise_compass.drafting.run import run

    return run(figure_of(args), args.method, conventions_of(args))
