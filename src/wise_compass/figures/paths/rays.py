"""Curves found on rays through a pole: conchoid, limaçon, cissoid and witch."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear, Radial, from_level, told
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, direction, length, point, sind, tand

KINDS = ("conchoid", "limacon", "cissoid", "witch")
CARRIED = ("conchoid", "limacon")
"""Those that carry a length on from a base along each ray."""
WIDEST = {"conchoid": 66.0, "limacon": 90.0, "cissoid": 60.0, "witch": 66.0}
"""Degrees from the axis to the outermost ray."""
ALIKE = 1e-9
"""Of the size: an arm within this is as long as it."""
SETTLED = 1e-12
"""Relative error that is asked of a length found by quadrature."""


class Branch(NamedTuple):
    """One of the curve's branches: the letter of its points, and by how much of the arm it lies beyond the base."""

    letter: str
    side: int


class RayCurve(Curved, Figure, id="ray-curve", family="paths", title="Ray curve"):
    keys = ("O", "P*", "Q")
    brief = (
        "A {kind} of {size} with an arm of {arm}; its point and its tangent on "
        "the ray at {at}, by {divisions} rays to a "
        "side, found with {method}."
    )
    summary = "Conchoid, limaçon, cissoid and witch: on every ray through a pole a length is carried."
    value_names = ("form", "point", "inner_point", "tangent_angle", "instant_centre", "area", "arc_length")

    kind = Choice("conchoid", "the curve", KINDS, {"limacon": "limaçon"})
    size = Length(30, "the base: a line so far from the pole, or a circle of this diameter")
    arm = Length(44, "the length that is carried on along each ray")
    at = Angle(35, "the ray at which its point is told, from the axis", least=-85, most=85)
    divisions = Count(9, "the rays to a side", 4, 36)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        return cls.brief if givens.get("kind") in CARRIED else cls.brief.replace(" with an arm of {arm}", "")

    def refuse(self) -> None:
        if self.kind == "cissoid" and abs(self.at) < 0.01:
            raise Refused(
                "at", f"At {trim(self.at)}° the cissoid has its cusp and no tangent to draw. Set at to 0.01 or more."
            )

    @property
    def carried(self) -> bool:
        return self.kind in CARRIED

    @property
    def form(self) -> str | None:
        if not self.carried:
            return None
        over = (self.arm - self.size) / max(self.arm, self.size)
        names = ("loop", "cusp", "two branches") if self.kind == "conchoid" else ("oval", "cardioid", "loop")
        return names[1 if abs(over) <= ALIKE else 0 if over > 0 else 2]

    @property
    def widest(self) -> float:
        return max(WIDEST[self.kind], abs(self.at))

    @property
    def turns(self) -> Array:
        """The rays, in degrees from the axis."""
        n = self.divisions
        return self.widest * np.arange(-n, n + 1) / n

    @property
    def branches(self) -> tuple[Branch, ...]:
        return (Branch("P", 1), Branch("R", -1)) if self.carried else (Branch("P", 1),)

    def base(self, turn: Number) -> Array:
        """Where the rays cross the base line or the circle, (…, 2)."""
        if self.kind == "conchoid":
            return point(np.zeros_like(np.asarray(turn, float)) + self.size, self.size * tand(turn))
        return np.asarray(self.size * np.asarray(cosd(turn)))[..., None] * direction(turn)

    def place(self, turn: Number, side: int = 1) -> Array:
        """The curve's place on the rays, (…, 2)."""
        if self.carried:
            return self.base(turn) + side * self.arm * direction(turn)
        if self.kind == "cissoid":
            return np.asarray(self.size * np.asarray(sind(turn)) * np.asarray(tand(turn)))[..., None] * direction(turn)
        return point(self.size * np.asarray(cosd(turn)) ** 2, self.size * np.asarray(tand(turn)))

    def courses(self, method: str) -> Sequence[Course]:
        return [course for branch in self.branches for course in self._branch_courses(branch)]

    def _branch_courses(self, branch: Branch) -> Iterator[Course]:
        names = self.names(branch)
        says = {"P": "the curve", "R": "the inner branch"}[branch.letter]
        curve = sampled(lambda t: self.place(t, branch.side), 0.02, -self.widest, self.widest, False)
        for first, last in self.pieces(branch):
            yield Course(says, curve, self.turns[first : last + 1], names[first : last + 1], turn="angle of the ray")

    def pieces(self, branch: Branch) -> list[tuple[int, int]]:
        """The first and the last ray of every piece that is drawn at a stroke: a cusp parts two."""
        n = self.divisions
        cusp = self.kind == "cissoid" or (branch.side < 0 and self.form == "cusp")
        return [(0, n), (n, 2 * n)] if cusp else [(0, 2 * n)]

    def names(self, branch: Branch) -> tuple[str, ...]:
        return tuple(f"{branch.letter}{k}" for k in range(2 * self.divisions + 1))

    # what is told

    @property
    def instant_centre(self) -> Array | None:
        """Where the normals meet: the ruler slides through the pole while its mark runs along the base."""
        if not self.carried:
            return None
        base = self.base(self.at)
        if self.kind == "limacon":
            return point(self.size, 0.0) - base
        return point(-base[1] * tand(self.at), base[1])

    @property
    def tangent_angle(self) -> float:
        centre = self.instant_centre
        if centre is not None:
            return float(angle_of(self.place(self.at) - centre) + 90.0) % 180.0
        s, t = sind(self.at), tand(self.at)
        if self.kind == "cissoid":
            return float(np.degrees(np.arctan2(2 * s * s + t * t, 2 * s * cosd(self.at)))) % 180.0
        return float(np.degrees(np.arctan2(1 / cosd(self.at) ** 2, -2 * s * cosd(self.at)))) % 180.0

    @cached_property
    def area(self) -> tuple[float | None, str]:
        """What the value is about, and its formula: of the loop, of all, or to the asymptote."""
        a, b = self.size, self.arm
        if self.kind == "cissoid":
            return 0.75 * float(np.pi) * a**2, f"3/4 × π × {bare(a)}²"
        if self.kind == "witch":
            return float(np.pi) * a**2, f"π × {bare(a)}²"
        if self.kind == "limacon":
            if self.form != "loop":
                return float(np.pi) * (b**2 + a**2 / 2), f"π × ({bare(b)}² + {bare(a)}² / 2)"
            inner = float(np.arccos(b / a))
            lost = inner * (b * b + a * a / 2) - 1.5 * b * float(np.sqrt((a - b) * (a + b)))
            return lost, f"… ∫ ({bare(a)} cos φ − {bare(b)})² dφ up to arccos({bare(b)} / {bare(a)}): the loop"
        if self.form != "loop":
            return None, "it has no loop"
        turn = float(np.arccos(a / b))
        t = float(np.tan(turn))
        loop = a * a * t - 2 * a * b * float(np.arcsinh(t)) + b * b * turn
        return loop, f"… ∫ ({bare(a)} / cos φ − {bare(b)})² dφ up to arccos({bare(a)} / {bare(b)}): the loop"

    @cached_property
    def arc_length(self) -> float | None:
        """From the axis to the point, by quadrature."""
        from scipy.integrate import quad

        if self.carried:
            return None

        def rate(turn: float) -> float:
            s, c = float(np.sin(turn)), float(np.cos(turn))
            if self.kind == "cissoid":
                return self.size * float(np.hypot(2 * s * c, 2 * s * s + (s / c) ** 2))
            return self.size * float(np.hypot(2 * s * c, 1 / c**2))

        return float(quad(rate, 0.0, float(np.deg2rad(abs(self.at))), epsabs=0.0, epsrel=SETTLED, limit=400)[0])

    def values(self, method: str) -> Iterable[Value]:
        a, b, turn = bare(self.size), bare(self.arm), trim(self.at)
        yield Value("form", self.form, "", f"arm {b} and size {a}" if self.carried else "it has one form")
        words = {
            "conchoid": f"({a} / cos {turn}° + {b}) along the ray",
            "limacon": f"({a} cos {turn}° + {b}) along the ray",
            "cissoid": f"{a} sin {turn}° tan {turn}° along the ray",
            "witch": f"{a} cos² {turn}° across, {a} tan {turn}° up",
        }[self.kind]
        yield Value("point", [float(x) for x in self.place(self.at)], "mm", words, ("Q",))
        inner = [float(x) for x in self.place(self.at, -1)] if self.carried else None
        told = words.replace("+", "−") if self.carried else "it has one branch"
        yield Value("inner_point", inner, "mm", told, ("S",) if self.carried else ())
        centre = self.instant_centre
        told = "… square to the line from I to Q" if self.carried else "… by its derivative"
        yield Value("tangent_angle", self.tangent_angle, "°", told, ("Q",))
        told = "square to the ray at O, and to the base where the ray crosses it"
        at = None if centre is None else [float(x) for x in centre]
        yield Value("instant_centre", at, "mm", told if self.carried else "no ruler slides here", ("I",) if at else ())
        area, told = self.area
        yield Value("area", area, "mm²", told)
        told = "… ∫ along the curve from the axis" if not self.carried else "told of cissoid and witch alone"
        yield Value("arc_length", self.arc_length, "mm", told)

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {"point": found["Q"] - found["O"]}
        if self.carried:
            out["inner_point"] = found["S"] - found["O"]
            out["instant_centre"] = found["I"] - found["O"]
            out["tangent_angle"] = (angle_of(found["Q"] - found["I"]) + 90.0) % 180.0
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        a, b = self.size, self.arm
        for branch in self.branches:
            at = found.group(branch.letter) - found["O"][..., None, :]
            x, y, r = at[..., 0], at[..., 1], length(at)
            if self.kind == "conchoid":
                yield Truth("(x − size)² (x² + y²) = arm² x²", (r * np.abs(x - a) - b * np.abs(x)) / (a + b))
            elif self.kind == "limacon":
                yield Truth("(x² + y² − size x)² = arm² (x² + y²)", (np.abs(r * r - a * x) - b * r) / (a + b))
            elif self.kind == "cissoid":
                yield Truth("x (x² + y²) = size y²", (x * r * r - a * y * y) / (a * np.maximum(r, a)))
            else:
                yield Truth("x (y² + size²) = size³", x - a**3 / (y * y + a * a))
        q = found["Q"] - found["O"]
        off = q - self.place(self.at)
        yield Truth("Q stands on the ray that is told", off)
        if self.carried:
            yield Truth("The inner point stands on it too", found["S"] - found["O"] - self.place(self.at, -1))
            out, normal = direction(self.at), found["Q"] - found["I"]
            moved = self.place(self.at + 0.01) - self.place(self.at - 0.01)
            lean = angle_of(normal) + 90.0 - angle_of(moved)
            yield Truth("The pole lies square to the ray from the instant centre", (found["I"] - found["O"]) @ out)
            yield Truth("The normal is square to the curve", np.round((lean + 90.0) % 180.0 - 90.0, 4), "°")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = float(min(found.group("P")[:, 1].min(), -self.size / 2))
        if self.kind == "conchoid":
            yield Linear(point(0.0, 0.0), point(self.size, 0.0), "size", self.size, past=point(0.0, low))
        else:
            yield Radial(point(self.size / 2, 0.0), self.size / 2, "size", self.size, -60.0, diameter=True)
        pairs = [(found[f"R{k}"], found[f"P{k}"]) for k in range(1, self.divisions) if f"R{k}" in found]
        if pairs and self.kind in ("conchoid", "limacon"):  # the arm is carried on both ways from the base
            there, here = pairs[len(pairs) // 2]
            yield Linear((there + here) / 2, here, "arm", self.arm)
        yield from told([from_level(found["O"], self.at, "at", reach=26.0)])


def _base(g: RayCurve, d: Draft) -> tuple[Spot, LineMark, LineMark | ArcMark, LineMark | None]:
    """Pole, axis, what the rays cross first, and the line that they cross after it."""
    tall = float(np.abs(g.base(g.turns)[:, 1]).max())
    with d.phase("Pole and base"):
        pole = d.start_at("O", says="Mark the pole O.")
        axis = d.level_from(pole, "Draw the axis level through O.", Role.CENTRE, g.size)
        far = d.lay_off(axis, pole, g.size, "A", "Lay the size off along it: A.", kind="given")
        line: LineMark | None = None
        if g.kind != "limacon":
            if g.kind != "conchoid":
                tall = g.size * float(tand(g.widest))
            line = d.upright_from(far, "At A draw the line upright.", Role.REFERENCE).extent(-tall, tall)
        if g.kind == "conchoid":
            assert line is not None
            return pole, axis, line, None
        with d.as_one("Dividers", "Halve OA: the centre of the circle."):
            middle = d.midpoint(pole, far, "M")
        circle = d.compass(middle, d.opening(middle, far), "Centre M, draw the circle over OA.", role=Role.REFERENCE)
    return pole, axis, circle, line


@method(
    RayCurve,
    "rays",
    about="Rays through the pole; on each the length from where it crosses the base, carried by the dividers.",
    source="Nicomedes, Pascal, Diocles and Agnesi: each curve by its definition",
)
def by_rays(g: RayCurve, d: Draft) -> None:
    pole, axis, base, line = _base(g, d)
    mistaken = d.choice(
        "arm-from-pole" if g.carried else "from-the-circle" if g.kind == "cissoid" else "levels-exchanged",
        right=False,
        slip=True,
        says={
            "cissoid": "The length is carried on from the circle instead of from the pole.",
            "witch": "Across is taken from the line and up from the circle: the two are exchanged.",
        }.get(g.kind, "The arm is laid off from the pole instead of from the base."),
    )
    with d.phase("The points"):
        for k, turn in enumerate(g.turns.tolist()):
            names = tuple(f"{branch.letter}{k}" for branch in g.branches)
            _on_ray(g, d, (pole, axis, base, line), turn, names, mistaken)
    with d.phase("The point that is told"):
        q = _on_ray(g, d, (pole, axis, base, line), g.at, ("Q", "S")[: len(g.branches)], mistaken, "B")
        _tangent(g, d, pole, axis, q)
    with d.phase("Line in"):
        for branch in g.branches:
            names = g.names(branch)
            for first, last in g.pieces(branch):
                spots = [d.spots[name] for name in names[first : last + 1]]
                d.curve(spots, says=f"Line in the curve through {names[first]} to {names[last]}.")


Base = tuple[Spot, LineMark, LineMark | ArcMark, LineMark | None]


def _on_ray(
    g: RayCurve, d: Draft, of: Base, turn: float, names: tuple[str, ...], mistaken: bool, crossing: str = ""
) -> Spot:
    """The curve's points on one ray; returns the outer one."""
    pole, axis, base, line = of
    there = " and ".join(names)
    flat = abs(turn) < 1e-9
    says = {
        "conchoid": f"lay the arm off both ways from the line: {there}.",
        "limacon": f"lay the arm off both ways from the circle: {there}.",
        "cissoid": f"carry the length between circle and line on from O: {there}.",
        "witch": f"from its crossing with the circle upright, from that with the line level: {there}.",
    }[g.kind]
    settings = (Setting(g.arm, "mm"),) if g.carried else ()
    with d.as_one("Dividers", f"On the ray at {trim(turn)}° {says}", *settings):
        ray = axis if flat else d.ray(pole, turn)
        if abs(abs(turn) - 90.0) < 1e-9:
            here = d.also(crossing, pole, "plain")
        else:
            here = d.meet(ray, base, crossing, near=g.base(turn), kind="plain")
        if g.carried:
            start = pole if mistaken else here
            spots = [d.lay_off(ray, start, way * g.arm, name) for way, name in zip((1.0, -1.0), names)]
            return spots[0]
        assert line is not None
        top = d.meet(ray, line)
        if g.kind == "witch":
            return d.project(names[0], top, here) if mistaken else d.project(names[0], here, top)
        if flat:
            return d.also(names[0], pole)
        return d.lay_off(ray, here if mistaken else pole, d.opening(here, top), names[0])


def _tangent(g: RayCurve, d: Draft, pole: Spot, axis: LineMark, q: Spot) -> None:
    """The normal through the instant centre and the tangent square to it; else the tangent by its worked direction."""
    reach = g.size / 2
    if not g.carried:
        d.ray(q, g.tangent_angle, "At Q draw the tangent by its worked direction.", Role.CENTRE, length=reach)
        return
    across = d.square_to(d.ray(pole, g.at, "Take the ray to Q."), pole, "At O draw square to it.")
    if g.kind == "conchoid":
        away = d.level_from(d.spots["B"], "Through B, where the ray crosses the line, draw square to the line.")
    else:
        away = d.rule(d.spots["B"], d.spots["M"], "Join B, where the ray crosses the circle, to its centre.")
    if abs(g.at) < 1e-9:
        with d.as_one("Pencil", "Both meet in one place, the instant centre I." if g.kind == "limacon" else "I is O."):
            centre = d.also("I", pole)
    else:
        centre = d.meet(across, away, "I")
    normal = d.rule(centre, q, "Join I to Q: the normal.")
    d.square_to(normal, q, "At Q draw square to it: the tangent.", Role.CENTRE).extent(-reach, reach)
