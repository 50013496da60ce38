"""Flat-sided shapes whose faces are laid flat one by one: an oblique pyramid, and a hopper by its true faces."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, ClassVar

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.dimensions import Dimension, edge_of, from_level, row
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.truths import Found, Value
from wise_compass.drafting.wording import bare, bare_area
from wise_compass.figures.solids.prisms import APART
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.figures.transitions.ducts import Duct
from wise_compass.figures.transitions.shapes import RectToRect, named
from wise_compass.figures.transitions.triangulation import Triangulation
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.solids import area_of, ring
from wise_compass.geometry.vectors import Array, Number, angle_between, cross, length, unit


class ObliquePyramid(Duct, id="oblique-pyramid", family="transitions", title="Oblique pyramid"):
    keys = ("B*", "O.front", "V")
    brief = opens = (
        "A pyramid on {sides} sides of {side}, its first corner turned {turn}, {height} high, its apex {apex_x} to the "
        "right and {apex_y} to the front of the middle"
    )
    summary = "A chute's end, a leaning finial: true slant edges in one diagram, the faces laid flat about the apex."
    ways: ClassVar[Sequence[str]] = ("radial-lines",)
    value_names: ClassVar[Sequence[str]] = (
        "slant_edges",
        "apex_angles",
        "face_angles",
        "face_areas",
        "lateral_area",
        "volume",
    )
    hazards: ClassVar[Sequence[str]] = (hazards.SHEET,)
    flat_sided = False

    sides = Count(5, "the number of sides", 3, 24)
    side = Length(32, "the side of the base")
    turn = Angle(
        10, "how far the first corner is turned from the right, anticlockwise from above", least=-360, most=360
    )
    height = Length(72, "the height")
    apex_x = Length(21, "how far the apex stands to the right of the middle", least=-2000, most=2000)
    apex_y = Length(14, "how far it stands to the front of the middle", least=-2000, most=2000)
    seam = Count(1, "the edge at which the pattern is opened", 1, 24)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        return f"{cls.opens}; the seam on edge {{seam}}. Draw {{show}}, with {{method}}."

    @property
    def offset_x(self) -> float:  # type: ignore[override]
        return self.apex_x

    @property
    def offset_y(self) -> float:  # type: ignore[override]
        return self.apex_y

    def refuse(self) -> None:
        refuse_seam(self.seam, 1, self.sides, "edge")

    @property
    def reach(self) -> float:
        return float(self.side / 2 / np.sin(np.pi / self.sides))

    @cached_property
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        return named("B", ring(self.reach, self.sides, self.turn), 1), {"V": self.top_middle}

    def is_round(self, rim: Mapping[str, Array]) -> bool:
        return False

    @cached_property
    def walk(self) -> list[str]:
        n, s = self.sides, self.seam - 1
        return [f"B{s + 1}", "V", *(f"B{(s + k) % n + 1}" for k in range(1, n + 1))]

    def pairs(self) -> dict[str, list[tuple[str, str]]]:
        return {"slant_edges": [("V", f"B{k}") for k in range(1, self.sides + 1)]}

    def _face(self, k: int) -> tuple[Array, Array, Array]:
        """Face ``k``, counted from 1: its corners, and the apex."""
        return self.places[f"B{k}"], self.places[f"B{k % self.sides + 1}"], self.top_middle

    def values(self, method: str) -> Iterable[Value]:
        yield from self.shape_values()

    def shape_values(self) -> Iterable[Value]:
        n = self.sides
        pairs = self.pairs()["slant_edges"]
        says = "… each by its triangle of plan length and height"
        yield Value("slant_edges", [self.gap(*pair) for pair in pairs], "mm", says, self.told_by(pairs))
        faces = [self._face(k) for k in range(1, n + 1)]
        yield Value("apex_angles", [float(angle_between(a - v, b - v)) for a, b, v in faces], "°", "… by three sides")
        leans = []
        for a, b, v in faces:
            u = unit((b - a)[:2])
            inside = float(cross(v[:2] - a[:2], u))  # depth runs to the front: inside lies to the right of a side
            leans.append(float(np.degrees(np.arctan2(self.height, inside))))
        yield Value("face_angles", leans, "°", "… arctan(height / how far inside the side the apex stands)")
        areas = [float(area_of(np.array(face))) for face in faces]
        yield Value("face_areas", areas, "mm²", "… by their three sides (Heron)")
        yield Value("lateral_area", sum(areas), "mm²", " + ".join(bare_area(area) for area in areas))
        base = n * self.side**2 / 4 / float(np.tan(np.pi / n))
        yield Value("volume", base * self.height / 3, "mm³", f"{bare_area(base)} × {bare(self.height)} / 3")

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        out["lateral_area"] = out.pop("pattern_area")
        if self.is_developed(found):
            angles, areas = [], []
            order = {one.names[0]: one.keys for one in self.triangles}
            for k in range(1, self.sides + 1):
                a, b, v = (found[key] for key in order[f"B{k}"])
                angles.append(angle_between(a - v, b - v))
                areas.append(np.abs(cross(b - a, v - a)) / 2)
            out["apex_angles"], out["face_areas"] = np.stack(angles, axis=-1), np.stack(areas, axis=-1)
        return out

    def own_dimensions(self, found: Found) -> Iterator[Dimension]:
        yield edge_of(row(found, "B", 1, self.sides, ".top"), "side", self.side)
        yield from_level(found["O.top"], self.turn, "turn")
        yield from self.offset_dimensions(found, ("apex_x", "apex_y"))


class _Pyramid(Triangulation):
    g: ObliquePyramid

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        g, d, key = self.g, self.d, self.views.top.key
        if letter == "T":
            with d.as_one("Pencil", "There stands the apex V."):
                d.also(key("V"), centre)
            return
        why = f"{bare(g.side)} / (2 sin(180° / {g.sides}))"
        circle = d.compass(centre, g.reach, "Centre O, draw the circle that the corners stand on.", why)
        ray = d.ray(centre, g.turn, "Draw the ray to the first corner.", length=g.reach)
        first = d.meet(ray, circle, key("B1"), near=self.views.top.at(g.places["B1"]))
        names = [key(f"B{k}") for k in range(2, g.sides + 1)]
        d.step_round(circle, first, g.side, names, says="Step the side round from there.")


@method(
    ObliquePyramid,
    "radial-lines",
    about="True lengths of the slant edges in one diagram; each face by its three sides, about the apex.",
    source="Development of a pyramidal surface: triangles of true lengths about one apex",
)
def oblique_pyramid(g: ObliquePyramid, d: Draft) -> None:
    _Pyramid(g, d).draw()


class Hopper(RectToRect, id="hopper", family="transitions", title="Hopper"):
    keys = ("B*", "O.front", "T*")
    brief = opens = "A hopper, its outlet {length} by {width} below, its mouth {top_length} by {top_width} above"
    summary = "A meal hopper with flat sides: true hips, their dihedral angles, every side's true shape."
    ways: ClassVar[Sequence[str]] = ("true-faces",)
    value_names: ClassVar[Sequence[str]] = (
        *("hip_lengths", "hip_dihedrals", "side_slopes", "side_areas"),
        *("base_angles", "lateral_area", "volume"),
    )

    turn = 0.0
    length = Length(42, "the length of the outlet below, to the right")
    width = Length(33, "the width of the outlet, to the front")
    top_length = Length(96, "the length of the mouth")
    top_width = Length(80, "the width of the mouth")
    height = Length(64, "the height")
    seam = Count(1, "the hip at which the pattern is opened", 1, 4)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        return super().sentence(givens, method).replace("edge {seam}", "hip {seam}")

    def _side(self, k: int) -> tuple[Array, Array, Array, Array]:
        """Side ``k``, counted from 1: its lower corners, then its upper ones back."""
        after = k % 4 + 1
        return self.places[f"B{k}"], self.places[f"B{after}"], self.places[f"T{after}"], self.places[f"T{k}"]

    def outward(self, k: int) -> float:
        """How far the top of side ``k`` stands out beyond its foot, in plan; less than 0 where it leans in."""
        a, b, _, top = self._side(k)
        return float(cross(unit((b - a)[:2]), (top - a)[:2]))

    def along(self, k: int) -> float:
        """How far along its foot the upper corner of side ``k`` at corner k stands from the lower one."""
        a, b, _, top = self._side(k)
        return float((top - a)[:2] @ unit((b - a)[:2]))

    def slant(self, k: int) -> float:
        """The height of side ``k`` on its slope."""
        return float(np.hypot(self.height, self.outward(k)))

    def values(self, method: str) -> Iterable[Value]:
        yield from self.shape_values()

    def shape_values(self) -> Iterable[Value]:
        hips = [(f"T{k}", f"B{k}") for k in range(1, 5)]
        says = "… each by its triangle of plan length and height"
        yield Value("hip_lengths", [self.gap(*hip) for hip in hips], "mm", says, self.told_by(hips))
        normals = []
        for k in range(1, 5):
            a, b, _, top = self._side(k)
            normals.append(cross3(b - a, top - a))
        dihedrals = [180.0 - float(angle_between(normals[k - 2], normals[k - 1])) for k in range(1, 5)]
        yield Value("hip_dihedrals", dihedrals, "°", "… 180° less the angle of the normals of sides k − 1 and k")
        slopes = [float(np.degrees(np.arctan2(self.height, self.outward(k)))) for k in range(1, 5)]
        told = ", ".join(f"arctan({bare(self.height)} / {bare(self.outward(k))})" for k in (1, 2))
        yield Value("side_slopes", slopes, "°", f"{told} …")
        areas = [self._area(k) for k in range(1, 5)]
        yield Value("side_areas", areas, "mm²", "… each half of foot and upper edge together × its slant height")
        angles = []
        for k in range(1, 5):
            a, b, far, top = self._side(k)
            angles.append([float(angle_between(b - a, top - a)), float(angle_between(a - b, far - b))])
        yield Value("base_angles", angles, "°", "… of side k at its lower corners k and k + 1")
        yield Value("lateral_area", sum(areas), "mm²", " + ".join(bare_area(area) for area in areas))
        low, high = self.length * self.width, self.top_length * self.top_width
        middle = (self.length + self.top_length) * (self.width + self.top_width) / 4
        words = f"{bare(self.height)} / 6 × ({bare_area(low)} + 4 × {bare_area(middle)} + {bare_area(high)})"
        yield Value("volume", self.height / 6 * (low + 4 * middle + high), "mm³", words)

    def _area(self, k: int) -> float:
        a, b, far, top = self._side(k)
        return float(length(b - a) + length(far - top)) / 2 * self.slant(k)

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        out["lateral_area"] = out.pop("pattern_area")
        out["hip_lengths"] = out.pop("edges")
        out.pop("diagonals")
        return out

    def cautions(self) -> Iterable[str]:
        yield from super().cautions()
        yield (
            "A full hopper is heavy, and what runs in it buries people: hanging "
            "and access are for a qualified engineer."
        )


class _Hopper(Triangulation):
    """The hopper's views, hips and slant heights in one diagram, and its sides one after the other."""

    g: Hopper

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        g = self.g
        long, wide, words = (
            (g.length, g.width, "outlet’s sides") if letter == "B" else (g.top_length, g.top_width, "mouth’s sides")
        )
        self.rectangle([f"{letter}{k}" for k in range(1, 5)], centre, (across, along), long, wide, words)

    def true_lengths(self) -> None:
        """Hips and slant heights: the height upright, their plan lengths level."""
        g, d = self.g, self.d
        self.hips: dict[int, tuple[Spot, Spot]] = {}
        self.slants: dict[int, tuple[Spot, Spot]] = {}
        with d.move("The true-length diagram"):
            with d.as_one("Set square", "Beside the views draw an upright on the ground line, up to the top level."):
                left = min(float(spot.here[0]) for spot in d.spots.values())
                base = d.on(self.ground, left - APART - float(self.foot.here[0]), "L")
                tip = d.meet(d.upright_from(base), self.over, "U")
                self.left = float(base.here[0])
            for k in range(1, 5):
                low, high = d.spots[f"B{k}.top"], d.spots[f"T{k}.top"]
                spot = base
                if g.plan_gap(f"B{k}", f"T{k}") > 1e-9 * g.height:
                    says = f"Lay off the plan length of hip {k} from L, along the ground."
                    spot = d.lay_off(self.ground, base, d.opening(low, high), "", says, kind="plain", way=-1)
                self.hips[k] = (tip, spot)
                foot = base
                if abs(g.outward(k)) > 1e-9 * g.height:
                    says = f"And how far side {k} leans out or in, as the plan shows it."
                    taken = d.opening_along(low, high, level=k % 2 == 0)
                    sign = 1.0 if taken.nominal > 0 else -1.0
                    foot = d.lay_off(self.ground, base, taken, "", says, kind="plain", way=-sign)
                self.slants[k] = (tip, foot)
                self.left = min(self.left, float(spot.here[0]), float(foot.here[0]))
            with d.as_one("Straightedge", "Join them to U: hips and slant heights, truly long."):
                for one, other in dict.fromkeys((*self.hips.values(), *self.slants.values())):
                    if other is not base:
                        d.rule(one, other)

    def pattern(self) -> None:
        g, d = self.g, self.d
        plan = d.choice("plan-for-hip", right=False, slip=True, says="A hip’s plan is taken for its true length.")
        flat = self._lies()
        at = np.array(list(flat.values()))
        x = self.left - APART - float(at[:, 0].max())
        y = float(self.foot.here[1]) + g.height - float(at[:, 1].max())
        start = d.start_at("Q0", x, y, "Mark Q0, the foot of the seam, where the pattern has room.")
        way = flat["P0"] - flat["Q0"]
        turn = 15.0 * round(float(np.degrees(np.arctan2(way[1], way[0]))) / 15.0)
        ray = d.ray(start, turn, "From it draw the line of the seam, at any handy angle.")
        hip = self._hip(g.seam, plan)
        spots = {"Q0": start, "P0": d.lay_off(ray, start, hip, "P0", f"Lay off the true length of hip {g.seam}.")}
        for j in range(4):
            k = (g.seam - 1 + j) % 4 + 1
            with d.move(f"Side {k}, B{k} B{k % 4 + 1} T{k % 4 + 1} T{k}"):
                self._true_face(k, j, spots, flat)
        self.line_in_pattern(spots)

    def _hip(self, k: int, plan: bool) -> Any:
        if plan:
            return self.d.opening(self.d.spots[f"B{k}.top"], self.d.spots[f"T{k}.top"])
        return self.d.opening(*self.hips[k])

    def _true_face(self, k: int, j: int, spots: dict[str, Spot], flat: dict[str, Array]) -> None:
        """A side on the hip before it: its foot touches the arc of its slant height about that hip's upper end."""
        g, d = self.g, self.d
        low, high = spots[f"Q{j}"], spots[f"P{j}"]
        after = k % 4 + 1
        corner, mate = d.spots[f"B{k}.top"], d.spots[f"T{k}.top"]
        u, shift = flat[f"Q{j + 1}"] - flat[f"Q{j}"], low.here - flat[f"Q{j}"]
        want = flat[f"Q{j}"] + g.along(k) * unit(u) + shift
        arc = d.compass(
            high,
            d.opening(*self.slants[k]),
            f"Centre {high.name}, an arc with the slant height of side {k}.",
            whole=False,
        )
        taken = d.opening_along(corner, mate, level=k % 2 == 1)
        if abs(taken.nominal) < 1e-9 * g.height:
            foot_line = d.square_to(
                d.rule(low, high),
                low,
                f"Upper corner and lower stand square over each other: at {low.name} draw square to the hip.",
            )
        else:
            taken.value = np.abs(taken.value)
            says = f"Centre {low.name}, an arc with how far along the side its upper corner stands, from the plan."
            near = d.compass(low, taken, says, whole=False)
            touch = d.meet(arc, near, near=want)
            foot_line = d.rule(low, touch, "Draw the foot of the side through there.")
        ahead = 1.0 if float(np.asarray(foot_line.u).reshape(-1, 2)[0] @ u) > 0 else -1.0
        says = f"Along it lay off the side’s length below, B{k} B{after} in the plan."
        width = d.opening(corner, d.spots[f"B{after}.top"])
        spots[f"Q{j + 1}"] = d.lay_off(foot_line, low, width, f"Q{j + 1}", says, way=ahead)
        upper = d.parallel_to(foot_line, high, f"Through {high.name} draw parallel to it.")
        width = d.opening(mate, d.spots[f"T{after}.top"])
        says = f"Lay off the side’s length above, T{k} T{after} in the plan."
        spots[f"P{j + 1}"] = d.lay_off(upper, high, width, f"P{j + 1}", says, way=ahead)


@method(
    Hopper,
    "true-faces",
    about="Hips and slant heights in one diagram; every side by its slant height and its two lengths, hip by hip.",
    source="True shapes by rotation about a level line (Monge); sheet-metal workers’ practice",
)
def hopper_faces(g: Hopper, d: Draft) -> None:
    _Hopper(g, d).draw()
