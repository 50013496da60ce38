"""Moves: what a drafter does inside many constructions, written once. Each records its steps under one heading."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.instruments import TOLERANCES
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot, nominal
from wise_compass.drafting.wording import trim
from wise_compass.geometry.vectors import Array, along, angle_of, cosd, distance, left_of, length, sind, tand

LONGEST_BASE, LONGEST_RISE = 240.0, 150.0
"""The room that the field of A4 lying down leaves for an angle set by its tangent, in mm."""


def perpendicular_bisector(
    d: Draft, a: Spot, b: Spot, unequal: float = 0.0, role: Role = Role.CONSTRUCTION, names: tuple[str, str] = ("", "")
) -> LineMark:
    """The line that halves ``ab`` at a right angle, by equal arcs from both ends (``unequal`` lengthens the second)."""
    span = float(distance(a.here, b.here))
    with d.move(f"Bisect {a.name}{b.name}"):
        radius = 0.72 * span
        one = d.compass(
            a, radius, f"Centre {a.name or 'one end'}, any opening over half: swing above and below.", whole=False
        )
        two = d.compass(
            b, radius + unequal, f"Centre {b.name or 'the other end'}, the same opening: cross both arcs.", whole=False
        )
        left = d.meet(one, two, names[0], near=_beside(a, b, 1))
        right = d.meet(one, two, names[1], near=_beside(a, b, -1))
        return d.rule(right, left, "Join the two crossings.", role)


def angle_bisector(d: Draft, at: Spot, a: Spot, b: Spot) -> LineMark:
    """The line from ``at`` that halves the angle of ``a`` and ``b`` there, by equal arcs (Euclid, Elements I.9)."""
    u, v = (arm.here - at.here for arm in (a, b))
    with d.move(f"Halve the angle at {at.name}"):
        other = d.rule(at, b, f"Draw the arm from {at.name} through {b.name}.")
        opening = d.opening(at, a)
        arc = d.compass(at, opening, f"Centre {at.name}, through {a.name}: cut the other arm.", whole=False)
        cut = d.meet(other, arc, near=towards(at, other, opening.nominal))
        radius = 0.75 * max(float(distance(a.here, cut.here)), opening.nominal)
        one = d.compass(a, radius, f"Centre {a.name}, a handy opening: swing inside the angle.", whole=False)
        two = d.compass(cut, radius, "The same opening from the cut: cross it.", whole=False)
        ahead = u / float(length(u)) + v / float(length(v))
        if float(length(ahead)) < 1e-9:
            ahead = left_of(u)
        found = d.meet(one, two, near=at.here + 10.0 * radius * ahead / float(length(ahead)))
        return d.rule(at, found, f"Join {at.name} to the crossing: it halves the angle.")


def touch_from(d: Draft, circle: ArcMark, centre: Spot, start: Spot, name: str, left: bool) -> Spot:
    """The point in which a line from ``start`` touches ``circle``, on its left or right side seen from there, by the
    circle on the line to the centre (Thales's theorem)."""
    with d.move(f"Tangent point from {start.name}"):
        with d.as_one("Dividers", f"Halve the way from {start.name} to the centre."):
            middle = d.midpoint(start, centre, "")
        arc = d.compass(
            middle, d.opening(middle, centre), "From there, through the centre: cut the circle.", whole=False
        )
        way = nominal(circle.centre, 1) - start.here
        return d.meet(circle, arc, name, near=middle.here + (1 if left else -1) * left_of(way), kind="tangent")


def _beside(a: Spot, b: Spot, side: int) -> Array:
    """A place to the left (+1) or right (−1) of ``ab``, to tell which crossing is meant; nothing is drawn."""
    u = b.here - a.here
    return (a.here + b.here) / 2 + side * left_of(u)


def towards(start: Spot, line: LineMark, far: float) -> Array:
    """A place ``far`` mm along a line from a spot, to tell which of two crossings is meant; nothing is drawn."""
    return along(start.here, nominal(line.u, 1), far)


def four_arcs(d: Draft, line: LineMark, foot: Spot, radius: float, name: str = "", forward: bool = True) -> LineMark:
    """A perpendicular at ``foot`` without going past it: three steps of one opening, then two crossing arcs."""
    sign = 1.0 if forward else -1.0
    with d.move(f"Perpendicular at {foot.name}, four arcs"):
        arc = d.compass(foot, radius, f"Centre {foot.name}, any opening: cut the line and swing up.", whole=False)
        first = d.meet(line, arc, near=towards(foot, line, sign * radius))
        turned = [foot.here + radius * _turned(line, sign * k * 60.0, sign) for k in (1, 2)]
        step = d.compass(first, radius, "Keep the opening: from that cut step it once along the arc.", whole=False)
        sixty = d.meet(arc, step, near=turned[0])
        step = d.compass(sixty, radius, "Step it once more.", whole=False)
        second = d.meet(arc, step, near=turned[1])
        one = d.compass(sixty, radius, "From the first of these marks swing above.", whole=False)
        opened = d.choice(
            "unequal-arcs",
            right=radius,
            slip=1.1 * radius,
            says="The compass opens before the last of the arcs: its radius is larger.",
        )
        two = d.compass(second, opened, "From the second cross it.", whole=False)
        top = d.meet(one, two, name, far=foot)
        return d.rule(foot, top, f"Join {foot.name} to the crossing: it stands square on the line.")


def _turned(line: LineMark, angle: float, sign: float) -> Array:
    u = nominal(line.u, 1) * sign
    c, s = float(cosd(angle)), float(sind(angle))
    return np.array([c * u[0] - s * u[1], s * u[0] + c * u[1]])


def erect(d: Draft, line: LineMark, foot: Spot, radius: float, name: str = "") -> LineMark:
    """A perpendicular at ``foot`` by equal arcs on both sides of it."""
    with d.move(f"Perpendicular at {foot.name}, equal arcs"):
        arc = d.compass(foot, radius, f"Centre {foot.name}, cut the line on both sides.", whole=False)
        ends = [d.meet(line, arc, near=towards(foot, line, sign * radius)) for sign in (-1, 1)]
        arcs = [
            d.compass(
                end,
                1.6 * radius,
                "From each cut swing above with a larger opening."
                if k == 0
                else "The same opening from the other cut.",
                whole=False,
            )
            for k, end in enumerate(ends)
        ]
        top = d.meet(arcs[0], arcs[1], name, near=foot.here + radius * left_of(nominal(line.u, 1)))
        return d.rule(foot, top, f"Join {foot.name} to the crossing: it stands square on the line.")


def drop(d: Draft, line: LineMark, start: Spot, radius: float, name: str) -> Spot:
    """The foot of the perpendicular from ``start`` on ``line``, by equal arcs."""
    with d.move(f"Perpendicular from {start.name}"):
        arc = d.compass(start, radius, f"Centre {start.name}, cut the line twice.", whole=False)
        cuts = [d.meet(line, arc, near=towards(start, line, sign * radius)) for sign in (-1, 1)]
        arcs = [
            d.compass(
                cut,
                radius,
                "From each cut, the same opening, swing on the far side." if k == 0 else "And from the other.",
                whole=False,
            )
            for k, cut in enumerate(cuts)
        ]
        below = d.meet(arcs[0], arcs[1], far=start)
        return d.meet(d.rule(start, below, f"Join {start.name} to the crossing."), line, name)


def tangent_base(angle: float) -> tuple[float, float]:
    """Base and rise, in mm, that set an acute angle by its tangent over the longest base an A4 sheet allows."""
    base = min(LONGEST_BASE, LONGEST_RISE / float(tand(angle)))
    return base, base * float(tand(angle))


def times_finer(angle: float, arm: float) -> float:
    """How many times finer an acute angle comes out by its tangent than by the protractor, one sd against another.

    All errors of both ways are counted, an arm of ``arm`` mm being lined in: the line's own lean and offset, the base
    and the rise laid off, the upright's lean and offset, and the straightedge beside both ends of the arm.
    """
    base, rise = tangent_base(angle)
    far, c, s = float(np.hypot(base, rise)), float(cosd(angle)), float(sind(angle))
    mark, edge = TOLERANCES["rule mark"].sd, TOLERANCES["straightedge"].sd
    lean = float(np.deg2rad(TOLERANCES["set square"].sd))
    off = [lean, edge * c / far, mark * s / far, lean * rise * s / far, edge * s / far, mark * c / far]
    off += [edge / far, edge * (1 / arm - 1 / far)]
    plain = [float(np.deg2rad(TOLERANCES["protractor"].sd)), edge / arm]
    return float(np.sqrt(np.square(plain).sum() / np.square(off).sum()))


def set_angle(
    d: Draft,
    line: LineMark,
    start: Spot,
    angle: float,
    how: str,
    leftward: bool = False,
    read: float | None = None,
    says: str = "",
    why: str = "",
) -> LineMark:
    """A line from ``start`` at ``angle`` degrees to ``line``, above it: by protractor, or by its tangent.

    ``leftward`` turns it back from the far end of the line. ``read`` is what a hand that slips reads instead.
    """
    turn = angle if read is None else read
    back = float(angle_of(nominal(line.u, 1)))
    facing = back + 180.0 - turn if leftward else back + turn
    if how != "tangent":
        return d.ray(start, facing, says or f"At {start.name} set off {trim(angle)}°.", why=why)
    acute = min(turn, 180.0 - turn)
    with d.move(f"Set {trim(angle)}° at {start.name} by its tangent"):
        steep = acute > 45.0
        other = 90.0 - acute if steep else acute
        base, rise = tangent_base(other) if other > 1e-9 else (LONGEST_BASE / 2, 0.0)
        # on a small scale the line itself tells how much room the sheet has
        larger = max(1.0, (line.hi - line.lo) / LONGEST_BASE)
        base, rise = larger * base, larger * rise
        sign = (-1.0 if leftward else 1.0) * (1.0 if turn <= 90.0 else -1.0)
        across, up = (rise, base) if steep else (base, rise)
        out = d.lay_off(
            line, start, sign * across, "", f"From {start.name} measure the base along the line.", kind="plain"
        )
        square = d.square_to(line, out, "Draw square to the line there.")
        top = d.lay_off(square, out, up, "", "Measure the rise on it.", why=why or f"tan {trim(acute)}°", kind="plain")
        return d.rule(start, top, f"Join {start.name} to it: the angle stands.")


def touch_foot(d: Draft, centre: Spot, line: LineMark, name: str, says: str = "") -> Spot:
    """The tangent point of a circle about ``centre`` on ``line``: the foot of its perpendicular, by set square."""
    square = d.square_to(
        line, centre, says or f"From {centre.name} draw square to the line: {name} is the tangent point."
    )
    return d.meet(square, line, name, kind="tangent")


def parallel_at(d: Draft, line: LineMark, at: Spot, offset: float, says: str = "") -> LineMark:
    """A parallel to ``line``, ``offset`` mm to its left (less than 0: right), as a locus of centres."""
    with d.move("Parallel at the radius"):
        square = d.square_to(line, at, "Draw square to the line.")
        out = d.lay_off(square, at, offset, "", "Lay off the radius on it.", kind="plain")
        return d.parallel_to(line, out, says or "Draw parallel through it: the centre lies on it.", role=Role.LOCUS)
