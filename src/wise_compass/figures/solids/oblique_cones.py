"""The oblique cone: an apex that is not over the middle of its base, developed by triangulation."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved, Developed, Face, InViews, Part, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Radial, level, told, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Choice, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, mm
from wise_compass.figures.solids.cut_solids import faces_of
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.solids.prisms import APART
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.figures.solids.strips import Strips
from wise_compass.figures.solids.upright import BEYOND, GAP
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.solids import CutStock, Stock, ring
from wise_compass.geometry.unfold import Pattern
from wise_compass.geometry.unrolled import Rim, about_apex
from wise_compass.geometry.vectors import Array, Number, distance, length, multiples, point, polar


class ObliqueCone(Curved, InViews, Solid, Developed, Figure, id="oblique-cone", family="solids", title="Oblique cone"):
    keys = ("B*", "O.front", "V")
    brief = (
        "A cone on a base {diameter} wide, its apex {height} high and {offset} to the "
        "right of the middle, in {divisions} divisions; "
        "the seam on division {seam}. Draw {show}, with {method}."
    )
    summary = "A funnel that leans, a spout: its views, the true lengths of its elements, and the pattern by triangles."
    across = ("diameter",)
    hazards = (hazards.SHEET, hazards.DUCT)
    value_names = ("element_lengths", "longest", "shortest", "pattern_area")
    ways = ("triangulation",)

    diameter = Length(58, "the diameter of the base")
    height = Length(62, "the height of the apex")
    offset = Length(20, "how far the apex stands to the right of the middle", least=-2000, most=2000)
    divisions = Count(12, "the divisions round the base", 6, 72, multiple=2)
    seam = Count(0, "the division at which the pattern is opened", 0, 71)
    show = Choice(
        "all",
        "what is drawn",
        ("views", "pattern", "all"),
        {"views": "the views", "pattern": "the views and the pattern", "all": "all of it"},
    )

    def refuse(self) -> None:
        refuse_seam(self.seam, 0, self.divisions - 1, "division")

    @property
    def radius(self) -> float:
        return self.diameter / 2

    @property
    def apex(self) -> Array:
        return np.array([self.offset, 0.0, self.height])

    @cached_property
    def stock(self) -> Stock:
        return Stock(ring(self.radius, self.divisions), self.apex, 0)

    @cached_property
    def strips(self) -> Strips:
        return Strips(CutStock(self.stock, None), self.seam)

    @cached_property
    def plan_lengths(self) -> Array:
        """From the apex to every division as the plan shows it, (n,)."""
        return np.asarray(length(self.stock.base[:, :2] - self.apex[:2]))

    @cached_property
    def elements(self) -> Array:
        """The true lengths, (n,), by Pythagoras from plan length and height."""
        return np.hypot(self.plan_lengths, self.height)

    @property
    def chord(self) -> float:
        return float(self.diameter * np.sin(np.pi / self.divisions))

    @property
    def wants_pattern(self) -> bool:
        return self.show != "views"

    def values(self, method: str) -> Iterable[Value]:
        says = f"√(the plan length² + {bare(self.height)}²) of every division"
        yield Value("element_lengths", [float(x) for x in self.elements], "mm", says)
        for name, pick in (("longest", np.argmax), ("shortest", np.argmin)):
            k = int(pick(self.elements))
            working = f"√({bare(float(self.plan_lengths[k]))}² + {bare(self.height)}²), at division {k}"
            yield Value(name, float(self.elements[k]), "mm", working, (f"B{k}", "V"))
        sides = [(self.elements[k - 1], self.elements[k], self.chord) for k in range(self.divisions)]
        area = sum(_heron(*map(float, side)) for side in sides)
        yield Value(
            "pattern_area", area, "mm²", f"the {self.divisions} triangles by their three sides (Heron), added up"
        )

    def measure(self, found: Found) -> dict[str, Number]:
        n = self.divisions
        if "W" not in found:
            lengths = np.stack([distance(found["V"], found[f"B{k}"]) for k in range(n)], axis=-1)
        else:
            at = [(k - self.seam) % n for k in range(n)]
            lengths = np.stack([distance(found["W"], found[self.strips.station("Q", j)]) for j in at], axis=-1)
        out = {"element_lengths": lengths, "longest": lengths.max(axis=-1), "shortest": lengths.min(axis=-1)}
        flat, total = "W" in found, np.zeros(())
        for j in range(n):
            if flat:
                a, b = (found[self.strips.station("Q", i)] - found["W"] for i in (j, j + 1))
                twice = np.abs(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])
            else:
                twice = np.asarray(length(cross3(*(found[f"B{i % n}"] - found["V"] for i in (j, j + 1)))))
            total = total + twice / 2
        out["pattern_area"] = total
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        base = found.together([self.stock.lower(k) for k in range(self.divisions)])
        yield Truth(f"Every division stands {mm(self.radius)} from the middle", length(base[:, :2]) - self.radius)
        yield Truth("All divisions are as far apart", distance(base, np.roll(base, -1, axis=0)) - self.chord)
        yield Truth("The apex stands at its place", found["V"] - self.apex)
        if self.wants_pattern:
            solid, n = distance(base, found["V"]), self.divisions
            flat = [
                distance(found["W"], found[self.strips.station("Q", j)]) - solid[(self.seam + j) % n]
                for j in range(n + 1)
            ]
            yield Truth("Every element of the pattern is as long as in space", np.array(flat))
            rim = [
                distance(found[self.strips.station("Q", j)], found[self.strips.station("Q", j + 1)]) for j in range(n)
            ]
            yield Truth("Every side of the pattern is the chord of a division", np.array(rim) - self.chord)
            pattern = self.pattern(found)
            yield Truth("Folded by its own fold angles, all edges that are shared come together", pattern.gap())
            area = self.strips.kept.lateral_area
            yield Truth("The pattern is as large as its triangles in space", (pattern.area - area) / self.diameter)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        foot = found["O.front"]
        right = foot + point(max(self.radius, self.offset), 0.0)
        yield upright(foot + point(self.radius, 0.0), found["V.front"], "height", self.height, -1, past=right)
        yield Radial(found["O.top"], self.radius, "diameter", self.diameter, 225.0, diameter=True)
        yield from told([level(found["O.top"], found["V.top"], "offset", abs(self.offset))])

    def courses(self, method: str) -> Sequence[Course]:
        if not self.wants_pattern:
            return ()
        n, first = self.divisions, 360.0 / self.divisions * self.seam
        curve = about_apex(Rim(np.zeros(3), self.radius), self.apex, first, first + 360.0)
        names = tuple(self.strips.station("Q", j) for j in range(n + 1))
        stations = first + multiples(360.0 / n, n + 1)
        return (
            Course(
                "the edge of the pattern", curve, stations, names, turn="angle round the base", afloat=True, on_it=False
            ),
        )

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        ends = [(f"V B{k}", self.apex, self.stock.base[k]) for k in range(self.divisions)]
        return [*ends, ("B0 B1", self.stock.base[0], self.stock.base[1])]

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        return () if off else faces_of(self.strips.kept, True)

    def pattern(self, found: Found) -> Pattern:
        return self.strips.pattern(found, self.stock)

    def cut_out(self, found: Found) -> Sequence[Part]:
        return self.strips.parts() if self.show != "views" else ()


def _heron(a: float, b: float, c: float) -> float:
    """The area of a triangle by its sides, in Kahan's order of working."""
    a, b, c = sorted((a, b, c), reverse=True)
    return float(np.sqrt(max((a + (b + c)) * (c - (a - b)) * (c + (a - b)) * (a + (b - c)), 0.0))) / 4


