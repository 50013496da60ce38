"""Problems in words become entries of a job."""

from __future__ import annotations

import re

from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import style_of, way_of
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.settings import Settings
from wise_compass.sheet.paper import RATIO
from wise_compass.words.reading import Reading
from wise_compass.words.saying import problem_said, rest_said
from wise_compass.words.setting import figure_of


def stated_entry(reading: Reading) -> Entry:
    """The entry that a statement sets; its words stay with it. Raises :class:`Refused` as
    :func:`~wise_compass.words.setting.figure_of` does."""
    figure = figure_of(reading)
    assert reading.best is not None
    text = reading.statement.text.strip()
    return Entry(figure.id, figure.title, reading.best.method, figure.stored(), stated=text)


def stated_sheet(reading: Reading, paper: str = "A4") -> SheetPlan:
    """A sheet with it, on the paper and at the scale that the statement tells; on ``paper`` and at the best one where
    it tells none."""
    entry = stated_entry(reading)
    return SheetPlan(entry.title, (entry,), **{"paper": paper, **wishes_of(reading)})


def wishes_of(reading: Reading) -> dict[str, str]:
    """The paper and the scale that a statement tells."""
    told = reading.statement
    wishes = {"paper": told.paper} if told.paper else {}
    if re.fullmatch(RATIO, told.scale or ""):
        wishes["scale"] = told.scale
    return wishes


def with_stated(job: Job, reading: Reading) -> Job:
    """A job with a statement's problem on a sheet of its own behind the others."""
    return job._replace(sheets=(*job.sheets, stated_sheet(reading, job.settings.paper)))


def said_of(entry: Entry, settings: Settings) -> str:
    """An entry's problem as a teacher would set it, whole: what its sentence alone leaves open, and the method where
    there are several."""
    kind, method, style = figure_named(entry.figure), way_of(entry), style_of(settings)
    said = [problem_said(kind.id, entry.givens, style, settings.projection)]
    said.append(rest_said(kind.id, entry.givens, method, style))
    if len(kind.methods) > 1 and method in kind.methods:
        said.append(f"Use the method: {kind.methods[method].title}.")
    return " ".join(one for one in said if one)
