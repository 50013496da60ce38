"""The command line. Qt is imported only to open the desk or to make a PNG."""

from __future__ import annotations

import gc
import io
import os
import re
import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, TextIO

from wise_compass.drafting.refusals import Refused
from wise_compass.terminal.names import names

if TYPE_CHECKING:
    import argparse


def _desk(arguments: Sequence[str]) -> int:
    options = {word for word in arguments if word.startswith("--")}
    jobs = [Path(word) for word in arguments if word not in options]
    if options - {"--demo", "--until-painted"} or len(jobs) > 1:
        raise Refused("", f"“{' '.join(arguments)}” is no way to open the desk. See wise-compass --help.")
    gc.disable()  # nothing is garbage yet; the desk enables it again once it has painted
    from wise_compass.desk.start import open_desk

    status: int = open_desk(jobs[0] if jobs else None, "--demo" in options, "--until-painted" in options)
    return status


def _pipe_closed() -> int:
    """Whoever read the output has enough of it."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


COMMANDS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069]")
"""Signs by which a terminal is told to do something, or by which words are turned round."""


class _Plain(io.TextIOBase):
    """A stream on which a stranger's words can command nothing: signs that would are written as their escapes."""

    def __init__(self, stream: TextIO) -> None:
        self.stream = stream

    def write(self, words: str) -> int:
        self.stream.write(COMMANDS.sub(lambda sign: sign[0].encode("unicode_escape").decode("ascii"), words))
        return len(words)

    def flush(self) -> None:
        self.stream.flush()

    def fileno(self) -> int:
        return self.stream.fileno()

    def isatty(self) -> bool:
        return self.stream.isatty()


@contextmanager
def _plainly() -> Iterator[None]:
    """Words go out as UTF-8 whatever the terminal claims, for the JSON is; where output is closed they go nowhere."""
    before = sys.stdout, sys.stderr
    for name in ("stdout", "stderr"):
        stream = getattr(sys, name)
        if stream is None:
            stream = open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115
        elif isinstance(stream, io.TextIOWrapper) and stream.encoding.lower().replace("-", "") != "utf8":
            stream.reconfigure(encoding="utf-8", errors="backslashreplace")
        setattr(sys, name, _Plain(stream))
    try:
        yield
    finally:
        sys.stdout, sys.stderr = before


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; returns the exit status: 2 for input that cannot be, with one line on standard error."""
    with _plainly():
        return _main(list(sys.argv[1:] if arguments is None else arguments))


def _main(arguments: list[str]) -> int:
    args: argparse.Namespace | None = None
    try:
        if not arguments or (arguments[0] not in names() and not {"-h", "--help", "--version"} & set(arguments)):
            return _desk(arguments)
        from wise_compass.outputs.files import forget_read
        from wise_compass.terminal.parsing import command, parsed

        forget_read()
        args = parsed(arguments)
        command(args.command).handle(args)
        sys.stdout.flush()
    except Refused as refusal:
        given, says = refusal.given, refusal.says
        if args is not None and hasattr(args, "units"):
            from wise_compass.terminal.shared.figures import style_of

            says = refusal.words(style_of(args))
        named = f"{given}: " if given and given not in says.split() else ""
        print(f"wise-compass: {named}{' '.join(says.split())}", file=sys.stderr)
        return 2
    except KeyboardInterrupt:
        print("wise-compass: stopped.", file=sys.stderr)
        return 130
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
        from wise_compass.care.faults import note_fault

        noted = note_fault(error, " ".join(arguments))
        where = f"a report that can be sent by hand is in {noted}" if noted else "no report of it could be written"
        words = f"a fault of its own ({type(error).__name__}: {error}); {where}."
        print(f"wise-compass: {' '.join(words.split())}", file=sys.stderr)
        return 70
    return 0
