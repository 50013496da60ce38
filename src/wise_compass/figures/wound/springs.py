"""Coil springs of round and square wire, drawn with the outlines that are seen from in front.

What the nearer coils hide is left away, as on a working drawing.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Choice, Length, Real
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import trim
from wise_compass.figures.wound.helices import (
    GAP,
    development,
    find_points,
    levels_of,
    measured_development,
    plan_points,
    record_in_space,
)
from wise_compass.figures.wound.winding import Wound, edges_by_hand, line_in_edges
from wise_compass.geometry.coils import Edge, Winding, end_ring, even_half, round_half, tube_side
from wise_compass.geometry.vectors import Number, dot, left_of, length, point, unit


class CoilSpring(Wound, id="coil-spring", family="helices", title="Coil spring"):
    brief = (
        "A {hand}-hand spring of {section} wire {wire} thick, its coils {mean_diameter} across from middle to middle of the wire, "
        "{turns} turns at a pitch of {pitch}, found with {method} in {divisions} divisions."
    )
    summary = "Wire wound on a cylinder. Its shape only: what a spring may carry is for a qualified engineer to work out."
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
    def lift(self) -> float:
        return self.widest + GAP + self.wire / 2

    @property
    def crown(self) -> float:
        return self.rise + self.wire / 2

    @property
    def winding(self) -> Winding:
        r, w = self.coil_radius, self.wire
        lean = float(np.cos(np.arctan2(self.pitch, 2 * np.pi * r)))
        if self.section == "square":
            return Winding(r - w / 2, r + w / 2, self.pitch, self.whole_turns, self.sign, 1, even_half(w / 2))
        # an axial cut through round wire is not quite the ellipse it is taken for
        return Winding(r - w / 2, r + w / 2, self.pitch, self.whole_turns, self.sign, 1, round_half(r, w, lean), snug=0.98)

    def helix_lines(self) -> list[tuple[str, float, float]]:
        r, w = self.coil_radius, self.wire / 2
        if self.section == "round":
            return []
        return [("A", r + w, w), ("B", r + w, -w), ("C", r - w, w), ("E", r - w, -w)]

    def values(self, method: str) -> Iterable[Value]:
        dm, p, w, n = trim(self.mean_diameter), trim(self.pitch), trim(self.wire), trim(self.whole_turns)
        around = np.pi * self.mean_diameter
        yield Value(
            "lead_angle", float(np.rad2deg(np.arctan2(self.pitch, around))), "°", f"arctan({p} / (π × {dm}))", ("D0", "D2")
        )
        wire_length = self.whole_turns * float(np.hypot(around, self.pitch))
        yield Value("wire_length", wire_length, "mm", f"{n} √((π × {dm})² + {p}²)", ("D0", "D2"))
        words = f"{n} × {w}, coil on coil; the overhang of the plain ends adds one wire"
        yield Value("solid_length", self.whole_turns * self.wire, "mm", words)
        yield Value("clearance", self.pitch - self.wire, "mm", f"{p} − {w}, between neighbouring coils")
        yield Value("free_length", self.rise + self.wire, "mm", f"{n} × {p} + {w}", ("P0", f"P{self.spaces}"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        out = measured_development(found)
        return {"lead_angle": out["lead_angle"], "wire_length": out["length"] * self.whole_turns, **self.touch_measure(found)}

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
        yield self.plan_width(found, -right, right, "mean_diameter", self.mean_diameter)
        if self.whole_turns >= 1:
            side = self.widest
            yield Linear(point(side, self.lift), point(side, self.lift + self.pitch), "pitch", self.pitch)


@method(
    CoilSpring, "divided-circle", about="The helix of the middle, the wire's own outline beside it, the hidden coils left away."
)
def spring_divided(g: CoilSpring, d: Draft) -> None:
    with d.phase("Plan"):
        centre = g.plan_by_hand(d)
        middle = d.compass(centre, g.coil_radius, "Centre O, draw the circle of the wire’s middle.", role=Role.CENTRE)
        d.circle_in(centre, g.coil_radius + g.wire / 2, "Line in its outside.", why="half the wire more")
        d.circle_in(centre, g.coil_radius - g.wire / 2, "Line in its inside.", why="half the wire less")
        plan = plan_points(g, d, centre, middle)
    with d.phase("Rise"):
        foot = g.foot_by_hand(d)
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, g.divisions // 4, g.divisions)
    development(d, point(g.widest + 2.2 * GAP, g.lift), np.pi * g.mean_diameter, 1.0, g.pitch)
    g.touch_in(d)
    edges = _round_edges(g, d, points) if g.section == "round" else _square_edges(g, d, plan, points)
    with d.phase("Line in"):
        line_in_edges(g, d, edges, "Line in the outlines as far as they are seen; what nearer coils hide stays away.")
    record_in_space(d, centre, plan, points, foot)


def _round_edges(g: CoilSpring, d: Draft, points: Sequence[Spot]) -> list[Edge]:
    winding, r = g.winding, g.wire / 2
    with d.phase("The wire"):
        says = "At the sides and on the axis draw the wire’s own circle; the outlines touch all such circles."
        with d.as_one("Compass", says, Setting(r, "mm")):
            for spot in points[:: g.divisions // 4]:
                d.compass(spot, r)
        across = r * left_of(unit(g.elevation().derivative(g.turned_at())))
        with d.as_one(
            "Dividers", "Beside every point, square off the middle line, half the wire both ways: U and L.", Setting(r, "mm")
        ):
            for letter, side in (("U", 1), ("L", -1)):
                for k, spot in enumerate(points):
                    d.also(f"{letter}{k}", spot.at + side * across[k], "plain")
    edges = [tube_side(winding, g.coil_radius, r, side, tuple(g.turned_at())) for side in (1, -1)]
    return edges + [end_ring(winding, g.coil_radius, r, turned) for turned in (0.0, g.total)]


def _square_edges(g: CoilSpring, d: Draft, plan: Sequence[Spot], points: Sequence[Spot]) -> list[Edge]:
    winding, w = g.winding, g.wire / 2
    edges_by_hand(
        g, d, d.spots["O"], plan, points, "The wire", f"The four edges: half the wire, {trim(w)} mm, in and out, up and down."
    )
    both = (winding.inner, winding.outer)
    edges = [g.helix_edge(radius, up, 0) for _, radius, up in g.helix_lines()]
    return edges + g.end_edges(0, both) + g.side_edges(0, both)
