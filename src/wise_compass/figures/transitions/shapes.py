"""Rectangle to round, rectangle to rectangle, round to round."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from itertools import groupby
from typing import ClassVar

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Radial, from_level
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Value
from wise_compass.drafting.wording import bare, least_mm, mm, trim
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.figures.transitions.ducts import SHOWN, Duct
from wise_compass.figures.transitions.triangulation import Triangulation
from wise_compass.geometry.curves import Curve, moved
from wise_compass.geometry.solids import ring
from wise_compass.geometry.unrolled import Rim, about_apex, along_elements, joined
from wise_compass.geometry.vectors import Array, cosd, distance, left_of, length, multiples, point, sind, unit

ALIKE = 1e-9
"""Two circles whose widths differ by less, as a part of them, are as wide."""
FLATTEST = 4000.0
"""How many times a duct's height its sides may be."""
HEIGHT_SAYS = "each by its triangle of plan length and height"


def rectangle(long: float, wide: float, turn: float = 0.0, height: float = 0.0) -> Array:
    """The corners (4, 3) of a level rectangle about the axis, from the back right one on, anticlockwise as seen from
    above."""
    x, y = np.array([1, -1, -1, 1]) * long / 2, np.array([-1, -1, 1, 1]) * wide / 2
    c, s = float(cosd(turn)), float(sind(turn))
    return np.stack([c * x + s * y, -s * x + c * y, np.full(4, height)], axis=-1)


def named(letter: str, at: Array, first: int = 0) -> dict[str, Array]:
    return {f"{letter}{first + k}": place for k, place in enumerate(at)}


class RectToRound(Curved, Duct, id="rect-to-round", family="transitions", title="Rectangle to round"):
    keys = ("B*", "M", "O.front", "T*")
    brief = opens = (
        "A transition from a rectangle {length} by {width} below to a circle "
        "{diameter} wide above, in {divisions} divisions"
    )
    summary = (
        "A hopper's mouth to a pipe, a flue's foot: true lengths in one diagram, and the pattern triangle by triangle."
    )
    value_names = ("lengths_1", "lengths_2", "lengths_3", "lengths_4", "chord", "pattern_area")
    seam_called = "division"
    flat_sided = True
    across = ("length", "width", "diameter")

    length = Length(90, "the length of the bottom, to the right")
    width = Length(66, "the width of the bottom, to the front")
    diameter = Length(50, "the diameter of the top")
    height = Length(58, "the height")
    divisions = Count(12, "the divisions round the top", 8, 72, multiple=4)
    seam = Count(
        0, "the division at which the pattern is opened; 0 opens it in the middle of the flat side at the right", 0, 71
    )
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    def refuse(self) -> None:
        refuse_seam(self.seam, 0, self.divisions - 1, "division")

    @cached_property
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        bottom = named("B", rectangle(self.length, self.width), 1)
        if self.seam == 0:
            bottom["M"] = np.array([self.length / 2, self.split, 0.0])
        return bottom, named("T", ring(self.diameter / 2, self.divisions) + self.top_middle)

    @property
    def split(self) -> float:
        """How far in front of the middle the seam meets the right side: square below division 0, where that is on the
        side."""
        return self.offset_y if abs(self.offset_y) < self.width / 2 * (1 - 1e-9) else 0.0

    @cached_property
    def walk(self) -> list[str]:
        n, part = self.divisions, self.divisions // 4
        added: list[str] = []  # after corner 1 and division 0
        for corner in range(4):
            added += [f"T{k % n}" for k in range(corner * part + 1, (corner + 1) * part + 1)]
            added.append(f"B{(corner + 1) % 4 + 1}")
        if self.seam == 0:
            return ["M", "T0", "B1", *added[:-1], "M"]
        place = added.index(f"T{self.seam}")
        low = next((name for name in added[place::-1] if name[0] == "B"), "B1")
        return [low, *added[place:], *added[: place + 1]]

    @cached_property
    def smooth(self) -> frozenset[str]:
        n, part = self.divisions, self.divisions // 4
        return frozenset(
            f"B{corner + 1} T{k % n}" for corner in range(4) for k in range(corner * part + 1, (corner + 1) * part)
        )

    @property
    def chord(self) -> float:
        return float(self.diameter * np.sin(np.pi / self.divisions))

    @property
    def top_rim(self) -> Rim:
        """The circle of the top."""
        return Rim(self.top_middle, self.diameter / 2)

    def courses(self, method: str) -> Sequence[Course]:
        """The top's edge as the skin unrolls it: cones about the corners, one after the other, flat sides between."""
        if not self.wants_pattern:
            return ()
        part, rim = 360.0 / self.divisions, self.top_rim
        low, high = np.zeros(2), point(0.0, self.gap(*self.walk[:2]))
        t, pieces = part * self.seam, list[Curve]()
        for upper, group in groupby(self.triangles, key=lambda one: one.upper):
            triangles = list(group)
            if upper:
                end = t + part * len(triangles)
                own, ray = about_apex(rim, self.places[triangles[0].names[0]], t, end, -1), unit(high - low)
                pieces.append(moved(own, np.stack([ray, left_of(ray)], axis=1), low))
                high, t = pieces[-1].at(end), end
                continue
            for one in triangles:
                a, b, c = self.gap(*one.names[:2]), self.gap(*one.names[1:]), float(distance(low, high))
                u, along = unit(high - low), (a * a - b * b + c * c) / (2 * c)
                low = low + along * u - float(np.sqrt(max(a * a - along * along, 0.0))) * left_of(u)
        stations = part * self.seam + multiples(part, self.divisions + 1)
        names = tuple(f"P{k}" for k in range(self.divisions + 1))
        says = "the top’s edge in the pattern"
        return (Course(says, joined(pieces), stations, names, turn="angle round the top", afloat=True, on_it=False),)

    def pairs(self) -> dict[str, list[tuple[str, str]]]:
        n, part = self.divisions, self.divisions // 4
        return {
            f"lengths_{corner + 1}": [
                (f"B{corner + 1}", f"T{k % n}") for k in range(corner * part, (corner + 1) * part + 1)
            ]
            for corner in range(4)
        }

    def shape_values(self) -> Iterable[Value]:
        n, part = self.divisions, self.divisions // 4
        for corner, (name, pairs) in enumerate(self.pairs().items()):
            says = f"from corner {corner + 1} to divisions {corner * part} … {(corner + 1) * part % n}, {HEIGHT_SAYS}"
            yield Value(name, [self.gap(*pair) for pair in pairs], "mm", says, self.told_by(pairs))
        yield Value("chord", self.chord, "mm", f"{bare(self.diameter)} × sin(180° / {self.divisions})", ("T0", "T1"))

    def own_dimensions(self, found: Found) -> Iterator[Dimension]:
        yield from self.below(found, ("length", "width"))
        yield from self.offset_dimensions(found, ("offset_x", "offset_y"))
        yield from self.round_top(found, "diameter")


