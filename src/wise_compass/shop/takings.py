"""What a pattern takes of sheet: blanks, waste, cuts and seams, weight, and how many go on a sheet."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import product
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array
from wise_compass.shop.laps import Lap
from wise_compass.shop.parts import CutPart
from wise_compass.shop.wish import MATERIALS, ShopWish

FULL = 1 + 1e-9
"""What just fits, fits."""
JOIN = 1e-6
"""mm by which shapes are let out, so that a part and its laps are one."""
SMALLER = 0.99
"""A turned blank is told where it has less than this of the level one's area."""


class Blank(NamedTuple):
    """The smallest level rectangle round a part with its laps, or round all parts as they are laid; ``copies`` of it
    are wanted.

    ``turned`` is the smallest of all, by its length, width and the angle in degrees that it leans, where that is
    clearly smaller.
    """

    title: str
    copies: int
    long: float
    high: float
    area: float
    hull: Array
    turned: tuple[float, float, float] | None

    @property
    def waste(self) -> float:
        """The share of the level blank that is cut away."""
        return 1 - self.area / (self.long * self.high)


class TakingRows(NamedTuple):
    """How many of a blank's parts go on the sheet, edge to edge in rows: in straight rows, and with every other row
    shifted by half a space."""

    straight: int
    shifted: int


class Takings(NamedTuple):
    """Of all parts together: areas in mm², lengths in mm, ``mass`` in kg (0 where no thickness is told)."""

    blanks: tuple[Blank, ...]
    area: float
    cuts: float
    seams: float
    mass: float
    rows: tuple[TakingRows, ...]


def takings_of(cuts: Sequence[CutPart], laps: Sequence[Lap], wish: ShopWish) -> Takings:
    """What all parts take."""
    shapes = [_shape(k, cut, laps) for k, cut in enumerate(cuts)]
    solid = [k for k, cut in enumerate(cuts) if cut.sides[0].kind != "hole"]
    if all(cuts[k].copies == 1 for k in solid):
        title = cuts[solid[0]].title if len(solid) == 1 else "All parts, as they are laid"
        blanks = [_blank(title, 1, [shapes[k] for k in solid])]
    else:
        blanks = [_blank(cuts[k].title, cuts[k].copies, [shapes[k]]) for k in solid]
    holes = sum(cut.area * cut.copies for k, cut in enumerate(cuts) if k not in solid)
    area = sum(blank.area * blank.copies for blank in blanks) - holes
    mass = area * wish.thickness * MATERIALS[wish.material] * 1e-9
    rows = tuple(rows_on(blank.hull, wish.sheet_long, wish.sheet_wide) for blank in blanks)
    return Takings(tuple(blanks), area, _cut_length(cuts, shapes), _seam_length(cuts), mass, rows)


def _shape(k: int, cut: CutPart, laps: Sequence[Lap]) -> list[Array]:
    return [cut.outline, *(lap.outline for lap in laps if lap.part == k)]


def _blank(title: str, count: int, shapes: Sequence[Sequence[Array]]) -> Blank:
    from shapely import MultiPoint, Polygon

    every = np.concatenate([outline for shape in shapes for outline in shape])
    low, high = every.min(axis=0), every.max(axis=0)
    size = high - low
    area = sum(Polygon(outline).area for shape in shapes for outline in shape)
    points = MultiPoint(every)
    round_it, hull_of = points.minimum_rotated_rectangle, points.convex_hull
    assert isinstance(hull_of, Polygon)
    turned = None
    if isinstance(round_it, Polygon) and round_it.area < SMALLER * float(size.prod()):
        corners = np.array(round_it.exterior.coords)
        edges = corners[1:3] - corners[:2]
        spans = np.hypot(*edges.T)
        first = edges[int(np.argmax(spans))]
        lean = float(np.degrees(np.arctan2(first[1], first[0]))) % 180.0
        turned = (float(spans.max()), float(spans.min()), lean - 180.0 if lean > 90.0 else lean)
    hull = np.array(hull_of.exterior.coords)[:-1]
    return Blank(title, count, float(size[0]), float(size[1]), float(area), hull - low, turned)


