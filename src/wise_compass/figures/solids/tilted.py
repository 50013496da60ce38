"""A solid in any position: tilted to the horizontal plane, then swung about an upright; what each view covers, and what
is hidden."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property, partial
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, InViews, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Radial, edge_of, from_level, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.solids.cut_solids import faces_of
from wise_compass.geometry.curves import ellipse_curve
from wise_compass.geometry.fair import enough_places
from wise_compass.geometry.solids import CutStock, Stock, ring
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    cross,
    direction,
    distance,
    dot,
    length,
    mean,
    multiples,
    point,
    sind,
)

DATUM, BETWEEN = 10.0, 18.0
"""How far behind the solid the vertical plane stands, where auxiliary planes are folded; what is left between two
stages."""
ROUND = ("cylinder", "cone")
RIM_PARTS, RIM_HOLD = (12, 24, 36, 48, 72), 0.15
"""Into how many a round base may be divided to find its ellipses, and mm within which they are to hold."""
EDGE_ON = 1e-6
"""A rim that is seen narrower than this, as a part of its area, is a line."""


class TiltedSolid(Curved, InViews, Solid, Figure, id="tilted-solid", family="solids", title="Solid in any position"):
    keys = ("B*", "B*.front", "B*.top", "O")
    brief = (
        "A {kind} on {sides} sides of {size}, {height} high, its first corner turned "
        "{turn}; its axis at {axis_h} to the horizontal "
        "plane, the plan of its axis at {axis_v} to the reference line. Found with {method}."
    )
    summary = "A solid as it lies: a fallen stone, a leaning post; tilted, then swung, with its hidden edges hidden."
    value_names = ("front_width", "front_height", "top_width", "top_depth", "axis_top_length", "axis_front_length")
    ways = ("three-stages", "auxiliary-plane")

    kind = Choice("prism", "the solid", ("prism", "pyramid", "cylinder", "cone"))
    sides = Count(6, "the number of sides; a round solid has none", 3, 24)
    size = Length(24, "the side of the base, or its diameter where it is round")
    height = Length(58, "the length of the axis")
    turn = Angle(10, "how far the first corner is turned about the axis, before it is tilted", least=-360, most=360)
    axis_h = Angle(40, "the axis to the horizontal plane; 90° is upright", least=0, most=90)
    axis_v = Angle(30, "how far the plan of the axis is swung, anticlockwise from above", least=0, under=360)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        if givens.get("kind") in ROUND:
            return cls.brief.replace("on {sides} sides of {size}", "{size} wide").replace(
                ", its first corner turned {turn}", ""
            )
        return cls.brief

    @property
    def is_round(self) -> bool:
        return self.kind in ROUND

    @property
    def pointed(self) -> bool:
        return self.kind in ("pyramid", "cone")

    @property
    def count(self) -> int:
        """The corners or divisions of the base."""
        return self.parts if self.is_round else self.sides

    @cached_property
    def parts(self) -> int:
        """The divisions of a round base: the fewest with which the curve joined up through them holds it as it is
        tilted."""
        return max(enough_places(partial(self._rim_in, view), RIM_PARTS, RIM_HOLD) for view in (0, 1))

    def _rim_in(self, view: int, turn: Array) -> Array:
        """Places of the base's rim about its middle, as the front (0) or the top view (1) shows them, (n, 2)."""
        return np.asarray(np.cos(np.deg2rad(turn))[:, None] * self._halves[view][0]) + np.asarray(
            np.sin(np.deg2rad(turn))[:, None] * self._halves[view][1]
        )

    @cached_property
    def _halves(self) -> tuple[tuple[Array, Array], tuple[Array, Array]]:
        """Two conjugate half diameters of the base in the front view, and in the top view."""
        one, other = (self.tilt @ np.array(at) for at in ((self.reach, 0.0, 0.0), (0.0, -self.reach, 0.0)))
        return (
            (point(one[0], one[2]), point(other[0], other[2])),
            (point(one[0], -one[1]), point(other[0], -other[1])),
        )

    def courses(self, method: str) -> Sequence[Course]:
        """The ellipses of a round solid's ends, in the views that show them as such."""
        if not self.is_round:
            return ()
        found = []
        tails = ("front", "top") if method == "three-stages" else ("4", "3")
        for halves, tail, view in zip(self._halves, tails, ("front", "top")):
            if abs(float(cross(*halves))) <= EDGE_ON * self.reach**2:
                continue
            for letter, words in (("B", "the base"), ("T", "the upper end")):
                if letter == "B" or not self.pointed:
                    names = tuple(f"{letter}{k}.{tail}" for k in range(self.count))
                    stations = multiples(360.0 / self.count, self.count)
                    says = f"{words} in the {view} view"
                    turn = "turn round the axis"
                    found.append(Course(says, ellipse_curve(*halves), stations, names, turn=turn, afloat=True))
        return tuple(found)

    @property
    def reach(self) -> float:
        return self.size / 2 if self.is_round else float(self.size / 2 / np.sin(np.pi / self.sides))

    @cached_property
    def stock(self) -> Stock:
        """The solid upright over the origin."""
        base = ring(self.reach, self.count, 0.0 if self.is_round else self.turn)
        up = np.array([0.0, 0.0, self.height])
        return Stock(base, up if self.pointed else base + up, 0 if self.is_round else 1)

    @cached_property
    def tilt(self) -> Array:
        """The matrix that takes the upright solid to its place, but for where it stands: tilted to the right, then
        swung."""
        c, s, cv, sv = (float(f(a)) for a in (self.axis_h, self.axis_v) for f in (cosd, sind))
        lean = np.array([[s, 0.0, c], [0.0, 1.0, 0.0], [-c, 0.0, s]])
        swing = np.array([[cv, sv, 0.0], [-sv, cv, 0.0], [0.0, 0.0, 1.0]])
        return np.asarray(swing @ lean)

    @cached_property
    def lift(self) -> float:
        """How high the middle of the base stands when the solid rests on the horizontal plane."""
        return float(self.stock.base[:, 0].max() * cosd(self.axis_h))

    @cached_property
    def corners(self) -> dict[str, Array]:
        """Every corner where it comes to stand, the middle of the base over the origin."""
        return {name: self.tilt @ at + np.array([0.0, 0.0, self.lift]) for name, at in self.stock.places.items()}

    def tilted(self, at: Array) -> Array:
        """A place of the upright solid after the tilt alone."""
        c, s = float(cosd(self.axis_h)), float(sind(self.axis_h))
        return np.array([at[0] * s + at[2] * c, at[1], -at[0] * c + at[2] * s + self.lift])

    @cached_property
    def stages(self) -> tuple[list[Array], list[float]]:
        """What the solid covers to the right and forward as it stands upright, tilted and swung, (2, corners) each, and
        where the middle of its base then stands from the left."""
        stands = self.stock.places, {name: self.tilted(at) for name, at in self.stock.places.items()}, self.corners
        spans = [np.array([[at[k] for at in places.values()] for k in (0, 1)]) for places in stands]
        xs, x = [], 0.0
        for span in spans:
            xs.append(x - float(span[0].min()))
            x += float(span[0].max() - span[0].min()) + BETWEEN
        return spans, xs

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        """What the solid is told by where it stands upright, the angles where it is tilted and swung."""
        staged = found.method == "three-stages"
        middle = found["O"] if staged else found["O.top"]
        lower = [self.stock.lower(k) for k in range(self.count)]
        ground = min(float(found[f"{name}.front"][1]) for name in self.stock.places)
        left = point(float(middle[0]) - self.reach, ground)
        yield upright(left, left + point(0.0, self.height), "height", self.height)
        if self.is_round:
            yield Radial(middle, self.reach, "size", self.size, 225.0, diameter=True)
        else:
            yield edge_of([middle + point(at[0], -at[1]) for at in self.stock.base], "size", self.size)
            yield from told([from_level(middle, self.turn, "turn")])
        yield from told(self._staged_angles(found, ground) if staged else self._folded_angles(found, lower))

    def _staged_angles(self, found: Found, ground: float) -> Iterator[Dimension]:
        resting = self.stock.base[int(np.argmax(self.stock.base[:, 0]))]
        foot = point(self.stages[1][1] + float(self.tilted(resting)[0]), ground)
        yield from_level(foot, self.axis_h, "axis_h")
        yield from_level(found["P"], self.axis_v, "axis_v")

    def _folded_angles(self, found: Found, lower: Sequence[str]) -> Iterator[Dimension]:
        lean = 90.0 - self.axis_h
        resting = max(lower, key=lambda name: float(self.stock.places[name][0]))
        yield from_level(found[f"{resting}.front"], self.axis_h, "axis_h", lean)
        swing = lean - self.axis_v
        corner = min((found[f"{name}.3"] for name in self.stock.places), key=lambda p: float(dot(p, direction(swing))))
        yield from_level(corner, self.axis_v, "axis_v", swing)

    @property
    def axis(self) -> Array:
        """The axis from the base up, as it lies."""
        return np.asarray(self.tilt @ np.array([0.0, 0.0, self.height]))

    def sight(self, view: int) -> Array:
        """Towards the eye of the front (0) or the top view (1), for the solid as it stood upright."""
        return np.asarray(self.tilt.T @ np.eye(3)[(1, 2)[view]])

    def covers(self, axis: int) -> float:
        """How much the solid covers along x, y or z."""
        w = np.eye(3)[axis]
        if not self.is_round:
            along = np.array([float(dot(at, w)) for at in self.corners.values()])
            return float(along.max() - along.min())
        half = self.reach * float(np.sqrt(max(1.0 - (float(dot(self.axis, w)) / self.height) ** 2, 0.0)))
        far = float(dot(self.axis, w))
        ends = [-half, half, *([far] if self.pointed else [far - half, far + half])]
        return max(ends) - min(ends)

    def _covering(self, axis: int) -> str:
        """How that comes about: by its rims, which lie at right angles to the axis, and by the apex."""
        if not self.is_round:
            return "from the first to the last of its corners"
        along = abs(float(self.axis[axis])) / self.height
        lean = trim(float(np.rad2deg(np.arccos(min(along, 1.0)))))
        rim, size = f"{bare(self.reach)} × sin {lean}°", f"{bare(self.height)} × cos {lean}°"
        if not self.pointed:
            return f"2 × {rim} + {size}"
        beyond = self.height * along > self.reach * float(np.sqrt(max(1.0 - along**2, 0.0)))
        return f"{size} + {rim}" if beyond else f"2 × {rim}"

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        for name, axis, words in (
            ("front_width", 0, "along the reference line"),
            ("front_height", 2, "upright"),
            ("top_width", 0, "along the reference line"),
            ("top_depth", 1, "square to the reference line"),
        ):
            yield Value(name, self.covers(axis), "mm", f"{self._covering(axis)}, {words}")
        h, size = trim(self.axis_h), bare(self.height)
        yield Value("axis_top_length", self.height * float(cosd(self.axis_h)), "mm", f"{size} cos {h}°")
        x, _, z = self.axis
        yield Value("axis_front_length", float(np.hypot(x, z)), "mm", f"√({bare(abs(float(x)))}² + {bare(float(z))}²)")

    def placed(self, found: Found) -> dict[str, Array]:
        """Every corner as the last two views fix it: along the reference line, forward and up."""
        if found.method == "three-stages":
            return {name: found[name] for name in self.stock.places}
        return as_folded(found, self.stock.places)

    def measure(self, found: Found) -> dict[str, Number]:
        at = self.placed(found)
        base = mean(*(at[self.stock.lower(k)] for k in range(self.count)))
        if self.pointed:
            axis = at["V"] - base
        else:
            axis = mean(*(at[self.stock.upper(k)] for k in range(self.count))) - base
        out: dict[str, Number] = {
            "axis_top_length": length(axis[..., :2]),
            "axis_front_length": length(axis[..., [0, 2]]),
        }
        if not self.is_round:
            all_of = np.stack(np.broadcast_arrays(*at.values()), axis=-2)
            spread = all_of.max(axis=-2) - all_of.min(axis=-2)
            names = ("front_width", 0), ("front_height", 2), ("top_width", 0), ("top_depth", 1)
            out.update({name: spread[..., k] for name, k in names})
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        at = self.placed(found)
        n, stock = self.count, self.stock
        base = np.array([at[stock.lower(k)] for k in range(n)])
        side = 2 * self.reach * float(np.sin(np.pi / n))
        yield Truth(f"Every side of the base is {mm(side)} long", distance(base, np.roll(base, -1, axis=0)) - side)
        slant = float(np.hypot(self.reach, self.height)) if self.pointed else self.height
        top = np.array([at[stock.upper(k)] for k in range(n)])
        yield Truth(f"Every line from the base up is {mm(slant)} long", distance(base, top) - slant)
        axis = top.mean(axis=0) - base.mean(axis=0)
        rise = np.rad2deg(np.arctan2(axis[2], np.hypot(axis[0], axis[1])))
        yield Truth(f"The axis stands at {trim(self.axis_h)}° to the horizontal plane", rise - self.axis_h, "°")
        if self.axis_h < 89.99:
            off = float(angle_of(point(float(axis[0]), float(-axis[1])))) - self.axis_v
            yield Truth(
                f"Its plan lies at {trim(self.axis_v)}° to the reference line", (off + 180.0) % 360.0 - 180.0, "°"
            )
        yield Truth("The base lies square to the axis", (base - base.mean(axis=0)) @ (axis / self.height))
        turned = [self.corners[name] - self.corners[stock.lower(0)] for name in (stock.lower(1), stock.upper(0))]
        shown = [at[name] - at[stock.lower(0)] for name in (stock.lower(1), stock.upper(0))]
        yield Truth("It is turned about its axis as given", np.array(shown) - np.array(turned))

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        upright = faces_of(CutStock(self._fine, None), self.is_round)
        if method == "auxiliary-plane":  # it stays upright, in front of the vertical plane
            return [Face(face.corners + np.array([0.0, self.reach + DATUM, 0.0]), face.round) for face in upright]
        lifted = np.array([0.0, 0.0, self.lift])
        return [Face(face.corners @ self.tilt.T + lifted, face.round) for face in upright]

    @property
    def _fine(self) -> Stock:
        """The solid with a smoother skin for the space view, where it is round."""
        if not self.is_round:
            return self.stock
        base, up = ring(self.reach, 3 * RIM_PARTS[0]), np.array([0.0, 0.0, self.height])
        return Stock(base, up if self.pointed else base + up, 0)


def as_folded(found: Found, names: Iterable[str]) -> dict[str, Array]:
    """Corners as views 3 and 4 fix them, folded about the line from X to Y: along it, forward and up, (…, 3)."""
    start = found["X"]
    u = (found["Y"] - start) / np.asarray(distance(found["X"], found["Y"]))[..., None]
    v = np.stack([-u[..., 1], u[..., 0]], axis=-1)
    out = {}
    for name in names:
        top, front = found[f"{name}.3"] - start, found[f"{name}.4"] - start
        parts = dot(top, u), -np.asarray(dot(top, v)), dot(front, v)
        out[name] = np.stack(np.broadcast_arrays(*parts), axis=-1)
    return out
