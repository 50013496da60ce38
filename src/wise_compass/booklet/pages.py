"""A construction on paper in stages, and a booklet of methods: problem, stages, values, what may go wrong, and how sure
a hand is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.booklet.flow import LEAD, Flow, columns, cut_to, text
from wise_compass.booklet.pictures import Box, frame_of, slip_items, stage_items
from wise_compass.booklet.stages import Stage, stages_of
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import Style, scale_name
from wise_compass.sheet.drawing import Drawing
from wise_compass.sheet.lettering import SMALL, text_width

GAP = 5.0
SAYS_LINES, SETTING_LINES = 5, 2
"""Lines that a stage's sentences and its settings take at most."""
MOST_VALUES, MOST_SLIPS, HANDS = 14, 3, 160
SLIP_HIGH = 44.0
PICTURE = 0.5, 0.75
"""How high a stage's picture is, as a part of its width: at least and at most."""


class Chapter(NamedTuple):
    """A method of a booklet: its run, the scale of its sheet, and the problem in words."""

    run: Run
    scale: float
    problem: str


def stage_drawings(run: Run, title: str, style: Style, scale: float = 1.0) -> list[Drawing]:
    """The stages of a run on upright A4 pages, two in a row; settings are those of a sheet at ``scale``."""
    flow = Flow(f"{title}, by {run.method.title}: in stages")
    flow.words(_settings_told(scale))
    _put_stages(flow, run, stages_of(run), style, scale, 2)
    return flow.numbered()


