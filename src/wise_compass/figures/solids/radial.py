"""How pyramids and cones are developed by radial lines: true lengths about one apex, and on each the true distance of
the cut."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.wording import trim
from wise_compass.figures.solids.lining import line_in_pattern
from wise_compass.figures.solids.prisms import APART, ONE_ON
from wise_compass.figures.solids.pyramids import Cone, Pyramid
from wise_compass.figures.solids.sectors import sector_ends
from wise_compass.figures.solids.upright import Upright, views_of
from wise_compass.geometry.vectors import Array, cosd, polar, sind


class RadialDevelopment:
    """The pattern about its own apex: lines of one true length, and on each the true distance of the cut from the
    apex."""

    def __init__(self, g: Pyramid | Cone, d: Draft, hand: Upright, stepped: bool) -> None:
        self.g, self.d, self.hand, self.strips, self.stepped = g, d, hand, g.strips, stepped
        self.kept, self.n = g.cutting, g.stock.count
        self.true: LineMark
        self.foot: Spot

    def draw(self) -> None:
        g, d = self.g, self.d
        apparent = "Apparent lengths taken for true ones on the slant edges."
        wrong = d.choice("apparent", right=False, slip=True, says=apparent, when=not g.round or self.kept.cut_away)
        with d.phase("True lengths"), d.apart("lengths"):
            points = self._true_lengths(wrong)
        with d.phase("The pattern"), d.apart("pattern"):
            self._lay_out(points, wrong)
            line_in_pattern(g, d, "arc" if g.round else "straight")

    # true lengths

    def _true_lengths(self, wrong: bool) -> dict[str, Spot]:
        """The place of every corner of the cut on a line that shows true lengths, by its name; the apex and the foot
        among them."""
        d, g, hand = self.d, self.g, self.hand
        front = hand.views.front
        apex = hand.spot("V", front)
        if g.round:
            self.true = hand.in_front[0]
            self.foot = hand.spot(g.stock.lower(0), front)
            top = apex
        else:
            top = self._diagram(apex)
        points = {"V": top}
        names = [name for name in self.kept.places if name[0] == "C"]
        if wrong:
            points.update({name: hand.spot(name, front) for name in names})
            points["V"] = apex
            return points
        if names:
            where = (
                "the generator at the right, which the elevation shows truly"
                if g.round
                else "the true length of the edges"
            )
            with d.as_one(
                "Set square",
                f"Carry the points of the cut level to {where}.",
                why="at one height all lines are as far gone",
            ):
                for name in names:
                    points[name] = d.meet(d.level_from(hand.spot(name, front), role=Role.PROJECTOR), self.true)
        return points

    def _diagram(self, apex: Spot) -> Spot:
        """The true-length triangle of the slant edges: the height upright, the plan length along the ground."""
        d, g, hand = self.d, self.g, self.hand
        left = min(float(spot.here[0]) for spot in d.spots.values())
        with d.move("The true-length triangle"):
            with d.as_one(
                "Set square", "Beside the views draw an upright on the ground line, and carry the apex level to it."
            ):
                base = d.on(hand.ground, left - APART - float(hand.foot.here[0]), "L")
                top = d.meet(d.level_from(apex, role=Role.PROJECTOR), d.upright_from(base), "U")
            plan = d.opening(hand.centre, hand.spot(g.stock.lower(0), hand.views.top))
            says = "Lay off the plan length of an edge from its foot, along the ground."
            self.foot = d.lay_off(
                hand.ground, base, plan, "K", says, "height upright, plan length level: the slope is true", way=-1
            )
            self.true = d.rule(top, self.foot, "Join: the true length of every slant edge, as all are alike.")
            d.label("true lengths", base, self.foot)
        return top

    # the pattern

    def _lay_out(self, points: dict[str, Spot], wrong: bool) -> None:
        d, g, n, hand = self.d, self.g, self.n, self.hand
        front = hand.views.front
        apparent = wrong and not g.round
        whole = (
            d.opening(hand.spot("V", front), hand.spot(g.stock.lower(0), front))
            if apparent
            else d.opening(points["V"], self.foot)
        )
        centre = self._apex()
        arc = d.compass(
            centre, whole, "Centre W, swing an arc with the true length.", "all lines of the pattern are as long"
        )
        half = n * g.part / 2
        arc.swing(-90.0 - half - 5.0 if g.round else self._seam_at - 5.0, 2 * half + 10.0)
        keys = [self.strips.station("Q", j) for j in range(n + 1)]
        stations = self._sector(arc, centre, keys) if isinstance(g, Cone) else self._sides(arc, centre, keys)
        with d.as_one("Straightedge", "Join every mark to W."):
            lines = [d.rule(centre, spot) for spot in stations]
        self._points(points, centre, lines)
        self._exits(arc, stations)

    def _apex(self) -> Spot:
        """W where the whole pattern has room, left of all that stands."""
        d, g = self.d, self.g
        half = min(self.n * g.part / 2 + 20.0, 180.0)
        wide = g.slant * (1.0 if half >= 90 else float(sind(half)))
        over = max(0.0, -g.slant * float(cosd(half)))
        left = min(float(spot.here[0]) for spot in d.spots.values())
        front = self.hand.views.front
        y = max(float(front.origin[1]) + g.tall - over, float(front.origin[1]) + g.tall / 2)
        return d.start_at("W", left - APART - wide, y, "Mark W, the apex of the pattern, where all of it has room.")

    @property
    def _seam_at(self) -> float:
        """The direction of the seam from W: by the set squares, so that the pattern hangs about even."""
        return 15.0 * round((-90.0 - self.n * self.g.part / 2) / 15.0)

    def _seam_line(self, arc: ArcMark, centre: Spot, key: str) -> Spot:
        ray = self.d.ray(
            centre, self._seam_at, "From W draw the line of the seam, at any handy angle.", length=self.g.slant
        )
        return self.d.meet(arc, ray, key, near=polar(centre.here, self.g.slant, self._seam_at))

    def _sides(self, arc: ArcMark, centre: Spot, keys: list[str]) -> list[Spot]:
        """The sides of the base stepped round the arc."""
        d, g, n = self.d, self.g, self.n
        start = self._seam_line(arc, centre, keys[0])
        side = d.opening(*(self.hand.spot(g.stock.lower(k), self.hand.views.top) for k in (0, 1)))
        count = d.choice("seam-twice", right=n, slip=n - 1, says="The seam counted twice: one side too few.")
        words = (
            "From there step the sides of the base round the arc, the seam on edge "
            f"{g.given_values['seam']}: {n} spaces, {n + 1} marks."
        )
        spots = d.step_round(arc, start, side, keys[1 : count + 1], says=words)
        return [start, *spots, *(d.also(key, spots[-1], "plain") for key in keys[count + 1 :])]

    def _sector(self, arc: ArcMark, centre: Spot, keys: list[str]) -> list[Spot]:
        """The sector of a cone: its angle by chords from the middle, and its arc divided; or chords of the base stepped
        round it."""
        d, g, n = self.d, self.g, self.n
        assert isinstance(g, Cone)
        seam = f"the seam on generator {g.seam}"
        chords = d.choice(
            "chords",
            right=self.stepped,
            slip=True,
            says="Chords of the base stepped round the arc for its divisions.",
            when=not self.stepped,
        )
        if chords:
            start = self._seam_line(arc, centre, keys[0])
            chord = d.opening(*(self.hand.spot(g.stock.lower(k), self.hand.views.top) for k in (0, 1)))
            words = f"Step the chord of a division of the plan {n} times round the arc, {seam}."
            return [
                start,
                *d.step_round(arc, start, chord, keys[1:], says=words, why=f"≈ {n} chords are shorter than the circle"),
            ]
        start, end = sector_ends(d, centre, arc, (g.slant, g.sector, g.reach), (keys[0], keys[n]), f", {seam}")
        count = d.choice("seam-twice", right=n, slip=n - 1, says="The seam counted twice: one space too few.")
        spots = d.divide_arc(arc, start, end, count, keys, f"Cut the arc into {n} equal parts by trial.")
        return spots if count == n else [*spots[:-1], d.also(keys[n - 1], end, "plain"), end]

    def _points(self, points: dict[str, Spot], centre: Spot, lines: list[LineMark]) -> None:
        """The true distance of every corner of the cut from the apex, laid off on its own line."""
        d, strips = self.d, self.strips
        cuts = [f"C{number}" for number in self.g.stock.numbers]
        if not any(name in points for name in cuts):
            return
        shift = d.choice("one-on", right=0, slip=1, says=ONE_ON)
        lines_called = "generator" if self.g.round else "edge"
        words = f"Lay off from W how far the cut is from the apex in true length, each on its own {lines_called}."
        with d.as_one("Dividers", words, why="lengths that repeat are taken once: keep the opening"):
            for j, line in enumerate(lines):
                name = cuts[strips.place(j)]
                other = cuts[strips.place(j + shift)]
                if name in points:
                    taken = d.opening(points["V"], points[other if other in points else name])
                    d.lay_off(line, centre, taken, strips.station("P", j))

    def _exits(self, arc: ArcMark, stations: list[Spot]) -> None:
        """Where the cut leaves through the base."""
        d, g, kept, strips = self.d, self.g, self.kept, self.strips
        for j, names in strips.faces:
            for name in (name for name in names if name[0] == "E"):
                k, key = strips.place(j), strips.key(j, name)
                low = g.stock.lower(k)
                words = f"From {stations[j].name} lay off how far {name} is beyond {low} on the base"
                if g.round:
                    turn = [float(np.rad2deg(np.arctan2(-at[1], at[0]))) for at in (g.stock.base[k], kept.places[name])]
                    angle = ((turn[1] - turn[0]) % 360.0) * g.reach / g.slant
                    chord = 2 * g.slant * float(sind(angle / 2))
                    why = f"its arc is {trim(angle)}° of the pattern"
                    swung = d.compass(stations[j], chord, f"{words}, by its chord.", why, whole=False)
                    d.meet(arc, swung, key, near=polar(arc_centre(arc), g.slant, bearing(arc, stations[j]) + angle))
                else:
                    beyond = d.opening(
                        self.hand.spot(low, self.hand.views.top), self.hand.spot(name, self.hand.views.top)
                    )
                    side = d.rule(stations[j], stations[j + 1], f"Join {stations[j].name} to {stations[j + 1].name}.")
                    d.lay_off(side, stations[j], beyond, key, f"{words}.")


def arc_centre(arc: ArcMark) -> Array:
    """The steady hand's centre, to tell which of two crossings is meant."""
    return arc.centre if arc.centre.ndim == 1 else arc.centre[0]