class RectToRect(Duct, id="rect-to-rect", family="transitions", title="Rectangle to rectangle"):
    keys = ("B*", "O.front", "T*")
    brief = opens = (
        "A transition from a rectangle {length} by {width} below to one "
        "{top_length} by {top_width} above, turned {turn}"
    )
    summary = "A grain hopper, a chute's mouth: true lengths in one diagram, and the pattern triangle by triangle."
    value_names: ClassVar[Sequence[str]] = ("edges", "diagonals", "pattern_area")
    flat_sided = True
    across = ("length", "width", "top_length", "top_width")

    length = Length(90, "the length of the bottom, to the right")
    width = Length(70, "the width of the bottom, to the front")
    top_length = Length(50, "the length of the top")
    top_width = Length(40, "the width of the top")
    height = Length(60, "the height")
    turn = Angle(0, "how far the top is turned, anticlockwise from above", least=0, under=90)
    seam = Count(
        1, "the edge at which the pattern is opened; 0 opens it in the middle of the flat side at the right", 0, 4
    )
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    def refuse(self) -> None:
        if self.seam == 0 and self.turn:
            raise Refused(
                "seam",
                f"The top is turned by {trim(self.turn)}°, so no side is flat, and a seam in the middle of one would "
                "not be straight. Set turn to 0, or open it at an edge: seam from 1 to 4.",
            )
        largest = max(self.length, self.width, self.top_length, self.top_width)
        if self.height < largest / FLATTEST:
            raise Refused(
                "height",
                f"The height is {mm(self.height)} to a side of {mm(largest)}: all but flat, so that its folds are not "
                f"to be told. Raise height to {least_mm(largest / FLATTEST)} or more.",
            )

    @cached_property
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        bottom = named("B", rectangle(self.length, self.width), 1)
        top = named("T", rectangle(self.top_length, self.top_width, self.turn) + self.top_middle, 1)
        if self.seam == 0:
            bottom["M"] = np.array([self.length / 2, self.split, 0.0])
            top["N"] = (top["T4"] + top["T1"]) / 2
        return bottom, top

    @property
    def split(self) -> float:
        """How far in front of the middle the seam meets the bottom's right side: straight below the middle of the top's
        where that is on it, so that both halves are right-angled."""
        return self.offset_y if abs(self.offset_y) < self.width / 2 * (1 - 1e-9) else 0.0

    @cached_property
    def walk(self) -> list[str]:
        if self.seam == 0:
            return ["M", "N", *(f"{letter}{k}" for k in range(1, 5) for letter in "BT"), "M", "N"]
        start = self.seam - 1
        found = [f"B{start + 1}", f"T{start + 1}"]
        for k in range(1, 5):
            number = (start + k) % 4 + 1
            found += [f"B{number}", f"T{number}"]
        return found

    @cached_property
    def smooth(self) -> frozenset[str]:
        """The diagonals of sides that are flat."""
        folds = self.flat_folds()
        flat = {f"{one.names[0]} {one.names[2]}" for one, fold in zip(self.triangles, folds) if fold == 0.0}
        diagonals = {f"B{(k + 1) % 4 + 1} T{k + 1}" for k in range(4)} | {"B1 N", "M T4"}
        split = {"B1 T4"} if self.seam == 0 else set()  # the side that the seam parts, whole in the views
        return frozenset(flat & diagonals | split)

    @property
    def twists(self) -> list[tuple[str, float]]:
        diagonals = {f"B{(k + 1) % 4 + 1} T{k + 1}": k for k in range(4)}
        found = []
        for one, fold in zip(self.triangles, self.flat_folds()):
            k = diagonals.get(f"{one.names[0]} {one.names[2]}")
            if fold and k is not None:
                after = (k + 1) % 4 + 1
                found.append((f"B{k + 1} B{after} T{after} T{k + 1}", abs(fold)))
        return found

    def pairs(self) -> dict[str, list[tuple[str, str]]]:
        return {
            "edges": [(f"T{k}", f"B{k}") for k in range(1, 5)],
            "diagonals": [(f"T{k}", f"B{k % 4 + 1}") for k in range(1, 5)],
        }

    def shape_values(self) -> Iterable[Value]:
        for (name, pairs), words in zip(self.pairs().items(), ("T1 B1 to T4 B4", "T1 B2 to T4 B1")):
            yield Value(name, [self.gap(*pair) for pair in pairs], "mm", f"{words}, {HEIGHT_SAYS}", self.told_by(pairs))

    def own_dimensions(self, found: Found) -> Iterator[Dimension]:
        yield from self.below(found, ("length", "width"))
        yield from self.above(found, ("top_length", "top_width"))
        yield from self.offset_dimensions(found, ("offset_x", "offset_y"))
        yield from_level(
            found["O.top"] + point(self.offset_x, -self.offset_y), self.given_values.get("turn", 0.0), "turn"
        )


