"""Small pictures of a construction: what a stage draws dark, what stood before it faint; or what a slip would make of
it, over what is right."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from wise_compass.booklet.stages import Stage
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array, point
from wise_compass.sheet.drawing import Arc, Drawing, Item, Line, Text
from wise_compass.sheet.labels import Ground, Label, place_labels
from wise_compass.sheet.lettering import CAP_HEIGHT, DESCENT, text_width
from wise_compass.sheet.render import PAPER_COLOUR, items_of

RING, LETTERS = 0.5, 2.4
MARGIN = 4.0
"""Between the lines of a picture and its box, for letters."""
DASHED = ("projector", "centre", "hidden", "locus")
MOST_LETTERS = 14
ALONE, APART = 150.0, 3.0
"""mm: how wide a picture for a page is, and what parts the small ones in it."""
LEAST = 0.4
"""Of the whole drawing: how much of it a picture shows at least."""
_WORDS = re.compile(r"[A-Za-z]\w*(?:\.\w+)?")


class Box(NamedTuple):
    """Where a picture goes, in sheet mm: its lower left corner and its size."""

    left: float
    low: float
    wide: float
    high: float


class View(NamedTuple):
    """How figure mm go into a box: the factor, and where the figure's origin comes to lie."""

    zoom: float
    origin: Array


def view_into(box: Box, low: Array, high: Array) -> View:
    """What lies between two corners of a figure, as large as the box takes it and in its middle."""
    size = np.maximum(high - low, 1e-9)
    zoom = float(min((box.wide - 2 * MARGIN) / size[0], (box.high - 2 * MARGIN) / size[1]))
    middle = point(box.left + box.wide / 2, box.low + box.high / 2)
    return View(zoom, middle - zoom * (low + high) / 2)


def stage_items(run: Run, stage: Stage, box: Box, style: Style) -> list[Item]:
    """A stage of a run in a box."""
    view = view_into(box, *_so_far(run, stage))
    lines = [item for item in items_of(run.marks, view.zoom, view.origin) if item.step <= stage.last]
    before = [_inked(item, "stage_before") for item in lines if item.step < stage.first]
    now = [_inked(item, _new_ink(item)) for item in lines if item.step >= stage.first]
    return [*before, *now, *_letters(run, stage, view, box, [*before, *now], style)]


def _so_far(run: Run, stage: Stage) -> tuple[Array, Array]:
    """The lowest and the highest place of what is drawn up to a stage, where that is not much less than all of it."""
    low, high = run.extent
    drawn = [line for mark in run.marks if mark.step <= stage.last for line in mark.polylines()]
    drawn += [spot.here[None] for spot in run.spots.values() if spot.step <= stage.last]
    if not drawn:
        return low, high
    every = np.concatenate(drawn)
    return every.min(axis=0), np.maximum(every.max(axis=0), every.min(axis=0) + LEAST * (high - low))


def _new_ink(item: Item) -> str:
    if item.layer == "result":
        return "stage_result" if item.ink not in DASHED else "stage_result_dashed"
    return "stage_new_dashed" if item.ink in DASHED else "stage_new"


def slip_items(right: Run, wrong: Run, box: Box) -> list[Item]:
    """What is lined in after a slip, dark, over what would be right."""
    lows, highs = zip(right.extent, wrong.extent)
    view = view_into(box, np.minimum(*lows), np.maximum(*highs))
    under = items_of(right.marks, view.zoom, view.origin)
    over = items_of(wrong.marks, view.zoom, view.origin)
    return [
        *(_inked(item, "stage_before" if item.layer != "result" else "stage_right") for item in under),
        *(_inked(item, "stage_result") for item in over if item.layer == "result"),
    ]


def _inked(item: Item, ink: str) -> Item:
    return replace(item, ink=ink)


