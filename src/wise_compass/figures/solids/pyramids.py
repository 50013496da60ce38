"""Pyramids and cones: lines that run to an apex, developed by radial lines."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, bare_area, mm, trim
from wise_compass.figures.solids.cut_courses import cone_cut
from wise_compass.figures.solids.cut_solids import UNCUT, CutSolid, RoundSolid
from wise_compass.geometry.round_cuts import RoundCut, cut_cone
from wise_compass.geometry.solids import Stock, ring
from wise_compass.geometry.vectors import Array, Number, distance, length, sind

PARABOLA = 1e-9
"""How near an eccentricity comes to 1 that is one."""


class Pointed(CutSolid):
    """What pyramids and cones share."""

    @property
    def slant(self) -> float:
        """The true length of an edge or a generator."""
        return float(np.hypot(self.reach, self.tall))

    @property
    @abstractmethod
    def part(self) -> float:
        """The angle of the pattern between two lines, in degrees."""

    def pattern_truths(self, found: Found) -> Iterator[Truth]:
        far = [distance(found["W"], found[self.strips.station("Q", j)]) for j in range(self.stock.count + 1)]
        yield Truth(f"Every line of the pattern is {mm(self.slant)} long", np.array(far) - self.slant)
        yield from super().pattern_truths(found)


class Pyramid(Pointed, id="pyramid", family="solids", title="Pyramid"):
    keys = ("B*", "O.front", "V")
    brief = opens = "A pyramid on {sides} sides of {side}, {height} high, its first corner turned {turn}"
    summary = (
        "A finial, a spire, a hopper's foot: its views, the true shape of a slanting cut, and the pattern of its sides."
    )
    value_names = (*CutSolid.value_names, "slant_edge", "slant_height")
    ways = ("radial-lines",)

    sides = Count(5, "the number of sides", 3, 24)
    side = Length(34, "the side of the base")
    height = Length(66, "the height")
    turn = Angle(
        10, "how far the first corner is turned from the right, anticlockwise from above", least=-360, most=360
    )
    cut_height = Length(34, "how far up the axis the plane cuts it", least=0)
    seam = Count(1, "the edge at which the pattern is opened", 1, 24)

    @property
    def reach(self) -> float:
        return float(self.side / 2 / np.sin(np.pi / self.sides))

    @cached_property
    def stock(self) -> Stock:
        return Stock(ring(self.reach, self.sides, self.turn), np.array([0.0, 0.0, self.height]))

    @property
    def part(self) -> float:
        return float(np.rad2deg(2 * np.arcsin(self.side / 2 / self.slant)))

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        marks = ("W", "Q0") if self.wanted[1] else ()
        yield Value("slant_edge", self.slant, "mm", f"√({bare(self.reach)}² + {bare(self.height)}²)", marks)
        inner = float(self.side / 2 / np.tan(np.pi / self.sides))
        yield Value(
            "slant_height", float(np.hypot(inner, self.height)), "mm", f"√({bare(inner)}² + {bare(self.height)}²)"
        )

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        if self.is_developed(found):
            out["slant_edge"] = distance(found["W"], found["Q0"])
        return out

    def stock_truths(self, found: Found) -> Iterator[Truth]:
        base = found.together([self.stock.lower(k) for k in range(self.sides)])
        sides = distance(base, np.roll(base, -1, axis=0))
        yield Truth(f"Every side of the base is {mm(self.side)} long", sides - self.side)
        lean = np.rad2deg(np.arctan2(-base[0, 1], base[0, 0])) - self.turn
        yield Truth(f"The first corner is turned {trim(self.turn)}°", (lean + 180.0) % 360.0 - 180.0, "°")
        yield Truth(
            f"The apex stands {mm(self.height)} over the middle of the base", found["V"] - np.array([0, 0, self.height])
        )


class Cone(Curved, RoundSolid, Pointed, id="cone", family="solids", title="Cone"):
    keys = ("B*", "O.front", "V")
    brief = opens = "A cone {diameter} wide and {height} high in {divisions} divisions"
    summary = "A funnel, a bucket, a spire's cap: its views, the conic of a slanting cut, and the pattern of its skin."
    value_names = (*CutSolid.value_names, "slant", "sector_angle", "section_kind", "section_eccentricity")
    ways = ("radial-lines", "stepped-chords")
    lines_called = "generator"
    round = True

    across = ("diameter",)

    diameter = Length(62, "the diameter of the base")
    height = Length(72, "the height")
    divisions = Count(12, "the divisions round the base", 6, 72, multiple=2)
    seam = Count(0, "the generator at which the pattern is opened", 0, 71)
    cut_height = Length(38, "how far up the axis the plane cuts it", least=0)

    @property
    def reach(self) -> float:
        return self.diameter / 2

    @cached_property
    def stock(self) -> Stock:
        return Stock(ring(self.reach, self.divisions), np.array([0.0, 0.0, self.height]), 0, self.reach)

    @property
    def sector(self) -> float:
        """The angle of the whole pattern in degrees."""
        return 360.0 * self.reach / self.slant

    @property
    def part(self) -> float:
        return self.sector / self.divisions

    @property
    def developed(self) -> Stock:
        radius = self.slant * float(sind(self.part / 2) / np.sin(np.pi / self.divisions))
        tall = np.sqrt(self.slant**2 - radius**2)
        return Stock(ring(radius, self.divisions), np.array([0.0, 0.0, tall]), 0)

    def exact_cut_at(self, height: float) -> RoundCut:
        return cut_cone(self.reach, self.height, height, self.slope)

    @property
    def whole(self) -> RoundCut:
        disc = float(np.pi * self.reach**2)
        return RoundCut(disc * self.height / 3, float(np.pi * self.reach * self.slant), 0.0, disc, 0.0)

    @property
    def volume_says(self) -> str:
        if self.cut == "none":
            return f"π × {bare(self.reach)}² × {bare(self.height)} / 3"
        bulk, tall = self.exact_cut, bare(self.height)
        off = abs(self.height - self.cut_height) / float(np.hypot(1.0, self.slope))
        cut = f"{bare_area(bulk.section)} × {bare(off)} / 3"
        if self.cut_height > self.height:
            return f"{bare_area(bulk.base)} × {tall} / 3 − {cut}, from the apex on the base and the cut"
        whole = f"π × {bare(self.reach)}² × {tall} / 3 − {cut}"
        gone = float(np.pi * self.reach**2) - bulk.base
        return whole + (f" − {bare_area(gone)} × {tall} / 3" if gone > 0 else "") + ", from the apex on the cut"

    @property
    def lateral_says(self) -> str:
        if self.cut == "none":
            return f"π × {bare(self.reach)} × {bare(self.slant)}"
        return f"∫ of what its plan covers × {bare(self.slant)} / {bare(self.reach)}"

    @property
    def eccentricity(self) -> float:
        """Of the section: the plane's slope to that of a generator, as sines."""
        return float(sind(self.cut_angle)) * self.slant / self.height

    @property
    def section_kind(self) -> str | None:
        if self.cut == "none":
            return None
        if "V" in self.cutting.section:
            return "triangle"
        if self.eccentricity <= PARABOLA:
            return "circle"
        if abs(self.eccentricity - 1) <= PARABOLA:
            return "parabola"
        return "ellipse" if self.eccentricity < 1 else "hyperbola"

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        marks = ("W", "Q0") if self.wanted[1] else ()
        yield Value("slant", self.slant, "mm", f"√({bare(self.reach)}² + {bare(self.height)}²)", marks)
        says = f"360° × {bare(self.reach)} / {bare(self.slant)}"
        yield Value("sector_angle", self.sector, "°", says, ("Q0", "W", "Qn") if self.wanted[1] else ())
        cut = self.cut == "plane"
        yield Value("section_kind", self.section_kind, "", "by its eccentricity" if cut else UNCUT)
        working = f"sin {trim(self.cut_angle)}° × {bare(self.slant)} / {bare(self.height)}" if cut else UNCUT
        yield Value("section_eccentricity", self.eccentricity if cut else None, "", working)
        if method == "stepped-chords" and self.wanted[1]:
            lost = self.sector - self.stepped
            ends = ("Q0", "W", "Qn")
            yield Value(
                "drawn_sector_angle", self.stepped, "°", f"{self.divisions} chords on the arc", ends, drawn=True
            )
            yield Value("chord_loss", lost, "°", f"{trim(self.sector)}° − {trim(self.stepped)}°", ends, drawn=True)

    @property
    def stepped(self) -> float:
        """The sector's angle where chords of the base are stepped round its arc."""
        chord = 2 * self.reach * float(np.sin(np.pi / self.divisions))
        return float(self.divisions * np.rad2deg(2 * np.arcsin(chord / 2 / self.slant)))

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        if self.is_developed(found):
            out["slant"] = distance(found["W"], found["Q0"])
            out["sector_angle"] = self._swept(found)
            if found.method == "stepped-chords":
                out["drawn_sector_angle"] = out["sector_angle"]
                out["chord_loss"] = self.sector - out["sector_angle"]
        return out

    def _swept(self, found: Found) -> Array:
        """The angle of the pattern from the one side of the seam to the other, summed over its parts."""
        total = np.zeros(())
        n, w = self.stock.count, found["W"]
        for j in range(n):
            a, b = (found[self.strips.station("Q", i)] - w for i in (j, j + 1))
            total = total + np.rad2deg(np.arctan2(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0], (a * b).sum(axis=-1)))
        return total

    def courses(self, method: str) -> Sequence[Course]:
        stepped = method == "stepped-chords"
        return tuple(
            course._replace(on_it=False) if stepped and "pattern" in course.says else course
            for course in cone_cut(self)
        )

    def off_rim(self, at: Array) -> Array:
        return length(at[:2]) - self.reach

    def stock_truths(self, found: Found) -> Iterator[Truth]:
        base = found.together([self.stock.lower(k) for k in range(self.divisions)])
        yield Truth(f"Every division stands {mm(self.reach)} from the axis", length(base[:, :2]) - self.reach)
        chord = 2 * self.reach * float(np.sin(np.pi / self.divisions))
        yield Truth("All divisions are as far apart", distance(base, np.roll(base, -1, axis=0)) - chord)
        yield Truth(
            f"The apex stands {mm(self.height)} over the middle of the base", found["V"] - np.array([0, 0, self.height])
        )

    def pattern_truths(self, found: Found) -> Iterator[Truth]:
        arc = np.deg2rad(self._swept(found)) * self.slant - 2 * np.pi * self.reach
        yield Truth("The arc of the pattern is as long as the base is round", arc)
        yield from super().pattern_truths(found)