class RoundToRound(Curved, Duct, id="round-to-round", family="transitions", title="Round to round"):
    keys = ("B*", "O.front", "T*")
    brief = opens = "A transition from a circle {bottom} wide below to one {top} wide above, in {divisions} divisions"
    summary = (
        "A reducer off its centre, a dust pipe's step: true lengths in one "
        "diagram, and the pattern triangle by triangle."
    )
    value_names = ("elements", "diagonals", "chord_bottom", "chord_top", "pattern_area")
    seam_called = "division"
    across = ("bottom", "top")

    bottom = Length(80, "the diameter below")
    top = Length(52, "the diameter above")
    height = Length(60, "the height")
    offset_x = Length(
        16, "how far the middle of the top stands to the right of that of the bottom", least=-2000, most=2000
    )
    offset_y = Length(
        14, "how far the middle of the top stands to the front of that of the bottom", least=-2000, most=2000
    )
    divisions = Count(12, "the divisions round both", 8, 72, multiple=4)
    seam = Count(0, "the division at which the pattern is opened", 0, 71)
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    def refuse(self) -> None:
        refuse_seam(self.seam, 0, self.divisions - 1, "division")

    @cached_property
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        n = self.divisions
        return named("B", ring(self.bottom / 2, n)), named("T", ring(self.top / 2, n) + self.top_middle)

    @cached_property
    def walk(self) -> list[str]:
        n, found = self.divisions, [f"B{self.seam}", f"T{self.seam}"]
        for k in range(1, n + 1):
            number = (self.seam + k) % n
            found += [f"T{number}", f"B{number}"]
        return found

    @cached_property
    def smooth(self) -> frozenset[str]:
        return frozenset(f"{low} {high}" for low, high in self.slants)

    def courses(self, method: str) -> Sequence[Course]:
        """Both edges as the skin unrolls them: all elements of two level circles meet in one apex, or run parallel."""
        if not self.wants_pattern:
            return ()
        first = 360.0 / self.divisions * self.seam
        bottom, top = Rim(np.zeros(3), self.bottom / 2), Rim(self.top_middle, self.top / 2)
        if abs(self.bottom - self.top) <= ALIKE * self.bottom:
            way = self.top_middle / float(length(self.top_middle))
            curves = [along_elements(rim, way, first, first + 360.0) for rim in (bottom, top)]
        else:
            apex = self.top_middle * self.bottom / (self.bottom - self.top)
            curves = [about_apex(rim, apex, first, first + 360.0) for rim in (bottom, top)]
        return self.edge_courses(curves, first)

    def edge_courses(self, curves: Sequence[Curve], first: float) -> Sequence[Course]:
        """Both edges of the pattern, from the place round the duct at which it is opened."""
        n = self.divisions
        stations = first + multiples(360.0 / n, n + 1)
        return tuple(
            Course(
                f"the {words}’s edge in the pattern",
                curve,
                stations,
                tuple(f"{letter}{k}" for k in range(n + 1)),
                turn=f"angle round the {words}",
                afloat=True,
                on_it=False,
            )
            for curve, words, letter in zip(curves, ("bottom", "top"), "QP")
        )

    def pairs(self) -> dict[str, list[tuple[str, str]]]:
        n = self.divisions
        return {
            "elements": [(f"B{k}", f"T{k}") for k in range(n)],
            "diagonals": [(f"B{k}", f"T{(k + 1) % n}") for k in range(n)],
        }

    def shape_values(self) -> Iterable[Value]:
        for (name, pairs), words in zip(self.pairs().items(), ("bottom k to top k", "bottom k to top k + 1")):
            yield Value(name, [self.gap(*pair) for pair in pairs], "mm", f"{words}, {HEIGHT_SAYS}", self.told_by(pairs))
        part = f"sin(180° / {self.divisions})"
        for name, wide, letter in (("chord_bottom", self.bottom, "B"), ("chord_top", self.top, "T")):
            chord = float(wide * np.sin(np.pi / self.divisions))
            yield Value(name, chord, "mm", f"{bare(wide)} × {part}", (f"{letter}0", f"{letter}1"))

    def own_dimensions(self, found: Found) -> Iterator[Dimension]:
        yield Radial(found["O.top"], self.bottom / 2, "bottom", self.bottom, 225.0, diameter=True)
        yield from self.offset_dimensions(found, ("offset_x", "offset_y"))
        yield from self.round_top(found, "top")


