"""Regular polygons in and about circles, and stars."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, nth, trim
from wise_compass.figures.plane.polygons import (
    CORNERS,
    REGULAR_VALUES,
    RegularPolygon,
    circle_about,
    closing_dimension,
    step_and_close,
)
from wise_compass.geometry import polygons as regular
from wise_compass.geometry.meets import meet_line_circle
from wise_compass.geometry.vectors import Array, Number, angle_between, distance, multiples, point, polar


class PolygonInCircle(RegularPolygon, id="polygon-in-circle", family="polygons", title="Polygon in a circle"):
    keys = ("A", "B", "C", "O")
    brief = "A regular polygon of {sides} sides in a circle of {diameter} across, found with {method}."
    summary = "A regular polygon with its corners on a circle; the first corner at the top."
    ways = ("protractor", "compass", "diameter-division")
    value_names = (*REGULAR_VALUES, "drawn_side", "closing_gap")

    diameter = Length(110, "the diameter")

    @property
    def true_side(self) -> float:
        return float(regular.side_in_circle(self.sides, self.diameter / 2))

    @property
    def side_working(self) -> str:
        return f"{bare(self.diameter)} sin {trim(180 / self.sides)}°"

    def true_corners(self) -> Array:
        return polar(point(0.0, 0.0), self.diameter / 2, 90 + multiples(360 / self.sides, self.sides))

    @property
    def division_side(self) -> float:
        """The side that the line from the triangle's apex through the second division cuts off."""
        r = self.diameter / 2
        apex, second = point(r * math.sqrt(3), 0.0), point(0.0, r - 4 * r / self.sides)
        both = meet_line_circle(apex, second - apex, point(0.0, 0.0), r)
        return float(distance(both[1], point(0.0, r)))

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        if method == "diameter-division":
            side, r = self.division_side, self.diameter / 2
            gap = float(regular.closing_gap(self.sides, side, r))
            words = (
                f"from A to where the line through ({bare(r * math.sqrt(3))}, 0) and "
                f"(0, {bare(r - 4 * r / self.sides)}) cuts"
            )
            yield Value("drawn_side", side, "mm", f"{words} the circle of radius {bare(r)}", ("A", "B"), drawn=True)
            turn = f"{self.sides} × arcsin({bare(side)} / {bare(self.diameter)})"
            yield Value("closing_gap", gap, "mm", f"{bare(self.diameter)} × |sin({turn})|", ("A", "End"), drawn=True)

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        if "End" in found:
            out.update(drawn_side=out["side"], closing_gap=distance(found["End"], found["A"]))
        return out

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(point(0.0, 0.0), self.diameter / 2, "diameter", self.diameter, -38.0, diameter=True)
        yield from closing_dimension(found)


def _top(d: Draft, centre: Spot, circle: ArcMark, reach: float) -> tuple[Spot, LineMark]:
    """The upright diameter and the corner at its top."""
    with d.phase("The first corner"):
        axis = d.upright_from(centre, "Draw the upright diameter.", role=Role.CENTRE)
        axis.extent(-reach, reach)
        return d.meet(axis, circle, "A", where="above"), axis


