"""What isometrics of prisms and round solids share: two equal or alike ends along an axis, found by an auxiliary true
view.

The end that is seen is the *near* one: the upper end of what stands upright, the end where the axis starts of what runs
back. In the plane of an end places are told along two of the axes: that of the first corner, ``across``, and the other,
``along``.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import Any, ClassVar

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Choice
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Row, Spot
from wise_compass.figures.pictorial.axes import SCALES, Axes, Hand, Trimetric, axes_of
from wise_compass.geometry.blocks import towards
from wise_compass.geometry.curves import Curve, ellipse_curve
from wise_compass.geometry.fair import enough_places
from wise_compass.geometry.vectors import Array, angle_of, direction, dot, left_of, polar, unit

LIES = {"upright": (1, 0, 2), "front": (1, 2, 0), "right": (0, 2, 1)}
"""By the axis: the axis of the first corner, the other in the plane of the ends, and the axis itself."""
RIM_PARTS, RIM_HOLD = (12, 24, 36, 48, 72), 0.15
"""Into how many a rim may be divided, and mm within which the curve joined up through the divisions is to hold it."""
APART = 20.0
"""mm between the true view and the picture."""


class Ended(Trimetric):
    """Base of the isometrics, and other axonometric pictures, with two ends."""

    axis = Choice("upright", "the axis that it runs along", tuple(LIES))
    scale = Choice("true", "the scale of its axes", tuple(SCALES), SCALES)
    drawn = Choice("isometric", "how it is drawn", ("isometric", "axonometric"))

    opens: ClassVar[str] = ""

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        how = cls.says_axes(givens) if givens.get("drawn", "isometric") == "axonometric" else "{scale}"
        return f"{cls.opens}, its axis {{axis}}, in {{drawn}} {how}. Found with {{method}}."

    @property
    @abstractmethod
    def deep(self) -> float:
        """From one end to the other."""

    @cached_property
    def axes(self) -> Axes:
        return axes_of(self.drawn, 30.0, self.scale, self.terms)

    @cached_property
    def sight(self) -> Array:
        """Towards the eye, along front, right and height, as a cosine of each."""
        return towards(self.axes.vectors)

    @property
    def lies(self) -> tuple[int, int, int]:
        return LIES[self.axis]

    @property
    def plane(self) -> Array:
        """A mm across and along, as they are drawn, (2, 2)."""
        across, along, _ = self.lies
        return self.axes.vectors[[across, along]]

    @property
    def back(self) -> Array:
        """From the near end to the far one, as it is drawn."""
        way = -1.0 if self.axis == "upright" else 1.0
        return np.asarray(way * self.deep * self.axes.vectors[self.lies[2]])

    @property
    def shift(self) -> Array:
        """The same in the plane of the ends: where the far end is seen from the near one, across and along, at true
        size."""
        return np.asarray(np.linalg.solve(self.plane.T, self.back))

    @property
    def off_axis(self) -> float:
        """How far that is."""
        return float(np.hypot(*self.shift))

    def facing(self, turn: float) -> float:
        """How far a flank whose outward direction is so far round turns to the eye, as a cosine."""
        across, along, _ = self.lies
        u = direction(turn)
        return float(u[0] * self.sight[across] + u[1] * self.sight[along])

    def ellipse(self, radius: float) -> Curve:
        """A circle of the ends' plane as it is drawn, by how far round."""
        across, along = radius * self.plane
        return ellipse_curve(across, along)

    def enough(self, *radii: float) -> int:
        """Into how many a circle of the ends' plane is divided, so that the curve through the divisions holds."""
        widest = max(radii)
        return enough_places(lambda t: polar(np.zeros(2), widest, t) @ self.plane, RIM_PARTS, RIM_HOLD)

    def long_dimension(self, rim: Sequence[Array], middle: Array, given: str, value: float) -> Dimension:
        """From end to end beside the outermost of some places of the near end, lying in a plane of two axes."""
        across = left_of(unit(self.back)) * (-1.0 if self.axis != "front" else 1.0)
        at = max(rim, key=lambda p: float(dot(p - middle, across)))
        ways = [sign * one for one in self.plane for sign in (1.0, -1.0)]
        out = max(ways, key=lambda way: float(dot(unit(way), across)))
        return Linear(at, at + self.back, given, value, 1, out=float(angle_of(out)))

    def span(self, radius: float) -> Array:
        """Half the width and height of a circle of the ends' plane as it is drawn."""
        return np.asarray(radius * np.sqrt((self.plane**2).sum(axis=0)))

    def in_space(self, flat: Array, depth: float) -> Array:
        """Places of the ends' plane, so far behind the near end, along front, right and height."""
        across, along, axis = self.lies
        places = np.zeros((*flat.shape[:-1], 3))
        places[..., across], places[..., along] = flat[..., 0], flat[..., 1]
        places[..., axis] = -depth if self.axis == "upright" else depth
        return places


