"""Laps along the edges of a pattern: strips beside an edge, their ends notched so that no two of them meet."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import mm, most_mm
from wise_compass.geometry.vectors import Array, angle_of
from wise_compass.shop.parts import CutPart, Side
from wise_compass.shop.wish import CALLED, LAPS, LEAST_LAP, ShopWish, largest

if TYPE_CHECKING:
    from shapely import Polygon

NOTCH = 45.0
"""Degrees at which the end of a lap leaves its edge, where there is room for it."""
CLEAR = 3.0
"""Degrees that stay between the ends of two laps at a corner that juts inward."""
TOUCHING = 1e-7
"""Of a lap's own area: what two may share and still only touch."""


class Lap(NamedTuple):
    """A lap: the part (a number from 0) and the side that it stands beside, its width, and its free outline from the
    side's end back to its start."""

    part: int
    side: Side
    width: float
    free: Array

    @property
    def outline(self) -> Array:
        """All round, anticlockwise, (m, 2)."""
        return np.concatenate([self.side.course[::-1], self.free[::-1][1:-1]])[::-1]


def laps_of(cuts: Sequence[CutPart], wish: ShopWish) -> list[Lap]:
    """Every lap that is wanted; raises :class:`Refused` where one finds no room, with the width that does."""
    if not wish.lapped:
        return []
    laps: list[Lap] = []
    for name, kind in LAPS.items():
        width = float(getattr(wish, name))
        if not width:
            continue
        kinds = (kind, "cut") if kind == "top" else (kind,)
        sides = [(k, side) for k, cut in enumerate(cuts) for side in cut.sides if side.kind in kinds]
        room = _Room(cuts, laps)
        if (short := room.lacking(sides, width)) is not None:
            most = largest(lambda w: room.lacking(sides, w) is None, width)  # noqa: B023
            way = (
                f"Lower {name} to {most_mm(most)} at most"
                if most >= LEAST_LAP
                else f"There is none at all: set {name} to 0"
            )
            edge = f"its edge {short.called}, {mm(short.long)} long"
            raise Refused(
                name,
                f"The {CALLED[name]}, {mm(width)} wide, has no room beside {edge}, "
                f"once its corners are notched. {way}.",
            )
        laps += room.fitted(sides, width)
    return laps


class _Room:
    """The parts, and the laps that stand already."""

    def __init__(self, cuts: Sequence[CutPart], laps: Sequence[Lap]) -> None:
        from shapely import Polygon

        self.cuts = cuts
        self.taken = [Polygon(cut.outline) for cut in cuts] + [Polygon(lap.outline) for lap in laps]

    def fitted(self, sides: Sequence[tuple[int, Side]], width: float) -> list[Lap]:
        found = [self._lap(part, side, width) for part, side in sides]
        return [lap for lap in found if lap is not None]

    def lacking(self, sides: Sequence[tuple[int, Side]], width: float) -> Side | None:
        """The first side beside which a lap of that width has no room; None where all have."""
        from shapely import Polygon

        stand: list[Polygon] = []
        for part, side in sides:
            lap = self._lap(part, side, width)
            if lap is None:
                return side
            shape = Polygon(lap.outline)
            if not shape.is_valid or not shape.area > 0:
                return side
            if any(
                shape.intersection(other).area > TOUCHING * shape.area
                for other in (*self.taken, *stand)
                if shape.intersects(other)
            ):
                return side
            stand.append(shape)
        return None

    def _lap(self, part: int, side: Side, width: float) -> Lap | None:
        """The lap beside a side, the part on its left; None where notching leaves nothing of it."""
        from shapely import LineString, line_merge
        from shapely.ops import substring

        off = line_merge(LineString(side.course).offset_curve(-width, join_style="mitre", mitre_limit=2.0))
        if not isinstance(off, LineString) or off.is_empty:
            return None
        first, last = (width / float(np.tan(np.radians(angle))) for angle in self._angles(part, side))
        if off.length - first - last < 0.02 * width:
            return None
        free = np.array(substring(off, first, off.length - last).coords)
        return Lap(part, side, width, np.concatenate([side.course[-1:], free[::-1], side.course[:1]]))

    def _angles(self, part: int, side: Side) -> Iterator[float]:
        """At both ends, the angle at which the lap's end leaves the side."""
        sides = self.cuts[part].sides
        k = next(k for k, one in enumerate(sides) if one is side)
        for one, other in ((sides[k - 1], side), (side, sides[(k + 1) % len(sides)])):
            turn = float(angle_of(other.course[1] - other.course[0])) - float(angle_of(one.course[-1] - one.course[-2]))
            outside = 180.0 + (turn + 180.0) % 360.0 - 180.0
            yield min(NOTCH, max((outside - CLEAR) / 2, 1.0))
