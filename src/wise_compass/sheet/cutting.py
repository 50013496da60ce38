"""A pattern at true size, ready to be cut: every line in one of four layers, for what is done along it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from wise_compass.drafting.capabilities import Developed, Scribe
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array, angle_of, left_of, length, point, unit
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, SMALL, TEXT, text_width
from wise_compass.shop.parts import CutPart, Side
from wise_compass.shop.shop import Shop, fold_words

LAYERS = ("cut", "fold", "mark", "text")
MARGIN, LEADING, TICK = 10.0, 5.0, 4.0
BAR = 100.0
"""mm of the line by which a print is checked."""
MEASURE_IT = "100 mm: measure it before you cut"
ALIKE = 1e-4
"""mm by which the ends of an edge that two parts have in common may differ."""
OFF_GRID = 0.2718
"""Keeps round numbers off the borders between two places."""
ROOM = 3.0
"""A fold's angle is lettered where the fold is this many times longer than its words."""


def cutting_drawing(shop: Shop, title: str, style: Style) -> Drawing:
    """The pattern's parts as they are laid, with laps, folds, division marks and words, no larger than they need."""
    every = np.concatenate([*(cut.outline for cut in shop.cuts), *(lap.outline for lap in shop.laps)])
    low, high = every.min(axis=0), every.max(axis=0)
    words = list(_words(shop, title, style))
    below = LEADING * (len(words) + 1) + 4.0
    bar = BAR + 2.0 + text_width(MEASURE_IT, SMALL)
    wide = max(float(high[0] - low[0]), bar, *(text_width(line, SMALL) for line in words)) + 2 * MARGIN
    tall = float(high[1] - low[1]) + below + 2 * MARGIN
    shift = point((wide - float(high[0] - low[0])) / 2, MARGIN + below) - low
    drawing = Drawing(wide, tall)
    drawing.items = [
        *(Line("cut", 0, "", "cut", line + shift, closed=closed) for line, closed in cut_lines(shop)),
        *(Line("fold", 0, "", "crease", line + shift) for line in fold_lines(shop)),
        *(Line("mark", 0, "", "mark", line + shift) for cut in shop.cuts for line in _ticks(cut)),
        *fold_texts(shop, style, 1.0, shift, "text"),
        *scribe_items(shop, shift),
        *(_title(cut, shift) for cut in shop.cuts if (len(shop.cuts) > 1 or cut.copies > 1) and not _scribed(shop)),
        *_bar(MARGIN, MARGIN + LEADING * len(words) + 1.0),
    ]
    drawing.items += [
        Text("text", 0, "", "frame", point(MARGIN, MARGIN + LEADING * (len(words) - 1 - k)), line, SMALL)
        for k, line in enumerate(words)
    ]
    drawing.items.sort(key=lambda item: LAYERS.index(item.layer))
    return drawing


def _words(shop: Shop, title: str, style: Style) -> Iterator[str]:
    plate = f", {style.quantity(shop.wish.thickness, 'mm')} {shop.wish.material}" if shop.wish.thickness else ""
    yield f"{title}{plate}"
    for words in (*shop.says(), *shop.run.figure.cautions(), *shop.run.hazards):
        yield style.say(words)


def cut_lines(shop: Shop) -> list[tuple[Array, bool]]:
    """Lines round every part with its laps, (m, 2) each, and whether they close.

    An edge that two parts have in common, as the pieces of an elbow that lie on one strip have, is cut once: the line
    round the later part is open there.
    """
    found: list[tuple[Array, bool]] = []
    cut_before: set[tuple[int, ...]] = set()
    for k, cut in enumerate(shop.cuts):
        mine = {id(lap.side): lap for lap in shop.laps if lap.part == k}
        pieces: list[Array | None] = []
        for side in cut.sides:
            lap = mine.get(id(side))
            course = lap.free[::-1] if lap else side.course
            known = _undirected(course)
            pieces.append(None if known in cut_before else course)
            cut_before.add(known)
        found += _runs(pieces)
    return found


def _undirected(course: Array) -> tuple[int, ...]:
    """What two courses have in common that run along one line, whichever way: their ends and their length."""
    ends = sorted(np.round(course[[0, -1]] / ALIKE + OFF_GRID).astype(int).tolist())
    long = float(np.asarray(length(np.diff(course, axis=0))).sum())
    return (*ends[0], *ends[1], round(long / ALIKE + OFF_GRID))


