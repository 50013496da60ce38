"""Round solids in isometric: cylinders, cones and frusta on any axis, with their contour lines."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, Picture, Pictured, Solid
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Length
from wise_compass.drafting.marks import ArcMark, Role, Row, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.figures.pictorial.axes import in_space, parallel_picture
from wise_compass.figures.pictorial.ends import Ended, EndedHand
from wise_compass.geometry.vectors import Number, angle_of, multiples, polar

SIDES = 36
TINY = 1e-6
"""mm under which an end is a point."""


class PictorialRound(
    Curved, Solid, Pictured, Ended, id="pictorial-round", family="pictorial", title="Round solid in a picture"
):
    keys = ("C", "M", "P*", "R*")
    brief = opens = "A round solid {bottom} wide where its axis starts and {top} where it ends, {height} long"
    summary = "A hub, a cone, a tapered plug: two ellipses by offsets, and the lines that touch both."
    value_names = ("picture_width", "picture_height")
    ways = ("crate", "contours")

    bottom = Length(50, "the diameter where the axis starts; 0 is a point", least=0)
    top = Length(50, "the diameter where it ends; 0 is a point", least=0)
    height = Length(60, "the length along the axis")

    def refuse(self) -> None:
        self.refuse_axes()
        if max(self.bottom, self.top) <= TINY:
            raise Refused("bottom", "bottom and top are both 0, which leaves a line. Raise bottom or top.")

    @property
    def deep(self) -> float:
        return self.height

    @property
    def radii(self) -> tuple[float, float]:
        """Of the near end and of the far one."""
        ends = [size / 2 if size > TINY else 0.0 for size in (self.bottom, self.top)]
        return (ends[1], ends[0]) if self.axis == "upright" else (ends[0], ends[1])

    @cached_property
    def parts(self) -> int:
        """The divisions of either rim."""
        return self.enough(*self.radii)

    @property
    def touch(self) -> float | None:
        """Half the turn of the far rim that is seen, in degrees; None where no line touches both ends, one lying within
        the other."""
        near, far = self.radii
        share = (near - far) / self.off_axis
        return None if abs(share) >= 1 - 1e-9 else float(np.degrees(np.arccos(share)))

    @property
    def lean(self) -> float:
        """Which way the far end lies from the near one, in the plane of the ends."""
        return float(angle_of(self.shift))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        one, other = self.plane
        names = ("top", "bottom") if self.axis == "upright" else ("bottom", "top")
        middles = found["C"], found["C"] + self.back
        for name, middle, radius, side in zip(names, middles, self.radii, (1, -1)):
            if radius:
                half, way = one * radius, float(angle_of(other))
                yield Linear(middle - half, middle + half, name, 2 * radius, side, rank=3, prefix="⌀", out=way)
        rims = [found["C"] + way * max(self.radii) * one for way in (-1.0, 1.0)]
        yield self.long_dimension(rims, found["C"], "height", self.height)

    def values(self, method: str) -> Iterable[Value]:
        near, far = (self.span(radius) for radius in self.radii)
        high = np.maximum(near, self.back + far)
        low = np.minimum(-near, self.back - far)
        words = "between the outermost places of both ellipses, given by their half diameters along the axes"
        for name, size in zip(("picture_width", "picture_height"), (high - low).tolist()):
            yield Value(name, size, "mm", words)

    def measure(self, found: Found) -> dict[str, Number]:
        """Of both ellipses, from their middles and two half diameters along the axes."""
        lows, highs = [], []
        for letter, radius, middle in (("P", self.radii[0], found["C"]), ("R", self.radii[1], found["M"])):
            half = np.zeros_like(middle)
            if radius:
                quarter = found[f"{letter}{self.parts // 4}"] - middle
                half = np.hypot(found[f"{letter}0"] - middle, quarter)
            lows.append(middle - half)
            highs.append(middle + half)
        size = np.maximum(*highs) - np.minimum(*lows)
        return {"picture_width": size[..., 0], "picture_height": size[..., 1]}

    def truths(self, found: Found) -> Iterator[Truth]:
        for letter, radius, words in (("P", self.radii[0], "near"), ("R", self.radii[1], "far")):
            middle = found["C" if letter == "P" else "M"]
            if radius:
                at = found.group(letter) - middle
                want = polar(np.zeros(2), radius, multiples(360.0 / self.parts, self.parts)) @ self.plane
                yield Truth(
                    f"Every place of the {words} rim stands as on its circle, measured along the axes", at - want
                )
        yield Truth("Both middles are as far apart along the axis as it is drawn", found["M"] - found["C"] - self.back)

    def courses(self, method: str) -> Sequence[Course]:
        found = []
        for letter, radius, words in (("P", self.radii[0], "near"), ("R", self.radii[1], "far")):
            if radius:
                names = tuple(f"{letter}{k}" for k in range(self.parts))
                stations = evenly(360.0 / self.parts, self.parts)
                found.append(
                    Course(
                        f"the {words} rim",
                        self.ellipse(radius),
                        stations,
                        names,
                        turn="turn round the axis",
                        afloat=True,
                    )
                )
        return tuple(found)

    def pictured(self, found: Found) -> Picture | None:
        return parallel_picture(self.axes, found["C"])

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        turns, way = multiples(360.0 / SIDES, SIDES), -1 if self.axis == "right" else 1
        near, far = (
            in_space(self.in_space(polar(np.zeros(2), radius, turns), depth))
            for radius, depth in zip(self.radii, (0.0, self.height))
        )
        faces = []
        for k in range(SIDES):
            corners = np.array([near[k], far[k], far[(k + 1) % SIDES], near[(k + 1) % SIDES]])
            keep = [0, 1, 2] if not self.radii[0] else [0, 1, 3] if not self.radii[1] else [0, 1, 2, 3]
            faces.append(Face(corners[keep][::way], 1))
        faces += [Face(near[::way])] if self.radii[0] else []
        return [*faces, *([Face(far[::-way])] if self.radii[1] else [])]


class _RoundHand(EndedHand):
    g: PictorialRound

    def __init__(self, g: PictorialRound, d: Draft) -> None:
        super().__init__(g, d)
        self.g = g

    def draw(self, crate: bool) -> None:
        g, d = self.g, self.d
        radii = g.radii
        large = max(radii)
        with d.phase("The true view"):
            true = self.true_view(large, crate)
            circles = [
                d.compass(true, radius, f"Centre K, draw the {words} end.", "half its diameter") if radius else None
                for radius, words in zip(radii, ("near", "far"))
            ]
            circle = circles[0] if radii[0] == large else circles[1]
            assert circle is not None
            walls = []
            if crate:
                with d.as_one("Pencil", "Mark where it reaches furthest to the left and down."):
                    for turn in (180.0, 270.0):
                        ray = d.ray(true, turn, length=large)
                        walls.append(d.meet(ray, circle, near=true.here + polar(np.zeros(2), large, turn)))
        with d.phase("The near end"):
            span = np.array([large, large])
            if crate:
                self.from_crate(-span, span, walls)
            else:
                self.from_centre(large * 1.15)
            with d.as_one("Dividers", "Carry K along the axes: C, the middle of the near end."):
                middle = self.carry(true, "C", flat=self.carry_flat(true))
            near = self.rim(circles[0], self.g.parts, "P", radii[0]) if circles[0] is not None else []
        with d.phase("The far end"):
            lost = d.choice(
                "length-along-the-slant",
                right=g.height,
                slip=g.height * 1.15,
                says="The length laid off along the slant side instead of the axis.",
            )
            with d.as_one("Rule", "Move the middle by the length along the axis: M.", why=self.why):
                back = self.behind(middle, lost, "M")
            far = self._far(circles[1], near, radii, middle, back) if circles[1] is not None else []
        with d.phase("Line in"):
            self._line_in(near, far, middle, back)

    def _far(
        self, circle: ArcMark, near: list[Spot], radii: tuple[float, float], middle: Spot, back: Spot
    ) -> list[Spot]:
        """The far rim: behind the near one if they are alike, else by offsets of its own from M."""
        d = self.d
        if near and radii[0] == radii[1]:
            with d.as_one(
                "Dividers", "Both ends are alike: move every place of the near rim as C was moved to M, R0 and so on."
            ):
                taken = d.opening(middle, back)
                axis = self.ended.lies[2]
                way = -1.0 if self.ended.axis == "upright" else 1.0
                return [
                    d.lay_off(self.along(axis, spot), spot, taken, f"R{k}", kind="plain", way=way)
                    for k, spot in enumerate(near)
                ]
        across = self.ended.lies[0]
        self.datum, self.start, self.across = (
            back,
            self.true,
            self.along(across, back, "Through M draw the centre lines of the far end, as the axes run."),
        )
        self.lines[self.ended.lies[1]] = self.along(self.ended.lies[1], back, "And the other.")
        return self.rim(circle, self.g.parts, "R", radii[1])

    def _line_in(self, near: list[Spot], far: list[Spot], middle: Spot, back: Spot) -> None:
        g, d = self.g, self.d
        hidden = d.conventions.shows_hidden(False)
        rows: list[Row | None] = [d.row(rim, closed=True) if rim else None for rim in (near, far)]
        if near:
            d.curve(near, closed=True, says="Line in the near rim.")
        if g.touch is None:
            if far and g.radii[1] > g.radii[0]:
                d.curve(
                    far,
                    closed=True,
                    says="The near end lies within the far one: no line touches both. Line in the far rim whole.",
                )
            elif far and hidden:
                d.curve(
                    far,
                    closed=True,
                    role=Role.HIDDEN,
                    says="The far rim lies behind the near one: draw it as a hidden line.",
                )
            return
        start, end = ((g.lean + way * g.touch) % 360.0 for way in (-1.0, 1.0))
        with d.as_one("Straightedge", "Lay the straightedge to touch both ends, and line in both contour lines."):
            for place in (start, end):
                ends = [
                    d.touched(row, place / 360.0 * self.g.parts) if row is not None else spot
                    for row, spot in zip(rows, (middle, back))
                ]
                d.line_in(ends)
        row = rows[1]
        if row is None:
            return
        with d.as_one("Curve", "Line in as much of the far rim as is seen, from one contour line to the other."):
            self.arc(row, self.g.parts, start, (end - start) % 360.0)
        if hidden:
            with d.as_one("Curve", "Draw the rest of it as a hidden line."):
                self.arc(row, self.g.parts, end, (start - end) % 360.0, Role.HIDDEN)


@method(
    PictorialRound,
    "crate",
    about="Both ends by offsets from the crate about the larger one; contour lines that touch both.",
    source="Offsets along axonometric axes (ISO 5456-3); contour generators of a cone",
)
def crate(g: PictorialRound, d: Draft) -> None:
    _RoundHand(g, d).draw(crate=True)


@method(
    PictorialRound,
    "contours",
    about="Both ends by offsets from the axis; contour lines that touch both, from the apex where there is one.",
    source="Offsets along axonometric axes (ISO 5456-3); contour generators of a cone",
)
def contours(g: PictorialRound, d: Draft) -> None:
    _RoundHand(g, d).draw(crate=False)
