"""Points, lines and planes in space."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.dimensions import Angular, Dimension, Linear, told, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.geometry.space import inclinations, traces
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, distance, length, point, point3, sind


class LineInSpace(InViews, Figure, id="line-in-space", family="space", title="Line in space"):
    keys = ("A", "A.front", "A.top", "B", "B*.front", "B.front", "B.top", "HT", "VT")
    brief = (
        "A line {length} long, inclined {angle_h} to the horizontal plane and {angle_v} to the vertical, its end A "
        "{end_above} above and {end_front} in front, found with {method}."
    )
    summary = "A straight line from its true length and true inclinations: a stay rod, a hip rafter, a brace."
    stands = ("AB",)
    value_names = ("top_length", "front_length", "front_angle", "top_angle", "projector_gap", "traces")

    length = Length(74, "the true length")
    angle_h = Angle(32, "the inclination to the horizontal plane", least=0, most=90)
    angle_v = Angle(41, "the inclination to the vertical plane", least=0, most=90)
    end_above = Length(14, "the height of A above the horizontal plane", least=-2000, most=2000)
    end_front = Length(18, "the distance of A in front of the vertical plane", least=-2000, most=2000)

    def refuse(self) -> None:
        total = self.angle_h + self.angle_v
        if total > 90 + 1e-9:
            raise Refused(
                "angle_v",
                f"The two inclinations sum to {trim(total, 9)}°; a line in space cannot have more "
                f"than 90°. Lower angle_h or angle_v by {trim(total - 90, 9)}°.",
            )

    @property
    def rise(self) -> Array:
        """From A to B: along the reference line, forward and up."""
        flat = float(cosd(self.angle_h + self.angle_v) * cosd(self.angle_h - self.angle_v))
        return point3(
            self.length * np.sqrt(max(flat, 0.0)),
            self.length * float(sind(self.angle_v)),
            self.length * float(sind(self.angle_h)),
        )

    @property
    def ends(self) -> tuple[Array, Array]:
        a = point3(0.0, self.end_front, self.end_above)
        return a, a + self.rise

    def values(self, method: str) -> Iterable[Value]:
        length, h, v = bare(self.length), trim(self.angle_h), trim(self.angle_v)
        x, y, z = self.rise
        yield Value(
            "top_length", float(self.length * cosd(self.angle_h)), "mm", f"{length} cos {h}°", ("A.top", "B.top")
        )
        yield Value(
            "front_length", float(self.length * cosd(self.angle_v)), "mm", f"{length} cos {v}°", ("A.front", "B.front")
        )
        gap = f"{length} √(1 − sin² {h}° − sin² {v}°)"
        yield Value(
            "front_angle",
            None if self.angle_v == 90 else float(np.rad2deg(np.arctan2(z, x))),
            "°",
            "none: in front it is a point" if self.angle_v == 90 else f"arctan({bare(z)} / {bare(x)})",
            ("A.front", "B.front"),
        )
        yield Value(
            "top_angle",
            None if self.angle_h == 90 else float(np.rad2deg(np.arctan2(y, x))),
            "°",
            "none: from the top it is a point" if self.angle_h == 90 else f"arctan({bare(y)} / {bare(x)})",
            ("A.top", "B.top"),
        )
        yield Value("projector_gap", float(x), "mm", gap, ("A.top", "B.top"))
        a, b = self.ends
        (level, upright) = traces(a, b)
        yield Value(
            "traces",
            [listed(level), listed(upright)],
            "mm",
            "where AB meets the horizontal plane (z = 0), then the vertical plane (y = 0)",
            ("HT", "VT"),
        )

    def measure(self, found: Found) -> dict[str, Number]:
        front, top = (found[f"B.{view}"] - found[f"A.{view}"] for view in ("front", "top"))
        out: dict[str, Number] = {
            "top_length": length(top),
            "front_length": length(front),
            "projector_gap": found["B"][..., 0] - found["A"][..., 0],
        }
        # a view that is a point has no angle
        if self.angle_v != 90:
            out["front_angle"] = angle_of(front)
        if self.angle_h != 90:
            out["top_angle"] = np.abs(angle_of(top))
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        a, b = found["A"], found["B"]
        yield Truth("Both views of B stand on one projector", found["B.front"][..., 0] - found["B.top"][..., 0])
        yield Truth(
            "The top view is as long as the line is seen from above",
            distance(found["A.top"], found["B.top"]) - self.length * cosd(self.angle_h),
        )
        yield Truth(f"The two views together show a line {mm(self.length)} long", distance(a, b) - self.length)
        h, v = inclinations(a, b)
        yield Truth(
            f"It rises as a line at {trim(self.angle_h)}° to the horizontal plane does",
            self.length * (sind(h) - sind(self.angle_h)),
        )
        yield Truth(
            f"It comes forward as a line at {trim(self.angle_v)}° to the vertical plane does",
            self.length * (sind(v) - sind(self.angle_v)),
        )
        yield Truth(
            "A stands at its given height and distance", a[..., 1:] - np.array([self.end_front, self.end_above])
        )
        if self.rise[2] > 0 and "HT" in found:
            yield Truth(
                "The horizontal trace lies in the horizontal plane, on the line",
                np.concatenate([found["HT"][..., 2:], _off_line(found["HT"], a, b)[..., None]], axis=-1),
            )
        if self.rise[1] > 0 and "VT" in found:
            yield Truth(
                "The vertical trace lies in the vertical plane, on the line",
                np.concatenate([found["VT"][..., 1:2], _off_line(found["VT"], a, b)[..., None]], axis=-1),
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        front_a = found["A.front"]
        if 0 < self.angle_h < 90:
            yield Angular(front_a, 0.0, self.angle_h, "angle_h", self.angle_h)
        if 0 < self.angle_v < 90:
            yield Angular(found["A.top"], -self.angle_v, self.angle_v, "angle_v", self.angle_v)
        yield Linear(front_a, found["B1.front"], "length", self.length, side=1, rank=1)
        yield from end_dimensions(found, self.end_above, self.end_front)


def end_dimensions(found: Found, above: float, front: float) -> Iterable[Dimension]:
    """How far the end A of a line lies above the ground and before the wall."""
    up, forward = found["A.front"], found["A.top"]
    return told(
        [
            upright(up - point(0.0, above), up, "end_above", abs(above)),
            upright(forward + point(0.0, front), forward, "end_front", abs(front)),
        ]
    )


def _off_line(p: Array, a: Array, b: Array) -> Array:
    """Distance of a point from the line through two others, in space."""
    u = (b - a) / distance(a, b)[..., None]
    return distance(p - a, ((p - a) * u).sum(axis=-1)[..., None] * u)


def listed(p: Array) -> list[float] | None:
    return None if np.isnan(p).any() else [float(x) for x in p]


def swung(
    d: Draft, centre: Spot, radius: float | Opening, locus: LineMark, name: str, says: str, upright: bool
) -> Spot:
    """The view of B: its length swung to the locus; nothing to swing where it is a point.

    A line square to the reference line has an ``upright`` view, whose arc only touches the locus.
    """
    if (radius.nominal if isinstance(radius, Opening) else radius) < 1e-9:
        with d.as_one("Pencil", f"The line stands on end here: {name} falls on {centre.name}."):
            return d.also(name, centre)
    if upright:
        with d.as_one("Compass", f"{says} It touches it on A’s own projector."):
            return d.meet(d.upright_from(centre), locus, name)
    return d.meet(d.compass(centre, radius, says, whole=False), locus, name, where="right")


def place_end(d: Draft, views: Views, a: Array, right: float) -> tuple[Spot, Spot]:
    """The reference line, and the front and top view of A on its projector."""
    start = d.start_at("X", says="Mark X, where the projector of A will stand.", kind="plain")
    views.reference_line(start, -14.0, right)
    projector = d.upright_from(start, "Draw the projector of A upright through X.", role=Role.PROJECTOR)
    why = f"{mm(float(a[2]))} above the horizontal plane"
    front = d.lay_off(projector, start, float(views.front.at(a)[1]), "A.front", "Lay off the front view of A.", why)
    why = f"{mm(float(a[1]))} in front of the vertical plane"
    return front, d.lay_off(projector, start, float(views.top.at(a)[1]), "A.top", "Lay off the top view of A.", why)


@method(
    LineInSpace,
    "rotate-to-locus",
    about="The true length at each true inclination, then each view swung to its locus.",
    source="Monge's revolution about an axis square to a plane: true lengths keep their inclination",
)
def rotate_to_locus(g: LineInSpace, d: Draft) -> None:
    a, b = g.ends
    views = Views.about_line(d, max(a[2], b[2], 0.0), max(a[1], b[1], 0.0), 12.0)
    with d.phase("The planes"):
        front_a, top_a = place_end(d, views, a, g.length + 10)
    with d.phase("True to the horizontal plane"):
        says = "From the front view of A draw the true inclination to the horizontal plane."
        line = d.ray(front_a, g.angle_h, says, why="a line parallel to the vertical plane shows it truly")
        first = d.lay_off(line, front_a, g.length, "B1.front", "Lay off the true length on it.")
        says = "Draw level through it: the front view of B stays on this line."
        locus_front = d.level_from(first, says, role=Role.LOCUS, length=10)
        beside = d.level_from(top_a, "Draw level from the top view of A.")
        drop = d.upright_from(first, "Carry the end across the reference line.", role=Role.PROJECTOR)
        top_first = d.meet(beside, drop, "B1.top")
    with d.phase("True to the vertical plane"):
        says = "From the top view of A draw the true inclination to the vertical plane."
        line = d.ray(top_a, -g.angle_v, says, why="a line parallel to the horizontal plane shows it truly")
        second = d.lay_off(line, top_a, g.length, "B2.top", "Lay off the true length on it.")
        says = "Draw level through it: the top view of B stays on this line."
        locus_top = d.level_from(second, says, role=Role.LOCUS, length=10)
        beside = d.level_from(front_a, "Draw level from the front view of A.")
        rise = d.upright_from(second, "Carry the end across the reference line.", role=Role.PROJECTOR)
        front_second = d.meet(beside, rise, "B2.front")
    with d.phase("Swing to the loci"):
        says = "Centre the front view of A, swing the front length to its locus."
        steep = abs(g.angle_h + g.angle_v - 90.0) < 1e-9
        front_b = swung(d, front_a, d.opening(front_a, front_second), locus_front, "B.front", says, upright=steep)
        link = d.upright_from(front_b, "Drop the projector of B onto the locus of its top view.", role=Role.PROJECTOR)
        top_b = d.meet(link, locus_top, "B.top")
        if float(distance(top_a.here, top_first.here)) > 1e-9:
            says = "Centre the top view of A, swing the top length: it passes through the top view of B."
            why = "the proof on paper that no step went wrong"
            d.compass(top_a, d.opening(top_a, top_first), says, why, whole=False).reach(top_b.here)
    with d.phase("Line in"):
        d.line_in([front_a, front_b], says="Line in the front view.")
        d.line_in([top_a, top_b], says="Line in the top view.")
    solid_a, solid_b = views.solid(front_a.at, top_a.at), views.solid(front_b.at, top_b.at)
    d.in_space("A", solid_a)
    d.in_space("B", solid_b)
    for name, trace, rises in zip(("HT", "VT"), traces(solid_a, solid_b), (g.angle_h, g.angle_v)):
        if rises > 1:
            d.in_space(name, trace)