class _ObliqueConeHand:
    """The oblique cone on the way."""

    def __init__(self, g: ObliqueCone, d: Draft) -> None:
        self.g, self.d, self.n = g, d, g.divisions
        self.views = Views.stacked(d, 0.0, g.height, g.radius, GAP)
        self.foot: Spot
        self.ground: LineMark

    def draw_views(self) -> None:
        g, d, views = self.g, self.d, self.views
        with d.phase("The plan"):
            centre = d.start_at(
                "O.top",
                float(views.top.origin[0]),
                float(views.top.origin[1]),
                says="Mark O, the middle of the base in the plan.",
                kind="plain",
            )
            with d.as_one("Set square", "Draw the centre lines of the plan through O."):
                level = d.level_from(centre, role=Role.CENTRE).extent(-g.radius - BEYOND, g.radius + BEYOND)
                d.upright_from(centre, role=Role.CENTRE).extent(-g.radius - BEYOND, g.radius + BEYOND)
            circle = d.compass(centre, g.radius, "Centre O, draw the base circle.", "half the diameter")
            rays = d.divide_turn(centre, self.n, length=g.radius)
            for k, ray in enumerate(rays):
                kind = "plain" if k % 2 else "found"
                d.meet(ray, circle, f"B{k}.top", near=views.top.at(g.stock.base[k]), kind=kind)
            if g.offset:
                d.lay_off(level, centre, g.offset, "V.top", "Lay off the apex from O.")
            else:
                d.also("V.top", centre)
            with d.as_one("Straightedge", "Join the divisions to the apex: the elements from above."):
                for k in range(self.n):
                    if g.plan_lengths[k] > 1e-9 * g.diameter:
                        d.rule(d.spots["V.top"], d.spots[f"B{k}.top"])
        with d.phase("The elevation"):
            axis = d.upright_from(centre, "Carry the middle into the elevation.", role=Role.CENTRE)
            lift = float(views.front.origin[1] - views.top.origin[1])
            self.foot = d.lay_off(
                axis, centre, lift, "O.front", "On it mark the level of the base, clear of the plan.", kind="plain"
            )
            reach = max(g.radius, abs(g.offset)) + BEYOND
            self.ground = d.level_from(self.foot, "Draw the ground line level.").extent(-reach, reach)
            rise = d.upright_from(d.spots["V.top"], "Carry the apex up.", role=Role.PROJECTOR)
            stand = d.meet(rise, self.ground)
            d.lay_off(rise, stand, g.height, "V.front", "Measure its height from the ground line.")
            with d.as_one("Set square", "Carry the divisions up to the ground line, and join them to the apex."):
                for k in range(self.n):
                    spot = d.meet(
                        d.upright_from(d.spots[f"B{k}.top"], role=Role.PROJECTOR),
                        self.ground,
                        f"B{k}.front",
                        kind="plain",
                    )
                    d.rule(spot, d.spots["V.front"])
            for name in (*(f"B{k}" for k in range(self.n)), "V"):
                d.in_space(name, views.solid(d.spots[f"{name}.front"].at, d.spots[f"{name}.top"].at))
            self._line_in(centre)

    def _line_in(self, centre: Spot) -> None:
        """Outlines: in the plan the circle, and the two elements that touch it where the apex lies beyond."""
        g, d, n = self.g, self.d, self.n
        with d.as_one("Straightedge", "Line in the elevation."):
            d.line_in([d.spots["V.front"], d.spots[f"B{n // 2}.front"], d.spots["B0.front"]], closed=True)
        with d.as_one("Compass", "Line in the plan."):
            beyond = abs(g.offset) - g.radius > 1e-9 * g.radius
            if not beyond:
                d.circle_in(centre, g.radius)
                return
            apex = d.spots["V.top"]
            aim = d.compass(d.between(centre, apex, 0.5), abs(g.offset) / 2, whole=False)
            circle = d.compass(centre, g.radius, role=Role.CONSTRUCTION)
            touch = [d.meet(aim, circle, where=where) for where in ("above", "below")]
            start, end = touch if g.offset > 0 else touch[::-1]
            d.arc_in(centre, g.radius, start, end)
            inner = d.compass(centre, g.radius, role=Role.HIDDEN)
            lean = float(np.rad2deg(np.arccos(g.radius / abs(g.offset))))
            inner.swing(-lean if g.offset > 0 else 180.0 - lean, 2 * lean)
            for spot in touch:
                d.line_in((spot, apex))

    # true lengths and the pattern

    def true_lengths(self) -> tuple[Spot, dict[int, Spot]]:
        """One diagram for all: the height upright, every plan length level; the apex, and the foot of each element."""
        g, d = self.g, self.d
        with d.move("The true-length diagram"):
            with d.as_one(
                "Set square", "Beside the views draw an upright on the ground line, and carry the apex level to it."
            ):
                left = min(float(spot.here[0]) for spot in d.spots.values())
                base = d.on(self.ground, min(left, -g.radius) - APART - float(self.foot.here[0]), "L")
                top = d.meet(d.level_from(d.spots["V.front"], role=Role.PROJECTOR), d.upright_from(base), "U")
            feet: dict[int, Spot] = {}
            half = self.n // 2
            for k in range(half + 1):
                twin = f" It serves division {self.n - k} too: keep it." if 0 < k < half else ""
                says = f"Lay off the plan length of element {k} from L, along the ground.{twin}"
                if g.plan_lengths[k] <= 1e-9 * g.diameter:
                    with d.as_one("Pencil", f"Element {k} stands upright: the height is its true length."):
                        feet[k] = d.also(f"K{k}", base, "plain")
                else:
                    plan = d.opening(d.spots["V.top"], d.spots[f"B{k}.top"])
                    feet[k] = d.lay_off(self.ground, base, plan, f"K{k}", says, "height against plan length", way=-1)
                feet[self.n - k] = feet[k]
            with d.as_one("Straightedge", "Join them to U: the true lengths."):
                for k in range(half + 1):
                    if feet[k].here[0] != base.here[0]:
                        d.rule(top, feet[k])
                d.label("true lengths", base, feet[0 if g.offset <= 0 else half])
        return top, feet

    def draw_pattern(self, top: Spot, feet: dict[int, Spot]) -> None:
        g, d, n = self.g, self.d, self.n
        wrong = d.choice(
            "apparent", right=False, slip=True, says="Apparent lengths taken for true ones on the elements."
        )
        count = d.choice("seam-twice", right=n, slip=n - 1, says="The seam counted twice: one triangle too few.")
        shift = d.choice("one-on", right=0, slip=1, says="Lengths carried one element on.")

        def element(j: int) -> tuple[Spot, Spot]:
            k = (g.seam + j + shift) % n
            return (d.spots["V.front"], d.spots[f"B{k}.front"]) if wrong else (top, feet[k])

        flat = self._lies()
        left = min(float(spot.here[0]) for spot in d.spots.values())
        high = float(self.foot.here[1]) + g.height
        w = d.start_at(
            "W",
            left - APART - float(flat[:, 0].max()),
            high - max(0.0, float(flat[:, 1].max())),
            "Mark W, the apex of the pattern, where all of it has room.",
        )
        angle = 15.0 * round(float(np.rad2deg(np.arctan2(flat[1, 1], flat[1, 0]))) / 15.0)
        ray = d.ray(w, angle, "From W draw the line of the seam, at any handy angle.", length=float(g.elements[g.seam]))
        says = f"Lay off the true length of element {g.seam}, the seam."
        marks = [d.lay_off(ray, w, d.opening(*element(0)), "Q0", says)]
        chord = (d.spots["B0.top"], d.spots["B1.top"])
        for j in range(1, count + 1):
            k = (g.seam + j) % n
            key = self.g.strips.station("Q", j) if j < count else "Qn"
            with d.move(f"Triangle {j}"):
                far = d.compass(
                    w, d.opening(*element(j)), f"Centre W, an arc with the true length of element {k}.", whole=False
                )
                near = d.compass(
                    marks[-1],
                    d.opening(*chord),
                    f"From {marks[-1].name} cross it with the chord of a division.",
                    whole=False,
                )
                marks.append(d.meet(far, near, key, near=w.here + flat[j + 1]))
        if count < n:
            marks.insert(-1, d.also(self.g.strips.station("Q", n - 1), marks[-1], "plain"))
        with d.as_one("Straightedge", "Draw every element of the pattern thin."):
            for spot in marks[1:-1]:
                d.rule(w, spot)
        with d.as_one("Straightedge", "Line in both sides of the seam.", why=ALLOWANCES):
            d.line_in((marks[0], w, marks[-1]))
        d.curve(marks, says="Line in the curve of the base through the points.")

    def _lies(self) -> Array:
        """How the pattern will lie about W, to find room for it: W itself, then the marks."""
        g, n = self.g, self.n
        angles = [0.0]
        for j in range(n):
            a, b = (float(g.elements[(g.seam + i) % n]) for i in (j, j + 1))
            angles.append(angles[-1] + triangle_angle(a, b, g.chord))
        turn = np.array(angles) - angles[-1] / 2 - 90.0
        turn += 15.0 * round(float(turn[0]) / 15.0) - turn[0]
        far = np.array([g.elements[(g.seam + j) % n] for j in range(n + 1)])
        return np.concatenate([np.zeros((1, 2)), polar(np.zeros(2), far, turn)])


def triangle_angle(a: float, b: float, across: float) -> float:
    """The angle between two sides of a triangle in degrees, from all three (the half-angle form of the cosine rule)."""
    s = (a + b + across) / 2
    return float(np.rad2deg(2 * np.arctan2(np.sqrt(max((s - a) * (s - b), 0.0)), np.sqrt(max(s * (s - across), 0.0)))))


@method(
    ObliqueCone,
    "triangulation",
    about="True lengths of the elements in one diagram; the pattern triangle by triangle, two arcs to a point.",
    source="Development by triangulation: three sides fix a triangle (Euclid I.22)",
)
def triangulation(g: ObliqueCone, d: Draft) -> None:
    hand = _ObliqueConeHand(g, d)
    hand.draw_views()
    if g.wants_pattern:
        with d.phase("True lengths"), d.apart("lengths"):
            top, feet = hand.true_lengths()
        with d.phase("The pattern"), d.apart("pattern"):
            hand.draw_pattern(top, feet)
