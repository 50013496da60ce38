"""The ovals of Cassini: places whose distances from two foci have one product."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property, partial

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Dimension, Leader, Linear, from_level, told
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.geometry.curves import Curve, sampled
from wise_compass.geometry.vectors import Array, Number, cosd, direction, distance, length, point, sind

ALIKE = 1e-9
"""Of half the distance of the foci: a root within this gives the figure of eight."""
ROOM = 12.0
"""mm kept free between the oval and the circle of the secants."""
SIGNS = ((1, 1), (-1, 1), (-1, -1), (1, -1))
"""The quarters, anticlockwise from the right upper one."""


class CassiniOval(Curved, Figure, id="cassini-oval", family="paths", title="Oval of Cassini"):
    keys = ("F*", "O", "P*", "Q*")
    brief = (
        "The places whose distances from two foci {foci} apart have the product of a square of side {root}, told at "
        "{at}, by {divisions} points, found with {method}."
    )
    summary = "An oval, a waisted one, a figure of eight or two eggs: the distances from two foci have one product."
    value_names = ("form", "long", "wide", "waist", "area", "radius")

    foci = Length(80, "the distance of the foci")
    root = Length(46, "the root of the product", least=lambda g: g.foci / 20, most=lambda g: 5 * g.foci)
    at = Angle(70, "the direction in which its radius is told", least=-360, most=360)
    divisions = Count(24, "the points", 16, 72, multiple=8)

    @property
    def half(self) -> float:
        """From the middle to a focus."""
        return self.foci / 2

    @property
    def eight(self) -> bool:
        return abs(self.root - self.half) <= ALIKE * self.half

    @property
    def form(self) -> str:
        if self.eight:
            return "lemniscate"
        if self.root < self.half:
            return "two"
        return "waisted" if self.root < self.half * np.sqrt(2.0) * (1 - ALIKE) else "one"

    @property
    def parted(self) -> bool:
        return self.form == "two"

    @property
    def per_quarter(self) -> int:
        """Spaces between points from the outer vertex to the middle, or to the inner vertex of an egg."""
        return self.divisions // 4

    def _place(self, turn: Number) -> Array:
        """The oval by the angle whose sine is the secant's distance from the middle of its circle, over its radius."""
        c, r = self.half, self.half if self.eight else self.root
        s, k = np.asarray(sind(turn)), np.asarray(cosd(turn))
        across = c * k if self.eight else np.sqrt((r - c * s) * (r + c * s))
        return point(k * np.sqrt(r * r + (c * k) ** 2), s * across)

    def _egg(self, turn: Number, side: int) -> Array:
        """One of the two eggs, closed, by twice the angle whose sine is that of the oval's over ``root / half``."""
        c, r = self.half, self.root
        s, k = np.asarray(sind(np.asarray(turn) / 2)), np.asarray(cosd(np.asarray(turn) / 2))
        x = np.sqrt((1 - r * s / c) * (1 + r * s / c) * (r * r + (c - r * s) * (c + r * s)))
        return point(side * x, r * r / c * s * k)

    @cached_property
    def rows(self) -> tuple[tuple[Curve, Array, tuple[str, ...]], ...]:
        """The closed curves, where the points stand on each and what they are called."""
        n = self.divisions
        if not self.parted:
            names = tuple(f"P{k}" for k in range(n))
            return ((sampled(self._place), evenly(360.0 / n, n), names),)
        m = n // 2
        turns = evenly(360.0 / m, m)
        return tuple(
            (sampled(partial(self._egg, side=side)), turns, tuple(f"P{first + k}" for k in range(m)))
            for side, first in ((1, 0), (-1, m))
        )

    def courses(self, method: str) -> Sequence[Course]:
        says = ("the right egg", "the left egg") if self.parted else ("the oval",)
        return [
            Course(words, curve, turns, names, turn="angle of the secant", landmarks=((0.0, "its vertex"),))
            for words, (curve, turns, names) in zip(says, self.rows)
        ]

    def pair(self, k: int) -> tuple[float, float]:
        """The distances from the nearer and the farther focus of the points that are ``k`` spaces from a vertex."""
        curve, turns, _ = self.rows[0]
        at = curve.at(turns[k])
        return float(length(at - point(self.half, 0.0))), float(length(at + point(self.half, 0.0)))

    # what is told

    @property
    def radius(self) -> float | None:
        """The outer radius in the direction that is told; None where the oval has no place there."""
        c, r = self.half, self.half if self.eight else self.root
        double, across = float(cosd(2 * self.at)), (c / r) ** 2 * float(sind(2 * self.at))
        if self.eight:
            return c * float(np.sqrt(2 * max(double, 0.0)))
        if abs(across) > 1.0:
            return None
        square = c * c * double + r * r * float(np.sqrt((1 - across) * (1 + across)))
        return float(np.sqrt(square)) if square > 0 else None

    @property
    def area(self) -> float:
        """Of all that it encloses, by complete elliptic integrals."""
        from scipy.special import ellipe, ellipk

        c, r = self.half, self.root
        if self.eight:
            return 2 * c * c
        if not self.parted:
            return float(2 * r * r * ellipe((c / r) ** 4))
        m = (r / c) ** 4
        return float(2 * c * c * (ellipe(m) - (1 - m) * ellipk(m)))

    def values(self, method: str) -> Iterable[Value]:
        c, r = bare(self.half), bare(self.root)
        yield Value("form", self.form, "", f"root {r}, half the distance of the foci {c}")
        long = 2 * float(np.hypot(self.root, self.half))
        yield Value("long", long, "mm", f"2 × √({r}² + {c}²)", ("P0",))
        upright = 2 * float(np.sqrt(max((self.root - self.half) * (self.root + self.half), 0.0)))
        if self.form == "one":
            wide, told = upright, f"2 × √({r}² − {c}²)"
        else:
            wide, told = self.root**2 / self.half, f"{r}² / {c}"
        yield Value("wide", wide, "mm", told)
        waist = None if self.parted else 0.0 if self.eight else upright
        told = (
            "two eggs have none" if self.parted else "its branches cross there" if self.eight else f"2 × √({r}² − {c}²)"
        )
        yield Value("waist", waist, "mm", told)
        yield Value("area", self.area, "mm²", "… by elliptic integrals" if not self.eight else f"2 × {c}²")
        told = f"… √({c}² cos {trim(2 * self.at)}° + √({r}⁴ − {c}⁴ sin² {trim(2 * self.at)}°))"
        told = told if self.radius is not None else "no place lies in this direction"
        yield Value("radius", self.radius, "mm", told, ("Q1",) if self.radius else ())

    def measure(self, found: Found) -> dict[str, Number]:
        opposite = f"P{self.divisions // 2}"
        out: dict[str, Number] = {"long": distance(found["P0"], found[opposite])}
        if self.radius:
            out["radius"] = distance(found["O"], found["Q1"])
        if not self.parted:
            n = self.per_quarter
            out["waist"] = distance(found[f"P{n}"], found[f"P{3 * n}"])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        at = found.group("P")
        one, other = (distance(at, found[name][..., None, :]) for name in ("F1", "F2"))
        yield Truth("The distances from the foci have the product that is given", one * other / self.root - self.root)
        yield Truth("The foci stand as far apart as given", distance(found["F1"], found["F2"]) - self.foci)
        if self.radius:
            q = found["Q1"]
            product = distance(q, found["F1"]) * distance(q, found["F2"])
            yield Truth("So they have at Q1", product / self.root - self.root)
        ends = found["P0"] - found["O"]
        yield Truth("A vertex lies on the line of the foci", ends[..., 1])

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["F1"], found["F2"], "foci", self.foci)
        if "S" in found:
            yield Linear(found["T"], found["S"], "root", self.root)
        else:
            yield Leader(found["P0"], "root", self.root, "root of the product ")
        yield from told([from_level(found["O"], self.at, "at", reach=24.0)])


