"""A spire on a regular plan: its hips, its faces and how they are cut."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Face, InViews, Solid
from wise_compass.drafting.dimensions import Dimension, Leader, Linear, edge_of, row, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, bare_area, mm, trim
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.solids import ring
from wise_compass.geometry.vectors import Array, Number, angle_between, angle_of, distance, left_of, point

GAP = 18.0
"""What is left between plan, elevation and the face that is folded down."""
BEYOND = 5.0
SAFE = "A roof bears load and people fall: a licensed builder, local codes and fall protection first."


class Spire(InViews, Solid, Figure, id="spire", family="roofs", title="Spire"):
    keys = ("B*", "B*.front", "B*.top", "D", "E*", "J*", "N.front", "O.front", "S", "T", "V", "V.front", "W")
    brief = "A spire on {sides} sides of {side}, {height} high, its jacks {spacing} apart, found with {method}."
    summary = "A spire or a turret's cap: true hips and faces, dihedral, backing and cuts of its jacks."
    value_names = (
        "pitch",
        "hip_angle",
        "hip_length",
        "common",
        "dihedral",
        "backing",
        "tip_angle",
        "cheek",
        "jack_step",
        "area",
        "volume",
    )

    sides = Count(8, "the number of sides", 3, 24)
    side = Length(24, "the side of the plan")
    height = Length(72, "the height over the eaves")
    spacing = Length(5, "how far the jacks stand apart along the eaves")

    @property
    def reach(self) -> float:
        """From the middle to a corner."""
        return float(self.side / 2 / np.sin(np.pi / self.sides))

    @property
    def inner(self) -> float:
        """From the middle to a side."""
        return float(self.side / 2 / np.tan(np.pi / self.sides))

    @property
    def hip(self) -> float:
        return float(np.hypot(self.height, self.reach))

    @property
    def common(self) -> float:
        """The height of a face, on the slope."""
        return float(np.hypot(self.height, self.inner))

    @cached_property
    def base(self) -> Array:
        """The corners in space, (sides, 3)."""
        return ring(self.reach, self.sides)

    @property
    def apex(self) -> Array:
        return np.array([0.0, 0.0, self.height])

    @property
    def jacks(self) -> int:
        """How many jacks stand between a hip and the middle of its face."""
        return min(int(self.side / 2 / self.spacing - 1e-9), 40)

    @property
    def dihedral(self) -> float:
        one, other = (
            cross3(self.base[(k + 1) % self.sides] - self.base[k], self.apex - self.base[k])
            for k in (0, self.sides - 1)
        )
        return 180.0 - float(angle_between(one, other))

    def cautions(self) -> Iterable[str]:
        if not self.jacks:
            yield f"With {mm(self.spacing)} between them no jack stands beside the common of a face."
        yield SAFE

    def values(self, method: str) -> Iterable[Value]:
        h, r, p, a = (bare(x) for x in (self.height, self.reach, self.inner, self.side))
        yield Value(
            "pitch", float(np.degrees(np.arctan2(self.height, self.inner))), "°", f"arctan({h} / {p})", ("N.front",)
        )
        words = f"arctan({h} / {r})"
        yield Value(
            "hip_angle", float(np.degrees(np.arctan2(self.height, self.reach))), "°", words, ("B1.front", "V.front")
        )
        yield Value("hip_length", self.hip, "mm", f"√({h}² + {r}²)", ("B1.front", "V.front"))
        yield Value("common", self.common, "mm", f"√({h}² + {p}²)", ("N.front", "V.front"))
        yield Value(
            "dihedral", self.dihedral, "°", "… at D, where a line square to the hip is folded into the plan", ("D",)
        )
        yield Value(
            "backing", (180.0 - self.dihedral) / 2, "°", f"(180° − {trim(self.dihedral)}°) / 2", ("B2.top", "D")
        )
        tip = 2 * float(np.degrees(np.arcsin(self.side / 2 / self.hip)))
        yield Value("tip_angle", tip, "°", f"2 × arcsin({a} / 2 / {bare(self.hip)})", ("W",))
        yield Value("cheek", tip / 2, "°", f"{trim(tip)}° / 2, between hip and jack on the slope", ("W",))
        step = self.spacing * self.common / (self.side / 2)
        words = f"{bare(self.spacing)} × {bare(self.common)} / ({a} / 2)"
        yield Value("jack_step", step, "mm", words, ("E1", "J1") if self.jacks else ())
        area = self.sides * self.side * self.common / 2
        yield Value("area", area, "mm²", f"{self.sides} × {a} × {bare(self.common)} / 2")
        ground = self.sides * self.side * self.inner / 2
        yield Value("volume", ground * self.height / 3, "mm³", f"{bare_area(ground)} × {h} / 3")

    def measure(self, found: Found) -> dict[str, Number]:
        v, b, n = found["V.front"], found["B1.front"], found["N.front"]
        last = found[f"B{self.sides}.top"]
        out: dict[str, Number] = {
            "pitch": angle_of(v - n) * -1.0 + 180.0,
            "hip_angle": 180.0 - angle_of(v - b),
            "hip_length": distance(v, b),
            "common": distance(v, n),
            "dihedral": angle_between(found["B2.top"] - found["D"], last - found["D"]),
            "backing": angle_between(found["D"] - found["B2.top"], last - found["B2.top"]),
            "tip_angle": angle_between(found["S"] - found["W"], found["T"] - found["W"]),
        }
        if self.jacks:
            out["jack_step"] = distance(found["E1"], found["J1"])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        base = found.together([f"B{k}" for k in range(1, self.sides + 1)])
        yield Truth("The corners stand as the plan has them", base - self.base)
        yield Truth("The apex stands over the middle", found["V"] - self.apex)
        for name in "ST":
            yield Truth(
                "On the face that is folded down the hips have their true length",
                distance(found["W"], found[name]) - self.hip,
            )
        yield Truth("The face keeps its side", distance(found["S"], found["T"]) - self.side)
        yield Truth(
            "At D the faces are seen on edge: square to the hip they stand as their normals do",
            np.asarray(self.measure(found)["dihedral"]) - self.dihedral,
            "°",
        )
        for k in range(1, self.jacks + 1):
            share = k * self.spacing / (self.side / 2)
            yield Truth(f"Jack {k} is cut by the hip", distance(found[f"E{k}"], found[f"J{k}"]) - share * self.common)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right = found["O.front"] + point(self.reach, 0.0)
        yield upright(right, found["V.front"], "height", self.height, -1)
        yield edge_of(row(found, "B", 1, self.sides, ".top"), "side", self.side)
        if "E1" in found and "E2" in found:
            yield Linear(found["E1"], found["E2"], "spacing", self.spacing)
        else:
            yield Leader(found["B1.top"], "spacing", self.spacing, "jacks ")

    # in space

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        after = np.roll(self.base, -1, axis=0)
        return [*(Face(np.array([a, b, self.apex])) for a, b in zip(self.base, after)), Face(self.base[::-1])]

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        return [(f"V B{k + 1}", self.apex, at) for k, at in enumerate(self.base)]


@method(
    Spire,
    "fold-down",
    about="Plan and elevation; hip and common true in the elevation, a face and the dihedral folded into the plan.",
    source="Rotation about a level line (Monge); carpenters' practice",
)
def spire_folded(g: Spire, d: Draft) -> None:
    views = Views.stacked(d, 0.0, g.height, g.reach, GAP)
    corners, centre, level = _plan(g, d, views)
    ground, foot, apex = _elevation(g, d, views, corners, centre)
    common = _common(g, d, views, corners, (centre, level), ground, apex)
    _face(g, d, views, corners, centre, common)
    _dihedral(g, d, views, corners, level, ground, apex)
    _line_in(g, d, views, corners, centre, foot, apex)


def _plan(g: Spire, d: Draft, views: Views) -> tuple[list[Spot], Spot, LineMark]:
    x, y = views.top.origin.tolist()
    with d.phase("The plan"):
        centre = d.start_at("O.top", x, y, says="Mark O, the axis in the plan.", kind="plain")
        level = d.level_from(centre, "Draw the centre lines through O.", Role.CENTRE)
        level.extent(-g.reach - BEYOND, g.reach + BEYOND)
        d.upright_from(centre, "And upright.", Role.CENTRE).extent(-g.reach - BEYOND, g.reach + BEYOND)
        why = f"{bare(g.side)} / (2 sin(180° / {g.sides}))"
        circle = d.compass(centre, g.reach, "Centre O, draw the circle that the corners stand on.", why)
        first = d.meet(level, circle, "B1.top", where="right")
        names = [f"B{k}.top" for k in range(2, g.sides + 1)]
        corners = [first, *d.step_round(circle, first, g.side, names, says="Step the side round from there.")]
        with d.as_one("Straightedge", "Join the corners to O: the hips in the plan."):
            for spot in corners[1:]:
                d.rule(centre, spot)
    return corners, centre, level


def _elevation(g: Spire, d: Draft, views: Views, corners: list[Spot], centre: Spot) -> tuple[LineMark, Spot, Spot]:
    with d.phase("The elevation"):
        axis = d.upright_from(centre, "Carry the axis into the elevation.", Role.CENTRE)
        lift = float(views.front.origin[1] - views.top.origin[1])
        foot = d.lay_off(axis, centre, lift, "O.front", "On it mark the foot of the axis.", kind="plain")
        ground = d.level_from(foot, "Draw the level of the eaves.").extent(-g.reach - BEYOND, g.reach + BEYOND)
        apex = d.lay_off(axis, foot, g.height, "V.front", "Measure the height up the axis: V.")
        d.also("V.top", centre, "plain")
        with d.as_one("Set square", "Carry the corners up to that level."):
            for k, spot in enumerate(corners, 1):
                kind = "found" if k == 1 else "plain"
                d.meet(d.upright_from(spot, role=Role.PROJECTOR), ground, f"B{k}.front", kind=kind)
    for k in range(1, g.sides + 1):
        d.in_space(f"B{k}", views.solid(d.spots[f"B{k}.front"].at, d.spots[f"B{k}.top"].at))
    d.in_space("V", views.solid(apex.at, d.spots["V.top"].at))
    return ground, foot, apex


def _common(
    g: Spire, d: Draft, views: Views, corners: list[Spot], plan: tuple[Spot, LineMark], ground: LineMark, apex: Spot
) -> tuple[Spot, Spot]:
    """Hip and common truly long in the elevation: the common swung level first. Its two ends there."""
    centre, level = plan
    with d.phase("Hip and common"):
        d.rule(d.spots["B1.front"], apex, "Join B1 to V: that hip runs level in the plan, so it is seen truly long.")
        with d.as_one("Dividers", "Halve the side B1 B2: there the common of its face begins."):
            middle = d.midpoint(corners[0], corners[1], "")
        unswung = d.choice(
            "apparent-common",
            right=False,
            slip=True,
            says="The common is carried up as the plan shows it, without being swung level.",
        )
        at = middle
        if not unswung:
            arc = d.compass(centre, d.opening(centre, middle), "Centre O, swing it level.", whole=False)
            at = d.meet(level, arc, where="right")
        up = d.upright_from(at, "Carry it up to the eaves: N.", Role.PROJECTOR)
        low = d.meet(up, ground, "N.front")
        d.rule(low, apex, "Join N to V: the common, truly long at its pitch.")
    return low, apex


def _face(g: Spire, d: Draft, views: Views, corners: list[Spot], centre: Spot, common: tuple[Spot, Spot]) -> None:
    """A face folded down about its eaves, away from the elevation, with its jacks."""
    below = views.top.origin[1] < views.front.origin[1]
    way = point(0.0, -1.0 if below else 1.0)
    middles = [(a.here + b.here) / 2 - centre.here for a, b in zip(corners, [*corners[1:], corners[0]])]
    k = max(range(g.sides), key=lambda j: (round(float(middles[j] @ way), 6), -j))
    one, other = corners[k], corners[(k + 1) % g.sides]
    with d.phase("A face folded down"), d.apart("pattern"):
        with d.as_one("Pencil", f"Take the face on {one.name} {other.name}: S and T are its ends."):
            s, t = d.also("S", one, "plain"), d.also("T", other, "plain")
        eaves = d.rule(s, t, "Draw its eaves.")
        with d.as_one("Dividers", "Halve them."):
            foot = d.midpoint(s, t, "")
        out = d.square_to(eaves, foot, "Draw square to them, outward.")
        away = 1.0 if float((foot.here - centre.here) @ left_of(nominal(eaves.u, 1))) > 0 else -1.0
        short = d.choice(
            "height-for-common",
            right=False,
            slip=True,
            says="The height is laid off on the face, instead of the common’s true length.",
        )
        taken: Opening | float = g.height if short else d.opening(*common)
        tip = (
            d.lay_off(out, foot, away * g.height, "W", "Lay off the true common: W.")
            if short
            else d.lay_off(out, foot, taken, "W", "Lay off the true common: W.", way=away)
        )
        hip = d.rule(s, tip, "Join S to W: the hip on the face.")
        d.rule(t, tip, "Join T to W.")
        for j in range(1, g.jacks + 1):
            with d.as_one(
                "Set square", f"At {mm(j * g.spacing)} from S draw jack {j} square to the eaves, up to the hip."
            ):
                begin = d.lay_off(eaves, s, j * g.spacing, f"E{j}", kind="found" if j == 1 else "plain")
                d.meet(d.square_to(eaves, begin), hip, f"J{j}", kind="found" if j == 1 else "plain")
    with d.phase("Line in"), d.as_one("Straightedge", "Line in the face."), d.apart("pattern"):
        d.line_in([s, tip, t])


def _dihedral(
    g: Spire, d: Draft, views: Views, corners: list[Spot], level: LineMark, ground: LineMark, apex: Spot
) -> None:
    """A section square to the hip at B1, through the neighbouring corners, folded into the plan."""
    with d.phase("Dihedral and backing"):
        across = d.rule(corners[1], corners[-1], f"Join B2 to B{g.sides}: level, and square to the hip at B1.")
        middle = d.meet(across, level, "M")
        up = d.upright_from(middle, "Carry M up to the eaves.", Role.PROJECTOR)
        low = d.meet(up, ground)
        hip = d.rule(d.spots["B1.front"], apex, "Take the hip in the elevation.")
        plumb = d.choice(
            "plumb-for-square", right=False, slip=True, says="The section is taken plumb and not square to the hip."
        )
        square = (
            d.upright_from(low, "From there draw square to it.")
            if plumb
            else d.square_to(hip, low, "From there draw square to it: how far the hip is from M, in the section.")
        )
        near = d.meet(square, hip)
        fold = d.opening(low, near)
        tip = d.lay_off(level, middle, fold, "D", "Lay that off from M along the hip’s plan: D, the hip on end.")
        with d.as_one("Straightedge", f"Join D to B2 and B{g.sides}: the angle of the faces, and the backing at B2."):
            for spot in (corners[1], corners[-1]):
                d.rule(tip, spot)
        with d.apart("pattern"):
            d.line_in([corners[1], tip, corners[-1]], says="Line it in.")


def _line_in(g: Spire, d: Draft, views: Views, corners: list[Spot], centre: Spot, foot: Spot, apex: Spot) -> None:
    fronts = [d.spots[f"B{k}.front"] for k in range(1, g.sides + 1)]
    with d.phase("Line in"):
        with d.as_one("Straightedge", "Line in the plan."):
            d.line_in(corners, closed=True)
            for spot in corners:
                d.line_in([spot, centre])
        xs, ys = g.base[:, 0], g.base[:, 1]
        west, east = int(np.argmin(np.round(xs, 9))), int(np.argmax(np.round(xs, 9)))
        near = 1e-6 * g.reach
        with d.as_one("Straightedge", "Line in the elevation."):
            d.line_in([fronts[west], fronts[east], apex], closed=True)
            seen = [
                k for k in range(g.sides) if ys[k] > near and min(abs(xs[k] - xs[west]), abs(xs[k] - xs[east])) > near
            ]
            for k in seen:
                d.line_in([fronts[k], apex])
        behind = [
            k
            for k in range(g.sides)
            if ys[k] < -near
            and min(abs(xs[k] - xs[west]), abs(xs[k] - xs[east])) > near
            and not any(abs(xs[j] - xs[k]) <= near for j in seen)
        ]
        if behind:
            with d.as_one("Straightedge", "Line in the hips at the back as hidden."):
                for k in behind:
                    d.line_in([fronts[k], apex], role=Role.HIDDEN)
