"""How a hand draws a plate cam: the diagram, and the follower turned round the standing cam."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.paths.cams import JUMP, Cam, Stop
from wise_compass.geometry.cams import ROUND, Stretch
from wise_compass.geometry.vectors import distance, point

BETWEEN = 24.0
"""mm between the cam and its diagram."""


END = "end"
"""The key of the diagram's last stop."""


class Diagram(NamedTuple):
    """The base line of the displacement diagram, where it starts, and how many mm a degree takes."""

    base: LineMark
    start: Spot
    part: float


@method(
    Cam,
    "turned-follower",
    about="The diagram of the lifts, then the follower turned round the standing cam against its turning.",
    source="Kinematic inversion; the common normal through the instant centre (Kennedy)",
)
def cam_turned(g: Cam, d: Draft) -> None:
    with d.phase("The circles"):
        centre = d.start_at("O", says="Mark O, the centre of the cam.")
        d.level_from(centre, "Draw the axes through O.", Role.CENTRE, g.base_radius).extent(
            -g.base_radius, g.base_radius
        )
        axis = d.upright_from(centre, "And upright.", Role.CENTRE, g.prime_radius)
        d.compass(centre, g.base_radius, f"Centre O, draw the base circle, {mm(g.base_radius)}.")
        prime = None
        if not g.flat:
            prime = d.compass(centre, g.prime_radius, "Centre O, draw the circle on which the follower stands lowest.")
        inner = None
        if g.beside:
            inner = d.compass(centre, abs(g.beside), "Centre O, draw the circle that the lines of travel touch.")
    lifts = _diagram(g, d, centre)
    with_it = d.choice(
        "with-the-turning",
        right=1,
        slip=-1,
        says="The follower is turned round the cam the way the cam turns, and not against it.",
    )
    centred = d.choice(
        "from-centre",
        right=False,
        slip=True,
        when=abs(g.beside) > 1e-3 * g.prime_radius,
        says="With an offset the lifts are set off from a lowest place straight over the centre, not from the circle.",
    )
    done: dict[str, Spot] = {}
    with d.phase("The follower turned round"):
        for row in g.stops:
            for stop in row:
                if stop.key not in done:
                    lift = lifts[stop.key]
                    done[stop.key] = _position(g, d, stop, lift, (centre, axis, prime, inner), with_it, centred)
    _line_in(g, d, centre)


# the diagram


def _diagram(g: Cam, d: Draft, centre: Spot) -> dict[str, tuple[Opening, bool]]:
    """The openings of all lifts by their stops' keys, and whether each is there at all."""
    high, part = g.highest, g.diagram_part
    outer = g.prime_radius + high
    stops = {stop.key: stop for row in reversed(g.stops) for stop in row if stop.turn < ROUND or stop.key != "0"}
    late = d.choice(
        "diagram-one-space",
        right=0,
        slip=1,
        says="The lifts are carried over one space late: each division has that of the one before.",
    )
    with d.phase("The diagram"):
        down = d.upright_from(centre, "Draw straight down from O.", Role.CONSTRUCTION, -(outer + BETWEEN + high))
        low = d.lay_off(down, centre, -(outer + BETWEEN + high), "", "Well below O begin the diagram.", kind="plain")
        shift = -part * ROUND / 2
        base = d.level_from(low, "Draw its base line level: a turn long.", Role.REFERENCE)
        start = d.lay_off(base, low, shift, "D", "Half a turn to the left it begins: D.", kind="plain")
        base.extent(shift, -shift)
        words = f"Mark off the divisions, {mm(part * ROUND / g.divisions)} apart, and draw upright."
        heights: dict[str, Spot] = {}
        feet: dict[str, Spot] = {}
        rows = [[_in_diagram(stop) for stop in row] for row in g.stops]
        with d.as_one("Rule", words, Setting(part * ROUND / g.divisions, "mm")):
            for stop in (stop for row in rows for stop in row):
                if stop.key not in feet:
                    feet[stop.key] = d.lay_off(base, start, part * stop.turn, "", kind="plain")
        diagram = Diagram(base, start, part)
        for one, row in zip(g.stretches, rows):
            _motion(g, d, diagram, one, row, feet, heights)
    return {key: _lift(g, d, stop, feet, heights, late) for key, stop in stops.items()}


def _in_diagram(stop: Stop) -> Stop:
    """A stop as the diagram has it, whose end is not its beginning."""
    return stop._replace(key=END) if stop.turn > ROUND - 1e-9 else stop