def _letters(run: Run, stage: Stage, view: View, box: Box, lines: Sequence[Item], style: Style) -> Iterator[Item]:
    """The points that a stage finds or speaks of, ringed and lettered."""
    spoken = set(_WORDS.findall(" ".join(step.says for step in stage.steps)))
    spots = [
        spot
        for name, spot in run.spots.items()
        if spot.kind not in ("plain",)
        and spot.name
        and spot.step <= stage.last
        and (spot.step >= stage.first or name in spoken)
    ]
    if len(spots) > MOST_LETTERS:
        spots = spots[:: -(-len(spots) // MOST_LETTERS)]
    at = [view.origin + spot.here * view.zoom for spot in spots]
    for spot, here in zip(spots, at):
        if spot.kind != "label":
            yield Arc("points", spot.step, spot.name, "ring", here, RING, filled=PAPER_COLOUR)
    ground = Ground((box.left, box.low, box.left + box.wide, box.low + box.high))
    courses = [(item, course) for item in lines if (course := item.polyline()) is not None]
    dark = [course for item, course in courses if item.ink != "stage_before"]
    ground.enter(dark, hard=True)
    ground.enter([course for item, course in courses if item.ink == "stage_before"], hard=False)
    names = [style.lettered(spot.name) for spot in spots]
    high = (CAP_HEIGHT + DESCENT) * LETTERS
    wanted = [Label(name, here, text_width(name, LETTERS), high) for name, here in zip(names, at)]
    corners = point(box.left, box.low), point(box.left + box.wide, box.low + box.high)
    for spot, label, place in zip(spots, wanted, place_labels(wanted, ground, corners), strict=True):
        if place is not None:
            corner = place + point(0.0, DESCENT * LETTERS)
            yield Text("points", spot.step, spot.name, "frame", corner, label.words, LETTERS)


def finished_picture(run: Run, style: Style) -> Drawing:
    """A finished figure by itself: its result dark, its construction faint, its points lettered."""
    low, high = run.extent
    wide, tall = np.maximum(high - low, 1e-9)
    box = Box(0.0, 0.0, ALONE, float(np.clip(ALONE * tall / wide, ALONE / 3, ALONE * 0.8)))
    view = view_into(box, low, high)
    lines = [
        _inked(item, _new_ink(item) if item.layer == "result" else "stage_before")
        for item in items_of(run.marks, view.zoom, view.origin)
    ]
    whole = Stage("", tuple(run.steps))
    return Drawing(box.wide, box.high, [*lines, *_letters(run, whole, view, box, lines, style)])


def stages_picture(run: Run, stages: Sequence[Stage], style: Style) -> Drawing:
    """The stages of a run as one picture: small pictures in rows, numbered."""
    boxes = _boxes(len(stages), 3)
    items: list[Item] = []
    for number, (stage, box) in enumerate(zip(stages, boxes), 1):
        items += [frame_of(box), *stage_items(run, stage, box, style), _number(box, number)]
    return _all_of(boxes, items)


def slip_picture(right: Run, wrong: Sequence[Run]) -> Drawing:
    """What slips would make of a run, each drawn dark over what is right, numbered."""
    boxes = _boxes(len(wrong), 3)
    items: list[Item] = []
    for number, (other, box) in enumerate(zip(wrong, boxes), 1):
        items += [frame_of(box), *slip_items(right, other, box), _number(box, number)]
    return _all_of(boxes, items)


def _boxes(count: int, across: int) -> list[Box]:
    """Boxes in rows from the top; the lowest stands at 0."""
    wide = (ALONE - (across - 1) * APART) / across
    high = 0.75 * wide
    rows = -(-count // across)
    return [
        Box(k % across * (wide + APART), (rows - 1 - k // across) * (high + APART), wide, high) for k in range(count)
    ]


def _number(box: Box, number: int) -> Text:
    corner = point(box.left + 1.6, box.low + box.high - 4.2)
    return Text("lettering", 0, "", "frame", corner, str(number), 3.2, bold=True)


def _all_of(boxes: Sequence[Box], items: list[Item]) -> Drawing:
    return Drawing(ALONE, max(box.low + box.high for box in boxes), items)


def frame_of(box: Box) -> Line:
    """A hairline round a picture's box."""
    left, low, right, top = box.left, box.low, box.left + box.wide, box.low + box.high
    corners = np.array([[left, low], [right, low], [right, top], [left, top]])
    return Line("lettering", 0, "", "stage_before", corners, closed=True)
