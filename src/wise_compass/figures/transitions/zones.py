"""A ball covered by zones: belts of equal arc from pole to pole, each the frustum of a cone through its two circles."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, Edge, Face, Part, Solid
from wise_compass.drafting.dimensions import Dimension, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.solids.sectors import sector_ends
from wise_compass.geometry.solids import ring
from wise_compass.geometry.unfold import FlatPiece, Pattern, leaning, resting
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, distance, multiples, polar, sind

APART, BEYOND = 18.0, 6.0
"""What is left between one pattern and the next, and how far centre lines run beyond."""
LEVEL = 1e-9
"""Of the ball's radius: circles that differ by less are as wide, and what is between them is a cylinder."""
SLICES, SIDES = 24, 18
"""Sides of a zone in space, and of its pattern as it is rolled up."""


class Zone(NamedTuple):
    """A zone: the radii of its upper and its lower circle, and of its pattern's arcs with its sector in degrees; 0 for
    a cylinder."""

    upper: float
    lower: float
    inner: float
    outer: float
    sector: float


class SphereZones(Solid, Developed, Figure, id="sphere-zones", family="transitions", title="Ball in zones"):
    keys = ("O", "P*", "Q*", "R*", "W*")
    brief = "A ball {diameter} wide in {zones} zones of equal arc from pole to pole. Found with {method}."
    summary = (
        "A boiler’s end, a lamp’s globe: belts of cones, each between two arcs; the lower half is the upper once more."
    )
    value_names = ("sector_angles", "radii")
    ways = ("radial-lines",)
    across = ("diameter",)
    hazards = (hazards.SHEET, hazards.DUCT)

    diameter = Length(88, "the diameter of the ball")
    zones = Count(6, "the zones", 2, 24)

    @property
    def ball(self) -> float:
        """The ball's radius."""
        return self.diameter / 2

    @property
    def slant(self) -> float:
        """The chord of a zone's arc: the length of its side."""
        return float(self.diameter * sind(90.0 / self.zones))

    @cached_property
    def belts(self) -> list[Zone]:
        """From the upper pole down."""
        rims = self.ball * sind(multiples(180.0 / self.zones, self.zones + 1))
        found = []
        for upper, lower in zip(rims[:-1].tolist(), rims[1:].tolist()):
            off = abs(lower - upper)
            if off <= LEVEL * self.ball:
                found.append(Zone(upper, lower, 0.0, 0.0, 0.0))
                continue
            narrow, wide = sorted((upper, lower))
            narrow = 0.0 if narrow <= LEVEL * self.ball else narrow
            found.append(
                Zone(upper, lower, self.slant * narrow / off, self.slant * wide / off, 360.0 * off / self.slant)
            )
        return found

    @property
    def drawn(self) -> list[Zone]:
        """Those of the upper half, and the one in the middle."""
        return self.belts[: (self.zones + 1) // 2]

    def values(self, method: str) -> Iterable[Value]:
        says = f"360° × how much wider one circle is / {bare(self.slant)}, of all zones from the upper pole … down"
        yield Value("sector_angles", [zone.sector for zone in self.belts], "°", says)
        radii: list[object] = [[zone.inner, zone.outer] if zone.sector else None for zone in self.belts]
        yield Value(
            "radii", radii, "mm", f"{bare(self.slant)} × the radius of a circle / how much wider one is than the other"
        )

    def measure(self, found: Found) -> dict[str, Number]:
        angles = []
        for k, zone in enumerate(self.drawn, 1):
            if zone.sector:
                ends = [angle_of(found[f"{letter}{k}"] - found[f"W{k}"]) for letter in "QR"]
                angles.append((ends[1] - ends[0]) % 360.0)
            else:
                angles.append(np.zeros(()))
        angles += angles[: self.zones // 2][::-1]
        return {"sector_angles": np.stack(np.broadcast_arrays(*angles), axis=-1)}

    def truths(self, found: Found) -> Iterator[Truth]:
        arcs, seams, covered = [], [], 0.0
        for k, zone in enumerate(self.drawn, 1):
            if not zone.sector:
                arcs.append(float(distance(found[f"Q{k}"], found[f"R{k}"])) - 2 * np.pi * zone.upper)
                seams.append(float(distance(found[f"Q{k}"], found[f"P{k}"])) - self.slant)
                covered += float(distance(found[f"Q{k}"], found[f"R{k}"])) * self.slant
                continue
            w, q, r = (found[f"{letter}{k}"] for letter in "WQR")
            turn = float(np.deg2rad((angle_of(r - w) - angle_of(q - w)) % 360.0))
            far, near = float(distance(w, q)), float(distance(w, found[f"P{k}"])) if zone.inner else 0.0
            arcs += [
                turn * far - 2 * np.pi * max(zone.upper, zone.lower),
                turn * near - 2 * np.pi * zone.inner * zone.sector / 360,
            ]
            seams.append(far - near - self.slant)
            covered += turn * (far**2 - near**2) / 2 * (1 if k > self.zones // 2 else 2)
        yield Truth("Every arc is as long as its circle is round", np.array(arcs))
        yield Truth("Every seam is as long as the side of its zone", np.array(seams))
        pattern = self.pattern(found)
        yield Truth("Rolled up, the zones come together", pattern.gap())
        yield Truth("Rolled up, every corner lies on the ball", pattern.stray())
        yield Truth("The zones are as large as the ball", (covered - 4 * np.pi * self.ball**2) / self.ball)

    def cut_out(self, found: Found) -> Sequence[Part]:
        return [self._part(k, zone) for k, zone in enumerate(self.drawn, 1)]

    def _part(self, k: int, zone: Zone) -> Part:
        """A zone between its arcs, or up to its pole; those of the upper half are wanted twice."""
        loop = [f"Q{k}", f"R{k}", *([f"S{k}", f"P{k}"] if zone.inner or not zone.sector else [f"W{k}"])]
        kinds = ["base", "seam", *(["top"] if len(loop) == 4 else []), "side"]
        edges = [Edge(*pair, kind) for pair, kind in zip(zip(loop, loop[1:] + loop[:1]), kinds)]
        return Part(f"Zone {k}", edges, 2 if k <= self.zones // 2 else 1)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["O"], self.ball, "diameter", self.diameter, -45.0, diameter=True)

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        heights = self.ball * (1 + cosd(multiples(180.0 / self.zones, self.zones + 1)))
        faces = []
        for k, zone in enumerate(self.belts):
            high, low = (
                ring(zone.upper, SLICES, height=float(heights[k])),
                ring(zone.lower, SLICES, height=float(heights[k + 1])),
            )
            for j in range(SLICES):
                corners = [low[j - 1], low[j], high[j], high[j - 1]]
                corners = corners[:3] if k == 0 else corners[1:] if k == self.zones - 1 else corners
                faces.append(Face(np.array(corners), k + 1))
        return faces

    def is_developed(self, found: Found) -> bool:
        return True

    def _rims(self, sides: int) -> list[Array]:
        """The circles from the upper pole down to the middle, as corners in space of so many sides."""
        turns = multiples(180.0 / self.zones, len(self.drawn) + 1)
        heights, radii = self.ball * (1 + cosd(turns)), self.ball * sind(turns)
        return [ring(float(r), sides, height=float(h)) for r, h in zip(radii, heights)]

    def _strip(self, k: int, found: Found) -> tuple[Array, Array]:
        """The corners on the flat of zone ``k``'s strips, along its lower and its upper arc, (sides + 1, 2) each.

        A side is drawn as wide as its arc and stands as wide as its chord.
        """
        zone, places, sine = self.drawn[k - 1], np.arange(SIDES + 1), float(sind(180.0 / SIDES))
        if not zone.sector:
            q, r, p = (found[f"{letter}{k}"] for letter in "QRP")
            along = (r - q) * float(SIDES * sine / np.pi) / SIDES
            low = q + along * places[:, None]
            return low, low + (p - q)
        w, q, r = (found[f"{letter}{k}"] for letter in "WQR")
        first = float(angle_of(q - w))
        drawn = float((angle_of(r - w) - first) % 360.0) / zone.sector
        half = float(np.degrees(np.arcsin(zone.sector / 360.0 * sine)))
        turn = np.asarray(first + 2 * half * drawn * places, dtype=np.float64)
        near = float(distance(w, found[f"P{k}"])) if zone.inner else 0.0
        return polar(w, float(distance(w, q)), turn), polar(w, near, turn)

    def pattern(self, found: Found) -> Pattern:
        """The zones that were drawn, each rolled up and hung on the one above it."""
        rims = self._rims(SIDES)
        pieces: list[FlatPiece] = []
        lies = {f"{k}:{j}": corner for k, rim in enumerate(rims) for j, corner in enumerate(rim)}
        lies["0:0"] = np.array([0.0, 0.0, 2 * self.ball])

        def names(k: int, j: int) -> tuple[str, ...]:
            after = (j + 1) % SIDES
            return (f"{k}:{j}", f"{k}:{after}", *([f"{k - 1}:{after}", f"{k - 1}:{j}"] if k > 1 else ["0:0"]))

        for k in range(1, len(self.drawn) + 1):
            low, high = self._strip(k, found)
            faces = [np.array([lies[name] for name in names(k, j)]) for j in range(SIDES)]
            for j in range(SIDES):
                flat = np.array([low[j], low[j + 1], *([high[j + 1], high[j]] if k > 1 else [high[j]])])
                hinge = np.array([low[j], high[j]])
                if j:
                    pieces.append(
                        FlatPiece(names(k, j), flat, len(pieces) - 1, leaning(faces[j - 1], faces[j]), hinge, hinge)
                    )
                    continue
                above = len(pieces) - SIDES
                own, on = (flat[[3, 2]], pieces[above].flat[[0, 1]]) if k > 1 else (None, None)
                over = np.array([lies[name] for name in names(k - 1, 0)]) if k > 1 else faces[0]
                pieces.append(
                    FlatPiece(
                        names(k, 0), flat, above if k > 1 else -1, leaning(over, faces[0]) if k > 1 else 0.0, own, on
                    )
                )
        return Pattern(pieces, resting(pieces[0].flat, np.array([lies[name] for name in pieces[0].names])), lies)


class _ZonesHand:
    """The ball on the way: its circle, the ends of the zones' sides, and where they run to."""

    axis: LineMark

    def __init__(self, g: SphereZones, d: Draft) -> None:
        self.g, self.d = g, d
        self.marks: list[Spot] = []

    def ball(self) -> None:
        g, d = self.g, self.d
        centre = d.start_at("O", says="Mark O, the middle of the ball.")
        with d.as_one("Set square", "Draw both centre lines through O."):
            d.level_from(centre, role=Role.CENTRE).extent(-g.ball - BEYOND, g.ball + BEYOND)
            self.axis = d.upright_from(centre, role=Role.CENTRE).extent(-g.ball - BEYOND, g.ball + BEYOND)
        circle = d.circle_in(centre, g.ball, "Centre O, draw the ball.", "half the diameter")
        rays = d.divide_turn(centre, 2 * g.zones, first=90.0, clockwise=True, length=g.ball)
        count = len(g.drawn) + 1
        with d.as_one(
            "Pencil", "On its right side mark the ends of the zones, from the upper pole down to the middle."
        ):
            for k in range(count):
                near = polar(centre.here, g.ball, 90.0 - 180.0 / g.zones * k)
                self.marks.append(d.meet(rays[k], circle, f"C{k}", near=near, kind="found"))

    def apexes(self) -> list[Spot]:
        """Where the sides of the cones run to, from the second zone on; the first runs to the pole."""
        g, d = self.g, self.d
        found = [self.marks[0]]
        with d.as_one("Straightedge", "Produce the side of every zone to the axis."):
            for k, zone in enumerate(g.drawn[1:], 2):
                if zone.sector:
                    side = d.rule(self.marks[k], self.marks[k - 1])
                    found.append(d.meet(side, self.axis, f"V{k}"))
        return found

    def pattern(self, k: int, zone: Zone, apex: Spot, left: float) -> float:
        """Zone ``k``'s pattern, all of it left of ``left``; where it ends there."""
        d, far_mark = self.d, self.marks[k]
        half = zone.sector / 2
        wide = zone.outer * (1.0 if half >= 90 else float(sind(half)))
        low = min(zone.inner * float(cosd(half)), zone.outer * float(cosd(half)))
        w = d.start_at(
            f"W{k}",
            left - wide,
            (zone.outer + low) / 2,
            f"Mark W{k}, the apex of zone {k}’s pattern, where it has room.",
        )
        far = d.opening(apex, far_mark)
        outer = d.compass(
            w, far, f"Centre {w.name}, swing an arc from the apex to the zone’s lower circle.", whole=False
        )
        outer.swing(-90.0 - half - 2.0, min(zone.sector + 4.0, 360.0))
        ends = sector_ends(d, w, outer, (zone.outer, zone.sector, zone.lower), (f"Q{k}", f"R{k}"))
        tops = [w, w]
        if zone.inner:
            near = d.opening(apex, self.marks[k - 1])
            inner = d.compass(w, near, f"Centre {w.name}, swing another to its upper circle.", whole=False)
            inner.swing(-90.0 - half - 2.0, min(zone.sector + 4.0, 360.0))
            with d.as_one("Straightedge", f"Join both ends to {w.name}."):
                tops = [d.meet(d.rule(w, end), inner, f"{name}{k}", near=end) for end, name in zip(ends, "PS")]
        d.arc_in(w, far, ends[0], ends[1], f"Line in the lower arc of zone {k}.")
        if zone.inner:
            d.arc_in(w, d.opening(apex, self.marks[k - 1]), tops[0], tops[1], "Line in its upper arc.")
        with d.as_one("Straightedge", "Line in both sides of the seam.", why=ALLOWANCES):
            for pair in zip(ends, tops):
                d.line_in(pair)
        return left - 2 * wide

    def belt(self, k: int, zone: Zone, left: float) -> None:
        """The middle zone of an odd number, a cylinder: as long as its circle is round, as wide as its side."""
        g, d = self.g, self.d
        girth = float(2 * np.pi * zone.upper)
        start = d.start_at(
            f"Q{k}", left - girth, -g.slant / 2, f"Mark Q{k}, a corner of the middle zone, where it has room."
        )
        base = d.level_from(start, "Draw its foot level.", length=girth)
        end = d.lay_off(base, start, girth, f"R{k}", "Lay off the girth of its circle.", f"2 × π × {bare(zone.upper)}")
        taken = d.opening(self.marks[k - 1], self.marks[k])
        with d.as_one("Dividers", "At both ends lay off the side of the zone upright."):
            tops = [
                d.lay_off(d.upright_from(spot), spot, taken, f"{name}{k}") for spot, name in ((start, "P"), (end, "S"))
            ]
        d.line_in([start, end, tops[1], tops[0]], closed=True, says="Line in the middle zone.", why=ALLOWANCES)


@method(
    SphereZones,
    "radial-lines",
    exact=False,
    about="Belts of equal arc taken for frusta of cones through their circles: a little smaller than the ball.",
    source="Approximate development of the sphere by zones",
)
def radial_lines(g: SphereZones, d: Draft) -> None:
    hand = _ZonesHand(g, d)
    with d.phase("The ball"):
        hand.ball()
        apexes = hand.apexes() if len(g.drawn) > 1 and g.drawn[1].sector else [hand.marks[0]]
    left = -g.ball - APART
    for k, zone in enumerate(g.drawn, 1):
        twice = "" if k > g.zones // 2 else ", twice"
        with d.phase(f"Zone {k}{twice}"):
            if zone.sector:
                left = hand.pattern(k, zone, apexes[k - 1], left) - APART
            else:
                hand.belt(k, zone, left)
