"""Entries as the chapters of a booklet."""

from __future__ import annotations

from collections.abc import Iterable

from wise_compass.booklet.pages import Chapter
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.job.build import run_entry, sentence_of, style_of
from wise_compass.job.model import Entry
from wise_compass.job.settings import Settings
from wise_compass.sheet.compose import compose
from wise_compass.sheet.piece import Piece, Wishes


def scale_alone(made: Run, style: Style) -> float:
    """The scale that a figure has on a sheet of its own."""
    return compose([Piece(made, dimensions="none")], Wishes("auto", style=style, labels=False)).scale


def chapters_of(entries: Iterable[Entry], settings: Settings) -> list[Chapter]:
    """Each entry by its own method, at the scale that it has on a sheet of its own; raises :class:`Refused`."""
    style = style_of(settings)
    found = []
    for entry in entries:
        try:
            made = run_entry(entry, settings)
            scale = scale_alone(made, style)
        except Refused as refusal:
            raise Refused(refusal.given, f"{entry.title}: {refusal.template}") from None
        found.append(Chapter(made, scale, entry.stated or sentence_of(entry, style)))
    return found
