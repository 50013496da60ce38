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
_HEAD = 1 << 20
"""Bytes at the head of a file in which a job says what it is, even one that is damaged."""
_READ: set[str] = set()
"""What was read in, by its path: no output of this process replaces it."""


def own_folder(variable: str, *usual: str) -> Path:
    """The folder of this program under an XDG base directory: the one that ``variable`` tells, or ``usual`` under the
    home folder. One that is told relative is ignored, as the standard has it."""
    told, home = os.environ.get(variable, ""), os.path.expanduser("~")
    if not os.path.isabs(home):  # nobody's: no HOME is told, and the system knows of none
        import tempfile

        home = os.path.join(tempfile.gettempdir(), f"wise-compass-{os.getuid()}")
    return Path(told if os.path.isabs(told) else os.path.join(home, *usual)) / "wise-compass"


def note_read(path: Path) -> None:
    """Keep in mind that a file was read in: no output is to replace it."""
    _READ.add(_real(path))


def forget_read() -> None:
    """A new command begins, which has read nothing yet."""
    _READ.clear()


def _real(path: Path) -> str:
    """Where a path leads; raises :class:`Refused` for what can be none."""
    try:
        return os.path.realpath(path)
    except ValueError as error:
        raise Refused("", f"{str(path)[:80]} cannot be written: {_why(error)}. Take another name.") from None


def read_text(path: Path, what: str, most: int = LARGEST_TEXT, replaced: bool = False) -> str:
    """A file's text; raises :class:`Refused` for one that is missing, no text, no plain file, or absurdly large.

    What was read so is not written over afterwards, unless it may be ``replaced``.
    """
    try:
        if not path.is_file():
            raise Refused("", f"{path} is no file that {what} could be read from. Check the path.")
        if path.stat().st_size > most:
            raise Refused("", f"{path.name} is over {most // 1_000_000} MB; it is left unread.")
        text = path.read_text("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused("", f"{path.name} is no text in UTF-8, so it is no {what}.") from None
    except (OSError, ValueError) as error:
        raise Refused("", f"{path} cannot be read: {_why(error)}. Check the path.") from None
    if not replaced:
        note_read(path)
    return text


def read_table(path: Path, what: str, most: int = LARGEST_TEXT) -> str:
    """The text of a table as table programs write them: UTF-8, UTF-16 or cp1252; raises :class:`Refused` as
    :func:`read_text`."""
    try:
        plain = path.is_file() and path.stat().st_size <= most
        content = path.read_bytes() if plain else b""
    except OSError:
        plain = False
    if not plain:
        return read_text(path, what, most)
    note_read(path)
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        return content.decode("utf-16", "replace")
    if content[1:60:2].count(0) > 20:  # no mark of order: every other byte of plain words is nothing
        return content.decode("utf-16-le", "replace")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", "replace")


def _why(error: Exception) -> str:
    """What the system says of a path, in lower case."""
    return ((error.strerror if isinstance(error, OSError) else "") or str(error)).lower()


def write_output(path: Path, content: str | bytes) -> None:
    """As :func:`write_whole`, for what is made from a job or a file: refuses to replace a job file, or what was read
    in."""
    if _is_job(path):
        raise Refused("out", f"{path.name} is a job file; it is left as it is. Write to another name.")
    if _real(path) in _READ:
        raise Refused("out", f"{path.name} is what this was made from; it is left as it is. Write to another name.")
    write_whole(path, content)


def apart(*paths: Path | None) -> None:
    """Raise :class:`Refused` where two outputs of one command would be the same file; asked before either is
    written."""
    told = [path for path in paths if path is not None]
    for k, path in enumerate(told):
        if _real(path) in map(_real, told[:k]):
            raise Refused(
                "out", f"{path.name} is asked for twice: one would replace the other. Give each its own name."
            )


def _is_job(path: Path) -> bool:
    """Whether a file is a job, were it a damaged one."""
    try:
        if not path.is_file():
            return False
        with path.open("rb") as file:
            head = file.read(_HEAD)
    except (OSError, ValueError):
        return False
    return head.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{" and JOB_FORMAT.encode() in head


def _refuse_what_is_no_file(path: Path) -> None:
    """A device, a pipe or a folder is never replaced, not even by one who could; nor is a file kept read-only, nor one
    of somebody else's in a folder that all may write in."""
    if not path.exists():
        return
    if not path.is_file():
        kind = "a folder" if path.is_dir() else "a device or a pipe"
        raise Refused("out", f"{path} is {kind}, not a file. Write to another name.")
    if not path.stat().st_mode & 0o222 or not os.access(path, os.W_OK):
        raise Refused(
            "out", f"{path.name} is read-only; it is left as it is. Make it writable, or write to another name."
        )


def _short(name: str) -> str:
    """A name's head, short enough for a longer one to be made of it (names have at most 255 bytes)."""
    return name.encode("utf-8", "replace")[:200].decode("utf-8", "ignore")


def sweep_parts(folder: Path, name: str = "*") -> None:
    """Take away what processes that died left of writing a file, by the pattern of its ``name``: any in a folder of
    this program, that very one in somebody's own."""
    import time

    for part in folder.glob(f".{name}.*.part"):
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
        path = Path(os.path.realpath(path, strict=False))
        if path.is_symlink():
            raise Refused("out", f"{path} is a link that leads back to itself. Write to another name.")
        _refuse_what_is_no_file(path)
        sweep_parts(path.parent, glob.escape(_short(path.name)))
        handle, held = tempfile.mkstemp(prefix=f".{_short(path.name)}.", suffix=".part", dir=path.parent)
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
    except (OSError, ValueError) as error:
        if held is not None:
            with suppress(OSError):
                os.unlink(held)
        raise Refused("", f"{path} cannot be written: {_why(error)}. Save it under another name.") from None
