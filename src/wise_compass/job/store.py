"""The job file on disk: read with care, written so that a kill at any moment leaves the old file or the new one."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from wise_compass.drafting.figure import OWN_WAY
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.dimensions import NAME, settled
from wise_compass.job.model import FORMAT, VERSION, Entry, Job, from_data, to_data
from wise_compass.outputs.files import write_whole

FURTHEST = 5000.0
"""mm that a figure may be moved on its sheet."""
LARGEST = 20_000_000
"""Bytes; a job of five hundred full sheets takes a twentieth of it."""


@cache
def schema() -> dict[str, Any]:
    """The published JSON schema of a job file."""
    data: dict[str, Any] = json.loads((Path(__file__).parent / "schema.json").read_text("utf-8"))
    return data


@cache
def _validator() -> Any:
    import fastjsonschema

    return fastjsonschema.compile(schema())


def parse_job(text: str, name: str = "The file") -> Job:
    """The job in ``text``; raises :class:`Refused` saying what kind of file it is instead."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise Refused(
            "",
            f"{name} is damaged or is no job file: it is not readable as JSON. It "
            "is left as it is; open a copy from before.",
        ) from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise Refused("", f"{name} is not a Wise Compass job. It is left as it is; choose another file.")
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise Refused(
            "",
            f"{name} was written by a newer Wise Compass (job version {version}; this one reads up to "
            f"{VERSION}). It is left as it is; update Wise Compass to open it.",
        )
    import fastjsonschema

    try:
        _validator()(data)
        job = from_data(data)
    except fastjsonschema.JsonSchemaException as error:
        raise _damaged(name, str(error).replace("data", "the job", 1)) from None
    except (RecursionError, ValueError, TypeError, OverflowError) as error:
        raise _damaged(name, f"its parts do not go together ({type(error).__name__})") from None
    if fault := _fault_of(job):
        raise _damaged(name, fault)
    return settled(job)


def _damaged(name: str, what: str) -> Refused:
    return Refused("", f"{name} is damaged: {what}. It is left as it is; mend that place or open a copy from before.")


def _fault_of(job: Job) -> str:
    """What of a job no figure could take, and where; empty for a job that can be opened and saved again."""
    try:
        job_text(job).encode("utf-8")
    except (ValueError, RecursionError):
        return "its words or numbers cannot be written again, as with half a surrogate pair or a number that is none"
    names = [one.name for one in job.dimensions]
    for name in names:
        if not NAME.fullmatch(name) or names.count(name) > 1:
            return f"“{name}” is no name of one dimension"
    for s, sheet in enumerate(job.sheets, 1):
        for e, entry in enumerate(sheet.entries, 1):
            if fault := _fault_in(entry):
                return f"sheet {s}, figure {e}: {fault}"
    return ""


def _fault_in(entry: Entry) -> str:
    try:
        kind = figure_named(entry.figure)
    except Refused as refusal:
        return refusal.says.rstrip(".")
    if entry.method and entry.method not in (*kind.methods, OWN_WAY):
        return f"{kind.title} has no method “{entry.method[:40]}”"
    for where, names in (("givens", entry.givens), ("typed", entry.typed), ("links", entry.links)):
        if strange := [name for name in names if name not in kind.givens]:
            return f"{kind.title} has no given “{strange[0][:40]}” ({where})"
    if wrong := next((name for name, link in entry.links.items() if link.units not in ("mm", "in")), ""):
        return f"the units of {wrong} are neither mm nor in (links)"
    for name, value in entry.givens.items():
        if not _plain(value, 3):
            return f"{name} is neither a number, a word nor rows of numbers"
    if entry.shift is not None and not all(abs(x) <= FURTHEST for x in entry.shift):
        return f"its shift is no place within {FURTHEST:.0f} mm"
    return ""


def _plain(value: object, levels: int) -> bool:
    """Whether a stored given is a finite number, a word or truth, or lists of these, so many levels deep."""
    if isinstance(value, (list, tuple)):
        return levels > 0 and len(value) <= 1000 and all(_plain(one, levels - 1) for one in value)
    if isinstance(value, (int, float)) and not isinstance(value, bool):
        return abs(value) < 1e9  # false of what is no number
    return isinstance(value, (str, bool)) or value is None


def load(path: Path) -> Job:
    """Read a job file; raises :class:`Refused` for one that is missing, damaged, foreign, newer or absurdly large."""
    try:
        if path.exists() and not path.is_file():
            raise Refused("", f"{path} is no file that a job could be read from. Choose another.")
        size = path.stat().st_size
        if size > LARGEST:
            raise Refused(
                "",
                f"{path.name} is {size / 1e6:.0f} MB; a job is under {LARGEST / 1e6:.0f} MB. "
                "It is left as it is; choose another file.",
            )
        text = path.read_text("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused("", f"{path.name} is not a Wise Compass job. It is left as it is; choose another file.") from None
    except OSError as error:
        raise Refused("", f"{path} cannot be read: {(error.strerror or str(error)).lower()}. Check the path.") from None
    return parse_job(text, path.name)


def stamp_of(path: Path | None) -> tuple[int, int, int] | None:
    """What tells that a file is still the one that was read: its node, its size and when it was written; None for
    none."""
    if path is None:
        return None
    try:
        told = path.stat()
    except OSError:
        return None
    return told.st_ino, told.st_size, told.st_mtime_ns


def job_text(job: Job) -> str:
    """The job as its file's text."""
    return json.dumps(to_data(job), ensure_ascii=False, indent=1) + "\n"


def save(job: Job, path: Path) -> None:
    """Write a job file atomically; raises :class:`Refused`."""
    write_whole(path, job_text(job))
