"""Two laminae that go through each other: the line in which they meet, and the angle between them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.givens import LONGEST_LENGTH
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, most_mm
from wise_compass.figures.space.cuts import Cut, Sheets, along_edges, chosen_cuts, level_families
from wise_compass.figures.space.edge_views import refuse_needle
from wise_compass.figures.space.given_points import SAME, GivenPoints
from wise_compass.figures.space.visible import SIGHT
from wise_compass.geometry.hidden import Screen, Span, within_triangle
from wise_compass.geometry.planes import Plane, cross3, dihedral_angle, distance_to_plane, meet_planes, plane_through
from wise_compass.geometry.vectors import Array, Number, cross, dot, length, unit

LAMINAE = ("ABC", "DEF")
FLATTEST = 0.1
"""Degrees between two planes that can be seen to meet."""


class TwoLaminae(GivenPoints, id="two-laminae", family="space", title="Two laminae"):
    keys = ("A", "B", "B.*", "C", "D", "E", "E.*", "F", "K.*", "P", "Q")
    brief = (
        "The lamina A {A} B {B} C {C} and the lamina D {D} E {E} F {F}: the line "
        "in which they meet, what hides what, and the "
        "angle between them, with {method}."
    )
    summary = "Two boards, plates or roof planes that meet: the line they share, and the bevel between them."
    stands = ("ABCA", "DEFD", "PQ")
    value_names = ("dihedral_acute", "dihedral_obtuse", "common_length", "visibility")
    ways = ("level-cuts", "cutting-planes")

    A = SpacePoint((8, 14, 52), "the corner A of the first lamina")
    B = SpacePoint((66, 61, 12), "the corner B of the first lamina")
    C = SpacePoint((92, 10, 40), "the corner C of the first lamina")
    D = SpacePoint((22, 50, 47), "the corner D of the second lamina; it may be a corner of the first")
    E = SpacePoint((88, 58, 55), "the corner E of the second lamina; it may be a corner of the first")
    F = SpacePoint((55, 4, 6), "the corner F of the second lamina; it may be a corner of the first")

    def refuse(self) -> None:
        for letters in LAMINAE:
            for one, other in zip(letters, letters[1:] + letters[0]):
                self.refuse_same(one, other)
            refuse_needle(self, letters, "lamina")
        if len(self.shared) == 3:
            raise Refused("F", "Both laminae have the same three corners: they are one. Move D, E or F.")
        angle = float(dihedral_angle(*self.planes))
        if angle < FLATTEST * (1 - SAME):
            off = abs(float(distance_to_plane(self.place("D"), self.planes[0])))
            what = "lie in one plane" if off <= self.same else f"are parallel planes, {mm(off)} apart"
            if angle > 1e-6:
                what = f"lean towards each other by no more than {angle:.6f}°"
            raise Refused(
                "F",
                f"ABC and DEF {what}: no line can be found in which they meet, under "
                f"{FLATTEST}°. Move F, or another corner.",
            )
        reach = max(float(np.abs(end).max()) for end in (*self.common, self.nearest))
        if reach > LONGEST_LENGTH:
            raise Refused(
                "F", f"ABC and DEF meet beyond {most_mm(LONGEST_LENGTH)}, so nearly parallel are they. Move F."
            )

    # the two of them in space

    def corners_of(self, letters: str) -> Array:
        """The corners of a lamina, (3, 3)."""
        return np.array([self.place(letter) for letter in letters])

    @cached_property
    def planes(self) -> tuple[Plane, Plane]:
        first, second = (plane_through(*self.corners_of(letters)) for letters in LAMINAE)
        return first, second

    @cached_property
    def shared(self) -> list[tuple[str, str]]:
        """Corners that both laminae have, by their letters in each."""
        pairs = [(p, q) for p in LAMINAE[0] for q in LAMINAE[1]]
        return [(p, q) for p, q in pairs if float(length(self.place(p) - self.place(q))) <= self.same]

    @cached_property
    def line(self) -> tuple[Array, Array]:
        """The line in which the planes meet: a point of it and its direction; through shared corners where there are
        any."""
        p, u = meet_planes(*self.planes)
        if len(self.shared) == 2:
            a, b = (self.place(one) for one, _ in self.shared)
            return a, unit(b - a)
        return (self.place(self.shared[0][0]) if self.shared else p), u

    @cached_property
    def nearest(self) -> Array:
        """The place of the line next to the middle of both laminae."""
        p, u = self.line
        middle = np.mean([self.place(letter) for letter in self.letters], axis=0)
        return np.asarray(p + u * float(dot(middle - p, u)))

    @cached_property
    def stretch(self) -> tuple[float, float] | None:
        """From where to where along the line both laminae reach; None where they do not reach each other."""
        p, u = self.line
        one, other = (within_triangle(p, u, self.corners_of(letters)) for letters in LAMINAE)
        if one is None or other is None:
            return None
        low, high = max(one[0], other[0]), min(one[1], other[1])
        return (low, high) if high - low > 2 * self.same else None

    @property
    def common(self) -> tuple[Array, Array]:
        """The ends of the part of the line that lies in both; the place between them twice where there is none."""
        p, u = self.line
        low, high = self.stretch or (0.0, 0.0)
        return p + u * low, p + u * high

    def sheets(self) -> Sheets:
        places = {letter: self.place(letter) for letter in self.letters}
        box = np.array(list(places.values()))
        size = float(length(box.max(axis=0) - box.min(axis=0))) / 2
        return Sheets(LAMINAE, places, self.same, size, {letter: tuple(at.tolist()) for letter, at in places.items()})

    @cached_property
    def level_cuts(self) -> tuple[Cut, ...]:
        """The cuts that find the line beside the corners that are shared."""
        sheets = self.sheets()
        return chosen_cuts(sheets, self.known, level_families(sheets))

    @cached_property
    def edge_cuts(self) -> tuple[Cut, ...]:
        sheets = self.sheets()
        return chosen_cuts(sheets, self.known, [along_edges(sheets)])

    @property
    def known(self) -> list[Array]:
        """Points of the line that are given."""
        return [self.place(one) for one, _ in self.shared]

    @cached_property
    def hidden(self) -> dict[str, dict[str, list[Span]]]:
        """What the other lamina hides of each edge in each view, as shares of the edge from its first letter."""
        pieces: dict[str, dict[str, list[Span]]] = {view: {} for view in SIGHT}
        for view, sight in SIGHT.items():
            for letters, others in (LAMINAE, LAMINAE[::-1]):
                screen = Screen(self.corners_of(others), sight, self.same)
                for edge in edges_of(letters):
                    pieces[view][edge] = screen.hides(*(self.place(letter) for letter in edge))
        return pieces

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        n, m = (plane.normal for plane in self.planes)
        acute = float(dihedral_angle(*self.planes))
        marks = ("P.front", "Q.front", "P.top", "Q.top")
        cosine = abs(float(dot(n, m)))
        yield Value("dihedral_acute", acute, "°", f"arccos({cosine:.9f}), of the normals of both planes", marks)
        yield Value("dihedral_obtuse", 180.0 - acute, "°", f"180 − {acute:.6f}", marks)
        a, b = self.common
        x, y, z = b - a
        working = f"√({bare(abs(x))}² + {bare(abs(y))}² + {bare(abs(z))}²), the part of the line that lies in both"
        yield Value("common_length", float(length(b - a)), "mm", working, marks)
        told = []
        for view in ("front", "top"):
            pieces = []
            for edge, spans in self.hidden[view].items():
                size = float(length(self.place(edge[1]) - self.place(edge[0])))
                pieces += [[edge, s * size, t * size] for s, t in spans]
            told.append(pieces)
        yield Value(
            "visibility", told, "mm", "hidden pieces in the front and the top view: edge, from, to, along the edge"
        )

    def measure(self, found: Found) -> dict[str, Number]:
        angle = self.read_angle(found)
        acute = np.minimum(angle, 180.0 - angle)
        gap = length(found["Q"] - found["P"]) if "Q" in found else 0.0 * angle
        return {"dihedral_acute": acute, "dihedral_obtuse": 180.0 - acute, "common_length": gap}

    @property
    def end_view(self) -> str:
        """The view that looks along the line."""
        u = np.abs(self.line[1])
        if max(float(u[0]), float(u[1])) <= SAME:
            return "top"
        if max(float(u[0]), float(u[2])) <= SAME:
            return "front"
        return "3" if min(float(u[1]), float(u[2])) <= SAME else "4"

    def read_angle(self, found: Found) -> Array:
        """The angle between the two edges in the view along the line, each to the corner furthest from it."""
        ways = []
        for letters in LAMINAE:
            far = self.furthest(letters)
            ways.append(unit(found[f"{far}.{self.end_view}"] - found[f"K.{self.end_view}"]))
        return np.asarray(np.rad2deg(np.arctan2(np.abs(cross(*ways)), dot(*ways))))

    def furthest(self, letters: str) -> str:
        """The corner of a lamina that stands furthest off the line."""
        return self.wings(letters)[0]

    def wings(self, letters: str) -> list[str]:
        """The corners that a lamina's edge runs between where it is seen along the line, the one furthest off first."""
        return self._wings[letters]

    @cached_property
    def _wings(self) -> dict[str, list[str]]:
        return {letters: self._wings_of(letters) for letters in LAMINAE}

    def _wings_of(self, letters: str) -> list[str]:
        p, u = self.line
        plane = self.planes[LAMINAE.index(letters)]
        off = {letter: float(dot(cross3(plane.normal, u), self.place(letter) - p)) for letter in letters}
        far = max(letters, key=lambda letter: abs(off[letter]))
        other = min(letters, key=lambda letter: off[letter] * np.sign(off[far]))
        return [far, other] if off[other] * off[far] < 0 and abs(off[other]) > 2 * self.same else [far]

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.point_truths(found)
        for name in ("P", "Q") if "Q" in found else ("K",):
            for letters, plane in zip(LAMINAE, self.planes):
                yield Truth(f"{name} lies in the plane {letters}", distance_to_plane(found[name], plane))
        if "Q" in found:
            for name, end in zip("PQ", self.common):
                yield Truth(f"{name} is an end of what lies in both", found[name] - end)
        acute = np.asarray(dihedral_angle(*self.planes))
        angle = self.read_angle(found)
        yield Truth("The end-on view shows the true angle", np.minimum(angle, 180.0 - angle) - acute, "°")


def edges_of(letters: str) -> Sequence[str]:
    """The edges of a lamina by their two letters."""
    return [letters[0] + letters[1], letters[1] + letters[2], letters[2] + letters[0]]
