"""From entries to runs, and from sheets of the job to composed sheets."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import lru_cache
from typing import TYPE_CHECKING, Any

import numpy as np

from wise_compass.drafting.capabilities import Shading
from wise_compass.drafting.figure import OWN_WAY, Figure, Method, make, method_for, method_named
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.model import OWN_TITLE, Entry, Job, SheetPlan
from wise_compass.job.person import own_drafter
from wise_compass.job.settings import Settings
from wise_compass.job.standing import places_of
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.drawing import Drawing, Item, Line
from wise_compass.sheet.layout import Before
from wise_compass.sheet.paper import papers
from wise_compass.sheet.piece import NOTES, Piece, Placed, Wishes
from wise_compass.sheet.turning import turned_items

if TYPE_CHECKING:
    from wise_compass.shop.shop import Shop
    from wise_compass.shop.wish import ShopWish
    from wise_compass.study.gaps import Gap
    from wise_compass.study.tablewish import TableWish

NARROWEST, WIDEST = 45.0, 120.0
"""Width in mm that a space view takes on a sheet, at least and at most."""


def conventions_of(settings: Settings, entry: Entry, plan: SheetPlan | None) -> Conventions:
    """What a run of an entry follows: the job's settings, the sides chosen for its views, the paper of its sheet, and
    whose hand draws."""
    fields: tuple[tuple[float, float], ...] = ()
    if plan is not None and plan.paper != "auto":
        boxes = [paper.field for paper in papers(plan.paper, plan.lie, len(settings.told))]
        fields = tuple((right - left, top - bottom) for left, bottom, right, top in boxes)
    return Conventions(
        settings.projection,
        settings.lettering,
        settings.dividing,
        tuple(entry.sides),
        fields,
        entry.hidden or "usual",
        own_drafter(),
    )


def style_of(settings: Settings) -> Style:
    fractions, ticks = settings.inches == "fractions", settings.heads == "ticks"
    larger = settings.letters == "large"
    return Style(settings.units, settings.decimals, fractions, settings.lettering, ticks, larger)


def run_key(entry: Entry, job: Job) -> tuple[object, ...]:
    """What a run of an entry depends on. Stored givens are numbers, words and lists of them, which compare by value."""
    at = job.find(entry.id)
    plate = (entry.shop.get("thickness", 0.0), entry.shop.get("size_is", "middle"))
    conventions = conventions_of(job.settings, entry, job.sheets[at[0]] if at else None)
    own = entry.own if entry.method == OWN_WAY else ""
    return entry.figure, entry.method, own, entry.givens, plate, conventions


def method_of(entry: Entry, figure: Figure) -> str | Method | None:
    """The method that an entry's figure is drawn by, as it is run: its id, one's own, or None for what serves."""
    if entry.method != OWN_WAY:
        return entry.method or None
    from wise_compass.own.writing import own_method

    return own_method(entry.own, figure)


def run_entry(
    entry: Entry, settings: Settings | None = None, plan: SheetPlan | None = None, figure: Figure | None = None
) -> Run:
    """Run an entry's figure, which may be made already, by its method; raises :class:`Refused`.

    Where its plate has a thickness, what is drawn is the middle of it.
    """
    figure = figure or make(figure_named(entry.figure), entry.givens)
    conventions = conventions_of(settings or Settings(), entry, plan)
    if not entry.shop.get("thickness"):
        return run(figure, method_of(entry, figure), conventions)
    from wise_compass.shop.wish import at_middle, wish_of

    drawn = at_middle(figure, wish_of(entry.shop))
    made = run(drawn, method_of(entry, drawn), conventions)
    if drawn is not figure:
        made.given = figure
    return made


def shop_of(entry: Entry, made: Run) -> Shop | None:
    """An entry's pattern made ready for the shop; None where it has none, or nothing is asked of it. Raises
    :class:`Refused`."""
    if not entry.shop or not made.parts:
        return None
    from wise_compass.shop.wish import wish_of

    return _shop(made, wish_of(entry.shop))


@lru_cache(maxsize=8)
def _shop(made: Run, wish: ShopWish) -> Shop:
    """Laps find their room once for a run, whoever asks."""
    from wise_compass.shop.shop import Shop

    return Shop(made, wish)


def about_sheet(job: Job, sheet: SheetPlan) -> dict[str, object]:
    """What a drawing's file carries: enough to open the sheet again."""
    from wise_compass.job.model import to_data

    return to_data(Job(job.title, (sheet,), job.settings))


