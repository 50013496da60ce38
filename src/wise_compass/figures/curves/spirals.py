"""Spirals."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Radial, from_level
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Choice, Count, Length, Real
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.places import parts_of_turns
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, many, trim
from wise_compass.figures.curves.touching import Touching
from wise_compass.geometry.curves import Curve, even_radius, polar_curve
from wise_compass.geometry.spirals import archimedean_length
from wise_compass.geometry.vectors import Array, Number, angle_of, distance


class ArchimedeanSpiral(
    Curved, Moving, Touching, id="archimedean-spiral", family="spirals", title="Archimedean spiral"
):
    keys = ("P*",)
    brief = (
        "A spiral from {inner} inside to {outer} outside across, in {turns} turns {hand}, starting at {start}, "
        "found with {method} in {divisions} divisions of a turn."
    )
    summary = "The radius grows alike with every equal angle: a cam, a scroll chuck, a coiled rope."
    value_names = ("radius_gain", "arc_length")

    outer = Length(112, "the outer diameter")
    inner = Length(24, "the inner diameter", under="outer", zero=True)
    turns = Real(1.25, "the number of turns", least=1 / 12, most=12)
    hand = Choice("anticlockwise", "the hand", ("clockwise", "anticlockwise"))
    start = Angle(0, "the starting angle", least=-360, most=360)
    divisions = Count(12, "the divisions of a turn", 12, 72, multiple=12)
    at = Angle(250, "the angle turned at the point of touch", least=0, most=4320)

    def refuse(self) -> None:
        parts_of_turns(self.turns, 12, "twelfths")
        super().refuse()

    @property
    def gain(self) -> float:
        """What the radius gains in a radian: the polar subnormal."""
        return (self.outer - self.inner) / 2 / (2 * np.pi * self.whole_turns)

    @cached_property
    def touched(self) -> Curve:
        return polar_curve(even_radius(self.inner / 2, self.gain), 0.0, 360.0 * self.whole_turns, self.start, self.sign)

    def courses(self, method: str) -> Sequence[Course]:
        stations = evenly(360.0 / self.divisions, self.spaces + 1)
        names = tuple(f"P{k}" for k in range(self.spaces + 1))
        marks = ((0.0, "its inner end"), (360.0 * self.whole_turns, "its outer end"))
        return (
            Course("the spiral", self.touched, stations, names, landmarks=marks, turn="angle turned", pole=np.zeros(2)),
        )

    def mechanism(self, found: Found, t: float) -> Frame:
        """The turning vector."""
        end = self.touched.at(t)
        return Frame((np.array([np.zeros(2), end]),), (), (end,))

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        return by_subnormal(self, d, self.gain, self.sign, self.start + self.sign * self.at)

    @property
    def spaces(self) -> int:
        """How many equal spaces the radius is cut into: one for each division turned through."""
        return round(self.turns * 12) * self.divisions // 12

    @property
    def whole_turns(self) -> float:
        """The turns as the exact multiple of a twelfth."""
        return round(self.turns * 12) / 12

    @property
    def sign(self) -> int:
        return 1 if self.hand == "anticlockwise" else -1

    def values(self, method: str) -> Iterable[Value]:
        r, i, t = self.outer / 2, self.inner / 2, self.whole_turns
        gain = (r - i) / t
        yield Value(
            "radius_gain",
            gain,
            "mm",
            f"({bare(r)} − {bare(i)}) / {trim(t)}",
            ("P0", f"P{min(self.divisions, self.spaces)}"),
        )
        rate = bare(gain / (2 * np.pi))
        yield Value(
            "arc_length",
            float(archimedean_length(i, r, t)),
            "mm",
            f"∫ √(r² + {rate}²) dr / {rate} from {bare(i)} to {bare(r)}",
            ("P0", f"P{self.spaces}"),
        )
        yield Value("space", (r - i) / self.spaces, "mm", f"({bare(r)} − {bare(i)}) / {self.spaces}")
        yield Value("spaces", float(self.spaces), "", f"{trim(t)} × {self.divisions}")
        for k in range(0, self.spaces + 1, max(self.divisions // 12, 1)):
            yield Value(
                f"radius_{k}",
                i + (r - i) * k / self.spaces,
                "mm",
                f"{bare(i)} + {k} × {bare((r - i) / self.spaces)}",
                (f"P{k}",),
            )
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        radii = distance(found.group("P"), np.zeros(2))
        first, last = radii[..., 0], radii[..., -1]
        out = {
            "radius_gain": (last - first) / self.whole_turns,
            "arc_length": archimedean_length(first, last, self.whole_turns),
            "space": (last - first) / self.spaces,
            "spaces": np.zeros(first.shape) + radii.shape[-1] - 1,
        }
        for k in range(0, self.spaces + 1, max(self.divisions // 12, 1)):
            out[f"radius_{k}"] = radii[..., k]
        return {**out, **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        radii = distance(p, np.zeros(2))
        yield Truth("The radius grows in proportion to the angle turned", radii - self._radius_at(self._turned(p)))
        yield Truth(
            "The spiral begins on the inner circle and ends on the outer",
            radii[..., [0, -1]] - np.array([self.inner, self.outer]) / 2,
        )
        if self.spaces >= 2:
            gained = np.diff(radii, axis=-1)
            yield Truth("Each division gains the same radius", gained - gained.mean(axis=-1, keepdims=True))
        yield from self.touch_truths(found)

    def _turned(self, p: Array) -> Array:
        """The angle turned through up to each point, in degrees, told by the points alone."""
        angle = angle_of(p) * self.sign
        step = np.remainder(np.diff(angle, axis=-1) + 180.0, 360.0) - 180.0
        first = np.remainder(angle[..., 0] - self.start * self.sign + 180.0, 360.0) - 180.0
        if self.inner == 0:  # the centre itself has no angle
            first = np.zeros_like(first)
            step[..., 0] = np.remainder(angle[..., 1] - self.start * self.sign, 360.0)
        return np.asarray(
            first[..., None] + np.concatenate([np.zeros((*step.shape[:-1], 1)), np.cumsum(step, axis=-1)], axis=-1)
        )

    def _radius_at(self, turned: Number) -> Number:
        return (self.inner + (self.outer - self.inner) * turned / (360.0 * self.whole_turns)) / 2

    def at_dimension(self, found: Found) -> Dimension:
        if self.at > 360:
            return super().at_dimension(found)
        return from_level(np.zeros(2), self.sign * self.at, "at", self.start, reach=30.0)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        end = self.start + self.sign * 360 * self.whole_turns
        yield Radial(np.zeros(2), self.outer / 2, "outer", self.outer, end + self.sign * 40, diameter=True)
        if self.inner:
            yield Radial(np.zeros(2), self.inner / 2, "inner", self.inner, end - self.sign * 125, diameter=True)
        yield from self.touch_dimensions(found)
        if self.start:
            yield from_level(np.zeros(2), self.start, "start")


def by_subnormal(g: Touching, d: Draft, subnormal: float, sign: int, bearing: float) -> tuple[Spot, LineMark]:
    """The normal of a spiral about O: from the point to the end of its polar subnormal, the growth in a radian."""
    centre, name = d.spots["O"], g.letter
    with d.as_one("Protractor", f"Set off the angle turned; the vector there ends in {name}.", Setting(g.at, "°")):
        vector = d.ray(centre, bearing, instrument="Protractor")
        q = d.lay_off(vector, centre, float(distance(g.touched.at(g.place), centre.here)), name, kind="tangent")
    across = d.square_to(vector, centre, "At O draw square to the vector.")
    words = "Lay off the polar subnormal on it, the growth in a radian: Z."
    foot = d.lay_off(across, centre, sign * subnormal, "Z", words)
    return q, d.rule(q, foot, f"Join {name}Z: the normal.")


@method(
    ArchimedeanSpiral,
    "divided-radius",
    about="Equal spaces of the radius, swung to equal divisions of the turn.",
    source="The definition: equal gains in equal angles (Archimedes, On Spirals)",
)
def divided_radius(g: ArchimedeanSpiral, d: Draft) -> None:
    outer, inner, spaces = g.outer / 2, g.inner / 2, g.spaces
    with d.phase("The circles"):
        centre = d.start_at("O", says="Mark the centre O.")
        far = d.compass(centre, outer, "Centre O, draw the outer circle.", why="half the outer diameter")
        if inner:
            d.compass(centre, inner, "Same centre, draw the inner circle.", why="half the inner diameter")
    with d.phase("Divide the turn"):
        rays = d.divide_turn(centre, g.divisions, g.start, clockwise=g.sign < 0, length=outer)
    with d.phase("Divide the radius"):
        cut = d.choice(
            "one-space-too-many",
            right=spaces,
            slip=spaces + 1,
            says="The marks are counted instead of the spaces: the length is cut into one space too many.",
        )
        cut = d.choice(
            "turn-divisions",
            right=cut,
            slip=g.divisions,
            when=spaces != g.divisions,
            says="The length is cut into the divisions of one turn, though there is not just one turn.",
        )
        rim = d.choice(
            "from-centre",
            right=inner,
            slip=0.0,
            when=inner > 0,
            says="The radius is divided from the centre instead of from the inner circle.",
        )
        where = "from the inner circle to the outer" if inner else "from O to the outer circle"
        first = rays[0]
        start = (
            d.lay_off(first, centre, rim, "", "On the first ray mark the inner circle.", kind="plain")
            if rim
            else centre
        )
        says = f"Cut the first ray {where} into {many(cut, 'equal space')}: {many(cut, 'space')}, {cut + 1} marks."
        marks = d.step_between(
            first,
            start,
            far.radius - distance(centre.at, start.at),
            cut,
            spaces,
            says=says,
            why=f"{trim(g.whole_turns)} {'turn' if g.whole_turns == 1 else 'turns'} of {g.divisions} divisions",
        )
    points: list[Spot] = []
    with d.phase("Find the points"):
        for k, mark in enumerate(marks):
            if mark is centre:
                with d.as_one("Pencil", "P0 is the centre itself."):
                    points.append(d.also("P0", centre))
                continue
            if k % g.divisions == 0:
                with d.as_one("Pencil", f"Mark {k} stands on its ray already: P{k}."):
                    points.append(d.also(f"P{k}", mark))
                continue
            says = f"Centre O to mark {k}; swing it to ray {k % g.divisions}."
            why = f"{k} of {spaces} spaces" if k else "the start"
            ray = rays[k % g.divisions]
            arc = d.compass(centre, d.opening(centre, mark), says, why, whole=False, role=Role.LOCUS)
            points.append(d.meet(ray, arc, f"P{k}", near=ray.at_length(g.outer)))
    g.touch_in(d)
    with d.phase("Line in"):
        d.curve(points, says=f"Line in the spiral through P0 to P{spaces}.")
