"""Manual pages (man(7)), made of the parsers: one for the program, one a command."""

from __future__ import annotations

import argparse
import re
from collections.abc import Iterator
from datetime import date

from wise_compass import __version__
from wise_compass.terminal.parsing import EPILOG, PROGRAM, command, parser, whole_parser
from wise_compass.terminal.shared.saying import STATUSES

SECTION = "1"


def manual_pages(day: date) -> dict[str, str]:
    """Every page by the name of its file."""
    whole = whole_parser(figures=False)
    commands = next(action for action in whole._actions if isinstance(action, argparse._SubParsersAction)).choices
    pages = {f"{PROGRAM}.{SECTION}": "\n".join(_of_the_program(commands, day)) + "\n"}
    for name, one in commands.items():
        pages[f"{PROGRAM}-{name}.{SECTION}"] = "\n".join(_of_a_command(name, one, day)) + "\n"
    return pages


def _head(title: str, says: str, day: date) -> Iterator[str]:
    yield f'.TH {_plain(title.upper())} {SECTION} {day.isoformat()} "Wise Compass {__version__}" "User Commands"'
    yield ".SH NAME"
    yield f"{_plain(title)} \\- {_plain(says)}"


def _of_the_program(commands: dict[str, argparse.ArgumentParser], day: date) -> Iterator[str]:
    yield from _head(PROGRAM, "derives, walks and proves the constructions of technical drawing", day)
    yield from (
        ".SH SYNOPSIS",
        f".B {_plain(PROGRAM)}",
        "[\\-\\-demo] [JOB]",
        ".br",
        f".B {_plain(PROGRAM)}",
        "COMMAND …",
    )
    yield from (".SH DESCRIPTION", _plain(parser().description or ""), _plain(EPILOG.split(" Exit status")[0]))
    yield ".SH COMMANDS"
    for name in commands:
        yield from (".TP", f".BR {_plain(PROGRAM)}-{_plain(name)} ({SECTION})", _plain(command(name).SAYS))
    yield from _end()


def _of_a_command(name: str, one: argparse.ArgumentParser, day: date) -> Iterator[str]:
    says = command(name).SAYS.rstrip(".")
    yield from _head(f"{PROGRAM}-{name}", says[:1].lower() + says[1:], day)
    yield from (".SH SYNOPSIS", f".B {_plain(PROGRAM)} {_plain(name)}", _plain(_usage(one)))
    yield from (".SH DESCRIPTION", _plain(command(name).SAYS))
    for title, wanted in (("ARGUMENTS", False), ("OPTIONS", True)):
        shown = [action for action in one._actions if bool(action.option_strings) == wanted]
        if shown:
            yield f".SH {title}"
        for action in shown:
            yield from (".TP", ".B " + _plain(_called(action)), _plain((action.help or "").replace("%%", "%")) or "\\&")
    yield from _end()


def _usage(one: argparse.ArgumentParser) -> str:
    words = re.sub(r"\s+", " ", one.format_usage()).partition(one.prog)[2]
    return words.strip()


def _called(action: argparse.Action) -> str:
    value = action.metavar or (action.dest.upper() if action.nargs != 0 and action.option_strings else "")
    if not action.option_strings:
        return str(action.metavar or action.dest)
    shown = f" {{{','.join(map(str, action.choices))}}}" if action.choices else f" {value}" if value else ""
    return ", ".join(action.option_strings) + shown


def _end() -> Iterator[str]:
    yield ".SH EXIT STATUS"
    for status, says in STATUSES.items():
        yield from (".TP", f".B {status}", _plain(says))
    yield ".SH SEE ALSO"
    yield f"The handbook: {_plain(PROGRAM)} handbook, or F1 in the window."


def _plain(words: str) -> str:
    """Words in which the formatter finds no signs of its own."""
    words = words.replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{words}" if words[:1] in (".", "'") else words
