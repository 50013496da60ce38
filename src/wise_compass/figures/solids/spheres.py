"""Spheres: cut by a plane, and three that lie in contact with one on top of them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, InViews, Solid
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Angular, Dimension, Radial, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, bare_area, least_mm, mm, most_mm, trim
from wise_compass.figures.pictorial.axes import turned_outward
from wise_compass.geometry.curves import ellipse_curve, moved
from wise_compass.geometry.vectors import Array, Number, cosd, distance, length, point, point3, sind

PLACES = 12
"""Places of the section's rim that are found."""
RINGS, AROUND = 12, 24
"""Of a ball in flat faces."""


def ball_faces(centre: Array, radius: float, axis: Array, last: float, closed: bool) -> list[Face]:
    """A ball in flat faces about a unit vector ``axis``, from its pole against that up to ``last`` along it; with the
    section there where it is ``closed``."""
    beside = np.array([axis[2], 0.0, -axis[0]]) if abs(axis[1]) < 0.9 else np.array([1.0, 0.0, 0.0])
    u = beside / float(length(beside))
    w = np.cross(axis, u)
    turns = np.deg2rad(evenly(360.0 / AROUND, AROUND))
    low, high = -np.pi / 2, float(np.arcsin(np.clip(last / radius, -1.0, 1.0)))
    rows = []
    for lean in np.linspace(low, high, RINGS + 1):
        out = radius * float(np.cos(lean))
        rows.append(
            centre
            + radius * float(np.sin(lean)) * axis
            + out * (np.cos(turns)[:, None] * u + np.sin(turns)[:, None] * w)
        )
    faces = [Face(np.array([a[k - 1], a[k], b[k], b[k - 1]]), 1) for a, b in zip(rows, rows[1:]) for k in range(AROUND)]
    return turned_outward([*faces, *([Face(rows[-1], 0, True)] if closed else [])])


