"""The line in which two solids meet: its points in order, its loops and what they enclose.

Elements of the branch pierce the main's skin, generators of the main pierce the branch's (:mod:`skins` tells where);
sorted round the branch these are the line. Where every element meets the main it goes in along one loop and comes out
along another; where some miss, each stretch of those that meet is one loop, out along one side and back on the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.climbing import Peak, climbed
from wise_compass.geometry.integrals import integral
from wise_compass.geometry.mains import Branch, Main
from wise_compass.geometry.skins import TOUCH, FlatSkin
from wise_compass.geometry.vectors import Array, Bools, Number, distance, length

SAME = 1e-9
"""Of a place round the branch: places so near are one."""
CLOSE = 1e-7
"""mm: points of the line so near are one."""
FACING = 1e-9
"""The least that a face turns to the branch, as a cosine."""
AROUND = 721
"""Places round the branch tried for how far the main reaches."""
FINE = 32
"""Places tried between two neighbours of the line for its highest."""
RIGHT, LEFT = "R", "L"


class MeetPoint(NamedTuple):
    """A point of the line: on which ``side`` it comes out, its place ``w`` round the branch, where it is, the number of
    the branch's element, of the main's generator, that it lies on; ``foot`` is that generator's, (3,)."""

    side: str
    w: float
    at: Array
    element: int | None = None
    generator: int | None = None
    foot: Array | None = None


class Loop(NamedTuple):
    """A closed piece of the line; where it turns back (from the right side to the left) both ends are one point, or the
    ends of an element."""

    points: list[MeetPoint]


