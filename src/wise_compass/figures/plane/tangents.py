"""Tangents of circles, belts, and the reverse curve."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import LONGEST_LENGTH, Choice, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.tangency import ORIGIN
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, Number, distance, dot, point


class TangentsFromPoint(Figure, id="tangents-from-point", family="tangency", title="Tangents from a point"):
    keys = ("O", "P", "T*")
    brief = "The tangents to a circle of radius {radius} from a point {distance} from its centre, by {method}."
    summary = "Both tangents from a point to a circle: sight lines, a guy rope, a chute."
    value_names = ("tangent_length", "half_angle")

    radius = Length(29, "the radius")
    distance = Length(83, "the distance of the point", over="radius")

    def values(self, method: str) -> Iterable[Value]:
        r, s = bare(self.radius), bare(self.distance)
        length = float(np.sqrt((self.distance - self.radius) * (self.distance + self.radius)))
        yield Value("tangent_length", length, "mm", f"√({s}² − {r}²)", ("P", "T1"))
        yield Value("half_angle", float(np.rad2deg(np.arctan2(self.radius, length))), "°", f"arcsin({r} / {s})", ("P",))

    def measure(self, found: Found) -> dict[str, Number]:
        length = distance(found["P"], found["T1"])
        return {
            "tangent_length": length,
            "half_angle": np.rad2deg(np.arctan2(distance(found["O"], found["T1"]), length)),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        for name in ("T1", "T2"):
            touch = found[name]
            yield Truth(f"{name} lies on the circle", distance(touch, found["O"]) - self.radius)
            yield Truth(
                f"The radius to {name} is square to the tangent",
                dot(touch - found["O"], touch - found["P"]) / self.distance,
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(ORIGIN, self.radius, "radius", self.radius, 140.0)
        low = point(0.0, -self.radius)
        yield Linear(low, point(self.distance, -self.radius), "distance", self.distance)


@method(
    TangentsFromPoint,
    "semicircle",
    about="The circle on the line to the centre cuts off both tangent points (Thales).",
    source="Thales's theorem (Euclid, Elements III.17, III.31)",
)
def tangents_semicircle(g: TangentsFromPoint, d: Draft) -> None:
    with d.phase("Circle and point"):
        centre = d.start_at("O", says="Mark the centre O.")
        circle = d.circle_in(centre, g.radius)
        axis = d.level_from(centre, "Draw level from O.", length=g.distance)
        outer = d.lay_off(axis, centre, g.distance, "P", "Lay off the point P.")
    with d.phase("Tangent points"):
        with d.as_one("Dividers", "Halve OP at M."):
            middle = d.midpoint(centre, outer, "M")
        arc = d.compass(middle, d.opening(middle, centre), "Centre M, through O and P: cut the circle twice.")
        touches = [
            d.meet(circle, arc, name, where=where, kind="tangent") for name, where in (("T1", "above"), ("T2", "below"))
        ]
    with d.phase("Line in"):
        for touch in touches:
            d.line_in([outer, touch], says=f"Line in the tangent from P exactly to {touch.name}.")


class CommonTangents(Figure, id="common-tangents", family="tangency", title="Common tangents of two circles"):
    keys = ("O*", "T*")
    brief = "The {kind} tangents of circles of radius {radius_1} and {radius_2}, {distance} apart, by {method}."
    summary = "Both tangents of two circles, and the belt that runs over them: pulleys."
    value_names = ("tangent_length", "belt_length")

    radius_1 = Length(31, "the first radius")
    radius_2 = Length(17, "the second radius")
    distance = Length(92, "the distance of the centres")
    kind = Choice("open", "the kind of tangents", ("open", "crossed"))

    @property
    def reduced(self) -> float:
        """The signed radius of the reduced circle about the first centre."""
        return self.radius_1 - self.radius_2 if self.kind == "open" else self.radius_1 + self.radius_2

    def refuse(self) -> None:
        limit = abs(self.reduced)
        if self.distance <= limit:
            words = "the difference of the radii" if self.kind == "open" else "the sum of the radii"
            raise Refused(
                "distance",
                f"The centres are {mm(self.distance)} apart; {self.kind} tangents need more than {mm(limit)}, {words}. "
                f"Raise distance to {least_mm(limit + 0.01)} or more, or lower a radius.",
            )

    def values(self, method: str) -> Iterable[Value]:
        m, s = self.reduced, self.distance
        length = float(np.sqrt((s - m) * (s + m)))
        words = f"√({bare(s)}² − {bare(abs(m))}²)"
        lean = float(np.arctan2(m, length))
        yield Value("tangent_length", length, "mm", words, ("T1", "T2"))
        r1, r2, a = self.radius_1, self.radius_2, f"arcsin({bare(m)} / {bare(s)})"
        if self.kind == "open":
            belt = 2 * length + np.pi * (r1 + r2) + 2 * (r1 - r2) * lean
            worked = f"2 × {bare(length)} + π × {bare(r1 + r2)} + 2 × {bare(r1 - r2)} × {a} in radians"
        else:
            belt = 2 * length + (r1 + r2) * (np.pi + 2 * lean)
            worked = f"2 × {bare(length)} + {bare(r1 + r2)} × (π + 2 {a}) in radians"
        yield Value("belt_length", float(belt), "mm", worked, ("T1", "T2", "T3", "T4"))

    def measure(self, found: Found) -> dict[str, Number]:
        length = distance(found["T1"], found["T2"])
        r1, r2 = distance(found["O1"], found["T1"]), distance(found["O2"], found["T2"])
        m = r1 - r2 if self.kind == "open" else r1 + r2
        lean = np.arctan2(m, length)
        total = r1 + r2
        belt = 2 * length + (np.pi * total + 2 * m * lean if self.kind == "open" else total * (np.pi + 2 * lean))
        return {"tangent_length": length, "belt_length": belt}

    def truths(self, found: Found) -> Iterator[Truth]:
        for one, two in (("T1", "T2"), ("T3", "T4")):
            p, q = found[one], found[two]
            for o, r in (("O1", self.radius_1), ("O2", self.radius_2)):
                yield Truth(
                    f"The tangent {one}{two} passes {o} at its radius", np.abs(distance_to_line(found[o], p, q - p)) - r
                )
            yield Truth(f"{one} is where it touches", distance(p, found["O1"]) - self.radius_1)
            yield Truth(f"{two} is where it touches", distance(q, found["O2"]) - self.radius_2)
        sides = [distance_to_line(found[o], found["T1"], found["T2"] - found["T1"]) for o in ("O1", "O2")]
        same = 1.0 if self.kind == "open" else -1.0
        yield Truth(f"The tangents are {self.kind}", np.minimum(same * sides[0] * sides[1], 0.0))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = -max(self.radius_1, self.radius_2)
        yield Linear(point(0.0, low), point(self.distance, low), "distance", self.distance)
        yield Radial(ORIGIN, self.radius_1, "radius_1", self.radius_1, 160.0)
        yield Radial(point(self.distance, 0.0), self.radius_2, "radius_2", self.radius_2, 20.0)


def _equal_radii(d: Draft, axis: LineMark, large: Spot) -> list[tuple[LineMark, Array]]:
    """Equal circles need no reduced one: their radii stand square to the line of centres."""
    square = d.square_to(axis, large, "Equal circles: draw square to the line of centres, up and down.", length=1.0)
    return [(square, large.here + reach * point(0.0, 1.0)) for reach in (1e5, -1e5)]


def _reduced_radii(g: CommonTangents, d: Draft, large: Spot, first: Spot, second: Spot) -> list[tuple[LineMark, Array]]:
    """The radii of the reduced circle to the tangent points of the far centre, each with a place far along it."""
    word = "difference" if g.kind == "open" else "sum"
    inner = d.compass(large, abs(g.reduced), f"Centre {large.name}, the {word} of the radii.")
    with d.as_one("Dividers", "Halve the line of centres at M."):
        middle = d.midpoint(first, second, "M")
    thales = d.compass(
        middle, d.opening(middle, first), "Centre M, through both centres: cut that circle twice.", whole=False
    )
    feet = [d.meet(inner, thales, where=where) for where in ("above", "below")]
    radii = [d.rule(large, foot, f"Join {large.name} to the crossing, and on.") for foot in feet]
    return [(radius, moves.towards(large, radius, 1e6)) for radius in radii]


@method(
    CommonTangents,
    "reduced-circle",
    about="Shrink one circle to a point, the other by as much; shift the tangent back.",
    source="Parallels at one radius: the tangent from a point, shifted (Euclid, Elements III.17, III.18)",
)
def reduced_circle(g: CommonTangents, d: Draft) -> None:
    with d.phase("The circles"):
        first = d.start_at("O1", says="Mark the first centre O1.")
        axis = d.level_from(first, "Draw the line of centres.", role=Role.CENTRE, length=g.distance)
        second = d.lay_off(axis, first, g.distance, "O2", "Lay off the second centre O2.")
        circles = {"O1": d.circle_in(first, g.radius_1), "O2": d.circle_in(second, g.radius_2)}
    swap = g.kind == "open" and g.radius_2 > g.radius_1
    large, small = (second, first) if swap else (first, second)
    names = {"O1": ("T1", "T3"), "O2": ("T2", "T4")}
    with d.phase("The reduced circle"):
        radii = _equal_radii(d, axis, large) if abs(g.reduced) < 1e-6 else _reduced_radii(g, d, large, first, second)
    pairs = []
    with d.phase("Tangent points"):
        for k, (radius, far) in enumerate(radii):
            with d.as_one("Straightedge", f"Where that radius meets the circle about {large.name} it is touched."):
                touch = d.meet(radius, circles[large.name], names[large.name][k], near=far, kind="tangent")
            says = f"From {small.name} draw parallel to that radius{'' if g.kind == 'open' else ', to the other side'}."
            beside = d.parallel_to(radius, small, says)
            way = far - large.here if g.kind == "open" else large.here - far
            aim = small.here + way
            pairs.append((touch, d.meet(beside, circles[small.name], names[small.name][k], near=aim, kind="tangent")))
    with d.phase("Line in"):
        for touch, other in pairs:
            d.line_in([touch, other], says=f"Line in the tangent from {touch.name} exactly to {other.name}.")


class ReverseCurve(Figure, id="reverse-curve", family="tangency", title="Reverse curve"):
    keys = ("A", "B", "J", "K*")
    brief = (
        "A reverse curve over {length} to a parallel {offset} off, its first "
        "radius {first_radius}, found with {method}."
    )
    summary = "Two arcs that lead from one line smoothly to a parallel one: a chute, a path, a swan-neck."
    value_names = ("second_radius",)

    length = Length(104, "the length")
    offset = Length(42, "the offset of the parallel")
    first_radius = Length(53, "the first radius", most=lambda g: (g.length**2 + g.offset**2) / (2 * g.offset) - 0.1)

    def refuse(self) -> None:
        if self.first_radius + self.second_radius > LONGEST_LENGTH:
            least = LONGEST_LENGTH - math.sqrt(max(LONGEST_LENGTH**2 - self.length**2, 0.0))
            raise Refused(
                "offset",
                f"The radii would sum to {mm(self.first_radius + self.second_radius)}; "
                f"{mm(LONGEST_LENGTH)} is the most. Raise offset to {least_mm(least)} or more, or lower length.",
            )

    @property
    def second_radius(self) -> float:
        return (self.length**2 + self.offset**2) / (2 * self.offset) - self.first_radius

    def values(self, method: str) -> Iterable[Value]:
        a, b, r = bare(self.length), bare(self.offset), bare(self.first_radius)
        yield Value("second_radius", self.second_radius, "mm", f"({a}² + {b}²) / (2 × {b}) − {r}", ("K2", "B"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"second_radius": distance(found["K2"], found["B"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        one, two, joint = found["K1"], found["K2"], found["J"]
        yield Truth("The first arc leaves its line at A", found["A"] - one + point(0.0, self.first_radius))
        yield Truth("The second arc joins the parallel at B", two[..., 0] - found["B"][..., 0])
        yield Truth("J lies on the first arc", distance(joint, one) - self.first_radius)
        yield Truth("J lies on the second arc", distance(joint, two) - distance(found["B"], two))
        yield Truth("At J the arcs have one tangent", distance_to_line(joint, one, two - one))
        yield Truth("B stands where it is given", found["B"] - point(self.length, self.offset))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(ORIGIN, point(self.length, 0.0), "length", self.length)
        yield Linear(point(self.length, 0.0), point(self.length, self.offset), "offset", self.offset)
        yield Radial(found["K1"], self.first_radius, "first_radius", self.first_radius, -70.0)


@method(
    ReverseCurve,
    "chords",
    about="The joint lies on the line from end to end; its halves' bisectors give the centres.",
    source="Touching circles and parallel tangents: both chords lie on one line (equal tangent angles)",
)
def reverse_chords(g: ReverseCurve, d: Draft) -> None:
    a, over, line = base_line(d, g.length, "The lines")
    over.name, over.kind = "", "plain"
    d.spots.pop("B")
    with d.phase("The lines"):
        up = d.square_to(line, over, "Draw upright at its end.", role=Role.PROJECTOR)
        b = d.lay_off(up, over, g.offset, "B", "Lay off the offset: B, where the curve ends.")
        parallel = d.parallel_to(line, b, "Draw the parallel through B.", length=0.2 * g.length)
    with d.phase("The first arc"):
        square = d.square_to(line, a, "Draw upright at A.")
        one = d.lay_off(square, a, g.first_radius, "K1", "Lay off the first radius: K1.")
        chord = d.rule(a, b, "Join AB.")
        circle = d.compass(one, d.opening(one, a), "Centre K1, from A: cut AB again at J.", whole=False)
        joint = d.meet(chord, circle, "J", far=a, kind="tangent")
    with d.phase("The second arc"):
        bisector = moves.perpendicular_bisector(d, joint, b)
        down = d.square_to(parallel, b, "Draw square to the parallel at B.")
        two = d.meet(bisector, down, "K2")
    with d.phase("Line in"):
        d.arc_in(one, d.opening(one, a), a, joint, "Centre K1, line in the arc from A exactly to J.")
        d.arc_in(two, d.opening(two, b), joint, b, "Centre K2, line in the arc from J exactly to B.", clockwise=True)