class SphereCut(Curved, InViews, Solid, Figure, id="sphere-cut", family="solids", title="Sphere, cut"):
    keys = ("K*", "O.front", "O.top", "P*")
    brief = (
        "A sphere {diameter} in diameter, cut by a plane inclined at {cut_angle} "
        "that crosses its axis {cut_height} up, "
        "found with {method}."
    )
    summary = "A ball finial, a dome's ring: the circle of section in both views, and what stays."
    ways = ("level-cuts", "axes")
    value_names = (
        "centre_distance",
        "section_radius",
        "section_area",
        "section_centre",
        "top_long",
        "top_short",
        "chord_ends",
        "outline_points",
        "cap_height",
        "volume",
        "surface",
    )

    diameter = Length(84, "the diameter")
    cut_angle = Angle(35, "the angle of the plane to level, falling to the right", least=0, under=90)
    cut_height = Length(52, "how high over the ground it crosses the axis", least=-20000)

    def refuse(self) -> None:
        if abs(self.off) >= self.radius * (1 - 1e-9):
            reach = self.radius / float(cosd(self.cut_angle))
            low, high = self.radius - reach, self.radius + reach
            raise Refused(
                "cut_height",
                f"The plane passes {mm(abs(self.off))} from the centre and misses the "
                f"sphere, {mm(self.radius)} in radius. "
                f"Set cut_height between {least_mm(low)} and {most_mm(high)}.",
            )

    @property
    def radius(self) -> float:
        return self.diameter / 2

    @property
    def centre(self) -> Array:
        return point3(0.0, 0.0, self.radius)

    @property
    def off(self) -> float:
        """From the centre to the plane, less than 0 where it passes under it."""
        return (self.cut_height - self.radius) * float(cosd(self.cut_angle))

    @property
    def upward(self) -> Array:
        """The unit normal of the plane."""
        return point3(float(sind(self.cut_angle)), 0.0, float(cosd(self.cut_angle)))

    @property
    def down(self) -> Array:
        """The direction in the plane that falls most."""
        return point3(float(cosd(self.cut_angle)), 0.0, -float(sind(self.cut_angle)))

    @property
    def middle(self) -> Array:
        """The centre of the section."""
        return np.asarray(self.centre + self.off * self.upward)

    @property
    def rim(self) -> float:
        """The radius of the section."""
        return float(np.sqrt((self.radius - self.off) * (self.radius + self.off)))

    def place(self, turn: Number) -> Array:
        """The section's rim by the turn from its lowest place, anticlockwise from above, (…, 3)."""
        c, s = np.asarray(cosd(turn))[..., None], np.asarray(sind(turn))[..., None]
        return np.asarray(self.middle + self.rim * (c * self.down - s * point3(0.0, 1.0, 0.0)))

    @property
    def outline(self) -> tuple[Array, Array] | None:
        """Where the section crosses the level great circle, the front place first."""
        if self.cut_angle < 1e-9:
            return None
        x = (self.cut_height - self.radius) * float(cosd(self.cut_angle)) / float(sind(self.cut_angle))
        if abs(x) >= self.radius * (1 - 1e-12):
            return None
        y = float(np.sqrt((self.radius - x) * (self.radius + x)))
        return point3(x, y, self.radius), point3(x, -y, self.radius)

    def courses(self, method: str) -> Sequence[Course]:
        at = self.middle
        ellipse = ellipse_curve(point(self.rim * float(cosd(self.cut_angle)), 0.0), point(0.0, self.rim))
        names = tuple(f"P{k}.top" for k in range(PLACES))
        curve = moved(ellipse, np.eye(2), point(float(at[0]), 0.0))
        stations = evenly(360.0 / PLACES, PLACES)
        return (Course("the section in the plan", curve, stations, names, turn="turn round the section", afloat=True),)

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        r, d, rho, a = self.radius, abs(self.off), self.rim, trim(self.cut_angle)
        one, other = max(self.cut_height, r), min(self.cut_height, r)
        words = f"({bare(one)} − {bare(other)}) × cos {a}°"
        yield Value("centre_distance", d, "mm", words)
        yield Value("section_radius", rho, "mm", f"√({bare(r)}² − {bare(d)}²)", ("P0.front", f"P{PLACES // 2}.front"))
        yield Value("section_area", float(np.pi) * rho**2, "mm²", f"π × {bare(rho)}²")
        middle = [float(x) for x in self.middle]
        yield Value("section_centre", middle, "mm", "… the foot of the square line from the centre")
        yield Value("top_long", 2 * rho, "mm", f"2 × {bare(rho)}")
        yield Value("top_short", 2 * rho * float(cosd(self.cut_angle)), "mm", f"2 × {bare(rho)} × cos {a}°")
        ends = [[float(x) for x in self.place(turn)] for turn in (180.0, 0.0)]
        half = PLACES // 2
        words = "… the radius of the section from its centre along the plane"
        yield Value("chord_ends", ends, "mm", words, (f"P{half}.front", "P0.front"))
        told = [[float(x) for x in at] for at in self.outline] if self.outline else None
        words = "… where it crosses the level of the centre" if told else "it does not cross the level of the centre"
        yield Value("outline_points", told, "mm", words, ("K1.top", "K2.top") if told else ())
        cap = r + self.off
        sign = "+" if self.off >= 0 else "−"
        yield Value("cap_height", cap, "mm", f"{bare(r)} {sign} {bare(d)}")
        volume = float(np.pi) * cap**2 * (3 * r - cap) / 3
        yield Value("volume", volume, "mm³", f"π × {bare(cap)}² × (3 × {bare(r)} − {bare(cap)}) / 3")
        section = float(np.pi) * rho**2
        surface = 2 * float(np.pi) * r * cap + section
        yield Value("surface", surface, "mm²", f"2 × π × {bare(r)} × {bare(cap)} + {bare_area(section)}")

    def measure(self, found: Found) -> dict[str, Number]:
        half, quarter = PLACES // 2, PLACES // 4
        ends = np.stack(np.broadcast_arrays(found[f"P{half}"], found["P0"]), axis=-2)
        rim = distance(found[f"P{half}.front"], found["P0.front"]) / 2
        return {
            "section_radius": rim,
            "section_area": np.pi * rim**2,
            "section_centre": ends.mean(axis=-2),
            "top_long": distance(found[f"P{quarter}.top"], found[f"P{3 * quarter}.top"]),
            "top_short": distance(found[f"P{half}.top"], found["P0.top"]),
            "chord_ends": ends,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        at = found.group("P")
        yield Truth("Every place of the section lies on the sphere", length(at - self.centre) - self.radius)
        off = (at - point3(0.0, 0.0, self.cut_height)) @ self.upward
        yield Truth("And in the plane", off)
        yield Truth("They stand evenly round the section", at - self.place(evenly(360.0 / PLACES, PLACES)))
        if self.outline is not None:
            for name, want in zip(("K1", "K2"), self.outline):
                yield Truth(f"{name} lies on the sphere’s outline and in the plane", found[name] - want)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["O.top"], self.radius, "diameter", self.diameter, 220.0, diameter=True)
        ground = found["O.front"] - point(0.0, self.radius)
        axis = ground + point(0.0, self.cut_height)
        yield from told(
            [
                Angular(found["P0.front"], 180.0 - self.cut_angle, self.cut_angle, "cut_angle", self.cut_angle),
                upright(ground - point(self.radius, 0.0), axis, "cut_height", abs(self.cut_height)),
            ]
        )

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ball_faces(self.centre, self.radius, -self.upward, -self.off, True)
        return ball_faces(self.centre, self.radius, self.upward, self.off, True)


