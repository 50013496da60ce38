"""The true curves of round solids that are cut: the true section, the cut in the plan, and its edge in the pattern.

Each is told by how far round the axis a point stands, in degrees anticlockwise from the right as seen from above, or
from the seam on.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from wise_compass.drafting.course import Course
from wise_compass.figures.solids.cut_solids import CutSolid
from wise_compass.geometry.curves import Curve, Polar, conic_radius, ellipse_curve, moved, polar_curve
from wise_compass.geometry.vectors import Array, Number, cosd, point, sind

ROUND = "angle round the axis"


def cut_courses(g: CutSolid, plan: Curve, edge: Curve, per: float) -> Iterator[Course]:
    """The courses of a round solid whose cut is ``plan`` from above and ``edge`` in the pattern.

    ``edge`` is by ``per`` of its own degrees to a degree round the axis, from the seam.
    """
    if g.cut != "plane":
        return
    stretch = np.diag([float(np.hypot(1.0, g.slope)), 1.0])
    for number, names in enumerate(_curved(g)):
        turns = _unwound([_turn(g, name) for name in names])
        last = f" {number + 1}" if number else ""
        if g.wanted[0]:
            yield _course(f"the true section{last}", moved(plan, stretch), turns, [f"{name}.3" for name in names])
        if g.stock.pointed:
            yield _course(f"the cut in the plan{last}", plan, turns, [f"{name}.top" for name in names])
    if g.wanted[1]:
        chains = [chain for chain in g.strips.chains(("cut",)) if len(chain) > 2 and "W" not in chain]
        places = _stations(g)
        for number, chain in enumerate(chains):
            turns = per * np.array([places[key] for key in chain])
            last = f" {number + 1}" if number else ""
            yield _course(
                f"the cut edge of the pattern{last}", edge, turns, chain, "angle from the seam" if per == 1 else ""
            )


def _course(says: str, curve: Curve, turns: Array, names: Sequence[str], called: str = ROUND) -> Course:
    """A course over its stations; a closed one, whose last name is its first, without that."""
    first, last = float(turns.min()), float(turns.max())
    closed = names[0] == names[-1]
    drawn = curve._replace(first=first, last=last, closed=closed)
    count = len(names) - closed
    return Course(says, drawn, turns[:count], tuple(names[:count]), turn=called, afloat=True)


def _curved(g: CutSolid) -> list[list[str]]:
    """The curved pieces of the section's rim."""
    return [list(names) for names, curved in g.section_chains if curved and len(names) > 2]


def _turn(g: CutSolid, name: str) -> float:
    x, y, _ = g.cutting.places[name].tolist()
    return float(np.rad2deg(np.arctan2(-y, x))) % 360.0


def _unwound(turns: Sequence[float]) -> Array:
    """Angles in order round the axis, each after the one before."""
    steps = [(b - a) % 360.0 or 360.0 for a, b in pairwise(turns)]
    return turns[0] + np.concatenate([[0.0], np.cumsum(steps)])


def _stations(g: CutSolid) -> dict[str, float]:
    """How far round from the seam every key of the pattern stands."""
    part = 360.0 / g.stock.count
    found = {g.strips.station(letter, j): part * j for letter in "QP" for j in range(g.stock.count + 1)}
    for j, names in g.strips.faces:
        start = _turn(g, g.stock.lower(g.strips.place(j)))
        found |= {
            g.strips.key(j, name): part * j + (_turn(g, name) - start) % 360.0 for name in names if name[0] in "EF"
        }
    return found


# by the solid


def cylinder_cut(g: CutSolid) -> Iterator[Course]:
    """A cylinder's: an ellipse over the base circle, and a wave of the stretched-out skin."""
    radius, fall = g.reach, g.slope * g.reach
    seam = _turn(g, g.stock.lower(g.seam_place))

    def edge(t: Number) -> Array:
        return point(radius * np.deg2rad(t), g.cut_height - fall * np.asarray(cosd(np.asarray(t) + seam)))

    wave = Curve(
        edge,
        lambda t: point(radius + 0.0 * np.asarray(t), fall * np.asarray(sind(np.asarray(t) + seam))),
        lambda t: point(0.0 * np.asarray(t), fall * np.asarray(cosd(np.asarray(t) + seam))),
        0.0,
        360.0,
    )
    yield from cut_courses(g, ellipse_curve(point(radius, 0.0), point(0.0, radius)), wave, 1.0)


def cone_cut(g: CutSolid) -> Iterator[Course]:
    """A cone's: from above a conic about the axis, and in the pattern its true distance from the apex, about that."""
    slant = float(np.hypot(g.reach, g.tall))
    e, latus = -g.slope * g.reach / g.tall, g.reach * (g.tall - g.cut_height) / g.tall
    seam, per = _turn(g, g.stock.lower(g.seam_place)), g.reach / slant
    plan = conic_radius(e, latus)

    edge = Polar(
        lambda t: plan.radius(np.asarray(t) / per + seam) / per,
        lambda t: plan.gain(np.asarray(t) / per + seam) / per**2,
        lambda t: plan.gain_of_gain(np.asarray(t) / per + seam) / per**3,
    )
    yield from cut_courses(g, polar_curve(plan, 0.0, 360.0), polar_curve(edge, 0.0, 360.0 * per), per)