def booklet_drawings(chapters: Sequence[Chapter], title: str, style: Style) -> list[Drawing]:
    """A contents page, then every method on pages of its own."""
    flows = [_chapter(one, style) for one in chapters]
    contents = Flow(title)
    contents.heading("Contents")
    listed = -(-len(chapters) // int(contents.left_over / LEAD)) if chapters else 1
    number = 1 + listed
    for one, flow in zip(chapters, flows):
        top = contents.take(LEAD)
        words = f"{one.run.figure.title}, {one.run.method.title}"
        contents.put(text(contents.left, top - 3.2, words))
        at = str(number)
        contents.put(text(contents.right - text_width(at, SMALL), top - 3.2, at))
        number += len(flow.pages)
    pages = contents.numbered()
    for flow in flows:
        pages = [*pages, *flow.numbered(len(pages) + 1)]
    return pages


def _chapter(one: Chapter, style: Style) -> Flow:
    made = one.run
    flow = Flow(f"{made.figure.title}: {made.method.title}")
    flow.words(one.problem)
    flow.words(f"{made.method.about} {made.method.source}.".strip())
    exact = "" if made.method.exact(made.figure) else " This method comes near, and is not exact."
    flow.words(f"{_settings_told(one.scale)}{exact}")
    flow.heading("In stages", 66.0 + GAP)
    _put_stages(flow, made, stages_of(made), style, one.scale, 3)
    _put_values(flow, made, style)
    _put_slips(flow, made, style)
    _put_sure(flow, one, style)
    return flow


def _settings_told(scale: float) -> str:
    at = "true size" if scale == 1 else f"{scale_name(scale)}, as on the paper"
    return f"Settings are for {at}; the pictures are made smaller to fit."


def _put_stages(flow: Flow, made: Run, stages: Sequence[Stage], style: Style, scale: float, across: int) -> None:
    """Rows of pictures, so many across, under each what its stage does; they fill what is left of the page, or go on on
    the next."""
    starts, wide = columns(flow, across, GAP)
    told = [list(_told(k, stage, style, scale, wide)) for k, stage in enumerate(stages, 1)]
    lines = max(map(len, told)) * LEAD + 1.0
    least, most = (share * wide for share in PICTURE)
    high = lines + min(max(flow.left_over / -(-len(stages) // across) - GAP - lines, least), most)
    for first in range(0, len(stages), across):
        row = range(first, min(first + across, len(stages)))
        top = flow.take(high + GAP)
        for k, left in zip(row, starts):
            box = Box(left, top - high + lines, wide, high - lines)
            flow.put(frame_of(box), *stage_items(made, stages[k], box, style))
            for n, (words, bold, ink) in enumerate(told[k]):
                flow.put(text(left, box.low - LEAD * (n + 1) + 0.6, words, bold=bold, ink=ink))


def _told(k: int, stage: Stage, style: Style, scale: float, wide: float) -> Iterator[tuple[str, bool, str]]:
    """What stands under a stage's picture: words, whether they are bold, and their ink."""
    yield cut_to(f"{k}  {stage.title}", wide, 1)[0], True, "frame"
    settings = "; ".join(stage.settings(style, scale))
    if settings:
        yield from ((line, False, "gap") for line in cut_to(settings, wide, SETTING_LINES))
    yield from ((line, False, "dimension") for line in cut_to(stage.says(style, scale), wide, SAYS_LINES))


def _put_values(flow: Flow, made: Run, style: Style) -> None:
    told = [value for value in made.values if isinstance(value.value, (int, float))][:MOST_VALUES]
    if not told:
        return
    flow.heading("Values", 3 * LEAD)
    for value in told:
        top = flow.take(LEAD)
        name = style.lettered(value.name).replace("_", " ")
        working = style.say(value.working)
        flow.put(text(flow.left, top - 3.2, cut_to(name, 42.0, 1)[0]))
        flow.put(text(flow.left + 44.0, top - 3.2, cut_to(style.value(value.value, value.unit), 34.0, 1)[0], bold=True))
        if working:
            flow.put(text(flow.left + 80.0, top - 3.2, cut_to(working, flow.wide - 80.0, 1)[0], ink="dimension"))


def _put_slips(flow: Flow, made: Run, style: Style) -> None:
    """What a known slip would make of it, drawn over what is right."""
    wrong: list[tuple[str, Run]] = []
    for slip in made.slips:
        if len(wrong) == MOST_SLIPS:
            break
        try:
            other = run(made.figure, made.method, made.conventions, slip.id)
        except NoMeet:
            continue
        if all(np.isfinite(spot.here).all() for spot in other.spots.values()):
            wrong.append((style.say(slip.says), other))
    if not wrong:
        return
    flow.heading("What may go wrong", SLIP_HIGH + GAP)
    starts, wide = columns(flow, MOST_SLIPS, GAP)
    lines = [cut_to(words, wide, 3) for words, _ in wrong]
    below = max(map(len, lines)) * LEAD + 1.0
    top = flow.take(SLIP_HIGH + GAP)
    for left, said, (_, other) in zip(starts, lines, wrong):
        box = Box(left, top - SLIP_HIGH + below, wide, SLIP_HIGH - below)
        flow.put(frame_of(box), *slip_items(made, other, box))
        flow.put(*(text(left, box.low - LEAD * (n + 1) + 0.6, words) for n, words in enumerate(said)))


def _put_sure(flow: Flow, one: Chapter, style: Style) -> None:
    """How far a steady hand strays by this method."""
    made = one.run
    hands = run_hands(made.figure, made.method, HANDS, 1, made.conventions, one.scale)
    flow.heading("How sure a hand is", 5 * LEAD)
    worst = max(hands.points, key=lambda point: point.limit)
    name = style.lettered(worst.name)
    says = f"95 steady hands in 100 have every point within {style.short(worst.limit * one.scale)} on the paper"
    flow.words(f"{says}; {name} strays most, by step {worst.step} ({worst.most}).")
    for value in hands.values[:4]:
        limit = style.short(value.limit) if value.unit == "mm" else style.quantity(value.limit, value.unit)
        flow.words(f"{style.lettered(value.name).replace('_', ' ')}: within {limit}, most by step {value.step}.")
    if hands.missed:
        flow.words(f"{hands.missed} hands in {hands.count} find no crossing somewhere.")
