"""From entries to runs, and from sheets of the job to composed sheets."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from wise_compass.drafting.catalogue import figure_named
from wise_compass.drafting.figure import make
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import Style
from wise_compass.job.model import Entry, Job, Settings, SheetPlan
from wise_compass.sheet.compose import Piece, Sheet, Wishes, compose
from wise_compass.study.gaps import gaps
from wise_compass.study.tables import TableWish, curve_table


def conventions_of(settings: Settings) -> Conventions:
    return Conventions(settings.projection, settings.lettering, settings.dividing)


def style_of(settings: Settings) -> Style:
    return Style(settings.units, settings.decimals, settings.inches == "fractions", settings.lettering)


def run_entry(entry: Entry, settings: Settings | None = None) -> Run:
    """Run an entry's figure by its method; raises :class:`Refused`."""
    figure = make(figure_named(entry.figure), entry.givens)
    return run(figure, entry.method or None, conventions_of(settings or Settings()))


def about_sheet(job: Job, sheet: SheetPlan) -> dict[str, object]:
    """What a drawing's file carries: enough to open the sheet again."""
    from wise_compass.job.model import to_data

    return to_data(Job(job.title, (sheet,), job.settings))


def piece_of(entry: Entry, made: Run, style: Style) -> Piece:
    """An entry for its sheet: with a gap plot where it is wanted or its method is approximate, and its table if wanted."""
    courses = made.courses
    plotted = bool(courses) and (entry.gaps or not made.method.exact(made.figure))
    wish = TableWish(**entry.table)
    table = curve_table(made.figure, made.method.id, wish, style) if courses and wish.on_sheet else None
    return Piece(made, entry.title, entry.shift, entry.notes, tuple(gaps(made)) if plotted else (), table)


def build_sheet(job: Job, index: int, runs: Mapping[str, Run] | None = None, changes: Mapping[str, Any] | None = None) -> Sheet:
    """Compose one sheet of a job. ``runs`` holds runs already made, by entry; raises :class:`Refused`."""
    plan = job.sheets[index]
    pieces = []
    for entry in plan.entries:
        made = runs.get(entry.id) if runs else None
        try:
            pieces.append(piece_of(entry, made or run_entry(entry, job.settings), style_of(job.settings)))
        except Refused as refusal:
            raise Refused(refusal.given, f"{entry.title}: {refusal.template}") from None
    wishes = {
        "paper": plan.paper,
        "lie": plan.lie,
        "scale": plan.scale,
        "project": job.title,
        "title": plan.title,
        "number": f"{index + 1}/{len(job.sheets)}",
        "style": style_of(job.settings),
        **(changes or {}),
    }
    sheet = compose(pieces, Wishes(**wishes))
    sheet.drawing.about = about_sheet(job, plan)
    return sheet
