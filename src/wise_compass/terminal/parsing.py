"""What the command line takes: a command is found by its module, and only its own parser is built."""

from __future__ import annotations

import argparse
import os
from collections.abc import Callable, Sequence
from importlib import import_module
from typing import Any, Protocol, cast

from wise_compass import __version__
from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.names import names
from wise_compass.terminal.shared.saying import STATUSES

PROGRAM = "wise-compass"
EPILOG = "Without a command it opens the desk, with JOB (a job file, or an SVG drawn here) if given. Exit status: "
EPILOG += "; ".join(f"{status}, {says}" for status, says in STATUSES.items()) + "."
WIDE = 80
"""Columns of help where no terminal tells."""


class Command(Protocol):
    """A module of :mod:`wise_compass.terminal.commands`."""

    SAYS: str
    options: Callable[[argparse.ArgumentParser], None]
    handle: Callable[[argparse.Namespace], None]


def command(name: str) -> Command:
    """The command of a name that stands among :func:`names`."""
    return cast(Command, import_module(f"wise_compass.terminal.commands.{name}"))


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
    if name in names():
        asked = command(name)
        known: argparse.ArgumentParser = _Parser(prog=f"{PROGRAM} {name}", description=asked.SAYS)
        asked.options(known)
        args, others = known.parse_known_args(arguments[1:], argparse.Namespace(command=name, whole=whole_parser))
    else:
        known = parser()
        args, others = known.parse_known_args(arguments)
    strays = [word for word in others if word.startswith("-") or "=" not in word or "givens" not in args]
    if strays:
        known.error(f"unrecognized arguments: {' '.join(strays)}")
    if others:
        args.givens = [*args.givens, *others]
    return args


def parser() -> argparse.ArgumentParser:
    """The parser of the commands, for help about them; complains by raising :class:`Refused`."""
    whole = _Parser(
        prog=PROGRAM, description="Derives, walks and proves the constructions of technical drawing.", epilog=EPILOG
    )
    whole.add_argument("--version", action="version", version=f"{PROGRAM} {__version__}")
    commands = whole.add_subparsers(dest="command", required=True, parser_class=_Parser)
    for name in names():
        says = command(name).SAYS
        commands.add_parser(name, help=says, description=says)
    return whole


def whole_parser(figures: bool = True) -> argparse.ArgumentParser:
    """The parser of the commands with all that each takes, for manual pages and the shell's completion; with
    ``figures`` what is a figure's id can only be one of the catalogue's."""
    from wise_compass.figures.catalogue import ENTERED

    whole = parser()
    commands = next(action for action in whole._actions if isinstance(action, argparse._SubParsersAction))
    for name, one in commands.choices.items():
        command(name).options(one)
        for action in one._actions:
            if figures and action.dest in ("figure", "figures"):
                action.choices = list(ENTERED)
    return whole
