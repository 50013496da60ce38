"""A plot parted from one point of it into pieces whose areas are as given numbers."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, corner_dimensions, level, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.places import Numbers, Point, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare_area, mm, trim
from wise_compass.figures.plane.cornered import Cornered
from wise_compass.figures.plane.ratios import laid_in_ratio
from wise_compass.figures.plane.tangent_circles import plot_all
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.polygons import corner_angles, shoelace
from wise_compass.geometry.vectors import Array, Number, distance

ON_IT = 1e-9
"""mm within which P lies on a side, or on a corner."""
FAR = 12.0
"""Times the girth beyond which the straight base that the areas are brought to is too long to be drawn."""


class DivideArea(Cornered, id="divide-area", family="proportion", title="Divide an area from a point"):
    keys = ("A", "B", "C", "D", "E", "P", "Q*")
    brief = "The plot {corners} parted from P at {P} into pieces as {shares}, with {method}."
    summary = "A plot, a field or a plate parted by lines from one point, so that the pieces are as given numbers."
    value_names = ("area", "pieces", "cuts", "cut_lengths")

    corners = Rows(((0, 0), (90, 0), (104, 52), (50, 84), (-6, 48)), "the corners", ("x", "y"), 3, 12)
    P = Point((44, 36), "the point that the cuts run from")
    shares = Numbers((1, 2, 1, 1), "the shares", 2, 12)

    @cached_property
    def fan(self) -> list[int]:
        """The numbers of the corners as they are walked anticlockwise, from the first or from P on."""
        n = len(self.places)
        walk = list(range(n)) if float(shoelace(self.places)) > 0 else [0, *range(n - 1, 0, -1)]
        p, at = np.array(self.P), self.places[walk]
        for k in range(n):
            if float(distance(at[k], p)) <= ON_IT:
                return [walk[(k + j) % n] for j in range(1, n)]
        for k in range(n):
            a, b = at[k], at[(k + 1) % n]
            off = abs(float(distance_to_line(p, a, b - a)))
            if off <= ON_IT and 0 < float((p - a) @ (b - a)) < float((b - a) @ (b - a)):
                return [walk[(k + j) % n] for j in range(1, n + 1)]
        return [*walk, walk[0]]

    @property
    def inside(self) -> bool:
        """Whether P lies inside and not on a side."""
        return len(self.fan) > len(self.places)

    @cached_property
    def ends(self) -> list[tuple[int, Array]]:
        """For each cut the number of the side in the fan that it ends on, and where."""
        fan, p = self.places[self.fan], np.array(self.P)
        parts = np.array([float(shoelace(np.array([p, a, b]))) for a, b in zip(fan, fan[1:])])
        swept = np.concatenate([[0.0], np.cumsum(parts)])
        made = []
        whole = sum(row[0] for row in self.shares)
        for done in np.cumsum([row[0] for row in self.shares])[:-1]:
            asked = swept[-1] * float(done) / whole
            k = min(int(np.searchsorted(swept, asked, side="right")) - 1, len(parts) - 1)
            made.append((k, fan[k] + (asked - swept[k]) / parts[k] * (fan[k + 1] - fan[k])))
        return made

    def refuse(self) -> None:
        super().refuse()
        ordered = self.places if float(shoelace(self.places)) > 0 else self.places[::-1]
        angles = corner_angles(ordered)
        if float(angles.min()) < 0 or float(angles.max()) >= 180 - 1e-6:
            raise Refused("corners", "The plot is not convex: at one corner it turns inward. Move that corner out.")
        p = np.array(self.P)
        offs = [float(distance_to_line(p, a, b - a)) for a, b in zip(ordered, np.roll(ordered, -1, axis=0))]
        if min(offs) < -ON_IT:
            raise Refused("P", f"P lies {mm(-min(offs))} outside the plot. Put it inside or on a side.")
        fan = self.places[self.fan]
        height = abs(float(distance_to_line(p, fan[0], fan[1] - fan[0])))
        nearest = min(abs(float(distance_to_line(p, a, b - a))) for a, b in zip(fan, fan[1:]))
        girth = float(distance(self.places, np.roll(self.places, -1, axis=0)).sum())
        if min(height, nearest) * FAR * girth < 2 * self.area:
            raise Refused("P", f"P lies only {mm(nearest)} off a side. Put it on that side, or further in.")

    def values(self, method: str) -> Iterable[Value]:
        names = tuple(f"Q{k}" for k in range(1, len(self.ends) + 1))
        yield Value("area", self.area, "mm²", "half the sum of the corners’ cross products", tuple(self.letters))
        whole = sum(row[0] for row in self.shares)
        pieces = [self.area * row[0] / whole for row in self.shares]
        yield Value("pieces", pieces, "mm²", f"{bare_area(self.area)} / {trim(whole)} times each share")
        cuts = [[float(x) for x in at] for _, at in self.ends]
        yield Value("cuts", cuts, "mm", "where the area swept round from the start is the shares before", names)
        lengths = [float(distance(at, np.array(self.P))) for _, at in self.ends]
        yield Value("cut_lengths", lengths, "mm", "from P to each", names)

    def measure(self, found: Found) -> dict[str, Number]:
        cuts = found.group("Q")
        start = (found["A"] - self.places[0])[..., None, :]
        area = np.abs(shoelace(found.together(list(self.letters))))
        return {"area": area, "cuts": cuts - start, "cut_lengths": distance(cuts, found["P"][..., None, :])}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.corner_truths(found)
        names = [self.letters[k] for k in self.fan]
        whole, size = sum(row[0] for row in self.shares), float(np.sqrt(self.area))
        bounds = [(0, "")] + [(k, f"Q{n}") for n, (k, _) in enumerate(self.ends, 1)] + [(len(names) - 1, "")]
        for n, ((low, first), (high, last)) in enumerate(zip(bounds, bounds[1:]), 1):
            round_it = ["P", *([first] if first else [names[0]]), *names[low + 1 : high + 1], *([last] if last else [])]
            piece = found.together(list(dict.fromkeys(round_it)))
            asked = self.area * self.shares[n - 1][0] / whole
            yield Truth(f"Piece {n} has its area", (np.abs(shoelace(piece)) - asked) / size)
        for n, (k, _) in enumerate(self.ends, 1):
            a, b = found[names[k]], found[names[k + 1]]
            yield Truth(f"Q{n} lies on {names[k]}{names[k + 1]}", distance_to_line(found[f"Q{n}"], a, b - a))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield from corner_dimensions([found[name] for name in self.letters], "corners")
        left, low = (min((found[name] for name in self.letters), key=lambda p, k=k: float(p[k])) for k in (0, 1))  # type: ignore[misc]
        yield level(left, found["P"], "P", float(found["P"][0] - left[0]), side=1)
        yield upright(low, found["P"], "P", float(found["P"][1] - low[1]), side=-1)


@method(
    DivideArea,
    "equal-triangles",
    about="All triangles about P brought to one straight base by parallels, that parted, and the marks carried back.",
    source="Triangles of one height are as their bases (Euclid, Elements I.37, VI.1)",
)
def equal_triangles(g: DivideArea, d: Draft) -> None:
    with d.phase("The plot"):
        spots = plot_all(d, {**g.lettered, "P": g.P})
        pole = spots["P"]
        d.line_in([spots[name] for name in g.letters], closed=True, says="Line in the plot.")
    fan = [spots[g.letters[k]] for k in g.fan]
    with (
        d.phase("The triangles about P"),
        d.as_one("Straightedge", "From P draw to the corners, and the sides on both ways."),
    ):
        rays = [d.rule(pole, one) for one in fan]
        sides = [d.rule(one, other) for one, other in zip(fan, fan[1:])]
    by_girth = d.choice(
        "boundary-divided", right=False, slip=True, says="The girth is parted as the shares, not the area."
    )
    with d.phase("One straight base"):
        ends = [fan[0], fan[1]]
        for i in range(2, len(fan)):
            ends.append(_brought(d, fan, rays, sides, ends, i, by_girth))
    with d.phase("Part it"):
        shares = [row[0] for row in g.shares]
        side = -30.0 if float(shoelace(np.array([fan[0].here, fan[1].here, pole.here]))) > 0 else 30.0
        marks, *_ = laid_in_ratio(d, sides[0], ends[0], ends[-1], shares, [], side)
    with d.phase("Carry the marks back"):
        cuts = [_taken_back(d, fan, rays, sides, ends, mark, n, by_girth) for n, mark in enumerate(marks, 1)]
    with d.phase("Line in"), d.as_one("Straightedge", "Line in the cuts from P."):
        if g.inside:
            d.line_in([pole, fan[0]])
        for cut in cuts:
            d.line_in([pole, cut])


def _brought(
    d: Draft, fan: list[Spot], rays: list[LineMark], sides: list[LineMark], ends: list[Spot], i: int, by_girth: bool
) -> Spot:
    """Corner number ``i`` brought to the first side's line, its triangle with P as large as before."""
    base = f"{fan[0].name}{fan[1].name}"
    if by_girth:
        words = f"Lay {fan[i - 1].name}{fan[i].name} off on {base} drawn on."
        return d.lay_off(sides[0], ends[-1], d.opening(fan[i - 1], fan[i]), "", words, kind="plain")
    along = ", then ".join(f"P{fan[j].name}" for j in range(i - 1, 0, -1))
    at = fan[i]
    with d.as_one("Set square", f"Carry {fan[i].name} to {base}: parallel to {along}."):
        for j in range(i - 1, 0, -1):
            at = d.meet(d.parallel_to(rays[j], at), sides[j - 1], "")
    return at