def _lift(
    g: Cam, d: Draft, stop: Stop, feet: dict[str, Spot], heights: dict[str, Spot], late: int
) -> tuple[Opening, bool]:
    """The lift of a stop taken off the diagram, and whether there is any."""
    key = _in_diagram(stop).key
    if late and key != END and int(key) < g.divisions:
        key = str((int(key) - 1) % g.divisions)
    return d.opening(feet[key], heights[key]), float(distance(feet[key].here, heights[key].here)) > 1e-9


def _motion(
    g: Cam, d: Draft, diagram: Diagram, one: Stretch, stops: list[Stop], feet: dict[str, Spot], heights: dict[str, Spot]
) -> None:
    """The lifts of one stretch, found as its motion asks, and its line in the diagram."""
    part = diagram.part
    left = diagram.start.here + point(part * one.start, one.low)
    wide = part * one.angle
    spots: list[Spot] = []
    new = [stop for stop in stops if stop.key not in heights]
    names = f"from {trim(one.first)}° to {trim(one.last)}°"
    if one.law in ("dwell", "uniform"):
        says = f"Dwell {names}: a level line." if one.law == "dwell" else f"Uniform {names}: a straight line."
        with d.as_one("Straightedge", says):
            for stop in stops:
                heights.setdefault(stop.key, _at(d, diagram, feet[stop.key], float(one.height(stop.turn))))
            d.rule(heights[stops[0].key], heights[stops[-1].key], role=Role.LOCUS)
        return
    says = {
        "harmonic": f"Harmonic {names}: on the lift a semicircle, divided as the turn is, and level across.",
        "parabolic": f"Uniform acceleration {names}: halves of a parabola, by rays to the middle upright.",
        "parabolic-on": f"Uniform retardation {names}: the other half, by rays from its end.",
        "cycloidal": f"Cycloidal {names}: a circle of lift / 2π about its beginning, and parallels to the slope.",
    }[one.law]
    with d.as_one("Compass", says):
        for stop in new:
            u = (stop.turn - one.start) / one.angle
            heights[stop.key] = _by_motion(d, one, u, left, wide, feet[stop.key])
        spots = [heights[stop.key] for stop in stops]
        d.piece(d.row(spots), 0.0, float(len(spots) - 1), Role.LOCUS)


def _at(d: Draft, diagram: Diagram, foot: Spot, height: float) -> Spot:
    if abs(height) < 1e-9:
        return foot
    return d.lay_off(d.upright_from(foot), foot, height, "", kind="plain")


def _by_motion(d: Draft, one: Stretch, u: float, left: np.ndarray, wide: float, foot: Spot) -> Spot:
    """The lift at the share ``u`` of a curved motion, found with instruments over the foot of its upright."""
    lift, height = one.lift, float(one.height(one.start + one.angle * u))
    if abs(height) < 1e-9:
        return foot
    up = d.upright_from(foot)
    level = d.level_from(foot)
    corner = d.lay_off(level, foot, float(left[0] - foot.here[0]), "", kind="plain")
    post = d.upright_from(corner)
    low = d.lay_off(post, corner, one.low, "", kind="plain") if one.low else corner
    top = d.lay_off(post, low, lift, "", kind="plain")
    if one.law == "harmonic":
        middle = d.between(low, top, 0.5)
        arc = d.compass(middle, d.opening(middle, top), whole=False)
        turn = (-90.0 if lift > 0 else 90.0) - np.sign(lift) * 180.0 * u
        on = d.meet(d.ray(middle, turn, instrument="Protractor"), arc, near=middle.here + abs(lift) / 2 * _way(turn))
        return d.meet(d.level_from(on), up)
    if one.law == "cycloidal":
        radius = abs(lift) / (2 * np.pi)
        arc = d.compass(low, radius, whole=False)
        turn = float(-np.sign(lift) * 360.0 * u)
        ray = d.ray(low, turn, instrument="Protractor")
        on = d.meet(ray, arc, near=low.here + radius * _way(turn))
        back = d.meet(d.level_from(on), post)
        far = d.lay_off(d.level_from(top), top, wide, "", kind="plain")
        slope = d.rule(low, far)
        return d.meet(d.parallel_to(slope, back), up)
    half = d.lay_off(d.level_from(low), low, wide / 2, "", kind="plain")
    mark = d.lay_off(d.upright_from(half), half, lift * u, "", kind="plain")
    if one.law == "parabolic":
        return d.meet(d.rule(low, mark), up)
    end = d.lay_off(d.level_from(top), top, wide, "", kind="plain")
    return end if u > 1 - 1e-9 else d.meet(d.rule(end, mark), up)


def _way(turn: float) -> np.ndarray:
    return point(float(np.cos(np.deg2rad(turn))), float(np.sin(np.deg2rad(turn))))


