"""Conics."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.capabilities import Curved, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, trim
from wise_compass.figures.curves.touching import Touching, by_focal_radii
from wise_compass.geometry import conics
from wise_compass.geometry.curve_places import nearest
from wise_compass.geometry.curves import Curve, ellipse_curve
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, distance, point, polar, sind

T = TypeVar("T")


class Ellipse(Curved, Moving, Touching, id="ellipse", family="conics", title="Ellipse"):
    keys = ("P*",)
    brief = "An ellipse {long} long and {wide} wide, lying {lie}, found with {method} in {divisions} divisions."
    summary = "The oval of two foci: an arch, a pipe cut on the slant, a circle seen askew."
    ways = ("two-circles", "trammel", "focus-arcs", "rectangle", "four-centres", "eccentricity")
    value_names = ("focal_distance", "eccentricity", "area", "perimeter", "level_extent", "upright_extent")

    long = Length(152, "the long axis")
    wide = Length(88, "the short axis", most="long")
    lie = Choice("level", "the lie of the long axis", ("level", "upright"))
    divisions = Count(12, "the number of divisions", 8, 72, multiple=4)
    at = Angle(60, "the eccentric angle of the point of touch, from the right end", least=-360, most=360)

    @property
    def reach(self) -> tuple[float, float]:
        """Half the figure's width and half its height."""
        return self.as_it_lies(self.long / 2, self.wide / 2)

    @property
    def level(self) -> bool:
        """Whether the long axis lies level."""
        return self.lie == "level"

    def as_it_lies(self, of_long: T, of_short: T) -> tuple[T, T]:
        """What belongs to the long axis and to the short one, as first the level and then the upright one; or the way
        back."""
        return (of_long, of_short) if self.level else (of_short, of_long)

    def on_axes(self, along_long: Number, along_wide: Number) -> Array:
        """A point from its distances along the long and the short axis, as the ellipse lies."""
        return point(along_long, along_wide) if self.level else point(-along_wide, along_long)

    def long_line(self, d: Draft, centre: Spot, says: str = "") -> LineMark:
        """The long axis as a line through the centre."""
        return d.level_from(centre, says) if self.level else d.upright_from(centre, says)

    def short_line(self, d: Draft, centre: Spot, says: str = "") -> LineMark:
        """The short axis as a line through the centre."""
        return d.upright_from(centre, says) if self.level else d.level_from(centre, says)

    @property
    def foci(self) -> tuple[Array, Array]:
        c = float(conics.focal_distance(self.long / 2, self.wide / 2))
        return self.on_axes(-c, 0.0), self.on_axes(c, 0.0)

    def values(self, method: str) -> Iterable[Value]:
        a, b = self.long / 2, self.wide / 2
        c = float(conics.focal_distance(a, b))
        sa, sb = bare(a), bare(b)
        yield Value("focal_distance", c, "mm", f"√({sa}² − {sb}²)", ("F1", "F2", "O"))
        yield Value("eccentricity", c / a, "", f"√({sa}² − {sb}²) / {sa}", ("F1", "F2"))
        yield Value("area", np.pi * a * b, "mm²", f"π × {sa} × {sb}")
        yield Value(
            "perimeter",
            float(conics.ellipse_perimeter(a, b)),
            "mm",
            f"4 × {sa} × E({trim(c / a, 6)}), E the elliptic integral of √(1 − e² sin² t) over t from 0 to ½π",
        )
        right, up = self.reach
        yield Value("level_extent", 2 * right, "mm", f"2 × {bare(right)}")
        yield Value("upright_extent", 2 * up, "mm", f"2 × {bare(up)}")
        yield from self.touch_values()
        if method == "four-centres":
            yield from self._drawn_values()

    @property
    def four_radii(self) -> tuple[float, float]:
        """Radii of the arcs that stand for the ellipse: about its long ends and about its sides.

        The long end and the short one are joined, the difference of the half axes taken off: the rest is halved.
        """
        a, b = self.long / 2, self.wide / 2
        diagonal = float(np.hypot(a, b))
        end = (diagonal - (a - b)) / 2 * diagonal / a
        return end, b + (a - end) * a / b

    def _drawn_values(self) -> Iterator[Value]:
        a, b = bare(self.long / 2), bare(self.wide / 2)
        end, side = self.four_radii
        words = f"½ (√({a}² + {b}²) − {a} + {b}) √({a}² + {b}²) / {a}"
        yield Value("end_radius", end, "mm", words, ("C1", "C2"), drawn=True)
        words = f"{b} + ({a} − {bare(end)}) × {a} / {b}"
        yield Value("side_radius", side, "mm", words, ("C3", "C4"), drawn=True)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        words = super().sentence(givens, method)
        return words.replace(" in {divisions} divisions", "") if method == "four-centres" else words

    def refuse(self) -> None:
        super().refuse()
        if self.touch != "none" and self.wide < self.long / 200:
            least = least_mm(self.long / 200)
            words = f"wide is {mm(self.wide)}: no tangent can be drawn to so flat an ellipse."
            raise Refused("wide", f"{words} Raise wide to {least} or set touch to none.")

    @cached_property
    def touched(self) -> Curve:
        right, up = self.reach
        return ellipse_curve(point(right, 0.0), point(0.0, up))

    @property
    def touched_range(self) -> tuple[float, float]:
        return -360.0, 360.0

    def courses(self, method: str) -> Sequence[Course]:
        n = self.divisions
        across, upright = self.as_it_lies("long", "short")
        marks = tuple((90.0 * k, f"the ends of the {across if k % 2 == 0 else upright} axis") for k in range(4))
        stations = evenly(360.0 / n, n)
        names = tuple(f"P{k}" for k in range(n))
        if method == "rectangle":
            share = np.arange(n // 4, 0, -1) / (n // 4)
            quarter = 90.0 - 2 * np.rad2deg(np.arctan(share))
            stations = np.concatenate([quarter, 180.0 - np.append(90.0, quarter[:0:-1])])
            stations = np.concatenate([stations, 180.0 + stations])
        if method == "four-centres":
            stations, names = np.zeros(0), ()
        return (
            Course(
                "the ellipse",
                self.touched,
                stations,
                names,
                landmarks=marks,
                turn="eccentric angle",
                pole=point(0.0, 0.0),
            ),
        )

    def mechanism(self, found: Found, t: float) -> Frame | None:
        """The trammel's strip: its mark N on the long axis, M on the short one, P on the ellipse."""
        if found.method != "trammel":
            return None
        turn = t if self.level else t - 90.0
        apart = (self.long - self.wide) / 2
        n, m = self.on_axes(apart * cosd(turn), 0.0), self.on_axes(0.0, -apart * np.asarray(sind(turn)))
        p = self.touched.at(t)
        over = p + 0.08 * (p - m)
        return Frame((np.array([m - 0.08 * (p - m), over]),), (), (m, n, p))

    def normal_by_hand(self, d: Draft) -> tuple[Spot, LineMark]:
        centre = d.spots["O"]
        if "F1" in d.spots:
            one, two = d.spots["F1"], d.spots["F2"]
        else:
            axis = self.long_line(d, centre, "Take the long axis.")
            c = float(conics.focal_distance(self.long / 2, self.wide / 2))
            why = f"√({bare(self.long / 2)}² − {bare(self.wide / 2)}²)"
            one = d.lay_off(axis, centre, -c, "F1", "Lay off the focal distance from O: F1.", why)
            two = d.lay_off(axis, centre, c, "F2", "And the other way: F2.")
        q = self.point_by_hand(d, f"Find the point of {trim(self.at)}°", centre)
        return q, by_focal_radii(d, q, one, two, sum_of_radii=True)

    def measure(self, found: Found) -> dict[str, Number]:
        """From the curve's own four ends: what it measures along and across the lie that was asked for."""
        p = found.group("P")
        quarter = p.shape[-2] // 4
        level = distance(p[..., 0, :], p[..., 2 * quarter, :]) / 2
        upright = distance(p[..., quarter, :], p[..., 3 * quarter, :]) / 2
        a, b = self.as_it_lies(level, upright)
        c = conics.focal_distance(a, b)
        return {
            "focal_distance": c,
            "eccentricity": c / np.maximum(a, b),
            "area": np.pi * a * b,
            "perimeter": conics.ellipse_perimeter(a, b),
            "level_extent": 2 * level,
            "upright_extent": 2 * upright,
            **self.touch_measure(found),
            **self._drawn_measure(found),
        }

    def _drawn_measure(self, found: Found) -> dict[str, Number]:
        if "C1" not in found:
            return {}
        return {
            "end_radius": distance(found["C1"], found["P1"]),
            "side_radius": distance(found[self._side_hub], found["P1"]),
        }

    @property
    def _side_hub(self) -> str:
        """The centre of the arc beside the short axis's end."""
        return "C4" if self.level else "C3"

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        one, two = self.foci
        total = distance(p, one) + distance(p, two)
        yield Truth(f"The two focal distances sum to {mm(self.long)} at all {p.shape[-2]} points", total - self.long)
        ends = self.on_axes(np.array([-1.0, 1.0]) * self.long / 2, np.zeros(2))
        nearest = distance(p[..., :, None, :], ends).min(axis=-2)
        yield Truth("Both ends of the long axis are among the points", nearest)
        if "C1" in found:
            yield Truth("The four arcs keep to the ellipse all along", self._arcs_off(found))
        yield from self.touch_truths(found)

    def _arcs_off(self, found: Found) -> Array:
        """How far the arcs of a quarter lie from the ellipse; the other quarters are its images."""
        share = np.linspace(0.0, 1.0, 25)
        first_hub, then = self.as_it_lies("C1", self._side_hub)
        arcs = []
        for hub, start, end in ((first_hub, "P0", "P1"), (then, "P1", "P2")):
            centre = found[hub]
            first, last = angle_of(found[start] - centre), angle_of(found[end] - centre)
            arcs.append(polar(centre, distance(found[start], centre), first + (last - first) * share))
        line = np.concatenate(arcs)
        return nearest(self.touched, line, np.full(len(line), -1.0), np.full(len(line), 91.0))[1]

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        right, up = self.reach
        level, upright = self.as_it_lies("long", "wide")
        # clear of the outer circle, or of the centres that lie beyond the short axis
        clear = {"two-circles": self.long / 2, "four-centres": self.four_radii[1] - self.wide / 2}.get(
            found.method, 0.0
        )
        across = max(self.wide / 2, clear)
        low, side = (across, right) if self.level else (up, across)
        yield Linear(point(-right, 0.0), point(right, 0.0), level, 2 * right, past=point(0.0, -low))
        yield Linear(point(0.0, -up), point(0.0, up), upright, 2 * up, past=point(side, 0.0))
        yield from self.touch_dimensions(found)


def axes_of(g: Ellipse, d: Draft) -> Spot:
    """The centre and the two axes every method starts from."""
    with d.phase("Axes"):
        centre = d.start_at("O", says="Mark the centre O.")
        right, up = g.reach
        level = d.level_from(centre, "Draw a level centre line through O.", role=Role.CENTRE)
        upright = d.upright_from(centre, "Draw an upright centre line through O.", role=Role.CENTRE)
        level.extent(-right - 3, right + 3)
        upright.extent(-up - 3, up + 3)
    return centre


def line_in_ellipse(g: Ellipse, d: Draft, points: list[Spot]) -> None:
    """The curve through its points, after what touches it."""
    g.touch_in(d)
    with d.phase("Line in"):
        d.curve(points, closed=True, says=f"Line in the ellipse through the {len(points)} points.")


@method(
    Ellipse,
    "two-circles",
    about="Two circles give every point by one upright and one level line.",
    source="The affinity of the ellipse to its two circles (the eccentric angle)",
)
def two_circles(g: Ellipse, d: Draft) -> None:
    centre = axes_of(g, d)
    with d.phase("Two circles"):
        outer = d.compass(centre, g.long / 2, "Centre O, draw the outer circle.", why="half the long axis")
        inner = d.compass(centre, g.wide / 2, "Same centre, draw the inner circle.", why="half the short axis")
    with d.phase("Divide"):
        rays = d.divide_turn(centre, g.divisions, length=g.long / 2)
    right, slip = (outer, inner), (inner, outer)
    names = "outer", "inner"
    points: list[Spot] = []
    with d.phase("Find the points"):
        for k, ray in enumerate(rays):
            upright, level = d.choice(
                "circles-exchanged",
                right=right if g.level else slip,
                slip=slip if g.level else right,
                says="The level line is taken from the circle that should give the upright line.",
                at=f"P{k}",
            )
            from_name, across_name = names if upright is outer else names[::-1]
            says = f"From {k} on the {from_name} circle draw upright; from {k} on the {across_name} draw level: P{k}."
            if 4 * k % g.divisions == 0:
                far = upright if k * 2 % g.divisions == 0 else level
                with d.as_one(
                    "Pencil", f"P{k} is where the axis cuts the {'outer' if far is outer else 'inner'} circle."
                ):
                    points.append(d.meet(ray, far, f"P{k}", near=moves.towards(centre, ray, g.long)))
                continue
            with d.as_one("Set square", says, Setting(90, "°")):
                ahead = moves.towards(centre, ray, g.long)
                down = d.upright_from(d.meet(ray, upright, near=ahead))
                over = d.level_from(d.meet(ray, level, near=ahead))
                points.append(d.meet(down, over, f"P{k}"))
    line_in_ellipse(g, d, points)


def _trammel_refusal(g: Ellipse) -> str | None:
    if g.long - g.wide < 2:
        return (
            f"The trammel's two marks lie half of long less half of wide apart, here {mm((g.long - g.wide) / 2)};"
            " they need 1 mm; lower wide by enough, or choose another method."
        )
    return None


@method(
    Ellipse,
    "trammel",
    fits=_trammel_refusal,
    fits_given="wide",
    about="A marked strip of paper gives any point at once; nothing but the axes is drawn.",
    source="The trammel of Archimedes",
)
def trammel(g: Ellipse, d: Draft) -> None:
    centre = axes_of(g, d)
    a, b = g.long / 2, g.wide / 2
    with d.phase("The strip"):
        why = "PM is half the long axis, PN half the short"
        strip = d.strip(a, b, "On the edge of a strip mark P, then M and N from it.", why)
    points: list[Spot] = []
    with d.phase("Find the points"):
        for k in range(g.divisions):
            # the strip lies at the eccentric angle, measured from the long axis
            turn = 360.0 * k / g.divisions - (0 if g.level else 90)
            # of the two marks the one that lies further from O is laid off: the other is then sure of its place
            by_n = abs(float(cosd(turn))) < 0.7
            slide = (a - b) * float(cosd(turn) if by_n else -sind(turn))
            slide = slide if abs(slide) > 1e-9 else 0.0
            first, second = ("N on the long", "M on the short") if by_n else ("M on the short", "N on the long")
            where = _side_of(g.on_axes(slide, 0.0) if by_n else g.on_axes(0.0, slide))
            says = f"Lay {first} axis {where} and {second} axis; mark P{k}."
            points.append(d.lay_strip(strip, centre, g.on_axes(1.0, 0.0), turn, f"P{k}", slide, says))
    line_in_ellipse(g, d, points)


def _side_of(at: Array) -> str:
    """Words for where a mark on an axis lies from the centre."""
    x, y = (float(v) for v in at)
    if max(abs(x), abs(y)) < 1e-9:
        return "at O"
    way = ("to the right", "to the left") if abs(x) > abs(y) else ("above", "below")
    return f"this far {way[0] if x + y > 0 else way[1]}{' of' if abs(x) > abs(y) else ''} O"


def _foci_refusal(g: Ellipse) -> str | None:
    c = float(conics.focal_distance(g.long / 2, g.wide / 2))
    if c < 1:
        return (
            f"The foci of this ellipse lie {mm(2 * c)} apart, too close to swing arcs from both; they need {mm(2)}."
            " Lower wide, or choose two-circles."
        )
    return None


@method(
    Ellipse,
    "focus-arcs",
    fits=_foci_refusal,
    fits_given="wide",
    about="The definition itself: two arcs whose radii sum to the long axis.",
    source="The definition by the sum of the distances from the foci (Apollonius, Conics III.52)",
)
def focus_arcs(g: Ellipse, d: Draft) -> None:
    centre = axes_of(g, d)
    a, b = g.long / 2, g.wide / 2
    c = float(conics.focal_distance(a, b))
    lettered = (
        {0: "right", g.divisions // 2: "left"} if g.level else {g.divisions // 4: "top", 3 * g.divisions // 4: "bottom"}
    )
    spots: dict[int, Spot] = {}
    with d.phase("Foci"):
        across = g.long_line(d, centre, "Draw the long axis.")
        ends = list(lettered)
        for k, sign in ((ends[0], 1), (ends[1], -1)):
            spots[k] = d.lay_off(across, centre, sign * a, f"P{k}", why="half the long axis")
        short = g.short_line(d, centre, "Draw the short axis.")
        end = d.lay_off(short, centre, b, "", "Lay off half the short axis from O.", kind="plain")
        arc = d.compass(
            end,
            a,
            "Centre the end of the short axis, cut the long axis on both sides.",
            whole=False,
            why="each end of the short axis lies half the long axis from both foci",
        )
        two = d.meet(arc, across, "F2", near=spots[ends[0]])
        one = d.meet(arc, across, "F1", far=spots[ends[0]])
    with d.phase("Find the points"):
        for k in range(1, g.divisions // 2):
            turn = 360.0 * k / g.divisions
            first = a + c * float(cosd(turn))
            second = d.once(
                "pair-not-summing",
                right=2 * a - first,
                slip=2 * a - first + a / 20,
                says="One pair of radii does not sum to the long axis: the second is a twentieth of half "
                "the long axis too large.",
                at=f"pair {k}",
                usual=k == max(g.divisions // 8, 1),
            )
            pair = (
                ((k, "above"), (g.divisions - k, "below"))
                if g.level
                else (((g.divisions // 4 + k) % g.divisions, "left"), ((g.divisions // 4 - k) % g.divisions, "right"))
            )
            with d.as_one(
                "Compass",
                f"Centre F1 with the first radius, F2 with the second: they cross at P{pair[0][0]} and P{pair[1][0]}.",
                Setting(first, "mm"),
                Setting(second, "mm"),
                why=f"they sum to {mm(2 * a)}",
            ):
                far_arc = d.compass(one, first, whole=False)
                near_arc = d.compass(two, second, whole=False)
                for number, where in pair:
                    spots[number] = d.meet(far_arc, near_arc, f"P{number}", where=where)
    line_in_ellipse(g, d, [spots[k] for k in range(g.divisions)])
