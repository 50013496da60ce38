"""Further schools of the ellipse: divided rectangle, four centres, and focus with directrix."""

from __future__ import annotations

from typing import NamedTuple

from wise_compass.drafting import moves
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm
from wise_compass.figures.curves.conics import Ellipse, axes_of, line_in_ellipse
from wise_compass.geometry import conics
from wise_compass.geometry.vectors import cosd


class _Lie(NamedTuple):
    """The long and the short axis as lines through the centre; distances along the short one run with ``side``."""

    g: Ellipse
    d: Draft
    centre: Spot

    @property
    def level(self) -> bool:
        return self.g.level

    @property
    def side(self) -> float:
        return 1.0 if self.level else -1.0

    def long_from(self, spot: Spot, says: str = "") -> LineMark:
        return self.g.long_line(self.d, spot, says)

    def short_from(self, spot: Spot, says: str = "") -> LineMark:
        return self.g.short_line(self.d, spot, says)

    @property
    def sides(self) -> tuple[str, str]:
        """Where the positive and the negative end of the short axis point."""
        return ("above", "below") if self.level else ("left", "right")

    def shift(self) -> int:
        """How many quarters P0, at the right, lies before the long axis's positive end."""
        return 0 if self.level else 1


@method(
    Ellipse,
    "rectangle",
    about="Rays from the ends of one axis to a divided side and a divided half axis cross on the ellipse.",
    source="Steiner's generation of a conic by two projective pencils",
)
def rectangle(g: Ellipse, d: Draft) -> None:
    centre = axes_of(g, d)
    right, up = g.reach
    m = g.divisions // 4
    spots: dict[int, Spot] = {}
    with d.phase("Rectangle"):
        level, upright = d.level_from(centre, "Draw the level axis."), d.upright_from(centre, "Draw the upright axis.")
        for k, (line, length, words) in enumerate(
            (
                (level, right, "the right"),
                (upright, up, "the top"),
                (level, -right, "the left"),
                (upright, -up, "the bottom"),
            )
        ):
            spots[k * m] = d.lay_off(line, centre, length, f"P{k * m}", f"Lay off half of it from O: {words} end.")
        corners: dict[tuple[int, int], Spot] = {}
        with d.as_one("Set square", "Draw level and upright through the four ends: the rectangle about the ellipse."):
            sides = {sign: d.upright_from(spots[0 if sign > 0 else 2 * m]) for sign in (1, -1)}
            for sign in (1, -1):
                cap = d.level_from(spots[m if sign > 0 else 3 * m])
                for side, line in sides.items():
                    corners[side, sign] = d.meet(line, cap)
    with d.phase("Divide"):
        inner = {
            side: d.divide(centre, end, m, says=f"Cut the {words} half of the level axis into {m} equal spaces.")
            for side, end, words in ((1, spots[0], "right"), (-1, spots[2 * m], "left"))
        }
        outer = {}
        for (side, sign), corner in corners.items():
            end = spots[0 if side > 0 else 2 * m]
            words = f"{'right' if side > 0 else 'left'} side, {'upper' if sign > 0 else 'lower'} half"
            outer[side, sign] = d.divide(corner, end, m, says=f"Cut the {words} into {m} equal spaces.")
    with d.phase("Find the points"):
        for quarter, (side, sign) in enumerate(((1, 1), (-1, 1), (-1, -1), (1, -1))):
            near, far = (spots[m], spots[3 * m]) if sign > 0 else (spots[3 * m], spots[m])
            for j in range(1, m):
                # marks are counted from the axis end outward in odd quarters and toward it in even ones
                mark = m - j if quarter % 2 == 0 else j
                name = f"P{quarter * m + j}"
                says = (
                    f"Join {near.name} to mark {mark} of the side and {far.name} to mark "
                    f"{mark} of the axis: they cross at {name}."
                )
                with d.as_one("Straightedge", says):
                    spots[quarter * m + j] = d.meet(
                        d.rule(near, outer[side, sign][mark]), d.rule(far, inner[side][mark]), name
                    )
    line_in_ellipse(g, d, [spots[k] for k in range(g.divisions)])


