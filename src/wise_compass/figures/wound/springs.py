"""Coil springs of round and square wire, drawn with the outlines that are seen from in front.

What the nearer coils hide is left away, as on a working drawing.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Leader, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Choice, Length, Real
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, trim
from wise_compass.figures.wound.coils import (
    GAP,
    development,
    find_points,
    further_ring,
    levels_of,
    measured_development,
    plan_points,
    record_in_space,
)
from wise_compass.figures.wound.winding import (
    CoilStretch,
    Edges,
    Wound,
    end_edges,
    helical_edges,
    line_in_edges,
    side_edges,
)
from wise_compass.geometry.coils import Body, Winding, even_half
from wise_compass.geometry.helices import nearest_coils
from wise_compass.geometry.tubes import Tube, end_ring, tube_sides
from wise_compass.geometry.vectors import Number, dot, length, point, unit

SAME_TURN = 1e-9
"""Degrees within which a station stands at a point."""


class CoilSpring(Wound, id="coil-spring", family="helices", title="Coil spring"):
    keys = ("D*", "G*", "H*", "O", "P*")
    brief = (
        "A {hand}-hand spring of {section} wire {wire} thick, its coils {mean_diameter} "
        "across from middle to middle of the wire, "
        "{turns} turns at a pitch of {pitch}, found with {method} in {divisions} divisions."
    )
    summary = (
        "Wire wound on a cylinder. Its shape only: what a spring may carry is for a qualified engineer to work out."
    )
    value_names = ("lead_angle", "wire_length", "solid_length", "clearance")

    mean_diameter = Length(48, "the diameter from middle to middle of the wire")
    section = Choice("round", "the section of the wire", ("round", "square"))
    wire = Length(7, "the thickness of the wire", most=lambda g: g.mean_diameter / 2)
    pitch = Length(18, "the pitch of the coils", least="wire")
    turns = Real(2.5, "the number of turns", least=0.25, most=12)

    @property
    def pitch_of(self) -> float:
        return self.pitch

    @property
    def coil_radius(self) -> float:
        return self.mean_diameter / 2

    @property
    def widest(self) -> float:
        return (self.mean_diameter + self.wire) / 2

    @property
    def root(self) -> float:
        return self.wire / 2

    @property
    def crown(self) -> float:
        return self.rise + self.wire / 2

    @cached_property
    def winding(self) -> Winding:
        r, w = self.coil_radius, self.wire
        return Winding(r - w / 2, r + w / 2, self.pitch, self.whole_turns, self.sign, 1, even_half(w / 2))

    @cached_property
    def tube(self) -> Tube:
        """The spring as round wire makes it."""
        return Tube(self.coil_radius, self.wire / 2, self.pitch, self.whole_turns, self.sign)

    @property
    def hides(self) -> Body:
        return self.tube if self.section == "round" else self.winding

    @cached_property
    def coil_gap(self) -> float:
        """From the middle of the wire to that of the next coil, the shortest way."""
        return float(nearest_coils(self.coil_radius, self.pitch))

    def refuse(self) -> None:
        if self.section == "round" and self.coil_gap < self.wire * (1 - 1e-12) and self.turns > 1:
            low, high = self.pitch, 2 * self.wire
            while float(nearest_coils(self.coil_radius, high)) < self.wire:
                high *= 2
            for _ in range(60):
                middle = (low + high) / 2
                low, high = (
                    (middle, high) if float(nearest_coils(self.coil_radius, middle)) < self.wire else (low, middle)
                )
            raise Refused(
                "pitch",
                f"At a pitch of {mm(self.pitch)} the coils cut each other: their middles "
                f"come within {mm(self.coil_gap)} of each "
                f"other, and wire is {mm(self.wire)}. Raise pitch to at least {least_mm(high)} or lower wire.",
            )
        super().refuse()

    def helix_lines(self) -> list[tuple[str, float, float]]:
        r, w = self.coil_radius, self.wire / 2
        if self.section == "round":
            return []
        return [("A", r + w, w), ("B", r + w, -w), ("C", r - w, w), ("E", r - w, -w)]

    def values(self, method: str) -> Iterable[Value]:
        dm, p, w, n = bare(self.mean_diameter), bare(self.pitch), bare(self.wire), trim(self.whole_turns)
        around = np.pi * self.mean_diameter
        yield Value(
            "lead_angle",
            float(np.rad2deg(np.arctan2(self.pitch, around))),
            "°",
            f"arctan({p} / (π × {dm}))",
            ("D0", "D2"),
        )
        wire_length = self.whole_turns * float(np.hypot(around, self.pitch))
        yield Value("wire_length", wire_length, "mm", f"{n} √((π × {dm})² + {p}²)", ("D0", "D2"))
        words = f"{n} × {w}, coil on coil; the overhang of the plain ends adds one wire"
        yield Value("solid_length", self.whole_turns * self.wire, "mm", words)
        if self.section == "round":
            words = (
                f"{bare(self.coil_gap)} − {w}: the wires’ middles are nearest square "
                "to the wire, not straight above each other"
            )
            yield Value("clearance", self.coil_gap - self.wire, "mm", words)
        else:
            yield Value(
                "clearance", self.pitch - self.wire, "mm", f"{p} − {w}, between the flats of neighbouring coils"
            )
        yield Value("free_length", self.rise + self.wire, "mm", f"{n} × {p} + {w}", ("P0", f"P{self.spaces}"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        out = measured_development(found)
        return {
            "lead_angle": out["lead_angle"],
            "wire_length": out["length"] * self.whole_turns,
            **self.touch_measure(found),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        yield from self.edge_truths(found)
        if self.section == "round":
            heading = self.elevation().derivative(self.turned_at())
            for letter in "UL":
                out = found.group(letter) - found.group("P")
                words = f"Outline {letter} runs half the wire from the middle"
                yield Truth(words, length(out) - self.wire / 2)
                yield Truth(f"Outline {letter} stands square off the middle line there", dot(out, unit(heading)))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = self.coil_radius
        yield self.plan_width(found, -right, right, "mean_diameter", self.mean_diameter, prefix="⌀")
        if self.whole_turns >= 1:
            side = self.widest
            yield Linear(point(side, self.lift), point(side, self.lift + self.pitch), "pitch", self.pitch)
        yield Leader(found["P0"], "wire", self.wire, "⌀" if self.section == "round" else "□")
        yield from self.touch_dimensions(found)


@method(
    CoilSpring,
    "divided-circle",
    about="The helix of the middle, the wire's own outline beside it, the hidden coils left away.",
    source="The definition of the helix; outline of a tube as the envelope of its spheres",
)
def spring_divided(g: CoilSpring, d: Draft) -> None:
    with d.phase("Plan"):
        views, centre = g.plan_by_hand(d)
        middle = d.compass(centre, g.coil_radius, "Centre O, draw the circle of the wire’s middle.", role=Role.CENTRE)
        outside = d.circle_in(centre, g.coil_radius + g.wire / 2, "Line in its outside.", why="half the wire more")
        inside = d.circle_in(centre, g.coil_radius - g.wire / 2, "Line in its inside.", why="half the wire less")
        plan = plan_points(g, d, centre, middle)
    with d.phase("Rise"):
        foot = g.foot_by_hand(d, views)
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, g.divisions // 4, g.divisions)
    development(d, point(g.widest + 2.2 * GAP, g.lift), np.pi * g.mean_diameter, 1.0, g.pitch)
    g.touch_in(d)
    with d.phase("The wire"):
        if g.section == "round":
            edges = _round_edges(g, d, points)
        else:
            w = g.wire / 2
            circles = ((g.coil_radius + w, outside), (g.coil_radius - w, inside))
            rings = {radius: further_ring(g, d, centre, circle) for radius, circle in circles}
            says = f"The four edges: half the wire, {mm(w)}, in and out, up and down."
            edges = _square_edges(g, helical_edges(g, d, rings, points, says=says))
    with d.phase("Line in"):
        line_in_edges(g, d, edges, "Line in the outlines as far as they are seen; what nearer coils hide stays away.")
    record_in_space(d, views, plan, points)


def _round_edges(g: CoilSpring, d: Draft, points: Sequence[Spot]) -> list[CoilStretch]:
    """The contours of the wire: beside every point, and between the points where they run round the wire at the
    sides."""
    r = g.wire / 2
    says = "At the sides and on the axis draw the wire’s own circle; the outlines touch all such circles."
    with d.as_one("Compass", says, Setting(r, "mm")):
        for spot in points[:: g.divisions // 4]:
            d.compass(spot, r)
    turned = g.turned_at()
    middles = g.flat(g.tube.middle(turned))
    made = []
    for letter, side in (("U", 1), ("L", -1)):
        way = "up" if side > 0 else "down"
        says = (
            f"Beside every point, square off the middle line, half the wire {way}: "
            f"{letter}; at the sides a few more by table."
        )
        with d.as_one("Dividers", says, Setting(r, "mm")):
            beside = [
                d.measure_off(spot, off, f"{letter}{k}", kind="plain")
                for k, (spot, off) in enumerate(zip(points, g.flat(g.tube.beside(turned, side)) - middles))
            ]
            for edge in tube_sides(g.tube, side, tuple(turned)):
                stations = np.array(edge.stations)
                near = np.abs(stations[:, None] - turned).argmin(axis=1)
                off = g.flat(edge.at(stations)) - middles[near]
                own = np.abs(stations - turned[near]) < SAME_TURN
                spots = [
                    beside[k] if here else d.measure_off(points[k], by, kind="plain")
                    for k, by, here in zip(near.tolist(), off, own.tolist(), strict=True)
                ]
                made.append(CoilStretch(edge, d.row(spots), stations))
    return [*made, *(_end_ring(g, d, points[0 if turned == 0 else -1], turned) for turned in (0.0, g.total))]


def _end_ring(g: CoilSpring, d: Draft, middle: Spot, turned: float) -> CoilStretch:
    """The rim of a square-cut end: the wire's circle seen askew, its points measured off the end of the middle line."""
    edge = end_ring(g.tube, turned)
    stations = np.array(edge.stations)
    centre = g.flat(g.tube.middle(turned))
    with d.as_one("Rule", "Measure off the rim of the wire’s cut end, an ellipse about the end of its middle line."):
        spots = [d.measure_off(middle, off, kind="plain") for off in g.flat(edge.at(stations[:-1])) - centre]
    return CoilStretch(edge, d.row([*spots, spots[0]]), stations)


def _square_edges(g: CoilSpring, edges: Edges) -> list[CoilStretch]:
    both = (("B", "A"), ("E", "C"))
    ends = end_edges(g, edges, 0, (("C", "A"), ("E", "B")), both)
    return [*edges.values(), *ends, *side_edges(g, edges, 0, both)]
