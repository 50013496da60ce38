"""A ball covered by gores: pointed strips from pole to pole, near enough for a skin that gives."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved, Developed, Edge, Face, Part, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Radial
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.geometry.conics import ellipse_perimeter
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.unfold import FlatPiece, Pattern, resting
from wise_compass.geometry.vectors import Array, Number, cosd, distance, multiples, point, polar, sind

APART, BEYOND = 20.0, 6.0
"""What is left between the ball and the gore, and how far centre lines run beyond."""


class SphereGores(Curved, Solid, Developed, Figure, id="sphere-gores", family="transitions", title="Ball in gores"):
    keys = ("L*", "N", "O", "R*", "S")
    brief = (
        "A ball {diameter} wide in {gores} gores, each found at {divisions} "
        "divisions from pole to pole. Found with {method}."
    )
    summary = (
        "A weathervane’s ball, a globe: one gore, of which all are alike; its edge "
        "is a little too long, and says by how much."
    )
    value_names = ("gore_length", "greatest_width", "edge_excess")
    ways = ("middle-line",)
    across = ("diameter",)
    hazards = (hazards.SHEET, hazards.DUCT)

    diameter = Length(90, "the diameter of the ball")
    gores = Count(12, "the gores", 4, 48)
    divisions = Count(12, "the divisions from pole to pole", 6, 48, multiple=2)

    @property
    def ball(self) -> float:
        """The ball's radius."""
        return self.diameter / 2

    @property
    def long(self) -> float:
        """From pole to pole along the middle line."""
        return float(np.pi * self.ball)

    @property
    def widest(self) -> float:
        return float(np.pi * self.diameter / self.gores)

    @property
    def latitudes(self) -> Array:
        """Of the divisions, from the lower pole to the upper, in degrees."""
        return -90.0 + multiples(180.0 / self.divisions, self.divisions + 1)

    def values(self, method: str) -> Iterable[Value]:
        yield Value("gore_length", self.long, "mm", f"π × {bare(self.diameter)} / 2", ("S", "N"))
        half = self.divisions // 2
        says = f"π × {bare(self.diameter)} / {self.gores}"
        yield Value("greatest_width", self.widest, "mm", says, (f"L{half}", f"R{half}"))
        a, r = self.widest / 2, self.ball
        edge = (
            float(ellipse_perimeter(float(np.hypot(a, r)), r)) / 2
        )  # its development is a wave, as long as half an ellipse
        working = f"2 ∫ √({bare(r)}² + ({bare(a)} sin φ)²) dφ from 0° to 90° − {bare(self.long)}"
        yield Value("edge_excess", edge - self.long, "mm", working)

    def measure(self, found: Found) -> dict[str, Number]:
        half = self.divisions // 2
        return {
            "gore_length": distance(found["S"], found["N"]),
            "greatest_width": distance(found[f"L{half}"], found[f"R{half}"]),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth("The gore is as long as a meridian from pole to pole", distance(found["S"], found["N"]) - self.long)
        off = []
        for k, latitude in enumerate(self.latitudes[1:-1], 1):
            wide = distance(found[f"L{k}"], found[f"R{k}"])
            off.append(float(wide - self.widest * float(cosd(latitude))))
        yield Truth("At every division it is as wide as its share of the parallel there", np.array(off))
        edge = [found["S"], *(found[f"R{k}"] for k in range(1, self.divisions)), found["N"]]
        run = float(np.asarray(distance(np.array(edge[1:]), np.array(edge[:-1]))).sum())
        on_ball = 2 * self.ball * float(np.sin(np.pi / self.divisions / 2)) * self.divisions
        yield Truth("From division to division its edge is as long as the meridian", run - on_ball)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["O"], self.ball, "diameter", self.diameter, 45.0, diameter=True)

    def courses(self, method: str) -> Sequence[Course]:
        """Both edges: a wave, as wide at every latitude as the gore's share of the parallel there."""
        half, r = self.widest / 2, self.ball

        def edge(way: float) -> Curve:
            return Curve(
                lambda t: point(way * half * np.asarray(cosd(t)), r * np.deg2rad(t)),
                lambda t: point(-way * half * np.asarray(sind(t)), r + 0.0 * np.asarray(t)),
                lambda t: point(-way * half * np.asarray(cosd(t)), 0.0 * np.asarray(t)),
                -90.0,
                90.0,
            )

        inner = range(1, self.divisions)
        return tuple(
            Course(
                f"the {side} edge",
                edge(way),
                self.latitudes,
                ("S", *(f"{letter}{k}" for k in inner), "N"),
                landmarks=((0.0, "the middle"),),
                turn="latitude",
                afloat=True,
            )
            for side, way, letter in (("right", 1.0, "R"), ("left", -1.0, "L"))
        )

    # in space

    def _at(self, latitude: Number, turn: Number) -> Array:
        """A place on the ball, its middle being ``ball`` over the ground."""
        out = self.ball * np.asarray(cosd(latitude))
        up = self.ball * (1 + np.asarray(sind(latitude)))
        return np.stack(np.broadcast_arrays(out * np.asarray(cosd(turn)), -out * np.asarray(sind(turn)), up), axis=-1)

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        turns, faces = multiples(360.0 / self.gores, self.gores + 1), []
        for low, high in zip(self.latitudes[:-1], self.latitudes[1:]):
            for g, (a, b) in enumerate(zip(turns[:-1], turns[1:])):
                corners = [self._at(low, a), self._at(low, b), self._at(high, b), self._at(high, a)]
                corners = corners[1:] if low == -90 else corners[:3] if high == 90 else corners
                faces.append(Face(np.array(corners), g + 1))
        return faces

    def is_developed(self, found: Found) -> bool:
        return True

    def cut_out(self, found: Found) -> Sequence[Part]:
        inner = range(1, self.divisions)
        right, left = (["S", *(f"{letter}{k}" for k in inner), "N"] for letter in "RL")
        edges = [Edge(a, b, "seam") for a, b in pairwise(right)] + [Edge(a, b, "side") for a, b in pairwise(left[::-1])]
        return [Part("A gore", edges, self.gores)]

    def pattern(self, found: Found) -> Pattern:
        """One gore, bent at its divisions."""
        n, half = self.divisions, 180.0 / self.gores
        rows = [[found["S"]], *([found[f"L{k}"], found[f"R{k}"]] for k in range(1, n)), [found["N"]]]
        names = [["S"], *([f"L{k}", f"R{k}"] for k in range(1, n)), ["N"]]
        lies = {
            name: self._at(lat, way * half)
            for row, lat in zip(names, self.latitudes)
            for name, way in zip(row, (-1, 1))
        }
        pieces = []
        for k in range(n):
            low, high = rows[k], rows[k + 1]
            flat = np.array([*low, *high[::-1]])
            hinge = np.array(low[::-1]) if k else None
            pieces.append(
                FlatPiece((*names[k], *names[k + 1][::-1]), flat, k - 1, 180.0 / n if k else 0.0, hinge, hinge)
            )
        first = np.array([lies["S"], lies["R1"], lies["L1"]])
        return Pattern(pieces, resting(np.array([found["S"], found["R1"], found["L1"]]), first), lies)


