"""The logarithmic spiral, and volutes by arcs."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from fractions import Fraction
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Linear, angle_at, from_level
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import LONGEST_LENGTH, Angle, Choice, Count, Length, Real
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import parts_of_turns
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import as_read, bare, many, mm, trim
from wise_compass.figures.curves.involutes import string_at, unwind, volute_curve
from wise_compass.figures.curves.spirals import by_subnormal
from wise_compass.figures.curves.touching import WORDS, Touching
from wise_compass.geometry.curves import Curve, growing_radius, polar_curve
from wise_compass.geometry.polygons import regular_corners
from wise_compass.geometry.vectors import Array, Number, angle_of, cross, distance, point, unit

ORIGIN = point(0.0, 0.0)


class LogarithmicSpiral(
    Curved, Moving, Touching, id="logarithmic-spiral", family="spirals", title="Logarithmic spiral"
):
    keys = ("P*",)
    brief = (
        "A logarithmic spiral from {start_radius}, each vector {ratio} times the one "
        "{vector_angle} before it, {turns} turns {hand}, "
        "found with {method}."
    )
    summary = "Equal angles multiply the radius alike, and the curve cuts every radius alike: a shell, a cutter, a cam."
    ways = ("ratio", "angle")
    value_names = ("end_radius", "tangent_angle", "arc_length")

    start_radius = Length(14, "the first vector")
    ratio = Real(1.13, "the ratio of neighbouring vectors", least=0.2, most=5)
    vector_angle = Angle(30, "the angle between neighbouring vectors", least=5, most=90)
    turns = Real(1, "the number of turns", least=1 / 12, most=6)
    hand = Choice("anticlockwise", "the hand", ("clockwise", "anticlockwise"))
    touch = Choice("tangent", "what touches it at a point", tuple(WORDS), WORDS)
    at = Angle(180, "the angle turned at the point of touch", least=0, most=2160)

    @cached_property
    def touched(self) -> Curve:
        radius = growing_radius(self.start_radius, self.rate)
        return polar_curve(radius, 0.0, self.spaces * self.vector_angle, 0.0, self.sign)

    def courses(self, method: str) -> Sequence[Course]:
        stations = evenly(self.vector_angle, self.spaces + 1)
        names = tuple(f"P{k}" for k in range(self.spaces + 1))
        marks = ((0.0, "its start"), (self.spaces * self.vector_angle, "its end"))
        return (Course("the spiral", self.touched, stations, names, landmarks=marks, turn="angle turned", pole=ORIGIN),)

    def mechanism(self, found: Found, t: float) -> Frame:
        """The turning vector."""
        end = self.touched.at(t)
        return Frame((np.array([np.zeros(2), end]),), (), (end,))

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        radius = float(distance(self.touched.at(self.place), ORIGIN))
        return by_subnormal(self, d, self.rate * radius, self.sign, self.sign * self.at)

    @property
    def spaces(self) -> int:
        return round(360.0 * self.turns / self.vector_angle)

    @property
    def sign(self) -> int:
        return 1 if self.hand == "anticlockwise" else -1

    @property
    def rate(self) -> float:
        """Of growth: r = start · exp(rate · θ), θ in radians."""
        return float(np.log(self.ratio) / np.deg2rad(self.vector_angle))

    def refuse(self) -> None:
        whole = 360.0 * self.turns / self.vector_angle
        if self.spaces < 1 or abs(whole - self.spaces) > 1e-6:
            low = max(int(whole), 1)
            words = (
                f"The turns hold {trim(whole)} vector angles of {trim(self.vector_angle)}°; it must be a whole number."
            )
            exact = low * Fraction(repr(self.vector_angle)) / 360
            fits = as_read(exact) if exact.denominator < 1000 else trim(float(exact), 9)
            raise Refused("turns", f"{words} Set turns to {fits}, or change vector_angle.")
        if abs(self.ratio - 1.0) < 1e-3:
            raise Refused(
                "ratio",
                f"ratio is {trim(self.ratio, 6)}: the vectors hardly change. Take ratio away from 1 by 0.001 or more.",
            )
        end = self.start_radius * self.ratio**self.spaces
        if not 0.05 <= end <= LONGEST_LENGTH:
            words = f"The last vector would be {mm(end)}; it must lie between {mm(0.05)} and {mm(LONGEST_LENGTH)}."
            raise Refused("ratio", f"{words} Bring ratio nearer to 1 or lower turns.")
        super().refuse()

    def values(self, method: str) -> Iterable[Value]:
        r, q, n = bare(self.start_radius), trim(self.ratio), self.spaces
        end = self.start_radius * self.ratio**n
        b = self.rate
        yield Value("end_radius", end, "mm", f"{r} × {q}^{n}", ("O", f"P{n}"))
        words = f"arctan({trim(np.deg2rad(self.vector_angle), 6)} / |ln {q}|)"
        yield Value("tangent_angle", float(np.rad2deg(np.arctan2(1.0, abs(b)))), "°", words, ("O",))
        length = abs(end - self.start_radius) * float(np.hypot(1.0, 1.0 / b))
        yield Value("arc_length", length, "mm", f"|{bare(end)} − {r}| √(1 + 1 / {trim(abs(b), 6)}²)", ("P0", f"P{n}"))
        for k in range(n + 1):
            yield Value(f"radius_{k}", self.start_radius * self.ratio**k, "mm", f"{r} × {q}^{k}", (f"P{k}",))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        radii = distance(found.group("P"), ORIGIN)
        first, last = radii[..., 0], radii[..., -1]
        b = np.log(last / first) / (np.deg2rad(self.vector_angle) * self.spaces)
        out = {
            "end_radius": last,
            "tangent_angle": np.rad2deg(np.arctan2(1.0, np.abs(b))),
            "arc_length": np.abs(last - first) * np.hypot(1.0, 1.0 / b),
        }
        out.update({f"radius_{k}": radii[..., k] for k in range(self.spaces + 1)})
        return {**out, **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        radii = distance(p, ORIGIN)
        yield Truth("Every vector is the ratio times the one before", radii[..., 1:] - self.ratio * radii[..., :-1])
        step = np.remainder(np.diff(angle_of(p), axis=-1) * self.sign, 360.0)
        yield Truth(
            "Neighbouring vectors are all the same angle apart",
            (step - self.vector_angle) * np.pi / 180.0 * radii[..., 1:],
        )
        yield from self.touch_truths(found)

    def at_dimension(self, found: Found) -> Dimension:
        if self.at > 360:
            return super().at_dimension(found)
        return from_level(ORIGIN, self.sign * self.at, "at", float(angle_of(found["P0"])), reach=32.0)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(ORIGIN, found["P0"], "start_radius", self.start_radius)
        yield from self.touch_dimensions(found)
        yield angle_at(ORIGIN, found["P0"], found["P1"], "vector_angle", self.vector_angle, reach=22.0)


def _spiral_in(g: LogarithmicSpiral, d: Draft, points: list[Spot]) -> None:
    g.touch_in(d)
    with d.phase("Line in"):
        d.curve(points, says=f"Line in the spiral through P0 to P{g.spaces}.")


def _vectors(g: LogarithmicSpiral, d: Draft) -> tuple[Spot, list[LineMark]]:
    with d.phase("Vectors"):
        centre = d.start_at("O", says="Mark the centre O.")
        says = f"From O draw {g.spaces + 1} rays, each the vector angle on from the last."
        with d.as_one("Protractor", says, Setting(g.vector_angle, "°")):
            rays = [d.ray(centre, g.sign * k * g.vector_angle, instrument="Protractor") for k in range(g.spaces + 1)]
    return centre, rays


@method(
    LogarithmicSpiral,
    "ratio",
    about="Each vector worked from the ratio and laid off on its ray.",
    source="The definition: neighbouring vectors in one ratio",
)
def spiral_by_ratio(g: LogarithmicSpiral, d: Draft) -> None:
    centre, rays = _vectors(g, d)
    points = []
    with d.phase("Find the points"):
        for k, ray in enumerate(rays):
            says = f"Lay off {mm(g.start_radius)} × {trim(g.ratio)}^{k} on ray {k}: P{k}."
            points.append(d.lay_off(ray, centre, g.start_radius * g.ratio**k, f"P{k}", says))
    _spiral_in(g, d, points)


@method(
    LogarithmicSpiral,
    "angle",
    about="One angle set off at the end of every vector gives the next: the triangles are all alike.",
    source="The equiangular property: similar triangles (Descartes, Jakob Bernoulli)",
)
def spiral_by_angle(g: LogarithmicSpiral, d: Draft) -> None:
    centre, rays = _vectors(g, d)
    # in the triangle of two neighbouring vectors, the angle at the first one's end
    w = float(np.deg2rad(g.vector_angle))
    lean = float(np.rad2deg(np.arctan2(g.ratio * np.sin(w), 1.0 - g.ratio * np.cos(w))))
    lean = d.choice(
        "ten-degrees-off",
        right=lean,
        slip=lean - 10.0,
        says="The protractor read ten degrees too low at every vector.",
        when=lean > 15.0,
    )
    with d.phase("Find the points"):
        points = [d.lay_off(rays[0], centre, g.start_radius, "P0", "Lay off the first vector: P0.")]
        for k in range(1, g.spaces + 1):
            back = angle_of(centre.at - points[-1].at)
            says = f"At P{k - 1} set off this angle from the vector; it cuts ray {k} at P{k}."
            with d.as_one("Protractor", says, Setting(lean, "°")):
                cut = d.ray(points[-1], back - g.sign * lean, instrument="Protractor")
                points.append(d.meet(cut, rays[k], f"P{k}"))
    _spiral_in(g, d, points)


class ArcVolute(Curved, Touching, id="arc-volute", family="spirals", title="Volute by arcs"):
    keys = ("C*", "P*")
    brief = "A volute of arcs about {centres} centres, {side} apart, in {turns} turns, found with {method}."
    summary = "A scroll of arcs that run into one another, about a small regular figure: a bracket, a capital."
    value_names = ("end_radius", "arc_length")

    centres = Count(4, "the number of centres", 2, 6, why="a volute has 2, 3, 4 or 6 centres")
    side = Length(6, "the side of the figure of centres")
    turns = Real(2, "the number of turns", least=0.15, most=6)
    at = Angle(400, "the angle turned at the point of touch", least=0, most=2160)

    @cached_property
    def touched(self) -> Curve:
        return volute_curve(self.hubs(), self.side, self.arcs)

    def courses(self, method: str) -> Sequence[Course]:
        return (Course("the volute", self.touched, np.zeros(0), turn="angle turned", pole=self.hubs().mean(axis=0)),)

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        return string_at(self, d, [d.spots[f"C{k + 1}"] for k in range(self.centres)])

    @property
    def arcs(self) -> int:
        return round(self.turns * self.centres)

    def refuse(self) -> None:
        if self.centres == 5:
            raise Refused("centres", "A volute has 2, 3, 4 or 6 centres; centres is 5. Set centres to 4 or 6.")
        parts_of_turns(self.turns, self.centres, "arcs")
        super().refuse()

    def hubs(self) -> Array:
        """The centres, anticlockwise from the origin; shape (centres, 2)."""
        if self.centres == 2:
            return np.array([[0.0, 0.0], [self.side, 0.0]])
        return regular_corners(self.centres, self.side)

    def values(self, method: str) -> Iterable[Value]:
        s, n = bare(self.side), self.arcs
        yield Value("end_radius", n * self.side, "mm", f"{n} × {s}", (f"P{n}",))
        length = self.side * 2 * np.pi / self.centres * n * (n + 1) / 2
        yield Value("arc_length", float(length), "mm", f"{s} × 2π / {self.centres} × (1 + … + {n})", ("P0", f"P{n}"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        n = self.arcs
        end = distance(found[f"P{n}"], found[f"C{n % self.centres + 1}"])
        return {"end_radius": end, "arc_length": end * np.pi / self.centres * (n + 1), **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        hubs = self.hubs()
        for k in range(1, self.arcs + 1):
            hub, before = hubs[k % self.centres], hubs[(k - 1) % self.centres]
            yield Truth(
                f"Arc {k} has a radius of {many(k, 'side')} at both ends",
                np.stack([distance(found[f"P{j}"], hub) - k * self.side for j in (k - 1, k)], axis=-1),
            )
            if k > 1:
                joint = found[f"P{k - 1}"]
                yield Truth(
                    f"Arcs {k - 1} and {k} have one tangent at their joint", cross(unit(hub - before), joint - hub)
                )
        yield from self.touch_truths(found)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["C1"], found["C2"], "side", self.side)
        yield from self.touch_dimensions(found)


@method(
    ArcVolute,
    "arcs",
    about="Arcs about each centre in turn, joined on the lines of the centres.",
    source="Arcs join smoothly on the line of their centres (Euclid, Elements III.11)",
)
def volute_arcs(g: ArcVolute, d: Draft) -> None:
    with d.phase("The centres"):
        spots = [d.start_at("C1", says="Mark the first centre C1.")]
        part = 360.0 / g.centres
        with d.as_one("Set square", f"Set out the {g.centres} centres, the side apart.", Setting(g.side, "mm")):
            for k in range(1, g.centres):
                if g.centres == 2:
                    line = d.level_from(spots[-1])
                else:
                    line = d.ray(spots[-1], (k - 1) * part, instrument="Set square")
                spots.append(d.lay_off(line, spots[-1], g.side, f"C{k + 1}"))
    unwind(d, spots, g.side, g.arcs)
    g.touch_in(d)
