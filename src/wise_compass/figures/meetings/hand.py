"""Both solids set out in plan and elevation, the branch's section turned into the paper, and its elements in both
views."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import trim
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.geometry.vectors import Array, direction, multiples, point

GAP, BEYOND = 22.0, 6.0
"""What is left between views, and how far centre lines run beyond what they are the middle of."""
FLAT = 1e-9


class Hand:
    """A run on the way: the views, the main's lines and the branch's."""

    ground: LineMark
    axis: LineMark
    centre_line: LineMark
    plan_axis: LineMark
    at_end: LineMark
    section_centre: Spot
    section_circle: ArcMark
    base_circle: ArcMark
    plan_end: Spot
    tangent: LineMark
    outlines: dict[str, Spot]

    def __init__(self, g: SolidsThatMeet, d: Draft) -> None:
        self.g, self.d = g, d
        self.marks: dict[float, Spot] = {}
        """Where elements stand on the section, by their places round it."""
        self.front: dict[float, LineMark] = {}
        self.top: dict[float, LineMark] = {}
        self.ends: dict[float, Spot] = {}
        self.section_sides: dict[int, LineMark] = {}
        self.sides: dict[int, LineMark] = {}
        self.corners_top: list[Spot] = []
        self.corners_front: list[Spot] = []
        self.uprights: dict[int, LineMark] = {}
        self.views = self._views()

    def _views(self) -> Views:
        g = self.g
        far = [-g.reach, g.reach] if not g.right_only else [g.reach]
        ends = np.array([g.branch.element(w) + x * g.branch.axis for w in g.branch_places for x in far])
        base = g.main_solid.feet if g.main_solid.corners is not None else g.main_solid.base(multiples(15.0, 24))
        low = -g.main_solid.radius if g.main_solid.ball else 0.0
        high = g.main_solid.radius if g.main_solid.ball else g.tall
        low, high = min(low, float(ends[:, 2].min())), max(high, float(ends[:, 2].max()))
        deep = max(float(np.abs(np.concatenate([base[:, 1], ends[:, 1]])).max()), 1.0)
        return Views.stacked(self.d, low, high, deep, GAP)

    # the main

    def main(self) -> None:
        """The main in plan and elevation."""
        g, d, top = self.g, self.d, self.views.top
        reach = self.g.main_reach
        self.o = d.start_at(
            "O.top", float(top.origin[0]), float(top.origin[1]), "Mark O, the main’s axis, in the plan."
        )
        with d.as_one("Set square", "Draw its centre lines level and upright."):
            self.plan_level = d.level_from(self.o, role=Role.CENTRE).extent(-reach - BEYOND, reach + BEYOND)
            self.axis_upright = d.upright_from(self.o, role=Role.CENTRE)
        lift = float(self.views.front.origin[1] - top.origin[1])
        foot = d.lay_off(
            self.axis_upright,
            self.o,
            lift,
            "O.front",
            "Up it mark O on the level of the elevation’s foot.",
            kind="found",
        )
        self.foot = foot
        self.ground = d.level_from(foot, "Draw that level.").extent(-reach - BEYOND, reach + BEYOND)
        if g.main_solid.ball:
            self._ball()
        elif g.main_solid.corners is None:
            self._round_main()
        else:
            self._flat_main(len(g.main_solid.corners))

    def _ball(self) -> None:
        d, r = self.d, self.g.main_solid.radius
        self.axis_upright.extent(-r - BEYOND, float(self.foot.here[1] - self.o.here[1]) + r + BEYOND)
        self.base_circle = d.compass(self.o, r, "Centre O, draw the sphere’s outline in the plan.", "half the diameter")
        self.outline = d.compass(self.foot, r, "And in the elevation.", "the same opening")

    def _apex(self) -> None:
        g, d = self.g, self.d
        words = "Lay off the height up the axis: V, the apex."
        self.apex = d.lay_off(self.axis_upright, self.foot, g.tall, "V.front", words)
        d.also("V.top", self.o, "plain")

    def _round_main(self) -> None:
        g, d, r = self.g, self.d, self.g.main_solid.radius
        self.base_circle = d.compass(self.o, r, "Centre O, draw the main’s circle.", "half the diameter")
        self.outlines = {}
        with d.as_one("Set square", "Carry its left and right up to the ground line."):
            for name, where in (("right", "right"), ("left", "left")):
                rim = d.meet(self.plan_level, self.base_circle, where=where)
                up = d.upright_from(rim, role=Role.PROJECTOR)
                self.outlines[name] = d.meet(up, self.ground)
        if g.main_solid.apex:
            self._apex()
            with d.as_one("Straightedge", "Join them to V."):
                self.contour = {name: d.rule(at, self.apex) for name, at in self.outlines.items()}
        else:
            self._tops([self.outlines[name] for name in ("right", "left")])

    def _flat_main(self, n: int) -> None:
        g, d = self.g, self.d
        corners = g.main_solid.feet
        first = float(np.rad2deg(np.arctan2(-corners[0, 1], corners[0, 0])))
        circle = d.compass(
            self.o, g.main_reach, "Centre O, draw the circle of its corners.", "side / 2 / sin(180° / sides)"
        )
        with d.as_one(
            "Protractor", f"Set off corner 1 and the others, {trim(360.0 / n)}° apart.", Setting(360.0 / n, "°")
        ):
            for k in range(n):
                turn = first + 360.0 * k / n
                ray = d.ray(self.o, turn, length=g.main_reach, instrument="Protractor")
                near = self.o.here + g.main_reach * direction(turn)
                self.corners_top.append(d.meet(ray, circle, f"B{k + 1}.top", near=near))
        with d.as_one("Straightedge", "Join them: the base."):
            for k in range(n):
                self.sides[k] = d.rule(self.corners_top[k], self.corners_top[(k + 1) % n])
        with d.as_one("Set square", "Carry the corners up to the ground line."):
            for k, spot in enumerate(self.corners_top):
                up = d.upright_from(spot, role=Role.PROJECTOR)
                self.uprights[k] = up
                self.corners_front.append(d.meet(up, self.ground, f"B{k + 1}.front", kind="plain"))
        if g.main_solid.apex:
            self._apex()
            with d.as_one("Straightedge", "Join every corner to V in both views."):
                self.edges = [d.rule(spot, self.apex) for spot in self.corners_front]
                self.edges_top = [d.rule(spot, self.o) for spot in self.corners_top]
        else:
            self._tops(self.corners_front)

    def _tops(self, feet: list[Spot]) -> None:
        """The upper ends of the main's edges or outlines."""
        g, d = self.g, self.d
        mark = d.lay_off(self.axis_upright, self.foot, g.tall, "", "Lay off the height up the axis.", kind="plain")
        self.upper = d.level_from(mark, "Draw the top level.").extent(-g.main_reach, g.main_reach)
        with d.as_one("Set square", "Draw its edges up to the top."):
            self.tops = [d.meet(d.upright_from(spot), self.upper) for spot in feet]

    # the branch

    def branch(self) -> None:
        """Its axis in both views, its ends, its section and its elements."""
        g, d = self.g, self.d
        aside, offset, level = (float(x) for x in g.on_axis)
        wrong = d.choice(
            "offset-on-the-wrong-side",
            right=1.0,
            slip=-1.0,
            when=abs(offset) > FLAT,
            says="The offset is laid off on the wrong side of the main’s axis.",
        )
        start = self.o
        if aside:
            start = d.lay_off(
                self.plan_level, self.o, aside, "", "In the plan lay off how far aside it passes.", kind="plain"
            )
        across = d.upright_from(start, "Through that draw upright.") if aside else self.axis_upright
        a_top = start
        if offset:
            words = f"Lay off the offset, {'to the front' if offset > 0 else 'to the back'}: A."
            a_top = d.lay_off(across, start, -offset * wrong, "A.top", words)
        else:
            d.also("A.top", start)
        if g.upright:
            self._upright_branch(a_top, across)
            return
        self.plan_axis = d.level_from(a_top, "Through A draw the branch’s axis level.", role=Role.CENTRE)
        low = d.meet(across, self.ground)
        a = low
        if abs(level) > FLAT:
            a = d.lay_off(across, low, level, "A.front", "In the elevation lay off the level of A.")
        else:
            d.also("A.front", low)
        self.axis = d.ray(a, g.rises, "Draw the branch’s axis.", role=Role.CENTRE, length=g.reach + BEYOND)
        self.a_front = a
        end = d.lay_off(self.axis, a, g.reach, "E.front", "Lay off the reach to its end.")
        other = None
        if not g.right_only:
            other = d.lay_off(self.axis, a, -g.reach, "F.front", "And as far to the left.")
        with d.as_one("Set square", "Through the ends draw square to the axis."):
            self.end_line = d.square_to(self.axis, end)
            self.other_line = None if other is None else d.square_to(self.axis, other)
        self._turned_section(end)
        self._elements(end)

    def _turned_section(self, end: Spot) -> None:
        """The section as it is seen along the axis, turned into the paper; clear of the elevation where the main is
        pointed, so that the main shows in it."""
        g, d = self.g, self.d
        self.section_centre, self.centre_line = end, self.end_line
        if g.main_solid.apex:
            deep = g.main_reach + abs(g.offset) + GAP
            words = "Further along the axis mark C, and square to it the centre line of the view along the branch."
            with d.as_one("Set square", words):
                self.section_centre = d.on(self.axis, g.reach + deep, "C", "found")
                self.centre_line = d.square_to(self.axis, self.section_centre, role=Role.CENTRE)
        self._mark_section(g.rises - 90.0, 1.0)

    def _upright_branch(self, a_top: Spot, across: LineMark) -> None:
        """An upright one: its plan is its section."""
        g, d = self.g, self.d
        self.section_centre = a_top
        self._mark_section(0.0, -1.0)
        self.axis = d.upright_from(a_top, "Carry its axis up into the elevation.", role=Role.CENTRE)
        low = d.meet(self.axis, self.ground)
        self.a_front = low
        level = float(g.on_axis[2])
        if abs(level) > FLAT:
            self.a_front = d.lay_off(self.axis, low, level, "A.front", "Lay off the level that its reach is told from.")
        else:
            d.also("A.front", low, "plain")
        end = d.lay_off(self.axis, self.a_front, g.reach, "E.front", "Lay off the reach to its end.")
        with d.as_one("Set square", "Draw its end level."):
            self.end_line = d.level_from(end)
            self.other_line = None
            if not g.right_only:
                other = d.lay_off(self.axis, self.a_front, -g.reach, "F.front", kind="found")
                self.other_line = d.level_from(other)
        with d.as_one("Set square", f"Carry its {self.lines_called} up."):
            for w, mark in self.marks.items():
                line = d.upright_from(mark)
                self.front[w] = line
                self.ends[w] = d.meet(line, self.end_line)

    @property
    def lines_called(self) -> str:
        return "divisions" if self.g.branch_corners is None else "edges"

    def _mark_section(self, first: float, way: float) -> None:
        """The marks of all elements on the section: its places go from ``first`` degrees of the sheet, ``way`` ±1."""
        g, d, centre = self.g, self.d, self.section_centre
        circle_radius = g.section_reach
        words = "draw the branch’s section" if g.branch_corners is None else "draw the circle of the section’s corners"
        circle = d.compass(
            centre,
            circle_radius,
            f"About {'A' if g.upright else centre.name.partition('.')[0]} {words}.",
            "half its diameter" if g.branch_corners is None else "side / 2 / sin(180° / sides)",
        )
        self.section_circle = circle
        unturned = d.choice(
            "section-unturned",
            right=0.0,
            slip=g.unturned,
            says="The branch’s section is left as it lies, not turned to its first edge.",
        )
        own = [w for w in self.places if self._counted(w)]
        more = [w for w in self.places if not self._counted(w)]
        called = "divisions" if g.branch_corners is None else "edges"
        for places, says in (
            (own, f"Set off the {called} on it."),
            (more, "Add those of the line’s extremes and of the outlines, as worked."),
        ):
            if not places:
                continue
            with d.as_one(
                "Protractor", says, why="" if places is own else "tangent planes there are level, or seen on edge"
            ):
                for w in places:
                    turn = first + way * (g.turn_of(w) + unturned)
                    ray = d.ray(centre, turn, length=circle_radius, instrument="Protractor")
                    near = centre.here + circle_radius * direction(turn)
                    self.marks[w] = d.meet(ray, circle, near=near)
        if g.branch_corners is not None:
            m = len(g.branch_corners)
            with d.as_one("Straightedge", "Join them: the section’s sides."):
                for j in range(m):
                    self.section_sides[j] = d.rule(self.marks[float(j)], self.marks[float((j + 1) % m)])

    @property
    def places(self) -> list[float]:
        """The places round the branch whose elements are drawn."""
        return self.g.branch_places

    def _counted(self, w: float) -> bool:
        return bool(np.abs(self.g.counted - w).min() < 1e-9)

    def _elements(self, end: Spot) -> None:
        """Every element in both views: parallel to the axis; its depth taken from the section."""
        g, d = self.g, self.d
        with d.as_one("Set square", f"From the section draw its {self.lines_called} parallel to the axis."):
            feet = {}
            for w, mark in self.marks.items():
                line = d.parallel_to(self.axis, mark)
                self.front[w] = line
                feet[w] = d.meet(line, self.centre_line)
                self.ends[w] = feet[w] if self.section_centre is end else d.meet(line, self.end_line)
        with d.as_one("Set square", "Drop the branch’s end to the plan of its axis."):
            drop = d.upright_from(end, role=Role.PROJECTOR)
            self.plan_end = d.meet(drop, self.plan_axis, "E.top", kind="plain")
            self.at_end = drop
        with d.as_one(
            "Dividers",
            "In the plan lay off before and behind the axis how far each stands "
            "out in the section, and draw them level.",
            why="what is seen along the axis is as deep as in the plan",
        ):
            for w, mark in self.marks.items():
                deep = float(g.branch.section(w)[1])
                if abs(deep) <= FLAT * g.section_reach:
                    self.top[w] = self.plan_axis
                    continue
                taken = d.opening(feet[w], mark)
                on = d.lay_off(drop, self.plan_end, taken, "", kind="plain", way=-1.0 if deep > 0 else 1.0)
                self.top[w] = d.level_from(on)

    # places on the paper

    def flat_place(self, flat: Array) -> Array:
        """Where a place of the view along the branch, by u and v, lies on the sheet."""
        g = self.g
        if g.upright:
            return np.asarray(self.section_centre.here + point(float(flat[0]), -float(flat[1])))
        u, v = direction(g.rises - 90.0), direction(g.rises)
        return np.asarray(self.section_centre.here + float(flat[0]) * u + float(flat[1]) * v)

    def front_at(self, at: Array) -> Array:
        return self.views.front.at(at)

    def top_at(self, at: Array) -> Array:
        return self.views.top.at(at)

    def place_key(self, w: float) -> float:
        """The place of an element that is drawn, as its lines are kept."""
        period = self.g.branch.period
        return min(self.places, key=lambda one: abs((one - w + period / 2) % period - period / 2))

    def image(self, front: Spot, top: Spot) -> Spot:
        """A place of the main in the view along the branch: its projector, and its depth from the plan."""
        d = self.d
        projector = d.parallel_to(self.axis, front, role=Role.PROJECTOR)
        foot = d.meet(projector, self.centre_line)
        deep = d.opening_along(self.plan_end, top, level=False)
        return d.lay_off(projector, foot, deep, "", kind="plain", way=-1.0)

    def carried(self, mark: Spot) -> LineMark:
        """A place of the view along the branch brought back to the elevation."""
        return (
            self.d.upright_from(mark, role=Role.PROJECTOR)
            if self.g.upright
            else self.d.parallel_to(self.axis, mark, role=Role.PROJECTOR)
        )

    def name_point(self, name: str, front: Spot, top: Spot) -> None:
        """Record what both views fix."""
        self.d.in_space(name, self.views.solid(front.at, top.at))
