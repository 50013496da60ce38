"""What all solids that meet share: a branch along a slanting axis pierces a main that stands upright.

In ``figures/meetings/``, this module is the problem: which solids, where they meet (by ``geometry/interpenetration.py``),
the names of the points of the line, what is told and what is true. ``advice.py`` finds the limit that a refusal names,
``flat_sided.py``, ``pipes.py`` and ``rounds.py`` are the five figures; ``hand.py`` sets out both solids, ``piercing.py``,
``planes.py`` and ``spheres.py`` find the line, ``lined.py`` tells what is seen, ``patterns.py`` lays both skins flat, ``bodies.py``
is what stands in the space view.

Points of the line are named by the side of the branch on which they are, R or L, and the number of its edge or division;
further ones of a round branch are numbered on. M and N are where edge 1 … n or division 0 … n − 1 of the main goes into
the branch and comes out of it, going up; H is the highest point, U the lowest.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, InViews, Solid
from wise_compass.drafting.dimensions import Angular, Dimension
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import STRICT, Choice, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm
from wise_compass.figures.meetings.advice import Trouble, refuse_with_advice
from wise_compass.geometry.interpenetration import LEFT, RIGHT, SAME, Interpenetration, MeetPoint
from wise_compass.geometry.mains import Branch, Main
from wise_compass.geometry.skins import TOUCH, FlatSkin
from wise_compass.geometry.vectors import Array, Number, cosd, distance, length, point3, sind

SHOWN = {"views": "the views", "pattern": "the views and the patterns", "all": "all of it"}
ENTERS = {"right": "from the right alone", "through": "right through"}
SIDES = {RIGHT: "right", LEFT: "left"}


class Named(NamedTuple):
    """A point of the line and the letter and number that it goes by."""

    name: str
    meets: MeetPoint


class Section(NamedTuple):
    """What a regular section is by definition: ``count`` sides whose middles stand ``apothem`` off at ``first`` degrees
    and on; a circle where there are none."""

    count: int
    apothem: float
    first: float

    def off(self, x: Array, y: Array, shrunk: Number = 1.0) -> Array:
        """How far places lie outside it, anticlockwise in x and y; ``shrunk`` in that ratio."""
        if not self.count:
            return np.asarray(np.hypot(x, y) - self.apothem * np.asarray(shrunk))
        turns = self.first + 360.0 / self.count * np.arange(self.count)
        out = np.asarray(x)[..., None] * np.asarray(cosd(turns)) + np.asarray(y)[..., None] * np.asarray(sind(turns))
        return np.asarray(out.max(axis=-1) - self.apothem * np.asarray(shrunk))


def regular_section(sides: int, side: float, turn: float) -> Section:
    """That of a regular polygon, its first corner at ``turn``."""
    return Section(sides, side / 2 / float(np.tan(np.pi / sides)), turn + 180.0 / sides)


class SolidsThatMeet(InViews, Solid, Developed, Figure):
    """Base of the figures: a ``main`` upright about the origin, and a ``branch`` that meets it."""

    keys = ("H", "U", "R*")
    hazards = (hazards.SHEET, hazards.DUCT)
    steepest = 90.0

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
        return float(self.given_values.get("slope", 0.0))

    @property
    def right_only(self) -> bool:
        return self.enters != "through"

    @property
    def upright(self) -> bool:
        """Whether the branch stands upright."""
        return self.rises == 90.0

    @property
    def counted(self) -> Array:
        """The places of the branch's edges or divisions."""
        if self.branch_corners is not None:
            return np.arange(len(self.branch_corners), dtype=np.float64)
        count = int(self.given_values["divisions"])
        return 360.0 / count * np.arange(count)

    @property
    def section_reach(self) -> float:
        """From the branch's axis to its corners or its skin."""
        return self.branch_radius if self.branch_corners is None else float(np.hypot(*self.branch_corners[0]))

    @property
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

    @property
    def feet(self) -> Array:
        """The feet of the main's edges, or of its divisions where they are counted, (n, 3)."""
        main = self.main_solid
        if main.corners is not None:
            return main.feet
        if self.branch_corners is None:
            return np.zeros((0, 3))
        count = int(self.given_values["divisions"])
        return main.base(360.0 / count * np.arange(count))

    @property
    def main_first(self) -> int:
        """The number of the main's first edge or division."""
        return 0 if self.main_solid.corners is None else 1

    @property
    def seam_foot(self) -> Array | None:
        """Where the main's pattern is opened; None of a sphere, which has none."""
        main, seam = self.main_solid, int(self.given_values.get("seam", 0))
        if main.ball:
            return None
        if main.corners is not None:
            return np.asarray(main.feet[(seam - 1) % len(main.corners)])
        return main.base(360.0 * seam / int(self.given_values["divisions"]))

    @property
    def on_axis(self) -> Array:
        """A place of the branch's axis."""
        return point3(float(self.given_values.get("aside", 0.0)), self.offset, float(self.given_values.get("level", 0)))

    @cached_property
    def branch(self) -> Branch:
        return Branch(self.on_axis, self.rises, self.branch_corners, self.branch_radius)

    def _meeting(self, beside: Sequence[float] = (), more: Sequence[Array] = ()) -> Interpenetration:
        return Interpenetration(
            self.main_solid, self.branch, self.right_only, self.counted, self.feet, beside, more
        )

    @cached_property
    def meeting(self) -> Interpenetration:
        """Where they meet, with all points that a hand needs."""
        rough = self._meeting()
        if not rough.stretches:
            return rough
        if self.branch_corners is not None:
            return self._meeting(more=self._further_feet(rough)) if self.main_solid.round else rough
        beside = [0.0, 90.0, 180.0, 270.0]
        if self.main_solid.round and abs(self.offset) < self.branch_radius:
            lean = float(np.rad2deg(np.arcsin(-self.offset / self.branch_radius)))
            beside += [lean, 180.0 - lean]
        beside += [one.w for one in rough.extremes]
        seam = self._seam_places(rough)
        return self._filled(self._meeting(beside, seam), beside, seam)

    def _seam_places(self, rough: Interpenetration) -> list[Array]:
        """The generator of a round main at the seam, where that is in the branch."""
        foot = self.seam_foot
        return [] if foot is None or not self.main_solid.round or rough.pierced(foot) is None else [foot]

    def _further_feet(self, rough: Interpenetration) -> list[Array]:
        """Generators of a cylinder that are to be found: its outlines, and those through the extremes."""
        feet = list(self.main_solid.base(np.array([0.0, 90.0, 180.0, 270.0])))
        feet += [one.at * [1, 1, 0] for one in rough.extremes if one.element is None]
        known = self.feet
        return [foot for foot in feet if float(distance(known, foot).min()) > 1e-6]

    def _filled(self, meeting: Interpenetration, beside: list[float], more: Sequence[Array]) -> Interpenetration:
        """With places in between where two corners of the line follow on each other, or nearly."""
        if not isinstance(meeting.main.skin, FlatSkin):
            return meeting
        extra: list[float] = []
        for start, end in meeting.stretches:
            places = [w for w in meeting._within(start, end)]
            corners = [one.w for one in meeting._from_generators]
            cuts = sorted({w + turn for w in corners for turn in (0.0, 360.0) if start <= w + turn <= end} | {start, end})
            for a, b in zip(cuts, cuts[1:]):
                inner = [w for w in places if a + SAME < w < b - SAME]
                if b - a > 1.0 and len(inner) < 3:
                    extra += [a + (b - a) * share for share in (0.25, 0.5, 0.75)]
        return self._meeting([*beside, *extra], more) if extra else meeting

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
            names.append(min(self.named, key=lambda name: float(distance(self.named[name].at, at))))
        return names[0], names[1]

    def nearest(self, at: Array) -> str:
        """The name of the point of the line that lies nearest."""
        return min(self.named, key=lambda name: float(distance(self.named[name].at, at)))

    def touches(self, one: MeetPoint) -> bool:
        """Whether the element through a point only touches the main there."""
        left, right = (float(x) for x in self.meeting.hits(one.w))
        return right - left <= SAME

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

    # what cannot be

    def refuse(self) -> None:
        refuse_with_advice(self)

    def trouble(self) -> Trouble | None:
        """What cannot be about these givens, and which of them might mend it; None for nothing."""
        found = self._meets_at_all() or self._in_one_plane() or self._keeps_clear() or self._reaches()
        return found or self._own_trouble()

    def _own_trouble(self) -> Trouble | None:
        """What a figure has to refuse beside what all do."""
        return None

    def _meets_at_all(self) -> Trouble | None:
        meeting = self.meeting
        if not meeting.stretches:
            return Trouble("The branch passes the main by: the solids miss each other.", ("offset", "level", "aside"))
        right, left = meeting.hits(np.array([w for a, b in meeting.stretches for w in (a, (a + b) / 2)]))[::-1]
        if not self.right_only and not np.isfinite(left[~np.isnan(left)]).all():
            return Trouble("The branch is as steep as the main’s side, and does not come out of it again.", ("slope", "enters"))
        if not np.isfinite(right[~np.isnan(right)]).all():
            return Trouble("The branch runs along inside the main and does not come out of it.", ("slope", "aside"))
        if self.right_only and not meeting.whole:
            return Trouble(
                "Part of the branch runs past the main, and so does not end on it.", ("offset", "level", "enters", "aside")
            )
        if not self.right_only and meeting.kind == "over":
            return Trouble("The main’s apex lies in the branch, which is to run through.", ("level", "enters", "offset"))
        return None

    def _in_one_plane(self) -> Trouble | None:
        one, other = self.main_solid.skin, self.branch.skin
        if isinstance(one, FlatSkin) and isinstance(other, FlatSkin):
            alike = one.normals @ other.normals.T
            near = np.abs(np.abs(alike) - 1.0) <= 1e-12
            flush = near & (np.abs(one.offs[:, None] - np.sign(alike) * other.offs[None, :]) <= 1e-7)
            if flush.any():
                return Trouble(
                    "A face of the branch and one of the main lie in one plane.", ("offset", "branch_turn", "turn", "level")
                )
        return None

    def _keeps_clear(self) -> Trouble | None:
        top, bottom = (float(one.at[2]) for one in self.meeting.extremes)
        main = self.main_solid
        if main.ball:
            return None
        corner = any(self.branch.holds(foot) for foot in self.feet)
        if bottom <= STRICT / 2 or corner:
            return Trouble(
                f"The line comes down to {mm(bottom)} over the ground and runs into the main’s base.",
                ("level", "aside", "height"),
            )
        if not main.apex and top >= self.tall - STRICT / 2:
            return Trouble(
                f"The line comes up to {mm(top)}; the main is {mm(self.tall)} high, and it runs into its top.",
                ("level", "height"),
            )
        return None

    def _reaches(self) -> Trouble | None:
        far = [float(self.branch.along(one.at)) for one in self.named.values()]
        most = max(far) if self.right_only else max(abs(x) for x in far)
        if self.reach < most + STRICT / 2:
            return Trouble(
                f"The branch reaches {mm(self.reach)} and the line lies up to {mm(most)} along it: it ends inside the main.",
                ("reach",),
            )
        return None

    # what is told

    def _lengths(self, side: str) -> list[float | None]:
        """From the branch's end on this side to the skin, along each edge or division; None where it runs clear."""
        right, left = self.meeting.lengths
        if side == RIGHT:
            far = self.reach - right
        else:  # a sphere's are all told from the top
            far = self.reach - left if self.main_solid.ball else self.reach + left
        return [None if x != x else float(x) for x in far]

    def values(self, method: str) -> Iterable[Value]:
        meeting = self.meeting
        counted = [f"{RIGHT}{k + self.first}" for k in range(len(self.counted))]
        lit = tuple(f"{name}.front" for name in counted if name in self.named)
        yield Value("kind", meeting.kind, "", "by what of the endless branch meets the main")
        yield Value("loops", meeting.count, "", "of the closed lines that are drawn")
        for side, name in ((RIGHT, self.length_names[0]), (LEFT, self.length_names[1])):
            none = side == LEFT and self.right_only
            words = "it stops at the first skin" if none else f"{bare(self.reach)} less how far along the axis each meets"
            yield Value(name, None if none else self._lengths(side), "mm", words, lit if side == RIGHT else ())
        top, bottom = meeting.extremes
        yield Value("line_top", float(top.at[2]), "mm", "… where the line is level, or turns down at an edge", ("H.front",))
        yield Value(
            "line_bottom", float(bottom.at[2]), "mm", "… where the line is level, or turns up at an edge", ("U.front",)
        )
        yield from self._own_values()

    @property
    def length_names(self) -> tuple[str, str]:
        return "right_lengths", "left_lengths"

    @abstractmethod
    def _own_values(self) -> Iterable[Value]: ...

    def _crossing_value(self) -> Value:
        told: list[list[float | None] | None] = [
            None if span is None else [float(x) if np.isfinite(x) else None for x in span]
            for span in self.meeting.generators
        ]
        words = "… where each goes into the branch and comes out, from its foot up"
        return Value("main_crossings", told, "mm", words)

    def _volume_value(self, words: str) -> Value:
        none = self.right_only
        volume = None if none else self.meeting.common_volume
        return Value("common_volume", volume, "mm³", "it stops at the first skin" if none else words)

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {"line_top": found["H"][..., 2], "line_bottom": found["U"][..., 2]}
        for side, name in zip((RIGHT, LEFT), self.length_names):
            keys = [f"{side}{k + self.first}" for k in range(len(self.counted))]
            if all(key in found for key in keys):
                far = self.branch.along(found.together(keys))
                out[name] = self.reach - far if side == RIGHT or self.main_solid.ball else self.reach + far
        if self.feet.size and all(span is not None and np.isfinite(span[1]) for span in self.meeting.generators):
            rows = []
            for k, foot in enumerate(self.feet):
                names = self.crossed(k)
                assert names is not None
                rows.append(np.stack([distance(found[name], foot) for name in names], axis=-1))
            out["main_crossings"] = np.stack(rows, axis=-2)
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        names = [name for name in self.named if name in found]
        at = found.together(names)
        yield Truth("Every point of the line lies on the main", self._off_main(at))
        off = at - self.on_axis
        c, s = float(cosd(self.rises)), float(sind(self.rises))
        u, v, along = off[..., 0] * s - off[..., 2] * c, off[..., 1], off[..., 0] * c + off[..., 2] * s
        yield Truth("And on the branch", self.branch_section.off(u, v))
        own = [k for k, name in enumerate(names) if self.named[name].element is not None]
        if own:
            want = self.branch.section(np.array([self.named[names[k]].w for k in own]))
            flat = np.stack([u[..., own], v[..., own]], axis=-1)
            yield Truth("Numbered ones lie on their own edge or division of the branch", flat - want)
            sides = np.array([1.0 if self.named[names[k]].side == RIGHT else -1.0 for k in own])
            on = at[..., own, :] + (sides * 1e-3)[:, None] * self.branch.axis
            yield Truth("On the side that they are named for", np.minimum(self._off_main(on) + TOUCH, 0.0))
        for k in range(len(self.feet)):
            pair = self.crossed(k)
            if pair is None:
                continue
            for name in pair:
                if name in found:
                    foot = self.feet[k]
                    rise = foot + (found[name][..., 2] / self.tall)[..., None] * (
                        np.array([0.0, 0.0, self.tall]) - (foot if self.main_solid.apex else 0.0)
                    )
                    yield Truth(f"{name} lies on the main’s own edge or division", found[name] - rise)
        yield Truth("No point of the line is higher than H", np.maximum(at[..., 2].max(axis=-1) - found["H"][..., 2], 0.0))
        yield Truth("And none lower than U", np.maximum(found["U"][..., 2] - at[..., 2].min(axis=-1), 0.0))
        for name, want in zip("HU", self.meeting.extremes):
            yield Truth(f"{name} stands at the height of the line’s own extreme", found[name][..., 2] - want.at[2])
        if not self.right_only:
            yield Truth("The line keeps clear of the ends", np.maximum(np.abs(along).max(axis=-1) - self.reach, 0.0))
        yield from self.pattern_truths(found)

    @abstractmethod
    def pattern_truths(self, found: Found) -> Iterator[Truth]: ...

    def _off_main(self, at: Array) -> Array:
        """By definition, from the main's own givens."""
        if self.main_solid.ball:
            return np.asarray(length(at) - self.main_solid.radius)
        shrunk = 1.0 - at[..., 2] / self.tall if self.main_solid.apex else np.ones(at.shape[:-1])
        return self.main_section.off(at[..., 0], -at[..., 1], shrunk)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        if 0.5 < self.rises < 90.0 and "A.front" in found:
            yield Angular(found["A.front"], 0.0, self.rises, "slope", self.rises)

