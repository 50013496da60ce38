"""Roofs over a plan whose sides each carry a slope: over a convex plan a point is as high as the lowest slope there;
over a square-cornered L it is the higher of two wings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.vectors import Array, angle_between, cosd, cross, distance, left_of, length, tand, unit

SAME = 1e-9
"""Of the plan's size: places nearer to each other are one."""
BESIDE = 1e-5
"""Of the plan's size: how far beside an edge it is looked which slope the roof is on."""

AROUND, UNEVEN = 240, 0.0123
"""Places round a meeting that are looked at, and the turn in radians that keeps them off the edges."""


class RoofEdge(NamedTuple):
    """A hip, valley, ridge or verge: its ends by the numbers of their places, and the two sides whose slopes, or whose
    gable, meet in it, the lower number first."""

    start: int
    end: int
    sides: tuple[int, int]


class Hip(NamedTuple):
    """What rises from a corner: to where, (3,), and the angle inside between what meets there, in degrees."""

    end: Array
    dihedral: float


@dataclass(frozen=True)
class Roof:
    """A roof by the corners of its plan, (n, 2), anticlockwise, and the pitch of the slope on each side in degrees, 90
    for a gable; side k runs from corner k to the next. ``dent`` is the number of an L's inner corner, −1 without."""

    corners: tuple[tuple[float, float], ...]
    pitches: tuple[float, ...]
    dent: int = -1

    @cached_property
    def plan(self) -> Array:
        return np.array(self.corners)

    @property
    def count(self) -> int:
        return len(self.corners)

    @cached_property
    def size(self) -> float:
        """The plan's larger extent."""
        return float((self.plan.max(axis=0) - self.plan.min(axis=0)).max())

    @cached_property
    def ways(self) -> Array:
        """The unit direction of every side, (n, 2)."""
        return unit(np.roll(self.plan, -1, axis=0) - self.plan)

    @cached_property
    def inward(self) -> Array:
        return left_of(self.ways)

    def gable(self, k: int) -> bool:
        return self.pitches[k] >= 90.0

    @cached_property
    def slopes(self) -> list[int]:
        """The sides that carry a slope."""
        return [k for k in range(self.count) if not self.gable(k)]

    @cached_property
    def wings(self) -> list[list[int]]:
        """The sides of each convex part: all of a convex plan, the four of either rectangle of an L."""
        n, d = self.count, self.dent
        if d < 0:
            return [list(range(n))]
        return [[k for k in range(n) if k not in gone] for gone in ((d, (d + 1) % n), ((d - 1) % n, (d - 2) % n))]

    def off(self, k: int, at: Array) -> Array:
        """How far places of the plan lie inside side ``k``."""
        return np.asarray((at - self.plan[k]) @ self.inward[k])

    def slope(self, k: int, at: Array) -> Array:
        """How high the slope on side ``k`` is over places of the plan."""
        return self.off(k, at) * float(tand(self.pitches[k]))

    def wing_height(self, wing: Sequence[int], at: Array) -> Array:
        """How high a wing is there: the lowest of its slopes, −∞ outside its plan."""
        inside = np.min([self.off(k, at) for k in wing], axis=0) >= -SAME * self.size
        low = np.min([self.slope(k, at) for k in wing if not self.gable(k)], axis=0)
        return np.where(inside, low, -np.inf)

    def height(self, at: Array) -> Array:
        """How high the finished roof is over places of the plan, −∞ outside it."""
        return np.asarray(np.max([self.wing_height(wing, at) for wing in self.wings], axis=0))

    # folded down

    def folded(self, k: int, place: int) -> Array:
        """Where a place of slope ``k``, or of a gable's wall, lies when that is folded outward about its eave, (2,)."""
        at, off = self.places[place, :2], float(self.off(k, self.places[place, :2]))
        far = float(self.places[place, 2]) if self.gable(k) else off / float(cosd(self.pitches[k]))
        return np.asarray(at - (off + far) * self.inward[k])

    @cached_property
    def set_aside(self) -> dict[int, float]:
        """The sides that meet in an inner corner, and how far out their eaves have to be set for what is folded about
        them to lie clear of the plan and of all else that is folded."""
        if self.dent < 0:
            return {}
        mine = ((self.dent - 1) % self.count, self.dent)
        others = [self.folded(k, place) for k in range(self.count) if k not in mine for place in self.face(k)]
        every = np.vstack([self.plan, *others])
        return {k: float((-(every - self.plan[k]) @ self.inward[k]).max()) for k in mine}

    # regions

    def _clipped(self, polygon: Array, off: Array, level: float = 0.0) -> Array:
        """What of a convex polygon lies where x·off ≥ level (Sutherland and Hodgman)."""
        if len(polygon) == 0:
            return polygon
        over = polygon @ off - level
        found = []
        for a, b, p, q in zip(polygon, np.roll(polygon, -1, axis=0), over, np.roll(over, -1)):
            if p >= 0:
                found.append(a)
            if (p >= 0) != (q >= 0):
                found.append(a + (b - a) * (p / (p - q)))
        return np.array(found).reshape(-1, 2)

    def _plane(self, k: int) -> tuple[Array, float]:
        """A slope as height = p·normal − level."""
        normal = self.inward[k] * float(tand(self.pitches[k]))
        return normal, float(self.plan[k] @ normal)

    def _box(self, wing: Sequence[int]) -> Array:
        """The plan of a wing."""
        low, high = self.plan.min(axis=0) - self.size, self.plan.max(axis=0) + self.size
        polygon = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
        for k in wing:
            polygon = self._clipped(polygon, self.inward[k], float(self.plan[k] @ self.inward[k]))
        return polygon

    def _under(self, polygon: Array, k: int, others: Sequence[int]) -> Array:
        """Where in a polygon slope ``k`` is no higher than any of the others."""
        mine, level = self._plane(k)
        for j in others:
            if j != k and not self.gable(j):
                normal, own = self._plane(j)
                polygon = self._clipped(polygon, normal - mine, own - level)
        return polygon

    def _area(self, polygon: Array) -> float:
        return abs(float(shoelace(polygon))) if len(polygon) > 2 else 0.0

    def plan_area(self, k: int) -> float:
        """How much of the plan the slope on side ``k`` covers."""
        own = [self._under(self._box(wing), k, wing) if k in wing else np.zeros((0, 2)) for wing in self.wings]
        if len(self.wings) == 1:
            return self._area(own[0])
        total = 0.0
        for region, other in zip(own, reversed(self.wings)):
            covered = region
            for j in other:
                covered = self._clipped(covered, self.inward[j], float(self.plan[j] @ self.inward[j]))
            total += self._area(region) - self._area(self._under(covered, k, other))
        # where both wings have this very slope, each was taken for covered by the other
        both = own[0]
        if len(own[1]):
            for j in self.wings[1]:
                both = self._clipped(both, self.inward[j], float(self.plan[j] @ self.inward[j]))
            both = self._under(both, k, self.wings[1])
            total += self._area(both)
        return total

    def wall_area(self, k: int) -> float:
        """The area of a gable's wall over the eaves."""
        start, long = self.plan[k], float(distance(self.plan[k], np.roll(self.plan, -1, axis=0)[k]))
        cuts = {0.0, long}
        for i, j in combinations(self.slopes, 2):
            (a, p), (b, q) = self._plane(i), self._plane(j)
            lean = float((a - b) @ self.ways[k])
            if abs(lean) > 1e-12:
                cuts.add(float(np.clip((p - q - (a - b) @ start) / lean, 0.0, long)))
        for j in range(self.count):
            lean = float(self.inward[j] @ self.ways[k])
            if abs(lean) > 1e-12:
                cuts.add(float(np.clip((self.plan[j] - start) @ self.inward[j] / lean, 0.0, long)))
        at = np.array(sorted(cuts))
        heights = self.height(start + at[:, None] * self.ways[k] + SAME * self.size * 0.1 * self.inward[k])
        return float(np.sum((heights[1:] + heights[:-1]) / 2 * np.diff(at)))

    # edges

    @cached_property
    def places(self) -> Array:
        """The corners, and where three slopes, or two and a gable, meet in the finished roof; (m, 3)."""
        found = [np.array([x, y, 0.0]) for x, y in self.corners]
        for triple in combinations(range(self.count), 3):
            gables = [k for k in triple if self.gable(k)]
            if len(gables) > 1:
                continue
            rows = [self._equation(k) for k in triple]
            matrix = np.array([row[0] for row in rows])
            if abs(np.linalg.det(matrix)) < 1e-9:
                continue
            at = np.linalg.solve(matrix, np.array([row[1] for row in rows]))
            if at[2] < SAME * self.size or not self._stands(at, triple):
                continue
            if all(float(length(at - other)) > SAME * self.size * 100 for other in found):
                found.append(at)
        return np.array(found)

    def _equation(self, k: int) -> tuple[Array, float]:
        """The plane of a slope or a gable's wall: n·p = level."""
        if self.gable(k):
            return np.array([*self.inward[k], 0.0]), float(self.plan[k] @ self.inward[k])
        normal, level = self._plane(k)
        return np.array([-normal[0], -normal[1], 1.0]), -level

    def _stands(self, at: Array, sides: Sequence[int]) -> bool:
        """Whether the finished roof passes a place on all of these sides."""
        near = BESIDE * self.size
        if abs(float(self.height(at[:2])) - float(at[2])) > 1e-7 * self.size:
            return False
        turns = UNEVEN + np.linspace(0, 2 * np.pi, AROUND, endpoint=False)
        around = at[:2] + near * np.stack([np.cos(turns), np.sin(turns)], axis=-1)
        heights = self.height(around)
        for k in sides:
            if self.gable(k):
                on = self.off(k, at[None, :2])[0]
                along = float((at[:2] - self.plan[k]) @ self.ways[k])
                long = float(distance(self.plan[k], self.plan[(k + 1) % self.count]))
                if abs(float(on)) > 1e-7 * self.size or not -1e-7 * self.size <= along <= long + 1e-7 * self.size:
                    return False
            elif int((np.abs(heights - self.slope(k, around)) < 1e-6 * near).sum()) < 2:
                return False
        return True

    @cached_property
    def edges(self) -> list[RoofEdge]:
        """Every hip, valley, ridge and verge of the finished roof."""
        found = []
        places = self.places
        for i, j in combinations(range(self.count), 2):
            if self.gable(i) and self.gable(j):
                continue
            on = [k for k, at in enumerate(places) if self._on(at, i) and self._on(at, j)]
            if len(on) < 2:
                continue
            way = cross3(self._equation(i)[0], self._equation(j)[0])
            on.sort(key=lambda k: float(places[k] @ way))
            for a, b in zip(on, on[1:]):
                if self._parts((places[a] + places[b]) / 2, i, j, places[b] - places[a]):
                    found.append(RoofEdge(a, b, (i, j)))
        return found

    def _on(self, at: Array, k: int) -> bool:
        normal, level = self._equation(k)
        return abs(float(normal @ at) - level) < 1e-7 * self.size * float(length(normal))

    def _parts(self, at: Array, i: int, j: int, along: Array) -> bool:
        """Whether the finished roof changes from one side to the other at a place."""
        if abs(float(self.height(at[:2])) - float(at[2])) > 1e-7 * self.size:
            return False
        flat = unit(along[:2])
        near = BESIDE * self.size
        sides = at[:2] + near * np.stack([left_of(flat), -left_of(flat)])
        heights = self.height(sides)
        if self.gable(i) or self.gable(j):
            slope = j if self.gable(i) else i
            inside = np.isfinite(heights)
            return bool(inside.sum() == 1 and np.abs(heights - self.slope(slope, sides))[inside].max() < 1e-3 * near)
        one, other = (np.abs(heights - self.slope(k, sides)) < 1e-6 * near for k in (i, j))
        return bool((one[0] and other[1] and not other[0]) or (one[1] and other[0] and not other[1]))

    def hip(self, k: int) -> Hip:
        """What rises from corner ``k``, to where the finished roof leaves it."""
        before = (k - 1) % self.count
        sides = (min(before, k), max(before, k))
        edge = next(one for one in self.edges if one.sides == sides and k in (one.start, one.end))
        at, seen = k, {k}
        following: RoofEdge | None = edge
        while following is not None:
            at = following.end if following.start == at else following.start
            seen.add(at)
            following = next(
                (
                    one
                    for one in self.edges
                    if one.sides == sides and at in one[:2] and not {one.start, one.end} <= seen
                ),
                None,
            )
        return Hip(self.places[at], self.dihedral(sides, valley=k == self.dent))

    def dihedral(self, sides: tuple[int, int], valley: bool = False) -> float:
        """The angle inside between two sides, over 180° in a valley."""
        normals = []
        for k in sides:
            normal, _ = self._equation(k)
            normals.append(-normal if self.gable(k) else normal)
        between = float(angle_between(*normals))
        return 180.0 + between if valley else 180.0 - between

    def face(self, k: int) -> list[int]:
        """The places round the slope or the gable on side ``k``, from corner k on, anticlockwise in plan."""
        ring = [k, (k + 1) % self.count]
        mine = [one for one in self.edges if k in one.sides]
        used: set[RoofEdge] = set()
        while ring[-1] != ring[0]:
            here = ring[-1]
            options = [one for one in mine if one not in used and here in one[:2]]
            if not options:
                break
            one = options[0]
            used.add(one)
            ring.append(one.end if one.start == here else one.start)
        return ring[:-1] if ring[-1] == ring[0] else ring


def convex_or_l(corners: Array) -> int | None:
    """The number of an L's inner corner, −1 for a convex plan, None for any other; corners (n, 2) anticlockwise.

    >>> convex_or_l(np.array([[0.0, 0], [80, 0], [80, 40], [40, 40], [40, 80], [0, 80]]))
    3
    """
    sides = np.roll(corners, -1, axis=0) - corners
    turns = np.asarray(cross(np.roll(sides, 1, axis=0), sides))
    size = float(np.abs(sides).max())
    if (turns > SAME * size * size).all():
        return -1
    inner = [k for k, turn in enumerate(turns.tolist()) if turn < 0]
    if len(corners) != 6 or len(inner) != 1:
        return None
    square = np.abs((np.roll(sides, 1, axis=0) * sides).sum(axis=1)) <= 1e-7 * size * size
    return inner[0] if bool(square.all()) else None
