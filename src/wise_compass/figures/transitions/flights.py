"""A screw's flight cut as a flat ring, which it cannot truly be."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, Edge, Face, Part, Solid
from wise_compass.drafting.dimensions import Dimension, Leader
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Length
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, bare_area, least_mm, mm, trim
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, point

PART = 4
"""Into how many parts a turn is cut for the triangles of the edges' lengths, to save room."""
GAP = 18.0
SLICES = 36


class ScrewFlight(Solid, Developed, Figure, id="screw-flight", family="transitions", title="Flight of a screw"):
    keys = ("P*", "Q*", "W")
    brief = "A flight on a shaft {shaft} in diameter, {outer} across, one turn to {pitch}, as a ring cut with {method}."
    summary = "An auger's or a screw's flight: the flat ring that it is pressed from, and by how much that is off."
    ways = ("flat-ring",)
    value_names = (
        "inner_length",
        "outer_length",
        "inner_radius",
        "outer_radius",
        "sector_angle",
        "gap_angle",
        "area",
        "blank_area",
        "area_excess",
        "middle_excess",
    )
    hazards = (hazards.SHEET,)

    shaft = Length(42, "the diameter of the shaft", under="outer")
    outer = Length(120, "the diameter over the flight")
    pitch = Length(100, "the rise in one turn")

    def refuse(self) -> None:
        if self.outer - self.shaft < 0.2:
            raise Refused(
                "outer",
                f"The flight is {mm((self.outer - self.shaft) / 2)} wide. Raise outer to {least_mm(self.shaft + 0.2)}.",
            )

    @property
    def width(self) -> float:
        return (self.outer - self.shaft) / 2

    def edge(self, diameter: float) -> float:
        """The length of a helix of this diameter in one turn."""
        return float(np.hypot(np.pi * diameter, self.pitch))

    @property
    def turn(self) -> float:
        """The angle of the ring, in radians."""
        # the difference of both lengths by their squares, which loses no digits where they are nearly alike
        one, other = self.edge(self.shaft), self.edge(self.outer)
        return np.pi**2 * (self.outer - self.shaft) * (self.outer + self.shaft) / (one + other) / self.width

    @property
    def inner(self) -> float:
        """The ring's inner radius."""
        return self.edge(self.shaft) / self.turn

    @property
    def flight_area(self) -> float:
        """Of the helicoid: ∫ 2π √(r² + c²) dr, c being the rise to the radian."""
        c = self.pitch / (2 * np.pi)

        def upto(r: float) -> float:
            return float(r * np.hypot(r, c) + c * c * np.arcsinh(r / c))

        return float(np.pi) * (upto(self.outer / 2) - upto(self.shaft / 2))

    def cautions(self) -> Iterable[str]:
        excess = self.values_by_name["middle_excess"]
        yield (
            "A flight cannot be laid flat: the ring agrees in both edges and in "
            f"its width, and is {mm(excess)} longer in "
            "its middle. It is pressed and pulled to shape; leave what your press asks for at both ends."
        )
        yield (
            "Screws draw in hands and clothes: guard them. Pressing and welding are for those who are trained in them."
        )

    @property
    def values_by_name(self) -> dict[str, float]:
        return {value.name: value.value for value in self.values("flat-ring")}

    def values(self, method: str) -> Iterable[Value]:
        d, o, p, w = bare(self.shaft), bare(self.outer), bare(self.pitch), bare(self.width)
        one, other = self.edge(self.shaft), self.edge(self.outer)
        yield Value("inner_length", one, "mm", f"√((π × {d})² + {p}²)")
        yield Value("outer_length", other, "mm", f"√((π × {o})² + {p}²)")
        words = f"{bare(one)} × {w} / ({bare(other)} − {bare(one)})"
        yield Value("inner_radius", self.inner, "mm", words, ("W", "Q0"))
        yield Value("outer_radius", self.inner + self.width, "mm", f"{bare(self.inner)} + {w}", ("W", "P0"))
        sector = float(np.degrees(self.turn))
        words = f"180° / π × ({bare(other)} − {bare(one)}) / {w}"
        yield Value("sector_angle", sector, "°", words, ("Q0", "W", "Q1"))
        yield Value("gap_angle", 360.0 - sector, "°", f"360° − {trim(sector)}°")
        yield Value("area", self.flight_area, "mm²", "… ∫ of the helix’s length from the shaft to the rim")
        inner, outer = self.inner, self.inner + self.width
        blank = self.turn / 2 * (outer - inner) * (outer + inner)
        words = f"π × {trim(sector, 6)}° / 360° × ({bare(outer)}² − {bare(inner)}²)"
        yield Value("blank_area", blank, "mm²", words)
        yield Value(
            "area_excess", blank - self.flight_area, "mm²", f"{bare_area(blank)} − {bare_area(self.flight_area)}"
        )
        middle = self.turn * (inner + self.width / 2)
        helix = self.edge(self.shaft + self.width)
        yield Value(
            "middle_excess", middle - helix, "mm", f"{bare(middle)} − {bare(helix)}, the ring’s middle less the helix"
        )

    def _swept(self, found: Found) -> Number:
        """The angle of the ring as it was found, in radians."""
        w = found["W"]
        return np.deg2rad((angle_of(found["Q1"] - w) - angle_of(found["Q0"] - w)) % 360.0)

    def measure(self, found: Found) -> dict[str, Number]:
        w = found["W"]
        inner, outer = distance(w, found["Q0"]), distance(w, found["P0"])
        swept = self._swept(found)
        return {
            "inner_radius": inner,
            "outer_radius": outer,
            "sector_angle": np.rad2deg(swept),
            "gap_angle": 360.0 - np.rad2deg(swept),
            "blank_area": swept / 2 * (outer**2 - inner**2),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        told, swept = self.measure(found), self._swept(found)
        inner, outer = np.asarray(told["inner_radius"]), np.asarray(told["outer_radius"])
        yield Truth("The ring’s inner edge is as long as that of the flight", inner * swept - self.edge(self.shaft))
        yield Truth("So is its outer edge", outer * swept - self.edge(self.outer))
        yield Truth("The ring is as wide as the flight", outer - inner - self.width)
        middle = (inner + outer) / 2 * swept - self.edge(self.shaft + self.width)
        yield Truth("Its middle is as long as the flight’s", middle)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        at = found["S"]
        for name, size, words in (("shaft", self.shaft, "shaft ⌀"), ("outer", self.outer, "rim ⌀")):
            yield Leader(at + point(float(np.pi) * size / PART, 0.0), name, size, words)
        yield Leader(at + point(0.0, self.pitch / PART), "pitch", self.pitch, "pitch ")

    # in space, and as it is cut

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        faces = []
        for k in range(SLICES):
            corners = []
            for turn, radius in ((k, self.shaft), (k, self.outer), (k + 1, self.outer), (k + 1, self.shaft)):
                a = 2 * np.pi * turn / SLICES
                corners.append([radius / 2 * np.cos(a), -radius / 2 * np.sin(a), self.pitch * turn / SLICES])
            ring = np.array(corners)
            faces += [Face(ring, 1), Face(ring[::-1], 2)]
        return faces

    def own_edges(self) -> Sequence[Array]:
        """Both helices and the two ends: what parts the slices is no edge."""
        turns = 2 * np.pi * np.arange(SLICES + 1) / SLICES
        rims = [
            np.column_stack([r / 2 * np.cos(turns), -r / 2 * np.sin(turns), self.pitch * turns / (2 * np.pi)])
            for r in (self.shaft, self.outer)
        ]
        edges = [rim[k : k + 2] for rim in rims for k in range(SLICES)]
        return [*edges, *(np.array([rims[0][k], rims[1][k]]) for k in (0, -1))]

    def pattern(self, found: Found) -> None:
        """A flight is pressed to shape and not folded."""

    def cut_out(self, found: Found) -> Sequence[Part]:
        edges = [Edge("P0", "P1", "base"), Edge("P1", "Q1", "cut"), Edge("Q1", "Q0", "top"), Edge("Q0", "P0", "cut")]
        return [Part("The ring", edges)]


@method(
    ScrewFlight,
    "flat-ring",
    exact=False,
    about="Both edges' lengths by triangles of circumference and pitch; the ring that has both, by likeness.",
    source="Similar triangles (Euclid, Elements VI.4); sheet-metal workers' practice",
)
def flat_ring(g: ScrewFlight, d: Draft) -> None:
    with d.phase("Lengths of the edges"):
        corner = d.start_at("S", says="Mark S, the corner of the triangles of a quarter turn.", kind="plain")
        level = d.level_from(corner, "Draw level from S.", length=np.pi * g.outer / PART)
        post = d.upright_from(corner, "And upright.", length=g.pitch / PART)
        tip = d.lay_off(
            post, corner, g.pitch / PART, "", f"Lay off a quarter of the pitch: {mm(g.pitch / PART)}.", kind="plain"
        )
        taken: list[Opening] = []
        for diameter, words in ((g.shaft, "shaft"), (g.outer, "rim")):
            size = float(np.pi) * diameter / PART
            says = f"Lay off a quarter of the {words}’s circumference: {mm(size)}."
            end = d.lay_off(level, corner, size, "", says, f"π × {bare(diameter)} / {PART}", "plain")
            d.rule(tip, end, f"Join it to the pitch: a quarter of the edge at the {words}.")
            taken.append(d.opening(tip, end))
    with d.phase("The ring’s radii"):
        low = d.lay_off(
            post, corner, -(float(np.pi) * g.outer / PART + GAP), "", "Well below begin a level line.", kind="plain"
        )
        base = d.level_from(low, "Draw it.")
        near = d.also("Q0", low)
        far = d.lay_off(base, near, g.width, "P0", "To the right lay off the flight’s width: P0.")
        with d.as_one("Set square", "At both ends draw upright, and lay off the quarters of the edges."):
            tops = [d.lay_off(d.upright_from(at), at, size, "", kind="plain") for at, size in zip((near, far), taken)]
        own = d.choice("shaft-radius", right=False, slip=True, says="The ring is cut to the shaft’s own radius.")
        if own:
            centre = d.lay_off(base, near, -g.shaft / 2, "W", "From Q0 lay off the shaft’s radius: W.")
        else:
            slope = d.rule(tops[0], tops[1], "Join their ends, and on to the base: W, the centre of the ring.")
            centre = d.meet(slope, base, "W")
    with d.phase("The ring"):
        circles = []
        for letter, start in (("Q", near), ("P", far)):
            circles.append(d.compass(centre, d.opening(centre, start), f"Centre W, draw the circle through {letter}0."))
        sector = float(np.degrees(g.turn))
        says = f"At W set off the ring’s angle, {trim(sector)}°, as worked."
        with d.as_one("Protractor", says, Setting(360.0 - sector, "°")):
            ray = d.ray(centre, sector, instrument="Protractor")
            way = point(float(np.cos(g.turn)), float(np.sin(g.turn)))
            ends = [
                d.meet(ray, circle, f"{letter}1", near=centre.here + 1e4 * way) for letter, circle in zip("QP", circles)
            ]
    with d.phase("Line in"), d.apart("pattern"):
        d.arc_in(centre, d.opening(centre, far), far, ends[1])
        d.arc_in(centre, d.opening(centre, near), near, ends[0])
        with d.as_one("Straightedge", "Line in both ends."):
            d.line_in([near, far])
            d.line_in([ends[0], ends[1]])
