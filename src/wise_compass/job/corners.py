"""The corners of a figure that is drawn already, for a list of another."""

from __future__ import annotations

import math

import numpy as np

from wise_compass.drafting.marks import CurveMark, LineMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.vectors import Array

Place = tuple[int, int]
NEAR = 1e-6
"""Of the figure's size: ends of lines that are nearer are one corner."""
OFF_GRID = 0.2718
"""Keeps round numbers off the borders between two places."""
DIGITS = 6


def corners_of(run: Run) -> list[list[str]]:
    """The corners of a figure's outline in order, in mm about its own origin, where that is one closed run of straight
    lines; raises :class:`Refused` where it is none.

    Lines that part what they enclose, such as shares of a field, are left out: where more than two lines meet the way
    runs on along the outside.
    """
    sides = _sides(run)
    if not sides:
        raise Refused("", f"{run.figure.title} has no straight lines lined in. Choose a figure with corners.")
    size = max(float(np.ptp(np.vstack([end for side in sides for end in side]), axis=0).max()), 1e-9)
    places: dict[Place, Array] = {}
    beside: dict[Place, set[Place]] = {}
    for side in sides:
        one, other = (_placed(end, size) for end in side)
        if one != other:
            places[one], places[other] = side
            beside.setdefault(one, set()).add(other)
            beside.setdefault(other, set()).add(one)
    loop = _outside(places, beside)
    corners = [places[at] for at in loop]
    if len(corners) < 3 or abs(float(shoelace(np.array(corners)))) < NEAR * size**2:
        raise Refused("", f"The outline of {run.figure.title} does not close by straight lines. Choose another figure.")
    return [[f"{float(x):.{DIGITS}f}".rstrip("0").rstrip(".") for x in at + 0.0] for at in _turning(corners)]


def _sides(run: Run) -> list[tuple[Array, Array]]:
    """Straight lines that were lined in, end by end."""
    found: list[tuple[Array, Array]] = []
    for mark in run.marks:
        if mark.role is not Role.OUTLINE:
            continue
        if isinstance(mark, LineMark):
            one, other = mark.ends()
            found.append((one, other))
        elif isinstance(mark, CurveMark) and not mark.fair:
            course = mark.course()
            if mark.closed:
                course = np.vstack([course, course[:1]])
            found += list(zip(course[:-1], course[1:]))
    return found


def _placed(at: Array, size: float) -> Place:
    x, y = np.round(at / (NEAR * size) + OFF_GRID).astype(int).tolist()
    return x, y


def _outside(places: dict[Place, Array], beside: dict[Place, set[Place]]) -> list[Place]:
    """Round the outside, anticlockwise from the lowest corner: at each the line that turns furthest to the right."""
    start = min(places, key=lambda at: (places[at][1], places[at][0]))
    loop, here, heading = [start], start, 0.0
    before: Place | None = None
    for _ in range(2 * len(places)):
        back = heading + math.pi

        def turned(at: Place, here: Place = here, back: float = back, before: Place | None = before) -> float:
            x, y = places[at] - places[here]
            turn = (math.atan2(y, x) - back) % math.tau
            return math.tau if turn < NEAR or at == before else turn

        onward = min(beside[here], key=turned)
        x, y = places[onward] - places[here]
        before, here, heading = here, onward, math.atan2(y, x)
        if here == start:
            return loop
        loop.append(here)
    return []


def _turning(corners: list[Array]) -> list[Array]:
    """Without those in which the outline runs straight on."""
    n, kept = len(corners), []
    for k in range(n):
        before, after = corners[k] - corners[k - 1], corners[(k + 1) % n] - corners[k]
        sine = float(before[0] * after[1] - before[1] * after[0]) / float(np.hypot(*before) * np.hypot(*after))
        if abs(sine) > NEAR:
            kept.append(corners[k])
    return kept
