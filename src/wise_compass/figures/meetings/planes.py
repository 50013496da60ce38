"""Cutting planes: each cuts both solids in lines that cross in points of the line."""

from __future__ import annotations

from itertools import groupby

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.figures.meetings.finding import ASLANT
from wise_compass.figures.meetings.flat_sided import MeetingPrisms, PyramidAndPrism
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.meetings.pair import Named
from wise_compass.figures.meetings.piercing import Piercing, finish, set_out
from wise_compass.figures.meetings.pipes import PrismAndCylinder
from wise_compass.figures.meetings.rounds import ConeAndCylinder, SphereAndCylinder
from wise_compass.geometry.vectors import Array, length, point3

AUXILIARY = "Intersection of surfaces by auxiliary cutting planes (Monge)"
ALONG = 0.05
"""The least rise of a line of the base to the planes, as a sine, at which it tells where they cut it."""


class Planes(Piercing):
    """The line plane by plane: upright ones along the branch, level ones, or those through the apex along it."""

    def find(self) -> None:
        g, d = self.g, self.d
        points = sorted((one for loop in g.lines for one in loop), key=lambda one: not self.is_key(one))
        with d.phase("The cutting planes"):
            if not g.main_solid.apex and not g.main_solid.ball:
                self._upright_planes(points)
            elif g.main_solid.corners is not None:
                self._planes_through_pyramid(points)
            elif g.main_solid.ball or g.upright or g.rises == 0.0:
                self._level_planes(points)
            else:
                self._planes_through_apex(points)
        with d.phase("Highest and lowest"):
            self.extremes()

    # upright planes along the branch

    def _upright_planes(self, points: list[Named]) -> None:
        """Each is a level line in the plan; it cuts the branch in its elements and the main in uprights."""

        def depth(one: Named) -> float:
            return round(float(one.meets.at[1]), 6)

        rows = [list(group) for _, group in groupby(sorted(points, key=depth), key=depth)]
        rows.sort(key=lambda row: not any(self.is_key(one) for one in row))
        for number, row in enumerate(rows, 1):
            names = ", ".join(one.name for one in row)
            words = f"Plane {number}, level in the plan: it cuts both in lines that cross in {names}."
            with self.d.as_one("Set square", words, why="upright, and parallel to the branch"):
                for one in row:
                    if self.by_element(one):
                        self.up_from_plan(one)
                    else:
                        self.through_branch(one)

    def _planes_through_pyramid(self, points: list[Named]) -> None:
        own = [one for one in points if self.by_element(one)]
        for one in own:
            words = f"{one.name}: the upright plane along its line cuts its face in a line that meets it."
            with self.d.as_one("Set square", words):
                self._face_trace(one)
        if len(own) < len(points) and not self.g.upright:
            self.along_view()
        for one in points:
            if not self.by_element(one):
                words = f"{one.name}: where the edge crosses the section, seen along the branch, brought back to it."
                with self.d.as_one("Straightedge", words):
                    self.edge_through_branch(one)

    def _face_trace(self, named: Named) -> None:
        """Where the plane cuts a face of the pyramid: through two places, on its edges or on its side of the base."""
        d, g, one = self.d, self.g, named.meets
        front, top, w = self.element_lines(one)
        plane = top if top is not None else d.level_from(self.marks[w])
        face, n = self.face_of(one), len(g.feet)
        a, b = g.feet[face], g.feet[(face + 1) % n]
        lines: list[tuple[float, LineMark, LineMark, Array]] = []
        for start, end, flat, high in (
            (a, np.zeros(3), self.edges_top[face], self.edges[face]),
            (b, np.zeros(3), self.edges_top[(face + 1) % n], self.edges[(face + 1) % n]),
            (a, b, self.sides[face], self.ground),
        ):
            rise = abs(float(end[1] - start[1])) / float(length(end - start))
            steep = abs(float(end[0] - start[0])) / float(length(end - start))
            if rise > ALONG and (high is self.ground or steep > ALONG):
                share = float((one.at[1] - start[1]) / (end[1] - start[1]))
                lines.append((rise, flat, high, start + share * (end - start)))
        best = max(
            ((p, q) for k, p in enumerate(lines) for q in lines[k + 1 :]),
            key=lambda pair: abs(float(pair[0][3][0] - pair[1][3][0])),
            default=None,
        )
        if best is None or abs(float(best[0][3][0] - best[1][3][0])) < ALONG * g.main_reach:
            self._otherwise(named)
            return
        ends = []
        for _, flat, high, _ in best:
            on = d.meet(plane, flat)
            ends.append(d.meet(d.upright_from(on, role=Role.PROJECTOR), high))
        at = d.meet(d.rule(ends[0], ends[1]), front)
        self._drop(named, at, top)

    def _otherwise(self, named: Named) -> None:
        """A face that the plane meets too nearly along its own lines: by a line of the face itself."""
        if self.g.upright:
            self.level_in_face(named)
            return
        self.along_view()
        self._in_pyramid(named)

    # level planes

    def _level_planes(self, points: list[Named]) -> None:
        """Each cuts the main in a circle; a level branch in its elements, an upright one in its circle."""
        for one in points:
            words = f"{one.name}: the level plane there cuts the main in a circle, true in the plan."
            with self.d.as_one("Compass", words):
                if self.g.main_solid.ball:
                    self._level_on_ball(one)
                elif self.g.upright:
                    self._upright_level(one)
                else:
                    self._level_along(one)

    def _level_on_ball(self, named: Named) -> None:
        d, one = self.d, named.meets
        front, _, w = self.element_lines(one)
        mark = self.marks[w]
        if self.g.touches(one):
            self.enter(named.name, d.meet(front, self.ground), mark)
            return
        arc = d.compass(self.o, d.opening(self.o, mark), whole=False)
        beside = d.meet(arc, self.plan_level, where="right")
        up = d.upright_from(beside, role=Role.PROJECTOR)
        near = point3(float(np.hypot(*one.at[:2])), 0.0, float(one.at[2]))
        rim = d.meet(up, self.outline, near=self.front_at(near))
        self.enter(named.name, d.meet(d.level_from(rim), front), mark)

    def _upright_level(self, named: Named) -> None:
        one = named.meets
        if float(length(one.at[:2])) <= 1e-9 * self.g.main_reach:
            self.enter(named.name, self.apex, self.marks[self.place_key(one.w)])
            return
        self.level_on_cone(named)

    def _level_along(self, named: Named) -> None:
        """A level element on edge in its own level plane: the circle's radius from the cone's outline."""
        d, one = self.d, named.meets
        front, top, _ = self.element_lines(one)
        assert top is not None
        rim, middle = d.meet(front, self.contour["right"]), d.meet(front, self.axis_upright)
        circle = d.compass(self.o, d.opening(middle, rim), whole=False)
        on = self.line_and_circle(top, circle, self.top_at(one.at), self.g.touches(one))
        self.enter(named.name, d.meet(d.upright_from(on, role=Role.PROJECTOR), front), on)

    # planes through the apex

    def _planes_through_apex(self, points: list[Named]) -> None:
        """All hold the line through the apex along the branch: on the ground their traces run through one place, T."""
        d = self.d
        aim = d.parallel_to(self.axis, self.apex, "Through V draw parallel to the branch, down to the ground.")
        low = d.meet(aim, self.ground, "T.front")
        with d.as_one("Set square", "Carry that to the plan of the axis: T."):
            t = d.meet(d.upright_from(low, role=Role.PROJECTOR), self.plan_level, "T.top")
        for one in points:
            words = f"{one.name}: the plane’s trace from T through its line’s own; the generator there meets the line."
            with d.as_one("Straightedge", words):
                self._by_trace(one, t)

    def _by_trace(self, named: Named, t: Spot) -> None:
        d, one = self.d, named.meets
        front, top, w = self.element_lines(one)
        assert top is not None
        lean = self.g.branch.flat(np.array([0.0, 0.0, self.g.tall])) - self.g.branch.section(w)
        if abs(float(lean[0])) <= ASLANT * float(length(lean)):
            self._steep_plane(named)
            return
        ground = d.meet(d.upright_from(d.meet(front, self.ground), role=Role.PROJECTOR), top)
        trace = d.rule(t, ground)
        foot = self.line_and_circle(trace, self.base_circle, self.top_at(self._foot(one)), self.g.touches(one))
        self.by_generator_of(named, d.meet(d.upright_from(foot, role=Role.PROJECTOR), self.ground))


def by_planes(g: SolidsThatMeet, d: Draft) -> None:
    """Any of the pairs, plane by plane."""
    hand = Planes(g, d)
    set_out(g, d, hand)
    hand.find()
    finish(g, d, hand)


UPRIGHT = "Upright planes along the branch cut both in straight lines, which cross in points of the line."
for _kind, _about in (
    (MeetingPrisms, UPRIGHT),
    (PrismAndCylinder, UPRIGHT),
    (
        PyramidAndPrism,
        "An upright plane along each edge of the branch cuts the pyramid’s face in a line that the edge meets.",
    ),
    (
        ConeAndCylinder,
        "Level planes cut the cone in circles; where the branch slants, planes through the apex cut it in generators.",
    ),
    (
        SphereAndCylinder,
        "Level planes cut the sphere in circles that are true in the plan, the pipe in its own circle.",
    ),
):
    method(_kind, "cutting-planes", about=_about, source=AUXILIARY)(by_planes)
