"""Tangent, normal and touching circle at any point of a curve: what the figures of curves share.

Each curve brings the normal of its own construction (:meth:`Touching.normal_by_hand`); the rest is the same for all:
the tangent square to it, the circle with its centre on it, and the proof of both against the curve's own derivative.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from typing import Any, ClassVar

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Leader, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Given, Length, Measure
from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, digits, mm, most_mm
from wise_compass.geometry.curve_places import clear_radius
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.vectors import (
    Array,
    Number,
    along,
    angle_between,
    angle_of,
    cross,
    distance,
    dot,
    left_of,
    unit,
)

WORDS = {
    "none": "nothing",
    "tangent": "its tangent and normal",
    "circle-outside": "a circle outside",
    "circle-inside": "a circle inside",
}
NARROW = 10.0
"""Degrees under which an angle is too narrow to be halved."""
STRAIGHT = 1e7
"""A radius of curvature, in mm, beyond which a curve is straight for any drafter."""


class Touching(Figure):
    """A figure with a curve that can be touched at a point by its tangent and normal, and by a circle.

    A subclass has a given ``at``, the place of the point, and tells :meth:`touched` and :meth:`normal_by_hand`.
    """

    letter: ClassVar[str] = "Q"
    by_choice: ClassVar[Mapping[str, str]] = {
        "none": " It is touched by {touch}.",
        "tangent": " It is touched by {touch} at {at}.",
        "circle-outside": " It is touched by {touch} of {circle_radius} at {at}.",
        "circle-inside": " It is touched by {touch} of {circle_radius} at {at}.",
    }

    touch = Choice("none", "what touches it at a point", tuple(WORDS), WORDS)
    at: Given[float] = Angle(60, "the place of the point")
    circle_radius = Length(12, "the radius of the touching circle")

    @cached_property
    @abstractmethod
    def touched(self) -> Curve:
        """The curve that is touched."""

    @property
    def touched_range(self) -> tuple[float, float]:
        """Between which places a point can be touched."""
        return self.touched.first, self.touched.last

    @property
    def place(self) -> float:
        """The curve's parameter at the point."""
        return float(self.at)

    @abstractmethod
    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        """Find the point and the normal through it as is proper to the curve."""

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        return cls.brief + cls.by_choice[str(givens.get("touch", cls.givens["touch"].default))]

    def refuse(self) -> None:
        if self.touch == "none":
            return
        low, high = self.touched_range
        if "at" not in self.told and not low <= self.at <= high:
            # a place that nobody asked for gives way to a curve that is too short for it
            self.given_values["at"] = round(low + 0.6 * (high - low), 1)
        if not low - 1e-9 <= self.at <= high + 1e-9:
            given = self.givens["at"]
            says = given.says[0].upper() + given.says[1:]
            assert isinstance(given, Measure)
            limits = given.limit_text("least", low), given.limit_text("most", high)
            words = f"{says} is {given.exact_text(self.at)}; on this curve it goes from {limits[0]} to {limits[1]}."
            raise Refused("at", f"{words} {'Raise' if self.at < low else 'Lower'} at.")

    def touch_dimensions(self, found: Found) -> Iterator[Dimension]:
        """Where the curve is touched, and the circle that touches it."""
        if self.touch == "none" or self.letter not in found:
            return
        if abs(self.at) > 1e-9:
            yield self.at_dimension(found)
        if self.touch.startswith("circle") and f"{self.letter}k" in found:
            hub, q = found[f"{self.letter}k"], found[self.letter]
            yield Radial(hub, self.circle_radius, "circle_radius", self.circle_radius, float(angle_of(hub - q)) + 40.0)

    def at_dimension(self, found: Found) -> Dimension:
        """The place of the point; by a leader where the drawing has no line for it."""
        unit = "mm" if self.givens["at"].kind == "length" else "°"
        return Leader(found[self.letter], "at", abs(self.at), "at ", unit)

    def _tangent(self) -> Array:
        """The unit tangent by the derivative; at a cusp by the second one: that of the branch that leaves it."""
        curve = self.touched
        return unit(curve.second_derivative(self.place) if self._at_cusp() else curve.derivative(self.place))

    @property
    def curvature_radius(self) -> float:
        """The curve's own radius of curvature at the point; 0 at a cusp."""
        radius = float(self.touched.curvature_radius(self.place))
        return 0.0 if np.isnan(radius) or self._at_cusp() else radius

    def _at_cusp(self) -> bool:
        curve = self.touched
        return float(np.hypot(*curve.derivative(self.place))) < 1e-6 * float(
            np.hypot(*curve.second_derivative(self.place))
        )

    @property
    def circle_centre(self) -> Array:
        """The centre of the touching circle, by the derivative."""
        sign = self.touched.concave_side(self.place) * (1 if self.touch == "circle-inside" else -1)
        return along(self.touched.at(self.place), left_of(self._tangent()), sign * self.circle_radius)

    def cautions(self) -> Iterable[str]:
        if not self.touch.startswith("circle"):
            return
        if self._at_cusp():
            yield "At a cusp no circle touches the curve; it only passes through. Move at away from the cusp."
            return
        side = self.touched.concave_side(self.place) * (1 if self.touch == "circle-inside" else -1)
        clear, place = clear_radius(self.touched, self.place, side)
        if self.touch == "circle-inside" and self.circle_radius > self.curvature_radius:
            own = mm(self.curvature_radius)
            words = (
                f"The circle’s radius of {mm(self.circle_radius)} exceeds the curve’s "
                f"own radius of curvature there, {own}:"
            )
            words += " it crosses the curve beside the point."
        elif self.circle_radius > clear * (1 + 1e-9):
            x, y = self.touched.at(place)
            words = f"The circle crosses the curve again near {mm(float(x))}, {mm(float(y))}."
        else:
            return
        yield f"{words} Lower circle_radius to {most_mm(clear)} or take the other side."

    def touch_values(self) -> Iterator[Value]:
        """The normal's direction and the radius of curvature, where a point is touched."""
        if self.touch == "none":
            return
        q = self.letter
        normal = float(angle_of(left_of(self._tangent()))) % 180.0
        x, y = self._tangent()
        words = f"arctan({digits(float(y))} / {digits(float(x))}) + 90°, square to the curve’s derivative"
        words = words if abs(x) > 1e-12 else "square to the tangent, which stands upright"
        yield Value("normal_angle", normal, "°", words, (q, f"{q}n"))
        radius = self.curvature_radius
        straight = radius > STRAIGHT
        heading, second_derivative = self.touched.derivative(self.place), self.touched.second_derivative(self.place)
        speed, turn = float(np.hypot(*heading)), abs(float(cross(heading, second_derivative)))
        words = f"{digits(speed)}³ / {digits(turn)}, |C′|³ / |C′ × C″| by the curve’s derivatives, in mm"
        words = "the curve is straight there" if straight else words if radius else "nothing at a cusp"
        yield Value("curvature_radius", None if straight else radius, "mm", words, (q,))
        if self.touch == "circle-inside" and not straight:
            over = self.circle_radius - radius
            says = f"the circle {'crosses' if over > 0 else 'stays inside'} the curve beside the point"
            yield Value(
                "over_curvature", over, "mm", f"{bare(self.circle_radius)} − {bare(radius)}: {says}", (f"{q}k",)
            )

    def touch_measure(self, found: Found) -> dict[str, Number]:
        if self.touch == "none":
            return {}
        q = self.letter
        return {"normal_angle": np.remainder(angle_of(found[f"{q}n"] - found[q]), 180.0)}

    def touch_truths(self, found: Found) -> Iterator[Truth]:
        """The point on the curve, the normal square to its derivative, the circle touching there and nowhere near."""
        if self.touch == "none":
            return
        name, curve, t = self.letter, self.touched, self.place
        q, heading = found[name], self._tangent()
        yield Truth(f"{name} lies on the curve", distance(q, curve.at(t)))
        out = found[f"{name}n"] - q
        yield Truth("The normal is square to the curve’s own derivative", dot(out, heading))
        yield Truth("The tangent runs along the derivative", cross(found[f"{name}t"] - q, heading))
        if self.touch.startswith("circle"):
            hub = found[f"{name}k"]
            yield Truth(f"The circle passes {name}", distance(hub, q) - self.circle_radius)
            yield Truth("Its centre lies on the normal by the derivative", distance(hub, self.circle_centre))
            # a circle that all but fits may leave the curve where its bend has changed a little further on
            stays = self.touch == "circle-outside" or self.circle_radius < 0.9 * self.curvature_radius
            if stays and not self._at_cusp():
                reach = np.array([-1e-4, -1e-5, 1e-5, 1e-4]) * (curve.last - curve.first)
                beside = distance(curve.at(np.clip(t + reach, curve.first, curve.last)), hub[..., None, :])
                yield Truth(
                    "The curve beside it stays on one side of the circle", np.minimum(beside - self.circle_radius, 0.0)
                )

    def touch_in(self, d: Draft) -> None:
        """Draw what was asked for at the point; after the points of the curve are found."""
        if self.touch == "none":
            return
        name = self.letter
        with d.phase("Tangent and normal"):
            q, normal = self.normal_by_hand(d)
            size = self._size()
            d.lay_off(normal, q, size, f"{name}n", f"Take {name}n anywhere along it.", kind="plain")
            words = f"Draw square to the normal at {name}: the tangent."
            tangent = d.square_to(normal, q, words, role=Role.CENTRE).extent(-2 * size, 2 * size)
            d.on(tangent, size, f"{name}t")
        if self.touch.startswith("circle"):
            self._circle_in(d, q, normal)

    def _size(self) -> float:
        """How far tangent and normal are drawn: a tenth of the curve's size."""
        curve = self.touched
        course = curve.at(np.linspace(curve.first, curve.last, 25))
        return 0.1 * float(np.ptp(course, axis=0).max())

    def _circle_in(self, d: Draft, q: Spot, normal: LineMark) -> None:
        where = self.touch.removeprefix("circle-")
        side = float(np.sign(dot(self.circle_centre - self.touched.at(self.place), nominal(normal.u, 1))))
        with d.phase("Touching circle"):
            says = f"Lay off the circle’s radius from {q.name} on the normal, {where}: the centre {q.name}k."
            hub = d.lay_off(normal, q, side * self.circle_radius, f"{q.name}k", says)
            d.circle_in(hub, self.circle_radius, f"Centre {hub.name}, line in the circle that touches at {q.name}.")

    def point_by_hand(self, d: Draft, says: str, origin: Spot) -> Spot:
        """The point of touch at its place of the curve, by its two distances from ``origin``."""
        return by_ordinates(d, self.letter, self.touched.at(self.place), origin, says, "tangent")