def _cut_length(cuts: Sequence[CutPart], shapes: Sequence[Sequence[Array]]) -> float:
    """All that is cut: round every part with its laps; a cut between two parts of a strip is made once."""
    from shapely import Polygon, unary_union

    total = 0.0
    for cut, shape in zip(cuts, shapes):
        joints = sum(side.long for side in cut.sides if side.kind == "joint")
        whole = unary_union([Polygon(outline).buffer(JOIN, join_style="mitre") for outline in shape])
        total += cut.copies * (whole.length - joints / 2)
    return total


def _seam_length(cuts: Sequence[CutPart]) -> float:
    """All that is joined: where the pattern was opened, and where its parts meet, each once."""
    shares = {"seam": 1.0, "joint": 0.5}
    found = sum(cut.copies * shares.get(side.kind, 0.0) * side.long for cut in cuts for side in cut.sides)
    return found + _rim_seams(cuts)


def _rim_seams(cuts: Sequence[CutPart]) -> float:
    """The girths at which parts that are laid singly meet: the lower rim of every part of several that stand on each
    other."""
    if len(cuts) < 2 or all(cut.copies == 1 for cut in cuts):
        return 0.0
    rims = [cut.copies * side.long for cut in cuts for side in cut.sides if side.kind in ("base", "top")]
    return sum(rims) / 2


def rows_on(hull: Array, long: float, wide: float) -> TakingRows:
    """How many of a convex outline (m, 2), anticlockwise or not, go on a sheet: the best of rows and columns, and both
    ways round.

    A plain count: it looks no further than rows of one way round, and leaves nothing between neighbours.

    >>> rows_on(np.array([[0.0, 0], [30, 0], [30, 20], [0, 20]]), 95.0, 65.0)
    TakingRows(straight=9, shifted=8)
    """
    straight, shifted = 0, 0
    ways = product((hull, hull[:, ::-1]), ((long, wide), (wide, long)))  # in rows or in columns, either way round
    for at, (along, across) in ways:
        size = at.max(axis=0) - at.min(axis=0)
        if size[0] > along * FULL or size[1] > across * FULL:
            continue
        space = _space(at[:, ::-1])
        first = _fitting(along - size[0], space)
        straight = max(straight, first * _fitting(across - size[1], _rise(at, space, 0.0)))
        # the row after next stands over this one again
        rise = max(_rise(at, space, space / 2), _rise(at, space, 0.0) / 2)
        rows = _fitting(across - size[1], rise)
        other = _fitting(along - size[0] - space / 2, space)
        shifted = max(shifted, (rows + 1) // 2 * first + rows // 2 * other)
    return TakingRows(straight, shifted)


def _fitting(room: float, space: float) -> int:
    return int(np.floor(room / space + 1e-9)) + 1 if room >= -1e-9 * space else 0


def _space(at: Array) -> float:
    """From one outline to the next along its second axis, so that they only touch."""
    return _rise(at, np.inf, 0.0)


def _rise(at: Array, space: float, shift: float) -> float:
    """How far up a row stands over the one below it, shifted along by so much, their outlines ``space`` apart: the
    outlines only touch."""
    upper, lower = _edge(at, 1), _edge(at, -1)
    rise, long = 0.0, float(np.ptp(at[:, 0]))
    reach = int(np.ceil(long / space)) + 1 if np.isfinite(space) else 0
    for k in range(-reach, reach + 1):
        off = shift + k * space if k else shift
        x = np.concatenate([upper[:, 0], lower[:, 0] + off])
        low, high = max(upper[0, 0], lower[0, 0] + off), min(upper[-1, 0], lower[-1, 0] + off)
        x = x[(x >= low - 1e-12) & (x <= high + 1e-12)]
        if len(x):
            over = np.interp(x, *upper.T) - np.interp(x - off, *lower.T)
            rise = max(rise, float(over.max()))
    return rise


def _edge(at: Array, way: int) -> Array:
    """The upper (1) or lower (−1) edge of a convex outline, from the left."""
    at = np.round(at, 9)
    order = np.lexsort((at[:, 1] * -way, at[:, 0]))
    found: list[Array] = []
    for p in at[order]:
        if found and abs(p[0] - found[-1][0]) < 1e-12:
            continue
        while len(found) > 1 and way * float(_turn(found[-2], found[-1], p)) >= 0:
            found.pop()
        found.append(p)
    return np.array(found)


def _turn(a: Array, b: Array, c: Array) -> float:
    return float((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
