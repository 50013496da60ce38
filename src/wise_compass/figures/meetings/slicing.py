"""The planes and spheres that cut both solids, one at a step, and what they cut of each: for the space view."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np

from wise_compass.figures.meetings.bodies import body_halves, clipped
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.geometry.interpenetration import MeetPoint
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, cosd, length, multiples, point3, sind, tand, unit

ROUND = 72
BEYOND = 8.0
"""How far a plane is shown beyond what it cuts."""
NAME = re.compile(r"^(?:Plane \d+,.* cross in )?([RLMN]\d+)")
UP, FORWARD = point3(0.0, 0.0, 1.0), point3(0.0, 1.0, 0.0)


def slices_of(g: SolidsThatMeet, method: str, says: str) -> Sequence[Array]:
    """The plane of the step that says this, and its cuts of main and branch; of a sphere, its two circles."""
    found = NAME.match(says)
    one = g.named.get(found[1]) if found else None
    if one is None:
        return ()
    if method == "cutting-spheres":
        return _sphere(g, one)
    normal = _normal(g, method, one)
    if normal is None:
        return ()
    return _plane(g, one.at, normal)


def _normal(g: SolidsThatMeet, method: str, one: MeetPoint) -> Array | None:
    """The direction square to the auxiliary plane through a point."""
    main = g.main_solid
    if main.ball:
        return FORWARD if method == "piercing-points" else UP
    if not main.apex or (method == "cutting-planes" and main.corners is not None):
        return FORWARD
    if method == "cutting-planes" and (g.upright or g.rises == 0.0):
        return UP
    # through the apex and along the branch
    square = cross3(point3(0.0, 0.0, g.tall) - one.at, g.branch.axis)
    return unit(square) if float(length(square)) > 1e-6 else None


def _plane(g: SolidsThatMeet, at: Array, normal: Array) -> Sequence[Array]:
    beside = FORWARD if abs(float(normal @ FORWARD)) < 0.9 else UP
    u = unit(cross3(normal, beside))
    v = cross3(normal, u)
    wide = 2.0 * (g.reach + g.tall + g.main_reach)
    sheet = np.array([at + wide * (a * u + b * v) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
    cuts = []
    for halves in body_halves(g):
        piece = sheet
        for square, off in zip(halves.normals, halves.offs):
            piece = clipped(piece, square, float(off)) if len(piece) else piece
        if len(piece):
            cuts.append(piece)
    if not cuts:
        return ()
    flat = np.concatenate(cuts) - at
    low = np.array([float((flat @ w).min()) - BEYOND for w in (u, v)])
    high = np.array([float((flat @ w).max()) + BEYOND for w in (u, v)])
    pane = [at + x * u + y * v for x, y in ((low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1]))]
    return [np.array(pane), *cuts]


def _sphere(g: SolidsThatMeet, one: MeetPoint) -> Sequence[Array]:
    """The sphere's outline as it is seen from the front, and its circles on the main and on the branch."""
    x, _, z = g.on_axis.tolist()
    centre = point3(0.0, 0.0, z - x * float(tand(g.rises)))
    turns = multiples(360.0 / ROUND, ROUND)
    c, s = np.asarray(cosd(turns))[:, None], np.asarray(sind(turns))[:, None]
    radius = float(length(one.at - centre))
    outline = centre + radius * (c * point3(1.0, 0.0, 0.0) + s * UP)
    level = point3(0.0, 0.0, float(one.at[2])) + float(np.hypot(*one.at[:2])) * (
        c * point3(1.0, 0.0, 0.0) + s * FORWARD
    )
    middle = g.branch.at + float(g.branch.along(one.at)) * g.branch.axis
    ring = middle + g.branch_radius * (c * g.branch.u + s * g.branch.v)
    return [outline, level, ring]
