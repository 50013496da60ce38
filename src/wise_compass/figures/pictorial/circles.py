"""A circle on a face of a picture: an ellipse by ordinates, or near enough by four centres or eight points."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, Picture, Pictured, Solid
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.givens import Choice, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.pictorial.axes import OBLIQUE, OnAxes, in_space, parallel_picture, turned_outward
from wise_compass.geometry.curve_places import nearest
from wise_compass.geometry.curves import Curve, ellipse_curve
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    cross,
    direction,
    distance,
    left_of,
    multiples,
    point,
    polar,
    sind,
)

FACES = {"top": (0, 1), "left": (0, 2), "right": (1, 2), "front": (0, 2)}
"""The two axes that a face lies along."""
ROUND = 1e-9
"""Half axes that differ by less, as a part of them, are those of a circle."""
APART = 18.0
"""Between the true view and the picture."""
PARTS = 8
"""Points that the approximate ways find: four middles and what is between them."""
SIDES = 48
OFF = {
    "four-centres": "the largest gap of the four arcs from the ellipse, both given",
    "diagonals": "the gap from the ellipse of the curve joined up through the eight points, both given",
}


class PictorialCircle(
    Curved, Solid, Pictured, OnAxes, id="pictorial-circle", family="pictorial", title="Circle in a picture"
):
    keys = ("O", "P*")
    brief = opens = "A circle {diameter} wide on the {face} face, in {divisions} divisions"
    summary = (
        "A hole, a wheel, a washer on any face: the true ellipse by ordinates, "
        "or four arcs that say how far off they are."
    )
    value_names = ("long_axis", "short_axis", "tilt")
    ways = ("ordinates", "four-centres", "diagonals")

    diameter = Length(60, "the diameter")
    face = Choice("top", "the face that it lies on", tuple(FACES))
    divisions = Count(12, "the divisions of the circle", 8, 72, multiple=4)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        words = super().sentence(givens, method)
        return words if method in ("", "ordinates") else words.replace(", in {divisions} divisions", "")

    def refuse(self) -> None:
        super().refuse()
        other = {"left": "front", "front": "left"}.get(self.face)
        oblique = self.drawn in OBLIQUE
        if self.face == ("left" if oblique else "front"):
            how = f"An {'oblique' if oblique else self.drawn} picture"
            raise Refused("face", f"{how} has no {self.face} face. Set face to {other}.")

    @property
    def lies(self) -> tuple[int, int]:
        """The axes of its face."""
        return FACES[self.face]

    @property
    def halves(self) -> tuple[Array, Array]:
        """The half diameters along them as they are drawn."""
        one, other = (self.axes.vectors[axis] * self.diameter / 2 for axis in self.lies)
        return one, other

    @cached_property
    def half_axes(self) -> tuple[float, float, float]:
        """Half the long and half the short axis of the ellipse, and how the long one is tilted."""
        p, q = self.halves
        one, two = float(distance(p, left_of(q))), float(distance(p, -left_of(q)))
        spread = point(p[0] ** 2 + q[0] ** 2 - p[1] ** 2 - q[1] ** 2, 2 * (p[0] * p[1] + q[0] * q[1]))
        tilt = float(angle_of(spread)) / 2 % 180.0
        return (one + two) / 2, abs(one - two) / 2, 0.0 if tilt > 180.0 - 1e-9 else tilt

    @property
    def is_circle(self) -> bool:
        """Whether it is drawn as a circle."""
        long, short, _ = self.half_axes
        return long - short <= ROUND * long

    @property
    def rhombus(self) -> tuple[float, float, float]:
        """Half the long and half the short diagonal of the slanting square about it, and how the long one is tilted."""
        one, other = self.halves
        long, short = one + other, one - other
        if float(distance(long, 0 * long)) < float(distance(short, 0 * short)):
            long, short = short, long
        return float(np.hypot(*long)), float(np.hypot(*short)), float(angle_of(long)) % 180.0

    @property
    def blunt(self) -> int:
        """Which corner of the slanting square is a blunt one: E, between the middles P0 and P2, or the next."""
        one, other = self.halves
        return 0 if float(np.hypot(*(one + other))) < float(np.hypot(*(one - other))) else 1

    @property
    def joints(self) -> list[str]:
        """The middles of the sides from the blunt corner’s first on."""
        return [f"P{2 * ((k + self.blunt) % 4)}" for k in range(4)]

    @property
    def four_radii(self) -> tuple[float, float]:
        """Radii of the arcs about the two centres on the short diagonal, and about the two on the long one."""
        long, short, _ = self.rhombus
        side = float(np.hypot(long, short))
        return long / short * side / 2, short / long * side / 2

    def values(self, method: str) -> Iterable[Value]:
        a, b, tilt = self.half_axes
        one, other = self.halves
        p, q, lean = bare(float(np.hypot(*one))), bare(float(np.hypot(*other))), self._lean
        words = f"√({p}² + {q}² + 2 × {p} × {q} × sin {lean}°)"
        less = f"√({p}² + {q}² − 2 × {p} × {q} × sin {lean}°)"
        yield Value("long_axis", 2 * a, "mm", f"{words} + {less}", ("O",))
        yield Value("short_axis", 2 * b, "mm", f"{words} − {less}", ("O",))
        yield Value("tilt", None if self.is_circle else tilt, "°", self._tilt_words(p, q, tilt), ("O",))
        if method == "four-centres":
            yield from self._arc_values(a)
        if method != "ordinates":
            yield Value("largest_miss", self._miss(method), "mm", OFF[method], ("O",), drawn=True)

    def _tilt_words(self, p: str, q: str, tilt: float) -> str:
        """How the tilt comes of the half diameters and their angles."""
        if self.is_circle:
            return "none: given truly, it is a circle"
        (one, other), (a, b) = self.halves, (self.axes.angles[axis] for axis in self.lies)
        squares = float(one @ one), float(other @ other)
        up = squares[0] * float(sind(2 * a)) + squares[1] * float(sind(2 * b))
        along = squares[0] * float(cosd(2 * a)) + squares[1] * float(cosd(2 * b))
        turned = round((tilt - float(np.degrees(np.arctan(up / along))) / 2) / 90.0) * 90
        parts = (f"{p}² × {way} {2 * a:g}° + {q}² × {way} {2 * b:g}°" for way in ("sin", "cos"))
        up_words, along_words = parts
        return f"arctan(({up_words}) / ({along_words})) / 2" + (f" + {turned}" if turned else "")

    @property
    def _lean(self) -> str:
        """The angle between the two axes of the face."""
        angles = [self.axes.angles[axis] for axis in self.lies]
        return f"{abs(angles[0] - angles[1]):g}"

    def _arc_values(self, a: float) -> Iterator[Value]:
        large, small = self.four_radii
        long, short, _ = self.rhombus
        one, other, side = bare(long), bare(short), bare(float(np.hypot(long, short)))
        yield Value("large_radius", large, "mm", f"{one} / {other} × {side} / 2", ("C1", "C2"), drawn=True)
        yield Value("small_radius", small, "mm", f"{other} / {one} × {side} / 2", ("C3", "C4"), drawn=True)
        drawn = (long - short) * (long + short) / long + 2 * small
        words = f"({one}² − {other}²) / {one} + 2 × {bare(small)} − {bare(2 * a)}"
        yield Value("long_axis_miss", drawn - 2 * a, "mm", words, ("C3", "C4"), drawn=True)

    def _miss(self, method: str) -> float:
        """How far the four arcs, or the curve through the eight points, stray from the ellipse."""
        eight = along_curve(fair_curve(self._eight(), closed=True), 32)
        return self._off(self._arc_line() if method == "four-centres" else eight)

    def _off(self, line: Array) -> float:
        """How far the farthest of some places, (n, 2), lies from the ellipse."""
        curve = ellipse_curve(*self.halves)
        tried = np.arange(0.0, 360.0)
        guess = tried[np.argmin(distance(curve.at(tried), line[:, None, :]), axis=1)]
        return float(nearest(curve, line, guess - 1.0, guess + 1.0)[1].max())

    def _eight(self) -> Array:
        """The eight points by diagonals: four middles, and two thirds of each half diagonal."""
        one, other = self.halves
        corners = [one + other, other - one, -one - other, one - other]
        return np.array([at for pair in zip([one, other, -one, -other], [2 / 3 * c for c in corners]) for at in pair])

    def _arc_line(self) -> Array:
        """The four arcs as points."""
        long, short, tilt = self.rhombus
        large, small = self.four_radii
        u, v = direction(tilt), direction(tilt + 90.0)
        far = (long - short) * (long + short) / 2
        hubs = [(-far / short * v, large, u, v), (far / long * u, small, u, v)]
        found = []
        for hub, radius, _, _ in hubs:
            ends = [
                (long * u + short * v) / 2,
                (-long * u + short * v) / 2 if radius == large and hub is hubs[0][0] else (long * u - short * v) / 2,
            ]
            turns = np.array([float(angle_of(end - hub)) for end in ends])
            sweep = (turns[1] - turns[0] + 180.0) % 360.0 - 180.0
            found.append(polar(hub, radius, turns[0] + sweep * np.linspace(0, 1, 121)))
        line = np.concatenate(found)
        return np.concatenate([line, -line])

    def courses(self, method: str) -> Sequence[Course]:
        curve: Curve = ellipse_curve(*self.halves)
        marks = tuple((90.0 * k, "the middles of the sides") for k in range(4))
        if method == "four-centres":
            return (Course("the ellipse", curve, np.zeros(0), (), landmarks=marks, turn="eccentric angle"),)
        count = self.divisions if method == "ordinates" else PARTS
        names = tuple(f"P{k}" for k in range(count))
        return (
            Course("the ellipse", curve, evenly(360.0 / count, count), names, landmarks=marks, turn="eccentric angle"),
        )

    def measure(self, found: Found) -> dict[str, Number]:
        points = found.group("P")
        n = points.shape[-2]
        p = (points[..., 0, :] - points[..., n // 2, :]) / 2
        q = (points[..., n // 4, :] - points[..., 3 * n // 4, :]) / 2
        one, two = distance(p, left_of(q)), distance(p, -left_of(q))
        out: dict[str, Number] = {"long_axis": one + two, "short_axis": np.abs(one - two)}
        if "C1" in found:
            out["large_radius"] = distance(found["C1"], found[self.joints[2]])
            out["small_radius"] = distance(found["C3"], found[self.joints[0]])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        points, (u, v) = found.group("P"), self.halves
        whole = float(cross(u, v))
        off = points - found["O"]
        along, across = cross(off, v) / whole, cross(u, off) / whole
        yield Truth(
            "Every point stands as on the circle, measured along the two axes",
            (np.hypot(along, across) - 1.0) * self.diameter / 2,
        )
        n = points.shape[-2]
        ends = np.array([u, v, -u, -v])
        yield Truth(
            "The middles of the four sides are on it", distance(off[..., [0, n // 4, n // 2, 3 * n // 4], :], ends)
        )
        if "C1" in found:
            yield Truth(
                "Arcs that join have one tangent: both centres stand in line with the joint",
                np.asarray(self._joints(found)),
            )
            yield Truth("The four arcs keep to the ellipse all along", self._miss("four-centres"))
        if found.method == "diagonals":
            yield Truth("The ellipse passes through all eight points", self._off(self._eight()))
            yield Truth("The curve through them keeps to the ellipse all along", self._miss("diagonals"))

    def _joints(self, found: Found) -> list[float]:
        """How far a joint is out of line with the two centres of its arcs."""
        off = []
        pairs = (("C2", "C3"), ("C2", "C4"), ("C1", "C4"), ("C1", "C3"))
        for name, (large, small) in zip(self.joints, pairs):
            if name in found:
                a, b = found[name] - found[large], found[name] - found[small]
                off.append(float(cross(a, b)) / max(float(np.hypot(*a)), 1e-9))
        return off

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        one, other = self.halves
        yield Linear(-one, one, "diameter", self.diameter, 1, rank=4, out=float(angle_of(other)))

    def pictured(self, found: Found) -> Picture | None:
        return parallel_picture(self.axes, found["O"])

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """A disc as thin as paper, on its face."""
        if off:
            return ()
        one, other = self.lies
        turn = multiples(360.0 / SIDES, SIDES)
        flat = direction(turn) * self.diameter / 2
        rim = np.zeros((2, SIDES, 3))
        rim[:, :, one], rim[:, :, other] = flat[:, 0], flat[:, 1]
        third = 3 - one - other
        thick = self.diameter / 40
        rim[0, :, third] = -thick if third == 2 else thick
        near, far = in_space(rim[1]), in_space(rim[0])
        sides = [Face(np.array([far[k - 1], far[k], near[k], near[k - 1]]), 1) for k in range(SIDES)]
        return turned_outward([*sides, Face(near), Face(far)])
