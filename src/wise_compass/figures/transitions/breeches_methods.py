"""How a hand sets out breeches: the sphere that all skins touch, the joints on edge, and both patterns."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.transitions.breeches import SAME, Breeches
from wise_compass.geometry.vectors import direction

GAP, BEYOND = 22.0, 6.0
"""What is left between the views and the patterns, and how far lines run beyond what they are drawn for."""
LEAST_MISS = 1e-7
"""Degrees under which the leg's lower side and the main's are one line."""


class _Hand:
    """The breeches on the way."""

    def __init__(self, g: Breeches, d: Draft) -> None:
        self.g, self.d = g, d
        self.tops: dict[int, tuple[Spot, Spot]] = {}

    def sphere(self) -> None:
        g, d = self.g, self.d
        self.o = d.start_at("O", says="Mark O, where the three axes meet.")
        self.axis = d.upright_from(self.o, "Draw the main’s axis upright.", Role.CENTRE).extent(
            -g.main_length - BEYOND, g.crotch + BEYOND
        )
        self.ball = d.compass(
            self.o, g.main, "Centre O, draw the sphere that all three skins touch.", "half the main’s diameter"
        )
        level = d.level_from(self.o, "Draw level through O.").extent(-g.main, g.main)
        self.foot = d.lay_off(
            self.axis, self.o, -g.main_length, "", "Lay the main’s length off downward.", kind="plain"
        )
        with d.as_one("Set square", "Draw the main’s end level, and its sides upright, touching the sphere."):
            self.base = d.level_from(self.foot).extent(-g.main, g.main)
            touches = [d.meet(level, self.ball, near=self.o.here + way * g.main * direction(0.0)) for way in (1, -1)]
            self.sides = [d.upright_from(spot).extent(-g.main_length, BEYOND) for spot in touches]
            self.corners = [d.meet(side, self.base) for side in self.sides]
        self.touch = touches[0]

    def leg(self) -> None:
        g, d = self.g, self.d
        self.leg_axis = d.ray(
            self.o, 90.0 - g.spread, "Draw the right leg’s axis.", role=Role.CENTRE, length=g.leg_length + BEYOND
        )
        self.e = d.lay_off(self.leg_axis, self.o, g.leg_length, "", "Lay the leg’s length off along it.", kind="plain")
        self.end = d.square_to(self.leg_axis, self.e, "Draw its end square to the axis.").extent(-g.leg, g.leg)
        with d.as_one("Rule", "Lay half the leg’s diameter off either way.", Setting(g.leg, "mm")):
            self.low, self.high = (d.lay_off(self.end, self.e, way * g.leg, "", kind="plain") for way in (-1, 1))
        self.lower, self.upper = (self._side(spot, way) for spot, way in ((self.low, "lower"), (self.high, "upper")))
        if not g.pipes:
            self.apex = d.meet(self.lower, self.leg_axis, "Z")

    def _side(self, corner: Spot, words: str) -> LineMark:
        """A side of the leg, from its end's corner to where it touches the sphere."""
        g, d = self.g, self.d
        if g.pipes:
            return d.parallel_to(self.leg_axis, corner, f"Draw the leg’s {words} side parallel to its axis.")
        with d.as_one(
            "Compass", f"Halve the way from O to the {words} corner; about the middle, through O, cut the sphere."
        ):
            middle = d.midpoint(self.o, corner, "")
            half = d.compass(middle, d.opening(middle, self.o), whole=False)
            u = (self.o.here - corner.here) / float(np.hypot(*(self.o.here - corner.here)))
            off = np.array([u[1], -u[0]]) * (1.0 if words == "upper" else -1.0)
            touch = d.meet(self.ball, half, near=self.o.here + off * g.main)
        return d.rule(corner, touch, f"Draw the leg’s {words} side through it: there it touches.")

    def joints(self) -> None:
        g, d = self.g, self.d
        right, left = self.sides
        with d.as_one("Straightedge", "Mark A, where the main’s right side and the leg’s lower side cross."):
            if abs(g.spread - g.lean) <= LEAST_MISS:  # they are one line, and the joint begins where it touches
                a = d.also("A", self.touch)
            else:
                a = d.meet(right, self.lower, "A")
        with d.as_one("Straightedge", "Mark B, where its left side and the leg’s upper side cross."):
            b = d.meet(left, self.upper, "B")
        at_mitre = d.choice(
            "mitre",
            right=False,
            slip=True,
            when=not g.pipes,
            says="The joint drawn through the axes’ meeting at half their angle, as for pipes.",
        )
        if at_mitre:
            self.plane = d.ray(self.o, -g.spread / 2, "Draw the mitre between both axes.")
        else:
            self.plane = d.rule(a, b, "Join A and B: the joint of main and leg, on edge.")
        with d.as_one(
            "Straightedge", "On the axis mark F, where it meets the joint, and C, where the leg’s upper side does."
        ):
            self.fork, self.crotch = d.meet(self.plane, self.axis, "F"), d.meet(self.upper, self.axis, "C")
        self.a = d.meet(self.plane, right) if at_mitre else a

    # the elements, and how long they truly are

    def elements(self) -> None:
        g, d, n = self.g, self.d, self.g.divisions
        half = d.compass(
            self.e,
            g.leg,
            "Centre the leg’s end, draw its half circle turned into the paper.",
            "half its diameter",
            whole=False,
        )
        first = -g.spread
        marks: list[Spot] = []
        with d.as_one(
            "Protractor",
            f"Divide it into {n // 2}, and carry the divisions square to the end.",
            Setting(360.0 / n, "°"),
        ):
            for k in range(n // 2 + 1):
                if k in (0, n // 2):
                    marks.append(self.low if k == 0 else self.high)
                    continue
                turn = first + 360.0 * k / n
                ray = d.ray(self.e, turn, instrument="Protractor")
                on = d.meet(ray, half, near=self.e.here + g.leg * direction(turn))
                marks.append(d.meet(d.parallel_to(self.leg_axis, on), self.end))
        words = "parallel to the axis" if g.pipes else "to Z, the apex"
        with d.as_one("Straightedge", f"From there draw the elements {words}."):
            lines = [self.lower, *(self._element(mark) for mark in marks[1:-1]), self.upper]
        extra = g.fork_turn if len(g.leg_stations) > n + 1 else None
        if extra is not None:
            with d.as_one("Straightedge", "Draw the element through F as well: there the joint turns a corner."):
                line = d.parallel_to(self.leg_axis, self.fork) if g.pipes else d.rule(self.fork, self.apex)
                marks.append(d.meet(line, self.end))
                lines.append(line)
        says = "Mark where each meets its joint first" + (
            ": it stands there in its true length."
            if g.pipes
            else "; carry that square to the axis to the lower side, which shows true lengths."
        )
        with d.as_one("Set square", says):
            for k, (mark, line) in enumerate(zip(marks, lines)):
                turn = 360.0 * k / n if k <= n // 2 else float(extra or 0.0)
                joint = self.axis if g.between_legs(turn) else self.plane
                at = self.fork if k > n // 2 else d.meet(line, joint)
                bare_length = d.choice(
                    "apparent",
                    right=False,
                    slip=True,
                    when=not g.pipes,
                    says="Lengths taken as the elevation shows them, not carried to the side.",
                    at=f"element {k}",
                )
                if g.pipes or bare_length:
                    self.tops[k] = (mark, at)
                else:
                    self.tops[k] = (self.low, d.meet(d.parallel_to(self.end, at), self.lower) if k else at)

    def _element(self, mark: Spot) -> LineMark:
        return self.d.parallel_to(self.leg_axis, mark) if self.g.pipes else self.d.rule(mark, self.apex)

    def _taken(self, turn: float, place: int | None) -> tuple[Spot, Spot]:
        n = self.g.divisions
        return self.tops[n // 2 + 1 if place is None else min(place, n - place)]

    # lined in

    def line_in(self) -> None:
        d = self.d
        with d.as_one("Dividers", "Carry the corners across the axis: the left leg is the right one’s mirror image."):
            across = []
            for spot in (self.a, self.low, self.high):
                middle = d.meet(d.level_from(spot), self.axis)
                across.append(d.mirror(spot, middle, ""))
        a, low, high = across
        with d.as_one("Straightedge", "Line in the main, both legs and the joints."):
            d.line_in([self.a, self.corners[0], self.corners[1], a])
            d.line_in([self.a, self.low, self.high, self.crotch, high, low, a])
            d.line_in([self.a, self.fork, a])
            d.line_in([self.fork, self.crotch])

    # the patterns

    def leg_pattern(self) -> None:
        g, d, n = self.g, self.d, self.g.divisions
        right = max(float(spot.here[0]) for spot in (self.low, self.high, *self.corners)) + GAP
        rays = self._rows(right) if g.pipes else self._sector(right)
        stations = g.leg_stations
        tops = []
        with d.as_one(
            "Dividers", "Take each true length, and lay it off from the end on its own element and its mate’s."
        ):
            for name, turn in stations:
                place = round(turn * n / 360.0)
                own: int | None = place if abs(turn - 360.0 * place / n) <= SAME else None
                ray, foot = rays[name]
                taken = d.opening(*self._taken(turn, own))
                tops.append(d.lay_off(ray, foot, taken, name, kind="found" if own in (None, 0, n) else "plain"))
        corners = [k for k, (_, turn) in enumerate(stations) if abs(abs(turn - 180.0) - 180.0 + g.fork_turn) <= SAME]
        with d.as_one("Curve", "Line in the joint in pieces: it has a corner where the three skins meet."):
            for one, other in pairwise([0, *corners, len(tops) - 1]):
                if other > one:
                    d.curve(tops[one : other + 1])
        feet = d.spots["Q0"], d.spots[f"Q{n}"]
        if not g.pipes:
            d.arc_in(d.spots["W"], d.opening(d.spots["W"], feet[0]), *feet, "Centre W, line in the leg’s end.")
        with d.as_one(
            "Straightedge",
            "Line in the seam at both sides." if not g.pipes else "Line in the end and the seam.",
            why=ALLOWANCES,
        ):
            if g.pipes:
                d.line_in([tops[0], *feet, tops[-1]])
            else:
                for foot, top in zip(feet, (tops[0], tops[-1])):
                    d.line_in([foot, top])

    def _rows(self, left: float) -> dict[str, tuple[LineMark, Spot]]:
        """The stretch-out of a pipe's end, with an upright at every station."""
        g, d = self.g, self.d
        start = d.plot("Q0", left, -g.main_length, "To the right mark Q0, where the leg’s pattern has room.", "given")
        base = d.level_from(start, "Draw its end level.", length=2 * np.pi * g.leg)
        return self._uprights(start, base, g.leg_diameter, "Q", g.leg_stations, "leg")

    def _uprights(
        self, start: Spot, base: LineMark, wide: float, letter: str, stations: list[tuple[str, float]], words: str
    ) -> dict[str, tuple[LineMark, Spot]]:
        d, n = self.d, self.g.divisions
        girth = d.choice(
            f"diameter-{words}",
            right=np.pi * wide,
            slip=2 * wide,
            says=f"Twice the diameter laid off for the {words}, instead of its girth.",
        )
        keys = [f"{letter}{k}" for k in range(n + 1)]
        end = d.lay_off(base, start, girth, keys[n], f"Lay off the girth of the {words}.", f"π × {bare(wide)}")
        feet = d.divide(start, end, n, keys, says=f"Cut it into {n} equal spaces.", how="trial")
        found = {}
        with d.as_one("Set square", "Draw an upright at every mark, and where the joint turns a corner."):
            for name, turn in stations:
                place = round(turn * n / 360.0)
                exact = abs(turn - 360.0 * place / n) <= SAME
                foot = feet[place] if exact else d.between(start, end, turn / 360.0)
                found[name] = (d.upright_from(foot), foot)
        return found

    def _sector(self, left: float) -> dict[str, tuple[LineMark, Spot]]:
        """The arc of a cone's end, with a ray at every station."""
        g, d, n = self.g, self.d, self.g.divisions
        outer = g.inner + float(g.lengths(g.turns).max())
        around = np.linspace(0.0, g.sector, 91)
        reach = np.array([[r * float(f) for f in direction(turn)] for r in (g.inner, outer) for turn in around])
        lowest = -g.main_length - GAP - float(min(reach[:, 1].min(), 0.0))
        start = d.plot(
            "W", left - float(min(reach[:, 0].min(), 0.0)), lowest, "Mark W, the centre of the leg’s pattern.", "given"
        )
        arc = d.compass(
            start,
            d.opening(self.apex, self.low),
            "Centre W, the opening from Z to the leg’s end: draw the end’s arc.",
            whole=False,
        )
        part = g.sector / n
        found = {}
        with d.as_one(
            "Protractor",
            f"Set off the elements, {trim(part)}° apart: {n} of them and the first once "
            "more; where the joint turns a corner as well.",
            Setting(part, "°"),
        ):
            for name, turn in g.leg_stations:
                flat = turn / 360.0 * g.sector
                ray = d.ray(start, flat, instrument="Protractor").extent(0.0, outer)
                place = round(turn * n / 360.0)
                exact = abs(turn - 360.0 * place / n) <= SAME
                key = f"Q{place}" if exact else ""
                near = start.here + g.inner * direction(flat)
                kind = "found" if place in (0, n) and exact else "plain"
                found[name] = (ray, d.meet(ray, arc, key, near=near, kind=kind))
        return found

    def main_pattern(self) -> None:
        g, d, n = self.g, self.d, self.g.divisions
        half = d.compass(
            self.foot, g.main, "Centre the main’s end, draw its half circle below.", "half its diameter", whole=False
        )
        folded = sorted({round(min(turn % 180.0, 180.0 - turn % 180.0), 9) for _, turn in g.main_stations})
        tops = {}
        with d.as_one(
            "Protractor", "Divide its right half, and carry the divisions up to the joint.", Setting(360.0 / n, "°")
        ):
            for turn in folded:
                if turn in (0.0, 90.0):
                    tops[turn] = (self.corners[0], self.a) if turn == 0.0 else (self.foot, self.fork)
                    continue
                ray = d.ray(self.foot, -turn, instrument="Protractor")
                on = d.meet(ray, half, near=self.foot.here + g.main * direction(-turn))
                up = d.upright_from(on)
                tops[turn] = (d.meet(up, self.base), d.meet(up, self.plane))
        high = g.main_length + g.fork
        lowest = min(float(spot.here[1]) for spot in d.spots.values() if spot.name) - g.main
        start = d.plot(
            "M0",
            -g.main,
            min(lowest, -g.main_length - g.main) - GAP - high,
            "Below mark M0, where the main’s pattern has room.",
            "given",
        )
        base = d.level_from(start, "Draw its end level.", length=2 * np.pi * g.main)
        rows = self._uprights(start, base, g.main_diameter, "M", g.main_stations, "main")
        found = []
        with d.as_one("Dividers", "Take each height of the joint over the end, and lay it off on its own upright."):
            for name, turn in g.main_stations:
                taken = d.opening(*tops[round(min(turn % 180.0, 180.0 - turn % 180.0), 9)])
                line, foot = rows[name]
                found.append(d.lay_off(line, foot, taken, name, kind="found" if name in ("N0", f"N{n}") else "plain"))
        corners = [k for k, (_, turn) in enumerate(g.main_stations) if abs(abs(turn - 180.0) - 90.0) <= SAME]
        with d.as_one("Curve", "Line in its joint in pieces: it has a corner at the fork on either side."):
            for one, other in pairwise([0, *corners, len(found) - 1]):
                d.curve(found[one : other + 1])
        with d.as_one("Straightedge", "Line in its end and the seam.", why=ALLOWANCES):
            d.line_in([found[0], start, d.spots[f"M{n}"], found[-1]])


@method(
    Breeches,
    "common-sphere",
    about=(
        "A sphere that all three skins touch; the joints are straight in the "
        "elevation, through where the outlines cross."
    ),
    source="Cones round one sphere meet in plane curves (Monge); development by radial or parallel lines",
)
def common_sphere(g: Breeches, d: Draft) -> None:
    hand = _Hand(g, d)
    with d.phase("The sphere and the main"):
        hand.sphere()
    with d.phase("The leg"):
        hand.leg()
    with d.phase("The joints"):
        hand.joints()
    with d.phase("The elements"):
        hand.elements()
    with d.phase("Line in"):
        hand.line_in()
    with d.phase("The leg’s pattern"), d.apart("pattern"):
        hand.leg_pattern()
    with d.phase("The main’s pattern"), d.apart("pattern"):
        hand.main_pattern()