def _flat_refusal(g: Ellipse) -> str | None:
    if g.long - g.wide < 2:
        return (
            "So nearly round an oval needs no four centres; long must exceed wide "
            "by 2 mm. Lower wide or take another method."
        )
    if g.wide < g.long / 10:
        least = least_mm(g.long / 10)
        return (
            f"wide is {mm(g.wide)}; for four arcs it must be at least a tenth of long, {least}. Raise wide to {least}."
        )
    return None


@method(
    Ellipse,
    "four-centres",
    exact=False,
    fits=_flat_refusal,
    fits_given="wide",
    about="Four arcs that join smoothly stand for the curve: quick, and near enough for joinery and lettering.",
    source="Draughtsmen's rule: arcs about two centres on each axis, joined on the line of centres",
)
def four_centres(g: Ellipse, d: Draft) -> None:
    centre = axes_of(g, d)
    lie = _Lie(g, d, centre)
    a, b = g.long / 2, g.wide / 2
    q = 2 * lie.shift()
    ends: dict[int, Spot] = {}
    with d.phase("Ends"):
        long = lie.long_from(centre, "Draw the long axis.")
        short = lie.short_from(centre, "Draw the short axis.")
        for number, line, length in (
            (q, long, a),
            (q + 2, short, lie.side * b),
            ((q + 4) % 8, long, -a),
            ((q + 6) % 8, short, -lie.side * b),
        ):
            ends[number] = d.lay_off(line, centre, length, f"P{number}", f"Lay off half the axis: P{number}.")
    east, north, west, south = (ends[(q + 2 * k) % 8] for k in range(4))
    with d.phase("Centres"):
        chord = d.rule(east, north, f"Join {east.name} to {north.name}.")
        swing = d.compass(
            centre, d.opening(centre, east), f"Centre O through {east.name}: cut the short axis produced.", whole=False
        )
        over = d.meet(swing, short, "E", near=north)
        words = f"Centre {north.name}, through E: cut the chord at F, the difference of the half axes off."
        cut = d.meet(d.compass(north, d.opening(north, over), words, whole=False), chord, "F", near=east)
        half = moves.perpendicular_bisector(d, east, cut)
        with d.as_one(
            "Pencil", "Where it meets the long axis is the centre C1, the short axis produced the centre C4."
        ):
            one, four = d.meet(half, long, "C1"), d.meet(half, short, "C4")
        with d.as_one("Dividers", "Carry both across O: C2 and C3.", Setting(a - g.four_radii[0], "mm")):
            two = d.mirror(one, centre, "C2")
            three = d.mirror(four, centre, "C3")
    joints: dict[int, Spot] = {}
    with d.phase("Joints"):
        for number, side, end, axis_end in (
            (1, four, one, east),
            (3, four, two, west),
            (5, three, two, west),
            (7, three, one, east),
        ):
            name = f"P{(q + number) % 8}"
            line = d.rule(side, end, f"Join {side.name}{end.name} and on: the joint lies on it.", role=Role.LOCUS)
            arc = d.compass(
                end, d.opening(end, axis_end), f"Centre {end.name}, through {axis_end.name}: cut it.", whole=False
            )
            joints[number] = d.meet(line, arc, name, far=side, kind="tangent")
    g.touch_in(d)
    with d.phase("Line in"):
        for hub, start, end, radius_to in (
            (one, joints[7], joints[1], east),
            (four, joints[1], joints[3], north),
            (two, joints[3], joints[5], west),
            (three, joints[5], joints[7], south),
        ):
            d.arc_in(hub, d.opening(hub, radius_to), start, end)


def _directrix_refusal(g: Ellipse) -> str | None:
    a = g.long / 2
    c = float(conics.focal_distance(a, g.wide / 2))
    if c < a / 10:
        return _width_refusal(g, "more than ten half axes off", "at most", a / 10)
    least = max(0.01 * a, 1.0)
    if a * (a - c) / c < least:
        return _width_refusal(g, f"within {mm(least)} of the vertex", "at least", a * a / (a + least))
    return None


