"""How a hand draws a pair of gears: circles, a flank by strings or by one arc, and the teeth stepped round."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.paths.gears import FACING, GearPair
from wise_compass.geometry.gears import Wheel
from wise_compass.geometry.vectors import Array, angle_of, direction, left_of

BEYOND = 6.0
"""mm by which the line of action is drawn past both base circles."""


Line = Callable[[int, list[Spot]], None]
"""Lines a flank in, by the number of its step."""


class Set:
    """What stands of one gear on the paper: its centre, its circles and the pitch point."""

    def __init__(self, g: GearPair, number: int, centre: Spot, pitch_point: Spot) -> None:
        self.number, self.wheel = number, g.wheels[number]
        self.centre, self.pitch_point = centre, pitch_point
        self.facing, self.flank_letter = FACING[number], "FG"[number]
        self.pitch: ArcMark
        self.base: ArcMark
        self.outside: ArcMark
        self.root: ArcMark

    @property
    def lowest(self) -> float:
        """The radius at which its flanks begin."""
        return max(self.wheel.base, self.wheel.root)

    @cached_property
    def ends(self) -> tuple[Array, Array]:
        """Where the flank through the pitch point in direction 0 begins and ends, from the centre."""
        low, high = (self.wheel.flank(float(self.wheel.roll_at(far))) for far in (self.lowest, self.wheel.outside))
        return low, high


def _circles(g: GearPair, d: Draft) -> tuple[list[Set], LineMark]:
    """Centres, circles and the line of action."""
    with d.phase("Centres and circles"):
        first = d.start_at("O", says="Mark O, the centre of the first gear.")
        level = d.level_from(first, "Draw the line of centres level.", Role.CENTRE, g.pair.centres)
        second = d.lay_off(level, first, g.pair.centres, "Z", "Lay off Z, the centre of the second.", kind="given")
        pitch_point = d.lay_off(level, first, g.pair.one.pitch, "I", "And the pitch point I, a pitch radius from O.")
        sets = [Set(g, number, centre, pitch_point) for number, centre in enumerate((first, second))]
        whole = g.shown == "wheels"
        for one in sets:
            wheel, name = one.wheel, one.centre.name
            one.pitch = d.compass(
                one.centre, wheel.pitch, f"Centre {name}, draw the pitch circle.", role=Role.CENTRE, whole=whole
            )
            one.outside = d.compass(one.centre, wheel.outside, f"Centre {name}, draw the outside circle.", whole=whole)
            one.root = d.compass(one.centre, wheel.root, f"Centre {name}, draw the root circle.", whole=whole)
            if not whole:
                for arc in (one.pitch, one.outside, one.root):
                    span = _span(g, wheel)
                    arc.swing(one.facing + span[0], span[1] - span[0])
        lean = d.choice(
            "complement-for-angle",
            right=g.pressure_angle,
            slip=90.0 - g.pressure_angle,
            says="The line of action is drawn at the pressure angle to the line of centres, not to the common tangent.",
        )
        line = d.ray(
            pitch_point, lean - 90.0, f"Through I draw the line of action, {trim(lean)}° from the common tangent."
        )
        line.extent(-g.pair.one.string - BEYOND, g.pair.two.string + BEYOND)
        for one, mark in zip(sets, ("N", "M")):
            with d.as_one(
                "Set square", f"From {one.centre.name} draw square to it: {mark}, where it touches the base circle."
            ):
                foot = d.meet(d.square_to(line, one.centre), line, mark)
            says = f"Centre {one.centre.name}, draw the base circle through {mark}."
            one.base = d.compass(one.centre, d.opening(one.centre, foot), says, whole=whole)
            if not whole:
                span = _span(g, one.wheel)
                one.base.swing(one.facing + min(span[0], -5.0), max(span[1], 30.0) - min(span[0], -5.0))
    _contact(g, d, sets, line)
    return sets, line


def _span(g: GearPair, wheel: Wheel) -> tuple[float, float]:
    """The directions between which a gear is shown, from the pitch point's on."""
    part, steps = 180.0 / wheel.teeth, g.steps(wheel)
    return part * (steps[0] - 1), part * (steps[-1] + 1)


def _contact(g: GearPair, d: Draft, sets: list[Set], line: LineMark) -> None:
    """The ends of the path of contact."""
    with d.phase("The path of contact"):
        for one, name in zip(sets, ("A", "B")):
            mate = sets[1 - one.number]
            limit = g.pair.beyond(one.wheel) + one.wheel.string >= g.pair.line * (1 - 1e-12)
            way = -1.0 if one.number else 1.0
            place = one.pitch_point.here + way * g.pair.beyond(one.wheel) * direction(g.pressure_angle - 90.0)
            says = f"Where the outside circle about {one.centre.name} cuts the line, contact ends: {name}."
            if limit:
                says = (
                    f"The outside circle about {one.centre.name} passes the mate’s base "
                    f"circle: contact ends there, in {name}."
                )
            with d.as_one("Pencil", says):
                if limit:
                    d.also(name, d.spots["MN"[mate.number == 0]])
                else:
                    d.meet(line, one.outside, name, near=place)


