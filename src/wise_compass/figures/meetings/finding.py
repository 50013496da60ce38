"""How single points of the line are found: an element of the branch through the main's skin, a generator of the main
through the branch's."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.figures.meetings.hand import Hand
from wise_compass.figures.meetings.pair import Named
from wise_compass.geometry.interpenetration import MeetPoint
from wise_compass.geometry.skins import FlatSkin
from wise_compass.geometry.vectors import Array, direction, length, unit

ASLANT = 0.08
"""The least sine of the angle at which two lines are let cross, where there is another way."""


class Finder(Hand):
    """The points of the line, one by one; each enters both views and space under its name."""

    def enter(self, name: str, front: Spot, top: Spot) -> None:
        """Both views of a point found; what stands over another point is not lettered twice."""
        self._also(f"{name}.front", front)
        self._also(f"{name}.top", top)
        self.name_point(name, front, top)

    def _also(self, key: str, spot: Spot) -> None:
        letter, _, view = key.partition(".")
        lettered = self._is_told(letter) and self._lettered(letter, view)
        self.d.also(key, spot, "found" if lettered else "plain")

    def _is_told(self, name: str) -> bool:
        """Whether a point's letter is drawn: of every edge, of every half of a round solid's divisions."""
        g, one = self.g, self.g.named[name]
        number, count = (one.element, g.counted) if one.element is not None else (one.generator, g.feet)
        if number is None:
            return False
        smooth = g.branch_corners is None if one.element is not None else g.main_solid.round
        return not smooth or number % max(len(count) // 2, 1) == 0

    def _lettered(self, name: str, view: str) -> bool:
        """Whether no point told before stands at the same place of the view."""
        frame = self.views.front if view == "front" else self.views.top
        here = frame.at(self.g.named[name].at)
        for other in self.d.solid:
            if other in self.g.named and float(length(frame.at(self.g.named[other].at) - here)) < 1e-6:
                return False
        return True

    def is_key(self, named: Named) -> bool:
        """Whether a point tells the course of the line: an end of it, a place where it turns from seen to hidden or has
        a corner, its highest or its lowest."""
        g, one = self.g, named.meets
        if named.name in g.extreme_names or g.touches(one):
            return True
        if g.branch_corners is None and one.foot is None:
            quarter = abs((one.w + 45.0) % 90.0 - 45.0) < 1e-6
            return quarter or (g.main_solid.round and abs(float(one.at[1])) < 1e-6 * g.main_reach)
        return one.foot is None or not g.main_solid.round or one.element is not None

    # elements of the branch

    def element_lines(self, one: MeetPoint) -> tuple[LineMark, LineMark | None, float]:
        """The element of a point in both views (none in the plan of an upright branch), and its place."""
        w = self.place_key(one.w)
        return self.front[w], self.top.get(w), w

    def face_of(self, one: MeetPoint) -> int:
        """The side of a flat-sided main that a point lies on, the one through which its element comes out."""
        skin = self.g.main_solid.skin
        assert isinstance(skin, FlatSkin)
        return int(skin.faces(one.at, self.g.outward(one.side)))

    def up_from_plan(self, named: Named) -> None:
        """On an upright main: where the element meets the main's outline in the plan, carried up to the elevation."""
        d, one = self.d, named.meets
        front, top, _ = self.element_lines(one)
        assert top is not None
        if self.g.main_solid.corners is None:
            on = self.line_and_circle(top, self.base_circle, self.top_at(one.at), self.g.touches(one))
        else:
            on = d.meet(top, self.sides[self.face_of(one)])
        self.enter(named.name, d.meet(d.upright_from(on, role=Role.PROJECTOR), front), on)

    def line_and_circle(self, line: LineMark, circle: ArcMark, near: Array, touching: bool) -> Spot:
        """A crossing, or where they only touch the foot of the square line from the centre."""
        if touching:
            return self.d.meet(line, self.d.square_to(line, self.o))
        return self.d.meet(line, circle, near=near)

    def by_generator_of(self, named: Named, base: Spot) -> None:
        """On a pointed main: the generator through a place of the base (its elevation) and the apex meets the element.

        Where both run too nearly one way in the elevation, they are crossed in the plan first.
        """
        d, one = self.d, named.meets
        front, top, _ = self.element_lines(one)
        foot = self._foot(one)
        way = unit(np.array([-foot[0], self.g.tall]))
        along = direction(self.g.rises)
        if top is None or abs(float(way[0] * along[1] - way[1] * along[0])) > ASLANT:
            at = d.meet(d.rule(base, self.apex), front)
            self._drop(named, at, top)
            return
        up = d.upright_from(base, role=Role.PROJECTOR)
        level = self.views.top.at(foot)
        across = d.lay_off(up, d.meet(up, self.plan_level), float(level[1] - self.o.here[1]), "", kind="plain")
        on = d.meet(d.rule(self.o, across), top)
        self.enter(named.name, d.meet(d.upright_from(on, role=Role.PROJECTOR), front), on)

    def _foot(self, one: MeetPoint) -> Array:
        """The foot of the main's generator through a point."""
        share = 1.0 - float(one.at[2]) / self.g.tall
        return np.array([*(one.at[:2] / share), 0.0]) if abs(share) > 1e-12 else np.zeros(3)

    def _drop(self, named: Named, front: Spot, top: LineMark | None) -> None:
        d = self.d
        if top is None:
            self.enter(named.name, front, self.marks[self.place_key(named.meets.w)])
            return
        self.enter(named.name, front, d.meet(d.upright_from(front, role=Role.PROJECTOR), top))

    # generators of the main

    def foot_spot(self, one: MeetPoint) -> tuple[Spot, LineMark]:
        """The foot of an upright main's generator in the plan, and its line in the elevation."""
        assert one.foot is not None
        d, g = self.d, self.g
        if g.main_solid.corners is not None:
            k = int(np.argmin(length(g.feet - one.foot)))
            return self.corners_top[k], self.uprights[k]
        near = self.top_at(one.foot)
        way = near - self.o.here
        turn = float(np.rad2deg(np.arctan2(way[1], way[0])))
        ray = d.ray(self.o, turn, length=g.main_reach, instrument="Protractor")
        spot = d.meet(ray, self.base_circle, near=near)
        return spot, d.upright_from(spot, role=Role.PROJECTOR)

    def through_branch(self, named: Named) -> None:
        """On an upright main: the plane along the branch through a generator, seen on edge, crosses the section; the
        element there meets the generator."""
        d, one = self.d, named.meets
        foot, line = self.foot_spot(one)
        deep = float(one.at[1] - self.g.on_axis[1])
        taken = d.opening_along(self.plan_end, foot, level=False)
        mark = d.lay_off(self.axis, self.section_centre, taken, "", kind="plain", way=-1.0)
        plane = d.square_to(self.axis, mark)
        near = self.flat_place(self.g.branch.flat(one.at))
        on = self._on_section(plane, near, one, abs(abs(deep) - self.g.section_reach) <= 1e-7)
        at = d.meet(self.carried(on), line)
        self.enter(named.name, at, foot)

    def _on_section(self, plane: LineMark, near: Array, one: MeetPoint, touching: bool) -> Spot:
        """Where a plane seen on edge crosses the section's rim."""
        d, branch = self.d, self.g.branch
        if branch.corners is None:
            return d.meet(plane, self.axis) if touching else d.meet(plane, self.section_circle, near=near)
        w = one.w % branch.period
        j = int(np.floor(w + 1e-9)) % len(branch.corners)
        side = self.section_sides[j]
        if (
            abs(
                float(
                    side.u[..., 0].ravel()[0] * plane.u[..., 1].ravel()[0]
                    - side.u[..., 1].ravel()[0] * plane.u[..., 0].ravel()[0]
                )
            )
            < 1e-6
        ):
            return self.marks[float(j)]
        return d.meet(plane, side)

    def edge_through_branch(self, named: Named) -> None:
        """On a pyramid: an edge seen along the branch crosses the section; the element there meets the edge."""
        d, g, one = self.d, self.g, named.meets
        assert one.foot is not None
        k = int(np.argmin(length(g.feet - one.foot)))
        near = self.flat_place(g.branch.flat(one.at))
        seen = self.edges_top[k] if g.upright else d.rule(self.apex_image, self.corner_image(k))
        on = self._on_section(seen, near, one, False)
        foot = one.foot
        way, along = unit(np.array([-foot[0], g.tall])), direction(g.rises)
        if abs(float(way[0] * along[1] - way[1] * along[0])) > ASLANT:
            at = d.meet(self.carried(on), self.edges[k])
            self.enter(named.name, at, self._seen_top(at, on, k))
            return
        self._swung(named, on, k)

    def _seen_top(self, front: Spot, on: Spot, k: int) -> Spot:
        """An edge's point in the plan: its own place where the branch is upright, else dropped, or swung where the edge
        runs along the projector."""
        d, g = self.d, self.g
        if g.upright:
            return on
        if abs(float(g.feet[k][0])) > ASLANT * g.main_reach:
            return d.meet(d.upright_from(front, role=Role.PROJECTOR), self.edges_top[k])
        other = int(np.argmax(np.abs(g.feet[:, 0])))
        beside = d.meet(d.level_from(front), self.edges[other])
        at = d.meet(d.upright_from(beside, role=Role.PROJECTOR), self.edges_top[other])
        return self._round_to(at, k)

    def _round_to(self, at: Spot, k: int) -> Spot:
        """A place of one edge's plan swung about O to another's: at one height all are as far from the axis."""
        d = self.d
        arc = d.compass(self.o, d.opening(self.o, at), whole=False)
        return d.meet(arc, self.edges_top[k], near=self.corners_top[k])

    def _swung(self, named: Named, on: Spot, k: int) -> None:
        """An edge that runs along the projector, or along the branch: its point is swung to another edge and back."""
        d, g = self.d, self.g
        other = int(np.argmax(np.abs(g.feet[:, 0])))
        if g.upright:
            arc = d.compass(self.o, d.opening(self.o, on), whole=False)
            beside = d.meet(arc, self.edges_top[other], near=self.corners_top[other])
            high = d.meet(d.upright_from(beside, role=Role.PROJECTOR), self.edges[other])
            self.enter(named.name, d.meet(d.level_from(high), self.edges[k]), on)
            return
        # the depth of the crossing, from the view along the branch, tells its place in the plan
        foot = d.meet(d.parallel_to(self.axis, on), self.centre_line)
        taken = d.opening(foot, on)
        deep = float(named.meets.at[1] - g.on_axis[1])
        mark = d.lay_off(self.at_end, self.plan_end, taken, "", kind="plain", way=-1.0 if deep > 0 else 1.0)
        top = d.meet(d.level_from(mark), self.edges_top[k])
        self.enter(named.name, d.meet(d.upright_from(top, role=Role.PROJECTOR), self.edges[k]), top)

    # the main in the view along the branch

    def along_view(self) -> None:
        """Apex and base of a pointed main as they are seen along a branch that slants; drawn once."""
        if hasattr(self, "apex_image"):
            return
        d = self.d
        with d.as_one("Set square", "Carry the apex into the view along the branch, its depth from the plan: V′."):
            self.apex_image = self.image(self.apex, d.spots["O.top"])
        self._corner_images: dict[int, Spot] = {}

    def corner_image(self, k: int) -> Spot:
        """A corner of the base in that view."""
        k %= len(self.corners_top)
        if k not in self._corner_images:
            self._corner_images[k] = self.image(self.corners_front[k], self.corners_top[k])
        return self._corner_images[k]

    def extremes(self) -> None:
        """H and U, on points that are found already."""
        d, g = self.d, self.g
        numbered = [name for name, one in g.named.items() if one.element is not None and name in d.solid]
        left_out = d.choice(
            "extremes-left-out",
            right=False,
            slip=True,
            when=any(map(self._between, g.extreme_names)),
            says="The line is run through the numbered points alone; its highest and lowest points are left out.",
        )
        with d.as_one("Pencil", "Letter the highest point of the line H and the lowest U."):
            for letter, name in zip("HU", g.extreme_names):
                if left_out and numbered:
                    pick = max if letter == "H" else min
                    name = pick(numbered, key=lambda key: float(g.named[key].at[2]))
                for view in ("front", "top"):
                    d.also(f"{letter}.{view}", d.spots[f"{name}.{view}"], "plain" if view == "top" else "found")
                d.in_space(letter, d.solid[name])
        self.left_out = set(filter(self._between, g.extreme_names)) if left_out else set()

    def _between(self, name: str) -> bool:
        """Whether an extreme is on none of the numbered lines."""
        one = self.g.named[name]
        return one.element is None and one.generator is None
