"""Involutes: the end of a string unwound from a circle or a polygon."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.capabilities import Curved, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Linear, Radial, from_level
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Choice, Count, Length, Real
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import parts_of_turns
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, many, trim
from wise_compass.figures.curves.touching import WORDS, Touching
from wise_compass.figures.plane.lines import base_line
from wise_compass.figures.plane.polygons import CORNERS
from wise_compass.geometry.curves import Curve, arcs_curve, involute_curve
from wise_compass.geometry.polygons import regular_corners
from wise_compass.geometry.vectors import Array, Number, angle_of, cross, distance, dot, point, polar, sind

ORIGIN = point(0.0, 0.0)


class InvoluteCircle(Curved, Moving, Touching, id="involute-circle", family="rolling", title="Involute of a circle"):
    keys = ("O", "P*")
    brief = (
        "The involute of a circle of {diameter} unwound {turns} turns, found with {method} in {divisions} divisions."
    )
    summary = "The end of a string unwound from a circle: the flank of a gear tooth, a pump's cam."
    ways = ("divided-circle", "instant-centres")
    value_names = ("string_length", "arc_length", "end_radius")

    diameter = Length(28, "the diameter of the circle")
    turns = Real(1, "the number of turns", least=0.25, most=4)
    divisions = Count(12, "the divisions of a turn", 8, 72, multiple=4)
    touch = Choice("tangent", "what touches it at a point", tuple(WORDS), WORDS)
    at = Angle(210, "the unwound angle of the point of touch", least=1, most=1440)

    @property
    def spaces(self) -> int:
        return round(self.turns * self.divisions)

    @property
    def whole_turns(self) -> float:
        return self.spaces / self.divisions

    def refuse(self) -> None:
        parts_of_turns(self.turns, self.divisions, "divisions of a turn")
        super().refuse()

    @cached_property
    def touched(self) -> Curve:
        return involute_curve(self.diameter / 2, 360.0 * self.whole_turns)

    def courses(self, method: str) -> Sequence[Course]:
        stations = evenly(360.0 / self.divisions, self.spaces + 1)
        names = tuple(f"P{k}" for k in range(self.spaces + 1))
        marks = ((0.0, "where it leaves the circle"), (360.0 * self.whole_turns, "its end"))
        return (
            Course("the involute", self.touched, stations, names, landmarks=marks, turn="unwound angle", pole=ORIGIN),
        )

    def mechanism(self, found: Found, t: float) -> Frame:
        """The string, from where it leaves the circle to its end."""
        contact, end = polar(ORIGIN, self.diameter / 2, t), self.touched.at(t)
        return Frame((np.array([contact, end]),), (), (contact, end))

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        centre, r, name = d.spots["O"], self.diameter / 2, self.letter
        words = f"Set off {trim(self.at)}°: the contact I; its string is the normal at {name}."
        with d.as_one("Protractor", words, Setting(self.at, "°")):
            ray = d.ray(centre, self.at, length=r, instrument="Protractor")
            touch = d.lay_off(ray, centre, r, "I", kind="tangent")
            normal = d.square_to(ray, touch)
            q = d.lay_off(normal, touch, -r * float(np.deg2rad(self.at)), name, kind="tangent")
        return q, normal

    def values(self, method: str) -> Iterable[Value]:
        r, d, t = self.diameter / 2, bare(self.diameter), trim(self.whole_turns)
        string = np.pi * self.diameter * self.whole_turns
        turn = 2 * np.pi * self.whole_turns
        yield Value("string_length", string, "mm", f"π × {d} × {t}", (f"P{self.spaces}",))
        yield Value("arc_length", r * turn * turn / 2, "mm", f"{bare(r)} × (2π × {t})² / 2")
        yield Value(
            "end_radius", float(np.hypot(r, string)), "mm", f"√({bare(r)}² + {bare(string)}²)", ("O", f"P{self.spaces}")
        )
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        r, turn = self.diameter / 2, 2 * np.pi * self.whole_turns
        end = distance(found["O"], found[f"P{self.spaces}"])
        string = np.sqrt(np.maximum(end * end - r * r, 0.0))
        return {
            "string_length": string,
            "arc_length": string * turn / 2,
            "end_radius": end,
            **self.touch_measure(found),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        angles = evenly(360.0 / self.divisions, self.spaces + 1)
        contacts = polar(ORIGIN, self.diameter / 2, angles)
        strings = self.diameter / 2 * np.deg2rad(angles)
        yield Truth("Each string is as long as the arc it has left", distance(p, contacts) - strings)
        yield Truth("Each string is tangent to the circle", dot(p - contacts, contacts) / (self.diameter / 2))
        yield from self.touch_truths(found)

    def at_dimension(self, found: Found) -> Dimension:
        return super().at_dimension(found) if self.at > 360 else from_level(ORIGIN, self.at, "at", reach=22.0)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(ORIGIN, self.diameter / 2, "diameter", self.diameter, 140.0, diameter=True)
        yield from self.touch_dimensions(found)


def _involute(g: InvoluteCircle, d: Draft, how: str) -> None:
    r = g.diameter / 2
    part = d.choice(
        "chords",
        right=np.pi * g.diameter / g.divisions,
        slip=g.diameter * float(sind(180.0 / g.divisions)),
        says="Chords of the divisions laid off for their arcs.",
    )
    with d.phase("Circle"):
        centre = d.start_at("O", says="Mark the centre O.")
        circle = d.circle_in(centre, r, "Centre O, line in the circle.")
    with d.phase("Divide"):
        rays = d.divide_turn(centre, g.divisions, length=r)
    with d.phase("Unwind"):
        for k in range(g.spaces + 1):
            ray = rays[k % g.divisions]
            string = k * part
            if k == 0:
                with d.as_one("Pencil", "P0 is where the string begins."):
                    d.meet(ray, circle, "P0", near=moves.towards(centre, ray, g.diameter))
                continue
            aim = g.touched.at(360.0 * k / g.divisions)
            says = f"At division {k % g.divisions} draw the tangent; lay off {k} of the divisions' length on it: P{k}."
            with d.as_one(
                "Set square", says, Setting(string, "mm"), why=f"{k} × π × {bare(g.diameter)} / {g.divisions}"
            ):
                touch = d.meet(ray, circle, near=moves.towards(centre, ray, g.diameter))
                if how == "instant-centres":
                    arcs = (
                        d.compass(touch, string, whole=False),
                        d.compass(centre, float(np.hypot(r, string)), whole=False),
                    )
                    d.meet(arcs[0], arcs[1], f"P{k}", near=aim)
                else:
                    d.lay_off(d.square_to(ray, touch), touch, -string, f"P{k}")
    g.touch_in(d)
    with d.phase("Line in"):
        d.curve(
            [d.spots[f"P{k}"] for k in range(g.spaces + 1)], says=f"Line in the involute through P0 to P{g.spaces}."
        )


for _name, _about, _source in (
    (
        "divided-circle",
        "Tangents at the divisions, each with the length that has left the circle.",
        "The definition: the string is tangent and as long as the arc it has left (Huygens)",
    ),
    (
        "instant-centres",
        "The end of the string by two arcs, about its contact and about the centre.",
        "The contact is the centre of curvature; the end's distance from the centre by Pythagoras",
    ),
):
    method(InvoluteCircle, _name, about=_about, source=_source)(lambda g, d, how=_name: _involute(g, d, how))  # type: ignore[misc]


class InvolutePolygon(Curved, Touching, id="involute-polygon", family="rolling", title="Involute of a polygon"):
    keys = ("A", "P*")
    brief = "The involute of a polygon of {sides} sides of {side}, unwound {turns} turns, found with {method}."
    summary = "Arcs about the corners in turn, each longer by a side: a scroll, a spiral stair's string."
    value_names = ("string_length",)

    sides = Count(6, "the number of sides", 3, 24)
    side = Length(16, "the side")
    turns = Real(1, "the number of turns", least=0.04, most=4)

    @property
    def arcs(self) -> int:
        return round(self.turns * self.sides)

    letter = "Q1"
    touch = Choice("tangent", "what touches it at a point", tuple(WORDS), WORDS)
    at = Angle(100, "the unwound angle of the point of touch", least=0, most=1440)

    @cached_property
    def touched(self) -> Curve:
        return volute_curve(regular_corners(self.sides, self.side), self.side, self.arcs)

    def courses(self, method: str) -> Sequence[Course]:
        return (Course("the involute", self.touched, np.zeros(0), turn="unwound angle"),)

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        return string_at(self, d, [d.spots[name] for name in CORNERS[: self.sides]])

    def refuse(self) -> None:
        parts_of_turns(self.turns, self.sides, "sides")
        super().refuse()

    def values(self, method: str) -> Iterable[Value]:
        yield Value(
            "string_length", self.arcs * self.side, "mm", f"{self.arcs} × {bare(self.side)}", (f"P{self.arcs}",)
        )
        turn = 2 * np.pi / self.sides
        words = f"{bare(self.side)} × 2π / {self.sides} × (1 + … + {self.arcs})"
        yield Value("arc_length", self.side * turn * self.arcs * (self.arcs + 1) / 2, "mm", words)
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        string = distance(found[f"P{self.arcs}"], found[CORNERS[(self.arcs) % self.sides]])
        turn = 2 * np.pi / self.sides
        length = string * turn * (self.arcs + 1) / 2
        return {"string_length": string, "arc_length": length, **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        corners = regular_corners(self.sides, self.side)
        for k in range(1, self.arcs + 1):
            corner, before = corners[k % self.sides], corners[(k - 1) % self.sides]
            end = found[f"P{k}"]
            yield Truth(f"String {k} is {many(k, 'side')} long", distance(end, corner) - k * self.side)
            following = corners[(k + 1) % self.sides]
            yield Truth(
                f"String {k} runs in one line with the next side", cross(following - corner, end - corner) / self.side
            )
            yield Truth(
                f"Arcs {k} and the one before join on one normal",
                cross(corner - before, found[f"P{k - 1}"] - corner) / self.side,
            )
        yield from self.touch_truths(found)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.side, 0.0), "side", self.side)
        yield from self.touch_dimensions(found)


@method(
    InvolutePolygon,
    "corner-arcs",
    about="The string's end swings about each corner in turn.",
    source="The string's end keeps its length about each corner",
)
def corner_arcs(g: InvolutePolygon, d: Draft) -> None:
    a, b, _ = base_line(d, g.side, "The polygon", why="the given side")
    spots = [a, b]
    with d.phase("The polygon"):
        turn = 360.0 / g.sides
        with d.as_one(
            "Protractor", "Set off each corner and lay off the side in turn.", Setting(turn, "°"), Setting(g.side, "mm")
        ):
            for k in range(1, g.sides - 1):
                side = d.ray(spots[-1], k * turn, instrument="Protractor")
                spots.append(d.lay_off(side, spots[-1], g.side, CORNERS[k + 1]))
        d.line_in(spots, closed=True, says="Line in the polygon.")
    unwind(d, spots, g.side, g.arcs)
    g.touch_in(d)


def volute_curve(corners: Array, side: float, arcs: int) -> Curve:
    """The arcs about ``corners`` in turn, each a side longer than the one before, by the angle unwound."""
    count = len(corners)
    k = np.arange(1, arcs + 1)
    hubs, before = corners[k % count], corners[(k - 1) % count]
    # arc k begins where the side from its own centre back to the one before points
    starts = np.asarray(angle_of(before - hubs))
    return arcs_curve(hubs, side * k.astype(float), starts, 360.0 / count)


def string_at(g: Touching, d: Draft, corners: list[Spot]) -> tuple[Spot, LineMark]:
    """The string at the point of touch: it runs from the corner that it swings about, and is the normal."""
    curve, count = g.touched, len(corners)
    arc = min(int(g.at / (360.0 / count)), round(curve.last * count / 360.0) - 1) + 1
    corner = corners[arc % count]
    string = curve.at(g.place) - corner.here
    words = (
        f"Set off {trim(g.at)}° unwound: on arc {arc} the string runs so from {corner.name}; "
        f"as long as the arc’s radius it ends in {g.letter}."
    )
    with d.as_one(
        "Protractor", words, Setting(g.at, "°"), why="an arc stands square to its radius: the string is the normal"
    ):
        normal = d.ray(corner, float(angle_of(string)), instrument="Protractor")
        q = d.lay_off(normal, corner, float(distance(string, ORIGIN)), g.letter, kind="tangent")
    return q, normal


def unwind(d: Draft, corners: list[Spot], side: float, arcs: int) -> None:
    """Arcs about the corners in turn, each a side longer than the one before; they join on one normal (P0, P1 …)."""
    count = len(corners)
    before = d.choice(
        "one-side-too-many",
        right=0,
        slip=1,
        says="The first arc ended two sides off, as if one had been unwound before it.",
    )
    with d.phase("Unwind"):
        end = d.also("P0", corners[0])
        for k in range(1, arcs + 1):
            corner, following = corners[k % count], corners[(k + 1) % count]
            with d.as_one(
                "Straightedge", f"Produce the next side back beyond {corner.name}: arc {k} ends on it at P{k}."
            ):
                produced = d.rule(following, corner, beyond=(k + before) * side)
                fresh = d.lay_off(produced, corner, (k + before) * side, f"P{k}")
            says = f"Centre {corner.name}, {many(k, 'side')} long: swing from P{k - 1} exactly to P{k}."
            d.arc_in(corner, d.opening(corner, end), end, fresh, says)
            end = fresh
