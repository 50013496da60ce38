"""A regular lamina resting on an edge, leaning to the horizontal plane, its edge turned to the vertical plane."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.dimensions import Angular, Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, bare_area, mm, trim
from wise_compass.geometry import polygons
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, distance, point3, sind

GAP = 16.0
"""mm between the stages."""
FLAT = 1e-9


def letters(sides: int) -> list[str]:
    """A and B at the resting edge, the other corners after B; X is another point."""
    return list("ABCDEFGHIJKLMNOPQRSTUVWYZ"[:sides])


class Lamina(InViews, Figure, id="lamina", family="space", title="Lamina resting on an edge"):
    keys = (
        "A",
        "A*.front",
        "A.front",
        "A.top",
        "B",
        "B.front",
        "B.top",
        "C",
        "C.front",
        "C.top",
        "D",
        "D.front",
        "D.top",
        "E",
        "E.front",
        "E.top",
    )
    brief = (
        "A lamina of {sides} equal sides of {side}, resting on one of them, leaning {angle_h} to the horizontal plane, "
        "that edge at {edge_angle_v} to the vertical plane, found with {method}."
    )
    summary = "A tilted plate, leaf or vane: its views once it leans and is turned."
    value_names = ("rise", "top_area", "front_area", "front_width")

    sides = Count(5, "the number of sides", least=3, most=24)
    side = Length(33.5, "the side")
    angle_h = Angle(41, "the lean of its surface to the horizontal plane", least=0, most=90)
    edge_angle_v = Angle(28, "the angle of the resting edge to the vertical plane", least=0, most=90)

    @property
    def flat(self) -> Array:
        """The corners on the sheet before it leans, (n, 2): away from the edge, and along it from A to B."""
        corners = polygons.regular_corners(self.sides, self.side)
        return np.stack([corners[:, 1], corners[:, 0]], axis=-1)

    @property
    def corners(self) -> Array:
        """The corners in space, (n, 3), from A at the origin: the edge runs along and backward, the lamina rises beyond
        it."""
        off, along = self.flat[:, 0] * float(cosd(self.angle_h)), self.flat[:, 1]
        c, s = float(cosd(self.edge_angle_v)), float(sind(self.edge_angle_v))
        return point3(along * c + off * s, -along * s + off * c, self.flat[:, 0] * float(sind(self.angle_h)))

    def values(self, method: str) -> Iterable[Value]:
        n, h, v = self.sides, trim(self.angle_h), trim(self.edge_angle_v)
        high = float(self.flat[:, 0].max())
        area = float(polygons.area(n, self.side))
        solid = self.corners
        fronts = tuple(f"{letter}.front" for letter in letters(n))
        tops = tuple(f"{letter}.top" for letter in letters(n))
        yield Value(
            "rise",
            float(solid[:, 2].max()),
            "mm",
            f"{bare(high)} sin {h}°, {bare(high)} its width beyond the edge",
            fronts,
        )
        yield Value("top_area", area * float(cosd(self.angle_h)), "mm²", f"{bare_area(area)} cos {h}°", tops)
        front = area * float(sind(self.angle_h)) * float(cosd(self.edge_angle_v))
        yield Value("front_area", front, "mm²", f"{bare_area(area)} sin {h}° cos {v}°", fronts)
        yield Value(
            "front_width",
            float(np.ptp(solid[:, 0])),
            "mm",
            "from the leftmost to the rightmost corner of the front view",
            fronts,
        )

    def measure(self, found: Found) -> dict[str, Number]:
        front, top = (
            found.together([f"{letter}.{view}" for letter in letters(self.sides)]) for view in ("front", "top")
        )
        return {
            "rise": np.ptp(front[..., 1], axis=-1),
            "top_area": np.abs(polygons.shoelace(top - top[..., :1, :])),
            "front_area": np.abs(polygons.shoelace(front - front[..., :1, :])),
            "front_width": np.ptp(front[..., 0], axis=-1),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        solid = found.together(letters(self.sides))
        yield Truth(
            f"Every side measures {mm(self.side)} in space", distance(solid, np.roll(solid, -1, axis=-2)) - self.side
        )
        yield Truth("It rests on the edge AB", solid[..., :2, 2])
        u, w = solid[..., 1, :] - solid[..., 0, :], solid[..., 2, :] - solid[..., 1, :]
        normal = cross3(u, w) / self.side**2 / float(sind(360.0 / self.sides))
        yield Truth(
            f"Its surface leans {trim(self.angle_h)}°", self.side * (np.abs(normal[..., 2]) - cosd(self.angle_h))
        )
        yield Truth(
            f"Its edge stands at {trim(self.edge_angle_v)}° to the vertical plane",
            np.abs(u[..., 1]) - self.side * sind(self.edge_angle_v),
        )
        yield Truth("All corners lie in one plane", ((solid - solid[..., :1, :]) * normal[..., None, :]).sum(axis=-1))

    def body(self, names: Sequence[str]) -> Sequence[Sequence[str]]:
        return [[*names, names[0]]]

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        if self.angle_h > FLAT:
            yield Angular(found["A2.front"], 0.0, self.angle_h, "angle_h", self.angle_h)
        one, other = found["A1.top"], found["B1.top"]
        yield Linear(one, other, "side", self.side, 1)
        if self.edge_angle_v:
            start, end = sorted((found["A.top"], found["B.top"]), key=lambda p: (float(p[1]), float(p[0])))
            way = float(angle_of(end - start)) % 360.0
            begin = 0.0 if abs(way - self.edge_angle_v) < 1e-6 else way
            yield Angular(start, begin, self.edge_angle_v, "edge_angle_v", self.edge_angle_v)


def _true_shape(g: Lamina, d: Draft, start: Spot, wall_y: float) -> list[Spot]:
    """Stage one in the top view: the lamina flat, its edge square to the reference line."""
    radius = g.side / (2 * float(sind(180.0 / g.sides)))
    names = [f"{letter}1.top" for letter in letters(g.sides)]
    edge = d.upright_from(start, "Draw the line of the resting edge upright through X, square to the reference line.")
    clear = wall_y - (float(g.flat[:, 1].max()) + 8.0)
    a = d.lay_off(edge, start, clear, names[0], "Clear of the reference line mark A on it.", "any handy distance")
    b = d.lay_off(edge, a, g.side, names[1], f"Lay off the side, {mm(g.side)}: B.")
    with d.as_one(
        "Compass", "About both ends swing the radius of the circle through the corners: they cross at its centre."
    ):
        arcs = [d.compass(end, radius, whole=False) for end in (a, b)]
        centre = d.meet(arcs[0], arcs[1], where="right")
    circle = d.compass(centre, radius, "Draw that circle.", "side / (2 sin(180° / sides))")
    says = "Step the side round it from B: the other corners."
    return [a, b, *d.step_round(circle, b, g.side, names[2:], clockwise=True, says=says)]


def _onto(d: Draft, spots: Sequence[Spot], line: LineMark, key: str, says: str) -> list[Spot]:
    """Each spot carried upright onto a line."""
    with d.as_one("Set square", says):
        return [
            d.meet(d.upright_from(spot, role=Role.PROJECTOR), line, key.format(name))
            for name, spot in zip(letters(len(spots)), spots)
        ]


@method(
    Lamina,
    "three-stages",
    about="Flat and true in the top view, then leaned in the front view, then turned in the top view.",
    source="Change of position in three stages (Monge): each stage keeps one view's shape and moves it",
)
def lamina_by_stages(g: Lamina, d: Draft) -> None:
    names, flat = letters(g.sides), g.flat
    wide, deep = float(flat[:, 0].max()), float(np.ptp(flat[:, 1]))
    lean = wide * float(cosd(g.angle_h))
    views = Views.about_line(d, wide * float(sind(g.angle_h)), max(deep, float(np.ptp(g.corners[:, 1]))) + 24.0, 12.0)
    with d.phase("Flat"):
        start = d.start_at("X", says="Mark X on the reference line, under the resting edge.", kind="plain")
        along = g.corners[:, 0]
        place = 4 * GAP + wide + lean - float(along.min())
        line = views.reference_line(start, -GAP, place + float(along.max()) + 10.0)
        ground = views.top.datum or line
        first_top = _true_shape(g, d, start, float(views.top.origin[1]))
        d.line_in(first_top, closed=True, role=Role.CONSTRUCTION, says="Join them: the lamina, flat and true.")
        first_front = _onto(
            d, first_top, ground, "{}1.front", "Carry the corners onto the ground: seen from the front it is a line."
        )
    with d.phase("Leaned"):
        foot = d.on(ground, GAP + wide + GAP, "A2.front", kind="found")
        lean = d.choice(
            "lean-from-the-upright",
            right=g.angle_h,
            slip=90.0 - g.angle_h,
            says="The lean set off from the upright, and not from the ground.",
            when=FLAT < g.angle_h < 90.0 - FLAT and abs(g.angle_h - 45.0) > FLAT,
        )
        ray = d.ray(foot, lean, "From a place clear of it draw the lean.", why="the surface seen on edge")
        second_front = [foot]
        with d.as_one(
            "Dividers", "Step the distances of the corners from the edge along it: the leaning lamina on edge."
        ):
            for name, spot in list(zip(names, first_front))[1:]:
                away = float(distance(first_front[0].here, spot.here))
                if away <= FLAT * g.side:
                    second_front.append(d.also(f"{name}2.front", foot))
                else:
                    second_front.append(d.lay_off(ray, foot, d.opening(first_front[0], spot), f"{name}2.front"))
        with d.as_one(
            "Set square",
            "Carry each corner down from there and across from the flat shape: the leaning lamina from above.",
        ):
            second_top = [
                d.meet(
                    d.upright_from(front, role=Role.PROJECTOR), d.level_from(top, role=Role.PROJECTOR), f"{name}2.top"
                )
                for name, front, top in zip(names, second_front, first_top)
            ]
        d.line_in(second_top, closed=True, role=Role.CONSTRUCTION, says="Join them: the leaning lamina from above.")
        edge = d.rule(second_top[0], second_top[1], "Draw the resting edge there.")
        with d.as_one("Set square", "Square the corners across onto it."):
            feet = [d.meet(d.level_from(top, role=Role.PROJECTOR), edge) for top in second_top]
    with d.phase("Turned"):
        across = d.on(line, place, kind="plain")
        down = d.upright_from(across, "Clear of both draw a projector for A.", role=Role.PROJECTOR)
        level = d.level_from(second_top[0], "Carry A across to it.")
        a = d.meet(down, level, "A.top")
        turned = d.ray(
            a,
            g.edge_angle_v,
            "From it draw the resting edge at its angle.",
            why="a level line is seen truly from above",
        )
        third_top = [a]
        with d.as_one("Dividers", "Along it and square to it lay off what the leaning lamina's top view measures."):
            for name, base, top in list(zip(names, feet, second_top))[1:]:
                run_along, off = float(distance(feet[0].here, base.here)), float(distance(base.here, top.here))
                way = 1.0 if float(base.here[1] - feet[0].here[1]) >= 0 else -1.0
                at = (
                    a
                    if run_along <= FLAT * g.side
                    else d.lay_off(turned, a, d.opening(feet[0], base), "", kind="plain", way=way)
                )
                if off <= FLAT * g.side:
                    third_top.append(d.also(f"{name}.top", at))
                else:
                    square = d.square_to(turned, at)
                    third_top.append(d.lay_off(square, at, d.opening(base, top), f"{name}.top", way=-1.0))
        with d.as_one(
            "Set square", "Carry each corner up from there and across from the leaning front view: the front view."
        ):
            third_front = [
                d.meet(
                    d.upright_from(top, role=Role.PROJECTOR), d.level_from(front, role=Role.PROJECTOR), f"{name}.front"
                )
                for name, top, front in zip(names, third_top, second_front)
            ]
    with d.phase("Line in"):
        d.line_in(third_top, closed=True, says="Line in the top view.")
        d.line_in(third_front, closed=True, says="Line in the front view.")
    for name, front, top in zip(names, third_front, third_top):
        d.in_space(name, views.solid(front.at, top.at))
