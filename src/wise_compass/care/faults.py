"""What is kept of a fault of the program's own: a report in a file, which a person can read and send by hand."""

from __future__ import annotations

import time
import traceback
from contextlib import suppress
from pathlib import Path

from wise_compass.outputs.files import own_folder, write_whole

MOST = 20
"""Reports that are kept; the oldest go."""
HEAD = (
    "A fault of Wise Compass’s own. Nothing was sent anywhere. Should you send this report, read it first: it names "
    "folders of yours, and what was typed where it failed.\n"
)


def reports() -> Path:
    """The folder of the reports."""
    return own_folder("XDG_STATE_HOME", ".local", "state") / "faults"


def note_fault(error: BaseException, doing: str) -> Path | None:
    """Write a report of an error that came while ``doing`` something; its file, or None where none can be written."""
    from wise_compass.care.about import about_text

    trace = "".join(traceback.format_exception(error))
    at = time.strftime("%Y-%m-%d %H:%M:%S")
    file = reports() / f"{time.strftime('%Y-%m-%d-%H%M%S')}-{type(error).__name__}.txt"
    try:
        told = about_text()
    except Exception as other:  # a report of a fault is written whatever else is amiss
        told = f"what this installation is cannot be told: {other!r}\n"
    try:
        file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        write_whole(file, f"{HEAD}\nAt {at}, {doing}\n\n{trace}\n{told}")
    except Exception:
        return None
    _forget_old()
    return file


def _forget_old() -> None:
    with suppress(OSError):
        for old in sorted(reports().glob("*.txt"))[:-MOST]:
            old.unlink()
