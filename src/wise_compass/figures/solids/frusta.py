"""The frustum of an upright cone: two arcs about one apex."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, Edge, Face, InViews, Part, Solid
from wise_compass.drafting.dimensions import Dimension, Radial, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import LONGEST_LENGTH, Choice, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.solids.prisms import APART
from wise_compass.figures.solids.sectors import sector_ends
from wise_compass.figures.solids.upright import BEYOND, GAP
from wise_compass.geometry.solids import ring
from wise_compass.geometry.unfold import FlatPiece, Pattern, fold_angle, resting
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    distance,
    length,
    multiples,
    point,
    point3,
    polar,
    sind,
)

SLICES = 36
"""Flat strips that the pattern is rolled up in, in the space view."""
FAR_OFF = 1200.0
"""mm from which on a centre is hardly to be swung about."""
BY_TRIANGLES = "round-to-round with offset_x and offset_y of 0"


class Frustum(InViews, Solid, Developed, Figure, id="frustum", family="solids", title="Frustum of a cone"):
    keys = ("B", "B.front", "O.front", "O.top", "T", "T.front")
    brief = "A frustum {bottom} wide below, {top} wide above and {height} high. Draw {show}, with {method}."
    summary = "A bucket, a lampshade, a reducer: its views, and the pattern between two arcs."
    across = ("bottom", "top")
    hazards = (hazards.SHEET, hazards.DUCT)
    value_names = (
        "slant",
        "inner_radius",
        "outer_radius",
        "sector_angle",
        "lateral_area",
        "blank_length",
        "blank_width",
    )
    ways = ("radial-lines",)

    bottom = Length(76, "the diameter below")
    top = Length(48, "the diameter above")
    height = Length(52, "the height")
    show = Choice(
        "all",
        "what is drawn",
        ("views", "pattern", "all"),
        {"views": "the views", "pattern": "the views and the pattern", "all": "all of it"},
    )

    def refuse(self) -> None:
        wide = max(self.bottom, self.top) / 2
        least = wide * self.height / float(np.sqrt(max(LONGEST_LENGTH**2 - wide**2, 1.0)))
        if wide - min(self.bottom, self.top) / 2 < max(least, 1e-9 * wide):
            smaller = "top" if self.top <= self.bottom else "bottom"
            raise Refused(
                smaller,
                f"The two diameters differ by {mm(abs(self.bottom - self.top))}: the sides "
                "meet too far off for a pattern about one "
                f"apex, whose radius may be {most_mm(LONGEST_LENGTH)}. Lower {smaller} to "
                f"{most_mm(2 * (wide - least) - 0.01)}, or draw it by triangulation, as {BY_TRIANGLES}.",
            )

    def cautions(self) -> Iterable[str]:
        if self.outer > FAR_OFF:
            yield (
                f"The centre of the pattern's arcs lies {mm(round(self.outer))} off, past most beam compasses: by "
                f"triangulation, as {BY_TRIANGLES}, it needs no centre."
            )

    @property
    def wide(self) -> float:
        """The larger radius."""
        return max(self.bottom, self.top) / 2

    @property
    def narrow(self) -> float:
        return min(self.bottom, self.top) / 2

    @property
    def slant(self) -> float:
        return float(np.hypot(self.height, self.wide - self.narrow))

    @property
    def outer(self) -> float:
        return self.slant * self.wide / (self.wide - self.narrow)

    @property
    def inner(self) -> float:
        return self.slant * self.narrow / (self.wide - self.narrow)

    @property
    def sector(self) -> float:
        return 360.0 * (self.wide - self.narrow) / self.slant

    @property
    def wants_pattern(self) -> bool:
        return self.show != "views"

    def values(self, method: str) -> Iterable[Value]:
        wide, narrow, off = bare(self.wide), bare(self.narrow), bare(self.wide - self.narrow)
        seam = ("P0", "Q0") if self.wants_pattern else ()
        yield Value("slant", self.slant, "mm", f"√({bare(self.height)}² + {off}²)", seam)
        yield Value(
            "inner_radius", self.inner, "mm", f"{bare(self.slant)} × {narrow} / {off}", ("W", *seam[:1]) if seam else ()
        )
        yield Value(
            "outer_radius", self.outer, "mm", f"{bare(self.slant)} × {wide} / {off}", ("W", *seam[1:]) if seam else ()
        )
        angle = f"360° × {off} / {bare(self.slant)}"
        yield Value("sector_angle", self.sector, "°", angle, ("Q0", "W", "Qn") if seam else ())
        area = float(np.pi * (self.wide + self.narrow) * self.slant)
        yield Value("lateral_area", area, "mm²", f"π × ({wide} + {narrow}) × {bare(self.slant)}")
        half = trim(self.sector / 2)
        long = 2 * self.outer * (1.0 if self.sector >= 180 else float(sind(self.sector / 2)))
        says = f"2 × {bare(self.outer)}" + ("" if self.sector >= 180 else f" × sin {half}°")
        yield Value("blank_length", long, "mm", f"{says}, level")
        low = min(self.inner * float(cosd(self.sector / 2)), self.outer * float(cosd(self.sector / 2)))
        which = self.inner if self.sector <= 180 else self.outer
        yield Value("blank_width", self.outer - low, "mm", f"{bare(self.outer)} − {bare(which)} × cos {half}°, upright")

    def measure(self, found: Found) -> dict[str, Number]:
        if "W" not in found:
            return {"slant": distance(found["B.front"], found["T.front"])}
        angle = (angle_of(found["Qn"] - found["W"]) - angle_of(found["Q0"] - found["W"])) % 360.0
        inner, outer = (distance(found["W"], found[name]) for name in ("P0", "Q0"))
        return {
            "slant": distance(found["B.front"], found["T.front"]),
            "inner_radius": inner,
            "outer_radius": outer,
            "sector_angle": angle,
            "lateral_area": np.deg2rad(angle) * (outer**2 - inner**2) / 2,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        for name, radius, words in (("B", self.bottom / 2, "bottom"), ("T", self.top / 2, "top")):
            yield Truth(f"The {words} reaches {mm(radius)} from the axis", length(found[name][:2]) - radius)
        yield Truth(f"The top stands {mm(self.height)} over the bottom", found["T"][2] - found["B"][2] - self.height)
        if self.wants_pattern:
            angle = (angle_of(found["Qn"] - found["W"]) - angle_of(found["Q0"] - found["W"])) % 360.0
            for name, radius, words in (("Q", self.wide, "outer"), ("P", self.narrow, "inner")):
                arc = np.deg2rad(angle) * distance(found["W"], found[f"{name}0"])
                yield Truth(f"The {words} arc is as long as its circle is round", arc - 2 * np.pi * radius)
            yield Truth(
                "Both sides of the seam are as long as the slant", distance(found["P0"], found["Q0"]) - self.slant
            )
            yield Truth(
                "Folded by its own fold angles, all edges that are shared come together", self.pattern(found).gap()
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        foot, right = found["O.front"], point(self.wide, 0.0)
        high = foot + point(self.top / 2, self.height)
        yield upright(foot + point(self.bottom / 2, 0.0), high, "height", self.height, -1, past=foot + right)
        yield Radial(found["O.top"], self.bottom / 2, "bottom", self.bottom, 45.0, diameter=True)
        yield Radial(found["O.top"], self.top / 2, "top", self.top, 135.0, diameter=True)

    # in space

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        (low,), (high,) = self._rims(1)
        return [("B T", low, high), ("V B" if self.bottom > self.top else "V T", *self._whole_side)]

    @property
    def _whole_side(self) -> tuple[Array, Array]:
        """From the apex to the larger rim."""
        over = self.wide * self.height / (self.wide - self.narrow)
        up = self.bottom > self.top
        return point3(0.0, 0.0, over if up else self.height - over), point3(self.wide, 0.0, 0.0 if up else self.height)

    def _rims(self, count: int) -> tuple[Array, Array]:
        return ring(self.bottom / 2, count), ring(self.top / 2, count, height=self.height)

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        base, top = self._rims(SLICES)
        sides = [Face(np.array([base[k - 1], base[k], top[k], top[k - 1]]), True) for k in range(SLICES)]
        return [*sides, Face(base[::-1]), Face(top)]

    def pattern(self, found: Found) -> Pattern:
        """Flat strips between the arcs that were found, which fold up to a frustum of as many sides."""
        w = found["W"]
        first = float(angle_of(found["Q0"] - w))
        part = float((angle_of(found["Qn"] - w) - first) % 360.0) / SLICES
        inner, outer = (float(distance(w, found[name])) for name in ("P0", "Q0"))
        turn = first + multiples(part, SLICES + 1)
        near, far = polar(w, inner, turn), polar(w, outer, turn)
        ratio = float(sind(self.sector / SLICES / 2) / np.sin(np.pi / SLICES))
        # 1 − ratio², by what the sector lacks of a full turn: nearly nothing where the frustum is nearly flat
        lacks = 360.0 * self.height**2 / ((self.slant + self.wide - self.narrow) * self.slant)
        step = 360.0 / SLICES / 2
        tall = float(np.sqrt(sind(lacks / SLICES / 2) * sind(2 * step - lacks / SLICES / 2)) / sind(step))
        up = self.bottom >= self.top  # turned over, a frustum is wound the other way
        way, foot = (1, 0.0) if up else (-1, self.height)
        lower, upper = (
            ring(s * ratio, SLICES, height=foot + way * (self.outer - s) * tall)[::way]
            for s in (self.outer, self.inner)
        )
        solid = [np.array([lower[k], lower[(k + 1) % SLICES], upper[(k + 1) % SLICES]]) for k in range(SLICES)]
        fold = fold_angle(solid[0], solid[1])
        pieces = []
        for k in range(SLICES):
            names = tuple(f"{letter}{(k + j) % SLICES}" for letter, j in (("Q", 0), ("Q", 1), ("P", 1), ("P", 0)))
            flat = np.array([far[k], far[k + 1], near[k + 1], near[k]])
            hinge = np.array([far[k], near[k]])
            pieces.append(FlatPiece(names, flat, k - 1, fold * (k > 0), hinge, hinge))
        root = np.array([lower[0], lower[1], upper[0]])
        return Pattern(pieces, resting(np.array([far[0], far[1], near[0]]), root))

    def cut_out(self, found: Found) -> Sequence[Part]:
        if self.show == "views":
            return ()
        outer, inner = ("base", "top") if self.bottom > self.top else ("top", "base")
        edges = [Edge("Q0", "Qn", outer), Edge("Qn", "Pn", "seam"), Edge("Pn", "P0", inner), Edge("P0", "Q0", "side")]
        return [Part("The pattern", edges)]


class _FrustumHand:
    """The frustum on the way. Spots of the elevation go by their rim and their side: ``B`` below, ``T`` above; +1 is
    right."""

    axis: LineMark
    foot: Spot

    def __init__(self, g: Frustum, d: Draft) -> None:
        self.g, self.d = g, d
        self.views = Views.stacked(d, 0.0, g.height, g.wide, GAP)
        self.ends: dict[tuple[str, int], Spot] = {}
        self.big, self.small = ("bottom", "top") if g.bottom > g.top else ("top", "bottom")

    def plan(self) -> tuple[LineMark, dict[str, ArcMark]]:
        """The level centre line and both circles."""
        g, d = self.g, self.d
        x, y = self.views.top.origin.tolist()
        centre = d.start_at("O.top", x, y, "Mark O, the axis in the plan.", kind="plain")
        with d.as_one("Set square", "Draw the centre lines of the plan through O."):
            level = d.level_from(centre, role=Role.CENTRE).extent(-g.wide - BEYOND, g.wide + BEYOND)
            d.upright_from(centre, role=Role.CENTRE).extent(-g.wide - BEYOND, g.wide + BEYOND)
        rims = {}
        for key, radius, words in (("B", g.bottom / 2, "bottom"), ("T", g.top / 2, "top")):
            hides = Role.HIDDEN if key == "B" and g.bottom < g.top else Role.OUTLINE
            rims[key] = d.compass(
                centre, radius, f"Centre O, line in the circle of the {words}.", "half the diameter", role=hides
            )
            d.meet(level, rims[key], f"{key}.top", where="right")
        self.axis = d.upright_from(centre, "Carry the axis into the elevation.", role=Role.CENTRE)
        lift = float(self.views.front.origin[1]) - y
        self.foot = d.lay_off(
            self.axis, centre, lift, "O.front", "On it mark the foot of the axis, clear of the plan.", kind="plain"
        )
        return level, rims

    def elevation(self, level: LineMark, rims: dict[str, ArcMark]) -> None:
        g, d, views = self.g, self.d, self.views
        ground = d.level_from(self.foot, "Draw the ground line level.").extent(-g.wide - BEYOND, g.wide + BEYOND)
        crown = d.lay_off(self.axis, self.foot, g.height, "", "Measure the height up the axis.", kind="plain")
        over = d.level_from(crown, "Draw the top level.").extent(-g.top / 2, g.top / 2)
        with d.as_one("Set square", "Carry both ends of each circle up to its own level."):
            for key, line in (("B", ground), ("T", over)):
                left = d.meet(level, rims[key], "", where="left")
                for side, spot in ((1, d.spots[f"{key}.top"]), (-1, left)):
                    name = f"{key}.front" if side > 0 else ""
                    self.ends[key, side] = d.meet(d.upright_from(spot, role=Role.PROJECTOR), line, name)
        with d.as_one("Straightedge", "Line in the elevation."):
            d.line_in([self.ends[corner] for corner in (("B", 1), ("T", 1), ("T", -1), ("B", -1))], closed=True)
        for key in "BT":
            d.in_space(key, views.solid(views.spot(key, views.front).at, views.spot(key, views.top).at))

    def pattern(self) -> None:
        g, d, ends = self.g, self.d, self.ends
        key, other = ("B", "T") if g.bottom > g.top else ("T", "B")
        with d.phase("The apex"), d.apart("lengths"):
            side = d.rule(ends[key, 1], ends[other, 1], "Produce the side of the elevation.")
            apex = d.meet(side, self.axis, "V")
        near, far = d.opening(apex, ends[other, 1]), d.opening(apex, ends[key, 1])
        with d.phase("The pattern"), d.apart("pattern"):
            w = self._apex()
            outer = d.compass(
                w, far, f"Centre W, swing the arc of the {self.big} with the whole side as opening.", whole=False
            )
            inner = d.compass(
                w, near, f"Centre W, swing the arc of the {self.small}, from the apex to it.", whole=False
            )
            for arc in (outer, inner):
                arc.swing(-90.0 - g.sector / 2 - 2.0, min(g.sector + 4.0, 360.0))
            corners = self._sector(w, outer)
            sides = [d.rule(w, spot, f"Join {spot.name} to W.") for spot in corners]
            tops = [d.meet(line, inner, name, near=spot) for line, name, spot in zip(sides, ("P0", "Pn"), corners)]
            d.arc_in(w, far, corners[0], corners[1], f"Line in the arc of the {self.big}.")
            d.arc_in(w, near, tops[0], tops[1], f"Line in the arc of the {self.small}.")
            with d.as_one("Straightedge", "Line in both sides of the seam.", why=ALLOWANCES):
                for pair in zip(corners, tops):
                    d.line_in(pair)

    def _apex(self) -> Spot:
        """W, left of the views, at a height at which the pattern lies beside them."""
        g = self.g
        half = g.sector / 2
        wide = g.outer * (1.0 if half >= 90 else float(sind(half)))
        low = min(g.inner * float(cosd(half)), g.outer * float(cosd(half)))
        level = float(self.foot.here[1]) + g.height / 2 + (g.outer + low) / 2
        words = "Mark W, the apex of the pattern, where all of it has room."
        return self.d.start_at("W", -g.wide - APART - wide, level, words)

    def _sector(self, w: Spot, outer: ArcMark) -> list[Spot]:
        """Both ends of the outer arc."""
        g = self.g
        return sector_ends(self.d, w, outer, (g.outer, g.sector, g.wide), ("Q0", "Qn"), straight=float(np.pi * g.wide))


@method(
    Frustum,
    "radial-lines",
    about="The sides produced to their apex; two arcs about it, and the sector’s angle by its chord.",
    source="Development of a conical surface: all generators meet at one apex",
)
def radial_lines(g: Frustum, d: Draft) -> None:
    hand = _FrustumHand(g, d)
    with d.phase("The plan"):
        level, rims = hand.plan()
    with d.phase("The elevation"):
        hand.elevation(level, rims)
    if g.wants_pattern:
        hand.pattern()
