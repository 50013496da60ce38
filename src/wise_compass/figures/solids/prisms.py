"""Prisms and cylinders: uprights of one height, developed by parallel lines."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.solids.cut_courses import cylinder_cut
from wise_compass.figures.solids.cut_solids import CutSolid, RoundSolid
from wise_compass.figures.solids.lining import line_in_pattern
from wise_compass.figures.solids.upright import Upright, views_of
from wise_compass.geometry.round_cuts import RoundCut, cut_cylinder
from wise_compass.geometry.solids import Stock, ring
from wise_compass.geometry.vectors import Array, Number, distance, length

APART = 16.0
"""What is left between the views and the pattern."""


class Prism(CutSolid, id="prism", family="solids", title="Prism"):
    keys = ("B*", "O.front", "T*")
    brief = opens = "A prism on {sides} sides of {side}, {height} high, its first corner turned {turn}"
    summary = "A post, a newel, a box: its views, the true shape of a slanting cut, and the pattern of its sides."
    value_names = (*CutSolid.value_names, "pattern_width")
    ways = ("parallel-lines",)

    sides = Count(6, "the number of sides", 3, 24)
    side = Length(24, "the side of the base")
    height = Length(64, "the height")
    turn = Angle(
        15, "how far the first corner is turned from the right, anticlockwise from above", least=-360, most=360
    )
    seam = Count(1, "the edge at which the pattern is opened", 1, 24)

    @property
    def reach(self) -> float:
        return float(self.side / 2 / np.sin(np.pi / self.sides))

    @cached_property
    def stock(self) -> Stock:
        base = ring(self.reach, self.sides, self.turn)
        return Stock(base, base + np.array([0.0, 0.0, self.height]))

    @property
    def girth(self) -> float:
        """All round the base."""
        return self.sides * self.side

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        marks = ("Q0", "Qn") if self.wanted[1] else ()
        yield Value("pattern_width", self.girth, "mm", f"{self.sides} × {bare(self.side)}", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        if self.is_developed(found):
            out["pattern_width"] = distance(found["Q0"], found["Qn"])
        return out

    def stock_truths(self, found: Found) -> Iterator[Truth]:
        base = found.together([self.stock.lower(k) for k in range(self.sides)])
        top = found.together([self.stock.upper(k) for k in range(self.sides)])
        sides = distance(base, np.roll(base, -1, axis=0))
        yield Truth(f"Every side of the base is {mm(self.side)} long", sides - self.side)
        first = base[0] / length(base[0])
        lean = np.rad2deg(np.arctan2(-first[1], first[0])) - self.turn
        yield Truth(f"The first corner is turned {trim(self.turn)}°", (lean + 180.0) % 360.0 - 180.0, "°")
        yield Truth(f"Every upright edge is {mm(self.height)} high", (top - base) - np.array([0.0, 0.0, self.height]))


class Cylinder(Curved, RoundSolid, id="cylinder", family="solids", title="Cylinder"):
    keys = ("B*", "O.front", "T*")
    brief = opens = "A cylinder {diameter} wide and {height} high in {divisions} divisions"
    summary = "A pipe, a drum, a mitred gutter: its views, the ellipse of a slanting cut, and the pattern of its skin."
    value_names = (*CutSolid.value_names, "section_long", "section_wide", "pattern_width")
    ways = ("parallel-lines",)
    lines_called = "division"
    round = True

    across = ("diameter",)

    diameter = Length(52, "the diameter")
    height = Length(70, "the height")
    divisions = Count(12, "the divisions round the base", 6, 72, multiple=2)
    seam = Count(0, "the division at which the pattern is opened", 0, 71)

    @property
    def reach(self) -> float:
        return self.diameter / 2

    @cached_property
    def stock(self) -> Stock:
        base = ring(self.reach, self.divisions)
        return Stock(base, base + np.array([0.0, 0.0, self.height]), 0, self.reach)

    @property
    def developed(self) -> Stock:
        radius = self.girth / self.divisions / 2 / float(np.sin(np.pi / self.divisions))
        base = ring(radius, self.divisions)
        return Stock(base, base + np.array([0.0, 0.0, self.height]), 0)

    @property
    def girth(self) -> float:
        """All round the base."""
        return float(np.pi * self.diameter)

    def exact_cut_at(self, height: float) -> RoundCut:
        return cut_cylinder(self.reach, self.height, height, self.slope)

    @property
    def whole(self) -> RoundCut:
        disc = float(np.pi * self.reach**2)
        return RoundCut(disc * self.height, self.girth * self.height, 0.0, disc, disc)

    @property
    def volume_says(self) -> str:
        if self.cut == "none":
            return f"π × {bare(self.reach)}² × {bare(self.height)}"
        return "∫ of the height over the base circle, up to the plane or the top"

    @property
    def lateral_says(self) -> str:
        return (
            f"π × {bare(self.diameter)} × {bare(self.height)}"
            if self.cut == "none"
            else "∫ of the heights round the girth"
        )

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        cut = self.cut == "plane"
        long = (
            f"{bare(self.diameter)} / cos {trim(self.cut_angle)}°, of the whole ellipse"
            if cut
            else "nothing is cut off"
        )
        yield Value("section_long", self.diameter * float(np.hypot(1.0, self.slope)) if cut else None, "mm", long)
        wide = f"{bare(self.diameter)}, the diameter" if cut else "nothing is cut off"
        yield Value("section_wide", self.diameter if cut else None, "mm", wide)
        marks = ("Q0", "Qn") if self.wanted[1] else ()
        yield Value("pattern_width", self.girth, "mm", f"π × {bare(self.diameter)}", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        if self.is_developed(found):
            out["pattern_width"] = distance(found["Q0"], found["Qn"])
        return out

    def courses(self, method: str) -> Sequence[Course]:
        return tuple(cylinder_cut(self))

    def off_rim(self, at: Array) -> Array:
        return length(at[:2]) - self.reach

    def stock_truths(self, found: Found) -> Iterator[Truth]:
        base = found.together([self.stock.lower(k) for k in range(self.divisions)])
        top = found.together([self.stock.upper(k) for k in range(self.divisions)])
        yield Truth(f"Every division stands {mm(self.reach)} from the axis", length(base[:, :2]) - self.reach)
        chord = 2 * self.reach * float(np.sin(np.pi / self.divisions))
        yield Truth("All divisions are as far apart", distance(base, np.roll(base, -1, axis=0)) - chord)
        yield Truth(f"Every generator is {mm(self.height)} high", (top - base) - np.array([0.0, 0.0, self.height]))

    def pattern_truths(self, found: Found) -> Iterator[Truth]:
        yield Truth("The pattern is as wide as the circle is round", distance(found["Q0"], found["Qn"]) - self.girth)
        yield from super().pattern_truths(found)


ONE_ON = "Heights carried one edge on."


class StretchOut:
    """The pattern beside the elevation: the girth on the ground line, an upright at each station, every height carried
    across."""

    def __init__(self, g: Prism | Cylinder, d: Draft, hand: Upright) -> None:
        self.g, self.d, self.hand, self.strips = g, d, hand, g.strips
        self.stations: list[Spot] = []
        self.uprights: list[LineMark] = []

    def draw(self) -> None:
        d, g = self.d, self.g
        with d.phase("The pattern"), d.apart("pattern"):
            left = min(float(spot.here[0]) for spot in d.spots.values())
            with d.as_one("Pencil", "On the ground line mark Q0, where the pattern has room beside the views."):
                start = d.on(self.hand.ground, left - APART - g.girth - float(self.hand.foot.here[0]), "Q0", "found")
            self.stations = self._stepped(start) if isinstance(g, Prism) else self._divided(start)
            with d.as_one("Set square", "Draw an upright at every mark."):
                self.uprights = [d.upright_from(spot) for spot in self.stations]
            self._carry()
            self._exits()
            line_in_pattern(g, d)

    def _stepped(self, start: Spot) -> list[Spot]:
        """The sides of a prism stepped along the stretch-out line."""
        d, g, n = self.d, self.g, self.g.stock.count
        keys = [self.strips.station("Q", j) for j in range(1, n + 1)]
        side = d.opening(*(self.hand.spot(g.stock.lower(k), self.hand.views.top) for k in (0, 1)))
        count = d.choice("seam-twice", right=n, slip=n - 1, says="The seam counted twice: one side too few.")
        says = (
            f"Along the ground line step off the sides from {start.name}, the seam "
            f"on edge {g.seam}: {n} spaces, {n + 1} marks."
        )
        spots = d.step_along(
            self.hand.ground, start, side, count, keys[:count], says, "the stretch-out line: all round the base"
        )
        return self._all(spots)

    def _all(self, spots: list[Spot]) -> list[Spot]:
        """The stations, the last mark having two names where one was left out."""
        keys = [self.strips.station("Q", j) for j in range(len(spots), self.g.stock.count + 1)]
        return [*spots, *(self.d.also(key, spots[-1], "plain") for key in keys)]

    def _divided(self, start: Spot) -> list[Spot]:
        """The girth of a cylinder by its length, cut into the divisions."""
        d, g, n = self.d, self.g, self.g.stock.count
        keys = [self.strips.station("Q", j) for j in range(n + 1)]
        way = d.choice(
            "chords", right="girth", slip="chords", says="The chord from division to division stepped for the arc."
        )
        if way == "chords":
            chord = d.opening(*(self.hand.spot(g.stock.lower(k), self.hand.views.top) for k in (0, 1)))
            return d.step_along(
                self.hand.ground,
                start,
                chord,
                n,
                keys[1:],
                f"Step the chord of a division {n} times from {start.name}.",
            )
        girth = d.choice(
            "diameter", right=g.girth, slip=g.reach * 2, says="The diameter laid off instead of the circumference."
        )
        count = d.choice("seam-twice", right=n, slip=n - 1, says="The seam counted twice: one space too few.")
        words = (
            f"Along the ground line lay off the girth from {start.name}, the seam on division {g.given_values['seam']}."
        )
        whole = d.lay_off(self.hand.ground, start, girth, keys[n], words, f"π × {bare(2 * g.reach)}")
        if count == n:
            return d.divide(start, whole, n, keys, says=f"Cut it into {n} equal spaces.", how="trial")
        marks = d.divide(start, whole, count, keys, says=f"Cut it into {n} equal spaces.", how="trial")
        return [*marks[:-1], d.also(keys[n - 1], whole, "plain"), whole]

    def _carry(self) -> None:
        """Each line's upper end carried level to its own upright."""
        d, kept, strips, n = self.d, self.g.cutting, self.strips, self.g.stock.count
        shift = d.choice("one-on", right=0, slip=1, says=ONE_ON, when=kept.cut_away)
        lines = "generator" if self.g.round else "edge"
        with d.as_one("Set square", f"Carry the height of every {lines} level across to its own upright."):
            for j in range(n + 1):
                ends = kept.line(strips.place(j))
                other = kept.line(strips.place(j + shift)) or ends
                if ends is not None and other is not None:
                    level = d.level_from(self.hand.spot(other[1], self.hand.views.front), role=Role.PROJECTOR)
                    d.meet(level, self.uprights[j], strips.station("P", j))

    def _exits(self) -> None:
        """Where the cut leaves through base and top: as far beyond the last line as on the base."""
        d, g, kept, strips = self.d, self.g, self.g.cutting, self.strips
        for j, names in strips.faces:
            for name in (name for name in names if name[0] in "EF"):
                k = strips.place(j)
                key, low = strips.key(j, name), g.stock.lower(k)
                upper = name[0] == "F"
                words = f"From {self.stations[j].name} lay off how far {name} is beyond {low} on the base"
                mark = "" if upper else key
                if g.round:
                    turn = [float(np.rad2deg(np.arctan2(-at[1], at[0]))) for at in (g.stock.base[k], kept.places[name])]
                    arc = g.reach * float(np.deg2rad((turn[1] - turn[0]) % 360.0))
                    spot = d.lay_off(
                        self.hand.ground,
                        self.stations[j],
                        arc,
                        mark,
                        f"{words}, along the arc.",
                        kind="plain" if upper else "found",
                    )
                else:
                    beyond = d.opening(
                        self.hand.spot(low, self.hand.views.top), self.hand.spot(name, self.hand.views.top)
                    )
                    spot = d.lay_off(
                        self.hand.ground,
                        self.stations[j],
                        beyond,
                        mark,
                        f"{words}.",
                        kind="plain" if upper else "found",
                    )
                if upper and self.hand.upper is not None:
                    rise = d.upright_from(spot, "From there draw upright to the top level.")
                    d.meet(rise, self.hand.upper, key)


def parallel_lines(g: Prism | Cylinder, d: Draft) -> None:
    hand = views_of(g, d)
    if g.wanted[1]:
        StretchOut(g, d, hand).draw()


SOURCE = "Development of a prismatic surface: parallel edges stand square on the stretch-out line"
ABOUT = "Plan, elevation and cut; then the girth stretched out, and every height carried across to its own line."
method(Prism, "parallel-lines", about=ABOUT, source=SOURCE)(parallel_lines)
method(Cylinder, "parallel-lines", about=ABOUT, source=SOURCE)(parallel_lines)
