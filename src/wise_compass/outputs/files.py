"""Files read, and written whole: a kill at any moment leaves the old file or the new one, never half of either."""

from __future__ import annotations

import glob
import os
from contextlib import suppress
from pathlib import Path

from wise_compass.drafting.refusals import Refused

JOB_FORMAT = "wise-compass-job"
"""What a job file says it is; known here, so that no output ever replaces one."""
_ORPHANED = 24 * 3600.0
"""Seconds after which a half written file is taken to be of a process that is dead."""


LARGEST_TEXT = 20_000_000
"""Bytes of a text that is read."""


def read_text(path: Path, what: str) -> str:
    """A file's text; raises :class:`Refused` for one that is missing, no text, or absurdly large."""
    try:
        if not path.is_file():
            raise Refused("", f"{path} is no file that {what} could be read from. Check the path.")
        if path.stat().st_size > LARGEST_TEXT:
            raise Refused("", f"{path.name} is over {LARGEST_TEXT // 1_000_000} MB; it is left unread.")
        return path.read_text("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused("", f"{path.name} is no text in UTF-8, so it is no {what}.") from None
    except OSError as error:
        raise Refused("", f"{path} cannot be read: {(error.strerror or str(error)).lower()}. Check the path.") from None


def write_output(path: Path, content: str | bytes) -> None:
    """As :func:`write_whole`, for what is made from a job: refuses to replace a job file."""
    if _is_job(path):
        raise Refused("out", f"{path.name} is a job file; it is left as it is. Write to another name.")
    write_whole(path, content)


def _is_job(path: Path) -> bool:
    import json

    try:
        if not path.is_file() or path.read_bytes()[:64].lstrip(b"\xef\xbb\xbf \t\r\n")[:1] != b"{":
            return False
        data = json.loads(path.read_text("utf-8-sig"))
    except (OSError, ValueError, RecursionError):
        return False
    return isinstance(data, dict) and data.get("format") == JOB_FORMAT


def _refuse_what_is_no_file(path: Path) -> None:
    """A device, a pipe or a folder is never replaced, not even by one who could; nor is a file kept read-only."""
    if not path.exists():
        return
    if not path.is_file():
        kind = "a folder" if path.is_dir() else "a device or a pipe"
        raise Refused("out", f"{path} is {kind}, not a file. Write to another name.")
    if not path.stat().st_mode & 0o222:
        raise Refused(
            "out", f"{path.name} is read-only; it is left as it is. Make it writable, or write to another name."
        )


def _sweep(path: Path) -> None:
    """Take away what processes that died left of writing this very file."""
    import time

    for part in path.parent.glob(f".{glob.escape(path.name)}.*.part"):
        with suppress(OSError):
            if time.time() - part.stat().st_mtime > _ORPHANED:
                part.unlink()


def write_whole(path: Path, content: str | bytes) -> None:
    """Replace ``path`` by ``content`` (text as UTF-8) in one move, through a link and keeping the file's mode.

    Raises :class:`Refused` where it cannot be written, and for what is no regular file or is read-only.
    """
    import tempfile

    held = None
    try:
        path = path.resolve()
        _refuse_what_is_no_file(path)
        _sweep(path)
        handle, held = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
        with os.fdopen(handle, "wb") as out:
            out.write(content.encode("utf-8") if isinstance(content, str) else content)
            out.flush()
            os.fsync(out.fileno())
        if path.exists():
            os.chmod(held, path.stat().st_mode & 0o777)
        else:
            umask = os.umask(0)
            os.umask(umask)
            os.chmod(held, 0o666 & ~umask)
        os.replace(held, path)
        directory = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(directory)
        finally:
            os.close(directory)
    except OSError as error:
        if held is not None:
            with suppress(OSError):
                os.unlink(held)
        raise Refused(
            "", f"{path} cannot be written: {(error.strerror or str(error)).lower()}. Save it under another name."
        ) from None
