"""Writing sheets from the desk."""

from __future__ import annotations

from pathlib import Path

from wise_compass.desk.raster import png_bytes
from wise_compass.desk.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.outputs.write import Output, write


def write_sheet(path: Path, session: Session, clean: bool) -> None:
    """Write what is shown by the ending of ``path``; raises :class:`Refused`."""
    sheet, made = session.sheet, session.run
    if sheet is None or made is None:
        raise Refused("", "There is no figure to write; set one first.")
    write(path, Output([sheet.drawing], made, sheet.scale, session.job.title, clean, png_bytes))