def _width_refusal(g: Ellipse, where: str, bound: str, focal: float) -> str:
    """The words for a directrix out of reach; ``focal`` is the focal distance at the limit."""
    limit = (most_mm if bound == "at most" else least_mm)(2 * float(conics.focal_distance(g.long / 2, focal)))
    words = f"The directrix of this ellipse lies {where}; for this method wide must be {bound} {limit}."
    return f"{words} {'Lower' if bound == 'at most' else 'Raise'} wide or choose two-circles."


@method(
    Ellipse,
    "eccentricity",
    fits=_directrix_refusal,
    fits_given="wide",
    about="Every point is the eccentricity times as far from the focus as from the directrix.",
    source="The focus and directrix property (Pappus, Collection VII)",
)
def eccentricity(g: Ellipse, d: Draft) -> None:
    centre = axes_of(g, d)
    lie = _Lie(g, d, centre)
    a, n = g.long / 2, g.divisions
    c = float(conics.focal_distance(a, g.wide / 2))
    first = lie.shift() * n // 4
    spots: dict[int, Spot] = {}
    with d.phase("Focus and directrix"):
        axis = lie.long_from(centre, "Draw the long axis on beyond its end.")
        for k, length in ((first, a), ((first + n // 2) % n, -a)):
            spots[k] = d.lay_off(axis, centre, length, f"P{k}", f"Lay off half the long axis: P{k}.")
        vertex = spots[first]
        two = d.lay_off(
            axis, centre, c, "F2", "Lay off the focal distance: F2.", why=f"√({bare(a)}² − {bare(g.wide / 2)}²)"
        )
        one = d.lay_off(axis, centre, -c, "F1", "And the other way: F1.")
        foot = d.lay_off(
            axis, centre, a * a / c, "D", "Lay off the directrix's distance: D.", why=f"{bare(a)}² / {bare(c)}"
        )
        directrix = lie.short_from(foot, "Draw the directrix square to the axis at D.")
        directrix.role = Role.REFERENCE
        directrix.extent(-g.wide / 2, g.wide / 2)
    with d.phase("The rising line"):
        post = lie.short_from(vertex, f"Draw square to the axis at {vertex.name}.")
        arc = d.compass(
            vertex, d.opening(vertex, two), f"Centre {vertex.name}, swing {vertex.name}F2 onto it.", whole=False
        )
        top = d.meet(post, arc, where=lie.sides[0])
        says = "Join D to it and on: the rising line."
        rising = d.rule(foot, top, says, why="its height is the eccentricity times the distance from the directrix")
    with d.phase("Find the points"):
        for k in range(1, n // 4 + 1):
            x = a * float(cosd(360.0 * k / n))
            numbers = [(first + j) % n for j in ((k, -k, n // 2 - k, n // 2 + k) if 4 * k < n else (k, -k))]
            listed = ", ".join(f"P{number}" for number in numbers)
            says = (
                "Take the rising line's height here; with it cut the upright from "
                f"F2, and the mirrored one from F1: {listed}."
            )
            if 4 * k == n:
                says = (
                    f"At O the rising line is half the long axis high; with that cut the short axis from F2: {listed}."
                )
            with d.as_one("Compass", says, Setting(x, "mm"), Setting(a - c / a * x, "mm")):
                mark = d.lay_off(axis, centre, x, "", kind="plain")
                upright = lie.short_from(mark)
                opening = d.opening(mark, d.meet(upright, rising))
                swung = d.compass(two, opening, whole=False)
                for number, where in zip(numbers[:2], lie.sides):
                    spots[number] = d.meet(upright, swung, f"P{number}", where=where)
                if 4 * k < n:
                    mirrored = lie.short_from(d.lay_off(axis, centre, -x, "", kind="plain"))
                    swung = d.compass(one, opening, whole=False)
                    for number, where in zip(numbers[2:], lie.sides):
                        spots[number] = d.meet(mirrored, swung, f"P{number}", where=where)
    line_in_ellipse(g, d, [spots[k] for k in range(n)])
