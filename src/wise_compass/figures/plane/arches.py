"""Arches of arcs: round, pointed, of three, four and five centres, ogee and rampant, with their stones."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import Developed, Part
from wise_compass.drafting.dimensions import Dimension, Linear, Radial, angle_at, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.figures.plane.arch_stones import rib, stone_parts
from wise_compass.geometry.arch_arcs import ArchArc
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, point, unit

KINDS = ("round", "pointed", "three-centred", "five-centred", "four-centred", "ogee", "rampant")
FLATTEST = 200.0
"""Spans that the radius of an arc is at most, to be swung."""
RULES = ("least-ratio", "sixty", "radius")
SHARP = ("pointed", "four-centred", "ogee")
"""Kinds whose arcs do not share a tangent in the crown."""
NO_OUTER = ("four-centred", "ogee", "rampant")
CAUTION = "An arch bears a load: local codes and a licensed engineer come first."
SAME = 1e-9
"""Of the span: within this a rise is the one that parts two names."""


class Arch(Developed, Figure, id="arch", family="profiles", title="Arch"):
    keys = ("A", "B", "K*", "J*", "X*")
    templet = True
    brief = "A {kind} arch of {span} span and {rise} rise, of {stones} stones {thickness} deep, found with {method}."
    summary = "An arch's curve by its kind, with its joints square to it and the curve of its back."
    ways = ("arcs",)
    value_names = (
        "name",
        "centres",
        "radii",
        "sweeps",
        "touches",
        "length",
        "area",
        "joints",
        "joint_angles",
        "outer_rise",
    )

    kind = Choice("round", "the arch", KINDS)
    span = Length(120, "the span", most=10000)
    rise = Length(42, "the rise", most=10000)
    step = Length(0, "how much higher the right springing is", least=-5000, most=5000)
    rule = Choice("least-ratio", "the rule for three centres", RULES)
    small_radius = Length(30, "the small radius")
    small_angle = Angle(58, "the angle of the small arc", least=5, most=85)
    stones = Count(11, "the stones", 3, 60)
    thickness = Length(14, "how deep the stones are", most=5000)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        """Each kind tells what it is set out by."""
        kind, rule = givens.get("kind", "round"), givens.get("rule", "least-ratio")
        if kind == "rampant":
            return cls.brief.replace(" and {rise} rise", ", its right springing {step} higher")
        by = ""
        if kind == "three-centred":
            by = ", by the rule {rule}" + (" with a small radius of {small_radius}" if rule == "radius" else "")
        elif kind in ("four-centred", "ogee"):
            by = ", from a small radius of {small_radius} over {small_angle}"
        return cls.brief.replace(", of {stones}", f"{by}, of {{stones}}")

    @property
    def half(self) -> float:
        return self.span / 2

    @property
    def left(self) -> Array:
        return point(-self.half, 0.0)

    @property
    def right(self) -> Array:
        return point(self.half, self.step if self.kind == "rampant" else 0.0)

    @property
    def crown(self) -> Array:
        return point(0.0, self.rise)

    @cached_property
    def arcs(self) -> list[ArchArc]:
        """Its arcs from the left."""
        a, rise = self.half, self.rise
        if self.kind == "round":
            radius = (a**2 + rise**2) / (2 * rise)
            return [ArchArc(point(0.0, rise - radius), radius, self.left, self.right, True)]
        if self.kind == "pointed":
            return self._mirrored([(point((a**2 + rise**2) / (2 * a) - a, 0.0), self.crown, True)])
        if self.kind == "rampant":
            return self._rampant()
        if self.kind == "five-centred":
            return self._five()
        if self.kind == "three-centred":
            small = self._small()
            big = (a**2 - 2 * a * small + rise**2) / (2 * (rise - small))
            low, high = point(small - a, 0.0), point(0.0, rise - big)
            meet = high + big * unit(low - high)
            return self._mirrored([(low, meet, True), (high, self.crown, True)])
        low = point(self.small_radius - a, 0.0)
        meet, way, _ = self._upper()
        off = meet - self.crown
        radius = -float(off @ off) / (2 * float(way @ off))
        return self._mirrored([(low, meet, True), (meet + radius * way, self.crown, radius > 0)])

    def _small(self) -> float:
        """The small radius of three centres, by the rule."""
        a, rise = self.half, self.rise
        if self.rule == "radius":
            return self.small_radius
        if self.rule == "sixty":
            return float((rise - (2 - np.sqrt(3)) * a) / (np.sqrt(3) - 1))
        long = float(np.hypot(a, rise))
        u, middle = np.array([a, rise]) / long, (long - (a - rise)) / 2
        return float(a + (float((self.left + middle * u) @ u)) / u[0])

    def _mirrored(self, half: list[tuple[Array, Array, bool]]) -> list[ArchArc]:
        """The left half's arcs (centre, where each ends, whether round) and their images; what is centred on the axis
        runs through."""
        flip = np.array([-1.0, 1.0])
        made, start = [], self.left
        for centre, end, is_round in half:
            made.append(ArchArc(centre, float(distance(centre, start)), start, end, is_round))
            start = end
        last = made[-1]
        other = [
            ArchArc(arc.centre * flip, arc.radius, arc.end * flip, arc.start * flip, arc.round)
            for arc in reversed(made)
        ]
        if abs(last.centre[0]) < SAME * self.span:
            through = ArchArc(last.centre, last.radius, last.start, last.start * flip, True)
            return [*made[:-1], through, *other[1:]]
        return [*made, *other]

    def _rampant(self) -> list[ArchArc]:
        span, step = self.span, self.step
        long = float(np.hypot(span, step))
        both, less = span + step**2 / span, step * long / span
        large, small = (both + less) / 2, (both - less) / 2
        low, high = point(large - self.half, 0.0), point(self.half - small, step)
        meet = low + large * np.array([-step, span]) / long
        return [ArchArc(low, large, self.left, meet, True), ArchArc(high, small, meet, self.right, True)]

    def _five(self) -> list[ArchArc]:
        a, rise = self.half, self.rise
        small, middle, large = rise**2 / a, float(np.sqrt(a * rise)), a**2 / rise
        low, high = point(small - a, 0.0), point(0.0, rise - large)
        gap, (r, s) = high - low, (middle - small, large - middle)
        far = float(distance(low, high))
        along = (far**2 + r**2 - s**2) / (2 * far)
        across = float(np.sqrt(max(r**2 - along**2, 0.0)))
        u = gap / far
        both = [low + along * u + side * across * np.array([-u[1], u[0]]) for side in (1, -1)]
        mid = min(both, key=lambda at: float(np.hypot(*at)))
        first = mid + middle * unit(low - mid)
        second = high + large * unit(mid - high)
        return self._mirrored([(low, first, True), (mid, second, True), (high, self.crown, True)])

    @property
    def name(self) -> str:
        if self.kind == "round":
            if abs(self.rise - self.half) <= SAME * self.span:
                return "semicircular"
            return "segmental" if self.rise < self.half else "horseshoe"
        if self.kind == "pointed":
            equal = self.span * float(np.sqrt(3)) / 2
            if abs(self.rise - equal) <= SAME * self.span:
                return "equilateral"
            return "lancet" if self.rise > equal else "drop"
        return self.kind

    def refuse(self) -> None:
        a, rise = self.half, self.rise
        if self.kind == "pointed" and rise <= a * (1 + SAME):
            raise Refused(
                "rise", f"A pointed arch rises over half its span, {least_mm(a)}; rise is {mm(rise)}. Raise rise."
            )
        if self.kind in ("three-centred", "five-centred") and rise >= a * (1 - SAME):
            raise Refused(
                "rise", f"A {self.kind} arch stays under half its span, {most_mm(a)}; rise is {mm(rise)}. Lower rise."
            )
        if self.kind == "round" and rise > 20 * a:
            raise Refused("rise", f"The rise is over {most_mm(20 * a)}. Lower rise.")
        if self.kind == "three-centred":
            least = (2 - float(np.sqrt(3))) * a
            if self.rule == "sixty" and rise <= least * (1 + 1e-6):
                raise Refused(
                    "rise", f"With arcs of 60° the rise has to be over {least_mm(least)}; it is {mm(rise)}. Raise rise."
                )
            if self.rule == "radius" and self.small_radius >= rise * (1 - 1e-6):
                most = most_mm(rise)
                raise Refused(
                    "small_radius",
                    f"The small radius is {mm(self.small_radius)}; it must stay under "
                    f"the rise, {most}. Lower small_radius.",
                )
        if self.kind in ("four-centred", "ogee"):
            self._refuse_small()
        if self.kind == "rampant" and abs(self.step) >= 0.95 * self.span:
            raise Refused(
                "step", f"step is {mm(self.step)}; it must stay under {most_mm(0.95 * self.span)}. Lower step."
            )
        for arc in self.arcs:
            if arc.radius > FLATTEST * self.span:
                raise Refused(
                    "rise",
                    f"One arc would have a radius of {mm(arc.radius)}: too flat to be swung. {self._swung_rise()}.",
                )
            deepest = arc.radius - abs(float(arc.centre[0]))  # further out the backs of both sides do not meet
            if not arc.round and self.thickness >= deepest * (1 - 1e-6):
                raise Refused(
                    "thickness",
                    f"The stones are {mm(self.thickness)} deep; with the hollow arcs "
                    "their backs meet over the crown only "
                    f"under {most_mm(deepest)}. Lower thickness.",
                )

    def _swung_rise(self) -> str:
        """What to do about a rise at which an arc is too flat to be swung."""
        a, far = self.half, FLATTEST * self.span
        root = math.sqrt(far**2 - a**2)
        if self.kind == "round" and self.rise < a:
            return f"Raise rise to {least_mm(far - root)} or more"
        if self.kind in ("round", "pointed"):
            most = far + root if self.kind == "round" else math.sqrt(2 * a * far - a**2)
            return f"Lower rise to {most_mm(most)} or less"
        if self.kind not in ("four-centred", "ogee"):
            return "Change rise"
        meet, way, flat = self._upper()
        side = -1.0 if self.kind == "four-centred" else 1.0
        gap = 0.0
        for _ in range(20):  # a fixed point: how far off the rise at which it is straight its radius is the largest
            off = meet - point(0.0, flat + side * gap)
            gap = 1.001 * float(off @ off) / (2 * far * abs(float(way[1])))
        text = most_mm(flat - gap) if side < 0 else least_mm(flat + gap)
        return f"{'Lower' if side < 0 else 'Raise'} rise to {text} or {'less' if side < 0 else 'more'}"

    def _upper(self) -> tuple[Array, Array, float]:
        """Where the upper arc begins, which way its centre lies from there, and the rise at which it is straight."""
        low = point(self.small_radius - self.half, 0.0)
        turn = np.deg2rad(180.0 - self.small_angle)
        meet = low + self.small_radius * np.array([np.cos(turn), np.sin(turn)])
        flat = float(meet[1]) - float(meet[0]) / float(np.tan(np.deg2rad(self.small_angle)))
        return meet, unit(low - meet), flat

    def _refuse_small(self) -> None:
        a = self.half
        if self.small_radius >= a * (1 - 1e-6):
            raise Refused(
                "small_radius",
                f"The small radius is {mm(self.small_radius)}; it must stay under "
                f"half the span, {most_mm(a)}. Lower it: "
                "small_radius.",
            )
        meet, way, _ = self._upper()
        if self.rise <= float(meet[1]) + 1e-6:
            least = least_mm(float(meet[1]))
            raise Refused("rise", f"The small arc ends {least} up; the rise has to be over that. Raise rise.")
        straight = float(way @ (meet - self.crown))
        wants_round = self.kind == "four-centred"
        if abs(straight) < 1e-6 * self.span or (straight < 0) != wants_round:
            what = "round, to be four-centred" if wants_round else "hollow, to be an ogee"
            says = f"The upper arc does not come out {what}. {self._swung_rise()}, or change small_angle."
            raise Refused("rise", says)

    @cached_property
    def joints(self) -> list[tuple[int, float, Array]]:
        """For each joint the number of its arc, how far along that it lies (0 to 1), and where."""
        lengths = np.array([arc.length for arc in self.arcs])
        ends = np.cumsum(lengths)
        made = []
        for k in range(self.stones + 1):
            asked = float(ends[-1]) * k / self.stones
            n = min(int(np.searchsorted(ends, asked * (1 - 1e-12))), len(lengths) - 1)
            share = 1.0 - (float(ends[n]) - asked) / float(lengths[n])
            made.append((n, share, self.arcs[n].at(share)))
        return made

    def cautions(self) -> Iterable[str]:
        yield CAUTION

    def pattern(self, found: Found) -> None:
        """Stones are not folded."""

    def cut_out(self, found: Found) -> list[Part]:
        """The stones, and the rib that they are laid over."""
        places = [(n, share) for n, share, _ in self.joints]
        return [*stone_parts(places, len(self.arcs) == 1, self.kind != "rampant"), rib(len(self.arcs))]

    def at_sharp_crown(self, at: Array) -> bool:
        return self.kind in SHARP and float(distance(at, self.crown)) < 1e-7 * self.span

    def values(self, method: str) -> Iterable[Value]:
        arcs = self.arcs
        names = tuple(f"K{k}" for k in range(1, len(arcs) + 1))
        yield Value("name", self.name, "", "by its rise and its centres")
        yield Value(
            "centres", [[float(x) for x in arc.centre] for arc in arcs], "mm", "from the middle of the span", names
        )
        yield Value("radii", [arc.radius for arc in arcs], "mm", "from each centre to where its arc begins", names)
        yield Value("sweeps", [arc.sweep for arc in arcs], "°", "from where each begins to where it ends", names)
        meets = [[float(x) for x in arc.end] for arc in arcs[:-1]]
        told = tuple(f"T{k}" for k in range(1, len(arcs)))
        yield Value("touches", meets, "mm", "where arcs meet" if meets else "one arc alone", told)
        length = sum(arc.length for arc in arcs)
        yield Value("length", length, "mm", "… each radius times its sweep in radians, together")
        yield Value("area", self.area, "mm²", "½ ∫ (x dy − y dx) round it, closed along the springings")
        stones = tuple(f"J{k}" for k in range(self.stones + 1))
        yield Value(
            "joints",
            [[float(x) for x in at] for _, _, at in self.joints],
            "mm",
            f"{bare(length)} / {self.stones} apart along the curve",
            stones,
        )
        angles = [90.0 if self.at_sharp_crown(at) else arcs[n].outward(at) for n, _, at in self.joints]
        yield Value("joint_angles", angles, "°", "square to the curve, away from the opening", stones)
        yield Value("outer_rise", self.outer_rise, "mm", self._outer_words())

    def _outer_words(self) -> str:
        if self.outer_rise is None:
            return "not told of this kind"
        if self.kind == "pointed":
            arc = self.arcs[0]
            return f"√(({bare(arc.radius)} + {bare(self.thickness)})² − {bare(abs(float(arc.centre[0])))}²)"
        return f"{bare(self.rise)} + {bare(self.thickness)}"

    @property
    def outer_rise(self) -> float | None:
        if self.kind in NO_OUTER:
            return None
        if self.kind == "pointed":
            arc = self.arcs[0]
            return float(np.sqrt((arc.radius + self.thickness) ** 2 - float(arc.centre[0]) ** 2))
        return self.rise + self.thickness

    @property
    def area(self) -> float:
        total = 0.0
        for arc in self.arcs:
            turn = float(np.deg2rad(arc.sweep)) * (-1 if arc.round else 1)
            cx, cy = arc.centre
            chord = arc.end - arc.start
            total += float(cx * chord[1] - cy * chord[0]) + arc.radius**2 * turn
        a, b = self.right, self.left
        return abs(total + float(a[0] * b[1] - a[1] * b[0])) / 2

    def measure(self, found: Found) -> dict[str, Number]:
        ends = [found["A"], *(found[name] for name in found.names("T")), found["B"]]
        centres = found.group("K")
        starts = np.stack(np.broadcast_arrays(*ends[:-1]), axis=-2)
        middle = ((found["A"] + found["B"]) / 2)[..., None, :] - point(0.0, float(self.right[1]) / 2)
        return {
            "centres": centres - middle,
            "radii": distance(centres, starts),
            "joints": found.together([f"J{k}" for k in range(self.stones + 1)]) - middle,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        arcs, count = self.arcs, len(self.arcs)
        ends = [found["A"], *(found[f"T{k}"] for k in range(1, count)), found["B"]]
        yield Truth("The springings are the span apart", found["B"] - found["A"] - (self.right - self.left))
        for k in range(count):
            centre = found[f"K{k + 1}"]
            yield Truth(
                f"Arc {k + 1} ends as far from its centre as it begins",
                distance(centre, ends[k]) - distance(centre, ends[k + 1]),
            )
        for k in range(1, count):
            one, other, at = found[f"K{k}"], found[f"K{k + 1}"], found[f"T{k}"]
            if float(distance(arcs[k - 1].centre, arcs[k].centre)) < SAME * self.span:
                yield Truth(f"Arcs {k} and {k + 1} have one centre", one - other)
            elif self.at_sharp_crown(arcs[k - 1].end):
                yield Truth("The crown stands at its rise", at - (found["A"] + found["B"]) / 2 - self.crown)
            else:
                yield Truth(f"At T{k} both arcs have one tangent", distance_to_line(at, one, other - one))
        if "C" in found:
            yield Truth("The crown is met", found["C"] - (found["A"] + found["B"]) / 2 - self.crown)
            n = next(
                k
                for k, arc in enumerate(arcs)
                if float(np.abs(distance(arc.centre, self.crown) - arc.radius)) < 1e-6 * self.span
            )
            yield Truth(
                "The crown lies on its arc",
                distance(found["C"], found[f"K{n + 1}"]) - distance(found[f"K{n + 1}"], ends[n]),
            )
        if self.kind == "rampant":
            yield Truth(
                "The arcs meet parallel to the springings",
                (found["T1"] - found["K1"]) @ (self.right - self.left) / self.span,
            )
        yield from self._joint_truths(found, ends)

    def _joint_truths(self, found: Found, ends: list[Array]) -> Iterator[Truth]:
        """Joints part the curve into equal lengths, and stand square to it."""
        arcs = self.arcs
        stone = sum(arc.length for arc in arcs) / self.stones
        reach: list[Number] = []
        done: Number = 0.0
        for k, arc in enumerate(arcs):
            centre = found[f"K{k + 1}"]
            radius = distance(centre, ends[k])
            for j, (n, _, at) in enumerate(self.joints):
                if n == k:
                    joint = found[f"J{j}"]
                    turned = _turned(ends[k] - centre, joint - centre, arc.round)
                    reach.append(done + radius * np.deg2rad(turned))
                    if not self.at_sharp_crown(at) and f"X{j}" in found:
                        yield Truth(
                            f"Joint {j} stands square to the curve",
                            distance_to_line(found[f"X{j}"], centre, joint - centre),
                        )
            done = done + radius * np.deg2rad(_turned(ends[k] - centre, ends[k + 1] - centre, arc.round))
        for j, one in enumerate(reach):
            yield Truth(f"Joint {j} lies its stones along the curve", one - j * stone)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(self.left, point(self.half, 0.0), "span", self.span, rank=2)
        if self.kind != "rampant":
            yield upright(point(self.half, 0.0), self.crown, "rise", self.rise, -1, rank=2)
        else:
            yield from told([upright(self.left, self.right, "step", abs(self.step), rank=2)])
        yield Linear(found["J1"], found["X1"], "thickness", self.thickness, 1)
        small = self.arcs[0]
        if self.kind in ("four-centred", "ogee"):
            yield angle_at(small.centre, small.start, small.end, "small_angle", self.small_angle, reach=10.0)
        if self.kind in ("four-centred", "ogee") or (self.kind == "three-centred" and self.rule == "radius"):
            yield Radial(small.centre, small.radius, "small_radius", self.small_radius, 160.0)


def _turned(one: Array, other: Array, clockwise: bool) -> Number:
    """The angle from one direction to another, the way an arc turns, from −180 to 180 about none."""
    turn = angle_of(other) - angle_of(one)
    turn = -turn if clockwise else turn
    return (turn + 1e-6) % 360.0 - 1e-6
