"""What this installation is: versions, paths and settings, to be copied and sent with a question."""

from __future__ import annotations

import os
import platform
import sys
from collections.abc import Iterator
from importlib import metadata
from pathlib import Path

from wise_compass import __version__
from wise_compass.job.person import person
from wise_compass.outputs.files import own_folder

PACKAGES = (
    "PySide6-Essentials",
    "numpy",
    "scipy",
    "shapely",
    "reportlab",
    "opencv-python-headless",
    "matplotlib",
    "fastjsonschema",
    "icalendar",
    "segno",
    "markdown",
    "shtab",
)
"""What the program stands on."""
TOLD = ("LANG", "LC_ALL", "XDG_SESSION_TYPE", "XDG_CURRENT_DESKTOP", "QT_QPA_PLATFORM", "QT_SCALE_FACTOR")
"""Variables that change how it looks or runs."""
PRIVATE = ("hand", "recent", "lessons", "kit")
"""Of a person's settings, what is nobody's business."""


def folders() -> dict[str, Path]:
    """Where the program keeps things, by what they are."""
    return {
        "unsaved work and reports": own_folder("XDG_STATE_HOME", ".local", "state"),
        "logbook and own ways": own_folder("XDG_DATA_HOME", ".local", "share"),
        "settings": own_folder("XDG_CONFIG_HOME", ".config"),
    }


def version_of(package: str) -> str:
    """The version of a package that is installed; empty where it is not."""
    try:
        return metadata.version(package)
    except metadata.PackageNotFoundError:
        return ""


def about() -> Iterator[tuple[str, str]]:
    """Everything worth knowing, as pairs of what it is and how it stands."""
    yield "Wise Compass", __version__
    yield "program", str(Path(__file__).resolve().parent.parent)
    yield "Python", f"{platform.python_version()} in {sys.prefix}"
    yield "system", f"{_system()}, {platform.machine()}"
    for package in PACKAGES:
        yield package, version_of(package) or "not there"
    for what, folder in folders().items():
        yield what, str(folder)
    for name in TOLD:
        if os.environ.get(name):
            yield name, os.environ[name]
    for name, value in person()._asdict().items():
        if name not in PRIVATE:
            yield f"setting {name}", repr(value)


def about_text() -> str:
    """The same as lines."""
    return "\n".join(f"{what}: {how}" for what, how in about()) + "\n"


def _system() -> str:
    try:
        return platform.freedesktop_os_release().get("PRETTY_NAME", platform.system())
    except OSError:
        return platform.system()
