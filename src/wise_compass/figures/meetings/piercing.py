"""Piercing points: each edge or element by the plane that holds it and is seen on edge."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import Role, Spot
from wise_compass.figures.meetings.finding import ASLANT, Finder
from wise_compass.figures.meetings.flat_sided import MeetingPrisms, PyramidAndPrism
from wise_compass.figures.meetings.laying import lay_flat
from wise_compass.figures.meetings.lined import line_in_all
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.meetings.pair import Named
from wise_compass.figures.meetings.pipes import PrismAndCylinder
from wise_compass.figures.meetings.rounds import ConeAndCylinder, SphereAndCylinder
from wise_compass.geometry.vectors import Array, length, sind

STEEP = 20.0
"""Degrees of slope from which a parallel to the branch crosses the ground line well."""
MONGE = "Points in which lines pierce surfaces, by planes seen on edge (Monge)"


class Piercing(Finder):
    """Every point of the line by piercing."""

    def find(self) -> None:
        g, d = self.g, self.d
        points = [one for loop in g.lines for one in loop]
        if g.main_solid.apex and not g.upright:
            with d.phase("The view along the branch"):
                self.along_view()
        first, rest = ([one for one in points if self.is_key(one) == wanted] for wanted in (True, False))
        with d.phase("Key points"):
            for one in first:
                self.point(one)
            self.extremes()
        if rest:
            with d.phase("Further points"):
                for one in rest:
                    self.point(one)

    def point(self, named: Named) -> None:
        """One point, by its element or by its generator."""
        if self.by_element(named):
            self.element(named)
        else:
            self.generator(named)

    def by_element(self, named: Named) -> bool:
        """Whether a point is found by its element: one of a main's flat side, or of a round branch."""
        one = named.meets
        return one.element is not None or one.foot is None or (self.g.main_solid.round and self.g.branch.round)

    def element(self, named: Named) -> None:
        g, name = self.g, named.name
        if g.main_solid.ball:
            self._in_sphere(named)
        elif not g.main_solid.apex:
            words = f"{name}: where its line meets the main in the plan, carried up to its line in the elevation."
            with self.d.as_one("Set square", words):
                self.up_from_plan(named)
        elif g.upright:
            self._upright_in_pointed(named)
        elif g.main_solid.corners is not None:
            words = (
                f"{name}: from V′ over its place to the base; that place brought back and joined to V meets its line."
            )
            with self.d.as_one("Straightedge", words):
                self._in_pyramid(named)
        else:
            words = (
                f"{name}: the plane through V′ and its place, on edge, is brought into the plan; there it cuts the base"
            )
            with self.d.as_one("Straightedge", f"{words}, and so the generator that meets its line."):
                self._in_cone(named)

    def generator(self, named: Named) -> None:
        g = self.g
        if g.main_solid.apex:
            words = (
                f"{named.name}: where the edge crosses the section in the view along "
                "the branch, brought back to the edge."
            )
            with self.d.as_one("Straightedge", words):
                self.edge_through_branch(named)
        else:
            words = (
                f"{named.name}: its depth from the plan, laid off in the section; "
                "where that crosses, a parallel to the "
                "axis meets its upright."
            )
            with self.d.as_one("Dividers", words):
                self.through_branch(named)

    # a sphere

    def _in_sphere(self, named: Named) -> None:
        """The upright plane along a level through the element cuts the sphere in a circle."""
        d, one = self.d, named.meets
        front, _, w = self.element_lines(one)
        mark = self.marks[w]
        words = (
            f"{named.name}: the plane level with it in the plan cuts the sphere in "
            "a circle; swung about O it meets its line."
        )
        with d.as_one("Compass", words):
            if self.g.touches(one):
                self.enter(named.name, d.meet(front, self.ground), mark)
                return
            plane = d.level_from(mark)
            rim = d.meet(plane, self.base_circle, where="right")
            middle = d.meet(plane, self.axis_upright)
            circle = d.compass(self.foot, d.opening(middle, rim), whole=False)
            self.enter(named.name, d.meet(front, circle, near=self.front_at(one.at)), mark)

    # a pyramid or a cone, the branch slanting

    def _in_pyramid(self, named: Named) -> None:
        d, one = self.d, named.meets
        face = self.face_of(one)
        side = d.rule(self.corner_image(face), self.corner_image(face + 1))
        ray = d.rule(self.apex_image, self.marks[self.place_key(one.w)])
        seen = d.meet(ray, side)
        run = self.g.feet[(face + 1) % len(self.g.feet)] - self.g.feet[face]
        if float(sind(self.g.rises)) >= 2.0 * abs(float(run[1])) / float(length(run)) or self.g.rises >= STEEP:
            self.by_generator_of(named, d.meet(self.carried(seen), self.ground))
            return
        # a branch that rises little brings it back along the ground line: its depth tells its place in the plan
        middle = d.meet(d.parallel_to(self.axis, seen), self.centre_line)
        taken, way = d.opening(middle, seen), -self._signed(middle, seen)
        level = d.level_from(d.lay_off(self.at_end, self.plan_end, taken, "", kind="plain", way=way))
        base = d.meet(level, self.sides[face])
        self.by_generator_of(named, d.meet(d.upright_from(base, role=Role.PROJECTOR), self.ground))

    def _in_cone(self, named: Named) -> None:
        """The plane through the apex and the element, seen on edge, meets the ground in a line: two places of it come
        from where it crosses the projectors of the base's middle and right end."""
        d, g, one = self.d, self.g, named.meets
        w = self.place_key(one.w)
        ray = d.rule(self.apex_image, self.marks[w])
        lean = g.branch.flat(np.array([0.0, 0.0, g.tall])) - g.branch.section(w)
        if abs(float(lean[0])) <= ASLANT * float(length(lean)):
            self._steep_plane(named)
            return
        ends = []
        for upright, low in ((self.axis_upright, self.foot), (self.tangent, self.outlines["right"])):
            projector = d.parallel_to(self.axis, low, role=Role.PROJECTOR)
            seen, middle = d.meet(ray, projector), d.meet(projector, self.centre_line)
            deep = self._signed(middle, seen)
            start = d.meet(upright, self.plan_axis)
            ends.append(d.lay_off(upright, start, d.opening(middle, seen), "", kind="plain", way=-deep))
        trace = d.rule(ends[0], ends[1])
        foot = self.line_and_circle(trace, self.base_circle, self.top_at(self._foot(one)), self.g.touches(one))
        self.by_generator_of(named, d.meet(d.upright_from(foot, role=Role.PROJECTOR), self.ground))

    def _signed(self, middle: Spot, seen: Spot) -> float:
        """+1 where a place of the view along the branch lies to the front of the axis."""
        u = np.array([np.cos(np.deg2rad(self.g.rises)), np.sin(np.deg2rad(self.g.rises))])
        return 1.0 if float((seen.here - middle.here) @ u) >= 0 else -1.0

    def _steep_plane(self, named: Named) -> None:
        """A plane through the apex, nearly square to the elevation: it meets the ground where its element does."""
        d, one = self.d, named.meets
        front, top, _ = self.element_lines(one)
        assert top is not None
        ground = d.meet(front, self.ground)
        on = d.meet(d.upright_from(ground, role=Role.PROJECTOR), top)
        aim = d.meet(d.parallel_to(self.axis, self.apex), self.ground)
        far = d.meet(d.upright_from(aim, role=Role.PROJECTOR), self.plan_level)
        trace = d.rule(far, on)
        foot = self.line_and_circle(trace, self.base_circle, self.top_at(self._foot(one)), self.g.touches(one))
        across = d.meet(d.rule(self.o, foot), top)
        self.enter(named.name, d.meet(d.upright_from(across, role=Role.PROJECTOR), front), across)

    # the branch upright

    def _upright_in_pointed(self, named: Named) -> None:
        if self.g.main_solid.corners is None:
            self._upright_in_cone(named)
            return
        words = (
            f"{named.name}: parallel to its side of the base in the plan to an edge, "
            "up to that edge, and level to its line."
        )
        with self.d.as_one("Set square", words):
            self.level_in_face(named)

    def level_in_face(self, named: Named) -> None:
        """A level line of the face through an upright element: in the plan parallel to the base, as high as where it
        meets an edge."""
        d, g, one = self.d, self.g, named.meets
        front, _, w = self.element_lines(one)
        face = self.face_of(one)
        corner = max((face, (face + 1) % len(g.feet)), key=lambda k: abs(float(g.feet[k][0])))
        level = d.parallel_to(self.sides[face], self.marks[w])
        on = d.meet(level, self.edges_top[corner])
        high = d.meet(d.upright_from(on, role=Role.PROJECTOR), self.edges[corner])
        self.enter(named.name, d.meet(d.level_from(high), front), self.marks[w])

    def _upright_in_cone(self, named: Named) -> None:
        """The plane through the axis, on edge in the plan, holds a generator; where it runs along the projector, it is
        swung round."""
        d, one = self.d, named.meets
        front, _, w = self.element_lines(one)
        mark = self.marks[w]
        words = f"{named.name}: the generator over its place, from O in the plan, meets its line in the elevation."
        with d.as_one("Straightedge", words):
            if float(length(one.at[:2])) <= 1e-9 * self.g.main_reach:
                self.enter(named.name, self.apex, mark)
                return
            foot: Array = self._foot(one)
            if abs(float(foot[0])) <= 0.35 * self.g.main_reach:
                self.level_on_cone(named)
                return
            base = d.meet(d.rule(self.o, mark), self.base_circle, near=self.top_at(foot))
            low = d.meet(d.upright_from(base, role=Role.PROJECTOR), self.ground)
            self.enter(named.name, d.meet(d.rule(low, self.apex), front), mark)

    def level_on_cone(self, named: Named) -> None:
        """The level circle through an upright element, swung to the cone's outline."""
        d, one = self.d, named.meets
        front, _, w = self.element_lines(one)
        mark = self.marks[w]
        arc = d.compass(self.o, d.opening(self.o, mark), whole=False)
        beside = d.meet(arc, self.plan_level, where="right")
        high = d.meet(d.upright_from(beside, role=Role.PROJECTOR), self.contour["right"])
        self.enter(named.name, d.meet(d.level_from(high), front), mark)


