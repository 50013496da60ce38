"""Coil springs and screw threads: helices with a section, drawn with the outlines that are seen from in front.

What the nearer coils hide is left away, as on a working drawing; the far flank of a thread is hidden by the near one.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Choice, Count, Length
from wise_compass.drafting.givens import Number as NumberGiven
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.measures import Dimension, Linear
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import trim
from wise_compass.figures.helices import (
    GAP,
    Coil,
    development,
    find_points,
    levels_of,
    measured_development,
    plan_points,
)
from wise_compass.geometry.coils import (
    Edge,
    Winding,
    end_ring,
    even_half,
    flank_contours,
    pointed_half,
    round_half,
    tube_side,
    visible_pieces,
)
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    distance,
    dot,
    left_of,
    length,
    point,
    point3,
    unit,
)

FINEST = 6.0
"""Degrees between the places of an edge at which it is asked whether it is seen."""


class Wound(Coil):
    """What springs and threads share: a section wound on a cylinder, its edges, and which stretches of them are seen."""

    divisions = Count(12, "the divisions of a turn", 8, 24, multiple=4)

    @property
    def pitch_of(self) -> float:
        """Rise of the coil in a turn."""
        raise NotImplementedError

    @property
    def coil_radius(self) -> float:
        """Of the line that the points P lie on."""
        raise NotImplementedError

    @property
    def winding(self) -> Winding:
        raise NotImplementedError

    def helix_lines(self) -> list[tuple[str, float, float]]:
        """The helical edges of the section: a letter, the radius, and the height above the middle."""
        raise NotImplementedError

    def radius_at(self, k: Number) -> Number:
        return self.coil_radius + 0.0 * np.asarray(k, dtype=float)

    def height_at(self, k: Number) -> Number:
        return self.pitch_of * np.asarray(k, dtype=float) / self.divisions

    @property
    def rise(self) -> float:
        return self.pitch_of * self.whole_turns

    @property
    def total(self) -> float:
        return 360.0 * self.whole_turns

    def turned_at(self) -> Array:
        """The angle turned at each division."""
        return np.asarray(360.0 / self.divisions * np.arange(self.spaces + 1), dtype=float)

    def flat(self, at: Array) -> Array:
        """A point in space as the elevation shows it."""
        return point(at[..., 0], at[..., 2] + self.lift)

    def helix_edge(self, radius: float, up: float, start: int, last: float | None = None) -> Edge:
        winding = self.winding
        stations = tuple(self.turned_at())
        return Edge(lambda t: winding.on(radius, t, up, start), 0.0, self.total if last is None else last, stations)

    def end_edges(self, start: int, upright: Sequence[float]) -> list[Edge]:
        """The edges of both end faces: the flanks by the radius, and uprights at the radii ``upright``."""
        winding, made = self.winding, []
        for turned in (0.0, self.total):
            for sign in (1, -1):
                made.append(
                    Edge(
                        lambda r, t=turned, s=sign: winding.on(r, t, s * np.asarray(winding.half(r)), start),  # type: ignore[misc]
                        winding.inner,
                        winding.outer,
                    )
                )
            for radius in upright:
                half = float(winding.half(radius))
                made.append(Edge(lambda z, t=turned, r=radius: winding.on(r, t, z, start), -half, half))  # type: ignore[misc]
        return made

    def side_edges(self, start: int, radii: Sequence[float]) -> list[Edge]:
        """Uprights at the sides, where a cylinder of the section turns away from the eye."""
        winding, made = self.winding, []
        shift = winding.sign * 360.0 * start / winding.starts
        for k in range(-2, int(2 * winding.turns) + 3):
            turned = 180.0 * k - shift
            if 1e-6 < turned < self.total - 1e-6:
                for radius in radii:
                    half = float(winding.half(radius))
                    made.append(Edge(lambda z, t=turned, r=radius: winding.on(r, t, z, start), -half, half))  # type: ignore[misc]
        return made

    def edge_truths(self, found: Found) -> Iterator[Truth]:
        """The edges stand where their radius and height belong."""
        turned = self.turned_at()
        for letter, radius, up in self.helix_lines():
            exact = self.flat(self.winding.on(radius, turned, up))
            words = f"Edge {letter} keeps {trim(radius)} mm from the axis and {trim(up)} mm from the middle of its coil"
            yield Truth(words, distance(found.group(letter), exact))


def line_in_edges(g: Wound, d: Draft, edges: Sequence[Edge], says: str) -> None:
    """The stretches of edges that are seen."""
    pieces = visible_pieces(g.winding, edges, FINEST)
    with d.as_one("Curve", says):
        for edge, stretches in zip(edges, pieces):
            for a, b in stretches:
                course = g.flat(edge.at(np.array(edge.places(a, b))))
                spots = [d.also("", at, "plain") for at in course]
                if len(spots) > 2:
                    d.curve(spots)
                else:
                    d.line_in(spots)


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
    turns = NumberGiven(3, "the number of turns", least=0.25, most=12)

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
            heading = self.elevation().heading(self.turned_at())
            for letter in "UL":
                out = found.group(letter) - found.group("P")
                words = f"Outline {letter} runs half the wire from the middle"
                yield Truth(words, length(out) - self.wire / 2)
                yield Truth(f"Outline {letter} stands square off the middle line there", dot(out, unit(heading)))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = self.coil_radius
        yield Linear(point(-right, -self.widest), point(right, -self.widest), "mean_diameter", self.mean_diameter)
        if self.whole_turns >= 1:
            side = self.widest
            yield Linear(point(side, self.lift), point(side, self.lift + self.pitch), "pitch", self.pitch)


@method(
    CoilSpring, "divided-circle", about="The helix of the middle, the wire's own outline beside it, the hidden coils left away."
)
def spring_divided(g: CoilSpring, d: Draft) -> None:
    with d.phase("Plan"):
        centre = d.start_at("O", says="Mark the centre O of the plan.")
        middle = d.compass(centre, g.coil_radius, "Centre O, draw the circle of the wire’s middle.", role=Role.CENTRE)
        d.circle_in(centre, g.coil_radius + g.wire / 2, "Line in its outside.", why="half the wire more")
        d.circle_in(centre, g.coil_radius - g.wire / 2, "Line in its inside.", why="half the wire less")
        plan = plan_points(g, d, centre, middle)
    with d.phase("Rise"):
        foot = d.plot("", 0.0, g.lift, "Mark the foot of the elevation above O.", kind="plain")
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, g.divisions // 4)
    development(d, point(g.widest + 2.2 * GAP, g.lift), np.pi * g.mean_diameter, 1.0, g.pitch)
    g.touch_in(d)
    edges = _round_edges(g, d, points) if g.section == "round" else _square_edges(g, d, plan, points)
    with d.phase("Line in"):
        line_in_edges(g, d, edges, "Line in the outlines as far as they are seen; what nearer coils hide stays away.")
    record_in_space(g, d, plan, points, foot)


def record_in_space(g: Wound, d: Draft, plan: Sequence[Spot], points: Sequence[Spot], foot: Spot) -> None:
    for k, (spot, up) in enumerate(zip(plan, points)):
        d.in_space(f"H{k}", point3(spot.at[..., 0], -spot.at[..., 1], up.at[..., 1] - foot.at[..., 1]))


def _round_edges(g: CoilSpring, d: Draft, points: Sequence[Spot]) -> list[Edge]:
    winding, r = g.winding, g.wire / 2
    with d.phase("The wire"):
        says = "At the sides and on the axis draw the wire’s own circle; the outlines touch all such circles."
        with d.as_one("Compass", says, Setting(r, "mm")):
            for spot in points[:: g.divisions // 4]:
                d.compass(spot, r)
        heading = g.elevation().heading(g.turned_at())
        with d.as_one(
            "Dividers", "Beside every point, square off the middle line, half the wire both ways: U and L.", Setting(r, "mm")
        ):
            for letter, side in (("U", 1), ("L", -1)):
                for k, spot in enumerate(points):
                    d.also(f"{letter}{k}", spot.at + side * r * left_of(unit(heading[k])), "plain")
    edges = [tube_side(winding, g.coil_radius, r, side, tuple(g.turned_at())) for side in (1, -1)]
    return edges + [end_ring(winding, g.coil_radius, r, turned) for turned in (0.0, g.total)]


def _square_edges(g: CoilSpring, d: Draft, plan: Sequence[Spot], points: Sequence[Spot]) -> list[Edge]:
    winding, w = g.winding, g.wire / 2
    edges_by_hand(g, d, plan, points, "The wire", f"The four edges: half the wire, {trim(w)} mm, in and out, up and down.")
    both = (winding.inner, winding.outer)
    edges = [g.helix_edge(radius, up, 0) for _, radius, up in g.helix_lines()]
    return edges + g.end_edges(0, both) + g.side_edges(0, both)


def edges_by_hand(g: Wound, d: Draft, plan: Sequence[Spot], points: Sequence[Spot], phase: str, says: str) -> None:
    """The points of the helical edges of the first start, from the plan's divisions and the coil's levels."""
    bearings = [angle_of(spot.at) for spot in plan]
    with d.phase(phase), d.as_one("Dividers", says):
        for letter, radius, up in g.helix_lines():
            for k, (bearing, level) in enumerate(zip(bearings, points)):
                d.also(f"{letter}{k}", point(radius * cosd(bearing), level.at[..., 1] + up), "plain")


class ScrewThread(Wound, id="screw-thread", family="helices", title="Screw thread"):
    brief = (
        "A {hand}-hand screw with a {form} thread {outer_diameter} over a core of {core_diameter}, lead {lead} in {starts} starts, "
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
    turns = NumberGiven(2.5, "the number of turns", least=0.25, most=12)
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
    def lift(self) -> float:
        return self.widest + GAP + self.overhang

    @property
    def winding(self) -> Winding:
        core, outer = self.core_diameter / 2, self.outer_diameter / 2
        half = even_half(self.pitch / 4) if self.form == "square" else pointed_half(self.pitch / 2, core, outer)
        ends = -self.overhang, self.rise + self.overhang
        return Winding(core, outer, self.lead, self.whole_turns, self.sign, self.starts, half, core, *ends)

    def helix_lines(self) -> list[tuple[str, float, float]]:
        outer, core, p = self.outer_diameter / 2, self.core_diameter / 2, self.pitch
        if self.form == "vee":
            return [("A", outer, 0.0), ("C", core, p / 2), ("E", core, -p / 2)]
        return [("A", outer, p / 4), ("B", outer, -p / 4), ("C", core, p / 4), ("E", core, -p / 4)]

    def values(self, method: str) -> Iterable[Value]:
        lead, mean = trim(self.lead), (self.outer_diameter + self.core_diameter) / 2
        for name, diameter, words in (
            ("lead_angle", mean, "at the mean diameter"),
            ("lead_angle_outer", self.outer_diameter, "at the outside"),
            ("lead_angle_core", self.core_diameter, "at the core"),
        ):
            angle = float(np.rad2deg(np.arctan2(self.lead, np.pi * diameter)))
            yield Value(name, angle, "°", f"arctan({lead} / (π × {trim(diameter)})), {words}", ("D0", "D2"))
        yield Value("pitch", self.pitch, "mm", f"{lead} / {self.starts}", ("P0",))
        yield Value(
            "depth",
            (self.outer_diameter - self.core_diameter) / 2,
            "mm",
            f"({trim(self.outer_diameter)} − {trim(self.core_diameter)}) / 2",
        )
        if self.form == "vee":
            flank = float(np.rad2deg(np.arctan2(self.pitch, self.outer_diameter - self.core_diameter)))
            yield Value(
                "included_angle", 2 * flank, "°", f"2 arctan(½ × {trim(self.pitch)} / depth), in a section through the axis"
            )
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        return {"lead_angle": measured_development(found)["lead_angle"], **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from super().truths(found)
        yield from self.edge_truths(found)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        outer, core = self.outer_diameter / 2, self.core_diameter / 2
        low = -self.widest
        yield Linear(point(-core, low), point(core, low), "core_diameter", self.core_diameter)
        yield Linear(point(-outer, low), point(outer, low), "outer_diameter", self.outer_diameter, rank=2)
        if self.whole_turns >= 1:
            yield Linear(point(outer, self.lift), point(outer, self.lift + self.lead), "lead", self.lead)


@method(ScrewThread, "divided-circle", about="Crest and root helices from two divided circles, the far flanks left away.")
def thread_divided(g: ScrewThread, d: Draft) -> None:
    with d.phase("Plan"):
        centre = d.start_at("O", says="Mark the centre O of the plan.")
        outer = d.circle_in(centre, g.outer_diameter / 2, "Centre O, line in the circle over the thread.")
        d.circle_in(centre, g.core_diameter / 2, "Same centre, line in the core.")
        plan = plan_points(g, d, centre, outer)
    with d.phase("Rise"):
        foot = d.plot("", 0.0, g.lift, "Mark the foot of the elevation above O.", kind="plain")
        levels = levels_of(g, d, foot, g.rise)
    with d.phase("Find the points"):
        points = find_points(d, levels, plan, g.divisions // 4)
    words = "a quarter of the pitch up and down" if g.form == "square" else "the crest, and the root half the pitch up and down"
    edges_by_hand(g, d, plan, points, "The ridge", f"From outer and core circle the edges, {words}.")
    mean = (g.outer_diameter + g.core_diameter) / 2
    development(d, point(g.widest + 2.2 * GAP, g.lift), np.pi * mean, 1.0, g.lead)
    g.touch_in(d)
    rows = [_core_sides(g), *(_thread_edges(g, start) for start in range(g.starts))]
    with d.phase("Line in"):
        with d.as_one("Straightedge", "Line in both ends of the core."):
            for z in (g.winding.foot, g.winding.top):
                d.line_in([d.also("", g.flat(point3(x, 0.0, z)), "plain") for x in (-g.winding.core, g.winding.core)])
        words = (
            "Line in the sides of the core, the edges and the flanks as far as they are seen; the near flank hides the far one."
        )
        line_in_edges(g, d, [edge for row in rows for edge in row], words)
    record_in_space(g, d, plan, points, foot)


def _core_sides(g: ScrewThread) -> list[Edge]:
    """The sides of the core, which show between the ridges; walked in steps of a thirtieth of the pitch."""
    core, winding = g.core_diameter / 2, g.winding
    finest = FINEST / g.pitch * 30

    def upright(x: float) -> Edge:
        def at(t: Number) -> Array:
            return point3(x, 0.0 * np.asarray(t), np.asarray(t) / finest)

        return Edge(at, winding.foot * finest, winding.top * finest)

    return [upright(core), upright(-core)]


def _thread_edges(g: ScrewThread, start: int) -> list[Edge]:
    winding = g.winding
    lower_root = 360.0 / g.starts  # further on it is the upper root of the ridge before
    edges = []
    for letter, radius, up in g.helix_lines():
        shared = g.form == "vee" and letter == "E"
        edges.append(g.helix_edge(radius, up, start, min(lower_root, g.total) if shared else None))
    if g.form == "square":
        return edges + g.side_edges(start, (winding.outer,)) + g.end_edges(start, (winding.outer,))
    slope = g.pitch / (g.outer_diameter - g.core_diameter)
    contours = [edge for upper in (True, False) for edge in flank_contours(winding, slope, upper, start)]
    return edges + contours + g.end_edges(start, ())
