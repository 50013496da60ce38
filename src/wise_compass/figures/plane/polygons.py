"""Regular polygons and stars."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.geometry import polygons as regular
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, mean, point

CORNERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"
"""Corner letters as drafters use them: without I and O, which read as 1 and 0; just enough for 24 sides."""
REGULAR_VALUES = ("side", "circumradius", "apothem", "interior_angle", "area", "perimeter")


def closing_dimension(found: Found) -> Iterator[Dimension]:
    """The gap between the last step and the first corner, where there is one."""
    if "End" in found and (gap := float(distance(found["End"], found["A"]))) > 0.05:
        yield Linear(found["End"], found["A"], "closing_gap", gap, side=1, prefix="gap ")


class RegularPolygon(Figure):
    """What regular polygons share. A subclass gives the exact side and the corners' exact places."""

    sides = Count(8, "the number of sides", 3, 24)

    @property
    @abstractmethod
    def true_side(self) -> float:
        """The exact side."""

    @property
    @abstractmethod
    def side_working(self) -> str: ...

    @abstractmethod
    def true_corners(self) -> Array:
        """Where the corners belong, by definition; shape (sides, 2)."""

    @property
    def corners(self) -> str:
        return CORNERS[: self.sides]

    def values(self, method: str) -> Iterable[Value]:
        n, side = self.sides, self.true_side
        s, half = bare(side), trim(180 / n)
        first = tuple(self.corners)
        yield Value("side", side, "mm", self.side_working, first[:2])
        yield Value("circumradius", float(regular.circumradius(n, side)), "mm", f"{s} / (2 sin {half}°)", ("O", "A"))
        yield Value("apothem", float(regular.apothem(n, side)), "mm", f"{s} / (2 tan {half}°)", ("O",))
        yield Value("interior_angle", float(regular.interior_angle(n)), "°", f"180° − 360° / {n}", first[:3])
        yield Value("area", float(regular.area(n, side)), "mm²", f"{n} × {s}² / (4 tan {half}°)")
        yield Value("perimeter", n * side, "mm", f"{n} × {s}", first)

    def measure(self, found: Found) -> dict[str, Number]:
        corners = found.together(list(self.corners))
        side = distance(corners[..., :-1, :], corners[..., 1:, :]).mean(axis=-1)
        middles = (corners[..., :-1, :] + corners[..., 1:, :]) / 2
        centre = found["O"][..., None, :]
        return {
            "side": side,
            "circumradius": distance(corners, centre).mean(axis=-1),
            "apothem": distance(middles, centre).mean(axis=-1),
            "interior_angle": regular.corner_angles(corners)[..., 1:-1].mean(axis=-1),
            "area": regular.shoelace(corners),
            "perimeter": self.sides * side,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        corners = found.together(list(self.corners))
        yield Truth(
            f"All {self.sides} sides measure {mm(self.true_side)}, the last one too",
            regular.edges(corners) - self.true_side,
        )
        yield Truth("Every corner stands on its place of the regular polygon", distance(corners, self.true_corners()))
        radii = distance(corners, mean(*np.moveaxis(corners, -2, 0))[..., None, :])
        yield Truth("All corners lie equally far from their middle", radii - radii.mean(axis=-1, keepdims=True))


def circle_about(d: Draft, diameter: float) -> tuple[Spot, ArcMark]:
    with d.phase("The circle"):
        centre = d.start_at("O", says="Mark the centre O.")
        circle = d.compass(centre, diameter / 2, "Centre O, draw the circle.", why="half the diameter")
    return centre, circle


def step_and_close(d: Draft, circle: ArcMark, first: Spot, second: Spot, corners: str, closes: bool) -> None:
    """Step the chord of the first two corners round the circle, and line in what comes of it."""
    count = len(corners)
    with d.phase("Step round"):
        says = (
            f"Step {first.name}{second.name} on round: {count} spaces in all, {count} "
            f"corners; End should fall on {first.name}."
        )
        rest = d.step_round(circle, second, d.opening(first, second), [*corners[2:], "End"], says=says)
        if closes:
            rest[-1].kind = "plain"
    with d.phase("Line in"):
        if closes:
            d.line_in(
                [first, second, *rest[:-1]], closed=True, says=f"Line in the {count} sides from corner to corner."
            )
        else:
            says = f"Line in the {count} sides; the last one ends beside {first.name}, as the method has it."
            d.line_in([first, second, *rest], says=says)


class PolygonOnSide(RegularPolygon, id="polygon-on-side", family="polygons", title="Polygon on a side"):
    keys = ("A", "B", "C", "End", "O")
    brief = "A regular polygon of {sides} sides on a side of {side}, found with {method}."
    summary = "A regular polygon of which one side is given: a tower plan, a boss, a nut."
    ways = ("circumcentre", "centre-ladder", "pentagon-arcs", "protractor")
    value_names = (*REGULAR_VALUES, "drawn_circumradius", "closing_gap")

    side = Length(52, "the side")

    @property
    def true_side(self) -> float:
        return self.side

    @property
    def side_working(self) -> str:
        return "given"

    def true_corners(self) -> Array:
        return regular.regular_corners(self.sides, self.side)

    @property
    def ladder_radius(self) -> float:
        """Circumradius that the ladder of centres gives: equal increments from the square to the hexagon."""
        square, hexagon = self.side / 2, self.side * np.sqrt(3) / 2
        height = square + (self.sides - 4) * (hexagon - square) / 2
        return float(np.hypot(self.side / 2, height))

    def values(self, method: str) -> Iterable[Value]:
        yield from super().values(method)
        if method == "centre-ladder":
            n, s, r = self.sides, bare(self.side), self.ladder_radius
            half = bare(self.side / 2)
            yield Value(
                "drawn_circumradius",
                r,
                "mm",
                f"√({half}² + ({half} + {n - 4} × ({s} × √3 − {s}) / 4)²)",
                ("O", "A"),
                drawn=True,
            )
            yield Value(
                "closing_gap",
                float(regular.closing_gap(n, self.side, r)),
                "mm",
                f"2 × {bare(r)} × |sin({n} × arcsin({s} / (2 × {bare(r)})))|",
                ("A", "End"),
                drawn=True,
            )

    def measure(self, found: Found) -> dict[str, Number]:
        out = super().measure(found)
        return {**out, "drawn_circumradius": out["circumradius"], "closing_gap": distance(found["End"], found["A"])}

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.side, 0.0), "side", self.side)
        yield from closing_dimension(found)


