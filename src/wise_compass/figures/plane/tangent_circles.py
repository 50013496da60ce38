"""Circles through points and along lines, and the circles that touch three others."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Radial, corner_dimensions
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import LONGEST_LENGTH, Length
from wise_compass.drafting.marks import ArcMark, Role, Spot, nominal
from wise_compass.drafting.places import Circle, Point, Segment
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm
from wise_compass.figures.plane.tangency import TOUCHING, touching_root
from wise_compass.geometry.apollonius import tangent_circles
from wise_compass.geometry.meets import distance_to_line, meet_lines
from wise_compass.geometry.vectors import Array, Number, cross, distance, left_of, length, mean, unit


def listed(p: Array) -> list[float]:
    return [float(x) for x in p]


def plot_all(d: Draft, places: dict[str, tuple[float, ...]]) -> dict[str, Spot]:
    """Plot points by their coordinates; the first of them is where the work starts."""
    spots: dict[str, Spot] = {}
    for name, (x, y) in places.items():
        spots[name] = d.plot(name, x, y) if spots else d.start_at(name, x, y)
    return spots


class CircleThreePoints(Figure, id="circle-three-points", family="tangency", title="Circle through three points"):
    keys = ("A", "B", "C", "K")
    brief = "The circle through A at {A}, B at {B} and C at {C}, found with {method}."
    summary = "The one circle through three points: a broken wheel, an arch measured on site."
    value_names = ("radius", "centre")

    A = Point((0, 0), "the point A")
    B = Point((82, 14), "the point B")
    C = Point((38, 66), "the point C")

    @property
    def places(self) -> dict[str, tuple[float, ...]]:
        return {"A": self.A, "B": self.B, "C": self.C}

    @cached_property
    def centre(self) -> Array:
        a, b, c = (np.array(p) for p in self.places.values())
        return meet_lines(mean(a, b), left_of(b - a), mean(b, c), left_of(c - b))

    def refuse(self) -> None:
        a, b, c = (np.array(p) for p in self.places.values())
        sides = {"A": float(distance(b, c)), "B": float(distance(c, a)), "C": float(distance(a, b))}
        if min(sides.values()) < 0.1:
            name = min("BC", key=lambda one: min(sides[o] for o in "ABC" if o != one))
            raise Refused(
                name, f"Two of the points lie {mm(min(sides.values()))} apart; they need {mm(0.1)}. Move {name}."
            )
        height = abs(float(cross(b - a, c - a))) / max(sides.values())
        if height < 1e-4 * max(sides.values()):
            raise Refused(
                "C", f"The three points lie in one line to within {mm(height)}; no circle passes them. Move C."
            )

    def values(self, method: str) -> Iterable[Value]:
        radius = float(distance(self.centre, np.array(self.A)))
        x, y = listed(self.centre)
        words = f"√(({bare(x)} − {bare(self.A[0])})² + ({bare(y)} − {bare(self.A[1])})²)"
        yield Value("radius", radius, "mm", words, ("K", "A"))
        yield Value("centre", [x, y], "mm", "where the bisectors of AB and BC meet", ("K",))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"radius": distance(found["K"], found["A"]), "centre": found["K"]}

    def truths(self, found: Found) -> Iterator[Truth]:
        radii = [distance(found["K"], np.array(place)) for place in self.places.values()]
        yield Truth("All three points lie equally far from K", np.stack(radii, axis=-1) - radii[0])
        yield Truth(
            "A, B and C stand where they are given",
            np.stack([distance(found[name], np.array(place)) for name, place in self.places.items()], axis=-1),
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        radius = float(distance(found["K"], found["A"]))
        yield Radial(found["K"], radius, "radius", radius, -60.0, derived=True)
        yield from corner_dimensions([found[name] for name in "ABC"], list("ABC"))


@method(CircleThreePoints, "bisectors", source="Euclid, Elements IV.5")
def three_points_bisectors(g: CircleThreePoints, d: Draft) -> None:
    with d.phase("The points"):
        spots = plot_all(d, g.places)
    with d.phase("The centre"):
        lines = [moves.perpendicular_bisector(d, spots[p], spots[q], role=Role.LOCUS) for p, q in ("AB", "BC")]
        centre = d.meet(lines[0], lines[1], "K")
    with d.phase("Line in"):
        d.circle_in(centre, d.opening(centre, spots["A"]), "Centre K, line in the circle through A, B and C.")


class CirclePointLine(
    Figure, id="circle-point-line", family="tangency", title="Circle through a point, touching a line"
):
    keys = ("K*", "T*")
    brief = (
        "The circles of radius {radius} through a point at {point} that touch the line through {line}, with {method}."
    )
    summary = "Circles of a given radius through a point and along a line."
    value_names = ("centre", "tangent_point")

    radius = Length(32, "the radius")
    point = Point((40, 38), "the point")
    line = Segment((0, 0, 110, 0), "two points of the line, x1, y1, x2, y2")

    @property
    def ends(self) -> tuple[Array, Array]:
        return np.array(self.line[:2]), np.array(self.line[2:])

    @property
    def height(self) -> float:
        """Signed distance of the point from the line."""
        a, b = self.ends
        return float(distance_to_line(np.array(self.point), a, b - a))

    @property
    def side(self) -> int:
        return 1 if self.height >= 0 else -1

    @cached_property
    def centres(self) -> list[Array]:
        """Both centres, the one further along the line first."""
        a, b = self.ends
        u = unit(b - a)
        rise = self.radius - abs(self.height)
        half = touching_root(self.radius, rise)
        base = np.array(self.point) + self.side * rise * left_of(u)
        return [base + half * u] if half == 0 else [base + half * u, base - half * u]

    def refuse(self) -> None:
        a, b = self.ends
        if float(distance(a, b)) < 0.1:
            raise Refused(
                "line", "The two points of the line lie together; line needs 0.1 mm between them. Move one of them."
            )
        if abs(self.height) > 2 * self.radius * (1 + TOUCHING):
            raise Refused(
                "radius",
                f"The point lies {mm(abs(self.height))} off the line; radius must be at least half of that, "
                f"{least_mm(abs(self.height) / 2)}. Raise radius or move point.",
            )

    def values(self, method: str) -> Iterable[Value]:
        a, b = self.ends
        u = unit(b - a)
        for k, centre in enumerate(self.centres, 1):
            tail = "" if k == 1 else "_2"
            words = f"{bare(self.radius)} from the point and from the line"
            yield Value(f"centre{tail}", listed(centre), "mm", words, (f"K{k}",))
            foot = centre - self.side * self.radius * left_of(u)
            yield Value(f"tangent_point{tail}", listed(foot), "mm", "the foot of the centre on the line", (f"T{k}",))

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {}
        for k in range(1, len(self.centres) + 1):
            tail = "" if k == 1 else "_2"
            out[f"centre{tail}"], out[f"tangent_point{tail}"] = found[f"K{k}"], found[f"T{k}"]
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        a, b = self.ends
        for k in range(1, len(self.centres) + 1):
            centre, touch = found[f"K{k}"], found[f"T{k}"]
            yield Truth(f"Circle {k} passes the point", distance(centre, np.array(self.point)) - self.radius)
            yield Truth(
                f"Circle {k} stands its radius off the line", np.abs(distance_to_line(centre, a, b - a)) - self.radius
            )
            yield Truth(f"T{k} lies on the line", distance_to_line(touch, a, b - a))
            yield Truth(f"T{k} lies on circle {k}", distance(touch, centre) - self.radius)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["K1"], self.radius, "radius", self.radius, 60.0)
        yield from corner_dimensions([found[name] for name in "ABP"], ["line", "line", "point"])


@method(CirclePointLine, "offset-and-arc", source="The centre is a radius away from the point and from the line")
def point_line_offset(g: CirclePointLine, d: Draft) -> None:
    with d.phase("Point and line"):
        a, b = g.ends
        spots = plot_all(d, {"A": tuple(a), "B": tuple(b), "P": g.point})
        line = d.rule(spots["A"], spots["B"], "Draw the line AB.")
    with d.phase("Loci of the centre"):
        offset = moves.parallel_at(d, line, spots["A"], g.side * g.radius)
        arc = d.compass(spots["P"], g.radius, "Centre P, the radius: cut the parallel.", whole=False)
        span = float(distance(a, b))
        centres = [d.meet(offset, arc, f"K{k}", near=there) for k, there in enumerate(g.centres, 1)]
    with d.phase("Tangent points"):
        touches = [moves.touch_foot(d, centre, line, f"T{k}") for k, centre in enumerate(centres, 1)]
    with d.phase("Line in"):
        for centre, touch in zip(centres, touches):
            d.circle_in(centre, g.radius, f"Centre {centre.name}, line in the circle: it touches at {touch.name}.")
        ends = [d.on(line, t) for t in (min(line.lo, 0.0), max(line.hi, span))]
        d.line_in(ends, says="Line in the line.")


class ThreeCircleTangents(
    Figure, id="three-circle-tangents", family="tangency", title="Circles touching three circles"
):
    keys = ("K*", "T*a", "T*b", "T*c")
    brief = (
        "All circles that touch the circles {circle_1}, {circle_2} and {circle_3} (x, y, radius), found with {method}."
    )
    summary = "Up to eight circles that touch three given ones: a cusped window, a rose, a gear train."
    ways = ("offsets", "coordinates")
    value_names = ("solutions",)

    circle_1 = Circle((0, 0, 18), "the first circle: x, y, radius")
    circle_2 = Circle((74, 6, 13), "the second circle: x, y, radius")
    circle_3 = Circle((30, 62, 10), "the third circle: x, y, radius")

    @property
    def circles(self) -> tuple[Array, Array]:
        rows = np.array([self.circle_1, self.circle_2, self.circle_3])
        return rows[:, :2], rows[:, 2]

    @cached_property
    def answers(self) -> tuple[Array, Array, Array]:
        return tangent_circles(*self.circles, largest=LONGEST_LENGTH)

    def refuse(self) -> None:
        centres, radii = self.circles
        for k, r in enumerate(radii, 1):
            if r < 0 or 0 < r < 0.1:
                raise Refused(
                    f"circle_{k}",
                    f"The radius of circle_{k} is {mm(float(r))}; it must be 0 (a point) or at least {mm(0.1)}. "
                    "Change its third number.",
                )
        for i, j in ((0, 1), (0, 2), (1, 2)):
            if float(distance(centres[i], centres[j])) < 1e-6 and abs(radii[i] - radii[j]) < 1e-6:
                raise Refused(
                    f"circle_{j + 1}",
                    f"circle_{j + 1} is the same as circle_{i + 1}; a whole family of circles touches both. "
                    f"Move circle_{j + 1} or change its radius.",
                )
        if not len(self.answers[1]):
            raise Refused(
                "circle_3",
                "No circle touches all three: one lies within another and parts it from the third. Move circle_3.",
            )

    def values(self, method: str) -> Iterable[Value]:
        centres, radii, contacts = self.answers
        yield Value(
            "solutions", float(len(radii)), "", "of the eight ways to touch, those that exist for these circles"
        )
        for k, (centre, radius, contact) in enumerate(zip(centres, radii, contacts), 1):
            signs = ", ".join(
                f"√((x − {bare(c[0])})² + (y − {bare(c[1])})²) = |r {'+' if s > 0 else '−'} {bare(q)}|"
                for c, q, s in zip(*self.circles, contact)
            )
            yield Value(f"radius_{k}", float(radius), "mm", signs, (f"K{k}",))
            yield Value(f"centre_{k}", listed(centre), "mm", "from the same three equations", (f"K{k}",))

    def measure(self, found: Found) -> dict[str, Number]:
        count = len(self.answers[1])
        out: dict[str, Number] = {"solutions": found["K1"][..., 0] * 0 + count}
        for k in range(1, count + 1):
            out[f"radius_{k}"], out[f"centre_{k}"] = distance(found[f"K{k}"], found[f"T{k}a"]), found[f"K{k}"]
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        for k in range(1, len(self.answers[1]) + 1):
            centre = found[f"K{k}"]
            radius = distance(centre, found[f"T{k}a"])
            for letter, c, r in zip("abc", *self.circles):
                touch = found[f"T{k}{letter}"]
                yield Truth(f"T{k}{letter} lies on its circle", distance(touch, c) - r)
                yield Truth(f"T{k}{letter} lies on circle {k}", distance(touch, centre) - radius)
                yield Truth(f"At T{k}{letter} both have one tangent", _off_centres(touch, c, centre))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        for k, (c, r) in enumerate(zip(*self.circles), 1):
            if r > 0:
                yield Radial(c, float(r), f"circle_{k}", float(r), 200.0)
        yield from corner_dimensions(list(self.circles[0]), [f"circle_{k}" for k in (1, 2, 3)])


def _off_centres(touch: Array, one: Array, two: Array) -> Array:
    """How far a point lies off the line of two centres; 0 where the centres fall together."""
    apart = np.asarray(distance(one, two))
    return np.where(apart < 1e-9, 0.0, cross(two - one, touch - one) / np.where(apart < 1e-9, 1.0, apart))


class _Given(NamedTuple):
    """The given circles as drawn: their centres, and the circles (none about a point)."""

    centres: list[Spot]
    circles: list[ArcMark | None]


def _given_circles(g: ThreeCircleTangents, d: Draft) -> _Given:
    with d.phase("The given circles"):
        centres = plot_all(d, {f"C{k}": tuple(map(float, c)) for k, c in enumerate(g.circles[0], 1)})
        circles = [
            d.circle_in(spot, float(r), f"Centre {spot.name}, line in the circle.") if r > 0 else None
            for spot, r in zip(centres.values(), g.circles[1])
        ]
    return _Given(list(centres.values()), circles)


def _finish_circle(g: ThreeCircleTangents, d: Draft, k: int, centre: Spot, given: _Given) -> None:
    """The three tangent points of one solution, then the circle through them."""
    _, radii, contacts = g.answers
    touches = []
    says = f"Join {centre.name} to the three centres, and on where it must: they cut the circles at the tangent points."
    with d.as_one("Straightedge", says):
        for letter, spot, circle, r, s in zip("abc", given.centres, given.circles, g.circles[1], contacts[k - 1]):
            name = f"T{k}{letter}"
            if circle is None:
                touches.append(d.also(name, spot, "tangent"))
                continue
            # away from the other centre only where the found circle is the larger one and holds the given one
            away = s < 0 and float(radii[k - 1]) >= float(r)
            joined = d.rule(centre, spot)
            aim = spot.here + (1.0 if away else -1.0) * float(r) * nominal(joined.u, 1)
            touches.append(d.meet(joined, circle, name, near=aim, kind="tangent"))
    d.circle_in(
        centre,
        float(radii[k - 1]),
        f"Centre {centre.name}, line in the circle: it touches at {', '.join(t.name for t in touches)}.",
    )


@method(
    ThreeCircleTangents,
    "offsets",
    about="Arcs of the sums or differences about two of the centres cross at each centre sought.",
    source="The problem of Apollonius by loci: sums and differences of the radii",
)
def three_offsets(g: ThreeCircleTangents, d: Draft) -> None:
    drawn = _given_circles(g, d)
    centres = drawn.centres
    found, radii, contacts = g.answers
    places, given = g.circles
    for k, (there, radius, contact) in enumerate(zip(found, radii, contacts), 1):
        with d.phase(f"Circle {k}"):
            i, j = _best_pair(there, places)
            arcs = []
            for m in (i, j):
                word = "sum" if contact[m] > 0 else "difference"
                reach = abs(float(radius) + float(contact[m] * given[m]))
                arcs.append(
                    d.compass(centres[m], reach, f"Centre {centres[m].name}, the {word} of the radii.", whole=False)
                )
            centre = d.meet(arcs[0], arcs[1], f"K{k}", near=there)
            _finish_circle(g, d, k, centre, drawn)


def _best_pair(there: Array, places: Array) -> tuple[int, int]:
    """The two given centres whose arcs cross most squarely at a place."""
    pairs = ((0, 1), (0, 2), (1, 2))

    def squareness(pair: tuple[int, int]) -> tuple[float, float]:
        """How squarely they cross; of those that only touch, the centres furthest apart serve best."""
        u, w = places[pair[0]] - there, places[pair[1]] - there
        product = float(length(u) * length(w))
        square = abs(float(cross(u, w))) / product if product > 1e-12 else -1.0
        return round(square, 9), float(distance(u, w))

    return max(pairs, key=squareness)


@method(
    ThreeCircleTangents,
    "coordinates",
    "their coordinates",
    about="Each centre plotted from its worked coordinates.",
    source="The problem of Apollonius by its equations: differences linear in the centre and the radius",
)
def three_coordinates(g: ThreeCircleTangents, d: Draft) -> None:
    drawn = _given_circles(g, d)
    for k, there in enumerate(g.answers[0], 1):
        with d.phase(f"Circle {k}"):
            centre = d.plot(f"K{k}", float(there[0]), float(there[1]), f"Plot K{k} by its coordinates.", kind="found")
            _finish_circle(g, d, k, centre, drawn)
