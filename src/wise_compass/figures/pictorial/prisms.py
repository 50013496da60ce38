"""A prism in isometric, with a hole through it along its axis."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, Picture, Pictured, Solid
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Dimension, Leader, edge_of, row
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import ArcMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.figures.pictorial.axes import in_space, parallel_picture
from wise_compass.figures.pictorial.ends import Ended, EndedHand
from wise_compass.geometry.vectors import Array, Number, angle_of, direction, distance, multiples, polar, tand

"""Of the hole."""
RIMS = 36
STRICT = 0.01
"""mm that a hole stays short of the flats."""
FACING = 1e-9
TINY = 1e-6
"""mm under which a hole is none."""


class PictorialPrism(
    Curved, Solid, Pictured, Ended, id="pictorial-prism", family="pictorial", title="Prism in a picture"
):
    keys = ("C", "H*", "P*", "R*")
    brief = opens = "A prism of {sides} sides of {side}, {length} long, with a hole {hole} wide through it"
    summary = (
        "A nut, a block with a bore: an auxiliary true view, offsets along the "
        "axes, and as much of the far rim as is seen."
    )
    value_names = ("picture_width", "picture_height", "hole_far_arc")
    ways = ("crate", "from-centre")

    sides = Count(6, "the sides", 3, 24)
    side = Length(30, "the side")
    length = Length(20, "the length along the axis")
    hole = Length(40, "the diameter of the hole through it; 0 is none", least=0)

    @property
    def apothem(self) -> float:
        """From the middle to a flat side."""
        return self.side / 2 / float(tand(180.0 / self.sides))

    @property
    def reach(self) -> float:
        """From the middle to a corner."""
        return float(np.hypot(self.apothem, self.side / 2))

    @property
    def deep(self) -> float:
        return self.length

    @property
    def bored(self) -> bool:
        """Whether there is a hole."""
        return self.hole > TINY

    def refuse(self) -> None:
        self.refuse_axes()
        if self.bored and self.hole > 2 * self.apothem - STRICT:
            raise Refused(
                "hole",
                f"The hole is {mm(self.hole)} wide and breaks through the flats, which are "
                f"{mm(2 * self.apothem)} apart. Lower hole to "
                f"{most_mm(max(2 * self.apothem - STRICT, 0.0))} at most, or raise side.",
            )

    @cached_property
    def flat(self) -> Array:
        """The corners in the plane of the ends, (sides, 2)."""
        return polar(np.zeros(2), self.reach, multiples(360.0 / self.sides, self.sides))

    @property
    def near(self) -> Array:
        """The corners of the near end as they are drawn, from its middle."""
        return np.asarray(self.flat @ self.plane)

    @cached_property
    def parts(self) -> int:
        """The divisions of a rim of the hole."""
        return self.enough(self.hole / 2)

    def shows(self, k: int) -> bool:
        """Whether the flank from corner k to the next is seen."""
        return self.facing(360.0 / self.sides * (k + 0.5)) > FACING

    @property
    def seen(self) -> list[int]:
        """The corners of the far end that are seen, in order round."""
        n = self.sides
        return [k for k in range(n) if self.shows(k) or self.shows(k - 1)]

    @property
    def half_arc(self) -> float:
        """Half the arc of the far rim that is seen through the hole, in degrees on its own circle."""
        share = self.off_axis / self.hole if self.bored else 1.0
        return float(np.degrees(np.arccos(share))) if share < 1 else 0.0

    def values(self, method: str) -> Iterable[Value]:
        every = np.concatenate([self.near, self.near + self.back])
        size = np.ptp(every, axis=0)
        words = "between the outermost of its corners, given by their offsets along the axes"
        yield Value("picture_width", float(size[0]), "mm", words)
        yield Value("picture_height", float(size[1]), "mm", words)
        told = (
            f"2 × arccos({bare(self.length)} × {self._aside_words()} / {bare(self.hole)})"
            if self.half_arc
            else "nothing of it is seen, given its depth"
        )
        yield Value("hole_far_arc", 2 * self.half_arc, "°", told)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        if "K1" in found:
            yield edge_of(row(found, "K", 1, self.sides), "side", self.side)
        else:
            yield Leader((found["P1"] + found["P2"]) / 2, "side", self.side, "each side ")
        corners = [found[f"P{k}"] for k in range(1, self.sides + 1)]
        yield self.long_dimension(corners, np.mean(corners, axis=0), "length", self.length)
        if self.bored:
            yield Leader(found["H0"], "hole", self.hole, "⌀")

    def _aside_words(self) -> str:
        """How far the far rim is seen aside, for each mm that it lies behind."""
        return "√2" if self.drawn == "isometric" else trim(self.off_axis / self.length, 6)

    def measure(self, found: Found) -> dict[str, Number]:
        at = np.concatenate([found.group("P"), found.group("R")], axis=-2)
        size = at.max(axis=-2) - at.min(axis=-2)
        out: dict[str, Number] = {"picture_width": size[..., 0], "picture_height": size[..., 1]}
        if "M" in found:
            off = np.asarray(distance(found["M"], found["C"])) * (self.off_axis / float(np.hypot(*self.back)))
            out["hole_far_arc"] = 2 * np.degrees(np.arccos(np.minimum(off / self.hole, 1.0)))
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        near = found.group("P")
        yield Truth(
            "Every corner stands where its offsets along the axes put it",
            near - near[..., :1, :] - (self.near - self.near[0]),
        )
        off = [found[f"R{k + 1}"] - found[f"P{k + 1}"] - self.back for k in self.seen]
        yield Truth("Every edge along the axis is as long as it is drawn", np.array(off))
        if "C" in found:
            rim = found.group("H") - found["C"]
            want = polar(np.zeros(2), self.hole / 2, multiples(360.0 / self.parts, self.parts)) @ self.plane
            yield Truth("The near rim stands as on the circle, measured along the axes", rim - want)
            yield Truth("It is in the middle of the end", found["C"] - near.mean(axis=-2))
        if "M" in found:
            yield Truth(
                "The far rim’s middle lies its depth behind, along the axis", found["M"] - found["C"] - self.back
            )

    def courses(self, method: str) -> Sequence[Course]:
        if not self.bored:
            return ()
        names = tuple(f"H{k}" for k in range(self.parts))
        stations = evenly(360.0 / self.parts, self.parts)
        return (
            Course(
                "the near rim", self.ellipse(self.hole / 2), stations, names, turn="turn round the hole", afloat=True
            ),
        )

    def pictured(self, found: Found) -> Picture | None:
        return parallel_picture(self.axes, found.group("P").mean(axis=-2))

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """Its flanks and ends; round a hole the ends are parted into strips."""
        if off:
            return ()
        n, deep = self.sides, self.length
        way = -1 if self.axis == "right" else 1
        near, far = (in_space(self.in_space(self.flat, depth)) for depth in (0.0, deep))
        faces = [Face(np.array([near[k], far[k], far[(k + 1) % n], near[(k + 1) % n]])[::way]) for k in range(n)]
        if not self.bored:
            return [*faces, Face(near[::way]), Face(far[::-way])]
        turns = multiples(360.0 / RIMS, RIMS)
        edge = np.array([self._edge_at(turn) for turn in turns])
        rim = polar(np.zeros(2), self.hole / 2, turns)
        rings = [[in_space(self.in_space(line, depth)) for line in (rim, edge)] for depth in (0.0, deep)]
        for k in range(RIMS):
            j = (k + 1) % RIMS
            for (inner, outer), side in zip(rings, (way, -way)):
                faces.append(Face(np.array([inner[k], outer[k], outer[j], inner[j]])[::side], 1 if side == way else 2))
            faces.append(Face(np.array([rings[0][0][k], rings[0][0][j], rings[1][0][j], rings[1][0][k]])[::way], 3))
        return faces

    def _edge_at(self, turn: float) -> Array:
        """Where a ray from the middle cuts the outline."""
        part = 360.0 / self.sides
        off = turn % part - part / 2
        return np.asarray(self.apothem / float(np.cos(np.radians(off))) * direction(turn))


class _PrismHand(EndedHand):
    g: PictorialPrism

    def __init__(self, g: PictorialPrism, d: Draft) -> None:
        super().__init__(g, d)
        self.g = g

    def draw(self, crate: bool) -> None:
        g, d, n = self.g, self.d, self.g.sides
        with d.phase("The true view"):
            true = self.true_view(g.reach, crate)
            circle = d.compass(
                true, g.reach, "Centre K, draw the circle through its corners.", "side / (2 sin of half a part)"
            )
            rays = d.divide_turn(true, n, length=g.reach)
            with d.as_one("Pencil", "Mark its corners."):
                marks = [
                    d.meet(ray, circle, f"K{k + 1}", near=true.here + g.flat[k], kind="plain")
                    for k, ray in enumerate(rays)
                ]
            d.line_in(marks, closed=True, says="Join them: the end at its true shape.", role=Role.FOLD)
            bore = d.compass(true, g.hole / 2, "Centre K, draw the hole.", "half the diameter") if g.bored else None
        low, high = g.flat.min(axis=0), g.flat.max(axis=0)
        with d.phase("The near end"):
            if crate:
                walls = [marks[int(np.argmin(g.flat[:, axis]))] for axis in (0, 1)]
                self.from_crate(low, high, walls)
            else:
                self.from_centre(g.reach * 1.1)
            near = []
            for k, mark in enumerate(marks):
                with d.as_one(
                    "Dividers",
                    f"Carry corner {k + 1} along the axes from the {'crate' if crate else 'centre lines'}: P{k + 1}.",
                ):
                    near.append(self.carry(mark, f"P{k + 1}", flat=self.carry_flat(mark)))
        with d.phase("The far end"):
            far = {}
            with d.as_one(
                "Rule",
                "From every corner that is seen beyond draw along the axis and lay off the length.",
                why=self.why,
            ):
                for k in g.seen:
                    far[k] = self.behind(near[k], g.length, f"R{k + 1}")
            asked = d.conventions.shows_hidden(False)
            hidden = [k for k in range(n) if k not in far] if asked else []
            if hidden:
                with d.as_one("Rule", "And from those that are hidden.", why=self.why):
                    far |= {k: self.behind(near[k], g.length, f"R{k + 1}", "plain") for k in hidden}
        if bore is not None:
            with d.phase("The hole"):
                self.hole(bore)
        with d.phase("Line in"):
            with d.as_one("Straightedge", "Line in the near end, and what is seen of the edges and of the far end."):
                d.line_in(near, closed=True)
                for k in g.seen:
                    d.line_in((near[k], far[k]))
                for k in range(n):
                    if g.shows(k):
                        d.line_in((far[k], far[(k + 1) % n]))
            behind = [(near[k], far[k]) for k in hidden]
            behind += [(far[k], far[(k + 1) % n]) for k in range(n) if not g.shows(k)] if asked else []
            if behind:
                with d.as_one("Straightedge", "Draw the others as hidden lines."):
                    for ends in behind:
                        d.line_in(ends, role=Role.HIDDEN)

    def hole(self, bore: ArcMark) -> None:
        """The near rim by its offsets, the far rim behind it by the depth, and as much of that as is seen."""
        g, d = self.g, self.d
        with d.as_one("Dividers", "Carry K itself: C, the middle of the hole."):
            middle = self.carry(self.true, "C", flat=self.carry_flat(self.true))
        rim = self.rim(bore, self.g.parts, "H", g.hole / 2)
        d.curve(rim, closed=True, says="Line in the near rim.")
        hidden = d.conventions.shows_hidden(False)
        if not g.half_arc and not hidden:
            why = "the plate is thicker than what the eye sees through it"
            with d.as_one("Pencil", "Nothing is seen of the far rim.", why=why):
                self.d.also("C2", middle, "plain")
            return
        moved = d.choice(
            "far-rim-not-moved", right=g.length, slip=g.length / 2, says="The far rim moved by half the depth."
        )
        with d.as_one("Rule", "Move its middle by the depth along the axis: M.", why=self.why):
            self.behind(middle, moved, "M")
        with d.as_one("Dividers", "And every place of the rim by as much."):
            far = [self.behind(spot, moved, "", "plain") for spot in rim]
        row = d.row(far, closed=True)
        words = "Line in the far rim, only the arc of it that the near one leaves open" + (
            ", the rest as hidden." if hidden else "."
        )
        with d.as_one("Curve", words):
            start = float(angle_of(-g.shift)) - g.half_arc
            if g.half_arc:
                self.arc(row, self.g.parts, start, 2 * g.half_arc)
            if hidden:
                self.arc(row, self.g.parts, start + 2 * g.half_arc, 360.0 - 2 * g.half_arc, Role.HIDDEN)


@method(
    PictorialPrism,
    "crate",
    about="A true view in its crate beside the picture; offsets from the crate’s corner carried along the axes.",
    source="Offsets along axonometric axes (ISO 5456-3)",
)
def crate(g: PictorialPrism, d: Draft) -> None:
    _PrismHand(g, d).draw(crate=True)


@method(
    PictorialPrism,
    "from-centre",
    about="A true view beside the picture; offsets from its centre lines carried along the axes.",
    source="Offsets along axonometric axes (ISO 5456-3)",
)
def from_centre(g: PictorialPrism, d: Draft) -> None:
    _PrismHand(g, d).draw(crate=False)
