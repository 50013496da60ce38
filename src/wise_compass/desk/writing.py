"""Writing sheets from the desk."""

from __future__ import annotations

import json
from pathlib import Path

from wise_compass.desk.raster import write_png
from wise_compass.desk.session import Session
from wise_compass.drafting.refusals import Refused
from wise_compass.job.store import write_atomically
from wise_compass.outputs import record, svg
from wise_compass.outputs.pdf import write_pdf


def write_sheet(path: Path, session: Session, clean: bool) -> None:
    """Write what is shown by the ending of ``path``; raises :class:`Refused`."""
    sheet, made = session.sheet, session.run
    if sheet is None or made is None:
        raise Refused("", "There is no figure to write; set one first.")
    ending = path.suffix.lower()
    if ending == ".svg":
        write_atomically(path, svg.svg_text(sheet.drawing, clean))
    elif ending == ".pdf":
        write_pdf(path, [sheet.drawing], session.job.title, clean)
    elif ending == ".png":
        write_png(path, sheet.drawing, 300, clean)
    elif ending == ".csv":
        write_atomically(path, record.csv_text(made))
    elif ending == ".json":
        write_atomically(path, json.dumps(record.record(made), ensure_ascii=False, indent=1) + "\n")
    else:
        raise Refused("", f"“{path.name}” has no ending known here; end it with svg, pdf, png, csv or json.")
