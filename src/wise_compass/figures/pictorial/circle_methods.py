"""How a hand draws a circle on a face of a picture: by ordinates, by four centres, by diagonals."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import trim
from wise_compass.figures.pictorial.axes import Hand
from wise_compass.figures.pictorial.circles import APART, PARTS, PictorialCircle
from wise_compass.geometry.vectors import cross, polar


class _CircleHand(Hand):
    """The slanting square and what is found in it."""

    g: PictorialCircle

    def __init__(self, g: PictorialCircle, d: Draft) -> None:
        super().__init__(g.axes, d, g.says_scale)
        self.g = g
        self.middles: list[Spot] = []

    def centre_lines(self) -> Spot:
        """O and the two centre lines of the face, along its axes."""
        g, d = self.g, self.d
        with d.phase("The face"):
            centre = d.start_at("O", says="Mark O, the middle of the circle.")
            own = [g.axes.angles[axis] for axis in g.lies if g.drawn == "axonometric" and axis < 2]
            set_to = [Setting(min(angle, 180.0 - angle), "°") for angle in own]
            with d.as_one(
                "Protractor" if own else "Set square",
                "Through O draw both centre lines, as the axes of the face run.",
                *set_to,
            ):
                for axis, half in zip(g.lies, g.halves):
                    reach = float(np.hypot(*half)) * 1.15
                    self.lines[axis] = d.ray(centre, g.axes.angles[axis], role=Role.CENTRE).extent(-reach, reach)
        return centre

    def ends(self, centre: Spot, count: int) -> None:
        """The middles of the four sides, P0 and so on round."""
        g = self.g
        names = [f"P{k * count // 4}" for k in range(4)]
        with self.d.as_one("Rule", f"Lay off half the diameter both ways along both: {', '.join(names)}."):
            for k, name in enumerate(names):
                axis = g.lies[k % 2]
                sign = 1.0 if k < 2 else -1.0
                self.middles.append(self.off(axis, centre, sign * g.diameter / 2, name))

    def square(self) -> list[Spot]:
        """The corners of the slanting square, each after the middle of the same number."""
        d, (one, other) = self.d, self.g.lies
        with d.as_one("Set square", "Through all four draw parallels: the slanting square about the circle."):
            sides = [self.along(other if k % 2 == 0 else one, spot) for k, spot in enumerate(self.middles)]
            return [d.meet(sides[k], sides[(k + 1) % 4], name) for k, name in enumerate("EFGH")]


@method(
    PictorialCircle,
    "ordinates",
    about="A true circle beside the picture; each ordinate carried along the axes from the centre lines.",
    source="Affinity of the circle and its picture: offsets along the axes (ISO 5456-3)",
)
def ordinates(g: PictorialCircle, d: Draft) -> None:
    hand = _CircleHand(g, d)
    n, radius = g.divisions, g.diameter / 2
    centre = hand.centre_lines()
    with d.phase("The true view"):
        left = -max(abs(half[0]) for half in g.halves) * 2 - radius - APART
        true = d.start_at("K", left, 0.0, "Beside it mark K, the middle of the true view.", kind="plain")
        with d.as_one("Set square", "Draw its centre lines."):
            for line in (d.level_from(true, role=Role.CENTRE), d.upright_from(true, role=Role.CENTRE)):
                line.extent(-radius * 1.1, radius * 1.1)
        circle = d.compass(true, radius, "Centre K, draw the circle at its true size.", "half the diameter")
        rays = d.divide_turn(true, n, length=radius)
        with d.as_one("Pencil", f"Mark its {n} divisions."):
            marks = [d.meet(ray, circle, near=polar(true.here, radius, 360.0 * k / n)) for k, ray in enumerate(rays)]
    one, other = g.lies
    askew = abs(g.axes.angles[one] - g.axes.angles[other]) != 90.0
    with d.phase("Find the points"):
        for k, mark in enumerate(marks):
            with d.as_one("Dividers", f"Carry the two offsets of division {k} along the axes: P{k}."):
                foot = centre
                if (4 * k) % (2 * n) != n:  # not on the second axis
                    foot = d.lay_off(
                        hand.lines[one],
                        centre,
                        d.in_proportion(d.opening_along(true, mark, True), g.axes.scales[one]),
                        "" if (2 * k) % n else f"P{k}",
                        kind="found",
                    )
                if (2 * k) % n:
                    exchanged = d.choice(
                        "square-to-the-line",
                        right=False,
                        slip=True,
                        says="Ordinates laid off square to the centre line instead of along the axis.",
                        when=askew and foot is not centre,
                        at=f"P{k}",
                    )
                    line = (
                        hand.lines[other]
                        if foot is centre
                        else d.square_to(hand.lines[one], foot)
                        if exchanged
                        else hand.along(other, foot)
                    )
                    d.lay_off(
                        line, foot, d.in_proportion(d.opening_along(true, mark, False), g.axes.scales[other]), f"P{k}"
                    )
    with d.phase("Line in"):
        d.curve([d.spots[f"P{k}"] for k in range(n)], closed=True, says=f"Line in the ellipse through the {n} points.")


def _no_centres(g: PictorialCircle) -> str | None:
    one, other = (g.axes.scales[axis] for axis in g.lies)
    if g.drawn == "axonometric" and abs(one - other) > 1e-9:
        return (
            "Four centres serve where both axes of the face are drawn to one scale; here they are drawn at "
            f"{trim(one)} and {trim(other)}. Set drawn to isometric, or choose ordinates."
        )
    if abs(one - other) > 1e-9:
        return (
            "Four centres serve where both axes of the face are drawn to one scale; here depths are "
            "halved. Set drawn to cavalier, or choose ordinates."
        )
    return None


@method(
    PictorialCircle,
    "four-centres",
    exact=lambda g: g.is_circle,
    fits=_no_centres,
    fits_given="drawn",
    about="Four arcs that join at the middles of the sides: the large ones from the blunt corners in an isometric.",
    source="Draughtsmen’s rule: tangent arcs in the rhombus about the circle",
)
def four_centres(g: PictorialCircle, d: Draft) -> None:
    hand = _CircleHand(g, d)
    centre = hand.centre_lines()
    with d.phase("The slanting square"):
        hand.ends(centre, PARTS)
        corners = hand.square()
    if g.is_circle:
        with d.phase("Line in"):
            for k in range(1, 5):
                d.also(f"C{k}", centre, kind="plain")
            d.circle_in(
                centre, d.opening(centre, hand.middles[0]), "This face is seen truly: centre O, line in the circle."
            )
        return
    # P0 and P4, P2 and P6 are opposite; the blunt corners stand between P0 P2 and P4 P6, or between P2 P4 and P6 P0
    blunt = g.blunt
    sharp = d.choice("sharp-corners", right=False, slip=True, says="The large arcs centred on the sharp corners.")
    p = [hand.middles[(k + blunt) % 4] for k in range(4)]
    with d.phase("Centres"):
        hubs = _hubs(g, d, hand, p, corners, blunt, sharp)
    with d.phase("Line in"):
        one, two, three, four = hubs
        # the large arcs lie opposite their centres: about one beside the far pair of middles
        for hub, start, end in ((one, p[2], p[3]), (four, p[1], p[2]), (two, p[0], p[1]), (three, p[3], p[0])):
            turn = float(cross(start.here - hub.here, end.here - hub.here))
            d.arc_in(hub, d.opening(hub, start), start, end, clockwise=turn < 0)


def _hubs(
    g: PictorialCircle, d: Draft, hand: _CircleHand, p: list[Spot], corners: list[Spot], blunt: int, sharp: bool
) -> list[Spot]:
    """The two centres of the large arcs and the two of the small ones."""
    sixty = abs(abs(g.axes.angles[g.lies[0]] - g.axes.angles[g.lies[1]]) % 60.0) < 1e-9
    long = d.rule(corners[(blunt + 1) % 4], corners[(blunt + 3) % 4], "Draw the long diagonal.")
    if sixty:
        pair = [corners[(blunt + (1 if sharp else 0)) % 4], corners[(blunt + (3 if sharp else 2)) % 4]]
        one, two = (d.also(f"C{k + 1}", spot) for k, spot in enumerate(pair))
        words = "Join each blunt corner to the middles of the two far sides."
        with d.as_one("Straightedge", words):
            lines = [d.rule(one, p[2]), d.rule(one, p[3]), d.rule(two, p[0]), d.rule(two, p[1])]
    else:
        with d.as_one("Set square", "At the middles of the sides draw square to them: they meet in pairs."):
            sides = [
                d.square_to(hand.lines[g.lies[1] if (k + blunt) % 2 == 0 else g.lies[0]], spot)
                for k, spot in enumerate(p)
            ]
        with d.as_one("Pencil", "Two of the crossings are the centres of the large arcs."):
            one, two = d.meet(sides[2], sides[3], "C1"), d.meet(sides[0], sides[1], "C2")
        lines = [sides[2], sides[3], sides[0], sides[1]]
    with d.as_one("Pencil", "Where those lines cross on the long diagonal are the small centres."):
        # p0 and p3 stand about one sharp corner, p1 and p2 about the other
        three, four = d.meet(lines[2], long, "C3"), d.meet(lines[3], long, "C4")
    return [one, two, three, four]


@method(
    PictorialCircle,
    "diagonals",
    exact=False,
    about="Eight points for a sketch: the four middles, and two thirds of each half diagonal from the middle.",
    source="Sketching rule: √½ of a half diagonal is near two thirds",
)
def diagonals(g: PictorialCircle, d: Draft) -> None:
    hand = _CircleHand(g, d)
    centre = hand.centre_lines()
    with d.phase("The slanting square"):
        hand.ends(centre, PARTS)
        corners = hand.square()
    quarter = d.choice(
        "half-the-diagonal", right=2 / 3, slip=1 / 2, says="Half of each half diagonal taken for two thirds of it."
    )
    with d.phase("Find the points"):
        with d.as_one("Straightedge", "Draw both diagonals."):
            for k in (0, 1):
                d.rule(corners[k], corners[k + 2])
        with d.as_one("Dividers", "On each half diagonal mark two thirds from O: P1, P3, P5 and P7."):
            for k, corner in enumerate(corners):
                d.between(centre, corner, quarter, f"P{2 * k + 1}")
    with d.phase("Line in"):
        d.curve(
            [d.spots[f"P{k}"] for k in range(PARTS)],
            closed=True,
            says="Line in the curve through the eight points by eye.",
        )
