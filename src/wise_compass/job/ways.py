"""The ways of their own that a person keeps, from job to job: a file each, as plain lines, in the folder for data."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.files import own_folder, sweep_parts, write_whole
from wise_compass.own.program import Program, program_of

MOST_KEPT, MOST_BYTES = 500, 200_000
ENDING = ".way"


class Kept(NamedTuple):
    """A construction and the file that it is kept in."""

    path: Path
    program: Program


def folder() -> Path:
    """Where they are kept."""
    return own_folder("XDG_DATA_HOME", ".local", "share") / "ways"


def kept(figure: str = "") -> Iterator[Kept]:
    """Those that are kept, by their files' names; of one figure only. What is no construction is passed over."""
    place = folder()
    if not place.is_dir():
        return
    for path in sorted(place.glob(f"*{ENDING}"))[:MOST_KEPT]:
        try:
            if path.stat().st_size > MOST_BYTES:
                continue
            program = program_of(path.read_text("utf-8"))
        except (OSError, UnicodeDecodeError, Refused):
            continue
        if not figure or program.figure == figure:
            yield Kept(path, program)


def keep(program: Program) -> Path:
    """Keep a construction under its title, in the place of one that was kept under the same; raises
    :class:`Refused` where it cannot be written."""
    stem = re.sub(r"[^a-z0-9]+", "-", program.title.lower()).strip("-")[:60] or "way"
    path = folder() / f"{stem}{ENDING}"
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if not path.exists() and sum(1 for _ in path.parent.glob(f"*{ENDING}")) >= MOST_KEPT:
            raise Refused("keep", f"{MOST_KEPT} ways are kept already. Remove one from {path.parent} first.")
        sweep_parts(path.parent)  # each has a file of its own, which is hardly ever written again
        write_whole(path, program.text)
    except OSError as error:
        raise Refused("keep", f"{path} cannot be written: {error.strerror}. Save it beside the job instead.") from None
    return path