def _base(g: PolygonOnSide, d: Draft) -> tuple[Spot, Spot, LineMark]:
    with d.phase("The base"):
        a = d.start_at("A", says="Mark the left end A of the base.")
        base = d.level_from(a, "Draw the base level from A.", length=g.side)
        b = d.lay_off(base, a, g.side, "B", "Lay off the side AB.", why="the given side")
    return a, b, base


def _step_round(g: PolygonOnSide, d: Draft, a: Spot, b: Spot, centre: Spot, closes: bool = True) -> None:
    with d.phase("Circle"):
        circle = d.compass(centre, d.opening(centre, a), "Centre O, draw the circle through A and B.")
    step_and_close(d, circle, a, b, g.corners, closes)


@method(
    PolygonOnSide,
    "circumcentre",
    about="The centre from half the corner angle at both ends of the base.",
    source="Base angles of the triangle on a side (Euclid, Elements I.26, I.32)",
)
def circumcentre(g: PolygonOnSide, d: Draft) -> None:
    a, b, _ = _base(g, d)
    half = float(regular.interior_angle(g.sides)) / 2
    with d.phase("The centre"):
        why = f"half the corner angle of {trim(2 * half)}°"
        left = d.ray(a, half, "From A draw a line at half the corner angle.", why=why)
        right = d.ray(b, 180 - half, "From B the same, leaning the other way.", why=why)
        centre = d.meet(left, right, "O")
    _step_round(g, d, a, b, centre)


@method(
    PolygonOnSide,
    "centre-ladder",
    exact=lambda g: g.sides in (4, 6),
    about="Centres for 4 and 6 sides by set square, the rest by equal rungs. Exact for 4 and 6 sides only.",
    source="Draughtsmen's rule: centres in equal rungs from the square's to the hexagon's",
)
def centre_ladder(g: PolygonOnSide, d: Draft) -> None:
    a, b, base = _base(g, d)
    with d.phase("The ladder"):
        middle = d.midpoint(a, b, "")
        bisector = d.square_to(base, middle, "Halve AB and draw its bisector upright.", role=Role.LOCUS)
        four = d.meet(d.ray(a, 45, "From A draw a line at 45°: it gives the centre C4 for four sides."), bisector, "C4")
        six = d.meet(d.ray(a, 60, "From A draw a line at 60°: it gives the centre C6 for six."), bisector, "C6")
        if g.sides in (4, 6):
            centre = d.also("O", four if g.sides == 4 else six)
        else:
            start = six if g.sides > 6 else four
            rungs = g.sides - 6 if g.sides > 6 else g.sides - 4
            with d.as_one("Dividers", "Halve C4–C6."):
                half = d.midpoint(four, six, "")
            rung = d.opening(four, half)
            way = "up" if rungs > 0 else "down"
            says = f"With half of C4–C6 step {abs(rungs)} × {way} from {start.name}: the centre O for {g.sides} sides."
            names = [*[""] * (abs(rungs) - 1), "O"]
            why = "equal rungs: a rule of thumb, not a theorem"
            centre = d.step_along(bisector, start, rung, rungs, names, says, why)[-1]
    _step_round(g, d, a, b, centre, closes=g.sides in (4, 6))