def _teeth(g: GearPair, d: Draft, one: Set) -> list[tuple[int, Spot]]:
    """The steps of half a pitch round the pitch circle, each with its number."""
    wheel, steps = one.wheel, g.steps(one.wheel)
    thick = d.choice(
        "thickness-whole-pitch",
        right=wheel.teeth,
        slip=wheel.teeth / 2,
        says="A tooth is stepped a whole circular pitch thick, and not half of one.",
        at=f"the wheel about {one.centre.name}",
    )
    radius = d.choice(
        "outside-diameter-stepped",
        right=wheel.pitch,
        slip=wheel.outside,
        says="The step is worked from the outside diameter and not from the pitch diameter.",
        at=f"the wheel about {one.centre.name}",
    )
    chord = 2 * radius * float(np.sin(np.pi / 2 / thick))
    back, on = [s for s in steps if s < 0][::-1], [s for s in steps if s > 0]
    letter = "PQ"[one.number]
    name_of = {step: f"{letter}{k}" for k, step in enumerate(steps)}
    with d.as_one(
        "Dividers", f"Step half pitches round the pitch circle about {one.centre.name}.", Setting(chord, "mm")
    ):
        made = {0: d.also(name_of[0], one.pitch_point, "plain")}
        for run, clockwise in ((on, False), (back, True)):
            spots = d.step_round(one.pitch, one.pitch_point, chord, [name_of[s] for s in run], clockwise, kind="plain")
            made.update(zip(run, spots))
    return [(step, made[step]) for step in steps]


def _bottom(g: GearPair, d: Draft, one: Set, low: Spot) -> Spot:
    """The end of a flank on the root circle: its own, or that of the radial line under the base circle."""
    if one.wheel.root >= one.wheel.base * (1 - 1e-9):
        return low
    way = float(angle_of(low.here - one.centre.here))
    return d.meet(d.rule(one.centre, low), one.root, near=one.centre.here + one.wheel.root * direction(way))


def _line_in(
    g: GearPair, d: Draft, one: Set, flanks: list[tuple[int, list[Spot]]], instrument: str, line: Line
) -> None:
    """Flanks, each of which runs from its bottom to its tip, tips and bottoms."""
    name = f"gear {one.number + 1}"
    rounds = [*zip(flanks, flanks[1:])]
    if g.shown == "wheels":
        rounds.append((flanks[-1], flanks[0]))
    with d.phase(f"Line in {name}"):
        with d.as_one(instrument, f"Line in the flanks of {name}."):
            for step, spots in flanks:
                line(step, spots)
        if one.wheel.root < one.wheel.base * (1 - 1e-9):
            with d.as_one("Straightedge", "Under the base circle line them in straight to the centre."):
                for _, spots in flanks:
                    d.line_in(spots[:2])
        for even, radius, words in ((True, one.wheel.outside, "tips"), (False, one.wheel.root, "bottoms")):
            with d.as_one("Compass", f"Centre {one.centre.name}, line in the {words}.", Setting(radius, "mm")):
                for (step, spots), (_, after) in rounds:
                    if (step % 2 == 0) == even:
                        d.arc_in(one.centre, radius, *((spots[-1], after[-1]) if even else (spots[0], after[0])))


@method(
    GearPair,
    "involute",
    about="One flank of each by strings unwound from its base circle; traced, turned over and stepped round.",
    source="The involute and its line of action (Euler)",
)
def gears_involute(g: GearPair, d: Draft) -> None:
    sets, _ = _circles(g, d)
    for one in sets:
        name = f"gear {one.number + 1}"
        with d.phase(f"A flank of {name}"):
            flank = _by_strings(g, d, one)
            with d.as_one("Straightedge", "Under the base circle the flank is radial."):
                bottom = _bottom(g, d, one, flank[0])
        with d.phase(f"The teeth of {name}"):
            steps = _teeth(g, d, one)
            of = (one.centre, one.pitch_point)
            traced: list[tuple[int, list[Spot]]] = []
            with d.as_one(
                "Pencil", "Trace the flank, and prick it through at each step; turned over at every other one."
            ):
                for step, at in steps:
                    if step == 0:
                        row = [bottom, *flank]
                    else:
                        row = d.traced([bottom, *flank], of, (one.centre, at), over=step % 2 != 0)
                        if bottom is flank[0]:
                            row[0] = row[1]
                    traced.append((step, row))
            _named(d, one, traced)

        def by_curve(step: int, spots: list[Spot]) -> None:
            d.piece(d.row(spots[1:]), 0.0, float(len(spots) - 2))

        _line_in(g, d, one, traced, "Curve", by_curve)