class EndedHand(Hand):
    """An isometric with two ends on the way: its true view, and places carried from there along the axes."""

    true: Spot
    datum: Spot
    start: Spot
    across: LineMark

    def __init__(self, g: Ended, d: Draft) -> None:
        super().__init__(g.axes, d, g.says_scale)
        self.ended = g

    def true_view(self, radius: float, crate: bool) -> Spot:
        """The middle of the auxiliary true view, left of where the picture will be, with its centre lines.

        From a crate’s corner the picture reaches twice as far to the left as from the middle of an end.
        """
        g, d = self.ended, self.d
        reach = float(g.span(radius)[0]) + float(np.abs(g.back[0]))
        self.true = d.start_at(
            "K",
            -(2.0 if crate else 1.0) * reach - radius - APART,
            0.0,
            "Mark K, the middle of the true view of an end.",
            kind="plain",
        )
        with d.as_one("Set square", "Draw its centre lines."):
            for line in (d.level_from(self.true, role=Role.CENTRE), d.upright_from(self.true, role=Role.CENTRE)):
                line.extent(-radius - 4.0, radius + 4.0)
        return self.true

    def from_centre(self, reach: float) -> None:
        """The picture begins at the middle of the near end: a Y of the axes, offsets from its centre lines."""
        g, d = self.ended, self.d
        self.datum = d.start_at("O", says="Mark O, the middle of the near end in the picture.")
        self.three_axes(self.datum, [reach] * 3)
        for axis in g.lies[:2]:
            self.lines[axis].extent(-reach * self.axes.scales[axis], reach * self.axes.scales[axis])
        self.start, self.across = self.true, self.lines[g.lies[0]]

    def from_crate(self, low: Array, high: Array, walls: Sequence[Spot]) -> None:
        """The picture begins at the crate’s corner: the crate about the true view, and the same face of it in the
        picture.

        ``walls`` are places of the true view that the crate touches: at its least across and its least along.
        """
        g, d = self.ended, self.d
        with d.as_one(
            "Set square",
            "Round the true view draw the crate: its left and its lower side, through what reaches furthest.",
        ):
            side, floor = d.upright_from(walls[0]), d.level_from(walls[1])
            self.start = d.meet(side, floor, "Z")
            for line, span in ((side, high[1] - low[1]), (floor, high[0] - low[0])):
                line.extent(0.0, float(span))
        across, along, axis = g.lies
        at = self.axes.at(np.zeros(3))
        size = np.zeros(3)
        size[across], size[along], size[axis] = float(high[0] - low[0]), float(high[1] - low[1]), g.deep
        corner = d.start_at(
            "A", float(at[0]), float(at[1]), "Mark A, the nearest, lowest corner of the crate in the picture."
        )
        self.three_axes(corner, size.tolist())
        if g.axis == "upright":
            top = self.off(
                axis,
                corner,
                g.deep,
                "A2",
                "Up the axis lay off the length: the crate’s upper face begins there.",
                kind="plain",
            )
            self.datum = top
            self.across = self.along(across, top, "Draw its edge parallel.")
        else:
            self.datum, self.across = corner, self.lines[across]

    def carry(self, mark: Spot, name: str, kind: str = "found", flat: tuple[bool, bool] = (False, False)) -> Spot:
        """A place of the true view carried into the picture: its offset across, then its offset along, as the axes run.

        ``flat`` tells which of the two offsets are nothing.
        """
        g, d = self.ended, self.d
        across, along, _ = g.lies
        foot = self.datum
        if not flat[0]:
            taken = d.in_proportion(d.opening_along(self.start, mark, True), self.axes.scales[across])
            foot = d.lay_off(self.across, self.datum, taken, name if flat[1] else "", kind=kind if flat[1] else "plain")
        if flat[1]:
            return foot if not flat[0] else d.also(name, self.datum, kind)
        line = self.lines[along] if flat[0] and self.datum.name != "A2" else self.along(along, foot)
        taken = d.in_proportion(d.opening_along(self.start, mark, False), self.axes.scales[along])
        return d.lay_off(line, foot, taken, name, kind=kind)

    def carry_flat(self, mark: Spot) -> tuple[bool, bool]:
        """Which offsets of a place are nothing, by the steady hand."""
        gap = mark.here - self.start.here
        near = 1e-9 * max(float(np.abs(gap).max()), 1.0)
        return bool(abs(gap[0]) <= near), bool(abs(gap[1]) <= near)

    def behind(self, spot: Spot, deep: float, name: str, kind: str = "found") -> Spot:
        """The place that lies behind one of the near end, ``deep`` along the axis."""
        axis = self.ended.lies[2]
        line = self.along(axis, spot)
        way = -1.0 if self.ended.axis == "upright" else 1.0
        return self.d.lay_off(line, spot, way * deep * self.axes.scales[axis], name, kind=kind)

    def rim(self, circle: ArcMark, count: int, letter: str, radius: float) -> list[Spot]:
        """The divisions of a circle of the true view carried into the picture."""
        d = self.d
        found = []
        for k, mark in enumerate(self.divisions(circle, count, radius)):
            with d.as_one("Dividers", f"Carry division {k} along the axes: {letter}{k}."):
                found.append(
                    self.carry(mark, f"{letter}{k}", "plain" if 4 * k % count else "found", self.carry_flat(mark))
                )
        return found

    def arc(self, row: Row, count: int, start: float, sweep: float, role: Role = Role.OUTLINE) -> None:
        """An arc of a rim lined in, by degrees round it; ``row`` has its ``count`` divisions and closes."""
        first = start % 360.0 / 360.0 * count
        last = first + sweep / 360.0 * count
        self.d.piece(row, first, min(last, float(count)), role)
        if last - count > 1e-9:
            self.d.piece(row, 0.0, last - count, role)

    def divisions(self, circle: ArcMark, count: int, radius: float) -> list[Spot]:
        """Where rays cut a circle of the true view."""
        d = self.d
        rays = d.divide_turn(self.true, count, length=radius)
        with d.as_one("Pencil", f"Mark its {count} divisions."):
            return [
                d.meet(ray, circle, near=self.true.here + radius * direction(360.0 * k / count))
                for k, ray in enumerate(rays)
            ]
