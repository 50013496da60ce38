"""The places that are as far from one edge as from another: conics, found by arcs swung from both."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Dimension, Linear, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Choice, Count, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.geometry.curves import ellipse_curve, hyperbola_curve, moved, parabola_curve
from wise_compass.geometry.vectors import Array, Number, distance, point, unit

ALIKE = 1e-9
"""Of their sizes: radii within this are equal."""
ON_AXIS = 1e-7
"""Of the distance: how far off the axis a place is found by arcs; nearer both arcs only touch."""
FAR = 0.75
"""Of the distance of the circles: how much farther than its vertex an open locus is followed."""


class Reach(NamedTuple):
    """How far a place stands from O and from the other centre, or from the line; all lengths in mm."""

    one: float
    other: float


class EqualDistanceLocus(Curved, Figure, id="equal-distance-locus", family="paths", title="Equal-distance locus"):
    keys = ("C", "O", "P*", "Q")
    brief = (
        "The places as far from the edge of a circle of radius {radius_1} as from that of a {second} of radius "
        "{radius_2}, its centre {distance} off, by {kind}, one of them {at} from both, by {divisions} distances, "
        "found with {method}."
    )
    summary = "Where a centre may lie that is as far from a circle as from another, or from a line."
    value_names = ("conic", "eccentricity", "vertices", "semi_latus_rectum", "point")

    radius_1 = Length(30, "the radius of the circle about O, 0 for a point", zero=True)
    second = Choice("circle", "what the other is", ("circle", "line"))
    radius_2 = Length(14, "the radius of the other circle, 0 for a point", zero=True)
    distance = Length(80, "the distance of the other centre, or of the line, from O")
    kind = Choice(
        "difference",
        "on which sides",
        ("difference", "sum"),
        {"difference": "outside both, or beyond the line", "sum": "outside the first, inside the second"},
    )
    at = Length(40, "a distance from both edges, less than 0 inside the first", least=-20000)
    divisions = Count(8, "the distances that are swung", 4, 36)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        if givens.get("second") == "line":
            return cls.brief.replace("that of a {second} of radius {radius_2}, its centre", "a {second}")
        return cls.brief

    @property
    def line(self) -> bool:
        return self.second == "line"

    @property
    def summed(self) -> bool:
        return self.kind == "sum"

    @property
    def straight(self) -> bool:
        """Whether both circles are alike and the locus is the bisector of their centres."""
        apart = abs(self.radius_1 - self.radius_2)
        return not self.line and not self.summed and apart <= ALIKE * max(self.radius_1, self.distance)

    @property
    def conic(self) -> str:
        if self.line:
            return "parabola"
        return "ellipse" if self.summed else "line" if self.straight else "hyperbola"

    def refuse(self) -> None:
        r, q, far = self.radius_1, self.radius_2, self.distance
        if self.line and not self.summed and r <= far * (1 + ALIKE):
            raise Refused(
                "radius_1",
                f"Beyond a line {mm(far)} off no place is as far from it as from a circle of {mm(r)} about O. Raise "
                f"radius_1 over {least_mm(far)}, lower distance, or choose sum.",
            )
        if not self.line and self.summed and r + q <= far * (1 + ALIKE):
            raise Refused(
                "radius_2",
                f"The radii together are {mm(r + q)}; for a place outside the first "
                "circle and as far inside the second "
                f"they have to be over the distance, {mm(far)}. Raise radius_2 over {least_mm(max(far - r, 0.0))}.",
            )
        if not self.line and not self.summed and abs(r - q) >= far * (1 - ALIKE):
            large = "radius_1" if r > q else "radius_2"
            most = most_mm(far + min(r, q))
            raise Refused(
                large,
                f"One circle lies inside the other and the radii differ by {mm(abs(r - q))}; they have to differ by "
                f"less than the distance, {mm(far)}. Lower {large} under {most}.",
            )
        low, high = self.nearest, self.farthest
        room = ALIKE * max(r, q, far)
        if self.at < low - room:
            raise Refused(
                "at", f"The nearest place is {mm(low)} from both; at is {mm(self.at)}. Raise at to {least_mm(low)}."
            )
        if high is not None and self.at > high + room:
            raise Refused(
                "at", f"The farthest place is {mm(high)} from both; at is {mm(self.at)}. Lower at to {most_mm(high)}."
            )

    # the conic

    @property
    def nearest(self) -> float:
        """The least distance of a place from both edges; less than 0 inside the first circle."""
        if self.line:
            return (self.distance - self.radius_1) / 2 if self.summed else -(self.radius_1 + self.distance) / 2
        if self.summed:
            return (self.radius_2 - self.radius_1 - self.distance) / 2
        return (self.distance - self.radius_1 - self.radius_2) / 2

    @property
    def farthest(self) -> float | None:
        """The greatest; None where the locus has no end."""
        return (self.radius_2 - self.radius_1 + self.distance) / 2 if self.conic == "ellipse" else None

    def reach(self, t: float) -> Reach:
        """From O and from the other centre or, a signed distance to the left of it, from the line, ``t`` from both."""
        if self.line:
            return Reach(self.radius_1 + t, t if self.summed else -t)
        return Reach(self.radius_1 + t, self.radius_2 - t if self.summed else self.radius_2 + t)

    def place(self, t: float) -> Array:
        """The upper place so far from both, (2,)."""
        one, other = self.reach(t)
        x = self.distance - other
        if not self.line:
            x = (one**2 - other**2 + self.distance**2) / (2 * self.distance)
        return point(x, np.sqrt(max((one - x) * (one + x), 0.0)))

    @property
    def focal(self) -> float:
        """Of a parabola: from its focus O to its vertex."""
        return abs(self.radius_1 + (self.distance if self.summed else -self.distance)) / 2

    @property
    def half_axis(self) -> float:
        """Of an ellipse or a hyperbola: from its middle to a vertex."""
        return (self.radius_1 + self.radius_2 if self.summed else abs(self.radius_1 - self.radius_2)) / 2

    @property
    def cross_axis(self) -> float:
        """The other half axis."""
        half = self.distance / 2
        return float(np.sqrt(abs((half - self.half_axis) * (half + self.half_axis))))

    @property
    def vertices(self) -> list[float]:
        if self.line:
            return [self.focal if self.summed else -self.focal]
        middle = self.distance / 2
        if self.summed:
            return [middle - self.half_axis, middle + self.half_axis]
        return [middle + (self.radius_1 - self.radius_2) / 2]

    @cached_property
    def distances(self) -> list[float]:
        """How far from both the places lie that are found, from a vertex on."""
        low, n = self.nearest, self.divisions
        if self.farthest is not None:  # from the right vertex to the left one, evenly by the eccentric angle
            middle, half = (low + self.farthest) / 2, self.distance / 2
            return [middle + half * float(np.cos(np.pi * k / n)) for k in range(n + 1)]
        size = 2 * self.focal if self.line else FAR * self.distance
        span = max(size, 1.1 * (self.at - low))
        return [low + span * (k / n) ** 2 for k in range(n + 1)]

    def courses(self, method: str) -> Sequence[Course]:
        n, names = self.divisions, tuple(f"P{k}" for k in range(2 * self.divisions + (self.farthest is None)))
        marks: tuple[tuple[float, str], ...] = ((0.0, "its vertex"),)
        if self.conic == "line":
            return ()
        if self.conic == "ellipse":
            curve = moved(
                ellipse_curve(point(self.half_axis, 0.0), point(0.0, self.cross_axis)),
                np.eye(2),
                point(self.distance / 2, 0.0),
            )
            stations = evenly(180.0 / n, 2 * n)
            return (Course("the ellipse", curve, stations, names, landmarks=marks, turn="eccentric angle"),)
        upper = [float(self.place(t)[1]) for t in self.distances[1:]]
        stations = np.array([*(-y for y in reversed(upper)), 0.0, *upper], dtype=float)
        if self.conic == "hyperbola":
            side = 1 if self.radius_1 > self.radius_2 else -1
            curve = hyperbola_curve(self.half_axis, self.cross_axis, side, upper[-1])
            curve = moved(curve, np.eye(2), point(self.distance / 2, 0.0))
        else:
            way = 1.0 if self.summed else -1.0
            curve = parabola_curve(upper[-1], 0.0, self.focal)
            curve = moved(curve, np.array([[0.0, way], [1.0, 0.0]]), point(way * self.focal, 0.0))
        return (Course(f"the {self.conic}", curve, stations, names, landmarks=marks),)

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        r, q, far = bare(self.radius_1), bare(self.radius_2), bare(self.distance)
        words = {
            "parabola": "as far from O as from a line",
            "ellipse": "the distances from both centres have one sum",
            "hyperbola": "the distances from both centres have one difference",
            "line": "as far from one centre as from the other",
        }
        yield Value("conic", self.conic, "", words[self.conic])
        if self.line:
            eccentricity, told = 1.0, "as far from O as from the directrix"
            semi, semi_told = 2 * self.focal, f"{r} {'+' if self.summed else '−'} {far}"
        elif self.straight:
            eccentricity, told, semi, semi_told = None, "a line has none", None, "a line has none"
        else:
            b = self.distance / 2
            eccentricity = self.distance / (2 * self.half_axis)
            told = f"{far} / {bare(2 * self.half_axis)}"
            semi = abs(b - self.half_axis) * (b + self.half_axis) / self.half_axis
            first, last = (bare(self.half_axis), bare(b)) if self.summed else (bare(b), bare(self.half_axis))
            semi_told = f"({first}² − {last}²) / {bare(self.half_axis)}"
        yield Value("eccentricity", eccentricity, "", told)
        n = self.divisions
        ends = ("P0", f"P{n}") if self.conic == "ellipse" else (f"P{n}",)
        yield Value("vertices", self.vertices, "mm", "halfway between both edges on the axis", ends[::-1])
        yield Value("semi_latus_rectum", semi, "mm", semi_told)
        one, other = self.reach(self.at)
        beside = f"{bare(abs(other))} from the line" if self.line else f"{bare(other)} from C"
        at = [float(x) for x in self.place(self.at)]
        yield Value(
            "point", at, "mm", f"… {bare(one)} from O and {beside}; {r} and {q if not self.line else far}", ("Q",)
        )

    def measure(self, found: Found) -> dict[str, Number]:
        ends = ["P0", f"P{self.divisions}"] if self.conic == "ellipse" else [f"P{self.divisions}"]
        at = found.together(ends[::-1])
        return {"vertices": at[..., 0] - found["O"][..., None, 0], "point": found["Q"] - found["O"]}

    def truths(self, found: Found) -> Iterator[Truth]:
        at = np.concatenate([found.group("P"), found["Q"][..., None, :]], axis=-2)
        one = distance(at, found["O"][..., None, :]) - self.radius_1
        if self.line:
            off = at[..., 0] - found["C"][..., None, 0]
            other = -off if self.summed else off
        else:
            other = distance(at, found["C"][..., None, :]) - self.radius_2
            other = -other if self.summed else other
        yield Truth("Every place is as far from the one edge as from the other", one - other)
        yield Truth("Q is as far from both as given", one[..., -1] - self.at)
        yield Truth("The other stands as far off as given", found["C"] - found["O"] - point(self.distance, 0.0))
        ends = self.measure(found)["vertices"]
        yield Truth("The vertices lie halfway between both edges", np.asarray(ends) - np.array(self.vertices))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["O"], found["C"], "distance", self.distance)
        if self.radius_1:
            yield Radial(found["O"], self.radius_1, "radius_1", self.radius_1, 215.0)
        if self.radius_2 and not self.line:
            yield Radial(found["C"], self.radius_2, "radius_2", self.radius_2, -40.0)
        if "Q" in found and self.at:
            out = unit(found["Q"] - found["O"])
            yield Linear(found["O"] + out * self.radius_1, found["Q"], "at", abs(self.at), side=1)


@method(
    EqualDistanceLocus,
    "swung-arcs",
    about="At every distance an arc from either edge, or a parallel to the line: they cross in two places.",
    source="The definition of the locus; conics by their foci (Apollonius)",
)
def swung_arcs(g: EqualDistanceLocus, d: Draft) -> None:
    with d.phase("The edges"):
        first = d.start_at("O", says="Mark O, the centre of the circle.")
        axis = d.level_from(first, "Draw the axis level through O.", Role.CENTRE, g.distance)
        other = d.lay_off(axis, first, g.distance, "C", f"Lay off C, {mm(g.distance)} from O.", kind="given")
        if g.radius_1:
            d.compass(first, g.radius_1, "Centre O, draw the circle.", role=Role.REFERENCE)
        if g.line:
            tall = float(g.place(g.distances[-1])[1])
            line = d.upright_from(other, "Draw the line upright through C.", Role.REFERENCE)
            line.extent(-tall, tall)
        elif g.radius_2:
            d.compass(other, g.radius_2, "Centre C, draw the other circle.", role=Role.REFERENCE)
    uneven = abs(g.radius_1 - (0.0 if g.line else g.radius_2)) > 1e-3 * g.distance
    from_centres = d.choice(
        "centres-for-edges",
        right=False,
        slip=True,
        when=uneven and g.summed == g.line,
        says="The distances are taken from the centres, not from the edges.",
    )
    rows: list[list[Spot]] = []
    with d.phase("The places"):
        for k, t in enumerate(g.distances):
            upper, lower = _numbers(g, k)
            mistaken = t
            if k:
                mistaken = d.once(
                    "the-distance-before",
                    right=t,
                    slip=g.distances[k - 1],
                    says="At one place the second arc is swung with the distance before.",
                    at=f"P{upper}",
                    usual=k == max(g.divisions // 2, 2),
                )
            rows.append(_places(g, d, t, mistaken, (f"P{upper}", f"P{lower}"), from_centres))
        _places(g, d, g.at, g.at, ("Q", ""), from_centres)
    with d.phase("Line in"):
        ordered = sorted((spot for row in rows for spot in row), key=lambda spot: int(spot.name[1:]))
        if g.conic == "line":
            d.line_in([ordered[0], ordered[-1]], says="Line in the places: a straight line.")
        else:
            d.curve(ordered, closed=g.conic == "ellipse", says=f"Line in the {g.conic} through the places.")


def _numbers(g: EqualDistanceLocus, k: int) -> tuple[int, int]:
    """The numbers of the upper and the lower place at distance ``k``, in order along the curve."""
    n = g.divisions
    if g.conic == "ellipse":
        return k, (2 * n - k) % (2 * n)
    return n + k, n - k


def _places(
    g: EqualDistanceLocus, d: Draft, t: float, second: float, names: tuple[str, str], from_centres: bool
) -> list[Spot]:
    """Both places so far from the edges; one, where they fall together on the axis."""
    axis_spot, other_spot = d.spots["O"], d.spots["C"]
    one, _ = g.reach(t)
    _, other = g.reach(second)
    at = g.place(t)
    if from_centres:
        one = other = t + g.radius_1 / 2 if g.line else (one + other) / 2
    with d.as_one("Compass", "", Setting(abs(one), "mm"), Setting(abs(other), "mm")) as step:
        if names[0] == names[1] or at[1] <= ON_AXIS * g.distance:  # an end, whatever rounding leaves of its height
            step.says = f"The place {mm(t)} from both edges lies on the axis: {names[0]}."
            axis = d.level_from(axis_spot)
            return [d.lay_off(axis, axis_spot, g.distance / 2 if from_centres else float(at[0]), names[0])]
        there = " and ".join(name for name in names if name)
        beside = f"a parallel {mm(abs(other))} from the line" if g.line else f"{mm(other)} about C"
        step.says = (
            f"At {mm(t)} from both swing {mm(one)} about O and {'draw' if g.line else 'swing'} {beside}: {there}."
        )
        arc = d.compass(axis_spot, one, whole=False)
        if g.line:
            foot = d.lay_off(d.level_from(axis_spot), axis_spot, g.distance - other, "", kind="plain")
            crossing: Any = d.upright_from(foot)
        else:
            crossing = d.compass(other_spot, other, whole=False)
        return [d.meet(arc, crossing, name, where=way) for name, way in zip(names, ("above", "below")) if name]
