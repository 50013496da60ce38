"""Dimensions drawn as ISO 129-1 has them: narrow lines, filled arrowheads, figures read from below or from the
right."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Linear, Radial
from wise_compass.drafting.wording import INCH, Style, sixty_fourths, trim
from wise_compass.geometry.vectors import Array, angle_of, direction, distance, left_of, polar, unit
from wise_compass.sheet.clear import Clear
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, TEXT, text_width

SPACE = 9.0
"""From the outline to the first dimension line, and from each to the next."""
ARROW = 2.5
GAP = 1.0
INK = "dimension"


def dimensions_apart(dimensions: Iterable[Dimension], scale: float, style: Style, clear: Clear) -> list[Item]:
    """All dimensions about the origin, each where its figures can be read if there is such a place near its own."""
    found: list[Item] = []
    for dimension in dimensions:
        best: tuple[int, list[Item]] | None = None
        for one in _ways(dimension):
            items = dimension_items(one, scale, np.zeros(2), style)
            clash = clear.clashes(items, best[0] if best is not None else np.inf)
            if best is None or clash < best[0]:
                best = clash, items
            if not clash:
                break
        assert best is not None
        clear.take(best[1])
        found += best[1]
    return found


def _ways(dimension: Dimension) -> Iterator[Dimension]:
    """How a dimension may be drawn, as it is told first, then near to it."""
    yield dimension
    if isinstance(dimension, Radial):
        for off in (0.0, 6.0, 12.0, 20.0):
            for by in (0, *(way * turn for turn in range(15, 181, 15) for way in (1, -1))):
                yield dimension._replace(angle=dimension.angle + by, off=off)
    elif isinstance(dimension, Angular):
        for reach in (24.0, 30.0, 13.0, 36.0, 42.0, 50.0):
            yield dimension._replace(reach=reach)
        for reach in (18.0, 24.0, 30.0):
            for share in (0.25, 0.75):
                yield dimension._replace(reach=reach, share=share)
    else:
        for share in (0.3, 0.7, 0.2, 0.8):
            yield dimension._replace(share=share)
        for rank in range(1, 4):
            yield dimension._replace(rank=dimension.rank + rank)
        for rank in range(4):
            yield dimension._replace(side=-dimension.side, rank=dimension.rank + rank)


def dimension_items(dimension: Dimension, scale: float, origin: Array, style: Style) -> list[Item]:
    """The lines, arrows and figures of a dimension on the sheet."""
    owner = f"given:{dimension.given}"
    if isinstance(dimension, Linear):
        return list(_linear(dimension, scale, origin, style, owner))
    if isinstance(dimension, Radial):
        return list(_radial(dimension, scale, origin, style, owner))
    return list(_angular(dimension, scale, origin, owner))


def _words(dimension: Dimension, style: Style) -> str:
    sign = ""
    if isinstance(dimension, Radial):
        sign = "⌀" if dimension.diameter else "R"
    if style.units == "in" and style.fractions:
        return f"{sign}{sixty_fourths(dimension.value / INCH)}"
    return f"{sign}{trim(dimension.value / style.size, style.decimals + (style.units == 'in'))}"


def _arrow(tip: Array, pointing: Array, owner: str) -> Line:
    side = left_of(pointing) * ARROW * 0.16
    return Line(
        "dimension",
        0,
        owner,
        INK,
        np.array([tip, tip - pointing * ARROW + side, tip - pointing * ARROW - side]),
        closed=True,
        filled=True,
    )


def _figures(at: Array, words: str, turn: float, owner: str) -> Text:
    """Words centred over ``at``, turned so that they read from below or from the right."""
    turn = (turn + 90.0 - 1e-6) % 180.0 - 90.0 + 1e-6
    return Text("dimension", 0, owner, INK, at + left_of(direction(turn)) * GAP, words, TEXT, 0.5, turn)


def _linear(dim: Linear, scale: float, origin: Array, style: Style, owner: str) -> Iterator[Item]:
    p, q = origin + dim.p * scale, origin + dim.q * scale
    u = unit(q - p)
    out = left_of(u) * dim.side
    a, b = p + out * SPACE * dim.rank, q + out * SPACE * dim.rank
    for start, end in ((p, a), (q, b)):
        yield Line("dimension", 0, owner, INK, np.array([start + out * GAP, end + out * 1.5]))
    words = dim.prefix + _words(dim, style)
    room = float(distance(a, b))
    inside = room > 2 * ARROW + 1
    tail = 0.0 if inside else 2 * ARROW
    yield Line("dimension", 0, owner, INK, np.array([a - u * tail, b + u * tail]))
    yield _arrow(a, -u if inside else u, owner)
    yield _arrow(b, u if inside else -u, owner)
    turn = float(angle_of(u))
    width = text_width(words, TEXT)
    middle = a + (b - a) * dim.share if width < room - 1 or room > 14 else b + u * (width / 2 + tail + 1)
    yield _figures(middle, words, turn, owner)


def _radial(dim: Radial, scale: float, origin: Array, style: Style, owner: str) -> Iterator[Item]:
    centre, radius = origin + dim.centre * scale, dim.radius * scale
    w = direction(dim.angle)
    rim = centre + w * radius
    words = _words(dim, style)
    width = text_width(words, TEXT)
    inner = centre - w * radius if dim.diameter else centre
    yield Line("dimension", 0, owner, INK, np.array([inner, rim + w * (width + 4 + dim.off)]))
    yield _arrow(rim, w, owner)
    if dim.diameter:
        yield _arrow(inner, -w, owner)
    yield _figures(rim + w * (width / 2 + 3 + dim.off), words, dim.angle, owner)


def _angular(dim: Angular, scale: float, origin: Array, owner: str) -> Iterator[Item]:
    vertex, radius = origin + dim.vertex * scale, dim.reach
    yield Arc("dimension", 0, owner, INK, vertex, radius, dim.start, dim.sweep)
    for angle, way in ((dim.start, -1), (dim.start + dim.sweep, 1)):
        if dim.sweep > 25:
            yield _arrow(polar(vertex, radius, angle), direction(angle + 90 * way - way * 5), owner)
    words = f"{trim(dim.value, 2)}°"
    middle = dim.start + dim.sweep * dim.share
    reach = radius + 1.5 + abs(float(direction(middle)[0])) * text_width(words, TEXT) / 2
    at = polar(vertex, reach, middle) - np.array([0.0, CAP_HEIGHT * TEXT / 2])
    yield Text("dimension", 0, owner, INK, at, words, TEXT, 0.5)