def by_ordinates(d: Draft, name: str, at: Array, origin: Spot, says: str, kind: str = "found") -> Spot:
    """A point by its level and its upright distance from a spot: how any point of a curve is set out that a table
    gives."""
    x, y = (float(v) for v in at - origin.here)
    ways = f"this far {'right' if x >= 0 else 'left'} and {'up' if y >= 0 else 'down'} from {origin.name}"
    with d.as_one("Rule", f"{says}, {ways}: {name}.", Setting(abs(x), "mm"), Setting(abs(y), "mm")):
        level = d.level_from(origin)
        mark = d.lay_off(level, origin, x, "", kind="plain")
        return d.lay_off(d.upright_from(mark), mark, y, name, kind=kind)


def by_focal_radii(d: Draft, q: Spot, one: Spot, two: Spot, sum_of_radii: bool) -> LineMark:
    """The normal that halves the angle of the focal radii: both produced (ellipse), or one only (hyperbola)."""
    radius = 0.25 * float(min(distance(one.here, q.here), distance(two.here, q.here)))
    first = d.rule(one, q, f"Join {one.name}{q.name} and on.", beyond=radius)
    second = d.rule(
        two, q, f"Join {two.name}{q.name}{' and on' if sum_of_radii else ''}.", beyond=radius * sum_of_radii
    )
    along_one = 1.0 if sum_of_radii else -1.0
    apart = float(angle_between(nominal(first.u, 1), along_one * nominal(second.u, 1)))
    if apart < NARROW:  # too narrow to be halved: the wide angle beside it is, and gives the tangent
        why = "it halves the angle of one focal radius and the other produced"
        other = "back along the other" if sum_of_radii else "along the other"
        words = f"Centre {q.name}, equal arcs along one focal radius and {other}; a larger opening from both cuts."
        middle = _halved(d, q, (first, second), (1.0, -along_one), radius, 1.6, words)
        outward = (
            float(cross(nominal(first.u, 1), middle.here - q.here)) < 0
        )  # so that the normal runs on along the radius
        tangent = d.rule(
            *((q, middle) if outward else (middle, q)), f"Join {q.name} to the crossing: the tangent.", why=why
        )
        return d.square_to(tangent, q, f"Draw square to it at {q.name}: the normal.")
    which = "both focal radii produced" if sum_of_radii else "one focal radius and the other produced"
    words = f"Centre {q.name}, equal arcs on {which}; from both cuts the same opening again: they cross midway."
    middle = _halved(d, q, (first, second), (1.0, along_one), radius, 1.0, words)
    return d.rule(q, middle, f"Join {q.name} to it: the normal.", why="it halves the angle of the focal radii")


def _halved(
    d: Draft,
    q: Spot,
    lines: tuple[LineMark, LineMark],
    ways: tuple[float, float],
    radius: float,
    larger: float,
    words: str,
) -> Spot:
    """A point on the line that halves the angle at ``q`` of two lines, each taken one way (+1 along it), by equal
    arcs."""
    with d.as_one(
        "Compass", words, Setting(radius, "mm"), *([Setting(larger * radius, "mm")] if larger != 1.0 else [])
    ):
        arc = d.compass(q, radius, whole=False)
        cuts = [d.meet(line, arc, near=q.here + way * radius * nominal(line.u, 1)) for line, way in zip(lines, ways)]
        again = [d.compass(cut, larger * radius, whole=False) for cut in cuts]
        return d.meet(again[0], again[1], far=q) if larger == 1.0 else d.meet(again[0], again[1])