def bearing(arc: ArcMark, spot: Spot) -> float:
    """In which direction a spot lies from the centre of an arc, in degrees."""
    x, y = (spot.here - arc_centre(arc)).tolist()
    return float(np.rad2deg(np.arctan2(y, x)))


def radial_lines(g: Pyramid | Cone, d: Draft, stepped: bool = False) -> None:
    hand = views_of(g, d)
    if g.wanted[1]:
        RadialDevelopment(g, d, hand, stepped).draw()


SOURCE = "Development of a pyramidal surface: triangles of true lengths about one apex"
ABOUT = (
    "Plan, elevation and cut; then lines of the true length about one apex, and on each the true distance of the cut."
)


@method(Pyramid, "radial-lines", about=ABOUT, source=SOURCE)
def radial_pyramid(g: Pyramid, d: Draft) -> None:
    radial_lines(g, d)


@method(Cone, "radial-lines", about=f"{ABOUT} The sector’s angle by its chord.", source=SOURCE)
def radial_cone(g: Cone, d: Draft) -> None:
    radial_lines(g, d)


@method(
    Cone,
    "stepped-chords",
    exact=lambda g: not g.wanted[1],
    about=f"{ABOUT} Chords of the base stepped round the arc: quick, and a little short.",
    source="Approximation of an arc by its chords",
)
def stepped_chords(g: Cone, d: Draft) -> None:
    radial_lines(g, d, stepped=True)