SEEN = 0.1
"""mm that a line must stray for it to be seen."""


def piece_of(entry: Entry, made: Run, style: Style, on: tuple[int, str] | None = None) -> Piece:
    """An entry for its sheet, ``on`` a point of another of its pieces or not: with a gap plot where it is wanted, or
    its method is approximate and strays by what can be seen, and its table if wanted."""
    plots: tuple[Gap, ...] = ()
    table = None
    problem = entry.stated if entry.problem else ""
    if made.curved and (entry.gaps or not made.method.exact(made.figure)):
        from wise_compass.study.gaps import gaps

        plots = tuple(gaps(made))
        if not entry.gaps and max((plot.largest for plot in plots), default=0.0) < SEEN:
            plots = ()
    if entry.table.get("on_sheet") and (made.curved or made.true_lines):
        from wise_compass.study.tables import table_of

        table = table_of(made.figure, made.way, kept_wish(entry.table, made), style)
    shop, told = shop_of(entry, made), entry.dimensions or "given"
    return Piece(
        made, entry.title, entry.shift, entry.notes, plots, table, shop, NOTES, problem, told, on, entry.turned
    )


def way_of(entry: Entry) -> str:
    """The id of the method that an entry is drawn by: its own, or the first that serves its givens."""
    kind = figure_named(entry.figure)
    if entry.method:
        return entry.method
    try:
        return method_for(make(kind, entry.givens)).id
    except Refused:
        return method_named(kind, None).id


def sentence_of(entry: Entry, style: Style) -> str:
    """An entry's brief as one sentence with its values, as it is read aloud or copied."""
    kind = figure_named(entry.figure)
    method = way_of(entry)

    def filled(slot: re.Match[str]) -> str:
        name = slot[1]
        if name == "method":
            return kind.methods[method].title if method in kind.methods else OWN_TITLE
        given = kind.givens[name]
        kept = entry.givens.get(name, given.stored(given.default))
        return given.text(given.read(kept), style)

    words = re.sub(r"\{(\w+)\}", filled, kind.sentence(entry.givens, method))
    return re.sub(r"(?<![\w.,/])1 (turn|division|start|part|element)s\b", r"1 \1", words)


def kept_wish(table: Mapping[str, Any], made: Run) -> TableWish:
    """How an entry's table is wanted, of the last curve where the one that was chosen is there no longer."""
    from wise_compass.study.tablewish import TableWish

    wish = TableWish(**table)
    return wish._replace(curve=min(wish.curve, max(len(made.courses) - 1, 0))) if wish.curve else wish


def put_under(sheet: Sheet, placed: Placed, first: int, entry: Entry) -> None:
    """Put what lies under a picture's lines, which begin at the drawing's item ``first``: its grid, and the tones of
    its faces."""
    items: list[Item] = []
    if entry.grid and not placed.piece.turn:
        from wise_compass.scene.grid import grid_items

        items += grid_items(placed.piece.run, placed, sheet.scale, entry.grid)
        if not items:
            says = (
                f"{entry.title} has no isometric grid: it is for isometric pictures, "
                "with spaces of at least 2 mm on the sheet."
            )
            sheet.warnings.append(says)
    if entry.hatched:
        from wise_compass.scene.tones import tone_items

        items += _stood(tone_items(placed.piece.run, np.zeros(2), sheet.scale), placed)
    _put_below(sheet, placed, first, items)


def _stood(items: Iterable[Item], placed: Placed) -> list[Item]:
    """Items about a figure's origin, where it stands on its sheet."""
    turn = placed.piece.turn
    return [item.moved(placed.origin) for item in (turned_items(items, turn) if turn else items)]


def _put_below(sheet: Sheet, placed: Placed, first: int, items: Sequence[Item]) -> None:
    """Put items under those of a figure, which begin at the drawing's item ``first``."""
    sheet.drawing.items[first:first] = items
    sheet.spans[:] = [
        (a + len(items) * (a >= first and placed is not sheet.placed[k]), b + len(items) * (b > first))
        for k, (a, b) in enumerate(sheet.spans)
    ]