def _five_only(g: PolygonOnSide) -> str | None:
    return (
        None
        if g.sides == 5
        else (f"pentagon-arcs serves for 5 sides alone; sides is {g.sides}. Set sides to 5 or choose circumcentre.")
    )


@method(
    PolygonOnSide,
    "pentagon-arcs",
    fits=_five_only,
    fits_given="sides",
    about="Exact for five sides with the compass alone: the diagonal is the golden multiple of the side.",
    source="Side and diagonal of the pentagon are in the golden ratio (Euclid, Elements XIII.8)",
)
def pentagon_arcs(g: PolygonOnSide, d: Draft) -> None:
    a, b, base = _base(g, d)
    with d.phase("The diagonal"):
        upright = d.square_to(base, b, "Draw upright from B.")
        side = d.opening(a, b)
        k = d.meet(
            upright, d.compass(b, side, "Centre B, swing AB up to the upright.", whole=False), "K1", where="above"
        )
        middle = d.midpoint(a, b, "Mid")
        arc = d.compass(
            middle,
            d.opening(middle, k),
            "Centre the middle of AB, swing K1 down to the base produced.",
            whole=False,
            why="½ side × √5",
        )
        end = d.meet(base, arc, "L1", where="right")
        diagonal = d.opening(a, end)
    with d.phase("The corners"):
        from_a = d.compass(
            a, diagonal, "Centre A, opening AL1, the diagonal: swing over the top and the right.", whole=False
        )
        from_b = d.compass(b, diagonal, "Centre B, the same opening: cross the first arc at the top.", whole=False)
        top = d.meet(from_a, from_b, "D", where="above")
        b_side = d.compass(b, side, "Centre B, opening AB: cut the arc about A.", whole=False)
        right = d.meet(from_a, b_side, "C", where="above")
        a_side = d.compass(a, side, "Centre A, the same opening: cut the arc about B.", whole=False)
        left = d.meet(from_b, a_side, "E", where="above")
        d.also("End", a, "plain")
        d.centroid([a, b, right, top, left], "O")
    with d.phase("Line in"):
        d.line_in([a, b, right, top, left], closed=True, says="Line in the five sides.")


@method(
    PolygonOnSide,
    "protractor",
    about="Each corner set off by protractor and each side by the rule, one after the other.",
    source="The angle sum of a polygon (Euclid, Elements I.32)",
)
def on_side_protractor(g: PolygonOnSide, d: Draft) -> None:
    a, b, base = _base(g, d)
    turn = 360.0 / g.sides
    spots, side = [a, b], base
    with d.phase("Corner by corner"):
        for k in range(1, g.sides - 1):
            name, before = g.corners[k + 1], spots[-1].name
            says = f"At {before} set off the corner angle; lay off the side on it: {name}."
            corner = Setting(180.0 - turn, "°")
            with d.as_one("Protractor", says, corner, Setting(g.side, "mm"), why=f"180° − 360° / {g.sides}"):
                side = d.ray(spots[-1], angle_of(side.u) + turn, instrument="Protractor")
                spots.append(d.lay_off(side, spots[-1], g.side, name))
        says = "The last side should close on A: by how much it does not is the sum of all misses."
        with d.as_one("Protractor", says, Setting(180.0 - turn, "°"), Setting(g.side, "mm")):
            last = d.ray(spots[-1], angle_of(side.u) + turn, instrument="Protractor")
            d.lay_off(last, spots[-1], g.side, "End", kind="plain")
        d.centroid(spots, "O")
    with d.phase("Line in"):
        d.line_in(spots, closed=True, says=f"Line in the {g.sides} sides.")
