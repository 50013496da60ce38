"""Ellipses on two conjugate diameters, and the axes found from them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Angular, Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.curves.touching import Touching, by_ordinates
from wise_compass.geometry.curves import Curve, ellipse_curve
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    cross,
    direction,
    distance,
    dot,
    left_of,
    point,
    sind,
    unit,
)

ORIGIN = point(0.0, 0.0)


class EllipseConjugate(
    Curved, Touching, id="ellipse-conjugate", family="conics", title="Ellipse on conjugate diameters"
):
    keys = ("P*",)
    brief = (
        "The ellipse on conjugate diameters of {first} and {second} at {angle}, "
        "found with {method} in {divisions} divisions."
    )
    summary = "An ellipse from two diameters, each halving the chords along the other: a circle in a slanting square."
    ways = ("parallelogram", "auxiliary-circle", "rotated-triangle")
    value_names = ("long", "wide", "tilt")

    first = Length(124, "the level diameter")
    second = Length(78, "the other diameter")
    angle = Angle(64, "the angle between them", least=5, most=175)
    divisions = Count(16, "the number of divisions", 8, 72, multiple=4)
    at = Angle(
        60, "the place of the point of touch, from 0 at the first diameter to 90 at the second", least=-360, most=360
    )

    @cached_property
    def touched(self) -> Curve:
        return ellipse_curve(*self.halves)

    @property
    def touched_range(self) -> tuple[float, float]:
        return -360.0, 360.0

    def courses(self, method: str) -> Sequence[Course]:
        n = self.divisions
        names = tuple(f"P{k}" for k in range(n))
        marks = tuple((90.0 * k, f"the ends of the {'second' if k % 2 else 'first'} diameter") for k in range(4))
        stations = evenly(360.0 / n, n)
        return (
            Course("the ellipse", self.touched, stations, names, landmarks=marks, turn="eccentric angle", pole=ORIGIN),
        )

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        centre, (u, v) = d.spots["O"], self.halves
        q = self.point_by_hand(d, f"Find the point at {trim(self.at)}°", centre)
        x, y = -float(sind(self.at)), float(cosd(self.at))
        says = f"Find the point a quarter further on, the end of the half diameter conjugate to O{self.letter}"
        z = by_ordinates(d, "Z", x * u + y * v, centre, says)
        conjugate = d.rule(centre, z, "Join OZ.")
        words = f"Draw parallel to OZ through {self.letter}: the tangent."
        tangent = d.parallel_to(conjugate, q, words, role=Role.CENTRE, why="tangents lie along the conjugate diameter")
        return q, d.square_to(tangent, q, f"Draw square to it at {self.letter}: the normal.")

    @property
    def halves(self) -> tuple[Array, Array]:
        return point(self.first / 2, 0.0), self.second / 2 * direction(self.angle)

    @property
    def axes(self) -> tuple[float, float]:
        """Half axes, by Rytz: the sum of their squares and their product are those of the diameters."""
        p, q = self.halves
        one, two = float(distance(p, left_of(q))), float(distance(p, -left_of(q)))
        return (one + two) / 2, abs(one - two) / 2

    @property
    def tilt(self) -> float:
        """Direction of the long axis from the level diameter, in (−90, 90]."""
        p, q = self.halves
        spread = point(
            float(p[0]) ** 2 + float(q[0]) ** 2 - float(p[1]) ** 2 - float(q[1]) ** 2,
            2 * float(p[0] * p[1] + q[0] * q[1]),
        )
        return float(angle_of(spread)) / 2

    def refuse(self) -> None:
        a, b = self.axes
        if b < 0.02 * a:
            raise Refused(
                "angle",
                f"The ellipse would be {mm(2 * b)} wide and {mm(2 * a)} long, too thin to set out. "
                "Bring angle nearer to 90°, or first and second nearer together.",
            )

    def values(self, method: str) -> Iterable[Value]:
        a, b = self.axes
        p, q, w = bare(self.first / 2), bare(self.second / 2), trim(self.angle)
        roots = f"√({p}² + {q}² + 2 × {p} × {q} sin {w}°)", f"√({p}² + {q}² − 2 × {p} × {q} sin {w}°)"
        yield Value("long", 2 * a, "mm", f"{roots[0]} + {roots[1]}", ("O",))
        yield Value("wide", 2 * b, "mm", f"|{roots[0]} − {roots[1]}|", ("O",))
        yield Value(
            "tilt",
            self.tilt,
            "°",
            f"arctan({q}² sin {trim(2 * self.angle)}° / ({p}² + {q}² cos {trim(2 * self.angle)}°)) / 2",
            ("O",),
        )
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        points = found.group("P")
        n = self.divisions
        p = (points[..., 0, :] - points[..., n // 2, :]) / 2
        q = (points[..., n // 4, :] - points[..., 3 * n // 4, :]) / 2
        one, two = distance(p, left_of(q)), distance(p, -left_of(q))
        spread = point(
            p[..., 0] ** 2 + q[..., 0] ** 2 - p[..., 1] ** 2 - q[..., 1] ** 2,
            2 * (p[..., 0] * p[..., 1] + q[..., 0] * q[..., 1]),
        )
        return {"long": one + two, "wide": np.abs(one - two), "tilt": angle_of(spread) / 2, **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        p, (u, v) = found.group("P"), self.halves
        whole = float(cross(u, v))
        along, across = cross(p, v) / whole, cross(u, p) / whole
        yield Truth(
            "Every point stands as on the circle, measured along the two diameters",
            (np.hypot(along, across) - 1.0) * min(self.first, self.second) / 2,
        )
        ends = np.array([u, v, -u, -v])
        quarter = self.divisions // 4
        yield Truth(
            "The ends of both diameters are on it", distance(p[..., [0, quarter, 2 * quarter, 3 * quarter], :], ends)
        )
        if "S" in found:
            a, b = self.axes
            s, y = found["X"], found["Y"]
            yield Truth("The axes found are square to each other", dot(unit(s), y))
            yield Truth(
                "They are as long as by formula", np.stack([distance(s, ORIGIN) - a, distance(y, ORIGIN) - b], axis=-1)
            )
            yield Truth("The long axis lies at the tilt", cross(direction(self.tilt), s))
        yield from self.touch_truths(found)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        u, v = self.halves
        yield Linear(-u, u, "first", self.first, past=point(0.0, -float(self.axes[0])))
        yield Angular(ORIGIN, 0.0, self.angle, "angle", self.angle)
        yield from self.touch_dimensions(found)
        yield Linear(-v, v, "second", self.second, 1)


def _conjugate_in(g: EllipseConjugate, d: Draft) -> None:
    g.touch_in(d)
    n = g.divisions
    with d.phase("Line in"):
        d.curve([d.spots[f"P{k}"] for k in range(n)], closed=True, says=f"Line in the ellipse through the {n} points.")


@method(
    EllipseConjugate,
    "parallelogram",
    about="Rays from the ends of one diameter through divided halves cross on the ellipse.",
    source="Steiner's generation of a conic by two projective pencils",
)
def conjugate_parallelogram(g: EllipseConjugate, d: Draft) -> None:
    u, v = g.halves
    n = g.divisions
    with d.phase("Diameters"):
        centre = d.start_at("O", says="Mark the centre O.")
        level = d.level_from(centre, "Draw the first diameter level.", role=Role.CENTRE)
        slant = d.ray(centre, g.angle, "Draw the second at its angle.", role=Role.CENTRE)
        ends = {}
        for k, (line, length) in enumerate(
            ((level, g.first / 2), (slant, g.second / 2), (level, -g.first / 2), (slant, -g.second / 2))
        ):
            ends[k * n // 4] = d.lay_off(line, centre, length, f"P{k * n // 4}", f"Lay off half of it: P{k * n // 4}.")
    east, top, west, low = (ends[k * n // 4] for k in range(4))
    with d.phase("Parallelogram"):
        sides = {}
        for sign, end, name in ((1, east, "right"), (-1, west, "left")):
            with d.as_one("Set square", f"At the {name} end draw parallel to the second diameter."):
                sides[sign] = (d.parallel_to(slant, end), end)
    with d.phase("Find the points"):
        for k in range(n):
            if 4 * k % n == 0:
                continue
            turn = 360.0 * k / n
            x, y = float(cosd(turn)), float(sind(turn))
            side, end = sides[1 if x > 0 else -1]
            pole, other = (low, top) if y > 0 else (top, low)
            # by similar triangles the ray to the pole cuts the first diameter where the other ray cuts the side as far
            # on
            part = abs(x) / (1.0 + abs(y))
            with d.as_one(
                "Straightedge",
                f"Cut half of the first diameter and the side alike at {trim(part, 4)} of them; the rays from "
                f"{pole.name} and {other.name} cross at P{k}.",
                Setting(part * g.first / 2, "mm"),
            ):
                inner = d.lay_off(level, centre, np.sign(x) * part * g.first / 2, "", kind="plain")
                outer = d.lay_off(side, end, np.sign(y) * (1 - part) * g.second / 2, "", kind="plain")
                d.meet(d.rule(pole, inner), d.rule(other, outer), f"P{k}")
    _conjugate_in(g, d)


@method(
    EllipseConjugate,
    "auxiliary-circle",
    about="Each height of the circle on the first diameter, shrunk and leaned along the second.",
    source="The affinity of the ellipse to the circle on one of its diameters",
)
def conjugate_triangle(g: EllipseConjugate, d: Draft) -> None:
    n = g.divisions
    with d.phase("Diameters"):
        centre = d.start_at("O", says="Mark the centre O.")
        level = d.level_from(centre, "Draw the first diameter level.", role=Role.CENTRE)
        slant = d.ray(centre, g.angle, "Draw the second at its angle.", role=Role.CENTRE)
        circle = d.compass(centre, g.first / 2, "Centre O, the circle on the first diameter.")
    with d.phase("Divide"):
        rays = d.divide_turn(centre, n, length=g.first / 2)
    with d.phase("Find the points"):
        for k, ray in enumerate(rays):
            turn = 360.0 * k / n
            with d.as_one(
                "Set square",
                f"From division {k} drop square on the first diameter; its height, shrunk as the second diameter is to "
                f"the first, goes off along the second's direction: P{k}.",
                Setting(abs(float(sind(turn))) * g.second / 2, "mm"),
            ):
                spot = d.meet(ray, circle, near=g.first / 2 * direction(turn))
                foot = d.meet(d.upright_from(spot), level)
                beside = d.parallel_to(slant, foot)
                d.lay_off(beside, foot, float(sind(turn)) * g.second / 2, f"P{k}")
    _conjugate_in(g, d)


def _turning_refusal(g: EllipseConjugate) -> str | None:
    a, b = g.axes
    p, q = g.halves
    if float(distance(left_of(p), q)) < 0.02 * a or abs(g.angle - 90.0) < 0.5:
        return (
            f"At an angle of {trim(g.angle)}° the diameters are the axes, or as "
            "good as that: there is no triangle to turn. "
            "Take angle further from 90°, or choose parallelogram."
        )
    return None


@method(
    EllipseConjugate,
    "rotated-triangle",
    fits=_turning_refusal,
    fits_given="angle",
    about="One half diameter turned a quarter shows the axes; two circles on them give the points.",
    source="Rytz's construction of the axes",
)
def conjugate_rotated(g: EllipseConjugate, d: Draft) -> None:
    a, b = g.axes
    n = g.divisions
    with d.phase("Diameters"):
        centre = d.start_at("O", says="Mark the centre O.")
        level = d.level_from(centre, "Draw the first diameter level.", role=Role.CENTRE)
        level.extent(-g.first / 2, g.first / 2)
        slant = d.ray(centre, g.angle, "Draw the second at its angle.", role=Role.CENTRE)
        slant.extent(-g.second / 2, 0.0)
        one = d.lay_off(level, centre, g.first / 2, "U", "Lay off half the first diameter: U.")
        two = d.lay_off(slant, centre, g.second / 2, "W", "Lay off half the second: W.")
    with d.phase("Turn a half diameter"):
        upright = d.square_to(level, centre, "Draw square to the first diameter at O.")
        arc = d.compass(centre, d.opening(centre, one), "Centre O, swing OU onto it.", whole=False)
        turned = d.meet(upright, arc, "S", where="above")
        line = d.rule(turned, two, "Join S to W and on both ways.", beyond=a)
        line.extent(-a, 0.0)
        middle = d.midpoint(turned, two, "M")
        round_m = d.compass(
            middle,
            d.opening(middle, centre),
            "Halve SW at M; centre M, through O: cut the line at K, the further from W, and at L, the nearer.",
            whole=False,
        )
        far, near = d.meet(line, round_m, "K", far=two), d.meet(line, round_m, "L", near=two)
    with d.phase("Axes"):
        # WK is half the long axis, WL half the short; the long axis runs through L, the short one through K
        long, short = d.rule(centre, near, "Join OL: the long axis."), d.rule(centre, far, "Join OK: the short axis.")
        long.role = short.role = Role.CENTRE
        words = "Centre O, with WK draw the outer circle: half the long axis."
        outer = d.compass(centre, d.opening(two, far), words)
        inner = d.compass(centre, d.opening(two, near), "With WL the inner circle: half the short axis.")
        with d.as_one("Pencil", "The circles cut the axes off: X ends the long one, Y the short one."):
            x = d.meet(long, outer, "X", near=centre.here + a * direction(g.tilt))
            y = d.meet(short, inner, "Y", near=centre.here + b * direction(g.tilt + 90.0))
        long.extent(-a, 0.0)
        short.extent(-b, 0.0)
    with d.phase("Divide"):
        # ray 0 runs where U’s own ray does: the cut that is the squarer of the two is taken
        along_long, across = float(dot(one.here, unit(x.here))) / a, float(dot(one.here, unit(y.here))) / b
        if abs(along_long) < abs(across):
            line, circle, words = d.square_to(long, one, "Through U draw square to the long axis."), outer, "outer"
            aim = along_long * a * unit(x.here) + across * a * unit(y.here)
        else:
            line, circle, words = d.parallel_to(long, one, "Through U draw parallel to the long axis."), inner, "inner"
            aim = along_long * b * unit(x.here) + across * b * unit(y.here)
        cut = d.meet(line, circle, "R", near=centre.here + aim)
        first = d.rule(centre, cut, f"Join O to R, where it cuts the {words} circle: ray 0, on which U has its place.")
        start = angle_of(first.u)
        says = f"From ray 0 set off equal angles round O: {n} rays in all, the first among them."
        with d.as_one("Protractor", says, Setting(360.0 / n, "°")):
            others = [d.ray(centre, start + 360.0 * k / n, instrument="Protractor", length=a) for k in range(1, n)]
        rays = [first, *others]
    with d.phase("Find the points"):
        for k, ray in enumerate(rays):
            says = f"From ray {k}’s outer cut square to the long axis, from its inner cut along it: P{k}."
            with d.as_one("Set square", says, Setting(90, "°")):
                ahead = ray.at_length(2 * a)
                down = d.square_to(long, d.meet(ray, outer, near=ahead))
                over = d.parallel_to(long, d.meet(ray, inner, near=ahead))
                d.meet(down, over, f"P{k}")
    _conjugate_in(g, d)