def put_shade(sheet: Sheet, placed: Placed, first: int) -> None:
    """Tone what lies in shadow, under the lines of its figure, once that is finished."""
    made = placed.piece.run
    _put_below(
        sheet,
        placed,
        first,
        [
            Line("tone", len(made.steps), "", "shade", placed.at(outline, sheet.scale), closed=True, filled=True)
            for outline in made.shades
        ],
    )


def put_in_space(sheet: Sheet, made: Run, style: Style) -> None:
    """Put the space view of a run into a free corner of a sheet; where there is none, the sheet says so."""
    from wise_compass.scene.picture import inset, proportions
    from wise_compass.scene.scene import Scene
    from wise_compass.sheet.free import free_box

    scene = Scene(made)
    found = free_box(sheet.drawing.items, sheet.paper, proportions(scene))
    if found is None or found[1] < NARROWEST:
        wide = 0.0 if found is None else found[1]
        sheet.warnings.append(
            f"The space view wants {NARROWEST:.0f} mm of free width and finds {wide:.0f}; take larger paper."
        )
        return
    sheet.drawing.items += inset(scene, style, found[0], min(found[1], WIDEST))


@contextmanager
def _about(entry: Entry) -> Iterator[None]:
    """What is refused meanwhile says which entry it is about."""
    try:
        yield
    except Refused as refusal:
        raise Refused(refusal.given, f"{entry.title}: {refusal.template}") from None


def _run_of(entry: Entry, job: Job, plan: SheetPlan, runs: Mapping[str, Run] | None) -> Run:
    """An entry's run, where it is made already or else anew."""
    have = runs.get(entry.id) if runs else None
    if have is not None:
        return have
    with _about(entry):
        return run_entry(entry, job.settings, plan)


def build_sheet(
    job: Job,
    index: int,
    runs: Mapping[str, Run] | None = None,
    changes: Mapping[str, Any] | None = None,
    before: Before | None = None,
) -> Sheet:
    """Compose one sheet of a job. ``runs`` holds runs already made, by entry; what was drawn of it ``before`` spares
    work; raises :class:`Refused`."""
    plan = job.sheets[index]
    made = {entry.id: _run_of(entry, job, plan, runs) for entry in plan.entries}
    on, lost = places_of(plan, made)
    pieces = []
    for entry, place in zip(plan.entries, on):
        with _about(entry):
            pieces.append(piece_of(entry, made[entry.id], style_of(job.settings), place))
    wishes = {
        "paper": plan.paper,
        "lie": plan.lie,
        "scale": plan.scale,
        "project": job.title,
        "title": plan.title,
        "number": f"{index + 1}/{len(job.sheets)}",
        "style": style_of(job.settings),
        "told": job.settings.told,
        **(changes or {}),
    }
    sheet = compose(pieces, Wishes(**wishes), before)
    sheet.warnings[:0] = lost
    for entry, placed, span in zip(plan.entries, sheet.placed, sheet.spans):
        if isinstance(placed.piece.run.figure, Shading):
            put_shade(sheet, placed, span[0])
        if (entry.hatched or entry.grid) and placed.piece.run.views is None:
            put_under(sheet, placed, span[0], entry)
        if entry.hatched and placed.piece.run.views is not None:
            from wise_compass.scene.hatch import hatch_items

            sheet.drawing.items += _stood(hatch_items(placed.piece.run, np.zeros(2), sheet.scale), placed)
    for entry, piece in zip(plan.entries, pieces):
        if entry.space and piece.run.views is not None:
            put_in_space(sheet, piece.run, style_of(job.settings))
    sheet.drawing.about = about_sheet(job, plan)
    return sheet


def sheet_pages(sheet: Sheet, style: Style, steps: bool = True, stages: bool = False) -> list[Drawing]:
    """A sheet, and behind it each of its figures in ``stages``, and its ``steps`` with what to measure; raises
    :class:`Refused`."""
    pages = [sheet.drawing]
    for placed in sheet.placed:
        made, title = placed.piece.run, placed.piece.title
        if stages:
            from wise_compass.booklet.pages import stage_drawings

            pages += stage_drawings(made, title, style, sheet.scale)
        if steps:
            from wise_compass.sheet.stepsheet import step_drawings

            pages += step_drawings(made, title, style, sheet.scale)
    return pages
