"""How rolling curves are set out: centres stepped along the base, divisions carried across or chords from the
contacts."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.figures.curves.rolling import (
    CircleRolling,
    Cycloid,
    Epicycloid,
    Epitrochoid,
    Hypocycloid,
    Hypotrochoid,
    LineRolling,
    RollingCurve,
    Trochoid,
    line_in_roll,
)
from wise_compass.geometry.vectors import distance, multiples, turned


def _start_line(g: LineRolling, d: Draft) -> tuple[Spot, LineMark, Spot, ArcMark, float]:
    """Base line, first circle and its line of centres. Returns the base's start and line, the centre, the tracing
    circle, the length rolled."""
    r = g.diameter / 2
    rolled = d.choice(
        "base-by-diameter",
        right=np.pi * g.diameter,
        slip=g.diameter,
        says="The base line is made as long as the diameter instead of the circumference.",
    )
    with d.phase("Base and circle"):
        origin = d.start_at("B", says="Mark B, where the circle first stands.")
        base = d.level_from(origin, "Draw the base line level.", role=Role.REFERENCE)
        base.extent(0.0, rolled * g.spaces / g.divisions)
        up = d.upright_from(origin, "Draw upright at B.", length=r)
        centre = d.lay_off(up, origin, r, "C", "Lay off the radius: the first centre C.")
        circle = d.compass(centre, g.tracing, "Centre C, draw the circle of the tracing point.")
    return origin, base, centre, circle, rolled


def _divided(g: RollingCurve, d: Draft, centre: Spot, circle: ArcMark, first: float, sign: int) -> list[Spot]:
    """The tracing circle divided, from the tracing point's own place, in the sense in which it will come round."""
    words = f"Divide it from there into {g.divisions}: {g.divisions} spaces, {g.divisions} marks."
    with d.phase("Divide"), d.as_one("Protractor", words, Setting(360.0 / g.divisions, "°")):
        rays = d.divide_turn(centre, g.divisions, first, clockwise=sign < 0, length=g.tracing)
        return [d.meet(ray, circle, near=ray.at_length(g.tracing)) for ray in rays]


def _straight(k: int, divisions: int) -> bool:
    """Whether the tracing point stands straight over or under its centre at division ``k``."""
    return 2 * k % divisions == 0


def _line_points(g: LineRolling, d: Draft, how: str) -> None:
    origin, base, centre, circle, rolled = _start_line(g, d)
    marks = _divided(g, d, centre, circle, -90.0, -1)
    advance = rolled / g.divisions
    with d.phase("Step the centres"):
        says = f"Step {g.spaces} spaces along the base, each a division of the circumference."
        contacts = d.step_along(base, origin, advance, g.spaces, says=says)
        track = d.level_from(centre, "Draw level through C: the path of the centres.", role=Role.CENTRE)
        with d.as_one("Set square", "Set up each centre straight over its mark."):
            ups = [d.upright_from(contact, role=Role.PROJECTOR) for contact in contacts[1:]]
            centres = [centre, *(d.meet(up, track) for up in ups)]
    with d.phase("Find the points"):
        roll, angles = g.roll, g.turned()
        aims, hubs = roll.tracer(angles), roll.centre(angles)
        chords = distance(aims, roll.contact(angles))
        for k in range(g.spaces + 1):
            aim = aims[k] - hubs[k] + centres[k].here
            _one_line_point(g, d, k, how, marks[k % g.divisions], contacts[k], centres[k], aim, float(chords[k]))
    line_in_roll(g, d)


def _one_line_point(
    g: LineRolling, d: Draft, k: int, how: str, mark: Spot, contact: Spot, centre: Spot, aim: Spot, chord: float
) -> None:
    if how == "divided-circle" or _straight(k, g.divisions):
        with d.as_one(
            "Set square",
            f"Carry the height of division {k % g.divisions} across; the tracing radius from centre {k} cuts it: P{k}.",
            Setting(g.tracing, "mm"),
        ):
            level = d.level_from(mark, role=Role.PROJECTOR)
            if _straight(k, g.divisions):
                other: LineMark | ArcMark = d.upright_from(centre)
            else:
                other = d.compass(centre, g.tracing, whole=False)
            d.meet(level, other, f"P{k}", near=aim)
        return
    says = f"From contact {k} the chord to division {k % g.divisions}, from centre {k} the tracing radius: P{k}."
    with d.as_one("Compass", says, Setting(chord, "mm"), Setting(g.tracing, "mm")):
        one = d.compass(contact, chord, whole=False)
        two = d.compass(centre, g.tracing, whole=False)
        d.meet(one, two, f"P{k}", near=aim)


