"""Problems in words become entries of a job."""

from __future__ import annotations

from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.sheet.paper import SCALES, scale_named
from wise_compass.words.reading import Reading
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
    it tells none, or one that is not standard."""
    entry, told = stated_entry(reading), reading.statement
    scale = told.scale if told.scale and scale_named(told.scale) in SCALES else "auto"
    return SheetPlan(entry.title, (entry,), told.paper or paper, "auto", scale)


def with_stated(job: Job, reading: Reading) -> Job:
    """A job with a statement's problem on a sheet of its own behind the others."""
    return job._replace(sheets=(*job.sheets, stated_sheet(reading, job.settings.paper)))
