"""Dimensions drawn as ISO 129-1 has them: narrow lines, arrowheads or ticks, figures read from below or from the
right. Where each of them goes is chosen in :mod:`wise_compass.sheet.placing`."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear, Radial
from wise_compass.drafting.wording import INCH, Style, sixty_fourths, trim
from wise_compass.geometry.vectors import Array, Bools, angle_of, direction, dot, left_of, polar
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, TEXT, text_width

SPACE, ROW = 9.0, 7.0
"""From the outline to the first dimension line, and from each to the next."""
ARROW = 2.5
GAP, BEYOND = 1.0, 1.5
"""Where an extension line begins off its place, and how far it goes beyond the dimension line."""
APART = TEXT * CAP_HEIGHT + 1.4
"""From the figures of one running dimension to those of the next."""
DATUM = 0.8
INK = "dimension"


class Drawn(NamedTuple):
    """A dimension as it is drawn: its dimension lines, its extension lines, (n, 2) each, everything as items, and the
    lines that are better outside of an outline."""

    lines: list[Array]
    extensions: list[Array]
    items: list[Item]
    rows: list[Array]

    @property
    def words(self) -> list[Text]:
        return [item for item in self.items if isinstance(item, Text)]


class _Pen:
    """What collects the items of one given's dimension."""

    def __init__(self, given: str, style: Style) -> None:
        self.owner, self.style = f"given:{given}", style
        self.drawn = Drawn([], [], [], [])

    def line(self, *points: Array) -> None:
        course = np.array(points)
        self.drawn.lines.append(course)
        self.drawn.items.append(Line("dimension", 0, self.owner, INK, course))

    def extension(self, *points: Array) -> None:
        course = np.array(points)
        self.drawn.extensions.append(course)
        self.drawn.items.append(Line("dimension", 0, self.owner, INK, course))

    def arrow(self, tip: Array, pointing: Array) -> None:
        """An arrowhead; or a tick, where the office has these."""
        if self.style.ticks:
            slant = (pointing + left_of(pointing)) * ARROW / 2
            corners = [tip - slant, tip + slant, tip + slant + 0.25 * pointing, tip - slant + 0.25 * pointing]
        else:
            side = left_of(pointing) * ARROW * 0.16
            corners = [tip, tip - pointing * ARROW + side, tip - pointing * ARROW - side]
        self.drawn.items.append(Line("dimension", 0, self.owner, INK, np.array(corners), closed=True, filled=True))

    def text(self, at: Array, words: str, anchor: float = 0.5, turn: float = 0.0) -> None:
        self.drawn.items.append(Text("dimension", 0, self.owner, INK, at, words, TEXT, anchor, turn))

    def figures(self, at: Array, words: str, turn: float) -> None:
        """Words centred over ``at``, turned so that they read from below or from the right."""
        turn = _readable(turn)
        self.text(at + left_of(direction(turn)) * GAP, words, 0.5, turn)


def _readable(turn: float) -> float:
    return (turn + 90.0 - 1e-6) % 180.0 - 90.0 + 1e-6


def dimension_items(dimension: Dimension, scale: float, origin: Array, style: Style) -> list[Item]:
    """The lines, arrows and figures of a dimension on the sheet."""
    return drawn([dimension], scale, origin, style).items


def drawn(group: Sequence[Dimension], scale: float, origin: Array, style: Style) -> Drawn:
    """A dimension, or a row of running ones, on the sheet."""
    first = group[0]
    if isinstance(first, Linear):
        if first.running:
            return _running([one for one in group if isinstance(one, Linear)], scale, origin, style)
        return _linear(first, scale, origin, style)
    if isinstance(first, Radial):
        return _radial(first, scale, origin, style)
    if isinstance(first, Leader):
        return _leader(first, scale, origin, style)
    return _angular(first, scale, origin, style)


def words_of(dimension: Dimension, style: Style) -> str:
    """The figures of a dimension, with its sign; in brackets where it follows from others."""
    words = _plain_words(dimension, style)
    return f"({words})" if dimension.derived else words


def _plain_words(dimension: Dimension, style: Style) -> str:
    if isinstance(dimension, Angular) or (isinstance(dimension, Leader) and dimension.unit == "°"):
        return f"{dimension.prefix}{trim(dimension.value, 2)}°"
    sign = dimension.prefix
    if isinstance(dimension, Radial):
        sign += "⌀" if dimension.diameter else "R"
    if style.units == "in" and style.fractions:
        return f"{sign}{sixty_fourths(dimension.value / INCH)}"
    return f"{sign}{trim(dimension.value / style.size, style.decimals + (style.units == 'in'))}"


