"""Setting an arch out: its centres by its kind, where its arcs touch, its joints and its back."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.moves import perpendicular_bisector
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.plane.arches import Arch
from wise_compass.geometry.vectors import sind

BEYOND = 6.0
"""mm by which the springing line and the axis are drawn beyond what is found on them."""


class ArchHand:
    """An arch on the way: its springings, axis and crown, and the centres found so far, from the left."""

    def __init__(self, g: Arch, d: Draft) -> None:
        self.g, self.d = g, d
        self.centres: list[Spot] = []
        with d.phase("Springings and crown"):
            self.middle = d.start_at("O", says="Mark O, the middle of the springing line.")
            self.base = d.level_from(self.middle, "Draw the springing line level.", length=g.half + BEYOND)
            self.base.extent(-g.half - BEYOND, g.half)
            self.a = d.lay_off(self.base, self.middle, -g.half, "A", "Lay half the span off to the left: A.")
            foot = d.lay_off(
                self.base, self.middle, g.half, "" if g.kind == "rampant" and g.step else "B", "And to the right: B."
            )
            if g.kind == "rampant":
                self.b = foot
                if g.step:
                    up = d.upright_from(foot, "Draw upright there.", length=g.step)
                    self.b = d.lay_off(up, foot, g.step, "B", "Lay the step off along it: B.")
                return
            self.b = foot
            self.axis = d.upright_from(self.middle, "At O set up the axis.", Role.CENTRE, g.rise + g.thickness)
            self.crown = d.lay_off(self.axis, self.middle, g.rise, "C", "Lay the rise off along it: C.")

    def across(self, spot: Spot, name: str) -> Spot:
        """The image of a place of the springing line on the other side of O."""
        d = self.d
        way = -1.0 if float(spot.here[0]) > 0 else 1.0
        return d.lay_off(
            self.base,
            self.middle,
            d.opening(self.middle, spot),
            name,
            f"Carry it over to the other side: {name}.",
            way=way,
        )

    # the arcs

    def finish(self) -> None:
        """Where the arcs touch, the joints, the back, and all of it lined in; the centres stand from the left."""
        g, d = self.g, self.d
        ends = [self.a, *self._touches(), self.b]
        joints = self._joints(ends)
        backs = self._backs(joints)
        with d.phase("Line in"):
            for centre, one, other, arc in zip(self.centres, ends, ends[1:], g.arcs):
                d.arc_in(centre, d.opening(centre, one), one, other, clockwise=arc.round)
            self._line_back(ends)
            with d.as_one("Straightedge", "Line in the joints."):
                for joint, back in zip(joints, backs):
                    d.line_in([joint, back])

    def _touches(self) -> list[Spot]:
        """Where each arc meets the next: on the line of their centres, or in the crown."""
        g, d, found = self.g, self.d, []
        with d.phase("Where the arcs touch"):
            for k, arc in enumerate(g.arcs[:-1], 1):
                if g.at_sharp_crown(arc.end):
                    with d.as_one("Pencil", f"They meet in the crown: T{k}."):
                        found.append(d.also(f"T{k}", self.crown))
                    continue
                if f"T{k}" in d.spots:
                    found.append(d.spots[f"T{k}"])
                    continue
                one, other = self.centres[k - 1], self.centres[k]
                line = d.rule(one, other, f"Draw the line of the centres K{k} and K{k + 1} on.")
                from_left = k <= len(g.arcs) // 2
                reach = (one, self.a if k == 1 else found[-1]) if from_left else (other, self.b)
                if not from_left and k < len(g.arcs) - 1:
                    reach = (one, found[-1])
                arc_drawn = d.compass(
                    reach[0], d.opening(*reach), f"Centre {reach[0].name}, swing its arc to it.", whole=False
                )
                found.append(d.meet(line, arc_drawn, f"T{k}", near=arc.end))
        return found

    def _joints(self, ends: list[Spot]) -> list[Spot]:
        """The marks of the joints, stepped along the curve: equal lengths, and so chords of their own on each arc."""
        g, d = self.g, self.d
        by_chords = d.choice(
            "chords-for-arcs",
            right=False,
            slip=True,
            when=len({round(arc.radius, 6) for arc in g.arcs}) > 1,
            says="Equal chords are stepped for equal lengths of the curve.",
        )
        marks: list[Spot] = []
        stone = sum(arc.length for arc in g.arcs) / g.stones
        settings = sorted(
            {round(2 * arc.radius * float(sind(np.degrees(stone / arc.radius) / 2)), 6) for arc in g.arcs}
        )
        words = f"Step the curve into {g.stones} stones of equal length, {mm(stone)} along it: {g.stones + 1} joints."
        with d.phase("The joints"), d.as_one("Dividers", words, *(Setting(size, "mm") for size in settings)):
            for j, (n, share, at) in enumerate(g.joints):
                arc, centre = g.arcs[n], self.centres[n]
                if j in (0, g.stones):
                    marks.append(d.also(f"J{j}", self.a if j == 0 else self.b))
                    continue
                if g.at_sharp_crown(at) or (share > 1 - 1e-9):
                    marks.append(d.also(f"J{j}", ends[n + 1]))
                    continue
                drawn = d.compass(centre, d.opening(centre, ends[n]), whole=False)
                turned = arc.sweep * share
                chord = 2 * arc.radius * float(sind(turned / 2))
                if by_chords:
                    chord *= 0.93
                cut = d.compass(ends[n], chord, whole=False)
                marks.append(d.meet(drawn, cut, f"J{j}", near=at))
        return marks

    def _backs(self, joints: list[Spot]) -> list[Spot]:
        """The outer ends of the joints, a stone's depth out along the normals."""
        g, d, backs = self.g, self.d, []
        one_centre = d.choice(
            "joints-to-one-centre",
            right=False,
            slip=True,
            when=len(g.arcs) > 1,
            says="All joints are drawn to one centre.",
        )
        words = "From the centre of the arc that it stands on draw each joint, a stone deep."
        with d.phase("The joints"), d.as_one("Straightedge", words, Setting(g.thickness, "mm")):
            for j, ((n, _, at), joint) in enumerate(zip(g.joints, joints)):
                if g.at_sharp_crown(at):
                    backs.append(self._back_on_axis(n, f"X{j}"))
                    continue
                centre = self.centres[len(g.arcs) // 2 if one_centre else n]
                line = d.rule(joint, centre)
                way = -1.0 if g.arcs[n].round else 1.0
                backs.append(d.lay_off(line, joint, way * g.thickness, f"X{j}"))
        return backs

    def _back_on_axis(self, k: int, name: str) -> Spot:
        """Where the back of arc ``k``, carried on, meets the axis over a sharp crown."""
        g, d, arc = self.g, self.d, self.g.arcs[k]
        reach = arc.radius + (g.thickness if arc.round else -g.thickness)
        around = d.compass(self.centres[k], reach, whole=False)
        return d.meet(around, self.axis, name, near=g.crown + [0.0, g.thickness], kind="plain")

    def _line_back(self, ends: list[Spot]) -> None:
        """The back: arcs about the same centres, a stone's depth out."""
        g, d = self.g, self.d
        with d.as_one("Compass", "About the same centres line in the back, a stone further out."):
            for k, (centre, arc) in enumerate(zip(self.centres, g.arcs)):
                out = 1.0 if arc.round else -1.0
                stops = []
                last = k == len(self.centres) - 1
                for end, spot, name in ((arc.start, ends[k], ""), (arc.end, ends[k + 1], "" if last else f"Y{k + 1}")):
                    if g.at_sharp_crown(end):
                        stops.append(self._back_on_axis(k, name))
                    else:
                        line = d.rule(spot, centre)
                        stops.append(d.lay_off(line, spot, -out * g.thickness, name, kind="plain"))
                d.arc_in(centre, d.opening(centre, stops[0]), stops[0], stops[1], clockwise=arc.round)


def _round(g: Arch, d: Draft) -> None:
    """The centre lies on the axis and on the bisector from springing to crown (Euclid, Elements III.1)."""
    hand = ArchHand(g, d)
    with d.phase("The centre"):
        hand.centres = [d.meet(hand.axis, perpendicular_bisector(d, hand.a, hand.crown), "K1")]
    hand.finish()


def _pointed(g: Arch, d: Draft) -> None:
    """Each centre lies on the springing line and on the bisector from springing to crown."""
    hand = ArchHand(g, d)
    with d.phase("The centres"):
        half = d.choice(
            "radius-for-span",
            right=False,
            slip=True,
            when=abs(g.rise - g.half * 1.25) > 1e-6 * g.span,
            says="The span is taken for the radius, whatever the rise.",
        )
        if half:
            one = d.lay_off(hand.base, hand.a, g.span, "K1", "From A lay the span off: K1.")
        else:
            one = d.meet(hand.base, perpendicular_bisector(d, hand.a, hand.crown), "K1")
        hand.centres = [one, hand.across(one, "K2") if abs(float(one.here[0])) > 1e-9 else d.also("K2", one)]
    hand.finish()


def _three(g: Arch, d: Draft) -> None:
    """Two centres on the springing line and one on the axis, by the rule that is asked for."""
    hand = ArchHand(g, d)
    with d.phase("The centres"):
        small, big = {"least-ratio": _least_ratio, "sixty": _sixty, "radius": _by_radius}[g.rule](hand)
        hand.centres = [small, big, hand.across(small, "K3")]
    hand.finish()


def _least_ratio(hand: ArchHand) -> tuple[Spot, Spot]:
    d = hand.d
    chord = d.rule(hand.a, hand.crown, "Join A and C.")
    swung = d.compass(
        hand.middle, d.opening(hand.middle, hand.a), "Centre O, swing half the span up to the axis.", whole=False
    )
    high = d.meet(hand.axis, swung, "E", where="above")
    less = d.lay_off(chord, hand.crown, d.opening(hand.crown, high), "F", "From C lay CE off on CA: F.", way=-1.0)
    line = perpendicular_bisector(d, hand.a, less)
    return d.meet(line, hand.base, "K1"), d.meet(line, hand.axis, "K2")


def _sixty(hand: ArchHand) -> tuple[Spot, Spot]:
    d = hand.d
    one = d.compass(hand.a, d.opening(hand.a, hand.middle), "Centre A, an arc with half the span.", whole=False)
    two = d.compass(
        hand.middle, d.opening(hand.middle, hand.a), "Centre O, the same opening, as far as the axis.", whole=False
    )
    apex = d.meet(one, two, "D", where="above")
    high = d.meet(hand.axis, two, "E", where="above")
    side = d.rule(hand.a, apex, "Join A and D.")
    slope = d.rule(apex, high, "Join D and E.")
    touch = d.meet(d.parallel_to(slope, hand.crown, "Through C draw parallel to DE, to AD."), side, "T1")
    back = d.rule(hand.middle, apex, "Join O and D.")
    line = d.parallel_to(back, touch, "Through T1 draw parallel to OD.")
    return d.meet(line, hand.base, "K1"), d.meet(line, hand.axis, "K2")


def _by_radius(hand: ArchHand) -> tuple[Spot, Spot]:
    g, d = hand.g, hand.d
    small = d.lay_off(hand.base, hand.a, g.small_radius, "K1", "From A lay the small radius off: K1.")
    down = d.lay_off(hand.axis, hand.crown, -g.small_radius, "G", "From C lay it off down the axis: G.")
    return small, d.meet(perpendicular_bisector(d, small, down), hand.axis, "K2")


def _five(g: Arch, d: Draft) -> None:
    """The least and the largest radius by a square to the chord, their mean by a half circle: the radii of curvature of
    an ellipse at its ends, and their mean proportional."""
    hand = ArchHand(g, d)
    with d.phase("The outer centres"):
        up = d.upright_from(hand.a, "Draw upright at A.", length=g.rise)
        level = d.level_from(hand.crown, "Draw level through C.", length=-g.half)
        corner = d.meet(up, level, "D")
        chord = d.rule(hand.a, hand.crown, "Join A and C.")
        square = d.square_to(chord, corner, "Through D draw square to AC.")
        low, high = d.meet(square, hand.base, "K1"), d.meet(square, hand.axis, "K3")
    with d.phase("The middle centre"):
        end = d.lay_off(hand.base, hand.middle, g.rise, "", "From O lay the rise off to the right.", kind="plain")
        with d.as_one("Dividers", "Halve the stretch from A to there."):
            middle = d.midpoint(hand.a, end, "")
        arc = d.compass(middle, d.opening(middle, end), "Draw the half circle on it.", whole=False)
        mean = d.meet(hand.axis, arc, "E", where="above")
        radius = d.opening(hand.middle, mean)
        on = d.lay_off(hand.base, hand.a, radius, "F", "From A lay OE, the middle radius, off.")
        down = d.lay_off(hand.axis, hand.crown, radius, "G", "And from C down the axis.", way=-1.0)
        one = d.compass(low, d.opening(low, on), "Centre K1, an arc through F.", whole=False)
        two = d.compass(high, d.opening(high, down), "Centre K3, an arc through G.", whole=False)
        mid = d.meet(one, two, "K2", near=g.arcs[1].centre)
    with d.phase("The other side"):
        four = _over_axis(hand, mid, "K4")
        hand.centres = [low, mid, high, four, hand.across(low, "K5")]
    hand.finish()


def _over_axis(hand: ArchHand, spot: Spot, name: str) -> Spot:
    """The image of a spot over the axis: as far beyond it along the level."""
    d = hand.d
    level = d.level_from(spot, f"Through {spot.name} draw level across the axis.")
    cross = d.meet(level, hand.axis, "")
    return d.lay_off(
        level,
        cross,
        d.opening(spot, cross),
        name,
        f"As far beyond the axis: {name}.",
        way=1.0 if float(spot.here[0]) < 0 else -1.0,
    )


def _four(g: Arch, d: Draft) -> None:
    """A small arc from each springing; the upper ones, round or hollow, touch it and end in the crown."""
    hand = ArchHand(g, d)
    with d.phase("The small arcs"):
        low = d.lay_off(hand.base, hand.a, g.small_radius, "K1", "From A lay the small radius off: K1.")
        ray = d.ray(low, 180.0 - g.small_angle, f"At K1 draw {trim(g.small_angle)}° up from A.")
        arc = d.compass(low, d.opening(low, hand.a), "Centre K1, swing the small arc to it.", whole=False)
        touch = d.meet(ray, arc, "T1", where="above")
    with d.phase("The upper arcs"):
        line = perpendicular_bisector(d, touch, hand.crown)
        mid = d.meet(line, ray, "K2")
        hand.centres = [low, mid, _over_axis(hand, mid, "K3"), hand.across(low, "K4")]
    hand.finish()


def _rampant(g: Arch, d: Draft) -> None:
    """Half the line of springings on both uprights; squares to the line through those give the centres, since two
    tangents of a circle from one point are alike (Euclid, Elements III.36)."""
    hand = ArchHand(g, d)
    with d.phase("Where the arcs meet"):
        d.rule(hand.a, hand.b, "Join A and B.")
        with d.as_one("Dividers", "Halve AB at M."):
            half = d.opening(hand.a, d.midpoint(hand.a, hand.b, "M"))
        left, right = (
            d.upright_from(spot, f"Draw upright at {spot.name}.", length=g.span) for spot in (hand.a, hand.b)
        )
        one = d.lay_off(left, hand.a, half, "P", "On it lay half of AB off: P.")
        other = d.lay_off(right, hand.b, half, "Q", "And on the other: Q.")
        top = d.rule(one, other, "Join P and Q: the arcs meet along it.")
        with d.as_one("Dividers", "Halve PQ at T1: there they touch."):
            touch = d.midpoint(one, other, "T1")
    with d.phase("The centres"):
        square = d.square_to(top, touch, "At T1 draw square to PQ.")
        centres = []
        for k, spot in enumerate((hand.a, hand.b), 1):
            level = hand.base if k == 1 else d.level_from(spot, f"Draw level through {spot.name}.", length=-g.span)
            centres.append(d.meet(square, level, f"K{k}"))
        hand.centres = centres
    hand.finish()


_WAYS: dict[str, Callable[[Arch, Draft], None]] = {
    "round": _round,
    "pointed": _pointed,
    "three-centred": _three,
    "five-centred": _five,
    "four-centred": _four,
    "ogee": _four,
    "rampant": _rampant,
}


@method(
    Arch,
    "arcs",
    about="Springings and crown, the centres by the arch's kind, where its arcs touch, joints and back.",
    source="Touching circles have their centres in line with where they touch (Euclid, Elements III.11, III.12)",
)
def arch_by_arcs(g: Arch, d: Draft) -> None:
    _WAYS[g.kind](g, d)
