"""A line in space from its true length and the lengths of both its views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import ROOM, SHORTEST_LENGTH, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import bare, least_mm, mm
from wise_compass.figures.space.lines import end_dimensions, place_end, swung
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, length, point3

FLUSH = 1e-9
"""Parts of the length: a view that is shorter by less is as long as the line."""


def _leg(hypotenuse: float, leg: float) -> float:
    """The other leg of a right triangle, without cancellation; 0 where the leg is as long as the hypotenuse."""
    return 0.0 if hypotenuse - leg <= FLUSH * hypotenuse else float(np.sqrt((hypotenuse - leg) * (hypotenuse + leg)))


class LineFromLengths(
    InViews, Figure, id="line-from-length-and-views", family="space", title="Line in space from its views' lengths"
):
    keys = ("A", "A.front", "A.top", "B", "B*.front", "B*.top", "B.front", "B.top")
    brief = (
        "A line {length} long whose top view is {top_length} and whose front view is {front_length} long, its end A "
        "{end_above} above and {end_front} in front, found with {method}."
    )
    summary = "A line from its true length and how long it looks from above and from the front."
    stands = ("AB",)
    value_names = ("angle_h", "angle_v", "projector_gap")

    length = Length(92.5, "the true length")
    top_length = Length(78.3, "the length of the top view", least=0, most="length")
    front_length = Length(64.1, "the length of the front view", least=0, most="length")
    end_above = Length(14, "the height of A above the horizontal plane", least=-2000, most=2000)
    end_front = Length(23, "the distance of A in front of the vertical plane", least=-2000, most=2000)

    def refuse(self) -> None:
        least = _leg(self.length, self.front_length)
        if self.top_length < least * (1 - ROOM) - ROOM * self.length:
            raise Refused(
                "top_length",
                f"top_length is {mm(self.top_length)}; with a front view of "
                f"{mm(self.front_length)} a line {mm(self.length)} long "
                f"looks at least {least_mm(least)} long from above. Raise top_length or front_length.",
            )

    @property
    def rise(self) -> Array:
        """From A to B: along the reference line, forward and up."""
        y, z = _leg(self.length, self.front_length), _leg(self.length, self.top_length)
        along = self.top_length**2 - y * y
        return point3(0.0 if along <= FLUSH * self.length**2 else np.sqrt(along), y, z)

    def values(self, method: str) -> Iterable[Value]:
        x, y, z = (float(part) for part in self.rise)
        size, top, front = bare(self.length), bare(self.top_length), bare(self.front_length)
        yield Value(
            "angle_h",
            float(np.rad2deg(np.arctan2(z, self.top_length))),
            "°",
            f"arccos({top} / {size})",
            ("A.front", "B.front"),
        )
        yield Value(
            "angle_v",
            float(np.rad2deg(np.arctan2(y, self.front_length))),
            "°",
            f"arccos({front} / {size})",
            ("A.top", "B.top"),
        )
        yield Value("projector_gap", x, "mm", f"√({top}² + {front}² − {size}²)", ("A.top", "B.top"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {
            "angle_h": np.abs(angle_of(found["B1.front"] - found["A.front"])),
            "angle_v": np.abs(angle_of(found["B2.top"] - found["A.top"])),
            "projector_gap": found["B"][..., 0] - found["A"][..., 0],
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        a, b = found["A"], found["B"]
        yield Truth(f"The line is {mm(self.length)} long in space", distance(a, b) - self.length)
        for view, given in (("top", self.top_length), ("front", self.front_length)):
            seen = length((b - a)[..., [0, 1] if view == "top" else [0, 2]])
            yield Truth(f"Its {view} view is {mm(given)} long", seen - given)
        yield Truth(
            "A stands at its given height and distance", a[..., 1:] - np.array([self.end_front, self.end_above])
        )
        yield Truth("Both views of B stand on one projector", found["B.front"][..., 0] - found["B.top"][..., 0])

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["A.front"], found["B1.front"], "length", self.length, side=1, rank=1)
        for view, size, side in (("top", self.top_length, -1), ("front", self.front_length, 1)):
            if distance(found[f"A.{view}"], found[f"B.{view}"]) > SHORTEST_LENGTH:
                yield Linear(found[f"A.{view}"], found[f"B.{view}"], f"{view}_length", size, side)
        yield from end_dimensions(found, self.end_above, self.end_front)


def _true_end(g: LineFromLengths, d: Draft, views: Views, view: View, seen: float, name: str) -> Spot:
    """Where the true length ends in ``view`` when the line is turned level in the other one, which then looks ``seen``
    long."""
    a = views.spot("A", view)
    words = "top" if view.id == "front" else "front"
    level = d.level_from(a, f"Draw level from the {view.id} view of A.")
    if g.length - seen <= FLUSH * g.length:
        return d.lay_off(
            level, a, g.length, name, f"Lay off the true length: the {words} view is as long, so the line runs level."
        )
    foot = (
        a
        if seen <= FLUSH * g.length
        else d.lay_off(level, a, seen, "", f"Lay off the length of the {words} view.", kind="plain")
    )
    upright = d.upright_from(foot, "Draw upright there.", role=Role.PROJECTOR)
    arc = d.compass(
        a,
        g.length,
        "Swing the true length to it.",
        "turned level to the other view, the line shows itself here",
        whole=False,
    )
    return d.meet(arc, upright, name, where="above" if view.id == "front" else "below")


@method(
    LineFromLengths,
    "rotate-to-locus",
    about="The true length over each view's length gives the loci; each view is swung to its own.",
    source="Monge's revolution about an axis square to a plane: true lengths keep their inclination",
)
def lengths_to_locus(g: LineFromLengths, d: Draft) -> None:
    a = point3(0.0, g.end_front, g.end_above)
    b = a + g.rise
    views = Views.about_line(d, max(a[2], b[2], 0.0), max(a[1], b[1], 0.0), 12.0)
    with d.phase("The end A"):
        front_a, top_a = place_end(d, views, a, g.length + 10)
    with d.phase("The locus in the front view"):
        first = _true_end(g, d, views, views.front, g.top_length, "B1.front")
        locus_front = d.level_from(
            first, "Draw level through it: the front view of B stays on this line.", role=Role.LOCUS, length=10
        )
    with d.phase("The locus in the top view"):
        second = _true_end(g, d, views, views.top, g.front_length, "B2.top")
        locus_top = d.level_from(
            second, "Draw level through it: the top view of B stays on this line.", role=Role.LOCUS, length=10
        )
    with d.phase("Swing to the loci"):
        upright = float(g.rise[0]) == 0.0
        says = "Centre the front view of A, swing the length of the front view to its locus."
        front_b = swung(d, front_a, g.front_length, locus_front, "B.front", says, upright)
        link = d.upright_from(front_b, "Drop the projector of B onto the locus of its top view.", role=Role.PROJECTOR)
        top_b = d.meet(link, locus_top, "B.top")
        if g.top_length > FLUSH * g.length:
            says = "Centre the top view of A, swing the length of the top view: it passes through the top view of B."
            d.compass(top_a, g.top_length, says, "the proof on paper that no step went wrong", whole=False).reach(
                top_b.here
            )
    with d.phase("Line in"):
        for ends, words in (((front_a, front_b), "front"), ((top_a, top_b), "top")):
            if float(distance(ends[0].here, ends[1].here)) > FLUSH * g.length:
                d.line_in(list(ends), says=f"Line in the {words} view.")
    d.in_space("A", views.solid(front_a.at, top_a.at))
    d.in_space("B", views.solid(front_b.at, top_b.at))
