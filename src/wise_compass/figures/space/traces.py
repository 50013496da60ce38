"""A plane by its traces: its angles to both planes of projection, and the true angle between the traces."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.dimensions import Angular, Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import trim
from wise_compass.geometry.vectors import Number, angle_between, cosd, distance, point, sind

REACH = 70.0
"""How far along each trace its end is marked, in mm: any handy length."""
FLAT = 1e-9
"""Degrees under which an angle counts as none, and within which of 90 as a right one."""


FLATTEST = 0.01
"""Degrees that a trace which is not level stands at, at least."""


class PlaneByTraces(InViews, Figure, id="plane-by-traces", family="space", title="Plane by its traces"):
    keys = ("H*", "H.top", "K*", "U*", "V*", "V.front", "X", "X*")
    brief = (
        "The plane whose horizontal trace stands at {trace_h} and whose vertical "
        "trace at {trace_v} to the reference line: "
        "its true angles, found with {method}."
    )
    summary = "How a roof or a chute's floor lies, from its traces: both true angles, and the angle between the traces."
    value_names = ("angle_h", "angle_v", "angle_between")
    ways = ("auxiliary-view", "cone-of-rotation")

    trace_h = Angle(47.5, "the angle of the horizontal trace", least=0, most=90)
    trace_v = Angle(38, "the angle of the vertical trace", least=0, most=90)

    def refuse(self) -> None:
        for name in ("trace_h", "trace_v"):
            if FLAT < getattr(self, name) < FLATTEST:
                says = (
                    f"{name} is {trim(getattr(self, name), 9)}°, too flat to be drawn: raise "
                    f"it to {FLATTEST}° at least, or set it to 0."
                )
                raise Refused(name, says)
        if self.trace_h <= FLAT and self.trace_v <= FLAT:
            raise Refused(
                "trace_v",
                "trace_h and trace_v are both 0°: every plane through the reference line has such traces. Raise one.",
            )

    @property
    def angles(self) -> tuple[float, float, float]:
        """To the horizontal plane, to the vertical plane, and between the traces: by the unit normal and by cosines."""
        a, b = self.trace_h, self.trace_v
        ca, cb, sa, sb = float(cosd(a)), float(cosd(b)), float(sind(a)), float(sind(b))
        h, v = float(np.rad2deg(np.arctan2(sb, cb * sa))), float(np.rad2deg(np.arctan2(sa, ca * sb)))
        return h, v, float(np.rad2deg(np.arctan2(np.hypot(sa, ca * sb), ca * cb)))

    def values(self, method: str) -> Iterable[Value]:
        a, b = trim(self.trace_h), trim(self.trace_v)
        h, v, between = self.angles
        marks = ("X", "H.top", "V.front")
        yield Value(
            "angle_h", h, "°", f"arctan(sin {b}° / (cos {b}° sin {a}°))" if h < 90 else "it stands upright", marks
        )
        yield Value(
            "angle_v",
            v,
            "°",
            f"arctan(sin {a}° / (cos {a}° sin {b}°))" if v < 90 else "it stands square to that plane",
            marks,
        )
        yield Value("angle_between", between, "°", f"arccos(cos {a}° cos {b}°)", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {"angle_between": angle_between(found["H0"] - found["X0"], found["V0"] - found["X0"])}
        for name, tip, corner, foot in (("angle_h", "V1", "K1", "U1"), ("angle_v", "H2", "K2", "U2")):
            if tip in found:
                out[name] = angle_between(found[tip] - found[corner], found[foot] - found[corner])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        h, v, between = self.angles
        measured = self.measure(found)
        for name, true, says in (
            ("angle_h", h, "The plane leans to the horizontal plane as its normal says"),
            ("angle_v", v, "The plane leans to the vertical plane as its normal says"),
            ("angle_between", between, "The traces turned into the sheet stand at their angle in space"),
        ):
            if name in measured:
                yield Truth(says, REACH * np.deg2rad(measured[name] - true))
        chord = np.sqrt(2.0 - 2.0 * cosd(self.trace_h) * cosd(self.trace_v)) * REACH
        yield Truth("The ends of both traces are as far apart as in space", distance(found["H0"], found["V0"]) - chord)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        if self.trace_v > FLAT:
            yield Angular(found["W"] if "W" in found else found["X"], 0.0, self.trace_v, "trace_v", self.trace_v)
        if self.trace_h > FLAT:
            yield Angular(
                found["Y"] if "Y" in found else found["X"], -self.trace_h, self.trace_h, "trace_h", self.trace_h
            )


class Traced(NamedTuple):
    """Both views' base lines, both traces, and their ends H and V."""

    views: Views
    ground: LineMark
    wall: LineMark
    trace_h: LineMark
    trace_v: LineMark
    h: Spot
    v: Spot


def _traces(g: PlaneByTraces, d: Draft) -> Traced:
    """The views' base lines, both traces from X, and their ends H and V, REACH along them."""
    views = Views.about_line(d, REACH, REACH, 12.0)
    with d.phase("The traces"):
        start = d.start_at("X", says="Mark X, where both traces meet the reference line.")
        line = views.reference_line(start, -14.0, 3.4 * REACH)
        ground, wall = views.top.datum or line, views.front.datum or line
        front_x = top_x = start
        if views.top.datum is not None:
            upright = d.upright_from(start, "Carry X to the base lines of both views.", role=Role.PROJECTOR)
            front_x, top_x = d.meet(upright, ground, "W"), d.meet(upright, wall, "Y")
        forward = -g.trace_h
        trace_h = d.ray(top_x, forward, "Draw the horizontal trace.", role=Role.OUTLINE)
        h = d.lay_off(trace_h, top_x, REACH, "H.top", "Mark H on it, a handy length from X.")
        trace_v = d.ray(front_x, g.trace_v, "Draw the vertical trace.", role=Role.OUTLINE)
        v = d.lay_off(trace_v, front_x, REACH, "V.front", "Mark V on it, as far from X.")
    return Traced(views, ground, wall, trace_h, trace_v, h, v)


