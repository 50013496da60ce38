"""A pipe that meets a cone or a sphere."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.truths import Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.meetings.courses import line_courses
from wise_compass.figures.meetings.flat_sided import COMMON
from wise_compass.figures.meetings.pair import Section
from wise_compass.figures.meetings.patterns import LaidFlat
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.geometry.mains import Main
from wise_compass.geometry.vectors import Array, distance


class PipeOn(Curved, LaidFlat):
    """What both share: a round branch, in divisions."""

    divisions = Count(16, "the divisions round the branch", 8, 72, multiple=4)

    @cached_property
    def branch_corners(self) -> Array | None:
        return None

    @cached_property
    def branch_section(self) -> Section:
        return Section(0, self.branch_radius, 0.0)

    @property
    def branch_radius(self) -> float:
        return float(self.given_values["branch_diameter"]) / 2

    def courses(self, method: str) -> Sequence[Course]:
        return tuple(line_courses(self))

    def _width_value(self) -> Value:
        return Value("pattern_width", 2 * np.pi * self.branch_radius, "mm", f"π × {bare(2 * self.branch_radius)}")


class ConeAndCylinder(PipeOn, id="cone-and-cylinder", family="solids", title="Cone and cylinder that meet"):
    brief = (
        "A cone {diameter} wide and {height} high meets a pipe {branch_diameter} "
        "wide that rises at {slope}, {aside} to "
        "the right, {offset} in front, {level} up; it enters {enters} and reaches {reach}. In {divisions} "
        "divisions, the seam on division {seam}. Draw {show}, with {method}."
    )
    summary = "A pipe through a hopper or a cowl: the line where it meets the cone, and both patterns with the hole."
    value_names = (*COMMON, "hole_radii", "hole_places", "pattern_width")
    ways = ("piercing-points", "cutting-planes", "cutting-spheres")
    across = ("diameter", "branch_diameter")

    diameter = Length(92, "the diameter of the cone’s base")
    height = Length(112, "the cone’s height")
    branch_diameter = Length(34, "the diameter of the pipe")
    aside = Length(0, "how far to the right its axis passes the place that its reach is told from", least=-20000)
    level = Length(38, "how high over the ground that place is", least=-20000)
    slope = Angle(0, "how far the pipe rises to the right", least=0, most=90)
    seam = Count(4, "the division of the cone at which its pattern is opened", 0, 71)

    @property
    def radius(self) -> float:
        return self.diameter / 2

    @cached_property
    def main_solid(self) -> Main:
        return Main(radius=self.radius, apex=self.height)

    @cached_property
    def main_section(self) -> Section:
        return Section(0, self.radius, 0.0)

    def refuse(self) -> None:
        refuse_seam(self.seam, 0, self.divisions - 1, "division")
        super().refuse()

    def hole(self) -> tuple[list[float | None], list[float | None]]:
        """For each division the true distance from the apex and the place round the base, where it comes out."""
        right, _ = self.meeting.lengths
        at = self.branch.element(self.counted) + right[:, None] * self.branch.axis
        radii = (self.height - at[:, 2]) * self.slant / self.height
        places = np.rad2deg(np.arctan2(-at[:, 1], at[:, 0]))
        places = np.where(places <= -180.0 + 1e-9, 180.0, places)
        told = [[None if x != x else float(x) for x in row] for row in (radii, places)]
        return told[0], told[1]

    def _own_values(self) -> Iterable[Value]:
        radii, places = self.hole()
        words = f"(({bare(self.height)} − height) × {bare(self.slant)} / {bare(self.height)}, of each division"
        yield Value("hole_radii", radii, "mm", words.replace("((", "("))
        yield Value("hole_places", places, "°", "… of the generator through each, round the base from the right")
        yield self._width_value()


class SphereAndCylinder(PipeOn, id="sphere-and-cylinder", family="solids", title="Sphere and cylinder that meet"):
    keys = ("H", "U", "R*", "O.front", "O.top")
    brief = (
        "A sphere {diameter} in diameter meets an upright pipe {branch_diameter} wide, {aside} to the right and "
        "{offset} in front of its centre; it enters from {enters} and reaches {reach}. In {divisions} divisions. Draw "
        "{show}, with {method}."
    )
    summary = "A post in a ball, a spout on a round float: the line where an upright pipe meets a sphere."
    value_names = (
        "kind",
        "loops",
        "top_lengths",
        "bottom_lengths",
        "line_top",
        "line_bottom",
        "common_volume",
        "pattern_width",
    )
    ways = ("piercing-points", "cutting-planes")
    hazards = (hazards.SHEET,)
    across = ("branch_diameter",)

    diameter = Length(92, "the diameter of the sphere")
    branch_diameter = Length(34, "the diameter of the pipe")
    aside = Length(18, "how far to the right of the centre its axis stands", least=-20000)
    offset = Length(6, "how far in front of the centre it stands", least=-20000)
    reach = Length(70, "how far over the centre’s level the pipe ends")
    enters = Choice(
        "through", "how far the pipe goes", ("top", "through"), {"top": "the top alone", "through": "the top, through"}
    )
    level = 0.0

    @property
    def rises(self) -> float:
        return 90.0

    @cached_property
    def main_solid(self) -> Main:
        return Main(radius=self.diameter / 2, ball=True)

    @cached_property
    def main_section(self) -> Section:
        return Section(0, self.diameter / 2, 0.0)

    @property
    def length_names(self) -> tuple[str, str]:
        return "top_lengths", "bottom_lengths"

    def _own_values(self) -> Iterable[Value]:
        yield self._volume_value("∫ of the sphere’s height × what the pipe holds of each ring about its axis")
        yield self._width_value()

    @property
    def gap(self) -> float:
        """From the sphere's centre to the pipe's axis."""
        return float(distance(np.zeros(2), np.array([self.given_values["aside"], self.offset])))
