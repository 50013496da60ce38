"""One run into items of a drawing: its marks in the ink of their role, its rings, dimensions and labels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Mark, Role, Spot, all_drawn, nominal
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array, turned
from wise_compass.sheet.bounds import bounds, text_box
from wise_compass.sheet.clear import RING, Clear
from wise_compass.sheet.derived import dimensions_of
from wise_compass.sheet.drawing import Arc, Item, Line, Path, Text
from wise_compass.sheet.inks import RESULT
from wise_compass.sheet.labels import Ground, Label, leader, place_labels
from wise_compass.sheet.lettering import CAP_HEIGHT, DESCENT, text_size, text_width
from wise_compass.sheet.placing import Placed, kept_dimensions, place_dimensions
from wise_compass.sheet.turning import turned_dimension, turned_items

ORIGIN = np.zeros(2)
OVERSHOOT = 1.5
PAPER_COLOUR = "#FFFEFA"
MOST_LABELS, SHORT_ROW = 26, 8
LABEL_PAD = 5.0
BESIDE = 16.0
"""How far labels may stand out of the box of their figure, within the field of the sheet."""
OFF_FRAME = 1.0
"""How far lettering keeps from the frame."""


class ScaledFace:
    """A run at one scale, about its own origin: its dimensions as items, and the box that it takes on a sheet.

    ``reach`` are places in figure mm that are drawn beside it; ``told`` which dimensions: none, given or all; ``turn``
    how far it is turned. ``beside`` are faces that are drawn with it, each so far off, whose lines its dimensions keep
    clear of; and whose dimensions too, where those are placed before. Its dimensions go by the ways of those ``before``
    where they are the same ones.
    """

    def __init__(
        self, run: Run, scale: float, style: Style, reach: Sequence[Array] = (), told: str = "given", turn: float = 0.0
    ) -> None:
        self.run, self.scale, self.style, self.reach, self.told, self.turn = run, scale, style, reach, told, turn
        self.beside: list[tuple[ScaledFace, Array, bool]] = []
        self.before: Placed | None = None

    def as_before(self, other: ScaledFace) -> bool:
        """Whether it is drawn as another was, each by itself."""
        mine, theirs = (
            (one.scale, one.style, one.told, one.turn, len(one.reach), len(one.beside)) for one in (self, other)
        )
        return self.run is other.run and mine == theirs and not self.reach and not self.beside

    def at(self, places: Array) -> Array:
        """Where places in figure mm, (…, 2), lie about the origin, in sheet mm."""
        places = places * self.scale
        return np.asarray(turned(places, self.turn)) if self.turn else places

    @property
    def dimensions(self) -> list[Item]:
        """The dimensions, drawn about the origin."""
        return self.dimensioned.items

    @cached_property
    def dimensioned(self) -> Placed:
        """The same, with the givens whose figures found no free place."""
        found = dimensions_of(self.run, self.told)
        if not found:
            return Placed([], [], {})
        if self.turn:
            found = [turned_dimension(one, self.turn) for one in found]
        ruled = [mark for mark in self.run.marks if isinstance(mark, LineMark)]
        straight = self.at(all_drawn(ruled, [0.0] * len(ruled)))
        if self.before is not None:
            kept = kept_dimensions(found, self.scale, self.style, straight, self.before)
            if kept is not None:
                return kept
        lines, rings = list(self.dark), self.rings
        for face, off, before in self.beside:
            lines += [line + off for line in face.dark]
            lines += [line + off for line in _courses(face.dimensions)] if before else []
            rings = np.concatenate([rings, face.rings + off])
        faint = [line for line, mark in zip(straight, ruled) if mark.role not in RESULT]
        faint += [
            self.at(line)
            for mark in self.run.marks
            if mark.role not in RESULT and not isinstance(mark, LineMark)
            for line in mark.polylines()
        ]
        return place_dimensions(found, self.scale, self.style, Clear(lines, rings, faint), straight)

    @cached_property
    def dark(self) -> list[Array]:
        """What is lined in, as polylines about the origin."""
        return [self.at(line) for mark in self.run.marks if mark.role in RESULT for line in mark.polylines()]

    @cached_property
    def rings(self) -> Array:
        """The places of its rings about the origin, (n, 2)."""
        rings = [spot.here for spot in self.run.spots.values() if spot.kind not in ("plain", "label")]
        return self.at(np.array(rings).reshape(-1, 2))

    @cached_property
    def box(self) -> tuple[Array, Array]:
        """Lowest and highest corner, dimensions and room for labels included."""
        low, high = self.lines
        one, other = bounds(self.dimensions)
        return np.minimum(low, one), np.maximum(high, other)

    @property
    def lines(self) -> tuple[Array, Array]:
        """The box of what is drawn, with room for labels; dimensions not yet counted."""
        if self.turn:
            items = items_of(self.run.marks, self.scale, ORIGIN)
            low, high = bounds(list(turned_items(items, self.turn)))
            low, high = np.minimum(low, self.rings.min(axis=0)), np.maximum(high, self.rings.max(axis=0))
        else:
            low, high = (corner * self.scale for corner in self.run.extent)
        for at in map(self.at, self.reach):
            low, high = np.minimum(low, at.min(axis=0)), np.maximum(high, at.max(axis=0))
        return low - LABEL_PAD, high + LABEL_PAD


def _courses(items: Sequence[Item]) -> Iterator[Array]:
    """Items as polylines, words as their boxes."""
    for item in items:
        if isinstance(item, Text):
            (left, low), (right, top) = text_box(item)
            yield np.array([[left, low], [right, low], [right, top], [left, top], [left, low]])
        elif (course := item.polyline()) is not None:
            yield course


def _layer(role: Role) -> str:
    return "result" if role in RESULT else "construction"


def items_of(marks: Sequence[Mark], scale: float, origin: Array) -> list[Item]:
    """What is drawn of marks at a scale, in their order; the ends of all straight lines are found at once."""
    lines = [mark for mark in marks if isinstance(mark, LineMark)]
    over = [
        OVERSHOOT / scale if line.role in (Role.CONSTRUCTION, Role.LOCUS) and line.hi > line.lo else 0.0
        for line in lines
    ]
    ends = iter(origin + all_drawn(lines, over) * scale)
    items: list[Item] = []
    for number, mark in enumerate(marks):
        if isinstance(mark, LineMark):
            items.append(Line(_layer(mark.role), mark.step, f"#{number}", mark.role.value, next(ends)))
        else:
            items += _bent_items(mark, number, scale, origin)
    return items


def _bent_items(mark: ArcMark | CurveMark, number: int, scale: float, origin: Array) -> Iterable[Item]:
    head = (_layer(mark.role), mark.step, f"#{number}", mark.role.value)
    if isinstance(mark, ArcMark):
        centre, radius = origin + nominal(mark.centre, 1) * scale, float(nominal(mark.radius, 0)) * scale
        for begin, sweep in mark.spans():
            yield Arc(*head, centre, radius, begin, sweep)
    elif mark.fair:
        yield Path(*head, origin + mark.segments() * scale, mark.closed)
    else:
        yield Line(*head, origin + mark.course() * scale, mark.closed)


def _ring(spot: Spot, at: Array) -> Arc:
    filled = "ring" if spot.kind == "tangent" else PAPER_COLOUR
    return Arc("points", spot.step, spot.name, "ring", at, RING, filled=filled)


def labelled(spots: Sequence[Spot]) -> list[Spot]:
    """The spots that get a label: all, or every so-many of each long numbered row; each view is thinned by itself."""
    named = [spot for spot in spots if spot.kind != "plain" and spot.name]
    if len(named) <= MOST_LABELS:
        return named
    parts = [_numbered(spot.name) for spot in named]
    rows = Counter((row, view) for row, _, view in parts)
    long = [rows[row, view] > SHORT_ROW for row, _, view in parts]
    crowded = Counter(view for (_, _, view), thin in zip(parts, long, strict=True) if thin)
    every = {view: -(-count // (MOST_LABELS - SHORT_ROW)) for view, count in crowded.items()}
    return [
        spot for spot, (_, n, view), thin in zip(named, parts, long, strict=True) if not thin or n % every[view] == 0
    ]


def _numbered(name: str) -> tuple[str, int, str]:
    """The row that a point is of, its number there (0 for none) and its view: ``B12.top`` is B, 12, top."""
    own, _, view = name.partition(".")
    row = own.rstrip("0123456789")
    return row, int(own[len(row) :] or 0), view


def render(
    face: ScaledFace,
    origin: Array,
    field: tuple[float, float, float, float] | None = None,
    also: Sequence[Item] = (),
    beside: Sequence[Item] = (),
) -> list[Item]:
    """Every item of a run on the sheet, construction first and lettering last; labels too, where they have a ``field``.

    ``also`` is what else labels keep clear of, such as a gap plot and the words below the figure; it comes with the
    rest. ``beside`` they keep clear of too, and it is there already.
    """
    run, scale = face.run, face.scale
    marks = items_of(run.marks, scale, ORIGIN if face.turn else origin)
    if face.turn:
        marks = [item.moved(origin) for item in turned_items(marks, face.turn)]
    marks.sort(key=lambda item: item.layer)
    rings = [
        _ring(spot, origin + face.at(spot.here)) for spot in run.spots.values() if spot.kind not in ("plain", "label")
    ]
    dims = [item.moved(origin) for item in face.dimensions]
    items: list[Item] = [*marks, *also, *dims, *rings]
    if field is not None:
        items += _labels(face, origin, [*marks, *dims, *also, *beside], rings, field)
    return items


def _labels(
    face: ScaledFace,
    origin: Array,
    lines: Sequence[Item],
    rings: Sequence[Arc],
    field: tuple[float, float, float, float],
) -> Iterable[Item]:
    spots = labelled(list(face.run.spots.values()))
    if not spots:
        return
    low, high = face.box
    corners = origin + low, origin + high
    inner = np.array(field[:2]) + OFF_FRAME, np.array(field[2:]) - OFF_FRAME
    within = np.maximum(corners[0] - BESIDE, inner[0]), np.minimum(corners[1] + BESIDE, inner[1])
    ground = Ground((*corners[0].tolist(), *corners[1].tolist()))
    courses = [(item, course) for item in lines if (course := item.polyline()) is not None]
    ground.enter([course for item, course in courses if item.layer not in ("construction", "gap")], hard=True)
    ground.enter([course for item, course in courses if item.layer in ("construction", "gap")], hard=False)
    boxes = [text_box(item) for item in lines if isinstance(item, Text)]
    ground.enter_boxes([*boxes, *((ring.centre - RING, ring.centre + RING) for ring in rings)])
    size = text_size(face.style)
    names = [face.style.lettered(spot.name) for spot in spots]
    wanted = [
        Label(name, origin + face.at(spot.here), text_width(name, size), (CAP_HEIGHT + DESCENT) * size)
        for name, spot in zip(names, spots)
    ]
    for spot, label, place in zip(spots, wanted, place_labels(wanted, ground, within), strict=True):
        if place is not None:
            if (line := leader(label, place)) is not None:
                yield Line("points", spot.step, spot.name, "dimension", line)
            corner = place + np.array([0.0, DESCENT * size])
            yield Text("points", spot.step, spot.name, "frame", corner, label.words, size)
