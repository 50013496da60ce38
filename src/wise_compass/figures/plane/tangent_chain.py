"""The chain of tangent arcs: a bent profile."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Radial, corner_dimensions
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.figures.plane.polygons import CORNERS
from wise_compass.figures.plane.tangency import shorter_arc, touching_parallel
from wise_compass.figures.plane.tangent_circles import listed, plot_all
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, Number, angle_between, cross, distance, unit

FLUSH = 1e-8
"""The part of a run below which two arcs on it meet without a straight between them."""


class TangentChain(Figure, id="tangent-chain", family="tangency", title="Chain of tangent arcs"):
    keys = ("A", "D", "K*", "T*a", "T*b")
    brief = (
        "A line through the corners {corners}, each inner corner rounded by a radius of {radii}, found with {method}."
    )
    summary = "A bent profile: straight runs joined by arcs that touch them. A bracket, a handrail, a duct."
    value_names = ("developed_length", "tangent_points")

    corners = Rows(((0, 0), (70, 0), (100, 52), (150, 52)), "the corners", ("x", "y"), 3)
    radii = Rows(((18,), (22,)), "the radii, one for each inner corner", ("radius",), 1, inner_of="corners")

    @cached_property
    def points(self) -> Array:
        return np.array(self.corners)

    @cached_property
    def bends(self) -> list[tuple[float, float, float]]:
        """For each inner corner its turn in degrees (left positive), its radius and its tangent length."""
        p = self.points
        out = []
        for k in range(1, len(p) - 1):
            u, w = p[k] - p[k - 1], p[k + 1] - p[k]
            turn = float(angle_between(u, w)) * (1 if float(cross(u, w)) >= 0 else -1)
            # a corner as good as straight leaves nothing to round
            radius = self.radii[k - 1][0] if abs(turn) > 0.05 else 0.0
            out.append((turn, radius, radius * float(np.tan(np.deg2rad(abs(turn) / 2)))))
        return out

    def refuse(self) -> None:
        if len(self.radii) != len(self.corners) - 2:
            raise Refused(
                "radii",
                f"There are {len(self.corners) - 2} inner corners and {len(self.radii)} radii. Give radii one for "
                "each inner corner (0 leaves it sharp).",
            )
        names = [CORNERS[k % 24] for k in range(len(self.corners))]
        runs = distance(self.points[:-1], self.points[1:])
        for k, run in enumerate(runs):
            if run < 0.1:
                raise Refused(
                    "corners",
                    f"Corners {k + 1} and {k + 2} lie {mm(float(run))} apart; they need {mm(0.1)}. "
                    f"Change row {k + 2} of corners.",
                )
        for k, (turn, _, _) in enumerate(self.bends, 1):
            radius = self.radii[k - 1][0]
            if radius < 0 or 0 < radius < 0.1:
                raise Refused(
                    "radii", f"Row {k} of radii is {mm(radius)}; it must be 0 or at least {mm(0.1)}. Change that row."
                )
            if abs(turn) > 179:
                raise Refused(
                    "corners", f"At corner {k + 1} the line turns straight back. Change row {k + 1} of corners."
                )
        self._refuse_overlaps(names, runs)

    def _refuse_overlaps(self, names: list[str], runs: Array) -> None:
        tails = [0.0, *(tail for _, _, tail in self.bends), 0.0]
        for k, run in enumerate(runs):
            over = tails[k] + tails[k + 1] - float(run)
            if over > 1e-9 * float(run):
                at = k if tails[k] >= tails[k + 1] else k + 1
                turn = abs(self.bends[at - 1][0])
                other = tails[k] + tails[k + 1] - tails[at]
                most = (float(run) - other) / np.tan(np.deg2rad(turn / 2))
                words = f"the largest that fits there is {most_mm(float(most))}" if most > 0 else "none fits there"
                raise Refused(
                    "radii",
                    f"Between corners {names[k]} and {names[k + 1]} the arcs need {mm(tails[k] + tails[k + 1])} of "
                    f"{mm(float(run))}: the radius at corner {names[at]} (row {at} of radii) is too large; {words}. "
                    "Lower it, or the radius beside it.",
                )

    @property
    def joints(self) -> list[tuple[Array, Array]]:
        """The two tangent points of each rounded corner."""
        p, out = self.points, []
        for k, (_, _, tail) in enumerate(self.bends, 1):
            back, ahead = unit(p[k - 1] - p[k]), unit(p[k + 1] - p[k])
            out.append((p[k] + tail * back, p[k] + tail * ahead))
        return out

    def values(self, method: str) -> Iterable[Value]:
        runs = float(distance(self.points[:-1], self.points[1:]).sum())
        cut = sum(2 * tail for _, _, tail in self.bends)
        arcs = sum(radius * float(np.deg2rad(abs(turn))) for turn, radius, _ in self.bends)
        words = f"runs {bare(runs)} − tangent lengths {bare(cut)} + arcs {bare(arcs)}"
        yield Value("developed_length", runs - cut + arcs, "mm", words)
        points = [listed(q) for pair in self.joints for q in pair]
        yield Value(
            "tangent_points", points, "mm", "each its tangent length from its corner", tuple(self.joint_names())
        )
        for k, (turn, radius, tail) in enumerate(self.bends, 1):
            yield Value(
                f"tangent_length_{k}",
                tail,
                "mm",
                f"{bare(radius)} tan {trim(abs(turn) / 2)}°",
                (f"T{k}a",) if tail else (),
            )

    def joint_names(self) -> list[str]:
        return [f"T{k}{side}" for k, (_, _, tail) in enumerate(self.bends, 1) if tail > 0 for side in "ab"]

    def measure(self, found: Found) -> dict[str, Number]:
        total: Number = 0.0
        last = found["A"]
        for k, (_, _, tail) in enumerate(self.bends, 1):
            if tail > 0:
                one, two, centre = found[f"T{k}a"], found[f"T{k}b"], found[f"K{k}"]
                drawn = distance(centre, one)
                total = (
                    total
                    + distance(last, one)
                    + drawn * 2 * np.arcsin(np.minimum(distance(one, two) / (2 * drawn), 1.0))
                )
                last = two
            else:
                total = total + distance(last, found[self._name(k)])
                last = found[self._name(k)]
        return {"developed_length": total + distance(last, found[self._name(len(self.corners) - 1)])}

    def _name(self, k: int) -> str:
        return CORNERS[k] if k < 24 else f"C{k}"

    def truths(self, found: Found) -> Iterator[Truth]:
        p = self.points
        for k, (_, radius, tail) in enumerate(self.bends, 1):
            if not tail:
                continue
            centre = found[f"K{k}"]
            for side, q in (("a", p[k - 1]), ("b", p[k + 1])):
                touch = found[f"T{k}{side}"]
                yield Truth(f"T{k}{side} lies on its run", distance_to_line(touch, p[k], q - p[k]))
                yield Truth(f"T{k}{side} lies on its arc", distance(touch, centre) - radius)
                away = np.abs(distance_to_line(centre, p[k], q - p[k]))
                yield Truth(f"Arc {k} stands exactly its radius off the run", away - radius)
        last = self._name(len(self.corners) - 1)
        yield Truth("The chain ends at its last corner", distance(found[last], p[-1]))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        for k, (_, radius, tail) in enumerate(self.bends, 1):
            if tail > 0:
                out = self.points[k] - found[f"K{k}"]
                yield Radial(found[f"K{k}"], radius, "radii", radius, float(np.rad2deg(np.arctan2(out[1], out[0]))))
        yield from corner_dimensions([found[self._name(k)] for k in range(len(self.points))], "corners")


@method(
    TangentChain,
    "swung-arcs",
    about="Each corner's centre by parallels that touch swung arcs; tangent points before arcs.",
    source="A touching circle's centre is a radius away from both lines",
)
def chain_swung(g: TangentChain, d: Draft) -> None:
    with d.phase("The corners"):
        spots = list(plot_all(d, {g._name(k): tuple(map(float, p)) for k, p in enumerate(g.points)}).values())
        runs = [d.rule(p, q) for p, q in zip(spots, spots[1:])]
    joints: dict[int, tuple[Spot, Spot, Spot]] = {}
    for k, (turn, radius, tail) in enumerate(g.bends, 1):
        if tail > 0:
            with d.phase(f"Corner {spots[k].name}"):
                joints[k] = _round(d, k, (runs[k - 1], runs[k]), spots[k], radius, 1 if turn > 0 else -1)
    with d.phase("Line in"):
        last = spots[0]
        for k in range(1, len(spots)):
            end = joints[k][1] if k in joints else spots[k]
            if float(distance(last.here, end.here)) > FLUSH * float(distance(g.points[k - 1], g.points[k])):
                d.line_in([last, end], says=f"Line in the straight from {last.name} to {end.name}.")
            last = end
            if k in joints:
                centre, one, two = joints[k]
                shorter_arc(
                    d,
                    centre,
                    g.radii[k - 1][0],
                    one,
                    two,
                    f"Centre {centre.name}, the arc from {one.name} exactly to {two.name}.",
                )
                last = two


def _round(
    d: Draft, k: int, runs: tuple[LineMark, LineMark], corner: Spot, radius: float, side: int
) -> tuple[Spot, Spot, Spot]:
    """Centre and tangent points of one rounded corner."""
    loci = []
    for run in runs:
        length = run.hi - run.lo
        loci.append(touching_parallel(d, run, radius, (0.15 * length, 0.85 * length), side))
    centre = d.meet(loci[0], loci[1], f"K{k}")
    return centre, moves.touch_foot(d, centre, runs[0], f"T{k}a"), moves.touch_foot(d, centre, runs[1], f"T{k}b")