@method(
    CassiniOval,
    "arcs",
    about=(
        "Secants of one circle from a point give pairs of lengths with one product; arcs of each pair about the foci."
    ),
    source="Secant and tangent from a point (Euclid, Elements III.36)",
)
def cassini_arcs(g: CassiniOval, d: Draft) -> None:
    with d.phase("The foci"):
        middle = d.start_at("O", says="Mark O, the middle between the foci.")
        axis = d.level_from(middle, "Draw the axis level through O.", Role.CENTRE).extent(-g.half, g.half)
        with d.as_one("Rule", f"Lay off the foci F1 and F2, {mm(g.half)} to either side."):
            foci = [d.lay_off(axis, middle, way * g.half, f"F{k}") for k, way in ((1, 1.0), (2, -1.0))]
    pairs = _pairs(g, d, middle)
    by_name: dict[str, Spot] = {}
    with d.phase("The points"):
        for k in range(g.per_quarter + 1):
            near, far = pairs[k]
            second = far
            if k and g.root > 1.2 * g.half:
                second = d.once(
                    "same-opening-twice",
                    right=far,
                    slip=near,
                    says="Once the compass is not set to the pair’s other length: both arcs have the same.",
                    at=f"pair {k}",
                    usual=k == max(g.per_quarter // 2, 1),
                )
            _four(g, d, k, (near, second), foci, by_name)
    if g.radius:
        with d.phase("The radius that is told"):
            ray = d.ray(middle, g.at, f"From O draw a line at {trim(g.at)}°.", length=g.radius)
            d.lay_off(ray, middle, g.radius, "Q1", "Lay off along it the radius as worked: Q1.")
    with d.phase("Line in"):
        for _, _, names in g.rows:
            d.curve([by_name[name] for name in names], closed=True, says=f"Line in {names[0]} to {names[-1]}.")


def _pairs(g: CassiniOval, d: Draft, middle: Spot) -> list[tuple[Opening, Opening]]:
    """Pairs of lengths with the product that is asked, from the outer vertex on."""
    drop = g.half + ROOM + max(g.root**2 / g.half / 2, g.root)
    with d.phase("Pairs of lengths"):
        down = d.upright_from(middle, "Draw straight down from O.", Role.CENTRE, -drop)
        centre = d.lay_off(down, middle, -drop, "K", "Well below mark K.", kind="plain")
        circle = d.compass(centre, g.half, "Centre K, draw a circle through half the distance of the foci.")
        touch = d.lay_off(down, centre, g.half, "T", "Its upper end is T.", kind="plain")
        level = d.level_from(touch, "There draw the tangent.", length=g.root)
        longer = d.choice(
            "tangent-by-the-product",
            right=g.root,
            slip=g.root * 1.2,
            says="The tangent is laid off too long: the product is another.",
        )
        start = d.lay_off(level, touch, longer, "S", "Lay the root off along it: S.")
        reach = float(np.hypot(g.root, g.half))
        through = d.rule(start, centre, "Join S to K, and on through the circle.", beyond=g.half)
        to_centre = float(np.degrees(np.arctan2(-g.half, -g.root)))
        pairs = []
        for k in range(g.per_quarter + 1):
            near, far = g.pair(k)
            if k == g.per_quarter and not g.parted:
                pairs.append((d.opening(start, touch), d.opening(start, touch)))
                continue
            sine = np.sqrt(max(1 - ((far - near) / 2 / g.half) ** 2, 0.0)) if k else 0.0
            lean = float(np.degrees(np.arcsin(min(g.half * sine / reach, 1.0))))
            with d.as_one("Straightedge", f"Draw secant {k} from S: it gives a short and a long length."):
                secant = through if k == 0 else d.ray(start, to_centre - lean, instrument="Protractor")
                place = start.here + near * direction(to_centre - lean)
                beyond = start.here + far * direction(to_centre - lean)
                one = d.meet(secant, circle, near=place)
                other = d.meet(secant, circle, near=beyond)
                pairs.append((d.opening(start, one), d.opening(start, other)))
    return pairs


def _four(
    g: CassiniOval, d: Draft, k: int, pair: tuple[Opening, Opening], foci: list[Spot], by_name: dict[str, Spot]
) -> None:
    """The points of one pair in every quarter: by arcs, or along the axis where those only touch."""
    n = g.per_quarter
    near, far = pair
    own = _names(g, k)
    settings = [Setting(one.nominal, "mm") for one in pair]
    says = f"With pair {k} swing the short and the long length about F1 and F2, and exchanged."
    with d.as_one("Compass", says, *settings) as step:
        if k == 0 or (g.parted and k == n):
            step.says = f"The lengths of pair {k} end on the axis: lay the short one off from either focus."
            way = 1.0 if k == 0 else -1.0
            for name, focus, side in zip(dict.fromkeys(own), foci, (way, -way)):
                by_name[name] = d.lay_off(d.level_from(focus), focus, near, name, way=side)
            return
        if k == n and g.eight:
            step.says = "With the last pair both arcs only touch, in O: there the branches cross."
            for name in dict.fromkeys(own):
                by_name[name] = d.also(name, d.spots["O"])
            return
        for name, (right, above) in dict(zip(own, SIGNS)).items():
            nearer, other = foci if right > 0 else foci[::-1]
            one, two = d.compass(nearer, near, whole=False), d.compass(other, far, whole=False)
            by_name[name] = d.meet(one, two, name, where="above" if above > 0 else "below")


def _names(g: CassiniOval, k: int) -> tuple[str, str, str, str]:
    """The names of the points ``k`` spaces from a vertex, by quarters."""
    n = g.divisions
    if g.parted:
        m = n // 2
        return f"P{k}", f"P{m + k}", f"P{m + (m - k) % m}", f"P{(m - k) % m}"
    if g.eight:
        # the pencil runs through the middle: from the right upper quarter into the left lower one
        half = n // 2
        return f"P{k}", f"P{(half + k) % n}", f"P{(half - k) % n}", f"P{(n - k) % n}"
    return f"P{k}", f"P{n // 2 - k}", f"P{(n // 2 + k) % n}", f"P{(n - k) % n}"