def _circle_points(g: CircleRolling, d: Draft, how: str) -> None:
    roll = g.roll
    with d.phase("Base and circle"):
        origin = d.start_at("O", says="Mark the centre O of the base circle.")
        base = d.compass(origin, roll.base, "Centre O, draw the base circle.", role=Role.REFERENCE)
        if g.turn < 330:
            base.swing(90.0 - g.turn / 2 - 15.0, g.turn + 30.0)
        track = d.compass(
            origin, roll.track, "Same centre, the path of the rolling centre.", whole=False, role=Role.CENTRE
        )
        track.swing(roll.start - g.turn, min(g.turn, 360.0))
        radius = d.ray(origin, roll.start, "Draw the radius on which the circle first stands.")
        centre = d.meet(radius, track, "C", near=roll.centre(0.0))
        circle = d.compass(centre, g.tracing, "Centre C, draw the circle of the tracing point.")
    first = float(roll.facing(0.0))
    marks = _divided(g, d, centre, circle, first, 1 if g.inside else -1)
    slipped = d.choice(
        "base-by-diameter",
        right=1.0,
        slip=1 / np.pi,
        says="The base is divided by the diameter of the rolling circle instead of its circumference.",
    )
    swept = slipped * g.turn / g.divisions
    with (
        d.phase("Step the centres"),
        d.as_one(
            "Protractor",
            f"Step {g.spaces} equal angles round O; each ray bears a contact and a centre.",
            Setting(swept, "°"),
        ),
    ):
        rays = [d.ray(origin, roll.start - k * swept, instrument="Protractor") for k in range(g.spaces + 1)]
        contacts = [d.meet(ray, base, near=ray.at_length(roll.base)) for ray in rays]
        centres = [d.meet(ray, track, near=ray.at_length(roll.track)) for ray in rays]
    with d.phase("Find the points"):
        angles = g.turned()
        true = roll.tracer(angles)
        chords = distance(true, roll.contact(angles))
        aims = turned(true, multiples(g.turn / g.divisions - swept, g.spaces + 1))
        for k in range(g.spaces + 1):
            aim = aims[k]
            says = f"Carry division {k % g.divisions} round O; the tracing radius from centre {k} cuts it: P{k}."
            if how == "instant-centres" and not _straight(k, g.divisions):
                chord = float(chords[k])
                says = (
                    f"From contact {k} the chord to division {k % g.divisions}, from "
                    f"centre {k} the tracing radius: P{k}."
                )
                with d.as_one("Compass", says, Setting(chord, "mm"), Setting(g.tracing, "mm")):
                    arcs = d.compass(contacts[k], chord, whole=False), d.compass(centres[k], g.tracing, whole=False)
                    d.meet(arcs[0], arcs[1], f"P{k}", near=aim)
                continue
            far = Setting(float(distance(marks[k % g.divisions].here, origin.here)), "mm")
            if _straight(k, g.divisions):
                says = f"Carry division {k % g.divisions} round O onto the ray of centre {k}: P{k}."
                with d.as_one("Compass", says, far):
                    carried = d.compass(
                        origin, d.opening(origin, marks[k % g.divisions]), whole=False, role=Role.PROJECTOR
                    )
                    d.meet(rays[k], carried, f"P{k}", near=aim)
                continue
            with d.as_one("Compass", says, far, Setting(g.tracing, "mm")):
                carried = d.compass(origin, d.opening(origin, marks[k % g.divisions]), whole=False, role=Role.PROJECTOR)
                d.meet(d.compass(centres[k], g.tracing, whole=False), carried, f"P{k}", near=aim)
    line_in_roll(g, d)


ABOUT = {
    "divided-circle": (
        "Centres stepped along, divisions carried across.",
        "The definition of rolling: equal arcs of both pass",
    ),
    "instant-centres": (
        "Arcs about each contact, the instant centre, and each rolling centre.",
        "The contact is the instantaneous centre: the normal passes through it",
    ),
}
for _name, (_about, _source) in ABOUT.items():
    for _kind in (Cycloid, Trochoid):
        method(_kind, _name, about=_about, source=_source)(lambda g, d, how=_name: _line_points(g, d, how))  # type: ignore[misc]
    for _round in (Epicycloid, Hypocycloid, Epitrochoid, Hypotrochoid):
        method(_round, _name, about=_about, source=_source)(lambda g, d, how=_name: _circle_points(g, d, how))  # type: ignore[misc]