def _taken_back(
    d: Draft,
    fan: list[Spot],
    rays: list[LineMark],
    sides: list[LineMark],
    ends: list[Spot],
    mark: Spot,
    n: int,
    by_girth: bool,
) -> Spot:
    """A mark of the straight base brought to its own side."""
    u = ends[-1].here - ends[0].here
    along = float((mark.here - ends[0].here) @ u)
    reach = [float((end.here - ends[0].here) @ u) for end in ends]
    k = max(j for j in range(len(ends) - 1) if reach[j] <= along + 1e-9 * abs(reach[-1]))
    side = f"{fan[k].name}{fan[k + 1].name}"
    if k == 0:
        with d.as_one("Pencil", f"Mark {n} lies on {side} itself: Q{n}."):
            return d.also(f"Q{n}", mark)
    if by_girth:
        return d.lay_off(sides[k], fan[k], d.opening(ends[k], mark), f"Q{n}", f"Carry mark {n} to {side}.")
    ways = ", then ".join(f"P{fan[j].name}" for j in range(1, k + 1))
    at = mark
    with d.as_one("Set square", f"Carry mark {n} back to {side}: parallel to {ways}."):
        for j in range(1, k + 1):
            at = d.meet(d.parallel_to(rays[j], at), sides[j], f"Q{n}" if j == k else "")
    return at
