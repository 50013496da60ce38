"""Cutting spheres: about the place where both axes cross, a sphere cuts cone and pipe in circles seen on edge."""

from __future__ import annotations

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import bare
from wise_compass.figures.meetings.pair import Named
from wise_compass.figures.meetings.piercing import Piercing, finish, set_out
from wise_compass.figures.meetings.rounds import ConeAndCylinder
from wise_compass.geometry.interpenetration import MeetPoint
from wise_compass.geometry.vectors import Array, length, point3, tand

STEEP = 0.3
"""The least sine of the angle at which a sphere's outline may cross another."""


class Spheres(Piercing):
    """The line sphere by sphere, each so wide that its points fall on a division."""

    centre: Spot

    def find(self) -> None:
        g, d = self.g, self.d
        self.k = self._crossing
        with d.phase("The cutting spheres"):
            with d.as_one("Pencil", "Letter K, where both axes cross in the elevation."):
                self.centre = d.meet(self.axis, self.axis_upright, "K")
            if any(self._grazes(one, float(length(one.at - self.k))) for one in g.named.values()):
                self.along_view()
            done: list[tuple[Array, Spot]] = []
            points = [named for loop in g.lines for named in loop]
            for one in sorted(points, key=lambda named: not self.is_key(named)):
                self._point(one, done)
        with d.phase("Highest and lowest"):
            self.extremes()

    @property
    def _crossing(self) -> Array:
        """Where the axes cross, in space."""
        x, _, z = self.g.on_axis.tolist()
        return point3(0.0, 0.0, z - x * float(tand(self.g.rises)))

    def _point(self, named: Named, done: list[tuple[Array, Spot]]) -> None:
        d, one = self.d, named.meets
        front, _, _ = self.element_lines(one)
        flat = one.at[[0, 2]]
        for known, spot in done:
            if float(length(known - flat)) < 1e-7:
                with d.as_one("Set square", f"{named.name}: over its mate; in the plan it lies on its own line."):
                    self._in_plan(named, spot)
                return
        radius = float(length(one.at - self.k))
        if abs(float(one.at[1])) <= 1e-7:
            with d.as_one("Pencil", f"{named.name}: both outlines cross there."):
                side = "right" if float(one.at[0]) >= 0 else "left"
                spot = d.meet(front, self.contour[side])
                self._in_plan(named, spot)
        elif self._grazes(one, radius):
            words = f"{named.name}: its sphere nearly touches; by the generator in the plane through V and its line."
            with d.as_one("Straightedge", words):
                self._in_cone(named)
                spot = d.spots[f"{named.name}.front"]
        else:
            words = (
                f"{named.name}: about K a sphere as worked, {bare(radius)}; the "
                "circles that it cuts of both cross there."
            )
            with d.as_one("Compass", words, Setting(radius, "mm")):
                spot = self._by_sphere(named, radius)
        done.append((flat, spot))

    def _grazes(self, one: MeetPoint, radius: float) -> bool:
        """Whether a sphere cuts the cone's outline or the pipe's too slantingly to tell where."""
        g = self.g
        touching = (g.tall - float(self.k[2])) * g.main_solid.radius / g.slant
        return any(radius * radius - r * r < (STEEP * radius) ** 2 for r in (touching, g.branch_radius))

    def _by_sphere(self, named: Named, radius: float) -> Spot:
        d, g, one = self.d, self.g, named.meets
        circle = d.compass(self.centre, radius, whole=False)
        high = float(one.at[2])
        wide = g.radius * (1 - high / g.height) if isinstance(g, ConeAndCylinder) else 0.0
        rim = d.meet(self.contour["right"], circle, near=self.front_at(point3(wide, 0.0, high)))
        level = d.level_from(rim)
        along = float(g.branch.along(one.at))
        outer = g.branch.element(0.0) + along * g.branch.axis
        on = d.meet(self.front[self.place_key(0.0)], circle, near=self.front_at(outer))
        across = d.square_to(self.axis, on)
        spot = d.meet(level, across)
        self._in_plan(named, spot)
        return spot

    def _in_plan(self, named: Named, front: Spot) -> None:
        _, top, _ = self.element_lines(named.meets)
        assert top is not None
        self.enter(named.name, front, self.d.meet(self.d.upright_from(front, role=Role.PROJECTOR), top))


def _not_crossing(g: ConeAndCylinder) -> str | None:
    if g.upright:
        return "The axes are parallel: no sphere stands about both. Take slope under 90, or another method."
    if abs(g.offset) > 1e-9:
        return "The axes pass each other: no sphere stands about both. Set offset to 0, or take another method."
    return None


@method(
    ConeAndCylinder,
    "cutting-spheres",
    about=(
        "Spheres about the crossing of the axes cut the cone and the pipe in "
        "circles, both seen on edge in the elevation."
    ),
    source="Surfaces of revolution whose axes cross meet a common sphere in circles (Monge)",
    fits=_not_crossing,
)
def cone_by_spheres(g: ConeAndCylinder, d: Draft) -> None:
    hand = Spheres(g, d)
    set_out(g, d, hand)
    hand.find()
    finish(g, d, hand)