def _named(d: Draft, one: Set, rows: list[tuple[int, list[Spot]]]) -> None:
    """Names for the places of a whole rim, by which it is cut out."""
    letter = "UV"[one.number]
    for k, (_, row) in enumerate(rows):
        for j, spot in enumerate(row):
            d.also(f"{letter}{k * len(row) + j}", spot, "plain")


def _by_strings(g: GearPair, d: Draft, one: Set) -> list[Spot]:
    """The flank through the pitch point: ends of strings unwound from the base circle."""
    wheel, flank = one.wheel, []
    half = g.divisions // 2
    for k, roll in enumerate(g.rolls(wheel).tolist()):
        key = f"{one.flank_letter}{k}"
        if k == half:
            with d.as_one("Pencil", f"The pitch point itself is {key}."):
                flank.append(d.also(key, one.pitch_point))
            continue
        way = one.facing + wheel.first + roll
        string = wheel.base * float(np.deg2rad(roll))
        place = one.centre.here + wheel.base * direction(way)
        says = f"Unwound by {trim(roll, 2)}°, {mm(string)} of string on its tangent: {key}."
        if roll < 1e-9:
            says = f"Where the string begins, on the base circle: {key}."
        with d.as_one("Protractor", says, Setting(way % 360.0, "°"), Setting(string, "mm")):
            radius = d.ray(one.centre, way, instrument="Protractor")
            on = d.meet(radius, one.base, "" if roll >= 1e-9 else key, near=place)
            flank.append(on if roll < 1e-9 else d.lay_off(d.square_to(radius, on), on, -string, key))
    return flank


def _arcs_serve(g: GearPair) -> str | None:
    for number, wheel in enumerate(g.wheels, 1):
        if wheel.arc_reach < wheel.outside:
            a = np.deg2rad(g.pressure_angle)
            least = int(np.ceil(2 * g.addendum / float(np.cos(a) + np.sin(a) - 1) - 1e-9))
            return (
                f"arcs serves where an arc reaches the outside circle; that of gear {number} stops "
                f"{mm(wheel.outside - wheel.arc_reach)} short. Raise teeth_{number} to {least}, or choose involute."
            )
    return None


@method(
    GearPair,
    "arcs",
    exact=False,
    fits=_arcs_serve,
    about="Every flank as one arc through the pitch point, about where the line of action touches the base circle.",
    source="Workshop practice: the involute’s touching circle at the pitch point",
)
def gears_arcs(g: GearPair, d: Draft) -> None:
    sets, _ = _circles(g, d)
    for one in sets:
        name = f"gear {one.number + 1}"
        with d.phase(f"The teeth of {name}"):
            steps = _teeth(g, d, one)
            rows: list[tuple[int, list[Spot]]] = []
            centres: dict[int, Spot] = {}
            opening = d.opening(one.pitch_point, d.spots["NM"[one.number]])
            with d.as_one("Compass", f"With one opening, {mm(one.wheel.string)}, find the centres on the base circle."):
                for step, at in steps:
                    spots, centre = _by_arc(g, d, one, step, at, opening)
                    rows.append((step, spots))
                    centres[step] = centre
            _named(d, one, rows)

        _line_in(g, d, one, rows, "Compass", partial(_flank_arc, d, centres, opening))


def _flank_arc(d: Draft, centres: dict[int, Spot], opening: Opening, step: int, spots: list[Spot]) -> None:
    d.arc_in(centres[step], opening, spots[1], spots[-1], clockwise=step % 2 != 0)


def _by_arc(g: GearPair, d: Draft, one: Set, step: int, at: Spot, opening: Opening) -> tuple[list[Spot], Spot]:
    """A flank as an arc: its places from the bottom to the tip, and its centre on the base circle."""
    wheel = one.wheel
    turn = float(angle_of(at.here - one.centre.here))
    side = 1.0 if step % 2 == 0 else -1.0
    swung = d.compass(at, opening, whole=False)
    near = one.centre.here + wheel.base * direction(turn + side * g.pressure_angle)
    centre = d.meet(swung, one.base, near=near)
    flank = d.compass(centre, opening, whole=False)
    along = direction(turn)
    across = side * left_of(along)
    keys = [f"{one.flank_letter}{k * g.divisions // 2}" if step == 0 else "" for k in range(3)]
    places = [one.centre.here + (own[0] * along + own[1] * across) for own in one.ends]
    low = d.meet(flank, one.root if wheel.root >= wheel.base else one.base, keys[0], near=places[0])
    middle = d.also(keys[1], at) if keys[1] else at
    high = d.meet(flank, one.outside, keys[2], near=places[1])
    return [_bottom(g, d, one, low), low, middle, high], centre
