"""The one place that picks what is written by the ending of a file's name."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.outputs.files import write_output
from wise_compass.sheet.drawing import Drawing

DRAWINGS, DATA = ("svg", "pdf", "png"), ("csv", "json")
ENDINGS = (*DRAWINGS, *DATA)


class Output(NamedTuple):
    """What there is to write: the sheets, the run of a single figure and the scale of its sheet, and how to make
    pixels.

    ``png`` makes the pixels; it is given from above, so that nothing here knows a toolkit. ``tiles`` names the paper
    that larger sheets of a PDF are parted over.
    """

    drawings: Sequence[Drawing]
    run: Run | None
    scale: float
    title: str
    clean: bool
    png: Callable[[Drawing, bool], bytes]
    tiles: str = ""


def ending_of(path: Path, allowed: Sequence[str] = ENDINGS) -> str:
    """The ending of a file's name; raises :class:`Refused` for one that is not ``allowed``."""
    ending = path.suffix.lower().lstrip(".")
    if ending not in allowed:
        raise Refused("out", f"“{path.name}” has no ending known here; end it with {', '.join(allowed)}.")
    return ending


def write(path: Path, output: Output, allowed: Sequence[str] = ENDINGS) -> None:
    """Write what the ending of ``path`` asks for, whole: pages that cannot stand in one file in as many, numbered
    behind its name; raises :class:`Refused`."""
    ending = ending_of(path, allowed)
    if ending in ("svg", "png") and len(output.drawings) > 1:
        for k, drawing in enumerate(output.drawings, 1):
            write_output(path.with_stem(f"{path.stem}-{k}"), _content(ending, output._replace(drawings=[drawing])))
        return
    write_output(path, _content(ending, output))


def _content(ending: str, output: Output) -> str | bytes:
    if ending == "pdf":
        from wise_compass.outputs.pdf import pdf_bytes

        return pdf_bytes(output.drawings, output.title, output.clean, output.tiles)
    if ending in DRAWINGS:
        (drawing,) = output.drawings
        if ending == "png":
            return output.png(drawing, output.clean)
        from wise_compass.outputs.svg import svg_text

        return svg_text(drawing, output.clean)
    if output.run is None:
        raise Refused("out", "There is no figure to write; set one first.")
    from wise_compass.outputs.record import csv_text, record

    if ending == "csv":
        return csv_text(output.run)
    return json.dumps(record(output.run, output.scale), ensure_ascii=False, indent=1) + "\n"
