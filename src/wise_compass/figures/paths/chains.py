"""The line of a hanging chain, and the parabola that is drawn in its place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.geometry.curves import catenary_curve
from wise_compass.geometry.vectors import Array, Number, point

FLATTEST, DEEPEST = 1e-3, 5.0
"""Of the span: the least and the greatest sag."""


class Catenary(Curved, Figure, id="catenary", family="paths", title="Catenary"):
    keys = ("O", "P*")
    brief = (
        "A chain between two points {span} apart on one level, hanging {sag} deep, by {divisions} ordinates to a side, "
        "found with {method}."
    )
    summary = "The line in which a chain or a rope hangs, and upside down an arch of even weight."
    ways = ("ordinates", "parabola")
    value_names = ("parameter", "length", "end_angle", "area", "ordinates", "parabola_miss")

    span = Length(140, "the distance of its ends", most=10000)
    sag = Length(52, "how deep it hangs below them", most=20000)
    divisions = Count(8, "the ordinates to a side", 2, 36)

    def refuse(self) -> None:
        if self.sag < FLATTEST * self.span:
            raise Refused(
                "sag",
                f"A sag of {mm(self.sag)} in {mm(self.span)} is as good as a straight line. Raise sag to at least "
                f"{least_mm(FLATTEST * self.span)}, or lower span.",
            )
        if self.sag > DEEPEST * self.span:
            raise Refused(
                "sag",
                f"A sag of {mm(self.sag)} in {mm(self.span)} hangs in two plumb lines. Lower sag to "
                f"{most_mm(DEEPEST * self.span)} or less, or raise span.",
            )

    @property
    def half(self) -> float:
        return self.span / 2

    @cached_property
    def bend(self) -> float:
        """Half the span over the parameter: the root of (cosh u − 1) / u = sag / half, which grows with u."""
        from scipy.optimize import brentq

        slope = self.sag / self.half

        def over(u: float) -> float:
            return float(2 * np.sinh(u / 2) ** 2 / u) - slope

        high = 1.0
        while over(high) < 0:
            high *= 2
        return float(brentq(over, 1e-4, high, xtol=1e-16, rtol=4 * np.finfo(float).eps))

    @property
    def parameter(self) -> float:
        """The radius of the curve at its lowest place."""
        return self.half / self.bend

    @property
    def stations(self) -> Array:
        """How far each ordinate stands off the axis, from left to right."""
        return self.half * np.arange(-self.divisions, self.divisions + 1) / self.divisions

    def height(self, x: Number) -> Number:
        """Over the lowest place."""
        return np.asarray(2 * self.parameter * np.sinh(np.asarray(x) / (2 * self.parameter)) ** 2)

    @cached_property
    def miss(self) -> float:
        """How far the parabola through the same ends and lowest place lies off, upright, where it is farthest: there
        both are as steep, sinh v / v = 2 sag parameter / half²."""
        from scipy.optimize import brentq

        u, wanted = self.bend, 2 * self.sag * self.parameter / self.half**2
        v = float(brentq(lambda one: float(np.sinh(one)) / one - wanted, 1e-3 * u, u, xtol=1e-14))
        x = v * self.parameter
        return abs(float(self.height(x)) - self.sag * (x / self.half) ** 2)

    def courses(self, method: str) -> Sequence[Course]:
        names = tuple(f"P{k}" for k in range(2 * self.divisions + 1))
        curve = catenary_curve(self.parameter, self.half)
        return (Course("the catenary", curve, self.stations, names, on_it=method != "parabola"),)

    def values(self, method: str) -> Iterable[Value]:
        c, u = self.parameter, self.bend
        names = tuple(f"P{k}" for k in range(self.divisions, 2 * self.divisions + 1))
        yield Value("parameter", c, "mm", f"… from c (cosh({bare(self.half)} / c) − 1) = {bare(self.sag)}, by halving")
        yield Value("length", 2 * c * float(np.sinh(u)), "mm", f"… 2 × {bare(c)} × sinh({bare(self.half)} / {bare(c)})")
        yield Value(
            "end_angle", float(np.degrees(np.arctan(np.sinh(u)))), "°", "… whose tangent is half the length / c"
        )
        area = self.span * (c + self.sag) - 2 * c**2 * float(np.sinh(u))
        yield Value("area", area, "mm²", "… span × (c + sag) − c × length")
        heights = [float(self.height(x)) for x in self.stations[self.divisions :]]
        yield Value("ordinates", heights, "mm", "… c (cosh(x / c) − 1), from the lowest place out", names)
        yield Value("parabola_miss", self.miss, "mm", "… where both are as steep")

    def measure(self, found: Found) -> dict[str, Number]:
        right = found.group("P")[..., self.divisions :, 1]
        return {"ordinates": right - found["O"][..., None, 1]}

    def truths(self, found: Found) -> Iterator[Truth]:
        at = found.group("P") - found["O"][..., None, :]
        yield Truth("The ends are the span apart and hang level", at[..., [0, -1], :] - self._ends)
        yield Truth("It is lowest on the axis", at[..., self.divisions, :])
        yield Truth("The ordinates are evenly apart", np.diff(at[..., 0], axis=-1) - self.half / self.divisions)
        # the addition theorem of the hyperbolic cosine, over the parameter below the lowest place
        over = at[..., 1] + self.parameter
        rise = float(np.cosh(self.bend / self.divisions))
        yield Truth(
            "Every ordinate is to the mean of its neighbours as the hanging line asks",
            (over[..., :-2] + over[..., 2:]) / (2 * rise) - over[..., 1:-1],
        )

    @property
    def _ends(self) -> Array:
        return np.array([[-self.half, self.sag], [self.half, self.sag]])

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(-self.half, self.sag), point(self.half, self.sag), "span", self.span, side=1)
        yield Linear(point(self.half, 0.0), point(self.half, self.sag), "sag", self.sag, side=-1)


def _stations(g: Catenary, d: Draft) -> tuple[Spot, list[LineMark]]:
    """The lowest place, and an upright at every station."""
    with d.phase("Axis and stations"):
        lowest = d.start_at("O", says="Mark O, the lowest place.")
        level = d.level_from(lowest, "Draw level through O both ways.", Role.CONSTRUCTION, g.half)
        level.extent(-g.half, g.half)
        feet = []
        with d.as_one("Rule", f"From O mark off the stations, {mm(g.half / g.divisions)} apart."):
            for x in g.stations.tolist():
                feet.append(lowest if x == 0 else d.lay_off(level, lowest, x, "", kind="plain"))
        with d.as_one("Set square", "Draw upright at each of them."):
            uprights = [d.upright_from(one, "", Role.CONSTRUCTION, g.sag) for one in feet]
    return lowest, uprights


@method(
    Catenary,
    "ordinates",
    about="The parameter by halving, then every ordinate from its hyperbolic cosine, alike on both sides.",
    source="The equation of the catenary",
)
def catenary_ordinates(g: Catenary, d: Draft) -> None:
    lowest, uprights = _stations(g, d)
    downwards = d.choice(
        "from-the-ends",
        right=False,
        slip=True,
        says="The ordinates are laid off from the outermost station on, instead of from the middle.",
    )
    points: list[Spot] = []
    with d.phase("The ordinates"):
        for k in range(g.divisions + 1):
            x = g.half * k / g.divisions
            height = float(g.height(g.half - x if downwards else x))
            words = f"Lay off {mm(height)} on both uprights {mm(x)} from the axis."
            if k == 0 and not downwards:
                words = "The lowest point is O itself."
            with d.as_one("Dividers" if height else "Pencil", words):
                for j in dict.fromkeys((g.divisions + k, g.divisions - k)):
                    foot = d.meet(uprights[j], d.level_from(lowest), "", kind="plain") if k else lowest
                    name = f"P{j}"
                    points.append(d.lay_off(uprights[j], foot, height, name) if height else d.also(name, lowest))
    _line_in(d, points)


def _line_in(d: Draft, points: list[Spot]) -> None:
    with d.phase("Line in"):
        ordered = sorted(points, key=lambda spot: float(spot.here[0]))
        d.curve(ordered, says="Line in the hanging line through the points.")


@method(
    Catenary,
    "parabola",
    exact=False,
    about=(
        "The parabola through both ends and the lowest place, by a divided rectangle: near it where the sag is small."
    ),
    source="The parabola by abscissae and ordinates",
)
def catenary_parabola(g: Catenary, d: Draft) -> None:
    lowest, uprights = _stations(g, d)
    points = [d.also(f"P{g.divisions}", lowest)]
    from_top = d.choice(
        "numbered-from-the-top",
        right=False,
        slip=True,
        when=g.divisions > 2,
        says="The parts of the end uprights are numbered from the top, so that each ray meets the wrong upright.",
    )
    with d.phase("Rays"):
        for side, last in ((1, 2 * g.divisions), (-1, 0)):
            hand = "right" if side > 0 else "left"
            with d.as_one("Rule", f"Divide the {hand} end upright into {g.divisions} equal parts up to the sag."):
                foot = d.meet(uprights[last], d.level_from(lowest), "", kind="plain")
                marks = [
                    d.lay_off(uprights[last], foot, g.sag * k / g.divisions, "" if k < g.divisions else f"P{last}")
                    for k in range(1, g.divisions + 1)
                ]
            points.append(marks[-1])
            with d.as_one(
                "Straightedge", f"From O draw to each, {hand}: it meets the upright of its number in a point."
            ):
                for k, mark in enumerate(marks[:-1], 1):
                    j = g.divisions + side * (g.divisions - k if from_top else k)
                    points.append(d.meet(d.rule(lowest, mark), uprights[j], f"P{j}"))
    _line_in(d, points)
