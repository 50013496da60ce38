"""Areas turned into others: a polygon into a square of its size, a trapezium parted by lines along its base."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear, corner_dimensions
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import SHORTEST_LENGTH, Length
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import Numbers, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.figures.plane.cornered import Cornered
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.ratios import laid_in_ratio
from wise_compass.figures.plane.tangent_circles import plot_all
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.vectors import Number, distance, dot, left_of, point, unit

FLAT = 1e-3
"""Sine of the angle under which a parallel does not reach the base."""
FAR = 40.0
"""Times the polygon's girth beyond which a parallel meets the base nowhere useful."""
MOST_OFF = 40.0
"""Times the longer parallel is what it and the other differ by, where their legs meet too far off to be drawn."""


class PolygonToSquare(Cornered, id="polygon-to-square", family="proportion", title="Square of a polygon’s area"):
    keys = ("A", "B", "C", "D", "E", "S", "T", "U", "V")
    brief = "A square as large as the polygon {corners}, found with {method}."
    summary = "A polygon turned into a triangle and that into a square of the same area: what a plot measures."
    value_names = ("area", "marks", "triangle_base", "triangle_height", "square_side")

    corners = Rows(((0, 0), (70, 0), (92, 40), (48, 76), (-8, 44)), "the corners", ("x", "y"), 3, 12)

    @cached_property
    def stages(self) -> list[tuple[int, float]]:
        """For each corner that goes, its number and how far from A its parallel meets AB, + towards B; raises
        :class:`Refused` where it does not."""
        places, made = self.places, []
        a = places[0]
        u = unit(places[1] - a)
        end = places[1]
        for k in range(2, len(places) - 1):
            go, along = places[k], places[k + 1] - end
            turn = float(u[0] * along[1] - u[1] * along[0])
            letter, next_letter = self.letters[k], self.letters[k + 1]
            if abs(turn) < FLAT * float(np.hypot(*along)):
                raise Refused(
                    "corners",
                    f"{next_letter} lies in line with AB, so that no parallel through {letter} meets it. "
                    "Begin with another of the corners.",
                )
            off = go - a
            place = float(off @ u) - float(left_of(u) @ off) * float(u @ along) / float(left_of(u) @ along)
            girth = float(distance(places, np.roll(places, -1, axis=0)).sum())
            if abs(place) > FAR * girth:
                raise Refused(
                    "corners",
                    f"The parallel through {letter} meets AB {mm(abs(place))} away from "
                    "A. Begin with another of the corners.",
                )
            made.append((k, place))
            end = a + place * u
        return made

    @property
    def base(self) -> float:
        return self.stages[-1][1] if self.stages else float(distance(self.places[0], self.places[1]))

    @property
    def height(self) -> float:
        """How far the last corner stands off AB, on the polygon's side."""
        u = unit(self.places[1] - self.places[0])
        return float(left_of(u) @ (self.places[-1] - self.places[0])) * self.side

    @property
    def side(self) -> float:
        """Which side of AB the polygon lies on: +1 left."""
        return 1.0 if float(shoelace(self.places)) > 0 else -1.0

    @property
    def square(self) -> float:
        return float(np.sqrt(self.area))

    def refuse(self) -> None:
        super().refuse()
        last = self.letters[-1]
        if self.height <= SHORTEST_LENGTH or self.base <= SHORTEST_LENGTH:
            raise Refused(
                "corners",
                f"{last} does not lie on the polygon’s side of AB, so that no triangle is left. "
                "Begin with another of the corners.",
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        return corner_dimensions([found[name] for name in self.letters], "corners")

    def values(self, method: str) -> Iterable[Value]:
        names = tuple(f"B{k}" for k in range(1, len(self.stages) + 1))
        yield Value("area", self.area, "mm²", "half the sum of the corners’ cross products", tuple(self.letters))
        marks = [place for _, place in self.stages]
        yield Value("marks", marks, "mm", "where each parallel meets AB, from A", names)
        yield Value(
            "triangle_base", self.base, "mm", "the last of them" if marks else "AB", ("A", names[-1] if names else "B")
        )
        yield Value("triangle_height", self.height, "mm", f"{self.letters[-1]} over AB", (self.letters[-1], "N"))
        words = f"√({bare(self.base)} × {bare(self.height)} / 2)"
        yield Value("square_side", self.square, "mm", words, ("S", "T"))

    def measure(self, found: Found) -> dict[str, Number]:
        u = unit(found["B"] - found["A"])
        marks = [dot(found[name] - found["A"], u) for name in found.names("B")]
        told: dict[str, Number] = {
            "area": np.abs(shoelace(found.together(list(self.letters)))),
            "square_side": distance(found["S"], found["T"]),
            "triangle_height": distance(found[self.letters[-1]], found["N"]),
            "triangle_base": marks[-1] if marks else distance(found["A"], found["B"]),
        }
        if marks:
            told["marks"] = np.stack(marks, axis=-1)
        return told

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.corner_truths(found)
        for k, (gone, _) in enumerate(self.stages, 1):
            rest = found.together(["A", f"B{k}", *self.letters[gone + 1 :]])
            yield Truth(
                f"Without {self.letters[gone]} the area is the same", (np.abs(shoelace(rest)) - self.area) / self.square
            )
        sides = found.together(["S", "T", "U", "V"])
        yield Truth("The square’s area is the polygon’s", (np.abs(shoelace(sides)) - self.area) / self.square)
        yield Truth(
            "Its sides are alike",
            distance(sides, np.roll(sides, -1, axis=-2)) - distance(found["S"], found["T"])[..., None],
        )


@method(
    PolygonToSquare,
    "cut-corners",
    about="A corner at a time goes by a parallel to the base; half the height and a half circle give the side.",
    source="Euclid, Elements I.37, I.44, II.14",
)
def cut_corners(g: PolygonToSquare, d: Draft) -> None:
    with d.phase("The polygon"):
        spots = plot_all(d, g.lettered)
        given = list(spots.values())
        d.line_in(given, closed=True, says="Line in the polygon.")
        base = d.rule(given[0], given[1], "Draw AB on, both ways.")
    end = given[1]
    for k, (gone, _) in enumerate(g.stages, 1):
        going, then = given[gone], given[gone + 1]
        with d.phase(f"{going.name} goes"):
            across = d.rule(end, then, f"Join {end.name}{then.name}.")
            words = f"Through {going.name} draw parallel to it, to AB: {f'B{k}'}."
            end = d.meet(d.parallel_to(across, going, words), base, f"B{k}")
    with d.phase("Half the height"):
        top = given[-1]
        foot = d.meet(base, d.square_to(base, top, f"From {top.name} drop square to AB."), "N")
        whole = d.choice("whole-height", right=False, slip=True, says="The whole height is taken for half of it.")
        half = foot
        if not whole:
            with d.as_one("Dividers", "Halve the height at X."):
                half = d.midpoint(foot, top, "X")
    with d.phase("The side"):
        way = 1.0 if float(dot(end.here - given[0].here, unit(given[1].here - given[0].here))) > 0 else -1.0
        words = "Lay half the height off on AB beyond its end."
        beyond = d.lay_off(base, end, d.opening(top, half), "W", words, way=way)
        with d.as_one("Dividers", "Halve the whole from A at M."):
            middle = d.midpoint(given[0], beyond, "M")
        arc = d.compass(middle, d.opening(middle, beyond), "Centre M, draw the half circle on it.")
        corner = d.also("S", end)
        up = d.square_to(base, corner, f"At {end.name} draw square to AB, away from the polygon.")
        away = -g.side * left_of(unit(given[1].here - given[0].here)) * g.square
        tip = d.meet(up, arc, "T", near=corner.here + away)
    _square_on(d, base, up, corner, tip, beyond)


def _square_on(d: Draft, base: LineMark, up: LineMark, corner: Spot, tip: Spot, towards: Spot) -> None:
    """The square on a side that stands square to a line, lined in."""
    with d.phase("The square"):
        swung = d.compass(corner, d.opening(corner, tip), "Centre S, swing the side on to AB.", whole=False)
        along = d.meet(base, swung, "V", near=towards)
        square = d.square_to(base, along, "There draw square to AB.")
        across = d.square_to(up, tip, "At T draw square to ST.")
        far = d.meet(square, across, "U")
    with d.phase("Line in"):
        d.line_in([corner, tip, far, along], closed=True, says="Line in the square STUV.")


class DivideByParallels(Figure, id="divide-by-parallels", family="proportion", title="Divide by parallels"):
    keys = ("A", "B", "C", "D", "E", "L*", "R*")
    brief = (
        "A trapezium with AB {ab}, CD {cd} and legs of {left_leg} and {right_leg}, parted along AB "
        "as {shares}, found with {method}."
    )
    summary = "A field, a gable or a plate parted by lines along its base, so that the areas are as given numbers."
    value_names = ("area", "height", "lines", "heights", "left_marks")

    ab = Length(96, "AB")
    cd = Length(40, "CD, 0 for a triangle", zero=True)
    left_leg = Length(62, "the left leg AD")
    right_leg = Length(58, "the right leg BC")
    shares = Numbers((1, 1, 1), "the shares, from CD to AB", 2, 12)

    @property
    def foot(self) -> float:
        """How far right of A the corner D stands."""
        wide = self.ab - self.cd
        return (wide**2 + self.left_leg**2 - self.right_leg**2) / (2 * wide)

    @property
    def height(self) -> float:
        return float(np.sqrt(max((self.left_leg - self.foot) * (self.left_leg + self.foot), 0.0)))

    def refuse(self) -> None:
        wide = self.ab - self.cd
        if abs(wide) < SHORTEST_LENGTH:
            raise Refused(
                "cd", f"AB and CD are alike, so that the legs never meet. Change cd by {mm(SHORTEST_LENGTH)} at least."
            )
        if self.height < SHORTEST_LENGTH or abs(self.foot) >= self.left_leg:
            low, high = abs(self.left_leg - self.right_leg), self.left_leg + self.right_leg
            raise Refused(
                "cd",
                f"AB and CD differ by {mm(abs(wide))}; with legs of {mm(self.left_leg)} and {mm(self.right_leg)} "
                f"they have to differ by more than {least_mm(low)} and less than {most_mm(high)}. Change cd or a leg.",
            )
        if max(self.ab, self.cd) > MOST_OFF * abs(wide):
            raise Refused(
                "cd",
                f"The legs meet {mm(self.apex)} along AD: too far to be drawn. AB and CD have to differ by "
                f"{least_mm(max(self.ab, self.cd) / MOST_OFF)} at least. Change cd.",
            )

    @property
    def apex(self) -> float:
        """How far from A the legs meet, along AD; less than 0 beyond A."""
        return self.left_leg * self.ab / (self.ab - self.cd)

    @cached_property
    def lines(self) -> list[float]:
        """How long each parting line is, from CD on."""
        whole = sum(row[0] for row in self.shares)
        done = np.cumsum([row[0] for row in self.shares])[:-1] / whole
        return [float(np.sqrt(self.cd**2 + (self.ab**2 - self.cd**2) * share)) for share in done]

    @property
    def area(self) -> float:
        return (self.ab + self.cd) / 2 * self.height

    def values(self, method: str) -> Iterable[Value]:
        count = len(self.lines)
        names = tuple(f"L{k}" for k in range(1, count + 1))
        yield Value("area", self.area, "mm²", f"({bare(self.ab)} + {bare(self.cd)}) / 2 × {bare(self.height)}")
        yield Value("height", self.height, "mm", f"√({bare(self.left_leg)}² − {bare(self.foot)}²)", ("A", "D"))
        words = f"√({bare(self.cd)}² + ({bare(self.ab)}² − {bare(self.cd)}²) × the shares before)"
        yield Value("lines", self.lines, "mm", words, names)
        up = [self.height * (self.ab - x) / (self.ab - self.cd) for x in self.lines]
        yield Value("heights", up, "mm", "as each is shorter than AB", names)
        marks = [self.left_leg * (x - self.cd) / (self.ab - self.cd) for x in self.lines]
        yield Value("left_marks", marks, "mm", "from D along DA, as each is longer than CD", names)

    def measure(self, found: Found) -> dict[str, Number]:
        left, right = found.group("L"), found.group("R")
        return {
            "lines": distance(left, right),
            "heights": left[..., 1] - found["A"][..., None, 1],
            "left_marks": distance(left, found["D"][..., None, :]),
            "height": found["D"][..., 1] - found["A"][..., 1],
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        left = found.together(["D", *found.names("L"), "A"])
        right = found.together(["C", *found.names("R"), "B"])
        pieces = (
            (distance(left, right)[..., :-1] + distance(left, right)[..., 1:]) / 2 * -np.diff(left[..., 1], axis=-1)
        )
        shares = np.array([row[0] for row in self.shares])
        yield Truth("The areas are as the shares", (pieces * shares.sum() / shares - self.area) / np.sqrt(self.area))
        yield Truth("Every parting line is level", left[..., 1] - right[..., 1])
        for side, (low, high) in (("L", ("A", "D")), ("R", ("B", "C"))):
            for name in found.names(side):
                yield Truth(
                    f"{name} lies on {low}{high}", distance_to_line(found[name], found[low], found[high] - found[low])
                )
        yield Truth("The left leg is as long as given", distance(found["A"], found["D"]) - self.left_leg)
        yield Truth("The right leg is as long as given", distance(found["B"], found["C"]) - self.right_leg)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A"], point(self.ab, 0.0), "ab", self.ab)
        yield Linear(found["A"], found["D"], "left_leg", self.left_leg, side=1, rank=1)
        yield Linear(found["B"], found["C"], "right_leg", self.right_leg, side=-1, rank=1)
        if self.cd:
            yield Linear(found["D"], found["C"], "cd", self.cd, side=1)


@method(
    DivideByParallels,
    "semicircle",
    about="The legs produced to their crossing; on one a half circle, whose diameter is parted as the shares.",
    source="Areas of similar triangles are as the squares of their sides (Euclid, Elements VI.8, VI.19)",
)
def parallels_semicircle(g: DivideByParallels, d: Draft) -> None:
    a, b, base = base_line(d, g.ab, "The trapezium")
    with d.phase("The trapezium"):
        c, top, legs = _legs(g, d, a, b, base)
    apex, left, right = legs
    with d.phase("The half circle"):
        near, far = (top, a) if g.ab > g.cd else (a, top)
        with d.as_one("Dividers", f"Halve the leg from E to {far.name} at M."):
            middle = d.midpoint(apex, far, "M")
        arc = d.compass(middle, d.opening(middle, far), "Centre M, draw the half circle on it.")
        outward = 1.0 if g.ab > g.cd else -1.0
        side = outward * left_of(unit(far.here - apex.here)) * float(distance(apex.here, far.here)) / 2
        if float(distance(apex.here, near.here)) < 1e-6:
            start = apex
        else:
            swung = d.compass(apex, d.opening(apex, near), f"Centre E, swing {near.name} up to it.", whole=False)
            high = d.meet(arc, swung, "", near=middle.here + side)
            start = d.meet(left, d.square_to(left, high, "From there drop square to the leg."), "")
        shares = [row[0] for row in g.shares]
        if g.ab < g.cd:
            shares = shares[::-1]
        by_leg = d.choice(
            "leg-divided", right=False, slip=True, says="The leg itself is parted as the shares, not the diameter."
        )
        if by_leg and near is not start:
            start = near
        marks, *_ = laid_in_ratio(d, left, start, far, shares, [], -outward * 30.0)
    with d.phase("The parting lines"):
        found = []
        for k, mark in enumerate(marks, 1):
            n = k if g.ab > g.cd else len(marks) + 1 - k
            if by_leg:
                found.append((n, d.also(f"L{n}", mark)))
                continue
            up = d.square_to(left, mark, f"At mark {k} draw square to the leg, up to the half circle.")
            high = d.meet(up, arc, "", near=middle.here + side)
            down = d.compass(apex, d.opening(apex, high), "Centre E, swing that down to the leg.", whole=False)
            found.append((n, d.meet(left, down, f"L{n}", near=mark)))
        pairs = []
        for n, spot in sorted(found, key=lambda one: one[0]):
            level = d.parallel_to(base, spot, f"Through L{n} draw level to BC.")
            pairs.append((spot, d.meet(level, right, f"R{n}")))
    with d.phase("Line in"):
        d.line_in([a, b, c, top] if g.cd else [a, b, top], closed=True, says="Line in the outline.")
        with d.as_one("Straightedge", "Line in the parting lines."):
            for pair in pairs:
                d.line_in(pair)


def _legs(
    g: DivideByParallels, d: Draft, a: Spot, b: Spot, base: LineMark
) -> tuple[Spot, Spot, tuple[Spot, LineMark, LineMark]]:
    """The corners C and D, by a triangle on the difference of the level sides, and where the legs meet."""
    if not g.cd:
        one = d.compass(a, g.left_leg, "Centre A, an arc with the left leg.", whole=False)
        two = d.compass(b, g.right_leg, "Centre B, an arc with the right leg.", whole=False)
        top = d.meet(one, two, "D", where="above")
        with d.as_one("Pencil", "C and E are D: a triangle."):
            c, apex = d.also("C", top), d.also("E", top)
        return c, top, (apex, d.rule(a, top, "Draw the leg AD."), d.rule(b, top, "Draw the leg BC."))
    wide = g.ab - g.cd
    foot = d.lay_off(base, a, wide, "", "From A lay off AB less CD.", kind="plain")
    one = d.compass(a, g.left_leg, "Centre A, an arc with the left leg.", whole=False)
    two = d.compass(foot, g.right_leg, "From there an arc with the right leg.", whole=False)
    top = d.meet(one, two, "D", where="above")
    level = d.level_from(top, "Through D draw level.")
    c = d.lay_off(level, top, g.cd, "C", "Lay CD off along it.")
    left, right = d.rule(a, top, "Draw the leg AD on."), d.rule(b, c, "Draw the leg BC on.")
    return c, top, (d.meet(left, right, "E"), left, right)
