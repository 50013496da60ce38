"""Dimensions drawn as ISO 129-1 has them: narrow lines, arrowheads or ticks, figures read from below or from the
right.

A dimension is drawn in many ways at once, side by side in arrays, so that they can be weighed against each other
(:mod:`wise_compass.sheet.placing`); the one that is taken is turned into items.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear, Radial
from wise_compass.drafting.wording import INCH, Style, sixty_fourths, trim
from wise_compass.geometry.vectors import Array, Bools, angle_of, direction, dot, left_of, polar
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, TEXT, text_size, text_width

SPACE, ROW = 9.0, 7.0
"""From the outline to the first dimension line, and from each to the next."""
ARROW = 2.5
GAP, BEYOND = 1.0, 1.5
"""Where an extension line begins off its place, and how far it goes beyond the dimension line."""
CLEAR = 1.4
"""From the figures of one running dimension to those of the next."""
DATUM = 0.8
INK = "dimension"


@dataclass(eq=False, repr=False)
class Shapes:
    """Ways of drawing a dimension, or a row of them, side by side; the first axis of every array is the ways.

    ``lines`` and ``extensions`` are straight, (m, n, 2, 2); ``arrows`` the tips of arrowheads and which way each
    points, (m, n, 2, 2); ``at``, ``turn`` and ``anchor`` are of the words; ``rows`` (m, 2, 2) are the lines that had
    better lie outside of an outline. ``owners`` tell for every list whose each is.
    """

    givens: Sequence[str]
    words: Sequence[str]
    at: Array
    turn: Array
    anchor: Array
    lines: Array
    extensions: Array
    arrows: Array
    rows: Array
    line_of: Sequence[int] = ()
    extension_of: Sequence[int] = ()
    arrow_of: Sequence[int] = ()
    datum: Array | None = None
    arc: tuple[Array, Array, float, float] | None = None
    size: float = TEXT
    wide: Array = field(init=False)

    def __post_init__(self) -> None:
        self.wide = np.array([text_width(words, self.size) for words in self.words])

    @cached_property
    def boxes(self) -> Array:
        """The words of every way as boxes, (ways × words, 6): the middle of the base line, the direction, half the
        width and the height."""
        turn = np.deg2rad(self.turn)
        made = np.empty((*turn.shape, 6))
        made[..., 2], made[..., 3] = np.cos(turn), np.sin(turn)
        made[..., :2] = self.at + made[..., 2:4] * ((0.5 - self.anchor) * self.wide)[..., None]
        made[..., 4], made[..., 5] = self.wide / 2, CAP_HEIGHT * self.size
        return made.reshape(-1, 6)

    def items(self, k: int, style: Style) -> Iterator[Item]:
        """The way ``k`` as items of a drawing."""
        owners = [f"given:{given}" for given in self.givens]
        for lines, own in ((self.extensions, self.extension_of), (self.lines, self.line_of)):
            for n, course in enumerate(lines[k]):
                if np.abs(course[1] - course[0]).max() > 1e-9:
                    yield Line("dimension", 0, owners[own[n] if own else 0], INK, course)
        if self.arc is not None:
            vertex, radii, start, sweep = self.arc
            yield Arc("dimension", 0, owners[0], INK, vertex, float(radii[k]), start, sweep)
        if self.datum is not None:
            yield Arc("dimension", 0, owners[0], INK, self.datum[k], DATUM)
        for n, (tip, pointing) in enumerate(self.arrows[k]):
            corners = _head(tip, pointing, style.ticks)
            owner = owners[self.arrow_of[n] if self.arrow_of else 0]
            yield Line("dimension", 0, owner, INK, corners, closed=True, filled=True)
        for n, words in enumerate(self.words):
            at, turn, anchor = self.at[k, n], float(self.turn[k, n]), float(self.anchor[k, n])
            yield Text("dimension", 0, owners[n], INK, at, words, self.size, anchor, turn)


def _head(tip: Array, pointing: Array, ticks: bool) -> Array:
    """The corners of an arrowhead; or of a tick, where the office has these."""
    if ticks:
        slant, thick = (pointing + left_of(pointing)) * ARROW / 2, 0.12 * pointing
        return np.array([tip - slant - thick, tip + slant - thick, tip + slant + thick, tip - slant + thick])
    side = left_of(pointing) * ARROW * 0.16
    return np.array([tip, tip - pointing * ARROW + side, tip - pointing * ARROW - side])


def dimension_items(dimension: Dimension, scale: float, origin: Array, style: Style) -> list[Item]:
    """The lines, arrows and figures of a dimension on the sheet, as it is told."""
    return [item.moved(origin) for item in shapes([dimension], scale, style, as_told(dimension)).items(0, style)]


def as_told(dimension: Dimension) -> Array:
    """The one way that a dimension is told."""
    if isinstance(dimension, Linear):
        return np.array([[dimension.rank, 1.0, dimension.share]])
    if isinstance(dimension, Radial):
        return np.array([[0.0, dimension.off]])
    if isinstance(dimension, Leader):
        return np.array([[dimension.angle, dimension.reach]])
    return np.array([[1.0, dimension.share]])


def shapes(group: Sequence[Dimension], scale: float, style: Style, ways: Array) -> Shapes:
    """A dimension, or a row of running ones, about the origin in each of some ways, (m, 2 to 5).

    Of a length a way is its row, side and share, and where its figures are led aside the angle and the length of the
    line; of a circle by how much its ray is turned and how far out its figures stand; of an angle how many times as far
    out its arc lies, and the share; of a leader its angle and length.
    """
    first = group[0]
    if isinstance(first, Linear):
        if first.running:
            return _running([one for one in group if isinstance(one, Linear)], scale, style, ways)
        return _linear(first, scale, style, ways)
    if isinstance(first, Radial):
        return _radial(first, scale, style, ways)
    if isinstance(first, Leader):
        return _leader(first, scale, style, ways)
    return _angular(first, scale, style, ways)


def words_of(dimension: Dimension, style: Style) -> str:
    """The figures of a dimension, with its sign; in brackets where it follows from others."""
    words = _plain_words(dimension, style)
    return f"({words})" if dimension.derived else words


def _plain_words(dimension: Dimension, style: Style) -> str:
    if isinstance(dimension, Angular) or (isinstance(dimension, Leader) and dimension.unit == "°"):
        return f"{dimension.prefix}{trim(dimension.value, 2)}°"
    sign = dimension.prefix
    if isinstance(dimension, Leader) and not dimension.unit:
        return f"{sign}{trim(dimension.value, 2)}"
    if isinstance(dimension, Radial):
        sign += "⌀" if dimension.diameter else "R"
    if style.units == "in" and style.fractions:
        return f"{sign}{sixty_fourths(dimension.value / INCH)}"
    return f"{sign}{trim(dimension.value / style.size, style.decimals + (style.units == 'in'))}"


def _readable(turn: Array) -> Array:
    """Directions of words, so that they are read from below or from the right."""
    return np.asarray((turn + 90.0 - 1e-6) % 180.0 - 90.0 + 1e-6)


def _over(at: Array, turn: Array) -> tuple[Array, Array]:
    """Where words begin that stand centred over places (m, 2), and how they are turned."""
    turn = _readable(turn)
    return (at + left_of(direction(turn)) * GAP)[:, None], turn[:, None]


def _pairs(*ends: tuple[Array, Array]) -> Array:
    """Straight lines of every way from the ends of each, (m, 2) or (2,), as (m, n, 2, 2)."""
    m = max(np.ndim(each) > 1 and len(each) for pair in ends for each in pair)
    found = np.empty((m, len(ends), 2, 2))
    for n, (start, end) in enumerate(ends):
        found[:, n, 0], found[:, n, 1] = start, end
    return found


def _set_off(rank: Array, style: Style) -> Array:
    """How far the line of a row is set off, as a column."""
    row = ROW + CAP_HEIGHT * (text_size(style) - TEXT)
    return np.asarray(SPACE + row * (rank - 1))[:, None]


def _linear(dim: Linear, scale: float, style: Style, ways: Array) -> Shapes:
    m, u = len(ways), dim.way
    rank, side, share = ways[:, :3].T
    out, off = dim.outward * side[:, None], _set_off(rank, style)
    p, q = dim.p * scale, dim.q * scale
    if dim.out is not None:
        a, b = p + out * off, q + out * off
    else:
        high_p, high_q = (out @ p)[:, None], (out @ q)[:, None]
        far = np.maximum(high_p, high_q)
        if dim.past is not None:
            far = np.maximum(far, (out @ (dim.past * scale))[:, None])
        far = far + off
        a, b = p + out * (far - high_p), q + out * (far - high_q)
    words = words_of(dim, style)
    room, width = float(dot(b[0] - a[0], u)), text_width(words, text_size(style))
    inside = room > 2 * ARROW + 1
    tail = 0.0 if inside else 2 * ARROW
    aside = width >= room - 1 and room <= 14
    middle = b + u * (width / 2 + tail + 1) if aside else a + (b - a) * share[:, None]
    at, turn = _over(middle, np.full(m, float(angle_of(u))))
    lines = [(a - u * tail, b + u * (tail + (width + 1 if aside else 0.0)))]
    if ways.shape[1] > 3:
        at, turn, lines = _led((a + b) / 2, ways[:, 3:], width)
        lines = [(a - u * tail, b + u * tail), *lines]
    way = u if inside else -u
    return Shapes(
        [dim.given],
        [words],
        at,
        turn,
        np.full((m, 1), 0.5),
        _pairs(*lines),
        _pairs((p + out * GAP, a + out * BEYOND), (q + out * GAP, b + out * BEYOND)),
        _pairs((a, -way), (b, way)),
        _pairs((a, b))[:, 0],
        size=text_size(style),
    )


def _led(start: Array, ways: Array, width: float) -> tuple[Array, Array, list[tuple[Array, Array]]]:
    """Words on a shoulder that a line leads to from places (m, 2), at angles and lengths (m, 2): where they begin, how
    they are turned, and the lines."""
    w = direction(ways[:, 0])
    knee = start + w * ways[:, 1:2]
    level = np.stack([np.where(w[:, 0] >= 0, 1.0, -1.0), np.zeros(len(ways))], axis=1)
    at, turn = _over(knee + level * (width / 2 + 1), np.zeros(len(ways)))
    return at, turn, [(start, knee), (knee, knee + level * (width + 2))]


def _running(group: Sequence[Linear], scale: float, style: Style, ways: Array) -> Shapes:
    """A row of dimensions from one datum, each told at its own end; figures that would lie on each other move apart."""
    first = group[0]
    u = direction(first.along or 0.0)
    places = sorted(group, key=lambda dim: float(dot(dim.q, u)))
    out, off = first.outward * ways[:, 1:2], _set_off(ways[:, 0], style)
    start, tips = first.p * scale, np.array([dim.q * scale for dim in places])
    high = np.einsum("mj,nj->mn", out, tips)
    low = (out @ start)[:, None]
    if first.out is not None:
        datum, b = start + out * off, tips + (out * off)[:, None]
    else:
        far = np.maximum(high.max(axis=1, keepdims=True), low) + off
        datum, b = start + out * (far - low), tips + out[:, None] * (far - high)[..., None]
    at, zero = tips @ u, float(start @ u)
    size = text_size(style)
    shown = np.array(_apart(at.tolist(), CAP_HEIGHT * size + CLEAR))
    sign = np.where(at > zero, 1.0, -1.0)
    over = out[:, None]
    moved = np.abs(shown - at) > 0.4
    foot = b + over * (BEYOND + 1.0)
    foot = np.where(moved[:, None], foot + u * (shown - at)[:, None] + over * 1.5, foot)
    bends = np.stack([b + over * BEYOND, np.where(moved[:, None], foot - over * 0.5, b + over * BEYOND)], axis=2)
    turn = _readable(np.asarray(angle_of(out)))
    upward = (direction(turn) * out).sum(axis=-1) > 0
    stems = np.stack([tips + over * GAP, b + over * BEYOND], axis=2)
    zeros = np.stack([start + out * GAP, datum + out * BEYOND], axis=1)[:, None]
    n = len(places)
    furthest = int(np.argmax(np.abs(at - zero)))
    return Shapes(
        [dim.given for dim in places],
        [words_of(dim, style) for dim in places],
        foot - (left_of(direction(turn)) * CAP_HEIGHT * size / 2)[:, None],
        np.repeat(turn[:, None], n, axis=1),
        np.repeat(np.where(upward, 0.0, 1.0)[:, None], n, axis=1),
        np.stack([np.broadcast_to(datum[:, None], b.shape) + (u * DATUM) * sign[:, None], b], axis=2),
        np.concatenate([zeros, stems, bends], axis=1),
        np.stack([b, np.broadcast_to(u * sign[:, None], b.shape)], axis=2),
        np.stack([datum, b[:, furthest]], axis=1),
        range(n),
        [0, *range(n), *range(n)],
        range(n),
        datum,
        size=size,
    )


def _apart(at: Sequence[float], apart: float) -> list[float]:
    """Places along a row, in order, moved no further than they must to stand ``apart``: figures beside each other."""
    shown = list(at)
    for _ in range(20):
        moved = False
        for k in range(len(shown) - 1):
            short = apart - (shown[k + 1] - shown[k])
            if short > 1e-6:
                shown[k] -= short / 2
                shown[k + 1] += short / 2
                moved = True
        if not moved:
            break
    return shown


def _radial(dim: Radial, scale: float, style: Style, ways: Array) -> Shapes:
    m = len(ways)
    angle, off = dim.angle + ways[:, 0], ways[:, 1:2]
    centre, radius = dim.centre * scale, dim.radius * scale
    w = direction(angle)
    rim = centre + w * radius
    words = words_of(dim, style)
    width = text_width(words, text_size(style))
    whole = dim.diameter and not dim.half
    inner = centre - w * (radius if whole else 4.0 if dim.half else 0.0)
    at, turn = _over(rim + w * (width / 2 + 3 + off), angle)
    heads = _pairs((rim, w), (inner, -w)) if whole else _pairs((rim, w))
    return Shapes(
        [dim.given],
        [words],
        at,
        turn,
        np.full((m, 1), 0.5),
        _pairs((inner, rim + w * (width + 4 + off))),
        np.zeros((m, 0, 2, 2)),
        heads,
        _pairs((rim + w * (off + 3), rim + w * (off + 3 + width)))[:, 0],
        size=text_size(style),
    )


def _angular(dim: Angular, scale: float, style: Style, ways: Array) -> Shapes:
    m = len(ways)
    vertex, radius, share = dim.vertex * scale, dim.reach * ways[:, 0], ways[:, 1]
    ends = dim.start, dim.start + dim.sweep
    turns = np.linspace(*ends, max(4, int(dim.sweep / 6)) + 1)
    arc = vertex + radius[:, None, None] * direction(turns)
    pieces = [np.stack([arc[:, :-1], arc[:, 1:]], axis=2)]
    inside = np.deg2rad(dim.sweep) * float(radius.min()) > 2 * ARROW + 1
    heads = []
    for angle, way in zip(ends, (-1, 1)):
        tip, along = vertex + radius[:, None] * direction(angle), direction(angle + (90 - 5 * inside) * way)
        heads.append(np.stack(np.broadcast_arrays(tip, along if inside else -along), axis=1))
        if not inside:
            pieces.append(np.stack([tip, tip + along * 2 * ARROW], axis=1)[:, None])
    words = words_of(dim, style)
    middle = dim.start + dim.sweep * share
    reach = radius + 1.5 + np.abs(direction(middle)[:, 0]) * text_width(words, text_size(style)) / 2
    at = vertex + reach[:, None] * direction(middle) - np.array([0.0, CAP_HEIGHT * text_size(style) / 2])
    drawn = Shapes(
        [dim.given],
        [words],
        at[:, None],
        np.zeros((m, 1)),
        np.full((m, 1), 0.5),
        np.concatenate(pieces, axis=1),
        np.zeros((m, 0, 2, 2)),
        np.stack(heads, axis=1),
        np.repeat(vertex[None, None], 2, axis=1).repeat(m, axis=0),
        size=text_size(style),
    )
    drawn.arc = vertex, radius, dim.start, dim.sweep
    return drawn


def _leader(dim: Leader, scale: float, style: Style, ways: Array) -> Shapes:
    m, tip = len(ways), dim.at * scale
    words = words_of(dim, style)
    at, turn, lines = _led(np.broadcast_to(tip, (m, 2)), ways, text_width(words, text_size(style)))
    return Shapes(
        [dim.given],
        [words],
        at,
        turn,
        np.full((m, 1), 0.5),
        _pairs(*lines),
        np.zeros((m, 0, 2, 2)),
        _pairs((tip, -direction(ways[:, 0]))),
        _pairs(lines[1])[:, 0],
        size=text_size(style),
    )


def reaching(dim: Angular, scale: float, reach: float, lines: Array) -> Iterator[Array]:
    """What an angle's legs lack of lines to reach its arc, ``reach`` mm off: extension lines (2, 2) about the origin;
    ``lines`` are all straight stretches that are drawn, (n, 2, 2)."""
    vertex = dim.vertex * scale
    for angle in (dim.start, dim.start + dim.sweep):
        u = direction(angle)
        on = _on_line(vertex, u, lines)
        t = (lines[on] - vertex) @ u
        low, high = t.min(axis=1), t.max(axis=1)
        if not ((low < reach + 0.1) & (high > reach - 0.1)).any():
            far = 0.0
            for begin, end in sorted(zip(low.tolist(), high.tolist())):
                if begin <= far + 0.1:
                    far = max(far, end)
            yield polar(vertex, np.array([min(far, reach) + GAP, reach + BEYOND]), angle)


def _on_line(at: Array, u: Array, lines: Array) -> Bools:
    """Which stretches lie on the line through a place."""
    return np.asarray((np.abs((lines - at) @ left_of(u)) < 0.15).all(axis=1))
