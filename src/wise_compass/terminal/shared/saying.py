"""What commands print alike: JSON, and what makes the pixels of a PNG."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import argparse

    from wise_compass.sheet.drawing import Drawing

STATUSES = {
    0: "done",
    2: "what was asked cannot be; one line on standard error says why, and what to change",
    70: "a fault of the program's own; a report was written, and the line says where",
    130: "stopped by Ctrl+C",
}
"""What the exit statuses mean."""


def print_json(data: Any) -> None:
    """Data for another program to read."""
    print(json.dumps(data, ensure_ascii=False, indent=1))


def json_option(one: argparse.ArgumentParser) -> None:
    """The option that asks for it."""
    one.add_argument("--json", action="store_true", help="print JSON")


def progress(done: int, whole: int) -> None:
    """How far it is, where somebody looks on."""
    if sys.stderr.isatty():
        print(f"\r{done} of {whole} ", end="\n" if done == whole else "", file=sys.stderr, flush=True)


def pixels(dpi: int) -> Callable[[Drawing, bool], bytes]:
    """What makes the pixels of a PNG; the toolkit comes in only when it is asked for some."""

    def png(drawing: Drawing, clean: bool) -> bytes:
        from wise_compass.desk.paper.raster import png_bytes

        content: bytes = png_bytes(drawing, clean, dpi)
        return content

    return png