def off(rank: int) -> float:
    """How far the line of a row is set off."""
    return SPACE + ROW * (rank - 1)


def ends(dim: Linear, scale: float, origin: Array) -> tuple[Array, Array, Array, Array]:
    """The places that a dimension measures and the ends of its line, on the sheet."""
    p, q, out = origin + dim.p * scale, origin + dim.q * scale, dim.outward
    if dim.out is not None:
        return p, q, p + out * off(dim.rank), q + out * off(dim.rank)
    high_p, high_q = float(dot(p, out)), float(dot(q, out))
    far = max(high_p, high_q) + off(dim.rank)
    return p, q, p + out * (far - high_p), q + out * (far - high_q)


def _linear(dim: Linear, scale: float, origin: Array, style: Style) -> Drawn:
    pen, u, out = _Pen(dim.given, style), dim.way, dim.outward
    p, q, a, b = ends(dim, scale, origin)
    for start, end in ((p, a), (q, b)):
        pen.extension(start + out * GAP, end + out * BEYOND)
    words = words_of(dim, style)
    room = float(dot(b - a, u))
    inside = room > 2 * ARROW + 1
    tail = 0.0 if inside else 2 * ARROW
    width = text_width(words, TEXT)
    aside = width >= room - 1 and room <= 14
    pen.line(a - u * tail, b + u * (tail + (width + 1 if aside else 0.0)))
    pen.arrow(a, -u if inside else u)
    pen.arrow(b, u if inside else -u)
    middle = b + u * (width / 2 + tail + 1) if aside else a + (b - a) * dim.share
    pen.figures(middle, words, float(angle_of(u)))
    pen.drawn.rows.append(np.array([a, b]))
    return pen.drawn


def _running(group: Sequence[Linear], scale: float, origin: Array, style: Style) -> Drawn:
    """A row of dimensions from one datum, each told at its own end; figures that would lie on each other move apart."""
    first = group[0]
    out = first.outward
    far = max(float(dot(origin + at * scale, out)) for dim in group for at in (dim.p, dim.q)) + off(first.rank)
    u = direction(first.along or 0.0)
    places = sorted(group, key=lambda dim: float(dot(dim.q, u)))
    at = [float(dot(origin + dim.q * scale, u)) for dim in places]
    start = origin + first.p * scale
    datum = start + out * (far - float(dot(start, out)))
    zero = float(dot(datum, u))
    shown = _apart(at, zero)
    whole = Drawn([], [], [], [])
    turn = _readable(float(angle_of(out)))
    upward = float(dot(direction(turn), out)) > 0
    for k, (dim, x, moved) in enumerate(zip(places, at, shown)):
        pen = _Pen(dim.given, style)
        q = origin + dim.q * scale
        b = q + out * (far - float(dot(q, out)))
        if k == 0:
            pen.extension(start + out * GAP, datum + out * BEYOND)
            pen.drawn.items.append(Arc("dimension", 0, pen.owner, INK, datum, DATUM))
        way = 1.0 if x > zero else -1.0
        pen.extension(q + out * GAP, b + out * BEYOND)
        pen.line(datum + u * DATUM * way, b)
        pen.arrow(b, u * way)
        foot = b + out * (BEYOND + 1.0)
        if abs(moved - x) > 0.4:
            foot = foot + u * (moved - x) + out * 1.5
            pen.extension(b + out * BEYOND, foot - out * 0.5)
        base = foot - left_of(direction(turn)) * CAP_HEIGHT * TEXT / 2
        pen.text(base, words_of(dim, style), 0.0 if upward else 1.0, turn)
        for mine, more in zip(whole, pen.drawn):
            mine += more  # type: ignore[operator]
    whole.rows.append(np.array([datum, datum + u * (max(at, key=lambda x: abs(x - zero)) - zero)]))
    return whole


def _apart(at: Sequence[float], zero: float) -> list[float]:
    """Places along a row, in order, moved no further than they must so that figures stand beside each other."""
    shown = list(at)
    for _ in range(20):
        moved = False
        for k in range(len(shown) - 1):
            short = APART - (shown[k + 1] - shown[k])
            if short > 1e-6:
                shown[k] -= short / 2
                shown[k + 1] += short / 2
                moved = True
        if not moved:
            break
    return shown


