"""What is seen and what is hidden of a convex solid from afar: its edges, its rims and the contour lines of a round
skin.

Rims are curves through found points; where they go out of sight is a place of the hand's own curve, between two of its
points.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import Role, Row, Spot
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.solids import Loop, Stock
from wise_compass.geometry.unfold import normal_of
from wise_compass.geometry.vectors import Array, distance, dot, length, unit

FACING = 1e-9
"""A face that turns less than this towards the eye, as a cosine, is seen edge-on."""


class Outline(NamedTuple):
    """Pieces of a solid in a view: edges from corner to corner, and stretches of a rim in divisions of it."""

    seen: list[tuple[str, str]]
    hidden: list[tuple[str, str]]


def flat_outline(stock: Stock, sight: Array) -> Outline:
    """The edges of a solid with flat faces, seen where either of their faces turns to the eye."""
    n = stock.count
    loops: list[Loop] = [stock.face(k) for k in range(n)]
    loops.append(tuple(stock.lower(k) for k in range(n))[::-1])
    if not stock.pointed:
        loops.append(tuple(stock.upper(k) for k in range(n)))
    seen: dict[frozenset[str], bool] = {}
    names: dict[frozenset[str], tuple[str, str]] = {}
    for loop in loops:
        normal = normal_of(np.array([stock.places[name] for name in loop]))
        towards = float(dot(-normal, sight)) > FACING  # places run anticlockwise in a left-handed frame
        for one, other in zip(loop, loop[1:] + loop[:1]):
            key = frozenset((one, other))
            seen[key] = seen.get(key, False) or towards
            names.setdefault(key, (one, other))
    return Outline(
        [names[key] for key, yes in seen.items() if yes], [names[key] for key, yes in seen.items() if not yes]
    )


class RoundOutline(NamedTuple):
    """Where a round skin's contour lines stand, in divisions from 0, and which stretch of it is turned to the eye."""

    contours: tuple[float, float] | None
    base_seen: bool
    top_seen: bool
    skin_seen: bool


def round_outline(stock: Stock, sight: Array) -> RoundOutline:
    """Of a cylinder or a cone: the contour lines, from the first to the second the skin is seen, going round with the
    divisions.

    A cone seen from so far round its axis that all of its skin shows, or none, has no contour lines.
    """
    sx, sy, sz = (float(x) for x in sight)
    flat = float(np.hypot(sx, sy))
    radius = float(np.hypot(*stock.base[0][:2]))
    base_seen, top_seen = sz < -FACING, sz > FACING
    if flat <= FACING:
        return RoundOutline(None, base_seen, top_seen, sz > 0 and stock.pointed)
    lean = -radius * sz / (stock.height * flat) if stock.pointed else 0.0
    if abs(lean) >= 1 - FACING:
        return RoundOutline(None, base_seen, top_seen, lean < 0)
    middle = float(np.rad2deg(np.arctan2(-sy, sx)))
    half = float(np.rad2deg(np.arccos(lean)))
    part = 360.0 / stock.count
    return RoundOutline(((middle - half) / part, (middle + half) / part), base_seen, top_seen, True)


def line_in_solid(d: Draft, stock: Stock, smooth: bool, sight: Array, spot: Callable[[str], Spot], words: str) -> None:
    """A solid's outlines in a view: what is seen dark, what is not as hidden."""
    if smooth:
        _line_in_round(d, stock, sight, spot, words)
        return
    outline = flat_outline(stock, sight)
    seen, hidden = ([(spot(a), spot(b)) for a, b in pairs] for pairs in outline)
    line_in_edges(d, seen, hidden, 1e-7 * stock.size, words)


def line_in_edges(
    d: Draft, seen: Sequence[tuple[Spot, Spot]], hidden: Sequence[tuple[Spot, Spot]], same: float, words: str
) -> None:
    """Straight edges in a view: what is seen dark, what is not as hidden; those under ``same`` mm long are points."""
    drawn: list[tuple[Spot, Spot]] = []
    for ends, role, says in (
        (seen, Role.OUTLINE, f"Line in what is seen in {words}."),
        (hidden, Role.HIDDEN, f"Line in as hidden what lies behind in {words}."),
    ):
        ends = [(a, b) for a, b in ends if float(distance(a.here, b.here)) > same]
        if role is Role.HIDDEN:  # a line that is seen goes before one that is not (ISO 128)
            ends = [pair for pair in ends if not any(_lies_on(pair, other, same) for other in drawn)]
        drawn += ends
        if ends:
            with d.as_one("Straightedge", says):
                for pair in ends:
                    d.line_in(pair, role=role)


def _lies_on(pair: tuple[Spot, Spot], other: tuple[Spot, Spot], same: float) -> bool:
    """Whether a line lies on another all along."""
    start, end = (spot.here for spot in other)
    u, long = unit(end - start), float(distance(start, end))
    for at in pair:
        off = at.here - start
        along = float(dot(off, u))
        if not -same <= along <= long + same or float(length(off - along * u)) > same:
            return False
    return True


def _line_in_round(d: Draft, stock: Stock, sight: Array, spot: Callable[[str], Spot], words: str) -> None:
    n, outline = stock.count, round_outline(stock, sight)
    edge_on = abs(float(sight[2])) <= FACING
    rims = {"base": [spot(stock.lower(k)) for k in range(n)]}
    if not stock.pointed:
        rims["top"] = [spot(stock.upper(k)) for k in range(n)]
    rows = {key: d.row(spots, closed=True) for key, spots in rims.items()}
    ends = outline.contours
    hidden: list[tuple[str, float, float]] = []
    with d.as_one("Curve", f"Line in what is seen in {words}; contour lines touch the rims."):
        for key, row in rows.items():
            whole = outline.base_seen if key == "base" else outline.top_seen
            if edge_on and ends is not None:
                d.line_in([_at(d, row, place, stock) for place in ends])
            elif whole or ends is None:
                if whole or outline.skin_seen:
                    d.piece(row, 0.0, float(n))
                else:
                    hidden.append((key, 0.0, float(n)))
            else:
                for start, end in _wrapped(*ends, n):
                    d.piece(row, start, end)
                hidden += [(key, *piece) for piece in _wrapped(ends[1], ends[0] + n, n)]
        if ends is not None:
            for place in ends:
                far = spot("V") if stock.pointed else _at(d, rows["top"], place, stock)
                d.line_in([_at(d, rows["base"], place, stock), far])
    if hidden:
        with d.as_one("Curve", f"Line in as hidden what lies behind in {words}."):
            for key, start, end in hidden:
                d.piece(rows[key], start, end, Role.HIDDEN)


def _at(d: Draft, row: Row, place: float, stock: Stock) -> Spot:
    """The place of a rim that a straightedge touches."""
    return d.touched(row, place % stock.count)


def _wrapped(start: float, end: float, count: int) -> Sequence[tuple[float, float]]:
    """A stretch of a closed row, parted where it passes its beginning."""
    start, end = start % count, start % count + (end - start)
    if end <= count:
        return [(start, end)]
    return [(start, float(count)), (0.0, end - count)]


def sight_of(across: Array, away: Array, u: Array, v: Array) -> Array:
    """Towards the eye of a view, from its frame in space and on the sheet; space is left-handed, as y is to the
    front."""
    way = float(u[0] * v[1] - u[1] * v[0])
    s = -way * cross3(across, away)
    return np.asarray(s / length(s))