def _leaning(g: PlaneByTraces, out: Traced) -> Iterator[tuple[str, LineMark, Spot, LineMark, LineMark, int]]:
    """For each plane whose angle is to be found: its name and trace, the other trace's end, the base line that this
    stands over, the other base line, and a number. A plane through the reference line, flat on the other or square to
    it shows its angle plainly.
    """
    for words, trace, tip, own, other, n, slope, rises in (
        ("horizontal", out.trace_h, out.v, out.ground, out.wall, 1, g.trace_h, g.trace_v),
        ("vertical", out.trace_v, out.h, out.wall, out.ground, 2, g.trace_v, g.trace_h),
    ):
        if slope > FLAT and FLAT < rises < 90 - FLAT:
            yield words, trace, tip, own, other, n


def _foot(d: Draft, spot: Spot, line: LineMark, name: str, says: str) -> Spot:
    return d.meet(d.upright_from(spot, says, role=Role.PROJECTOR), line, name)


def _between(g: PlaneByTraces, d: Draft, out: Traced) -> None:
    """The triangle X, H, V laid into the sheet: two sides are true already, the third is found by its rise."""
    views, ground, wall, h, v = out.views, out.ground, out.wall, out.h, out.v
    with d.phase("The angle between the traces"):
        rise_foot = _foot(d, v, ground, "", "Drop V to its base line.")
        seen = _foot(d, v, wall, "V.top", "Carry V to the base line of the top view: its top view.")
        tip, chord = h, seen
        if float(distance(h.here, seen.here)) > FLAT * REACH:
            base = d.rule(h, seen, "Join H to the top view of V: the top view of HV.")
            if g.trace_v > FLAT:
                square = d.square_to(base, seen, "Square to it draw a line from the top view of V.")
                chord = d.lay_off(
                    square, seen, d.opening(v, rise_foot), "T", "Lay off the height of V on it: HT is HV truly."
                )
        elif g.trace_v > FLAT:  # HV stands upright: its height is its true length
            tip, chord = v, rise_foot
        line = views.front.fold
        assert line is not None
        x0 = d.on(line, 2.2 * REACH, "X0", kind="found")
        h0 = d.lay_off(line, x0, REACH, "H0", "Apart, lay off XH on the reference line from X0: H0.")
        about = d.compass(x0, REACH, "About X0 swing the length of XV.", whole=False)
        cut = d.compass(h0, d.opening(tip, chord), "About H0 swing the true length HV: they cross at V0.", whole=False)
        v0 = d.meet(about, cut, "V0", where="above")
        d.rule(x0, h0, "Line in XH there.", role=Role.OUTLINE)
        d.rule(x0, v0, "Join X0 to V0: the true angle between the traces stands at X0.", role=Role.OUTLINE)


@method(
    PlaneByTraces,
    "auxiliary-view",
    about="A view along each trace shows the plane on edge, and its angle.",
    source="Change of planes (Monge): seen along its trace a plane is an edge",
)
def traces_by_view(g: PlaneByTraces, d: Draft) -> None:
    out = _traces(g, d)
    for words, trace, tip, own, other, n in _leaning(g, out):
        with d.phase(f"The angle to the {words} plane"):
            foot = _foot(d, tip, own, "", f"Drop {tip.name} to its base line.")
            seen = _foot(d, tip, other, f"U{n}", f"Carry {tip.name} to the base line of the other view.")
            across = d.square_to(
                trace, seen, "From there draw square to the trace: the fold line of the view along it."
            )
            corner = d.meet(across, trace, f"K{n}")
            up = d.square_to(across, seen, "Square to that, from the same place, draw a line.")
            says = f"Take the distance of {tip.name} from its base line; lay it off on it."
            end = d.lay_off(up, seen, d.opening(tip, foot), f"{'V1' if n == 1 else 'H2'}", says)
            d.rule(
                corner,
                end,
                f"Join it to the trace: the plane on edge, at its angle to the {words} plane.",
                role=Role.OUTLINE,
            )
    _between(g, d, out)


@method(
    PlaneByTraces,
    "cone-of-rotation",
    about="The slope line swung parallel to the other plane shows its angle there.",
    source="The cone of slope about an upright axis (Monge): its generators keep their angle when turned",
)
def traces_by_cone(g: PlaneByTraces, d: Draft) -> None:
    out = _traces(g, d)
    for words, trace, tip, own, other, n in _leaning(g, out):
        with d.phase(f"The angle to the {words} plane"):
            _foot(d, tip, own, f"U{n}", f"Drop {tip.name} to its base line: the axis of the cone.")
            seen = _foot(d, tip, other, "", f"Carry {tip.name} to the base line of the other view.")
            across = d.square_to(
                trace, seen, "From there draw square to the trace: the slope line, seen from the axis."
            )
            corner = d.meet(across, trace)
            swung = d.compass(
                seen, d.opening(seen, corner), "Swing its foot about the axis onto the base line.", whole=False
            )
            level = d.meet(swung, other, near=point(float(seen.here[0]) - REACH, float(seen.here[1])))
            at = _foot(d, level, own, f"K{n}", "Carry it to the base line of the first view.")
            end = d.also("V1" if n == 1 else "H2", tip)
            d.rule(
                at,
                end,
                f"Join it to {tip.name}: the slope line turned true, at its angle to the {words} plane.",
                role=Role.OUTLINE,
            )
    _between(g, d, out)
