"""What is amiss with this installation, each with what would mend it."""

from __future__ import annotations

import ctypes
import os
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from importlib.util import find_spec
from pathlib import Path
from typing import NamedTuple

from wise_compass.care.about import PACKAGES, folders, version_of
from wise_compass.care.faults import reports
from wise_compass.care.screen import no_screen
from wise_compass.drafting.wording import many
from wise_compass.job.person import is_damaged, person, settings_file
from wise_compass.logbook.store import Logbook
from wise_compass.sheet.lettering import font_file

ROOM_MB = 50
"""Of a disk that is kept on: less is told."""
SCREEN_LIBRARIES = "libxcb-cursor0 libxkbcommon-x11-0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-render-util0"


class Finding(NamedTuple):
    """What was looked at, whether it is well, how it stands, and what would mend it."""

    what: str
    good: bool
    says: str
    remedy: str = ""


def examine() -> Iterator[Finding]:
    """Look at everything, one after the other; nothing is changed."""
    yield _python()
    yield _packages()
    yield _windows()
    yield _screen()
    yield _fonts()
    yield _printer()
    yield from _folders()
    yield _settings()
    yield _logbook()
    yield _faults()


def _python() -> Finding:
    good = sys.version_info >= (3, 11)
    says = f"{sys.version.split()[0]} in {sys.prefix}"
    return Finding("Python", good, says, "" if good else "Install Python 3.11 or later: sudo apt install python3")


def _packages() -> Finding:
    lost = [name for name in PACKAGES if not version_of(name)]
    if not lost:
        return Finding("packages", True, f"all {len(PACKAGES)} are there")
    remedy = "Install the package anew; in a checkout, delete .venv and start once with the network"
    return Finding("packages", False, f"not there: {', '.join(lost)}", remedy)


def _windows() -> Finding:
    """Whether what opens windows has its libraries, by loading it as the toolkit would."""
    found = find_spec("PySide6")
    if found is None or found.origin is None:
        return Finding("windows", False, "Qt is not there", "Install the package anew")
    plugin = Path(found.origin).parent / "Qt" / "plugins" / "platforms" / "libqxcb.so"
    try:
        ctypes.CDLL(str(plugin))
    except OSError as error:
        return Finding("windows", False, str(error), f"sudo apt install {SCREEN_LIBRARIES}")
    return Finding("windows", True, "Qt has its libraries")


def _screen() -> Finding:
    why = no_screen(os.environ)
    if not why:
        return Finding("screen", True, "there is one")
    return Finding("screen", False, why, "Start from a desktop session; commands such as draw and print need no screen")


def _fonts() -> Finding:
    from reportlab.pdfbase.ttfonts import TTFError, TTFont

    for bold in (False, True):
        file = font_file(bold)
        try:
            TTFont("looked-at", str(file))
        except (OSError, TTFError) as error:
            return Finding("fonts", False, f"{file}: {error}", "Install the program anew")
    return Finding("fonts", True, "the program’s own are whole")


def _printer() -> Finding:
    asks = shutil.which("lpstat")
    if asks is None:
        return Finding("printer", False, "no printing system is installed", "sudo apt install cups, or print the PDF")
    try:
        told = subprocess.run([asks, "-e"], capture_output=True, text=True, timeout=5, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return Finding("printer", False, "the printing system does not answer", "sudo systemctl restart cups")
    names = told.stdout.split()
    if not names:
        return Finding("printer", False, "none is set up", "Set one up in the system’s settings, or print the PDF")
    checked = {name.partition(", ")[0] for name in person().prints}
    unchecked = [name for name in names if name not in checked]
    says = f"{', '.join(names)}{'; not measured yet: ' + ', '.join(unchecked) if unchecked else ''}"
    return Finding("printer", True, says, "Drafter > Check my printer… measures it" if unchecked else "")


def _folders() -> Iterator[Finding]:
    for what, folder in folders().items():
        there = next(one for one in (folder, *folder.parents) if one.exists())
        if not os.access(there, os.W_OK | os.X_OK):
            yield Finding(what, False, f"{folder} cannot be written", f"chmod u+rwx {there}, or own it: sudo chown")
            continue
        free = shutil.disk_usage(there).free // 1_000_000
        if free < ROOM_MB:
            yield Finding(what, False, f"the disk of {folder} has {free} MB left", "Make room on that disk")
        else:
            yield Finding(what, True, f"{folder}, {free} MB free")


def _settings() -> Finding:
    if is_damaged():
        remedy = "All settings are as at first. Mend that file, or move it away and set them anew"
        return Finding("your settings", False, f"{settings_file()} cannot be read", remedy)
    return Finding("your settings", True, "read" if settings_file().exists() else "none were made yet")


def _logbook() -> Finding:
    """Whether the logbook is whole; only read, since what opens a damaged one sets it aside."""
    file = Logbook().file
    if not file.exists():
        return Finding("logbook", True, "nothing was noted yet")
    remedy = f"It is set aside, and what can be read is kept, when it is next opened: wise-compass logbook ({file})"
    try:
        connection = sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)
        try:
            told = str(connection.execute("PRAGMA quick_check(1)").fetchone()[0])
            count = int(connection.execute("SELECT count(*) FROM entries").fetchone()[0])
        finally:
            connection.close()
    except sqlite3.Error as error:
        return Finding("logbook", False, f"{file}: {error}", remedy)
    return Finding(
        "logbook",
        told == "ok",
        many(count, "entry", "entries") if told == "ok" else told,
        "" if told == "ok" else remedy,
    )


def _faults() -> Finding:
    kept = sorted(reports().glob("*.txt")) if reports().is_dir() else []
    if not kept:
        return Finding("faults", True, "none was noted")
    return Finding("faults", True, f"{len(kept)} noted, the last in {kept[-1]}", "Read it; send it by hand if you like")