@method(
    PolygonInCircle, "protractor", source="Equal chords stand on equal angles at the centre (Euclid, Elements III.26)"
)
def in_circle_protractor(g: PolygonInCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    part = 360 / g.sides
    corners: list[Spot] = []
    with d.phase("Angles at the centre"):
        says = (
            f"At O set off {g.sides} equal angles from the top, each from the first: {g.sides} rays, {g.sides} corners."
        )
        with d.as_one(
            "Protractor", says, Setting(part, "°"), why="each read from the first, so that misses do not add up"
        ):
            for k, name in enumerate(g.corners):
                ray = d.ray(centre, 90 + k * part, instrument="Protractor")
                corners.append(d.meet(ray, circle, name, near=moves.towards(centre, ray, g.diameter)))
    with d.phase("Line in"):
        d.line_in(corners, closed=True, says=f"Line in the {g.sides} sides.")


COMPASS_SIDES = (3, 4, 5, 6, 8, 10, 12, 15)


def _by_compass(g: PolygonInCircle) -> str | None:
    if g.sides in COMPASS_SIDES:
        return None
    near = [str(n) for n in COMPASS_SIDES if abs(n - g.sides) <= 3]
    return (
        f"The compass alone sets out 3, 4, 5, 6, 8, 10, 12 or 15 sides here; sides is {g.sides}. "
        f"Set sides to {' or '.join(near) or '15'}, or choose protractor."
    )


@method(
    PolygonInCircle,
    "compass",
    fits=_by_compass,
    fits_given="sides",
    about="Exact, with compass and straightedge alone.",
    source="Euclid, Elements IV.6, IV.11, IV.15 and IV.16, their arcs halved (III.30)",
)
def in_circle_compass(g: PolygonInCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    a, axis = _top(d, centre, circle, g.diameter / 2)
    radius = d.opening(centre, a)
    with d.phase("The side"):
        if g.sides in (3, 6, 12, 4, 8):
            b = _from_sixths(g, d, a, circle, radius, centre, axis)
        else:
            b = _from_golden(g, d, a, circle, radius, centre, axis)
    step_and_close(d, circle, a, b, g.corners, closes=True)


def _on_left(g: PolygonInCircle, turn: float) -> Array:
    """Where a point ``turn`` degrees on from the top is about to be found; nothing is drawn."""
    return polar(point(0.0, 0.0), g.diameter / 2, 90.0 + turn)


def _from_sixths(
    g: PolygonInCircle, d: Draft, a: Spot, circle: ArcMark, radius: Opening, centre: Spot, axis: LineMark
) -> Spot:
    if g.sides in (3, 6):
        step = d.compass(a, radius, "Centre A, the radius: cut the circle, a sixth of the turn on.", whole=False)
        sixth = d.meet(circle, step, "B" if g.sides == 6 else "", near=_on_left(g, 60))
        if g.sides == 6:
            return sixth
        step = d.compass(sixth, radius, "From there the radius once more: a third of the turn.", whole=False)
        return d.meet(circle, step, "B", near=_on_left(g, 120))
    level = d.level_from(centre, "Draw the level diameter.", length=-g.diameter / 2)
    quarter = d.meet(level, circle, "B" if g.sides == 4 else "", where="left")
    if g.sides == 4:
        return quarter
    if g.sides == 12:
        step = d.compass(quarter, radius, "From its end the radius back up: a twelfth from A.", whole=False)
        return d.meet(circle, step, "B", near=_on_left(g, 30))
    arcs = [
        d.compass(spot, 0.45 * g.diameter, "Halve the quarter: equal arcs from both its ends.", whole=False)
        for spot in (a, quarter)
    ]
    out = d.meet(arcs[0], arcs[1], far=centre)
    return d.meet(d.rule(centre, out, "Join O to the crossing: an eighth."), circle, "B", near=_on_left(g, 45))


def _from_golden(
    g: PolygonInCircle, d: Draft, a: Spot, circle: ArcMark, radius: Opening, centre: Spot, axis: LineMark
) -> Spot:
    """Sides of five and ten from the golden section of the radius (Ptolemy); fifteen as a sixth less a tenth."""
    level = d.level_from(centre, "Draw the level diameter.")
    east = d.meet(level, circle, where="right")
    with d.as_one("Dividers", "Halve the radius to the right at M."):
        middle = d.midpoint(centre, east, "")
    arc = d.compass(middle, d.opening(middle, a), "Centre M, swing A down on to the level diameter.", whole=False)
    inner = d.meet(level, arc, "N1", where="left")
    if g.sides == 5:
        chord = d.compass(
            a, d.opening(a, inner), "Centre A, the opening AN1: cut the circle, a fifth of the turn on.", whole=False
        )
        return d.meet(circle, chord, "B", near=_on_left(g, 72))
    tenth = d.opening(centre, inner)
    if g.sides == 10:
        chord = d.compass(a, tenth, "Centre A, the opening ON1: cut the circle, a tenth of the turn on.", whole=False)
        return d.meet(circle, chord, "B", near=_on_left(g, 36))
    step = d.compass(a, radius, "Centre A, the radius: a sixth of the turn.", whole=False)
    sixth = d.meet(circle, step, near=_on_left(g, 60))
    back = d.compass(
        sixth,
        tenth,
        "From there back with the opening ON1, the side of ten: a sixth less a tenth is a fifteenth.",
        whole=False,
    )
    return d.meet(circle, back, "B", near=_on_left(g, 24))


@method(
    PolygonInCircle,
    "diameter-division",
    exact=lambda g: g.sides in (3, 4, 6),
    about="The second division of the diameter, seen from the apex. Exact for 3, 4 and 6 sides only.",
    source="Draughtsmen's rule: the second division seen from the apex of the equilateral triangle on the diameter",
)
def diameter_division(g: PolygonInCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    a, axis = _top(d, centre, circle, g.diameter / 2)
    with d.phase("Divide the diameter"):
        foot = d.meet(axis, circle, "Foot", where="below")
        marks = d.divide_by_parallels(a, foot, g.sides, ["", "Two"])
    with d.phase("The apex"):
        whole = d.opening(a, foot)
        arcs = [
            d.compass(spot, whole, f"Centre {spot.name}, the diameter: swing to the right.", whole=False)
            for spot in (a, foot)
        ]
        apex = d.meet(arcs[0], arcs[1], "Apex", where="right")
    with d.phase("The side"):
        second = d.spots.get("Two") or marks[2]
        sight = d.rule(apex, second, "From the apex through division 2 to the far side: that is B.")
        b = d.meet(sight, circle, "B", where="left")
    step_and_close(d, circle, a, b, g.corners, closes=g.sides in (3, 4, 6))


class PolygonAboutCircle(RegularPolygon, id="polygon-about-circle", family="polygons", title="Polygon about a circle"):
    keys = ("A", "B", "C", "O", "T*")
    brief = "A regular polygon of {sides} sides, {across_flats} across the circle in it, found with {method}."
    summary = "A regular polygon whose sides touch a circle: a nut across its flats, a tower about a shaft."
    value_names = REGULAR_VALUES

    across_flats = Length(73, "the diameter of the inscribed circle")

    @property
    def true_side(self) -> float:
        return self.across_flats * math.tan(math.pi / self.sides)

    @property
    def side_working(self) -> str:
        return f"{bare(self.across_flats)} tan {trim(180 / self.sides)}°"

    def true_corners(self) -> Array:
        radius = self.across_flats / 2 / math.cos(math.pi / self.sides)
        return polar(point(0.0, 0.0), radius, -90 - 180 / self.sides + multiples(360 / self.sides, self.sides))

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        touches = found.group("T")
        yield Truth(
            "Every tangent point lies on the circle", distance(touches, point(0.0, 0.0)) - self.across_flats / 2
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(point(0.0, 0.0), self.across_flats / 2, "across_flats", self.across_flats, 61.0, diameter=True)


@method(
    PolygonAboutCircle,
    "tangents",
    about="A tangent square to each radius; corners where neighbours meet.",
    source="Euclid, Elements IV.12",
)
def about_tangents(g: PolygonAboutCircle, d: Draft) -> None:
    centre, circle = circle_about(d, g.across_flats)
    part, reach = 360 / g.sides, g.true_side / 2
    tangents: list[LineMark] = []
    with d.phase("Tangent points"):
        touches = []
        with d.as_one("Protractor", f"At O set off {g.sides} equal angles from straight down.", Setting(part, "°")):
            for k in range(g.sides):
                ray = d.ray(centre, -90 + k * part, instrument="Protractor")
                far = moves.towards(centre, ray, g.across_flats)
                touches.append((ray, d.meet(ray, circle, f"T{k + 1}", near=far, kind="tangent")))
    with (
        d.phase("Tangents"),
        d.as_one("Set square", "At each tangent point draw square to its radius.", Setting(90, "°")),
    ):
        for ray, touch in touches:
            tangents.append(d.square_to(ray, touch))
        corners = [d.meet(tangents[k - 1], tangents[k], name) for k, name in enumerate(g.corners)]
    with d.phase("Line in"):
        d.line_in(corners, closed=True, says=f"Line in the {g.sides} sides, {mm(2 * reach)} each.")


class StarPolygon(Figure, id="star-polygon", family="polygons", title="Star"):
    keys = ("A", "B", "C", "D", "E")
    brief = (
        "A star of {points} points, each joined to the one {skip} further round, "
        "in a circle of {diameter}, by {method}."
    )
    summary = "Every so-many-eth point of a circle joined: a star floor, a vane."
    value_names = ("edge", "tip_angle")

    points = Count(8, "the number of points", 5, 24)
    skip = Count(3, "how far on each is joined", 2, 11)
    diameter = Length(110, "the diameter")

    def refuse(self) -> None:
        most = (self.points - 1) // 2
        if self.skip > most:
            words = (
                f"With {self.points} points each can be joined to the one {most} "
                f"places on at most; skip is {self.skip}."
            )
            raise Refused("skip", f"{words} Lower skip or raise points.")

    @property
    def corners(self) -> str:
        return CORNERS[: self.points]

    def values(self, method: str) -> Iterable[Value]:
        turn = trim(180 * self.skip / self.points)
        edge = self.diameter * math.sin(math.pi * self.skip / self.points)
        yield Value("edge", edge, "mm", f"{bare(self.diameter)} sin {turn}°", ("A", self.corners[self.skip]))
        yield Value("tip_angle", 180 - 360 * self.skip / self.points, "°", f"180° − 2 × {turn}°", ("A",))

    def measure(self, found: Found) -> dict[str, Number]:
        corners = found.together(list(self.corners))
        ahead, behind = np.roll(corners, -self.skip, axis=-2) - corners, np.roll(corners, self.skip, axis=-2) - corners
        return {
            "edge": distance(ahead, 0 * ahead).mean(axis=-1),
            "tip_angle": angle_between(ahead, behind).mean(axis=-1),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        corners = found.together(list(self.corners))
        yield Truth("Every point lies on the circle", distance(corners, point(0.0, 0.0)) - self.diameter / 2)
        near = regular.edges(corners)
        yield Truth("Neighbouring points are all equally far apart", near - near.mean(axis=-1, keepdims=True))
        yield Truth("The points go once round the circle", np.where(regular.shoelace(corners) <= 0, self.diameter, 0.0))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(point(0.0, 0.0), self.diameter / 2, "diameter", self.diameter, -38.0, diameter=True)


@method(StarPolygon, "chords", source="The circle divided evenly, chords that skip evenly (Euclid, Elements III.26)")
def star_chords(g: StarPolygon, d: Draft) -> None:
    centre, circle = circle_about(d, g.diameter)
    part = 360 / g.points
    with (
        d.phase("Points"),
        d.as_one("Protractor", f"At O set off {g.points} equal angles from the top.", Setting(part, "°")),
    ):
        spots = []
        for k, name in enumerate(g.corners):
            ray = d.ray(centre, 90 + k * part, instrument="Protractor")
            spots.append(d.meet(ray, circle, name, near=moves.towards(centre, ray, g.diameter)))
    with d.phase("Line in"):
        loops = math.gcd(g.points, g.skip)
        for start in range(loops):
            loop = [spots[(start + k * g.skip) % g.points] for k in range(g.points // loops)]
            says = f"From {loop[0].name} join every {nth(g.skip)} point until it closes."
            d.line_in(loop, closed=True, says=says)