# the follower

Circles = tuple[Spot, LineMark, ArcMark | None, ArcMark | None]


def _position(
    g: Cam, d: Draft, stop: Stop, lift: tuple[Opening, bool], circles: Circles, with_it: int, centred: bool
) -> Spot:
    """The follower at one turn, and where the cam touches it."""
    centre, axis, prime, inner = circles
    one = g.stretches[stop.stretch]
    turn, key = g.sign * with_it * stop.turn, stop.key
    opening, lifted = lift
    speed = float(one.speed(stop.turn))
    words = f"At {trim(stop.turn % ROUND)}°: the lift beyond its lowest place"
    words += {"knife": f": P{key}.", "flat": f", the face square there; P{key} where it touches."}.get(
        g.follower, f", the roller about it; P{key} where it touches."
    )
    settings = [Setting(turn % ROUND, "°")]
    if (g.flat or g.radius) and abs(speed) > JUMP:
        settings.append(Setting(abs(speed), "mm"))
    with d.as_one("Protractor", words, *settings):
        travel = axis if turn == 0 else d.ray(centre, 90.0 + turn, instrument="Protractor")
        begin = centre
        if inner is not None:
            side = turn if g.beside > 0 else turn + 180.0
            across = d.ray(centre, side, instrument="Protractor")
            touch = d.meet(across, inner, near=centre.here + abs(g.beside) * _way(side))
            travel = d.parallel_to(travel, touch)
            begin = touch
        if prime is None or centred:
            low = d.lay_off(travel, begin, g.prime_radius, "", kind="plain")
        else:
            low = d.meet(travel, prime, near=begin.here + g.lowest * _way(90.0 + turn))
        tip = d.lay_off(travel, low, opening, f"T{key}", kind="plain") if lifted else d.also(f"T{key}", low, "plain")
        return _touch(g, d, stop, (centre, tip, travel), turn, speed)


def _touch(g: Cam, d: Draft, stop: Stop, of: tuple[Spot, Spot, LineMark], turn: float, speed: float) -> Spot:
    """Where the cam touches the follower: on the common normal, which runs through the instant centre."""
    centre, tip, travel = of
    name = f"P{stop.key}"
    if not (g.flat or g.radius):
        return d.also(name, tip)
    instant = centre
    across = d.ray(centre, turn, instrument="Protractor")
    if abs(speed) > JUMP:
        instant = d.lay_off(across, centre, -g.sign * speed, "", kind="plain")
    if g.flat:
        face = d.square_to(travel, tip)
        return d.also(name, tip) if instant is centre else d.meet(d.parallel_to(travel, instant), face, name)
    circle = d.compass(tip, g.radius, whole=True)
    way = d.rule(instant, tip)
    if d.choice(
        "centre-for-profile",
        right=False,
        slip=True,
        says="The curve is drawn through the roller’s centres instead of touching the roller.",
    ):
        return d.also(name, tip)
    return d.meet(way, circle, name, near=instant)


def _line_in(g: Cam, d: Draft, centre: Spot) -> None:
    rows = [[d.spots[f"P{stop.key}"] for stop in row] for row in g.stops]
    with d.phase("Line in"):
        for k, (one, spots) in enumerate(zip(g.stretches, rows)):
            if one.law != "dwell":
                d.curve(spots, says=f"Line in the profile of {trim(one.first)}° to {trim(one.last)}°.")
            elif len(g.stretches) == 1:
                d.circle_in(centre, d.opening(centre, spots[0]), "It only dwells: a circle.")
            else:
                d.arc_in(
                    centre,
                    d.opening(centre, spots[0]),
                    spots[0],
                    spots[-1],
                    "Where it dwells an arc about O.",
                    clockwise=g.sign < 0,
                )
            after = rows[(k + 1) % len(rows)][0]
            if after is not spots[-1]:
                _over_a_jump(g, d, k, spots[-1], after)


def _over_a_jump(g: Cam, d: Draft, k: int, before: Spot, after: Spot) -> None:
    """Where the speed jumps the face, or the roller itself, bounds the cam for a while."""
    if g.flat:
        d.line_in([before, after], says="Where the speed jumps the face itself bounds the cam.")
        return
    tip = d.spots[f"T{g.stops[(k + 1) % len(g.stops)][0].key}"]
    u, w = before.here - tip.here, after.here - tip.here
    clockwise = float(u[0] * w[1] - u[1] * w[0]) < 0
    says = "Where the speed jumps the roller itself bounds the cam."
    d.arc_in(tip, d.opening(tip, before), before, after, says, clockwise=clockwise)
