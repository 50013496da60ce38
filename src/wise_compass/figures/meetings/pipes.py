"""A prism that meets a cylinder: either may be the one that stands upright."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.truths import Value
from wise_compass.figures.meetings.courses import line_courses
from wise_compass.figures.meetings.flat_sided import COMMON
from wise_compass.figures.meetings.pair import Section, regular_section
from wise_compass.figures.meetings.patterns import LaidFlat
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.geometry.mains import Main, ring_of
from wise_compass.geometry.vectors import Array


class PrismAndCylinder(
    Curved, LaidFlat, id="prism-and-cylinder", family="solids", title="Prism and cylinder that meet"
):
    brief = (
        "Upright is the {main}, {height} high: a prism on {sides} sides of {side}, turned {turn}, and a cylinder "
        "{diameter} wide meet, the other rising at {slope}, {offset} in front, {level} up; it enters {enters} and "
        "reaches {reach}. In {divisions} divisions, the seam on line {seam}. Draw {show}, with {method}."
    )
    summary = "A round pipe through a square shaft, a square chute on a drum: their line, and both patterns."
    value_names = (*COMMON, "main_crossings", "hole_area", "common_volume")
    ways = ("piercing-points", "cutting-planes")

    main = Choice("prism", "which of them stands upright", ("prism", "cylinder"))
    sides = Count(6, "the number of the prism’s sides", 3, 24)
    side = Length(36, "the side of its section")
    turn = Angle(0, "how far its first corner is turned", least=-360, most=360)
    diameter = Length(40, "the diameter of the cylinder")
    height = Length(140, "the height of the one that stands")
    level = Length(66, "how high over the ground the other’s axis crosses the upright through its axis", least=-20000)
    slope = Angle(0, "how far the other rises to the right", least=0, under=90)
    divisions = Count(12, "the divisions of the cylinder", 8, 72, multiple=4)
    seam = Count(3, "the edge or division of the upright one at which its pattern is opened", 0, 71)

    @property
    def prism_stands(self) -> bool:
        return self.main == "prism"

    @cached_property
    def ring(self) -> Array:
        """The corners of the prism's section."""
        return ring_of(self.sides, self.side, self.turn)

    @cached_property
    def main_solid(self) -> Main:
        if self.prism_stands:
            return Main(self.ring * np.array([1.0, -1.0]))
        return Main(radius=self.diameter / 2)

    @cached_property
    def main_section(self) -> Section:
        return self._prism_section if self.prism_stands else self._round_section

    @cached_property
    def branch_corners(self) -> Array | None:
        return None if self.prism_stands else self.ring

    @property
    def branch_radius(self) -> float:
        return self.diameter / 2 if self.prism_stands else 0.0

    @cached_property
    def branch_section(self) -> Section:
        return self._round_section if self.prism_stands else self._prism_section

    @cached_property
    def _prism_section(self) -> Section:
        return regular_section(self.sides, self.side, self.turn)

    @cached_property
    def _round_section(self) -> Section:
        return Section(0, self.diameter / 2, 0.0)

    def refuse(self) -> None:
        if self.prism_stands:
            refuse_seam(self.seam, 1, self.sides, "edge")
        else:
            refuse_seam(self.seam, 0, self.divisions - 1, "division")
        super().refuse()

    def courses(self, method: str) -> Sequence[Course]:
        return tuple(line_courses(self))

    def _own_values(self) -> Iterable[Value]:
        yield self._crossing_value()
        yield Value("hole_area", self.meeting.hole_area, "mm²", "∫ of the branch’s upright width round the main’s skin")
        yield self._volume_value("∫ of the main’s width × the branch’s upright width, from front to back")
