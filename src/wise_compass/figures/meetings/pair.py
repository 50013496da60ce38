"""A pair of solids that meet: which they are, where they meet, and what the points of their line are called.

Points are named by the side of the branch on which they are, R or L, and the number of its edge or division; further
ones of a round branch are numbered on. M and N are where edge 1 … n or division 0 … n − 1 of the main goes into the
branch and comes out of it, going up; H is the highest point, U the lowest.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence
from functools import cached_property
from typing import ClassVar, NamedTuple

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, InViews, Solid
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Choice, Length
from wise_compass.figures.meetings.advice import TRYING
from wise_compass.geometry.interpenetration import CLOSE, LEFT, RIGHT, SAME, Interpenetration, MeetPoint
from wise_compass.geometry.mains import Branch, Main
from wise_compass.geometry.skins import FlatSkin
from wise_compass.geometry.vectors import Array, Number, cosd, distance, multiples, point3, sind

APART = 1e-4
"""Degrees round the branch: an extreme so near to a division stands on it."""
LEVEL = 1e-9
"""Degrees: a slope so near to level or upright is."""
SHOWN = {"views": "the views", "pattern": "the views and the patterns", "all": "all of it"}
ENTERS = {"right": "from the right alone", "through": "right through"}


class Named(NamedTuple):
    """A point of the line and the letter and number that it goes by."""

    name: str
    meets: MeetPoint


class Section(NamedTuple):
    """What a regular section is by definition: ``count`` sides whose middles stand ``apothem`` off at ``first`` degrees
    and on; a circle where there are none."""

    sides: int
    apothem: float
    first: float

    def off(self, x: Array, y: Array, shrunk: Number = 1.0) -> Array:
        """How far places lie outside it, anticlockwise in x and y; ``shrunk`` in that ratio."""
        if not self.sides:
            return np.asarray(np.hypot(x, y) - self.apothem * np.asarray(shrunk))
        turns = self.first + multiples(360.0 / self.sides, self.sides)
        out: Array = x[..., None] * cosd(turns) + y[..., None] * sind(turns)
        return np.asarray(out.max(axis=-1) - self.apothem * np.asarray(shrunk))


def regular_section(sides: int, side: float, turn: float) -> Section:
    """That of a regular polygon, its first corner at ``turn``."""
    return Section(sides, side / 2 / float(np.tan(np.pi / sides)), turn + 180.0 / sides)


class PairOfSolids(InViews, Solid, Developed, Figure):
    """Base of the figures: a ``main`` upright about the origin, and a ``branch`` that meets it."""

    keys: ClassVar[Sequence[str]] = ("H", "U", "R*")
    hazards: ClassVar[Sequence[str]] = (hazards.SHEET, hazards.DUCT)

    offset = Length(0, "how far the branch’s axis lies in front of the main’s", least=-20000)
    level = Length(60, "how high over the ground it crosses the upright through the main’s axis", least=-20000)
    reach = Length(75, "how far from there the branch ends")
    enters = Choice("through", "how far the branch goes", ("right", "through"), ENTERS)
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    # the solids

    @property
    @abstractmethod
    def main_solid(self) -> Main: ...

    @property
    @abstractmethod
    def main_section(self) -> Section: ...

    @property
    @abstractmethod
    def branch_corners(self) -> Array | None:
        """The corners of the branch's section by u and v; None of a round one."""

    @property
    @abstractmethod
    def branch_section(self) -> Section: ...

    @property
    def branch_radius(self) -> float:
        """Of a round branch."""
        return 0.0

    @property
    def tall(self) -> float:
        """How high the main is."""
        return float(self.given_values.get("height", 0.0))

    @property
    def rises(self) -> float:
        """The branch's slope in degrees."""
        slope = float(self.given_values.get("slope", 0.0))
        return next((even for even in (0.0, 90.0) if abs(slope - even) < LEVEL), slope)

    @property
    def right_only(self) -> bool:
        return self.enters != "through"

    @property
    def upright(self) -> bool:
        """Whether the branch stands upright."""
        return self.rises == 90.0

    @cached_property
    def counted(self) -> Array:
        """The places of the branch's edges or divisions."""
        if self.branch_corners is not None:
            return np.arange(len(self.branch_corners), dtype=np.float64)
        count = int(self.given_values["divisions"])
        return multiples(360.0 / count, count)

    @cached_property
    def section_reach(self) -> float:
        """From the branch's axis to its corners or its skin."""
        return self.branch_radius if self.branch_corners is None else float(np.hypot(*self.branch_corners[0]))

    @cached_property
    def main_reach(self) -> float:
        """From the main's axis to its corners or its skin."""
        corners = self.main_solid.corners
        return self.main_solid.radius if corners is None else float(np.hypot(*corners[0]))

    def turn_of(self, w: float) -> float:
        """The direction of an edge's or a division's place from the branch's axis, in degrees."""
        if self.branch_corners is None:
            return w
        u, v = self.branch.section(w).tolist()
        return float(np.rad2deg(np.arctan2(v, u)))

    @property
    def unturned(self) -> float:
        """By how much a section that is left as it lies is out."""
        if self.branch_corners is None:
            return 90.0
        part = 360.0 / len(self.branch_corners)
        out = -self.turn_of(0.0) % part
        return out if min(out, part - out) > 2.0 else part / 2

    @cached_property
    def branch_places(self) -> list[float]:
        """The places round the branch whose elements a hand draws: those that are counted, and those of further
        points."""
        found = [float(w) for w in self.counted]
        if self.branch_corners is not None:
            return found
        for one in self.named.values():
            if one.foot is None or self.main_solid.round:
                w = one.w % 360.0
                if min(abs((w - at + 180.0) % 360.0 - 180.0) for at in found) > SAME:
                    found.append(w)
        return found

    @property
    def first(self) -> int:
        """The number of the branch's first edge or division."""
        return 0 if self.branch_corners is None else 1

    @cached_property
    def feet(self) -> Array:
        """The feet of the main's edges, or of its divisions where they are counted, (n, 3)."""
        main = self.main_solid
        if main.corners is not None:
            return main.feet
        if self.branch_corners is None:
            return np.zeros((0, 3))
        count = int(self.given_values["divisions"])
        return main.base(multiples(360.0 / count, count))

    @property
    def main_first(self) -> int:
        """The number of the main's first edge or division."""
        return 0 if self.main_solid.corners is None else 1

    @cached_property
    def seam_foot(self) -> Array | None:
        """Where the main's pattern is opened; None of a sphere, which has none."""
        main, seam = self.main_solid, int(self.given_values.get("seam", 0))
        if main.ball:
            return None
        if main.corners is not None:
            return np.asarray(main.feet[(seam - 1) % len(main.corners)])
        return main.base(360.0 * seam / int(self.given_values["divisions"]))

    @cached_property
    def on_axis(self) -> Array:
        """A place of the branch's axis."""
        return point3(float(self.given_values.get("aside", 0.0)), self.offset, float(self.given_values.get("level", 0)))

    @cached_property
    def branch(self) -> Branch:
        return Branch(self.on_axis, self.rises, self.branch_corners, self.branch_radius)

    def _meeting(self, beside: Sequence[float] = (), more: Sequence[Array] = ()) -> Interpenetration:
        return Interpenetration(self.main_solid, self.branch, self.right_only, self.counted, self.feet, beside, more)

    @cached_property
    def meeting(self) -> Interpenetration:
        """Where they meet, with all points that a hand needs."""
        rough = self._meeting()
        if not rough.stretches or TRYING.get() == "roughly":
            return rough
        if self.branch_corners is not None:
            if not self.main_solid.round:
                return rough
            feet = self._further_feet(rough)
            return self._filled(self._meeting(more=feet), [], feet)
        beside = [0.0, 90.0, 180.0, 270.0]
        if self.main_solid.round and abs(self.offset) < self.branch_radius:
            lean = float(np.rad2deg(np.arcsin(-self.offset / self.branch_radius)))
            beside += [lean, 180.0 - lean]
        known = [*beside, *self.counted.tolist()]
        beside += [
            one.w for one in rough.extremes if min(abs((one.w - w + 180.0) % 360.0 - 180.0) for w in known) > APART
        ]
        seam = self._seam_places(rough)
        return self._filled(self._meeting(beside, seam), beside, seam)

    def _seam_places(self, rough: Interpenetration) -> list[Array]:
        """The generator of a round main at the seam, where that is in the branch."""
        foot = self.seam_foot
        return [] if foot is None or not self.main_solid.round or rough.pierced(foot) is None else [foot]

    def _further_feet(self, rough: Interpenetration) -> list[Array]:
        """Generators of a cylinder that are to be found: its outlines, and those through the extremes."""
        feet = list(self.main_solid.base(np.array([0.0, 90.0, 180.0, 270.0])))
        feet += [one.at * np.array([1.0, 1.0, 0.0]) for one in rough.extremes if one.element is None]
        known = self.feet
        return [foot for foot in feet if float(distance(known, foot).min()) > 1e-6]

    def _filled(self, meeting: Interpenetration, beside: list[float], more: Sequence[Array]) -> Interpenetration:
        """With places in between where two corners of the line follow on each other, or nearly."""
        extra: list[float] = []
        for start, end in meeting.stretches:
            places = meeting.within(start, end)
            cuts = sorted({start, end, *(w for w in places if self._turns_at(meeting, w))})
            for a, b in zip(cuts, cuts[1:]):
                inner = [w for w in places if a + SAME < w < b - SAME]
                if b - a > meeting.branch.period / 360.0 and len(inner) < 3:
                    extra += [a + (b - a) * share for share in (0.25, 0.5, 0.75)]
        if not extra:
            return meeting
        if self.branch_corners is None:
            return self._meeting([*beside, *extra], more)
        sides = (RIGHT,) if self.right_only else (RIGHT, LEFT)
        feet = [at * np.array([1.0, 1.0, 0.0]) for side in sides for at in meeting.at(np.array(extra), side)]
        return self._meeting(beside, [*more, *feet])

    def _turns_at(self, meeting: Interpenetration, w: float) -> bool:
        """Whether the line has a corner at a place round the branch: at an edge of the branch, or of the main."""
        if self.branch_corners is not None:
            return abs(w - round(w)) <= SAME
        return isinstance(meeting.main.skin, FlatSkin) and meeting.has_generator(w)

    @cached_property
    def lines(self) -> list[list[Named]]:
        """The loops of the line, their points in order by name."""
        taken: set[str] = set()
        numbers = {RIGHT: len(self.counted) + self.first, LEFT: len(self.counted) + self.first}
        found = []
        for loop in self.meeting.loops:
            named = []
            for one in loop.points:
                name = self._own_name(one)
                if not name or name in taken:
                    name = f"{one.side}{numbers[one.side]}"
                    numbers[one.side] += 1
                taken.add(name)
                named.append(Named(name, one))
            found.append(named)
        return found

    def _own_name(self, one: MeetPoint) -> str:
        if one.element is not None:
            return f"{one.side}{one.element + self.first}"
        if one.generator is not None:
            span = self.meeting.generators[one.generator]
            assert span is not None
            foot = self.feet[one.generator]
            far = float(distance(one.at, foot))
            return f"{'M' if abs(far - span[0]) <= abs(far - span[1]) else 'N'}{one.generator + self.main_first}"
        return ""

    @cached_property
    def named(self) -> dict[str, MeetPoint]:
        """Every point of the line by its name."""
        return {name: one for loop in self.lines for name, one in loop}

    def crossed(self, k: int) -> tuple[str, str] | None:
        """The names of the points in which the main's generator ``k`` goes into the branch and comes out, () for the
        apex; None where it misses."""
        span = self.meeting.generators[k] if k < len(self.meeting.generators) else None
        if span is None:
            return None
        way = self.main_solid.way(self.feet[k])
        names = []
        for far in span:
            if not np.isfinite(far):
                names.append("")
                continue
            at = self.feet[k] + far * way
            names.append(self.nearest(at))
        return names[0], names[1]

    def nearest(self, at: Array) -> str:
        """The name of the point of the line that lies nearest."""
        names, places = self._placed
        return names[int(np.argmin(distance(places, at)))]

    @cached_property
    def _placed(self) -> tuple[list[str], Array]:
        """The points of the line: their names, and where they lie."""
        return list(self.named), np.array([one.at for one in self.named.values()])

    @cached_property
    def extreme_names(self) -> list[str]:
        """The names of the highest point of the line and of its lowest."""
        return [self.nearest(one.at) for one in self.meeting.extremes]

    def touches(self, one: MeetPoint) -> bool:
        """Whether the element through a point of the line only touches the main there."""
        return self._touched[one.w]

    @cached_property
    def _touched(self) -> dict[float, bool]:
        """Of the elements through the points, by their places: whether they only touch the main."""
        places = list({one.w for one in self.named.values()})
        left, right = self.meeting.hits(np.array(places))
        return dict(zip(places, (right - left <= CLOSE).tolist()))

    def outward(self, side: str) -> Array:
        """The way in which elements come out of the main on a side."""
        return self.branch.axis if side == RIGHT else -self.branch.axis

    def is_corner(self, one: MeetPoint) -> bool:
        """Whether the line has a corner at a point: at an edge of either solid, or where both skins touch."""
        if self.main_solid.corners is not None and one.foot is not None:
            return True
        if self.branch_corners is not None and one.element is not None:
            return True
        ends = [w for stretch in self.meeting.stretches for w in stretch]
        turning = not self.meeting.whole and any(abs((one.w - w + 180.0) % 360.0 - 180.0) <= SAME for w in ends)
        return self.touches(one) and not turning

    # laid flat

    @property
    def branch_girth(self) -> float:
        """Once round the branch."""
        if self.branch_corners is None:
            return 2 * float(np.pi) * self.branch_radius
        return len(self.branch_corners) * float(distance(self.branch_corners[0], self.branch_corners[1]))

    @property
    def main_parts(self) -> int:
        """Into how many parts the main's pattern is divided: its sides or its divisions."""
        corners = self.main_solid.corners
        return int(self.given_values["divisions"]) if corners is None else len(corners)

    @property
    def main_girth(self) -> float:
        """Once round the main's base."""
        corners = self.main_solid.corners
        if corners is None:
            return 2 * float(np.pi) * self.main_solid.radius
        return len(corners) * float(distance(corners[0], corners[1]))

    @property
    def slant(self) -> float:
        """The true length of a pointed main's edges or generators."""
        return float(np.hypot(self.main_reach, self.tall))

    @property
    def main_sector(self) -> float:
        """The angle of a pointed main's pattern, in degrees."""
        if self.main_solid.corners is None:
            return 360.0 * self.main_reach / self.slant
        half = self.main_girth / self.main_parts / 2
        return self.main_parts * 2 * float(np.rad2deg(np.arcsin(half / self.slant)))