def _radial(dim: Radial, scale: float, origin: Array, style: Style) -> Drawn:
    pen = _Pen(dim.given, style)
    centre, radius = origin + dim.centre * scale, dim.radius * scale
    w = direction(dim.angle)
    rim = centre + w * radius
    words = words_of(dim, style)
    width = text_width(words, TEXT)
    whole = dim.diameter and not dim.half
    inner = centre - w * (radius if whole else 4.0 if dim.half else 0.0)
    pen.line(inner, rim + w * (width + 4 + dim.off))
    pen.arrow(rim, w)
    if whole:
        pen.arrow(inner, -w)
    pen.figures(rim + w * (width / 2 + 3 + dim.off), words, dim.angle)
    pen.drawn.rows.append(np.array([rim + w * (dim.off + 3), rim + w * (dim.off + 3 + width)]))
    return pen.drawn


def _angular(dim: Angular, scale: float, origin: Array, style: Style) -> Drawn:
    pen = _Pen(dim.given, style)
    vertex, radius = origin + dim.vertex * scale, dim.reach
    arc = Arc("dimension", 0, pen.owner, INK, vertex, radius, dim.start, dim.sweep)
    pen.drawn.items.append(arc)
    pen.drawn.lines.append(arc.polyline())
    inside = np.deg2rad(dim.sweep) * radius > 2 * ARROW + 1
    for angle, way in ((dim.start, -1), (dim.start + dim.sweep, 1)):
        tip, round_ = polar(vertex, radius, angle), direction(angle + 90 * way - (way * 5 if inside else 0))
        if inside:
            pen.arrow(tip, round_)
        else:
            pen.arrow(tip, -round_)
            pen.line(tip, tip + round_ * 2 * ARROW)
    words = words_of(dim, style)
    middle = dim.start + dim.sweep * dim.share
    reach = radius + 1.5 + abs(float(direction(middle)[0])) * text_width(words, TEXT) / 2
    pen.text(polar(vertex, reach, middle) - np.array([0.0, CAP_HEIGHT * TEXT / 2]), words)
    return pen.drawn


def _leader(dim: Leader, scale: float, origin: Array, style: Style) -> Drawn:
    pen = _Pen(dim.given, style)
    tip, w = origin + dim.at * scale, direction(dim.angle)
    words = words_of(dim, style)
    knee = tip + w * dim.reach
    level = np.array([1.0 if w[0] >= 0 else -1.0, 0.0])
    width = text_width(words, TEXT)
    pen.line(tip, knee, knee + level * (width + 2))
    pen.arrow(tip, -w)
    pen.figures(knee + level * (width / 2 + 1), words, 0.0)
    pen.drawn.rows.append(np.array([knee, knee + level * (width + 2)]))
    return pen.drawn


def reaching(dim: Angular, scale: float, lines: Array) -> Iterator[Array]:
    """What an angle's legs lack of lines to reach its arc: extension lines (2, 2) about the origin; ``lines`` are all
    straight stretches that are drawn, (n, 2, 2)."""
    vertex = dim.vertex * scale
    for angle in (dim.start, dim.start + dim.sweep):
        u = direction(angle)
        if not _lies_on(vertex + u * dim.reach, u, lines):
            drawn_to = _along(vertex, u, dim.reach, lines)
            yield np.array([vertex + u * (drawn_to + GAP), vertex + u * (dim.reach + BEYOND)])


def _lies_on(at: Array, u: Array, lines: Array) -> bool:
    """Whether a line is drawn in the direction ``u`` through a place."""
    return bool(len(lines)) and bool((_reached(at, u, lines) & _spans(at, u, lines)).any())


def _reached(at: Array, u: Array, lines: Array) -> Bools:
    """Which stretches lie on the line through a place."""
    n = left_of(u)
    return np.asarray((np.abs((lines - at) @ n) < 0.15).all(axis=1))


def _spans(at: Array, u: Array, lines: Array) -> Bools:
    t = (lines - at) @ u
    return np.asarray((t.min(axis=1) < 0.1) & (t.max(axis=1) > -0.1))


def _along(vertex: Array, u: Array, reach: float, lines: Array) -> float:
    """How far from a vertex a line is drawn in the direction ``u``, no further than ``reach``."""
    if not len(lines):
        return 0.0
    on = lines[_reached(vertex, u, lines)]
    t = (on - vertex) @ u
    far = 0.0
    for low, high in sorted(zip(t.min(axis=1).tolist(), t.max(axis=1).tolist())):
        if low <= far + 0.1:
            far = max(far, high)
    return min(far, reach)
