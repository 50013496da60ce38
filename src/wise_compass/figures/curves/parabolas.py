"""The parabola."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear, level, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import LONGEST_LENGTH, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.figures.curves.touching import Touching
from wise_compass.geometry.curves import Curve, parabola_curve
from wise_compass.geometry.vectors import Number, cross, distance, point

ORIGIN = point(0.0, 0.0)


class Parabola(Curved, Touching, id="parabola", family="conics", title="Parabola"):
    keys = ("P*",)
    brief = "A parabola on a base of {base} rising {axis} to its vertex, found with {method} in {divisions} divisions."
    summary = "Equally far from a point and a line: a jet of water, a reflector, an arch."
    ways = ("rectangle", "tangents", "focus-directrix", "parallelogram")
    value_names = ("focal_length", "latus_rectum", "arc_length", "area")

    base = Length(96, "the base")
    axis = Length(62, "the axis")
    divisions = Count(8, "the divisions of half the base", 4, 72)
    at = Length(20, "the distance of the point of touch from the axis", least=-LONGEST_LENGTH)

    @cached_property
    def touched(self) -> Curve:
        return parabola_curve(self.base / 2, self.axis, self.focal)

    def courses(self, method: str) -> Sequence[Course]:
        n = self.divisions
        stations = self.base / 2 * np.arange(-n, n + 1) / n
        names = tuple(f"P{k}" for k in range(2 * n + 1))
        marks = ((0.0, "the vertex"), (-self.base / 2, "the left end"), (self.base / 2, "the right end"))
        return (
            Course(
                "the parabola", self.touched, stations, names, landmarks=marks, pole=point(0.0, self.axis - self.focal)
            ),
        )

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        vertex = d.spots["V"]
        q = self.point_by_hand(d, "Find the point of this distance off the axis", d.spots["M"])
        depth = float(self.touched.at(0.0)[1] - self.touched.at(self.at)[1])
        axis = d.upright_from(vertex, "Draw the axis on through V.", role=Role.CENTRE)
        if depth < self.focal:  # near the vertex the subtangent is too short to draw by
            with d.as_one(
                "Dividers",
                f"From {q.name} level to the axis; twice the focal length below: Z.",
                Setting(2 * self.focal, "mm"),
            ):
                foot = d.meet(d.level_from(q), axis)
                z = d.lay_off(axis, foot, -2 * self.focal, "Z")
            return q, d.rule(
                q, z, f"Join {q.name}Z: the normal.", why="the subnormal is half the latus rectum everywhere"
            )
        with d.as_one("Dividers", "As far as the point lies below V, lay off above it: Z.", Setting(depth, "mm")):
            foot = d.meet(d.level_from(q), axis)
            z = d.mirror(foot, vertex, "Z")
            axis.reach(z.here)
        tangent = d.rule(z, q, f"Join Z{q.name} and on: the tangent.", why="the vertex halves the subtangent")
        return q, d.square_to(tangent, q, f"Draw square to it at {q.name}: the normal.")

    @property
    def focal(self) -> float:
        """From the vertex to the focus."""
        return self.base**2 / (16 * self.axis)

    def values(self, method: str) -> Iterable[Value]:
        b, h, f = bare(self.base), bare(self.axis), bare(self.focal)
        yield Value("focal_length", self.focal, "mm", f"{b}² / (16 × {h})", ("V", "F"))
        yield Value("latus_rectum", 4 * self.focal, "mm", f"4 × {f}", ("F",))
        yield Value(
            "arc_length",
            float(_parabola_arc(self.base, self.axis)),
            "mm",
            f"2 ∫ √(1 + (x / (2 × {f}))²) dx from 0 to {bare(self.base / 2)}",
        )
        yield Value("area", self.base * self.axis * 2 / 3, "mm²", f"2/3 × {b} × {h}")
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        p = found.group("P")
        base = distance(p[..., 0, :], p[..., -1, :])
        top = p[..., self.divisions, :]
        axis = np.abs(cross((p[..., -1, :] - p[..., 0, :]) / base[..., None], top - p[..., 0, :]))
        focal = base * base / (16 * axis)
        return {
            "focal_length": focal,
            "latus_rectum": 4 * focal,
            "arc_length": _parabola_arc(base, axis),
            "area": base * axis * 2 / 3,
            **self.touch_measure(found),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        focus, directrix = point(0.0, self.axis - self.focal), self.axis + self.focal
        yield Truth(
            "Every point is as far from the focus as from the directrix", distance(p, focus) - (directrix - p[..., 1])
        )
        ends = np.array([[-self.base / 2, 0.0], [self.base / 2, 0.0]])
        yield Truth("The curve stands on the ends of the base", distance(p[..., [0, -1], :], ends))
        yield Truth(
            "The vertex stands at the top of the axis", distance(p[..., self.divisions, :], point(0.0, self.axis))
        )
        yield from self.touch_truths(found)

    def at_dimension(self, found: Found) -> Dimension:
        q = found[self.letter]
        return level(point(0.0, float(q[1])), q, "at", abs(self.at), side=1)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        half = self.base / 2
        yield Linear(point(-half, 0.0), point(half, 0.0), "base", self.base)
        yield upright(point(half, 0.0), point(0.0, self.axis), "axis", self.axis, -1)
        yield from self.touch_dimensions(found)


def _parabola_arc(base: Number, axis: Number) -> Number:
    """Arc of the parabola over its base, the integral of √(1 + y′²) in closed form."""
    half, focal = base / 2, base * base / (16 * axis)
    slope = half / (2 * focal)
    return half * np.hypot(1.0, slope) + 2 * focal * np.arcsinh(slope)


def _frame(g: Parabola, d: Draft) -> tuple[Spot, Spot, Spot, Spot, LineMark]:
    """The base from L to R, its middle M and the vertex V."""
    with d.phase("Base and axis"):
        middle = d.start_at("M", says="Mark the middle M of the base.")
        level = d.level_from(middle, "Draw the base level through M.")
        left = d.lay_off(level, middle, -g.base / 2, "L", "Lay off half the base to the left.")
        right = d.lay_off(level, middle, g.base / 2, "R", "Lay off half the base to the right.")
        axis = d.upright_from(middle, "Draw the axis upright through M.", role=Role.CENTRE)
        vertex = d.lay_off(axis, middle, g.axis, "V", "Lay off the axis: the vertex V.")
    return middle, left, right, vertex, level


def curve_in(d: Draft, names: list[str], says: str) -> None:
    with d.phase("Line in"):
        d.curve([d.spots[name] for name in names], says=says)


def _parabola_in(g: Parabola, d: Draft) -> None:
    g.touch_in(d)
    curve_in(
        d,
        [f"P{k}" for k in range(2 * g.divisions + 1)],
        f"Line in the parabola through its {2 * g.divisions + 1} points.",
    )


def _ends(g: Parabola, d: Draft, left: Spot, right: Spot, vertex: Spot) -> None:
    """The three points that the givens fix."""
    n = g.divisions
    with d.as_one("Pencil", "The ends of the base and the vertex are points of the curve."):
        for name, spot in (("P0", left), (f"P{n}", vertex), (f"P{2 * n}", right)):
            d.also(name, spot)


@method(
    Parabola,
    "rectangle",
    about="Rays from the vertex to the divided sides cross uprights from the divided base.",
    source="Steiner's generation of a conic by two projective pencils",
)
def parabola_rectangle(g: Parabola, d: Draft) -> None:
    middle, left, right, vertex, level = _frame(g, d)
    n = g.divisions
    with d.phase("Divide"):
        sides = []
        for sign, end, name in ((-1, left, "left"), (1, right, "right")):
            upright = d.square_to(level, end, f"Draw upright at the {name} end.")
            with d.as_one("Set square", f"Carry the height of V across to it: the {name} corner."):
                top = d.meet(d.level_from(vertex), upright)
            marks = d.divide(end, top, n, says=f"Cut the {name} side into {n} equal spaces.")
            feet = d.divide(middle, end, n, says=f"Cut the {name} half of the base into {n} equal spaces.")
            sides.append((sign, marks, feet))
    with d.phase("Find the points"):
        _ends(g, d, left, right, vertex)
        for sign, marks, feet in sides:
            for k in range(1, n):
                with d.as_one(
                    "Straightedge", f"Join V to mark {n - k} of the side; upright from space {k} of the base: a point."
                ):
                    d.meet(d.rule(vertex, marks[n - k]), d.upright_from(feet[k]), f"P{n + sign * k}")
    _parabola_in(g, d)


@method(
    Parabola,
    "tangents",
    about="Tangents between two lines divided alike; each touches half-way between its neighbours.",
    source="Tangents cut one another in like ratios (Apollonius, Conics III.41)",
)
def parabola_tangents(g: Parabola, d: Draft) -> None:
    _, left, right, vertex, _ = _frame(g, d)
    n = 2 * g.divisions
    with d.phase("The two tangents"):
        with d.as_one("Rule", "Lay off the axis once more above V: the peak W."):
            peak = d.mirror(d.spots["M"], vertex, "W")
        one, two = d.rule(left, peak, "Join LW: the tangent at L."), d.rule(peak, right, "Join WR: the tangent at R.")
        downs = d.divide(left, peak, n, says=f"Cut LW into {n} equal spaces.")
        ups = d.divide(peak, right, n, says=f"Cut WR into {n} equal spaces.")
    with d.phase("Tangents and points"):
        _ends(g, d, left, right, vertex)
        for k in range(1, n):
            if k == g.divisions:
                continue
            with d.as_one(
                "Straightedge",
                f"Join mark {k} of LW to mark {k} of WR: a tangent; divided in {k} to {n - k} it is touched at P{k}.",
            ):
                d.rule(downs[k], ups[k])
                d.between(downs[k], ups[k], k / n, f"P{k}", "tangent")
    del one, two
    _parabola_in(g, d)


def _focus_refusal(g: Parabola) -> str | None:
    if g.focal > 1000:
        least = g.base**2 / 16000
        if least > LONGEST_LENGTH:
            most = float(np.sqrt(16000 * LONGEST_LENGTH))
            return (
                f"The focus of so flat a parabola lies {mm(g.focal)} off. Lower base to "
                f"{most_mm(most)} and raise axis, or choose "
                "rectangle."
            )
        return (
            f"The focus of so flat a parabola lies {mm(g.focal)} off; axis must be at least {least_mm(least)} for this "
            "method. Raise axis or choose rectangle."
        )
    return None


@method(
    Parabola,
    "focus-directrix",
    fits=_focus_refusal,
    fits_given="axis",
    about="The definition: a level at a distance from the directrix, cut by that distance from the focus.",
    source="The focus and directrix property (Pappus, Collection VII)",
)
def parabola_focus(g: Parabola, d: Draft) -> None:
    middle, left, right, vertex, level = _frame(g, d)
    n = g.divisions
    with d.phase("Focus and directrix"):
        axis = d.upright_from(vertex, "Draw the axis on through V.", role=Role.CENTRE)
        focus = d.lay_off(
            axis,
            vertex,
            -g.focal,
            "F",
            "Lay off the focal length below V: F.",
            why=f"{bare(g.base)}² / (16 × {bare(g.axis)})",
        )
        over = d.lay_off(axis, vertex, g.focal, "D", "Lay it off above V too: the directrix passes D.")
        directrix = d.level_from(over, "Draw the directrix level.", role=Role.REFERENCE)
        directrix.extent(-g.base / 2, g.base / 2)
    with d.phase("Find the points"):
        _ends(g, d, left, right, vertex)
        for k in range(1, n):
            x = g.base / 2 * k / n
            depth = x * x / (4 * g.focal)
            says = f"Draw level {mm(depth)} below V; from F with its distance from the directrix cut it twice."
            with d.as_one("Compass", says, Setting(depth, "mm"), Setting(depth + g.focal, "mm")):
                mark = d.lay_off(axis, vertex, -depth, "", kind="plain")
                across = d.level_from(mark)
                arc = d.compass(focus, depth + g.focal, whole=False)
                d.meet(across, arc, f"P{n + k}", where="right")
                d.meet(across, arc, f"P{n - k}", where="left")
    _parabola_in(g, d)


def _even_refusal(g: Parabola) -> str | None:
    if g.divisions % 2:
        return f"The parallelograms stand on the middle of each half: divisions must be even. Take {g.divisions + 1}."
    return None


@method(
    Parabola,
    "parallelogram",
    fits=_even_refusal,
    fits_given="divisions",
    about="Each half in a leaning frame on its chord: for a parabola that has no room for the upright rectangle.",
    source="Steiner's generation of a conic by two projective pencils, in a leaning frame",
)
def parabola_parallelogram(g: Parabola, d: Draft) -> None:
    _, left, right, vertex, _ = _frame(g, d)
    m = g.divisions // 2
    frames = []
    for sign, end, words in ((-1, left, "left"), (1, right, "right")):
        with d.phase(f"The {words} parallelogram"):
            chord = d.rule(end, vertex, f"Join {end.name}V: the chord of the {words} half.")
            middle = d.midpoint(end, vertex, "")
            with d.as_one(
                "Rule",
                "Halve it; a quarter of the axis upright above its middle is a point.",
                Setting(g.axis / 4, "mm"),
            ):
                top = d.lay_off(d.upright_from(middle), middle, g.axis / 4, f"P{g.divisions + sign * m}")
            with d.as_one("Set square", "Through it draw parallel to the chord, and uprights at both ends of that."):
                cap = d.parallel_to(chord, top)
                corners = [d.meet(d.upright_from(spot), cap) for spot in (end, vertex)]
            feet, sides = [], []
            for spot, corner, name in zip((end, vertex), corners, (end.name, "V")):
                feet.append(
                    d.divide(middle, spot, m, says=f"Cut the chord from its middle to {name} into {m} equal spaces.")
                )
                sides.append(
                    d.divide(corner, spot, m, says=f"Cut the upright side at {name} into {m} equal spaces, from above.")
                )
            frames.append((sign, top, feet, sides))
    with d.phase("Find the points"):
        _ends(g, d, left, right, vertex)
        for sign, top, feet, sides in frames:
            for outward, marks, side in zip((1, -1), feet, sides):
                for k in range(1, m):
                    name = f"P{g.divisions + sign * (m + outward * k)}"
                    says = f"Join {top.name} to mark {k} of the side; upright from space {k} of the chord: {name}."
                    with d.as_one("Straightedge", says):
                        d.meet(d.rule(top, side[k]), d.upright_from(marks[k]), name)
    _parabola_in(g, d)
