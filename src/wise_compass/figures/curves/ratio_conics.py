"""Conics by the ratio of their distances from focus and directrix."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear, angle_at
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Choice, Count, Length, Real
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.curves.parabolas import curve_in
from wise_compass.figures.curves.touching import WORDS, Touching
from wise_compass.geometry.curves import Curve, conic_radius, polar_curve
from wise_compass.geometry.vectors import Number, distance, point


class ConicByEccentricity(
    Curved, Touching, id="conic-by-eccentricity", family="conics", title="Conic by its eccentricity"
):
    keys = ("D", "F", "P*", "V")
    brief = (
        "A conic of eccentricity {eccentricity}, its focus {focus_distance} from its directrix, found with {method} in "
        "{divisions} divisions."
    )
    summary = "One rule for all conics: so many times as far from the focus as from the directrix."
    value_names = ("vertex_to_focus", "semi_latus_rectum")

    eccentricity = Real(0.7, "the eccentricity", least=0.1, most=5)
    focus_distance = Length(54, "the distance of the focus from the directrix")
    divisions = Count(8, "the points on each side", 4, 36)
    touch = Choice("tangent", "what touches it at a point", tuple(WORDS), WORDS)
    at = Angle(40, "the angle at the focus from the vertex to the point of touch", least=5, most=170)

    @property
    def farthest(self) -> float:
        """The angle at the focus of the last point found."""
        far = self.reaches()[-1]
        return float(np.rad2deg(np.arccos((self.focus_distance - far) / (self.eccentricity * far))))

    @cached_property
    def touched(self) -> Curve:
        e, f = self.eccentricity, self.focus_distance
        return polar_curve(conic_radius(e, e * f), -self.farthest, self.farthest, 180.0, -1, point(f, 0.0))

    @property
    def touched_range(self) -> tuple[float, float]:
        return 5.0, self.farthest

    def courses(self, method: str) -> Sequence[Course]:
        e, f, n = self.eccentricity, self.focus_distance, self.divisions
        x = np.array(self.reaches())
        angles = np.rad2deg(np.arccos(np.clip((f - x) / (e * x), -1.0, 1.0)))
        names = (*(f"P{n + k}" for k in range(n, 0, -1)), "V", *(f"P{k}" for k in range(1, n + 1)))
        stations = np.concatenate([-angles[::-1], [0.0], angles])
        marks = ((0.0, "the vertex"), (-self.farthest, "its end"), (self.farthest, "its end"))
        words = "angle at the focus"
        return (Course("the conic", self.touched, stations, names, landmarks=marks, turn=words, pole=point(f, 0.0)),)

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        focus, directrix = d.spots["F"], d.upright_from(d.spots["D"], "Take the directrix.", role=Role.REFERENCE)
        with d.as_one(
            "Protractor", f"At F set off {trim(self.at)}° from the axis; where it cuts the curve is {self.letter}."
        ):
            radius = d.ray(focus, 180.0 - self.at, instrument="Protractor")
            length = float(conic_radius(self.eccentricity, self.eccentricity * self.focus_distance).radius(self.at))
            q = d.lay_off(radius, focus, length, self.letter, kind="tangent")
        square = d.square_to(radius, focus, "At F draw square to that radius as far as the directrix: Z.")
        z = d.meet(square, directrix, "Z")
        tangent = d.rule(
            z, q, f"Join Z{q.name}: the tangent.", role=Role.CENTRE, why="it is seen from the focus at a right angle"
        )
        return q, d.square_to(tangent, q, f"Draw square to it at {q.name}: the normal.")

    @property
    def vertex(self) -> float:
        """From the directrix to the vertex."""
        return self.focus_distance / (1 + self.eccentricity)

    def reaches(self) -> list[float]:
        """Distances from the directrix at which points are found."""
        e, f = self.eccentricity, self.focus_distance
        far = min(f / (1 - e) if e < 0.98 else 4 * f, 4 * f)
        return [
            self.vertex + (far - self.vertex) * (k / self.divisions) ** 1.5 * (0.88 if e < 1 else 1.0)
            for k in range(1, self.divisions + 1)
        ]

    def values(self, method: str) -> Iterable[Value]:
        e, f = trim(self.eccentricity), bare(self.focus_distance)
        yield Value("vertex_to_focus", self.focus_distance - self.vertex, "mm", f"{f} × {e} / (1 + {e})", ("V", "F"))
        yield Value("semi_latus_rectum", self.eccentricity * self.focus_distance, "mm", f"{e} × {f}", ("F",))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        lead = distance(found["V"], found["F"])
        e = lead / (distance(found["D"], found["V"]))
        semi = e * distance(found["D"], found["F"])
        return {"vertex_to_focus": lead, "semi_latus_rectum": semi, **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        times = "just" if self.eccentricity == 1 else f"{trim(self.eccentricity)} times"
        p = found.group("P")
        focus = point(self.focus_distance, 0.0)
        yield Truth(
            f"Every point is {times} as far from the focus as from the directrix",
            (distance(p, focus) - self.eccentricity * p[..., 0]) / max(1.0, self.eccentricity),
        )
        yield Truth("So is the vertex", distance(found["V"], focus) - self.eccentricity * found["V"][..., 0])
        yield from self.touch_truths(found)

    def at_dimension(self, found: Found) -> Dimension:
        return angle_at(found["F"], found["V"], found[self.letter], "at", self.at)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = float(found[f"P{2 * self.divisions}"][1])
        d, f = point(0.0, 0.0), point(self.focus_distance, 0.0)
        yield Linear(d, f, "focus_distance", self.focus_distance, past=point(0.0, low))
        yield from self.touch_dimensions(found)


@method(
    ConicByEccentricity,
    "rising-ordinates",
    about="A rising line gives for every distance from the directrix the distance from the focus.",
    source="The focus and directrix property (Pappus, Collection VII)",
)
def rising_ordinates(g: ConicByEccentricity, d: Draft) -> None:
    reaches = g.reaches()
    with d.phase("Directrix and axis"):
        start = d.start_at("D", says="Mark D on the directrix.")
        d.upright_from(start, "Draw the directrix upright.", role=Role.REFERENCE)
        axis = d.level_from(start, "Draw the axis level from D.", role=Role.CENTRE, length=reaches[-1])
        focus = d.lay_off(axis, start, g.focus_distance, "F", "Lay off the focus F.")
        vertex = d.lay_off(
            axis,
            start,
            g.vertex,
            "V",
            "Lay off the vertex V.",
            why=f"{bare(g.focus_distance)} / (1 + {trim(g.eccentricity)})",
        )
    with d.phase("The rising line"):
        post = d.upright_from(vertex, "Draw upright at V.")
        top = d.meet(
            post,
            d.compass(vertex, d.opening(vertex, focus), "Centre V, swing VF up to it.", whole=False),
            where="above",
        )
        rising = d.rule(
            start, top, "Join D to it and on: the rising line.", why="its height is the eccentricity times the distance"
        )
    with d.phase("Find the points"):
        for k, x in enumerate(reaches, 1):
            with d.as_one(
                "Compass",
                "At this distance from the directrix take the height of the rising "
                f"line; from F cut the upright: P{k}, "
                f"P{g.divisions + k}.",
                Setting(x, "mm"),
                Setting(g.eccentricity * x, "mm"),
            ):
                mark = d.lay_off(axis, start, x, "", kind="plain")
                up = d.upright_from(mark)
                height = d.meet(up, rising)
                arc = d.compass(focus, d.opening(mark, height), whole=False)
                d.meet(up, arc, f"P{k}", where="above")
                d.meet(up, arc, f"P{g.divisions + k}", where="below")
    g.touch_in(d)
    n = g.divisions
    names = [*(f"P{k}" for k in range(n, 0, -1)), "V", *(f"P{n + k}" for k in range(1, n + 1))]
    curve_in(d, names, "Line in the conic through the points.")
