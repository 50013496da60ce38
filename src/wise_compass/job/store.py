"""The job file on disk: read with care, written so that a kill at any moment leaves the old file or the new one."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.job.model import FORMAT, VERSION, Job, from_data, to_data
from wise_compass.outputs.files import write_whole

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
            f"{name} is damaged or is no job file: it is not readable as JSON. It is left as it is; open a copy from before.",
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
    except fastjsonschema.JsonSchemaException as error:
        raise Refused(
            "",
            f"{name} is damaged: {str(error).replace('data', 'the job', 1)}. It is left as it is; "
            "mend that place or open a copy from before.",
        ) from None
    return from_data(data)


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


def job_text(job: Job) -> str:
    """The job as its file's text."""
    return json.dumps(to_data(job), ensure_ascii=False, indent=1) + "\n"


def save(job: Job, path: Path) -> None:
    """Write a job file atomically; raises :class:`Refused`."""
    write_whole(path, job_text(job))