@method(
    SphereGores,
    "middle-line",
    exact=False,
    about="The meridian laid off straight, and at every division its share of the parallel: edges a little too long.",
    source="Approximate development of the sphere by gores",
)
def middle_line(g: SphereGores, d: Draft) -> None:
    n = g.divisions
    with d.phase("The ball"):
        centre = d.start_at("O", says="Mark O, the middle of the ball.")
        d.level_from(centre, "Draw its level centre line.", role=Role.CENTRE).extent(-g.ball - BEYOND, g.ball + BEYOND)
        upright = d.upright_from(centre, "Draw its upright centre line.", role=Role.CENTRE)
        upright.extent(-g.ball - BEYOND, g.ball + BEYOND)
        circle = d.circle_in(centre, g.ball, "Centre O, draw the ball.", "half the diameter")
        marks: list[Spot] = []
        rays = d.divide_turn(centre, 2 * n, first=-90.0, length=g.ball)
        with d.as_one(
            "Set square", "Through the divisions of its right side draw the parallels level to the centre line."
        ):
            for k in range(1, n):
                near = polar(centre.here, g.ball, -90.0 + 180.0 / n * k)
                marks.append(d.meet(rays[k], circle, f"C{k}", near=near, kind="plain"))
                d.meet(d.level_from(marks[-1], length=-g.ball), upright, f"D{k}", kind="plain")
    with d.phase("The gore"):
        left = -g.ball - APART - g.widest / 2
        start = d.start_at("S", left, -g.long / 2, "Mark S, the lower pole, where the gore has room.")
        middle = d.upright_from(start, "Draw its middle line upright.", length=g.long)
        end = d.lay_off(
            middle,
            start,
            g.long,
            "N",
            "Lay off half the ball’s circumference: the gore’s length.",
            f"π × {bare(g.ball)}",
        )
        keys = ["S", *(f"Z{k}" for k in range(1, n)), "N"]
        spots = d.divide(start, end, n, keys, says=f"Cut it into {n} equal spaces.", how="trial")
        right, leftward = [start], [start]
        with d.as_one(
            "Rule",
            "Across every mark lay off half its share of the parallel to both sides.",
            why=f"π × radius of the parallel / {g.gores}, the radius from the ball’s view",
        ):
            for k, spot in enumerate(spots[1:-1], 1):
                across = d.level_from(spot)
                radius = float(g.ball * cosd(g.latitudes[k]))
                round_it = d.choice(
                    "chord",
                    right=float(np.pi),
                    slip=1.0,
                    says="Whole parallels taken by their diameters: widths too small.",
                    at=f"R{k}",
                )
                half = radius * round_it / g.gores
                right.append(d.lay_off(across, spot, half, f"R{k}"))
                leftward.append(d.lay_off(across, spot, -half, f"L{k}"))
        with d.as_one("Curve", "Line in both edges through their points.", why=ALLOWANCES):
            for row in (right, leftward):
                d.curve([*row, end])
