"""Files written whole: a kill at any moment leaves the old file or the new one, never half of either."""

from __future__ import annotations

import os
from contextlib import suppress
from pathlib import Path

from wise_compass.drafting.refusals import Refused


def write_whole(path: Path, content: str | bytes) -> None:
    """Replace ``path`` by ``content`` (text as UTF-8) in one move; raises :class:`Refused` where it cannot be written."""
    import tempfile

    held = None
    try:
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
