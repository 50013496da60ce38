"""One run into items of a drawing: its marks in the ink of their role, its rings, dimensions and labels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence

import numpy as np

from wise_compass.drafting.marks import ArcMark, LineMark, Mark, Role, Spot, nominal
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.fair import along_curve
from wise_compass.geometry.vectors import Array, polar
from wise_compass.sheet.dimensions import dimension_items, dimension_reach
from wise_compass.sheet.drawing import Arc, Item, Line, Path, Text
from wise_compass.sheet.inks import RESULT
from wise_compass.sheet.labels import Ground, Label, place_labels
from wise_compass.sheet.lettering import CAP_HEIGHT, DESCENT, TEXT, text_width

OVERSHOOT = 1.5
RING = 0.8
PAPER_COLOUR = "#FFFEFA"
MOST_LABELS, SHORT_ROW = 26, 8
LABEL_PAD = 5.0
BESIDE = 5.0
"""How far labels may stand out of the box of their figure, within the field of the sheet."""
OFF_FRAME = 1.0
"""How far lettering keeps from the frame."""


def shown_name(name: str) -> str:
    """A spot's name as it is lettered."""
    return name.replace("'", "′")


def box_at(run: Run, scale: float) -> tuple[Array, Array]:
    """The box that a run takes on the sheet at a scale, dimensions and labels included, from its own origin."""
    if scale in run.boxes:
        return run.boxes[scale]
    low, high = run.extent
    points = [low[None, :] * scale - LABEL_PAD, high[None, :] * scale + LABEL_PAD]
    points += [dimension_reach(dim, scale) for dim in run.figure.dimensions(run.found)]
    everything = np.concatenate(points)
    run.boxes[scale] = everything.min(axis=0), everything.max(axis=0)
    return run.boxes[scale]


def _layer(role: Role) -> str:
    return "result" if role in RESULT else "construction"


def _mark_items(mark: Mark, number: int, scale: float, origin: Array) -> Iterable[Item]:
    head = (_layer(mark.role), mark.step, f"#{number}", mark.role.value)
    if isinstance(mark, LineMark):
        start, end = (origin + p * scale for p in mark.ends())
        if mark.role in (Role.CONSTRUCTION, Role.LOCUS) and (mark.hi > mark.lo):
            u = nominal(mark.u, 1) * OVERSHOOT
            start, end = start - u, end + u
        yield Line(*head, np.array([start, end]))
    elif isinstance(mark, ArcMark):
        centre, radius = origin + nominal(mark.centre, 1) * scale, float(nominal(mark.radius, 0)) * scale
        for begin, sweep in mark.spans():
            yield Arc(*head, centre, radius, begin, sweep)
    else:
        if mark.fair:
            yield Path(*head, origin + mark.segments() * scale, mark.closed)
        else:
            yield Line(*head, origin + mark.course() * scale, mark.closed)


def _ring(spot: Spot, scale: float, origin: Array) -> Arc:
    filled = "ring" if spot.kind == "tangent" else PAPER_COLOUR
    return Arc("points", spot.step, spot.name, "ring", origin + spot.here * scale, RING, filled=filled)


def labelled(spots: Sequence[Spot]) -> list[Spot]:
    """The spots that get a label: all, or every so-many of each long numbered row."""
    named = [spot for spot in spots if spot.kind != "plain" and spot.name]
    if len(named) <= MOST_LABELS:
        return named
    numbers = [int(digits) if (digits := "".join(c for c in spot.name if c.isdigit())) else 0 for spot in named]
    rows = Counter(spot.name.rstrip("0123456789") for spot in named)
    long = [rows[spot.name.rstrip("0123456789")] > SHORT_ROW for spot in named]
    every = -(-sum(long) // (MOST_LABELS - SHORT_ROW))
    return [spot for spot, n, thin in zip(named, numbers, long, strict=True) if not thin or n % every == 0]


def polyline(item: Item) -> Array | None:
    """An item's course as points, to enter into the labels' ground or to measure a distance to."""
    if isinstance(item, Line):
        return np.concatenate([item.points, item.points[:1]]) if item.closed else item.points
    if isinstance(item, Arc):
        count = max(4, int(item.sweep / 6))
        return polar(item.centre, item.radius, np.linspace(item.start, item.start + item.sweep, count + 1))
    if isinstance(item, Path):
        return along_curve(item.segments, 6)
    return None


def text_box(item: Text) -> tuple[Array, Array]:
    """The box of lettering on the sheet, whichever way it is turned: lowest and highest corner."""
    width, height = text_width(item.words, item.size, item.bold), item.size
    corners = np.array([[-item.anchor * width, -DESCENT * height], [(1 - item.anchor) * width, CAP_HEIGHT * height]])
    four = np.array([[x, y] for x in corners[:, 0] for y in corners[:, 1]])
    turn = np.deg2rad(item.turn)
    turned = four @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    return item.at + turned.min(axis=0), item.at + turned.max(axis=0)


def render(
    run: Run,
    scale: float,
    origin: Array,
    style: Style = PLAIN,
    field: tuple[float, float, float, float] | None = None,
    also: Sequence[Item] = (),
) -> list[Item]:
    """Every item of a run on the sheet, construction first and lettering last; labels too, where they have a ``field``.

    ``also`` are further lines that labels keep clear of, such as a gap plot; they come with the rest.
    """
    marks = [item for number, mark in enumerate(run.marks) for item in _mark_items(mark, number, scale, origin)]
    marks.sort(key=lambda item: item.layer)
    rings = [_ring(spot, scale, origin) for spot in run.spots.values() if spot.kind not in ("plain", "label")]
    dims = [item for dim in run.figure.dimensions(run.found) for item in dimension_items(dim, scale, origin, style)]
    items: list[Item] = [*marks, *also, *dims, *rings]
    if field is not None:
        items += _labels(run, scale, origin, [*marks, *dims, *also], rings, field)
    return items


def _labels(
    run: Run, scale: float, origin: Array, lines: Sequence[Item], rings: Sequence[Arc], field: tuple[float, float, float, float]
) -> Iterable[Item]:
    spots = labelled(list(run.spots.values()))
    if not spots:
        return
    low, high = box_at(run, scale)
    corners = origin + low, origin + high
    inner = np.array(field[:2]) + OFF_FRAME, np.array(field[2:]) - OFF_FRAME
    within = np.maximum(corners[0] - BESIDE, inner[0]), np.minimum(corners[1] + BESIDE, inner[1])
    ground = Ground((*corners[0].tolist(), *corners[1].tolist()))
    courses = [(item, course) for item in lines if (course := polyline(item)) is not None]
    ground.enter([course for item, course in courses if item.layer not in ("construction", "gap")], hard=True)
    ground.enter([course for item, course in courses if item.layer in ("construction", "gap")], hard=False)
    boxes = [text_box(item) for item in lines if isinstance(item, Text)]
    ground.enter_boxes([*boxes, *((ring.centre - RING, ring.centre + RING) for ring in rings)])
    height = CAP_HEIGHT + DESCENT
    wanted = [
        Label(shown_name(s.name), origin + s.here * scale, text_width(shown_name(s.name), TEXT), height * TEXT) for s in spots
    ]
    for spot, label, place in zip(spots, wanted, place_labels(wanted, ground, within), strict=True):
        if place is not None:
            yield Text("points", spot.step, spot.name, "frame", place + np.array([0.0, DESCENT * TEXT]), label.words, TEXT)
