"""Hyperbolas."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear, level, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import LONGEST_LENGTH, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm
from wise_compass.figures.curves.parabolas import curve_in
from wise_compass.figures.curves.touching import Touching, by_focal_radii
from wise_compass.geometry.curves import Curve, hyperbola_curve, reciprocal_curve
from wise_compass.geometry.vectors import Number, distance, point

ORIGIN = point(0.0, 0.0)


class Hyperbola(Curved, Touching, id="hyperbola", family="conics", title="Hyperbola"):
    keys = ("F*", "P*", "R*", "V*")
    brief = "A hyperbola with foci {foci} and vertices {vertices} apart, found with {method} in {divisions} divisions."
    summary = "The distances from two points differ alike everywhere: a cooling tower, a cone cut upright."
    ways = ("focus-arcs", "asymptotes")
    value_names = ("eccentricity", "asymptote_angle", "conjugate_axis")

    foci = Length(94, "the distance of the foci")
    vertices = Length(58, "the distance of the vertices", most=lambda g: 0.999 * g.foci)
    divisions = Count(6, "the points on each arm", 3, 36)
    at = Length(20, "the height of the point of touch off the axis", least=-LONGEST_LENGTH)

    @cached_property
    def touched(self) -> Curve:
        return self._branch(1)

    def _branch(self, side: int) -> Curve:
        a, b = self.half_axes
        return hyperbola_curve(a, b, side, self.heights()[-1])

    def courses(self, method: str) -> Sequence[Course]:
        n, heights = self.divisions, np.array(self.heights())
        stations = np.concatenate([heights[::-1], [0.0], -heights])
        marks = ((0.0, "the vertex"), (heights[-1], "its end"), (-heights[-1], "its end"))
        made = []
        for letter, vertex, side, words in (("P", "V2", 1, "right"), ("R", "V1", -1, "left")):
            names = (*(f"{letter}{k}" for k in range(n, 0, -1)), vertex, *(f"{letter}{n + k}" for k in range(1, n + 1)))
            made.append(
                Course(
                    f"the {words} branch",
                    self._branch(side),
                    stations,
                    names,
                    landmarks=marks,
                    pole=point(side * self.foci / 2, 0.0),
                )
            )
        return made

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        q = self.point_by_hand(d, "Find the point of this height on the right branch", d.spots["O"])
        return q, by_focal_radii(d, q, d.spots["F1"], d.spots["F2"], sum_of_radii=False)

    @property
    def half_axes(self) -> tuple[float, float]:
        a = self.vertices / 2
        return a, float(np.sqrt((self.foci / 2 - a) * (self.foci / 2 + a)))

    def heights(self) -> list[float]:
        """How far the found points stand off the axis: closer where the curve bends most."""
        _, b = self.half_axes
        reach = 1.4 * max(b, self.vertices / 4)
        return [reach * (k / self.divisions) ** 1.3 for k in range(1, self.divisions + 1)]

    def values(self, method: str) -> Iterable[Value]:
        a, b = self.half_axes
        c = bare(self.foci / 2)
        yield Value(
            "eccentricity", self.foci / self.vertices, "", f"{bare(self.foci)} / {bare(self.vertices)}", ("F1", "F2")
        )
        yield Value("asymptote_angle", float(np.rad2deg(np.arctan2(b, a))), "°", f"arccos({bare(a)} / {c})", ("O",))
        yield Value("conjugate_axis", 2 * b, "mm", f"2 √({c}² − {bare(a)}²)", ("O",))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        foci, vertices = distance(found["F1"], found["F2"]), distance(found["V1"], found["V2"])
        b = np.sqrt(np.maximum((foci - vertices) * (foci + vertices), 0.0)) / 2
        return {
            "eccentricity": foci / vertices,
            "asymptote_angle": np.rad2deg(np.arctan2(2 * b, vertices)),
            "conjugate_axis": 2 * b,
            **self.touch_measure(found),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        names = [name for name in found if name[0] in "PR" and name[1:].isdigit()]
        p = found.together(names)
        one, two = point(-self.foci / 2, 0.0), point(self.foci / 2, 0.0)
        yield Truth(
            "The two focal distances differ by the distance of the vertices at every point",
            np.abs(distance(p, one) - distance(p, two)) - self.vertices,
        )
        yield Truth("The foci stand as far apart as given", distance(found["F1"], found["F2"]) - self.foci)
        yield from self.touch_truths(found)

    def at_dimension(self, found: Found) -> Dimension:
        q = found[self.letter]
        return upright(point(float(q[0]), 0.0), q, "at", abs(self.at), side=-1)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = -self.heights()[-1]
        for name, size, rank in (("vertices", self.vertices, 1), ("foci", self.foci, 2)):
            yield Linear(point(-size / 2, 0.0), point(size / 2, 0.0), name, size, rank=rank, past=point(0.0, low))
        yield from self.touch_dimensions(found)


def _axis_of(g: Hyperbola, d: Draft) -> tuple[Spot, Spot, Spot, LineMark]:
    with d.phase("Axis"):
        centre = d.start_at("O", says="Mark the centre O.")
        axis = d.level_from(centre, "Draw the axis level through O.", role=Role.CENTRE)
        spots = {}
        for name, x, words in (
            ("F1", -g.foci, "foci"),
            ("F2", g.foci, "foci"),
            ("V1", -g.vertices, "vertices"),
            ("V2", g.vertices, "vertices"),
        ):
            spots[name] = d.lay_off(axis, centre, x / 2, name, f"Lay off half the distance of the {words}: {name}.")
    return centre, spots["F1"], spots["F2"], axis


def _branches_in(g: Hyperbola, d: Draft) -> None:
    g.touch_in(d)
    with d.phase("Line in"):
        for letter, vertex in (("P", "V2"), ("R", "V1")):
            n = g.divisions
            ups = [d.spots[f"{letter}{k}"] for k in range(n, 0, -1)]
            downs = [d.spots[f"{letter}{n + k}"] for k in range(1, n + 1)]
            d.curve([*ups, d.spots[vertex], *downs], says=f"Line in the branch through {vertex}.")


@method(
    Hyperbola,
    "focus-arcs",
    about="The definition itself: two arcs whose radii differ by the distance of the vertices.",
    source="The definition by the difference of the distances from the foci (Apollonius, Conics III.51)",
)
def hyperbola_arcs(g: Hyperbola, d: Draft) -> None:
    _, one, two, _ = _axis_of(g, d)
    a, b = g.half_axes
    with d.phase("Find the points"):
        for k, y in enumerate(g.heights(), 1):
            x = a * float(np.hypot(1.0, y / b))
            near = x * g.foci / g.vertices - a
            far = near + g.vertices
            near += d.choice(
                "half-the-difference",
                right=0.0,
                slip=a,
                says="The radii made to differ by half the distance of the vertices.",
                at=f"P{k}",
            )
            says = f"Radii that differ by {mm(g.vertices)}: swing both from both foci; they cross at four points."
            with d.as_one("Compass", says, Setting(near, "mm"), Setting(far, "mm")):
                pairs = ((two, one, "P"), (one, two, "R"))
                for hub, other, letter in pairs:
                    small, large = d.compass(hub, near, whole=False), d.compass(other, far, whole=False)
                    d.meet(small, large, f"{letter}{k}", where="above")
                    d.meet(small, large, f"{letter}{g.divisions + k}", where="below")
    _branches_in(g, d)


@method(
    Hyperbola,
    "asymptotes",
    about="From a level at a height: its reach to the asymptote and half the conjugate axis give the curve's.",
    source="x²/a² − y²/b² = 1: the level's reach to the asymptote and b are the legs of a right triangle",
)
def hyperbola_asymptotes(g: Hyperbola, d: Draft) -> None:
    centre, one, _, _ = _axis_of(g, d)
    a, b = g.half_axes
    with d.phase("Asymptotes"):
        upright = d.upright_from(d.spots["V2"], "Draw upright at V2.")
        arc = d.compass(centre, d.opening(centre, one), "Centre O, through the foci: cut that upright.", whole=False)
        corner = d.meet(upright, arc, "K", where="above")
        slope = d.rule(centre, corner, "Join OK: an asymptote.", role=Role.LOCUS)
        square = d.upright_from(centre, "Draw upright at O.", role=Role.CENTRE)
    with d.phase("Find the points"):
        for k, y in enumerate(g.heights(), 1):
            reach = a * y / b
            says = (
                f"Lay off {mm(y)} on the upright and draw level to the asymptote; with "
                f"that reach cut the upright from O at N{k}."
            )
            with d.as_one("Compass", says, Setting(y, "mm"), Setting(reach, "mm")):
                above = d.lay_off(square, centre, y, "", kind="plain")
                level = d.level_from(above)
                swung = d.compass(centre, d.opening(above, d.meet(level, slope)), whole=False)
                near = d.meet(square, swung, f"N{k}", where="above")
            n = g.divisions
            names = f"P{k}, R{k}, P{n + k} and R{n + k}"
            says = (
                f"The opening V2N{k} is the curve’s reach: cut the level both ways with "
                f"it, and the level as far below: {names}."
            )
            why = "it is the long side over half the vertices’ distance and the asymptote’s reach"
            with d.as_one("Compass", says, Setting(float(np.hypot(a, reach)), "mm"), why=why):
                opening = d.opening(d.spots["V2"], near)
                below = d.lay_off(square, centre, -y, "", kind="plain")
                for mark, line, number in ((above, level, k), (below, d.level_from(below), n + k)):
                    arc = d.compass(mark, opening, whole=False)
                    for letter, where in (("P", "right"), ("R", "left")):
                        d.meet(line, arc, f"{letter}{number}", where=where)
    _branches_in(g, d)


class RectangularHyperbola(
    Curved, Touching, id="rectangular-hyperbola", family="conics", title="Rectangular hyperbola"
):
    keys = ("A", "P*")
    brief = (
        "A rectangular hyperbola through a point {x} and {y} from its asymptotes, "
        "found with {method} in {divisions} divisions."
    )
    summary = "The product of the two distances stays the same: pressure against volume, a throat."
    value_names = ("constant",)

    x = Length(30, "the distance along")
    y = Length(44, "the distance up")
    divisions = Count(8, "the number of points", 4, 36)
    at = Length(40, "the distance along of the point of touch")

    @cached_property
    def touched(self) -> Curve:
        stations = self.stations()
        return reciprocal_curve(self.x * self.y, stations[0], stations[-1])

    def courses(self, method: str) -> Sequence[Course]:
        stations = np.array(self.stations())
        names = tuple(f"P{k}" for k in range(self.divisions + 1))
        marks = (
            (stations[0], "its upper end"),
            (stations[-1], "its lower end"),
            (float(np.sqrt(self.x * self.y)), "the vertex"),
        )
        return (Course("the hyperbola", self.touched, stations, names, landmarks=marks, pole=ORIGIN),)

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        q = self.point_by_hand(d, "Find the point of this distance along", d.spots["O"])
        corner = d.spots["O"]
        level = d.level_from(corner, "Take the level asymptote.", role=Role.REFERENCE)
        z = d.lay_off(level, corner, 2 * self.at, "Z", "Lay off twice that distance from O: Z.")
        tangent = d.rule(
            z, q, f"Join Z{q.name} and on: the tangent.", why="the point of touch halves it between the asymptotes"
        )
        return q, d.square_to(tangent, q, f"Draw square to it at {q.name}: the normal.")

    def stations(self) -> list[float]:
        """Distances along at which points are found, from half the given one to three times it."""
        return [self.x * 0.5 * 6 ** (k / self.divisions) for k in range(self.divisions + 1)]

    def values(self, method: str) -> Iterable[Value]:
        yield Value("constant", self.x * self.y, "mm²", f"{bare(self.x)} × {bare(self.y)}", ("O", "A"))
        yield from self.touch_values()

    def measure(self, found: Found) -> dict[str, Number]:
        return {"constant": found["A"][..., 0] * found["A"][..., 1], **self.touch_measure(found)}

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        yield Truth(
            "The product of the two distances is the same everywhere",
            (p[..., 0] * p[..., 1] - self.x * self.y) / np.hypot(p[..., 0], p[..., 1]),
        )
        yield from self.touch_truths(found)

    def at_dimension(self, found: Found) -> Dimension:
        q = found[self.letter]
        return level(point(0.0, float(q[1])), q, "at", abs(self.at), side=1)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(ORIGIN, point(self.x, 0.0), "x", self.x)
        yield Linear(point(0.0, self.y), ORIGIN, "y", self.y)
        yield from self.touch_dimensions(found)


@method(
    RectangularHyperbola,
    "rectangles",
    about="Rays from the corner cut the level and the upright of the given point.",
    source="Rectangles of equal area about the diagonal (Euclid, Elements I.43)",
)
def hyperbola_rectangles(g: RectangularHyperbola, d: Draft) -> None:
    with d.phase("Asymptotes"):
        corner = d.start_at("O", says="Mark the corner O of the asymptotes.")
        level = d.level_from(corner, "Draw one asymptote level.", role=Role.REFERENCE)
        upright = d.upright_from(corner, "Draw the other upright.", role=Role.REFERENCE)
        foot = d.lay_off(level, corner, g.x, "", "Lay off the distance along.", kind="plain")
        side = d.lay_off(upright, corner, g.y, "", "Lay off the distance up.", kind="plain")
        over, post = (
            d.level_from(side, "Draw level from it."),
            d.upright_from(foot, "Draw upright from the other: they meet in the point A."),
        )
        d.meet(over, post, "A", kind="given")
    with d.phase("Find the points"):
        for k, x in enumerate(g.stations()):
            with d.as_one(
                "Straightedge",
                f"A ray from O cuts the level and the upright of A; from the cuts draw square: P{k}.",
                Setting(x, "mm"),
            ):
                mark = d.lay_off(over, side, x, "", kind="plain")
                ray = d.rule(corner, mark)
                cut = d.meet(ray, post)
                d.meet(d.upright_from(mark), d.level_from(cut), f"P{k}")
    g.touch_in(d)
    curve_in(d, [f"P{k}" for k in range(g.divisions + 1)], "Line in the hyperbola through the points.")