SOURCE = "Development by triangulation: three sides fix a triangle (Euclid I.22)"
ABOUT = "True lengths in one diagram; the pattern triangle by triangle from the seam, each new point by two arcs."


class _RectToRound(Triangulation):
    g: RectToRound

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        g = self.g
        if letter == "B":
            self.rectangle([f"B{k}" for k in range(1, 5)], centre, (across, along), g.length, g.width, "bottom’s sides")
            return
        self.circle(list(g.rims[1]), centre, g.diameter / 2, "top")
        if g.seam == 0:
            self.split_side(across if g.split == g.offset_y else None)


class _RectToRect(Triangulation):
    g: RectToRect

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        g, d = self.g, self.d
        if letter == "B":
            self.rectangle([f"B{k}" for k in range(1, 5)], centre, (across, along), g.length, g.width, "bottom’s sides")
            return
        if g.turn:
            across = d.ray(centre, g.turn, "Draw the top’s axis at its turn.", role=Role.CENTRE)
            along = d.square_to(across, centre, "Square to it draw the other.", role=Role.CENTRE)
        self.rectangle(
            [f"T{k}" for k in range(1, 5)], centre, (across, along), g.top_length, g.top_width, "top’s sides"
        )
        if g.seam == 0:
            self.split_side(across if g.split == g.offset_y else None)
            self.split_top()


class _RoundToRound(Triangulation):
    g: RoundToRound

    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        rim, wide, words = (
            (self.g.rims[0], self.g.bottom, "bottom") if letter == "B" else (self.g.rims[1], self.g.top, "top")
        )
        self.circle(list(rim), centre, wide / 2, words)


@method(RectToRound, "triangulation", about=ABOUT, source=SOURCE)
def rect_to_round(g: RectToRound, d: Draft) -> None:
    _RectToRound(g, d).draw()


@method(RectToRect, "triangulation", about=ABOUT, source=SOURCE)
def rect_to_rect(g: RectToRect, d: Draft) -> None:
    _RectToRect(g, d).draw()


@method(RoundToRound, "triangulation", about=ABOUT, source=SOURCE)
def round_to_round(g: RoundToRound, d: Draft) -> None:
    _RoundToRound(g, d).draw()
