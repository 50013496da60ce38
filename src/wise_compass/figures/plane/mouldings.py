"""Mouldings of arcs: quarter rounds, hollows, the two cymas and the scotia."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Developed, Edge, Part
from wise_compass.drafting.dimensions import Dimension, Linear, angle_at
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Choice, Length, Real
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.moves import perpendicular_bisector
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.figures.plane.ratios import angle_between_spots
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, Number, angle_between, distance, left_of, point, sind, unit

ROUND = {
    "ovolo": (True,), "cavetto": (False,), "cyma-recta": (True, False), "cyma-reversa": (False, True),
    "scotia": (False, False),
}  # fmt: skip
"""Which arcs of each kind, from A on, bulge into the air."""


class MouldingArc(NamedTuple):
    """An arc of a moulding: its centre and radius, where it begins and ends, and whether it bulges into the air."""

    centre: Array
    radius: float
    start: Array
    end: Array
    round: bool


class Moulding(Developed, Figure, id="moulding", family="profiles", title="Moulding"):
    keys = ("A", "B", "K*")
    templet = True
    brief = (
        "A {kind} {height} high and {projection} out, of arcs of {arc_angle}, parted at {share} of its chord; "
        "found with {method}."
    )
    summary = "A moulding's profile of one or two arcs: ovolo, cavetto, cyma recta and reversa, scotia."
    value_names = ("radii", "centres", "touches", "length", "area")

    kind = Choice("cyma-recta", "the moulding", tuple(ROUND))
    height = Length(60, "the height", most=2000)
    projection = Length(48, "how far it projects", most=2000, zero=True)
    arc_angle = Angle(60, "the angle of each arc", least=20, most=180)
    share = Real(0.5, "where the arcs meet, as a part of the chord", least=0.1, most=0.9)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        """A scotia is of quarter arcs; one arc has no place where two meet."""
        kind = givens.get("kind", "cyma-recta")
        if kind == "scotia":
            return cls.brief.replace(", of arcs of {arc_angle}, parted at {share} of its chord", "")
        return cls.brief if len(ROUND[kind]) == 2 else cls.brief.replace(", parted at {share} of its chord", "")

    @property
    def rounds(self) -> tuple[bool, ...]:
        return ROUND[self.kind]

    @property
    def scotia(self) -> bool:
        return self.kind == "scotia"

    @property
    def end(self) -> Array:
        return point(-self.projection if self.scotia else self.projection, self.height)

    @property
    def turn(self) -> float:
        """The angle of each arc, in degrees."""
        return 90.0 if self.scotia else self.arc_angle

    @cached_property
    def arcs(self) -> list[MouldingArc]:
        """Its arcs from A to B."""
        if self.scotia:
            large, small = (self.height + self.projection) / 2, (self.height - self.projection) / 2
            low, high, meet = point(0.0, large), point(-self.projection, large), point(-large, large)
            return [
                MouldingArc(low, large, point(0.0, 0.0), meet, False),
                MouldingArc(high, small, meet, self.end, False),
            ]
        stops = [point(0.0, 0.0), *([self.share * self.end] if len(self.rounds) == 2 else []), self.end]
        made = []
        for a, b, bulges in zip(stops, stops[1:], self.rounds):
            chord = float(distance(a, b))
            radius = chord / (2 * float(sind(self.arc_angle / 2)))
            off = np.sqrt(max(radius**2 - chord**2 / 4, 0.0)) * (1 if bulges else -1)
            made.append(MouldingArc((a + b) / 2 + off * left_of(unit(b - a)), radius, a, b, bulges))
        return made

    def refuse(self) -> None:
        if self.scotia and self.projection >= self.height * (1 - 1e-9):
            most = most_mm(self.height)
            raise Refused(
                "projection",
                f"The scotia projects {mm(self.projection)}; it must stay under its height, {most}. Lower projection.",
            )

    def values(self, method: str) -> Iterable[Value]:
        arcs, turn = self.arcs, self.turn
        names = tuple(f"K{k}" for k in range(1, len(arcs) + 1))
        if self.scotia:
            words = f"({bare(self.height)} ± {bare(self.projection)}) / 2"
        else:
            words = f"each chord / (2 sin {trim(turn / 2)}°)"
        yield Value("radii", [arc.radius for arc in arcs], "mm", words, names)
        told = [[float(x) for x in arc.centre] for arc in arcs]
        yield Value("centres", told, "mm", "a radius from both ends of each chord", names)
        meets = [[float(x) for x in arc.end] for arc in arcs[:-1]]
        yield Value(
            "touches", meets, "mm", "where the arcs meet" if meets else "one arc alone", ("M",) if meets else ()
        )
        around = float(np.deg2rad(turn))
        length = sum(arc.radius for arc in arcs) * around
        yield Value("length", length, "mm", f"… the radii together × {trim(turn)}° in radians")
        if self.scotia:
            large, small = (arc.radius for arc in arcs)
            area = np.pi / 4 * (large**2 + small**2) + self.projection * small
            words = f"π / 4 ({bare(large)}² + {bare(small)}²) + {bare(self.projection)} × {bare(small)}"
        else:
            pieces = [(1 if arc.round else -1) * arc.radius**2 / 2 * (around - float(sind(turn))) for arc in arcs]
            area = self.projection * self.height / 2 + sum(pieces)
            words = f"… {bare(self.projection)} × {bare(self.height)} / 2, round segments added, hollow ones off"
        yield Value("area", float(area), "mm²", words)

    def _ends(self, found: Found) -> list[Array]:
        return [found["A"], *([found["M"]] if len(self.arcs) == 2 else []), found["B"]]

    def measure(self, found: Found) -> dict[str, Number]:
        ends = self._ends(found)
        centres = found.group("K")
        radii = distance(centres, np.stack(np.broadcast_arrays(*ends[:-1]), axis=-2))
        turns = [
            np.deg2rad(angle_between(a - found[f"K{k}"], b - found[f"K{k}"]))
            for k, (a, b) in enumerate(zip(ends, ends[1:]), 1)
        ]
        return {
            "radii": radii,
            "centres": centres - found["A"][..., None, :],
            "length": sum(radii[..., k] * turn for k, turn in enumerate(turns)),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        ends = self._ends(found)
        for k, (a, b) in enumerate(zip(ends, ends[1:]), 1):
            centre = found[f"K{k}"]
            yield Truth(f"Arc {k} ends as far from its centre as it begins", distance(centre, a) - distance(centre, b))
            turned = angle_between(a - centre, b - centre)
            yield Truth(f"Arc {k} subtends {trim(self.turn)}°", turned - self.turn, "°")
            side = np.sign(distance_to_line(centre, a, b - a))
            bulges = 1.0 if self.arcs[k - 1].round else -1.0
            if self.turn < 179.9:
                yield Truth(f"Arc {k} is {'round' if bulges > 0 else 'hollow'}", side - bulges)
        if len(ends) == 3:
            yield Truth(
                "At M both arcs have one tangent",
                distance_to_line(found["M"], found["K1"], found["K2"] - found["K1"])
                if not self._alike
                else found["K1"] - found["K2"],
            )
        yield Truth("It is as high as given", found["B"][..., 1] - found["A"][..., 1] - self.height)
        yield Truth("It projects as far as given", found["B"] - found["A"] - self.end)

    @property
    def _alike(self) -> bool:
        """Whether both centres fall together."""
        return len(self.arcs) == 2 and float(distance(self.arcs[0].centre, self.arcs[1].centre)) < 1e-9

    def pattern(self, found: Found) -> None:
        """A templet is not folded."""

    def cut_out(self, found: Found) -> Sequence[Part]:
        """The profile up to the wall and the bed over it, of a scotia what it takes away; none where an arc swings over
        those."""
        if any(self._swings_over(arc) for arc in self.arcs):
            return ()
        ends = ["A", *(["M"] if len(self.arcs) == 2 else []), "B"]
        back = ["B", *(["D"] if self.projection else []), "A"]
        edges = [*(Edge(*ends_of, "cut") for ends_of in pairwise(ends)), *(Edge(*e, "side") for e in pairwise(back))]
        return [Part("Templet", edges)]

    def _swings_over(self, arc: MouldingArc) -> bool:
        """Whether an arc passes behind the wall, upright over A, or over the bed, level with B."""
        t = np.linspace(0.0, np.deg2rad(self.turn), 91) * (1 if arc.round else -1)
        out = arc.start - arc.centre
        x = arc.centre[0] + out[0] * np.cos(t) - out[1] * np.sin(t)
        y = arc.centre[1] + out[0] * np.sin(t) + out[1] * np.cos(t)
        side, slack = (-1.0 if self.scotia else 1.0), 1e-6 * self.height
        behind = (side * x < -slack) & (y < self.height)
        over = (y > self.height + slack) & (side * x < abs(self.projection))
        return bool(np.any(behind | over))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        a, b = found["A"], found["B"]
        yield Linear(a, point(float(a[..., 0]), float(b[..., 1])), "height", self.height, side=1)
        if self.projection:
            yield Linear(point(float(a[..., 0]), float(b[..., 1])), b, "projection", self.projection, side=1)
        if self.kind != "scotia":
            yield angle_at(found["K1"], a, found.get("M", b), "arc_angle", self.arc_angle)


@method(
    Moulding,
    "arcs",
    about="The chord parted, and on each part the centre from which it shows under the angle of the arc.",
    source="The angle at the centre and its chord (Euclid, Elements III.20); workshop practice",
)
def moulding_arcs(g: Moulding, d: Draft) -> None:
    with d.phase("The ends"):
        a = d.start_at("A", says="Mark A, the lower end.")
        up = d.upright_from(a, "Draw upright from A.", length=g.height)
        corner = d.lay_off(up, a, g.height, "D" if g.projection else "", "Lay the height off.", kind="plain")
        if g.projection:
            level = d.level_from(corner, "Draw level there.", length=float(g.end[0]))
            b = d.lay_off(level, corner, float(g.end[0]), "B", "Lay the projection off along it: B.")
        else:
            with d.as_one("Pencil", "B stands straight above A."):
                b = d.also("B", corner)
    if g.scotia:
        (stops, centres), rounds = _scotia(g, d, a, b), g.rounds
    else:
        stops, centres, rounds = _on_chords(g, d, a, b)
    with d.phase("Line in"):
        for centre, one, other, bulges in zip(centres, stops, stops[1:], rounds):
            d.arc_in(centre, d.opening(centre, one), one, other, clockwise=not bulges)


def _on_chords(g: Moulding, d: Draft, a: Spot, b: Spot) -> tuple[list[Spot], list[Spot], tuple[bool, ...]]:
    """Where the arcs meet, their centres, and which of them are drawn round."""
    stops = [a, b]
    if len(g.rounds) == 2:
        with d.phase("The chord"):
            d.rule(a, b, "Join AB.")
            with d.as_one("Dividers", f"Part it at M, {trim(g.share)} of it from A."):
                stops = [a, d.between(a, b, g.share, "M"), b]
    rounds = d.choice(
        "recta-for-reversa",
        right=g.rounds,
        slip=tuple(not one for one in g.rounds),
        says="Round and hollow are exchanged: the other moulding of the pair.",
    )
    centres = []
    base = 90.0 - g.arc_angle / 2
    for k, (one, other, bulges) in enumerate(zip(stops, stops[1:], rounds), 1):
        with d.phase(f"Arc {k}"):
            name = f"{one.name}{other.name}"
            way = angle_between_spots(one, other) + (base if bulges else -base)
            side = "left" if bulges else "right"
            says = f"At {one.name} draw {trim(base)}° from {name}, to the {side} of it."
            if base < 1e-9:
                with d.as_one("Dividers", f"Half of {name} is the radius: K{k}."):
                    centres.append(d.midpoint(one, other, f"K{k}"))
                continue
            ray = d.ray(one, way, says)
            centres.append(d.meet(perpendicular_bisector(d, one, other), ray, f"K{k}"))
    return stops, centres, rounds


def _scotia(g: Moulding, d: Draft, a: Spot, b: Spot) -> tuple[list[Spot], list[Spot]]:
    """The two quarter arcs: half the height more and less by half the projection."""
    large, small = (arc.radius for arc in g.arcs)
    with d.phase("The centres"):
        up = d.upright_from(a, "Draw on from A.")
        low = d.lay_off(up, a, large, "K1", "From A lay off half of height and projection together: K1.")
        down = d.upright_from(b, "Draw down from B.", length=-small)
        high = d.lay_off(down, b, -small, "K2", "From B lay off half of their difference: K2.")
        level = d.level_from(low, "Draw level through both.", length=-large)
        arc = d.compass(low, d.opening(low, a), "Centre K1, swing AK1 round.", whole=False)
        meet = d.meet(level, arc, "M", where="left")
    return [a, meet, b], [low, high]
