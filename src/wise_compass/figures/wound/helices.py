"""Helices: a plan beside an elevation, the hidden half hidden, and the development that gives lead angle and true
length."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Count, Length, Real
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.wound.coils import (
    GAP,
    Coil,
    development,
    find_points,
    further_ring,
    levels_of,
    line_in_coil,
    measured_development,
    plan_points,
    record_in_space,
)
from wise_compass.geometry.helices import conical_helix_length
from wise_compass.geometry.vectors import Number, distance, point


class Helix(Coil, id="helix", family="helices", title="Helix"):
    keys = ("D*", "G*", "H*", "O", "P*")
    brief = (
        "A {hand}-hand helix of radius {radius} and lead {lead}, {turns} turns "
        "of {starts} starts, found with {method} in "
        "{divisions} divisions."
    )
    summary = "A point that goes round a cylinder and along it evenly: a screw, a stair, a spring."
    value_names = ("lead_angle", "length", "rise")

    radius = Length(27, "the radius")
    lead = Length(84, "the lead")
    starts = Count(1, "the number of starts", 1, 8)

    @property
    def widest(self) -> float:
        return self.radius

    @property
    def rise(self) -> float:
        return self.lead * self.whole_turns

    @property
    def unrolled(self) -> float:
        """How many turns the development shows: one, or less where there is less; more would only take room."""
        return min(self.whole_turns, 1.0)

    @property
    def crown(self) -> float:
        return self.rise

    def radius_at(self, k: Number) -> Number:
        return self.radius + 0.0 * np.asarray(k, dtype=float)

    def height_at(self, k: Number) -> Number:
        return self.lead * np.asarray(k, dtype=float) / self.divisions

    def values(self, method: str) -> Iterable[Value]:
        r, lead, t = bare(self.radius), bare(self.lead), trim(self.whole_turns)
        around = 2 * np.pi * self.radius
        yield Value(
            "lead_angle",
            float(np.rad2deg(np.arctan2(self.lead, around))),
            "°",
            f"arctan({lead} / (2π × {r}))",
            ("D0", "D2"),
        )
        yield Value(
            "length",
            self.whole_turns * float(np.hypot(around, self.lead)),
            "mm",
            f"{t} √((2π × {r})² + {lead}²)",
            ("D0", "D2"),
        )
        yield Value("rise", self.rise, "mm", f"{lead} × {t}", ("P0", f"P{self.spaces}"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        developed = measured_development(found)
        return {
            **developed,
            "length": developed["length"] * self.whole_turns / self.unrolled,
            "rise": found[f"P{self.spaces}"][..., 1] - found["P0"][..., 1],
            **self.touch_measure(found),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        h = found.group("H")
        flat = np.asarray(distance(h[..., 1:, :2], h[..., :-1, :2]))
        arcs = 2 * self.radius * np.arcsin(np.minimum(flat / (2 * self.radius), 1.0))
        slope = self.lead / (2 * np.pi * self.radius)
        yield Truth("It climbs alike for every arc it goes round", np.diff(h[..., 2], axis=-1) - slope * arcs)
        for s in range(1, self.starts):
            also = found.together(found.names(f"S{s}P"))
            yield Truth(
                f"Start {s + 1} is the first one turned by {trim(360 * s / self.starts)}°",
                np.stack(
                    [
                        also[..., 1] - found.group("P")[..., 1],
                        also[..., 0] - self.exact_points(360.0 * s / self.starts)[..., 0],
                    ],
                    axis=-1,
                ),
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = self.radius
        yield self.plan_width(found, 0.0, right, "radius", self.radius, prefix="R")
        if self.whole_turns >= 1:
            yield Linear(point(right, self.lift), point(right, self.lift + self.lead), "lead", self.lead)
        yield from self.touch_dimensions(found)


@method(
    Helix,
    "divided-circle",
    about="Plan and rise divided alike; each plan point goes up to its level.",
    source="The definition: equal rises in equal turns; its views by orthographic projection (ISO 5456-2)",
)
def helix_divided(g: Helix, d: Draft) -> None:
    with d.phase("Plan"):
        views, centre = g.plan_by_hand(d)
        circle = d.circle_in(centre, g.radius, "Centre O, line in the plan circle.")
        plan = plan_points(g, d, centre, circle)
    with d.phase("Rise"):
        foot = g.foot_by_hand(d, views)
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, per_turn=g.divisions)
    others = []
    for s in range(1, g.starts):
        with d.phase(f"Start {s + 1}"):
            ring = further_ring(g, d, centre, circle, 360.0 * s / g.starts)
            says = f"Its plan points carried up to the same levels: start {s + 1}."
            with d.as_one("Set square", says, Setting(90, "°")):
                others.append([d.project(f"S{s}P{k}", spot, points[k], kind="plain") for k, spot in enumerate(ring)])
    development(d, point(g.radius + 2.2 * GAP, g.lift), 2 * np.pi * g.radius, g.unrolled, g.lead * g.unrolled)
    line_in_coil(g, d, points, "the helix")
    for s, row in enumerate(others, 1):
        line_in_coil(g, d, row, f"start {s + 1}", 360.0 * s / g.starts)
    record_in_space(d, views, plan, points)


class ConicalHelix(Coil, id="conical-helix", family="helices", title="Conical helix"):
    keys = ("G*", "H*", "O", "P*")
    brief = (
        "A {hand}-hand helix on a cone of base radius {base_radius} and height {height}, {turns} "
        "turns, found with {method} in {divisions} divisions."
    )
    summary = "It climbs a cone evenly, its radius falling to nothing: a conveyor, a spire's stair."
    value_names = ("length", "slant")

    base_radius = Length(33, "the base radius")
    height = Length(90, "the height")
    turns = Real(1, "the number of turns", least=0.25, most=12)

    @property
    def widest(self) -> float:
        return self.base_radius

    def radius_at(self, k: Number) -> Number:
        return self.base_radius * (1.0 - np.asarray(k, dtype=float) / self.spaces)

    def height_at(self, k: Number) -> Number:
        return self.height * np.asarray(k, dtype=float) / self.spaces

    @property
    def crown(self) -> float:
        return self.height

    def values(self, method: str) -> Iterable[Value]:
        r, h, t = bare(self.base_radius), bare(self.height), trim(self.whole_turns)
        length = float(conical_helix_length(self.base_radius, self.height, self.whole_turns))
        words = f"∫ √({r}² + {h}² + (2π × {t} × ρ)²) dρ / {r} from 0 to {r}"
        yield Value("length", length, "mm", words, ("P0", f"P{self.spaces}"))
        yield Value(
            "slant", float(np.hypot(self.base_radius, self.height)), "mm", f"√({r}² + {h}²)", ("P0", f"P{self.spaces}")
        )
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        base = distance(found["G0"], found["O"])
        height = found[f"P{self.spaces}"][..., 1] - found["P0"][..., 1]
        length = conical_helix_length(base, height, self.whole_turns)
        return {"length": length, "slant": np.hypot(base, height), **self.touch_measure(found)}

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = self.base_radius
        yield self.plan_width(found, -right, 0.0, "base_radius", right)
        yield Linear(point(right, self.lift), point(right, self.lift + self.height), "height", self.height)
        yield from self.touch_dimensions(found)


@method(
    ConicalHelix,
    "divided-circle",
    about="The plan a spiral of equal spaces, the rise divided alike.",
    source="The definition: equal rises in equal turns, the plan an Archimedean spiral",
)
def conical_divided(g: ConicalHelix, d: Draft) -> None:
    with d.phase("Plan"):
        views, centre = g.plan_by_hand(d)
        d.circle_in(centre, g.base_radius, "Centre O, line in the base circle.")
        rays = d.divide_turn(centre, g.divisions, clockwise=g.sign < 0, length=g.base_radius)
        with d.as_one(
            "Dividers",
            f"Cut the first ray into {g.spaces} equal spaces from the rim; swing each mark to its own ray: G0, G1 …",
            Setting(g.base_radius / g.spaces, "mm"),
        ):
            plan = [
                d.lay_off(rays[k % g.divisions], centre, float(g.radius_at(k)), f"G{k}") for k in range(g.spaces + 1)
            ]
        d.curve(plan, says="Line in the plan, a spiral.")
    with d.phase("Rise"):
        foot = g.foot_by_hand(d, views)
        levels = levels_of(g, d, foot, g.height)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan)
    with d.phase("The cone"):
        says = "From the foot lay off the base radius both ways."
        with d.as_one("Rule", says, Setting(g.base_radius, "mm")):
            ends = [d.lay_off(levels[0], foot, x, "", kind="plain") for x in (-g.base_radius, g.base_radius)]
        d.line_in([ends[0], ends[1], points[-1]], closed=True, says="Line in the cone.")
    line_in_coil(g, d, points, "the helix")
    record_in_space(d, views, plan, points)
