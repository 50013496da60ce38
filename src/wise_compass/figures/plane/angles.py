"""Angles: halved and set off."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Angular, Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Number, angle_between, angle_of, direction, distance, dot, polar, tand

ARM = 90.0
"""How long the arms of an angle are drawn, in mm."""


class BisectAngle(Figure, id="bisect-angle", family="lines", title="Bisect an angle"):
    keys = ("A", "B", "M", "V")
    brief = "An angle of {angle} bisected with {method}."
    summary = "The line that halves an angle: a mitre, the axis of a fillet."
    value_names = ("half",)

    angle = Angle(64, "the angle")

    def values(self, method: str) -> Iterable[Value]:
        yield Value("half", self.angle / 2, "°", f"{trim(self.angle)}° / 2", ("V", "M"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"half": angle_between(found["A"] - found["V"], found["M"] - found["V"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        v = found["V"]
        arms = (found["A"] - v, found["B"] - v)
        off = [np.abs(distance_to_line(found["M"], v, arm)) for arm in arms]
        yield Truth("M lies equally far from both arms", off[0] - off[1])
        yield Truth("M lies between the arms", np.minimum(dot(arms[0] + arms[1], found["M"] - v), 0.0))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Angular(found["V"], 0.0, self.angle, "angle", self.angle)


@method(BisectAngle, "equal-arcs", source="Euclid, Elements I.9")
def bisect_angle_arcs(g: BisectAngle, d: Draft) -> None:
    with d.phase("The angle"):
        v = d.start_at("V", says="Mark the vertex V.")
        one = d.level_from(v, "Draw one arm level.", length=ARM)
        two = d.ray(v, g.angle, "Set off the other arm at the angle.", length=ARM)
    with d.phase("Bisect"):
        arc = d.compass(v, 0.6 * ARM, "Centre V, any opening: cut both arms.", whole=False)
        a = d.meet(one, arc, "A", near=moves.towards(v, one, ARM))
        b = d.meet(two, arc, "B", near=moves.towards(v, two, ARM))
        left = d.compass(a, 0.75 * ARM, "Centre A, a larger opening: swing inside the angle.", whole=False)
        right = d.compass(b, 0.75 * ARM, "Centre B, the same opening: cross it at M.", whole=False)
        m = d.meet(left, right, "M", near=ARM * direction(g.angle / 2))
    with d.phase("Line in"):
        for arm, says in ((one, "Line in one arm."), (two, "Line in the other arm.")):
            d.line_in([v, d.on(arm, ARM)], says=says)
        d.line_in([v, m], says="Line in the bisector VM.")


class SetAngle(Figure, id="set-angle", family="lines", title="Set an angle"):
    keys = ("Q", "V")
    brief = "An angle of {angle} set off with {method}."
    summary = "An angle on a line, by protractor, by its tangent over a long base, or by the compass."
    ways = ("protractor", "tangent", "compass")
    value_names = ("rise_per_100",)

    angle = Angle(37.5, "the angle")

    @property
    def acute(self) -> float:
        """The angle to the nearer end of the line; at a right angle, to the square line."""
        return min(self.angle, 180.0 - self.angle)

    def values(self, method: str) -> Iterable[Value]:
        upright = self.angle == 90
        yield Value("drawn_angle", self.angle, "°", "given", ("V", "Q"))
        yield Value(
            "rise_per_100",
            None if upright else 100 * float(tand(self.angle)),
            "",
            "an upright line has no rise over a base" if upright else f"100 tan {trim(self.angle)}°",
            ("V", "Q"),
        )
        small = min(self.acute, 90.0 - self.acute)
        if small > 0:
            base, rise = moves.tangent_base(small)
            yield Value("longest_base", base, "mm", "what an A4 sheet has room for")
            yield Value("rise_over_it", rise, "mm", f"{bare(base)} tan {trim(small)}°")
            yield Value(
                "times_finer", moves.times_finer(small, ARM), "", "protractor's scatter over the tangent's, one sd each"
            )

    def measure(self, found: Found) -> dict[str, Number]:
        u = found["Q"] - found["V"]
        out: dict[str, Number] = {"drawn_angle": angle_of(u)}
        return out if self.angle == 90 else {**out, "rise_per_100": 100 * u[..., 1] / u[..., 0]}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth(
            f"VQ stands at {trim(self.angle)}° to the line", distance(found["Q"], polar(found["V"], ARM, self.angle))
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Angular(found["V"], 0.0, self.angle, "angle", self.angle)


def _vertex(d: Draft, ending: float = 1.0) -> tuple[Spot, LineMark]:
    with d.phase("The line"):
        v = d.start_at("V", says="Mark the vertex V.")
        line = d.level_from(v, "Draw a level line through V.", length=ARM)
        line.extent(min(ending, 0.0), ARM)
    return v, line


def _arm_in(d: Draft, v: Spot, line: LineMark, arm: LineMark) -> None:
    with d.phase("Line in"):
        q = d.lay_off(arm, v, ARM, "Q", "Measure the arm along it.")
        d.line_in([v, q], says="Line in the arm VQ.")
        d.line_in([v, d.on(line, ARM)], says="Line in the line.")


def _misread(g: SetAngle, d: Draft) -> float:
    return d.choice(
        "wrong-end",
        right=g.angle,
        slip=180.0 - g.angle,
        when=g.angle != 90,
        says="The protractor is read from the wrong end of its scale.",
    )


@method(SetAngle, "protractor", source="The definition of the angle in degrees")
def set_by_protractor(g: SetAngle, d: Draft) -> None:
    v, line = _vertex(d)
    with d.phase("The angle"):
        arm = d.ray(v, _misread(g, d), f"Set off {trim(g.angle)}° at V.", instrument="Protractor")
    _arm_in(d, v, line, arm)


@method(
    SetAngle,
    "tangent",
    about="A rise over the longest base the sheet allows: many times finer than a protractor.",
    source="The definition of the tangent of an angle",
)
def set_by_tangent(g: SetAngle, d: Draft) -> None:
    v, line = _vertex(d)
    with d.phase("The angle"):
        arm = moves.set_angle(d, line, v, g.angle, "tangent")
    _arm_in(d, v, line, arm)


def _fifteens(g: SetAngle) -> str | None:
    if g.angle % 15:
        near = [f"{n}°" for n in (g.angle // 15 * 15, g.angle // 15 * 15 + 15) if 0 < n < 180]
        return (
            f"The compass sets angles in multiples of 15°; angle is {trim(g.angle)}°. "
            f"Set angle to {' or '.join(n.replace('.0', '') for n in near)}, or choose tangent."
        )
    return None


@method(
    SetAngle,
    "compass",
    fits=_fifteens,
    fits_given="angle",
    about="Sixties stepped round one opening, halved as need be.",
    source="The hexagon's sixty degrees, halved (Euclid, Elements IV.15, I.9)",
)
def set_by_compass(g: SetAngle, d: Draft) -> None:
    v, line = _vertex(d)
    radius = 0.6 * ARM
    with d.phase("The angle"):
        arc = d.compass(v, radius, "Centre V, any opening: swing from the line.", whole=False)
        marks = {0.0: d.meet(line, arc, near=moves.towards(v, line, radius))}
        low = 60.0 * (g.angle // 60)
        high = min(low + 60.0, 180.0) if g.angle % 60 else low
        for k in range(1, round(high / 60) + 1):
            step = d.compass(
                marks[60.0 * (k - 1)], radius, "Keep the opening: step it along the arc for 60°.", whole=False
            )
            marks[60.0 * k] = d.meet(arc, step, near=radius * direction(60.0 * k))
        while g.angle not in marks:
            middle = (low + high) / 2
            arcs = [
                d.compass(marks[end], 0.9 * radius, f"Halve it: swing from {trim(end)}°.", whole=False)
                for end in (low, high)
            ]
            out = d.meet(arcs[0], arcs[1], far=v)
            ray = d.rule(v, out, f"Join V to the crossing: {trim(middle)}°.")
            marks[middle] = d.meet(ray, arc, near=radius * direction(middle))
            low, high = (middle, high) if g.angle > middle else (low, middle)
        arm = d.rule(v, marks[g.angle], f"Join V to the mark at {trim(g.angle)}°.")
    _arm_in(d, v, line, arm)
