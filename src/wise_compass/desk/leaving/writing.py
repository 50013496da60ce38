"""Writing sheets from the desk."""

from __future__ import annotations

from pathlib import Path

from wise_compass.desk.paper.raster import png_bytes
from wise_compass.desk.session.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.outputs.write import DRAWINGS, Output, write
from wise_compass.sheet.gridpaper import grid_drawing
from wise_compass.sheet.paper import Paper


def write_sheet(path: Path, session: Session, clean: bool) -> None:
    """Write what is shown by the ending of ``path``; raises :class:`Refused`."""
    sheet, made = session.sheet, session.run
    if sheet is None or made is None:
        raise Refused("", "There is no figure to write; set one first.")
    write(path, Output([sheet.drawing], made, sheet.scale, session.job.title, clean, png_bytes))


def write_grid(path: Path, session: Session, spacing: float, kind: str) -> None:
    """Write a blank isometric grid on the paper of the shown sheet, A4 where none is shown; raises :class:`Refused`."""
    paper = session.sheet.paper if session.sheet is not None else Paper("A4", "landscape")
    drawing = grid_drawing(paper, spacing, kind)
    write(path, Output([drawing], None, 1.0, "Isometric grid", False, png_bytes), ("pdf",))
    session.said.emit(f"A sheet of {paper.size} with a grid of {spacing:g} mm is in {path.name}.")


def write_stages(path: Path, title: str, made: Run, style: Style, scale: float) -> None:
    """Write a figure in stages, a file a page where pages cannot stand in one; raises :class:`Refused`."""
    from wise_compass.booklet.pages import stage_drawings

    drawings = stage_drawings(made, title, style, scale)
    write(path, Output(drawings, made, scale, title, False, png_bytes), DRAWINGS)
