"""A teacher's handout: methods in stages, with their values, their slips and how sure a hand is."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import many
from wise_compass.job.settings import Settings
from wise_compass.terminal.shared.saying import pixels
from wise_compass.terminal.shared.wishes import wish_options

if TYPE_CHECKING:
    from wise_compass.job.model import Entry

SAYS = "A booklet of methods as PDF: each in stages, with values, slips, and how sure a hand is."


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    one.add_argument(
        "figures", nargs="*", metavar="figure[:method]", help="figures, all their methods or the one that is named"
    )
    one.add_argument("--job", type=Path, metavar="JOB", help="the figures of a job, with their own numbers")
    one.add_argument("--title", default="", help="what stands over the contents")
    one.add_argument("--out", required=True, type=Path, metavar="FILE.pdf")
    wish_options(one, Settings, "projection", "lettering", "units", "dividing")


def handle(args: argparse.Namespace) -> None:
    """Print a booklet."""
    from wise_compass.booklet.pages import booklet_drawings
    from wise_compass.job.booklets import chapters_of
    from wise_compass.job.build import style_of
    from wise_compass.job.store import load
    from wise_compass.outputs.write import Output, ending_of, write

    ending_of(args.out, ("pdf",))
    job = load(args.job) if args.job else None
    wished = {name: getattr(args, name) for name in ("projection", "lettering", "units", "dividing")}
    settings = job.settings if job else Settings(**wished)
    entries = [*(job.entries() if job else ()), *(entry for told in args.figures for entry in _entries(told))]
    if not entries:
        raise Refused("figures", "A booklet has no figure yet; name some, such as ellipse or arch, or give a job.")
    chapters = chapters_of(entries, settings)
    title = args.title or (job.title if job else "Constructions in stages")
    drawings = booklet_drawings(chapters, title, style_of(settings))
    write(args.out, Output(drawings, None, 1.0, title, False, pixels(300)), ("pdf",))
    print(f"{many(len(chapters), 'method')} on {many(len(drawings), 'page')} in {args.out.name}.")


def _entries(told: str) -> list[Entry]:
    """A figure by its id, by every method that serves it, or by the one named behind a colon."""
    from wise_compass.drafting.figure import method_named
    from wise_compass.figures.catalogue import figure_named
    from wise_compass.job.model import Entry

    id, _, wanted = told.partition(":")
    kind = figure_named(id)
    figure = kind()
    ways = (
        [method_named(kind, wanted)] if wanted else [one for one in kind.methods.values() if one.fits(figure) is None]
    )
    return [Entry(id, kind.title, one.id, figure.stored()) for one in ways]