class SpheresInContact(InViews, Solid, Figure, id="spheres-in-contact", family="solids", title="Spheres in contact"):
    keys = ("C*", "T*")
    brief = (
        "Spheres {diameter_1}, {diameter_2} and {diameter_3} in diameter, in "
        "contact on the ground, with one of {top} on "
        "top of them, found with {method}."
    )
    summary = "Cannon balls: where three spheres and a fourth on top of them stand and touch."
    ways = ("mean-proportional",)
    value_names = ("centres", "contacts", "plan_12", "plan_23", "plan_31", "height")

    diameter_1 = Length(52, "the diameter of the first")
    diameter_2 = Length(44, "the diameter of the second, to the right of it")
    diameter_3 = Length(60, "the diameter of the third, in front of them")
    top = Length(36, "the diameter of the one on top, 0 for none", zero=True)

    @property
    def radii(self) -> list[float]:
        return [self.diameter_1 / 2, self.diameter_2 / 2, self.diameter_3 / 2]

    def plan(self, one: int, other: int) -> float:
        """How far two centres are apart in the plan: twice the mean proportional of their radii."""
        return 2 * float(np.sqrt(self.radii[one] * self.radii[other]))

    def refuse(self) -> None:
        order = sorted(range(3), key=lambda k: self.radii[k])
        small, (one, other) = order[0], order[1:]
        need = self._least_radius(one, other)
        if self.radii[small] <= need * (1 + 1e-9):
            raise Refused(
                f"diameter_{small + 1}",
                f"A sphere of {mm(2 * self.radii[small])} fits between the other two without touching both. Raise "
                f"diameter_{small + 1} over {least_mm(2 * need)}.",
            )
        if not self.top:
            return
        if self._apex is None or float(self._apex[2]) - self.top / 2 <= 1e-9 * self.top:
            raise Refused(
                "top",
                f"A sphere of {mm(self.top)} on top falls through between the three down to the ground. Raise top.",
            )
        flat = [at[:2] for at in self.below]
        inside = [
            float((b - a)[0] * (self._apex[:2] - a)[1] - (b - a)[1] * (self._apex[:2] - a)[0])
            for a, b in zip(flat, [*flat[1:], flat[0]])
        ]
        if min(inside) <= 1e-9 * self.top**2:
            raise Refused(
                "top",
                f"A sphere of {mm(self.top)} on top rolls off: its centre stands "
                "outside the triangle of the other three. "
                "Lower top, or make the three more alike.",
            )

    def _least_radius(self, one: int, other: int) -> float:
        """The radius of the sphere on the ground that just fits between two that touch (Descartes, in the plan)."""
        a, b = np.sqrt(self.radii[one]), np.sqrt(self.radii[other])
        return float((a * b / (a + b)) ** 2)

    @cached_property
    def below(self) -> list[Array]:
        """The centres of the three on the ground."""
        a, b, c = self.plan(0, 1), self.plan(0, 2), self.plan(1, 2)
        x = (a * a + b * b - c * c) / (2 * a)
        y = float(np.sqrt(max(b * b - x * x, 0.0)))
        places = [(0.0, 0.0), (a, 0.0), (x, y)]
        return [point3(x, y, r) for (x, y), r in zip(places, self.radii)]

    @cached_property
    def _apex(self) -> Array | None:
        """The centre of the one on top; None where none stands over all three."""
        sums = [self.top / 2 + r for r in self.radii]
        first = self.below[0]
        rows = np.array([2 * (at - first) for at in self.below[1:]])
        right = np.array(
            [sums[0] ** 2 - s**2 + float(at @ at) - float(first @ first) for s, at in zip(sums[1:], self.below[1:])]
        )
        way = np.cross(rows[0], rows[1])
        start = np.linalg.lstsq(rows, right, rcond=None)[0]
        # along the line in which both planes meet, as far from the first centre as the radii sum to
        off = start - first
        a, b, c = float(way @ way), 2 * float(way @ off), float(off @ off) - sums[0] ** 2
        root = b * b - 4 * a * c
        if root < 0:
            return None
        ends = [start + (-b + sign * float(np.sqrt(root))) / (2 * a) * way for sign in (1.0, -1.0)]
        return np.asarray(max(ends, key=lambda at: float(at[2])))

    @cached_property
    def centres(self) -> list[Array]:
        return [*self.below, *([self._apex] if self.top and self._apex is not None else [])]

    @property
    def all_radii(self) -> list[float]:
        return [*self.radii, *([self.top / 2] if self.top else [])]

    @property
    def pairs(self) -> list[tuple[int, int]]:
        return [(0, 1), (1, 2), (2, 0), *([(0, 3), (1, 3), (2, 3)] if self.top else [])]

    def values(self, method: str) -> Iterable[Value]:
        names = tuple(f"C{k + 1}.top" for k in range(len(self.centres)))
        told = [[float(x) for x in at] for at in self.centres]
        yield Value("centres", told, "mm", "… each as high as its radius; the top one by its summed radii", names)
        contacts = []
        for one, other in self.pairs:
            share = self.all_radii[one] / (self.all_radii[one] + self.all_radii[other])
            contacts.append([float(x) for x in self.centres[one] + share * (self.centres[other] - self.centres[one])])
        marks = tuple(f"T{k + 1}.top" for k in range(len(self.pairs)))
        yield Value("contacts", contacts, "mm", "… on the line of the centres, a radius from each", marks)
        for name, (one, other) in zip(("plan_12", "plan_23", "plan_31"), self.pairs):
            words = f"2 × √({bare(self.radii[one])} × {bare(self.radii[other])})"
            yield Value(name, self.plan(one, other), "mm", words, (f"C{one + 1}.top", f"C{other + 1}.top"))
        tops = [float(at[2]) + r for at, r in zip(self.centres, self.all_radii)]
        k = int(np.argmax(tops))
        words = f"{bare(float(self.centres[k][2]))} + {bare(self.all_radii[k])}"
        yield Value("height", max(tops), "mm", words)

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {}
        for name, (one, other) in zip(("plan_12", "plan_23", "plan_31"), self.pairs):
            out[name] = distance(found[f"C{one + 1}.top"], found[f"C{other + 1}.top"])
        out["centres"] = found.together([f"C{k + 1}" for k in range(len(self.centres))])
        out["contacts"] = found.together([f"T{k + 1}" for k in range(len(self.pairs))])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        for k, (one, other) in enumerate(self.pairs, 1):
            a, b = found[f"C{one + 1}"], found[f"C{other + 1}"]
            total = self.all_radii[one] + self.all_radii[other]
            yield Truth(
                f"Spheres {one + 1} and {other + 1} touch: their centres are the sum of their radii apart",
                length(b - a) - total,
            )
            yield Truth(f"T{k} lies on sphere {one + 1}", length(found[f"T{k}"] - a) - self.all_radii[one])
            yield Truth(f"And on sphere {other + 1}", length(found[f"T{k}"] - b) - self.all_radii[other])
        for k, r in enumerate(self.radii, 1):
            yield Truth(f"Sphere {k} lies on the ground", found[f"C{k}"][..., 2] - r)
        side = found["C3"][..., 1]
        yield Truth("The third lies in front", np.minimum(side, 0.0))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        for k, r in enumerate(self.radii, 1):
            yield Radial(found[f"C{k}.top"], r, f"diameter_{k}", 2 * r, 200.0 if k == 1 else -30.0, diameter=True)
        if self.top:
            yield Radial(found["C4.front"], self.top / 2, "top", self.top, 60.0, diameter=True)

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        up = point3(0.0, 0.0, 1.0)
        return [
            face._replace(round=k)
            for k, (at, r) in enumerate(zip(self.centres, self.all_radii), 1)
            for face in ball_faces(at, r, up, r * (1 - 1e-9), False)
        ]