class Interpenetration:
    """``branch`` meets ``main``; with ``right`` alone it stops at the first skin that it meets.

    ``elements`` are the places round the branch that are counted, ``beside`` further ones that the line is to have
    points at; ``feet`` (n, 3) are those of the main's generators that are counted, ``more`` further ones.
    """

    def __init__(
        self,
        main: Main,
        branch: Branch,
        right: bool,
        elements: Array,
        feet: Array,
        beside: Sequence[float] = (),
        more: Sequence[Array] = (),
    ) -> None:
        self.main, self.branch, self.right = main, branch, right
        self.elements, self.feet = np.asarray(elements, dtype=np.float64), feet
        self.beside, self.more = list(beside), list(more)

    # piercing points

    def hits(self, w: Number) -> tuple[Array, Array]:
        """How far along the branch's axis elements go into the main at the left and come out at the right."""
        return self.main.skin.hits(self.branch.element(w), self.branch.axis)

    def at(self, w: Number, side: str) -> Array:
        """Points of the line, (…, 3), by their places round the branch."""
        return self.both(w)[0 if side == RIGHT else 1]

    def both(self, w: Number) -> tuple[Array, Array]:
        """Where elements come out at the right, and where they go in at the left, (…, 3) both."""
        start = self.branch.element(w)
        left, right = self.main.skin.hits(start, self.branch.axis)
        with np.errstate(invalid="ignore"):  # a line that never comes out has no such point
            return start + right[..., None] * self.branch.axis, start + left[..., None] * self.branch.axis

    @cached_property
    def lengths(self) -> tuple[Array, Array]:
        """How far along the axis each counted element comes out and goes in."""
        left, right = self.hits(self.elements)
        return right, left

    def pierced(self, foot: Array) -> tuple[float, float] | None:
        """From where to where, up a generator of the main from its foot (3,), it lies in the branch; a pointed one ends
        at its apex (then inf)."""
        way = self.main.way(foot)
        low, high = (float(x) for x in self.branch.skin.hits(foot, way))
        if low != low:
            return None
        if self.main.apex:
            top = float(length(np.array([0.0, 0.0, self.main.apex]) - foot))
            if low >= top - TOUCH:
                return None
            high = np.inf if high >= top - TOUCH else high
        return low, high

    @cached_property
    def generators(self) -> list[tuple[float, float] | None]:
        """For each counted generator where it lies in the branch."""
        return [self.pierced(foot) if self.is_entered(foot) else None for foot in self.feet]

    def is_entered(self, foot: Array) -> bool:
        """Whether a generator is on the skin that the branch enters."""
        if not self.right or self.main.ball:
            return True
        if self.main.corners is None:
            return float(self.main.skin.normal(foot) @ self.branch.axis) >= -FACING
        skin = self.main.skin
        assert isinstance(skin, FlatSkin)
        beside = np.abs(skin.normals @ foot - skin.offs) <= 1e-6
        return bool((skin.normals @ self.branch.axis)[beside].max() > FACING)

    @cached_property
    def _from_generators(self) -> list[MeetPoint]:
        """The points in which generators pierce the branch."""
        ends: list[tuple[Array, Array, int | None]] = []
        marked = [(foot, k) for k, foot in enumerate(self.feet)] + [(foot, None) for foot in self._further]
        for foot, number in marked:
            span = self.pierced(foot)
            if span is not None:
                both = span if span[1] - span[0] > TOUCH else span[:1]
                ends += [(foot + far * self.main.way(foot), foot, number) for far in both if np.isfinite(far)]
        if not ends:
            return []
        places = np.array([at for at, _, _ in ends])
        around = self.branch.place(self.branch.flat(places))
        told = (one.tolist() for one in (around, *self.hits(around), self.branch.along(places)))
        found = []
        for (at, foot, number), w, left, right, along in zip(ends, *told):
            nearer = LEFT if abs(along - left) < abs(along - right) else RIGHT
            sides = (RIGHT, LEFT) if right - left <= CLOSE else (nearer,)
            found += [MeetPoint(side, w, at, None, number, foot) for side in sides]
        return found

    @property
    def _further(self) -> list[Array]:
        """Generators that are not counted: those that bound the main as it is seen along the branch, and more."""
        return [*self.main.outline_feet(self.branch.axis), *self.more]

    @cached_property
    def _equator(self) -> list[float]:
        """Where round an upright branch it passes a sphere's outline, seen from above."""
        if not self.main.ball or not self.branch.round:
            return []
        x, y = self.branch.flat(np.zeros(3)).tolist()  # the sphere's centre, seen along the branch
        gap, r, big = float(np.hypot(x, y)), self.branch.radius, self.main.radius
        if gap <= TOUCH or not abs(big - r) - TOUCH <= gap <= big + r + TOUCH:
            return []
        lean = float(np.rad2deg(np.arccos(np.clip((r * r + gap * gap - big * big) / (2 * r * gap), -1.0, 1.0))))
        middle = float(np.rad2deg(np.arctan2(y, x)))
        return [(middle + lean) % 360.0, (middle - lean) % 360.0]

    @cached_property
    def places(self) -> list[float]:
        """All places round the branch at which the line has a point, once each, in order."""
        raw = [*self.elements.tolist(), *self.beside, *(one.w for one in self._from_generators), *self._equator]
        period = self.branch.period
        found: list[float] = []
        for w in sorted(w % period for w in raw):
            if not found or w - found[-1] > SAME:
                found.append(w)
        if len(found) > 1 and found[0] + period - found[-1] <= SAME:
            found.pop()
        return found

    @cached_property
    def stretches(self) -> list[tuple[float, float]]:
        """The stretches round the branch whose elements meet the main; once round where all do."""
        period, places = self.branch.period, self.places
        gaps = [(a, b) for a, b in zip(places, [*places[1:], places[0] + period])]
        meets = (~np.isnan(self.hits(np.array([(a + b) / 2 for a, b in gaps]))[0])).tolist()
        if all(meets):
            return [(places[0], places[0] + period)]
        if not any(meets):
            return []
        start = meets.index(False) + 1
        found: list[tuple[float, float]] = []
        for k in range(start, start + len(gaps)):
            a, b = gaps[k % len(gaps)]
            if not meets[k % len(gaps)]:
                continue
            if found and abs((found[-1][1] - a + period / 2) % period - period / 2) <= SAME:
                found[-1] = found[-1][0], found[-1][1] + b - a
            else:
                found.append((a, b))
        return found

    @property
    def whole(self) -> bool:
        """Whether every element meets the main."""
        return len(self.stretches) == 1 and self.stretches[0][1] - self.stretches[0][0] >= self.branch.period - SAME

    @cached_property
    def touched(self) -> bool:
        """Whether an outermost element or edge of the one touches the outermost of the other, within a stretch."""
        for start, end in self.stretches:
            inner = [w for w in self.within(start, end) if self.whole or min(w - start, end - w) > SAME]
            if inner and self._grazes(np.array(inner)).any():
                return True
        return False

    def _grazes(self, w: Array) -> Bools:
        """Which elements, (n,), meet the main's skin alone."""
        left, right = self.hits(w)
        grazes, skin = right - left <= CLOSE, self.main.skin
        both = np.isfinite(left) & np.isfinite(right)
        if isinstance(skin, FlatSkin):
            halfway = np.where(both, (left + right) / 2, 0.0)
            middle = self.branch.element(w) + halfway[:, None] * self.branch.axis
            grazes |= both & ((middle @ skin.normals.T - skin.offs).max(axis=1) >= -2 * TOUCH)
        return np.asarray(grazes)

    def has_generator(self, w: float) -> bool:
        """Whether a generator of the main pierces the branch at a place round it."""
        return bool(self._near([w], [one.w for one in self._from_generators]).any())

    def _near(self, places: Sequence[float], others: Sequence[float]) -> Bools:
        """Which places round the branch are which others, (n, m)."""
        period = self.branch.period
        gaps = np.asarray(places)[:, None] - np.asarray(others, dtype=np.float64)
        return np.asarray(np.abs((gaps + period / 2) % period - period / 2) <= SAME)

    def within(self, start: float, end: float) -> list[float]:
        """The places of a stretch, both its ends among them."""
        period = self.branch.period
        found = [w + turn for w in self.places for turn in (0.0, period, 2 * period)]
        return sorted(w for w in found if start - SAME <= w <= end + SAME)

    @property
    def kind(self) -> str:
        """As the branch without ends would meet it."""
        if self.main.apex and self.branch.holds(np.array([0.0, 0.0, self.main.apex])):
            return "over"
        if self.touched:
            return "crossing"
        if self.whole:
            return "through"
        return "notch" if len(self.stretches) == 1 else "around"

    @property
    def count(self) -> int:
        """How many closed lines are drawn."""
        return 1 if self.right or self.kind in ("notch", "crossing") else 2

    # the line

    @cached_property
    def loops(self) -> list[Loop]:
        """The closed pieces of the line, their points in order; the first point is not told again."""
        if self.whole:
            start, end = self.stretches[0]
            ways = [RIGHT] if self.right else [RIGHT, LEFT]
            return [Loop(self._run(side, start, end)[:-1]) for side in ways]
        found = []
        for start, end in self.stretches:
            there, back = self._run(RIGHT, start, end), self._run(LEFT, start, end)[::-1]
            points = list(there)
            points += [one for one in back if min(float(distance(one.at, there[k].at)) for k in (0, -1)) > CLOSE]
            found.append(Loop(points))
        return found

    def _run(self, side: str, start: float, end: float) -> list[MeetPoint]:
        """One side's points along a stretch: elements and further places, and generators that pierce on this side."""
        mine = [one for one in self._from_generators if one.side == side]
        others = [one.w for one in self._from_generators if one.side != side]
        found, places = list[MeetPoint](), self.within(start, end)
        own_at, element_at = self._near(places, [one.w for one in mine]), self._near(places, self.elements.tolist())
        asked, elsewhere = self._near(places, self.beside), self._near(places, others)
        for k, (w, at) in enumerate(zip(places, self.at(np.array(places), side))):
            own = [mine[j] for j in np.flatnonzero(own_at[k])]
            element = int(np.argmax(element_at[k])) if element_at[k].any() else None
            if own:
                numbers = [one.generator for one in own if one.generator is not None]
                found.append(own[0]._replace(w=w, element=element, generator=numbers[0] if numbers else None))
                continue
            inner = w - start > SAME and end - w > SAME
            if inner and element is None and elsewhere[k].any() and not asked[k].any():
                continue
            found.append(MeetPoint(side, w, at, element))
        return found

    @property
    def points(self) -> list[MeetPoint]:
        """Of all loops."""
        return [one for loop in self.loops for one in loop.points]

    @cached_property
    def extremes(self) -> tuple[MeetPoint, MeetPoint]:
        """The highest and the lowest point of the line."""
        points = self.points
        best = {sign: max(points, key=lambda one: sign * float(one.at[2])) for sign in (1.0, -1.0)}
        if self.branch.round or self.main.round:
            peaks = self._peaks
            for peak, w, *both in zip(peaks, *climbed(self.both, peaks)):
                side, at = (RIGHT, both[0]) if peak.first else (LEFT, both[1])
                if peak.sign * float(at[2]) > peak.sign * float(best[peak.sign].at[2]) + TOUCH:
                    best[peak.sign] = MeetPoint(side, float(w) % self.branch.period, at)
        return best[1.0], best[-1.0]

    @property
    def _peaks(self) -> list[Peak]:
        """Where on each side of each stretch the line is highest and lowest, between neighbours of many places."""
        found = []
        for start, end in self.stretches:
            places = np.array(self.within(start, end))
            gaps = np.diff(places)
            fine = np.append((places[:-1, None] + gaps[:, None] * np.arange(FINE) / FINE).ravel(), places[-1])
            for side, at in zip((RIGHT,) if self.right else (RIGHT, LEFT), self.both(fine)):
                for sign in (1.0, -1.0):
                    k = int(np.nanargmax(sign * at[:, 2]))
                    low, high = float(fine[max(k - 1, 0)]), float(fine[min(k + 1, len(fine) - 1)])
                    if self.whole and k == 0:  # once round: it may lie just before where the line was begun
                        low -= float(fine[-1] - fine[-2])
                    found.append(Peak(side == RIGHT, sign, low, max(high, low)))
        return found

    @cached_property
    def furthest(self) -> float:
        """How far along the branch's axis, to either side that it goes, the main reaches within the branch: at the
        line, or at a pole or an apex that the branch holds."""
        w = np.linspace(0.0, self.branch.period, AROUND)
        left, right = self.hits(np.append(w, [one.w for one in self.points]))
        far = [float(np.nanmax(right)), *([] if self.right else [float(np.nanmax(-left))])]
        if self.main.ball and self.branch.holds(np.zeros(3)):
            far.append(float(self.branch.along(np.zeros(3))) + self.main.radius)
            far += [] if self.right else [self.main.radius - float(self.branch.along(np.zeros(3)))]
        apex = np.array([0.0, 0.0, self.main.apex])
        if self.main.apex and self.branch.holds(apex):
            far.append(float(self.branch.along(apex)))
        return max(far)

    # what it measures

    @property
    def line_length(self) -> float:
        """Of the whole line, where all of it is straight."""
        total = 0.0
        for loop in self.loops:
            at = np.array([one.at for one in loop.points])
            total += float(distance(at, np.roll(at, -1, axis=0)).sum())
        return total

    def _between(self, v: Number) -> Array:
        """How high the branch stands over one place of the plan, at ``v`` across it."""
        return self.branch.chord(v) / float(self.branch.axis[0])

    @property
    def hole_area(self) -> float:
        """Of what the branch cuts out of an upright main's skin."""
        y0 = float(self.branch.at[1])
        total = 0.0
        if self.main.corners is None:
            half = self.main.radius

            def round_band(t: Array) -> Array:
                return half * self._between(half * np.sin(t) - y0)

            inner = [np.clip((b + y0) / half, -1.0, 1.0) for b in self.branch.breaks]
            cuts = sorted(float(np.arcsin(x)) for x in inner)
            for a, b in zip(cuts, cuts[1:]):
                total += integral(round_band, a, b) * (1 if self.right else 2)
            return total
        for a, b, normal in zip(self.main.corners, np.roll(self.main.corners, -1, axis=0), self._normals):
            if self.right and float(normal @ self.branch.axis) <= TOUCH:
                continue
            long, rise = float(np.hypot(*(b - a))), float(b[1] - a[1])
            if abs(rise) <= 1e-12 * long:
                total += long * float(self._between(a[1] - y0))
                continue
            low, high = sorted((float(a[1]), float(b[1])))
            marks = sorted({low, high, *(x + y0 for x in self.branch.breaks if low < x + y0 < high)})
            for p, q in zip(marks, marks[1:]):
                total += integral(lambda y: self._between(y - y0), p, q) * long / abs(rise)
        return total

    @property
    def _normals(self) -> Array:
        assert isinstance(self.main.skin, FlatSkin)
        return self.main.skin.normals

    @property
    def common_volume(self) -> float:
        """Of what both hold, the branch without ends."""
        if self.main.ball:
            return self._in_sphere()
        if self.main.apex:
            return self._in_pyramid()
        y0 = float(self.branch.at[1])
        raw = sorted([*self.main.breaks, *(x + y0 for x in self.branch.breaks)])
        low = max(min(self.main.breaks), min(self.branch.breaks) + y0)
        high = min(max(self.main.breaks), max(self.branch.breaks) + y0)
        marks = [x for x in raw if low <= x <= high]
        return float(
            sum(
                integral(lambda y: self.main.chord(y) * self._between(y - y0), a, b)
                for a, b in zip(marks, marks[1:])
                if b > a
            )
        )

    def _in_sphere(self) -> float:
        """By rings about the sphere's centre, as seen from above (Cavalieri)."""
        x, y = self.branch.flat(np.zeros(3)).tolist()
        gap, r, big = float(np.hypot(x, y)), self.branch.radius, self.main.radius

        def ring(rho: Array) -> Array:
            with np.errstate(divide="ignore", invalid="ignore"):
                lean = (rho * rho + gap * gap - r * r) / (2 * rho * gap)
            turn = 2 * np.arccos(np.clip(lean, -1.0, 1.0)) if gap > TOUCH else np.full(rho.shape, 2 * np.pi)
            return 2 * np.sqrt(np.maximum(big * big - rho * rho, 0.0)) * rho * np.where(rho <= r - gap, 2 * np.pi, turn)

        marks = sorted({0.0, min(abs(r - gap), big), min(r + gap, big)} if gap < r else {gap - r, min(r + gap, big)})
        return float(sum(integral(ring, a, b) for a, b in zip(marks, marks[1:])))

    def _in_pyramid(self) -> float:
        """Of a convex body of flat faces, by its half-spaces."""
        from scipy.spatial import ConvexHull, HalfspaceIntersection

        skins = [self.main.skin, self.branch.skin]
        rows = [np.column_stack([s.normals, -s.offs]) for s in skins if isinstance(s, FlatSkin)]
        inside = np.mean([one.at for one in self.points], axis=0)
        found = HalfspaceIntersection(np.vstack(rows), inside)
        return float(ConvexHull(found.intersections).volume)
