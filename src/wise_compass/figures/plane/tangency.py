"""Tangency: arcs that touch lines and circles. Tangent points come before arcs."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Choice, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Number, angle_of, distance, dot, point

ORIGIN = point(0.0, 0.0)
CONTACTS = ("outside", "inside")
TOUCHING = 1e-12
"""By what part of their sizes two circles may miss and still touch: rounding alone."""


def touching_root(long: float, short: float) -> float:
    """√(long² − short²), the other leg of a right triangle; 0 where the two are the same to within rounding."""
    square = (long - short) * (long + short)
    return 0.0 if square < 4 * TOUCHING * max(long, abs(short)) ** 2 else float(np.sqrt(square))


def shorter_arc(d: Draft, centre: Spot, radius: float, one: Spot, two: Spot, says: str) -> None:
    """Line in the shorter arc between two tangent points, from one exactly to the other."""
    turn = (float(angle_of(two.here - centre.here)) - float(angle_of(one.here - centre.here))) % 360.0
    d.arc_in(centre, radius, one, two, says, clockwise=turn > 180.0)


def touching_parallel(d: Draft, line: LineMark, radius: float, stations: tuple[float, float], side: int) -> LineMark:
    """A parallel touching two arcs of ``radius`` swung from stations (mm along) of ``line``; side +1 is its left."""
    with d.move("Parallel by swung arcs"):
        tops = []
        for k, t in enumerate(stations):
            foot = d.on(line, t)
            arc = d.compass(
                foot,
                radius,
                "From any point of the line swing the radius." if k == 0 else "From another, well away, the same.",
                whole=False,
            )
            tops.append(d.crown(arc, line, side))
        return d.rule(tops[0], tops[1], "Draw the line that touches both arcs: the centre lies on it.", Role.LOCUS)


class ArcLineCircle(Figure, id="arc-line-circle", family="tangency", title="Arc between a line and a circle"):
    keys = ("F", "K*", "O", "S*", "T*")
    brief = (
        "An arc of radius {radius} that touches a circle of radius {circle_radius} "
        "{contact} and a line {line_distance} from "
        "its centre, found with {method}."
    )
    summary = "An arc that touches a line and a circle: a bracket, a hook, a handle."
    value_names = ("centre_distance", "along")

    circle_radius = Length(26, "the radius of the circle")
    line_distance = Length(34, "the distance of the line from its centre", zero=True)
    radius = Length(18, "the radius of the arc")
    contact = Choice("outside", "the contact", CONTACTS)

    @property
    def centre_distance(self) -> float:
        if self.contact == "outside":
            return self.circle_radius + self.radius
        return abs(self.circle_radius - self.radius)

    @property
    def along(self) -> float:
        low = self.line_distance - self.radius
        return touching_root(self.centre_distance, low)

    @property
    def answers(self) -> str:
        """Numbers of the arcs: two that mirror each other, or one that stands straight under the circle."""
        return "1" if self.along == 0 else "12"

    def refuse(self) -> None:
        low = abs(self.line_distance - self.radius)
        if self.centre_distance < 1e-3:
            raise Refused("radius", "The arc would fall on the circle itself. Change radius or choose contact outside.")
        if self.centre_distance < low * (1 - TOUCHING):
            lack = f"{mm(low - self.centre_distance)} are lacking between {mm(self.centre_distance)} and {mm(low)}"
            words = f"An arc of radius {mm(self.radius)} cannot touch both {self.contact}: {lack}."
            if self.contact == "outside":
                least = (self.line_distance - self.circle_radius) / 2
                raise Refused("radius", f"{words} Raise radius to at least {least_mm(least)}, or lower line_distance.")
            if (
                self.radius > self.line_distance
            ):  # the arc holds the circle, or lies in it: the line is too near or too far
                reach = (self.line_distance + self.circle_radius) / 2
                raise Refused("radius", f"{words} Set radius to {most_mm(reach)} or less, or change line_distance.")
            reach = self.circle_radius if self.radius < self.circle_radius else 2 * self.radius - self.circle_radius
            raise Refused("line_distance", f"{words} Lower line_distance to {most_mm(reach)}, or change radius.")

    def cautions(self) -> Iterable[str]:
        if self.line_distance < self.circle_radius:
            yield (
                "The line cuts the circle: two more such arcs lie beyond the line, the "
                "images of arcs set out from its other side."
            )

    def values(self, method: str) -> Iterable[Value]:
        sign = "+" if self.contact == "outside" else "−"
        cd, low = bare(self.centre_distance), bare(self.line_distance - self.radius)
        words = f"{bare(self.circle_radius)} {sign} {bare(self.radius)}"
        yield Value("centre_distance", self.centre_distance, "mm", words, ("O", "K1"))
        yield Value("along", self.along, "mm", f"√({cd}² − {low}²)", ("F", "T1"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"centre_distance": distance(found["O"], found["K1"]), "along": distance(found["F"], found["T1"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        for k in self.answers:
            centre, touch, kiss = found[f"K{k}"], found[f"T{k}"], found[f"S{k}"]
            yield Truth(
                f"Arc {k} stands exactly its radius off the line", centre[..., 1] + self.line_distance - self.radius
            )
            yield Truth(f"T{k} lies on the line under the centre", touch - centre + point(0.0, self.radius))
            yield Truth(f"S{k} lies on the circle", distance(kiss, ORIGIN) - self.circle_radius)
            yield Truth(f"S{k} lies on arc {k}", distance(kiss, centre) - self.radius)
            yield Truth(f"At S{k} both have one tangent", distance_to_line(kiss, ORIGIN, centre))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(ORIGIN, self.circle_radius, "circle_radius", self.circle_radius, 70.0)
        yield Radial(found["K1"], self.radius, "radius", self.radius, -35.0)
        if self.line_distance:
            yield Linear(found["F"], ORIGIN, "line_distance", self.line_distance, side=1, rank=1)


@method(
    ArcLineCircle,
    "offset-and-arc",
    about="A parallel at the radius and an arc of sum or difference: they cross at the centre.",
    source="Touching circles have their centres the sum or the difference of the "
    "radii apart (Euclid, Elements III.11, III.12)",
)
def offset_and_arc(g: ArcLineCircle, d: Draft) -> None:
    with d.phase("Circle and line"):
        centre = d.start_at("O", says="Mark the centre O of the circle.")
        circle = d.circle_in(centre, g.circle_radius, "Centre O, line in the circle.")
        down = d.upright_from(centre, "Draw straight down from O.", role=Role.CENTRE)
        foot = d.lay_off(down, centre, -g.line_distance, "F", "Lay off the distance of the line.")
        line = d.level_from(foot, "Draw the line level through F.")
    with d.phase("Loci of the centre"):
        offset = moves.parallel_at(d, line, foot, g.radius)
        word = "sum" if g.contact == "outside" else "difference"
        arc = d.compass(
            centre, g.centre_distance, f"Centre O, the {word} of the radii: cross the parallel.", whole=False
        )
        centres = [d.meet(offset, arc, f"K{k}", where="right" if k == "1" else "left") for k in g.answers]
    with d.phase("Tangent points"):
        inside = g.contact == "inside" and g.radius < g.circle_radius
        touches = []
        for k, middle in enumerate(centres, 1):
            touch = moves.touch_foot(d, middle, line, f"T{k}")
            touches.append(
                (touch, _kiss(d, centre, middle, circle, f"S{k}", outside=g.contact == "outside", within=inside))
            )
    with d.phase("Line in"):
        for k, (middle, (touch, kiss)) in enumerate(zip(centres, touches), 1):
            shorter_arc(d, middle, g.radius, touch, kiss, f"Centre K{k}, line in the arc from T{k} exactly to S{k}.")
        reach = max(g.along * 1.3, g.along + 8.0)
        ends = [d.on(line, t) for t in (-reach, reach)]
        d.line_in(ends, says="Line in the line.")


def _kiss(d: Draft, centre: Spot, other: Spot, circle: ArcMark, name: str, outside: bool, within: bool) -> Spot:
    """The tangent point on ``circle`` with a circle about ``other``, on the line of the centres."""
    line = d.rule(centre, other, f"Join the centres {centre.name} and {other.name}: {name} is the tangent point.")
    if outside or within:
        return d.meet(line, circle, name, near=moves.towards(centre, line, 1e6), kind="tangent")
    return d.meet(line, circle, name, near=moves.towards(centre, line, -1e6), kind="tangent")


class ArcTwoCircles(Figure, id="arc-two-circles", family="tangency", title="Arc between two circles"):
    keys = ("K*", "O*", "S*", "U*")
    brief = (
        "An arc of radius {radius} that touches a circle of radius {radius_1} "
        "{contact_1} and one of {radius_2} {contact_2}, "
        "{distance} apart, found with {method}."
    )
    summary = "An arc that touches two circles, outside or holding them: a link, a cam, a cusped window."
    value_names = ("centre_distance_1", "centre_distance_2", "along", "off")

    radius_1 = Length(24, "the first circle's radius")
    radius_2 = Length(15, "the second circle's radius")
    distance = Length(66, "the distance of the centres")
    radius = Length(21, "the radius of the arc")
    contact_1 = Choice("outside", "the first contact", CONTACTS)
    contact_2 = Choice("outside", "the second contact", CONTACTS)

    @property
    def reaches(self) -> tuple[float, float]:
        """Distances of the arc's centre from the two centres."""
        one, two = (
            r + self.radius if contact == "outside" else abs(r - self.radius)
            for r, contact in ((self.radius_1, self.contact_1), (self.radius_2, self.contact_2))
        )
        return one, two

    @property
    def place(self) -> tuple[float, float]:
        """The arc's centre, along and off the line of centres."""
        one, two = self.reaches
        along = (self.distance + (one - two) * (one + two) / self.distance) / 2
        return along, touching_root(one, along)

    @property
    def answers(self) -> str:
        """Numbers of the arcs: two that mirror each other, or one with its centre on the line of centres."""
        return "1" if self.place[1] == 0 else "12"

    def refuse(self) -> None:
        one, two = self.reaches
        if min(one, two) < 1e-3:
            raise Refused("radius", "The arc would fall on one of the circles. Change radius or that contact.")
        if one + two < self.distance * (1 - TOUCHING):
            lack = self.distance - one - two
            outs = (self.contact_1 == "outside") + (self.contact_2 == "outside")
            more = lack / 2
            words = f"An arc of radius {mm(self.radius)} cannot touch both circles: it is {mm(more)} too small"
            if outs < 2:
                words = f"An arc of radius {mm(self.radius)} cannot touch both circles: {mm(lack)} are lacking"
                raise Refused(
                    "distance",
                    f"{words} ({mm(one)} + {mm(two)} against {mm(self.distance)}). Lower "
                    f"distance to {most_mm(one + two)}, or "
                    "raise radius.",
                )
            raise Refused(
                "radius",
                f"{words} ({mm(one)} + {mm(two)} against {mm(self.distance)}). Raise radius to at least "
                f"{least_mm(self.radius + more)}, or lower distance.",
            )
        if abs(one - two) > self.distance * (1 + TOUCHING):
            raise Refused(
                "distance",
                f"The centres are {mm(self.distance)} apart; for these contacts it must be at least "
                f"{least_mm(abs(one - two))}, the difference of {mm(one)} and "
                f"{mm(two)}. Raise distance, or change radius.",
            )

    def values(self, method: str) -> Iterable[Value]:
        one, two = self.reaches
        along, off = self.place
        for k, r, contact, reach in ((1, self.radius_1, self.contact_1, one), (2, self.radius_2, self.contact_2, two)):
            words = f"{bare(r)} + {bare(self.radius)}" if contact == "outside" else f"|{bare(r)} − {bare(self.radius)}|"
            yield Value(f"centre_distance_{k}", reach, "mm", words, (f"O{k}", "K1"))
        a, b, c = bare(one), bare(two), bare(self.distance)
        yield Value("along", along, "mm", f"({c}² + {a}² − {b}²) / (2 × {c})", ("O1", "K1"))
        yield Value("off", off, "mm", f"√({a}² − {bare(along)}²)", ("K1",))

    def measure(self, found: Found) -> dict[str, Number]:
        k, one, two = found["K1"], found["O1"], found["O2"]
        u = two - one
        span = distance(one, two)
        return {
            "centre_distance_1": distance(k, one),
            "centre_distance_2": distance(k, two),
            "along": dot(k - one, u) / span,
            "off": distance_to_line(k, one, u),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        for k in self.answers:
            centre = found[f"K{k}"]
            for o, r, letter in (("O1", self.radius_1, "S"), ("O2", self.radius_2, "U")):
                touch = found[f"{letter}{k}"]
                yield Truth(f"{letter}{k} lies on its circle", distance(touch, found[o]) - r)
                yield Truth(f"{letter}{k} lies on arc {k}", distance(touch, centre) - self.radius)
                yield Truth(
                    f"At {letter}{k} both have one tangent", distance_to_line(touch, found[o], centre - found[o])
                )
        yield Truth("The circles stand as far apart as given", distance(found["O1"], found["O2"]) - self.distance)
        for o, r, contact in (("O1", self.radius_1, self.contact_1), ("O2", self.radius_2, self.contact_2)):
            wanted = r + self.radius if contact == "outside" else abs(r - self.radius)
            yield Truth(f"The contact at {o} is {contact}", distance(found["K1"], found[o]) - wanted)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = -max(self.radius_1, self.radius_2)
        yield Linear(point(0.0, low), point(self.distance, low), "distance", self.distance)
        yield Radial(ORIGIN, self.radius_1, "radius_1", self.radius_1, 200.0)
        yield Radial(point(self.distance, 0.0), self.radius_2, "radius_2", self.radius_2, -20.0)
        yield Radial(found["K1"], self.radius, "radius", self.radius, 90.0)


@method(
    ArcTwoCircles,
    "sum-and-difference-arcs",
    "sum and difference arcs",
    about="Arcs of the sums or differences cross at the centres.",
    source="Touching circles have their centres the sum or the difference of the "
    "radii apart (Euclid, Elements III.11, III.12)",
)
def sum_and_difference(g: ArcTwoCircles, d: Draft) -> None:
    with d.phase("The circles"):
        one = d.start_at("O1", says="Mark the first centre O1.")
        axis = d.level_from(one, "Draw the line of centres.", role=Role.CENTRE, length=g.distance)
        two = d.lay_off(axis, one, g.distance, "O2", "Lay off the second centre O2.")
        circles = [d.circle_in(one, g.radius_1), d.circle_in(two, g.radius_2)]
    with d.phase("Loci of the centre"):
        wrong = g.radius_2 + g.radius if g.contact_2 == "inside" else abs(g.radius_2 - g.radius)
        reach = d.choice(
            "sum-for-difference",
            right=g.reaches[1],
            slip=wrong,
            when=wrong > 1e-3,
            says="At the second circle the sum is taken for the difference, or the difference for the sum.",
        )
        arcs = []
        for spot, value, contact in ((one, g.reaches[0], g.contact_1), (two, reach, g.contact_2)):
            word = "sum" if contact == "outside" else "difference"
            arcs.append(
                d.compass(spot, value, f"Centre {spot.name}, the {word} of its radius and the arc's.", whole=False)
            )
        centres = [d.meet(arcs[0], arcs[1], f"K{k}", where="above" if k == "1" else "below") for k in g.answers]
    with d.phase("Tangent points"):
        touches = []
        for k, centre in enumerate(centres, 1):
            pair = []
            for spot, circle, r, contact, letter in (
                (one, circles[0], g.radius_1, g.contact_1, "S"),
                (two, circles[1], g.radius_2, g.contact_2, "U"),
            ):
                within = contact == "inside" and g.radius < r
                pair.append(_kiss(d, spot, centre, circle, f"{letter}{k}", outside=contact == "outside", within=within))
            touches.append(pair)
    with d.phase("Line in"):
        for k, (centre, pair) in enumerate(zip(centres, touches), 1):
            says = f"Centre K{k}, line in the arc from S{k} exactly to U{k}."
            shorter_arc(d, centre, g.radius, pair[0], pair[1], says)
