"""The solid of a cast shadow in both views, as a hand draws it before the rays."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.roofs.shadows import CastShadow
from wise_compass.geometry.vectors import Array, direction

LEFT, RIGHT, ROOM = 14.0, 10.0, 12.0
NEAR = 1e-9


class InTwoViews:
    """The views of a solid that stands on the ground before a wall, and the lines that rays end on."""

    axis: LineMark
    centre: Spot
    circle: ArcMark
    wall: LineMark
    ground: LineMark
    high: Spot

    def __init__(self, g: CastShadow, d: Draft) -> None:
        self.g, self.d = g, d
        most_y = g.front + g.reach
        self.views = Views.about_line(d, float(g.top[2]) + (g.reach if g.kind == "sphere" else 0.0), most_y, ROOM)

    def solid(self) -> None:
        g, d, views = self.g, self.d, self.views
        right = max(float(at[0]) for at in g.marked.values())
        with d.phase("The solid"):
            start = d.start_at("X", -g.reach, 0.0, "Mark X on the reference line, left of the solid.", "plain")
            line = views.reference_line(start, -LEFT, g.reach + max(right, g.reach) + RIGHT)
            self.wall, self.ground = views.top.datum or line, views.front.datum or line
            if views.front.origin[1]:
                self.ground, self.wall = self.wall, self.ground
            foot = d.lay_off(line, start, g.reach, "", "Measure along it to the axis.", kind="plain")
            self.axis = d.upright_from(foot, "Draw the axis upright.", Role.CENTRE)
            at = views.top.at(g.middle)
            says = f"Lay off how far it stands before the wall: C, {mm(g.front)} in the plan."
            self.centre = d.lay_off(self.axis, foot, float(at[1]), "C.top", says)
            level = float(views.front.at(g.middle)[1])
            if abs(level) > NEAR:
                low = d.lay_off(self.axis, foot, level, "C.front", "And its height in the front view.")
            else:
                with d.as_one("Pencil", "In the front view C stands on the reference line."):
                    low = d.also("C.front", foot)
            why = f"{bare(g.size)} / (2 sin(180° / {g.sides}))" if g.flat_sided else "half the diameter"
            self.circle = d.compass(self.centre, g.reach, "Centre C, draw the circle round the plan.", why)
            if g.kind == "sphere":
                self.high = low
                d.compass(
                    low,
                    d.opening(self.centre, d.meet(self.axis, self.circle, where="above")),
                    "And as large in the front view.",
                )
                return
            self.high = d.lay_off(
                self.axis, low, g.height, "V.front" if g.pointed else "", "Measure its height up the axis."
            )
            if g.pointed:
                d.also("V.top", self.centre, "plain")
            if g.flat_sided:
                self._corners(low)

    def _corners(self, low: Spot) -> None:
        g, d = self.g, self.d
        ray = d.ray(self.centre, g.turn, f"Draw the ray to the first corner, {trim(g.turn)}°.", length=g.reach)
        first = d.meet(ray, self.circle, "B1.top", near=self.centre.here + g.reach * direction(g.turn))
        names = [f"B{k}.top" for k in range(2, g.sides + 1)]
        spots = [first, *d.step_round(self.circle, first, g.size, names, says="Step the side round from there.")]
        base = d.level_from(low, "Draw the level of the base.")
        levels = [("B", base)]
        if not g.pointed:
            levels.append(("T", d.level_from(self.high, "And that of the top.")))
        with d.as_one("Set square", "Carry the corners to the front view."):
            for k, spot in enumerate(spots, 1):
                up = d.upright_from(spot, role=Role.PROJECTOR)
                for letter, line in levels:
                    d.meet(up, line, f"{letter}{k}.front", kind="plain")
                if not g.pointed:
                    d.also(f"T{k}.top", spot, "plain")

    def solid_in(self) -> None:
        g, d = self.g, self.d
        if g.kind == "sphere":
            d.circle_in(self.centre, g.reach)
            d.circle_in(d.spots["C.front"], g.reach)
            return
        if not g.flat_sided:
            self._round_in()
            return
        tops = [d.spots[f"B{k}.top"] for k in range(1, g.sides + 1)]
        d.line_in(tops, closed=True)
        fronts = [d.spots[f"B{k}.front"] for k in range(1, g.sides + 1)]
        highs = [self.high] * g.sides if g.pointed else [d.spots[f"T{k}.front"] for k in range(1, g.sides + 1)]
        if g.pointed:
            for spot in tops:
                d.line_in([spot, self.centre])
        at = np.array([g.corners[f"B{k}"] for k in range(1, g.sides + 1)])
        xs = np.round(at[:, 0], 9)
        west, east = int(np.argmin(xs)), int(np.argmax(xs))
        ring = [fronts[west], fronts[east], highs[east]] + ([] if g.pointed else [highs[west]])
        d.line_in(ring, closed=True)
        seen = [k for k in range(g.sides) if self._faces_front(at, k) and xs[k] not in (xs[west], xs[east])]
        for k in seen:
            d.line_in([fronts[k], highs[k]])
        for k in range(g.sides):
            if k not in seen and xs[k] not in (xs[west], xs[east]) and not any(abs(xs[k] - xs[j]) < 1e-6 for j in seen):
                d.line_in([fronts[k], highs[k]], role=Role.HIDDEN)

    def _faces_front(self, at: Array, k: int) -> bool:
        """Whether a corner's edge is seen from the front: one of the sides beside it faces the eye."""
        n = len(at)
        middles = [(at[k] + at[(k + step) % n]) / 2 for step in (-1, 1)]
        return any(float(middle[1]) - self.g.front > 1e-9 * self.g.reach for middle in middles)

    def _round_in(self) -> None:
        g, d = self.g, self.d
        d.circle_in(self.centre, g.reach)
        level = d.level_from(d.spots["C.front"])
        ends = [d.lay_off(level, d.spots["C.front"], side * g.reach, "", kind="plain") for side in (-1.0, 1.0)]
        if g.pointed:
            d.line_in([*ends, self.high], closed=True)
            return
        upper = d.level_from(self.high)
        tops = [d.lay_off(upper, self.high, side * g.reach, "", kind="plain") for side in (1.0, -1.0)]
        d.line_in([*ends, *tops], closed=True)