def set_out(g: SolidsThatMeet, d: Draft, hand: Finder) -> None:
    """Both solids, before their line is found."""
    with d.phase("The main"):
        hand.main()
    with d.phase("The branch"):
        hand.branch()
        if g.main_solid.round and g.main_solid.apex and not g.upright:
            with d.as_one("Set square", "Draw the upright that touches the base at its right."):
                hand.tangent = d.upright_from(d.meet(hand.plan_level, hand.base_circle, where="right"))


def finish(g: SolidsThatMeet, d: Draft, hand: Finder) -> None:
    """What follows on the line: both views lined in, and the patterns."""
    line_in_all(g, d, hand)
    if g.show != "views":
        lay_flat(g, d, hand)


def by_piercing(g: SolidsThatMeet, d: Draft) -> None:
    """Any of the pairs, point by point."""
    hand = Piercing(g, d)
    set_out(g, d, hand)
    hand.find()
    finish(g, d, hand)


ABOUT = "Each line of the one by a plane that holds it and is seen on edge: where it cuts the other, the line pierces."


for _kind in (MeetingPrisms, PrismAndCylinder, PyramidAndPrism, ConeAndCylinder, SphereAndCylinder):
    method(_kind, "piercing-points", about=ABOUT, source=MONGE)(by_piercing)
