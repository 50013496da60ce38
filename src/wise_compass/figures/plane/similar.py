"""A polygon made larger or smaller from a pole, in a ratio of its lengths or of its areas."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, corner_dimensions
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import LONGEST_LENGTH, Choice, Real
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.places import Point, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare_area, most_mm, trim, trim_down
from wise_compass.figures.plane.cornered import Cornered
from wise_compass.figures.plane.ratios import SLANT, angle_between_spots
from wise_compass.figures.plane.tangent_circles import plot_all
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.vectors import Array, Number, distance

HERE = 1e-6
"""mm within which a corner is the pole itself."""
WELL, FLAT = 0.2, 1e-3
"""Sine of the angle from which a parallel cuts a ray well, and under which it does not at all."""


class SimilarFigure(Cornered, id="similar-figure", family="proportion", title="Similar figure"):
    keys = ("A", "B", "C", "D", "O", "A*", "B*", "C*", "D*")
    brief = "The figure {corners} changed from the pole {pole}, its {by} as {first} to {second}, with {method}."
    summary = "A polygon drawn larger or smaller from a pole, in a ratio of its lengths or of its areas."
    value_names = ("factor", "corners", "sides", "area")

    corners = Rows(((0, 0), (54, 0), (62, 34), (20, 48)), "the corners", ("x", "y"), 3, 12)
    pole = Point((-28, -16), "the pole")
    by = Choice("lengths", "what is in the ratio", ("lengths", "areas"))
    first = Real(2, "the first term, of the given figure", least=0.01, most=1000)
    second = Real(3, "the second term, of the new figure", least=0.01, most=1000)

    @property
    def factor(self) -> float:
        ratio = self.second / self.first
        return ratio if self.by == "lengths" else float(np.sqrt(ratio))

    @cached_property
    def made(self) -> Array:
        """The new corners, (n, 2)."""
        o = np.array(self.pole)
        return np.asarray(o + self.factor * (self.places - o))

    def refuse(self) -> None:
        super().refuse()
        if abs(self.factor - 1) < 1e-6:
            raise Refused("second", "The terms are alike, so that the figure stays as it is. Change first or second.")
        if float(np.abs(self.made).max()) > LONGEST_LENGTH:
            way = self.places - np.array(self.pole)
            with np.errstate(divide="ignore"):
                room = float(((LONGEST_LENGTH - np.sign(way) * np.array(self.pole)) / np.abs(way)).min())
            most = self.first * (room if self.by == "lengths" else room**2)
            raise Refused(
                "second",
                f"The new figure reaches beyond {most_mm(LONGEST_LENGTH)}. "
                f"Lower second to {trim_down(most, 6)} or less.",
            )

    @property
    def order(self) -> list[int]:
        """The corners in the order in which they are found, the furthest from the pole first."""
        start = int(np.argmax(distance(self.places, np.array(self.pole))))
        return [(start + k) % len(self.corners) for k in range(len(self.corners))]

    def values(self, method: str) -> Iterable[Value]:
        ratio = f"{trim(self.second)} / {trim(self.first)}"
        yield Value("factor", self.factor, "", ratio if self.by == "lengths" else f"√({ratio})")
        names = tuple(f"{name}1" for name in self.letters)
        told = [[float(x) for x in row] for row in self.made]
        yield Value("corners", told, "mm", f"from the pole {trim(self.factor)} times as far", names)
        sides = distance(self.made, np.roll(self.made, -1, axis=0))
        yield Value("sides", sides.tolist(), "mm", f"each side times {trim(self.factor)}", names)
        area = self.area
        yield Value("area", area * self.factor**2, "mm²", f"{bare_area(area)} × {trim(self.factor)}²", names)

    def measure(self, found: Found) -> dict[str, Number]:
        new = found.together([f"{name}1" for name in self.letters])
        return {"corners": new, "sides": distance(new, np.roll(new, -1, axis=-2)), "area": np.abs(shoelace(new))}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.corner_truths(found)
        old, new = (found.together([f"{name}{more}" for name in self.letters]) for more in ("", "1"))
        for k, name in enumerate(self.letters):
            yield Truth(
                f"{name}1 lies on the ray of {name}, so many times as far",
                new[..., k, :] - found["O"] - self.factor * (old[..., k, :] - found["O"]),
            )
        ratio = self.second / self.first
        size = float(np.sqrt(self.area))
        if self.by == "areas":
            yield Truth("The areas are as the terms", (np.abs(shoelace(new)) - ratio * self.area) / size)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield from corner_dimensions([found["O"], *(found[name] for name in self.lettered)], "corners")


@method(
    SimilarFigure,
    "rays",
    about="Rays from the pole; the first corner by a proportional, the others by parallels.",
    source="Euclid, Elements VI.2, VI.12, VI.13, VI.18",
)
def similar_rays(g: SimilarFigure, d: Draft) -> None:
    with d.phase("The given figure"):
        spots = plot_all(d, {"O": g.pole, **g.lettered})
        pole = spots.pop("O")
        given = list(spots.values())
        d.line_in(given, closed=True, says="Draw the given figure thin.", role=Role.CONSTRUCTION)
    with d.phase("The first corner"):
        order = g.order
        lead = given[order[0]]
        rays = {order[0]: d.rule(pole, lead, f"From O draw the ray through {lead.name}.")}
        new = {order[0]: _scaled(g, d, pole, lead, rays[order[0]], f"{lead.name}1")}
    with d.phase("The other corners"):
        for k in order[1:]:
            new[k] = _carried(g, d, pole, given, rays, new, k, order)
    with d.phase("Line in"):
        d.line_in([new[k] for k in range(len(given))], closed=True, says="Line in the new figure.")


def _scaled(g: SimilarFigure, d: Draft, pole: Spot, lead: Spot, ray: LineMark, name: str) -> Spot:
    """The first corner: as far from the pole as the terms ask."""
    first, second = g.first, g.second
    by_areas = d.choice(
        "areas-as-lengths",
        right=g.by == "areas",
        slip=False,
        when=g.by == "areas",
        says="The ratio of the areas is taken for that of the lengths.",
    )
    far = float(distance(pole.here, lead.here))
    unit = 0.7 * far / max(first, second)
    slant = d.ray(
        pole, angle_between_spots(pole, lead) + SLANT, "From O draw a line aslant.", length=unit * max(first, second)
    )
    one = d.lay_off(slant, pole, unit * first, "", f"On it lay off {trim(first)} units from O.", kind="plain")
    if by_areas:
        other = _mean_of(d, pole, slant, unit * first, unit * second)
    else:
        other = d.lay_off(slant, pole, unit * second, "", f"And {trim(second)} units.", kind="plain")
    join = d.rule(one, lead, f"Join the first to {lead.name}.")
    return d.meet(d.parallel_to(join, other, "Through the other draw parallel to it."), ray, name)


def _mean_of(d: Draft, pole: Spot, slant: LineMark, first: float, second: float) -> Spot:
    """The mean proportional of two lengths, laid off from the pole along the slanting line."""
    with d.move("The mean proportional"):
        back = d.lay_off(slant, pole, -second, "", "From O lay the second term off the other way.", kind="plain")
        end = d.lay_off(slant, pole, first, "", "And the first term along it.", kind="plain")
        with d.as_one("Dividers", "Halve the whole."):
            middle = d.midpoint(back, end, "")
        arc = d.compass(middle, d.opening(middle, end), "About its middle draw the half circle on it.")
        square = d.square_to(slant, pole, "At O draw square to it.")
        top = d.meet(square, arc, "", near=pole.here + slant_left(slant) * first)
        swung = d.compass(pole, d.opening(pole, top), "Centre O, swing the mean down.", whole=False)
        return d.meet(slant, swung, "", near=end)


def slant_left(line: LineMark) -> Array:
    """The unit vector to the left of a line as the steady hand has it."""
    u = line.u if line.u.ndim == 1 else line.u[0]
    return np.array([-u[1], u[0]])


def _carried(
    g: SimilarFigure,
    d: Draft,
    pole: Spot,
    given: list[Spot],
    rays: dict[int, LineMark],
    new: dict[int, Spot],
    k: int,
    order: list[int],
) -> Spot:
    """A further corner, by a parallel from one that stands already and does not lie in one line with it and the
    pole."""
    spot = given[k]
    if float(distance(spot.here, pole.here)) < HERE:
        with d.as_one("Pencil", f"{spot.name} is the pole itself and stays."):
            return d.also(f"{spot.name}1", pole)
    places, o = g.places, np.array(g.pole)

    def slant(j: int) -> float:
        u, v = places[k] - o, places[k] - places[j]
        return abs(float(u[0] * v[1] - u[1] * v[0])) / float(np.hypot(*u) * np.hypot(*v))

    known = [j for j in new if float(distance(places[j], o)) > HERE]
    beside = [j for j in (order[order.index(k) - 1], (k + 1) % len(given)) if j in known and slant(j) > WELL]
    best = beside[0] if beside else max(known, key=slant)
    ray = rays[k] = d.rule(pole, spot, f"From O draw the ray through {spot.name}.")
    if slant(best) < FLAT:  # all in one line with the pole: by its own proportional
        return _scaled(g, d, pole, spot, ray, f"{spot.name}1")
    from_name = given[best].name
    side = d.rule(given[best], spot, f"Lay the set square along {from_name}{spot.name}.")
    words = f"Through {from_name}1 draw parallel to {from_name}{spot.name}: {spot.name}1."
    return d.meet(d.parallel_to(side, new[best], words), ray, f"{spot.name}1")
