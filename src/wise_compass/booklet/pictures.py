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
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.labels import Ground, Label, place_labels
from wise_compass.sheet.lettering import CAP_HEIGHT, DESCENT, text_width
from wise_compass.sheet.render import PAPER_COLOUR, items_of

RING, LETTERS = 0.5, 2.4
MARGIN = 4.0
"""Between the lines of a picture and its box, for letters."""
DASHED = ("projector", "centre", "hidden", "locus")
MOST_LETTERS = 14
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


def frame_of(box: Box) -> Line:
    """A hairline round a picture's box."""
    left, low, right, top = box.left, box.low, box.left + box.wide, box.low + box.high
    corners = np.array([[left, low], [right, low], [right, top], [left, top]])
    return Line("lettering", 0, "", "stage_before", corners, closed=True)
