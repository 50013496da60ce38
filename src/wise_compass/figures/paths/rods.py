"""A rod whose ends run on two lines, and the ellipse that a point of it describes."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.paths.links import BESIDE, Carried, carried_dimensions, carry
from wise_compass.geometry.curves import Curve, ellipse_curve, moved
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, Number, cosd, direction, distance, point, sind

ROUND = 1e-9
"""Of its axes: within this an ellipse is a circle, or no wider than a line."""
BEYOND = 8.0
"""mm by which the two lines are drawn beyond the rod."""
ALONG_FIRST = 1e-6
"""Degrees from the first line within which the rod is taken to lie along it."""


class SlidingRod(Carried, id="sliding-rod", family="paths", title="Sliding rod"):
    keys = ("O", "A*", "B*", "P*")
    brief = (
        "A rod of {length} whose ends run on two lines at {angle}; the path of a point {along} along it and {off} off, "
        "at {divisions} positions, found with {method}."
    )
    summary = "A ladder that slides down a wall, a trammel: a point of a rod between two lines runs on an ellipse."
    ways = ("positions", "trammel")
    value_names = ("long", "wide", "tilt", "area", "path")

    length = Length(90, "the rod", most=2000)
    angle = Angle(90, "the angle of the second line to the first", least=1, most=179)
    along = Length(30, "how far along the rod the point is", least=-2000, most=2000)
    off = Length(0, "how far to the left of the rod it is", least=-2000, most=2000)
    divisions = Count(12, "the positions", 8, 72)

    @cached_property
    def matrix(self) -> Array:
        """What takes the direction of the rod, as a unit vector, to the carried point."""
        a, b, long = self.along, self.off, self.length
        cot = float(cosd(self.angle)) / float(sind(self.angle))
        return np.array([[a - long, long * cot - b], [b, a]])

    @cached_property
    def axes(self) -> tuple[float, float, float | None]:
        """The long and the short half axis of the ellipse, and the tilt of the long one; None for a circle."""
        turned, sizes, _ = np.linalg.svd(self.matrix)
        long, short = (float(size) for size in sizes)
        if long - short <= ROUND * long:
            return long, short, None
        tilt = float(np.degrees(np.arctan2(turned[1, 0], turned[0, 0]))) % 180.0
        return long, short, 0.0 if tilt > 180.0 - 1e-9 or tilt < 1e-9 else tilt

    def link_at(self, turn: Number) -> tuple[Array, Array]:
        turn = np.asarray(turn, dtype=float)
        end = self.length * np.asarray(sind(turn)) / float(sind(self.angle))
        second = end[..., None] * direction(self.angle)
        return second - self.length * direction(turn), second

    @cached_property
    def path_curve(self) -> Curve:
        return moved(ellipse_curve(point(1.0, 0.0), point(0.0, 1.0)), self.matrix)

    def refuse(self) -> None:
        if self.axes[0] < 0.1:
            raise Refused("along", f"The path would be {mm(2 * self.axes[0])} long. Change along or off.")

    def cautions(self) -> Iterable[str]:
        long, short, _ = self.axes
        if short <= ROUND * long:
            yield "The path is a straight piece, run over twice."

    def values(self, method: str) -> Iterable[Value]:
        long, short, tilt = self.axes
        flat = short <= ROUND * long
        names = tuple(f"P{k}" for k in range(self.divisions))
        yield Value(
            "long", 2 * long, "mm", "… twice the larger singular value of what takes the rod’s direction to the point"
        )
        yield Value("wide", 0.0 if flat else 2 * short, "mm", "… twice the smaller one")
        yield Value("tilt", tilt, "°", "… the direction of the long axis" if tilt is not None else "a circle has none")
        words = f"π × {bare(long)} × {bare(short)}"
        yield Value("area", 0.0 if flat else float(np.pi) * long * short, "mm²", words)
        yield Value("path", self.path, "mm", "the rod set at each direction", names)

    def measure(self, found: Found) -> dict[str, Number]:
        return {"path": found.group("P") - found["O"][..., None, :]}

    def truths(self, found: Found) -> Iterator[Truth]:
        one, other = found.group("A"), found.group("B")
        yield Truth("The first end runs on the first line", one[..., 1] - found["O"][..., None, 1])
        yield Truth(
            "The second end runs on the second",
            distance_to_line(other, found["O"][..., None, :], direction(self.angle)),
        )
        yield Truth("The rod keeps its length", distance(one, other) - self.length)
        yield from self.carried_truths(found, "A", "B")
        long, short, tilt = self.axes
        if short > 1e-3 * long:
            at = found.group("P") - found["O"][..., None, :]
            u = direction(tilt or 0.0)
            x, y = at @ u, at @ np.array([-u[1], u[0]])
            yield Truth("The points lie on the ellipse", (np.hypot(x / long, y / short) - 1) * short)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Angular(point(0.0, 0.0), 0.0, self.angle, "angle", self.angle)
        k = next(k for k in range(1, self.divisions) if f"A{k}" in found and f"B{k}" in found and f"P{k}" in found)
        a, b = found[f"A{k}"], found[f"B{k}"]
        yield Linear(a, b, "length", self.length, side=1, rank=2)
        yield from carried_dimensions(a, b, found[f"P{k}"], self.along, self.off)


def _lines(g: SlidingRod, d: Draft) -> tuple[Spot, LineMark, LineMark]:
    with d.phase("The two lines"):
        centre = d.start_at("O", says="Mark O, where the two lines cross.")
        first = d.level_from(centre, "Draw the first line level through O.", Role.CENTRE, g.length + BEYOND)
        second = d.ray(centre, g.angle, "Draw the second through O.", Role.CENTRE, "", g.length + BEYOND)
        return centre, first, second


@method(
    SlidingRod,
    "positions",
    about="The rod set from line to line at each direction, and the point carried by it.",
    source="The definition of the path",
)
def rod_positions(g: SlidingRod, d: Draft) -> None:
    centre, first, second = _lines(g, d)
    with d.phase("The directions"):
        rays = d.divide_turn(centre, g.divisions, 0.0, length=g.length)
        circle = d.compass(centre, g.length, "Centre O, draw a circle with the rod.")
    points: list[Spot] = []
    with d.phase("The positions"):
        for k, turn in enumerate(g.turns.tolist()):
            one, other = g.link_at(turn)
            flat = abs(float(sind(turn))) < np.deg2rad(ALONG_FIRST)
            says = f"Level from ray {k} to the second line, parallel to the ray back to the first: the rod; on it P{k}."
            if flat:
                says = f"The rod lies along the first line, its end in O; on it P{k}."
            with d.as_one("Set square", says):
                if flat:
                    b = d.also(f"B{k}", centre, "plain")
                    a = d.meet(first, circle, f"A{k}", near=one, kind="plain")
                else:
                    tip = d.meet(rays[k], circle, "", near=g.length * direction(turn))
                    b = d.meet(d.level_from(tip), second, f"B{k}", kind="plain")
                    a = d.meet(d.parallel_to(rays[k], b), first, f"A{k}", kind="plain")
                points.append(carry(d, a, b, *_carried(g, d, f"P{k}"), f"P{k}"))
    _line_in(g, d, points)


def _carried(g: SlidingRod, d: Draft, name: str) -> tuple[float, float]:
    """How far along the rod its point is laid off, and how far beside it."""
    along = d.choice(
        "from-the-other-end",
        right=g.along,
        slip=g.length - g.along,
        when=abs(g.length - 2 * g.along) > BESIDE,
        says="The point is laid off from the rod’s other end.",
        at=name,
    )
    off = d.choice(
        "off-the-other-side",
        right=g.off,
        slip=-g.off,
        when=abs(g.off) > BESIDE,
        says="The point is set off to the right of the rod.",
        at=name,
    )
    return along, off


def _line_in(g: SlidingRod, d: Draft, points: list[Spot]) -> None:
    with d.phase("Line in"):
        if g.axes[1] > 1e-3 * g.axes[0]:
            d.curve(points, closed=True, says="Line in the path through the points.")
        else:
            ordered = sorted(points, key=lambda spot: float(spot.here @ direction(g.axes[2] or 0.0)))
            d.line_in([ordered[0], ordered[-1]], says="Line in the path: a straight piece.")


def _square_only(g: SlidingRod) -> str | None:
    if abs(g.angle - 90.0) > 1e-9 or abs(g.off) > BESIDE:
        return (
            f"trammel serves for lines at 90° and a point on the rod; angle is {trim(g.angle)}° and off {mm(g.off)}. "
            "Choose positions."
        )
    if abs(g.along) < 1.0 or abs(g.length - g.along) < 1.0:
        return f"trammel serves where the point stands off both ends; along is {mm(g.along)}. Choose positions."
    return None


@method(
    SlidingRod,
    "trammel",
    fits=_square_only,
    fits_given="angle",
    about="A strip with both ends and the point marked on it, laid to both lines.",
    source="The trammel of Archimedes (Proclus on Euclid)",
)
def rod_trammel(g: SlidingRod, d: Draft) -> None:
    centre, first, second = _lines(g, d)
    swapped = d.choice(
        "from-the-other-end",
        right=g.along,
        slip=g.length - g.along,
        when=abs(g.length - 2 * g.along) > BESIDE,
        says="The point is marked from the strip’s other end.",
    )
    points: list[Spot] = []
    with d.phase("The strip"):
        says = "On a strip mark the rod’s two ends A and B, and the point P."
        with d.as_one("Trammel", says):
            pass
    with d.phase("The positions"):
        for k, turn in enumerate(g.turns.tolist()):
            one, other = g.link_at(turn)
            with d.as_one("Trammel", f"Lay B on the second line and A on the first, and mark P{k}."):
                upright = abs(float(sind(turn))) > 0.7
                if upright:
                    a = d.lay_off(first, centre, float(one[0]), f"A{k}", kind="plain")
                    b = d.meet(second, d.compass(a, g.length, whole=False), f"B{k}", near=other, kind="plain")
                else:
                    b = d.lay_off(second, centre, float(other[1]), f"B{k}", kind="plain")
                    a = d.meet(first, d.compass(b, g.length, whole=False), f"A{k}", near=one, kind="plain")
                points.append(carry(d, a, b, swapped, 0.0, f"P{k}"))
    _line_in(g, d, points)
