"""How a hand casts a shadow: rays at 45° through both views, ground or wall, whichever they meet first."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found
from wise_compass.figures.roofs.shadow_cover import Cover
from wise_compass.figures.roofs.shadow_views import NEAR, InTwoViews
from wise_compass.figures.roofs.shadows import CastShadow
from wise_compass.geometry.outlines import Arc, Side
from wise_compass.geometry.vectors import Array, angle_of, direction, point, polar


class Caster(InTwoViews):
    """A shadow on the way: what is found of it."""

    plan_cover: Cover
    front_cover: Cover

    def __init__(self, g: CastShadow, d: Draft) -> None:
        super().__init__(g, d)
        self.cast: dict[str, Spot] = {}
        self.beyond: dict[str, Spot] = {}
        """Shadows as the ground would have them behind the wall."""

    def draw(self) -> None:
        self.solid()
        self._slips()
        self._rays()
        self._bends()
        self._line_in()

    # rays

    def _slips(self) -> None:
        g, d = self.g, self.d
        self.after = d.choice(
            "wall-after-ground",
            right=False,
            slip=True,
            when=any(at[1] < 0 for at in g.marked.values()),
            says="Where the wall comes first the ray is followed on to the ground behind it.",
        )
        self.from_foot = d.choice(
            "ray-from-the-foot",
            right=False,
            slip=True,
            when=g.pointed,
            says="The ray of the axis’ top is drawn from its foot in the front view.",
        )
        self.as_circle = d.choice(
            "circle-for-ellipse",
            right=False,
            slip=True,
            when=g.kind == "sphere",
            says="The ball’s shadow is drawn as a circle as wide as itself.",
        )

    def _ray(self, name: str, front: Spot, top: Spot, place: Array, says: str) -> None:
        """The shadow of one place, and where its ray would meet the ground behind the wall."""
        d = self.d
        ground = point(place[0] + place[2], place[1] - place[2])
        with d.as_one("Set square", says, Setting(45.0, "°")):
            if place[2] < NEAR:
                self.cast[name] = self.beyond[name] = d.also(name, top)
                return
            down, back = d.ray(front, -45.0), d.ray(top, 45.0)
            self.beyond[name] = far = d.meet(
                d.upright_from(d.meet(down, self.ground), role=Role.PROJECTOR), back, name if ground[1] >= 0 else ""
            )
            self.cast[name] = far
            if ground[1] < 0:
                if self.after:
                    self.cast[name] = d.also(name, far)
                    return
                self.cast[name] = d.meet(d.upright_from(d.meet(back, self.wall), role=Role.PROJECTOR), down, name)

    def _rays(self) -> None:
        g, d = self.g, self.d
        with d.phase("The rays"):
            front = d.spots["C.front"] if self.from_foot else self.high
            says = "Through the axis’ top draw rays at 45° in both views: its shadow S0."
            if g.kind == "sphere":
                says = "Through C draw rays at 45° in both views: its shadow S0."
            self._ray("S0", front, self.centre, g.top, says)
            if g.flat_sided:
                for k, name in enumerate(g.casting, 1):
                    ends = d.spots[f"{name}.front"], d.spots[f"{name}.top"]
                    if name == "V":
                        with d.as_one("Pencil", f"S0 is the shadow of the apex: S{k}."):
                            self.cast[f"S{k}"] = d.also(f"S{k}", self.cast["S0"])
                            self.beyond[f"S{k}"] = self.beyond["S0"]
                        continue
                    self._ray(
                        f"S{k}", ends[0], ends[1], g.corners[name], f"Rays through {name} meet in its shadow S{k}."
                    )
            elif g.kind == "sphere":
                self._ball()
            else:
                self._circles()

    def _ball(self) -> None:
        """The ellipse on the ground by its axes and two circles, and its rays followed back to the wall."""
        g, d = self.g, self.d
        middle = self.beyond["S0"]
        long = g.reach * (1.0 if self.as_circle else float(np.sqrt(3.0)))
        with d.phase("The ellipse"):
            axis = d.ray(
                middle,
                45.0,
                "Through the centre’s shadow on the ground draw the long axis as the light runs.",
                Role.CENTRE,
            )
            axis.extent(-long, long)
            square = d.square_to(axis, middle, "Square to it the short one.", Role.CENTRE).extent(-g.reach, g.reach)
            inner = d.compass(middle, g.reach, "Draw a circle as wide as the ball: the short axis.")
            outer = d.compass(
                middle, long, "And one √3 times as wide: the long axis.", why="the light falls at 35.26° to the ground"
            )
            side = g.outline[0]
            assert isinstance(side, Arc)
            for k, name in enumerate(g.marked):
                turn = side.first + (side.last - side.first) * k / len(g.marked)
                self._of_ball(name, turn, (middle, axis, square), (inner, outer))

    def _of_ball(
        self, name: str, turn: float, axes: tuple[Spot, LineMark, LineMark], circles: tuple[ArcMark, ArcMark]
    ) -> None:
        d = self.d
        middle, axis, square = axes
        inner, outer = circles
        # on the sheet the ground is turned over: the light runs to the right and up there, and what is anticlockwise on
        # the ground is clockwise
        way = 45.0 - turn
        ground = self.g.marked[name]
        with d.as_one("Set square", f"The ellipse’s place {name[1:]} by both circles."):
            ray = d.ray(middle, way, instrument="Protractor")
            far = d.meet(ray, outer, near=middle.here + 1e3 * direction(way))
            near = d.meet(ray, inner, near=middle.here + 1e3 * direction(way))
            across, ahead = d.parallel_to(square, far), d.parallel_to(axis, near)
            level = min(abs(np.sin(np.deg2rad(turn))), abs(np.cos(np.deg2rad(turn)))) < NEAR
            key = name if ground[1] >= 0 else ""
            if level:
                upright = abs(np.cos(np.deg2rad(turn))) < NEAR
                at = d.also(key, near if upright else far) if key else (near if upright else far)
            else:
                at = d.meet(across, ahead, key)
            self.beyond[name] = self.cast[name] = at
            if ground[1] < 0:
                self._to_wall(name, at)

    def _to_wall(self, name: str, at: Spot) -> None:
        """A shadow behind the wall brought back along its ray."""
        d = self.d
        if self.after:
            self.cast[name] = d.also(name, at)
            return
        back = d.ray(at, 225.0)
        foot = d.meet(back, self.wall)
        low = d.meet(d.upright_from(at, role=Role.PROJECTOR), self.ground)
        rise = d.ray(low, 135.0)
        self.cast[name] = d.meet(d.upright_from(foot, role=Role.PROJECTOR), rise, name)

    def _circles(self) -> None:
        """Rays of a circle's ends on the outline, and of its places whose shadows fall on the wall."""
        g = self.g
        names = iter(g.marked)
        for side in g.outline:
            count = max(int(round((side.last - side.first) / 15.0)), 2) if isinstance(side, Arc) else 1
            own = [next(names) for _ in range(count)]
            if not isinstance(side, Arc):
                self._end(own[0], side.start)
                continue
            upper = not g.pointed and bool(abs(side.middle[1] - (g.top[1] - g.top[2])) < NEAR)
            height = float(g.top[2] if upper else g.middle[2])
            for k, name in enumerate(own):
                if k == 0 or g.marked[name][1] < 0:
                    turn = float(side.turn(np.array(k / count)))
                    self._of_circle(name, turn, height, upper)

    def _of_circle(self, name: str, turn: float, height: float, upper: bool) -> None:
        g, d = self.g, self.d
        with d.as_one("Set square", f"A place of the circle in both views, for {name}."):
            sheet = -turn  # the plan is turned over against the ground
            top = d.meet(
                d.ray(self.centre, sheet, instrument="Protractor"),
                self.circle,
                near=self.centre.here + g.reach * direction(sheet),
            )
            start = self.high if upper else d.spots["C.front"]
            front = d.meet(d.upright_from(top, role=Role.PROJECTOR), d.level_from(start))
        place = np.array([*(g.middle[:2] + g.reach * direction(turn)), height])
        self._ray(name, front, top, place, f"Its rays meet in {name}.")

    def _end(self, name: str, ground: Array) -> None:
        """The start of a straight side: the end of an arc, or the apex's shadow."""
        g, d = self.g, self.d
        apex = point(g.top[0] + g.top[2], g.top[1] - g.top[2])
        if g.pointed and float(np.abs(ground - apex).max()) < 1e-9 * (1 + g.height):
            with d.as_one("Pencil", f"S0 is the shadow of the apex: {name}."):
                self.cast[name], self.beyond[name] = d.also(name, self.cast["S0"]), self.beyond["S0"]
            return
        low = point(g.middle[0] + g.middle[2], g.middle[1] - g.middle[2])
        upper = not g.pointed and abs(float(np.hypot(*(ground - low))) - g.reach) > 1e-9 * g.reach
        middle = apex if upper else low
        turn = float(np.degrees(np.arctan2(ground[1] - middle[1], ground[0] - middle[0])))
        self._of_circle(name, turn, float(g.top[2] if upper else g.middle[2]), upper)

    # where it bends

    def _starts(self) -> list[str]:
        """The name of the first place of every side."""
        found, number = [], 1
        for side in self.g.outline:
            found.append(f"S{number}")
            number += max(int(round((side.last - side.first) / 15.0)), 2) if isinstance(side, Arc) else 1
        return found

    def _bends(self) -> None:
        g, d = self.g, self.d
        self.bent: list[tuple[int, float, Spot, Spot]] = []
        if not g.bends or self.after:
            return
        starts = self._starts()
        with d.phase("Where it bends"):
            for number, (k, share, at) in enumerate(g.bends, 1):
                side = g.outline[k]
                with d.as_one("Straightedge", f"At the foot of the wall the shadow bends: K{number}."):
                    low = self._bend(k, side, at, starts, f"K{number}")
                    up = d.meet(d.upright_from(low, role=Role.PROJECTOR), self.ground)
                self.bent.append((k, share, low, up))

    def _bend(self, k: int, side: Side, at: Array, starts: list[str], name: str) -> Spot:
        g, d = self.g, self.d
        place = self.centre.here + point(float(at[0]), g.front - float(at[1]))
        if not isinstance(side, Arc):
            ends = [self.beyond[starts[k]], self.beyond[starts[(k + 1) % len(starts)]]]
            return d.meet(d.rule(ends[0], ends[1]), self.wall, name)
        if g.kind == "sphere":
            foot = d.meet(self.axis, self.wall)
            return d.lay_off(self.wall, foot, float(at[0]), name)
        upper = not g.pointed and bool(abs(side.middle[1] - (g.top[1] - g.top[2])) < NEAR)
        return d.meet(self.wall, self._shadow_circle(upper), name, near=place)

    def _shadow_circle(self, upper: bool) -> ArcMark:
        d = self.d
        return d.compass(self._shadow_centre(upper), self.g.reach, whole=False)

    def _shadow_centre(self, upper: bool) -> Spot:
        """Where the middle of the upper or the lower circle has its shadow on the ground, though behind the wall."""
        g, d = self.g, self.d
        if upper:
            return self.beyond["S0"]
        if g.middle[2] < NEAR:
            return self.centre
        if "M" not in self.beyond:
            down, back = d.ray(d.spots["C.front"], -45.0), d.ray(self.centre, 45.0)
            self.beyond["M"] = d.meet(d.upright_from(d.meet(down, self.ground), role=Role.PROJECTOR), back)
        return self.beyond["M"]

    # line in

    def _stretches(self) -> Iterator[tuple[int, Side, float, float, Spot, Spot, bool]]:
        """What of the outline lies between corners and bends: side, shares, ends, and whether on the wall."""
        starts = self._starts()
        g = self.g
        for k, side in enumerate(g.outline):
            ends = self.cast[starts[k]], self.cast[starts[(k + 1) % len(starts)]]
            cuts = sorted((share, low, up) for j, share, low, up in self.bent if j == k) if not self.after else []
            marks: list[tuple[float, Spot, Spot]] = [(0.0, ends[0], ends[0]), *cuts, (1.0, ends[1], ends[1])]
            for (a, low_a, up_a), (b, low_b, up_b) in zip(marks, marks[1:]):
                wall = float(side.at(np.array((a + b) / 2))[1]) < 0 and not self.after
                yield k, side, a, b, (up_a if wall else low_a), (up_b if wall else low_b), wall

    def _line_in(self) -> None:
        g, d = self.g, self.d
        with d.phase("Line in"):
            with d.as_one("Straightedge", "Line in the solid."):
                self.solid_in()
            places = {name: spot.here for name, spot in d.spots.items() if name.startswith("C.")}
            self.plan_cover, self.front_cover = (Cover(ring) for ring in g.covers(Found(places, "")))
            says = "Line in the shadow on the ground and on the wall, dashed where the solid hides it."
            with d.as_one("Curve" if not g.flat_sided else "Straightedge", says):
                for k, side, a, b, start, end, wall in self._stretches():
                    if not self._own(k, side):
                        self._stretch(k, side, (a, b), (start, end), wall)

    def _own(self, k: int, side: Side) -> bool:
        """Whether a side of the outline is the plan of the solid itself."""
        g = self.g
        if g.middle[2] > NEAR or g.kind == "sphere":
            return False
        if g.flat_sided:
            names = g.casting[k], g.casting[(k + 1) % len(g.casting)]
            if any(name[0] != "B" for name in names):
                return False
            gap = abs(int(names[0][1:]) - int(names[1][1:]))
            return gap in (1, g.sides - 1)
        return isinstance(side, Arc) and bool(abs(side.middle[1] - (g.middle[1] - g.middle[2])) < NEAR)

    def _stretch(self, k: int, side: Side, shares: tuple[float, float], ends: tuple[Spot, Spot], wall: bool) -> None:
        """A stretch of the outline, a hidden line where the solid stands before it."""
        g = self.g
        start, end = ends
        cover = self.front_cover if wall else self.plan_cover
        if not isinstance(side, Arc):
            if float(np.abs(start.here - end.here).max()) > NEAR:
                self._joined([start, end], cover, smooth=False)
            return
        if g.kind != "sphere" and not wall and not self.after:
            upper = not g.pointed and bool(abs(side.middle[1] - (g.top[1] - g.top[2])) < NEAR)
            self._arc(self._shadow_centre(upper), start, end, cover)
            return
        first = int(self._starts()[k][1:])
        count = max(int(round((side.last - side.first) / 15.0)), 2)
        inner = [
            self.cast[f"S{first + j}"]
            for j in range(count)
            if shares[0] + 1e-9 < j / count < shares[1] - 1e-9 and f"S{first + j}" in self.cast
        ]
        self._joined([start, *inner] if start is end else [start, *inner, end], cover, closed=start is end)

    def _joined(self, spots: list[Spot], cover: Cover, closed: bool = False, smooth: bool = True) -> None:
        d = self.d
        row = d.row(spots, closed, smooth)
        parts = cover.stretches(row.places, 0.0, row.last)
        if len(parts) == 1 and not parts[0].hidden:
            d.curve(spots, closed=closed) if smooth else d.line_in(spots)
            return
        for part in parts:
            d.piece(row, part.first, part.last, Role.HIDDEN if part.hidden else Role.OUTLINE)

    def _arc(self, centre: Spot, start: Spot, end: Spot, cover: Cover) -> None:
        g, d = self.g, self.d
        begin, sweep = 0.0, 360.0
        if start is not end:
            begin = float(angle_of(end.here - centre.here))
            sweep = (float(angle_of(start.here - centre.here)) - begin) % 360.0
        for part in cover.stretches(lambda t: polar(centre.here, g.reach, begin + t), 0.0, sweep):
            arc = d.compass(centre, g.reach, role=Role.HIDDEN if part.hidden else Role.OUTLINE)
            if part.last - part.first < 360.0:
                arc.swing(begin + part.first, part.last - part.first)


@method(
    CastShadow,
    "rays",
    about=(
        "A ray through every corner in both views ends where it meets ground or wall first; circles by their centres."
    ),
    source="Conventional light at 45° in both views (descriptive geometry)",
)
def by_rays(g: CastShadow, d: Draft) -> None:
    Caster(g, d).draw()
