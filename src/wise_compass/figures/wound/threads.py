"""Screw threads, square and vee: the ridge that is seen from in front, the far flank hidden by the near one."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Choice, Count, Length, Real
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
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
    FINEST,
    CoilStretch,
    Edges,
    Wound,
    end_edges,
    helical_edges,
    line_in_edges,
    side_edges,
    straight,
)
from wise_compass.geometry.coils import CoilEdge, FlankContour, Winding, even_half, flank_contours, pointed_half
from wise_compass.geometry.vectors import Array, Number, point, point3


class ScrewThread(Wound, id="screw-thread", family="helices", title="Screw thread"):
    keys = ("A*", "C*", "D*", "E*", "G*", "H*", "O", "P*")
    brief = (
        "A {hand}-hand screw with a {form} thread {outer_diameter} over a core of "
        "{core_diameter}, lead {lead} in {starts} starts, "
        "{turns} turns, found with {method} in {divisions} divisions."
    )
    summary = "A ridge wound on a core, square or vee. Its shape only: what it may carry is for a qualified engineer."
    value_names = ("lead_angle",)

    outer_diameter = Length(48, "the diameter over the thread")
    core_diameter = Length(
        42, "the diameter of the core", most=lambda g: 0.96 * g.outer_diameter, least=lambda g: 0.2 * g.outer_diameter
    )
    lead = Length(14, "the lead", most=lambda g: 4 * g.outer_diameter)
    starts = Count(1, "the number of starts", 1, 4)
    turns = Real(2, "the number of turns", least=0.25, most=12)
    form = Choice("square", "the form of the thread", ("square", "vee"))

    @property
    def pitch_of(self) -> float:
        return self.lead

    @property
    def pitch(self) -> float:
        """From one ridge to the next."""
        return self.lead / self.starts

    @property
    def coil_radius(self) -> float:
        return self.outer_diameter / 2

    @property
    def widest(self) -> float:
        return self.outer_diameter / 2

    @property
    def overhang(self) -> float:
        """How far the core stands out beyond the middle of the first and the last ridge."""
        return self.pitch

    @property
    def root(self) -> float:
        return self.overhang

    @property
    def crown(self) -> float:
        return self.rise + self.overhang

    @cached_property
    def winding(self) -> Winding:
        core, outer = self.core_diameter / 2, self.outer_diameter / 2
        half = even_half(self.pitch / 4) if self.form == "square" else pointed_half(self.pitch / 2, core, outer)
        ends = -self.overhang, self.rise + self.overhang
        return Winding(core, outer, self.lead, self.whole_turns, self.sign, self.starts, half, core, *ends)

    @cached_property
    def flanks(self) -> list[FlankContour]:
        """Where the flanks of a vee thread turn away from the eye."""
        if self.form == "square":
            return []
        return [
            one
            for start in range(self.starts)
            for upper in (True, False)
            for one in flank_contours(self.winding, self.slope, upper, start)
        ]

    @property
    def slope(self) -> float:
        """How far a vee thread's flank falls along the axis, by the radius."""
        return self.pitch / (self.outer_diameter - self.core_diameter)

    def helix_lines(self) -> list[tuple[str, float, float]]:
        outer, core, p = self.outer_diameter / 2, self.core_diameter / 2, self.pitch
        if self.form == "vee":
            return [("A", outer, 0.0), ("C", core, p / 2), ("E", core, -p / 2)]
        return [("A", outer, p / 4), ("B", outer, -p / 4), ("C", core, p / 4), ("E", core, -p / 4)]

    def values(self, method: str) -> Iterable[Value]:
        lead, mean = bare(self.lead), (self.outer_diameter + self.core_diameter) / 2
        for name, diameter, words in (
            ("lead_angle", mean, "at the mean diameter"),
            ("lead_angle_outer", self.outer_diameter, "at the outside"),
            ("lead_angle_core", self.core_diameter, "at the core"),
        ):
            angle = float(np.rad2deg(np.arctan2(self.lead, np.pi * diameter)))
            yield Value(name, angle, "°", f"arctan({lead} / (π × {bare(diameter)})), {words}", ("D0", "D2"))
        yield Value("pitch", self.pitch, "mm", f"{lead} / {self.starts}", ("P0",))
        yield Value(
            "depth",
            (self.outer_diameter - self.core_diameter) / 2,
            "mm",
            f"({bare(self.outer_diameter)} − {bare(self.core_diameter)}) / 2",
        )
        if self.form == "vee":
            flank = float(np.rad2deg(np.arctan2(self.pitch, self.outer_diameter - self.core_diameter)))
            yield Value(
                "included_angle",
                2 * flank,
                "°",
                f"2 arctan({bare(self.pitch)} / ({bare(self.outer_diameter)} − "
                f"{bare(self.core_diameter)})), in a section through the axis",
            )
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        return {"lead_angle": measured_development(found)["lead_angle"], **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        yield from self.edge_truths(found)
        if self.flanks:
            words = "Each flank’s line runs from root to crest of one flank, where it turns away from the eye"
            yield Truth(words, self._flank_misses(found))

    def _flank_misses(self, found: Found) -> Array:
        """How far the ends of the flanks' lines are from their helices, and the flank's normal there from lying square
        to the line of sight."""
        climb, root, crest = self.lead / (2 * np.pi), self.core_diameter / 2, self.outer_diameter / 2
        misses = []
        for k, flank in enumerate(self.flanks):
            way = 1 if flank.upper else -1
            turned = []
            for name, radius, up in (("K", crest, 0.0), ("R", root, self.pitch / 2)):
                at = found[f"{name}{k}"]
                turned.append((at[..., 1] - self.lift - way * up) / climb)
                bearing = self.sign * turned[-1] + 2 * np.pi * flank.start / self.starts
                misses.append(at[..., 0] - radius * np.cos(bearing))
                misses.append(climb * np.cos(bearing) - way * self.sign * self.slope * radius * np.sin(bearing))
            misses.append(np.maximum(np.abs(turned[0] - turned[1]) - np.pi / 2, 0.0))
        return np.stack(misses)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        outer, core = self.outer_diameter / 2, self.core_diameter / 2
        yield self.plan_width(found, -core, core, "core_diameter", self.core_diameter, prefix="⌀")
        yield self.plan_width(found, -outer, outer, "outer_diameter", self.outer_diameter, rank=2, prefix="⌀")
        if self.whole_turns >= 1:
            yield Linear(point(outer, self.lift), point(outer, self.lift + self.lead), "lead", self.lead)
        yield from self.touch_dimensions(found)


@method(
    ScrewThread,
    "divided-circle",
    about="Crest and root helices from two divided circles, the far flanks left away.",
    source="The definition of the helix; contours where the flank turns away from the eye",
)
def thread_divided(g: ScrewThread, d: Draft) -> None:
    outer_radius, core_radius = g.outer_diameter / 2, g.core_diameter / 2
    with d.phase("Plan"):
        views, centre = g.plan_by_hand(d)
        outer = d.circle_in(centre, outer_radius, "Centre O, line in the circle over the thread.")
        core = d.circle_in(centre, core_radius, "Same centre, line in the core.")
        plan = plan_points(g, d, centre, outer)
    with d.phase("Rise"):
        foot = g.foot_by_hand(d, views)
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, g.divisions // 4, g.divisions)
    edges = []
    with d.phase("The ridge"):
        for start in range(g.starts):
            shift = 360.0 * start / g.starts
            rings = {
                radius: further_ring(g, d, centre, circle, shift)
                for radius, circle in ((outer_radius, outer), (core_radius, core))
            }
            words = (
                "a quarter of the pitch up and down"
                if g.form == "square"
                else "the crest, and the root half the pitch up and down"
            )
            which = f" of start {start + 1}" if g.starts > 1 else ""
            says = f"From the divisions of outer and core circle carry up the edges{which}: {words}."
            edges.append(helical_edges(g, d, rings, points, start, says))
        flank_ends = _flank_ends(g, d, points)
    mean = (g.outer_diameter + g.core_diameter) / 2
    development(d, point(g.widest + 2.2 * GAP, g.lift), np.pi * mean, 1.0, g.lead)
    g.touch_in(d)
    with d.phase("Line in"):
        corners = core_ends(g, d, foot)
        stretches = [
            *core_sides(g, corners),
            *(one for s, found in enumerate(edges) for one in _thread_edges(g, found, flank_ends, s)),
        ]
        words = (
            "Line in the sides of the core, the edges and the flanks as far as they "
            "are seen; the near flank hides the far one."
        )
        line_in_edges(g, d, stretches, words)
    record_in_space(d, views, plan, points)


def core_ends(g: ScrewThread, d: Draft, foot: Spot) -> list[list[Spot]]:
    """The corners of the core's elevation, left and right of its bottom and its top, and both ends lined in."""
    radius = g.core_diameter / 2
    rows = []
    with d.phase("The core"):
        for height, words in ((g.winding.foot, "bottom"), (g.winding.top, "top")):
            says = f"From the foot measure off both corners of the core’s {words}."
            with d.as_one("Rule", says, Setting(radius, "mm"), Setting(abs(height), "mm")):
                rows.append([d.measure_off(foot, point(x, height), kind="plain") for x in (-radius, radius)])
            d.line_in(rows[-1], says=f"Line in the {words} of the core.")
    return rows


def core_sides(g: ScrewThread, corners: list[list[Spot]]) -> list[CoilStretch]:
    """The sides of the core, which show between the ridges; walked in steps of a thirtieth of the pitch."""
    core, winding = g.core_diameter / 2, g.winding
    finest = FINEST / g.pitch * 30

    def side(x: float) -> CoilEdge:
        def at(t: Number) -> Array:
            return point3(x, 0.0 * np.asarray(t), np.asarray(t) / finest)

        return CoilEdge(at, winding.foot * finest, winding.top * finest)

    return [straight(side(x), low.at, high.at) for x, low, high in zip((-core, core), *corners)]


def _thread_edges(
    g: ScrewThread, edges: Edges, flank_ends: Sequence[tuple[Spot, Spot]], start: int
) -> list[CoilStretch]:
    if g.form == "square":
        ends = end_edges(g, edges, start, (("C", "A"), ("E", "B")), (("B", "A"),))
        return [*edges.values(), *side_edges(g, edges, start, (("B", "A"),)), *ends]
    lower_root = 360.0 / g.starts  # further on it is the upper root of the ridge before
    shared = edges["E"]._replace(edge=edges["E"].edge._replace(last=min(lower_root, g.total)))
    ends = end_edges(g, edges, start, (("C", "A"), ("E", "A")), ())
    return [edges["A"], edges["C"], shared, *_flanks(g, flank_ends, start), *ends]


def _flank_ends(g: ScrewThread, d: Draft, points: Sequence[Spot]) -> list[tuple[Spot, Spot]]:
    """Where each flank's line leaves the root and where it reaches the crest."""
    if not g.flanks:
        return []
    lean = [
        float(np.rad2deg(np.arctan2(g.lead / (2 * np.pi), g.slope * radius)))
        for radius in (g.winding.core, g.winding.outer)
    ]
    says = (
        f"The flanks turn away from the eye {trim(lean[0])}° off the sides on the core and {trim(lean[1])}° on the "
        "outer circle, the upper ones beyond, the lower ones before. Carry these places up to root and crest: R0, K0 …"
    )
    turned = g.turned_at()
    ends = []
    with d.as_one("Protractor", says, *(Setting(angle, "°") for angle in lean)):
        for k, flank in enumerate(g.flanks):
            two = []
            for letter, radius, at in (("R", g.winding.core, flank.root), ("K", g.winding.outer, flank.crest)):
                near = int(np.abs(turned - at).argmin())
                off = g.flat(flank.edge.at(radius)) - g.flat(g.winding.on(g.coil_radius, turned[near], 0.0))
                two.append(d.measure_off(points[near], off, f"{letter}{k}", kind="plain"))
            ends.append((two[0], two[1]))
    return ends


def _flanks(g: ScrewThread, ends: Sequence[tuple[Spot, Spot]], start: int) -> Iterator[CoilStretch]:
    """The lines of a start's flanks."""
    for flank, (root, crest) in zip(g.flanks, ends):
        if flank.start == start:
            yield straight(flank.edge, root.at, crest.at)