def _runs(pieces: list[Array | None]) -> list[tuple[Array, bool]]:
    """What is left of a closed outline, in runs that are cut at a stroke."""
    gaps = [k for k, piece in enumerate(pieces) if piece is None]
    if not gaps:
        return [(np.concatenate([piece[:-1] for piece in pieces if piece is not None]), True)]
    first = gaps[0] + 1
    runs: list[list[Array]] = [[]]
    for piece in (*pieces[first:], *pieces[:first]):
        if piece is not None:
            runs[-1].append(piece)
        elif runs[-1]:
            runs.append([])
    return [(np.concatenate([*(piece[:-1] for piece in run), run[-1][-1:]]), False) for run in runs if run]


def fold_lines(shop: Shop) -> list[Array]:
    """Fold lines, and the edges that laps are folded along."""
    return [*(fold.ends for fold in shop.folds), *(lap.side.course for lap in shop.laps)]


def _ticks(cut: CutPart) -> Iterator[Array]:
    """Short marks into the part at every division of its edges."""
    for side in cut.sides:
        if side.kind in ("seam", "side") or len(side.keys) < 3:
            continue
        places = _division_places(side)
        for at, along in places:
            yield np.array([at, at + TICK * left_of(along)])


def _division_places(side: Side) -> Iterator[tuple[Array, Array]]:
    """Where a side's inner keys lie, and which way it runs there."""
    steps = side.course[1:] - side.course[:-1]
    run = np.concatenate([[0.0], np.cumsum(np.asarray(length(steps)))])
    for k in range(1, len(side.keys) - 1):
        at = side.stations[k]
        j = int(np.clip(np.searchsorted(run, at, side="right") - 1, 0, len(steps) - 1))
        yield side.course[j] + unit(steps[j]) * (at - run[j]), unit(steps[j])


def fold_texts(shop: Shop, style: Style, scale: float, shift: Array, layer: str) -> Iterator[Item]:
    """To what angle each fold goes, lettered along it in the middle, where it is long enough."""
    for fold in shop.folds:
        words = style.say(fold_words(fold))
        ends = fold.ends * scale + shift
        along = ends[1] - ends[0]
        if float(length(along)) < ROOM * text_width(words, SMALL):
            continue
        turn = float(angle_of(along))
        turn = (turn + 90.0) % 180.0 - 90.0
        off = left_of(unit(along)) * (1.0 if abs((float(angle_of(along)) - turn) % 360.0) < 1.0 else -1.0)
        yield Text(layer, 0, "", "dimension", ends.mean(axis=0) + 1.0 * off, words, SMALL, 0.5, turn)


def _scribed(shop: Shop) -> Sequence[Scribe]:
    figure = shop.run.figure
    return figure.scribed() if isinstance(figure, Developed) else ()


def scribe_items(shop: Shop, shift: Array) -> Iterator[Item]:
    """What is marked on the parts: a scale's divisions and their numbers."""
    for one in _scribed(shop):
        if one.line is not None:
            yield Line("mark", 0, "", "mark", one.line + shift)
        if one.words and one.at is not None:
            at = one.at + shift - point(0.0, CAP_HEIGHT * SMALL / 2)
            yield Text("text", 0, "", "frame", at, one.words, SMALL, 0.5)


def lap_items(shop: Shop, style: Style, scale: float, origin: Array) -> Iterator[Item]:
    """What the shop adds to a pattern on its sheet: the free edges of its laps, and the angles of its folds."""
    step = len(shop.run.steps)
    for lap in shop.laps:
        yield Line("result", step, "lap", "lap", origin + lap.free * scale)
    for item in fold_texts(shop, style, scale, origin, "folds"):
        item.step = step
        yield item


def _title(cut: CutPart, shift: Array) -> Text:
    from shapely import Polygon

    at = Polygon(cut.outline).representative_point()
    words = cut.title + (f", {cut.copies} of it" if cut.copies > 1 else "")
    return Text("text", 0, "", "frame", point(at.x, at.y) + shift, words, TEXT, 0.5)


def _bar(left: float, y: float) -> Iterator[Item]:
    """A line of 100 mm: what tells whether a print is at true size."""
    yield Line("mark", 0, "", "mark", np.array([[left, y], [left + BAR, y]]))
    for x in (left, left + BAR):
        yield Line("mark", 0, "", "mark", np.array([[x, y - 1.0], [x, y + 1.0]]))
    yield Text("text", 0, "", "dimension", point(left + BAR + 2.0, y - 0.9), MEASURE_IT, SMALL)
