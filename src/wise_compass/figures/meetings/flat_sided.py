"""Prisms that meet, and a prism that meets a pyramid: every line is straight."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property

import numpy as np

from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.truths import Value
from wise_compass.figures.meetings.pair import Section, regular_section
from wise_compass.figures.meetings.patterns import LaidFlat
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.geometry.mains import Main, ring_of
from wise_compass.geometry.vectors import Array

COMMON = ("kind", "loops", "right_lengths", "left_lengths", "line_top", "line_bottom")


class FlatSided(LaidFlat):
    """What both share: a main and a branch with flat sides."""

    sides = Count(4, "the number of the main’s sides", 3, 24)
    side = Length(52, "the side of the main’s base")
    height = Length(130, "the main’s height")
    turn = Angle(0, "how far its first corner is turned, anticlockwise from above", least=-360, most=360)
    branch_sides = Count(4, "the number of the branch’s sides", 3, 24)
    branch_side = Length(30, "the side of the branch’s section")
    branch_turn = Angle(0, "how far its first edge is turned from its underside", least=-360, most=360)
    seam = Count(2, "the edge of the main at which its pattern is opened", 1, 24)

    @cached_property
    def ring(self) -> Array:
        """The corners of the main's base, y being to the front."""
        return np.asarray(ring_of(self.sides, self.side, self.turn) * np.array([1.0, -1.0]))

    @cached_property
    def main_section(self) -> Section:
        return regular_section(self.sides, self.side, self.turn)

    @cached_property
    def branch_corners(self) -> Array:
        return ring_of(self.branch_sides, self.branch_side, self.branch_turn)

    @cached_property
    def branch_section(self) -> Section:
        return regular_section(self.branch_sides, self.branch_side, self.branch_turn)

    def refuse(self) -> None:
        refuse_seam(self.seam, 1, self.sides, "edge")
        super().refuse()

    def _own_values(self) -> Iterable[Value]:
        yield self._crossing_value()
        yield Value("line_length", self.meeting.line_length, "mm", "… all its straight pieces together")


class MeetingPrisms(FlatSided, id="meeting-prisms", family="solids", title="Two prisms that meet"):
    brief = (
        "An upright prism on {sides} sides of {side}, {height} high, its first corner turned {turn}, meets a prism on "
        "{branch_sides} sides of {branch_side}, its first edge turned {branch_turn}, that rises at {slope}, "
        "{offset} in front, {level} up; it enters {enters} and reaches {reach}. The seam on edge {seam}. Draw {show}, "
        "with {method}."
    )
    summary = "A beam through a post, a chute into a shaft: the line where two prisms meet, and both patterns."
    value_names = (*COMMON, "main_crossings", "line_length", "hole_area", "common_volume")
    ways = ("piercing-points", "cutting-planes")

    slope = Angle(0, "how far the branch rises to the right", least=0, under=90)

    @cached_property
    def main_solid(self) -> Main:
        return Main(self.ring)

    def _own_values(self) -> Iterable[Value]:
        yield from super()._own_values()
        yield Value("hole_area", self.meeting.hole_area, "mm²", "∫ of the branch’s upright width round the main’s skin")
        yield self._volume_value("∫ of the main’s width × the branch’s upright width, from front to back")


class PyramidAndPrism(FlatSided, id="pyramid-and-prism", family="solids", title="Pyramid and prism that meet"):
    brief = (
        "A pyramid on {sides} sides of {side}, {height} high, its first corner turned {turn}, meets a prism on "
        "{branch_sides} sides of {branch_side}, its first edge turned {branch_turn}, that rises at {slope}, {aside} "
        "to the right, {offset} in front, {level} up; it enters {enters} and reaches {reach}. The seam on edge {seam}. "
        "Draw {show}, with {method}."
    )
    summary = "A chimney on a spire, a duct into a hopper: the line where a prism meets a pyramid, and both patterns."
    keys = ("H", "U", "R*", "M*", "N*")
    value_names = (*COMMON, "main_crossings", "line_length", "common_volume")
    ways = ("piercing-points", "cutting-planes")

    side = Length(64, "the side of the base")
    height = Length(124, "the pyramid’s height")
    turn = Angle(15, "how far its first corner is turned, anticlockwise from above", least=-360, most=360)
    branch_side = Length(24, "the side of the branch’s section")
    aside = Length(
        0, "how far to the right the branch’s axis passes the place that its reach is told from", least=-20000
    )
    level = Length(40, "how high over the ground that place is", least=-20000)
    slope = Angle(0, "how far the branch rises to the right", least=0, most=90)

    @cached_property
    def main_solid(self) -> Main:
        return Main(self.ring, apex=self.height)

    def _own_values(self) -> Iterable[Value]:
        yield from super()._own_values()
        yield self._volume_value("… the body between the sides of both, in pyramids from a place within")
